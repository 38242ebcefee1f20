"""Where the axle goes: Newton on the closure equations, and least bushing energy where a layout has to give."""

from dataclasses import replace

import numpy as np

from even_stance.mechanics.linkage import Linkage, Mask, Pose, at_ride, closure, constraint_rows
from even_stance.mechanics.vectors import Array, small_rotation

CLOSURE_MM = 1e-9
_MAX_STEPS = 14
_MAX_BUSHED_STEPS = 40
_NUDGE_MM = 0.01
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
    if not (np.abs(step[..., :3]).max() < 1000.0 and np.abs(step[..., 3:]).max() < 1.0):
        step = np.nan_to_num(step, nan=0.0, posinf=0.0, neginf=0.0)
        step = np.concatenate((np.clip(step[..., :3], -1000.0, 1000.0), np.clip(step[..., 3:], -1.0, 1.0)), axis=-1)
    center, rotation = pose.center + step[..., :3], small_rotation(step[..., 3:6]) @ pose.rotation
    crank = pose.crank + step[..., 6:] if step.shape[-1] > 6 else pose.crank
    return Pose(center, rotation, crank, pose.reached, pose.residual_mm, pose.misfit_mm)


def _newton(linkage: Linkage, pose: Pose, travel: Array, side: Array) -> tuple[Pose, Array]:
    """Newton from a start; closure error, inf where it ran into a singular pose or the mirrored branch."""
    for _ in range(_MAX_STEPS):
        residual, rows = closure(linkage, pose, travel)
        worst = np.abs(residual).max(axis=-1)
        if not np.isfinite(worst).all() or (worst < 0.01 * CLOSURE_MM).all():
            break
        step = solve_rows(rows, -residual)
        pose = _stepped(pose, step)
        if np.abs(residual).max() < 1e-5 and np.abs(step).max() < 1e-5:
            # Quadratic convergence: one more step would change nothing that a float can hold.
            residual, rows = closure(linkage, pose, travel)
            worst = np.abs(residual).max(axis=-1)
            break
    good = (worst < CLOSURE_MM) & (np.sign(np.linalg.det(rows)) == side)
    return pose, np.where(good, worst, np.inf)


def _least_energy(linkage: Linkage, pose: Pose, travel: Array, _side: Array) -> tuple[Pose, Array]:
    """Gauss-Newton on the energy of the members' give, the wheel rows met exactly; inf where it did not settle."""
    scale = np.full(linkage.freedoms, 1.0 / _ARM_MM)
    scale[:3] = 1.0
    done = np.zeros(travel.shape[:-1], dtype=bool)
    before = np.zeros(travel.shape[:-1])
    for _ in range(_MAX_BUSHED_STEPS):
        residual, rows = closure(linkage, pose, travel)
        if not np.isfinite(residual).all():
            break
        step = solve_rows(*_energy_system(linkage, residual, rows * scale))[..., : linkage.freedoms] * scale
        pose = _stepped(pose, step)
        size = np.abs(step / scale).max(axis=-1)
        # Steps shrink by a steady ratio: what the next one would be is known without taking it.
        shrinks = np.divide(size, before, out=np.ones_like(size), where=before > size)
        done = size * shrinks < CLOSURE_MM
        if done.all():
            break
        before = size
    residual, _ = closure(linkage, pose, travel)
    worst = np.abs(residual[..., linkage.held :]).max(axis=-1)
    good = done & (worst < CLOSURE_MM)
    return replace(pose, misfit_mm=residual[..., : linkage.held]), np.where(good, worst, np.inf)


def _energy_system(linkage: Linkage, residual: Array, rows: Array) -> tuple[Array, Array]:
    """The stationary conditions of the energy under the wheel rows: matrix and right-hand side."""
    assert linkage.stiffness is not None
    held, m = linkage.held, linkage.freedoms
    weight = linkage.stiffness / linkage.stiffness.max(axis=-1, keepdims=True)
    give, wheels = rows[..., :held, :], rows[..., held:, :]
    system = np.zeros((*rows.shape[:-2], m + 2, m + 2))
    weighted = give * weight[..., :, None]
    system[..., :m, :m] = np.swapaxes(give, -1, -2) @ weighted
    system[..., :m, m:] = np.swapaxes(wheels, -1, -2)
    system[..., m:, :m] = wheels
    right = np.empty(system.shape[:-1])
    right[..., :m] = -(residual[..., None, :held] @ weighted)[..., 0, :]
    right[..., m:] = -residual[..., held:]
    return system, right


