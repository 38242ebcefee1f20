"""A through shaft between tandem axles: its output goes along with the axle before it, in answers, drawings and files."""

from pathlib import Path

import numpy as np
import pytest

from even_stance.errors import InputError
from even_stance.exchange.jobfile import load_job, save_job
from even_stance.judgement.catalog.starter import with_starter
from even_stance.study.answers import answers_at
from even_stance.study.carried import carried, standing
from even_stance.study.driveline import ends_of
from even_stance.study.figures import figure_slopes, study_axle
from even_stance.study.powertrain import axis_of
from even_stance.study.state import axle_body, car_state
from even_stance.vehicle.driveline import Yoke
from even_stance.vehicle.edits import carry_shaft, drive_from, set_axle, set_shaft
from even_stance.vehicle.job import Job
from even_stance.vehicle.posture import AxlePosture, CarPosture
from even_stance.vehicle.records import Point
from even_stance.vehicle.spots import Spot, body_of
from even_stance.vehicle.tandem import add_rear_axle


def _through(job: Job) -> Job:
    """A tandem whose rear axles stand level, the second driven through the housing of the first."""
    job = with_starter(job, "rear", "three_link")
    job = set_axle("rear", "Level", pinion=Yoke(at=Point(x=-2700.0, y=20.0, z=430.0), nose_up_deg=1.5)).apply(job)
    job = add_rear_axle().apply(job)
    job = drive_from("third", "rear").apply(job)
    return set_shaft(
        "third", "Shaft", output_joint="single", pinion_joint="single", spline_mm=150.0, pull_out_mm=60.0
    ).apply(job)


@pytest.mark.parametrize(("mine", "theirs"), [((0.0, 0.0), (50.0, 50.0)), ((40.0, -20.0), (-60.0, 30.0))])
def test_the_shaft_lies_between_both_axles_as_they_stand(
    mine: tuple[float, float], theirs: tuple[float, float], trail_job: Job
) -> None:
    """Length and joint angles again from the placed bodies of the car's state."""
    job = _through(trail_job)
    axle = job.vehicle.axle("third")
    study = study_axle(job.vehicle, axle, *mine, {}, None, theirs)
    posture = CarPosture().put("third", AxlePosture(*mine)).put("rear", AxlePosture(*theirs))
    state = car_state(job.vehicle, [posture])
    output, pinion = (state.points[Spot("third", "", end)][0] for end in ("output", "pinion"))
    ends = ends_of(job.vehicle, axle)
    axes = [
        state.poses[axle_body(key)].linear[0] @ axis
        for key, axis in (("rear", ends.output_axis), ("third", ends.pinion_axis))
    ]
    run = output - pinion
    angles = [np.degrees(np.arccos(np.dot(run, a) / np.linalg.norm(run))) for a in axes]
    # The output's body was placed by a way of its own (AxlePlace): the same place.
    place = standing(job.vehicle, axle, *theirs).output
    assert place is not None
    assert np.array(place.at.xyz) == pytest.approx(output, abs=1e-9)
    assert axis_of(place) == pytest.approx(axes[0], abs=1e-9)
    assert study.now.value("shaft_length_mm") == pytest.approx(np.linalg.norm(run), abs=1e-9)
    assert study.now.value("output_angle_deg") == pytest.approx(angles[0], abs=1e-6)
    assert study.now.value("pinion_angle_deg") == pytest.approx(angles[1], abs=1e-6)
    ride = study_axle(job.vehicle, axle, 0.0, 0.0, {}).now.value("shaft_length_mm")
    assert study.now.value("shaft_plunge_mm") == pytest.approx(np.linalg.norm(run) - ride, abs=1e-9)


def test_the_worst_is_looked_for_with_one_axle_up_and_the_other_down(trail_job: Job) -> None:
    job = _through(trail_job)
    axle, rear = job.vehicle.axle("third"), job.vehicle.axle("rear")
    study = study_axle(job.vehicle, axle, 0.0, 0.0)
    for key, source in (("output_joint_deg", "output_angle_deg"), ("pinion_joint_deg", "pinion_angle_deg")):
        figure = study.figure(key)
        assert figure is not None
        tried = [
            study_axle(job.vehicle, axle, a, a, {}, study.travel, (b, b)).now.value(source)
            for a in (-axle.droop_mm, 0.0, axle.bump_mm)
            for b in (-rear.droop_mm, 0.0, rear.bump_mm)
        ]
        assert figure.value == pytest.approx(max(tried), rel=1e-9)
        assert "the rear axle" in figure.note
        assert 0.0 < figure.uncertainty < 5.0
    left = study.figure("spline_left_mm")
    assert left is not None
    assert "the rear axle" in left.note or "crossed up" in left.note
    slopes = figure_slopes(job.vehicle, study)
    higher = next(n for n, i in enumerate(slopes.inputs) if i.words == "Output yoke: up")
    assert slopes.of["output_joint_deg"][higher] != 0.0


def test_through_shafts_go_through_files_and_bad_ones_are_refused(trail_job: Job, tmp_path: Path) -> None:
    job = _through(trail_job)
    path = tmp_path / "six.stance"
    save_job(job, path)
    assert load_job(path)[0] == job
    assert body_of(job, Spot("third", "", "output")) == "axle"
    assert body_of(job, Spot("rear", "", "output")) == "powertrain"
    # At ride height nothing has gone anywhere: the command line's answers are those of the axle by itself.
    still = carried(job.vehicle, job.vehicle.axle("third"), np.zeros(1), np.zeros(1))
    assert still is not None
    assert np.abs(still[0]).max() < 1e-9
    assert answers_at(job.vehicle, job.vehicle.axle("third"), 0.0, 0.0).value("shaft_plunge_mm") == pytest.approx(0.0)
    with pytest.raises(InputError, match="cannot be on the third axle"):
        drive_from("rear", "third").apply(job)
    with pytest.raises(InputError, match="one piece"):
        carry_shaft("third", True).apply(job)
    with pytest.raises(InputError, match="not measured yet"):
        drive_from("third", "front").apply(job)
    back = drive_from("third", "").apply(job).vehicle.axle("third").output
    assert back is not None
    assert back.on == ""
