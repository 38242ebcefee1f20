"""Is it good, what is wrong, and what to try: one plain sentence for each judged figure."""

from dataclasses import dataclass
from typing import Literal

import numpy as np

from even_stance.judgement.bands import Wanted, wanted
from even_stance.judgement.moves import hole_moves
from even_stance.study.answers import study_postures
from even_stance.study.bind import Bind
from even_stance.study.figures import AxleStudy, Figure
from even_stance.study.model import linkage_from
from even_stance.units import System, force_unit, format_force, format_length
from even_stance.vehicle.job import Band, Job

State = Literal["inside", "low", "high", "unsure"]

TITLES = {
    "anti_squat_pct": "Anti-squat",
    "anti_lift_brake_pct": "Anti-lift, braking",
    "anti_dive_pct": "Anti-dive",
    "anti_lift_drive_pct": "Anti-lift, driving",
    "roll_center_mm": "Roll center",
    "roll_steer_pct": "Roll steer",
    "pinion_change_deg": "Pinion over travel",
    "triangulation_deg": "Triangulation",
    "side_shift_mm": "Sideways over travel",
    "wheelbase_change_mm": "Fore-aft over travel",
    "swing_use_pct": "Joint swing, worst",
}

_WORDS: dict[str, tuple[str, str, str]] = {  # inside, low, high
    "anti_squat_pct": (
        "Holds the tail up about as wanted.",
        "Low: the tail squats under power.",
        "High: may hop when the tires bite.",
    ),
    "anti_lift_brake_pct": (
        "Holds the tail down in braking as wanted.",
        "Low: the tail rises in braking.",
        "High: the axle may hop in hard braking.",
    ),
    "anti_dive_pct": (
        "The nose dips about as wanted.",
        "Low: the nose dives.",
        "High: harsh over bumps in braking.",
    ),
    "anti_lift_drive_pct": (
        "The front stays about as wanted under power.",
        "Low: the front rises under power.",
        "High: the front may hop on a climb.",
    ),
    "roll_center_mm": (
        "At a usual height.",
        "Low: the body leans more on its springs.",
        "High: flat in corners, but steps sideways over bumps.",
    ),
    "roll_steer_pct": (
        "Hardly steers as the body leans.",
        "Steers into the turn as the body leans.",
        "Steers out of the turn as the body leans.",
    ),
    "pinion_change_deg": ("The pinion stays put.", "", "The pinion turns more than its joint likes."),
    "triangulation_deg": ("Enough to hold the axle sideways.", "Too little to hold the axle sideways.", ""),
    "side_shift_mm": ("Stays under the car.", "", "Moves sideways: look at the tire gaps."),
    "wheelbase_change_mm": (
        "Stays in its wheel opening.",
        "",
        "Moves fore and aft: look at the wheel opening.",
    ),
    "swing_use_pct": ("Every joint has swing to spare.", "", "A joint runs out of swing when crossed up."),
}
_FRONT_STEER = ("Hardly steers as the body leans.", "Steers out of the turn.", "Steers into the turn.")


@dataclass(frozen=True)
class Verdict:
    """A judged figure.

    Attributes:
        figure: the value with its sureness; wanted: its band.
        state: inside, low, high, or unsure when the +/- straddles a mark.
        sentence: what it means, in the user's words.
        try_this: the cheapest hole change that helps, or empty.
    """

    figure: Figure
    wanted: Wanted
    state: State
    sentence: str
    try_this: str = ""

    @property
    def title(self) -> str:
        """What the figure is called."""
        return TITLES[self.figure.key]

    def reading(self, system: System) -> str:
        """The value as it is read, with its unit."""
        return format_value(self.figure.key, self.figure.value, system)

    def spread_words(self, system: System) -> str:
        """The +/- as it is read."""
        return format_spread(self.figure.key, self.figure.spread, system)

    def band_words(self, system: System) -> str:
        """The wanted band as it is read."""
        return band_words(self.figure.key, self.wanted.band, system)


