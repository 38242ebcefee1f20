"""Lateral devices side by side on the same car."""

from dataclasses import dataclass

import numpy as np

from even_stance.errors import StanceError
from even_stance.judgement.catalog.layouts import LATERALS, LateralKey, lateral_members
from even_stance.study.answers import study_postures
from even_stance.vehicle.edits import with_changes
from even_stance.vehicle.job import Job


@dataclass(frozen=True)
class LateralFigures:
    """What one lateral device does on this axle: mm, counts; held is False when it cannot hold the axle.

    Attributes:
        roll_center_mm: at ride height; roll_center_change_mm: from full droop to full bump, in chassis axes.
        shift_mm: largest sideways movement of the axle over travel; nan, as the change, where it locks up on the way.
        joints: how many joints it has; height_mm, length_mm: the room it takes, up and down and fore and aft.
    """

    key: LateralKey
    held: bool
    roll_center_mm: float = 0.0
    roll_center_change_mm: float = 0.0
    shift_mm: float = 0.0
    joints: int = 0
    height_mm: float = 0.0
    length_mm: float = 0.0


def compare_laterals(job: Job, key: str) -> list[LateralFigures]:
    """Every lateral device in turn on an axle, its other members as they are."""
    axle = job.vehicle.axle(key)
    rest = tuple(m for m in axle.members if m.role != "lateral")
    travel = np.linspace(-axle.droop_mm, axle.bump_mm, 21)
    found = []
    for lateral in LATERALS:
        members = lateral_members(axle, job.vehicle.frame, lateral)
        tried = with_changes(axle, members=(*rest, *members))
        try:
            answers = study_postures(job.vehicle, tried, np.append(travel, 0.0), np.append(travel, 0.0))
        except StanceError:
            found.append(LateralFigures(lateral, False))
            continue
        height = answers.values["roll_center_mm"]
        ends = np.array([m.at.xyz for member in members for m in member.mounts.values()]).reshape(-1, 3)
        room = np.ptp(ends, axis=0) if len(ends) else np.zeros(3)
        found.append(
            LateralFigures(
                lateral, True, float(height[-1]), float(np.ptp(height[:-1])),
                float(np.abs(answers.values["shift_y_mm"]).max()), len(ends), float(room[2]), float(room[0]),
            )
        )  # fmt: skip
    return found
