"""What comes near to what: the tightest gap of every pair of parts over all travel and steer that the stops allow.

Each axle is taken through its own travel of both wheels and its steer, the rest of the car at ride height; parts of two
axles that come near to each other through both axles' travel.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from itertools import combinations

import numpy as np
from numpy.typing import NDArray

from even_stance.errors import StanceError
from even_stance.mechanics.closest import EXACT_MM, Closest, Least, Moving, boxes_apart
from even_stance.mechanics.cores import Core, rows
from even_stance.mechanics.distance import Gaps, gaps
from even_stance.mechanics.vectors import Array
from even_stance.pace import give_way
from even_stance.study.axlestates import (
    AxleStates,
    closest_places,
    gap_sure,
    grid_states,
    only_touch,
    posture_states,
    steer_ends,
)
from even_stance.study.hard import Hard
from even_stance.study.hardparts import hard_parts, never_meet, put_together, wanted_between
from even_stance.vehicle.car import Axle, Vehicle

FINE, COARSE = (31, 9), (7, 3)
_ROUGH_MM = 2.0  # of a first look
FAR_MM = 150.0  # pairs that never come nearer than this are no matter
_TURNS, _LEAST_STEP = 12, 0.01
Progress = Callable[[float], object]
Stopped = Callable[[], bool]
Wants = Callable[[Hard, Hard], bool]


@dataclass(frozen=True, eq=False)
class Gap:
    """The tightest gap of two parts.

    Attributes:
        a, b: the parts; gap_mm: how far apart they are there, negative: they overlap by so much; sure_mm: its +/-.
        wanted_mm: what is wanted.
        axle: whose posture it is; left_mm, right_mm: travel of its wheels; steer: its input; other: of parts of two
            axles, the other one with its travel and steer.
        first, second: the closest places there, mm, shape (3,)
        ride_mm: the gap at ride height; free_mm: the least gap without stops and straps, where that is less.
        tail_up: whether it is with the gearbox tail as far up as was asked for besides.
    """

    a: Hard
    b: Hard
    gap_mm: float
    sure_mm: float
    wanted_mm: float
    axle: str
    left_mm: float
    right_mm: float
    steer: float
    first: Array
    second: Array
    ride_mm: float
    free_mm: float | None = None
    other: tuple[str, float, float, float] | None = None
    tail_up: bool = False

    @property
    def names(self) -> tuple[str, str]:
        """The names of both."""
        return self.a.name, self.b.name

    @property
    def short_mm(self) -> float:
        """How much it is short of what is wanted; nil or less: wide enough."""
        return self.wanted_mm - self.gap_mm


@dataclass(frozen=True, eq=False)
class GapStudy:
    """What comes near to what.

    Attributes:
        gaps: the pairs that come nearer than FAR_MM, tightest first.
        touching: pairs that touch at ride height by no more than their places are unsure of: bolted, or taped a little
            large. What overlaps by more is among the gaps.
        parts, pairs, postures: how many were looked at; whole: False for a first, coarse look, or one that was stopped.
        silent: sentences on what could not be looked at.
    """

    gaps: tuple[Gap, ...]
    touching: tuple[Gap, ...]
    parts: int
    pairs: int
    postures: int
    whole: bool
    silent: tuple[str, ...] = ()

    def of(self, a: str, b: str) -> Gap | None:
        """The gap of two parts by their names."""
        return next((g for g in (*self.gaps, *self.touching) if set(g.names) == {a, b}), None)


@dataclass(frozen=True, eq=False)
class Pairing:
    """The pairs of parts looked at, each with its convex pieces.

    Attributes:
        couples: the two parts of each group; pairs: shapes of each pair, indices into cores; group: of each pair.
        cores: every piece with the body it hangs on, and whether it is seen from the axle: directions of
            two parts that both move with it hardly turn there.
    """

    couples: tuple[tuple[Hard, Hard], ...]
    cores: tuple[tuple[Core, str, bool], ...]
    pairs: tuple[tuple[int, int], ...]
    group: tuple[int, ...]


def _paired(couples: Sequence[tuple[Hard, Hard]], on_axle: Callable[[str], bool]) -> Pairing:
    cores: list[tuple[Core, str, bool]] = []
    known: dict[tuple[int, str, bool], int] = {}
    pairs: list[tuple[int, int]] = []
    group: list[int] = []
    kept: list[tuple[Hard, Hard]] = []

    def number(core: Core, body: str, on_axle: bool) -> int:
        key = (id(core), body, on_axle)
        if key not in known:
            known[key] = len(cores)
            cores.append((core, body, on_axle))
        return known[key]

    for a, b in couples:
        give_way()
        one, two = a.clear_of(b), b.clear_of(a)
        if not one or not two:
            continue
        on = on_axle(a.body) and on_axle(b.body)
        own = [(number(p, a.body, on), number(q, b.body, on)) for p in one for q in two]
        pairs += own
        group += [len(kept)] * len(own)
        kept.append((a, b))
    return Pairing(tuple(kept), tuple(cores), tuple(pairs), tuple(group))


def couples_of(parts: Sequence[Hard], moves: Callable[[str], bool]) -> list[tuple[Hard, Hard]]:
    """Pairs of parts that move against each other as an axle moves."""
    return [
        (a, b) for a, b in combinations(parts, 2) if (moves(a.body) or moves(b.body)) and not never_meet(a, b)
    ]  # fmt: skip


def _standing(axle: str, parts: Sequence[Hard]) -> list[Hard]:
    """Parts looked at with one axle: its own, and those of no axle; what stands on another one comes with both."""
    return [p for p in parts if p.axle in ("", axle)]


@dataclass(frozen=True, eq=False)
class _Found:
    """The tightest places of one search, before they are made exact."""

    states: AxleStates
    pairing: Pairing
    pairs: list[tuple[int, int]]
    group: list[int]
    best: dict[int, Least]
    free: dict[int, Least]
    ride: dict[int, float]
    touching: dict[int, Least]


def _look(
    vehicle: Vehicle, axle: Axle, size: tuple[int, int], progress: Progress, stopped: Stopped, wants: Wants
) -> _Found:
    """Search one axle's grid."""
    states = grid_states(vehicle, axle, *size)
    couples = [
        c for c in couples_of(_standing(axle.key, hard_parts(vehicle)), states.moves)
        if wants(*c) and not put_together(vehicle, *c)
    ]  # fmt: skip
    pairing = _paired(couples, states.rides)
    shapes = [states.shape(*core) for core in pairing.cores]
    if not shapes:
        return _Found(states, pairing, [], [], {}, {}, {}, {})
    low, high = (np.array(v) for v in zip(*(s.swept() for s in shapes), strict=True))
    apart = boxes_apart(low, high)
    near = np.array([apart[p] < FAR_MM for p in pairing.pairs], dtype=bool)
    pairs = [p for p, n in zip(pairing.pairs, near, strict=True) if n]
    group = [g for g, n in zip(pairing.group, near, strict=True) if n]
    search = Closest(shapes, pairs, group, states.grid, FAR_MM, EXACT_MM if size == FINE else _ROUGH_MM)
    home = (int(np.abs(states.travel).sum(axis=1).argmin()), int(np.abs(states.steer).argmin()))
    search.measure([(p, home) for p in range(len(pairs))])
    ride = search.run(_only(states.grid, home))
    hit = {g for g, least in ride.items() if only_touch(states, pairing.couples[g], least)}
    search.leave(hit)
    allowed, reached = states.allowed[:, None], states.reached[:, None]
    best = search.run(allowed, progress, stopped)
    free = search.run(reached, stopped=stopped) if not states.allowed[states.reached].all() else {}
    return _Found(states, pairing, pairs, group, best, free, {g: v.gap_mm for g, v in ride.items()},
                  {g: ride[g] for g in hit})  # fmt: skip


