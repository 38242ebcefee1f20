"""Small vector arithmetic on stacks of 3-vectors: plain component forms, several times faster than the general ones."""

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]


def cross(a: Array, b: Array, out: Array | None = None) -> Array:
    """Cross product a x b.

    Args:
        a: vectors, any unit (mm, N or 1), shape (..., 3)
        b: vectors, any unit (mm, N or 1), shape (..., 3), broadcast against a
        out: an array to put it in, unit a times unit b (mm, N, 1 or N mm), shape (..., 3)

    Returns:
        a x b, unit a times unit b, shape (..., 3).

    Source: derived here, from the definition.
    """
    a0, a1, a2 = a[..., 0], a[..., 1], a[..., 2]
    b0, b1, b2 = b[..., 0], b[..., 1], b[..., 2]
    c0 = a1 * b2 - a2 * b1
    if out is None:
        out = np.empty((*c0.shape, 3))
    out[..., 0] = c0
    out[..., 1] = a2 * b0 - a0 * b2
    out[..., 2] = a0 * b1 - a1 * b0
    return out


def dot(a: Array, b: Array) -> Array:
    """Scalar product a . b.

    Args:
        a: vectors, any unit (mm, N or 1), shape (..., 3)
        b: vectors, any unit (mm, N or 1), shape (..., 3), broadcast against a

    Returns:
        a . b, unit a times unit b, shape (...).

    Source: derived here, from the definition.
    """
    product: Array = a[..., 0] * b[..., 0] + a[..., 1] * b[..., 1] + a[..., 2] * b[..., 2]
    return product


def norm(a: Array) -> Array:
    """Length of vectors.

    Args:
        a: vectors, mm, shape (..., 3)

    Returns:
        |a|, mm, shape (...).

    Source: derived here, from the definition.
    """
    length: Array = np.sqrt(a[..., 0] ** 2 + a[..., 1] ** 2 + a[..., 2] ** 2)
    return length


def skew(a: Array) -> Array:
    """The matrix of a cross product: skew(a) b = a x b.

    Args:
        a: vectors, any unit (mm, N or 1), shape (..., 3)

    Returns:
        The matrices, unit of a, shape (..., 3, 3).

    Source: derived here, from the definition.
    """
    x, y, z = a[..., 0], a[..., 1], a[..., 2]
    out = np.zeros((*a.shape, 3))
    out[..., 0, 1], out[..., 0, 2], out[..., 1, 2] = -z, y, -x
    out[..., 1, 0], out[..., 2, 0], out[..., 2, 1] = z, -y, x
    return out


def small_rotation(w: Array) -> Array:
    """Rotation matrices that turn by about w; exact rotations for any w (Cayley form).

    R = I + 2 / (1 + |a|^2) ([a]x + [a]x^2) with a = w / 2, right-handed; equals the rotation by w to second
    order, which is what a Newton step needs.

    Args:
        w: rotation vectors, rad, shape (..., 3)

    Returns:
        Rotation matrices, 1, shape (..., 3, 3).

    Source: Shabana, Dynamics of Multibody Systems, Rodriguez parameters (from memory).
    """
    x, y, z = 0.5 * w[..., 0], 0.5 * w[..., 1], 0.5 * w[..., 2]
    xx, yy, zz = x * x, y * y, z * z
    f = 2.0 / (1.0 + xx + yy + zz)
    out = np.empty((*x.shape, 3, 3))
    out[..., 0, 0] = 1.0 - f * (yy + zz)
    out[..., 1, 1] = 1.0 - f * (xx + zz)
    out[..., 2, 2] = 1.0 - f * (xx + yy)
    xy, xz, yz = x * y, x * z, y * z
    out[..., 0, 1], out[..., 1, 0] = f * (xy - z), f * (xy + z)
    out[..., 0, 2], out[..., 2, 0] = f * (xz + y), f * (xz - y)
    out[..., 1, 2], out[..., 2, 1] = f * (yz - x), f * (yz + x)
    return out


def turn(rotation: Array, points: Array) -> Array:
    """Turn several points by each of several rotations.

    Args:
        rotation: rotation matrices, 1, shape (..., 3, 3)
        points: points about the center of rotation, mm, shape (..., n, 3)

    Returns:
        The turned points, mm, shape (..., n, 3).

    Source: derived here, from the definition.
    """
    turned: Array = points @ np.swapaxes(rotation, -1, -2)
    return turned


def turned_about(axis: Array, angle: Array, arm: Array) -> Array:
    """An arm turned about an axis.

    Args:
        axis: unit vector, 1, shape (..., 3)
        angle: the turn, right-handed, rad, shape (...)
        arm: from the axis to the point, mm, shape (..., m, 3)

    Returns:
        The turned arm, mm, shape (..., m, 3).

    Source: Rodrigues' rotation formula (Shabana, Dynamics of Multibody Systems, from memory).
    """
    axis = axis[..., None, :]
    c, s = np.cos(angle)[..., None, None], np.sin(angle)[..., None, None]
    along = (arm * axis).sum(axis=-1)[..., None] * axis
    turned: Array = along + c * (arm - along) + s * cross(axis, arm)
    return turned


def short_turn(before: Array, after: Array) -> Array:
    """The rotation that takes one direction to another the short way.

    Args:
        before: a direction, mm, shape (3,)
        after: where it points now, mm, shape (N, 3)

    Returns:
        Rotation matrices, 1, shape (N, 3, 3).

    Source: derived here; Rodrigues' formula with the cross product of both as its axis.
    """
    old, new = before / norm(before), after / np.maximum(norm(after), 1e-9)[:, None]
    axis, cosine = cross(np.broadcast_to(old, new.shape), new), dot(new, np.broadcast_to(old, new.shape))
    v = skew(axis)
    rotation: Array = np.eye(3) + v + v @ v / np.maximum(1.0 + cosine, 1e-9)[:, None, None]
    return rotation
