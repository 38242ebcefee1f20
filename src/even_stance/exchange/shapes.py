"""Shapes from files: outlines of plates from DXF, scanned or drawn parts from STL."""

from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np

from even_stance.errors import InputError
from even_stance.mechanics.vectors import Array
from even_stance.study.things import polygon_of
from even_stance.vehicle.edits import made
from even_stance.vehicle.things import MOST_CORNERS, Pair, Plane, Plate, Scan

MOST_TRIANGLES = 300  # kept of a scan: more would take too long over all travel
_MOST_READ = 1_000_000
_MOST_MB = 120.0
_JOIN_MM = 0.05
# What a drawing says its numbers are: the format's own codes.
_DXF_UNITS = {1: 25.4, 2: 304.8, 4: 1.0, 5: 10.0, 6: 1000.0}
UNITS_MM = {"mm": 1.0, "in": 25.4, "cm": 10.0, "m": 1000.0}


@dataclass(frozen=True)
class Outlines:
    """What a drawing holds.

    Attributes:
        rings: closed outlines, mm (or in the file's own numbers), the largest first; per_mm: mm for each number, None
            where the file does not say.
    """

    rings: tuple[tuple[Pair, ...], ...]
    per_mm: float | None


def read_outlines(path: Path) -> Outlines:
    """The closed outlines of a DXF drawing.

    Raises:
        InputError: it is no drawing, holds no closed outline, or one that is not closed.
    """
    from ezdxf.filemanagement import readfile  # noqa: PLC0415 - heavy, and only for this
    from ezdxf.lldxf.const import DXFError  # noqa: PLC0415
    from ezdxf.path import make_path  # noqa: PLC0415

    try:
        drawing = readfile(str(path))
    except (OSError, DXFError, UnicodeError, ValueError) as error:
        why = str(error).split("\n")[0][:120]
        raise InputError("DXF file", f"{path.name} cannot be read ({why}).", "Save it as DXF, R12 or newer.") from None
    loose: list[Array] = []
    rings: list[Array] = []
    for entity in drawing.modelspace():
        kind = entity.dxftype()
        if kind not in ("LINE", "LWPOLYLINE", "POLYLINE", "CIRCLE", "ARC", "ELLIPSE", "SPLINE"):
            continue
        shape: Any = make_path(entity)
        places = np.array([(p.x, p.y) for p in shape.flattening(0.05)])
        if len(places) < 2:
            continue
        closed = np.allclose(places[0], places[-1], atol=_JOIN_MM)
        (rings if closed and len(places) > 3 else loose).append(places)
    rings += _joined(loose, path.name)
    if not rings:
        raise InputError("DXF file", f"{path.name} holds no outline.", "Draw the plate as a closed polyline.")
    found = sorted((tuple((float(a), float(b)) for a, b in r[:-1]) for r in rings), key=lambda r: -_area(r))
    return Outlines(tuple(found), _DXF_UNITS.get(int(drawing.units)))


def _joined(loose: list[Array], name: str) -> list[Array]:
    """Lines and arcs put together end to end into closed outlines."""
    rings = []
    left = list(loose)
    while left:
        chain = left.pop(0)
        grown = True
        while grown and not np.allclose(chain[0], chain[-1], atol=_JOIN_MM):
            grown = False
            for i, piece in enumerate(left):
                for part in (piece, piece[::-1]):
                    if np.allclose(chain[-1], part[0], atol=_JOIN_MM):
                        chain = np.vstack((chain, part[1:]))
                        left.pop(i)
                        grown = True
                        break
                if grown:
                    break
        if not np.allclose(chain[0], chain[-1], atol=_JOIN_MM):
            x, y = chain[-1]
            raise InputError(
                "DXF file",
                f"an outline in {name} is open: it ends at {x:.1f}, {y:.1f}.",
                "Close it, or join its lines.",
            )
        rings.append(chain)
    return rings


def _area(ring: tuple[Pair, ...]) -> float:
    x, y = np.array(ring).T
    return abs(float(0.5 * np.sum(x * np.roll(y, -1) - y * np.roll(x, -1))))


def plate_from(outlines: Outlines, per_mm: float, plane: Plane, start_mm: float, thick_mm: float) -> Plate:
    """A plate from the largest outline of a drawing, the others in it its holes.

    Args:
        outlines: what the drawing holds; per_mm: mm for each of its numbers.
        plane: which face of the car it lies in; start_mm, thick_mm: where along the third axis, and how thick.

    Raises:
        InputError: the outline crosses itself, or has too many corners.
    """
    import shapely  # noqa: PLC0415 - beside the drawing's own reader

    first, *others = (tuple((per_mm * a, per_mm * b) for a, b in ring) for ring in outlines.rings)
    area = polygon_of(first)
    holes = [ring for ring in others if area.contains(shapely.Polygon(ring))]
    ring = tuple((float(a), float(b)) for a, b in area.simplify(0.1).exterior.coords[:-1])
    if len(ring) > MOST_CORNERS:
        raise InputError(
            "DXF file", f"the outline has {len(ring)} corners.", f"Simplify it to {MOST_CORNERS} or fewer."
        )
    slim = [
        tuple((float(a), float(b)) for a, b in shapely.Polygon(h).simplify(0.1).exterior.coords[:-1]) for h in holes
    ]
    return made(Plate, plane=plane, corners=ring, holes=tuple(slim), start_mm=start_mm, thick_mm=thick_mm)


