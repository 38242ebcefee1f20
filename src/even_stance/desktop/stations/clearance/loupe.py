"""A loupe: both parts cut through at their closest places, hatched, with what is wanted between them."""

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QBrush, QPainter, QPainterPath, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QSizePolicy, QWidget

from even_stance.desktop.look import Look
from even_stance.mechanics.vectors import Array
from even_stance.study.gapmaps import Cut


class Loupe(QWidget):
    """The cut, as large as shows the gap well."""

    def __init__(self, look: Look) -> None:
        super().__init__()
        self._look = look
        self._cut: Cut | None = None
        self._words = ("", "", "")
        self.setAccessibleName("Both parts cut at their closest places")
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Expanding)
        look.changed.connect(self.updateGeometry)

    def sizeHint(self) -> QSize:
        """A round of some 200 pixels with words below."""
        return QSize(self._look.px(216), self._look.px(250))

    def show_cut(self, cut: Cut | None, first: str, second: str, gap: str) -> None:
        """Show another cut, with the names of both parts and the gap in words."""
        self._cut, self._words = cut, (first, second, gap)
        self.setAccessibleDescription(f"{first} above {second}: {gap}" if cut is not None else "")
        self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Paint the round, what is cut, the wanted gap around the second part, and the words."""
        if self._cut is None:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        look, px, cut = self._look, self._look.px, self._cut
        side = min(self.width() - px(12), self.height() - px(62))
        round_ = QRectF((self.width() - side) / 2, px(24), side, side)
        # As near as shows the gap and what is wanted, and no nearer than an inch across.
        half = max(2.2 * max(abs(cut.gap_mm), cut.wanted_mm), 25.0)
        scale = side / (2.0 * half)
        middle = round_.center() + QPointF(0.0, 0.5 * cut.gap_mm * scale)

        def polygon(ring: Array) -> QPolygonF:
            return QPolygonF([QPointF(middle.x() + scale * a, middle.y() - scale * b) for a, b in ring.tolist()])

        clip = QPainterPath()
        clip.addEllipse(round_)
        painter.save()
        painter.setClipPath(clip)
        painter.fillRect(round_, look.color("sheet"))
        band = QPen(look.color("bubble", 110), 2.0 * cut.wanted_mm * scale)
        band.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
        painter.setBrush(look.color("bubble", 110))
        painter.setPen(band)
        for ring in cut.second:
            painter.drawPolygon(polygon(ring))
        for rings, color, hatch in ((cut.second, "faint", Qt.BrushStyle.BDiagPattern),
                                    (cut.first, "upper", Qt.BrushStyle.FDiagPattern)):  # fmt: skip
            for ring in rings:
                painter.setPen(QPen(look.color(color), px(2)))
                painter.setBrush(look.color("steel") if color == "faint" else look.color("floor", 190))
                painter.drawPolygon(polygon(ring))
                painter.setBrush(QBrush(look.color(color, 130), hatch))
                painter.drawPolygon(polygon(ring))
        top = middle - QPointF(0.0, cut.gap_mm * scale)
        painter.setPen(QPen(look.color("alarm"), px(2)))
        painter.drawLine(middle, top)
        for y in (middle.y(), top.y()):
            painter.drawLine(QPointF(middle.x() - px(14), y), QPointF(middle.x() + px(14), y))
        painter.restore()
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(look.color("accent"), px(2)))
        painter.drawEllipse(round_)
        self._said(painter, round_)

    def _said(self, painter: QPainter, round_: QRectF) -> None:
        look, px = self._look, self._look.px
        assert self._cut is not None
        painter.setFont(look.font(14, bold=True))
        painter.setPen(look.color("alarm" if self._cut.gap_mm < self._cut.wanted_mm else "ink"))
        center = int(Qt.AlignmentFlag.AlignHCenter)
        painter.drawText(QRectF(0, px(2), self.width(), px(20)), center, self._words[2])
        painter.setFont(look.font(12))
        metrics = painter.fontMetrics()
        for i, (color, words) in enumerate((("upper", self._words[0]), ("faint", self._words[1]))):
            painter.setPen(look.color(color))
            said = metrics.elidedText(words, Qt.TextElideMode.ElideRight, self.width() - px(4))
            painter.drawText(QRectF(0, round_.bottom() + px(3 + 16 * i), self.width(), px(16)), center, said)


def cut_is_there(cut: Cut | None) -> bool:
    """Whether anything of both parts is cut."""
    return cut is not None and bool(cut.first) and bool(cut.second) and bool(np.isfinite(cut.gap_mm))
