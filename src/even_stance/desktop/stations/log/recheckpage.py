"""Re-checks: what to look at again after settling and driving, what to expect, and what a new reading says."""

from datetime import datetime
from functools import partial
from pathlib import Path

from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QLineEdit, QPushButton, QTableWidget, QVBoxLayout, QWidget

from even_stance.desktop.bench import Bench
from even_stance.desktop.exporting import ask_path
from even_stance.desktop.look import Look
from even_stance.desktop.saving import save_made
from even_stance.desktop.widgets.fields import DegreeField, Labeled, LengthField, NumberField, PlainField
from even_stance.desktop.widgets.labels import PlainLabel, faint_words
from even_stance.desktop.widgets.signalblock import blocked
from even_stance.desktop.widgets.table import plain_table, set_text
from even_stance.errors import InputError
from even_stance.judgement.findings import CAUTIONS
from even_stance.shop.asbuilt import BUILT, built_stages
from even_stance.shop.readings import new_reading
from even_stance.shop.rechecks import driven, due, expect_words, moved_words, usual_rechecks, when_words
from even_stance.shop.sheet import take_reading
from even_stance.vehicle.edits import made, set_log, set_rechecks, with_changes
from even_stance.vehicle.log import RECHECK_WORDS, Recheck

_COLUMNS = ("Look at", "When", "Expect", "Found", "On")


