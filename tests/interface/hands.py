"""A person who clicks, types and drags whatever comes to hand, for the short test and the long run of it."""

import random
import sys
import threading
import time
from collections.abc import Callable

from PyQt6.QtCore import QEvent, QPointF, Qt, QThreadPool
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import (
    QAbstractButton,
    QApplication,
    QComboBox,
    QLineEdit,
    QListWidget,
    QTableWidget,
    QToolButton,
    QWidget,
)

from even_stance.desktop.floor import Pane
from even_stance.desktop.stations import STATIONS
from even_stance.desktop.window import MainWindow
from even_stance.exchange.jobfile import dump_job, parse_job
from even_stance.judgement.catalog.layouts import BASES
from even_stance.judgement.catalog.starter import with_layout
from even_stance.vehicle.edits import Edit
from even_stance.vehicle.spots import spots_on
from tests.interface.conftest import drag

TYPED = ("", "0", "-3", "13 1/2", "1/0", "abc", "1e9", "99999", "5' 3", "nan", "inf", "12,5", "88 up", "35x12.50R17LT",
         "0.0001", "120 mm", "3 lb", "9" * 40)  # fmt: skip


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
    spots = list(spots_on(window.bench.axle))
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
    key = hands.choice([s.key for s in STATIONS])
    window.go(key)
    station = window.station(key)
    station.pages.turn_to(hands.randrange(len(station.pages.buttons)))


_BEAT: list[Callable[[], None]] = [lambda: None]


def _storm(window: MainWindow, hands: random.Random, seen: list[QWidget]) -> None:
    """Many steps back and forth; each is a key press of its own."""
    for _ in range(hands.randrange(5, 30)):
        window.bench.undo()
        QApplication.processEvents()
        _BEAT[0]()
    for _ in range(hands.randrange(20)):
        window.bench.redo()
        QApplication.processEvents()
        _BEAT[0]()


def _lay_out(window: MainWindow, hands: random.Random, seen: list[QWidget]) -> None:
    """Another layout, at times with a point still in hand."""
    base, key = hands.choice(list(BASES)), window.bench.axle_key
    window.bench.do(Edit(f"Layout {base}", lambda job: with_layout(job, key, base, keep=hands.random() < 0.5)))


def _open(window: MainWindow, hands: random.Random, seen: list[QWidget]) -> None:
    deeds = (lambda: window.files.open_demo(hands.randrange(3)), window.ask_new, window.files.keep_aside,
             lambda: window.go("links"), lambda: window.set_look(percent=hands.choice((100, 150))))  # fmt: skip
    hands.choice(deeds)()
    for _, kept in window.files.kept()[:1]:
        if hands.random() < 0.3:
            window.files.open_kept(kept)


DEEDS: tuple[Callable[[MainWindow, random.Random, list[QWidget]], None], ...] = (
    _type, _type, _click, _click, _choose, _pull, _press, _pick, _turn, _storm, _lay_out, _open,
)  # fmt: skip


class Watch:
    """Looks on from another thread: waits of the window's thread beyond a limit, with what it was at then."""

    def __init__(self, limit: float) -> None:
        self.limit, self.longest = limit, 0.0
        self.waits: list[str] = []
        self._since = time.monotonic()
        self._thread, self._ended = threading.get_ident(), threading.Event()
        threading.Thread(target=self._look, daemon=True).start()

    def beat(self) -> None:
        """The window's thread is through with something."""
        self.longest = max(self.longest, time.monotonic() - self._since)
        self._since = time.monotonic()

    def end(self) -> None:
        """Stop looking."""
        self._ended.set()

    def _look(self) -> None:
        told = 0.0
        while not self._ended.wait(0.1):
            if time.monotonic() - self._since > self.limit and told != self._since:
                told = self._since
                self.waits.append(_where(self._thread))


def _where(thread: int) -> str:
    """What a thread is at. No frame is held for longer than it takes to read it: it would keep a painter from ending."""
    frame, places = sys._current_frames().get(thread), []
    while frame is not None and len(places) < 14:
        places.append(
            f"  {frame.f_code.co_filename.rpartition('even_stance')[2]}:{frame.f_lineno} {frame.f_code.co_qualname}"
        )
        frame = frame.f_back
    return "\n".join(reversed(places))


def busy(window: MainWindow, seed: int, actions: int, watch: Watch) -> int:
    """So many random deeds; how many were done. Every fortieth time the job is held against its own file."""
    hands, done = random.Random(seed), 0
    _BEAT[0] = watch.beat
    for count in range(actions):
        seen = [w for w in window.findChildren(QWidget) if w.isVisible() and w.isEnabled()]
        watch.beat()
        hands.choice(DEEDS)(window, hands, seen)
        watch.beat()
        QApplication.processEvents()
        # Without an event loop running, what was told to go later would never go.
        QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
        watch.beat()
        done += 1
        if count % 40 == 39:
            assert parse_job(dump_job(window.bench.job), "busy") == window.bench.job
            watch.beat()
        if not window.isVisible():
            break
    pool = QThreadPool.globalInstance()
    assert pool is not None
    pool.waitForDone()
    watch.beat()
    QApplication.processEvents()
    while window.bench.document.history.undo_label is not None:
        window.bench.undo()
        watch.beat()
    return done
