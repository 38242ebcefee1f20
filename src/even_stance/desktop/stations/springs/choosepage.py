"""Choosing: coils in the steps they are sold in for a wanted ride frequency, and what a moved mount does, as a map."""

from collections.abc import Iterator
from functools import partial

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QComboBox, QGridLayout, QHBoxLayout, QPushButton, QSizePolicy, QWidget

from even_stance.desktop.bench import Bench
from even_stance.desktop.look import Look
from even_stance.desktop.pages import SteppedPage
from even_stance.desktop.widgets.fields import Labeled, LengthField, PlainField, StiffnessField
from even_stance.desktop.widgets.labels import PlainLabel, group_head
from even_stance.desktop.widgets.signalblock import blocked
from even_stance.desktop.widgets.table import plain_table, set_text
from even_stance.errors import InputError
from even_stance.judgement.catalog.springs import FREQUENCY_HZ
from even_stance.judgement.search.choosing import Choice, Wish, choose
from even_stance.judgement.springs import rate_words, torque_per_degree
from even_stance.judgement.steerrows import lengthwise
from even_stance.study.mountmap import MountMap, mount_map
from even_stance.units import MM_PER_INCH, POUND_PER_INCH, System, format_length, length_unit
from even_stance.vehicle.edits import Edit, move_by, pair_of
from even_stance.vehicle.spots import Spot
from even_stance.vehicle.springs import CoilOver, CoilSpring, Hung, Rocker

_COLUMNS = ("Coil", "Free length", "Frequency", "Sits, seats as now", "Collar", "Bind margin")
_LEVELS = 6


