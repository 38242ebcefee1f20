"""Every starting linkage opens inside the bands that its layout can meet, on a car of a size its purpose has."""

import pytest

from even_stance.judgement.bands import PURPOSE_WORDS
from even_stance.judgement.catalog.layouts import BASES, BaseKey
from even_stance.judgement.catalog.starter import NewJob, new_job, with_layout, with_starter
from even_stance.judgement.verdicts import judge
from even_stance.study.figures import study_axle
from even_stance.vehicle.job import Job, Purpose
from tests.conftest import IN

# Tire and its width, track, wheelbase, inches: common sizes, no source.
SIZES: dict[Purpose, tuple[float, float, float, float]] = {
    "street_cruiser": (27, 8, 60, 112), "street_performance": (27, 10, 60, 108), "drag": (29, 12, 58, 108),
    "trail": (35, 12.5, 64, 116), "desert": (37, 12.5, 74, 122),
    "rock": (40, 13.5, 70, 110), "tow": (33, 10.5, 66, 130), "rally": (27, 8.5, 58, 102), "race": (26, 10.5, 60, 104),
}  # fmt: skip
# What a layout cannot choose: arms rigid with the axle turn it with their length, and a bar raised against their pivots
# steers it; a ball on top of the axle is as high
# as it is; a pair of leaves has just its eyes; parallel links on short bushings swing as far as a desert axle crosses.
CANNOT: dict[tuple[str, str], set[str]] = {
    ("radius_arms", "*"): {"anti_squat_axle_pct", "anti_dive_pct", "caster_change_deg", "pinion_change_deg", "roll_center_mm",
                           "roll_steer_pct"},
    ("torque_arm", "*"): {"anti_dive_pct", "caster_change_deg", "roll_center_mm"},
    ("pivot_arm", "*"): {"roll_center_mm"},
    ("a_arm_reversed", "street_performance"): {"roll_center_mm"},
    ("leaf", "street_performance"): {"roll_center_mm"},
    ("leaf", "drag"): {"roll_center_mm", "anti_squat_axle_pct"},
    ("leaf", "rock"): {"anti_squat_axle_pct"},
    ("leaf", "race"): {"roll_center_mm"},
    ("torque_arm", "tow"): {"anti_squat_axle_pct", "pinion_change_deg"},
    **{("parallel", purpose): {"swing_use_pct"} for purpose in ("desert", "rock", "rally")},
}  # fmt: skip


@pytest.mark.parametrize("purpose", PURPOSE_WORDS)
@pytest.mark.parametrize("base", BASES)
def test_a_starter_opens_inside_its_bands(base: BaseKey, purpose: Purpose) -> None:
    tire, wide, track, wheelbase = (IN * v for v in SIZES[purpose])
    job = new_job(NewJob("x", purpose, "us", wheelbase, track, tire, wide), base)
    if base in ("three_link", "radius_arms"):
        job = with_starter(job, "front", base)
    excused = CANNOT.get((base, "*"), set()) | CANNOT.get((base, purpose), set())
    for axle in job.vehicle.axles:
        if not axle.members:
            continue
        out = [v for v in judge(job, study_axle(job.vehicle, axle, 0.0, 0.0)) if v.state in ("low", "high")]
        assert {v.figure.key for v in out} <= excused, [
            (axle.key, v.figure.key, v.reading("us"), v.band_words("us")) for v in out
        ]


def test_another_layout_keeps_the_place_that_takes_the_torque(trail_job: Job) -> None:
    """From two uppers to one: it stands at their height and place fore and aft, body by body."""
    was = trail_job.vehicle.axle("rear").member("Upper left")
    now = with_layout(trail_job, "rear", "three_link").vehicle.axle("rear").member("Upper")
    for end in ("chassis", "axle"):
        assert now.mounts[end].at.x == pytest.approx(was.mounts[end].at.x)
        assert now.mounts[end].at.z == pytest.approx(was.mounts[end].at.z)
