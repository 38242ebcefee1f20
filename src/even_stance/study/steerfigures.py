"""What a steering is judged by: at postures with the hand wheel held, and at ride height turned from lock to lock.

Every function takes a steering that may stand for many that differ a little (batch axes before those of the postures),
so that what moves a figure, and its +/-, come from the same lines as the figure.
"""

from dataclasses import dataclass
from functools import lru_cache
from typing import Protocol

import numpy as np

from even_stance.mechanics.pose import Pose
from even_stance.mechanics.steering import (
    LEFT,
    RIGHT,
    Box,
    Knuckles,
    ackermann_share,
    around,
    beside_axis,
    ground_points,
    kingpin_angles,
    spin_bend,
    turn_center,
)
from even_stance.mechanics.swingbeams import patch
from even_stance.mechanics.vectors import Array
from even_stance.study.beams import beams_of
from even_stance.study.model import Layout, wheel_centers
from even_stance.study.steering import Steered, SteeredAxle, SteeringLink, axle_line, steered_axle
from even_stance.vehicle.car import Axle, Vehicle
from even_stance.vehicle.members import Rod
from even_stance.vehicle.spots import STEER_POINTS, Spot, own_point
from even_stance.vehicle.steering import Steering

STEER_KEYS = ("steer_left_deg",)
_WAYS = np.array([-1.0, 1.0])  # to the right, to the left
_STEPS = 33
_END = 1e-9
_TRIM = 1e-3  # of half the input: for local slopes
# The steer inputs at which joints are looked at, as shares of what either lock takes.
SWING_SHARES = np.array([-1.0, -0.5, 0.0, 0.5, 1.0])


def mechanism_of(axle: Axle) -> SteeredAxle | None:
    """The steering of a solid axle; None where nothing steers it, or it has swing beams."""
    if axle.steering is None or axle.steering.kind == "swing_beams":
        return None
    return steered_axle(axle, axle.steering)


def held_values(mechanism: SteeredAxle, pose: Pose) -> dict[str, Array]:
    """Which way the left wheel points at poses of the axle with the hand wheel held straight, degrees, shape (..., N).

    On a solid axle the right one goes with it, held by the tie rod.
    """
    return {"steer_left_deg": mechanism.at(np.zeros(1), pose.center, pose.rotation).headings[..., LEFT]}


class Turner(Protocol):
    """What turns wheels from lock to lock: the steering of a solid axle, or of swing beams."""

    steering: Steering
    knuckles: Knuckles
    box: Box | None

    def __hash__(self) -> int:
        """Each is equal only to itself, so that what was worked out of it can be kept."""

    @property
    def half_mm_or_turns(self) -> float:
        """How far the input goes either way."""

    @property
    def links(self) -> tuple[SteeringLink, ...]:
        """Every rod, wheels straight ahead."""

    def at(self, steer: Array, moved: Array, rotation: Array, /) -> Steered:
        """The wheels at steer inputs and poses of the axle."""

    def pitman_rad(self, steer: Array, /) -> Array:
        """Turn of the pitman arm, right-handed about the sector shaft."""

    def assist_share(self, turns: Array, /) -> Array | None:
        """How far out an assist ram is."""


def turner_of(axle: Axle) -> Turner | None:
    """What turns the wheels of an axle, whatever its kind; None where nothing does."""
    return mechanism_of(axle) or beams_of(axle)


@dataclass(frozen=True)
class Lock:
    """Both ends of a steering at ride height; index 0 turned right, 1 turned left.

    Attributes:
        steer: input where it ends, hand-wheel turns or mm of rod, shape (..., 2)
        inner_deg: how far the inner wheel has turned there, shape (..., 2)
        over_deg: how far the box or ram would take it beyond its stop, shape (..., 2)
        headings: of both wheels there, + left, degrees, shape (..., 2, 2); turns: of both knuckles, rad, likewise.
    """

    steer: Array
    inner_deg: Array
    over_deg: Array
    headings: Array
    turns: Array


