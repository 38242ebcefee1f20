"""Laws every linkage obeys, whatever its points: Hypothesis draws the points."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from even_stance.mechanics.joints import bolt_twist, joint_misalignment, needed_misalignment
from even_stance.mechanics.linkage import Linkage, constraint_rows, placed
from even_stance.mechanics.motion import twists
from even_stance.mechanics.position import solve_posture
from even_stance.mechanics.statics import member_loads, wrench_of
from even_stance.study.answers import study_postures
from even_stance.study.model import linkage_of
from even_stance.vehicle.car import Axle, Vehicle
from even_stance.vehicle.members import Rod
from tests.cars import rod, symmetric_four_link, three_link, vehicle_of

OFF = st.floats(-40, 40)
TRAVEL = st.floats(-90, 90)


@st.composite
def cars(draw: st.DrawFn) -> tuple[Vehicle, Axle]:
    """A four-link or three-link with every point knocked about, front or rear."""
    front = draw(st.booleans())
    base = draw(st.sampled_from([symmetric_four_link, three_link]))(0.0 if front else -2800.0)
    x0 = 0.0 if front else -2800.0

    def knocked(m: Rod) -> Rod:
        def point(p: tuple[float, float, float]) -> tuple[float, ...]:
            x = x0 - (p[0] - x0) if front else p[0]
            return (x + draw(OFF), p[1] + draw(OFF), p[2] + draw(OFF))

        return rod(m.name, point(m.chassis.at.xyz), point(m.axle.at.xyz), m.role, m.side)

    return vehicle_of([knocked(m) for m in base], front=front)


def _with(axle: Axle, change: object) -> Axle:
    members = [rod(m.name, change(m.chassis.at.xyz), change(m.axle.at.xyz), m.role, m.side) for m in axle.members]  # type: ignore[operator]
    return vehicle_of(members, front=axle.is_front)[1]


@settings(max_examples=60, deadline=None)
@given(cars(), TRAVEL, TRAVEL)
def test_rods_keep_their_length_and_wheels_rise_as_asked(car: tuple[Vehicle, Axle], left: float, right: float) -> None:
    linkage = linkage_of(car[1])
    pose = solve_posture(linkage, np.array([left]), np.array([right]))
    assert pose.ok.all()
    ends = placed(linkage, pose, linkage.axle)[0]
    assert np.abs(np.linalg.norm(ends - linkage.chassis, axis=1) - linkage.lengths).max() < 1e-9
    wheels = placed(linkage, pose, linkage.wheels)[0]
    assert wheels[:, 2] - linkage.wheels[:, 2] == pytest.approx([left, right], abs=1e-9)
    assert pose.rotation[0] @ pose.rotation[0].T == pytest.approx(np.eye(3), abs=1e-12)


@settings(max_examples=40, deadline=None)
@given(cars(), TRAVEL, TRAVEL)
def test_mirror_image_gives_mirrored_answers(car: tuple[Vehicle, Axle], left: float, right: float) -> None:
    vehicle, axle = car
    mirrored = _with(axle, lambda p: (p[0], -p[1], p[2]))
    a = study_postures(vehicle, axle, np.array([left]), np.array([right]))
    b = study_postures(vehicle, mirrored, np.array([right]), np.array([left]))
    for key, value in a.values.items():
        # Sideways and yaw change sign; roll steer and the slope of the axis are ratios of two that do.
        sign = -1.0 if key in ("shift_y_mm", "roll_deg", "yaw_deg") else 1.0
        if key in ("ic_x_mm", "ic_z_mm", "roll_center_one_wheel_mm"):
            continue  # the side-view center is taken in the plane y = 0, one wheel means the left one
        assert b.value(key) == pytest.approx(sign * value[0], rel=1e-7, abs=1e-7), key


@settings(max_examples=40, deadline=None)
@given(cars(), TRAVEL, TRAVEL, st.floats(-500, 500))
def test_where_the_origin_lies_does_not_matter(car: tuple[Vehicle, Axle], left: float, right: float, by: float) -> None:
    linkage = linkage_of(car[1])
    shift = np.array([by, 0.3 * by, -0.7 * by])
    moved = Linkage.as_drawn(
        linkage.center + shift, linkage.wheels + shift, linkage.chassis + shift, linkage.axle + shift
    )
    a, b = (solve_posture(k, np.array([left]), np.array([right])) for k in (linkage, moved))
    assert b.center - shift == pytest.approx(a.center, abs=1e-7)
    rolls = [twists(k, p).roll for k, p in ((linkage, a), (moved, b))]
    assert rolls[1] == pytest.approx(rolls[0], abs=1e-10)


@settings(max_examples=40, deadline=None)
@given(cars(), TRAVEL, TRAVEL, st.lists(st.floats(-1, 1), min_size=9, max_size=9))
def test_virtual_work(car: tuple[Vehicle, Axle], left: float, right: float, draw: list[float]) -> None:
    """Power of the outside forces equals the power on the wheel rows: rods do no work. To 1e-6 of the larger."""
    linkage = linkage_of(car[1])
    pose = solve_posture(linkage, np.array([left]), np.array([right]))
    point = pose.center + 500.0 * np.array(draw[:3])
    force, torque = 5000.0 * np.array(draw[3:6]), 1e6 * np.array(draw[6:])
    wrench = wrench_of(pose.center, point[:, None], force[None, None], torque[None])
    loads = member_loads(linkage, pose, wrench)[0]
    both = twists(linkage, pose)
    for twist, rates in ((both.heave[0], (1.0, 1.0)), (both.roll[0], (1.0, -1.0))):
        v, w = twist[:3], twist[3:]
        outside = force @ (v + np.cross(w, point[0] - pose.center[0])) + torque @ w
        inside = loads[-2] * rates[0] + loads[-1] * rates[1]
        assert outside == pytest.approx(inside, rel=1e-6, abs=1e-6 * (1 + np.abs(loads).max()))


@settings(max_examples=30, deadline=None)
@given(cars(), TRAVEL, TRAVEL)
def test_rates_are_the_derivative_of_positions(car: tuple[Vehicle, Axle], left: float, right: float) -> None:
    linkage = linkage_of(car[1])
    d = 1e-3
    poses = solve_posture(linkage, left + np.array([-d, 0, d]), right + np.array([-d, 0, d]))
    heave = twists(linkage, poses).heave[1]
    assert heave[:3] == pytest.approx((poses.center[2] - poses.center[0]) / (2 * d), abs=1e-6)
    spin = (poses.rotation[2] - poses.rotation[0]) / (2 * d) @ poses.rotation[1].T
    assert heave[3:] == pytest.approx([spin[2, 1], spin[0, 2], spin[1, 0]], abs=1e-8)


def test_contact_slope_is_measured_at_the_contact_patch() -> None:
    """Against finite differences of the axle-fixed point, which differs from that of the wheel center."""
    vehicle, axle = vehicle_of(three_link())
    linkage, d = linkage_of(axle), 1e-3
    poses = solve_posture(linkage, np.array([-d, d]), np.array([-d, d]))
    patch = placed(linkage, poses, linkage.center[None] - [0, 0, 400.0])[:, 0]
    slope = (patch[1] - patch[0])[0] / (patch[1] - patch[0])[2]
    hub = (poses.center[1] - poses.center[0])[0] / (2 * d)
    ours = study_postures(vehicle, axle, np.zeros(1), np.zeros(1)).value("contact_slope")
    assert ours == pytest.approx(slope, abs=1e-7)
    assert abs(ours - hub) > 0.02


def test_yaw_and_roll_steer_are_those_of_the_tube_in_plan() -> None:
    vehicle, axle = vehicle_of(three_link())
    step = 0.01
    left = np.array([60.0 - step, 60.0, 60.0 + step])
    answers = study_postures(vehicle, axle, left, -left)
    tube = answers.pose.rotation[:, :, 1]
    yaw = np.arctan2(-tube[:, 0], tube[:, 1])
    roll = np.arcsin(tube[:, 2])
    assert np.radians(answers.values["yaw_deg"]) == pytest.approx(yaw, abs=1e-12)
    assert answers.value("roll_steer_pct", 1) == pytest.approx(100 * (yaw[2] - yaw[0]) / (roll[2] - roll[0]), rel=1e-5)


def test_lock_up_is_reported_where_the_links_are_stretched_straight() -> None:
    """Lower and upper in one straight line from pivot to pivot cannot be longer than they are: a swing link whose axle
    center hangs on equal parallel links of length 500 starting level locks when they point straight down: z = -500."""
    members = (
        *(rod(f"Lower {s}", (-2300, y, 360), (-2800, y, 360), "lower", s) for s, y in (("left", 500), ("right", -500))),
        rod("Upper", (-2300, 0, 560), (-2800, 0, 560), "upper"),
        rod("Panhard", (-2800, 20000, 360), (-2800, -20000, 360), "lateral"),
    )
    _, axle = vehicle_of(members)
    pose = solve_posture(linkage_of(axle), np.array([-499.0, -520.0]), np.array([-499.0, -520.0]))
    assert pose.ok.tolist() == [True, False]
    assert pose.reached[1] * 520.0 == pytest.approx(500.0, abs=0.1)


def test_postures_that_lock_up_together_lock_up_where_each_does_alone() -> None:
    """Sweeps and crossed-up postures past lock-up, in one batch and one by one: the same place to a hundredth of a mm."""
    _, axle = vehicle_of(symmetric_four_link())
    linkage = linkage_of(axle)
    left = np.concatenate((np.linspace(-900, 900, 19), np.linspace(-600, 600, 7)))
    right = np.concatenate((np.linspace(-900, 900, 19), np.linspace(600, -600, 7)))
    together = solve_posture(linkage, left, right)
    assert 4 < (~together.ok).sum() < 22
    for i, (a, b) in enumerate(zip(left, right, strict=True)):
        alone = solve_posture(linkage, np.array([a]), np.array([b]))
        assert together.ok[i] == alone.ok[0]
        assert together.reached[i] * abs(a) == pytest.approx(alone.reached[0] * abs(a), abs=0.02)
        if alone.ok[0]:
            assert together.center[i] == pytest.approx(alone.center[0], abs=1e-7)


def test_postures_near_lock_up_stay_on_the_branch_that_can_be_driven_to() -> None:
    _, axle = vehicle_of(symmetric_four_link())
    linkage = linkage_of(axle)
    travel = np.linspace(-600, 600, 241)
    pose = solve_posture(linkage, travel, travel)
    jumps = np.abs(np.diff(pose.center, axis=0)).max(axis=1)[pose.ok[1:] & pose.ok[:-1]]
    assert jumps.max() < 40.0  # 5 mm steps: a leap to the mirrored linkage would be hundreds
    side = np.sign(np.linalg.det(constraint_rows(linkage, pose)))
    assert (side[pose.ok] == side[120]).all()


def test_joint_swing_and_shared_twist() -> None:
    n, bolt = np.array([1.0, 0.0, 0.0]), np.array([0.0, 1.0, 0.0])
    tilt = np.radians(20.0)
    tilted = np.array([np.sin(tilt), np.cos(tilt), 0.0])
    turned = np.array([0.0, np.cos(tilt), np.sin(tilt)])
    assert joint_misalignment(n, bolt) == pytest.approx(0.0)
    assert joint_misalignment(n, tilted) == pytest.approx(tilt)
    assert bolt_twist(n, bolt, turned) == pytest.approx(tilt)
    assert bolt_twist(n, bolt, -turned) == pytest.approx(tilt)
    assert needed_misalignment(joint_misalignment(n, bolt), bolt_twist(n, bolt, turned)) == pytest.approx(tilt / 2)
    assert needed_misalignment(tilt, np.array(0.0)) == pytest.approx(tilt)
