"""The log: what is to be looked at again, and links turned on the built car. The diary itself is written past undo."""

from typing import Any

from even_stance.vehicle.edits.edit import Edit, with_changes
from even_stance.vehicle.job import Job
from even_stance.vehicle.log import Recheck, Turned


def set_log(label: str, **changes: Any) -> Edit:
    """Change fields of the log (re-checks, links turned)."""
    return Edit(label, lambda job: with_changes(job, log=with_changes(job.log, **changes)))


def set_rechecks(label: str, rechecks: tuple[Recheck, ...]) -> Edit:
    """Other things to look at again."""
    return set_log(label, rechecks=rechecks)


def turn_built(axle: str, part: str, longer_mm: float) -> Edit:
    """A link of the built car was made longer (+) or shorter by so much more."""

    def apply(job: Job) -> Job:
        before = sum(t.longer_mm for t in job.log.turned if (t.axle, t.part) == (axle, part))
        others = tuple(t for t in job.log.turned if (t.axle, t.part) != (axle, part))
        now = Turned(axle=axle, part=part, longer_mm=before + longer_mm)
        return with_changes(job, log=with_changes(job.log, turned=(*others, now)))

    return Edit(f"{part} turned", apply)
