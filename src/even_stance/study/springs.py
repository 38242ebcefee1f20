"""Springs at postures: how long each is, what it pushes, its motion ratio and wheel rate, and the axle's rates."""

from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np

from even_stance.errors import StanceError
from even_stance.mechanics.leaning import G
from even_stance.mechanics.secondorder import Moving, Rates, derivatives, distances, moving_points, wheel_rates
from even_stance.mechanics.vectors import Array
from even_stance.study.answers import Answers, study_postures
from even_stance.study.springunits import Unit, pair_lengths, units_of
from even_stance.vehicle.build import BuildSheet
from even_stance.vehicle.car import Axle, Vehicle
from even_stance.vehicle.springs import AirSpring, AnySpring, BumpStop, CoilOver, CoilSpring, Damped, Strap
from even_stance.vehicle.things import Clearances

_FROM_ROLL = {"left": np.array([1.0, -1.0]), "right": np.array([-1.0, 1.0])}


@dataclass(frozen=True, eq=False)
class SpringRun:
    """One spring at N postures.

    Attributes:
        unit: the spring.
        length: its length, mm, or twist, rad, shape (N,); slope: per mm of either wheel, shape (N, 2)
        bend: per mm of one and of the other wheel, shape (N, 2, 2), None where it was not asked for.
        force: its push, N (torque against its twist, N mm), shape (N,); rate: N/mm (N mm per rad), shape (N,)
    """

    unit: Unit
    length: Array
    slope: Array
    bend: Array | None
    force: Array
    rate: Array

    @property
    def motion_ratio(self) -> Array:
        """How much shorter it gets per mm that both wheels rise, 1, shape (N,)."""
        ratio: Array = -self.slope.sum(axis=-1)
        return ratio

    @property
    def roll_ratio(self) -> Array:
        """How much shorter it gets per mm that its own wheel rises and the other one drops, 1, shape (N,)."""
        ratio: Array = -(self.slope * _FROM_ROLL.get(self.unit.side, _FROM_ROLL["left"])).sum(axis=-1)
        return ratio

    @property
    def spring_part(self) -> Array:
        """What its rate gives at the wheel, k MR^2, N/mm, shape (N,)."""
        part: Array = self.rate * self.motion_ratio**2
        return part

    @property
    def geometry_part(self) -> Array:
        """What the change of its motion ratio gives, F dMR/dz, N/mm, shape (N,)."""
        assert self.bend is not None
        part: Array = -self.force * self.bend.sum(axis=(-2, -1))
        return part

    @property
    def wheel_rate(self) -> Array:
        """Both together: how its push on the axle grows per mm that both wheels rise, N/mm, shape (N,)."""
        both: Array = self.spring_part + self.geometry_part
        return both

    @property
    def push(self) -> Array:
        """What it pushes down on either wheel, by virtual work, N, shape (N, 2)."""
        down: Array = -self.force[..., None] * self.slope
        return down

    @property
    def rates(self) -> Array:
        """How that grows with the travel of one wheel and of the other, N/mm, shape (N, 2, 2)."""
        assert self.bend is not None
        outer = self.slope[..., :, None] * self.slope[..., None, :]
        both: Array = self.rate[..., None, None] * outer - self.force[..., None, None] * self.bend
        return both


@dataclass(frozen=True, eq=False)
class SpringStudy:
    """The springs of an axle at N postures.

    Attributes:
        runs: one for each unit; held: what leaves carry at ride height, N each wheel, shape (2,): not theirs to say.
    """

    runs: tuple[SpringRun, ...]
    held: Array

    @property
    def push(self) -> Array:
        """What all of them push down on either wheel, N, shape (N, 2)."""
        return sum((r.push for r in self.runs), start=self.held + np.zeros((1, 2)))

    @property
    def rates(self) -> Array:
        """The axle's rates: how that grows with the travel of either wheel, N/mm, shape (N, 2, 2)."""
        return sum((r.rates for r in self.runs), start=np.zeros((1, 2, 2)))

    def run(self, name: str) -> SpringRun | None:
        """The one of that name, if it is there."""
        return next((r for r in self.runs if r.unit.name == name), None)

    @property
    def springs(self) -> list[SpringRun]:
        """Those that carry the car."""
        return [r for r in self.runs if r.unit.spring]


@lru_cache(maxsize=32)
def bare_axle(axle: Axle) -> Axle:
    """An axle with nothing that its springs do not read: what was worked out of them stays while that changes."""
    steering = axle.steering if axle.steering is not None and axle.steering.kind == "swing_beams" else None
    return axle.model_copy(update={"output": None, "pinion": None, "shaft": None, "steering": steering})


@lru_cache(maxsize=16)
def bare_vehicle(vehicle: Vehicle) -> Vehicle:
    """A car with nothing that its springs do not read."""
    axles = tuple(bare_axle(a) for a in vehicle.axles)
    none = {"powertrain": None, "things": (), "clearances": Clearances(), "build": BuildSheet()}
    return vehicle.model_copy(update={"axles": axles, "over": "ride", "anti_uses": "whole", **none})


