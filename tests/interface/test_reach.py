"""Every page for everybody: by Tab alone, at every scale and size of window, without color, and through a screen reader."""

import json
import os
import shutil
import subprocess
import sys
from itertools import combinations
from pathlib import Path

import numpy as np
import pytest
from colorspacious import cspace_convert, deltaE
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QLabel, QLineEdit, QWidget

from even_stance.desktop.app import of_the_system
from even_stance.desktop.colors import PALETTES
from even_stance.desktop.look import Look
from even_stance.desktop.rail import RailLine
from even_stance.desktop.stations import STATIONS
from even_stance.desktop.taborder import in_order, takes_tab
from even_stance.desktop.window import MainWindow
from even_stance.study.styles import banding_of
from tests.interface.conftest import Open
from tests.reach import every_page, faint_words, faults, looked_over, overlaps, too_small

ROOT = Path(__file__).resolve().parent.parent.parent


@pytest.mark.parametrize(
    ("number", "look", "percent", "size"),
    [(2, "paper", 100, (1280, 800)), (0, "night", 150, (1366, 768)), (0, "paper", 200, (1280, 800))],
)
def test_no_page_cuts_a_word_or_outgrows_its_screen(
    open_window: Open, number: int, look: str, percent: int, size: tuple[int, int]
) -> None:
    """A short run of scripts/long_reach.py, one of them of a job in millimeters, whose names of units are longer."""
    window = open_window(number)
    window.bench.select_axle("rear")
    assert looked_over(window, look, percent, size) == []


def test_a_scale_chosen_later_is_as_good_as_one_begun_with(open_window: Open) -> None:
    """Pages that were made large are small again: nothing keeps the room that it was given then."""
    window = open_window(0)
    window.bench.select_axle("rear")
    window.set_look("paper", 200)
    for _ in every_page(window):
        pass
    assert looked_over(window, "night", 100, (1280, 800)) == []


def test_the_look_over_finds_what_is_wrong(window: MainWindow) -> None:
    """A check that finds nothing whatever is there would prove nothing."""
    assert faults(window) == []
    button = window.header.units
    button.setFixedWidth(20)
    window.rail.cycle.setMaximumHeight(12)
    QApplication.processEvents()
    found = " ".join(faults(window))
    assert "QToolButton “Units”" in found
    assert list(too_small(window))
    window.rail.ride.setGeometry(window.rail.left.geometry())
    assert list(overlaps(window))
    pale = QLabel("Hardly there", window.header)
    pale.setStyleSheet("color: #d8d4c8; background: #fbfaf6")
    pale.setGeometry(300, 6, 120, 24)
    pale.show()
    assert any("Hardly there" in found for found in faint_words(window))
    pale.setStyleSheet("color: #202020; background: #fbfaf6")
    assert not any("Hardly there" in found for found in faint_words(window))


def test_gloves_make_everything_that_is_pressed_large(window: MainWindow) -> None:
    window.set_look(glove=True)
    window.resize(1280, 800)
    QApplication.processEvents()
    for widget in (window.header.units, window.rail.ride, window.rail.left, window.station("links").pages.buttons[0]):
        assert widget.height() >= 44
    assert (window.width(), window.height()) == (1280, 800)
    assert window.settings.recall_glove()


def test_vials_and_page_take_turns_where_there_is_no_room_for_both(window: MainWindow) -> None:
    assert not window.header.turn.isVisible()
    window.set_look("paper", 200)
    window.resize(1280, 800)
    QApplication.processEvents()
    assert window.header.turn.isVisible()
    assert not window.vials.isVisible()
    window.header.turn.click()
    assert window.vials.isVisible()
    assert not window.stack.isVisible()
    window.go("travel")  # who goes to a station wants to see it
    assert window.stack.isVisible()
    window.set_look("paper", 100)
    QApplication.processEvents()
    assert window.vials.isVisible()
    assert window.stack.isVisible()


# --- by Tab


@pytest.mark.parametrize("station", [s.key for s in STATIONS])
def test_tab_goes_through_every_page_and_comes_back(window: MainWindow, station: str) -> None:
    """Every thing that takes the focus is stopped at once a round, in the order of the page, and none is a trap."""
    window.go(station)
    pages = window.station(station).pages
    for number in range(len(pages.buttons)):
        pages.turn_to(number)
        QApplication.processEvents()
        wanted = [w for w in in_order(window) if takes_tab(w)]
        wanted[0].setFocus()
        stops: list[QWidget] = []
        for _ in range(len(wanted) + 5):
            now = QApplication.focusWidget()
            assert now is not None
            if now in stops:
                break
            stops.append(now)
            QTest.keyClick(now, Qt.Key.Key_Tab)
        assert stops == wanted, (station, number)
        QTest.keyClick(stops[0], Qt.Key.Key_Backtab)
        assert QApplication.focusWidget() is stops[-1]


def test_a_page_turned_to_by_key_goes_on_with_its_first_field(window: MainWindow) -> None:
    window.go("stance")
    QTest.keyClick(window, Qt.Key.Key_6, Qt.KeyboardModifier.AltModifier)
    now = QApplication.focusWidget()
    assert isinstance(now, QLineEdit)
    assert now.accessibleName() == "Wheelbase, left"
    QTest.keyClick(now, Qt.Key.Key_Tab)
    after = QApplication.focusWidget()
    assert after is not None
    assert after.accessibleName() == "Wheelbase, right"


