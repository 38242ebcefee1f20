"""Points in and out: CSV with units in the header, and the points of a DXF drawing."""

import csv
import io
import logging
import re
from pathlib import Path

from even_stance.errors import InputError, JobFileError, UnitMissingError
from even_stance.exchange.tables import DECIMALS, csv_text
from even_stance.exchange.wholefile import read_whole
from even_stance.shop.points import Known, known_points
from even_stance.units import MM_PER_INCH, format_decimal, parse_length
from even_stance.vehicle.car import Vehicle
from even_stance.vehicle.measuring import TOOLS
from even_stance.vehicle.records import Point

_UNIT_WORDS = {
    "mm": "mm", "millimeter": "mm", "millimeters": "mm", "millimetre": "mm", "millimetres": "mm",
    "cm": "cm", "centimeter": "cm", "centimeters": "cm", "m": "m", "meter": "m", "meters": "m", "metre": "m",
    "in": "in", "inch": "in", "inches": "in", '"': "in", "ft": "ft", "foot": "ft", "feet": "ft", "'": "ft",
}  # fmt: skip
UNITS = ("mm", "in", "cm", "m", "ft")
"""What the figures of a file may be in that does not say so."""
_COLUMN = re.compile(
    r"^(?P<axis>ahead|left|up|x|y|z|sure|\+/-|±)[\s_]*[\[(]?\s*"
    rf"(?P<unit>{'|'.join(sorted(map(re.escape, _UNIT_WORDS), key=len, reverse=True))})?\s*[\])]?$"
)
_AXES = {"ahead": 0, "x": 0, "left": 1, "y": 1, "up": 2, "z": 2, "sure": 3, "+/-": 3, "±": 3}
_TITLES = ("name", "point", "label", "description", "id", "no", "nr", "number")
_HEADS = ("ahead", "left", "up", "+/-")
_LARGEST = 20_000_000
_MOST_POINTS = 5_000
_LONGEST_LINE = 10_000
# Drawing units that points are read in, by their code in a DXF header ($INSUNITS), mm each.
_UNITS_MM = {"mm": 1.0, "cm": 10.0, "m": 1000.0, "in": MM_PER_INCH, "ft": 12 * MM_PER_INCH}
_DXF_UNITS = {1: MM_PER_INCH, 2: 12 * MM_PER_INCH, 4: 1.0, 5: 10.0, 6: 1000.0, 10: 36 * MM_PER_INCH, 14: 100.0}


def read_points(path: Path, unit: str = "") -> list[Known]:
    """Return the points of a file, by its ending.

    Args:
        path: the file; unit: of its figures, where it does not say.

    Raises:
        UnitMissingError: it does not say in what unit its figures are, and neither does `unit`.
        JobFileError: it cannot be read, or holds no points; the sentence names the line.
    """
    raw = read_whole(path, _LARGEST, "a list of points")
    points = _from_dxf(path, unit) if path.suffix.lower() == ".dxf" else _from_csv(raw, path.name, unit)
    if not points:
        raise JobFileError(f"{path.name} holds no points.")
    return points


def points_of_text(text: str, unit: str = "") -> list[Known]:
    """Return the points of a table that was copied as text, from a spreadsheet or a message.

    Raises:
        UnitMissingError: it does not say in what unit its figures are, and neither does `unit`.
        JobFileError: it holds no points; the sentence names the line.
    """
    if len(text) > _LARGEST:
        raise JobFileError("What was copied is too large for a list of points.")
    points = _from_csv(text.encode("utf-8", "replace"), "What was copied", unit)
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


def _from_csv(raw: bytes, name: str, unit: str) -> list[Known]:
    """Return the points of a table: one row each, below a head that says what its columns are."""
    text, between = _text_of(raw, name), ""
    first = re.match(r"\s*sep=(.)[\r\n]", text)  # how spreadsheets say what stands between cells
    if first is not None:
        between, text = first[1], " " * first.start() + text[first.end() - 1 :]
    if any(len(line) > _LONGEST_LINE for line in re.split(r"[\r\n]", text)):
        at, line = next((n, ln) for n, ln in enumerate(re.split(r"[\r\n]", text), 1) if len(ln) > _LONGEST_LINE)
        raise JobFileError(f"{name}, line {at}: is {len(line):,} characters long: no point is.")
    lines = [(n, line) for n, line in enumerate(io.StringIO(text, newline=None), 1) if _says_something(line)]
    if not lines:
        raise JobFileError(f"{name} is empty.")
    if not between:
        head = lines[0][1]
        between = "\t" if "\t" in head else ";" if ";" in head else ","
    rows = _rows(lines, between, name)
    if len(rows) > _MOST_POINTS + 1:
        raise JobFileError(f"{name} holds {len(rows):,} lines: {_MOST_POINTS:,} points at most can be read.")
    number, heads = rows[0]
    columns, title = _columns(heads, name, number, unit)
    return [_point(row, columns, title, between, f"{name}, line {number}", number) for number, row in rows[1:]]


def _says_something(line: str) -> bool:
    return bool(line.strip()) and not line.lstrip().startswith(("#", "//"))


def _rows(lines: list[tuple[int, str]], between: str, name: str) -> list[tuple[int, list[str]]]:
    """Return the cells of each row with the line it starts on; a cell in quotation marks may go over several lines."""
    rows: list[tuple[int, list[str]]] = []
    reader = csv.reader((line for _, line in lines), delimiter=between)
    while True:
        number = lines[min(reader.line_num, len(lines) - 1)][0]
        try:
            row = next(reader)
        except StopIteration:
            return rows
        except csv.Error as error:
            raise JobFileError(f"{name}, line {number}: is damaged: {error}.") from None
        if any(cell.strip() for cell in row):
            rows.append((number, row))


