"""What springs are judged by: strokes left, coil bind, motion ratio, frequency, where a car sits, how it leans."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from even_stance.errors import InputError
from even_stance.mechanics.leaning import heave_rate, roll_stiffness
from even_stance.mechanics.pose import Pose
from even_stance.mechanics.secondorder import wheel_rates
from even_stance.mechanics.vectors import Array
from even_stance.study.answers import Answers
from even_stance.study.beamsprings import beam_springs
from even_stance.study.figures import AxleStudy, Figure
from even_stance.study.ride import AxleRide, axle_ride, leaning, leans
from even_stance.study.sensitivity import Input, Slopes
from even_stance.study.springs import bare_vehicle, bind_mm, ends_mm, ride_answers, run_of
from even_stance.study.springunits import Ends, Unit, unit_of, units_of, upper_closes
from even_stance.study.standing import stand
from even_stance.vehicle.car import Axle, Vehicle
from even_stance.vehicle.members import Rod
from even_stance.vehicle.spots import Spot
from even_stance.vehicle.springs import AnySpring, CoilOver

_STEP_MM, _BEAM_STEPS = 0.5, 61
_TAPE_MM = 1.5875  # of lengths that are read off a shock or coil (a tape: 1/16 in)
_WAYS = ("ahead", "left", "up")
STROKES = ("stroke_droop_mm", "stroke_bump_mm", "bind_margin_mm")


@dataclass(frozen=True)
class Least:
    """The least that is left of something over all postures: how much, of which spring, and at which posture."""

    mm: float
    unit: Unit
    posture: int


def _measured(unit: Unit, pose: Pose, center: Array) -> Array:
    """How long a spring is at poses of its axle, mm, shape (..., N)."""
    arm = (unit.points - center) @ np.swapaxes(pose.rotation, -1, -2)
    return unit.measure(pose.center[..., None, :] + arm)


def _left(unit: Unit, key: str, length: Array) -> Array | None:
    """How much is left of a stroke at some lengths, mm; None where the unit has no such stroke."""
    part = unit.part
    if key == "bind_margin_mm":
        bind = bind_mm(part)
        return None if bind is None else length - bind
    if unit.kind in ("bump_stop", "strap", "coil"):
        return None
    closed, opened = ends_mm(unit)
    if key == "stroke_bump_mm":
        return None if closed is None else length - closed
    return None if opened is None else opened - length


def least_left(axle: Axle, runs: tuple[Answers, ...]) -> dict[str, Least]:
    """The least stroke and bind margin left over all postures of some runs, one after the other."""
    pose = Pose.stacked([run.pose for run in runs])
    ok = np.concatenate([run.ok for run in runs])
    found: dict[str, Least] = {}
    for unit in units_of(axle):
        if unit.kind in ("sway_bar", "leaf"):
            continue
        length = np.where(ok, _measured(unit, pose, runs[0].linkage.center), np.nan)
        for key in STROKES:
            left = _left(unit, key, length)
            if left is None or not np.isfinite(left).any():
                continue
            i = int(np.nanargmin(left))
            if key not in found or left[i] < found[key].mm:
                found[key] = Least(float(left[i]), unit, i)
    return found


def _where(axle: Axle, runs: tuple[Answers, ...], least: Least) -> str:
    """Of which spring, and at which posture."""
    left, right = (float(np.concatenate([getattr(r, n) for r in runs])[least.posture]) for n in ("left", "right"))
    if abs(left - right) > 1.0:
        how = f"left wheel {'up' if left > right else 'down'}, right wheel {'down' if left > right else 'up'}"
    else:
        how = "in bump" if left > 1.0 else "in droop" if left < -1.0 else "at ride height"
        how = how.replace("in ", "at full ") if min(abs(left - axle.bump_mm), abs(left + axle.droop_mm)) < 1.0 else how
    return f"{least.unit.name}, {how}"


@lru_cache(maxsize=4)
def _sits(vehicle: Vehicle) -> tuple[tuple[str, float], ...] | str:
    """How high every axle sits over ride height, mm; or why that cannot be said."""
    try:
        found = stand(vehicle)
    except InputError as error:
        return str(error)
    return tuple((a.key, -0.5 * sum(found.travel(a.key))) for a in vehicle.axles)


def front_weight_pct(rides: list[AxleRide]) -> float:
    """What of the weight of some axles stands on the first, %."""
    loads = [r.axle.load_kg for r in rides]
    return 100.0 * loads[0] / sum(loads)


def car_values(vehicle: Vehicle, rides: list[AxleRide], stiffness: Array | None = None) -> dict[str, Array]:
    """What is judged of the whole car: roll per g, how the front shares what goes across, when a wheel lifts.

    Args:
        vehicle: the vehicle; rides: its axles; stiffness: others than theirs, N mm per rad, shape (n, k)

    Returns:
        Values, shape (n,), or () of the car as it is, nan where there is none; nothing where weights do not tell how
        high the sprung mass is.
    """
    own = np.array([r.stiffness for r in rides]) if stiffness is None else stiffness
    try:
        roll, transfer, lift = leans(vehicle, rides, own)
    except InputError:
        return {}
    stands, first = np.isfinite(roll), lift.min(axis=-1)
    return {
        "roll_per_g_deg": np.degrees(roll),
        "transfer_over_weight_pct": 100.0 * transfer[..., 0] / np.where(stands, transfer.sum(axis=-1), np.nan)
        - front_weight_pct(rides),
        "inside_lift_g": np.where(stands & np.isfinite(first), first, np.nan),
    }


def _rides(vehicle: Vehicle) -> list[AxleRide] | None:
    """Every axle at ride height; None while one of them has no springs or no weight."""
    found = [axle_ride(vehicle, axle) for axle in vehicle.axles]
    every = [r for r in found if r is not None and r.sprung_kg > 0.0]
    return every if len(every) == len(found) else None


def ride_figures(vehicle: Vehicle, study: AxleStudy, uncertainties: dict[str, float] | None = None) -> list[Figure]:
    """The figures of an axle's springs with their +/-; none where it has none.

    Args:
        vehicle: the vehicle; study: the axle, with its travel.
        uncertainties: the +/- of a moment ago, to stand in while a point is on its way.
    """
    axle = study.axle
    if not units_of(axle):
        return []
    bare = bare_vehicle(vehicle)
    values, notes = _values(bare, axle, (study.travel.sweep, study.travel.cross))
    if uncertainties is None:
        slopes = ride_slopes(vehicle, study)
        uncertainties = {key: slopes.uncertainty(key) for key in values if key in slopes.of}
    return [
        Figure(key, value, uncertainties.get(key, 0.0), notes.get(key, ""))
        for key, value in values.items() if np.isfinite(value)
    ]  # fmt: skip


def beam_ride_figures(vehicle: Vehicle, axle: Axle) -> list[Figure]:
    """The figures of springs on swing beams; none where it has none. Strokes are as sure as mounts and tape."""
    travel = np.linspace(-axle.droop_mm, axle.bump_mm, _BEAM_STEPS)
    study = beam_springs(axle, travel, travel)
    if study is None or not study.runs:
        return []
    bare = bare_vehicle(vehicle)
    found: dict[str, tuple[float, float, str]] = {}
    for run in study.runs:
        for key in STROKES if run.unit.kind not in ("sway_bar", "leaf") else ():
            left = _left(run.unit, key, run.length)
            if left is None or not np.isfinite(left).any():
                continue
            i = int(np.nanargmin(left))
            if key not in found or left[i] < found[key][0]:
                mounts = [m.at.sure for m in run.unit.part.mounts.values()]
                where = "in bump" if travel[i] > 1.0 else "in droop" if travel[i] < -1.0 else "at ride height"
                found[key] = (float(left[i]), float(np.hypot(np.linalg.norm(mounts), _TAPE_MM)),
                              f"{run.unit.name}, {where}")  # fmt: skip
    values, notes = _carried(bare, axle)
    figures = [Figure(key, value, sure, note) for key, (value, sure, note) in found.items()]
    return figures + [Figure(k, v, 0.0, notes.get(k, "")) for k, v in values.items() if np.isfinite(v)]


def _values(vehicle: Vehicle, axle: Axle, runs: tuple[Answers, ...]) -> tuple[dict[str, float], dict[str, str]]:
    """Every figure and what it is about."""
    values: dict[str, float] = {}
    notes: dict[str, str] = {}
    for key, least in least_left(axle, runs).items():
        values[key], notes[key] = least.mm, _where(axle, runs, least)
    pairs = [u.part for u in units_of(axle) if isinstance(u.part, CoilOver) and u.part.upper is not None]
    if pairs:
        values["crossover_mm"] = min(crossover_left(p) for p in pairs)
    carried, more = _carried(vehicle, axle)
    return values | carried, notes | more


def _carried(vehicle: Vehicle, axle: Axle) -> tuple[dict[str, float], dict[str, str]]:
    """How an axle rides, where it sits, how the car leans, and what each is about."""
    values: dict[str, float] = {}
    notes: dict[str, str] = {}
    ride = axle_ride(vehicle, axle)
    if ride is None:
        return values, notes
    values["motion_ratio_x"] = ride.motion_ratios[0]
    notes["motion_ratio_x"] = f"in roll {ride.motion_ratios[1]:.2f}"
    if ride.frequency_hz is not None:
        values["ride_frequency_hz"] = ride.frequency_hz
        if axle.tire.rate_n_mm is None:
            notes["ride_frequency_hz"] = "tires guessed from their size"
    rides = _rides(vehicle)
    if rides is None:
        return values, notes
    sits = _sits(vehicle)
    if not isinstance(sits, str):
        values["sits_off_mm"] = dict(sits)[axle.key]
    values |= {key: float(value) for key, value in car_values(vehicle, rides).items()}
    if np.isfinite(values.get("inside_lift_g", np.nan)):
        lifts = leaning(vehicle, rides).lift_g
        first = min(lifts, key=lambda k: lifts[k])
        others = [f"{k} {g:.1f} g" if np.isfinite(g) else f"{k} never" for k, g in lifts.items() if k != first]
        notes["inside_lift_g"] = ", ".join((f"the {first} first", *others))
    return values, notes


def crossover_left(part: CoilOver) -> float:
    """How far the upper coil of a pair is from closed when its slider meets the stop, mm; nil without a stop."""
    assert part.upper is not None
    return part.upper.free_mm - part.upper.sag_mm - part.upper.solid_mm - upper_closes(part)


def _varied(part: AnySpring, rods: dict[str, Rod]) -> tuple[Unit, list[tuple[str, int]]]:
    """A spring with every coordinate of its mounts moved forth and back, and which they are: shape (2 m, 1)."""
    ends = list(part.mounts)
    which = [(end, axis) for end in ends for axis in range(3)]
    base = {end: np.array(mount.at.xyz) for end, mount in part.mounts.items()}
    at: Ends = {}
    for end in ends:
        many = np.tile(base[end], (2 * len(which), 1, 1))
        for i, (moved, axis) in enumerate(which):
            if moved == end:
                many[2 * i, 0, axis] += _STEP_MM
                many[2 * i + 1, 0, axis] -= _STEP_MM
        at[end] = many
    return unit_of(part, rods, at), which


def ride_slopes(vehicle: Vehicle, study: AxleStudy) -> Slopes:
    """What moves every figure of an axle's springs, per mm of every coordinate of their mounts and of the CG."""
    vehicle, axle = bare_vehicle(vehicle), study.axle
    runs = (study.travel.sweep, study.travel.cross)
    at, ride, rides = ride_answers(axle), axle_ride(vehicle, axle), _rides(vehicle)
    values, _ = _values(vehicle, axle, runs)
    least = least_left(axle, runs)
    rods = {m.name: m for m in axle.members if isinstance(m, Rod)}
    inputs: list[Input] = []
    columns: dict[str, list[float]] = {key: [] for key in values}
    for part in axle.springs:
        many, which = _varied(part, rods)
        of = {key: _stroke_slopes(key, axle, many, part, least, runs) for key in STROKES if key in values}
        own = None if ride is None else ride.springs.run(part.name)
        if at is not None and ride is not None and own is not None and (own.unit.spring or own.rate.any()):
            of |= _ride_slopes(vehicle, at, many, part, ride, rides)
        for i, (end, axis) in enumerate(which):
            spot = Spot(axle.key, part.name, end)
            inputs.append(Input("point", f"{spot.words}: {_WAYS[axis]}", part.mounts[end].at.sure, spot, axis))
            for key, column in columns.items():
                found = of.get(key)
                column.append(0.0 if found is None or not np.isfinite(found[i]) else float(found[i]))
    for key in STROKES:
        if key in values:
            inputs.append(Input("typed", f"{least[key].unit.name}: its stroke as taped", _TAPE_MM))
            for other, column in columns.items():
                column.append(1.0 if other == key else 0.0)
    if ride is not None and "ride_frequency_hz" in columns:
        inputs.append(Input("typed", "Tires: stiffer by 1 N/mm", ride.tire_sure_n_mm))
        rate = heave_rate(ride.rates)
        stiffer, softer = (float(ride.frequency_at(rate, ride.tire_n_mm + by)) for by in (0.5, -0.5))
        for key, column in columns.items():
            column.append(stiffer - softer if key == "ride_frequency_hz" else 0.0)
    return _with_cg(vehicle, rides, inputs, columns)


