"""What the person asked for is seen first; what it brings about comes in the next rounds, and studies wait for both."""

import threading
import time
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PyQt6.QtCore import Qt, QThreadPool
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from even_stance.desktop.background import HAND, LateStudy
from even_stance.desktop.stations.clearance.lookpage import LookPage
from even_stance.desktop.walkaround import WalkAround
from even_stance.desktop.widgets.chart import Chart, Plot, apart
from even_stance.desktop.window import MainWindow
from even_stance.exchange.demo import demo_jobs
from even_stance.judgement.clearances import close_ones
from even_stance.pace import give_way
from even_stance.study.cargaps import study_gaps
from even_stance.vehicle.tandem import add_rear_axle
from tests.interface.conftest import Open, judged, until

WALK = 7


def _walk(window: MainWindow) -> WalkAround:
    window.go("links")
    window.station("links").turn_to(WALK)
    return next(w for w in window.findChildren(WalkAround) if w.isVisible())


def _images(walk: WalkAround) -> bytes:
    image = walk.grab().toImage()  # held: the bits are its own
    bits = image.constBits()
    assert bits is not None
    return bytes(bits.asarray(image.sizeInBytes()))


def test_a_study_waits_for_the_hand_and_goes_on_after_it(qtbot: QtBot, window: MainWindow) -> None:
    """It does not go on while the window is busy, and is done soon after."""
    went_on: list[float] = []
    begun = threading.Event()

    def work() -> str:
        begun.set()
        for _ in range(100_000):
            give_way()
            if HAND._until and time.monotonic() < HAND._until:
                went_on.append(time.monotonic())
            time.sleep(0.0005)
            if stop.is_set():
                break
        return "done"

    stop = threading.Event()
    late = LateStudy(window)
    heard: list[object] = []
    late.done.connect(heard.append)
    late.ask(work)
    late.start_now()
    assert begun.wait(10.0)
    HAND.goes_first()
    until_then = HAND._until
    time.sleep(0.05)  # what was under way between two questions may end
    went_on.clear()
    while time.monotonic() < until_then - 0.01:
        time.sleep(0.005)
    assert went_on == []
    stop.set()
    until(lambda: heard == ["done"])


def test_other_threads_do_not_wait_for_the_hand() -> None:
    HAND.goes_first()
    start = time.monotonic()
    for _ in range(1000):
        give_way()
    assert time.monotonic() < HAND._until
    assert time.monotonic() - start < 0.1


def test_every_kind_of_doing_puts_studies_off(window: MainWindow) -> None:
    """Pages, stations, postures, edits, undo, axles: whatever the window then has to show comes before studies."""
    bench = window.bench
    ways = {
        "a page": lambda: window.station("links").turn_to(1),
        "a station": lambda: window.go("travel"),
        "a posture": lambda: bench.set_posture(20.0, -10.0),
        "an axle": lambda: bench.select_axle("front" if bench.axle_key == "rear" else "rear"),
        "undo": bench.undo,
        "another job": lambda: bench.open_job(demo_jobs()[1]),
        "a drag that ends": bench.let_go,
    }
    for name, do in ways.items():
        HAND._until = 0.0
        do()
        assert HAND._until > time.monotonic() - 1.0, name


def test_the_badges_of_another_job_come_once_it_is_seen(window: MainWindow) -> None:
    order = window.order
    before = {key: b.accessibleName() for key, b in order.buttons.items()}
    window.bench.open_job(demo_jobs()[2])
    assert all("look" not in b.accessibleName() for b in order.buttons.values()), "those of the job before are shown"
    judged(window)
    now = {key: b.accessibleName() for key, b in order.buttons.items()}
    assert now != before
    assert any(f.station in now for f in window.bench.findings())
    window.bench.open_job(demo_jobs()[0])
    until(lambda: {key: b.accessibleName() for key, b in order.buttons.items()} == before)


def test_an_axle_of_the_job_before_is_not_judged_on_the_next(window: MainWindow) -> None:
    window.bench.do(add_rear_axle())
    assert window.bench.judging.due
    window.bench.open_job(demo_jobs()[1])
    assert judged(window).bench.job == demo_jobs()[1]


def test_the_walk_around_is_there_before_the_car_is_looked_at(window: MainWindow) -> None:
    walk = _walk(window)
    QApplication.processEvents()
    assert walk._seen
    seen, shown = walk._seen, _images(walk)
    window.bench.set_posture(60.0, -60.0)
    window.bench.set_posture(70.0, -70.0)
    assert walk._seen is seen, "looked at twice for one picture"
    QApplication.processEvents()
    assert walk._seen is not seen
    assert _images(walk) != shown


