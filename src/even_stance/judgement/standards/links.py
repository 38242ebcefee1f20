"""Numbers of a linkage at one posture and as it is laid out.

None of these bands is published by a standard; they are common practice, and every one can be changed in the job.
"""

from dataclasses import replace

from even_stance.judgement.standards.standard import Standard

_SQUAT = Standard(
    "anti_squat_pct",
    "Anti-squat at its share",
    reason="Enough to keep the tail up under power, not so much that the tires hop.",
    marks={
        "street_cruiser": (30.0, 80.0),
        "street_performance": (50.0, 110.0),
        "drag": (90.0, 150.0),
        "trail": (60.0, 100.0),
        "desert": (30.0, 80.0),
    },
    inside="Holds the tail up about as wanted.",
    low="Low: the tail squats under power.",
    high="High: may hop when the tires bite.",
    formula=(
        "How far the contact patch backs away as the wheel rises, times drive share times wheelbase "
        "over CG height. 100 % when the instant center lies on the line through the contact patch "
        "that rises by h over L."
    ),
    source="Gillespie, Fundamentals of Vehicle Dynamics, ch. 7",
    solvable=True,
)
_LIFT = Standard(
    "anti_lift_drive_pct",
    "Anti-lift, driving, at its share",
    reason="Some anti-lift holds that end down; much of it makes the wheel hop.",
    marks={
        "street_cruiser": (-20.0, 60.0),
        "street_performance": (-20.0, 60.0),
        "drag": (-20.0, 60.0),
        "trail": (-20.0, 80.0),
        "desert": (-20.0, 50.0),
    },
    inside="The front stays about as wanted under power.",
    low="Low: the front rises under power.",
    high="High: the front may hop on a climb.",
    formula="The same as anti-dive with the drive share of this axle.",
    source="Gillespie, Fundamentals of Vehicle Dynamics, ch. 7",
    solvable=True,
)
STANDARDS = (
    replace(
        _SQUAT,
        key="anti_squat_axle_pct",
        title="Anti-squat",
        formula=(
            "How far the contact patch backs away as the wheel rises, times wheelbase over CG height: of "
            "the axle alone, as if it drove by itself. 100 % when the instant center lies on the line "
            "through the contact patch that rises by h over L."
        ),
    ),
    _SQUAT,
    Standard(
        "anti_lift_brake_pct",
        "Anti-lift, braking",
        reason="Some anti-lift holds that end down; much of it makes the wheel hop.",
        marks={
            "street_cruiser": (0.0, 80.0),
            "street_performance": (10.0, 80.0),
            "drag": (0.0, 120.0),
            "trail": (0.0, 90.0),
            "desert": (0.0, 70.0),
        },
        inside="Holds the tail down in braking as wanted.",
        low="Low: the tail rises in braking.",
        high="High: the axle may hop in hard braking.",
        formula="The same as anti-squat with the brake share: how much of the lift in braking the links take.",
        source="Gillespie, Fundamentals of Vehicle Dynamics, ch. 7",
        solvable=True,
    ),
    Standard(
        "anti_dive_pct",
        "Anti-dive",
        reason="Some anti-dive holds the nose up; much of it makes the front harsh over bumps.",
        marks={
            "street_cruiser": (0.0, 50.0),
            "street_performance": (0.0, 40.0),
            "drag": (0.0, 50.0),
            "trail": (-20.0, 60.0),
            "desert": (-10.0, 40.0),
        },
        inside="The nose dips about as wanted.",
        low="Low: the nose dives.",
        high="High: harsh over bumps in braking.",
        formula=(
            "How far the front contact patch goes ahead as the wheel rises, times brake share times "
            "wheelbase over CG height."
        ),
        source="Gillespie, Fundamentals of Vehicle Dynamics, ch. 7",
        solvable=True,
    ),
    replace(
        _LIFT,
        key="anti_lift_drive_axle_pct",
        title="Anti-lift, driving",
        formula="The same as anti-dive of the axle alone, as if it drove by itself.",
    ),
    _LIFT,
    Standard(
        "roll_center_mm",
        "Roll center",
        reason="High holds the body flat; low keeps the axle from stepping sideways.",
        marks={
            "street_cruiser": (40.0, 80.0),
            "street_performance": (38.0, 70.0),
            "drag": (40.0, 80.0),
            "trail": (60.0, 95.0),
            "desert": (50.0, 90.0),
        },
        share_of="cg_height",
        inside="At a usual height.",
        low="Low: the body leans more on its springs.",
        high="High: flat in corners, but steps sideways over bumps.",
        formula=(
            "On the upright line through the axle's center, the height that does not move sideways as one"
            " wheel rises and the other falls."
        ),
        source="SAE J670; the construction of link lines is exact for symmetric layouts only",
        solvable=True,
    ),
    Standard(
        "roll_steer_pct",
        "Roll steer",
        reason="The axle should not steer by itself when the body leans.",
        marks={
            "street_cruiser": (-8.0, 2.0),
            "street_performance": (-6.0, 2.0),
            "drag": (-4.0, 4.0),
            "trail": (-10.0, 10.0),
            "desert": (-6.0, 3.0),
        },
        formula="How much the axle tube turns in plan for each degree it leans.",
        source="SAE J670, roll steer",
        solvable=True,
    ),
    Standard(
        "triangulation_deg",
        "Triangulation",
        reason="Links spread less than this let the axle move sideways in its bushings.",
        marks={
            "street_cruiser": (40.0, None),
            "street_performance": (40.0, None),
            "drag": (40.0, None),
            "trail": (40.0, None),
            "desert": (40.0, None),
        },
        inside="Enough to hold the axle sideways.",
        low="Too little to hold the axle sideways.",
        formula=(
            "The angle one pair of links would include in plan to hold the axle sideways as well as both "
            "pairs do: each pair holds with the square of the sine of half its angle."
        ),
        source="derived here; about 40 degrees wanted by common practice, no source",
        solvable=True,
    ),
)
