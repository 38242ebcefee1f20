"""Many drawings shown one after the other, so that none of them holds up what the hand does next."""

from collections.abc import Sequence

from PyQt6.QtCore import QObject, QTimer
from PyQt6.QtWidgets import QWidget


class InTurns(QObject):
    """Lets widgets that were shown together paint one at a time, the first at once.

    Args:
        parent: what the widgets belong to.
    """

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._waiting: list[QWidget] = []
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self._next)

    def show(self, widgets: Sequence[QWidget]) -> None:
        """Begin anew with these."""
        self.finish()
        self._waiting = list(widgets[1:])
        for widget in self._waiting:
            widget.setUpdatesEnabled(False)
        self._timer.start(0)

    def finish(self) -> None:
        """Let all that wait paint now."""
        while self._waiting:
            self._waiting.pop(0).setUpdatesEnabled(True)

    def _next(self) -> None:
        if self._waiting:
            self._waiting.pop(0).setUpdatesEnabled(True)
            self._timer.start(0)
