"""The Travel station: how every answer changes from full droop to full bump."""

import numpy as np
import pyqtgraph as pg
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QGridLayout, QLabel, QVBoxLayout, QWidget

from even_stance.desktop.bench import Bench
from even_stance.desktop.look import Look
from even_stance.desktop.pages import Pages
from even_stance.desktop.stations.articulation import ArticulationPage
from even_stance.judgement.bands import judged_keys, wanted
from even_stance.mechanics.vectors import Array
from even_stance.study.answers import FAR_MM, Answers

_FRONT = ("anti_dive_pct", "Anti-dive, %")
_REAR = ("anti_squat_pct", "Anti-squat, %")


class Chart(pg.PlotWidget):  # type: ignore[misc]
    """One answer against travel, with its wanted band and where the wheels are now."""

    def __init__(self, look: Look, title: str) -> None:
        super().__init__()
        self._look = look
        self.title = title
        self._x, self._y = np.array([]), np.array([])
        self._quiet = False
        self.setMenuEnabled(False)
        self.setMouseEnabled(x=False, y=False)
        self.hideButtons()
        self.curve = self.plot([], [])
        self.dot = self.plot([], [], symbol="o", pen=None)
        self.low = pg.InfiniteLine(angle=0)
        self.high = pg.InfiniteLine(angle=0)
        for line in (self.low, self.high):
            self.addItem(line, ignoreBounds=True)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.restyle()

    def restyle(self) -> None:
        """Colors and type of the look in use."""
        look = self._look
        self.setBackground(look.color("sheet"))
        self.curve.setPen(pg.mkPen(look.color("accent"), width=look.px(2.5)))
        self.dot.setSymbolBrush(look.color("bubble"))
        self.dot.setSymbolPen(pg.mkPen(look.color("ink"), width=1.5))
        self.dot.setSymbolSize(look.px(12))
        for line in (self.low, self.high):
            line.setPen(pg.mkPen(look.color("ink"), width=1.2, style=Qt.PenStyle.DashLine))
        for side in ("left", "bottom"):
            axis = self.getAxis(side)
            axis.setPen(look.color("faint"))
            axis.setTextPen(look.color("ink"))
            axis.setTickFont(look.font(11))
        self.setTitle(self.title, color=look.colors.ink)
        self.plotItem.titleLabel.item.setFont(look.font(13))

    def show_curve(self, x: Array, y: Array, now: tuple[float, float], band: tuple[float | None, float | None]) -> None:
        """Show a curve; values that are not there leave gaps."""
        # Scrubbing along the travel moves only the dot.
        if not (np.array_equal(x, self._x, equal_nan=True) and np.array_equal(y, self._y, equal_nan=True)):
            self._x, self._y = x, y
            self.curve.setData(x, y, connect="finite")
        seen = bool(np.isfinite(now).all())
        self.dot.setData([now[0]] if seen else [], [now[1]] if seen else [])
        for line, mark in ((self.low, band[0]), (self.high, band[1])):
            line.setVisible(mark is not None)
            if mark is not None:
                line.setValue(mark)

    def show_quiet(self, quiet: bool) -> None:
        """A curve that does not move gets a fixed range: its rounding noise must not be blown up."""
        if quiet != self._quiet:
            self._quiet = quiet
            if quiet:
                self.setYRange(-0.1, 0.1)
            else:
                self.enableAutoRange()


