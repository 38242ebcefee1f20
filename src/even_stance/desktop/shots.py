"""Pictures of every main view, made from the demo jobs."""

import time
from collections.abc import Callable, Iterator
from pathlib import Path

from PyQt6.QtCore import QThreadPool
from PyQt6.QtWidgets import QApplication

from even_stance.desktop.app import dispose
from even_stance.desktop.colors import LookName
from even_stance.desktop.look import Look
from even_stance.desktop.settings import Settings
from even_stance.desktop.stations.links.station import HOLES, VARIANTS, WALK
from even_stance.desktop.stations.springs.station import FLOOR
from even_stance.desktop.stations.stance.station import CAR, HEIGHTS, SHEET, SQUARE
from even_stance.desktop.window import MainWindow
from even_stance.errors import JobFileError
from even_stance.exchange.demo import demo_jobs
from even_stance.judgement.catalog.steerings import steering_guess
from even_stance.shop.asbuilt import expected
from even_stance.shop.readings import new_reading
from even_stance.shop.sheet import take_reading
from even_stance.vehicle.edits import move_by, raise_tail, set_holes, set_measuring, set_steering
from even_stance.vehicle.spots import Spot

Pose = Callable[[MainWindow], None]


def settle() -> None:
    """Let background studies finish and arrive."""
    pool = QThreadPool.globalInstance()
    assert pool is not None
    for _ in range(3):
        QApplication.processEvents()
        pool.waitForDone()
        QApplication.processEvents()


def until(known: Callable[[], bool]) -> None:
    """Wait for what is worked out beside the window."""
    deadline = time.monotonic() + 60.0
    while not known() and time.monotonic() < deadline:
        QApplication.processEvents()
        time.sleep(0.01)


def pause() -> None:
    """Let all be drawn that comes in turns, one in each round of the event loop."""
    for _ in range(60):
        QApplication.processEvents()
        time.sleep(0.01)


def _links(window: MainWindow) -> None:
    window.bench.select_spot(Spot("rear", "Upper left", "chassis"))


def _why(window: MainWindow) -> None:
    window.bench.explain_figure("anti_squat_axle_pct")
    QApplication.processEvents()
    window.station("links").why.late.start_now()
    settle()


def _stance(page: int) -> Pose:
    def pose(window: MainWindow) -> None:
        window.go("stance")
        window.station("stance").turn_to(page)

    return pose


def _measure(window: MainWindow) -> None:
    _stance(SHEET)(window)
    page = window.station("stance").pages.page(SHEET)
    QApplication.processEvents()
    page.list.setCurrentRow(2)


def _travel(window: MainWindow) -> None:
    window.go("travel")
    window.bench.set_posture(38.0, 38.0)
    QApplication.processEvents()
    window.station("travel").hover(50)


def _walk(window: MainWindow) -> None:
    window.bench.do(move_by(Spot("rear", "Lower left", "chassis"), 0.0, 0.0, 25.4))
    window.station("links").turn_to(WALK)
    window.bench.set_posture(window.bench.axle.bump_mm, -window.bench.axle.droop_mm)
    window.bench.select_spot(Spot("rear", "Upper right", "chassis"))


def _layouts(window: MainWindow) -> None:
    window.station("links").turn_to(3)
    window.station("links").chooser.late.start_now()
    settle()


def _map(window: MainWindow) -> None:
    window.go("travel")
    window.station("travel").turn_to(1)
    window.station("travel").articulation.late.start_now()
    settle()


def _variants(window: MainWindow) -> None:
    _why(window)
    window.station("links").why.tries[1].click()
    window.station("links").turn_to(VARIANTS)
    page = window.station("links").pages.page(VARIANTS)
    QApplication.processEvents()
    page.late.start_now()
    settle()


def _holes(window: MainWindow) -> None:
    for member, end in (("Upper left", "axle"), ("Lower left", "axle"), ("Lower left", "chassis")):
        window.bench.do(set_holes(Spot("rear", member, end), 5, 20.0))
    window.station("links").turn_to(HOLES)
    page = window.station("links").pages.page(HOLES)
    page.search()
    settle()


