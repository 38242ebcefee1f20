"""What stands on the floor: the car, its axles and links at a posture, in each projection."""

from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np

from even_stance.errors import StanceError
from even_stance.mechanics.linkage import placed
from even_stance.mechanics.vectors import Array
from even_stance.study.answers import Answers
from even_stance.study.drawing import Area, Hole, Joint, Mark, Path, Place, Round, Shape, Solid, View, project
from even_stance.study.figures import AxleStudy, study_axle
from even_stance.study.frame import RAIL_HALF_MM, frame_ends, rail_line, rail_thick
from even_stance.study.model import wheel_centers
from even_stance.vehicle.car import Axle, Vehicle
from even_stance.vehicle.members import AnyMember, Leaf, RadiusArm, TorqueArm, Watts
from even_stance.vehicle.spots import Spot


@dataclass(frozen=True, eq=False)
class AxlePlace:
    """Where one axle is drawn: its study if its links hold it, else standing at ride height. Equal only to itself."""

    axle: Axle
    study: AxleStudy | None

    @cached_property
    def _now(self) -> Answers | None:
        return self.study.now if self.study is not None and self.study.now.ok[0] else None

    def at(self, points: Array) -> Array:
        """Axle-fixed points (given at ride height, mm, (m, 3)) at the posture drawn."""
        return points if self._now is None else moved(self._now, 0, points)

    @cached_property
    def wheels(self) -> tuple[Solid, Solid]:
        """Left and right wheel center."""
        left, right = self.at(wheel_centers(self.axle))
        return solid(left), solid(right)

    @cached_property
    def center(self) -> Solid:
        """The axle center."""
        return solid(self.at(np.array([self.axle.center]))[0])

    @cached_property
    def ghosts(self) -> list[Solid]:
        """The left wheel center where full droop and full bump take it, as far as the linkage goes."""
        if self.study is None:
            return []
        sweep = self.study.travel.sweep
        reachable = np.flatnonzero(sweep.ok)
        ends = (reachable[0], reachable[-1]) if reachable.size else ()
        return [solid(moved(sweep, int(i), wheel_centers(self.axle)[:1])[0]) for i in ends]

    @cached_property
    def mounts(self) -> dict[tuple[str, str], Solid]:
        """Every mount, by member and end."""
        there = [(m.name, end, mount.at.xyz) for m in self.axle.members for end, mount in m.mounts.items()]
        found = {(name, end): at for (name, end, _), at in zip(there, self._carried(there), strict=True)}
        if self._now is None:
            return found
        for m in self.axle.members:
            if isinstance(m, Leaf):
                found[m.name, "shackle_eye"] = _shackle_eye(m, found[m.name, "seat"])
        layout = self._now.layout
        for i, rod in enumerate(layout.rods):
            for index, ends in ((rod.first, self._now.chassis_ends), (rod.second, self._now.rod_ends)):
                spot = layout.mounts[index]
                if spot.member.body(spot.end) == "crank":
                    found[spot.member.name, spot.end] = solid(ends[0][i])
        return found

    @cached_property
    def holes(self) -> dict[tuple[str, str, int], Solid]:
        """The free holes of every bracket, by member, end and number."""
        free = [
            (m.name, end, i, hole.xyz)
            for m in self.axle.members
            for end, mount in m.mounts.items()
            for i, hole in enumerate(mount.holes)
            if i != mount.hole
        ]
        now = self._carried([(name, end, at) for name, end, _, at in free])
        return {(name, end, i): at for (name, end, i, _), at in zip(free, now, strict=True)}

    def _carried(self, points: list[tuple[str, str, Solid]]) -> list[Solid]:
        """Points of members' ends; those on the axle have gone along with it."""
        bodies = {(m.name, end): m.body(end) for m in self.axle.members for end in m.mounts}
        now = self.at(np.array([at for _, _, at in points]).reshape(-1, 3))
        return [
            solid(moved) if bodies[name, end] == "axle" else at
            for (name, end, at), moved in zip(points, now, strict=True)
        ]


