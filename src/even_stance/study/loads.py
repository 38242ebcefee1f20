"""What every member carries in the load cases of the trade, screening figures from the assumptions typed in."""

from dataclasses import dataclass
from typing import Literal

import numpy as np

from even_stance.errors import InputError
from even_stance.mechanics import grip
from even_stance.mechanics.motion import tube_axes
from even_stance.mechanics.statics import member_loads, wind_up, wrench_of
from even_stance.mechanics.vectors import Array, norm
from even_stance.study.answers import Answers
from even_stance.study.model import axle_title
from even_stance.study.powertrain import axis_of
from even_stance.study.springloads import lean_transfer, spring_rows
from even_stance.units import System, force_unit, format_force
from even_stance.vehicle.car import Axle, Vehicle
from even_stance.vehicle.loading import LoadAssumptions

G = 9.80665  # standard gravity, m/s^2 (ISO 80000-3)
CaseKey = Literal["standing", "launch", "braking", "cornering", "bump", "ledge"]
CASES: dict[CaseKey, str] = {
    "standing": "Standing",
    "launch": "Launch",
    "braking": "Braking",
    "cornering": "Cornering left",
    "bump": "Left bump",
    "ledge": "Left ledge",
}


@dataclass(frozen=True)
class AxleLoads:
    """Outside forces on one axle: at the contact patches and hubs, mm and N, and the driveshaft's torque, N mm.

    Attributes:
        points, forces: where they act (fixed to the tube, at ride height, chassis axes) and how much, shape (m, 3)
        torque: free torque, shape (3,)
        assumption: the case in plain words.
    """

    points: Array
    forces: Array
    torque: Array
    assumption: str


@dataclass(frozen=True)
class LoadStudy:
    """The loads of one case at one posture.

    Attributes:
        case: which; words: its assumptions.
        rows: load of every row of the layout, N, rods + in tension.
        joints: radial load at every mount, N, in the layout's order of mounts.
        springs: left and right spring reaction at the wheels, N.
        at_mounts: whether the springs' loads are those at their own mounts, along themselves, and not at the wheels.
        wheel_change: how much more (+) the left tire carries, and the right one less, from drive forces and driveshaft
            torque, with both springs holding equal loads, N.
    """

    case: CaseKey
    words: str
    rows: Array
    joints: Array
    springs: tuple[float, float]
    wheel_change: float
    at_mounts: bool = False


def study_loads(vehicle: Vehicle, answers: Answers, assume: LoadAssumptions, case: CaseKey) -> LoadStudy:
    """The loads of a case at the first posture of some answers.

    Raises:
        InputError: the axle's weight is not entered.
    """
    axle, linkage, pose = answers.axle, answers.linkage, answers.pose.part(slice(0, 1))
    outside = axle_loads(vehicle, axle, assume, case)
    closing = spring_rows(answers, pose)
    loads = _loads(answers, outside, closing)
    drive = axle_loads(vehicle, axle, assume, case, weight=False)
    springs = _loads(answers, drive)[-2:]
    rows, (left, right) = loads[linkage.blocks.members], loads[linkage.blocks.wheels]
    if closing is not None:  # its springs' pull: what they push is the other way round
        left, right = -left, -right
    return LoadStudy(
        case,
        outside.assumption,
        rows,
        _joint_loads(answers, rows),
        (float(left), float(right)),
        float(-(springs[0] - springs[1]) / 2) if pose.ok[0] and case in ("launch", "braking") else 0.0,
        closing is not None,
    )


def rows_by_case(vehicle: Vehicle, answers: Answers, assume: LoadAssumptions) -> dict[CaseKey, Array]:
    """Loads of all rods and guides at every posture of some answers, by case: N, rods + in tension, shape (N, rows).

    Raises:
        InputError: the axle's weight is not entered.
    """
    postures = range(len(answers.left))
    closing = [spring_rows(answers, answers.pose.part(slice(i, i + 1))) for i in postures]
    found: dict[CaseKey, Array] = {}
    for case in CASES:
        outside = axle_loads(vehicle, answers.axle, assume, case)
        loads = np.stack([_loads(answers, outside, closing[i], i) for i in postures])
        found[case] = loads[:, answers.linkage.blocks.members]
    return found


