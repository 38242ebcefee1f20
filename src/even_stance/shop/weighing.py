"""Where the weight is: scales under the wheels, parts that were missing, one end lifted, sprung and unsprung."""

from dataclasses import dataclass

import numpy as np

from even_stance.errors import InputError
from even_stance.mechanics.weighing import cg_height_by_lift, cg_over_ground
from even_stance.shop.readings import Means, means_of
from even_stance.units import MM_PER_INCH
from even_stance.vehicle.edits import Edit, with_changes
from even_stance.vehicle.job import Job
from even_stance.vehicle.measuring import Lift

LIFT_CAUTIONS = (
    "Lifting one end as high as this takes is dangerous: chock the wheels that stay down in both directions, lift at "
    "a rated point, stand the lifted tires on cribs or ramps you have checked, and keep everyone clear and out from "
    "under. If in doubt, do not: guess the height and keep its +/- large.",
    "Lock the suspension first (blocks in place of springs), brakes off, fluids level.",
)
_LEAST_LIFT = 0.05  # of the wheelbase: less gives a figure that means nothing


@dataclass(frozen=True)
class Weighed:
    """What the scales say.

    Attributes:
        total_kg: with missing parts added; behind_mm: CG behind the front axle; left_mm: CG to the left of the line.
        axle_kg: load of each axle, missing parts added, front to rear; added_kg: what was added for missing parts.
        cross_pct: share of left front and right rear together.
    """

    total_kg: float
    behind_mm: float
    left_mm: float
    axle_kg: tuple[float, ...]
    added_kg: float
    cross_pct: float


def weigh(job: Job) -> Weighed | None:
    """Weight and its place over the ground from the scale readings; None while a wheel is missing.

    Raises:
        InputError: the scales show nothing at all.
    """
    means, axles = means_of(job), job.vehicle.axles
    loads, wheels = [], []
    for axle in axles:
        for side, s in (("left", 1.0), ("right", -1.0)):
            mean = means.get(f"scale.{axle.key}.{side}")
            if mean is None:
                return None
            loads.append(mean.value)
            wheels.append((axle.center[0], s * axle.track_mm / 2))
    total = sum(loads)
    if total <= 0:
        raise InputError("Scales", "show nothing under any wheel.", "Weigh again.")
    cross = 100.0 * (loads[0] + loads[-1]) / total if len(axles) == 2 else 50.0
    missing = [b for b in job.measuring.ballast if not b.stood_in]
    every = np.array([*loads, *(b.mass_kg for b in missing)])
    places = np.array([*wheels, *((b.at.x, b.at.y) for b in missing)])
    mass, (x, y) = cg_over_ground(every, places)
    per_axle = [loads[2 * i] + loads[2 * i + 1] for i in range(len(axles))]
    added = sum(b.mass_kg for b in missing)
    # A part added later loads the axles by its place between the first and the last of them.
    span = axles[-1].behind_front_mm
    for b in missing:
        share = -b.at.x / span
        rear = [share / (len(axles) - 1)] * (len(axles) - 1)
        for i, part in enumerate([1.0 - share, *rear]):
            per_axle[i] += part * b.mass_kg
    return Weighed(float(mass), -float(x), float(y), tuple(per_axle), added, cross)


@dataclass(frozen=True)
class Height:
    """CG height from a lift, mm, with its +/-, and the lift's angle, degrees."""

    height_mm: float
    sure_mm: float
    angle_deg: float


