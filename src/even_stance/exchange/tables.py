"""Tables of answers as CSV, units in the head of every column."""

import csv
import io
import re
from collections.abc import Iterable, Sequence
from math import isfinite

from even_stance.shop.counting import count_parts
from even_stance.study.answers import Answers
from even_stance.units import M_PER_FOOT, MM_PER_INCH, System, format_decimal
from even_stance.vehicle.job import Job

# Never three: a spreadsheet that writes thousands with a point would read 812.800 as eight hundred thousand.
DECIMALS = 4
_FIGURE = re.compile(r"^[+-]?[\d.,/ ]*\d[\d.,/ ]*\s*(?:%|°|in|mm|lb|kg|N|\"|')?$")
_STARTS_A_FORMULA = ("=", "+", "-", "@", "\t", "\r", "\N{MINUS SIGN}", "\N{FULLWIDTH EQUALS SIGN}")
_PLAIN_FIGURE = re.compile(r"[+-]?\d+\.\d+")
_THREE_DECIMALS = re.compile(r"^([+-]?\d{1,3}\.\d{3})(?=$|\s)")


def csv_text(rows: Iterable[Sequence[str]], comma: bool = False) -> str:
    """Return rows as CSV that a spreadsheet takes for text and figures, never for a formula or for thousands.

    Args:
        rows: the cells, figures with a decimal point; comma: write decimal commas, and semicolons between cells, as
            spreadsheets of many languages read them.
    """
    out = io.StringIO()
    writer = csv.writer(out, delimiter=";" if comma else ",")
    writer.writerows([[_tame(cell, comma) for cell in row] for row in rows])
    return out.getvalue()


def _tame(cell: str, comma: bool) -> str:
    if cell.lstrip()[:1] in _STARTS_A_FORMULA and not _FIGURE.match(cell):
        return f"'{cell}"
    cell = _THREE_DECIMALS.sub(r"\g<1>0", cell)
    return cell.replace(".", ",") if comma and _PLAIN_FIGURE.fullmatch(cell) else cell


def shopping_csv(job: Job, comma: bool = False) -> str:
    """Return the shopping list as a table: what, count, length of tube, price of one, cost, whether it is there."""
    per, unit = (M_PER_FOOT, "feet") if job.units == "us" else (1.0, "meters")
    rows = [("part", "sort", "count", unit, "price each", "cost", "there")]
    for line in count_parts(job.vehicle, job.units).lines:
        each, cost = ("" if v is None else f"{v:.2f}" for v in (line.each, line.cost))
        long = format_decimal(line.meters / per, DECIMALS) if line.meters else ""
        there = "yes" if line.what in job.vehicle.build.ticked else ""
        rows.append((line.what, line.sort, str(line.count), long, each, cost, there))
    return csv_text(rows, comma)


_WAYS = (("up", "down"), ("left", "right"), ("out", "in"), ("pull", "push"), ("ahead", "behind"), ("high", "low"))
_UNITS = (
    "lb/in", "N/mm", "lb ft", "ft lb", "N m", "lbf", "mph", "km/h", "psi", "bar", "MPa", "rpm", "to 1", "in", "mm",
    "ft", "m", "lb", "kg", "kN", "N", "Hz", "g", "°", "%",
)  # fmt: skip
_SHOWN = re.compile(
    r"^~?(?P<sign>[+\N{MINUS SIGN}-]?)\s*(?:(?P<whole>\d{1,3}(?:,\d{3})+|\d+)(?P<part>[.,]\d+)?)?"
    r"(?:(?:^|(?<=\s)|\s|(?<=[+~-]))(?P<over>\d+)/(?P<under>\d+))?\s*"
    rf"(?P<unit>{'|'.join(re.escape(u) for u in _UNITS)})?(?:\s+(?P<way>[a-z]+))?$"
)
_NOTHING = ("", "\N{EM DASH}", "-", "no case", "no price", "not typed")


def as_numbers(rows: list[list[str]]) -> list[list[str]]:
    """A table as shown, its head first, with every column of figures as plain numbers and their unit in the head.

    A column is one of figures when all of its cells are, in one unit: fractions become decimals, and where cells say a
    way (up or down, pull or push), the first of the two is +. All other columns stay as they are.
    """
    head, body = rows[0], rows[1:]
    columns = [_as_column(title, [row[j] for row in body]) for j, title in enumerate(head)]
    return [[c[0] for c in columns], *([c[1][i] for c in columns] for i in range(len(body)))]


def _as_column(title: str, cells: list[str]) -> tuple[str, list[str]]:
    found = [None if cell in _NOTHING else _figure(cell) for cell in cells]
    read = [f for f in found if f is not None]
    units, ways = {unit for _, unit, _ in read}, {way for _, _, way in read if way}
    pair = next((p for p in _WAYS if ways <= set(p)), None)
    whole = len(read) == sum(cell not in _NOTHING for cell in cells)
    if not read or not whole or len(units) > 1 or (ways and pair is None):
        return title, cells
    unit = units.pop()
    if unit and not title.endswith((f", {unit}", f" {unit}")):
        title = f"{title}, {unit}"
    if ways and pair is not None:
        title = f"{title} (+ {pair[0]})"
    return title, ["" if f is None else f"{-f[0] if pair and f[2] == pair[1] else f[0]:.10g}" for f in found]


def _figure(cell: str) -> tuple[float, str, str] | None:
    """A cell as a number, its unit and its way; None where it is no figure."""
    m = _SHOWN.match(cell.strip())
    if m is None or (m["whole"] is None and m["over"] is None):
        return None
    value = float((m["whole"] or "0").replace(",", "") + (m["part"] or "").replace(",", "."))
    if m["over"]:
        value += float(m["over"]) / max(float(m["under"]), 1.0)
    return (-value if m["sign"] in ("-", "\N{MINUS SIGN}") else value), m["unit"] or "", m["way"] or ""


def sweep_csv(answers: Answers, system: System, comma: bool = False) -> str:
    """Return all answers of a sweep, one row a posture; lengths in inches or mm, empty where it cannot be reached."""
    per, unit = (MM_PER_INCH, "in") if system == "us" else (1.0, "mm")
    keys = list(answers.values)
    heads = [f"left_{unit}", f"right_{unit}"]
    heads += [k.removesuffix("_mm") + f"_{unit}" if k.endswith("_mm") else k for k in keys]
    rows = [heads]
    for i in range(len(answers.left)):
        row = [format_decimal(answers.left[i] / per, DECIMALS), format_decimal(answers.right[i] / per, DECIMALS)]
        for key in keys:
            value = float(answers.values[key][i]) / (per if key.endswith("_mm") else 1.0)
            row.append(format_decimal(value, DECIMALS) if isfinite(value) and abs(value) < 1e9 else "")
        rows.append(row)
    return csv_text(rows, comma)
