"""Numbers of a linkage over its travel.

None of these bands is published by a standard; they are common practice, and every one can be changed in the job.
"""

from even_stance.judgement.standards.standard import Standard, inches

STANDARDS = (
    Standard(
        "pinion_change_deg",
        "Pinion over travel",
        reason=(
            "The pinion joint lives longest when its angle stays put; a short instant center turns it by "
            "travel over its length (3 in on 40 in: 4 degrees). Measure both ends of the driveshaft and "
            "its joint is judged itself."
        ),
        marks={
            "street_cruiser": (None, 4.0),
            "street_performance": (None, 5.0),
            "drag": (None, 6.0),
            "trail": (None, 7.0),
            "desert": (None, 10.0),
        },
        inside="The pinion stays put.",
        high="The pinion turns more than its joint likes.",
        formula="The most the pinion is turned from ride height, nose up or down, from full droop to full bump.",
        source="derived here, from the positions over travel",
        solvable=True,
    ),
    Standard(
        "caster_change_deg",
        "Caster over travel",
        reason="Caster that changes as the wheels move is felt as wander and darting.",
        marks={
            "street_cruiser": (None, 2.0),
            "street_performance": (None, 2.0),
            "drag": (None, 3.0),
            "trail": (None, 5.0),
            "desert": (None, 5.0),
        },
        inside="Caster stays about as it is.",
        high="Caster changes more than steering likes.",
        formula="The most the axle is turned about its tube from ride height: the kingpins lean with it.",
        source="SAE J670, caster; derived here from the positions over travel",
        solvable=True,
    ),
    Standard(
        "side_shift_mm",
        "Sideways over travel",
        reason="Sideways shift brings the tire to the fender and is felt as a step.",
        marks={
            "street_cruiser": inches((None, 0.375)),
            "street_performance": inches((None, 0.25)),
            "drag": inches((None, 0.375)),
            "trail": inches((None, 1.25)),
            "desert": inches((None, 1.0)),
        },
        inside="Stays under the car.",
        high="Moves sideways: look at the tire gaps.",
        formula="The most the axle's center moves sideways between full droop and full bump.",
        source="derived here, from the positions over travel",
        solvable=True,
    ),
    Standard(
        "wheelbase_change_mm",
        "Fore-aft over travel",
        reason="A wheel that goes fore and aft finds the fender lip.",
        marks={
            "street_cruiser": inches((None, 0.5)),
            "street_performance": inches((None, 0.5)),
            "drag": inches((None, 0.75)),
            "trail": inches((None, 1.5)),
            "desert": inches((None, 2.0)),
        },
        inside="Stays in its wheel opening.",
        high="Moves fore and aft: look at the wheel opening.",
        formula="The most the axle's center moves fore or aft between full droop and full bump.",
        source="derived here, from the positions over travel",
        solvable=True,
    ),
    Standard(
        "swing_use_pct",
        "Joint swing, worst",
        reason="A joint swung further than its race allows prys on the bolt.",
        marks={
            "street_cruiser": (None, 90.0),
            "street_performance": (None, 90.0),
            "drag": (None, 90.0),
            "trail": (None, 90.0),
            "desert": (None, 90.0),
        },
        inside="Every joint has swing to spare.",
        high="A joint runs out of swing when crossed up.",
        formula=(
            "The swing of the hardest-worked joint over all of bump, droop and cross-up, with its share "
            "of the link's twist, against what that joint has."
        ),
        source="derived here, geometry of a ball in a race",
        solvable=False,
    ),
)
