"""As built: readings of the built car, design against built, and ways to put right what is off."""

from datetime import datetime
from functools import partial

import numpy as np
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QPushButton, QSizePolicy, QTableWidget, QVBoxLayout, QWidget

from even_stance.desktop.bench import Bench
from even_stance.desktop.bounds import bound
from even_stance.desktop.look import Look
from even_stance.desktop.widgets.fields import DegreeField, Labeled, LengthField
from even_stance.desktop.widgets.labels import PlainLabel, group_head
from even_stance.desktop.widgets.signalblock import blocked
from even_stance.desktop.widgets.sketch import Sketch
from even_stance.desktop.widgets.table import plain_table, set_text
from even_stance.errors import InputError
from even_stance.judgement.wording import move_words
from even_stance.shop.asbuilt import BUILT, Deviation, built_stages, expected
from even_stance.shop.builtstudy import BuiltStudy
from even_stance.shop.diary import with_entry
from even_stance.shop.fixes import Fix, Stand
from even_stance.shop.readings import new_reading
from even_stance.shop.sheet import set_aside, take_reading
from even_stance.study.drawing import Label, Path, Shape, project
from even_stance.study.floor import beneath_shapes, car_shapes
from even_stance.study.frame import view_frame
from even_stance.study.places import study_places
from even_stance.units import format_length, length_unit
from even_stance.vehicle.edits import Edit, all_of, set_measuring, turn_built, with_changes
from even_stance.vehicle.log import Entry
from even_stance.vehicle.measuring import STAGES, Quantity, Stage
from even_stance.vehicle.spots import Spot, point_of

_SEEN_MM = 0.8  # half a sixteenth
_LARGER = 8.0  # arrows are drawn so many times longer than what is off
_AXES = ("ahead", "left", "up")
_OFF = ("Point", "Off", "±", "How", "What it does")
_FIXES = ("What to do, cheapest first", "Pinion", "Aside", "Square", "What comes of it")


