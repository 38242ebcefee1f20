"""Points in and out: CSV with units in the header, and the points of a DXF drawing."""

import csv
import io
import logging
import re
from pathlib import Path

from even_stance.errors import InputError, JobFileError
from even_stance.exchange.tables import DECIMALS
from even_stance.exchange.wholefile import read_whole
from even_stance.shop.points import Known, known_points
from even_stance.units import MM_PER_INCH, format_decimal, parse_length
from even_stance.vehicle.car import Vehicle
from even_stance.vehicle.measuring import TOOLS
from even_stance.vehicle.records import Point

_COLUMN = re.compile(
    r"^(?P<axis>ahead|left|up|x|y|z|sure|\+/-|±)[\s_]*[\[(]?\s*(?P<unit>mm|cm|m|in|inch|inches|\"|ft|')?\s*[\])]?$"
)
_AXES = {"ahead": 0, "x": 0, "left": 1, "y": 1, "up": 2, "z": 2, "sure": 3, "+/-": 3, "±": 3}
_HEADS = ("ahead", "left", "up", "+/-")
_LARGEST = 20_000_000
_MOST_POINTS = 5_000
_LONGEST_LINE = 10_000
# Drawing units that points are read in, by their code in a DXF header ($INSUNITS), mm each.
_DXF_UNITS = {1: MM_PER_INCH, 2: 12 * MM_PER_INCH, 4: 1.0, 5: 10.0, 6: 1000.0, 10: 36 * MM_PER_INCH, 14: 100.0}


def read_points(path: Path) -> list[Known]:
    """The points of a file, by its ending.

    Raises:
        JobFileError: it cannot be read, or holds no points; the sentence names the line.
    """
    raw = read_whole(path, _LARGEST, "a list of points")
    points = _from_dxf(path) if path.suffix.lower() == ".dxf" else _from_csv(raw, path.name)
    if not points:
        raise JobFileError(f"{path.name} holds no points.")
    return points


def points_of_text(text: str) -> list[Known]:
    """The points of a table that was copied as text, from a spreadsheet or a message.

    Raises:
        JobFileError: it holds no points; the sentence names the line.
    """
    if len(text) > _LARGEST:
        raise JobFileError("What was copied is too large for a list of points.")
    points = _from_csv(text.encode(), "What was copied")
    if not points:
        raise JobFileError("What was copied holds no points.")
    return points


def _text_of(raw: bytes, name: str) -> str:
    """Text in UTF-8, UTF-16 with its mark, or the Latin-1 of older spreadsheets."""
    try:
        if raw[:2] in (b"\xff\xfe", b"\xfe\xff"):
            return raw.decode("utf-16")
        return raw.decode("utf-8-sig")
    except UnicodeDecodeError:
        if b"\0" in raw:
            raise JobFileError(f"{name} is damaged: it is no text.") from None
        return raw.decode("cp1252", "replace")


def _from_csv(raw: bytes, name: str) -> list[Known]:
    """Points of a table: one row each, with or without a head."""
    lines = [
        (number, line)
        for number, line in enumerate(re.split(r"\r\n|\r|\n", _text_of(raw, name)), start=1)
        if line.strip() and not line.lstrip().startswith(("#", "//"))
    ]
    if not lines:
        raise JobFileError(f"{name} is empty.")
    if len(lines) > _MOST_POINTS + 1:
        raise JobFileError(f"{name} holds {len(lines):,} lines: {_MOST_POINTS:,} points at most can be read.")
    head = lines[0][1][:_LONGEST_LINE]
    between = "\t" if "\t" in head else ";" if ";" in head else ","
    columns, title = _columns(next(csv.reader([head], delimiter=between)), name, lines[0][0])
    points = []
    for number, line in lines[1:]:
        if len(line) > _LONGEST_LINE:
            raise JobFileError(f"{name}, line {number}: is {len(line):,} characters long: no point is.")
        try:
            row = next(csv.reader([line], delimiter=between))
        except csv.Error as error:
            raise JobFileError(f"{name}, line {number}: is damaged: {error}.") from None
        if any(cell.strip() for cell in row):
            points.append(_point(row, columns, title, between, f"{name}, line {number}", number))
    return points


def _columns(heads: list[str], name: str, number: int) -> tuple[dict[int, tuple[int, str]], int | None]:
    """Which column holds what, with its unit, and which the name."""
    columns: dict[int, tuple[int, str]] = {}
    title = None
    for i, head in enumerate(heads):
        found = _COLUMN.match(head.strip().lower())
        if found is not None:
            columns.setdefault(_AXES[found["axis"]], (i, found["unit"] or "mm"))
        elif head.strip().lower() in ("name", "point"):
            title = i
    if not {0, 1, 2} <= set(columns):
        raise JobFileError(f"{name}, line {number}: the columns ahead, left and up are needed, with units: “ahead_mm”.")
    return columns, title


