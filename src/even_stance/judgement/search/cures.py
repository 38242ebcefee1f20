"""What would make a tight gap wide enough, each tried on the car, with what it costs elsewhere."""

from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np

from even_stance.errors import StanceError
from even_stance.judgement.clearances import gap_words, wanted_of
from even_stance.judgement.search.moves import hole_moves
from even_stance.mechanics.vectors import Array
from even_stance.study.axlestates import steer_ends
from even_stance.study.clearances import Gap, study_axle_gaps
from even_stance.study.gapmaps import gap_map, pair_gaps, toward
from even_stance.study.hard import Hard
from even_stance.study.notch import notch_for
from even_stance.study.steerfigures import turner_of
from even_stance.units import System, format_length, length_unit
from even_stance.vehicle.car import Vehicle
from even_stance.vehicle.edits import (
    Edit,
    all_of,
    change_spring,
    change_steering,
    change_thing,
    move_by,
    moved_form,
    set_axle,
    set_members,
    shape_thing,
)
from even_stance.vehicle.job import Job
from even_stance.vehicle.members import Rod
from even_stance.vehicle.spots import Spot
from even_stance.vehicle.springs import BumpStop, Strap
from even_stance.vehicle.things import AnyShape, Block, Run, Thing, Tunnel

_MOST_MOVE_MM, _MOST_RAISE_MM = 120.0, 150.0
_STEP_MM = 1.5875
_NUMBERS = "moves the other numbers: see what else changed"
_LIMIT_STEPS, _TRIES = 25, 4


@dataclass(frozen=True, eq=False)
class Cure:
    """One way out.

    Attributes:
        kind: stop, steer, move, hole, tube, raise, route or notch.
        title: what to do; then: what the gap is after that; cost: what it costs elsewhere.
        edit: does it; None for what has a page of its own.
        gap_mm: the gap after it; enough: whether that is what is wanted.
        rank: what it asks for, low first.
    """

    kind: str
    title: str
    then: str
    cost: str
    edit: Edit | None
    gap_mm: float
    enough: bool
    rank: float


def cures(job: Job, gap: Gap) -> list[Cure]:
    """Ways to make a gap wide enough, those that do first, the cheapest of them first.

    Args:
        job: the job; gap: the pair.
    """
    found: list[Cure] = []
    for look in (_stop_travel, _stop_steer, _move_thing, _raise_floor, _notch, _smaller_tube, _holes, _move_bracket):
        try:
            found += look(job, gap)
        except StanceError:
            continue
    return sorted(found, key=lambda c: (not c.enough, c.rank, -c.gap_mm))


def gap_after(vehicle: Vehicle, gap: Gap) -> float:
    """The tightest gap of a pair on a changed car, mm; infinite where they are no longer near."""
    names = {gap.a.name, gap.b.name}

    def wants(a: Hard, b: Hard) -> bool:
        return {a.name, b.name} == names

    study = study_axle_gaps(vehicle, vehicle.axle(gap.axle), wants=wants)
    every = [g.gap_mm for g in (*study.gaps, *study.touching)]
    return min(every, default=np.inf)


def _made(job: Job, gap: Gap, kind: str, title: str, edit: Edit, cost: str, rank: float) -> Cure:
    """A cure tried on the car."""
    after = gap_after(edit.apply(job).vehicle, gap)
    return _cure(job, gap, kind, title, edit, cost, rank, after)


def _cure(job: Job, gap: Gap, kind: str, title: str, edit: Edit | None, cost: str, rank: float, after: float) -> Cure:
    wanted = wanted_of(job, gap)
    words = "far clear" if after > 1e6 else f"then {gap_words(after, job.units)}"
    return Cure(kind, title, words, cost, edit, after, after >= wanted - 0.1, rank)


def _length(mm: float, units: System) -> str:
    return f"{format_length(mm, units).removeprefix('~')} {length_unit(units)}"


def _up(mm: float) -> float:
    """A length rounded up to what a tape reads."""
    return float(np.ceil(mm / _STEP_MM - 1e-6) * _STEP_MM)


# --- stopping the travel or the steer