def study_places(vehicle: Vehicle) -> list[AxlePlace]:
    """Every axle at ride height, with its study where its links hold it."""
    places = []
    for axle in vehicle.axles:
        try:
            study = study_axle(vehicle, axle, 0.0, 0.0, {}) if axle.members else None
        except StanceError:
            study = None
        places.append(AxlePlace(axle, study))
    return places


def solid(values: Array) -> Solid:
    """A point as three plain numbers."""
    return (float(values[0]), float(values[1]), float(values[2]))


def moved(answers: Answers, i: int, points: Array) -> Array:
    """Axle-fixed points (given at ride height, mm, (m, 3)) at one of the postures studied."""
    result: Array = placed(answers.linkage, answers.pose.part(slice(i, i + 1)), points)[0]
    return result


def cg_x(vehicle: Vehicle) -> float:
    """How far ahead of the front axle the CG is (negative: behind it), mm; mid-wheelbase while weights are unknown."""
    if vehicle.mass_kg <= 0:
        return -0.5 * vehicle.wheelbase_mm
    return -sum(a.load_kg * a.behind_front_mm for a in vehicle.axles) / vehicle.mass_kg


def still_shapes(vehicle: Vehicle, places: list[AxlePlace], view: View, active: str) -> list[Shape]:
    """Frame, ground and the axles not looked at, faint, in one projection: what stands still while a point is moved."""
    others = [p for p in places if p.axle.key != active]
    shapes: list[Shape] = [*_frame(vehicle, view), *(s for p in others for s in _tires(p, view, False))]
    shapes += _ground(vehicle, view)
    # Seen from behind, two axles would cover each other.
    if view != "rear":
        shapes += [s for p in others for s in (*_shaft(p, view), *_axle(p, view, False))]
    return shapes


def live_shapes(vehicle: Vehicle, places: list[AxlePlace], view: View, active: str) -> list[Shape]:
    """The axle looked at with its links and joints, in full color, and the CG, in one projection."""
    shapes: list[Shape] = []
    for place in places:
        if place.axle.key == active:
            shapes += (*_tires(place, view, True), *_shaft(place, view), *_axle(place, view, True))
    x = cg_x(vehicle)
    shapes.append(Mark(project(view, (x, 0.0, vehicle.cg_height_mm)), "cg", "cg", "CG"))
    return shapes


def car_shapes(vehicle: Vehicle, places: list[AxlePlace], view: View, active: str) -> list[Shape]:
    """Ground, frame, axles, links and joints in one projection; the active axle in full color, others faint."""
    return still_shapes(vehicle, places, view, active) + live_shapes(vehicle, places, view, active)


def beneath_shapes(study: AxleStudy, view: View) -> list[Shape]:
    """The links of another variant, drawn beneath: bands twice as wide as the links that lie on them."""
    now, layout = study.now, study.now.layout
    if not now.ok[0]:
        return []
    return [
        Path((project(view, solid(now.chassis_ends[0, i])), project(view, solid(now.rod_ends[0, i]))), "beneath",
             2.2 * layout.mounts[rod.first].member.tube_mm)
        for i, rod in enumerate(layout.rods)
    ]  # fmt: skip


def _shaft(place: AxlePlace, view: View) -> list[Shape]:
    """The driveshaft from output to pinion, once both are measured."""
    output, pinion = place.axle.output, place.axle.pinion
    if output is None or pinion is None:
        return []
    end = place.at(np.array([pinion.at.xyz]))[0]
    line = (project(view, output.at.xyz), project(view, solid(end)))
    return [Path(line, "shaft", 70.0), *(Round(p, 45.0, "shaft") for p in line)]


def _ground(vehicle: Vehicle, view: View) -> list[Shape]:
    if view == "plan":
        ahead, behind = frame_ends(vehicle)
        return [Path((project("plan", (ahead + 300, 0, 0)), project("plan", (behind - 300, 0, 0))), "centerline")]
    return [Path(((-50_000.0, 0.0), (50_000.0, 0.0)), "ground")]


