"""Loads of every layout: by vectors, by hand, by energy and against published traction limits."""

from dataclasses import replace

import numpy as np
import pytest
from scipy.spatial.transform import Rotation

from even_stance.errors import InputError
from even_stance.judgement.catalog.layouts import BaseKey, LateralKey
from even_stance.judgement.catalog.starter import with_layout, with_starter
from even_stance.mechanics.curvature import curvature
from even_stance.mechanics.linkage import constraint_rows
from even_stance.mechanics.motion import axle_angles
from even_stance.mechanics.position import solve_posture
from even_stance.mechanics.statics import member_loads
from even_stance.mechanics.vectors import Array
from even_stance.study.answers import answers_at
from even_stance.study.loads import CASES, axle_loads, launch_grip, load_words, study_loads
from even_stance.study.model import linkage_of
from even_stance.vehicle.car import Axle, Vehicle
from even_stance.vehicle.edits import set_axle, set_yoke, with_changes
from even_stance.vehicle.job import Job
from even_stance.vehicle.loading import LoadAssumptions
from tests.cars import pair, rod, three_link, unsprung, vehicle_of
from tests.conftest import starter


def _car(base: BaseKey, lateral: LateralKey | None = None) -> tuple[Vehicle, Axle]:
    job = with_layout(starter(), "rear", base, lateral, keep=False)
    return job.vehicle, job.vehicle.axle("rear")


LEVEL = (
    *pair("Lower", (-1950, 450, 350), (-2800, 450, 350), "lower"),
    rod("Upper", (-2150, 0, 560), (-2800, 0, 560), "upper"),
)


def _by_vectors(answers: object, force: np.ndarray, torque: np.ndarray) -> np.ndarray:  # type: ignore[type-arg]
    """Rod forces and spring loads by plain vector statics about the origin, least squares of an exact system."""
    a = answers  # type: ignore[assignment]
    columns = []
    for chassis, end in zip(a.chassis_ends[0], a.rod_ends[0], strict=True):  # type: ignore[attr-defined]
        pull = (chassis - end) / np.linalg.norm(chassis - end)
        columns.append(np.concatenate((pull, np.cross(end, pull))))
    half = np.array([0, a.axle.track_mm / 2, 0])  # type: ignore[attr-defined]
    for s in (1, -1):
        hub = a.pose.center[0] + a.pose.rotation[0] @ (s * half)  # type: ignore[attr-defined]
        columns.append(np.concatenate(([0, 0, -1.0], np.cross(hub, [0, 0, -1.0]))))
    outside = np.concatenate((force, np.cross(a.pose.center[0], force) + torque))  # type: ignore[attr-defined]
    return np.linalg.solve(np.array(columns).T, -outside)


def test_rod_loads_against_vector_statics() -> None:
    vehicle, axle = vehicle_of(three_link())
    answers = answers_at(vehicle, axle, 30.0, -50.0)
    force, torque = np.array([5000.0, -900.0, 3000.0]), np.array([-4e5, 9e5, 1e5])
    loads = member_loads(answers.linkage, answers.pose, np.concatenate((force, torque))[None])[0]
    assert loads == pytest.approx(_by_vectors(answers, force, torque), rel=1e-9, abs=1e-6)


def test_three_link_under_thrust_by_hand() -> None:
    """Level links: lowers at z 350, upper at 560, hub 400, thrust F = 1000 N at the ground. Moments about the lowers:
    F * 350 = U * 210: the upper pulls with 1666.7 N, the lowers push with 2666.7 N together."""
    bar = rod("Panhard", (-2800, 500, 400), (-2800, -500, 400), "lateral")
    vehicle, axle = vehicle_of([*LEVEL, bar])
    answers = answers_at(vehicle, axle, 0.0, 0.0)
    moment = np.array([0.0, -400.0 * 1000.0, 0.0])  # thrust at the ground, 400 mm below the center: (r x F)y = rz Fx
    loads = member_loads(answers.linkage, answers.pose, np.concatenate(([1000.0, 0, 0], moment))[None])[0]
    assert loads[2] == pytest.approx(1000 * 350 / 210, rel=1e-9)
    assert loads[:2] == pytest.approx([-(1000 + 1000 * 350 / 210) / 2] * 2, rel=1e-9)
    assert loads[3] == pytest.approx(0.0, abs=1e-6)


