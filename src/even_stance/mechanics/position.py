"""Where the axle goes: settled straight from ride height where that is sure, else followed along the way there.

A root of the closure equations is only taken when the way from ride height leads to it. Two signs tell: how far the
start was from the root it led to, and how much nearer to a lock-up the system came on the way (its determinant goes to
nil there, and comes back on another assembly branch).
"""

from dataclasses import replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from even_stance.mechanics.give import energy_step, energy_system, least_energy, settled_rates
from even_stance.mechanics.linkage import Linkage, at_ride, closure
from even_stance.mechanics.newton import Settled, newton, solve_columns, solve_rows, stepped, unknowns
from even_stance.mechanics.pose import Mask, Pose
from even_stance.mechanics.vectors import Array

_MAX_STEPS = 14
_FEW_STEPS = 7
_SHORTEST = 1e-5  # of the way from ride height
_MOST_TRIALS = 400
_BEND_MM = 10.0
# Straight from ride height: how much of the way the start may have been off, and how far the system may have come
# toward a lock-up. Found by 10,000 random ways on every layout (scripts/long_ways.py), with room to spare.
_SURE_SHARE = 0.08
_SURE_STIFF = 0.6
# On the way, per step: the same. Where bushings give, a bound layout snaps from one stand to another within little.
_NEAR = {True: (0.25, 0.5), False: (0.1, 0.7)}


def nudged(linkage: Linkage, left: Array, right: Array, near: Pose) -> Pose:
    """Where the axle of a linkage that differs little from a solved one goes: one Newton step, closure not iterated.

    The error goes with the square of the difference (0.5 mm on a point: some 0.0002 mm) and is the same for a change
    forth and back, so that central differences over such variants lose nothing.

    Args:
        linkage: the varied linkages, mm, shape (..., n, 3)
        left: rise of the left wheel center, mm, bump +, shape (N,)
        right: rise of the right wheel center, mm, bump +, shape (N,)
        near: the poses of the linkage as it is, mm, 1 and rad, shape (N, 3)

    Returns:
        The pose of each variant at each posture, mm, shape (..., N, 3); out of reach where `near` was.

    Source: derived here; first order of the implicit function theorem.
    """
    travel = np.stack(np.broadcast_arrays(left, right), axis=-1).astype(np.float64)
    batch = np.broadcast_shapes(travel.shape[:-1], linkage.batch)
    pose = _spread(near, at_ride(linkage, batch))
    residual, rows = closure(linkage, pose, travel)
    step = solve_rows(rows, -residual) if linkage.stiffness is None else energy_step(linkage, pose, residual, rows)[0]
    moved = stepped(pose, step)
    return replace(moved, reached=np.broadcast_to(near.reached, batch))


def _spread(pose: Pose, over: Pose) -> Pose:
    """A pose repeated over the batch of another."""
    return replace(
        over,
        center=np.broadcast_to(pose.center, over.center.shape),
        rotation=np.broadcast_to(pose.rotation, over.rotation.shape),
        crank=np.broadcast_to(pose.crank, over.crank.shape),
    )


def solve_posture(linkage: Linkage, left: Array, right: Array) -> Pose:
    """Where the axle goes when its wheel centers rise by given amounts relative to the chassis.

    A linkage without stiffness is determinate: Newton's method on the stacked rows, all postures at once, from ride
    height; postures that are not surely on the way from ride height are followed along it until they lock up. What
    lies beyond a lock-up is locked, also where the linkage would close there on another assembly branch.
    A linkage with stiffness gives: the stored energy of its members is least among all poses that meet the two wheel
    travels exactly.

    Args:
        linkage: determinate, or with stiffness, mm, shape (..., n, 3)
        left: rise of the left wheel center, mm, bump +, shape (N,)
        right: rise of the right wheel center, mm, bump +, shape (N,)

    Returns:
        The pose of each posture; where `reached` is below 1 the pose is the last one on the way, mm, shape (N, 3).

    Raises:
        ValueError: the linkage has no stiffness and not as many rows as freedoms.

    Valid for: any travel up to lock-up; `residual_mm` is below 1e-9 wherever `reached` is 1.

    Source: derived here; Newton-Raphson on the closure equations (Shabana, Dynamics of Multibody Systems, ch. 3);
    least energy under constraints by Lagrange multipliers.
    """
    if linkage.stiffness is None and linkage.held + 2 != linkage.freedoms:
        raise ValueError("a linkage without stiffness needs just as many rows as freedoms")
    travel = np.stack(np.broadcast_arrays(left, right), axis=-1).astype(np.float64)
    batch = np.broadcast_shapes(travel.shape[:-1], linkage.batch)
    travel = np.broadcast_to(travel, (*batch, 2))
    straight = _settle(linkage, stepped(_standing(linkage, batch), _start(linkage, travel)), travel, _MAX_STEPS)
    far = np.abs(travel).max(axis=-1) + linkage.turned_mm
    stiff = straight.stiff / _ride_stiff(linkage)
    sure = straight.ok & (straight.first <= _SURE_SHARE * far + 1e-6)
    sure &= (stiff >= _SURE_STIFF) & (stiff <= 1.0 / _SURE_STIFF)
    pose = replace(straight.pose, residual_mm=straight.residual_mm)
    if sure.all():
        return pose
    lost = ~sure
    if linkage.batch:
        return _patched(pose, lost, _follow(linkage.picked(lost), travel[lost]))
    flat = travel.reshape(-1, 2)
    return _patched(pose, lost, _follow_ways(linkage, flat, np.flatnonzero(lost.ravel())))


