"""Loads away from ride height and with a measured pinion: where the forces act, checked by plain statics."""

from pathlib import Path
from typing import Any

import numpy as np
import pytest
from scipy.spatial.transform import Rotation

from even_stance.exchange.jobfile import load_job
from even_stance.mechanics.linkage import placed, span_rows
from even_stance.mechanics.motion import axle_angles
from even_stance.mechanics.statics import member_loads
from even_stance.study.answers import Answers, answers_at
from even_stance.study.loads import G, LoadStudy, launch_grip, study_loads
from even_stance.vehicle.driveline import Yoke
from even_stance.vehicle.edits import set_axle
from even_stance.vehicle.job import Job
from even_stance.vehicle.records import Point
from tests.cars import unsprung

VERSION_1 = Path(__file__).parent / "fixtures" / "version1"


def _unbalance(found: Answers, study: LoadStudy, outside: list[tuple[Any, Any]], torque: Any = (0, 0, 0)) -> Any:
    """What is left of all forces and moments about the axle center, N and N mm: outside, springs and rods."""
    half, center = found.axle.track_mm / 2, found.pose.center[0]
    every = list(outside)
    for side, spring in zip((half, -half), study.springs, strict=True):
        every.append((found.pose.rotation[0] @ [0, side, 0], [0, 0, -spring]))
    for i, load in enumerate(study.rows):
        end = found.rod_ends[0, i]
        span = found.chassis_ends[0, i] - end
        every.append((end - center, load * span / np.linalg.norm(span)))
    force = sum(np.asarray(f, dtype=float) for _, f in every)
    moment = sum(np.cross(np.asarray(a, dtype=float), np.asarray(f, dtype=float)) for a, f in every)
    return force, moment + np.asarray(torque)


def _tube(found: Answers) -> Rotation:
    roll, pitch, yaw = (float(a[0]) for a in axle_angles(found.pose.rotation))
    return Rotation.from_euler("ZXY", [yaw, roll, pitch]) * Rotation.from_euler("y", -pitch)


def test_ledge_when_crossed_up_pushes_where_the_hub_is() -> None:
    """All links, springs and outside forces balance about the hub as SciPy's own rotation places it.

    Just the axle center used to move: hubs and patches were up to 185 mm off when crossed up.
    """
    trail_job, _ = load_job(VERSION_1 / "1-trail-pickup.stance")
    axle = trail_job.vehicle.axle("rear")
    found = answers_at(trail_job.vehicle, axle, axle.bump_mm, -axle.droop_mm)
    study = study_loads(trail_job.vehicle, found, trail_job.loads, "ledge")
    tube, half, radius = _tube(found), axle.track_mm / 2, axle.tire.loaded_radius_mm
    push = trail_job.loads.ledge_g * trail_job.vehicle.mass_kg * G
    each = axle.load_kg * G / 2
    outside = [
        (tube.apply([0, half, 0]), [-push, 0, 0]), ([0, 0, 0], [0, 0, -axle.unsprung_kg * G]),
        (tube.apply([0, half, -radius]), [0, 0, each]), (tube.apply([0, -half, -radius]), [0, 0, each]),
    ]  # fmt: skip
    force, moment = _unbalance(found, study, outside)
    assert force == pytest.approx(np.zeros(3), abs=1e-6)
    assert moment == pytest.approx(np.zeros(3), abs=1e-3)
    # Worked out by a second program that shares no code with this one.
    named = dict(zip(found.layout.row_names, study.rows, strict=True))
    assert named["Lower left"] == pytest.approx(14704, abs=1.0)
    assert named["Upper left"] == pytest.approx(6059, abs=1.0)


@pytest.mark.parametrize(("nose_up", "left"), [(0.0, 0.0), (9.0, 0.0), (-6.0, 60.0)])
def test_shaft_torque_acts_along_the_pinion(trail_job: Job, nose_up: float, left: float) -> None:
    """Rods, springs, tire forces and -T along the pinion, turned with the axle, balance."""
    axle = trail_job.vehicle.axle("rear")
    x, _, z = axle.center
    yoke = Yoke(at=Point(x=x + 250.0, y=0.0, z=z), nose_up_deg=nose_up)
    job = set_axle("rear", "Pinion", pinion=yoke).apply(unsprung(trail_job))
    car, axle = job.vehicle, job.vehicle.axle("rear")
    found = answers_at(car, axle, left, -left)
    study = study_loads(car, found, job.loads, "launch")
    thrust = launch_grip(car, axle, job.loads.friction)
    torque = thrust * axle.tire.loaded_radius_mm / job.loads.axle_ratio
    rise = np.radians(nose_up)
    along = found.pose.rotation[0] @ [np.cos(rise), 0.0, np.sin(rise)]
    each = (axle.load_kg * G + thrust / axle.drive_share * car.cg_height_mm / car.wheelbase_mm) / 2
    tube, half, radius = _tube(found), axle.track_mm / 2, axle.tire.loaded_radius_mm
    outside = [
        *((tube.apply([0, side, -radius]), [thrust / 2, 0, each]) for side in (half, -half)),
        ([0, 0, 0], [0, 0, -axle.unsprung_kg * G]),
    ]
    force, moment = _unbalance(found, study, outside, -torque * along)
    assert force == pytest.approx(np.zeros(3), abs=1e-6)
    assert moment == pytest.approx(np.zeros(3), abs=2e-3)


def test_springs_at_their_own_mounts_take_the_place_of_the_wheel_rows(trail_job: Job) -> None:
    """Springs straight above the wheel centers are the wheel rows; leaning ones farther in load the links as well.

    Links, springs and the wrench balance about the axle center.
    """
    axle = trail_job.vehicle.axle("rear")
    found = answers_at(trail_job.vehicle, axle, 30.0, -20.0)
    linkage, pose, (x, _, z) = found.linkage, found.pose, axle.center
    half = axle.track_mm / 2
    wrench = np.array([[300.0, -200.0, 9_000.0, 400_000.0, -90_000.0, 30_000.0]])
    plain = member_loads(linkage, pose, wrench)[0]

    def loads(out: float, lean: float) -> tuple[Any, Any, Any]:
        ends = np.array([[x, out, z], [x, -out, z]])
        now = placed(linkage, pose, ends)[0]
        tops = now + np.array([[0.0, -lean, 500.0], [0.0, lean, 500.0]])
        rows = span_rows(linkage, pose, tops, ends)
        return member_loads(linkage, pose, wrench, rows)[0], now, tops

    at_wheels, _, _ = loads(half, 0.0)
    assert at_wheels == pytest.approx(_pulls(plain))
    leaning, now, tops = loads(500.0, 150.0)
    force, moment = wrench[0, :3].copy(), wrench[0, 3:].copy()
    ends = [(found.rod_ends[0, i], found.chassis_ends[0, i]) for i in range(len(found.layout.rods))]
    for (a, c), pull in zip([*ends, *zip(now, tops, strict=True)], leaning, strict=True):
        along = pull * (c - a) / np.linalg.norm(c - a)
        force += along
        moment += np.cross(a - pose.center[0], along)
    assert force == pytest.approx(np.zeros(3), abs=1e-6)
    assert moment == pytest.approx(np.zeros(3), abs=1e-3)


def _pulls(loads: Any) -> Any:
    """The last two as the pull of something above the axle: a wheel row that pushes down is a spring that is pushed."""
    return np.append(loads[:-2], -loads[-2:])
