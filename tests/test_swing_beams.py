"""Swing beams in a job: files, the command line, what is judged, how sure, drawn, and what is refused."""

import json
from pathlib import Path

import numpy as np
import pytest
from scipy.optimize import brentq, minimize
from scipy.spatial.transform import Rotation

from even_stance.cli import run
from even_stance.errors import CannotReachError, InputError
from even_stance.exchange.demo import demo_jobs
from even_stance.exchange.jobfile import dump_job, load_job, save_job
from even_stance.judgement.search.arcs import Room, least_toe
from even_stance.judgement.springs import spring_findings
from even_stance.judgement.steering import beam_rows
from even_stance.judgement.verdicts import judge_beams
from even_stance.mechanics.vectors import Array
from even_stance.study.beamfigures import beam_figures, travel_states
from even_stance.study.beams import BeamAxle, beams_of
from even_stance.study.beamsprings import beam_roll_center, beam_springs
from even_stance.study.floor import axle_patches
from even_stance.study.model import wheel_centers
from even_stance.study.places import AxlePlace
from even_stance.study.ride import axle_ride
from even_stance.study.springstops import stops_of
from even_stance.study.standing import stand
from even_stance.study.state import car_state, knuckle_body
from even_stance.vehicle.car import Axle
from even_stance.vehicle.edits import change_steering, move_by, set_axle, set_sure, with_changes
from even_stance.vehicle.job import Job
from even_stance.vehicle.posture import AxlePosture, CarPosture
from even_stance.vehicle.spots import STEER_POINTS, Spot, own_point, spots_on, twin_of
from tests.validation.test_swing_beams import beam_truck


def _job(job: Job) -> Job:
    axle = beam_truck()
    return set_axle("front", "Beams", members=(), springs=(), steering=axle.steering).apply(job)


def _front(job: Job) -> Axle:
    return job.vehicle.axle("front")


