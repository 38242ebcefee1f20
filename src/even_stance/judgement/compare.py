"""Variants side by side: every judged number of each, and whether it is in its band."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import isfinite, nan

from even_stance.errors import StanceError
from even_stance.judgement.bands import judged_keys, wanted
from even_stance.judgement.verdicts import TITLES, format_judged, miss
from even_stance.study.figures import study_axle
from even_stance.study.ridefigures import ride_figures
from even_stance.vehicle.edits import with_changes
from even_stance.vehicle.job import Job
from even_stance.vehicle.variants import branch_names, vehicle_of


@dataclass(frozen=True)
class ComparedNumber:
    """One number in several cars.

    Attributes:
        key, title: which it is; values: one for each car, nan where it has none; states: inside, low or high by the
        nominal value, empty where there is none; cells: the same in words.
    """

    key: str
    title: str
    values: tuple[float, ...]
    states: tuple[str, ...]
    cells: tuple[str, ...]


@dataclass(frozen=True)
class Comparison:
    """Numbers of an axle in several cars, by their names."""

    names: tuple[str, ...]
    numbers: tuple[ComparedNumber, ...]

    @property
    def rows(self) -> tuple[tuple[str, tuple[str, ...]], ...]:
        """Return a title and one cell for each car; cells out of their band say so in words."""
        return tuple((n.title, n.cells) for n in self.numbers)


def compare_variants(job: Job, key: str) -> Comparison:
    """Return every judged number of an axle at ride height in every variant."""
    # Bands are shared between the rear axles that a variant has, not those on the bench.
    return compare_jobs([(n, with_changes(job, vehicle=vehicle_of(job, n))) for n in branch_names(job)], key)


def compare_jobs(cars: Sequence[tuple[str, Job]], key: str) -> Comparison:
    """Return every judged number of an axle at ride height on each of some cars, in the units of the first."""
    names, job = [name for name, _ in cars], cars[0][1]
    columns: list[dict[str, tuple[float, str, str]]] = []
    failed: list[str] = []
    for _, here in cars:
        column: dict[str, tuple[float, str, str]] = {}
        why = ""
        try:
            study = study_axle(here.vehicle, here.vehicle.axle(key), 0.0, 0.0, {})
            for figure in (*study.figures, *ride_figures(here.vehicle, study, {})):
                column[figure.key] = _cell(here, figure.key, figure.value, key, job)
        except StanceError:
            why = "not held"
        except KeyError:
            why = "no such axle"
        columns.append(column)
        failed.append(why)
    numbers = []
    for each in judged_keys():
        if any(each in column for column in columns):
            found = [c.get(each, (nan, "", why)) for c, why in zip(columns, failed, strict=True)]
            values, states, cells = zip(*found, strict=True)
            numbers.append(ComparedNumber(each, TITLES[each], values, states, cells))
    return Comparison(tuple(names), tuple(numbers))


def _cell(here: Job, figure: str, value: float, axle: str, job: Job) -> tuple[float, str, str]:
    """Return a number of one car, its state, and both in words."""
    band = wanted(here, figure, axle)
    low = band.band.low is not None and value < band.band.low
    state = "" if not isfinite(value) else "inside" if miss(value, band) <= 0 else "low" if low else "high"
    words = format_judged(figure, value, band.band, job.units)
    return value, state, words if state in ("inside", "") else f"{words} {state}"
