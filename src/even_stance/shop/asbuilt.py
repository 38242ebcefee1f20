"""The car as it was built: the design with what was measured after tacking in its place, a car of its own.

The design does not move. What was measured at a later stage takes the place of what was at an earlier one; what was not
measured stands as designed.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from even_stance.judgement.findings import Finding
from even_stance.mechanics.rigidfit import Fit, odd_one, rigid_fit
from even_stance.mechanics.vectors import Array
from even_stance.shop.readings import Means, means_of
from even_stance.shop.sheet import sheet
from even_stance.shop.steps import Step
from even_stance.units import format_length, length_unit
from even_stance.vehicle.car import Vehicle
from even_stance.vehicle.edits import move_by, with_changes
from even_stance.vehicle.job import Job
from even_stance.vehicle.measuring import STAGES, Measuring, Stage
from even_stance.vehicle.spots import Spot, all_spots, body_of, point_of

BUILT: tuple[Stage, ...] = tuple(s for s in STAGES if s != "found")
_AXES = ("ahead", "left", "up")


def built_stages(job: Job) -> list[Stage]:
    """The stages of the built car that anything was measured at, in the order of the work."""
    return list(_stages(job.measuring))


@lru_cache(maxsize=4)
def _stages(measuring: Measuring) -> tuple[Stage, ...]:
    there = {r.stage for r in measuring.readings if r.counts}
    return tuple(s for s in BUILT if s in there)


def built_means(job: Job, until: Stage) -> Means:
    """What was measured of the built car up to a stage: each thing as it was found last, stages never put together."""
    found: Means = {}
    for stage in BUILT[: BUILT.index(until) + 1] if until in BUILT else ():
        found |= means_of(job, stage)
    return found


def as_built(job: Job, until: Stage | None = None) -> Job:
    """The job with the car as it was built, up to a stage (the latest measured, when not given)."""
    stages = built_stages(job)
    if not stages:
        return job
    built = _built(job.vehicle, job.measuring, until or stages[-1])
    return with_changes(job, vehicle=built.vehicle, measuring=built.measuring)


@lru_cache(maxsize=8)
def _built(vehicle: Vehicle, measuring: Measuring, until: Stage) -> Job:
    """A job of nothing but the car as built, kept: a stage is asked for by many."""
    job = Job(name="built", vehicle=vehicle, measuring=measuring)
    means = built_means(job, until)
    for step in sheet(job):
        if any(field.what in means for field in step.fields):
            job = step.apply(job, means)
    return job


@dataclass(frozen=True, eq=False)
class Deviation:
    """One point of the built car against the design.

    Attributes:
        spot: which; off: how far it is off in the directions that were measured, mm, shape (3,), nil in the others.
        sure_mm: the +/- of the readings; far_mm: how far in all.
    """

    spot: Spot
    off: Array
    sure_mm: float
    far_mm: float

    @property
    def really(self) -> bool:
        """Whether it is off by more than the tape may be."""
        return self.far_mm > self.sure_mm


def deviations(job: Job, until: Stage | None = None) -> list[Deviation]:
    """Every measured point of the built car against the design, the farthest off beyond its doubt first."""
    stages = built_stages(job)
    return list(_deviations(job.vehicle, job.measuring, until or stages[-1])) if stages else []


@lru_cache(maxsize=8)
def _deviations(vehicle: Vehicle, measuring: Measuring, until: Stage) -> tuple[Deviation, ...]:
    job, built = Job(name="design", vehicle=vehicle, measuring=measuring), _built(vehicle, measuring, until)
    means, found = built_means(job, until), []
    for spot, step in _points(job).items():
        measured = [f.what for f in step.fields if f.what in means and f.quantity == "length"]
        if not measured:
            continue
        off = np.subtract(point_of(built, spot).xyz, point_of(job, spot).xyz)
        sure = max(means[w].sure for w in measured)
        found.append(Deviation(spot, off, sure, float(np.linalg.norm(off))))
    return tuple(sorted(found, key=lambda d: d.sure_mm - d.far_mm))


def unbuilt_findings(job: Job) -> list[Finding]:
    """That nothing of the built car was measured yet, where that is so: how it came out is not known then."""
    if built_stages(job):
        return []
    why = "Nothing of the built car has been measured yet: how it came out beside the design is not known."
    return [Finding("unbuilt", "not_looked", "log", "not measured yet", why)]


def built_findings(job: Job, every: Sequence[Deviation]) -> list[Finding]:
    """What is really off on the built car."""
    off = [d for d in every if d.really]
    if not off:
        return []
    units = job.units
    said = ", ".join(
        f"{d.spot.axle} {d.spot.words} {format_length(d.far_mm, units).removeprefix('~')} {length_unit(units)}"
        for d in off[:3]
    )
    many = f"{len(off)} point{'' if len(off) == 1 else 's'} off"
    return [Finding("built-off", "look", "log", many, f"Built otherwise than designed: {said}.")]


@lru_cache(maxsize=4)
def _points_of(vehicle: Vehicle, measuring: Measuring) -> dict[Spot, Step]:
    """The step that measures each point of a car."""
    job = Job(name="car", vehicle=vehicle, measuring=measuring)
    by = {s.key: s for s in sheet(job)}
    found = {}
    for spot in all_spots(job):
        for key in (f"{spot.axle}/{spot.member}/{spot.end}", f"{spot.axle}.{spot.end}", f"powertrain.{spot.end}",
                    f"mark.{spot.member}"):  # fmt: skip
            if key in by and (spot.axle or "." in key):
                found[spot] = by[key]
                break
    return found


def one_only(job: Job, deviation: Deviation) -> Job:
    """The design with just one point where it was found: what this one alone does."""
    x, y, z = (float(v) for v in deviation.off)
    return move_by(deviation.spot, x, y, z, both_sides=False).apply(job)


def _points(job: Job) -> dict[Spot, Step]:
    return _points_of(job.vehicle, job.measuring)


@dataclass(frozen=True, eq=False)
class Group:
    """The measured points of one body moved as one piece.

    Attributes:
        body: what they are on, in words; spots: which; fit: of all, or of all but the odd one; odd: that one, or None.
    """

    body: str
    spots: tuple[Spot, ...]
    fit: Fit
    odd: Spot | None


def groups(job: Job, until: Stage | None = None) -> list[Group]:
    """Points of each axle's brackets, and of its frame brackets, that moved as one piece: three or more of them."""
    by: dict[str, list[Deviation]] = {}
    for deviation in deviations(job, until):
        spot = deviation.spot
        if spot.member and spot.axle:
            body = body_of(job, spot)
            words = f"{spot.axle} axle’s brackets" if body == "axle" else f"{spot.axle} frame brackets"
            by.setdefault(words, []).append(deviation)
    found = []
    for words, own in by.items():
        if len(own) < 3:
            continue
        should = np.array([point_of(job, d.spot).xyz for d in own])
        are = should + np.array([d.off for d in own])
        fit, odd = rigid_fit(should, are), None
        if len(own) >= 5:
            k, rest = odd_one(should, are)
            if np.linalg.norm(rest.left[k]) > 2.0 * own[k].sure_mm and rest.rms < 0.5 * fit.rms:
                fit, odd = rest, own[k].spot
        found.append(Group(words, tuple(d.spot for d in own), fit, odd))
    return found


