"""What is likely asked for next is made ready while nothing else is to do, so that nobody waits for it later."""

from collections.abc import Iterator

from PyQt6.QtCore import QObject, QTimer

_FIRST_MS, _NEXT_MS = 400, 15


class IdleWork(QObject):
    """Runs small steps one at a time, with room between them for whatever the user does.

    Args:
        parent: what the steps belong to; they end with it.
        steps: does a step each time the next one is asked for.
    """

    def __init__(self, parent: QObject, steps: Iterator[None]) -> None:
        super().__init__(parent)
        self._steps = steps
        self.over = False
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self._step)
        self._timer.start(_FIRST_MS)

    def stop(self) -> None:
        """Leave the rest to be made when it is asked for."""
        self._timer.stop()
        self.over = True

    def _step(self) -> None:
        try:
            next(self._steps)
        except StopIteration:
            self.over = True
        else:
            self._timer.start(_NEXT_MS)
