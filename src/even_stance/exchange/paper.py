"""Shapes and words on paper: the one draw list as a PDF drawing, and the frame of every printed page."""

import re
from collections.abc import Sequence
from io import BytesIO
from typing import Any

from reportlab.lib.colors import HexColor
from reportlab.lib.enums import TA_LEFT
from reportlab.lib.pagesizes import A4, letter
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.platypus import Flowable, Paragraph, SimpleDocTemplate, Table, TableStyle

from even_stance.judgement.findings import CAUTIONS
from even_stance.study.drawing import Area, Hole, Joint, Label, Mark, Path, Place, Round, Shape
from even_stance.study.styles import style_of
from even_stance.vehicle.job import Job

Frame = tuple[float, float, float, float]
INK, FAINT, ACCENT = HexColor("#1c2327"), HexColor("#5b6266"), HexColor("#0f5d70")
# What the colors of the styles are on white paper.
_PRINTED = {
    "upper": "#b24a1f", "lower": "#1d6c8c", "lateral": "#6d4a94", "steel": "#d3cec2", "rubber": "#e8e5da",
    "accent": "#0f5d70", "faint": "#5b6266", "ink": "#1c2327", "bubble": "#b9d433", "line": "#b9b3a4",
    "floor": "#ffffff",
}  # fmt: skip


def _color(name: str) -> Any:
    return HexColor(_PRINTED[name])


def plain(text: str) -> str:
    """Text with only the letters that the printer's own typeface has, marks of the markup escaped."""
    text = text.replace("→", "to").replace("✓", "x").replace("−", "-")
    text = text.encode("cp1252", "replace").decode("cp1252")
    return text.replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;")


_BODY = ParagraphStyle("body", fontName="Helvetica", fontSize=9.5, leading=12.5, textColor=INK, alignment=TA_LEFT)
_STYLES = {
    "body": _BODY,
    "faint": ParagraphStyle("faint", parent=_BODY, fontSize=8.5, leading=11, textColor=FAINT),
    "title": ParagraphStyle("title", parent=_BODY, fontName="Helvetica-Bold", fontSize=18, leading=22, spaceAfter=3),
    "head": ParagraphStyle(
        "head", parent=_BODY, fontName="Helvetica-Bold", fontSize=12, leading=15, spaceBefore=9, spaceAfter=3,
        textColor=ACCENT, keepWithNext=1,
    ),
    "step": ParagraphStyle("step", parent=_BODY, fontName="Helvetica-Bold", fontSize=10, leading=13),
}  # fmt: skip


def words(text: str, style: str = "body") -> Any:
    """A paragraph."""
    return Paragraph(plain(text).replace("\n", "<br/>"), _STYLES[style])


def grid(rows: Sequence[Sequence[str]], widths: Sequence[float] | None = None, head: bool = True) -> Any:
    """A ruled table; widths in mm."""
    cells = [[words(str(c), "faint" if head and i == 0 else "body") for c in row] for i, row in enumerate(rows)]
    table = Table(cells, colWidths=None if widths is None else [w * mm for w in widths], repeatRows=1 if head else 0)
    table.setStyle(
        TableStyle(
            [("LINEBELOW", (0, 0), (-1, -1), 0.4, HexColor("#d5cfbf")), ("VALIGN", (0, 0), (-1, -1), "TOP"),
             ("TOPPADDING", (0, 0), (-1, -1), 2), ("BOTTOMPADDING", (0, 0), (-1, -1), 2),
             ("LEFTPADDING", (0, 0), (-1, -1), 2), ("RIGHTPADDING", (0, 0), (-1, -1), 4)]
        )
    )  # fmt: skip
    return table


