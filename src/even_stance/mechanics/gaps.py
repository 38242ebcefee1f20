"""Closed-form distances between straight pieces, and between places and convex outlines."""

from collections.abc import Callable

import numpy as np

from even_stance.mechanics.vectors import Array, dot, norm

_ROUNDS = 24


def segments_gap(a: Array, b: Array, c: Array, d: Array) -> Array:
    """The least distance between two straight pieces in space.

    Args:
        a: first end of the one, mm, shape (..., 3)
        b: its other end, mm, shape (..., 3)
        c: first end of the other, mm, shape (..., 3)
        d: its other end, mm, shape (..., 3)

    Returns:
        The distance, mm, shape (...).

    Source: C. Ericson, Real-Time Collision Detection, 2005, 5.1.9, closest points of two segments (from memory).
    """
    a, b, c, d = np.broadcast_arrays(a, b, c, d)
    one, two, apart = b - a, d - c, a - c
    aa, ee, ab = dot(one, one), dot(two, two), dot(one, two)
    f, g = dot(two, apart), dot(one, apart)
    lies = aa * ee - ab * ab
    tiny = 1e-12
    s = np.where(lies > tiny * aa * ee + tiny, np.clip((ab * f - g * ee) / np.maximum(lies, tiny), 0.0, 1.0), 0.0)
    t = np.where(ee > tiny, (ab * s + f) / np.maximum(ee, tiny), 0.0)
    # Of two that are no more than a place each, and of one, the other's nearest share is all there is to find.
    s = np.where((t < 0.0) | (ee <= tiny), np.clip(-g / np.maximum(aa, tiny), 0.0, 1.0), s)
    s = np.where(t > 1.0, np.clip((ab - g) / np.maximum(aa, tiny), 0.0, 1.0), s)
    t = np.clip(t, 0.0, 1.0)
    gap: Array = norm(apart + s[..., None] * one - t[..., None] * two)
    return gap


def outline_gap(places: Array, corners: Array) -> Array:
    """How far places in a plane are from a convex outline; nil inside it.

    Args:
        places: mm, shape (..., 2)
        corners: of the outline, in order either way round, mm, shape (k, 2)

    Returns:
        The distance, mm, shape (...).

    Source: derived here; the nearest of all edges, and the sign of the crosses for what lies inside.
    """
    starts, runs = corners, np.roll(corners, -1, axis=0) - corners
    off = places[..., None, :] - starts
    share = np.clip((off * runs).sum(axis=-1) / np.maximum((runs**2).sum(axis=-1), 1e-12), 0.0, 1.0)
    away = np.sqrt(((off - share[..., None] * runs) ** 2).sum(axis=-1)).min(axis=-1)
    side = runs[:, 0] * off[..., 1] - runs[:, 1] * off[..., 0]
    inside = (side >= 0.0).all(axis=-1) | (side <= 0.0).all(axis=-1)
    gap: Array = np.where(inside, 0.0, away)
    return gap


def least_along(gap: Callable[[Array], Array], a: Array, b: Array) -> Array:
    """The least distance of a straight piece from something convex, whose distance from a place is known.

    Args:
        gap: distance of places from it, mm, shape (..., 3) to (...)
        a: first end of the piece, mm, shape (..., 3)
        b: its other end, mm, shape (..., 3)

    Returns:
        The distance, mm, shape (...).

    Source: derived here; the distance from a convex body is convex along a line, so that thirds close in on its least.
    """
    low, high = np.zeros(a.shape[:-1]), np.ones(a.shape[:-1])
    for _ in range(_ROUNDS):
        near, far = low + (high - low) / 3.0, high - (high - low) / 3.0
        first, second = (gap(a + share[..., None] * (b - a)) for share in (near, far))
        low, high = np.where(first > second, near, low), np.where(first > second, high, far)
    least: Array = gap(a + (0.5 * (low + high))[..., None] * (b - a))
    return least
