"""Springs, shocks, stops, straps and bars of the axle: put on, changed, taken off, and what each does now."""

from collections.abc import Iterator
from functools import partial
from typing import Any

import numpy as np
from PyQt6.QtWidgets import QComboBox, QGridLayout, QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout

from even_stance.desktop.bench import Bench
from even_stance.desktop.look import Look
from even_stance.desktop.pages import SteppedPage
from even_stance.desktop.stations.springs.specs import FIELDS, Spec
from even_stance.desktop.widgets.fields import Labeled, LengthField, MassField, NumberField, PlainField, WallField
from even_stance.desktop.widgets.labels import PlainLabel, faint_words
from even_stance.desktop.widgets.signalblock import blocked
from even_stance.desktop.widgets.table import plain_table, set_text
from even_stance.errors import InputError
from even_stance.judgement.catalog.springs import SPRINGS, starting_springs
from even_stance.judgement.findings import CAUTIONS
from even_stance.judgement.springrows import jack_rate, now_rows, pack_rate, wire_rate
from even_stance.study.beams import beams_of
from even_stance.study.beamsprings import beam_springs
from even_stance.study.springs import study_springs
from even_stance.units import format_length, parse_length, parse_number
from even_stance.vehicle.edits import (
    Edit,
    add_springs,
    all_of,
    change_spring,
    made,
    pair_of,
    set_members,
    take_springs_off,
    turn_collar,
    two_coils,
)
from even_stance.vehicle.members import Leaf, LeafPack
from even_stance.vehicle.springs import AirSpring, AnySpring, CoilOver, Rocker

_COLUMNS = ("Where the wheels are now", "Length", "Pushes", "Motion ratio", "Wheel rate", "of it geometry")


