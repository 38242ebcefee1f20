"""Left against right travel, everywhere: how much of its swing every joint uses, and where the axle locks up."""

from dataclasses import dataclass

import numpy as np

from even_stance.mechanics.vectors import Array
from even_stance.study.answers import Answers, study_postures
from even_stance.study.model import swing_limits
from even_stance.vehicle.car import Axle, Vehicle

SIDE = 31


@dataclass(frozen=True)
class Worst:
    """The posture at which one joint uses most of its swing."""

    joint: str
    use_pct: float
    needed_deg: float
    limit_deg: float
    left_mm: float
    right_mm: float


@dataclass(frozen=True)
class Articulation:
    """A map of left against right wheel travel.

    Attributes:
        travel_mm: the travels of either wheel, shape (31,)
        use_pct: largest use of any joint's swing at each posture (left, right), nan where it locks up, shape (31, 31)
        worst: the worst posture of every joint, the hardest worked first.
        reachable: share of all postures that the linkage reaches, 0..1.
    """

    travel_mm: Array
    use_pct: Array
    worst: tuple[Worst, ...]
    reachable: float


def study_articulation(vehicle: Vehicle, axle: Axle) -> Articulation:
    """Every joint over a 31 x 31 grid of left and right wheel travel.

    Raises:
        LayoutError: the members do not hold the axle.
    """
    travel = np.linspace(-axle.droop_mm, axle.bump_mm, SIDE)
    left, right = (g.ravel() for g in np.meshgrid(travel, travel, indexing="ij"))
    answers = study_postures(vehicle, axle, left, right)
    limits = np.maximum(swing_limits(answers.layout), 0.1)
    use = 100.0 * answers.needed_misalignment_deg / limits
    most = np.where(answers.ok, use.max(axis=(1, 2)), np.nan) if use.size else np.zeros(len(left))
    return Articulation(travel, most.reshape(SIDE, SIDE), _worst(answers, use, limits), float(answers.ok.mean()))


def _worst(answers: Answers, use: Array, limits: Array) -> tuple[Worst, ...]:
    """The hardest-worked joints of a map."""
    found = []
    for i, rod in enumerate(answers.layout.rods):
        if not rod.swings:
            continue
        for j, index in enumerate((rod.first, rod.second)):
            place = answers.layout.mounts[index]
            at = int(np.argmax(np.nan_to_num(use[:, i, j], nan=-1.0)))
            found.append(
                Worst(
                    f"{place.member.name}, {place.member.WORDS[place.end]}", float(use[at, i, j]),
                    float(answers.needed_misalignment_deg[at, i, j]), float(limits[i, j]),
                    float(answers.left[at]), float(answers.right[at]),
                )
            )  # fmt: skip
    return tuple(sorted(found, key=lambda w: -w.use_pct))
