"""An axle held by members: every joint a constraint row on the freedoms of the axle.

The freedoms are the axle's twist (v, w): the velocity of its center and its turning rate, in chassis axes
(x ahead, y left, z up). A rod between chassis point c and axle point a, with n = (a - c) / |a - c|, gives the row
[n, (a - center) x n]. The two wheel-travel rows (left and right wheel center, upward) close the system.
"""

from dataclasses import dataclass

import numpy as np

from even_stance.mechanics.vectors import Array, cross, norm, small_rotation, turn

CLOSURE_MM = 1e-9
_MAX_STEPS = 14


@dataclass(frozen=True)
class Linkage:
    """The rods that hold one axle, at ride height; arrays may carry leading batch axes (variants).

    Attributes:
        center: axle center, mm, shape (..., 3)
        wheels: left and right wheel centers, mm, shape (..., 2, 3)
        chassis: chassis ends of the rods, mm, shape (..., n, 3)
        axle: axle ends of the rods, mm, shape (..., n, 3)
        lengths: joint to joint, mm, shape (..., n)
    """

    center: Array
    wheels: Array
    chassis: Array
    axle: Array
    lengths: Array

    @classmethod
    def as_drawn(cls, center: Array, wheels: Array, chassis: Array, axle: Array) -> "Linkage":
        """The linkage whose rods are just as long as their ends are apart at ride height."""
        chassis, axle = np.broadcast_arrays(chassis, axle)
        wheels = np.broadcast_to(wheels, (*axle.shape[:-2], 2, 3))
        return cls(center, wheels, chassis, axle, norm(axle - chassis))


@dataclass(frozen=True)
class Pose:
    """Where the axle is, for each posture.

    Attributes:
        center: axle center, mm, shape (N, 3)
        rotation: axle axes from ride height to now, 1, shape (N, 3, 3)
        reached: share of the way from ride height that could be gone, 1 when all of it, 1, shape (N,)
        residual_mm: largest closure error left, mm, shape (N,)
    """

    center: Array
    rotation: Array
    reached: Array
    residual_mm: Array

    @property
    def ok(self) -> np.ndarray[tuple[int, ...], np.dtype[np.bool_]]:
        """Which postures were reached."""
        return self.reached >= 1.0


def placed(linkage: Linkage, pose: Pose, points: Array) -> Array:
    """Where axle-fixed points are at a pose.

    Args:
        linkage: the linkage, mm, shape (..., n, 3)
        pose: the pose, mm and 1, shape (N, 3)
        points: axle-fixed points given at ride height, mm, shape (..., m, 3)

    Returns:
        The points in chassis axes, mm, shape (N, m, 3).

    Source: derived here; a rigid displacement.
    """
    moved: Array = pose.center[..., None, :] + turn(pose.rotation, points - linkage.center[..., None, :])
    return moved


def closure(linkage: Linkage, center: Array, rotation: Array, travel: Array) -> tuple[Array, Array]:
    """How far a pose is from closing the linkage, and the constraint rows there.

    Args:
        linkage: the linkage, mm, shape (..., n, 3)
        center: axle center, mm, shape (..., 3)
        rotation: axle axes from ride height to now, 1, shape (..., 3, 3)
        travel: rise asked of the left and right wheel centers, mm, shape (..., 2)

    Returns:
        Residuals: rods too long (+), wheels too high (+), mm, shape (..., n + 2); and rows on the twist (v, w) of the
        axle, 1 and mm, shape (..., n + 2, 6).

    Source: derived here; the row of a rod is the velocity of its axle end along the rod.
    """
    n = linkage.chassis.shape[-2]
    points = np.concatenate((linkage.axle, linkage.wheels), axis=-2) - linkage.center[..., None, :]
    arm = turn(rotation, points)
    span = center[..., None, :] + arm[..., :n, :] - linkage.chassis
    length = norm(span)
    direction = np.zeros(arm.shape)
    direction[..., :n, :] = span / length[..., None]
    direction[..., n:, 2] = 1.0
    residual = np.empty(arm.shape[:-1])
    residual[..., :n] = length - linkage.lengths
    residual[..., n:] = center[..., None, 2] + arm[..., n:, 2] - linkage.wheels[..., 2] - travel
    rows = np.empty((*arm.shape[:-1], 6))
    rows[..., :3] = direction
    rows[..., 3:] = cross(arm, direction)
    return residual, rows


