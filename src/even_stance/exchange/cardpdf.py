"""The cycle card on paper: postures in shop words, the gaps to expect, and room to write."""

from typing import Any

from reportlab.platypus import Spacer

from even_stance.exchange.paper import grid, made_pdf, words
from even_stance.judgement.findings import CAUTIONS
from even_stance.shop.cyclecard import card, card_rows
from even_stance.study.cargaps import study_gaps
from even_stance.study.clearances import GapStudy
from even_stance.vehicle.job import Job


def card_pdf(job: Job, study: GapStudy | None = None) -> bytes:
    """The cycle card of a job as PDF; its gaps are looked for where they are not given."""
    found = study or study_gaps(job.vehicle)
    rows = card_rows(job, card(job, found))
    table = [["Take the wheels there", "Look at", "Expect", "Found"]]
    table += [[a, b, c, d or "_" * 12] for a, b, c, d in rows]
    story: list[Any] = [
        words("Cycle card", "title"),
        words(f"{job.name}. Tried by: {'_' * 24}   Date: {'_' * 16}"),
        words("Springs out, tires on, bolts in but not welded. Go slowly, stop at the first touch, and write down the "
              "gap at its closest. One that differs by more than its ± says that something was taped wrong.", "faint"),
        words(" ".join(CAUTIONS[1:3]), "faint"),
        Spacer(1, 6),
        grid(table, (62, 62, 28, 22)) if rows else words("Nothing comes near enough to be worth trying."),
    ]  # fmt: skip
    return made_pdf(job, "cycle card", story)
