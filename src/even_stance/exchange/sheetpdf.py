"""The measuring sheet on paper: each step with its picture and room to write."""

from typing import Any

from reportlab.lib.units import mm
from reportlab.platypus import KeepTogether, Spacer, Table, TableStyle

from even_stance.exchange.paper import Drawing, made_pdf, words
from even_stance.judgement.findings import CAUTIONS
from even_stance.shop.pictures import step_picture
from even_stance.shop.readings import means_of
from even_stance.shop.sheet import sheet
from even_stance.shop.steps import Field
from even_stance.units import format_length, format_mass, length_unit, mass_unit
from even_stance.vehicle.job import Job


def sheet_pdf(job: Job) -> bytes:
    """The measuring sheet of a job as PDF; what is read already is filled in."""
    means = means_of(job)
    story: list[Any] = [
        words("Measuring sheet", "title"),
        words(f"{job.name}. Measured by: {job.measuring.who or '_' * 24}   Date: {'_' * 16}"),
        words(f"The car stands: {job.measuring.stance or '_' * 60}"),
        words("Level ground, ride height, tires at pressure, wheels straight ahead. Take angles several times and "
              "write every reading down.", "faint"),
        words(" ".join(CAUTIONS[1:3]), "faint"),
    ]  # fmt: skip
    group = ""
    for step in sheet(job):
        head = []
        if step.group != group:
            group = step.group
            head.append(words(group, "head"))
        lines: list[Any] = [words(step.title, "step"), words(step.how, "faint"), Spacer(1, 3)]
        for field in step.fields:
            mean = means.get(field.what)
            lines.append(
                words(f"{field.title}:  {_blank(job, field) if mean is None else _value(job, field, mean.value)}")
            )
        row = Table([[Drawing(*step_picture(job, step), 62, 34, job.units), lines]], colWidths=[66 * mm, 108 * mm])
        row.setStyle(TableStyle([("VALIGN", (0, 0), (-1, -1), "TOP"), ("BOTTOMPADDING", (0, 0), (-1, -1), 4)]))
        story.append(KeepTogether([*head, row]))
    return made_pdf(job, "measuring sheet", story)


def _blank(job: Job, field: Field) -> str:
    unit = {"length": length_unit(job.units), "mass": mass_unit(job.units), "angle": "° up / down"}[field.quantity]
    return f"{'_' * 14}  {'_' * 14}  {unit}"


def _value(job: Job, field: Field, value: float) -> str:
    if field.quantity == "angle":
        return f"{abs(value):.1f}° {'up' if value >= 0 else 'down'}"
    if field.quantity == "mass":
        return f"{format_mass(value, job.units)} {mass_unit(job.units)}"
    return f"{format_length(value, job.units)} {length_unit(job.units)}"
