import numpy as np
import pytest
from PyQt6.QtCore import Qt, QThreadPool
from PyQt6.QtTest import QTest
from pytestqt.qtbot import QtBot

from even_stance.desktop.background import LateStudy
from even_stance.desktop.window import MainWindow
from even_stance.errors import InputError
from even_stance.judgement.catalog.laterals import compare_laterals
from even_stance.judgement.catalog.layouts import BASES, LATERALS
from even_stance.study.answers import study_postures
from even_stance.study.articulation import study_articulation
from even_stance.study.drawing import Joint, Label
from even_stance.study.model import swing_limits
from even_stance.vehicle.edits import set_axle
from even_stance.vehicle.job import Job
from even_stance.vehicle.members import Leaf, RadiusArm
from even_stance.vehicle.spots import Spot, mount_of
from even_stance.vehicle.tandem import add_rear_axle
from tests.interface.conftest import Open, drag, judged, type_into, until


@pytest.mark.parametrize("base", BASES)
def test_every_layout_is_chosen_drawn_and_undone(window: MainWindow, base: str) -> None:
    bench, links = window.bench, window.station("links")
    before = bench.job
    links.turn_to(3)
    links.chooser.bases[base].chosen.emit()
    links.turn_to(0)
    study = bench.study("rear")
    assert study is not None, bench.studies.layout_error("rear")
    drawn = {s.spot for s in links.floor.panes["side"].shapes if isinstance(s, Joint) and s.spot.axle and s.spot.member}
    assert drawn == {Spot("rear", m.name, end) for m in bench.axle.parts for end in m.mounts}
    for view in ("plan", "rear", "side"):
        links.floor.bring_front(view)
        bench.set_posture(bench.axle.bump_mm, -bench.axle.droop_mm)
        bench.set_posture(0.0, 0.0)
    links.turn_to(1)
    assert links.table.table.rowCount() == len(study.now.layout.rods)
    links.turn_to(2)
    assert links.sheet.table.rowCount() == len(study.now.layout.row_names) + 3
    while bench.document.history.undo_label:
        bench.undo()
    assert bench.job == before


