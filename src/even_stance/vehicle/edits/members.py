"""What holds an axle: its members as a whole."""

from collections.abc import Iterable
from typing import Any

from even_stance.vehicle.edits.axles import set_axle
from even_stance.vehicle.edits.edit import Edit, with_axle, with_changes, with_member
from even_stance.vehicle.job import Job
from even_stance.vehicle.members import AnyMember


def set_members(key: str, names: Iterable[str], label: str, **changes: Any) -> Edit:
    """Change what some members are (their tube, how they are clamped, how a torque arm's front end is held)."""
    names = tuple(names)

    def apply(job: Job) -> Job:
        axle = job.vehicle.axle(key)
        for name in names:
            axle = with_member(axle, with_changes(axle.member(name), **changes))
        return with_axle(job, axle)

    return Edit(label, apply)


def replace_members(key: str, members: tuple[AnyMember, ...], label: str) -> Edit:
    """Put another set of members on an axle."""
    return set_axle(key, label, members=members)