def _with_cg(
    vehicle: Vehicle, rides: list[AxleRide] | None, inputs: list[Input], columns: dict[str, list[float]]
) -> Slopes:
    """The slopes so far, and those with the height of the CG."""
    inputs.append(Input("cg", "CG height: up", vehicle.cg_sure_mm))
    change: dict[str, float] = {}
    if rides is not None:
        step = 5.0
        high, low = (
            car_values(vehicle.model_copy(update={"cg_height_mm": vehicle.cg_height_mm + s * step}), rides)
            for s in (1.0, -1.0)
        )
        change = {k: float(high[k] - low[k]) / (2.0 * step) for k in high.keys() & low.keys()}
    for key, column in columns.items():
        slope = change.get(key, 0.0)
        column.append(slope if np.isfinite(slope) else 0.0)
    return Slopes(tuple(inputs), {key: np.array(column) for key, column in columns.items()})


def _central(values: Array) -> Array:
    """Per mm, from values moved forth and back by turns, shape (2 m,) to (m,)."""
    slope: Array = (values[0::2] - values[1::2]) / (2.0 * _STEP_MM)
    return slope


def _stroke_slopes(
    key: str, axle: Axle, many: Unit, part: AnySpring, least: dict[str, Least], runs: tuple[Answers, ...]
) -> Array | None:
    """How a stroke goes with the mounts of one spring: with those alone whose stroke it is."""
    found = least[key]
    if found.unit.name != part.name:
        return None
    pose = Pose.stacked([run.pose for run in runs]).part(slice(found.posture, found.posture + 1))
    left = _left(many, key, _measured(many, pose, runs[0].linkage.center)[..., 0])
    return None if left is None else _central(left)


