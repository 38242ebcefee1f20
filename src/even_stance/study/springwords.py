"""What springs are and do, written beside them on the drawing: squeeze, lean, gaps, straps, pressures, bars."""

import numpy as np

from even_stance.mechanics.vectors import Array, norm
from even_stance.study.drawing import Label, Path, Shape, View, project
from even_stance.study.figures import AxleStudy
from even_stance.study.places import place_of, xyz
from even_stance.study.springs import slack_mm
from even_stance.units import System, format_length, format_pressure, format_stiffness, pressure_unit, stiffness_unit
from even_stance.vehicle.springs import AirSpring, AnySpring, BumpStop, CoilOver, CoilSpring, Rocker, Strap, SwayBar

OF_SPRINGS = (
    "stroke_droop_mm", "stroke_bump_mm", "bind_margin_mm", "crossover_mm", "motion_ratio_x", "ride_frequency_hz",
    "sits_off_mm", "roll_per_g_deg", "transfer_over_weight_pct", "inside_lift_g",
)  # fmt: skip


def spring_words(study: AxleStudy, view: View, system: System) -> list[Shape]:
    """Words at one spring of every pair, seen from behind; the lean of those that carry, against an upright line."""
    if view != "rear":
        return []
    mounts, shapes = place_of(study).mounts, list[Shape]()
    for part in study.axle.springs:
        if part.side == "right":
            continue
        at = {end: np.array(mounts[part.name, end]) for end in part.mounts}
        words = _words(part, at, system)
        if words:
            high = at.get("top", at.get("bearing_left", next(iter(at.values()))))
            shapes.append(Label(project(view, xyz(high)), words, "exact"))
        if isinstance(part, CoilOver | CoilSpring):
            shapes += _lean(at["top"], at["bottom"], view)
    return shapes


def _lean(top: Array, bottom: Array, view: View) -> list[Shape]:
    """An upright line from a spring's lower mount, and how far it leans from it as seen."""
    run = top - bottom
    angle = float(np.degrees(np.arctan2(abs(run[1]), run[2])))
    if angle < 0.5:
        return []
    up = bottom + np.array([0.0, 0.0, 0.75 * run[2]])
    ends = (project(view, xyz(bottom)), project(view, xyz(up)))
    return [Path(ends, "reference"), Label(ends[1], f"{angle:.0f}°", "exact", "above")]


def _words(part: AnySpring, at: dict[str, Array], system: System) -> str:
    """What one spring is and does, in a few words."""

    def long(mm: float) -> str:
        return format_length(mm, system).removeprefix("~")

    if isinstance(part, CoilOver | CoilSpring | Rocker) and part.coils:
        ends = ("low", "top") if isinstance(part, Rocker) else ("top", "bottom")
        length = float(norm(at[ends[0]] - at[ends[1]]))
        squeezed = max((slack_mm(part) or length) - length, 0.0)
        rate = " over ".join(format_stiffness(c.rate_n_mm, system) for c in reversed(part.coils))
        return f"coil {rate} {stiffness_unit(system)}, squeezed {long(squeezed)}"
    if isinstance(part, AirSpring):
        return f"air, {format_pressure(part.pressure_bar, system)} {pressure_unit(system)} at ride height"
    if isinstance(part, BumpStop):
        ride = float(norm(np.array(part.top.at.xyz) - np.array(part.bottom.at.xyz)))
        gap = float(norm(at["top"] - at["bottom"])) - (ride - part.gap_mm)
        return f"bump stop: gap {long(gap)}" if gap > 0.0 else f"bump stop squeezed {long(-gap)}"
    if isinstance(part, Strap):
        spare = part.length_mm - float(norm(at["top"] - at["bottom"]))
        return f"strap: {long(spare)} to go" if spare > 0.0 else "strap tight"
    return f"sway bar {long(part.bar_mm)}" if isinstance(part, SwayBar) else ""
