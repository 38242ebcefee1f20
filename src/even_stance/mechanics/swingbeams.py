"""Swing beams: each wheel on a beam that turns about the line from its pivot to the end of its radius arm.

Beam and radius arm are one stiff piece held at two points of the frame, so a wheel has one way to go, a circle: which
turn lifts its center by so much is known without trying.
"""

import numpy as np

from even_stance.mechanics.vectors import Array, cross, dot, norm, turned_about


def beam_axis(pivot: Array, arm: Array) -> Array:
    """The line a beam turns about.

    Args:
        pivot: the beam's pivot on the frame, mm, shape (..., 3)
        arm: the rear end of its radius arm on the frame, mm, shape (..., 3)

    Returns:
        Unit vector from the pivot to the arm's end, 1, shape (..., 3).

    Source: derived here.
    """
    along: Array = (arm - pivot) / norm(arm - pivot)[..., None]
    return along


def beam_turn(pivot: Array, axis: Array, center: Array, rise: Array) -> Array:
    """How far a beam turns so that its wheel's center rises by so much.

    With e the arm square to the axis and n the axis, the height is base + e_z cos a + (n x e)_z sin a: of the two turns
    that reach it the one that is nil at ride height is taken.

    Args:
        pivot: a point of the axis, mm, shape (..., 3)
        axis: along it, 1, shape (..., 3)
        center: the wheel's center at ride height, mm, shape (..., 3)
        rise: how much higher it should be, mm, shape (...)

    Returns:
        The turn, right-handed about the axis, rad, shape (...); nan where the beam does not reach so far.

    Source: derived here; Rodrigues' formula.
    """
    arm = center - pivot
    level = arm - dot(arm, axis)[..., None] * axis
    a, b = level[..., 2], cross(axis, level)[..., 2]
    share = (a + rise) / np.hypot(a, b)
    turn = np.arctan2(b, a) - np.sign(b) * np.arccos(np.where(np.abs(share) <= 1.0, share, np.nan))
    angle: Array = (turn + np.pi) % (2.0 * np.pi) - np.pi
    return angle


def beam_rotation(axis: Array, turn: Array) -> Array:
    """The rotation of a beam.

    Args:
        axis: along what it turns about, 1, shape (..., 3)
        turn: right-handed about it, rad, shape (...)

    Returns:
        Rotation matrices, 1, shape (..., 3, 3).

    Source: Rodrigues' formula.
    """
    turned: Array = np.swapaxes(turned_about(axis, np.asarray(turn), np.eye(3)), -1, -2)
    return turned


def camber(spin: Array, side: float) -> Array:
    """How far a wheel leans.

    Args:
        spin: along its spin axis to the left, 1, shape (..., 3)
        side: +1 for the left wheel, -1 for the right one, 1, shape ()

    Returns:
        Camber, + where the top leans outward, rad, shape (...).

    Source: SAE J670 (camber angle).
    """
    lean: Array = -side * np.arcsin(np.clip(spin[..., 2], -1.0, 1.0))
    return lean


def patch(center: Array, spin: Array, radius: float) -> Array:
    """Where a wheel that leans touches the ground: its loaded radius down in the plane of the wheel.

    Args:
        center: of the wheel, mm, shape (..., 3)
        spin: along its spin axis, 1, shape (..., 3)
        radius: loaded, mm, shape ()

    Returns:
        The place, mm, shape (..., 3).

    Source: derived here.
    """
    down = np.array([0.0, 0.0, -1.0]) + spin[..., 2:] * spin
    place: Array = center + radius * down / norm(down)[..., None]
    return place


def beam_points(pivot: Array, axis: Array, center: Array, rise: Array, points: Array) -> tuple[Array, Array, Array]:
    """Points fixed to a beam as its wheel rises, and how they move: with the rise, and how that changes.

    With a the turn and h the center's height, da/dh = 1 / (n x r)_z and its change -(da/dh)^3 (n x (n x r))_z, r from
    the pivot to the center; a point p then moves by n x p per turn and n x (n x p) per turn squared.

    Args:
        pivot: a point of the axis, mm, shape (3,)
        axis: along it, 1, shape (3,)
        center: the wheel's center at ride height, mm, shape (3,)
        rise: how much higher it is, mm, shape (n,)
        points: at ride height, mm, shape (m, 3)

    Returns:
        Where they are, mm, shape (n, m, 3); per mm of rise, 1, likewise; per mm squared, 1/mm, likewise.

    Source: derived here; Rodrigues' formula and its derivatives.
    """
    rotation = beam_rotation(axis, beam_turn(pivot, axis, center, rise))

    def moved(arms: Array) -> tuple[Array, Array, Array]:
        now = arms @ np.swapaxes(rotation, -1, -2)
        once = cross(np.broadcast_to(axis, now.shape), now)
        return now, once, cross(np.broadcast_to(axis, now.shape), once)

    _, lifts, bends = moved((center - pivot)[None])
    per = 1.0 / lifts[..., 0, 2]
    change = -(per**3) * bends[..., 0, 2]
    now, once, twice = moved(points - pivot)
    first: Array = once * per[:, None, None]
    second: Array = twice * (per**2)[:, None, None] + once * change[:, None, None]
    return pivot + now, first, second
