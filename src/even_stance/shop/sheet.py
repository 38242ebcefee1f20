"""The measuring sheet: what to measure, in the order of the work, and what each reading does to the job."""

import math
from typing import Any

from even_stance.shop.drivelinesteps import engine_mount_step, mark_step, yoke_step
from even_stance.shop.readings import Means, means_of, put
from even_stance.shop.steeringsteps import steering_steps
from even_stance.shop.steps import Field, Line, Step
from even_stance.shop.thingsteps import thing_steps
from even_stance.vehicle.car import Axle, Housing
from even_stance.vehicle.edits import (
    Edit,
    made,
    place_point,
    set_axle,
    set_measuring,
    set_tire,
    set_vehicle,
    set_wheelbase,
    with_changes,
)
from even_stance.vehicle.job import Job
from even_stance.vehicle.measuring import Reading
from even_stance.vehicle.spots import POWER_WORDS, Spot, mount_of
from even_stance.vehicle.tandem import axles_apart, set_axles_apart

GROUPS = (
    "Floor",
    "Wheelbase",
    "Square",
    "Track",
    "Tires",
    "Axle",
    "Weight",
    "Frame",
    "Points",
    "Driveline",
    "Steering",
    "Things",
)


def sheet(job: Job) -> tuple[Step, ...]:
    """All steps for a job, in the order of the work."""
    vehicle = job.vehicle
    steps = [_floor(job), _rake(job), _wheelbase(job)]
    if axles_apart(job) is not None:
        steps.append(_apart(job))
    steps.append(_diagonals(job))
    for make in (_track, _tire, _tube):
        steps += [make(axle) for axle in vehicle.axles]
    steps += [_housing(axle) for axle in vehicle.axles if axle.driven]
    steps += [_scales(axle) for axle in vehicle.axles]
    steps.append(_frame(job))
    steps += [_mount(job, Spot(a.key, m.name, end)) for a in vehicle.axles for m in a.parts for end in m.mounts]
    for axle in vehicle.axles:
        if axle.driven:
            steps += [yoke_step(job, axle, "output"), yoke_step(job, axle, "pinion")]
    steps += [engine_mount_step(job, end) for end in POWER_WORDS]
    if job.vehicle.powertrain is not None:
        steps += [mark_step(job, mark) for mark in job.vehicle.powertrain.marks]
    for axle in vehicle.axles:
        steps += steering_steps(axle)
    steps += thing_steps(job)
    return tuple(steps)


def step_of(job: Job, what: str) -> Step | None:
    """The step a reading belongs to."""
    return next((s for s in sheet(job) if any(f.what == what for f in s.fields)), None)


def _nothing(job: Job, _means: Means) -> Job:
    return job


def _floor(job: Job) -> Step:
    """How the floor slopes."""
    ahead, behind = 0.0, -job.vehicle.wheelbase_mm

    def apply(job: Job, means: Means) -> Job:
        if "floor.slope" not in means:
            return job
        return set_measuring("Floor slope", floor_slope_deg=means["floor.slope"].value).apply(job)

    return Step(
        "floor", "Floor", "Floor datum",
        "Snap a chalk line between the plumb marks under both axle centers: all “ahead” and “out” is taped from it. "
        "Lay a straightedge along it and read the floor's slope; a level floor reads 0.",
        (Field("floor.slope", "Floor slope toward the front", "angle"),), apply, "plan",
        (((ahead, 0.0, 0.0), (behind, 0.0, 0.0)),),
    )  # fmt: skip


def _rake(job: Job) -> Step:
    """How the body is raked."""
    frame = job.vehicle.frame
    a, b = -0.25 * job.vehicle.wheelbase_mm, -0.65 * job.vehicle.wheelbase_mm

    def apply(job: Job, means: Means) -> Job:
        if "floor.frame" not in means:
            return job
        slope = means["floor.slope"].value if "floor.slope" in means else job.measuring.floor_slope_deg
        return set_measuring("Body rake", rake_deg=means["floor.frame"].value - slope).apply(job)

    return Step(
        "rake", "Floor", "Body rake",
        "Press the angle finder along the straight part of the frame rail. About 1 degree nose down is common; every "
        "angle taken against the frame has it taken out.",
        (Field("floor.frame", "Frame rail toward the front", "angle"),), apply, "side",
        (((a, 0.0, frame.rail_bottom_mm), (b, 0.0, frame.rail_bottom_mm)),),
    )  # fmt: skip