def _columns(heads: list[str], name: str, number: int, unit: str) -> tuple[dict[int, tuple[int, str]], int | None]:
    """Return which column holds what, with its unit, and which the name."""
    columns: dict[int, tuple[int, str]] = {}
    titles: dict[str, int] = {}
    for i, head in enumerate(heads):
        words = head.strip().lower()
        found = _COLUMN.match(words)
        if found is not None:
            columns.setdefault(_AXES[found["axis"]], (i, _UNIT_WORDS.get(found["unit"] or "", unit)))
        elif words.rstrip(".") in _TITLES:
            titles.setdefault(words.rstrip("."), i)
    if not {0, 1, 2} <= set(columns):
        raise JobFileError(f"{name}, line {number}: the columns ahead, left and up are needed, with units: “ahead_mm”.")
    said = {each for axis, (_, each) in columns.items() if axis < 3 and each}
    if not said:
        raise UnitMissingError(
            f"{name} does not say in what unit its figures are. Name it in the head, as in “ahead_mm”."
        )
    # What only one column says, it says for all.
    whole = {axis: (i, each or next(iter(said))) for axis, (i, each) in columns.items()} if len(said) == 1 else columns
    if not all(each for axis, (_, each) in whole.items() if axis < 3):
        raise JobFileError(f"{name}, line {number}: some columns say their unit and others do not. Name it in each.")
    return whole, next((titles[words] for words in _TITLES if words in titles), None)


def _point(
    row: list[str], columns: dict[int, tuple[int, str]], title: int | None, between: str, where: str, number: int
) -> Known:
    """Return one row of a table as a point of the car."""
    values = []
    for axis in sorted(columns):
        i, unit = columns[axis]
        cell = row[i].strip() if i < len(row) else ""
        if not cell:
            if axis == 3:
                continue
            raise JobFileError(f"{where}: a figure is missing ({_HEADS[axis]}).")
        try:
            values.append(parse_length(_with_unit(_plain_figure(cell, between), unit), "metric", _HEADS[axis]))
        except InputError as error:
            raise JobFileError(f"{where}: {error}") from None
    given = " ".join(row[title].split()) if title is not None and title < len(row) else ""
    given = "".join(c for c in given if c.isprintable())
    sure = values[3] if len(values) > 3 else TOOLS["gauge"].sure("length")
    return _known((given or f"line {number}")[:80], values[:3], where, sure)


def _plain_figure(cell: str, between: str) -> str:
    """Return a figure of a spreadsheet with a point for its decimals and no marks between thousands."""
    if re.fullmatch(r"[+-]?(\d+\.?\d*|\.\d+)[eE][+-]?\d{1,3}", cell):
        return f"{float(cell):.10f}"
    cell = re.sub(r"(?<=\d)['’\u00a0\u2009\u202f](?=\d{3}(?!\d))", "", cell)
    if re.fullmatch(r"[+-]?\d{1,3}( \d{3})+([.,]\d+)?", cell):
        cell = cell.replace(" ", "")
    if not re.fullmatch(r"[+-]?[\d.,]+", cell):
        return cell
    points, commas = cell.count("."), cell.count(",")
    if points and commas:  # the last of both is that of the decimals
        return cell.replace(",", "") if cell.rindex(".") > cell.rindex(",") else cell.replace(".", "").replace(",", ".")
    if commas == 1:
        thousands = between == "," and re.fullmatch(r"[+-]?[1-9]\d{0,2},\d{3}", cell)
        return cell.replace(",", "" if thousands else ".")
    return cell.replace(",", "").replace(".", "") if max(points, commas) > 1 else cell


def _with_unit(cell: str, unit: str) -> str:
    return f"{cell} {unit}" if re.fullmatch(r"[+-]?[\d. /]+(?:[- ]\d+/\d+)?", cell) else cell


def _known(title: str, values: list[float], where: str, sure: float) -> Known:
    """A point read from a file, refused where it cannot be on a car."""
    if not all(abs(v) <= 20_000 for v in values):
        raise JobFileError(f"{where}: {title} is farther away than any car is long.")
    if not 0.0 <= sure <= 20_000:
        raise JobFileError(f"{where}: the +/- of {title} must be 0 or more.")
    return Known(title, Point(x=values[0], y=values[1], z=values[2], sure=sure, known="taped"))


def _from_dxf(path: Path, unit: str) -> list[Known]:
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
    per = _DXF_UNITS.get(units) or _UNITS_MM.get(unit)
    if per is None:
        raise UnitMissingError(
            f"{path.name} does not say a unit that can be read. Set its drawing units to millimeters or inches "
            "and save it again (R12 cannot hold them: R2000 or newer can)."
        )
    if len(found) > _MOST_POINTS:
        raise JobFileError(f"{path.name} holds {len(found):,} points: {_MOST_POINTS:,} at most can be read.")
    sure = TOOLS["gauge"].sure("length")
    return [
        _known(f"{layer} {i}"[:80], [v * per for v in place], f"{path.name}, point {i}", sure)
        for i, (layer, place) in enumerate(found, start=1)
    ]


def points_csv(vehicle: Vehicle, comma: bool = False) -> str:
    """Return all points of a car as CSV, millimeters, units in the head."""
    rows = [("name", "ahead_mm", "left_mm", "up_mm", "sure_mm")]
    for known in known_points(vehicle):
        p = known.point
        x, y, z, sure = (format_decimal(v, DECIMALS) for v in (p.x, p.y, p.z, p.sure))
        rows.append((known.name, x, y, z, sure))
    return csv_text(rows, comma)
