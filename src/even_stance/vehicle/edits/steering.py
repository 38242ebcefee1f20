"""The steering of an axle: put in, taken out, its box, ram and stops changed."""

from typing import Any

from even_stance.errors import InputError
from even_stance.vehicle.edits.axles import set_axle
from even_stance.vehicle.edits.edit import Edit, with_changes
from even_stance.vehicle.job import Job
from even_stance.vehicle.records import Point, guess_at
from even_stance.vehicle.steering import AssistRam, BoltedArm, ColumnShaft, Steering

_COVER_MM = 120.0  # a cover stands off the axle's middle by some five inches


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
            sides[side] = with_changes(knuckle, joint=guess_at(x, y, z))
        return set_axle(key, "Axle joints", steering=with_changes(steering, **sides)).apply(job)

    return Edit("Axle joints", apply)


def start_assist(key: str) -> Edit:
    """Put an assist ram between axle and tie rod, from a guess along the tie rod, its stroke half out when straight.

    Raises (on apply):
        InputError: there is no box and tie rod for it to help.
    """

    def apply(job: Job) -> Job:
        axle = job.vehicle.axle(key)
        steering = axle.steering
        if steering is None or steering.box is None:
            raise InputError("Assist ram", "there is no box for it to help.", "Start a steering with a box first.")
        left, right = steering.left.tie, steering.right.tie
        end = guess_at(*(a + 0.62 * (b - a) for a, b in zip(left.xyz, right.xyz, strict=True)))
        base = guess_at(axle.center[0] - 0.4 * (axle.center[0] - end.x), end.y + 340.0, axle.center[2] + 40.0)
        long = sum((a - b) ** 2 for a, b in zip(base.xyz, end.xyz, strict=True)) ** 0.5
        assist = AssistRam(base=base, end=end, closed_mm=long - 110.0, open_mm=long + 110.0)
        return set_axle(key, "Assist ram", steering=with_changes(steering, assist=assist)).apply(job)

    return Edit("Assist ram", apply)


def tape_cover(key: str) -> Edit:
    """Give a ram the point of the housing's cover that is nearest to it: to start from, on the axle's middle.

    Raises (on apply):
        InputError: there is no ram on the axle.
    """

    def apply(job: Job) -> Job:
        axle = job.vehicle.axle(key)
        if axle.steering is None or axle.steering.ram is None:
            raise InputError("Housing cover", "there is no ram near it.", "Start a steering with a ram first.")
        ram, (x, y, z) = axle.steering.ram, axle.center
        middle = [0.5 * (a + b) for a, b in zip(ram.left.xyz, ram.right.xyz, strict=True)]
        way = 1.0 if middle[0] >= x else -1.0
        cover = guess_at(x + way * min(0.35 * abs(middle[0] - x), _COVER_MM), y, z)
        return change_steering(key, "Housing cover", "ram", cover=cover).apply(job)

    return Edit("Housing cover", apply)


def bolt_arm_on(key: str) -> Edit:
    """Say that a knuckle's arm is held by studs, as many are until they are counted.

    Raises (on apply):
        InputError: there is no steering.
    """
    return change_steering(key, "Bolted-on arm", bolted=BoltedArm())


def start_column(key: str) -> Edit:
    """Put a steering shaft between column and box, from a guess behind and above the box.

    Raises (on apply):
        InputError: there is no box.
    """

    def apply(job: Job) -> Job:
        steering = job.vehicle.axle(key).steering
        if steering is None or steering.box is None:
            raise InputError("Steering shaft", "there is no box for it to turn.", "Start a steering with a box first.")
        x, y, z = steering.box.top.xyz

        def at(back: float, up: float) -> Point:
            return guess_at(x - back, y, z + up)

        column = ColumnShaft(joint=at(460.0, 190.0), up=at(760.0, 350.0), input=at(90.0, 20.0), into=at(0.0, 0.0))
        return set_axle(key, "Steering shaft", steering=with_changes(steering, column=column)).apply(job)

    return Edit("Steering shaft", apply)


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
