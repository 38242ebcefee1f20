"""The cheap changes a person can make to springs: collars, rates, stops, straps, bars, and mounts moved a little."""

from collections.abc import Iterator
from dataclasses import replace

from even_stance.judgement.search.moves import MOVE, Move, as_it_is
from even_stance.judgement.springs import plain_name, rate_words
from even_stance.judgement.wording import move_words
from even_stance.study.springstops import fits, stops_of
from even_stance.units import MM_PER_INCH, format_length, length_unit
from even_stance.vehicle.car import Axle
from even_stance.vehicle.edits import Edit, all_of, change_spring, choose_hole, move_by, pair_of, turn_collar
from even_stance.vehicle.job import Job
from even_stance.vehicle.spots import Spot, holes_of, point_of
from even_stance.vehicle.springs import AnySpring, BumpStop, CoilOver, CoilSpring, Rocker, Strap, SwayBar

COLLAR, HOLE, STOP, COIL, BAR = 1.0, 1.0, 1.5, 2.5, 3.0
_TURNS = (-8.0, -4.0, -2.0, -1.0, 1.0, 2.0, 4.0, 8.0)
_COUNTS = (-4, -2, -1, 1, 2, 4)


def spring_moves(job: Job, axle: Axle) -> list[Move]:
    """Every cheap change of an axle's springs, both sides alike; none without any."""
    base, _, none = as_it_is(axle)
    return [Move(words, edit, cost, base, none) for words, edit, cost in _all(job, axle)]


def _all(job: Job, axle: Axle) -> Iterator[tuple[str, Edit, float]]:
    """Words, edit and cost of every change."""
    key, seen = axle.key, set[str]()
    for part in axle.springs:
        if part.name in seen:
            continue
        seen |= set(pair_of(job, key, part.name))
        name = plain_name(part.name)
        yield from _of_part(job, key, part, name)
        yield from _mounts(job, key, part)
    run = stops_of(job.vehicle, axle, contacts=False)
    for fit in () if run is None else fits(run, axle):
        if fit.gap_mm is not None:
            mm = _round(fit.gap_mm, job)
            words = f"{plain_name(fit.name)} with a gap of {_length(mm, job)}"
            yield words, change_spring(key, fit.name, "Gap", gap_mm=mm), STOP
        elif fit.length_mm:
            mm = _round(fit.length_mm, job)
            words = f"{plain_name(fit.name)} {_length(mm, job)} long"
            yield words, change_spring(key, fit.name, "Length", length_mm=mm), STOP


def _of_part(job: Job, key: str, part: AnySpring, name: str) -> Iterator[tuple[str, Edit, float]]:
    """What can be changed of one spring itself."""
    if isinstance(part, CoilOver | Rocker) and part.coils:
        for turns in _TURNS:
            way = "up" if turns > 0.0 else "down"
            words = f"{name}: collars {abs(turns):g} turns {way}"
            yield words, turn_collar(key, part.name, turns), COLLAR + abs(turns) / 20
    single = getattr(part, "upper", None) is None
    if isinstance(part, CoilOver | CoilSpring | Rocker) and part.coil is not None and single:
        yield from _coils(job, key, part, name)
    if isinstance(part, CoilOver) and part.upper is not None and part.crossover_mm is not None:
        for count in (1, 2, 4, 8):
            stop = part.crossover_mm - count * _step(job)
            if stop > 1.0:
                words = f"{name}: crossover stop {_length(count * _step(job), job)} lower"
                yield words, change_spring(key, part.name, "Crossover stop", crossover_mm=stop), COLLAR + 0.1 * count
    if isinstance(part, BumpStop | Strap):
        yield from _ends(job, key, part, name)
    if isinstance(part, SwayBar):
        yield from _bar(job, key, part, name)


def _coils(job: Job, key: str, part: CoilOver | CoilSpring | Rocker, name: str) -> Iterator[tuple[str, Edit, float]]:
    """Other coils that push as much at ride height: as much longer or shorter as their rate squeezes less or more."""
    coil = part.coil
    assert coil is not None
    room = room_mm(part)
    for share in (0.7, 0.8, 0.9, 1.1, 1.2, 1.35):
        rate = _rate(coil.rate_n_mm * share, job)
        squeeze = coil.free_mm - coil.sag_mm - room
        free = max(room + coil.sag_mm + squeeze * coil.rate_n_mm / rate, coil.solid_mm + coil.sag_mm + 1.0)
        edit = change_spring(key, part.name, "Coil", inner="coil", rate_n_mm=rate, free_mm=free)
        words = f"{name}: coils of {rate_words(rate, job.units)}, {_length(free, job)} free"
        yield words, edit, COIL + abs(share - 1.0)


