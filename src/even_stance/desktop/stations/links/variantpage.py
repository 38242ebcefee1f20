"""Variants: named branches side by side, what differs, notes, and the decision with its reason."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QComboBox,
    QHBoxLayout,
    QLineEdit,
    QPlainTextEdit,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from even_stance.desktop.background import LateStudy
from even_stance.desktop.bench import Bench
from even_stance.desktop.bounds import bound
from even_stance.desktop.changestrip import change_words
from even_stance.desktop.look import Look
from even_stance.desktop.widgets.fields import Labeled
from even_stance.desktop.widgets.labels import PlainLabel
from even_stance.desktop.widgets.signalblock import blocked
from even_stance.desktop.widgets.table import plain_table, set_text
from even_stance.judgement.changes import variant_changes
from even_stance.judgement.compare import Comparison, compare_variants
from even_stance.judgement.differences import differences
from even_stance.vehicle.edits import set_job
from even_stance.vehicle.variants import branch_names, branch_off, drop_variant, rename_branch, switch_to, vehicle_of


class VariantPage(QWidget):
    """All variants of the job, one column each."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench, self._look = bench, look
        self.found: Comparison | None = None
        self._asked: tuple[object, ...] = ()
        self._compared: tuple[object, ...] = ()
        self.late = LateStudy(self)
        self.late.done.connect(self._arrived)
        self.late_changes = LateStudy(self)
        self.late_changes.done.connect(self._changed)
        column = QVBoxLayout(self)
        column.setContentsMargins(12, 8, 12, 4)
        column.addLayout(self._top())
        self.table = plain_table(("Number",), "Variants side by side")
        self.table.cellDoubleClicked.connect(lambda _row, col: self._switch(col - 1))
        column.addWidget(self.table, 5)
        row = QHBoxLayout()
        left, right = QVBoxLayout(), QVBoxLayout()
        self.head = PlainLabel()
        self.head.setProperty("role", "group")
        self.lines = PlainLabel()
        self.lines.setWordWrap(True)
        self.lines.setAlignment(Qt.AlignmentFlag.AlignTop)
        left.addWidget(self.head)
        left.addWidget(self.lines)
        self.changes_head = PlainLabel("What else changes")
        self.changes_head.setProperty("role", "group")
        self.changes = PlainLabel()
        self.changes.setWordWrap(True)
        self.changes.setAlignment(Qt.AlignmentFlag.AlignTop)
        left.addWidget(self.changes_head)
        left.addWidget(self.changes, 1)
        self.note, self.decision = QPlainTextEdit(), QPlainTextEdit()
        for text in (self.note, self.decision):
            text.setTabChangesFocus(True)
        for field, title, hint in (
            (self.note, "Note on this variant", "what was tried and how it came out"),
            (self.decision, "Decision", "which variant is built, and why"),
        ):
            field.setAccessibleName(title)
            field.setPlaceholderText(hint)
            bound(field, look.percent, high=(None, 72))
            label = PlainLabel(title)
            label.setProperty("role", "faint")
            right.addWidget(label)
            right.addWidget(field)
        self.note.textChanged.connect(self._set_note)
        self.decision.textChanged.connect(self._set_decision)
        row.addLayout(left, 3)
        row.addLayout(right, 2)
        column.addLayout(row, 3)

    def _top(self) -> QHBoxLayout:
        row = QHBoxLayout()
        self.name = QLineEdit()
        self.name.setMaxLength(80)
        self.name.editingFinished.connect(self._rename)
        self.new = QPushButton("New variant from this")
        self.new.clicked.connect(self._branch)
        self.other = QComboBox()
        self.other.setAccessibleName("The other variant")
        self.other.activated.connect(lambda _: self.refresh())
        self.swap = QPushButton("Switch to it")
        self.swap.clicked.connect(lambda: self._bench.do(switch_to(self.other.currentText())))
        self.under = QPushButton("Draw beneath")
        self.under.setCheckable(True)
        self.under.setToolTip("Draw the other variant beneath this one on the floor and in the charts")
        self.under.clicked.connect(lambda on: self._bench.set_overlay(self.other.currentText() if on else None))
        self.drop = QPushButton("Drop it")
        self.drop.clicked.connect(lambda: self._bench.do(drop_variant(self.other.currentText())))
        row.addWidget(Labeled(self._bench, "On the bench", self.name), 3)
        row.addWidget(self.new)
        row.addWidget(Labeled(self._bench, "The other", self.other), 3)
        for button in (self.swap, self.under, self.drop):
            row.addWidget(button)
        for button in (self.new, self.swap, self.under, self.drop):
            row.setAlignment(button, Qt.AlignmentFlag.AlignBottom)
        return row

    def _rename(self) -> None:
        job = self._bench.job
        if self.name.text().strip() and self.name.text().strip() != job.branch:
            self._bench.do(rename_branch(self.name.text()))
        self.name.setText(self._bench.job.branch)
        self.name.setModified(False)

    def _branch(self) -> None:
        names = branch_names(self._bench.job)
        count = len(names) + 1
        while f"Variant {count}" in names:
            count += 1
        self._bench.do(branch_off(f"Variant {count}"))
        self.name.setFocus()
        self.name.selectAll()

    def _switch(self, index: int) -> None:
        names = branch_names(self._bench.job)
        if 0 < index < len(names):
            self._bench.do(switch_to(names[index]))

    def _set_note(self) -> None:
        if self.note.toPlainText() != self._bench.job.branch_note:
            self._bench.do(set_job("Note on the variant", merge="branch note", branch_note=self.note.toPlainText()))

    def _set_decision(self) -> None:
        if self.decision.toPlainText() != self._bench.job.decision:
            self._bench.do(set_job("Decision", merge="decision", decision=self.decision.toPlainText()))

    def refresh(self) -> None:
        """Show the variants, what differs, and ask for their numbers when they changed."""
        bench, job = self._bench, self._bench.job
        names = branch_names(job)
        others = names[1:]
        with blocked(self.other, self.note, self.decision):
            if [self.other.itemText(i) for i in range(self.other.count())] != others:
                kept = bench.look_at.overlay if bench.look_at.overlay in others else self.other.currentText()
                self.other.clear()
                self.other.addItems(others)
                self.other.setCurrentIndex(others.index(kept) if kept in others else 0 if others else -1)
            for field, text in ((self.note, job.branch_note), (self.decision, job.decision)):
                if field.toPlainText() != text:
                    field.setPlainText(text)
        if not self.name.isModified():
            self.name.setText(job.branch)
            self.name.setCursorPosition(0)
        other = self.other.currentText()
        for button in (self.swap, self.under, self.drop):
            button.setEnabled(bool(others))
        self.under.setChecked(bool(others) and bench.look_at.overlay == other)
        if not others:
            self.head.setText("Only one variant")
            self.lines.setText(
                "“New variant from this” leaves the car as it is and goes on with a copy. So does trying a suggestion."
            )
        else:
            said = differences(vehicle_of(job, other), job.vehicle, job.units)
            self.head.setText(f"From {other} to {job.branch}")
            self.lines.setText("\n".join(said[:14]) or "Nothing differs.")
        self.changes_head.setVisible(bool(others))
        self.changes.setVisible(bool(others))
        pair = (other, job.vehicle, job.variants, job.bands, job.purpose, job.units)
        if others and pair != self._compared:
            self._compared = pair
            self.changes.setText("looking …")
            self.late_changes.ask(lambda: variant_changes(job, other))
        now = (bench.axle_key, job.vehicle, job.variants, job.bands, job.purpose, job.units)
        if now != self._asked:
            self._asked = now
            key = bench.axle_key
            self.late.ask(lambda: compare_variants(job, key))

    def _changed(self, found: object) -> None:
        if isinstance(found, str):
            self.changes.setText(found)
            return
        assert isinstance(found, list)
        lines = [f"{c.way.capitalize()}: {change_words(c)}" for c in found[:12]]
        self.changes.setText("\n".join(lines) or "Nothing that is judged.")

    def _arrived(self, found: object) -> None:
        if not isinstance(found, Comparison):
            self._bench.refused.emit(str(found))
            return
        self.found = found
        self.table.setColumnCount(1 + len(found.names))
        self.table.setHorizontalHeaderLabels(["Number", *found.names])
        self.table.setRowCount(len(found.rows))
        for i, (title, cells) in enumerate(found.rows):
            set_text(self.table, i, 0, title, right=False)
            for j, cell in enumerate(cells):
                set_text(self.table, i, 1 + j, cell)
