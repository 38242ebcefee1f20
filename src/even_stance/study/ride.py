"""How the car rides and leans: frequency, roll stiffness, roll per g, load transfer, and when an inside wheel lifts."""

from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np

from even_stance.errors import InputError
from even_stance.mechanics.leaning import (
    G,
    heave_rate,
    ride_frequency,
    roll_per_g,
    roll_stiffness,
    transfer_per_g,
)
from even_stance.mechanics.position import solve_posture
from even_stance.mechanics.secondorder import wheel_rates
from even_stance.mechanics.tires import in_series, tire_rate
from even_stance.mechanics.vectors import Array
from even_stance.study.answers import cg_height
from even_stance.study.beams import beams_of
from even_stance.study.beamsprings import beam_roll_center, beams_at_ride
from even_stance.study.model import axle_title
from even_stance.study.springs import SpringStudy, bare_axle, has_springs, lacking, ride_answers, run_of, study_springs
from even_stance.study.springunits import units_of
from even_stance.vehicle.car import Axle, Tire, Vehicle

NM_DEG = np.pi / 180.0 / 1000.0  # N m per degree from N mm per rad
_STEP_MM = 4.0
USUAL_BAR = 2.0
"""What tires are taken to be filled to while nobody said, bar (common practice, no source)."""


def rate_of_tire(tire: Tire) -> float:
    """How stiff a tire is, N/mm: as typed, else guessed from its size and pressure."""
    if tire.rate_n_mm is not None:
        return tire.rate_n_mm
    return tire_rate(tire.free_diameter_mm, tire.width_mm, tire.pressure_bar or USUAL_BAR)


@dataclass(frozen=True, eq=False)
class AxleRide:
    """How one axle rides at ride height.

    Attributes:
        axle: which; springs: its springs there.
        rates: how the force at either wheel grows with the travel of either, N/mm, shape (2, 2), bushings counted in
        bushings: what of it the bushings of the links hold as they are twisted and pressed, N/mm, shape (2, 2)
        roll_center_mm: over the ground.
    """

    axle: Axle
    springs: SpringStudy
    rates: Array
    bushings: Array
    roll_center_mm: float

    @property
    def stiffness(self) -> float:
        """Roll stiffness, N mm per rad."""
        return float(roll_stiffness(self.rates, self.axle.track_mm))

    @property
    def bar_stiffness(self) -> float:
        """What of it sway bars give, N mm per rad."""
        bars = [r.rates[0] for r in self.springs.runs if r.unit.kind == "sway_bar"]
        return float(roll_stiffness(sum(bars, start=np.zeros((2, 2))), self.axle.track_mm))

    @property
    def bushing_stiffness(self) -> float:
        """What of it the bushings of the links give, N mm per rad."""
        return float(roll_stiffness(self.bushings, self.axle.track_mm))

    @property
    def at_wheels(self) -> float:
        """The roll stiffness there would be with the wheel rates out at the tires, N mm per rad: what it is not."""
        return 0.25 * self.axle.track_mm**2 * float(heave_rate(self.rates))

    @property
    def sprung_kg(self) -> float:
        """What of the car is carried by its springs here."""
        return self.axle.load_kg - self.axle.unsprung_kg

    @property
    def tire_n_mm(self) -> float:
        """How stiff each of its tires is: as typed, else guessed from size and pressure."""
        return rate_of_tire(self.axle.tire)

    @property
    def tire_sure_n_mm(self) -> float:
        """The +/- of that: a tenth of what was measured, a fifth of a guess (common practice, no source)."""
        return (0.2 if self.axle.tire.rate_n_mm is None else 0.1) * self.tire_n_mm

    def frequency_at(self, rate: Array, tire_n_mm: float | None = None) -> Array:
        """How often it goes up and down in a second on its tires, at other rates of both wheels, N/mm, shape (...)."""
        tires = 2.0 * (self.tire_n_mm if tire_n_mm is None else tire_n_mm)
        return ride_frequency(in_series(rate, tires), self.sprung_kg)

    @property
    def frequency_hz(self) -> float | None:
        """How often it goes up and down in a second; None while it is not weighed, or its springs hold nothing up."""
        if self.sprung_kg <= 0.0:
            return None
        found = float(self.frequency_at(heave_rate(self.rates)))
        return found if np.isfinite(found) else None

    @property
    def motion_ratios(self) -> tuple[float, float]:
        """Of the springs that carry the car, the mean of all: in heave and in roll."""
        runs = self.springs.springs
        return tuple(float(np.mean([getattr(r, n)[0] for r in runs])) for n in ("motion_ratio", "roll_ratio"))  # type: ignore[return-value]


