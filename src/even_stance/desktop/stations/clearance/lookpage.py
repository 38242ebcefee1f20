"""Look: the car where a pair is tightest, the pair lit, cut through in a loupe; the list, its map, and the cures."""

from functools import partial

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import (
    QCheckBox,
    QHBoxLayout,
    QHeaderView,
    QProgressBar,
    QPushButton,
    QSizePolicy,
    QTableWidget,
    QVBoxLayout,
    QWidget,
)

from even_stance.desktop.background import LateStudy
from even_stance.desktop.bench import Bench
from even_stance.desktop.bounds import bound
from even_stance.desktop.look import Look
from even_stance.desktop.stations.clearance.held import HeldPair
from even_stance.desktop.stations.clearance.loupe import Loupe, cut_is_there
from even_stance.desktop.stations.clearance.mapview import GapMapView
from even_stance.desktop.walkaround import WalkAround
from even_stance.desktop.widgets.labels import PlainLabel, plain_tip
from even_stance.desktop.widgets.signalblock import blocked
from even_stance.desktop.widgets.table import plain_table, set_text
from even_stance.judgement.clearances import gap_figure, gap_words, posture_words, short_of, wanted_of
from even_stance.judgement.search.cures import Cure, cures
from even_stance.study.clearances import Gap
from even_stance.study.gapmaps import Cut, GapMap, cut_at, gap_map
from even_stance.study.hard import Hard
from even_stance.units import System, format_length, length_unit

COLUMNS = ("Pair", "Gap", "±", "Wanted", "Tightest at")
_AT = 4
_SHOWN, _CURES = 60, 3
_ALSO = {"housing": ("pinion nose",), "left tire": ("left rim",), "right tire": ("right rim",)}


class GapTable(QWidget):
    """The pairs, the most short of what is wanted first; a click takes the car there."""

    def __init__(self, bench: Bench, held: HeldPair, shown: int = _SHOWN) -> None:
        super().__init__()
        self._bench, self._held, self._shown = bench, held, shown
        self.gaps: list[Gap] = []
        self._listed: tuple[object, ...] = ()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        self.table = plain_table(COLUMNS, "Gaps, the tightest first", wide=0)
        header = self.table.horizontalHeader()
        if header is not None:
            header.setSectionResizeMode(_AT, QHeaderView.ResizeMode.Stretch)
        self.table.setSelectionMode(QTableWidget.SelectionMode.SingleSelection)
        self.table.itemSelectionChanged.connect(self._picked)
        self.table.cellClicked.connect(lambda row, _: self._held.hold(self.gaps[row]))
        column.addWidget(self.table)

    def _picked(self) -> None:
        row = self.table.currentRow()
        if 0 <= row < len(self.gaps) and frozenset(self.gaps[row].names) != self._held.names:
            self._held.hold(self.gaps[row])

    def refresh(self) -> None:
        """List what is known; that other wheels or another pair are looked at changes no line."""
        bench, held = self._bench, self._held
        job = bench.job
        # The lines are written anew when gaps are, not with each edit: that their car has changed is said below.
        now = (bench.gaps.study, bench.axle_key, held.all_axles, job.bands, job.units, job.vehicle.clearances)
        with blocked(self.table):
            # Compared as what they are: that is quicker.
            if len(self._listed) != len(now) or any(a is not b for a, b in zip(self._listed, now, strict=True)):
                self._listed = now
                self._list()
            row = next((i for i, g in enumerate(self.gaps) if frozenset(g.names) == held.names), -1)
            if row >= 0 and self.table.currentRow() != row:
                self.table.selectRow(row)

    def _list(self) -> None:
        job, units = self._bench.job, self._bench.job.units
        self.gaps = self._held.listed()[: self._shown]
        self.table.setRowCount(len(self.gaps))
        for i, gap in enumerate(self.gaps):
            set_text(self.table, i, 0, f"{gap.a.name}, {gap.b.name}", right=False)
            for j, words in enumerate((
                gap_figure(gap.gap_mm, units), sure_words(gap.sure_mm, units),
                format_length(wanted_of(job, gap), units).removeprefix("~"),
            ), start=1):  # fmt: skip
                set_text(self.table, i, j, words)
            set_text(self.table, i, 4, posture_words(job, gap), right=False)
            item = self.table.item(i, 1)
            if item is not None:
                font = item.font()
                font.setBold(short_of(job, gap) > 0.0)
                item.setFont(font)


def sure_words(mm: float, units: System) -> str:
    """A +/- as it is read."""
    return format_length(mm, units).removeprefix("~")


def lit_names(part: Hard) -> list[tuple[str, str]]:
    """How the solids that stand for a part are called in the walk-around."""
    return [(part.axle, name) for name in (part.part, *_ALSO.get(part.part, ()))]


