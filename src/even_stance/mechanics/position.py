"""Where the axle goes: Newton on the closure equations, and least bushing energy where a layout has to give."""

from dataclasses import replace
from functools import lru_cache

import numpy as np

from even_stance.mechanics.curvature import curvature
from even_stance.mechanics.linkage import Linkage, Mask, Pose, at_ride, closure
from even_stance.mechanics.vectors import Array, small_rotation

CLOSURE_MM = 1e-9
_MAX_STEPS = 14
_FEW_STEPS = 7
_SHORT_MM = 0.01
_SHORTEST = 1e-5  # of the way from ride height
_MOST_TRIALS = 300
_BEND_MM = 10.0
_ARM_MM = 500.0  # turns are reckoned as movement at this arm, so that all unknowns are of one size


def solve_rows(rows: Array, right: Array) -> Array:
    """Solve stacked square systems; a singular one gives nan or huge values instead of failing them all.

    Args:
        rows: matrices, 1 and mm, shape (..., m, m)
        right: right-hand sides, mm, shape (..., m)

    Returns:
        The solutions, mm and rad, shape (..., m).

    Source: derived here; LAPACK gesv through NumPy.
    """
    return solve_columns(rows, right[..., None])[..., 0]


def solve_columns(rows: Array, right: Array) -> Array:
    """Solve stacked square systems for several right-hand sides at once, each matrix factored only once.

    Args:
        rows: matrices, 1 and mm, shape (..., m, m)
        right: right-hand sides as columns, mm, shape (..., m, r)

    Returns:
        The solutions as columns, mm and rad, shape (..., m, r); nan or huge where a matrix is singular.

    Source: derived here; LAPACK gesv through NumPy.
    """
    try:
        solution = np.linalg.solve(rows, right)
    except np.linalg.LinAlgError:
        # An exactly singular pose among many: a nudge far below any tolerance lets the others through.
        solution = np.linalg.solve(rows + 1e-12 * np.eye(rows.shape[-1]), right)
    return np.asarray(solution, dtype=np.float64)


def _stepped(pose: Pose, step: Array) -> Pose:
    """A pose after a step of the unknowns; a step of more than a radian or a meter is lost already and is held."""
    most = _unknowns(step.shape[-1], 1.0, 1000.0)
    if not (np.abs(step) < most).all():
        step = np.clip(np.nan_to_num(step, nan=0.0), -most, most)
    center, rotation = pose.center + step[..., :3], small_rotation(step[..., 3:6]) @ pose.rotation
    crank = pose.crank + step[..., 6:] if step.shape[-1] > 6 else pose.crank
    return Pose(center, rotation, crank, pose.reached, pose.residual_mm, pose.misfit_mm)


@lru_cache
def _unknowns(count: int, turns: float = 1.0 / _ARM_MM, moves: float = 1.0) -> Array:
    """A size for each unknown: movements, mm, then turns, rad; unless given, turns that move 1 mm at the arm."""
    size = np.full(count, turns)
    size[:3] = moves
    return size


def _newton(linkage: Linkage, pose: Pose, travel: Array, side: Array, most: int = _MAX_STEPS) -> tuple[Pose, Array]:
    """Newton from a start; closure error, inf where it ran into a singular pose or the mirrored branch."""
    for _ in range(most):
        residual, rows = closure(linkage, pose, travel)
        worst = np.abs(residual).max(axis=-1)
        largest = worst.max(initial=0.0)
        if not 0.01 * CLOSURE_MM < largest < np.inf:
            break
        step = solve_rows(rows, -residual)
        pose = _stepped(pose, step)
        if largest < 1e-5 and np.abs(step).max() < 1e-5:
            # Quadratic convergence: one more step would change nothing that a float can hold.
            residual, rows = closure(linkage, pose, travel)
            worst = np.abs(residual).max(axis=-1)
            break
    good = (worst < CLOSURE_MM) & (np.sign(np.linalg.det(rows)) == side)
    return replace(pose, rows=rows), np.where(good, worst, np.inf)