def expected(job: Job, what: str) -> float | None:
    """What a reading of the measuring sheet should be on the car as designed, in its unit; None where unknown."""
    vehicle = job.vehicle
    head, _, last = what.replace("/", ".").rpartition(".")
    kind, _, key = head.partition(".")
    axles = {a.key: a for a in vehicle.axles}
    if head == "wheelbase":
        return vehicle.axles[1].behind_front_mm
    known: float | None = None
    if head == "track" and last in axles:
        known = axles[last].track_mm
    elif kind == "tire" and key in axles:
        tire = axles[key].tire
        known = {"diameter": tire.free_diameter_mm, "radius": tire.loaded_radius_mm, "width": tire.width_mm}.get(last)
    elif kind == "scale" and key in axles:
        known = axles[key].load_kg / 2.0
    elif last == "angle" and kind in axles and key in ("pinion", "output"):
        yoke = getattr(axles[kind], key)
        known = None if yoke is None else float(yoke.nose_up_deg)
    elif last in _AXES:
        known = _expected_place(job, what, last)
    return known


def _expected_place(job: Job, what: str, axis: str) -> float | None:
    """Where a point should be along one axis, as the sheet asks for it."""
    spot = next((s for s, step in _points(job).items() if any(f.what == what for f in step.fields)), None)
    if spot is None:
        return None
    at = point_of(job, spot)
    of_axle = spot.axle and (spot.member or spot.end in ("pinion", "output"))
    behind = job.vehicle.axle(spot.axle).behind_front_mm if of_axle else 0.0
    return {"ahead": at.x + behind, "left": at.y, "up": at.z}[axis]


def moved_back(off: Sequence[float]) -> tuple[float, float, float]:
    """How far to move what is off to bring it where it should be, mm."""
    x, y, z = (-float(v) for v in off)
    return x, y, z
