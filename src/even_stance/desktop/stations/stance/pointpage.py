"""Ways to get a point: tapes from known points, an offset, along a link, the mirror image, or a file of points."""

from collections.abc import Iterator
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeySequence, QShortcut
from PyQt6.QtWidgets import (
    QApplication,
    QComboBox,
    QFileDialog,
    QGridLayout,
    QHBoxLayout,
    QInputDialog,
    QPushButton,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from even_stance.desktop.background import LongWork
from even_stance.desktop.bench import Bench
from even_stance.desktop.bounds import bound
from even_stance.desktop.look import Look
from even_stance.desktop.pages import SteppedPage
from even_stance.desktop.widgets.fields import DegreeField, Labeled, LengthField
from even_stance.desktop.widgets.labels import PlainLabel
from even_stance.desktop.widgets.signalblock import blocked
from even_stance.desktop.widgets.sketch import Sketch
from even_stance.errors import InputError, StanceError, UnitMissingError
from even_stance.shop.points import Found, Known, along_link, known_points, mirrored, offset_from, taped
from even_stance.study.drawing import Mark, Shape, project
from even_stance.study.drawing import Path as Line
from even_stance.study.floor import car_shapes
from even_stance.study.frame import view_frame
from even_stance.study.places import AxlePlace
from even_stance.units import format_length, length_unit
from even_stance.vehicle.edits import place_point
from even_stance.vehicle.measuring import TOOLS
from even_stance.vehicle.spots import Spot, mount_of

_TAPES = 6


_FROM_FILE = 4


def _clipboard() -> str:
    board = QApplication.clipboard()
    return "" if board is None else board.text()


class PointPage(SteppedPage):
    """One point at a time: which, how, and how well it is known."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench, self._look = bench, look
        self.found: Found | None = None
        self._from_file: list[Known] = []
        self._typed: dict[str, float] = {}

    def build(self) -> Iterator[None]:
        """Which point and how, a form for each way, and what came out."""
        bench, look = self._bench, self._look
        column = QVBoxLayout(self)
        column.setContentsMargins(12, 8, 12, 4)
        top = QHBoxLayout()
        self.target, self.way = QComboBox(), QComboBox()
        bound(self.target, look.percent, wide=(220, None))
        self.target.currentIndexChanged.connect(lambda _: self.work_out())
        for words in ("tapes from known points", "offset from a point", "along a link", "mirror image",
                      "from a file of points"):  # fmt: skip
            self.way.addItem(words)
        self.way.currentIndexChanged.connect(self._turn)
        top.addWidget(Labeled(bench, "Point to find", self.target), 3)
        top.addWidget(Labeled(bench, "How", self.way), 2)
        column.addLayout(top)
        body = QHBoxLayout()
        body.setSpacing(14)
        column.addLayout(body, 1)
        left = QVBoxLayout()
        body.addLayout(left, 4)
        self.forms = QStackedWidget()
        for form in (self._tape_form, self._offset_form, self._link_form, self._mirror_form, self._file_form):
            self.forms.addWidget(form())
            yield
        left.addWidget(self.forms)
        self.result = PlainLabel()
        self.result.setWordWrap(True)
        self.result.setProperty("role", "head")
        self.words = PlainLabel()
        self.words.setWordWrap(True)
        left.addWidget(self.result)
        left.addWidget(self.words)
        self.put = QPushButton("Put the point there")
        self.put.setProperty("main", "true")
        self.put.clicked.connect(self.put_there)
        left.addWidget(self.put)
        left.addStretch(1)
        self.picture = Sketch(look, "Where the point is")
        body.addWidget(self.picture, 4)

    # --- the forms

    def _known_box(self, name: str) -> QComboBox:
        box = QComboBox()
        box.setAccessibleName(name)
        box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        box.setMinimumContentsLength(16)
        box.currentIndexChanged.connect(lambda _: self.work_out())
        return box

    def _length(self, key: str, title: str) -> LengthField:
        return LengthField(self._bench, title, lambda mm: self._keep(key, mm))

    def _keep(self, key: str, value: float) -> None:
        self._typed[key] = value
        self.work_out()

    def _tape_form(self) -> QWidget:
        form = QWidget()
        grid = QGridLayout(form)
        grid.setContentsMargins(0, 0, 0, 0)
        for i, words in enumerate(("Known point", "Tape shows", "Off by")):
            head = PlainLabel(words)
            head.setProperty("role", "faint")
            grid.addWidget(head, 0, i)
        self.marks = [self._known_box(f"Known point {i + 1}") for i in range(_TAPES)]
        self.tapes = [self._length(f"tape{i}", f"Tape {i + 1}") for i in range(_TAPES)]
        self.offs = [PlainLabel() for _ in range(_TAPES)]
        grid.setColumnStretch(0, 8)
        grid.setColumnStretch(1, 4)
        grid.setColumnStretch(2, 2)
        for i in range(_TAPES):
            grid.addWidget(self.marks[i], i + 1, 0)
            grid.addWidget(self.tapes[i], i + 1, 1)
            grid.addWidget(self.offs[i], i + 1, 2)
        return form

    def _offset_form(self) -> QWidget:
        form = QWidget()
        grid = QGridLayout(form)
        grid.setContentsMargins(0, 0, 0, 0)
        self.base = self._known_box("Offset from")
        grid.addWidget(Labeled(self._bench, "From", self.base), 0, 0, 1, 3)
        self.offsets = {key: self._length(key, title) for key, title in (
            ("ahead", "Ahead of it"), ("left", "To its left"), ("up", "Above it"))}  # fmt: skip
        for i, field in enumerate(self.offsets.values()):
            grid.addWidget(Labeled(self._bench, field.name, field, "length"), 1, i)
        grid.setRowStretch(2, 1)
        return form

    def _link_form(self) -> QWidget:
        form = QWidget()
        grid = QGridLayout(form)
        grid.setContentsMargins(0, 0, 0, 0)
        self.end, self.side = self._known_box("Known end"), QComboBox()
        self.side.addItem("the other end is ahead of it", True)
        self.side.addItem("the other end is behind it", False)
        self.side.currentIndexChanged.connect(lambda _: self.work_out())
        grid.addWidget(Labeled(self._bench, "Known end of the link", self.end), 0, 0, 1, 3)
        grid.addWidget(Labeled(self._bench, "Which way", self.side), 1, 0, 1, 3)
        self.link = self._length("link", "Length, joint to joint")
        self.rise = DegreeField(self._bench, "Rises toward it", lambda v: self._keep("rise", v))
        self.turn = DegreeField(self._bench, "Turns to the left", lambda v: self._keep("turn", v))
        for i, (field, kind) in enumerate(((self.link, "length"), (self.rise, "deg"), (self.turn, "deg"))):
            grid.addWidget(Labeled(self._bench, field.name, field, kind), 2, i)
        grid.setRowStretch(3, 1)
        return form

    def _mirror_form(self) -> QWidget:
        form = QWidget()
        column = QVBoxLayout(form)
        column.setContentsMargins(0, 0, 0, 0)
        self.mirror = self._known_box("Mirror image of")
        column.addWidget(Labeled(self._bench, "The same point on the other side", self.mirror))
        column.addStretch(1)
        return form

    def _file_form(self) -> QWidget:
        form = QWidget()
        column = QVBoxLayout(form)
        column.setContentsMargins(0, 0, 0, 0)
        hint = PlainLabel(
            "CSV with the columns name, ahead, left, up (units in the header, as in “ahead_mm” or “up_in”; ahead of "
            "the front axle), or the points of a DXF drawing with x ahead, y left, z up."
        )
        hint.setWordWrap(True)
        hint.setProperty("role", "faint")
        self.reading = LongWork(self)
        self.reading.done.connect(self._opened)
        self.open = QPushButton("Open a file of points…")
        self.open.clicked.connect(self.ask_file)
        self.filed = self._known_box("Point of the file")
        column.addWidget(hint)
        self.paste = QPushButton("Paste points (Ctrl+V)")
        self.paste.setToolTip("Points copied as text: from a table here, a spreadsheet or a message")
        self.paste.clicked.connect(lambda _=False: self.take_text(_clipboard()))
        shortcut = QShortcut(QKeySequence(QKeySequence.StandardKey.Paste), form)
        shortcut.setContext(Qt.ShortcutContext.WidgetWithChildrenShortcut)
        shortcut.activated.connect(lambda: self.take_text(_clipboard()))
        column.addWidget(self.open)
        column.addWidget(self.paste)
        column.addWidget(Labeled(self._bench, "Point of the file", self.filed))
        column.addStretch(1)
        return form

    def ask_file(self) -> QFileDialog:
        """Ask for a file of points."""
        dialog = QFileDialog(self, "Open points", "", "Points (*.csv *.dxf)")
        dialog.setFileMode(QFileDialog.FileMode.ExistingFile)
        dialog.fileSelected.connect(self.open_file)
        dialog.open()
        return dialog

    def open_file(self, name: str, unit: str = "") -> None:
        """Read a file of points, beside the window; ask for its unit where it does not say."""

        def work(_progress: object, _stopped: object) -> object:
            from even_stance.exchange.points import read_points  # noqa: PLC0415 - loaded when first asked for

            try:
                return read_points(Path(name), unit)
            except UnitMissingError:
                return lambda picked: self.open_file(name, picked)

        self.reading.start(work)

    def show_file(self, file: Path) -> None:
        """Turn to the points of a file."""
        self.way.setCurrentIndex(_FROM_FILE)
        self.open_file(str(file))

    def take_text(self, text: str, unit: str = "") -> None:
        """Take points that were copied as text; ask for their unit where it does not say."""
        from even_stance.exchange.points import points_of_text  # noqa: PLC0415 - loaded when first asked for

        try:
            self._opened(points_of_text(text, unit))
        except UnitMissingError:
            self._opened(lambda picked: self.take_text(text, picked))
        except StanceError as error:
            self._bench.refused.emit(str(error))

    def _opened(self, found: object) -> None:
        """Offer the points that were read, ask for their unit, or say why there are none.

        Args:
            found: the points, a function that reads them again in a unit, or the sentence why they cannot be read.
        """
        if callable(found):
            from even_stance.exchange.points import UNITS  # noqa: PLC0415 - loaded when first asked for

            dialog = self.dialog = QInputDialog(self)
            dialog.setWindowTitle("Unit")
            dialog.setLabelText("What unit are the figures in? Nothing says so.")
            dialog.setComboBoxItems(list(UNITS))
            dialog.textValueSelected.connect(found)
            dialog.open()
            return
        if not isinstance(found, list):
            self._bench.refused.emit(str(found))
            return
        self._from_file = found
        with blocked(self.filed):
            self.filed.clear()
            self.filed.addItems([k.name for k in self._from_file])
        self.work_out()

    def _turn(self, way: int) -> None:
        self.forms.setCurrentIndex(way)
        self.work_out()

    # --- working out

    @property
    def spot(self) -> Spot | None:
        """The point that is looked for."""
        spot = self.target.currentData()
        return spot if isinstance(spot, Spot) else None

    def work_out(self) -> None:
        """Find the point from what is entered so far; what is missing or cannot be is said."""
        self.found = None
        for label in self.offs:
            label.setText("")
        problem = ""
        try:
            self.found = self._find()
        except InputError as error:
            problem = str(error)
        self._say(problem)
        self._draw()

    def _find(self) -> Found | None:
        spot, typed, known = self.spot, self._typed, known_points(self._bench.job.vehicle)
        if spot is None:
            return None
        sure, angle = TOOLS["tape"].sure("length"), TOOLS["angle_finder"].sure("angle")
        way, found = self.way.currentIndex(), None
        if way == 0:
            pairs = [
                (known[box.currentIndex()], typed[f"tape{i}"])
                for i, box in enumerate(self.marks)
                if f"tape{i}" in typed and box.currentIndex() >= 0
            ]
            if len(pairs) >= 3:
                near = mount_of(self._bench.job, spot).at
                found = taped([k for k, _ in pairs], [d for _, d in pairs], near, sure, self._bench.job.units)
        elif way == 1 and {"ahead", "left", "up"} <= set(typed):
            base = known[self.base.currentIndex()]
            found = offset_from(base, typed["ahead"], typed["left"], typed["up"], sure)
        elif way == 2 and {"link", "rise"} <= set(typed):
            end, ahead = known[self.end.currentIndex()], bool(self.side.currentData())
            found = along_link(end, typed["link"], typed["rise"], typed.get("turn", 0.0), ahead, sure, angle)
        elif way == 3:
            found = mirrored(known[self.mirror.currentIndex()])
        elif way == 4 and self._from_file:
            point = self._from_file[max(self.filed.currentIndex(), 0)]
            found = Found(point.point, f"{point.name}, from the file.")
        return found

    def _say(self, problem: str) -> None:
        units, spot = self._bench.job.units, self.spot
        self.put.setEnabled(self.found is not None)
        self.words.setProperty("role", "alarm" if problem else "")
        style = self.words.style()
        if style is not None:
            style.polish(self.words)
        if self.found is None or spot is None:
            self.result.setText("")
            left = "Enter three tapes or more." if self.way.currentIndex() == 0 else "Fill in the fields."
            self.words.setText(problem or left)
            return
        p, unit = self.found.point, length_unit(units)
        ahead = p.x + self._bench.job.vehicle.axle(spot.axle).behind_front_mm
        way = "ahead of" if ahead >= 0 else "behind"
        side = "left" if p.y >= 0 else "right"
        self.result.setText(
            f"{format_length(abs(ahead), units)} {way} the {spot.axle} axle, {format_length(abs(p.y), units)} {side}, "
            f"{format_length(p.z, units)} {unit} up"
        )
        now = mount_of(self._bench.job, spot).at
        moved = sum((a - b) ** 2 for a, b in zip(p.xyz, now.xyz, strict=True)) ** 0.5
        self.words.setText(
            f"{self.found.words} Known to ± {format_length(p.sure, units)} {unit}; "
            f"{format_length(moved, units)} {unit} from where the job has it."
        )
        filled = [i for i in range(_TAPES) if f"tape{i}" in self._typed]
        for i, off in zip(filled, self.found.residual_mm, strict=False):
            mark = " ← again" if self.found.suspect == filled.index(i) else ""
            self.offs[i].setText(f"{format_length(off, units)}{mark}")

    def _draw(self) -> None:
        vehicle, spot = self._bench.job.vehicle, self.spot
        if spot is None:
            return
        axle = vehicle.axle(spot.axle)
        shapes: list[Shape] = car_shapes(vehicle, [AxlePlace(a, None) for a in vehicle.axles], "side", axle.key)
        at = mount_of(self._bench.job, spot).at.xyz
        shapes.append(Mark(project("side", at), "cross", "reference", "" if self.found else "now"))
        if self.found is not None:
            place = project("side", self.found.point.xyz)
            shapes += [Line((project("side", at), place), "exact"), Mark(place, "cross", "exact", spot.words)]
        self.picture.show_shapes(shapes, view_frame(vehicle, axle, "side", False))

    def put_there(self) -> None:
        """Put the point where it was found."""
        if self.found is not None and self.spot is not None:
            self._bench.do(place_point(self.spot, self.found.point))

    def refresh(self) -> None:
        """Show the points of the job."""
        job = self._bench.job
        spots = [Spot(a.key, m.name, end) for a in job.vehicle.axles for m in a.members for end in m.mounts]
        names = [k.name for k in known_points(job.vehicle)]
        if [self.target.itemData(i) for i in range(self.target.count())] != spots:
            with blocked(self.target):
                self.target.clear()
                for spot in spots:
                    self.target.addItem(f"{spot.axle}: {spot.words}", spot)
        for i, box in enumerate((*self.marks, self.base, self.end, self.mirror)):
            if [box.itemText(k) for k in range(box.count())] != names:
                now = box.currentIndex()
                with blocked(box):
                    box.clear()
                    box.addItems(names)
                    box.setCurrentIndex(now if 0 <= now < len(names) else min(i, len(names) - 1))
        for labeled in self.findChildren(Labeled):
            labeled.refresh_unit()
        self.work_out()