@pytest.mark.parametrize("base", ["parallel", "radius_arms", "leaf"])
@pytest.mark.parametrize("lateral", ["panhard", "watts_axle", "watts_frame"])
def test_curvature_against_differences(base: BaseKey, lateral: LateralKey) -> None:
    """Loads that turn with the axle and its cranks, against differences of J^T f with rotations made by SciPy."""
    axle = with_starter(starter("trail"), "rear", base, lateral).vehicle.axle("rear")
    linkage = linkage_of(axle)
    pose = solve_posture(linkage, np.array([70.0, -20.0]), np.array([-50.0, 60.0]))
    pull = np.random.default_rng(3).normal(size=(2, linkage.held + 2))
    exact = curvature(linkage, pose, constraint_rows(linkage, pose), pull)

    def wrench(j: int, by: float) -> Array:
        q = by * np.eye(linkage.freedoms)[j]
        turned = Rotation.from_rotvec(q[3:6]).as_matrix() @ pose.rotation
        there = replace(pose, center=pose.center + q[:3], rotation=turned, crank=pose.crank + q[6:], rows=None)
        return (pull[:, None] @ constraint_rows(linkage, there))[:, 0]

    for j in range(linkage.freedoms):
        step, arm = (1e-2, 1.0) if j < 3 else (1e-5, 500.0)
        slope = (wrench(j, step) - wrench(j, -step)) / (2 * step)
        size = np.array([1.0] * 3 + [500.0] * (linkage.freedoms - 3)) * arm
        np.testing.assert_allclose(exact[..., j] / size, slope / size, atol=1e-9)


def test_least_energy_loads_meet_equilibrium_and_compatibility() -> None:
    """With more members than needed: rows balance the wrench, and their stretches fit one motion of the axle."""
    vehicle, axle = _car("parallel")
    answers = answers_at(vehicle, axle, 20.0, -20.0)
    wrench = np.array([4000.0, 1000.0, 0.0, 2e5, 6e5, -1e5])
    loads = member_loads(answers.linkage, answers.pose, wrench[None])[0]
    rows = constraint_rows(answers.linkage, answers.pose)[0]
    assert rows.T @ loads == pytest.approx(wrench, rel=1e-8, abs=1e-3)
    stretch = np.concatenate((loads[:-2] / answers.linkage.stiffness, [0.0, 0.0]))
    motion, *_ = np.linalg.lstsq(rows / [1, 1, 1, 500, 500, 500], stretch, rcond=None)
    assert (rows / [1, 1, 1, 500, 500, 500]) @ motion == pytest.approx(stretch, abs=1e-9)


def test_plain_weight_puts_no_load_into_a_panhard(trail_job: Job) -> None:
    for base in ("three_link", "parallel", "radius_arms"):
        job = with_layout(unsprung(trail_job), "rear", base, keep=False)  # type: ignore[arg-type]
        axle = job.vehicle.axle("rear")
        study = study_loads(job.vehicle, answers_at(job.vehicle, axle, 0.0, 0.0), job.loads, "standing")
        assert np.abs(study.rows).max() < 1e-3
        assert study.springs == pytest.approx([(axle.load_kg - axle.unsprung_kg) * 9.80665 / 2] * 2)


