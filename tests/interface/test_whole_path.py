"""A first-time user's path through the real interface, checked at the end against the command line."""

import json
import sys
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from even_stance.__main__ import main
from even_stance.exchange.jobfile import load_job
from even_stance.vehicle.spots import Spot, mount_of
from tests.interface.conftest import Open, drag, type_into

UPPER = Spot("rear", "Upper left", "chassis")
LOWER = Spot("rear", "Lower left", "axle")


def test_new_job_to_the_same_numbers_on_the_command_line(
    open_window: Open, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    window = open_window()
    QTest.keyClick(window, Qt.Key.Key_N, Qt.KeyboardModifier.ControlModifier)
    panel = window.newjob
    assert panel.isVisible()
    QTest.keyClicks(panel.name, "Old blue")
    for key, text in (
        ("wheelbase_mm", "9' 10"),
        ("track_mm", "64"),
        ("tire_diameter_mm", "34 1/2"),
        ("tire_width_mm", "12.5in"),
    ):
        QTest.keyClicks(panel.fields[key], text)
    QTest.mouseClick(panel.start, Qt.MouseButton.LeftButton)
    bench = window.bench
    assert bench.job.name == "Old blue"
    assert bench.job.vehicle.wheelbase_mm == pytest.approx(118 * 25.4)
    assert window.stack.currentWidget() is window.station("links")

    pane = window.station("links").floor.panes["side"]
    before = mount_of(bench.job, LOWER).at
    drag(pane, LOWER, (0.0, 20.0))
    dropped = mount_of(bench.job, LOWER).at
    scale = pane.transform().m11()
    assert dropped.z == pytest.approx(before.z - 20.0 / scale, abs=0.5)
    assert (dropped.x, dropped.y) == (before.x, before.y)
    assert mount_of(bench.job, Spot("rear", "Lower right", "axle")).at.z == dropped.z

    bench.select_spot(UPPER)
    type_into(window.station("links").strip.up, "25 3/8")
    assert mount_of(bench.job, UPPER).at.z == pytest.approx(25.375 * 25.4)
    QTest.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    QTest.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert mount_of(bench.job, LOWER).at == before
    QTest.keyClick(window, Qt.Key.Key_Y, Qt.KeyboardModifier.ControlModifier)
    QTest.keyClick(window, Qt.Key.Key_Y, Qt.KeyboardModifier.ControlModifier)
    assert mount_of(bench.job, UPPER).at.z == pytest.approx(25.375 * 25.4)

    QTest.keyClick(window, Qt.Key.Key_3, Qt.KeyboardModifier.ControlModifier)
    assert window.stack.currentWidget() is window.station("travel")
    type_into(window.rail.left, "2")
    type_into(window.rail.right, "-1 1/2")
    assert (bench.posture.left_mm, bench.posture.right_mm) == pytest.approx((50.8, -38.1))
    shown = {
        k: bench.study("rear").now.value(k)
        for k in ("anti_squat_axle_pct", "roll_center_mm", "roll_steer_pct", "yaw_deg")
    }

    path = tmp_path / "old-blue.stance"
    assert window.files.save_to(path)
    window.close()
    again = open_window()
    assert again.files.open_path(path)
    again.bench.set_posture(50.8, -38.1)
    monkeypatch.setattr(sys, "argv", ["even-stance", "answers", str(path), "--left", "50.8", "--right", "-38.1"])
    assert main() == 0
    told = json.loads(capsys.readouterr().out)
    for key, value in shown.items():
        assert again.bench.study("rear").now.value(key) == pytest.approx(value, rel=1e-9)
        assert told[key] == pytest.approx(value, abs=1e-6)


def test_reopened_job_is_the_same(open_window: Open, tmp_path: Path) -> None:
    window = open_window(2)
    path = tmp_path / "rig.stance"
    assert window.files.save_to(path)
    assert load_job(path)[0] == window.bench.job
