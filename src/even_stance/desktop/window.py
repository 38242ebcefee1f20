"""The main window: work order, station, vials and travel rail around one bench."""

from collections.abc import Iterator
from functools import partial
from pathlib import Path
from threading import Thread
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QEvent, Qt
from PyQt6.QtGui import QCloseEvent, QDragEnterEvent, QDropEvent, QResizeEvent
from PyQt6.QtWidgets import QHBoxLayout, QMainWindow, QMenu, QStackedWidget, QVBoxLayout, QWidget

from even_stance.desktop.bandeditor import BandEditor
from even_stance.desktop.bench import Bench
from even_stance.desktop.changestrip import ChangeStrip
from even_stance.desktop.colors import LookName
from even_stance.desktop.dropping import dropped
from even_stance.desktop.files import Files
from even_stance.desktop.header import Header
from even_stance.desktop.look import SCALES, Look
from even_stance.desktop.menus import fill_menus
from even_stance.desktop.pages import Scrolled, SteppedPage
from even_stance.desktop.rail import Rail
from even_stance.desktop.room import Room, Squeezed
from even_stance.desktop.selection import PaperSize
from even_stance.desktop.settings import Settings
from even_stance.desktop.startpanel import StartPanel
from even_stance.desktop.stations import STATIONS, load_all
from even_stance.desktop.stations.newjob import NewJobPanel
from even_stance.desktop.stations.spec import Station
from even_stance.desktop.studies import Studies
from even_stance.desktop.taborder import step_focus
from even_stance.desktop.vials import Vials
from even_stance.desktop.widgets.banner import Banner
from even_stance.desktop.workorder import WorkOrder
from even_stance.exchange.jobfile import SUFFIX
from even_stance.judgement.changes import Change
from even_stance.judgement.findings import Finding
from even_stance.units import HABITS
from even_stance.vehicle.job import Job

if TYPE_CHECKING:
    from even_stance.desktop.helppanel import HelpPanel
    from even_stance.desktop.practicepanel import PracticePanel


def _found(station: Station, studies: Studies) -> list[Finding]:
    """What a station has to say, and what of its parts comes too near to something."""
    return [*station.findings(studies), *studies.gap_findings(station.key)]