def _stop_travel(job: Job, gap: Gap) -> Iterator[Cure]:
    """The bump or the droop ended where the gap is still what is wanted."""
    if gap.other is not None or max(abs(gap.left_mm), abs(gap.right_mm)) < 5.0:
        return
    vehicle, wanted = job.vehicle, wanted_of(job, gap)
    axle = vehicle.axle(gap.axle)
    seen = gap_map(vehicle, gap, _LIMIT_STEPS)
    values = np.where(seen.allowed, np.nan_to_num(seen.gap, nan=np.inf), np.inf)
    for way, most, field in (("bump", axle.bump_mm, "bump_mm"), ("droop", axle.droop_mm, "droop_mm")):
        sign = 1.0 if way == "bump" else -1.0
        if max(sign * gap.left_mm, sign * gap.right_mm) < 3.0:
            continue
        limit = _last_clear(seen.travel * sign, values, wanted)
        if limit is None or limit < 12.0 or limit > most - 1.0:
            continue
        limit = float(np.floor(limit / _STEP_MM) * _STEP_MM)
        lost = most - limit
        ends = {"bump_mm": axle.bump_mm, "droop_mm": axle.droop_mm} | {field: limit}
        edits = [
            set_axle(axle.key, f"{way} ends sooner", bump_mm=ends["bump_mm"], droop_mm=ends["droop_mm"]),
            *_stops(job, gap, way, lost),
        ]
        words = "up" if way == "bump" else "down"
        title = f"Stop the {way} at {_length(limit, job.units)} {words}"
        yield _made(
            job, gap, "stop", title, all_of(title, edits), f"{_length(lost, job.units)} less {way}", 2.0 + lost / 50.0
        )


def _last_clear(travel: Array, values: Array, wanted: float) -> float | None:
    """The farthest that both wheels may go one way for a map to stay at what is wanted; None if nowhere."""
    order = np.argsort(travel)
    each, grid = travel[order], values[np.ix_(order, order)]
    best = None
    for k, limit in enumerate(each):
        if limit <= 0.0:
            continue
        if grid[: k + 1, : k + 1].min() < wanted:
            break
        best = float(limit)
    return best


def _stops(job: Job, gap: Gap, way: str, lost: float) -> Iterator[Edit]:
    """The bump stops or straps of the axle set so much sooner."""
    for part in job.vehicle.axle(gap.axle).springs:
        if way == "bump" and isinstance(part, BumpStop):
            yield change_spring(gap.axle, part.name, "Gap", both=False, gap_mm=max(part.gap_mm - lost, 0.5))
        elif way == "droop" and isinstance(part, Strap):
            yield change_spring(gap.axle, part.name, "Length", both=False, length_mm=max(part.length_mm - lost, 1.0))


def _stop_steer(job: Job, gap: Gap) -> Iterator[Cure]:
    """The steering stopped where the gap is still what is wanted."""
    axle = job.vehicle.axle(gap.axle)
    ends, turner = steer_ends(axle), turner_of(axle)
    if ends is None or turner is None or axle.steering is None or abs(gap.steer) < 1e-6:
        return
    wanted = wanted_of(job, gap)
    end = ends[1] if gap.steer > 0.0 else ends[0]
    shares = np.linspace(0.0, 1.0, 21)
    travels = [(gap.left_mm, gap.right_mm), (0.0, 0.0), (axle.bump_mm, axle.bump_mm), (-axle.droop_mm, -axle.droop_mm),
               (axle.bump_mm, -axle.droop_mm), (-axle.droop_mm, axle.bump_mm)]  # fmt: skip
    postures = np.array([(left, right, share * end) for share in shares for left, right in travels])
    found, allowed = pair_gaps(job.vehicle, axle, gap.a, gap.b, postures)
    least = np.where(allowed, np.nan_to_num(found, nan=np.inf), np.inf).reshape(len(shares), -1).min(axis=1)
    fine = np.flatnonzero(least >= wanted)
    if not fine.size or least[0] < wanted:
        return
    last = int(np.flatnonzero(np.append(least, -np.inf) < wanted)[0]) - 1
    state = turner.at(np.array([shares[last] * end]), np.array(axle.center), np.eye(3))
    stop = float(np.floor(np.abs(state.headings[0]).max()))
    now = max(axle.steering.stops_deg)
    if stop < 12.0 or stop >= now:
        return
    lost, right = now - stop, axle.steering.stop_right_deg
    title = f"Set the steering stops to {stop:.0f}°"
    yield _made(job, gap, "steer", title, change_steering(
        axle.key, "Stops", stop_deg=min(stop, axle.steering.stop_deg),
        stop_right_deg=None if right is None else min(stop, right)),
                f"{lost:.0f}° less lock, both ways", 2.5 + lost / 4.0)  # fmt: skip


# --- moving and cutting things


def _things_of(job: Job, gap: Gap) -> list[Thing]:
    return [t for name in gap.names for t in job.vehicle.things if t.name == name]


_AXES = ((0, "forward", "back"), (1, "left", "right"), (2, "up", "down"))


