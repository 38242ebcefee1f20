"""Cycle card: the postures worth trying on the jack, what gap to expect, what was found, and what that says."""

from functools import partial
from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QHBoxLayout, QPushButton, QTableWidget, QVBoxLayout, QWidget

from even_stance.desktop.bench import Bench
from even_stance.desktop.exporting import ask_path
from even_stance.desktop.look import Look
from even_stance.desktop.saving import save_made
from even_stance.desktop.stations.clearance.held import HeldPair
from even_stance.desktop.widgets.fields import Labeled, LengthField
from even_stance.desktop.widgets.labels import PlainLabel, faint_words
from even_stance.desktop.widgets.signalblock import blocked
from even_stance.desktop.widgets.table import plain_table, set_text
from even_stance.errors import InputError
from even_stance.judgement.clearances import gap_words
from even_stance.judgement.findings import CAUTIONS
from even_stance.shop.cyclecard import card, card_rows, suspects, tried_of, write_found
from even_stance.study.clearances import Gap

_COLUMNS = ("Take the wheels there", "Look at", "Expect", "Found")


class CardPage(QWidget):
    """The card, to be printed or ticked here."""

    def __init__(self, bench: Bench, look: Look, held: HeldPair) -> None:
        super().__init__()
        self._bench, self._look, self._held = bench, look, held
        self.gaps: list[Gap] = []
        self._overlap = False
        column = QVBoxLayout(self)
        column.setContentsMargins(12, 6, 12, 4)
        words = "Worth trying on the jack before anything is welded: springs out, tires on. "
        column.addWidget(faint_words(f"{words}Pick a line, take the wheels there, and type the gap you find."))
        self.table = plain_table(_COLUMNS, "Cycle card", wide=1)
        self.table.setSelectionMode(QTableWidget.SelectionMode.SingleSelection)
        self.table.itemSelectionChanged.connect(self._picked)
        column.addWidget(self.table, 1)
        row = QHBoxLayout()
        self.found = LengthField(bench, "Gap found", partial(self._write, False))
        self.found_label = Labeled(bench, "Gap found at the picked line", self.found, "length")
        row.addWidget(self.found_label)
        self.touches = QPushButton("It touches")
        self.touches.clicked.connect(lambda _=False: self._write(True, 0.0))
        row.addWidget(self.touches)
        self.as_said = QPushButton("As expected")
        self.as_said.clicked.connect(lambda _=False: self._as_expected())
        row.addWidget(self.as_said)
        row.addStretch(1)
        self.paper = QPushButton("Print the card (PDF)…")
        self.paper.clicked.connect(lambda _=False: self.ask_paper())
        row.addWidget(self.paper)
        column.addLayout(row)
        self.words = PlainLabel()
        self.words.setWordWrap(True)
        column.addWidget(self.words)
        column.addWidget(faint_words(" ".join(CAUTIONS[1:3])))
        held.changed.connect(self.refresh)

    def _gap(self) -> Gap | None:
        row = self.table.currentRow()
        return self.gaps[row] if 0 <= row < len(self.gaps) else None

    def _picked(self) -> None:
        gap = self._gap()
        if gap is not None:
            self._held.hold(gap)
            tried = tried_of(self._bench.job, gap)
            self.found.show_mm(None if tried is None else tried.found_mm)

    def _write(self, _touches: bool, mm: float) -> None:
        gap = self._gap()
        if gap is None:
            self._bench.refused.emit("No line is picked: click the one that was tried first.")
            return
        try:
            self._bench.do(write_found(self._bench.job, gap, mm))
        except InputError as error:
            self._bench.refused.emit(str(error))

    def _as_expected(self) -> None:
        gap = self._gap()
        self._write(False, 0.0 if gap is None else max(gap.gap_mm, 0.0))

    def ask_paper(self) -> QFileDialog:
        """Ask where the card goes."""
        return ask_path(self, "Save the cycle card", "cycle-card.pdf", "(*.pdf)", self.write)

    def write(self, path: Path) -> None:
        """Write the card as PDF."""
        from even_stance.exchange.cardpdf import card_pdf  # noqa: PLC0415 - paper is loaded late

        job, gaps = self._bench.job, self._bench.gaps.study
        save_made(self._bench, path, lambda: card_pdf(job, gaps))

    def refresh(self) -> None:
        """Show the card and what the gaps found say."""
        if not self.isVisible():
            return
        job, study = self._bench.job, self._bench.gaps.study
        self.found_label.refresh_unit()
        rows = [] if study is None else card(job, study)
        self.gaps = [g for row in rows for g in row.gaps]
        held = self._held.names
        with blocked(self.table):
            self.table.setRowCount(len(self.gaps))
            for i, cells in enumerate(card_rows(job, rows)):
                for j, text in enumerate(cells):
                    set_text(self.table, i, j, text, right=False)
            row = next((i for i, g in enumerate(self.gaps) if frozenset(g.names) == held), -1)
            if row >= 0:
                self.table.selectRow(row)
        if study is None:
            self.words.setText("Being worked out…")
            return
        said = [s.sentence for s in suspects(job, study)]
        tried = [t for t in job.vehicle.clearances.cycle if t.found_mm is not None]
        good = f"{len(tried)} tried, all within their ±." if tried else "Nothing tried yet."
        self.words.setText(" ".join(said) if said else good)

    def showEvent(self, _event: object) -> None:
        """Catch up with what changed while hidden."""
        self.refresh()

    def expected(self, gap: Gap) -> str:
        """The gap to expect, in words."""
        return gap_words(gap.gap_mm, self._bench.job.units)
