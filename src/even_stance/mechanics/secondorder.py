"""How the twists of an axle change as its wheels move: what springs need for the part of a rate that is geometry."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from even_stance.mechanics.linkage import Linkage, constraint_rows
from even_stance.mechanics.motion import Twists, twists
from even_stance.mechanics.newton import solve_columns, stepped
from even_stance.mechanics.pose import Pose
from even_stance.mechanics.position import nudged
from even_stance.mechanics.vectors import Array, dot, norm, skew

STEP_MM = 0.5  # of wheel travel: closure of a nudged pose errs with its square, the same forth and back
_H = 0.1  # mm of wheel travel, for differences of exact functions
# Left and right travel of the differences: either forth and back, both forth, both back.
_OFFS = _H * np.array([[1.0, -1.0, 0.0, 0.0, 1.0, -1.0], [0.0, 0.0, 1.0, -1.0, 1.0, -1.0]])


@dataclass(frozen=True, eq=False)
class Rates:
    """Twists of an axle per unit of travel of either wheel, and how they change with the travel of either.

    Attributes:
        first: (v, w) for the left and for the right wheel rising alone, 1 and rad/mm, shape (..., N, 2, 6)
        second: by which wheel the twist belongs to and which one moves on, 1/mm and rad/mm^2, shape (..., N, 2, 2, 6);
            None where it was not asked for.
    """

    first: Array
    second: Array | None


def _one_by_one(moving: Twists) -> Array:
    """Twists for the left and the right wheel alone, shape (..., N, 2, 6)."""
    return np.stack((moving.left, moving.heave - moving.left), axis=-2)


def wheel_rates(linkage: Linkage, pose: Pose, moving: Twists, left: Array, right: Array, second: bool = True) -> Rates:
    """The twists for each wheel alone and how they change as either wheel moves on.

    Of a determinate linkage J q' = rates, so that J dq' = -dJ q', dJ by central differences of the rows along either
    twist. Of one that gives, by central differences over poses half a millimeter of travel off.

    Args:
        linkage: the linkage, mm, shape (n, 3)
        pose: solved poses, mm, shape (N, 3)
        moving: the twists there, 1 and rad/mm, shape (N, 6)
        left: rise of the left wheel center, mm, shape (N,)
        right: rise of the right wheel center, mm, shape (N,)
        second: whether their change is wanted, 1, shape ()

    Returns:
        The rates, 1 and 1/mm, shape (N, 2, 6) and (N, 2, 2, 6).

    Source: derived here.
    """
    if not second:
        return Rates(_one_by_one(moving), None)
    if linkage.stiffness is None:
        return _determinate(linkage, pose)
    h = STEP_MM
    lefts = np.stack((left + h, left - h, left, left))
    rights = np.stack((right, right, right + h, right - h))
    there = _one_by_one(twists(linkage, nudged(linkage, lefts, rights, pose)))
    change = np.stack(((there[0] - there[1]) / (2 * h), (there[2] - there[3]) / (2 * h)), axis=-2)
    return Rates(_one_by_one(moving), change)


def _determinate(linkage: Linkage, pose: Pose) -> Rates:
    """Twists and their change of a linkage that its rows alone hold."""
    rows, h = constraint_rows(linkage, pose), STEP_MM
    asked = np.zeros((rows.shape[-1], 2))
    asked[-2:] = np.eye(2)
    both = solve_columns(rows, asked)
    bends = []
    for j in (0, 1):
        step = h * both[..., j]
        change = constraint_rows(linkage, stepped(pose, step)) - constraint_rows(linkage, stepped(pose, -step))
        bends.append(-(change @ both) / (2 * h))
    found = solve_columns(rows, np.concatenate(bends, axis=-1))
    # Columns: the left and right twist as the left wheel moves on, then both as the right one does.
    change = np.swapaxes(found[..., :6, :], -1, -2).reshape(*found.shape[:-2], 2, 2, 6)
    first = np.swapaxes(both[..., :6, :], -1, -2)
    return Rates(first, np.swapaxes(change, -3, -2))


@dataclass(frozen=True, eq=False)
class Moving:
    """Points that go along with an axle: where they are and how they move with the travel of either wheel.

    Attributes:
        at: mm, shape (..., N, m, 3)
        first: per mm of either wheel, 1, shape (..., N, 2, m, 3)
        second: per mm of one wheel and of the other, 1/mm, shape (..., N, 2, 2, m, 3); None where not asked for.
    """

    at: Array
    first: Array
    second: Array | None


def moving_points(linkage: Linkage, pose: Pose, rates: Rates, points: Array) -> Moving:
    """Points fixed to an axle, as its wheels move: v + w x r, and the change of that.

    Args:
        linkage: the linkage, for where the axle stands at ride height, mm, shape (n, 3)
        pose: solved poses, mm, shape (N, 3)
        rates: the twists and their change, 1 and 1/mm, shape (N, 2, 6)
        points: given at ride height, mm, shape (..., 1, m, 3) or (m, 3)

    Returns:
        The points and their derivatives, mm, 1 and 1/mm, shape (..., N, m, 3).

    Source: derived here, from the motion of a rigid body.
    """
    arm = (points - linkage.center) @ np.swapaxes(pose.rotation, -1, -2)
    v, w = rates.first[..., None, :3], skew(rates.first[..., 3:])
    first = v + arm[..., None, :, :] @ np.swapaxes(w, -1, -2)
    if rates.second is None:
        return Moving(pose.center[..., None, :] + arm, first, None)
    # One small matrix for each pair of wheels, dw x + w x w x, does for all points what a cross product of each would.
    turn = skew(rates.second[..., 3:]) + w[..., :, None, :, :] @ w[..., None, :, :, :]
    second = rates.second[..., None, :3] + arm[..., None, None, :, :] @ np.swapaxes(turn, -1, -2)
    return Moving(pose.center[..., None, :] + arm, first, second)


def derivatives(measure: Callable[[Array], Array], moving: Moving) -> tuple[Array, Array, Array | None]:
    """A length, angle or the like that some moving points make, with its derivatives along the travel of either wheel.

    The points' own first and second derivatives are exact; the measure is differenced a tenth of a millimeter forth and
    back along them.

    Args:
        measure: from points, mm, shape (..., m, 3), to the number, mm or rad, shape (...)
        moving: the points and how they move, mm, shape (..., N, m, 3)

    Returns:
        The number, mm or rad, shape (..., N); per mm of either wheel, shape (..., N, 2); per mm of one wheel and of the
        other, shape (..., N, 2, 2), or None where the points' second derivatives are not known.

    Source: derived here.
    """
    h, value = _H, measure(moving.at)
    left, right = moving.first[..., 0, :, :], moving.first[..., 1, :, :]
    if moving.second is None:
        first = [(measure(moving.at + h * d) - measure(moving.at - h * d)) / (2 * h) for d in (left, right)]
        return value, np.stack(first, axis=-1), None
    bend, (a, b) = moving.second, _OFFS.reshape(2, -1, *[1] * moving.at.ndim)
    mixed = bend[..., 0, 1, :, :] + bend[..., 1, 0, :, :]
    curved = a * a * bend[..., 0, 0, :, :] + b * b * bend[..., 1, 1, :, :] + a * b * mixed
    ahead, back, outer, inner, both, neither = measure(moving.at + a * left + b * right + 0.5 * curved)
    slope = np.stack(((ahead - back) / (2 * h), (outer - inner) / (2 * h)), axis=-1)
    ll, rr = (ahead - 2 * value + back) / h**2, (outer - 2 * value + inner) / h**2
    lr = (both - ahead - outer + 2 * value - back - inner + neither) / (2 * h**2)
    return value, slope, np.stack((np.stack((ll, lr), axis=-1), np.stack((lr, rr), axis=-1)), axis=-2)


def distances(tops: Array, moving: Moving) -> tuple[Array, Array, Array | None]:
    """How far some moving points are from fixed ones, with the derivatives along the travel of either wheel.

    With n the direction between them, l' = n p' and l'' = n p'' + (p' p' - (n p')(n p')) / l.

    Args:
        tops: the fixed points, mm, shape (m, 3)
        moving: the moving points, mm, shape (N, m, 3)

    Returns:
        The distances, mm, shape (N, m); per mm of either wheel, shape (N, m, 2); per mm of one and of the other, shape
        (N, m, 2, 2), or None where the points' second derivatives are not known.

    Source: derived here.
    """
    span = moving.at - tops
    length = norm(span)
    way = (span / length[..., None])[..., None, :, :]
    slope = dot(moving.first, way)  # (N, 2, m)
    if moving.second is None:
        return length, np.swapaxes(slope, -1, -2), None
    one, other = moving.first[..., :, None, :, :], moving.first[..., None, :, :, :]
    across = dot(one, other) - slope[..., :, None, :] * slope[..., None, :, :]
    bend = dot(moving.second, way[..., None, :, :, :]) + across / length[..., None, None, :]
    return length, np.swapaxes(slope, -1, -2), np.moveaxis(bend, -1, -3)
