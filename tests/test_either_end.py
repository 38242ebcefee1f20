"""What is said of a front axle and of a rear one: signs, words and bands mirror where the car does."""

import numpy as np
import pytest

from even_stance.exchange.jobfile import dump_job, parse_job
from even_stance.judgement.bands import band_edges, wanted
from even_stance.judgement.catalog.starter import NewJob, new_job, with_starter
from even_stance.judgement.search.score import key_score
from even_stance.judgement.verdicts import format_judged, format_value, judge, roll_steer_words
from even_stance.study.answers import answers_at, lock_up_sentence
from even_stance.study.figures import study_axle
from even_stance.study.loads import study_loads
from even_stance.units import format_decimal
from even_stance.vehicle.edits import choose_hole, set_axle, set_holes, set_job, set_vehicle, with_changes
from even_stance.vehicle.job import Band, Job
from even_stance.vehicle.loading import LoadAssumptions
from even_stance.vehicle.spots import Spot
from tests.cars import symmetric_four_link, vehicle_of
from tests.conftest import IN, starter


def _four_wheel(purpose: str = "trail", share: float = 0.5) -> Job:
    job = starter(purpose)
    job = set_axle("rear", "d", drive_share=1 - share).apply(job)
    job = set_axle("front", "d", driven=True, drive_share=share).apply(job)
    return with_starter(job, "front", "three_link")


@pytest.mark.parametrize("front", [True, False])
def test_which_way_an_axle_points_in_a_turn(front: bool) -> None:
    """In a left turn the body leans right: the right wheel goes up into it. A tube that turns left with it points into
    the turn at the front (the car turns more) and out of it, tail inward, at the rear (the car turns less)."""
    members = symmetric_four_link(x=0.0 if front else -2800.0)
    if front:  # frame ends behind the axle
        members = tuple(
            with_changes(m, chassis=with_changes(m.chassis, at=with_changes(m.chassis.at, x=-m.chassis.at.x)))
            for m in members
        )
    vehicle, axle = vehicle_of(members, front=front)
    found = answers_at(vehicle, axle, -30.0, 30.0)
    steer = found.value("roll_steer_pct")
    turned_left = found.value("yaw_deg") > 0
    said = roll_steer_words(steer, front)
    assert abs(steer) > 2.0
    if front:
        assert ("into the turn" in said) == turned_left
        assert ("understeer" in said) == ("out of" in said)
    else:
        # A rear tube turned left in a left turn carries its own wheels the way the car turns: into the turn.
        assert ("into the turn" in said) == turned_left
        assert ("oversteer" in said) == ("out of" in said)
    assert "Hardly" in roll_steer_words(1.0, front)
    assert "Hardly" not in roll_steer_words(-9.3, front)


def test_roll_steer_band_of_the_front_is_the_mirror_of_the_rear() -> None:
    job = starter("street_cruiser")
    rear, front = (wanted(job, "roll_steer_pct", key).band for key in ("rear", "front"))
    assert (front.low, front.high) == (-rear.high, -rear.low)  # type: ignore[operator]
    assert (rear.low, rear.high) == (-8.0, 2.0)


@pytest.mark.parametrize("key", ["rear", "front"])
def test_pinion_up_is_where_its_flange_goes(key: str) -> None:
    """The flange of a rear pinion looks ahead, that of a front one rearward: up is where the flange itself goes."""
    job = _four_wheel()
    axle = job.vehicle.axle(key)
    study = study_axle(job.vehicle, axle, 0.0, 0.0)
    figure = study.figure("pinion_change_deg")
    assert figure is not None
    found = answers_at(job.vehicle, axle, figure.left_mm, figure.right_mm)
    toward = -1.0 if key == "front" else 1.0
    flange = found.pose.rotation[0] @ np.array([toward * 300.0, 0.0, 0.0])
    assert ("nose up" in figure.note) == (flange[2] > 0)
    assert abs(flange[2]) > 2.0


def test_an_axle_that_is_not_driven_has_no_pinion_and_a_steered_one_has_caster() -> None:
    job = with_starter(starter("street_cruiser"), "front", "radius_arms")
    study = study_axle(job.vehicle, job.vehicle.axle("front"), 0.0, 0.0)
    assert study.figure("pinion_change_deg") is None
    caster = study.figure("caster_change_deg")
    assert caster is not None
    found = answers_at(job.vehicle, job.vehicle.axle("front"), caster.left_mm, caster.right_mm)
    top = found.pose.rotation[0] @ np.array([0.0, 0.0, 300.0])
    # Kingpins whose tops go rearward have more caster (SAE J670).
    assert ("more caster" in caster.note) == (top[0] < 0)


