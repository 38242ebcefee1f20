"""Brackets and joints: holes, bolts, what joint is in a mount."""

from collections.abc import Callable
from math import dist
from typing import Any

from even_stance.errors import InputError
from even_stance.vehicle.edits.arms import along_arm, drill_arm, put_in_arm
from even_stance.vehicle.edits.edit import Edit, with_changes
from even_stance.vehicle.edits.points import moved_point, put_mount, shifted_mount
from even_stance.vehicle.job import Job
from even_stance.vehicle.members import JOINT_TYPES, JointKind
from even_stance.vehicle.records import Point
from even_stance.vehicle.spots import Spot, holes_of, mount_of, point_of, twin_of


def choose_hole(spot: Spot, hole: int, both_sides: bool = True, merge: str | None = None) -> Edit:
    """Bolt the joint into another hole of its bracket (counted from 0).

    Raises (on apply):
        InputError: the bracket has no such hole.
    """

    def put(job: Job, where: Spot) -> Job:
        holes, _ = holes_of(job, where)
        if not 0 <= hole < len(holes):
            count = len(holes)
            raise InputError(where.words, f"there is no hole {hole + 1}.", f"The bracket has {count or 'no'} holes.")
        if where.member:
            return put_mount(job, where, with_changes(mount_of(job, where), at=holes[hole], hole=hole))
        return put_in_arm(job, where, hole)

    def apply(job: Job) -> Job:
        twin = twin_of(job, spot) if both_sides else None
        job = put(job, spot)
        if twin is not None and 0 <= hole < len(holes_of(job, twin)[0]):
            job = put(job, twin)
        return job

    return Edit(f"{spot.words} to hole {hole + 1}", apply, merge)


def set_holes(spot: Spot, count: int, pitch_mm: float, both_sides: bool = True, used: int | None = None) -> Edit:
    """Give a bracket a number of holes, one above the other; the joint stays where it is.

    An arm of the steering has them along it, the first nearest to what it turns about.

    Args:
        spot: the bracket; count, pitch_mm: how many holes, and how far apart.
        both_sides: whether its twin is drilled alike.
        used: which of them the joint is in, counted from 0 at the bottom; the middle one if not said.

    Raises (on apply):
        InputError: not 1 to 9 holes, a pitch that no drill would do, or a hole that is not there.
    """

    used = (count - 1) // 2 if used is None else used

    def drilled(at: Point, way: tuple[float, float, float]) -> tuple[Point, ...]:
        steps = [(i - used) * pitch_mm for i in range(count)]
        return tuple(at if i == used else moved_point(at, *(by * w for w in way)) for i, by in enumerate(steps))

    def put(job: Job, where: Spot) -> Job:
        if not where.member:
            axle = job.vehicle.axle(where.axle)
            return drill_arm(job, where, drilled(point_of(job, where), along_arm(axle, where.end)), used)
        mount = mount_of(job, where)
        holes, hole = ((), None) if count == 1 else (drilled(mount.at, (0.0, 0.0, 1.0)), used)
        return put_mount(job, where, with_changes(mount, holes=holes, hole=hole))

    def apply(job: Job) -> Job:
        if not 1 <= count <= 9:
            raise InputError("Holes", f"{count} holes is no bracket.", "Type a number from 1 to 9.")
        if not 0 <= used < count:
            raise InputError("Hole in use", f"there is no hole {used + 1} of {count}.", "Choose one that is there.")
        if not 5.0 <= pitch_mm <= 200.0:
            raise InputError("Hole pitch", "is no distance between holes.", "Type something like 1 in.")
        return _on_both(job, spot, both_sides, put)

    return Edit(f"{spot.words}: {count} holes", apply)


def set_length(spot: Spot, mm: float, both_sides: bool = True) -> Edit:
    """Make a link this long from pin to pin: the end given moves along the link, the other stays.

    Raises (on apply):
        InputError: no link with two ends, or a length that is none.
    """

    def put(job: Job, where: Spot) -> Job:
        mount = mount_of(job, where)
        at, far = mount.at.xyz, mount_of(job, _other_end(job, where)).at.xyz
        longer = mm / dist(at, far) - 1.0
        dx, dy, dz = (longer * (a - b) for a, b in zip(at, far, strict=True))
        return put_mount(job, where, shifted_mount(mount, dx, dy, dz))

    def apply(job: Job) -> Job:
        if not 10.0 <= mm <= 5_000.0:
            raise InputError(f"Length of {spot.member.lower()}", "is no length of a link.", "Type pin to pin.")
        return _on_both(job, spot, both_sides, put)

    return Edit(f"Length of {spot.member.lower()}", apply)


def _on_both(job: Job, spot: Spot, both_sides: bool, put: Callable[[Job, Spot], Job]) -> Job:
    """Do something to a mount, and to its twin if that goes along."""
    twin = twin_of(job, spot) if both_sides else None
    job = put(job, spot)
    return job if twin is None else put(job, twin)


def _other_end(job: Job, spot: Spot) -> Spot:
    """The end of a rod that is not this one."""
    member = job.vehicle.axle(spot.axle).part(spot.member)
    others = [end for end in member.ENDS if end != spot.end]
    if member.kind != "rod" or len(others) != 1:
        raise InputError(spot.words, "is not on a link with two ends.", "Choose a link.")
    return Spot(spot.axle, spot.member, others[0])


def set_mount(spot: Spot, both_sides: bool = True, **changes: Any) -> Edit:
    """Change what a mount is (bolt direction, swing limit), on both sides."""

    def put(job: Job, where: Spot) -> Job:
        return put_mount(job, where, with_changes(mount_of(job, where), **changes))

    def apply(job: Job) -> Job:
        return _on_both(job, spot, both_sides, put)

    return Edit(f"Change {spot.words}", apply)


def set_joint(spot: Spot, joint: JointKind, both_sides: bool = True) -> Edit:
    """Put another kind of joint into a mount, with the swing and stiffness of its kind."""
    return set_mount(
        spot, both_sides, joint=joint, misalignment_limit_deg=JOINT_TYPES[joint].misalignment_deg, stiffness_n_mm=None
    )