class MapPicture(QWidget):
    """The map: fields of like motion ratio, lines of like roll stiffness, and where the mounts are; a click tells."""

    def __init__(self, look: Look) -> None:
        super().__init__()
        self._look = look
        self.map: MountMap | None = None
        self._units: System = "us"
        self.place: tuple[float, float] = (0.0, 0.0)
        self.picked: tuple[float, float] | None = None
        self.told: list[object] = []
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("Motion ratio over the places of both mounts")
        look.changed.connect(self.updateGeometry)

    def sizeHint(self) -> QSize:
        """A square with room for figures."""
        return QSize(self._look.px(330), self._look.px(240))

    def show_map(self, found: MountMap | None, place: tuple[float, float], units: System) -> None:
        """Show another map."""
        self.map, self.place, self._units = found, place, units
        self.setVisible(found is not None)
        self.update()

    def _box(self) -> QRectF:
        px = self._look.px
        return QRectF(px(52), px(8), self.width() - px(64), self.height() - px(46))

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Paint fields, lines and the place."""
        if self.map is None:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        look, px, box, found = self._look, self._look.px, self._box(), self.map
        n = len(found.lower_mm)
        low, high = float(np.nanmin(found.ratio)), float(np.nanmax(found.ratio))
        step = max(high - low, 1e-6) / _LEVELS
        cell = QRectF(0, 0, box.width() / (n - 1), box.height() / (n - 1))
        for i in range(n - 1):
            for j in range(n - 1):
                level = int((float(found.ratio[i : i + 2, j : j + 2].mean()) - low) / step)
                glass = look.color("bubble", round(255 * (0.08 + 0.8 * min(level, _LEVELS - 1) / _LEVELS)))
                corner = QPointF(box.left() + j * cell.width(), box.bottom() - (i + 1) * cell.height())
                painter.fillRect(QRectF(corner, cell.size()), glass)
        painter.setPen(QPen(look.color("line"), 1.0))
        painter.drawRect(box)
        painter.setFont(look.font(12))
        painter.setPen(look.color("ink"))
        for share in (0.1, 0.5, 0.9):
            j = round(share * (n - 1))
            for i in (round(0.12 * (n - 1)), round(0.88 * (n - 1))):
                spot = self._at(float(found.lower_mm[j]), float(found.upper_mm[i]))
                painter.drawText(QPointF(spot.x() - px(12), spot.y()), f"{found.ratio[i, j]:.2f}")
        painter.setPen(look.color("faint"))
        for j in (0, n // 2, n - 1):
            words = format_length(float(found.lower_mm[j]), self._units).removeprefix("~")
            x = self._at(float(found.lower_mm[j]), float(found.upper_mm[0])).x()
            wide = painter.fontMetrics().horizontalAdvance(words)
            painter.drawText(QPointF(min(x - wide / 2, self.width() - wide), box.bottom() + px(15)), words)
            words = format_length(float(found.upper_mm[j]), self._units).removeprefix("~")
            y = self._at(float(found.lower_mm[0]), float(found.upper_mm[j])).y()
            painter.drawText(QPointF(px(2), min(max(y + px(4), px(12)), box.bottom())), words)
        unit = length_unit(self._units)
        painter.drawText(QPointF(box.left(), box.bottom() + px(31)), f"lower mount, out from the middle, {unit}")
        self._rolls(painter)
        painter.setPen(QPen(look.color("ink"), px(2)))
        painter.setBrush(look.color("sheet"))
        painter.drawEllipse(self._at(*self.place), px(7), px(7))
        if self.picked is not None:
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawEllipse(self._at(*self.picked), px(9), px(9))

    def _rolls(self, painter: QPainter) -> None:
        """Dashed lines of like roll stiffness, each with its figure."""
        found, look, px = self.map, self._look, self._look.px
        assert found is not None
        pen = QPen(look.color("lateral"), px(1.6))
        pen.setDashPattern([5.0, 3.0])
        low, high = float(np.nanmin(found.stiffness)), float(np.nanmax(found.stiffness))
        for share in (0.25, 0.5, 0.75):
            level = low + share * (high - low)
            line = [
                self._at(float(np.interp(level, row, found.lower_mm)), float(upper))
                for row, upper in zip(found.stiffness, found.upper_mm, strict=True)
                if row[0] < level < row[-1] and (np.diff(row) > 0.0).all()
            ]
            if len(line) < 2:
                continue
            painter.setPen(pen)
            painter.drawPolyline(QPolygonF(line))
            painter.setPen(look.color("lateral"))
            middle = line[len(line) // 2]
            painter.drawText(QPointF(middle.x() + px(4), middle.y() - px(3)), torque_per_degree(level, self._units))

    def _at(self, lower: float, upper: float) -> QPointF:
        """Where a pair of places is in the picture."""
        assert self.map is not None
        box = self._box()
        across = (lower - self.map.lower_mm[0]) / (self.map.lower_mm[-1] - self.map.lower_mm[0])
        up = (upper - self.map.upper_mm[0]) / (self.map.upper_mm[-1] - self.map.upper_mm[0])
        return QPointF(box.left() + float(across) * box.width(), box.bottom() - float(up) * box.height())

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Look at another place."""
        if event is None or self.map is None:
            return
        box, found = self._box(), self.map
        across = min(max((event.position().x() - box.left()) / box.width(), 0.0), 1.0)
        up = min(max((box.bottom() - event.position().y()) / box.height(), 0.0), 1.0)
        self.picked = (
            float(found.lower_mm[0] + across * (found.lower_mm[-1] - found.lower_mm[0])),
            float(found.upper_mm[0] + up * (found.upper_mm[-1] - found.upper_mm[0])),
        )
        for tell in self.told:
            tell()  # type: ignore[operator]
        self.update()


