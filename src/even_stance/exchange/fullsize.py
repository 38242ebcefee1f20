"""Drawings at full size: tiled PDF on letter or A4 with overlap marks and a check scale, and DXF for the cutter."""

from collections.abc import Sequence
from dataclasses import dataclass
from io import BytesIO, StringIO

import numpy as np
from ezdxf.filemanagement import new
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from even_stance.exchange.paper import made_words, page_size
from even_stance.exchange.typeface import typeface, write
from even_stance.judgement.findings import CAUTIONS
from even_stance.mechanics.vectors import Array
from even_stance.units import System

_MARGIN_MM, _FOOT_MM, _OVERLAP_MM, _APART_MM = 12.0, 26.0, 10.0, 30.0
# Layers in DXF: their color numbers; on paper: line width in points and dashes.
LAYERS: dict[str, tuple[int, float, tuple[int, ...]]] = {
    "PART": (8, 0.4, (2, 2)), "CUT": (1, 1.1, ()), "LEFT": (7, 0.7, ()), "HOLES": (1, 0.9, ()),
    "SCRIBE": (4, 0.35, (5, 2)),
}  # fmt: skip


@dataclass(frozen=True, eq=False)
class Line:
    """One line of a drawing: its layer, its places, mm, shape (n, 2), and whether it closes."""

    layer: str
    places: Array
    closed: bool = True


@dataclass(frozen=True, eq=False)
class Sheet:
    """A drawing at full size.

    Attributes:
        title: of the file; words: what it is, below the drawing; lines: what is drawn; circles: layer, middle and
            diameter, mm; labels: words at places, mm; window: what of the plane is shown, left, bottom, right, top, mm.
    """

    title: str
    words: str
    lines: Sequence[Line]
    circles: Sequence[tuple[str, float, float, float]]
    labels: Sequence[tuple[float, float, str]]
    window: tuple[float, float, float, float]


def sheets_pdf(units: System, sheets: Sequence[Sheet]) -> bytes:
    """Drawings at 1:1, each on as many letter or A4 pages as it takes."""
    typeface()
    size = page_size(units)
    wide, high = size[0] / mm - 2 * _MARGIN_MM, size[1] / mm - _MARGIN_MM - _FOOT_MM
    out = BytesIO()
    canvas = Canvas(out, pagesize=size)
    canvas.setTitle(sheets[0].title if len(sheets) == 1 else "Templates")
    canvas.setAuthor("Even Stance")
    for sheet in sheets:
        left, bottom, right, top = sheet.window
        columns = max(int(np.ceil((right - left - _OVERLAP_MM) / (wide - _OVERLAP_MM))), 1)
        lines = max(int(np.ceil((top - bottom - _OVERLAP_MM) / (high - _OVERLAP_MM))), 1)
        for line in range(lines):
            for column in range(columns):
                at = (left + column * (wide - _OVERLAP_MM), bottom + line * (high - _OVERLAP_MM), wide, high)
                _page(canvas, sheet, at, (line, column, lines, columns))
                _foot(canvas, units, sheet, (line, column, lines, columns))
                canvas.showPage()
    canvas.save()
    return out.getvalue()


