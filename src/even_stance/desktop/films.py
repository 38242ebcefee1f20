"""A worked project of each demo job as a strip of stills: what is looked at, in the order of the work."""

from collections.abc import Callable, Iterator
from pathlib import Path

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QPainter, QPixmap
from PyQt6.QtWidgets import QApplication

from even_stance.desktop.app import dispose
from even_stance.desktop.look import Look
from even_stance.desktop.settings import Settings
from even_stance.desktop.shots import folder_for, pause, settle, settle_gaps, until
from even_stance.desktop.stations.links.station import SOLVE
from even_stance.desktop.window import MainWindow
from even_stance.errors import JobFileError
from even_stance.exchange.demo import demo_job, demo_names
from even_stance.vehicle.edits import set_length
from even_stance.vehicle.spots import Spot

Act = Callable[[MainWindow], object]
Frame = tuple[str, str, str, str, Act]  # what is said of it, axle, station, page, what is done there

_WIDE, _HIGH, _SCALE, _ACROSS, _WORDS = 1280, 800, 0.6, 2, 34


def _nothing(_window: MainWindow) -> None:
    return


def _explain(key: str) -> Act:
    def act(window: MainWindow) -> None:
        window.bench.explain_figure(key)
        QApplication.processEvents()
        window.station("links").why.late.start_now()

    return act


def _take_first(window: MainWindow) -> None:
    window.station("links").why.tries[0].click()


def _figure(key: str) -> Act:
    return lambda window: window.bench.select_figure(key)


def _posture(left: float, right: float, steer: float = 0.0) -> Act:
    return lambda window: window.bench.set_posture(left, right, steer)


def _solve_flat(window: MainWindow) -> None:
    page = window.station("links").pages.page(SOLVE)
    page.ask_for("flat:anti_squat_axle_pct")
    page.asks["flat:anti_squat_axle_pct"][1].take(16.0)
    for (spot, axis), box in page.boxes.items():
        box.setChecked(spot.end == "chassis" and axis in (0, 2))
    page.solve()


def _longer_bar(window: MainWindow) -> None:
    window.bench.do(set_length(Spot("rear", "Panhard", "chassis"), 950.0))


def _gap(window: MainWindow) -> None:
    held = window.station("clearance").held
    listed = held.listed()
    if listed:
        held.hold(listed[0])
    settle_gaps(window)


FILMS: tuple[tuple[Frame, ...], ...] = (
    (
        ("1  Tape: the sheet says what is next", "rear", "stance", "Measure", _nothing),
        ("2  Judge: anti-squat is low, and why", "rear", "links", "Floor", _explain("anti_squat_axle_pct")),
        ("3  Try the hole it names, as a variant", "rear", "links", "Floor", _take_first),
        ("4  Cross it up: where it ends, what is worst", "rear", "travel", "Articulation", _nothing),
        ("5  What comes nearest to what", "rear", "clearance", "Gaps", _gap),
        ("6  Cut list", "rear", "build", "Links", _nothing),
    ),
    (
        ("1  Square: which lower link to turn, and how far", "rear", "stance", "Square", _nothing),
        ("2  With the bags empty: answers at every height", "rear", "stance", "Heights", _nothing),
        ("3  A longer panhard bar: less sideways", "rear", "links", "Table", _longer_bar),
        ("4  Joint angles, and what is left of them", "rear", "driveline", "Angles", _nothing),
        ("5  It sits low: what brings it up", "rear", "springs", "Ride", _figure("sits_off_mm")),
        ("6  Templates", "rear", "build", "Templates", _nothing),
    ),
    (
        ("1  Cribs to stand it on: a cut list of their own", "rear", "stance", "Cribs", _nothing),
        ("2  Anti-squat asked to stay within 16 %", "rear", "links", "Solve", _solve_flat),
        ("3  Crossed up, in the round", "rear", "links", "Walk", _posture(110.0, -110.0)),
        ("4  What steers it, lock to lock", "front", "steering", "Sweep", _nothing),
        ("5  The card to cycle it by hand", "rear", "clearance", "Cycle card", _gap),
        ("6  Is each link strong enough", "rear", "build", "Strength", _nothing),
    ),
    (
        ("1  Beams that swing, crossed up and steered", "front", "steering", "Floor", _posture(50.0, -50.0, 0.5)),
        ("2  What they do over bumps", "front", "steering", "Sweep", _nothing),
        ("3  The rear through its travel", "rear", "travel", "Sweep", _nothing),
        ("4  What ends its travel, in order", "rear", "springs", "Stops", _nothing),
        ("5  What comes nearest to what", "front", "clearance", "Gaps", _gap),
        ("6  What to buy", "rear", "build", "Count and cost", _nothing),
    ),
    (
        ("1  Three heights of the bags", "rear", "stance", "Heights", _nothing),
        ("2  Where it rides", "rear", "springs", "Ride", _nothing),
        ("3  How it leans, and who holds it", "rear", "springs", "Roll", _nothing),
        ("4  The shaft at every height", "rear", "driveline", "Travel", _nothing),
        ("5  The order of the work", "rear", "build", "Order of work", _nothing),
        ("6  The book of the build", "rear", "log", "Build book", _nothing),
    ),
)  # fmt: skip


def film_all(folder: Path, scratch: Path) -> Iterator[Path]:
    """Make the strip of every demo job.

    Raises:
        JobFileError: the folder cannot be written.
    """
    folder_for(folder)
    for number, (name, frames) in enumerate(zip(demo_names(), FILMS, strict=True)):
        file = folder / f"{number + 1}-{'-'.join(name.lower().split())}.png"
        if not _film(number, frames, scratch).save(str(file)):
            raise JobFileError(f"{file} could not be written.")
        yield file


def _film(number: int, frames: tuple[Frame, ...], scratch: Path) -> QPixmap:
    look = Look()
    look.use("paper", 100)
    window = MainWindow(demo_job(number), look, Settings(scratch / "look.json"), scratch)
    window.show()
    wide, high = round(_WIDE * _SCALE), round(_HIGH * _SCALE) + _WORDS
    rows = -(-len(frames) // _ACROSS)
    strip = QPixmap(_ACROSS * (wide + 10) + 10, rows * (high + 10) + 10)
    strip.fill(look.color("page"))
    painter = QPainter(strip)
    painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
    painter.setFont(look.font(17, bold=True))
    painter.setPen(look.color("ink"))
    for i, (words, axle, station, page, act) in enumerate(frames):
        window.bench.select_axle(axle)
        window.go(station)
        pages = window.station(station).pages
        pages.turn_to([b.text() for b in pages.buttons].index(page))
        window.resize(_WIDE, _HIGH)
        QApplication.processEvents()
        act(window)
        _wait(window)
        x, y = 10 + (i % _ACROSS) * (wide + 10), 10 + (i // _ACROSS) * (high + 10)
        painter.drawText(QRectF(x, y, wide, _WORDS), Qt.AlignmentFlag.AlignVCenter, words)
        still = window.grab().scaledToWidth(wide, Qt.TransformationMode.SmoothTransformation)
        painter.drawPixmap(x, y + _WORDS, still)
    painter.end()
    dispose(window)
    return strip


def _wait(window: MainWindow) -> None:
    """Until what is worked out beside the window has come."""
    settle()
    bench = window.bench
    if bench.look_at.station == "build":
        until(lambda: bench.build.up_to_date)
    if bench.look_at.station == "log":
        until(lambda: bench.log.up_to_date)
    pause()
    settle()
