"""The why strip: behind the selected number its formula and figures, what moves it, and what to try."""

from PyQt6.QtCore import QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QSizePolicy, QToolButton, QVBoxLayout, QWidget

from even_stance.desktop.background import LateStudy
from even_stance.desktop.bench import Bench
from even_stance.desktop.look import Look
from even_stance.desktop.pages import Scrolled
from even_stance.desktop.widgets.labels import PlainLabel, group_head, plain_tip
from even_stance.judgement.bands import wanted
from even_stance.judgement.explain import Explanation, explain, explain_beams
from even_stance.judgement.search.movers import Mover
from even_stance.judgement.search.suggestions import Advice, Suggestion, advise, advise_beams
from even_stance.judgement.verdicts import format_judged, format_value, still_out
from even_stance.study.beams import beams_of
from even_stance.units import System

_HEIGHT = 188
NBSP = "\N{NO-BREAK SPACE}"  # a figure and its unit stay on one line


class MoverBars(QWidget):
    """What moves the number, as bars to the left (less) and right (more) of a middle line."""

    def __init__(self, look: Look) -> None:
        super().__init__()
        self._look = look
        self._movers: tuple[Mover, ...] = ()
        self._key = ""
        self._units: System = "us"
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)

    def sizeHint(self) -> QSize:
        """Room for five bars."""
        return QSize(self._look.px(250), self._look.px(130))

    def show_movers(self, movers: tuple[Mover, ...], key: str, units: System) -> None:
        """Show other bars."""
        self._movers, self._key, self._units = movers, key, units
        said = [f"{m.words}, per {m.per}: {self._change(m)}" for m in movers]
        self.setAccessibleName("What moves it. " + "; ".join(said))
        self.setToolTip(plain_tip("\n".join(said)))
        self.update()

    def _change(self, mover: Mover) -> str:
        text = format_value(self._key, abs(mover.change), self._units)
        return f"{'+' if mover.change >= 0 else '-'}{text}"

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Paint the bars."""
        if not self._movers:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        look, px = self._look, self._look.px
        row = min(self.height() / len(self._movers), px(30))
        half = max(self.width() * 0.13, px(46))
        middle = self.width() - half - px(2)
        largest = max(abs(m.change) for m in self._movers) or 1.0
        words_room = middle - half - px(6)
        for i, mover in enumerate(self._movers):
            y = i * row
            upper, lower = QRectF(0, y, words_room, row * 0.52), QRectF(0, y + row * 0.52, words_room, row * 0.44)
            painter.setFont(look.font(12))
            painter.setPen(look.color("faint"))
            painter.drawText(lower, int(Qt.AlignmentFlag.AlignVCenter), f"per {mover.per}")
            painter.setFont(look.font(12))
            painter.setPen(look.color("ink"))
            shown = painter.fontMetrics().elidedText(mover.words, Qt.TextElideMode.ElideMiddle, int(words_room))
            painter.drawText(upper, int(Qt.AlignmentFlag.AlignVCenter), shown)
            wide = half * abs(mover.change) / largest
            bar = QRectF(middle if mover.change >= 0 else middle - wide, y + row * 0.2, wide, row * 0.6)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(look.color("accent" if mover.change >= 0 else "upper"))
            painter.drawRect(bar)
            change = self._change(mover)
            room = painter.fontMetrics().horizontalAdvance(change)
            painter.setPen(look.color("ink"))
            # The figure stands on the empty side of its bar.
            x = middle - room - px(4) if mover.change >= 0 else middle + px(4)
            painter.drawText(QRectF(x, y, room + px(2), row), int(Qt.AlignmentFlag.AlignVCenter), change)
        painter.setPen(QPen(look.color("faint"), 1))
        painter.drawLine(int(middle), 0, int(middle), int(row * len(self._movers)))


class ExplainStrip(QWidget):
    """Opens when a vial is chosen; worked out beside the window, so that nothing waits for it.

    Signals:
        shown: an explanation has arrived.
    """

    shown = pyqtSignal()

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench, self._look = bench, look
        self.explanation: Explanation | None = None
        self.advice: Advice | None = None
        self._asked: tuple[object, ...] = ()
        self.setObjectName("strip")
        self.late = LateStudy(self)
        self.late.done.connect(self._arrived)
        row = QHBoxLayout(self)
        row.setContentsMargins(12, 6, 8, 6)
        row.setSpacing(16)
        self.title, self.formula, self.values = PlainLabel(), PlainLabel(), PlainLabel()
        self.title.setProperty("role", "group")
        self.formula.setProperty("role", "faint")
        self.values.setProperty("role", "faint")
        for label in (self.formula, self.values):
            label.setWordWrap(True)
        row.addLayout(self._left(), 6)
        middle = QVBoxLayout()
        middle.addWidget(group_head("What moves it"))
        self.bars = MoverBars(look)
        middle.addWidget(self.bars, 1)
        row.addLayout(middle, 5)
        self._right = QVBoxLayout()
        self._right.setSpacing(3)
        top = QHBoxLayout()
        self.try_head = group_head("What to try")
        top.addWidget(self.try_head, 1)
        close = QToolButton()
        close.setText("×")
        close.setAccessibleName("Close the explanation")
        close.clicked.connect(lambda: bench.set_why(False))
        top.addWidget(close)
        self._right.addLayout(top)
        self.conflict = PlainLabel()
        self.conflict.setWordWrap(True)
        self.conflict.setProperty("role", "faint")
        self._right.addWidget(self.conflict)
        self.tries: list[QPushButton] = []
        self._right.addStretch(1)
        row.addLayout(self._right, 7)
        self.setFixedHeight(look.px(_HEIGHT))
        look.changed.connect(lambda: self.setFixedHeight(look.px(_HEIGHT)))
        self.hide()

    def _left(self) -> QVBoxLayout:
        """What the number is and where it comes from; it scrolls where large type leaves no room."""
        left = QVBoxLayout()
        left.setSpacing(2)
        left.addWidget(self.title)
        words = QWidget()
        lines = QVBoxLayout(words)
        lines.setContentsMargins(0, 0, 4, 0)
        lines.setSpacing(2)
        for label in (self.formula, self.values):
            lines.addWidget(label)
        lines.addStretch(1)
        left.addWidget(Scrolled(words), 1)
        return left

    def refresh(self) -> None:
        """Ask anew when the number, the car or the posture changed."""
        bench = self._bench
        study, key, axle = bench.study(bench.axle_key), bench.figure, bench.axle
        beams = study is None and beams_of(axle) is not None
        self.setVisible(bench.look_at.why and (study is not None or beams) and key is not None)
        if (study is None and not beams) or key is None or not bench.look_at.why:
            return
        job, of = bench.job, axle if study is None else study
        now = (of, key, job.units, job.bands, job.purpose)
        if now[1:] == self._asked[1:] and self._asked and self._asked[0] is of:
            return
        self._asked = now
        if study is not None:
            self.late.ask(lambda: (explain(job, study, key), advise(job, study, key)))
        else:
            self.late.ask(lambda: (explain_beams(job, axle, key), advise_beams(job, axle, key)))

    def _arrived(self, found: object) -> None:
        self.explanation, self.advice = found if isinstance(found, tuple) else (None, None)
        if self.explanation is None:
            self._empty("" if isinstance(found, tuple) else str(found))
        self._show()
        self.shown.emit()

    def _empty(self, reason: str) -> None:
        """Nothing to explain: say why, and leave nothing of the number before."""
        self.title.setText("No such number at this posture")
        self.formula.setText(reason or "The axle cannot reach this posture, or this axle has no such number.")
        self.values.setText("")
        self.conflict.setText("")
        self.bars.show_movers((), "", self._bench.job.units)
        self._clear_tries()

    def _clear_tries(self) -> bool:
        """Take the buttons away; whether one of them had the focus."""
        held = any(button.hasFocus() for button in self.tries)
        for button in self.tries:
            self._right.removeWidget(button)
            button.deleteLater()
        self.tries = []
        return held

    def _show(self) -> None:
        why, units = self.explanation, self._bench.job.units
        key = self._bench.figure
        if why is None or key is None:
            return
        self.title.setText(f"{why.title}  {why.reading}")
        self.formula.setText(f"{why.formula.words} ({why.formula.source}.) {why.drawn_differs}".strip())
        went_in = [f"{one.name}: {one.words.replace(' ', NBSP)}" for one in why.went_in]
        self.values.setText("   ".join(went_in))
        self.formula.setToolTip(plain_tip(self.formula.text()))
        self.bars.show_movers(why.movers, key, units)
        held = self._clear_tries()
        advice = self.advice
        suggestions = () if advice is None else advice.suggestions
        self.conflict.setText((advice.conflict if advice else "") or ("" if suggestions else "It is in its band."))
        self.conflict.setVisible(bool(self.conflict.text()))
        for n, suggestion in enumerate(suggestions[: 3 if self.conflict.text() else 4]):
            self._right.insertWidget(2 + n, self._button(suggestion, units))
        if held:  # by keyboard one goes on where one was
            (self.tries[0] if self.tries else self.bars).setFocus()

    def _button(self, suggestion: Suggestion, units: System) -> QPushButton:
        band = wanted(self._bench.job, suggestion.key, self._bench.axle_key).band
        after = format_judged(suggestion.key, suggestion.change.after, band, units)
        after += still_out(suggestion.change.after, band)
        harms = ", ".join(c.words(units) for c in suggestion.harms)
        text = f"{after}   {suggestion.words}" + (", but others go out" if suggestion.harms else "")
        button = QPushButton(text)
        button.setProperty("left", True)
        button.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
        others = "\n".join(c.words(units) for c in suggestion.others)
        button.setToolTip(plain_tip(f"Try it as a variant.\nAlso: {others or 'nothing else to speak of'}"))
        button.setAccessibleName(f"Try {text}. {harms}")
        button.clicked.connect(lambda _=False, s=suggestion: self._bench.try_as_variant(s.edit, s.words))
        self.tries.append(button)
        return button