def _point(
    row: list[str], columns: dict[int, tuple[int, str]], title: int | None, between: str, where: str, number: int
) -> Known:
    """One row of a table as a point of the car."""
    values = []
    for axis in sorted(columns):
        i, unit = columns[axis]
        cell = row[i].strip() if i < len(row) else ""
        if not cell:
            if axis == 3:
                continue
            raise JobFileError(f"{where}: a figure is missing ({_HEADS[axis]}).")
        if between != "," and re.fullmatch(r"[+-]?\d+,\d+", cell):
            cell = cell.replace(",", ".")
        try:
            values.append(parse_length(_with_unit(cell, unit), "metric", _HEADS[axis]))
        except InputError as error:
            raise JobFileError(f"{where}: {error}") from None
    given = row[title].strip() if title is not None and title < len(row) else ""
    sure = values[3] if len(values) > 3 else TOOLS["gauge"].sure("length")
    return _known((given or f"line {number}")[:80], values[:3], where, sure)


def _with_unit(cell: str, unit: str) -> str:
    return f"{cell} {unit}" if re.fullmatch(r"[+-]?[\d. /]+(?:[- ]\d+/\d+)?", cell) else cell


def _known(title: str, values: list[float], where: str, sure: float) -> Known:
    """A point read from a file, refused where it cannot be on a car."""
    if not all(abs(v) <= 20_000 for v in values):
        raise JobFileError(f"{where}: {title} is farther away than any car is long.")
    if not 0.0 <= sure <= 20_000:
        raise JobFileError(f"{where}: the +/- of {title} must be 0 or more.")
    return Known(title, Point(x=values[0], y=values[1], z=values[2], sure=sure))


def _from_dxf(path: Path) -> list[Known]:
    # A large package that only drawings need.
    """Points of a drawing: its points and the middles of its circles, in the units it says."""
    from ezdxf.filemanagement import readfile  # noqa: PLC0415
    from ezdxf.lldxf.const import DXFError  # noqa: PLC0415

    # What the reader skips of a damaged file is no line for the person's terminal: what matters is refused below.
    logging.getLogger("ezdxf").setLevel(logging.CRITICAL)

    from even_stance.exchange.dxf import PROJECTIONS, SPACE_JOINTS  # noqa: PLC0415

    try:
        drawing = readfile(path)
        units = int(drawing.header.get("$INSUNITS", 0))
        ours = drawing.header.get("$PROJECTNAME", "") == PROJECTIONS
        found = [(e.dxf.layer, tuple(e.dxf.location)) for e in drawing.modelspace().query("POINT")]
    except (OSError, DXFError) as error:
        why = "".join(c for c in " ".join(str(error).split()) if c.isprintable())[:120].rstrip(". ")
        raise JobFileError(f"{path.name} is no DXF drawing that can be read: {why}.") from None
    except Exception:  # a parser that is not ours, fed with damage: whatever it stumbles over
        raise JobFileError(f"{path.name} is a damaged DXF drawing.") from None
    if ours:  # of our own drawings, what stands in space: joints in the projections are no places on a car
        found = [(layer, place) for layer, place in found if layer == SPACE_JOINTS]
    if units not in _DXF_UNITS:
        raise JobFileError(
            f"{path.name} does not say a unit that can be read. Set its drawing units to millimeters or inches "
            "and save it again (R12 cannot hold them: R2000 or newer can)."
        )
    if len(found) > _MOST_POINTS:
        raise JobFileError(f"{path.name} holds {len(found):,} points: {_MOST_POINTS:,} at most can be read.")
    per, sure = _DXF_UNITS[units], TOOLS["gauge"].sure("length")
    return [
        _known(f"{layer} {i}"[:80], [v * per for v in place], f"{path.name}, point {i}", sure)
        for i, (layer, place) in enumerate(found, start=1)
    ]


def points_csv(vehicle: Vehicle) -> str:
    """All points of a car as CSV, millimeters, units in the header."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(("name", "ahead_mm", "left_mm", "up_mm", "sure_mm"))
    for known in known_points(vehicle):
        p = known.point
        writer.writerow((known.name, *(format_decimal(v, DECIMALS) for v in (p.x, p.y, p.z, p.sure))))
    return out.getvalue()
