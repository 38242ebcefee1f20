"""Ways to make a driveshaft turn evenly: tail, pinion, adjusters, alone or together, and what they break."""

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from even_stance.errors import InputError, StanceError
from even_stance.judgement.changes import Change, Judged, judge_car, what_changed
from even_stance.mechanics.roots import crossing
from even_stance.mechanics.vectors import Array
from even_stance.study.driveline import has_shaft
from even_stance.study.evenness import side_off_deg
from even_stance.study.figures import role_pair
from even_stance.study.model import layout_of
from even_stance.study.powertrain import REACH_MM
from even_stance.study.threads import turn_links
from even_stance.units import format_length, length_unit
from even_stance.vehicle.car import Axle
from even_stance.vehicle.edits import Edit, raise_tail, turn_pinion
from even_stance.vehicle.job import Job

_SEEN_DEG = 0.05  # nobody reads an angle finder better


def rest_low_deg(axle: Axle) -> tuple[float, float]:
    """How much too low the pinion's nose is set at rest, and how far from that is as good, degrees.

    Common practice, no source: single joints are set alike; behind a double-cardan joint the pinion points at the case
    a degree or two low, so that it points straight at it under power.
    """
    shaft = axle.shaft
    alike = shaft is None or "single" == shaft.output_joint == shaft.pinion_joint
    return (0.0, _SEEN_DEG) if alike else (1.0, 1.0)


@dataclass(frozen=True)
class Mover:
    """Something that may be moved to make a shaft turn evenly, from where it is now.

    Attributes:
        key: "tail" (mm up), "pinion" (degrees nose up) or "turns" (of the adjusters of the upper links, + longer).
        low, high: how far; scale: moves of this size count alike; step: it moves in steps of this, 0 for any.
        edit: makes a move of this size; words: says it.
    """

    key: str
    low: float
    high: float
    scale: float
    step: float
    edit: Callable[[float], Edit]
    words: Callable[[float], str]


@dataclass(frozen=True)
class Way:
    """One way to equal angles.

    Attributes:
        words: what to do; edit: what does it on the car.
        residual_deg: what is left over then; worse: what else got worse by it.
    """

    words: str
    edit: Edit
    residual_deg: float
    worse: tuple[Change, ...]


def movers_of(job: Job, axle: Axle) -> list[Mover]:
    """Everything that may be moved on this car, as far as anyone moves it."""
    found = []
    power = job.vehicle.powertrain
    if power is not None:
        now = power.tail_up_mm

        def tail_words(mm: float) -> str:
            much = f"{format_length(abs(mm), job.units).removeprefix('~')} {length_unit(job.units)}"
            return f"tail {much} {'up' if mm > 0 else 'down'}"

        found.append(
            Mover("tail", -REACH_MM - now, REACH_MM - now, 10.0, 0.0, lambda mm: raise_tail(now + mm), tail_words)
        )

    def pinion_words(deg: float) -> str:
        return f"pinion {abs(deg):.1f}° nose {'up' if deg > 0 else 'down'}, on its tubes or by wedges"

    found.append(Mover("pinion", -15.0, 15.0, 1.0, 0.0, lambda deg: turn_pinion(axle.key, deg), pinion_words))
    uppers = _adjusters(axle)
    if uppers:
        threads = job.measuring.threads
        per_turn = threads.pitch_mm * (2.0 if threads.both_ends else 1.0)

        def turned(turns: float) -> Edit:
            return turn_links(axle.key, uppers, turns * per_turn, turn_words(turns))

        def turn_words(turns: float) -> str:
            many = f"{abs(turns):g} turn{'s' if abs(turns) != 1 else ''} {'longer' if turns > 0 else 'shorter'}"
            return f"upper link{'s' if len(uppers) > 1 else ''} {many}"

        found.append(Mover("turns", -12.0, 12.0, 2.0, 0.5 if threads.half_turns else 1.0, turned, turn_words))
    return found


def _adjusters(axle: Axle) -> tuple[str, ...]:
    """The upper links, whose adjusters turn the pinion."""
    pair = role_pair(axle, "upper")
    if pair is not None:
        rods = layout_of(axle).rods
        return tuple(rods[i].name for i in pair)
    return tuple(m.name for m in axle.members if m.kind == "rod" and m.role == "upper")


def ways_to_even(job: Job, key: str) -> list[Way]:
    """Every single change that makes the shaft of an axle turn evenly, the one that leaves least over first."""
    axle = job.vehicle.axle(key)
    if not has_shaft(axle):
        return []
    now = abs(_off(job, axle, [], np.zeros(0)))
    if now <= rest_low_deg(axle)[1]:
        return []
    before, found = judge_car(job), []
    for mover in movers_of(job, axle):
        moves = _found(job, axle, [mover])
        if moves is None or abs(_off(job, axle, [mover], moves)) > 0.5 * now:
            continue
        way = _way(job, axle, [mover], moves, before)
        found += [] if way is None else [way]
    return sorted(found, key=lambda w: (round(w.residual_deg, 1), len(w.worse)))


