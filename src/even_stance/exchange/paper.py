"""Shapes and words on paper: the one draw list as a PDF drawing, and the frame of every printed page."""

import itertools
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass
from datetime import datetime
from importlib.metadata import version
from io import BytesIO
from typing import Any, Literal

from reportlab.lib.colors import HexColor
from reportlab.lib.enums import TA_LEFT
from reportlab.lib.pagesizes import A4, letter
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.platypus import Flowable, Paragraph, SimpleDocTemplate, Table, TableStyle

from even_stance.exchange.paperlabels import Box, Stroke, clear_place
from even_stance.exchange.typeface import BOLD, TEXT, markup, typeface, width, write
from even_stance.judgement.findings import CAUTIONS
from even_stance.study.drawing import Area, Hole, Joint, Label, Mark, Path, Place, Round, Shape
from even_stance.study.styles import banding_of, style_of
from even_stance.units import System
from even_stance.vehicle.job import Job

Frame = tuple[float, float, float, float]
_RATIOS = (1, 2, 2.5, 4, 5, 6, 8, 10, 12, 15, 16, 20, 24, 25, 30, 32, 40, 48, 50, 60, 75, 80, 100, 150, 200)
_BAR_PT, _LABEL_PT, _NEARLY_EMPTY = 11.0, 7.0, 0.14
INK, FAINT, ACCENT = HexColor("#1c2327"), HexColor("#5b6266"), HexColor("#0f5d70")
# What the colors of the styles are on white paper.
_PRINTED = {
    "upper": "#bd6f00", "lower": "#17739a", "lateral": "#43286e", "steel": "#d3cec2", "rubber": "#e8e5da",
    "accent": "#0f5d70", "faint": "#5b6266", "ink": "#1c2327", "bubble": "#b9d433", "line": "#b9b3a4",
    "floor": "#ffffff", "alarm": "#a3122e",
}  # fmt: skip


def _color(name: str) -> Any:
    return HexColor(_PRINTED[name])


@dataclass(frozen=True)
class Setup:
    """How papers are made: on which paper, and from which file.

    Attributes:
        size: "letter" or "a4"; as the job's units have it when not said. file: the job's file, its name alone.
        on: the day, ISO 8601; today when not said. comma: tables have decimal commas.
    """

    size: Literal["letter", "a4", ""] = ""
    file: str = ""
    on: str = ""
    comma: bool = False


_SETUP: ContextVar[Setup] = ContextVar("setup", default=Setup())  # noqa: B039 - frozen


@contextmanager
def made_on(setup: Setup) -> Iterator[None]:
    """Within this, papers are made so."""
    token = _SETUP.set(setup)
    try:
        yield
    finally:
        _SETUP.reset(token)


def wants_comma() -> bool:
    """Return whether tables are to have decimal commas."""
    return _SETUP.get().comma


def page_size(units: System) -> tuple[float, float]:
    """Width and height of a page, points."""
    size = _SETUP.get().size or ("letter" if units == "us" else "a4")
    found: tuple[float, float] = letter if size == "letter" else A4
    return found


def head_words(job: Job, title: str) -> tuple[str, str]:
    """What stands at the head of every page: the job, its variant and the paper; the file, the day and the version."""
    variant = f", variant {job.branch}" if job.variants else ""
    return f"{job.name}{variant}: {title}", made_words()


def made_words() -> str:
    """The file, the day and the version that a paper was made of, on and with."""
    setup = _SETUP.get()
    day = setup.on or datetime.now().astimezone().date().isoformat()
    file = f"{setup.file}, " if setup.file else ""
    return f"{file}{day}, Even Stance {version('even-stance')}"


_BODY = ParagraphStyle("body", fontName=TEXT, fontSize=8.6, leading=11.8, textColor=INK, alignment=TA_LEFT)
_STYLES = {
    "body": _BODY,
    "faint": ParagraphStyle("faint", parent=_BODY, fontSize=7.8, leading=10.4, textColor=FAINT),
    "title": ParagraphStyle("title", parent=_BODY, fontName=BOLD, fontSize=16, leading=20, spaceAfter=3),
    "head": ParagraphStyle(
        "head", parent=_BODY, fontName=BOLD, fontSize=11, leading=14, spaceBefore=9, spaceAfter=3,
        textColor=ACCENT, keepWithNext=1,
    ),
    "step": ParagraphStyle("step", parent=_BODY, fontName=BOLD, fontSize=9.2, leading=12.4),
}  # fmt: skip


