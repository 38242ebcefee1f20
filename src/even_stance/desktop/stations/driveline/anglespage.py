"""Angles: both ends as read, every joint in space, and the ways to make them equal, each with what it breaks."""

from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from even_stance.desktop.background import LateStudy
from even_stance.desktop.bench import Bench
from even_stance.desktop.changestrip import change_words
from even_stance.desktop.look import Look
from even_stance.desktop.widgets.fields import DegreeField, Labeled
from even_stance.desktop.widgets.labels import PlainLabel, group_head
from even_stance.desktop.widgets.table import plain_table, set_text
from even_stance.judgement.driveline import alike_words, joint_rows, study_words, wind_up_words
from even_stance.judgement.search.parallel import Way, ways_to_parallel
from even_stance.vehicle.edits import turn_pinion

_MOST = 4


class AnglesPage(QWidget):
    """The angles of the shaft of the axle looked at."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench = bench
        self.ways: list[Way] = []
        self._asked: tuple[object, ...] = ()
        self.late = LateStudy(self)
        self.late.done.connect(self._arrived)
        column = QVBoxLayout(self)
        column.setContentsMargins(12, 8, 12, 4)
        self.words = PlainLabel()
        self.words.setWordWrap(True)
        column.addWidget(self.words)
        self.table = plain_table(
            ("Joint", "Angle in space", "In side view", "In plan", "Worst over travel"), "Joints", wide=0
        )
        self.table.setFixedHeight(look.px(132))
        column.addWidget(self.table)
        row = QHBoxLayout()
        row.addWidget(group_head("Ways to make both ends alike"))
        row.addStretch(1)
        self.turned = DegreeField(bench, "Turn the pinion nose up by", self._turn)
        self.turned.setMaximumWidth(look.px(90))
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
        column.addStretch(1)

    def _turn(self, deg: float) -> None:
        if self._bench.do(turn_pinion(self._bench.axle_key, deg)).done:
            self.turned.clear_typed()

    def _try(self, index: int) -> None:
        if index < len(self.ways):
            self._bench.try_as_variant(self.ways[index].edit, self.ways[index].words)

    def _arrived(self, found: object) -> None:
        self.ways = found[:_MOST] if isinstance(found, list) else []
        for i, (what, then, button) in enumerate(self.lines):
            there = i < len(self.ways)
            for widget in (what, then, button):
                widget.setVisible(there)
            if there:
                way = self.ways[i]
                worse = "; ".join(change_words(c) for c in way.worse[:3])
                what.setText(way.words)
                then.setText(
                    f"{way.residual_deg:.1f}° left over. " + (f"Worse: {worse}" if worse else "Nothing gets worse.")
                )
        if not self.ways:
            self.lines[0][0].setVisible(True)
            self.lines[0][0].setText("Nothing to do: both ends rise alike, or they are not measured yet.")

    def refresh(self) -> None:
        """Show the joints, and ask for the ways when the car changed."""
        bench, axle = self._bench, self._bench.axle
        study = bench.study(bench.axle_key)
        parts = [alike_words(bench.job, axle)]
        if study is not None:
            parts += [study_words(study), wind_up_words(bench.job, study)]
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
            self._asked, job = now, bench.job
            self.late.ask(lambda: ways_to_parallel(job, study))
