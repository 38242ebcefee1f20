"""Diary: what was measured, decided, fixed and fitted, by date; written by itself and by hand, searched by words."""

from datetime import datetime

from PyQt6.QtWidgets import (
    QComboBox,
    QHBoxLayout,
    QHeaderView,
    QLineEdit,
    QPushButton,
    QTableWidget,
    QVBoxLayout,
    QWidget,
)

from even_stance.desktop.bench import Bench
from even_stance.desktop.look import Look
from even_stance.desktop.widgets.fields import Labeled, PlainField
from even_stance.desktop.widgets.labels import PlainLabel
from even_stance.desktop.widgets.signalblock import blocked
from even_stance.desktop.widgets.table import RowFitter, plain_table, set_text
from even_stance.errors import InputError
from even_stance.shop.diary import Item, diary, latest, sums, with_entry
from even_stance.vehicle.edits import made, with_changes
from even_stance.vehicle.log import ENTRY_WORDS, Entry
from even_stance.vehicle.measuring import STAGES

_COLUMNS = ("When", "What", "", "Stage")
_SHOWN = 100  # the rest is found by searching: rows that nobody scrolls to would be made at every entry


class DiaryPage(QWidget):
    """The diary, the latest first, and a form for one entry."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench, self._look = bench, look
        self.items: list[Item] = []
        self._editing = -1
        column = QVBoxLayout(self)
        column.setContentsMargins(12, 8, 12, 4)
        row = QHBoxLayout()
        self.search = QLineEdit()
        self.search.setAccessibleName("Search the diary")
        self.search.setPlaceholderText("Search: words, a date, a stage")
        self.search.textChanged.connect(lambda _: self.refresh())
        row.addWidget(self.search, 1)
        self.words = PlainLabel()
        self.words.setProperty("role", "faint")
        row.addWidget(self.words, 1)
        column.addLayout(row)
        self.table = plain_table(_COLUMNS, "Diary", wide=2)
        self.table.setSelectionMode(QTableWidget.SelectionMode.SingleSelection)
        header = self.table.horizontalHeader()
        if header is not None:
            header.setSectionResizeMode(1, QHeaderView.ResizeMode.Stretch)
        self._rows = RowFitter(self.table)
        self.table.itemSelectionChanged.connect(self._picked)
        column.addWidget(self.table, 1)
        form = QHBoxLayout()
        self.kind = QComboBox()
        self.kind.setAccessibleName("Kind of entry")
        for key, words in ENTRY_WORDS.items():
            self.kind.addItem(words, key)
        form.addWidget(Labeled(bench, "Kind", self.kind))
        self.title, self.text = QLineEdit(), QLineEdit()
        self.title.setMaxLength(80)
        self.text.setMaxLength(5_000)
        for field, name, share in ((self.title, "What", 2), (self.text, "More", 3)):
            field.setAccessibleName(name)
            form.addWidget(Labeled(bench, name, field), share)
        self.hours = PlainField(bench, "Hours", lambda _v: None)
        self.money = PlainField(bench, "Money", lambda _v: None)
        form.addWidget(Labeled(bench, "Hours", self.hours))
        form.addWidget(Labeled(bench, "Money", self.money))
        column.addLayout(form)
        acts = QHBoxLayout()
        self.keep = QPushButton("Write it down")
        self.keep.setProperty("main", "true")
        self.keep.clicked.connect(lambda _=False: self._keep())
        self.change = QPushButton("Change the one picked")
        self.change.clicked.connect(lambda _=False: self._change())
        for button in (self.keep, self.change):
            acts.addWidget(button)
        acts.addStretch(1)
        column.addLayout(acts)

    def _entry(self, at: str, by_itself: bool, photos: tuple[str, ...] = ()) -> Entry | None:
        bench = self._bench
        if not self.title.text().strip():
            bench.refused.emit("Entry: it does not say what. Type a few words.")
            return None
        try:
            return made(
                Entry, at=at, kind=self.kind.currentData(), title=self.title.text().strip(),
                text=self.text.text().strip(),
                stage=bench.job.measuring.stage, hours=self.hours.value, money=self.money.value, photos=photos,
                by_itself=by_itself,
            )  # fmt: skip
        except InputError as error:
            bench.refused.emit(str(error))
            return None

    def _keep(self) -> None:
        entry = self._entry(datetime.now().astimezone().isoformat(timespec="seconds"), False)
        if entry is None:
            return
        for field in (self.title, self.text):
            field.clear()
        for number in (self.hours, self.money):
            number.clear_typed()
        self._bench.write(with_entry(self._bench.job, entry))

    def _change(self) -> None:
        entries = self._bench.job.log.entries
        if not 0 <= self._editing < len(entries):
            self._bench.refused.emit(
                "Readings and decisions are changed where they are made: pick an entry that was written."
            )
            return
        old = entries[self._editing]
        entry = self._entry(old.at, old.by_itself, old.photos)
        if entry is not None:
            entry = with_changes(entry, stage=old.stage)
            self._bench.write((*entries[: self._editing], entry, *entries[self._editing + 1 :]))

    def _picked(self) -> None:
        row = self.table.currentRow()
        self._editing = self.items[row].entry if 0 <= row < len(self.items) else -1
        if self._editing >= 0:
            entry = self._bench.job.log.entries[self._editing]
            self.kind.setCurrentIndex(self.kind.findData(entry.kind))
            self.title.setText(entry.title)
            self.text.setText(entry.text)
            for field, value in ((self.hours, entry.hours), (self.money, entry.money)):
                field.clear_typed()
                field.show_value(value)

    def refresh(self) -> None:
        """List the diary."""
        if not self.isVisible():
            return
        job = self._bench.job
        every, count = latest(job, _SHOWN)
        if self.search.text().strip():
            every = diary(job, self.search.text())
            count = len(every)
        self.items = every[:_SHOWN]
        with blocked(self.table), self._rows:
            self.table.setRowCount(len(self.items))
            for i, item in enumerate(self.items):
                photo = f" ({len(item.photos)} photo{'s' * (len(item.photos) > 1)})" if item.photos else ""
                when, what = item.at[:16].replace("T", " "), f"{item.kind}: {item.title}{photo}"
                for j, text in enumerate((when, what, item.text, STAGES[item.stage])):
                    set_text(self.table, i, j, text, right=False)
        hours, money = sums(job)
        more = f", the latest {_SHOWN} shown" if count > _SHOWN else ""
        self.words.setText(f"{count} entries{more}; {hours:g} h, {money:.2f} spent")

    def showEvent(self, _event: object) -> None:
        """Catch up with what changed while hidden."""
        self.refresh()
