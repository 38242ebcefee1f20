"""Why a number is what it is: its formula in words, what went in, who says so, how sure it is and what moves it."""

from dataclasses import dataclass

import numpy as np

from even_stance.errors import LayoutError
from even_stance.judgement.bands import band_key
from even_stance.judgement.search.movers import Mover, movers
from even_stance.judgement.springs import spring_values
from even_stance.judgement.standards import STANDARDS
from even_stance.judgement.verdicts import TITLES, format_uncertainty, format_value, unit_of
from even_stance.judgement.wentin import WentIn, length_in, percent_in
from even_stance.mechanics.drawn import slope_by_crossing
from even_stance.study.answers import answers_at, cg_height, cg_rise
from even_stance.study.beamfigures import beam_figures, beam_slopes
from even_stance.study.figures import AxleStudy, Figure, figure_slopes
from even_stance.study.ridefigures import ride_figures, ride_slopes
from even_stance.vehicle.car import Axle, Vehicle
from even_stance.vehicle.job import Job


@dataclass(frozen=True)
class Formula:
    """How a figure comes about, in words, and its source."""

    words: str
    source: str


FORMULAS = {key: Formula(standard.formula, standard.source) for key, standard in STANDARDS.items()}


@dataclass(frozen=True)
class Explanation:
    """Everything behind one number.

    Attributes:
        title, reading: what it is and its value with +/-; formula: how it comes about; went_in: named values.
        movers: what moves it most; drawn_differs: what a line drawing would say where it is not exact, or empty.
    """

    title: str
    reading: str
    formula: Formula
    went_in: tuple[WentIn, ...]
    movers: tuple[Mover, ...]
    drawn_differs: str


def explain(job: Job, study: AxleStudy, key: str) -> Explanation | None:
    """Why a figure of an axle is what it is; None when the axle has no such figure."""
    if STANDARDS[band_key(key)].station == "springs":
        return explain_springs(job, study, key)
    figure = study.figure(key)
    if figure is None:
        return None
    reading = f"{format_value(key, figure.value, job.units)} {format_uncertainty(key, figure.uncertainty, job.units)}"
    found = movers(job, figure_slopes(job.vehicle, study), key)
    return Explanation(
        TITLES[key], reading, FORMULAS[key], tuple(_went_in(job, study, key)), tuple(found), _drawn(study, key)
    )  # fmt: skip


def explain_springs(job: Job, study: AxleStudy, key: str) -> Explanation | None:
    """Why a figure of springs is what it is; None when the axle has no such figure."""
    slopes = ride_slopes(job.vehicle, study)
    sure = {k: slopes.uncertainty(k) for k in slopes.of}
    figure = next((f for f in ride_figures(job.vehicle, study, sure) if f.key == key), None)
    if figure is None:
        return None
    reading = f"{format_value(key, figure.value, job.units)} {format_uncertainty(key, figure.uncertainty, job.units)}"
    values = spring_values(job, study.axle, key)
    values += _worst(figure)
    return Explanation(TITLES[key], reading, FORMULAS[key], tuple(values), tuple(movers(job, slopes, key)), "")


def explain_beams(job: Job, axle: Axle, key: str) -> Explanation | None:
    """Why a figure of swing beams is what it is; None when the axle has no such figure."""
    figure = next((f for f in beam_figures(job.vehicle, axle) if f.key == key), None)
    if figure is None:
        return None
    reading = f"{format_value(key, figure.value, job.units)} {format_uncertainty(key, figure.uncertainty, job.units)}"
    values = [*_travel(job, axle), *_worst(figure)]
    found = movers(job, beam_slopes(job.vehicle, axle), key)
    return Explanation(TITLES[key], reading, FORMULAS[key], tuple(values), tuple(found), "")


def _travel(job: Job, axle: Axle) -> list[WentIn]:
    return [length_in("bump", axle.bump_mm, job.units), length_in("droop", axle.droop_mm, job.units)]


def _worst(figure: Figure) -> list[WentIn]:
    return [WentIn("worst", figure.note)] if figure.note else []


