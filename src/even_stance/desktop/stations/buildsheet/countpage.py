"""Count and cost: the shopping list with prices and ticks, per design and per variant."""

from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QTableWidget, QTableWidgetItem, QVBoxLayout, QWidget

from even_stance.desktop.background import LateStudy
from even_stance.desktop.bench import Bench
from even_stance.desktop.bounds import bound
from even_stance.desktop.look import Look
from even_stance.desktop.saving import save_paper
from even_stance.desktop.widgets.fields import Labeled, PlainField
from even_stance.desktop.widgets.labels import PlainLabel, group_head
from even_stance.desktop.widgets.signalblock import blocked
from even_stance.desktop.widgets.table import plain_table, set_text
from even_stance.shop.counting import Counted, Line, bars_long, count_parts
from even_stance.shop.plates import plate_areas
from even_stance.units import System, format_length, format_mass, length_unit, mass_unit
from even_stance.vehicle.build import BuildSheet
from even_stance.vehicle.edits import set_price, tick, with_changes
from even_stance.vehicle.job import Job
from even_stance.vehicle.variants import branch_names, vehicle_of

_COLUMNS = ("There", "What", "Count", "Each", "Cost")
_VARIANTS = ("Variant", "Joints", "Tube", "Cost", "Without price")


class CountPage(QWidget):
    """The shopping list."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench, self._look = bench, look
        self.lines: tuple[Line, ...] = ()
        self._of: object = None
        self._late = LateStudy(self)
        self._late.done.connect(self._counted)
        column = QVBoxLayout(self)
        column.setContentsMargins(12, 8, 12, 4)
        self.words = PlainLabel()
        self.words.setWordWrap(True)
        column.addWidget(self.words)
        self.table = plain_table(_COLUMNS, "Shopping list", wide=1)
        self.table.setSelectionMode(QTableWidget.SelectionMode.SingleSelection)
        self.table.itemSelectionChanged.connect(self._picked)
        self.table.itemChanged.connect(self._ticked)
        column.addWidget(self.table, 4)
        row = QHBoxLayout()
        self.price = PlainField(bench, "Price", self._set_price)
        self.price_label = Labeled(bench, "Price of what is picked: one, or a meter of tube", self.price)
        row.addWidget(self.price_label, 1)
        self.no_price = QPushButton("No price")
        self.no_price.clicked.connect(lambda _=False: self._set_price(None))
        row.addWidget(self.no_price)
        row.addStretch(1)
        self.pdf = QPushButton("Shopping list (PDF)…")
        self.pdf.clicked.connect(lambda _=False: self.ask("shopping-list", "shopping-list.pdf"))
        self.csv = QPushButton("Table (CSV)…")
        self.csv.clicked.connect(lambda _=False: self.ask("shopping-table", "shopping-list.csv"))
        self.cuts = QPushButton("Cut list (PDF)…")
        self.cuts.clicked.connect(lambda _=False: self.ask("cut-list", "cut-list.pdf"))
        for button in (self.pdf, self.csv, self.cuts):
            row.addWidget(button)
        column.addLayout(row)
        column.addWidget(group_head("The same for every variant"))
        self.variants = plain_table(_VARIANTS, "Variants, counted", wide=0)
        bound(self.variants, look.percent, high=(None, 120))
        column.addWidget(self.variants, 1)
        bench.build.changed.connect(self.refresh)

    def ask(self, what: str, start: str) -> None:
        """Ask where a paper goes."""
        save_paper(self, self._bench, what, start)

    def write(self, what: str, path: Path) -> None:
        """Write a paper."""
        save_paper(self, self._bench, what, path.name, path)

    def _line(self) -> Line | None:
        row = self.table.currentRow()
        return self.lines[row] if 0 <= row < len(self.lines) else None

    def _picked(self) -> None:
        line = self._line()
        self.price.show_value(None if line is None else line.each)

    def _ticked(self, item: QTableWidgetItem) -> None:
        if item.column() == 0 and item.row() < len(self.lines):
            self._bench.do(tick(self.lines[item.row()].what, item.checkState() == Qt.CheckState.Checked))

    def _set_price(self, each: float | None) -> None:
        line = self._line()
        if line is None:
            self._bench.refused.emit("No line is picked: click what the price is of first.")
            return
        self._bench.do(set_price(line.what, each))

    def refresh(self) -> None:
        """Show the list."""
        if not self.isVisible():
            return
        bench, build = self._bench, self._bench.build
        study = build.study
        if study is None or not build.up_to_date:
            self.words.setText("Being worked out…")
            return
        self._show(study.counted, plate_areas(study.plates))
        key = (bench.job.vehicle, bench.job.variants)
        if key != self._of:
            self._of = key
            job, units = bench.job, bench.job.units
            names = branch_names(job)
            self._late.ask(
                lambda: [(n, count_parts(with_changes(vehicle_of(job, n), build=_mixed(job, n)), units)) for n in names]
            )  # fmt: skip

    def _show(self, counted: Counted, areas: dict[float, float]) -> None:
        units, there = self._bench.job.units, self._bench.job.vehicle.build.ticked
        self.lines = counted.lines
        weight = f"{format_mass(counted.tube_kg, units)} {mass_unit(units)}"
        hands = {hand: sum(line.count for line in counted.lines if line.sort == "joint" and hand in line.what)
                 for hand in ("left-hand", "right-hand")}  # fmt: skip
        joints = f"Joints {hands['left-hand']} left-hand, {hands['right-hand']} right-hand; tube as cut {weight}; "
        cost = f"cost {counted.cost:.2f}" + (f", {counted.unpriced} lines without a price" if counted.unpriced else "")
        said = f"{joints}{cost}. {_plate_words(areas, units)}"
        self.words.setText(said if counted.lines else "No parts are chosen: fit parts to the links first.")
        row = self.table.currentRow()
        with blocked(self.table):
            self.table.setRowCount(len(counted.lines))
            for i, line in enumerate(counted.lines):
                set_text(self.table, i, 0, "", right=False)
                item = self.table.item(i, 0)
                if item is not None:
                    item.setFlags(
                        Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable | Qt.ItemFlag.ItemIsUserCheckable
                    )
                    item.setCheckState(Qt.CheckState.Checked if line.what in there else Qt.CheckState.Unchecked)
                set_text(self.table, i, 1, line.what, right=False)
                set_text(self.table, i, 2, _count_words(line, units))
                set_text(self.table, i, 3, "no price" if line.each is None else f"{line.each:.2f}")
                set_text(self.table, i, 4, "" if line.cost is None else f"{line.cost:.2f}")
            if 0 <= row < len(counted.lines):
                self.table.selectRow(row)

    def _counted(self, result: object) -> None:
        if not isinstance(result, list):
            return
        units = self._bench.job.units
        self.variants.setRowCount(len(result))
        for i, (name, counted) in enumerate(result):
            joints = sum(line.count for line in counted.lines if line.sort == "joint")
            cells = (str(joints), f"{format_mass(counted.tube_kg, units)} {mass_unit(units)}",
                     f"{counted.cost:.2f}", f"{counted.unpriced}")  # fmt: skip
            set_text(self.variants, i, 0, name, right=False)
            for j, text in enumerate(cells, start=1):
                set_text(self.variants, i, j, text)

    def showEvent(self, _event: object) -> None:
        """Catch up with what changed while hidden."""
        self.refresh()


def _mixed(job: Job, name: str) -> BuildSheet:
    """A variant's own build sheet with the prices typed on the bench: a price is no matter of the design."""
    return with_changes(vehicle_of(job, name).build, prices=job.vehicle.build.prices)


def _plate_words(areas: dict[float, float], units: System) -> str:
    """How much plate of each thickness the templates take."""
    if not areas:
        return ""
    each = [
        f"{format_length(thick, units).removeprefix('~')} {length_unit(units)}: "
        + (f"{area / 25.4**2:.0f} sq in" if units == "us" else f"{area / 1e6:.3f} m²")
        for thick, area in areas.items()
    ]
    return f"Plate as cut: {', '.join(each)}."


def _count_words(line: Line, units: System) -> str:
    if line.sort != "tube":
        return str(line.count)
    return f"{line.count} bars, {bars_long(line.meters, units)}"
