"""The order sheet for the shaft maker, with the cautions that go with it."""

from typing import Any

from even_stance.errors import InputError, StanceError
from even_stance.exchange.paper import grid, made_pdf, words
from even_stance.judgement.driveline import alike_words
from even_stance.judgement.findings import CAUTIONS
from even_stance.shop.shaftorder import order_lines, order_title
from even_stance.study.figures import study_axle
from even_stance.vehicle.job import Job


def shaft_pdf(job: Job) -> bytes:
    """The order sheet for every shaft of the car whose ends are measured.

    Raises:
        InputError: there is none.
    """
    story: list[Any] = [words("Driveshaft order", "title")]
    story.append(words(f"{job.name}. Lengths are joint center to joint center."))
    shafts = 0
    for axle in job.vehicle.axles:
        if not axle.driven or not axle.members:
            continue
        try:
            study = study_axle(job.vehicle, axle, 0.0, 0.0, {})
        except StanceError:
            continue
        lines = order_lines(job, study)
        if not lines:
            continue
        shafts += 1
        story += [words(order_title(study), "head"), grid([("What", "How"), *lines], (70, 100))]
        said = alike_words(job, axle)
        story += [words(said, "faint")] if said else []
        story.append(words("Joint series: ______________   Flange or yoke: ______________   Balanced to: ________ rpm"))
    if not shafts:
        raise InputError("Order sheet", "no driveshaft is measured.", "Measure an output and a pinion yoke first.")
    story += [words(c, "faint") for c in CAUTIONS]
    return made_pdf(job, "driveshaft order", story)
