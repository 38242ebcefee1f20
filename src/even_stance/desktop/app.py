"""Starting the window, and pictures of it without a monitor."""

import gc
import os
import sys
import tempfile
import traceback
from pathlib import Path
from types import TracebackType

from platformdirs import user_config_path, user_state_path
from PyQt6.QtCore import QEvent, QThreadPool
from PyQt6.QtWidgets import QApplication

from even_stance.desktop.look import Look
from even_stance.desktop.readying import Readying
from even_stance.desktop.settings import Settings
from even_stance.desktop.window import MainWindow
from even_stance.exchange.demo import demo_jobs


def application() -> QApplication:
    """The one QApplication of this process."""
    app = QApplication.instance()
    if not isinstance(app, QApplication):
        app = QApplication(["even-stance"])
        app.setApplicationName("even-stance")
        app.setApplicationDisplayName("Even Stance")
        app.setStyle("Fusion")
    return app


def open_window(path: Path | None, demo: bool = False) -> int:
    """Open the window on a job file, on the demo jobs, or asking for a new job; runs until it is closed."""
    app = application()
    settings = Settings(user_config_path("even-stance") / "look.json")
    look = Look()
    look.use(*settings.recall())
    window = MainWindow(demo_jobs()[0], look, settings)
    guard(window)
    show(window)
    if path is not None:
        if not window.files.open_path(path):
            window.ask_new()
    elif not demo:
        window.ask_new()
    window.files.offer_recovered()
    return int(app.exec())


def show(window: MainWindow) -> Readying:
    """Show a window, and make ready what has not been opened yet while the user looks at it.

    What was made until then stays: the collector need not look through it again and again while points are dragged,
    which takes a seventh of the time of a drag.
    """
    window.show()
    gc.freeze()
    return Readying(window, window.get_ready())


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


def guard(window: MainWindow) -> None:
    """Let a fault of ours cost nothing: the job is kept aside, the fault written down, and the window told."""

    def caught(kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        report = user_state_path("even-stance") / "last-fault.txt"
        text = "".join(traceback.format_exception(kind, error, trace))
        try:
            report.parent.mkdir(parents=True, exist_ok=True)
            report.write_text(text, encoding="utf-8")
        except OSError:
            sys.stderr.write(text)
        window.files.keep_aside()
        window.banner.tell(
            f"Something went wrong in Even Stance itself ({kind.__name__}). Your work is kept; the last change may not "
            f"have been made. Details: {report}"
        )

    sys.excepthook = caught


def take_shots(folder: Path) -> int:
    """Render every main view of the demo jobs to PNG files, 1280x800, with no monitor."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from even_stance.desktop.shots import shoot_all  # noqa: PLC0415

    app = application()
    with tempfile.TemporaryDirectory() as scratch:
        for file in shoot_all(folder, Path(scratch)):
            sys.stdout.write(f"{file}\n")
    app.processEvents()
    return 0