def _ride_slopes(
    vehicle: Vehicle, at: Answers, many: Unit, part: AnySpring, ride: AxleRide, rides: list[AxleRide] | None
) -> dict[str, Array]:
    """How frequency, motion ratio and lean go with the mounts of one spring."""
    rates = wheel_rates(at.linkage, at.pose, at.twists, at.left, at.right)
    run = run_of(many, at, rates)
    own = ride.springs.run(part.name)
    assert own is not None
    changed = ride.rates + run.rates[:, 0] - own.rates[0]
    found: dict[str, Array] = {}
    if many.spring:
        share = 1.0 / len(ride.springs.springs)
        found["motion_ratio_x"] = share * _central(run.motion_ratio[:, 0])
    if ride.sprung_kg > 0.0:
        found["ride_frequency_hz"] = _central(ride.frequency_at(heave_rate(changed)))
        heave = float(heave_rate(ride.rates))
        if heave > 0.0:
            found["sits_off_mm"] = _central(run.push[:, 0].sum(axis=-1)) / heave
    if rides is not None:
        stiff = np.tile([r.stiffness for r in rides], (len(changed), 1))
        here = next(i for i, r in enumerate(rides) if r.axle.key == ride.axle.key)
        stiff[:, here] = roll_stiffness(changed, ride.axle.track_mm)
        found |= {key: _central(each) for key, each in car_values(vehicle, rides, stiff).items()}
    return found
