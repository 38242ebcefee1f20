"""The load sheet: every case on every member, and what the cases assume."""

from functools import partial

from PyQt6.QtWidgets import QGridLayout, QVBoxLayout, QWidget

from even_stance.desktop.bench import Bench
from even_stance.desktop.widgets.fields import Labeled, NumberField, PlainField, TorqueField
from even_stance.desktop.widgets.labels import PlainLabel
from even_stance.desktop.widgets.table import plain_table, set_text
from even_stance.errors import StanceError
from even_stance.judgement.findings import CAUTIONS
from even_stance.study.loads import CASES, load_words, study_loads
from even_stance.units import force_unit, format_force
from even_stance.vehicle.edits import Edit, with_changes

_ASSUMED = (
    ("friction", "Tire grip, g"), ("engine_torque_nm", "Engine torque"), ("first_gear", "First gear"),
    ("transfer_low", "Transfer, low"), ("axle_ratio", "Axle ratio"), ("brake_g", "Braking, g"),
    ("corner_g", "Cornering, g"), ("bump_g", "Bump, extra loads"), ("ledge_g", "Ledge, vehicle weights"),
)  # fmt: skip


class LoadSheet(QWidget):
    """A table of loads, push and pull, with the assumptions to edit below."""

    def __init__(self, bench: Bench) -> None:
        super().__init__()
        self._bench = bench
        column = QVBoxLayout(self)
        column.setContentsMargins(10, 8, 10, 8)
        self.table = plain_table(("Member", *CASES.values()), "Loads")
        column.addWidget(self.table, 1)
        self.words = PlainLabel()
        self.words.setWordWrap(True)
        self.words.setProperty("role", "faint")
        column.addWidget(self.words)
        grid = QGridLayout()
        self.fields: dict[str, NumberField] = {}
        self._labeled: list[Labeled] = []
        for i, (name, title) in enumerate(_ASSUMED):
            send, torque = partial(self._set, name, title), name == "engine_torque_nm"
            field = TorqueField(bench, title, send) if torque else PlainField(bench, title, send)
            self.fields[name] = field
            self._labeled.append(Labeled(bench, title, field, "torque" if torque else ""))
            grid.addWidget(self._labeled[-1], i // 5, i % 5)
        column.addLayout(grid)
        caution = PlainLabel(CAUTIONS[0])
        caution.setWordWrap(True)
        caution.setProperty("role", "faint")
        column.addWidget(caution)

    def _set(self, name: str, title: str, value: float) -> None:
        self._bench.do(Edit(title, lambda job: with_changes(job, loads=with_changes(job.loads, **{name: value}))))

    def refresh(self) -> None:
        """Reckon every case for the axle looked at."""
        bench, units = self._bench, self._bench.job.units
        for labeled, (name, field) in zip(self._labeled, self.fields.items(), strict=True):
            labeled.refresh_unit()
            field.show_value(getattr(bench.job.loads, name))
        study = bench.study(bench.axle_key)
        if study is None or not study.now.ok[0]:
            self.table.setRowCount(0)
            self.words.setText(bench.studies.layout_error(bench.axle_key) or "No links, no loads: start from a layout.")
            return
        names = study.now.layout.row_names
        self.table.setRowCount(len(names) + 3)
        said = []
        for c, case in enumerate(CASES):
            try:
                loads = study_loads(bench.job.vehicle, study.now, bench.job.loads, case)
            except StanceError as error:
                self.table.setRowCount(0)
                self.words.setText(str(error))
                return
            rods = len(study.now.layout.rods)
            for i, name in enumerate(names):
                set_text(self.table, i, 0, name, right=False)
                force = float(loads.rows[i])
                word = "" if abs(force) < 50.0 or i >= rods else "pull" if force > 0 else "push"
                set_text(self.table, i, c + 1, f"{format_force(abs(force), units)} {word}".strip())
            left, right = loads.springs
            where = ", at its mounts" if loads.at_mounts else ""
            extra = (
                (f"Left spring{where}", left),
                (f"Right spring{where}", right),
                ("Left tire, change", loads.wheel_change),
            )
            for i, (name, force) in enumerate(extra, start=len(names)):
                set_text(self.table, i, 0, name, right=False)
                set_text(self.table, i, c + 1, format_force(force, units))
            said.append(f"{CASES[case]}: {loads.words} {load_words(loads, study.now, units)}")
        self.words.setText(f"Figures in {force_unit(units)}. " + " ".join(said))