def _driveline(window: MainWindow) -> None:
    window.bench.do(raise_tail(19.05))
    window.go("driveline")
    window.bench.select_figure("shaft_residual_deg")


def _steering(window: MainWindow) -> None:
    bench = window.bench
    bench.select_axle("front")
    bench.do(set_steering("front", steering_guess(bench.job.vehicle, bench.axle, "crossover")))
    bench.set_posture(60.0, -60.0, 0.7)
    window.go("steering")


def _springs(page: int) -> Pose:
    def pose(window: MainWindow) -> None:
        window.bench.select_axle("rear")
        window.go("springs")
        window.bench.select_figure("sits_off_mm")
        window.station("springs").turn_to(page)
        settle()

    return pose


def _clearance(window: MainWindow) -> None:
    window.bench.select_axle("front")
    window.go("clearance")
    settle_gaps(window)
    held = window.station("clearance").held
    held.hold(held.listed()[0])
    settle_gaps(window)


def settle_gaps(window: MainWindow) -> None:
    """Wait until all gaps, the map and the ways out are known."""
    until(lambda: window.bench.gaps.up_to_date)
    pause()
    settle()


def _build(window: MainWindow) -> None:
    window.bench.select_axle("rear")
    window.go("build")
    until(lambda: window.bench.build.up_to_date)
    window.bench.build.pick("rear", "Lower left")
    settle()


def _log(window: MainWindow) -> None:
    bench = window.bench
    bench.select_axle("rear")
    bench.do(set_measuring("Stage", stage="tacked"))
    taped = {"Upper left": (6.0, 0.0, -11.0), "Upper right": (0.5, 0.0, 0.7), "Lower left": (1.0, -0.6, 0.4)}
    for member, off in taped.items():
        for axis, by in zip(("ahead", "left", "up"), off, strict=True):
            what = f"rear/{member}/chassis/{axis}"
            should = expected(bench.job, what)
            assert should is not None
            bench.do(take_reading(new_reading(bench.job, what, "length", should + by, "tape", "2026-04-04T10:00")))
    window.go("log")
    until(lambda: bench.log.up_to_date)
    settle()


def _new(window: MainWindow) -> None:
    window.ask_new()


_SHOTS: tuple[tuple[str, int, LookName, Pose], ...] = (
    ("links", 0, "paper", _links),
    ("why", 0, "paper", _why),
    ("walk-around", 0, "paper", _walk),
    ("stance", 1, "paper", _stance(CAR)),
    ("measure", 1, "paper", _measure),
    ("heights", 1, "paper", _stance(HEIGHTS)),
    ("square", 1, "paper", _stance(SQUARE)),
    ("travel", 2, "paper", _travel),
    ("articulation", 2, "paper", _map),
    ("new-job", 0, "paper", _new),
    ("layouts", 1, "paper", _layouts),
    ("variants", 0, "paper", _variants),
    ("holes", 0, "paper", _holes),
    ("driveline", 1, "paper", _driveline),
    ("steering", 2, "night", _steering),
    ("springs", 1, "paper", _springs(FLOOR)),
    ("clearance", 0, "paper", _clearance),
    ("build", 0, "paper", _build),
    ("log", 0, "paper", _log),
)


def folder_for(folder: Path) -> None:
    """Make sure that a folder is there.

    Raises:
        JobFileError: it cannot be made.
    """
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise JobFileError(f"{folder} cannot be made: {error.strerror}.") from None


def shoot_all(folder: Path, scratch: Path) -> Iterator[Path]:
    """Take every picture.

    Raises:
        JobFileError: the folder cannot be written.
    """
    folder_for(folder)
    for name, demo, look_name, pose in _SHOTS:
        look = Look()
        look.use(look_name, 100)
        window = MainWindow(demo_jobs()[demo], look, Settings(scratch / "look.json"), scratch)
        window.show()
        QApplication.processEvents()
        pose(window)
        window.resize(1280, 800)
        pause()
        file = folder / f"{name}.png"
        if not window.grab().save(str(file)):
            raise JobFileError(f"{file} could not be written.")
        dispose(window)
        yield file
