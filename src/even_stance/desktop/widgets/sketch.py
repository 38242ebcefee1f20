"""A small picture of shapes, fitted to its widget; nothing in it can be taken hold of."""

from collections.abc import Sequence

from PyQt6.QtCore import QRectF, QSize
from PyQt6.QtGui import QPainter, QPaintEvent, QTransform
from PyQt6.QtWidgets import QSizePolicy, QWidget

from even_stance.desktop.look import Look
from even_stance.desktop.widgets.painter import ScenePainter
from even_stance.study.drawing import Shape

Frame = tuple[float, float, float, float]


def fitting(frame: Frame, box: QRectF) -> QTransform:
    """From a window of the projection plane (h and v ranges, mm) to a box of pixels, true to scale and centered."""
    h0, h1, v0, v1 = frame
    scale = min(box.width() / max(h1 - h0, 1.0), box.height() / max(v1 - v0, 1.0))
    x = box.center().x() - scale * (h0 + h1) / 2
    y = box.center().y() + scale * (v0 + v1) / 2
    return QTransform(scale, 0.0, 0.0, -scale, x, y)


class Sketch(QWidget):
    """Shapes on the floor's ground color."""

    def __init__(self, look: Look, name: str) -> None:
        super().__init__()
        self._look = look
        self._shapes: Sequence[Shape] = ()
        self._frame: Frame = (0.0, 1.0, 0.0, 1.0)
        self.setAccessibleName(name)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)

    def sizeHint(self) -> QSize:
        """A hand wide."""
        return QSize(self._look.px(360), self._look.px(200))

    def show_shapes(self, shapes: Sequence[Shape], frame: Frame) -> None:
        """Show other shapes."""
        self._shapes, self._frame = shapes, frame
        self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Paint."""
        painter = QPainter(self)
        painter.fillRect(self.rect(), self._look.color("floor"))
        pad = self._look.px(14)
        box = QRectF(self.rect()).adjusted(pad, pad, -pad, -pad)
        ScenePainter(painter, fitting(self._frame, box), self._look).paint(list(self._shapes))
