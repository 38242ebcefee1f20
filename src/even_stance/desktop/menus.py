"""The menus of the window and its keys."""

from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING

from PyQt6.QtGui import QAction, QKeySequence
from PyQt6.QtWidgets import QMenu

from even_stance.desktop.colors import LookName
from even_stance.desktop.look import SCALES
from even_stance.desktop.selection import PaperSize
from even_stance.desktop.stations import STATIONS
from even_stance.exchange.demo import demo_names

if TYPE_CHECKING:
    from even_stance.desktop.window import MainWindow

PRINTED = ("report", "measuring-sheet", "driveshaft-order", "cycle-card", "cut-list", "shopping-list", "templates",
           "order-of-work", "build-book", "recheck-card")  # fmt: skip
_SIZES: dict[PaperSize, str] = {"": "letter with inches, A4 with mm", "letter": "Letter", "a4": "A4"}
_SAVED = (("report", ".pdf"), ("drawing", ".dxf"), ("points", ".csv"), ("measuring-sheet", ".pdf"))


def fill_menus(window: "MainWindow") -> None:
    """Fill the job and look menus, and give every key its action."""
    _job_menu(window)
    look = window.header.look_menu
    looks: tuple[tuple[LookName, str], ...] = (("paper", "Shop paper (light)"), ("night", "Night shop (dark)"))
    for name, words in looks:
        _action(window, look, words, None, partial(window.set_look, name))
    look.addSeparator()
    for percent in SCALES:
        _action(window, look, f"{percent} %", None, partial(window.set_look, None, percent))
    look.addSeparator()
    glove = _action(window, look, "Large enough for gloves", None, lambda: window.set_look(glove=not window.look.glove))
    glove.setCheckable(True)
    look.aboutToShow.connect(lambda: glove.setChecked(window.look.glove))
    keys: tuple[tuple[str, object, Callable[[], object]], ...] = (
        ("Undo", QKeySequence.StandardKey.Undo, window.bench.undo), ("Redo", "Ctrl+Y", window.bench.redo),
        ("Redo", "Ctrl+Shift+Z", window.bench.redo), ("Swap look", "Ctrl+L", partial(_swap_look, window)),
        ("Larger", "Ctrl++", lambda: window.step_scale(1)), ("Smaller", "Ctrl+-", lambda: window.step_scale(-1)),
        ("Other axle", "Ctrl+E", window.other_axle),
        *((station.title, f"Ctrl+{i + 1}", partial(window.go, station.key)) for i, station in enumerate(STATIONS)),
    )  # fmt: skip
    for title, key, do in keys:
        _action(window, None, title, key, do)


def _swap_look(window: "MainWindow") -> None:
    window.set_look("night" if window.look.name == "paper" else "paper")


def _job_menu(window: "MainWindow") -> None:
    menu, files = window.header.job_menu, window.files
    _action(window, menu, "New job", QKeySequence.StandardKey.New, window.ask_new)
    _action(window, menu, "Open…", QKeySequence.StandardKey.Open, files.ask_open)
    _late(menu, "Worked on last", lambda m: _fill_recent(window, m))
    demos = _late(menu, "Demo jobs", lambda _: None)
    for i, name in enumerate(demo_names()):
        _action(window, demos, name, None, partial(files.open_demo, i))
    menu.addSeparator()
    _action(window, menu, "Save", QKeySequence.StandardKey.Save, files.save)
    _action(window, menu, "Save as…", "Ctrl+Shift+S", files.ask_save_as)
    window.kept_menu = _late(menu, "Kept aside", lambda m: _fill_kept(window, m))
    menu.addSeparator()
    for what, suffix in _SAVED:
        words = f"{what.replace('-', ' ').capitalize()} as {suffix[1:].upper()}…"
        _action(window, menu, words, None, partial(files.ask_export, what, suffix))
    _action(window, menu, "Print the report…", QKeySequence.StandardKey.Print, lambda: print_paper(window, "report"))
    files.papers.made.connect(partial(show_print, window))
    prints = _late(menu, "Print", lambda _: None)
    for what in PRINTED:
        words = f"{what.replace('-', ' ').capitalize()}…"
        _action(window, prints, words, None, partial(print_paper, window, what))
    sizes = _late(menu, "Paper", lambda m: _tick_size(window, m))
    for size, words in _SIZES.items():
        action = _action(window, sizes, words, None, partial(window.set_paper, size))
        action.setCheckable(True)
    menu.addSeparator()
    _action(window, menu, "Help", "F1", window.ask_help)
    _action(window, menu, "About and licenses", None, lambda: window.ask_help("about"))
    _action(window, menu, "Practice car", None, window.ask_practice)
    _action(window, menu, "Start page", None, window.ask_start)
    menu.addSeparator()
    _action(window, menu, "Close", QKeySequence.StandardKey.Quit, window.close)


def _late(menu: QMenu, title: str, fill: Callable[[QMenu], object]) -> QMenu:
    """A menu within a menu, filled when it is looked at."""
    inner = menu.addMenu(title)
    assert inner is not None
    inner.aboutToShow.connect(lambda: fill(inner))
    return inner


def _action(window: "MainWindow", menu: QMenu | None, title: str, keys: object, do: Callable[[], object]) -> QAction:
    action = QAction(title, window)
    if keys is not None:
        action.setShortcut(QKeySequence(keys))
    action.triggered.connect(lambda _=False: do())
    window.addAction(action)
    if menu is not None:
        menu.addAction(action)
    return action


def _tick_size(window: "MainWindow", menu: QMenu) -> None:
    for action, size in zip(menu.actions(), _SIZES, strict=True):
        action.setChecked(size == window.bench.paper_size)


def _nothing(menu: QMenu, words: str) -> None:
    nothing = menu.addAction(words)
    assert nothing is not None
    nothing.setEnabled(False)


def _fill_recent(window: "MainWindow", menu: QMenu) -> None:
    """The files worked on last."""
    menu.clear()
    found = window.settings.recent()
    for file in found:
        words = f"{file.stem}   in {file.parent.name or file.parent}".replace("&", "&&")
        action = menu.addAction(words)
        assert action is not None
        action.triggered.connect(lambda _=False, file=file: window.files.open_path(file))
    if not found:
        _nothing(menu, "no file yet")


def _fill_kept(window: "MainWindow", menu: QMenu) -> None:
    """All unsaved work that was kept, each to be opened or dropped."""
    menu.clear()
    found = window.files.kept()
    if not found:
        _nothing(menu, "nothing is kept aside")
    for words, kept in found:
        entry = menu.addMenu(words.replace("&", "&&"))
        assert entry is not None
        for title, do in (("Open it", window.files.open_kept), ("Throw it away", window.files.drop_kept)):
            action = entry.addAction(title)
            assert action is not None
            action.triggered.connect(lambda _=False, do=do, kept=kept: do(kept))


def print_paper(window: "MainWindow", what: str) -> None:
    """Make a paper beside the window, then show it in the system's print preview."""
    window.banner.tell(f"Making the {what.replace('-', ' ')} for print…")
    window.files.papers.make(window.bench.job, what, window.bench.setup)


def show_print(window: "MainWindow", paper: bytes, title: str) -> object:
    """A paper in the system's print preview."""
    from even_stance.desktop.printing import preview  # noqa: PLC0415 - printing is loaded late

    window.banner.hide()
    return preview(window, paper, title)
