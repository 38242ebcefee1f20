"""What a steering is judged by: by hand, by brute force, and by SciPy."""

import numpy as np
import pytest
from scipy.optimize import minimize, minimize_scalar

from even_stance.errors import InputError
from even_stance.judgement.catalog.starter import with_starter
from even_stance.judgement.catalog.steerings import KINDS, starting_steering, steering_guess
from even_stance.judgement.search.arcs import ENDS, Room, least_steer, poses_looked_at
from even_stance.judgement.search.movers import movers
from even_stance.judgement.search.suggestions import advise
from even_stance.judgement.verdicts import judge
from even_stance.study.figures import figure_slopes, study_axle
from even_stance.study.state import car_state
from even_stance.study.steerfigures import axle_joints, held_values, lateral_rod, lock_of, mechanism_of
from even_stance.study.steering import SteeredAxle
from even_stance.study.steerloads import assist_loads
from even_stance.vehicle.car import Axle
from even_stance.vehicle.edits import change_steering, move_by, set_axle, set_steering, start_assist
from even_stance.vehicle.job import Job
from even_stance.vehicle.posture import AxlePosture, CarPosture
from even_stance.vehicle.records import Point
from even_stance.vehicle.spots import Spot, own_point
from even_stance.vehicle.steering import SteeringKind


def _with(job: Job, kind: SteeringKind, base: str = "three_link", fit: bool = True) -> Job:
    job = with_starter(set_steering("front", None).apply(job), "front", base)  # type: ignore[arg-type]
    make = starting_steering if fit else steering_guess
    return set_steering("front", make(job.vehicle, job.vehicle.axle("front"), kind)).apply(job)


def _front(job: Job) -> Axle:
    return job.vehicle.axle("front")


def _figures(job: Job) -> dict[str, float]:
    return {f.key: f.value for f in study_axle(job.vehicle, _front(job), 0.0, 0.0, {}).figures}


@pytest.mark.parametrize("kind", KINDS)
def test_locks_are_where_the_inner_wheel_meets_its_stop(kind: SteeringKind, trail_job: Job) -> None:
    """Found again by SciPy: the input at which the inner wheel has turned as far as its stop; beyond it the box ends."""
    job = _with(trail_job, kind)
    axle = _front(job)
    mechanism = mechanism_of(axle)
    assert mechanism is not None
    lock, still = lock_of(axle, mechanism), (np.array(axle.center), np.eye(3))
    for i, way in enumerate((-1.0, 1.0)):

        def inner(steer: float, way: float = way) -> float:
            return float((way * mechanism.at(np.array([way * steer]), *still).headings).max())

        end = mechanism.half_mm_or_turns
        if lock.over_deg[i] > 0.0:
            found = minimize_scalar(lambda s: (inner(s) - 35.0) ** 2, bounds=(0.0, end), method="bounded",
                                    options={"xatol": 1e-9})  # fmt: skip
            assert way * lock.steer[i] == pytest.approx(found.x, rel=1e-4)
            assert lock.inner_deg[i] == pytest.approx(35.0)
        else:
            assert way * lock.steer[i] == pytest.approx(end)
            assert lock.inner_deg[i] == pytest.approx(inner(end), abs=1e-9)
    closer = _figures(change_steering("front", "Stops", stop_deg=20.0).apply(job))
    assert closer["lock_deg"] == pytest.approx(20.0)
    assert closer["stop_margin_deg"] == pytest.approx(_figures(job)["stop_margin_deg"] + 15.0, abs=1e-6)


