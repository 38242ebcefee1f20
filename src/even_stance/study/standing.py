"""Where the car sits: springs, weight and what it carries in balance, corner by corner."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from even_stance.errors import InputError
from even_stance.mechanics.leaning import G
from even_stance.mechanics.motion import twists
from even_stance.mechanics.position import solve_posture
from even_stance.mechanics.secondorder import derivatives, distances, moving_points, wheel_rates
from even_stance.mechanics.vectors import Array
from even_stance.study.beamsprings import beam_springs
from even_stance.study.model import axle_title
from even_stance.study.ride import AxleRide, all_rides, bushing_rates, roll_arm_mm
from even_stance.study.springs import bare_vehicle, leaf_hold, ride_answers
from even_stance.study.springunits import units_of
from even_stance.vehicle.car import Axle, Vehicle
from even_stance.vehicle.springs import Cargo, CoilOver, CoilSpring, Rocker

_ROUNDS, _CLOSE_N, _FAR_MM = 30, 0.01, 60.0
_SPLIT = 0.5
TURNS_G = (0.3, 0.5)
"""How hard the turns are that a car is looked at in: hard on a road, and near to what tires hold (common practice)."""
_IN_VAIN = 8  # after so many rounds in a row that bring it no nearer there is no place where the springs hold the car
_SLOW = 0.2  # a round that leaves more than this of what was left over wants rates of its own


@dataclass(frozen=True)
class Corner:
    """One wheel of the car as it sits: its travel from ride height, mm, and what its tire carries, N."""

    axle: str
    side: str
    travel_mm: float
    load_n: float


@dataclass(frozen=True)
class Standing:
    """The car in balance on its springs.

    Attributes:
        corners: front to rear, left before right; lean_deg: how far the body leans, + left side down.
        cross_pct: of the whole weight, what the left front and right rear tires carry; residual_n: what is left over.
    """

    corners: tuple[Corner, ...]
    lean_deg: float
    cross_pct: float
    residual_n: float

    def travel(self, axle: str) -> tuple[float, float]:
        """Travel of the left and right wheel of an axle, mm, bump +."""
        left, right = (c.travel_mm for c in self.corners if c.axle == axle)
        return left, right

    def load(self, axle: str) -> tuple[float, float]:
        """What the left and right tire of an axle carry, N."""
        left, right = (c.load_n for c in self.corners if c.axle == axle)
        return left, right


def push_at(vehicle: Vehicle, axle: Axle, left: float, right: float, exact: bool = True) -> tuple[Array, Array | None]:
    """What the springs of an axle push down on either wheel, N, shape (2,), and its rates, N/mm, shape (2, 2).

    Rates are left out where they are not asked for: they cost more than the pushes.

    Raises:
        InputError: the axle locks up before it gets there.
    """
    lefts, rights = np.array([left]), np.array([right])
    on_beams = beam_springs(axle, lefts, rights)
    if on_beams is not None:
        if not np.isfinite(on_beams.push).all():
            raise InputError(axle_title(axle), "has a beam that does not reach so far.", "Check weights and springs.")
        return on_beams.push[0], on_beams.rates[0] if exact else None
    at = ride_answers(axle)
    assert at is not None
    linkage = at.linkage
    pose = solve_posture(linkage, lefts, rights)
    if not pose.ok[0]:
        raise InputError(
            axle_title(axle), f"locks up before its springs hold it: {left:+.0f} and {right:+.0f} mm of travel.",
            "Check weights, rates and free lengths.",
        )  # fmt: skip
    rates = wheel_rates(linkage, pose, twists(linkage, pose), lefts, rights, second=exact)
    stiff = bushing_rates(axle).copy()
    down = leaf_hold(vehicle, axle) + stiff @ [left, right]
    units = units_of(axle)
    straight = [u for u in units if u.top is not None]
    if straight:
        moving = moving_points(linkage, pose, rates, np.concatenate([u.points for u in straight]))
        lengths, slopes, bends = distances(np.array([u.top for u in straight]), moving)
        for i, unit in enumerate(straight):
            force, rate = unit.law(lengths[:, i])
            down -= force[0] * slopes[0, i]
            if bends is not None:
                stiff += rate[0] * np.outer(slopes[0, i], slopes[0, i]) - force[0] * bends[0, i]
    for unit in (u for u in units if u.top is None):
        moving = moving_points(linkage, pose, rates, unit.points)
        force, rate = unit.law(unit.measure(moving.at))
        if not force.any() and not rate.any():
            continue
        length, slope, bend = derivatives(unit.measure, moving)
        if np.isfinite(length[0]):
            down -= force[0] * slope[0]
            if bend is not None:
                stiff += rate[0] * np.outer(slope[0], slope[0]) - force[0] * bend[0]
    return down, stiff if exact else None


def weight_of(vehicle: Vehicle, cargo: tuple[Cargo, ...], aside_mm: float = 0.0) -> Array:
    """What springs carry: the weight, N, and its moments about front axle and centerline, N mm, shape (3,)."""
    sprung = np.array([(a.load_kg - a.unsprung_kg) * G for a in vehicle.axles])
    behind = np.array([a.behind_front_mm for a in vehicle.axles])
    total = np.array([sprung.sum(), (sprung * behind).sum(), vehicle.mass_kg * G * aside_mm])
    for thing in cargo:
        total = total + thing.mass_kg * G * np.array([1.0, thing.behind_front_mm, thing.left_mm])
    found: Array = total
    return found


def stand(
    vehicle: Vehicle, cargo: tuple[Cargo, ...] | None = None, aside_mm: float = 0.0, side_g: float = 0.0
) -> Standing:
    """Where the car sits on its springs: three freedoms of the body, Newton's method on exact pushes.

    Rates are those at ride height as long as they bring it nearer fast, else those where it has come to.

    Args:
        vehicle: the vehicle.
        cargo: what it carries besides what was weighed; what is aboard if not given.
        aside_mm: how far left of the centerline the weight as weighed is.
        side_g: how hard it turns, g: to the right, so that it leans to the left.

    Raises:
        InputError: an axle has no springs or is not weighed, or the springs cannot hold the car up.
    """
    found = _tried(bare_vehicle(vehicle), vehicle_cargo(vehicle) if cargo is None else cargo, aside_mm, side_g)
    if isinstance(found, InputError):
        raise found.with_traceback(None)
    return found


@lru_cache(maxsize=8)
def _tried(vehicle: Vehicle, cargo: tuple[Cargo, ...], aside_mm: float, side_g: float) -> Standing | InputError:
    """Where the car sits, or why it does not: that takes longest to find, and is asked for as often."""
    try:
        return _stand(vehicle, cargo, aside_mm, side_g)
    except InputError as error:
        return error


def _stand(vehicle: Vehicle, cargo: tuple[Cargo, ...], aside_mm: float, side_g: float) -> Standing:
    rides = all_rides(vehicle)
    load = weight_of(vehicle, cargo, aside_mm)
    arm = load[0] * roll_arm_mm(vehicle, rides)
    # What pulls the sprung mass outward turns it about the roll axis as its own leaning does.
    load[2] += arm * side_g
    # How either wheel of every axle goes up as the body sinks, sinks more toward the rear, and leans to the left.
    ways = np.array([
        [1.0, a.behind_front_mm, s * _SPLIT * a.track_mm] for a in vehicle.axles for s in (1.0, -1.0)
    ])  # fmt: skip
    size = np.array([1.0, 1.0 / max(vehicle.wheelbase_mm, 1.0), 1.0 / 700.0])
    place, rest, stiff = np.zeros(3), np.inf, None
    least, since = np.inf, 0
    for _ in range(_ROUNDS):
        before, travel = rest, ways @ place
        pushes, there = _pushes(vehicle, rides, travel, stiff is None)
        off = load - ways.T @ pushes + np.array([0.0, 0.0, arm * place[2]])
        rest = float(np.abs(off * size).max())
        since = 0 if rest < 0.9 * least else since + 1
        least = min(least, rest)
        if rest < _CLOSE_N or since > _IN_VAIN:
            break
        stiff = stiff if there is None else there
        if there is None and rest > _SLOW * before:
            stiff = _pushes(vehicle, rides, travel, True)[1]
        assert stiff is not None
        system = ways.T @ stiff @ ways - np.diag([0.0, 0.0, arm])
        try:
            step = np.linalg.solve(system, off)
        except np.linalg.LinAlgError:
            break
        most = float(np.abs(ways @ step).max())
        place = place + step * min(1.0, _FAR_MM / max(most, 1e-9))
        if np.abs(ways @ place).max() > 1000.0:
            break
    if rest > 0.1:
        raise InputError(
            "Springs", "cannot carry the car.",
            "They are too soft, too short or come loose before they hold it up: check rates and free lengths.",
        )  # fmt: skip
    return _stands(vehicle, ways @ place, pushes, float(np.degrees(place[2])), rest)


def _pushes(vehicle: Vehicle, rides: list[AxleRide], travel: Array, exact: bool) -> tuple[Array, Array | None]:
    """What all springs push down on every wheel, N, and their rates where asked for; known at ride height."""
    pushes, stiff = np.zeros(len(travel)), np.zeros((len(travel), len(travel)))
    for i, ride in enumerate(rides):
        both = slice(2 * i, 2 * i + 2)
        left, right = travel[both]
        if not left and not right:
            pushes[both], stiff[both, both] = ride.springs.push[0], ride.rates
            continue
        pushes[both], rates = push_at(vehicle, ride.axle, float(left), float(right), exact)
        stiff[both, both] = 0.0 if rates is None else rates
    return pushes, stiff if exact else None


def _stands(vehicle: Vehicle, travel: Array, pushes: Array, lean: float, rest: float) -> Standing:
    corners, total, cross = [], 0.0, 0.0
    for i, axle in enumerate(vehicle.axles):
        for j, side in enumerate(("left", "right")):
            load = float(pushes[2 * i + j]) + 0.5 * axle.unsprung_kg * G
            corners.append(Corner(axle.key, side, float(travel[2 * i + j]), load))
            total += load
            cross += load if (i == 0) == (j == 0) else 0.0
    return Standing(tuple(corners), lean, 100.0 * cross / total if total else 50.0, rest)


def leans_at(vehicle: Vehicle, side_g: float) -> float:
    """How far the body rolls in a turn, degrees, as weighed, on its springs, stops and straps as they are there.

    Args:
        vehicle: the vehicle; side_g: how hard it turns, g.

    Raises:
        InputError: as `stand`; or an axle locks up before its springs hold the lean.

    Source: derived here; Gillespie, Fundamentals of Vehicle Dynamics, ch. 6, is its slope at nil.
    """
    return stand(vehicle, (), side_g=side_g).lean_deg - stand(vehicle, ()).lean_deg


def vehicle_cargo(vehicle: Vehicle) -> tuple[Cargo, ...]:
    """What is aboard now."""
    return tuple(c for c in vehicle.cargo if c.aboard)


def as_bought(vehicle: Vehicle) -> Vehicle:
    """The car with its coils as they were new: none has settled; the same car where none has."""
    if not any(c.sag_mm for a in vehicle.axles for s in a.springs for c in getattr(s, "coils", ())):
        return vehicle

    def fresh(axle: Axle) -> Axle:
        springs = tuple(
            s.model_copy(update={n: c.model_copy(update={"sag_mm": 0.0}) for n in ("coil", "upper")
                                 if (c := getattr(s, n, None)) is not None})
            if isinstance(s, CoilOver | CoilSpring | Rocker) else s
            for s in axle.springs
        )  # fmt: skip
        return axle.model_copy(update={"springs": springs})

    return vehicle.model_copy(update={"axles": tuple(fresh(a) for a in vehicle.axles)})


@dataclass(frozen=True)
class Wanted:
    """What would have to change for an axle to sit at ride height, each main spring alike.

    Attributes:
        name: the spring.
        longer_mm: how much longer its coil would have to be free; turns: of the collar, + down; pressure_bar: of air.
    """

    name: str
    longer_mm: float | None = None
    turns: float | None = None
    pressure_bar: float | None = None


def wanted_at_ride(vehicle: Vehicle, axle: Axle, cargo: tuple[Cargo, ...] | None = None) -> list[Wanted]:
    """What free length, collar or pressure holds an axle at ride height with what the car carries.

    Raises:
        InputError: it has no springs or is not weighed.
    """
    ride = next(r for r in all_rides(vehicle) if r.axle.key == axle.key)
    load = weight_of(vehicle, vehicle_cargo(vehicle) if cargo is None else cargo)
    need = axle_share(vehicle, load)[axle.key]
    push = ride.springs.push[0]
    lacking = 0.5 * need - push  # each wheel
    found = []
    for run in ride.springs.springs:
        if run.unit.kind == "leaf" or not run.rate[0] > 0.0:
            continue
        ratio = float(run.motion_ratio[0])
        more = float(lacking[0 if run.unit.side == "left" else 1]) / ratio if abs(ratio) > 1e-6 else 0.0
        now, part = float(run.force[0]), run.unit.part
        if run.unit.kind == "air":
            pressure = part.pressure_bar * (now + more) / max(now, 1e-9)  # type: ignore[union-attr]
            found.append(Wanted(run.unit.name, pressure_bar=pressure))
            continue
        longer = more / float(run.rate[0])
        pitch = getattr(part, "pitch_mm", None)
        found.append(Wanted(run.unit.name, longer, None if pitch is None else longer / pitch))
    return found


def axle_share(vehicle: Vehicle, load: Array) -> dict[str, float]:
    """What of the sprung weight each axle has to carry, N; of a tandem its axles alike."""
    front, rear = vehicle.axles[0], vehicle.axles[1:]
    back = float(load[1]) / vehicle.wheelbase_mm
    shares = {front.key: float(load[0]) - back}
    return shares | {a.key: back / len(rear) for a in rear}
