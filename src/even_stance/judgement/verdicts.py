"""Is it good, what is wrong, and what to try: one plain sentence for each judged figure."""

from collections.abc import Mapping
from dataclasses import dataclass
from math import isfinite
from typing import Literal

import numpy as np

from even_stance.judgement.bands import ARTICULATION_DEG, Wanted, band_key, wanted
from even_stance.judgement.search.moves import hole_moves
from even_stance.judgement.standards import STANDARDS
from even_stance.mechanics.vectors import Array
from even_stance.study.answers import study_postures
from even_stance.study.beamfigures import beam_figures
from even_stance.study.bind import Bind, study_bind
from even_stance.study.figures import AxleStudy, Figure
from even_stance.study.model import linkage_from
from even_stance.study.ridefigures import beam_ride_figures, ride_figures
from even_stance.units import (
    M_PER_FOOT,
    System,
    distance_unit,
    force_unit,
    format_decimal,
    format_force,
    format_length,
    length_unit,
)
from even_stance.vehicle.car import Axle
from even_stance.vehicle.job import Band, Job

State = Literal["inside", "low", "high", "unsure", "not_judged", "not_looked", "missing"]
STATE_WORDS: dict[State, str] = {
    "inside": "inside", "low": "low", "high": "high", "unsure": "unsure", "not_judged": "not judged",
    "not_looked": "not looked at", "missing": "missing",
}  # fmt: skip

TITLES = {key: standard.title for key, standard in STANDARDS.items()}
_HARDLY_STEERS = 2.0  # percent: a tenth of a degree at 5 degrees of lean


def roll_steer_words(value: float, front: bool) -> str:
    """Which way an axle points as the body leans, and what the car then does.

    + turns the tube toward left as its left wheel rises, that is in a right turn: out of the turn at either end.
    """
    if abs(value) < _HARDLY_STEERS:
        return "Hardly steers as the body leans."
    if front:
        if value > 0:
            return "The front points out of the turn: the car runs wide, roll understeer."
        return "The front points into the turn: the nose tucks in, roll oversteer."
    if value > 0:
        return "The rear points out of the turn: the tail comes round, roll oversteer."
    return "The rear points into the turn: the car runs wide, roll understeer."


@dataclass(frozen=True)
class Verdict:
    """A judged figure.

    Attributes:
        figure: the value with its sureness; wanted: its band.
        state: inside, low, high, unsure when the +/- straddles a mark, or not_judged: it is no number, or something it
        rests on is not known; the sentence says what.
        sentence: what it means, in the user's words.
        try_this: the cheapest hole change that helps, or empty.
        name: what it is of, where a number has more than one, such as each link's; empty for what it is called.
    """

    figure: Figure
    wanted: Wanted
    state: State
    sentence: str
    try_this: str = ""
    name: str = ""

    @property
    def title(self) -> str:
        """What the figure is called."""
        return self.name or TITLES[self.figure.key]

    @property
    def station(self) -> str:
        """The station the figure belongs to."""
        return STANDARDS[self.figure.key].station

    def reading(self, system: System) -> str:
        """Return the value as it is read, with its unit; that it is not judged where it cannot stand for the whole."""
        if self.state == "not_judged":
            return STATE_WORDS["not_judged"]
        return format_judged(self.figure.key, self.figure.value, self.wanted.band, system)

    def uncertainty_words(self, system: System) -> str:
        """Return the +/- as it is read; nothing of what is not judged."""
        if self.state == "not_judged":
            return ""
        return format_uncertainty(self.figure.key, self.figure.uncertainty, system)

    def band_words(self, system: System) -> str:
        """The wanted band as it is read."""
        return band_words(self.figure.key, self.wanted.band, system)


def miss(value: float, verdict_band: Wanted) -> float:
    """How far a value is outside its band, in its own unit; 0 inside."""
    low, high = verdict_band.band.low, verdict_band.band.high
    return max(0.0, (low - value) if low is not None else 0.0, (value - high) if high is not None else 0.0)