def lacking(axle: Axle) -> tuple[str, str]:
    """What is said where nothing is known that carries an axle: what is wrong, and what would do."""
    return "are not entered.", "The springs of all axles count: put them on in Springs."


def has_springs(axle: Axle) -> bool:
    """Whether anything carries the car on an axle: springs, or leaves."""
    return any(unit.spring for unit in units_of(axle))


def run_of(unit: Unit, answers: Answers, rates: Rates) -> SpringRun:
    """One spring, or many like it that differ a little (batch axes first), at solved postures."""
    moving = moving_points(answers.linkage, answers.pose, rates, unit.points)
    force, rate = (np.asarray(v) for v in unit.law(unit.measure(moving.at)))
    if rates.second is not None and not (force.any() or rate.any()):
        # A shock, a strap that hangs loose, a stop that is not met: how its motion ratio changes counts for nothing.
        length, slope, _ = derivatives(unit.measure, Moving(moving.at, moving.first, None))
        return SpringRun(unit, length, slope, np.zeros((*slope.shape, 2)), force, rate)
    length, slope, bend = derivatives(unit.measure, moving)
    return SpringRun(unit, length, slope, bend, force, rate)


def study_springs(vehicle: Vehicle, axle: Axle, answers: Answers, second: bool = True) -> SpringStudy:
    """Every spring of an axle at solved postures.

    Args:
        vehicle: the vehicle; axle: the axle; answers: it solved, links and all.
        second: whether the part of the rates that is geometry is wanted.
    """
    rates = wheel_rates(answers.linkage, answers.pose, answers.twists, answers.left, answers.right, second)
    units = units_of(axle)
    straight = [u for u in units if u.top is not None]
    plain = dict(zip((u.name for u in straight), _straight(straight, answers, rates), strict=True))
    runs = tuple(plain[u.name] if u.name in plain else run_of(u, answers, rates) for u in units)
    return SpringStudy(runs, leaf_hold(vehicle, axle))


def _straight(units: list[Unit], answers: Answers, rates: Rates) -> list[SpringRun]:
    """All springs that go straight from the chassis to the axle, worked out together."""
    if not units:
        return []
    moving = moving_points(answers.linkage, answers.pose, rates, np.concatenate([u.points for u in units]))
    length, slope, bend = distances(np.array([u.top for u in units]), moving)
    found = []
    for i, unit in enumerate(units):
        force, rate = (np.asarray(v) for v in unit.law(length[:, i]))
        found.append(SpringRun(unit, length[:, i], slope[:, i], None if bend is None else bend[:, i], force, rate))
    return found


def sprung_n(axle: Axle) -> float:
    """What of the car's weight the springs of an axle carry as weighed, N."""
    return (axle.load_kg - axle.unsprung_kg) * G


def leaf_hold(vehicle: Vehicle, axle: Axle) -> Array:
    """What leaves carry at ride height, N each wheel, shape (2,): what is left of the weight there; nil without leaves.

    A leaf's free arch says little of what it carries once clamped and settled; the car that was measured stood on it.
    """
    if not any(unit.kind == "leaf" for unit in units_of(axle)):
        return np.zeros(2)
    return _leaf_hold(axle, vehicle.cg_height_mm)


@lru_cache(maxsize=16)
def _leaf_hold(axle: Axle, _cg: float) -> Array:
    others = np.zeros(2)
    at = ride_answers(axle)
    if at is not None:
        rates = wheel_rates(at.linkage, at.pose, at.twists, at.left, at.right, second=False)
        others = sum((run_of(u, at, rates).push[0] for u in units_of(axle) if u.kind != "leaf"), start=others)
    return np.full(2, 0.5 * sprung_n(axle)) - others


def ride_answers(axle: Axle) -> Answers | None:
    """An axle solved at ride height by itself; None where nothing holds it."""
    return _ride_answers(bare_axle(axle))


@lru_cache(maxsize=16)
def _ride_answers(axle: Axle) -> Answers | None:
    alone = _alone(axle)
    try:
        return study_postures(alone, alone.axles[0], np.zeros(1), np.zeros(1)) if axle.members else None
    except StanceError:
        return None


def _alone(axle: Axle) -> Vehicle:
    """A car around one axle: what springs do depends on nothing else of it."""
    bare = bare_axle(axle)
    other = bare.model_copy(update={"key": f"beside {axle.key}", "members": (), "springs": (),
                                    "behind_front_mm": axle.behind_front_mm + 2500.0})  # fmt: skip
    return Vehicle.model_construct(axles=(bare, other), cg_height_mm=600.0)


def bind_mm(part: object) -> float | None:
    """The length between its mounts at which a coil of a part is solid, of a pair the lower; None without coils."""
    coils = getattr(part, "coils", ())
    if not coils:
        return None
    if isinstance(part, CoilOver) and part.upper is not None:
        return pair_lengths(part)[0]
    return float(part.seats_mm + coils[0].solid_mm)  # type: ignore[attr-defined]


