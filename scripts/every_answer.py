"""Every answer of the demo jobs and of 200 random cars: kept before a rebuild, compared after it.

    .venv/bin/python scripts/every_answer.py keep FILE
    .venv/bin/python scripts/every_answer.py compare FILE

A random car is a job of the starters with every point moved by up to 40 mm and its CG, tires and shares varied. What
can be said of each is kept: all answers at five postures, figures with their +/-, verdicts, findings, loads, bind.
Compared are words exactly, numbers to a millionth of their size, or 1e-7 where they are next to nothing.
"""

import json
import math
import sys
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import numpy as np

sys.path.insert(0, str(Path(__file__).parent.parent))

from tests.conftest import starter

from even_stance.errors import InputError, StanceError
from even_stance.exchange.demo import demo_jobs
from even_stance.judgement.catalog.layouts import BASES, layout_members
from even_stance.replies.checking import check
from even_stance.study.answers import machine_readable, study_postures
from even_stance.study.figures import study_axle
from even_stance.study.loads import CASES, study_loads
from even_stance.vehicle.car import Axle
from even_stance.vehicle.edits import move_by, with_axle, with_changes
from even_stance.vehicle.job import Job
from even_stance.vehicle.spots import Spot

RANDOM_CARS = 200


def random_car(seed: int) -> Job:
    """A job nobody would build, that still has a layout of the trade on either axle."""
    random = np.random.default_rng(seed)
    job = starter(("trail", "street_cruiser", "drag", "desert", "street_performance")[seed % 5])
    bases = list(BASES)
    for axle in job.vehicle.axles:
        members = layout_members(axle, job.vehicle.frame, bases[int(random.integers(len(bases)))])
        job = with_axle(job, with_changes(axle, members=members))
        for m in members:
            for end in m.mounts:
                try:
                    job = move_by(Spot(axle.key, m.name, end), *random.uniform(-40.0, 40.0, 3), False).apply(job)
                except InputError:
                    continue
    changes = {"cg_height_mm": float(random.uniform(450, 900)), "anti_uses": ("whole", "sprung")[seed % 2],
               "over": ("ride", "stands")[seed // 2 % 2], "anti_bands": ("axle", "share")[seed // 4 % 2]}  # fmt: skip
    return with_changes(job, vehicle=with_changes(job.vehicle, **changes))


def axle_answers(job: Job, axle: Axle) -> dict[str, Any]:
    """All that is said of one axle."""
    up, down = axle.bump_mm, -axle.droop_mm
    left, right = np.array([0.0, up / 2, down / 2, up / 3, down / 3]), np.array([0.0, up / 2, down / 2, down / 3, 0.0])
    answers = study_postures(job.vehicle, axle, left, right)
    said: dict[str, Any] = {"postures": [machine_readable(answers, i) for i in np.flatnonzero(answers.ok)]}
    said["reached"] = answers.pose.reached.tolist()
    study = study_axle(job.vehicle, axle, float(left[1]), float(right[1]))
    said["figures"] = [(f.key, f.value, f.uncertainty, f.note) for f in study.figures]
    if study.now.ok[0]:
        for case in CASES:
            try:
                loads = study_loads(job.vehicle, study.now, job.loads, case)
                said[f"loads {case}"] = [loads.rows.tolist(), loads.joints.tolist()]
            except StanceError as error:
                said[f"loads {case}"] = str(error)
    return said


def everything() -> Iterator[tuple[str, Any]]:
    """The name and all answers of every job."""
    jobs = [(job.name, job) for job in demo_jobs()] + [(f"random {i}", random_car(i)) for i in range(RANDOM_CARS)]
    for name, job in jobs:
        found: dict[str, Any] = {"check": [(line.axle, line.state, line.sentence) for line in check(job).lines]}
        for axle in job.vehicle.axles:
            if axle.members:
                try:
                    found[axle.key] = axle_answers(job, axle)
                except StanceError as error:
                    found[axle.key] = str(error)
        yield name, json.loads(json.dumps(found))


def differing(a: Any, b: Any, where: str = "") -> Iterator[str]:
    """Where two sets of answers differ. New keys are no difference: the answers of before must all be there."""
    if isinstance(a, dict) and isinstance(b, dict):
        for key in a:
            yield from differing(a[key], b.get(key), f"{where}/{key}")
    elif isinstance(a, list) and isinstance(b, list) and len(a) == len(b):
        for i, (x, y) in enumerate(zip(a, b, strict=True)):
            yield from differing(x, y, f"{where}/{i}")
    elif isinstance(a, float) and isinstance(b, float):
        if not (math.isnan(a) and math.isnan(b)) and not math.isclose(a, b, rel_tol=1e-6, abs_tol=1e-7):
            yield f"{where}: {a!r}, now {b!r}"
    elif a != b:
        yield f"{where}: {a!r}, now {b!r}"


def main() -> int:
    what, path = sys.argv[1], Path(sys.argv[2])
    if what == "keep":
        path.write_text(json.dumps(dict(everything())))
        return 0
    kept, count, wrong = json.loads(path.read_text()), 0, 0
    for name, now in everything():
        count += 1
        for line in differing(kept[name], now):
            wrong += 1
            print(f"{name}{line}")
    print(f"{count} jobs compared, {wrong} answers differ")
    return 1 if wrong else 0


if __name__ == "__main__":
    sys.exit(main())
