"""Asking for what matters, in the window: more than judged numbers, lengths and holes typed, places named, numbers kept."""

from pathlib import Path
from typing import TypeVar

import numpy as np
import pytest
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QComboBox, QMenu, QWidget
from pytestqt.qtbot import QtBot

from even_stance.desktop.bracketslip import BracketSlip
from even_stance.desktop.floormenu import floor_menu
from even_stance.desktop.placeslip import PlaceSlip
from even_stance.desktop.stations.links.holepage import HolePage
from even_stance.desktop.stations.links.linktable import LinkTable
from even_stance.desktop.stations.links.solvepage import SolvePage
from even_stance.desktop.window import MainWindow
from even_stance.exchange.jobfile import load_job
from even_stance.judgement.search.wishes import values_now, wishes_of
from even_stance.vehicle.spots import Spot, holes_of, mount_of
from tests.interface.conftest import Open, drag, type_into, until

T = TypeVar("T", bound=QWidget)
TABLE, HOLES, SOLVE = 1, 5, 6
UPPER, UPPER_AXLE = Spot("rear", "Upper left", "chassis"), Spot("rear", "Upper left", "axle")


def choose(box: QComboBox, data: str) -> None:
    box.setCurrentIndex(box.findData(data))
    box.activated.emit(box.currentIndex())


def offered(solve: SolvePage, title: str) -> None:
    """Choose from the menu of what else can be asked for."""
    solve.offers.aboutToShow.emit()
    next(a for a in solve.offers.actions() if a.text() == title).trigger()


def now(window: MainWindow, key: str) -> float:
    vehicle, axle = window.bench.job.vehicle, window.bench.job.vehicle.axle("rear")
    return values_now(vehicle, axle, [wishes_of(vehicle, axle)[key]])[key]


def page(window: MainWindow, number: int, kind: type[T]) -> T:
    window.go("links")
    window.station("links").pages.turn_to(number)
    QApplication.processEvents()
    found = window.findChild(kind)
    assert found is not None
    return found


def test_flatness_and_a_length_are_asked_for_solved_saved_and_reopened(
    open_window: Open, qtbot: QtBot, tmp_path: Path
) -> None:
    window = open_window(0)
    solve = page(window, SOLVE, SolvePage)
    before = now(window, "flat:anti_squat_axle_pct")
    offered(solve, "Most change of anti-squat")
    assert solve.asks["flat:anti_squat_axle_pct"][1].placeholderText() == "32 %"  # as it is now
    type_into(solve.asks["flat:anti_squat_axle_pct"][1], f"{before - 8:.0f}")
    offered(solve, "Length of lower left")
    type_into(solve.asks["length:Lower left"][1], "40")
    for (spot, axis), box in solve.boxes.items():
        box.setChecked(spot.end == "chassis" and axis in (0, 2))
        type_into(solve.rooms[spot], "6")
    with qtbot.waitSignal(solve.work.done, timeout=60_000):
        solve.solve()
    assert "Every number asked for is reached" in solve.words.text()
    assert "length of lower left 40 in" in solve.words.text()
    solve.take.click()
    assert now(window, "flat:anti_squat_axle_pct") <= before - 7.4
    assert now(window, "length:Lower left") == pytest.approx(1016.0, abs=1.0)
    file = tmp_path / "asked.stance"
    assert window.files.save_to(file)
    assert load_job(file)[0] == window.bench.job


