"""What a moving part sweeps through on the face of a part to be cut: the notch, and what is left of the part."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import shapely
from numpy.typing import NDArray

from even_stance.errors import InputError
from even_stance.mechanics.cores import Core
from even_stance.mechanics.vectors import Array
from even_stance.study.axlestates import AxleStates, grid_states
from even_stance.study.clearances import Gap
from even_stance.study.gapmaps import along_gap
from even_stance.study.hard import Hard
from even_stance.study.things import polygon_of
from even_stance.vehicle.car import Vehicle
from even_stance.vehicle.things import Block, Pair, Plane, Plate, Thing, plane_axes

_TRAVELS, _STEERS = 15, 7
Edges = tuple[NDArray[np.intp], NDArray[np.intp]]
_RING = 60
_ROUND = 16  # corners of a quarter turn, as shapely counts them
_FINE_MM = 0.3  # an outline is drawn with no more corners than that takes
_LEFT_MM = 6.35  # less left beside a notch than a quarter inch is no part any more (common practice, no source)


@dataclass(frozen=True, eq=False)
class Notch:
    """A notch in one part for another to pass.

    Attributes:
        thing, mover: the names of the part to be cut and of what passes.
        plane: the face it is cut on; gap_mm: the gap wanted around what passes.
        before, swept, after: the part's outline, what is swept with that gap around it, and what is left, mm in the
            face.
        deep_mm: how far it goes in; left_mm: the narrowest that is left of the part beside it.
        start_mm, thick_mm: where the part lies along the third axis.
    """

    thing: str
    mover: str
    plane: Plane
    gap_mm: float
    before: shapely.Polygon
    swept: shapely.Polygon | shapely.MultiPolygon
    after: shapely.Polygon | shapely.MultiPolygon
    deep_mm: float
    left_mm: float
    start_mm: float
    thick_mm: float

    @property
    def cut(self) -> shapely.Geometry:
        """What is cut away."""
        return self.before.intersection(self.swept)

    @property
    def words(self) -> str:
        """What is wrong with it, in a sentence; empty where nothing is."""
        if self.cut.is_empty:
            return f"Nothing of {self.thing} is in the way within {self.gap_mm:.0f} mm: there is nothing to notch."
        if self.after.geom_type != "Polygon":
            return f"The notch would cut {self.thing} through: move it, or let {self.mover} pass elsewhere."
        if self.left_mm < _LEFT_MM:
            return f"Next to nothing is left of {self.thing} beside the notch: box it in, or move it."
        return ""


def outline_of(thing: Thing, plane: Plane) -> tuple[shapely.Polygon, float, float]:
    """The outline of a thing on one of its faces, and where it lies along the third axis: start and thickness.

    Raises:
        InputError: it has no such face that could be cut.
    """
    form = thing.form
    if isinstance(form, Plate):
        if form.plane != plane:
            raise InputError("Face", f"{thing.name} is a plate seen another way.", f"Choose the {form.plane} face.")
        return polygon_of(form.corners, form.holes), form.start_mm, form.thick_mm
    if not isinstance(form, Block):
        raise InputError("Notch", f"{thing.name} is no box or plate.", "Route it elsewhere, or move it.")
    low = np.array([form.ahead_mm - form.long_mm, form.left_mm - 0.5 * form.wide_mm, form.under_mm])
    high = np.array([form.ahead_mm, form.left_mm + 0.5 * form.wide_mm, form.under_mm + form.high_mm])
    across, up, into = plane_axes(plane)
    if form.rise_mm and plane == "side":
        ring: list[Pair] = [
            (low[0], low[2] + form.rise_mm), (high[0], low[2]), (high[0], high[2]), (low[0], high[2] + form.rise_mm)
        ]  # fmt: skip
        return shapely.Polygon(ring), float(low[1]), form.wide_mm
    spread = abs(form.rise_mm) if into == 2 else 0.0
    start = float(low[into]) + (min(form.rise_mm, 0.0) if into == 2 else 0.0)
    return shapely.box(low[across], low[up], high[across], high[up]), start, float(high[into] - low[into]) + spread


def best_face(thing: Thing, gap: Gap) -> Plane:
    """The face to cut: of a plate its own, else that whose cut goes the way the gap does and takes the least."""
    if isinstance(thing.form, Plate):
        return thing.form.plane
    way = np.abs(along_gap(gap))
    faces: tuple[Plane, ...] = ("side", "plan", "rear")
    sizes = [outline_of(thing, plane)[2] for plane in faces]
    # The gap has to lie in the face; of the faces it lies in the one through which the part is thinnest.
    fit = [size / max(1.0 - way[plane_axes(plane)[2]], 1e-3) for plane, size in zip(faces, sizes, strict=True)]
    return faces[int(np.argmin(fit))]


def notch_for(
    vehicle: Vehicle, gap: Gap, name: str, wanted_mm: float, plane: Plane | None = None, fine: int = 1
) -> Notch:
    """The notch in a thing for what passes it in a pair, over the whole movement that stops and straps allow.

    Args:
        vehicle: the vehicle; gap: the pair; name: which of the two is cut, a thing on the chassis.
        wanted_mm: the gap around what passes; plane: the face, the best one if not given.
        fine: how many times finer the steps of the movement are than usual.

    Raises:
        InputError: it is no thing that can be cut, or does not stand still.
    """
    thing = next((t for t in vehicle.things if t.name == name), None)
    if thing is None:
        raise InputError("Notch", f"{name} is none of the things on the car.", "Only those can be cut here.")
    if thing.on != "chassis":
        raise InputError("Notch", f"{name} moves itself.", "Cut what stands on the chassis, or move one of the two.")
    face = plane or best_face(thing, gap)
    before, start, thick = outline_of(thing, face)
    mover = gap.b if gap.a.name == name else gap.a
    axle = vehicle.axle(gap.axle)
    steers = mover.family in ("tires", "steering")
    states = grid_states(vehicle, axle, fine * (_TRAVELS - 1) + 1, fine * (_STEERS - 1) + 1 if steers else 1)
    swept = swept_outline(states, mover, face, start, thick, wanted_mm, before.bounds)
    swept = swept.simplify(_FINE_MM).buffer(_FINE_MM) if not swept.is_empty else swept
    after = before.difference(swept)
    cut = before.intersection(swept)
    return Notch(
        thing.name, mover.name, face, wanted_mm, before, swept, after, _deep(before, cut), _left(before, after, cut),
        start, thick,
    )  # fmt: skip


def swept_outline(
    states: AxleStates, mover: Hard, plane: Plane, start: float, thick: float, wanted_mm: float,
    bounds: tuple[float, float, float, float] = (-1e6, -1e6, 1e6, 1e6),
) -> shapely.Geometry:  # fmt: skip
    """What a part sweeps on a face, within the thickness of what is cut and the wanted gap beside it, mm.

    Args:
        states: where it is over its movement; mover: the part.
        plane: the face; start, thick: where what is cut lies along the third axis, mm; wanted_mm: the gap around it.
        bounds: what of the face matters: left, bottom, right, top, mm.
    """
    shapes: list[shapely.Geometry] = []
    for core in mover.cores:
        for points, disc in _places(states, core, mover.body, (plane, bounds, start, start + thick), wanted_mm):
            shapes += _on_face(points, disc, core, plane, (start, start + thick), wanted_mm)
    return shapely.unary_union(shapes) if shapes else shapely.Polygon()


def _places(
    states: AxleStates, core: Core, body: str, face: tuple[Plane, tuple[float, float, float, float], float, float],
    wanted_mm: float,
) -> list[tuple[Array, Array]]:  # fmt: skip
    """Corners and axis of a piece at every state that is allowed and near the part to be cut."""
    shape = states.shape(core, body)
    points = np.broadcast_to(shape.points, (len(shape.points), len(states.travel), shape.grid[1], 3))
    axis = np.broadcast_to(shape.axis, (len(states.travel), shape.grid[1], 3))
    reach = core.ball_mm + core.disc_mm + wanted_mm
    plane, (left, bottom, right, top), start, end = face
    low, high = np.zeros(3), np.zeros(3)
    low[list(plane_axes(plane))], high[list(plane_axes(plane))] = (left, bottom, start), (right, top, end)
    near = ((points.max(axis=0) + reach >= low) & (points.min(axis=0) - reach <= high)).all(axis=-1)
    return [(points[:, t, s], axis[t, s]) for t, s in np.argwhere(near & states.allowed[:, None])]


def _on_face(
    points: Array, axis: Array, core: Core, plane: Plane, depth: tuple[float, float], wanted_mm: float
) -> Sequence[shapely.Geometry]:
    """A piece seen on a face with the wanted gap around it: that of it which is as deep as what is cut."""
    across, up, into = plane_axes(plane)
    reach = core.ball_mm + wanted_mm
    low, high = depth[0] - reach, depth[1] + reach
    if core.disc_mm:
        side = np.cross(axis, np.eye(3)[int(np.abs(axis).argmin())])
        side = side / np.linalg.norm(side)
        turn = np.linspace(0.0, 2.0 * np.pi, _RING, endpoint=False)
        ring = core.disc_mm * (np.cos(turn)[:, None] * side + np.sin(turn)[:, None] * np.cross(axis, side))
        points = (points[:, None] + ring[None]).reshape(-1, 3)
    kept = _within(points, into, low, high, _prism_edges(len(points) // 2) if len(points) > 8 else None)
    if not len(kept):
        return ()
    flat = shapely.MultiPoint(kept[:, (across, up)]).convex_hull
    return (flat.buffer(reach, quad_segs=_ROUND),)


@lru_cache(maxsize=64)
def _prism_edges(half: int) -> Edges:
    """The edges of a prism whose corners are those of one end and then those of the other, indices."""
    one, turned = np.arange(half), np.roll(np.arange(half), -1)
    return np.concatenate((one, half + one, one)), np.concatenate((turned, half + turned, half + one))


def _within(points: Array, into: int, low: float, high: float, edges: Edges | None) -> Array:
    """The corners of a convex piece clipped between two planes square to an axis, mm, shape (n, 3)."""
    depth = points[:, into]
    kept = [points[(depth >= low) & (depth <= high)]]
    i, j = np.triu_indices(len(points), 1) if edges is None else edges
    for level in (low, high):
        crosses = (depth[i] - level) * (depth[j] - level) < 0.0
        if crosses.any():
            a, b = points[i[crosses]], points[j[crosses]]
            share = (level - a[:, into]) / (b[:, into] - a[:, into])
            kept.append(a + share[:, None] * (b - a))
    found: Array = np.vstack(kept)
    return found


def _deep(before: shapely.Polygon, cut: shapely.Geometry) -> float:
    """How far a cut goes in from the edge of a part."""
    if cut.is_empty:
        return 0.0
    places = shapely.get_coordinates(cut)
    return float(max(before.exterior.distance(shapely.Point(p)) for p in places))


def _left(before: shapely.Polygon, after: shapely.Geometry, cut: shapely.Geometry) -> float:
    """The narrowest that is left of a part beside a cut: how far the cut stays from the edges it does not open."""
    if cut.is_empty or after.is_empty:
        return 0.0 if after.is_empty else float(before.length)
    inner = cut.boundary.intersection(before.buffer(-0.5))
    closed = before.exterior.difference(cut.buffer(0.5))
    if inner.is_empty or closed.is_empty:
        return 0.0
    pieces = getattr(closed, "geoms", [closed])
    # Right beside its mouth the cut meets the edge it opens: what counts is what lies across from it.
    far = [p for p in pieces if p.length > 1.0]
    deepest = shapely.get_coordinates(inner)
    from_mouth = np.array([before.exterior.intersection(cut.buffer(0.5)).distance(shapely.Point(p)) for p in deepest])
    tips = deepest[from_mouth >= 0.8 * from_mouth.max()]
    return float(min(p.distance(shapely.MultiPoint(tips)) for p in far)) if far else 0.0


def cut_plate(notch: Notch) -> Plate:
    """The part as it is after cutting, as a plate with its outline.

    Raises:
        InputError: the notch would cut it through, or away.
    """
    after = notch.after
    if after.geom_type != "Polygon" or after.is_empty:
        raise InputError("Notch", notch.words or "nothing would be left.", "Choose a smaller gap, or move one part.")
    after = after.simplify(_FINE_MM)

    def ring(coordinates: Sequence[tuple[float, ...]]) -> tuple[Pair, ...]:
        return tuple((round(float(c[0]), 3), round(float(c[1]), 3)) for c in coordinates[:-1])

    return Plate(
        plane=notch.plane, corners=ring(after.exterior.coords), start_mm=notch.start_mm, thick_mm=notch.thick_mm,
        holes=tuple(ring(h.coords) for h in after.interiors),
    )  # fmt: skip
