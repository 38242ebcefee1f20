"""The link table: lengths, angles, joints and loads of every member; what the member held is made of, to edit."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from even_stance.desktop.bench import Bench
from even_stance.desktop.look import Look
from even_stance.desktop.pages import Scrolled
from even_stance.desktop.stations.links.armclamps import ArmHeld
from even_stance.desktop.stations.links.membersheet import MemberSheet
from even_stance.desktop.widgets.labels import PlainLabel
from even_stance.desktop.widgets.schoolnote import SchoolButton
from even_stance.desktop.widgets.signalblock import blocked
from even_stance.desktop.widgets.table import plain_table, set_text
from even_stance.judgement.schools import link_schools
from even_stance.study.figures import LinkRow, link_table
from even_stance.units import force_unit, format_force, format_length, length_unit
from even_stance.vehicle.members import JOINT_TYPES, AArm, RadiusArm, TorqueArm
from even_stance.vehicle.spots import Spot, mount_of

_COLUMNS = ("Link", "Length", "To frame, side", "To frame, plan", "Frame end", "Axle end", "Load")
_FRONTS = {"slot": "rides in a slot", "bushing": "held by a bushing", "shackle": "hangs on a shackle"}
_BALLS = {"fixed": "fixed: it holds the axle sideways", "slides": "slides sideways: a bar holds the axle"}
_CLAMPS = {"bushed": "in two bushings each", "solid": "welded solid"}


class LinkTable(QWidget):
    """One row for each rod of the axle looked at, the member held in figures, and the schools' words below."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench = bench
        self._rows: list[LinkRow] = []
        column = QVBoxLayout(self)
        column.setContentsMargins(10, 8, 10, 8)
        self.table = plain_table(_COLUMNS, "Link table")
        self.table.itemSelectionChanged.connect(self._hold)
        column.addWidget(self.table, 4)
        self.sheet = MemberSheet(bench, look)
        self.torque_arm = ArmHeld(
            bench,
            TorqueArm,
            ("front", "Front end of the torque arm", _FRONTS),
            ("shackle_mm", "Shackle length", "shackle"),
        )
        self.radius_arms = ArmHeld(
            bench, RadiusArm, ("clamp", "Arms at the axle", _CLAMPS), ("clamp_spread_mm", "Bushings apart", "bushed")
        )
        self.a_arm = ArmHeld(bench, AArm, ("ball", "Ball of the arm on the axle", _BALLS))
        self.words = PlainLabel()
        self.words.setWordWrap(True)
        self.words.setAlignment(Qt.AlignmentFlag.AlignTop)
        schools = QHBoxLayout()
        for title, key in (("Upper and lower lengths", "uppers"), ("Joints in the steering", "rod_end_steering")):
            schools.addWidget(PlainLabel(title))
            schools.addWidget(SchoolButton(look, key))
        schools.addStretch(1)
        below = QWidget()
        lines = QVBoxLayout(below)
        lines.setContentsMargins(0, 0, 6, 0)
        for widget in (self.sheet, self.torque_arm, self.radius_arms, self.a_arm):
            lines.addWidget(widget)
        lines.addLayout(schools)
        lines.addWidget(self.words)
        lines.addStretch(1)
        column.addWidget(Scrolled(below), 7)

    def refresh(self) -> None:
        """Show the rods of the axle looked at."""
        for part in (self.sheet, self.torque_arm, self.radius_arms, self.a_arm):
            part.refresh()
        bench = self._bench
        study = bench.study(bench.axle_key)
        self._rows = link_table(study.now) if study is not None else []
        with blocked(self.table):
            if self.table.rowCount() != len(self._rows):
                self.table.setRowCount(0)
                self.table.setRowCount(len(self._rows))
            for i, row in enumerate(self._rows):
                self._show(i, row)
            held = [i for i, row in enumerate(self._rows) if bench.spot in self._spots(row)]
            if held:
                self.table.selectRow(held[0])
            else:
                self.table.clearSelection()
        text = (
            "\n".join(link_schools(bench.job, bench.axle))
            if self._rows
            else bench.studies.layout_error(bench.axle_key) or ""
        )
        self.words.setText(text)

    def _spots(self, row: LinkRow) -> list[Spot]:
        return [Spot(self._bench.axle_key, member, end) for member, end in (row.frame_end, row.axle_end)]

    def _show(self, i: int, row: LinkRow) -> None:
        job, units = self._bench.job, self._bench.job.units
        set_text(self.table, i, 0, row.name, right=False)
        set_text(self.table, i, 1, f"{format_length(row.length_mm, units)} {length_unit(units)}")
        set_text(self.table, i, 2, f"{abs(row.side_deg):.1f}° {'up' if row.side_deg >= 0 else 'down'}")
        plan = f"{abs(row.plan_deg):.1f}° {'out' if row.plan_deg >= 0 else 'in'}"
        set_text(self.table, i, 3, plan if row.plan_deg < 89.0 else "across")
        for j, spot in enumerate(self._spots(row)):
            set_text(self.table, i, 4 + j, JOINT_TYPES[mount_of(job, spot).joint].words, right=False)
        loads = self._bench.studies.loads(self._bench.axle_key, self._bench.look_at.load_case)
        if loads is None:
            set_text(self.table, i, 6, "no case")
        else:
            word = "pull" if loads.rows[i] > 0 else "push"
            set_text(self.table, i, 6, f"{format_force(abs(loads.rows[i]), units)} {force_unit(units)} {word}")

    def _hold(self) -> None:
        row = self.table.currentRow()
        if 0 <= row < len(self._rows) and self._bench.spot not in self._spots(self._rows[row]):
            self._bench.select_spot(self._spots(self._rows[row])[0])