@lru_cache(maxsize=16)
def lock_of(axle: Axle, mechanism: Turner) -> Lock:
    """Where a steering ends either way at ride height: at a stop, or where box, ram or a link ends before that."""
    stop, half = np.array(mechanism.steering.stops_deg), mechanism.half_mm_or_turns
    still = np.array(axle.center), np.eye(3)
    grid = _WAYS[:, None] * np.linspace(0.0, half, _STEPS)

    def inner_at(steer: Array) -> Array:
        """The inner wheel's turn at inputs for both ways, shape (..., 2, n)."""
        state = mechanism.at(steer.reshape(*steer.shape[:-2], -1), *still)
        found, out = state.headings, mechanism.assist_share(state.turns)
        if out is not None:  # an assist ram that is at its end goes no farther
            found = np.where(((out >= -_END) & (out <= 1.0 + _END))[..., None], found, np.nan)
        inner: Array = (found.reshape(*found.shape[:-2], 2, -1, 2) * _WAYS[:, None, None]).max(axis=-1)
        return inner

    inner = inner_at(grid)
    reached = np.maximum.accumulate(np.where(np.isfinite(inner), inner, -np.inf), axis=-1)
    most = reached[..., -1]
    goal = np.minimum(most, stop)
    # The piece of the grid in which the goal is passed, then a step of Newton on exact headings.
    i = np.clip((reached >= goal[..., None] - 1e-12).argmax(axis=-1), 1, _STEPS - 1)[..., None]
    low, high = (np.take_along_axis(reached, j, axis=-1)[..., 0] for j in (i - 1, i))
    part = (goal - low) / np.where(high > low, high - low, np.inf)
    at = (i[..., 0] - 1 + part) * half / (_STEPS - 1)
    near = inner_at(_WAYS[:, None] * np.stack((at, at - _TRIM * half), axis=-1))
    slope = (near[..., 0] - near[..., 1]) / (_TRIM * half)
    step = (goal - near[..., 0]) / np.where(slope > 1e-9, slope, np.inf)
    steer = _WAYS * np.clip(at + np.where(most > stop, np.nan_to_num(step), 0.0), 0.0, half)
    ends = mechanism.at(steer, *still)
    return Lock(steer, goal, most - stop, ends.headings, ends.turns)


def carried_patches(axle: Axle, knuckles: Knuckles, turns: Array, rotation: Array | None = None) -> Array:
    """Where both tires touch the ground once their knuckles have turned, as seen from the axle, mm, shape (..., 2, 3).

    Args:
        axle: the axle; knuckles: of it; turns: of both about their kingpins, rad, shape (..., 2).
        rotation: how the axle has rolled and pitched, if it has, 1, shape (3, 3).
    """
    k, centers, radius = knuckles, wheel_centers(axle), axle.tire.loaded_radius_mm
    rolled = np.eye(3) if rotation is None else rotation
    found = []
    for i in (LEFT, RIGHT):
        turn = turns[..., i]
        place = (k.turned(i, turn, centers[i]) - np.array(axle.center)) @ rolled.T
        spin = around(np.zeros(3), k.axis[..., i, :], turn, k.spin[..., i, :]) @ rolled.T
        found.append(patch(place, spin, radius) + np.array(axle.center))
    return np.stack(found, axis=-2)


def ends_words(mechanism: Turner, lock: Lock) -> str:
    """What ends the turn before the stops, and which way; empty where the stops end it both ways."""
    over, steer = np.asarray(lock.over_deg), np.abs(lock.steer)
    way = int(over.argmin())
    if over[way] > 0.0:
        return ""
    own = "the box" if mechanism.box is not None else "the ram"
    what = own if steer[way] > 0.98 * mechanism.half_mm_or_turns else "a link"
    return f"turned {'left' if way else 'right'}, {what} ends it at {lock.inner_deg[way]:.0f}°"


def lock_values(vehicle: Vehicle, axle: Axle, mechanism: Turner, lock: Lock | None = None) -> dict[str, Array]:
    """The figures of a steering at ride height, by key, shape (...): its locks, its ratio, how its kingpins stand.

    Args:
        vehicle: the vehicle; axle: the axle.
        mechanism: its steering, or many like it, batch axes (..., 1); lock: its locks, where they are known.
    """
    lock, k = lock_of(axle, mechanism) if lock is None else lock, mechanism.knuckles
    ground = ground_points(k)
    spacing = ground[..., LEFT, 1] - ground[..., RIGHT, 1]
    line = axle_line(vehicle, axle)
    ahead = axle.center[0] - line
    radians = np.radians(lock.headings)
    ackermann = ackermann_share(radians, np.asarray(_one(spacing))[..., None], ahead).mean(axis=-1)
    radius = turn_center(radians, carried_patches(axle, k, lock.turns)[..., :2], line).max(axis=-1)
    caster, inclination = (np.degrees(a).mean(axis=-1) for a in kingpin_angles(k.axis))
    scrub = (0.5 * axle.track_mm - ground[..., 1] * np.array([1.0, -1.0])).mean(axis=-1)
    values = {
        "lock_deg": lock.inner_deg.min(axis=-1),
        "lock_uneven_deg": np.abs(lock.inner_deg[..., 1] - lock.inner_deg[..., 0]),
        "stop_margin_deg": lock.over_deg.min(axis=-1),
        "ackermann_lock_pct": 100.0 * ackermann,
        "turn_circle_m": 0.002 * radius,
        "kingpin_inclination_deg": _one(inclination),
        "scrub_mm": _one(scrub),
    }
    if axle.is_front:
        values["kingpin_caster_deg"] = _one(caster)
    if mechanism.box is not None:
        trim = _TRIM * mechanism.half_mm_or_turns * _WAYS
        mean = mechanism.at(trim, np.array(axle.center), np.eye(3)).headings.mean(axis=-1)
        values["steer_ratio"] = 360.0 * (trim[1] - trim[0]) / (mean[..., 1] - mean[..., 0])
    if axle.driven:
        bend = np.degrees(spin_bend(k, lock.turns)).max(axis=(-1, -2))
        values["axle_joint_use_pct"] = 100.0 * bend / mechanism.steering.axle_joint_limit_deg
    return values