def height_by_lift(job: Job, lift: Lift) -> Height:
    """CG height from one end lifted.

    The +/- comes from that of the scales, the lift and a tape on wheelbase and radius, put together by their slopes.

    Raises:
        InputError: no total weight, a lift too small to mean anything, or one longer than the wheelbase.
    """
    vehicle = job.vehicle
    if len(vehicle.axles) > 2:
        raise InputError(
            "Lift", "is for a car on two axles: three share the weight as their springs like.", "Guess the CG height."
        )
    total = vehicle.mass_kg
    base = vehicle.axles[-1].behind_front_mm
    if total <= 0:
        raise InputError("CG height", "needs the weight of the car.", "Enter the axle weights first.")
    if not _LEAST_LIFT * base <= lift.lift_mm <= 0.7 * base:
        raise InputError(
            "Lift", f"{lift.lift_mm / MM_PER_INCH:.1f} in ({lift.lift_mm:.0f} mm) will not do for this wheelbase.",
            f"Lift between {_LEAST_LIFT * base / MM_PER_INCH:.0f} and {0.7 * base / MM_PER_INCH:.0f} in "
            f"({_LEAST_LIFT * base:.0f} to {0.7 * base:.0f} mm).",
        )  # fmt: skip
    if lift.raised_kg <= lift.level_kg:
        raise InputError(
            "Load when lifted", "is not more than when level: the CG would be below the wheel centers.",
            "Read the scales under the end that stayed down, level and lifted.",
        )  # fmt: skip
    inputs = np.array([total, lift.level_kg, lift.raised_kg, base, lift.lift_mm, _radius(job)])
    sures = np.array([2 * lift.scale_sure_kg, lift.scale_sure_kg, lift.scale_sure_kg, 1.6, lift.lift_sure_mm, 1.6])
    varied = np.repeat(inputs[None], 12, axis=0)
    for i, sure in enumerate(sures):
        varied[2 * i, i] += sure / 2
        varied[2 * i + 1, i] -= sure / 2
    heights = cg_height_by_lift(*varied.T)
    spread = float(np.sqrt(((heights[::2] - heights[1::2]) ** 2).sum()))
    height = float(cg_height_by_lift(*inputs))
    return Height(height, spread, float(np.degrees(np.arcsin(lift.lift_mm / base))))


def _radius(job: Job) -> float:
    """Height of the line between the wheel centers where the CG is."""
    first, last = job.vehicle.axles[0], job.vehicle.axles[-1]
    share = sum(a.load_kg * a.behind_front_mm for a in job.vehicle.axles) / max(job.vehicle.mass_kg, 1e-9)
    along = share / last.behind_front_mm
    return first.tire.loaded_radius_mm + along * (last.tire.loaded_radius_mm - first.tire.loaded_radius_mm)


def use_lift(lift: Lift) -> Edit:
    """Keep a lift and take the CG height from it."""

    def apply(job: Job) -> Job:
        found = height_by_lift(job, lift)
        vehicle = with_changes(
            job.vehicle, cg_height_mm=found.height_mm, cg_source="measured", cg_sure_mm=max(found.sure_mm, 1.0)
        )
        return with_changes(job, vehicle=vehicle, measuring=with_changes(job.measuring, lift=lift))

    return Edit("CG height by lift", apply)


def use_weights() -> Edit:
    """Take the axle loads from the scales, missing parts added."""

    def apply(job: Job) -> Job:
        weighed = weigh(job)
        if weighed is None:
            raise InputError("Scales", "not every wheel has been weighed.", "Enter all wheels first.")
        axles = []
        for axle, load in zip(job.vehicle.axles, weighed.axle_kg, strict=True):
            if load < axle.unsprung_kg:
                raise InputError(
                    f"{axle.key.capitalize()} axle", f"would carry {load:.0f} kg, less than its own unsprung weight.",
                    "Check the places of the missing parts, or the unsprung weight.",
                )  # fmt: skip
            axles.append(with_changes(axle, load_kg=load))
        return with_changes(job, vehicle=with_changes(job.vehicle, axles=tuple(axles)))

    return Edit("Axle weights from the scales", apply)


def wheel_means(means: Means, key: str) -> tuple[float | None, float | None]:
    """Left and right scale of an axle, kg, None where it was not read."""
    left, right = (means.get(f"scale.{key}.{side}") for side in ("left", "right"))
    return (None if left is None else left.value, None if right is None else right.value)
