"""The lines behind the numbers of a steering: the two arcs' links, the kingpins, and where the wheels turn about."""

import numpy as np

from even_stance.mechanics.steering import LEFT, RIGHT, ground_points
from even_stance.mechanics.vectors import Array
from even_stance.study.drawing import Beside, Label, Path, Shape, View, project
from even_stance.study.figures import AxleStudy
from even_stance.study.model import wheel_centers
from even_stance.study.places import place_of, xyz
from even_stance.study.steerfigures import lateral_rod, lock_of, mechanism_of
from even_stance.study.steering import axle_line
from even_stance.study.steerloads import joint_height
from even_stance.study.steerroom import joint_arcs
from even_stance.units import System, format_length

_ARCS = ("bump_steer_deg", "cross_steer_deg", "drag_slope_deg", "drag_length_pct", "steer_ratio", "steer_swing_use_pct")
_KINGPIN = ("kingpin_caster_deg", "kingpin_inclination_deg", "scrub_mm", "axle_joint_use_pct")
_LOCK = ("lock_deg", "lock_uneven_deg", "stop_margin_deg", "ackermann_lock_pct", "turn_circle_m")
_AHEAD_MM = 700.0


def rod_lines(study: AxleStudy, view: View, system: System) -> list[Shape]:
    """The steering's links, and the panhard, with their slope and length, in the view that shows their slope."""
    mechanism = mechanism_of(study.axle)
    if mechanism is None or view == "plan":
        return []
    if mechanism.box is None:
        return _joint_arcs(study, view)
    lengthwise = mechanism.steering.kind == "fore_aft"
    place = place_of(study)
    spans = []
    for link in mechanism.links:
        on_axle = place.at(np.array([link.start, link.goal]))
        ends = [np.array(link.start) if link.name == "drag link" else on_axle[0], on_axle[1]]
        spans.append((link.name, ends))
    bar = lateral_rod(study.axle)
    if bar is not None:
        spans.append(("panhard", [np.array(place.mounts[bar.name, end]) for end in ("chassis", "axle")]))
    shapes: list[Shape] = []
    for name, (a, b) in spans:
        if view != ("side" if name == "drag link" and lengthwise else "rear"):
            continue
        start, goal = (np.array(project(view, xyz(p))) for p in (a, b))
        run = goal - start
        slope = float(np.degrees(np.arctan(abs(run[1]) / max(abs(run[0]), 1e-9))))
        length = format_length(float(np.linalg.norm(b - a)), system).removeprefix("~")
        middle = start + (0.35 if name == "tie rod" else 0.6) * run
        beside: Beside = "below" if name == "tie rod" else "above"
        words = f"{name} {slope:.1f}°, {length} long"
        shapes.append(Label((float(middle[0]), float(middle[1])), words, "exact", beside))
    return shapes


def _joint_arcs(study: AxleStudy, view: View) -> list[Shape]:
    """The tilted arcs that the joints of a ram's links go along on their knuckles, and the rod's line (from behind)."""
    steering, place = study.axle.steering, place_of(study)
    if view != "rear" or steering is None or steering.ram is None:
        return []
    shapes: list[Shape] = []
    for arc in joint_arcs(study.axle):
        shapes.append(Path(tuple(project(view, xyz(p)) for p in place.at(arc)), "exact"))
    rod = place.at(np.array([steering.ram.left.xyz, steering.ram.right.xyz]))
    way = rod[0] - rod[1]
    ends = [rod[1] - 0.8 * way, rod[0] + 0.8 * way]
    shapes.append(_line(view, ends[0], ends[1], "reference"))
    height = joint_height(study.axle)
    if height is not None:
        words = f"joint’s arc, {height.now_deg:.1f}° out of the ram’s line at worst"
        shapes.append(Label(project(view, xyz(place.at(joint_arcs(study.axle)[LEFT])[0])), words, "exact", "above"))
    return shapes


def kingpin_lines(study: AxleStudy, view: View, _system: System) -> list[Shape]:
    """Both kingpin axes down to the ground, and up as far again."""
    mechanism = mechanism_of(study.axle)
    if mechanism is None or view == "plan":
        return []
    k, place = mechanism.knuckles, place_of(study)
    ground, top = ground_points(k), k.pivot + 0.6 * study.axle.tire.free_diameter_mm * k.axis
    shapes: list[Shape] = []
    for i in (LEFT, RIGHT) if view == "rear" else (LEFT,):
        line = place.at(np.stack((ground[i], top[i])))
        shapes.append(Path(tuple(project(view, xyz(p)) for p in line), "exact"))
        middle = np.array(place.wheels[i])
        upright = [project(view, (middle[0], middle[1], z)) for z in (0.0, float(line[1, 2]))]
        shapes.append(Path((upright[0], upright[1]), "reference"))
    return shapes


def lock_lines(study: AxleStudy, view: View, _system: System) -> list[Shape]:
    """Turned full left: where the wheels' normals meet the other axle's line, and which way each wheel points."""
    mechanism, axle = mechanism_of(study.axle), study.axle
    if mechanism is None or view != "plan":
        return []
    lock, line = lock_of(axle, mechanism), axle_line(study.vehicle, axle)
    headings = np.radians(lock.headings[1])
    if not np.isfinite(headings).all():
        return []
    shapes: list[Shape] = []
    for center, heading in zip(wheel_centers(axle), headings, strict=True):
        ahead = np.array([np.cos(heading), np.sin(heading), 0.0])
        tip = center + _AHEAD_MM * ahead
        meets = center[1] + (center[0] - line) / np.tan(heading) if abs(heading) > 1e-6 else np.nan
        shapes.append(_line(view, center, tip, "exact"))
        if np.isfinite(meets):
            shapes.append(_line(view, center, np.array([line, meets, 0.0]), "reference"))
        words = f"{abs(np.degrees(heading)):.1f}° at left lock"
        shapes.append(Label(project(view, xyz(tip)), words, "exact", "above"))
    return shapes


def _line(view: View, a: Array, b: Array, style: str) -> Path:
    return Path((project(view, xyz(a)), project(view, xyz(b))), style)


OF_STEERING = {
    **dict.fromkeys(_ARCS, rod_lines), **dict.fromkeys(_KINGPIN, kingpin_lines), **dict.fromkeys(_LOCK, lock_lines)
}  # fmt: skip