def _wheelbase(job: Job) -> Step:
    """Axle to axle on both sides."""
    first, last = job.vehicle.axles[0], job.vehicle.axles[1]

    def apply(job: Job, means: Means) -> Job:
        sides = [means[k] for k in ("wheelbase.left", "wheelbase.right") if k in means]
        if not sides:
            return job
        n, sure = len(sides), math.hypot(*(m.sure for m in sides))
        behind = sum(m.value for m in sides) / n
        return set_wheelbase(behind + (axles_apart(job) or 0.0) / 2, sure / n).apply(job)

    of_two = axles_apart(job) is not None
    return Step(
        "wheelbase", "Wheelbase", f"Wheelbase{' to the first rear axle' if of_two else ''}, both sides",
        "Wheels straight ahead, tape pulled tight between the hub centers (or their plumb marks). Both sides: their "
        "difference says whether the axle is square."
        + (" The wheelbase of the car is to the middle between the rear axles." if of_two else ""),
        (Field("wheelbase.left", "Left side"), Field("wheelbase.right", "Right side")), apply, "plan",
        _alongside(first, last),
    )  # fmt: skip


def _alongside(one: Axle, other: Axle) -> tuple[Line, ...]:
    """Lines along both sides of the car from one axle's wheels to another's."""
    return tuple(
        ((-one.behind_front_mm, s * one.track_mm / 2, 0.0), (-other.behind_front_mm, s * other.track_mm / 2, 0.0))
        for s in (1, -1)
    )


def _apart(job: Job) -> Step:
    """How far the rear axles are apart."""
    _, rear, third = job.vehicle.axles

    def apply(job: Job, means: Means) -> Job:
        sides = [means[k].value for k in ("apart.left", "apart.right") if k in means]
        return set_axles_apart(sum(sides) / len(sides)).apply(job) if sides else job

    return Step(
        "apart", "Wheelbase", "Rear axles apart, both sides",
        "Hub center to hub center, tape tight and level. Both sides: their difference says whether the axles stand "
        "parallel.",
        (Field("apart.left", "Left side"), Field("apart.right", "Right side")), apply, "plan",
        _alongside(rear, third),
    )  # fmt: skip


def _diagonals(job: Job) -> Step:
    """From each front wheel to the rear wheel of the other side."""
    first, last = job.vehicle.axles[0], job.vehicle.axles[1]
    lines = tuple(
        ((0.0, s * first.track_mm / 2, 0.0), (-last.behind_front_mm, -s * last.track_mm / 2, 0.0)) for s in (1, -1)
    )
    return Step(
        "diagonals", "Square", "Diagonals",
        "From the same marks as the wheelbase, corner to corner. The Square page says how far out the axle is and "
        "which link to turn.",
        (Field("diagonal.left", "Front left to rear right"), Field("diagonal.right", "Front right to rear left")),
        _nothing, "plan", lines,
    )  # fmt: skip


def _track(axle: Axle) -> Step:
    """Tire center to tire center."""
    what, x, z, half = f"track.{axle.key}", axle.center[0], axle.center[2], axle.track_mm / 2

    def apply(job: Job, means: Means) -> Job:
        return set_axle(axle.key, "Track", track_mm=means[what].value).apply(job) if what in means else job

    return Step(
        f"track.{axle.key}", "Track", f"Track, {axle.key}",
        "Tire center to tire center: tape from the left edge of one tire to the left edge of the other, front and "
        "behind the axle, and take the mean.",
        (Field(what, "Track"),), apply, "rear", (((x, half, z), (x, -half, z)),),
    )  # fmt: skip


