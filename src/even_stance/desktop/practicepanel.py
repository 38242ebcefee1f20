"""Practice: measure a car that nobody knows, say what is wrong with it, and see the truth."""

import numpy as np
from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QCheckBox, QHBoxLayout, QPushButton, QTableWidget, QVBoxLayout, QWidget

from even_stance.desktop.look import Look
from even_stance.desktop.widgets.labels import PlainLabel, faint_words, group_head
from even_stance.desktop.widgets.table import plain_table, set_text
from even_stance.judgement.findings import CAUTIONS
from even_stance.shop.practice import CLAIMS, HANDS, FaultKey, Measure, PracticeCar, Truth, practice_car, reveal, take
from even_stance.units import format_length, format_mass, length_unit, mass_unit

_COLUMNS = ("What can be measured", "Sheet", "Readings, in the order taken")


class PracticePanel(QWidget):
    """A made-up car with hidden faults.

    Signals:
        closed: go back.
    """

    closed = pyqtSignal()

    def __init__(self, look: Look, seed: int = 1) -> None:
        super().__init__()
        self._look = look
        self.car: PracticeCar
        self.readings: dict[str, list[float]] = {}
        self.truth: Truth | None = None
        column = QVBoxLayout(self)
        column.setContentsMargins(18, 12, 18, 10)
        head = PlainLabel("Find what is wrong with this car")
        head.setProperty("role", "head")
        column.addWidget(head)
        column.addWidget(faint_words(
            "Pick a line and measure it, twice where it matters: tape and scales scatter as real ones do. "
            "Tick what you think is wrong, then see the truth."
        ))  # fmt: skip
        body = QHBoxLayout()
        self.table = plain_table(_COLUMNS, "What can be measured", wide=2)
        self.table.setSelectionMode(QTableWidget.SelectionMode.SingleSelection)
        self.table.itemActivated.connect(lambda _: self.measure())
        body.addWidget(self.table, 5)
        side = QVBoxLayout()
        side.addWidget(group_head("What is wrong"))
        self.claims: dict[FaultKey, QCheckBox] = {}
        for key, words in CLAIMS.items():
            self.claims[key] = QCheckBox(words)
            side.addWidget(self.claims[key])
        self.said = PlainLabel()
        self.said.setWordWrap(True)
        side.addWidget(self.said)
        side.addStretch(1)
        body.addLayout(side, 4)
        column.addLayout(body, 1)
        row = QHBoxLayout()
        self.take = QPushButton("Measure it")
        self.take.setProperty("main", "true")
        self.take.clicked.connect(lambda _=False: self.measure())
        self.show_truth = QPushButton("Show the truth")
        self.show_truth.clicked.connect(lambda _=False: self.tell())
        self.other = QPushButton("Another car")
        self.other.clicked.connect(lambda _=False: self.start(self.car.seed + 1))
        self.back = QPushButton("Back")
        self.back.clicked.connect(self.closed)
        for button in (self.take, self.show_truth, self.other, self.back):
            row.addWidget(button)
        row.addStretch(1)
        column.addLayout(row)
        column.addWidget(faint_words(CAUTIONS[1]))
        self.start(seed)

    def start(self, seed: int) -> None:
        """Another car: nothing measured, nothing claimed."""
        self.car = practice_car(seed)
        self._rng = np.random.default_rng()
        self.readings, self.truth = {m.key: [] for m in self.car.measures}, None
        for box in self.claims.values():
            box.setChecked(False)
            box.setEnabled(True)
        self.take.setEnabled(True)
        self.show_truth.setEnabled(True)
        self.said.setText("Nothing is measured yet.")
        self.table.setRowCount(len(self.car.measures))
        self.table.selectRow(0)
        self._list()

    def _figure(self, measure: Measure, value: float) -> str:
        units = self.car.sheet.units
        if measure.hand:
            return HANDS[round(value)]
        if measure.tool == "scales":
            return f"{format_mass(value, units)} {mass_unit(units)}"
        return f"{format_length(value, units).removeprefix('~')} {length_unit(units)}"

    def _list(self) -> None:
        for i, m in enumerate(self.car.measures):
            said = ", ".join(self._figure(m, v) for v in self.readings[m.key])
            for j, text in enumerate((m.words, self._figure(m, m.designed), said)):
                set_text(self.table, i, j, text, right=False)

    def measure(self) -> None:
        """Take a reading of the line picked."""
        row = self.table.currentRow()
        if self.truth is not None or not 0 <= row < len(self.car.measures):
            return
        measure = self.car.measures[row]
        self.readings[measure.key].append(take(measure, self._rng))
        done = sum(bool(v) for v in self.readings.values())
        self.said.setText(f"{done} of {len(self.readings)} things measured.")
        self._list()

    def tell(self) -> None:
        """Show what is really wrong and comes of it, what was found of it, and how well was measured."""
        claimed = {key for key, box in self.claims.items() if box.isChecked()}
        truth = self.truth = reveal(self.car, self.readings, claimed)
        said = [f"Found: {len(truth.found)} of {len(self.car.faults)}."]
        said += [f"✓ {words}" for words in truth.found.values()]
        for key, words in truth.missed.items():
            said.append(f"▲ Missed: {words} To be seen at: {', '.join(truth.told_by[key]).lower()}.")
        said += [f"Not so: {CLAIMS[key]}." for key in truth.wrong]
        if truth.quality:
            good = sum(q.good for q in truth.quality)
            worst = max(truth.quality, key=lambda q: abs(q.off) / q.measure.sure)
            off = self._figure(worst.measure, abs(worst.off))
            said.append(f"Measured within the tool’s ±: {good} of {len(truth.quality)}.")
            said.append(f"Farthest off: {worst.measure.words.lower()}, by {off}.")
        self.said.setText("\n".join(said))
        for box in self.claims.values():
            box.setEnabled(False)
        self.take.setEnabled(False)
        self.show_truth.setEnabled(False)
