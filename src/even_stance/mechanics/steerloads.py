"""What a steering carries: a sector shaft's torque and bending, a ram's push and what of it turns a wheel."""

import numpy as np

from even_stance.mechanics.vectors import Array, cross, dot, norm


def sector_load(arm: Array, axis: Array, force: Array) -> tuple[Array, Array]:
    """What a force at the ball of a pitman arm does to its sector shaft, at the arm's hub: r x F, along and across it.

    Args:
        arm: from the hub to the ball, mm, shape (..., 3)
        axis: unit vector along the sector shaft, 1, shape (..., 3)
        force: at the ball, N, shape (..., 3)

    Returns:
        Torque about the shaft and bending across it, both positive, N mm, shape (...) each.

    Source: derived here; the moment of a force about a point.
    """
    moment = cross(arm, force)
    torque = dot(moment, np.broadcast_to(axis, moment.shape))
    bending = norm(moment - torque[..., None] * axis)
    return np.abs(torque), bending


def rod_lever(pivot: Array, axis: Array, start: Array, goal: Array) -> Array:
    """How far the line of a rod passes by a kingpin, seen along it: what its force turns the knuckle with per N.

    Args:
        pivot: a point of the kingpin, mm, shape (3,)
        axis: unit vector along the kingpin, 1, shape (3,)
        start: one end of the rod, mm, shape (..., 3)
        goal: its other end, mm, shape (..., 3)

    Returns:
        The lever, positive, mm, shape (...).

    Source: derived here; the moment of a force about an axis.
    """
    along = (goal - start) / norm(goal - start)[..., None]
    moment = cross(start - pivot, along)
    return np.abs(dot(moment, np.broadcast_to(axis, moment.shape)))


def flat_arm(arm: Array, axis: Array) -> Array:
    """The same pitman arm without any drop: its ball in the plane of its hub.

    Args:
        arm: from the hub to the ball, mm, shape (..., 3)
        axis: unit vector along the sector shaft, 1, shape (..., 3)

    Returns:
        From the hub to that ball, mm, shape (..., 3).

    Source: derived here.
    """
    flat: Array = arm - dot(arm, np.broadcast_to(axis, arm.shape))[..., None] * axis
    return flat


def arm_drop(arm: Array, axis: Array) -> Array:
    """How far the ball of a pitman arm is off the plane of its hub, along the sector shaft.

    Args:
        arm: from the hub to the ball, mm, shape (..., 3)
        axis: unit vector along the sector shaft, 1, shape (..., 3)

    Returns:
        The drop, positive, mm, shape (...).

    Source: derived here.
    """
    return np.abs(dot(arm, np.broadcast_to(axis, arm.shape)))


def ram_push(bore: float, rod: float, pressure: float) -> float:
    """The push of a double-ended ram, either way: the rod takes its area from both sides of the piston.

    Args:
        bore: diameter of the piston, mm, shape ()
        rod: diameter of the rod, mm, shape ()
        pressure: of the fluid, N/mm^2, shape ()

    Returns:
        p pi / 4 (D^2 - d^2), N, shape ().

    Source: derived here; force of a pressure on an annulus (Machinery's Handbook, hydraulic cylinders, from memory).
    """
    return pressure * np.pi / 4.0 * max(bore**2 - rod**2, 0.0)


def off_axis(way: Array, axis: Array) -> Array:
    """How far a link points away from an axis: what of a push along the axis goes sideways is the tangent of it.

    Args:
        way: along the link, mm, shape (..., 3)
        axis: unit vector, 1, shape (..., 3)

    Returns:
        The angle, rad, shape (...), from nil to half a turn of a right angle.

    Source: derived here.
    """
    along = np.abs(dot(way, np.broadcast_to(axis, way.shape)))
    across = norm(cross(way, np.broadcast_to(axis, way.shape)))
    angle: Array = np.arctan2(across, along)
    return angle


def stud_shear(force: float, reach: float, studs: int, radius: float) -> float:
    """What the studs of a bolted-on arm share of a push on it, the worst of them: the push itself and its turning.

    Args:
        force: across the arm, N, shape ()
        reach: from the middle of the studs to the push, mm, shape ()
        studs: how many stand on the circle (count, unit 1), shape ()
        radius: of that circle, mm, shape ()

    Returns:
        F / n + F reach / (n r): as if both pointed the same way at the worst stud, N, shape ().

    Source: eccentric load on a bolt group (Shigley, Mechanical Engineering Design, bolts in shear, from memory).
    """
    return float(force / studs * (1.0 + reach / radius))
