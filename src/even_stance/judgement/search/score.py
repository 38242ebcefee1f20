"""How good a layout is by the user's bands and weights, as one figure to rank by."""

import numpy as np

from even_stance.judgement.bands import band_edges, band_key, is_judged, judged_keys, outside, wanted
from even_stance.mechanics.vectors import Array
from even_stance.vehicle.job import Band, Job

_MIDDLE = 0.01


def key_score(value: Array, band: Band) -> Array:
    """0 in the middle of the band, a hundredth at its marks, and the square of the miss in band widths outside.

    Args:
        value: the figure of each layout, shape (...); nan scores inf.
        band: what is wanted of it.
    """
    edges = band_edges(band)
    width = edges[1] - edges[0]
    off = outside(value, band) / width
    middle = np.zeros_like(value)
    if band.low is not None and band.high is not None:
        middle = np.minimum(np.abs(value - sum(edges) / 2) / (width / 2), 1.0)
    score: Array = off**2 + _MIDDLE * middle
    return np.where(np.isfinite(value), score, np.inf)


def score(job: Job, axle: str, values: dict[str, Array]) -> Array:
    """The weighted sum over all judged figures given of an axle, the smaller the better."""
    total: Array | float = 0.0
    for key in judged_keys():
        weight = job.weights.get(band_key(key), 1.0)
        if key in values and is_judged(job, key) and weight > 0:
            total = total + weight * key_score(values[key], wanted(job, key, axle).band)
    for what, band in wishes_for(job, axle).items():
        if what in values:
            total = total + key_score(values[what], band)
    return np.asarray(total, dtype=np.float64)


def wishes_for(job: Job, axle: str) -> dict[str, Band]:
    """What is asked of an axle besides the judged numbers, and its band."""
    every = (key.partition("/") for key in job.wishes)
    return {what: job.wishes[f"{key}/{what}"] for key, _, what in every if key == axle}


def misses(job: Job, axle: str, values: dict[str, Array]) -> dict[str, Array]:
    """How far each number that counts is outside its band, in its unit; inf where there is none."""
    bands = {
        key: wanted(job, key, axle).band
        for key in judged_keys()
        if key in values and is_judged(job, key) and job.weights.get(band_key(key), 1.0) > 0
    }
    bands |= {what: band for what, band in wishes_for(job, axle).items() if what in values}
    return {key: np.nan_to_num(outside(values[key], band), nan=np.inf) for key, band in bands.items()}
