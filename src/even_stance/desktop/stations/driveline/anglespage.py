"""Angles: both ends as read, every joint in space, and the ways to make them equal, each with what it breaks."""

from collections.abc import Callable

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QCheckBox, QGridLayout, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from even_stance.desktop.background import LateStudy
from even_stance.desktop.bench import Bench
from even_stance.desktop.bounds import bound
from even_stance.desktop.changestrip import change_words
from even_stance.desktop.look import Look
from even_stance.desktop.widgets.fields import DegreeField, Labeled, LengthField, NumberField, PlainField
from even_stance.desktop.widgets.labels import PlainLabel, group_head
from even_stance.desktop.widgets.table import plain_table, set_text
from even_stance.judgement.driveline import alike_words, axle_joint_words, joint_rows, study_words, wind_up_words
from even_stance.judgement.search.evening import Way, even_within, ways_to_even
from even_stance.vehicle.edits import turn_pinion

_MOST = 4
# What may move to make both ends alike: its key, its word, its kind of field, and how far it may, until said otherwise.
_MAY: tuple[tuple[str, str, type[NumberField], str, tuple[float, float]], ...] = (
    ("tail", "Tail up", LengthField, "length", (-12.7, 12.7)),
    ("pinion", "Pinion up", DegreeField, "deg", (-2.0, 2.0)),
    ("turns", "Upper links longer, turns", PlainField, "", (-4.0, 4.0)),
)


def _then(way: Way) -> str:
    """What a way leaves over and what it breaks."""
    worse = "; ".join(change_words(c) for c in way.worse[:3])
    return f"{way.residual_deg:.1f}° left over. " + (f"Worse: {worse}" if worse else "Nothing gets worse.")


