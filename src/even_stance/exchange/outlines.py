"""Outlines of plates from DXF drawings: every closed shape in it, blocks opened, with its layer."""

import io
import logging
from collections import defaultdict
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np

from even_stance.errors import InputError, JobFileError
from even_stance.exchange.wholefile import read_whole
from even_stance.mechanics.vectors import Array
from even_stance.study.things import polygon_of
from even_stance.units import MM_PER_INCH
from even_stance.vehicle.edits import made
from even_stance.vehicle.things import MOST_CORNERS, MOST_HOLES, Pair, Plane, Plate

UNITS_MM = {"mm": 1.0, "in": MM_PER_INCH, "cm": 10.0, "m": 1000.0}
# What a drawing says its numbers are: the format's own codes.
_DXF_UNITS = {1: MM_PER_INCH, 2: 304.8, 4: 1.0, 5: 10.0, 6: 1000.0}
_DRAWN = ("LINE", "LWPOLYLINE", "POLYLINE", "CIRCLE", "ARC", "ELLIPSE", "SPLINE")
_LARGEST = 30_000_000
_MOST_SHAPES, _MOST_PLACES, _DEEPEST = 20_000, 400_000, 6
_FARTHEST_MM = 20_000.0
_JOIN_MM, _CURVE_MM, _SIMPLE_MM = 0.05, 0.02, 0.1
_SAVE_IT = "Save it as DXF, R12 or newer."


@dataclass(frozen=True)
class Outline:
    """One closed shape of a drawing.

    Attributes:
        corners: around it, in the file's own numbers; layer: where it is drawn; shown: whether that layer is on.
    """

    corners: tuple[Pair, ...]
    layer: str
    shown: bool


@dataclass(frozen=True)
class Outlines:
    """What a drawing holds.

    Attributes:
        outlines: closed shapes, the largest that is shown first; per_mm: mm for each number, None where the file does
            not say; left_out: a sentence for each sort of thing that could not be used.
    """

    outlines: tuple[Outline, ...]
    per_mm: float | None
    left_out: tuple[str, ...] = ()

    @property
    def layers(self) -> dict[str, bool]:
        """Return the layers that hold outlines, and whether each is on."""
        return {o.layer: o.shown for o in self.outlines}


@dataclass(frozen=True)
class _Line:
    """A drawn line, flattened; shown: on a layer that is on."""

    places: Array
    layer: str
    shown: bool


def read_outlines(path: Path) -> Outlines:
    """Return the closed outlines of a DXF drawing.

    Raises:
        InputError: it is no drawing, or holds no closed outline.
    """
    drawing = _read_drawing(path)
    per_mm = _DXF_UNITS.get(int(drawing.units))
    lines, left_out = _drawn_lines(drawing, per_mm or MM_PER_INCH)
    closed, open_ = _split_closed(lines)
    rings, dangling = _join(open_)
    closed += rings
    if dangling:
        left_out.append(_dangling_words(dangling))
    if not closed:
        x, y = dangling[0].places[-1] if dangling else (0.0, 0.0)
        if dangling:
            why = f"an outline in {path.name} is open: it ends at {x:.1f}, {y:.1f}."
            raise InputError("DXF file", why, "Close it, or join its lines.")
        said = " ".join(left_out) or "Draw the plate as a closed polyline."
        raise InputError("DXF file", f"{path.name} holds no outline.", said)
    found = [
        Outline(tuple((float(a), float(b)) for a, b in ring.places[:-1]), ring.layer, ring.shown) for ring in closed
    ]
    found.sort(key=lambda o: (not o.shown, -_area(o.corners)))
    return Outlines(tuple(found), per_mm, tuple(left_out))


def _read_drawing(path: Path) -> Any:
    from ezdxf import recover  # noqa: PLC0415 - heavy, and only for this

    try:
        raw = read_whole(path, _LARGEST, "a drawing")
    except JobFileError as error:
        raise InputError("DXF file", str(error), _SAVE_IT) from None
    # What the reader skips of a damaged file is no line for the person's terminal.
    logging.getLogger("ezdxf").setLevel(logging.CRITICAL)
    try:
        return recover.read(io.BytesIO(raw))[0]
    except Exception as error:  # a reader that is not ours, fed with damage: whatever it stumbles over
        why = "".join(c for c in " ".join(str(error).split()) if c.isprintable())[:90].rstrip(". ")
        raise InputError("DXF file", f"{path.name} cannot be read ({why or 'it is damaged'}).", _SAVE_IT) from None


