"""Where practitioners disagree: both sides in a sentence or two, with what this layout does."""

from dataclasses import dataclass

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


@dataclass(frozen=True)
class School:
    """A question on which practitioners disagree (common practice, no source).

    Attributes:
        question: what it is about; one, other: both sides with their reason; ours: our default and why.
    """

    question: str
    one: str
    other: str
    ours: str

    @property
    def words(self) -> str:
        """All of it as a short text."""
        return f"{self.question}\n\n{self.one}\n\n{self.other}\n\nHere: {self.ours}"


SCHOOLS: dict[str, School] = {
    "uppers": School(
        "Upper links as long as the lowers, or shorter?",
        "Equal: the pinion keeps its angle to the frame, or keeps pointing at the transfer case, through all of the "
        "travel.",
        "Shorter, 70 to 77 % of the lowers: the pinion turns a controlled amount, and short uppers fit where long ones "
        "do not.",
        "new layouts start with uppers at 78 %, because they fit more cars. Watch “Pinion over travel” and lengthen "
        "them if its joint asks for it.",
    ),
    "lateral": School(
        "Panhard or watts?",
        "Panhard: one bar, two joints, a low roll center, easy to build. It moves the axle sideways on an arc; long "
        "and level at ride height makes that small.",
        "Watts: no sideways arc and a roll center at its crank. More parts, more room, and a strong pivot.",
        "layouts that need a bar start with a panhard, because it is what most cars have room for. The table below "
        "shows what each would do on this car.",
    ),
    "anti": School(
        "How much anti-squat, and for what?",
        "A lot, 100 % and more, for drag: the tires are pushed down at once. It may hop where grip comes and goes.",
        "Less, 30 to 80 %, for the street and fast rough ground: the axle follows bumps and brakes calmly. Crawlers "
        "like 60 to 100 %, and the same at every height.",
        "the band follows the purpose of the job. Type your own below; it is kept in the job.",
    ),
    "height": School(
        "How exactly does ride height have to be set?",
        "Exactly: every angle and every number belongs to one height; measure and tune there.",
        "Within a couple of inches is near enough: a good linkage absorbs it.",
        "neither is taken for granted: the chart shows what two inches do to this car.",
    ),
    "slip_yoke": School(
        "How far to pull the slip yoke out at ride height?",
        "3/4 in from where it bottoms: more of the spline stays engaged at full droop.",
        "1 in: more room before it bottoms at full bump.",
        "1 in, unless the travel of the axle is known to need less; then bump and droop decide, not a rule.",
    ),
    "pitman_length": School(
        "A long pitman arm or a short one?",
        "Long: quick, and it reaches the stops with the turns the box has; the box and its shaft take more.",
        "Short: light at the rim and kind to the box; more winding, and perhaps not the whole lock.",
        "whichever just uses the lock; then see what the box holds. Neither cures a drag link that lies badly.",
    ),
    "rod_end_steering": School(
        "Tapered ends or rod ends in the steering?",
        "Tapered: a pin that fits its taper cannot work loose or oval its hole; the street school.",
        "Rod ends: easy to set and to see into; the race school, with short inspection intervals. A straight bolt "
        "through one on a street car ovals the hole.",
        "tapered on the street. Steering welds and changes are for qualified people, and the local code decides.",
    ),
    "sway_bar": School(
        "A bar from a like car, or one that is worked out?",
        "From a car of like weight: it is there, it fits the links, and its makers thought about it.",
        "Worked out: that car had other springs, another track and another CG; what the bar holds goes by its arms and "
        "links here as much as by its thickness.",
        "put on the one you have and see what it does to the share; change arms or links before the bar.",
    ),
}  # fmt: skip
