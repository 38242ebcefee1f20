"""Things in words and as typed text: the places of a run, a plate or a round, one a line."""

from typing import Any

import numpy as np

from even_stance.errors import InputError
from even_stance.study.things import cores_of
from even_stance.units import format_length, length_unit, parse_length
from even_stance.vehicle.edits import made
from even_stance.vehicle.job import Job
from even_stance.vehicle.records import Point
from even_stance.vehicle.things import Plate, Run, Thing


def body_words(body: str) -> str:
    """A body as it is called on the screen."""
    return {"chassis": "the chassis", "powertrain": "engine and gearbox"}.get(body, f"the {body}")


def size_words(job: Job, thing: Thing) -> str:
    """How long, wide and high a thing is over all."""
    cores = cores_of(thing.form)
    reach = [c.ball_mm + c.disc_mm * np.sqrt(np.maximum(1.0 - c.axis**2, 0.0)) for c in cores]
    high = np.max([c.points.max(axis=0) + r for c, r in zip(cores, reach, strict=True)], axis=0)
    low = np.min([c.points.min(axis=0) - r for c, r in zip(cores, reach, strict=True)], axis=0)
    size = high - low
    return " × ".join(format_length(float(v), job.units).removeprefix("~") for v in size) + f" {length_unit(job.units)}"


def points_text(job: Job, thing: Thing) -> str:
    """The places of a thing, one a line, as they are typed."""

    def line(*values: float) -> str:
        return ", ".join(format_length(v, job.units).removeprefix("~") for v in values)

    form = thing.form
    if isinstance(form, Run):
        return "\n".join(line(p.x, p.y, p.z) for p in form.points)
    if isinstance(form, Plate):
        return "\n".join(line(h, v) for h, v in form.corners)
    at = getattr(form, "at", None)
    return "" if at is None else line(at.x, at.y, at.z)


def read_points(job: Job, thing: Thing, text: str) -> dict[str, Any]:
    """The changes to a thing's shape from typed places.

    Raises:
        InputError: a line cannot be read; it is named.
    """
    form = thing.form
    count = 2 if isinstance(form, Plate) else 3
    names = ("Ahead", "Left", "Up") if count == 3 else ("Across", "Up the picture")
    rows: list[list[float]] = []
    for i, line in enumerate((row for row in text.splitlines() if row.strip()), start=1):
        cells = [c.strip() for c in line.replace(";", ",").split(",") if c.strip()]
        if len(cells) != count:
            raise InputError(f"Line {i}", f"“{line.strip()}” has {len(cells)} figures.", f"Type {count}, with commas.")
        rows.append([_signed(job, c, f"{n}, line {i}") for c, n in zip(cells, names, strict=True)])
    if isinstance(form, Plate):
        if len(rows) < 3:
            raise InputError("Outline", f"{len(rows)} corners are no outline.", "Type at least three, one a line.")
        return {"corners": tuple((a, b) for a, b in rows)}
    if not rows:
        raise InputError("Points", "nothing was entered.", "Type ahead, left and up, with commas.")
    points = tuple(made(Point, x=x, y=y, z=z, sure=thing.sure_mm) for x, y, z in rows)
    if isinstance(form, Run):
        if len(points) < 2:
            raise InputError("Points", "one point is no run.", "Type at least two, one a line.")
        return {"points": points}
    return {"at": points[0]}


def _signed(job: Job, text: str, name: str) -> float:
    sign = -1.0 if text.startswith(("-", "−")) else 1.0
    return sign * parse_length(text.lstrip("-− "), job.units, name)