def _settle(linkage: Linkage, pose: Pose, travel: Array, most: int) -> Settled:
    """The pose nearest to a start: by Newton where links are stiff, by least energy where bushings or springs give."""
    settle = newton if linkage.stiffness is None else least_energy
    return settle(linkage, pose, travel, most)


def _standing(linkage: Linkage, batch: tuple[int, ...]) -> Pose:
    """The pose with both wheels at ride height: as drawn, or, with threads turned, one Newton step from there."""
    pose = at_ride(linkage, batch)
    if not linkage.turned_mm.any():
        return pose
    residual, rows = closure(linkage, pose, np.zeros(2))
    step = solve_rows(rows, -residual) if linkage.stiffness is None else energy_step(linkage, pose, residual, rows)[0]
    return stepped(pose, step)


def _ride_stiff(linkage: Linkage) -> Array:
    """Determinant of the system at ride height, shape (...)."""
    if linkage.stiffness is None:
        return np.asarray(np.linalg.det(linkage.ride_rows))
    return np.asarray(np.linalg.det(_ride_system(linkage)))


def _ride_system(linkage: Linkage) -> Array:
    """The conditions of least energy at ride height, where nothing has given yet, shape (..., 8 + k, 8 + k)."""
    rows = linkage.ride_rows
    return energy_system(linkage, np.zeros(rows.shape[:-1]), rows, None)[0]


def _start(linkage: Linkage, travel: Array) -> Array:
    """A step of the unknowns from ride height that comes near each posture, mm and rad, shape (..., 6 + k)."""
    if linkage.batch:
        return _along(_ride_ways(linkage), travel)
    ways, bends = _ride_bends(linkage)
    left, right = travel[..., :1], travel[..., 1:]
    start: Array = _along(ways, travel) + left * left * bends[0] + right * right * bends[1] + left * right * bends[2]
    return start


def _along(ways: Array, travel: Array) -> Array:
    """How far both wheels' travels together move the axle, to first order, shape (..., 6 + k)."""
    step: Array = travel[..., :1] * ways[..., 0] + travel[..., 1:] * ways[..., 1]
    return step


def _ride_ways(linkage: Linkage) -> Array:
    """How the axle moves from ride height per millimeter of either wheel, 1 and rad/mm, shape (..., 6 + k, 2)."""
    m = linkage.freedoms
    if linkage.stiffness is None:
        return solve_columns(linkage.ride_rows, np.eye(m)[:, -2:])
    ways: Array = solve_columns(_ride_system(linkage), np.eye(m + 2)[:, -2:])[..., :m, :] * unknowns(m)[:, None]
    return ways


@lru_cache(maxsize=16)
def _ride_bends(linkage: Linkage) -> tuple[Array, Array]:
    """How the axle moves from ride height to second order of the travel of the wheels: what one Newton step corrects.

    The ways per millimeter of either wheel, shape (6 + k, 2), and the bends per square millimeter of the left wheel, of
    the right wheel and of the product of the two, shape (3, 6 + k).
    """
    ways = _ride_ways(linkage)
    travel = _BEND_MM * np.array([[1.0, 0.0], [0.0, 1.0], [1.0, 1.0]])
    pose = stepped(at_ride(linkage, (3,)), _along(ways, travel))
    residual, rows = closure(linkage, pose, travel)
    step = solve_rows(rows, -residual) if linkage.stiffness is None else energy_step(linkage, pose, residual, rows)[0]
    bends = step / _BEND_MM**2
    bends[2] -= bends[0] + bends[1]
    return ways, bends


