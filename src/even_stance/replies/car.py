"""Replies about the car: answers at a posture, the check, ride, gaps, what to cut, and the car as built."""

from typing import Any, Literal

import numpy as np
from pydantic import BaseModel, ConfigDict, Field, TypeAdapter

from even_stance.errors import InputError, StanceError
from even_stance.judgement.build import build_findings, judged_links
from even_stance.judgement.clearances import gap_verdicts, machine_readable_gaps
from even_stance.judgement.driveline import driveline_findings
from even_stance.judgement.findings import CAUTIONS, stance_findings, travel_findings
from even_stance.judgement.springs import spring_findings
from even_stance.judgement.steering import steering_findings
from even_stance.judgement.verdicts import Verdict, bind_words, judge, judge_beams, study_wanted_bind
from even_stance.replies.reply import Number, Reply, Words, axle_of
from even_stance.shop.builtstudy import study_built_axle
from even_stance.shop.findings import shop_findings
from even_stance.study.answers import answers_at, machine_readable
from even_stance.study.beamanswers import machine_readable_beams
from even_stance.study.beams import beams_of
from even_stance.study.beamsprings import beam_springs
from even_stance.study.cargaps import study_gaps
from even_stance.study.clearances import GapStudy
from even_stance.study.cutlist import machine_readable_cuts, without_parts
from even_stance.study.figures import study_axle
from even_stance.study.ride import machine_readable_ride
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
    contact_slope: float = Field(0.0, description="dx/dz of the axle-fixed point at the contact patch in heave")
    anti_squat_pct: float = Field(0.0, description="at this axle's share of the drive")
    anti_squat_axle_pct: float = Field(0.0, description="the axle alone, what bands judge")
    anti_lift_brake_pct: float = 0.0
    anti_dive_pct: float = 0.0
    anti_lift_drive_pct: float = 0.0
    roll_center_mm: float = Field(0.0, description="above the ground at ride height, both wheels opposite and equal")
    roll_axis_slope_deg: float = Field(0.0, description="+ rising forward")
    roll_steer_pct: float = Field(0.0, description="yaw of the tube per roll")
    axle_shift_mm: Shift | None = None
    pitch_deg: float = Field(0.0, description="right-handed about +y")
    yaw_deg: float = Field(0.0, description="of the tube in plan, + toward left")
    links: list[NamedLength] = Field(default_factory=list)

    def text(self) -> str:
        """As JSON, with what applies and nothing else."""
        return self.model_dump_json(indent=1, exclude_unset=True) + "\n"


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


class Line(BaseModel):
    """One line of a check.

    Attributes:
        axle: which, if it is of one; state: inside, low, high, unsure, or a finding's severity; sentence: for people.
    """

    model_config = ConfigDict(frozen=True)

    axle: str
    state: str
    sentence: Words

    @property
    def is_wrong(self) -> bool:
        """Whether something is out of its band, missing, or found."""
        return self.state in ("look", "stop", "missing", "low", "high")


class CheckReply(Reply):
    """Every verdict and finding of a job. Screening figures; nothing here says that a car is fit for the road."""

    format: Literal["even-stance-check"] = "even-stance-check"
    purpose: str
    lines: list[Line]
    cautions: list[str]


def check(job: Job, fine: bool = True) -> CheckReply:
    """Every verdict and finding of a job; with its gaps from the fine grid, or from a quick first look."""
    return CheckReply(job=job.name, purpose=job.purpose, lines=_checked(job, fine), cautions=list(CAUTIONS))


def _judged(job: Job, key: str, v: Verdict) -> Line:
    """A verdict as a line."""
    tip = f" Try: {v.try_this}." if v.try_this else ""
    reading = f"{v.reading(job.units)} ({v.state}; wanted {v.band_words(job.units)})"
    return Line(axle=key, state=v.state, sentence=f"{v.title}: {reading}. {v.sentence}{tip}")


def _checked(job: Job, fine: bool) -> list[Line]:
    general = (
        *stance_findings(job),
        *shop_findings(job),
        *driveline_findings(job),
        *steering_findings(job),
        *spring_findings(job),
        *(build_findings(job) if job.vehicle.build.links else ()),
    )
    lines = [Line(axle="", state=f.severity, sentence=f"{f.severity}: {f.sentence}") for f in general]
    # Gaps are looked at where something was put on the car that can be hit.
    gaps = study_gaps(job.vehicle, fine) if job.vehicle.things else None
    for axle in job.vehicle.axles:
        lines += _of_axle(job, axle.key, gaps)
    if job.vehicle.build.links:
        lines += [_judged(job, "links", v) for v in judged_links(job)[1]]
    return lines


