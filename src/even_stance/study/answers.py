"""Everything the app can say about one axle at a set of postures."""

from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np

from even_stance.errors import CannotReachError, InputError
from even_stance.mechanics import motion
from even_stance.mechanics.ground import anti_over_height, cg_rise_per_ride, sprung_height
from even_stance.mechanics.joints import bolt_twist, joint_misalignment, needed_misalignment
from even_stance.mechanics.linkage import Linkage, rod_ends
from even_stance.mechanics.pose import Pose
from even_stance.mechanics.position import nudged, solve_posture
from even_stance.mechanics.vectors import Array, norm, turn
from even_stance.study.carried import Carried
from even_stance.study.driveline import has_shaft, machine_readable_driveline, shaft_values
from even_stance.study.model import Layout, axle_title, bolt_directions, layout_of, linkage_of, swing_rods
from even_stance.study.steerfigures import held_values, mechanism_of
from even_stance.units import System, format_length, length_unit
from even_stance.vehicle.car import Axle, Vehicle

FAR_MM = 1e6  # an instant center a kilometer away is none: the links are parallel for all that anyone can measure


@dataclass(frozen=True, eq=False)
class Answers:
    """The answers for one axle, each an array over the postures. Lengths mm, angles degrees, shares percent.

    Postures the linkage cannot reach are nan, and False in `ok`; `pose.reached` says how far along they lock up.
    Keys of `values` are those of the machine-readable answers. `chassis_ends` and `rod_ends` are the ends of the rods
    of the layout, mm, shape (N, n, 3); `misalignment_deg` how far each rod leaves the plane square to its bolts
    (chassis end, axle end), `needed_misalignment_deg` the same with the twist of the rod shared between its ends, shape
    (N, n, 2) each. `gone` is how far another axle has carried the output, where one does.
    """

    axle: Axle
    layout: Layout
    linkage: Linkage
    left: Array
    right: Array
    pose: Pose
    twists: motion.Twists
    values: dict[str, Array]
    chassis_ends: Array
    rod_ends: Array
    misalignment_deg: Array
    needed_misalignment_deg: Array
    gone: Carried | None = None

    @property
    def ok(self) -> np.ndarray[tuple[int, ...], np.dtype[np.bool_]]:
        """Which postures were reached."""
        return self.pose.ok

    def value(self, key: str, i: int = 0) -> float:
        """One answer at one posture."""
        return float(self.values[key][i])


def posture_keys(vehicle: Vehicle) -> tuple[str, ...]:
    """The judged figures that are read at one posture, in their order; anti figures as the job's bands mean them."""
    what = "axle_pct" if vehicle.anti_bands == "axle" else "pct"
    return (
        f"anti_squat_{what}", "anti_dive_pct", "roll_center_mm", "roll_steer_pct", "anti_lift_brake_pct",
        f"anti_lift_drive_{what}", "shaft_residual_deg", "output_angle_deg", "pinion_angle_deg", "critical_use_pct",
    )  # fmt: skip


def cg_height(vehicle: Vehicle) -> float:
    """The CG height that anti-squat is reckoned with, mm: of the whole vehicle, or of its sprung mass.

    Raises:
        InputError: the sprung CG is asked for and the weights do not give one.
    """
    if vehicle.anti_uses == "whole":
        return vehicle.cg_height_mm
    unsprung, hubs = (np.array(v) for v in zip(*((a.unsprung_kg, a.center[2]) for a in vehicle.axles), strict=True))
    height = sprung_height(vehicle.mass_kg, vehicle.cg_height_mm, unsprung, hubs)
    if not np.isfinite(height):
        raise InputError("Sprung CG", "the axles weigh as much as the whole vehicle.", "Enter the axle weights.")
    if height <= 0:
        raise InputError("Sprung CG", "comes out below the ground.", "Check the CG height and the unsprung weights.")
    return height


def anti_answers(vehicle: Vehicle, axle: Axle, slope: Array) -> dict[str, Array]:
    """Anti-squat, anti-lift and anti-dive of an axle from its contact slope: those that apply to it, percent.

    Under drive both at this axle's share of the force, which is what its springs feel, and of the axle alone, as if it
    drove by itself, which is what people quote.
    """
    length, height = vehicle.wheelbase_mm, cg_height(vehicle)
    alone = (-1.0 if axle.is_front else 1.0) * motion.anti_percent(slope, 1.0, length, height)
    answers = {"anti_dive_pct" if axle.is_front else "anti_lift_brake_pct": axle.brake_share * alone}
    if axle.driven:
        name = "anti_lift_drive" if axle.is_front else "anti_squat"
        answers |= {f"{name}_axle_pct": alone, f"{name}_pct": axle.drive_share * alone}
    return answers


def cg_rise(vehicle: Vehicle) -> float:
    """How far the CG that anti-squat is reckoned with rises above the ground per rise of the frame, mm per mm."""
    if vehicle.anti_uses == "sprung":
        return 1.0
    return cg_rise_per_ride(vehicle.mass_kg, sum(a.unsprung_kg for a in vehicle.axles))