def _page(
    canvas: Canvas, sheet: Sheet, window: tuple[float, float, float, float], at: tuple[int, int, int, int]
) -> None:
    """One page: what of the drawing falls on it, and the overlap marks."""
    x0, y0, wide, high = window

    def place(x: float, y: float) -> tuple[float, float]:
        return (_MARGIN_MM + x - x0) * mm, (_FOOT_MM + y - y0) * mm

    canvas.saveState()
    clip = canvas.beginPath()
    clip.rect(_MARGIN_MM * mm, _FOOT_MM * mm, wide * mm, high * mm)
    canvas.clipPath(clip, stroke=0, fill=0)
    for drawn in sheet.lines:
        _pen(canvas, drawn.layer)
        path = canvas.beginPath()
        path.moveTo(*place(*drawn.places[0][:2]))
        for corner in drawn.places[1:]:
            path.lineTo(*place(*corner[:2]))
        if drawn.closed:
            path.close()
        canvas.drawPath(path)
    for layer, x, y, diameter in sheet.circles:
        _pen(canvas, layer)
        canvas.circle(*place(x, y), 0.5 * diameter * mm, stroke=1, fill=0)
    for x, y, words in sheet.labels:
        write(canvas, *place(x, y), words, 7.4)
    canvas.restoreState()
    line, column, lines, columns = at
    canvas.setLineWidth(0.3)
    canvas.setDash([4, 3])
    if column + 1 < columns:
        x = (_MARGIN_MM + wide - _OVERLAP_MM) * mm
        canvas.line(x, _FOOT_MM * mm, x, (_FOOT_MM + high) * mm)
    if line + 1 < lines:
        y = (_FOOT_MM + high - _OVERLAP_MM) * mm
        canvas.line(_MARGIN_MM * mm, y, (_MARGIN_MM + wide) * mm, y)
    canvas.setDash()


def _pen(canvas: Canvas, layer: str) -> None:
    _, width, dash = LAYERS[layer]
    canvas.setLineWidth(width)
    canvas.setDash(*([list(dash)] if dash else []))


def _foot(canvas: Canvas, units: System, sheet: Sheet, at: tuple[int, int, int, int]) -> None:
    """What it is, the check scale, and what to mind."""
    line, column, lines, columns = at
    length, ticks, words = (101.6, 4, "4 in") if units == "us" else (100.0, 10, "100 mm")
    x, y = _MARGIN_MM * mm, 17 * mm
    canvas.setLineWidth(0.8)
    canvas.line(x, y, x + length * mm, y)
    for i in range(ticks + 1):
        canvas.line(x + i * length / ticks * mm, y, x + i * length / ticks * mm, y + 2.2 * mm)
    write(canvas, x + length * mm + 6, y, f"must measure {words}: print at 100 %, no fitting", 7.4, bold=True)
    write(canvas, x, 12 * mm, f"{sheet.words}; page {line + 1}.{column + 1} of {lines}.{columns}"[:140], 7.2)
    write(canvas, x, 8 * mm, CAUTIONS[0], 5.9)
    right = canvas._pagesize[0] - _MARGIN_MM * mm
    write(canvas, right, 5 * mm, made_words(), 5.9, "right")
    write(canvas, x, 5 * mm, CAUTIONS[3], 5.9)


def sheets_dxf(sheets: Sequence[Sheet]) -> bytes:
    """Return a drawing in millimeters, the sheets side by side.

    What is cut, drilled and scribed is each on a layer of its own.
    """
    drawing = new("R2010", units=4)
    used = {line.layer for s in sheets for line in s.lines} | {circle[0] for s in sheets for circle in s.circles}
    for name in [n for n in LAYERS if n in used]:
        drawing.layers.add(name, color=LAYERS[name][0])
    drawing.layers.add("TEXT", color=7)
    space, ahead = drawing.modelspace(), 0.0
    for i, sheet in enumerate(sheets):
        left, bottom, right, _ = sheet.window
        # The first lies where it was drawn; each other one beside the one before.
        shift = ahead - left if i else 0.0
        ahead = right + shift + _APART_MM
        for line in sheet.lines:
            places = line.places[:-1] if line.closed and _same_ends(line.places) else line.places
            corners = [(float(x) + shift, float(y)) for x, y in places[:, :2]]
            space.add_lwpolyline(corners, close=line.closed, dxfattribs={"layer": line.layer})
        for layer, x, y, diameter in sheet.circles:
            space.add_circle((x + shift, y), 0.5 * diameter, dxfattribs={"layer": layer})
        words = space.add_text(sheet.words, height=6, dxfattribs={"layer": "TEXT"})
        words.set_placement(
            (left + shift, bottom - 14.0 - (i % 2) * 10.0)
        )  # long words of neighbors do not run together
    out = StringIO()
    drawing.write(out)
    return out.getvalue().encode(drawing.encoding, "replace")


def _same_ends(places: Array) -> bool:
    return bool(np.allclose(places[0], places[-1]))
