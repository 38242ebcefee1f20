"""Where the car sits: empty, settled, loaded, corner by corner; what makes it sit right; what it carries."""

from collections.abc import Iterator, Sequence

from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QHeaderView, QPushButton, QTableWidget, QVBoxLayout

from even_stance.desktop.bench import Bench
from even_stance.desktop.bounds import bound
from even_stance.desktop.look import Look
from even_stance.desktop.pages import SteppedPage
from even_stance.desktop.widgets.fields import Labeled, PressureField, StiffnessField
from even_stance.desktop.widgets.labels import PlainLabel, group_head
from even_stance.desktop.widgets.listeditor import ListEditor, Values
from even_stance.desktop.widgets.table import plain_table, set_text
from even_stance.errors import InputError
from even_stance.judgement.springrows import air_rows, corner_rows, leaf_rows, sits_rows, wanted_edit, wanted_rows
from even_stance.shop.weighing import weigh
from even_stance.study.ride import USUAL_BAR, axle_ride
from even_stance.units import format_length, format_mass, format_pressure, format_stiffness, length_unit, mass_unit
from even_stance.vehicle.edits import made, set_cargo, set_tire
from even_stance.vehicle.springs import Cargo

_SHARES, _AS_NEEDED = QHeaderView.ResizeMode.Stretch, QHeaderView.ResizeMode.ResizeToContents


