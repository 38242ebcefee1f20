"""The reply to a check: every verdict and finding of a job."""

from collections.abc import Callable, Sequence
from functools import partial
from typing import Literal

from pydantic import BaseModel, ConfigDict

from even_stance.errors import StanceError
from even_stance.faults import fenced
from even_stance.judgement.build import build_findings, judged_links
from even_stance.judgement.clearances import gap_verdicts
from even_stance.judgement.driveline import driveline_findings
from even_stance.judgement.findings import CAUTIONS, Finding, stance_findings, travel_findings
from even_stance.judgement.springs import spring_findings
from even_stance.judgement.steering import steering_findings
from even_stance.judgement.verdicts import Verdict, bind_words, judge, judge_beams, study_wanted_bind
from even_stance.replies.reply import Reply, Words
from even_stance.shop.findings import shop_findings
from even_stance.study.cargaps import study_gaps
from even_stance.study.clearances import GapStudy
from even_stance.study.figures import study_axle
from even_stance.study.strength import study_strength
from even_stance.vehicle.job import Job


class Line(BaseModel):
    """One line of a check.

    Attributes:
        axle: which, if it is of one; state: inside, low, high, unsure, not_judged, not_looked, or a finding's severity;
        sentence: for people.
    """

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
    purpose: str
    lines: list[Line]
    cautions: list[str]


def check(job: Job, fine: bool = True) -> CheckReply:
    """Every verdict and finding of a job; with its gaps from the fine grid, or from a quick first look."""
    return CheckReply(job=job.name, purpose=job.purpose, lines=_checked(job, fine), cautions=list(CAUTIONS))


def _judged(job: Job, key: str, v: Verdict) -> Line:
    """A verdict as a line."""
    if v.state == "not_judged":
        return Line(axle=key, state=v.state, sentence=f"{v.title}: {v.sentence[0].lower()}{v.sentence[1:]}")
    tip = f" Try: {v.try_this}." if v.try_this else ""
    reading = f"{v.reading(job.units)} ({v.state}; wanted {v.band_words(job.units)})"
    return Line(axle=key, state=v.state, sentence=f"{v.title}: {reading}. {v.sentence}{tip}")


_GENERAL: tuple[tuple[str, Callable[[Job], Sequence[Finding]]], ...] = (
    ("Stance", stance_findings),
    ("Measuring", shop_findings),
    ("Driveline", driveline_findings),
    ("Steering", steering_findings),
    ("Springs", spring_findings),
    ("Build sheet", build_findings),
)


def _checked(job: Job, fine: bool) -> list[Line]:
    lines: list[Line] = []
    for what, find in _GENERAL:
        lines += fenced(what, partial(_lines_of, find, job), _unknown)
    # The car's own parts hit each other too: gaps are looked at whether or not anything was put on it.
    gaps = fenced("Clearance", lambda: study_gaps(job.vehicle, fine), lambda why: _say(lines, why))
    lines += [] if gaps is None else [_not_looked(why) for why in gaps.silent]
    for key in [a.key for a in job.vehicle.axles]:
        lines += fenced(f"{key.capitalize()} axle", partial(_of_axle, job, key, gaps), partial(_not_judged, key))
    if job.vehicle.build.links:
        lines += fenced("Strength of the links", partial(_of_links, job), partial(_not_judged, "links"))
    return lines


def _of_links(job: Job) -> list[Line]:
    """Return how far each link is used.

    Raises:
        StanceError: the loads are not known.
    """
    study_strength(job.vehicle, job.loads)
    return [_judged(job, "links", v) for v in judged_links(job)[1]]


def _lines_of(find: Callable[[Job], Sequence[Finding]], job: Job) -> list[Line]:
    return [_found(f) for f in find(job)]


def _found(finding: Finding, axle: str = "") -> Line:
    return Line(axle=axle, state=finding.severity, sentence=f"{finding.severity}: {finding.sentence}")


def _not_judged(axle: str, why: str) -> list[Line]:
    return [Line(axle=axle, state="not_judged", sentence=f"not judged: {why}")]


def _not_looked(why: str) -> Line:
    return Line(axle="", state="not_looked", sentence=f"not looked at: {why}")


def _unknown(why: str) -> list[Line]:
    return _not_judged("", why)


def _say(lines: list[Line], why: str) -> None:
    lines += _unknown(why)


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
        *(_found(f, key) for f in travel_findings(job, study, bind)),
    ]  # fmt: skip
