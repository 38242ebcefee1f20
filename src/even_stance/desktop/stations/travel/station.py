"""The Travel station: how every answer changes along a sweep, both axles at once."""

from collections.abc import Iterator
from functools import cached_property
from pathlib import Path

import numpy as np
from PyQt6.QtWidgets import QComboBox, QGridLayout, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from even_stance.desktop.bench import Bench
from even_stance.desktop.exporting import ask_path, offer_picture, save_picture
from even_stance.desktop.look import Look
from even_stance.desktop.pages import Pages
from even_stance.desktop.stations.travel.articulation import ArticulationPage
from even_stance.desktop.widgets.chart import Chart
from even_stance.desktop.widgets.inturns import InTurns
from even_stance.desktop.widgets.labels import PlainLabel
from even_stance.desktop.widgets.sketch import Sketch
from even_stance.errors import JobFileError, StanceError
from even_stance.exchange.tables import sweep_csv
from even_stance.exchange.wholefile import write_whole
from even_stance.judgement.bands import judged_keys, wanted
from even_stance.judgement.verdicts import TITLES, format_value
from even_stance.mechanics.vectors import Array
from even_stance.study.answers import FAR_MM, Answers
from even_stance.study.figures import AxleStudy, main_anti_key, pinion_up
from even_stance.study.floor import car_shapes
from even_stance.study.frame import view_frame
from even_stance.study.places import AxlePlace
from even_stance.study.travel import SWEEPS, SweepKind, study_sweep, take
from even_stance.units import HABITS
from even_stance.vehicle.edits import set_vehicle

CHARTS = ("anti", "center", "roll", "pinion", "base", "shift")


