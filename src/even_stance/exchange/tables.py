"""Tables of answers as CSV, units in the head of every column."""

import csv
import io
from math import isfinite

from even_stance.study.answers import Answers
from even_stance.units import MM_PER_INCH, System


def sweep_csv(answers: Answers, system: System) -> str:
    """All answers of a sweep, one row a posture; lengths in inches or mm, empty where it cannot be reached."""
    per, unit = (MM_PER_INCH, "in") if system == "us" else (1.0, "mm")
    keys = list(answers.values)
    heads = [f"left_{unit}", f"right_{unit}"]
    heads += [k.removesuffix("_mm") + f"_{unit}" if k.endswith("_mm") else k for k in keys]
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(heads)
    for i in range(len(answers.left)):
        row = [f"{answers.left[i] / per:.4f}", f"{answers.right[i] / per:.4f}"]
        for key in keys:
            value = float(answers.values[key][i]) / (per if key.endswith("_mm") else 1.0)
            row.append(f"{value:.5f}" if isfinite(value) and abs(value) < 1e9 else "")
        writer.writerow(row)
    return out.getvalue()
