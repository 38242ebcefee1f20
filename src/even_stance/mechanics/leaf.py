"""Leaf springs: how the two halves share a rate, and where the free eye goes as the seat moves."""

import numpy as np

from even_stance.mechanics.vectors import Array, norm

THREE_LINK_SHARE = 0.75  # of a half's length: SAE HS-788, three-link equivalent geometry (from memory)


def half_rate(rate: float, seat: Array, eye: Array, other: Array) -> Array:
    """What one half of a leaf spring gives of the rate at its seat.

    Each half is a cantilever from the seat whose rate goes with the inverse cube of its length; both deflect alike.

    Args:
        rate: of the whole spring at its seat, N/mm, shape ()
        seat: the seat on the axle, mm, shape (..., 3)
        eye: the eye of this half, mm, shape (..., 3)
        other: the eye of the other half, mm, shape (..., 3)

    Returns:
        The rate at this eye, N/mm, shape (...).

    Source: Roark's Formulas for Stress and Strain, cantilever with an end load (from memory).
    """
    own, rest = (norm(e - seat) ** -3.0 for e in (eye, other))
    half: Array = rate * own / (own + rest)
    return half


def shackle_eye(eye: Array, seat: Array, pivot: Array, seat_now: Array) -> Array:
    """Where the free eye of a leaf is: as far from seat and shackle pivot as ever in side view, nearest to before.

    Args:
        eye: the free eye at ride height, mm, shape (3,)
        seat: the seat at ride height, mm, shape (3,)
        pivot: the shackle's pivot on the frame, mm, shape (3,)
        seat_now: the seat at the postures asked for, mm, shape (..., 3)

    Returns:
        The eye there, mm, shape (..., 3); where it was when the shackle cannot reach.

    Source: derived here; two circles.
    """
    side = [0, 2]
    start, a, b = eye[side], seat_now[..., side], pivot[side]
    ra, rb, d = _flat(start - seat[side]), _flat(start - b), _flat(b - a)
    reached = (d >= 1e-6) & (np.abs(ra - rb) <= d) & (d <= ra + rb)
    d = np.where(reached, d, 1.0)
    along = (ra * ra - rb * rb + d * d) / (2 * d)
    off = np.sqrt(np.maximum(ra * ra - along * along, 0.0))
    unit = (b - a) / d[..., None]
    base, aside = a + along[..., None] * unit, off[..., None] * np.stack((-unit[..., 1], unit[..., 0]), axis=-1)
    one, other = base + aside, base - aside
    nearer = np.where((_flat(one - start) <= _flat(other - start))[..., None], one, other)
    found = np.broadcast_to(eye, seat_now.shape).copy()
    found[..., side] = np.where(reached[..., None], nearer, start)
    return found


def _flat(a: Array) -> Array:
    """How long vectors in side view are."""
    return np.hypot(a[..., 0], a[..., 1])


def main_leaf_eye(fixed: Array, seat: Array, eye: Array, pivot: Array, seats: Array) -> Array:
    """Where the free eye of a main leaf alone goes, in side view: it keeps its length along its bend, not straight.

    Half a flat leaf of length s that stands f off the line of its eyes reaches s - f^2 / (6 s) from eye to seat. With
    the shackle's length that is two circles, taken anew a few times as f goes with the eye.

    Args:
        fixed: the fixed eye, ahead and up, mm, shape (2,)
        seat: the seat at ride height, mm, shape (2,)
        eye: the free eye at ride height, mm, shape (2,)
        pivot: the shackle's pivot on the frame, mm, shape (2,)
        seats: the seat at the postures asked for, mm, shape (n, 2)

    Returns:
        The eye there, mm, shape (n, 2); nan where leaf and shackle together do not reach.

    Source: derived here; a flat parabola for the bend of the leaf.
    """

    def off(at: Array, end: Array) -> Array:
        chord = end - fixed
        away: Array = np.abs(chord[..., 0] * (at - fixed)[..., 1] - chord[..., 1] * (at - fixed)[..., 0])
        return away / _flat(chord)

    straight, shackle = float(_flat(eye - seat)), float(_flat(eye - pivot))
    long = straight + float(off(seat, eye)) ** 2 / (6.0 * straight)
    side = np.sign((seat - pivot)[0] * (eye - pivot)[1] - (seat - pivot)[1] * (eye - pivot)[0])
    now = np.broadcast_to(eye, seats.shape)
    for _ in range(8):
        reach = long - off(seats, now) ** 2 / (6.0 * long)
        run = seats - pivot
        far = _flat(run)
        along = (shackle**2 - reach**2 + far**2) / (2.0 * far)
        aside = np.sqrt(np.where(along**2 <= shackle**2, shackle**2 - along**2, np.nan))
        unit = run / far[:, None]
        now = pivot + along[:, None] * unit + side * aside[:, None] * np.stack((-unit[:, 1], unit[:, 0]), axis=-1)
    found: Array = now
    return found
