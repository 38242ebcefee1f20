"""Tables of answers as CSV, units in the head of every column."""

import csv
import io
import re
from math import isfinite

from even_stance.study.answers import Answers
from even_stance.units import MM_PER_INCH, System, format_decimal

# Never three: a spreadsheet that writes thousands with a point would read 812.800 as eight hundred thousand.
DECIMALS = 4
_FIGURE = re.compile(r"^[+-]?[\d.,/ ]*\d[\d.,/ ]*\s*(?:%|°|in|mm|lb|kg|N|\"|')?$")
_THREE_DECIMALS = re.compile(r"^([+-]?\d{1,3}\.\d{3})(?=$|\s)")


def rows_csv(rows: list[list[str]]) -> str:
    """Rows of shown text as CSV that a spreadsheet takes for text and figures, never for a formula or for thousands."""
    out = io.StringIO()
    csv.writer(out).writerows([[_tame(cell) for cell in row] for row in rows])
    return out.getvalue()


def _tame(cell: str) -> str:
    if cell[:1] in ("=", "+", "-", "@", "\t", "\r") and not _FIGURE.match(cell):
        return f"'{cell}"
    return _THREE_DECIMALS.sub(r"\g<1>0", cell)


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
        row = [format_decimal(answers.left[i] / per, DECIMALS), format_decimal(answers.right[i] / per, DECIMALS)]
        for key in keys:
            value = float(answers.values[key][i]) / (per if key.endswith("_mm") else 1.0)
            row.append(format_decimal(value, DECIMALS) if isfinite(value) and abs(value) < 1e9 else "")
        writer.writerow(row)
    return out.getvalue()
