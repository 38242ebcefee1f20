"""“Within a couple of inches is near enough”: which answers agree with that school on this car, and which do not."""

from dataclasses import dataclass

import numpy as np

from even_stance.judgement.bands import band_edges, is_judged, judged_keys, outside, wanted
from even_stance.judgement.verdicts import TITLES, format_value
from even_stance.mechanics.vectors import Array
from even_stance.study.heights import RANGE_MM, HeightStudy
from even_stance.units import format_length, length_unit
from even_stance.vehicle.job import Band, Job


@dataclass(frozen=True)
class BandLine:
    """One answer over ride height, by where it is in its wanted band.

    Attributes:
        key, title: which answer; place: 0 at the lower mark, 1 at the upper one, shape (heights,); see band_edges.
    """

    key: str
    title: str
    place: Array


def band_place(value: Array, band: Band) -> Array:
    """Where values are in a band: 0 at its lower mark, 1 at its upper one."""
    low, high = band_edges(band)
    place: Array = (value - low) / (high - low)
    return place


def band_lines(job: Job, found: HeightStudy) -> list[BandLine]:
    """Every judged answer that ride height moves, with its place in its band."""
    return [
        BandLine(key, TITLES[key], band_place(found.values[key], wanted(job, key, found.axle).band))
        for key in judged_keys()
        if key in found.values and is_judged(job, key)
    ]


def named_heights(job: Job) -> dict[str, float]:
    """The heights a car stands at that were typed, how much higher than driven, mm."""
    heights = job.measuring.heights
    typed = {"settled": -heights.settle_mm, "lowest": -heights.lower_mm, "raised": heights.raise_mm}
    return {"driven": 0.0, **{name: mm for name, mm in typed.items() if mm}}


def heights_reach(job: Job) -> float:
    """How far up and down the answers are looked at, mm: a couple of inches, or to what was typed."""
    return max(RANGE_MM, *(abs(mm) for mm in named_heights(job).values()))


def heights_words(job: Job, found: HeightStudy) -> str:
    """Which answers leave their band within the range, and which hardly care."""
    units = job.units
    reach = f"{format_length(float(found.higher_mm[-1]), units)} {length_unit(units)}"
    leave, stay = [], []
    for line in band_lines(job, found):
        values = found.values[line.key]
        ends = [format_value(line.key, float(v), units) for v in (values[0], values[-1])]
        span = f"{line.title.lower()} goes from {ends[0]} to {ends[1]}"
        out = ~(outside(values, wanted(job, line.key, found.axle).band) <= 0.0)
        middle = len(out) // 2
        if out.any() and not out[middle]:
            near = int(np.argmin(np.where(out, np.abs(found.higher_mm), np.inf)))
            at = float(found.higher_mm[near])
            way = "higher" if at > 0 else "lower"
            leave.append(f"{span} and leaves its band {format_length(abs(at), units)} {length_unit(units)} {way}")
        elif out[middle]:
            leave.append(f"{span}, out of its band as it stands")
        else:
            stay.append(line.title.lower())
    said = f"From {reach} lower to {reach} higher: " + ("; ".join(leave) if leave else "nothing leaves its band") + "."
    if stay:
        said += f" Near enough is good enough for {', '.join(stay)}."
    return said
