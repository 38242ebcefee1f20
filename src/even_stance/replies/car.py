"""Replies about the whole car: ride, gaps, what to cut, and the car as built."""

from typing import Literal

from pydantic import BaseModel, ConfigDict, Field

from even_stance.errors import InputError, StanceError
from even_stance.judgement.clearances import machine_readable_gaps
from even_stance.replies.reply import Number, Reply, Words, axle_of, json_text
from even_stance.shop.builtstudy import study_built_axle
from even_stance.study.cargaps import study_gaps
from even_stance.study.cutlist import machine_readable_cuts, without_parts
from even_stance.study.ride import machine_readable_ride
from even_stance.study.standing import TURNS_G, leans_at
from even_stance.vehicle.job import Job


class AxleRide(BaseModel):
    """How an axle rides."""

    frequency_hz: Number
    roll_stiffness_nm_deg: float
    motion_ratio_heave: Number
    motion_ratio_roll: Number
    tire_rate_n_mm: Number = Field(description="of one tire, in series with its springs")
    tire_rate_guessed: bool = Field(description="whether it is guessed from size and pressure")


class CarRide(BaseModel):
    """How the car leans, for one g of cornering."""

    roll_deg_per_g: float = Field(description="the slope straight ahead, no stop or strap reached")
    roll_deg_at_g: dict[str, Number] = Field(description="at 0.3 and 0.5 g, with stops and straps; none: not held")
    front_share_of_roll_pct: float = Field(description="the front axle's part of the roll stiffness: shown, not judged")
    front_share_of_transfer_pct: float = Field(description="the front axle's part of what goes across to outer tires")
    front_weight_pct: float
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
    said = machine_readable_ride(job.vehicle)
    leans: dict[str, float | None] = {}
    for g in TURNS_G:
        try:
            leans[f"{g:g}"] = leans_at(job.vehicle, g)
        except InputError:
            leans[f"{g:g}"] = None
    said["car"]["roll_deg_at_g"] = leans
    return RideReply.model_validate({"job": job.name, **said})


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


class GapsReply(Reply):
    """The tightest gap of every pair of parts, tightest first."""

    format: Literal["even-stance-clearances"] = "even-stance-clearances"
    gaps: list[GapRow]
    not_looked: list[Words] = Field(description="what could not be looked at, and why")

    def bare_text(self) -> str:
        """Return the rows alone, as JSON."""
        return json_text(self.model_dump(mode="json")["gaps"])


def clearances(job: Job, fine: bool = True) -> GapsReply:
    """Return the tightest gap of every pair of parts, from the fine grid or from a quick first look.

    Raises:
        StanceError: nothing could be looked at.
    """
    study = study_gaps(job.vehicle, fine=fine)
    rows = machine_readable_gaps(job, study)
    if study.silent and not rows:
        raise StanceError(" ".join(study.silent))
    return GapsReply(job=job.name, gaps=[GapRow.model_validate(row) for row in rows], not_looked=list(study.silent))


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


class CutsReply(Reply):
    """What to cut every link to."""

    format: Literal["even-stance-cut-list"] = "even-stance-cut-list"
    pieces: list[CutRow]
    missing: list[Words] = Field(description="what has no parts chosen, so that nothing can be said of it")

    def bare_text(self) -> str:
        """Return the rows alone, as JSON."""
        return json_text(self.model_dump(mode="json")["pieces"])


def cuts(job: Job) -> CutsReply:
    """Return what to cut every link to.

    Raises:
        InputError: no parts are chosen.
    """
    rows = machine_readable_cuts(job.vehicle)
    if not rows:
        raise InputError("Cut list", "no parts are chosen in this job.", "Fit parts to links in the Build sheet first.")
    missing = [f"no parts are chosen for {piece.words}." for piece in without_parts(job.vehicle)]
    return CutsReply(job=job.name, pieces=[CutRow.model_validate(row) for row in rows], missing=missing)


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
