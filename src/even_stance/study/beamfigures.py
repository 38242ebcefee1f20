"""What swing beams are judged by: camber, toe and track over travel, and the lock, with what moves them."""

from functools import lru_cache
from typing import cast

import numpy as np

from even_stance.mechanics.steering import LEFT
from even_stance.mechanics.vectors import Array
from even_stance.study.beams import BeamAxle, BeamState, beams_of
from even_stance.study.figures import Figure
from even_stance.study.sensitivity import Input, Slopes
from even_stance.study.steerfigures import SWING_SHARES, lock_of, lock_values, part_of_lock
from even_stance.study.steerspread import steer_slopes, steer_spreads
from even_stance.vehicle.car import Axle, Vehicle

_STEPS = 31
_SWING_STEPS = 15


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
    limit = axle.steering.swing_limit_deg if axle.steering is not None else 90.0
    swing = np.array([deg for _, deg in _swings(axle, beams)]).max(axis=0)
    return found | {"steer_swing_use_pct": 100.0 * swing / limit} | lock_values(vehicle, axle, beams)


@lru_cache(maxsize=8)
def _swings(axle: Axle, beams: BeamAxle) -> list[tuple[str, Array]]:
    """The most every joint swings over travel and lock, degrees, shape (...), with its name.

    Either joint goes by its own wheel and the center link alone: both wheels up and down together are all there is.
    """
    travel = np.linspace(-axle.droop_mm, axle.bump_mm, _SWING_STEPS)
    steer = part_of_lock(lock_of(axle, beams), SWING_SHARES)
    every = np.repeat(steer, _SWING_STEPS, axis=-1)
    rises = np.tile(travel, len(SWING_SHARES))
    found = beams.swings(beams.over(every, rises, rises))
    return [(f"{name}, {end} joint", np.degrees(np.nanmax(swing, axis=-1))) for name, end, swing in found]


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
        uncertainties = steer_spreads(axle, lambda many: beam_values(vehicle, axle, cast(BeamAxle, many)))
    name, deg = max(_swings(axle, beams), key=lambda swing: float(swing[1]))
    notes = {"steer_swing_use_pct": f"{name}: {float(deg):.0f}° of {steering.swing_limit_deg:.0f}°"}
    return [Figure(key, float(value), uncertainties.get(key, 0.0), notes.get(key, "")) for key, value in values.items()]


def beam_slopes(vehicle: Vehicle, axle: Axle) -> Slopes:
    """What moves every figure of an axle of swing beams, per mm of every coordinate of its points."""
    inputs, slopes = steer_slopes(axle, lambda many: beam_values(vehicle, axle, cast(BeamAxle, many)))
    words = ("ahead", "left", "up")
    named = (Input("steer", f"{i.spot.words}: {words[i.axis]}", i.sure, i.spot, i.axis) for i in inputs)
    return Slopes(tuple(named), slopes)
