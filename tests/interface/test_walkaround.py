"""Walking around the car in the real window: turned, zoomed and slid by hand and key, points taken hold of."""

import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtGui import QWheelEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from even_stance.desktop.stations.links.station import WALK
from even_stance.desktop.walkaround import WalkAround
from even_stance.desktop.window import MainWindow
from even_stance.vehicle.spots import Spot


@pytest.fixture
def walk(window: MainWindow) -> WalkAround:
    window.station("links").turn_to(WALK)
    QApplication.processEvents()
    page = window.station("links").pages.page(WALK)
    assert isinstance(page, WalkAround)
    return page


def _colors(walk: WalkAround) -> set[int]:
    image = walk.grab().toImage()
    return {image.pixel(x, y) for x in range(0, image.width(), 7) for y in range(0, image.height(), 7)}


def test_hands_and_keys_turn_zoom_and_slide(walk: WalkAround) -> None:
    first = walk.eye
    assert first is not None
    assert len(_colors(walk)) > 40  # solids in light and shade, not an empty floor
    at = QPoint(60, 60)
    QTest.mousePress(walk, Qt.MouseButton.LeftButton, pos=at)
    QTest.mouseMove(walk, at + QPoint(100, -20))
    QTest.mouseRelease(walk, Qt.MouseButton.LeftButton, pos=at + QPoint(100, -20))
    assert walk.eye.turn_deg == pytest.approx((first.turn_deg - 35.0) % 360)
    assert walk.eye.rise_deg == pytest.approx(first.rise_deg - 7.0)
    turned = walk.eye
    QTest.mousePress(walk, Qt.MouseButton.RightButton, pos=at)
    QTest.mouseMove(walk, at + QPoint(50, 0))
    QTest.mouseRelease(walk, Qt.MouseButton.RightButton, pos=at + QPoint(50, 0))
    assert walk.eye.target != turned.target
    assert walk.eye.turn_deg == turned.turn_deg
    wheel = QWheelEvent(
        QPointF(at), walk.mapToGlobal(QPointF(at)), QPoint(), QPoint(0, 120), Qt.MouseButton.NoButton,
        Qt.KeyboardModifier.NoModifier, Qt.ScrollPhase.NoScrollPhase, False,
    )  # fmt: skip
    QApplication.sendEvent(walk, wheel)
    assert walk.eye.away_mm < turned.away_mm
    walk.setFocus()
    QTest.keyClick(walk, Qt.Key.Key_Left)
    assert walk.eye.turn_deg == pytest.approx((turned.turn_deg - 5.0) % 360)
    QTest.keyClick(walk, Qt.Key.Key_F)
    assert walk.eye == first
    walk.stands["Behind"].click()
    assert (walk.eye.turn_deg, walk.eye.rise_deg) == (180.0, 8.0)


def test_a_click_takes_hold_of_a_joint_on_either_axle(walk: WalkAround, window: MainWindow) -> None:
    spot = Spot("rear", "Lower right", "axle")
    walk.stands["Behind"].click()
    one = next(s for s in walk.seen if s.solid.spot == spot)
    QTest.mouseClick(walk, Qt.MouseButton.LeftButton, pos=walk.to_pixels(one.middle).toPoint())
    assert window.bench.spot == spot
    assert window.station("links").strip.which.currentText() == spot.words
    QTest.mouseClick(walk, Qt.MouseButton.LeftButton, pos=QPoint(8, 40))
    assert window.bench.spot is None


def test_it_follows_posture_edits_and_look(walk: WalkAround, window: MainWindow) -> None:
    before = {s.solid.name: s.middle for s in walk.seen if s.solid.axle == "rear"}
    window.bench.set_posture(80.0, -80.0)
    QApplication.processEvents()
    after = {s.solid.name: s.middle for s in walk.seen if s.solid.axle == "rear"}
    assert after["left tire"][1] > before["left tire"][1]
    assert after["right tire"][1] < before["right tire"][1]
    paper = _colors(walk)
    window.set_look("night")
    QApplication.processEvents()
    assert paper.isdisjoint({next(iter(_colors(walk)))}) or _colors(walk) != paper
