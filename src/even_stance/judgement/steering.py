"""What a steering does, in rows and sentences: at the wheels now, over its whole turn, and over bumps."""

from typing import Any

import numpy as np

from even_stance.errors import CannotReachError, StanceError
from even_stance.judgement.findings import Finding
from even_stance.judgement.search.arcs import ArcAnswer
from even_stance.judgement.verdicts import format_value
from even_stance.judgement.wording import move_words
from even_stance.mechanics.steering import kingpin_angles, tread_aside
from even_stance.mechanics.vectors import Array
from even_stance.study.answers import study_postures
from even_stance.study.beamanswers import machine_readable_beams
from even_stance.study.beamfigures import travel_states
from even_stance.study.beams import beams_of
from even_stance.study.figures import AxleStudy, study_axle
from even_stance.study.model import axle_title
from even_stance.study.steeranswers import machine_readable_steer
from even_stance.study.steerends import circle_both_ends
from even_stance.study.steerfigures import held_straight, mechanism_of, turner_of
from even_stance.study.steering import steered_axle
from even_stance.units import System, format_length, length_unit
from even_stance.vehicle.car import Axle
from even_stance.vehicle.edits import move_by
from even_stance.vehicle.job import Job
from even_stance.vehicle.posture import AxlePosture
from even_stance.vehicle.spots import Spot, own_point

_STOPS = {
    "box": "the box comes to its stop", "ram": "the ram comes to its end", "stop": "the inner wheel meets its stop",
    "link": "a link cannot follow",
}  # fmt: skip
_CROSSED = 41
_APART_DEG = 0.5  # common practice, no source: an angle finder is good to two tenths
_FELT_DEG = 0.25  # about a degree to four of hand wheel: what a driver takes for wander (common practice, no source)


def steering_findings(job: Job) -> list[Finding]:
    """Which steered axles have no steering yet."""
    return [
        Finding(
            f"steering {a.key}", "missing", "steering", "no steering",
            f"{axle_title(a)}: no steering yet. Start from a guess in Steering, then tape its points.", a.key,
        ) for a in job.vehicle.axles if a.steered and a.steering is None
    ]  # fmt: skip


def beam_rows(job: Job, axle: Axle, posture: AxlePosture) -> list[tuple[str, str]]:
    """What swing beams do at a posture: a title and a figure each; empty where there are none, or they do not reach."""
    if beams_of(axle) is None:
        return []
    try:
        said = machine_readable_beams(job.vehicle, axle, posture.left_mm, posture.right_mm, posture.steer)
    except CannotReachError:
        return []
    steer, beams = said["steer"], said["beams"]
    rows = [
        (title, f"{round(value, 1) + 0.0:+.1f}°") for title, value in (
            ("Left wheel, + left", steer["left_deg"]), ("Right wheel, + left", steer["right_deg"]),
            ("Toe, + in", steer["toe_deg"]), ("Camber, left wheel", beams["camber_left_deg"]),
            ("Camber, right wheel", beams["camber_right_deg"]),
        )
    ]  # fmt: skip
    wider = beams["track_change_mm"]
    way = "wider" if wider > 0 else "narrower"
    rows.append(("Track against ride height", f"{_length(abs(wider), job.units)} {way}"))
    if steer["overall_ratio"] is not None:
        rows.append(("Hand wheel to road wheels", f"{steer['overall_ratio']:.1f} to 1"))
    if steer["turning_radius_mm"] is not None:
        circle = 0.002 * steer["turning_radius_mm"]
        rows.append(("Turning circle, outer wheel", format_value("circle_m", circle, job.units)))
    rows.append(("First to stop, this way", _STOPS[steer["stop_first"]]))
    rows += _joint_rows(steer["joints"])
    rows += kingpin_rows(axle)
    rows.append(("Tie rods, joint to joint", _length(steer["tie_rod_mm"], job.units)))
    return rows


def kingpin_rows(axle: Axle) -> list[tuple[str, str]]:
    """How the kingpins stand, left and right, as measured: both sides should agree within half a degree."""
    turner = turner_of(axle)
    if turner is None:
        return []
    rows = []
    for title, angles in zip(("Caster", "Inclination"), kingpin_angles(turner.knuckles.axis), strict=True):
        left, right = np.degrees(angles)
        apart = abs(left - right)
        more = "" if apart < _APART_DEG else f": {apart:.1f}° apart, tape or read them again"
        rows.append((f"{title}, left and right", f"{left:.1f}° and {right:.1f}°{more}"))
    return rows


