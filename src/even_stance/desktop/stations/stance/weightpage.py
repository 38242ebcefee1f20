"""Weight: scales under the wheels, what was missing, and the CG height by lifting one end."""

from collections.abc import Iterator
from datetime import datetime
from functools import partial

from PyQt6.QtWidgets import QComboBox, QGridLayout, QHBoxLayout, QPushButton, QVBoxLayout

from even_stance.desktop.bench import Bench
from even_stance.desktop.look import Look
from even_stance.desktop.pages import SteppedPage
from even_stance.desktop.widgets.fields import Labeled, LengthField, MassField
from even_stance.desktop.widgets.labels import PlainLabel, group_head
from even_stance.desktop.widgets.listeditor import ListEditor, Values
from even_stance.errors import StanceError
from even_stance.shop.readings import means_of, new_reading
from even_stance.shop.sheet import take_reading
from even_stance.shop.weighing import LIFT_CAUTIONS, height_by_lift, use_lift, use_weights, weigh, wheel_means
from even_stance.study.answers import cg_height
from even_stance.units import format_length, format_mass, length_unit, mass_unit
from even_stance.vehicle.edits import set_measuring, with_changes
from even_stance.vehicle.measuring import Ballast, Lift
from even_stance.vehicle.records import Point


class WeightPage(SteppedPage):
    """Scales, missing parts, and the lift."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench, self._look = bench, look
        self._lift: dict[str, float] = {}

    def build(self) -> Iterator[None]:
        """Scales and lift beside each other, what was missing below."""
        column = QVBoxLayout(self)
        column.setContentsMargins(12, 8, 12, 4)
        row = QHBoxLayout()
        row.setSpacing(24)
        row.addLayout(self._scales(), 1)
        yield
        row.addLayout(self._lifting(), 1)
        column.addLayout(row)
        yield
        self.ballast = ListEditor(
            self._bench, "Missing when it was weighed",
            "Engine, fuel, people, tools, spare: its weight, and its place ahead of the front axle, left, up. Tick "
            "what sandbags stood in for.",
            (("mass", "Weight", "mass"), ("ahead", "Ahead", "length"), ("left", "Left", "length"),
             ("up", "Up", "length")),
            "sandbags stood in", self._add, self._take_out,
        )  # fmt: skip
        column.addWidget(self.ballast, 1)

    def _scales(self) -> QVBoxLayout:
        column = QVBoxLayout()
        column.addWidget(group_head("Scales"))
        self._wheels = QGridLayout()
        column.addLayout(self._wheels)
        self.wheels: dict[str, MassField] = {}
        self._labels: list[Labeled] = []
        self.words = PlainLabel()
        self.words.setWordWrap(True)
        column.addWidget(self.words)
        self.use = QPushButton("Use these axle weights")
        self.use.clicked.connect(lambda: self._bench.do(use_weights()))
        column.addWidget(self.use)
        column.addStretch(1)
        return column

    def _lifting(self) -> QVBoxLayout:
        column = QVBoxLayout()
        column.addWidget(group_head("CG height by lifting one end"))
        grid = QGridLayout()
        self.end = QComboBox()
        self.end.setAccessibleName("Which end is lifted")
        self.end.addItem("rear lifted, scales in front", "rear")
        self.end.addItem("front lifted, scales at the rear", "front")
        self.end.currentIndexChanged.connect(lambda _: self._say_lift())
        keep = partial
        self.lift = LengthField(self._bench, "Wheel centers lifted by", keep(self._keep, "lift_mm"))
        self.level = MassField(self._bench, "Scales, level", keep(self._keep, "level_kg"))
        self.raised = MassField(self._bench, "Scales, lifted", keep(self._keep, "raised_kg"))
        grid.addWidget(Labeled(self._bench, "End", self.end), 0, 0, 1, 2)
        self._lift_labels = [
            Labeled(self._bench, "Wheel centers lifted by", self.lift, "length"),
            Labeled(self._bench, "Scales, level", self.level, "mass"),
            Labeled(self._bench, "Scales, lifted", self.raised, "mass"),
        ]
        for i, labeled in enumerate(self._lift_labels):
            grid.addWidget(labeled, 1, i)
        column.addLayout(grid)
        self.lift_words = PlainLabel()
        self.lift_words.setWordWrap(True)
        column.addWidget(self.lift_words)
        self.use_height = QPushButton("Use this CG height")
        self.use_height.clicked.connect(self._use_height)
        column.addWidget(self.use_height)
        caution = PlainLabel("\n".join(LIFT_CAUTIONS))
        caution.setProperty("role", "alarm")
        caution.setWordWrap(True)
        column.addWidget(caution)
        return column

    def _take(self, what: str, kg: float) -> None:
        now = datetime.now().isoformat(timespec="minutes")
        self._bench.do(take_reading(new_reading(self._bench.job, what, "mass", kg, "scales", now, stage="found")))

    def _keep(self, name: str, value: float) -> None:
        self._lift[name] = value
        self._say_lift()

    def _typed_lift(self) -> Lift | None:
        if set(self._lift) != {"lift_mm", "level_kg", "raised_kg"} or self._lift["lift_mm"] <= 0:
            return None
        return with_changes(Lift(lift_mm=1.0, level_kg=0.0, raised_kg=0.0), lifted=self.end.currentData(), **self._lift)

    def _use_height(self) -> None:
        try:
            lift = self._typed_lift()
        except StanceError as error:
            self._bench.refused.emit(str(error))
            return
        if lift is None:
            self._bench.refused.emit("CG height: enter the lift and what the scales show, level and lifted.")
            return
        self._bench.do(use_lift(lift))

    def _add(self, name: str, values: Values, stood_in: bool) -> bool:
        try:
            at = Point(x=values["ahead"], y=values["left"], z=values["up"])
            part = Ballast(name=name, mass_kg=values["mass"], at=at, stood_in=stood_in)
        except ValueError as error:
            self._bench.refused.emit(f"Missing part: the figures are no place on a car ({error}).")
            return False
        return self._bench.do(
            set_measuring(f"Missing part {name}", ballast=(*self._bench.job.measuring.ballast, part))
        ).done

    def _take_out(self, row: int) -> None:
        parts = self._bench.job.measuring.ballast
        self._bench.do(set_measuring("Take a missing part out", ballast=parts[:row] + parts[row + 1 :]))

    def refresh(self) -> None:
        """Show scales, result and missing parts."""
        job, units = self._bench.job, self._bench.job.units
        keys = [f"scale.{a.key}.{side}" for a in job.vehicle.axles for side in ("left", "right")]
        if list(self.wheels) != keys:
            self._make_wheels(keys)
        means = means_of(job)
        for axle in job.vehicle.axles:
            for side, kg in zip(("left", "right"), wheel_means(means, axle.key), strict=True):
                self.wheels[f"scale.{axle.key}.{side}"].show_value(kg)
        for labeled in (*self._labels, *self._lift_labels):
            labeled.refresh_unit()
        self._say()
        self._restore_lift()
        self._say_lift()
        unit, mass = length_unit(units), mass_unit(units)
        self.ballast.show_rows(
            [(b.name, f"{format_mass(b.mass_kg, units)} {mass}",
              *(f"{format_length(v, units)} {unit}" for v in b.at.xyz), "stood in" if b.stood_in else "added")
             for b in job.measuring.ballast]
        )  # fmt: skip

    def _make_wheels(self, keys: list[str]) -> None:
        for labeled in self._labels:
            self._wheels.removeWidget(labeled)
            labeled.deleteLater()
        self.wheels, self._labels = {}, []
        for i, key in enumerate(keys):
            _, axle, side = key.split(".")
            self.wheels[key] = MassField(self._bench, f"{axle.capitalize()} {side} wheel", partial(self._take, key))
            self._labels.append(Labeled(self._bench, f"{axle.capitalize()} {side}", self.wheels[key], "mass"))
            self._wheels.addWidget(self._labels[-1], i // 2, i % 2)

    def _say(self) -> None:
        job, units = self._bench.job, self._bench.job.units
        try:
            weighed = weigh(job)
        except StanceError as error:
            self.words.setText(str(error))
            return
        self.use.setEnabled(weighed is not None)
        if weighed is None:
            self.words.setText("Weigh every wheel, all scales level with each other, to get weight and CG.")
            return
        mass, unit = mass_unit(units), length_unit(units)
        side = "left" if weighed.left_mm > 0 else "right"
        aside = f"{format_length(abs(weighed.left_mm), units)} {unit} to the {side}"
        aside = aside if abs(weighed.left_mm) >= 1.0 else "on the centerline"
        parts = " and ".join(
            f"{a.key} {format_mass(kg, units)}" for a, kg in zip(job.vehicle.axles, weighed.axle_kg, strict=True)
        )
        unsprung = sum(a.unsprung_kg for a in job.vehicle.axles)
        words = (
            f"{format_mass(weighed.total_kg, units)} {mass} in all ({parts}), missing parts counted. CG "
            f"{format_length(weighed.behind_mm, units)} {unit} behind the front axle, {aside}. "
            f"Left front and right rear carry {weighed.cross_pct:.1f} %."
        )
        if unsprung > 0:
            sprung = with_changes(job.vehicle, anti_uses="sprung")
            words += (
                f" Unsprung {format_mass(unsprung, units)} {mass}; the sprung CG is "
                f"{format_length(cg_height(sprung), units)} {unit} up."
            )
        self.words.setText(words)

    def _restore_lift(self) -> None:
        kept = self._bench.job.measuring.lift
        if kept is not None and not self._lift:
            self._lift = {"lift_mm": kept.lift_mm, "level_kg": kept.level_kg, "raised_kg": kept.raised_kg}
            self.end.setCurrentIndex(self.end.findData(kept.lifted))
        self.lift.show_mm(self._lift.get("lift_mm"))
        self.level.show_value(self._lift.get("level_kg"))
        self.raised.show_value(self._lift.get("raised_kg"))

    def _say_lift(self) -> None:
        job, units = self._bench.job, self._bench.job.units
        try:
            lift = self._typed_lift()
            if lift is None:
                self.lift_words.setText("Needs the lift and two readings of the scales under the end that stays down.")
                return
            found = height_by_lift(job, lift)
        except StanceError as error:
            self.lift_words.setText(str(error))
            return
        unit = length_unit(units)
        self.lift_words.setText(
            f"CG height {format_length(found.height_mm, units)} {unit}, ± {format_length(found.sure_mm, units)} "
            f"(lifted by {found.angle_deg:.1f}°). Lifting higher makes it surer. Milliken and Milliken, ch. 18."
        )
