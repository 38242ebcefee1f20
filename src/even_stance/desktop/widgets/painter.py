"""A draw list onto a QPainter."""

import math
from collections.abc import Sequence
from functools import lru_cache

from PyQt6.QtCore import QPointF, QRectF, QSizeF, Qt
from PyQt6.QtGui import QBrush, QColor, QFontMetrics, QImage, QPainter, QPen, QPolygonF, QTransform

from even_stance.desktop.look import Look
from even_stance.study.drawing import Area, Hole, Joint, Label, Mark, Path, Place, Round, Shape
from even_stance.study.styles import banding_of, style_of
from even_stance.units import shown

_JOINT_PX = 6
_MOST_LINES = 5  # words make way by so many lines at most


@lru_cache(maxsize=512)
def _polygon(places: tuple[Place, ...]) -> QPolygonF:
    """The corners of an area for Qt, made once for all pictures in which it stands."""
    return QPolygonF([QPointF(*p) for p in places])


class ScenePainter:
    """Paints shapes given in mm.

    Args:
        painter: where to.
        transform: from the plane of the projection (h right, v up, mm) to pixels.
        look: colors and sizes.
    """

    def __init__(
        self, painter: QPainter, transform: QTransform, look: Look, taken: Sequence[QRectF] = ()
    ) -> None:  # fmt: skip
        self._painter = painter
        self.taken = list(taken)
        self._to = transform
        self._look = look
        self._scale = abs(transform.m11())
        self._picture = painter.viewport()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)

    def paint(self, shapes: list[Shape]) -> None:
        """Paint shapes in order."""
        for shape in shapes:
            if isinstance(shape, Path):
                self._path(shape)
            elif isinstance(shape, Area):
                self._area(shape)
            elif isinstance(shape, Round):
                self._round(shape)
            elif isinstance(shape, Joint):
                self.joint(shape.center, shape.style, guess=shape.guess)
            elif isinstance(shape, Hole):
                self._hole(shape)
            elif isinstance(shape, Mark):
                self._mark(shape)
            else:
                self._label(shape)

    def at(self, place: Place) -> QPointF:
        """A place in pixels."""
        return self._to.map(QPointF(*place))

    def _pen(self, style: str, width: float = 1.4) -> QPen:
        drawn = style_of(style)
        pen = _flat(self._look.color(drawn.color), self._look.px(10) * width / 10)
        if drawn.dash:
            pen.setDashPattern(drawn.dash)
        return pen

    def _path(self, shape: Path) -> None:
        points = [self.at(p) for p in shape.places]
        if len(points) == 2:
            points = self._shortened(*points)
        color = self._look.color(style_of(shape.style).color)
        if shape.width_mm:
            width = max(shape.width_mm * self._scale, self._look.px(4))
            self._painter.setPen(_flat(color, width))
            self._lines(points)
            if width > 2 * self._look.px(_JOINT_PX):
                # Ends that no joint covers are rounded by discs: a line with round caps costs several times as much.
                self._painter.setPen(Qt.PenStyle.NoPen)
                self._painter.setBrush(color)
                for point in points:
                    self._painter.drawEllipse(point, width / 2, width / 2)
                self._painter.setBrush(Qt.BrushStyle.NoBrush)
            banding = banding_of(shape.style)
            if banding is not None:  # told apart without color: a line along it, or lines across it
                thick, dash = banding
                pen = _flat(self._look.color("sheet"), width * thick)
                if dash:
                    pen.setDashPattern([d / thick for d in dash])
                self._painter.setPen(pen)
                self._lines(points)
        else:
            self._painter.setPen(self._pen(shape.style, 2.0 if shape.style in ("ground", "exact") else 1.4))
            self._lines(points)

    def _lines(self, points: list[QPointF]) -> None:
        """A line from point to point; one straight piece by itself is drawn several times faster than as a polyline."""
        if len(points) == 2:
            self._painter.drawLine(*points)
        else:
            self._painter.drawPolyline(QPolygonF(points))

    def _shortened(self, a: QPointF, b: QPointF) -> list[QPointF]:
        """A straight line cut off well outside the picture: dashes far out of sight cost as much as those in it."""
        far = 2.0 * (self._picture.width() + self._picture.height())
        middle, run = QPointF(self._picture.center()), b - a
        length = math.hypot(run.x(), run.y())
        if length <= far:
            return [a, b]
        unit = run / length
        foot = QPointF.dotProduct(middle - a, unit)
        return [a + unit * min(max(foot + s * far / 2, 0.0), length) for s in (-1.0, 1.0)]

    def _area(self, shape: Area) -> None:
        style = style_of(shape.style)
        self._painter.setPen(QPen(self._look.color(style.edge or style.color), 1.0))
        self._painter.setBrush(QBrush(self._look.color(style.color)))
        self._painter.drawPolygon(self._to.map(_polygon(shape.places)))
        self._painter.setBrush(Qt.BrushStyle.NoBrush)

    def _round(self, shape: Round) -> None:
        radius = shape.radius_mm * self._scale
        style = style_of(shape.style)
        self._painter.setBrush(self._look.color(style.color) if style.filled else Qt.BrushStyle.NoBrush)
        if style.filled:
            self._painter.setPen(QPen(self._look.color(style.edge), 1.0))
        else:
            self._painter.setPen(self._pen(shape.style, 1.0))
        self._painter.drawEllipse(self.at(shape.center), radius, radius)
        self._painter.setBrush(Qt.BrushStyle.NoBrush)

    def joint(self, place: Place, style: str, held: bool = False, guess: bool = False) -> None:
        """A joint one can take hold of; a held one wears a ring, one whose place is a guess is hollow."""
        center, radius = self.at(place), self._look.px(_JOINT_PX)
        color = style_of(style).color
        color = "ink" if color == "steel" else color
        fill, edge = ("floor", color) if guess else (color, "sheet")
        self._put(center, fill, edge, radius, self._look.px(2.5))
        if held:
            self._painter.setPen(QPen(self._look.color("accent"), self._look.px(3)))
            self._painter.drawEllipse(center, radius * 2.1, radius * 2.1)

    def _hole(self, shape: Hole) -> None:
        self._put(self.at(shape.center), "floor", "faint", self._look.px(4), self._look.px(1.5))

    def _put(self, at: QPointF, fill: str, edge: str, radius: float, line: float, quartered: bool = False) -> None:
        """Put down a ready-made disc, to a quarter of a pixel."""
        x, y = round(4 * at.x()), round(4 * at.y())
        ratio = self._painter.device().devicePixelRatioF()  # type: ignore[union-attr]
        colors = self._look.color(fill).rgba(), self._look.color(edge).rgba()
        image, half = _disc(*colors, radius, line, quartered, x % 4, y % 4, ratio)
        self._painter.drawImage(QPointF(x // 4 - half, y // 4 - half), image)

    def _mark(self, shape: Mark) -> None:
        center, size = self.at(shape.center), self._look.px(9)
        if shape.symbol == "cross":
            self._painter.setPen(QPen(self._look.color(style_of(shape.style).color), self._look.px(2)))
            self._painter.drawLine(center - QPointF(size, 0), center + QPointF(size, 0))
            self._painter.drawLine(center - QPointF(0, size), center + QPointF(0, size))
        else:
            self._put(center, "sheet", style_of(shape.style).color, size, self._look.px(2), quartered=True)
        if shape.label:
            self._words(center + QPointF(size + self._look.px(4), -self._look.px(6)), shape.label, shape.style)

    def _label(self, shape: Label) -> None:
        if shape.beside != "right":
            metrics = QFontMetrics(self._look.font(12))
            pad = self._look.px(3)
            down = metrics.ascent() + pad if shape.beside == "below" else -metrics.descent() - pad
            offset = QPointF(-metrics.horizontalAdvance(shape.text) / 2, down)
            self._words(self.at(shape.at) + offset, shape.text, shape.style)
        else:
            self._words(self.at(shape.at) + QPointF(self._look.px(6), -self._look.px(6)), shape.text, shape.style)

    def _words(self, at: QPointF, text: str, style: str) -> None:
        text = shown(text)
        self._painter.setFont(self._look.font(12))
        metrics = self._painter.fontMetrics()
        pad = self._look.px(3)
        box = QRectF(at.x() - pad, at.y() - metrics.ascent() - pad, metrics.horizontalAdvance(text) + 2 * pad, 0)
        box.setHeight(metrics.height() + 2 * pad)
        window = self._picture
        # Words that belong to a visible place are kept wholly in the picture.
        if window.contains(at.toPoint()):
            shift = min(0.0, window.right() - box.right()) + max(0.0, window.left() - box.left())
            box.translate(shift, 0.0)
            at = at + QPointF(shift, 0.0)
            # Words that would lie on others make way, up or down, as little as does it.
            lines = sorted(range(-_MOST_LINES, _MOST_LINES + 1), key=abs)
            moved = (box.translated(0.0, n * box.height()) for n in lines)
            inside = (b for b in moved if window.top() <= b.top() and b.bottom() <= window.bottom())
            free = (b for b in inside if not any(b.intersects(t) for t in self.taken))
            clear = next(free, box)
            if clear != box:
                self._painter.setPen(_flat(self._look.color("faint"), 1.0))
                self._painter.drawLine(box.bottomLeft(), clear.bottomLeft() if clear.y() < box.y() else clear.topLeft())
            at = at + clear.topLeft() - box.topLeft()
            box = clear
            self.taken.append(box)
        self._painter.fillRect(box, self._look.color("floor", 215))
        self._painter.setPen(self._look.color(style_of(style).color if style != "reference" else "ink"))
        self._painter.drawText(at, text)


def callout_size(painter: QPainter, look: Look, lines: Sequence[str]) -> QSizeF:
    """The room that words about a point take."""
    painter.setFont(look.font(13, bold=True))
    metrics, pad = painter.fontMetrics(), look.px(8)
    wide = max(metrics.horizontalAdvance(t) for t in lines) + 2 * pad
    return QSizeF(wide, metrics.height() * len(lines) + pad)


def draw_callout(painter: QPainter, look: Look, lines: Sequence[str], box: QRectF) -> None:
    """Words about a point in a box: its name, where it is, and what hole it has."""
    painter.setFont(look.font(13, bold=True))
    metrics, pad = painter.fontMetrics(), look.px(8)
    painter.setPen(QPen(look.color("accent"), 1.5))
    painter.setBrush(look.color("sheet", 240))
    painter.drawRoundedRect(box, 5, 5)
    for i, text in enumerate(shown(line) for line in lines):
        painter.setFont(look.font(13, bold=i == 1))
        painter.setPen(look.color("faint" if i != 1 else "ink"))
        base = box.top() + pad / 2 + metrics.height() * (i + 1) - metrics.descent()
        painter.drawText(QPointF(box.left() + pad, base), text)


def _flat(color: QColor, width: float) -> QPen:
    return QPen(color, width, Qt.PenStyle.SolidLine, Qt.PenCapStyle.FlatCap)


@lru_cache(maxsize=512)
def _disc(
    fill: int, edge: int, radius: float, line: float, quartered: bool, x: int, y: int, ratio: float
) -> tuple[QImage, int]:
    """A disc with an edge, drawn once for each quarter of a pixel it may lie off by, and how far it reaches.

    Stroking one anew costs twenty times as much as putting one down, and a floor has sixty.
    """
    half = math.ceil(radius + line) + 1
    image = QImage(round(2 * half * ratio), round(2 * half * ratio), QImage.Format.Format_ARGB32_Premultiplied)
    image.setDevicePixelRatio(ratio)
    image.fill(Qt.GlobalColor.transparent)
    painter = QPainter(image)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    center = QPointF(half + x / 4, half + y / 4)
    painter.setBrush(QColor.fromRgba(fill))
    painter.setPen(QPen(QColor.fromRgba(edge), line))
    painter.drawEllipse(center, radius, radius)
    if quartered:
        box = QRectF(center.x() - radius, center.y() - radius, 2 * radius, 2 * radius)
        painter.setBrush(QColor.fromRgba(edge))
        painter.setPen(Qt.PenStyle.NoPen)
        for start in (0, 180):
            painter.drawPie(box, 16 * start, 16 * 90)
    painter.end()
    return image, half
