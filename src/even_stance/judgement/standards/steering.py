"""Numbers of a steering: whether it drives straight over bumps, turns as far as its joints allow, and where it stops.

The bands are common practice, no source, unless one is named; every one can be changed in the job.
"""

from even_stance.judgement.standards.standard import Marks, Standard, inches
from even_stance.vehicle.job import Purpose

_HELD = "derived here, from the measured points and the positions over travel, the hand wheel held straight"
_LOCK = "derived here, from the measured points, at ride height"
_J670 = "SAE J670, Vehicle Dynamics Terminology (definition, from memory)"


def _each(cruiser: Marks, performance: Marks, drag: Marks, trail: Marks, desert: Marks) -> dict[Purpose, Marks]:
    return {
        "street_cruiser": cruiser, "street_performance": performance, "drag": drag, "trail": trail, "desert": desert
    }  # fmt: skip


def _same(marks: Marks) -> dict[Purpose, Marks]:
    return _each(*[marks] * 5)


STANDARDS = (
    Standard(
        "bump_steer_deg",
        "Steers over bumps",
        reason=(
            "On a solid axle both wheels steer together when drag link and axle swing in different arcs: the car darts "
            "over bumps and dives to one side in braking. Toe itself stays."
        ),
        marks=_each((None, 0.7), (None, 0.5), (None, 0.5), (None, 4.0), (None, 1.5)),
        inside="Both wheels hardly steer by themselves over bumps.",
        high="Both wheels steer together over bumps: the drag link swings in another arc than the axle.",
        formula="The most the left wheel turns against the chassis from full droop to full bump, hand wheel held.",
        source=_HELD,
    ),
    Standard(
        "cross_steer_deg",
        "Steers crossed up",
        reason="With one wheel up the axle leans and shifts; the drag link has to follow both.",
        marks=_each((None, 1.5), (None, 1.2), (None, 1.2), (None, 8.0), (None, 4.0)),
        inside="Both wheels hardly steer by themselves crossed up.",
        high="Both wheels steer together when crossed up: hold the hand wheel, or bring the arcs together.",
        formula="The most the left wheel turns against the chassis over left against right travel, hand wheel held.",
        source=_HELD,
        solvable=False,
    ),
    Standard(
        "camber_change_deg",
        "Camber over travel",
        reason="A swing beam leans its wheel as it swings, the shorter it is the more; the tread wears at one edge.",
        marks=_each((None, 4.0), (None, 3.0), (None, 4.0), (None, 9.0), (None, 9.0)),
        inside="The wheels lean no more than swing beams do.",
        high="The wheels lean far over travel: longer beams, or pivots nearer to the ground.",
        formula="The most camber differs from that at ride height, from full droop to full bump.",
        source=_HELD,
        solvable=False,
    ),
    Standard(
        "toe_change_deg",
        "Toe over travel",
        reason="Toe that changes over bumps scrubs the tires and darts; the tie rods should swing as the beams do.",
        marks=_each((None, 0.6), (None, 0.4), (None, 0.5), (None, 2.5), (None, 1.5)),
        inside="Toe hardly changes over bumps.",
        high="Toe changes over bumps: the tie rods’ inner ends are not where the beams turn about.",
        formula="The most toe differs from that at ride height, from full droop to full bump, hand wheel held.",
        source=_HELD,
        solvable=False,
    ),
    Standard(
        "track_change_mm",
        "Track over travel",
        reason="As the beams swing the tires go out and in: they scrub, and the car rises on them when it is turned.",
        marks=_each(*(inches((None, v)) for v in (2.0, 1.5, 2.0, 4.0, 5.0))),
        inside="The track hardly changes.",
        high="The track changes much over travel: longer beams, or pivots nearer to the ground.",
        formula="The most the distance between the tires’ patches differs from that at ride height.",
        source=_HELD,
        solvable=False,
    ),
    Standard(
        "drag_slope_deg",
        "Drag link off panhard",
        reason="Drag link and panhard parallel as seen from the front: then both ends of the axle's arc agree.",
        marks=_each((None, 2.0), (None, 2.0), (None, 2.0), (None, 4.0), (None, 3.0)),
        inside="The drag link lies parallel to the panhard.",
        high="The drag link and the panhard are not parallel: over bumps one pulls against the other.",
        formula="The angle between the two, joint center to joint center, in front view at ride height.",
        source="derived here, from the measured points",
        solvable=False,
    ),
    Standard(
        "drag_length_pct",
        "Drag link of panhard",
        reason="Near the panhard's length the two arcs also curve alike, far into bump and droop.",
        marks=_each((80.0, 125.0), (80.0, 125.0), (80.0, 125.0), (70.0, 140.0), (80.0, 125.0)),
        inside="The drag link is about as long as the panhard.",
        low="The drag link is much shorter than the panhard: its arc curves more.",
        high="The drag link is much longer than the panhard: its arc curves less.",
        formula="The drag link's length over the panhard's, both joint center to joint center in front view.",
        source="derived here, from the measured points",
        solvable=False,
    ),
    Standard(
        "lock_deg",
        "Inner wheel at lock",
        reason="How far the inner wheel turns decides where it can be driven; less means three goes at a corner.",
        marks=_each((30.0, None), (28.0, None), (22.0, None), (32.0, None), (28.0, None)),
        inside="Turns far enough.",
        low="Turns too little: a longer pitman arm, shorter knuckle arms, more stroke, or stops set farther out.",
        formula="The inner wheel where box, ram, a link or its stop ends the turn, on the side that turns less.",
        source=_LOCK,
        solvable=False,
    ),
    Standard(
        "lock_uneven_deg",
        "Locks differ by",
        reason="A car that turns less to one side has its box or ram off center, or its stops unequal.",
        marks=_each((None, 2.0), (None, 2.0), (None, 3.0), (None, 3.0), (None, 3.0)),
        inside="Turns alike to both sides.",
        high="Turns less to one side: center the box or ram with the wheels straight, then set the stops.",
        formula="The difference of the inner wheel's angle at the two locks.",
        source=_LOCK,
        solvable=False,
    ),
    Standard(
        "stop_margin_deg",
        "Left beyond the stops",
        reason="The stops on the knuckles must end the turn. A box or ram that ends it takes the whole push itself.",
        marks=_same((0.5, None)),
        inside="The stops end the turn, before the box or ram does.",
        low="The stops end the turn just before box, ram or a link would: set them in a little.",
        past="Box, ram or a link ends the turn before the stops: it breaks, or does not use what the stops allow.",
        formula="How much farther the inner wheel would go than its stop, on the side that has less.",
        source=_LOCK,
        solvable=False,
    ),
    Standard(
        "ackermann_lock_pct",
        "Ackermann at lock",
        reason="The inner wheel runs on a smaller circle. Without that the tires scrub in tight turns.",
        marks=_each((30.0, 130.0), (0.0, 110.0), (-50.0, 130.0), (0.0, 150.0), (0.0, 130.0)),
        inside="The inner wheel turns more, near to what a tight turn asks for.",
        low="The inner wheel turns too little more, or less, than the outer one: the tires scrub in tight turns.",
        high="The inner wheel turns much more than a common center asks for.",
        formula="100 (cot outer - cot inner) L / w at full lock, w between the kingpins at the ground; mean of both.",
        source="Gillespie, Fundamentals of Vehicle Dynamics, ch. 8 (from memory)",
        solvable=False,
    ),
    Standard(
        "turn_circle_m",
        "Turning circle",
        reason="What it takes to turn around without backing up, to the outer front tire.",
        marks=_each((None, 450.0), (None, 470.0), (None, 650.0), (None, 450.0), (None, 520.0)),
        share_of="wheelbase",
        inside="Turns around in little room.",
        high="Takes much room to turn around.",
        formula="Twice the distance from the center of the turn to the outer front tire's patch, the wider lock.",
        source="Gillespie, Fundamentals of Vehicle Dynamics, ch. 6 (from memory); the center as said in Steering",
        solvable=False,
    ),
    Standard(
        "steer_ratio",
        "Steering ratio",
        reason="Low is quick and heavy, high is slow and light. Long knuckle arms and a short pitman arm make it slow.",
        marks=_each((14.0, 24.0), (12.0, 20.0), (12.0, 24.0), (12.0, 24.0), (10.0, 20.0)),
        inside="Neither twitchy nor slow.",
        low="Quick on center: heavy at the rim, and it darts.",
        high="Slow on center: much winding.",
        formula="Turn of the hand wheel over the mean turn of both wheels, straight ahead.",
        source=_LOCK,
        solvable=False,
    ),
    Standard(
        "steer_swing_use_pct",
        "Steering joint swing",
        reason="A steering joint at the end of its swing bends or breaks its stud, and the steering is gone.",
        marks=_same((None, 85.0)),
        inside="No steering joint comes near its limit.",
        high="A steering joint swings too far: another joint, or its stud at another angle.",
        formula="The most any steering joint swings over travel, crossed up and lock, against its limit as typed.",
        source="derived here; studs taken square to their links at ride height",
        solvable=False,
    ),
    Standard(
        "kingpin_caster_deg",
        "Caster",
        reason="Brings the wheels back to straight; too little wanders, too much is heavy and flops at a stop.",
        marks=_each((3.0, 7.0), (3.0, 8.0), (4.0, 10.0), (3.0, 9.0), (4.0, 10.0)),
        inside="Comes back to straight by itself.",
        low="Too little caster: it wanders and does not come back.",
        high="Much caster: heavy at the rim, and the wheels flop.",
        formula="The kingpin's lean rearward at its top, seen from the side, mean of both knuckles.",
        source=_J670,
        solvable=False,
    ),
    Standard(
        "kingpin_inclination_deg",
        "Kingpin inclination",
        reason="Leans the kingpin in toward the middle of the tire; what it is comes with the knuckle.",
        marks=_same((4.0, 15.0)),
        inside="Leans in as kingpins of solid axles do.",
        low="Hardly leans in: tape both ends of the kingpin again.",
        high="Leans in far: tape both ends of the kingpin again.",
        formula="The kingpin's lean inward at its top, seen from the front, mean of both knuckles.",
        source=_J670,
        solvable=False,
    ),
    Standard(
        "scrub_mm",
        "Scrub radius",
        reason="Wide wheels of little backspacing put the tire far outside its kingpin: every rock turns the wheel.",
        marks=_each(*(inches(m) for m in ((-1.0, 3.0), (-1.0, 3.0), (-1.0, 3.0), (-1.0, 4.5), (-1.0, 3.5)))),
        inside="The tire's middle is near its kingpin at the ground.",
        low="The tire's middle is far inside its kingpin at the ground.",
        high="The tire's middle is far outside its kingpin: it kicks at the rim and loads the steering.",
        formula="From where the kingpin meets the ground out to the middle of the tire, mean of both sides.",
        source=_J670,
        solvable=False,
    ),
)
