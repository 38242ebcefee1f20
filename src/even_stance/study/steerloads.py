"""What box and ram of a steering carry from lock to lock at ride height, for a push at a tire or a pressure typed."""

from dataclasses import dataclass

import numpy as np

from even_stance.mechanics.steering import LEFT, RIGHT
from even_stance.mechanics.steerloads import arm_drop, flat_arm, off_axis, ram_push, rod_lever, sector_load
from even_stance.mechanics.vectors import Array, cross, dot, norm
from even_stance.study.beams import BeamAxle
from even_stance.study.steerfigures import Turner, lock_of, mechanism_of, turner_of
from even_stance.study.steering import Steered, SteeredAxle
from even_stance.vehicle.car import Axle

_STEPS = 41
_TRIM = 1e-3
_PUSH_N = 3000.0
_HEIGHTS = np.arange(-60.0, 60.5, 1.0)


@dataclass(frozen=True)
class BoxLoads:
    """A box from lock to lock, index by steer input.

    Attributes:
        steer: inputs, turns, shape (..., n); drag_n: force in the drag link for the push at one tire, shape (..., n)
        torque_nm, bending_nm: at the sector shaft's hub, shape (..., n); flat_nm: bending with an arm without drop.
        rim_n: at the hand wheel's rim, with nothing to help and no losses, shape (..., n)
        drop_mm, arm_mm: of the pitman arm as measured; sweep_deg: how far it swings from lock to lock, shape (...).
    """

    steer: Array
    drag_n: Array
    torque_nm: Array
    bending_nm: Array
    flat_nm: Array
    rim_n: Array
    drop_mm: Array
    arm_mm: Array
    sweep_deg: Array

    @property
    def most(self) -> dict[str, Array]:
        """What the rows show: the most over the lock, and the arm, shape (...) each."""
        over = {"torque": self.torque_nm, "bending": self.bending_nm, "flat": self.flat_nm, "drag": self.drag_n}
        most = {key: value.max(axis=-1) for key, value in (over | {"rim": self.rim_n}).items()}
        return most | {"drop": self.drop_mm, "arm": self.arm_mm, "sweep": self.sweep_deg}


def box_loads(axle: Axle, many: Turner | None = None) -> BoxLoads | None:
    """What a push at the front of one tire does to the box, over the lock; None without a box.

    Args:
        axle: the axle; many: steerings that differ a little from its own, in its place.

    By virtual work: the kingpin's moment times how far the wheel turns per turn of the pitman arm is the sector's
    torque; the drag link carries it at the lever it then has.
    """
    mechanism, steering = many or turner_of(axle), axle.steering
    if mechanism is None or mechanism.box is None or steering is None or steering.box is None:
        return None
    box, record = mechanism.box, steering.box
    still = np.array(axle.center), np.eye(3)
    steer = _over_lock(axle, mechanism)
    trim = _TRIM * mechanism.half_mm_or_turns
    both = [mechanism.at(steer + way * trim, *still).turns for way in (1.0, -1.0)]
    turn = np.abs(both[0] - both[1]).max(axis=-1) / (2.0 * trim * 2.0 * np.pi / record.ratio)
    moment = record.push_n * axle.tire.free_diameter_mm / 2.0
    torque = moment * turn
    ball, along = _held_by(mechanism, mechanism.at(steer, *still))
    arm = ball - box.shaft
    lever = np.abs(dot(cross(arm, along), np.broadcast_to(box.axis, along.shape)))
    drag = torque / np.maximum(lever, 1e-6)
    about, bending = sector_load(arm, box.axis, drag[..., None] * along)
    level = flat_arm(arm, box.axis)
    _, flat = sector_load(level, box.axis, drag[..., None] * along)
    sweep = np.degrees((steer[..., -1] - steer[..., 0]) * 2.0 * np.pi / record.ratio)
    return BoxLoads(
        steer, drag, about / 1000.0, bending / 1000.0, flat / 1000.0,
        torque / record.ratio / (0.5 * record.rim_mm), arm_drop(arm, box.axis)[..., 0], norm(level)[..., 0], sweep,
    )  # fmt: skip


def _over_lock(axle: Axle, mechanism: Turner) -> Array:
    """Steer inputs from the right lock to the left one, turns or mm, shape (..., n)."""
    ends = lock_of(axle, mechanism).steer
    low, high = ends[..., :1], ends[..., 1:]
    steer: Array = low + (high - low) * np.linspace(0.0, 1.0, _STEPS)
    return steer