def _only(grid: tuple[int, int], home: tuple[int, int]) -> NDArray[np.bool_]:
    mask = np.zeros(grid, dtype=bool)
    mask[home] = True
    return mask


def _gap(vehicle: Vehicle, found: _Found, g: int, least: Least, posture: Array | None = None,
         states: AxleStates | None = None) -> Gap:  # fmt: skip
    """What was found of a couple, in words of the car."""
    a, b = found.pairing.couples[g]
    states = states or found.states
    t, s = least.state
    left, right, steer = (*states.travel[t], states.steer[s]) if posture is None else posture
    places = closest_places(states, (a, b), least)
    sure, wanted = gap_sure(states, (a, b), least, places), wanted_between(vehicle, a, b)
    return Gap(
        a, b, least.gap_mm, sure, wanted, states.axle.key, float(left), float(right), float(steer), places[0],
        places[1], found.ride.get(g, least.gap_mm),
    )  # fmt: skip


def study_axle_gaps(
    vehicle: Vehicle, axle: Axle, fine: bool = True, progress: Progress = lambda _: None,
    stopped: Stopped = lambda: False, wants: Wants = lambda _a, _b: True,
) -> GapStudy:  # fmt: skip
    """The tightest gap of every pair of parts that one axle moves against each other.

    Args:
        vehicle: the vehicle; axle: the axle.
        fine: on the fine grid and then between its postures, to 0.1 mm; else on a coarse grid, for a first answer.
        progress: told how far it is, 0 to 1; stopped: asked whether to end with what there is.
        wants: which couples of parts are looked at.
    """
    try:
        found = _look(vehicle, axle, FINE if fine else COARSE, lambda share: progress(0.7 * share), stopped, wants)
    except StanceError as error:
        return GapStudy((), (), 0, 0, 0, True, (str(error),))
    near = [g for g, least in found.best.items() if least.whole and least.gap_mm < FAR_MM]
    made = {g: _gap(vehicle, found, g, found.best[g]) for g in near}
    if fine and not stopped():
        made |= _refined(vehicle, axle, found, made, stopped)
    for g, least in found.free.items():
        if g in made and least.whole and least.gap_mm < made[g].gap_mm - 0.5:
            made[g] = replace(made[g], free_mm=least.gap_mm)
    touching = tuple(_gap(vehicle, found, g, least) for g, least in found.touching.items())
    grid = found.states.grid
    return GapStudy(
        tuple(sorted(made.values(), key=lambda gap: gap.gap_mm)), touching, len(hard_parts(vehicle)),
        len(found.pairing.couples), grid[0] * grid[1], fine and not stopped(),
    )  # fmt: skip


