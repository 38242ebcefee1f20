"""What stands on the floor: the car, its axles and links at a posture, in each projection."""

from dataclasses import dataclass

import numpy as np

from even_stance.errors import StanceError
from even_stance.mechanics.linkage import placed
from even_stance.mechanics.vectors import Array
from even_stance.study.answers import Answers
from even_stance.study.drawing import Area, Hole, Joint, Mark, Path, Place, Round, Shape, Solid, View, project
from even_stance.study.figures import AxleStudy, study_axle
from even_stance.study.model import wheel_centers
from even_stance.vehicle.car import Axle, Vehicle
from even_stance.vehicle.edits import Spot
from even_stance.vehicle.members import AnyMember, Leaf, RadiusArm, TorqueArm, Watts


@dataclass(frozen=True)
class AxlePlace:
    """Where one axle is drawn: its study if its links hold it, else standing at ride height."""

    axle: Axle
    study: AxleStudy | None


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


def axle_points(place: AxlePlace, points: Array) -> Array:
    """Axle-fixed points (given at ride height, mm, (m, 3)) at the posture drawn."""
    if place.study is None or not place.study.now.ok[0]:
        return points
    return moved(place.study.now, 0, points)


def moved(answers: Answers, i: int, points: Array) -> Array:
    """Axle-fixed points (given at ride height, mm, (m, 3)) at one of the postures studied."""
    result: Array = placed(answers.linkage, answers.pose.part(slice(i, i + 1)), points)[0]
    return result


def cg_x(vehicle: Vehicle) -> float:
    """How far ahead of the front axle the CG is (negative: behind it), mm; mid-wheelbase while weights are unknown."""
    if vehicle.mass_kg <= 0:
        return -0.5 * vehicle.wheelbase_mm
    return -sum(a.load_kg * a.behind_front_mm for a in vehicle.axles) / vehicle.mass_kg


def car_shapes(vehicle: Vehicle, places: list[AxlePlace], view: View, active: str) -> list[Shape]:
    """Ground, frame, axles, links and joints in one projection; the active axle in full color, others faint."""
    shapes: list[Shape] = [*_frame(vehicle, view)]
    for place in places:
        shapes += _tires(place, view, place.axle.key == active)
    shapes += _ground(vehicle, view)
    for place in places:
        shapes += _shaft(place, view, place.axle.key == active)
    for place in places:
        # Seen from behind, two axles would cover each other.
        if view == "rear" and place.axle.key != active:
            continue
        shapes += _axle(place, view, place.axle.key == active)
    x = cg_x(vehicle)
    shapes.append(Mark(project(view, (x, 0.0, vehicle.cg_height_mm)), "cg", "cg", "CG"))
    return shapes


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


def _shaft(place: AxlePlace, view: View, active: bool) -> list[Shape]:
    """The driveshaft from output to pinion, once both are measured."""
    output, pinion = place.axle.output, place.axle.pinion
    if output is None or pinion is None or (view == "rear" and not active):
        return []
    end = axle_points(place, np.array([pinion.at.xyz]))[0]
    line = (project(view, output.at.xyz), project(view, solid(end)))
    return [Path(line, "shaft", 70.0), *(Round(p, 45.0, "shaft") for p in line)]


def _span(vehicle: Vehicle) -> tuple[float, float]:
    """Front and rear end of the frame, mm ahead of the front axle."""
    tire = vehicle.axles[0].tire.free_diameter_mm
    return 0.55 * tire, -(vehicle.axles[-1].behind_front_mm + 0.75 * tire)


def _ground(vehicle: Vehicle, view: View) -> list[Shape]:
    if view == "plan":
        ahead, behind = _span(vehicle)
        return [Path((project("plan", (ahead + 300, 0, 0)), project("plan", (behind - 300, 0, 0))), "centerline")]
    return [Path(((-50_000.0, 0.0), (50_000.0, 0.0)), "ground")]


