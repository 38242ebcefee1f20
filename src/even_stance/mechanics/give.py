"""Where the axle of a linkage that gives settles: least energy of its members' give, the wheels held exactly."""

from dataclasses import replace

import numpy as np

from even_stance.mechanics.curvature import curvature
from even_stance.mechanics.linkage import Linkage, closure
from even_stance.mechanics.newton import CLOSURE_MM, Settled, solve_columns, solve_rows, stepped, unknowns
from even_stance.mechanics.pose import Pose
from even_stance.mechanics.vectors import Array

_SHORT_MM = 0.01


def least_energy(linkage: Linkage, pose: Pose, travel: Array, most: int) -> Settled:
    """Newton on the energy of the members' give, the wheel rows met exactly, all postures at once.

    Args:
        linkage: with stiffness, mm, shape (..., n, 3)
        pose: where to start, mm, shape (N, 3)
        travel: rise asked of the left and right wheel centers, mm, shape (N, 2)
        most: steps at most, 1, shape ()

    Returns:
        The settled poses, mm, shape (N, 3).

    Source: derived here; least energy under constraints by Lagrange multipliers.
    """
    scale = unknowns(linkage.freedoms)
    done = np.zeros(travel.shape[:-1], dtype=bool)
    before, first = np.zeros(travel.shape[:-1]), None
    system: Array | None = None
    for _ in range(most):
        residual, rows = closure(linkage, pose, travel)
        if not np.isfinite(residual).all():
            break
        # After a step this short the conditions hardly change any more: what they were then serves for the next one.
        kept = system if 0.0 < before.max(initial=0.0) < _SHORT_MM else None
        step, system = energy_step(linkage, pose, residual, rows, kept)
        pose = stepped(pose, step)
        size = np.abs(step / scale).max(axis=-1)
        if first is None:
            first = size
        # Newton's steps shrink by the square of the last ratio, those with kept conditions by the ratio: the next one
        # is known without taking it.
        shrinks = np.divide(size, before, out=np.ones_like(size), where=before > size)
        done = size * (shrinks**2 if kept is None else shrinks) < CLOSURE_MM
        if done.all():
            break
        before = size
    residual, rows = closure(linkage, pose, travel)
    block = linkage.blocks
    worst = np.abs(residual[..., block.wheels]).max(axis=-1)
    settled = replace(pose, misfit_mm=residual[..., block.members], rows=rows)
    left_over = np.where(done & (worst < CLOSURE_MM), worst, np.inf)
    stiff = np.ones_like(worst) if system is None else np.linalg.det(system)
    return Settled(settled, left_over, np.zeros_like(worst) if first is None else first, stiff)


def energy_step(
    linkage: Linkage, pose: Pose, residual: Array, rows: Array, kept: Array | None = None
) -> tuple[Array, Array]:
    """One Newton step of the unknowns toward least energy under the wheel rows.

    Args:
        linkage: with stiffness, mm, shape (..., n, 3)
        pose: where the axle is, mm, shape (N, 3)
        residual: closure errors there, mm, shape (N, n + g + 2)
        rows: constraint rows there, 1 and mm, shape (N, n + g + 2, 6 + k)
        kept: the matrix of a pose close by, to be taken again, 1 and mm, shape (N, 8 + k, 8 + k)

    Returns:
        The step, mm and rad, shape (N, 6 + k), and the matrix it was solved with, which may be kept for a next one.

    Source: derived here; Newton's method on the stationary conditions.
    """
    system, right = energy_system(linkage, residual, rows, pose, kept)
    step: Array = solve_rows(system, right)[..., : linkage.freedoms] * unknowns(linkage.freedoms)
    return step, system


def energy_system(
    linkage: Linkage, residual: Array, rows: Array, pose: Pose | None, kept: Array | None = None
) -> tuple[Array, Array]:
    """The stationary conditions of the energy under the wheel rows, in scaled unknowns.

    What has given pulls, and its pull turns with the axle; without a pose nothing has given yet.

    Args:
        linkage: with stiffness, mm, shape (..., n, 3)
        residual: closure errors, mm, shape (N, n + g + 2)
        rows: constraint rows, 1 and mm, shape (N, n + g + 2, 6 + k)
        pose: where the axle is, mm, shape (N, 3), or None at ride height
        kept: the matrix of a pose close by, taken as it is, 1 and mm, shape (N, 8 + k, 8 + k)

    Returns:
        Matrix, 1 and mm, shape (N, 8 + k, 8 + k), and right-hand side, mm, shape (N, 8 + k).

    Source: derived here; Lagrange multipliers for the wheel rows.
    """
    assert linkage.stiffness is not None
    held, m, scale, block = linkage.held, linkage.freedoms, unknowns(linkage.freedoms), linkage.blocks
    scaled = rows * scale
    weight = linkage.stiffness / linkage.stiffness.max(axis=-1, keepdims=True)
    give, wheels = scaled[..., block.members, :], scaled[..., block.wheels, :]
    pull = np.empty(residual.shape)
    pull[..., block.members] = weight * residual[..., block.members]
    wrench = (pull[..., None, block.members] @ give)[..., 0, :]
    asked = np.empty((*rows.shape[:-2], m + 2))
    asked[..., :m] = -wrench
    asked[..., m:] = -residual[..., block.wheels]
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
    residual = np.concatenate((residual[..., linkage.blocks.members], np.zeros((*residual.shape[:-1], 2))), axis=-1)
    system, _ = energy_system(linkage, residual, rows, pose)
    asked = np.zeros((m + 2, len(rates)))
    asked[m:] = rates.T
    moved: Array = np.moveaxis(solve_columns(system, asked)[..., :m, :], -1, 0) * unknowns(linkage.freedoms)
    return moved