def _at(job: Job, study: AxleStudy) -> list[WentIn]:
    """Where the wheels are."""
    left, right = float(study.now.left[0]), float(study.now.right[0])
    if not left and not right:
        return [WentIn("at", "ride height")]
    return [length_in("left wheel up", left, job.units), length_in("right wheel up", right, job.units)]


def _went_in(job: Job, study: AxleStudy, key: str) -> list[WentIn]:
    """The figures that went into a number, with their names."""
    vehicle, axle, now, units = job.vehicle, study.axle, study.now, job.units
    if key.startswith("anti_"):
        braking = key in ("anti_lift_brake_pct", "anti_dive_pct")
        share = axle.brake_share if braking else 1.0 if key.endswith("_axle_pct") else axle.drive_share
        which = "sprung CG" if vehicle.anti_uses == "sprung" else "CG"
        slope = now.value("contact_slope")
        return [
            WentIn("contact slope", f"{slope:+.3f}", slope),
            percent_in("brake share" if braking else "drive share", 100.0 * share),
            length_in("wheelbase L", vehicle.wheelbase_mm, units, vehicle.wheelbase_sure_mm),
            length_in(f"{which} height h", cg_height(vehicle), units, vehicle.cg_sure_mm),
            *_at(job, study),
            WentIn("over", _ground_words(vehicle)),
            *_pair(job, study, key),
        ]
    if key in ("roll_center_mm", "roll_steer_pct"):
        slope = now.value("roll_axis_slope_deg")
        return [
            WentIn(
                "roll axis", f"{abs(slope):.1f}° {'rising' if slope > 0 else 'falling'} toward the front", slope, "deg"
            ),
            length_in("with one wheel only", now.value("roll_center_one_wheel_mm"), units),
            *_at(job, study),
            WentIn("over", _ground_words(vehicle)),
        ]
    figure = study.figure(key)
    assert figure is not None
    return [*_travel(job, axle), *_worst(figure)]


def _ground_words(vehicle: Vehicle) -> str:
    """Which ground and CG a number goes by once the wheels are off ride height."""
    if vehicle.over == "ride":
        return "ground and CG as at ride height"
    return f"the ground as the car then stands; its CG goes along by {100 * cg_rise(vehicle):.0f} %"


def _pair(job: Job, study: AxleStudy, key: str) -> list[WentIn]:
    """What both rear axles of a tandem come to together at ride height: each takes its share of the force."""
    pair = [a for a in job.vehicle.axles if not a.is_front]
    if len(pair) < 2 or study.axle.is_front:
        return []
    try:
        both = [answers_at(job.vehicle, a, 0.0, 0.0).values.get(band_key(key)) for a in pair]
    except LayoutError:
        return []
    whole = sum(float(v[0]) for v in both if v is not None)
    return [WentIn("both rear axles", format_value(key, whole, job.units), whole, unit_of(key))]


def _drawn(study: AxleStudy, key: str) -> str:
    """The percentage the line-crossing construction gives, where it differs from the exact one."""
    if not key.startswith("anti_") or not study.now.ok[0]:
        return ""
    slope = study.now.value("contact_slope")
    drawn = _line_slope(study)
    if drawn is None or abs(slope) < 1e-6:
        return ""
    exact = study.now.value(key)
    crossed = exact * drawn / slope
    if abs(crossed - exact) < 1.0:
        return ""
    return f"Crossing the link lines on paper would say {crossed:.0f} %: they do not count the off-center links."


def _line_slope(study: AxleStudy) -> float | None:
    """Contact slope from the crossing of the mean upper and lower lines in side view."""
    layout, now = study.now.layout, study.now
    lines = []
    for role in ("upper", "lower"):
        rods = [i for i, r in enumerate(layout.rods) if layout.mounts[r.first].member.role == role]
        if not rods:
            return None
        a, b = now.chassis_ends[0][rods].mean(axis=0), now.rod_ends[0][rods].mean(axis=0)
        lines.append(((a[0], a[2]), (b[0], b[2])))
    center = now.pose.center[0]
    contact = np.array([center[0], center[2] - study.axle.tire.loaded_radius_mm])
    return slope_by_crossing(np.array(lines[0]), np.array(lines[1]), contact)