def _refined(vehicle: Vehicle, axle: Axle, found: _Found, made: dict[int, Gap], stopped: Stopped) -> dict[int, Gap]:
    """The tightest gaps made exact between the postures of the grid, all of them together.

    From the best posture of the grid to the best of its neighbors, which come nearer as there is no better one.
    """
    wanting = list(made)
    if not wanting:
        return {}
    ends = steer_ends(axle)
    low = np.array([-axle.droop_mm, -axle.droop_mm, 0.0 if ends is None else ends[0]])
    high = np.array([axle.bump_mm, axle.bump_mm, 0.0 if ends is None else ends[1]])
    step = (high - low) / (np.array([FINE[0], FINE[0], FINE[1]]) - 1.0)
    at = np.array([(made[g].left_mm, made[g].right_mm, made[g].steer) for g in wanting])
    best = np.array([made[g].gap_mm for g in wanting])
    steers = [any(part.body in found.states.turned for part in found.pairing.couples[g]) for g in wanting]
    size, gone = np.ones(len(wanting)), np.zeros(len(wanting), dtype=bool)
    for _ in range(_TURNS):
        if stopped():
            return {}
        tries = [(i, w) for i in np.flatnonzero(size > _LEAST_STEP) for w in _WAYS if steers[i] or not w[2]]
        if not tries:
            break
        owner = np.array([i for i, _ in tries])
        postures = np.clip(at[owner] + size[owner, None] * step * np.array([w for _, w in tries]), low, high)
        states = posture_states(vehicle, axle, postures)
        jobs = [(found.pairs[found.best[wanting[i]].pair], k) for k, i in enumerate(owner)]
        worth = np.where(states.allowed, _measured(found, states, jobs).gap, np.inf)
        for i in np.unique(owner):
            own = np.flatnonzero(owner == i)
            k = own[int(worth[own].argmin())]
            if worth[k] < best[i] - 1e-4:
                best[i], at[i], gone[i] = worth[k], postures[k], True
            else:
                size[i] *= 0.35
    return _settled(vehicle, axle, found, [g for g, moved in zip(wanting, gone, strict=True) if moved], at[gone])


_WAYS = [(a - 1.0, b - 1.0, c - 1.0) for a, b, c in np.ndindex(3, 3, 3) if (a, b, c) != (1, 1, 1)]


def _settled(vehicle: Vehicle, axle: Axle, found: _Found, wanting: list[int], at: Array) -> dict[int, Gap]:
    """The gaps of couples at the postures found for them, over all their pieces."""
    if not wanting:
        return {}
    states = posture_states(vehicle, axle, at)
    jobs = [(pair, k) for k, g in enumerate(wanting) for pair, own in zip(found.pairs, found.group, strict=True)
            if own == g]  # fmt: skip
    measured, made = _measured(found, states, jobs), {}
    owner = np.array([k for _, k in jobs])
    for k, g in enumerate(wanting):
        own = np.flatnonzero(owner == k)
        j = own[int(measured.gap[own].argmin())]
        least = Least(float(measured.gap[j]), (k, 0), 0, measured.way[j], measured.first[j], measured.second[j])
        made[g] = _gap(vehicle, found, g, least, at[k], states)
    return made


