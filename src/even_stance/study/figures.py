"""The figures a linkage is judged by: at a posture, over its travel, and as it is laid out."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from even_stance.mechanics.pose import Pose
from even_stance.mechanics.vectors import Array
from even_stance.study.answers import Answers, posture_keys, study_postures
from even_stance.study.carried import Carried, carried
from even_stance.study.driveline import SHAFT_KEYS, has_shaft
from even_stance.study.model import layout_of, mount_points
from even_stance.study.powertrain import seated
from even_stance.study.sensitivity import Picked, Postures, Slopes, included, slopes, triangulation
from even_stance.study.steerfigures import (
    Lock,
    drag_values,
    ends_words,
    lock_of,
    lock_values,
    mechanism_of,
    worst_steer_swing,
)
from even_stance.study.steering import SteeredAxle
from even_stance.study.travel import Travel, study_travel, worst_swing
from even_stance.vehicle.car import Axle, Vehicle
from even_stance.vehicle.members import Rod

# Figures that are the most some answer comes to over travel.
WORST = {
    "pinion_change_deg": "pitch_deg",
    "pinion_joint_deg": "pinion_angle_deg",
    "output_joint_deg": "output_angle_deg",
    "shaft_worst_deg": "shaft_residual_deg",
    "joint_limit_use_pct": "joint_limit_use_pct",
    "caster_change_deg": "pitch_deg",
    "side_shift_mm": "shift_y_mm",
    "wheelbase_change_mm": "shift_x_mm",
    "bump_steer_deg": "steer_left_deg",
}
# Figures that are the most some answer comes to crossed up and with one wheel up or down.
CROSSED = {"cross_steer_deg": "steer_left_deg"}


# Of these only how much counts, not which way.
_BY_SIZE = ("pinion_joint_deg", "output_joint_deg", "shaft_worst_deg", "joint_limit_use_pct")
# Figures that are the least some answer comes to over travel and crossed up.
LEAST = {"spline_left_mm": "spline_engaged_mm", "spline_room_mm": "spline_room_mm"}


def main_anti_key(vehicle: Vehicle, axle: Axle) -> str:
    """The anti figure an axle is known by: dive at the front, squat at a driven rear, lift in braking at any other."""
    if axle.is_front:
        return "anti_dive_pct"
    if not axle.driven:
        return "anti_lift_brake_pct"
    return "anti_squat_axle_pct" if vehicle.anti_bands == "axle" else "anti_squat_pct"


def travel_keys(axle: Axle) -> tuple[str, ...]:
    """The judged figures that are the most over travel, for an axle: a pinion only where it is driven.

    Once both ends of its shaft are measured, the joint at the pinion is judged itself. On a steered axle the same turn
    is a change of caster.
    """
    if has_shaft(axle):
        pinion: tuple[str, ...] = ("pinion_joint_deg", "output_joint_deg", "shaft_worst_deg")
        pinion += ("joint_limit_use_pct", *LEAST) if axle.shaft is not None else ()
    else:
        pinion = ("pinion_change_deg",)
    return (
        *(pinion if axle.driven else ()), *(("caster_change_deg",) if axle.steered else ()),
        *(("bump_steer_deg", "cross_steer_deg") if axle.steering is not None else ()),
        "side_shift_mm", "wheelbase_change_mm",
    )  # fmt: skip


@dataclass(frozen=True)
class Figure:
    """One value with its sureness.

    Attributes:
        key: which answer; value and uncertainty (its +/-) in mm, degrees or percent as the key ends.
        note: what the value is about, such as the joint that swings most; empty when the key says it all.
        left_mm, right_mm: the posture it belongs to.
    """

    key: str
    value: float
    uncertainty: float
    note: str = ""
    left_mm: float = 0.0
    right_mm: float = 0.0


@dataclass(frozen=True, eq=False)
class AxleStudy:
    """All that is shown of one axle at one posture. Equal only to itself."""

    vehicle: Vehicle
    axle: Axle
    now: Answers
    travel: Travel
    stand_in: dict[str, float] | None = None

    @property
    def seated(self) -> Axle:
        """The axle with its output where the powertrain now holds it."""
        return seated(self.vehicle, self.axle)

    @cached_property
    def figures(self) -> tuple[Figure, ...]:
        """Every number of the axle with its +/-, worked out when it is first asked for."""
        return tuple(_figures(self.vehicle, self.axle, self.now, self.travel, self.stand_in))

    @property
    def known(self) -> dict[str, float] | None:
        """The +/- of every number, as far as it is known without working it out."""
        if "figures" in self.__dict__:
            return {f.key: f.uncertainty for f in self.figures}
        return self.stand_in

    def figure(self, key: str) -> Figure | None:
        """The figure of that key, if it applies."""
        return next((f for f in self.figures if f.key == key), None)


def study_axle(
    vehicle: Vehicle,
    axle: Axle,
    left: float,
    right: float,
    uncertainties: dict[str, float] | None = None,
    travel: Travel | None = None,
    other: tuple[float, float] = (0.0, 0.0),
) -> AxleStudy:
    """Everything about one axle with its wheels at one posture.

    Args:
        vehicle: the vehicle.
        axle: the axle.
        left, right: rise of the wheel centers, mm, bump +.
        uncertainties: the +/- of a moment ago, to stand in while a point is on its way (the +/- hardly moves with it).
        travel: of the same axle, where just its wheels have moved since.
        other: where the wheels of the axle that carries its output are, mm, where one does.

    Raises:
        LayoutError: the members do not hold the axle.
    """
    if travel is None:
        now, travel = study_travel(vehicle, axle, left, right, other)
    else:
        gone = carried(vehicle, axle, *(np.array([mm]) for mm in other))
        now = study_postures(vehicle, axle, np.array([left]), np.array([right]), gone=gone)
    return AxleStudy(vehicle, axle, now, travel, uncertainties)


def _figures(
    vehicle: Vehicle, axle: Axle, now: Answers, travel: Travel, uncertainties: dict[str, float] | None
) -> list[Figure]:
    """Every figure with its value, uncertainty and note."""
    at, found = _picked(vehicle, axle, now, travel)
    picked = [p for p, _, _ in found]
    if uncertainties is None:
        by_input = slopes(vehicle, axle, at, picked)
        uncertainties = {p.key: by_input.uncertainty(p.key) for p in picked}
    return [
        Figure(p.key, p.value, uncertainties.get(p.key, 0.0), note, float(at.left[i]), float(at.right[i]))
        for p, note, i in found
    ]


def figure_slopes(vehicle: Vehicle, study: AxleStudy) -> Slopes:
    """What moves every figure of an axle, all inputs."""
    at, found = _picked(vehicle, study.axle, study.now, study.travel)
    return slopes(vehicle, study.axle, at, [p for p, _, _ in found], every=True)


def _picked(
    vehicle: Vehicle, axle: Axle, now: Answers, travel: Travel
) -> tuple[Postures, list[tuple[Picked, str, int]]]:
    """The figures, how each is read, with its note and which of the postures it belongs to."""
    sweep = travel.sweep
    every = {k: _worst_posture(travel, k) for k in travel_keys(axle) if sweep.ok.any()}
    worst = {k: found for k, found in every.items() if found is not None}
    swing, posture, rod, end = worst_swing(travel.cross)
    steering = mechanism_of(axle)
    lock = None if steering is None else lock_of(axle, steering)
    far = None if steering is None or lock is None else worst_steer_swing(steering, lock, travel.cross.pose)
    poses = [(now, 0), *worst.values(), (travel.cross, 0 if far is None else far.posture), (travel.cross, posture)]
    left, right = (np.array([side[i] for side, i in sides]) for sides in zip(*(
        ((a.left, i), (a.right, i)) for a, i in poses), strict=True))  # fmt: skip
    at = Postures(left, right, Pose.stacked([a.pose.part(slice(i, i + 1)) for a, i in poses]), _gone(poses))
    found = [(Picked(k, now.value(k), k), "", 0) for k in posture_keys(vehicle) if k in now.values and now.ok[0]]
    for j, (key, (run, i)) in enumerate(worst.items(), start=1):
        source = (WORST | LEAST | CROSSED)[key]
        value = float(run.values[source][i])
        note = _where(axle, key, value, float(left[j]), float(right[j]))
        if run is travel.walk and run.gone is not None and axle.output is not None:
            note += f", the {axle.output.on} axle {'up' if run.gone[0][i, 2] > 0.0 else 'down'}"
        if key in LEAST:
            found.append((Picked(key, value, source, j), note, j))
        else:
            found.append((Picked(key, abs(value), source, j, 1.0 if value >= 0 else -1.0), note, j))
    if np.isfinite(swing):
        layout, last = travel.cross.layout, len(poses) - 1
        place = layout.mounts[(layout.rods[rod].first, layout.rods[rod].second)[end]]
        limit = max(place.mount.misalignment_limit_deg, 0.1)
        note = f"{place.member.name}, {place.member.WORDS[place.end]}: {swing:.0f}° of {limit:.0f}°"
        use = Picked("swing_use_pct", 100 * swing / limit, at=last, factor=100 / limit, swing=(rod, end))
        found.append((use, note, last))
    spread = _triangulation(axle)
    found += [] if spread is None else [spread]
    if steering is not None and lock is not None:
        notes = {"stop_margin_deg": ends_words(steering, lock)}
        found += [
            (Picked(k, v, k, lock=True), notes.get(k, ""), 0) for k, v in _locked(vehicle, axle, steering, lock)
        ]  # fmt: skip
        if far is not None:
            limit = steering.steering.swing_limit_deg
            use = Picked("steer_swing_use_pct", 100 * far.deg / limit, at=len(poses) - 2, factor=100 / limit, steer=far)
            found.append((use, f"{far.name}: {far.deg:.0f}° of {limit:.0f}°", len(poses) - 2))
    return at, found


def _locked(vehicle: Vehicle, axle: Axle, steering: SteeredAxle, lock: Lock) -> list[tuple[str, float]]:
    """The figures of a steering at ride height that there are."""
    values = lock_values(vehicle, axle, steering, lock)
    values |= drag_values(axle, steering, layout_of(axle), mount_points(axle))
    return [(key, float(value)) for key, value in values.items() if np.isfinite(value)]


def pinion_up(axle: Axle, pitch: Array | float) -> Array | float:
    """How far the pinion's nose turned up, from the pitch of the axle: at the front its flange looks rearward."""
    return pitch if axle.is_front else -pitch


