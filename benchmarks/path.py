"""A new user's whole path, step by step. Run: QT_QPA_PLATFORM=offscreen .venv/bin/python benchmarks/path.py

From the start page to a linkage, a point dragged, a number typed and taken back, wheels moved, every station opened,
saved and opened again. Each event that the window handles meanwhile is timed (a key, a click, a painting, an answer
that came in); the longest are printed, ms, and how much of that the window was at work, not waiting for its turn behind
a study or another program.
"""

import json
import sys
import tempfile
import time
import unittest.mock
from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import ClassVar

from desk import settled
from PyQt6.QtCore import QEvent, QObject, QPoint, Qt, QTimer
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QLineEdit, QWidget

from even_stance.desktop.app import application, dispose
from even_stance.desktop.look import Look
from even_stance.desktop.settings import Settings
from even_stance.desktop.stations import STATIONS
from even_stance.desktop.window import MainWindow
from even_stance.exchange.demo import demo_jobs
from even_stance.vehicle.spots import Spot

SPOT = Spot("rear", "Lower left", "axle")


class Timed(QApplication):
    """Times every event that is handled by itself, not within another."""

    taken: ClassVar[list[tuple[float, float, str]]] = []
    during = "start"
    _depth = 0

    def notify(self, receiver: QObject | None, event: QEvent | None) -> bool:
        """Handle an event."""
        Timed._depth += 1
        start, own = time.perf_counter(), time.thread_time()
        try:
            return super().notify(receiver, event)
        finally:
            Timed._depth -= 1
            if Timed._depth == 0 and event is not None:
                ms, own_ms = 1000 * (time.perf_counter() - start), 1000 * (time.thread_time() - own)
                Timed.taken.append((ms, own_ms, f"{Timed.during}: {event.type().name} of {type(receiver).__name__}"))


class Steps:
    """What is done, and what the window does then."""

    def do(self, name: str, step: Callable[[], object]) -> None:
        """One thing the person does, and the rounds of the event loop that follow it."""
        Timed.during = name
        step()
        for _ in range(6):
            QApplication.processEvents()

    def click(self, name: str, widget: QWidget) -> None:
        """A click in the middle of something."""
        self.do(name, partial(QTest.mouseClick, widget, Qt.MouseButton.LeftButton))

    def type(self, name: str, field: QLineEdit, text: str) -> None:
        """Every key of a text, and Enter."""
        self.do(f"{name}: entered", field.setFocus)
        field.selectAll()
        for letter in text:
            self.do(f"{name}: a key", partial(QTest.keyClicks, field, letter))
        self.do(f"{name}: Enter", partial(QTest.keyClick, field, Qt.Key.Key_Return))


def walk(window: MainWindow, steps: Steps, folder: Path) -> None:
    """The path."""
    key, ctrl = partial(QTest.keyClick, window), Qt.KeyboardModifier.ControlModifier
    window.begin()
    steps.click("new job", window.welcome.ways["new"])
    panel = window.newjob
    for name, text in (
        ("wheelbase_mm", "112"),
        ("track_mm", "63"),
        ("tire_diameter_mm", "33"),
        ("tire_width_mm", "11"),
    ):
        steps.type(name, panel.fields[name], text)
    steps.click("start this job", panel.start)
    pane = window.station("links").floor.panes["side"]
    place = pane.place_of(SPOT)
    assert place is not None
    at = QPoint(round(place.x()), round(place.y()))
    steps.do("press", partial(QTest.mousePress, pane, Qt.MouseButton.LeftButton, pos=at))
    for i in range(1, 12):
        steps.do("drag", partial(QTest.mouseMove, pane, at + QPoint(0, -3 * i)))
    steps.do("let go", partial(QTest.mouseRelease, pane, Qt.MouseButton.LeftButton, pos=at + QPoint(0, -33)))
    steps.type("a coordinate", window.station("links").strip.up, "12 3/8")
    for way in (Qt.Key.Key_Z, Qt.Key.Key_Z, Qt.Key.Key_Y, Qt.Key.Key_Y):
        steps.do("undo or redo", partial(key, way, ctrl))
    for n, station in enumerate(STATIONS):
        steps.do(f"to {station.key}", partial(key, Qt.Key(Qt.Key.Key_1 + n), ctrl))
        for i, button in enumerate(window.station(station.key).pages.buttons):
            steps.click(f"to {station.key}, page {i + 1}", button)
    steps.do("to links", partial(key, Qt.Key.Key_2, ctrl))
    steps.type("left wheel", window.rail.left, "2")
    steps.type("right wheel", window.rail.right, "-1 1/2")
    path = folder / "path.stance"
    # Both are asked of the window from its event loop, as a menu does.
    for name, act in (("save", window.files.save_to), ("open", window.files.open_path)):
        steps.do(name, partial(QTimer.singleShot, 0, partial(act, path)))


def main() -> None:
    with unittest.mock.patch("even_stance.desktop.app.QApplication", Timed):
        app = application()
    look, steps = Look(), Steps()
    look.use("paper", 100)
    with tempfile.TemporaryDirectory() as scratch:
        window = MainWindow(demo_jobs()[0], look, Settings(Path(scratch) / "s"), Path(scratch))
        settled(window)
        Timed.taken.clear()
        walk(window, steps, Path(scratch))
        taken = sorted(Timed.taken, reverse=True)
        dispose(window)
    longest = [f"{ms:.0f}, of it {own:.0f} at work: {name}" for ms, own, name in taken[:12]]
    figures = {
        "events": len(taken),
        "over_100_ms": sum(ms > 100.0 for ms, _, _ in taken),
        "over_100_ms_at_work": sum(own > 100.0 for _, own, _ in taken),
        "longest": longest,
    }
    json.dump(figures, sys.stdout, indent=1)
    sys.stdout.write("\n")
    app.processEvents()


if __name__ == "__main__":
    main()
