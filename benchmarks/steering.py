"""Steering speed: .venv/bin/python benchmarks/steering.py

A crossover axle at 31 travels x 31 rolls x 21 steer inputs, everything the answers hold at every state: both wheels,
toe, Ackermann, pitman, overall ratio, turning radius and the swing of every joint, poses of the axle included. The
reference is scipy.optimize.root on the two closure equations (drag link, tie rod), called once per state from the state
before with the axle's poses handed to it; as all of them would take minutes, every 60th state is run and counted up.
"""

import json
import sys
import time

import numpy as np
from scipy.optimize import root
from timing import best_ms

from even_stance.exchange.demo import demo_jobs
from even_stance.mechanics.position import solve_posture
from even_stance.mechanics.steering import LEFT, RIGHT, ackermann_share, around, turn_center, wheel_headings
from even_stance.study.model import linkage_of, wheel_centers
from even_stance.study.steerfigures import mechanism_of
from even_stance.study.steering import SteeredAxle, axle_line
from even_stance.vehicle.car import Axle, Vehicle

EVERY = 60


def all_states(vehicle: Vehicle, axle: Axle, mechanism: SteeredAxle) -> tuple[np.ndarray, ...]:  # type: ignore[type-arg]
    travel = np.linspace(-axle.droop_mm, axle.bump_mm, 31)
    roll = np.linspace(-1.0, 1.0, 31) * 0.5 * min(axle.droop_mm, axle.bump_mm)
    mean, half = (g.ravel() for g in np.meshgrid(0.5 * travel, roll, indexing="ij"))
    pose = solve_posture(linkage_of(axle), mean + half, mean - half)
    steer = np.linspace(-0.9, 0.9, 21) * mechanism.half_mm_or_turns
    moved, rotation = (np.repeat(a, 21, axis=0) for a in (pose.center, pose.rotation))
    return np.tile(steer, len(mean)), moved, rotation


def answers(vehicle: Vehicle, axle: Axle, mechanism: SteeredAxle) -> None:
    steer, moved, rotation = all_states(vehicle, axle, mechanism)
    here = mechanism.at(steer, moved, rotation)
    more = mechanism.at(steer + 1e-4, moved, rotation)
    headings = np.radians(here.headings)
    ackermann_share(headings, 1300.0, 2900.0)
    _ = 360.0 * 1e-4 / (more.headings.mean(axis=-1) - here.headings.mean(axis=-1))
    turn_center(headings, wheel_centers(axle)[:, :2], axle_line(vehicle, axle))
    mechanism.swings(here, moved, rotation)


def reference(vehicle: Vehicle, axle: Axle, mechanism: SteeredAxle) -> tuple[float, float]:
    """Milliseconds for all states, counted up, and how far the two are apart, degrees."""
    steer, moved, rotation = (a[::EVERY] for a in all_states(vehicle, axle, mechanism))
    k, box, center = mechanism.knuckles, mechanism.box, np.array(axle.center)
    assert box is not None
    first = box.knuckle
    assert first is not None
    drag, tie = np.linalg.norm(box.end - box.ball), np.linalg.norm(k.tie[LEFT] - k.tie[RIGHT])
    start, found, guess = time.perf_counter(), [], np.zeros(2)
    for s, m, r in zip(mechanism.pitman_rad(steer), moved, rotation, strict=True):
        ball = r.T @ (around(box.shaft, box.axis, np.array(s), box.ball) - m) + center

        def closed(q: np.ndarray, ball: np.ndarray = ball) -> np.ndarray:  # type: ignore[type-arg]
            ends = [around(k.pivot[i], k.axis[i], np.array(q[i]), k.tie[i]) for i in (LEFT, RIGHT)]
            far = around(k.pivot[first], k.axis[first], np.array(q[first]), box.end)
            return np.array([np.linalg.norm(far - ball) - drag, np.linalg.norm(ends[0] - ends[1]) - tie])

        guess = root(closed, guess, tol=1e-12).x
        found.append(np.degrees(wheel_headings(k, guess, r)))
    took = 1000.0 * (time.perf_counter() - start) * EVERY
    ours = mechanism.at(steer, moved, rotation).headings
    return took, float(np.abs(ours - np.array(found)).max())


def main() -> None:
    vehicle = demo_jobs()[0].vehicle
    axle = vehicle.axle("front")
    mechanism = mechanism_of(axle)
    assert mechanism is not None
    ours = best_ms(lambda: answers(vehicle, axle, mechanism), 7)
    theirs, apart = reference(vehicle, axle, mechanism)
    figures = {
        "states": 31 * 31 * 21,
        "all_answers_ms": round(ours, 1),
        "scipy_root_ms": round(theirs),
        "times_faster": round(theirs / ours, 1),
        "apart_deg": apart,
    }
    json.dump(figures, sys.stdout, indent=1)
    sys.stdout.write("\n")


if __name__ == "__main__":
    main()
