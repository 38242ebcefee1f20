"""The driveshaft of an axle at any postures: joint angles and planes, evenness, length, slip and critical speed."""

from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from even_stance.mechanics.linkage import Linkage, placed
from even_stance.mechanics.pose import Pose
from even_stance.mechanics.ujoint import (
    chain_speed,
    critical_rpm,
    joint_angle,
    joint_plane,
    residual_angle,
    second_cross,
    speed_extremes,
)
from even_stance.mechanics.vectors import Array, norm, turn
from even_stance.study.powertrain import axis_of, seated
from even_stance.vehicle.car import Axle, Vehicle
from even_stance.vehicle.driveline import Shaft, Yoke
from even_stance.vehicle.job import Job
from even_stance.vehicle.spots import own_point

LEAST_SHAFT_MM = 50.0  # yokes nearer than this were measured to the same place
SHAFT_KEYS = (
    "shaft_length_mm", "shaft_plunge_mm", "output_angle_deg", "pinion_angle_deg", "output_plane_deg",
    "pinion_plane_deg", "carrier_angle_deg", "carrier_plane_deg",
    "shaft_residual_deg", "shaft_variation_pct", "spline_engaged_mm", "spline_room_mm", "critical_rpm",
    "critical_use_pct", "joint_limit_use_pct",
)  # fmt: skip


@dataclass(frozen=True)
class ShaftEnds:
    """Both ends of a shaft at ride height; arrays may carry leading batch axes (variants).

    Attributes:
        output, pinion: joint centers, mm, shape (..., 3)
        output_axis, pinion_axis: along the shaft ends toward the front, 1, shape (..., 3)
    """

    output: Array
    output_axis: Array
    pinion: Array
    pinion_axis: Array


def has_shaft(axle: Axle) -> bool:
    """Whether both ends of its driveshaft are measured, and are two places."""
    if axle.output is None or axle.pinion is None:
        return False
    return float(np.linalg.norm(np.subtract(axle.output.at.xyz, axle.pinion.at.xyz))) >= LEAST_SHAFT_MM


def gearing(job: Job, axle: Axle) -> tuple[float, float]:
    """The axle's ratio and its tire's loaded radius, 1 and mm: what ties road speed to turns of the driveshaft."""
    return job.loads.axle_ratio, axle.tire.loaded_radius_mm


def front_piece_mm(vehicle: Vehicle, axle: Axle) -> float | None:
    """Joint to joint of the front piece of a shaft in two pieces, mm; None where it is one piece."""
    carrier = own_point(axle, "carrier")
    if carrier is None:
        return None
    behind = 0.0 if axle.shaft is None else axle.shaft.joint_behind_mm
    return float(norm(ends_of(vehicle, axle).output - np.array(carrier.xyz))) + behind


def carrier_joint(shaft: Shaft, output: Array) -> Array:
    """Where the joint behind a carrier bearing is, on the line of the front piece, mm, shape (..., 3)."""
    assert shaft.carrier is not None
    bearing = np.array(shaft.carrier.xyz)
    ahead = output - bearing
    joint: Array = bearing - shaft.joint_behind_mm * ahead / norm(ahead)[..., None]
    return joint


def ends_of(vehicle: Vehicle, axle: Axle) -> ShaftEnds:
    """The ends of an axle's shaft, the output where the powertrain now holds it."""
    output, pinion = seated(vehicle, axle).output, axle.pinion
    assert output is not None
    assert pinion is not None
    return ShaftEnds(np.array(output.at.xyz), axis_of(output), np.array(pinion.at.xyz), axis_of(pinion))


