"""Steering beside the travel rail: a line from full left to full right, and what goes along at the other end."""

from functools import partial

from PyQt6.QtCore import QLineF, QPointF, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QKeySequence, QMouseEvent, QPainter, QPaintEvent, QPen, QShortcut, QWheelEvent
from PyQt6.QtWidgets import QComboBox, QGridLayout, QPushButton, QSizePolicy, QSlider, QWidget

from even_stance.desktop.bench import Bench
from even_stance.desktop.look import Look
from even_stance.desktop.widgets.cycling import CYCLE_FRAMES, CYCLE_MS, there_and_back
from even_stance.desktop.widgets.signalblock import blocked
from even_stance.study.steerfigures import lock_of, turner_of


class SteerLine(QSlider):
    """One slider for the steer input of the axle looked at; left is to the left.

    Signals:
        moved: to a steer input, hand-wheel turns or mm of a ram's rod, + left.
    """

    moved = pyqtSignal(float)

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__(Qt.Orientation.Horizontal)
        self._bench, self._look = bench, look
        self.valueChanged.connect(lambda n: self.moved.emit(n * self.step))  # a screen reader moves it
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("Steer input")
        self.setAccessibleDescription("Left and right keys steer, Home is straight ahead.")

    def sizeHint(self) -> QSize:
        """Half as wide as the travel rail."""
        return QSize(self._look.px(200), self._look.px(70))

    def show_posture(self) -> None:
        """Say to screen readers where the input is, in steps of the keys."""
        with blocked(self):
            most = round(self.half / self.step)
            self.setRange(-most, most)
            self.setValue(round(min(max(self._bench.posture.steer / self.step, -most), most)))

    @property
    def half(self) -> float:
        """How far the input goes either way, turns or mm; 0 where nothing steers the axle."""
        mechanism = turner_of(self._bench.axle)
        return 0.0 if mechanism is None else mechanism.half_mm_or_turns

    @property
    def step(self) -> float:
        """One step of the keys: an eighth of a turn, or 5 mm of rod."""
        steering = self._bench.axle.steering
        return 5.0 if steering is not None and steering.kind == "ram" else 0.125

    def _x(self, steer: float) -> float:
        pad = self._look.px(24)
        share = 0.5 - 0.5 * steer / max(self.half, 1e-9)
        return pad + share * (self.width() - 2 * pad)

    def steer_at(self, x: float) -> float:
        """The steer input at a place of the line; straight ahead catches the slider."""
        pad = self._look.px(24)
        share = min(max((x - pad) / max(self.width() - 2 * pad, 1.0), 0.0), 1.0)
        return 0.0 if abs(x - self._x(0.0)) < self._look.px(5) else self.half * (1.0 - 2.0 * share)

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Paint line, ends, stops and slider."""
        mechanism, axle = turner_of(self._bench.axle), self._bench.axle
        if mechanism is None:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        look, px, y = self._look, self._look.px, self.height() / 2
        lock = lock_of(axle, mechanism)
        painter.setPen(QPen(look.color("faint"), px(2)))
        painter.drawLine(QPointF(self._x(self.half), y), QPointF(self._x(-self.half), y))
        right, left = (self._x(float(s)) for s in lock.steer)
        painter.setPen(QPen(look.color("ink"), px(3)))
        painter.drawLine(QPointF(left, y), QPointF(right, y))
        painter.setFont(look.font(12))
        for x, over in ((left, lock.over_deg[1]), (right, lock.over_deg[0])):
            painter.setPen(QPen(look.color("ink" if over > 0 else "alarm"), px(3)))
            painter.drawLine(QLineF(x, y - px(9), x, y + px(9)))
            end = "ram" if mechanism.box is None else "box"
            self._centered(painter, x, y - px(14), "stop" if over > 0 else end)
        painter.setPen(look.color("ink"))
        unit = "" if mechanism.box is None else f" {self.half:g}"
        self._centered(painter, self._x(self.half), y + px(24), f"left{unit}")
        if self.width() > px(150):
            self._centered(painter, self._x(0.0), y + px(24), "straight")
        self._centered(painter, self._x(-self.half), y + px(24), f"right{unit}")
        painter.setBrush(look.color("bubble"))
        painter.setPen(QPen(look.color("accent" if self.hasFocus() else "ink"), px(3 if self.hasFocus() else 2)))
        now = min(max(self._bench.posture.steer, -self.half), self.half)
        painter.drawEllipse(QPointF(self._x(now), y), px(11), px(11))

    def _centered(self, painter: QPainter, x: float, y: float, text: str) -> None:
        wide = painter.fontMetrics().horizontalAdvance(text)
        painter.drawText(QPointF(min(max(x - wide / 2, 0.0), self.width() - wide), y), text)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Steer there."""
        assert event is not None
        self.moved.emit(self.steer_at(event.position().x()))

    def mouseReleaseEvent(self, _event: QMouseEvent | None) -> None:
        """Let go."""

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        """A page is scrolled, not the wheels turned."""
        if event is not None:
            event.ignore()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Steer along."""
        assert event is not None
        if event.buttons() & Qt.MouseButton.LeftButton:
            self.moved.emit(self.steer_at(event.position().x()))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Step along the line."""
        assert event is not None
        way = {Qt.Key.Key_Left: 1.0, Qt.Key.Key_Right: -1.0}.get(Qt.Key(event.key()))
        if way is not None:
            self.nudge(way)
        elif event.key() == Qt.Key.Key_Home:
            self.moved.emit(0.0)
        else:
            super().keyPressEvent(event)

    def nudge(self, way: float) -> None:
        """Steer a step to the left (+1) or to the right (-1), as far as the input goes."""
        self.moved.emit(min(max(self._bench.posture.steer + way * self.step, -self.half), self.half))


