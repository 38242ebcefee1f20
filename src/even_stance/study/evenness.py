"""How far a driveshaft is from turning its pinion evenly as seen from the side, and the tail that makes it even."""

from functools import lru_cache

import numpy as np

from even_stance.mechanics.roots import crossing
from even_stance.mechanics.vectors import Array
from even_stance.study.driveline import crosses, ends_of
from even_stance.study.powertrain import REACH_MM
from even_stance.vehicle.car import Axle, Vehicle
from even_stance.vehicle.driveline import Shaft

_EVEN = ("double_cardan", "cv")


def side_off_deg(vehicle: Vehicle, axle: Axle) -> float:
    """How far the nose of the pinion is too low, as seen from the side, degrees; the ends of its shaft are measured.

    With single joints both ends rise alike; beside a double-cardan or CV joint, which turns evenly by itself, the
    other joint stays straight (common practice, no source). With two of those nothing is off.
    """
    shaft, ends = axle.shaft or Shaft(), ends_of(vehicle, axle)
    start, goal = crosses(shaft, ends, ends.pinion, ends.pinion_axis, -1.0 if axle.is_front else 1.0)
    line = _rise(start - goal)
    output = line if shaft.output_joint in _EVEN else _rise(ends.output_axis)
    pinion = line if shaft.pinion_joint in _EVEN else _rise(ends.pinion_axis)
    return output - pinion


def _rise(way: Array) -> float:
    """How much a line rises toward the front as seen from the side, degrees."""
    return float(np.degrees(np.arctan(way[2] / way[0]))) if way[0] else 90.0


def even_tail(vehicle: Vehicle, axle: Axle, low_deg: float = 0.0) -> float | None:
    """How far the tail is raised where the pinion is so much too low, as seen from the side, mm; None where nowhere."""
    if vehicle.powertrain is None or axle.output is None or axle.pinion is None:
        return None
    as_measured = vehicle.powertrain.model_copy(update={"tail_up_mm": 0.0})
    return _even_tail(vehicle.model_copy(update={"powertrain": as_measured}), axle, low_deg)


@lru_cache(maxsize=8)
def _even_tail(vehicle: Vehicle, axle: Axle, low_deg: float) -> float | None:
    power = vehicle.powertrain
    assert power is not None

    def off(rise: float) -> float:
        raised = power.model_copy(update={"tail_up_mm": rise})
        return side_off_deg(vehicle.model_copy(update={"powertrain": raised}), axle) - low_deg

    if off(-REACH_MM) * off(REACH_MM) >= 0.0:
        return None
    return crossing(off, -REACH_MM, REACH_MM, 1e-4)
