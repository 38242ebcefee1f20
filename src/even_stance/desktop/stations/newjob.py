"""The new-job panel: it asks only what is needed and starts from a sensible linkage."""

from typing import cast

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QComboBox, QGridLayout, QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from even_stance.desktop.bench import Bench
from even_stance.desktop.widgets.labels import PlainLabel
from even_stance.errors import InputError
from even_stance.judgement.bands import PURPOSE_WORDS
from even_stance.judgement.catalog.layouts import BASES, BaseKey
from even_stance.judgement.catalog.starter import NewJob, new_job
from even_stance.judgement.catalog.steerings import STEERING_WORDS, steering_guess
from even_stance.units import System, parse_length
from even_stance.vehicle.edits import set_steering
from even_stance.vehicle.job import Purpose

_ASKED = (
    ("wheelbase_mm", "Wheelbase", "front axle center to rear axle center"),
    ("track_mm", "Track", "tire center to tire center"),
    ("tire_diameter_mm", "Tire diameter", "as it stands, not the sidewall number"),
    ("tire_width_mm", "Tire width", "at its widest"),
)

_USUAL = ("114 in", "62 in", "33 in", "11 in")  # a middling truck, made up: until the tape says otherwise


class NewJobPanel(QWidget):
    """Name, purpose, four measures and a layout."""

    started = pyqtSignal(object)
    cancelled = pyqtSignal()
    wants_open = pyqtSignal()

    def __init__(self, bench: Bench) -> None:
        super().__init__()
        self._bench = bench
        outer = QHBoxLayout(self)
        outer.addStretch(1)
        column = QVBoxLayout()
        outer.addLayout(column, 3)
        outer.addStretch(1)
        self.head = PlainLabel("New job")
        self.head.setProperty("role", "head")
        column.addStretch(1)
        column.addWidget(self.head)
        self.measure_first = False
        hint = PlainLabel("Measure at ride height on level ground. Type 118, 118 1/2, 9' 10\" or 2997 mm.")
        hint.setProperty("role", "faint")
        column.addWidget(hint)
        grid = QGridLayout()
        column.addLayout(grid)
        self._make_fields()
        self._fill(grid)
        self.problem = PlainLabel()
        self.problem.setProperty("role", "alarm")
        self.problem.setWordWrap(True)
        column.addWidget(self.problem)
        column.addLayout(self._buttons())
        column.addStretch(2)
        for field in (self.name, *self.fields.values()):
            field.returnPressed.connect(self.try_start)

    def ask(self, measure_first: bool = False) -> None:
        """Ask for a job; to be measured first, what is not typed is guessed and taped later."""
        self.measure_first = measure_first
        self.head.setText("New job, to be measured" if measure_first else "New job")
        for (key, *_), usual in zip(_ASKED, _USUAL, strict=True):
            self.fields[key].setPlaceholderText(f"tape it later; {usual} until then" if measure_first else "")
        self.start.setText("Start measuring" if measure_first else "Start this job")
        self.problem.setText("")
        self.name.setFocus()
        self.name.selectAll()

    def _length(self, key: str, title: str, system: System) -> float:
        """What was typed for a measure; to be measured later, a usual one where nothing was."""
        text = self.fields[key].text()
        if self.measure_first and not text.strip():
            text = dict(zip((k for k, *_ in _ASKED), _USUAL, strict=True))[key]
        return parse_length(text, system, title)

    def _make_fields(self) -> None:
        self.name = QLineEdit()
        self.units = QComboBox()
        self.units.addItem("inches", "us")
        self.units.addItem("millimeters", "metric")
        self.purpose = QComboBox()
        for key, words in PURPOSE_WORDS.items():
            self.purpose.addItem(words, key)
        self.purpose.setCurrentIndex(list(PURPOSE_WORDS).index("trail"))
        self.driven = QComboBox()
        for driven, words in (
            ("rear", "the rear axle"),
            ("both", "front and rear, half each"),
            ("front", "the front axle"),
        ):
            self.driven.addItem(words, driven)
        self.layout_choice = QComboBox()
        for base, choice in BASES.items():
            self.layout_choice.addItem(choice.title, base)
            self.layout_choice.setItemData(self.layout_choice.count() - 1, f"{choice.good} {choice.bad}", 3)
        self.steering = QComboBox()
        self.steering.addItem("later", None)
        for kind, words in STEERING_WORDS.items():
            self.steering.addItem(words, kind)
        self.fields = {key: QLineEdit() for key, *_ in _ASKED}

    def _fill(self, grid: QGridLayout) -> None:
        rows: list[tuple[str, QWidget, str]] = [
            ("Name", self.name, "the car and the year will do"), ("Typed in", self.units, ""),
            ("Built for", self.purpose, ""),
            *((title, self.fields[key], hint) for key, title, hint in _ASKED),
            ("Driven", self.driven, "which wheels the engine turns"),
            ("Rear links", self.layout_choice, "can be changed later"),
            ("Front steering", self.steering, "a guess to start from, to be taped"),
        ]  # fmt: skip
        for i, (title, field, words) in enumerate(rows):
            label = PlainLabel(title)
            label.setBuddy(field)
            field.setAccessibleName(title)
            grid.addWidget(label, i, 0)
            grid.addWidget(field, i, 1)
            note = PlainLabel(words)
            note.setProperty("role", "faint")
            grid.addWidget(note, i, 2)

    def _buttons(self) -> QHBoxLayout:
        buttons = QHBoxLayout()
        self.start = QPushButton("Start this job")
        self.start.setProperty("main", "true")
        self.start.setDefault(True)
        self.cancel = QPushButton("Back")
        self.start.clicked.connect(self.try_start)
        self.cancel.clicked.connect(self.cancelled)
        buttons.addWidget(self.start)
        self.open = QPushButton("Open a job file…")
        self.open.clicked.connect(self.wants_open)
        buttons.addWidget(self.open)
        buttons.addWidget(self.cancel)
        buttons.addStretch(1)
        return buttons

    def try_start(self) -> None:
        """Start the job, or say which field is wrong; what was typed stays."""
        system = self.units.currentData()
        self.problem.setText("")
        try:
            if not self.name.text().strip():
                raise InputError("Name", "nothing was entered.", "Give the job a name, such as the car and the year.")
            lengths = {key: self._length(key, title, system) for key, title, _ in _ASKED}
            asked = NewJob(
                self.name.text(), cast(Purpose, self.purpose.currentData()), system, **lengths,
                driven=self.driven.currentData(),
            )  # fmt: skip
            job = new_job(asked, cast(BaseKey, self.layout_choice.currentData()))
            kind = self.steering.currentData()
            if kind is not None:
                front = job.vehicle.axle("front")
                job = set_steering("front", steering_guess(job.vehicle, front, kind)).apply(job)
        except InputError as error:
            self.problem.setText(str(error))
            titles = {title: self.fields[key] for key, title, _ in _ASKED} | {"Name": self.name}
            if error.field in titles:
                titles[error.field].setFocus()
                titles[error.field].selectAll()
            return
        for field in (self.name, *self.fields.values()):
            field.clear()  # the next job starts blank
        self.started.emit(job)
