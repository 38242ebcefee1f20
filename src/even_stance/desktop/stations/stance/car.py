"""The car: what it is and how it stands."""

from collections.abc import Callable
from typing import Any, cast

from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QPlainTextEdit,
    QPushButton,
    QScrollArea,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from even_stance.desktop.bench import Bench
from even_stance.desktop.bounds import bound
from even_stance.desktop.floor import Pane
from even_stance.desktop.look import Look
from even_stance.desktop.widgets.fields import Labeled, LengthField, MassField, PercentField
from even_stance.desktop.widgets.labels import PlainLabel, group_head
from even_stance.desktop.widgets.signalblock import blocked
from even_stance.errors import StanceError
from even_stance.judgement.bands import PURPOSE_WORDS
from even_stance.judgement.catalog.starter import with_cg_school
from even_stance.judgement.findings import CAUTIONS
from even_stance.shop.tires import use_tire_size
from even_stance.vehicle.car import Axle
from even_stance.vehicle.edits import Edit, set_axle, set_job, set_split, set_tire, set_vehicle, set_wheelbase
from even_stance.vehicle.job import Purpose
from even_stance.vehicle.tandem import add_rear_axle, axles_apart, set_axles_apart, take_out_rear_axle

_GAP = 14


class AxleForm(QWidget):
    """The measures of one axle."""

    def __init__(self, bench: Bench, key: str) -> None:
        super().__init__()
        self._bench, self.key = bench, key
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(group_head(f"{key.capitalize()} axle"))
        grid = QGridLayout()
        grid.setVerticalSpacing(3)
        column.addLayout(grid)
        column.addStretch(1)
        name = key.capitalize()
        self.fields: dict[str, LengthField | MassField] = {}
        self.labels: list[Labeled] = []

        def length(attribute: str, title: str, edit: Callable[[float], Edit]) -> None:
            self._add(
                grid, attribute, title, LengthField(bench, f"{name} {title.lower()}", lambda v: bench.do(edit(v)))
            )

        def mass(attribute: str, title: str) -> None:
            edit = lambda v: bench.do(set_axle(key, f"{name} {title.lower()}", **{attribute: v}))  # noqa: E731
            self._add(grid, attribute, title, MassField(bench, f"{name} {title.lower()}", edit))

        length("track_mm", "Track", lambda v: set_axle(key, f"{name} track", track_mm=v))
        length("free_diameter_mm", "Tire diameter", lambda v: set_tire(key, f"{name} tires", free_diameter_mm=v))
        length("loaded_radius_mm", "Center height", lambda v: set_tire(key, f"{name} tires", loaded_radius_mm=v))
        length("width_mm", "Tire width", lambda v: set_tire(key, f"{name} tires", width_mm=v))
        length("bump_mm", "Bump travel", lambda v: set_axle(key, f"{name} bump travel", bump_mm=v))
        length("droop_mm", "Droop travel", lambda v: set_axle(key, f"{name} droop travel", droop_mm=v))
        mass("load_kg", "Scale weight")
        mass("unsprung_kg", "Unsprung weight")
        self.marking = QLineEdit()
        self.marking.setAccessibleName(f"{name} tire size")
        self.marking.setPlaceholderText("35x12.50R17LT or P235/75R15")
        self.marking.editingFinished.connect(self._set_size)
        self.marking_field = Labeled(bench, "Size on the sidewall, if not measured", self.marking)
        grid.addWidget(self.marking_field, 4, 0, 1, 2)

    def _set_size(self) -> None:
        text = self.marking.text().strip()
        problem = ""
        if text:
            try:
                if self._bench.do(use_tire_size(self.key, text)).done:
                    self.marking.clear()
            except StanceError as error:
                problem = str(error)
        self.marking_field.say_problem(problem)

    def _add(self, grid: QGridLayout, attribute: str, title: str, field: LengthField | MassField) -> None:
        labeled = Labeled(self._bench, title, field, "mass" if isinstance(field, MassField) else "length")
        self.fields[attribute] = field
        self.labels.append(labeled)
        index = len(self.fields) - 1
        grid.addWidget(labeled, index // 2, index % 2)

    def refresh(self, axle: Axle) -> None:
        """Show the axle."""
        for attribute, field in self.fields.items():
            source = axle if hasattr(axle, attribute) else axle.tire
            value = cast(float, getattr(source, attribute))
            if isinstance(field, LengthField):
                field.show_mm(value)
            else:
                field.show_value(None if attribute == "load_kg" and value == 0 else value)
        for labeled in self.labels:
            labeled.refresh_unit()


class CarPage(QWidget):
    """Wheelbase, tracks, tires, weights, CG height and purpose, with the whole car drawn above."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench, self._look = bench, look
        self.picture = Pane(bench, look, "side")
        self.picture.in_front = self.picture.whole = True
        self.picture.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.addWidget(self.picture, 2)
        self._scroll = QScrollArea()
        self._scroll.setWidgetResizable(True)
        self._inner = QWidget()
        self._scroll.setWidget(self._inner)
        outer.addWidget(self._scroll, 3)
        self._columns = QHBoxLayout(self._inner)
        self._columns.setContentsMargins(12, 10, 12, 10)
        self._columns.setSpacing(_GAP)
        self._axle_side = QVBoxLayout()
        self._axle_row = QGridLayout()
        self._axle_row.setSpacing(_GAP)
        self._labels: list[Labeled] = []
        self._car_form()
        self.axle_forms: dict[str, AxleForm] = {}
        self._shared: tuple[bool, int, list[AxleForm]] | None = None
        bench.job_changed.connect(self.refresh)
        bench.selection_changed.connect(self._repaint)
        look.changed.connect(self.refresh)

    def _car_form(self) -> None:
        bench = self._bench
        column = self._car = QVBoxLayout()
        column.setSpacing(3)
        column.addWidget(group_head("The car"))
        self.name = QLineEdit()
        self.name.setMaxLength(80)
        self.name.setAccessibleName("Job name")
        self.name.editingFinished.connect(self._rename)
        self.purpose = QComboBox()
        self.purpose.setAccessibleName("Purpose")
        for key, words in PURPOSE_WORDS.items():
            self.purpose.addItem(words, key)
        self.purpose.activated.connect(self._set_purpose)
        self.wheelbase = LengthField(bench, "Wheelbase", lambda v: bench.do(set_wheelbase(v)))
        self.cg = LengthField(bench, "CG height", lambda v: bench.do(_cg_edit(v)))
        self.cg_sure = LengthField(
            bench, "CG height +/-", lambda v: bench.do(set_vehicle("CG height +/-", cg_sure_mm=v))
        )
        self.wheelbase_sure = LengthField(
            bench, "Wheelbase +/-", lambda v: bench.do(set_vehicle("Wheelbase +/-", wheelbase_sure_mm=v))
        )
        self.ride_sure = LengthField(
            bench, "Ride height +/-", lambda v: bench.do(set_vehicle("Ride height +/-", ride_sure_mm=v))
        )
        self.drive = PercentField(bench, "Front drive share", lambda v: bench.do(set_split("drive", v / 100)))
        self.brake = PercentField(bench, "Front brake share", lambda v: bench.do(set_split("brake", v / 100)))
        grid = QGridLayout()
        grid.setVerticalSpacing(3)
        rows: tuple[tuple[str, QWidget, str], ...] = (
            ("Name", self.name, ""), ("Judged as", self.purpose, ""), ("Ride height ±", self.ride_sure, "length"),
            ("Wheelbase", self.wheelbase, "length"), ("Wheelbase ±", self.wheelbase_sure, "length"),
            ("CG height", self.cg, "length"), ("CG height ±", self.cg_sure, "length"),
            ("Front drive share", self.drive, "percent"), ("Front brake share", self.brake, "percent"),
        )  # fmt: skip
        for i, (title, field, kind) in enumerate(rows):
            labeled = Labeled(bench, title, field, kind)
            self._labels.append(labeled)
            if i < 1:
                grid.addWidget(labeled, 0, 0, 1, 2)
            else:
                grid.addWidget(labeled, (i + 1) // 2, (i + 1) % 2)
        column.addLayout(grid)
        self._cg(column)
        self._tandem(column)
        column.addStretch(1)
        self._columns.addLayout(column, 5)
        self._columns.addLayout(self._axle_side, 8)
        self._axle_side.addLayout(self._axle_row)
        self._notes(self._axle_side)
        self._axle_side.addStretch(1)

    def _cg(self, column: QVBoxLayout) -> None:
        bench = self._bench
        schools = QHBoxLayout()
        self.bellhousing = QPushButton("Guess: bellhousing")
        self.camshaft = QPushButton("Guess: camshaft")
        self.bellhousing.setToolTip("Take the CG at the top of the bellhousing: about 12 in above the wheel centers")
        self.camshaft.setToolTip("Take the CG at the camshaft centerline: about 9 in above the wheel centers")
        self.bellhousing.clicked.connect(lambda: bench.do(_school_edit("bellhousing")))
        self.camshaft.clicked.connect(lambda: bench.do(_school_edit("camshaft")))
        schools.addWidget(self.bellhousing)
        schools.addWidget(self.camshaft)
        column.addLayout(schools)
        self.cg_words = PlainLabel()
        self.cg_words.setProperty("role", "faint")
        self.cg_words.setWordWrap(True)
        column.addWidget(self.cg_words)
        self.sprung = QCheckBox("Reckon with the sprung CG")
        self.sprung.toggled.connect(
            lambda on: bench.do(set_vehicle("Sprung CG", anti_uses="sprung" if on else "whole"))
        )
        column.addWidget(self.sprung)

    def _tandem(self, column: QVBoxLayout) -> None:
        bench = self._bench
        self.second = QPushButton("Add a second rear axle")
        self.second.clicked.connect(self._change_axles)
        self.apart = LengthField(bench, "Rear axles apart", lambda v: bench.do(set_axles_apart(v)))
        self.apart_label = Labeled(bench, "Rear axles apart", self.apart, "length")
        self._labels.append(self.apart_label)
        column.addWidget(self.apart_label)
        column.addWidget(self.second)

    def _change_axles(self) -> None:
        one = axles_apart(self._bench.job) is None
        self._bench.do(add_rear_axle() if one else take_out_rear_axle())

    def _notes(self, column: QVBoxLayout) -> None:
        self.notes = QPlainTextEdit()
        self.notes.setTabChangesFocus(True)
        self.notes.setAccessibleName("Notes")
        self.notes.setPlaceholderText("Notes: what was measured, at which height and load, what was decided")
        bound(self.notes, self._look.percent, high=(None, 70))
        self.notes.textChanged.connect(self._set_notes)
        column.addWidget(self.notes)
        caution = PlainLabel(CAUTIONS[1] + " " + CAUTIONS[0])
        caution.setProperty("role", "faint")
        caution.setWordWrap(True)
        column.addWidget(caution)

    def _rename(self) -> None:
        name = self.name.text().strip()
        if name:
            self._bench.do(set_job("Job name", name=name))
        else:
            self._bench.refused.emit("Name: nothing was entered. The job keeps its name.")
        self.name.setText(self._bench.job.name)

    def _set_purpose(self) -> None:
        self._bench.do(set_job("Purpose", purpose=cast(Purpose, self.purpose.currentData())))

    def _set_notes(self) -> None:
        text = self.notes.toPlainText()
        if text != self._bench.job.notes:
            self._bench.do(set_job("Notes", merge="notes", notes=text))

    def _repaint(self) -> None:
        if self.isVisible():
            self.picture.refresh()

    def showEvent(self, _event: object) -> None:
        """Catch up with what changed while hidden."""
        self.refresh()

    def resizeEvent(self, _event: object) -> None:
        """Other room, other columns."""
        self._share_out()

    def _share_out(self) -> None:
        """Car and axles beside one another as far as there is room, below one another where there is not."""
        if not self.axle_forms:
            return
        car, axle = self._car.minimumSize().width(), next(iter(self.axle_forms.values())).minimumSizeHint().width()
        bar, margins = self._scroll.verticalScrollBar(), self._columns.contentsMargins()
        room = self._scroll.width() - margins.left() - margins.right() - (0 if bar is None else bar.sizeHint().width())
        beside = car + _GAP + axle <= room
        left = room - car - _GAP if beside else room
        in_a_row = 2 if 2 * axle + _GAP <= left else 1
        shared = (beside, in_a_row, list(self.axle_forms.values()))
        if shared == self._shared:  # every edit comes by here
            return
        self._shared = shared
        way = QHBoxLayout.Direction
        self._columns.setDirection(way.LeftToRight if beside else way.TopToBottom)
        for i, form in enumerate(self.axle_forms.values()):
            self._axle_row.removeWidget(form)
            self._axle_row.addWidget(form, i // in_a_row, i % in_a_row)

    def refresh(self) -> None:
        """Show the job."""
        if not self.isVisible():
            return
        job = self._bench.job
        if list(self.axle_forms) != [a.key for a in job.vehicle.axles]:
            self._make_axle_forms()
        with blocked(self.purpose, self.sprung, self.notes):
            if not self.name.hasFocus():
                self.name.setText(job.name)
            self.purpose.setCurrentIndex(list(PURPOSE_WORDS).index(job.purpose))
            self.sprung.setChecked(job.vehicle.anti_uses == "sprung")
            if self.notes.toPlainText() != job.notes:
                self.notes.setPlainText(job.notes)
        vehicle = job.vehicle
        self.wheelbase.show_mm(vehicle.wheelbase_mm)
        self.cg.show_mm(vehicle.cg_height_mm)
        self.cg_sure.show_mm(vehicle.cg_sure_mm)
        self.wheelbase_sure.show_mm(vehicle.wheelbase_sure_mm)
        self.ride_sure.show_mm(vehicle.ride_sure_mm)
        self.drive.show_value(100 * vehicle.axles[0].drive_share)
        self.brake.show_value(100 * vehicle.axles[0].brake_share)
        words = {
            "bellhousing": "CG height guessed from the bellhousing school: measure when you can.",
            "camshaft": "CG height guessed from the camshaft school: measure when you can.",
            "measured": "CG height was measured.",
            "typed": "CG height as typed.",
        }
        self.cg_words.setText(words[vehicle.cg_source])
        apart = axles_apart(job)
        self.apart.show_mm(apart)
        self.apart_label.setVisible(apart is not None)
        self.second.setText("Add a second rear axle" if apart is None else "Take the third axle out")
        for labeled in self._labels:
            labeled.refresh_unit()
        for axle in vehicle.axles:
            self.axle_forms[axle.key].refresh(axle)
        self._share_out()
        self.picture.refresh()

    def _make_axle_forms(self) -> None:
        for form in self.axle_forms.values():
            self._axle_row.removeWidget(form)
            form.hide()
            form.deleteLater()
        self.axle_forms = {}
        for axle in self._bench.job.vehicle.axles:
            self.axle_forms[axle.key] = AxleForm(self._bench, axle.key)


def _cg_edit(mm: float) -> Edit:
    changes: dict[str, Any] = {"cg_height_mm": mm, "cg_source": "typed"}
    return set_vehicle("CG height", **changes)


def _school_edit(school: str) -> Edit:
    return Edit(
        "CG height by guess", lambda job: with_cg_school(job, "camshaft" if school == "camshaft" else "bellhousing")
    )
