"""Is the axle square, and which link to turn how many turns."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from even_stance.errors import InputError, LayoutError
from even_stance.mechanics.squaring import Squareness, squareness
from even_stance.shop.readings import means_of
from even_stance.study.threads import stands
from even_stance.units import format_length, length_unit
from even_stance.vehicle.car import Axle
from even_stance.vehicle.job import Job
from even_stance.vehicle.members import RadiusArm, Rod

_WHATS = ("wheelbase.left", "wheelbase.right", "diagonal.left", "diagonal.right")
_NAMES = ("left wheelbase", "right wheelbase", "diagonal from front left", "diagonal from front right")
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
    """The report: provisional from both wheelbases, sure with both diagonals; None before.

    Raises:
        InputError: a distance that no axle has.
    """
    means = means_of(job)
    taped = [what for what in _WHATS if what in means]
    if taped[:2] != list(_WHATS[:2]):
        return None
    for what in taped:
        if not 500.0 <= means[what].value <= 12_000.0:
            name = _NAMES[_WHATS.index(what)]
            raise InputError(f"The {name}", "is no distance between axles.", "Tape it again, hub to hub.")
    provisional = len(taped) < len(_WHATS)
    measured = np.array([means[what].value for what in (_WHATS[:2] if provisional else _WHATS)])
    first, last = job.vehicle.axles[0], job.vehicle.axles[1]
    stand = squareness(measured, first.track_mm, last.track_mm)
    # The left end back means a longer left wheelbase.
    uneven = last.track_mm * float(np.sin(stand.yaw))
    disagree = float(np.abs(stand.residual).max())
    turns = _turns(job, last, stand.yaw)
    words = [*_words(job, stand, uneven, disagree, turns), *_parallel(job, stand.yaw)]
    if abs(uneven) > SQUARE_MM:
        words += _with_uppers(job, last, stand.yaw, turns)
    if provisional:
        words.append("Provisional, from the two wheelbases alone: tape both diagonals before you turn anything.")
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


def _with_uppers(job: Job, axle: Axle, yaw: float, alone: Turns | None) -> list[str]:
    """What turning the uppers as well would take, where that is less: left alone, uppers work against the lowers."""
    both = _turns(job, axle, yaw, uppers=True)
    if both is None or alone is None:
        return []
    if abs(both.left) + abs(both.right) >= abs(alone.left) + abs(alone.right):
        return []
    return [
        "With the upper links turned alike less will do, since uppers left as they are work against the lowers. "
        + _advice(both, _length_words(job), "lower and upper links")
    ]


def _pair_to_turn(axle: Axle, uppers: bool) -> tuple[tuple[str, ...], tuple[str, ...]] | None:
    """The members to turn on the left and on the right: the lowers, or the arms that reach forward; with the uppers."""
    found: dict[str, list[str]] = {"left": [], "right": []}
    for role in ("lower", "upper") if uppers else ("lower",):
        names = {m.side: m.name for m in axle.members if isinstance(m, Rod) and m.role == role}
        if "left" not in names or "right" not in names:
            return None
        for side, kept in found.items():
            kept.append(names[side])  # type: ignore[index]
    return tuple(found["left"]), tuple(found["right"])


def _arm_turns(job: Job, axle: Axle, yaw: float) -> Turns | None:
    """Arms rigid with the axle: it turns about their pivots, by the difference of their lengths over the spread."""
    arms = {m.side: m for m in axle.members if isinstance(m, RadiusArm)}
    if "left" not in arms or "right" not in arms:
        return None
    threads = job.measuring.threads
    per_turn = threads.pitch_mm * (2.0 if threads.both_ends else 1.0)
    step = 0.5 if threads.half_turns else 1.0
    spread = arms["left"].chassis.at.y - arms["right"].chassis.at.y
    if abs(spread) < 1.0:
        return None
    steps = round(-np.sin(yaw) * spread / per_turn / step)
    left = step * (steps // 2 if steps >= 0 else -(-steps // 2))
    right = left - step * steps
    turned = yaw + (left - right) * per_turn / spread
    toward = -1.0 if axle.is_front else 1.0
    ahead = -toward * (left + right) / 2 * per_turn
    return Turns(left, right, axle.track_mm * float(np.sin(turned)), ahead)


def _turns(job: Job, axle: Axle, yaw: float, uppers: bool = False) -> Turns | None:
    """The turns of the links on the left and right that bring the axle square with the least shift fore and aft.

    What a turn does is not taken from similar triangles: the axle is solved anew for every choice, since the links that
    hold it sideways swing it about as well.
    """
    threads = job.measuring.threads
    pair = _pair_to_turn(axle, uppers)
    if pair is None:
        return None if uppers else _arm_turns(job, axle, yaw)
    names = (*pair[0], *pair[1])
    sides = np.repeat(np.eye(2), (len(pair[0]), len(pair[1])), axis=1)
    per_turn = threads.pitch_mm * (2.0 if threads.both_ends else 1.0)
    step = 0.5 if threads.half_turns else 1.0
    try:
        by_one = stands(axle, names, per_turn * sides).yaw
        if not np.isfinite(by_one).all() or np.abs(by_one).min() < 1e-9:
            return None
        most = int(np.ceil(abs(yaw / by_one[0]) / step)) + 2
        left = step * np.arange(-min(most, MOST_TURNS), min(most, MOST_TURNS) + 1)
        right = np.round((-yaw - by_one[0] * left) / by_one[1] / step) * step
        choices = np.stack((left, right), axis=1)
        found = stands(axle, names, per_turn * choices @ sides)
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
    """How square an axle stands, in words."""
    length = _length_words(job)
    if disagree > 2 * SQUARE_MM:
        worst = int(np.argmax(np.abs(stand.residual)))
        name = _NAMES[worst]
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


def _advice(turns: Turns | None, length: Callable[[float], str], what: str = "lower link") -> str:
    """Which link to turn, and how far."""
    if turns is None:
        return "It has no pair of links to turn: move a bracket, or slide the axle on its clamps."
    parts = [
        f"the {side} {what} {abs(n):g} turn{'s' if abs(n) != 1 else ''} {'longer' if n > 0 else 'shorter'}"
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
