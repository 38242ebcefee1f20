"""Engine and gearbox on their mounts: where all of it goes as the tail is raised, and what it comes near to."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from even_stance.mechanics.roots import crossing
from even_stance.mechanics.tilt import tilt_angle, tilted
from even_stance.mechanics.vectors import Array, norm
from even_stance.vehicle.car import Axle, Vehicle
from even_stance.vehicle.driveline import TOWARD_WORDS, Mark, Powertrain, Yoke
from even_stance.vehicle.edits import with_changes
from even_stance.vehicle.records import Point

REACH_MM = 100.0  # how far a tail is looked up and down
_Line = tuple[Array, Array]


def _mounts(power: Powertrain) -> _Line:
    return np.array(power.mount_left.xyz), np.array(power.mount_right.xyz)


def tilt(power: Powertrain, tail_up_mm: float | None = None) -> float:
    """How far the powertrain has turned about its engine mounts, rad, with the tail raised as it is or by so much."""
    rise = power.tail_up_mm if tail_up_mm is None else tail_up_mm
    return _tilt(power.mount_left, power.mount_right, power.tail, rise) if rise else 0.0


@lru_cache(maxsize=64)
def _tilt(left: Point, right: Point, tail: Point, rise: float) -> float:
    return float(tilt_angle(np.array(left.xyz), np.array(right.xyz), np.array(tail.xyz), rise))


def tilt_up_deg(power: Powertrain) -> float:
    """How far the powertrain has turned nose down as its tail came up or its mounts went down, degrees."""
    left, right = _mounts(power)
    square = np.cross(left - right, [0.0, 0.0, 1.0])
    way = moved_with(power, np.stack((right, right + square / norm(square))))
    rise = float(way[1, 2] - way[0, 2])
    return float(np.degrees(np.arcsin(np.clip(-rise, -1.0, 1.0))))


def moved_with(power: Powertrain, points: Array, tail_up_mm: float | None = None) -> Array:
    """Points of the powertrain, given as measured, mm, shape (m, 3), where they are with tail and mounts raised.

    Raised mounts tilt it about a line through the tail that runs as the mounts do.
    """
    left, right = _mounts(power)
    turn = np.array(tilt(power, tail_up_mm))
    moved = tilted(left, right, turn, points)
    if not power.mounts_up_mm:
        return moved
    tail = tilted(left, right, turn, np.array([power.tail.xyz]))[0]
    line = (tail + (left - right), tail)
    return tilted(*line, tilt_angle(*line, (left + right) / 2, power.mounts_up_mm), moved)


def axis_of(yoke: Yoke) -> Array:
    """Unit vector along a shaft end toward the front, 1, shape (3,)."""
    up, left = np.radians([yoke.nose_up_deg, yoke.left_deg])
    return np.array([np.cos(up) * np.cos(left), np.cos(up) * np.sin(left), np.sin(up)])


def seated(vehicle: Vehicle, axle: Axle) -> Axle:
    """An axle with its output where the powertrain now holds it; the same one while the tail is as measured."""
    power = vehicle.powertrain
    if power is None or axle.output is None or axle.output.on or not power.moved or not np.isfinite(tilt(power)):
        return axle
    return axle.model_copy(update={"output": _seated(power, axle.output)})


@lru_cache(maxsize=16)
def _seated(power: Powertrain, output: Yoke) -> Yoke:
    """An output where the powertrain now holds it."""
    at = np.array(output.at.xyz)
    moved = moved_with(power, np.stack((at, at + 1000.0 * axis_of(output))))
    way = (moved[1] - moved[0]) / 1000.0
    x, y, z = (float(v) for v in moved[0])
    return with_changes(
        output, at=with_changes(output.at, x=x, y=y, z=z),
        nose_up_deg=float(np.degrees(np.arcsin(np.clip(way[2], -1.0, 1.0)))),
        left_deg=float(np.degrees(np.arctan2(way[1], way[0]))),
    )  # fmt: skip


@dataclass(frozen=True)
class Gap:
    """A marked point and its gap.

    Attributes:
        mark: which; at: where it is now, mm, shape (3,)
        before_mm, now_mm: the gap as taped, and with the tail where it is.
        least_tail_mm, most_tail_mm: how low and how high the tail may be before the gap comes to what is wanted; None
            where it does not within a hand's width.
    """

    mark: Mark
    at: Array
    before_mm: float
    now_mm: float
    least_tail_mm: float | None
    most_tail_mm: float | None

    @property
    def short(self) -> bool:
        """Whether there is less room than wanted."""
        return self.now_mm < self.mark.wanted_mm - 1e-9


def gap_at(power: Powertrain, mark: Mark, tail_up_mm: float) -> float:
    """The gap of a marked point with the tail raised by so much, mm: what it has moved toward its neighbor is lost."""
    at = np.array(mark.at.xyz)
    moved = moved_with(power, at[None], tail_up_mm)[0] - at
    return mark.gap_mm - float(moved @ np.array(TOWARD_WORDS[mark.toward]))


@lru_cache(maxsize=8)
def gaps(power: Powertrain) -> tuple[Gap, ...]:
    """Every marked point with its gap, the tightest against what is wanted first."""
    marks = power.marks
    taped = np.array([m.at.xyz for m in marks]).reshape(-1, 3)
    moved = moved_with(power, taped)
    lost = np.sum((moved - taped) * np.array([TOWARD_WORDS[m.toward] for m in marks]).reshape(-1, 3), axis=1)
    found = [
        Gap(mark, moved[i], mark.gap_mm, mark.gap_mm - float(lost[i]), *limits)
        for i, (mark, limits) in enumerate(zip(marks, _limits(with_changes(power, tail_up_mm=0.0)), strict=True))
    ]
    return tuple(sorted(found, key=lambda g: g.now_mm - g.mark.wanted_mm))


@lru_cache(maxsize=8)
def _limits(power: Powertrain) -> list[tuple[float | None, float | None]]:
    """How low and how high the tail may go for each marked point: they do not change as the tail is slid."""
    return [(_meets(power, mark, -1.0), _meets(power, mark, 1.0)) for mark in power.marks]


def _meets(power: Powertrain, mark: Mark, way: float) -> float | None:
    """How far the tail goes one way until a gap comes to what is wanted; None where it never does."""

    def spare(rise: float) -> float:
        return gap_at(power, mark, rise) - mark.wanted_mm

    far = way * REACH_MM
    if not np.isfinite(spare(far)) or spare(0.0) <= 0.0 or spare(far) >= 0.0:
        return None
    return crossing(spare, 0.0, far, 1e-6)


def most_tail(power: Powertrain) -> tuple[float | None, str]:
    """The most the tail may be raised from where it was measured, mm, and what then comes to its mark first."""
    up = [(g.most_tail_mm, g.mark.name) for g in gaps(power) if g.most_tail_mm is not None]
    return min(up) if up else (None, "")


@dataclass(frozen=True)
class Crossmember:
    """What becomes of the gearbox crossmember: how much higher it goes, how far it turns, degrees, mm."""

    higher_mm: float
    turned_deg: float


def crossmember(power: Powertrain) -> Crossmember:
    """How the crossmember under the tail must follow."""
    return Crossmember(power.tail_up_mm, tilt_up_deg(power))