def _worst_posture(travel: Travel, key: str) -> tuple[Answers, int] | None:
    """Return the run and posture where a figure over travel is worst; None where it is a number at none of them.

    A shaft's slip is looked for crossed up as well.
    """
    if key in CROSSED:
        run = travel.cross
        opposed = np.where(run.left * run.right <= 0.0, np.abs(run.values[CROSSED[key]]), np.nan)
        return (run, int(np.nanargmax(opposed))) if np.isfinite(opposed).any() else None
    if key in LEAST:
        runs, source, sign = travel.runs, LEAST[key], -1.0
    else:
        runs, source, sign = (travel.even_runs if WORST[key] in SHAFT_KEYS else (travel.sweep,)), WORST[key], 1.0
    found: list[tuple[float, Answers, int]] = []
    for run in runs:
        values = sign * run.values[source] if key in LEAST else np.abs(run.values[source])
        if run.ok.any() and np.isfinite(values).any():
            at = int(np.nanargmax(values))
            found.append((float(values[at]), run, at))
    if not found:
        return None
    _, run, at = max(found, key=lambda each: each[0])
    return run, at


def _gone(poses: list[tuple[Answers, int]]) -> Carried | None:
    """How far another axle has carried the output at some postures; None where none does."""
    each = [a.gone for a, _ in poses]
    if any(gone is None for gone in each):
        return None
    rows = [(gone[0][i], gone[1][i]) for gone, (_, i) in zip(each, poses, strict=True) if gone is not None]
    shift, turned = (np.array(side) for side in zip(*rows, strict=True))
    return shift, turned


