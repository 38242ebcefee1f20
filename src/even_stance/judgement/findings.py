"""What is missing or worth a look, as data: the window, the command line and printed sheets show the same list."""

from dataclasses import dataclass
from typing import Literal

import numpy as np

from even_stance.judgement.bands import WHOLE_CAR, wanted
from even_stance.judgement.known import guessed_spots
from even_stance.judgement.verdicts import TITLES, Verdict, band_words, bind_words, format_judged, miss
from even_stance.study.bind import Bind
from even_stance.study.figures import AxleStudy, main_anti_key
from even_stance.study.model import axle_title
from even_stance.units import format_length, length_unit
from even_stance.vehicle.job import Job
from even_stance.vehicle.spots import all_spots

Severity = Literal["missing", "look", "stop", "not_judged", "not_looked"]


@dataclass(frozen=True)
class Finding:
    """One thing to know.

    Attributes:
        code: what kind of thing.
        severity: missing (nothing entered), look (worth a look), stop (cannot work), not_judged (what it rests on is
            not known), not_looked (nobody looked yet).
        station: where in the work order it belongs.
        short: two or three words for the work order; sentence: the whole of it.
        axle: which axle it is about, empty for the whole car.
    """

    code: str
    severity: Severity
    station: str
    short: str
    sentence: str
    axle: str = ""


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
    every, guesses = sum(1 for _ in all_spots(job)), guessed_spots(job)
    if guesses:
        some = ", ".join(f"{s.axle} {s.words[0].lower()}{s.words[1:]}".strip() for s in guesses[:2])
        more = f" and {len(guesses) - 2} more" if len(guesses) > 2 else ""
        sentence = (
            f"Nobody measured {len(guesses)} of {every} places ({some}{more}): what rests on them is good to an inch "
            "or two. Tape them, or say that they are to be built where they are drawn."
        )
        short = f"{len(guesses)} place{'s' if len(guesses) > 1 else ''} guessed"
        found.append(Finding("guesses", "missing", "stance", short, sentence))
    return found


def layout_findings(errors: dict[str, str]) -> list[Finding]:
    """Axles that nothing holds, with the sentence why."""
    return [Finding("layout", "stop", "links", "not held", sentence, key) for key, sentence in errors.items()]


def number_findings(axle_verdicts: dict[str, list[Verdict]], station: str) -> list[Finding]:
    """The numbers of a station that are out of their bands; those of the whole car once."""
    found: dict[tuple[str, str], Finding] = {}
    for key, verdicts in axle_verdicts.items():
        for v in verdicts:
            if v.state not in ("low", "high") or v.station != station:
                continue
            axle = "" if v.figure.key in WHOLE_CAR else key
            words = f"{axle.capitalize()} axle, {v.title.lower()}" if axle else v.title
            finding = Finding(v.figure.key, "look", station, v.title.lower(), f"{words}: {v.sentence}", axle)
            found.setdefault((v.figure.key, axle), finding)
    return list(found.values())


def travel_findings(job: Job, study: AxleStudy, bind: Bind | None = None) -> list[Finding]:
    """What an axle does over its travel: lock-up, joints without swing, binding, and numbers that leave their band."""
    axle, system = study.axle, job.units
    unit, title = length_unit(system), axle_title(axle)
    found = []

    def find(code: str, severity: Severity, short: str, sentence: str) -> None:
        found.append(Finding(code, severity, "travel", short, f"{title}{sentence}", axle.key))

    for way, free, asked in (
        ("bump", study.travel.free_bump_mm, axle.bump_mm),
        ("droop", study.travel.free_droop_mm, axle.droop_mm),
    ):
        if free < asked - 1e-6:
            find(f"locks-{way}", "stop", f"locks in {way}",
                 f" cannot reach full {way}: it locks up at {format_length(free, system)} {unit}, "
                 f"{format_length(asked, system)} {unit} was asked.")  # fmt: skip
    if not study.travel.cross.ok.all() and not found:
        find("locks-cross", "stop", "locks crossed up", " locks up before full cross-articulation.")
    swing = study.figure("swing_use_pct")
    if swing is not None and swing.value > 100.0:
        find("swing", "stop", "joint swing", f": {swing.note}, more than it has.")
    if bind is not None and bind.free_share < 1.0:
        find("binds", "look", "binds crossed up", f": {bind_words(bind, system)}")
    for key in (main_anti_key(job.vehicle, axle), "roll_center_mm"):
        leaving = _leaving(job, study, key)
        if leaving:
            find(f"leaves-{key}", "look", f"{TITLES[key].lower()} over travel", f", {leaving}")
    return found


def _leaving(job: Job, study: AxleStudy, key: str) -> str:
    """Where over travel a number is farthest out of its band, in words; nothing where it stays inside."""
    sweep, band = study.travel.sweep, wanted(job, key, study.axle.key)
    if key not in sweep.values:
        return ""
    values = sweep.values[key]
    off = np.array([miss(float(v), band) if np.isfinite(v) else 0.0 for v in values])
    worst, ride = int(off.argmax()), int(np.abs(sweep.left).argmin())
    if off[worst] <= 0.0:
        return ""
    how = "leaves its band over travel" if off[ride] <= 0.0 else "is out of its band, most of all over travel"
    far = float(sweep.left[worst])
    where = f"{format_length(abs(far), job.units).removeprefix('~')} {length_unit(job.units)}"
    value = format_judged(key, float(values[worst]), band.band, job.units)
    return (
        f"{TITLES[key].lower()} {how}: {value} at {where} {'bump' if far > 0 else 'droop'}; "
        f"wanted {band_words(key, band.band, job.units)}."
    )
