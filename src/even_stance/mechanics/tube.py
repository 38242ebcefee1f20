"""How far steel tubes twist and bend: what gives behind the joints of a bound axle."""

import numpy as np

from even_stance.mechanics.vectors import Array

E_STEEL = 205_000.0  # N/mm2
G_STEEL = 79_300.0  # N/mm2: carbon steel, 11.5 million psi (Machinery's Handbook, from memory)


def polar_moment(outside: Array | float, wall: Array | float) -> Array:
    """Polar second moment of a round tube: J = pi / 32 (D^4 - d^4); a wall of half the outside or more is solid.

    Args:
        outside: outside diameter D, mm, shape (...)
        wall: wall thickness, mm, shape (...)

    Returns:
        J, mm^4 (unit N/mm of G J / L is N mm per rad), shape (...).

    Source: Roark's Formulas for Stress and Strain, torsion of circular sections (from memory).
    """
    inside = np.maximum(np.asarray(outside) - 2.0 * np.asarray(wall), 0.0)
    moment: Array = np.pi / 32.0 * (np.asarray(outside) ** 4 - inside**4)
    return moment


def twist_per_torque(outside: Array | float, wall: Array | float, length: Array | float) -> Array:
    """How far a steel tube twists per torque: L / (G J).

    Args:
        outside: outside diameter, mm, shape (...)
        wall: wall thickness, mm, shape (...)
        length: of tube that is twisted, mm, shape (...)

    Returns:
        Twist per torque, rad per N mm, shape (...).

    Source: Roark's Formulas for Stress and Strain, torsion of circular sections (from memory).
    """
    twist: Array = np.asarray(length) / (G_STEEL * polar_moment(outside, wall))
    return twist


def bend_per_force(outside: Array | float, wall: Array | float, length: Array | float) -> Array:
    """How far the end of a steel tube that is clamped at the other bends per force across it: L^3 / (3 E I), I = J / 2.

    Args:
        outside: outside diameter, mm, shape (...)
        wall: wall thickness, mm, shape (...)
        length: clamp to end, mm, shape (...)

    Returns:
        Deflection per force, mm per N, shape (...).

    Source: Roark's Formulas for Stress and Strain, cantilever with an end load (from memory).
    """
    bend: Array = np.asarray(length) ** 3 / (3.0 * E_STEEL * 0.5 * polar_moment(outside, wall))
    return bend