def test_the_axle_alone_is_judged_and_its_share_is_said() -> None:
    job = _four_wheel(share=0.5)
    axle = job.vehicle.axle("rear")
    values = answers_at(job.vehicle, axle, 0.0, 0.0).values
    assert values["anti_squat_pct"] == pytest.approx(0.5 * values["anti_squat_axle_pct"])
    verdicts = {v.figure.key: v for v in judge(job, study_axle(job.vehicle, axle, 0.0, 0.0))}
    two_wheel = {
        v.figure.key: v for v in judge(starter(), study_axle(starter().vehicle, starter().vehicle.axle("rear"), 0, 0))
    }
    assert verdicts["anti_squat_axle_pct"].wanted.band == two_wheel["anti_squat_axle_pct"].wanted.band
    assert "50 % of the drive" in verdicts["anti_squat_axle_pct"].sentence
    assert "what the springs feel" in verdicts["anti_squat_axle_pct"].sentence
    assert "anti_squat_pct" not in verdicts
    shared = set_vehicle("b", anti_bands="share").apply(job)
    verdicts = {v.figure.key: v for v in judge(shared, study_axle(shared.vehicle, shared.vehicle.axle("rear"), 0, 0))}
    assert "anti_squat_axle_pct" not in verdicts
    assert verdicts["anti_squat_pct"].figure.value == pytest.approx(float(values["anti_squat_pct"][0]))


def test_holes_of_a_file_are_put_in_order_of_height() -> None:
    job = set_holes(Spot("rear", "Lower left", "chassis"), 3, IN, both_sides=False).apply(starter())
    mount = job.vehicle.axle("rear").member("Lower left").mounts["chassis"]
    top_first = with_changes(mount, holes=mount.holes[::-1], hole=2 - (mount.hole or 0))
    members = tuple(
        with_changes(m, chassis=top_first) if m.name == "Lower left" else m for m in job.vehicle.axle("rear").members
    )
    read = parse_job(dump_job(set_axle("rear", "h", members=members).apply(job)))
    assert read == job
    up = choose_hole(Spot("rear", "Lower left", "chassis"), 2, both_sides=False).apply(read)
    assert up.vehicle.axle("rear").member("Lower left").mounts["chassis"].at.z == pytest.approx(mount.at.z + IN)


def test_a_value_past_its_mark_never_reads_like_it() -> None:
    band = Band(low=-10.0, high=10.0)
    assert format_judged("roll_steer_pct", -10.3, band, "us") == "-10.3 %"
    assert format_judged("roll_steer_pct", -9.7, band, "us") == "-9.7 %"
    assert format_judged("caster_change_deg", 2.02, Band(high=2.0), "us") == "2.02°"
    assert format_judged("roll_center_mm", 18 * IN - 0.3, Band(low=18 * IN), "us") == "17.99 in"
    assert format_decimal(-0.004, 2) == "0.00"
    with pytest.raises(ValueError, match="no unit that is known"):
        format_value("lift_force_n", 3.0, "us")


def test_one_ended_bands_have_one_width() -> None:
    assert band_edges(Band(high=90.0)) == (67.5, 90.0)
    assert band_edges(Band(low=40.0)) == (40.0, 50.0)
    # A miss of one band width scores one, wherever it is asked.
    assert float(key_score(np.array(112.5), Band(high=90.0))) == pytest.approx(1.0)


def test_lock_up_is_said_in_the_person_s_units() -> None:
    axle = starter().vehicle.axle("rear")
    assert "bump stops at +4 in, +5 in was asked" in lock_up_sentence(axle, 127.0, 127.0, 0.8, "us")
    assert "droop stops at -80.0 mm" in lock_up_sentence(axle, -100.0, -100.0, 0.8, "metric")


def test_low_range_just_where_there_is_one(trail_job: Job) -> None:
    answers = answers_at(trail_job.vehicle, trail_job.vehicle.axle("rear"), 0.0, 0.0)
    assert "low range" in study_loads(trail_job.vehicle, answers, LoadAssumptions(), "launch").words
    one = LoadAssumptions(transfer_low=1.0)
    assert "low range" not in study_loads(trail_job.vehicle, answers, one, "launch").words
    asked = NewJob("x", "drag", "us", 108 * IN, 58 * IN, 29 * IN, 12 * IN)
    assert new_job(asked).loads.transfer_low == 1.0


def test_a_new_job_knows_which_axles_are_driven() -> None:
    for driven, shares in (("rear", (0.0, 1.0)), ("both", (0.5, 0.5)), ("front", (1.0, 0.0))):
        job = new_job(NewJob("x", "trail", "us", 108 * IN, 60 * IN, 33 * IN, 12 * IN, driven))  # type: ignore[arg-type]
        assert tuple(a.drive_share for a in job.vehicle.axles) == shares
        assert tuple(a.driven for a in job.vehicle.axles) == tuple(s > 0 for s in shares)


def test_no_tip_hides_that_it_stays_outside() -> None:
    now = study_axle(starter().vehicle, starter().vehicle.axle("rear"), 0.0, 0.0).now.value("anti_squat_axle_pct")
    job = set_job("b", bands={"anti_squat_pct": Band(low=now + 30.0, high=now + 60.0)}).apply(starter())
    for verdict in judge(job, study_axle(job.vehicle, job.vehicle.axle("rear"), 0.0, 0.0)):
        if verdict.figure.key == "anti_squat_axle_pct":
            assert verdict.try_this.endswith("(still low)")
