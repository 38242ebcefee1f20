"""A second rear axle: put under the car, set apart from the first one, and taken out again."""

from even_stance.errors import InputError
from even_stance.units import format_length, length_unit
from even_stance.vehicle.car import Axle
from even_stance.vehicle.edits import Edit, set_back, with_changes
from even_stance.vehicle.job import Job

KEY = "third"


def axles_apart(job: Job) -> float | None:
    """How far the rear axles are apart, mm; None when there is just one."""
    behind = [a.behind_front_mm for a in job.vehicle.axles]
    return behind[2] - behind[1] if len(behind) == 3 else None


def roomy_apart(axle: Axle) -> float:
    """A distance to start from, mm: a tire and a hand's width between the tires, on a whole inch."""
    return round((axle.tire.free_diameter_mm + 100.0) / 25.4) * 25.4


def add_rear_axle() -> Edit:
    """A second rear axle like the first, on the same links; the wheelbase stays, to the middle of the pair (SAE J670).

    Each takes half of what the one took: weight on the scales, drive and brake share.
    """

    def apply(job: Job) -> Job:
        if len(job.vehicle.axles) == 3:
            raise InputError("Axles", "there are two rear axles already.", "Take one out first.")
        front, rear = job.vehicle.axles
        apart = roomy_apart(rear)
        half = with_changes(
            rear,
            load_kg=rear.load_kg / 2,
            unsprung_kg=min(rear.unsprung_kg, rear.load_kg / 2),
            drive_share=rear.drive_share / 2,
            brake_share=rear.brake_share / 2,
        )
        third = with_changes(set_back(half, apart / 2), key=KEY, output=None)
        return with_changes(job, vehicle=with_changes(job.vehicle, axles=(front, set_back(half, -apart / 2), third)))

    return Edit("Second rear axle", apply)


def set_axles_apart(mm: float) -> Edit:
    """Set the two rear axles this far apart, as far from the middle between them as each other.

    Raises (on apply):
        InputError: there is one rear axle, or the tires would touch.
    """

    def apply(job: Job) -> Job:
        now = axles_apart(job)
        if now is None:
            raise InputError("Rear axles apart", "there is one rear axle.", "Add a second one first.")
        front, rear, third = job.vehicle.axles
        least = (rear.tire.free_diameter_mm + third.tire.free_diameter_mm) / 2
        if mm <= least:
            words = f"{format_length(least, job.units).removeprefix('~')} {length_unit(job.units)}"
            raise InputError("Rear axles apart", "the tires would touch.", f"Type more than {words}.")
        grow = (mm - now) / 2
        axles = (front, set_back(rear, -grow), set_back(third, grow))
        return with_changes(job, vehicle=with_changes(job.vehicle, axles=axles))

    return Edit("Rear axles apart", apply)


def take_out_rear_axle() -> Edit:
    """One rear axle again, at the wheelbase, with what both took of weight, drive and brake."""

    def apply(job: Job) -> Job:
        apart = axles_apart(job)
        if apart is None:
            raise InputError("Axles", "there is one rear axle.", "A car needs two axles.")
        front, rear, third = job.vehicle.axles
        share = {name: getattr(rear, name) + getattr(third, name) for name in ("load_kg", "drive_share", "brake_share")}
        one = with_changes(set_back(rear, apart / 2), driven=rear.driven or third.driven, **share)
        return with_changes(job, vehicle=with_changes(job.vehicle, axles=(front, one)))

    return Edit("Take the second rear axle out", apply)
