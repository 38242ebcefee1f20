"""Pictures of every main view, made from the demo jobs."""

from collections.abc import Callable, Iterator
from pathlib import Path

from PyQt6.QtCore import QThreadPool
from PyQt6.QtWidgets import QApplication

from even_stance.desktop.look import Look, LookName
from even_stance.desktop.settings import Settings
from even_stance.desktop.window import MainWindow
from even_stance.errors import JobFileError
from even_stance.exchange.demo import demo_jobs
from even_stance.vehicle.edits import Spot

Pose = Callable[[MainWindow], None]


def _links(window: MainWindow) -> None:
    window.bench.select_spot(Spot("rear", "Upper left", "chassis"))


def _stance(window: MainWindow) -> None:
    window.go(0)


def _travel(window: MainWindow) -> None:
    window.go(2)
    window.bench.set_posture(38.0, 38.0)


def _roll(window: MainWindow) -> None:
    window.bench.select_figure("roll_center_mm")
    window.links.floor.bring_front("rear")
    window.bench.set_posture(window.bench.axle.bump_mm, -window.bench.axle.droop_mm)


def _layouts(window: MainWindow) -> None:
    window.links.turn_to(3)


def _table(window: MainWindow) -> None:
    window.bench.set_load_case("launch")
    window.links.turn_to(1)


def _loads(window: MainWindow) -> None:
    window.bench.set_load_case("launch")
    window.bench.select_figure("roll_center_mm")


def _sheet(window: MainWindow) -> None:
    window.links.turn_to(2)


def _map(window: MainWindow) -> None:
    window.go(2)
    window.travel.turn_to(1)
    window.travel.articulation.late.start_now()
    pool = QThreadPool.globalInstance()
    assert pool is not None
    pool.waitForDone()


def _plan(window: MainWindow) -> None:
    window.bench.select_axle("front")
    window.bench.select_figure("triangulation_deg")
    window.links.floor.bring_front("plan")


def _new(window: MainWindow) -> None:
    window.ask_new()


_SHOTS: tuple[tuple[str, int, LookName, int, Pose], ...] = (
    ("links", 0, "paper", 100, _links),
    ("links-night", 0, "night", 100, _links),
    ("links-crossed-up", 1, "paper", 100, _roll),
    ("links-plan-front", 2, "paper", 100, _plan),
    ("stance", 0, "paper", 100, _stance),
    ("travel", 1, "paper", 100, _travel),
    ("new-job", 0, "paper", 100, _new),
    ("layouts", 1, "paper", 100, _layouts),
    ("link-table", 1, "paper", 100, _table),
    ("loads-drawn", 1, "paper", 100, _loads),
    ("load-sheet", 1, "paper", 100, _sheet),
    ("articulation", 2, "paper", 100, _map),
    ("links-200-percent", 0, "paper", 200, _links),
)


def shoot_all(folder: Path, scratch: Path) -> Iterator[Path]:
    """Take every picture.

    Raises:
        JobFileError: the folder cannot be written.
    """
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise JobFileError(f"{folder} cannot be made: {error.strerror}.") from None
    for name, demo, look_name, percent, pose in _SHOTS:
        look = Look()
        look.use(look_name, percent)
        # Twice the size is for a screen with more dots.
        size = (1280, 800) if percent == 100 else (1920, 1200)
        window = MainWindow(demo_jobs()[demo], look, Settings(scratch / "look.json"), scratch)
        window.show()
        QApplication.processEvents()
        pose(window)
        window.resize(*size)
        QApplication.processEvents()
        QApplication.processEvents()
        file = folder / f"{name}.png"
        if not window.grab().save(str(file)):
            raise JobFileError(f"{file} could not be written.")
        window.close()
        window.deleteLater()
        yield file
