"""A draw list onto a QPainter."""

import math

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QColor, QFontMetrics, QPainter, QPainterPath, QPen, QPolygonF, QTransform

from even_stance.desktop.look import Look
from even_stance.study.drawing import Area, Hole, Joint, Label, Mark, Path, Place, Round, Shape

_COLOR = {
    "ground": "ink", "centerline": "faint", "frame": "steel", "tire": "rubber", "tire-faint": "rubber",
    "axle": "ink", "axle-faint": "steel", "upper": "upper", "lower": "lower", "lateral": "lateral",
    "upper-faint": "steel", "lower-faint": "steel", "lateral-faint": "steel", "ghost": "faint",
    "upper-line": "upper", "lower-line": "lower", "lateral-line": "floor", "arm": "lateral", "spring": "upper",
    "arm-faint": "steel", "spring-faint": "steel", "shaft": "steel", "beneath": "bubble",
    "reference": "faint", "exact": "accent", "hole": "faint", "cg": "ink",
}  # fmt: skip
_DASH: dict[str, list[float]] = {
    "ghost": [1.5, 3.0], "upper-line": [7.0, 4.0], "lower-line": [3.0, 3.0], "lateral-line": [5.0, 2.0],
    "reference": [9.0, 3.0, 2.0, 3.0],
    "centerline": [10.0, 4.0, 2.0, 4.0],
}  # fmt: skip


class ScenePainter:
    """Paints shapes given in mm.

    Args:
        painter: where to.
        transform: from the plane of the projection (h right, v up, mm) to pixels.
        look: colors and sizes.
    """

    def __init__(self, painter: QPainter, transform: QTransform, look: Look) -> None:
        self._painter = painter
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
                self.joint(shape.center, shape.style)
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
        pen = QPen(self._look.color(_COLOR[style]), self._look.px(10) * width / 10)
        if style in _DASH:
            pen.setDashPattern(_DASH[style])
        pen.setCapStyle(Qt.PenCapStyle.FlatCap)
        return pen

    def _path(self, shape: Path) -> None:
        if shape.width_mm:
            pen = QPen(self._look.color(_COLOR[shape.style]), max(shape.width_mm * self._scale, self._look.px(4)))
            pen.setCapStyle(Qt.PenCapStyle.RoundCap)
        else:
            pen = self._pen(shape.style, 2.0 if shape.style in ("ground", "exact") else 1.4)
        self._painter.setPen(pen)
        points = [self.at(p) for p in shape.places]
        if len(points) == 2:
            points = self._shortened(*points)
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
        self._painter.setPen(QPen(self._look.color("line" if shape.style != "frame" else "faint"), 1.0))
        self._painter.setBrush(QBrush(self._look.color(_COLOR[shape.style])))
        self._painter.drawPolygon(QPolygonF([self.at(p) for p in shape.places]))
        self._painter.setBrush(Qt.BrushStyle.NoBrush)

    def _round(self, shape: Round) -> None:
        radius = shape.radius_mm * self._scale
        filled = shape.style in ("tire", "tire-faint", "axle", "axle-faint")
        self._painter.setBrush(self._look.color(_COLOR[shape.style]) if filled else Qt.BrushStyle.NoBrush)
        if shape.style.startswith("tire"):
            self._painter.setPen(QPen(self._look.color("line"), 1.0))
        else:
            self._painter.setPen(self._pen(shape.style))
        self._painter.drawEllipse(self.at(shape.center), radius, radius)
        self._painter.setBrush(Qt.BrushStyle.NoBrush)

    def joint(self, place: Place, style: str, held: bool = False) -> None:
        """A joint one can take hold of; a held one wears a ring."""
        center, radius = self.at(place), self._look.px(6)
        self._painter.setBrush(self._look.color("sheet"))
        self._painter.setPen(QPen(self._look.color(_COLOR[style]), self._look.px(2.5)))
        self._painter.drawEllipse(center, radius, radius)
        self._painter.setBrush(Qt.BrushStyle.NoBrush)
        if held:
            self._painter.setPen(QPen(self._look.color("accent"), self._look.px(3)))
            self._painter.drawEllipse(center, radius * 2.1, radius * 2.1)

    def _hole(self, shape: Hole) -> None:
        self._painter.setBrush(self._look.color("floor"))
        self._painter.setPen(QPen(self._look.color("faint"), self._look.px(1.5)))
        self._painter.drawEllipse(self.at(shape.center), self._look.px(4), self._look.px(4))
        self._painter.setBrush(Qt.BrushStyle.NoBrush)

    def _mark(self, shape: Mark) -> None:
        center, size = self.at(shape.center), self._look.px(9)
        color = self._look.color(_COLOR[shape.style])
        self._painter.setPen(QPen(color, self._look.px(2)))
        if shape.symbol == "cross":
            self._painter.drawLine(center - QPointF(size, 0), center + QPointF(size, 0))
            self._painter.drawLine(center - QPointF(0, size), center + QPointF(0, size))
        else:
            self._quartered(center, size, color)
        if shape.label:
            self._words(center + QPointF(size + self._look.px(4), -self._look.px(6)), shape.label, shape.style)

    def _quartered(self, center: QPointF, size: float, color: QColor) -> None:
        box = QRectF(center.x() - size, center.y() - size, 2 * size, 2 * size)
        self._painter.setBrush(self._look.color("sheet"))
        self._painter.drawEllipse(box)
        quarters = QPainterPath()
        for start in (0, 180):
            quarters.moveTo(center)
            quarters.arcTo(box, start, 90)
            quarters.closeSubpath()
        self._painter.fillPath(quarters, QBrush(color))
        self._painter.setBrush(Qt.BrushStyle.NoBrush)

    def _label(self, shape: Label) -> None:
        if shape.centered:
            wide = QFontMetrics(self._look.font(12)).horizontalAdvance(shape.text)
            self._words(self.at(shape.at) + QPointF(-wide / 2, self._look.px(5)), shape.text, shape.style)
        else:
            self._words(self.at(shape.at) + QPointF(self._look.px(6), -self._look.px(6)), shape.text, shape.style)

    def _words(self, at: QPointF, text: str, style: str) -> None:
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
        self._painter.fillRect(box, self._look.color("floor", 215))
        self._painter.setPen(self._look.color(_COLOR[style] if style != "reference" else "ink"))
        self._painter.drawText(at, text)