def judge(job: Job, study: AxleStudy, moving: bool = False, sure: dict[str, float] | None = None) -> list[Verdict]:
    """A verdict for every figure of an axle, in the order of the vials, with a hole to try where one helps.

    Args:
        job: the job; study: the axle.
        moving: whether a point is on its way: there is no hole to try then, for what would help changes with each step.
        sure: the +/- of the springs' figures a moment ago, to stand in meanwhile.
    """
    bare = [_verdict(job, study.axle, f, study.now.values) for f in study.figures]
    if study.axle.springs or any(m.kind == "leaf" for m in study.axle.members):
        bare += judge_springs(job, study, sure)
    if moving:
        return bare
    needy = [v for v in bare if miss(v.figure.value, v.wanted) > 0]
    tips = hole_tips(job, study, needy)
    return [
        v if v.figure.key not in tips else Verdict(v.figure, v.wanted, v.state, v.sentence, tips[v.figure.key])
        for v in bare
    ]


def judge_springs(job: Job, study: AxleStudy, sure: dict[str, float] | None = None) -> list[Verdict]:
    """A verdict for every figure of an axle's springs, and of the car on them."""
    return [_verdict(job, study.axle, f, {}) for f in ride_figures(job.vehicle, study, sure)]


def judge_beams(job: Job, axle: Axle, before: list[Verdict] | None = None) -> list[Verdict]:
    """A verdict for every figure of an axle of swing beams, with the +/- of a moment before, if given; none without."""
    sure = None if before is None else {v.figure.key: v.figure.uncertainty for v in before}
    every = [*beam_figures(job.vehicle, axle, sure), *beam_ride_figures(job.vehicle, axle)]
    return [_verdict(job, axle, f, {}) for f in every]


def _verdict(job: Job, axle: Axle, figure: Figure, now: Mapping[str, Array]) -> Verdict:
    """One figure held against its band."""
    marks = wanted(job, figure.key, axle.key)
    low, high = marks.band.low, marks.band.high
    standard = STANDARDS[figure.key]
    inside, too_low, too_high = standard.inside, standard.low, standard.high
    if figure.key == "roll_steer_pct":
        inside = too_low = too_high = roll_steer_words(figure.value, axle.is_front)
    state: State
    if not isfinite(figure.value):
        return Verdict(figure, marks, "not_judged", "It cannot be worked out at this posture.")
    if low is not None and figure.value < low:
        used_up = figure.value <= 0.0 and standard.past
        state, sentence = "low", used_up or too_low or "Below the wanted band."
    elif high is not None and figure.value > high:
        state, sentence = "high", too_high or "Above the wanted band."
    else:
        state, sentence = "inside", inside
    edges = [e for e in (low, high) if e is not None]
    if any(abs(figure.value - e) < figure.uncertainty for e in edges):
        sentence = f"{sentence} Too close to the mark to be sure."
        state = "unsure" if state == "inside" else state
    if figure.note:
        sentence = f"{figure.note[0].upper()}{figure.note[1:]}. {sentence}"
    share = now.get(band_key(figure.key)) if figure.key.endswith("_axle_pct") else None
    if share is not None and axle.drive_share < 1.0:
        felt = format_value(figure.key, float(share[0]), job.units)
        sentence += f" At its {100 * axle.drive_share:.0f} % of the drive: {felt}, which is what the springs feel."
    return Verdict(figure, marks, state, sentence)


def hole_tips(job: Job, study: AxleStudy, needy: list[Verdict]) -> dict[str, str]:
    """For figures outside their band: the one hole, up or down on a bracket (both sides), that helps most."""
    wanting = {v.figure.key: v for v in needy if v.figure.key in study.now.values}
    tries = hole_moves(job, study.axle) if wanting else []
    if not tries:
        return {}
    variants = linkage_from(study.axle, study.now.layout, np.stack([t.points for t in tries]))
    left, right = np.full(len(tries), study.now.left[0]), np.full(len(tries), study.now.right[0])
    tried = study_postures(job.vehicle, study.axle, left, right, variants)
    best: dict[str, tuple[float, str]] = {}
    for key, verdict in wanting.items():
        now = miss(verdict.figure.value, verdict.wanted)
        for i, hole in enumerate(tries):
            value = tried.value(key, i)
            gain = now - miss(value, verdict.wanted)
            # A hole that leaves more than half of the miss is no advice.
            if np.isfinite(value) and gain > max(0.5 * now, best.get(key, (0.0, ""))[0]):
                shown = format_judged(key, value, verdict.wanted.band, job.units)
                best[key] = (gain, f"{hole.words}: {shown}{still_out(value, verdict.wanted.band)}")
    return {key: tip for key, (_, tip) in best.items()}


