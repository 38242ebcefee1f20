"""One posture, changes and stations for the whole car, in the window."""

from collections.abc import Callable

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from even_stance.desktop.stations import STATIONS
from even_stance.desktop.window import MainWindow
from even_stance.judgement.catalog.steerings import steering_guess
from even_stance.study.drawing import Area, Joint
from even_stance.study.steeranswers import machine_readable_steer
from even_stance.vehicle.driveline import Yoke
from even_stance.vehicle.edits import move_by, set_axle, set_job, set_steering
from even_stance.vehicle.records import Point
from even_stance.vehicle.spots import Spot, point_of
from tests.interface.conftest import Open, drag, judged, type_into

LOWER = Spot("rear", "Lower left", "chassis")


def test_the_strip_lists_what_the_last_edit_did_and_goes_there(window: MainWindow) -> None:
    strip, bench = window.changes, window.bench
    assert strip.changes == []
    assert "nothing" in strip.accessibleName()
    bench.do(move_by(LOWER, 0.0, 0.0, 70.0))
    assert strip.changes == []  # the car is seen first
    judged(window)
    assert strip.changes == bench.changes()
    assert strip.changes
    shown = strip.changes[: strip._shown]
    bench.select_axle("front")
    index, change = next((i, c) for i, c in enumerate(shown) if c.key or c.station)
    QTest.mouseClick(strip, Qt.MouseButton.LeftButton, pos=strip._places[index].center().toPoint())
    assert bench.look_at.station == change.station
    assert bench.axle_key == (change.axle or bench.axle_key)
    bench.do(set_job("Notes", notes="painted"))
    judged(window)
    assert strip.changes == []
    bench.undo()
    bench.undo()
    judged(window)
    # Taking it back is an edit as well: what came better got worse again.
    assert any(c.way == "worse" for c in strip.changes)


def test_a_drag_is_one_edit_for_the_strip(window: MainWindow) -> None:
    """While a point is dragged the changes are told against how it was when it was taken hold of."""
    pane, bench = window.station("links").floor.panes["side"], window.bench
    spot = Spot("rear", "Lower left", "axle")
    first = {v.figure.key: v.reading("us") for v in bench.verdicts("rear")}
    drag(pane, spot, (0.0, -40.0), steps=12)
    change = next(c for c in judged(window).changes.changes if c.key == "anti_squat_axle_pct")
    assert change.words.startswith(first["anti_squat_axle_pct"])
    assert change.words.endswith({v.figure.key: v.reading("us") for v in bench.verdicts("rear")}[change.key])


def test_keys_walk_through_the_strip(window: MainWindow) -> None:
    window.bench.do(move_by(LOWER, 0.0, 0.0, 70.0))
    strip = judged(window).changes
    strip.setFocus()
    QTest.keyClick(strip, Qt.Key.Key_Right)
    QTest.keyClick(strip, Qt.Key.Key_Return)
    assert window.bench.look_at.station == strip.changes[0].station


def test_the_vials_are_those_of_the_station_and_what_is_out(window: MainWindow) -> None:
    def shown() -> list[str]:
        return [v.verdict.figure.key for v in window.vials.vials if v.isVisible() and v.verdict]

    every = window.bench.verdicts("rear")
    out = [v.figure.key for v in every if v.state in ("low", "high")]
    for key in ("links", "travel"):
        window.go(key)
        QApplication.processEvents()
        assert shown()[: len(out)] == out
        mine = {v.figure.key for v in every if v.station == key}
        assert mine <= set(shown())
        assert set(shown()) - mine - set(out) <= {window.bench.figure}


def test_stations_come_in_the_order_of_the_work_each_with_its_key(window: MainWindow) -> None:
    for i, station in enumerate(STATIONS):
        QTest.keyClick(window, Qt.Key(Qt.Key.Key_1 + i), Qt.KeyboardModifier.ControlModifier)
        assert window.bench.look_at.station == station.key
        assert window.stack.currentWidget() is window.station(station.key)
        assert window.rail.isVisible() == station.moves
        assert window.order.buttons[station.key].current


def test_each_axle_keeps_its_posture_and_ride_height_sets_all(open_window: Open) -> None:
    window = open_window(2)
    bench = window.bench
    bench.set_posture(30.0, -20.0)
    bench.select_axle("front")
    assert (bench.posture.left_mm, bench.posture.right_mm) == (0.0, 0.0)
    bench.set_posture(-10.0, 10.0)
    bench.select_axle("rear")
    assert (bench.posture.left_mm, bench.posture.right_mm) == (30.0, -20.0)
    window.rail.ride.click()
    assert bench.look_at.posture.is_ride


