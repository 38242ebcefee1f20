"""In a real window under a display server: mapped, painted, driven, closed."""

import os

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from pytestqt.qtbot import QtBot

from even_stance.desktop.stations.links.station import HOLES
from even_stance.desktop.stations.springs.station import FLOOR, PARTS, STOPS
from even_stance.desktop.stations.stance.station import SHEET
from even_stance.vehicle.edits import set_holes, set_springs
from even_stance.vehicle.spots import Spot, mount_of, point_of
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
    drag(window.station("links").floor.panes["side"], lower, (0.0, 25.0))
    assert mount_of(window.bench.job, lower).at.z < before.z
    QTest.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert mount_of(window.bench.job, lower).at == before


def test_scrubbing_the_rail_and_cycling(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(1)
    line = window.rail.line
    QTest.mouseClick(line, Qt.MouseButton.LeftButton, pos=QPoint(line.width() - 40, line.height() // 2))
    assert window.bench.posture.left_mm > 60.0
    QTest.keyClick(line, Qt.Key.Key_Home)
    assert window.bench.posture.left_mm == 0.0
    window.rail.cycle.click()
    qtbot.waitUntil(lambda: abs(window.bench.posture.left_mm) > 5.0, timeout=5000)
    window.rail.cycle.click()
    assert window.bench.posture.left_mm == 0.0


def test_typing_with_the_keyboard_alone(open_window: Open) -> None:
    window = open_window()
    QTest.keyClick(window, Qt.Key.Key_1, Qt.KeyboardModifier.ControlModifier)
    type_into(window.station("stance").car.wheelbase, "117 1/2")
    assert window.bench.job.vehicle.wheelbase_mm == pytest.approx(117.5 * 25.4)
    QTest.keyClick(window, Qt.Key.Key_E, Qt.KeyboardModifier.ControlModifier)
    assert window.bench.axle_key == "front"


def test_measuring_with_a_gauge_in_a_real_window(open_window: Open, qtbot: QtBot) -> None:
    """The practice angle finder on body rake, taken with the keyboard while the field keeps the focus."""
    window = open_window()
    QTest.keyClick(window, Qt.Key.Key_1, Qt.KeyboardModifier.ControlModifier)
    window.station("stance").turn_to(SHEET)
    page = window.station("stance").pages.page(SHEET)
    page._select(1)
    bar = window.station("stance").gauge
    bar.port.setCurrentIndex(1)
    bar.connect_button.click()
    field = page.fields["floor.frame"]
    field.setFocus()
    qtbot.waitUntil(lambda: bar.live is not None, timeout=5000)
    for count in (1, 2, 3):
        QTest.keyClick(field, Qt.Key.Key_Return, Qt.KeyboardModifier.ControlModifier)
        qtbot.waitUntil(lambda count=count: len(window.bench.job.measuring.readings) == count, timeout=5000)
    assert window.bench.job.measuring.rake_deg == pytest.approx(2.4, abs=0.5)
    assert page.table.rowCount() == 3
    bar.connect_button.click()
    QTest.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert len(window.bench.job.measuring.readings) == 2


def test_why_try_and_compare_in_a_real_window(open_window: Open, qtbot: QtBot) -> None:
    """A vial clicked, its strip read, a suggestion tried, a joint dragged with the strip open, all undone."""
    window = open_window()
    vial = window.vials.vials[0]
    with qtbot.waitSignal(window.station("links").why.shown, timeout=60_000):
        QTest.mouseClick(vial, Qt.MouseButton.LeftButton)
    assert window.station("links").why.isVisible()
    before = window.bench.job
    assert window.station("links").why.tries
    QTest.mouseClick(window.station("links").why.tries[0], Qt.MouseButton.LeftButton)
    assert len(window.bench.job.variants) == len(before.variants) + 1
    picture = window.station("links").floor.panes["side"].grab().toImage()
    green = window.look.color("bubble")
    colors = (picture.pixelColor(x, y) for x in range(picture.width()) for y in range(picture.height()))
    near = sum(
        max(abs(c.red() - green.red()), abs(c.green() - green.green()), abs(c.blue() - green.blue())) < 16
        for c in colors
    )
    assert near > 30  # the car as it was is drawn beneath
    lower = Spot("rear", "Lower left", "axle")
    drag(window.station("links").floor.panes["side"], lower, (0.0, 15.0))
    while window.bench.document.history.undo_label:
        QTest.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert window.bench.job == before


def test_long_search_in_a_real_window_leaves_it_alive(open_window: Open, qtbot: QtBot) -> None:
    window = open_window()
    for name, end in (("Upper left", "chassis"), ("Lower left", "chassis"), ("Upper left", "axle")):
        window.bench.do(set_holes(Spot("rear", name, end), 9, 8.0))
    window.station("links").turn_to(HOLES)
    page = window.station("links").pages.page(HOLES)
    page.start.click()
    window.station("links").turn_to(0)
    pane = window.station("links").floor.panes["side"]
    drag(pane, Spot("rear", "Lower left", "axle"), (0.0, 10.0))  # the window answers while it searches
    qtbot.waitUntil(lambda: page.found is not None, timeout=20_000)
    assert page.found.count == 729
    window.station("links").turn_to(HOLES)
    page.refresh()
    assert "changed since" in page.words.text()


def test_hovering_a_chart_with_the_real_mouse(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(2)
    QTest.keyClick(window, Qt.Key.Key_3, Qt.KeyboardModifier.ControlModifier)
    chart = window.station("travel").charts["roll"]
    qtbot.waitUntil(lambda: len(chart.x) == 61)
    QTest.mouseMove(chart.viewport(), QPoint(chart.width() // 2, chart.height() // 2))
    qtbot.waitUntil(lambda: "click to go there" in window.station("travel").words.text(), timeout=5000)
    QTest.mouseClick(
        chart.viewport(), Qt.MouseButton.LeftButton, pos=QPoint(chart.width() * 3 // 4, chart.height() // 2)
    )
    qtbot.waitUntil(lambda: window.bench.posture.left_mm > 10.0, timeout=5000)


def test_springs_put_on_dragged_and_set_in_a_real_window(open_window: Open, qtbot: QtBot) -> None:
    """Coil-overs on a bare axle, a mount dragged inward, stops set, undone with the keyboard."""
    window = open_window(1)
    bench = window.bench
    bench.open_job(set_springs("rear", (), "Bare").apply(bench.job))
    bench.select_axle("rear")
    QTest.keyClick(window, Qt.Key.Key_6, Qt.KeyboardModifier.ControlModifier)
    station = window.station("springs")
    qtbot.waitUntil(station.isVisible)
    station.turn_to(PARTS)
    page = station.pages.page(PARTS)
    for kind in ("coil_over", "bump_stop", "strap"):
        page.kind.setCurrentIndex(page.kind.findData(kind))
        QTest.mouseClick(page.put, Qt.MouseButton.LeftButton)
    assert len(bench.axle.springs) == 6
    station.turn_to(FLOOR)
    qtbot.waitUntil(station.floor.panes["rear"].isVisible)
    top = Spot("rear", "Coil-over left", "top")
    before = point_of(bench.job, top)
    drag(station.floor.panes["rear"], top, (30.0, 0.0))
    assert point_of(bench.job, top).y < before.y
    station.turn_to(STOPS)
    QTest.mouseClick(station.pages.page(STOPS).use, Qt.MouseButton.LeftButton)
    assert bench.studies.stops("rear") is not None
    QTest.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    QTest.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert point_of(bench.job, top) == before