def miss(value: float, verdict_band: Wanted) -> float:
    """How far a value is outside its band, in its own unit; 0 inside."""
    low, high = verdict_band.band.low, verdict_band.band.high
    return max(0.0, (low - value) if low is not None else 0.0, (value - high) if high is not None else 0.0)


def judge(job: Job, study: AxleStudy) -> list[Verdict]:
    """A verdict for every figure of an axle, in the order of the vials, with a hole to try where one helps."""
    bare = [_verdict(job, study, f) for f in study.figures]
    needy = [v for v in bare if miss(v.figure.value, v.wanted) > 0]
    tips = hole_tips(job, study, needy)
    return [
        v if v.figure.key not in tips else Verdict(v.figure, v.wanted, v.state, v.sentence, tips[v.figure.key])
        for v in bare
    ]


def _verdict(job: Job, study: AxleStudy, figure: Figure) -> Verdict:
    marks = wanted(job, figure.key, study.axle.key)
    low, high = marks.band.low, marks.band.high
    inside, too_low, too_high = _WORDS[figure.key]
    if figure.key == "roll_steer_pct" and study.axle.is_front:
        inside, too_low, too_high = _FRONT_STEER
    state: State
    if low is not None and figure.value < low:
        state, sentence = "low", too_low or "Below the wanted band."
    elif high is not None and figure.value > high:
        state, sentence = "high", too_high or "Above the wanted band."
    else:
        state, sentence = "inside", inside
    edges = [e for e in (low, high) if e is not None]
    if any(abs(figure.value - e) < figure.spread for e in edges):
        sentence = f"{sentence} Too close to the mark to be sure."
        state = "unsure" if state == "inside" else state
    if figure.note:
        sentence = f"{figure.note[0].upper()}{figure.note[1:]}. {sentence}"
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
            # A hole that hardly helps is no advice.
            if np.isfinite(value) and gain > max(0.2 * now, best.get(key, (0.0, ""))[0]):
                best[key] = (gain, f"{hole.words}: {format_value(key, value, job.units)}")
    return {key: tip for key, (_, tip) in best.items()}


def format_value(key: str, value: float, system: System) -> str:
    """A value of an answer as it is read, with its unit."""
    if not np.isfinite(value):
        return "—"
    if key.endswith("_mm"):
        return f"{format_length(value, system).removeprefix('~')} {'in' if system == 'us' else 'mm'}"
    if key.endswith("_deg"):
        return f"{value:.1f}°"
    return f"{value:.0f} %" if abs(value) >= 10 else f"{value:.1f} %"


def format_spread(key: str, spread: float, system: System) -> str:
    """The +/- of an answer as it is read."""
    if key.endswith("_mm"):
        if system == "metric":
            return f"± {max(spread, 0.1):.1f}"
        sixteenths = max(1.0, np.ceil(spread / 25.4 * 16))
        return f"± {format_length(sixteenths * 25.4 / 16)}"
    if key.endswith("_deg"):
        return f"± {max(spread, 0.1):.1f}"
    return f"± {spread:.0f}" if spread >= 9.5 else f"± {max(spread, 0.1):.1f}"


def band_words(key: str, band: Band, system: System) -> str:
    """A wanted band in words."""

    def bare(value: float) -> str:
        return format_value(key, value, system)

    if band.low is not None and band.high is not None:
        low = bare(band.low).removesuffix(" %").removesuffix(" in").removesuffix(" mm").removesuffix("°")
        return f"{low} to {bare(band.high)}"
    if band.low is not None:
        return f"{bare(band.low)} and up"
    return f"under {bare(band.high)}" if band.high is not None else "anything"


def bind_words(bind: Bind, system: System) -> str:
    """How freely an axle crosses up, in a sentence."""
    if bind.free:
        return "Crosses up freely."
    give = bind.misfit_per_deg
    much = f"{give:.1f} mm" if system == "metric" else f"{give / 25.4:.3f} in"
    force = f"{format_force(bind.force_per_deg, system)} {force_unit(system)}"
    return (
        f"Binds: {bind.row} gives {much} and {force} per degree of roll; "
        f"{100 * bind.free_share:.0f} % of the wanted cross-up is within what its joints take."
    )
