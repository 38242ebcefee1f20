"""Templates: plates, tube ends and lug circles at full size, each shown where it sits on the car."""

from pathlib import Path

import numpy as np
from PyQt6.QtWidgets import QFileDialog, QGridLayout, QHBoxLayout, QListWidget, QPushButton, QVBoxLayout, QWidget

from even_stance.desktop.bench import Bench
from even_stance.desktop.bounds import bound
from even_stance.desktop.exporting import ask_path
from even_stance.desktop.look import Look
from even_stance.desktop.saving import save_made
from even_stance.desktop.widgets.fields import DegreeField, Labeled, LengthField, NumberField, PlainField
from even_stance.desktop.widgets.labels import PlainLabel, faint_words, group_head
from even_stance.desktop.widgets.signalblock import blocked
from even_stance.desktop.widgets.sketch import Frame, Sketch
from even_stance.errors import InputError
from even_stance.judgement.findings import CAUTIONS
from even_stance.shop.plates import Template
from even_stance.shop.tubeends import lug_template, saddle_template, sawn_template
from even_stance.study.drawing import Area, Label, Place, Round, Shape, project
from even_stance.study.drawing import Path as Line
from even_stance.study.floor import car_shapes

_ENDS: tuple[tuple[str, str, type[NumberField], str, float], ...] = (
    ("tube", "Tube to cut", LengthField, "length", 44.45),
    ("other", "Onto a tube, 0: a flat", LengthField, "length", 76.2),
    ("angle", "At an angle", DegreeField, "deg", 60.0), ("offset", "Off center", LengthField, "length", 0.0),
)  # fmt: skip
_LUGS: tuple[tuple[str, str, type[NumberField], str, float], ...] = (
    ("old", "Holes now", PlainField, "", 5.0), ("old_circle", "on a circle of", LengthField, "length", 114.3),
    ("new", "Holes wanted", PlainField, "", 5.0), ("new_circle", "on a circle of", LengthField, "length", 139.7),
    ("hole", "Drilled", LengthField, "length", 14.2875), ("hub", "Bore of the hub", LengthField, "length", 70.0),
)  # fmt: skip