def _tire(axle: Axle) -> Step:
    """Diameter, width and standing height of the tires."""
    key, x, z, r = axle.key, axle.center[0], axle.center[2], axle.tire.free_diameter_mm / 2
    fields = {
        f"tire.{key}.diameter": ("Diameter, unloaded", "free_diameter_mm"),
        f"tire.{key}.radius": ("Axle center above ground", "loaded_radius_mm"),
        f"tire.{key}.width": ("Width", "width_mm"),
    }

    def apply(job: Job, means: Means) -> Job:
        changes = {name: means[what].value for what, (_, name) in fields.items() if what in means}
        return set_tire(key, "Tires", **changes).apply(job) if changes else job

    return Step(
        f"tire.{key}", "Tires", f"Tires, {key}",
        "The real mounted tire: the sidewall number overstates. The loaded radius is axle center to ground with the "
        "car standing on it.",
        tuple(Field(what, title) for what, (title, _) in fields.items()), apply, "side",
        (((x, 0.0, z), (x, 0.0, 0.0)), ((x - r, 0.0, z), (x + r, 0.0, z))),
    )  # fmt: skip


def _tube(axle: Axle) -> Step:
    """Outside and wall of the axle tube."""
    key, x, z, r = axle.key, axle.center[0], axle.center[2], 0.5 * axle.tube_mm
    fields = {
        f"tube.{key}.outside": ("Outside diameter", "tube_mm"),
        f"tube.{key}.wall": ("Wall", "tube_wall_mm"),
    }

    def apply(job: Job, means: Means) -> Job:
        changes: dict[str, Any] = {name: means[what].value for what, (_, name) in fields.items() if what in means}
        if not changes:
            return job
        known = {"tube_known": "taped"} if "tube_mm" in changes else {}
        return set_axle(key, "Axle tube", **changes, **known).apply(job)

    return Step(
        f"tube.{key}", "Axle", f"Axle tube, {key}",
        "A caliper across the tube between bracket and housing, or a tape around it: the way round is 3.1416 times the "
        "diameter. The wall at an open end, or with an ultrasonic gauge; brackets are cut to the outside.",
        tuple(Field(what, title) for what, (title, _) in fields.items()), apply, "side",
        (((x - r, 0.0, z), (x + r, 0.0, z)),),
    )  # fmt: skip


def _housing(axle: Axle) -> Step:
    """How large the round part of the housing is, and the nose of its pinion."""
    key, x, z = axle.key, axle.center[0], axle.center[2]
    fields = {
        f"housing.{key}.ball": ("Round part, high", "ball_mm"),
        f"housing.{key}.wide": ("Round part, across the car", "wide_mm"),
        f"housing.{key}.nose": ("Nose of the pinion, at its largest", "nose_mm"),
    }

    def apply(job: Job, means: Means) -> Job:
        changes = {name: means[what].value for what, (_, name) in fields.items() if what in means}
        now = job.vehicle.axle(key).housing
        if not changes or (now is None and len(changes) < len(fields)):
            return job  # a housing is drawn from all three, or guessed
        housing = made(Housing, **(now.model_dump() if now is not None else {}) | changes)
        return set_axle(key, "Housing", housing=housing).apply(job)

    size = 1.75 * axle.tube_mm
    return Step(
        f"housing.{key}", "Axle", f"Housing, {key}",
        "The round part with cover and ribs counted, straightedge to straightedge, and across the largest of the "
        "pinion's nose. All three, then it is drawn as it is; until then it is a guess by the tube.",
        tuple(Field(what, title) for what, (title, _) in fields.items()), apply, "rear",
        (((x, 0.0, z - size), (x, 0.0, z + size)), ((x, -0.8 * size, z), (x, 0.8 * size, z))),
    )  # fmt: skip


def _scales(axle: Axle) -> Step:
    """What stands under each wheel."""
    key, x, half = axle.key, axle.center[0], axle.track_mm / 2
    left, right = f"scale.{key}.left", f"scale.{key}.right"

    def apply(job: Job, means: Means) -> Job:
        if left not in means or right not in means:
            return job
        load = means[left].value + means[right].value
        return set_axle(key, "Axle weight", load_kg=max(load, job.vehicle.axle(key).unsprung_kg)).apply(job)

    return Step(
        f"scale.{key}", "Weight", f"Scales, {key}",
        "A scale under each wheel, all four level with each other, tires at pressure, brakes off. List what is missing "
        "or stood in for by sandbags on the Weight page.",
        (Field(left, "Left wheel", "mass"), Field(right, "Right wheel", "mass")), apply, "rear",
        (((x, half, 60.0), (x, half, 0.0)), ((x, -half, 60.0), (x, -half, 0.0))),
    )  # fmt: skip


