"""The travel rail: from full droop to full bump, both wheels together or each by itself."""

from collections.abc import Callable

from PyQt6.QtCore import QLineF, QPointF, QRectF, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QWheelEvent
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QPushButton, QSizePolicy, QSlider, QVBoxLayout, QWidget

from even_stance.desktop.bench import Bench
from even_stance.desktop.bounds import bound
from even_stance.desktop.look import Look
from even_stance.desktop.steerline import SteerControls
from even_stance.desktop.widgets.cycling import CYCLE_FRAMES, CYCLE_MS, there_and_back
from even_stance.desktop.widgets.fields import LengthField, NumberField
from even_stance.desktop.widgets.labels import PlainLabel, plain_tip
from even_stance.desktop.widgets.signalblock import blocked
from even_stance.judgement.springs import rail_words
from even_stance.study.beamanswers import beam_words
from even_stance.study.loads import CASES
from even_stance.study.model import swing_limits
from even_stance.study.steeranswers import steer_words, turned_words
from even_stance.study.travel import worst_swing
from even_stance.units import format_length, length_unit, parse_number
from even_stance.vehicle.posture import CarPosture


class RailLine(QSlider):
    """The rail itself: one slider for both wheels, one for each once crossed up, and marks at the worst postures.

    Signals:
        moved: both wheels to a mean travel, mm; wheel_moved: one wheel (0 left, 1 right) to a travel, mm.
    """

    moved = pyqtSignal(float)
    wheel_moved = pyqtSignal(int, float)

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__(Qt.Orientation.Horizontal)
        self._bench, self._look = bench, look
        self._held: int | None = None  # the wheel whose slider the mouse has
        self.valueChanged.connect(lambda mm: self.moved.emit(float(mm)))  # a screen reader moves it
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("Travel of both wheels")
        self.setAccessibleDescription("Left and right keys move, Home is ride height, Page Down droop, Page Up bump.")

    def sizeHint(self) -> QSize:
        """Wide."""
        return QSize(self._look.px(400), self._look.px(70))

    def show_posture(self) -> None:
        """Say to screen readers where the axle is, mm."""
        axle, now = self._bench.axle, self._bench.posture
        with blocked(self):
            self.setRange(round(-axle.droop_mm), round(axle.bump_mm))
            mean = (now.left_mm + now.right_mm) / 2
            self.setValue(round(min(max(mean, -axle.droop_mm), axle.bump_mm)))

    def _ends(self) -> tuple[float, float]:
        return self._look.px(34), self.width() - self._look.px(34)

    def _x(self, mm: float) -> float:
        axle = self._bench.axle
        a, b = self._ends()
        span = max(axle.bump_mm + axle.droop_mm, 1e-6)
        return a + (mm + axle.droop_mm) / span * (b - a)

    def travel_at(self, x: float) -> float:
        """The travel at a place of the rail, mm; ride height catches the slider."""
        axle = self._bench.axle
        a, b = self._ends()
        share = min(max((x - a) / max(b - a, 1.0), 0.0), 1.0)
        mm = -axle.droop_mm + share * (axle.bump_mm + axle.droop_mm)
        return 0.0 if abs(self._x(mm) - self._x(0.0)) < self._look.px(5) else mm

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Paint rail, ticks, marks and slider."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        look, px, axle = self._look, self._look.px, self._bench.axle
        y = self.height() / 2
        a, b = self._ends()
        painter.setPen(QPen(look.color("ink"), px(3)))
        painter.drawLine(QPointF(a, y), QPointF(b, y))
        self._ticks(painter, y)
        self._marks(painter, y)
        self._stops(painter, y)
        for x, letter in self._sliders():
            painter.setBrush(look.color("bubble"))
            painter.setPen(QPen(look.color("accent" if self.hasFocus() else "ink"), px(3 if self.hasFocus() else 2)))
            painter.drawEllipse(QPointF(x, y), px(11), px(11))
            painter.setPen(look.color("bubble_letter"))
            painter.setFont(look.font(12, bold=True))
            painter.drawText(QRectF(x - px(11), y - px(11), px(22), px(22)), Qt.AlignmentFlag.AlignCenter, letter)
        painter.setPen(look.color("ink"))
        if axle.bump_mm + axle.droop_mm == 0:
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, "no travel entered in Stance")

    def _sliders(self) -> list[tuple[float, str]]:
        """Where the sliders are: one while both wheels are about alike, else R and L."""
        now = self._bench.posture
        left, right = self._x(now.left_mm), self._x(now.right_mm)
        if abs(left - right) < self._look.px(12):
            return [((left + right) / 2, "")]
        return [(right, "R"), (left, "L")]

    def _ticks(self, painter: QPainter, y: float) -> None:
        look, px, axle, units = self._look, self._look.px, self._bench.axle, self._bench.job.units
        step = 25.4 if units == "us" else 25.0
        low, high = self._ends()
        span = max(axle.bump_mm + axle.droop_mm, 1e-6)
        while step < span and (high - low) * step / span < px(30):  # so far apart that their figures do not touch
            step *= 2
        painter.setFont(look.font(12))
        painter.setPen(QPen(look.color("faint"), 1))
        places = [(i, self._x(i * step)) for i in range(-int(axle.droop_mm / step), int(axle.bump_mm / step) + 1)]
        painter.drawLines(*(QLineF(x, y - px(7), x, y + px(7)) for _, x in places))
        for i, x in places:
            if i and min(abs(x - low), abs(x - high)) > px(46):
                self._centered(
                    painter, x, y + px(24), f"{i * step / 25.4:+.0f}" if units == "us" else f"{i * step:+.0f}"
                )
        painter.setPen(look.color("ink"))
        self._centered(painter, self._x(0.0), y + px(24), "ride")
        self._centered(painter, self._x(-axle.droop_mm), y + px(24), f"droop {format_length(axle.droop_mm, units)}")
        self._centered(painter, self._x(axle.bump_mm), y + px(24), f"bump {format_length(axle.bump_mm, units)}")

    def _marks(self, painter: QPainter, y: float) -> None:
        """Lock-up and the worst joint swing, where they occur."""
        study = self._bench.study(self._bench.axle_key)
        if study is None:
            return
        look, px, axle = self._look, self._look.px, self._bench.axle
        painter.setPen(QPen(look.color("alarm"), px(2)))
        painter.setFont(look.font(12))
        for free, way in ((study.travel.free_bump_mm, 1.0), (study.travel.free_droop_mm, -1.0)):
            if free < (axle.bump_mm if way > 0 else axle.droop_mm) - 1e-6:
                x = self._x(free * way)
                painter.drawLine(QPointF(x, y - px(14)), QPointF(x, y + px(14)))
                self._centered(painter, x, y - px(18), "locks up")
        value, posture, rod, end = worst_swing(study.travel.sweep)
        limits = swing_limits(study.now.layout)
        limit = limits[rod, end] if limits.size else 0.0
        if study.travel.sweep.ok.any() and value > 0.6 * limit:
            x = self._x(float(study.travel.sweep.left[posture]))
            painter.setPen(QPen(look.color("faint"), px(1.6)))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawPolygon(QPointF(x - px(5), y - px(19)), QPointF(x + px(5), y - px(19)), QPointF(x, y - px(11)))
            self._centered(painter, x, y - px(22), f"joint swing {value:.0f}°")

    def _stops(self, painter: QPainter, y: float) -> None:
        """What the springs say ends the travel at either end; red where that is a shock, a coil or worse."""
        bench, axle = self._bench, self._bench.axle
        run = bench.studies.stops(axle.key)
        if run is None:
            return
        look, px = self._look, self._look.px
        painter.setFont(look.font(12))
        for way, asked in (("bump", axle.bump_mm), ("droop", -axle.droop_mm)):
            first = run.first(way)  # type: ignore[arg-type]
            if first is None:
                continue
            hard = first.what not in ("solid", "tight") and abs(first.travel_mm) < abs(asked) - 0.5
            at = max(min(first.travel_mm, axle.bump_mm), -axle.droop_mm)
            x = self._x(at)
            painter.setPen(QPen(look.color("alarm" if hard else "ink"), px(2)))
            if abs(first.travel_mm) < abs(asked):
                painter.drawLine(QPointF(x, y - px(12)), QPointF(x, y + px(12)))
            self._centered(painter, x, y - px(15), rail_words(first))

    def _centered(self, painter: QPainter, x: float, y: float, text: str) -> None:
        wide = painter.fontMetrics().horizontalAdvance(text)
        x = min(max(x - wide / 2, 0.0), self.width() - wide)
        painter.drawText(QPointF(x, y), text)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Go there, or take hold of the slider of one wheel."""
        assert event is not None
        x = event.position().x()
        near = [letter for at, letter in self._sliders() if letter and abs(at - x) <= self._look.px(13)]
        self._held = "LR".index(near[-1]) if near else None
        if self._held is None:
            self.moved.emit(self.travel_at(x))

    def mouseReleaseEvent(self, _event: QMouseEvent | None) -> None:
        """Let go."""
        self._held = None

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        """A page is scrolled, not the axle moved."""
        if event is not None:
            event.ignore()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Scrub."""
        assert event is not None
        if event.buttons() & Qt.MouseButton.LeftButton:
            travel = self.travel_at(event.position().x())
            if self._held is None:
                self.moved.emit(travel)
            else:
                self.wheel_moved.emit(self._held, travel)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Step along the rail."""
        assert event is not None
        axle = self._bench.axle
        now = (self._bench.posture.left_mm + self._bench.posture.right_mm) / 2
        step = 25.4 / 4 if self._bench.job.units == "us" else 5.0
        places = {
            Qt.Key.Key_Left: now - step, Qt.Key.Key_Right: now + step, Qt.Key.Key_Home: 0.0,
            Qt.Key.Key_PageUp: axle.bump_mm, Qt.Key.Key_PageDown: -axle.droop_mm,
        }  # fmt: skip
        if event.key() in places:
            self.moved.emit(places[Qt.Key(event.key())])
        else:
            super().keyPressEvent(event)


class WheelField(LengthField):
    """The travel of a wheel. Letters that no figure starts with are the floor's keys, not its own."""

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Pass letters on while there is no digit before them."""
        assert event is not None
        kept = self.text().replace(self.selectedText(), "", 1) if self.hasSelectedText() else self.text()
        plain = not event.modifiers() & (Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.AltModifier)
        if plain and event.text().isalpha() and not any(c.isdigit() for c in kept):
            event.ignore()
            return
        super().keyPressEvent(event)


class SteerField(NumberField):
    """The steer input, + to the left: hand-wheel turns from center, or mm of a ram's rod."""

    def __init__(self, bench: Bench, send: Callable[[float], object]) -> None:
        # A posture that was found is not a round number: a thousandth of a turn is more than a hand can hold.
        name = "Steer input, + to the left"
        super().__init__(bench, name, lambda t, _s, f: parse_number(t, f), lambda v, _s: f"{round(v, 3):g}", send)


