"""Where a curve that is known at some places, with its slope, passes a level."""

import numpy as np

from even_stance.mechanics.vectors import Array

_ROUNDS, _SETTLED = 12, 1e-14


def crossings(x: Array, y: Array, slope: Array) -> Array:
    """Where a curve passes nil: between places with a change of sign, on the cubic that has both values and slopes.

    Args:
        x: places in rising order, mm, shape (n,)
        y: the curve there, mm, shape (n,)
        slope: its slope there, 1, shape (n,)

    Returns:
        The places, in rising order, mm, shape (k,).

    Source: derived here; Hermite's cubic, its root by Newton's method kept between the ends.
    """
    good = np.isfinite(y) & np.isfinite(slope)
    x, y, slope = x[good], y[good], slope[good]
    found = np.flatnonzero((y[:-1] <= 0.0) != (y[1:] <= 0.0)) if len(x) > 1 else np.zeros(0, dtype=int)
    if not len(found):
        return np.zeros(0)
    h = x[found + 1] - x[found]
    a, b, da, db = y[found], y[found + 1], h * slope[found], h * slope[found + 1]

    # a + da s + c s^2 + d s^3 on each piece.
    c, d = 3.0 * (b - a) - 2.0 * da - db, 2.0 * (a - b) + da + db
    low, high, at = np.zeros(len(found)), np.ones(len(found)), a / np.where(a != b, a - b, 1.0)
    for _ in range(_ROUNDS):
        value = a + at * (da + at * (c + at * d))
        same = (value <= 0.0) == (a <= 0.0)
        low, high = np.where(same, at, low), np.where(same, high, at)
        rise = da + at * (2.0 * c + at * 3.0 * d)
        step = at - value / np.where(np.abs(rise) > 1e-12, rise, np.inf)
        before, at = at, np.where((step >= low) & (step <= high), step, 0.5 * (low + high))
        if np.abs(at - before).max() < _SETTLED:
            break
    places: Array = x[found] + h * at
    return places
