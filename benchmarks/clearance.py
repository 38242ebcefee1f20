"""Gaps: all pairs that matter over 31 x 31 x 9 states of one axle, against the collision library called pair by pair.

Run: .venv/bin/python benchmarks/clearance.py

The referee asks python-fcl for the distance of every pair of solids that may come near, at some of the states, scaled
up to all; it is given the solids placed already.
"""

import json
import time

import fcl
import numpy as np
from scipy.spatial import ConvexHull
from scipy.spatial.transform import Rotation
from timing import median_ms

from even_stance.exchange.demo import demo_jobs
from even_stance.mechanics.cores import Core
from even_stance.mechanics.vectors import Array
from even_stance.study.axlestates import grid_states
from even_stance.study.clearances import FINE, couples_of, measured_again, study_axle_gaps
from even_stance.study.hardparts import hard_parts
from even_stance.vehicle.car import Axle, Vehicle
from even_stance.vehicle.edits import change_thing, moved_form

SAMPLE = 6


def shape(core: Core, points: Array, axis: Array) -> fcl.CollisionObject:
    """A piece as the referee knows it, where it is; rounded shoulders are left off."""
    if core.disc_mm:
        turn, _ = Rotation.align_vectors([axis], [[0.0, 0.0, 1.0]])
        long = float(np.linalg.norm(points[1] - points[0])) + 2 * core.ball_mm
        body = fcl.Cylinder(core.disc_mm + core.ball_mm, max(long, 1e-6))
        return fcl.CollisionObject(body, fcl.Transform(turn.as_matrix(), points.mean(axis=0)))
    if len(points) == 1:
        return fcl.CollisionObject(fcl.Sphere(core.ball_mm), fcl.Transform(np.eye(3), points[0]))
    if len(points) == 2:
        run = points[1] - points[0]
        long = float(np.linalg.norm(run))
        turn, _ = Rotation.align_vectors([run / long], [[0.0, 0.0, 1.0]])
        body = fcl.Capsule(core.ball_mm, long)
        return fcl.CollisionObject(body, fcl.Transform(turn.as_matrix(), points.mean(axis=0)))
    faces = ConvexHull(points).simplices
    flat = np.concatenate([np.array([3, *f]) for f in faces])
    return fcl.CollisionObject(fcl.Convex(points, len(faces), flat), fcl.Transform())


def theirs_ms(vehicle: Vehicle, axle: Axle) -> float:
    """What the library takes for all pairs at all states, ms, from some of the states."""
    states = grid_states(vehicle, axle, *FINE)
    parts = [p for p in hard_parts(vehicle) if p.axle in ("", axle.key)]
    couples = couples_of(parts, states.moves)
    every = [(p, core) for p in parts for core in p.cores]
    placed = [states.shape(core, p.body) for p, core in every]
    index = {id(core): i for i, (_, core) in enumerate(every)}
    pairs = [(index[id(c)], index[id(d)]) for a, b in couples for c in a.cores for d in b.cores]
    count = states.grid[0] * states.grid[1]
    taken = 0.0
    for k in np.linspace(0, count - 1, SAMPLE).astype(int):
        state = (int(k) // states.grid[1], int(k) % states.grid[1])
        objects = [shape(core, *s.at(state)) for (_, core), s in zip(every, placed, strict=True)]
        start = time.perf_counter()
        for a, b in pairs:
            fcl.distance(objects[a], objects[b], fcl.DistanceRequest(), fcl.DistanceResult())
        taken += time.perf_counter() - start
    return 1000 * taken / SAMPLE * count


def main() -> None:
    """Print the figures."""
    for job in demo_jobs():
        vehicle = job.vehicle
        for axle in vehicle.axles:
            ours = median_ms(lambda v=vehicle, a=axle: study_axle_gaps(v, a), 3)
            coarse = median_ms(lambda v=vehicle, a=axle: study_axle_gaps(v, a, fine=False), 3)
            study = study_axle_gaps(vehicle, axle)
            thing = vehicle.things[0]
            form = moved_form(thing.form, 1.0, 0.0, 0.0)
            moved = change_thing(thing.name, "Moved", form=form).apply(job).vehicle
            live = median_ms(lambda v=moved, s=study: measured_again(v, s.gaps[:10]), 15)
            theirs = theirs_ms(vehicle, axle)
            print(json.dumps({
                "car": job.name, "axle": axle.key, "parts": study.parts, "pairs": study.pairs,
                "states": study.postures, "all_ms": round(ours), "library_ms": round(theirs),
                "times_faster": round(theirs / ours), "first_look_ms": round(coarse), "tightest_ten_ms": round(live, 1),
            }))  # fmt: skip


if __name__ == "__main__":
    main()
