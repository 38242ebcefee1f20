"""Plates of the car at full size: link and axle brackets, cranks, tabs, the truss, crossmember ends.

A template is lines and holes in a plane, mm, true to size, and where that plane sits on the car.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
import shapely

from even_stance.mechanics.vectors import Array
from even_stance.study.drawing import View
from even_stance.study.pieces import Piece, pieces
from even_stance.study.things import polygon_of
from even_stance.units import System, format_length, length_unit
from even_stance.vehicle.build import LinkEnd
from even_stance.vehicle.car import Axle, Vehicle
from even_stance.vehicle.members import Mount, Watts
from even_stance.vehicle.records import Point, is_guess
from even_stance.vehicle.things import Plate, plane_axes

Hole = tuple[float, float, float, str]  # middle, diameter, what it is called
_ROUND = 32  # corners of a quarter turn: off by less than 0.01 mm on what fits a bench
_BASE_MM, _TAB_EDGE, _TAB_STANDS = 20.0, 22.0, 40.0
_BOLT_MM = 12.7
_LEFT_MM = 6.35  # less left between a hole and the tube than a quarter inch is no bracket (common practice, no source)


@dataclass(frozen=True, eq=False)
class Template:
    """A plate, a tube's end or a circle of holes at full size.

    Attributes:
        name, note: what it is, and of what it is cut.
        outline: what is cut out, mm; holes: in it; marks: lines to scribe, mm, shape (n, 2) each.
        view: from where it is seen on the car; origin: where its nil point is on the car, mm; none where it sits
            nowhere.
        wrong: why it cannot be made so, in a sentence; empty where nothing is wrong.
        count: how many of it the car takes; thick_mm: of its plate, nil where it is none.
    """

    name: str
    note: str
    outline: shapely.Geometry
    holes: tuple[Hole, ...] = ()
    marks: tuple[Array, ...] = ()
    view: View | None = None
    origin: tuple[float, float, float] | None = None
    wrong: str = ""
    count: int = 0
    thick_mm: float = 0.0

    @property
    def area_mm2(self) -> float:
        """How much plate it takes, mm^2."""
        return float(self.outline.area)

    @property
    def rings(self) -> list[Array]:
        """Every closed line that is cut, mm."""
        parts = getattr(self.outline, "geoms", [self.outline])
        return [
            np.array(r.coords)[:, :2] for p in parts if p.geom_type == "Polygon" for r in (p.exterior, *p.interiors)
        ]

    @property
    def bounds(self) -> tuple[float, float, float, float]:
        """Left, bottom, right, top of all of it, mm."""
        every = np.concatenate([*self.rings, *self.marks, *(np.array([[x - d / 2, y - d / 2], [x + d / 2, y + d / 2]])
                                                            for x, y, d, _ in self.holes)])  # fmt: skip
        return (*every.min(axis=0).tolist(), *every.max(axis=0).tolist())


def _said(mm: float, units: System) -> str:
    return f"{format_length(mm, units).removeprefix('~')} {length_unit(units)}"


def _flat(view: View, point: tuple[float, float, float]) -> Array:
    """A place of the car in the plane of a view, mm: what the floor's projections show."""
    x, y, z = point
    return np.array({"side": (-x, z), "plan": (-x, -y), "rear": (-y, z)}[view])


def _cross(at: Array, reach: float) -> tuple[Array, Array]:
    """Two short lines through a hole's middle."""
    across, up = np.array([reach, 0.0]), np.array([0.0, reach])
    return np.stack((at - across, at + across)), np.stack((at - up, at + up))


def _places(mount: Mount) -> list[tuple[float, float, float]]:
    return [h.xyz for h in mount.holes] or [mount.at.xyz]


def view_of(piece: Piece) -> View:
    """From where the plates of a link's brackets are seen: across its bolts, which lie square to it and level."""
    along = np.abs(np.subtract(piece.second.xyz, piece.first.xyz))
    return "rear" if along[1] > along[0] else "side"