def _one(values: Array) -> Array:
    """Without the axis kept free for postures, where there is one."""
    return values if np.ndim(values) == 0 else values[..., 0]


@dataclass(frozen=True)
class AxleJoints:
    """The joints of a driven axle's shafts at its knuckles, turned to lock.

    Attributes:
        bend_deg: the most either bends; variation_pct: how unevenly a wheel then turns, nil for CV joints.
        off_mm: how far the centers are off their kingpins, left and right; slide_mm: what that moves a shaft by at
            lock, in or out; both None where they are not taped.
    """

    bend_deg: float
    variation_pct: float
    off_mm: tuple[float, float] | None
    slide_mm: float | None


def axle_joints(axle: Axle) -> AxleJoints | None:
    """The axle-shaft joints at full lock; None where the axle is not driven or not steered."""
    mechanism, steering = mechanism_of(axle), axle.steering
    if mechanism is None or steering is None or not axle.driven:
        return None
    lock, k = lock_of(axle, mechanism), mechanism.knuckles
    bend = float(np.nanmax(spin_bend(k, lock.turns)))
    uneven = 0.0 if steering.axle_joints == "cv" else 100.0 * (1.0 / np.cos(bend) - np.cos(bend))
    taped = [own_point(axle, f"{side}_joint") for side in ("left", "right")]
    if None in taped:
        return AxleJoints(float(np.degrees(bend)), uneven, None, None)
    at = np.array([p.xyz for p in taped if p is not None])
    off = [float(v) for v in beside_axis(at, k.pivot, k.axis)]
    # The outer half is carried around the kingpin; what it goes along the tube by, the shaft has to follow.
    slide = max(
        float(np.nanmax(np.abs(k.turned(i, lock.turns[:, i], at[i])[:, 1] - at[i, 1]))) for i in (LEFT, RIGHT)
    )  # fmt: skip
    return AxleJoints(float(np.degrees(bend)), uneven, (off[0], off[1]), slide)


def lateral_rod(axle: Axle) -> Rod | None:
    """The panhard bar of an axle, if that is what holds it sideways."""
    return next((m for m in axle.members if isinstance(m, Rod) and m.role == "lateral"), None)


def drag_values(
    axle: Axle, mechanism: SteeredAxle, layout: Layout, points: Array
) -> dict[str, Array]:  # fmt: skip
    """A drag link across the car against the panhard, by key; empty where there are not both.

    Args:
        axle: the axle; mechanism: its steering; layout: its links.
        points: its mounts, mm, shape (..., m, 3)

    Returns:
        How far they are from parallel in front view, degrees, and how long the drag link is as a share of the panhard,
        percent, shape (...).
    """
    bar = lateral_rod(axle)
    if bar is None or mechanism.box is None or mechanism.box.knuckle is None or mechanism.steering.kind != "crossover":
        return {}
    rod = next(r for r in layout.rods if layout.mounts[r.first].member.name == bar.name)
    panhard = points[..., rod.second, :] - points[..., rod.first, :]
    drag = mechanism.box.end - mechanism.box.ball
    slopes = [np.degrees(np.arctan(v[..., 2] / np.where(v[..., 1] == 0.0, 1e-9, v[..., 1]))) for v in (drag, panhard)]
    return {
        "drag_slope_deg": np.abs(slopes[0] - slopes[1]),
        "drag_length_pct": 100.0
        * np.hypot(*np.moveaxis(drag[..., 1:], -1, 0))
        / np.hypot(*np.moveaxis(panhard[..., 1:], -1, 0)),
    }


