"""A person who clicks, types and drags whatever comes to hand: nothing breaks, and the job stays one that can be saved."""

import random
from collections.abc import Callable

import pytest
from PyQt6.QtCore import QPointF, Qt, QThreadPool
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import (
    QAbstractButton,
    QApplication,
    QComboBox,
    QFileDialog,
    QLineEdit,
    QListWidget,
    QTableWidget,
    QToolButton,
    QWidget,
)

from even_stance.desktop.floor import Pane, all_spots
from even_stance.desktop.window import MainWindow
from even_stance.exchange.jobfile import dump_job, parse_job
from tests.interface.conftest import Open, drag

TYPED = ("", "0", "-3", "13 1/2", "1/0", "abc", "1e9", "99999", "5' 3", "nan", "inf", "12,5", "88 up", "35x12.50R17LT",
         "0.0001", "120 mm", "3 lb", "9" * 40)  # fmt: skip
ACTIONS = 150


def _type(window: MainWindow, hands: random.Random, seen: list[QWidget]) -> None:
    fields = [w for w in seen if isinstance(w, QLineEdit)]
    if fields:
        field = hands.choice(fields)
        field.setFocus()
        field.selectAll()
        QTest.keyClicks(field, hands.choice(TYPED))
        QTest.keyClick(field, hands.choice((Qt.Key.Key_Return, Qt.Key.Key_Tab, Qt.Key.Key_Escape)))


def _click(window: MainWindow, hands: random.Random, seen: list[QWidget]) -> None:
    menus = [w for w in seen if isinstance(w, QToolButton) and w.menu() is not None]
    hands.choice([w for w in seen if isinstance(w, QAbstractButton) and w not in menus]).click()


def _choose(window: MainWindow, hands: random.Random, seen: list[QWidget]) -> None:
    boxes = [w for w in seen if isinstance(w, QComboBox) and w.count()]
    if boxes:
        box = hands.choice(boxes)
        box.setCurrentIndex(hands.randrange(box.count()))
        box.activated.emit(box.currentIndex())


def _pull(window: MainWindow, hands: random.Random, seen: list[QWidget]) -> None:
    panes = [w for w in seen if isinstance(w, Pane)]
    spots = all_spots(window.bench)
    if panes and spots:
        pane, spot = hands.choice(panes), hands.choice(spots)
        if pane.place_of(spot) is not None:
            by = QPointF(hands.uniform(-80, 80), hands.uniform(-80, 80))
            drag(pane, spot, (by.x(), by.y()), steps=2)


def _press(window: MainWindow, hands: random.Random, seen: list[QWidget]) -> None:
    control, none = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.NoModifier
    QTest.keyClick(window, *hands.choice((
        (Qt.Key.Key_Z, control), (Qt.Key.Key_Z, control), (Qt.Key.Key_Y, control), (Qt.Key.Key_E, control),
        (Qt.Key.Key_Up, none), (Qt.Key.Key_PageUp, none), (Qt.Key.Key_Escape, none),
    )))  # fmt: skip


def _pick(window: MainWindow, hands: random.Random, seen: list[QWidget]) -> None:
    lists = [w for w in seen if isinstance(w, QTableWidget | QListWidget)]
    if lists:
        rows = hands.choice(lists)
        model = rows.model()
        if model is not None and model.rowCount():
            index = model.index(hands.randrange(model.rowCount()), 0)
            QTest.mouseClick(rows.viewport(), Qt.MouseButton.LeftButton, pos=rows.visualRect(index).center())


def _turn(window: MainWindow, hands: random.Random, seen: list[QWidget]) -> None:
    index = hands.randrange(3)
    window.go(index)
    station = getattr(window, ("stance", "links", "travel")[index])  # made when first gone to
    station.pages.turn_to(hands.randrange(len(station.pages.buttons)))


DEEDS: tuple[Callable[[MainWindow, random.Random, list[QWidget]], None], ...] = (
    _type, _type, _click, _click, _choose, _pull, _press, _pick, _turn,
)  # fmt: skip


@pytest.mark.parametrize("seed", [1, 2, 3])
def test_busy_hands_break_nothing(open_window: Open, seed: int, monkeypatch: pytest.MonkeyPatch) -> None:
    """Exceptions in the window's own code fail the test by themselves (pytest-qt)."""
    monkeypatch.setattr(QFileDialog, "open", lambda self: None)
    window, hands = open_window(seed - 1), random.Random(seed)
    for count in range(ACTIONS):
        seen = [w for w in window.findChildren(QWidget) if w.isVisible() and w.isEnabled()]
        hands.choice(DEEDS)(window, hands, seen)
        QApplication.processEvents()
        if count % 40 == 39:
            assert parse_job(dump_job(window.bench.job), "busy") == window.bench.job
    pool = QThreadPool.globalInstance()
    assert pool is not None
    pool.waitForDone()
    QApplication.processEvents()
    while window.bench.history.undo_label is not None:
        window.bench.undo()
    assert window.isVisible()
