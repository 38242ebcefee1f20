"""Replies about one axle at one posture."""

from typing import Any, Literal

import numpy as np
from pydantic import BaseModel, ConfigDict, Field

from even_stance.replies.reply import Number, Reply, axle_of, json_text
from even_stance.study.answers import answers_at, machine_readable
from even_stance.study.beamanswers import machine_readable_beams
from even_stance.study.beams import beams_of
from even_stance.study.beamsprings import beam_springs
from even_stance.study.springs import machine_readable_springs, springs_said
from even_stance.study.steeranswers import machine_readable_steer, steer_words
from even_stance.vehicle.edits import with_changes
from even_stance.vehicle.job import Job


class Posture(BaseModel):
    """Rise of both wheel centers against the chassis, mm, bump +."""

    left_mm: float
    right_mm: float


class Center(BaseModel):
    """The instant center in the side view."""

    x_mm: float
    z_mm: float


class Shift(BaseModel):
    """How far the axle's center has gone from its place, mm."""

    x: float
    y: float
    z: float


class NamedLength(BaseModel):
    """A link, pin to pin."""

    name: str
    length_mm: float


class AnswersReply(Reply):
    """One axle at one posture; an axle that has none of a thing leaves its name out. More names may come."""

    model_config = ConfigDict(frozen=True, extra="allow")

    format: Literal["even-stance-answers"] = "even-stance-answers"
    axle: str
    posture: Posture
    instant_center: Center | None = Field(None, description="none where the links are parallel")
    contact_slope: Number = Field(None, description="dx/dz of the axle-fixed point at the contact patch in heave")
    anti_squat_pct: Number = Field(None, description="at this axle's share of the drive")
    anti_squat_axle_pct: Number = Field(None, description="the axle alone, what bands judge")
    anti_lift_brake_pct: Number = None
    anti_dive_pct: Number = None
    anti_lift_drive_pct: Number = None
    roll_center_mm: Number = Field(None, description="above the ground at ride height, both wheels opposite and equal")
    roll_axis_slope_deg: Number = Field(None, description="+ rising forward")
    roll_steer_pct: Number = Field(None, description="yaw of the tube per roll")
    axle_shift_mm: Shift | None = None
    pitch_deg: Number = Field(None, description="right-handed about +y")
    yaw_deg: Number = Field(None, description="of the tube in plan, + toward left")
    links: list[NamedLength] = Field(default_factory=list)

    def text(self) -> str:
        """As JSON, with what applies and nothing else."""
        return json_text(self.model_dump(mode="json", exclude_unset=True))


def answers(job: Job, axle: str, left_mm: float = 0.0, right_mm: float = 0.0, steer: float = 0.0) -> AnswersReply:
    """The answers for one axle at one posture.

    Raises:
        InputError, LayoutError, CannotReachError: no such axle, nothing holds it, or it does not get there.
    """
    one = axle_of(job, axle)
    head: dict[str, Any] = {"format": "even-stance-answers", "version": 1, "job": job.name, "axle": axle}
    if beams_of(one) is not None:
        said: dict[str, Any] = machine_readable_beams(job.vehicle, one, left_mm, right_mm, steer)
        springs = beam_springs(one, np.array([left_mm]), np.array([right_mm]))
        if springs is not None and springs.runs:
            said |= springs_said(job.vehicle, one, springs)
        return AnswersReply(**{**head, **said})
    # The names have one meaning, whatever ground the window shows: that at ride height.
    found = answers_at(with_changes(job.vehicle, over="ride"), one, left_mm, right_mm, job.units)
    return AnswersReply(**{
        **head, **machine_readable(found), **machine_readable_steer(job.vehicle, found, steer),
        **machine_readable_springs(job.vehicle, one, found),
    })  # fmt: skip


def no_steering_words(job: Job, axle: str) -> str:
    """What to tell who steers an axle without steering; empty where it has some."""
    one = axle_of(job, axle)
    return "" if one.steering is not None else steer_words(one)
