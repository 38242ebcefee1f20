"""Is the axle square, and which link to turn how many turns."""

from dataclasses import dataclass
from itertools import product

import numpy as np

from even_stance.mechanics.squaring import Squareness, squareness
from even_stance.shop.readings import means_of
from even_stance.units import format_length, length_unit
from even_stance.vehicle.job import Job
from even_stance.vehicle.members import Rod

_WHATS = ("wheelbase.left", "wheelbase.right", "diagonal.left", "diagonal.right")
# Common practice, no source: a sixteenth side to side is called square.
SQUARE_MM = 1.6


@dataclass(frozen=True)
class Turns:
    """How far to turn the two lower links (+ longer), and what is left over: left minus right wheelbase, mm."""

    left: float
    right: float
    left_over_mm: float


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
    first, last = job.vehicle.axles[0], job.vehicle.axles[-1]
    stand = squareness(measured, first.track_mm, last.track_mm)
    # The left end back means a longer left wheelbase.
    uneven = last.track_mm * float(np.sin(stand.yaw))
    disagree = float(np.abs(stand.residual).max())
    turns = _turns(job, stand.yaw)
    return SquareReport(stand, uneven, disagree, turns, tuple(_words(job, stand, uneven, disagree, turns)))


def _turns(job: Job, yaw: float) -> Turns | None:
    """The turns of left and right lower link that bring the axle square with the least shift of its center."""
    axle, threads = job.vehicle.axles[-1], job.measuring.threads
    lowers = {m.side: m for m in axle.members if isinstance(m, Rod) and m.role == "lower"}
    if "left" not in lowers or "right" not in lowers:
        return None
    apart = abs(lowers["left"].axle.at.y - lowers["right"].axle.at.y)
    per_turn = threads.pitch_mm * (2.0 if threads.both_ends else 1.0)
    wanted = -np.sin(yaw) * apart / per_turn  # turns by which the left link must grow against the right one
    step = 0.5 if threads.half_turns else 1.0
    nearest = round(wanted / step) * step
    half = round(nearest / 2 / step) * step
    left, right = min(
        product((half, half - step, half + step), (half - nearest, half - step - nearest, half + step - nearest)),
        key=lambda lr: (abs(lr[0] - lr[1] - nearest) > 1e-9, abs(lr[0] + lr[1]), abs(lr[0])),
    )
    after = np.sin(yaw) + (left - right) * per_turn / apart
    return Turns(left, right, axle.track_mm * float(after))


def _words(job: Job, stand: Squareness, uneven: float, disagree: float, turns: Turns | None) -> list[str]:
    units = job.units
    unit = length_unit(units)

    def length(mm: float) -> str:
        return f"{format_length(abs(mm), units).removeprefix('~')} {unit}"

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


def _advice(turns: Turns | None, length: object) -> str:
    assert callable(length)
    if turns is None:
        return "It has no pair of lower links to turn: move a bracket, or slide the axle on its clamps."
    parts = [
        f"the {side} lower link {abs(n):g} turn{'s' if abs(n) != 1 else ''} {'longer' if n > 0 else 'shorter'}"
        for side, n in (("left", turns.left), ("right", turns.right))
        if n
    ]
    if not parts:
        return f"Less than the smallest turn its joints allow: {length(turns.left_over_mm)} stay."
    stays = f"{length(turns.left_over_mm)} difference stays"
    return f"Turn {' and '.join(parts)}; {stays}. Then the jam nuts, and measure again."
