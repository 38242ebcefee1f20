"""The layout chooser: every layout as a sketch on this very axle, and the lateral devices side by side."""

from collections.abc import Iterator
from functools import partial
from math import isfinite

from PyQt6.QtCore import QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QCheckBox, QGridLayout, QHBoxLayout, QLabel, QScrollArea, QVBoxLayout, QWidget

from even_stance.desktop.background import LateStudy
from even_stance.desktop.bench import Bench
from even_stance.desktop.bounds import bound
from even_stance.desktop.idlework import IdleWork
from even_stance.desktop.look import Look
from even_stance.desktop.widgets.choosable import Choosable
from even_stance.desktop.widgets.labels import plain_tip
from even_stance.desktop.widgets.painter import ScenePainter
from even_stance.desktop.widgets.schoolnote import SchoolButton
from even_stance.desktop.widgets.sketch import fitting
from even_stance.desktop.widgets.table import plain_table, set_text
from even_stance.judgement.catalog.laterals import compare_laterals
from even_stance.judgement.catalog.layouts import (
    BASES,
    LATERALS,
    BaseKey,
    LateralKey,
    Words,
    lateral_members,
    layout_members,
)
from even_stance.judgement.catalog.starter import with_lateral, with_layout
from even_stance.judgement.catalog.steerings import starting_steering
from even_stance.study.drawing import Joint, Path, Shape, View
from even_stance.study.floor import car_shapes
from even_stance.study.frame import view_frame
from even_stance.study.places import AxlePlace
from even_stance.units import format_length, length_unit
from even_stance.vehicle.car import Axle, Vehicle
from even_stance.vehicle.edits import Edit, set_steering, with_axle, with_changes
from even_stance.vehicle.job import Job

_COLUMNS = ("Device", "Roll center", "Its travel", "Sideways shift", "Joints", "Room: high x deep")


class Card(Choosable):
    """One choice: a sketch in plan view, what it is called, good and bad at."""

    chosen = pyqtSignal()

    def __init__(self, look: Look, words: Words) -> None:
        super().__init__()
        self._look, self._words = look, words
        self._shapes: list[Shape] = []
        self._frame = (0.0, 1.0, 0.0, 1.0)
        self.current = False
        self.setAccessibleName(f"{words.title}. {words.good} {words.bad}")
        self.setToolTip(plain_tip(f"{words.good} {words.bad}"))

    def sizeHint(self) -> QSize:
        """Room for the sketch beside three lines."""
        return QSize(self._look.px(250), self._look.px(124))

    def show_sketch(self, shapes: list[Shape], frame: tuple[float, float, float, float], current: bool) -> None:
        """Show the sketch of this choice on the axle looked at."""
        self._shapes = [s for s in shapes if not isinstance(s, Joint)]
        self._frame, self.current = frame, current
        self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Paint sketch and words."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        look, px = self._look, self._look.px
        painter.setBrush(look.color("sheet"))
        edge = "accent" if self.current or self.hasFocus() else "line"
        painter.setPen(QPen(look.color(edge), px(3) if self.current else px(2) if self.hasFocus() else 1))
        painter.drawRoundedRect(QRectF(self.rect()).adjusted(2, 2, -2, -2), px(5), px(5))
        picture = QRectF(px(6), px(6), px(92), self.height() - px(12))
        painter.save()
        painter.setClipRect(picture)
        ScenePainter(painter, fitting(self._frame, picture), look).paint(self._shapes)
        painter.restore()
        left, wide = px(104), self.width() - px(110)
        flags = int(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop | Qt.TextFlag.TextWordWrap)
        painter.setPen(look.color("ink"))
        painter.setFont(look.font(12, bold=True))
        box = painter.boundingRect(QRectF(left, px(6), wide, px(40)), flags, self._words.title)
        painter.drawText(QRectF(left, px(6), wide, px(40)), flags, self._words.title)
        painter.setFont(look.font(12))
        painter.setPen(look.color("faint"))
        rest = QRectF(left, box.bottom() + px(2), wide, self.height() - box.bottom() - px(4))
        painter.drawText(rest, flags, f"+ {self._words.good}\n– {self._words.bad}")

    def choose(self) -> None:
        """Tell that it was chosen."""
        self.chosen.emit()