class RidePage(SteppedPage):
    """Where the car sits on the springs of all its axles."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench, self._look = bench, look

    def build(self) -> Iterator[None]:
        """Heights, corners, what is wanted, and the list of what is carried."""
        bench = self._bench
        grid = QGridLayout(self)
        grid.setContentsMargins(12, 8, 12, 4)
        grid.setColumnStretch(0, 6)  # heights of three columns beside corners of two
        grid.setColumnStretch(1, 5)
        self.words = PlainLabel("Springs and weight in balance, against the ride height of the drawing.")
        self.words.setWordWrap(True)
        grid.addWidget(self.words, 0, 0, 1, 2)
        grid.addWidget(group_head("Where it sits"), 1, 0)
        self.sits = plain_table(("", "Front", "Rear", "Cross"), "Where the car sits", wide=1)
        self.sits.setWordWrap(True)  # left and right of an axle stand below one another where it leans
        rows = self.sits.verticalHeader()
        if rows is not None:
            rows.setSectionResizeMode(_AS_NEEDED)
        bound(self.sits, self._look.percent, high=(158, None))
        grid.addWidget(self.sits, 2, 0)
        grid.addWidget(group_head("On the scales then"), 1, 1)
        self.corners = plain_table(("", "Left", "Right"), "What every tire carries", wide=0)
        grid.addWidget(self.corners, 2, 1)
        yield
        self.want_head = group_head("To sit at ride height with what is aboard")
        grid.addWidget(self.want_head, 3, 0)
        self.wants = plain_table(("", ""), "What makes the axle sit at ride height", wide=1)
        grid.addWidget(self.wants, 4, 0)
        self.air_head = group_head("Air and leaves")
        grid.addWidget(self.air_head, 3, 1)
        self.air = plain_table(("", ""), "Pressures and leaves", wide=1)
        grid.addWidget(self.air, 4, 1)
        for table in (self.wants, self.air):
            header = table.horizontalHeader()
            if header is not None:
                header.hide()
        yield
        self.set_collars = QPushButton("Set the collars so")
        self.set_collars.clicked.connect(lambda _=False: self._set_collars())
        row = QVBoxLayout()
        row.addWidget(self.set_collars)
        grid.addLayout(row, 5, 0)
        self.cargo = ListEditor(
            bench, "Carried besides what was weighed", "Tools, spare wheel, people, fuel. A tick: aboard now.",
            (("mass", "Weight", "mass"), ("behind", "Behind the front axle", "length"),
             ("left", "Left of the middle", "length")), "aboard", self._add, self._remove,
        )  # fmt: skip
        grid.addWidget(self.cargo, 6, 0, 1, 2)
        self.toggle = QPushButton("On board or off")
        self.toggle.setToolTip("Put what is picked in the list aboard, or off")
        self.toggle.clicked.connect(lambda _=False: self._toggle())
        grid.addWidget(self.toggle, 7, 0)
        grid.addLayout(self._tires(), 7, 1)
        for row_number, share in ((2, 3), (4, 3), (6, 4)):
            grid.setRowStretch(row_number, share)

    def _set_collars(self) -> None:
        edit = wanted_edit(self._bench.job, self._bench.axle)
        if edit is not None:
            self._bench.do(edit)

    def _add(self, name: str, values: Values, aboard: bool) -> bool:
        bench = self._bench
        try:
            thing = made(Cargo, name=name, mass_kg=values["mass"], behind_front_mm=values["behind"],
                         left_mm=values["left"], aboard=aboard)  # fmt: skip
        except InputError as error:
            bench.refused.emit(str(error))
            return False
        return bench.do(set_cargo(f"Carries {name}", (*bench.job.vehicle.cargo, thing))).done

    def _remove(self, row: int) -> None:
        cargo = self._bench.job.vehicle.cargo
        self._bench.do(set_cargo(f"Without {cargo[row].name}", cargo[:row] + cargo[row + 1 :]))

    def _toggle(self) -> None:
        bench, row = self._bench, self.cargo.table.currentRow()
        cargo = bench.job.vehicle.cargo
        if not 0 <= row < len(cargo):
            bench.refused.emit("No row is picked: click the thing first.")
            return
        thing = cargo[row].model_copy(update={"aboard": not cargo[row].aboard})
        words = f"{thing.name} {'aboard' if thing.aboard else 'off'}"
        bench.do(set_cargo(words, (*cargo[:row], thing, *cargo[row + 1 :])))

    def _tires(self) -> QHBoxLayout:
        """What the tires give: their pressure, or their rate where it was measured."""
        bench = self._bench
        tires = QHBoxLayout()
        self.pressure = PressureField(bench, "Tire pressure", lambda v: self._set_tire("pressure", pressure_bar=v))
        self.tire_rate = StiffnessField(bench, "Tire rate", lambda v: self._set_tire("rate", rate_n_mm=v))
        self.tire_labels = [
            Labeled(bench, "Tire pressure, this axle", self.pressure, "pressure"),
            Labeled(bench, "Tire rate, if measured", self.tire_rate, "stiffness"),
        ]
        self.pressure.cleared = lambda: self._set_tire("pressure", pressure_bar=None)
        self.tire_rate.cleared = lambda: self._set_tire("rate", rate_n_mm=None)
        for labeled in self.tire_labels:
            tires.addWidget(labeled)
        return tires

    def _set_tire(self, what: str, **changes: float | None) -> None:
        self._bench.do(set_tire(self._bench.axle_key, f"Tire {what}", **changes))

    def _aside(self) -> float:
        """How far left of the middle the scales put the weight, mm."""
        try:
            weighed = weigh(self._bench.job)
        except InputError:
            return 0.0
        return 0.0 if weighed is None else weighed.left_mm

    def refresh(self) -> None:
        """Work out where the car sits."""
        job, axle = self._bench.job, self._bench.axle
        aside = self._aside()
        columns = ["", *(a.key.capitalize() for a in job.vehicle.axles), "Cross"]
        self.sits.setColumnCount(len(columns))
        self.sits.setHorizontalHeaderLabels(columns)
        header = self.sits.horizontalHeader()
        if header is not None:
            for i in range(1, len(columns)):
                header.setSectionResizeMode(i, _SHARES if i < len(columns) - 1 else _AS_NEEDED)
        _fill(self.sits, sits_rows(job, aside))
        _fill(self.corners, corner_rows(job, aside))
        _fill(self.wants, wanted_rows(job, axle))
        self.want_head.setText(f"To sit at ride height with what is aboard, {axle.key}")
        other = [*air_rows(job, axle), *leaf_rows(job, axle)]
        _fill(self.air, other)
        self.air.setVisible(bool(other))
        self.air_head.setVisible(bool(other))
        edit = wanted_edit(job, axle)
        self.set_collars.setVisible(edit is not None)
        self.set_collars.setText("" if edit is None else edit.label)
        units, ride = job.units, axle_ride(job.vehicle, axle)
        for labeled in self.tire_labels:
            labeled.refresh_unit()
        self.pressure.show_value(axle.tire.pressure_bar)
        self.tire_rate.show_value(axle.tire.rate_n_mm)
        guess = "" if ride is None else f"{format_stiffness(ride.tire_n_mm, units)} guessed"
        self.tire_rate.setPlaceholderText(guess)
        self.pressure.setPlaceholderText(f"{format_pressure(USUAL_BAR, units)} taken")
        self.cargo.show_rows([
            (c.name, f"{format_mass(c.mass_kg, units)} {mass_unit(units)}",
             *(f"{format_length(mm, units).removeprefix('~')} {length_unit(units)}" for mm in
               (c.behind_front_mm, c.left_mm)), "aboard" if c.aboard else "off")
            for c in job.vehicle.cargo
        ])  # fmt: skip


def _fill(table: QTableWidget, rows: Sequence[tuple[str, ...]]) -> None:
    """Put rows into a table; one that is a single sentence goes over all columns."""
    table.clearSpans()
    table.setRowCount(len(rows))
    for i, cells in enumerate(rows):
        for j in range(table.columnCount()):
            set_text(table, i, j, cells[j] if j < len(cells) else "", right=False)
        if 1 <= len(cells) < table.columnCount():
            table.setSpan(i, len(cells) - 1, 1, table.columnCount() - len(cells) + 1)
