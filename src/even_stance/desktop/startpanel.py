"""The first thing seen: three ways to begin, and what was worked on last."""

from collections.abc import Callable, Sequence
from functools import partial
from pathlib import Path

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QPushButton, QSizePolicy, QVBoxLayout, QWidget

from even_stance.desktop.bounds import bound
from even_stance.desktop.look import Look
from even_stance.desktop.widgets.labels import PlainLabel, faint_words, plain_tip
from even_stance.desktop.widgets.sketch import Sketch
from even_stance.exchange.demo import demo_job, demo_names
from even_stance.judgement.findings import CAUTIONS
from even_stance.study.floor import car_shapes
from even_stance.study.frame import view_frame
from even_stance.study.places import study_places

_WAYS = (
    ("new", "Begin a job", "Name, wheelbase, track, tires and a layout: a linkage to make your own, already judged."),
    ("measure", "Measure a car first", "The measuring sheet tells what to tape next; the linkage grows from it."),
    ("demo", "Look at a finished car", "Five made-up builds, each with everything filled in. Nothing can be broken."),
)
_RECENT = 6


class StartPanel(QWidget):
    """Ways to begin.

    Signals:
        chosen: "new", "measure", "open" or "practice"; demo: which demo job; recent: which file.
    """

    chosen = pyqtSignal(str)
    demo = pyqtSignal(int)
    recent = pyqtSignal(object)

    def __init__(self, look: Look) -> None:
        super().__init__()
        self._look = look
        outer = QHBoxLayout(self)
        outer.addStretch(1)
        column = QVBoxLayout()
        column.setSpacing(10)
        outer.addLayout(column, 6)
        outer.addStretch(1)
        self.picture = Sketch(look, "A made-up car on its links")
        bound(self.picture, look.percent, high=(150, None))
        column.addWidget(self.picture, 3)
        self._drawn = False
        head = PlainLabel("Even Stance")
        head.setProperty("role", "head")
        column.addWidget(head)
        column.addWidget(PlainLabel("Solid axles on links: measured, judged, cut once."))
        grid = QGridLayout()
        grid.setSpacing(10)
        self.ways: dict[str, QPushButton] = {}
        for i, (key, title, words) in enumerate(_WAYS):
            button = QPushButton(title)
            button.setProperty("main", "true" if key == "new" else "false")
            bound(button, look.percent, high=(48, None))
            button.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Fixed)
            button.setAccessibleDescription(words)
            said = faint_words(words)
            said.setWordWrap(True)
            grid.addWidget(button, i, 0)
            grid.addWidget(said, i, 1)
            self.ways[key] = button
        grid.setColumnStretch(1, 1)
        column.addLayout(grid)
        self.ways["new"].clicked.connect(lambda _=False: self.chosen.emit("new"))
        self.ways["measure"].clicked.connect(lambda _=False: self.chosen.emit("measure"))
        self.ways["demo"].clicked.connect(lambda _=False: self.demo.emit(0))
        names = QHBoxLayout()
        self.demos = [self._small(names, name, partial(self.demo.emit, i)) for i, name in enumerate(demo_names())]
        names.addStretch(1)
        grid.addLayout(names, len(_WAYS), 1)
        column.addLayout(self._others())
        self._recent_head = faint_words("Worked on last")
        column.addWidget(self._recent_head)
        self._recent_place = QVBoxLayout()
        self._recent_place.setSpacing(2)
        column.addLayout(self._recent_place)
        self.files: list[QPushButton] = []
        column.addStretch(1)
        column.addWidget(faint_words(CAUTIONS[0]))

    def _others(self) -> QHBoxLayout:
        last = QHBoxLayout()
        self.open = self._small(last, "Open a job file…", lambda: self.chosen.emit("open"))
        self.practice = self._small(last, "Practice on a car with hidden faults", lambda: self.chosen.emit("practice"))
        last.addStretch(1)
        return last

    def showEvent(self, _event: object) -> None:
        """The whole of a car from its left, drawn when it is first seen: what this program is about, at a glance."""
        if self._drawn:
            return
        self._drawn, vehicle = True, demo_job(0).vehicle
        rear = vehicle.axles[-1]
        shapes = car_shapes(vehicle, study_places(vehicle), "side", rear.key)
        self.picture.show_shapes(shapes, view_frame(vehicle, rear, "side", True))

    @staticmethod
    def _small(row: QHBoxLayout, title: str, do: Callable[[], object]) -> QPushButton:
        button = QPushButton(title)
        button.clicked.connect(lambda _=False: do())
        row.addWidget(button)
        return button

    def show_recent(self, files: Sequence[Path]) -> None:
        """Offer the files worked on last."""
        for button in self.files:
            self._recent_place.removeWidget(button)
            button.hide()
            button.deleteLater()
        self.files = []
        self._recent_head.setVisible(bool(files))
        for file in files[:_RECENT]:
            row = QPushButton(f"{file.stem}   in {file.parent.name or file.parent}")
            row.setProperty("quiet", "true")
            row.setToolTip(plain_tip(str(file)))
            row.clicked.connect(lambda _=False, file=file: self.recent.emit(file))
            self._recent_place.addWidget(row, 0, Qt.AlignmentFlag.AlignLeft)
            self.files.append(row)
