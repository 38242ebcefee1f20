"""All that is known of an axle as built against its design, at once."""

from dataclasses import dataclass, replace

from even_stance.errors import StanceError
from even_stance.judgement.verdicts import Verdict, judge
from even_stance.shop.asbuilt import Deviation, Group, as_built, built_stages, deviations, groups
from even_stance.shop.fixes import Fix, Stand, effects, fixes, hung, rods_of, stand_of
from even_stance.study.figures import AxleStudy, study_axle
from even_stance.vehicle.job import Job
from even_stance.vehicle.measuring import Stage
from even_stance.vehicle.spots import Spot


@dataclass(frozen=True, eq=False)
class BuiltStudy:
    """One axle as built.

    Attributes:
        job, axle: of which; stage: up to which stage; built: the job with the car as built, its axle on its links.
        off: points against the design, those that do most first; does: what each of them does alone.
        groups: those that moved as one piece; fixes: ways to put it right.
        stand: where the axle stands against the design; designed, verdicts: its study as designed, and its judged
            numbers as built with what was designed.
    """

    job: Job
    axle: str
    stage: Stage
    built: Job
    off: tuple[Deviation, ...]
    does: dict[Spot, Stand]
    groups: tuple[Group, ...]
    fixes: tuple[Fix, ...]
    stand: Stand | None
    designed: AxleStudy | None
    verdicts: tuple[Verdict, ...]


def study_built_axle(job: Job, key: str, until: Stage | None = None) -> BuiltStudy | None:
    """Work it out; None while nothing was measured of the built car."""
    stages = built_stages(job)
    if not stages:
        return None
    stage = until or stages[-1]
    built = as_built(job, stage)
    stand = stand_of(job, key, built)
    if rods_of(job.vehicle.axle(key)) and stand is not None:
        built = hung(job, key, built)
    designed, verdicts = _verdicts(job, built, key)
    off = deviations(job, stage)
    does = effects(job, key, off)
    off.sort(key=lambda d: (not d.really, -does[d.spot].badness if d.spot in does else 0.0))
    return BuiltStudy(
        job, key, stage, built, tuple(off), does, tuple(groups(job, stage)), tuple(fixes(job, key, stage)), stand,
        designed, tuple(verdicts),
    )  # fmt: skip


def _verdicts(job: Job, built: Job, key: str) -> tuple[AxleStudy | None, list[Verdict]]:
    """The judged numbers as built, each saying what was designed."""
    try:
        design = study_axle(job.vehicle, job.vehicle.axle(key), 0.0, 0.0)
        now = study_axle(built.vehicle, built.vehicle.axle(key), 0.0, 0.0)
    except StanceError:
        return None, []
    was = {v.figure.key: v for v in judge(job, design, moving=True)}
    found = []
    for verdict in judge(built, now, moving=True):
        before = was.get(verdict.figure.key)
        if before is None:
            continue
        said = f"Design {before.reading(job.units)}. {verdict.sentence}"
        moved = abs(verdict.figure.value - before.figure.value) > max(verdict.figure.uncertainty, 1e-9)
        found.append((not moved, replace(verdict, sentence=said)))
    found.sort(key=lambda pair: pair[0])
    return design, [v for _, v in found]
