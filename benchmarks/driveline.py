"""Driveline speed: .venv/bin/python benchmarks/driveline.py

Both shafts of the rock rig at 31 x 31 postures of left against right travel, everything the answers hold; and the same
joints' speed extremes in closed form against turning the chain through in whole degrees, as a ratio in one run.
"""

import json
import sys

import numpy as np
from timing import best_ms

from even_stance.exchange.demo import demo_jobs
from even_stance.mechanics.ujoint import chain_speed, speed_extremes
from even_stance.study.answers import study_postures


def main() -> None:
    vehicle = demo_jobs()[2].vehicle

    def both() -> None:
        for axle in vehicle.axles:
            left, right = (
                g.ravel()
                for g in np.meshgrid(*(np.linspace(-axle.droop_mm, axle.bump_mm, 31) for _ in range(2)), indexing="ij")
            )
            study_postures(vehicle, axle, left, right)

    rng = np.random.default_rng(1)
    axes = rng.normal(0.0, 0.1, (961, 3, 3)) + np.array([1.0, 0.0, 0.0])
    axes /= np.linalg.norm(axes, axis=-1, keepdims=True)
    turns = np.linspace(0.0, 2 * np.pi, 360, endpoint=False)
    closed = best_ms(lambda: speed_extremes(axes[:, 0], axes[:, 1], axes[:, 2]), 11)
    turned = best_ms(lambda: chain_speed(axes, np.zeros((961, 1)), turns), 5)
    figures = {
        "two_shafts_31_by_31_ms": round(best_ms(both, 11), 1),
        "extremes_closed_form_ms": round(closed, 2),
        "extremes_turned_through_ms": round(turned, 1),
        "times_faster": round(turned / closed, 1),
    }
    json.dump(figures, sys.stdout, indent=1)
    sys.stdout.write("\n")


if __name__ == "__main__":
    main()