class Rail(QWidget):
    """The rail with its buttons and the travel of each wheel."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench, self._look = bench, look
        self.setObjectName("strip")
        self.line = RailLine(bench, look)
        self.line.moved.connect(self._together)
        self.line.wheel_moved.connect(self._alone)
        self.cycle = QPushButton("Cycle")
        self.cycle.setCheckable(True)
        self.cycle.setToolTip("Run the axle through its travel; once crossed up, through its articulation (Ctrl+Space)")
        self.cycle.setShortcut("Ctrl+Space")
        self.cycle.toggled.connect(self._cycle)
        self.ride = QPushButton("Ride height")
        self.ride.setToolTip("All wheels of the car to ride height, and straight ahead")
        self.ride.clicked.connect(lambda: bench.set_car_posture(CarPosture()))
        self.left = WheelField(bench, "Left wheel", lambda mm: bench.set_posture(mm, bench.posture.right_mm))
        self.right = WheelField(bench, "Right wheel", lambda mm: bench.set_posture(bench.posture.left_mm, mm))
        self.steer = SteerField(bench, bench.set_steer)
        self.steer_title = PlainLabel("Steer")
        self.steer_title.setProperty("role", "faint")
        self.steer_title.setBuddy(self.steer)
        self.turning = SteerControls(bench, look)
        self.cross = QPushButton("Cross up")
        self.cross.setToolTip("Left wheel at full bump, right wheel at full droop")
        self.cross.clicked.connect(lambda: bench.set_posture(bench.axle.bump_mm, -bench.axle.droop_mm))
        self.case = QComboBox()
        self.case.setAccessibleName("Load case")
        self.case.addItem("no loads", None)
        for key, words in CASES.items():
            self.case.addItem(words, key)
        self.case.activated.connect(lambda: bench.set_load_case(self.case.currentData()))
        self.words = PlainLabel()
        self.words.setProperty("role", "faint")
        self._timer = QTimer(self)
        self._timer.setInterval(CYCLE_MS)
        self._timer.timeout.connect(self._tick)
        self._frame = 0
        self._crossed = False
        self._lay_out()
        bench.job_changed.connect(self.refresh)
        bench.selection_changed.connect(self.refresh)
        look.changed.connect(self.refresh)

    def _lay_out(self) -> None:
        row = QHBoxLayout(self)
        row.setContentsMargins(10, 4, 10, 4)
        play = QVBoxLayout()
        play.addWidget(self.cycle)
        play.addWidget(self.ride)
        row.addLayout(play)
        row.addWidget(self.line, 3)
        row.addWidget(self.turning, 2)
        for title, field in (("Left wheel", self.left), ("Right wheel", self.right)):
            column = QVBoxLayout()
            column.addStretch(1)
            label = PlainLabel(title)
            label.setProperty("role", "faint")
            label.setBuddy(field)
            column.addWidget(label)
            bound(field, self._look.percent, wide=(None, 96))
            column.addWidget(field)
            column.addStretch(1)
            row.addLayout(column)
        case_title = PlainLabel("Load case")
        case_title.setProperty("role", "faint")
        for words, widget, wide in ((self.steer_title, self.steer, 70), (case_title, self.case, 150)):
            column = QVBoxLayout()
            column.addStretch(1)
            column.addWidget(words)
            bound(widget, self._look.percent, wide=(None, wide))
            column.addWidget(widget)
            column.addStretch(1)
            row.addLayout(column)
        last = QVBoxLayout()
        last.addStretch(1)
        last.addWidget(self.words)
        last.addWidget(self.cross)
        last.addStretch(1)
        row.addLayout(last)

    def _together(self, mm: float) -> None:
        """Move both wheels by what the mean moves, keeping how far they are crossed up."""
        half = (self._bench.posture.left_mm - self._bench.posture.right_mm) / 2
        self._bench.set_posture(mm + half, mm - half)

    def _alone(self, wheel: int, mm: float) -> None:
        """Move one wheel, 0 the left and 1 the right one."""
        now = self._bench.posture
        self._bench.set_posture(*((mm, now.right_mm) if wheel == 0 else (now.left_mm, mm)))

    def _cycle(self, on: bool) -> None:
        if on:
            self._crossed = abs(self._bench.posture.left_mm - self._bench.posture.right_mm) > 1.0
            self._frame = 0
            self._timer.start()
        else:
            self._timer.stop()
            self._bench.set_posture(0.0, 0.0)

    def _tick(self) -> None:
        self._frame = (self._frame + 1) % CYCLE_FRAMES
        share = there_and_back(self._frame)
        axle = self._bench.axle
        mm = share * (axle.bump_mm if share > 0 else axle.droop_mm)
        other = -share * (axle.droop_mm if share > 0 else axle.bump_mm) if self._crossed else mm
        self._bench.set_posture(mm, other)

    def refresh(self) -> None:
        """Show the posture of the bench."""
        units = self._bench.job.units
        self.line.show_posture()
        self.left.show_mm(self._bench.posture.left_mm)
        self.right.show_mm(self._bench.posture.right_mm)
        steered, steer = self._bench.axle.steered, self._bench.posture.steer
        for widget in (self.steer, self.steer_title):
            widget.setVisible(steered)
        self.turning.refresh()
        # Very large type leaves no room for what the wheels' fields and the line show anyway.
        self.words.setVisible(self._look.percent < 175)
        self.case.setMaximumWidth(self._look.px(150 if self._look.percent < 175 else 100))
        self.steer.show_value(steer, steer_words(self._bench.axle))
        study, now = self._bench.study(self._bench.axle_key), self._bench.posture
        beams = beam_words(self._bench.axle, now.left_mm, now.right_mm, steer)
        if beams:
            self.words.setText(beams)
        elif steered and steer and self._bench.axle.steering is not None and study is not None and study.now.ok[0]:
            self.words.setText(turned_words(study.now, steer))
        elif steered and steer:
            self.words.setText("no steering yet")
            self.words.setToolTip(plain_tip(steer_words(self._bench.axle)))
        elif study is not None and study.now.ok[0]:
            lean = study.now.value("roll_deg")
            self.words.setText(f"axle leans {abs(lean):.1f}°")
        else:
            self.words.setText("cannot reach this" if study is not None else "")
        keys = [None, *CASES]
        self.case.setCurrentIndex(keys.index(self._bench.look_at.load_case))
        self.line.setToolTip(plain_tip(f"{format_length(self._bench.posture.left_mm, units)} {length_unit(units)}"))
        self.line.update()

    def stop(self) -> None:
        """Stop cycling and steering."""
        self.cycle.setChecked(False)
        self.turning.stop()