def over_ground(vehicle: Vehicle, values: dict[str, Array], higher: Array) -> dict[str, Array]:
    """Answers over the ground as a car stands whose frame is higher by some mm, from those over the ground at ride."""
    h, rise = cg_height(vehicle), cg_rise(vehicle) * higher
    return {
        key: anti_over_height(v, h, rise) if key.startswith("anti_") else v + higher if "roll_center" in key else v
        for key, v in values.items()
    }


def _link_values(vehicle: Vehicle, axle: Axle, linkage: Linkage, pose: Pose, moving: motion.Twists) -> dict[str, Array]:
    """What the links alone say at solved poses: centers, slopes, angles and shifts, by key."""
    ic_x, ic_z = motion.instant_center(pose.center, moving.heave)
    slope = motion.contact_slope(moving.heave, axle.tire.loaded_radius_mm)
    roll, pitch, yaw = motion.axle_angles(pose.rotation)
    shift = pose.center - linkage.center
    return {
        "ic_x_mm": ic_x,
        "ic_z_mm": ic_z,
        "contact_slope": slope,
        **anti_answers(vehicle, axle, slope),
        "roll_center_mm": motion.roll_center_height(pose.center, moving.roll),
        "roll_center_one_wheel_mm": motion.roll_center_height(pose.center, moving.left),
        "roll_axis_slope_deg": np.degrees(np.arctan(motion.roll_axis_slope(moving.roll))),
        "roll_steer_pct": 100.0 * motion.roll_steer(pose.rotation, moving.roll),
        "shift_x_mm": shift[..., 0],
        "shift_y_mm": shift[..., 1],
        "shift_z_mm": shift[..., 2],
        "roll_deg": np.degrees(roll),
        "pitch_deg": np.degrees(pitch),
        "yaw_deg": np.degrees(yaw),
    }


def forget_solved() -> None:
    """Keep nothing of what was solved so far: for timing what solving takes."""
    _linked.cache_clear()


def study_postures(
    vehicle: Vehicle,
    axle: Axle,
    left: Array,
    right: Array,
    linkage: Linkage | None = None,
    near: Pose | None = None,
    gone: Carried | None = None,
) -> Answers:
    """All answers of an axle at given postures, in one batch.

    Args:
        vehicle: the vehicle.
        axle: the axle to study.
        left, right: rise of the wheel centers relative to the chassis, mm, bump +, shape (N,)
        linkage: another linkage in place of the axle's own (variants, their batch axes broadcast against N).
        near: solved poses of the axle as it is, where the linkage differs little from it: one step is taken.
        gone: how far another axle has carried its output, as study/carried.py says it; not at all if not given.

    Raises:
        LayoutError: the members do not hold the axle.
    """
    left, right = np.atleast_1d(np.asarray(left, dtype=np.float64)), np.atleast_1d(np.asarray(right, dtype=np.float64))
    if linkage is None and near is None:
        linked = _linked(_links_of(axle), left.tobytes(), right.tobytes())
    else:
        linkage = linkage_of(axle) if linkage is None else linkage
        pose = solve_posture(linkage, left, right) if near is None else nudged(linkage, left, right, near)
        linked = _move(layout_of(axle), linkage, pose)
    linkage, pose, moving = linked.linkage, linked.pose, linked.twists
    values = _link_values(vehicle, axle, linkage, pose, moving)
    if has_shaft(axle):
        values |= shaft_values(vehicle, axle, linkage, pose, gone=gone)
    steering = mechanism_of(axle)
    if steering is not None:
        values |= held_values(steering, pose)
    if vehicle.over == "stands":
        values = over_ground(vehicle, values, -0.5 * (left + right))
    if not pose.ok.all():
        values = {k: np.where(pose.ok, v, np.nan) for k, v in values.items()}
    ends = (linked.chassis_ends, linked.rod_ends)
    return Answers(
        axle, layout_of(axle), linkage, left, right, pose, moving, values, *ends, linked.swing, linked.needed, gone
    )


@dataclass(frozen=True, eq=False)
class _Linked:
    """What the links alone make of an axle at some postures, named as in the answers."""

    linkage: Linkage
    pose: Pose
    twists: motion.Twists
    chassis_ends: Array
    rod_ends: Array
    swing: Array
    needed: Array


def _links_of(axle: Axle) -> Axle:
    """An axle with all that its links do not feel taken off."""
    return axle.model_copy(update={"steering": None, "output": None, "pinion": None, "shaft": None})


@lru_cache(maxsize=8)
def _linked(links: Axle, left: bytes, right: bytes) -> _Linked:
    """The links solved; the same ones while steering, shaft or powertrain are moved about."""
    linkage = linkage_of(links)
    pose = solve_posture(linkage, np.frombuffer(left), np.frombuffer(right))
    return _move(layout_of(links), linkage, pose)


def _move(layout: Layout, linkage: Linkage, pose: Pose) -> _Linked:
    """How the links and their joints stand at solved poses."""
    chassis_ends, ends = rod_ends(linkage, pose)
    swing, needed = _swings(layout, linkage, pose, ends - chassis_ends)
    if not pose.ok.all():
        needed = np.where(pose.ok[..., None, None], needed, np.nan)
    return _Linked(linkage, pose, motion.twists(linkage, pose), chassis_ends, ends, swing, needed)