def _frame(job: Job) -> Step:
    """Height and spacing of the rails."""
    frame, x = job.vehicle.frame, -0.45 * job.vehicle.wheelbase_mm
    fields = {
        "frame.top": ("Top of the rail", "rail_top_mm"),
        "frame.bottom": ("Bottom of the rail", "rail_bottom_mm"),
        "frame.out": ("Rail center from centerline", "rail_out_mm"),
    }

    def apply(job: Job, means: Means) -> Job:
        changes = {name: means[what].value for what, (_, name) in fields.items() if what in means}
        if not changes:
            return job
        known: dict[str, Any] = {"known": "taped"} if len(changes) == len(fields) else {}
        return set_vehicle("Frame", frame=with_changes(job.vehicle.frame, **changes, **known)).apply(job)

    return Step(
        "frame", "Frame", "Frame rails",
        "Between the axles, where brackets may go: heights above the floor, and half the distance between rail "
        "centers.",
        tuple(Field(what, title) for what, (title, _) in fields.items()), apply, "rear",
        (((x, frame.rail_out_mm, frame.rail_bottom_mm), (x, frame.rail_out_mm, 0.0)),
         ((x, 0.0, frame.rail_top_mm), (x, frame.rail_out_mm, frame.rail_top_mm))),
    )  # fmt: skip


def _mount(job: Job, spot: Spot) -> Step:
    """The three coordinates of one mount."""
    at = mount_of(job, spot).at
    base = f"{spot.axle}/{spot.member}/{spot.end}"
    axle_x = job.vehicle.axle(spot.axle).center[0]

    def apply(job: Job, means: Means) -> Job:
        found = {c: means[f"{base}/{c}"] for c in ("ahead", "left", "up") if f"{base}/{c}" in means}
        if not found:
            return job
        ahead = -job.vehicle.axle(spot.axle).behind_front_mm
        return place_point(spot, put(mount_of(job, spot).at, found, ahead)).apply(job)

    return Step(
        base, "Points", spot.words,
        "The joint's center: drop a plumb bob from it and tape the mark from the chalk line and the axle's line; the "
        "height straight up. Behind the axle and right of the line are minus.",
        (Field(f"{base}/ahead", f"Ahead of the {spot.axle} axle"), Field(f"{base}/left", "Left of centerline"),
         Field(f"{base}/up", "Above the floor")), apply, "side",
        (((at.x, at.y, at.z), (at.x, at.y, 0.0)), ((at.x, at.y, 0.0), (axle_x, at.y, 0.0))),
    )  # fmt: skip


def _with_readings(job: Job, readings: tuple[Reading, ...], changed: Reading) -> Job:
    """The job with other readings, and what the means now say put to use: those of the car as found make the design.

    Readings of the car as it was built are kept and move nothing: they make a car of their own (`shop/asbuilt.py`).
    """
    job = with_changes(job, measuring=with_changes(job.measuring, readings=readings))
    step = step_of(job, changed.what) if changed.stage == "found" else None
    return job if step is None else step.apply(job, means_of(job))


def take_reading(reading: Reading) -> Edit:
    """Keep a reading and put the mean of all like it to use."""

    def apply(job: Job) -> Job:
        return _with_readings(job, (*job.measuring.readings, reading), reading)

    return Edit(f"Reading of {reading.what.replace('/', ', ').replace('.', ' ')}", apply)


def set_aside(index: int, aside: bool = True) -> Edit:
    """Let a reading count no longer (it stays in the record), or count again."""

    def apply(job: Job) -> Job:
        readings = list(job.measuring.readings)
        readings[index] = with_changes(readings[index], counts=not aside)
        return _with_readings(job, tuple(readings), readings[index])

    return Edit("Set a reading aside" if aside else "Count a reading again", apply)
