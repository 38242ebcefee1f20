"""Practice cars: made-up cars with hidden faults, to be found with a tape and scales that scatter as real ones do.

The sheet says what the car should be; the car is another one. What is taken from it is the truth with the scatter of
the tool, to its marks. At the end the truth is shown, how well it was measured, and what would have come of it.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from even_stance.judgement.catalog.starter import NewJob, new_job
from even_stance.study.figures import study_axle
from even_stance.study.threads import stands
from even_stance.units import MM_PER_INCH, System, format_length, length_unit
from even_stance.vehicle.edits import move_by
from even_stance.vehicle.job import Job
from even_stance.vehicle.measuring import TOOLS, Tool
from even_stance.vehicle.members import Rod
from even_stance.vehicle.spots import Spot

FaultKey = Literal["square", "hole", "thread", "shaft", "contact", "scales"]
CLAIMS: dict[FaultKey, str] = {
    "square": "the rear axle is out of square", "hole": "a bracket is bolted in another hole",
    "thread": "a joint has a thread of the wrong hand", "shaft": "the driveshaft is too short",
    "contact": "something touches at full bump", "scales": "one corner carries too much",
}  # fmt: skip
_LINKS = ("Lower left", "Lower right", "Upper left", "Upper right")
_MARK = {"tape": MM_PER_INCH / 16, "scales": 0.5}
HANDS = ("right hand", "left hand")


@dataclass(frozen=True)
class Measure:
    """One thing that can be measured.

    Attributes:
        key, words: which; tool: with what; designed: what the sheet says; truth: what it is, in mm or kg, or 0
            for a right-hand thread and 1 for a left-hand one; tells: the fault that it gives away.
    """

    key: str
    words: str
    tool: Tool
    designed: float
    truth: float
    tells: FaultKey
    hand: bool = False

    @property
    def sure(self) -> float:
        """The tool's +/-, in its unit."""
        return TOOLS[self.tool].sure("mass" if self.tool == "scales" else "length")


@dataclass(frozen=True, eq=False)
class PracticeCar:
    """A car with hidden faults.

    Attributes:
        seed: which; sheet: the job as it should be; measures: what can be measured; faults: what is wrong, each with
            what it would have cost.
    """

    seed: int
    sheet: Job
    measures: tuple[Measure, ...]
    faults: dict[FaultKey, str]


def practice_car(seed: int) -> PracticeCar:
    """One of any number of practice cars, each with two or three faults; the same one for the same seed."""
    rng = np.random.default_rng(seed)
    base, track, tire, width = (
        float(rng.choice(v)) * MM_PER_INCH for v in ((100, 108, 114, 120), (60, 62, 65), (31, 33, 35), (10.5, 11.5))
    )
    sheet = new_job(NewJob(f"Practice car {seed}", "trail", "us", base, track, tire, width))
    faults = set(rng.choice(list(CLAIMS), size=int(rng.integers(2, 4)), replace=False).tolist())
    side = str(rng.choice(["left", "right"]))
    axle, units = sheet.vehicle.axle("rear"), sheet.units
    truth, told = sheet, {}
    if "hole" in faults:
        spot = Spot("rear", f"Lower {side}", "chassis")
        truth = move_by(spot, 0.0, 0.0, -MM_PER_INCH, both_sides=False).apply(truth)
        was, now = (_anti(job) for job in (sheet, truth))
        told["hole"] = f"The lower {side} frame end is one hole low: anti-squat is {now:.0f} % and not {was:.0f} %."
    longer = dict.fromkeys(_LINKS, 0.0)
    yaw = 0.0
    if "square" in faults:
        by = float(rng.uniform(8.0, 16.0))
        longer[f"Lower {side}"] = by
        names = tuple(m.name for m in axle.members if isinstance(m, Rod))
        stand = stands(axle, names, np.array([[longer.get(n, 0.0) for n in names]]))
        yaw = float(stand.yaw[0])
        back = _said(abs(yaw) * axle.track_mm, units)
        told["square"] = f"The lower {side} link is {_said(by, units)} long: one wheel stands {back} farther back."
    measures = [*_stance(sheet, yaw), *_brackets(sheet, truth, longer), *_threads("thread" in faults, side)]
    if "thread" in faults:
        told["thread"] = f"The lower {side} link is right-hand at both ends: turning it changes nothing."
    measures += _shaft(rng, "shaft" in faults, told, units)
    measures += _gaps(rng, "contact" in faults, told, units)
    measures += _corners(rng, "scales" in faults, side, told)
    return PracticeCar(seed, sheet, tuple(measures), {k: told[k] for k in CLAIMS if k in told})