def shaft_values(
    vehicle: Vehicle,
    axle: Axle,
    linkage: Linkage,
    pose: Pose,
    ends: ShaftEnds | None = None,
    gone: tuple[Array, Array] | None = None,
) -> dict[str, Array]:
    """Everything about the shaft of an axle at poses of it, by the keys of the answers.

    Args:
        vehicle: the vehicle; axle: the axle, both ends of its shaft measured.
        linkage, pose: the linkage and its poses, shape (N, ...).
        ends: other ends than its own, with batch axes that broadcast against N.
        gone: how far another axle has carried the output, mm, and turned its axis, 1, shape (N, 3) each.
    """
    ends = ends_of(vehicle, axle) if ends is None else ends
    here = _carried_along(ends, gone)
    shaft = axle.shaft or Shaft()
    pinion = placed(linkage, pose, ends.pinion[..., None, :])[..., 0, :]
    axis = turn(pose.rotation, ends.pinion_axis[..., None, :])[..., 0, :]
    sense = -1.0 if axle.is_front else 1.0  # a shaft to the front runs ahead from the gearbox
    start, goal = crosses(shaft, here, pinion, axis, sense)
    now, ride = sense * (start - goal), _ride_length(shaft, ends, sense)
    length = norm(now)
    line = now / length[..., None]
    out_axis, first, longest = np.broadcast_to(here.output_axis, line.shape), line, length
    if shaft.carrier is not None:
        first = sense * (ends.output - np.array(shaft.carrier.xyz))
        longest = np.maximum(length, norm(first))
        first = np.broadcast_to(first / norm(first)[..., None], line.shape)
    t1, t2 = joint_angle(out_axis, first), joint_angle(line, axis)
    middle = joint_angle(first, line)
    if shaft.carrier is not None:
        high, low = _extremes_of_three(shaft, out_axis, first, line, axis)
    else:
        high, low = _extremes(shaft, out_axis, line, axis, t1, t2)
    plunge = length - ride
    values = {
        "shaft_length_mm": length,
        "shaft_plunge_mm": plunge,
        "output_angle_deg": np.degrees(t1),
        "pinion_angle_deg": np.degrees(t2),
        "output_plane_deg": np.degrees(joint_plane(first, out_axis)),
        "pinion_plane_deg": np.degrees(joint_plane(line, axis)),
        "shaft_residual_deg": np.degrees(residual_angle(high, low)),
        "shaft_variation_pct": 100.0 * (high - low),
        "critical_rpm": critical_rpm(shaft.tube_mm, shaft.wall_mm, longest),
    }
    if shaft.carrier is not None:
        values["carrier_angle_deg"] = np.degrees(middle)
        values["carrier_plane_deg"] = np.degrees(joint_plane(line, first))
    if axle.shaft is not None:
        values |= _limits(shaft, plunge, (t1, middle, t2))
        if shaft.top_rpm > 0.0:
            values["critical_use_pct"] = 100.0 * shaft.top_rpm / values["critical_rpm"]
    return values


def _limits(shaft: Shaft, plunge: Array, bends: tuple[Array, Array, Array]) -> dict[str, Array]:
    """What is left of the spline either way, and how much of its limit the joint that bends most uses."""
    # Each half of a double-cardan joint bends by itself.
    halves = [0.5 if kind == "double_cardan" else 1.0 for kind in (shaft.output_joint, shaft.pinion_joint)]
    most = np.maximum(np.maximum(halves[0] * bends[0], halves[1] * bends[2]), bends[1])
    return {
        "spline_engaged_mm": shaft.spline_mm - shaft.pull_out_mm - plunge,
        "spline_room_mm": shaft.pull_out_mm + plunge,
        "joint_limit_use_pct": 100.0 * np.degrees(most) / shaft.limit_deg,
    }


def _carried_along(ends: ShaftEnds, gone: tuple[Array, Array] | None) -> ShaftEnds:
    """The ends with the output where another axle has carried it; the same ones where none does."""
    if gone is None:
        return ends
    axis = ends.output_axis + gone[1]
    return replace(ends, output=ends.output + gone[0], output_axis=axis / norm(axis)[..., None])


def crosses(shaft: Shaft, ends: ShaftEnds, pinion: Array, axis: Array, sense: float) -> tuple[Array, Array]:
    """Where the shaft itself begins and ends: at the second cross of a double-cardan joint, mm, shape (..., 3) each."""
    base = ends.output if shaft.carrier is None else carrier_joint(shaft, ends.output)
    output = np.broadcast_to(base, np.broadcast_shapes(base.shape, pinion.shape))
    if shaft.output_joint == "double_cardan":
        return second_cross(output, -sense * ends.output_axis, pinion, shaft.double_mm), pinion
    if shaft.pinion_joint == "double_cardan":
        return output, second_cross(pinion, sense * axis, output, shaft.double_mm)
    return output, pinion


def _ride_length(shaft: Shaft, ends: ShaftEnds, sense: float) -> Array:
    start, goal = crosses(shaft, ends, ends.pinion, ends.pinion_axis, sense)
    return norm(start - goal)


