"""Starting the window, and pictures of it without a monitor."""

import ctypes
import gc
import os
import signal
import socket
import subprocess
import sys
import tempfile
import threading
import traceback
from pathlib import Path
from types import TracebackType

from platformdirs import user_config_path
from PyQt6.QtCore import (
    QEvent,
    QLibraryInfo,
    QLocale,
    QMessageLogContext,
    QObject,
    QSocketNotifier,
    Qt,
    QThreadPool,
    QTimer,
    QtMsgType,
    pyqtSignal,
    qInstallMessageHandler,
)
from PyQt6.QtWidgets import QApplication

from even_stance.desktop.colors import LookName
from even_stance.desktop.idlework import IdleWork
from even_stance.desktop.look import SCALES, Look
from even_stance.desktop.settings import Settings
from even_stance.desktop.window import MainWindow
from even_stance.errors import DisplayError
from even_stance.exchange.demo import demo_job
from even_stance.exchange.recovery import write_fault
from even_stance.faults import report_faults_to
from even_stance.units import HABITS

_SWITCH_S = 5e-5
_TRIM_THRESHOLD, _MMAP_THRESHOLD, _ARENA_MAX = -1, -3, -8
_GIVEN_BACK_FROM = 1 << 18  # bytes; smaller is not worth the time
_JUDGED_MS = 150  # after the window was shown: it has been painted by then
_TRIED_S = 10.0
_USUAL_PX = 13.3  # 10 points at 96 dots an inch, as most desktops begin


def application() -> QApplication:
    """The one QApplication of this process."""
    app = QApplication.instance()
    if not isinstance(app, QApplication):
        app = QApplication(["even-stance"])
        app.setApplicationName("even-stance")
        app.setApplicationDisplayName("Even Stance")
        app.setDesktopFileName("even-stance")
        # Studies run in threads beside the window: a thread that holds the interpreter lets go of it this soon, so that
        # the window, which needs it often and briefly, does not wait for it each time.
        sys.setswitchinterval(_SWITCH_S)
        _share_memory()
    return app


def _share_memory() -> None:
    """Threads take memory from one place, and what was let go of goes back to the system.

    Left to itself, the C library gives each thread a store of its own, which keeps what the thread's study has let go
    of, and keeps the more the larger the things were that it was asked for (mallopt(3); other C libraries have no such
    call).
    """
    mallopt = getattr(ctypes.CDLL(None), "mallopt", None)
    if mallopt is not None:
        mallopt(_ARENA_MAX, 1)
        mallopt(_TRIM_THRESHOLD, _GIVEN_BACK_FROM)
        mallopt(_MMAP_THRESHOLD, _GIVEN_BACK_FROM)


def of_the_system(app: QApplication) -> tuple[LookName, int]:
    """The look and scale that the desktop asks for, until the person chooses: dark or light, and its size of type."""
    hints = app.styleHints()
    dark = hints is not None and hints.colorScheme() == Qt.ColorScheme.Dark
    font = app.font()
    pixels = font.pixelSize() if font.pixelSize() > 0 else font.pointSizeF() * _screen_dpi(app) / 72.0
    percent = min(SCALES, key=lambda p: abs(p - 100.0 * pixels / _USUAL_PX))
    return ("night" if dark else "paper"), percent


def _screen_dpi(app: QApplication) -> float:
    screen = app.primaryScreen()
    return 96.0 if screen is None else float(screen.logicalDotsPerInch())