def _drawn_lines(drawing: Any, per_mm: float) -> tuple[list[_Line], list[str]]:
    """Return the flattened lines of a drawing, and what was left out of it.

    Args:
        drawing: as its reader gave it; per_mm: mm for each number, the largest it may be where it is not known.
    """
    from ezdxf.path import make_path  # noqa: PLC0415 - heavy, and only for this

    lines: list[_Line] = []
    damaged = far = places = count = 0
    for entity, layer, shown in _entities(drawing):
        count += 1
        if count > _MOST_SHAPES or places > _MOST_PLACES:
            raise InputError("DXF file", f"has more than {_MOST_SHAPES:,} shapes.", "Save the plate alone.")
        try:
            shape: Any = make_path(entity)
            # Before anything is flattened, in height as well: one far corner would make millions of places, one that is
            # no number would never end.
            corners = np.array([tuple(p.xyz) for p in shape.control_vertices()], dtype=float).reshape(-1, 3)
            if not np.isfinite(corners).all() or np.abs(corners).max(initial=0.0) * per_mm > _FARTHEST_MM * MM_PER_INCH:
                far += 1
                continue
            flat = np.array([(p.x, p.y) for p in shape.flattening(_CURVE_MM / per_mm)], dtype=float).reshape(-1, 2)
        except Exception:  # a reader that is not ours, fed with damage: whatever it stumbles over
            damaged += 1
            continue
        places += len(flat)
        if len(flat) >= 2:
            lines.append(_Line(flat, layer, shown))
    left_out = [f"{far} shapes reach farther than twenty meters."] if far else []
    return lines, left_out + ([f"{damaged} shapes are damaged."] if damaged else [])


def _entities(drawing: Any) -> Iterator[tuple[Any, str, bool]]:
    """Yield the shapes of a drawing, blocks opened, with the layer of each and whether it is to be seen."""
    hidden = {layer.dxf.name.lower() for layer in drawing.layers if layer.is_off() or layer.is_frozen()}
    waiting = [(iter(drawing.modelspace()), "", True, 0)]
    while waiting:
        entities, block_layer, block_shown, depth = waiting.pop()
        while True:
            try:
                entity = next(entities)
                kind, layer = entity.dxftype(), str(entity.dxf.get("layer", "0"))
                unseen = bool(entity.dxf.get("invisible", 0))
            except StopIteration:
                break
            except Exception:  # a reader that is not ours, fed with damage: the rest of this block is lost
                break
            # What a block draws on layer 0 takes the layer that the block is put on.
            layer = block_layer if layer == "0" and block_layer else layer
            shown = block_shown and not unseen and layer.lower() not in hidden
            if kind == "INSERT" and depth < _DEEPEST:
                waiting.append((entities, block_layer, block_shown, depth))
                waiting.append((_inside(entity), layer, shown, depth + 1))
                break
            if kind in _DRAWN:
                yield entity, layer, shown


def _inside(insert: Any) -> Iterator[Any]:
    for one in insert.multi_insert() if insert.mcount > 1 else (insert,):
        yield from one.virtual_entities()


def _split_closed(lines: list[_Line]) -> tuple[list[_Line], list[_Line]]:
    """Return the lines that close by themselves, and the others."""
    closed: list[_Line] = []
    open_: list[_Line] = []
    for line in lines:
        ends = np.allclose(line.places[0], line.places[-1], atol=_JOIN_MM)
        (closed if ends and len(line.places) > 3 else open_).append(line)
    return closed, open_


def _join(lines: list[_Line]) -> tuple[list[_Line], list[_Line]]:
    """Return closed rings put together from lines that meet end to end, and the lines that are part of none.

    Each layer is joined by itself first; what is left of the layers that are shown, once more together.
    """
    rings: list[_Line] = []
    left: list[_Line] = []
    by_layer: dict[tuple[str, bool], list[_Line]] = defaultdict(list)
    for line in lines:
        by_layer[line.layer, line.shown].append(line)
    for some in by_layer.values():
        found, rest = _polygons(some)
        rings += found
        left += rest
    if len(by_layer) > 1:
        found, rest = _polygons([line for line in left if line.shown])
        rings += found
        left = rest + [line for line in left if not line.shown]
    return rings, left


def _polygons(lines: list[_Line]) -> tuple[list[_Line], list[_Line]]:
    import shapely  # noqa: PLC0415 - beside the drawing's own reader

    if not lines:
        return [], []
    snapped = _snapped([line.places for line in lines])
    drawn = [shapely.LineString(p) for p in snapped if len(p) > 1 and np.ptp(p, axis=0).max() > 0.0]
    polygons, cuts, dangles, _ = shapely.polygonize_full(drawn)
    layer, shown = lines[0].layer, lines[0].shown
    rings = [_Line(np.array(p.exterior.coords)[:, :2], layer, shown) for p in polygons.geoms]
    rest = [_Line(np.array(p.coords)[:, :2], layer, shown) for left in (cuts, dangles) for p in left.geoms]
    return rings, rest


