"""What the answers do when the car stands a little higher or lower than it was measured."""

from dataclasses import dataclass
from typing import Literal

import numpy as np

from even_stance.mechanics.vectors import Array
from even_stance.study.answers import study_postures
from even_stance.vehicle.car import Axle, Vehicle
from even_stance.vehicle.edits import with_changes

RANGE_MM = 50.8
_STEPS = 21


@dataclass(frozen=True)
class HeightStudy:
    """Answers over ride height.

    Attributes:
        axle: of which axle; higher_mm: how much higher the frame stands than measured, mm, shape (heights,)
        values: the answers there, nan where the linkage locks up.
    """

    axle: str
    higher_mm: Array
    values: dict[str, Array]


def study_heights(
    vehicle: Vehicle, axle: Axle, reach_mm: float = RANGE_MM, over: Literal["ride", "stands"] = "stands"
) -> HeightStudy:
    """Every answer with the frame from so much lower to so much higher on both axles, in 21 steps.

    A frame that stands higher has its wheels lower relative to it. Over the ground as the car then stands, the sprung
    share of its CG is higher above ground as well; over the ground at ride height these are the postures' answers.

    Raises:
        LayoutError: the members do not hold the axle.
    """
    return stand_at(vehicle, axle, np.linspace(-reach_mm, reach_mm, _STEPS), over)


def stand_at(
    vehicle: Vehicle, axle: Axle, higher_mm: Array, over: Literal["ride", "stands"] = "stands"
) -> HeightStudy:  # fmt: skip
    """Every answer with the frame so much higher on both axles, mm, shape (heights,).

    Raises:
        LayoutError: the members do not hold the axle.
    """
    answers = study_postures(with_changes(vehicle, over=over), axle, -higher_mm, -higher_mm)
    return HeightStudy(axle.key, higher_mm, answers.values)
