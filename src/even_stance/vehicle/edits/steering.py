"""The steering of an axle: put in, taken out, its box, ram and stops changed."""

from typing import Any

from even_stance.errors import InputError
from even_stance.vehicle.edits.axles import set_axle
from even_stance.vehicle.edits.edit import Edit, with_changes
from even_stance.vehicle.job import Job
from even_stance.vehicle.records import Point
from even_stance.vehicle.steering import Steering

_GUESSED_MM = 12.0


def set_steering(key: str, steering: Steering | None) -> Edit:
    """Put a steering on an axle, or take it off."""
    return set_axle(key, "Steering" if steering is not None else "Steering taken out", steering=steering)


def tape_axle_joints(key: str) -> Edit:
    """Give both knuckles a point for the center of their axle shaft's joint: to start from, half way up the kingpin.

    Raises (on apply):
        InputError: there is no steering.
    """

    def apply(job: Job) -> Job:
        steering = job.vehicle.axle(key).steering
        if steering is None:
            raise InputError("Axle joints", "there is no steering yet.", "Start from a guess first.")
        sides = {}
        for side in ("left", "right"):
            knuckle = getattr(steering, side)
            x, y, z = (0.5 * (a + b) for a, b in zip(knuckle.lower.xyz, knuckle.upper.xyz, strict=True))
            sides[side] = with_changes(knuckle, joint=Point(x=x, y=y, z=z, sure=_GUESSED_MM))
        return set_axle(key, "Axle joints", steering=with_changes(steering, **sides)).apply(job)

    return Edit("Axle joints", apply)


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
