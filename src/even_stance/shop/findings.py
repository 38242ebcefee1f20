"""What the work around the car has to say: readings that do not belong, an axle out of square, what touches ground."""

from even_stance.errors import StanceError
from even_stance.judgement.findings import Finding
from even_stance.shop.lowest import lowest_words, travel_words
from even_stance.shop.readings import means_of
from even_stance.shop.sheet import step_of
from even_stance.shop.squaring import SQUARE_MM, square_report
from even_stance.vehicle.job import Job


def shop_findings(job: Job) -> list[Finding]:
    """Findings of the Stance station that come from measuring."""
    found = []
    for what, mean in means_of(job).items():
        if mean.odd >= 0 and (step := step_of(job, what)) is not None:
            found.append(
                Finding(
                    "odd-reading", "look", "stance", "odd reading",
                    f"{step.title}: one of {mean.count} readings does not belong with the others. Look at the Measure "
                    "page and set it aside, or measure again.",
                )
            )  # fmt: skip
    words, bad = lowest_words(job)
    if bad:
        found.append(Finding("lowest", "stop", "stance", "touches ground", words))
    words, bad = travel_words(job)
    if bad:
        found.append(Finding("heights", "look", "stance", "beyond its travel", words))
    try:
        report = square_report(job)
    except StanceError:
        report = None
    if report is not None and (abs(report.uneven_mm) > SQUARE_MM or report.disagree_mm > 2 * SQUARE_MM):
        found.append(Finding("square", "look", "stance", "not square", " ".join(report.words)))
    return found
