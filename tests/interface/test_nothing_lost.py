"""Work is kept whatever happens, faults reach the window from any thread, and nothing a person types freezes it."""

import os
import signal
import subprocess
import sys
import threading
import time
from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QDoubleSpinBox
from pytestqt.qtbot import QtBot

from even_stance.desktop.app import guard
from even_stance.desktop.background import LongWork
from even_stance.desktop.settings import Settings
from even_stance.desktop.stations.links.holepage import HolePage
from even_stance.desktop.stations.links.station import HOLES
from even_stance.desktop.window import MainWindow
from even_stance.exchange.jobfile import load_job, save_job
from even_stance.exchange.recovery import find_recovered
from even_stance.judgement.catalog.starter import with_layout
from even_stance.shop.gauges import GaugeReading
from even_stance.vehicle.edits import Edit, set_axle, set_holes, set_job
from even_stance.vehicle.spots import Spot
from tests.interface.conftest import Open, drag, type_into


def test_two_unsaved_jobs_of_one_window_are_both_kept(window: MainWindow, tmp_path: Path) -> None:
    """The first was overwritten by the second, although the banner said that it was kept."""
    folder = tmp_path / "recovery"
    window.bench.do(set_job("n", notes="first"))
    window.files.open_demo(1)
    window.bench.do(set_job("n", notes="second"))
    window.files.keep_aside()
    assert {r.job.notes for r in find_recovered(folder, Path("none"))} == {"first", "second"}
    # Going back keeps what was on the bench, and listing, opening and dropping kept work is in the menu.
    window.banner.buttons[0].click()
    assert window.bench.job.notes == "first"
    assert [r.job.notes for _, r in window.files.kept()] == ["second"]
    window.kept_menu.aboutToShow.emit()
    entry = window.kept_menu.actions()[0]
    assert "Juniper" in entry.text()
    entry.menu().actions()[0].trigger()  # type: ignore[union-attr]
    assert window.bench.job.notes == "second"
    window.kept_menu.aboutToShow.emit()
    window.kept_menu.actions()[0].menu().actions()[1].trigger()  # type: ignore[union-attr]
    assert window.files.kept() == []
    window.kept_menu.aboutToShow.emit()
    assert not window.kept_menu.actions()[0].isEnabled()


