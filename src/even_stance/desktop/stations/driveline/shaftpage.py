"""The shaft to order: its joints, slip and tube, the slip as the yoke on its spline, and the order itself."""

from collections.abc import Callable, Iterator
from typing import Any

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QComboBox, QGridLayout, QHBoxLayout, QPushButton, QSizePolicy, QVBoxLayout, QWidget

from even_stance.desktop.bench import Bench
from even_stance.desktop.exporting import ask_path
from even_stance.desktop.look import Look
from even_stance.desktop.pages import SteppedPage
from even_stance.desktop.saving import save_made
from even_stance.desktop.widgets.fields import (
    DegreeField,
    Labeled,
    LengthField,
    NumberField,
    PlainField,
    SpeedField,
    WallField,
)
from even_stance.desktop.widgets.labels import PlainLabel, group_head
from even_stance.desktop.widgets.schoolnote import SchoolButton
from even_stance.desktop.widgets.signalblock import blocked
from even_stance.desktop.widgets.table import plain_table, set_text
from even_stance.mechanics.ujoint import driveshaft_rpm
from even_stance.shop.shaftorder import JOINT_WORDS, ShaftOrder, length_words, order_lines, shaft_order
from even_stance.study.driveline import gearing
from even_stance.units import System, format_length, length_unit
from even_stance.vehicle.driveline import Shaft
from even_stance.vehicle.edits import carry_shaft, drive_from, move_to, set_shaft, set_yoke
from even_stance.vehicle.spots import Spot, point_of

_FIELDS: tuple[tuple[str, str, type[NumberField], str], ...] = (
    ("tube_mm", "Tube outside", LengthField, "length"), ("wall_mm", "Tube wall", WallField, "length"),
    ("spline_mm", "Spline length", LengthField, "length"), ("pull_out_mm", "Out at ride height", LengthField, "length"),
    ("limit_deg", "A joint bends up to", DegreeField, "deg"), ("phase_deg", "Yokes out of line by", DegreeField, "deg"),
    ("double_mm", "Double-cardan, cross to cross", LengthField, "length"),
    ("top_rpm", "Turns at top speed, rpm", PlainField, ""),
    ("joint_behind_mm", "Joint behind the carrier", LengthField, "length"),
    ("front_phase_deg", "Front piece out of line", DegreeField, "deg"),
)  # fmt: skip
_OF_ONE_PIECE = 8


def slip_words(order: ShaftOrder, units: System) -> str:
    """How much room the slip has either way."""
    room, left = (length_words(mm, units) for mm in (order.room_mm, order.least_in_mm))
    return f"{room} before it bottoms, {left} of spline left in"