class TravelStation(QWidget):
    """Six charts of the axle looked at, the other axle faintly with them, and the drawing of the sample hovered."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench, self._look = bench, look
        self.kind: SweepKind = "bump"
        self.sweep: Answers | None = None
        self._kept: dict[tuple[str, str], tuple[object, object, Answers]] = {}
        column = QVBoxLayout(self)
        column.setContentsMargins(8, 6, 8, 6)
        self.top = QWidget()
        column.addWidget(self.top)
        self._fill_top()
        self.charts_page = QWidget()
        inner = QVBoxLayout(self.charts_page)
        inner.setContentsMargins(0, 0, 0, 0)
        self.sketch = Sketch(look, "The axle where the mouse is on a chart")
        self.sketch.setFixedHeight(look.px(118))
        inner.addWidget(self.sketch)
        self.charts_box = QWidget()
        self._grid = QGridLayout(self.charts_box)
        self._grid.setContentsMargins(0, 0, 0, 0)
        self._grid.setSpacing(6)
        inner.addWidget(self.charts_box, 1)
        self.pages = Pages((("Sweep", lambda: self.charts_page), ("Articulation", lambda: self.articulation)))
        column.addWidget(self.pages, 1)
        self._charts: dict[str, Chart] = {}
        self._in_turns = InTurns(self)
        self.pages.foot.addStretch(1)
        self.pages.turn_to(0)
        self.pages.turned.append(self._turned)
        bench.job_changed.connect(self.refresh)
        look.changed.connect(self._restyle)

    @property
    def charts(self) -> dict[str, Chart]:
        """The charts by name; those not made yet are made now."""
        for name in CHARTS:
            self._chart_called(name)
        return self._charts

    def _chart_called(self, name: str) -> Chart:
        if name not in self._charts:
            chart = self._charts[name] = Chart(self._look, "")
            i = CHARTS.index(name)
            self._grid.addWidget(chart, i // 2, i % 2)
            chart.hovered.connect(self.hover)
            chart.clicked.connect(self.go_to)
            offer_picture(chart, f"travel-{name}", self._bench.refused.emit)
        return self._charts[name]

    def get_ready(self) -> Iterator[None]:
        """Make the charts one at a time, and draw them, before the station is opened."""
        for name in CHARTS:
            self._chart_called(name)
            yield
        if not self.isVisible():
            self.draw()
        yield

    @cached_property
    def articulation(self) -> ArticulationPage:
        """The articulation map, made when first asked for."""
        page = ArticulationPage(self._bench, self._look)
        offer_picture(page.plot, "articulation", self._bench.refused.emit)
        return page

    def _fill_top(self) -> None:
        rows = QVBoxLayout(self.top)
        rows.setContentsMargins(0, 0, 0, 0)
        rows.setSpacing(2)
        row = QHBoxLayout()
        rows.addLayout(row)
        self.which = QComboBox()
        self.which.setAccessibleName("Sweep")
        for kind, words in SWEEPS.items():
            self.which.addItem(words, kind)
        self.which.activated.connect(lambda _: self.set_kind(self.which.currentData()))
        self.words = PlainLabel()
        self.words.setProperty("role", "faint")
        self.words.setWordWrap(True)
        self.over = QComboBox()
        self.over.setAccessibleName("Heights and anti figures over")
        self.over.addItem("axle rises, car stays", "ride")
        self.over.addItem("car comes down on it", "stands")
        self.over.setMinimumContentsLength(8)
        self.over.setToolTip(
            "Wheels up against the frame: a bump that lifts the axle under a car that stays (ground and CG as at ride "
            "height), or a car that comes down on its springs (ground and CG as it then stands)."
        )
        self.over.activated.connect(
            lambda _: self._bench.do(set_vehicle("Over which ground", over=self.over.currentData()))
        )
        row.addWidget(self.which)
        row.addWidget(self.over)
        row.addStretch(1)
        rows.addWidget(self.words)
        for title, start, kinds, use in (
            ("Table…", "travel.csv", "Table (*.csv)", self.save_table),
            ("Picture…", "travel.png", "Picture (*.png *.svg)", self.save_charts),
        ):
            button = QPushButton(title)
            button.clicked.connect(lambda _=False, s=start, k=kinds, u=use: ask_path(self, "Save", s, k, u))
            row.addWidget(button)

    def set_kind(self, kind: SweepKind) -> None:
        """Choose another sweep."""
        self.kind = kind
        self.which.setCurrentIndex(self.which.findData(kind))
        self.refresh()

    def turn_to(self, page: int) -> None:
        """Show the charts or the articulation map."""
        self.pages.turn_to(page)

    def _turned(self, page: int) -> None:
        self.top.setVisible(page == 0)
        self.refresh()
        self._in_turns.show(list(self._charts.values()) if page == 0 else [])

    def showEvent(self, _event: object) -> None:
        """Catch up with what changed while hidden."""
        self.refresh()
        self._in_turns.show(list(self._charts.values()) if self.pages.current == 0 else [])

    def _restyle(self) -> None:
        for chart in self._charts.values():
            chart.restyle()
        self.sketch.setFixedHeight(self._look.px(118))
        if 1 in self.pages.made:
            self.articulation.restyle()

    # --- saving

    def save_table(self, path: Path) -> None:
        """Save all answers of the sweep as CSV."""
        if self.sweep is None:
            self._bench.refused.emit("Table: there is no sweep to save.")
            return
        try:
            write_whole(path, sweep_csv(self.sweep, self._bench.job.units, HABITS.comma).encode("utf-8-sig"))
        except JobFileError as error:
            self._bench.refused.emit(str(error))

    def save_charts(self, path: Path) -> None:
        """Save the six charts as one picture."""
        self._in_turns.finish()
        try:
            save_picture(self.charts_box, path)
        except JobFileError as error:
            self._bench.refused.emit(str(error))

    # --- hovering

    def hover(self, index: int) -> None:
        """Show the sample under the mouse in every chart and on the drawing."""
        for chart in self.charts.values():
            chart.show_hover(index)
        study = self._bench.study(self._bench.axle_key)
        if self.sweep is None or study is None:
            return
        if index < 0 or not self.sweep.ok[index]:
            self._say()
            self._sketch(study)
            return
        units, now = self._bench.job.units, take(self.sweep, slice(index, index + 1))
        parts = [f"left {format_value('x_mm', float(now.left[0]), units)}",
                 f"right {format_value('x_mm', float(now.right[0]), units)}"]  # fmt: skip
        for key in (main_anti_key(self._bench.job.vehicle, study.axle), "roll_center_mm", "roll_steer_pct"):
            if key in now.values:
                parts.append(f"{TITLES[key].lower()} {format_value(key, now.value(key), units)}")
        self.words.setText("   ".join(parts) + "   (click to go there)")
        self._sketch(AxleStudy(study.vehicle, study.axle, now, study.travel, {}))

    def go_to(self, index: int) -> None:
        """Put the wheels where a chart was clicked."""
        if self.sweep is not None and self.sweep.ok[index]:
            self._bench.set_posture(float(self.sweep.left[index]), float(self.sweep.right[index]))

    def _sketch(self, study: AxleStudy) -> None:
        vehicle, axle = self._bench.job.vehicle, study.axle
        view = "side" if self.kind == "bump" else "rear"
        places = [AxlePlace(a, study if a.key == axle.key else None) for a in vehicle.axles]
        shapes = car_shapes(vehicle, places, view, axle.key)  # type: ignore[arg-type]
        self.sketch.show_shapes(shapes, view_frame(vehicle, axle, view, False))  # type: ignore[arg-type]

    # --- showing

    def _swept(self, name: str, study: AxleStudy | None) -> Answers | None:
        """The sweep of a study, kept until study or kind changes; the plain one is there already."""
        if study is None:
            return None
        if self.kind == "bump":
            return study.travel.sweep
        kept = self._kept.get((name, self.kind))
        if kept is None or kept[0] is not study.axle or kept[1] is not self._bench.job.vehicle:
            try:
                found = study_sweep(self._bench.job.vehicle, study.axle, self.kind)
            except StanceError:
                return None
            kept = self._kept[name, self.kind] = (study.axle, self._bench.job.vehicle, found)
        return kept[2]

    def refresh(self) -> None:
        """Show the page looked at as things are now."""
        if not self.isVisible():
            return
        if self.pages.current == 1:
            self.articulation.refresh()
        else:
            self.draw()

    def draw(self) -> None:
        """Draw the curves of the axle looked at."""
        bench = self._bench
        self.over.setCurrentIndex(self.over.findData(bench.job.vehicle.over))
        study = bench.study(bench.axle_key)
        self.sweep = self._swept(bench.axle_key, study)
        if study is None or self.sweep is None:
            self.words.setText(
                bench.studies.layout_error(bench.axle_key) or "This axle has no links: start one in Links."
            )
            for chart in self.charts.values():
                chart.show_curves(np.array([]), np.array([]), (np.nan, np.nan), (None, None))
            return
        others = [a for a in bench.job.vehicle.axles if a.key != bench.axle_key and a.members]
        other = self._swept(others[0].key, bench.study(others[0].key)) if others else None
        beneath = self._swept("beneath", bench.overlaid_study(bench.axle_key))
        self._say()
        unit, per = ("in", 25.4) if bench.job.units == "us" else ("mm", 1.0)
        anti = main_anti_key(bench.job.vehicle, bench.axle)
        self._chart("anti", f"{TITLES[anti]}, %", anti, anti, 1.0, other, beneath)
        self._center(self.sweep, study, per, unit)
        self._chart("roll", f"Roll center height, {unit}", "roll_center_mm", "roll_center_mm", per, other, beneath)
        title = "Pinion turn, nose up, °" if bench.axle.driven else "Caster gained, °"
        up = float(pinion_up(bench.axle, 1.0)) if bench.axle.driven else -1.0
        self._chart("pinion", title, "pitch_deg", "", up, other, beneath)
        if self.kind == "bump":
            self._chart("base", f"Axle ahead of its place, {unit}", "shift_x_mm", "", per, other, beneath)
        else:
            self._chart("base", "Axle steered toward left, °", "yaw_deg", "", 1.0, other, beneath)
        self._chart("shift", f"Axle to the left of its place, {unit}", "shift_y_mm", "", per, other, beneath)
        self._sketch(study)

    def _say(self) -> None:
        unit = "in" if self._bench.job.units == "us" else "mm"
        words = f"Against travel, {unit}. Dashed lines: wanted band; triangle: farthest out of it."
        others = [a.key for a in self._bench.job.vehicle.axles if a.key != self._bench.axle_key and a.members]
        if others:
            words += f" Dotted: {others[0]} axle."
        if self._bench.overlaid is not None:
            words += f" Dashed curve: {self._bench.look_at.overlay}."
        self.words.setText(words)

    def _across(self, sweep: Answers) -> Array:
        """What is laid along the bottom: travel of the wheel that moves."""
        per = 25.4 if self._bench.job.units == "us" else 1.0
        moving: Array = (sweep.right if self.kind == "right" else sweep.left) / per
        return moving

    def _chart(
        self, name: str, title: str, key: str, band_key: str, per: float, other: Answers | None,
        beneath: Answers | None,
    ) -> None:  # fmt: skip
        bench, sweep = self._bench, self.sweep
        study = bench.study(bench.axle_key)
        assert study is not None
        assert sweep is not None
        chart = self.charts[name]
        self._title(chart, title)
        low = high = None
        if band_key in judged_keys():
            band = wanted(bench.job, band_key, bench.axle_key).band
            low = None if band.low is None else band.low / per
            high = None if band.high is None else band.high / per
        y = np.round(sweep.values[key] / per, 6)
        here = self._here(study, round(study.now.value(key) / per, 6))
        curves = [
            (self._across(o), np.round(o.values[key] / per, 6)) if o is not None and key in o.values else None
            for o in (other, beneath)
        ]
        chart.show_curves(self._across(sweep), y, here, (low, high), *curves)

    def _here(self, study: AxleStudy, value: float) -> tuple[float, float]:
        """Where the wheels are now, if that is on this sweep."""
        per = 25.4 if self._bench.job.units == "us" else 1.0
        left, right = float(study.now.left[0]), float(study.now.right[0])
        on = {
            "bump": abs(left - right) < 0.5, "roll": abs(left + right) < 0.5, "left": abs(right) < 0.5,
            "right": abs(left) < 0.5, "cross": abs(left + right - study.axle.bump_mm + study.axle.droop_mm) < 0.5,
        }[self.kind]  # fmt: skip
        return ((right if self.kind == "right" else left) / per, value) if on else (np.nan, np.nan)

    def _title(self, chart: Chart, title: str) -> None:
        if chart.title != title:
            chart.title = title
            chart.restyle()

    def _center(self, sweep: Answers, study: AxleStudy, per: float, unit: str) -> None:
        chart, now = self.charts["center"], study.now
        self._title(chart, f"Instant center: up against ahead, {unit}")
        behind = self._bench.axle.behind_front_mm
        x, z = sweep.values["ic_x_mm"] + behind, sweep.values["ic_z_mm"]
        # A center beyond three car lengths says only "nearly parallel": it would flatten the rest of the path.
        near = np.abs(x) < min(FAR_MM, 5.0 * self._bench.job.vehicle.wheelbase_mm)
        x, z = np.where(near, x, np.nan), np.where(near, z, np.nan)
        place = ((now.value("ic_x_mm") + behind) / per, now.value("ic_z_mm") / per)
        if abs(place[0] * per) > 5.0 * self._bench.job.vehicle.wheelbase_mm:
            place = (np.nan, np.nan)
        chart.show_curves(x / per, z / per, place, (None, None))