def still_out(value: float, band: Band) -> str:
    """What is said behind a value that a move leaves outside its band; nothing inside."""
    if band.low is not None and value < band.low:
        return " (still low)"
    return " (still high)" if band.high is not None and value > band.high else ""


_UNITS = {"mm": "mm", "m": "m", "deg": "deg", "pct": "%", "hz": "Hz", "g": "g"}


def unit_of(key: str) -> str:
    """The unit a number is kept in, by the end of its key; empty of a plain ratio."""
    return _UNITS.get(key.rsplit("_", 1)[-1], "")


def format_value(key: str, value: float, system: System, more: int = 0) -> str:
    """A value of an answer as it is read, with its unit; with more decimals where asked for.

    Raises:
        ValueError: the key ends with no unit that is known.
    """
    if not np.isfinite(value):
        return "—"
    unit = key.rsplit("_", 1)[-1]
    if unit == "mm" and not more:
        return f"{format_length(value, system).removeprefix('~')} {length_unit(system)}"
    us = system == "us"
    plain = {
        "mm": (value / (25.4 if us else 1.0), 1, f" {length_unit(system)}"),
        "m": (value / (M_PER_FOOT if us else 1.0), 1, f" {distance_unit(system)}"),
        "deg": (value, 1, "°"),
        "pct": (value, 0 if abs(value) >= 10 else 1, " %"),
        "ratio": (value, 1, " to 1"),
        "hz": (value, 2, " Hz"),
        "g": (value, 2, " g"),
        "x": (value, 2, ""),
    }.get(unit)
    if plain is not None:
        number, decimals, word = plain
        return f"{format_decimal(number, decimals + more)}{word}"
    raise ValueError(f"{key} has no unit that is known")


def format_judged(key: str, value: float, band: Band, system: System) -> str:
    """A value as it is read beside its band: with as many decimals as it takes to tell it from a mark it has passed."""
    for more in range(4):
        shown = format_value(key, value, system, more)
        passed = (band.low is not None and value < band.low, band.high is not None and value > band.high)
        marks = [m for m, past in zip((band.low, band.high), passed, strict=True) if past and m is not None]
        if all(shown != format_value(key, mark, system, more) for mark in marks):
            break
    return shown


def format_uncertainty(key: str, spread: float, system: System) -> str:
    """The +/- of an answer as it is read."""
    if key.endswith("_mm"):
        if system == "metric":
            return f"± {max(spread, 0.1):.1f}"
        sixteenths = max(1.0, np.ceil(spread / 25.4 * 16))
        return f"± {format_length(sixteenths * 25.4 / 16)}"
    if key.endswith("_m"):
        return f"± {max(spread / (M_PER_FOOT if system == 'us' else 1.0), 0.1):.1f}"
    if key.endswith("_deg"):
        return f"± {max(spread, 0.1):.1f}"
    if key.endswith(("_hz", "_g", "_x")):
        return f"± {max(spread, 0.01):.2f}"
    return f"± {spread:.0f}" if spread >= 9.5 else f"± {max(spread, 0.1):.1f}"


def band_words(key: str, band: Band, system: System) -> str:
    """A wanted band in words."""

    def bare(value: float) -> str:
        return format_value(key, value, system)

    if band.low is not None and band.high is not None:
        low = bare(band.low)
        for unit in (" %", " in", " mm", " ft", " m", "°", " to 1", " Hz", " g"):
            low = low.removesuffix(unit)
        return f"{low} to {bare(band.high)}"
    if band.low is not None:
        return f"{bare(band.low)} and up"
    return f"under {bare(band.high)}" if band.high is not None else "anything"


def study_wanted_bind(job: Job, study: AxleStudy) -> Bind:
    """How freely an axle crosses up, as far as the purpose of the job wants."""
    return study_bind(job.vehicle, study.axle, study.now, ARTICULATION_DEG[job.purpose])


def bind_words(bind: Bind, system: System) -> str:
    """How freely an axle crosses up, in a sentence."""
    if bind.free:
        return "Crosses up freely."
    give = bind.misfit_per_deg
    much = f"{give:.1f} mm" if system == "metric" else f"{give / 25.4:.3f} in"
    force = f"{format_force(bind.force_per_deg, system)} {force_unit(system)}"
    within = f"{100 * bind.free_share:.0f} % of the {bind.wanted_deg:.0f}° of cross-up wanted"
    return f"Binds: {bind.row} gives {much} and {force} per degree of roll; {within} is within what its joints take."
