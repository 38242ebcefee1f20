"""The steering on paper: what it does at ride height, its box or ram, its rods; swing beams with pages of their own."""

from typing import Any

from reportlab.platypus import KeepTogether, PageBreak

from even_stance.exchange.paper import Drawing, grid, words
from even_stance.judgement.explain import FORMULAS
from even_stance.judgement.steering import arc_rows, beam_rows, bump_words, steer_rows
from even_stance.judgement.steerrows import assist_rows, box_rows, column_rows, cut_rows, ram_rows, room_rows
from even_stance.judgement.threadrows import bolted_rows
from even_stance.judgement.verdicts import Verdict, judge_beams
from even_stance.study.beams import beams_of
from even_stance.study.drawing import VIEW_TITLES, View
from even_stance.study.figures import AxleStudy
from even_stance.study.floor import car_shapes
from even_stance.study.frame import view_frame
from even_stance.study.model import axle_title
from even_stance.study.places import study_places
from even_stance.vehicle.car import Axle
from even_stance.vehicle.job import Job
from even_stance.vehicle.posture import RIDE

_STATES = {"inside": "in the band", "low": "LOW", "high": "HIGH", "unsure": "at the mark",
           "not_judged": "not judged"}  # fmt: skip
_WIDE = (100, 78)
_CAUTION = (
    "Steering fails without warning: screening figures only. Tapers, threads, welds near wearing parts and the whole "
    "of it are for a qualified person and the local rules to pass."
)


def numbers_table(job: Job, verdicts: list[Verdict]) -> list[Any]:
    """The judged numbers of an axle as a table, and whose they are beneath it."""
    units = job.units
    sources = list(dict.fromkeys(FORMULAS[v.figure.key].source for v in verdicts))
    rows = [("Number", "Value", "Wanted", "", "What it means", "Source")]
    rows += [
        (v.title, f"{v.reading(units)} {v.uncertainty_words(units)}", v.band_words(units), _STATES[v.state], v.sentence,
         f"{sources.index(FORMULAS[v.figure.key].source) + 1}")
        for v in verdicts
    ]  # fmt: skip
    said = "; ".join(f"{i} {source}" for i, source in enumerate(sources, start=1))
    return [grid(rows, (34, 29, 31, 17, 54, 14)), words(f"Sources: {said}.", "faint")]


def steering_tables(job: Job, axle: Axle, study: AxleStudy) -> list[Any]:
    """What the steering of a solid axle comes to, in tables; nothing where nothing steers it."""
    if axle.steering is None:
        return []
    story: list[Any] = [words("Steering, wheels straight", "head"), words(bump_words(study))]
    story.append(grid([("", ""), *steer_rows(job, study, 0.0)], _WIDE))
    arcs = arc_rows(job, study)
    if arcs:
        story.append(KeepTogether([words("The two arcs", "head"), grid([("", ""), *arcs], _WIDE)]))
    return [*story, *_parts(job, axle)]


def _parts(job: Job, axle: Axle) -> list[Any]:
    """Box, room, ram, rods, column and bolted-on arm of a steering, those that it has, with the caution."""
    story: list[Any] = []
    for title, rows in (
        ("Steering box", box_rows(job, axle)), ("Room around the pitman arm", room_rows(job, axle)),
        ("Ram", [*ram_rows(job, axle), *assist_rows(job, axle)]),
        ("Rods", [] if axle.steering is None or axle.steering.kind == "ram" else
                 cut_rows(job.vehicle, axle, job.units)),
        ("Steering shaft", column_rows(job, axle)), ("Bolted-on arm", bolted_rows(job, axle)),
    ):  # fmt: skip
        if rows:
            story.append(KeepTogether([words(title, "head"), grid([("", ""), *rows], _WIDE)]))
    return [*story, words(_CAUTION, "faint")]


def beam_pages(job: Job, axle: Axle) -> list[Any]:
    """The page of an axle of swing beams: drawings, numbers and parts; nothing for any other axle."""
    if beams_of(axle) is None:
        return []
    story: list[Any] = [PageBreak(), words(f"{axle_title(axle)}: swing beams", "title")]
    places = study_places(job.vehicle)
    views: tuple[tuple[View, float], ...] = (("rear", 58), ("plan", 62))
    for view, height in views:
        frame = view_frame(job.vehicle, axle, view, False)
        picture = Drawing(car_shapes(job.vehicle, places, view, axle.key), frame, 178, height, job.units)
        name, how = VIEW_TITLES[view]
        said = words(f"{name.capitalize()}, {how}; {picture.scale_words}.", "faint")
        story.append(KeepTogether([picture, said]))
    story += [words("Numbers", "head"), *numbers_table(job, judge_beams(job, axle))]
    rows = beam_rows(job, axle, RIDE)
    if rows:
        story += [words("At ride height", "head"), grid([("", ""), *rows], _WIDE)]
    return [*story, *_parts(job, axle)]