def _where(axle: Axle, key: str, value: float, travel: float, right: float) -> str:
    """Which way and where over travel the most of a figure is, in words."""
    end = "bump" if travel > 0 else "droop"
    if key in LEAST and abs(travel - right) > 1.0:
        return "crossed up"
    if key in (*LEAST, *_BY_SIZE):
        return f"at full {end}" if min(abs(travel - axle.bump_mm), abs(travel + axle.droop_mm)) < 1.0 else f"in {end}"
    if abs(value) < 0.05:
        return ""
    ways = {
        "pinion_change_deg": f"nose {'up' if pinion_up(axle, value) > 0 else 'down'}",
        # Pitch is right-handed about the left: + brings the top of the kingpins ahead, which is less caster.
        "caster_change_deg": f"{'less' if value > 0 else 'more'} caster",
        "side_shift_mm": f"to the {'left' if value > 0 else 'right'}",
        "wheelbase_change_mm": "ahead" if value > 0 else "back",
        "bump_steer_deg": f"to the {'left' if value > 0 else 'right'}",
        "cross_steer_deg": f"to the {'left' if value > 0 else 'right'}",
    }
    if key in CROSSED:
        wheels = [f"{side} {'up' if mm > 0 else 'down'}" for side, mm in (("left", travel), ("right", right)) if mm]
        return f"{ways[key]}, {' and '.join(wheels)}"
    full = min(abs(travel - axle.bump_mm), abs(travel + axle.droop_mm)) < 1.0
    return f"{ways[key]} at full {end}" if full else f"{ways[key]} in {end}"


