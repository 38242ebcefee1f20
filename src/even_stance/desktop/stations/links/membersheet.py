"""The member sheet: what the member held is made of, and the joint at each of its ends, to read and to change."""

from functools import partial
from math import dist

from PyQt6.QtWidgets import QComboBox, QGridLayout, QHBoxLayout, QVBoxLayout, QWidget

from even_stance.desktop.bench import Bench
from even_stance.desktop.bounds import bound
from even_stance.desktop.look import Look
from even_stance.desktop.widgets.emptied import emptied
from even_stance.desktop.widgets.fields import DegreeField, Labeled, LengthField, StiffnessField
from even_stance.desktop.widgets.labels import PlainLabel, faint_words
from even_stance.desktop.widgets.signalblock import blocked
from even_stance.units import stiffness_unit
from even_stance.vehicle.edits import set_joint, set_length, set_members, set_mount
from even_stance.vehicle.members import JOINT_TYPES, AnyMember, Leaf, Rod
from even_stance.vehicle.spots import Spot, mount_of, twin_of

_BOLTS = {"square": "square to the link", "across": "across the car", "along": "along the car", "upright": "upright"}
_BASIS = (
    "Swing and stiffness of each kind of joint: common practice, no source. Type those of your own joints over them."
)


class EndRow:
    """The joint at one end: its kind, which way its bolt points, how far it swings, how stiff it is."""

    def __init__(self, bench: Bench, look: Look, spot: Spot, name: str) -> None:
        self._bench, self._spot = bench, spot
        self.joint, self.bolt = QComboBox(), QComboBox()
        for kind, joint in JOINT_TYPES.items():
            self.joint.addItem(joint.words, kind)
        for way, words in _BOLTS.items():
            self.bolt.addItem(words, way)
        for box in (self.joint, self.bolt):
            box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
            box.setMinimumContentsLength(10)  # large type shortens them rather than push the figures out of sight
        self.joint.setAccessibleName(f"Joint at the {name}")
        self.bolt.setAccessibleName(f"Bolt at the {name}")
        self.joint.activated.connect(
            lambda _: bench.do(set_joint(spot, self.joint.currentData(), bench.look_at.both_sides))
        )
        self.bolt.activated.connect(lambda _: self._change(bolt=self.bolt.currentData()))
        self.swing = DegreeField(bench, f"Swing at the {name}", lambda v: self._change(misalignment_limit_deg=v))
        self.stiffness = StiffnessField(bench, f"Stiffness at the {name}", lambda v: self._change(stiffness_n_mm=v))
        bound(self.swing, look.percent, wide=64)
        bound(self.stiffness, look.percent, wide=96)
        self.name = PlainLabel(name)
        self.widgets = (self.name, self.joint, self.bolt, self.swing, self.stiffness)

    def _change(self, **changes: object) -> None:
        self._bench.do(set_mount(self._spot, self._bench.look_at.both_sides, **changes))

    def refresh(self) -> None:
        """Show the mount."""
        mount = mount_of(self._bench.job, self._spot)
        with blocked(self.joint), blocked(self.bolt):
            self.joint.setCurrentIndex(self.joint.findData(mount.joint))
            self.bolt.setCurrentIndex(self.bolt.findData(mount.bolt))
        self.swing.show_value(mount.misalignment_limit_deg)
        self.stiffness.show_value(mount.stiffness, _BASIS)