def _bracket(piece: Piece, mount: Mount, end: LinkEnd, toward: Array, units: System, words: str) -> Template:
    """A bracket's plate around all its holes, drawn out on the side away from its link to where it is welded on."""
    view = view_of(piece)
    nil = mount.at.xyz
    spots = [_flat(view, p) - _flat(view, nil) for p in _places(mount)]
    edge, hole = end.edge_mm, _BOLT_MM if end.bolt is None else end.bolt.diameter_mm
    around = shapely.union_all([shapely.Point(*s).buffer(edge, quad_segs=_ROUND) for s in spots])
    away = -np.sign(toward[0]) if abs(toward[0]) > 1e-6 else 1.0
    low, high = min(s[1] for s in spots) - edge, max(s[1] for s in spots) + edge
    reach = away * (edge + _BASE_MM)
    base = shapely.box(min(0.0, reach), low, max(0.0, reach), high)
    outline = shapely.union(around.convex_hull, base)
    holes = tuple((float(s[0]), float(s[1]), hole, str(i + 1) if len(spots) > 1 else "")
                  for i, s in enumerate(spots))  # fmt: skip
    used = f"; now {mount.hole + 1}" if mount.hole is not None and len(spots) > 1 else ""
    note = (f"{_said(end.plate_mm, units)} plate, 2 alike, {_said(end.gap_mm, units)} apart; "
            f"{len(spots)} hole{'s' if len(spots) > 1 else ''} {_said(hole, units)}{used}")  # fmt: skip
    weld = np.array([[reach, low], [reach, high]])
    return Template(words, note, outline, holes, (*(m for s in spots for m in _cross(s, 0.75 * edge)), weld), view, nil)


def _axle_bracket(axle: Axle, piece: Piece, mount: Mount, end: LinkEnd, units: System, words: str) -> Template | None:
    """A bracket's plate from its holes to the axle tube, cut to the tube's round; None where it does not reach it."""
    nil = mount.at.xyz
    spots = [_flat("side", p) - _flat("side", nil) for p in _places(mount)]
    tube, radius = _flat("side", axle.center) - _flat("side", nil), 0.5 * axle.tube_mm
    edge, hole = end.edge_mm, _BOLT_MM if end.bolt is None else end.bolt.diameter_mm
    near = min(float(np.hypot(*(s - tube))) for s in spots)
    if near > 4.0 * axle.tube_mm:
        return None
    heads = [shapely.Point(*s).buffer(edge, quad_segs=_ROUND) for s in spots]
    hold = shapely.Point(*tube).buffer(1.02 * radius, quad_segs=_ROUND)
    body = shapely.union_all([*heads, hold]).convex_hull
    round_tube = shapely.Point(*tube).buffer(radius, quad_segs=4 * _ROUND)
    # Open on the far side, so that it can be put over the tube: it reaches half way around.
    way = tube / max(float(np.hypot(*tube)), 1e-9)
    side = np.array([-way[1], way[0]])
    far = shapely.Polygon([tube + 2 * radius * (a * side + b * way) for a, b in ((-1, 0), (1, 0), (1, 2), (-1, 2))])
    outline = body.difference(round_tube).difference(far)
    if outline.geom_type == "MultiPolygon":
        outline = max(outline.geoms, key=lambda p: p.area)
    if outline.is_empty:
        return None
    holes = tuple((float(s[0]), float(s[1]), hole, str(i + 1) if len(spots) > 1 else "")
                  for i, s in enumerate(spots))  # fmt: skip
    many = f"{len(spots)} hole{'s' if len(spots) > 1 else ''} {_said(hole, units)}"
    note = (f"{_said(end.plate_mm, units)} plate, 2 alike, {_said(end.gap_mm, units)} apart, on the "
            f"{_said(axle.tube_mm, units)} tube; {many}")  # fmt: skip
    marks = tuple(m for s in spots for m in _cross(s, 0.75 * edge))
    short = radius + 0.5 * hole + _LEFT_MM - near
    wrong = (
        f"A hole comes within {_said(max(near - radius - 0.5 * hole, 0.0), units)} of the tube; its mount wants to be "
        f"{_said(short, units)} farther from the axle’s middle." if short > 0.0 else ""
    )  # fmt: skip
    return Template(words, note, outline, holes, (*marks, *_cross(tube, 6.0)), "side", nil, wrong)


def plates_of(vehicle: Vehicle, units: System) -> list[Template]:
    """Every plate of the car: brackets of all links whose parts are chosen, cranks, tabs, trusses, crossmember ends.

    And the plates among its things as they are cut now, notches and all.
    """
    found: dict[tuple[str, str, str], Template] = {}
    for piece in pieces(vehicle):
        for i in (0, 1):
            where = (piece.first_words, piece.second_words)[i]
            # Left and right are mirror images: one template does for both.
            name, where = (" ".join(w for w in t.split() if w not in ("left", "right")) for t in (piece.part, where))
            key = (piece.axle, name, where)
            if key in found:
                found[key] = replace(found[key], count=found[key].count + 2)
                continue
            made = _end_plate(vehicle, piece, i, f"{piece.axle.capitalize()} {name.lower()}, {where} bracket", units)
            if made is not None:
                found[key] = made
    plates = list(found.values())
    for axle in vehicle.axles:
        plates += [_crank(axle.key, m, units) for m in axle.members if isinstance(m, Watts)]
        plates += _tabs(axle, units)
        truss = _truss(axle, units)
        plates += [truss] if truss is not None else []
    return plates + _crossmember(vehicle, units) + _thing_plates(vehicle, units)


