"""Gaps: every pair with what is wanted of it, its gap along travel, what touches as measured, and the car set lower."""

from collections.abc import Iterator

import numpy as np
from PyQt6.QtWidgets import QComboBox, QGridLayout, QHBoxLayout, QLabel, QPushButton

from even_stance.desktop.background import LateStudy
from even_stance.desktop.bench import Bench
from even_stance.desktop.look import Look
from even_stance.desktop.pages import SteppedPage
from even_stance.desktop.stations.clearance.held import HeldPair
from even_stance.desktop.stations.clearance.lookpage import GapTable
from even_stance.desktop.widgets.chart import Chart
from even_stance.desktop.widgets.fields import Labeled, LengthField
from even_stance.desktop.widgets.labels import PlainLabel, group_head
from even_stance.desktop.widgets.table import plain_table, set_text
from even_stance.judgement.clearances import gap_figure, gap_words, posture_words, wanted_of
from even_stance.mechanics.vectors import Array
from even_stance.study.clearances import Gap
from even_stance.study.gapmaps import gap_sweeps
from even_stance.study.lowering import lowered
from even_stance.units import MM_PER_INCH, format_length, length_unit
from even_stance.vehicle.car import Vehicle
from even_stance.vehicle.edits import put_together, want_gap

_ALL = 400


