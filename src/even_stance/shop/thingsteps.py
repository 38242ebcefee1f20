"""Steps of the measuring sheet for things that can be hit: the few measures of each, with where to tape them."""

from typing import Any

from even_stance.judgement.catalog.things import KINDS, MEASURES
from even_stance.shop.readings import Means
from even_stance.shop.steps import Field, Line, Step
from even_stance.vehicle.edits import change_thing, shape_thing, with_changes
from even_stance.vehicle.job import Job
from even_stance.vehicle.records import Point
from even_stance.vehicle.things import Arch, Block, Plate, Run, Scan, Thing, Tunnel

_BENDS = 8  # of a run; one with more is typed on its page


def thing_steps(job: Job) -> list[Step]:
    """A step for everything that was put on the car, but for what came from a file."""
    return [_step(job, thing) for thing in job.vehicle.things if not isinstance(thing.form, Plate | Scan)]


def _step(job: Job, thing: Thing) -> Step:
    base = f"thing.{thing.name}"
    measures = [(m.name, m.title) for m in MEASURES[thing.form.shape]]
    fields = [Field(f"{base}.{name}", title) for name, title in measures]
    for number, _ in enumerate(_points(thing), start=1):
        words = f"Bend {number}, " if isinstance(thing.form, Run) else ""
        fields += [Field(f"{base}.{number}.{c}", f"{words}{title}".capitalize())
                   for c, title in (("ahead", "ahead"), ("left", "left"), ("up", "up"))]  # fmt: skip

    def apply(job: Job, means: Means) -> Job:
        now = next((t for t in job.vehicle.things if t.name == thing.name), None)
        if now is None or now.form.shape != thing.form.shape:
            return job
        changes: dict[str, Any] = {
            name: means[f"{base}.{name}"].value for name, _ in measures if f"{base}.{name}" in means
        }
        placed = _placed(now, means, base)
        if placed is not None:
            changes["points" if isinstance(now.form, Run) else "at"] = placed
        if not changes:
            return job
        sure = max(m.sure for key, m in means.items() if key.startswith(f"{base}."))
        job = shape_thing(now.name, "Taped", **changes).apply(job)
        return change_thing(now.name, "Taped", sure_mm=sure).apply(job)

    return Step(
        base, "Things", thing.name, f"{KINDS[thing.kind].tape} Ahead is from the front axle, left from the chalk line.",
        tuple(fields), apply, "side", _lines(thing),
    )  # fmt: skip


def _points(thing: Thing) -> tuple[Point, ...]:
    """The places of a thing that are taped one by one."""
    if isinstance(thing.form, Run):
        return thing.form.points[:_BENDS]
    at = getattr(thing.form, "at", None)
    return () if at is None else (at,)


def _placed(thing: Thing, means: Means, base: str) -> Any:
    """The places of a thing with what was taped in place of what was thought; None where nothing was."""
    found, taped = [], False
    for number, point in enumerate(_points(thing), start=1):
        values = {}
        for axis, c in (("x", "ahead"), ("y", "left"), ("z", "up")):
            mean = means.get(f"{base}.{number}.{c}")
            if mean is not None:
                values[axis] = mean.value
        taped = taped or bool(values)
        found.append(with_changes(point, **values) if values else point)
    if not taped:
        return None
    if isinstance(thing.form, Run):
        return (*found, *thing.form.points[_BENDS:])
    return found[0]


def _lines(thing: Thing) -> tuple[Line, ...]:
    """Where to lay the tape, seen from the left."""
    form = thing.form
    if isinstance(form, Block):
        x, z = form.ahead_mm, form.under_mm
        return (((x, 0.0, 0.0), (x, 0.0, z)), ((x, 0.0, z), (x - form.long_mm, 0.0, z + form.rise_mm)))
    if isinstance(form, Tunnel):
        x, end = form.ahead_mm, form.ahead_mm - form.long_mm
        return (((x, 0.0, 0.0), (x, 0.0, form.front_mm)), ((end, 0.0, 0.0), (end, 0.0, form.rear_mm)))
    if isinstance(form, Arch):
        x, z = form.ahead_mm, form.up_mm
        return (((x, 0.0, 0.0), (x, 0.0, z)), ((x, 0.0, z), (x, 0.0, z + form.inside_mm)))
    return tuple(((p.x, p.y, 0.0), p.xyz) for p in _points(thing))
