"""Points in and out: CSV with units in the header, and the points of a DXF drawing."""

import csv
import io
import re
from pathlib import Path

from even_stance.errors import InputError, JobFileError
from even_stance.shop.points import Known, known_points
from even_stance.units import MM_PER_INCH, parse_length
from even_stance.vehicle.car import Vehicle
from even_stance.vehicle.measuring import TOOLS
from even_stance.vehicle.records import Point

_COLUMN = re.compile(r"^(?P<axis>ahead|left|up|x|y|z)(?:[_ (]*(?P<unit>mm|cm|m|in|inch)\)?)?$")
_AXES = {"ahead": 0, "x": 0, "left": 1, "y": 1, "up": 2, "z": 2}
_LARGEST = 20_000_000


def read_points(path: Path) -> list[Known]:
    """The points of a file, by its ending.

    Raises:
        JobFileError: it cannot be read, or holds no points; the sentence names the line.
    """
    try:
        if path.stat().st_size > _LARGEST:
            raise JobFileError(f"{path.name} is too large for a list of points.")
        raw = path.read_bytes()
    except FileNotFoundError:
        raise JobFileError(f"{path} is not there.") from None
    except OSError as error:
        raise JobFileError(f"{path.name} cannot be read: {error.strerror}.") from None
    points = _from_dxf(path) if path.suffix.lower() == ".dxf" else _from_csv(raw, path.name)
    if not points:
        raise JobFileError(f"{path.name} holds no points.")
    return points


def _from_csv(raw: bytes, name: str) -> list[Known]:
    try:
        text = raw.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise JobFileError(f"{name} is damaged: byte {error.start} is not UTF-8 text.") from None
    rows = list(csv.reader(io.StringIO(text), delimiter=";" if text.count(";") > text.count(",") else ","))
    if not rows:
        raise JobFileError(f"{name} is empty.")
    columns: dict[int, tuple[int, str]] = {}
    title = 0
    for i, head in enumerate(rows[0]):
        found = _COLUMN.match(head.strip().lower())
        if found is not None:
            columns[_AXES[found["axis"]]] = (i, found["unit"] or "mm")
        elif head.strip().lower() in ("name", "point"):
            title = i
    if set(columns) != {0, 1, 2}:
        raise JobFileError(f"{name}, line 1: the columns ahead, left and up are needed, with units: “ahead_mm”.")
    points = []
    for number, row in enumerate(rows[1:], start=2):
        if not any(cell.strip() for cell in row):
            continue
        try:
            values = [parse_length(_with_unit(row[i], unit), "metric", head) for (i, unit), head in (
                (columns[k], ("ahead", "left", "up")[k]) for k in range(3))]  # fmt: skip
        except IndexError:
            raise JobFileError(f"{name}, line {number}: a figure is missing.") from None
        except InputError as error:
            raise JobFileError(f"{name}, line {number}: {error}") from None
        points.append(_known(row[title].strip() or f"line {number}", values, name, number))
    return points


def _with_unit(cell: str, unit: str) -> str:
    cell = cell.strip()
    return f"{cell} {unit}" if re.fullmatch(r"[+-]?[\d. /]+(?:[- ]\d+/\d+)?", cell) else cell


def _known(title: str, values: list[float], name: str, number: int) -> Known:
    if max(abs(v) for v in values) > 20_000:
        raise JobFileError(f"{name}, line {number}: {title} is farther away than any car is long.")
    return Known(title, Point(x=values[0], y=values[1], z=values[2], sure=TOOLS["gauge"].length_mm))


def _from_dxf(path: Path) -> list[Known]:
    # A large package that only drawings need.
    from ezdxf.filemanagement import readfile  # noqa: PLC0415
    from ezdxf.lldxf.const import DXFError  # noqa: PLC0415

    try:
        drawing = readfile(path)
    except (OSError, DXFError) as error:
        raise JobFileError(f"{path.name} is no DXF drawing that can be read: {error}.") from None
    per = {1: MM_PER_INCH, 2: 12 * MM_PER_INCH, 4: 1.0, 5: 10.0, 6: 1000.0}.get(drawing.units, 1.0)
    points = []
    for i, entity in enumerate(drawing.modelspace().query("POINT"), start=1):
        place = entity.dxf.location
        values = [place.x * per, place.y * per, place.z * per]
        points.append(_known(f"{entity.dxf.layer} {i}", values, path.name, i))
    return points


def points_csv(vehicle: Vehicle) -> str:
    """All points of a car as CSV, millimeters, units in the header."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(("name", "ahead_mm", "left_mm", "up_mm", "sure_mm"))
    for known in known_points(vehicle):
        p = known.point
        writer.writerow((known.name, f"{p.x + 0.0:.3f}", f"{p.y + 0.0:.3f}", f"{p.z:.3f}", f"{p.sure:.3f}"))
    return out.getvalue()
