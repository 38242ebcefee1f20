"""A body that tilts about the line through two of its points, by how far a third one is raised."""

import numpy as np

from even_stance.mechanics.vectors import Array, cross, dot, norm, turned_about


def tilt_angle(left: Array, right: Array, tail: Array, rise: Array | float) -> Array:
    """How far a body turns about a line so that one of its points is raised by so much.

    With n the line, e the arm to the point square to it, and up z: z . (e cos a + (n x e) sin a) = z . e + rise, the
    root next to nil.

    Args:
        left: one point of the line, mm, shape (3,)
        right: another, mm, shape (3,)
        tail: the point that is raised, mm, shape (3,)
        rise: how far, mm, shape (...)

    Returns:
        The turn, right-handed from the right point to the left one, rad, shape (...); nan beyond what it can.

    Source: derived here; Rodrigues' formula.
    """
    axis = (left - right) / norm(left - right)
    arm = tail - right
    arm = arm - dot(arm, axis) * axis
    level, upright = arm[..., 2], cross(axis, arm)[..., 2]
    size, start = np.hypot(level, upright), np.arctan2(upright, level)
    wanted = (level + np.asarray(rise)) / np.maximum(size, 1e-9)
    turn = np.arccos(np.where(np.abs(wanted) <= 1.0, wanted, np.nan))
    both = np.stack((start + turn, start - turn))
    both = (both + np.pi) % (2.0 * np.pi) - np.pi
    angle: Array = np.take_along_axis(both, np.abs(both).argmin(axis=0)[None], axis=0)[0]
    return angle


def tilted(left: Array, right: Array, angle: Array, points: Array) -> Array:
    """Points of a body that has turned about the line through two of its points.

    Args:
        left: one point of the line, mm, shape (3,)
        right: another, mm, shape (3,)
        angle: the turn, right-handed from the right point to the left one, rad, shape (...)
        points: points of the body, mm, shape (m, 3)

    Returns:
        Where they are, mm, shape (..., m, 3).

    Source: Rodrigues' rotation formula.
    """
    axis = np.broadcast_to((left - right) / norm(left - right), (*np.shape(angle), 3))
    arm = np.broadcast_to(points - right, (*np.shape(angle), *points.shape))
    moved: Array = right + turned_about(axis, np.asarray(angle), arm)
    return moved