def _snapped(lines: list[Array]) -> list[Array]:
    """Return lines whose ends are at the very same place wherever they nearly were."""
    from scipy.sparse import coo_array  # noqa: PLC0415 - beside the drawing's own reader
    from scipy.sparse.csgraph import connected_components  # noqa: PLC0415
    from scipy.spatial import cKDTree  # noqa: PLC0415

    ends = np.array([end for line in lines for end in (line[0], line[-1])])
    # Ends in one small cell are one place: so only a few are near each other, however many lines meet there.
    cell = np.floor((ends - ends.min(axis=0)) / (_JOIN_MM / np.sqrt(2.0)))
    _, first, group = np.unique(cell, axis=0, return_index=True, return_inverse=True)
    places = ends[first]
    near = cKDTree(places).query_pairs(_JOIN_MM, output_type="ndarray")
    links = coo_array((np.ones(len(near)), (near[:, 0], near[:, 1])), shape=(len(places), len(places)))
    _, cluster = connected_components(links, directed=False)
    _, stands_for = np.unique(cluster, return_index=True)
    at = places[stands_for[cluster[group.reshape(-1)]]]
    return [np.vstack((at[2 * i], line[1:-1], at[2 * i + 1])) for i, line in enumerate(lines)]


def _dangling_words(dangling: list[_Line]) -> str:
    longest = max(dangling, key=lambda line: float(np.hypot(*np.diff(line.places, axis=0).T).sum()))
    x, y = longest.places[-1]
    many = "1 open line was" if len(dangling) == 1 else f"{len(dangling)} open lines were"
    return f"{many} left out: the longest ends at {x:.1f}, {y:.1f}."


def _area(ring: tuple[Pair, ...]) -> float:
    x, y = np.array(ring).T
    return abs(float(0.5 * np.sum(x * np.roll(y, -1) - y * np.roll(x, -1))))


def plate_from(
    outlines: Outlines, per_mm: float, plane: Plane, start_mm: float, thick_mm: float,
    which: int = 0, layers: frozenset[str] | None = None,
) -> Plate:  # fmt: skip
    """Return a plate from one outline of a drawing, the others in it its holes.

    Args:
        outlines: what the drawing holds; per_mm: mm for each of its numbers.
        plane: which face of the car it lies in; start_mm, thick_mm: where along the third axis, and how thick.
        which: the outline that is its edge; layers: those whose outlines may be holes, all that are on when None.

    Raises:
        InputError: the outline crosses itself, is too large, or has too many corners or holes.
    """
    import shapely  # noqa: PLC0415 - beside the drawing's own reader

    def ring(outline: Outline) -> tuple[Pair, ...]:
        return tuple((per_mm * a, per_mm * b) for a, b in outline.corners)

    edge = ring(outlines.outlines[which])
    if max(abs(v) for pair in edge for v in pair) > _FARTHEST_MM:
        raise InputError(
            "DXF file", "the outline reaches farther than twenty meters.", "Check the unit of its numbers."
        )
    area = polygon_of(edge)
    taken = [
        o for i, o in enumerate(outlines.outlines)
        if i != which and (o.shown if layers is None else o.layer in layers)
    ]  # fmt: skip
    holes: list[Any] = []
    for outline in taken:  # the largest first: what lies in a hole is no hole of its own
        hole = shapely.Polygon(ring(outline))
        if hole.is_valid and hole.area > 0.0 and area.contains(hole) and not any(h.intersects(hole) for h in holes):
            holes.append(hole)
            if len(holes) > MOST_HOLES:
                raise InputError("DXF file", f"the outline has more than {MOST_HOLES} holes.", "Leave small ones out.")
    corners = _simple(area)
    if len(corners) > MOST_CORNERS or any(len(_simple(h)) > MOST_CORNERS for h in holes):
        most = max(len(corners), *(len(_simple(h)) for h in holes)) if holes else len(corners)
        raise InputError("DXF file", f"the outline has {most} corners.", f"Simplify it to {MOST_CORNERS} or fewer.")
    return made(Plate, plane=plane, corners=corners, holes=tuple(_simple(h) for h in holes),
                start_mm=start_mm, thick_mm=thick_mm)  # fmt: skip


def _simple(area: Any) -> tuple[Pair, ...]:
    return tuple((float(a), float(b)) for a, b in area.simplify(_SIMPLE_MM).exterior.coords[:-1])