def constraint_rows(linkage: Linkage, pose: Pose) -> Array:
    """The constraint matrix at a pose: one row for each rod, then the left and right wheel-travel rows.

    Args:
        linkage: the linkage, mm, shape (..., n, 3)
        pose: the pose, mm and 1, shape (N, 3)

    Returns:
        Rows on the twist (v, w) of the axle, 1 and mm, shape (N, n + 2, 6).

    Source: derived here; the row of a rod is the velocity of its axle end along the rod.
    """
    return closure(linkage, pose.center, pose.rotation, np.zeros(2))[1]


def solve_rows(rows: Array, right: Array) -> Array:
    """Solve stacked square systems; a singular one gives nan or huge values instead of failing them all.

    Args:
        rows: matrices, 1 and mm, shape (..., m, m)
        right: right-hand sides, mm, shape (..., m)

    Returns:
        The solutions, mm and rad, shape (..., m).

    Source: derived here; LAPACK gesv through NumPy.
    """
    try:
        solution = np.linalg.solve(rows, right[..., None])
    except np.linalg.LinAlgError:
        # An exactly singular pose among many: a nudge far below any tolerance lets the others through.
        solution = np.linalg.solve(rows + 1e-12 * np.eye(rows.shape[-1]), right[..., None])
    return np.asarray(solution[..., 0], dtype=np.float64)


def _newton(linkage: Linkage, center: Array, rotation: Array, travel: Array, side: Array) -> tuple[Array, Array, Array]:
    """Newton from a start; closure error, inf where it ran into a singular pose or the mirrored branch."""
    for _ in range(_MAX_STEPS):
        residual, rows = closure(linkage, center, rotation, travel)
        worst = np.abs(residual).max(axis=-1)
        if not np.isfinite(worst).all() or (worst < 0.01 * CLOSURE_MM).all():
            break
        step = solve_rows(rows, -residual)
        # A step of more than a radian or a meter is lost already: hold it, the closure error will tell.
        step = np.where(np.isfinite(step), step, 0.0)
        step[..., :3] = np.clip(step[..., :3], -1000.0, 1000.0)
        step[..., 3:] = np.clip(step[..., 3:], -1.0, 1.0)
        center = center + step[..., :3]
        rotation = small_rotation(step[..., 3:]) @ rotation
        if np.abs(residual).max() < 1e-5 and np.abs(step).max() < 1e-5:
            # Quadratic convergence: one more step would change nothing that a float can hold.
            residual, rows = closure(linkage, center, rotation, travel)
            worst = np.abs(residual).max(axis=-1)
            break
    good = (worst < CLOSURE_MM) & (np.sign(np.linalg.det(rows)) == side)
    return center, rotation, np.where(good, worst, np.inf)


