"""What each purpose wants of a number beyond the five first ones, and why, in a sentence for each kind of car.

Purposes that are not listed for a number want what the one does that they are most like. The marks are common practice,
no source, unless `BASIS` names one; every one can be changed in the job.
"""

from even_stance.judgement.standards.standard import Marks, inches
from even_stance.vehicle.job import Purpose

LIKE: dict[Purpose, Purpose] = {
    "rock": "trail", "tow": "street_cruiser", "rally": "desert", "race": "street_performance",
}  # fmt: skip

MARKS: dict[str, dict[Purpose, Marks]] = {
    "anti_squat_pct": {"rock": (60.0, 105.0), "tow": (20.0, 70.0), "rally": (30.0, 80.0), "race": (30.0, 90.0)},
    "anti_lift_drive_pct": {"rock": (-20.0, 80.0), "race": (-10.0, 50.0)},
    "anti_lift_brake_pct": {"rock": (0.0, 100.0), "tow": (10.0, 70.0), "rally": (0.0, 60.0), "race": (10.0, 60.0)},
    "anti_dive_pct": {"rock": (-30.0, 70.0), "tow": (10.0, 60.0), "rally": (-10.0, 30.0), "race": (0.0, 30.0)},
    "roll_center_mm": {"rock": (60.0, 100.0), "tow": (45.0, 85.0), "rally": (45.0, 80.0), "race": (30.0, 65.0)},
    "roll_steer_pct": {"rock": (-12.0, 12.0), "tow": (-8.0, 0.0), "rally": (-5.0, 3.0), "race": (-4.0, 2.0)},
    "pinion_change_deg": {"rock": (None, 9.0), "tow": (None, 3.0), "rally": (None, 7.0), "race": (None, 4.0)},
    "caster_change_deg": {"rock": (None, 7.0), "rally": (None, 3.0), "race": (None, 1.5)},
    "side_shift_mm": {"rock": inches((None, 1.75)), "rally": inches((None, 0.5)), "race": inches((None, 0.2))},
    "wheelbase_change_mm": {"rock": inches((None, 2.0)), "rally": inches((None, 1.0)), "race": inches((None, 0.4))},
    "bump_steer_deg": {"rock": (None, 5.0), "tow": (None, 0.7), "rally": (None, 0.8), "race": (None, 0.3)},
    "cross_steer_deg": {"rock": (None, 10.0), "rally": (None, 2.0), "race": (None, 0.8)},
    "lock_deg": {"rock": (36.0, None), "tow": (32.0, None), "rally": (32.0, None), "race": (22.0, None)},
    "turn_circle_m": {"rock": (None, 420.0), "tow": (None, 460.0), "rally": (None, 480.0), "race": (None, 560.0)},
    "steer_ratio": {"rock": (12.0, 26.0), "tow": (16.0, 26.0), "rally": (9.0, 16.0), "race": (9.0, 16.0)},
    "ackermann_lock_pct": {"race": (-50.0, 80.0), "rally": (-30.0, 100.0)},
    "kingpin_caster_deg": {"rock": (2.0, 8.0), "tow": (3.0, 6.0), "rally": (4.0, 9.0), "race": (4.0, 9.0)},
    "ride_frequency_hz": {"rock": (0.8, 1.5), "tow": (1.1, 1.7), "rally": (1.3, 2.0), "race": (1.7, 3.0)},
    "roll_per_g_deg": {"rock": (None, 22.0), "tow": (None, 7.0), "rally": (None, 7.0), "race": (None, 4.0)},
    "transfer_over_weight_pct": {"rock": (-5.0, 10.0), "tow": (3.0, 10.0), "rally": (-2.0, 6.0), "race": (2.0, 7.0)},
    "inside_lift_g": {"rock": (0.5, None), "tow": (0.8, None), "rally": (1.0, None), "race": (1.3, None)},
    "output_angle_deg": {"tow": (0.5, 3.5), "rally": (0.5, 6.0)},
    "pinion_angle_deg": {"tow": (0.5, 3.5), "rally": (0.5, 6.0)},
}

_ROADS: tuple[Purpose, ...] = ("street_cruiser", "street_performance", "race", "tow")
_DIRT: tuple[Purpose, ...] = ("trail", "rock", "desert", "rally")


def _for(road: str, dirt: str, drag: str, **own: str) -> dict[Purpose, str]:
    """One sentence for cars on the road, one for those off it, one for the strip, and those of single purposes."""
    every: dict[Purpose, str] = dict.fromkeys(_ROADS, road) | dict.fromkeys(_DIRT, dirt) | {"drag": drag}
    return every | own  # type: ignore[return-value]


