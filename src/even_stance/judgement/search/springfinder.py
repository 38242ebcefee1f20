"""Holes and places for springs' mounts: all combinations of holes, and the least move that gives a wanted number."""

from collections.abc import Callable
from dataclasses import dataclass
from itertools import product

import numpy as np

from even_stance.errors import InputError, StanceError
from even_stance.judgement.bands import band_edges, wanted
from even_stance.judgement.springs import plain_name
from even_stance.judgement.verdicts import miss
from even_stance.judgement.wording import move_words
from even_stance.mechanics.vectors import Array
from even_stance.study.figures import AxleStudy, study_axle
from even_stance.study.ridefigures import ride_figures
from even_stance.vehicle.edits import Edit, all_of, choose_hole, move_by
from even_stance.vehicle.job import Job
from even_stance.vehicle.spots import Spot, holes_of, point_of, twin_of

MOST_TRIES = 600
_CLOSE = 0.01  # of a band's width: near enough to what was wanted


@dataclass(frozen=True)
class HoleSet:
    """One combination of holes.

    Attributes:
        words: which hole of which bracket; edit: takes them, both sides; off: how far all numbers of the springs are
            out of their bands together, in widths of those; values: those numbers.
    """

    words: str
    edit: Edit
    off: float
    values: dict[str, float]


@dataclass(frozen=True)
class Solved:
    """A mount's move that gives a wanted number.

    Attributes:
        words: the move; edit: makes it, both sides; value: what the number then is; reached: whether that is what was
            wanted, as near as can be told.
    """

    words: str
    edit: Edit
    value: float
    reached: bool


def _study(job: Job, key: str) -> AxleStudy:
    return study_axle(job.vehicle, job.vehicle.axle(key), 0.0, 0.0, {})


def _figures(job: Job, key: str) -> dict[str, float]:
    """The numbers of an axle's springs."""
    return {f.key: f.value for f in ride_figures(job.vehicle, _study(job, key), {})}


def brackets(job: Job, key: str) -> list[Spot]:
    """The spring brackets of an axle that have several holes, one of every pair."""
    found: list[Spot] = []
    for part in job.vehicle.axle(key).springs:
        for end in part.mounts:
            spot = Spot(key, part.name, end)
            if len(holes_of(job, spot)[0]) > 1 and twin_of(job, spot) not in found:
                found.append(spot)
    return found


def spring_holes(
    job: Job, key: str, told: Callable[[float], object] = lambda _: None, stopped: Callable[[], bool] = lambda: False
) -> list[HoleSet]:
    """Every combination of the holes of an axle's spring brackets, best first.

    Args:
        job: the job; key: the axle.
        told: told now and then what share is done; stopped: asked now and then, True ends it with what there is.

    Raises:
        InputError: no bracket has holes, or there are too many combinations.
    """
    spots = brackets(job, key)
    if not spots:
        raise InputError(
            "Holes", "are drilled in no bracket of a spring.", "Hold a mount and drill some by “Bracket…”."
        )
    counts = [len(holes_of(job, s)[0]) for s in spots]
    total = int(np.prod(counts))
    if total > MOST_TRIES:
        raise InputError("Holes", f"make {total} combinations.", f"Up to {MOST_TRIES} can be tried: drill fewer.")
    bands = {k: wanted(job, k, key) for k in _figures(job, key)}
    found = []
    for n, picks in enumerate(product(*(range(c) for c in counts))):
        if stopped():
            break
        told(n / total)
        edit = all_of("Holes of springs", [choose_hole(s, h) for s, h in zip(spots, picks, strict=True)])
        try:
            values = _figures(edit.apply(job), key)
        except StanceError:
            continue
        off = 0.0
        for k, value in values.items():
            low, high = band_edges(bands[k].band)
            off += miss(value, bands[k]) / max(high - low, 1e-9)
        words = ", ".join(
            f"{plain_name(s.member)} {job.vehicle.axle(key).part(s.member).WORDS[s.end]} hole {h + 1}"
            for s, h in zip(spots, picks, strict=True)
        )
        found.append(HoleSet(words, edit, off, values))
    return sorted(found, key=lambda f: f.off)


def solve_mount(
    job: Job, spot: Spot, key: str, goal: float, room_mm: float, stopped: Callable[[], bool] = lambda: False
) -> Solved:
    """The least move of a spring's mount, out and up, both sides, that gives a number a wanted value.

    Args:
        job: the job; spot: the mount; key: the number; goal: what it is to be.
        room_mm: how far the mount may go either way.
        stopped: asked now and then; True ends it with what there is.

    Raises:
        InputError: there is no such number, or no room.
    """
    if room_mm <= 0.0:
        raise InputError("Room", "is less than none.", "Say how far the mount may be moved.")
    before = _figures(job, spot.axle)
    if key not in before:
        raise InputError("Number", "is not known yet.", "Enter weights and springs of both axles first.")
    low, high = band_edges(wanted(job, key, spot.axle).band)
    width = max(high - low, 1e-9)
    side = 1.0 if point_of(job, spot).y >= 0.0 else -1.0

    def moved(x: Array) -> Job:
        return move_by(spot, 0.0, side * float(x[0]), float(x[1])).apply(job)

    def cost(x: Array) -> float:
        if stopped():
            return 0.0
        try:
            value = _figures(moved(x), spot.axle).get(key, np.inf)
        except StanceError:
            return 1e6
        off = (value - goal) / width
        return float(1000.0 * off**2 + 0.01 * (x @ x) / room_mm**2) if np.isfinite(off) else 1e6

    start = min(
        (np.array(x) for x in ((0.0, 0.0), (0.5, 0.0), (-0.5, 0.0), (0.0, 0.5), (0.0, -0.5))),
        key=lambda x: cost(room_mm * x),
    )
    from scipy.optimize import minimize  # noqa: PLC0415 - large: when first asked

    result = minimize(
        cost, room_mm * start, method="Nelder-Mead", bounds=[(-room_mm, room_mm)] * 2,
        options={"xatol": 0.2, "fatol": 1e-6, "maxfev": 90, "initial_simplex": _simplex(room_mm * start, room_mm)},
    )  # fmt: skip
    out, up = (float(v) for v in result.x)
    value = _figures(moved(result.x), spot.axle)[key]
    y = point_of(job, spot).y
    words = f"{plain_name(spot.member)}, {job.vehicle.axle(spot.axle).part(spot.member).WORDS[spot.end]} "
    words += move_words(0.0, side * out, up, job.units, y) or "as it is"
    reached = abs(value - goal) < 2.0 * _CLOSE * width
    return Solved(words, move_by(spot, 0.0, side * out, up), value, reached)


def _simplex(start: Array, room: float) -> Array:
    """Three places to begin from, inside the room."""
    step = 0.25 * room
    corners = np.array([start, start + np.array([step, 0.0]), start + np.array([0.0, step])])
    inside: Array = np.clip(corners, -room, room)
    return inside