def test_steady_work_is_kept_within_two_seconds(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    """Every change restarted the timer: nothing was kept as long as changes came."""
    start = time.monotonic()
    count = 0
    while time.monotonic() - start < 2.0:
        count += 1
        window.bench.do(set_job("n", notes=str(count)))
        qtbot.wait(50)
    kept = find_recovered(tmp_path / "recovery", Path("none"))
    assert kept
    assert int(kept[0].job.notes) > 5


def test_a_fault_in_another_thread_is_told_by_the_window_s_own(
    window: MainWindow, qtbot: QtBot, monkeypatch: pytest.MonkeyPatch, tmp_path: Path
) -> None:
    """Widgets made in the thread that failed crashed the program."""
    for name in ("excepthook", "unraisablehook"):
        monkeypatch.setattr(sys, name, getattr(sys, name))
    monkeypatch.setattr(threading, "excepthook", threading.excepthook)
    guard(window)
    in_thread: list[int] = []
    tell = window.banner.tell
    monkeypatch.setattr(window.banner, "tell", lambda *a: (in_thread.append(threading.get_ident()), tell(*a)))
    window.bench.do(set_job("n", notes="unsaved"))

    def fail() -> None:
        raise ZeroDivisionError("on purpose")

    thread = threading.Thread(target=fail)
    thread.start()
    qtbot.waitUntil(lambda: "ZeroDivisionError" in window.banner.words.text(), timeout=3000)
    thread.join()
    assert in_thread == [threading.get_ident()]
    assert [r.job.notes for r in find_recovered(tmp_path / "recovery", Path("none"))] == ["unsaved"]
    report = next((tmp_path / "xdg_state_home").rglob("last-fault.txt"))
    assert "on purpose" in report.read_text()
    assert report.stat().st_mode & 0o777 == 0o600


def test_failed_work_answers_so_that_nothing_waits_for_ever(qtbot: QtBot, monkeypatch: pytest.MonkeyPatch) -> None:
    heard: list[str] = []
    monkeypatch.setattr(sys, "excepthook", lambda kind, *_: heard.append(kind.__name__))
    work = LongWork(None)  # type: ignore[arg-type]
    with qtbot.waitSignal(work.done, timeout=3000) as done:
        work.start(lambda _progress, _stopped: 1 / 0)
    assert "fault in Even Stance" in str(done.args[0])  # type: ignore[index]
    assert not work.running
    qtbot.waitUntil(lambda: heard == ["ZeroDivisionError"], timeout=3000)


def test_told_to_leave_unsaved_work_is_kept(tmp_path: Path) -> None:
    """SIGTERM, SIGHUP: the program ended without keeping anything."""
    home = {
        **os.environ,
        "XDG_STATE_HOME": str(tmp_path),
        "XDG_CONFIG_HOME": str(tmp_path),
        "QT_QPA_PLATFORM": "offscreen",
    }
    script = (
        "import sys\n"
        "from PyQt6.QtCore import QTimer\n"
        "from even_stance.desktop import app\n"
        "from even_stance.vehicle.edits import set_job\n"
        "keep = app.keep_when_told_to_leave\n"
        "def told(a, w):\n"
        "    keep(a, w)\n"
        "    w.bench.do(set_job('n', notes='just typed'))\n"
        "    w.files._timer.stop()\n"
        "    QTimer.singleShot(0, lambda: print('up', flush=True))\n"
        "app.keep_when_told_to_leave = told\n"
        "sys.exit(app.open_window(None, demo=True))\n"
    )  # fmt: skip
    for number in (signal.SIGTERM, signal.SIGHUP):
        child = subprocess.Popen([sys.executable, "-c", script], env=home, stdout=subprocess.PIPE, text=True)
        assert child.stdout is not None
        assert child.stdout.readline().strip() == "up"
        child.send_signal(number)
        assert child.wait(timeout=10) == 0
    folder = tmp_path / "even-stance" / "recovery"
    assert [r.job.notes for r in find_recovered(folder)] == ["just typed", "just typed"]


def test_readings_held_right_before_the_end_still_land(window: MainWindow) -> None:
    window.go("stance")
    window.station("stance").turn_to(0)
    field = window.station("stance").pages.page(0).wheelbase  # type: ignore[attr-defined]
    field.setFocus()
    gauge = window.station("stance").gauge

    class Heard:
        state, bad_lines, trouble = "reading", 0, ""

        def take(self) -> list[GaugeReading]:
            return [GaugeReading("length", 3000.0, True)]

        def close(self) -> None:
            return None

    gauge.reader = Heard()  # type: ignore[assignment]
    gauge._field = field
    window.close()
    assert window.bench.job.vehicle.wheelbase_mm == pytest.approx(3000.0, abs=0.01)


def test_a_burst_of_held_readings_does_not_hold_up_the_window(window: MainWindow) -> None:
    window.go("stance")
    gauge = window.station("stance").gauge
    gauge._waiting.extend(GaugeReading("length", 3000.0 + i, True) for i in range(600))
    start = time.monotonic()
    gauge._land_some(0.03)
    assert time.monotonic() - start < 1.0
    assert 0 < len(gauge._waiting) < 600


def test_names_are_shown_as_they_are(window: MainWindow) -> None:
    """Taken for markup, this name read a device without end."""
    name = "<img src='/dev/zero'> <b>rig</b>"
    window.bench.do(set_job("n", name=name))
    assert window.header.title.text().startswith("<img")
    window.banner.tell(name)
    assert window.banner.words.textFormat() == Qt.TextFormat.PlainText
    window.grab()
    type_into(window.rail.left, "1/2")
    window.bench.do(Edit(name, lambda job: set_job("m", notes="x").apply(job)))
    assert "&lt;img" in window.header.undo.toolTip()


def test_letters_for_the_floor_are_not_taken_into_wheel_fields(window: MainWindow) -> None:
    field = window.rail.left
    field.setFocus()
    field.selectAll()
    QTest.keyClicks(field, "npfw")
    assert field.text() == "0"
    type_into(field, "12 mm")
    assert window.bench.posture.left_mm == pytest.approx(12.0)


def test_a_bracket_with_one_hole_is_dragged(window: MainWindow) -> None:
    spot = Spot("rear", "Lower left", "axle")
    window.bench.do(set_holes(spot, 2, 25.4))
    axle = window.bench.job.vehicle.axle("rear")
    mount = axle.member("Lower left").mounts["axle"]
    one = type(mount).model_validate(
        {**mount.model_dump(), "at": mount.holes[0].model_dump(), "holes": mount.holes[:1], "hole": 0}
    )
    members = tuple(
        type(m).model_validate({**dict(m), "axle": one}) if m.name == "Lower left" else m for m in axle.members
    )
    window.bench.do(set_axle("rear", "one hole", members=members))
    before = window.bench.job
    drag(window.station("links").floor.panes["side"], spot, (40.0, -30.0))
    assert window.bench.job != before


def test_layout_changed_while_a_point_is_in_hand(window: MainWindow) -> None:
    pane, spot = window.station("links").floor.panes["side"], Spot("rear", "Upper left", "chassis")
    at = pane.place_of(spot)
    assert at is not None
    QTest.mousePress(pane, Qt.MouseButton.LeftButton, pos=QPoint(round(at.x()), round(at.y())))
    assert pane._drag is not None
    window.bench.do(Edit("leaf", lambda job: with_layout(job, "rear", "leaf", keep=False)))
    pane._drag and QTest.mouseMove(pane, QPoint(round(at.x()) + 30, round(at.y())))
    drag(pane, Spot("rear", "Leaf left", "fixed_eye"), (10.0, 0.0))


def test_hole_finder_with_an_axle_without_holes(open_window: Open, qtbot: QtBot) -> None:
    """Two linked axles, one without holes: a ValueError, and the page was busy for good."""
    window = open_window(2)
    for member in window.bench.job.vehicle.axle("front").members:
        for end, mount in member.mounts.items():
            if mount.holes:
                window.bench.do(set_holes(Spot("front", member.name, end), 1, 25.4))
    window.station("links").turn_to(HOLES)
    page = window.station("links").pages.page(HOLES)
    assert isinstance(page, HolePage)
    with qtbot.waitSignal(page.work.done, timeout=20_000):
        page.search()
    assert page.start.isEnabled()
    assert page.found is not None
    for row in range(min(page.table.rowCount(), 5)):
        page.table.setCurrentCell(row, 0)
    window.bench.select_axle("front")
    page.refresh()
    page._mark(0)


def test_dots_and_weights_are_seen_in_the_dark_look_before_any_search(window: MainWindow) -> None:
    window.set_look("night")
    QApplication.processEvents()
    window.station("links").turn_to(HOLES)
    page = window.station("links").pages.page(HOLES)
    page.refresh()  # type: ignore[attr-defined]
    look = window.look
    assert page.plot.backgroundBrush().color() == look.color("sheet")  # type: ignore[attr-defined]
    box = page.weights.cellWidget(0, 2)  # type: ignore[attr-defined]
    assert isinstance(box, QDoubleSpinBox)
    picture = box.grab().toImage()
    shades = {picture.pixelColor(x, y).lightness() for x in range(4, 40) for y in range(4, picture.height() - 4)}
    assert max(shades) - min(shades) > 90, "figure and ground look alike"


def test_badges_do_not_go_with_the_rail(open_window: Open) -> None:
    window = open_window(2)
    before = [b.accessibleName() for b in window.order.buttons.values()]
    window.bench.set_posture(150.0, 150.0)
    assert [b.accessibleName() for b in window.order.buttons.values()] == before
    assert "worth a look" in window.order.legend.accessibleName()


def test_travel_says_where_it_binds_and_leaves_its_bands(window: MainWindow) -> None:
    window.bench.do(Edit("leaf", lambda job: with_layout(job, "rear", "leaf", keep=False)))
    codes = [f.code for f in window.bench.findings() if f.station == "travel"]
    assert "binds" in codes


def test_a_third_axle_s_brake_share_changes_its_verdicts(window: MainWindow) -> None:
    from even_stance.vehicle.tandem import add_rear_axle  # noqa: PLC0415 - just here

    window.bench.do(add_rear_axle())
    before = {v.figure.key: v.wanted.band for v in window.bench.verdicts("rear")}
    window.bench.do(set_axle("third", "Brake share", brake_share=0.05))
    after = {v.figure.key: v.wanted.band for v in window.bench.verdicts("rear")}
    assert after["anti_lift_brake_pct"] != before["anti_lift_brake_pct"]


def test_settings_that_cannot_be_never_stop_the_start(tmp_path: Path) -> None:
    for raw in (b"", b"[" * 50_000, b'{"look": 3, "percent": "x", "window": [1, 2], "maximized": 4}', b"\xff\xfe"):
        file = tmp_path / "look.json"
        file.write_bytes(raw)
        settings = Settings(file)
        assert settings.recall() is None
        assert settings.recall_window() is None
    settings.remember_window(10, 20, 900, 700, True)
    assert settings.recall_window() == (10, 20, 900, 700, True)
    assert settings.recall() is None


def test_the_window_fits_a_small_screen_and_comes_back_where_it_was(open_window: Open) -> None:
    window = open_window()
    screen = window.screen()
    assert screen is not None
    room = screen.availableGeometry()
    window.fit_screen()
    least = window.minimumSizeHint()
    assert window.width() <= max(room.width(), least.width())
    assert window.height() <= max(room.height(), least.height())


def test_what_is_saved_over_by_somebody_is_told(window: MainWindow, tmp_path: Path) -> None:
    path = tmp_path / "job.stance"
    assert window.files.save_to(path)
    theirs = set_job("n", name="Theirs").apply(window.bench.job)
    save_job(theirs, path)
    window.bench.do(set_job("n", name="Mine"))
    assert not window.files.save_to(path)
    assert "changed by somebody else" in window.banner.words.text()
    assert load_job(path)[0].name == "Theirs"


def test_nothing_said_is_not_a_number(window: MainWindow) -> None:
    """Every number on the vials is finite or a dash."""
    for verdict in window.bench.verdicts("rear"):
        assert np.isfinite(verdict.figure.value) or verdict.reading("us") == "—"
