"""The pages of a station, one at a time, chosen by the buttons at its foot; made when first turned to."""

from collections.abc import Callable, Iterator, Sequence

from PyQt6.QtCore import QEvent, QObject, Qt, pyqtSignal
from PyQt6.QtGui import QKeySequence, QResizeEvent, QShortcut
from PyQt6.QtWidgets import (
    QButtonGroup,
    QHBoxLayout,
    QPushButton,
    QScrollArea,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from even_stance.desktop.background import HAND
from even_stance.desktop.taborder import first_stop


def above(large: QWidget, small: QWidget) -> QWidget:
    """A page of two: one that takes the room there is, and a strip below it."""
    page = QWidget()
    column = QVBoxLayout(page)
    column.setContentsMargins(0, 0, 0, 0)
    column.setSpacing(0)
    column.addWidget(large, 1)
    column.addWidget(small)
    return page


_MOST_KEYS = 10


class SteppedPage(QWidget):
    """A page that is made in steps while nothing else is to do, and to its end when it is turned to before that."""

    def __init__(self) -> None:
        super().__init__()
        self._steps = self.build()

    def build(self) -> Iterator[None]:
        """Make the parts, from top to bottom, with a yield wherever others may come first."""
        raise NotImplementedError

    def ready(self) -> Iterator[None]:
        """The steps not done yet."""
        yield from self._steps

    def finish(self) -> None:
        """Make what is not made yet."""
        for _ in self._steps:
            pass


class Scrolled(QScrollArea):
    """A page that scrolls where the window is too small for it."""

    def __init__(self, page: QWidget) -> None:
        super().__init__()
        self.page = page
        self.setWidgetResizable(True)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.setWidget(page)
        page.installEventFilter(self)

    def refresh(self) -> None:
        """Let the page catch up."""
        refresh = getattr(self.page, "refresh", None)
        if refresh is not None:
            refresh()
        self._fit()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """A narrower page is a higher one."""
        super().resizeEvent(event)
        self._fit()

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        """Other words want other room."""
        if watched is self.page and event is not None and event.type() == QEvent.Type.LayoutRequest:
            self._fit()
        return super().eventFilter(watched, event)

    def _fit(self) -> None:
        """As high as its words need where they wrap at this width: Qt would squeeze them into what one line needs."""
        layout, port = self.page.layout(), self.viewport()
        if layout is not None and port is not None and layout.hasHeightForWidth():
            wide = max(port.width(), layout.minimumSize().width())
            self.page.setMinimumHeight(layout.minimumHeightForWidth(wide))


class Pages(QWidget):
    """A stack of pages with their buttons below.

    Args:
        makers: title and maker of each page; Alt+1, Alt+2 ... Alt+0 turn to them.

    Signals:
        asked: help for the page shown.
    """

    asked = pyqtSignal()

    def __init__(self, makers: Sequence[tuple[str, Callable[[], QWidget]]]) -> None:
        super().__init__()
        self._makers = [make for _, make in makers]
        self.made: dict[int, QWidget] = {}
        self.stack = QStackedWidget()
        self.turned: list[Callable[[int], object]] = []
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.stack, 1)
        self.foot = QHBoxLayout()
        self.foot.setContentsMargins(10, 3, 10, 3)
        self.foot.setSpacing(4)
        column.addLayout(self.foot)
        group = QButtonGroup(self)
        self.buttons: list[QPushButton] = []
        for i, (title, _) in enumerate(makers):
            button = QPushButton(title)
            button.setCheckable(True)
            button.setProperty("page", True)
            if i < _MOST_KEYS:  # the tenth has the key of nought, as on the keyboard
                button.setToolTip(f"Alt+{(i + 1) % _MOST_KEYS}")
                key = QShortcut(QKeySequence(f"Alt+{(i + 1) % _MOST_KEYS}"), self)
                key.activated.connect(lambda i=i: self.go_into(i))
            button.clicked.connect(lambda _=False, i=i: self.turn_to(i))
            group.addButton(button)
            self.foot.addWidget(button)
            self.buttons.append(button)
        self.ask = QPushButton("?")
        self.ask.setProperty("page", True)
        self.ask.setMinimumWidth(30)
        self.ask.setAccessibleName("Help for this page")
        self.ask.setToolTip("Help for this page (F1)")
        self.ask.clicked.connect(lambda _=False: self.asked.emit())
        self.foot.addWidget(self.ask)
        self.foot.addSpacing(8)

    @property
    def current(self) -> int:
        """Which page is shown."""
        shown = self.stack.currentWidget()
        return next((i for i, page in self.made.items() if page is shown), 0)

    def begin(self, index: int) -> QWidget:
        """A page, begun if it was never shown, its steps left to do; what scrolls is seen through."""
        if index not in self.made:
            page = self._makers[index]()
            # Whatever a window has no room for is scrolled to: no page makes the window grow.
            self.made[index] = page if isinstance(page, QScrollArea) else Scrolled(page)
            self.stack.addWidget(self.made[index])
        made = self.made[index]
        return made.page if isinstance(made, Scrolled) else made

    def page(self, index: int) -> QWidget:
        """A page, made to its end if it was never shown."""
        page = self.begin(index)
        if isinstance(page, SteppedPage):
            page.finish()
        return page

    def turn_to(self, index: int) -> None:
        """Show a page."""
        HAND.goes_first()
        self.buttons[index].setChecked(True)
        self.page(index)
        self.stack.setCurrentWidget(self.made[index])
        self.refresh()
        for each in self.turned:
            each(index)

    def go_into(self, index: int) -> None:
        """Show a page and go on with its first field: who came by key goes on by key."""
        self.turn_to(index)
        first = first_stop(self.made[index])
        (first or self.buttons[index]).setFocus(Qt.FocusReason.ShortcutFocusReason)

    def refresh(self) -> None:
        """Let the page that is seen catch up."""
        page = self.stack.currentWidget()
        refresh = getattr(page, "refresh", None)
        if refresh is not None and self.isVisible():
            refresh()
