"""Axles: where they are, their tires, travel and weights."""

from typing import Any

from even_stance.vehicle.car import Axle
from even_stance.vehicle.edits.edit import Edit, with_axle, with_changes
from even_stance.vehicle.edits.points import moved_point, shifted_mount
from even_stance.vehicle.job import Job


def set_axle(key: str, label: str, merge: str | None = None, **changes: Any) -> Edit:
    """Change fields of one axle."""
    return Edit(label, lambda job: with_axle(job, with_changes(job.vehicle.axle(key), **changes)), merge)


def set_tire(key: str, label: str, **changes: Any) -> Edit:
    """Change the tires of one axle; the members on axle and frame keep their places on the car."""

    def apply(job: Job) -> Job:
        axle = job.vehicle.axle(key)
        return with_axle(job, with_changes(axle, tire=with_changes(axle.tire, **changes)))

    return Edit(label, apply)


def set_back(axle: Axle, mm: float) -> Axle:
    """An axle farther back by some mm, with its members and its pinion; the shaft end on the frame stays."""
    members = tuple(
        with_changes(m, **{end: shifted_mount(mount, -mm, 0.0, 0.0) for end, mount in m.mounts.items()})
        for m in axle.members
    )
    moved: dict[str, Any] = {"behind_front_mm": axle.behind_front_mm + mm, "members": members}
    if axle.pinion is not None:
        moved["pinion"] = with_changes(axle.pinion, at=moved_point(axle.pinion.at, -mm, 0.0, 0.0))
    return with_changes(axle, **moved)


def set_wheelbase(mm: float, sure_mm: float | None = None) -> Edit:
    """Move the rear axle (or the rear pair) so that the wheelbase is this; its members go along with it.

    Args:
        mm: the wheelbase; sure_mm: its +/-, if that is to change as well.
    """

    def apply(job: Job) -> Job:
        shift = mm - job.vehicle.wheelbase_mm
        front, *rear = job.vehicle.axles
        sure = job.vehicle.wheelbase_sure_mm if sure_mm is None else sure_mm
        axles = (front, *(set_back(axle, shift) for axle in rear))
        return with_changes(job, vehicle=with_changes(job.vehicle, axles=axles, wheelbase_sure_mm=sure))

    return Edit("Wheelbase", apply)