def _of_axle(job: Job, key: str, gaps: GapStudy | None) -> list[Line]:
    axle = job.vehicle.axle(key)
    near = [] if gaps is None else [_judged(job, key, v) for v in gap_verdicts(job, gaps, key)]
    if not axle.members:
        swung = [_judged(job, key, v) for v in judge_beams(job, axle)]
        return [*(swung or [Line(axle=key, state="none", sentence="no links designed here")]), *near]
    try:
        study = study_axle(job.vehicle, axle, 0.0, 0.0)
    except StanceError as error:
        return [Line(axle=key, state="stop", sentence=f"stop: {error}")]
    bind = study_wanted_bind(job, study)
    return [
        *(_judged(job, key, v) for v in judge(job, study)), *near,
        Line(axle=key, state="inside", sentence=bind_words(bind, job.units)),
        *(Line(axle=key, state=f.severity, sentence=f"{f.severity}: {f.sentence}")
          for f in travel_findings(job, study, bind)),
    ]  # fmt: skip


class AxleRide(BaseModel):
    """How an axle rides."""

    frequency_hz: Number
    roll_stiffness_nm_deg: float
    motion_ratio_heave: Number
    motion_ratio_roll: Number


class CarRide(BaseModel):
    """How the car leans, for one g of cornering."""

    roll_deg_per_g: float
    front_share_of_roll_pct: float
    inside_lift_g: dict[str, Number]
    load_transfer_n_per_g: dict[str, float]


class RideReply(Reply):
    """How the car rides and leans on its springs."""

    format: Literal["even-stance-ride"] = "even-stance-ride"
    axles: dict[str, AxleRide]
    car: CarRide


def ride(job: Job) -> RideReply:
    """How the car rides and leans.

    Raises:
        InputError: no axle has springs, or how the car leans cannot be said.
    """
    return RideReply.model_validate({"job": job.name, **machine_readable_ride(job.vehicle)})


class GapRow(BaseModel):
    """The tightest place of a pair of parts over travel and steer; below 0 they overlap by that much."""

    model_config = ConfigDict(extra="allow")

    a: str
    b: str
    gap_mm: float
    wanted_mm: float
    axle: str
    left_mm: float
    right_mm: float
    steer: float


GAPS = TypeAdapter(list[GapRow])


def clearances(job: Job, fine: bool = True) -> tuple[list[dict[str, object]], tuple[str, ...]]:
    """The tightest gap of every pair of parts, tightest first, and what could not be looked at, in sentences."""
    study = study_gaps(job.vehicle, fine=fine)
    return machine_readable_gaps(job, study), study.silent


class CutEnd(BaseModel):
    """One end of a link that is cut."""

    model_config = ConfigDict(extra="allow")

    joint: str | None
    hand: str
    engaged_mm: float
    engaged_min_mm: float
    out_mm: float
    in_mm: float


class CutRow(BaseModel):
    """One piece to cut."""

    model_config = ConfigDict(extra="allow")

    part: str
    stock: str
    cut_mm: float
    ends: list[CutEnd]
    sure_mm: float
    spare_mm: float


CUTS = TypeAdapter(list[CutRow])


def cuts(job: Job) -> tuple[list[dict[str, object]], tuple[str, ...]]:
    """What to cut every link to, and what could not be said, in sentences.

    Raises:
        InputError: no parts are chosen.
    """
    rows = machine_readable_cuts(job.vehicle)
    if not rows:
        raise InputError("Cut list", "no parts are chosen in this job.", "Fit parts to links in the Build sheet first.")
    return rows, tuple(f"no parts are chosen for {piece.words}." for piece in without_parts(job.vehicle))


class OffPoint(BaseModel):
    """A point of the built car against the design."""

    point: str
    off_mm: list[float] = Field(description="ahead, to the left, up")
    sure_mm: float
    really: bool = Field(description="off by more than the tape may be")


class WayOut(BaseModel):
    """One way to put it right, tried on the built car."""

    kind: str
    words: Words
    comes: Words
    nose_up_deg: float
    aside_mm: float
    ahead_mm: float
    square_mm: float


class BuiltReply(Reply):
    """An axle as it came out against its design, and ways to put right what is off, cheapest first."""

    format: Literal["even-stance-as-built"] = "even-stance-as-built"
    axle: str
    stage: str
    points: list[OffPoint]
    ways: list[WayOut]


def as_built(job: Job, axle: str) -> BuiltReply:
    """An axle as built against its design.

    Raises:
        InputError: no such axle, or nothing of the built car was measured.
    """
    axle_of(job, axle)
    found = study_built_axle(job, axle)
    if found is None:
        raise InputError("As built", "nothing of the built car was measured.", "Tape it on the Log station first.")
    points = [
        OffPoint(point=f"{d.spot.axle}/{d.spot.member}/{d.spot.end}", off_mm=d.off.tolist(), sure_mm=d.sure_mm,
                 really=d.really)
        for d in found.off if d.spot.axle == axle
    ]  # fmt: skip
    ways = [
        WayOut(kind=f.kind, words=f.title, comes=f.comes, nose_up_deg=f.stand.nose_up_deg, aside_mm=f.stand.aside_mm,
               ahead_mm=f.stand.ahead_mm, square_mm=f.stand.square_mm)
        for f in found.fixes
    ]  # fmt: skip
    return BuiltReply(job=job.name, axle=axle, stage=found.stage, points=points, ways=ways)
