"""What to try for a number outside its band: the cheapest moves that bring it in, and what else each changes."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from even_stance.errors import StanceError
from even_stance.judgement.bands import Wanted, band_key, wanted
from even_stance.judgement.search.moves import Move, linkages_of, moves
from even_stance.judgement.search.springmoves import spring_moves
from even_stance.judgement.search.steermoves import steer_moves
from even_stance.judgement.standards import STANDARDS
from even_stance.judgement.verdicts import TITLES, format_value, miss
from even_stance.study.answers import study_postures
from even_stance.study.beamfigures import beam_figures
from even_stance.study.figures import AxleStudy, Figure, study_axle
from even_stance.study.ridefigures import ride_figures
from even_stance.units import System
from even_stance.vehicle.car import Axle, Vehicle
from even_stance.vehicle.edits import Edit
from even_stance.vehicle.job import Job

_LOOKED_AT = 14
_OFFERED = 4


@dataclass(frozen=True)
class Change:
    """What a move does to one figure.

    Attributes:
        key: which; before, after: its value; was_in, is_in: whether it is in its band before and after.
    """

    key: str
    before: float
    after: float
    was_in: bool
    is_in: bool

    def words(self, system: System) -> str:
        """The change as it is said."""
        before, after = (format_value(self.key, v, system) for v in (self.before, self.after))
        mark = "" if self.is_in == self.was_in else " (comes in)" if self.is_in else " (goes out)"
        return f"{TITLES[self.key].lower()} {before} to {after}{mark}"


@dataclass(frozen=True)
class Suggestion:
    """One move for one figure.

    Attributes:
        key: the figure it is for; words, edit, cost: the move; change: what it does to that figure.
        others: what it does to all other figures that notice, those that cross a mark first.
    """

    key: str
    words: str
    edit: Edit
    cost: float
    change: Change
    others: tuple[Change, ...]

    @property
    def brings_in(self) -> bool:
        """Whether the figure is in its band after it."""
        return self.change.is_in

    @property
    def harms(self) -> tuple[Change, ...]:
        """The figures that leave their band."""
        return tuple(c for c in self.others if c.was_in and not c.is_in)


@dataclass(frozen=True)
class Advice:
    """What can be done about a figure.

    Attributes:
        key: which; suggestions: the cheapest first; conflict: which wish has to give way, or empty.
    """

    key: str
    suggestions: tuple[Suggestion, ...]
    conflict: str


def advise(
    job: Job, study: AxleStudy, key: str, stopped: Callable[[], bool] = lambda: False
) -> Advice:  # fmt: skip
    """The cheapest moves that bring a figure into its band.

    All moves are tried at the posture in one batch; those that look best are then made for real and studied whole, so
    that what is promised is what comes.

    Args:
        job: the job.
        study: of the axle, at ride height or any posture.
        key: the figure.
        stopped: asked now and then; True ends the work with what there is.
    """
    axle, left, right = study.axle.key, float(study.now.left[0]), float(study.now.right[0])

    def figures_of(vehicle: Vehicle, at: AxleStudy) -> tuple[Figure, ...]:
        return (*at.figures, *ride_figures(vehicle, at, {}))

    def again(after: Job) -> tuple[Figure, ...]:
        at = study_axle(after.vehicle, after.vehicle.axle(axle), left, right, {})
        return figures_of(after.vehicle, at)

    def promising() -> list[Move]:
        return _promising(job, study, key, wanted(job, key, axle))

    return _advised(job, axle, key, figures_of(job.vehicle, study), promising, again, stopped)


def advise_beams(job: Job, axle: Axle, key: str, stopped: Callable[[], bool] = lambda: False) -> Advice:
    """The cheapest moves that bring a figure of swing beams into its band; what is promised was made for real.

    Args:
        job: the job; axle: the axle; key: the figure.
        stopped: asked now and then; True ends the work with what there is.
    """

    def again(after: Job) -> tuple[Figure, ...]:
        return tuple(beam_figures(after.vehicle, after.vehicle.axle(axle.key), {}))

    figures = tuple(beam_figures(job.vehicle, axle, {}))
    return _advised(job, axle.key, key, figures, lambda: steer_moves(job, axle), again, stopped)


def _advised(
    job: Job, axle: str, key: str, figures: tuple[Figure, ...], promising: Callable[[], list[Move]],
    again: Callable[[Job], tuple[Figure, ...]], stopped: Callable[[], bool],
) -> Advice:  # fmt: skip
    """The moves that help most for one of the figures, each studied again as it would be."""
    figure = next((f for f in figures if f.key == key), None)
    band = wanted(job, key, axle)
    if figure is None or miss(figure.value, band) <= 0:
        return Advice(key, (), "")
    found = []
    for move in promising():
        if stopped():
            break
        made = _made(job, axle, key, move, figures, again)
        if made is not None and miss(made.change.after, band) < 0.9 * miss(figure.value, band):
            found.append(made)
    found.sort(key=lambda s: (not s.brings_in, len(s.harms), s.cost if s.brings_in else miss(s.change.after, band)))
    kept = _different(found)[:_OFFERED]
    return Advice(key, tuple(kept), _conflict(job, key, found))


def _promising(job: Job, study: AxleStudy, key: str, band: Wanted) -> list[Move]:
    """The moves to look at closely: by cost among those that bring the figure in, then by what is left to go."""
    if STANDARDS[band_key(key)].station == "steering" or key == "axle_joint_use_pct":
        return steer_moves(job, study.axle)
    if STANDARDS[band_key(key)].station == "springs":
        return spring_moves(job, study.axle)
    tried = moves(job, study.axle)
    if not tried:
        return []
    if key not in study.now.values:
        # A figure over travel is not read at one posture: look at what moves it there by its slopes instead.
        return _by_slope(job, study, key, tried, band)
    left, right = (np.full(len(tried), side[0]) for side in (study.now.left, study.now.right))
    answers = study_postures(job.vehicle, study.axle, left, right, linkages_of(study.axle, tried))
    values = np.where(answers.ok, answers.values[key], np.nan)
    return _best(tried, values, band)


def _best(tried: list[Move], values: object, band: Wanted) -> list[Move]:
    """The moves to look at closely: those that bring the number in, the cheapest first, then the nearest."""
    array = np.asarray(values, dtype=np.float64)
    misses = np.array([miss(float(v), band) if np.isfinite(v) else np.inf for v in array])
    order = sorted(range(len(tried)), key=lambda i: (misses[i] > 0, tried[i].cost if misses[i] == 0 else misses[i]))
    return [tried[i] for i in order[:_LOOKED_AT] if np.isfinite(misses[i])]


def _by_slope(job: Job, study: AxleStudy, key: str, tried: list[Move], band: Wanted) -> list[Move]:
    """The moves to look at closely, judged by the slopes of a number that is read over travel."""
    from even_stance.study.figures import figure_slopes  # noqa: PLC0415 - only for the figures over travel
    from even_stance.study.model import layout_of, mount_points  # noqa: PLC0415

    slopes = figure_slopes(job.vehicle, study)
    figure = study.figure(key)
    assert figure is not None
    points = mount_points(study.axle)
    per_point = np.array([s for i, s in zip(slopes.inputs, slopes.of[key], strict=True) if i.kind == "point"])
    names = [r.name for r in layout_of(study.axle).rods]
    per_length = {i.words.removesuffix(": longer"): float(s) for i, s in zip(slopes.inputs, slopes.of[key], strict=True)
                  if i.kind == "length"}  # fmt: skip
    values = [
        figure.value
        + float(np.nansum(per_point * (m.points - points).ravel()))
        + sum(per_length.get(n, 0.0) * float(d) for n, d in zip(names, m.longer, strict=True))
        for m in tried
    ]
    return _best(tried, values, band)


def _made(
    job: Job, axle: str, key: str, move: Move, figures: tuple[Figure, ...], again: Callable[[Job], tuple[Figure, ...]]
) -> Suggestion | None:
    """The move made for real, with all figures before and after; None when the axle cannot take it."""
    try:
        now = {f.key: f for f in again(move.edit.apply(job))}
    except StanceError:
        return None
    changes = {}
    for figure in figures:
        other = now.get(figure.key)
        if other is None:
            continue
        band = wanted(job, figure.key, axle)
        was, still = miss(figure.value, band) <= 0, miss(other.value, band) <= 0
        changes[figure.key] = Change(figure.key, figure.value, other.value, was, still)
    if key not in changes:
        return None
    others = [c for k, c in changes.items() if k != key and (c.was_in != c.is_in or _noticed(c))]
    others.sort(key=lambda c: c.was_in == c.is_in)
    return Suggestion(key, move.words, move.edit, move.cost, changes[key], tuple(others))


def _noticed(change: Change) -> bool:
    """Whether a person would see the difference on the screen."""
    return format_value(change.key, change.before, "us") != format_value(change.key, change.after, "us")


def _different(found: list[Suggestion]) -> list[Suggestion]:
    """One suggestion for each bracket and kind of move: three steps of the same move are not three ideas."""
    seen, kept = set(), []
    for s in found:
        idea = s.words.split(" one hole")[0].split(" two holes")[0]
        idea = " ".join(w for w in idea.split() if not any(ch.isdigit() for ch in w) and w not in ("turn", "turns"))
        if idea not in seen:
            seen.add(idea)
            kept.append(s)
    return kept


def _conflict(job: Job, key: str, found: list[Suggestion]) -> str:
    """When every move that helps takes something else out of its band: which wishes stand against each other."""
    good = [s for s in found if s.brings_in]
    if not found:
        return f"No single move brings {TITLES[key].lower()} in. Use Solve, or widen its band."
    if not good:
        return f"No single move is enough to bring {TITLES[key].lower()} in. Take several, or use Solve."
    if all(s.harms for s in good):
        worst = sorted({TITLES[c.key].lower() for s in good for c in s.harms})
        return (
            f"Wishes contradict: every cheap move that brings {TITLES[key].lower()} in takes {' or '.join(worst)} out. "
            "Decide which one gives way, or use Solve."
        )
    return ""