class SteerControls(QWidget):
    """The steer line with its buttons and keys; where another axle steers too, what that does meanwhile."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench, self._look = bench, look
        self.line = SteerLine(bench, look)
        self.line.moved.connect(bench.set_steer)
        self.lock = QPushButton("Lock to lock")
        self.lock.setCheckable(True)
        self.lock.setToolTip("Steer from lock to lock (Ctrl+Left, Ctrl+Right: a step)")
        self.lock.setAccessibleName("Lock to lock")
        self.lock.toggled.connect(self._play)
        self.straight = QPushButton("Straight")
        self.straight.setAccessibleName("Straight ahead")
        self.straight.clicked.connect(lambda: bench.set_steer(0.0))
        self.along = QComboBox()
        self.along.setAccessibleName("What the other steered axle does")
        self.along.setToolTip("What the other steered axle does while this one is steered")
        self.along.activated.connect(lambda: bench.set_along(self.along.currentData()))
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setVerticalSpacing(3)
        for row, button in ((0, self.lock), (1, self.straight), (1, self.along)):
            grid.addWidget(button, row, 0)
        grid.addWidget(self.line, 0, 1, 2, 1)
        grid.setColumnStretch(1, 1)
        self._frame = 0
        self._timer = QTimer(self)
        self._timer.setInterval(CYCLE_MS)
        self._timer.timeout.connect(self._tick)
        for keys, way in (("Ctrl+Left", 1.0), ("Ctrl+Right", -1.0)):
            QShortcut(QKeySequence(keys), self).activated.connect(partial(self._nudge, way))

    def refresh(self) -> None:
        """Show the steer input of the axle looked at; nothing where nothing steers it."""
        self.setVisible(self._bench.axle.steering is not None)
        self.line.show_posture()
        # Very large type leaves room for one short word.
        self.lock.setText("Lock to lock" if self._look.percent < 150 else "Lock")
        self.straight.setText("Straight" if self._look.percent < 150 else "0")
        others = [a.key for a in self._bench.job.vehicle.axles if a.steering is not None and a is not self._bench.axle]
        # There is room for two: home on the line and the button for the whole car go straight as well.
        self.along.setVisible(bool(others))
        self.straight.setVisible(not others)
        self.line.setMinimumWidth(self._look.px(120) if self._look.percent < 150 else 0)
        words = {"": "stays", "opposite": "opposite", "same": "same way"}
        whose = f"{others[0]} " if others and self._look.percent < 150 else ""
        names = [f"{whose}{word}" for word in words.values()] if others else []
        if [self.along.itemText(i) for i in range(self.along.count())] != names:
            self.along.clear()
            for key, name in zip(words, names, strict=False):
                self.along.addItem(name, key)
        self.along.setCurrentIndex(self.along.findData(self._bench.look_at.along))
        self.line.update()

    def stop(self) -> None:
        """Stop steering."""
        self.lock.setChecked(False)

    def _nudge(self, way: float) -> None:
        if self.line.half:
            self.line.nudge(way)

    def _play(self, on: bool) -> None:
        if on:
            self._frame = 0
            self._timer.start()
        else:
            self._timer.stop()
            self._bench.set_steer(0.0)

    def _tick(self) -> None:
        """From straight to the left lock, to the right one and back, over and over."""
        mechanism = turner_of(self._bench.axle)
        if mechanism is None:
            self.lock.setChecked(False)
            return
        self._frame = (self._frame + 1) % CYCLE_FRAMES
        share = there_and_back(self._frame)
        right, left = lock_of(self._bench.axle, mechanism).steer
        self._bench.set_steer(float(share * left if share > 0.0 else -share * right))