def _extremes(
    shaft: Shaft, driving: Array, line: Array, driven: Array, t1: Array, t2: Array
) -> tuple[Array, Array]:  # fmt: skip
    """Highest and lowest pinion speed: a double-cardan or CV joint turns evenly, what is left comes from the other."""
    even = ("double_cardan", "cv")
    if shaft.output_joint not in even and shaft.pinion_joint not in even:
        return speed_extremes(driving, line, driven, np.radians(shaft.phase_deg))
    left = np.zeros_like(t1)
    if shaft.output_joint not in even:
        left = t1
    elif shaft.pinion_joint not in even:
        left = t2
    return 1.0 / np.cos(left), np.cos(left)


_TURNS = np.linspace(0.0, np.pi, 180, endpoint=False)  # speeds repeat every half turn


def _extremes_of_three(
    shaft: Shaft, driving: Array, first: Array, second: Array, driven: Array
) -> tuple[Array, Array]:  # fmt: skip
    """Highest and lowest pinion speed of a shaft in two pieces, turned through in whole degrees.

    Each piece has a phase of its own: that of the front one at the carrier, that of the one that slips at the pinion.
    """
    axes = np.stack(np.broadcast_arrays(driving, first, second, driven), axis=-2)
    phases = np.broadcast_to(np.radians([shaft.front_phase_deg, shaft.phase_deg]), (*axes.shape[:-2], 2))
    speed = chain_speed(axes, phases, _TURNS)
    return speed.max(axis=-1), speed.min(axis=-1)


@dataclass(frozen=True)
class YokeInput:
    """Something measured about a shaft end: which, what it is called, its +/- (mm or degrees), and the end changed."""

    end: str
    what: str
    sure: float
    up: ShaftEnds
    down: ShaftEnds
    step: float


def yoke_inputs(vehicle: Vehicle, axle: Axle, step_mm: float, step_deg: float = 0.01) -> list[YokeInput]:
    """Every coordinate and angle of both shaft ends, each a little changed either way."""
    base, found = ends_of(vehicle, axle), []
    for end in ("output", "pinion"):
        yoke: Yoke = getattr(seated(vehicle, axle), end)
        point, axis = getattr(base, end), f"{end}_axis"
        for k, word in enumerate(("ahead", "left", "up")):
            by = np.zeros(3)
            by[k] = step_mm
            both = (replace(base, **{end: point + by}), replace(base, **{end: point - by}))
            found.append(YokeInput(end, word, yoke.at.sure, *both, step_mm))
        for field, word in (("nose_up_deg", "nose up"), ("left_deg", "turned left")):
            turned = [
                replace(base, **{axis: axis_of(yoke.model_copy(update={field: getattr(yoke, field) + way * step_deg}))})
                for way in (1.0, -1.0)
            ]
            found.append(YokeInput(end, word, yoke.angle_sure_deg, turned[0], turned[1], step_deg))
    return found


def stacked(inputs: list[YokeInput]) -> ShaftEnds:
    """The changed ends of all inputs as one batch, shape (inputs, 2, 1, 3)."""
    names = ("output", "output_axis", "pinion", "pinion_axis")
    return ShaftEnds(
        *(np.array([[[getattr(i.up, n)], [getattr(i.down, n)]] for i in inputs]) for n in names)
    )  # fmt: skip


def machine_readable_driveline(axle: Axle, values: dict[str, Array], i: int = 0) -> list[dict[str, Any]]:
    """The shaft of an axle under the fixed keys of the command line; empty where it is not measured."""
    if "shaft_length_mm" not in values:
        return []

    def number(key: str) -> float:
        return float(values[key][i])

    joints = [
        {"name": f"{end} joint", "angle_deg": number(f"{end}_angle_deg"), "plane_deg": number(f"{end}_plane_deg")}
        for end in ("output", "pinion")
    ]
    if "carrier_angle_deg" in values:
        carrier = {"name": "carrier joint", "angle_deg": number("carrier_angle_deg")}
        joints.insert(1, {**carrier, "plane_deg": number("carrier_plane_deg")})
    said: dict[str, Any] = {
        "name": f"{axle.key} driveshaft",
        "joints": joints,
        "residual_deg": number("shaft_residual_deg"),
        "speed_variation_pct": number("shaft_variation_pct"),
        "length_mm": number("shaft_length_mm"),
        "plunge_mm": number("shaft_plunge_mm"),
        "critical_rpm": number("critical_rpm"),
    }
    if "spline_engaged_mm" in values:
        said["engaged_mm"] = number("spline_engaged_mm")
    return [said]