class SlipPicture(QWidget):
    """The yoke on its spline: where it bottoms, where it is at ride height, and how far it goes in and out."""

    def __init__(self, look: Look) -> None:
        super().__init__()
        self._look = look
        self.order: ShaftOrder | None = None
        self._units: System = "us"
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)

    def sizeHint(self) -> QSize:
        """Wide and low."""
        return QSize(self._look.px(460), self._look.px(152))

    def show_order(self, order: ShaftOrder | None, units: System) -> None:
        """Show another shaft."""
        self.order, self._units = order, units
        if order is not None:
            said = (
                f"{length_words(order.room_mm, units)} before it bottoms, {length_words(order.least_in_mm, units)} in"
            )
            self.setAccessibleName(f"Slip: {said}")
        self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Paint spline, yoke and marks."""
        if self.order is None:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        look, px, order = self._look, self._look.px, self.order
        shaft = order.shaft
        left, right = px(40), self.width() - px(60)
        scale = (right - left) / (2.15 * shaft.spline_mm)
        bottom = left + scale * shaft.spline_mm  # the mouth of the bore when the yoke bottoms

        def out(mm: float) -> float:
            return bottom + scale * mm

        top, high = px(34), px(36)
        painter.setPen(QPen(look.color("faint"), 1.2))
        painter.setBrush(look.color("steel"))
        # The splined output, and the yoke's bore over it as it is at ride height.
        painter.drawRect(QRectF(left - px(30), top + high * 0.28, bottom - left + px(30), high * 0.44))
        mouth = out(shaft.pull_out_mm) - scale * shaft.spline_mm
        for y in (top, top + high * 0.72):
            painter.fillRect(QRectF(mouth, y, scale * shaft.spline_mm, high * 0.28), look.color("rubber"))
            painter.drawRect(QRectF(mouth, y, scale * shaft.spline_mm, high * 0.28))
        yoke = QRectF(mouth + scale * shaft.spline_mm, top, px(26), high)
        painter.drawRect(yoke)
        painter.setBrush(look.color("sheet"))
        painter.drawEllipse(yoke.center() + QPointF(px(18), 0), px(9), px(9))
        y = top + high + px(16)
        painter.setPen(QPen(look.color("ink"), px(2)))
        painter.drawLine(QPointF(out(0.0), y), QPointF(out(shaft.spline_mm), y))
        far = shaft.spline_mm - order.least_in_mm
        marks = (
            (0.0, "bottoms", "alarm", 0), (order.room_mm, "all the way in", "ink", 1),
            (shaft.pull_out_mm, "ride", "accent", 0), (far, "all the way out", "ink", 2),
            (shaft.spline_mm, "falls out", "alarm", 0),
        )  # fmt: skip
        painter.setFont(look.font(12))
        for mm, words, color, row in marks:
            x = out(mm)
            painter.setPen(QPen(look.color(color), px(2)))
            painter.drawLine(QPointF(x, y - px(6)), QPointF(x, y + px(6)))
            wide = painter.fontMetrics().horizontalAdvance(words)
            painter.drawText(QPointF(min(max(x - wide / 2, 0), self.width() - wide), y + px(20 + 15 * row)), words)
        painter.setPen(look.color("ink"))
        painter.setFont(look.font(12, bold=True))
        painter.drawText(QPointF(px(10), px(18)), slip_words(order, self._units))


class ShaftPage(SteppedPage):
    """The shaft of the axle looked at."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench, self._look = bench, look

    def build(self) -> Iterator[None]:
        """What it is made of, its slip, and the order."""
        bench, look = self._bench, self._look
        column = QVBoxLayout(self)
        column.setContentsMargins(12, 8, 12, 4)
        self.head = PlainLabel()
        self.head.setProperty("role", "head")
        column.addWidget(self.head)
        column.addLayout(self._choices())
        yield
        grid = QGridLayout()
        self.fields: dict[str, NumberField] = {}
        self.labels: list[Labeled] = []
        for i, (name, title, kind, unit) in enumerate(_FIELDS):
            field = kind(bench, title, self._setter(name, title))  # type: ignore[call-arg, arg-type]
            self.fields[name] = field
            self.labels.append(Labeled(bench, title, field, unit))
            # Those of a shaft in two pieces stand below where its bearing is.
            grid.addWidget(self.labels[-1], i // 4 if i < _OF_ONE_PIECE else 3, i % 4)
        self.labels[list(self.fields).index("phase_deg")].label.setToolTip(
            "How far the yoke at the pinion is turned against that at the output: + clockwise, seen from behind the car"
        )
        yield
        self.lefts: dict[str, DegreeField] = {}
        for i, end in enumerate(("output", "pinion")):
            title = f"{end.capitalize()} points left by"
            self.lefts[end] = DegreeField(bench, title, self._turner(end))
            self.labels.append(Labeled(bench, title, self.lefts[end], "deg"))
            grid.addWidget(self.labels[-1], 2, i)
        self.carrier: dict[str, LengthField] = {}
        for i, (name, word) in enumerate((("x", "ahead"), ("z", "up"))):
            title = f"Carrier bearing {word}"
            self.carrier[name] = LengthField(bench, title, self._carrier_mover(name))
            self.labels.append(Labeled(bench, title, self.carrier[name], "length"))
            grid.addWidget(self.labels[-1], 2, 2 + i)
        self.speed = SpeedField(bench, "Or top speed", self._to_rpm)
        self.labels.append(Labeled(bench, "Or top speed", self.speed, "speed"))
        grid.addWidget(self.labels[-1], 3, 2)
        self.gearing = PlainLabel()
        self.gearing.setWordWrap(True)
        self.gearing.setProperty("role", "faint")
        grid.addWidget(self.gearing, 3, 3)
        column.addLayout(grid)
        yield
        self.slip = SlipPicture(look)
        column.addWidget(self.slip)
        row = QHBoxLayout()
        row.addWidget(group_head("To order"))
        row.addStretch(1)
        row.addWidget(SchoolButton(look, "slip_yoke"))
        self.pdf = QPushButton("Order sheet…")
        self.pdf.clicked.connect(
            lambda _=False: ask_path(self, "Save the order sheet", "driveshaft.pdf", "PDF (*.pdf)", self.save_order)
        )
        row.addWidget(self.pdf)
        column.addLayout(row)
        self.table = plain_table(("What", "How"), "The shaft to order", wide=1)
        column.addWidget(self.table, 1)

    def _choices(self) -> QHBoxLayout:
        row = QHBoxLayout()
        self.joints: dict[str, QComboBox] = {}
        for name, title in (("output_joint", "At the output"), ("pinion_joint", "At the pinion")):
            box = self.joints[name] = QComboBox()
            box.setAccessibleName(title)
            for kind, words in JOINT_WORDS.items():
                box.addItem(words, kind)
            box.activated.connect(lambda _, n=name, t=title, b=box: self._set(t, **{n: b.currentData()}))
            row.addWidget(Labeled(self._bench, title, box), 1)
        self.where = QComboBox()
        self.where.setAccessibleName("Where it slips")
        self.where.addItem("yoke on the output's spline", "output")
        self.where.addItem("spline in the shaft", "shaft")
        self.where.activated.connect(lambda _: self._set("Slip", slip=self.where.currentData()))
        row.addWidget(Labeled(self._bench, "Slips", self.where), 1)
        self.pieces = QComboBox()
        self.pieces.setAccessibleName("Pieces")
        self.pieces.addItem("one piece", False)
        self.pieces.addItem("two, with a carrier bearing", True)
        self.pieces.activated.connect(
            lambda _: self._bench.do(carry_shaft(self._bench.axle_key, self.pieces.currentData()))
        )
        row.addWidget(Labeled(self._bench, "Pieces", self.pieces), 1)
        self.comes_from = QComboBox()
        self.comes_from.setAccessibleName("Output is on")
        self.comes_from.activated.connect(
            lambda _: self._bench.do(drive_from(self._bench.axle_key, self.comes_from.currentData()))
        )
        self._comes_from = Labeled(self._bench, "Output is on", self.comes_from)
        row.addWidget(self._comes_from, 1)
        return row

    def _set(self, label: str, **changes: Any) -> None:
        self._bench.do(set_shaft(self._bench.axle_key, label, **changes))

    def _setter(self, name: str, title: str) -> Callable[[float], object]:
        return lambda value: self._set(title, **{name: value})

    def _turner(self, end: str) -> Callable[[float], object]:
        bench = self._bench
        return lambda deg: bench.do(set_yoke(bench.axle_key, end, f"{end.capitalize()} in plan", left_deg=deg))

    def _to_rpm(self, kmh: float) -> None:
        self._set("Top speed", top_rpm=driveshaft_rpm(kmh, *gearing(self._bench.job, self._bench.axle)))

    def _carrier_mover(self, name: str) -> Callable[[float], object]:
        bench = self._bench

        def move(mm: float) -> object:
            spot = Spot(bench.axle_key, "", "carrier")
            x, y, z = point_of(bench.job, spot).xyz
            return bench.do(move_to(bench.job, spot, *((mm, y, z) if name == "x" else (x, y, mm))))

        return move

    def save_order(self, path: Any) -> None:
        """Write the order sheet."""
        from even_stance.exchange.shaftpdf import shaft_pdf  # noqa: PLC0415 - paper is loaded when it is asked for

        job = self._bench.job
        save_made(self._bench, path, lambda: shaft_pdf(job))

    def _show_where_from(self) -> None:
        """Offer the gearbox and the other driven axles at the same end: a through shaft is for tandems."""
        axle, axles = self._bench.axle, self._bench.job.vehicle.axles
        others = [a.key for a in axles if a.key != axle.key and a.driven and not a.is_front]
        self._comes_from.setVisible(bool(others) and not axle.is_front)
        with blocked(self.comes_from):
            self.comes_from.clear()
            self.comes_from.addItem("gearbox", "")
            for key in others:
                self.comes_from.addItem(f"{key} axle", key)
            on = "" if axle.output is None else axle.output.on
            self.comes_from.setCurrentIndex(max(self.comes_from.findData(on), 0))

    def refresh(self) -> None:
        """Show the shaft and its order."""
        bench, axle = self._bench, self._bench.axle
        shaft = axle.shaft or Shaft()
        study = bench.study(bench.axle_key)
        order = shaft_order(study) if study is not None else None
        entered = "" if axle.shaft is not None else ": not entered yet, shown as most are"
        self.head.setText(f"{axle.key.capitalize()} driveshaft{entered}")
        self._show_where_from()
        for labeled in self.labels:
            labeled.refresh_unit()
        for name, field in self.fields.items():
            value = getattr(shaft, name)
            if isinstance(field, LengthField):
                field.show_mm(value)
            else:
                field.show_value(value)
        ratio, radius = gearing(bench.job, axle)
        one = driveshaft_rpm(1.0, ratio, radius)
        self.speed.show_value(shaft.top_rpm / one if shaft.top_rpm else None)
        across = f"{format_length(2 * radius, bench.job.units).removeprefix('~')} {length_unit(bench.job.units)}"
        self.gearing.setText(f"Turns the shaft through {ratio:g} to 1 in the axle and tires {across} high as loaded.")
        for end, turned in self.lefts.items():
            yoke = getattr(axle, end)
            turned.setEnabled(yoke is not None)
            turned.show_value(None if yoke is None else yoke.left_deg)
        for name, box in self.joints.items():
            box.setCurrentIndex(box.findData(getattr(shaft, name)))
        self.where.setCurrentIndex(self.where.findData(shaft.slip))
        self.pieces.setCurrentIndex(self.pieces.findData(shaft.carrier is not None))
        for name, field in self.carrier.items():
            field.setEnabled(shaft.carrier is not None)
            field.show_mm(None if shaft.carrier is None else getattr(shaft.carrier, name))
        for name in ("joint_behind_mm", "front_phase_deg"):
            self.fields[name].setEnabled(shaft.carrier is not None)
        self.slip.setVisible(order is not None)
        self.slip.show_order(order, bench.job.units)
        lines = order_lines(bench.job, study) if study is not None else []
        self.pdf.setEnabled(bool(lines))
        if not lines:
            lines = [("Not yet", "Measure output and pinion yoke first: Stance, Measure, or the floor.")]
        self.table.setRowCount(len(lines))
        for i, (what, how) in enumerate(lines):
            set_text(self.table, i, 0, what, right=False)
            set_text(self.table, i, 1, how, right=False)
        self.table.setFixedHeight(self.table.horizontalHeader().height() + sum(  # type: ignore[union-attr]
            self.table.rowHeight(i) for i in range(len(lines))) + 4)  # fmt: skip
        self.table.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
