"""What is bought and cut: parts of links, prices, ticks, steps done."""

from collections.abc import Mapping, Sequence
from typing import Any

from even_stance.errors import InputError
from even_stance.vehicle.build import BuildSheet, LinkParts, Price
from even_stance.vehicle.edits.edit import Edit, with_changes
from even_stance.vehicle.job import Job


def set_build(label: str, merge: str | None = None, **changes: Any) -> Edit:
    """Change fields of the build sheet (saw cut, bars, rock, ticks, steps)."""
    return Edit(label, lambda job: _with(job, with_changes(job.vehicle.build, **changes)), merge)


def _with(job: Job, build: BuildSheet) -> Job:
    return with_changes(job, vehicle=with_changes(job.vehicle, build=build))


def twin_of(part: str) -> str:
    """The name of the same link on the other side; its own where it has none."""
    for one, other in (("left", "right"), ("Left", "Right"), ("right", "left"), ("Right", "Left")):
        if one in part:
            return part.replace(one, other)
    return part


def fit_parts(label: str, parts: Sequence[LinkParts]) -> Edit:
    """Give links their parts, in place of those they had."""

    def apply(job: Job) -> Job:
        given = {(p.axle, p.part): p for p in parts}
        kept = [given.pop((p.axle, p.part), p) for p in job.vehicle.build.links]
        return _with(job, with_changes(job.vehicle.build, links=(*kept, *given.values())))

    return Edit(label, apply)


def change_parts(
    axle: str, part: str, label: str, changes: Mapping[str, object], end: str = "", both: bool = True
) -> Edit:
    """Change the parts of a link, of one of its ends ("first", "second") or of both ("ends"), and of its twin alike.

    Raises (on apply):
        InputError: its parts are not chosen, or do not go together.
    """

    def changed(parts: LinkParts) -> LinkParts:
        if not end:
            return with_changes(parts, **changes)
        ends = ("first", "second") if end == "ends" else (end,)
        return with_changes(parts, **{e: with_changes(getattr(parts, e), **changes) for e in ends
                                      if end != "ends" or getattr(parts, e).joint is not None})  # fmt: skip

    def apply(job: Job) -> Job:
        build = job.vehicle.build
        if build.of(axle, part) is None:
            raise InputError(part, "has no parts yet.", "Fit parts to it first.")
        names = {part, twin_of(part)} if both else {part}
        links = tuple(changed(p) if p.axle == axle and p.part in names else p for p in build.links)
        return _with(job, with_changes(build, links=links))

    return Edit(label, apply)


def take_parts_off(axle: str, part: str) -> Edit:
    """Take the parts of a link and its twin off the build sheet."""

    def apply(job: Job) -> Job:
        names = {part, twin_of(part)}
        links = tuple(p for p in job.vehicle.build.links if p.axle != axle or p.part not in names)
        return _with(job, with_changes(job.vehicle.build, links=links))

    return Edit(f"Without parts: {part}", apply)


def set_price(what: str, each: float | None) -> Edit:
    """Say what one of something costs (a meter of tube), or take that back."""

    def apply(job: Job) -> Job:
        prices = tuple(p for p in job.vehicle.build.prices if p.what != what)
        more = () if each is None else (Price.model_validate({"what": what, "each": each}),)
        return _with(job, with_changes(job.vehicle.build, prices=(*prices, *more)))

    return Edit(f"Price of {what}", apply)


def tick(what: str, there: bool, steps: bool = False) -> Edit:
    """Tick something off the shopping list, or a step of the order of work; or take the tick back."""
    field = "done" if steps else "ticked"

    def apply(job: Job) -> Job:
        kept = tuple(t for t in getattr(job.vehicle.build, field) if t != what)
        return _with(job, with_changes(job.vehicle.build, **{field: (*kept, what) if there else kept}))

    return Edit(f"{'Done' if steps else 'There'}: {what}" if there else f"Not {what}", apply)
