"""What can be checked of looks without eyes: contrast, names for screen readers, and words that fit their buttons."""

import numpy as np
import pytest
from PyQt6.QtWidgets import (
    QAbstractButton,
    QApplication,
    QComboBox,
    QLabel,
    QLineEdit,
    QPushButton,
    QTableWidget,
    QWidget,
)

from even_stance.desktop.colors import PALETTES
from even_stance.desktop.window import MainWindow
from tests.interface.conftest import Open
from tests.reach import luminance


def _contrast(one: str, other: str) -> float:
    """Contrast ratio (WCAG 2.1, definition of contrast ratio)."""
    colors = np.array([[int(code[i : i + 2], 16) / 255 for i in (1, 3, 5)] for code in (one, other)])
    dark, light = sorted(luminance(colors).tolist())
    return float((light + 0.05) / (dark + 0.05))


def test_contrast_of_the_extremes_is_that_of_the_standard() -> None:
    """WCAG 2.1: black on white is 21 to 1."""
    assert _contrast("#000000", "#ffffff") == pytest.approx(21.0)


@pytest.mark.parametrize("name", PALETTES)
def test_words_and_lines_stand_out_enough(name: str) -> None:
    """WCAG 2.1 AA: text 4.5 to 1 (1.4.3), parts of drawings and controls 3 to 1 (1.4.11)."""
    p = PALETTES[name]  # type: ignore[index]
    for ground in (p.page, p.sheet, p.floor):
        for ink in (p.ink, p.faint, p.alarm, p.accent):
            assert _contrast(ink, ground) >= 4.5, (ink, ground)
        for line in (p.upper, p.lower, p.lateral):
            assert _contrast(line, ground) >= 3.0, (line, ground)
    assert _contrast(p.on_accent, p.accent) >= 4.5
    assert _contrast(p.bubble_edge, p.glass) >= 3.0
    # The three kinds of links differ in lightness too, or in dash: never by color alone.
    assert len({p.upper, p.lower, p.lateral}) == 3


def _pages(window: MainWindow) -> list[tuple[str, QWidget]]:
    found = []
    for station, count in (("stance", 7), ("links", 7), ("travel", 2)):
        window.go(station)
        shown = window.station(station)
        for page in range(count):
            shown.turn_to(page)  # type: ignore[union-attr]
            QApplication.processEvents()
            yield_name = f"station {station} page {page}"
            found.append((yield_name, window.centralWidget()))
            _look_at(yield_name, window)
    return found


def _look_at(where: str, window: MainWindow) -> None:
    """Every control seen has a name; every button has room for its words."""
    for widget in window.findChildren(QWidget):
        if not widget.isVisible():
            continue
        if isinstance(widget, QPushButton) and widget.styleSheet() == "":
            need = widget.fontMetrics().horizontalAdvance(widget.text())
            assert widget.width() >= need, f"{where}: “{widget.text()}” is cut off"
        if isinstance(widget, QAbstractButton):
            assert widget.text() or widget.accessibleName(), f"{where}: a button without words"
        if isinstance(widget, QLineEdit | QComboBox | QTableWidget) and widget.objectName() != "qt_spinbox_lineedit":
            labels = [w for w in window.findChildren(QLabel) if w.buddy() is widget]
            parent = widget.parent()
            inside = isinstance(parent, QComboBox) or (parent is not None and isinstance(parent.parent(), QComboBox))
            assert widget.accessibleName() or labels or inside, f"{where}: {type(widget).__name__} without a name"


@pytest.mark.parametrize("demo", range(3))
def test_everything_seen_has_a_name_and_fits(open_window: Open, demo: int) -> None:
    window = open_window(demo)
    window.resize(1280, 800)
    assert len(_pages(window)) == 16
    window.ask_new()
    QApplication.processEvents()
    _look_at("new job", window)


@pytest.mark.parametrize("demo", [0, 2])
def test_metric_fits_as_well(open_window: Open, demo: int) -> None:
    window = open_window(demo)
    window.resize(1280, 800)
    if window.bench.job.units == "us":  # thousandths come between
        window.header.units.click()
    window.header.units.click()
    _pages(window)
    assert window.bench.document.history.undo_label == "Units"


def test_a_random_afternoon_in_the_window(open_window: Open) -> None:
    """Every button of every page pressed in turn: the window never falls over."""
    window = open_window(2)
    first = window.bench.job
    skip = {"Job ▾", "Look ▾", "Bracket…", "Print the sheet…", "Open a file of points…", "Table…", "Picture…",
            "Open a job file…", "Start this job", "Connect", "Cycle"}  # fmt: skip
    for station, count in (("stance", 7), ("links", 7), ("travel", 2)):
        window.go(station)
        shown = window.station(station)
        for page in range(count):
            shown.turn_to(page)  # type: ignore[union-attr]
            QApplication.processEvents()
            buttons = [b for b in window.centralWidget().findChildren(QPushButton) if b.isVisible() and b.isEnabled()]
            for button in buttons:
                try:
                    text = button.text()
                    if text in skip or button in shown.pages.buttons:  # type: ignore[union-attr]
                        continue
                    button.click()
                except RuntimeError:  # a press before took this button away
                    continue
                QApplication.processEvents()
                if window.bench.look_at.station != station:
                    window.go(station)
    while window.bench.document.history.undo_label:
        window.bench.undo()
    assert window.bench.job == first
