"""In a real window under a display server: mapped, painted, driven, closed."""

import os

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from pytestqt.qtbot import QtBot

from even_stance.vehicle.edits import Spot, mount_of
from tests.interface.conftest import Open, drag, type_into

pytestmark = [
    pytest.mark.window,
    pytest.mark.skipif(not os.environ.get("DISPLAY"), reason="needs a display; test.sh brings one"),
]


def test_window_is_mapped_painted_and_answers_the_mouse(open_window: Open, qtbot: QtBot) -> None:
    window = open_window()
    qtbot.waitUntil(lambda: window.isVisible() and window.windowHandle().isExposed())
    picture = window.grab().toImage()
    colors = {picture.pixelColor(x, y).name() for x in range(0, 1280, 16) for y in range(0, 800, 16)}
    assert len(colors) > 20
    lower = Spot("rear", "Lower left", "axle")
    before = mount_of(window.bench.job, lower).at
    drag(window.links.floor.panes["side"], lower, (0.0, 25.0))
    assert mount_of(window.bench.job, lower).at.z < before.z
    QTest.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert mount_of(window.bench.job, lower).at == before


def test_scrubbing_the_rail_and_cycling(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(1)
    line = window.rail.line
    QTest.mouseClick(line, Qt.MouseButton.LeftButton, pos=QPoint(line.width() - 40, line.height() // 2))
    assert window.bench.left > 60.0
    QTest.keyClick(line, Qt.Key.Key_Home)
    assert window.bench.left == 0.0
    window.rail.cycle.click()
    qtbot.waitUntil(lambda: abs(window.bench.left) > 5.0, timeout=5000)
    window.rail.cycle.click()
    assert window.bench.left == 0.0


def test_typing_with_the_keyboard_alone(open_window: Open) -> None:
    window = open_window()
    QTest.keyClick(window, Qt.Key.Key_1, Qt.KeyboardModifier.ControlModifier)
    type_into(window.stance.car.wheelbase, "117 1/2")
    assert window.bench.job.vehicle.wheelbase_mm == pytest.approx(117.5 * 25.4)
    QTest.keyClick(window, Qt.Key.Key_E, Qt.KeyboardModifier.ControlModifier)
    assert window.bench.axle_key == "front"
