"""A sensible linkage to start from, sized to the wheelbase and the tire."""

from dataclasses import dataclass
from typing import Literal

from even_stance.errors import InputError
from even_stance.judgement.catalog.layouts import (
    BASES,
    LATERALS,
    BaseKey,
    LateralKey,
    keeping,
    lateral_members,
    layout_members,
    snap,
)
from even_stance.judgement.search.fitting import fitted
from even_stance.units import MM_PER_INCH
from even_stance.vehicle.car import LOADED_SHARE, Axle, Frame, Tire, Vehicle
from even_stance.vehicle.edits import replace_members, set_holes, with_changes
from even_stance.vehicle.job import Job, Purpose
from even_stance.vehicle.loading import LoadAssumptions
from even_stance.vehicle.spots import Spot

_ONE_RANGE = LoadAssumptions(transfer_low=1.0)


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
    driven: Literal["rear", "both", "front"] = "rear"


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
    """The job with a fresh layout on one axle, its brackets set for the bands that the layout can meet."""
    job = with_layout(job, key, base, lateral, keep=False)
    axle = job.vehicle.axle(key)
    spots = [
        Spot(key, m.name, end)
        for m in axle.members
        if m.role == "upper"
        for end in m.mounts
        if m.body(end) == "chassis"
    ]
    job = fitted(job, key)
    for spot in spots:
        job = set_holes(spot, 3, MM_PER_INCH, both_sides=False).apply(job)
    return job


def new_job(asked: NewJob, rear_layout: BaseKey = "triangulated") -> Job:
    """A job for a new build: two axles, the rear one on a starting linkage.

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
    travel: dict[Purpose, float] = {
        "street_cruiser": 3.0, "street_performance": 3.0, "drag": 3.0, "trail": 5.0, "desert": 8.0, "rock": 7.0,
        "tow": 4.0, "rally": 5.0, "race": 2.5,
    }  # fmt: skip
    room = travel[asked.purpose] * MM_PER_INCH
    common = {"track_mm": asked.track_mm, "tire": tire, "bump_mm": room, "droop_mm": room}
    shares = {"rear": (0.0, 1.0), "both": (0.5, 0.5), "front": (1.0, 0.0)}[asked.driven]
    front = Axle.model_validate(
        {
            "key": "front", "behind_front_mm": 0.0, "steered": True, "brake_share": 0.6, "driven": shares[0] > 0,
            "drive_share": shares[0], **common,
        }
    )  # fmt: skip
    rear = Axle.model_validate(
        {
            "key": "rear", "behind_front_mm": asked.wheelbase_mm, "driven": shares[1] > 0,
            "drive_share": shares[1], "brake_share": 0.4, **common,
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
    # A low range is a thing of cars that leave the road on all their wheels.
    two_ranges = asked.driven == "both" and asked.purpose in ("trail", "rock", "desert", "tow")
    loads = LoadAssumptions() if two_ranges else _ONE_RANGE
    job = Job(name=asked.name.strip(), units=asked.units, purpose=asked.purpose, vehicle=vehicle, loads=loads)
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
