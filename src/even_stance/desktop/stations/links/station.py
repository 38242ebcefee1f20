"""The Links station: the point held, in figures, above the floor."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QHBoxLayout,
    QMenu,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from even_stance.desktop.background import LateStudy
from even_stance.desktop.bench import Bench
from even_stance.desktop.floor import Floor, all_spots, step_hole
from even_stance.desktop.look import Look
from even_stance.desktop.pages import Pages, Scrolled
from even_stance.desktop.stations.links.layouts import LayoutChooser
from even_stance.desktop.stations.links.linktable import LinkTable
from even_stance.desktop.stations.links.loadsheet import LoadSheet
from even_stance.desktop.stations.links.solvepage import SolvePage
from even_stance.desktop.stations.links.variantpage import VariantPage
from even_stance.desktop.whystrip import WhyStrip
from even_stance.desktop.widgets.blocking import blocked
from even_stance.desktop.widgets.fields import Labeled, LengthField
from even_stance.desktop.widgets.labels import FittedWords, Words, plain_tip
from even_stance.judgement.bands import ARTICULATION_DEG
from even_stance.judgement.schools import link_schools
from even_stance.judgement.verdicts import bind_words
from even_stance.study.bind import Bind, study_bind
from even_stance.study.figures import layout_figures
from even_stance.units import format_length, length_unit
from even_stance.vehicle.car import Axle
from even_stance.vehicle.edits import move_to, set_holes, set_joint, set_mount, set_sure
from even_stance.vehicle.members import JOINT_TYPES, BoltDirection, JointKind
from even_stance.vehicle.spots import mount_of

FLOOR, TABLE, LOADS, LAYOUT, VARIANTS, HOLES, SOLVE = range(7)


class PointStrip(QWidget):
    """The point held: where it is, which hole, how sure, and which way its bolt points."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench, self._look = bench, look
        self.setObjectName("strip")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        row = QHBoxLayout(self)
        row.setContentsMargins(10, 5, 10, 6)
        row.setSpacing(8)
        self.which = QComboBox()
        self.which.setAccessibleName("Point")
        self.which.setMinimumWidth(look.px(70))
        self.which.activated.connect(lambda i: bench.select_spot(all_spots(bench)[i]))
        self.ahead = LengthField(bench, "Ahead of this axle", lambda v: self._move(0, v))
        self.out = LengthField(bench, "Left of centerline", lambda v: self._move(1, v))
        self.up = LengthField(bench, "Above ground", lambda v: self._move(2, v))
        self.sure = LengthField(bench, "Measured to +/-", self._set_sure)
        self.labels = [
            Labeled(bench, title, field, kind)
            for title, field, kind in (
                ("Point", self.which, ""), ("Ahead", self.ahead, "length"), ("Left", self.out, "length"),
                ("Up", self.up, "length"), ("±", self.sure, "length"),
            )
        ]  # fmt: skip
        for labeled, stretch in zip(self.labels, (3, 2, 2, 2, 1), strict=True):
            row.addWidget(labeled, stretch)
        self.hole = Words()
        self.hole.setProperty("role", "faint")
        self.hole_down = QToolButton()
        self.hole_down.setText("▾")
        self.hole_down.setAccessibleName("One hole down")
        self.hole_up = QToolButton()
        self.hole_up.setText("▴")
        self.hole_up.setAccessibleName("One hole up")
        self.hole_down.clicked.connect(lambda: self._step(-1))
        self.hole_up.clicked.connect(lambda: self._step(1))
        holes = QVBoxLayout()
        holes.setSpacing(1)
        holes.addWidget(self.hole)
        buttons = QHBoxLayout()
        buttons.setSpacing(3)
        buttons.addWidget(self.hole_down)
        buttons.addWidget(self.hole_up)
        holes.addLayout(buttons)
        row.addLayout(holes)
        self.more = QToolButton()
        self.more.setText("Bracket…")
        self.more.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        self.more.setMenu(self._bracket_menu())
        last = QVBoxLayout()
        last.setSpacing(1)
        self.both = QCheckBox("both")
        self.both.setChecked(True)
        self.both.setToolTip("Both sides: the other side of the car goes along, as in a mirror")
        self.both.setAccessibleName("Both sides of the car")
        self.both.toggled.connect(self._set_both)
        last.addWidget(self.both)
        last.addWidget(self.more)
        row.addLayout(last)

    def _bracket_menu(self) -> QMenu:
        menu = QMenu(self)
        for count in (1, 2, 3, 4, 5):
            words = "No other holes" if count == 1 else f"{count} holes, 1 in apart"
            action = menu.addAction(words)
            assert action is not None
            action.triggered.connect(lambda _=False, n=count: self._drill(n))
        menu.addSeparator()
        bolts: tuple[tuple[str, BoltDirection], ...] = (
            ("Bolt square to the link", "square"), ("Bolt across the car", "across"),
            ("Bolt along the car", "along"), ("Bolt upright", "upright"),
        )  # fmt: skip
        for words, bolt in bolts:
            action = menu.addAction(words)
            assert action is not None
            action.triggered.connect(lambda _=False, b=bolt: self._set_mount(bolt=b))
        menu.addSeparator()
        for kind, joint in JOINT_TYPES.items():
            action = menu.addAction(joint.words.capitalize())
            assert action is not None
            action.triggered.connect(lambda _=False, k=kind: self._set_joint(k))
        return menu

    def _step(self, step: int) -> None:
        if self._bench.spot is not None:
            step_hole(self._bench, self._bench.spot, step)

    def _drill(self, count: int) -> None:
        if self._bench.spot is not None:
            self._bench.do(set_holes(self._bench.spot, count, 25.4, self._bench.both_sides))

    def _set_mount(self, **changes: object) -> None:
        if self._bench.spot is not None:
            self._bench.do(set_mount(self._bench.spot, self._bench.both_sides, **changes))

    def _set_joint(self, kind: JointKind) -> None:
        if self._bench.spot is not None:
            self._bench.do(set_joint(self._bench.spot, kind, self._bench.both_sides))

    def _set_sure(self, mm: float) -> None:
        if self._bench.spot is not None:
            self._bench.do(set_sure(self._bench.spot, mm, self._bench.both_sides))

    def _set_both(self, on: bool) -> None:
        self._bench.both_sides = on

    def _move(self, coordinate: int, mm: float) -> None:
        bench = self._bench
        if bench.spot is None:
            bench.refused.emit("No point is held: choose one in the list or on the floor first.")
            return
        x, y, z = mount_of(bench.job, bench.spot).at.xyz
        if coordinate == 0:
            x = mm - bench.axle.behind_front_mm
        elif coordinate == 1:
            y = mm
        else:
            z = mm
        bench.do(move_to(bench.job, bench.spot, x, y, z, bench.both_sides))

    def refresh(self) -> None:
        """Show the point held."""
        bench, spots = self._bench, all_spots(self._bench)
        with blocked(self.which):
            words = [s.words for s in spots]
            if [self.which.itemText(i) for i in range(self.which.count())] != words:
                self.which.clear()
                self.which.addItems(words)
            self.which.setCurrentIndex(spots.index(bench.spot) if bench.spot in spots else -1)
            self.which.setPlaceholderText("pick a point")
        spot = bench.spot
        for widget in (self.ahead, self.out, self.up, self.sure, self.more):
            widget.setEnabled(spot is not None)
        for labeled in self.labels:
            labeled.refresh_unit()
        # Very large type leaves no room for the +/-: it stands in the point's tip then.
        self.labels[-1].setVisible(self._look.percent < 175)
        if spot is None:
            for field in (self.ahead, self.out, self.up, self.sure):
                field.show_mm(None)
            self.hole.setText("no point held")
            self.hole_down.setEnabled(False)
            self.hole_up.setEnabled(False)
            return
        mount = mount_of(bench.job, spot)
        self.which.setToolTip(plain_tip(f"{spot.words}, known to +/- {format_length(mount.at.sure, bench.job.units)}"))
        self.ahead.show_mm(mount.at.x + bench.axle.behind_front_mm)
        self.out.show_mm(mount.at.y)
        self.up.show_mm(mount.at.z)
        self.sure.show_mm(mount.at.sure)
        count = len(mount.holes)
        self.hole.setText("one place" if mount.hole is None else f"hole {mount.hole + 1} of {count}")
        self.hole_down.setEnabled(mount.hole is not None and mount.hole > 0)
        self.hole_up.setEnabled(mount.hole is not None and mount.hole < count - 1)


