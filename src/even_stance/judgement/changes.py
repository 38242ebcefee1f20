"""What else changed: what an edit, a suggestion or another variant makes better and worse, over the whole car."""

from dataclasses import dataclass
from typing import Literal

from even_stance.errors import StanceError
from even_stance.judgement.bands import band_edges
from even_stance.judgement.driveline import driveline_findings
from even_stance.judgement.findings import Finding, layout_findings, stance_findings, travel_findings
from even_stance.judgement.springs import spring_findings
from even_stance.judgement.standards import STANDARDS
from even_stance.judgement.verdicts import Verdict, judge, judge_beams, miss, study_wanted_bind
from even_stance.study.figures import study_axle
from even_stance.vehicle.edits import with_changes
from even_stance.vehicle.job import Job
from even_stance.vehicle.variants import vehicle_of

Way = Literal["worse", "better", "moved"]
_RANK: dict[Way, int] = {"worse": 0, "better": 1, "moved": 2}
_WEIGHT = {"stop": 100.0, "missing": 20.0, "look": 10.0}


@dataclass(frozen=True)
class Judged:
    """All that is said of a car at ride height: verdicts by axle, and findings."""

    job: Job
    verdicts: dict[str, list[Verdict]]
    findings: tuple[Finding, ...]


@dataclass(frozen=True)
class Change:
    """One thing that is not what it was.

    Attributes:
        way: worse, better, or moved (by more than its +/-, in its band before and after).
        station, axle, key: where it belongs, to go there; the axle and key of a finding may be empty.
        title: what it is; words: from what to what.
        size: how much it matters against others that went the same way: bands passed by, or +/- moved.
    """

    way: Way
    station: str
    axle: str
    key: str
    title: str
    words: str
    size: float


def judge_car(job: Job) -> Judged:
    """Verdicts and findings of every axle of the car on the bench, at ride height and over travel."""
    verdicts: dict[str, list[Verdict]] = {}
    errors: dict[str, str] = {}
    findings = [*stance_findings(job), *driveline_findings(job), *spring_findings(job)]
    for axle in job.vehicle.axles:
        if not axle.members:
            verdicts[axle.key] = judge_beams(job, axle)
            continue
        try:
            study = study_axle(job.vehicle, axle, 0.0, 0.0)
        except StanceError as error:
            errors[axle.key] = str(error)
            continue
        verdicts[axle.key] = judge(job, study)
        findings += travel_findings(job, study, study_wanted_bind(job, study))
    return Judged(job, verdicts, (*findings, *layout_findings(errors)))


def variant_changes(job: Job, other: str) -> list[Change]:
    """What the variant on the bench makes better and worse against another one, worst first."""
    return what_changed(judge_car(with_changes(job, vehicle=vehicle_of(job, other))), judge_car(job))


def what_changed(before: Judged, after: Judged, unknown: frozenset[str] = frozenset()) -> list[Change]:
    """What came better and what got worse, worst first.

    Numbers count that crossed a mark, went farther out or came nearer, or moved more than their +/-; findings that came
    or went.

    Args:
        before, after: two states, of the same car or of two variants.
        unknown: codes of findings that are not known in one of them.
    """
    found: list[Change] = []
    for axle, now in after.verdicts.items():
        were = {v.figure.key: v for v in before.verdicts.get(axle, [])}
        found += [c for v in now if v.figure.key in were and (c := _moved(after, axle, were[v.figure.key], v))]
    # Numbers out of their bands are findings too: they have been told of above.
    unknown = unknown | frozenset(STANDARDS)
    old = {_name(f): f for f in before.findings if f.code not in unknown}
    new = {_name(f): f for f in after.findings if f.code not in unknown}
    found += [_told("worse", f, f.short) for name, f in new.items() if name not in old]
    found += [_told("better", f, f"{f.short}: no more") for name, f in old.items() if name not in new]
    return sorted(found, key=lambda c: (_RANK[c.way], -c.size))


def _name(finding: Finding) -> tuple[str, str]:
    return finding.code, finding.axle


def _told(way: Way, finding: Finding, words: str) -> Change:
    return Change(way, finding.station, finding.axle, "", "", words, _WEIGHT[finding.severity])


def _moved(after: Judged, axle: str, was: Verdict, now: Verdict) -> Change | None:
    """How one number changed; None when it hardly did."""
    low, high = band_edges(now.wanted.band)
    moved = abs(now.figure.value - was.figure.value)
    sure = max(now.figure.uncertainty, was.figure.uncertainty, 1e-9)
    off, off_before = miss(now.figure.value, now.wanted), miss(was.figure.value, was.wanted)
    farther = (off - off_before) / (high - low)
    crossed = (off > 0) != (off_before > 0)
    if not crossed and moved <= sure:
        return None
    way: Way = "moved" if off == off_before else "worse" if off > off_before else "better"
    units, standard = after.job.units, STANDARDS[now.figure.key]
    words = f"{was.reading(units)} → {now.reading(units)}"
    size = abs(farther) + (1.0 if crossed else 0.0) if way != "moved" else moved / sure
    return Change(way, standard.station, axle, now.figure.key, standard.title, words, size)
