"""Square: wheelbase on both sides and the diagonals; how far out the axle is and which link to turn."""

from datetime import datetime
from functools import partial
from typing import Any

from PyQt6.QtWidgets import QCheckBox, QGridLayout, QHBoxLayout, QVBoxLayout, QWidget

from even_stance.desktop.bench import Bench
from even_stance.desktop.look import Look
from even_stance.desktop.widgets.fields import Labeled, LengthField, ThreadField
from even_stance.desktop.widgets.labels import PlainLabel, faint_words
from even_stance.desktop.widgets.signalblock import blocked
from even_stance.desktop.widgets.sketch import Sketch
from even_stance.errors import InputError, StanceError
from even_stance.shop.pictures import step_picture
from even_stance.shop.readings import means_of, new_reading
from even_stance.shop.sheet import sheet, take_reading
from even_stance.shop.squaring import square_report
from even_stance.vehicle.edits import set_measuring, with_changes


class SquarePage(QWidget):
    """Four distances, the threads, and what to do."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench = bench
        column = QVBoxLayout(self)
        column.setContentsMargins(12, 8, 12, 4)
        column.addWidget(
            faint_words("Between hub centers or their plumb marks, wheels straight, tape tight and level.")
        )
        grid = QGridLayout()
        self.fields: dict[str, LengthField] = {}
        self._labels: list[Labeled] = []
        for i, (what, title) in enumerate(
            (("wheelbase.left", "Wheelbase, left"), ("wheelbase.right", "Wheelbase, right"),
             ("diagonal.left", "Front left to rear right"), ("diagonal.right", "Front right to rear left"))
        ):  # fmt: skip
            self.fields[what] = LengthField(bench, title, partial(self._take, what))
            self._labels.append(Labeled(bench, title, self.fields[what], "length"))
            grid.addWidget(self._labels[-1], i // 2, i % 2)
        column.addLayout(grid)
        column.addLayout(self._threads())
        self.words = PlainLabel()
        self.words.setWordWrap(True)
        column.addWidget(self.words)
        self.picture = Sketch(look, "Wheelbase and diagonals in plan view")
        column.addWidget(self.picture, 1)

    def _threads(self) -> QHBoxLayout:
        row = QHBoxLayout()
        self.pitch = ThreadField(self._bench, "Thread", lambda v: self._set("Thread pitch", pitch_mm=v))
        self._labels.append(Labeled(self._bench, "Thread", self.pitch))
        self.both = QCheckBox("turning the tube moves both ends")
        self.both.setToolTip("Left-hand thread at one end, right-hand at the other")
        self.both.toggled.connect(lambda on: self._set("Threads of both ends", both_ends=on))
        self.half = QCheckBox("half turns will do")
        self.half.setToolTip("Whether the joint's bolt fits again after half a turn")
        self.half.toggled.connect(lambda on: self._set("Half turns", half_turns=on))
        row.addWidget(self._labels[-1], 2)
        row.addWidget(self.both, 3)
        row.addWidget(self.half, 2)
        return row

    def _take(self, what: str, mm: float) -> None:
        now = datetime.now().isoformat(timespec="minutes")
        self._bench.do(take_reading(new_reading(self._bench.job, what, "length", mm, "tape", now, stage="found")))

    def _set(self, label: str, **changes: Any) -> None:
        try:
            threads = with_changes(self._bench.job.measuring.threads, **changes)
        except StanceError as error:
            self._bench.refused.emit(str(error))
            return
        self._bench.do(set_measuring(label, threads=threads))

    def refresh(self) -> None:
        """Show readings, threads and advice."""
        job = self._bench.job
        means, threads = means_of(job), job.measuring.threads
        for what, field in self.fields.items():
            mean = means.get(what)
            field.show_mm(None if mean is None else mean.value)
        with blocked(self.both, self.half):
            self.both.setChecked(threads.both_ends)
            self.half.setChecked(threads.half_turns)
        self.pitch.show_value(threads.pitch_mm, f"{threads.pitch_mm:.3f} mm per turn")
        for labeled in self._labels:
            labeled.refresh_unit()
        missing = [f.name.lower() for what, f in self.fields.items() if what not in means]
        words = [f"Still to tape: {'; '.join(missing)}."] if missing else []
        try:
            report = square_report(job)
        except InputError as error:
            words.insert(0, str(error))
        else:
            words = [*(report.words if report is not None else ()), *words]
        self.words.setText("\n".join(words))
        steps = {s.key: s for s in sheet(job)}
        shapes, frame = step_picture(job, steps["diagonals"])
        straight, _ = step_picture(job, steps["wheelbase"])
        self.picture.show_shapes([*shapes, *straight[-6:]], frame)