def read_scan(path: Path, per_mm: float = 1.0) -> tuple[Scan, str]:
    """A scanned or drawn part from an STL file, thinned where it has more triangles than can be looked at.

    Args:
        path: the file, binary or text; per_mm: mm for each of its numbers (STL does not say).

    Returns:
        The part, and a sentence on what was thinned; empty where nothing was.

    Raises:
        InputError: it is no STL file, or too large.
    """
    import trimesh  # noqa: PLC0415 - heavy, and only for this

    if path.stat().st_size > _MOST_MB * 1e6:
        raise InputError(
            "STL file", f"{path.name} is larger than {_MOST_MB:.0f} MB.", "Thin it in the scanner's program."
        )
    try:
        mesh: Any = trimesh.load(str(path), file_type="stl", force="mesh")
    except Exception as error:  # the reader raises whatever it stumbles over
        why = str(error).split("\n")[0][:80]
        raise InputError("STL file", f"{path.name} cannot be read ({why}).", "Save it as binary or text STL.") from None
    corners, faces = np.asarray(mesh.vertices, float) * per_mm, np.asarray(mesh.faces)
    if not len(faces) or not np.isfinite(corners).all():
        raise InputError("STL file", f"{path.name} holds no triangles.", "Save it as binary or text STL.")
    if len(faces) > _MOST_READ:
        raise InputError("STL file", f"{path.name} has {len(faces):,} triangles.", "Thin it below a million.")
    if float(np.abs(corners).max()) > 20_000.0:
        raise InputError("STL file", f"{path.name} reaches farther than twenty meters.", "Check its units.")
    kept, which, grown = thinned(corners, faces)
    said = ""
    if len(which) < len(faces):
        said = (f"{path.name} has {len(faces):,} triangles: {len(which)} were kept, and it is taken "
                f"{grown:.1f} mm larger all around, so that nothing of it is missed.")  # fmt: skip
    return made(
        Scan, corners=tuple(tuple(round(float(v), 3) for v in c) for c in kept),
        faces=tuple(tuple(int(i) for i in f) for f in which), grown_mm=grown,
    ), said  # fmt: skip


def thinned(corners: Array, faces: Any) -> tuple[Array, Any, float]:
    """Triangles merged on a grid until few enough are left, and how far a corner went at most, mm."""
    if len(faces) <= MOST_TRIANGLES:
        return corners, faces, 0.0
    low, size = corners.min(axis=0), float((corners.max(axis=0) - corners.min(axis=0)).max())
    cells = 40
    while cells > 1:
        step = size / cells
        _, first, group = np.unique(_cells(corners - low, step), return_index=True, return_inverse=True)
        group = group.reshape(-1)
        middle = np.zeros((len(first), 3))
        np.add.at(middle, group, corners)
        middle /= np.bincount(group)[:, None]
        merged = group[faces]
        merged = merged[
            (merged[:, 0] != merged[:, 1]) & (merged[:, 1] != merged[:, 2]) & (merged[:, 0] != merged[:, 2])
        ]
        merged = np.sort(merged, axis=1)
        merged = merged[np.unique(_number(merged, len(first)), return_index=True)[1]]
        if 0 < len(merged) <= MOST_TRIANGLES:
            used, merged = np.unique(merged, return_inverse=True)
            kept, merged = middle[used], merged.reshape(-1, 3)
            return kept, merged, _beyond(corners, kept[merged], low, size)
        cells -= 1
    raise InputError("STL file", "the part cannot be thinned far enough.", "Thin it in the scanner's program.")


def _cells(places: Array, size: float) -> Any:
    """The number of the cell of a cubic grid that each place is in."""
    index = np.floor(places / size + 1e-9).astype(np.int64)
    return _number(index, int(index.max()) + 1)


def _number(rows: Any, most: int) -> Any:
    """Three small whole numbers as one: many times faster to sort."""
    return (rows[:, 0] * most + rows[:, 1]) * most + rows[:, 2]


_FINE, _ACROSS = 120, 16


def _beyond(corners: Array, triangles: Array, low: Array, size: float) -> float:
    """How far any corner of a part is from the triangles kept of it at most, mm; of close ones one stands for all.

    Points strewn over the triangles stand for them: a corner is never farther from a triangle than from one of these.
    """
    from scipy.spatial import cKDTree  # noqa: PLC0415 - heavy, and only for this

    cell = size / _FINE
    _, first = np.unique(_cells(corners - low, cell), return_index=True)
    shares = np.array([(i, j, _ACROSS - i - j) for i in range(_ACROSS + 1) for j in range(_ACROSS + 1 - i)]) / _ACROSS
    strewn = np.einsum("sk,tkc->stc", shares, triangles).reshape(-1, 3)
    far = float(cKDTree(strewn).query(corners[first])[0].max())
    return far + cell * float(np.sqrt(3.0))