def _move_thing(job: Job, gap: Gap) -> Iterator[Cure]:
    """A thing moved along one of the car's axes, or its nearest bend."""
    for thing in _things_of(job, gap):
        way, short = toward(gap, thing.name), wanted_of(job, gap) - gap.gap_mm
        for axis, plus, minus in _AXES:
            if abs(way[axis]) < 0.45:
                continue
            sign, far = float(np.sign(way[axis])), short / abs(float(way[axis]))
            for _ in range(_TRIES):  # what is nearest changes as it moves: a little farther, as long as that helps
                far = _up(far)
                if far > _MOST_MOVE_MM:
                    break
                cure = _moved(job, gap, thing, axis, sign * far, plus if sign > 0.0 else minus)
                if cure.enough or cure.gap_mm <= gap.gap_mm:
                    break
                far += max(wanted_of(job, gap) - cure.gap_mm, _STEP_MM)
            if far <= _MOST_MOVE_MM and cure.enough:
                yield replace(cure, cost=_comes_near(job, cure.edit, gap, thing))


def _moved(job: Job, gap: Gap, thing: Thing, axis: int, far: float, words: str) -> Cure:
    """A thing moved along one axis by so much, or its nearest bends."""
    by = [0.0, 0.0, 0.0]
    by[axis] = far
    form: AnyShape
    if isinstance(thing.form, Run) and len(thing.form.points) > 2:
        form, what, rank = _bent(thing.form, gap, by), "Route", 1.5
    else:
        form, what, rank = moved_form(thing.form, by[0], by[1], by[2]), "Move", 3.0
    said = f"{_length(abs(far), job.units)} {words}"
    edit = change_thing(thing.name, f"{what.lower()} {said}", form=form)
    title = f"{what} {thing.name} {said}"
    return _made(job, gap, what.lower(), title, edit, "", rank + abs(far) / 60.0)


def _bent(form: Run, gap: Gap, by: list[float]) -> Run:
    """A run with the three bends nearest to the closest place moved."""
    near = gap.first if gap.a.thing else gap.second
    away = [float(np.linalg.norm(np.array(p.xyz) - near)) for p in form.points]
    picked = set(np.argsort(away)[:3].tolist())
    points = tuple(
        p.model_copy(update={"x": p.x + by[0], "y": p.y + by[1], "z": p.z + by[2]}) if i in picked else p
        for i, p in enumerate(form.points)
    )
    return form.model_copy(update={"points": points})


def _comes_near(job: Job, edit: Edit | None, gap: Gap, thing: Thing) -> str:
    """What else a moved thing comes too near to that it was clear of before."""
    assert edit is not None
    vehicle = edit.apply(job).vehicle

    def wants(a: Hard, b: Hard) -> bool:
        return thing.name in (a.name, b.name)

    axle = job.vehicle.axle(gap.axle)
    before = {frozenset(g.names): g for g in study_axle_gaps(job.vehicle, axle, fine=False, wants=wants).gaps}
    for other in study_axle_gaps(vehicle, vehicle.axle(gap.axle), fine=False, wants=wants).gaps:
        was = before.get(frozenset(other.names))
        if other.short_mm > 0.0 and set(other.names) != set(gap.names) and (was is None or was.short_mm <= 0.0):
            name = other.b.name if other.a.name == thing.name else other.a.name
            return f"but {gap_words(other.gap_mm, job.units)} to {name}"
    return "nothing else comes near"


def _raise_floor(job: Job, gap: Gap) -> Iterator[Cure]:
    """A floor or tunnel raised at each end by as little as does."""
    for thing in _things_of(job, gap):
        form = thing.form
        if not (isinstance(form, Tunnel) or (isinstance(form, Block) and thing.kind in ("floor", "seat", "tunnel"))):
            continue
        if toward(gap, thing.name)[2] < 0.3:
            continue
        raised = _least_raise(job, gap, thing)
        if raised is None:
            continue
        front, rear = raised
        ends = [f"{_length(v, job.units)} at the {end}" for v, end in ((front, "front"), (rear, "rear")) if v > 0.0]
        title = f"Raise {thing.name} {' and '.join(ends)}"
        yield _made(job, gap, "raise", title, _raise(thing, front, rear), "floor to be cut and closed again", 4.0)


def _raise(thing: Thing, front: float, rear: float) -> Edit:
    form = thing.form
    if isinstance(form, Tunnel):
        return shape_thing(thing.name, "Raised", front_mm=form.front_mm + front, rear_mm=form.rear_mm + rear)
    assert isinstance(form, Block)
    return shape_thing(thing.name, "Raised", under_mm=form.under_mm + front, rise_mm=form.rise_mm + rear - front)


