"""What box and ram of a steering carry from lock to lock at ride height, for a push at a tire or a pressure typed."""

from dataclasses import dataclass

import numpy as np

from even_stance.mechanics.steering import LEFT, RIGHT
from even_stance.mechanics.steerloads import arm_drop, flat_arm, off_axis, ram_push, sector_load
from even_stance.mechanics.vectors import Array, cross, dot, norm
from even_stance.study.beams import BeamAxle
from even_stance.study.steerfigures import Turner, lock_of, mechanism_of, turner_of
from even_stance.study.steering import Steered, SteeredAxle
from even_stance.vehicle.car import Axle

_STEPS = 41
_TRIM = 1e-3
_HEIGHTS = np.arange(-60.0, 60.5, 1.0)


@dataclass(frozen=True)
class BoxLoads:
    """A box from lock to lock, index by steer input.

    Attributes:
        steer: inputs, turns, shape (n,); drag_n: force in the drag link for the push at one tire, shape (n,)
        torque_nm, bending_nm: at the sector shaft's hub, shape (n,); flat_nm: bending with an arm without drop.
        rim_n: at the hand wheel's rim, with nothing to help and no losses, shape (n,)
        drop_mm, arm_mm: of the pitman arm as measured; sweep_deg: how far it swings from lock to lock.
    """

    steer: Array
    drag_n: Array
    torque_nm: Array
    bending_nm: Array
    flat_nm: Array
    rim_n: Array
    drop_mm: float
    arm_mm: float
    sweep_deg: float


def box_loads(axle: Axle) -> BoxLoads | None:
    """What a push at the front of one tire does to the box, over the lock; None without a box.

    By virtual work: the kingpin's moment times how far the wheel turns per turn of the pitman arm is the sector's
    torque; the drag link carries it at the lever it then has.
    """
    mechanism, steering = turner_of(axle), axle.steering
    if mechanism is None or mechanism.box is None or steering is None or steering.box is None:
        return None
    box, record = mechanism.box, steering.box
    still = np.array(axle.center), np.eye(3)
    low, high = lock_of(axle, mechanism).steer
    steer = np.linspace(low, high, _STEPS)
    trim = _TRIM * mechanism.half_mm_or_turns
    both = [mechanism.at(steer + way * trim, *still).turns for way in (1.0, -1.0)]
    turn = np.abs(both[0] - both[1]).max(axis=-1) / (2.0 * trim * 2.0 * np.pi / record.ratio)
    moment = record.push_n * axle.tire.free_diameter_mm / 2.0
    torque = moment * turn
    ball, along = _held_by(mechanism, mechanism.at(steer, *still))
    arm = ball - box.shaft
    lever = np.abs(dot(cross(arm, along), np.broadcast_to(box.axis, along.shape)))
    drag = torque / np.maximum(lever, 1e-6)
    about, bending = sector_load(arm, box.axis, drag[:, None] * along)
    level = flat_arm(arm, box.axis)
    _, flat = sector_load(level, box.axis, drag[:, None] * along)
    sweep = float(np.degrees(abs(high - low) * 2.0 * np.pi / record.ratio))
    return BoxLoads(
        steer, drag, about / 1000.0, bending / 1000.0, flat / 1000.0,
        torque / record.ratio / (0.5 * record.rim_mm), float(arm_drop(arm, box.axis)[0]), float(norm(level)[0]), sweep,
    )  # fmt: skip


def _held_by(mechanism: Turner, now: Steered) -> tuple[Array, Array]:
    """The pitman arm's ball and the direction of what it pushes, mm and 1, shape (n, 3): drag link, or center link."""
    if isinstance(mechanism, SteeredAxle):
        ball, end = mechanism.ends_now(now)["drag link"]
        return ball, (end - ball) / norm(end - ball)[:, None]
    assert isinstance(mechanism, BeamAxle)
    ball = mechanism.pitman.ball + mechanism.center_link(now.steer)
    link = mechanism.inner[LEFT] - mechanism.inner[RIGHT]
    return ball, np.broadcast_to(link / norm(link), ball.shape)


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
    mechanism, steering = mechanism_of(axle), axle.steering
    if mechanism is None or steering is None or steering.ram is None or mechanism.box is not None:
        return None
    ram, still = steering.ram, (np.array(axle.center), np.eye(3))
    low, high = lock_of(axle, mechanism).steer
    steer = np.linspace(low, high, _STEPS)
    trim = _TRIM * mechanism.half_mm_or_turns
    forth, back = (mechanism.at(steer + way * trim, *still).turns for way in (1.0, -1.0))
    per_mm = np.abs(forth - back) / (2.0 * trim)
    push = ram_push(ram.bore_mm, ram.rod_mm, ram.pressure_bar / 10.0)
    # Straight ahead both wheels take the push between them; at a lock the one against a rock may take it all.
    alone = push / np.maximum(per_mm, 1e-9) / 1000.0
    axis = np.subtract(ram.left.xyz, ram.right.xyz)
    axis /= np.linalg.norm(axis)
    ends = mechanism.ends_now(mechanism.at(steer, *still))
    aside = max(float(np.tan(off_axis(goal - start, axis)).max()) for start, goal in ends.values())
    lengths = {link.name: link.length_mm for link in mechanism.links}
    middle = int(np.abs(steer).argmin())
    return RamLoads(
        push, (-float(low), float(high)), (ram.stroke_mm / 2 + float(low), ram.stroke_mm / 2 - float(high)),
        0.5 * (ram.left.y + ram.right.y) - axle.center[1], float(alone[middle].min()), float(alone.min()), aside,
        (lengths["left link"], lengths["right link"]),
    )  # fmt: skip


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
