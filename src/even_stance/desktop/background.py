"""Studies that take longer than a blink run beside the window; late answers are dropped."""

import sys
import threading
import time
from collections.abc import Callable

from PyQt6.QtCore import QObject, QRunnable, QThreadPool, QTimer, pyqtSignal

from even_stance.errors import StanceError
from even_stance.pace import gives_way_to

_WAIT_MS = 120
_HAND_S = 0.15  # a page is turned to and painted, an edit made and seen, well within this


class _Hand:
    """What the person does goes first: studies beside the window wait this long after it."""

    def __init__(self) -> None:
        self._until = 0.0

    def goes_first(self) -> None:
        """The person did something: the window needs the interpreter for itself."""
        self._until = time.monotonic() + _HAND_S

    def wait(self) -> None:
        """Return when the window does not need it."""
        while (left := self._until - time.monotonic()) > 0.0:
            time.sleep(min(left, 0.02))


HAND = _Hand()


class _Run(QRunnable):
    def __init__(self, token: int, work: Callable[[], object], tell: Callable[[int, object], None]) -> None:
        super().__init__()
        self._token, self._work, self._tell = token, work, tell

    def run(self) -> None:
        """Do the work in a thread of the pool; what cannot be studied comes back as its sentence."""
        result: object
        gives_way_to(HAND.wait)
        try:
            result = self._work()
        except StanceError as error:
            result = str(error)
        except BaseException:
            # A fault of ours: whoever waits is told, and the one door for faults hears of it.
            self._tell(self._token, "This could not be worked out: a fault in Even Stance itself.")
            sys.excepthook(*sys.exc_info())
            return
        self._tell(self._token, result)


class LateStudy(QObject):
    """One kind of study in the background: asked for often, answered for the last question only.

    Signals:
        done: the result of the latest question, or the sentence why there is none.
    """

    done = pyqtSignal(object)
    _arrived = pyqtSignal(int, object)

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._token = 0
        self._work: Callable[[], object] | None = None
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.setInterval(_WAIT_MS)
        self._timer.timeout.connect(self.start_now)
        # Emitted from a thread of the pool: Qt queues it into this one.
        self._arrived.connect(self.arrive)

    def ask(self, work: Callable[[], object]) -> None:
        """Ask a new question; earlier ones are forgotten. It starts when the questions pause."""
        self._token += 1
        self._work = work
        self._timer.start()

    def start_now(self) -> None:
        """Start the latest question without waiting for a pause."""
        pool = QThreadPool.globalInstance()
        if self._work is not None and pool is not None:
            self._timer.stop()
            pool.start(_Run(self._token, self._work, self._tell))
            self._work = None

    def _tell(self, token: int, result: object) -> None:
        try:
            self._arrived.emit(token, result)
        except RuntimeError:  # the window was closed while the study ran
            return

    def arrive(self, token: int, result: object) -> None:
        """An answer came in; only that to the latest question counts."""
        if token == self._token:
            self.done.emit(result)


class LongWork(QObject):
    """Work that takes a while: it tells how far it is and can be stopped, and then gives what it has so far.

    Signals:
        progressed: how far along, 0 to 1; done: the result, or the sentence why there is none.
    """

    progressed = pyqtSignal(float)
    done = pyqtSignal(object)
    _arrived = pyqtSignal(int, object)

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._token = 0
        self._stop = threading.Event()
        self.running = False
        self._arrived.connect(self._arrive)

    def start(self, work: Callable[[Callable[[float], object], Callable[[], bool]], object]) -> None:
        """Start the work, given a progress function and one that says whether to stop."""
        self.stop()
        self._token += 1
        stop = self._stop = threading.Event()
        pool = QThreadPool.globalInstance()
        assert pool is not None
        self.running = True
        pool.start(_Run(self._token, lambda: work(self._tell_progress, stop.is_set), self._tell))

    def stop(self) -> None:
        """Ask the work to end with what it has."""
        self._stop.set()

    def _tell_progress(self, share: float) -> None:
        try:
            self.progressed.emit(share)
        except RuntimeError:  # the window was closed meanwhile
            self._stop.set()

    def _tell(self, token: int, result: object) -> None:
        try:
            self._arrived.emit(token, result)
        except RuntimeError:
            return

    def _arrive(self, token: int, result: object) -> None:
        if token == self._token:
            self.running = False
            self.done.emit(result)


def run_beside(parent: QObject, work: Callable[[], object], then: Callable[[object], object]) -> LongWork:
    """Do one piece of work beside the window, then hand on what came of it, or the sentence why nothing did.

    Args:
        parent: what the work belongs to; nothing is handed on once it is gone.
        work: called in another thread: it holds all it needs and touches no widget.
        then: called in the window's own thread.
    """
    run = LongWork(parent)
    run.done.connect(then)
    run.done.connect(lambda _came: run.deleteLater())
    run.start(lambda _progress, _stopped: work())
    return run