def test_stations_are_one_stop_and_walked_by_arrows(window: MainWindow) -> None:
    button = window.order.buttons["links"]
    button.setFocus()
    QTest.keyClick(button, Qt.Key.Key_Down)
    assert QApplication.focusWidget() is window.order.buttons["travel"]
    QTest.keyClick(window.order.buttons["travel"], Qt.Key.Key_Return)
    assert window.bench.look_at.station == "travel"
    assert [takes_tab(b) for b in window.order.buttons.values()].count(True) == 1


def test_the_rail_is_moved_as_a_slider(window: MainWindow) -> None:
    line: RailLine = window.rail.line
    line.setValue(40)  # as a screen reader does
    assert window.bench.posture.left_mm == pytest.approx(40.0)
    window.bench.set_posture(-20.0, -20.0)
    assert line.value() == -20


# --- without color


@pytest.mark.parametrize("look", PALETTES)
@pytest.mark.parametrize("sight", ["usual", "protanomaly", "deuteranomaly", "tritanomaly"])
def test_members_and_alarm_differ_in_every_sight(look: str, sight: str) -> None:
    """Delta E (CIE 1976) of the colors as they are seen with each kind of color blindness (Machado and others, 2009)."""
    palette = PALETTES[look]  # type: ignore[index]

    def seen(name: str) -> np.ndarray:  # type: ignore[type-arg]
        text = getattr(palette, name)
        color = np.array([int(text[i : i + 2], 16) / 255 for i in (1, 3, 5)])
        if sight == "usual":
            return color
        space = {"name": "sRGB1+CVD", "cvd_type": sight, "severity": 100}
        return np.clip(cspace_convert(color, space, "sRGB1"), 0.0, 1.0)

    for one, other in combinations(("upper", "lower", "lateral", "alarm"), 2):
        apart = float(deltaE(seen(one), seen(other), input_space="sRGB1", uniform_space="CIELab"))
        assert apart >= 15.0, (one, other, apart)


def test_members_differ_by_what_is_drawn_on_them_as_well() -> None:
    drawn = [banding_of(role) for role in ("upper", "lower", "lateral")]
    assert len({str(d) for d in drawn}) == 3


def test_the_look_of_the_desktop_is_used_until_one_is_chosen(qapp: QApplication) -> None:
    name, percent = of_the_system(qapp)
    assert name in PALETTES
    font = qapp.font()
    larger = qapp.font()
    larger.setPixelSize(26)
    try:
        qapp.setFont(larger)
        assert of_the_system(qapp)[1] == 200
        larger.setPixelSize(13)
        qapp.setFont(larger)
        assert of_the_system(qapp)[1] == 100
    finally:
        qapp.setFont(font)
    assert percent in (100, 125, 150, 175, 200)
    assert Look().glove is False


# --- through a screen reader


@pytest.mark.window
def test_a_screen_reader_finds_every_control_by_name(tmp_path: Path) -> None:
    """The tree that AT-SPI gives to screen readers: no control without a name, sliders with values, buttons to press."""
    assert shutil.which("dbus-run-session")
    environment = {
        **os.environ, "QT_LINUX_ACCESSIBILITY_ALWAYS_ON": "1", "QT_QPA_PLATFORM": "xcb", "HOME": str(tmp_path),
        "XDG_CONFIG_HOME": str(tmp_path / "c"), "XDG_DATA_HOME": str(tmp_path / "d"), "XDG_RUNTIME_DIR": str(tmp_path),
    }  # fmt: skip
    done = subprocess.run(
        ["dbus-run-session", "--", "bash", str(ROOT / "tests" / "screenreader.sh"), sys.executable],
        capture_output=True, text=True, env=environment, check=False, timeout=180,
    )  # fmt: skip
    assert done.returncode == 0, done.stderr[-2000:]
    tree = json.loads(done.stdout.strip().split("\n")[-1])
    seen = [i for i in tree if i["focusable"] and i["role"] not in ("list item", "frame", "filler")]
    seen = [i for i in seen if i["showing"] or i["role"] != "list"]  # lists that boxes open when they are pressed
    assert len(seen) > 40
    assert [(i["role"], i["under"]) for i in seen if not i["name"] and not i["labeled"]] == []
    by_role: dict[str, list[str]] = {}
    for item in seen:
        by_role.setdefault(item["role"], []).append(item["name"])
    buttons = " ".join(by_role["push button"])
    assert all(station.title in buttons for station in STATIONS)
    assert "Anti-squat: 39 %" in buttons
    assert "Side projection" in buttons
    slider = next(item for item in seen if item["name"] == "Travel of both wheels")
    low, now, high = slider["value"]
    assert low < now == 0.0 < high
    # What is focusable and has no role of its own would be silent.
    silent = [
        item
        for item in tree
        if item["focusable"] and item["role"] in ("filler", "unknown", "panel") and item["showing"]
    ]
    assert silent == []
