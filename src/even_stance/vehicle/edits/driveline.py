"""The driveline: shaft ends, shafts, the powertrain and what it must clear."""

import math
from typing import Any

from even_stance.errors import InputError
from even_stance.vehicle.driveline import Mark, Powertrain, Shaft, Yoke
from even_stance.vehicle.edits.axles import set_axle
from even_stance.vehicle.edits.edit import Edit, with_axle, with_changes
from even_stance.vehicle.job import Job
from even_stance.vehicle.records import guess_at


def set_shaft(key: str, label: str, merge: str | None = None, **changes: Any) -> Edit:
    """Change what the driveshaft of an axle is; a first one is made."""

    def apply(job: Job) -> Job:
        axle = job.vehicle.axle(key)
        return with_axle(job, with_changes(axle, shaft=with_changes(axle.shaft or Shaft(), **changes)))

    return Edit(label, apply, merge)


def carry_shaft(key: str, in_two: bool) -> Edit:
    """Make the driveshaft two pieces with a bearing half way, on the line between the yokes, or one piece again.

    Raises (on apply):
        InputError: the ends were not measured yet, so that there is no half way.
    """

    def apply(job: Job) -> Job:
        axle = job.vehicle.axle(key)
        if not in_two:
            return set_shaft(key, "One-piece shaft", carrier=None).apply(job)
        if axle.output is None or axle.pinion is None:
            raise InputError("Carrier bearing", "has no place yet.", "Measure output and pinion yoke first.")
        x, y, z = (0.5 * (a + b) for a, b in zip(axle.output.at.xyz, axle.pinion.at.xyz, strict=True))
        return set_shaft(key, "Carrier bearing", carrier=guess_at(x, y, z)).apply(job)

    return Edit("Two-piece shaft" if in_two else "One-piece shaft", apply)


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


def drive_from(key: str, on: str) -> Edit:
    """Drive an axle from the gearbox (""), or through the housing of another axle, from a guess behind its pinion.

    Raises (on apply):
        InputError: the other axle's pinion is not measured, or the car refuses.
    """

    def apply(job: Job) -> Job:
        axle = job.vehicle.axle(key)
        if not on:
            output = None if axle.output is None else with_changes(axle.output, on="")
            return with_axle(job, with_changes(axle, output=output))
        other = job.vehicle.axle(on)
        if other.pinion is None:
            raise InputError("Output is on", f"the pinion of the {on} axle is not measured yet.", "Measure it first.")
        # Straight through the housing: as far behind the axle's center as the pinion is ahead of it, on the same line.
        (cx, _, cz), at = other.center, other.pinion.at
        through = guess_at(2 * cx - at.x, at.y, 2 * cz - at.z)
        output = with_changes(other.pinion, at=through, on=on)
        return with_axle(job, with_changes(axle, output=output))

    return Edit("Where the shaft comes from", apply)


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


def raise_mounts(mm: float, merge: str | None = None) -> Edit:
    """Raise both engine mounts by this from where they were measured.

    Raises (on apply):
        InputError: there is no powertrain, or it is no distance mounts are raised by.
    """
    return Edit("Raise the engine mounts", lambda job: _with_power(job, mounts_up_mm=mm), merge)


def turn_pinion(key: str, up_deg: float) -> Edit:
    """Turn the pinion nose up about the axle's tube: rotated on its tubes, or by a wedge under a leaf spring's seat.

    Raises (on apply):
        InputError: the pinion was not measured, or it is no angle anyone turns it by.
    """

    def apply(job: Job) -> Job:
        axle = job.vehicle.axle(key)
        if axle.pinion is None:
            raise InputError("Pinion yoke", "is not measured yet.", "Place it first, on the Measure page.")
        if abs(up_deg) > 30.0:
            raise InputError("Pinion turned by", f"{up_deg:g}° is farther than anyone turns one.", "Type 30 or less.")
        x, _, z = axle.center
        ahead = -1.0 if axle.is_front else 1.0  # a front pinion looks rearward: nose up turns it the other way round
        c, s = math.cos(math.radians(ahead * up_deg)), math.sin(math.radians(ahead * up_deg))
        at = axle.pinion.at
        dx, dz = at.x - x, at.z - z
        moved = with_changes(at, x=x + c * dx - s * dz, z=z + s * dx + c * dz)
        pinion = with_changes(axle.pinion, at=moved, nose_up_deg=axle.pinion.nose_up_deg + ahead * up_deg)
        return with_axle(job, with_changes(axle, pinion=pinion))

    return Edit(f"Pinion {abs(up_deg):.1f}° {'up' if up_deg > 0 else 'down'}", apply)


def set_marks(label: str, marks: tuple[Mark, ...], merge: str | None = None) -> Edit:
    """Put other marked points on the powertrain."""
    return Edit(label, lambda job: _with_power(job, marks=marks), merge)
