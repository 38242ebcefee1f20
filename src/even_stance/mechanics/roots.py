"""A root between two places: a few lines here, as the library that has it takes most of a second to load."""

from collections.abc import Callable

_STEPS = 100


def crossing(value: Callable[[float], float], low: float, high: float, within: float) -> float:
    """Where a continuous function of one number comes to nil between two places of opposite sign.

    Args:
        value: the function, any unit (1, mm or deg), shape () to shape ()
        low: one place, unit of its argument (1, mm or deg), shape ()
        high: the other, unit of its argument (1, mm or deg), shape ()
        within: how near the root, unit of its argument (1, mm or deg), shape ()

    Returns:
        The place, unit of the argument, shape ().

    Source: Dowell and Jarratt, A modified regula falsi method, BIT 11 (1971), the Illinois rule; from memory.
    """
    a, b, fa, fb = low, high, value(low), value(high)
    for _ in range(_STEPS):
        if fb == 0.0 or abs(b - a) <= within:
            return b
        c = b - fb * (b - a) / (fb - fa)
        if abs(c - b) <= within:
            return c
        fc = value(c)
        if fc * fb < 0.0:
            a, fa = b, fb
        else:
            fa *= 0.5
        b, fb = c, fc
    return b