def _end_plate(vehicle: Vehicle, piece: Piece, i: int, words: str, units: System) -> Template | None:
    """The plate of the bracket at one end of a link; None where there is none."""
    parts, mount = vehicle.build.of(piece.axle, piece.part), piece.mounts[i]
    if parts is None or mount is None or piece.member is None:
        return None
    end = (parts.first, parts.second)[i]
    if end.joint is None:
        return None
    view, toward = view_of(piece), np.subtract(piece.second.xyz, piece.first.xyz)
    made = None
    if piece.member.body(_end_name(piece, i)) == "axle" and view == "side":
        made = _axle_bracket(vehicle.axle(piece.axle), piece, mount, end, units, words)
    along = _flat(view, tuple(toward if i == 0 else -toward))
    made = made or _bracket(piece, mount, end, along, units, words)
    return replace(made, note=made.note + _guess(piece.first, piece.second), count=2, thick_mm=end.plate_mm)


def _guess(*places: Point) -> str:
    """What is said of a plate that was drawn from places nobody taped."""
    return "; drawn from a guess: tape before it is cut" if any(is_guess(at) for at in places) else ""


def _thing_plates(vehicle: Vehicle, units: System) -> list[Template]:
    """The plates among the things on the car as they are cut now."""
    found = []
    for thing in vehicle.things:
        form = thing.form
        if not isinstance(form, Plate):
            continue
        outline = polygon_of(form.corners, form.holes)
        across, up, into = plane_axes(form.plane)
        place = [0.0, 0.0, 0.0]
        place[across], place[up], place[into] = outline.centroid.x, outline.centroid.y, form.start_mm
        moved = _seen(outline, form.plane, _flat(form.plane, (place[0], place[1], place[2])))
        note = f"{_said(form.thick_mm, units)} plate, as it is cut now"
        found.append(Template(thing.name.capitalize(), note, moved, (), _cross(np.zeros(2), 10.0), form.plane,
                              (place[0], place[1], place[2]), count=1, thick_mm=form.thick_mm))  # fmt: skip
    return found


def _seen(outline: shapely.Polygon, plane: View, nil: Array) -> shapely.Polygon:
    """A taped outline as the floor's projection shows it, its axes turned to those, from a place of it."""
    signs = np.array([-1.0, -1.0 if plane == "plan" else 1.0])
    return shapely.transform(outline, lambda corners: corners * signs - nil)


def plate_areas(plates: Sequence[Template]) -> dict[float, float]:
    """How much plate is needed by its thickness, mm^2 as cut, no scrap counted."""
    found: dict[float, float] = {}
    for plate in plates:
        if plate.count and plate.thick_mm:
            thick = round(plate.thick_mm, 2)
            found[thick] = found.get(thick, 0.0) + plate.count * plate.area_mm2
    return dict(sorted(found.items()))


def _end_name(piece: Piece, i: int) -> str:
    """The name of the end that a piece's mount is, on its member."""
    assert piece.member is not None
    mount = piece.mounts[i]
    return next(name for name, m in piece.member.mounts.items() if m is mount)


def _crank(key: str, member: Watts, units: System) -> Template:
    """The crank of a watts link: three holes, plate around them."""
    view: View = "rear" if member.crank_turns == "vertical" else "plan"
    nil = member.pivot.at.xyz
    spots = [_flat(view, m.at.xyz) - _flat(view, nil) for m in (member.pivot, member.crank_left, member.crank_right)]
    sizes = (2.0 * _BOLT_MM, _BOLT_MM, _BOLT_MM)
    heads = [shapely.Point(*s).buffer(0.5 * d + 16.0, quad_segs=_ROUND) for s, d in zip(spots, sizes, strict=True)]
    outline = shapely.union(
        shapely.union(heads[0], heads[1]).convex_hull, shapely.union(heads[0], heads[2]).convex_hull
    )  # fmt: skip
    holes = tuple((float(s[0]), float(s[1]), d, w) for s, d, w in zip(spots, sizes, ("pivot", "left", "right"),
                                                                      strict=True))  # fmt: skip
    between = _said(float(np.hypot(*(spots[1] - spots[2]))), units)
    return Template(f"{key.capitalize()} {member.name.lower()}, crank", f"3/8 in or 10 mm plate; outer holes {between} "
                    "apart, pivot hole to suit its bearing"
                    + _guess(*(m.at for m in (member.pivot, member.crank_left, member.crank_right))), outline, holes,
                    tuple(m for s in spots for m in _cross(s, 12.0)), view, nil, count=1, thick_mm=9.525)  # fmt: skip


