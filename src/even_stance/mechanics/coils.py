"""What springs give: coils alone and on one another, air springs, leaf packs, sway bars, stops."""

import numpy as np

from even_stance.mechanics.vectors import Array

STEEL_SHEAR = 79_300.0  # N/mm^2, spring steel (Shigley, Mechanical Engineering Design, from memory)
STEEL_YOUNG = 206_800.0  # N/mm^2
AIR_BAR = 1.01325  # standard atmosphere, bar (ISO 2533)
POLYTROPIC = 1.38  # air that is squeezed in the time of a bump (common practice, no source; 1.4 with no heat lost)
_N_PER_BAR = 0.1  # N/mm^2


def coil_rate(wire: float, mean: float, active: float, shear: float = STEEL_SHEAR) -> float:
    """The rate of a coil spring, G d^4 / (8 D^3 n).

    Args:
        wire: wire diameter d, mm, shape ()
        mean: mean coil diameter D, mm, shape ()
        active: active coils n, 1, shape ()
        shear: shear modulus G, N/mm times 1/mm, shape ()

    Returns:
        The rate, N/mm, shape ().

    Source: Shigley, Mechanical Engineering Design, helical compression springs (from memory).
    """
    return shear * wire**4 / (8.0 * mean**3 * active)


def wahl_factor(index: float) -> float:
    """How much curvature and direct shear raise the stress in a coil: (4C - 1) / (4C - 4) + 0.615 / C.

    Args:
        index: spring index C = D / d, 1, shape ()

    Returns:
        The factor, 1, shape ().

    Source: A. M. Wahl, Mechanical Springs; Shigley, Mechanical Engineering Design (from memory).
    """
    return (4.0 * index - 1.0) / (4.0 * index - 4.0) + 0.615 / index


def coil_stress(force: float, mean: float, wire: float) -> float:
    """The shear stress at the inside of a coil, K 8 F D / (pi d^3).

    Args:
        force: N, shape ()
        mean: mean coil diameter D, mm, shape ()
        wire: wire diameter d, mm, shape ()

    Returns:
        The stress, N/mm times 1/mm, shape ().

    Source: A. M. Wahl, Mechanical Springs (from memory).
    """
    return float(wahl_factor(mean / wire) * 8.0 * force * mean / (np.pi * wire**3))


def pair_closes(lower: float, upper: float, lower_room: float, upper_room: float) -> tuple[float, float]:
    """How much two coils on one another are squeezed together when the lower one is closed, and when the upper one is.

    Both carry the same force: whichever has less k times room closes first, at squeeze F / k_l + F / k_u; the other
    goes on alone.

    Args:
        lower: rate of the lower coil, N/mm, shape ()
        upper: rate of the upper coil, N/mm, shape ()
        lower_room: how far the lower coil closes until it is solid, mm, shape ()
        upper_room: how far the upper one closes until its stop, or until it is solid, mm, shape ()

    Returns:
        Squeeze of both together, mm, shape () each.

    Source: derived here; springs in series.
    """
    return (
        lower_room + min(lower * lower_room / upper, upper_room),
        upper_room + min(upper * upper_room / lower, lower_room),
    )


def pair_force(squeeze: Array, lower: float, upper: float, lower_room: float, upper_room: float) -> tuple[Array, Array]:
    """Two coils on one another: in series until one of them has closed; past that the other works alone.

    F = F_1 + k_2 (x - x_1), x_1 being the squeeze where the first one closes and F_1 what it has then.

    Args:
        squeeze: how much shorter both together are than free, mm, shape (...)
        lower: rate of the lower coil, N/mm, shape ()
        upper: rate of the upper coil, N/mm, shape ()
        lower_room: how far the lower coil closes until it is solid, mm, shape ()
        upper_room: how far the upper one closes until its stop, or until it is solid, mm, shape ()

    Returns:
        Force, N, and rate, N/mm, shape (...); zero where both are slack.

    Source: derived here; springs in series.
    """
    both = lower * upper / (lower + upper)
    lower_first = lower * lower_room < upper * upper_room
    crosses = min(lower * lower_room, upper * upper_room) / both
    alone = upper if lower_first else lower
    past = squeeze > crosses
    force = np.where(past, both * crosses + alone * (squeeze - crosses), both * squeeze)
    rate = np.where(past, alone, both)
    slack = squeeze <= 0.0
    return np.where(slack, 0.0, force), np.where(slack, 0.0, rate)