def rod_loads(axle: Axle) -> dict[str, float]:
    """The most that every tie rod carries over the lock for the push at the front of one tire, by piece, N.

    The rod holds the kingpin's moment at the lever that its line then has about the kingpin, at whichever knuckle that
    is shorter: straight ahead the lever is nearly the whole arm, at a lock it is a good deal less.
    """
    mechanism, steering = turner_of(axle), axle.steering
    if mechanism is None or mechanism.box is None or steering is None or steering.box is None:
        return {}
    now = mechanism.at(_over_lock(axle, mechanism), np.array(axle.center), np.eye(3))
    moment = steering.box.push_n * axle.tire.free_diameter_mm / 2.0
    k = mechanism.knuckles
    if isinstance(mechanism, SteeredAxle):
        ends = mechanism.ends_now(now).get("tie rod")
        if ends is None:
            return {}
        return {"Tie rod": float(max(moment / np.min(rod_lever(k.pivot[i], k.axis[i], *ends)) for i in (LEFT, RIGHT)))}
    assert isinstance(mechanism, BeamAxle)
    slid, found = mechanism.center_link(now.steer), {}
    for i, name in ((LEFT, "Left tie rod"), (RIGHT, "Right tie rod")):
        ends = (mechanism.inner[i] + slid, k.turned(i, now.turns[..., i], k.tie[i]))
        found[name] = float(moment / np.min(rod_lever(k.pivot[i], k.axis[i], *ends)))
    return found


def _held_by(mechanism: Turner, now: Steered) -> tuple[Array, Array]:
    """The pitman arm's ball and the direction of what it pushes, mm and 1, shape (n, 3): drag link, or center link."""
    if isinstance(mechanism, SteeredAxle):
        ball, end = mechanism.ends_now(now)["drag link"]
        return ball, (end - ball) / norm(end - ball)[..., None]
    assert isinstance(mechanism, BeamAxle)
    ball = mechanism.pitman.ball + mechanism.center_link(now.steer)
    link = mechanism.inner[..., LEFT, :] - mechanism.inner[..., RIGHT, :]
    return ball, np.broadcast_to(link / norm(link)[..., None], ball.shape)


@dataclass(frozen=True)
class RamLoads:
    """A ram from lock to lock.

    Attributes:
        push_n: either way; used_mm: stroke used to the right and to the left; spare_mm: left at either end.
        off_center_mm: how far the middle of its rod is left of the axle's middle with the wheels straight.
        center_nm, least_nm: what it turns one wheel with, straight ahead, and at the least over the lock.
        side_share: the most of the push that goes across the rod; links_mm: left and right link, joint to joint.
    """

    push_n: float
    used_mm: tuple[float, float]
    spare_mm: tuple[float, float]
    off_center_mm: float
    center_nm: float
    least_nm: float
    side_share: float
    links_mm: tuple[float, float]


def ram_loads(axle: Axle) -> RamLoads | None:
    """What a ram does over its stroke; None without one. What turns a wheel goes by virtual work, F ds / da."""
    many = ram_values(axle)
    if many is None:
        return None
    one = {key: float(value) for key, value in many.items()}
    return RamLoads(
        one["push"], (one["used_right"], one["used_left"]), (one["spare_right"], one["spare_left"]), one["off_center"],
        one["center"], one["least"], one["side_share"], (one["left_link"], one["right_link"]),
    )  # fmt: skip


def ram_values(axle: Axle, many: Turner | None = None) -> dict[str, Array] | None:
    """The same by name, for the ram of an axle or for many that differ a little from it, shape (...) each."""
    mechanism, steering = many or mechanism_of(axle), axle.steering
    if not isinstance(mechanism, SteeredAxle) or steering is None or steering.ram is None or mechanism.box is not None:
        return None
    ram, still = steering.ram, (np.array(axle.center), np.eye(3))
    steer = _over_lock(axle, mechanism)
    trim = _TRIM * mechanism.half_mm_or_turns
    forth, back = (mechanism.at(steer + way * trim, *still).turns for way in (1.0, -1.0))
    per_mm = np.abs(forth - back) / (2.0 * trim)
    push = ram_push(ram.bore_mm, ram.rod_mm, ram.pressure_bar / 10.0)
    # Straight ahead both wheels take the push between them; at a lock the one against a rock may take it all.
    alone = push / np.maximum(per_mm, 1e-9) / 1000.0
    left, right = mechanism.points["ram_left"], mechanism.points["ram_right"]
    axis = (left - right) / norm(left - right)[..., None]
    ends = mechanism.ends_now(mechanism.at(steer, *still))
    aside = [np.tan(off_axis(goal - start, np.broadcast_to(axis, start.shape))) for start, goal in ends.values()]
    middle = np.abs(steer).argmin(axis=-1)[..., None, None]
    lengths = {name.replace(" ", "_"): norm(goal - start)[..., 0] for name, (start, goal) in ends.items()}
    return lengths | {
        "push": np.array(push), "used_right": -steer[..., 0], "used_left": steer[..., -1],
        "spare_right": ram.stroke_mm / 2 + steer[..., 0], "spare_left": ram.stroke_mm / 2 - steer[..., -1],
        "off_center": np.broadcast_to(0.5 * (left + right)[..., 1] - axle.center[1], steer.shape)[..., 0],
        "center": np.take_along_axis(alone, middle, axis=-2)[..., 0, :].min(axis=-1), "least": alone.min(axis=(-2, -1)),
        "side_share": np.max(aside, axis=0).max(axis=-1),
    }  # fmt: skip


