"""A window on a demo job, shown, with its files apart from the user's."""

import gc
import time
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from PyQt6 import sip
from PyQt6.QtCore import QEvent, QPoint, QPointF, Qt
from PyQt6.QtGui import QMouseEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QLineEdit
from pytestqt.qtbot import QtBot

from even_stance.desktop.app import application, dispose
from even_stance.desktop.floor import Pane
from even_stance.desktop.look import Look
from even_stance.desktop.settings import Settings
from even_stance.desktop.window import MainWindow
from even_stance.exchange.demo import demo_jobs
from even_stance.vehicle.spots import Spot

Open = Callable[..., MainWindow]


@pytest.fixture(scope="session")
def qapp() -> QApplication:
    return application()


@pytest.fixture(autouse=True)
def gaps_when_asked_for(request: pytest.FixtureRequest, monkeypatch: pytest.MonkeyPatch) -> None:
    """Just tests about gaps search for them (`pytest.mark.gaps`): beside every other test that would only take time."""
    if request.node.get_closest_marker("gaps") is None:
        monkeypatch.setattr("even_stance.desktop.gapwatch._IDLE_MS", 3_600_000)
        monkeypatch.setattr("even_stance.desktop.gapwatch._SOON_MS", 3_600_000)


@pytest.fixture
def open_window(qtbot: QtBot, tmp_path: Path) -> Iterator[Open]:
    opened: list[MainWindow] = []

    def opener(demo: int = 0) -> MainWindow:
        look = Look()
        look.use("paper", 100)
        window = MainWindow(demo_jobs()[demo], look, Settings(tmp_path / "look.json"), tmp_path / "recovery")
        opened.append(window)
        with qtbot.waitActive(window):
            window.show()
            window.activateWindow()
        return window

    # The collector must not take windows apart in the middle of a test: it runs when they are down for good.
    gc.disable()
    yield opener
    for window in opened:
        if not sip.isdeleted(window):
            dispose(window)
    opened.clear()
    gc.collect()
    gc.enable()


@pytest.fixture
def window(open_window: Open) -> MainWindow:
    return open_window()


def judged(window: MainWindow) -> MainWindow:
    """Let the whole car be judged and shown so, which comes some events after an edit."""
    QApplication.processEvents()
    while window.bench.judging.due:
        QApplication.processEvents()
    window.repaint()
    return window


def type_into(field: QLineEdit, text: str) -> None:
    """Type over what is in a field and press Enter, as a person does."""
    field.setFocus()
    field.selectAll()
    QTest.keyClicks(field, text)
    QTest.keyClick(field, Qt.Key.Key_Return)


def drag(pane: Pane, spot: Spot, by: tuple[float, float], steps: int = 5, shift: bool = False) -> None:
    """Press on a joint, move the mouse by some pixels, let go."""
    start = pane.place_of(spot)
    assert start is not None, f"{spot} is not drawn"
    keys = Qt.KeyboardModifier.ShiftModifier if shift else Qt.KeyboardModifier.NoModifier

    def send(kind: QEvent.Type, at: QPointF, down: bool) -> None:
        buttons = Qt.MouseButton.LeftButton if down else Qt.MouseButton.NoButton
        event = QMouseEvent(kind, at, pane.mapToGlobal(at), Qt.MouseButton.LeftButton, buttons, keys)
        QApplication.sendEvent(pane, event)

    send(QEvent.Type.MouseButtonPress, start, True)
    for i in range(1, steps + 1):
        send(QEvent.Type.MouseMove, start + QPointF(*by) * (i / steps), True)
    send(QEvent.Type.MouseButtonRelease, start + QPointF(*by), False)


def click(pane: Pane, at: QPointF) -> None:
    """Click at a place."""
    QTest.mouseClick(pane, Qt.MouseButton.LeftButton, pos=QPoint(round(at.x()), round(at.y())))


def until(true: Callable[[], bool]) -> None:
    """Wait for what is worked out beside the window."""
    deadline = time.monotonic() + 60.0
    while not true() and time.monotonic() < deadline:
        QApplication.processEvents()
        time.sleep(0.005)
    assert true()
