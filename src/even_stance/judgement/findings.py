"""What is missing or worth a look, as data: the window, the command line and printed sheets show the same list."""

from dataclasses import dataclass
from typing import Literal

from even_stance.judgement.verdicts import Verdict
from even_stance.study.figures import AxleStudy
from even_stance.study.model import axle_title
from even_stance.units import System, format_length, length_unit
from even_stance.vehicle.job import Job

Severity = Literal["missing", "look", "stop"]
Station = Literal["stance", "links", "travel"]


@dataclass(frozen=True)
class Finding:
    """One thing to know.

    Attributes:
        code: what kind of thing; severity: missing (nothing entered), look (worth a look), stop (cannot work).
        station: where in the work order it belongs.
        short: two or three words for the work order; sentence: the whole of it.
    """

    code: str
    severity: Severity
    station: Station
    short: str
    sentence: str


CAUTIONS = (
    "Screening figures from what was typed in: a qualified person, the local code and its inspector, or a licensed "
    "engineer decides what may go on the road.",
    "Never go under a vehicle held by a jack, cribs or a hoist you have not checked.",
    "Springs, air bags and limit straps store energy: let it out before you unbolt anything.",
    "Steering, brake and suspension welds are for qualified people; cast housings need a procedure.",
)


def stance_findings(job: Job) -> list[Finding]:
    """What the Stance station lacks."""
    found = []
    vehicle = job.vehicle
    if vehicle.mass_kg == 0:
        found.append(
            Finding(
                "no-weights",
                "missing",
                "stance",
                "no weights",
                "Axle weights are not entered: weigh the car.",
            )
        )
    if vehicle.cg_source in ("bellhousing", "camshaft"):
        found.append(
            Finding(
                "cg-guess", "look", "stance", "CG height guessed",
                "The CG height is a guess; anti-squat is no surer than it. Measure it when you can.",
            )
        )  # fmt: skip
    return found


def link_findings(axle_verdicts: dict[str, list[Verdict]], errors: dict[str, str]) -> list[Finding]:
    """What the Links station has outside its bands, and axles that nothing holds."""
    found = [Finding("layout", "stop", "links", "not held", sentence) for sentence in errors.values()]
    for key, verdicts in axle_verdicts.items():
        for v in verdicts:
            if v.state in ("low", "high"):
                found.append(
                    Finding(
                        v.figure.key, "look", "links", v.title.lower(),
                        f"{key.capitalize()} axle, {v.title.lower()}: {v.sentence}",
                    )
                )  # fmt: skip
    return found


def travel_findings(study: AxleStudy, system: System) -> list[Finding]:
    """Where an axle locks up inside its wanted travel, and joints that run out of swing."""
    found = []
    axle = study.axle
    unit = length_unit(system)
    for way, free, asked in (
        ("bump", study.travel.free_bump_mm, axle.bump_mm),
        ("droop", study.travel.free_droop_mm, axle.droop_mm),
    ):
        if free < asked - 1e-6:
            found.append(
                Finding(
                    f"locks-{way}", "stop", "travel", f"locks in {way}",
                    f"{axle_title(axle)} cannot reach full {way}: it locks up at {format_length(free, system)} {unit}, "
                    f"{format_length(asked, system)} {unit} was asked.",
                )
            )  # fmt: skip
    if not study.travel.cross.ok.all() and not found:
        found.append(
            Finding(
                "locks-cross", "stop", "travel", "locks crossed up",
                f"{axle_title(axle)} locks up before full cross-articulation.",
            )
        )  # fmt: skip
    swing = study.figure("swing_use_pct")
    if swing is not None and swing.value > 100.0:
        found.append(
            Finding(
                "swing",
                "stop",
                "travel",
                "joint swing",
                f"{axle_title(axle)}: {swing.note}, more than it has.",
            )
        )
    return found
