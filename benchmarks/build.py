"""The build sheet: all of a demo job, and its parts. Run: .venv/bin/python benchmarks/build.py

A whole sheet is the cut list, the strength of every link over all cases and postures with its advice, counting with the
plan of cuts, and all plates; median of several runs, nothing solved kept between them. The plan of cuts is given as a
ratio to SciPy's integer solver asked without patterns: every piece onto one of as many bars.
"""

import json

import numpy as np
from scipy.optimize import Bounds, LinearConstraint, milp
from timing import median_ms

from even_stance.exchange.demo import demo_jobs
from even_stance.shop.buildsheet import study_build
from even_stance.shop.counting import count_parts
from even_stance.shop.cutting import plan_cuts
from even_stance.shop.plates import plates_of
from even_stance.study.cutlist import cut_list
from even_stance.study.strength import study_strength


def plain_milp(pieces: list[float], bar: float, kerf: float) -> float:
    """Pieces onto bars of one length, bought whole, as one integer program; what is bought."""
    n = len(pieces)
    # Which piece is on which bar, then which bars are used.
    cost = np.concatenate((np.zeros(n * n), np.full(n, bar)))
    rows = []
    for i in range(n):
        row = np.zeros(n * n + n)
        row[i * n : (i + 1) * n] = 1.0
        rows.append(LinearConstraint(row[None], 1.0, 1.0))
    for j in range(n):
        row = np.zeros(n * n + n)
        row[j : n * n : n] = np.array(pieces) + kerf
        row[n * n + j] = -(bar + kerf)
        rows.append(LinearConstraint(row[None], -np.inf, 0.0))
    solved = milp(
        cost, constraints=rows, integrality=np.ones(len(cost)), bounds=Bounds(0, 1), options={"time_limit": 20}
    )
    return float(solved.fun)


def main() -> None:
    """Print the figures."""
    for job in demo_jobs():
        vehicle, units = job.vehicle, job.units
        print(json.dumps({
            "car": job.name, "links": len(cut_list(vehicle)),
            "whole_ms": round(median_ms(lambda j=job: study_build(j), 7), 1),
            "strength_ms": round(median_ms(lambda j=job: study_strength(j.vehicle, j.loads), 7), 1),
            "count_ms": round(median_ms(lambda v=vehicle, u=units: count_parts(v, u), 7), 1),
            "plates_ms": round(median_ms(lambda v=vehicle, u=units: plates_of(v, u), 7), 1),
        }))  # fmt: skip
    lengths = [c.cut_mm for c in cut_list(demo_jobs()[2].vehicle)]
    ours = median_ms(lambda: plan_cuts([(str(i), v) for i, v in enumerate(lengths)], [3000.0], 2.5), 5)
    theirs = median_ms(lambda: plain_milp(lengths, 3000.0, 2.5), 3)
    same = plan_cuts([(str(i), v) for i, v in enumerate(lengths)], [3000.0], 2.5).bought_mm - plain_milp(
        lengths, 3000.0, 2.5
    )
    print(json.dumps({"plan_of": len(lengths), "ms": round(ours, 1), "one_program_ms": round(theirs, 1),
                      "times_faster": round(theirs / ours, 1), "bought_more_mm": round(same, 3)}))  # fmt: skip


if __name__ == "__main__":
    main()