class RecheckPage(QWidget):
    """The list, and a form for what was found."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench, self._look = bench, look
        self.counts: dict[str, NumberField] = {}
        column = QVBoxLayout(self)
        column.setContentsMargins(12, 8, 12, 4)
        self.words = PlainLabel()
        self.words.setWordWrap(True)
        top = QHBoxLayout()
        top.addWidget(self.words, 1)
        for count, title in (("miles", "Miles (or km) driven"), ("trips", "Trips made")):
            self.counts[count] = PlainField(bench, title, partial(self._driven, count))
            top.addWidget(Labeled(bench, title, self.counts[count]))
        column.addLayout(top)
        self.table = plain_table(_COLUMNS, "To look at again", wide=0)
        self.table.setSelectionMode(QTableWidget.SelectionMode.SingleSelection)
        self.table.itemSelectionChanged.connect(self._show_form)
        column.addWidget(self.table, 1)
        found = QHBoxLayout()
        self.length = LengthField(bench, "Measured", self._measured)
        self.angle = DegreeField(bench, "Measured angle", self._measured)
        self.length_label = Labeled(bench, "Measured now", self.length, "length")
        self.angle_label = Labeled(bench, "Measured now", self.angle, "deg")
        for labeled in (self.length_label, self.angle_label):
            found.addWidget(labeled)
        self.good = QPushButton("Looked at: good")
        self.good.clicked.connect(lambda _=False: self._note("good"))
        self.bad = QLineEdit()
        self.bad.setAccessibleName("What was wrong")
        self.bad.setMaxLength(500)
        self.bad.returnPressed.connect(lambda: self._note(self.bad.text().strip()))
        found.addWidget(self.good)
        found.addWidget(Labeled(bench, "or what was wrong", self.bad), 1)
        column.addLayout(found)
        column.addLayout(self._new())
        last = QHBoxLayout()
        last.addWidget(self.usual)
        last.addWidget(self.card)
        last.addStretch(1)
        column.addLayout(last)
        column.addWidget(faint_words(" ".join(CAUTIONS[1:3])))

    def _new(self) -> QHBoxLayout:
        bench, row = self._bench, QHBoxLayout()
        self.usual = QPushButton("Put the usual ones on")
        self.usual.setProperty("main", "true")
        self.usual.clicked.connect(lambda _=False: bench.do(set_rechecks("Usual re-checks", usual_rechecks(bench.job))))
        self.title = QLineEdit()
        self.title.setAccessibleName("Something else to look at")
        self.title.setMaxLength(80)
        self.when = QComboBox()
        self.when.setAccessibleName("When to look at it")
        for key, words in RECHECK_WORDS.items():
            self.when.addItem(words, key)
        self.every: NumberField = PlainField(bench, "How many miles or trips", lambda _v: None)
        self.add = QPushButton("Add")
        self.add.clicked.connect(lambda _=False: self._add())
        self.out = QPushButton("Take off")
        self.out.clicked.connect(lambda _=False: self._take_off())
        self.card = QPushButton("Glove box card (PDF)…")
        self.card.clicked.connect(
            lambda _=False: ask_path(self, "Save the card", "re-checks.pdf", "(*.pdf)", self.write)
        )
        row.addWidget(Labeled(bench, "Something else", self.title), 1)
        row.addWidget(Labeled(bench, "When", self.when))
        row.addWidget(Labeled(bench, "How many", self.every))
        for button in (self.add, self.out):
            row.addWidget(button)
        return row

    def _driven(self, count: str, value: float) -> None:
        self._bench.do(set_log(f"{count.capitalize()} so far", **{count: value}))

    def _recheck(self) -> Recheck | None:
        row, every = self.table.currentRow(), self._bench.job.log.rechecks
        return every[row] if 0 <= row < len(every) else None

    def _add(self) -> None:
        bench = self._bench
        if not self.title.text().strip():
            bench.refused.emit("Re-check: it does not say what to look at. Type a few words.")
            return
        if self.when.currentData() in ("miles", "trips") and not self.every.value:
            bench.refused.emit("How many: empty. Type after how many miles or trips to look again, such as 500.")
            return
        try:
            one = made(
                Recheck, title=self.title.text().strip(), when=self.when.currentData(), every=self.every.value or 0.0
            )
        except InputError as error:
            bench.refused.emit(str(error))
            return
        self.title.clear()
        bench.do(set_rechecks(f"Look again at {one.title}", (*bench.job.log.rechecks, one)))

    def _take_off(self) -> None:
        row, every = self.table.currentRow(), self._bench.job.log.rechecks
        if 0 <= row < len(every):
            self._bench.do(set_rechecks(f"Without {every[row].title}", every[:row] + every[row + 1 :]))

    def _note(self, found: str) -> None:
        bench, row, every = self._bench, self.table.currentRow(), self._bench.job.log.rechecks
        if not 0 <= row < len(every):
            bench.refused.emit("No line is picked: click what was looked at first.")
            return
        if not found:
            return
        now = datetime.now().astimezone().isoformat(timespec="minutes")
        changed = with_changes(every[row], done=now, found=found, at=driven(bench.job, every[row]))
        bench.do(set_rechecks(f"Looked at {every[row].title}", (*every[:row], changed, *every[row + 1 :])))
        self.bad.clear()

    def _measured(self, value: float) -> None:
        bench, recheck = self._bench, self._recheck()
        if recheck is None or not recheck.what:
            bench.refused.emit("No line with a figure is picked: click what was measured first.")
            return
        angle = recheck.what.endswith("angle")
        now = datetime.now().astimezone().isoformat(timespec="seconds")
        stages = [s for s in BUILT if s in {*built_stages(bench.job), bench.job.measuring.stage}]
        if stages:  # a reading of the built car: the design stays
            row = new_reading(bench.job, recheck.what, "angle" if angle else "length", value,
                              "angle_finder" if angle else "tape", now, stage=stages[-1])  # fmt: skip
            bench.do(take_reading(row))
        self._note(moved_words(bench.job, recheck, value))

    def write(self, path: Path) -> None:
        """Write the card as PDF."""
        from even_stance.exchange.bookpdf import recheck_card  # noqa: PLC0415 - paper is loaded late

        job = self._bench.job
        save_made(self._bench, path, lambda: recheck_card(job))

    def _show_form(self) -> None:
        recheck = self._recheck()
        angle = recheck is not None and recheck.what.endswith("angle")
        self.length_label.setVisible(recheck is not None and bool(recheck.what) and not angle)
        self.angle_label.setVisible(angle)
        for field in (self.length, self.angle):
            field.clear_typed()

    def refresh(self) -> None:
        """List what is to be looked at."""
        if not self.isVisible():
            return
        job = self._bench.job
        self.length_label.refresh_unit()
        for count, field in self.counts.items():
            field.show_value(getattr(job.log, count))
        every, late = job.log.rechecks, due(job)
        if not every:
            self.words.setText("Nothing is on the list yet: put the usual ones on, with what this car should show.")
        else:
            self.words.setText(f"{len(late)} due now, {sum(bool(r.done) for r in every)} of {len(every)} looked at.")
        row = self.table.currentRow()
        with blocked(self.table):
            self.table.setRowCount(len(every))
            for i, one in enumerate(every):
                mark = "▲ " if one in late else ""
                for j, text in enumerate(
                    (f"{mark}{one.title}", when_words(one), expect_words(job, one), one.found, one.done[:10])
                ):
                    set_text(self.table, i, j, text, right=False)
            if 0 <= row < len(every):
                self.table.selectRow(row)
        self._show_form()

    def showEvent(self, _event: object) -> None:
        """Catch up with what changed while hidden."""
        self.refresh()
