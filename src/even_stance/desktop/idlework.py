"""What is likely asked for next is made ready while nothing else is to do, so that nobody waits for it later."""

from collections.abc import Iterator

from PyQt6.QtCore import QObject, QTimer

_FIRST_MS, _NEXT_MS = 400, 15


class IdleWork(QObject):
    """Runs small steps one at a time, with room between them for whatever the user does.

    Args:
        parent: what the steps belong to; they end with it.
        steps: does a step each time the next one is asked for.
        first_ms, next_ms: how long it waits before the first step and between them: nothing for what is looked at.
    """

    def __init__(
        self, parent: QObject, steps: Iterator[None], first_ms: int = _FIRST_MS, next_ms: int = _NEXT_MS
    ) -> None:  # fmt: skip
        super().__init__(parent)
        self._steps, self._next_ms = steps, next_ms
        self.over = False
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self._step)
        self._timer.start(first_ms)

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
            self._timer.start(self._next_ms)
