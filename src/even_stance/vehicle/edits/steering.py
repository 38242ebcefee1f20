"""The steering of an axle: put in, taken out, its box, ram and stops changed."""

from typing import Any

from even_stance.errors import InputError
from even_stance.vehicle.edits.axles import set_axle
from even_stance.vehicle.edits.edit import Edit, with_changes
from even_stance.vehicle.job import Job
from even_stance.vehicle.steering import Steering


def set_steering(key: str, steering: Steering | None) -> Edit:
    """Put a steering on an axle, or take it off."""
    return set_axle(key, "Steering" if steering is not None else "Steering taken out", steering=steering)


def change_steering(key: str, label: str, part: str = "", **changes: Any) -> Edit:
    """Change the steering of an axle, or a part of it ("box", "ram").

    Raises (on apply):
        InputError: there is none, or the record refuses.
    """

    def apply(job: Job) -> Job:
        steering = job.vehicle.axle(key).steering
        own = getattr(steering, part) if part and steering is not None else steering
        if steering is None or own is None:
            raise InputError(label, "there is no such steering yet.", "Start from a guess first.")
        after = with_changes(own, **changes)
        return set_axle(key, label, steering=with_changes(steering, **{part: after}) if part else after).apply(job)

    return Edit(label, apply)