class TravelStation(QWidget):
    """Six charts of the axle looked at."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench, self._look = bench, look
        column = QVBoxLayout(self)
        column.setContentsMargins(8, 6, 8, 6)
        self.words = QLabel()
        self.words.setProperty("role", "faint")
        self.words.setWordWrap(True)
        column.addWidget(self.words)
        self.articulation = ArticulationPage(bench, look)
        charts = QWidget()
        grid = QGridLayout(charts)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setSpacing(6)
        self.pages = Pages((("Both wheels", lambda: charts), ("Articulation", lambda: self.articulation)))
        column.addWidget(self.pages, 1)
        names = ("anti", "center", "roll", "pinion", "base", "shift")
        self.charts = {name: Chart(look, "") for name in names}
        for i, chart in enumerate(self.charts.values()):
            grid.addWidget(chart, i // 2, i % 2)
        self.pages.turn_to(0)
        self.pages.turned.append(self._turned)
        bench.job_changed.connect(self.refresh)
        look.changed.connect(self._restyle)

    def _turned(self, page: int) -> None:
        self.words.setVisible(page == 0)
        self.refresh()

    def turn_to(self, page: int) -> None:
        """Show the charts or the articulation map."""
        self.pages.turn_to(page)

    def showEvent(self, _event: object) -> None:
        """Catch up with what changed while hidden."""
        self.refresh()

    def _restyle(self) -> None:
        for chart in self.charts.values():
            chart.restyle()
        self.articulation.restyle()

    def refresh(self) -> None:
        """Draw the curves of the axle looked at."""
        if not self.isVisible():
            return
        if self.pages.current == 1:
            self.articulation.refresh()
            return
        bench = self._bench
        study = bench.study(bench.axle_key)
        if study is None:
            self.words.setText(bench.layout_error(bench.axle_key) or "This axle has no links: start one in Links.")
            for chart in self.charts.values():
                chart.show_curve(np.array([]), np.array([]), (np.nan, np.nan), (None, None))
            return
        us = bench.job.units == "us"
        unit, per = ("in", 25.4) if us else ("mm", 1.0)
        sweep, now = study.travel.sweep, study.now
        self.words.setText(f"Both wheels from full droop to full bump, {unit}. Dashed: the wanted band.")
        anti, title = _FRONT if bench.axle.is_front else _REAR
        if anti not in sweep.values:
            anti, title = "anti_lift_brake_pct", "Anti-lift in braking, %"
        self._chart("anti", title, anti, anti, 1.0)
        self._center(sweep, now, per, unit)
        self._chart("roll", f"Roll center height, {unit}", "roll_center_mm", "roll_center_mm", per)
        self._chart("pinion", "Pinion turn, nose up, °", "pitch_deg", "", -1.0)
        self._chart("base", f"Axle ahead of its place, {unit}", "shift_x_mm", "", per)
        self._chart("shift", f"Axle to the left of its place, {unit}", "shift_y_mm", "", per)

    def _chart(self, name: str, title: str, key: str, band_key: str, per: float) -> None:
        study = self._bench.study(self._bench.axle_key)
        assert study is not None
        sweep, now = study.travel.sweep, study.now
        travel_per = 25.4 if self._bench.job.units == "us" else 1.0
        chart = self.charts[name]
        if chart.title != title:
            chart.title = title
            chart.restyle()
        low = high = None
        if band_key in judged_keys():
            band = wanted(self._bench.job, band_key).band
            low = None if band.low is None else band.low / per
            high = None if band.high is None else band.high / per
        place = (float(now.left[0] + now.right[0]) / 2 / travel_per, now.value(key) / per)
        y = sweep.values[key] / per
        quiet = float(np.nanmax(np.abs(y))) < 0.05 if np.isfinite(y).any() else True
        chart.show_curve(sweep.left / travel_per, np.round(y, 6), place, (low, high))
        chart.show_quiet(quiet)

    def _center(self, sweep: Answers, now: Answers, per: float, unit: str) -> None:
        chart = self.charts["center"]
        title = f"Instant center path: up against ahead of this axle, {unit}"
        if chart.title != title:
            chart.title = title
            chart.restyle()
        behind = self._bench.axle.behind_front_mm
        x, z = sweep.values["ic_x_mm"] + behind, sweep.values["ic_z_mm"]
        # A center beyond three car lengths says only "nearly parallel": it would flatten the rest of the path.
        near = np.abs(x) < min(FAR_MM, 5.0 * self._bench.job.vehicle.wheelbase_mm)
        x, z = np.where(near, x, np.nan), np.where(near, z, np.nan)
        place = ((now.value("ic_x_mm") + behind) / per, now.value("ic_z_mm") / per)
        if abs(place[0] * per) > 5.0 * self._bench.job.vehicle.wheelbase_mm:
            place = (np.nan, np.nan)
        chart.show_curve(x / per, z / per, place, (None, None))
