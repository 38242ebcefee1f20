"""Several readings of one thing: their mean, their scatter, and the one that does not belong."""

from functools import cache

import numpy as np

from even_stance.mechanics.vectors import Array


@cache
def grubbs_limit(count: int, risk: float = 0.05) -> float:
    """How many standard deviations one of several readings may be from their mean before it is an outlier.

    (n - 1) / sqrt(n) sqrt(t^2 / (n - 2 + t^2)), t the upper risk / n point of Student's t with n - 2 degrees of
    freedom.

    Args:
        count: how many readings, 3 or more, 1, shape ()
        risk: chance of blaming a good reading, one-sided, 1, shape ()

    Returns:
        The limit, 1, shape ().

    Source: ASTM E178, Dealing with Outlying Observations (Grubbs' test for one outlier).
    """
    from scipy.special import stdtrit  # noqa: PLC0415 - only those with three readings of a thing wait for it

    t = stdtrit(count - 2, 1.0 - risk / count)
    return float((count - 1) / np.sqrt(count) * np.sqrt(t * t / (count - 2 + t * t)))


def outlier(values: Array, least: float) -> int:
    """Which reading does not belong with the others.

    Args:
        values: readings of one thing, mm, deg or kg, shape (n,)
        least: differences below this are the tool's own, mm, deg or kg, shape ()

    Returns:
        Its index, or -1 when all belong or there are fewer than three, 1, shape ().

    Source: ASTM E178 (Grubbs' test).
    """
    if len(values) < 3:
        return -1
    off = np.abs(values - values.mean())
    deviation = float(values.std(ddof=1))
    worst = int(np.argmax(off))
    if off[worst] <= least or deviation == 0.0:
        return -1
    return worst if off[worst] / deviation > grubbs_limit(len(values)) else -1


def mean_and_sure(values: Array, tool: float) -> tuple[float, float]:
    """Mean of several readings and how sure it is.

    The +/- of the mean is its scatter over the square root of the count, put together with half of what the tool
    itself is good for (its own error does not average out).

    Args:
        values: readings of one thing, mm, deg or kg, shape (n,)
        tool: +/- of a single reading of this kind of tool, mm, deg or kg, shape ()

    Returns:
        Mean and +/-, mm, deg or kg, shape () each; of a single reading the tool's own +/-.

    Source: ISO/IEC Guide 98-3 (GUM), type A evaluation of repeated readings; half the tool's error as common to all
    is our choice.
    """
    count = len(values)
    mean = float(values.mean())
    if count < 2:
        return mean, tool
    scatter = float(values.std(ddof=1)) / np.sqrt(count)
    return mean, float(np.hypot(scatter, tool / 2))