def _frame(vehicle: Vehicle, view: View) -> list[Shape]:
    frame = vehicle.frame
    ahead, behind = _span(vehicle)
    thick = max(frame.rail_top_mm - frame.rail_bottom_mm, 20.0)
    if view == "side":
        last = -vehicle.axles[-1].behind_front_mm
        up, run = frame.kick_up_mm, 0.45 * vehicle.axles[-1].tire.free_diameter_mm
        line = ((ahead, 0.0), (last + 2.1 * run, 0.0), (last + 1.2 * run, up), (last - run, up), (behind, 0.4 * up))
        top = [project(view, (x, 0.0, frame.rail_top_mm + z)) for x, z in line]
        bottom = [project(view, (x, 0.0, frame.rail_top_mm - thick + z)) for x, z in reversed(line)]
        return [Area((*top, *bottom), "frame")]
    out, half = frame.rail_out_mm, 30.0
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


def _tires(place: AxlePlace, view: View, active: bool) -> list[Shape]:
    axle = place.axle
    tire, style = axle.tire, "tire" if active else "tire-faint"
    radius, half = tire.free_diameter_mm / 2, tire.width_mm / 2
    if view == "rear" and not active:
        return []
    if view == "side":
        left = axle_points(place, wheel_centers(axle))[0]
        shapes: list[Shape] = [Round(project(view, solid(left)), radius, style)]
        if active and place.study is not None:
            sweep = place.study.travel.sweep
            reachable = np.flatnonzero(sweep.ok)
            ends = (reachable[0], reachable[-1]) if reachable.size else ()
            shapes += [
                Round(project(view, solid(moved(sweep, int(i), wheel_centers(axle))[0])), radius, "ghost") for i in ends
            ]
        return shapes
    return [
        Area(tuple(project(view, solid(c)) for c in axle_points(place, _wheel_box(view, center, half, radius))), style)
        for center in wheel_centers(axle)
    ]


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


def _axle(place: AxlePlace, view: View, active: bool) -> list[Shape]:
    axle = place.axle
    wheels = axle_points(place, wheel_centers(axle))
    left, right = project(view, solid(wheels[0])), project(view, solid(wheels[1]))
    style = "axle" if active else "axle-faint"
    shapes: list[Shape] = (
        [Round(left, axle.tube_mm / 2 + 12, style)] if view == "side" else [Path((left, right), style, axle.tube_mm)]
    )
    now = mounts_now(place)
    # The side seen from comes last, on top.
    members = sorted(axle.members, key=lambda m: (m.side != "right", m.role != "lower"))
    for m in members:
        role = m.role if active else f"{m.role}-faint"
        ends = {end: project(view, now[m.name, end]) for end in m.mounts}
        shapes += _member(m, ends, role, project(view, solid(axle_points(place, np.array([axle.center]))[0])))
    for m in members if active else ():
        for end, mount in m.mounts.items():
            holes = np.array([h.xyz for i, h in enumerate(mount.holes) if i != mount.hole]).reshape(-1, 3)
            holes = axle_points(place, holes) if m.body(end) == "axle" else holes
            shapes += [Hole(project(view, solid(h))) for h in holes]
            shapes.append(Joint(project(view, now[m.name, end]), Spot(axle.key, m.name, end), m.role))
    return shapes


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


def mounts_now(place: AxlePlace) -> dict[tuple[str, str], Solid]:
    """Where every mount of an axle is at the posture drawn, by member and end."""
    found: dict[tuple[str, str], Solid] = {}
    study = place.study if place.study is not None and place.study.now.ok[0] else None
    for m in place.axle.members:
        for end, mount in m.mounts.items():
            at = np.array([mount.at.xyz])
            found[m.name, end] = solid((axle_points(place, at) if m.body(end) == "axle" else at)[0])
        if study is None:
            continue
        if isinstance(m, Leaf):
            found[m.name, "shackle_eye"] = _shackle_eye(m, found[m.name, "seat"])
    if study is not None:
        layout = study.now.layout
        for i, rod in enumerate(layout.rods):
            for index, ends in ((rod.first, study.now.chassis_ends), (rod.second, study.now.rod_ends)):
                spot = layout.mounts[index]
                if spot.member.body(spot.end) == "crank":
                    found[spot.member.name, spot.end] = solid(ends[0][i])
    return found


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
        ahead, behind = _span(vehicle)
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
