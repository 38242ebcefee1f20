"""A painted thing that is chosen with a click, with Space or with Enter: a button to whoever cannot see it."""

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QAbstractButton, QSizePolicy


class Choosable(QAbstractButton):
    """Takes the focus and a click; what being chosen means is said by `choose`. Subclasses paint it."""

    def __init__(self) -> None:
        super().__init__()
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Fixed)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.clicked.connect(lambda _=False: self.choose())

    def choose(self) -> None:
        """What happens when it is chosen."""
        raise NotImplementedError

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Enter chooses as Space does; up and down go to the next one of the same kind beside it."""
        assert event is not None
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.click()
        elif event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            self._beside(1 if event.key() == Qt.Key.Key_Down else -1)
        else:
            super().keyPressEvent(event)

    def _beside(self, step: int) -> None:
        parent = self.parentWidget()
        if parent is None:
            return
        alike = [w for w in parent.findChildren(type(self)) if w.isVisible()]
        alike.sort(key=lambda w: (w.y(), w.x()))
        i = alike.index(self) + step
        if 0 <= i < len(alike):
            alike[i].setFocus(Qt.FocusReason.TabFocusReason)
