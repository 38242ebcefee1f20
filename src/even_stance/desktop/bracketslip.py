"""Holes of a bracket, typed: how many, how far apart, and which one the joint is in."""

from PyQt6.QtWidgets import QComboBox, QSpinBox, QWidget

from even_stance.desktop.bench import Bench
from even_stance.desktop.widgets.fields import LengthField
from even_stance.desktop.widgets.slip import Slip
from even_stance.units import MM_PER_INCH, length_unit
from even_stance.vehicle.edits import set_holes
from even_stance.vehicle.spots import Spot, hole_name, holes_of, pitch_of

_MOST = 9


class BracketSlip(Slip):
    """How a bracket is drilled, to be drilled anew."""

    def __init__(self, parent: QWidget, bench: Bench, spot: Spot) -> None:
        super().__init__(parent, f"Holes: {spot.words}", "Drill it so", self._drill)
        self._bench, self._spot = bench, spot
        holes, used = holes_of(bench.job, spot)
        self._pitch = pitch_of(holes) or MM_PER_INCH
        self.count = QSpinBox()
        self.count.setRange(1, _MOST)
        self.count.setValue(max(len(holes), 1))
        self.pitch = LengthField(bench, "Hole to hole", self._set_pitch)
        self.pitch.show_mm(self._pitch)
        self.used = QComboBox()
        self.row("Holes", self.count)
        self.row(f"Hole to hole, {length_unit(bench.job.units)}", self.pitch)
        self.row("The joint is in", self.used)
        self.count.valueChanged.connect(lambda _: self._name_holes(None))
        self._name_holes(used)

    def _name_holes(self, used: int | None) -> None:
        count = self.count.value()
        before = self.used.currentIndex() if used is None else used
        self.used.clear()
        for hole in range(count):
            self.used.addItem(hole_name(self._spot, hole, count))
        self.used.setCurrentIndex(min(before, count - 1) if before >= 0 else (count - 1) // 2)

    def _set_pitch(self, mm: float) -> None:
        self._pitch = mm

    def _drill(self) -> str:
        both = self._bench.look_at.both_sides
        done = self._bench.do(set_holes(self._spot, self.count.value(), self._pitch, both, self.used.currentIndex()))
        return "" if done.done else done.sentence
