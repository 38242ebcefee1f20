"""The parts drawer: generic parts, and one's own as measured, kept beside the settings, given away as a file."""

from functools import partial
from pathlib import Path

from PyQt6.QtWidgets import (
    QComboBox,
    QFileDialog,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QTableWidget,
    QVBoxLayout,
    QWidget,
)

from even_stance.desktop.bench import Bench
from even_stance.desktop.exporting import ask_path
from even_stance.desktop.look import Look
from even_stance.desktop.widgets.fields import (
    DegreeField,
    ForceField,
    Labeled,
    LengthField,
    NumberField,
    StressField,
    ThreadField,
    WallField,
)
from even_stance.desktop.widgets.labels import PlainLabel
from even_stance.desktop.widgets.table import plain_table, set_text
from even_stance.errors import InputError
from even_stance.units import System, format_length, format_stress, length_unit, stress_unit
from even_stance.vehicle.build import AnyPart, Bolt, Bung, Joint, PartSort, Spacers, Tube
from even_stance.vehicle.edits import made

_KINDS: dict[PartSort, type[AnyPart]] = {
    "joint": Joint, "tube": Tube, "bolt": Bolt, "bung": Bung, "spacers": Spacers
}  # fmt: skip
_TITLES = {"joint": "Rod ends and eyes", "tube": "Tubes", "bolt": "Bolts", "bung": "Bungs", "spacers": "Spacers"}
# What is asked of each sort: field, title, kind of field, unit.
_ASKED: dict[str, tuple[tuple[str, str, type[NumberField], str], ...]] = {
    "joint": (
        ("thread_mm", "Shank thread", LengthField, "length"), ("pitch_mm", "Pitch", ThreadField, "thread"),
        ("bore_mm", "Ball bore", LengthField, "length"), ("wide_mm", "Ball, wide", LengthField, "length"),
        ("head_mm", "Head, across", LengthField, "length"), ("shank_mm", "Center to end", LengthField, "length"),
        ("threaded_mm", "Of that, thread", LengthField, "length"), ("swing_deg", "Swings", DegreeField, "deg"),
        ("rated_n", "Rated for", ForceField, "force"),
    ),
    "tube": (
        ("outside_mm", "Outside", LengthField, "length"), ("wall_mm", "Wall", WallField, "length"),
        ("yield_mpa", "Yield", StressField, "stress"),
    ),
    "bolt": (
        ("diameter_mm", "Diameter", LengthField, "length"), ("pitch_mm", "Pitch", ThreadField, "thread"),
        ("yield_mpa", "Yield", StressField, "stress"),
    ),
    "bung": (
        ("thread_mm", "Thread", LengthField, "length"), ("pitch_mm", "Pitch", ThreadField, "thread"),
        ("deep_mm", "Thread, deep", LengthField, "length"), ("shoulder_mm", "Shoulder", LengthField, "length"),
        ("turned_mm", "Across, in the tube", LengthField, "length"), ("yield_mpa", "Yield", StressField, "stress"),
    ),
    "spacers": (
        ("add_mm", "Both add", LengthField, "length"), ("hole_mm", "Bolt hole", LengthField, "length"),
        ("bore_mm", "For a bore of", LengthField, "length"), ("swing_deg", "Swings", DegreeField, "deg"),
    ),
}  # fmt: skip