def _tabs(axle: Axle, units: System) -> list[Template]:
    """A tab for the upper end of each spring or shock that has one, left as right."""
    found = []
    for unit in axle.springs:
        top = getattr(unit, "top", None)
        if not isinstance(top, Mount) or unit.side == "right":
            continue
        base = shapely.box(-_TAB_EDGE, 0.0, _TAB_EDGE, _TAB_STANDS)
        outline = shapely.union(shapely.Point(0.0, 0.0).buffer(_TAB_EDGE, quad_segs=_ROUND), base)
        name = unit.name.replace(" left", "")
        note = f"1/4 in or 6 mm plate, 2 a mount; hole {_said(_BOLT_MM, units)}, trim the foot to the frame"
        found.append(Template(f"{axle.key.capitalize()} {name.lower()}, upper tab", note, outline,
                              ((0.0, 0.0, _BOLT_MM, ""),), _cross(np.zeros(2), 16.0), "rear", top.at.xyz,
                              count=4 if unit.side == "left" else 2, thick_mm=6.35))  # fmt: skip
    return found


def _truss(axle: Axle, units: System) -> Template | None:
    """The side of a truss over housing and tubes, seen from behind; None where the housing was not taped."""
    if axle.housing is None or not axle.members:
        return None
    tube, ball = 0.5 * axle.tube_mm, 0.5 * axle.housing.ball_mm
    uppers = [
        abs(m.at.y) for x in axle.members if x.role == "upper" for e, m in x.mounts.items() if x.body(e) == "axle"
    ]
    half = min(max([*uppers, axle.housing.wide_mm]) + 60.0, 0.5 * axle.track_mm - 120.0)
    top = ball + 25.0
    whole = shapely.Polygon([
        (-half, tube), (half, tube), (half, tube + 30.0), (0.45 * half, top), (-0.45 * half, top), (-half, tube + 30.0)
    ])  # fmt: skip
    hump = shapely.Point(0.0, 0.0).buffer(ball, quad_segs=4 * _ROUND)
    outline = whole.difference(hump)
    if outline.geom_type != "Polygon":
        outline = max(outline.geoms, key=lambda p: p.area)
    ball_words = _said(axle.housing.ball_mm, units)
    note = (f"1/4 in or 6 mm plate, 2 alike, {_said(axle.tube_mm, units)} tube, {ball_words} ball; on "
            " a cast housing a qualified person decides how it is held and welded")  # fmt: skip
    marks = (np.array([[-half, 0.0], [half, 0.0]]), np.array([[0.0, -20.0], [0.0, top]]))
    return Template(
        f"{axle.key.capitalize()} truss, side", note, outline, (), marks, "rear", axle.center, count=2, thick_mm=6.35
    )


def _crossmember(vehicle: Vehicle, units: System) -> list[Template]:
    """The end plates of the gearbox crossmember, and the pad below the mount; none without a powertrain."""
    power = vehicle.powertrain
    if power is None:
        return []
    frame = vehicle.frame
    high = frame.rail_top_mm - frame.rail_bottom_mm
    tube = 44.45
    plate = (
        shapely.box(-50.0, -0.5 * high + 6.0, 50.0, 0.5 * high - 6.0) if high > 30.0 else shapely.box(-50, -30, 50, 30)
    )
    holes = tuple((x, y, _BOLT_MM, "") for x in (-36.0, 36.0) for y in (-0.5 * high + 20.0, 0.5 * high - 20.0))
    ring = np.array(shapely.Point(0.0, 0.0).buffer(0.5 * tube, quad_segs=_ROUND).exterior.coords)
    tail = power.tail
    between = 2.0 * (frame.rail_out_mm - 0.5 * 63.5)
    mid = 0.5 * (frame.rail_top_mm + frame.rail_bottom_mm)
    end = Template(
        "Crossmember, end plate", f"1/4 in or 6 mm plate, 2 alike; tube {_said(tube, units)}, cut to "
        f"{_said(between - 2 * 6.35, units)} between them", plate, holes if high > 60.0 else (), (ring,), "side",
        (tail.x, frame.rail_out_mm, mid), count=2, thick_mm=6.35,
    )  # fmt: skip
    pad = Template(
        "Crossmember, mount pad", "1/4 in or 6 mm plate; slots to suit the mount" + _guess(tail),
        shapely.box(-60.0, -45.0, 60.0, 45.0),
        ((-38.0, 0.0, 11.0, ""), (38.0, 0.0, 11.0, "")), _cross(np.zeros(2), 20.0), "plan", tail.xyz,
        count=1, thick_mm=6.35,
    )  # fmt: skip
    return [end, pad]
