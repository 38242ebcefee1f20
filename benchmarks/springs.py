"""Springs: 31 x 31 postures of both axles with all of them, the static balance, and what a moved mount costs.

Run: .venv/bin/python benchmarks/springs.py

The referee solves the closure of the links for one posture at a time with scipy.optimize.root and differences the
length of every spring over postures half a millimeter off, as one would by hand; some of the grid, scaled up.
"""

import json
import statistics
import sys
import time
from dataclasses import replace

import numpy as np
from scipy.optimize import root
from timing import median_ms

from even_stance.exchange.demo import demo_jobs
from even_stance.mechanics.linkage import at_ride, closure
from even_stance.mechanics.vectors import Array, small_rotation
from even_stance.study.answers import study_postures
from even_stance.study.model import linkage_of
from even_stance.study.ride import axle_ride
from even_stance.study.springs import study_springs
from even_stance.study.springunits import units_of
from even_stance.study.standing import stand
from even_stance.vehicle.car import Axle, Vehicle
from even_stance.vehicle.edits import move_by
from even_stance.vehicle.job import Job
from even_stance.vehicle.spots import Spot

SIDE, SAMPLE = 31, 12


def grid(axle: Axle) -> tuple[Array, Array]:
    """Left and right travel of the grid, mm."""
    side = np.linspace(-axle.droop_mm, axle.bump_mm, SIDE)
    left, right = np.meshgrid(side, side, indexing="ij")
    return left.ravel(), right.ravel()


def ours(vehicle: Vehicle) -> None:
    """Every spring of every axle at every posture: length, push, motion ratio, wheel rate, both parts of it."""
    for axle in vehicle.axles:
        if axle.members:
            found = study_springs(vehicle, axle, study_postures(vehicle, axle, *grid(axle)))
            assert found.rates.shape[-2:] == (2, 2)


def by_root(axle: Axle, left: float, right: float) -> list[float]:
    """Lengths of all springs of a determinate axle at one posture, the closure solved by SciPy."""
    linkage = linkage_of(axle)
    start = at_ride(linkage, (1,))
    travel = np.array([[left, right]])

    def residual(q: Array) -> Array:
        turned = small_rotation(q[None, 3:6] / 500.0) @ start.rotation
        pose = replace(start, center=start.center + q[:3], rotation=turned, crank=start.crank + q[6:])
        return closure(linkage, pose, travel)[0][0]

    q = root(residual, np.zeros(linkage.freedoms), tol=1e-10).x
    turned = (small_rotation(q[None, 3:6] / 500.0) @ start.rotation)[0]
    return [float(u.measure(start.center[0] + q[:3] + (u.points - linkage.center) @ turned.T)) for u in units_of(axle)]


def referee(axle: Axle) -> float:
    """What one posture costs with nine solves, as rates need, ms."""
    left, right = grid(axle)
    chosen = np.linspace(0, len(left) - 1, SAMPLE).astype(int)
    offs = [(a, b) for a in (-0.5, 0.0, 0.5) for b in (-0.5, 0.0, 0.5)]

    def run() -> None:
        for i in chosen:
            for a, b in offs:
                by_root(axle, float(left[i]) + a, float(right[i]) + b)

    return median_ms(run, 1) / SAMPLE


def balance_ms(job: Job) -> float:
    """The static balance after a mount has moved a little, so that nothing of it is known from before."""
    spot = Spot("rear", next(s.name for s in job.vehicle.axle("rear").springs if s.side == "left"), "top")
    cars = [move_by(spot, 0.0, 0.0, 0.01 * i).apply(job).vehicle for i in range(1, 12)]
    each = iter(cars)

    def step() -> None:
        car = next(each)
        for axle in car.axles:
            axle_ride(car, axle)  # the springs at ride height, which every number of the station needs first
        start = time.perf_counter()
        stand(car)
        taken.append(1000 * (time.perf_counter() - start))

    taken: list[float] = []
    for _ in cars:
        step()
    return statistics.median(taken)


def main() -> None:
    coupe, rig = demo_jobs()[1], demo_jobs()[2]
    both = median_ms(lambda: ours(rig.vehicle), 7)
    each = referee(rig.vehicle.axle("rear"))
    figures = {
        "rock_rig_both_axles_961_postures_ms": round(both, 1),
        "coupe_both_axles_961_postures_ms": round(median_ms(lambda: ours(coupe.vehicle), 7), 1),
        "scipy_per_posture_ms": round(each, 1),
        "ratio": round(2 * SIDE * SIDE * each / both),
        "static_balance_ms": round(balance_ms(rig), 1),
        "static_balance_coupe_ms": round(balance_ms(coupe), 1),
    }
    json.dump(figures, sys.stdout, indent=1)
    sys.stdout.write("\n")


if __name__ == "__main__":
    main()
