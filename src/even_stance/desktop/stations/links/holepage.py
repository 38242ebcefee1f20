"""The hole finder: all combinations tried beside the window, ranked, browsed, and shown as dots."""

from collections.abc import Iterator

import numpy as np
import pyqtgraph as pg
from PyQt6.QtCore import QPointF
from PyQt6.QtWidgets import (
    QComboBox,
    QDoubleSpinBox,
    QHBoxLayout,
    QProgressBar,
    QPushButton,
    QVBoxLayout,
)

from even_stance.desktop.background import LongWork
from even_stance.desktop.bench import Bench
from even_stance.desktop.exporting import offer_picture
from even_stance.desktop.look import Look
from even_stance.desktop.pages import SteppedPage
from even_stance.desktop.stations.links.askbar import AskBar
from even_stance.desktop.widgets.chart import Plot
from even_stance.desktop.widgets.fields import Labeled
from even_stance.desktop.widgets.labels import PlainLabel, plain_tip
from even_stance.desktop.widgets.signalblock import blocked
from even_stance.desktop.widgets.table import plain_table, set_text
from even_stance.judgement.bands import band_key, wanted
from even_stance.judgement.search.holefinder import AxleTries, HoleSearch, find_holes, second_pass
from even_stance.judgement.verdicts import TITLES, band_words
from even_stance.units import length_unit
from even_stance.vehicle.edits import set_job
from even_stance.vehicle.job import Job

_SHOWN = 60