def test_each_wheel_has_its_slider_once_crossed_up(window: MainWindow) -> None:
    line, bench = window.rail.line, window.bench
    assert [letter for _, letter in line._sliders()] == [""]
    window.rail.cross.click()
    places = {letter: x for x, letter in line._sliders()}
    assert set(places) == {"L", "R"}
    y, start = line.height() // 2, round(places["R"])
    to = round(line._x(0.0))
    QTest.mousePress(line, Qt.MouseButton.LeftButton, pos=QPoint(start, y))
    QTest.mouseMove(line, QPoint(to, y))
    QTest.mouseRelease(line, Qt.MouseButton.LeftButton, pos=QPoint(to, y))
    assert bench.posture.right_mm == 0.0
    assert bench.posture.left_mm == bench.axle.bump_mm


def test_steer_is_taken_and_says_that_nothing_turns(open_window: Open) -> None:
    window = open_window(2)
    job = set_axle("rear", "No steering", steering=None, steered=False).apply(window.bench.job)
    window.bench.open_job(set_steering("front", None).apply(job))
    assert not window.rail.steer.isVisible()  # the rear axle does not steer
    window.bench.select_axle("front")
    assert window.rail.steer.isVisible()
    type_into(window.rail.steer, "1.5")
    assert window.bench.posture.steer == 1.5
    assert "no steering" in window.rail.words.text()
    assert "turns nothing" in window.rail.words.toolTip()
    window.rail.ride.click()
    assert window.bench.posture.steer == 0.0


def test_the_ends_of_the_shaft_are_dragged_typed_and_nudged(window: MainWindow) -> None:
    bench = window.bench
    bench.do(set_axle("rear", "Output", output=Yoke(at=Point(x=-1500.0, y=0.0, z=520.0))))
    bench.do(set_axle("rear", "Pinion", pinion=Yoke(at=Point(x=-2700.0, y=0.0, z=480.0))))
    QApplication.processEvents()
    pane, spot = window.station("links").floor.panes["side"], Spot("rear", "", "output")
    assert spot in [s.spot for s in pane.shapes if isinstance(s, Joint)]
    drag(pane, spot, (0.0, -20.0))
    assert point_of(bench.job, spot).z == pytest.approx(520.0 + 20.0 / pane.transform().m11(), abs=0.5)
    strip = window.station("links").strip
    assert strip.which.currentText() == "Output yoke"
    drilled = [a for a in strip.more.menu().actions() if "hole" in a.text() and a.isVisible()]
    assert not drilled
    type_into(strip.up, "20")
    assert point_of(bench.job, spot).z == pytest.approx(508.0)
    pane.setFocus()
    QTest.keyClick(pane, Qt.Key.Key_Up)
    assert point_of(bench.job, spot).z == pytest.approx(508.0 + 25.4 / 16)
    bench.undo()
    bench.undo()
    bench.undo()
    assert point_of(bench.job, spot).z == 520.0


def test_what_became_of_an_edit_is_said(window: MainWindow) -> None:
    bench = window.bench
    assert bench.do(set_job("Name", name="Another")).state == "done"
    assert bench.do(set_job("Name", name="Another")).state == "unchanged"
    refused = bench.do(set_job("Name", name=""))
    assert refused.state == "refused"
    assert "Name" in refused.sentence


def test_steer_turns_the_wheels_of_a_steered_axle(open_window: Open) -> None:
    """A job with a steering: the typed turns turn the tires on the floor and in the walk-around, and back."""
    window = open_window(2)
    bench = window.bench
    bench.select_axle("front")
    assert bench.do(
        set_axle("front", "Steering", steering=steering_guess(bench.job.vehicle, bench.axle, "crossover"))
    ).done
    window.go("links")
    QApplication.processEvents()
    floor = window.station("links").floor
    before = [s for s in floor.panes["plan"]._still if isinstance(s, Area) and s.style == "tire"]
    type_into(window.rail.steer, "0.8")
    assert window.rail.words.text().startswith("wheels ")
    assert window.rail.words.text().endswith("left")
    turned = [s for s in floor.panes["plan"]._still if isinstance(s, Area) and s.style == "tire"]
    assert turned != before
    spin = bench.studies.state().poses["front left knuckle"].linear[0][:, 1]
    study = bench.study("front")
    assert study is not None
    said = machine_readable_steer(bench.job.vehicle, study.now, 0.8)["steer"]
    assert np.degrees(np.arctan2(-spin[0], spin[1])) == pytest.approx(said["left_deg"])
    type_into(window.rail.steer, "0")
    assert [s for s in floor.panes["plan"]._still if isinstance(s, Area) and s.style == "tire"] == before


def test_stance_pages_by_keyboard(window: MainWindow, qtbot: QtBot) -> None:
    keys: Callable[..., None] = QTest.keyClick
    keys(window, Qt.Key.Key_1, Qt.KeyboardModifier.ControlModifier)
    for i, key in enumerate((Qt.Key.Key_1, Qt.Key.Key_2, Qt.Key.Key_3, Qt.Key.Key_4)):
        keys(window, key, Qt.KeyboardModifier.AltModifier)
        qtbot.waitUntil(lambda i=i: window.station("stance").pages.current == i)
