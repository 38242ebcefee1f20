"""Speed, as ratios within one run: .venv/bin/python benchmarks/speed.py

The reference is scipy.optimize.root, called once per posture on the same closure equations from the posture before,
with the same answers read off; the figures are medians of several runs on this machine, now.
"""

import json
import statistics
import sys
import time
from collections.abc import Callable
from dataclasses import replace

import numpy as np
from scipy.optimize import root

from even_stance.exchange.demo import demo_jobs
from even_stance.mechanics import motion
from even_stance.mechanics.linkage import Pose, at_ride, closure, placed
from even_stance.mechanics.vectors import small_rotation
from even_stance.study.answers import study_postures
from even_stance.study.model import layout_of, linkage_from, linkage_of, mount_points

RUNS = 15


def median_ms(work: Callable[[], object], runs: int = RUNS) -> float:
    work()
    times = []
    for _ in range(runs):
        start = time.perf_counter()
        work()
        times.append(1000 * (time.perf_counter() - start))
    return statistics.median(times)


def main() -> None:
    job = demo_jobs()[0]
    vehicle, axle = job.vehicle, job.vehicle.axle("rear")
    linkage = linkage_of(axle)
    sweep = np.linspace(-axle.droop_mm, axle.bump_mm, 61)

    def reference() -> None:
        """One posture at a time: six unknowns (shift and a rotation), warm-started along the sweep."""
        guess = np.zeros(6)
        ride = at_ride(linkage, (1,))
        for travel in sweep:
            asked = np.array([travel, travel])

            def pose_at(q: np.ndarray) -> Pose:  # type: ignore[type-arg]
                turned = small_rotation(q[3:] / 1000)
                return replace(ride, center=linkage.center + q[None, :3], rotation=turned[None])

            def residual(q: np.ndarray, asked: np.ndarray = asked) -> np.ndarray:  # type: ignore[type-arg]
                return closure(linkage, pose_at(q), asked)[0][0]

            found = root(residual, guess, tol=1e-12)
            guess = found.x
            pose = pose_at(guess)
            both = motion.twists(linkage, pose, asked[:1], asked[1:])
            motion.instant_center(pose.center, both.heave)
            motion.contact_slope(both.heave, axle.tire.loaded_radius_mm)
            motion.roll_center_height(pose.center, both.roll)
            motion.roll_axis_slope(both.roll)
            motion.roll_steer(pose.rotation, both.roll)
            motion.axle_angles(pose.rotation)
            placed(linkage, pose, linkage.axle)

    side = np.linspace(-axle.droop_mm, axle.bump_mm, 31)
    left, right = (g.ravel() for g in np.meshgrid(side, side))
    points = mount_points(axle)
    rng = np.random.default_rng(1)
    variants = linkage_from(axle, layout_of(axle), points + rng.uniform(-20, 20, (10_000, *points.shape)))
    sweep_ms = median_ms(lambda: study_postures(vehicle, axle, sweep, sweep))
    reference_ms = median_ms(reference, 3)
    map_ms = median_ms(lambda: study_postures(vehicle, axle, left, right))
    zero = np.zeros(1)
    variants_ms = median_ms(lambda: study_postures(vehicle, axle, zero, zero, variants), 5)
    figures = {
        "sweep_61_postures_ms": round(sweep_ms, 2),
        "scipy_root_61_postures_ms": round(reference_ms, 1),
        "sweep_times_faster": round(reference_ms / sweep_ms, 1),
        "map_31_by_31_ms": round(map_ms, 1),
        "map_times_faster_per_posture": round(reference_ms / 61 * 961 / map_ms, 1),
        "variants_10000_ms": round(variants_ms, 1),
        "variants_times_faster_each": round(reference_ms / 61 * 10_000 / variants_ms, 1),
    }
    json.dump(figures, sys.stdout, indent=1)
    sys.stdout.write("\n")


if __name__ == "__main__":
    main()
