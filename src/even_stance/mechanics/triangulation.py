"""How links that run at an angle in plan view hold an axle sideways."""

import numpy as np

from even_stance.mechanics.vectors import Array


def included_angle(a: Array, b: Array) -> Array:
    """Angle between two links in plan view.

    Args:
        a: along one link, mm, shape (..., 3)
        b: along the other, mm, shape (..., 3)

    Returns:
        The angle, rad, shape (...), from 0 to pi.

    Source: derived here; the angle between two vectors.
    """
    sine = np.abs(a[..., 0] * b[..., 1] - a[..., 1] * b[..., 0])
    angle: Array = np.arctan2(sine, a[..., 0] * b[..., 0] + a[..., 1] * b[..., 1])
    return angle


def one_pair_like(angles: Array) -> Array:
    """The included angle of one pair of links that holds sideways as well as several pairs together.

    A link at an angle t to the centerline holds sideways with k sin^2 t. Links of like stiffness add up: a pair that
    includes 2t gives 2 k sin^2 t, so that sin^2 of half the angle is the sum over the pairs.

    Args:
        angles: what each pair includes, rad, shape (..., pairs)

    Returns:
        The angle of the one pair, rad, shape (...).

    Source: derived here; springs side by side.
    """
    total = (np.sin(angles / 2) ** 2).sum(axis=-1)
    angle: Array = 2.0 * np.arcsin(np.sqrt(np.minimum(total, 1.0)))
    return angle
