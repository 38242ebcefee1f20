"""The strokes that fields, buttons, boxes and bars are drawn with, in the colors of a look."""

from PyQt6.QtCore import QPointF, QRect, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen, QPolygonF
from PyQt6.QtWidgets import QStyle

from even_stance.desktop.colors import LookName, color_of

EDGE = 1
_State = QStyle.StateFlag
_TICK = ((0.24, 0.52), (0.43, 0.7), (0.76, 0.32))


class Strokes:
    """Draws at a scale, in a look; colors are named as in its palette, an empty name is none.

    Args:
        look: which.
        percent: of the usual size.
    """

    def __init__(self, look: LookName, percent: int) -> None:
        self._look, self._percent = look, percent

    def px(self, size: float) -> int:
        """A size in pixels."""
        return round(size * self._percent / 100)

    def color(self, name: str, alpha: int = 255) -> QColor:
        """A color of the look."""
        return color_of(self._look, name, alpha)

    def box(self, painter: QPainter, rect: QRect, fill: str, edge: str, strong: bool = False,
            dashed: bool = False, corner: int = 5) -> None:  # fmt: skip
        """A box with rounded corners; a strong edge is twice as thick."""
        width = 2 * EDGE if strong else EDGE
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setBrush(self.color(fill) if fill else Qt.BrushStyle.NoBrush)
        dashes = Qt.PenStyle.DashLine if dashed else Qt.PenStyle.SolidLine
        painter.setPen(QPen(self.color(edge), width, dashes) if edge else Qt.PenStyle.NoPen)
        inset, corner = width / 2, self.px(corner)
        painter.drawRoundedRect(QRectF(rect).adjusted(inset, inset, -inset, -inset), corner, corner)
        painter.restore()

    def button(self, painter: QPainter, rect: QRect, state: QStyle.StateFlag, main: bool, quiet: bool = False) -> str:
        """The box of a button; the color of the words in it."""
        focused, filled = bool(state & _State.State_HasFocus), main or bool(state & _State.State_On)
        if not state & _State.State_Enabled:
            self.box(painter, rect, "" if quiet else "page", "" if quiet else "line", dashed=True)
            return "faint"
        if quiet:
            self.box(painter, rect, "", "accent" if focused else "", strong=True)
            return "accent"
        edge = "accent" if filled or focused or state & _State.State_MouseOver else "edge"
        fill = "accent" if filled else "floor" if state & _State.State_Sunken else "sheet"
        self.box(painter, rect, fill, edge, strong=focused)
        if focused and filled:
            # On a filled button an edge of its own color would not be seen.
            self.box(painter, rect.adjusted(3, 3, -3, -3), "", "on_accent")
        return "on_accent" if filled else "ink"

    def words(self, painter: QPainter, room: QRect, text: str, ink: str, left: bool = False) -> QRect:
        """The words of a button; where they are."""
        painter.setPen(self.color(ink))
        side = Qt.AlignmentFlag.AlignLeft if left else Qt.AlignmentFlag.AlignHCenter
        flags = side | Qt.AlignmentFlag.AlignVCenter | Qt.TextFlag.TextShowMnemonic
        painter.drawText(room, flags.value, text)
        return painter.boundingRect(room, flags.value, text)

    def arrow(self, painter: QPainter, rect: QRect, up: bool = False, small: bool = False) -> None:
        """An arrow that says that there is more to choose, or where a number goes."""
        center, half = QRectF(rect).center(), self.px(3 if small else 4)
        rise = -half / 2 if up else half / 2
        self._line(painter, [center + QPointF(x, y) for x, y in ((-half, -rise), (0, rise), (half, -rise))], "ink",
                   1.5 * self._percent / 100)  # fmt: skip

    def tick(self, painter: QPainter, rect: QRect, on: bool) -> None:
        """A box to tick, and its tick."""
        self.box(painter, rect, "accent" if on else "sheet", "accent" if on else "edge", corner=3)
        if on:
            r = QRectF(rect)
            tick = [QPointF(r.left() + x * r.width(), r.top() + y * r.height()) for x, y in _TICK]
            self._line(painter, tick, "on_accent", r.width() / 8)

    def handle(self, painter: QPainter, rect: QRect, held: bool) -> None:
        """What a scroll bar is moved by."""
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(self.color("edge" if held else "line"))
        painter.drawRoundedRect(QRectF(rect), 3, 3)
        painter.restore()

    def frame(self, painter: QPainter, rect: QRect, edge: str, fill: str = "") -> None:
        """A plain frame around a list or a note."""
        painter.setPen(self.color(edge))
        painter.setBrush(self.color(fill) if fill else Qt.BrushStyle.NoBrush)
        painter.drawRect(rect.adjusted(0, 0, -1, -1))

    def strip(self, painter: QPainter, rect: QRect) -> None:
        """A strip of the window: a sheet with a line below."""
        painter.fillRect(rect, self.color("sheet"))
        painter.setPen(self.color("line"))
        painter.drawLine(rect.bottomLeft(), rect.bottomRight())

    def _line(self, painter: QPainter, points: list[QPointF], ink: str, width: float) -> None:
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(self.color(ink), width))
        painter.drawPolyline(QPolygonF(points))
        painter.restore()