def need_display() -> None:
    """Make sure that there is somewhere to open a window: Qt itself would end the program without a word of ours.

    Raises:
        DisplayError: there is no display, or it cannot be reached.
    """
    platform = os.environ.get("QT_QPA_PLATFORM", "").partition(":")[0].partition(";")[0]
    if platform.startswith("wayland") or (not platform and os.environ.get("WAYLAND_DISPLAY")):
        if _wayland_answers():
            return
        name = os.environ.get("WAYLAND_DISPLAY", "wayland-0")
        if platform or not os.environ.get("DISPLAY"):
            raise DisplayError(f"The Wayland display {name} cannot be reached: is it running, and may you use it?")
        os.environ["QT_QPA_PLATFORM"] = "xcb"  # a name left over from another session: the X display it is
    elif platform not in ("", "xcb"):
        _try_platform(platform)
        return
    _load_plugin("xcb")
    display = os.environ.get("DISPLAY")
    if not display:
        raise DisplayError("There is no display to open a window on. Start it from a desktop; “even-stance --help” "
                           "lists what works without one.")  # fmt: skip
    try:
        xcb = ctypes.CDLL("libxcb.so.1")
    except OSError:
        return  # Qt brings its own, or says what it lacks
    xcb.xcb_connect.restype = ctypes.c_void_p
    xcb.xcb_connection_has_error.argtypes = xcb.xcb_disconnect.argtypes = [ctypes.c_void_p]
    connection = xcb.xcb_connect(None, None)
    failed = xcb.xcb_connection_has_error(connection)
    xcb.xcb_disconnect(connection)
    if failed:
        raise DisplayError(f"The display {display} cannot be reached: is it running, and may you use it?")


def _load_plugin(platform: str) -> None:
    """Make sure that what Qt draws through can be loaded.

    Raises:
        DisplayError: a library of the system is missing; the sentence names it.
    """
    plugin = Path(QLibraryInfo.path(QLibraryInfo.LibraryPath.PluginsPath)) / "platforms" / f"libq{platform}.so"
    try:
        ctypes.CDLL(str(plugin))
    except OSError as error:
        missing = str(error).partition(":")[0]
        raise DisplayError(f"Windows cannot be opened: {missing} is missing on this system. Install the package that "
                           "holds it.") from None  # fmt: skip


def _try_platform(platform: str) -> None:
    """Make sure that Qt starts on a platform that is seldom asked for: Qt ends a program that it cannot serve.

    Raises:
        DisplayError: it does not.
    """
    if platform in ("offscreen", "minimal"):
        return
    program = "from PyQt6.QtGui import QGuiApplication; QGuiApplication([])"
    try:
        done = subprocess.run([sys.executable, "-c", program], capture_output=True, check=False, timeout=_TRIED_S)
        started = done.returncode == 0
    except subprocess.TimeoutExpired:
        started = False
    if not started:
        raise DisplayError(f"QT_QPA_PLATFORM asks for “{platform}”, on which no window opens here. Take it out, "
                           "or set it to xcb or wayland.")  # fmt: skip


def quiet_qt() -> None:
    """Keep a remark of Qt about its own plugins out of the terminal; all else it says goes there as always."""

    def say(_kind: QtMsgType, _where: QMessageLogContext, words: str | None) -> None:
        if words and "propagateSizeHints" not in words:
            sys.stderr.write(f"{words}\n")

    qInstallMessageHandler(say)


def _wayland_answers() -> bool:
    """Return whether somebody listens where Wayland's windows are to go."""
    name = os.environ.get("WAYLAND_DISPLAY", "wayland-0")
    folder = os.environ.get("XDG_RUNTIME_DIR", "")
    if not name.startswith("/") and not folder:
        return False
    with socket.socket(socket.AF_UNIX) as door:
        try:
            door.connect(str(Path(folder) / name))
        except OSError:
            return False
    return True


def open_window(path: Path | None, demo: bool = False) -> int:
    """Open the window on a job file, on the demo jobs, or asking for a new job; runs until it is closed.

    Raises:
        DisplayError: there is no display.
    """
    need_display()
    quiet_qt()
    app = application()
    HABITS.comma = QLocale.system().decimalPoint() == ","
    settings = Settings(user_config_path("even-stance") / "look.json")
    look = Look()
    look.use(*(settings.recall() or of_the_system(app)), settings.recall_glove())
    window = MainWindow(demo_job(0), look, settings, late=True)
    guard(window)
    show(window)
    if path is not None:
        if not window.files.open_path(path):
            window.begin()
    elif not demo:
        window.begin()
    window.files.offer_recovered()
    keep_when_told_to_leave(app, window)
    return int(app.exec())


