"""Where a curve that is known at some places, with its slope, passes a level."""

import numpy as np

from even_stance.mechanics.vectors import Array

_ROUNDS = 50


def crossings(x: Array, y: Array, slope: Array) -> Array:
    """Where a curve passes nil: between places with a change of sign, on the cubic that has both values and slopes.

    Args:
        x: places in rising order, mm, shape (n,)
        y: the curve there, mm, shape (n,)
        slope: its slope there, 1, shape (n,)

    Returns:
        The places, in rising order, mm, shape (k,).

    Source: derived here; Hermite's cubic, its root by halving.
    """
    good = np.isfinite(y) & np.isfinite(slope)
    x, y, slope = x[good], y[good], slope[good]
    found = np.flatnonzero((y[:-1] <= 0.0) != (y[1:] <= 0.0)) if len(x) > 1 else np.zeros(0, dtype=int)
    h = x[found + 1] - x[found]
    a, b, da, db = y[found], y[found + 1], h * slope[found], h * slope[found + 1]

    def cubic(s: Array) -> Array:
        t = 1.0 - s
        value: Array = (1.0 + 2.0 * s) * t * t * a + s * t * t * da + s * s * (3.0 - 2.0 * s) * b - s * s * t * db
        return value

    low, high = np.zeros(len(found)), np.ones(len(found))
    for _ in range(_ROUNDS):
        middle = 0.5 * (low + high)
        left = (cubic(middle) <= 0.0) == (a <= 0.0)
        low, high = np.where(left, middle, low), np.where(left, high, middle)
    places: Array = x[found] + h * 0.5 * (low + high)
    return places
