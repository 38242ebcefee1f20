"""How sure an answer is, given how well the points were measured: linear propagation through batched variants."""

from dataclasses import dataclass

import numpy as np

from even_stance.mechanics.linkage import Linkage, Pose
from even_stance.mechanics.vectors import Array
from even_stance.study.answers import Answers, cg_height, study_postures
from even_stance.study.model import layout_of, linkage_from, mount_points
from even_stance.vehicle.car import Axle, Vehicle

_STEP_MM = 0.5


def point_variants(axle: Axle) -> tuple[Linkage, Array, Array]:
    """The linkage with each coordinate of each mount moved a little forth and back.

    Returns:
        The linkages, batch (3m, 2, 1) for coordinate, forth or back, posture; the moved mounts, mm, (3m, 2, 1, m, 3);
        and the +/- of each coordinate, mm, shape (3m,).
    """
    points = mount_points(axle)
    m = len(points)
    moved = np.broadcast_to(points, (3 * m, 2, m, 3)).copy()
    for j, (point, coordinate) in enumerate(np.ndindex(m, 3)):
        moved[j, 0, point, coordinate] += _STEP_MM
        moved[j, 1, point, coordinate] -= _STEP_MM
    moved = moved[:, :, None]
    sure = np.array([mount.at.sure for member in axle.members for mount in member.mounts.values()])
    return linkage_from(axle, layout_of(axle), moved), moved, np.repeat(sure, 3)


def root_sum(values: Array, sure: Array) -> float:
    """The +/- of a value from its variants.

    Args:
        values: the value with each input moved forth and back, shape (inputs, 2)
        sure: the +/- of each input, mm, shape (inputs,)

    Source: ISO/IEC Guide 98-3 (GUM), law of propagation of uncertainty for independent inputs.
    """
    slope = (values[:, 0] - values[:, 1]) / (2 * _STEP_MM)
    return float(np.sqrt(np.nansum((slope * sure) ** 2)))


@dataclass(frozen=True)
class Sureness:
    """The answers of all point variants at some postures, ready to be read as +/-.

    Attributes:
        points: the moved mounts, mm, shape (inputs, 2, 1, m, 3)
        varied: their answers, arrays (inputs, 2, postures)
        sure: the +/- of each input, mm, shape (inputs,)
        cg_share: +/- of the CG height as a share of it.
    """

    points: Array
    varied: Answers
    sure: Array
    cg_share: float

    def of(self, key: str, posture: int) -> float:
        """The +/- of an answer at one of the postures, in the answer's unit."""
        values = self.varied.values[key][:, :, posture]
        spread = root_sum(values, self.sure)
        if key.startswith("anti_"):
            spread = float(np.hypot(spread, np.nanmean(values) * self.cg_share))
        return spread

    def of_swing(self, posture: int, rod: int, end: int) -> float:
        """The +/- of a joint's swing at one of the postures, degrees."""
        return root_sum(self.varied.needed_swing_deg[:, :, posture, rod, end], self.sure)


def sureness_at(vehicle: Vehicle, axle: Axle, left: Array, right: Array, start: Pose | None = None) -> Sureness:
    """Variants of the axle at some postures, in one batch.

    Args:
        vehicle: the vehicle.
        axle: the axle.
        left, right: rise of the wheel centers, mm, bump +, shape (P,)
        start: the poses of the axle as measured, if known: the variants are close to them.
    """
    linkage, points, sure = point_variants(axle)
    varied = study_postures(vehicle, axle, left, right, linkage, start)
    return Sureness(points, varied, sure, vehicle.cg_sure_mm / cg_height(vehicle))
