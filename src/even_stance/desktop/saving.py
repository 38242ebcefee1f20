"""Papers of the stations: asked for a place, written beside the window, and told."""

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QWidget

from even_stance.desktop.background import run_beside
from even_stance.desktop.bench import Bench
from even_stance.desktop.exporting import ask_path
from even_stance.exchange.wholefile import write_whole


def save_beside(bench: Bench, work: Callable[[], Path]) -> None:
    """Write something beside the window; tell of the file or folder, or why there is none.

    Args:
        bench: told of what was written, or why nothing was.
        work: writes and says where; called in another thread, so it must hold the job it is about.
    """

    def tell(came: object) -> None:
        if isinstance(came, Path):
            bench.wrote.emit(came)
        else:
            bench.refused.emit(str(came))

    run_beside(bench, work, tell)


def save_paper(parent: QWidget, bench: Bench, what: str, start: str, path: Path | None = None) -> QFileDialog | None:
    """Write one of the papers of the job, to a path or to where the person says."""

    def write(to: Path) -> None:
        job, setup = bench.job, bench.setup

        def work() -> Path:
            from even_stance.exchange.papers import write_paper  # noqa: PLC0415 - paper is loaded late

            write_paper(job, what, to, setup)
            return to

        save_beside(bench, work)

    if path is not None:
        write(path)
        return None
    return ask_path(parent, "Save", start, f"(*{Path(start).suffix})", write)


def save_made(bench: Bench, path: Path, make: Callable[[], bytes]) -> None:
    """Make a paper beside the window as the job's papers are made, write it, and tell.

    Args:
        bench: told of what was written, or why nothing was.
        path: the file.
        make: makes the bytes; called in another thread, so it must hold the job it is about.
    """
    setup = bench.setup

    def work() -> Path:
        from even_stance.exchange.paper import made_on  # noqa: PLC0415 - paper is loaded late

        with made_on(setup):
            write_whole(path, make())
        return path

    save_beside(bench, work)