def words(text: str, style: str = "body") -> Any:
    """A paragraph."""
    typeface()
    bold = _STYLES[style].fontName == BOLD
    return Paragraph(markup(text, bold).replace("\n", "<br/>"), _STYLES[style])


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
        width_mm, height_mm: the box on paper; units: of its scale bar.

    Attributes:
        ratio: how many millimeters of car one millimeter of paper stands for.
    """

    def __init__(self, shapes: Sequence[Shape], frame: Frame, width_mm: float, height_mm: float, units: System) -> None:
        super().__init__()
        self._shapes, self._shown = shapes, frame
        self.width, self.height = width_mm * mm, height_mm * mm
        h0, h1, v0, v1 = frame
        largest = min(self.width / max(h1 - h0, 1.0), (self.height - _BAR_PT) / max(v1 - v0, 1.0))
        # A round scale can be read off with a rule: the largest that fits.
        self.ratio = next((r for r in _RATIOS if mm / r <= largest), mm / largest)
        self._scale = mm / self.ratio
        self._units = units
        self._strokes: list[Stroke] = []
        self._boxes: list[Box] = []

    @property
    def scale_words(self) -> str:
        """Its scale, as it is written below it."""
        return f"1:{self.ratio:g}"

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
        self._strokes, self._boxes = [], []
        for shape in self._shapes:
            if isinstance(shape, Path) and shape.width_mm:
                ends = [self._at(p) for p in shape.places]
                half = 0.5 * shape.width_mm * self._scale
                self._strokes += [(*a, *b, half) for a, b in itertools.pairwise(ends)]
        wordy = [s for s in self._shapes if isinstance(s, Label) or (isinstance(s, Mark) and s.label)]
        for shape in self._shapes:
            self._one(c, shape)
        for shape in wordy:  # words last, clear of what they are about
            self._say(c, shape)
        self._bar(c)
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
            banding = banding_of(shape.style) if shape.width_mm else None
            if banding is not None:  # told apart in gray: a light line along it, or lines across it
                thick, dash = banding
                c.setStrokeColor(HexColor("#ffffff"))
                c.setLineCap(0)
                width = max(shape.width_mm * self._scale, 0.8)
                c.setLineWidth(width * thick)
                c.setDash(*([[d * width for d in dash]] if dash else []))
                self._line(c, shape.places, fill=False)
                c.setDash()
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

    def _say(self, c: Any, shape: Label | Mark) -> None:
        """Write words about a place where they hide no link and no other words, on a ground of white."""
        text, at = (shape.label, shape.center) if isinstance(shape, Mark) else (shape.text, shape.at)
        x, y = self._at(at)
        wide = width(text, _LABEL_PT)
        inside = (1.0, _BAR_PT, self.width - 1.0, self.height - 1.0)
        if wide > inside[2] - inside[0] or not (0 <= x <= self.width and 0 <= y <= self.height):
            return  # what it is about is not in this picture
        box = clear_place(x, y, wide + 2.0, _LABEL_PT + 1.5, self._strokes, self._boxes, inside)
        self._boxes.append(box)
        c.setFillColor(HexColor("#ffffff"))
        c.setFillAlpha(0.8)
        c.rect(box[0], box[1], box[2] - box[0], box[3] - box[1], stroke=0, fill=1)
        c.setFillAlpha(1.0)
        c.setFillColor(_color(style_of(shape.style).color if shape.style != "beneath" else "ink"))
        write(c, box[0] + 1.0, box[1] + 2.2, text, _LABEL_PT)

    def _bar(self, c: Any) -> None:
        """The scale, and a bar of a round length to measure by."""
        unit, lengths = (25.4, (1, 2, 3, 6, 12, 24, 48)) if self._units == "us" else (1.0, (50, 100, 200, 500, 1000))
        long = next((n for n in lengths if n * unit * self._scale >= 45.0), lengths[-1])
        x, y, run = 2.0, 4.0, long * unit * self._scale
        c.setDash()
        c.setLineWidth(0.8)
        c.setStrokeColor(INK)
        c.setFillColor(INK)
        c.line(x, y, x + run, y)
        for end in (x, x + run / 2, x + run):
            c.line(end, y, end, y + 3.0)
        write(c, x + run + 4.0, y - 0.5, f"{long} {'in' if self._units == 'us' else 'mm'}, 1:{self.ratio:g}", 6.5)


def made_pdf(job: Job, title: str, story: list[Any]) -> bytes:
    """Pages with what they are of at their head, and page number and the first caution at their foot, as PDF.

    Args:
        job: whose paper; title: what it is; story: what is on it.
    """
    typeface()
    size = page_size(job.units)
    left, right = head_words(job, title)

    def frame(c: Any, doc: Any) -> None:
        c.saveState()
        c.setFillColor(FAINT)
        write(c, 18 * mm, 9 * mm, CAUTIONS[0], 5.9)
        write(c, size[0] - 18 * mm, 9 * mm, f"{doc.page}", 7.5, "right")
        room = size[0] - 36 * mm - width(right, 6.8) - 12
        write(c, 18 * mm, size[1] - 11 * mm, _fitted(left, 7.0, room), 7.0)
        write(c, size[0] - 18 * mm, size[1] - 11 * mm, right, 6.8, "right")
        c.restoreState()

    def build(margin_mm: float) -> tuple[bytes, float]:
        out = BytesIO()
        doc = SimpleDocTemplate(
            out, pagesize=size, leftMargin=18 * mm, rightMargin=18 * mm, topMargin=margin_mm * mm,
            bottomMargin=(margin_mm - 1) * mm, title=f"{job.name}: {title}", author="Even Stance",
        )  # fmt: skip
        _as_new(story)
        doc.build(list(story), onFirstPage=frame, onLaterPages=frame)
        used = 1.0 - (doc.frame._y - doc.frame._y1p) / doc.frame._aH if doc.page > 1 else 1.0
        return out.getvalue(), used

    raw, used = build(18.0)
    # A last page with a line or two is no page: a little more room on the others takes them in, where it does.
    for margin in (16.5, 15.5) if used < _NEARLY_EMPTY else ():
        other, now = build(margin)
        if now > used:
            return other
    return raw


def _as_new(story: Sequence[Any]) -> None:
    """Take off what an earlier run through a story left on it."""
    for flowable in story:
        flowable.__dict__.pop("_postponed", None)
        _as_new(getattr(flowable, "_content", ()))


def _fitted(text: str, size: float, room: float) -> str:
    """A line cut to the room it has."""
    while len(text) > 1 and width(text, size) > room:
        text = f"{text[:-2]}…"
    return text
