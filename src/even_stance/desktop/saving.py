"""Papers of the stations: asked for a place, written, and told."""

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QWidget

from even_stance.desktop.bench import Bench
from even_stance.desktop.exporting import ask_path
from even_stance.errors import StanceError
from even_stance.exchange.wholefile import write_whole


def save_paper(parent: QWidget, bench: Bench, what: str, start: str, path: Path | None = None) -> QFileDialog | None:
    """Write one of the papers of the job, to a path or to where the person says."""

    def write(to: Path) -> None:
        from even_stance.exchange.papers import write_paper  # noqa: PLC0415 - paper is loaded late

        try:
            write_paper(bench.job, what, to, bench.setup)
        except StanceError as error:
            bench.refused.emit(str(error))
            return
        bench.wrote.emit(to)

    if path is not None:
        write(path)
        return None
    return ask_path(parent, "Save", start, f"(*{Path(start).suffix})", write)


def save_made(bench: Bench, path: Path, make: Callable[[], bytes]) -> None:
    """Make a paper as the job's papers are made, write it, and tell."""
    from even_stance.exchange.paper import made_on  # noqa: PLC0415 - paper is loaded late

    try:
        with made_on(bench.setup):
            content = make()
        write_whole(path, content)
    except StanceError as error:
        bench.refused.emit(str(error))
        return
    bench.wrote.emit(path)
