"""Engine and gearbox: the tail raised by a slider, what marked points come near to, what the crossmember does."""

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF, QWheelEvent
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QLineEdit, QPushButton, QSizePolicy, QSlider, QVBoxLayout, QWidget

from even_stance.desktop.bench import Bench
from even_stance.desktop.bounds import bound
from even_stance.desktop.look import Look
from even_stance.desktop.widgets.fields import Labeled, LengthField
from even_stance.desktop.widgets.labels import PlainLabel, group_head
from even_stance.desktop.widgets.signalblock import blocked
from even_stance.desktop.widgets.sketch import Sketch
from even_stance.desktop.widgets.table import plain_table, set_text
from even_stance.judgement.driveline import guessed_powertrain
from even_stance.judgement.search.evening import rest_low_deg
from even_stance.shop.crossmember import crossmember_words
from even_stance.study.evenness import even_tail
from even_stance.study.powertrain import Gap, gaps, most_tail
from even_stance.study.powerview import power_view
from even_stance.units import format_length, length_step, length_unit
from even_stance.vehicle.driveline import TOWARD_WORDS, Mark
from even_stance.vehicle.edits import raise_mounts, raise_tail, set_marks, set_powertrain
from even_stance.vehicle.records import Point

_REACH_MM = 60.0
_MARK_FIELDS = (("ahead", "Ahead"), ("left", "Left"), ("up", "Up"), ("gap", "Gap"), ("wanted", "Wanted"))