def test_driveshaft_torque_presses_the_left_tire_down(trail_job: Job) -> None:
    """The usual rotation: T = F r / ratio about the pinion axis, over the track. An upper link offset to the right turns
    its share of the axle torque against it (common practice, no source: the offset third link cancels shaft torque)."""
    job = with_layout(trail_job, "rear", "triangulated", keep=False)
    job = set_yoke("rear", "pinion", "level", nose_up_deg=0.0).apply(job)
    axle = job.vehicle.axle("rear")
    study = study_loads(job.vehicle, answers_at(job.vehicle, axle, 0.0, 0.0), job.loads, "launch")
    thrust = launch_grip(job.vehicle, axle, job.loads.friction)
    shaft = thrust * axle.tire.loaded_radius_mm / job.loads.axle_ratio / axle.track_mm
    assert study.wheel_change == pytest.approx(shaft, rel=1e-6)
    assert load_words(study, answers_at(job.vehicle, axle, 0.0, 0.0)).startswith(
        "Rear axle: presses the left tire down"
    )
    changes = []
    for y in (-250.0, 0.0, 250.0):
        x, _, z = axle.center
        upper = rod("Upper", (x + 600, y, z + 120), (x, y, z + 190), "upper")
        lowers = pair("Lower", (x + 850, 420, z), (x, 420, z - 50), "lower")
        bar = rod("Panhard", (x, 500, z), (x, -500, z), "lateral")
        mine = with_changes(axle, members=(*lowers, upper, bar))
        changes.append(
            study_loads(job.vehicle, answers_at(job.vehicle, mine, 0.0, 0.0), job.loads, "launch").wheel_change
        )
    assert changes[1] == pytest.approx(shaft, rel=1e-6)
    assert (changes[0] - shaft) == pytest.approx(-(changes[2] - shaft), rel=1e-6)
    assert abs(changes[0] - changes[2]) > 500.0


def test_launch_grip_with_the_weight_it_moves() -> None:
    """Gillespie ch. 2: rear drive, F = mu W_r / (1 - mu h / L). With W_r = 1000 kg, mu = 0.8, h/L = 0.25."""
    vehicle, _ = vehicle_of(three_link())
    axles = [with_changes(a, load_kg=1000.0) for a in vehicle.axles]
    vehicle = with_changes(vehicle, axles=tuple(axles))
    assert launch_grip(vehicle, vehicle.axles[1], 0.8) == pytest.approx(0.8 * 1000 * 9.80665 / (1 - 0.8 * 0.25))


@pytest.mark.parametrize("case", CASES)
def test_every_case_balances_and_says_what_it_assumes(case: str, rock_job: Job) -> None:
    rock_job = unsprung(rock_job)
    for key in ("front", "rear"):
        answers = answers_at(rock_job.vehicle, rock_job.vehicle.axle(key), 20.0, -10.0)
        study = study_loads(rock_job.vehicle, answers, LoadAssumptions(), case)  # type: ignore[arg-type]
        assert study.words.endswith(".")
        outside = axle_loads(rock_job.vehicle, answers.axle, LoadAssumptions(), case)  # type: ignore[arg-type]
        center, turned = answers.pose.center[0], answers.pose.rotation[0]
        roll, _, yaw = (float(a[0]) for a in axle_angles(answers.pose.rotation))
        tube = Rotation.from_euler("ZX", [yaw, roll]).as_matrix()
        pulls = [
            (p, f) for p, f in zip((outside.points - answers.linkage.center) @ tube.T, outside.forces, strict=True)
        ]
        half = answers.axle.track_mm / 2
        pulls += [
            (turned @ [0, s * half, 0], np.array([0, 0, -f])) for s, f in zip((1, -1), study.springs, strict=True)
        ]
        for i, load in enumerate(study.rows):
            span = answers.chassis_ends[0, i] - answers.rod_ends[0, i]
            pulls.append((answers.rod_ends[0, i] - center, load * span / np.linalg.norm(span)))
        assert sum(f for _, f in pulls) == pytest.approx(np.zeros(3), abs=1e-5)
        moment = sum(np.cross(a, f) for a, f in pulls) + turned @ outside.torque
        assert moment == pytest.approx(np.zeros(3), abs=1e-2)
        assert study.joints.shape == (8,)
        rods = np.abs(study.rows)
        assert study.joints == pytest.approx(np.repeat(rods, 2))


def test_loads_need_the_weight(trail_job: Job) -> None:
    job = set_axle("rear", "Weight", load_kg=0.0, unsprung_kg=0.0).apply(trail_job)
    answers = answers_at(job.vehicle, job.vehicle.axle("rear"), 0.0, 0.0)
    with pytest.raises(InputError, match="Rear axle weight: is not entered"):
        study_loads(job.vehicle, answers, job.loads, "launch")