def show(window: MainWindow) -> IdleWork:
    """Show a window, and make ready what has not been opened yet while the user looks at it.

    What was made until then stays: the collector need not look through it again and again while points are dragged,
    which takes a seventh of the time of a drag.
    """
    window.fit_screen()
    window.show()
    QTimer.singleShot(_JUDGED_MS, window.bench.catch_up)
    gc.freeze()
    return IdleWork(window, window.get_ready())


def dispose(window: MainWindow) -> None:
    """Close a window and take it down at once, its background studies finished first.

    Left to the garbage collector, charts are taken apart in any order, also while another window paints.
    """
    pool = QThreadPool.globalInstance()
    if pool is not None:
        pool.waitForDone()
    QApplication.processEvents()
    window.close()
    window.deleteLater()
    QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
    gc.unfreeze()  # what was made for this window need not stay


class _Faults(QObject):
    """Carries word of a fault from whatever thread it happened in to the window's own.

    Signals:
        happened: what kind of fault, and where it is written down.
    """

    happened = pyqtSignal(str, str)


def guard(window: MainWindow) -> None:
    """Let a fault of ours cost nothing: it is written down where it happened; the window keeps the job and tells.

    Widgets are touched by the window's thread alone, whichever thread failed.
    """
    faults = _Faults(window)
    told: set[str] = set()

    def tell(kind: str, report: str) -> None:
        window.files.keep_aside()
        window.banner.tell(
            f"Something went wrong in Even Stance itself ({kind}). Your work is kept; the last change may not "
            f"have been made. Details: {report}"
        )

    def write_down(error: BaseException) -> None:
        text = "".join(traceback.format_exception(error))
        report = ""
        try:
            report = str(write_fault(error))
        except OSError:
            sys.stderr.write(text)
        if text not in told:  # the same fault again and again is told once
            told.add(text)
            faults.happened.emit(type(error).__name__, report)

    def caught(kind: type[BaseException], error: BaseException | None, trace: TracebackType | None) -> None:
        write_down((error or kind()).with_traceback(trace))

    report_faults_to(write_down)
    faults.happened.connect(tell)
    sys.excepthook = caught
    threading.excepthook = lambda hook: caught(hook.exc_type, hook.exc_value, hook.exc_traceback)
    sys.unraisablehook = lambda hook: caught(hook.exc_type, hook.exc_value, hook.exc_traceback)


def keep_when_told_to_leave(app: QApplication, window: MainWindow) -> None:
    """SIGTERM, SIGHUP, SIGINT and the end of the session keep unsaved work before the program leaves."""
    ours, theirs = socket.socketpair()
    ours.setblocking(False)
    theirs.setblocking(False)
    signal.set_wakeup_fd(theirs.fileno())
    for number in (signal.SIGTERM, signal.SIGHUP, signal.SIGINT):
        # The work is done below: Qt hears of the signal through the socket, at once, also while it waits.
        signal.signal(number, lambda *_: None)
    notifier = QSocketNotifier(ours.fileno(), QSocketNotifier.Type.Read, window)  # type: ignore[call-overload]

    def leave() -> None:
        notifier.setEnabled(False)
        window.close()
        app.quit()

    notifier.activated.connect(leave)
    app.commitDataRequest.connect(lambda _: window.files.closing())

    def let_go() -> None:
        signal.set_wakeup_fd(-1)
        ours.close()
        theirs.close()

    window.destroyed.connect(let_go)


def take_shots(folder: Path, projects: Path | None = None) -> int:
    """Render every main view of the demo jobs to PNG files, 1280x800, with no monitor; and their projects' strips."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from even_stance.desktop.films import film_all  # noqa: PLC0415
    from even_stance.desktop.shots import shoot_all  # noqa: PLC0415

    quiet_qt()
    app = application()
    with tempfile.TemporaryDirectory() as scratch:
        for file in shoot_all(folder, Path(scratch)):
            sys.stdout.write(f"{file}\n")
        for file in film_all(projects, Path(scratch)) if projects is not None else ():
            sys.stdout.write(f"{file}\n")
    app.processEvents()
    return 0
