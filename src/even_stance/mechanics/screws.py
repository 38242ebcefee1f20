"""Screw threads: their play, what two pitches that differ do to each other, and the area that carries."""

import numpy as np

_INCH = 25.4
_FLANK = np.tan(np.radians(30.0))


def stress_area(diameter: float, pitch: float, metric: bool = False) -> float:
    """The tensile stress area of a 60 degree thread.

    Args:
        diameter: major diameter, mm, shape ()
        pitch: mm, shape ()
        metric: whether it is a metric thread, 1, shape ()

    Returns:
        pi / 4 (D - 0.9743 p)^2 for inch threads, with 0.9382 p for metric ones, mm^2, shape ().

    Source: ASME B1.1, tensile stress area, and ISO 898-1, nominal stress area (both from memory).
    """
    return float(np.pi / 4.0 * (diameter - (0.9382 if metric else 0.9743) * pitch) ** 2)


def pitch_diameter_tolerance(diameter: float, pitch: float) -> float:
    """How far the pitch diameter of an external thread of class 2A may vary, engaged one diameter.

    Args:
        diameter: major diameter, mm, shape ()
        pitch: mm, shape ()

    Returns:
        0.0015 D^(1/3) + 0.0015 L^(1/2) + 0.015 P^(2/3) in inches, L = D; given in mm, shape ().

    Source: ASME B1.1, pitch diameter tolerance of class 2A (from memory).
    """
    d, p = diameter / _INCH, pitch / _INCH
    return float(_INCH * (0.0015 * d ** (1.0 / 3.0) + 0.0015 * d**0.5 + 0.015 * p ** (2.0 / 3.0)))


def end_play(diameter: float, pitch: float) -> float:
    """The most a screw can move along its axis in a nut that fits it, classes 2A and 2B: what a wrong pitch eats up.

    The loosest pair is apart by the allowance and both tolerances on the pitch diameter; along the axis that is as much
    times the tangent of the flanks' 30 degrees.

    Args:
        diameter: major diameter, mm, shape ()
        pitch: mm, shape ()

    Returns:
        The play, mm, shape ().

    Source: ASME B1.1 (from memory): allowance 0.3, internal tolerance 1.3 of the external one; derived here.
    """
    return float(2.6 * pitch_diameter_tolerance(diameter, pitch) * _FLANK)


def turns_until_bound(pitch: float, other: float, play: float) -> float:
    """How many turns a screw goes into a nut of another pitch before the difference has eaten the play.

    Args:
        pitch: of the one, mm, shape ()
        other: of the other, mm, shape ()
        play: along the axis, mm, shape ()

    Returns:
        play / |difference|, turns, 1, shape (); infinite for the same pitch.

    Source: derived here.
    """
    apart = abs(pitch - other)
    return float(play / apart) if apart > 1e-9 else float("inf")
