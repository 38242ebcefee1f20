"""What the answers do when the car stands a little higher or lower than it was measured."""

from dataclasses import dataclass

import numpy as np

from even_stance.mechanics.vectors import Array
from even_stance.study.answers import cg_height, study_postures
from even_stance.vehicle.car import Axle, Vehicle

RANGE_MM = 50.8
_STEPS = 21


@dataclass(frozen=True)
class HeightStudy:
    """Answers over ride height.

    Attributes:
        axle: of which axle; higher_mm: how much higher the frame stands than measured, mm, shape (21,)
        values: the answers there, heights above ground, nan where the linkage locks up.
    """

    axle: str
    higher_mm: Array
    values: dict[str, Array]


def study_heights(vehicle: Vehicle, axle: Axle, reach_mm: float = RANGE_MM) -> HeightStudy:
    """Every answer with the frame from 2 in lower to 2 in higher on both axles.

    A frame that stands higher has its wheels lower relative to it, and its CG higher above ground by as much.

    Raises:
        LayoutError: the members do not hold the axle.
    """
    higher = np.linspace(-reach_mm, reach_mm, _STEPS)
    answers = study_postures(vehicle, axle, -higher, -higher)
    h = cg_height(vehicle)
    values = {}
    for key, value in answers.values.items():
        taller = value * h / (h + higher) if key.startswith("anti_") else value
        values[key] = taller + higher if key.startswith("roll_center") else taller
    return HeightStudy(axle.key, higher, values)
