"""Order of work: what is done first, where to stop and look, ticked off."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QHeaderView, QPushButton, QTableWidgetItem, QVBoxLayout, QWidget

from even_stance.desktop.bench import Bench
from even_stance.desktop.look import Look
from even_stance.desktop.saving import save_paper
from even_stance.desktop.widgets.labels import PlainLabel, faint_words
from even_stance.desktop.widgets.signalblock import blocked
from even_stance.desktop.widgets.table import RowFitter, plain_table, set_text
from even_stance.judgement.findings import CAUTIONS
from even_stance.shop.orderofwork import HEAT, WorkStep, work_steps
from even_stance.vehicle.edits import tick

_COLUMNS = ("Done", "What", "So that")


class OrderPage(QWidget):
    """The steps of this job."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench, self._look = bench, look
        self.steps: list[WorkStep] = []
        column = QVBoxLayout(self)
        column.setContentsMargins(12, 8, 12, 4)
        self.words = PlainLabel()
        self.words.setWordWrap(True)
        column.addWidget(self.words)
        self.table = plain_table(_COLUMNS, "Order of work", wide=1)
        header = self.table.horizontalHeader()
        if header is not None:
            header.setSectionResizeMode(2, QHeaderView.ResizeMode.Stretch)
        self._rows = RowFitter(self.table)
        self.table.itemChanged.connect(self._ticked)
        column.addWidget(self.table, 1)
        row = QHBoxLayout()
        row.addWidget(faint_words(" ".join((HEAT[0], *CAUTIONS[1:3]))), 1)
        self.pdf = QPushButton("Print the sheet (PDF)…")
        self.pdf.clicked.connect(lambda _=False: save_paper(self, bench, "order-of-work", "order-of-work.pdf"))
        row.addWidget(self.pdf)
        column.addLayout(row)

    def _ticked(self, item: QTableWidgetItem) -> None:
        if item.column() == 0 and item.row() < len(self.steps):
            self._bench.do(tick(self.steps[item.row()].key, item.checkState() == Qt.CheckState.Checked, steps=True))

    def refresh(self) -> None:
        """Show the steps."""
        if not self.isVisible():
            return
        job = self._bench.job
        self.steps = work_steps(job)
        done = job.vehicle.build.done
        left = [s for s in self.steps if s.key not in done]
        self.words.setText(f"Next: {left[0].title}." if left else "Every step is done: the re-checks stay.")
        with blocked(self.table), self._rows:
            self.table.setRowCount(len(self.steps))
            for i, step in enumerate(self.steps):
                set_text(self.table, i, 0, "", right=False)
                set_text(self.table, i, 1, step.title, right=False)
                set_text(self.table, i, 2, step.why, right=False)
                for j in range(3):
                    item = self.table.item(i, j)
                    if item is None:
                        continue
                    font = item.font()
                    font.setBold(step.hold)
                    item.setFont(font)
                    if j == 0:
                        item.setFlags(item.flags() | Qt.ItemFlag.ItemIsUserCheckable)
                        item.setCheckState(Qt.CheckState.Checked if step.key in done else Qt.CheckState.Unchecked)

    def showEvent(self, _event: object) -> None:
        """Catch up with what changed while hidden."""
        self.refresh()
