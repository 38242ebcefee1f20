"""Cross joints and the shafts between them: angles, planes, how unevenly they turn, and how fast a tube may turn.

All shafts are unit vectors of one sense (here: toward the front of the car). A cross joint turns its driven shaft at
cos t / (1 - (p . b)^2) of the speed of its driving one, p the pin of the driving yoke, b the driven shaft and t the
angle between the shafts; read from the driven side the same is (1 - (q . a)^2) / cos t, q its pin, a the driving shaft.
"""

import numpy as np

from even_stance.mechanics.tube import E_STEEL
from even_stance.mechanics.vectors import Array, cross, dot, norm

DENSITY_STEEL = 7.85e-9  # t/mm3, so that N, mm and s belong together


def joint_angle(a: Array, b: Array) -> Array:
    """Angle between two shafts.

    Args:
        a: unit vector along one, 1, shape (..., 3)
        b: unit vector along the other, 1, shape (..., 3)

    Returns:
        The angle, rad, shape (...), from 0 to pi.

    Source: derived here; the angle between two vectors.
    """
    angle: Array = np.arctan2(norm(cross(a, b)), dot(a, b))
    return angle


def joint_plane(shaft: Array, other: Array) -> Array:
    """Which way a joint bends, seen along the shaft: 0 in side view, with the other shaft above; + toward the left.

    Args:
        shaft: unit vector along the shaft between the joints, 1, shape (..., 3)
        other: unit vector along the shaft at the other side of the joint, 1, shape (..., 3)

    Returns:
        The angle of the plane, rad, shape (...), from -pi to pi.

    Source: derived here; the plane that both shafts lie in.
    """
    up, left = _frame(shaft)
    plane: Array = np.arctan2(dot(other, left), dot(other, up))
    return plane


def _frame(shaft: Array) -> tuple[Array, Array]:
    """Up and left square to a shaft, as nearly as can be."""
    left = cross(np.broadcast_to(np.array([0.0, 0.0, 1.0]), shaft.shape), shaft)
    left = left / np.maximum(norm(left), 1e-9)[..., None]
    return cross(shaft, left), left


def speed_extremes(driving: Array, shaft: Array, driven: Array, phase: Array | float = 0.0) -> tuple[Array, Array]:
    """Highest and lowest speed of the driven shaft over a turn of two cross joints, the driving one turning steadily.

    With the angle u of the shaft, the ratio is (cos t2 / cos t1) (1 - s1^2 cos^2(u - p1)) / (1 - s2^2 cos^2(u - p2)),
    the phase taken into p2: a quotient of two sines of 2u, whose extremes r make
    (a0 - r b0)^2 = (a1 - r b1)^2 + (a2 - r b2)^2.

    Args:
        driving: unit vector along the driving shaft, 1, shape (..., 3)
        shaft: unit vector along the one between the joints, 1, shape (..., 3)
        driven: unit vector along the driven one, 1, shape (..., 3)
        phase: the turn of the yoke at the driven end against the other, right-handed, rad, shape (...)

    Returns:
        Highest and lowest speed, as shares of the steady speed, 1, shape (...) each.

    Source: SAE AE-7, Universal Joint and Driveshaft Design Manual, for the single joint (from memory); the extremes of
    the chain derived here.
    """
    t1, t2 = joint_angle(driving, shaft), joint_angle(shaft, driven)
    p1, p2 = joint_plane(shaft, driving), joint_plane(shaft, driven) + phase
    # 1 - s^2 cos^2 x = 1 - s^2 / 2 - s^2 / 2 cos 2x
    half1, half2 = 0.5 * np.sin(t1) ** 2, 0.5 * np.sin(t2) ** 2
    gain = np.cos(t2) / np.cos(t1)
    a0, a1, a2 = gain * (1.0 - half1), -gain * half1 * np.cos(2 * p1), -gain * half1 * np.sin(2 * p1)
    b0, b1, b2 = 1.0 - half2, -half2 * np.cos(2 * p2), -half2 * np.sin(2 * p2)
    a = b0**2 - b1**2 - b2**2
    b = a0 * b0 - a1 * b1 - a2 * b2
    c = a0**2 - a1**2 - a2**2
    root = np.sqrt(np.maximum(b**2 - a * c, 0.0))
    return (b + root) / a, (b - root) / a