def air_force(
    height: Array, heights: Array, areas: Array, pressure: float, volume: float, ride: Array, exponent: float
) -> tuple[Array, Array]:
    """An air spring closed off at its ride height: F = p A, p from (p + p0) V^n = const, V from the areas.

    The effective area is how fast the volume grows with height, so that V = V0 + integral of A; the rate is
    n (p + p0) A^2 / V - p dA/dh.

    Args:
        height: mm, shape (...)
        heights: of the maker's curve, least first, mm, shape (k,)
        areas: effective areas there, mm times mm, shape (k,)
        pressure: over the air around it, at ride height, N/mm times 1/mm, shape ()
        volume: of its air at ride height, mm cubed, shape ()
        ride: its height at ride height, mm, shape (...)
        exponent: n, 1 for a slow change, about 1.4 for a bump, 1, shape ()

    Returns:
        Force, N, and rate, N/mm, shape (...).

    Source: derived here, from the first law and virtual work; the areas go straight between the points of the curve.
    """
    slopes = np.diff(areas) / np.diff(heights)
    filled = np.concatenate(([0.0], np.cumsum(0.5 * (areas[1:] + areas[:-1]) * np.diff(heights))))

    def area_and_volume(at: Array) -> tuple[Array, Array, Array]:
        """Area, its slope and the volume over that at the least height; beyond the curve the area stays."""
        i = np.clip(np.searchsorted(heights, at) - 1, 0, len(slopes) - 1)
        inside = (at >= heights[0]) & (at <= heights[-1])
        within = np.clip(at, heights[0], heights[-1])
        area = areas[i] + slopes[i] * (within - heights[i])
        space = filled[i] + 0.5 * (areas[i] + area) * (within - heights[i]) + area * (at - within)
        return area, np.where(inside, slopes[i], 0.0), space

    start = area_and_volume(np.asarray(ride, dtype=np.float64))[2]
    area, slope, space = area_and_volume(np.asarray(height, dtype=np.float64))
    now = np.maximum(volume + space - start, 1e-3 * volume)
    around = AIR_BAR * _N_PER_BAR
    absolute = (pressure + around) * (volume / now) ** exponent
    gauge = absolute - around
    return gauge * area, exponent * absolute * area**2 / now - gauge * slope


def leaf_pack_rate(
    halves: tuple[float, float], clamp: float, leaves: float, wide: float, thick: float, stiffening: float,
    young: float = STEEL_YOUNG,
) -> float:  # fmt: skip
    """The rate of a leaf pack at its seat, E n w t^3 s L / (6 a^2 b^2): for equal halves 8 E n w t^3 s / (3 L^3).

    Each half is a beam of uniform strength held at the seat, a and b long, L both; the seat is free to tip, and each
    eye takes its share of the load by the other's length.

    Args:
        halves: from either eye to the middle of the seat, mm, shape () each
        clamp: what of the length is held still by the U-bolts, half of it on either side, mm, shape ()
        leaves: how many, n, 1, shape ()
        wide: width of a leaf w, mm, shape ()
        thick: thickness of a leaf t, mm, shape ()
        stiffening: s, 1 for leaves graded to a point, to 1.5 for full-length ones, 1, shape ()
        young: modulus of elasticity E, N/mm times 1/mm, shape ()

    Returns:
        The rate, N/mm, shape ().

    Source: SAE HS-788, Manual on Design and Application of Leaf Springs (from memory); beam of uniform strength.
    """
    a, b = (half - 0.5 * clamp for half in halves)
    return young * leaves * wide * thick**3 * stiffening * (a + b) / (6.0 * a**2 * b**2)


def bar_rate(
    across: Array, bar: float, inside: float, reach: Array, arm: float, shear: float = STEEL_SHEAR,
    young: float = STEEL_YOUNG,
) -> Array:  # fmt: skip
    """A sway bar's torque per turn of one arm against the other: its twist, and the bending of both arms, in series.

    1 / c = L / (G J) + 2 r / (3 E I): an arm of reach r that is pushed at its end by F bends by F r^3 / (3 E I), which
    turns its end by F r^2 / (3 E I).

    Args:
        across: length of the bar that twists L, mm, shape (...)
        bar: its diameter, mm, shape ()
        inside: its inside diameter, nil for a solid one, mm, shape ()
        reach: from the bar's axis to an arm's end r, mm, shape (...)
        arm: diameter of the arm, mm, shape ()
        shear: shear modulus G, N/mm times 1/mm, shape ()
        young: modulus of elasticity E, N/mm times 1/mm, shape ()

    Returns:
        Torque per turn, N times mm per rad, shape (...).

    Source: Roark's Formulas for Stress and Strain, torsion and cantilever (from memory).
    """
    twist = across / (shear * np.pi * (bar**4 - inside**4) / 32.0)
    bend = 2.0 * reach / (3.0 * young * np.pi * arm**4 / 64.0)
    rate: Array = 1.0 / (twist + bend)
    return rate
