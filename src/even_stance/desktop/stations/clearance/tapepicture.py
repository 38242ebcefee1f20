"""What to tape of a thing: a picture of its shape from the side and from above, with a letter for each measure."""

from collections.abc import Callable

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QSizePolicy, QWidget

from even_stance.desktop.look import Look


class TapePicture(QWidget):
    """The picture of one kind of shape."""

    def __init__(self, look: Look) -> None:
        super().__init__()
        self._look, self._shape = look, "block"
        self.setAccessibleName("What to tape")
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Fixed)
        look.changed.connect(self.updateGeometry)

    def sizeHint(self) -> QSize:
        """Two small views beside each other."""
        return QSize(self._look.px(330), self._look.px(168))

    def show_shape(self, shape: str) -> None:
        """Show another shape."""
        self._shape = shape
        self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Paint both views."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        look, px = self._look, self._look.px
        half = self.width() / 2
        for i, title in enumerate(("from the left", "from above")):
            box = QRectF(half * i + px(4), px(4), half - px(8), self.height() - px(8))
            painter.setPen(QPen(look.color("line"), 1))
            painter.setBrush(look.color("floor"))
            painter.drawRoundedRect(box, px(4), px(4))
            painter.setFont(look.font(12))
            painter.setPen(look.color("faint"))
            painter.drawText(QPointF(box.left() + px(6), box.top() + px(14)), title)
            draw = _DRAW.get((self._shape, i), _DRAW["block", i])
            draw(_Pad(painter, look, box))


class _Pad:
    """A view to draw on: shares of it from its lower left corner; the front of the car is to the left."""

    def __init__(self, painter: QPainter, look: Look, box: QRectF) -> None:
        self.painter, self.look, self.box = painter, look, box

    def at(self, x: float, y: float) -> QPointF:
        return QPointF(self.box.left() + x * self.box.width(), self.box.bottom() - y * self.box.height())

    def area(self, *corners: tuple[float, float]) -> None:
        self.painter.setPen(QPen(self.look.color("ink"), self.look.px(1.5)))
        self.painter.setBrush(self.look.color("steel"))
        self.painter.drawPolygon(QPolygonF([self.at(*c) for c in corners]))

    def round(self, x: float, y: float, r: float) -> None:
        self.painter.setPen(QPen(self.look.color("ink"), self.look.px(1.5)))
        self.painter.setBrush(self.look.color("steel"))
        size = r * self.box.height()
        self.painter.drawEllipse(self.at(x, y), size, size)

    def line(self, a: tuple[float, float], b: tuple[float, float], style: str = "faint", wide: float = 1.0) -> None:
        self.painter.setPen(QPen(self.look.color(style), self.look.px(wide)))
        self.painter.drawLine(self.at(*a), self.at(*b))

    def size(self, letter: str, a: tuple[float, float], b: tuple[float, float]) -> None:
        """A dimension with its letter."""
        painter, px = self.painter, self.look.px
        painter.setPen(QPen(self.look.color("accent"), px(1.5)))
        p, q = self.at(*a), self.at(*b)
        painter.drawLine(p, q)
        across = abs(p.x() - q.x()) > abs(p.y() - q.y())
        for end in (p, q):
            tick = QPointF(0, px(4)) if across else QPointF(px(4), 0)
            painter.drawLine(end - tick, end + tick)
        painter.setFont(self.look.font(13, bold=True))
        middle = (p + q) / 2
        off = QPointF(-px(4), -px(4)) if across else QPointF(px(5), px(4))
        painter.drawText(middle + off, letter)

    def ground(self) -> None:
        self.line((0.04, 0.1), (0.96, 0.1), "ink", 1.5)

    def axle(self) -> None:
        self.painter.setPen(QPen(self.look.color("faint"), self.look.px(1), Qt.PenStyle.DashLine))
        self.painter.drawLine(self.at(0.12, 0.06), self.at(0.12, 0.86))

    def center(self) -> None:
        self.painter.setPen(QPen(self.look.color("faint"), self.look.px(1), Qt.PenStyle.DashDotLine))
        self.painter.drawLine(self.at(0.03, 0.22), self.at(0.97, 0.22))


def _block_side(p: _Pad) -> None:
    p.ground()
    p.axle()
    p.area((0.35, 0.42), (0.85, 0.52), (0.85, 0.8), (0.35, 0.7))
    p.size("A", (0.12, 0.76), (0.35, 0.76))
    p.size("B", (0.35, 0.85), (0.85, 0.85))
    p.size("E", (0.4, 0.1), (0.4, 0.43))
    p.size("F", (0.9, 0.52), (0.9, 0.8))
    p.size("G", (0.78, 0.42), (0.78, 0.505))


def _block_plan(p: _Pad) -> None:
    p.center()
    p.area((0.35, 0.34), (0.85, 0.34), (0.85, 0.74), (0.35, 0.74))
    p.size("C", (0.6, 0.22), (0.6, 0.54))
    p.size("D", (0.9, 0.34), (0.9, 0.74))


def _tunnel_side(p: _Pad) -> None:
    p.ground()
    p.axle()
    p.area((0.3, 0.7), (0.85, 0.78), (0.85, 0.82), (0.3, 0.74))
    p.line((0.3, 0.5), (0.85, 0.58))
    p.size("A", (0.12, 0.62), (0.3, 0.62))
    p.size("B", (0.3, 0.87), (0.85, 0.87))
    p.size("E", (0.36, 0.1), (0.36, 0.7))
    p.size("F", (0.8, 0.1), (0.8, 0.77))
    p.size("G", (0.92, 0.58), (0.92, 0.78))


