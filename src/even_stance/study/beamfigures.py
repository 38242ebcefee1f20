"""What swing beams are judged by: camber, toe and track over travel, and the lock, with what moves them."""

from functools import lru_cache

import numpy as np

from even_stance.mechanics.steering import LEFT
from even_stance.mechanics.vectors import Array
from even_stance.study.beams import BeamAxle, BeamState, beams_of
from even_stance.study.figures import Figure
from even_stance.study.steerfigures import lock_values, steer_inputs
from even_stance.vehicle.car import Axle, Vehicle
from even_stance.vehicle.spots import own_point
from even_stance.vehicle.steering import Steering

_STEPS = 31
_STEP_MM = 0.5


@lru_cache(maxsize=8)
def travel_states(axle: Axle, beams: BeamAxle) -> tuple[Array, BeamState, BeamState]:
    """Travel of both wheels together, mm (n,), the states along it, and those with the right wheel going the other way.

    The hand wheel is held straight; ride height is one of the postures.
    """
    travel = np.linspace(-axle.droop_mm, axle.bump_mm, _STEPS)
    travel[np.abs(travel).argmin()] = 0.0
    return travel, beams.over(np.zeros(1), travel, travel), beams.over(np.zeros(1), travel, -travel)


def beam_values(vehicle: Vehicle, axle: Axle, beams: BeamAxle) -> dict[str, Array]:
    """Every judged number of swing beams, or of many like them, by key, shape (...)."""
    travel, heave, crossed = travel_states(axle, beams)
    ride = int(np.abs(travel).argmin())

    def most(values: Array) -> Array:
        """The most a value over travel, shape (..., n), is away from what it is at ride height."""
        away: Array = np.nanmax(np.abs(values - values[..., ride : ride + 1]), axis=-1)
        return away

    found = {
        "camber_change_deg": most(heave.camber_deg[..., LEFT]),
        "toe_change_deg": most(heave.toe_deg),
        "track_change_mm": most(heave.track_mm),
        "bump_steer_deg": most(heave.headings.mean(axis=-1)),
        "cross_steer_deg": most(crossed.headings.mean(axis=-1)),
    }
    return found | lock_values(vehicle, axle, beams)


def beam_figures(vehicle: Vehicle, axle: Axle, uncertainties: dict[str, float] | None = None) -> list[Figure]:
    """The figures of an axle of swing beams with their +/-; none where it has none.

    Args:
        vehicle: the vehicle; axle: the axle.
        uncertainties: the +/- of a moment ago, to stand in while a point is on its way.
    """
    beams, steering = beams_of(axle), axle.steering
    if beams is None or steering is None:
        return []
    values = {k: v for k, v in beam_values(vehicle, axle, beams).items() if np.isfinite(v)}
    if uncertainties is None:
        uncertainties = _uncertainties(vehicle, axle, steering)
    return [Figure(key, float(value), uncertainties.get(key, 0.0)) for key, value in values.items()]


def _uncertainties(vehicle: Vehicle, axle: Axle, steering: Steering) -> dict[str, float]:
    """The +/- of every figure: each coordinate of each point moved forth and back, the changes added as squares.

    Source: ISO/IEC Guide 98-3 (GUM), law of propagation of uncertainty for independent inputs.
    """
    inputs = steer_inputs(axle)
    points = {}
    for end in dict.fromkeys(i.spot.end for i in inputs):
        at = own_point(axle, end)
        assert at is not None
        moved = np.broadcast_to(np.array(at.xyz), (len(inputs), 2, 1, 3)).copy()
        for j, what in enumerate(inputs):
            if what.spot.end == end:
                moved[j, :, 0, what.axis] += (_STEP_MM, -_STEP_MM)
        points[end] = moved
    many = beam_values(vehicle, axle, BeamAxle(axle, steering, points))
    sure = np.array([i.sure for i in inputs])
    found = {}
    for key, values in many.items():
        both = np.broadcast_to(values, (len(inputs), 2))
        slope = (both[:, 0] - both[:, 1]) / (2.0 * _STEP_MM)
        found[key] = float(np.sqrt(np.nansum((slope * sure) ** 2)))
    return found