@dataclass(frozen=True)
class AssistLoads:
    """An assist ram from lock to lock.

    Attributes:
        straight_mm: joint to joint, wheels straight; shortest_mm, longest_mm: over the lock.
        push_n, pull_n: with the whole piston, and with the rod taken off it.
        helps_nm: the least and the most it turns both wheels by with the weaker of the two.
    """

    straight_mm: float
    shortest_mm: float
    longest_mm: float
    push_n: float
    pull_n: float
    helps_nm: tuple[float, float]


def assist_loads(axle: Axle) -> AssistLoads | None:
    """What an assist ram does over the lock; None without one. Its moment goes by virtual work, F dL / da."""
    mechanism, steering = mechanism_of(axle), axle.steering
    if mechanism is None or steering is None or steering.assist is None:
        return None
    assist, still = steering.assist, (np.array(axle.center), np.eye(3))
    low, high = lock_of(axle, mechanism).steer
    steer = np.linspace(low, high, _STEPS)
    trim = _TRIM * mechanism.half_mm_or_turns
    forth, back = (mechanism.at(steer + way * trim, *still).turns for way in (1.0, -1.0))
    lengths = [mechanism.assist_length(t) for t in (mechanism.at(steer, *still).turns, forth, back, np.zeros((1, 2)))]
    now, more, less, straight = (length for length in lengths if length is not None)
    turned = np.abs((forth - back).mean(axis=-1))
    pull = ram_push(assist.bore_mm, assist.rod_mm, assist.pressure_bar / 10.0)
    helps = pull * np.abs(more - less) / turned / 1000.0
    return AssistLoads(
        float(straight[0]), float(now.min()), float(now.max()),
        ram_push(assist.bore_mm, 0.0, assist.pressure_bar / 10.0), pull, (float(helps.min()), float(helps.max())),
    )  # fmt: skip


@dataclass(frozen=True)
class JointHeight:
    """The best height of the link joints on the knuckles: how much higher than now, and the worst angle either way.

    Attributes:
        up_mm: where the worst angle out of the ram's line is least; now_deg, best_deg: that angle.
        rises_mm: how far the joint itself goes up and down on its tilted arc, from full in to full out.
    """

    up_mm: float
    now_deg: float
    best_deg: float
    rises_mm: float


def joint_height(axle: Axle) -> JointHeight | None:
    """How high the ram's link joints should stand on the knuckles, a spacer's millimeter at a time; None without a ram.

    The kingpin leans, so the joint goes up on the way in and down on the way out: best is between, not level.
    """
    mechanism, steering = mechanism_of(axle), axle.steering
    if mechanism is None or steering is None or steering.ram is None or mechanism.box is not None:
        return None
    still = np.array(axle.center), np.eye(3)
    points = {}
    for end in ("left_tie", "right_tie"):
        at = mechanism.points[end]
        points[end] = (at + _HEIGHTS[:, None] * np.array([0.0, 0.0, 1.0]))[:, None, :]
    low, high = lock_of(axle, mechanism).steer
    steer = np.linspace(low, high, _STEPS)

    def worst(many: SteeredAxle) -> Array:
        """The most either link points up or down out of the ram's line, degrees, shape (...)."""
        ends = many.ends_now(many.at(steer, *still))
        out = [np.degrees(np.abs(np.arctan2((b - a)[..., 2], np.hypot((b - a)[..., 0], (b - a)[..., 1]))))
               for a, b in ends.values()]  # fmt: skip
        found: Array = np.max(out, axis=(0, -1))
        return found

    every = worst(SteeredAxle(axle, steering, points))
    best = int(np.nanargmin(every))
    now = mechanism.at(steer, *still).turns
    tie = [mechanism.knuckles.turned(i, now[:, i], mechanism.knuckles.tie[i])[:, 2] for i in (LEFT, RIGHT)]
    return JointHeight(
        float(_HEIGHTS[best]), float(worst(mechanism)), float(every[best]), max(float(np.ptp(z)) for z in tie)
    )


@dataclass(frozen=True)
class ArmPush:
    """A push on a knuckle's arm: across it, N, and how far from the middle of the studs it acts, mm."""

    force_n: float
    reach_mm: float


def arm_push(axle: Axle) -> ArmPush | None:
    """What the push at one tire that the box is looked at with does at the drag link's or tie rod's arm."""
    steering, turner = axle.steering, turner_of(axle)
    if steering is None or turner is None:
        return None
    push = _PUSH_N if steering.box is None else steering.box.push_n
    k = turner.knuckles
    levers = [norm(cross(k.tie[i] - k.pivot[i], k.axis[i])) for i in (LEFT, RIGHT)]
    if steering.bolted is None:
        return None
    # What pushes on the arm is the rod, over the lock; a ram's links are looked at by the arm's length.
    alone = push * axle.tire.free_diameter_mm / 2.0 / float(min(levers))
    return ArmPush(max([alone, *rod_loads(axle).values()]), steering.bolted.reach_mm)
