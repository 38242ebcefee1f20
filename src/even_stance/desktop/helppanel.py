"""Help: chapters to choose from, words to search, and the text, at the place that is on the screen."""

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QTextCursor, QTextDocument
from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QListWidget, QPushButton, QTextBrowser, QVBoxLayout, QWidget

from even_stance.desktop.look import Look
from even_stance.desktop.widgets.labels import PlainLabel, plain_tip
from even_stance.desktop.widgets.signalblock import blocked
from even_stance.exchange.helptexts import BOOKS, chapter_of, chapters, search

_WIDE = 250


class HelpPanel(QWidget):
    """The help shipped with the program.

    Signals:
        closed: go back to where help was asked for.
    """

    closed = pyqtSignal()

    def __init__(self, look: Look) -> None:
        super().__init__()
        self._look = look
        row = QHBoxLayout(self)
        row.setContentsMargins(14, 10, 14, 10)
        row.setSpacing(12)
        left = QVBoxLayout()
        head = PlainLabel("Help")
        head.setProperty("role", "head")
        left.addWidget(head)
        self.search = QLineEdit()
        self.search.setAccessibleName("Search help")
        self.search.setPlaceholderText("Search: words")
        self.search.textChanged.connect(lambda _: self._list())
        left.addWidget(self.search)
        self.list = QListWidget()
        self.list.setAccessibleName("Chapters")
        self.list.currentRowChanged.connect(self._show_row)
        left.addWidget(self.list, 1)
        self.close_it = QPushButton("Back to work (Esc)")
        self.close_it.setProperty("main", "true")
        self.close_it.clicked.connect(self.closed)
        left.addWidget(self.close_it)
        row.addLayout(left)
        self.text = QTextBrowser()
        self.text.setAccessibleName("Help text")
        self.text.setOpenLinks(False)
        self.text.setTabChangesFocus(True)
        row.addWidget(self.text, 1)
        self._rows: list[int] = []
        look.changed.connect(self._restyle)
        self._list()

    def open_at(self, station: str, page: str = "") -> None:
        """Show the chapter of a station, at what it says of one of its pages."""
        with blocked(self.search):
            self.search.clear()
        self._list()
        self.list.setCurrentRow(chapter_of(station))
        if page:
            self._find(page)
        self.text.setFocus()

    def _list(self) -> None:
        """The chapters, or those that have the words asked for."""
        words, every = self.search.text(), chapters()
        found = search(words) if words.strip() else [(i, "") for i in range(len(every))]
        self._rows = [i for i, _ in found]
        with blocked(self.list):
            self.list.clear()
            for i, line in found:
                title = every[i].title
                self.list.addItem(title if every[i].title == BOOKS[every[i].book] or line else f"    {title}")
                item = self.list.item(self.list.count() - 1)
                if item is not None:
                    item.setToolTip(plain_tip(line or title))
        if found:
            self.list.setCurrentRow(0)
            self._show_row(0)
        else:
            self.text.setMarkdown("Nothing is said with these words. Try one of them alone.")

    def _show_row(self, row: int) -> None:
        if not 0 <= row < len(self._rows):
            return
        self.text.document().setDefaultFont(self._look.font(14))  # type: ignore[union-attr]
        self.text.setMarkdown(chapters()[self._rows[row]].text)
        words = self.search.text().split()
        if words:
            self._find(words[0])

    def _find(self, words: str) -> None:
        """Bring a word into sight, at the top where it can be."""
        self.text.moveCursor(QTextCursor.MoveOperation.Start)
        if self.text.find(words, QTextDocument.FindFlag.FindCaseSensitively) or self.text.find(words):
            bar = self.text.verticalScrollBar()
            if bar is not None:
                bar.setValue(bar.value() + self.text.cursorRect().top() - self._look.px(8))

    def _restyle(self) -> None:
        self._show_row(self.list.currentRow())
        self.list.setFixedWidth(self._look.px(_WIDE))

    def showEvent(self, _event: object) -> None:
        """As wide as the look wants it."""
        self.list.setFixedWidth(self._look.px(_WIDE))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Escape goes back."""
        assert event is not None
        if event.key() == Qt.Key.Key_Escape:
            self.closed.emit()
        else:
            super().keyPressEvent(event)
