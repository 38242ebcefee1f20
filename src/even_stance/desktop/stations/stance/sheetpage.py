"""The measuring sheet: a list of steps, the picture and fields of one, and the readings taken so far."""

from collections.abc import Iterator
from datetime import datetime
from functools import partial
from pathlib import Path
from typing import cast

from PyQt6.QtCore import QStringListModel, Qt, QTimer
from PyQt6.QtWidgets import (
    QComboBox,
    QCompleter,
    QFileDialog,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from even_stance.desktop.bench import Bench
from even_stance.desktop.bounds import bound
from even_stance.desktop.look import Look
from even_stance.desktop.pages import SteppedPage
from even_stance.desktop.papers import PaperWriter
from even_stance.desktop.widgets.emptied import emptied
from even_stance.desktop.widgets.fields import DegreeField, Labeled, LengthField, MassField, NumberField
from even_stance.desktop.widgets.labels import PlainLabel, faint_words, plain_tip
from even_stance.desktop.widgets.schoolnote import SchoolButton
from even_stance.desktop.widgets.signalblock import blocked
from even_stance.desktop.widgets.sketch import Sketch
from even_stance.desktop.widgets.table import plain_table, set_text
from even_stance.errors import StanceError
from even_stance.shop.angles import Against, against, shaft_angle, up_down
from even_stance.shop.pictures import step_picture
from even_stance.shop.readings import Mean, Means, far_off, means_of, new_reading
from even_stance.shop.sheet import set_aside, sheet, take_reading
from even_stance.shop.steps import Field, Step
from even_stance.units import System, format_length, format_mass, length_unit, mass_unit
from even_stance.vehicle.edits import set_measuring, with_changes
from even_stance.vehicle.measuring import STAGES, STANDS_ON, TOOLS, Quantity, Tool

_AGAINST: tuple[Against, ...] = ("floor", "frame")
_STEP = Qt.ItemDataRole.UserRole
_WITH: dict[Quantity, str] = {"length": "Lengths with", "angle": "Angles with", "mass": "Weights with"}
_TOOL_OF: dict[Quantity, Tool] = {"length": "tape", "angle": "angle_finder", "mass": "scales"}
_ENTER = "Enter keeps a reading and goes on; go back to read again. ± is how far off their mean may be."
_MEANS = (
    "± is how far off the mean may be.\nOne reading: what its tool is good for.\n"
    "Several: their scatter over the root of their number, with half of what the tool is good for."
)
_COLUMNS = ("Reading", "As read", "Value", "With", "When", "By", "Counts")


def quantity_words(quantity: Quantity, value: float, units: System) -> str:
    """A reading as it is read, with its unit."""
    if quantity == "angle":
        return f"{abs(value):.2f}° {'up' if value >= 0 else 'down'}"
    if quantity == "mass":
        return f"{format_mass(value, units)} {mass_unit(units)}"
    return f"{format_length(value, units)} {length_unit(units)}"


class AngleWays(QWidget):
    """How the angle finder was held: along the shaft or on a face, what it shows when level, which way it points."""

    def __init__(self) -> None:
        super().__init__()
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        self.on, self.zero, self.way = QComboBox(), QComboBox(), QComboBox()
        for box, name, choices in (
            (
                self.on,
                "Where the finder was pressed",
                (("along the shaft", "shaft"), ("on a face square to it", "face")),
            ),
            (self.zero, "What the finder shows", (("shows 0 when level", "level"), ("shows 90 when level", "plumb"))),
            (self.way, "Which way it points", (("up toward the front", "up"), ("down toward the front", "down"))),
        ):
            box.setAccessibleName(name)
            for words, key in choices:
                box.addItem(words, key)
            row.addWidget(box)

    def read(self, typed_deg: float) -> float:
        """The angle of the thing measured; a minus sign or the word down says which way on its own.

        Raises:
            InputError: the finder cannot have shown this.
        """
        down = typed_deg < 0 or self.way.currentData() == "down"
        return shaft_angle(abs(typed_deg), self.on.currentData(), self.zero.currentData(), "down" if down else "up")


# Marks and their words stay together where the line breaks.
_MARKS = "  ".join(m.replace(" ", "\N{NO-BREAK SPACE}") for m in ("✓ done", "◐ begun", "– missing", "? look again"))


class SheetPage(SteppedPage):
    """What to measure next, how, and what was read."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench, self._look = bench, look
        self.papers = PaperWriter(self)
        self.papers.told.connect(bench.refused)
        self.papers.written.connect(bench.wrote)
        self.steps: list[Step] = []
        self.step: Step | None = None
        self.fields: dict[str, NumberField] = {}
        self._notes: dict[str, QLabel] = {}
        self._shown: tuple[int, ...] = ()

    def build(self) -> Iterator[None]:
        """The steps to the left; the one picked, its picture, fields and readings to the right."""
        look = self._look
        row = QHBoxLayout(self)
        row.setContentsMargins(10, 8, 10, 4)
        row.setSpacing(12)
        row.addLayout(self._left(), 2)
        yield
        right = QVBoxLayout()
        row.addLayout(right, 5)
        right.addLayout(self._who_row())
        self.title, self.how = PlainLabel(), PlainLabel()
        self.title.setProperty("role", "head")
        self.how.setWordWrap(True)
        right.addWidget(self.title)
        right.addWidget(self.how)
        self.picture = Sketch(look, "What to measure")
        bound(self.picture, look.percent, high=(150, None))  # the readings below it are to be seen as well
        right.addWidget(self.picture, 3)
        yield
        self.ways = AngleWays()
        right.addWidget(self.ways)
        self.slip = SchoolButton(look, "slip_yoke")
        right.addWidget(self.slip)
        self._grid = QGridLayout()
        right.addLayout(self._grid)
        self.means = faint_words(_ENTER)
        self.means.setToolTip(plain_tip(_MEANS))
        self.means.setWordWrap(True)
        right.addWidget(self.means)
        self.table = plain_table(_COLUMNS, "Readings of this step")
        self.table.cellClicked.connect(self._toggle)
        self.table.cellActivated.connect(self._toggle)
        right.addWidget(self.table, 2)

    def _left(self) -> QVBoxLayout:
        column = QVBoxLayout()
        self.missing = PlainLabel()
        self.missing.setWordWrap(True)
        self.missing.setProperty("role", "faint")
        column.addWidget(self.missing)
        # Above the list: in a low window the page scrolls, and what to do next has to be seen.
        self.next = QPushButton("Next to measure")
        self.next.setProperty("main", "true")
        self.next.clicked.connect(self.go_next)
        column.addWidget(self.next)
        self.list = QListWidget()
        self.list.setAccessibleName("Steps of the measuring sheet")
        self.list.setWordWrap(True)
        self.list.setResizeMode(QListWidget.ResizeMode.Adjust)
        self.list.currentItemChanged.connect(self._picked)
        column.addWidget(self.list, 1)
        self.print = QPushButton("Print the sheet…")
        self.print.clicked.connect(self.ask_print)
        column.addWidget(self.print)
        return column

    def _who_row(self) -> QHBoxLayout:
        row = QHBoxLayout()
        # Each quantity has a tool of its own: the one chosen for lengths stays while angles are read.
        self.tools: dict[Quantity, QComboBox] = {}
        self._tool_labels: dict[Quantity, Labeled] = {}
        for quantity, title in _WITH.items():
            box = QComboBox()
            for key, kind in TOOLS.items():
                if kind.reads(quantity):
                    box.addItem(kind.words, key)
            box.setCurrentIndex(box.findData(_TOOL_OF[quantity]))
            self.tools[quantity] = box
            self._tool_labels[quantity] = Labeled(self._bench, title, box)
            row.addWidget(self._tool_labels[quantity], 1)
        self.who, self.stands = QLineEdit(), QLineEdit()
        self.who.setMaxLength(80)
        self.stands.setMaxLength(200)
        self.stands.setPlaceholderText("on what and with what load: on its tires, empty, half a tank")
        self.stands.setToolTip(
            "Readings of a car on its tires and on stands are never put together: each belongs to how it stood"
        )
        self._stances = QCompleter(self)
        self._stances.setCaseSensitivity(Qt.CaseSensitivity.CaseInsensitive)
        self._stances.setFilterMode(Qt.MatchFlag.MatchContains)
        self.stands.setCompleter(self._stances)
        self.who.editingFinished.connect(lambda: self._bench.do(set_measuring("Who measures", who=self.who.text())))
        self.stands.editingFinished.connect(
            lambda: self._bench.do(set_measuring("How it stands", stance=self.stands.text()))
        )
        self.stage = QComboBox()
        self.stage.setAccessibleName("Stage of the build")
        for combo in (*self.tools.values(), self.stage):  # how the car stands needs the room most
            combo.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
            combo.setMinimumContentsLength(7)
        self.stage.setToolTip("As found makes the design; all later stages are of the built car and leave it as it is")
        for stage, words in STAGES.items():
            self.stage.addItem(words, stage)
        self.stage.activated.connect(
            lambda _: self._bench.do(set_measuring("Stage of the build", stage=self.stage.currentData()))
        )
        for title, field, stretch in (
            ("By", self.who, 1), ("The car stands", self.stands, 4),
            ("The car is", self.stage, 1),
        ):  # fmt: skip
            row.addWidget(Labeled(self._bench, title, field), stretch)
        return row

    # --- going about

    def go_next(self) -> None:
        """The first step that has a field without a reading."""
        means = means_of(self._bench.job, self._bench.job.measuring.stage)
        for i, step in enumerate(self.steps):
            if any(f.what not in means for f in step.fields):
                self._select(i)
                return

    def _select(self, index: int) -> None:
        for row in range(self.list.count()):
            item = self.list.item(row)
            if item is not None and item.data(_STEP) == index:
                self.list.setCurrentItem(item)
                first = next(iter(self.fields.values()), None)
                if first is not None:
                    first.setFocus()
                return

    def _picked(self, item: QListWidgetItem | None) -> None:
        index = None if item is None else item.data(_STEP)
        if isinstance(index, int):
            self.step = self.steps[index]
            self._build(self.step)
            self.refresh()

    def _build(self, step: Step) -> None:
        emptied(self._grid)
        self.fields, self._notes = {}, {}
        kinds = {"length": (LengthField, "length"), "angle": (DegreeField, "deg"), "mass": (MassField, "mass")}
        for i, field in enumerate(step.fields):
            make, kind = kinds[field.quantity]
            line = make(self._bench, field.title, partial(self.take, field))
            line.once = True  # each Enter is one reading; what they come to stands below
            line.returnPressed.connect(partial(self._go_on_from, field.what))
            self.fields[field.what] = line
            note = PlainLabel()
            note.setProperty("role", "faint")
            note.setWordWrap(True)
            note.setToolTip(plain_tip(_MEANS))
            self._notes[field.what] = note
            self._grid.addWidget(Labeled(self._bench, field.title, line, kind), 0, i)
            self._grid.addWidget(note, 1, i)

    @property
    def _by_ways(self) -> bool:
        """Whether angles are read against level; those of a kingpin and of a lock are typed as they are."""
        return self.step is None or self.step.group != "Steering"

    def take(self, field: Field, value: float) -> None:
        """Keep a reading that was typed, or came from a gauge."""
        bench = self._bench
        tool = cast(Tool, self.tools[field.quantity].currentData())
        note = self.fields[field.what].text().strip()
        try:
            if field.quantity == "angle" and self._by_ways:
                note = f"finder {abs(value):g}, {self.ways.on.currentText()}, {self.ways.zero.currentText()}"
                value = self.ways.read(value)
            now = datetime.now().isoformat(timespec="minutes")
            reading = new_reading(bench.job, field.what, field.quantity, value, tool, now, note)
        except StanceError as error:
            bench.refused.emit(str(error))
            return
        off = far_off(bench.job, reading)
        bench.do(take_reading(reading if off is None else with_changes(reading, counts=False)))
        if off is not None:
            units = bench.job.units
            size = f"{off:.1f}°" if field.quantity == "angle" else quantity_words(field.quantity, off, units)
            read = quantity_words(field.quantity, value, units)
            bench.refused.emit(
                f"{field.title}: {read} is {size} off what was read before. It is set aside: click it in the list "
                "below if it counts all the same."
            )

    def _go_on_from(self, what: str) -> None:
        """After Enter: on to the next field of the step, then to the button for the next step."""
        QTimer.singleShot(0, partial(self._go_on, what))

    def _go_on(self, what: str) -> None:
        line = self.fields.get(what)
        if line is None or line.property("wrong"):
            return
        names = list(self.fields)
        after = names.index(what) + 1
        if after < len(names):
            self.fields[names[after]].setFocus()
        elif self.next.isEnabled():
            self.next.setFocus()

    def _toggle(self, row: int, _column: int) -> None:
        if row < len(self._shown):
            index = self._shown[row]
            self._bench.do(set_aside(index, self._bench.job.measuring.readings[index].counts))

    def ask_print(self) -> QFileDialog:
        """Ask where the printable sheet goes."""
        dialog = QFileDialog(self, "Print the measuring sheet", "measuring-sheet.pdf", "PDF (*.pdf)")
        dialog.setAcceptMode(QFileDialog.AcceptMode.AcceptSave)
        dialog.setDefaultSuffix("pdf")
        dialog.fileSelected.connect(self.print_to)
        dialog.open()
        return dialog

    def print_to(self, name: str) -> None:
        """Write the printable sheet beside the window."""
        self.papers.write(self._bench.job, "measuring-sheet", Path(name), self._bench.setup)

    # --- showing

    def refresh(self) -> None:
        """Show the steps, and the one that is open."""
        job = self._bench.job
        means = means_of(job, job.measuring.stage)
        self.steps = list(sheet(job))
        self._fill_list(means)
        keys = [s.key for s in self.steps]
        if self.step is None or self.step.key not in keys:
            self.go_next()
            if self.step is None or self.step.key not in keys:
                self._select(0)
            return
        self.step = self.steps[keys.index(self.step.key)]
        for line, text in ((self.who, job.measuring.who), (self.stands, job.measuring.stance)):
            if not line.hasFocus():
                line.setText(text)
                line.setCursorPosition(0)
        known = dict.fromkeys([*(r.stance for r in job.measuring.readings if r.stance), *STANDS_ON])
        self._stances.setModel(QStringListModel(list(known), self._stances))
        self.stage.setCurrentIndex(self.stage.findData(job.measuring.stage))
        built = "" if job.measuring.stage == "found" else f": {STAGES[job.measuring.stage]}, the design stays"
        self.title.setText(f"{self.step.title}{built}")
        self.how.setText(self.step.how)
        there = {f.quantity for f in self.step.fields}
        for quantity, labeled in self._tool_labels.items():
            labeled.setVisible(quantity in there)
        self.ways.setVisible(self._by_ways and any(f.quantity == "angle" for f in self.step.fields))
        self.slip.setVisible(self.step.key.endswith(".output"))
        self.picture.show_shapes(*step_picture(job, self.step))
        for field in self.step.fields:
            mean = means.get(field.what)
            self.fields[field.what].show_value(None)
            self.fields[field.what].setPlaceholderText("read it" if mean is None else "read it again")
            self._notes[field.what].setText(self._mean_words(field, mean))
        self._fill_table(means)

    def _fill_list(self, means: Means) -> None:
        groups: list[tuple[str, int | None]] = []
        for i, step in enumerate(self.steps):
            if not groups or step.group != self.steps[i - 1].group:
                groups.append((step.group, None))
            done = sum(f.what in means for f in step.fields)
            odd = any(f.what in means and means[f.what].odd >= 0 for f in step.fields)
            mark = "?" if odd else "✓" if done == len(step.fields) else "◐" if done else "–"
            groups.append((f"{mark}  {step.title}", i))
        left = sum(any(f.what not in means for f in s.fields) for s in self.steps)
        self.missing.setText(f"{left} of {len(self.steps)} steps to measure. {_MARKS}")
        self.next.setEnabled(left > 0)
        with blocked(self.list):
            if self.list.count() != len(groups):
                self.list.clear()
                for _ in groups:
                    self.list.addItem(QListWidgetItem())
            current = None if self.step is None else [s.key for s in self.steps].index(self.step.key) if any(
                s.key == self.step.key for s in self.steps) else None  # fmt: skip
            for row, (words, index) in enumerate(groups):
                item = self.list.item(row)
                assert item is not None
                item.setText(words)
                item.setData(_STEP, index)
                item.setFlags(Qt.ItemFlag.NoItemFlags if index is None else Qt.ItemFlag.ItemIsEnabled
                              | Qt.ItemFlag.ItemIsSelectable)  # fmt: skip
                if index is not None and index == current and self.list.currentRow() != row:
                    self.list.setCurrentRow(row)

    def _mean_words(self, field: Field, mean: Mean | None) -> str:
        if mean is None:
            return "not read yet"
        units, quantity = self._bench.job.units, field.quantity
        sure = f"± {mean.sure:.2f}°" if quantity == "angle" else f"± {quantity_words(quantity, mean.sure, units)}"
        if field.what.endswith(".angle"):
            kept = self._bench.job.measuring
            to = [against(mean.value, to, kept.floor_slope_deg, kept.rake_deg) for to in _AGAINST]
            sure += f"; {up_down(to[0])} to the floor, {up_down(to[1])} to the frame"
        sure = f"{quantity_words(quantity, mean.value, units)}, {sure}"
        other = "".join(
            f". Not counted, {stance or 'nobody said how it stood'}: {quantity_words(quantity, value, units)}"
            for stance, value in mean.others
        )
        if mean.count == 1:
            return f"{sure}: one reading{other}"
        apart = f"{mean.scatter:.2f}°" if quantity == "angle" else quantity_words(quantity, mean.scatter, units)
        words = f"{sure}: {mean.count} readings, {apart} apart"
        return words + (". One does not belong: look below" if mean.odd >= 0 else "") + other

    def _fill_table(self, means: Means) -> None:
        assert self.step is not None
        units, titles = self._bench.job.units, {f.what: f.title for f in self.step.fields}
        readings = self._bench.job.measuring.readings
        odd = {m.odd for m in means.values()}
        self._shown = tuple(i for i in reversed(range(len(readings))) if readings[i].what in titles)
        self.table.setRowCount(len(self._shown))
        self.table.setColumnHidden(0, len(titles) == 1)
        for row, i in enumerate(self._shown):
            r = readings[i]
            mean = means.get(r.what)
            elsewhere = r.counts and mean is not None and any(stance == r.stance for stance, _ in mean.others)
            counts = (
                "set aside: click to count"
                if not r.counts
                else "odd one out: click to set aside"
                if i in odd
                else (f"not now: {r.stance or 'nobody said how it stood'}" if elsewhere else "yes")
            )
            counts = counts if r.stage == "found" else f"{counts}, {STAGES[r.stage]}"
            raw = r.note.partition(",")[0]  # as the tool showed it, before it was turned into what is kept
            for column, text in enumerate(
                (titles[r.what], raw, quantity_words(r.quantity, r.value, units), TOOLS[r.tool].words,
                 r.taken[5:].replace("T", " "), r.who, counts)
            ):  # fmt: skip
                set_text(self.table, row, column, text, right=column in (1, 2))
            item = self.table.item(row, 2)
            if item is not None:
                item.setToolTip(plain_tip("\n".join(t for t in (r.stance, r.note) if t)))