class LayoutChooser(QScrollArea):
    """Cards for every layout and lateral device, and a table that compares the devices on this car."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench, self._look = bench, look
        self.sketches: IdleWork | None = None
        self.late = LateStudy(self)
        self.late.done.connect(self._compared)
        self._asked: tuple[Vehicle, str, str] | None = None
        self.setWidgetResizable(True)
        inner = QWidget()
        self.setWidget(inner)
        column = QVBoxLayout(inner)
        column.setContentsMargins(12, 8, 12, 8)
        self.bases = {key: Card(look, words) for key, words in BASES.items()}
        self.laterals = {key: Card(look, words) for key, words in LATERALS.items()}
        hint = "A click changes the layout; points that still make sense stay, and undo brings all of them back."
        column.addWidget(self._head("Layout", hint))
        self.steers = QCheckBox("with a steering that fits the links: the drag link laid anew for each layout")
        self.steers.setToolTip("The kind it has now, or a drag link across the car where it has none yet")
        column.addWidget(self.steers)
        self.fit = LateStudy(self)
        self.fit.done.connect(self._fitted)
        column.addLayout(self._cards(self.bases))
        head = QHBoxLayout()
        head.addWidget(self._head("Lateral device", "What holds the axle sideways."), 1)
        head.addWidget(SchoolButton(look, "lateral"))
        column.addLayout(head)
        column.addLayout(self._cards(self.laterals))
        column.addWidget(self._head("Side by side on this axle", "The other members as they are now."))
        self.table = plain_table(_COLUMNS, "Lateral devices compared")
        bound(self.table, look.percent, high=(230, None))
        column.addWidget(self.table)
        for base, card in self.bases.items():
            card.chosen.connect(partial(self._choose_base, base))
        for lateral, card in self.laterals.items():
            card.chosen.connect(partial(self._choose_lateral, lateral))

    def _head(self, title: str, words: str) -> QLabel:
        label = QLabel(f"<b>{title}</b>&nbsp;&nbsp; {words}")  # our own words, none of a person's
        label.setProperty("role", "faint")
        label.setWordWrap(True)
        return label

    def _cards(self, cards: dict[BaseKey, Card] | dict[LateralKey, Card]) -> QGridLayout:
        grid = QGridLayout()
        grid.setSpacing(4)
        for i, card in enumerate(cards.values()):
            grid.addWidget(card, i // 3, i % 3)
        return grid

    def _choose_base(self, base: BaseKey) -> None:
        key = self._bench.axle_key
        self._take(Edit(f"Layout: {BASES[base].title}", lambda job: with_layout(job, key, base)))

    def _choose_lateral(self, lateral: LateralKey) -> None:
        key = self._bench.axle_key
        self._take(Edit(LATERALS[lateral].title, lambda job: with_lateral(job, key, lateral)))

    def _take(self, edit: Edit) -> None:
        """Change the layout and, where asked for, have a steering fitted to it beside the window."""
        bench = self._bench
        if not bench.do(edit).done or not self.steers.isChecked() or not bench.axle.steered:
            return
        vehicle, axle = bench.job.vehicle, bench.axle
        kind = "crossover" if axle.steering is None else axle.steering.kind
        self.fit.ask(lambda: (axle, starting_steering(vehicle, axle, kind)))
        self.fit.start_now()

    def _fitted(self, found: object) -> None:
        """Put the steering on the axle it was fitted to; on another car than that it has no business."""
        if isinstance(found, tuple) and found[0] in self._bench.job.vehicle.axles:
            self._bench.do(set_steering(found[0].key, found[1]))

    def refresh(self) -> None:
        """Sketch every choice on the axle looked at, and have the lateral devices compared."""
        job, axle = self._bench.job, self._bench.axle
        self.steers.setVisible(axle.steered)
        asked = (job.vehicle, axle.key, job.units)
        if asked == self._asked:
            return
        self._asked = asked
        if self.sketches is not None:
            self.sketches.stop()
            self.sketches.deleteLater()
        self.sketches = IdleWork(self, self._sketch_all(job, axle), 0, 0)
        key = axle.key
        self.late.ask(lambda: compare_laterals(job, key) if axle.members else [])

    def _sketch_all(self, job: Job, axle: Axle) -> Iterator[None]:
        """Every choice on an axle of the job that was asked about, one a step: another may be on the bench by then."""
        frame = job.vehicle.frame
        kinds = {m.name for m in axle.members if m.role != "lateral"}
        side = {m.name for m in axle.members if m.role == "lateral"}
        for base, card in self.bases.items():
            members = layout_members(axle, frame, base)
            mine = {m.name for m in members if m.role != "lateral"} == kinds
            self._sketch(card, job, axle, members, mine and _alike(axle, members))
            yield
        for lateral, card in self.laterals.items():
            device = tuple(lateral_members(axle, frame, lateral))
            mine = {m.name for m in device} == side and _alike(axle, device)
            # A flat crank shows from above, all others from behind.
            self._sketch(card, job, axle, device, mine, "plan" if lateral == "watts_flat" else "rear")
            yield

    def _sketch(
        self, card: Card, job: Job, axle: Axle, members: tuple[object, ...], current: bool, view: View = "plan"
    ) -> None:  # fmt: skip
        key, steering = axle.key, axle.steering
        if steering is not None and steering.kind == "swing_beams":  # the beams make way for links
            steering = None
        tried = with_axle(job, with_changes(axle, members=members, steering=steering))
        places = [AxlePlace(a, None) for a in tried.vehicle.axles if a.key == key]
        shapes = [s for s in car_shapes(tried.vehicle, places, view, key) if not _frame_or_mark(s)]
        card.show_sketch(shapes, view_frame(tried.vehicle, tried.vehicle.axle(key), view, False), current)

    def _compared(self, found: object) -> None:
        units = self._bench.job.units
        rows = [f for f in found if f.held] if isinstance(found, list) else []
        self.table.setRowCount(len(rows))
        unit = length_unit(units)
        for i, f in enumerate(rows):
            set_text(self.table, i, 0, LATERALS[f.key].title, right=False)
            for column, mm in ((1, f.roll_center_mm), (2, f.roll_center_change_mm), (3, f.shift_mm)):
                # Where the linkage locks up on the way there is no such figure.
                set_text(self.table, i, column, f"{format_length(mm, units)} {unit}" if isfinite(mm) else "locks up")
            set_text(self.table, i, 4, str(f.joints))
            room = f"{format_length(f.height_mm, units)} x {format_length(f.length_mm, units)} {unit}"
            set_text(self.table, i, 5, room if f.joints else "none")


def _alike(axle: Axle, members: tuple[object, ...]) -> bool:
    """Whether members of these names stand on the same sides and cross as the present ones do."""
    present = {m.name: m for m in axle.members}
    for member in members:
        now = present.get(getattr(member, "name", ""))
        if now is None or type(now) is not type(member):
            return False
        for end, mount in now.mounts.items():
            y, wanted = mount.at.y, member.mounts[end].at.y
            if abs(y) > 20 and abs(wanted) > 20 and (y > 0) != (wanted > 0):
                return False
        if getattr(now, "crank_on", None) != getattr(member, "crank_on", None):
            return False
        if getattr(now, "crank_turns", None) != getattr(member, "crank_turns", None):
            return False
    return True


def _frame_or_mark(shape: Shape) -> bool:
    return getattr(shape, "style", "") in ("cg", "centerline") or (isinstance(shape, Path) and shape.style == "ground")
