"""A chart: one answer along a sweep, to be hovered and clicked."""

import numpy as np
import pyqtgraph as pg
from PyQt6.QtCore import QPointF, Qt, pyqtSignal

from even_stance.desktop.look import Look
from even_stance.mechanics.vectors import Array

Band = tuple[float | None, float | None]


class Chart(pg.PlotWidget):  # type: ignore[misc]
    """One answer along a sweep: its wanted band, where the wheels are, the worst spot, and other curves faintly.

    Signals:
        hovered: the sample under the mouse, -1 when it leaves; clicked: the sample that was clicked.
    """

    hovered = pyqtSignal(int)
    clicked = pyqtSignal(int)

    def __init__(self, look: Look, title: str) -> None:
        super().__init__()
        self._look = look
        self.title = title
        self.x, self.y = np.array([]), np.array([])
        self._quiet = False
        self.setMenuEnabled(False)
        self.setMouseEnabled(x=False, y=False)
        self.hideButtons()
        self.other = self.plot([], [])
        self.beneath = self.plot([], [])
        self.curve = self.plot([], [])
        self.dot = self.plot([], [], symbol="o", pen=None)
        self.worst = self.plot([], [], symbol="t", pen=None)
        self.hover = self.plot([], [], symbol="x", pen=None)
        self.low = pg.InfiniteLine(angle=0)
        self.high = pg.InfiniteLine(angle=0)
        for line in (self.low, self.high):
            self.addItem(line, ignoreBounds=True)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.scene().sigMouseMoved.connect(self._moved)
        self.scene().sigMouseClicked.connect(lambda event: self._click(event.scenePos()))
        self.restyle()

    def restyle(self) -> None:
        """Colors and type of the look in use."""
        look = self._look
        self.setBackground(look.color("sheet"))
        self.curve.setPen(pg.mkPen(look.color("accent"), width=look.px(2.5)))
        self.other.setPen(pg.mkPen(look.color("faint"), width=look.px(1.5), style=Qt.PenStyle.DotLine))
        self.beneath.setPen(pg.mkPen(look.color("upper"), width=look.px(1.5), style=Qt.PenStyle.DashLine))
        for item, color, size in ((self.dot, "bubble", 12), (self.worst, "alarm", 10), (self.hover, "ink", 10)):
            item.setSymbolBrush(look.color(color))
            item.setSymbolPen(pg.mkPen(look.color("ink"), width=1.5))
            item.setSymbolSize(look.px(size))
        for line in (self.low, self.high):
            line.setPen(pg.mkPen(look.color("ink"), width=1.2, style=Qt.PenStyle.DashLine))
        for side in ("left", "bottom"):
            axis = self.getAxis(side)
            axis.setPen(look.color("faint"))
            axis.setTextPen(look.color("ink"))
            axis.setTickFont(look.font(11))
        self.setTitle(self.title, color=look.colors.ink)
        self.plotItem.titleLabel.item.setFont(look.font(13))

    def show_curve(self, x: Array, y: Array, now: tuple[float, float], band: Band) -> None:
        """Show a curve; values that are not there leave gaps."""
        # Scrubbing along the travel moves only the dot.
        if not (np.array_equal(x, self.x, equal_nan=True) and np.array_equal(y, self.y, equal_nan=True)):
            self.x, self.y = x, y
            self.curve.setData(x, y, connect="finite")
        seen = bool(np.isfinite(now).all())
        self.dot.setData([now[0]] if seen else [], [now[1]] if seen else [])
        self._mark_worst(band)
        for line, mark in ((self.low, band[0]), (self.high, band[1])):
            line.setVisible(mark is not None)
            if mark is not None:
                line.setValue(mark)

    def _mark_worst(self, band: Band) -> None:
        """A triangle where the curve is farthest outside its band."""
        low, high = (-np.inf if band[0] is None else band[0]), (np.inf if band[1] is None else band[1])
        off = np.nan_to_num(np.maximum(low - self.y, self.y - high), nan=-np.inf)
        at = int(off.argmax()) if off.size else -1
        out = at >= 0 and off[at] > 0
        self.worst.setData([self.x[at]] if out else [], [self.y[at]] if out else [])

    def show_others(self, other: tuple[Array, Array] | None, beneath: tuple[Array, Array] | None) -> None:
        """Show the other axle's curve and that of the variant beneath, or none."""
        for item, curve in ((self.other, other), (self.beneath, beneath)):
            x, y = curve if curve is not None else (np.array([]), np.array([]))
            item.setData(x, y, connect="finite")

    def show_hover(self, index: int) -> None:
        """Mark one sample."""
        there = 0 <= index < len(self.x) and bool(np.isfinite(self.y[index]) and np.isfinite(self.x[index]))
        self.hover.setData([self.x[index]] if there else [], [self.y[index]] if there else [])

    def show_quiet(self, quiet: bool) -> None:
        """A curve that does not move gets a fixed range: its rounding noise must not be blown up."""
        if quiet != self._quiet:
            self._quiet = quiet
            if quiet:
                self.setYRange(-0.1, 0.1)
            else:
                self.enableAutoRange()

    def sample_at(self, where: QPointF) -> int:
        """The sample nearest to a place of the scene, -1 outside."""
        if not len(self.x) or not self.plotItem.sceneBoundingRect().contains(where):
            return -1
        x = self.plotItem.vb.mapSceneToView(where).x()
        return int(np.nanargmin(np.abs(self.x - x))) if np.isfinite(self.x).any() else -1

    def _moved(self, where: QPointF) -> None:
        self.hovered.emit(self.sample_at(where))

    def _click(self, where: QPointF) -> None:
        index = self.sample_at(where)
        if index >= 0:
            self.clicked.emit(index)
