"""A new user in a real window: from an empty job to a judged linkage by clicks, and everything by keys alone."""

import time
from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QFileDialog, QLineEdit, QWidget

from even_stance.desktop.floormenu import floor_menu
from even_stance.desktop.placeslip import PlaceSlip
from even_stance.desktop.stations import STATIONS
from even_stance.desktop.vials import Vial
from even_stance.desktop.window import MainWindow
from even_stance.exchange.jobfile import load_job
from even_stance.study.answers import study_postures
from even_stance.vehicle.spots import spots_on
from even_stance.vehicle.variants import branch_names
from tests.interface.conftest import Open, drag, type_into, until

MINUTES = 5.0


def _click(widget: QWidget) -> None:
    assert widget.isVisible(), widget
    QTest.mouseClick(widget, Qt.MouseButton.LeftButton, pos=widget.rect().center())
    QApplication.processEvents()


def _key(key: Qt.Key, with_: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier) -> None:
    """A key goes to whatever has the focus, as on a real keyboard."""
    now = QApplication.focusWidget()
    assert now is not None
    QTest.keyClick(now, key, with_)
    QApplication.processEvents()


def _keys(text: str) -> None:
    now = QApplication.focusWidget()
    assert now is not None
    QTest.keyClicks(now, text)


def _start_job(window: MainWindow, name: str, *figures: str) -> None:
    """From the start page to a linkage: wheelbase, track, tire diameter and width typed."""
    window.begin()
    _click(window.welcome.ways["new"])
    panel = window.newjob
    fields = (panel.fields[k] for k in ("wheelbase_mm", "track_mm", "tire_diameter_mm", "tire_width_mm"))
    for field, text in zip((panel.name, *fields), (name, *figures), strict=True):
        _click(field)
        QTest.keyClicks(field, text)
    _click(panel.start)


@pytest.mark.window
def test_from_nothing_to_a_judged_linkage_saved_and_opened_again(open_window: Open, tmp_path: Path) -> None:
    """Clicks and typing alone, no guide: what is to be done next is always on the screen."""
    started = time.monotonic()
    window = open_window()
    _start_job(window, "Shed find", "112", "63", "33", "11 1/2")
    bench = window.bench
    assert bench.look_at.station == "links"
    verdicts = bench.verdicts("rear")
    assert len(verdicts) > 5  # judged at once
    wrong = next((v for v in window.vials.vials if v.isVisible() and v.verdict is not None and v.verdict.state != "inside"),
                 window.vials.vials[0])  # fmt: skip
    _click(wrong)
    why = window.station("links").why
    until(lambda: why.explanation is not None and why.explanation.title == wrong.verdict.title)  # type: ignore[union-attr]
    until(lambda: why.advice is not None)
    # A point is dragged and taken back: nothing can be broken.
    pane = window.station("links").floor.panes["side"]
    spot = next(s for s in (sh.spot for sh in pane.shapes if hasattr(sh, "spot")) if s.member.startswith("Lower"))
    place = pane.place_of(spot)
    assert place is not None
    before = bench.job
    at = QPoint(round(place.x()), round(place.y()))
    QTest.mousePress(pane, Qt.MouseButton.LeftButton, pos=at)
    for i in range(1, 8):
        QTest.mouseMove(pane, at + QPoint(0, -3 * i))
        QApplication.processEvents()
    QTest.mouseRelease(pane, Qt.MouseButton.LeftButton, pos=at + QPoint(0, -21))
    _click(window.header.undo)
    assert bench.job == before
    _key(Qt.Key.Key_S, Qt.KeyboardModifier.ControlModifier)
    dialog = next(d for d in window.findChildren(QFileDialog) if d.isVisible())
    name = next(f for f in dialog.findChildren(QLineEdit) if f.isVisible())
    path = tmp_path / "shed.stance"
    name.setText(str(path))
    QTest.keyClick(name, Qt.Key.Key_Return)
    until(path.exists)
    assert load_job(path)[0] == bench.job
    window.close()
    again = open_window()
    again.begin()
    assert [f.toolTip() for f in again.welcome.files] == [str(path)]
    _click(again.welcome.files[0])
    assert [v.figure.value for v in again.bench.verdicts("rear")] == pytest.approx([v.figure.value for v in verdicts])
    assert time.monotonic() - started < 60 * MINUTES


def _to_first_vial(window: MainWindow) -> None:
    """By Tab to the vials, wherever the focus is."""
    for _ in range(200):
        if isinstance(QApplication.focusWidget(), Vial):
            return
        _key(Qt.Key.Key_Tab)
    raise AssertionError("no vial is reached by Tab")


