"""How a tire gives: its rate from size and pressure, and a rate in series with that of the springs."""

import numpy as np

from even_stance.mechanics.vectors import Array

KG_PER_MM = 9.80665  # a kilogram-force per millimeter, N/mm (ISO 80000-3)


def tire_rate(diameter: float, width: float, pressure: float, aspect: float = 75.0) -> float:
    """How stiff a radial tire is as it stands, guessed from its size: 0.00028 P root((1.03 - 0.004 A) W D) + 3.45.

    Args:
        diameter: free outside diameter D, mm, shape ()
        width: section width W, mm, shape ()
        pressure: over that of the air around it P, bar (a bar is 0.1 N/mm^2), shape ()
        aspect: height of the section over its width A, % (100 where it is 1), shape ()

    Returns:
        The rate, N/mm, shape (); good to a fifth.

    Source: Rhyne, Development of a Vertical Stiffness Relationship for Belted Radial Tires, Tire Science and
    Technology 33 (2005), in kg/mm and kPa (from memory).
    """
    stiff = 0.00028 * 100.0 * pressure * np.sqrt((1.03 - 0.004 * aspect) * width * diameter) + 3.45
    return float(KG_PER_MM * stiff)


def in_series(springs: Array, tires: float) -> Array:
    """The rate of springs that stand on tires: k t / (k + t).

    Args:
        springs: their rate at the wheels k, N/mm, shape (...)
        tires: that of the tires t, N/mm, shape ()

    Returns:
        The rate, N/mm, shape (...); what is below nil stays so.

    Source: Gillespie, Fundamentals of Vehicle Dynamics, ch. 5, ride rate.
    """
    rate: Array = np.asarray(springs) * tires / (np.asarray(springs) + tires)
    return rate