def _loads(answers: Answers, outside: AxleLoads, closing: Array | None = None, i: int = 0) -> Array:
    """Loads of all rows that balance the outside forces at one posture; of springs where they are, if given."""
    pose, linkage = answers.pose.part(slice(i, i + 1)), answers.linkage
    # Hubs and patches go with the tube; the patch stays below the hub when the pinion turns, as the wheel rolls on.
    tube = tube_axes(pose.rotation)[0]
    points = pose.center[0] + (outside.points - linkage.center) @ tube.T
    torque = pose.rotation[0] @ outside.torque
    wrench = wrench_of(pose.center, points[None], outside.forces[None], torque[None])
    loads: Array = member_loads(linkage, pose, wrench, closing)[0]
    return loads


def wind_up_deg(vehicle: Vehicle, answers: Answers, assume: LoadAssumptions) -> float:
    """How far the pinion's nose turns up as joints and springs give under full launch, degrees, at the first posture.

    Raises:
        InputError: the axle's weight is not entered.
    """
    pose, linkage = answers.pose.part(slice(0, 1)), answers.linkage
    drive = axle_loads(vehicle, answers.axle, assume, "launch", weight=False)
    points = pose.center[0] + (drive.points - linkage.center) @ tube_axes(pose.rotation)[0].T
    wrench = wrench_of(pose.center, points[None], drive.forces[None], drive.torque[None])
    moved = wind_up(linkage, pose, answers.layout.stiffness, wrench)[0]
    return float(np.degrees(moved[4])) * (1.0 if answers.axle.is_front else -1.0)


def axle_loads(vehicle: Vehicle, axle: Axle, assume: LoadAssumptions, case: CaseKey, weight: bool = True) -> AxleLoads:
    """The outside forces on an axle in a case; without weight only those of drive and brake.

    Source: Gillespie, Fundamentals of Vehicle Dynamics, ch. 1 and 2 (axle loads under acceleration and braking).

    Raises:
        InputError: the axle's weight is not entered.
    """
    if axle.load_kg <= 0 or vehicle.mass_kg <= 0:
        raise InputError(
            f"{axle.key.capitalize()} axle weight",
            "is not entered.",
            "Type it in Stance: loads need it.",
        )
    standing, bar = axle.load_kg * G, 0.0
    fore_aft, transfer, words = _fore_aft(vehicle, axle, assume, case)
    vertical = np.full(2, (standing + transfer) / 2)
    side = np.zeros(2)
    along = np.full(2, fore_aft / 2)
    hub = np.zeros((0, 3))
    if case == "cornering":
        lean = lean_transfer(vehicle, axle, assume.corner_g)
        shift = (
            grip.moved_by_lean(assume.corner_g * standing, vehicle.cg_height_mm, axle.track_mm) if lean is None
            else lean[0]
        )  # fmt: skip
        by = "CG height over track" if lean is None else "roll stiffness"
        bar = 0.0 if lean is None else lean[1]
        vertical += np.array([-shift, shift])
        side = assume.corner_g * vertical
        words = f"{assume.corner_g:g} g to the left, weight moved by {by}, both tires at one friction."
    if case == "bump":
        vertical[0] *= 1.0 + assume.bump_g
        words = f"Left wheel loaded {1 + assume.bump_g:g} times its standing load, right as standing."
    if case == "ledge":
        hub = np.array([[-assume.ledge_g * vehicle.mass_kg * G, 0.0, 0.0]])
        words = f"A ledge pushes the left hub back with {assume.ledge_g:g} of the vehicle's weight."
    if not weight:
        vertical, side = np.zeros(2), np.zeros(2)
    x, _, z = axle.center
    half = axle.track_mm / 2
    patches = np.array([[x, half, 0.0], [x, -half, 0.0]])
    patches[:, 2] = z - axle.tire.loaded_radius_mm
    points = [patches, np.array([[x, 0.0, z]])]
    forces = [np.stack((along, side, vertical), axis=1), np.array([[0.0, 0.0, -axle.unsprung_kg * G * weight]])]
    if len(hub):
        points.append(np.array([[x, half, z]]))
        forces.append(hub)
    # Turning left the body leans to the right: a bar holds that by pushing the axle down there, up on the left.
    torque = np.array([bar, 0.0, 0.0])
    if case == "launch" and fore_aft > 0:
        torque = torque - fore_aft * axle.tire.loaded_radius_mm / assume.axle_ratio * pinion_axis(axle)
    return AxleLoads(np.concatenate(points), np.concatenate(forces), torque, words)


