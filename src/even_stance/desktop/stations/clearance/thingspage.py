"""Things: what the car carries that can be hit, each with the few measures that matter and a picture of them."""

from collections.abc import Iterator
from functools import partial
from pathlib import Path
from typing import Any

from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QFileDialog,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QPlainTextEdit,
    QPushButton,
    QTableWidget,
    QVBoxLayout,
    QWidget,
)

from even_stance.desktop.bench import Bench
from even_stance.desktop.bounds import bound
from even_stance.desktop.look import Look
from even_stance.desktop.pages import SteppedPage
from even_stance.desktop.stations.clearance.fileasker import FileAsker
from even_stance.desktop.stations.clearance.tapepicture import TapePicture
from even_stance.desktop.widgets.fields import Labeled, LengthField
from even_stance.desktop.widgets.labels import PlainLabel, group_head
from even_stance.desktop.widgets.signalblock import blocked
from even_stance.desktop.widgets.table import plain_table, set_text
from even_stance.errors import InputError
from even_stance.exchange.meshes import KINDS as SCANS
from even_stance.judgement.catalog.things import KINDS, MEASURES, start_thing
from even_stance.shop.thingtext import body_words, points_text, read_points, size_words
from even_stance.units import format_length
from even_stance.vehicle.edits import (
    change_thing,
    copy_thing,
    put_thing,
    shape_thing,
    switch_group,
    take_thing_off,
)
from even_stance.vehicle.things import Plate, Round, Run, Thing

_COLUMNS = ("Thing", "Kind", "Hangs on", "Size", "Wanted", "Group", "On")


