"""The main window: work order, station, vials and travel rail around one bench."""

from collections.abc import Iterator
from functools import partial
from pathlib import Path
from threading import Thread
from typing import Any

from PyQt6.QtCore import QEvent, Qt
from PyQt6.QtGui import QAction, QCloseEvent, QKeySequence
from PyQt6.QtWidgets import QHBoxLayout, QMainWindow, QStackedWidget, QVBoxLayout, QWidget

from even_stance.desktop.bandeditor import BandEditor
from even_stance.desktop.bench import Bench
from even_stance.desktop.changestrip import ChangeStrip
from even_stance.desktop.files import Files
from even_stance.desktop.header import Header
from even_stance.desktop.look import SCALES, Look, LookName
from even_stance.desktop.pages import Scrolled, SteppedPage
from even_stance.desktop.rail import Rail
from even_stance.desktop.settings import Settings
from even_stance.desktop.stations import STATIONS
from even_stance.desktop.stations.newjob import NewJobPanel
from even_stance.desktop.stations.spec import Station
from even_stance.desktop.studies import Studies
from even_stance.desktop.vials import Vials
from even_stance.desktop.widgets.banner import Banner
from even_stance.desktop.workorder import WorkOrder
from even_stance.exchange.demo import demo_jobs
from even_stance.judgement.changes import Change
from even_stance.judgement.findings import Finding
from even_stance.vehicle.job import Job

_VIALS_WIDTH, _ORDER_WIDTH = 312, 150


def _found(station: Station, studies: Studies) -> list[Finding]:
    """What a station has to say, and what of its parts comes too near to something."""
    return [*station.findings(studies), *studies.gap_findings(station.key)]


