"""What stays the same from one painting to the next, kept as a picture: most of a view stands still during a drag."""

from collections.abc import Callable

from PyQt6.QtGui import QColor, QPainter, QPixmap
from PyQt6.QtWidgets import QWidget

from even_stance.desktop.look import Look
from even_stance.units import HABITS


class PaintCache:
    """The part of a widget that is painted anew only when what it shows has changed."""

    def __init__(self) -> None:
        self._shows: object = None
        self._picture = QPixmap()

    def put(self, on: QPainter, widget: QWidget, look: Look, shows: object, paint: Callable[[QPainter], None]) -> None:
        """Put the picture on a widget, painted anew if it shows something else than before.

        Args:
            on: the painter of the widget.
            widget: the widget.
            look: the look, which belongs to what is shown.
            shows: everything else that the picture depends on, to be compared.
            paint: paints the picture.
        """
        ratio = widget.devicePixelRatioF()
        shows = (widget.width(), widget.height(), ratio, look.name, look.percent, str(HABITS), shows)
        if shows != self._shows:
            self._shows = shows
            self._picture = QPixmap(round(widget.width() * ratio), round(widget.height() * ratio))
            self._picture.setDevicePixelRatio(ratio)
            self._picture.fill(QColor(0, 0, 0, 0))
            painter = QPainter(self._picture)
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            paint(painter)
            painter.end()
        on.drawPixmap(0, 0, self._picture)