def test_kingpins_scrub_and_links_by_hand(trail_job: Job) -> None:
    job = _with(trail_job, "crossover")
    axle, found = _front(job), _figures(job)
    steering = axle.steering
    assert steering is not None
    assert steering.box is not None
    assert steering.drag is not None
    low, high = steering.left.lower, steering.left.upper
    assert found["kingpin_caster_deg"] == pytest.approx(np.degrees(np.arctan2(low.x - high.x, high.z - low.z)))
    assert found["kingpin_inclination_deg"] == pytest.approx(np.degrees(np.arctan2(low.y - high.y, high.z - low.z)))
    at_ground = low.y + (low.y - high.y) / (high.z - low.z) * low.z
    assert found["scrub_mm"] == pytest.approx(axle.track_mm / 2 - at_ground)
    bar = lateral_rod(axle)
    assert bar is not None
    (ball, drag), ends = (steering.box.ball, steering.drag), (bar.chassis.at, bar.axle.at)
    slopes = [np.degrees(np.arctan((a.z - b.z) / (a.y - b.y))) for a, b in ((ball, drag), ends)]
    assert found["drag_slope_deg"] == pytest.approx(abs(slopes[0] - slopes[1]), abs=1e-9)
    lengths = [np.hypot(a.y - b.y, a.z - b.z) for a, b in ((ball, drag), ends)]
    assert found["drag_length_pct"] == pytest.approx(100.0 * lengths[0] / lengths[1])


def test_axle_joints_bend_as_the_wheels_turn(rock_job: Job) -> None:
    """By hand, upright kingpins: the joint bends by the turn, a wheel then runs at 1/cos to cos of it; a joint taped
    off its kingpin slides its shaft by what a point does that goes around.

    The single joint's speeds: SAE AE-7, Universal Joint and Driveshaft Design Manual (from memory).
    """
    job = _with(rock_job, "ram", "double_triangulated")
    for side in ("left", "right"):
        low = own_point(_front(job), f"{side}_lower")
        assert low is not None
        upper = Spot("front", "", f"{side}_upper")
        high = own_point(_front(job), upper.end)
        assert high is not None
        job = move_by(upper, low.x - high.x, low.y - high.y, 0.0, both_sides=False).apply(job)
    joints = axle_joints(_front(job))
    assert joints is not None
    assert joints.bend_deg == pytest.approx(35.0, abs=1e-3)
    bend = np.radians(joints.bend_deg)
    assert joints.variation_pct == pytest.approx(100.0 * (1.0 / np.cos(bend) - np.cos(bend)))
    assert joints.off_mm is None
    steering = _front(job).steering
    assert steering is not None
    off = 12.0
    taped = {
        side: getattr(steering, side).model_copy(update={"joint": Point(
            x=getattr(steering, side).lower.x, y=getattr(steering, side).lower.y + s * off, z=440.0)})
        for side, s in (("left", 1.0), ("right", -1.0))
    }  # fmt: skip
    joints = axle_joints(_front(change_steering("front", "Joints", **taped).apply(job)))
    assert joints is not None
    assert joints.off_mm == pytest.approx((off, off))
    assert joints.slide_mm == pytest.approx(off * (1.0 - np.cos(bend)), abs=1e-6)
    even = axle_joints(_front(change_steering("front", "CV", axle_joints="cv").apply(job)))
    assert even is not None
    assert even.variation_pct == 0.0


@pytest.mark.parametrize(("kind", "base"), [("crossover", "three_link"), ("fore_aft", "parallel"), ("ram", "leaf")])
def test_slopes_are_what_moving_the_point_does(kind: SteeringKind, base: str, trail_job: Job) -> None:
    """Each figure's change per mm of a point, against the whole study done over with the point moved forth and back."""
    job = _with(trail_job, kind, base)
    study = study_axle(job.vehicle, _front(job), 0.0, 0.0)
    slopes = figure_slopes(job.vehicle, study)
    mine = [f for f in study.figures if f.key in slopes.of and f.key not in ("lock_uneven_deg", "lock_deg")]
    plain = ("ackermann_lock_pct", "turn_circle_m", "scrub_mm", "kingpin_caster_deg", "stop_margin_deg")
    mine = [f for f in mine if "steer" in f.key or "drag" in f.key or f.key in plain]
    assert len(mine) >= 6
    if kind == "ram":  # both sides' joints swing alike: which of them is the most changes with the step
        mine = [f for f in mine if f.key != "steer_swing_use_pct"]
    ends = ("left_tie", "right_upper") if kind == "ram" else ("drag", "ball", "left_tie")
    for end in ends:
        for axis in range(3):
            step = np.zeros(3)
            step[axis] = 0.5
            spot = Spot("front", "", end)
            forth, back = (
                _figures(move_by(spot, way * step[0], way * step[1], way * step[2], both_sides=False).apply(job))
                for way in (1.0, -1.0)
            )
            column = next(n for n, i in enumerate(slopes.inputs) if i.spot == spot and i.axis == axis)
            for figure in mine:
                expected = (forth[figure.key] - back[figure.key]) / 1.0
                got = float(slopes.of[figure.key][column])
                assert got == pytest.approx(expected, abs=0.02 * max(abs(expected), 0.05)), (figure.key, end, axis)
    assert any(m.spot is not None and not m.spot.member for m in movers(job, slopes, "bump_steer_deg")) or kind == "ram"


