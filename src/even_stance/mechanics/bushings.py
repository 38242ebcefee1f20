"""What joints and bushings give: one behind the other, and two that hold an arm between them."""

from even_stance.mechanics.vectors import Array


def in_series(a: float, b: float) -> float:
    """Stiffness of two springs one behind the other: 1 / (1 / a + 1 / b).

    Args:
        a: of one, N/mm, shape ()
        b: of the other, N/mm, shape ()

    Returns:
        Of both, N/mm, shape ().

    Source: derived here; both carry the same force.
    """
    return 1.0 / (1.0 / a + 1.0 / b)


def clamped_arm(joints: float, bushing: float, apart: float, length: Array) -> Array:
    """Stiffness up and down at the end of an arm that two clamp bushings hold, in series with its other joints.

    Two bushings of stiffness k, s apart, turn with k s^2 / 2 per radian; at the end, a length L away, that is a
    stiffness of k s^2 / (2 L^2).

    Args:
        joints: of the joints in series, N/mm, shape ()
        bushing: radial stiffness k of each clamp bushing, N/mm, shape ()
        apart: their distance s, mm, shape ()
        length: clamp to end L, mm, shape (...)

    Returns:
        The stiffness, N/mm, shape (...).

    Source: derived here.
    """
    stiffness: Array = 1.0 / (1.0 / joints + 2.0 * length**2 / (bushing * apart**2))
    return stiffness