def _least_energy(
    linkage: Linkage, pose: Pose, travel: Array, _side: Array, most: int = _MAX_STEPS
) -> tuple[Pose, Array]:
    """Newton on the energy of the members' give, the wheel rows met exactly; inf where it did not settle."""
    scale = _unknowns(linkage.freedoms)
    done = np.zeros(travel.shape[:-1], dtype=bool)
    before = np.zeros(travel.shape[:-1])
    system = None
    for _ in range(most):
        residual, rows = closure(linkage, pose, travel)
        if not np.isfinite(residual).all():
            break
        # After a step this short the conditions hardly change any more: what they were then serves for the next one.
        kept = system if 0.0 < before.max(initial=0.0) < _SHORT_MM else None
        step, system = _energy_step(linkage, pose, residual, rows, kept)
        pose = _stepped(pose, step)
        size = np.abs(step / scale).max(axis=-1)
        # Newton's steps shrink by the square of the last ratio, those with kept conditions by the ratio: the next one
        # is known without taking it.
        shrinks = np.divide(size, before, out=np.ones_like(size), where=before > size)
        done = size * (shrinks**2 if kept is None else shrinks) < CLOSURE_MM
        if done.all():
            break
        before = size
    residual, rows = closure(linkage, pose, travel)
    worst = np.abs(residual[..., linkage.held :]).max(axis=-1)
    good = done & (worst < CLOSURE_MM)
    return replace(pose, misfit_mm=residual[..., : linkage.held], rows=rows), np.where(good, worst, np.inf)


def _energy_step(
    linkage: Linkage, pose: Pose, residual: Array, rows: Array, kept: Array | None = None
) -> tuple[Array, Array]:
    """One Newton step of the unknowns toward least energy under the wheel rows, mm and rad, shape (..., 6 + k).

    Given back with the matrix it was solved with, which may be kept for a next one close by.
    """
    system, right = _energy_system(linkage, residual, rows, pose, kept)
    step: Array = solve_rows(system, right)[..., : linkage.freedoms] * _unknowns(linkage.freedoms)
    return step, system


def _energy_system(
    linkage: Linkage, residual: Array, rows: Array, pose: Pose | None, kept: Array | None = None
) -> tuple[Array, Array]:
    """The stationary conditions of the energy under the wheel rows, in scaled unknowns: matrix and right-hand side.

    What has given pulls, and its pull turns with the axle; without a pose nothing has given yet. A matrix kept from a
    pose close by is taken as it is.
    """
    assert linkage.stiffness is not None
    held, m, scale = linkage.held, linkage.freedoms, _unknowns(linkage.freedoms)
    scaled = rows * scale
    weight = linkage.stiffness / linkage.stiffness.max(axis=-1, keepdims=True)
    give, wheels = scaled[..., :held, :], scaled[..., held:, :]
    pull = np.empty(residual.shape)
    pull[..., :held] = weight * residual[..., :held]
    wrench = (pull[..., None, :held] @ give)[..., 0, :]
    asked = np.empty((*rows.shape[:-2], m + 2))
    asked[..., :m] = -wrench
    asked[..., m:] = -residual[..., held:]
    if kept is not None:
        return kept, asked
    system = np.zeros((*rows.shape[:-2], m + 2, m + 2))
    stiff = np.swapaxes(give, -1, -2) @ (give * weight[..., :, None])
    if pose is not None:
        # The wheels are held by what balances the wrench of the give in heave and roll.
        left, right = wheels[..., 0, 3], wheels[..., 1, 3]
        pull[..., held] = (wrench[..., 2] * right - wrench[..., 3]) / (left - right)
        pull[..., held + 1] = -wrench[..., 2] - pull[..., held]
        stiff += curvature(linkage, pose, rows, pull) * (scale * scale[:, None])
    system[..., :m, :m] = stiff
    system[..., :m, m:] = np.swapaxes(wheels, -1, -2)
    system[..., m:, :m] = wheels
    return system, asked