def steer_rows(job: Job, study: AxleStudy, steer: float) -> list[tuple[str, str]]:
    """What the steering does at the posture shown: a title and a figure each; empty without a steering."""
    if not study.now.ok[0] or study.axle.steering is None:
        return []
    said = machine_readable_steer(job.vehicle, study.now, steer)["steer"]

    def deg(key: str) -> str:
        return "not reached" if said[key] is None else f"{round(said[key], 1) + 0.0:+.1f}°"

    rows = [("Left wheel, + left", deg("left_deg")), ("Right wheel, + left", deg("right_deg"))]
    rows.append(("Toe, + in", deg("toe_deg")))
    rows.append(
        ("Ackermann", "too near straight" if said["ackermann_pct"] is None else f"{said['ackermann_pct']:.0f} %")
    )
    if said["pitman_deg"] is not None:
        rows.append(("Pitman arm", deg("pitman_deg")))
    if said["overall_ratio"] is not None:
        rows.append(("Hand wheel to road wheels", f"{said['overall_ratio']:.1f} to 1"))
    if said["turning_radius_mm"] is not None:
        rows.append(
            ("Turning circle, outer wheel", format_value("circle_m", 0.002 * said["turning_radius_mm"], job.units))
        )
    both = circle_both_ends(job.vehicle)
    if both is not None:
        rows.append(("The same, rear at lock the other way", format_value("circle_m", both, job.units)))
    rows.append(("First to stop, this way", _STOPS[said["stop_first"]]))
    rows += _joint_rows(said["joints"])
    rows += kingpin_rows(study.axle)
    for key, title in (("tie_rod_mm", "Tie rod, joint to joint"), ("drag_link_mm", "Drag link, joint to joint")):
        if said[key] is not None:
            rows.append((title, _length(said[key], job.units)))
    return rows


def _joint_rows(joints: list[dict[str, Any]]) -> list[tuple[str, str]]:
    """How far every joint has swung at a posture."""
    return [
        (f"{j['name'].capitalize()}, {j['end']} joint swings", f"{j['swing_deg']:.1f}°")
        for j in joints if j["swing_deg"] is not None
    ]  # fmt: skip


def _length(mm: float, units: System) -> str:
    return f"{format_length(mm, units).removeprefix('~')} {length_unit(units)}"


def bump_words(study: AxleStudy) -> str:
    """What the wheels do by themselves over travel, the hand wheel held, in a sentence; empty without a steering."""
    axle, most = study.axle, bump_most(study)
    if axle.steering is None:
        return ""
    if most is None:
        return "The steering's links cannot follow the axle: look at their ends."
    said = f"{most[0]:.1f}° with both wheels up or down and {most[1]:.1f}° crossed up"
    still = max(most) <= _FELT_DEG or axle.steering.kind == "ram"
    lateral = any(m.role == "lateral" for m in axle.members)
    other = "the panhard's" if lateral else "the path of the axle"
    cure = "" if still else f" Two arcs differ: bring the drag link's angle and length nearer to {other}."
    return f"Hand wheel held, both wheels steer together by up to {said}; toe itself hardly changes.{cure}"


def arc_rows(job: Job, study: AxleStudy) -> list[tuple[str, str]]:
    """The two arcs in rows: what the wheels do, what holds them straight, and how the links that make the arcs lie."""
    axle, units = study.axle, job.units
    mechanism, most = mechanism_of(axle), bump_most(study)
    if mechanism is None or axle.steering is None or most is None:
        return []
    rows = []
    for key, words in (("bump_steer_deg", "Over bumps"), ("cross_steer_deg", "Crossed up")):
        figure = study.figure(key)
        assert figure is not None
        aside = float(tread_aside(np.radians(figure.value), axle.tire.free_diameter_mm / 2))
        note = f", {figure.note}" if figure.note else ""
        rows.append((words, f"{figure.value:.1f}°, {_length(aside, units)} aside at the front of the tire{note}"))
        at = study_postures(study.vehicle, axle, np.array([figure.left_mm]), np.array([figure.right_mm]))
        hold = held_straight(mechanism, at.pose, 0)
        if axle.steering.kind != "ram" and np.isfinite(hold):
            way = "left" if hold > 0.0 else "right"
            rows.append((f"{words}, hand wheel to hold it", f"{abs(360.0 * hold):.0f}° {way}"))
    drag = {f.key: f.value for f in study.figures if f.key.startswith("drag_")}
    if drag:
        rows.append(("Drag link against panhard", f"{drag['drag_slope_deg']:.1f}° off parallel, "
                     f"{drag['drag_length_pct']:.0f} % as long"))  # fmt: skip
    rows += _over_arm_rows(job, study)
    return rows