def _least_raise(job: Job, gap: Gap, thing: Thing) -> tuple[float, float] | None:
    """How little a floor has to come up at its front and at its rear."""
    wanted = wanted_of(job, gap)

    def fits(front: float, rear: float) -> bool:
        return gap_after(_raise(thing, front, rear).apply(job).vehicle, gap) >= wanted - 0.1

    both = _up(wanted - gap.gap_mm)
    while both <= _MOST_RAISE_MM and not fits(both, both):
        both += 4 * _STEP_MM
    if both > _MOST_RAISE_MM:
        return None
    ends = [both, both]
    for end in (0, 1):
        low, high = 0.0, both
        while high - low > 1.01 * _STEP_MM:
            middle = _up(0.5 * (low + high))
            if middle >= high:
                break
            tried = [middle if i == end else ends[i] for i in (0, 1)]
            low, high = (low, middle) if fits(tried[0], tried[1]) else (middle, high)
        tried = [0.0 if i == end else ends[i] for i in (0, 1)]
        ends[end] = 0.0 if fits(tried[0], tried[1]) else high
    return ends[0], ends[1]


def _notch(job: Job, gap: Gap) -> Iterator[Cure]:
    """The part cut out, where it can be."""
    for thing in _things_of(job, gap):
        if thing.kind in ("tank", "line", "hose") or thing.on != "chassis":
            continue
        notch = notch_for(job.vehicle, gap, thing.name, wanted_of(job, gap))
        wrong = notch.words
        deep, left = _length(notch.deep_mm, job.units), _length(notch.left_mm, job.units)
        cost = wrong or f"{deep} deep, {left} left beside it"
        yield _cure(job, gap, "notch", f"Notch {thing.name}: template", None, cost, 1.0 if not wrong else 8.0,
                    notch.gap_mm if not wrong else gap.gap_mm)  # fmt: skip


# --- links


def _smaller_tube(job: Job, gap: Gap) -> Iterator[Cure]:
    """A link of smaller tube."""
    for part in (gap.a, gap.b):
        if part.family != "links" or part.part not in _rods(job, part.axle):
            continue
        member = job.vehicle.axle(part.axle).member(part.part)
        less = 2.0 * (wanted_of(job, gap) - gap.gap_mm)
        tube = float(np.floor((member.tube_mm - less) / 6.35) * 6.35)
        if tube < 25.0 or tube >= member.tube_mm:
            continue
        title = f"{part.part}: {_length(tube, job.units)} tube"
        edit = set_members(part.axle, (part.part,), f"tube {_length(tube, job.units)}", tube_mm=tube)
        yield _made(job, gap, "tube", title, edit, "a weaker link: look at its strength", 5.0)


def _holes(job: Job, gap: Gap) -> Iterator[Cure]:
    """Another hole of a bracket of the axle, the two that help most."""
    if not {p.family for p in (gap.a, gap.b)} & {"links", "springs", "axle", "shaft", "tires"}:
        return
    tried = []
    for hole in hole_moves(job, job.vehicle.axle(gap.axle)):
        after = gap_after(hole.edit.apply(job).vehicle, gap)
        if after > gap.gap_mm + 0.5:
            tried.append((after, hole))
    for after, hole in sorted(tried, key=lambda t: -t[0])[:2]:
        yield _cure(job, gap, "hole", hole.words, hole.edit, _NUMBERS, 1.2, after)


def _move_bracket(job: Job, gap: Gap) -> Iterator[Cure]:
    """The bracket of a link's nearer end moved along one of the car's axes, both sides alike."""
    for part in (gap.a, gap.b):
        if part.family != "links" or not part.axle or part.part not in _rods(job, part.axle):
            continue
        member = job.vehicle.axle(part.axle).member(part.part)
        ends = {end: np.array(mount.at.xyz) for end, mount in member.mounts.items()}
        near = gap.first if part is gap.a else gap.second
        end = min(ends, key=lambda e: float(np.linalg.norm(ends[e] - near)))
        other = next(e for e in ends if e != end)
        run = ends[end] - ends[other]
        share = float(np.clip((near - ends[other]) @ run / (run @ run), 0.3, 1.0))
        way, short = toward(gap, part.name), wanted_of(job, gap) - gap.gap_mm
        axis = int(np.abs(way).argmax())
        far = _up(short / abs(float(way[axis])) / share)
        if far > _MOST_MOVE_MM:
            continue
        by = [0.0, 0.0, 0.0]
        by[axis] = float(np.copysign(far, way[axis]))
        words = (("forward", "back"), ("left", "right"), ("up", "down"))[axis][0 if by[axis] > 0.0 else 1]
        spot = Spot(part.axle, part.part, end)
        title = f"Move {spot.words} {_length(far, job.units)} {words}"
        edit = move_by(spot, by[0], by[1], by[2])
        yield _made(job, gap, "bracket", title, edit, _NUMBERS, 3.5 + far / 40.0)


def _rods(job: Job, axle: str) -> set[str]:
    return {m.name for m in job.vehicle.axle(axle).members if isinstance(m, Rod)}
