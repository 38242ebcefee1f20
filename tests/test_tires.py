"""Tires under the springs: their rate, what it does to the ride, and how far the car leans in a turn that is driven."""

import numpy as np
import pytest
from scipy.optimize import brentq

from even_stance.mechanics.leaning import G
from even_stance.mechanics.tires import in_series, tire_rate
from even_stance.replies.car import ride
from even_stance.study.figures import study_axle
from even_stance.study.ride import all_rides, axle_ride, roll_arm_mm
from even_stance.study.ridefigures import ride_slopes
from even_stance.study.sensitivity import Slopes
from even_stance.study.springs import bare_vehicle
from even_stance.study.standing import leans_at, push_at, stand
from even_stance.vehicle.edits import set_tire
from even_stance.vehicle.job import Job


@pytest.mark.parametrize(
    ("diameter", "width", "bar", "low", "high"),
    [
        (633.0, 205.0, 2.1, 190.0, 250.0),  # a car's: 1,100 to 1,400 lb/in (Milliken, ch. 2, from memory)
        (889.0, 317.0, 1.4, 150.0, 260.0),  # a wide one off road, aired down: common practice, no source
    ],
)
def test_a_guessed_tire_rate_is_that_of_tires_of_its_size(
    diameter: float, width: float, bar: float, low: float, high: float
) -> None:
    assert low < tire_rate(diameter, width, bar) < high
    assert tire_rate(diameter, width, 2 * bar) > 1.5 * tire_rate(diameter, width, bar)


def test_two_springs_in_series_give_as_they_do_one_after_the_other() -> None:
    """A force of 100 N: 2 mm on 50 N/mm, 0.5 mm on 200 N/mm, together 2.5."""
    assert in_series(np.array([50.0]), 200.0).tolist() == [40.0]
    assert in_series(np.array([50.0]), 1e12)[0] == pytest.approx(50.0)


def test_the_ride_has_the_tire_in_it(coupe_job: Job) -> None:
    """sqrt(k t / (k + t) / m) / 2 pi, both wheels and tires (Gillespie ch. 5); a rigid tire gives what it gave before."""
    job = set_tire("rear", "Rate", rate_n_mm=200.0).apply(coupe_job)
    axle = job.vehicle.axle("rear")
    found = axle_ride(job.vehicle, axle)
    assert found is not None
    k, t = float(found.rates.sum()), 400.0
    both = 1000.0 * k * t / (k + t) / (axle.load_kg - axle.unsprung_kg)
    said = ride(job).axles["rear"]
    assert said.frequency_hz == pytest.approx(np.sqrt(both) / (2.0 * np.pi), rel=1e-6)
    assert (said.tire_rate_n_mm, said.tire_rate_guessed) == (200.0, False)
    assert ride(coupe_job).axles["rear"].tire_rate_guessed
    softer = ride(set_tire("rear", "Rate", rate_n_mm=100.0).apply(job)).axles["rear"].frequency_hz
    assert softer is not None
    assert said.frequency_hz is not None
    assert softer < said.frequency_hz


def test_a_guessed_tire_makes_the_frequency_less_sure(coupe_job: Job) -> None:
    def slopes(job: Job) -> Slopes:
        return ride_slopes(job.vehicle, study_axle(job.vehicle, job.vehicle.axle("rear"), 0.0, 0.0))

    tire = axle_ride(coupe_job.vehicle, coupe_job.vehicle.axle("rear"))
    assert tire is not None
    typed = set_tire("rear", "Rate", rate_n_mm=tire.tire_n_mm).apply(coupe_job)
    sure = [slopes(job).uncertainty("ride_frequency_hz") for job in (coupe_job, typed)]
    assert sure[0] > sure[1] > 0.0
    # By formula: f goes with the root of the rate in series, whose slope to t is (k / (k + t))^2.
    ride_ = axle_ride(typed.vehicle, typed.vehicle.axle("rear"))
    assert ride_ is not None
    k, t = float(ride_.rates.sum()), 2.0 * ride_.tire_n_mm
    hz = ride_.frequency_hz
    assert hz is not None
    by_tire = 0.5 * hz * (k / (k + t)) ** 2 / (k * t / (k + t)) * 2.0
    own = slopes(typed)
    i = next(n for n, what in enumerate(own.inputs) if what.words.startswith("Tires"))
    assert own.of["ride_frequency_hz"][i] == pytest.approx(by_tire, rel=1e-4)


def test_a_small_lean_is_the_slope_and_a_large_one_ends_on_the_stops(rock_job: Job, coupe_job: Job) -> None:
    for job in (rock_job, coupe_job):
        slope = ride(job).car.roll_deg_per_g
        assert leans_at(job.vehicle, 0.002) / 0.002 == pytest.approx(slope, rel=0.03)
    said = ride(rock_job).car
    assert said.roll_deg_at_g == {
        "0.3": pytest.approx(leans_at(rock_job.vehicle, 0.3), abs=1e-4),
        "0.5": pytest.approx(leans_at(rock_job.vehicle, 0.5), abs=1e-4),
    }
    assert leans_at(rock_job.vehicle, 0.8) < 0.85 * 0.8 * said.roll_deg_per_g  # on its stops and straps by then


def test_the_lean_is_where_springs_and_weight_are_in_balance(coupe_job: Job) -> None:
    """Against a root finder on the moments alone: heave held where the car stands in the turn."""
    vehicle, g = bare_vehicle(coupe_job.vehicle), 0.5
    standing, rides = stand(coupe_job.vehicle, (), side_g=g), all_rides(bare_vehicle(coupe_job.vehicle))
    mass = sum(r.sprung_kg for r in rides)
    arm = roll_arm_mm(vehicle, rides)
    middles = {a.key: 0.5 * sum(standing.travel(a.key)) for a in vehicle.axles}

    def left_over(roll: float) -> float:
        moment = 0.0
        for axle in vehicle.axles:
            up = 0.5 * axle.track_mm * roll
            pushes, _ = push_at(vehicle, axle, middles[axle.key] + up, middles[axle.key] - up, exact=False)
            moment += 0.5 * axle.track_mm * float(pushes[0] - pushes[1])
        return mass * G * arm * (g + roll) - moment

    roll = brentq(left_over, 0.0, 0.3)
    assert standing.lean_deg == pytest.approx(np.degrees(roll), abs=0.02)