class TailSlider(QSlider):
    """How far the tail is raised, with marks where a gap comes to what is wanted and where the shafts are parallel.

    Signals:
        moved: to how far, mm, and whether the hand is still on it.
    """

    moved = pyqtSignal(float, bool)

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__(Qt.Orientation.Horizontal)
        self._bench, self._look = bench, look
        self.setRange(round(-_REACH_MM), round(_REACH_MM))
        self.valueChanged.connect(lambda mm: self.moved.emit(float(mm), False))  # a screen reader moves it
        self._marks: list[tuple[float, str, bool]] = []
        self._now = 0.0
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("Tail raised by")
        self.setAccessibleDescription("Left and Right lower and raise the tail, Home puts it where it was measured.")

    def sizeHint(self) -> QSize:
        """Wide, with words above and below."""
        return QSize(self._look.px(420), self._look.px(84))

    def show_tail(self, now: float, marks: list[tuple[float, str, bool]]) -> None:
        """Show another height of the tail: marks are places, words, and whether they warn."""
        self._now, self._marks = now, marks
        with blocked(self):
            self.setValue(round(min(max(now, -_REACH_MM), _REACH_MM)))
        self.update()

    def x_of(self, mm: float) -> float:
        """Where a height is on the slider."""
        a, b = self._look.px(40), self.width() - self._look.px(40)
        return a + (mm + _REACH_MM) / (2 * _REACH_MM) * (b - a)

    def _mm(self, x: float) -> float:
        a, b = self._look.px(40), self.width() - self._look.px(40)
        mm = min(max((x - a) / max(b - a, 1) * 2 * _REACH_MM - _REACH_MM, -_REACH_MM), _REACH_MM)
        step = length_step(self._bench.job.units)
        return round(mm / step) * step

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Paint line, ticks, marks and the slider."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        look, px, y = self._look, self._look.px, self.height() * 0.55
        painter.setPen(QPen(look.color("ink"), px(3)))
        painter.drawLine(QPointF(self.x_of(-_REACH_MM), y), QPointF(self.x_of(_REACH_MM), y))
        us = self._bench.job.units == "us"
        step = 12.7 if us else 10.0
        painter.setFont(look.font(12))
        for i in range(-int(_REACH_MM / step), int(_REACH_MM / step) + 1):
            x = self.x_of(i * step)
            painter.setPen(QPen(look.color("faint"), 1))
            painter.drawLine(QPointF(x, y - px(6)), QPointF(x, y + px(6)))
            if i % 2 == 0:
                text = "as it sits" if i == 0 else f"{i * 0.5:+g}" if us else f"{i * 10:+d}"
                painter.drawText(QRectF(x - px(40), y + px(10), px(80), px(18)), Qt.AlignmentFlag.AlignCenter, text)
        for row, (mm, words, warns) in enumerate(self._marks):
            self._mark(painter, QPointF(self.x_of(mm), y), words, warns, row)
        painter.setBrush(look.color("bubble"))
        painter.setPen(QPen(look.color("accent" if self.hasFocus() else "ink"), px(3 if self.hasFocus() else 2)))
        painter.drawEllipse(QPointF(self.x_of(self._now), y), px(11), px(11))

    def _mark(self, painter: QPainter, at: QPointF, words: str, warns: bool, row: int) -> None:
        look, px = self._look, self._look.px
        color = look.color("alarm" if warns else "accent")
        painter.setPen(QPen(color, px(1.5)))
        painter.setBrush(color)
        top = at - QPointF(0, px(12))
        shape = (
            [top + QPointF(-px(5), -px(9)), top + QPointF(px(5), -px(9)), top]
            if warns
            else [top + QPointF(0, -px(10)), top + QPointF(px(5), -px(5)), top, top + QPointF(-px(5), -px(5))]
        )
        painter.drawPolygon(QPolygonF(shape))
        wide = painter.fontMetrics().horizontalAdvance(words)
        x = min(max(at.x() - wide / 2, 2.0), self.width() - wide - 2.0)
        painter.drawText(QPointF(x, at.y() - px(26) if row % 2 == 0 else at.y() + px(38)), words)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Go there."""
        assert event is not None
        self.moved.emit(self._mm(event.position().x()), True)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Slide."""
        assert event is not None
        if event.buttons() & Qt.MouseButton.LeftButton:
            self.moved.emit(self._mm(event.position().x()), True)

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        """A page is scrolled, not the tail raised."""
        if event is not None:
            event.ignore()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """Let go."""
        assert event is not None
        self.moved.emit(self._mm(event.position().x()), False)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Step."""
        assert event is not None
        step = length_step(self._bench.job.units)
        places = {Qt.Key.Key_Left: self._now - step, Qt.Key.Key_Right: self._now + step, Qt.Key.Key_Home: 0.0}
        if event.key() in places:
            self.moved.emit(places[Qt.Key(event.key())], False)
        else:
            super().keyPressEvent(event)


class EnginePage(QWidget):
    """The powertrain on its mounts."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench, self._look = bench, look
        self._shown: tuple[Gap, ...] = ()
        column = QVBoxLayout(self)
        column.setContentsMargins(12, 8, 12, 4)
        top = QHBoxLayout()
        self.words = PlainLabel()
        self.words.setWordWrap(True)
        top.addWidget(self.words, 1)
        self.start = QPushButton("Start from a guess")
        self.start.clicked.connect(lambda: bench.do(set_powertrain(guessed_powertrain(bench.job))))
        self.out = QPushButton("Take it out")
        self.out.clicked.connect(lambda: bench.do(set_powertrain(None)))
        top.addWidget(self.start)
        top.addWidget(self.out)
        column.addLayout(top)
        self.sketch = Sketch(look, "Engine and gearbox from the left")
        bound(self.sketch, look.percent, high=(120, None))
        column.addWidget(self.sketch, 3)
        row = QHBoxLayout()
        row.addWidget(group_head("Raise the tail"))
        self.tail = LengthField(bench, "Tail raised by", lambda mm: bench.do(raise_tail(mm)))
        bound(self.tail, look.percent, wide=(None, 110))
        row.addWidget(self.tail)
        row.addWidget(group_head("engine mounts"))
        self.mounts = LengthField(bench, "Engine mounts raised by", lambda mm: bench.do(raise_mounts(mm)))
        bound(self.mounts, look.percent, wide=(None, 110))
        row.addWidget(self.mounts)
        self.follows = PlainLabel()
        self.follows.setProperty("role", "faint")
        self.follows.setWordWrap(True)
        row.addWidget(self.follows, 1)
        column.addLayout(row)
        self.slider = TailSlider(bench, look)
        self.slider.moved.connect(self._slide)
        column.addWidget(self.slider)
        self.table = plain_table(
            ("Point", "Clears", "As taped", "Now", "Wanted", "Tail may go to"), "Gaps of marked points", wide=0
        )
        bound(self.table, look.percent, high=(110, None))
        column.addWidget(self.table, 3)
        column.addLayout(self._new_mark())

    def _new_mark(self) -> QHBoxLayout:
        bench, row = self._bench, QHBoxLayout()
        self.name, self.clears = QLineEdit(), QLineEdit()
        self.name.setPlaceholderText("idler pulley")
        self.clears.setPlaceholderText("oil cooler")
        for field, title in ((self.name, "Point"), (self.clears, "Must clear")):
            field.setAccessibleName(title)
            field.setMaxLength(80)
        self.toward = QComboBox()
        self.toward.setAccessibleName("Which is")
        for way in TOWARD_WORDS:
            self.toward.addItem(f"{way} it" if way in ("behind", "above", "below") else f"{way} of it", way)
        named = {key: f"Marked point: {title.lower()}" for key, title in _MARK_FIELDS}
        fields = self.mark_fields = {key: LengthField(bench, name, lambda _v: None) for key, name in named.items()}
        row.addWidget(Labeled(bench, "Point", self.name), 3)
        row.addWidget(Labeled(bench, "Must clear", self.clears), 3)
        row.addWidget(Labeled(bench, "which is", self.toward), 2)
        self._units: list[Labeled] = []
        for key, title in _MARK_FIELDS:
            self._units.append(Labeled(bench, title, fields[key], "length"))
            row.addWidget(self._units[-1], 2)
        self.add = QPushButton("Add")
        self.add.clicked.connect(self._add)
        self.drop = QPushButton("Take out")
        self.drop.clicked.connect(self._drop)
        for button in (self.add, self.drop):
            row.addWidget(button)
            row.setAlignment(button, Qt.AlignmentFlag.AlignBottom)
        return row

    def _slide(self, mm: float, held: bool) -> None:
        self._bench.do(raise_tail(mm, merge="drag tail"))
        if not held:
            self._bench.let_go()

    def _add(self) -> None:
        bench, power = self._bench, self._bench.job.vehicle.powertrain
        if power is None:
            bench.refused.emit("Marked point: start the powertrain first.")
            return
        values = {k: f.value for k, f in self.mark_fields.items()}
        lacking = [k for k in ("ahead", "up", "gap") if values[k] is None]
        if not self.name.text().strip() or lacking:
            what = "a name" if not self.name.text().strip() else f"its {lacking[0]}"
            bench.refused.emit(f"Marked point: {what} is missing. Type it, as in 12 1/2.")
            return
        try:
            mark = Mark(
                name=self.name.text().strip(), clears=self.clears.text().strip() or "what is there",
                toward=self.toward.currentData(), gap_mm=values["gap"] or 0.0,
                wanted_mm=12.7 if values["wanted"] is None else values["wanted"],
                at=Point(x=values["ahead"] or 0.0, y=values["left"] or 0.0, z=values["up"] or 0.0),
            )  # fmt: skip
        except ValueError as error:
            bench.refused.emit(f"Marked point: the figures are no place on a car ({error}).")
            return
        if bench.do(set_marks(f"Marked point {mark.name}", (*power.marks, mark))).done:
            self.name.clear()
            self.clears.clear()
            for field in self.mark_fields.values():
                field.clear_typed()

    def _drop(self) -> None:
        power, row = self._bench.job.vehicle.powertrain, self.table.currentRow()
        if power is None or not 0 <= row < len(self._shown):
            self._bench.refused.emit("Marked point: choose one in the table first.")
            return
        name = self._shown[row].mark.name
        self._bench.do(set_marks(f"Take {name} out", tuple(m for m in power.marks if m.name != name)))

    def refresh(self) -> None:
        """Show engine, tail and gaps."""
        bench, job = self._bench, self._bench.job
        power, units, unit = job.vehicle.powertrain, job.units, length_unit(job.units)
        for labeled in self._units:
            labeled.refresh_unit()
        there = power is not None
        for widget in (self.slider, self.tail, self.mounts, self.table, self.out, self.add, self.drop, self.sketch):
            widget.setEnabled(there)
        self.start.setVisible(not there)
        self.out.setVisible(there)
        if power is None:
            self.words.setText(
                "No engine yet. Measure both engine mounts and the gearbox mount (Stance, Measure), or start from a "
                "guess and drag the points on the floor."
            )
            self._shown = ()
            self.table.setRowCount(0)
            self.follows.setText("")
            self.tail.show_mm(None)
            self.mounts.show_mm(None)
            self.slider.show_tail(0.0, [])
            return
        most, first = most_tail(power)

        def length(mm: float) -> str:
            return format_length(mm, units).removeprefix("~")

        said = "No marked point comes to its mark." if most is None else (
            f"The tail may go up {length(most)} {unit}: then {first} comes to its mark."
        )  # fmt: skip
        self.words.setText(said)
        self.follows.setText(crossmember_words(power, units))
        self.tail.show_mm(power.tail_up_mm)
        self.mounts.show_mm(power.mounts_up_mm)
        marks = [] if most is None or most > _REACH_MM else [(most, first, True)]
        even = even_tail(job.vehicle, bench.axle, rest_low_deg(bench.axle)[0])
        if even is not None and abs(even) <= _REACH_MM:
            marks.append((even, f"even {length(even)}", False))
        self.slider.show_tail(power.tail_up_mm, marks)
        self._shown = gaps(power)
        self.table.setRowCount(len(self._shown))
        for i, gap in enumerate(self._shown):
            ends = [f"{length(mm)}" for mm in (gap.least_tail_mm, gap.most_tail_mm) if mm is not None]
            now = f"{length(gap.now_mm)}{' !' if gap.short else ''}"
            cells = (
                gap.mark.name, f"{gap.mark.clears}, {gap.mark.toward}", length(gap.before_mm), now,
                length(gap.mark.wanted_mm), " / ".join(ends) or "any",
            )  # fmt: skip
            for j, cell in enumerate(cells):
                set_text(self.table, i, j, cell, right=j > 1)
        shapes, frame = power_view(job.vehicle, bench.axle)
        self.sketch.show_shapes(shapes, frame)
