"""Notches as templates at full size: tiled PDF with a check scale and overlap marks, and DXF for the cutter."""

from io import BytesIO, StringIO
from typing import Any

import numpy as np
import shapely
from ezdxf.filemanagement import new
from reportlab.lib.pagesizes import A4, letter
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from even_stance.exchange.paper import plain
from even_stance.judgement.findings import CAUTIONS
from even_stance.study.notch import Notch
from even_stance.units import format_length, length_unit
from even_stance.vehicle.job import Job

_MARGIN_MM, _FOOT_MM, _OVERLAP_MM = 12.0, 26.0, 10.0
_FACES = {"side": "seen from the left", "plan": "seen from above", "rear": "seen from behind"}


def _rings(area: Any) -> list[np.ndarray[Any, Any]]:
    """Every closed outline of an area."""
    pieces = getattr(area, "geoms", [area])
    return [np.array(ring.coords) for p in pieces if not p.is_empty for ring in (p.exterior, *p.interiors)]


def _rests(notch: Notch) -> Any:
    """What of the part is shown: the whole of it where it is small, else some way around the notch."""
    cut = notch.cut
    if cut.is_empty:
        return notch.before
    low_x, low_y, high_x, high_y = cut.bounds
    return notch.before.intersection(shapely.box(low_x - 80.0, low_y - 80.0, high_x + 80.0, high_y + 80.0))


def notch_pdf(job: Job, notch: Notch) -> bytes:
    """A notch at 1:1 on as many letter or A4 pages as it takes."""
    size = letter if job.units == "us" else A4
    wide, high = size[0] / mm - 2 * _MARGIN_MM, size[1] / mm - _MARGIN_MM - _FOOT_MM
    shown = _rests(notch)
    left, bottom, right, top = shown.bounds
    columns = max(int(np.ceil((right - left - _OVERLAP_MM) / (wide - _OVERLAP_MM))), 1)
    lines = max(int(np.ceil((top - bottom - _OVERLAP_MM) / (high - _OVERLAP_MM))), 1)
    out = BytesIO()
    canvas = Canvas(out, pagesize=size)
    canvas.setTitle("Notch template")
    canvas.setAuthor("Even Stance")
    for line in range(lines):
        for column in range(columns):
            x0 = left + column * (wide - _OVERLAP_MM)
            y0 = bottom + line * (high - _OVERLAP_MM)
            _page(canvas, job, notch, shown, (x0, y0, wide, high), (line, column, lines, columns))
            canvas.showPage()
    canvas.save()
    return out.getvalue()


def _page(
    canvas: Canvas, job: Job, notch: Notch, shown: Any, window: tuple[float, float, float, float],
    at: tuple[int, int, int, int],
) -> None:  # fmt: skip
    """One page: what of the template falls on it, the overlap marks, and the foot with the check scale."""
    x0, y0, wide, high = window

    def place(x: float, y: float) -> tuple[float, float]:
        return (_MARGIN_MM + x - x0) * mm, (_FOOT_MM + y - y0) * mm

    canvas.saveState()
    clip = canvas.beginPath()
    clip.rect(_MARGIN_MM * mm, _FOOT_MM * mm, wide * mm, high * mm)
    canvas.clipPath(clip, stroke=0, fill=0)
    for area, line, dash in ((shown, 0.4, (2, 2)), (notch.cut, 1.1, ()), (notch.after.intersection(shown), 0.7, ())):
        canvas.setLineWidth(line)
        canvas.setDash(*([list(dash)] if dash else []))
        for ring in _rings(area) if area.geom_type in ("Polygon", "MultiPolygon") else []:
            path = canvas.beginPath()
            path.moveTo(*place(*ring[0][:2]))
            for corner in ring[1:]:
                path.lineTo(*place(*corner[:2]))
            canvas.drawPath(path)
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
    _foot(canvas, job, notch, at)


def _foot(canvas: Canvas, job: Job, notch: Notch, at: tuple[int, int, int, int]) -> None:
    """What it is, the check scale, and what to mind."""
    line, column, lines, columns = at
    units = job.units
    length, ticks, words = (101.6, 4, "4 in") if units == "us" else (100.0, 10, "100 mm")
    x, y = _MARGIN_MM * mm, 17 * mm
    canvas.setLineWidth(0.8)
    canvas.line(x, y, x + length * mm, y)
    for i in range(ticks + 1):
        canvas.line(x + i * length / ticks * mm, y, x + i * length / ticks * mm, y + 2.2 * mm)
    canvas.setFont("Helvetica-Bold", 8)
    canvas.drawString(x + length * mm + 6, y, f"must measure {words}: print at 100 %, no fitting")
    canvas.setFont("Helvetica", 8)

    def said(value: float) -> str:
        return f"{format_length(value, units).removeprefix('~')} {length_unit(units)}"

    text = (f"{job.name}: notch in {notch.thing} for {notch.mover}, {_FACES[notch.plane]}; {said(notch.gap_mm)} gap, "
            f"{said(notch.deep_mm)} deep, {said(notch.left_mm)} left; page {line + 1}.{column + 1} of "
            f"{lines}.{columns}")  # fmt: skip
    canvas.drawString(x, 12 * mm, plain(text)[:150])
    canvas.setFont("Helvetica", 6.5)
    canvas.drawString(x, 8 * mm, plain(CAUTIONS[0]))
    canvas.drawString(x, 5 * mm, plain(CAUTIONS[3]))


def notch_dxf(job: Job, notch: Notch) -> bytes:
    """A notch as a drawing in millimeters: the part, what is cut away, and what is left, each on a layer of its own."""
    drawing = new("R2010", units=4)
    for name, color in (("PART", 8), ("CUT", 1), ("LEFT", 7), ("TEXT", 7)):
        drawing.layers.add(name, color=color)
    space = drawing.modelspace()
    for layer, area in (("PART", notch.before), ("CUT", notch.cut), ("LEFT", notch.after)):
        if area.geom_type in ("Polygon", "MultiPolygon"):
            for ring in _rings(area):
                space.add_lwpolyline([tuple(c[:2]) for c in ring[:-1]], close=True, dxfattribs={"layer": layer})
    left, bottom, _, _ = notch.before.bounds
    words = f"{job.name}: {notch.thing} for {notch.mover}, {notch.plane}, mm"
    space.add_text(words, height=6, dxfattribs={"layer": "TEXT"}).set_placement((left, bottom - 14.0))
    out = StringIO()
    drawing.write(out)
    return out.getvalue().encode(drawing.encoding, "replace")