def _anti(job: Job) -> float:
    figure = study_axle(job.vehicle, job.vehicle.axle("rear"), 0.0, 0.0, {}).figure("anti_squat_axle_pct")
    return float("nan") if figure is None else figure.value


def _said(mm: float, units: System) -> str:
    return f"{format_length(mm, units).removeprefix('~')} {length_unit(units)}"


def _stance(job: Job, yaw: float) -> list[Measure]:
    """Wheelbases and diagonals, hub to hub, of a rear axle turned toward left by some rad."""
    front, rear = job.vehicle.axles[0], job.vehicle.axles[1]
    base, half_front, half_rear = rear.behind_front_mm, front.track_mm / 2, rear.track_mm / 2
    found = []
    for key, words, fore, aft in (
        ("wheelbase.left", "Wheelbase, left", 1, 1), ("wheelbase.right", "Wheelbase, right", -1, -1),
        ("diagonal.left", "Front left to rear right", 1, -1), ("diagonal.right", "Front right to rear left", -1, 1),
    ):  # fmt: skip
        span = [float(np.hypot(base + aft * half_rear * np.sin(t), aft * half_rear * np.cos(t) - fore * half_front))
                for t in (0.0, yaw)]  # fmt: skip
        found.append(Measure(key, words, "tape", span[0], span[1], "square"))
    return found


def _brackets(sheet: Job, truth: Job, longer: Mapping[str, float]) -> list[Measure]:
    """Height of every lower frame end and length of every link, pin to pin."""
    found = []
    for name in _LINKS:
        should, there = (job.vehicle.axle("rear").member(name).mounts for job in (sheet, truth))
        if name.startswith("Lower"):
            found.append(Measure(f"{name}.up", f"{name}, frame end above the floor", "tape", should["chassis"].at.z,
                                 there["chassis"].at.z, "hole"))  # fmt: skip
        designed = float(np.linalg.norm(np.subtract(should["axle"].at.xyz, should["chassis"].at.xyz)))
        true = designed + longer[name]
        found.append(Measure(f"{name}.length", f"{name}, pin to pin", "tape", designed, true, "square"))
    return found


def _threads(wrong: bool, side: str) -> list[Measure]:
    """The hand of the thread at either end of the lower links: left at the frame, right at the axle."""
    found = []
    for name in _LINKS[:2]:
        for end, hand in (("frame end", 1.0), ("axle end", 0.0)):
            bad = wrong and name.endswith(side) and end == "frame end"
            found.append(Measure(f"{name}.{end}.hand", f"{name}, {end}: hand of the thread", "rule", hand,
                                 0.0 if bad else hand, "thread", hand=True))  # fmt: skip
    return found


def _shaft(rng: np.random.Generator, short: bool, told: dict[str, str], units: System) -> list[Measure]:
    """The driveshaft joint to joint, and how much of its slip is in at ride height."""
    long, engaged = float(rng.integers(36, 46)) * MM_PER_INCH, 3.0 * MM_PER_INCH
    by = float(rng.uniform(28.0, 42.0)) if short else 0.0
    if short:
        left = _said(engaged - by - 1.25 * MM_PER_INCH, units)
        told["shaft"] = f"The shaft is {_said(by, units)} short: at full droop {left} of slip is left."
    return [Measure("shaft.length", "Driveshaft tube, weld to weld", "tape", long, long - by, "shaft"),
            Measure("shaft.engaged", "Slip yoke, how much is in", "tape", engaged, engaged - by, "shaft")]  # fmt: skip


