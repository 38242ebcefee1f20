"""The point held, in figures, in one row above the drawing."""

from PyQt6.QtGui import QFontMetrics
from PyQt6.QtWidgets import QCheckBox, QComboBox, QHBoxLayout, QMenu, QToolButton, QVBoxLayout, QWidget

from even_stance.desktop.bench import Bench
from even_stance.desktop.bounds import bound
from even_stance.desktop.bracketslip import BracketSlip
from even_stance.desktop.holding import held_spots, step_hole
from even_stance.desktop.look import Look
from even_stance.desktop.widgets.fields import Labeled, LengthField
from even_stance.desktop.widgets.labels import PlainLabel, plain_tip
from even_stance.desktop.widgets.signalblock import blocked
from even_stance.judgement.known import KNOWN_WORDS, guessed_spots, how_known
from even_stance.judgement.search.keeping import can_keep
from even_stance.units import format_length
from even_stance.vehicle.edits import ARMS, move_to, set_holes, set_joint, set_known, set_mount, set_sure
from even_stance.vehicle.members import JOINT_TYPES, BoltDirection, JointKind
from even_stance.vehicle.records import HowKnown
from even_stance.vehicle.spots import Spot, hole_name, holes_of, point_of

KNOWN_MENU: dict[HowKnown, str] = {
    "taped": "Taped as found", "built": "Taped as built", "derived": "Worked out from what was taped",
    "typed": "Typed: it is to be built there", "guessed": "A guess: ± 1 in or more",
}  # fmt: skip
HOW_KNOWN = tuple(KNOWN_MENU)


