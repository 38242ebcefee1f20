"""Numbers of a driveshaft: whether its angles cancel, its joints live, and its spline neither bottoms nor comes out.

The bands are common practice, no source, unless one is named; every one can be changed in the job.
"""

from even_stance.judgement.standards.standard import Marks, Standard, inches
from even_stance.vehicle.job import Purpose

_AE7 = "SAE AE-7, Universal Joint and Driveshaft Design Manual (from memory)"


def _all(street: Marks, drag: Marks, trail: Marks) -> dict[Purpose, Marks]:
    return {
        "street_cruiser": street, "street_performance": street, "drag": drag, "trail": trail, "desert": trail
    }  # fmt: skip


STANDARDS = (
    Standard(
        "shaft_residual_deg",
        "Angles cancel",
        reason=(
            "Equal and opposite within half a degree, in one plane, turns evenly; what is left over is felt as hum. "
            "A double-cardan joint turns evenly by itself: then the other end should be nearly straight."
        ),
        marks=_all((None, 1.5), (None, 2.0), (None, 3.0)),
        inside="What is left over turns as evenly as a nearly straight joint.",
        high="The two ends do not cancel: it will hum.",
        formula=(
            "The angle of a single joint that would turn as unevenly: acos of the root of lowest over highest pinion "
            "speed in one turn. Close to root |t1² e^(2i p1) - t2² e^(2i p2)|, with the plane p of each joint."
        ),
        source=_AE7,
        solvable=False,
    ),
    Standard(
        "output_angle_deg",
        "Joint at the output",
        reason="Small but not nil: a joint that never bends wears where it stands; one bent far runs hot and short.",
        marks=_all((0.5, 4.0), (0.5, 5.0), (0.5, 15.0)),
        inside="Bends a little, as it should.",
        low="Hardly bends: its needles never roll.",
        high="Bends far: it wears and runs rough.",
        formula="The angle between the output and the shaft in space, side and plan view together.",
        source=_AE7,
        solvable=False,
    ),
    Standard(
        "pinion_angle_deg",
        "Joint at the pinion",
        reason="Small but not nil: a joint that never bends wears where it stands; one bent far runs hot and short.",
        marks=_all((0.5, 4.0), (0.5, 5.0), (0.5, 15.0)),
        inside="Bends a little, as it should.",
        low="Hardly bends: its needles never roll.",
        high="Bends far: it wears and runs rough.",
        formula="The angle between the shaft and the pinion in space, side and plan view together.",
        source=_AE7,
        solvable=False,
    ),
    Standard(
        "critical_use_pct",
        "Top speed of critical",
        reason=(
            "A shaft that turns near its first bending speed whips and breaks. Two thirds of it are kept as a limit; "
            "thicker tube or a shorter shaft raises it."
        ),
        marks=_all((None, 67.0), (None, 67.0), (None, 67.0)),
        inside="Turns well below the speed it would whip at.",
        high="Top speed comes too near to where the shaft whips.",
        formula="Top speed of the shaft over (pi / L)² root(E I / m), the first bending of its tube between joints.",
        source="Blevins, Formulas for Natural Frequency and Mode Shape, pinned beam (from memory)",
    ),
    Standard(
        "pinion_joint_deg",
        "Pinion joint, worst",
        reason="A joint bent further than this runs rough and wears; past its own limit it binds.",
        marks={
            "street_cruiser": (None, 6.0),
            "street_performance": (None, 6.0),
            "drag": (None, 7.0),
            "trail": (None, 20.0),
            "desert": (None, 20.0),
        },
        inside="The joint at the pinion is not bent far.",
        high="The joint at the pinion is bent too far.",
        formula=(
            "The largest angle between the driveshaft's line and the pinion's axis between full droop and full bump."
        ),
        source="derived here, from the measured shaft ends and the positions over travel",
    ),
    Standard(
        "output_joint_deg",
        "Output joint, worst",
        reason="A joint bent further than this runs rough and wears; past its own limit it binds.",
        marks=_all((None, 7.0), (None, 8.0), (None, 25.0)),
        inside="The joint at the output is not bent far.",
        high="The joint at the output is bent too far.",
        formula="The largest angle between the output and the driveshaft between full droop and full bump.",
        source="derived here, from the measured shaft ends and the positions over travel",
    ),
    Standard(
        "shaft_worst_deg",
        "Left over, worst",
        reason="Angles that cancel at ride height drift apart as the pinion turns over travel.",
        marks=_all((None, 3.0), (None, 4.0), (None, 13.0)),
        inside="Stays even enough over travel.",
        high="Drifts apart over travel: hum and shake in bump or droop.",
        formula="The most of what is left over between full droop and full bump.",
        source=_AE7,
        solvable=False,
    ),
    Standard(
        "joint_limit_use_pct",
        "Joint bend of its limit",
        reason="A joint that meets its own yoke breaks: a limit strap has to stop the axle before.",
        marks=_all((None, 90.0), (None, 90.0), (None, 90.0)),
        inside="Every joint can bend farther than the axle goes.",
        high="A joint meets its yoke over travel: stop the droop with a limit strap, or fit one that bends farther.",
        formula="The most either joint bends over travel, against what was typed; each half of a double-cardan alone.",
        source="derived here, from the measured shaft ends and the positions over travel",
        solvable=False,
    ),
    Standard(
        "axle_joint_use_pct",
        "Axle joint at lock",
        reason="The axle shafts bend at the knuckles as far as the wheels turn; a joint at its limit breaks its ears.",
        marks=_all((None, 95.0), (None, 95.0), (None, 95.0)),
        inside="The axle shafts can bend farther than the wheels turn.",
        high="At full lock an axle shaft's joint bends as far as it can: set the steering stops closer in.",
        formula="The most a wheel's axis turns away from its shaft at lock, against the joint's limit as typed.",
        source="derived here, from the kingpins and the locks",
        solvable=False,
    ),
    Standard(
        "spline_left_mm",
        "Spline left in",
        reason="With too little engaged the spline wears, and beyond its end the shaft falls out.",
        marks=_all(inches((2.0, None)), inches((2.0, None)), inches((2.0, None))),
        inside="Enough spline stays engaged.",
        low="Less of the spline stays in than wanted: a longer shaft, a longer spline, or less droop.",
        past="Comes out of its spline: a longer shaft, a longer spline, or less droop.",
        formula="Spline length less pull-out at ride height, less what the shaft grows at the worst posture.",
        source="derived here, from the measured shaft ends and the positions over travel and crossed up",
        solvable=False,
    ),
    Standard(
        "spline_room_mm",
        "Room before bottom",
        reason="A yoke that bottoms drives the gearbox ahead and breaks its tail.",
        marks=_all(inches((0.5, None)), inches((0.5, None)), inches((0.5, None))),
        inside="The slip does not bottom.",
        low="Comes near to bottoming: a shorter shaft.",
        past="Bottoms in its spline: a shorter shaft.",
        formula="Pull-out at ride height plus what the shaft grows (less what it shrinks) at the worst posture.",
        source="derived here, from the measured shaft ends and the positions over travel and crossed up",
        solvable=False,
    ),
)
