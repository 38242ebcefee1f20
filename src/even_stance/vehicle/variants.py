"""Variants: named branches of a job. One is on the bench, the others wait as they were left."""

from even_stance.errors import InputError
from even_stance.vehicle.car import Vehicle
from even_stance.vehicle.edits import Edit, with_changes
from even_stance.vehicle.job import Job, Variant


def branch_names(job: Job) -> list[str]:
    """All variants, the one on the bench first."""
    return [job.branch, *(v.name for v in job.variants)]


def vehicle_of(job: Job, name: str) -> Vehicle:
    """The car of a variant.

    Raises:
        KeyError: there is none of that name.
    """
    if name == job.branch:
        return job.vehicle
    for variant in job.variants:
        if variant.name == name:
            return variant.vehicle
    raise KeyError(name)


def fresh_name(job: Job, wish: str) -> str:
    """A name no variant has yet."""
    names, wish = branch_names(job), wish.strip()[:70] or "Variant"
    name, count = wish, 2
    while name in names:
        name, count = f"{wish} {count}", count + 1
    return name


def branch_off(name: str, change: Edit | None = None) -> Edit:
    """Leave the car as it is as a variant and go on with a copy of it under a new name, changed or not.

    Raises (on apply):
        InputError: the name is empty or taken, or the change is refused.
    """

    def apply(job: Job) -> Job:
        if not name.strip():
            raise InputError("Variant", "it has no name.", "Type one, such as “long uppers”.")
        left = Variant(name=job.branch, vehicle=job.vehicle, note=job.branch_note)
        job = with_changes(job, branch=name.strip(), branch_note="", variants=(*job.variants, left))
        return job if change is None else change.apply(job)

    return Edit(f"Variant {name}" if change is None else f"Try: {change.label}", apply)


def switch_to(name: str) -> Edit:
    """Put another variant on the bench; the one there waits in its place.

    Raises (on apply):
        InputError: there is none of that name.
    """

    def apply(job: Job) -> Job:
        if name == job.branch:
            return job
        found = next((v for v in job.variants if v.name == name), None)
        if found is None:
            raise InputError("Variant", f"there is none called “{name}”.", "Pick one of the list.")
        left = Variant(name=job.branch, vehicle=job.vehicle, note=job.branch_note)
        rest = tuple(left if v.name == name else v for v in job.variants)
        return with_changes(
            job, branch=found.name, branch_note=found.note, vehicle=found.vehicle, variants=rest
        )  # fmt: skip

    return Edit(f"Variant {name}", apply)


def drop_variant(name: str) -> Edit:
    """Take a variant that is not on the bench out of the job (undo brings it back).

    Raises (on apply):
        InputError: it is the one on the bench.
    """

    def apply(job: Job) -> Job:
        if name == job.branch:
            raise InputError("Variant", f"“{name}” is on the bench.", "Switch to another one first.")
        return with_changes(job, variants=tuple(v for v in job.variants if v.name != name))

    return Edit(f"Drop variant {name}", apply)


def rename_branch(name: str) -> Edit:
    """Give the variant on the bench another name."""
    return Edit(f"Variant is {name}", lambda job: with_changes(job, branch=name.strip()))
