"""A chart: one answer along a sweep, to be hovered and clicked."""

from collections.abc import Sequence

import numpy as np
import pyqtgraph as pg
from PyQt6.QtCore import QPointF, QSize, Qt, pyqtSignal

from even_stance.desktop.look import Look
from even_stance.mechanics.vectors import Array
from even_stance.units import shown

Band = tuple[float | None, float | None]
Curve = tuple[Array, Array]
Place = tuple[float, float]
_NOWHERE = (np.nan, np.nan)
_QUIET = 0.2  # the least range up and down, in the unit of the chart


class Axis(pg.AxisItem):  # type: ignore[misc]
    """An axis whose figures have their decimals as the person reads them."""

    def tickStrings(self, values: list[float], scale: float, spacing: float) -> list[str]:
        """What stands at the ticks."""
        return [shown(words) for words in super().tickStrings(values, scale, spacing)]


def _own_axes() -> dict[str, Axis]:
    """Axes for a plot."""
    return {side: Axis(side) for side in ("bottom", "left")}


def apart(places: Sequence[float], least: float, low: float, high: float) -> list[float]:
    """Places for words along a line: as near to the ones asked for as lets none lie on another, in the same order.

    Args:
        places: where they would be.
        least: how far from one to the next at least.
        low, high: where they have to stay; they are closer than `least` where there is no room for all.
    """
    order = np.argsort(places, kind="stable")
    step = min(least, (high - low) / max(len(places) - 1, 1))
    at = np.asarray(places, dtype=np.float64)[order]
    for i in range(1, len(at)):
        at[i] = max(at[i], at[i - 1] + step)
    top = high
    for i in reversed(range(len(at))):
        at[i] = top = min(at[i], top)
        top -= step
    at = np.maximum(at, low + step * np.arange(len(at)))
    spread = np.empty_like(at)
    spread[order] = at
    return [float(v) for v in spread]


class Plot(pg.PlotWidget):  # type: ignore[misc]
    """A plot that stands still, with axes of the house."""

    def __init__(self, look: Look) -> None:
        super().__init__(enableMenu=False, axisItems=_own_axes())
        self._look = look
        self.setMouseEnabled(x=False, y=False)
        self.hideButtons()

    def sizeHint(self) -> QSize:
        """The room it likes: a view's own hint is the room it had last, and a page that scrolls would only grow."""
        return QSize(self._look.px(300), self._look.px(220))


class Chart(Plot):
    """One answer along a sweep: its wanted band, where the wheels are, the worst spot, and other curves faintly.

    Signals:
        hovered: the sample under the mouse, -1 when it leaves; clicked: the sample that was clicked.
    """

    hovered = pyqtSignal(int)
    clicked = pyqtSignal(int)

    def __init__(self, look: Look, title: str) -> None:
        super().__init__(look)
        self.title = title
        self.x, self.y = np.array([]), np.array([])
        self.plotItem.disableAutoRange()
        # Plain curves and dots: the plots that bundle them bring much that is not used here, at twice the time.
        self.other, self.beneath, self.curve = (pg.PlotCurveItem(connect="finite") for _ in range(3))
        self.dot, self.worst, self.hover = (pg.ScatterPlotItem(symbol=symbol) for symbol in ("o", "t", "x"))
        for item in (self.other, self.beneath, self.curve, self.dot, self.worst, self.hover):
            self.addItem(item)
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
            item.setBrush(look.color(color))
            item.setPen(pg.mkPen(look.color("ink"), width=1.5))
            item.setSize(look.px(size))
        for line in (self.low, self.high):
            line.setPen(pg.mkPen(look.color("ink"), width=1.2, style=Qt.PenStyle.DashLine))
        for side in ("left", "bottom"):
            axis = self.getAxis(side)
            axis.setPen(look.color("faint"))
            axis.setTextPen(look.color("ink"))
            axis.setTickFont(look.font(12))
            axis.setStyle(maxTickLevel=0)  # the small ticks between take half the time of an axis and say nothing
        self.setTitle(self.title, color=look.colors.ink)
        self.plotItem.titleLabel.item.setFont(look.font(13))

    def show_curves(
        self, x: Array, y: Array, now: Place, band: Band, other: Curve | None = None, beneath: Curve | None = None
    ) -> None:
        """Show a curve with where the wheels are on it and its band; values that are not there leave gaps.

        Args:
            x, y: the curve.
            now: where the wheels are, nan where they are not on it.
            band: the wanted band.
            other: the other axle's curve, if it is shown.
            beneath: that of the variant beneath, if it is shown.
        """
        self.x, self.y = x, y
        none = np.array([]), np.array([])
        for item, curve in ((self.curve, (x, y)), (self.other, other or none), (self.beneath, beneath or none)):
            # Scrubbing along the travel moves only the dot.
            if not all(np.array_equal(a, b, equal_nan=True) for a, b in zip(curve, _data(item), strict=True)):
                item.setData(*curve)
        self._put(self.dot, now)
        self._mark_worst(band)
        for line, mark in ((self.low, band[0]), (self.high, band[1])):
            line.setVisible(mark is not None)
            if mark is not None:
                line.setValue(mark)
        self._fit([_data(item) for item in (self.curve, self.other, self.beneath)], now)

    def _put(self, dots: pg.ScatterPlotItem, place: Place) -> None:
        """One dot at a place, or none where it is not there."""
        there = [[v] for v in place] if np.isfinite(place).all() else [[], []]
        if [list(a) for a in _data(dots)] != there:
            dots.setData(*there)

    def _fit(self, curves: list[Curve], now: Place) -> None:
        """Show all of the curves. The range stays as long as it fits about, so that a drag does not make it jump."""
        for axis, least in ((0, 1e-6), (1, _QUIET)):
            every = np.concatenate([*(c[axis] for c in curves), [now[axis]]])
            every = every[np.isfinite(every)]
            if not every.size:
                continue
            low, high = float(every.min()), float(every.max())
            # A curve that does not move gets a fixed range: its rounding noise must not be blown up.
            if high - low < least:
                low, high = (low + high - least) / 2, (low + high + least) / 2
            seen = self.plotItem.vb.viewRange()[axis]
            if not (seen[0] <= low and high <= seen[1] and high - low >= 0.75 * (seen[1] - seen[0])):
                setter = self.plotItem.setXRange if axis == 0 else self.plotItem.setYRange
                setter(low, high, padding=0.06)

    def _mark_worst(self, band: Band) -> None:
        """A triangle where the curve is farthest outside its band."""
        low, high = (-np.inf if band[0] is None else band[0]), (np.inf if band[1] is None else band[1])
        off = np.nan_to_num(np.maximum(low - self.y, self.y - high), nan=-np.inf)
        at = int(off.argmax()) if off.size else -1
        out = at >= 0 and off[at] > 0
        self._put(self.worst, (self.x[at], self.y[at]) if out else _NOWHERE)

    def show_hover(self, index: int) -> None:
        """Mark one sample."""
        self._put(self.hover, (self.x[index], self.y[index]) if 0 <= index < len(self.x) else _NOWHERE)

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


def _data(item: pg.PlotCurveItem | pg.ScatterPlotItem) -> Curve:
    """What an item shows; nothing at first."""
    x, y = item.getData()
    return (np.array([]), np.array([])) if x is None or y is None else (x, y)
