"""Speed, as ratios within one run: .venv/bin/python benchmarks/speed.py

The reference is scipy.optimize.root, called once per posture from the posture before: on the same closure equations,
or, for layouts that give, on the stationary conditions of their energy; with the same answers read off at every
posture. The driveshaft is left out of both; benchmarks/driveline.py times it. Both are handed the linkage of the axle.
Ours and the reference are run in turns, and the best run of each counts: where others use the machine as well, a short
run is slowed down more often than not. All figures are of this machine, now.
"""

import json
import sys
from dataclasses import replace

import numpy as np
from scipy.optimize import root
from timing import best_ms, median_ms

from even_stance.exchange.demo import demo_jobs
from even_stance.judgement.catalog.layouts import BASES, LateralKey
from even_stance.judgement.catalog.starter import with_starter
from even_stance.mechanics import motion
from even_stance.mechanics.linkage import Linkage, at_ride, closure, placed
from even_stance.mechanics.pose import Pose
from even_stance.mechanics.vectors import small_rotation
from even_stance.study.answers import study_postures
from even_stance.study.articulation import study_articulation
from even_stance.study.model import layout_of, linkage_from, linkage_of, mount_points
from even_stance.vehicle.car import Axle, Vehicle

RUNS = 11


def reference(axle: Axle, linkage: Linkage, sweep: np.ndarray) -> None:  # type: ignore[type-arg]
    """One posture at a time: shift, rotation and cranks, and two multipliers where the linkage gives."""
    ride, m, held = at_ride(linkage, (1,)), linkage.freedoms, linkage.held
    gives = linkage.stiffness is not None
    guess = np.zeros(m + 2 if gives else m)

    def pose_at(q: np.ndarray) -> Pose:  # type: ignore[type-arg]
        turned = small_rotation(q[3:6] / 1000)
        return replace(ride, center=linkage.center + q[None, :3], rotation=turned[None], crank=q[None, 6:m] / 1000)

    for travel in sweep:
        asked = np.array([travel, travel])

        def residual(q: np.ndarray, asked: np.ndarray = asked) -> np.ndarray:  # type: ignore[type-arg]
            gap, rows = closure(linkage, pose_at(q), asked)
            if not gives:
                return gap[0]
            weight = linkage.stiffness / linkage.stiffness.max()  # type: ignore[operator, union-attr]
            pull = rows[0, :held].T @ (weight * gap[0, :held]) + rows[0, held:].T @ q[m:]
            return np.concatenate((pull / np.array([1, 1, 1, 500, 500, 500] + [500] * (m - 6)), gap[0, held:]))

        guess = root(residual, guess, tol=1e-12).x
        pose = pose_at(guess)
        both = motion.twists(linkage, pose)
        motion.instant_center(pose.center, both.heave)
        motion.contact_slope(both.heave, axle.tire.loaded_radius_mm)
        motion.roll_center_height(pose.center, both.roll)
        motion.roll_axis_slope(both.roll)
        motion.roll_steer(pose.rotation, both.roll)
        motion.axle_angles(pose.rotation)
        placed(linkage, pose, linkage.axle)


def layout_figures(vehicle: Vehicle, axle: Axle) -> dict[str, float]:
    sweep = np.linspace(-axle.droop_mm, axle.bump_mm, 61)
    linkage = linkage_of(axle)
    ours, theirs = np.inf, np.inf
    for _ in range(6):
        ours = min(ours, best_ms(lambda: study_postures(vehicle, axle, sweep, sweep, linkage), RUNS))
        theirs = min(theirs, best_ms(lambda: reference(axle, linkage, sweep), 1))
    return {
        "sweep_61_ms": round(ours, 2),
        "scipy_root_ms": round(theirs, 1),
        "times_faster": round(theirs / ours, 1),
        "map_31_by_31_with_joints_ms": round(median_ms(lambda: study_articulation(vehicle, axle), 3), 1),
    }


def main() -> None:
    job = demo_jobs()[0]
    vehicle, axle = job.vehicle, job.vehicle.axle("rear")
    points = mount_points(axle)
    rng = np.random.default_rng(1)
    variants = linkage_from(axle, layout_of(axle), points + rng.uniform(-20, 20, (10_000, *points.shape)))
    zero = np.zeros(1)
    variants_ms = median_ms(lambda: study_postures(vehicle, axle, zero, zero, variants), 5)
    figures: dict[str, object] = {"variants_10000_ms": round(variants_ms, 1)}
    tries: list[tuple[str, LateralKey | None]] = [(base, None) for base in BASES]
    for base, lateral in [*tries, ("three_link", "watts_axle"), ("three_link", "watts_frame")]:
        other = with_starter(job, "rear", base, lateral)  # type: ignore[arg-type]
        name = base if lateral is None else f"{base} + {lateral}"
        axle = other.vehicle.axle("rear").model_copy(update={"output": None, "pinion": None, "shaft": None})
        figures[name] = layout_figures(other.vehicle, axle)
    json.dump(figures, sys.stdout, indent=1)
    sys.stdout.write("\n")


if __name__ == "__main__":
    main()
