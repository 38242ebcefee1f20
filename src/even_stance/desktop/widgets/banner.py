"""One line across the window for what must be told: refusals, recovery, changes from outside. Never a dialog."""

from collections.abc import Callable

from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QWidget

from even_stance.desktop.widgets.labels import PlainLabel


class Banner(QWidget):
    """A message with the things that can be done about it."""

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("strip")
        self._row = QHBoxLayout(self)
        self._row.setContentsMargins(14, 6, 14, 6)
        self.words = PlainLabel()
        self.words.setWordWrap(True)
        self.words.setProperty("role", "alarm")
        self._row.addWidget(self.words, 1)
        self.buttons: list[QPushButton] = []
        self.hide()

    def tell(self, text: str, *actions: tuple[str, Callable[[], object]]) -> None:
        """Show a message; every action also closes it, and it can just be closed."""
        for button in self.buttons:
            self._row.removeWidget(button)
            button.deleteLater()
        self.buttons = []
        self.words.setText(text)
        self.setAccessibleName(text)
        for title, action in (*actions, ("Close", self.hide)):
            button = QPushButton(title)
            button.clicked.connect(lambda _=False, action=action: self._done(action))
            self._row.addWidget(button)
            self.buttons.append(button)
        self.show()

    def _done(self, action: Callable[[], object]) -> None:
        self.hide()
        action()