class HolePage(SteppedPage):
    """Start and stop, the best combinations, and a scatter of any two answers."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench, self._look = bench, look
        self.found: HoleSearch | None = None
        self._searched: Job | None = None
        self._drawn: object = None
        self.work = LongWork(self)
        self.work.progressed.connect(lambda share: self.bar.setValue(round(100 * share)))
        self.work.done.connect(self._arrived)

    def build(self) -> Iterator[None]:
        """The search above, what it found, and the scatter below."""
        column = QVBoxLayout(self)
        column.setContentsMargins(12, 8, 12, 4)
        top = QHBoxLayout()
        self.start = QPushButton("Try every hole")
        self.start.setProperty("main", "true")
        self.start.clicked.connect(self.search)
        self.stop = QPushButton("Stop")
        self.stop.clicked.connect(self.work.stop)
        self.stop.setEnabled(False)
        self.bar = QProgressBar()
        self.bar.setAccessibleName("How far the search is")
        self.deep = QPushButton("Travel too, for the best")
        self.deep.setToolTip("Study the best 24 again over all travel and articulation, and rank them anew")
        self.deep.clicked.connect(self.search_deep)
        self.deep.setEnabled(False)
        for widget, stretch in ((self.start, 0), (self.stop, 0), (self.bar, 1), (self.deep, 0)):
            top.addWidget(widget, stretch)
        column.addLayout(top)
        self.words = PlainLabel(
            "Every combination of bracket holes on all axles is tried at ride height and ranked by your bands, each "
            "number counting by its weight."
        )
        self.words.setWordWrap(True)
        column.addWidget(self.words)
        self.table = plain_table(("Rank", "Holes to change"), "Best combinations", wide=1)
        self.table.currentCellChanged.connect(lambda row, *_: self._mark(row))
        column.addWidget(self.table, 5)
        self.take = QPushButton("Try this one as a variant")
        self.take.clicked.connect(self._take)
        self.take.setEnabled(False)
        column.addWidget(self.take)
        row = QHBoxLayout()
        yield
        row.addLayout(self._scatter(), 5)
        yield
        self.weights = plain_table(("Number", "Wanted", "Weight"), "Weights of the numbers", wide=0)
        right = QVBoxLayout()
        right.addWidget(self.weights, 1)
        self.ask = AskBar(self._bench)
        right.addWidget(self.ask)
        row.addLayout(right, 4)
        column.addLayout(row, 5)

    def _scatter(self) -> QVBoxLayout:
        column = QVBoxLayout()
        self.plot = Plot(self._look)
        self.plot.setAccessibleName("All combinations as dots")
        offer_picture(self.plot, "holes", self._bench.refused.emit)
        self.dots = pg.ScatterPlotItem()
        self.now = self.plot.plot([], [], symbol="+", pen=None)
        self.picked = self.plot.plot([], [], symbol="o", pen=None)
        self.plot.addItem(self.dots)
        self.dots.sigClicked.connect(lambda _item, spots, *_: self._clicked(spots))
        axes = QHBoxLayout()
        self.across, self.along = QComboBox(), QComboBox()
        for box in (self.across, self.along):
            box.currentIndexChanged.connect(lambda _: self._draw())
        axes.addWidget(Labeled(self._bench, "Up", self.along))
        axes.addWidget(Labeled(self._bench, "Across", self.across))
        column.addWidget(self.plot, 1)
        column.addLayout(axes)
        return column

    # --- searching

    def search(self) -> None:
        """Try every combination."""
        job = self._bench.job
        self._searched = job
        self._busy(True)
        self.words.setText("Trying every combination…")
        self.work.start(lambda progress, stopped: find_holes(job, progress, stopped))

    def search_deep(self) -> None:
        """Study the best ones over travel and articulation."""
        job, found = self._searched, self.found
        if job is None or found is None:
            return
        self._busy(True)
        self.words.setText("Studying the best ones over all travel…")
        self.work.start(lambda progress, stopped: second_pass(job, found, progress=progress, stopped=stopped))

    def _busy(self, busy: bool) -> None:
        self.start.setEnabled(not busy)
        self.stop.setEnabled(busy)
        self.deep.setEnabled(not busy and self.found is not None)
        self.take.setEnabled(not busy and self.found is not None)
        if busy:
            self.bar.setValue(0)

    def _arrived(self, found: object) -> None:
        if isinstance(found, HoleSearch):
            self.found = found
        self._busy(False)
        if not isinstance(found, HoleSearch):
            self.words.setText(str(found))
            return
        self.bar.setValue(100)
        state = "" if found.complete else " Stopped before all were tried: these are the best of those."
        assert self._searched is not None
        self.words.setText(f"{found.count:,} combinations ranked. {found.met_words(self._searched)}{state}")
        self._fill()
        own = self._tries
        keys = list(dict.fromkeys(k for t in (*([] if own is None else [own]), *found.tries) for k in t.values))
        for n, box in enumerate((self.along, self.across)):
            with blocked(box):
                box.clear()
                for key in keys:
                    box.addItem(next(t.title(key) for t in found.tries if key in t.values), key)
                box.setCurrentIndex(min(n, len(keys) - 1))
        self._draw()

    def _fill(self) -> None:
        found, units = self.found, self._bench.job.units
        assert found is not None
        axle = self._tries
        # What was asked for besides comes first: it is what this search was for.
        keys = [] if axle is None else list(dict.fromkeys((*(w.key for w in axle.asked), *axle.values)))[:5]
        best = found.best[:_SHOWN]
        self.table.setColumnCount(2 + len(keys))
        titles = [] if axle is None else [axle.title(k) for k in keys]
        self.table.setHorizontalHeaderLabels(["Rank", "Holes to change", *titles])
        self.table.setRowCount(len(best))
        for i, pick in enumerate(best):
            whole = "" if pick.whole_score is None else " ✓"
            set_text(self.table, i, 0, f"{i + 1}{whole}")
            set_text(self.table, i, 1, found.short_words(pick), right=False)
            item = self.table.item(i, 1)
            if item is not None:
                item.setToolTip(plain_tip(found.words(pick)))
            for j, key in enumerate(keys):
                assert axle is not None
                row = pick.picks[found.tries.index(axle)]
                set_text(self.table, i, 2 + j, axle.reading(key, float(axle.values[key][row]), units))
        if best:
            self.table.setCurrentCell(0, 0)

    @property
    def _tries(self) -> AxleTries | None:
        """The tries of the axle looked at."""
        found = self.found
        return None if found is None else next((t for t in found.tries if t.key == self._bench.axle_key), None)

    # --- the dots

    def _scaled(self, key: str) -> float:
        return 25.4 if key.endswith("_mm") and self._bench.job.units == "us" else 1.0

    def _draw(self) -> None:
        axle, x_key, y_key = self._tries, self.across.currentData(), self.along.currentData()
        look = self._look
        self.plot.setBackground(look.color("sheet"))
        for side in ("bottom", "left"):
            axis = self.plot.getAxis(side)
            axis.setPen(look.color("faint"))
            axis.setTextPen(look.color("ink"))
            axis.setTickFont(look.font(12))
        if axle is None or x_key not in axle.values or y_key not in axle.values:
            self.dots.clear()
            self.now.setData([], [])
            self._mark(-1)
            return
        x, y = axle.values[x_key] / self._scaled(x_key), axle.values[y_key] / self._scaled(y_key)
        step = max(1, len(x) // 4000)
        self.dots.setData(x[::step], y[::step], data=np.arange(len(x))[::step], size=look.px(6),
                          brush=look.color("lower", 130), pen=None)  # fmt: skip
        present = np.all(axle.holes == np.array([b.now for b in axle.brackets]), axis=1) if len(axle.brackets) else []
        rows = np.flatnonzero(present)
        self.now.setData(x[rows], y[rows])
        self.now.setSymbolPen(pg.mkPen(look.color("alarm"), width=3))
        self.now.setSymbolSize(look.px(18))
        for side, box in (("bottom", self.across), ("left", self.along)):
            unit = {"mm": length_unit(self._bench.job.units), "pct": "%", "deg": "°"}
            self.plot.getAxis(side).setLabel(f"{box.currentText()}, {unit[box.currentData().rsplit('_', 1)[-1]]}")
        self._mark(self.table.currentRow())

    def _mark(self, row: int) -> None:
        axle, found = self._tries, self.found
        x_key, y_key = self.across.currentData(), self.along.currentData()
        self.take.setEnabled(found is not None and 0 <= row < len(found.best) and not self.work.running)
        known = axle is not None and x_key in axle.values and y_key in axle.values
        if axle is None or found is None or not 0 <= row < len(found.best) or not known:
            self.picked.setData([], [])
            return
        at = found.best[row].picks[found.tries.index(axle)]
        self.picked.setData(
            [axle.values[x_key][at] / self._scaled(x_key)], [axle.values[y_key][at] / self._scaled(y_key)]
        )
        self.picked.setSymbolBrush(self._look.color("bubble"))
        self.picked.setSymbolPen(pg.mkPen(self._look.color("ink"), width=2))
        self.picked.setSymbolSize(self._look.px(14))

    def _clicked(self, spots: list[QPointF]) -> None:
        axle, found = self._tries, self.found
        if axle is None or found is None or not len(spots):
            return
        row = int(spots[0].data())  # type: ignore[attr-defined]
        at = found.tries.index(axle)
        best = next((i for i, c in enumerate(found.best[:_SHOWN]) if c.picks[at] == row), None)
        if best is not None:
            self.table.setCurrentCell(best, 0)

    def _take(self) -> None:
        found, row = self.found, self.table.currentRow()
        if found is None or not 0 <= row < len(found.best):
            return
        edit = found.edit(found.best[row])
        if self._bench.try_as_variant(edit, "Holes").done:
            self.words.setText(f"{found.words(found.best[row])}: tried as “{self._bench.job.branch}”.")

    # --- weights

    def refresh(self) -> None:
        """Show the weights; say so when what was found belongs to an earlier state of the job."""
        job = self._bench.job
        now = (self._bench.axle_key, self._look.name, self._look.percent, job.units)
        if now != self._drawn:
            self._drawn = now
            self._draw()
        study = self._bench.study(self._bench.axle_key)
        keys = [] if study is None else [f.key for f in study.figures]
        self.ask.refresh()
        if self.weights.rowCount() != len(keys):
            self.weights.setRowCount(0)
            self.weights.setRowCount(len(keys))
        for i, key in enumerate(keys):
            set_text(self.weights, i, 0, TITLES[key], right=False)
            set_text(self.weights, i, 1, band_words(key, wanted(job, key, self._bench.axle_key).band, job.units))
            box = self.weights.cellWidget(i, 2)
            if not isinstance(box, QDoubleSpinBox):
                box = QDoubleSpinBox()
                box.setRange(0.0, 10.0)
                box.setSingleStep(0.5)
                box.setDecimals(1)
                self.weights.setCellWidget(i, 2, box)
                box.valueChanged.connect(lambda value, box=box: self._weigh(str(box.property("figure")), value))
            box.setProperty("figure", key)
            box.setAccessibleName(f"Weight of {TITLES[key]}")
            with blocked(box):
                box.setValue(job.weights.get(band_key(key), 1.0))
        if self.found is not None and self._searched is not None and not self.work.running:
            before = self._searched
            asked = (before.vehicle, before.weights, before.wishes, before.bands)
            changed = asked != (job.vehicle, job.weights, job.wishes, job.bands)
            if changed and "changed since" not in self.words.text():
                self.words.setText(self.words.text() + " The job has changed since: try again for what holds now.")

    def _weigh(self, key: str, value: float) -> None:
        self._bench.do(set_job(f"Weight of {TITLES[key].lower()}", merge=f"weight {key}",
                               weights=self._bench.job.weights | {band_key(key): value}))  # fmt: skip