@dataclass(frozen=True)
class Swing:
    """The steering joint that is nearest to its limit.

    Attributes:
        joint, name: which it is; deg: how far it swings; posture: at which of the poses; share: of lock, + left.
    """

    joint: int
    name: str
    deg: float
    posture: int
    share: float


def worst_steer_swing(mechanism: SteeredAxle, lock: Lock, pose: Pose) -> Swing | None:
    """The largest swing of any steering joint over poses of the axle, shape (N, ...), and the whole lock at each."""
    ends = part_of_lock(lock, SWING_SHARES)
    n = len(pose.center)
    steer = np.tile(ends, n)
    moved, rotation = (np.repeat(a, len(ends), axis=0) for a in (pose.center, pose.rotation))
    found = mechanism.swings(mechanism.at(steer, moved, rotation), moved, rotation)
    swing = np.degrees(np.array([s for _, _, s in found]))
    swing[:, ~np.repeat(pose.ok, len(ends))] = np.nan
    if not np.isfinite(swing).any():
        return None
    joint, state = np.unravel_index(int(np.nanargmax(swing)), swing.shape)
    name, end, _ = found[int(joint)]
    share = float(SWING_SHARES[int(state) % len(ends)])
    return Swing(int(joint), f"{name}, {end} joint", float(swing[joint, state]), int(state) // len(ends), share)


def part_of_lock(lock: Lock, share: Array) -> Array:
    """Steer inputs at shares of lock, + left, shape (..., len(share))."""
    part: Array = np.where(share < 0.0, -lock.steer[..., :1], lock.steer[..., 1:]) * share
    return part


def swing_of(mechanism: SteeredAxle, lock: Lock, swing: Swing, pose: Pose, at: int) -> Array:
    """How far the joint of a worst swing swings at one of several poses, degrees, shape (...)."""
    one = pose.center[..., at : at + 1, :], pose.rotation[..., at : at + 1, :, :]
    steered = mechanism.at(part_of_lock(lock, np.array([swing.share])), *one)
    found: Array = np.degrees(mechanism.swings(steered, *one)[swing.joint][2])[..., 0]
    return found


@dataclass(frozen=True)
class SteerInput:
    """A coordinate of a point of the steering: its address, which coordinate, and its +/-, mm."""

    spot: Spot
    axis: int
    sure: float


def steer_inputs(axle: Axle) -> list[SteerInput]:
    """Every coordinate of every point of an axle's steering."""
    return [
        SteerInput(Spot(axle.key, "", end), axis, point.sure)
        for end in STEER_POINTS if (point := own_point(axle, end)) is not None
        for axis in range(3)
    ]  # fmt: skip


def varied_points(axle: Axle, inputs: list[SteerInput], step: float) -> dict[str, Array]:
    """The steering's points with each input in turn moved forth and back, mm, batch axes (inputs, 2, 1)."""
    points = {}
    for end in dict.fromkeys(i.spot.end for i in inputs):
        at = own_point(axle, end)
        assert at is not None
        moved = np.broadcast_to(np.array(at.xyz), (len(inputs), 2, 1, 3)).copy()
        for j, what in enumerate(inputs):
            if what.spot.end == end:
                moved[j, :, 0, what.axis] += (step, -step)
        points[end] = moved
    return points


def varied(axle: Axle, steering: Steering, inputs: list[SteerInput], step: float) -> SteeredAxle:
    """Steerings with each coordinate in turn moved forth and back, batch axes (inputs, 2, 1)."""
    return SteeredAxle(axle, steering, varied_points(axle, inputs, step))


def held_straight(mechanism: SteeredAxle, pose: Pose, i: int) -> float:
    """The steer input that points both wheels straight ahead on the mean at one of several poses; nan where none does.

    Source: derived here; the secant rule on the mean of both headings.
    """
    one = pose.center[i : i + 1], pose.rotation[i : i + 1]
    half = mechanism.half_mm_or_turns
    steer = np.array([0.0, _TRIM * half])
    for _ in range(6):
        a, b = mechanism.at(steer, np.repeat(one[0], 2, axis=0), np.repeat(one[1], 2, axis=0)).headings.mean(axis=-1)
        if not np.isfinite(a + b) or a == b:
            return float("nan")
        nearer = float(steer[0] - a * (steer[1] - steer[0]) / (b - a))
        steer = np.array([nearer, nearer + _TRIM * half])
    return nearer if abs(nearer) <= half else float("nan")