class PartsPage(SteppedPage):
    """The parts of the axle looked at."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench, self._look = bench, look
        self.chosen = ""
        self._placed: tuple[Spec, ...] = ()

    def build(self) -> Iterator[None]:
        """What to put on, which part, its fields, and what all of them do now."""
        bench = self._bench
        column = QVBoxLayout(self)
        column.setContentsMargins(12, 8, 12, 4)
        row = QHBoxLayout()
        self.kind = QComboBox()
        self.kind.setAccessibleName("What to put on")
        for key, words in SPRINGS.items():
            self.kind.addItem(words.title, key)
        self.kind.currentIndexChanged.connect(lambda _: self._say_kind())
        row.addWidget(Labeled(bench, "Put on", self.kind), 2)
        self.put = QPushButton("Put on from a guess")
        self.put.setToolTip("Both sides, fitted to the axle’s travel and weight; then tape the mounts")
        self.put.clicked.connect(lambda _=False: self._put())
        row.addWidget(self.put)
        self.which = QComboBox()
        self.which.setAccessibleName("Part looked at")
        self.which.activated.connect(lambda i: self._choose(self.which.itemText(i)))
        row.addWidget(Labeled(bench, "Part looked at", self.which), 2)
        self.off = QPushButton("Take it off")
        self.off.clicked.connect(lambda _=False: self._off())
        row.addWidget(self.off)
        column.addLayout(row)
        self.words = PlainLabel()
        self.words.setWordWrap(True)
        self.words.setProperty("role", "faint")
        column.addWidget(self.words)
        yield
        self.fields: dict[tuple[str, str], NumberField] = {}
        self.labels: dict[Spec, Labeled] = {}
        self._grid = QGridLayout()
        column.addLayout(self._grid)
        for specs in FIELDS.values():
            for spec in specs:
                self._field(spec)
            yield
        self.curve = QLineEdit()
        self.curve.setAccessibleName("Height and area pairs of the air spring")
        self.curve.editingFinished.connect(self._curve_typed)
        self.curve_label = Labeled(
            bench, "Air spring’s height: area in square units of the same, least first", self.curve
        )
        column.addWidget(self.curve_label)
        column.addLayout(self._wire_row())
        column.addLayout(self._buttons())
        yield
        self.table = plain_table(_COLUMNS, "Springs where the wheels are now", wide=0)
        column.addWidget(self.table, 1)
        column.addWidget(faint_words(CAUTIONS[2]))
        self._say_kind()

    def _field(self, spec: Spec) -> None:
        """One field, used by every kind of spring that has it."""
        if spec in self.labels:
            return
        field = spec.kind(self._bench, spec.title, partial(self._set, spec))  # type: ignore[call-arg, arg-type]
        self.labels[spec] = Labeled(self._bench, spec.title, field, spec.unit)
        self.labels[spec].hide()
        self.fields[spec.title, spec.name] = field

    def _buttons(self) -> QHBoxLayout:
        """Collar turns, a second coil, what it stands on, and a leaf's own sum."""
        row = QHBoxLayout()
        self.turns: list[QPushButton] = []
        for words, turns in (("Collar 1 turn down", -1.0), ("Collar 1 turn up", 1.0)):
            button = QPushButton(words)
            button.clicked.connect(partial(self._turn, turns))
            row.addWidget(button)
            self.turns.append(button)
        self.second = QPushButton("Swap")
        self.second.clicked.connect(lambda _=False: self._second())
        row.addWidget(self.second)
        self.on = QComboBox()
        self.on.setAccessibleName("What the lower mount is on")
        self.on.setMinimumContentsLength(24)
        self.on.activated.connect(lambda i: self._stand(self.on.itemData(i)))
        row.addWidget(self.on)
        self._jacked = {"kg": 0.0, "mm": 0.0}
        self.jack_kg = MassField(self._bench, "Scales change by", partial(self._jacked.__setitem__, "kg"))
        self.jack_mm = LengthField(self._bench, "Seat raised by", partial(self._jacked.__setitem__, "mm"))
        self.jack = [
            Labeled(self._bench, "Scales change by", self.jack_kg, "mass"),
            Labeled(self._bench, "Seat raised by", self.jack_mm, "length"),
        ]
        for labeled in self.jack:
            row.addWidget(labeled)
        self.by_jack = QPushButton("Take that rate")
        self.by_jack.setToolTip("Raise the seat by a jack and read the scales: load over movement is the rate")
        self.by_jack.clicked.connect(lambda _=False: self._jack())
        row.addWidget(self.by_jack)
        self.by_leaves = QPushButton("Count the leaves")
        self.by_leaves.clicked.connect(lambda _=False: self._leaves())
        row.addWidget(self.by_leaves)
        row.addStretch(1)
        return row

    def _wire_row(self) -> QHBoxLayout:
        """A coil's rate by calipers: wire, mean diameter, coils that move."""
        self._wired = {"wire": 0.0, "mean": 0.0, "active": 0.0}
        row = QHBoxLayout()
        self.wire: dict[str, NumberField] = {
            "wire": WallField(self._bench, "Wire", partial(self._wired.__setitem__, "wire")),
            "mean": WallField(self._bench, "Coil, middle to middle", partial(self._wired.__setitem__, "mean")),
            "active": PlainField(self._bench, "Coils that move", partial(self._wired.__setitem__, "active")),
        }
        self.wire_labels = [
            Labeled(self._bench, field.name, field, "" if key == "active" else "length")
            for key, field in self.wire.items()
        ]
        for labeled in self.wire_labels:
            row.addWidget(labeled)
        self.by_wire = QPushButton("Take the rate of this wire")
        self.by_wire.clicked.connect(lambda _=False: self._wire())
        row.addWidget(self.by_wire)
        row.addStretch(1)
        return row

    # --- what is done

    def _wire(self) -> None:
        part, bench = self.part(), self._bench
        if part is None:
            return
        try:
            bench.do(wire_rate(bench.job, bench.axle_key, part.name, *self._wired.values()))
        except InputError as error:
            bench.refused.emit(str(error))

    def _say_kind(self) -> None:
        words = SPRINGS[self.kind.currentData()].words
        has = bool(self._bench.axle.springs)
        self.words.setText(words if has else f"{words} Put on what the car has, then tape its mounts and lengths.")

    def _put(self) -> None:
        bench, kind = self._bench, self.kind.currentData()
        key = bench.axle_key
        if not bench.axle.members and beams_of(bench.axle) is None:
            bench.refused.emit("Springs need an axle that is held: lay its links or swing beams out first.")
            return
        try:
            parts = starting_springs(bench.job, key, kind)
        except InputError as error:
            bench.refused.emit(str(error))
            return
        self.chosen = parts[0].name
        bench.do(add_springs(key, parts, f"Put on {SPRINGS[self.kind.currentData()].title.lower()}"))

    def _off(self) -> None:
        names = pair_of(self._bench.job, self._bench.axle_key, self.chosen)
        self._bench.do(take_springs_off(self._bench.axle_key, names))

    def _choose(self, name: str) -> None:
        self.chosen = name
        self.refresh()

    def part(self) -> AnySpring | Leaf | None:
        """The part looked at."""
        axle = self._bench.axle
        leaves = [m for m in axle.members if isinstance(m, Leaf)]
        every: list[AnySpring | Leaf] = [*axle.springs, *leaves]
        return next((p for p in every if p.name == self.chosen), every[0] if every else None)

    def _set(self, spec: Spec, value: Any) -> None:
        part, bench = self.part(), self._bench
        if part is None:
            return
        if isinstance(part, Leaf):
            bench.do(self._of_leaf(part, spec, round(value) if spec.name == "leaves" else value))
            return
        bench.do(change_spring(bench.axle_key, part.name, spec.title, bench.look_at.both_sides, spec.inner,
                               **{spec.name: value}))  # fmt: skip

    def _of_leaf(self, part: Leaf, spec: Spec, value: Any) -> Edit:
        """A leaf's rate, or one of the measures of its pack; a pack that is counted says the rate."""
        bench = self._bench
        names = pair_of(bench.job, bench.axle_key, part.name)
        if not spec.inner:
            return set_members(bench.axle_key, names, f"{part.name}: rate", **{spec.name: value, "pack": None})
        before = part.pack or LeafPack()
        pack = made(LeafPack, **({n: getattr(before, n) for n in LeafPack.model_fields} | {spec.name: value}))
        return set_members(bench.axle_key, names, f"{part.name}: {spec.title.lower()}", pack=pack,
                           rate_n_mm=pack_rate(part, pack))  # fmt: skip

    def _jack(self) -> None:
        part, bench = self.part(), self._bench
        if not isinstance(part, Leaf):
            return
        try:
            bench.do(jack_rate(bench.job, bench.axle_key, part.name, self._jacked["kg"], self._jacked["mm"]))
        except InputError as error:
            bench.refused.emit(str(error))

    def _leaves(self) -> None:
        part, bench = self.part(), self._bench
        if isinstance(part, Leaf):
            names, pack = pair_of(bench.job, bench.axle_key, part.name), part.pack or LeafPack()
            bench.do(set_members(bench.axle_key, names, f"{part.name}: counted leaves", pack=pack,
                                 rate_n_mm=pack_rate(part, pack)))  # fmt: skip

    def _turn(self, turns: float, _checked: bool = False) -> None:
        part = self.part()
        if part is not None:
            self._bench.do(turn_collar(self._bench.axle_key, part.name, turns, self._bench.look_at.both_sides))

    def _second(self) -> None:
        part = self.part()
        if isinstance(part, CoilOver):
            self._bench.do(two_coils(self._bench.axle_key, part.name, part.upper is None))

    def _stand(self, on: str) -> None:
        part, bench = self.part(), self._bench
        if part is None or not hasattr(part, "on"):
            return
        names = pair_of(bench.job, bench.axle_key, part.name)

        def apply_names(name: str) -> str:
            """The link of the same side as the spring, where the one chosen has a twin."""
            return on if name == part.name else on.replace("left", "?").replace("right", "left").replace("?", "right")

        edits = [change_spring(bench.axle_key, n, "Stands on", both=False, on=apply_names(n)) for n in names]
        bench.do(all_of(f"{part.name}: stands on {on}", edits))

    def _curve_typed(self) -> None:
        part, bench = self.part(), self._bench
        text = self.curve.text().strip()
        if not isinstance(part, AirSpring) or text == self._curve_text(part):
            return
        try:
            pairs = [pair.split(":") for pair in text.split(",") if pair.strip()]
            if any(len(pair) != 2 for pair in pairs):
                raise InputError(
                    "Air spring’s curve", f"“{text}” is no list of pairs.", "Type like 4: 26, 6: 23, 8: 19."
                )
            heights = tuple(parse_length(h, bench.job.units, "Height") for h, _ in pairs)
            square = 25.4**2 if bench.job.units == "us" else 100.0
            areas = tuple(square * parse_number(a.strip(), "Area") for _, a in pairs)
        except InputError as error:
            bench.refused.emit(str(error))
            return
        bench.do(change_spring(bench.axle_key, part.name, "Curve", heights_mm=heights, areas_mm2=areas))

    def _curve_text(self, part: AirSpring) -> str:
        units = self._bench.job.units
        square = 25.4**2 if units == "us" else 100.0
        return ", ".join(
            f"{format_length(h, units).removeprefix('~')}: {a / square:.1f}"
            for h, a in zip(part.heights_mm, part.areas_mm2, strict=True)
        )

    # --- what is shown

    def refresh(self) -> None:
        """Show the part looked at, its fields, and what all parts do where the wheels are."""
        bench, part = self._bench, self.part()
        axle = bench.axle
        names = [p.name for p in axle.springs] + [m.name for m in axle.members if isinstance(m, Leaf)]
        self.chosen = "" if part is None else part.name
        with blocked(self.which):
            if [self.which.itemText(i) for i in range(self.which.count())] != names:
                self.which.clear()
                self.which.addItems(names)
            self.which.setCurrentIndex(names.index(self.chosen) if self.chosen in names else -1)
        self.off.setEnabled(part is not None and not isinstance(part, Leaf))
        self._say_kind()
        self._show_fields(part)
        self._show_buttons(part)
        self._show_now()

    def _show_fields(self, part: AnySpring | Leaf | None) -> None:
        specs = () if part is None else tuple(s for s in FIELDS[part.kind] if self._applies(part, s))
        if specs != self._placed:
            for spec in self._placed:
                self._grid.removeWidget(self.labels[spec])
                self.labels[spec].hide()
            for i, spec in enumerate(specs):
                self._grid.addWidget(self.labels[spec], i // 4, i % 4)
                self.labels[spec].show()
            self._placed = specs
        for spec in specs:
            record: Any = getattr(part, spec.inner) if spec.inner else part
            value = None if record is None else getattr(record, spec.name)
            field = self.fields[spec.title, spec.name]
            self.labels[spec].refresh_unit()
            if isinstance(field, LengthField):
                field.show_mm(value)
            else:
                field.show_value(value)
        air = part if isinstance(part, AirSpring) else None
        self.curve_label.setVisible(air is not None)
        if air is not None and not self.curve.hasFocus():
            self.curve.setText(self._curve_text(air))

    def _applies(self, part: AnySpring | Leaf, spec: Spec) -> bool:
        """Whether a field is shown: those of an upper coil, or of a coil, only where there is one."""
        if isinstance(part, Leaf):
            return True
        if spec.inner and getattr(part, spec.inner, None) is None:
            return False
        return not (spec.name == "crossover_mm" and getattr(part, "upper", None) is None)

    def _show_buttons(self, part: AnySpring | Leaf | None) -> None:
        collar = isinstance(part, CoilOver | Rocker) and bool(part.coils)
        for widget in (self.by_wire, *self.wire_labels):
            widget.setVisible(bool(getattr(part, "coils", ())))
        for labeled in self.wire_labels:
            labeled.refresh_unit()
        for button in self.turns:
            button.setVisible(collar)
        self.second.setVisible(isinstance(part, CoilOver))
        if isinstance(part, CoilOver):
            self.second.setText("Two coils with a crossover" if part.upper is None else "One coil again")
        for widget in (self.by_leaves, self.by_jack, *self.jack):
            widget.setVisible(isinstance(part, Leaf))
        for labeled in self.jack:
            labeled.refresh_unit()
        hung = part is not None and hasattr(part, "on")
        self.on.setVisible(hung)
        if part is not None and hung:
            links = [m.name for m in self._bench.axle.members if m.kind in ("rod", "radius_arm", "torque_arm")]
            side = {"left": "right", "right": "left"}.get(part.side, "")
            links = [n for n in links if not side or side not in n]
            with blocked(self.on):
                self.on.clear()
                self.on.addItem("Lower mount on the axle", "axle")
                for name in links:
                    self.on.addItem(f"Lower mount on {name}", name)
                self.on.setCurrentIndex(max(self.on.findData(part.on), 0))  # type: ignore[union-attr]

    def _show_now(self) -> None:
        bench = self._bench
        study, now = bench.study(bench.axle_key), bench.posture
        rows: list[tuple[str, ...]] = []
        on_beams = beam_springs(bench.axle, np.array([now.left_mm]), np.array([now.right_mm]))
        if on_beams is not None:
            rows = now_rows(bench.job, on_beams)
        elif study is not None and study.now.ok[0]:
            rows = now_rows(bench.job, study_springs(bench.job.vehicle, study.axle, study.now))
        self.table.setRowCount(len(rows))
        for i, cells in enumerate(rows):
            for j, text in enumerate(cells):
                set_text(self.table, i, j, text, right=j > 0)
