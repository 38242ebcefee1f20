"""The steering shaft from column to box: its joints' angles, how evenly it turns, and what of its slip is used."""

from dataclasses import dataclass
from functools import lru_cache
from itertools import product

import numpy as np

from even_stance.mechanics.ujoint import joint_angle, speed_extremes
from even_stance.mechanics.vectors import Array, norm
from even_stance.vehicle.records import Point
from even_stance.vehicle.steering import ColumnShaft

_STEP_MM = 0.5


@dataclass(frozen=True)
class ColumnAnswers:
    """What a steering shaft comes to.

    Attributes:
        column_deg, input_deg: the angles of the two joints, in space; uneven_pct: how the box's speed goes up and down
            at an even hand wheel; best_phase_deg: the phasing that makes it least, and best_pct: to what.
        length_mm: joint to joint; least_mm, most_mm: the same with the body moved on its mounts every way it may.
    """

    column_deg: float
    input_deg: float
    uneven_pct: float
    best_phase_deg: float
    best_pct: float
    length_mm: float
    least_mm: float
    most_mm: float


def column_answers(shaft: ColumnShaft) -> ColumnAnswers:
    """Joints, evenness and lengths of a steering shaft; the column goes with the body, the box with the frame."""
    joint, up, box, into = (np.array(p.xyz) for p in (shaft.joint, shaft.up, shaft.input, shaft.into))
    run = box - joint
    driving, line, driven = (_unit(v) for v in (joint - up, run, into - box))
    phases = np.radians(np.arange(-90.0, 90.5, 0.5))
    every = _uneven(driving, line, driven, phases)
    best = int(every.argmin())
    reach = shaft.body_mm
    least = float(norm(np.sign(run) * np.maximum(np.abs(run) - reach, 0.0)))
    most = max(float(norm(run + reach * np.array(way))) for way in product((-1.0, 1.0), repeat=3))
    now = float(_uneven(driving, line, driven, np.radians([shaft.phase_deg]))[0])
    return ColumnAnswers(
        float(np.degrees(joint_angle(driving, line))), float(np.degrees(joint_angle(line, driven))), now,
        float(np.degrees(phases[best])), float(every[best]), float(norm(run)), least, most,
    )  # fmt: skip


@lru_cache(maxsize=4)
def column_spreads(shaft: ColumnShaft) -> dict[str, float]:
    """The +/- of joints, evenness and length, from how sure the four points are: each moved forth and back.

    Source: ISO/IEC Guide 98-3 (GUM), law of propagation of uncertainty for independent inputs.
    """
    total = dict.fromkeys(("column_deg", "input_deg", "uneven_pct", "length_mm"), 0.0)
    for end in ("joint", "up", "input", "into"):
        at: Point = getattr(shaft, end)
        for axis in "xyz":
            both = [
                column_answers(shaft.model_copy(update={end: at.model_copy(update={axis: getattr(at, axis) + way})}))
                for way in (_STEP_MM, -_STEP_MM)
            ]
            for key in total:
                slope = (getattr(both[0], key) - getattr(both[1], key)) / (2.0 * _STEP_MM)
                total[key] += (slope * at.sure) ** 2
    return {key: value**0.5 for key, value in total.items()}


def _unit(v: Array) -> Array:
    unit: Array = v / norm(v)
    return unit


def _uneven(driving: Array, line: Array, driven: Array, phases: Array) -> Array:
    """How far the box's speed goes up and down over a turn for each phasing, percent, shape (n,)."""
    wide = (len(phases), 3)
    first, middle, last = (np.broadcast_to(v, wide) for v in (driving, line, driven))
    high, low = speed_extremes(first, middle, last, phases)
    spread: Array = 100.0 * (high - low)
    return spread