def couple_gaps(states: AxleStates, couples: Sequence[tuple[Hard, Hard]], reach_mm: float = FAR_MM) -> Array:
    """The gaps of couples at every travel of some states that do not turn beyond them, all measured together.

    Args:
        states: an axle at single postures; couples: the parts; reach_mm: how near they must come to be of interest.

    Returns:
        Gaps, mm, shape (couples, postures); infinite where the boxes of both are farther apart than that anyway.
    """
    pairing, count = _paired(couples, states.rides), len(states.travel)
    found = np.full((len(couples), count), np.inf)
    if not pairing.pairs:
        return found
    shapes = [states.shape(*core) for core in pairing.cores]
    low, high = (np.array(v) for v in zip(*(s.swept() for s in shapes), strict=True))
    apart = boxes_apart(low, high)
    jobs = [(pair, k, g) for pair, g in zip(pairing.pairs, pairing.group, strict=True) if apart[pair] < reach_mm
            for k in range(count)]  # fmt: skip
    if not jobs:
        return found
    placed, cores = [], [(pairing.cores[a][0], pairing.cores[b][0]) for (a, b), _, _ in jobs]
    for end in (0, 1):
        own = [shapes[pair[end]].at((k, 0)) for pair, k, _ in jobs]
        placed.append(rows([c[end] for c in cores], [p for p, _ in own], [x for _, x in own]))
    measured = gaps(placed[0], placed[1], cores).gap
    at = {couple: i for i, couple in enumerate(couples)}
    for (_, k, g), gap in zip(jobs, measured, strict=True):
        i = at[pairing.couples[g]]
        found[i, k] = min(found[i, k], gap)
    return found


def measured_again(vehicle: Vehicle, known: Sequence[Gap]) -> list[Gap]:
    """Gaps that are known, measured anew on a changed car at the postures where they were tightest.

    What is no longer on the car drops out. The true worst posture may have moved: this is for while something is on its
    way.
    """
    parts = {p.name: p for p in hard_parts(vehicle)}
    found: list[Gap] = []
    for axle in vehicle.axles:
        mine = [g for g in known if g.axle == axle.key and g.other is None and set(g.names) <= parts.keys()]
        if not mine:
            continue
        try:
            states = posture_states(vehicle, axle, np.array([(g.left_mm, g.right_mm, g.steer) for g in mine]))
        except StanceError:
            continue
        couples = [(parts[g.a.name], parts[g.b.name]) for g in mine]
        pairing = _paired(couples, states.rides)
        if len(pairing.couples) < len(couples):
            continue
        jobs = [(pair, g) for pair, g in zip(pairing.pairs, pairing.group, strict=True)]
        gone = _Found(states, pairing, [], [], {}, {}, {}, {})
        measured = _measured(gone, states, jobs)
        owner = np.array([g for _, g in jobs])
        for k, gap in enumerate(mine):
            own = np.flatnonzero(owner == k)
            j = own[int(measured.gap[own].argmin())]
            a, b = couples[k]
            places = [measured.first[j], measured.second[j]]
            if states.rides(a.body) and states.rides(b.body):
                places = [states.unseen(p, (k, 0)) for p in places]
            found.append(replace(gap, a=a, b=b, gap_mm=float(measured.gap[j]), first=places[0], second=places[1],
                                 wanted_mm=wanted_between(vehicle, a, b)))  # fmt: skip
    return found


def _measured(found: _Found, states: AxleStates, jobs: Sequence[tuple[tuple[int, int], int]]) -> Gaps:
    """Pairs of pieces measured at single postures: the pieces, and which posture of the states."""
    shapes: dict[int, Moving] = {}
    for pair, _ in jobs:
        for i in pair:
            if i not in shapes:
                shapes[i] = states.shape(*found.pairing.cores[i])
    cores = [(found.pairing.cores[a][0], found.pairing.cores[b][0]) for (a, b), _ in jobs]
    placed = []
    for end in (0, 1):
        own = [shapes[pair[end]].at((k, 0)) for pair, k in jobs]
        placed.append(rows([c[end] for c in cores], [p for p, _ in own], [x for _, x in own]))
    return gaps(placed[0], placed[1], cores)
