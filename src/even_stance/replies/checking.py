"""The reply to a check: every verdict and finding of a job."""

from typing import Literal

from pydantic import BaseModel, ConfigDict, Field

from even_stance.judgement.bands import band_key
from even_stance.judgement.findings import CAUTIONS, Finding
from even_stance.judgement.known import How, how_known, point_name, rests_on
from even_stance.judgement.verdicts import State, Verdict, bind_words, unit_of
from even_stance.replies.reply import Number, Reply, Version, Words, number
from even_stance.shop.survey import STATIONS, Survey, survey
from even_stance.study.bind import Bind
from even_stance.vehicle.job import Job
from even_stance.vehicle.spots import all_spots

BIND = "cross_up_free_pct"


class Judged(BaseModel):
    """One judged number at ride height, or over all travel where it is of that."""

    model_config = ConfigDict(frozen=True)

    key: str
    axle: str
    name: str = Field(description="which of several it is of, such as a link; else empty")
    title: str
    station: str
    value: Number = Field(description="none where there is no such number")
    unit: str
    uncertainty: Number = Field(description="of the value, +/-, in its unit")
    low: Number = Field(description="the lower mark of the band wanted, none where it is open")
    high: Number = Field(description="the upper mark, none where it is open")
    state: State
    why: Words = Field(description="why it is not judged, or unsure; else empty")
    sentence: Words
    rests_on: dict[How, int] = Field(description="how many points it rests on, by how they are known")
    words: Words = Field(description="all of it in one line, as it is printed")


class StationState(BaseModel):
    """A station, and the worst word for anything that belongs to it."""

    model_config = ConfigDict(frozen=True)

    key: str
    state: State


class Found(BaseModel):
    """Something missing, worth a look, that cannot work, or that could not be looked at."""

    model_config = ConfigDict(frozen=True)

    axle: str = Field(description="which axle it is about, empty for the whole car")
    station: str
    severity: Literal["missing", "look", "stop", "not_judged", "not_looked"]
    about: str = Field(description="what kind of thing, in two or three words")
    code: str = Field(description="what kind of thing, a key: that of a judged number where it is out of its band")
    sentence: Words


class Line(BaseModel):
    """One line of a check as it is printed: of which axle, its state or severity, and the words."""

    model_config = ConfigDict(frozen=True)

    axle: str
    state: str
    sentence: Words

    @property
    def is_wrong(self) -> bool:
        """Whether something is out of its band, missing, or found."""
        return self.state in ("look", "stop", "missing", "low", "high", "not_judged")


class CheckReply(Reply):
    """Every verdict and finding of a job. Screening figures; nothing here says that a car is fit for the road."""

    format: Literal["even-stance-check"] = "even-stance-check"
    version: Version = 2
    purpose: str
    judged: list[Judged]
    stations: list[StationState]
    findings: list[Found]
    cautions: list[str]
    known: dict[str, How] = Field(description="how each point is known, by axle/part/end")

    @property
    def lines(self) -> list[Line]:
        """The same as it is printed: what is of the whole car, then each axle, then its links."""
        here = ("travel", "links")
        judged = {j.key for j in self.judged}
        # A number out of its band is told in its own line.
        told = [f for f in self.findings if f.code not in judged]
        general = [f for f in told if f.station not in here]
        lines = [_said(f, "") for f in general]
        axles = [j.axle for j in self.judged] + [f.axle for f in told if f.station in here]
        for key in dict.fromkeys(["", *axles]):  # what is of the whole car stands before its axles
            mine = [j for j in self.judged if j.axle == key and j.station != "build"]
            lines += [Line(axle=key, state=j.state, sentence=j.words) for j in mine]
            lines += [_said(f, key) for f in told if f.station in here and f.axle == key]
        return [
            *lines,
            *(Line(axle="links", state=j.state, sentence=j.words) for j in self.judged if j.station == "build"),
        ]


def check(job: Job, fine: bool = True) -> CheckReply:
    """Every verdict and finding of a job; with its gaps from the fine grid, or from a quick first look."""
    found = survey(job, fine)
    return CheckReply(
        job=job.name, purpose=job.purpose, judged=_judged(job, found),
        stations=[StationState(key=key, state=found.station_state(key)) for key in STATIONS],
        findings=[_found(f) for f in found.findings], cautions=list(CAUTIONS),
        known={point_name(spot): how_known(job, spot) for spot in all_spots(job)},
    )  # fmt: skip


def _judged(job: Job, found: Survey) -> list[Judged]:
    every = [_of_verdict(job, key, verdict) for key, verdict in found.judged]
    return every + [_of_bind(job, key, bind) for key, bind in found.binds.items()]


def _of_verdict(job: Job, key: str, verdict: Verdict) -> Judged:
    """A verdict with all that is said of it."""
    figure, band = verdict.figure, verdict.wanted.band
    if verdict.state == "not_judged":
        words = f"{verdict.title}: {verdict.sentence[0].lower()}{verdict.sentence[1:]}"
    else:
        tip = f" Try: {verdict.try_this}." if verdict.try_this else ""
        reading = f"{verdict.reading(job.units)} ({verdict.state}; wanted {verdict.band_words(job.units)})"
        words = f"{verdict.title}: {reading}. {verdict.sentence}{tip}"
    why = ""
    if verdict.state == "unsure":
        why = "A mark of its band lies within its uncertainty."
    elif verdict.state == "not_judged":
        why = verdict.sentence
    return Judged(
        key=figure.key, axle=key, name=verdict.name, title=verdict.title, station=verdict.station,
        value=number(figure.value), unit=unit_of(band_key(figure.key)), uncertainty=number(figure.uncertainty),
        low=band.low, high=band.high, state=verdict.state, why=why, sentence=verdict.sentence,
        rests_on=_rests_on(job, key, verdict.station), words=words,
    )  # fmt: skip


def _rests_on(job: Job, key: str, station: str) -> dict[How, int]:
    """What a number of an axle rests on, or, of the whole car, of all its axles."""
    counts: dict[How, int] = {}
    for axle in job.vehicle.axles:
        if key in ("", axle.key):
            for how, count in rests_on(job, axle, station).items():
                counts[how] = counts.get(how, 0) + count
    return counts


def _of_bind(job: Job, key: str, bind: Bind) -> Judged:
    """How freely an axle crosses up: how much of the cross-up wanted is within what its joints take."""
    words = bind_words(bind, job.units)
    return Judged(
        key=BIND, axle=key, name="", title="Crosses up freely over", station="travel",
        value=number(100.0 * min(bind.free_share, 1.0)), unit="%", uncertainty=None, low=100.0, high=None,
        state="inside" if bind.free_share >= 1.0 else "low", why="", sentence=words,
        rests_on=_rests_on(job, key, "travel"), words=words,
    )  # fmt: skip


def _found(finding: Finding) -> Found:
    return Found(
        axle=finding.axle, station=finding.station, severity=finding.severity, about=finding.short,
        code=finding.code, sentence=finding.sentence,
    )  # fmt: skip


_HEADS = {"not_judged": "not judged", "not_looked": "not looked at"}


def _said(found: Found, axle: str) -> Line:
    head = _HEADS.get(found.severity, found.severity)
    return Line(axle=axle, state=found.severity, sentence=f"{head}: {found.sentence}")
