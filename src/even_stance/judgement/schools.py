"""Where practitioners disagree: both sides in a sentence or two, with what this layout does."""

from even_stance.study.figures import layout_figures
from even_stance.units import format_length, length_unit
from even_stance.vehicle.car import Axle
from even_stance.vehicle.job import Job


def link_schools(job: Job, axle: Axle) -> list[str]:
    """What the schools say to the lengths, separation and triangulation of an axle (common practice, no source)."""
    figures = layout_figures(axle)
    said = []
    if figures.length_ratio is not None:
        percent = 100 * figures.length_ratio
        if 95 <= percent <= 105:
            view = "the equal-length school: the pinion keeps its angle to the chassis."
        elif 68 <= percent <= 80:
            view = "the shorter-upper school: the pinion turns a controlled amount."
        else:
            view = "neither school: equal lengths keep the pinion angle, uppers of 70 to 77 % turn it a little."
        said.append(f"Uppers are {percent:.0f} % as long as the lowers. That is {view}")
    if figures.separation_mm is not None:
        unit, units = length_unit(job.units), job.units
        enough = "about" if abs(figures.separation_mm / figures.quarter_tire_mm - 1) < 0.15 else (
            "more than" if figures.separation_mm > figures.quarter_tire_mm else "less than"
        )  # fmt: skip
        said.append(
            f"{format_length(figures.separation_mm, units)} {unit} between uppers and lowers at the axle: {enough} "
            f"a quarter of the tire ({format_length(figures.quarter_tire_mm, units)} {unit}), the rule of thumb. "
            "Less loads the joints more."
        )
    if figures.upper_included_deg is not None and not any(m.role == "lateral" for m in axle.members):
        said.append(
            f"Uppers include {figures.upper_included_deg:.1f}°, lowers {figures.lower_included_deg or 0.0:.1f}°. "
            "At least about 40° between the uppers is asked for; 42° and 10° together is called decent."
        )
    return said
