"""Springs, shocks, stops, straps and bars put on an axle, changed and taken off; what the car carries."""

from typing import Any

from even_stance.errors import InputError
from even_stance.vehicle.edits.axles import set_axle
from even_stance.vehicle.edits.edit import Edit, made, with_axle, with_changes, with_member
from even_stance.vehicle.job import Job
from even_stance.vehicle.records import Record
from even_stance.vehicle.spots import Spot, twin_of
from even_stance.vehicle.springs import AnySpring, Cargo, Coil, CoilOver, Rocker

_BEFORE_BIND_MM = 7.0  # over a quarter inch (common practice, no source)


def set_springs(key: str, springs: tuple[AnySpring, ...], label: str) -> Edit:
    """Put another set of springs on an axle."""
    return set_axle(key, label, springs=springs)


def add_springs(key: str, springs: tuple[AnySpring, ...], label: str) -> Edit:
    """Put springs on an axle besides those it has; those of the same name make way."""

    def apply(job: Job) -> Job:
        axle = job.vehicle.axle(key)
        names = {s.name for s in springs}
        kept = tuple(s for s in axle.springs if s.name not in names)
        return with_axle(job, with_changes(axle, springs=(*kept, *springs)))

    return Edit(label, apply)


def take_springs_off(key: str, names: tuple[str, ...]) -> Edit:
    """Take springs off an axle."""

    def apply(job: Job) -> Job:
        axle = job.vehicle.axle(key)
        return with_axle(job, with_changes(axle, springs=tuple(s for s in axle.springs if s.name not in names)))

    return Edit(f"Take off {names[0]}" if names else "Take off", apply)


def pair_of(job: Job, key: str, name: str) -> tuple[str, ...]:
    """The names of a spring and of the like one on the other side; itself alone where there is none."""
    part = job.vehicle.axle(key).part(name)
    twin = twin_of(job, Spot(key, name, next(iter(part.mounts)))) if part.side != "center" else None
    return (name,) if twin is None or twin.member == name else (name, twin.member)


def change_spring(key: str, name: str, label: str, both: bool = True, inner: str = "", **changes: Any) -> Edit:
    """Change what a spring is, and the like one of the other side along with it.

    Args:
        key: the axle; name: the spring; label: the edit in words; both: whether the other side goes along.
        inner: the part of its record that is changed ("coil", "upper"), or "" for the spring itself.

    Raises (on apply):
        InputError: the record refuses; the message names the field.
    """

    def apply(job: Job) -> Job:
        names = pair_of(job, key, name) if both else (name,)
        axle = job.vehicle.axle(key)
        for each in names:
            part = axle.part(each)
            axle = with_member(axle, _changed(part, inner, changes))
        return with_axle(job, axle)

    return Edit(f"{name}: {label.lower()}", apply)


def _changed(part: Any, inner: str, changes: dict[str, Any]) -> Any:
    """A part with some fields changed, of its own or of a record in it; a coil that is not there yet is begun."""
    if not inner:
        return with_changes(part, **changes)
    record: Record | None = getattr(part, inner)
    if record is None:
        raise InputError(part.name, "has no such coil.", "Put one on first.")
    return with_changes(part, **{inner: with_changes(record, **changes)})


def two_coils(key: str, name: str, two: bool) -> Edit:
    """Make two coils with a crossover stop of the one of a coil-over, or one of two: as soft, as long, both sides.

    Raises (on apply):
        InputError: it is no coil-over.
    """

    def apply(job: Job) -> Job:
        axle = job.vehicle.axle(key)
        for each in pair_of(job, key, name):
            part = axle.part(each)
            if not isinstance(part, CoilOver):
                raise InputError(name, "is no coil-over.", "Only coil-overs take two coils on one another.")
            axle = with_member(axle, _split(part) if two else _joined(part))
        return with_axle(job, axle)

    return Edit(f"{name}: {'two coils' if two else 'one coil'}", apply)


def _split(part: CoilOver) -> CoilOver:
    """Two coils alike, each half as long and twice as stiff; the stop ends the upper one before it binds."""
    coil = part.coil
    half = {n: 0.5 * getattr(coil, n) for n in ("free_mm", "solid_mm", "sag_mm")}
    each = made(Coil, rate_n_mm=2.0 * coil.rate_n_mm, **half)
    stop = each.free_mm - each.sag_mm - each.solid_mm - _BEFORE_BIND_MM
    return with_changes(part, coil=each, upper=each, crossover_mm=max(stop, 1.0))


def _joined(part: CoilOver) -> CoilOver:
    """One coil that gives what both did together before their stop."""
    lower, upper = part.coil, part.upper
    if upper is None:
        return part
    both = {n: getattr(lower, n) + getattr(upper, n) for n in ("free_mm", "solid_mm", "sag_mm")}
    rate = lower.rate_n_mm * upper.rate_n_mm / (lower.rate_n_mm + upper.rate_n_mm)
    return with_changes(part, coil=made(Coil, rate_n_mm=rate, **both), upper=None, crossover_mm=None)


def turn_collar(key: str, name: str, turns: float, both: bool = True) -> Edit:
    """Turn the collar of a coil-over: + preloads, so that the coil has less room between its seats.

    Raises (on apply):
        InputError: it has no collar, or the collar is at its end.
    """

    def apply(job: Job) -> Job:
        axle = job.vehicle.axle(key)
        for each in pair_of(job, key, name) if both else (name,):
            part = axle.part(each)
            if not isinstance(part, CoilOver | Rocker) or not part.coils:
                raise InputError(name, "has no collar.", "Only coil-overs have one; change a free length instead.")
            axle = with_member(axle, with_changes(part, seats_mm=part.seats_mm + turns * part.pitch_mm))
        return with_axle(job, axle)

    return Edit(f"{name}: collar {abs(turns):g} turns {'up' if turns < 0 else 'down'}", apply)


def set_cargo(label: str, cargo: tuple[Cargo, ...]) -> Edit:
    """Say what the car carries."""
    return Edit(label, lambda job: with_changes(job, vehicle=with_changes(job.vehicle, cargo=cargo)))
