"""Bars of tube with their saw cuts: what comes from where, and what is left over."""

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QBrush, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from even_stance.desktop.look import Look
from even_stance.shop.counting import Counted
from even_stance.units import System, format_length, length_unit

_ROW = 50
_COLORS = ("lower", "upper", "lateral", "accent")


class BarPicture(QWidget):
    """One strip for each bar, to one scale."""

    def __init__(self, look: Look) -> None:
        super().__init__()
        self._look = look
        self._units: System = "us"
        self._counted: Counted | None = None
        self.setAccessibleName("Bars and saw cuts")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Preferred)
        look.changed.connect(self.update)

    def sizeHint(self) -> QSize:
        """As high as its bars need."""
        return QSize(self._look.px(320), self._look.px(30 + _ROW * max(self._many(), 3)))

    def minimumSizeHint(self) -> QSize:
        """Wide enough to read, as high as its bars need."""
        return QSize(self._look.px(220), self._look.px(30 + _ROW * self._many()))

    def _many(self) -> int:
        counted = self._counted
        return 0 if counted is None else sum(len(p.bars) for _, p in counted.plans) + len(counted.unplanned)

    def show_plans(self, units: System, counted: Counted | None) -> None:
        """Show other plans; none while they are being worked out."""
        self._units, self._counted = units, counted
        said = "being worked out"
        if counted is not None:
            said = "; ".join(
                f"{tube.name}: {', '.join(' + '.join(f'{n} {self._said(c)}' for n, c in zip(b.names, b.cuts_mm, strict=True)) for b in plan.bars)}"  # noqa: E501
                for tube, plan in counted.plans
            )
        self.setAccessibleDescription(said)
        self.updateGeometry()
        self.update()

    def _said(self, mm: float, unit: bool = False) -> str:
        text = format_length(mm, self._units).removeprefix("~")
        return f"{text} {length_unit(self._units)}" if unit else text

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Paint every bar."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        look, px, counted = self._look, self._look.px, self._counted
        painter.setFont(look.font(12, bold=True))
        painter.setPen(look.color("accent"))
        painter.drawText(px(4), px(16), "Bars")
        painter.setFont(look.font(12))
        painter.setPen(look.color("faint"))
        if counted is None:
            painter.drawText(px(56), px(16), "being worked out…")
            return
        if not counted.plans and not counted.unplanned:
            painter.drawText(px(56), px(16), "none yet: no tube is cut")
            return
        bought = sum(p.bought_mm for _, p in counted.plans)
        used = sum(p.used_mm for _, p in counted.plans)
        exact = all(p.exact for _, p in counted.plans)
        waste = f"{100.0 * (1.0 - used / bought):.0f} % left over" if bought else ""
        least = "proved least" if exact else "near the least"
        painter.drawText(px(48), px(16), f"{self._said(bought, True)} to buy, {waste}, {least}")
        longest = max((b.length_mm for _, p in counted.plans for b in p.bars), default=1.0)
        y = px(28)
        for k, (tube, plan) in enumerate(counted.plans):
            for bar in plan.bars:
                self._bar(painter, tube.name, bar.length_mm, bar.cuts_mm, bar.names, bar.left_mm, y, longest, k)
                y += px(_ROW)
        painter.setPen(look.color("alarm"))
        for sentence in counted.unplanned:
            painter.drawText(QRectF(px(4), y, self.width() - px(8), px(_ROW)), int(Qt.TextFlag.TextWordWrap), sentence)
            y += px(_ROW)

    def _bar(self, painter: QPainter, tube: str, length: float, cuts: tuple[float, ...], names: tuple[str, ...],
             left: float, y: float, longest: float, k: int) -> None:  # fmt: skip
        look, px = self._look, self._look.px
        scale = (self.width() - px(10)) / longest
        painter.setFont(look.font(12))
        painter.setPen(look.color("ink"))
        painter.drawText(QPointF(px(4), y + px(11)), f"{tube}, {self._said(length)} bar")
        over = f"left {self._said(left)}"
        painter.setPen(look.color("faint"))
        painter.drawText(
            QPointF(self.width() - px(6) - painter.fontMetrics().horizontalAdvance(over), y + px(11)), over
        )
        x, top, high = float(px(4)), y + px(15), float(px(26))
        whole = QRectF(x, top, scale * length, high)
        painter.setPen(QPen(look.color("faint"), 1.0))
        painter.setBrush(QBrush(look.color("line"), Qt.BrushStyle.BDiagPattern))
        painter.drawRect(whole)
        for cut, name in zip(cuts, names, strict=True):
            box = QRectF(x, top, scale * cut, high)
            painter.setPen(QPen(look.color("ink"), 1.0))
            painter.setBrush(look.color("sheet"))
            painter.drawRect(box)
            painter.fillRect(box.adjusted(1, 1, -1, -px(20)), look.color(_COLORS[k % len(_COLORS)]))
            painter.setFont(look.font(12, bold=True))
            painter.setPen(look.color("ink"))
            ruler = painter.fontMetrics()
            words = ruler.elidedText(
                f"{self._said(cut)} {name}", Qt.TextElideMode.ElideRight, round(box.width() - px(6))
            )
            painter.drawText(box.adjusted(px(3), px(5), 0, 0), int(Qt.AlignmentFlag.AlignVCenter), words)
            x += scale * cut
            painter.setPen(QPen(look.color("alarm"), px(2.5)))
            painter.drawLine(QPointF(x, top - px(2)), QPointF(x, top + high + px(2)))
            x += scale * (length - left - sum(cuts)) / max(len(cuts), 1)
