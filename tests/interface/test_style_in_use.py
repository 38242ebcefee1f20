"""The style of the house under real hands: ticks, choices, menus and bars of the real window on a real display."""

import pytest
from PyQt6.QtCore import QPoint, Qt, QTimer
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QCheckBox, QComboBox, QScrollArea, QScrollBar, QWidget

from even_stance.desktop.window import MainWindow
from even_stance.vehicle.edits import set_job
from tests.interface.conftest import until
from tests.interface.test_style import picture

SOLVE = 6


def _seen(window: MainWindow, kind: type[QWidget]) -> list[QWidget]:
    return [w for w in window.findChildren(kind) if w.isVisible() and w.isEnabled()]


@pytest.mark.window
def test_a_box_is_ticked_by_key_and_by_any_place_of_it(window: MainWindow) -> None:
    window.go("links")
    window.station("links").turn_to(SOLVE)
    QApplication.processEvents()
    box = next(w for w in _seen(window, QCheckBox) if w.text())  # type: ignore[attr-defined]
    assert isinstance(box, QCheckBox)
    before = picture(box)
    box.setFocus()
    QTest.keyClick(box, Qt.Key.Key_Space)
    assert box.isChecked()
    assert (picture(box) != before).any()
    for x in (3, box.width() // 2, box.width() - 3):
        was = box.isChecked()
        QTest.mouseClick(box, Qt.MouseButton.LeftButton, pos=QPoint(x, box.height() // 2))
        assert box.isChecked() != was, f"{x} px from its left it does not answer"


@pytest.mark.window
def test_a_choice_is_made_by_keys_and_by_a_click_on_its_arrow(window: MainWindow) -> None:
    window.go("stance")
    QApplication.processEvents()
    choice = next(w for w in _seen(window, QComboBox) if w.count() > 2)  # type: ignore[attr-defined]
    assert isinstance(choice, QComboBox)
    choice.setFocus()
    choice.setCurrentIndex(0)
    QTest.keyClick(choice, Qt.Key.Key_Down)
    assert choice.currentIndex() == 1
    QTest.mouseClick(choice, Qt.MouseButton.LeftButton, pos=QPoint(choice.width() - 8, choice.height() // 2))
    view = choice.view()
    assert view is not None
    until(view.isVisible)
    QTest.keyClick(view, Qt.Key.Key_Down)
    QTest.keyClick(view, Qt.Key.Key_Return)
    until(lambda: not view.isVisible())
    assert choice.currentIndex() == 2


@pytest.mark.window
def test_the_arrow_beside_undo_lists_what_was_done(window: MainWindow) -> None:
    bench = window.bench
    for name in ("Shed find", "Barn find"):
        bench.do(set_job(f"Name {name}", name=name))
    button, told = window.header.undo, []
    menu = button.menu()
    assert menu is not None

    def look_and_close() -> None:  # the menu takes everything until it is closed
        told.extend(a.text() for a in menu.actions())
        menu.close()

    QTimer.singleShot(100, look_and_close)
    QTest.mousePress(button, Qt.MouseButton.LeftButton, pos=QPoint(button.width() - 8, button.height() // 2))
    assert len(told) >= 2
    QTest.mouseClick(button, Qt.MouseButton.LeftButton, pos=QPoint(10, button.height() // 2))
    assert bench.job.name == "Shed find"


@pytest.mark.window
def test_a_page_is_scrolled_by_its_bar(window: MainWindow) -> None:
    window.resize(1024, 600)
    window.go("stance")
    QApplication.processEvents()
    bars = [w for w in _seen(window, QScrollBar) if w.maximum() > 0 and w.height() > w.width()]  # type: ignore[attr-defined]
    bar = bars[0]
    assert isinstance(bar, QScrollBar)
    assert isinstance(bar.parent().parent(), QScrollArea)  # type: ignore[union-attr]
    x = bar.width() // 2
    QTest.mousePress(bar, Qt.MouseButton.LeftButton, pos=QPoint(x, 8))
    QTest.mouseMove(bar, QPoint(x, bar.height() // 2))
    QTest.mouseMove(bar, QPoint(x, bar.height() - 1))
    QTest.mouseRelease(bar, Qt.MouseButton.LeftButton, pos=QPoint(x, bar.height() - 1))
    assert bar.value() == bar.maximum()
    QTest.mouseClick(bar, Qt.MouseButton.LeftButton, pos=QPoint(x, 2))
    assert bar.value() < bar.maximum()
