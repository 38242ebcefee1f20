"""Readings as they come in, and what several of one thing come to."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from even_stance.errors import InputError
from even_stance.mechanics.repeats import mean_and_sure, outlier
from even_stance.vehicle.edits import with_changes
from even_stance.vehicle.job import Job
from even_stance.vehicle.measuring import TOOLS, Measuring, Quantity, Reading, Stage, Tool
from even_stance.vehicle.records import GUESS_MM, HowKnown, Point, is_guess


@dataclass(frozen=True)
class Mean:
    """What several readings of one thing come to.

    Attributes:
        value, sure: mean of those that count, and its +/-; scatter: largest minus smallest.
        count: how many count; odd: the index (among all readings of the job) of one that does not belong, or -1.
        known: what that makes of it: a guess is one whatever else was read before it.
        stance: how the car stood for these; others: what was read of it while the car stood otherwise, by how it stood.
    """

    value: float
    sure: float
    scatter: float
    count: int
    odd: int = -1
    known: HowKnown = "taped"
    stance: str = ""
    others: tuple[tuple[str, float], ...] = ()


Means = dict[str, Mean]
_KNOWN_BY: dict[Tool, HowKnown] = {"guess": "guessed", "worked_out": "derived"}
_FAR_OFF = 8.0
_LEAST_KNOWN: tuple[HowKnown, ...] = ("taped", "derived", "guessed")


def means_of(job: Job, stage: Stage = "found") -> Means:
    """The mean of every thing that was measured at one stage, as the car stands, or last stood while it was read.

    Readings of two stages are never put together, nor those of a car on its tires and on stands.
    """
    return dict(_means(job.measuring, stage))


@lru_cache(maxsize=16)
def _means(measuring: Measuring, stage: Stage) -> Means:
    found: dict[str, dict[str, list[int]]] = {}
    readings = measuring.readings
    for i, reading in enumerate(readings):
        if reading.counts and reading.stage == stage:
            found.setdefault(reading.what, {}).setdefault(_stood(reading.stance), []).append(i)
    means = {}
    for what, by_stance in found.items():
        last = max(by_stance, key=lambda stood: by_stance[stood][-1])
        stood = _stood(measuring.stance)
        stood = stood if stood in by_stance else last
        others = tuple(
            (readings[indices[-1]].stance, float(np.mean([readings[k].value for k in indices])))
            for other, indices in by_stance.items() if other != stood
        )  # fmt: skip
        means[what] = _mean_of(readings, by_stance[stood], others)
    return means


def _stood(stance: str) -> str:
    """How the car stood, capitals and blanks aside."""
    return " ".join(stance.split()).casefold()


def _mean_of(readings: tuple[Reading, ...], indices: list[int], others: tuple[tuple[str, float], ...]) -> Mean:
    """What some readings of one thing come to."""
    values = np.array([readings[i].value for i in indices])
    tool = max(readings[i].sure for i in indices)
    value, sure = mean_and_sure(values, tool)
    odd = outlier(values, 2.0 * tool)
    last = readings[indices[-1]]
    return Mean(
        value, sure, float(np.ptp(values)), len(values), indices[odd] if odd >= 0 else -1,
        _KNOWN_BY.get(last.tool, "taped"), last.stance, others,
    )  # fmt: skip


def far_off(job: Job, reading: Reading) -> float | None:
    """By how much a reading is off the others of its thing, where that is more than any tool scatters; None otherwise.

    Eight times what the tool is good to: half an inch of a tape (common practice, no source).
    """
    there = means_of(with_changes(job, measuring=with_changes(job.measuring, stance=reading.stance)), reading.stage)
    mean = there.get(reading.what)
    if mean is None or _stood(mean.stance) != _stood(reading.stance):
        return None
    off = abs(reading.value - mean.value)
    return off if off > _FAR_OFF * max(reading.sure, mean.sure) else None


def put(now: Point, found: dict[str, Mean], ahead_mm: float = 0.0) -> Point:
    """A point with what was measured in place of what was thought; it stays a guess until all three places were.

    Args:
        now: where it was thought to be, mm.
        found: the means of “ahead”, “left” and “up”, those that there are.
        ahead_mm: how far ahead of the front axle that is which “ahead” is taken from.
    """
    if not found:
        return now
    values = {axis: found[c].value for axis, c in (("x", "ahead"), ("y", "left"), ("z", "up")) if c in found}
    if "x" in values:
        values["x"] += ahead_mm
    sure = max(m.sure for m in found.values())
    if is_guess(now) and len(found) < 3:
        return with_changes(now, **values, sure=max(sure, now.sure, GUESS_MM), known="guessed")
    known = max((m.known for m in found.values()), key=_LEAST_KNOWN.index)
    return with_changes(now, **values, sure=sure, known=known)


def new_reading(
    job: Job, what: str, quantity: Quantity, value: float, tool: Tool, taken: str, note: str = "",
    stage: Stage | None = None,
) -> Reading:  # fmt: skip
    """A reading with the default +/- of its tool, by whom and how the car stands as last entered.

    Args:
        job: the job; what, quantity, value: what was measured; tool: with what; taken: when; note: as typed.
        stage: at which stage of the build, that which its page shows; that of the Measure page if not given.

    Raises:
        InputError: not a figure that can be kept.
    """
    if not np.isfinite(value) or abs(value) > 1e6:
        raise InputError("Reading", f"{value:g} cannot be a reading.", "Check the figure and its unit.")
    return Reading(
        what=what, quantity=quantity, value=value, sure=TOOLS[tool].sure(quantity), tool=tool, taken=taken,
        who=job.measuring.who, stance=job.measuring.stance, note=note, stage=stage or job.measuring.stage,
    )  # fmt: skip
