"""A picture that can be taken hold of: to screen readers a button with a name and what is in it."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QAbstractButton, QSizePolicy


class Painted(QAbstractButton):
    """A widget that paints itself and hears mouse and keys itself, known to screen readers as something to press.

    Subclasses paint it, and hear `clicked` where pressing it means something.
    """

    def __init__(self) -> None:
        super().__init__()
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Preferred)
