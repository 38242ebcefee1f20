"""A sensible linkage to start from, sized to the wheelbase and the tire."""

from dataclasses import dataclass
from typing import Literal

import numpy as np

from even_stance.errors import InputError
from even_stance.judgement.bands import wanted
from even_stance.study.answers import answers_at
from even_stance.units import MM_PER_INCH
from even_stance.vehicle.car import Axle, Frame, Tire, Vehicle
from even_stance.vehicle.edits import Spot, move_by, replace_members, set_holes, with_changes
from even_stance.vehicle.job import Job, Purpose
from even_stance.vehicle.members import AnyMember, Mount, Rod, Role, Side
from even_stance.vehicle.records import Point

StarterLayout = Literal["triangulated", "double_triangulated", "three_link_panhard"]
STARTERS: dict[StarterLayout, tuple[str, str]] = {
    "triangulated": (
        "Triangulated four-link",
        "Uppers spread at the frame hold the axle sideways. No bar needed; needs room over the axle.",
    ),
    "double_triangulated": (
        "Double-triangulated four-link",
        "Lowers spread too: best located, hardest to fit around driveshaft and exhaust.",
    ),
    "three_link_panhard": (
        "Three-link with panhard",
        "One upper fits where two do not. The bar moves the axle sideways on an arc: make it long and level.",
    ),
}
_SIXTEENTH = MM_PER_INCH / 16


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


def _snap(mm: float) -> float:
    return round(mm / _SIXTEENTH) * _SIXTEENTH


def _mount(x: float, y: float, z: float) -> Mount:
    return Mount(at=Point(x=_snap(x), y=_snap(y), z=_snap(z)))


def starter_members(axle: Axle, frame: Frame, layout: StarterLayout) -> tuple[AnyMember, ...]:
    """The links of a layout for an axle, sized to its tire and track; frame ends reach toward mid-car."""
    x, _, z = axle.center
    toward = -1.0 if axle.is_front else 1.0
    diameter = axle.tire.free_diameter_mm
    lower_run = float(np.clip(1.05 * diameter, 550.0, 1050.0))
    upper_run = 0.78 * lower_run
    low, high = z - 0.06 * diameter, z + 0.20 * diameter
    inner_tire = (axle.track_mm - axle.tire.width_mm) / 2
    out = inner_tire - 90.0
    rail = min(frame.rail_out_mm - 20.0, out)

    def rod(
        name: str,
        role: Role,
        side: Side,
        frame_end: tuple[float, float, float],
        axle_end: tuple[float, float, float],
    ) -> Rod:
        tube = 50.8 if role == "lower" else 38.1
        return Rod(name=name, role=role, side=side, chassis=_mount(*frame_end), axle=_mount(*axle_end), tube_mm=tube)

    members: list[AnyMember] = []
    lower_in = 150.0 if layout == "double_triangulated" else 0.0
    sides: tuple[tuple[Literal["left", "right"], float], ...] = (("left", 1.0), ("right", -1.0))
    for side, s in sides:
        frame_end = (x + toward * lower_run, s * (rail - lower_in), low + 0.06 * lower_run)
        members.append(rod(f"Lower {side}", "lower", side, frame_end, (x, s * out, low)))
    if layout == "three_link_panhard":
        y = 0.35 * rail
        members.append(
            rod("Upper", "upper", "left", (x + toward * upper_run, y, high + 0.02 * upper_run), (x, y, high))
        )
        bar = z + 0.04 * diameter
        ahead = x - toward * 0.17 * diameter
        members.append(rod("Panhard", "lateral", "center", (ahead, rail, bar), (ahead, -(out - 30.0), bar)))
        return tuple(members)
    spread = float(np.tan(np.radians(22.0))) * upper_run
    inner = max(60.0, rail - spread)
    for side, s in sides:
        frame_end = (x + toward * upper_run, s * (inner + spread), high + 0.02 * upper_run)
        members.append(rod(f"Upper {side}", "upper", side, frame_end, (x + toward * 10.0, s * inner, high)))
    return tuple(members)


def with_starter(job: Job, key: str, layout: StarterLayout) -> Job:
    """The job with a starting layout on one axle: its upper frame ends set for the middle of the wanted band."""
    axle = job.vehicle.axle(key)
    members = starter_members(axle, job.vehicle.frame, layout)
    job = replace_members(key, members, STARTERS[layout][0]).apply(job)
    job = _tuned(job, key)
    upper = next(m for m in members if m.role == "upper")
    for name in {upper.name, upper.name.replace("left", "right")}:
        job = set_holes(Spot(key, name, "chassis"), 3, MM_PER_INCH, both_sides=False).apply(job)
    return job


def _tuned(job: Job, key: str) -> Job:
    """Raise or lower the upper frame ends, within a hand's width, for the middle of the main anti band."""
    axle = job.vehicle.axle(key)
    anti = "anti_dive_pct" if axle.is_front else "anti_squat_pct"
    upper = next(m.name for m in axle.members if m.role == "upper")
    band = wanted(job, anti).band
    target = ((band.low or 0.0) + (band.high or 0.0)) / 2
    tries = []
    for z in np.arange(-6, 6.25, 0.25) * MM_PER_INCH:
        moved = move_by(Spot(key, upper, "chassis"), 0.0, 0.0, _snap(float(z))).apply(job)
        values = answers_at(moved.vehicle, moved.vehicle.axle(key), 0.0, 0.0).values
        if anti not in values:
            return job
        tries.append((abs(float(values[anti][0]) - target), abs(float(z)), moved))
    return min(tries, key=lambda t: t[:2])[2]


def new_job(asked: NewJob, rear_layout: StarterLayout = "triangulated") -> Job:
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
    radius = _snap(0.465 * asked.tire_diameter_mm)
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
        rail_top_mm=_snap(radius + 190.0),
        rail_bottom_mm=_snap(radius + 90.0),
        rail_out_mm=_snap(min(430.0, (asked.track_mm - asked.tire_width_mm) / 2 - 110.0)),
    )
    vehicle = Vehicle(
        axles=(front, rear),
        cg_height_mm=_snap(cg_guess("bellhousing", radius)),
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
    height = _snap(cg_guess(school, job.vehicle.axles[-1].tire.loaded_radius_mm))
    return with_changes(job, vehicle=with_changes(job.vehicle, cg_height_mm=height, cg_source=school))
