"""The articulation map: left against right travel, how much swing the joints use, and each joint's worst posture."""

import numpy as np
import pyqtgraph as pg
from PyQt6.QtCore import QPointF
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from even_stance.desktop.background import LateStudy
from even_stance.desktop.bench import Bench
from even_stance.desktop.look import Look
from even_stance.desktop.widgets.chart import Plot
from even_stance.desktop.widgets.labels import PlainLabel
from even_stance.desktop.widgets.table import plain_table, set_text
from even_stance.study.articulation import Articulation, study_articulation
from even_stance.units import format_length
from even_stance.vehicle.car import Axle


class ArticulationPage(QWidget):
    """A map to look at and click into, and a list of the hardest-worked joints."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench, self._look = bench, look
        self.found: Articulation | None = None
        self._axle: Axle | None = None
        self.late = LateStudy(self)
        self.late.done.connect(self._arrived)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        self.plot = Plot(self._look)
        self.plot.setAccessibleName("Map of left against right wheel travel")
        self.image = pg.ImageItem()
        self.plot.addItem(self.image)
        self.limit = pg.IsocurveItem(level=100.0)
        self.limit.setParentItem(self.image)
        self.here = self.plot.plot([0], [0], symbol="o", pen=None)
        self.worst = self.plot.plot([], [], symbol="t", pen=None)
        self.plot.scene().sigMouseClicked.connect(lambda event: self._clicked(event.scenePos()))
        row.addWidget(self.plot, 3)
        side = QVBoxLayout()
        self.words = PlainLabel()
        self.words.setWordWrap(True)
        self.table = plain_table(("Joint", "Needs", "Has", "Worst at left, right"), "Worst postures")
        self.table.cellClicked.connect(self._go)
        self.table.cellActivated.connect(self._go)
        side.addWidget(self.words)
        side.addWidget(self.table, 1)
        row.addLayout(side, 3)
        self.restyle()

    def restyle(self) -> None:
        """Colors and type of the look in use."""
        look = self._look
        self.plot.setBackground(look.color("sheet"))
        for name in ("left", "bottom"):
            axis = self.plot.getAxis(name)
            axis.setPen(look.color("faint"))
            axis.setTextPen(look.color("ink"))
            axis.setTickFont(look.font(12))
        # From paper to accent to alarm: light to dark, readable without color.
        stops = [look.color("floor"), look.color("bubble"), look.color("accent"), look.color("alarm")]
        self.image.setColorMap(pg.ColorMap([0.0, 0.45, 0.85, 1.0], [c.getRgb() for c in stops]))
        self.limit.setPen(pg.mkPen(look.color("ink"), width=look.px(2)))
        self.here.setSymbolBrush(look.color("sheet"))
        self.here.setSymbolPen(pg.mkPen(look.color("ink"), width=2))
        self.worst.setSymbolBrush(look.color("alarm"))
        self.worst.setSymbolPen(pg.mkPen(look.color("ink"), width=1))

    def refresh(self) -> None:
        """Show the present posture, and ask for a new map when the axle changed."""
        bench, per = self._bench, self._per
        self.here.setData([bench.posture.left_mm / per], [bench.posture.right_mm / per])
        axle, vehicle = bench.axle, bench.job.vehicle
        if axle is not self._axle:
            self._axle = axle
            if axle.members:
                self.words.setText("Working the map out…")
                self.late.ask(lambda: study_articulation(vehicle, axle))
            else:
                self._arrived("This axle has no links: choose a layout in Links.")
        elif self.found is not None:
            self._show(self.found)

    @property
    def _per(self) -> float:
        return 25.4 if self._bench.job.units == "us" else 1.0

    def _arrived(self, found: object) -> None:
        if isinstance(found, Articulation):
            self.found = found
            self._show(found)
        else:
            self.found = None
            self.image.clear()
            self.table.setRowCount(0)
            self.words.setText(str(found))

    def _show(self, found: Articulation) -> None:
        per, units = self._per, self._bench.job.units
        low, high = found.travel_mm[0] / per, found.travel_mm[-1] / per
        step = (high - low) / max(len(found.travel_mm) - 1, 1)
        self.image.setImage(found.use_pct, levels=(0.0, 110.0))
        self.image.setRect(low - step / 2, low - step / 2, high - low + step, high - low + step)
        self.limit.setData(np.nan_to_num(found.use_pct, nan=200.0))
        unit = "in" if units == "us" else "mm"
        self.plot.setLabel("bottom", f"left wheel, {unit}")
        self.plot.setLabel("left", f"right wheel, {unit}")
        self.table.setRowCount(len(found.worst))
        for i, w in enumerate(found.worst):
            set_text(self.table, i, 0, w.joint, right=False)
            set_text(self.table, i, 1, f"{w.needed_deg:.0f}° ({w.use_pct:.0f} %)")
            set_text(self.table, i, 2, f"{w.limit_deg:.0f}°")
            set_text(self.table, i, 3, f"{format_length(w.left_mm, units)}, {format_length(w.right_mm, units)}")
        free = f"{100 * found.reachable:.0f} % of all postures can be reached."
        if found.worst:
            w = found.worst[0]
            self.worst.setData([w.left_mm / per], [w.right_mm / per])
            free += f" Hardest worked: {w.joint}, {w.needed_deg:.0f}° of {w.limit_deg:.0f}°."
        self.words.setText(free + " Click the map or a row to go there; the line is where a joint runs out of swing.")

    def _go(self, row: int, _column: int) -> None:
        if self.found is not None:
            w = self.found.worst[row]
            self._bench.set_posture(w.left_mm, w.right_mm)

    def _clicked(self, where: QPointF) -> None:
        at = self.plot.getViewBox().mapSceneToView(where)
        self._bench.set_posture(at.x() * self._per, at.y() * self._per)