def even_within(job: Job, key: str, limits: dict[str, tuple[float, float]]) -> Way:
    """The least change, of all that may move within limits, that makes the shaft of an axle turn evenly.

    Moves count by their size in steps of a hand's work (10 mm, a degree, two turns); least squares of those.

    Args:
        job: the job; key: the axle.
        limits: how far each may be moved from where it is: "tail" mm up, "pinion" degrees nose up, "turns" longer.

    Raises:
        InputError: nothing may move, limits leave no room, or it cannot be done within them: then says how near.
    """
    axle = job.vehicle.axle(key)
    if not has_shaft(axle):
        raise InputError("Even angles", "output and pinion yoke are not measured.", "Measure both first.")
    movers = [replace(m, low=limits[m.key][0], high=limits[m.key][1]) for m in movers_of(job, axle) if m.key in limits]
    if not movers:
        raise InputError("Even angles", "nothing may move.", "Tick the tail, the pinion or the upper links.")
    for mover in movers:
        if mover.low >= mover.high:
            raise InputError(mover.key.capitalize(), "its limits leave it no room.", "Type a lower and a higher limit.")
    moves = _found(job, axle, movers)
    if moves is None:
        raise InputError("Even angles", "the axle cannot follow so far.", "Allow less.")
    off = _off(job, axle, movers, moves)
    coarsest = 0.5 if {m.key for m in movers} == {"turns"} else _SEEN_DEG
    if abs(off) > coarsest:
        raise InputError(
            "Even angles", f"within these limits {abs(off):.1f}° stay off in side view.", "Allow more, or another one."
        )
    way = _way(job, axle, movers, moves, judge_car(job))
    if way is None:
        raise InputError("Even angles", "they are even as they are.", "Nothing has to move.")
    return way


def _apply(job: Job, movers: list[Mover], moves: Array) -> Job:
    for mover, move in zip(movers, moves, strict=True):
        if move:
            job = mover.edit(float(move)).apply(job)
    return job


def _off(job: Job, axle: Axle, movers: list[Mover], moves: Array) -> float:
    """What is off in side view after moves, degrees."""
    after = _apply(job, movers, moves)
    return side_off_deg(after.vehicle, after.vehicle.axle(axle.key)) - rest_low_deg(axle)[0]


def _found(job: Job, axle: Axle, movers: list[Mover]) -> Array | None:
    """The least moves that leave nothing off, or as little as limits allow; None where the axle cannot follow."""
    try:
        moves = _least(job, axle, movers, np.zeros(len(movers)))
        for i, mover in enumerate(movers):
            if mover.step:  # adjusters turn in whole or half turns: the others make up for the rest
                turns = float(np.clip(round(moves[i] / mover.step) * mover.step, mover.low, mover.high))
                fixed = [replace(m, low=turns, high=turns) if j == i else m for j, m in enumerate(movers)]
                moves = _least(job, axle, fixed, np.where(np.arange(len(movers)) == i, turns, moves))
    except StanceError:
        return None
    return moves


def _least(job: Job, axle: Axle, movers: list[Mover], moves: Array) -> Array:
    """Newton steps on what is off; each the least one in steps of the movers' scales, kept within their limits."""
    low, high, scale = (np.array([getattr(m, k) for m in movers]) for k in ("low", "high", "scale"))
    moves = np.clip(moves, low, high)
    for _ in range(8):
        off = _off(job, axle, movers, moves)
        steps = np.diag(0.02 * scale)
        slope = np.array([_off(job, axle, movers, moves + step) - off for step in steps]) / (0.02 * scale)
        after = _shared(slope, float(slope @ moves) - off, low, high, scale)
        done = np.all(np.abs(after - moves) < 1e-6 * scale)
        moves = after
        if done:
            break
    return moves


def _shared(slope: Array, wanted: float, low: Array, high: Array, scale: Array) -> Array:
    """The least moves (by their squares over scales) within limits whose effects add up to what is wanted.

    Each move is its share of a common multiplier until it meets its limit (the optimum's condition); where all of
    them at their limits are not enough, those.
    """

    def moves(multiplier: float) -> Array:
        return np.clip(multiplier * slope * scale**2, low, high)

    def gap(multiplier: float) -> float:
        return float(slope @ moves(multiplier)) - wanted

    used = np.abs(slope) > 1e-9
    if not used.any():
        return np.clip(np.zeros_like(slope), low, high)
    far = float(np.max(np.maximum(np.abs(low), np.abs(high))[used] / (np.abs(slope) * scale**2)[used])) + 1.0
    if gap(-far) >= 0.0:
        return moves(-far)
    if gap(far) <= 0.0:
        return moves(far)
    return moves(crossing(gap, -far, far, 1e-12))


def _way(job: Job, axle: Axle, movers: list[Mover], moves: Array, before: Judged) -> Way | None:
    """The moves as one edit, judged; None where nothing moves or the car cannot be judged after."""
    words = [m.words(float(v)) for m, v in zip(movers, moves, strict=True) if abs(v) >= 1e-3 * m.scale]
    if not words:
        return None
    said = ", ".join(words)
    said = said[0].upper() + said[1:]
    edit = Edit(said, lambda now: _apply(now, movers, moves))
    try:
        after = judge_car(edit.apply(job))
    except StanceError:
        return None
    left = next(
        (v.figure.value for v in after.verdicts.get(axle.key, []) if v.figure.key == "shaft_residual_deg"), None
    )
    if left is None:
        return None
    worse = tuple(c for c in what_changed(before, after) if c.way == "worse")
    return Way(said, edit, left, worse)
