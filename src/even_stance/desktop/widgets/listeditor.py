"""A short list of named things with figures: rows to read, one line to add another, a button to take one out."""

from collections.abc import Callable, Sequence
from functools import partial

from PyQt6.QtWidgets import QCheckBox, QHBoxLayout, QLineEdit, QPushButton, QSizePolicy, QVBoxLayout, QWidget

from even_stance.desktop.bench import Bench
from even_stance.desktop.widgets.fields import Labeled, LengthField, MassField, NumberField
from even_stance.desktop.widgets.labels import faint_words, group_head
from even_stance.desktop.widgets.table import plain_table, set_text
from even_stance.errors import InputError

Values = dict[str, float]


class ListEditor(QWidget):
    """A list of named things.

    Args:
        bench: the bench.
        title: what the list is; hint: what belongs in it.
        columns: key, title and kind (“length” or “mass”) of each figure.
        tick: what the check box of a new row says.
        add: what to do with a new row: its name, figures and tick.
        remove: what to do to take row n out.
    """

    def __init__(
        self, bench: Bench, title: str, hint: str, columns: Sequence[tuple[str, str, str]], tick: str,
        add: Callable[[str, Values, bool], bool], remove: Callable[[int], object],
    ) -> None:  # fmt: skip
        super().__init__()
        self._bench, self._columns, self._add, self._remove = bench, columns, add, remove
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(group_head(title))
        column.addWidget(faint_words(hint))
        self.table = plain_table(("Name", *(t for _, t, _ in columns), ""), title)
        self.table.setMinimumHeight(96)
        self.table.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        column.addWidget(self.table, 1)
        row = QHBoxLayout()
        self.name = QLineEdit()
        self.name.setMaxLength(80)
        row.addWidget(Labeled(bench, "Name", self.name), 2)
        self._values: Values = {}
        self.fields: dict[str, NumberField] = {}
        for key, words_of, kind in columns:
            make = MassField if kind == "mass" else LengthField
            self.fields[key] = make(bench, words_of, partial(self._values.__setitem__, key))
            row.addWidget(Labeled(bench, words_of, self.fields[key], kind), 1)
        self.tick = QCheckBox(tick)
        row.addWidget(self.tick)
        self.add = QPushButton("Add")
        self.add.clicked.connect(self._try_add)
        self.out = QPushButton("Take out")
        self.out.clicked.connect(self._take_out)
        row.addWidget(self.add)
        row.addWidget(self.out)
        column.addLayout(row)

    def _try_add(self) -> None:
        try:
            if not self.name.text().strip():
                raise InputError("Name", "nothing was entered.", "Say what it is, such as fuel tank.")
            for key, title, _ in self._columns:
                self.fields[key].commit()
                if key not in self._values or self.fields[key].property("wrong"):
                    raise InputError(title, "is missing.", "Fill in every figure of the line.")
        except InputError as error:
            self._bench.refused.emit(str(error))
            return
        if self._add(self.name.text().strip(), dict(self._values), self.tick.isChecked()):
            self._values.clear()
            self.name.clear()
            for field in self.fields.values():
                field.clear_typed()
            self.name.setFocus()

    def _take_out(self) -> None:
        row = self.table.currentRow()
        if row < 0:
            self._bench.refused.emit("No row is picked: click the one to take out first.")
        else:
            self._remove(row)

    def show_rows(self, rows: Sequence[Sequence[str]]) -> None:
        """Show the list."""
        self.table.setRowCount(len(rows))
        for i, texts in enumerate(rows):
            for j, text in enumerate(texts):
                set_text(self.table, i, j, text, right=0 < j < len(texts) - 1)
