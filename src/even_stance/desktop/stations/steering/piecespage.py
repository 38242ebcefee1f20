"""The pieces of a steering: its kind, box or ram, stops, and what it does where the wheels are now."""

from collections.abc import Callable

from PyQt6.QtWidgets import QComboBox, QGridLayout, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from even_stance.desktop.background import LateStudy
from even_stance.desktop.bench import Bench
from even_stance.desktop.look import Look
from even_stance.desktop.widgets.fields import DegreeField, Labeled, LengthField, NumberField, PlainField
from even_stance.desktop.widgets.labels import PlainLabel
from even_stance.desktop.widgets.schoolnote import SchoolButton
from even_stance.desktop.widgets.table import plain_table, set_text
from even_stance.judgement.catalog.steerings import STEERING_WORDS, starting_steering
from even_stance.judgement.steering import beam_foot_words, beam_rows, bump_words, steer_rows
from even_stance.study.figures import AxleStudy
from even_stance.vehicle.edits import change_steering, set_axle, set_steering, tape_axle_joints

# Part of the record, its field, title, kind of field and unit.
_FIELDS: tuple[tuple[str, str, str, type[NumberField], str], ...] = (
    ("box", "ratio", "Box ratio", PlainField, ""), ("box", "ratio_at_lock", "Ratio at the locks", PlainField, ""),
    ("box", "turns", "Turns, stop to stop", PlainField, ""),
    ("ram", "stroke_mm", "Ram stroke", LengthField, "length"),
    ("", "stop_deg", "Stop at the inner wheel", DegreeField, "deg"),
    ("", "stop_right_deg", "Turned right, if not the same", DegreeField, "deg"),
    ("", "swing_limit_deg", "Joints swing up to", DegreeField, "deg"),
    ("", "arm_mm", "Knuckle arm, thick", LengthField, "length"),
    ("", "ball_mm", "Joint’s center off the arm", LengthField, "length"),
    ("", "axle_joint_limit_deg", "Axle joints bend up to", DegreeField, "deg"),
)  # fmt: skip

_MAY_BE_EMPTY = ("ratio_at_lock", "stop_right_deg")