def _tunnel_plan(p: _Pad) -> None:
    p.center()
    p.area((0.3, 0.36), (0.85, 0.36), (0.85, 0.4), (0.3, 0.4))
    p.area((0.3, 0.72), (0.85, 0.72), (0.85, 0.76), (0.3, 0.76))
    p.size("C", (0.55, 0.22), (0.55, 0.56))
    p.size("D", (0.9, 0.4), (0.9, 0.72))


def _arch_side(p: _Pad) -> None:
    p.ground()
    p.round(0.55, 0.46, 0.36)
    p.area((0.2, 0.1), (0.9, 0.1), (0.9, 0.46), (0.2, 0.46))
    p.painter.fillRect(QRectF(p.at(0.2, 0.455), p.at(0.9, 0.11)), p.look.color("floor"))
    p.axle()
    p.size("A", (0.12, 0.3), (0.55, 0.3))
    p.size("B", (0.62, 0.1), (0.62, 0.46))
    p.size("C", (0.55, 0.46), (0.55, 0.82))


def _arch_plan(p: _Pad) -> None:
    p.center()
    p.area((0.25, 0.5), (0.85, 0.5), (0.85, 0.82), (0.25, 0.82))
    p.size("D", (0.55, 0.22), (0.55, 0.5))
    p.size("E", (0.9, 0.5), (0.9, 0.82))


def _run_side(p: _Pad) -> None:
    p.ground()
    for a, b in (((0.2, 0.45), (0.45, 0.5)), ((0.45, 0.5), (0.65, 0.75)), ((0.65, 0.75), (0.88, 0.7))):
        p.line(a, b, "ink", 5.0)
    for i, (x, y) in enumerate(((0.2, 0.45), (0.45, 0.5), (0.65, 0.75), (0.88, 0.7)), start=1):
        p.round(x, y, 0.02)
        p.painter.setPen(p.look.color("accent"))
        p.painter.setFont(p.look.font(13, bold=True))
        p.painter.drawText(p.at(x, y) + QPointF(0, -p.look.px(8)), str(i))
    p.size("up", (0.45, 0.1), (0.45, 0.5))


def _run_plan(p: _Pad) -> None:
    p.center()
    for a, b in (((0.2, 0.4), (0.45, 0.42)), ((0.45, 0.42), (0.65, 0.7)), ((0.65, 0.7), (0.88, 0.74))):
        p.line(a, b, "ink", 5.0)
    p.size("left", (0.65, 0.22), (0.65, 0.7))


def _round_side(p: _Pad) -> None:
    p.ground()
    p.area((0.3, 0.4), (0.8, 0.4), (0.8, 0.74), (0.3, 0.74))
    p.size("L", (0.3, 0.84), (0.8, 0.84))
    p.size("D", (0.87, 0.4), (0.87, 0.74))
    p.round(0.8, 0.57, 0.02)
    p.size("up", (0.8, 0.1), (0.8, 0.4))


def _round_plan(p: _Pad) -> None:
    p.center()
    p.area((0.3, 0.38), (0.8, 0.38), (0.8, 0.72), (0.3, 0.72))
    p.round(0.8, 0.55, 0.02)
    p.size("left", (0.8, 0.22), (0.8, 0.53))


def _ball_side(p: _Pad) -> None:
    p.ground()
    p.round(0.55, 0.55, 0.2)
    p.size("D", (0.88, 0.35), (0.88, 0.75))
    p.size("up", (0.55, 0.1), (0.55, 0.55))


def _ball_plan(p: _Pad) -> None:
    p.center()
    p.round(0.55, 0.58, 0.2)
    p.size("left", (0.55, 0.22), (0.55, 0.58))


def _plate_side(p: _Pad) -> None:
    p.ground()
    p.area((0.25, 0.35), (0.7, 0.3), (0.85, 0.6), (0.55, 0.8), (0.3, 0.7))
    for i, (x, y) in enumerate(((0.25, 0.35), (0.7, 0.3), (0.85, 0.6), (0.55, 0.8), (0.3, 0.7)), start=1):
        p.painter.setPen(p.look.color("accent"))
        p.painter.setFont(p.look.font(13, bold=True))
        p.painter.drawText(p.at(x, y) + QPointF(p.look.px(4), -p.look.px(3)), str(i))


def _plate_plan(p: _Pad) -> None:
    p.center()
    p.area((0.25, 0.55), (0.85, 0.55), (0.85, 0.62), (0.25, 0.62))
    p.size("A", (0.5, 0.22), (0.5, 0.55))
    p.size("T", (0.92, 0.55), (0.92, 0.62))


_DRAW: dict[tuple[str, int], Callable[[_Pad], None]] = {
    ("block", 0): _block_side, ("block", 1): _block_plan, ("tunnel", 0): _tunnel_side, ("tunnel", 1): _tunnel_plan,
    ("arch", 0): _arch_side, ("arch", 1): _arch_plan, ("run", 0): _run_side, ("run", 1): _run_plan,
    ("round", 0): _round_side, ("round", 1): _round_plan, ("ball", 0): _ball_side, ("ball", 1): _ball_plan,
    ("plate", 0): _plate_side, ("plate", 1): _plate_plan,
}  # fmt: skip