def slack_mm(part: object) -> float | None:
    """The length between its mounts at which the coils of a part come loose; None without coils."""
    coils = getattr(part, "coils", ())
    return float(part.seats_mm + sum(c.free_mm - c.sag_mm for c in coils)) if coils else None  # type: ignore[attr-defined]


def ends_mm(unit: Unit) -> tuple[float | None, float | None]:
    """The lengths at which a unit is all the way in and all the way out, mm; None where it has no such end."""
    part = unit.part
    if isinstance(part, Damped | AirSpring):
        more = part.seats_mm if isinstance(part, AirSpring) else 0.0
        return part.closed_mm + more, part.open_mm + more
    if isinstance(part, CoilSpring):
        return bind_mm(part), slack_mm(part)
    if isinstance(part, BumpStop):
        return meets_mm(part) - part.squeeze_mm, None
    return (None, part.length_mm) if isinstance(part, Strap) else (None, None)


def ride_length(part: AnySpring) -> float:
    """How far apart both ends of a hung part are at ride height, mm."""
    top, bottom = (np.array(part.mounts[end].at.xyz) for end in ("top", "bottom"))
    return float(np.linalg.norm(bottom - top))


def meets_mm(part: BumpStop) -> float:
    """The length between its ends at which a bump stop meets its pad, mm."""
    return ride_length(part) - part.gap_mm


def machine_readable_springs(vehicle: Vehicle, axle: Axle, answers: Answers) -> dict[str, Any]:
    """The springs of an axle at the first of some postures, under the fixed keys; nothing where it has none."""
    if not axle.members or not units_of(axle):
        return {}
    return springs_said(vehicle, axle, study_springs(vehicle, axle, answers))


def springs_said(vehicle: Vehicle, axle: Axle, study: SpringStudy) -> dict[str, Any]:
    """Springs at the first of some postures, under the fixed keys.

    `motion_ratio` is how much shorter a spring gets per travel, both wheels together; `wheel_rate_n_mm` is k MR^2
    (it stands by itself as well) and F dMR/dz.
    """
    found = []
    for run in study.runs:
        closed, opened = ends_mm(run.unit)
        leaf, bar = run.unit.kind == "leaf", run.unit.kind == "sway_bar"
        length = float(run.length[0])
        said: dict[str, Any] = {"name": run.unit.name, "side": run.unit.side, "kind": run.unit.kind}
        if bar:
            said["twist_deg"] = float(np.degrees(length))
            said["torque_nm"] = float(-run.force[0]) / 1000.0
            said["rate_nm_deg"] = float(run.rate[0]) * np.pi / 180_000.0
        else:
            hold = float(leaf_hold(vehicle, axle)[0 if run.unit.side == "left" else 1]) if leaf else 0.0
            said |= {
                "length_mm": None if leaf else length,
                "force_n": float(run.force[0]) + hold,
                "motion_ratio": float(run.motion_ratio[0]),
                "roll_ratio": float(run.roll_ratio[0]),
                "one_wheel_ratio": float(-run.slope[0, 1 if run.unit.side == "right" else 0]),
                "wheel_rate_n_mm": float(run.wheel_rate[0]),
                "wheel_rate_spring_n_mm": float(run.spring_part[0]),
                "wheel_rate_geometry_n_mm": float(run.geometry_part[0]),
                "rate_n_mm": float(run.rate[0]),
                "to_closed_mm": None if closed is None else length - closed,
                "to_open_mm": None if opened is None else opened - length,
            }
            bind = bind_mm(run.unit.part)
            if bind is not None:
                said["to_bind_mm"] = length - bind
        # Where a rocker or a bar's link does not reach, there is nothing to say of its length and what follows from it.
        found.append({k: v for k, v in said.items() if v is not None and (isinstance(v, str) or np.isfinite(v))})
    return {"springs": found}


def marks_of(unit: Unit) -> list[tuple[str, float]]:
    """The lengths of a spring at which something happens: what, and mm."""
    part, (closed, opened) = unit.part, ends_mm(unit)
    found: list[tuple[str, float]] = []
    if isinstance(part, BumpStop):
        return [("touches", meets_mm(part)), ("solid", meets_mm(part) - part.squeeze_mm)]
    if isinstance(part, Strap):
        return [("tight", part.length_mm)]
    coil = unit.kind == "coil"
    if closed is not None and not coil:
        found.append(("closed", closed))
    if opened is not None and not coil:
        found.append(("open", opened))
    bind, slack = bind_mm(part), slack_mm(part)
    if bind is not None:
        found.append(("bind", bind))
    if slack is not None:
        found.append(("slack", slack))
    if isinstance(part, CoilOver) and part.upper is not None:
        found.append(("crossover", pair_lengths(part)[1]))
    return found
