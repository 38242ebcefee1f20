"""Heights: driven, lowest, raised and settled; what ride height does to the answers; what touches the ground first."""

from collections.abc import Iterator
from typing import Any

import numpy as np
import pyqtgraph as pg
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QCheckBox, QComboBox, QHBoxLayout, QVBoxLayout

from even_stance.desktop.bench import Bench
from even_stance.desktop.bounds import bound
from even_stance.desktop.exporting import offer_picture
from even_stance.desktop.look import Look
from even_stance.desktop.pages import SteppedPage
from even_stance.desktop.widgets.chart import Plot, apart
from even_stance.desktop.widgets.fields import Labeled, LengthField
from even_stance.desktop.widgets.labels import PlainLabel
from even_stance.desktop.widgets.listeditor import ListEditor, Values
from even_stance.desktop.widgets.schoolnote import SchoolButton
from even_stance.desktop.widgets.signalblock import blocked
from even_stance.desktop.widgets.table import plain_table, set_text
from even_stance.errors import StanceError
from even_stance.judgement.bands import band_edges, wanted
from even_stance.judgement.heights import BandLine, band_lines, heights_reach, heights_words, named_heights
from even_stance.judgement.verdicts import format_value
from even_stance.mechanics.vectors import Array
from even_stance.shop.lowest import low_places, lowest_words, travel_words
from even_stance.study.answers import cg_rise
from even_stance.study.heights import HeightStudy, stand_at, study_heights
from even_stance.units import format_length, length_unit
from even_stance.vehicle.edits import set_measuring, with_changes
from even_stance.vehicle.job import Job
from even_stance.vehicle.measuring import LowPoint
from even_stance.vehicle.records import Point

_DASHES = (Qt.PenStyle.SolidLine, Qt.PenStyle.DashLine, Qt.PenStyle.DotLine, Qt.PenStyle.DashDotLine)
# What the chart of bands shows, where in it the words of its lines are (below are those of the heights), their height.
_SEEN, _WORDS, _LINE = (-0.6, 1.6), (-0.35, 1.55), 0.17