class DrawerPage(QWidget):
    """The drawer as a table, and a form for one's own parts."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench, self._look = bench, look
        self.parts: list[AnyPart] = []
        column = QVBoxLayout(self)
        column.setContentsMargins(12, 8, 12, 4)
        row = QHBoxLayout()
        self.sort = QComboBox()
        self.sort.setAccessibleName("Parts")
        for key, words in _TITLES.items():
            self.sort.addItem(words, key)
        self.sort.activated.connect(lambda _: self._turned())
        row.addWidget(Labeled(bench, "Parts", self.sort))
        self.words = PlainLabel("Generic sizes to begin with: measure yours and keep them. No makers, no part numbers.")
        self.words.setWordWrap(True)
        row.addWidget(self.words, 1)
        for title, do in (("Add from a file…", self._ask_import), ("Give away as a file…", self._ask_export)):
            button = QPushButton(title)
            button.clicked.connect(lambda _=False, do=do: do())
            row.addWidget(button)
        column.addLayout(row)
        self.table = plain_table(("Part", "Sizes", "From"), "Parts drawer", wide=1)
        self.table.setSelectionMode(QTableWidget.SelectionMode.SingleSelection)
        self.table.itemSelectionChanged.connect(self._picked)
        column.addWidget(self.table, 1)
        self.form = QGridLayout()
        column.addLayout(self.form)
        acts = QHBoxLayout()
        self.name = QLineEdit()
        self.name.setAccessibleName("Name of the part")
        self.name.setMaxLength(80)
        acts.addWidget(Labeled(bench, "Name of your part", self.name), 1)
        self.keep = QPushButton("Keep it in the drawer")
        self.keep.setProperty("main", "true")
        self.keep.clicked.connect(lambda _=False: self._keep())
        self.out = QPushButton("Take it out")
        self.out.clicked.connect(lambda _=False: self._take())
        acts.addWidget(self.keep)
        acts.addWidget(self.out)
        column.addLayout(acts)
        self.values: dict[str, float | None] = {}
        self.fields: dict[str, NumberField] = {}
        self.labels: list[Labeled] = []
        self._make_form()
        bench.build.changed.connect(self.refresh)

    @property
    def _key(self) -> str:
        key: str = self.sort.currentData()
        return key

    def _turned(self) -> None:
        self._make_form()
        self.refresh()

    def _make_form(self) -> None:
        for labeled in self.labels:
            self.form.removeWidget(labeled)
            labeled.deleteLater()
        self.fields, self.labels, self.values = {}, [], {}
        for i, (name, title, kind, unit) in enumerate(_ASKED[self._key]):
            field = kind(self._bench, title, partial(self._set, name))  # type: ignore[call-arg, arg-type]
            self.fields[name] = field
            self.labels.append(Labeled(self._bench, title, field, unit))
            self.form.addWidget(self.labels[-1], i // 5, i % 5)

    def _set(self, name: str, value: float) -> None:
        self.values[name] = value

    def _picked(self) -> None:
        part = self._part()
        if part is None:
            return
        self.name.setText(part.name)
        for name, field in self.fields.items():
            self.values[name] = getattr(part, name)
            field.clear_typed()
            field.show_value(self.values[name])

    def _part(self) -> AnyPart | None:
        row = self.table.currentRow()
        return self.parts[row] if 0 <= row < len(self.parts) else None

    def _keep(self) -> None:
        bench = self._bench
        if not self.name.text().strip():
            bench.refused.emit("Part: it has no name. Type one that says its size.")
            return
        missing = [title for name, title, *_ in _ASKED[self._key]
                   if self.values.get(name) is None and name != "rated_n"]  # fmt: skip
        if missing:
            bench.refused.emit(f"{missing[0]}: nothing is entered. Measure it and type it in.")
            return
        more = {n: v for n, v in self.values.items() if v is not None}
        try:
            part = made(_KINDS[self._key], name=self.name.text().strip(), source="measured", **more)  # type: ignore[index]
        except InputError as error:
            bench.refused.emit(str(error))
            return
        bench.build.put_part(part)

    def _take(self) -> None:
        part = self._part()
        if part is None or part not in self._bench.build.own:
            self._bench.refused.emit("A generic part stays: pick one of your own to take it out.")
            return
        self._bench.build.take_part(part)

    def _ask_import(self) -> QFileDialog:
        dialog = QFileDialog(self, "Add parts from a file", "", "(*.json)")
        dialog.fileSelected.connect(self.read)
        dialog.open()
        return dialog

    def read(self, name: str) -> None:
        """Add the parts of a file."""
        self._bench.build.import_parts(Path(name))

    def _ask_export(self) -> QFileDialog:
        return ask_path(self, "Give parts away", "my-parts.json", "(*.json)", self._bench.build.export_parts)

    def refresh(self) -> None:
        """List the parts of the sort looked at."""
        if not self.isVisible():
            return
        for labeled in self.labels:
            labeled.refresh_unit()
        build, units = self._bench.build, self._bench.job.units
        self.parts = [p for p in build.drawer if p.sort == self._key]
        self.table.setRowCount(len(self.parts))
        for i, part in enumerate(self.parts):
            set_text(self.table, i, 0, part.name, right=False)
            set_text(self.table, i, 1, sizes_words(part, units), right=False)
            mine = "yours" if part in build.own else part.source
            set_text(self.table, i, 2, mine, right=False)

    def showEvent(self, _event: object) -> None:
        """Catch up with what changed while hidden."""
        self.refresh()


def sizes_words(part: AnyPart, units: System) -> str:
    """The sizes of a part in one line."""

    def said(mm: float) -> str:
        return f"{format_length(mm, units).removeprefix('~')} {length_unit(units)}"

    if isinstance(part, Joint):
        return (f"ball {said(part.wide_mm)} wide, head {said(part.head_mm)}, center to end {said(part.shank_mm)}, "
                f"thread {said(part.threaded_mm)}, swings {part.swing_deg:.0f}°")  # fmt: skip
    if isinstance(part, Tube | Bolt):
        holds = f"yield {format_stress(part.yield_mpa, units)} {stress_unit(units)}"
        size = f"{part.diameter_mm:.2f}" if isinstance(part, Bolt) else f"{part.outside_mm:.2f} x {part.wall_mm:.2f}"
        return f"{size} mm, {holds}"
    if isinstance(part, Bung):
        return (
            f"thread {said(part.deep_mm)} deep, shoulder {said(part.shoulder_mm)}, {said(part.turned_mm)} in the tube"
        )
    return f"both add {said(part.add_mm)}, hole {said(part.hole_mm)}, swings {part.swing_deg:.0f}°"
