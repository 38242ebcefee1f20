"""A page of the Steering station: fields of a part of the steering's record above, what they come to below."""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field
from functools import partial
from typing import Any

from PyQt6.QtWidgets import QCheckBox, QGridLayout, QPushButton, QVBoxLayout, QWidget

from even_stance.desktop.bench import Bench
from even_stance.desktop.look import Look
from even_stance.desktop.pages import SteppedPage
from even_stance.desktop.widgets.fields import Labeled, LengthField, NumberField
from even_stance.desktop.widgets.labels import PlainLabel, group_head
from even_stance.desktop.widgets.schoolnote import SchoolButton
from even_stance.desktop.widgets.signalblock import blocked
from even_stance.desktop.widgets.table import plain_table, set_text
from even_stance.vehicle.car import Axle
from even_stance.vehicle.edits import Edit, change_steering
from even_stance.vehicle.job import Job
from even_stance.vehicle.steering import Steering


@dataclass(frozen=True)
class FieldSpec:
    """A field: its part of the record ("" the steering itself), name, title, kind and unit; None is a check box."""

    part: str
    name: str
    title: str
    kind: Callable[..., NumberField] | None
    unit: str = ""

    @property
    def key(self) -> str:
        """Its name, told apart where two parts have the same."""
        return f"{self.part}.{self.name}" if self.part == "assist" else self.name


@dataclass(frozen=True)
class Group:
    """A table of the page: its title, and its rows for an axle of a job."""

    title: str
    rows: Callable[[Job, Axle], list[tuple[str, str]]] = field(compare=False)


@dataclass(frozen=True)
class Start:
    """A button that makes a part that is not there yet: its words, the edit by axle, and where it is offered."""

    words: str
    make: Callable[[str], Edit]
    offered: Callable[[Steering], bool]


class RowsPage(SteppedPage):
    """Fields and what they come to.

    Args:
        bench, look: what it shows and sends edits to, and how it looks.
        head: what the page is for; lacking: what is said where the steering has no such part.
        fields, groups: its fields, and its tables; school: the note of schools beside the head, or empty.
        stacked: whether its tables stand one below the other, each as high as its rows.
        starts: buttons that make parts that are not there yet; the first that is offered is shown.
    """

    def __init__(
        self, bench: Bench, look: Look, head: str, lacking: str, fields: Sequence[FieldSpec], groups: Sequence[Group],
        school: str = "", starts: Sequence[Start] = (), stacked: bool = False,
    ) -> None:  # fmt: skip
        super().__init__()
        self._bench, self._look = bench, look
        self._head, self._lacking, self._specs, self._groups, self._school = head, lacking, fields, groups, school
        self._starts, self._stacked = starts, stacked
        self._offered: Start | None = None

    def build(self) -> Iterator[None]:
        """Head, fields, tables."""
        bench = self._bench
        grid = QGridLayout(self)
        grid.setContentsMargins(12, 8, 12, 4)
        self.words = PlainLabel()
        self.words.setWordWrap(True)
        grid.addWidget(self.words, 0, 0, 1, 3)
        last = QVBoxLayout()
        if self._school:
            last.addWidget(SchoolButton(self._look, self._school))
        self.start = QPushButton("Start")
        self.start.clicked.connect(self._begin)
        last.addWidget(self.start)
        grid.addLayout(last, 0, 3)
        self.fields: dict[str, NumberField] = {}
        self.boxes: dict[str, QCheckBox] = {}
        self.holders: dict[str, QWidget] = {}
        self.labels: list[Labeled] = []
        yield
        for i, spec in enumerate(self._specs):
            place = (1 + i // 4, i % 4)
            if spec.kind is None:
                box = self.boxes[spec.key] = QCheckBox(spec.title)
                box.toggled.connect(partial(self._set, spec))
                grid.addWidget(box, *place)
                self.holders[spec.key] = box
                continue
            self.fields[spec.key] = spec.kind(bench, spec.title, partial(self._set, spec))
            self.labels.append(Labeled(bench, spec.title, self.fields[spec.key], spec.unit))
            grid.addWidget(self.labels[-1], *place)
            self.holders[spec.key] = self.labels[-1]
            if i % 4 == 3:
                yield
        row = 2 + (len(self._specs) - 1) // 4
        self.tables = []
        for i, group in enumerate(self._groups):
            yield
            wide = 4 if self._stacked else 4 // len(self._groups)
            down, across = (2 * i, 0) if self._stacked else (0, i * wide)
            grid.addWidget(group_head(group.title), row + down, across, 1, wide)
            table = plain_table(("", ""), group.title, wide=1)
            header = table.horizontalHeader()
            if header is not None:
                header.hide()
            grid.addWidget(table, row + down + 1, across, 1, wide)
            self.tables.append(table)
        grid.setRowStretch(row + (2 * len(self._groups) if self._stacked else 1), 1)

    def _set(self, spec: FieldSpec, value: Any) -> None:
        if spec.name in ("splines", "studs"):
            value = round(value)
        self._bench.do(change_steering(self._bench.axle_key, spec.title, spec.part, **{spec.name: value}))

    def _begin(self) -> None:
        if self._offered is not None:
            self._bench.do(self._offered.make(self._bench.axle_key))

    def _record(self, steering: Steering | None, part: str) -> Any:
        return steering if not part or steering is None else getattr(steering, part)

    def refresh(self) -> None:
        """Show the fields and what they come to."""
        bench, axle = self._bench, self._bench.axle
        for labeled in self.labels:
            labeled.refresh_unit()
        there = False
        for spec in self._specs:
            record = self._record(axle.steering, spec.part)
            there = there or (bool(spec.part) and record is not None)
            value = None if record is None else getattr(record, spec.name)
            shows = record is not None or not any(self._record(axle.steering, s.part) for s in self._specs if s.part)
            self.holders[spec.key].setVisible(shows)
            if spec.kind is None:
                with blocked(self.boxes[spec.key]):
                    self.boxes[spec.key].setChecked(bool(value))
                self.boxes[spec.key].setEnabled(record is not None)
                continue
            shown = self.fields[spec.key]
            shown.setEnabled(record is not None)
            if isinstance(shown, LengthField):
                shown.show_mm(value)
            else:
                shown.show_value(None if value == 0 and spec.name == "splines" else value)
        self.words.setText(self._head if there else self._lacking)
        steering = axle.steering
        self._offered = None if steering is None else next((s for s in self._starts if s.offered(steering)), None)
        self.start.setVisible(self._offered is not None)
        self.start.setText("Start" if self._offered is None else self._offered.words)
        for table, group in zip(self.tables, self._groups, strict=True):
            rows = group.rows(bench.job, axle) if there else []
            table.setRowCount(len(rows))
            for i, (title, figure) in enumerate(rows):
                set_text(table, i, 0, title, right=False)
                set_text(table, i, 1, figure, right=False)
            if self._stacked:
                table.setFixedHeight(sum(table.rowHeight(i) for i in range(len(rows))) + 2 * table.frameWidth())
