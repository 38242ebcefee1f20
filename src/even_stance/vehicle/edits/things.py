"""Things that can be hit: put on, taped, moved, copied, mirrored, grouped, taken off; gaps wanted; what was tried."""

from typing import Any

from even_stance.errors import InputError
from even_stance.vehicle.edits.edit import Edit, made, with_changes
from even_stance.vehicle.job import Job
from even_stance.vehicle.records import Point
from even_stance.vehicle.things import (
    AnyShape,
    Arch,
    Ball,
    Block,
    Clearances,
    Plate,
    Round,
    Run,
    Thing,
    Tried,
    Tunnel,
    WantedGap,
    plane_axes,
)

_SIDES = {"left": "right", "right": "left"}


def _with_things(job: Job, things: tuple[Thing, ...]) -> Job:
    return with_changes(job, vehicle=with_changes(job.vehicle, things=things))


def thing_named(job: Job, name: str) -> Thing:
    """The thing of that name.

    Raises:
        InputError: there is none.
    """
    for thing in job.vehicle.things:
        if thing.name == name:
            return thing
    raise InputError("Thing", f"there is no “{name}” on the car.", "Choose one from the list.")


def fresh_thing_name(job: Job, wish: str) -> str:
    """A name no thing has yet."""
    names, name, count = {t.name for t in job.vehicle.things}, wish, 2
    while name in names:
        name, count = f"{wish} {count}", count + 1
    return name


def put_thing(thing: Thing) -> Edit:
    """Put a thing on the car, under a name of its own."""

    def apply(job: Job) -> Job:
        named = with_changes(thing, name=fresh_thing_name(job, thing.name))
        return _with_things(job, (*job.vehicle.things, named))

    return Edit(f"Put on {thing.name}", apply)


def take_thing_off(name: str) -> Edit:
    """Take a thing off the car."""
    return Edit(
        f"Take off {name}", lambda job: _with_things(job, tuple(t for t in job.vehicle.things if t.name != name))
    )


def change_thing(name: str, /, label: str, merge: str | None = None, **changes: Any) -> Edit:
    """Change what is said of a thing.

    Raises (on apply):
        InputError: there is no such thing, or the record refuses; the message names the field.
    """

    def apply(job: Job) -> Job:
        changed = with_changes(thing_named(job, name), **changes)
        return _with_things(job, tuple(changed if t.name == name else t for t in job.vehicle.things))

    return Edit(f"{name}: {label.lower()}", apply, merge)


def shape_thing(name: str, label: str, **measures: Any) -> Edit:
    """Change some measures of a thing's shape.

    Raises (on apply):
        InputError: there is no such thing, or the shape refuses; the message names the field.
    """

    def apply(job: Job) -> Job:
        form = with_changes(thing_named(job, name).form, **measures)
        return change_thing(name, label, form=form).apply(job)

    return Edit(f"{name}: {label.lower()}", apply)


def copy_thing(name: str, mirrored: bool = False) -> Edit:
    """Put a second one on: beside it, or mirrored to the other side of the car, on that side's body."""

    def apply(job: Job) -> Job:
        thing = thing_named(job, name)
        form = mirrored_form(thing.form) if mirrored else moved_form(thing.form, 0.0, 50.0, 0.0)
        words, on = name, thing.on
        if mirrored:
            words = " ".join(_SIDES.get(word, word) for word in name.split(" "))
            on = " ".join(_SIDES.get(word, word) for word in on.split(" "))
        copy = with_changes(thing, name=fresh_thing_name(job, words), form=form, on=on)
        return _with_things(job, (*job.vehicle.things, copy))

    return Edit(f"{'Mirror' if mirrored else 'Copy'} {name}", apply)


def switch_group(group: str, counts: bool) -> Edit:
    """Switch all things of a group on or off."""

    def apply(job: Job) -> Job:
        return _with_things(
            job, tuple(with_changes(t, counts=counts) if t.group == group else t for t in job.vehicle.things)
        )

    return Edit(f"{group}: {'on' if counts else 'off'}", apply)