class GapsPage(SteppedPage):
    """Every pair known, and what may be asked of one."""

    def __init__(self, bench: Bench, look: Look, held: HeldPair) -> None:
        super().__init__()
        self._bench, self._look, self._held = bench, look, held
        self._of: object = None
        self._pairs: list[tuple[str, str, bool]] = []
        self._swept: tuple[Gap, Array, dict[str, Array]] | None = None
        self._lower = MM_PER_INCH if bench.job.units == "us" else 25.0
        self._asked: tuple[Vehicle, str, float] | None = None
        self.late = LateStudy(self)
        self.late.done.connect(self._lowered)
        self._late = LateStudy(self)
        self._late.done.connect(self._arrived)
        held.changed.connect(self.refresh)

    def build(self) -> Iterator[None]:
        """The list at the left; chart, lowering and what touches at the right."""
        grid = QGridLayout(self)
        grid.setContentsMargins(10, 6, 10, 4)
        self.list = GapTable(self._bench, self._held, _ALL)
        grid.addWidget(self.list, 0, 0, 1, 2)
        yield
        row = QHBoxLayout()
        self.wanted = LengthField(self._bench, "Gap wanted of this pair", self._want)
        self.wanted_label = Labeled(self._bench, "Gap wanted of this pair", self.wanted, "length")
        row.addWidget(self.wanted_label)
        self.usual = QPushButton("As usual")
        self.usual.setToolTip("Forget what was said of this pair: what its parts ask for counts again")
        self.usual.clicked.connect(lambda _=False: self._want(None))
        row.addWidget(self.usual)
        self.way = QComboBox()
        self.way.setAccessibleName("Along which travel")
        self.way.activated.connect(lambda _: self._chart())
        row.addWidget(Labeled(self._bench, "Gap along", self.way), 1)
        grid.addLayout(row, 1, 0)
        self.chart = Chart(self._look, "Gap over travel")
        self._look.changed.connect(self.chart.restyle)
        grid.addWidget(self.chart, 2, 0, 3, 1)
        yield
        below = QHBoxLayout()
        self.lowering = LengthField(self._bench, "Set this end lower by", self._set_lower)
        self.lower_label = Labeled(self._bench, "Set this end lower by", self.lowering, "length")
        below.addWidget(self.lower_label)
        self.lower_words: QLabel = PlainLabel()
        self.lower_words.setWordWrap(True)
        self.lower_words.setProperty("role", "faint")
        below.addWidget(self.lower_words, 1)
        grid.addLayout(below, 1, 1)
        self.nearer = plain_table(("Comes nearer than wanted", "Now", "Then", "Wanted"), "What comes nearer", wide=0)
        grid.addWidget(self.nearer, 2, 1)
        grid.addWidget(group_head("Touching as measured, at ride height"), 3, 1)
        self.touching = plain_table(("Pair", "Overlap"), "Touching as measured", wide=0)
        self.touching.itemSelectionChanged.connect(self._show_together)
        grid.addWidget(self.touching, 4, 1)
        self.together = QPushButton("They belong together")
        self.together.clicked.connect(lambda _=False: self._put_together())
        grid.addWidget(self.together, 5, 1)
        for column in (0, 1):
            grid.setColumnStretch(column, 1)
        for line, share in ((0, 6), (2, 3), (4, 3)):
            grid.setRowStretch(line, share)

    def _want(self, mm: float | None) -> None:
        gap = self._held.gap
        if gap is not None:
            self._bench.do(want_gap(gap.a.name, gap.b.name, mm))

    def _set_lower(self, mm: float) -> None:
        self._lower = mm
        self.refresh()

    def refresh(self) -> None:
        """Show what is known."""
        if not self.isVisible() or not hasattr(self, "touching"):
            return
        bench, gap = self._bench, self._held.gap
        self.list.refresh()
        for label in (self.wanted_label, self.lower_label):
            label.refresh_unit()
        self.wanted.setEnabled(gap is not None)
        self.usual.setEnabled(gap is not None)
        self.wanted.show_mm(None if gap is None else wanted_of(bench.job, gap))
        self.lowering.show_mm(self._lower)
        study = bench.gaps.study
        touching = () if study is None else study.touching
        together = [w for w in bench.job.vehicle.clearances.wanted if w.together]
        said = [(*g.names, gap_words(g.gap_mm, bench.job.units).removeprefix("overlap ")) for g in touching]
        said += [(w.a, w.b, "belong together") for w in together]
        self._pairs = [(a, b, words == "belong together") for a, b, words in said]
        self.touching.setRowCount(len(said))
        for i, (a, b, words) in enumerate(said):
            set_text(self.touching, i, 0, f"{a}, {b}", right=False)
            set_text(self.touching, i, 1, words)
        self._show_together()
        self._show_lower()
        if gap is not None and gap.other is None and gap.b.cores and (gap, bench.job) != self._of:
            self._of = (gap, bench.job)
            vehicle = bench.job.vehicle
            self._late.ask(lambda: (gap, *gap_sweeps(vehicle, gap)))
        self._chart()

    def _show_together(self) -> None:
        """What can be said of the pair picked in the list of those that touch."""
        row = self.touching.currentRow()
        picked = self._pairs[row] if 0 <= row < len(self._pairs) else None
        self.together.setEnabled(picked is not None)
        self.together.setText("Look at them again" if picked is not None and picked[2] else "They belong together")
        self.together.setToolTip("Bolted together, or one passes through a hole in the other: not looked at")

    def _put_together(self) -> None:
        row = self.touching.currentRow()
        if 0 <= row < len(self._pairs):
            a, b, together = self._pairs[row]
            self._bench.do(put_together(a, b, not together))

    def _arrived(self, result: object) -> None:
        if isinstance(result, tuple):
            self._swept = result
            self._chart()

    def _chart(self) -> None:
        gap, bench = self._held.gap, self._bench
        if self._swept is None or gap is None or self._swept[0].names != gap.names:
            return
        _, travel, ways = self._swept
        if self.way.count() == 0:
            self.way.addItems(list(ways))
        name = self.way.currentText() or next(iter(ways))
        us = bench.job.units == "us"
        per = MM_PER_INCH if us else 1.0
        now = bench.posture
        x = {"right wheel": now.right_mm}.get(name, now.left_mm)
        here = float(np.interp(x, travel, np.nan_to_num(ways[name], nan=np.nan)))
        self.chart.title = f"{gap.a.name}, {gap.b.name}: gap, {length_unit(bench.job.units)}"
        self.chart.restyle()
        self.chart.show_curves(travel / per, ways[name] / per, (x / per, here / per),
                               (wanted_of(bench.job, gap) / per, None))  # fmt: skip

    def _show_lower(self) -> None:
        asked = (self._bench.job.vehicle, self._bench.axle_key, self._lower)
        if asked == self._asked:
            return
        self._asked = asked
        self.lower_words.setText("Looking what comes nearer then…")
        self.nearer.setRowCount(0)
        self.late.ask(lambda: lowered(*asked))

    def _lowered(self, found: object) -> None:
        bench, units = self._bench, self._bench.job.units
        if not isinstance(found, list | tuple):
            self.lower_words.setText(str(found))
            return
        size = f"{format_length(self._lower, units).removeprefix('~')} {length_unit(units)}"
        self.lower_words.setText(
            f"Over the {bench.axle_key} axle, as it then stands {size} lower: "
            + (f"{len(found)} come nearer than wanted." if found else "nothing comes nearer than wanted.")
        )
        self.nearer.setRowCount(len(found))
        for i, near in enumerate(found):
            set_text(self.nearer, i, 0, f"{near.a.name}, {near.b.name}", right=False)
            for j, mm in enumerate((near.now_mm, near.then_mm, near.wanted_mm), start=1):
                set_text(self.nearer, i, j, gap_figure(mm, units))

    def words_of(self, gap: Gap) -> str:
        """Where a gap is tightest, in words."""
        return posture_words(self._bench.job, gap)