class ThingsPage(SteppedPage):
    """Things put on, taped, copied, mirrored, grouped, switched off, read from files."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench, self._look = bench, look
        self.chosen = ""
        self.asker = FileAsker(bench, look, self)

    def build(self) -> Iterator[None]:
        """What to put on; the list; the form of the one chosen."""
        column = QVBoxLayout(self)
        column.setContentsMargins(12, 6, 12, 4)
        column.addLayout(self._top())
        self.table = plain_table(_COLUMNS, "Things on the car", wide=0)
        self.table.setSelectionMode(QTableWidget.SelectionMode.SingleSelection)
        self.table.itemSelectionChanged.connect(self._picked)
        bound(self.table, self._look.percent, high=(150, None))
        column.addWidget(self.table, 1)
        yield
        below = QHBoxLayout()
        left = QVBoxLayout()
        self.head = group_head("")
        left.addWidget(self.head)
        self.tape = PlainLabel()
        self.tape.setWordWrap(True)
        left.addWidget(self.tape)
        left.addLayout(self._form())
        left.addLayout(self._acts())
        below.addLayout(left, 1)
        self.picture = TapePicture(self._look)
        below.addWidget(self.picture)
        column.addLayout(below)

    def _top(self) -> QHBoxLayout:
        row = QHBoxLayout()
        self.kind = QComboBox()
        self.kind.setAccessibleName("Kind of thing")
        for key, words in KINDS.items():
            if key != "scan":
                self.kind.addItem(words.title, key)
        row.addWidget(self.kind)
        self.put = QPushButton("Put one on")
        self.put.setProperty("main", "true")
        self.put.clicked.connect(lambda _=False: self._put())
        row.addWidget(self.put)
        row.addStretch(1)
        self.outline = QPushButton("Plate from DXF…")
        self.outline.clicked.connect(lambda _=False: self._ask("DXF outline", "(*.dxf)", self.read_outline))
        row.addWidget(self.outline)
        self.scan = QPushButton("Scanned part…")
        kinds = " ".join(f"*.{kind}" for kind in SCANS)
        self.scan.clicked.connect(lambda _=False: self._ask("Scanned part", f"({kinds})", self.read_part))
        row.addWidget(self.scan)
        return row

    def _form(self) -> QGridLayout:
        self._grid = QGridLayout()
        self.fields: dict[str, LengthField] = {}
        self.labels: dict[str, Labeled] = {}
        for measures in MEASURES.values():
            for m in measures:
                if m.name not in self.fields:
                    self.fields[m.name] = LengthField(self._bench, m.title, partial(self._set, m.name))
                    self.labels[m.name] = Labeled(self._bench, m.title, self.fields[m.name], "length")
                    self.labels[m.name].hide()
        self.points = QPlainTextEdit()
        self.points.setTabChangesFocus(True)
        self.points.setAccessibleName("Points, one a line: ahead, left, up")
        bound(self.points, self._look.percent, high=(None, 96))
        self.points.setTabChangesFocus(True)
        self.points_label = Labeled(self._bench, "Points, one a line: ahead, left, up", self.points)
        self.take_points = QPushButton("Take these points")
        self.take_points.clicked.connect(lambda _=False: self._take_points())
        self.toward = QComboBox()
        self.toward.setAccessibleName("Goes toward")
        for words in ("ahead", "left", "up"):
            self.toward.addItem(f"goes {words}", words)
        self.toward.activated.connect(lambda i: self._shape("Goes", toward=self.toward.itemData(i)))
        self.name = QLineEdit()
        self.name.setMaxLength(80)
        self.name.setAccessibleName("Name")
        self.name.editingFinished.connect(self._rename)
        self.on = QComboBox()
        self.on.setAccessibleName("Hangs on")
        self.on.activated.connect(lambda i: self._change("Hangs on", on=self.on.itemData(i)))
        self.group = QLineEdit()
        self.group.setMaxLength(80)
        self.group.setAccessibleName("Group")
        self.group.editingFinished.connect(self._regroup)
        self.wanted = LengthField(self._bench, "Gap wanted", lambda mm: self._change("Gap wanted", wanted_mm=mm))
        self.sure = LengthField(self._bench, "Measured to ±", lambda mm: self._change("Measured to", sure_mm=mm))
        self.own = [
            Labeled(self._bench, "Name", self.name), Labeled(self._bench, "Hangs on", self.on),
            Labeled(self._bench, "Gap wanted", self.wanted, "length"),
            Labeled(self._bench, "Measured to ±", self.sure, "length"), Labeled(self._bench, "Group", self.group),
        ]  # fmt: skip
        for i, labeled in enumerate(self.own):
            self._grid.addWidget(labeled, i // 3, i % 3)
        return self._grid

    def _acts(self) -> QHBoxLayout:
        row = QHBoxLayout()
        self.counts = QCheckBox("Looked at")
        self.counts.toggled.connect(lambda on: self._change("Looked at" if on else "Left out", counts=on))
        row.addWidget(self.counts)
        self.switch = QPushButton("Switch its group")
        self.switch.setToolTip("All things of the same group on, or off")
        self.switch.clicked.connect(lambda _=False: self._switch())
        row.addWidget(self.switch)
        self.acts: list[QPushButton] = []
        for words, do in (("Copy", partial(self._copy, False)), ("Mirror", partial(self._copy, True)),
                          ("Take off", self._off)):  # fmt: skip
            button = QPushButton(words)
            button.clicked.connect(lambda _=False, do=do: do())
            row.addWidget(button)
            self.acts.append(button)
        row.addStretch(1)
        return row

    # --- what is done

    def thing(self) -> Thing | None:
        """The thing looked at."""
        things = self._bench.job.vehicle.things
        return next((t for t in things if t.name == self.chosen), things[0] if things else None)

    def _put(self) -> None:
        thing = start_thing(self._bench.job, self._bench.axle_key, self.kind.currentData())
        if self._bench.do(put_thing(thing)).done:
            self.chosen = thing.name
            self.refresh()
            self.name.setFocus()

    def _picked(self) -> None:
        row, things = self.table.currentRow(), self._bench.job.vehicle.things
        if 0 <= row < len(things):
            self.chosen = things[row].name
            self._show_form()

    def _change(self, label: str, **changes: Any) -> None:
        thing = self.thing()
        if thing is not None and any(getattr(thing, k) != v for k, v in changes.items()):
            self._bench.do(change_thing(thing.name, label, **changes))

    def _shape(self, label: str, **measures: Any) -> None:
        thing = self.thing()
        if thing is not None:
            self._bench.do(shape_thing(thing.name, label, **measures))

    def _set(self, name: str, mm: float) -> None:
        self._shape(self.fields[name].name, **{name: mm})

    def _rename(self) -> None:
        thing, name = self.thing(), self.name.text().strip()
        if thing is None or name == thing.name:
            return
        if not name:
            self._bench.refused.emit("Name: nothing was entered. Say what it is, such as fuel tank.")
            self.name.setText(thing.name)
            return
        before, self.chosen = self.chosen, name
        if not self._bench.do(change_thing(thing.name, "Name", name=name)).done:
            self.chosen = before

    def _regroup(self) -> None:
        self._change("Group", group=self.group.text().strip())

    def _switch(self) -> None:
        thing = self.thing()
        if thing is not None and thing.group:
            self._bench.do(switch_group(thing.group, not thing.counts))
        elif thing is not None:
            self._bench.refused.emit(f"{thing.name} is in no group yet: type a name for one first.")

    def _copy(self, mirrored: bool) -> None:
        thing = self.thing()
        if thing is not None and self._bench.do(copy_thing(thing.name, mirrored)).done:
            self.chosen = self._bench.job.vehicle.things[-1].name
            self.refresh()

    def _off(self) -> None:
        thing = self.thing()
        if thing is not None:
            self._bench.do(take_thing_off(thing.name))

    def _take_points(self) -> None:
        thing = self.thing()
        if thing is None:
            return
        try:
            changes = read_points(self._bench.job, thing, self.points.toPlainText())
        except InputError as error:
            self.points_label.say_problem(str(error))
            return
        self.points_label.say_problem("")
        self._bench.do(shape_thing(thing.name, "Points", **changes))
        self._show_form()

    def _ask(self, title: str, kinds: str, use: Any) -> None:
        dialog = QFileDialog(self, title, "", kinds)
        dialog.setFileMode(QFileDialog.FileMode.ExistingFile)
        dialog.fileSelected.connect(lambda name: use(Path(name)))
        dialog.open()

    def read_outline(self, path: Path) -> None:
        """Put on a plate from the outline in a drawing."""
        self.asker.outline(path, self._read)

    def read_part(self, path: Path, unit: str = "") -> None:
        """Put on a part from the triangles of a scan."""
        self.asker.part(path, unit, self._read)

    def _read(self, thing: Thing) -> str:
        outcome = self._bench.do(put_thing(thing))
        if outcome.done:
            self.chosen = self._bench.job.vehicle.things[-1].name
            self.refresh()
        return "" if outcome.done else outcome.sentence

    # --- what is shown

    def refresh(self) -> None:
        """Show the things and the form of the one looked at."""
        if not hasattr(self, "picture"):
            return
        job, units = self._bench.job, self._bench.job.units
        things = job.vehicle.things
        with blocked(self.table):
            self.table.setRowCount(len(things))
            for i, thing in enumerate(things):
                wanted = "" if thing.wanted_mm is None else format_length(thing.wanted_mm, units).removeprefix("~")
                cells = (thing.name, KINDS[thing.kind].title, body_words(thing.on), size_words(job, thing), wanted,
                         thing.group, "yes" if thing.counts else "no")  # fmt: skip
                for j, text in enumerate(cells):
                    set_text(self.table, i, j, text, right=j == 4)
            thing_ = self.thing()
            self.chosen = "" if thing_ is None else thing_.name
            row = next((i for i, t in enumerate(things) if t.name == self.chosen), -1)
            if row >= 0 and self.table.currentRow() != row:
                self.table.selectRow(row)
        self._show_form()

    def _show_form(self) -> None:
        thing, units = self.thing(), self._bench.job.units
        there = thing is not None
        for widget in (*self.own, self.counts, self.switch, *self.acts, self.picture):
            widget.setVisible(there)
        self._lay_out(thing)
        if thing is None:
            self.head.setText("Nothing is put on yet")
            self.tape.setText("Choose what the car has, put it on, and tape the few measures its picture shows.")
            return
        words = KINDS[thing.kind]
        self.head.setText(f"{thing.name}: what to tape")
        self.tape.setText(f"{words.tape} Ahead is counted from the front axle: what is behind it is minus.")
        measures = MEASURES[thing.form.shape]
        for m in measures:
            self.labels[m.name].set_title(f"{m.letter}  {m.title}")
            self.fields[m.name].show_mm(getattr(thing.form, m.name))
        if self._has_points(thing) and not self.points.hasFocus():
            self.points.setPlainText(points_text(self._bench.job, thing))
        if isinstance(thing.form, Round):
            with blocked(self.toward):
                self.toward.setCurrentIndex(max(self.toward.findData(thing.form.toward), 0))
        self.picture.show_shape(thing.form.shape)
        self.picture.setVisible(bool(measures))  # of a scan nothing is taped
        for labeled in self.own:
            labeled.refresh_unit()
        for field, text in ((self.name, thing.name), (self.group, thing.group)):
            if not field.hasFocus():
                field.setText(text)
        self.wanted.show_mm(thing.wanted_mm)
        self.sure.show_mm(thing.sure_mm)
        with blocked(self.on):
            self.on.clear()
            for body in self._bodies():
                self.on.addItem(body_words(body), body)
            self.on.setCurrentIndex(max(self.on.findData(thing.on), 0))
        with blocked(self.counts):
            self.counts.setChecked(thing.counts)
        self.switch.setEnabled(bool(thing.group))
        del units

    @staticmethod
    def _has_points(thing: Thing) -> bool:
        return isinstance(thing.form, Run | Round | Plate) or hasattr(thing.form, "at")

    def _lay_out(self, thing: Thing | None) -> None:
        """Put the fields of a thing in their places; what stays is not touched: a field typed in keeps the focus."""
        places: dict[QWidget, tuple[int, int, int, int]] = {}
        measures = () if thing is None else MEASURES[thing.form.shape]
        for i, m in enumerate(measures):
            places[self.labels[m.name]] = (2 + i // 3, i % 3, 1, 1)
        row = 3 + (len(measures) - 1) // 3 if measures else 2
        if thing is not None and self._has_points(thing):
            places |= {self.points_label: (row, 0, 1, 2), self.take_points: (row, 2, 1, 1)}
        if thing is not None and isinstance(thing.form, Round):
            places[self.toward] = (1, 2, 1, 1)
        for widget in (*self.labels.values(), self.points_label, self.take_points, self.toward):
            at, wanted = self._grid.indexOf(widget), places.get(widget)
            if at >= 0 and (wanted is None or self._grid.getItemPosition(at) != wanted):
                self._grid.removeWidget(widget)
                at = -1
            if wanted is not None and at < 0:
                self._grid.addWidget(widget, *wanted)
            widget.setVisible(wanted is not None)

    def _bodies(self) -> list[str]:
        vehicle = self._bench.job.vehicle
        found = ["chassis"] + (["powertrain"] if vehicle.powertrain is not None else [])
        for axle in vehicle.axles:
            found.append(f"{axle.key} axle")
            if axle.steering is not None:
                found += [f"{axle.key} {side} knuckle" for side in ("left", "right")]
        return found
