"""Everything that is judged and found of a job at ride height, in one list for whoever tells it."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from functools import partial

from even_stance.errors import StanceError
from even_stance.faults import fenced
from even_stance.judgement.bands import WHOLE_CAR
from even_stance.judgement.build import build_findings, judged_links, link_name, strength_findings
from even_stance.judgement.clearances import gap_findings, gap_verdicts
from even_stance.judgement.driveline import driveline_findings
from even_stance.judgement.findings import Finding, Severity, number_findings, stance_findings, travel_findings
from even_stance.judgement.springs import spring_findings
from even_stance.judgement.steering import steering_findings
from even_stance.judgement.verdicts import State, Verdict, judge, judge_beams, study_wanted_bind
from even_stance.shop.asbuilt import built_findings, built_stages, unbuilt_findings
from even_stance.shop.builtstudy import study_built_axle
from even_stance.shop.findings import shop_findings
from even_stance.shop.rechecks import recheck_findings
from even_stance.study.bind import Bind
from even_stance.study.cargaps import study_gaps
from even_stance.study.clearances import GapStudy
from even_stance.study.figures import study_axle
from even_stance.vehicle.job import Job

STATIONS = ("stance", "links", "travel", "driveline", "steering", "springs", "clearance", "build", "log")
_SAID_BY: dict[Severity, State] = {
    "stop": "low", "look": "unsure", "missing": "missing", "not_judged": "not_judged", "not_looked": "not_looked",
}  # fmt: skip
_WORST: tuple[State, ...] = ("low", "high", "missing", "not_judged", "not_looked", "unsure", "inside")


@dataclass
class Survey:
    """What is judged and found of a job.

    Attributes:
        judged: every verdict with the key of its axle; binds: how freely each linked axle crosses up.
        findings: what is missing, worth a look, cannot work, or could not be looked at.
        gaps: what comes near to what; None where that could not be looked at.
    """

    judged: list[tuple[str, Verdict]] = field(default_factory=list)
    binds: dict[str, Bind] = field(default_factory=dict)
    findings: list[Finding] = field(default_factory=list)
    gaps: GapStudy | None = None

    def station_state(self, station: str) -> State:
        """The worst word for anything that belongs to a station; one that nothing is known of was not looked at."""
        said = {v.state for _, v in self.judged if v.station == station}
        said |= {_SAID_BY[f.severity] for f in self.findings if f.station == station}
        return next((state for state in _WORST if state in said), "not_looked")


_GENERAL: tuple[tuple[str, str, Callable[[Job], Sequence[Finding]]], ...] = (
    ("stance", "Stance", stance_findings),
    ("stance", "Measuring", shop_findings),
    ("driveline", "Driveline", driveline_findings),
    ("steering", "Steering", steering_findings),
    ("springs", "Springs", spring_findings),
    ("build", "Build sheet", build_findings),
    ("log", "Log", recheck_findings),
)


def unknown(station: str, axle: str, why: str, severity: Severity = "not_judged") -> Finding:
    """Something that could not be judged or looked at, and why."""
    words = "not looked at" if severity == "not_looked" else "not judged"
    return Finding("unknown", severity, station, words, why, axle)


def survey(job: Job, fine: bool = True) -> Survey:
    """Judge a job: every number, every gap, every link, and all that is found.

    Args:
        job: the job; fine: whether gaps are searched to 0.1 mm, else with a quick first look.
    """
    found = Survey()
    say = found.findings
    for station, what, find in _GENERAL:
        say += fenced(what, partial(_listed, find, job), partial(_instead, station, ""))
    # The car's own parts hit each other too: gaps are looked at whether or not anything was put on it.
    gaps = fenced("Clearance", lambda: study_gaps(job.vehicle, fine), lambda why: _none(say, why))
    found.gaps = gaps
    if gaps is not None:
        say += [unknown("clearance", "", why, "not_looked") for why in gaps.silent]
        say += [f for f in gap_findings(job, gaps) if f.station == "clearance"]
    for axle in job.vehicle.axles:
        say += fenced(f"{axle.key.capitalize()} axle", partial(_of_axle, job, axle.key, found),
                      partial(_instead, "links", axle.key))  # fmt: skip
    for station in STATIONS:
        if station not in ("clearance", "build"):
            keys = ("", *(a.key for a in job.vehicle.axles))
            by_axle = {key: [v for of, v in found.judged if of == key] for key in keys}
            say += number_findings(by_axle, station)
    say += fenced("Strength of the links", partial(_of_links, job, found), partial(_instead, "build", ""))
    say += fenced("The built car", partial(_of_built, job), partial(_instead, "log", ""))
    return found


def _listed(find: Callable[[Job], Sequence[Finding]], job: Job) -> list[Finding]:
    return list(find(job))


def _instead(station: str, axle: str, why: str) -> list[Finding]:
    return [unknown(station, axle, why)]


def _none(say: list[Finding], why: str) -> None:
    say.append(unknown("clearance", "", why))


def _of_axle(job: Job, key: str, found: Survey) -> list[Finding]:
    """Judge one axle at ride height; return what is found of it over travel."""
    axle = job.vehicle.axle(key)
    near = [] if found.gaps is None else [(key, v) for v in gap_verdicts(job, found.gaps, key)]
    if not axle.members:
        said = {v.figure.key for axle_key, v in found.judged if not axle_key}
        swung = [
            ("" if v.figure.key in WHOLE_CAR else key, v)
            for v in judge_beams(job, axle) if v.figure.key not in said
        ]  # fmt: skip
        found.judged += [*swung, *near]
        return [] if swung else [Finding("no-links", "missing", "links", "no links", "no links designed here", key)]
    try:
        study = study_axle(job.vehicle, axle, 0.0, 0.0)
    except StanceError as error:
        found.judged += near
        return [Finding("layout", "stop", "links", "not held", str(error), key)]
    bind = study_wanted_bind(job, study)
    said = {v.figure.key for axle_key, v in found.judged if not axle_key}
    for verdict in judge(job, study):
        if verdict.figure.key not in WHOLE_CAR:
            found.judged.append((key, verdict))
        elif verdict.figure.key not in said:  # what is of the whole car is said once, not by each axle
            found.judged.append(("", verdict))
    found.judged += near
    found.binds[key] = bind
    return travel_findings(job, study, bind)


def _of_links(job: Job, found: Survey) -> list[Finding]:
    """Judge how far each link is used; return those that are used too far, or not judged."""
    if not job.vehicle.build.links:
        return []
    uses, verdicts = judged_links(job)
    axles = {link_name(u): u.cut.piece.axle for u in uses}
    found.judged += [(axles.get(v.name, ""), v) for v in verdicts]
    return strength_findings(job, uses)


def _of_built(job: Job) -> list[Finding]:
    """What the built car is off by, where anything was measured of it."""
    if not built_stages(job):
        return unbuilt_findings(job)
    every = [s for a in job.vehicle.axles if (s := study_built_axle(job, a.key)) is not None]
    return built_findings(job, every[0].off) if every else []
