"""Everything a job can be written as, by name."""

from collections.abc import Callable
from pathlib import Path

from even_stance.errors import InputError, JobFileError
from even_stance.exchange.bookpdf import book_pdf, recheck_card
from even_stance.exchange.buildpdf import cutlist_pdf, order_pdf, shopping_pdf
from even_stance.exchange.cardpdf import card_pdf
from even_stance.exchange.dxf import drawing_dxf
from even_stance.exchange.jobfile import SUFFIX
from even_stance.exchange.paper import Setup, made_on, wants_comma
from even_stance.exchange.points import points_csv
from even_stance.exchange.report import report_pdf
from even_stance.exchange.shaftpdf import shaft_pdf
from even_stance.exchange.sheetpdf import sheet_pdf
from even_stance.exchange.tables import shopping_csv
from even_stance.exchange.templates import templates_dxf, templates_pdf
from even_stance.exchange.wholefile import real_path, write_whole
from even_stance.shop.plates import plates_of
from even_stance.vehicle.job import Job

PAPERS: dict[str, Callable[[Job], bytes]] = {
    "report": report_pdf,
    "drawing": drawing_dxf,
    "points": lambda job: points_csv(job.vehicle, wants_comma()).encode("utf-8-sig"),
    "measuring-sheet": sheet_pdf,
    "driveshaft-order": shaft_pdf,
    "cycle-card": card_pdf,
    "cut-list": cutlist_pdf,
    "shopping-list": shopping_pdf,
    "shopping-table": lambda job: shopping_csv(job, wants_comma()).encode("utf-8-sig"),
    "templates": lambda job: templates_pdf(job, plates_of(job.vehicle, job.units)),
    "templates-drawing": lambda job: templates_dxf(job, plates_of(job.vehicle, job.units)),
    "order-of-work": order_pdf,
    "build-book": book_pdf,
    "recheck-card": recheck_card,
}


def paper_of(job: Job, what: str, setup: Setup = Setup()) -> bytes:  # noqa: B008 - frozen
    """One of PAPERS, made as asked.

    Raises:
        InputError: there is no such paper.
    """
    if what not in PAPERS:
        raise InputError("Paper", f"there is no “{what}”.", f"There are: {', '.join(PAPERS)}.")
    with made_on(setup):
        return PAPERS[what](job)


def write_paper(job: Job, what: str, path: Path, setup: Setup = Setup()) -> None:  # noqa: B008 - frozen
    """Write one of PAPERS: a drawing as DXF, points and the shopping table as CSV, all others as PDF.

    Raises:
        InputError: there is no such paper.
        JobFileError: it cannot be written, or would overwrite a job.
    """
    if real_path(path).suffix == SUFFIX:
        raise JobFileError(f"{path.name} is the name of a job file: a {what} there would overwrite a job.")
    write_whole(path, paper_of(job, what, setup))