def _frame(vehicle: Vehicle, view: View) -> list[Shape]:
    frame = vehicle.frame
    ahead, behind = frame_ends(vehicle)
    thick = rail_thick(vehicle)
    if view == "side":
        line = rail_line(vehicle)
        top = [project(view, (x, 0.0, frame.rail_top_mm + z)) for x, z in line]
        bottom = [project(view, (x, 0.0, frame.rail_top_mm - thick + z)) for x, z in reversed(line)]
        return [Area((*top, *bottom), "frame")]
    out, half = frame.rail_out_mm, RAIL_HALF_MM
    if view == "plan":
        return [
            Area(
                tuple(
                    project(view, (x, s * out + w, 0.0))
                    for x, w in ((ahead, half), (behind, half), (behind, -half), (ahead, -half))
                ),
                "frame",
            )
            for s in (1.0, -1.0)
        ]
    return [
        Area(
            tuple(
                project(view, (0.0, s * out + w, z))
                for w, z in (
                    (half, frame.rail_top_mm), (-half, frame.rail_top_mm),
                    (-half, frame.rail_bottom_mm), (half, frame.rail_bottom_mm),
                )
            ),
            "frame",
        )
        for s in (1.0, -1.0)
    ]  # fmt: skip


@lru_cache(maxsize=32)
def _tires(place: AxlePlace, view: View, active: bool) -> tuple[Shape, ...]:
    axle = place.axle
    tire, style = axle.tire, "tire" if active else "tire-faint"
    radius, half = tire.free_diameter_mm / 2, tire.width_mm / 2
    if view == "rear" and not active:
        return ()
    if view == "side":
        wheel = Round(project(view, place.wheels[0]), radius, style)
        return (wheel, *(Round(project(view, p), radius, "ghost") for p in place.ghosts if active))
    boxes = (place.at(_wheel_box(view, center, half, radius)) for center in wheel_centers(axle))
    return tuple(Area(tuple(project(view, solid(corner)) for corner in box), style) for box in boxes)


def _wheel_box(view: View, center: Array, half: float, radius: float) -> Array:
    """Outline of a tire at ride height, its shoulders cut, mm, shape (8, 3): a solid axle's wheels lean with it."""
    cut = 0.25 * half
    long, wide = (0, 1) if view == "plan" else (2, 1)
    outline = []
    for a, b in ((1, 1), (-1, 1), (-1, -1), (1, -1)):
        corners = [(radius, half - cut), (radius - cut, half)]
        for along, across in corners if a * b > 0 else reversed(corners):
            point = center.copy()
            point[long] += a * along
            point[wide] += b * across
            outline.append(point)
    return np.array(outline)


@lru_cache(maxsize=32)
def _axle(place: AxlePlace, view: View, active: bool) -> tuple[Shape, ...]:
    axle = place.axle
    left, right = (project(view, wheel) for wheel in place.wheels)
    style = "axle" if active else "axle-faint"
    shapes: list[Shape] = (
        [Round(left, axle.tube_mm / 2 + 12, style)] if view == "side" else [Path((left, right), style, axle.tube_mm)]
    )
    # The side seen from comes last, on top.
    members = sorted(axle.members, key=lambda m: (m.side != "right", m.role != "lower"))
    for m in members:
        role = m.role if active else f"{m.role}-faint"
        ends = {end: project(view, place.mounts[m.name, end]) for end in m.mounts}
        shapes += _member(m, ends, role, project(view, place.center))
    for m in members if active else ():
        for end, mount in m.mounts.items():
            free = (i for i in range(len(mount.holes)) if i != mount.hole)
            shapes += [Hole(project(view, place.holes[m.name, end, i])) for i in free]
            shapes.append(Joint(project(view, place.mounts[m.name, end]), Spot(axle.key, m.name, end), m.role))
    return tuple(shapes)


