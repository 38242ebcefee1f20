"""Is an axle square under the car: from the wheelbase on both sides and the two diagonals."""

from dataclasses import dataclass

import numpy as np

from even_stance.mechanics.vectors import Array

_DISTANCES = ("left wheelbase", "right wheelbase", "front left to rear right", "front right to rear left")


@dataclass(frozen=True)
class Squareness:
    """How a rear axle stands against the front one.

    Attributes:
        behind: how far its center is behind the front axle, mm.
        aside: how far its center is to the left of the front axle's, mm.
        yaw: how far it is turned toward left (its left end back), rad.
        residual: measured minus reckoned, left and right wheelbase and the two diagonals, mm, shape (4,)
    """

    behind: float
    aside: float
    yaw: float
    residual: Array


def _reckoned(state: Array, front_half: float, rear_half: float) -> tuple[Array, Array]:
    """The four distances and their derivatives by (behind, aside, yaw), shapes (4,) and (4, 3)."""
    behind, aside, yaw = state
    tube = np.array([-np.sin(yaw), np.cos(yaw)])
    turn = np.array([-np.cos(yaw), -np.sin(yaw)])
    rear = {side: np.array([-behind, aside]) + side * rear_half * tube for side in (1, -1)}
    front = {side: np.array([0.0, side * front_half]) for side in (1, -1)}
    value, slope = np.empty(4), np.empty((4, 3))
    for k, (f, r) in enumerate(((1, 1), (-1, -1), (1, -1), (-1, 1))):
        span = rear[r] - front[f]
        value[k] = np.hypot(*span)
        along = span / value[k]
        slope[k] = (-along[0], along[1], r * rear_half * float(along @ turn))
    return value, slope


def squareness(measured: Array, front_width: float, rear_width: float) -> Squareness:
    """The stand of the rear axle that fits four measured distances best.

    The distances are between the same places on each side (hub faces or tire centers), seen in plan: wheelbase left
    and right, then front left to rear right and front right to rear left. Gauss-Newton on three unknowns.

    Args:
        measured: the four distances, or just the two wheelbases, mm, shape (4,) or (2,)
        front_width: between the two places at the front, mm, shape ()
        rear_width: between the two places at the rear, mm, shape ()

    Returns:
        The stand, mm and rad, with what the four distances are apart, mm, shape (4,).

    Source: derived here; plane geometry by least squares.
    """
    known = len(measured)
    state = np.array([float(measured[:2].mean()), 0.0, 0.0])
    for _ in range(50):
        value, slope = _reckoned(state, front_width / 2, rear_width / 2)
        value, slope = value[:known], slope[:known]
        if known < len(_DISTANCES):
            slope[:, 1] = 0.0  # two wheelbases say nothing of how far the axle sits to a side: taken as centered
        step = np.linalg.lstsq(slope, measured - value, rcond=None)[0]
        state = state + step
        if np.abs(step).max() < 1e-12:
            break
    value, _ = _reckoned(state, front_width / 2, rear_width / 2)
    return Squareness(float(state[0]), float(state[1]), float(state[2]), measured - value[:known])
