"""A small button where practitioners disagree: a click shows both sides and what is the default here."""

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QKeyEvent, QMouseEvent
from PyQt6.QtWidgets import QFrame, QToolButton, QVBoxLayout, QWidget

from even_stance.desktop.look import Look
from even_stance.desktop.widgets.labels import PlainLabel, plain_tip
from even_stance.judgement.schools import SCHOOLS


class _Note(QFrame):
    """PlainLabel in a panel above the window that goes away at any click or key, wherever it falls.

    A popup takes every click and key of the whole program while it is shown: it has to close itself.
    """

    def __init__(self, words: str, parent: QWidget) -> None:
        super().__init__(parent, Qt.WindowType.Popup)
        self.setObjectName("note")
        self.label = PlainLabel(words, self)
        self.label.setWordWrap(True)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.label)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Any click closes it."""
        self.close()
        if event is not None:
            event.accept()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Any key closes it, Escape among them."""
        self.close()
        if event is not None:
            event.accept()


class SchoolButton(QToolButton):
    """Shows a school's note in a panel of its own that any click or Escape closes."""

    def __init__(self, look: Look, key: str) -> None:
        super().__init__()
        self._look = look
        self.school = SCHOOLS[key]
        self.setText("Schools…")
        self.setAccessibleName(f"Two schools: {self.school.question}")
        self.setToolTip(plain_tip(self.school.question))
        self.note = _Note(self.school.words, self)
        self.clicked.connect(self.open)

    def open(self) -> None:
        """Show the note below the button, or above it where there is no room."""
        self.note.setFixedWidth(self._look.px(380))
        self.note.label.setMargin(self._look.px(12))
        self.note.adjustSize()
        place = self.mapToGlobal(QPoint(0, self.height()))
        screen = self.screen()
        if screen is not None:
            room = screen.availableGeometry()
            if place.y() + self.note.height() > room.bottom():
                place.setY(self.mapToGlobal(QPoint(0, 0)).y() - self.note.height())
            place.setX(max(room.left(), min(place.x(), room.right() - self.note.width())))
        self.note.move(place)
        self.note.show()
