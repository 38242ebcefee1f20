"""The driveline: shaft ends, shafts, the powertrain and what it must clear."""

from typing import Any

from even_stance.errors import InputError
from even_stance.vehicle.driveline import Mark, Powertrain, Shaft, Yoke
from even_stance.vehicle.edits.axles import set_axle
from even_stance.vehicle.edits.edit import Edit, with_axle, with_changes
from even_stance.vehicle.job import Job


def set_shaft(key: str, label: str, merge: str | None = None, **changes: Any) -> Edit:
    """Change what the driveshaft of an axle is; a first one is made."""

    def apply(job: Job) -> Job:
        axle = job.vehicle.axle(key)
        return with_axle(job, with_changes(axle, shaft=with_changes(axle.shaft or Shaft(), **changes)))

    return Edit(label, apply, merge)


def set_yoke(key: str, end: str, label: str, merge: str | None = None, **changes: Any) -> Edit:
    """Change which way an end of a driveshaft points ("output" or "pinion").

    Raises (on apply):
        InputError: it was not measured yet.
    """

    def apply(job: Job) -> Job:
        yoke: Yoke | None = getattr(job.vehicle.axle(key), end)
        if yoke is None:
            raise InputError(f"{end.capitalize()} yoke", "is not measured yet.", "Place it first, on the Measure page.")
        fresh: dict[str, Any] = {end: with_changes(yoke, **changes)}
        return set_axle(key, label, **fresh).apply(job)

    return Edit(label, apply, merge)


def set_powertrain(powertrain: Powertrain | None) -> Edit:
    """Put a powertrain into the car, or take it out."""
    return Edit("Powertrain", lambda job: with_changes(job, vehicle=with_changes(job.vehicle, powertrain=powertrain)))


def _with_power(job: Job, **changes: Any) -> Job:
    power = job.vehicle.powertrain
    if power is None:
        raise InputError("Powertrain", "is not measured yet.", "Start one on the Engine page.")
    return with_changes(job, vehicle=with_changes(job.vehicle, powertrain=with_changes(power, **changes)))


def raise_tail(mm: float, merge: str | None = None) -> Edit:
    """Raise the tail of the gearbox by this from where it was measured.

    Raises (on apply):
        InputError: there is no powertrain, or it is no distance a tail is raised by.
    """
    return Edit("Raise the tail", lambda job: _with_power(job, tail_up_mm=mm), merge)


def set_marks(label: str, marks: tuple[Mark, ...], merge: str | None = None) -> Edit:
    """Put other marked points on the powertrain."""
    return Edit(label, lambda job: _with_power(job, marks=marks), merge)
