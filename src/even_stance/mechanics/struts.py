"""Tubes as struts and beams: columns by Euler and Johnson, a hit between the joints, the two together, sleeved tubes.

Ends are pins: a rod end or bushing holds no bending. All of it is screening.
"""

import numpy as np

from even_stance.mechanics.tube import polar_moment
from even_stance.mechanics.vectors import Array


def section_area(outside: Array | float, inside: Array | float) -> Array:
    """Area of a ring: pi / 4 (D^2 - d^2).

    Args:
        outside: outside diameter D, mm, shape (...)
        inside: inside diameter d, 0 for a solid bar, mm, shape (...)

    Returns:
        Area, mm^2, shape (...).

    Source: Machinery's Handbook, areas of sections (from memory).
    """
    area: Array = np.pi / 4.0 * (np.asarray(outside) ** 2 - np.asarray(inside) ** 2)
    return area


def second_moment(outside: Array | float, inside: Array | float) -> Array:
    """Second moment of area of a ring about a diameter: pi / 64 (D^4 - d^4).

    Args:
        outside: outside diameter D, mm, shape (...)
        inside: inside diameter d, 0 for a solid bar, mm, shape (...)

    Returns:
        I, mm^4, shape (...).

    Source: Machinery's Handbook, moments of inertia of sections (from memory).
    """
    wall = 0.5 * (np.asarray(outside) - np.asarray(inside))
    moment: Array = 0.5 * polar_moment(outside, wall)
    return moment


def euler_load(stiffness: Array | float, length: Array | float) -> Array:
    """The load at which a slender strut with pinned ends bows out: pi^2 E I / L^2.

    Args:
        stiffness: bending stiffness E I, N mm^2, shape (...)
        length: between the pins, mm, shape (...)

    Returns:
        Load, N, shape (...).

    Source: Shigley's Mechanical Engineering Design, long columns with central loading (from memory).
    """
    load: Array = np.pi**2 * np.asarray(stiffness) / np.asarray(length) ** 2
    return load


def column_load(squash: Array | float, stiffness: Array | float, length: Array | float) -> Array:
    """The load at which a strut with pinned ends gives, slender (Euler) or stocky (Johnson's parabola).

    Where Euler's load is more than half of what squashes the section, Johnson: P = Ps (1 - Ps / (4 Pe)); both curves
    touch there, at a slenderness of sqrt(2 pi^2 E / S).

    Args:
        squash: load that yields the section with no bowing, S A, N, shape (...)
        stiffness: bending stiffness E I, N mm^2, shape (...)
        length: between the pins, mm, shape (...)

    Returns:
        Load, N, shape (...).

    Source: Shigley's Mechanical Engineering Design, intermediate-length columns, J. B. Johnson (from memory).
    """
    slender = euler_load(stiffness, length)
    ratio = np.asarray(squash) / slender
    load: Array = np.where(ratio < 2.0, np.asarray(squash) * (1.0 - 0.25 * ratio), slender)
    return load


def hit_moment(force: Array | float, length: Array | float, share: Array | float = 0.5) -> Array:
    """The most bending in a beam on two pins that is hit somewhere between them: F L s (1 - s).

    Args:
        force: across the beam, N, shape (...)
        length: between the pins, mm, shape (...)
        share: where it is hit, from one pin to the other, 1, shape (...)

    Returns:
        Moment, N mm, shape (...); nil for a hit on a joint.

    Source: Machinery's Handbook, beam supported at both ends, load at any point (from memory).
    """
    s = np.asarray(share)
    moment: Array = np.asarray(force) * np.asarray(length) * s * (1.0 - s)
    return moment


def used_together(
    push: Array | float, column: Array | float, euler: Array | float, squash: Array | float,
    moment: Array | float, bends: Array | float,
) -> Array:  # fmt: skip
    """How much of a strut is used by a push (or pull) and bending at once.

    A push adds to the bow it finds: the moment grows by 1 / (1 - P / Pe). P / Pc + M / (My (1 - P / Pe)); of a pull,
    P / Ps + M / My.

    Args:
        push: along the strut, + compresses, N, shape (...)
        column: load at which it gives as a column, N, shape (...)
        euler: Euler's load Pe, N, shape (...)
        squash: load that yields the section, N, shape (...)
        moment: bending from outside, N mm, shape (...)
        bends: moment at which its outermost fiber yields, N mm, shape (...)

    Returns:
        Share used, 1, shape (...); infinite from Euler's load on.

    Source: AISC manual of steel construction, combined axial compression and bending, interaction with amplification
        (from memory; here with the column load by Johnson in place of AISC's).
    """
    p = np.asarray(push, dtype=float)
    bent = np.abs(np.asarray(moment)) / np.asarray(bends)
    room = 1.0 - np.maximum(p, 0.0) / np.asarray(euler)
    with np.errstate(divide="ignore"):
        pushed = np.where(room > 0.0, p / np.asarray(column) + bent / np.where(room > 0.0, room, 1.0), np.inf)
    used: Array = np.where(p > 0.0, pushed, -p / np.asarray(squash) + bent)
    return used


def yield_moment(
    stiffness: Array | float, modulus: tuple[float, ...], strength: tuple[float, ...], reach: tuple[float, ...]
) -> Array:
    """The moment at which the first fiber of a section of several materials yields: EI min(S / (E c)).

    Args:
        stiffness: bending stiffness E I of the whole section, N mm^2, shape (...)
        modulus: E of each material, N/mm^2 = MPa, so 1 mm^2 carries 1 N per unit, shape (k,)
        strength: yield of each, N/mm^2 = MPa, as N on 1 mm^2, shape (k,)
        reach: from the middle to its outermost fiber, mm, shape (k,)

    Returns:
        Moment, N mm, shape (...).

    Source: Shigley's Mechanical Engineering Design, transformed sections (from memory): strains are straight across.
    """
    first = min(s / (e * c) for e, s, c in zip(modulus, strength, reach, strict=True))
    moment: Array = np.asarray(stiffness) * first
    return moment
