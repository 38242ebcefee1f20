"""The hole finder: every combination of bracket holes tried, ranked by the user's bands and weights."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from itertools import islice, product
from math import prod

import numpy as np
from numpy.typing import NDArray

from even_stance.errors import InputError, StanceError
from even_stance.judgement.search.moves import pairs
from even_stance.judgement.search.score import misses, score, wishes_for
from even_stance.judgement.search.wishes import Wish, try_layouts, wishes_of
from even_stance.judgement.verdicts import TITLES, format_value
from even_stance.judgement.wording import bracket_words
from even_stance.mechanics.vectors import Array
from even_stance.study.answers import posture_keys
from even_stance.study.figures import study_axle, triangulation_pairs
from even_stance.study.model import layout_of, mount_points
from even_stance.study.sensitivity import triangulation
from even_stance.units import System
from even_stance.vehicle.car import Axle
from even_stance.vehicle.edits import Edit, choose_hole
from even_stance.vehicle.job import Job
from even_stance.vehicle.spots import Spot, mount_of

MOST = 2_000_000
_CHUNK = 2500
_KEPT = 400
Progress = Callable[[float], object]
Stopped = Callable[[], bool]


@dataclass(frozen=True)
class Bracket:
    """A bracket with holes, with its twin on the other side.

    Attributes:
        spot, twin: its mounts; holes: how many; now: the one in use, counted from 0; words: what it is called.
    """

    spot: Spot
    twin: Spot | None
    holes: int
    now: int
    words: str


@dataclass(frozen=True)
class AxleTries:
    """All combinations of one axle.

    Attributes:
        key: the axle; brackets: those with holes; holes: chosen hole of each, shape (combinations, brackets)
        values: figures at ride height, and what was asked for besides, by key, shape (combinations,)
        scores: the smaller the better; asked: what was asked for besides; met: which combinations are in every band.
        complete: False when the search was stopped before all were tried.
    """

    key: str
    brackets: tuple[Bracket, ...]
    holes: NDArray[np.int64]
    values: dict[str, Array]
    scores: Array
    complete: bool
    asked: tuple[Wish, ...]
    met: NDArray[np.bool_]

    def title(self, key: str) -> str:
        """What a number is called."""
        return next((w.title for w in self.asked if w.key == key), None) or TITLES[key]

    def reading(self, key: str, value: float, system: System) -> str:
        """A number as it is read, with its unit."""
        asked = next((w for w in self.asked if w.key == key), None)
        return format_value(key, value, system) if asked is None else asked.reading(value, system)


@dataclass(frozen=True)
class Combination:
    """One choice of holes on all axles.

    Attributes:
        score: the smaller the better; picks: for each axle, the row of its tries.
        whole_score: with travel and articulation counted, None until the second pass has been there.
    """

    score: float
    picks: tuple[int, ...]
    whole_score: float | None = None


@dataclass(frozen=True)
class HoleSearch:
    """What the finder found: the tries of each axle, and the best combinations of both, best first."""

    tries: tuple[AxleTries, ...]
    best: tuple[Combination, ...]
    count: int
    complete: bool

    def words(self, pick: Combination) -> str:
        """The holes that differ from those in use, in words."""
        parts = []
        for axle, row in zip(self.tries, pick.picks, strict=True):
            for bracket, hole in zip(axle.brackets, axle.holes[row].tolist(), strict=True):
                if hole != bracket.now:
                    parts.append(f"{axle.key} {bracket.words.lower()} hole {hole + 1} of {bracket.holes}")
        return ", ".join(parts) or "as it is now"

    def met_words(self, job: Job) -> str:
        """How many combinations are in every band; where none is, what the best of them misses and by how much."""
        met = prod(int(t.met.sum()) for t in self.tries)
        if met:
            return f"{met:,} of {self.count:,} combinations {'is' if met == 1 else 'are'} in every band you set."
        if not self.best:
            return "None of them holds the axle."
        off = []
        for tries, row in zip(self.tries, self.best[0].picks, strict=True):
            values = {k: v[[row]] for k, v in tries.values.items()}
            for key, miss in misses(job, tries.key, values).items():
                if miss[0] > 0:
                    much = tries.reading(key, float(miss[0]), job.units)
                    off.append(f"{tries.key} {tries.title(key).lower()} by {much}")
        return f"None of {self.count:,} combinations is in all of your bands. The nearest misses {', '.join(off)}."

    def short_words(self, pick: Combination) -> str:
        """The same in few words, for a table: “lower frame ends 2, upper frame ends 3”."""
        several = sum(bool(t.brackets) for t in self.tries) > 1
        parts = [
            f"{axle.key + ' ' if several else ''}{bracket.words.lower()} {hole + 1}"
            for axle, row in zip(self.tries, pick.picks, strict=True)
            for bracket, hole in zip(axle.brackets, axle.holes[row].tolist(), strict=True)
            if hole != bracket.now
        ]
        return ", ".join(parts) or "as it is now"

    def edit(self, pick: Combination) -> Edit:
        """Bolt everything into these holes."""
        holes = [
            (bracket.spot, hole)
            for axle, row in zip(self.tries, pick.picks, strict=True)
            for bracket, hole in zip(axle.brackets, axle.holes[row].tolist(), strict=True)
            if hole != bracket.now
        ]

        def apply(job: Job) -> Job:
            for spot, hole in holes:
                job = choose_hole(spot, hole).apply(job)
            return job

        return Edit(f"Holes: {self.words(pick)}", apply)


def brackets_of(job: Job, axle: Axle) -> tuple[Bracket, ...]:
    """The brackets of an axle that have more than one hole."""
    found = []
    for spot, twin in pairs(job, axle):
        mount = mount_of(job, spot)
        if mount.hole is not None and len(mount.holes) > 1:
            found.append(Bracket(spot, twin, len(mount.holes), mount.hole, bracket_words(spot, twin)))
    return tuple(found)


def try_axle(
    job: Job, axle: Axle, progress: Progress = lambda _: None, stopped: Stopped = lambda: False
) -> AxleTries:  # fmt: skip
    """Every combination of an axle's holes at ride height, in batches.

    Raises:
        InputError: more combinations than can be tried.
        LayoutError: the members do not hold the axle.
    """
    brackets = brackets_of(job, axle)
    count = prod(b.holes for b in brackets)
    if count > MOST:
        raise InputError(
            "Hole finder", f"{count:,} combinations on the {axle.key} axle are too many.",
            "Give some brackets a single place.",
        )  # fmt: skip
    every = product(*(range(b.holes) for b in brackets))
    holes, values, done = [], [], 0
    known = wishes_of(job.vehicle, axle)
    asked = tuple(known[what] for what in wishes_for(job, axle.key) if what in known)
    while done < count and not (done and stopped()):
        picks = list(islice(every, _CHUNK))
        # An axle without holes has one way to stand: a row of nothing.
        chunk = np.array(picks, dtype=np.int64).reshape(len(picks), len(brackets))
        holes.append(chunk)
        values.append(_studied(job, axle, brackets, chunk, asked))
        done += len(chunk)
        if brackets:
            progress(done / count)
    joined = {k: np.concatenate([v[k] for v in values]) for k in values[0]}
    off = misses(job, axle.key, joined).values()
    met = np.all([o <= 0 for o in off], axis=0) if off else np.ones(done, dtype=bool)
    return AxleTries(
        axle.key, brackets, np.concatenate(holes), joined, score(job, axle.key, joined), done == count, asked, met
    )


def _studied(
    job: Job, axle: Axle, brackets: tuple[Bracket, ...], holes: NDArray[np.int64], asked: tuple[Wish, ...]
) -> dict[str, Array]:
    """The numbers at ride height of a block of hole combinations, and what is asked besides, (combinations,) each."""
    layout = layout_of(axle)
    places = {Spot(axle.key, p.member.name, p.end): i for i, p in enumerate(layout.mounts)}
    points = np.broadcast_to(mount_points(axle), (len(holes), len(places), 3)).copy()
    for j, bracket in enumerate(brackets):
        for spot in (bracket.spot, bracket.twin):
            if spot is None:
                continue
            drilled = np.array([h.xyz for h in mount_of(job, spot).holes]).reshape(-1, 3)
            # A twin with fewer holes stays where it is when its partner goes beyond them.
            reach = holes[:, j] < len(drilled)
            points[reach, places[spot]] = drilled[holes[reach, j]]
    tried = try_layouts(job.vehicle, axle, points, asked)
    there = tried.answers.values
    values = {k: there[k][:, 0] for k in posture_keys(job.vehicle) if k in there}
    spread = triangulation_pairs(axle)
    if spread is not None:
        values["triangulation_deg"] = triangulation(layout, points, spread)
    return values | {w.key: w.read(tried) for w in asked}


def find_holes(job: Job, progress: Progress = lambda _: None, stopped: Stopped = lambda: False) -> HoleSearch:
    """Every combination of holes over all axles with links, ranked at ride height.

    The axles do not move each other: the score of a combination is the sum of its axles', so all combinations are
    ranked though each axle is solved only by itself.

    Args:
        job: the job.
        progress: told how far it has come, 0 to 1.
        stopped: asked between batches; True ends the search with what was tried so far.

    Raises:
        InputError: no bracket has holes to choose from, or too many combinations.
    """
    axles = [a for a in job.vehicle.axles if a.members]
    if not any(brackets_of(job, a) for a in axles):
        raise InputError(
            "Hole finder", "no bracket has more than one hole.", "Give brackets holes with “Bracket…” on the floor."
        )
    tries = []
    for n, axle in enumerate(axles):
        tries.append(try_axle(job, axle, lambda p, n=n: progress((n + p) / len(axles)), stopped))  # type: ignore[misc]
    best = sorted(_combined(tries), key=lambda c: c.score)[:_KEPT]
    count = prod(len(t.scores) for t in tries)
    return HoleSearch(tuple(tries), tuple(best), count, all(t.complete for t in tries))


def _combined(tries: list[AxleTries]) -> Iterator[Combination]:
    """The best of each axle with the best of the others; none of the very best can be missed by that."""
    orders = [np.argsort(t.scores, kind="stable")[:_KEPT].tolist() for t in tries]
    for picks in product(*orders):
        total = float(sum(t.scores[i] for t, i in zip(tries, picks, strict=True)))
        if np.isfinite(total):
            yield Combination(total, picks)


def second_pass(
    job: Job, search: HoleSearch, count: int = 24, progress: Progress = lambda _: None,
    stopped: Stopped = lambda: False,
) -> HoleSearch:  # fmt: skip
    """The best combinations again with travel and articulation counted, and ranked anew by it."""
    studied: dict[tuple[str, int], float] = {}
    found = []
    for n, pick in enumerate(search.best[:count]):
        if stopped():
            break
        whole = 0.0
        for axle, row in zip(search.tries, pick.picks, strict=True):
            if (axle.key, row) not in studied:
                studied[axle.key, row] = _whole_score(search.edit(pick).apply(job), axle.key)
            whole += studied[axle.key, row]
        found.append(Combination(pick.score, pick.picks, whole))
        progress((n + 1) / count)
    found.sort(key=lambda c: c.whole_score if c.whole_score is not None else np.inf)
    rest = search.best[len(found) :]
    return HoleSearch(search.tries, (*found, *rest), search.count, search.complete)


def _whole_score(job: Job, key: str) -> float:
    """The score of an axle with everything over its travel; one that locks up gets a hundred more."""
    try:
        study = study_axle(job.vehicle, job.vehicle.axle(key), 0.0, 0.0, {})
    except StanceError:
        return float("inf")
    values = {f.key: np.array(f.value) for f in study.figures}
    locked = study.travel.sweep.ok.all() and study.travel.cross.ok.all()
    return float(score(job, key, values)) + (0.0 if locked else 100.0)
