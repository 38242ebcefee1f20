"""Many small things made one after the other, so that none of them holds up what the hand does next."""

from collections.abc import Callable, Iterable

from PyQt6.QtCore import QObject, QTimer


class Stepwise(QObject):
    """Does steps one in each round of the event loop, the first at once; steps begun anew take the place of those left.

    Args:
        parent: what the steps belong to; they end with it.
    """

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._left: list[Callable[[], object]] = []
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self._next)

    def start(self, steps: Iterable[Callable[[], object]]) -> None:
        """Begin with these."""
        self._left = list(steps)
        self._next()

    def finish(self) -> None:
        """Do all that are left."""
        while self._left:
            self._left.pop(0)()

    def _next(self) -> None:
        if self._left:
            self._left.pop(0)()
            self._timer.start(0)