def _member(m: AnyMember, ends: dict[str, Place], style: str, center: Place) -> list[Shape]:
    """A member as it is drawn: rods as rods, arms rigid with the axle down to its tube, cranks and leaves as such."""
    if isinstance(m, Watts):
        return [
            Path((ends["crank_left"], ends["outer_left"]), style, m.tube_mm),
            Path((ends["crank_right"], ends["outer_right"]), style, m.tube_mm),
            Area((ends["crank_left"], ends["pivot"], ends["crank_right"]), style),
            Path((ends["crank_left"], ends["pivot"], ends["crank_right"]), style, 1.6 * m.tube_mm),
        ]
    if isinstance(m, Leaf):
        return [
            Path((ends["fixed_eye"], ends["seat"], ends["shackle_eye"]), style, m.tube_mm),
            Path((ends["shackle_eye"], ends["shackle"]), style, 0.6 * m.tube_mm),
        ]
    if isinstance(m, RadiusArm | TorqueArm):
        return [Path((ends["chassis"], ends["axle"], center), style, m.tube_mm)]
    return [Path((ends[a], ends[b]), style, m.tube_mm) for a, b in m.SPANS]


def _shackle_eye(m: Leaf, seat: Solid) -> Solid:
    """The free eye: as far from seat and shackle pivot as ever, in side view, nearest to where it was."""
    eye, pivot = np.array(m.shackle_eye.at.xyz), np.array(m.shackle.at.xyz)
    a, b = np.array([seat[0], seat[2]]), pivot[[0, 2]]
    ra = float(np.linalg.norm(eye[[0, 2]] - np.array(m.seat.at.xyz)[[0, 2]]))
    rb = float(np.linalg.norm(eye[[0, 2]] - b))
    d = float(np.linalg.norm(b - a))
    if d < 1e-6 or not abs(ra - rb) <= d <= ra + rb:
        return solid(eye)
    along = (ra * ra - rb * rb + d * d) / (2 * d)
    off = max(ra * ra - along * along, 0.0) ** 0.5
    unit = (b - a) / d
    base, side = a + along * unit, np.array([-unit[1], unit[0]])
    x, z = min((base + s * off * side for s in (1, -1)), key=lambda p: float(np.linalg.norm(p - eye[[0, 2]])))
    return (float(x), float(eye[1]), float(z))


def view_frame(vehicle: Vehicle, axle: Axle, view: View, whole: bool) -> tuple[float, float, float, float]:
    """The window of a projection that shows an axle with its links, or the whole car: h and v ranges, mm."""
    points = [mount.at.xyz for m in axle.members for mount in m.mounts.values()]
    x, _, z = axle.center
    radius, half = axle.tire.free_diameter_mm / 2, (axle.track_mm + axle.tire.width_mm) / 2
    high = max(vehicle.frame.rail_top_mm + vehicle.frame.kick_up_mm, 2 * radius, vehicle.cg_height_mm)
    if whole:
        ahead, behind = frame_ends(vehicle)
        xs = [ahead, behind]
    else:
        xs = [x + radius, x - radius, *(p[0] for p in points)]
    ys = [half, -half, *(p[1] for p in points)]
    zs = [0.0, high + axle.bump_mm * 0.3, *(p[2] for p in points)]
    low = min(0.0, z - radius - 0.3 * axle.droop_mm)
    corners = [project(view, (a, b, c)) for a in (min(xs), max(xs)) for b in (min(ys), max(ys)) for c in (low, max(zs))]
    h, v = [c[0] for c in corners], [c[1] for c in corners]
    return min(h), max(h), min(v), max(v)


def axle_to_ride(study: AxleStudy, delta: Solid) -> Solid:
    """A movement in chassis axes at the posture studied, turned back to the axle's axes at ride height, mm."""
    if not study.now.ok[0]:
        return delta
    return solid(study.now.pose.rotation[0].T @ np.array(delta))
