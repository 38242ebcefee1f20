"""What an edit is: a pure function from job to job with a label, and records made with the checks of new ones."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any, TypeVar

from pydantic import ValidationError

from even_stance.errors import InputError
from even_stance.vehicle.car import Axle
from even_stance.vehicle.complaints import complaint
from even_stance.vehicle.job import Job
from even_stance.vehicle.members import AnyMember
from even_stance.vehicle.records import Record
from even_stance.vehicle.springs import AnySpring

R = TypeVar("R", bound=Record)


@dataclass(frozen=True)
class Edit:
    """A change with its name in the undo list; edits with the same merge key in a row become one step."""

    label: str
    apply: Callable[[Job], Job]
    merge: str | None = None


def all_of(label: str, edits: Sequence[Edit]) -> Edit:
    """Several changes as one: all of them are made or none, and one step takes them back."""

    def apply(job: Job) -> Job:
        for edit in edits:
            job = edit.apply(job)
        return job

    return Edit(label, apply)


def made(kind: type[R], /, **fields: Any) -> R:
    """A new record.

    Raises:
        InputError: the record refuses; the message names the field.
    """
    try:
        return kind.model_validate(fields)
    except ValidationError as error:
        raise InputError(*complaint(error)) from None


def with_changes(record: R, **changes: Any) -> R:
    """A copy of a record with fields changed, checked like any new record.

    Raises:
        InputError: the record refuses; the message names the field.
    """
    return made(type(record), **({name: getattr(record, name) for name in type(record).model_fields} | changes))


def with_axle(job: Job, axle: Axle) -> Job:
    """The job with one axle replaced (found by its key)."""
    axles = tuple(axle if a.key == axle.key else a for a in job.vehicle.axles)
    return with_changes(job, vehicle=with_changes(job.vehicle, axles=axles))


def with_member(axle: Axle, member: AnyMember | AnySpring) -> Axle:
    """The axle with one member or spring replaced (found by its name)."""
    if any(unit.name == member.name for unit in axle.springs):
        return with_changes(axle, springs=tuple(member if s.name == member.name else s for s in axle.springs))
    return with_changes(axle, members=tuple(member if m.name == member.name else m for m in axle.members))