def _gaps(rng: np.random.Generator, touches: bool, told: dict[str, str], units: System) -> list[Measure]:
    """A brake pipe over the left upper link: clear as it stands, and at full bump, on the jack."""
    ride = float(rng.uniform(44.0, 56.0))
    bump = float(rng.uniform(18.0, 24.0))
    if touches:
        told["contact"] = f"The brake pipe clears its link by {_said(ride, units)} as it stands, by nothing at bump."
    return [Measure("gap.ride", "Brake pipe over the left upper link, as it stands", "tape", ride, ride, "contact"),
            Measure("gap.bump", "The same at full bump, cycled on the jack", "tape", bump, 0.0 if touches else bump,
                    "contact")]  # fmt: skip


def _corners(rng: np.random.Generator, heavy: bool, side: str, told: dict[str, str]) -> list[Measure]:
    """What each wheel shows on the scales; a heavy corner takes from its neighbors and gives to the one across."""
    front, rear = float(rng.uniform(420.0, 520.0)), float(rng.uniform(340.0, 420.0))
    by = float(rng.uniform(25.0, 40.0)) if heavy else 0.0
    if heavy:
        told["scales"] = f"The front {side} corner carries {by:.0f} kg too much: a spring seat is high."
    found = []
    for key, load in (("front", front), ("rear", rear)):
        for which in ("left", "right"):
            way = 1.0 if (which == side) == (key == "front") else -1.0
            name = f"On the scales, {key} {which}"
            found.append(Measure(f"scale.{key}.{which}", name, "scales", load, load + way * by, "scales"))
    return found


def take(measure: Measure, rng: np.random.Generator) -> float:
    """A reading: the truth with the scatter of the tool, to the marks on it; nothing reads below zero."""
    if measure.hand:
        return measure.truth
    mark = _MARK[measure.tool]
    scattered = measure.truth + float(rng.normal(0.0, measure.sure / 2.0))
    return max(round(scattered / mark) * mark, 0.0)


@dataclass(frozen=True)
class Quality:
    """How well one thing was measured: the mean of the readings less the truth, and whether that is within the +/-."""

    measure: Measure
    count: int
    off: float

    @property
    def good(self) -> bool:
        """Whether the mean is as near as the tool can be."""
        return abs(self.off) <= self.measure.sure


@dataclass(frozen=True)
class Truth:
    """What comes out at the end.

    Attributes:
        found, missed: faults that were named and those that were not, each with what it comes to; wrong: claims that
            are none of the car's; told_by: of each fault, what gives it away; quality: how well was measured.
    """

    found: dict[FaultKey, str]
    missed: dict[FaultKey, str]
    wrong: tuple[FaultKey, ...]
    told_by: dict[FaultKey, tuple[str, ...]]
    quality: tuple[Quality, ...]


def reveal(car: PracticeCar, readings: Mapping[str, Sequence[float]], claimed: set[FaultKey]) -> Truth:
    """The truth about a practice car, against what was measured and claimed."""
    by = {m.key: m for m in car.measures}
    quality = tuple(
        Quality(by[key], len(values), float(np.mean(values)) - by[key].truth)
        for key, values in readings.items() if values and key in by and not by[key].hand
    )  # fmt: skip
    told_by = {fault: tuple(m.words for m in car.measures if m.tells == fault and _is_off(m)) for fault in car.faults}
    named = {k: v for k, v in car.faults.items() if k in claimed}
    missed = {k: v for k, v in car.faults.items() if k not in claimed}
    vain = tuple(k for k in CLAIMS if k in claimed and k not in car.faults)
    return Truth(named, missed, vain, told_by, quality)


def _is_off(measure: Measure) -> bool:
    """Whether something is so far from what the sheet says that its tool shows it."""
    return abs(measure.truth - measure.designed) > (0.5 if measure.hand else 1.5 * measure.sure)
