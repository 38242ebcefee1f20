"""Small words on the screen that look alike everywhere."""

from PyQt6.QtWidgets import QLabel


def group_head(text: str) -> QLabel:
    """The head of a group of things."""
    label = QLabel(text)
    label.setProperty("role", "group")
    return label


def faint_words(text: str) -> QLabel:
    """A hint or caution beside the matter, wrapped."""
    label = QLabel(text)
    label.setProperty("role", "faint")
    label.setWordWrap(True)
    return label
