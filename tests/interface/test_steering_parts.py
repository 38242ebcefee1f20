"""Arms with holes, bolted-on arms, covers, the other axle steering along, and swing beams explained, in the window."""

from pathlib import Path
from typing import cast

import pytest
from PyQt6.QtCore import Qt, QThreadPool
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from even_stance.desktop.stations.steering.rowspage import RowsPage
from even_stance.desktop.stations.steering.station import ARM, BOX, FLOOR, RAM, SteeringStation
from even_stance.desktop.window import MainWindow
from even_stance.vehicle.edits import set_steering
from even_stance.vehicle.spots import Spot, holes_of, point_of
from tests.interface.conftest import Open, type_into

BALL = Spot("front", "", "ball")


@pytest.fixture
def pickup(open_window: Open) -> MainWindow:
    window = open_window(0)
    window.bench.select_axle("front")
    window.go("steering")
    return window


def _station(window: MainWindow) -> SteeringStation:
    return cast(SteeringStation, window.station("steering"))


def _page(window: MainWindow, number: int) -> RowsPage:
    _station(window).turn_to(number)
    QApplication.processEvents()
    return cast(RowsPage, _station(window).pages.page(number))


def _rows(page: RowsPage, table: int = 0) -> dict[str, str]:
    shown = page.tables[table]
    cells = [[shown.item(i, j).text() for j in (0, 1)] for i in range(shown.rowCount())]  # type: ignore[union-attr]
    return dict(cells)


def test_a_pitman_arm_is_drilled_and_the_joint_moved_in_it(pickup: MainWindow, tmp_path: Path) -> None:
    """From the bracket's menu three holes; page down takes the one nearer to the shaft: the arm is an inch shorter."""
    bench, station = pickup.bench, _station(pickup)
    station.turn_to(FLOOR)
    bench.select_spot(BALL)
    menu = station.strip.more.menu()
    assert menu is not None
    shown = [a.text() for a in menu.actions() if a.isVisible() and a.text()]
    several = [f"{n} holes, 1 in apart" for n in (2, 3, 4, 5)]
    assert shown == ["No other holes", *several, "Other holes, typed…", "How the place is known"]
    next(a for a in menu.actions() if a.text().startswith("3 holes")).trigger()
    assert station.strip.hole.text() == "hole 2 of 3"
    before = _rows(_page(pickup, BOX))["Pitman arm, center to center as measured"]
    station.turn_to(FLOOR)
    pane = station.floor.panes["plan"]
    pane.setFocus()
    QTest.keyClick(pane, Qt.Key.Key_PageDown)
    assert station.strip.hole.text() == "inner of 3"
    after = _rows(_page(pickup, BOX))["Pitman arm, center to center as measured"]
    assert (before, after) == ("5 7/8 ± 1/16 in", "4 7/8 ± 1/16 in")
    room = _rows(_page(pickup, BOX), 1)
    assert {"Pitman arm to frame rail", "Free beyond the arm’s hub, for a puller"} <= set(room)
    path = tmp_path / "holes.stance"
    assert pickup.files.save_to(path)
    at = point_of(bench.job, BALL)
    bench.undo()
    assert point_of(bench.job, BALL) != at
    assert pickup.files.open_path(path)
    assert (point_of(bench.job, BALL), holes_of(bench.job, BALL)[1]) == (at, 0)
    bench.do(set_steering("front", None))
    assert not _rows(_page(pickup, BOX))


def test_a_bolted_on_arm_is_counted_and_measured(pickup: MainWindow) -> None:
    page = _page(pickup, ARM)
    assert "forged" in page.words.text()
    page.start.click()
    assert not page.start.isVisible()
    assert _rows(page)["The flat"] == "covers it"
    type_into(page.fields["studs"], "2")
    assert "too few" in _rows(page)["Of what a grade 8 stud is tightened to"]
    type_into(page.fields["studs"], "1")
    assert "Studs" in pickup.banner.words.text()
    page.boxes["cast_iron"].click()
    assert "steel" in _rows(page)["Least to screw in"]
    pickup.bench.undo()
    assert "cast iron" in _rows(page)["Least to screw in"]


def test_the_rear_steers_along_and_a_cover_is_taped(open_window: Open) -> None:
    rig = open_window(2)
    bench, turning = rig.bench, rig.rail.turning
    bench.select_axle("front")
    rig.go("steering")
    assert [turning.along.itemText(i) for i in range(3)] == ["rear stays", "rear opposite", "rear same way"]
    turning.along.setCurrentIndex(1)
    turning.along.activated.emit(1)
    type_into(rig.rail.steer, "40")
    assert bench.studies.posture.of("rear").steer == pytest.approx(-40.0, rel=0.05)
    rig.rail.ride.click()
    assert bench.studies.posture.is_ride
    page = _page(rig, RAM)
    page.start.click()
    spot = Spot("front", "", "ram_cover")
    bench.select_spot(spot)
    at = point_of(bench.job, spot)
    assert any("cover" in title for title in _rows(page))
    type_into(_station(rig).strip.up, f"{at.z + 40.0:.1f}")
    assert point_of(bench.job, spot).z == pytest.approx(at.z + 40.0)


def test_a_number_of_swing_beams_is_explained_and_tried(open_window: Open) -> None:
    truck = open_window(3)
    bench, station = truck.bench, _station(truck)
    bench.select_axle("front")
    truck.go("steering")
    bench.explain_figure("toe_change_deg")
    assert station.why.isVisible()
    station.why.late.start_now()
    pool = QThreadPool.globalInstance()
    assert pool is not None
    pool.waitForDone()
    QApplication.processEvents()
    assert "Toe over travel" in station.why.title.text()
    before = next(v.figure.value for v in bench.verdicts("front") if v.figure.key == "toe_change_deg")
    station.why.tries[0].click()
    after = next(v.figure.value for v in bench.verdicts("front") if v.figure.key == "toe_change_deg")
    assert after < before
    assert bench.job.branch != "as measured"