def pinion_axis(axle: Axle) -> Array:
    """Direction of the pinion's axis toward the front, as measured at ride height, else level, shape (3,).

    The driveshaft turns the usual way (clockwise seen from the front), at a front axle as well: its torque on the axle
    is minus T along this axis.
    """
    return axis_of(axle.pinion) if axle.pinion is not None else np.array([1.0, 0.0, 0.0])


def _fore_aft(vehicle: Vehicle, axle: Axle, assume: LoadAssumptions, case: CaseKey) -> tuple[float, float, str]:
    """Fore-aft force at this axle, the weight moved onto it, N, and the case in words."""
    weight, lever = vehicle.mass_kg * G, vehicle.cg_height_mm / vehicle.wheelbase_mm
    rearward = -1.0 if axle.is_front else 1.0 / (len(vehicle.axles) - 1)
    if case == "launch":
        wheel_torque = assume.engine_torque_nm * 1000 * assume.first_gear * assume.transfer_low * assume.axle_ratio
        total = wheel_torque / axle.tire.loaded_radius_mm
        by_torque = total * axle.drive_share
        by_tire = launch_grip(vehicle, axle, assume.friction)
        force = min(by_torque, by_tire)
        limit = "what the tires hold" if by_tire < by_torque else "what the engine gives"
        moved = rearward * (force / axle.drive_share if axle.drive_share else 0.0) * lever
        return (
            force,
            moved,
            f"Full throttle in first gear{', low range' if assume.transfer_low > 1.0 else ''}, limited by {limit}; "
            "both wheels pull alike; usual shaft rotation.",
        )
    if case == "braking":
        moved = -rearward * assume.brake_g * weight * lever
        force = -assume.brake_g * weight * axle.brake_share
        return force, moved, f"{assume.brake_g:g} g, this axle takes {100 * axle.brake_share:.0f} % of it."
    return 0.0, 0.0, "Standing level; springs and tires share alike left and right."


def launch_grip(vehicle: Vehicle, axle: Axle, friction: float) -> float:
    """Drive force that the tires of an axle hold, N, with the weight that the launch itself moves."""
    rearward = -1.0 if axle.is_front else 1.0 / (len(vehicle.axles) - 1)
    lever = rearward * vehicle.cg_height_mm / vehicle.wheelbase_mm
    return grip.launch_grip(axle.load_kg * G, vehicle.mass_kg * G, friction, lever, axle.drive_share)


def _joint_loads(answers: Answers, rows: Array) -> Array:
    """Radial load at every mount: the vector sum of all rows that end there, N, shape (m,)."""
    layout = answers.layout
    total: Array = np.zeros((len(layout.mounts), 3))
    for i, rod in enumerate(layout.rods):
        span = answers.rod_ends[0, i] - answers.chassis_ends[0, i]
        pull = rows[i] * span / np.linalg.norm(span)
        if rod.other >= 0:
            # An arm that stands on two pivots: each carries by how near the ball is to it, along them.
            a, b = (np.array(layout.mounts[k].mount.at.xyz) for k in (rod.first, rod.other))
            nearer = float(np.clip((answers.chassis_ends[0, i] - a) @ (b - a) / ((b - a) @ (b - a)), 0.0, 1.0))
            total[rod.first] += (1.0 - nearer) * pull
            total[rod.other] += nearer * pull
            total[rod.second] += pull
            continue
        for mount in {rod.first, rod.second}:
            total[mount] += pull
    for j, guide in enumerate(layout.guides):
        total[guide.mount] += rows[len(layout.rods) + j] * np.array(guide.normal)
    return norm(total)


def load_words(study: LoadStudy, answers: Answers, system: System = "metric") -> str:
    """Which wheel a case presses down and by how much, in one sentence; empty when it does neither."""
    if abs(study.wheel_change) < 1.0:
        return ""
    force = f"{format_force(abs(study.wheel_change), system)} {force_unit(system)}"
    side, other = ("left", "right") if study.wheel_change > 0 else ("right", "left")
    return (
        f"{axle_title(answers.axle)}: presses the {side} tire down by {force} and lifts the "
        f"{other} one as much (springs holding equal loads)."
    )