@dataclass(frozen=True)
class CarRide:
    """How the whole car leans, per g of side acceleration.

    Attributes:
        roll_deg: how far the body rolls; front_share_pct: what of the roll stiffness is at the front axle.
        front_transfer_pct: what of all that goes across does so in front; front_weight_pct: what of the weight.
        lift_g: by axle, at how many g its inside wheel lifts; transfer_n: what goes across to its outer tire.
        arm_mm: how high the sprung mass is over the roll axis; gravity_pct: how much its own leaning adds to the roll.
        load_n: standing load of both tires, by axle.
    """

    roll_deg: float
    front_share_pct: float
    front_transfer_pct: float
    front_weight_pct: float
    lift_g: dict[str, float]
    transfer_n: dict[str, float]
    arm_mm: float
    gravity_pct: float
    load_n: dict[str, float]


def axle_ride(vehicle: Vehicle, axle: Axle) -> AxleRide | None:
    """How an axle rides at ride height; None where nothing carries it, or its links do not hold it."""
    held = axle.members or beams_of(axle) is not None
    return _axle_ride(bare_axle(axle), vehicle.cg_height_mm) if held and has_springs(axle) else None


@lru_cache(maxsize=24)
def _axle_ride(axle: Axle, _cg: float) -> AxleRide | None:
    on_beams = beams_at_ride(axle)
    if on_beams is not None:
        return AxleRide(axle, on_beams, on_beams.rates[0], np.zeros((2, 2)), beam_roll_center(axle))
    at = ride_answers(axle)
    if at is None or not at.ok[0]:
        return None
    # What leaves carry depends on nothing of the car but the axle.
    alone = Vehicle.model_construct(axles=(axle,), cg_height_mm=_cg)
    springs = study_springs(alone, axle, at)
    bushings = bushing_rates(axle)
    return AxleRide(axle, springs, springs.rates[0] + bushings, bushings, float(at.values["roll_center_mm"][0]))


@lru_cache(maxsize=24)
def bushing_rates(axle: Axle) -> Array:
    """What the bushings of an over-constrained layout hold against travel at ride height, N/mm, shape (2, 2).

    Second differences of the energy that is stored in everything that gives, at settled poses; the leaves' own rate,
    which that model of a leaf has in it, is taken out again. Nil where the links hold the axle without giving.
    """
    at = ride_answers(axle)
    if at is None or at.linkage.stiffness is None:
        return np.zeros((2, 2))
    h = _STEP_MM
    left, right = h * np.array([[0, 1, -1, 0, 0, 1, -1], [0, 0, 0, 1, -1, 1, -1]], dtype=np.float64)
    pose = solve_posture(at.linkage, left, right)
    stored = 0.5 * (at.linkage.stiffness * pose.misfit_mm**2).sum(axis=-1)
    still, l_up, l_down, r_up, r_down, both, neither = stored
    ll, rr = (l_up - 2.0 * still + l_down) / h**2, (r_up - 2.0 * still + r_down) / h**2
    lr = (both - l_up - r_up + 2.0 * still - l_down - r_down + neither) / (2.0 * h**2)
    rates = np.array([[ll, lr], [lr, rr]])
    own = wheel_rates(at.linkage, at.pose, at.twists, at.left, at.right, second=False)
    for unit in units_of(axle):
        if unit.kind == "leaf":
            slope = run_of(unit, at, own).slope[0]
            rates = rates - unit.part.rate_n_mm * np.outer(slope, slope)  # type: ignore[union-attr]
    return rates if np.isfinite(rates).all() else np.zeros((2, 2))


def roll_arm_mm(vehicle: Vehicle, rides: list[AxleRide]) -> float:
    """How high the middle of the sprung mass is over the roll axis, mm: over where the axis is below that middle.

    Raises:
        InputError: the weights do not give the height of the sprung mass.
    """
    kg = np.array([r.sprung_kg for r in rides])
    centers = np.array([r.roll_center_mm for r in rides])
    return cg_height(vehicle.model_copy(update={"anti_uses": "sprung"})) - float(
        (kg * centers).sum() / max(kg.sum(), 1e-9)
    )


def car_ride(vehicle: Vehicle) -> CarRide:
    """How the whole car leans.

    Raises:
        InputError: as `all_rides`; or the springs cannot hold the car up.
    """
    return leaning(vehicle, all_rides(vehicle))


