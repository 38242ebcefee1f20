"""Solve for: the layout nearest to the present one that gives the wanted numbers, within limits for each point."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from even_stance.errors import InputError
from even_stance.judgement.search.limits import Freedom, Limits, limits_of, within_rail
from even_stance.judgement.search.wishes import Wish, try_layouts, wish_of
from even_stance.judgement.wording import SEEN_MM, bracket_words, move_words
from even_stance.mechanics.vectors import Array
from even_stance.study.model import layout_of, mount_points
from even_stance.vehicle.car import Axle
from even_stance.vehicle.edits import Edit, all_of, move_by
from even_stance.vehicle.job import Job
from even_stance.vehicle.spots import Spot, mount_of, twin_of

_NEARNESS = 1e-3
_REACHED = 0.1  # of a step
_FAR = 1e6


@dataclass(frozen=True)
class Solved:
    """What came out.

    Attributes:
        reached: whether all targets are met; values: what it comes to, by key, and in words; moves: in words, one line
            a bracket.
        edit: makes it so; words: what was found, and where it is stuck when the targets cannot be had.
    """

    reached: bool
    values: dict[str, float]
    values_words: str
    moves: tuple[str, ...]
    edit: Edit
    words: str


def solve_for(
    job: Job,
    key: str,
    targets: dict[str, float],
    freedoms: list[Freedom],
    stopped: Callable[[], bool] = lambda: False,
    clear_of_frame: bool = True,
) -> Solved:
    """Find the nearest layout that has the wanted numbers at ride height (and over travel, for those that are).

    Bounded least squares over the free coordinates, with a faint pull toward the present layout; the slopes come from
    batched variants. From several starts when the first does not get there.

    Args:
        job: the job.
        key: the axle.
        targets: what each thing asked for should be, by key (judgement/search/wishes.py): the most it may be, where
            that is what is asked.
        freedoms: what may move, and how far.
        stopped: asked between steps; True ends with the best so far.
        clear_of_frame: keep brackets clear of the frame rails, those on the axle also at full bump.

    Raises:
        InputError: nothing asked, nothing free, or a figure this axle does not have.
    """
    from scipy.optimize import least_squares  # noqa: PLC0415 - large: loaded beside the window, when first asked

    axle = job.vehicle.axle(key)
    wishes = _checked(job, axle, targets, freedoms)
    problem = _Problem(job, axle, wishes, list(targets.values()), freedoms)
    limits = limits_of(job, freedoms, clear_of_frame)
    bounds = np.array([m.low for m in limits]), np.array([m.high for m in limits])
    rng = np.random.default_rng(1)
    best: tuple[float, Array] | None = None
    for start in range(4):
        x0 = np.zeros(len(freedoms)) if start == 0 else rng.uniform(*bounds)
        x0 = np.clip(x0, bounds[0] + 1e-9, bounds[1] - 1e-9)
        found = least_squares(problem.residual, x0, jac=problem.slope, bounds=bounds, xtol=1e-12, ftol=1e-14)
        off = float(np.abs(problem.misses(found.x)).max())
        if best is None or off < best[0] - 1e-9:
            best = (off, found.x)
        if off < _REACHED or stopped():
            break
    assert best is not None
    return _told(job, problem, best[1], best[0] < _REACHED, limits)


def _checked(job: Job, axle: Axle, targets: dict[str, float], freedoms: list[Freedom]) -> list[Wish]:
    """What is asked for; refuses what cannot be solved for."""
    if not targets:
        raise InputError("Solve", "no number is asked for.", "Tick at least one and type what it should be.")
    wishes = [wish_of(job.vehicle, axle, key) for key in targets]
    if not freedoms:
        raise InputError("Solve", "no point may move.", "Tick at least one bracket and how it may move.")
    for f in freedoms:
        if not f.low_mm < f.high_mm:
            raise InputError(f.spot.words, "its limits leave it no room.", "Type a lower and a higher limit.")
    return wishes


class _Problem:
    """The figures of an axle as a function of the free coordinates."""

    def __init__(self, job: Job, axle: Axle, wishes: list[Wish], wanted: list[float], freedoms: list[Freedom]) -> None:
        self.vehicle, self.axle, self.wishes, self.freedoms = job.vehicle, axle, wishes, freedoms
        self._layout, self._base = layout_of(axle), mount_points(axle)
        places = {Spot(axle.key, p.member.name, p.end): i for i, p in enumerate(self._layout.mounts)}
        moves = np.zeros((len(freedoms), *self._base.shape))
        for n, f in enumerate(freedoms):
            side = 1.0 if self._base[places[f.spot], 1] >= 0 else -1.0
            moves[n, places[f.spot], f.axis] = side if f.axis == 1 else 1.0
            twin = twin_of(job, f.spot)
            if twin is not None:
                moves[n, places[twin], f.axis] = -side if f.axis == 1 else 1.0
        self._moves = moves
        self.wanted = np.array(wanted)
        self._at_most = np.array([w.at_most for w in wishes])
        self._scale = np.array([w.step for w in wishes])

    def points(self, x: Array) -> Array:
        """All mounts at free coordinates (..., f), mm, shape (..., m, 3)."""
        moved: Array = self._base + np.tensordot(x, self._moves, axes=1)
        return moved

    def figures(self, x: Array) -> Array:
        """The figures asked for, shape (variants, targets), for coordinates (variants, f)."""
        tried = try_layouts(self.vehicle, self.axle, self.points(x), self.wishes)
        found = np.stack([w.read(tried) for w in self.wishes], axis=1)
        return np.nan_to_num(found, nan=_FAR, posinf=_FAR, neginf=-_FAR)

    def misses(self, x: Array) -> Array:
        """How far off the targets, in steps, shape (targets,)."""
        return self._missed(self.figures(x[None])[0])

    def _missed(self, figures: Array) -> Array:
        missed: Array = (figures - self.wanted) / self._scale
        return np.where(self._at_most, np.maximum(missed, 0.0), missed)

    def residual(self, x: Array) -> Array:
        """What is made least: the misses, and a faint pull to stay near."""
        return np.concatenate((self.misses(x), _NEARNESS * x / 100.0))

    def slope(self, x: Array) -> Array:
        """Derivative of the residual, from one batch of variants."""
        n, step = len(x), 0.05
        varied = np.concatenate((x + step * np.eye(n), x - step * np.eye(n)))
        missed = self._missed(self.figures(varied))
        slope = (missed[:n] - missed[n:]).T / (2 * step)
        return np.concatenate((slope, _NEARNESS / 100.0 * np.eye(n)))


def _told(job: Job, problem: _Problem, x: Array, reached: bool, limits: list[Limits]) -> Solved:
    """What came of it, in words."""
    values = {w.key: v for w, v in zip(problem.wishes, problem.figures(x[None])[0].tolist(), strict=True)}
    by_spot: dict[Spot, list[float]] = {}
    for f, mm in zip(problem.freedoms, x.tolist(), strict=True):
        by_spot.setdefault(f.spot, [0.0, 0.0, 0.0])[f.axis] += mm
    comes_to = ", ".join(f"{w.title.lower()} {w.reading(values[w.key], job.units)}" for w in problem.wishes)
    lines, edits = [], []
    for spot, (ahead, out, up) in by_spot.items():
        side = 1.0 if mount_of(job, spot).at.y >= 0 else -1.0
        edits.append(move_by(spot, ahead, out * side, up))
        if max(abs(ahead), abs(out), abs(up)) >= SEEN_MM:
            lines.append(f"{bracket_words(spot, twin_of(job, spot))} {move_words(ahead, out, up, job.units)}")

    words = "Every number asked for is reached." if reached else _stuck(job, problem, x, values, limits)
    odd = [bracket_words(s, twin_of(job, s)).lower() for s in by_spot if within_rail(job, s)]
    if odd:
        words += f" Drawn within the frame rail, so not kept clear of it: {', '.join(odd)}."
    return Solved(reached, values, comes_to, tuple(lines), all_of("Solve for wanted numbers", edits), words)


def _stuck(job: Job, problem: _Problem, x: Array, values: dict[str, float], limits: list[Limits]) -> str:
    """Why it could come no nearer, in words."""
    units = job.units
    short = [
        f"{w.title.lower()} comes to {w.reading(values[w.key], units)}, {w.reading(wanted, units)} "
        f"{'at most ' if w.at_most else ''}was asked"
        for w, wanted, missed in zip(problem.wishes, problem.wanted.tolist(), problem.misses(x), strict=True)
        if abs(missed) >= _REACHED
    ]
    held = []
    for f, mm, limit in zip(problem.freedoms, x.tolist(), limits, strict=True):
        up = mm >= limit.high - 0.1
        if up or mm <= limit.low + 0.1:
            way = (("ahead", "outward", "up") if up else ("back", "inward", "down"))[f.axis]
            ends = limit.high_why if up else limit.low_why
            held.append(f"{bracket_words(f.spot, twin_of(job, f.spot)).lower()} {way}{f' ({ends})' if ends else ''}")
    why = f" At their limits: {', '.join(held)}." if held else " The points that may move cannot do all of it at once."
    return f"Not to be had: {'; '.join(short)}.{why}"
