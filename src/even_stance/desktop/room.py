"""What there is room for in the window: stations in words or as a strip, vials beside the page or in turns with it."""

from collections.abc import Callable
from typing import TYPE_CHECKING

from PyQt6.QtCore import QSize, QTimer
from PyQt6.QtWidgets import QWidget

if TYPE_CHECKING:
    from even_stance.desktop.window import MainWindow

_VIALS_WIDTH, _ORDER_WIDTH, _STRIP_WIDTH, _LINE_HEIGHT = 312, 166, 52, 26
_WIDEST = 16_777_215  # Qt's own largest size


class Squeezed(QWidget):
    """The inside of the window: it asks for the least room the window can do with, not for what it shows just now."""

    def __init__(self, smallest: Callable[[], QSize]) -> None:
        super().__init__()
        self._smallest = smallest

    def minimumSizeHint(self) -> QSize:
        """The least room."""
        return self._smallest()


class Room:
    """Shares the room of a window out among its columns."""

    def __init__(self, window: "MainWindow") -> None:
        self._window = window
        self._again = QTimer(window)
        self._again.setSingleShot(True)
        self._again.timeout.connect(self._fit)

    def smallest(self) -> QSize:
        """The smallest window: the stations as a strip, vials and page in turns, and a page that scrolls."""
        w, px = self._window, self._window.look.px
        page, header = w.stack.minimumSizeHint(), w.header.minimumSizeHint()
        wide = max(px(_STRIP_WIDTH) + page.width(), header.width(), w.rail.minimumSizeHint().width())
        middle = max(len(w.order.buttons) * (px(_LINE_HEIGHT) + 2) + 16, page.height())
        return QSize(wide, header.height() + middle + w.rail.height())

    def fit(self) -> None:
        """Give every column what it can have: now, and once all that is shown has said how much it needs."""
        self._fit()
        self._again.start(0)

    def _fit(self) -> None:
        w, px = self._window, self._window.look.px
        wide, page = w.width(), w.stack.minimumSizeHint().width()
        beside = wide >= px(_STRIP_WIDTH) + px(_VIALS_WIDTH) + page
        worded = wide >= px(_ORDER_WIDTH) + (px(_VIALS_WIDTH) if beside else 0) + page
        w.order.setFixedWidth(px(_ORDER_WIDTH if worded else _STRIP_WIDTH))
        at_work = w.order.isVisibleTo(w)
        w.header.turn.setVisible(at_work and not beside)
        turned = w.header.turn.isChecked() and not beside
        w.right.setVisible(at_work and (beside or turned))
        w.middle.setVisible(not turned)
        if beside:
            w.right.setFixedWidth(px(_VIALS_WIDTH))
        else:
            w.right.setMinimumWidth(0)
            w.right.setMaximumWidth(_WIDEST)
