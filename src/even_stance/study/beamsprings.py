"""Springs on swing beams: each works on the wheel of its beam alone, a sway bar on both."""

from functools import lru_cache

import numpy as np

from even_stance.mechanics.secondorder import Moving, derivatives
from even_stance.mechanics.swingbeams import beam_points
from even_stance.mechanics.vectors import Array
from even_stance.study.beams import BeamAxle, beams_of
from even_stance.study.model import wheel_centers
from even_stance.study.springs import SpringRun, SpringStudy, bare_axle
from even_stance.study.springunits import Unit, units_of
from even_stance.vehicle.car import Axle


def beam_springs(axle: Axle, left: Array, right: Array) -> SpringStudy | None:
    """Every spring of an axle of swing beams at some travels of its wheels; None where it has no beams.

    Args:
        axle: the axle; left, right: rise of the wheel centers, mm, shape (n,)
    """
    beams = beams_of(axle)
    if beams is None:
        return None
    runs = []
    for unit in units_of(axle):
        length, slope, bend = derivatives(unit.measure, _moving(axle, beams, unit, left, right))
        force, rate = (np.asarray(v) for v in unit.law(length))
        runs.append(SpringRun(unit, length, slope, bend, force, rate))
    return SpringStudy(tuple(runs), np.zeros(2))


def _moving(axle: Axle, beams: BeamAxle, unit: Unit, left: Array, right: Array) -> Moving:
    """The points of a spring that ride on a beam: that of the side of the car they are on."""
    count, points = len(left), unit.points.reshape(-1, 3)
    at = np.zeros((count, len(points), 3))
    first, second = np.zeros((count, 2, len(points), 3)), np.zeros((count, 2, 2, len(points), 3))
    for i, rise in enumerate((left, right)):
        mine = side_of_beam(unit.side, points) == i
        if mine.any():
            found = beam_points(beams.pivot[i], beams.axis[i], wheel_centers(axle)[i], rise, points[mine])
            at[:, mine], first[:, i, mine], second[:, i, i, mine] = found
    return Moving(at, first, second)


def side_of_beam(side: str, points: Array) -> Array:
    """Which beam points are on, 0 left and 1 right, shape (m,): that of their part's side, else of their own."""
    if side in ("left", "right"):
        return np.full(len(points), 0 if side == "left" else 1)
    found: Array = np.where(points[:, 1] >= 0.0, 0, 1)
    return found


@lru_cache(maxsize=8)
def beams_at_ride(axle: Axle) -> SpringStudy | None:
    """The springs of an axle of swing beams at ride height."""
    return beam_springs(bare_axle(axle), np.zeros(1), np.zeros(1))


def beam_roll_center(axle: Axle) -> float:
    """How high the roll center of swing beams is at ride height, mm.

    Where the lines from both tire patches to their beams' axes, in the plane of the wheel centers, meet the middle.

    Source: swing axle construction (Milliken and Milliken, Race Car Vehicle Dynamics, ch. 17, from memory).
    """
    beams = beams_of(axle)
    assert beams is not None
    heights = []
    for i, center in enumerate(wheel_centers(axle)):
        pivot, along = beams.pivot[i], beams.axis[i]
        share = (center[0] - pivot[0]) / along[0]
        turns_at = pivot + share * along
        patch = center - np.array([0.0, 0.0, axle.tire.loaded_radius_mm])
        slope = (turns_at[2] - patch[2]) / (turns_at[1] - patch[1])
        heights.append(patch[2] - slope * patch[1])
    return float(np.mean(heights))