class MainWindow(QMainWindow):
    """One window on one job."""

    def __init__(self, job: Job, look: Look, settings: Settings, recovery: Path | None = None) -> None:
        super().__init__()
        self.look, self._settings = look, settings
        self.bench = Bench(job, tuple(partial(_found, station) for station in STATIONS))
        self.banner = Banner()
        self.files = Files(self.bench, self.banner, self, recovery)
        self.header = Header(self.bench, look)
        self.order = WorkOrder(self.bench, look, STATIONS)
        self.vials = Vials(self.bench, look)
        self.band = BandEditor(self.bench, look)
        self.rail = Rail(self.bench, look)
        self.changes = ChangeStrip(self.bench, look)
        self.stack = QStackedWidget()
        self.newjob = NewJobPanel(self.bench)
        self._new_place = Scrolled(self.newjob)
        self.stack.addWidget(self._new_place)
        self._made: dict[str, QWidget] = {}
        self._right = QWidget()
        self._lay_out()
        self._fill_menus()
        self._connect()
        self.setWindowTitle("Even Stance")
        self.resize(1280, 800)
        self._size_columns()
        self.go("links")
        self._show_all()
        self.bench.build.open_drawer(settings.beside("parts.json"))

    def _lay_out(self) -> None:
        page = QWidget()
        page.setObjectName("page")
        self.setCentralWidget(page)
        column = QVBoxLayout(page)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.header)
        column.addWidget(self.banner)
        row = QHBoxLayout()
        row.setSpacing(0)
        row.addWidget(self.order)
        middle = QVBoxLayout()
        middle.setSpacing(0)
        middle.addWidget(self.stack, 1)
        middle.addWidget(self.changes)
        row.addLayout(middle, 1)
        right = QVBoxLayout(self._right)
        right.setContentsMargins(0, 0, 0, 0)
        right.setSpacing(0)
        right.addWidget(self.vials, 1)
        right.addWidget(self.band)
        row.addWidget(self._right)
        column.addLayout(row, 1)
        column.addWidget(self.rail)

    def _connect(self) -> None:
        self.bench.refused.connect(self._refused)
        self.order.chosen.connect(self.go)
        self.changes.chosen.connect(self.go_to)
        self.newjob.started.connect(self._start_new)
        self.newjob.cancelled.connect(lambda: self.go(self.bench.look_at.station))
        self.newjob.wants_open.connect(self.files.ask_open)
        self.files.opened.connect(self._opened)
        self.look.changed.connect(self._size_columns)
        self.bench.gaps.changed.connect(self._worked_out)
        self.bench.build.changed.connect(self._worked_out)
        self.bench.log.changed.connect(self._worked_out)

    def _worked_out(self) -> None:
        for view in (self.vials, self.order, self.changes):
            view.refresh()

    def _fill_menus(self) -> None:
        menu = self.header.job_menu
        self._action(menu, "New job", QKeySequence.StandardKey.New, self.ask_new)
        self._action(menu, "Open…", QKeySequence.StandardKey.Open, self.files.ask_open)
        demos = menu.addMenu("Demo jobs")
        assert demos is not None
        for i, job in enumerate(demo_jobs()):
            self._action(demos, job.name, None, lambda i=i: self.files.open_demo(i))
        menu.addSeparator()
        self._action(menu, "Save", QKeySequence.StandardKey.Save, self.files.save)
        self._action(menu, "Save as…", QKeySequence("Ctrl+Shift+S"), self.files.ask_save_as)
        kept = menu.addMenu("Kept aside")
        assert kept is not None
        self.kept_menu = kept
        kept.aboutToShow.connect(self._fill_kept)
        menu.addSeparator()
        self._action(menu, "Report as PDF…", None, lambda: self.files.ask_export("report", ".pdf"))
        self._action(menu, "Drawing as DXF…", None, lambda: self.files.ask_export("drawing", ".dxf"))
        self._action(menu, "Points as CSV…", None, lambda: self.files.ask_export("points", ".csv"))
        self._action(menu, "Measuring sheet as PDF…", None, lambda: self.files.ask_export("measuring-sheet", ".pdf"))
        menu.addSeparator()
        self._action(menu, "Close", QKeySequence.StandardKey.Quit, self.close)
        look = self.header.look_menu
        for name, words in (("paper", "Shop paper (light)"), ("night", "Night shop (dark)")):
            self._action(look, words, None, lambda n=name: self.set_look(n))
        look.addSeparator()
        for percent in SCALES:
            self._action(look, f"{percent} %", None, lambda p=percent: self.set_look(percent=p))
        self._action(None, "Undo", QKeySequence.StandardKey.Undo, self.bench.undo)
        self._action(None, "Redo", QKeySequence("Ctrl+Y"), self.bench.redo)
        self._action(None, "Redo", QKeySequence("Ctrl+Shift+Z"), self.bench.redo)
        self._action(None, "Swap look", QKeySequence("Ctrl+L"), self._swap_look)
        self._action(None, "Larger", QKeySequence("Ctrl++"), lambda: self._step_scale(1))
        self._action(None, "Smaller", QKeySequence("Ctrl+-"), lambda: self._step_scale(-1))
        self._action(None, "Other axle", QKeySequence("Ctrl+E"), self._other_axle)
        for i, station in enumerate(STATIONS):
            self._action(None, station.title, QKeySequence(f"Ctrl+{i + 1}"), lambda k=station.key: self.go(k))

    def _fill_kept(self) -> None:
        """All unsaved work that was kept, each to be opened or dropped."""
        self.kept_menu.clear()
        found = self.files.kept()
        if not found:
            nothing = self.kept_menu.addAction("nothing is kept aside")
            assert nothing is not None
            nothing.setEnabled(False)
        for words, kept in found:
            entry = self.kept_menu.addMenu(words.replace("&", "&&"))
            assert entry is not None
            for title, do in (("Open it", self.files.open_kept), ("Throw it away", self.files.drop_kept)):
                action = entry.addAction(title)
                assert action is not None
                action.triggered.connect(lambda _=False, do=do, kept=kept: do(kept))

    def _action(self, menu: object, title: str, keys: object, do: object) -> QAction:
        action = QAction(title, self)
        if keys is not None:
            action.setShortcut(QKeySequence(keys))
        assert callable(do)
        action.triggered.connect(lambda _=False: do())
        self.addAction(action)
        if menu is not None:
            menu.addAction(action)  # type: ignore[attr-defined]
        return action

    # --- going about

    def station(self, key: str) -> Any:
        """The widget of a station, made when it is first asked for."""
        if key not in self._made:
            made = next(s for s in STATIONS if s.key == key).make(self.bench, self.look)
            self._made[key] = made
            self.stack.addWidget(made)
        return self._made[key]

    def go(self, key: str) -> None:
        """Open a station."""
        station = next(s for s in STATIONS if s.key == key)
        widget = self.station(key)
        self.stack.setCurrentWidget(widget)
        self._right.show()
        self.changes.show()
        self.rail.setVisible(station.moves)
        self.bench.open_station(key)
        if station.focus is not None:
            station.focus(widget).setFocus()

    def go_to(self, change: Change) -> None:
        """Go where a change belongs: its station, axle and number."""
        if change.station:
            self.go(change.station)
        if change.axle:
            self.bench.select_axle(change.axle)
        if change.key:
            self.bench.select_figure(change.key)

    def get_ready(self) -> Iterator[None]:
        """Make what has not been opened yet, step by step; what a station needs is imported beside the window."""
        loading = Thread(target=lambda: [s.load() for s in STATIONS if s.load is not None], daemon=True)
        loading.start()
        while loading.is_alive():
            yield
        for station in STATIONS:
            widget = self.station(station.key)
            yield
            if station.ready is not None:
                widget.resize(self.stack.size())
                yield from station.ready(widget)
            for i in range(len(widget.pages.buttons)):
                if i not in widget.pages.made:
                    page = widget.pages.begin(i)
                    yield
                    if isinstance(page, SteppedPage):
                        yield from page.ready()

    def ask_new(self) -> None:
        """Ask for what a new job needs."""
        self.stack.setCurrentWidget(self._new_place)
        for widget in (self._right, self.rail, self.changes):
            widget.hide()
        self.newjob.name.setFocus()

    def _start_new(self, job: Job) -> None:
        self.files.start_job(job)
        self.go("links")

    def _opened(self) -> None:
        self.rail.stop()
        self.setWindowTitle(f"{self.bench.job.name} - Even Stance")
        self.go("links")

    def _show_all(self) -> None:
        self.bench.job_changed.emit()
        self.bench.file_changed.emit()

    def _refused(self, sentence: str) -> None:
        self.banner.tell(sentence)

    def _other_axle(self) -> None:
        keys = [a.key for a in self.bench.job.vehicle.axles]
        self.bench.select_axle(keys[(keys.index(self.bench.axle_key) + 1) % len(keys)])

    # --- look

    def set_look(self, name: LookName | None = None, percent: int | None = None) -> None:
        """Change look or scale and remember it."""
        self.look.use(name, percent)
        self._settings.remember(self.look.name, self.look.percent)

    def _swap_look(self) -> None:
        self.set_look("night" if self.look.name == "paper" else "paper")

    def _step_scale(self, step: int) -> None:
        index = SCALES.index(self.look.percent) if self.look.percent in SCALES else 0
        self.set_look(percent=SCALES[min(max(index + step, 0), len(SCALES) - 1)])

    def fit_screen(self) -> None:
        """The size, place and state last used, or what suits the shop's laptop, never more than the screen has."""
        screen = self.screen()
        if screen is None:
            return
        room = screen.availableGeometry()
        kept = self._settings.recall_window()
        if kept is None:
            self.resize(min(1280, room.width()), min(800, room.height()))
            if room.width() <= 1366 or room.height() <= 800:
                self.setWindowState(Qt.WindowState.WindowMaximized)
            return
        x, y, width, height, maximized = kept
        width, height = min(width, room.width()), min(height, room.height())
        self.resize(width, height)
        self.move(
            min(max(x, room.left()), room.right() - width + 1), min(max(y, room.top()), room.bottom() - height + 1)
        )
        if maximized:
            self.setWindowState(Qt.WindowState.WindowMaximized)

    def _size_columns(self) -> None:
        self._right.setFixedWidth(self.look.px(_VIALS_WIDTH))
        self.order.setFixedWidth(self.look.px(_ORDER_WIDTH))
        self.rail.setFixedHeight(self.look.px(84))

    # --- coming and going

    def changeEvent(self, event: QEvent | None) -> None:
        """Coming back to the window is when a change from outside is looked for."""
        super().changeEvent(event)
        assert event is not None
        if event.type() == QEvent.Type.ActivationChange and self.isActiveWindow():
            self.files.check_outside()

    def closeEvent(self, event: QCloseEvent | None) -> None:
        """Close without asking: unsaved work is kept and offered next time."""
        for station in self._made.values():
            leave = getattr(station, "leave", None)
            if leave is not None:
                leave()
        focus = self.focusWidget()
        if focus is not None:
            focus.clearFocus()  # what was just typed counts
        self.rail.stop()
        self.bench.gaps.stop()
        place = self.normalGeometry() if self.isMaximized() else self.geometry()
        self._settings.remember_window(place.x(), place.y(), place.width(), place.height(), self.isMaximized())
        self.files.closing()
        super().closeEvent(event)