class ChoosePage(SteppedPage):
    """Coils to buy and places for mounts, of one spring of the axle looked at."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench, self._look = bench, look
        self.chosen = ""
        us = bench.job.units == "us"
        self._step_rate = 25.0 * POUND_PER_INCH if us else 5.0
        self._step_length = MM_PER_INCH if us else 20.0
        self._frequency: dict[str, float] = {}
        self._asked: tuple[object, ...] = ()

    def build(self) -> Iterator[None]:
        """What is wanted, what is sold, the coils, the map."""
        bench = self._bench
        grid = QGridLayout(self)
        grid.setContentsMargins(12, 8, 12, 4)
        row = QHBoxLayout()
        self.which = QComboBox()
        self.which.setAccessibleName("Spring to choose")
        self.which.activated.connect(lambda i: self._choose(self.which.itemText(i)))
        row.addWidget(Labeled(bench, "Spring", self.which), 2)
        self.frequency = PlainField(bench, "Wanted, a second", self._set_frequency)
        self.rate_step = StiffnessField(bench, "Rates are sold in steps of", partial(self._set_step, "_step_rate"))
        self.length_step = LengthField(bench, "Lengths are sold in steps of", partial(self._set_step, "_step_length"))
        self.labels = [
            Labeled(bench, "Wanted ride frequency, Hz", self.frequency),
            Labeled(bench, "Rates in steps of", self.rate_step, "stiffness"),
            Labeled(bench, "Lengths in steps of", self.length_step, "length"),
        ]
        for labeled in self.labels:
            row.addWidget(labeled, 1)
        grid.addLayout(row, 0, 0, 1, 2)
        self.words = PlainLabel()
        self.words.setWordWrap(True)
        self.words.setProperty("role", "faint")
        grid.addWidget(self.words, 1, 0, 1, 2)
        yield
        self.table = plain_table(_COLUMNS, "Coils that are sold", wide=0)
        grid.addWidget(self.table, 2, 0, 1, 2)
        self.use = QPushButton("Put the picked coil on")
        self.use.clicked.connect(lambda _=False: self._use())
        grid.addWidget(self.use, 3, 0)
        yield
        grid.addWidget(group_head("Moving these mounts: motion ratio by where both stand"), 4, 0, 1, 2)
        self.picture = MapPicture(self._look)
        self.picture.told.append(self._say_place)
        grid.addWidget(self.picture, 5, 0)
        side = QGridLayout()
        self.here = PlainLabel()
        self.here.setWordWrap(True)
        side.addWidget(self.here, 0, 0)
        self.there = QPushButton("Move the mounts there")
        self.there.clicked.connect(lambda _=False: self._move())
        side.addWidget(self.there, 1, 0)
        side.setRowStretch(2, 1)
        grid.addLayout(side, 5, 1)
        grid.setRowStretch(2, 2)
        grid.setRowStretch(5, 3)
        self.choices: list[Choice] = []

    # --- what is done

    def _choose(self, name: str) -> None:
        self.chosen = name
        self.picture.picked = None
        self.refresh()

    def _set_frequency(self, value: float) -> None:
        self._frequency[self._bench.axle_key] = value
        self.refresh()

    def _set_step(self, which: str, value: float) -> None:
        setattr(self, which, value)
        self.refresh()

    def _use(self) -> None:
        row = self.table.currentRow()
        if not 0 <= row < len(self.choices):
            self._bench.refused.emit("No coil is picked: click one in the list first.")
            return
        self._bench.do(self.choices[row].edit)

    def _move(self) -> None:
        bench, picked = self._bench, self.picture.picked
        part = self.part()
        if picked is None or not isinstance(part, Hung):
            bench.refused.emit("No place is picked: click one on the map first.")
            return
        lower, upper = (abs(m.at.y) for m in (part.bottom, part.top))
        side = 1.0 if part.bottom.at.y >= 0.0 else -1.0
        self.picture.picked = None
        key = bench.axle_key
        low = move_by(Spot(key, part.name, "bottom"), 0.0, side * (picked[0] - lower), 0.0)
        high = move_by(Spot(key, part.name, "top"), 0.0, side * (picked[1] - upper), 0.0)
        bench.do(Edit(f"Move both mounts of {part.name}", lambda job: high.apply(low.apply(job))))

    def part(self) -> object:
        """The spring looked at."""
        springs = [s for s in self._bench.axle.springs if s.kind in ("coil_over", "coil", "rocker", "air", "shock")]
        return next((s for s in springs if s.name == self.chosen), springs[0] if springs else None)

    # --- what is shown

    def refresh(self) -> None:
        """Show what is sold near the wish, and the map."""
        bench, part = self._bench, self.part()
        names = [s.name for s in bench.axle.springs if s.kind in ("coil_over", "coil", "rocker", "air", "shock")]
        self.chosen = getattr(part, "name", "")
        with blocked(self.which):
            if [self.which.itemText(i) for i in range(self.which.count())] != names:
                self.which.clear()
                self.which.addItems(names)
            self.which.setCurrentIndex(names.index(self.chosen) if self.chosen in names else -1)
        for labeled in self.labels:
            labeled.refresh_unit()
        wished = self._frequency.get(bench.axle_key, FREQUENCY_HZ[bench.job.purpose])
        self.frequency.show_value(wished)
        self.rate_step.show_value(self._step_rate)
        self.length_step.show_mm(self._step_length)
        self._show_choices(part, Wish(wished, self._step_rate, self._step_length))
        self._show_map(part)

    def _show_choices(self, part: object, wish: Wish) -> None:
        bench, units = self._bench, self._bench.job.units
        self.choices, words = [], "Put springs on first, on the Parts page."
        if isinstance(part, CoilOver | CoilSpring | Rocker):
            try:
                self.choices = choose(bench.job, bench.axle, part.name, wish)
                words = (
                    "Coils near the wish, in the steps typed; one of another length is taken to close to 38 % of it."
                )
            except InputError as error:
                words = str(error)
        elif part is not None:
            words = "It has no coil: its mounts can be moved on the map."
        self.words.setText(words)
        self.table.setRowCount(len(self.choices))
        for i, c in enumerate(self.choices):
            high = f"{lengthwise(abs(c.off_mm), units)} {'high' if c.off_mm > 0 else 'low'}"
            turned = "" if c.turns is None else f"{abs(c.turns):.1f} turns {'up' if c.turns > 0 else 'down'}"
            cells = (rate_words(c.rate_n_mm, units), lengthwise(c.free_mm, units), f"{c.frequency_hz:.2f} Hz",
                     high if abs(c.off_mm) > 0.8 else "at ride height", turned,
                     lengthwise(c.bind_mm, units) if c.bind_mm > 0 else "binds")  # fmt: skip
            for j, text in enumerate(cells):
                set_text(self.table, i, j, text, right=j > 0)
        self.use.setEnabled(bool(self.choices))

    def _show_map(self, part: object) -> None:
        bench, axle = self._bench, self._bench.axle
        if not isinstance(part, Hung):
            self.picture.show_map(None, (0.0, 0.0), bench.job.units)
            self.here.setText("")
            self.there.hide()
            return
        asked = (axle.springs, axle.members, part.name)
        if asked != self._asked:
            self._asked = asked
            found = mount_map(bench.job.vehicle, axle, pair_of(bench.job, axle.key, part.name))
            self.picture.show_map(found, (abs(part.bottom.at.y), abs(part.top.at.y)), bench.job.units)
        self.there.setVisible(self.picture.map is not None)
        self._say_place()

    def _say_place(self) -> None:
        """What the mounts do where they are, and where the map was clicked."""
        found, units = self.picture.map, self._bench.job.units
        if found is None:
            self.here.setText("")
            return
        said = []
        for title, place in (("Here", self.picture.place), ("There", self.picture.picked)):
            if place is None:
                said.append("Click the map to look at another place.")
                continue
            ratio, stiff = found.at(*place)
            said.append(
                f"{title}: lower {lengthwise(place[0], units)}, upper {lengthwise(place[1], units)} out: motion ratio "
                f"{ratio:.2f}, roll {torque_per_degree(stiff, units)}."
            )
        self.here.setText("\n\n".join(said))
        self.there.setEnabled(self.picture.picked is not None)
