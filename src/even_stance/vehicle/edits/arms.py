"""Holes along the arms of a steering: pitman arms and knuckles' arms that a joint may be moved in."""

from even_stance.errors import InputError
from even_stance.vehicle.car import Axle
from even_stance.vehicle.edits.edit import with_axle, with_changes
from even_stance.vehicle.edits.points import place_steer, put_arm_holes
from even_stance.vehicle.job import Job
from even_stance.vehicle.records import Point
from even_stance.vehicle.spots import Spot, arm_holes, own_point
from even_stance.vehicle.steering import ArmHoles, Steering

ARMS = ("ball", "drag", "left_tie", "right_tie")


def along_arm(axle: Axle, end: str) -> tuple[float, float, float]:
    """The direction of an arm away from what it turns about, at right angles to that, 1.

    Raises:
        InputError: there is no such arm.
    """
    steering, at = axle.steering, own_point(axle, end)
    if steering is None or at is None or end not in ARMS:
        raise InputError("Holes", "this point is on no arm.", "Pitman arms and knuckle arms may have several holes.")
    start, top = _axis(steering, end, at)
    axis = [b - a for a, b in zip(start.xyz, top.xyz, strict=True)]
    run = [b - a for a, b in zip(start.xyz, at.xyz, strict=True)]
    share = sum(a * b for a, b in zip(axis, run, strict=True)) / sum(a * a for a in axis)
    level = [r - share * a for r, a in zip(run, axis, strict=True)]
    length = sum(v * v for v in level) ** 0.5
    if length < 10.0:
        raise InputError("Holes", "the arm has no length here.", "Tape its joint again.")
    x, y, z = (v / length for v in level)
    return x, y, z


def _axis(steering: Steering, end: str, at: Point) -> tuple[Point, Point]:
    """Two points of the axis an arm turns about: the sector shaft, or the kingpin on its side."""
    if end == "ball":
        assert steering.box is not None
        return steering.box.shaft, steering.box.top
    left = end == "left_tie" if end != "drag" else at.y >= 0.0
    knuckle = steering.left if left else steering.right
    return knuckle.lower, knuckle.upper


def drill_arm(job: Job, spot: Spot, holes: tuple[Point, ...], used: int) -> Job:
    """The job with such holes in an arm, the joint staying where it is; one hole is none to choose from."""
    axle = job.vehicle.axle(spot.axle)
    assert axle.steering is not None
    others = tuple(h for h in axle.steering.arm_holes if h.end != spot.end)
    if len(holes) > 1:
        others = (*others, ArmHoles(end=spot.end, at=holes, hole=used))  # type: ignore[arg-type]
    return with_axle(job, with_changes(axle, steering=with_changes(axle.steering, arm_holes=others)))


def put_in_arm(job: Job, spot: Spot, hole: int) -> Job:
    """The job with the joint in another hole of its arm."""
    axle = job.vehicle.axle(spot.axle)
    holes = arm_holes(axle, spot.end)
    assert holes is not None
    assert axle.steering is not None
    steering = place_steer(axle.steering, spot.end, holes.at[hole])
    return with_axle(job, with_changes(axle, steering=put_arm_holes(steering, with_changes(holes, hole=hole))))