class AnglesPage(QWidget):
    """The angles of the shaft of the axle looked at."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench = bench
        self.ways: list[Way] = []
        self._asked: tuple[object, ...] = ()
        self.late = LateStudy(self)
        self.late.done.connect(self._arrived)
        self.solving = LateStudy(self)
        self.solving.done.connect(self._solved)
        self._together: Way | None = None
        self._limits = {key: list(limits) for key, *_, limits in _MAY}
        column = QVBoxLayout(self)
        column.setContentsMargins(12, 8, 12, 4)
        self.words = PlainLabel()
        self.words.setWordWrap(True)
        column.addWidget(self.words)
        self.table = plain_table(
            ("Joint", "Angle in space", "In side view", "In plan", "Worst over travel"), "Joints", wide=0
        )
        bound(self.table, look.percent, high=132)
        column.addWidget(self.table)
        row = QHBoxLayout()
        row.addWidget(group_head("Ways to make both ends alike"))
        row.addStretch(1)
        self.turned = DegreeField(bench, "Turn the pinion nose up by", self._turn)
        bound(self.turned, look.percent, wide=(None, 90))
        self._label = Labeled(bench, "Turn the pinion nose up by", self.turned, "deg")
        row.addWidget(self._label)
        column.addLayout(row)
        grid = QGridLayout()
        self.lines: list[tuple[PlainLabel, PlainLabel, QPushButton]] = []
        for i in range(_MOST):
            what, then, button = PlainLabel(), PlainLabel(), QPushButton("Try")
            for label in (what, then):
                label.setWordWrap(True)
            then.setProperty("role", "faint")
            button.setToolTip("Make this change on a variant; the car as it is stays beneath")
            button.clicked.connect(lambda _=False, i=i: self._try(i))
            for j, widget in enumerate((what, then, button)):
                grid.addWidget(widget, i, j)
            self.lines.append((what, then, button))
        grid.setColumnStretch(0, 2)
        grid.setColumnStretch(1, 3)
        column.addLayout(grid)
        column.addWidget(group_head("Or together, as little as does it"))
        column.addLayout(self._allowed())
        column.addLayout(self._found())
        column.addStretch(1)
        self._solved("Tick what may move and how far, then find.")

    def _found(self) -> QHBoxLayout:
        row = QHBoxLayout()
        self.answer = PlainLabel()
        self.answer.setWordWrap(True)
        self.take = QPushButton("Try")
        self.take.setToolTip("Make this change on a variant; the car as it is stays beneath")
        self.take.clicked.connect(lambda _=False: self._try_way(self._together))
        row.addWidget(self.answer, 1)
        row.addWidget(self.take)
        return row

    def _allowed(self) -> QGridLayout:
        """A tick and two limits for everything that may move."""
        grid, bench = QGridLayout(), self._bench
        self.may: dict[str, QCheckBox] = {}
        self.limits: dict[tuple[str, int], NumberField] = {}
        self.labels: list[Labeled] = []
        for i, (key, word, kind, unit, _) in enumerate(_MAY):
            self.may[key] = QCheckBox(word.split(",")[0])
            self.may[key].setChecked(key != "turns")
            grid.addWidget(self.may[key], 0, 2 * i, 1, 2)
            for end, side in enumerate(("from", "to")):
                name = f"{word}, {side}"
                field = kind(bench, name, self._limiter(key, end))  # type: ignore[call-arg, arg-type]
                self.limits[key, end] = field
                self.labels.append(Labeled(bench, side if unit else f"{side}, turns", field, unit))
                grid.addWidget(self.labels[-1], 1, 2 * i + end)
        self.seek = QPushButton("Find")
        self.seek.clicked.connect(lambda _=False: self._find())
        grid.addWidget(self.seek, 1, 2 * len(_MAY), alignment=Qt.AlignmentFlag.AlignBottom)
        return grid

    def _limiter(self, key: str, end: int) -> Callable[[float], object]:
        def limit(value: float) -> None:
            self._limits[key][end] = value
            self._show_limits()

        return limit

    def _show_limits(self) -> None:
        for (key, end), field in self.limits.items():
            value = self._limits[key][end]
            if isinstance(field, LengthField):
                field.show_mm(value)
            else:
                field.show_value(value)

    def _find(self) -> None:
        job, key = self._bench.job, self._bench.axle_key
        limits = {k: (low, high) for k, (low, high) in self._limits.items() if self.may[k].isChecked()}
        self._solved("Looking …")
        self.solving.ask(lambda: even_within(job, key, limits))
        self.solving.start_now()

    def _solved(self, found: object) -> None:
        self._together = found if isinstance(found, Way) else None
        self.take.setVisible(self._together is not None)
        self.answer.setText(f"{found.words}. {_then(found)}" if isinstance(found, Way) else str(found))

    def _turn(self, deg: float) -> None:
        if self._bench.do(turn_pinion(self._bench.axle_key, deg)).done:
            self.turned.clear_typed()

    def _try(self, index: int) -> None:
        self._try_way(self.ways[index] if index < len(self.ways) else None)

    def _try_way(self, way: Way | None) -> None:
        if way is not None:
            self._bench.try_as_variant(way.edit, way.words)

    def _arrived(self, found: object) -> None:
        self.ways = found[:_MOST] if isinstance(found, list) else []
        for i, (what, then, button) in enumerate(self.lines):
            there = i < len(self.ways)
            for widget in (what, then, button):
                widget.setVisible(there)
            if there:
                what.setText(self.ways[i].words)
                then.setText(_then(self.ways[i]))
        if not self.ways:
            self.lines[0][0].setVisible(True)
            self.lines[0][0].setText("Nothing to do: the ends are even as seen from the side, or not measured yet.")

    def refresh(self) -> None:
        """Show the joints, and ask for the ways when the car changed."""
        bench, axle = self._bench, self._bench.axle
        for labeled in self.labels:
            labeled.refresh_unit()
        self._show_limits()
        study = bench.study(bench.axle_key)
        parts = [alike_words(bench.job, axle)]
        if study is not None:
            parts += [study_words(study), wind_up_words(bench.job, study), axle_joint_words(bench.job, study)]
        self.words.setText(" ".join(p for p in parts if p) or "Measure output and pinion yoke first.")
        rows = joint_rows(study) if study is not None else []
        self.table.setRowCount(len(rows))
        for i, cells in enumerate(rows):
            for j, cell in enumerate(cells):
                set_text(self.table, i, j, cell, right=j > 0)
        if study is None:
            self._arrived([])
            return
        now = (bench.job.vehicle, bench.axle_key, bench.job.bands, bench.job.purpose, bench.job.units)
        if now != self._asked and not bench.on_its_way:
            self._asked, job, key = now, bench.job, bench.axle_key
            if self._together is not None:
                self._solved("The car changed: find anew.")
            self.late.ask(lambda: ways_to_even(job, key))