class PiecesPage(QWidget):
    """The steering of the axle looked at."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench = bench
        self._shown: tuple[str, str | None] = ("", None)
        column = QVBoxLayout(self)
        column.setContentsMargins(12, 8, 12, 4)
        self.words = PlainLabel()
        self.words.setWordWrap(True)
        column.addWidget(self.words)
        row = QHBoxLayout()
        self.kind = QComboBox()
        self.kind.setAccessibleName("Kind of steering")
        for kind, words in STEERING_WORDS.items():
            self.kind.addItem(words, kind)
        row.addWidget(Labeled(bench, "Kind", self.kind), 1)
        self.start = QPushButton("Start from a guess")
        self.start.setToolTip("Put a steering of this kind on the axle, fitted to its track; then tape its points")
        self.start.clicked.connect(lambda _=False: self._start())
        self.out = QPushButton("Take it out")
        self.out.clicked.connect(lambda _=False: bench.do(set_steering(bench.axle_key, None)))
        self.fit = LateStudy(self)
        self.fit.done.connect(self._fitted)
        row.addWidget(self.start)
        row.addWidget(self.out)
        row.addWidget(SchoolButton(look, "rod_end_steering"))
        column.addLayout(row)
        grid = QGridLayout()
        self.fields: dict[str, NumberField] = {}
        self.labels: list[Labeled] = []
        for i, (part, name, title, field_kind, unit) in enumerate(_FIELDS):
            field = field_kind(bench, title, self._setter(part, name, title))  # type: ignore[call-arg, arg-type]
            if name in _MAY_BE_EMPTY:
                field.cleared = self._clearer(part, name, title)
                field.setPlaceholderText("the same")
            self.fields[name] = field
            self.labels.append(Labeled(bench, title, field, unit))
            grid.addWidget(self.labels[-1], i // 4, i % 4)
        column.addLayout(grid)
        joints = QHBoxLayout()
        self.axle_joints = QComboBox()
        self.axle_joints.setAccessibleName("Axle shafts’ joints at the knuckles")
        for words, key in (("single cross joints", "single"), ("CV joints", "cv")):
            self.axle_joints.addItem(words, key)
        self.axle_joints.activated.connect(
            lambda _: bench.do(
                change_steering(bench.axle_key, "Axle joints", axle_joints=self.axle_joints.currentData())
            )
        )
        joints.addWidget(Labeled(bench, "Axle shafts’ joints at the knuckles", self.axle_joints), 1)
        self.taped = QPushButton("Tape the joints’ centers")
        self.taped.setToolTip("Put a point at each axle-shaft joint, on its kingpin: then move it where it was taped")
        self.taped.clicked.connect(lambda _=False: bench.do(tape_axle_joints(bench.axle_key)))
        joints.addWidget(self.taped)
        joints.addStretch(1)
        column.addLayout(joints)
        self.table = plain_table(("At the posture shown", ""), "What the steering does", wide=0)
        column.addWidget(self.table, 1)

    def _start(self) -> None:
        vehicle, axle, kind = self._bench.job.vehicle, self._bench.axle, self.kind.currentData()
        self.words.setText("Laying the drag link so that the wheels steer least over bumps …")
        self.fit.ask(lambda: (axle, starting_steering(vehicle, axle, kind)))
        self.fit.start_now()

    def _fitted(self, found: object) -> None:
        """Put the steering on the axle it was fitted to; on another car than that it has no business."""
        if isinstance(found, tuple) and found[0] in self._bench.job.vehicle.axles:
            axle, steering = found
            if steering.kind == "swing_beams":  # they hold the wheels themselves
                self._bench.do(set_axle(axle.key, "Swing beams", members=(), steering=steering))
            else:
                self._bench.do(set_steering(axle.key, steering))
        else:
            self.refresh()

    def _setter(self, part: str, name: str, title: str) -> Callable[[float], object]:
        bench = self._bench
        return lambda value: bench.do(change_steering(bench.axle_key, title, part, **{name: value}))

    def _clearer(self, part: str, name: str, title: str) -> Callable[[], object]:
        bench = self._bench
        return lambda: bench.do(change_steering(bench.axle_key, title, part, **{name: None}))

    def _words(self, study: AxleStudy | None) -> str:
        """What to do next, or what the wheels do over bumps."""
        axle = self._bench.axle
        if not axle.steered:
            return f"The {axle.key} axle does not steer: turn to one that does, or tick it in Stance."
        if axle.steering is None:
            return "No steering yet. Choose its kind and start from a guess; then tape its points."
        if axle.steering.kind == "swing_beams":
            return f"Each wheel swings on its own beam; {beam_foot_words(axle)}."
        if study is None:
            return "The axle is not held by its links yet: what bumps do comes after."
        return bump_words(study)

    def refresh(self) -> None:
        """Show the pieces and what they do."""
        bench, axle = self._bench, self._bench.axle
        steering, study = axle.steering, bench.study(bench.axle_key)
        for labeled in self.labels:
            labeled.refresh_unit()
        self.start.setEnabled(axle.steered)
        self.out.setEnabled(steering is not None)
        shown = (axle.key, None if steering is None else steering.kind)
        if steering is not None and shown != self._shown:  # what was chosen since, to start from, stays
            self.kind.setCurrentIndex(self.kind.findData(steering.kind))
        self._shown = shown
        for part, name, *_ in _FIELDS:
            record = getattr(steering, part) if part and steering is not None else steering
            field = self.fields[name]
            field.setEnabled(record is not None)
            value = None if record is None else getattr(record, name)
            if isinstance(field, LengthField):
                field.show_mm(value)
            else:
                field.show_value(value)
        for widget in (self.axle_joints, self.taped):
            widget.setEnabled(steering is not None and axle.driven)
        if steering is not None:
            self.axle_joints.setCurrentIndex(self.axle_joints.findData(steering.axle_joints))
            self.taped.setEnabled(axle.driven and steering.left.joint is None)
        self.words.setText(self._words(study))
        rows = beam_rows(bench.job, axle, bench.posture)
        rows = steer_rows(bench.job, study, bench.posture.steer) if study is not None else rows
        self.table.setRowCount(len(rows))
        for i, (title, figure) in enumerate(rows):
            set_text(self.table, i, 0, title, right=False)
            set_text(self.table, i, 1, figure)
