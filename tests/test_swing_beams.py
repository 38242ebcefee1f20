"""Swing beams in a job: files, the command line, what is judged, how sure, drawn, and what is refused."""

import json
from pathlib import Path

import numpy as np
import pytest
from scipy.optimize import minimize

from even_stance.cli import run
from even_stance.errors import CannotReachError, InputError
from even_stance.exchange.jobfile import load_job, save_job
from even_stance.judgement.search.arcs import Room, least_toe
from even_stance.judgement.steering import beam_rows
from even_stance.judgement.verdicts import judge_beams
from even_stance.study.beamfigures import beam_figures, travel_states
from even_stance.study.beams import BeamAxle, beams_of
from even_stance.study.floor import axle_patches
from even_stance.study.places import AxlePlace
from even_stance.study.state import car_state, knuckle_body
from even_stance.vehicle.car import Axle
from even_stance.vehicle.edits import change_steering, move_by, set_axle, set_sure, with_changes
from even_stance.vehicle.job import Job
from even_stance.vehicle.posture import AxlePosture, CarPosture
from even_stance.vehicle.spots import STEER_POINTS, Spot, own_point, spots_on, twin_of
from tests.validation.test_swing_beams import beam_truck


def _job(job: Job) -> Job:
    axle = beam_truck()
    return set_axle("front", "Beams", members=(), steering=axle.steering).apply(job)


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
