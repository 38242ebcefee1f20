"""The +/- of what a steering comes to, and what moves it: every coordinate of every point moved forth and back."""

from collections.abc import Callable, Mapping

import numpy as np

from even_stance.mechanics.vectors import Array
from even_stance.study.beams import BeamAxle
from even_stance.study.steerfigures import SteerInput, Turner, steer_inputs, varied_points
from even_stance.study.steering import SteeredAxle
from even_stance.vehicle.car import Axle

_STEP_MM = 0.5


def varied_turner(axle: Axle, inputs: list[SteerInput]) -> Turner:
    """Many steerings of an axle, each input in turn moved half a millimeter forth and back, batch axes (inputs, 2, 1).

    Raises:
        AssertionError: nothing steers the axle.
    """
    assert axle.steering is not None
    kind = BeamAxle if axle.steering.kind == "swing_beams" else SteeredAxle
    return kind(axle, axle.steering, varied_points(axle, inputs, _STEP_MM))


def steer_slopes(
    axle: Axle, values: Callable[[Turner], Mapping[str, Array]]
) -> tuple[list[SteerInput], dict[str, Array]]:
    """How much every value changes per mm of every coordinate of the steering, shape (inputs,) each."""
    inputs = steer_inputs(axle)
    found = {}
    for key, value in values(varied_turner(axle, inputs)).items():
        both = np.broadcast_to(value, (len(inputs), 2))
        found[key] = (both[:, 0] - both[:, 1]) / (2.0 * _STEP_MM)
    return inputs, found


def steer_spreads(axle: Axle, values: Callable[[Turner], Mapping[str, Array]]) -> dict[str, float]:
    """The +/- of every value, from how sure the points of the steering are.

    Source: ISO/IEC Guide 98-3 (GUM), law of propagation of uncertainty for independent inputs.
    """
    inputs, slopes = steer_slopes(axle, values)
    sure = np.array([i.sure for i in inputs])
    return {key: float(np.sqrt(np.nansum((slope * sure) ** 2))) for key, slope in slopes.items()}