class BuiltPage(QWidget):
    """The axle looked at, as it came out."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench, self._look = bench, look
        self._values: dict[str, float] = {}
        self._shown: tuple[object, ...] | None = None
        self.off: list[Deviation] = []
        self.fixes: list[Fix] = []
        column = QVBoxLayout(self)
        column.setContentsMargins(10, 6, 10, 2)
        column.setSpacing(4)
        column.addLayout(self._entry())
        self.words = PlainLabel()
        self.words.setWordWrap(True)
        column.addWidget(self.words)
        self.sketch = Sketch(look, "Design and built car")
        bound(self.sketch, look.percent, high=(150, None))
        column.addWidget(self.sketch, 5)
        head = QHBoxLayout()
        head.addWidget(group_head("Design (green) against built; arrows eight times as long"), 1)
        self.view = QComboBox()
        self.view.setAccessibleName("Drawn from")
        for key, words in (("side", "from the left"), ("plan", "from above"), ("rear", "from behind")):
            self.view.addItem(words, key)
        self.view.activated.connect(lambda _: self.refresh())
        head.addWidget(self.view)
        column.addLayout(head)
        self.table = plain_table(_OFF, "Design against built", wide=4)
        self.table.setSelectionMode(QTableWidget.SelectionMode.SingleSelection)
        column.addWidget(self.table, 3)
        column.addWidget(group_head("Ways to put it right, each tried on the built car"))
        self.ways = plain_table(_FIXES, "Ways to put it right", wide=0)
        self.ways.setSelectionMode(QTableWidget.SelectionMode.SingleSelection)
        column.addWidget(self.ways, 4)
        for table, high in ((self.table, 100), (self.ways, 110)):  # both are seen at once, and grow with the window
            table.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Ignored)
            bound(table, look.percent, high=(high, None))
        row = QHBoxLayout()
        self.take = QPushButton("Done so: write it down")
        self.take.setProperty("main", "true")
        self.take.setToolTip("Writes the fix picked into the diary; then measure again")
        self.take.clicked.connect(lambda _=False: self._take())
        row.addWidget(self.take)
        self.bench_it = QPushButton("Look at the built car as a variant")
        self.bench_it.setToolTip("A variant of its own, so that every station answers for the car as it came out")
        self.bench_it.clicked.connect(lambda _=False: self._as_variant())
        row.addWidget(self.bench_it)
        row.addStretch(1)
        column.addLayout(row)
        bench.log.changed.connect(self.refresh)

    def _entry(self) -> QHBoxLayout:
        bench, row = self._bench, QHBoxLayout()
        self.stage = QComboBox()
        self.stage.setAccessibleName("Stage of new readings")
        for key in BUILT:
            self.stage.addItem(STAGES[key], key)
        self.stage.activated.connect(
            lambda _: bench.do(set_measuring("Stage of the build", stage=self.stage.currentData()))
        )
        row.addWidget(Labeled(bench, "Readings are", self.stage))
        self.point = QComboBox()
        self.point.setAccessibleName("What was measured")
        self.point.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.point.setMinimumContentsLength(18)
        self.point.activated.connect(lambda _: self._point_chosen())
        row.addWidget(Labeled(bench, "What was measured", self.point), 2)
        self.fields = {a: LengthField(bench, f"Measured, {a}", partial(self._set, a)) for a in _AXES}
        titles = {"ahead": "Ahead of axle", "left": "Left", "up": "Above floor"}
        self.labels = [Labeled(bench, titles[a], f, "length") for a, f in self.fields.items()]
        for labeled in self.labels:
            row.addWidget(labeled, 1)
        self.angle = DegreeField(bench, "Measured angle", partial(self._set, "angle"))
        self.angle_label = Labeled(bench, "Angle", self.angle, "deg")
        row.addWidget(self.angle_label, 1)
        self.keep = QPushButton("Keep")
        self.keep.setToolTip("Keep these readings of the built car; the design stays")
        self.keep.clicked.connect(lambda _=False: self._keep())
        row.addWidget(self.keep)
        return row

    # --- readings

    def _spots(self) -> list[tuple[str, str]]:
        """What can be measured on the axle looked at: words and the key readings of it begin with."""
        axle = self._bench.axle
        found = [(f"{m.name}, {m.WORDS[e]}", f"{axle.key}/{m.name}/{e}/") for m in axle.parts for e in m.mounts]
        for name, words in (("pinion", "Pinion yoke"), ("output", "Output yoke")):
            if getattr(axle, name) is not None:
                found.append((words, f"{axle.key}.{name}."))
        return found

    def _point_chosen(self) -> None:
        self._values = {}
        for field in (*self.fields.values(), self.angle):
            field.clear_typed()
        self._show_expected()

    def _stage(self) -> Stage:
        """The stage of what is typed here, as it is shown: that of the car, or of the last readings once it is built.

        Keeping a reading changes no other page: what is typed there is of the stage shown there.
        """
        now, there = self._bench.job.measuring.stage, built_stages(self._bench.job)
        return now if now in BUILT else there[-1] if there else BUILT[0]

    def _set(self, axis: str, value: float) -> None:
        self._values[axis] = value

    def _keep(self) -> None:
        bench, base = self._bench, self.point.currentData()
        if base is None or not self._values:
            bench.refused.emit("Nothing is entered: type what you measured first.")
            return
        rows = []
        now = datetime.now().astimezone().isoformat(timespec="seconds")
        for axis, value in list(self._values.items()):
            quantity: Quantity = "angle" if axis == "angle" else "length"
            tool = "angle_finder" if axis == "angle" else "tape"
            try:
                rows.append(
                    new_reading(bench.job, f"{base}{axis}", quantity, value, tool, now, stage=self._stage())  # type: ignore[arg-type]
                )
            except InputError as error:
                bench.refused.emit(str(error))
                return
        if bench.do(all_of(f"Measured {self.point.currentText()}", [take_reading(row) for row in rows])).done:
            self._point_chosen()

    def _show_expected(self) -> None:
        base = self.point.currentData()
        job, units = self._bench.job, self._bench.job.units
        for axis, field in self.fields.items():
            should = None if base is None else expected(job, f"{base}{axis}")
            said = "" if should is None else format_length(should, units).removeprefix("~")
            field.setPlaceholderText(said)
            field.setToolTip(f"Designed: {said} {length_unit(units)}" if said else "")
        should = None if base is None else expected(job, f"{base}angle")
        self.angle_label.setVisible(should is not None)
        self.angle.setPlaceholderText("" if should is None else f"{should:.1f}")

    # --- fixes

    def _take(self) -> None:
        bench, row = self._bench, self.ways.currentRow()
        if not 0 <= row < len(self.fixes):
            bench.refused.emit("No way is picked: click the one that was done.")
            return
        fix = self.fixes[row]
        steps = [turn_built(bench.axle_key, name, longer) for name, longer in fix.longer]
        steps += [] if fix.spot is None else self._aside(fix.spot)
        if steps and not bench.do(all_of(fix.title, steps)).done:
            return
        then = f"{fix.comes}; measure again"
        entry = Entry(at=datetime.now().astimezone().isoformat(timespec="seconds"), kind="fix", title=fix.title[:80],
                      text=then, stage=self._stage(), by_itself=True)  # fmt: skip
        bench.write(with_entry(bench.job, entry))

    def _aside(self, spot: Spot) -> list[Edit]:
        """What was measured of a point before it was moved is so no longer: it stays in the record, not counting."""
        base = f"{spot.axle}/{spot.member}/{spot.end}/"
        return [
            set_aside(i) for i, reading in enumerate(self._bench.job.measuring.readings)
            if reading.what.startswith(base) and reading.stage != "found" and reading.counts
        ]  # fmt: skip

    def _as_variant(self) -> None:
        """The built car on the bench as a variant; the design waits as it was."""
        bench, study = self._bench, self._bench.log.study
        if study is None or not bench.log.up_to_date:
            bench.refused.emit("Nothing of the built car is measured yet.")
            return
        car = study.built.vehicle
        edit = Edit(f"as built, {STAGES[study.stage]}", lambda job: with_changes(job, vehicle=car))
        bench.try_as_variant(edit)

    # --- what is shown

    def refresh(self) -> None:
        """Show the built car against the design."""
        if not self.isVisible():
            return
        bench = self._bench
        for labeled in (*self.labels, self.angle_label):
            labeled.refresh_unit()
        with blocked(self.stage):
            self.stage.setCurrentIndex(self.stage.findData(self._stage()))
        spots = self._spots()
        with blocked(self.point):
            if [self.point.itemText(i) for i in range(self.point.count())] != [w for w, _ in spots]:
                self.point.clear()
                for words, base in spots:
                    self.point.addItem(words, base)
        self._show_expected()
        study = bench.log.study if bench.log.up_to_date else None
        # Words, tables and picture are made once of what they show, however often the page is turned to.
        shown = (
            bench.job.vehicle,
            bench.job.units,
            bench.axle_key,
            study,
            bench.log.up_to_date,
            self.view.currentData(),
        )
        if shown != self._shown:
            self._shown = shown
            self._say(study)
            self._list(study)
            self._draw(study)

    def _said(self, mm: float) -> str:
        units = self._bench.job.units
        return f"{format_length(abs(mm), units).removeprefix('~')} {length_unit(units)}"

    def _say(self, study: BuiltStudy | None) -> None:
        bench = self._bench
        if not bench.log.up_to_date:
            self.words.setText("Being worked out…")
            return
        if study is None:
            self.words.setText(
                "Nothing of the built car is measured yet. Tack the brackets, choose the stage, type what you measure: "
                "the design stays as it is, and what is off shows here."
            )
            return
        mine = [d for d in study.off if d.spot.axle == study.axle]
        really = [d for d in mine if d.really]
        said = f"{len(mine)} points measured, {STAGES[study.stage]}; {len(really)} really off."
        if study.stand is not None and really:
            said += f" On its links as cut the axle stands: {self._stands(study.stand)}."
        doubt = max((d.sure_mm for d in study.off), default=0.0)
        for group in study.groups:
            far = float(np.linalg.norm(group.fit.shift))
            if far > 1.5 * doubt and group.fit.rms <= doubt:  # they really moved together
                odd = f", all but {group.odd.words}" if group.odd is not None else ""
                said += f" The {group.body} moved {self._said(far)} as one piece{odd}."
        self.words.setText(said)

    def _stands(self, stand: Stand) -> str:
        """Where the axle stands against the design, in a few words."""
        said = []
        if abs(stand.nose_up_deg) >= 0.05:
            said.append(f"pinion {abs(stand.nose_up_deg):.1f}° {'up' if stand.nose_up_deg > 0 else 'down'}")
        if abs(stand.aside_mm) >= _SEEN_MM:
            said.append(f"{self._said(stand.aside_mm)} {'left' if stand.aside_mm > 0 else 'right'}")
        if abs(stand.square_mm) >= _SEEN_MM:
            said.append(f"left wheel {self._said(stand.square_mm)} {'ahead' if stand.square_mm > 0 else 'behind'}")
        return ", ".join(said) or "hardly anything"

    def _list(self, study: BuiltStudy | None) -> None:
        job = self._bench.job
        self.off = [] if study is None else [d for d in study.off if d.spot.axle == study.axle]
        self.table.setRowCount(len(self.off))
        for i, d in enumerate(self.off):
            set_text(self.table, i, 0, f"{'▲ ' if d.really else ''}{d.spot.words}", right=False)
            set_text(self.table, i, 1, self._said(d.far_mm))
            set_text(self.table, i, 2, self._said(d.sure_mm))
            side = 1.0 if point_of(job, d.spot).y >= 0 else -1.0
            set_text(
                self.table,
                i,
                3,
                move_words(float(d.off[0]), float(d.off[1]), float(d.off[2]), job.units, side),
                right=False,
            )
            does = None if study is None else study.does.get(d.spot)
            said = "really off" if does is None else self._stands(does)
            set_text(self.table, i, 4, said if d.really else "in the tape’s doubt", right=False)
        self.fixes = [] if study is None else list(study.fixes)
        row = self.ways.currentRow()
        self.ways.setRowCount(len(self.fixes))
        for i, fix in enumerate(self.fixes):
            set_text(self.ways, i, 0, fix.title, right=False)
            set_text(self.ways, i, 1, f"{fix.stand.nose_up_deg:+.1f}°")
            set_text(self.ways, i, 2, self._said(fix.stand.aside_mm))
            set_text(self.ways, i, 3, self._said(fix.stand.square_mm))
            set_text(self.ways, i, 4, fix.comes, right=False)
        if self.fixes and not 0 <= row < len(self.fixes):
            self.ways.selectRow(0)
        self.take.setEnabled(bool(self.fixes))
        self.bench_it.setEnabled(study is not None)

    def _draw(self, study: BuiltStudy | None) -> None:
        """The built car, the design dashed beneath, and arrows from where points should be, eight times longer."""
        bench, view = self._bench, self.view.currentData()
        vehicle = bench.job.vehicle if study is None else study.built.vehicle
        places = bench.studies.places() if study is None else study_places(vehicle)
        shapes: list[Shape] = [] if study is None or study.designed is None else beneath_shapes(study.designed, view)
        shapes += car_shapes(vehicle, places, view, bench.axle_key)
        for d in self.off:
            if d.really:
                a = np.array(project(view, point_of(bench.job, d.spot).xyz))
                way = np.array(project(view, (float(d.off[0]), float(d.off[1]), float(d.off[2]))))
                tip = a + _LARGER * way
                shapes.append(Path(((float(a[0]), float(a[1])), (float(tip[0]), float(tip[1]))), "upper", 6.0))
                shapes.append(Label((float(tip[0]), float(tip[1])), f"{self._said(d.far_mm)} off", "mark"))
        self.sketch.show_shapes(shapes, view_frame(vehicle, vehicle.axle(bench.axle_key), view, False))

    def showEvent(self, _event: object) -> None:
        """Catch up with what changed while hidden."""
        self.refresh()
