"""Solve for: the layout nearest to the present one that gives the wanted numbers, within limits for each point."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from even_stance.errors import InputError
from even_stance.judgement.search.limits import Freedom, Limits, limits_of, within_rail
from even_stance.judgement.standards import STANDARDS
from even_stance.judgement.verdicts import TITLES, format_value
from even_stance.judgement.wording import SEEN_MM, bracket_words, move_words
from even_stance.mechanics.vectors import Array
from even_stance.study.answers import study_postures
from even_stance.study.figures import WORST, triangulation_pairs
from even_stance.study.model import layout_of, linkage_from, mount_points
from even_stance.study.sensitivity import triangulation
from even_stance.vehicle.car import Axle, Vehicle
from even_stance.vehicle.edits import Edit, move_by
from even_stance.vehicle.job import Job
from even_stance.vehicle.spots import Spot, mount_of, twin_of

# What counts as one step off a target, by the kind of figure: percent, mm, degrees.
_SCALES = {"pct": 5.0, "mm": 10.0, "deg": 0.5}
SOLVABLE = tuple(key for key, standard in STANDARDS.items() if standard.solvable)
_NEARNESS = 1e-3
_REACHED = 0.1  # of a step


@dataclass(frozen=True)
class Solved:
    """What came out.

    Attributes:
        reached: whether all targets are met; values: the figures it comes to; moves: in words, one line a bracket.
        edit: makes it so; words: what was found, and where it is stuck when the targets cannot be had.
    """

    reached: bool
    values: dict[str, float]
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
        targets: wanted value of each figure.
        freedoms: what may move, and how far.
        stopped: asked between steps; True ends with the best so far.
        clear_of_frame: keep brackets clear of the frame rails, those on the axle also at full bump.

    Raises:
        InputError: nothing asked, nothing free, or a figure this axle does not have.
    """
    from scipy.optimize import least_squares  # noqa: PLC0415 - large: loaded beside the window, when first asked

    axle = job.vehicle.axle(key)
    _check(job, axle, targets, freedoms)
    problem = _Problem(job.vehicle, axle, targets, freedoms, job)
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


def _check(job: Job, axle: Axle, targets: dict[str, float], freedoms: list[Freedom]) -> None:
    """Refuse what cannot be solved for."""
    if not targets:
        raise InputError("Solve", "no number is asked for.", "Tick at least one and type what it should be.")
    if not freedoms:
        raise InputError("Solve", "no point may move.", "Tick at least one bracket and how it may move.")
    answers = study_postures(job.vehicle, axle, np.zeros(1), np.zeros(1))
    for name in targets:
        known = name in answers.values or name in WORST
        if not known and not (name == "triangulation_deg" and triangulation_pairs(axle) is not None):
            raise InputError("Solve", f"this axle has no {TITLES.get(name, name).lower()}.", "Untick it.")
    for f in freedoms:
        if not f.low_mm < f.high_mm:
            raise InputError(f.spot.words, "its limits leave it no room.", "Type a lower and a higher limit.")


class _Problem:
    """The figures of an axle as a function of the free coordinates."""

    def __init__(
        self, vehicle: Vehicle, axle: Axle, targets: dict[str, float], freedoms: list[Freedom], job: Job
    ) -> None:
        self.vehicle, self.axle, self.targets, self.freedoms = vehicle, axle, targets, freedoms
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
        self._travel = np.array([0.0, axle.bump_mm, -axle.droop_mm])
        self._wanted = np.array(list(targets.values()))
        self._scale = np.array([_SCALES[k.rsplit("_", 1)[-1]] for k in targets])

    def points(self, x: Array) -> Array:
        """All mounts at free coordinates (..., f), mm, shape (..., m, 3)."""
        moved: Array = self._base + np.tensordot(x, self._moves, axes=1)
        return moved

    def figures(self, x: Array) -> Array:
        """The figures asked for, shape (variants, targets), for coordinates (variants, f)."""
        points = self.points(x)
        linkage = linkage_from(self.axle, self._layout, points[:, None])
        answers = study_postures(self.vehicle, self.axle, self._travel, self._travel, linkage)
        found = []
        for key in self.targets:
            if key == "triangulation_deg":
                pairs = triangulation_pairs(self.axle)
                assert pairs is not None
                found.append(triangulation(self._layout, points, pairs))
            elif key in WORST:
                found.append(np.abs(answers.values[WORST[key]][:, 1:]).max(axis=1))
            else:
                found.append(answers.values[key][:, 0])
        return np.nan_to_num(np.stack(found, axis=1), nan=1e4)

    def misses(self, x: Array) -> Array:
        """How far off the targets, in steps, shape (targets,)."""
        missed: Array = (self.figures(x[None])[0] - self._wanted) / self._scale
        return missed

    def residual(self, x: Array) -> Array:
        """What is made least: the misses, and a faint pull to stay near."""
        return np.concatenate((self.misses(x), _NEARNESS * x / 100.0))

    def slope(self, x: Array) -> Array:
        """Derivative of the residual, from one batch of variants."""
        n, step = len(x), 0.05
        varied = np.concatenate((x + step * np.eye(n), x - step * np.eye(n)))
        figures = self.figures(varied) / self._scale
        slope = (figures[:n] - figures[n:]).T / (2 * step)
        return np.concatenate((slope, _NEARNESS / 100.0 * np.eye(n)))


def _told(job: Job, problem: _Problem, x: Array, reached: bool, limits: list[Limits]) -> Solved:
    """What came of it, in words."""
    values = dict(zip(problem.targets, problem.figures(x[None])[0].tolist(), strict=True))
    by_spot: dict[Spot, list[float]] = {}
    for f, mm in zip(problem.freedoms, x.tolist(), strict=True):
        by_spot.setdefault(f.spot, [0.0, 0.0, 0.0])[f.axis] += mm
    lines, edits = [], []
    for spot, (ahead, out, up) in by_spot.items():
        side = 1.0 if mount_of(job, spot).at.y >= 0 else -1.0
        edits.append(move_by(spot, ahead, out * side, up))
        if max(abs(ahead), abs(out), abs(up)) >= SEEN_MM:
            lines.append(f"{bracket_words(spot, twin_of(job, spot))} {move_words(ahead, out, up, job.units)}")

    def apply(job: Job) -> Job:
        for edit in edits:
            job = edit.apply(job)
        return job

    words = "Every number asked for is reached." if reached else _stuck(job, problem, x, values, limits)
    odd = [bracket_words(s, twin_of(job, s)).lower() for s in by_spot if within_rail(job, s)]
    if odd:
        words += f" Drawn within the frame rail, so not kept clear of it: {', '.join(odd)}."
    return Solved(reached, values, tuple(lines), Edit("Solve for wanted numbers", apply), words)


def _stuck(job: Job, problem: _Problem, x: Array, values: dict[str, float], limits: list[Limits]) -> str:
    """Why it could come no nearer, in words."""
    units = job.units
    short = [
        f"{TITLES[k].lower()} comes to {format_value(k, values[k], units)}, {format_value(k, wanted, units)} was asked"
        for (k, wanted), missed in zip(problem.targets.items(), problem.misses(x), strict=True)
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