def _ends(job: Job, key: str, part: BumpStop | Strap, name: str) -> Iterator[tuple[str, Edit, float]]:
    """Taller and lower stops, longer and shorter straps."""
    for count in _COUNTS:
        if isinstance(part, Strap):
            long = part.length_mm + 4 * count * _step(job)
            edit = change_spring(key, part.name, "Length", length_mm=long)
            yield f"{name}: {_length(long, job)} long", edit, STOP + 0.1 * abs(count)
            continue
        gap = part.gap_mm + 2 * count * _step(job)
        if gap >= 0.0:
            edit = change_spring(key, part.name, "Gap", gap_mm=gap)
            yield f"{name}: gap {_length(gap, job)}", edit, STOP + 0.1 * abs(count)


def _bar(job: Job, key: str, part: SwayBar, name: str) -> Iterator[tuple[str, Edit, float]]:
    """Thicker and thinner bars, longer and shorter arms."""
    for count in _COUNTS:
        thick = part.bar_mm + count * _step(job)
        if thick > part.inside_mm + 1.0:
            edit = change_spring(key, part.name, "Bar", bar_mm=thick, arm_mm=max(part.arm_mm, thick))
            yield f"{name}: bar {_length(thick, job)} thick", edit, BAR + 0.1 * abs(count)
    for share in (0.8, 0.9, 1.15, 1.3):
        words = f"{name}: arms {abs(round(100.0 * (share - 1.0)))} % {'longer' if share > 1.0 else 'shorter'}"
        yield words, _arms(key, part, share), BAR + abs(share - 1.0)


def _arms(key: str, part: SwayBar, share: float) -> Edit:
    """The arms of a bar made longer or shorter, their links going along."""
    edits = []
    for side in ("left", "right"):
        one, tip = (part.mounts[f"{end}_{side}"].at for end in ("bearing", "arm"))
        dx, dz = ((share - 1.0) * (getattr(tip, n) - getattr(one, n)) for n in ("x", "z"))
        edits += [
            move_by(Spot(key, part.name, f"{end}_{side}"), dx, 0.0, dz, both_sides=False) for end in ("arm", "drop")
        ]
    return replace(all_of(f"{part.name}: arms", edits), merge=edits[0].merge)


def _mounts(job: Job, key: str, part: AnySpring) -> Iterator[tuple[str, Edit, float]]:
    """Its mounts in other holes, or moved a little; both sides alike."""
    if isinstance(part, SwayBar | Rocker | BumpStop):
        return
    for end in part.mounts:
        spot = Spot(key, part.name, end)
        what = f"{plain_name(part.name)}, {part.WORDS[end]}"
        holes, used = holes_of(job, spot)
        for hole in range(len(holes)):
            if hole != used:
                yield f"{what}: hole {hole + 1} of {len(holes)}", choose_hole(spot, hole), HOLE
        at = point_of(job, spot)
        for count in _COUNTS:
            for dx, dy, dz in ((0.0, 1.0, 0.0), (0.0, 0.0, 1.0)):
                by = 4.0 * count * _step(job)
                out = by if at.y >= 0.0 else -by
                moved = move_by(spot, dx * by, dy * out, dz * by)
                words = f"{what} {move_words(0.0, dy * out, dz * by, job.units, at.y)}"
                yield words, moved, MOVE + 0.5 * abs(count)


def room_mm(part: CoilOver | CoilSpring | Rocker) -> float:
    """How much room the coil has between its seats at ride height, mm."""
    ends = ("low", "top") if isinstance(part, Rocker) else ("top", "bottom")
    a, b = (part.mounts[end].at.xyz for end in ends)
    return float(sum((p - q) ** 2 for p, q in zip(a, b, strict=True)) ** 0.5) - part.seats_mm


def _step(job: Job) -> float:
    return MM_PER_INCH / 8.0 if job.units == "us" else 3.0


def _round(mm: float, job: Job) -> float:
    """To what a tape shows."""
    step = MM_PER_INCH / 8.0 if job.units == "us" else 1.0
    return step * round(mm / step)


def _rate(n_mm: float, job: Job) -> float:
    """To a step that coils are sold in: 5 lb/in or 1 N/mm (common practice, no source)."""
    step = 5.0 * 0.17512683 if job.units == "us" else 1.0
    return max(step * round(n_mm / step), step)


def _length(mm: float, job: Job) -> str:
    return f"{format_length(mm, job.units).removeprefix('~')} {length_unit(job.units)}"