def all_rides(vehicle: Vehicle) -> list[AxleRide]:
    """Every axle at ride height, front to rear.

    Raises:
        InputError: an axle has no springs, is not held, or is not weighed.
    """
    rides = []
    for axle in vehicle.axles:
        ride = axle_ride(vehicle, axle)
        if ride is None:
            raise InputError(f"{axle_title(axle)} springs", *lacking(axle))
        if ride.sprung_kg <= 0.0:
            raise InputError(f"{axle_title(axle)} weight", "is not entered.", "Weigh the car, axle by axle, in Stance.")
        rides.append(ride)
    return rides


def leans(vehicle: Vehicle, rides: list[AxleRide], stiffness: Array) -> tuple[Array, Array, Array]:
    """How a car leans on axles of these roll stiffnesses, many cars at once.

    Args:
        vehicle: the vehicle; rides: its axles, front to rear; stiffness: N mm per rad, shape (..., k)

    Returns:
        Roll per g, rad, shape (...), nan where the springs cannot hold the car up; what goes from the inner to the
        outer tire of each axle, N per g, and when its inner one lifts, g, infinite: never, shape (..., k) each.
    """
    kg, arm = np.array([r.sprung_kg for r in rides]), roll_arm_mm(vehicle, rides)
    axles = [r.axle for r in rides]
    roll = roll_per_g(float(kg.sum()), arm, stiffness.sum(axis=-1))
    transfer = transfer_per_g(
        stiffness, roll, kg, np.array([r.roll_center_mm for r in rides]), np.array([a.unsprung_kg for a in axles]),
        np.array([a.tire.loaded_radius_mm for a in axles]), np.array([a.track_mm for a in axles]),
    )  # fmt: skip
    loads = np.array([a.load_kg * G for a in axles])
    lift = 0.5 * loads / np.where(transfer > 0.0, transfer, np.nan)
    return roll, transfer, np.where(transfer <= 0.0, np.inf, lift)


def leaning(vehicle: Vehicle, rides: list[AxleRide]) -> CarRide:
    """How a car leans on its axles.

    Args:
        vehicle: the vehicle; rides: its axles, front to rear.

    Raises:
        InputError: the springs cannot hold the car up.
    """
    own = np.array([r.stiffness for r in rides])
    roll, transfer, lift = leans(vehicle, rides, own)
    if not np.isfinite(roll):
        raise InputError(
            "Roll stiffness", "is less than the car's weight needs to stand upright.",
            "Stiffer springs, a sway bar, or springs farther apart.",
        )  # fmt: skip
    axles, arm = [r.axle for r in rides], roll_arm_mm(vehicle, rides)
    still = sum(r.sprung_kg for r in rides) * G * arm
    return CarRide(
        float(np.degrees(roll)),
        100.0 * float(own[0] / own.sum()),
        100.0 * float(transfer[0] / transfer.sum()),
        100.0 * axles[0].load_kg / sum(a.load_kg for a in axles),
        {a.key: float(g) for a, g in zip(axles, lift, strict=True)},
        {a.key: float(n) for a, n in zip(axles, transfer, strict=True)},
        arm,
        100.0 * still / (float(own.sum()) - still),
        {a.key: a.load_kg * G for a in axles},
    )


def machine_readable_ride(vehicle: Vehicle) -> dict[str, Any]:
    """How the car rides and leans, under the fixed keys.
    Raises:
        InputError: no axle has springs, or how the car leans cannot be said.
    """
    axles = {}
    for axle in vehicle.axles:
        ride = axle_ride(vehicle, axle)
        if ride is not None:
            heave, roll = ride.motion_ratios
            axles[axle.key] = {
                "frequency_hz": ride.frequency_hz,
                "roll_stiffness_nm_deg": ride.stiffness * NM_DEG,
                "motion_ratio_heave": heave,
                "motion_ratio_roll": roll,
                "tire_rate_n_mm": ride.tire_n_mm,
                "tire_rate_guessed": axle.tire.rate_n_mm is None,
            }
    car = car_ride(vehicle)
    return {
        "axles": axles,
        "car": {
            "roll_deg_per_g": car.roll_deg,
            "front_share_of_roll_pct": car.front_share_pct,
            "front_share_of_transfer_pct": car.front_transfer_pct,
            "front_weight_pct": car.front_weight_pct,
            "inside_lift_g": {k: g if np.isfinite(g) else None for k, g in car.lift_g.items()},
            "load_transfer_n_per_g": car.transfer_n,
        },
    }
