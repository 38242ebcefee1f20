"""Variants side by side: every judged number of each, and whether it is in its band."""

from collections.abc import Sequence
from dataclasses import dataclass

from even_stance.errors import StanceError
from even_stance.judgement.bands import judged_keys, wanted
from even_stance.judgement.verdicts import TITLES, format_judged, miss
from even_stance.study.figures import study_axle
from even_stance.study.ridefigures import ride_figures
from even_stance.vehicle.edits import with_changes
from even_stance.vehicle.job import Job
from even_stance.vehicle.variants import branch_names, vehicle_of


@dataclass(frozen=True)
class Comparison:
    """Numbers of an axle in all variants: a title and one cell for each; out-of-band cells say so in words."""

    names: tuple[str, ...]
    rows: tuple[tuple[str, tuple[str, ...]], ...]


def compare_variants(job: Job, key: str) -> Comparison:
    """Every judged number of an axle at ride height in every variant."""
    # Bands are shared between the rear axles that a variant has, not those on the bench.
    return compare_jobs([(n, with_changes(job, vehicle=vehicle_of(job, n))) for n in branch_names(job)], key)


def compare_jobs(cars: Sequence[tuple[str, Job]], key: str) -> Comparison:
    """Every judged number of an axle at ride height on each of some cars, in the units of the first."""
    names, job = [name for name, _ in cars], cars[0][1]
    columns: list[dict[str, str]] = []
    for _, here in cars:
        vehicle, cells = here.vehicle, dict[str, str]()
        try:
            study = study_axle(vehicle, vehicle.axle(key), 0.0, 0.0, {})
            for figure in (*study.figures, *ride_figures(vehicle, study, {})):
                band = wanted(here, figure.key, key)
                text = format_judged(figure.key, figure.value, band.band, job.units)
                low = band.band.low is not None and figure.value < band.band.low
                out = "" if miss(figure.value, band) <= 0 else " low" if low else " high"
                cells[figure.key] = text + out
        except StanceError:
            cells["error"] = "not held"
        except KeyError:
            cells["error"] = "no such axle"
        columns.append(cells)
    rows = [
        (TITLES[k], tuple(c.get(k, c.get("error", "")) for c in columns))
        for k in judged_keys()
        if any(k in c for c in columns)
    ]
    return Comparison(tuple(names), tuple(rows))