def _patched(pose: Pose, lost: Mask, followed: Pose) -> Pose:
    """A pose with the postures a mask picks taken from another one."""

    def put(whole: Array, part: Array) -> Array:
        whole = np.array(whole)
        whole[lost] = part
        return whole

    return Pose(
        put(pose.center, followed.center), put(pose.rotation, followed.rotation), put(pose.crank, followed.crank),
        put(pose.reached, followed.reached), put(pose.residual_mm, followed.residual_mm),
        put(pose.misfit_mm, followed.misfit_mm),
        None if pose.rows is None or followed.rows is None else put(pose.rows, followed.rows),
    )  # fmt: skip


def _follow_ways(linkage: Linkage, travel: Array, lost: NDArray[np.intp]) -> Pose:
    """Postures of one linkage that lie one behind the other as seen from ride height lock up together: gone once.

    Args:
        linkage: one linkage; travel: all postures asked for, shape (N, 2); lost: those to follow, indices.
    """
    far = np.maximum(np.abs(travel[lost]).max(axis=-1), 1e-9)
    _, which = np.unique(np.round(travel[lost] / far[:, None], 9), axis=0, return_inverse=True)
    which = which.reshape(-1)
    order = np.argsort(far)
    last = np.zeros(which.max() + 1, dtype=np.intp)
    last[which[order]] = order  # the farthest of each way is written last
    ends = _follow(linkage, travel[lost][last])
    locks = (ends.reached * far[last])[which]
    pose = replace(ends.part(which), reached=np.minimum(locks / far, 1.0))
    short = far < locks
    if short.any():
        pose = _patched(pose, short, _follow(linkage, travel[lost][short]))
    return pose


def _follow(linkage: Linkage, travel: Array) -> Pose:
    """Go from ride height toward each posture in steps along the way; where one is not sure, halve it, up to lock-up.

    A step is sure when Newton settles in a few steps near where the motion at the pose before points, and when the
    system is about as far from a lock-up as before. Toward a lock-up that makes the steps shrink with what is left.
    """
    count = travel.shape[0]
    standing = _settle(linkage, _standing(linkage, (count,)), np.zeros_like(travel), _MAX_STEPS)
    pose, stiff = standing.pose, standing.stiff
    ways = _ways(linkage, pose, travel)
    reached, step = np.zeros(count), np.full(count, 1 / 8)
    share, stiffer = _NEAR[linkage.stiffness is None]
    few = _FEW_STEPS if linkage.stiffness is None else _MAX_STEPS
    locked, stumbled = ~standing.ok, np.zeros(count, dtype=bool)
    for _ in range(_MOST_TRIALS):
        going = ~locked & (reached < 1.0)
        if not going.any():
            break
        aim = np.minimum(reached + step, 1.0)
        ahead = (aim - reached)[:, None] * ways
        # Where a step is short enough Newton is there in a few; where it is not, a shorter one is cheaper than more.
        trial = _settle(linkage, stepped(pose, ahead), aim[:, None] * travel, few)
        change = trial.stiff / stiff
        size = np.abs(ahead / unknowns(linkage.freedoms)).max(axis=-1)
        good = going & trial.ok & (trial.first <= share * size + 1e-7)
        good &= (change >= stiffer) & (change <= 1.0 / stiffer)
        pose = _patched(pose, good, replace(trial.pose, residual_mm=trial.residual_mm).part(good))
        reached = np.where(good, aim, reached)
        stiff = np.where(good, trial.stiff, stiff)
        locked |= going & ~good & (step <= _SHORTEST)
        step = np.where(good, np.where(stumbled, step, 1.6 * step), 0.5 * step)
        stumbled = going & ~good
        if good.any():
            ways = _ways(linkage, pose, travel)
    return replace(pose, reached=reached)


def _ways(linkage: Linkage, pose: Pose, travel: Array) -> Array:
    """How the unknowns move at a pose per share of the way, mm and rad, shape (N, 6 + k)."""
    if linkage.stiffness is None:
        asked = np.zeros((len(travel), linkage.freedoms))
        asked[:, -2:] = travel
        assert pose.rows is not None
        return solve_rows(pose.rows, asked)
    left, right = settled_rates(linkage, pose, np.eye(2))
    ways: Array = left * travel[:, :1] + right * travel[:, 1:]
    return ways
