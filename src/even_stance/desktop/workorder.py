"""The work order: the stations in the order of the work, each with what is missing or worth a look."""

from collections.abc import Sequence
from typing import Protocol

from PyQt6.QtCore import QPointF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPaintEvent, QPen, QResizeEvent
from PyQt6.QtWidgets import QSizePolicy, QVBoxLayout, QWidget

from even_stance.desktop.bench import Bench
from even_stance.desktop.document import Document
from even_stance.desktop.look import Look
from even_stance.desktop.widgets.badge import draw_badge
from even_stance.desktop.widgets.choosable import Choosable
from even_stance.desktop.widgets.labels import plain_tip
from even_stance.judgement.findings import Finding, Severity

_RANK: dict[Severity, int] = {"stop": 0, "missing": 1, "look": 2, "not_judged": 3, "not_looked": 4}


_STRIP_WIDTH, _ONE_LINE, _TWO_LINES, _LEGEND_LINE = 52, 26, 50, 16


class Named(Protocol):
    """A station as far as the work order is concerned."""

    @property
    def key(self) -> str:
        """Its name in findings."""

    @property
    def title(self) -> str:
        """What it is called."""


class StationButton(Choosable):
    """One station, with a shape for its state."""

    chosen = pyqtSignal()

    def __init__(self, look: Look, name: Named, number: int) -> None:
        super().__init__()
        self._look, self._name, self._number = look, name, number
        self._findings: list[Finding] = []
        self._known = False
        self.current = False
        self.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Preferred)

    def sizeHint(self) -> QSize:
        """Room for two lines."""
        return QSize(self._look.px(150), self._look.px(60))

    def minimumSizeHint(self) -> QSize:
        """Room for the shape and the figure."""
        return QSize(self._look.px(_STRIP_WIDTH), self._look.px(_ONE_LINE))

    def show_findings(self, findings: list[Finding] | None, current: bool) -> None:
        """Show what the station says; nothing is said while that is not known yet."""
        known = findings is not None
        mine = sorted((f for f in findings or () if f.station == self._name.key), key=lambda f: _RANK[f.severity])
        if (mine, known, current) == (self._findings, self._known, self.current) and self.accessibleName():
            return
        self._findings, self._known, self.current = mine, known, current
        self.setAccessibleName(f"{self._name.title}: {self.words}" if known else self._name.title)
        shape = _MEANS[mine[0].severity if mine else None].capitalize() if known else self._name.title
        self.setToolTip(plain_tip("\n".join((f"{shape} (Ctrl+{self._number})", *(f.sentence for f in mine[:6])))))
        self.update()

    @property
    def words(self) -> str:
        """The state in two or three words."""
        if not self._findings:
            return "nothing to look at" if self._known else ""
        count = len(self._findings)
        return self._findings[0].short if count == 1 else f"{count} to look at"

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Paint shape, title and words."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        px, look = self._look.px, self._look
        if self.current:
            painter.fillRect(self.rect(), look.color("floor"))
            painter.fillRect(0, 0, px(4), self.height(), look.color("accent"))
        severity = self._findings[0].severity if self._findings else None
        two = self.height() >= px(_TWO_LINES)  # a low window shows the title alone, a narrow one the shape and figure
        base = px(27) if two else (self.height() + px(10)) // 2
        if self._known:
            draw_badge(painter, look, QPointF(px(18 if self.narrow else 24), base - px(5)), severity)
        if self.narrow:
            painter.setFont(look.font(13, bold=self.current))
            painter.setPen(look.color("ink"))
            painter.drawText(px(34), base, str(self._number))
            self._frame(painter)
            return
        painter.setFont(look.font(15, bold=self.current))
        painter.setPen(look.color("ink"))
        painter.drawText(px(42), base, self._name.title)
        painter.setFont(look.font(12))
        if two:
            painter.setPen(look.color("alarm" if severity == "stop" else "faint"))
            words = painter.fontMetrics().elidedText(self.words, Qt.TextElideMode.ElideRight, self.width() - px(46))
            painter.drawText(px(42), px(45), words)
        painter.setPen(look.color("faint"))
        painter.drawText(self.width() - px(18), base, str(self._number))
        self._frame(painter)

    @property
    def narrow(self) -> bool:
        """Whether there is room just for the shape and the figure."""
        return self.width() < self._look.px(100)

    def _frame(self, painter: QPainter) -> None:
        if self.hasFocus():
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(self._look.color("accent"), 2))
            painter.drawRect(self.rect().adjusted(1, 1, -1, -1))

    def choose(self) -> None:
        """Tell that it was chosen."""
        self.chosen.emit()


_LEGEND: tuple[tuple[Severity | None, str], ...] = (
    (None, "nothing to look at"),
    ("look", "worth a look"),
    ("missing", "not entered yet"),
    ("not_looked", "not looked at yet"),
    ("stop", "cannot work so"),
)


_MEANS = dict(_LEGEND) | {"not_judged": "not judged yet"}


class Legend(QWidget):
    """What the shapes of the stations mean."""

    def __init__(self, look: Look) -> None:
        super().__init__()
        self._look = look
        self.setAccessibleName("Shapes: " + "; ".join(words for _, words in _LEGEND))
        self.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Fixed)

    def sizeHint(self) -> QSize:
        """A line for each shape."""
        return QSize(self._look.px(150), self._look.px(_LEGEND_LINE * len(_LEGEND) + 6))

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Paint shapes and words."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        px = self._look.px
        for i, (severity, words) in enumerate(_LEGEND):
            y = px(11 + _LEGEND_LINE * i)
            draw_badge(painter, self._look, QPointF(px(24), y), severity, 5)
            painter.setFont(self._look.font(12))
            painter.setPen(self._look.color("faint"))
            painter.drawText(QPointF(px(42), y + px(4)), words)


class WorkOrder(QWidget):
    """The column of stations."""

    chosen = pyqtSignal(str)

    def __init__(self, bench: Bench, look: Look, stations: Sequence[Named]) -> None:
        super().__init__()
        self._bench = bench
        self._document: Document | None = None  # whose findings are shown
        self.setObjectName("page")
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 8, 0, 8)
        column.setSpacing(2)
        self.buttons = {s.key: StationButton(look, s, i + 1) for i, s in enumerate(stations)}
        for key, button in self.buttons.items():
            button.chosen.connect(lambda key=key: self.chosen.emit(key))
            column.addWidget(button)
        column.addStretch(1)
        self.legend = Legend(look)
        column.addWidget(self.legend)
        bench.judging.done.connect(self._judged)
        bench.selection_changed.connect(self.refresh)
        look.changed.connect(self.updateGeometry)
        self.refresh()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """The legend gives its room to the stations where there is little."""
        super().resizeEvent(event)
        button = next(iter(self.buttons.values()))
        least = len(self.buttons) * (button.sizeHint().height() + 2) + self.legend.sizeHint().height() + 16
        self.legend.setVisible(self.height() >= least and not button.narrow)

    def refresh(self) -> None:
        """Show the findings of the bench, those of another job once it is judged, and which station is open."""
        known = self._bench.document is self._document and not self._bench.waits
        findings = self._bench.findings() if known else None
        for key, button in self.buttons.items():
            here = key == self._bench.look_at.station
            button.show_findings(findings, here)
            # One stop for Tab: up and down go from station to station.
            button.setFocusPolicy(Qt.FocusPolicy.StrongFocus if here else Qt.FocusPolicy.ClickFocus)

    def _judged(self) -> None:
        self._document = self._bench.document
        self.refresh()
