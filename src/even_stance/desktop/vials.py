"""The vials: every judged number as a spirit level; the bubble between the marks is good."""

from math import isfinite

from PyQt6.QtCore import QPointF, QRect, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QFontMetrics, QLinearGradient, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QScrollArea, QVBoxLayout, QWidget

from even_stance.desktop.bench import Bench
from even_stance.desktop.look import Look
from even_stance.desktop.widgets.choosable import Choosable
from even_stance.desktop.widgets.labels import PlainLabel, plain_tip
from even_stance.desktop.widgets.paintcache import PaintCache
from even_stance.judgement.bands import PURPOSE_WORDS, band_edges
from even_stance.judgement.verdicts import Verdict
from even_stance.units import HABITS, shown

_LEFT = int(Qt.AlignmentFlag.AlignLeft | Qt.TextFlag.TextWordWrap)
_ROOM = 272  # for words below the tube, at 100 %


class Vial(Choosable):
    """One judged number. Those that are fine stay small; those worth a look, and the selected one, say why."""

    chosen = pyqtSignal(object)

    def __init__(self, look: Look) -> None:
        super().__init__()
        self._look = look
        self.verdict: Verdict | None = None
        self._bench: Bench | None = None
        self._shown_as = ("", "")
        self._cache = PaintCache()
        self.selected = False

    def show_verdict(self, verdict: Verdict, bench: Bench) -> None:
        """Show another verdict."""
        was, selected = self._lines, _looked_at(verdict, bench)
        units = bench.job.units
        shows = (f"{units} {HABITS.decimal_inches} {HABITS.comma}", bench.job.purpose)
        if (verdict, shows, selected) == (self.verdict, self._shown_as, self.selected):
            return
        self.verdict, self._bench, self.selected = verdict, bench, selected
        self._shown_as = shows
        words = f"{verdict.title}: {verdict.reading(units)} {verdict.uncertainty_words(units)}, wanted "
        words += f"{verdict.band_words(units)}. {verdict.sentence}"
        if words != self.accessibleName():
            self.setAccessibleName(words)
            low_high = f"{verdict.figure.value:.3f} {'mm' if verdict.figure.key.endswith('_mm') else ''}"
            signs = "Bubble: the value; as wide as its ±, which is how far off it may be. Two marks: the wanted band."
            self.setToolTip(plain_tip(f"{low_high.strip()}\n{verdict.wanted.reason} ({verdict.wanted.basis})\n{signs}"))
        if was != self._lines:
            self.updateGeometry()
        self.update()

    @property
    def _tall(self) -> bool:
        return self.selected or (self.verdict is not None and self.verdict.state != "inside")

    def sizeHint(self) -> QSize:
        """As high as its words need."""
        return QSize(self._look.px(300), self._look.px(54 + 16 * self._lines))

    @property
    def _lines(self) -> int:
        if not self._tall or self.verdict is None:
            return 0
        return 1 + self._rows(self.verdict.sentence) + self._rows(self._tip, bold=True)

    @property
    def _tip(self) -> str:
        return f"Try: {self.verdict.try_this}" if self.verdict is not None and self.verdict.try_this else ""

    def _rows(self, text: str, bold: bool = False) -> int:
        """How many rows words take below the tube."""
        if not text:
            return 0
        ruler = QFontMetrics(self._look.font(12, bold=bold))
        room = QRect(0, 0, self._look.px(_ROOM), self._look.px(400))
        return max(round(ruler.boundingRect(room, int(_LEFT), text).height() / ruler.lineSpacing()), 1)

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Paint title, value, tube and words."""
        if self.verdict is None or self._bench is None:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        px, look = self._look.px, self._look
        units, verdict, right = self._bench.job.units, self.verdict, self.width() - px(12)
        tube = QRectF(px(12), px(30), right - px(12), px(16))
        spread_px = self._spread_px(self._bench, verdict)
        shows = (
            verdict.title, len(verdict.reading(units)), spread_px, verdict.sentence if self._tall else "",
            verdict.state, self._tip,
            verdict.wanted, units, self._bench.job.purpose, self.selected, self.hasFocus(),
        )  # fmt: skip
        self._cache.put(painter, self, look, shows, lambda p: self._stand(p, tube))
        painter.setFont(look.font(12))
        painter.setPen(look.color("faint"))
        spread = shown(verdict.uncertainty_words(units))
        painter.drawText(right - painter.fontMetrics().horizontalAdvance(spread), px(22), spread)
        painter.setFont(look.font(18, bold=True))
        text = shown(verdict.reading(units))
        painter.setPen(look.color("ink"))
        painter.drawText(right - spread_px - painter.fontMetrics().horizontalAdvance(text), px(23), text)
        self._bubble(painter, tube)
        if self._tall and verdict.try_this:
            painter.setPen(look.color("accent"))
            painter.setFont(look.font(12, bold=True))
            high = px(16 * self._rows(self._tip, bold=True) + 2)
            top = px(50) + self._sentence_px()
            painter.drawText(QRectF(tube.left(), top, px(_ROOM), high), int(_LEFT), shown(self._tip))

    def _spread_px(self, bench: Bench, verdict: Verdict) -> int:
        """How much room the +/- takes right of the value, pixels: of a guess it is a long figure."""
        wide = QFontMetrics(self._look.font(12)).horizontalAdvance(shown(verdict.uncertainty_words(bench.job.units)))
        return max(self._look.px(50), wide + self._look.px(10))

    def _stand(self, painter: QPainter, tube: QRectF) -> None:
        """What does not follow the value: title, glass, marks and words."""
        assert self.verdict is not None
        assert self._bench is not None
        px, look, verdict = self._look.px, self._look, self.verdict
        if self.selected or self.hasFocus():
            painter.setBrush(look.color("sheet"))
            painter.setPen(QPen(look.color("accent"), px(2) if self.hasFocus() else 1.4))
            painter.drawRoundedRect(QRectF(self.rect()).adjusted(2, 2, -2, -2), px(5), px(5))
        painter.setPen(look.color("ink"))
        painter.setFont(look.font(13))
        # The value stands beside it: of a long title the end gives way.
        large = QFontMetrics(look.font(18, bold=True))
        value = large.horizontalAdvance(verdict.reading(self._bench.job.units))
        room = tube.width() - self._spread_px(self._bench, verdict) - px(12) - value
        title = painter.fontMetrics().elidedText(verdict.title, Qt.TextElideMode.ElideRight, round(room))
        painter.drawText(round(tube.left()), px(22), title)
        painter.setPen(QPen(look.color("faint"), 1.2))
        painter.setBrush(look.color("glass"))
        painter.drawRoundedRect(tube, tube.height() / 2, tube.height() / 2)
        if not self._tall:
            return
        y = px(50)
        painter.setFont(look.font(12))
        painter.setPen(look.color("alarm" if verdict.state in ("low", "high") else "ink"))
        painter.drawText(QRectF(tube.left(), y, px(_ROOM), self._sentence_px() + px(2)), _LEFT, shown(verdict.sentence))
        y += self._sentence_px() + px(16 * self._rows(self._tip, bold=True))
        painter.setFont(look.font(12))
        painter.setPen(look.color("faint"))
        for_whom = "your band" if verdict.wanted.own else PURPOSE_WORDS[self._bench.job.purpose]
        words = f"wanted, {for_whom}: {verdict.band_words(self._bench.job.units)}"
        painter.drawText(QRectF(tube.left(), y, tube.width(), px(18)), _LEFT, shown(words))

    def _sentence_px(self) -> int:
        assert self.verdict is not None
        return self._look.px(16 * self._rows(self.verdict.sentence))

    def _bubble(self, painter: QPainter, tube: QRectF) -> None:
        """The bubble where the value is, as wide as its +/-, and the marks before it."""
        assert self.verdict is not None
        look, px = self._look, self._look.px
        radius = tube.height() / 2
        low, high = vial_scale(self.verdict)

        def place(value: float) -> float:
            share = min(max((value - low) / (high - low), 0.0), 1.0)
            return tube.left() + radius + share * (tube.width() - 2 * radius)

        figure = self.verdict.figure
        if not isfinite(figure.value):
            return
        a, b = place(figure.value - figure.uncertainty), place(figure.value + figure.uncertainty)
        middle, half = (a + b) / 2, max((b - a) / 2, px(9))
        middle = (
            min(max(middle, tube.left() + half + 2), tube.right() - half - 2) if half * 2 < tube.width() else middle
        )
        bubble = QRectF(middle - half, tube.top() + px(2), 2 * half, tube.height() - px(4)).intersected(tube)
        shine = QLinearGradient(bubble.topLeft(), bubble.bottomLeft())
        shine.setColorAt(0.0, look.color("sheet" if look.name == "paper" else "bubble"))
        shine.setColorAt(0.55, look.color("bubble"))
        hollow = self.verdict.state == "not_judged"  # seen without color: no bubble, just where one would be
        painter.setBrush(Qt.BrushStyle.NoBrush if hollow else shine)
        style = Qt.PenStyle.DashLine if hollow else Qt.PenStyle.SolidLine
        painter.setPen(QPen(look.color("bubble_edge"), 1.4, style))
        painter.drawRoundedRect(bubble, bubble.height() / 2, bubble.height() / 2)
        painter.setPen(QPen(look.color("ink"), px(2)))
        for mark in (self.verdict.wanted.band.low, self.verdict.wanted.band.high):
            if mark is not None:
                x = place(mark)
                painter.drawLine(QPointF(x, tube.top() - px(3)), QPointF(x, tube.bottom() + px(3)))

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        """Show the focus."""
        super().focusInEvent(event)
        self.update()

    def choose(self) -> None:
        """Look at this number."""
        if self.verdict is not None:
            self.chosen.emit(self.verdict)


def _looked_at(verdict: Verdict, bench: Bench) -> bool:
    """Whether a verdict is the one looked at: a link's, where it has a name of its own."""
    if verdict.name:
        return verdict.name.lower() == bench.build.named.lower()
    return bench.figure == verdict.figure.key


