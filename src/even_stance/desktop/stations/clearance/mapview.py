"""A pair's gap over the travel of both wheels, as a map of colors and figures; a click takes the wheels there."""

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from even_stance.desktop.bounds import bound
from even_stance.desktop.look import Look
from even_stance.study.clearances import Gap
from even_stance.study.gapmaps import GapMap
from even_stance.units import System, format_length


class GapMapView(QWidget):
    """The map. Left wheel along, right wheel up; hatched where stops and straps end the travel.

    Signals:
        picked: left and right travel of a place that was clicked, mm.
    """

    picked = pyqtSignal(float, float)

    def __init__(self, look: Look) -> None:
        super().__init__()
        self._look = look
        self._map: GapMap | None = None
        self._gap: Gap | None = None
        self._wanted, self._now, self._units = 12.7, (0.0, 0.0), "us"
        self.setAccessibleName("Gap over the travel of both wheels")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        bound(self, look.percent, (180, None), (150, None))
        look.changed.connect(self.update)

    def sizeHint(self) -> QSize:
        """About square."""
        return QSize(self._look.px(230), self._look.px(210))

    def show_map(
        self, found: GapMap | None, gap: Gap | None, wanted: float, now: tuple[float, float], units: System
    ) -> None:
        """Show another map, and where the wheels are."""
        self._map, self._gap, self._wanted, self._now, self._units = found, gap, wanted, now, units
        self.update()

    def _square(self) -> QRectF:
        px = self._look.px
        side = min(self.width() - px(64), self.height() - px(52))
        return QRectF(px(46), px(18), max(side, 10), max(side, 10))

    def _at(self, left: float, right: float) -> QPointF:
        assert self._map is not None
        square, t = self._square(), self._map.travel
        return QPointF(
            square.left() + (left - t[0]) / (t[-1] - t[0]) * square.width(),
            square.bottom() - (right - t[0]) / (t[-1] - t[0]) * square.height(),
        )

    def _color(self, gap: float) -> QColor:
        """From alarm where they overlap over pale at what is wanted to green well clear."""
        look = self._look
        share = gap / self._wanted if self._wanted > 0.0 else 2.0
        bad, edge, good = look.color("alarm"), look.color("sheet"), look.color("bubble")
        if share < 1.0:
            return _mixed(bad, edge, 0.25 + 0.6 * max(min(share, 1.0), 0.0))
        return _mixed(edge, good, 0.25 + 0.5 * min(share - 1.0, 1.0))

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Paint cells, what is not reached, the worst place and where the wheels are."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        look, px = self._look, self._look.px
        if self._map is None:
            return
        t, gaps, allowed = self._map.travel, self._map.gap, self._map.allowed
        step, square = float(t[1] - t[0]), self._square()
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
        for i, left in enumerate(t):
            for j, right in enumerate(t):
                a, b = self._at(left - step / 2, right + step / 2), self._at(left + step / 2, right - step / 2)
                cell = QRectF(a, b).intersected(square)
                if not np.isfinite(gaps[i, j]):
                    painter.fillRect(cell, look.color("steel"))
                    continue
                painter.fillRect(cell, self._color(float(gaps[i, j])))
                if not allowed[i, j]:
                    painter.fillRect(cell, look.color("faint", 70))
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(look.color("faint"), 1))
        painter.drawRect(square)
        painter.setPen(QPen(look.color("faint"), 1, Qt.PenStyle.DashLine))
        painter.drawLine(self._at(t[0], t[0]), self._at(t[-1], t[-1]))
        self._axes(painter, square)
        if self._gap is not None:
            worst = self._at(self._gap.left_mm, self._gap.right_mm)
            painter.setPen(QPen(look.color("alarm"), px(2)))
            painter.drawLine(worst - QPointF(px(6), px(6)), worst + QPointF(px(6), px(6)))
            painter.drawLine(worst - QPointF(px(6), -px(6)), worst + QPointF(px(6), -px(6)))
        painter.setPen(QPen(look.color("ink"), px(1.5)))
        painter.setBrush(look.color("bubble"))
        painter.drawEllipse(self._at(*self._now), px(5), px(5))

    def _axes(self, painter: QPainter, square: QRectF) -> None:
        look, px = self._look, self._look.px
        assert self._map is not None
        t = self._map.travel
        painter.setFont(look.font(12))
        painter.setPen(look.color("ink"))
        metrics = painter.fontMetrics()
        for value in (float(t[0]), 0.0, float(t[-1])):
            words = format_length(abs(value), self._units).removeprefix("~")  # type: ignore[arg-type]
            words = "0" if abs(value) < 1e-6 else f"{'+' if value > 0 else '-'}{words}"
            x = self._at(value, t[0]).x()
            wide = metrics.horizontalAdvance(words)
            painter.drawText(QPointF(min(max(x - wide / 2, 0.0), self.width() - wide), square.bottom() + px(14)), words)
            y = self._at(t[0], value).y()
            painter.drawText(QPointF(square.left() - wide - px(4), y + px(4)), words)
        painter.setPen(look.color("faint"))
        painter.drawText(QPointF(square.left(), square.bottom() + px(28)), "left wheel  (x: worst)")
        painter.drawText(QPointF(px(2), px(12)), "right wheel")

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Take the wheels where it was clicked."""
        assert event is not None
        if self._map is None:
            return
        square, t = self._square(), self._map.travel
        x = (event.position().x() - square.left()) / square.width()
        y = (square.bottom() - event.position().y()) / square.height()
        if 0.0 <= x <= 1.0 and 0.0 <= y <= 1.0:
            span = float(t[-1] - t[0])
            self.picked.emit(float(t[0]) + x * span, float(t[0]) + y * span)


def _mixed(a: QColor, b: QColor, share: float) -> QColor:
    parts = zip((a.redF(), a.greenF(), a.blueF()), (b.redF(), b.greenF(), b.blueF()), strict=True)
    return QColor.fromRgbF(*(p + share * (q - p) for p, q in parts))