class Drawing(Flowable):  # type: ignore[misc]
    """Shapes in a box, true to one scale.

    Args:
        shapes: what to draw; frame: the window of the projection plane that is shown, mm.
        width_mm, height_mm: the box on paper.
    """

    def __init__(self, shapes: Sequence[Shape], frame: Frame, width_mm: float, height_mm: float) -> None:
        super().__init__()
        self._shapes, self._shown = shapes, frame
        self.width, self.height = width_mm * mm, height_mm * mm
        h0, h1, v0, v1 = frame
        self._scale = min(self.width / max(h1 - h0, 1.0), self.height / max(v1 - v0, 1.0))

    @property
    def ratio(self) -> float:
        """How many millimeters of car one millimeter of paper stands for."""
        return float(mm / self._scale)

    def wrap(self, _width: float, _height: float) -> tuple[float, float]:
        """The room it takes."""
        return self.width, self.height

    def draw(self) -> None:
        """Draw onto the page."""
        c = self.canv
        c.saveState()
        clip = c.beginPath()
        clip.rect(0, 0, self.width, self.height)
        c.clipPath(clip, stroke=0, fill=0)
        for shape in self._shapes:
            self._one(c, shape)
        c.restoreState()

    def _at(self, place: Place) -> tuple[float, float]:
        """Where a place of the drawing is on the page, points."""
        h0, h1, v0, v1 = self._shown
        x = self.width / 2 + (place[0] - (h0 + h1) / 2) * self._scale
        y = self.height / 2 + (place[1] - (v0 + v1) / 2) * self._scale
        far = 20_000.0  # points: a line that leaves the page need not go on for kilometers
        return min(max(x, -far), far), min(max(y, -far), far)

    def _one(self, c: Any, shape: Shape) -> None:
        """Draw one shape."""
        style = style_of(shape.style)
        c.setStrokeColor(_color(style.color))
        c.setFillColor(_color(style.color))
        c.setDash(*([[0.7 * dash for dash in style.dash]] if style.dash else []))
        c.setLineCap(0)
        if isinstance(shape, Path):
            c.setLineWidth(max(shape.width_mm * self._scale, 0.8))
            c.setLineCap(1 if shape.width_mm else 0)
            self._line(c, shape.places, fill=False)
        elif isinstance(shape, Area):
            c.setLineWidth(0.5)
            c.setStrokeColor(_color(style.edge or style.color))
            self._line(c, shape.places, fill=True)
        elif isinstance(shape, Round):
            c.setLineWidth(0.6)
            c.setStrokeColor(_color(style.edge or style.color))
            x, y = self._at(shape.center)
            c.circle(x, y, shape.radius_mm * self._scale, stroke=1, fill=int(style.filled))
        elif isinstance(shape, Joint | Hole):
            c.setFillColor(HexColor("#ffffff"))
            c.setLineWidth(1.0)
            c.circle(*self._at(shape.center), 1.9 if isinstance(shape, Joint) else 1.1, stroke=1, fill=1)
        elif isinstance(shape, Mark):
            self._mark(c, shape)
        else:
            self._label(c, shape)

    def _line(self, c: Any, places: Sequence[Place], fill: bool) -> None:
        """Draw a line through places, closed and filled if asked."""
        path = c.beginPath()
        path.moveTo(*self._at(places[0]))
        for place in places[1:]:
            path.lineTo(*self._at(place))
        if fill:
            path.close()
        c.drawPath(path, stroke=1, fill=int(fill))

    def _mark(self, c: Any, shape: Mark) -> None:
        """Draw a symbol with its words."""
        x, y = self._at(shape.center)
        c.setLineWidth(1.2)
        if shape.symbol == "cg":
            c.circle(x, y, 4, stroke=1, fill=0)
        c.line(x - 5, y, x + 5, y)
        c.line(x, y - 5, x, y + 5)
        if shape.label:
            c.setFont("Helvetica", 7.5)
            c.drawString(x + 6, y + 3, shape.label.encode("cp1252", "replace").decode("cp1252"))

    def _label(self, c: Any, shape: Label) -> None:
        """Write words at a place."""
        x, y = self._at(shape.at)
        text = shape.text.encode("cp1252", "replace").decode("cp1252")
        c.setFont("Helvetica", 7.5)
        if shape.beside == "right":
            c.drawString(x + 4, y + 3, text)
        else:
            c.drawCentredString(x, y + (2 if shape.beside == "above" else -7.5), text)


def made_pdf(job: Job, title: str, story: list[Any]) -> bytes:
    """Pages with the job's name, page number and the first caution on each, as PDF."""
    size = letter if job.units == "us" else A4

    def frame(c: Any, doc: Any) -> None:
        c.saveState()
        c.setFont("Helvetica", 6.5)
        c.setFillColor(FAINT)
        c.drawString(18 * mm, 9 * mm, plain(CAUTIONS[0]))
        c.setFont("Helvetica", 7.5)
        c.drawRightString(size[0] - 18 * mm, 9 * mm, f"{doc.page}")
        c.drawString(18 * mm, size[1] - 11 * mm, plain(f"{job.name} - {title} - Even Stance"))
        c.restoreState()

    out = BytesIO()
    doc = SimpleDocTemplate(
        out, pagesize=size, leftMargin=18 * mm, rightMargin=18 * mm, topMargin=18 * mm, bottomMargin=17 * mm,
        title=re.sub(r"[^\x20-\x7e]", "?", f"{job.name} - {title}"), author="Even Stance",
    )  # fmt: skip
    doc.build(story, onFirstPage=frame, onLaterPages=frame)
    return out.getvalue()
