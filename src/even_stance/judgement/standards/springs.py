"""Numbers of springs: whether anything ends its stroke too soon, how the car rides, where it sits and how it leans.

The bands are common practice, no source, unless one is named; every one can be changed in the job.
"""

from even_stance.judgement.standards.standard import Marks, Standard, inches
from even_stance.vehicle.job import Purpose

_HERE = "derived here, from the measured mounts and lengths, and the positions over travel"


def _each(cruiser: Marks, performance: Marks, drag: Marks, trail: Marks, desert: Marks) -> dict[Purpose, Marks]:
    return {
        "street_cruiser": cruiser, "street_performance": performance, "drag": drag, "trail": trail, "desert": desert
    }  # fmt: skip


def _same(marks: Marks) -> dict[Purpose, Marks]:
    return _each(*[marks] * 5)


STANDARDS = (
    Standard(
        "stroke_droop_mm",
        "Stroke left in droop",
        reason="A shock that is pulled to its end takes the axle's weight on its seals: a strap should end the droop.",
        marks=_same(inches((0.5, None))),
        inside="The droop ends before the shock does.",
        low="Less is left of the shock at full droop than wanted: a shorter strap, a longer shock, or moved mounts.",
        past="The shock comes to its end before the droop does: a shorter strap, a longer shock, or moved mounts.",
        formula="Length all the way out, less the length at the posture where it is longest.",
        source=_HERE,
        solvable=False,
    ),
    Standard(
        "stroke_bump_mm",
        "Stroke left in bump",
        reason="A shock that bottoms breaks its mount or itself: the bump stop should be solid before that.",
        marks=_same(inches((0.5, None))),
        inside="The bump ends before the shock does.",
        low="Less is left of the shock at full bump than wanted: a taller stop, a shorter shock, or moved mounts.",
        past="The shock bottoms before the bump ends: a taller stop, a shorter shock, or moved mounts.",
        formula="The length at the posture where it is shortest, less the length all the way in.",
        source=_HERE,
        solvable=False,
    ),
    Standard(
        "bind_margin_mm",
        "Coil bind margin",
        reason="A coil closed solid is a rigid strut: something bends.",
        marks=_same(inches((0.25, None))),
        inside="The coils stay open.",
        low="A coil comes nearer to closing than wanted: a longer coil of the same rate, or less bump.",
        past="A coil closes before the bump ends: a longer coil of the same rate, or less bump.",
        formula="The length between the seats where it is least, less the coil's length with all turns closed.",
        source=_HERE,
        solvable=False,
    ),
    Standard(
        "crossover_mm",
        "Upper coil at crossover",
        reason="The crossover stop has to take over a quarter inch before the upper coil binds.",
        marks=_same(inches((0.25, None))),
        inside="The slider meets its stop before the upper coil binds.",
        low="The upper coil is nearly closed when the slider meets its stop: set the stop lower.",
        past="The upper coil binds at or before the crossover stop: set the stop lower.",
        formula="What the upper coil could still close when its slider meets the stop.",
        source="derived here, from the coils' free and solid lengths",
        solvable=False,
    ),
    Standard(
        "motion_ratio_x",
        "Motion ratio",
        reason="A spring that moves less than its wheel needs a rate that goes with the square of that.",
        marks=_each((0.7, 1.2), (0.75, 1.2), (0.7, 1.2), (0.6, 1.2), (0.5, 1.2)),
        inside="The springs move nearly as far as the wheels.",
        low="The springs move much less than the wheels: stand them up, or nearer to the axle's line.",
        high="The springs move farther than the wheels.",
        formula="How much shorter a spring gets per travel, both wheels together, the mean of the springs of the axle.",
        source="SAE J670, Vehicle Dynamics Terminology (definition, from memory); " + _HERE,
        solvable=False,
    ),
    Standard(
        "ride_frequency_hz",
        "Ride frequency",
        reason="How stiff an axle feels goes by rate over weight: about one a second is soft, two is firm.",
        marks=_each((1.0, 1.5), (1.4, 2.2), (1.1, 1.8), (1.0, 1.7), (0.9, 1.5)),
        inside="Rides as this kind of car does.",
        low="Softer than this kind of car rides: it needs much travel, and leans.",
        high="Stiffer than this kind of car rides: it skips over bumps.",
        formula="sqrt(k / m) / (2 pi): k of both wheels together with its part by geometry, m the sprung mass there.",
        source="Gillespie, Fundamentals of Vehicle Dynamics, ch. 5",
        solvable=False,
    ),
    Standard(
        "sits_off_mm",
        "Sits over ride height",
        reason="Everything here is judged at ride height: the car has to stand there, loaded as it is.",
        marks=_each(*(inches((-v, v)) for v in (0.5, 0.375, 0.5, 0.75, 0.75))),
        inside="Sits where it was drawn.",
        low="Sits too low: longer coils, collars up, or more pressure.",
        high="Sits too high: shorter coils, collars down, or less pressure.",
        formula="Where springs and weight are in balance, with what is aboard; + sits high.",
        source="derived here; balance of forces and moments of the body",
        solvable=False,
    ),
    Standard(
        "roll_per_g_deg",
        "Roll per g",
        reason="How far the body leans in a corner at 1 g; inboard springs on a solid axle hold little against it.",
        marks=_each((None, 8.0), (None, 5.0), (None, 7.0), (None, 18.0), (None, 14.0)),
        inside="Leans no more than this kind of car does.",
        high="Leans much: a sway bar, stiffer springs, or springs farther apart.",
        formula="m g h / (K - m g h): h of the sprung mass over the roll axis, K of all axles.",
        source="Gillespie, Fundamentals of Vehicle Dynamics, ch. 6",
        solvable=False,
    ),
    Standard(
        "transfer_over_weight_pct",
        "Front transfer over weight",
        reason="The end that takes more of what goes across in a corner than of the weight loses grip first: a little "
        "more of it in front keeps the tail behind. Roll centers and axle weights count as well as springs.",
        marks=_each((3.0, 8.0), (3.0, 8.0), (0.0, 10.0), (-3.0, 8.0), (-3.0, 8.0)),
        inside="The front takes as much more of the cornering than of the weight as is usual.",
        low="The rear takes too much of it: the tail may come round. Less bar at the rear, or more in front.",
        high="The front takes too much of it: it pushes wide. Less bar in front, or more at the rear.",
        formula="The front axle's share of what goes from the inner to the outer tires, less its share of the weight.",
        source="Gillespie, Fundamentals of Vehicle Dynamics, ch. 6; Milliken, Race Car Vehicle Dynamics, ch. 18 (from "
        "memory)",
        solvable=False,
    ),
    Standard(
        "inside_lift_g",
        "Inside wheel lifts at",
        reason="Where the first inside wheel leaves the ground on a level corner, tires holding that long.",
        marks=_each((0.9, None), (1.1, None), (0.8, None), (0.6, None), (0.7, None)),
        inside="Keeps its inside wheels down as long as is usual.",
        low="An inside wheel lifts early: lower the CG, widen the track, or share the roll out otherwise.",
        formula="Half the axle's load over what goes across per g.",
        source="Gillespie, Fundamentals of Vehicle Dynamics, ch. 6; " + _HERE,
        solvable=False,
    ),
)
