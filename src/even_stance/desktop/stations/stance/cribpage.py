"""Wheel cribs: what to cut, from how much timber, and how to stack it."""

from collections import Counter
from functools import partial
from typing import Any

from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QVBoxLayout, QWidget

from even_stance.desktop.bench import Bench
from even_stance.desktop.look import Look
from even_stance.desktop.widgets.fields import Labeled, LengthField
from even_stance.desktop.widgets.labels import PlainLabel
from even_stance.desktop.widgets.sketch import Sketch
from even_stance.desktop.widgets.table import plain_table, set_text
from even_stance.errors import StanceError
from even_stance.shop.cribs import CRIB_CAUTIONS, CRIB_CHECKS, INSIDE_SHARE, CribPlan, plan_cribs
from even_stance.study.drawing import Area, Label, Path, Round, Shape
from even_stance.units import format_length, format_mass, length_unit, mass_unit
from even_stance.vehicle.edits import set_measuring, with_changes

_FIELDS = (("height_mm", "Height of the deck"), ("thick_mm", "Timber thickness"), ("wide_mm", "Timber width"),
           ("inside_long_mm", "Chock to chock"), ("inside_wide_mm", "Tire width"),
           ("stock_mm", "Stock length"), ("kerf_mm", "Saw kerf"))  # fmt: skip


class CribPage(QWidget):
    """Timber in, cut list out."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench = bench
        column = QVBoxLayout(self)
        column.setContentsMargins(12, 8, 12, 4)
        grid = QGridLayout()
        self.fields: dict[str, LengthField] = {}
        self._labels: list[Labeled] = []
        for i, (name, title) in enumerate(_FIELDS):
            self.fields[name] = LengthField(bench, title, partial(self._set, title, name))
            self._labels.append(Labeled(bench, title, self.fields[name], "length"))
            grid.addWidget(self._labels[-1], i // 4, i % 4)
        column.addLayout(grid)
        self.words = PlainLabel()
        self.words.setWordWrap(True)
        column.addWidget(self.words)
        body = QHBoxLayout()
        tables = QVBoxLayout()
        self.cuts = plain_table(("Piece", "Length", "For all four"), "Pieces")
        self.bars = plain_table(("Stock", "Cut into"), "How to cut the stock")
        tables.addWidget(self.cuts, 2)
        tables.addWidget(self.bars, 3)
        body.addLayout(tables, 5)
        self.picture = Sketch(look, "A crib seen from the side")
        body.addWidget(self.picture, 4)
        column.addLayout(body, 1)
        checks = PlainLabel("Look at, before the car stands on them:\n" + "\n".join(f"□ {c}" for c in CRIB_CHECKS))
        checks.setWordWrap(True)
        column.addWidget(checks)
        caution = PlainLabel("\n".join(CRIB_CAUTIONS))
        caution.setProperty("role", "alarm")
        caution.setWordWrap(True)
        column.addWidget(caution)

    def _set(self, title: str, name: str, value: float) -> None:
        changes: dict[str, Any] = {name: value}
        try:
            crib = with_changes(self._bench.job.measuring.crib, **changes)
        except StanceError as error:
            self._bench.refused.emit(str(error))
            return
        self._bench.do(set_measuring(title, crib=crib))

    def refresh(self) -> None:
        """Show timber, cut list and picture."""
        job, crib = self._bench.job, self._bench.job.measuring.crib
        for name, field in self.fields.items():
            field.show_mm(getattr(crib, name))
        largest = max(job.vehicle.axles, key=lambda a: a.tire.free_diameter_mm)
        for name, hint in (("inside_long_mm", INSIDE_SHARE * largest.tire.free_diameter_mm),
                           ("inside_wide_mm", max(a.tire.width_mm for a in job.vehicle.axles))):  # fmt: skip
            if getattr(crib, name) is None:
                self.fields[name].show_mm(hint)
        for labeled in self._labels:
            labeled.refresh_unit()
        try:
            plan = plan_cribs(job.vehicle, crib)
        except StanceError as error:
            self.words.setText(str(error))
            self.cuts.setRowCount(0)
            self.bars.setRowCount(0)
            self.picture.show_shapes((), (0.0, 1.0, 0.0, 1.0))
            return
        self._say(plan)
        self.picture.show_shapes(*self._drawn(plan))

    def _say(self, plan: CribPlan) -> None:
        units = self._bench.job.units
        unit = length_unit(units)

        def length(mm: float) -> str:
            return f"{format_length(mm, units)} {unit}"

        screws, inset = plan.screws[0]
        wheel = f" The heaviest wheel puts {format_mass(plan.wheel_kg, units)} {mass_unit(units)} on its crib."
        tall = " A crib that is taller than it is wide tips: more timber, or less height." if plan.tall else ""
        self.words.setText(
            f"{plan.layers} layers make {length(plan.height_mm)}; inside {length(plan.inside_long_mm)} chock to chock, "
            f"{length(plan.inside_wide_mm)} wide. {screws} screws a layer, {length(inset)} and {length(2 * inset)} "
            f"from the ends in turns, so that no screw meets the one below.{wheel if plan.wheel_kg else ''}{tall}"
        )
        self.cuts.setRowCount(len(plan.cuts))
        for i, cut in enumerate(plan.cuts):
            for j, text in enumerate((cut.name, length(cut.length_mm), str(cut.count))):
                set_text(self.cuts, i, j, text, right=j > 0)
        alike = Counter(plan.bars)
        self.bars.setRowCount(len(alike))
        for i, (bar, count) in enumerate(alike.items()):
            pieces = Counter(bar)
            set_text(self.bars, i, 0, f"{count} of {length(self._bench.job.measuring.crib.stock_mm)}", right=False)
            words = ", ".join(f"{n} x {format_length(mm, units)}" for mm, n in pieces.items())
            set_text(self.bars, i, 1, words, right=False)

    def _drawn(self, plan: CribPlan) -> tuple[list[Shape], tuple[float, float, float, float]]:
        crib, vehicle = self._bench.job.measuring.crib, self._bench.job.vehicle
        t, w = crib.thick_mm, crib.wide_mm
        half, shapes = plan.inside_long_mm / 2 + w, list[Shape]()

        def box(h0: float, h1: float, v0: float, v1: float) -> None:
            shapes.append(Area(((h0, v0), (h1, v0), (h1, v1), (h0, v1)), "frame"))

        for k in range(plan.layers - 1):
            if k % 2 == 0:
                box(-half, half, k * t, (k + 1) * t)
            else:
                for side in (-1, 1):
                    box(side * half, side * (half - w), k * t, (k + 1) * t)
        top = plan.layers * t
        box(-half, half, top - t, top)
        for side in (-1, 1):
            box(side * half, side * (half - w), top, top + t)
        tire = max(vehicle.axles, key=lambda a: a.tire.free_diameter_mm).tire
        shapes.append(Round((0.0, top + tire.loaded_radius_mm), tire.free_diameter_mm / 2, "ghost"))
        shapes.append(Path(((-2 * half, 0.0), (2 * half, 0.0)), "ground"))
        shapes.append(Label((0.0, -20.0), f"{format_length(2 * half, self._bench.job.units)} long", "exact", "below"))
        high = top + tire.loaded_radius_mm + tire.free_diameter_mm / 2
        return shapes, (-1.3 * half, 1.3 * half, -120.0, high)