class HeightsPage(SteppedPage):
    """The heights a car stands at."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench, self._look = bench, look
        self._drawn: tuple[Job, str, object, int, str] | None = None

    def build(self) -> Iterator[None]:
        """The heights, the chart over them, and the lowest places."""
        bench, look = self._bench, self._look
        column = QVBoxLayout(self)
        column.setContentsMargins(12, 8, 12, 4)
        column.addLayout(self._fields())
        ground = QHBoxLayout()
        ground.addWidget(self.over)
        ground.addStretch(1)
        column.addLayout(ground)
        self.words = PlainLabel()
        self.words.setWordWrap(True)
        column.addWidget(self.words)
        yield
        self.chart = Plot(look)
        self.chart.setAccessibleName("Answers over ride height")
        bound(self.chart, look.percent, high=270)
        offer_picture(self.chart, "ride-height", bench.refused.emit)
        self.shown = QComboBox()
        self.shown.setAccessibleName("Which answer the chart shows")
        self.shown.activated.connect(lambda _: self._redraw())
        beside = QVBoxLayout()
        beside.addWidget(self.shown)
        self.answers = plain_table(("Answer",), "Answers at the heights typed", wide=0)
        beside.addWidget(self.answers, 1)
        upper = QHBoxLayout()
        upper.addWidget(self.chart, 5)
        upper.addLayout(beside, 4)
        column.addLayout(upper, 5)
        yield
        self.lowest = PlainLabel()
        self.lowest.setWordWrap(True)
        column.addWidget(self.lowest)
        row = QHBoxLayout()
        self.table = plain_table(("Under the car", "Driven", "Settled", "Lowest", "Raised"), "Lowest places", wide=0)
        bound(self.table, look.percent, high=(190, None))
        row.addWidget(self.table, 7)
        self.points = ListEditor(
            bench, "Other low places", "Oil pan, crossmember, exhaust: ahead of the front axle, and height.",
            (("ahead", "Ahead", "length"), ("up", "Up", "length")), "on the axle",
            self._add, self._take_out,
        )  # fmt: skip
        row.addWidget(self.points, 6)
        column.addLayout(row, 4)

    def _fields(self) -> QHBoxLayout:
        row = QHBoxLayout()
        self.air = QCheckBox("air springs")
        self.air.toggled.connect(lambda on: self._set("Air springs", air=on))
        self.down = LengthField(self._bench, "Comes down by", lambda v: self._set("Lowest height", lower_mm=v))
        self.up = LengthField(self._bench, "Goes up by", lambda v: self._set("Raised height", raise_mm=v))
        self.settle = LengthField(self._bench, "Settles by", lambda v: self._set("Settling", settle_mm=v))
        self._labels = [
            Labeled(self._bench, title, field, "length")
            for title, field in (
                ("Frame comes down by, lowest", self.down), ("Goes up by, raised", self.up),
                ("New springs settle by", self.settle),
            )
        ]  # fmt: skip
        for labeled in self._labels:
            row.addWidget(labeled)
        row.addWidget(self.air)
        self.over = QComboBox()
        self.over.setAccessibleName("Answers over")
        self.over.addItem("over the ground as it then stands", "stands")
        self.over.addItem("over the ground at ride height", "ride")
        self.over.activated.connect(lambda _: self.refresh())
        row.addWidget(SchoolButton(self._look, "height"))
        return row

    def _set(self, label: str, **changes: Any) -> None:
        heights = self._bench.job.measuring.heights
        try:
            changed = with_changes(heights, **changes)
        except StanceError as error:
            self._bench.refused.emit(str(error))
            return
        self._bench.do(set_measuring(label, heights=changed))

    def _add(self, name: str, values: Values, on_axle: bool) -> bool:
        try:
            at = Point(x=values["ahead"], y=0.0, z=values["up"])
            place = LowPoint(name=name, at=at, on="axle" if on_axle else "frame")
        except ValueError as error:
            self._bench.refused.emit(f"Low place: the figures are no place on a car ({error}).")
            return False
        points = (*self._bench.job.measuring.low_points, place)
        return self._bench.do(set_measuring(f"Low place {name}", low_points=points)).done

    def _take_out(self, row: int) -> None:
        points = self._bench.job.measuring.low_points
        self._bench.do(set_measuring("Take a low place out", low_points=points[:row] + points[row + 1 :]))

    def refresh(self) -> None:
        """Show heights, chart and lowest places."""
        bench = self._bench
        heights, units = bench.job.measuring.heights, bench.job.units
        with blocked(self.air):
            self.air.setChecked(heights.air)
        self.down.show_mm(heights.lower_mm)
        self.up.show_mm(heights.raise_mm)
        self.settle.show_mm(heights.settle_mm)
        for labeled in self._labels:
            labeled.refresh_unit()
        self._draw()
        words, bad = lowest_words(bench.job)
        more, beyond = travel_words(bench.job)
        bad = bad or beyond
        self.lowest.setText(f"{words} {more}".strip())
        self.lowest.setProperty("role", "alarm" if bad else "")
        style = self.lowest.style()
        if style is not None:
            style.polish(self.lowest)
        places = low_places(bench.job)[:12]
        self.table.setRowCount(len(places))
        for i, place in enumerate(places):
            set_text(self.table, i, 0, place.name, right=False)
            for j, mm in enumerate((place.driven_mm, place.settled_mm, place.lowest_mm, place.raised_mm), 1):
                set_text(self.table, i, j, format_length(mm, units))
        unit = length_unit(units)
        self.points.show_rows(
            [(p.name, f"{format_length(p.at.x, units)} {unit}", f"{format_length(p.at.z, units)} {unit}", p.on)
             for p in bench.job.measuring.low_points]
        )  # fmt: skip

    def _redraw(self) -> None:
        self._drawn = None
        self._draw()

    def _fill_answers(self, lines: list[BandLine]) -> None:
        """Every answer at every height that was typed, and what the chart can show."""
        job, heights = self._bench.job, named_heights(self._bench.job)
        stood = stand_at(job.vehicle, self._bench.axle, np.array(list(heights.values())), self.over.currentData())
        self.answers.setColumnCount(1 + len(heights))
        self.answers.setHorizontalHeaderLabels(["Answer", *(name.capitalize() for name in heights)])
        self.answers.setRowCount(len(lines))
        for i, line in enumerate(lines):
            set_text(self.answers, i, 0, line.title, right=False)
            for j, value in enumerate(stood.values[line.key].tolist(), start=1):
                set_text(self.answers, i, j, format_value(line.key, value, job.units))
        titles = {"": "All, by their bands"} | {line.key: line.title for line in lines}
        if [self.shown.itemData(i) for i in range(self.shown.count())] != list(titles):
            before = self.shown.currentData()
            self.shown.clear()
            for key, title in titles.items():
                self.shown.addItem(title, key)
            self.shown.setCurrentIndex(max(self.shown.findData(before), 0))

    def _draw(self) -> None:
        bench, look = self._bench, self._look
        over = self.over.currentData()
        now = (bench.job, bench.axle_key, look.colors, look.percent, over)
        if self._drawn is not None and self._drawn[0] is bench.job and self._drawn[1:] == now[1:]:
            return  # the wheels alone have moved
        self._drawn = now
        self.chart.clear()
        self.chart.setBackground(look.color("sheet"))
        try:
            found: HeightStudy = study_heights(bench.job.vehicle, bench.axle, heights_reach(bench.job), over)
        except StanceError as error:
            self.words.setText(str(error))
            return
        moves = f"CG and ground as the car then stands: its CG goes along by {100 * cg_rise(bench.job.vehicle):.0f} %."
        ground = moves if over == "stands" else "CG and ground as at ride height, as the travel rail has it."
        self.words.setText(f"{bench.axle_key.capitalize()} axle. {heights_words(bench.job, found)} {ground}")
        per = 25.4 if bench.job.units == "us" else 1.0
        x = found.higher_mm / per
        lines = band_lines(bench.job, found)
        self._fill_answers(lines)
        for name, higher in named_heights(bench.job).items():
            mark = pg.InfiniteLine(
                higher / per, pen=pg.mkPen(look.color("faint"), style=Qt.PenStyle.DotLine), label=name,
                labelOpts={"position": 0.05, "color": look.color("ink"), "fill": look.color("sheet")},
            )  # fmt: skip
            mark.label.setFont(look.font(12))
            self.chart.addItem(mark, ignoreBounds=True)
        one = next((line for line in lines if line.key == self.shown.currentData()), None)
        if one is not None:
            self._draw_one(one, found, x)
        else:
            self._draw_bands(lines, x)
        for name, words in (("bottom", f"frame higher than measured, {'in' if per > 1 else 'mm'}"), ("left", "")):
            axis = self.chart.getAxis(name)
            axis.setPen(look.color("faint"))
            axis.setTextPen(look.color("ink"))
            axis.setTickFont(look.font(12))
            axis.setLabel(words if one is None or name == "bottom" else f"{one.title}, {self._unit(one.key)}")

    def _unit(self, key: str) -> str:
        units = {"mm": length_unit(self._bench.job.units), "pct": "%", "deg": "°"}
        return units.get(key.rsplit("_", 1)[-1], "")

    def _glass(self, low: float, high: float) -> None:
        band = pg.LinearRegionItem((low, high), orientation="horizontal", movable=False)
        band.setBrush(self._look.color("glass"))
        self.chart.addItem(band, ignoreBounds=True)

    def _draw_one(self, line: BandLine, found: HeightStudy, x: Array) -> None:
        """One answer in its own unit, over its band."""
        job, look = self._bench.job, self._look
        per = 25.4 if self._unit(line.key) == "in" else 1.0
        band = wanted(job, line.key, found.axle).band
        low, high = (v / per for v in band_edges(band))
        values = found.values[line.key] / per
        self._glass(low if band.low is not None else -1e6, high if band.high is not None else 1e6)
        self.chart.plot(x, values, pen=pg.mkPen(look.color("accent"), width=look.px(2.5)), connect="finite")
        self.chart.getAxis("left").setTicks(None)
        self.chart.setXRange(float(x[0]), float(x[-1]))
        seen = values[np.isfinite(values)]
        ends = [*([float(seen.min()), float(seen.max())] if len(seen) else []), low, high]
        room = 0.08 * max(max(ends) - min(ends), 1e-3)
        self.chart.setYRange(min(ends) - room, max(ends) + room)

    def _draw_bands(self, lines: list[BandLine], x: Array) -> None:
        """Every answer by where it is in its band."""
        look = self._look
        self._glass(0.0, 1.0)
        colors = ("accent", "upper", "lower", "lateral")
        ends = [float(np.nan_to_num(np.clip(line.place[-1], *_SEEN))) for line in lines]
        for i, (line, up) in enumerate(zip(lines, apart(ends, _LINE, *_WORDS), strict=True)):
            pen = pg.mkPen(look.color(colors[i % 4]), width=look.px(2.5), style=_DASHES[i % 4])
            place = np.clip(line.place, -1.2, 2.2)
            self.chart.plot(x, place, pen=pen, connect="finite")
            text = pg.TextItem(line.title, color=look.color(colors[i % 4]), anchor=(0.0, 0.5))
            text.setFont(look.font(12))
            text.setPos(float(x[-1]), up)
            self.chart.addItem(text, ignoreBounds=True)
        self.chart.setXRange(float(x[0]), float(x[-1] + 0.85 * (x[-1] - x[0])))
        self.chart.getAxis("left").setTicks([[(0.0, "lower mark"), (1.0, "upper mark")]])
        self.chart.setYRange(*_SEEN)
