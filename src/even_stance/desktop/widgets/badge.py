"""Shapes for states: they tell without color what is fine, worth a look, missing, or cannot work."""

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen, QPolygonF

from even_stance.desktop.look import Look
from even_stance.judgement.changes import Way
from even_stance.judgement.findings import Severity


def draw_badge(painter: QPainter, look: Look, at: QPointF, severity: Severity | None, size: float = 7) -> None:
    """A shape for a state: disk fine, ring worth a look, ring with a bar not entered, triangle cannot work, and a ring
    of dashes for what nobody looked at or could judge: neither good nor bad.
    """
    size = look.px(size)
    color = look.color("alarm" if severity == "stop" else "accent")
    pen = QPen(color, look.px(2))
    if severity in ("not_judged", "not_looked"):
        pen.setDashPattern([1.6, 1.5])
    painter.setPen(pen)
    painter.setBrush(color if severity is None else Qt.BrushStyle.NoBrush)
    if severity == "stop":
        points = [at + QPointF(0, -size), at + QPointF(size, size * 0.8), at + QPointF(-size, size * 0.8)]
        painter.drawPolygon(QPolygonF(points))
    else:
        painter.drawEllipse(at, size, size)
        if severity == "missing":
            painter.drawLine(at - QPointF(size, 0), at + QPointF(size, 0))
    painter.setBrush(Qt.BrushStyle.NoBrush)


def draw_change(painter: QPainter, look: Look, at: QPointF, way: Way) -> None:
    """A shape for a change: triangle worse, disk better, square moved."""
    if way != "moved":
        draw_badge(painter, look, at, "stop" if way == "worse" else None, 5)
        return
    size = look.px(4)
    painter.setPen(QPen(look.color("accent"), look.px(1.6)))
    painter.drawRect(QRectF(at.x() - size, at.y() - size, 2 * size, 2 * size))
