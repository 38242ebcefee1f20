"""What moves a number, in units a person can turn, drill or weld: per quarter inch, per hole, per turn."""

from dataclasses import dataclass

import numpy as np

from even_stance.judgement.wording import bracket_words
from even_stance.study.sensitivity import Input, Slopes
from even_stance.units import MM_PER_INCH
from even_stance.vehicle.job import Job
from even_stance.vehicle.spots import Spot, holes_of, point_of, twin_of

_WAYS = ("ahead", "out", "up")


@dataclass(frozen=True)
class Mover:
    """One thing that moves a number.

    Attributes:
        words: what and which way; per: the useful step, in words; step_mm: the same in mm; change: of the number for
            that step, in its unit.
        spot, axis: the point it is about, if it is one.
    """

    words: str
    per: str
    step_mm: float
    change: float
    spot: Spot | None = None
    axis: int = 0


def movers(job: Job, slopes: Slopes, key: str, count: int = 5) -> list[Mover]:
    """What moves a figure most, both sides of the car together, the strongest first.

    Args:
        job: the job (for its holes, threads and units).
        slopes: of the axle.
        key: which figure.
        count: how many.
    """
    by_input = dict(zip(slopes.inputs, np.nan_to_num(slopes.of[key]).tolist(), strict=True))
    found: list[Mover] = []
    seen: set[tuple[Spot, int]] = set()
    lengths: dict[str, float] = {}
    for what, slope in by_input.items():
        if what.kind == "length":
            name = what.words.removesuffix(": longer").replace(" left", "").replace(" right", "")
            lengths[name] = lengths.get(name, 0.0) + slope
        elif what.spot is None:
            found.append(_whole(job, what, slope))
        elif (what.spot, what.axis) not in seen:
            found.append(_point(job, by_input, what, slope, seen))
    turn = job.measuring.threads.pitch_mm * (2.0 if job.measuring.threads.both_ends else 1.0)
    found += [Mover(f"{name} longer", "turn", turn, slope * turn) for name, slope in lengths.items()]
    return sorted(found, key=lambda m: -abs(m.change))[:count]


def _quarter(job: Job) -> tuple[str, float]:
    return ("1/4 in", MM_PER_INCH / 4) if job.units == "us" else ("5 mm", 5.0)


def _whole(job: Job, what: Input, slope: float) -> Mover:
    """What something of the whole car moves a number by, per a step people know."""
    per, step = _quarter(job)
    if what.kind in ("cg", "wheelbase"):
        per, step = ("1 in", MM_PER_INCH) if job.units == "us" else ("25 mm", 25.0)
    if what.kind == "angle":
        per, step = "1°", 1.0
    return Mover(what.words.replace(":", ""), per, step, slope * step)


def _point(
    job: Job, by_input: dict[Input, float], what: Input, slope: float, seen: set[tuple[Spot, int]]
) -> Mover:  # fmt: skip
    """A coordinate with its twin's on the other side, as a mirror would move them: out is away from the centerline."""
    assert what.spot is not None
    spot, axis = what.spot, what.axis
    twin = twin_of(job, spot)
    at = point_of(job, spot)
    out = 1.0 if at.y >= 0 else -1.0
    total = slope * (out if axis == 1 else 1.0)
    seen.add((spot, axis))
    if twin is not None:
        other = next((i for i in by_input if i.spot == twin and i.axis == axis), None)
        if other is not None:
            total += by_input[other] * (-out if axis == 1 else 1.0)
            seen.add((twin, axis))
    per, step = _quarter(job)
    holes, _ = holes_of(job, spot)
    if axis == 2 and len(holes) > 1 and spot.member:
        zs = [h.z for h in holes]
        step, per = abs(zs[-1] - zs[0]) / (len(zs) - 1), "hole"
    way = _WAYS[axis] if axis != 1 or abs(at.y) > 1.0 else "left"
    return Mover(f"{bracket_words(spot, twin)} {way}", per, step, total * step, spot, axis)