def test_a_car_that_is_not_seen_is_not_looked_at(window: MainWindow) -> None:
    walk = _walk(window)
    QApplication.processEvents()
    seen = walk._seen
    window.station("links").turn_to(0)
    window.bench.set_posture(40.0, 40.0)
    QApplication.processEvents()
    assert walk._seen is seen
    window.station("links").turn_to(WALK)
    QApplication.processEvents()
    assert walk._seen is not seen


def test_whoever_asks_for_the_car_gets_it_as_it_is_now(window: MainWindow) -> None:
    """A click right after an edit meets the car of after it."""
    walk = _walk(window)
    QApplication.processEvents()
    before = {s.solid.name: s.middle for s in walk.seen if s.solid.axle == "rear"}
    window.bench.set_posture(60.0, 60.0)
    after = {s.solid.name: s.middle for s in walk.seen if s.solid.axle == "rear"}
    assert any(not np.allclose(before[name], after[name]) for name in before)


@pytest.mark.gaps
def test_clearance_is_seen_before_its_pair_is_looked_into(open_window: Open) -> None:
    """Its station opens on the tightest pair; the cut through it and the ways out come after."""
    window = open_window(0)
    job = window.bench.job
    window.bench.studies.gaps = study_gaps(job.vehicle)
    window.bench.gaps_found()
    window.go("clearance")
    page = next(p for p in window.findChildren(LookPage))
    assert page.isVisible()
    until(lambda: window.bench.gaps.study is not None and bool(page.list.gaps))
    held = window.station("clearance").held
    until(lambda: held.gap is not None)
    worst = close_ones(job, window.bench.gaps.study)[0]
    until(lambda: page._of is not None)
    assert page.list.gaps[0].gap_mm <= worst.gap_mm + 1e-9 or held.gap is not None
    rows = [page.list.table.item(i, 1).text() for i in range(page.list.table.rowCount())]  # type: ignore[union-attr]
    assert len(rows) == len(page.list.gaps)
    pool = QThreadPool.globalInstance()
    assert pool is not None
    window.bench.gaps.stop()
    pool.waitForDone()


@pytest.mark.gaps
def test_gaps_are_listed_anew_only_when_they_are_others(open_window: Open, monkeypatch: pytest.MonkeyPatch) -> None:
    window = open_window(0)
    window.bench.studies.gaps = study_gaps(window.bench.job.vehicle)
    window.bench.gaps_found()
    window.go("clearance")
    page = next(p for p in window.findChildren(LookPage))
    until(lambda: bool(page.list.gaps))
    written: list[int] = []
    real = page.list._list
    monkeypatch.setattr(page.list, "_list", lambda: (written.append(1), real()))
    for mm in (5.0, 10.0, 15.0):
        window.bench.set_posture(mm, mm)
    page.list.refresh()
    assert written == []
    QTest.keyClick(window, Qt.Key.Key_E, Qt.KeyboardModifier.ControlModifier)  # the other axle has other pairs
    page.list.refresh()
    assert len(written) == 1
    window.bench.gaps.stop()


# --- charts keep to themselves


@given(st.lists(st.floats(-2.0, 3.0), max_size=14), st.floats(0.02, 0.4))
def test_words_beside_lines_keep_their_order_and_never_lie_on_each_other(places: list[float], least: float) -> None:
    low, high = -0.35, 1.55
    found = apart(places, least, low, high)
    assert len(found) == len(places)
    order = np.argsort(places, kind="stable")
    stacked = np.array(found)[order]
    room = min(least, (high - low) / max(len(places) - 1, 1))
    assert (np.diff(stacked) >= room - 1e-9).all()
    assert all(low - 1e-9 <= v <= high + 1e-9 for v in found)
    near = [p for p in places if low <= p <= high]
    if len(near) == len(places) and (np.diff(np.sort(places)) >= least).all():
        assert np.allclose(found, places), "there was room: nothing had to move"


def test_a_plot_likes_the_same_room_however_large_it_was(window: MainWindow, tmp_path: Path) -> None:
    """A page that scrolls asks its plots for the room they like: the last one they had would only grow."""
    for plot in (Plot(window.look), Chart(window.look, "Anti-squat, %")):
        before = plot.sizeHint()
        plot.resize(900, 700)
        plot.show()
        QApplication.processEvents()
        assert plot.sizeHint() == before
        plot.close()
        plot.deleteLater()
