"""A small button where practitioners disagree: a click shows both sides and what is the default here."""

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QLabel, QToolButton

from even_stance.desktop.look import Look
from even_stance.judgement.schools import SCHOOLS


class SchoolButton(QToolButton):
    """Shows a school's note in a panel of its own that any click or Escape closes."""

    def __init__(self, look: Look, key: str) -> None:
        super().__init__()
        self._look = look
        self.school = SCHOOLS[key]
        self.setText("Schools…")
        self.setAccessibleName(f"Two schools: {self.school.question}")
        self.setToolTip(self.school.question)
        self.note = QLabel(self.school.words, self, Qt.WindowType.Popup)
        self.note.setWordWrap(True)
        self.note.setObjectName("note")
        self.clicked.connect(self.open)

    def open(self) -> None:
        """Show the note below the button, or above it where there is no room."""
        self.note.setFixedWidth(self._look.px(380))
        self.note.setMargin(self._look.px(12))
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