def test_holes_are_asked_for_more_and_what_was_asked_is_kept_and_taken_back(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(0)
    holes = page(window, HOLES, HolePage)
    choose(holes.ask.what, "length:Upper left")
    holes.ask.go.click()
    assert "Type from where to where" in holes.ask.problem.text()
    type_into(holes.ask.fields["low"], "40")
    type_into(holes.ask.fields["high"], "30")
    holes.ask.go.click()
    assert "“from” has to be less than “to”" in holes.ask.problem.text()
    type_into(holes.ask.fields["high"], "41 1/2")
    holes.ask.go.click()
    assert window.bench.job.wishes["rear/length:Upper left"].high == pytest.approx(41.5 * 25.4)
    with qtbot.waitSignal(holes.work.done, timeout=60_000):
        holes.start.click()
    assert "None of 6 combinations is in all of your bands. The nearest misses" in holes.words.text()
    assert "length of upper left by" in holes.words.text()
    head = holes.table.horizontalHeaderItem(2)
    assert head is not None
    assert head.text() == "Length of upper left"
    holes.ask.taken["length:Upper left"].click()
    assert window.bench.job.wishes == {}
    assert "The job has changed since" in holes.words.text()
    window.bench.undo()
    assert "length:Upper left" in holes.ask.taken


def test_a_link_length_is_typed_and_which_end_moves_is_asked_once(window: MainWindow) -> None:
    sheet = page(window, TABLE, LinkTable).sheet
    window.bench.select_spot(UPPER)
    assert sheet.length.text() == "~30 5/8"
    type_into(sheet.length, "32")
    assert "choose which end moves" in sheet.problem.text()
    assert sheet.length.text() == "32"
    choose(sheet.moving, "axle")
    frame, end = (np.array(mount_of(window.bench.job, s).at.xyz) for s in (UPPER, UPPER_AXLE))
    assert np.linalg.norm(frame - end) == pytest.approx(32 * 25.4)
    assert not sheet.problem.isVisible()
    type_into(sheet.length, "31")  # not asked again
    assert mount_of(window.bench.job, UPPER).at.xyz == pytest.approx(frame.tolist())
    assert sheet.length.text() == "31"
    window.bench.undo()
    window.bench.undo()
    assert sheet.length.text() == "~30 5/8"


def test_a_length_typed_for_one_link_is_not_given_to_another(window: MainWindow) -> None:
    """Typed, then another link is looked at before it was said which end moves."""
    sheet = page(window, TABLE, LinkTable).sheet
    window.bench.select_spot(UPPER)
    type_into(sheet.length, "32")
    window.bench.select_spot(Spot("rear", "Lower left", "chassis"))
    assert sheet.length.text() == "~37 1/2"
    assert not sheet.problem.isVisible()
    before = window.bench.job
    choose(sheet.moving, "chassis")
    assert window.bench.job == before


def test_asking_for_more_leaves_ticks_and_what_was_typed_as_they_are(window: MainWindow) -> None:
    solve = page(window, SOLVE, SolvePage)
    squat, center = (solve.asks[k] for k in ("anti_squat_axle_pct", "roll_center_mm"))
    type_into(squat[1], "80")
    squat[0].setChecked(False)  # not this time
    type_into(center[1], "twenty")
    type_into(solve.rooms[UPPER], "much")
    offered(solve, "Length of lower left")
    assert not solve.asks["anti_squat_axle_pct"][0].isChecked()
    assert solve.asks["anti_squat_axle_pct"][1].text() == "80"
    assert solve.asks["roll_center_mm"][1].text() == "twenty"
    assert solve.asks["roll_center_mm"][1].property("wrong")
    assert solve.rooms[UPPER].text() == "much"


def test_holes_of_a_bracket_are_typed_with_pitch_and_the_one_in_use(window: MainWindow) -> None:
    bench, strip = window.bench, window.station("links").strip
    bench.select_spot(UPPER)
    at = mount_of(bench.job, UPPER).at
    strip.ask_holes()
    slip = strip.findChild(BracketSlip)
    assert slip is not None
    assert slip.pitch.text() == "1"
    slip.count.setValue(4)
    type_into(slip.pitch, "nonsense")
    assert slip.problem.isVisible()
    slip.go.click()
    assert slip.isVisible()
    type_into(slip.pitch, "1 1/4")
    assert [slip.used.itemText(i) for i in (0, 3)] == ["bottom hole of 4", "top hole of 4"]
    slip.used.setCurrentIndex(3)
    slip.go.click()
    assert not slip.isVisible()
    holes, used = holes_of(bench.job, UPPER)
    assert used == 3
    assert mount_of(bench.job, UPPER).at == at
    assert holes[3].z - holes[0].z == pytest.approx(3 * 31.75)
    assert strip.hole.text() == "top of 4"


def test_a_dragged_point_keeps_the_instant_center_and_lets_it_go_again(window: MainWindow) -> None:
    bench, strip = window.bench, window.station("links").strip
    pane = window.station("links").floor.panes["side"]
    bench.select_spot(UPPER)
    x, z = now(window, "ic_x_mm"), now(window, "ic_z_mm")
    strip.keeps.aboutToShow.emit()
    names = [a.text() for a in strip.keeps.actions()]
    assert names[:2] == ["Nothing: it moves freely", "Instant center"]
    strip.keeps.actions()[1].trigger()
    assert strip.keep.text() == "keeping"
    at = mount_of(bench.job, UPPER).at
    drag(pane, UPPER, (60.0, -30.0))
    after = mount_of(bench.job, UPPER).at
    assert abs(after.x - at.x) > 20.0
    assert now(window, "ic_z_mm") == pytest.approx(z, abs=8.0)
    assert now(window, "ic_x_mm") == pytest.approx(x, rel=0.005)
    pane.setFocus()
    QTest.keyClick(pane, Qt.Key.Key_Right)
    assert now(window, "ic_z_mm") == pytest.approx(z, abs=8.0)
    bench.select_axle("front")  # on leaves: there is no such number to keep
    assert (strip.keep.text(), bench.look_at.keep) == ("keep…", "")
    bench.select_axle("rear")
    bench.select_spot(UPPER)
    drag(pane, UPPER, (0.0, -30.0))
    assert abs(now(window, "ic_z_mm") - z) > 20.0
    bench.undo()
    bench.undo()
    bench.undo()
    assert mount_of(bench.job, UPPER).at == at


def test_places_are_named_on_the_floor_and_forgotten(window: MainWindow) -> None:
    pane = window.station("links").floor.panes["side"]

    def act(menu: QMenu, *titles: str) -> None:
        for title in titles[:-1]:
            menu = next(a.menu() for a in menu.actions() if a.text() == title)  # type: ignore[assignment]
        next(a for a in menu.actions() if a.text() == titles[-1]).trigger()

    act(floor_menu(pane, pane, window.bench, None, (-250.0, 0.0, 410.0)), "Name this place…")
    slip = pane.findChild(PlaceSlip)
    assert slip is not None
    slip.go.click()
    assert "Name: is empty" in slip.problem.text()
    slip.name.setText("Skid plate")
    type_into(slip.fields[2], "16")
    slip.go.click()
    (mark,) = window.bench.job.vehicle.landmarks
    assert mark.at.xyz == pytest.approx((-250.0, 0.0, 406.4))
    assert any(getattr(s, "label", "") == "Skid plate" for s in pane._still)
    solve = page(window, SOLVE, SolvePage)
    offered(solve, "Instant center at “Skid plate”")
    assert (solve.targets["ic_x_mm"], solve.targets["ic_z_mm"]) == pytest.approx((-250.0, 406.4))
    assert solve.asks["ic_z_mm"][1].text() == "16"
    assert solve.asks["ic_z_mm"][0].isChecked()
    window.station("links").pages.turn_to(0)
    act(floor_menu(pane, pane, window.bench, None, (0.0, 0.0, 0.0)), "“Skid plate”", "Forget it")
    assert window.bench.job.vehicle.landmarks == ()
    until(lambda: not any(getattr(s, "label", "") == "Skid plate" for s in pane._still))
    assert pane.joint_at(QPointF(-50.0, -50.0)) is None