def test_from_the_file_to_the_command_line(trail_job: Job, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    job, path = _job(trail_job), tmp_path / "beams.stance"
    save_job(job, path)
    assert load_job(path)[0] == job
    assert run(["answers", str(path), "--axle", "front", "--left", "40", "--right", "-25", "--steer", "0.5"]) == 0
    said = json.loads(capsys.readouterr().out)
    beams = beams_of(_front(job))
    assert beams is not None
    state = beams.over(np.array([0.5]), np.array([40.0]), np.array([-25.0]))
    assert (said["steer"]["left_deg"], said["steer"]["right_deg"]) == pytest.approx(tuple(state.headings[0]))
    assert said["steer"]["toe_deg"] == pytest.approx(said["steer"]["right_deg"] - said["steer"]["left_deg"])
    assert said["beams"]["camber_left_deg"] == pytest.approx(state.camber_deg[0, 0])
    straight = beams.over(np.zeros(1), np.array([40.0]), np.array([-25.0]))
    # Travel is that of the wheel as its beam carries it straight ahead; the little it steers moves it by hundredths.
    assert straight.centers[0, :, 2] - np.array(_front(job).center[2]) == pytest.approx([40.0, -25.0], abs=0.05)
    rows = dict(beam_rows(job, _front(job), AxlePosture(40.0, -25.0, 0.5)))
    assert rows["Left wheel, + left"] == f"{said['steer']['left_deg']:+.1f}°"
    with pytest.raises(CannotReachError, match="a beam or its tie rod"):
        run(["answers", str(path), "--axle", "front", "--left", "1500", "--right", "0"])


def test_what_is_judged_and_how_sure_that_is(trail_job: Job) -> None:
    """Each figure again over a fine grid; the +/- again by moving one point after another and adding squares."""
    job = _job(trail_job)
    for end in STEER_POINTS:
        if own_point(_front(job), end) is not None:
            job = set_sure(Spot("front", "", end), 2.0, both_sides=False).apply(job)
    found = {f.key: f for f in beam_figures(job.vehicle, _front(job))}
    assert {v.figure.key for v in judge_beams(job, _front(job))} == set(found)
    beams = beams_of(_front(job))
    assert beams is not None
    travel = np.linspace(-_front(job).droop_mm, _front(job).bump_mm, 401)
    run_ = beams.over(np.zeros(1), travel, travel)
    ride = beams.over(np.zeros(1), np.zeros(1), np.zeros(1))
    for key, most in (
        ("camber_change_deg", np.abs(run_.camber_deg[:, 0] - ride.camber_deg[0, 0]).max()),
        ("toe_change_deg", np.abs(run_.toe_deg - ride.toe_deg[0]).max()),
        ("track_change_mm", np.abs(run_.track_mm - ride.track_mm[0]).max()),
    ):
        assert found[key].value == pytest.approx(most, rel=2e-3), key
    squares = 0.0
    for spot in [s for s in spots_on(_front(job)) if s.end in STEER_POINTS]:
        for step in np.eye(3):
            dx, dy, dz = (0.5 * float(v) for v in step)
            both = []
            for way in (1.0, -1.0):
                moved = move_by(spot, way * dx, way * dy, way * dz, both_sides=False).apply(job)
                both.append({f.key: f.value for f in beam_figures(moved.vehicle, _front(moved))}["track_change_mm"])
            squares += (2.0 * (both[0] - both[1])) ** 2
    assert found["track_change_mm"].uncertainty == pytest.approx(np.sqrt(squares), rel=1e-3)


def test_bodies_stand_as_the_answers_say(trail_job: Job) -> None:
    job = _job(trail_job)
    axle, beams = _front(job), beams_of(_front(job))
    assert beams is not None
    state = car_state(job.vehicle, [CarPosture().put("front", AxlePosture(60.0, -40.0, -0.4))])
    now = beams.over(np.array([-0.4]), np.array([60.0]), np.array([-40.0]))
    for i, side in enumerate(("left", "right")):
        spin = state.poses[knuckle_body("front", side)].linear[0][:, 1]
        assert np.degrees(np.arctan2(-spin[0], spin[1])) == pytest.approx(now.headings[0, i], abs=1e-9)
        inner, tie = (state.points[Spot("front", "", f"{side}_{end}")][0] for end in ("inner", "tie"))
        link = beams.links[i]
        assert np.linalg.norm(tie - inner) == pytest.approx(link.length_mm, abs=1e-9)
        assert twin_of(job, Spot("front", "", "left_pivot")) == Spot("front", "", "right_pivot")
    place = AxlePlace(axle, None, 0.0, (60.0, -40.0))
    assert [w[2] for w in place.wheels] == pytest.approx([axle.center[2] + 60.0, axle.center[2] - 40.0], abs=0.05)
    assert axle_patches(place)[0, 2] > axle_patches(place)[1, 2]


def test_beams_that_cannot_be_are_refused(trail_job: Job) -> None:
    job = _job(trail_job)
    steering = _front(job).steering
    assert steering is not None
    assert steering.left_beam is not None
    beam = steering.left_beam
    with pytest.raises(InputError, match="same place"):
        with_changes(beam, arm=beam.pivot)
    with pytest.raises(InputError, match="beam or the steering box is missing"):
        with_changes(steering, left_beam=None)
    with pytest.raises(InputError, match="Swing beams hold these wheels"):
        set_axle("front", "Both", steering=steering).apply(trail_job)
    with pytest.raises(InputError, match="Ratio"):
        change_steering("front", "Ratio", "box", ratio=0.0).apply(job)


def test_the_least_toe_is_least(trail_job: Job) -> None:
    """SciPy finds no better place for the inner ends in the same room (L-BFGS-B on the same sum of squares)."""
    job = move_by(Spot("front", "", "left_inner"), 0.0, 0.0, 40.0).apply(_job(trail_job))
    axle, room = _front(job), Room(10.0, 25.0, 50.0)
    found, start = least_toe(axle, room), own_point(axle, "left_inner")
    assert found is not None
    assert start is not None
    steering = axle.steering
    assert steering is not None

    def total(at: np.ndarray) -> float:  # type: ignore[type-arg]
        points = {"left_inner": at, "right_inner": at * (1.0, -1.0, 1.0)}
        travel, heave, _ = travel_states(axle, BeamAxle(axle, steering, points))
        return float(np.sum((heave.toe_deg - heave.toe_deg[int(np.abs(travel).argmin())]) ** 2))

    center = np.array(start.xyz)
    bounds = [(c - r, c + r) for c, r in zip(center, room.reach, strict=True)]
    best = min(minimize(total, center + s * room.reach, bounds=bounds, method="L-BFGS-B").fun for s in (-0.6, 0.0, 0.6))
    assert total(np.array(found.at)) <= 1.01 * best + 1e-6
    assert found.after_deg < 0.3 * found.before_deg
    assert least_toe(trail_job.vehicle.axle("front"), room) is None


# --- springs on beams


def _rotated(axle: Axle, side: int, rise: float, point: Array) -> Array:
    """A point of a beam by another way: SciPy turns the beam until its wheel's center has risen so far."""
    beams = beams_of(axle)
    assert beams is not None
    pivot, along, center = beams.pivot[side], beams.axis[side], wheel_centers(axle)[side]

    def turned(angle: float, at: Array) -> Array:
        moved: Array = pivot + Rotation.from_rotvec(angle * along).apply(at - pivot)
        return moved

    angle = brentq(lambda a: turned(a, center)[2] - center[2] - rise, -0.6, 0.6, xtol=1e-14)
    return turned(angle, point)


def test_a_spring_on_a_beam_is_as_long_as_its_turn_says_and_works_on_its_own_wheel() -> None:
    """Lengths against SciPy's turn; slopes and bends against differences of exact lengths; the other wheel does nothing."""
    job = demo_jobs()[3]
    axle = job.vehicle.axle("front")
    h = 0.05
    left = np.array([-90.0, 0.0, 120.0])
    for side, name in ((0, "Coil-over left"), (1, "Coil-over right")):
        part = axle.part(name)
        top, low = (np.array(part.mounts[e].at.xyz) for e in ("top", "bottom"))
        runs = [beam_springs(axle, left + d, left + e) for d, e in ((0, 0), (h, 0), (-h, 0), (0, h), (0, -h))]
        found = [r.run(name) for r in runs if r is not None]
        run_ = found[0]
        assert run_ is not None
        for k, rise in enumerate(left):
            there = _rotated(axle, side, float(rise), low)
            assert run_.length[k] == pytest.approx(float(np.linalg.norm(there - top)), abs=1e-9)
        mine, other = (1, 3) if side == 0 else (3, 1)
        ahead, back = found[mine], found[mine + 1]
        still = found[other]
        assert ahead is not None
        assert back is not None
        assert still is not None
        assert run_.slope[:, side] == pytest.approx((ahead.length - back.length) / (2 * h), abs=1e-8)
        assert run_.bend is not None
        assert run_.bend[:, side, side] == pytest.approx((ahead.slope - back.slope)[:, side] / (2 * h), abs=1e-8)
        assert still.length == pytest.approx(run_.length, abs=1e-12)
        assert not run_.slope[:, 1 - side].any()


def test_a_truck_on_beams_stands_rides_and_stops() -> None:
    """Balance: what the springs push down is the sprung weight; the coils hold it where they were made to."""
    job = demo_jobs()[3]
    axle = job.vehicle.axle("front")
    ride = axle_ride(job.vehicle, axle)
    assert ride is not None
    assert ride.frequency_hz is not None
    assert 0.8 < ride.frequency_hz < 2.2
    found = stand(job.vehicle)
    total = sum(c.load_n for c in found.corners)
    assert total == pytest.approx(job.vehicle.mass_kg * 9.80665, rel=1e-4)
    assert max(abs(c.travel_mm) for c in found.corners if c.axle == "front") < 6.0
    assert beam_roll_center(axle) == pytest.approx(_drawn_roll_center(axle), abs=1e-6)
    along = stops_of(job.vehicle, axle)
    assert along is not None
    assert {s.name for s in along.stops} & {"Strap left", "Strap right", "Bump stop left", "Bump stop right"}
    keys = {v.figure.key for v in judge_beams(job, axle)}
    assert {"motion_ratio_x", "ride_frequency_hz", "stroke_bump_mm", "sits_off_mm", "roll_per_g_deg"} <= keys
    assert not [f for f in spring_findings(job) if f.severity == "missing"]


def _drawn_roll_center(axle: Axle) -> float:
    """Swing axle by ruler: the line from either patch through its beam's axis in the wheel plane, at the middle."""
    beams = beams_of(axle)
    assert beams is not None
    heights = []
    for center, pivot, along in zip(wheel_centers(axle), beams.pivot, beams.axis, strict=True):
        meets = pivot + (center[0] - pivot[0]) / along[0] * along
        ends = sorted([(meets[1], meets[2]), (center[1], center[2] - axle.tire.loaded_radius_mm)])
        heights.append(float(np.interp(0.0, *zip(*ends, strict=True))))
    return float(np.mean(heights))


def test_the_command_says_springs_on_beams(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    path = tmp_path / "beams.stance"
    path.write_text(dump_job(demo_jobs()[3]), encoding="utf-8")
    assert run(["answers", str(path), "--axle", "front", "--left", "30", "--right", "-20"]) == 0
    springs = json.loads(capsys.readouterr().out)["springs"]
    assert {"Coil-over left", "Strap right"} <= {s["name"] for s in springs}
    assert run(["ride", str(path)]) == 0
    assert "front" in json.loads(capsys.readouterr().out)["axles"]