def _swings(layout: Layout, linkage: Linkage, pose: Pose, span: Array) -> tuple[Array, Array]:
    """Joint swing at the chassis and axle end of every rod, alone and with its share of the twist, degrees."""
    bolts = bolt_directions(layout, linkage.chassis, linkage.axle)
    direction = span / norm(span)[..., None]
    at_chassis, at_axle = bolts[..., 0, :], turn(pose.rotation, bolts[..., 1, :])
    swing = np.stack((joint_misalignment(direction, at_chassis), joint_misalignment(direction, at_axle)), axis=-1)
    twist = bolt_twist(direction, at_chassis, at_axle)
    counts = np.array([r.swings for r in layout.rods])[:, None]
    return np.degrees(swing) * counts, np.degrees(needed_misalignment(swing, twist[..., None])) * counts


def lock_up_sentence(axle: Axle, left: float, right: float, reached: float, system: System = "metric") -> str:
    """Where the linkage locks, in the words and units of the person who asked for the posture."""
    unit = length_unit(system)

    def length(mm: float) -> str:
        sign = "+" if mm > 0 else ""
        return f"{sign}{format_length(mm, system).removeprefix('~')}"

    if abs(left - right) < 1e-9:
        way = "bump" if left > 0 else "droop"
        return (
            f"{axle_title(axle)} cannot reach this posture: {way} stops at {length(left * reached)} {unit}, "
            f"{length(left)} {unit} was asked."
        )
    return (
        f"{axle_title(axle)} cannot reach this posture: it locks at left {length(left * reached)} {unit}, right "
        f"{length(right * reached)} {unit}; {length(left)} and {length(right)} {unit} were asked."
    )


def answers_at(vehicle: Vehicle, axle: Axle, left: float, right: float, system: System = "metric") -> Answers:
    """The answers at one posture.

    Raises:
        LayoutError: the members do not hold the axle.
        CannotReachError: the linkage locks up on the way.
    """
    answers = study_postures(vehicle, axle, np.array([left]), np.array([right]))
    if not answers.ok[0]:
        reached = float(answers.pose.reached[0])
        sentence = lock_up_sentence(axle, left, right, reached, system)
        raise CannotReachError(sentence, reached, float(answers.pose.residual_mm[0]))
    return answers


def machine_readable(answers: Answers, i: int = 0) -> dict[str, Any]:
    """One posture's answers under the fixed keys of the command line."""

    def number(key: str) -> float:
        return float(answers.values[key][i])

    ic_x, ic_z = number("ic_x_mm"), number("ic_z_mm")
    has_center = bool(np.isfinite(ic_x) and abs(ic_x) < FAR_MM)
    anti = (
        "anti_squat_pct", "anti_squat_axle_pct", "anti_lift_brake_pct", "anti_dive_pct", "anti_lift_drive_pct",
        "anti_lift_drive_axle_pct",
    )  # fmt: skip
    shafts = machine_readable_driveline(answers.axle, answers.values, i)
    driveline = {"driveline": shafts} if shafts else {}
    lengths = [
        {"name": rod.name, "length_mm": float(np.linalg.norm(end - chassis))}
        for rod, chassis, end in zip(answers.layout.rods, answers.chassis_ends[i], answers.rod_ends[i], strict=True)
    ]
    return {
        "posture": {"left_mm": float(answers.left[i]), "right_mm": float(answers.right[i])},
        "instant_center": {"x_mm": ic_x, "z_mm": ic_z} if has_center else None,
        "contact_slope": number("contact_slope"),
        **{key: number(key) for key in anti if key in answers.values},
        **driveline,
        "roll_center_mm": number("roll_center_mm"),
        "roll_center_one_wheel_mm": number("roll_center_one_wheel_mm"),
        "roll_axis_slope_deg": number("roll_axis_slope_deg"),
        "roll_steer_pct": number("roll_steer_pct"),
        "axle_shift_mm": {axis: number(f"shift_{axis}_mm") for axis in "xyz"},
        "roll_deg": number("roll_deg"),
        "pitch_deg": number("pitch_deg"),
        "yaw_deg": number("yaw_deg"),
        "links": lengths,
        "joint_swing_deg": [
            {
                "name": rod.name,
                "chassis": float(answers.misalignment_deg[i, k, 0]),
                "axle": float(answers.misalignment_deg[i, k, 1]),
                "chassis_with_twist": float(answers.needed_misalignment_deg[i, k, 0]),
                "axle_with_twist": float(answers.needed_misalignment_deg[i, k, 1]),
            }
            for k, rod in swing_rods(answers.layout)
        ],
        "misfit_mm": [
            {"name": name, "mm": float(give)}
            for name, give, counts in zip(
                answers.layout.row_names, answers.pose.misfit_mm[i], answers.layout.gives, strict=True
            )
            if counts and answers.linkage.stiffness is not None
        ],
    }