@pytest.mark.window
def test_every_page_and_every_number_by_keys_alone(open_window: Open) -> None:
    window = open_window(0)
    window.bench.select_axle("rear")
    ctrl, alt = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.AltModifier
    for n, station in enumerate(STATIONS):
        _key(Qt.Key(Qt.Key.Key_1 + n), ctrl)
        assert window.bench.look_at.station == station.key
        pages = window.station(station.key).pages
        for i in range(len(pages.buttons)):
            _key(Qt.Key(Qt.Key.Key_1 + i) if i < 9 else Qt.Key.Key_0, alt)
            if i < 9:
                assert pages.current == i, (station.key, i)
                assert QApplication.focusWidget() is not None
    # Every number of the axle says why it is so.
    _key(Qt.Key.Key_2, ctrl)
    _key(Qt.Key.Key_1, alt)
    why, told = window.station("links").why, set()
    _to_first_vial(window)
    count = sum(v.isVisible() for v in window.vials.vials)
    for _ in range(count):
        vial = QApplication.focusWidget()
        assert isinstance(vial, Vial)
        assert vial.verdict is not None
        title = vial.verdict.title
        _key(Qt.Key.Key_Return)
        until(lambda title=title: why.explanation is not None and why.explanation.title == title)  # type: ignore[misc]
        assert why.formula.text()
        told.add(title)
        if isinstance(QApplication.focusWidget(), Vial):
            _key(Qt.Key.Key_Down)
    assert len(told) >= count - 1
    # Help and back, undo list and menus have keys as well.
    _key(Qt.Key.Key_F1)
    assert window.help is not None
    assert window.help.isVisible()
    _key(Qt.Key.Key_Escape)
    assert window.station("links").isVisible()


@pytest.mark.window
def test_from_nothing_to_links_that_meet_where_they_were_asked_to(open_window: Open, tmp_path: Path) -> None:
    """A place is named on the floor, the instant center asked for there, solved, tried, held while a point moves, saved."""
    window = open_window()
    _start_job(window, "Barn truck", "116", "64", "33", "11")
    bench, links = window.bench, window.station("links")
    pane = links.floor.panes["side"]
    menu = floor_menu(pane, pane, bench, None, (-700.0, 0.0, 600.0))
    next(a for a in menu.actions() if a.text().startswith("Name this place")).trigger()
    slip = next(s for s in pane.findChildren(PlaceSlip) if s.isVisible())
    _click(slip.name)
    QTest.keyClicks(slip.name, "Seat base")
    for field, text in zip(slip.fields, ("-28", "0", "24"), strict=True):
        _click(field)
        field.selectAll()
        QTest.keyClicks(field, text)
    _click(slip.go)
    links.turn_to(6)
    solve = links.pages.page(6)
    solve.offers.aboutToShow.emit()
    next(a for a in solve.offers.actions() if a.text() == "Instant center at “Seat base”").trigger()
    for (spot, axis), box in solve.boxes.items():
        if spot.end == "chassis" and axis == 2:
            box.setChecked(True)
            type_into(solve.rooms[spot], "9")
    _click(solve.go)
    until(lambda: not solve.work.running and solve.solved is not None)
    assert solve.solved is not None
    assert solve.solved.reached, solve.solved.words
    _click(solve.take)
    axle = bench.job.vehicle.axle("rear")
    center = study_postures(bench.job.vehicle, axle, np.zeros(1), np.zeros(1))
    assert (center.value("ic_x_mm"), center.value("ic_z_mm")) == pytest.approx((-28 * 25.4, 24 * 25.4), abs=1.0)
    # Held there while a point is dragged along its link.
    links.turn_to(0)
    spot = next(s for s in spots_on(axle) if s.member.startswith("Upper") and s.end == "chassis")
    bench.select_spot(spot)
    links.strip.keeps.aboutToShow.emit()
    next(a for a in links.strip.keeps.actions() if a.text() == "Instant center").trigger()
    drag(pane, spot, (25.0, 20.0))
    moved = study_postures(bench.job.vehicle, bench.job.vehicle.axle("rear"), np.zeros(1), np.zeros(1))
    assert (moved.value("ic_x_mm"), moved.value("ic_z_mm")) == pytest.approx((-28 * 25.4, 24 * 25.4), abs=3.0)
    path = tmp_path / "barn.stance"
    assert window.files.save_to(path)
    window.close()
    again = open_window()
    assert again.files.open_path(path)
    assert again.bench.job == bench.job
    assert again.bench.job.vehicle.landmarks[0].name == "Seat base"
    assert len(branch_names(again.bench.job)) == 2