class MainWindow(QMainWindow):
    """One window on one job."""

    def __init__(
        self, job: Job, look: Look, settings: Settings, recovery: Path | None = None, late: bool = False
    ) -> None:  # fmt: skip
        super().__init__()
        self.look, self.settings = look, settings
        self.bench = Bench(job, tuple(partial(_found, station) for station in STATIONS), late)
        self.bench.paper_size = settings.recall_paper()
        HABITS.decimal_inches = settings.recall_decimal_inches()
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
        self.welcome = StartPanel(look)
        self._start_place = Scrolled(self.welcome)
        for place in (self._new_place, self._start_place):
            self.stack.addWidget(place)
        self.help: HelpPanel | None = None
        self.practice: PracticePanel | None = None
        self.kept_menu: QMenu
        self._before_help: QWidget | None = None
        self._started = True
        self.setAcceptDrops(True)
        self._made: dict[str, QWidget] = {}
        self.right = QWidget()
        self._room = Room(self)
        self._lay_out()
        fill_menus(self)
        self._connect()
        self.setWindowTitle("Even Stance")
        self.resize(1280, 800)
        self._size_columns()
        self.go("links")
        self._show_all()
        self.bench.build.open_drawer(settings.beside("parts.json"))

    def _lay_out(self) -> None:
        page = Squeezed(self._room.smallest)
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
        self.middle = QWidget()
        middle = QVBoxLayout(self.middle)
        middle.setContentsMargins(0, 0, 0, 0)
        middle.setSpacing(0)
        middle.addWidget(self.stack, 1)
        middle.addWidget(self.changes)
        row.addWidget(self.middle, 1)
        right = QVBoxLayout(self.right)
        right.setContentsMargins(0, 0, 0, 0)
        right.setSpacing(0)
        right.addWidget(self.vials, 1)
        right.addWidget(self.band)
        row.addWidget(self.right)
        column.addLayout(row, 1)
        column.addWidget(self.rail)

    def _connect(self) -> None:
        self.bench.refused.connect(self._refused)
        self.order.chosen.connect(self.go)
        self.header.turn.toggled.connect(lambda _: self._room.fit())
        self.changes.chosen.connect(self.go_to)
        self.newjob.started.connect(self._start_new)
        self.newjob.cancelled.connect(self._back)
        self.welcome.chosen.connect(self._begin)
        self.welcome.demo.connect(self.files.open_demo)
        self.welcome.recent.connect(self.files.open_path)
        self.files.on_file.connect(self.settings.remember_file)
        self.newjob.wants_open.connect(self.files.ask_open)
        self.files.opened.connect(self._opened)
        self.look.changed.connect(self._size_columns)
        self.header.reads.connect(lambda: self.settings.remember_decimal_inches(HABITS.decimal_inches))
        for watch in (self.bench.gaps, self.bench.build, self.bench.log):
            watch.changed.connect(self._worked_out)

    def _worked_out(self) -> None:
        # What is of the whole car is shown once all of it is judged, one axle an event.
        for view in (self.vials,) if self.bench.judging.due else (self.vials, self.order, self.changes):
            view.refresh()

    # --- going about

    def station(self, key: str) -> Any:
        """The widget of a station, made when it is first asked for."""
        if key not in self._made:
            made: Any = next(s for s in STATIONS if s.key == key).make(self.bench, self.look)
            self._made[key] = made
            made.pages.asked.connect(self.ask_help)
            self.stack.addWidget(made)
        return self._made[key]

    def go(self, key: str) -> None:
        """Open a station."""
        station = next(s for s in STATIONS if s.key == key)
        widget = self.station(key)
        self.bench.open_station(key)  # first: a station that is shown then knows what is looked at
        self.stack.setCurrentWidget(widget)
        self._show_work(True)
        self.rail.setVisible(station.moves)
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
        loading = Thread(target=load_all, args=(self.bench.job.vehicle,), daemon=True)
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

    def _show_work(self, shown: bool) -> None:
        """Show what belongs to a job at work, or hide it where none is."""
        for widget in (self.changes, self.rail, self.order):
            widget.setVisible(shown)
        self.header.show_job(shown)
        self.header.turn.setChecked(False)
        self._room.fit()

    def ask_start(self) -> None:
        """The start page: ways to begin."""
        self.welcome.show_recent(self.settings.recent())
        self.stack.setCurrentWidget(self._start_place)
        self._show_work(False)
        self.welcome.ways["new"].setFocus()

    def begin(self) -> None:
        """The first thing seen, while no job was asked for: going back from anything leads here."""
        self._started = False
        self.ask_start()

    def _begin(self, way: str) -> None:
        if way == "open":
            self.files.ask_open()
        elif way == "practice":
            self.ask_practice()
        else:
            self.ask_new(measure_first=way == "measure")

    def ask_practice(self) -> None:
        """A car with hidden faults, to be found by measuring."""
        from even_stance.desktop.practicepanel import PracticePanel  # noqa: PLC0415 - made when first asked for

        if self.practice is None:
            self.practice = PracticePanel(self.look)
            self.practice.closed.connect(self._back)
            self._practice_place = Scrolled(self.practice)
            self.stack.addWidget(self._practice_place)
        self.stack.setCurrentWidget(self._practice_place)
        self._show_work(False)
        self.practice.table.setFocus()

    def ask_new(self, measure_first: bool = False) -> None:
        """Ask for what a new job needs."""
        self.stack.setCurrentWidget(self._new_place)
        self._show_work(False)
        self.newjob.ask(measure_first)

    def _back(self) -> None:
        """Back to the job at work, or where there is none yet to the start page."""
        if self._started:
            self.go(self.bench.look_at.station)
        else:
            self.ask_start()

    def _start_new(self, job: Job) -> None:
        measure = self.newjob.measure_first
        self.files.start_job(job)
        if measure:
            self.go("stance")
            self.station("stance").turn_to(1)
            self.banner.tell("What you did not type is a usual size until you tape it: the sheet says what comes next.")

    def ask_help(self, station: str = "") -> None:
        """Open help at what is on the screen, or at a chapter asked for; once more goes back."""
        if self.help is None:
            from even_stance.desktop.helppanel import HelpPanel  # noqa: PLC0415 - made when first asked for

            self.help = HelpPanel(self.look)
            self.help.closed.connect(self._close_help)
            self.stack.addWidget(self.help)
        shown = self.stack.currentWidget()
        if shown is self.help and not station:
            self._close_help()
            return
        page = ""
        if shown is not self.help:
            self._before_help = shown
        if not station:
            station = "new" if shown in (self._new_place, self._start_place) else self.bench.look_at.station
            pages = getattr(shown, "pages", None)
            page = pages.buttons[pages.current].text() if pages is not None else ""
        self.stack.setCurrentWidget(self.help)
        self.help.open_at(station, page)

    def _close_help(self) -> None:
        if self._before_help is not None:
            self.stack.setCurrentWidget(self._before_help)
            self._before_help.setFocus()

    def _opened(self) -> None:
        self._started = True
        self.rail.stop()
        self.setWindowTitle(f"{self.bench.job.name} - Even Stance")
        self.go("links")

    def _show_all(self) -> None:
        self.bench.job_changed.emit()
        self.bench.file_changed.emit()

    def _refused(self, sentence: str) -> None:
        self.banner.tell(sentence)

    def other_axle(self) -> None:
        """Look at the next axle."""
        keys = [a.key for a in self.bench.job.vehicle.axles]
        self.bench.select_axle(keys[(keys.index(self.bench.axle_key) + 1) % len(keys)])

    # --- look

    def set_look(self, name: LookName | None = None, percent: int | None = None, glove: bool | None = None) -> None:
        """Change look, scale or the size of what is pressed, and remember it."""
        self.look.use(name, percent, glove)
        self.settings.remember(self.look.name, self.look.percent, self.look.glove)

    def set_paper(self, size: PaperSize) -> None:
        """Choose the paper that everything is printed on, and remember it."""
        self.bench.paper_size = size
        self.settings.remember_paper(size)

    def step_scale(self, step: int) -> None:
        """One scale larger (+1) or smaller."""
        index = SCALES.index(self.look.percent) if self.look.percent in SCALES else 0
        self.set_look(percent=SCALES[min(max(index + step, 0), len(SCALES) - 1)])

    def fit_screen(self) -> None:
        """The size, place and state last used, or what suits the shop's laptop, never more than the screen has."""
        screen = self.screen()
        if screen is None:
            return
        room = screen.availableGeometry()
        kept = self.settings.recall_window()
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

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """What there is room for beside the page."""
        super().resizeEvent(event)
        self._room.fit()

    def _size_columns(self) -> None:
        self._room.fit()
        self.rail.setFixedHeight(self.look.px(116 if self.look.glove else 84))

    def focusNextPrevChild(self, next: bool) -> bool:  # noqa: A002 - Qt's own name
        """Tab follows the page as it stands."""
        return step_focus(self, next)

    # --- files let go over the window

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        """Take job files, and tables of points."""
        assert event is not None
        if dropped(event):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        """Open a job; offer the points of a table."""
        assert event is not None
        file = dropped(event)
        if file is None:
            return
        event.acceptProposedAction()
        if file.suffix.lower() == SUFFIX:
            self.files.open_path(file)
            return
        self.go("stance")
        self.station("stance").take_points(file)

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
        self.settings.remember_window(place.x(), place.y(), place.width(), place.height(), self.isMaximized())
        self.files.closing()
        super().closeEvent(event)