def test_steers_over_bumps_is_the_most_of_the_way(trail_job: Job) -> None:
    job = _with(trail_job, "crossover", "leaf")
    study = study_axle(job.vehicle, _front(job), 0.0, 0.0)
    heave, crossed = (study.figure(k) for k in ("bump_steer_deg", "cross_steer_deg"))
    assert heave is not None
    assert crossed is not None
    assert heave.value == pytest.approx(np.abs(study.travel.sweep.values["steer_left_deg"]).max())
    cross = study.travel.cross
    opposed = cross.left * cross.right <= 0.0
    assert crossed.value == pytest.approx(np.abs(cross.values["steer_left_deg"])[opposed].max())
    assert {"bump_steer_deg", "lock_deg"} <= {v.figure.key for v in judge(job, study) if v.station == "steering"}


@pytest.mark.parametrize(("kind", "end"), [("crossover", "ball"), ("fore_aft", "drag"), ("tie_rod", "ball")])
def test_least_steer_is_least(kind: SteeringKind, end: str, trail_job: Job) -> None:
    """SciPy finds no better place in the same room (L-BFGS-B on the same sum of squares, from several starts)."""
    job = _with(trail_job, kind, fit=False)
    axle = _front(job)
    poses, room = poses_looked_at(study_axle(job.vehicle, axle, 0.0, 0.0, {})), Room(25.0, 15.0, 40.0)
    found = least_steer(axle, poses, end, room)
    start = own_point(axle, end)
    assert found is not None
    assert start is not None
    steering = axle.steering
    assert steering is not None

    def total(at: np.ndarray) -> float:
        return float(np.sum(held_values(SteeredAxle(axle, steering, {end: at}), poses)["steer_left_deg"] ** 2))

    center = np.array(start.xyz)
    bounds = [(c - r, c + r) for c, r in zip(center, room.reach, strict=True)]
    best = min(
        minimize(total, center + s * room.reach, bounds=bounds, method="L-BFGS-B").fun for s in (-0.5, 0.0, 0.7)
    )  # fmt: skip
    assert total(np.array(found.at)) <= 1.01 * best + 1e-6
    assert found.after_deg < found.before_deg
    assert np.all(np.abs(np.array(found.at) - center) <= room.reach + 1e-9)
    assert least_steer(axle, poses, end, Room(0.0, 0.0, 0.0)).after_deg == found.before_deg  # type: ignore[union-attr]
    assert set(ENDS) == {"ball", "drag"}


def test_what_is_suggested_is_what_comes(trail_job: Job) -> None:
    job = move_by(Spot("front", "", "ball"), 0.0, 0.0, -80.0).apply(trail_job)
    job = change_steering("front", "Stops", stop_deg=55.0).apply(job)
    study = study_axle(job.vehicle, _front(job), 0.0, 0.0)
    for key, words in (("bump_steer_deg", "arm instead"), ("stop_margin_deg", "Pitman arm")):
        advice = advise(job, study, key)
        assert any(words in s.words for s in advice.suggestions), [s.words for s in advice.suggestions]
        for s in advice.suggestions:
            assert _figures(s.edit.apply(job))[key] == pytest.approx(s.change.after)