def settled_rates(linkage: Linkage, pose: Pose, rates: Array) -> Array:
    """How a linkage that gives moves per unit of wheel travel, its give included.

    The stationary conditions J^T f = 0 (f the stiffness times the give, and the wheel reactions) are differentiated
    along the wheel travel: (G^T K G + dJ^T/dq f) q + H^T r = 0 and H q = rates, G the rows of the members and H
    those of the wheels.

    Args:
        linkage: the linkage, with stiffness, mm, shape (..., n, 3)
        pose: settled poses, mm, 1 and rad, shape (N, 3)
        rates: several pairs of wheel rates, left and right, 1, shape (r, 2)

    Returns:
        Twist (v, w) and crank rates for each pair, 1 and rad/mm, shape (r, N, 6 + k).

    Source: derived here; implicit function theorem.
    """
    m = linkage.freedoms
    residual, rows = closure(linkage, pose, np.zeros(2)) if pose.rows is None else (pose.misfit_mm, pose.rows)
    residual = np.concatenate((residual[..., : linkage.held], np.zeros((*residual.shape[:-1], 2))), axis=-1)
    system, _ = _energy_system(linkage, residual, rows, pose)
    asked = np.zeros((m + 2, len(rates)))
    asked[m:] = rates.T
    moved: Array = np.moveaxis(solve_columns(system, asked)[..., :m, :], -1, 0) * _unknowns(linkage.freedoms)
    return moved


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
    step = solve_rows(rows, -residual) if linkage.stiffness is None else _energy_step(linkage, pose, residual, rows)[0]
    moved = _stepped(pose, step)
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
    height; postures that do not close, or close on the other branch of the linkage, are followed step by step along the
    way from ride height until they lock up. A linkage with stiffness gives: the stored energy of its members is least
    among all poses that meet the two wheel travels exactly.

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
    settle = _newton if linkage.stiffness is None else _least_energy
    side = np.ones(batch)
    if linkage.stiffness is None:
        side = np.broadcast_to(np.sign(np.linalg.det(linkage.ride_rows)), batch)
    pose = _stepped(at_ride(linkage, batch), _start(linkage, travel))
    pose, residual = settle(linkage, pose, travel, side)
    lost = ~np.isfinite(residual)
    if not lost.any():
        return replace(pose, residual_mm=residual)
    follow = _follow if linkage.batch else _follow_ways
    return _patched(pose, residual, lost, follow(linkage.picked(lost), travel[lost], side[lost]))


def _start(linkage: Linkage, travel: Array) -> Array:
    """A step of the unknowns from ride height that comes near each posture, mm and rad, shape (..., 6 + k)."""
    if linkage.batch:
        return _along(_ride_ways(linkage), travel)
    ways, bends = _ride_bends(linkage)
    left, right = travel[..., :1], travel[..., 1:]
    start: Array = _along(ways, travel) + left * left * bends[0] + right * right * bends[1] + left * right * bends[2]
    return start


def _along(ways: Array, travel: Array) -> Array:
    step: Array = travel[..., :1] * ways[..., 0] + travel[..., 1:] * ways[..., 1]
    return step


def _ride_ways(linkage: Linkage) -> Array:
    """How the axle moves from ride height per millimeter of either wheel, 1 and rad/mm, shape (..., 6 + k, 2)."""
    m, rows = linkage.freedoms, linkage.ride_rows
    if linkage.stiffness is None:
        return solve_columns(rows, np.eye(m)[:, -2:])
    still = np.zeros(rows.shape[:-1])
    # Nothing has given yet at ride height.
    system, _ = _energy_system(linkage, still, rows, None)
    ways: Array = solve_columns(system, np.eye(m + 2)[:, -2:])[..., :m, :] * _unknowns(linkage.freedoms)[:, None]
    return ways


@lru_cache(maxsize=16)
def _ride_bends(linkage: Linkage) -> tuple[Array, Array]:
    """How the axle moves from ride height to second order of the travel of the wheels: what one Newton step corrects.

    The ways per millimeter of either wheel, shape (6 + k, 2), and the bends per square millimeter of the left wheel, of
    the right wheel and of the product of the two, shape (3, 6 + k).
    """
    ways = _ride_ways(linkage)
    travel = _BEND_MM * np.array([[1.0, 0.0], [0.0, 1.0], [1.0, 1.0]])
    pose = _stepped(at_ride(linkage, (3,)), _along(ways, travel))
    residual, rows = closure(linkage, pose, travel)
    step = solve_rows(rows, -residual) if linkage.stiffness is None else _energy_step(linkage, pose, residual, rows)[0]
    bends = step / _BEND_MM**2
    bends[2] -= bends[0] + bends[1]
    return ways, bends