def test_lateral_devices_by_keyboard_and_side_by_side(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(1)
    chooser = window.station("links").chooser
    window.station("links").turn_to(3)
    until(lambda: chooser.sketches.over)  # they come one after the other
    assert chooser.laterals["panhard"].current
    assert chooser.bases["three_link"].current
    card = chooser.laterals["watts_axle"]
    card.setFocus()
    QTest.keyClick(card, Qt.Key.Key_Return)
    assert [m.name for m in window.bench.axle.members if m.role == "lateral"] == ["Watts"]
    with qtbot.waitSignal(chooser.late.done, timeout=60_000):
        chooser.late.start_now()
    until(lambda: chooser.sketches.over)
    assert chooser.laterals["watts_axle"].current
    assert not chooser.laterals["watts_frame"].current
    assert chooser.table.rowCount() == len(LATERALS) - 1
    figures = {f.key: f for f in compare_laterals(window.bench.job, "rear")}
    assert not figures["none"].held
    # Common practice, no source: a watts has no sideways arc to speak of, a panhard has; more parts for it.
    assert figures["watts_axle"].shift_mm < 0.3 * figures["panhard"].shift_mm
    assert figures["watts_axle"].joints > figures["panhard"].joints
    # Where the roll center goes: with the crank on the axle it rides along with the wheels, on the frame it stays.
    assert figures["watts_axle"].roll_center_change_mm > 3 * figures["watts_frame"].roll_center_change_mm


def test_a_crank_end_can_be_dragged(open_window: Open) -> None:
    window = open_window(1)
    window.station("links").chooser.laterals["watts_axle"].chosen.emit()
    window.station("links").floor.bring_front("rear")
    pane, spot = window.station("links").floor.panes["rear"], Spot("rear", "Watts", "pivot")
    before = mount_of(window.bench.job, spot).at
    drag(pane, spot, (0.0, -20.0))
    assert mount_of(window.bench.job, spot).at.z > before.z + 10.0
    assert window.bench.study("rear") is not None


def test_joints_and_tubes_are_changed_under_the_table(window: MainWindow) -> None:
    """A row is clicked, its joint, bolt, swing, stiffness and tube changed on both sides; the wrong refused and kept."""
    bench, links = window.bench, window.station("links")
    links.turn_to(1)
    table, sheet = links.table.table, links.table.sheet
    row = next(i for i in range(table.rowCount()) if table.item(i, 0).text() == "Lower left")  # type: ignore[union-attr]
    QTest.mouseClick(
        table.viewport(),
        Qt.MouseButton.LeftButton,
        pos=table.visualItemRect(table.item(row, 1)).center(),  # type: ignore[arg-type]
    )
    assert bench.spot == Spot("rear", "Lower left", "chassis")
    assert sheet.which.currentText() == "Lower left"
    end = sheet.ends["chassis"]
    end.joint.setCurrentIndex(end.joint.findData("rubber"))
    end.joint.activated.emit(end.joint.currentIndex())
    both = [Spot("rear", name, "chassis") for name in ("Lower left", "Lower right")]
    assert [mount_of(bench.job, spot).joint for spot in both] == ["rubber", "rubber"]
    assert table.item(row, 4).text() == "rubber bushing"  # type: ignore[union-attr]
    assert (end.swing.text(), end.stiffness.text()) == ("10", "22840")  # 4000 N/mm / 0.17513 N/mm per lb/in
    type_into(end.swing, "12.5")
    type_into(end.stiffness, "30000")
    assert [mount_of(bench.job, spot).misalignment_limit_deg for spot in both] == [12.5, 12.5]
    assert mount_of(bench.job, both[1]).stiffness == pytest.approx(30000 * 4.4482216 / 25.4)
    for wrong, word in (("-3", "no stiffness"), ("soft", "cannot be read"), ("30,000", "comma")):
        type_into(end.stiffness, wrong)
        assert end.stiffness.text() == wrong
        assert end.stiffness._beneath is not None
        assert end.stiffness._beneath.isVisible()
        assert word in end.stiffness._beneath.text()
    QTest.keyClick(end.stiffness, Qt.Key.Key_Escape)
    type_into(end.swing, "120")
    assert "swing limit" in end.swing._beneath.text().lower()
    type_into(sheet.tube, "2")
    assert [m.tube_mm for m in bench.axle.members if m.name.startswith("Lower")] == [50.8, 50.8]
    QTest.keyClick(end.bolt, Qt.Key.Key_Down)
    assert mount_of(bench.job, both[1]).bolt == "across"
    for _ in range(5):
        bench.undo()
    assert mount_of(bench.job, both[0]).joint == "rod_end_high"


def test_leaf_rates_are_typed_in_pounds_per_inch(window: MainWindow) -> None:
    bench, sheet = window.bench, window.station("links").table.sheet
    window.station("links").chooser.bases["leaf"].chosen.emit()
    window.station("links").turn_to(1)
    sheet.which.setCurrentIndex(sheet.which.findText("Leaf left"))
    sheet.which.activated.emit(sheet.which.currentIndex())
    assert sheet.rate.isVisible()
    assert not sheet.tube.isVisible()
    assert len(sheet.ends) == 4
    type_into(sheet.rate, "250")
    assert [m.rate_n_mm for m in bench.axle.members if isinstance(m, Leaf)] == pytest.approx([250 * 0.1751268] * 2)
    type_into(sheet.sideways, "300 N/mm")
    assert [m.lateral_n_mm for m in bench.axle.members if isinstance(m, Leaf)] == [300.0, 300.0]
    assert "both sides" in sheet.note.text()


def test_loads_are_drawn_listed_and_edited(open_window: Open) -> None:
    window = open_window(1)
    bench, rail = window.bench, window.rail
    rail.case.setCurrentIndex(rail.case.findData("launch"))
    rail.case.activated.emit(rail.case.currentIndex())
    loads = bench.studies.loads(bench.axle_key, bench.look_at.load_case)
    assert loads is not None
    words = [s.text for s in window.station("links").floor.panes["side"].shapes if isinstance(s, Label)]
    assert any("push" in w for w in words)
    assert any("pull" in w for w in words)
    window.station("links").turn_to(2)
    sheet = window.station("links").sheet
    before = sheet.table.item(2, 2).text()
    type_into(sheet.fields["friction"], "0.5")
    assert bench.job.loads.friction == 0.5
    assert sheet.table.item(2, 2).text() != before
    type_into(sheet.fields["axle_ratio"], "0")
    assert "must be more than 0" in sheet.fields["axle_ratio"].toolTip()
    type_into(sheet.fields["axle_ratio"], "tall")
    assert "cannot be read" in sheet.fields["axle_ratio"].toolTip()
    bench.do(set_axle("rear", "Weight", load_kg=0.0, unsprung_kg=0.0))
    assert sheet.words.text() == "Rear axle weight: is not entered. Type it in Stance: loads need it."
    assert bench.studies.loads(bench.axle_key, bench.look_at.load_case) is None
    bench.undo()
    assert sheet.table.rowCount() > 0


def test_the_map_equals_single_postures_and_takes_clicks(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(2)
    window.go("travel")
    window.station("travel").turn_to(1)
    page = window.station("travel").articulation
    with qtbot.waitSignal(page.late.done, timeout=60_000):
        page.late.start_now()
    assert page.found is not None
    bench = window.bench
    i, j = 3, 27
    left, right = page.found.travel_mm[[i, j]]
    single = study_postures(bench.job.vehicle, bench.axle, np.array([left]), np.array([right]))
    use = 100 * single.needed_misalignment_deg[0] / swing_limits(single.layout)
    assert page.found.use_pct[i, j] == pytest.approx(use.max(), rel=1e-6)
    assert page.table.rowCount() == 8
    page.table.cellClicked.emit(0, 0)
    assert (bench.posture.left_mm, bench.posture.right_mm) == (
        page.found.worst[0].left_mm,
        page.found.worst[0].right_mm,
    )


def test_a_map_marks_what_cannot_be_reached(trail_job: Job) -> None:
    job = set_axle("rear", "Travel", droop_mm=900.0).apply(trail_job)
    found = study_articulation(job.vehicle, job.vehicle.axle("rear"))
    assert 0.0 < found.reachable < 1.0
    assert np.isnan(found.use_pct).mean() == pytest.approx(1.0 - found.reachable)


def test_late_answers_are_dropped(window: MainWindow) -> None:
    late, heard = LateStudy(window), []
    late.done.connect(heard.append)
    late.ask(lambda: "first")
    late.ask(lambda: "second")
    late.arrive(1, "first")
    assert heard == []
    late.arrive(2, "second")
    assert heard == ["second"]


def test_trouble_in_the_background_is_a_sentence(window: MainWindow, qtbot: QtBot) -> None:
    def fail() -> object:
        raise InputError("Map", "cannot be drawn.", "Add a link.")

    late = LateStudy(window)
    with qtbot.waitSignal(late.done, timeout=5000) as told:
        late.ask(fail)
        late.start_now()
    assert told.args == ["Map: cannot be drawn. Add a link."]
    QThreadPool.globalInstance().waitForDone()


def test_bind_is_said_below_the_floor(window: MainWindow, qtbot: QtBot) -> None:
    window.station("links").chooser.bases["parallel"].chosen.emit()
    with qtbot.waitSignal(window.station("links").bind.done, timeout=60_000):
        window.station("links").bind.start_now()
    assert "Binds: " in window.station("links").words.text()
    assert "per degree of roll" in window.station("links").words.toolTip()
    window.bench.undo()
    with qtbot.waitSignal(window.station("links").bind.done, timeout=60_000):
        window.station("links").bind.start_now()
    assert "Crosses up freely." in window.station("links").words.text()


def test_a_layout_without_a_lateral_device_is_told(open_window: Open) -> None:
    window = open_window(1)
    window.station("links").chooser.laterals["none"].chosen.emit()
    for words in (window.station("links").words, window.vials.instead):
        assert words.isVisible()
        assert "add a panhard bar or a watts link" in words.text()
    assert judged(window).order.buttons["links"].words == "not held"


def test_how_rigid_arms_are_held_is_chosen(window: MainWindow) -> None:
    """A shackle instead of a slot, its length typed, a wrong one refused and kept, all undone; both radius arms."""
    bench, table = window.bench, window.station("links").table
    arm = table.torque_arm
    window.station("links").turn_to(1)
    assert not arm.isVisible()
    window.station("links").chooser.bases["torque_arm"].chosen.emit()
    assert arm.isVisible()
    assert not arm.length.isVisible()
    rods = table.table.rowCount()
    QTest.keyClick(arm.choice, Qt.Key.Key_End)
    assert arm.choice.currentData() == "shackle"
    assert arm.length.isVisible()
    assert table.table.rowCount() == rods + 1
    type_into(arm.length, "5")
    assert bench.axle.member("Torque arm").shackle_mm == pytest.approx(127.0)  # type: ignore[union-attr]
    type_into(arm.length, "-2")
    assert bench.axle.member("Torque arm").shackle_mm == pytest.approx(127.0)  # type: ignore[union-attr]
    assert arm.length.text() == "-2"
    bench.undo()
    bench.undo()
    assert arm.choice.currentData() == "slot"
    assert not arm.length.isVisible()
    assert table.table.rowCount() == rods
    window.station("links").chooser.bases["radius_arms"].chosen.emit()
    assert not arm.isVisible()
    QTest.keyClick(table.radius_arms.choice, Qt.Key.Key_End)
    assert [m.clamp for m in bench.axle.members if isinstance(m, RadiusArm)] == ["solid", "solid"]
    assert not table.radius_arms.length.isVisible()
    bench.undo()
    assert [m.clamp for m in bench.axle.members if isinstance(m, RadiusArm)] == ["bushed", "bushed"]


def test_choices_being_sketched_are_those_of_the_job_that_was_asked_about(open_window: Open) -> None:
    """A second rear axle is taken out again while the choices are still being drawn for the pair."""
    window = open_window(1)
    chooser = window.station("links").chooser
    assert window.bench.do(add_rear_axle()).done
    window.station("links").turn_to(3)
    window.station("links").turn_to(0)
    window.bench.undo()
    until(lambda: chooser.sketches.over)
    window.station("links").turn_to(3)
    until(lambda: chooser.sketches.over)
    assert chooser.bases["three_link"].current