def _over_arm_rows(job: Job, study: AxleStudy) -> list[tuple[str, str]]:
    """What the drag link's joint on the other side of its arm would do: the gain of an arm's thickness and a joint."""
    steering, key = study.axle.steering, study.axle.key
    if steering is None or steering.kind not in ("crossover", "fore_aft"):
        return []
    by, rows = steering.arm_mm + 2.0 * steering.ball_mm, []
    for way, words in ((1.0, "over the arm, were it under"), (-1.0, "under the arm, were it over")):
        try:
            moved = move_by(Spot(key, "", "drag"), 0.0, 0.0, way * by).apply(job)
            found = bump_most(study_axle(moved.vehicle, moved.vehicle.axle(key), 0.0, 0.0, {}))
        except StanceError:
            continue
        if found is not None:
            rows.append((f"Drag link {words}", f"{found[0]:.1f}° over bumps, {_length(by, job.units)} "
                         f"{'higher' if way > 0 else 'lower'}"))  # fmt: skip
    return rows


def least_steer_words(job: Job, found: ArcAnswer) -> str:
    """What a better place of a drag link's end comes to, in a sentence."""
    at = own_point(job.vehicle.axle(found.axle), found.end)
    assert at is not None
    by = [a - b for a, b in zip(found.at, at.xyz, strict=True)]
    edge = " The room ends there: more room, less steer." if found.at_edge else ""
    what = "toe changes" if found.end == "left_inner" else "the wheels steer by themselves"
    return (
        f"{move_words(by[0], by[1], by[2], job.units, at.y)}: the most {what} goes from {found.before_deg:.1f}° to "
        f"{found.after_deg:.1f}°.{edge}"
    )


def bump_most(study: AxleStudy) -> tuple[float, float] | None:
    """The most the left wheel steers by itself with both wheels up or down, and crossed up, degrees."""
    heave, roll = (study.figure(key) for key in ("bump_steer_deg", "cross_steer_deg"))
    return None if heave is None or roll is None else (heave.value, roll.value)


def foot_words(study: AxleStudy) -> str:
    """The same in a few words."""
    most = bump_most(study)
    return "" if most is None else f"hand wheel held: {most[0]:.1f}° over bumps, {most[1]:.1f}° crossed up"


def bump_curve(study: AxleStudy, crossed: bool) -> tuple[Array, Array, Array]:
    """Travel of the left wheel, mm, and which way both wheels point, degrees, over travel with the hand wheel held."""
    axle = study.axle
    assert axle.steering is not None
    run = study.travel.sweep
    if crossed:
        most = min(axle.bump_mm, axle.droop_mm)
        left = np.linspace(-most, most, _CROSSED)
        run = study_postures(study.vehicle, axle, left, -left)
    found = steered_axle(axle, axle.steering).at(np.zeros(len(run.left)), run.pose.center, run.pose.rotation)
    headings = np.where(run.ok[:, None], found.headings, np.nan)
    return run.left, headings[:, 0], headings[:, 1]


def beam_curves(axle: Axle) -> tuple[Array, Array, Array]:
    """Travel of both wheels, mm, toe and the left wheel's camber along it, degrees, the hand wheel held straight."""
    beams = beams_of(axle)
    assert beams is not None
    travel, heave, _ = travel_states(axle, beams)
    return travel, heave.toe_deg, heave.camber_deg[..., 0]


def beam_foot_words(axle: Axle) -> str:
    """What swing beams do over travel, in a few words."""
    _, toe, camber = beam_curves(axle)
    return f"over travel: toe by {np.nanmax(np.abs(toe)):.1f}°, camber by {np.nanmax(np.abs(camber)):.1f}°"


def lock_curve(study: AxleStudy) -> tuple[Array, Array, Array]:
    """Steer inputs from stop to stop, turns or mm, and which way both wheels point at the posture shown, degrees."""
    axle = study.axle
    assert axle.steering is not None
    mechanism = steered_axle(axle, axle.steering)
    steer = np.linspace(-1.0, 1.0, 81) * mechanism.half_mm_or_turns
    at = (np.repeat(a[:1], 81, axis=0) for a in (study.now.pose.center, study.now.pose.rotation))
    headings = mechanism.at(steer, *at).headings
    return steer, headings[:, 0], headings[:, 1]
