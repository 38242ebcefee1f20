"""How the car leans: drawn from behind at half a g, who holds it, and what every tire then carries."""

from collections.abc import Iterator

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QPushButton, QSizePolicy, QWidget

from even_stance.desktop.bench import Bench
from even_stance.desktop.look import Look
from even_stance.desktop.pages import SteppedPage
from even_stance.desktop.widgets.fields import Labeled, PercentField
from even_stance.desktop.widgets.labels import PlainLabel
from even_stance.desktop.widgets.schoolnote import SchoolButton
from even_stance.desktop.widgets.table import plain_table, set_text
from even_stance.errors import InputError
from even_stance.judgement.springrows import bar_for_share, roll_rows
from even_stance.judgement.springs import force_words
from even_stance.study.ride import AxleRide, CarRide, axle_ride, car_ride
from even_stance.study.standing import TURNS_G, leans_at
from even_stance.units import NONE
from even_stance.vehicle.edits import change_spring
from even_stance.vehicle.job import Job
from even_stance.vehicle.springs import SwayBar

TURN_G = TURNS_G[-1]


class LeanPicture(QWidget):
    """The car from behind, turning left at half a g: body, axle, tires with their loads, and how the roll is shared."""

    def __init__(self, look: Look) -> None:
        super().__init__()
        self._look = look
        self.car: CarRide | None = None
        self.lean: float | None = None
        self._rides: list[AxleRide] = []
        self._job: Job | None = None
        self._axle = ""
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        look.changed.connect(self.updateGeometry)

    def sizeHint(self) -> QSize:
        """Room for a car."""
        return QSize(self._look.px(300), self._look.px(280))

    def show_car(self, job: Job, axle: str, car: CarRide | None) -> None:
        """Show another car."""
        self._job, self._axle, self.car = job, axle, car
        self._rides = [r for a in job.vehicle.axles if (r := axle_ride(job.vehicle, a)) is not None]
        self.lean = None
        if car is not None:
            try:
                self.lean = leans_at(job.vehicle, TURN_G)
                self.setAccessibleName(f"Leans {self.lean:.1f} degrees at {TURN_G:g} g")
            except InputError:
                self.setAccessibleName(f"Leans {car.roll_deg:.1f} degrees per g at first; how far at {TURN_G:g} g is "
                                       "not known")  # fmt: skip
        self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Paint car and share."""
        if self.car is None or self._job is None:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        px = self._look.px
        self._share(painter, QRectF(px(10), self.height() - px(46), self.width() - px(20), px(18)))
        self._leaning(painter, QRectF(px(10), px(6), self.width() - px(20), self.height() - px(66)))

    def _leaning(self, painter: QPainter, box: QRectF) -> None:
        """The car from behind, leaning to the right as it turns left."""
        look, px, car, job = self._look, self._look.px, self.car, self._job
        assert car is not None
        assert job is not None
        axle = job.vehicle.axle(self._axle)
        ride = axle_ride(job.vehicle, axle)
        wide = axle.track_mm + axle.tire.width_mm + 500.0
        high = 2.3 * job.vehicle.cg_height_mm
        per = min(box.width() / wide, (box.height() - px(22)) / high)
        # In the middle of its room, below the figures.
        ground = min(box.bottom() - px(22), box.center().y() + px(20) + 0.5 * per * high)
        middle = box.center().x()

        def at(y: float, z: float) -> QPointF:
            return QPointF(middle - per * y, ground - per * z)

        radius, half = axle.tire.loaded_radius_mm, axle.track_mm / 2
        painter.setPen(QPen(look.color("ink"), px(2)))
        painter.drawLine(QPointF(box.left(), ground), QPointF(box.right(), ground))
        painter.setPen(QPen(look.color("line"), 1.0))
        painter.setBrush(look.color("rubber"))
        for side in (1.0, -1.0):
            corner = at(side * half + axle.tire.width_mm / 2, 2 * radius)
            painter.drawRoundedRect(QRectF(corner.x(), corner.y(), per * axle.tire.width_mm, per * 2 * radius), 6, 6)
        painter.setPen(QPen(look.color("ink"), px(4)))
        painter.drawLine(at(half, radius), at(-half, radius))
        center = ride.roll_center_mm if ride is not None else radius
        painter.save()
        painter.translate(at(0.0, center))
        painter.rotate(min(self.lean or 0.0, 30.0))  # the wheels' outside is on the right of the picture
        painter.setPen(QPen(look.color("ink"), 1.4))
        painter.setBrush(look.color("steel"))
        frame = job.vehicle.frame
        low, top = frame.rail_bottom_mm - center, high * 0.92 - center
        body = half + 30.0
        painter.setOpacity(0.75)
        painter.drawRoundedRect(QRectF(-per * body, -per * top, 2 * per * body, per * (top - low)), 10, 10)
        painter.setOpacity(1.0)
        painter.setBrush(look.color("sheet"))
        painter.drawEllipse(QPointF(0.0, -per * (job.vehicle.cg_height_mm - center)), px(7), px(7))
        painter.restore()
        painter.setBrush(look.color("accent"))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.drawEllipse(at(0.0, center), px(4), px(4))
        painter.setFont(look.font(20, bold=True))
        painter.setPen(look.color("ink"))
        painter.drawText(QPointF(box.left(), box.top() + px(22)), NONE if self.lean is None else f"{self.lean:.1f}°")
        painter.setFont(look.font(12))
        painter.drawText(QPointF(box.left(), box.top() + px(38)), f"at {TURN_G:g} g, {axle.key} axle from behind")
        moved, load = TURN_G * car.transfer_n[axle.key], 0.5 * car.load_n[axle.key]
        units = job.units
        inside, outside = force_words(max(load - moved, 0.0), units), force_words(load + moved, units)
        painter.drawText(QPointF(at(half + 120.0, 0).x(), ground + px(16)), inside)
        wide_text = painter.fontMetrics().horizontalAdvance(outside)
        painter.drawText(QPointF(at(-half - 120.0, 0).x() - wide_text, ground + px(16)), outside)

    def _share(self, painter: QPainter, box: QRectF) -> None:
        """Who holds how much of the roll: springs and bars of every axle, one after the other."""
        look, px = self._look, self._look.px
        total = sum(r.stiffness for r in self._rides)
        if total <= 0.0:
            return
        x = box.left()
        painter.setFont(look.font(12))
        for i, ride in enumerate(self._rides):
            parts = (("springs", ride.stiffness - ride.bar_stiffness, "upper" if i else "lower"),
                     ("bar", ride.bar_stiffness, "lateral"))  # fmt: skip
            start = x
            for _, much, color in parts:
                long = box.width() * max(much, 0.0) / total
                painter.fillRect(QRectF(x, box.top(), long, box.height()), look.color(color))
                x += long
            painter.setPen(QPen(look.color("ink"), 1.2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(start, box.top(), x - start, box.height()))
            words = f"{ride.axle.key} {100.0 * ride.stiffness / total:.0f} %"
            if ride.bar_stiffness > 0.0:
                words += f", bar {100.0 * ride.bar_stiffness / total:.0f} %"
            painter.setPen(look.color("ink"))
            painter.drawText(QPointF(start + px(2), box.bottom() + px(15)), words)


class RollPage(SteppedPage):
    """How the car leans on the springs of all its axles."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench, self._look = bench, look
        self._wanted: float | None = None
        self._thick: float | None = None

    def build(self) -> Iterator[None]:
        """The picture and the figures."""
        grid = QGridLayout(self)
        grid.setContentsMargins(12, 8, 12, 4)
        self.words = PlainLabel(
            "A turn at half a g on level ground, with stops and straps; springs where they are, not out at the wheels."
        )
        self.words.setWordWrap(True)
        grid.addWidget(self.words, 0, 0)
        grid.addWidget(SchoolButton(self._look, "sway_bar"), 0, 1)
        yield
        self.picture = LeanPicture(self._look)
        grid.addWidget(self.picture, 1, 0)
        self.table = plain_table(("", ""), "How the car leans", wide=1)
        header = self.table.horizontalHeader()
        if header is not None:
            header.hide()
        grid.addWidget(self.table, 1, 1)
        grid.setColumnStretch(0, 2)
        grid.setColumnStretch(1, 3)
        row = QHBoxLayout()
        self.share = PercentField(self._bench, "Wanted share in front", self._wish)
        row.addWidget(Labeled(self._bench, "Wanted share in front, %", self.share))
        self.bar = PlainLabel()
        self.bar.setWordWrap(True)
        row.addWidget(self.bar, 1)
        self.fit = QPushButton("Put that bar on")
        self.fit.clicked.connect(lambda _=False: self._fit())
        row.addWidget(self.fit)
        grid.addLayout(row, 2, 0, 1, 2)

    def _wish(self, value: float) -> None:
        self._wanted = value
        self.refresh()

    def _fit(self) -> None:
        bench, thick = self._bench, self._thick
        bar = next((s for s in bench.axle.springs if isinstance(s, SwayBar)), None)
        if bar is not None and thick is not None:
            bench.do(change_spring(bench.axle_key, bar.name, "Bar", bar_mm=thick, arm_mm=max(bar.arm_mm, thick)))

    def _show_bar(self) -> None:
        """What bar gives the wanted share."""
        self._thick = None
        if self._wanted is None:
            words = "Type a share: how thick this axle’s bar has to be for it."
        else:
            try:
                words, self._thick = bar_for_share(self._bench.job, self._bench.axle, self._wanted)
            except InputError as error:
                words = str(error)
        self.bar.setText(words)
        self.share.show_value(self._wanted)
        self.fit.setEnabled(self._thick is not None)

    def refresh(self) -> None:
        """Show how the car leans."""
        job = self._bench.job
        try:
            car = car_ride(job.vehicle)
        except InputError:
            car = None
        self.picture.setVisible(car is not None)
        self.picture.show_car(job, self._bench.axle_key, car)
        rows = roll_rows(job)
        self.table.setRowCount(len(rows))
        for i, (title, words) in enumerate(rows):
            set_text(self.table, i, 0, title, right=False)
            set_text(self.table, i, 1, words, right=False)
        self.table.resizeRowsToContents()
        self._show_bar()
