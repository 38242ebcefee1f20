"""Tapered studs in their holes: sizes, how deep a stud seats, what is left of a hole that is reamed from both sides.

A taper is the change of diameter per length, 1: 1 1/2 in per foot is 0.125.
"""

import numpy as np


def included_angle(taper: float) -> float:
    """The angle between opposite sides of a taper: twice that of one side, for the taper is on the diameter.

    Args:
        taper: change of diameter per length, 1, shape ()

    Returns:
        2 atan(taper / 2), rad, shape ().

    Source: Machinery's Handbook, tapers per foot and corresponding angles (from memory).
    """
    return float(2.0 * np.arctan(taper / 2.0))


def size_at(large: float, taper: float, depth: float) -> float:
    """The diameter of a taper some way in from its large end.

    Args:
        large: diameter at the large end, mm, shape ()
        taper: change of diameter per length, 1, shape ()
        depth: from the large end, mm, shape ()

    Returns:
        large - taper depth, mm, shape ().

    Source: derived here, from the definition.
    """
    return large - taper * depth


def sinks(hole: float, stud: float, taper: float) -> float:
    """How far deeper a stud goes before it seats, in a hole larger than itself.

    Args:
        hole: diameter of the hole at its mouth, mm, shape ()
        stud: diameter of the stud that should come to lie there, mm, shape ()
        taper: change of diameter per length, 1, shape ()

    Returns:
        (hole - stud) / taper, mm, shape (); negative where it stands proud.

    Source: derived here, from the definition.
    """
    return (hole - stud) / taper


def seat_left(old_large: float, new_large: float, taper: float, thick: float) -> float:
    """What is left of the seat when a tapered hole is reamed from its other side for a stud the other way up.

    The new cone touches where it is no larger than the old hole; they cross where both have the same diameter.

    Args:
        old_large: diameter of the old taper at its mouth, on the one face, mm, shape ()
        new_large: diameter of the new taper at its mouth, on the other face, mm, shape ()
        taper: change of diameter per length, 1, shape ()
        thick: of the arm, mm, shape ()

    Returns:
        The share of the seat's length from the new mouth down, 1, shape (), from 0 to 1.

    Source: derived here; two straight lines crossing.
    """
    crossing = 0.5 * (thick + (new_large - old_large) / taper)
    return float(np.clip(crossing / thick, 0.0, 1.0))


def wall_left(wide: float, sleeve: float) -> float:
    """What is left of an arm beside a straight hole for a sleeve.

    Args:
        wide: of the arm at the hole, mm, shape ()
        sleeve: outside diameter of the sleeve, mm, shape ()

    Returns:
        The wall on either side, mm, shape ().

    Source: derived here.
    """
    return 0.5 * (wide - sleeve)