def chain_speed(axes: Array, phases: Array, turns: Array) -> Array:
    """Speed of the last of a chain of shafts with cross joints between them, over a turn of the first.

    Args:
        axes: unit vectors along the shafts, first to last, 1, shape (..., k, 3)
        phases: how far the second yoke of each shaft between is turned against its first, rad, shape (..., k - 2)
        turns: angles of the first shaft, rad, shape (n,)

    Returns:
        Speed of the last shaft as a share of that of the first, 1, shape (..., n).

    Source: derived here; the cross joint's equation from joint to joint, pins followed as vectors.
    """
    first = axes[..., 0, :]
    u, v = _frame(first)
    pin = np.cos(turns)[:, None] * u[..., None, :] + np.sin(turns)[:, None] * v[..., None, :]
    speed: Array = np.ones(pin.shape[:-1])
    for k in range(axes.shape[-2] - 1):
        here, there = (np.broadcast_to(axes[..., None, j, :], pin.shape) for j in (k, k + 1))
        speed = speed * dot(here, there) / (1.0 - dot(pin, there) ** 2)
        driven = cross(there, pin)
        driven = driven / norm(driven)[..., None]
        if k < axes.shape[-2] - 2:
            c, s = np.cos(phases[..., k])[..., None, None], np.sin(phases[..., k])[..., None, None]
            pin = c * driven + s * cross(there, driven)
    return speed


def residual_angle(highest: Array, lowest: Array) -> Array:
    """The angle of a single joint that turns as unevenly: acos sqrt(lowest / highest).

    Args:
        highest: speed, 1, shape (...)
        lowest: speed, 1, shape (...)

    Returns:
        The angle, rad, shape (...).

    Source: derived here; a single joint's speed runs from cos t to 1 / cos t.
    """
    angle: Array = np.arccos(np.sqrt(np.clip(lowest / highest, 0.0, 1.0)))
    return angle


def second_cross(center: Array, axis: Array, far: Array, apart: Array | float) -> Array:
    """Where the second cross of a double-cardan joint is: its centering keeps both halves of the joint alike.

    The housing between the crosses points half way between the driving shaft and the shaft beyond.

    Args:
        center: the first cross, mm, shape (..., 3)
        axis: unit vector along the driving shaft, toward the second cross, 1, shape (..., 3)
        far: the other end of the shaft beyond, mm, shape (..., 3)
        apart: cross to cross, mm, shape (...)

    Returns:
        The second cross, mm, shape (..., 3).

    Source: SAE AE-7, Universal Joint and Driveshaft Design Manual, double Cardan joint (from memory); solved by fixed
    point, each round nearer by the joint's length over the shaft's.
    """
    middle = np.broadcast_to(axis, np.broadcast_shapes(axis.shape, far.shape))
    at = center + np.asarray(apart)[..., None] * middle
    for _ in range(12):
        beyond, before = far - at, at
        half = middle + beyond / norm(beyond)[..., None]
        at = center + np.asarray(apart)[..., None] * half / norm(half)[..., None]
        if not (np.abs(at - before) > 1e-10).any():
            break
    found: Array = at
    return found


def driveshaft_rpm(speed_kmh: float, axle_ratio: float, tire_radius_mm: float) -> float:
    """How fast a driveshaft turns at a road speed.

    Args:
        speed_kmh: the speed, km/h (1/3.6 m/s), shape ()
        axle_ratio: turns of the shaft for one of the wheels, 1, shape ()
        tire_radius_mm: loaded, mm, shape ()

    Returns:
        v / (2 pi r) turns of the wheel, times the axle's ratio, rpm, shape ().

    Source: derived here.
    """
    return speed_kmh / 3.6 * 1000.0 * 60.0 / (2.0 * np.pi * tire_radius_mm) * axle_ratio


def critical_rpm(outside: Array | float, wall: Array | float, length: Array | float) -> Array:
    """Speed at which a steel shaft between two joints begins to whip: its first bending, pinned ends, its own mass.

    w = (pi / L)^2 sqrt(E I / (rho A)), with I / A = (D^2 + d^2) / 16 for a tube.

    Args:
        outside: outside diameter D, mm, shape (...)
        wall: wall thickness, mm, shape (...)
        length: joint center to joint center L, mm, shape (...)

    Returns:
        The speed, in turns a minute (unit 1 per 60 s), shape (...).

    Source: Blevins, Formulas for Natural Frequency and Mode Shape, pinned beam (from memory); SAE AE-7 uses the same.
    """
    inside = np.maximum(np.asarray(outside) - 2.0 * np.asarray(wall), 0.0)
    gyration = np.sqrt((np.asarray(outside) ** 2 + inside**2) / 16.0)
    speed: Array = (np.pi / np.asarray(length)) ** 2 * np.sqrt(E_STEEL / DENSITY_STEEL) * gyration
    return speed * 60.0 / (2.0 * np.pi)
