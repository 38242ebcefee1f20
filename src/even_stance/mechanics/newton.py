"""Newton's method on stacked systems: the solver's small tools, and the closure of a determinate linkage."""

from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from even_stance.mechanics.linkage import Linkage, closure
from even_stance.mechanics.pose import Mask, Pose
from even_stance.mechanics.vectors import Array, small_rotation
from even_stance.pace import give_way

CLOSURE_MM = 1e-9
ARM_MM = 500.0  # turns are reckoned as movement at this arm, so that all unknowns are of one size


@dataclass(frozen=True)
class Settled:
    """What settling a batch of poses came to.

    Attributes:
        pose: where each settled; residual_mm: closure error, inf where it did not settle, mm, shape (N,)
        first: the largest unknown of the first correction, mm (turns at the arm), shape (N,)
        stiff: determinant of the system, its sign and size telling how far it is from a lock-up, 1, shape (N,)
    """

    pose: Pose
    residual_mm: Array
    first: Array
    stiff: Array

    @property
    def ok(self) -> Mask:
        """Which of them settled."""
        return np.isfinite(self.residual_mm)


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


def stepped(pose: Pose, step: Array) -> Pose:
    """A pose after a step of the unknowns; a step of more than a radian or a meter is lost already and is held.

    Args:
        pose: where the axle is, mm, shape (N, 3)
        step: movement and turn of the axle and turns of the cranks, mm and rad, shape (N, 6 + k)

    Returns:
        The pose there, mm, shape (N, 3).

    Source: derived here; rotations stay exact by the Cayley form.
    """
    most = unknowns(step.shape[-1], 1.0, 1000.0)
    if not (np.abs(step) < most).all():
        step = np.clip(np.nan_to_num(step, nan=0.0), -most, most)
    center, rotation = pose.center + step[..., :3], small_rotation(step[..., 3:6]) @ pose.rotation
    crank = pose.crank + step[..., 6:] if step.shape[-1] > 6 else pose.crank
    return Pose(center, rotation, crank, pose.reached, pose.residual_mm, pose.misfit_mm)


@lru_cache
def unknowns(count: int, turns: float = 1.0 / ARM_MM, moves: float = 1.0) -> Array:
    """A size for each unknown: movements, then turns; unless given, turns that move 1 mm at the arm.

    Args:
        count: how many unknowns, 1, shape ()
        turns: size of a turn, rad, shape ()
        moves: size of a movement, mm, shape ()

    Returns:
        The sizes, mm and rad, shape (count,).

    Source: derived here; scaling of the unknowns.
    """
    size = np.full(count, turns)
    size[:3] = moves
    return size


def newton(linkage: Linkage, pose: Pose, travel: Array, most: int) -> Settled:
    """Newton on the closure equations of a determinate linkage, all postures at once.

    Args:
        linkage: determinate, mm, shape (..., n, 3)
        pose: where to start, mm, shape (N, 3)
        travel: rise asked of the left and right wheel centers, mm, shape (N, 2)
        most: steps at most, 1, shape ()

    Returns:
        The settled poses, mm, shape (N, 3).

    Source: Shabana, Dynamics of Multibody Systems, ch. 3 (Newton-Raphson on the closure equations).
    """
    scale, first = unknowns(linkage.freedoms), None
    for _ in range(most):
        give_way()
        residual, rows = closure(linkage, pose, travel)
        worst = np.abs(residual).max(axis=-1)
        largest = worst.max(initial=0.0)
        if not 0.01 * CLOSURE_MM < largest < np.inf:
            break
        step = solve_rows(rows, -residual)
        if first is None:
            first = np.abs(step / scale).max(axis=-1)
        pose = stepped(pose, step)
        if largest < 1e-5 and np.abs(step).max() < 1e-5:
            # Quadratic convergence: one more step would change nothing that a float can hold.
            residual, rows = closure(linkage, pose, travel)
            worst = np.abs(residual).max(axis=-1)
            break
    left_over = np.where(worst < CLOSURE_MM, worst, np.inf)
    return Settled(
        replace(pose, rows=rows), left_over, np.zeros_like(worst) if first is None else first, np.linalg.det(rows)
    )