def vial_scale(verdict: Verdict) -> tuple[float, float]:
    """The values at the two ends of a tube: half a band beyond either mark, two bands on the open side of just one."""
    band = verdict.wanted.band
    if band.low is None and band.high is None:
        value = verdict.figure.value
        return value - 1.0, value + 1.0
    low, high = band_edges(band)
    wide = high - low
    return low - (2.0 if band.low is None else 0.5) * wide, high + (2.0 if band.high is None else 0.5) * wide


class Vials(QScrollArea):
    """The vials of the axle looked at, one below the other."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench, self._look = bench, look
        self.setWidgetResizable(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.setAccessibleName("Vials")
        inner = QWidget()
        self._column = QVBoxLayout(inner)
        self._column.setContentsMargins(4, 4, 4, 4)
        self._column.setSpacing(1)
        self.instead = PlainLabel()
        self.instead.setWordWrap(True)
        self.instead.setMargin(look.px(12))
        self._column.addWidget(self.instead)
        self._column.addStretch(1)
        self.setWidget(inner)
        self.vials: list[Vial] = []
        bench.job_changed.connect(self.refresh)
        bench.selection_changed.connect(self.refresh)
        look.changed.connect(self._restyle)

    def refresh(self) -> None:
        """Show the verdicts of the bench."""
        verdicts = self._of_station()
        while len(self.vials) < len(verdicts):
            vial = Vial(self._look)
            vial.chosen.connect(self._choose)
            self._column.insertWidget(len(self.vials), vial)
            self.vials.append(vial)
        self._say_instead(not verdicts)
        for i, vial in enumerate(self.vials):
            vial.setVisible(i < len(verdicts))
            if i < len(verdicts):
                vial.show_verdict(verdicts[i], self._bench)

    def _choose(self, verdict: Verdict) -> None:
        if verdict.name:
            self._bench.build.pick_named(verdict.name)
        else:
            self._bench.explain_figure(verdict.figure.key)

    def _of_station(self) -> list[Verdict]:
        """What is out of band anywhere first, that of the station that is open before all; then its other numbers."""
        bench = self._bench
        if bench.waits:
            return []
        if bench.look_at.station == "build":
            links = bench.build.study
            return list(links.verdicts) if links is not None and bench.build.up_to_date else []
        every, station = bench.verdicts(bench.axle_key), bench.look_at.station
        out = [v for v in every if v.state in ("low", "high")]
        if station == "clearance":  # gaps come after all other numbers, and are what is asked about here
            out.sort(key=lambda v: v.station != station)
        if station == "log" and bench.log.verdicts:
            return bench.log.verdicts
        mine = [v for v in every if v.station == station] or every
        # The number looked at keeps its vial, wherever it belongs.
        looked = [v for v in every if v.figure.key == bench.figure and v not in mine]
        return [*out, *(v for v in [*mine, *looked] if v not in out)]

    def _say_instead(self, nothing: bool) -> None:
        """Why there is no number, and what would bring some."""
        bench = self._bench
        self.instead.setVisible(nothing and not bench.waits)
        if bench.waits:
            return
        error = bench.studies.layout_error(bench.axle_key) if nothing else None
        self.instead.setProperty("role", "alarm" if error else "faint")
        style = self.instead.style()
        if style is not None:
            style.polish(self.instead)
        if bench.look_at.station == "build":
            known = bench.build.up_to_date
            self.instead.setText("Whether links hold is said once they have parts." if known else "Being worked out…")
            return
        empty = f"Nothing to judge on the {bench.axle_key} axle yet: choose a layout in Links."
        self.instead.setText(error or empty)

    def _restyle(self) -> None:
        for vial in self.vials:
            vial.updateGeometry()
            vial.update()