def set_clearances(label: str, **changes: Any) -> Edit:
    """Change what the search for gaps reads: tires, tail, gaps wanted, what was tried."""

    def apply(job: Job) -> Job:
        now: Clearances = with_changes(job.vehicle.clearances, **changes)
        return with_changes(job, vehicle=with_changes(job.vehicle, clearances=now))

    return Edit(label, apply)


def want_gap(a: str, b: str, gap_mm: float | None) -> Edit:
    """Say what gap is wanted between two parts; None: what they ask for themselves."""

    def apply(job: Job) -> Job:
        kept = tuple(w for w in job.vehicle.clearances.wanted if {w.a, w.b} != {a, b})
        new = () if gap_mm is None else (made(WantedGap, a=a, b=b, gap_mm=gap_mm),)
        return set_clearances("", wanted=(*kept, *new)).apply(job)

    return Edit(f"Gap wanted: {a}, {b}", apply)


def put_together(a: str, b: str, together: bool = True) -> Edit:
    """Say that two parts belong together and are not looked at, or that they are to be looked at again."""

    def apply(job: Job) -> Job:
        kept = tuple(w for w in job.vehicle.clearances.wanted if {w.a, w.b} != {a, b})
        new = (made(WantedGap, a=a, b=b, gap_mm=0.0, together=True),) if together else ()
        return set_clearances("", wanted=(*kept, *new)).apply(job)

    return Edit(f"{'Belong together' if together else 'Look again'}: {a}, {b}", apply)


def note_tried(tried: Tried) -> Edit:
    """Write down what was found at a posture of the cycle card; a posture tried before is written anew."""

    def same(other: Tried) -> bool:
        return (other.axle, {other.a, other.b}) == (tried.axle, {tried.a, tried.b}) and (
            abs(other.left_mm - tried.left_mm) + abs(other.right_mm - tried.right_mm) < 1.0
        )

    def apply(job: Job) -> Job:
        kept = tuple(t for t in job.vehicle.clearances.cycle if not same(t))
        return set_clearances("", cycle=(*kept, tried)).apply(job)

    return Edit(f"Tried {tried.a}, {tried.b}", apply)


def moved_form(form: AnyShape, dx: float, dy: float, dz: float) -> AnyShape:
    """A shape some mm farther ahead, left and up."""
    moved: AnyShape
    if isinstance(form, Block):
        moved = with_changes(form, ahead_mm=form.ahead_mm + dx, left_mm=form.left_mm + dy, under_mm=form.under_mm + dz)
    elif isinstance(form, Tunnel):
        moved = with_changes(
            form, ahead_mm=form.ahead_mm + dx, left_mm=form.left_mm + dy, front_mm=form.front_mm + dz,
            rear_mm=form.rear_mm + dz,
        )  # fmt: skip
    elif isinstance(form, Arch):
        moved = with_changes(form, ahead_mm=form.ahead_mm + dx, left_mm=form.left_mm + dy, up_mm=form.up_mm + dz)
    elif isinstance(form, Run):
        moved = with_changes(form, points=tuple(_moved(p, dx, dy, dz) for p in form.points))
    elif isinstance(form, Round | Ball):
        moved = with_changes(form, at=_moved(form.at, dx, dy, dz))
    elif isinstance(form, Plate):
        by = (dx, dy, dz)
        across, up, into = plane_axes(form.plane)
        rings = [tuple((h + by[across], v + by[up]) for h, v in ring) for ring in (form.corners, *form.holes)]
        moved = with_changes(form, corners=rings[0], holes=tuple(rings[1:]), start_mm=form.start_mm + by[into])
    else:
        moved = with_changes(form, corners=tuple((x + dx, y + dy, z + dz) for x, y, z in form.corners))
    return moved


def _moved(point: Point, dx: float, dy: float, dz: float) -> Point:
    return with_changes(point, x=point.x + dx, y=point.y + dy, z=point.z + dz)