def settled_rates(linkage: Linkage, pose: Pose, rates: Array) -> Array:
    """How a linkage that gives moves per unit of wheel travel, its give included.

    The stationary conditions J^T f = 0 (f the stiffness times the give, and the wheel reactions) are differentiated
    along the wheel travel: (G^T K G + dJ^T/dq f) q + H^T r = 0 and H q = rates, G the rows of the members and H
    those of the wheels. dJ/dq is taken by differences of the rows over a hundredth of a millimeter.

    Args:
        linkage: the linkage, with stiffness, mm, shape (..., n, 3)
        pose: settled poses, mm, 1 and rad, shape (N, 3)
        rates: several pairs of wheel rates, left and right, 1, shape (r, 2)

    Returns:
        Twist (v, w) and crank rates for each pair, 1 and rad/mm, shape (r, N, 6 + k).

    Source: derived here; implicit function theorem.
    """
    m, held = linkage.freedoms, linkage.held
    scale = np.full(m, 1.0 / _ARM_MM)
    scale[:3] = 1.0
    residual, rows = closure(linkage, pose, np.zeros(2))
    residual[..., held:] = 0.0
    system, right = _energy_system(linkage, residual, rows * scale)
    assert linkage.stiffness is not None
    weight = linkage.stiffness / linkage.stiffness.max(axis=-1, keepdims=True)
    forces = np.concatenate((weight * residual[..., :held], solve_rows(system, right)[..., m:]), axis=-1)
    batch = pose.reached.shape
    nudge = np.eye(m).reshape(m, *([1] * len(batch)), m) * scale * _NUDGE_MM
    pull = (forces[..., None, :] @ rows)[..., 0, :]
    turned = (forces[..., None, :] @ constraint_rows(linkage, _stepped(pose, nudge)))[..., 0, :]
    curve = np.moveaxis((turned - pull) / _NUDGE_MM, 0, -1)
    system[..., :m, :m] += curve * scale[:, None]
    asked = np.zeros((m + 2, len(rates)))
    asked[m:] = rates.T
    moved: Array = np.moveaxis(solve_columns(system, asked)[..., :m, :], -1, 0) * scale
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
    if linkage.stiffness is None:
        moved = _stepped(pose, solve_rows(rows, -residual))
    else:
        scale = np.full(linkage.freedoms, 1.0 / _ARM_MM)
        scale[:3] = 1.0
        step = solve_rows(*_energy_system(linkage, residual, rows * scale))[..., : linkage.freedoms] * scale
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
    rows = linkage.ride_rows
    side = np.ones(batch)
    if linkage.stiffness is None:
        side = np.broadcast_to(np.sign(np.linalg.det(rows)), batch)
    pose = _stepped(at_ride(linkage, batch), _first_step(linkage, rows, travel))
    pose, residual = settle(linkage, pose, travel, side)
    lost = ~np.isfinite(residual)
    if not lost.any():
        return replace(pose, residual_mm=residual)
    return _patched(pose, residual, lost, _follow(linkage.picked(lost), travel[lost], side[lost]))


def _first_step(linkage: Linkage, rows: Array, travel: Array) -> Array:
    """The first Newton step from ride height: one matrix serves all postures of a linkage."""
    units = np.zeros((2, rows.shape[-2]))
    units[:, -2:] = np.eye(2)
    if linkage.stiffness is None:
        if linkage.batch:
            asked = np.zeros((*travel.shape[:-1], rows.shape[-2]))
            asked[..., -2:] = travel
            return solve_rows(rows, asked)
        step: Array = travel @ solve_rows(rows, units)
        return step
    scale = np.full(linkage.freedoms, 1.0 / _ARM_MM)
    scale[:3] = 1.0
    # Per millimeter of either wheel; a step for each posture is put together from these two.
    batch = linkage.batch
    if linkage.stiffness.ndim > 1:
        linkage = replace(linkage, stiffness=linkage.stiffness[..., None, :])
    both = np.broadcast_to((rows * scale)[..., None, :, :], (*batch, 2, rows.shape[-2], linkage.freedoms))
    moved = solve_rows(*_energy_system(linkage, -np.broadcast_to(units, (*batch, *units.shape)), both))
    one = moved[..., : linkage.freedoms] * scale
    together: Array = travel[..., :1] * one[..., 0, :] + travel[..., 1:] * one[..., 1, :]
    return together


def _patched(pose: Pose, residual: Array, lost: Mask, followed: Pose) -> Pose:
    def put(whole: Array, part: Array) -> Array:
        whole = whole.copy()
        whole[lost] = part
        return whole

    return Pose(
        put(pose.center, followed.center), put(pose.rotation, followed.rotation), put(pose.crank, followed.crank),
        put(pose.reached, followed.reached), put(residual, followed.residual_mm),
        put(pose.misfit_mm, followed.misfit_mm),
    )  # fmt: skip


def _follow(linkage: Linkage, travel: Array, side: Array) -> Pose:
    """Go from ride height toward each posture in ever smaller steps, up to lock-up."""
    count = travel.shape[0]
    settle = _newton if linkage.stiffness is None else _least_energy
    pose = at_ride(linkage, (count,))
    reached, step = np.zeros(count), np.full(count, 1 / 16)
    while True:
        going = (step > 1e-5) & (reached < 1.0)
        if not going.any():
            return replace(pose, reached=reached)
        aim = np.minimum(reached + step, 1.0)
        trial, left_over = settle(linkage, pose, aim[:, None] * travel, side)
        moved = np.abs(trial.center - pose.center).max(axis=-1)
        # A branch jump shows as a leap of the axle far beyond what the wheels were moved by. Right before lock-up the
        # axle does run away faster and faster, so small leaps are let pass: the steps shrink until none is a jump.
        leap = moved > 20.0 * (aim - reached) * np.abs(travel).max(axis=-1) + 2.0
        good = going & np.isfinite(left_over) & ~leap
        pose = _patched(pose, pose.residual_mm, good, replace(trial, residual_mm=left_over).part(good))
        reached[good] = aim[good]
        step = np.where(good, step * 1.5, step / 2)
