"""Wanted bands: what each answer should be for a purpose, why, and who says so.

None of these bands is published by a standard; they are common practice, and every one can be changed in the job.
"""

from dataclasses import dataclass

from even_stance.units import MM_PER_INCH
from even_stance.vehicle.job import Band, Job, Purpose

PURPOSE_WORDS: dict[Purpose, str] = {
    "street_cruiser": "street cruiser",
    "street_performance": "street performance",
    "drag": "drag",
    "trail": "trail and rock",
    "desert": "fast desert",
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


def _inches(low: float | None, high: float | None) -> tuple[float | None, float | None]:
    return (None if low is None else low * MM_PER_INCH, None if high is None else high * MM_PER_INCH)


def band_edges(band: Band) -> tuple[float, float]:
    """Both marks of a band; one with a single mark is a quarter of that mark wide, on every scale."""
    low, high = band.low, band.high
    wide = max(abs((high if high is not None else low) or 0.0) / 4, 1e-6)
    if high is None:
        high = wide if low is None else low + wide
    return (high - wide if low is None else low), high


_SQUAT = "Enough to keep the tail up under power, not so much that the tires hop."
_CENTER = "High holds the body flat; low keeps the axle from stepping sideways."
_STEER = "The axle should not steer by itself when the body leans."
_PINION = (
    "The pinion joint lives longest when its angle stays put; a short instant center turns it by travel over its "
    "length (3 in on 40 in: 4 degrees). Measure both ends of the driveshaft and its joint is judged itself."
)
_JOINT = "A joint bent further than this runs rough and wears; past its own limit it binds."
_CASTER = "Caster that changes as the wheels move is felt as wander and darting."
_SPREAD = "Links spread less than this let the axle move sideways in its bushings."
_SWING = "A joint swung further than its race allows prys on the bolt."
_SHIFT = "Sideways shift brings the tire to the fender and is felt as a step."
_BASE = "A wheel that goes fore and aft finds the fender lip."
_DIVE = "Some anti-dive holds the nose up; much of it makes the front harsh over bumps."
_LIFT = "Some anti-lift holds that end down; much of it makes the wheel hop."

Marks = tuple[float | None, float | None]
_TABLE: dict[str, tuple[str, dict[Purpose, Marks]]] = {
    "anti_squat_pct": (_SQUAT, {
        "street_cruiser": (30.0, 80.0), "street_performance": (50.0, 110.0), "drag": (90.0, 150.0),
        "trail": (60.0, 100.0), "desert": (30.0, 80.0)}),
    "anti_lift_brake_pct": (_LIFT, {
        "street_cruiser": (0.0, 80.0), "street_performance": (10.0, 80.0), "drag": (0.0, 120.0),
        "trail": (0.0, 90.0), "desert": (0.0, 70.0)}),
    "anti_dive_pct": (_DIVE, {
        "street_cruiser": (0.0, 50.0), "street_performance": (0.0, 40.0), "drag": (0.0, 50.0),
        "trail": (-20.0, 60.0), "desert": (-10.0, 40.0)}),
    "anti_lift_drive_pct": (_LIFT, {
        "street_cruiser": (-20.0, 60.0), "street_performance": (-20.0, 60.0), "drag": (-20.0, 60.0),
        "trail": (-20.0, 80.0), "desert": (-20.0, 50.0)}),
    "roll_center_mm": (_CENTER, {
        "street_cruiser": _inches(9, 18), "street_performance": _inches(8, 15), "drag": _inches(9, 18),
        "trail": _inches(18, 29), "desert": _inches(16, 28)}),
    "roll_steer_pct": (_STEER, {
        "street_cruiser": (-8.0, 2.0), "street_performance": (-6.0, 2.0), "drag": (-4.0, 4.0),
        "trail": (-10.0, 10.0), "desert": (-6.0, 3.0)}),
    "pinion_change_deg": (_PINION, {
        "street_cruiser": (None, 4.0), "street_performance": (None, 5.0), "drag": (None, 6.0),
        "trail": (None, 7.0), "desert": (None, 10.0)}),
    "pinion_joint_deg": (_JOINT, {
        "street_cruiser": (None, 6.0), "street_performance": (None, 6.0), "drag": (None, 7.0),
        "trail": (None, 20.0), "desert": (None, 20.0)}),
    "caster_change_deg": (_CASTER, {
        "street_cruiser": (None, 2.0), "street_performance": (None, 2.0), "drag": (None, 3.0),
        "trail": (None, 5.0), "desert": (None, 5.0)}),
    "triangulation_deg": (_SPREAD, {
        "street_cruiser": (40.0, None), "street_performance": (40.0, None), "drag": (40.0, None),
        "trail": (40.0, None), "desert": (40.0, None)}),
    "side_shift_mm": (_SHIFT, {
        "street_cruiser": _inches(None, 0.375), "street_performance": _inches(None, 0.25),
        "drag": _inches(None, 0.375), "trail": _inches(None, 1.25), "desert": _inches(None, 1.0)}),
    "wheelbase_change_mm": (_BASE, {
        "street_cruiser": _inches(None, 0.5), "street_performance": _inches(None, 0.5),
        "drag": _inches(None, 0.75), "trail": _inches(None, 1.5), "desert": _inches(None, 2.0)}),
    "swing_use_pct": (_SWING, {
        "street_cruiser": (None, 90.0), "street_performance": (None, 90.0), "drag": (None, 90.0),
        "trail": (None, 90.0), "desert": (None, 90.0)}),
}  # fmt: skip


# How far an axle should cross up with nothing overworked, degrees of roll either way (common practice, no source).
ARTICULATION_DEG: dict[Purpose, float] = {
    "street_cruiser": 3.0, "street_performance": 3.0, "drag": 2.0, "trail": 12.0, "desert": 8.0,
}  # fmt: skip


def band_key(key: str) -> str:
    """Under which name the marks of an answer are kept: those of the axle alone and at its share are the same."""
    return key.replace("_axle_pct", "_pct")


def judged_keys() -> tuple[str, ...]:
    """The answers that have a wanted band, both readings of those under drive among them."""
    alone = {"anti_squat_pct": "anti_squat_axle_pct", "anti_lift_drive_pct": "anti_lift_drive_axle_pct"}
    return tuple(k for key in _TABLE for k in ((alone[key], key) if key in alone else (key,)))


def is_judged(job: Job, key: str) -> bool:
    """Whether an answer is the one that the job's bands mean, of the two readings of anti-squat."""
    stem = band_key(key)
    if stem not in ("anti_squat_pct", "anti_lift_drive_pct"):
        return stem in _TABLE
    return (key != stem) == (job.vehicle.anti_bands == "axle")


def wanted(job: Job, key: str, axle: str = "") -> Wanted:
    """The band an answer is judged by in this job: the user's own, or the default of the purpose.

    Args:
        job: the job.
        key: the answer.
        axle: of which axle. What the car wants of its rear axles, each of a pair gives by its share of the force.
    """
    reason, marks = _TABLE[band_key(key)]
    own = job.bands.get(band_key(key))
    if own is not None:
        return Wanted(own, reason, "your own band in this job", own=True)
    low, high = marks[job.purpose]
    if key == "roll_steer_pct" and any(a.key == axle and a.is_front for a in job.vehicle.axles):
        # An axle that turns left as its left wheel rises points out of the turn: a front one pushes wide by it, a rear
        # one brings the tail round. What is wanted of one end is the mirror of what is wanted of the other.
        low, high = (None if high is None else -high), (None if low is None else -low)
    part = _part(job, key, axle)
    if part == 1.0:
        return Wanted(Band(low=low, high=high), reason)
    low, high = (None if mark is None else round(part * mark, 1) for mark in (low, high))
    return Wanted(Band(low=low, high=high), f"{reason} This axle gives {100 * part:.0f} % of what the rear axles do.")


def _part(job: Job, key: str, axle: str) -> float:
    """The part of the rear axles' force that is at one of them, for answers reckoned at their share of it."""
    rear = {a.key: a.brake_share if "brake" in key else a.drive_share for a in job.vehicle.axles if not a.is_front}
    if key not in ("anti_squat_pct", "anti_lift_brake_pct") or axle not in rear or sum(rear.values()) <= 0.0:
        return 1.0
    return rear[axle] / sum(rear.values())
