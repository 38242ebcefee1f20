"""The line construction on paper: two link lines, where they cross, and what that says of the contact patch."""

import numpy as np

from even_stance.mechanics.vectors import Array


def slope_by_crossing(upper: Array, lower: Array, contact: Array) -> float | None:
    """Contact slope dx/dz from the crossing of an upper and a lower line in side view; parallel lines give theirs.

    A point that turns about the crossing moves square to the line to it: dx / dz = -(z / x).

    Args:
        upper: two points of the upper line, ahead and up, mm, shape (2, 2)
        lower: two points of the lower line, mm, shape (2, 2)
        contact: the contact patch, mm, shape (2,)

    Returns:
        The slope, 1, shape (); None where the crossing is straight above the contact patch.

    Source: Gillespie, Fundamentals of Vehicle Dynamics, ch. 7, instant center by line crossing.
    """
    (p, q), (r, s) = upper, lower
    d, e = q - p, s - r
    cross = d[0] * e[1] - d[1] * e[0]
    if abs(cross) < 1e-6 * float(np.linalg.norm(d) * np.linalg.norm(e)):
        return float(-d[1] / d[0])
    t = ((r - p)[0] * e[1] - (r - p)[1] * e[0]) / cross
    to = p + t * d - contact
    return float(-to[1] / to[0]) if abs(to[0]) > 1e-6 else None
