"""The car and the job as a whole."""

from typing import Any, Literal

from even_stance.errors import InputError
from even_stance.vehicle.car import Landmark
from even_stance.vehicle.edits.edit import Edit, made, with_changes
from even_stance.vehicle.job import Band, Job
from even_stance.vehicle.records import Point


def set_vehicle(label: str, merge: str | None = None, **changes: Any) -> Edit:
    """Change fields of the vehicle (CG height and the like)."""
    return Edit(label, lambda job: with_changes(job, vehicle=with_changes(job.vehicle, **changes)), merge)


def set_split(kind: Literal["drive", "brake"], front: float) -> Edit:
    """Share of the drive or brake force at the front axle (0 to 1); the rear axles share the rest evenly.

    Raises (on apply):
        InputError: not a share.
    """

    def apply(job: Job) -> Job:
        if not 0.0 <= front <= 1.0:
            raise InputError(f"Front {kind} share", f"{100 * front:.0f} % is no share.", "Type 0 to 100 %.")
        rear = (1.0 - front) / (len(job.vehicle.axles) - 1)
        axles = []
        for axle in job.vehicle.axles:
            share = front if axle.is_front else rear
            changes: dict[str, Any] = {f"{kind}_share": share}
            if kind == "drive":
                changes["driven"] = share > 0
            axles.append(with_changes(axle, **changes))
        return with_changes(job, vehicle=with_changes(job.vehicle, axles=tuple(axles)))

    return Edit(f"Front {kind} share", apply)


def put_landmark(name: str, at: tuple[float, float, float], was: str = "") -> Edit:
    """Name a place on the car, or change the one that was called so.

    Raises (on apply):
        InputError: a name that is none or taken, or a place beyond any car.
    """

    def apply(job: Job) -> Job:
        x, y, z = at
        mark = made(Landmark, name=name, at=made(Point, x=x, y=y, z=z))
        others = tuple(p for p in job.vehicle.landmarks if p.name != was)
        return with_changes(job, vehicle=with_changes(job.vehicle, landmarks=(*others, mark)))

    return Edit(f"Place “{name}”", apply)


def drop_landmark(name: str) -> Edit:
    """Forget a named place."""

    def apply(job: Job) -> Job:
        left = tuple(p for p in job.vehicle.landmarks if p.name != name)
        return with_changes(job, vehicle=with_changes(job.vehicle, landmarks=left))

    return Edit(f"Forget “{name}”", apply)


def set_job(label: str, merge: str | None = None, **changes: Any) -> Edit:
    """Change fields of the job itself (name, units, purpose, notes)."""
    return Edit(label, lambda job: with_changes(job, **changes), merge)


def set_band(key: str, band: Band | None) -> Edit:
    """Give an answer its own wanted band, or take it back to the purpose's default (None)."""

    def apply(job: Job) -> Job:
        bands = {k: b for k, b in job.bands.items() if k != key}
        return with_changes(job, bands=bands if band is None else bands | {key: band})

    return Edit("Wanted band", apply)


def set_wish(axle: str, what: str, band: Band | None) -> Edit:
    """Ask hole combinations of an axle for something more, or no longer (None)."""

    def apply(job: Job) -> Job:
        wishes = {k: b for k, b in job.wishes.items() if k != f"{axle}/{what}"}
        return with_changes(job, wishes=wishes if band is None else wishes | {f"{axle}/{what}": band})

    return Edit("Asked of the holes", apply)


def set_measuring(label: str, merge: str | None = None, **changes: Any) -> Edit:
    """Change what the Stance station keeps (heights, floor, scales, threads, cribs)."""
    return Edit(label, lambda job: with_changes(job, measuring=with_changes(job.measuring, **changes)), merge)