WHY: dict[str, dict[Purpose, str]] = {
    "anti_squat_pct": _for(
        "Out of a corner the tail stays up; more of it hops on rough asphalt and in braking.",
        "On a climb the tail must not squat; past about 100 % it hops on ledges.",
        "The first feet decide: a high figure plants the tires.",
        street_cruiser="It starts gently: a moderate figure rides softer.",
        tow="A load squats it by its weight, not by power: less keeps braking smooth.",
        desert="Whoops under power: much of it stiffens the rear just when it should give.",
        rally="It is driven on loose ground: less lets the wheels follow it under power.",
    ),
    "anti_lift_drive_pct": _for(
        "The nose should neither rise nor hop as it pulls.",
        "On a climb the front must stay down, without hopping on ledges.",
        "A front that lifts a little sends weight to the rear.",
    ),
    "anti_lift_brake_pct": _for(
        "The tail stays down in a hard stop without the axle chattering.",
        "Down a ledge the tail must not rise over the front; much of it hops on washboard.",
        "The stop at the end is long and straight: more is borne.",
        tow="With a load the axle brakes hard: too much chatters.",
    ),
    "anti_dive_pct": _for(
        "On asphalt a little is enough: more is felt as harshness over patches.",
        "Braking into holes the front must still give: little or none.",
        "It dips as it wants: nothing turns.",
        tow="With a load behind it dips more: a little more is wanted.",
    ),
    "roll_center_mm": _for(
        "Low enough that the axle does not step sideways, high enough that bars stay small.",
        "High links clear rocks, and hold a tall body without bars.",
        "It goes straight: what packages well.",
        race="Low: the tires stay square and the body steps least over curbs.",
        desert="High CG and soft springs: higher than on the road.",
    ),
    "roll_steer_pct": _for(
        "A little understeer keeps it straight at speed; more wanders on ruts.",
        "It leans far and slowly: some is borne.",
        "It has to run straight as it rocks.",
        tow="A load must never steer it: understeer side only.",
        desert="At speed over whoops the rear must not steer by itself.",
    ),
    "pinion_change_deg": _for(
        "At road speed a joint that changes its angle hums.",
        "It turns slowly at full travel: more is borne.",
        "A short instant center turns it much, for a few seconds at a time.",
        tow="Long days under load wear a joint that works.",
    ),
    "caster_change_deg": _for(
        "Caster that changes is felt at once at speed.",
        "Slow and far: more is borne before it wanders.",
        "It has to track straight as the front comes up.",
        race="It brakes into corners: caster must stay.",
    ),
    "side_shift_mm": _for(
        "Fenders are near, and a step is felt at speed.",
        "Room is cut for it, and it is slow.",
        "Wide tires stand near the fender.",
    ),
    "wheelbase_change_mm": _for(
        "The wheel opening is tight.",
        "The opening is cut for full travel.",
        "Tall tires fill the opening.",
    ),
    "bump_steer_deg": _for(
        "At speed half a degree is a dart across the lane.",
        "It is driven slowly with long links: some is borne.",
        "It must not dart as the nose comes down.",
        desert="Fast over rough ground: the wheel must stay still in the hands.",
        rally="Fast over rough ground: the wheel must stay still in the hands.",
    ),
    "cross_steer_deg": _for(
        "One wheel in a hole must not turn it.",
        "It crosses up far, and slowly.",
        "It runs level.",
    ),
    "lock_deg": _for(
        "It has to park and turn around.",
        "Between rocks and trees every degree counts.",
        "It turns around in a wide lane.",
        race="Hairpins are the tightest it turns.",
    ),
    "turn_circle_m": _for(
        "About what cars of its wheelbase need to turn around in a street.",
        "A trail is as wide as it is: three goes at a corner cost paint.",
        "There is room to turn around.",
    ),
    "steer_ratio": _for(
        "Quick enough to catch it, slow enough to hold at speed.",
        "Slow helps at rest against rocks.",
        "Slow on center keeps it straight.",
        rally="It is caught many times a minute: quick.",
        desert="It is caught at speed: quick, with assist.",
        tow="A load behind wants a calm wheel.",
    ),
    "ackermann_lock_pct": _for(
        "Parking and tight turns at little speed: near a common center scrubs least.",
        "Tight turns on ground that gives: much is borne.",
        "Nothing turns tightly.",
        race="At speed the outer tire works at the larger slip: less, or none.",
    ),
    "kingpin_caster_deg": _for(
        "Enough to come back by itself, not so much that parking is heavy.",
        "Large tires want less than their drag at the rim says.",
        "More keeps it straight at speed.",
    ),
    "ride_frequency_hz": _for(
        "About 1 to 1.5 a second is easy on people; firmer holds the body in corners.",
        "Soft follows the ground; the travel has to be there for it.",
        "Firm enough to lift and settle once.",
        race="Little travel and much grip: firm.",
    ),
    "roll_per_g_deg": _for(
        "Sports cars lean 1 to 4 degrees per g, sedans 5 to 7.",
        "Soft springs without bars let the axle cross up: it leans, and is driven so.",
        "It goes straight: some lean does no harm.",
    ),
    "transfer_over_weight_pct": _for(
        "About five points more in front than its weight is where cars are built to understeer a little.",
        "It slides before it grips: near even is easy to drive.",
        "It goes straight; launch spreads the rest.",
        tow="With a load behind the front must let go first.",
    ),
    "inside_lift_g": _for(
        "Tires of the road hold about 0.8 to 1 g: both inside wheels should still be down then.",
        "On a side slope what lifts first goes over first.",
        "It goes straight.",
        race="Racing tires hold more: the inside wheel has to stay down longer.",
    ),
}

_AE7 = "SAE AE-7: {} rad/s² at the top speed typed (from memory); else common practice, no source"
BASIS: dict[str, str] = {
    "ride_frequency_hz": "Gillespie, ch. 5: 1 to 1.5 Hz for comfort (from memory); else common practice, no source",
    "roll_per_g_deg": "Milliken, ch. 16: 1 to 4 degrees per g for sports cars, 5 to 7 for sedans (from memory); off "
    "the road common practice, no source",
    "transfer_over_weight_pct": "Milliken, ch. 18: about 5 % over the front weight (from memory); off the road common "
    "practice, no source",
    "shaft_residual_deg": _AE7.format("400"),
    "output_angle_deg": _AE7.format("1,000"),
    "pinion_angle_deg": _AE7.format("1,000"),
    "ackermann_lock_pct": "Gillespie, ch. 8: full Ackermann is for low speed (from memory); marks common practice",
}