def triangulation_pairs(axle: Axle) -> tuple[tuple[int, int], ...] | None:
    """The pairs of rods that hold the axle sideways, indices into the layout's; None when another member does."""
    if not all(isinstance(m, Rod) and m.role != "lateral" for m in axle.members):
        return None
    pairs = tuple(pair for role in ("upper", "lower") if (pair := role_pair(axle, role)) is not None)
    return pairs or None


def _triangulation(axle: Axle) -> tuple[Picked, str, int] | None:
    """The included angle of one pair that would hold the axle sideways as well as its pairs do together."""
    pairs = triangulation_pairs(axle)
    if pairs is None:
        return None
    layout, points = layout_of(axle), mount_points(axle)
    value = float(triangulation(layout, points, pairs))
    angles = {layout.mounts[layout.rods[p[0]].first].member.role: float(included(layout, points, *p)) for p in pairs}
    note = ", ".join(f"{role}s {angle:.0f}° included" for role, angle in angles.items())
    return Picked("triangulation_deg", value, pairs=pairs), note, 0


def role_pair(axle: Axle, role: str) -> tuple[int, int] | None:
    """The two rods of a role (indices into the layout's rods); None when there are not just two."""
    layout = layout_of(axle)
    found = [i for i, r in enumerate(layout.rods) if r.swings and layout.mounts[r.first].member.role == role]
    return (found[0], found[1]) if len(found) == 2 else None


def link_length(member: Rod) -> float:
    """Joint center to joint center, mm."""
    return float(np.linalg.norm(np.subtract(member.chassis.at.xyz, member.axle.at.xyz)))


@dataclass(frozen=True)
class LayoutFigures:
    """How a linkage is laid out at ride height; None where it has no such pair. Degrees, 1, mm."""

    upper_included_deg: float | None
    lower_included_deg: float | None
    length_ratio: float | None
    separation_mm: float | None
    quarter_tire_mm: float


def layout_figures(axle: Axle) -> LayoutFigures:
    """Triangulation, upper-to-lower length ratio and vertical separation at the axle."""
    layout, points = layout_of(axle), mount_points(axle)

    def pair(role: str) -> float | None:
        found = role_pair(axle, role)
        return None if found is None else float(included(layout, points, *found))

    uppers = [m for m in axle.members if isinstance(m, Rod) and m.role == "upper"]
    lowers = [m for m in axle.members if isinstance(m, Rod) and m.role == "lower"]
    ratio = separation = None
    if uppers and lowers:
        ratio = float(np.mean([link_length(m) for m in uppers]) / np.mean([link_length(m) for m in lowers]))
        separation = float(np.mean([m.axle.at.z for m in uppers]) - np.mean([m.axle.at.z for m in lowers]))
    return LayoutFigures(pair("upper"), pair("lower"), ratio, separation, axle.tire.free_diameter_mm / 4)


@dataclass(frozen=True)
class LinkRow:
    """One rod as a table shows it: mm and degrees at the posture; ends as (member, end).

    Attributes:
        side_deg: to level in side view, + when its frame end is higher.
        plan_deg: to the centerline in plan view, + when its frame end is further out.
    """

    name: str
    length_mm: float
    side_deg: float
    plan_deg: float
    frame_end: tuple[str, str]
    axle_end: tuple[str, str]


def link_table(answers: Answers) -> list[LinkRow]:
    """Every rod of an axle at the first posture of some answers."""
    rows = []
    for i, rod in enumerate(answers.layout.rods):
        chassis, end = answers.chassis_ends[0, i], answers.rod_ends[0, i]
        dx, dy, dz = chassis - end
        first, second = (answers.layout.mounts[k] for k in (rod.first, rod.second))
        rows.append(
            LinkRow(
                rod.name, float(np.linalg.norm(chassis - end)), float(np.degrees(np.arctan2(dz, np.hypot(dx, dy)))),
                float(np.degrees(np.arctan2(abs(chassis[1]) - abs(end[1]), abs(dx)))) if abs(dx) > abs(dy) else 90.0,
                (first.member.name, first.end), (second.member.name, second.end),
            )
        )  # fmt: skip
    return rows
