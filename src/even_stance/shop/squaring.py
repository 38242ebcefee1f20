"""Is the axle square, and which link to turn how many turns."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from even_stance.errors import LayoutError
from even_stance.mechanics.squaring import Squareness, squareness
from even_stance.shop.readings import means_of
from even_stance.study.threads import stands
from even_stance.units import format_length, length_unit
from even_stance.vehicle.car import Axle
from even_stance.vehicle.job import Job
from even_stance.vehicle.members import Rod

_WHATS = ("wheelbase.left", "wheelbase.right", "diagonal.left", "diagonal.right")
# Common practice, no source: a sixteenth side to side is called square.
SQUARE_MM = 1.6
SEEN_MM = 0.8  # half a sixteenth: less cannot be read off a tape
GOOD_MM = 0.4  # choices this near the best are as good: the one that shifts the axle least is taken
MOST_TURNS = 60


@dataclass(frozen=True)
class Turns:
    """How far to turn the two lower links (+ longer), and what comes of it.

    Attributes:
        left, right: turns, + longer; left_over_mm: what stays of the left wheelbase minus the right one.
        ahead_mm, aside_mm: how far the axle's center goes ahead and to the left; nose_up_deg: its pinion.
    """

    left: float
    right: float
    left_over_mm: float
    ahead_mm: float = 0.0
    aside_mm: float = 0.0
    nose_up_deg: float = 0.0


@dataclass(frozen=True)
class SquareReport:
    """How the rear axle stands.

    Attributes:
        stand: from all four distances; uneven_mm: left minus right wheelbase as fitted.
        disagree_mm: the largest residual, where the four distances contradict each other.
        turns: what to do about it, if links can be turned; words: all of it in sentences.
    """

    stand: Squareness
    uneven_mm: float
    disagree_mm: float
    turns: Turns | None
    words: tuple[str, ...]


def square_report(job: Job) -> SquareReport | None:
    """The report; None until both wheelbases and both diagonals are read."""
    means = means_of(job)
    if any(what not in means for what in _WHATS):
        return None
    measured = np.array([means[what].value for what in _WHATS])
    first, last = job.vehicle.axles[0], job.vehicle.axles[1]
    stand = squareness(measured, first.track_mm, last.track_mm)
    # The left end back means a longer left wheelbase.
    uneven = last.track_mm * float(np.sin(stand.yaw))
    disagree = float(np.abs(stand.residual).max())
    turns = _turns(job, last, stand.yaw)
    words = [*_words(job, stand, uneven, disagree, turns), *_parallel(job, stand.yaw)]
    return SquareReport(stand, uneven, disagree, turns, tuple(words))


def _parallel(job: Job, yaw: float) -> list[str]:
    """Whether the second rear axle stands parallel to the first, and what to turn to bring it square to the car."""
    means = means_of(job)
    if len(job.vehicle.axles) < 3 or "apart.left" not in means or "apart.right" not in means:
        return []
    third = job.vehicle.axles[2]
    farther = means["apart.left"].value - means["apart.right"].value
    own = yaw + float(np.arcsin(np.clip(farther / third.track_mm, -1.0, 1.0)))
    length = _length_words(job)
    if abs(third.track_mm * np.sin(own)) <= SQUARE_MM:
        return [f"The third axle is square within {length(SQUARE_MM)}."]
    side = "left" if own > 0 else "right"
    found = f"The third axle is out of square: its {side} wheel is {length(third.track_mm * np.sin(own))} farther back."
    return [found, _advice(_turns(job, third, own), length)]


def _length_words(job: Job) -> Callable[[float], str]:
    units = job.units
    return lambda mm: f"{format_length(abs(mm), units).removeprefix('~')} {length_unit(units)}"


def _turns(job: Job, axle: Axle, yaw: float) -> Turns | None:
    """The turns of left and right lower link that bring the axle square with the least shift fore and aft.

    What a turn does is not taken from similar triangles: the axle is solved anew for every choice, since the links that
    hold it sideways swing it about as well.
    """
    threads = job.measuring.threads
    lowers = {m.side: m.name for m in axle.members if isinstance(m, Rod) and m.role == "lower"}
    if "left" not in lowers or "right" not in lowers:
        return None
    names = (lowers["left"], lowers["right"])
    per_turn = threads.pitch_mm * (2.0 if threads.both_ends else 1.0)
    step = 0.5 if threads.half_turns else 1.0
    try:
        by_one = stands(axle, names, per_turn * np.eye(2)).yaw
        if not np.isfinite(by_one).all() or np.abs(by_one).min() < 1e-9:
            return None
        most = int(np.ceil(abs(yaw / by_one[0]) / step)) + 2
        left = step * np.arange(-min(most, MOST_TURNS), min(most, MOST_TURNS) + 1)
        right = np.round((-yaw - by_one[0] * left) / by_one[1] / step) * step
        choices = np.stack((left, right), axis=1)
        found = stands(axle, names, per_turn * choices)
    except LayoutError:
        return None
    off = np.where(found.ok, np.abs(np.sin(yaw + found.yaw)) * axle.track_mm, np.inf)
    if not np.isfinite(off).any():
        return None
    good = np.flatnonzero(off <= off.min() + GOOD_MM)
    k = int(good[np.argmin(np.abs(found.shift[good, 0]))])
    return Turns(
        float(left[k]), float(right[k]), axle.track_mm * float(np.sin(yaw + found.yaw[k])),
        float(found.shift[k, 0]), float(found.shift[k, 1]), float(np.degrees(found.nose_up[k])),
    )  # fmt: skip


def _words(job: Job, stand: Squareness, uneven: float, disagree: float, turns: Turns | None) -> list[str]:
    length = _length_words(job)
    if disagree > 2 * SQUARE_MM:
        worst = int(np.argmax(np.abs(stand.residual)))
        name = ("left wheelbase", "right wheelbase", "diagonal from front left", "diagonal from front right")[worst]
        words = [
            f"The four distances contradict each other by {length(disagree)}, the {name} most. Take them again from "
            "the same marks before turning anything."
        ]
    else:
        words = []
    if abs(uneven) <= SQUARE_MM:
        words.append(f"The rear axle is square within {length(SQUARE_MM)}.")
    else:
        side = "left" if uneven > 0 else "right"
        words.append(
            f"The rear axle is out of square: its {side} wheel is {length(uneven)} farther back "
            f"({abs(np.degrees(stand.yaw)):.2f}°)."
        )
        words.append(_advice(turns, length))
    if abs(stand.aside) > 2 * SQUARE_MM:
        side = "left" if stand.aside > 0 else "right"
        words.append(
            f"It sits {length(stand.aside)} to the {side} of the front axle's center: the panhard, watts or upper "
            "links set that."
        )
    return words


def _advice(turns: Turns | None, length: Callable[[float], str]) -> str:
    if turns is None:
        return "It has no pair of lower links to turn: move a bracket, or slide the axle on its clamps."
    parts = [
        f"the {side} lower link {abs(n):g} turn{'s' if abs(n) != 1 else ''} {'longer' if n > 0 else 'shorter'}"
        for side, n in (("left", turns.left), ("right", turns.right))
        if n
    ]
    if not parts:
        return f"Less than the smallest turn its joints allow: {length(turns.left_over_mm)} stay."
    goes = [
        f"{length(mm)} {way[mm < 0]}"
        for mm, way in ((turns.ahead_mm, ("ahead", "back")), (turns.aside_mm, ("to the left", "to the right")))
        if abs(mm) >= SEEN_MM
    ]
    along = f" The axle's center goes {' and '.join(goes)} with it." if goes else ""
    if abs(turns.nose_up_deg) >= 0.05:
        along += f" The pinion turns {abs(turns.nose_up_deg):.1f}° nose {'up' if turns.nose_up_deg > 0 else 'down'}."
    seen = abs(turns.left_over_mm) >= SEEN_MM
    stays = f"{length(turns.left_over_mm)} difference stays" if seen else "no difference to be seen on a tape stays"
    return f"Turn {' and '.join(parts)}; {stays}.{along} Then the jam nuts, and measure again."
