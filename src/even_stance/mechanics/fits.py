"""Press and slide fits: how much a part grows or shrinks, and what it takes to slide in."""

import numpy as np


def grows(diameter: float, expansion: float, degrees: float) -> float:
    """How much a diameter grows as it is warmed: D a dT.

    Args:
        diameter: mm, shape ()
        expansion: a, per degree C (1 per deg of temperature), shape ()
        degrees: how much warmer, degree C, deg of temperature, - colder, shape ()

    Returns:
        Growth, mm, shape ().

    Source: Machinery's Handbook, coefficients of linear expansion (from memory).
    """
    return diameter * expansion * degrees


def cooling_for(tight: float, diameter: float, expansion: float, gap: float) -> float:
    """How much colder an inner part must be to slide in with a gap: (tight + gap) / (D a).

    Args:
        tight: by how much it is larger than its hole, mm, shape ()
        diameter: mm, shape ()
        expansion: of the inner part, per degree C (1 per deg of temperature), shape ()
        gap: wanted to slide it in without haste, mm, shape ()

    Returns:
        Degrees C colder, deg of temperature, shape ().

    Source: derived here from linear expansion.
    """
    return (tight + gap) / (diameter * expansion)


def press_force(
    tight: float, diameter: float, outside: float, inside: float, long: float, modulus: float, friction: float
) -> float:
    """What it takes to press a sleeve of the same material into a ring: p pi D L mu, with Lame's pressure.

    Both of one modulus: p = E t / D * (Do^2 - D^2) (D^2 - Di^2) / (2 D^2 (Do^2 - Di^2)).

    Args:
        tight: interference on the diameter, mm, shape ()
        diameter: D, where they meet, mm, shape ()
        outside: Do, of the ring, mm, shape ()
        inside: Di, of the sleeve, 0 for a pin, mm, shape ()
        long: engaged, mm, shape ()
        modulus: E of both, N/mm^2 = MPa, as N on 1 mm^2, shape ()
        friction: between them, 1, shape ()

    Returns:
        Force at the end of the way, N, shape ().

    Source: Shigley's Mechanical Engineering Design, press and shrink fits, members of one material (from memory).
    """
    d2, o2, i2 = diameter**2, outside**2, inside**2
    pressure = modulus * tight / diameter * (o2 - d2) * (d2 - i2) / (2.0 * d2 * (o2 - i2))
    return float(pressure * np.pi * diameter * long * friction)
