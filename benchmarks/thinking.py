"""The bench that thinks along, as ratios within one run: .venv/bin/python benchmarks/thinking.py

The reference is the plain way through the app's own edits and study, one change at a time: central differences for the
slopes, one combination of holes after the other for the hole finder. All figures are medians on this machine, now.
"""

import json
import sys

from timing import median_ms

from even_stance.exchange.demo import demo_jobs
from even_stance.judgement.explain import explain
from even_stance.judgement.search.holefinder import find_holes, second_pass
from even_stance.judgement.search.limits import Freedom
from even_stance.judgement.search.solvefor import solve_for
from even_stance.judgement.search.suggestions import advise
from even_stance.study.answers import answers_at
from even_stance.study.figures import figure_slopes, study_axle
from even_stance.vehicle.edits import choose_hole, move_by, set_holes
from even_stance.vehicle.job import Job
from even_stance.vehicle.spots import Spot


def slopes(job: Job) -> dict[str, float]:
    vehicle, axle = job.vehicle, job.vehicle.axle("rear")
    study = study_axle(vehicle, axle, 0.0, 0.0)
    found = figure_slopes(vehicle, study)
    spots = [i for i in found.inputs if i.spot is not None]

    def one_by_one() -> None:
        for what in spots:
            for step in (0.5, -0.5):
                move = [0.0, 0.0, 0.0]
                move[what.axis] = step
                assert what.spot is not None
                moved = move_by(what.spot, *move, both_sides=False).apply(job)
                study_axle(moved.vehicle, moved.vehicle.axle("rear"), 0.0, 0.0, {})

    ours = median_ms(lambda: figure_slopes(vehicle, study), 15)
    plain = median_ms(one_by_one, 1)
    return {
        "answers": len(found.of),
        "inputs": len(found.inputs),
        "slopes_ms": round(ours, 1),
        "one_by_one_ms": round(plain, 1),
        "times_faster": round(plain / ours, 1),
        "explanation_ms": round(median_ms(lambda: explain(job, study, "anti_squat_axle_pct"), 9), 1),
        "suggestions_ms": round(median_ms(lambda: advise(job, study, "anti_squat_axle_pct"), 5), 1),
    }


def holes(job: Job) -> dict[str, float]:
    for name, end, count in (("Upper left", "chassis", 10), ("Upper left", "axle", 10), ("Lower left", "chassis", 10),
                             ("Lower left", "axle", 10)):  # fmt: skip
        job = set_holes(Spot("rear", name, end), min(count, 9), 6.0).apply(job)
    search = find_holes(job)
    sample = 60

    def one_by_one() -> None:
        for i in range(sample):
            tried = job
            for k, end in enumerate(("chassis", "axle")):
                tried = choose_hole(Spot("rear", "Upper left", end), (i // 9**k) % 9).apply(tried)
                tried = choose_hole(Spot("rear", "Lower left", end), (i // 9 ** (k + 1)) % 9).apply(tried)
            answers_at(tried.vehicle, tried.vehicle.axle("rear"), 0.0, 0.0)

    ours = median_ms(lambda: find_holes(job), 5)
    plain = median_ms(one_by_one, 1) / sample * search.count
    per_10_000 = ours * 10_000 / search.count
    return {
        "combinations": search.count,
        "search_ms": round(ours, 1),
        "search_10000_ms": round(per_10_000, 1),
        "one_by_one_ms": round(plain),
        "times_faster": round(plain / ours, 1),
        "second_pass_24_ms": round(median_ms(lambda: second_pass(job, search), 1), 1),
    }


def solving(job: Job) -> dict[str, float]:
    free = [Freedom(Spot("rear", name, "chassis"), a, -50.0, 50.0) for name in ("Upper left", "Lower left")
            for a in range(3)]  # fmt: skip
    targets = {"anti_squat_axle_pct": 80.0, "roll_center_mm": 585.0, "pinion_change_deg": 2.0}
    return {"solve_for_ms": round(median_ms(lambda: solve_for(job, "rear", targets, free), 3), 1)}


def main() -> None:
    job = demo_jobs()[0]
    json.dump({"slopes": slopes(job), "holes": holes(job), "solve": solving(job)}, sys.stdout, indent=1)
    sys.stdout.write("\n")


if __name__ == "__main__":
    main()