def test_a_rear_axle_steers_the_other_way_round(rock_job: Job) -> None:
    """The same steering mirrored to the rear, arms toward the middle of the car: the same locks and Ackermann; with the
    arms on the other side of the axle it turns into its opposite."""
    front, rear = (study_axle(rock_job.vehicle, a, 0.0, 0.0, {}) for a in rock_job.vehicle.axles)
    for key in ("lock_deg", "ackermann_lock_pct", "turn_circle_m", "scrub_mm"):
        a, b = front.figure(key), rear.figure(key)
        assert a is not None
        assert b is not None
        assert a.value == pytest.approx(b.value, rel=0.02)
    assert rear.figure("kingpin_caster_deg") is None
    job = rock_job
    for end in ("left_tie", "ram_left"):
        at = own_point(rock_job.vehicle.axle("rear"), end)
        assert at is not None
        job = move_by(Spot("rear", "", end), 2 * (rock_job.vehicle.axle("rear").center[0] - at.x), 0.0, 0.0).apply(job)
    turned = study_axle(job.vehicle, job.vehicle.axle("rear"), 0.0, 0.0, {}).figure("ackermann_lock_pct")
    before = rear.figure("ackermann_lock_pct")
    assert turned is not None
    assert before is not None
    assert turned.value * before.value < 0.0
    assert min(abs(turned.value), abs(before.value)) > 20.0


def test_an_axle_that_is_not_steered_has_no_such_figures(trail_job: Job) -> None:
    job = set_axle("front", "Straight", steering=None).apply(trail_job)
    assert not {k for k in _figures(job) if "steer" in k and k != "roll_steer_pct"}
    assert axle_joints(_front(job)) is None


def test_an_assist_ram_goes_along_and_ends_the_lock(trail_job: Job) -> None:
    """Its end stays on the tie rod at its share; it helps by what F dL / da says, taken again by differences of the
    whole; one too short ends the turn before the stops."""
    job = start_assist("front").apply(trail_job)
    axle = _front(job)
    mechanism, loads = mechanism_of(axle), assist_loads(axle)
    assert mechanism is not None
    assert loads is not None
    assert mechanism.steering.assist is not None
    half = 0.5 * (mechanism.steering.assist.closed_mm + mechanism.steering.assist.open_mm)
    assert loads.straight_mm == pytest.approx(half, abs=1e-9)
    still = np.array(axle.center), np.eye(3)
    steer = np.array([-0.6, 0.0, 0.5])
    now = mechanism.at(steer, *still)
    ties = mechanism.ends_now(now)["tie rod"]
    end = mechanism.assist_end(now.turns)
    shares = [np.linalg.norm(end - ties[0], axis=1), np.linalg.norm(ties[1] - end, axis=1)]
    assert shares[0] / (shares[0] + shares[1]) == pytest.approx([0.62] * 3)
    assert sum(shares) == pytest.approx(np.linalg.norm(ties[1] - ties[0], axis=1))
    state = car_state(job.vehicle, [CarPosture().put("front", AxlePosture(0.0, 0.0, float(s))) for s in steer])
    assert state.points[Spot("front", "", "assist_end")] == pytest.approx(end, abs=1e-9)
    free = _figures(job)
    short = change_steering("front", "Short", "assist", closed_mm=half - 30.0, open_mm=half + 30.0).apply(job)
    held = _figures(short)
    assert held["lock_deg"] < free["lock_deg"] - 10.0
    assert held["stop_margin_deg"] < 0.0
    steered = mechanism_of(_front(short))
    assert steered is not None
    assert steered.stop_first(True, *still) == "ram"
    for words, changes in (
        ("no longer out than in", {"open_mm": half - 140.0}),
        ("thick as its bore", {"rod_mm": 60.0}),
    ):
        with pytest.raises(InputError, match=words):
            change_steering("front", "Bad", "assist", **changes).apply(job)
    with pytest.raises(InputError, match="no box"):
        start_assist("rear").apply(trail_job)
