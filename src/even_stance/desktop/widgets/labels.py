"""Small words on the screen that look alike everywhere."""

from collections.abc import Sequence
from html import escape

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QLabel, QSizePolicy, QWidget

from even_stance.units import shown

ABOUT = "~  to the nearest mark of a tape: the true length lies a little beside it"
_APART = "    "


class PlainLabel(QLabel):
    """A label that shows words as they are: what a person typed is never taken for markup."""

    def __init__(self, text: str = "", parent: QWidget | None = None) -> None:
        super().__init__(shown(text), parent)
        self.setTextFormat(Qt.TextFormat.PlainText)

    def setText(self, text: str | None) -> None:
        """Say something, decimals as the person reads them."""
        super().setText(shown(text or ""))


def plain_tip(text: str) -> str:
    """A tip that shows words as they are, decimals as the person reads them: Qt would take some for markup."""
    text = shown(text)
    return f"<p style='white-space:pre-wrap'>{escape(text)}</p>" if "<" in text else text


def group_head(text: str) -> QLabel:
    """The head of a group of things."""
    label = PlainLabel(text)
    label.setProperty("role", "group")
    return label


def faint_words(text: str) -> QLabel:
    """A hint or caution beside the matter, wrapped."""
    label = PlainLabel(text)
    label.setProperty("role", "faint")
    label.setWordWrap(True)
    return label


class FittedWords(PlainLabel):
    """One faint line of several remarks: as many as fit whole, from the first on."""

    def __init__(self) -> None:
        super().__init__()
        self.setProperty("role", "faint")
        self.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        self._parts: list[str] = []

    def say(self, parts: Sequence[str]) -> None:
        """Show these remarks."""
        if list(parts) != self._parts:
            self._parts = list(parts)
            # A single remark is what is wrong: it is never cut but goes on below.
            self.setWordWrap(len(self._parts) == 1)
            self._fit()

    def resizeEvent(self, _event: QResizeEvent | None) -> None:
        """Fit anew."""
        self._fit()

    def _fit(self) -> None:
        ruler, count = self.fontMetrics(), len(self._parts)
        while count > 1 and ruler.horizontalAdvance(_APART.join(self._parts[:count])) > self.width():
            count -= 1
        text = _APART.join(self._parts[:count])
        cut = len(self._parts) > 1
        self.setText(ruler.elidedText(text, Qt.TextElideMode.ElideRight, self.width()) if cut else text)
