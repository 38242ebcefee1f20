"""Where the center of gravity is, from scales under the wheels."""

import numpy as np

from even_stance.mechanics.vectors import Array


def cg_over_ground(loads: Array, wheels: Array) -> tuple[Array, Array]:
    """Total weight and where it stands over the ground, from the scales under all wheels.

    Args:
        loads: what each scale shows, kg, shape (..., k)
        wheels: where each scale stands, ahead and left, mm, shape (..., k, 2)

    Returns:
        Total, kg, shape (...); ahead and left of its center, mm, shape (..., 2).

    Source: derived here; balance of moments.
    """
    total: Array = loads.sum(axis=-1)
    place: Array = (loads[..., None] * wheels).sum(axis=-2) / total[..., None]
    return total, place


def cg_height_by_lift(total: Array, level: Array, raised: Array, wheelbase: Array, lift: Array, radius: Array) -> Array:
    """Height of the center of gravity from scales under one axle, level and with the other axle lifted.

    h = r + (Wr - W0) L / (W tan a), sin a = lift / L: lifting one end by the angle a moves the weight over toward the
    axle that stays down by as much as the center of gravity is higher than the wheel centers. The suspension is locked
    and the wheels are free to roll, so that the load acts below the wheel centers.

    Args:
        total: weight of the whole vehicle, kg, shape (...)
        level: load of the axle on the scales, level, kg, shape (...)
        raised: the same with the other axle lifted, kg, shape (...)
        wheelbase: axle to axle, level, mm, shape (...)
        lift: how far the other axle's wheel centers were lifted, mm, shape (...)
        radius: height of the wheel centers above ground (their mean at the CG, if they differ), mm, shape (...)

    Returns:
        Height above ground when level, mm, shape (...).

    Source: Milliken and Milliken, Race Car Vehicle Dynamics, ch. 18 (from memory); ISO 10392 uses the same balance.
    """
    angle = np.arcsin(lift / wheelbase)
    height: Array = radius + (raised - level) * wheelbase / (total * np.tan(angle))
    return height
