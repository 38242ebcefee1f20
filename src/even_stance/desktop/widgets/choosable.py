"""A painted thing that is chosen with a click, with Space or with Enter."""

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeyEvent, QMouseEvent
from PyQt6.QtWidgets import QSizePolicy, QWidget


class Choosable(QWidget):
    """Takes the focus and a click; what being chosen means is said by `choose`."""

    def __init__(self) -> None:
        super().__init__()
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Fixed)
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def choose(self) -> None:
        """What happens when it is chosen."""
        raise NotImplementedError

    def mousePressEvent(self, _event: QMouseEvent | None) -> None:
        """Choose this one."""
        self.choose()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Choose this one with the keyboard."""
        assert event is not None
        if event.key() in (Qt.Key.Key_Space, Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.choose()
        else:
            super().keyPressEvent(event)
