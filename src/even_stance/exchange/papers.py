"""Everything a job can be written as, by name."""

from collections.abc import Callable
from pathlib import Path

from even_stance.errors import InputError, JobFileError
from even_stance.exchange.dxf import write_dxf
from even_stance.exchange.points import points_csv
from even_stance.exchange.report import write_report
from even_stance.exchange.sheetpdf import write_sheet
from even_stance.vehicle.job import Job


def _write_points(job: Job, path: Path | str) -> None:
    try:
        Path(path).write_text(points_csv(job.vehicle), encoding="utf-8-sig")
    except OSError as error:
        raise JobFileError(f"{Path(path).name} could not be written: {error.strerror}.") from None


PAPERS: dict[str, Callable[[Job, Path | str], None]] = {
    "report": write_report,
    "drawing": write_dxf,
    "points": _write_points,
    "measuring-sheet": write_sheet,
}


def write_paper(job: Job, what: str, path: Path) -> None:
    """Write a report (PDF), drawing (DXF), points (CSV) or measuring-sheet (PDF).

    Raises:
        InputError: there is no such paper.
        JobFileError: it cannot be written.
    """
    if what not in PAPERS:
        raise InputError("Paper", f"there is no “{what}”.", f"There are: {', '.join(PAPERS)}.")
    PAPERS[what](job, path)
