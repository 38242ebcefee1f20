"""Wanted bands in a job: the person's own, or those of the purpose from judgement/standards."""

from dataclasses import dataclass

import numpy as np

from even_stance.judgement.shaftbands import shaft_marks
from even_stance.judgement.standards import STANDARDS
from even_stance.judgement.standards.standard import Marks, Standard
from even_stance.mechanics.vectors import Array
from even_stance.vehicle.job import Band, Job, Purpose

PURPOSE_WORDS: dict[Purpose, str] = {
    "street_cruiser": "street cruiser",
    "street_performance": "street performance",
    "drag": "drag",
    "trail": "trail",
    "rock": "rock crawling",
    "desert": "fast desert",
    "rally": "rally",
    "race": "circuit racing",
    "tow": "tow and haul",
}


@dataclass(frozen=True)
class Wanted:
    """A wanted band with its reason.

    Attributes:
        band: the marks.
        reason: why, in one sentence.
        basis: "common practice" or a published source.
        own: True when the user set it in the job.
    """

    band: Band
    reason: str
    basis: str = "common practice, no source"
    own: bool = False


def band_edges(band: Band) -> tuple[float, float]:
    """Both marks of a band; one with a single mark is a quarter of that mark wide, on every scale."""
    low, high = band.low, band.high
    wide = max(abs((high if high is not None else low) or 0.0) / 4, 1e-6)
    if high is None:
        high = wide if low is None else low + wide
    return (high - wide if low is None else low), high


def outside(value: Array, band: Band) -> Array:
    """How far values are outside a band, in their unit; 0 inside, nan where there is none."""
    low = -np.inf if band.low is None else band.low
    high = np.inf if band.high is None else band.high
    off: Array = np.maximum(np.maximum(low - value, value - high), 0.0)
    return off


# How far an axle should cross up with nothing overworked, degrees of roll either way (common practice, no source).
ARTICULATION_DEG: dict[Purpose, float] = {
    "street_cruiser": 3.0, "street_performance": 3.0, "drag": 2.0, "trail": 12.0, "desert": 8.0,
    "rock": 15.0, "tow": 4.0, "rally": 4.0, "race": 2.0,
}  # fmt: skip


WHOLE_CAR = ("roll_per_g_deg", "transfer_over_weight_pct", "inside_lift_g")
"""Numbers that are of the whole car: every axle shows them, but they are told once."""


def band_key(key: str) -> str:
    """Under which name the marks of an answer are kept: those of the axle alone and at its share are the same."""
    return key.replace("_axle_pct", "_pct")


def judged_keys() -> tuple[str, ...]:
    """The answers that have a wanted band, both readings of those under drive among them."""
    return tuple(STANDARDS)


def is_judged(job: Job, key: str) -> bool:
    """Whether an answer is the one that the job's bands mean, of the two readings of anti-squat."""
    stem = band_key(key)
    if stem not in ("anti_squat_pct", "anti_lift_drive_pct"):
        return stem in STANDARDS
    return (key != stem) == (job.vehicle.anti_bands == "axle")


def wanted(job: Job, key: str, axle: str = "") -> Wanted:
    """The band an answer is judged by in this job: the user's own, or the default of the purpose.

    Args:
        job: the job.
        key: the answer.
        axle: of which axle. What the car wants of its rear axles, each of a pair gives by its share of the force.
    """
    standard = STANDARDS[band_key(key)]
    reason = standard.reason
    own = job.bands.get(band_key(key))
    if own is not None:
        return Wanted(own, reason, "your own band in this job", own=True)
    why = standard.why.get(job.purpose, "")
    reason = f"{reason} {why}" if why else reason
    low, high = marks_of(standard, job)
    mine = next((a for a in job.vehicle.axles if a.key == axle), None)
    if mine is not None:
        (low, high), more = shaft_marks(mine, key, (low, high))
        reason = f"{reason} {more}" if more else reason
    if key == "roll_steer_pct" and mine is not None and mine.is_front:
        # An axle that turns left as its left wheel rises points out of the turn: a front one pushes wide by it, a rear
        # one brings the tail round. What is wanted of one end is the mirror of what is wanted of the other.
        low, high = (None if high is None else -high), (None if low is None else -low)
    part = _part(job, key, axle)
    if part == 1.0:
        return Wanted(Band(low=low, high=high), reason, standard.basis)
    low, high = (None if mark is None else round(part * mark, 1) for mark in (low, high))
    return Wanted(Band(low=low, high=high), f"{reason} This axle gives {100 * part:.0f} % of what the rear axles do.")


def marks_of(standard: Standard, job: Job) -> Marks:
    """The marks of a number for a job, in its unit: those that go with the size of a car are a share of that."""
    low, high = standard.marks[job.purpose]
    vehicle = job.vehicle
    of = {"": 100.0, "cg_height": vehicle.cg_height_mm, "wheelbase": vehicle.wheelbase_mm / 1000.0}[standard.share_of]
    if not standard.share_of:
        return low, high
    digits = 1 if standard.share_of == "wheelbase" else 0
    share = tuple(None if m is None else round(m / 100.0 * of, digits) for m in (low, high))
    return share[0], share[1]


def all_wanted(job: Job, axle: str) -> tuple[Wanted, ...]:
    """The bands of everything that is judged of an axle."""
    return tuple(wanted(job, key, axle) for key in judged_keys())


def bands_read(job: Job) -> tuple[object, ...]:
    """All of a job that its wanted bands are worked out from."""
    axles = [
        (a.key, a.behind_front_mm, a.drive_share, a.brake_share, a.shaft, a.output, a.pinion) for a in job.vehicle.axles
    ]
    vehicle = job.vehicle
    return (job.bands, job.purpose, vehicle.cg_height_mm, vehicle.wheelbase_mm, *axles)


def _part(job: Job, key: str, axle: str) -> float:
    """The part of the rear axles' force that is at one of them, for answers reckoned at their share of it."""
    rear = {a.key: a.brake_share if "brake" in key else a.drive_share for a in job.vehicle.axles if not a.is_front}
    if key not in ("anti_squat_pct", "anti_lift_brake_pct") or axle not in rear or sum(rear.values()) <= 0.0:
        return 1.0
    return rear[axle] / sum(rear.values())
