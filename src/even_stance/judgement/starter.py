"""A sensible linkage to start from, sized to the wheelbase and the tire."""

from dataclasses import dataclass
from typing import Literal

import numpy as np

from even_stance.errors import InputError
from even_stance.judgement.bands import wanted
from even_stance.judgement.layouts import (
    BASES,
    LATERALS,
    BaseKey,
    LateralKey,
    keeping,
    lateral_members,
    layout_members,
    snap,
)
from even_stance.study.answers import study_postures
from even_stance.study.figures import main_anti_key
from even_stance.study.model import layout_of, linkage_from, mount_points
from even_stance.units import MM_PER_INCH
from even_stance.vehicle.car import LOADED_SHARE, Axle, Frame, Tire, Vehicle
from even_stance.vehicle.edits import Spot, move_by, replace_members, set_holes, with_changes
from even_stance.vehicle.job import Job, Purpose


@dataclass(frozen=True)
class NewJob:
    """What is asked for a new job; everything else starts from it and can be changed."""

    name: str
    purpose: Purpose
    units: Literal["us", "metric"]
    wheelbase_mm: float
    track_mm: float
    tire_diameter_mm: float
    tire_width_mm: float


def with_layout(job: Job, key: str, base: BaseKey, lateral: LateralKey | None = None, keep: bool = True) -> Job:
    """The job with another layout on one axle; members of the same name and kind keep their points."""
    axle = job.vehicle.axle(key)
    members = layout_members(axle, job.vehicle.frame, base, lateral)
    return replace_members(key, keeping(axle.members, members) if keep else members, BASES[base].title).apply(job)


def with_lateral(job: Job, key: str, lateral: LateralKey) -> Job:
    """The job with another lateral device on one axle; all other members stay as they are."""
    axle = job.vehicle.axle(key)
    device = tuple(lateral_members(axle, job.vehicle.frame, lateral))
    rest = tuple(m for m in axle.members if m.role != "lateral")
    return replace_members(key, (*rest, *device), LATERALS[lateral].title).apply(job)


def with_starter(job: Job, key: str, base: BaseKey, lateral: LateralKey | None = None) -> Job:
    """The job with a fresh layout on one axle: its upper frame ends set for the middle of the wanted band."""
    job = with_layout(job, key, base, lateral, keep=False)
    spots = [
        Spot(key, m.name, end)
        for m in job.vehicle.axle(key).members
        if m.role == "upper"
        for end in m.mounts
        if m.body(end) == "chassis"
    ]
    if not spots:
        return job
    job = _tuned(job, key, spots)
    for spot in spots:
        job = set_holes(spot, 3, MM_PER_INCH, both_sides=False).apply(job)
    return job


def _tuned(job: Job, key: str, spots: list[Spot]) -> Job:
    """Raise or lower the upper frame ends, within a hand's width, for the middle of the main anti band."""
    axle = job.vehicle.axle(key)
    anti = main_anti_key(job.vehicle, axle)
    band = wanted(job, anti, key).band
    target = ((band.low or 0.0) + (band.high or 0.0)) / 2
    layout, points = layout_of(axle), mount_points(axle)
    moving = [Spot(key, p.member.name, p.end) in spots for p in layout.mounts]
    rises = np.array([snap(float(z)) for z in np.arange(-6, 6.25, 0.25) * MM_PER_INCH])
    moved = np.broadcast_to(points, (len(rises), *points.shape)).copy()
    moved[:, moving, 2] += rises[:, None]
    zero = np.zeros(len(rises))
    values = study_postures(job.vehicle, axle, zero, zero, linkage_from(axle, layout, moved)).values
    if anti not in values:
        return job
    miss = np.round(np.abs(values[anti] - target), 6)
    best = rises[np.lexsort((np.abs(rises), miss))[0]]
    for spot in spots:
        job = move_by(spot, 0.0, 0.0, float(best), both_sides=False).apply(job)
    return job


def new_job(asked: NewJob, rear_layout: BaseKey = "triangulated") -> Job:
    """A job for a new build: two axles, the rear one driven and on a starting linkage.

    Raises:
        InputError: a size that no car has; the message names the field.
    """
    for field, value, low, high in (
        ("Wheelbase", asked.wheelbase_mm, 1200.0, 8000.0),
        ("Track", asked.track_mm, 800.0, 3000.0),
        ("Tire diameter", asked.tire_diameter_mm, 400.0, 1600.0),
        ("Tire width", asked.tire_width_mm, 80.0, 700.0),
    ):
        if not low <= value <= high:
            raise InputError(
                field,
                f"{value / MM_PER_INCH:.1f} in ({value:.0f} mm) is not a car's.",
                f"Type {low / MM_PER_INCH:.0f} to {high / MM_PER_INCH:.0f} in ({low:.0f} to {high:.0f} mm).",
            )
    if asked.track_mm - asked.tire_width_mm < 500.0:
        raise InputError("Track", "leaves no room between the tires.", "Check track and tire width.")
    if not asked.name.strip():
        raise InputError("Name", "nothing was entered.", "Give the job a name, such as the car and the year.")
    radius = snap(LOADED_SHARE * asked.tire_diameter_mm)
    tire = Tire(free_diameter_mm=asked.tire_diameter_mm, loaded_radius_mm=radius, width_mm=asked.tire_width_mm)
    travel = {"street_cruiser": 3.0, "street_performance": 3.0, "drag": 3.0, "trail": 5.0, "desert": 8.0}
    room = travel[asked.purpose] * MM_PER_INCH
    common = {"track_mm": asked.track_mm, "tire": tire, "bump_mm": room, "droop_mm": room}
    front = Axle.model_validate({"key": "front", "behind_front_mm": 0.0, "steered": True, "brake_share": 0.6, **common})
    rear = Axle.model_validate(
        {
            "key": "rear", "behind_front_mm": asked.wheelbase_mm, "driven": True, "drive_share": 1.0,
            "brake_share": 0.4, **common,
        }
    )  # fmt: skip
    frame = Frame(
        rail_top_mm=snap(radius + 190.0),
        rail_bottom_mm=snap(radius + 90.0),
        rail_out_mm=snap(min(430.0, (asked.track_mm - asked.tire_width_mm) / 2 - 110.0)),
    )
    vehicle = Vehicle(
        axles=(front, rear),
        cg_height_mm=snap(cg_guess("bellhousing", radius)),
        cg_source="bellhousing",
        frame=frame,
    )
    job = Job(name=asked.name.strip(), units=asked.units, purpose=asked.purpose, vehicle=vehicle)
    return with_starter(job, "rear", rear_layout)


def cg_guess(school: Literal["bellhousing", "camshaft"], wheel_center_mm: float) -> float:
    """The CG height by a guess school, from where that part sits on a usual engine above the wheel centers, mm.

    Common practice, no source: the top of the bellhousing is taken 300 mm above the wheel centers, the camshaft
    centerline 230 mm above; measure the part on the car and type its height when it is there.
    """
    return wheel_center_mm + {"bellhousing": 300.0, "camshaft": 230.0}[school]


def with_cg_school(job: Job, school: Literal["bellhousing", "camshaft"]) -> Job:
    """The job with its CG height taken from a guess school."""
    height = snap(cg_guess(school, job.vehicle.axles[-1].tire.loaded_radius_mm))
    return with_changes(job, vehicle=with_changes(job.vehicle, cg_height_mm=height, cg_source=school))
