"""Bolts, threads, bracket edges and fillet welds in plain shear: loads at which each yields, for screening."""

import numpy as np

SHEAR_OF_YIELD = 1.0 / np.sqrt(3.0)
# AISC specification table J3.2 (from memory): 54 against 68 ksi for one grade, 68 against 84 for the next.
THREADS_IN_PLANE = 0.8
_STUD, _NUT = 0.75, 0.875


def double_shear(diameter: float, strength: float, threads_in_plane: bool) -> float:
    """The load at which a bolt in double shear yields: 2 A S / sqrt(3), a fifth less with thread in a shear plane.

    Args:
        diameter: of the shank, mm, shape ()
        strength: yield of the bolt, N/mm^2 = MPa, as N on 1 mm^2, shape ()
        threads_in_plane: whether thread lies in a shear plane, 1, shape ()

    Returns:
        Load, N, shape ().

    Source: von Mises for shear; the fifth: AISC specification, table J3.2, threads not excluded (both from memory).
    """
    area = np.pi / 4.0 * diameter**2 * (THREADS_IN_PLANE if threads_in_plane else 1.0)
    return float(2.0 * area * strength * SHEAR_OF_YIELD)


def strip_load(diameter: float, pitch: float, engaged: float, screw: float, nut: float) -> float:
    """The load at which an engaged thread strips, the weaker side of screw and nut, on basic sizes.

    Shear areas per length engaged are 3/4 pi D1 of the screw's thread and 7/8 pi D of the nut's, D1 the minor diameter.

    Args:
        diameter: major diameter D, mm, shape ()
        pitch: mm, shape ()
        engaged: length engaged, mm, shape ()
        screw: yield of the screw, N/mm^2 = MPa, as N on 1 mm^2, shape ()
        nut: yield of the nut or bung, N/mm^2 = MPa, as N on 1 mm^2, shape ()

    Returns:
        Load, N, shape ().

    Source: ASME B1.1, shear areas of threads (from memory), with basic diameters put in: derived here.
    """
    minor = diameter - 1.082532 * pitch
    of_screw = _STUD * np.pi * minor * engaged * screw
    of_nut = _NUT * np.pi * diameter * engaged * nut
    return float(min(of_screw, of_nut) * SHEAR_OF_YIELD)


def tear_out(edge: float, hole: float, thick: float, plates: int, strength: float) -> float:
    """The load at which a bolt tears out to the edge: two planes a plate, each from the hole's rim to the edge.

    Args:
        edge: from the middle of the hole to the edge, mm, shape ()
        hole: diameter of the hole, mm, shape ()
        thick: of one plate, mm, shape ()
        plates: how many, 1, shape ()
        strength: yield of the plate, N/mm^2 = MPa, as N on 1 mm^2, shape ()

    Returns:
        Load, N, shape (); nil where the hole reaches the edge.

    Source: AISC specification, J3.10, tear-out by clear distance (from memory), with shear yield.
    """
    return float(max(2.0 * (edge - 0.5 * hole), 0.0) * thick * plates * strength * SHEAR_OF_YIELD)


def fillet_load(leg: float, long: float, strength: float) -> float:
    """The load at which a fillet weld yields on its throat, leg / sqrt(2), however it is pulled.

    Args:
        leg: of the fillet, mm, shape ()
        long: all of the weld, mm, shape ()
        strength: yield of the weld metal, N/mm^2 = MPa, as N on 1 mm^2, shape ()

    Returns:
        Load, N, shape ().

    Source: Shigley's Mechanical Engineering Design, throat of fillet welds (from memory).
    """
    return float(leg / np.sqrt(2.0) * long * strength * SHEAR_OF_YIELD)


def engaged_least(diameter: float) -> float:
    """How far a thread must be engaged at least: one diameter.

    Args:
        diameter: major diameter, mm, shape ()

    Returns:
        Length, mm, shape ().

    Source: common practice, no source; derived here as one diameter.
    """
    return diameter