class CureButton(QPushButton):
    """One way out: what to do, what the gap is then, and what it costs."""

    def __init__(self) -> None:
        super().__init__()
        self._lines: list[str] = []
        self.setAccessibleName("A way out, none yet")
        self.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)

    def show_cure(self, cure: Cure) -> None:
        """Show another one."""
        mark = "" if cure.enough else " (not enough)"
        self._lines = [cure.title, f"{cure.then}{mark}", cure.cost]
        self.setToolTip(plain_tip(f"{cure.title}: {cure.then}{mark}; {cure.cost}."))
        self.setAccessibleName("; ".join(self._lines))
        self._fit()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Fit anew."""
        super().resizeEvent(event)
        self._fit()

    def _fit(self) -> None:
        ruler, room = self.fontMetrics(), self.width() - 24
        cut = [ruler.elidedText(line, Qt.TextElideMode.ElideRight, room) for line in self._lines]
        self.setText("\n".join(cut).replace("&", "&&"))


class LookPage(QWidget):
    """Where it is tightest."""

    def __init__(self, bench: Bench, look: Look, held: HeldPair) -> None:
        super().__init__()
        self._bench, self._look, self._held = bench, look, held
        self.found: tuple[Cure, ...] = ()
        self._of: object = None
        self._map: GapMap | None = None
        self._aimed: frozenset[str] = frozenset()
        self._late, self._mapper = LateStudy(self), LateStudy(self)
        self._late.done.connect(self._cured)
        self._mapper.done.connect(self._mapped)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(2)
        top = QHBoxLayout()
        top.setSpacing(0)
        self.walk = WalkAround(bench, look)
        top.addWidget(self.walk, 1)
        self.loupe = Loupe(look)
        top.addWidget(self.loupe)
        column.addLayout(top, 6)
        column.addLayout(self._middle(), 5)
        column.addLayout(self._below())
        held.changed.connect(self.refresh)
        bench.gaps.progressed.connect(self._progress)

    def _middle(self) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setContentsMargins(8, 2, 8, 0)
        self.list = GapTable(self._bench, self._held)
        row.addWidget(self.list, 1)
        self.map = GapMapView(self._look)
        bound(self.map, self._look.percent, wide=(None, 270))
        self.map.picked.connect(self._go)
        row.addWidget(self.map)
        return row

    def _below(self) -> QVBoxLayout:
        box = QVBoxLayout()
        box.setContentsMargins(8, 0, 8, 2)
        box.setSpacing(2)
        row = QHBoxLayout()
        self.head = PlainLabel("Ways out")
        self.head.setProperty("role", "group")
        row.addWidget(self.head)
        self.buttons = [CureButton() for _ in range(_CURES)]
        for i, button in enumerate(self.buttons):
            button.clicked.connect(partial(self._take, i))
            row.addWidget(button, 1)
        box.addLayout(row)
        state = QHBoxLayout()
        self.both = QCheckBox("Both axles")
        self.both.toggled.connect(self._all_axles)
        state.addWidget(self.both)
        self.words = PlainLabel()
        self.words.setProperty("role", "faint")
        state.addWidget(self.words, 1)
        self.bar = QProgressBar()
        self.bar.setAccessibleName("How far the search is")
        bound(self.bar, self._look.percent, wide=(None, 150))
        self.bar.setTextVisible(False)
        state.addWidget(self.bar)
        self.stop = QPushButton("Stop")
        self.stop.clicked.connect(lambda _=False: self._bench.gaps.stop())
        state.addWidget(self.stop)
        box.addLayout(state)
        return box

    # --- what is done

    def _all_axles(self, every: bool) -> None:
        self._held.all_axles = every
        self.refresh()

    def _go(self, left: float, right: float) -> None:
        self._bench.set_posture(left, right)

    def _take(self, i: int, _checked: bool = False) -> None:
        cure = self.found[i] if i < len(self.found) else None
        if cure is None:
            return
        if cure.edit is not None:
            self._bench.do(cure.edit)
        else:
            station = self.parent()
            while station is not None and not hasattr(station, "open_notch"):
                station = station.parent()
            if station is not None:
                station.open_notch()

    # --- what is shown

    def _progress(self, share: float) -> None:
        self.bar.setValue(round(100 * share))

    def refresh(self) -> None:
        """Show the pair looked at; what takes a while comes after."""
        if not self.isVisible():
            return
        bench, held = self._bench, self._held
        self.list.refresh()
        self._say_state()
        gap = held.gap
        self.walk.refresh()
        if gap is None:
            self.walk.light({}, None)
            self.loupe.show_cut(None, "", "", "")
            self.map.show_map(None, None, 1.0, (0.0, 0.0), bench.job.units)
            self._show_cures(())
            return
        there = (bench.posture.left_mm, bench.posture.right_mm, bench.posture.steer)
        at_worst = max(abs(a - b) for a, b in zip(there, (gap.left_mm, gap.right_mm, gap.steer), strict=True)) < 0.6
        lit = dict.fromkeys(lit_names(gap.a), "upper") | dict.fromkeys(lit_names(gap.b), "accent")
        words = gap_words(gap.gap_mm, bench.job.units)
        if frozenset(gap.names) != self._aimed:
            self._aimed = frozenset(gap.names)
            self.walk.aim(gap.first, 6.0 * bench.axle.tire.free_diameter_mm)
        self.walk.light(lit, (gap.first, gap.second, words) if at_worst and gap.axle == bench.axle_key else None)
        wanted = wanted_of(bench.job, gap)
        self.map.show_map(self._map, gap, wanted, there[:2], bench.job.units)
        if (gap, bench.job) != self._of and not bench.on_its_way:
            QTimer.singleShot(0, self._look_into)

    def _look_into(self) -> None:
        """The cut through the pair, and what takes a while to find of it, once the rest is seen."""
        bench, gap = self._bench, self._held.gap
        if gap is not None and (gap, bench.job) != self._of and self.isVisible():
            self._of = (gap, bench.job)
            self._show_cut(gap, wanted_of(bench.job, gap))
            self._ask(gap)

    def _show_cut(self, gap: Gap, wanted: float) -> None:
        cut: Cut | None = cut_at(self._bench.job.vehicle, gap, wanted) if gap.other is None and gap.b.cores else None
        units = self._bench.job.units
        spread = f"{gap_words(gap.gap_mm, units)} ± {sure_words(gap.sure_mm, units)}"
        self.loupe.show_cut(cut if cut_is_there(cut) else None, gap.a.name, gap.b.name, spread)

    def _ask(self, gap: Gap) -> None:
        job = self._bench.job
        self._map = None
        if gap.other is None and gap.b.cores:
            self._mapper.ask(lambda: (gap, gap_map(job.vehicle, gap)))
        if short_of(job, gap) > 0.0 and gap.b.cores and gap.other is None:
            self.head.setText("Ways out: being worked out")
            self._late.ask(lambda: (gap, tuple(cures(job, gap))))
            self._show_cures(())
        else:
            self._show_cures(())
            self.head.setText("Ways out: none needed" if short_of(job, gap) <= 0.0 else "Ways out")

    def _mapped(self, result: object) -> None:
        if isinstance(result, tuple) and self._held.gap is not None:
            gap, self._map = result
            now = self._bench.posture
            wanted = wanted_of(self._bench.job, gap)
            self.map.show_map(self._map, gap, wanted, (now.left_mm, now.right_mm), self._bench.job.units)

    def _cured(self, result: object) -> None:
        if isinstance(result, tuple):
            gap, found = result
            if self._held.gap is gap:
                self.head.setText("Ways out" if found else "Ways out: none found, move one of the two")
                self._show_cures(found)

    def _show_cures(self, found: tuple[Cure, ...]) -> None:
        self.found = found
        for i, button in enumerate(self.buttons):
            button.setVisible(i < len(found))
            if i < len(found):
                button.show_cure(found[i])

    def _say_state(self) -> None:
        gaps, units = self._bench.gaps, self._bench.job.units
        study = gaps.study
        self.bar.setVisible(gaps.running)
        self.stop.setVisible(gaps.running)
        if study is None:
            self.words.setText("Being worked out…" if gaps.running else "Nothing is known yet.")
            return
        said = f"{study.parts} parts, {study.pairs} pairs, {study.postures} postures"
        if not gaps.up_to_date:
            said += "; the tightest are measured, the rest is being worked out"
        elif study.touching:
            said += f"; {len(study.touching)} touching as measured: see Gaps"
        gap = self._held.gap
        if gap is not None and gap.free_mm is not None:
            said += f"; without stops {gap_words(gap.free_mm, units)}"
        self.words.setText("; ".join((*study.silent, said)))
        self.words.setToolTip(plain_tip(f"Gaps in {length_unit(units)}. {said}"))

    def showEvent(self, _event: object) -> None:
        """Catch up with what changed while hidden."""
        self.refresh()

    def keyPressEvent(self, event: object) -> None:
        """Let keys go on to the window."""
        super().keyPressEvent(event)  # type: ignore[arg-type]

    def focus_list(self) -> None:
        """Keys go to the list."""
        self.list.table.setFocus(Qt.FocusReason.OtherFocusReason)
