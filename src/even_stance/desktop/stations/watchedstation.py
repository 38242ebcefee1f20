"""What stations share whose answers are worked out beside the window while they are looked at."""

from collections.abc import Callable, Sequence
from typing import Protocol

from PyQt6.QtCore import pyqtBoundSignal
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from even_stance.desktop.bench import Bench
from even_stance.desktop.pages import Pages
from even_stance.desktop.widgets.labels import FittedWords, plain_tip


class Watch(Protocol):
    """What works the answers out: it is told whether they are looked at, and tells when more is known."""

    changed: pyqtBoundSignal

    def look(self, eager: bool) -> None:
        """Say whether its answers are being looked at just now."""


class WatchedStation(QWidget):
    """Pages that scroll, and words at the foot; its watch is at work while it is seen.

    Args:
        bench: what it shows and sends edits to.
        watch: what works its answers out.
        pages: title and maker of each page.
    """

    def __init__(self, bench: Bench, watch: Watch, pages: Sequence[tuple[str, Callable[[], QWidget]]]) -> None:
        super().__init__()
        self._bench, self._watch = bench, watch
        self.pages = Pages(pages)
        self.words = FittedWords()
        self.pages.foot.addWidget(self.words, 1)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.pages, 1)
        self.pages.turn_to(0)
        bench.job_changed.connect(self.refresh)
        watch.changed.connect(self.refresh)

    def turn_to(self, page: int) -> None:
        """Show one of the pages."""
        self.pages.turn_to(page)

    def showEvent(self, _event: object) -> None:
        """Work it out while it is looked at."""
        self._watch.look(eager=True)
        self.refresh()

    def hideEvent(self, _event: object) -> None:
        """Another station is looked at."""
        self._watch.look(eager=False)

    def refresh(self) -> None:
        """Show the page and the words at the foot."""
        if not self.isVisible():
            return
        self.pages.refresh()
        parts = self.said()
        self.words.say(parts)
        self.words.setToolTip(plain_tip("\n".join(parts)))

    def said(self) -> list[str]:
        """What matters most here, for the foot."""
        raise NotImplementedError