def solve_posture(linkage: Linkage, left: Array, right: Array, start: Pose | None = None) -> Pose:
    """Where the axle goes when its wheel centers rise by given amounts relative to the chassis.

    Newton's method on the stacked rows, all postures at once, from ride height; postures that do not close, or close
    on the other branch of the linkage, are followed step by step along the way from ride height until they lock up.

    Args:
        linkage: determinate linkage (four rods), mm, shape (..., 4, 3)
        left: rise of the left wheel center, mm, bump +, shape (N,)
        right: rise of the right wheel center, mm, bump +, shape (N,)
        start: poses to start from in place of ride height (of a neighboring linkage or posture), mm, shape (N, 3)

    Returns:
        The pose of each posture; where `reached` is below 1 the pose is the last one on the way, mm, shape (N, 3).

    Raises:
        ValueError: the linkage has not just four rods.

    Valid for: any travel up to lock-up; `residual_mm` is below 1e-9 wherever `reached` is 1.

    Source: derived here; Newton-Raphson on the closure equations (Shabana, Dynamics of Multibody Systems, ch. 3).
    """
    if linkage.chassis.shape[-2] != 4:
        raise ValueError("four rods hold an axle; this linkage has another number")
    travel = np.stack(np.broadcast_arrays(left, right), axis=-1).astype(np.float64)
    batch = np.broadcast_shapes(travel.shape[:-1], linkage.chassis.shape[:-2])
    travel = np.broadcast_to(travel, (*batch, 2))
    center = np.broadcast_to(linkage.center if start is None else start.center, (*batch, 3))
    rotation = np.broadcast_to(np.eye(3) if start is None else start.rotation, (*batch, 3, 3))
    _, rows = closure(linkage, linkage.center, np.eye(3), np.zeros(2))
    side = np.broadcast_to(np.sign(np.linalg.det(rows)), batch)
    center, rotation, residual = _newton(linkage, center, rotation, travel, side)
    reached = np.where(np.isfinite(residual), 1.0, 0.0)
    lost = ~np.isfinite(residual)
    if lost.any():
        followed = _follow(_pick(linkage, lost, batch), travel[lost], side[lost])
        center[lost], rotation[lost], reached[lost], residual[lost] = followed
    return Pose(center, rotation, reached, residual)


def _pick(linkage: Linkage, mask: np.ndarray[tuple[int, ...], np.dtype[np.bool_]], batch: tuple[int, ...]) -> Linkage:
    """The variants of a linkage that a mask over the batch picks; an unbatched linkage serves all."""
    if linkage.chassis.ndim == 2:
        return linkage

    def part(a: Array, own: int) -> Array:
        return np.broadcast_to(a, (*batch, *a.shape[a.ndim - own :]))[mask]

    return Linkage(
        part(linkage.center, 1), part(linkage.wheels, 2), part(linkage.chassis, 2), part(linkage.axle, 2),
        part(linkage.lengths, 1),
    )  # fmt: skip


def _follow(linkage: Linkage, travel: Array, side: Array) -> tuple[Array, Array, Array, Array]:
    """Go from ride height toward each posture in ever smaller steps, up to lock-up."""
    n = travel.shape[0]
    center = np.broadcast_to(linkage.center, (n, 3)).copy()
    rotation = np.broadcast_to(np.eye(3), (n, 3, 3)).copy()
    reached, step, residual = np.zeros(n), np.full(n, 1 / 16), np.zeros(n)
    while True:
        going = (step > 1e-5) & (reached < 1.0)
        if not going.any():
            return center, rotation, reached, residual
        aim = np.minimum(reached + step, 1.0)
        trial_center, trial_rotation, left_over = _newton(linkage, center, rotation, aim[:, None] * travel, side)
        moved = np.abs(trial_center - center).max(axis=-1)
        # A branch jump shows as a leap of the axle far beyond what the wheels were moved by. Right before lock-up the
        # axle does run away faster and faster, so small leaps are let pass: the steps shrink until none is a jump.
        leap = moved > 20.0 * (aim - reached) * np.abs(travel).max(axis=-1) + 2.0
        good = going & np.isfinite(left_over) & ~leap
        center[good], rotation[good] = trial_center[good], trial_rotation[good]
        residual[good], reached[good] = left_over[good], aim[good]
        step = np.where(good, step * 1.5, step / 2)


def constraint_freedoms(linkage: Linkage) -> tuple[int, Array]:
    """How many independent ways the members hold the axle, and the motions they leave free, at ride height.

    Args:
        linkage: any number of rods, mm, shape (n, 3)

    Returns:
        The rank of the rods and wheel rows together (6 when the axle is held), and the free twists (v, w) as rows,
        1 and rad per mm scaled to unit length, shape (6 - rank, 6).

    Source: derived here; singular values of the constraint rows with moments divided by half the track.
    """
    _, rows = closure(linkage, linkage.center, np.eye(3), np.zeros(2))
    scale = np.array([1.0, 1.0, 1.0, *([1.0 / (0.5 * abs(linkage.wheels[0, 1] - linkage.wheels[1, 1]))] * 3)])
    _, values, directions = np.linalg.svd(rows * scale)
    rank = int((values > 1e-6 * values[0]).sum())
    return rank, directions[rank:]