def mirrored_form(form: AnyShape) -> AnyShape:
    """A shape on the other side of the car."""
    mirrored: AnyShape
    if isinstance(form, Block | Tunnel | Arch):
        mirrored = with_changes(form, left_mm=-form.left_mm)
    elif isinstance(form, Run):
        mirrored = with_changes(form, points=tuple(with_changes(p, y=-p.y) for p in form.points))
    elif isinstance(form, Round):
        at = with_changes(form.at, y=-form.at.y - (form.long_mm if form.toward == "left" else 0.0))
        mirrored = with_changes(form, at=at)
    elif isinstance(form, Ball):
        mirrored = with_changes(form, at=with_changes(form.at, y=-form.at.y))
    elif isinstance(form, Plate):
        mirrored = _mirrored_plate(form)
    else:
        faces = tuple((a, c, b) for a, b, c in form.faces)
        mirrored = with_changes(form, corners=tuple((x, -y, z) for x, y, z in form.corners), faces=faces)
    return mirrored


def _mirrored_plate(form: Plate) -> Plate:
    across, up, into = plane_axes(form.plane)
    if into == 1:
        return with_changes(form, start_mm=-form.start_mm - form.thick_mm)
    way = (-1.0 if across == 1 else 1.0, -1.0 if up == 1 else 1.0)
    rings = [tuple((way[0] * h, way[1] * v) for h, v in ring) for ring in (form.corners, *form.holes)]
    return with_changes(form, corners=rings[0], holes=tuple(rings[1:]))


def stretched_form(form: AnyShape, end: str, dx: float, dy: float, dz: float) -> AnyShape:
    """A shape with one of the places it is held by somewhere else: a corner stretches it, its middle moves all of it.

    Raises:
        InputError: it would be folded over.
    """
    stretched: AnyShape
    if isinstance(form, Block) and end in ("low", "high"):
        sign = 1.0 if end == "high" else -1.0
        sizes = {"long_mm": form.long_mm + sign * dx, "wide_mm": form.wide_mm + sign * dy,
                 "high_mm": form.high_mm + sign * dz}  # fmt: skip
        if min(sizes.values()) <= 0.0:
            raise InputError("Box", "would be folded over.", "Drag its corner less far, or type its sizes.")
        stretched = with_changes(
            form, **sizes, left_mm=form.left_mm + 0.5 * dy,
            ahead_mm=form.ahead_mm + (dx if end == "high" else 0.0),
            under_mm=form.under_mm + (0.0 if end == "high" else dz),
        )  # fmt: skip
    elif isinstance(form, Tunnel) and end == "front":
        if form.long_mm + dx <= 0.0:
            raise InputError("Tunnel", "would be folded over.", "Drag its end less far, or type its length.")
        stretched = with_changes(
            form, ahead_mm=form.ahead_mm + dx, long_mm=form.long_mm + dx, left_mm=form.left_mm + dy,
            front_mm=form.front_mm + dz,
        )  # fmt: skip
    elif isinstance(form, Tunnel):
        if form.long_mm - dx <= 0.0:
            raise InputError("Tunnel", "would be folded over.", "Drag its end less far, or type its length.")
        stretched = with_changes(form, long_mm=form.long_mm - dx, left_mm=form.left_mm + dy, rear_mm=form.rear_mm + dz)
    elif isinstance(form, Run) and end.startswith("bend "):
        k = int(end.removeprefix("bend ")) - 1
        points = tuple(_moved(p, dx, dy, dz) if i == k else p for i, p in enumerate(form.points))
        stretched = with_changes(form, points=points)
    elif isinstance(form, Plate) and end.startswith("corner "):
        k, by = int(end.removeprefix("corner ")) - 1, (dx, dy, dz)
        across, up, into = plane_axes(form.plane)
        corners = tuple((h + by[across], v + by[up]) if i == k else (h, v) for i, (h, v) in enumerate(form.corners))
        stretched = with_changes(form, corners=corners, start_mm=form.start_mm + by[into])
    else:
        stretched = moved_form(form, dx, dy, dz)
    return stretched