class MemberSheet(QWidget):
    """The member whose point is held, or the first; a change goes to both sides of the car, if that is chosen."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench, self._look = bench, look
        self._shown: tuple[object, ...] = ()
        self.ends: dict[str, EndRow] = {}
        self._typed: float | None = None
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 4, 0, 4)
        head = QHBoxLayout()
        self.which = QComboBox()
        self.which.setAccessibleName("Member")
        self.which.activated.connect(self._pick)
        self.tube = LengthField(bench, "Tube outside", partial(self._change, "Tube outside", "tube_mm"))
        self.rate = StiffnessField(bench, "Rate at the seat", partial(self._change, "Rate at the seat", "rate_n_mm"))
        self.sideways = StiffnessField(
            bench, "Sideways, at each eye", partial(self._change, "Sideways, at each eye", "lateral_n_mm")
        )
        self.length = LengthField(bench, "Pin to pin", self._set_length)
        self.moving = QComboBox()
        for words, end in (("which end moves?", ""), ("frame end moves", "chassis"), ("axle end moves", "axle")):
            self.moving.addItem(words, end)
        self.moving.activated.connect(lambda _: self._say_end(self.moving.currentData()))
        self.labeled = [
            Labeled(bench, "Member", self.which),
            Labeled(bench, self.tube.name, self.tube, "length"),
            Labeled(bench, self.rate.name, self.rate, "stiffness"),
            Labeled(bench, self.sideways.name, self.sideways, "stiffness"),
        ]
        self.of_rods = [Labeled(bench, "Pin to pin", self.length, "length"), Labeled(bench, "When typed", self.moving)]
        self.length.complaint = self._complain
        for labeled, stretch in zip((*self.labeled, *self.of_rods), (3, 1, 1, 1, 1, 2), strict=True):
            head.addWidget(labeled, stretch)
        column.addLayout(head)
        self._grid = QGridLayout()
        self._grid.setColumnStretch(1, 1)
        self._grid.setColumnStretch(2, 1)
        column.addLayout(self._grid)
        self.note, self.problem = faint_words(""), PlainLabel()
        self.problem.setProperty("role", "alarm")
        self.problem.setWordWrap(True)
        self.problem.hide()
        column.addWidget(self.problem)
        column.addWidget(self.note)

    def _member(self) -> AnyMember | None:
        bench = self._bench
        members = {m.name: m for m in bench.axle.members}
        held = bench.spot.member if bench.spot is not None and bench.spot.axle == bench.axle_key else None
        return members.get(held or "", next(iter(members.values()), None))

    def _pick(self, index: int) -> None:
        member = self._bench.axle.members[index]
        self._bench.select_spot(Spot(self._bench.axle_key, member.name, next(iter(member.ENDS))))

    def _change(self, label: str, attribute: str, value: float) -> None:
        member, key = self._member(), self._bench.axle_key
        assert member is not None
        twin = twin_of(self._bench.job, Spot(key, member.name, next(iter(member.ENDS))))
        names = {member.name} | ({twin.member} if twin is not None and self._bench.look_at.both_sides else set())
        self._bench.do(set_members(key, sorted(names), label, **{attribute: value}))

    def _set_length(self, mm: float) -> None:
        """Make the link this long; which end moves is asked once."""
        bench, member = self._bench, self._member()
        assert member is not None
        if not bench.look_at.moving_end:
            self._typed = mm
            bench.refused.emit(f"Length of {member.name.lower()}: choose which end moves, beside it.")
            return
        spot = Spot(bench.axle_key, member.name, bench.look_at.moving_end)
        bench.do(set_length(spot, mm, bench.look_at.both_sides))

    def _say_end(self, end: str) -> None:
        self._bench.look_at.moving_end = end
        if end and self.length.property("wrong") and self._typed is not None:
            self.length.take(self._typed)
        self._typed = None

    def _complain(self, problem: str) -> None:
        self.problem.setText(problem)
        self.problem.setVisible(bool(problem))

    def refresh(self) -> None:
        """Show the member held."""
        bench, member = self._bench, self._member()
        self.setVisible(member is not None)
        if member is None:
            return
        names = [m.name for m in bench.axle.members]
        with blocked(self.which):
            if [self.which.itemText(i) for i in range(self.which.count())] != names:
                self.which.clear()
                self.which.addItems(names)
            self.which.setCurrentIndex(names.index(member.name))
        shown = (bench.axle_key, member.name, tuple(member.ENDS), bench.job.units)
        if shown != self._shown:
            self._shown = shown
            self.length.clear_typed()  # a length typed for one link is none of another
            self._typed = None
            self._build(member)
        for labeled in self.labeled:
            labeled.refresh_unit()
        rod = isinstance(member, Rod)
        for labeled in self.of_rods:
            labeled.refresh_unit()
            labeled.setVisible(rod)
        if rod:
            ends = (mount_of(bench.job, Spot(bench.axle_key, member.name, end)).at.xyz for end in member.ENDS)
            self.length.show_mm(dist(*ends))
        with blocked(self.moving):
            self.moving.setCurrentIndex(self.moving.findData(bench.look_at.moving_end))
        leaf = isinstance(member, Leaf)
        self.labeled[1].setVisible(not leaf)
        self.tube.show_mm(member.tube_mm)
        for labeled in self.labeled[2:]:
            labeled.setVisible(leaf)
        if isinstance(member, Leaf):
            self.rate.show_value(member.rate_n_mm)
            self.sideways.show_value(member.lateral_n_mm)
        for row in self.ends.values():
            row.refresh()
        sides = "Changes go to both sides of the car." if bench.look_at.both_sides else "Changes go to this side only."
        self.note.setText(f"{sides} {_BASIS}")

    def _build(self, member: AnyMember) -> None:
        emptied(self._grid)
        heads = ("", "Joint", "Bolt points", "Swings, °", f"Stiffness, {stiffness_unit(self._bench.job.units)}")
        for j, words in enumerate(heads):
            self._grid.addWidget(faint_words(words), 0, j)
        self.ends = {}
        self._complain("")
        for i, (end, words) in enumerate(member.WORDS.items(), start=1):
            row = EndRow(self._bench, self._look, Spot(self._bench.axle_key, member.name, end), words)
            self.ends[end] = row
            for j, widget in enumerate(row.widgets):
                self._grid.addWidget(widget, i, j)
