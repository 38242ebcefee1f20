"""Things that can be hit as they are drawn: solids for the walk-around, outlines with handles for the floor."""

from functools import lru_cache, partial

import numpy as np

from even_stance.mechanics.cores import Core, hull
from even_stance.mechanics.solids import Faces, lathe, outline
from even_stance.mechanics.triangles import fewer_for_the_eye
from even_stance.mechanics.vectors import Array, norm
from even_stance.study.bodies import Solid
from even_stance.study.drawing import Joint, Label, Path, Place, Shape, View, project, project_all
from even_stance.study.state import CarState
from even_stance.study.things import cores_of
from even_stance.vehicle.car import Vehicle
from even_stance.vehicle.spots import thing_spots
from even_stance.vehicle.things import Scan, Thing, corner_points

_SIDES, _TUBE_SIDES = 24, 10
_MOST_DRAWN = 300  # triangles of a scan: a painter with depth order takes no more at speed
_BOX: Faces = ((0, 1, 2, 3), (7, 6, 5, 4), (0, 4, 5, 1), (1, 5, 6, 2), (2, 6, 7, 3), (3, 7, 4, 0))


def solids_of_things(vehicle: Vehicle) -> list[Solid]:
    """Every thing that is looked at, piece by piece."""
    return [solid for thing in vehicle.things if thing.counts for solid in _solids(thing)]


@lru_cache(maxsize=256)
def _solids(thing: Thing) -> tuple[Solid, ...]:
    return tuple(
        Solid(thing.name, thing.axle, thing.on, "thing", partial(corners_of, core, isinstance(thing.form, Scan)))
        for core in _drawn_cores(thing)
    )


@lru_cache(maxsize=256)
def _drawn_cores(thing: Thing) -> tuple[Core, ...]:
    """Return the shapes of a thing for the eye: of a fine scan fewer triangles than are looked at for gaps."""
    form = thing.form
    if not isinstance(form, Scan) or len(form.faces) <= _MOST_DRAWN:
        return cores_of(form)
    corners, faces = fewer_for_the_eye(np.array(form.corners), np.array(form.faces), _MOST_DRAWN)
    return tuple(hull(corners[face], ((0, 1, 2),)) for face in faces)


def corners_of(core: Core, flat: bool = False) -> tuple[Array, Faces]:
    """Corners and faces of a shape for the eye: rounds in flat bands, tubes without their round ends.

    Args:
        core: the shape; flat: whether it is a triangle that is drawn from both sides.
    """
    points = core.points
    if flat:
        return points, (tuple(range(len(points))), tuple(range(len(points) - 1, -1, -1)))
    if len(points) == 1:
        radius = core.ball_mm
        turn = np.linspace(-0.5 * np.pi, 0.5 * np.pi, 7)
        up = np.array([0.0, 0.0, 1.0])
        return lathe(points[0], up, radius * np.sin(turn), np.maximum(radius * np.cos(turn), 0.05 * radius), _SIDES)
    if len(points) == 2:
        way = points[1] - points[0]
        length = float(norm(way))
        if core.disc_mm:
            reach = core.ball_mm
            along = np.array([-reach, 0.0, length, length + reach]) if reach else np.array([0.0, length])
            radii = core.disc_mm + (np.array([0.0, reach, reach, 0.0]) if reach else np.zeros(2))
            return lathe(points[0], way / length, along, radii, _SIDES)
        return lathe(points[0], way / length, np.array([0.0, length]), np.full(2, core.ball_mm), _TUBE_SIDES)
    half = len(points) // 2
    # A prism: its outline, and the same farther on.
    sides = tuple((i, half + i, half + (i + 1) % half, (i + 1) % half) for i in range(half))
    return points, (tuple(range(half)), tuple(range(2 * half - 1, half - 1, -1)), *sides)


def thing_shapes(vehicle: Vehicle, state: CarState, view: View, names: bool) -> list[Shape]:
    """Every thing in one projection at the posture of a state, with the places it is taken hold of by.

    Args:
        vehicle: the vehicle; state: where its bodies are, at one posture; view: the projection.
        names: whether each is named.
    """
    shapes: list[Shape] = []
    for thing in vehicle.things:
        style = "thing-line" if thing.counts else "ghost"
        highest: tuple[float, float] | None = None
        for core in _drawn_cores(thing):
            if len(core.points) == 2 and not core.disc_mm:
                ends = project_all(view, state.place(thing.on, core.points)[0])
                places = [(float(h), float(v)) for h, v in ends]
                shapes.append(Path(tuple(places), "thing" if thing.counts else "ghost", 2 * core.ball_mm))
            else:
                seen = np.array(project_all(view, state.place(thing.on, corners_of(core)[0])[0]))
                ring = outline(seen)
                places = [(float(h), float(v)) for h, v in ring]
                if len(places) > 2:
                    shapes.append(Path((*places, places[0]), style))
            top = max(places, key=lambda p: p[1])
            highest = top if highest is None or top[1] > highest[1] else highest
        if names and highest is not None and all(_apart(highest, s.at) for s in shapes if isinstance(s, Label)):
            shapes.append(Label(highest, thing.name, "thing-line", "above"))
    return shapes


def _apart(a: Place, b: Place) -> bool:
    """Whether words at two places do not cover each other."""
    return abs(a[0] - b[0]) > 420.0 or abs(a[1] - b[1]) > 60.0


def thing_joints(vehicle: Vehicle, state: CarState, view: View) -> list[Shape]:
    """The places that things are taken hold of by."""
    at = {t.name: (t, corner_points(t.form, t.sure_mm)) for t in vehicle.things}
    found: list[Shape] = []
    for spot in thing_spots(vehicle.things):
        thing, points = at[spot.member]
        now = state.place(thing.on, np.array([points[spot.thing_end].xyz]))[0, 0]
        x, y, z = (float(v) for v in now)
        found.append(Joint(project(view, (x, y, z)), spot, "mark"))
    return found
