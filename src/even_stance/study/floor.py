"""What stands on the floor: the car, its axles and links at a posture, in each projection."""

from dataclasses import dataclass

import numpy as np

from even_stance.mechanics.linkage import Pose, placed
from even_stance.mechanics.vectors import Array
from even_stance.study.answers import Answers
from even_stance.study.drawing import Area, Hole, Joint, Mark, Path, Round, Shape, Solid, View, project
from even_stance.study.figures import AxleStudy
from even_stance.study.model import wheel_centers
from even_stance.vehicle.car import Axle, Vehicle
from even_stance.vehicle.edits import Spot


@dataclass(frozen=True)
class AxlePlace:
    """Where one axle is drawn: its study if its links hold it, else standing at ride height."""

    axle: Axle
    study: AxleStudy | None


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
    pose = answers.pose
    one = Pose(pose.center[i : i + 1], pose.rotation[i : i + 1], pose.reached[i : i + 1], pose.residual_mm[i : i + 1])
    result: Array = placed(answers.linkage, one, points)[0]
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
        # Seen from behind, two axles would cover each other.
        if view == "rear" and place.axle.key != active:
            continue
        shapes += _axle(place, view, place.axle.key == active)
    x = cg_x(vehicle)
    shapes.append(Mark(project(view, (x, 0.0, vehicle.cg_height_mm)), "cg", "cg", "CG"))
    return shapes


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
    # The side seen from comes last, on top.
    members = sorted(axle.members, key=lambda m: (m.side != "right", m.role != "lower"))
    for m in members:
        chassis = m.chassis.at.xyz
        end = solid(axle_points(place, np.array([m.axle.at.xyz]))[0])
        name = m.role if active else f"{m.role}-faint"
        shapes.append(Path((project(view, chassis), project(view, end)), name, m.tube_mm))
    for m in members if active else ():
        for end_name, mount in m.mounts.items():
            holes = np.array([h.xyz for i, h in enumerate(mount.holes) if i != mount.hole]).reshape(-1, 3)
            at = np.array([mount.at.xyz])
            if end_name == "axle":
                holes, at = axle_points(place, holes), axle_points(place, at)
            shapes += [Hole(project(view, solid(h))) for h in holes]
            spot = Spot(axle.key, m.name, end_name)
            shapes.append(Joint(project(view, solid(at[0])), spot, m.role))
    return shapes


def view_frame(vehicle: Vehicle, axle: Axle, view: View, whole: bool) -> tuple[float, float, float, float]:
    """The window of a projection that shows an axle with its links, or the whole car: h and v ranges, mm."""
    points = [p for m in axle.members for p in (m.chassis.at.xyz, m.axle.at.xyz)]
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
