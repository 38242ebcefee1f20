"""How far brackets may be moved: by the room typed, down to the floor, and clear of the frame."""

from dataclasses import dataclass

import numpy as np

from even_stance.study.frame import RailGaps, frame_ends, rail_gaps
from even_stance.vehicle.job import Job
from even_stance.vehicle.spots import Spot, mount_of

LEAST_HEIGHT_MM = 50.8
JOINT_GAP_MM = 25.0  # from the middle of a joint to the rail, or as much as it has now where that is less


@dataclass(frozen=True)
class Freedom:
    """One coordinate that may move: of a mount with its twin, from low to high against where it is now, mm.

    The axis is 0 ahead, 1 outward, 2 up.
    """

    spot: Spot
    axis: int
    low_mm: float
    high_mm: float


@dataclass(frozen=True)
class Limits:
    """How far one coordinate may move, mm, and what ends it either way: nothing said where it is the room typed."""

    low: float
    high: float
    low_why: str = ""
    high_why: str = ""

    def at_least(self, mm: float, why: str) -> "Limits":
        """The same, not lower than this."""
        return self if mm <= self.low else Limits(min(mm, self.high - 1e-3), self.high, why, self.high_why)

    def at_most(self, mm: float, why: str) -> "Limits":
        """The same, not higher than this."""
        return self if mm >= self.high else Limits(self.low, max(mm, self.low + 1e-3), self.low_why, why)


def limits_of(job: Job, freedoms: list[Freedom], clear_of_frame: bool) -> list[Limits]:
    """How far every free coordinate may move.

    Nothing goes into the floor. Clear of the frame, a bracket on the chassis stays between the ends of the frame, and
    every bracket on the side of the rail it is on now: one on the axle also at full bump. What is drawn within the rail
    is left alone: there the rail is measured wrong, or not at all.
    """
    return [_limits(job, f, freedoms, clear_of_frame) for f in freedoms]


def _limits(job: Job, freedom: Freedom, freedoms: list[Freedom], clear_of_frame: bool) -> Limits:
    """How far a point may go each way before it meets rail, ground or centerline."""
    found = Limits(freedom.low_mm, freedom.high_mm)
    spot, vehicle = freedom.spot, job.vehicle
    at, axle = mount_of(job, spot).at, vehicle.axle(spot.axle)
    body = axle.part(spot.member).body(spot.end)
    if freedom.axis == 2:
        found = found.at_least(LEAST_HEIGHT_MM - at.z, "floor")
    if not clear_of_frame:
        return found
    if freedom.axis == 0:
        ahead, behind = frame_ends(vehicle)
        if body == "chassis" and behind <= at.x <= ahead:
            found = found.at_most(ahead - at.x, "front of the frame").at_least(behind - at.x, "end of the frame")
        return found
    along = next((f for f in freedoms if f.spot == spot and f.axis == 0), Freedom(spot, 0, 0.0, 0.0))
    bump = axle.bump_mm if body == "axle" else 0.0
    x = at.x + np.array([along.low_mm, 0.0, along.high_mm])
    gaps = rail_gaps(vehicle, x, at.y, at.z + bump)
    return _beside(found, freedom.axis, gaps, "frame rail at full bump" if bump else "frame rail")


def _beside(found: Limits, axis: int, gaps: RailGaps, why: str) -> Limits:
    """Kept on the side of the rail it is on: on the others it may do as it likes."""
    side = gaps.side
    if side is None or (side in ("below", "above")) != (axis == 2):
        return found
    gap: float = getattr(gaps, side)
    room = gap - min(gap, JOINT_GAP_MM)
    return found.at_most(room, why) if side in ("below", "inside") else found.at_least(-room, why)


def within_rail(job: Job, spot: Spot) -> bool:
    """Whether a bracket is drawn within the frame rail."""
    at = mount_of(job, spot).at
    return rail_gaps(job.vehicle, np.array([at.x]), at.y, at.z).side is None
