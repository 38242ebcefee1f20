"""A slip: a few fields over the window that belong to one change, made at once or not at all."""

from collections.abc import Callable

from PyQt6.QtWidgets import QDialog, QFormLayout, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from even_stance.desktop.widgets.fields import NumberField
from even_stance.desktop.widgets.labels import PlainLabel


class Slip(QDialog):
    """Fields with a button that makes the change; Escape leaves everything as it was.

    Args:
        parent: over what it lies; title: what it is about; verb: what its button says.
        make: makes the change; what was wrong with it, or nothing said where it was made.
    """

    def __init__(self, parent: QWidget, title: str, verb: str, make: Callable[[], str]) -> None:
        super().__init__(parent)
        self.setWindowTitle(title)
        self._make = make
        self.finished.connect(self.deleteLater)
        column = QVBoxLayout(self)
        self._form = QFormLayout()
        column.addLayout(self._form)
        self.problem = PlainLabel()
        self.problem.setProperty("role", "alarm")
        self.problem.setWordWrap(True)
        self.problem.hide()
        column.addWidget(self.problem)
        self.go, leave = QPushButton(verb), QPushButton("Leave it")
        self.go.setProperty("main", "true")
        self.go.setDefault(True)
        self.go.clicked.connect(self.take)
        leave.clicked.connect(self.reject)
        buttons = QHBoxLayout()
        buttons.addStretch(1)
        buttons.addWidget(leave)
        buttons.addWidget(self.go)
        column.addLayout(buttons)
        self._fields: list[NumberField] = []

    def row(self, title: str, widget: QWidget) -> None:
        """Another line of it."""
        label = PlainLabel(title)
        label.setBuddy(widget)
        if not widget.accessibleName():
            widget.setAccessibleName(title)
        self._form.addRow(label, widget)
        if isinstance(widget, NumberField):
            widget.complaint = self.complain
            self._fields.append(widget)

    def complain(self, problem: str) -> None:
        """Say what is wrong, or that nothing is any more."""
        self.problem.setText(problem)
        self.problem.setVisible(bool(problem))

    def take(self) -> None:
        """Read what was typed and make the change; stay where something is wrong with it."""
        for field in self._fields:
            field.commit()
            if field.property("wrong"):
                return
        problem = self._make()
        self.complain(problem)
        if not problem:
            self.accept()