class TemplatesPage(QWidget):
    """A list of templates, the one picked at its shape, and the car with it."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench, self._look = bench, look
        self.values = {name: value for name, *_, value in (*_ENDS, *_LUGS)}
        self.templates: list[Template] = []
        self._own: list[Template] = []
        column = QVBoxLayout(self)
        column.setContentsMargins(12, 8, 12, 4)
        top = QHBoxLayout()
        self.list = QListWidget()
        self.list.setAccessibleName("Templates")
        bound(self.list, look.percent, wide=(210, 290))
        self.list.currentRowChanged.connect(lambda _: self._show())
        top.addWidget(self.list)
        middle = QVBoxLayout()
        self.note = PlainLabel()
        self.note.setWordWrap(True)
        middle.addWidget(self.note)
        both = QHBoxLayout()
        self.sketch, self.car = Sketch(look, "The template"), Sketch(look, "Where it sits on the car")
        both.addWidget(self.sketch, 1)
        both.addWidget(self.car, 1)
        middle.addLayout(both, 1)
        acts = QHBoxLayout()
        self.pdf = QPushButton("This one, full size (PDF)…")
        self.pdf.setProperty("main", "true")
        self.pdf.clicked.connect(lambda _=False: self._ask("pdf"))
        self.dxf = QPushButton("This one (DXF)…")
        self.dxf.clicked.connect(lambda _=False: self._ask("dxf"))
        self.every = QPushButton("All (PDF)…")
        self.every.clicked.connect(lambda _=False: self._ask("all"))
        self.every_dxf = QPushButton("All (DXF)…")
        self.every_dxf.clicked.connect(lambda _=False: self._ask("all dxf"))
        for button in (self.pdf, self.dxf, self.every, self.every_dxf):
            acts.addWidget(button)
        acts.addStretch(1)
        middle.addLayout(acts)
        top.addLayout(middle, 1)
        column.addLayout(top, 1)
        column.addLayout(self._forms())
        column.addWidget(faint_words("Notches for what passes are printed from Clearance. " + CAUTIONS[3]))
        bench.build.changed.connect(self.refresh)

    def _forms(self) -> QGridLayout:
        grid = QGridLayout()
        self.fields: dict[str, NumberField] = {}
        self.labels: list[Labeled] = []
        for row, (head, fields) in enumerate((("Tube end", _ENDS), ("Lug circle", _LUGS))):
            grid.addWidget(group_head(head), row, 0)
            for i, (name, title, kind, unit, _) in enumerate(fields):
                field = kind(self._bench, f"{head}: {title}", lambda value, name=name: self._set(name, value))  # type: ignore[call-arg, arg-type, misc]
                self.fields[name] = field
                self.labels.append(Labeled(self._bench, title, field, unit))
                grid.addWidget(self.labels[-1], row, i + 1)
        return grid

    def _set(self, name: str, value: float) -> None:
        before = dict(self.values)
        self.values[name] = value
        try:
            self._make()
        except InputError as error:
            self.values = before
            self._bench.refused.emit(str(error))
            return
        self._fill()
        row = len(self.templates) - (2 if name in [e[0] for e in _ENDS] else 1)
        self.list.setCurrentRow(row)
        self._show()

    def _make(self) -> None:
        """Make the templates of the two forms.

        Raises:
            InputError: what is typed gives none.
        """
        v, units = self.values, self._bench.job.units
        end = (
            saddle_template(v["tube"], v["other"], v["angle"], v["offset"], units)
            if v["other"] > 0.0
            else sawn_template(v["tube"], v["angle"], units)
        )
        old, new = (round(v[n]) for n in ("old", "new"))
        lugs = lug_template((old, v["old_circle"]), (new, v["new_circle"]), v["hole"], v["hub"], units)
        self._own = [end, lugs]

    # --- what is shown

    def refresh(self) -> None:
        """List the templates."""
        if not self.isVisible():
            return
        for labeled in self.labels:
            labeled.refresh_unit()
        for name, field in self.fields.items():
            if isinstance(field, LengthField):
                field.show_mm(self.values[name])
            else:
                field.show_value(self.values[name])
        self._make()
        self._fill()
        self._show()

    def _fill(self) -> None:
        study = self._bench.build.study
        self.templates = [*(study.plates if study is not None else ()), *self._own]
        names = [t.name for t in self.templates]
        if [self.list.item(i).text() for i in range(self.list.count())] == names:  # type: ignore[union-attr]
            return
        held = self.list.currentItem()
        text = "" if held is None else held.text()
        with blocked(self.list):
            self.list.clear()
            self.list.addItems(names)
            self.list.setCurrentRow(names.index(text) if text in names else 0)

    @property
    def picked(self) -> Template | None:
        """The template looked at."""
        row = self.list.currentRow()
        return self.templates[row] if 0 <= row < len(self.templates) else None

    def _show(self) -> None:
        template = self.picked
        for button in (self.pdf, self.dxf):
            button.setEnabled(template is not None)
        if template is None:
            return
        fresh = self._bench.build.up_to_date or template in self._own
        wrong = f" {template.wrong}" if template.wrong else ""
        self.note.setText(f"{template.note}.{wrong}" + ("" if fresh else " Being worked out…"))
        self.note.setProperty("role", "alarm" if wrong else "")
        style = self.note.style()
        if style is not None:
            style.polish(self.note)
        left, bottom, right, top = template.bounds
        self.sketch.show_shapes(_shapes(template, (0.0, 0.0)), (left - 12.0, right + 12.0, bottom - 12.0, top + 12.0))
        self.sketch.setAccessibleDescription(template.note)
        self._show_car(template)

    def _show_car(self, template: Template) -> None:
        bench = self._bench
        if template.view is None or template.origin is None:
            self.car.hide()
            return
        self.car.show()
        h, v = project(template.view, template.origin)
        left, bottom, right, top = template.bounds
        shapes = car_shapes(bench.job.vehicle, bench.studies.places(), template.view, bench.axle_key)
        reach = max(6.0 * max(right - left, top - bottom), 700.0)
        middle = (h + 0.5 * (left + right), v + 0.5 * (bottom + top))
        frame: Frame = (middle[0] - reach, middle[0] + reach, middle[1] - 0.8 * reach, middle[1] + 0.8 * reach)
        self.car.show_shapes([*shapes, *_shapes(template, (h, v), False)], frame)

    # --- out

    def _ask(self, kind: str) -> QFileDialog | None:
        template = self.picked
        if template is None:
            return None
        every = kind.startswith("all")
        name = "templates" if every else template.name.lower().replace(", ", "-").replace(" ", "-")
        suffix = "dxf" if kind.endswith("dxf") else "pdf"
        return ask_path(self, "Save", f"{name}.{suffix}", f"(*.{suffix})", lambda path: self.write(path, every))

    def write(self, path: Path, every: bool = False) -> None:
        """Write the template picked, or all of them, PDF or DXF by the ending of the file."""
        from even_stance.exchange.templates import templates_dxf, templates_pdf  # noqa: PLC0415 - paper is loaded late

        template, job = self.picked, self._bench.job
        if template is None:
            return
        if not self._bench.build.up_to_date and (every or template not in self._own):
            self._bench.refused.emit("The templates are being worked out for the car as it is now: print in a moment.")
            return
        study = self._bench.build.study
        plates = list(study.plates) if every and study is not None else [template]
        if path.suffix.lower() == ".dxf":
            save_made(self._bench, path, lambda: templates_dxf(job, plates))
        else:
            save_made(self._bench, path, lambda: templates_pdf(job, plates))

    def showEvent(self, _event: object) -> None:
        """Catch up with what changed while hidden."""
        self.refresh()


def _shapes(template: Template, at: Place, whole: bool = True) -> list[Shape]:
    """A template as shapes, moved to a place; on the car without its scribed lines."""
    h, v = at

    def moved(places: np.ndarray) -> tuple[Place, ...]:
        return tuple((float(x) + h, float(y) + v) for x, y in places)

    shapes: list[Shape] = [Area(moved(ring), "lower" if not whole else "thing") for ring in template.rings[:1]]
    shapes += [Area(moved(ring), "ghost") for ring in template.rings[1:]] if whole else []
    shapes += [Line(moved(mark), "thing-line") for mark in template.marks] if whole else []
    for x, y, d, what in template.holes:
        shapes.append(Round((x + h, y + v), 0.5 * d, "reference" if what == "old" else "mark"))
        if what and what != "old" and whole:
            shapes.append(Label((x + h + 0.5 * d, y + v + 0.5 * d), what, "mark"))
    return shapes