def _patched(pose: Pose, residual: Array, lost: Mask, followed: Pose) -> Pose:
    def put(whole: Array, part: Array) -> Array:
        whole = whole.copy()
        whole[lost] = part
        return whole

    return Pose(
        put(pose.center, followed.center), put(pose.rotation, followed.rotation), put(pose.crank, followed.crank),
        put(pose.reached, followed.reached), put(residual, followed.residual_mm),
        put(pose.misfit_mm, followed.misfit_mm),
        None if pose.rows is None or followed.rows is None else put(pose.rows, followed.rows),
    )  # fmt: skip


def _follow_ways(linkage: Linkage, travel: Array, side: Array) -> Pose:
    """Postures of one linkage that lie one behind the other as seen from ride height lock up together: gone once."""
    far = np.maximum(np.abs(travel).max(axis=-1), 1e-9)
    _, which = np.unique(np.round(travel / far[:, None], 9), axis=0, return_inverse=True)
    which = which.reshape(-1)
    order = np.argsort(far)
    last = np.zeros(which.max() + 1, dtype=np.intp)
    last[which[order]] = order  # the farthest of each way is written last
    ends = _follow(linkage, travel[last], side[last])
    locks = (ends.reached * far[last])[which]
    pose = replace(ends.part(which), reached=np.minimum(locks / far, 1.0))
    short = far < locks
    if short.any():  # it was just Newton from ride height that could not come there
        own = _follow(linkage, travel[short], side[short])
        pose = _patched(pose, pose.residual_mm, short, own)
    return pose


def _follow(linkage: Linkage, travel: Array, side: Array) -> Pose:
    """Go from ride height toward each posture in growing steps; where one fails, halve the way to it, up to lock-up.

    A step may fail for being too long. So what stopped it counts as lock-up only when it also stops the shortest step,
    taken from right before it.
    """
    count = travel.shape[0]
    settle = _newton if linkage.stiffness is None else _least_energy
    pose = at_ride(linkage, (count,))
    reached, step, wall = np.zeros(count), np.full(count, 1 / 8), np.full(count, np.inf)
    locked = np.zeros(count, dtype=bool)
    for _ in range(_MOST_TRIALS):
        going = ~locked & (reached < 1.0)
        if not going.any():
            break
        close = wall - reached <= _SHORTEST
        ahead = np.where(np.isfinite(wall), np.where(close, wall + _SHORTEST, (reached + wall) / 2), reached + step)
        aim = np.minimum(ahead, 1.0)
        # Where a step is short enough Newton is there in a few; where it is not, a shorter one is cheaper than more.
        trial, left_over = settle(linkage, pose, aim[:, None] * travel, side, _FEW_STEPS)
        moved = np.abs(trial.center - pose.center).max(axis=-1)
        # A branch jump shows as a leap of the axle far beyond what the wheels were moved by. Right before lock-up the
        # axle does run away faster and faster, so small leaps are let pass: the steps shrink until none is a jump.
        leap = moved > 20.0 * (aim - reached) * np.abs(travel).max(axis=-1) + 2.0
        good = going & np.isfinite(left_over) & ~leap
        pose = _patched(pose, pose.residual_mm, good, replace(trial, residual_mm=left_over).part(good))
        reached[good] = aim[good]
        locked |= going & ~good & close
        free = good & ~np.isfinite(wall)
        step = np.where(free, 1.5 * step, np.where(good & (aim >= wall), 100 * _SHORTEST, step))
        wall = np.where(good & (aim >= wall), np.inf, np.where(going & ~good, np.minimum(wall, aim), wall))
    return replace(pose, reached=reached)
