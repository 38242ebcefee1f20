"""The link table: lengths, angles, joints and loads of every member, with what the schools say."""

from functools import partial
from typing import cast

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QComboBox,
    QHBoxLayout,
    QHeaderView,
    QLabel,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from even_stance.desktop.bench import Bench
from even_stance.desktop.blocking import blocked
from even_stance.desktop.exporting import offer_csv
from even_stance.desktop.look import Look
from even_stance.desktop.schoolnote import SchoolButton
from even_stance.desktop.stations.armheld import ArmHeld
from even_stance.judgement.schools import link_schools
from even_stance.study.figures import link_table
from even_stance.units import force_unit, format_force, format_length, length_unit
from even_stance.vehicle.edits import Spot, mount_of, set_joint
from even_stance.vehicle.members import JOINT_TYPES, JointKind, RadiusArm, TorqueArm

_COLUMNS = ("Link", "Length", "To frame, side", "To frame, plan", "Frame end", "Axle end", "Load")
_FRONTS = {"slot": "rides in a slot", "bushing": "held by a bushing", "shackle": "hangs on a shackle"}
_CLAMPS = {"bushed": "in two bushings each", "solid": "welded solid"}


def set_text(table: QTableWidget, row: int, column: int, text: str, right: bool = True) -> None:
    """Put a text into a cell."""
    item = table.item(row, column)
    if item is None:
        item = QTableWidgetItem()
        item.setFlags(Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable)
        table.setItem(row, column, item)
    side = Qt.AlignmentFlag.AlignRight if right else Qt.AlignmentFlag.AlignLeft
    item.setTextAlignment(side | Qt.AlignmentFlag.AlignVCenter)
    item.setText(text)


def plain_table(columns: tuple[str, ...], name: str, wide: int = -1) -> QTableWidget:
    """An empty table that shows and does not edit; one column (the last, or `wide`) takes the room left over."""
    table = QTableWidget(0, len(columns))
    table.setHorizontalHeaderLabels(columns)
    table.setAccessibleName(name)
    vertical, horizontal = table.verticalHeader(), table.horizontalHeader()
    if vertical is not None:
        vertical.hide()
    if horizontal is not None:
        horizontal.setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
        if wide < 0:
            horizontal.setStretchLastSection(True)
        else:
            horizontal.setSectionResizeMode(wide, QHeaderView.ResizeMode.Stretch)
    table.setSelectionBehavior(QTableWidget.SelectionBehavior.SelectRows)
    offer_csv(table, name)
    return table


class LinkTable(QWidget):
    """One row for each rod of the axle looked at, and the schools' words below."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench = bench
        column = QVBoxLayout(self)
        column.setContentsMargins(10, 8, 10, 8)
        self.table = plain_table(_COLUMNS, "Link table")
        column.addWidget(self.table, 3)
        self.torque_arm = ArmHeld(
            bench,
            TorqueArm,
            ("front", "Front end of the torque arm", _FRONTS),
            ("shackle_mm", "Shackle length", "shackle"),
        )
        self.radius_arms = ArmHeld(
            bench, RadiusArm, ("clamp", "Arms at the axle", _CLAMPS), ("clamp_spread_mm", "Bushings apart", "bushed")
        )
        column.addWidget(self.torque_arm)
        column.addWidget(self.radius_arms)
        schools = QHBoxLayout()
        for title, key in (("Upper and lower lengths", "uppers"), ("Joints in the steering", "rod_end_steering")):
            schools.addWidget(QLabel(title))
            schools.addWidget(SchoolButton(look, key))
        schools.addStretch(1)
        column.addLayout(schools)
        self.words = QLabel()
        self.words.setWordWrap(True)
        self.words.setAlignment(Qt.AlignmentFlag.AlignTop)
        column.addWidget(self.words, 1)

    def refresh(self) -> None:
        """Show the rods of the axle looked at."""
        self.torque_arm.refresh()
        self.radius_arms.refresh()
        bench, units = self._bench, self._bench.job.units
        study = bench.study(bench.axle_key)
        rows = link_table(study.now) if study is not None else []
        loads = bench.loads()
        if self.table.rowCount() != len(rows):
            self.table.setRowCount(0)
            self.table.setRowCount(len(rows))
        for i, row in enumerate(rows):
            set_text(self.table, i, 0, row.name, right=False)
            set_text(self.table, i, 1, f"{format_length(row.length_mm, units)} {length_unit(units)}")
            set_text(self.table, i, 2, f"{abs(row.side_deg):.1f}° {'up' if row.side_deg >= 0 else 'down'}")
            plan = f"{abs(row.plan_deg):.1f}° {'out' if row.plan_deg >= 0 else 'in'}"
            set_text(self.table, i, 3, plan if row.plan_deg < 89.0 else "across")
            for j, (member, end) in enumerate((row.frame_end, row.axle_end)):
                self._joint(i, 4 + j, Spot(bench.axle_key, member, end))
            if loads is None:
                set_text(self.table, i, 6, "no case")
            else:
                word = "pull" if loads.rows[i] > 0 else "push"
                set_text(self.table, i, 6, f"{format_force(abs(loads.rows[i]), units)} {force_unit(units)} {word}")
        text = "\n\n".join(link_schools(bench.job, bench.axle)) if rows else bench.layout_error(bench.axle_key) or ""
        self.words.setText(text)

    def _joint(self, row: int, column: int, spot: Spot) -> None:
        box = self.table.cellWidget(row, column)
        if not isinstance(box, QComboBox):
            box = QComboBox()
            box.setMaximumWidth(170)
            for kind, joint in JOINT_TYPES.items():
                box.addItem(joint.words, kind)
            self.table.setCellWidget(row, column, box)
            box.activated.connect(partial(self._changed, row, column))
        box.setProperty("spot", spot)
        box.setAccessibleName(f"Joint of {spot.words}")
        with blocked(box):
            box.setCurrentIndex(list(JOINT_TYPES).index(mount_of(self._bench.job, spot).joint))

    def _changed(self, row: int, column: int) -> None:
        box = self.table.cellWidget(row, column)
        if isinstance(box, QComboBox):
            spot = cast(Spot, box.property("spot"))
            self._bench.do(set_joint(spot, cast(JointKind, box.currentData()), self._bench.both_sides))