class LinksStation(QWidget):
    """Pages on one axle: the floor with the point strip, the link table, the loads, and the layout chooser."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench, self._look = bench, look
        self.strip = PointStrip(bench, look)
        self.floor = Floor(bench, look)
        self.table = LinkTable(bench, look)
        self.sheet = LoadSheet(bench)
        self.chooser = LayoutChooser(bench, look)
        self.why = WhyStrip(bench, look)

        def floor() -> QWidget:
            page = QWidget()
            inner = QVBoxLayout(page)
            inner.setContentsMargins(0, 0, 0, 0)
            inner.setSpacing(0)
            inner.addWidget(self.floor, 1)
            inner.addWidget(self.why)
            return page

        def holes() -> QWidget:
            # Charts are the heaviest import: they come when first asked for.
            from even_stance.desktop.stations.links.holepage import HolePage  # noqa: PLC0415

            return HolePage(bench, look)

        self.pages = Pages(
            (("Floor", floor), ("Table", lambda: self.table), ("Loads", lambda: self.sheet),
             ("Layout", lambda: self.chooser), ("Variants", lambda: Scrolled(VariantPage(bench, look))),
             ("Holes", holes), ("Solve", lambda: Scrolled(SolvePage(bench, look))))
        )  # fmt: skip
        self.words = FittedWords()
        self.pages.foot.addWidget(self.words, 1)
        self.bind = LateStudy(self)
        self.bind.done.connect(self._bound)
        self._bind_words = ""
        self._bind_of: tuple[Axle, str] | None = None
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.strip)
        column.addWidget(self.pages, 1)
        self.pages.turn_to(0)
        self.pages.turned.append(lambda page: self.strip.setVisible(page == 0))
        bench.job_changed.connect(self.refresh)
        bench.selection_changed.connect(self.refresh)

    def turn_to(self, page: int) -> None:
        """Show one of the pages."""
        self.pages.turn_to(page)

    def showEvent(self, _event: object) -> None:
        """Catch up with what changed while hidden."""
        self.refresh()

    def _bound(self, found: object) -> None:
        if isinstance(found, Bind):
            self._bind_words = bind_words(found, self._bench.job.units)
            self._say()

    def _ask_bind(self) -> None:
        bench = self._bench
        study, axle, vehicle = bench.study(bench.axle_key), bench.axle, bench.job.vehicle
        if study is None or (axle, bench.job.purpose) == self._bind_of:
            return
        self._bind_of, self._bind_words = (axle, bench.job.purpose), ""
        now, wanted_deg = study.now, ARTICULATION_DEG[bench.job.purpose]
        self.bind.ask(lambda: study_bind(vehicle, axle, now, wanted_deg))

    def refresh(self) -> None:
        """Show point, page and layout."""
        if not self.isVisible():
            return
        self.strip.refresh()
        self.why.refresh()
        if self.pages.current:  # the floor listens for itself
            self.pages.refresh()
        self._ask_bind()
        self._say()

    def _say(self) -> None:
        bench, units = self._bench, self._bench.job.units
        error = bench.layout_error(bench.axle_key)
        if not bench.axle.members:
            error = f"No links on the {bench.axle_key} axle yet: choose a layout."
        if error is not None:
            self.words.say([error])
            self.words.setToolTip(plain_tip(error))
            return
        figures = layout_figures(bench.axle)
        parts = [self._bind_words] if self._bind_words else []
        if figures.upper_included_deg is not None:
            parts.append(f"uppers {figures.upper_included_deg:.1f}° included")
        if figures.length_ratio is not None:
            parts.append(f"uppers {100 * figures.length_ratio:.0f} % as long")
        if figures.separation_mm is not None:
            parts.append(f"{format_length(figures.separation_mm, units)} {length_unit(units)} apart")
        self.words.say(parts)
        if not bench.on_its_way:
            self.words.setToolTip(plain_tip("\n".join([*parts, *link_schools(bench.job, bench.axle)])))