class PointBar(QWidget):
    """The point held: where it is, which hole, how sure, and which way its bolt points."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench, self._look = bench, look
        self.setObjectName("strip")
        row = QHBoxLayout(self)
        row.setContentsMargins(10, 5, 10, 6)
        row.setSpacing(8)
        self.which = QComboBox()
        self.which.setAccessibleName("Point")
        bound(self.which, look.percent, wide=(70, None))
        self.which.activated.connect(lambda i: bench.select_spot(held_spots(bench)[i]))
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
        self.labels[1].label.setToolTip("Counted from the axle looked at: what is behind it is minus")
        self.labels[2].label.setToolTip("Counted from the centerline: what is right of it is minus")
        for labeled, stretch in zip(self.labels, (3, 2, 2, 2, 1), strict=True):
            row.addWidget(labeled, stretch)
        self.hole = PlainLabel()
        self.hole.setProperty("role", "faint")
        self.hole_down = QToolButton()
        self.hole_down.setText("▾")
        self.hole_down.setAccessibleName("One hole down")
        self.hole_up = QToolButton()
        self.hole_down.setToolTip("The next hole down (Page Down)")
        self.hole_up.setToolTip("The next hole up (Page Up)")
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
        row.addLayout(self._last())

    def _last(self) -> QVBoxLayout:
        """Both sides or one, and what else a bracket has."""
        self.more = QToolButton()
        self.more.setText("Bracket…")
        self.more.setAccessibleName("Bracket and joint")
        self.more.setToolTip("Holes, bolt and joint of the bracket")
        self.more.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        self.more.setMenu(self._bracket_menu())
        self.keep = QToolButton()
        self.keep.setAccessibleName("Keep a number while the point moves")
        self.keep.setToolTip(
            "A number that stays as it is: the point, dragged or nudged, then goes only where it stays.\n"
            "What is typed goes where it was typed."
        )
        self.keep.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        self.keeps = QMenu(self)
        self.keeps.aboutToShow.connect(self._fill_keeps)
        self.keep.setMenu(self.keeps)
        last = QVBoxLayout()
        last.setSpacing(1)
        self.both = QCheckBox("both")
        self.both.setChecked(True)
        self.both.setToolTip("Both sides: the other side of the car goes along, as in a mirror")
        self.both.setAccessibleName("Both sides of the car")
        self.both.toggled.connect(self._set_both)
        upper = QHBoxLayout()
        upper.setSpacing(8)
        upper.addWidget(self.both)
        upper.addWidget(self.keep)
        last.addLayout(upper)
        last.addWidget(self.more)
        return last

    def _fill_keeps(self) -> None:
        """What can be kept while the point held moves."""
        bench, menu = self._bench, self.keeps
        menu.clear()
        for name, title in {"": "Nothing: it moves freely", **can_keep(bench.job, bench.axle_key)}.items():
            action = menu.addAction(title)
            assert action is not None
            action.setCheckable(True)
            action.setChecked(name == bench.look_at.keep)
            action.triggered.connect(lambda _=False, n=name: self._keep(n))

    def _keep(self, name: str) -> None:
        self._bench.look_at.keep = name
        self.refresh()

    def _bracket_menu(self) -> QMenu:
        menu = QMenu(self)
        for count in (1, 2, 3, 4, 5):
            words = "No other holes" if count == 1 else f"{count} holes, 1 in apart"
            action = menu.addAction(words)
            assert action is not None
            action.triggered.connect(lambda _=False, n=count: self._drill(n))
        other = menu.addAction("Other holes, typed…")
        assert other is not None
        other.triggered.connect(lambda _=False: self.ask_holes())
        self.of_holes = menu.actions()
        self.of_mounts = [menu.addSeparator()]
        bolts: tuple[tuple[str, BoltDirection], ...] = (
            ("Bolt square to the link", "square"), ("Bolt across the car", "across"),
            ("Bolt along the car", "along"), ("Bolt upright", "upright"),
        )  # fmt: skip
        for words, bolt in bolts:
            action = menu.addAction(words)
            assert action is not None
            action.triggered.connect(lambda _=False, b=bolt: self._set_mount(bolt=b))
            self.of_mounts.append(action)
        self.of_mounts.append(menu.addSeparator())
        for kind, joint in JOINT_TYPES.items():
            action = menu.addAction(joint.words.capitalize())
            assert action is not None
            action.triggered.connect(lambda _=False, k=kind: self._set_joint(k))
            self.of_mounts.append(action)
        menu.addSeparator()
        known = menu.addMenu("How the place is known")
        assert known is not None
        for how in HOW_KNOWN:
            action = known.addAction(KNOWN_MENU[how])
            assert action is not None
            action.setCheckable(True)
            action.triggered.connect(lambda _=False, h=how: self._set_known(h))
        known.addSeparator()
        self.all_typed = known.addAction("All guesses of this axle: to be built where they are drawn")
        assert self.all_typed is not None
        self.all_typed.triggered.connect(self._type_all)
        known.aboutToShow.connect(lambda: self._show_known(known))
        return menu

    def _show_known(self, menu: QMenu) -> None:
        """Tick how the place of the point held is known; the guesses of the axle can be said to be none at once."""
        bench = self._bench
        if bench.spot is None:
            return
        how = how_known(bench.job, bench.spot)
        for action, known in zip(menu.actions(), HOW_KNOWN, strict=False):
            action.setChecked(known == how)
        if self.all_typed is not None:
            self.all_typed.setEnabled(bool(self._guesses()))

    def _guesses(self) -> list[Spot]:
        return [spot for spot in guessed_spots(self._bench.job) if spot.axle == self._bench.axle_key]

    def _type_all(self) -> None:
        if guesses := self._guesses():
            self._bench.do(set_known(guesses, "typed"))

    def _set_known(self, how: HowKnown) -> None:
        if self._bench.spot is not None:
            self._bench.do(set_known([self._bench.spot], how, self._bench.look_at.both_sides))

    def _step(self, step: int) -> None:
        if self._bench.spot is not None:
            step_hole(self._bench, self._bench.spot, step)

    def _drill(self, count: int) -> None:
        if self._bench.spot is not None:
            self._bench.do(set_holes(self._bench.spot, count, 25.4, self._bench.look_at.both_sides))

    def ask_holes(self) -> None:
        """How many holes, how far apart, and which is used: typed."""
        if self._bench.spot is not None:
            BracketSlip(self, self._bench, self._bench.spot).open()

    def _set_mount(self, **changes: object) -> None:
        if self._bench.spot is not None:
            self._bench.do(set_mount(self._bench.spot, self._bench.look_at.both_sides, **changes))

    def _set_joint(self, kind: JointKind) -> None:
        if self._bench.spot is not None:
            self._bench.do(set_joint(self._bench.spot, kind, self._bench.look_at.both_sides))

    def _set_sure(self, mm: float) -> None:
        if self._bench.spot is not None:
            self._bench.do(set_sure(self._bench.spot, mm, self._bench.look_at.both_sides))

    def _set_both(self, on: bool) -> None:
        self._bench.look_at.both_sides = on

    def _move(self, coordinate: int, mm: float) -> None:
        bench = self._bench
        if bench.spot is None:
            bench.refused.emit("No point is held: choose one in the list or on the floor first.")
            return
        x, y, z = point_of(bench.job, bench.spot).xyz
        if coordinate == 0:
            x = mm - bench.axle.behind_front_mm
        elif coordinate == 1:
            y = mm
        else:
            z = mm
        bench.do(move_to(bench.job, bench.spot, x, y, z, bench.look_at.both_sides))

    def refresh(self) -> None:
        """Show the point held."""
        bench = self._bench
        spots = held_spots(bench)
        with blocked(self.which):
            words = [s.words for s in spots]
            if [self.which.itemText(i) for i in range(self.which.count())] != words:
                self.which.clear()
                self.which.addItems(words)
            self.which.setCurrentIndex(spots.index(bench.spot) if bench.spot in spots else -1)
            self.which.setPlaceholderText("pick a point")
        spot = bench.spot
        for widget in (self.ahead, self.out, self.up, self.sure):
            widget.setEnabled(spot is not None)
        mount = spot is not None and bool(spot.member) and bool(spot.axle)
        self.more.setEnabled(spot is not None and not spot.is_thing)
        drilled = mount or (spot is not None and bool(spot.axle) and spot.end in ARMS)
        for actions, shown in ((self.of_mounts, mount), (self.of_holes, drilled)):
            for action in actions:
                if action is not None:
                    action.setVisible(shown)
        kept = bench.look_at.keep
        if kept and kept not in can_keep(bench.job, bench.axle_key):  # another axle or layout has no such number
            kept = bench.look_at.keep = ""
        self.keep.setText("keeping" if kept else "keep…")
        for labeled in self.labels:
            labeled.refresh_unit()
        # Very large type leaves no room for the +/- and a long word: they stand in the point's tip and the button's.
        large = self._look.percent >= 175
        self.labels[-1].setVisible(not large)
        self.more.setText("…" if large else "Bracket…")
        room = QFontMetrics(self._look.font(14)).horizontalAdvance("-88 15/16") + self._look.px(10 if large else 22)
        for field in (self.ahead, self.out, self.up):
            field.setMinimumWidth(room)
        if spot is None:
            for field in (self.ahead, self.out, self.up, self.sure):
                field.show_mm(None)
            self.hole.setText("no point")
            self.hole_down.setEnabled(False)
            self.hole_up.setEnabled(False)
            return
        at = point_of(bench.job, spot)
        holes, hole = holes_of(bench.job, spot)
        how = KNOWN_WORDS[how_known(bench.job, spot)]
        self.which.setToolTip(plain_tip(f"{spot.words}, {how}: +/- {format_length(at.sure, bench.job.units)}"))
        self.labels[-1].set_title(f"± {how}")
        self.ahead.show_mm(at.x + bench.axle.behind_front_mm)
        self.out.show_mm(at.y)
        self.up.show_mm(at.z)
        self.sure.show_mm(at.sure)
        self.hole.setText("one place" if hole is None else hole_name(spot, hole, len(holes)).replace(" hole", ""))
        self.hole_down.setEnabled(hole is not None and hole > 0)
        self.hole_up.setEnabled(hole is not None and hole < len(holes) - 1)
