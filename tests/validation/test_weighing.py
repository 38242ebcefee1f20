"""CG by scales and by the lift, against statics worked by hand and against MuJoCo standing the car on its wheels.

Worked textbook examples: Hibbeler, Engineering Mechanics: Statics, ch. 9 (the car on scales, then with one side raised);
Meriam and Kraige, Engineering Mechanics: Statics, ch. 3 (the car on four scales). Both from memory, and the problems'
numbers differ between editions. The lift formula itself is that of Milliken and Milliken, Race Car Vehicle Dynamics,
ch. 18 (from memory).
"""

import mujoco
import numpy as np
import pytest

from even_stance.errors import InputError
from even_stance.mechanics.weighing import cg_height_by_lift, cg_over_ground
from even_stance.shop.readings import new_reading
from even_stance.shop.sheet import take_reading
from even_stance.shop.weighing import height_by_lift, use_lift, use_weights, weigh
from even_stance.vehicle.edits import set_measuring
from even_stance.vehicle.job import Job
from even_stance.vehicle.measuring import Ballast, Lift
from even_stance.vehicle.records import Point
from tests.validation.record import against


def test_hand_calculation_in_round_figures() -> None:
    """1000 kg, half of it on each axle, wheelbase 2500, lifted so that sin a = 0.6 (tan a = 0.75): a CG 300 mm above
    wheel centers at 350 moves 300 tan a = 225 mm, so the axle that stays down carries 500 + 1000 * 225 / 2500 = 590."""
    height = cg_height_by_lift(*(np.array(v) for v in (1000.0, 500.0, 590.0, 2500.0, 1500.0, 350.0)))
    source = "Milliken and Milliken, Race Car Vehicle Dynamics, ch. 18, lift formula"
    against("worked by hand", source, "CG height, sin a = 0.6", 650.0, float(height), "mm", 1e-9)
    total, place = cg_over_ground(np.array([300.0, 200.0, 250.0, 250.0]),
                                  np.array([[0.0, 750.0], [0.0, -750.0], [-2500.0, 750.0], [-2500.0, -750.0]]))  # fmt: skip
    assert float(total) == 1000.0
    assert place == pytest.approx((-1250.0, 75.0))  # (300 + 250 - 200 - 250) 750 / 1000 = 75 to the left


def test_textbook_car_with_one_side_raised() -> None:
    """Hibbeler: wheels b apart, those of one side on a scale that reads W1; with the other side's wheels c higher it
    reads W2. His answer: the CG is (W - W1) b / W from the scale's wheels and b (W2 - W1) sqrt(b^2 - c^2) / (c W) above
    them. The wheels have no radius there."""
    b, weight = 1500.0, 1400.0
    for c, w1, w2 in ((300.0, 720.0, 810.0), (450.0, 680.0, 835.0), (600.0, 700.0, 930.0)):
        book_x = (weight - w1) / weight * b
        book_height = b * (w2 - w1) * np.sqrt(b**2 - c**2) / (c * weight)
        ours = cg_height_by_lift(*(np.array(v) for v in (weight, w1, w2, b, c, 0.0)))
        what = f"car with one side raised {c:g}: CG height"
        source = "Hibbeler, Engineering Mechanics: Statics, ch. 9"
        against("published, from memory", source, what, book_height, float(ours), "mm", 1e-8)
        total, place = cg_over_ground(np.array([w1, weight - w1]), np.array([[0.0, 0.0], [b, 0.0]]))
        assert float(total) == weight
        assert place[0] == pytest.approx(book_x)


def test_textbook_car_on_four_scales() -> None:
    """Meriam and Kraige: 4450 N under each front wheel and 2950 N under each rear wheel, a car of 1509 kg."""
    loads = np.array([4450.0, 4450.0, 2950.0, 2950.0]) / 9.81
    total, place = cg_over_ground(loads, np.array([[0.0, 750.0], [0.0, -750.0], [-1.0, 750.0], [-1.0, -750.0]]))
    source = "Meriam and Kraige, Engineering Mechanics: Statics, ch. 3"
    against("published, from memory", source, "car on four scales: mass", 1509.0, float(total), "kg", 0.5)
    # The rear scales carry 5900 of 14800 N: that share of the wheelbase behind the front axle.
    assert place == pytest.approx((-5900 / 14800, 0.0))


def _front_load(height: float, behind: float, lift: float, base: float = 2.8, radius: float = 0.4) -> float:
    """Load under the front wheel of a rigid car of 1500 kg whose rear wheel stands `lift` higher, from MuJoCo, kg."""
    tilt = np.arcsin(lift / base)
    xml = f"""
    <mujoco><option timestep="0.001" gravity="0 0 -9.80665" solver="Newton" cone="elliptic" iterations="200"/>
    <worldbody>
      <geom name="floor" type="box" size="6 1 0.1" pos="0 0 -0.1" friction="1 0 0"/>
      <geom name="ramp" type="box" size="0.8 1 0.1" pos="{-base * np.cos(tilt)} 0 {lift - 0.1}" friction="1 0 0"/>
      <body pos="0 0 {radius}" euler="0 {np.degrees(tilt)} 0"><freejoint/>
        <inertial pos="{-behind} 0 {height - radius}" mass="1500" diaginertia="300 1500 1500"/>
        <body name="front"><joint name="f" type="hinge" axis="0 1 0"/>
          <geom name="fw" type="cylinder" size="{radius} 0.8" euler="90 0 0" mass="0.001" friction="1 0 0"/></body>
        <body pos="{-base} 0 0" name="rear"><joint type="hinge" axis="0 1 0"/>
          <geom name="rw" type="cylinder" size="{radius} 0.8" euler="90 0 0" mass="0.001" friction="1 0 0"/></body>
        <geom type="box" size="0.01 0.01 0.01" mass="0.001" contype="0" conaffinity="0"/>
      </body></worldbody>
      <equality><joint joint1="f" polycoef="0 0 0 0 0"/></equality></mujoco>"""
    model = mujoco.MjModel.from_xml_string(xml)
    data = mujoco.MjData(model)
    loads = []
    for i in range(6000):
        mujoco.mj_step(model, data)
        if i >= 5000:
            loads.append(_vertical(model, data, "fw"))
    return float(np.mean(loads)) / 9.80665


def _vertical(model: mujoco.MjModel, data: mujoco.MjData, name: str) -> float:
    geom, up = model.geom(name).id, 0.0
    for k in range(data.ncon):
        contact = data.contact[k]
        if geom in (contact.geom1, contact.geom2):
            force = np.zeros(6)
            mujoco.mj_contactForce(model, data, k, force)
            turned = contact.frame.reshape(3, 3).T @ force[:3]
            up += turned[2] if contact.geom2 == geom else -turned[2]
    return up


@pytest.mark.parametrize(("height", "behind", "lift"), [(0.72, 1.2, 0.6), (0.55, 1.6, 0.9)])
def test_lift_finds_the_cg_of_a_simulated_car(height: float, behind: float, lift: float) -> None:
    level, raised = _front_load(height, behind, 0.0), _front_load(height, behind, lift)
    assert level == pytest.approx(1500 * (2.8 - behind) / 2.8, rel=2e-3)
    found = cg_height_by_lift(*(np.array(v) for v in (1500.0, level, raised, 2800.0, 1000 * lift, 400.0)))
    what = f"lift {1000 * lift:g}: CG height of a car standing on its wheels"
    against("referee", "MuJoCo, rigid car on ramp and floor", what, 1000 * height, float(found), "mm", 6.0)


def _weighed(job: Job, loads: dict[str, float]) -> Job:
    for what, kg in loads.items():
        job = take_reading(new_reading(job, f"scale.{what}", "mass", kg, "scales", "2026-01-05T10:00")).apply(job)
    return job


def test_scales_missing_parts_and_sandbags(trail_job: Job) -> None:
    base = trail_job.vehicle.wheelbase_mm
    loads = {"front.left": 560.0, "front.right": 540.0, "rear.left": 430.0, "rear.right": 470.0}
    assert weigh(trail_job) is None
    job = _weighed(trail_job, loads)
    weighed = weigh(job)
    assert weighed is not None
    assert weighed.total_kg == 2000.0
    assert weighed.behind_mm == pytest.approx(base * 900 / 2000)
    assert weighed.cross_pct == pytest.approx(100 * (560 + 470) / 2000)
    # A fuel tank of 100 kg a quarter of the wheelbase ahead of the rear axle: 25 kg front, 75 kg rear, by moments.
    tank = Ballast(name="fuel", mass_kg=100.0, at=Point(x=-0.75 * base, y=0.0, z=600.0))
    bags = Ballast(name="seats", mass_kg=60.0, at=Point(x=-0.6 * base, y=0.0, z=700.0), stood_in=True)
    job = set_measuring("missing", ballast=(tank, bags)).apply(job)
    weighed = weigh(job)
    assert weighed is not None
    assert weighed.axle_kg == pytest.approx((1125.0, 975.0))
    assert weighed.added_kg == 100.0
    job = use_weights().apply(job)
    assert [a.load_kg for a in job.vehicle.axles] == pytest.approx([1125.0, 975.0])


def test_lift_in_a_job_with_its_sureness(trail_job: Job) -> None:
    """The +/- against 4000 draws of the same errors."""
    vehicle = trail_job.vehicle
    rear = vehicle.axle("rear")
    lift = Lift(
        lifted="rear", lift_mm=700.0, level_kg=vehicle.axles[0].load_kg, raised_kg=vehicle.axles[0].load_kg + 90
    )
    found = height_by_lift(trail_job, lift)
    rng = np.random.default_rng(3)
    draw = lambda value, sure: value + rng.normal(0, sure, 4000)  # noqa: E731
    heights = cg_height_by_lift(
        draw(vehicle.mass_kg, 4.0), draw(lift.level_kg, 2.0), draw(lift.raised_kg, 2.0), draw(rear.behind_front_mm, 1.6),
        draw(700.0, 3.0), draw(rear.tire.loaded_radius_mm, 1.6),
    )  # fmt: skip
    assert found.sure_mm == pytest.approx(float(heights.std()), rel=0.06)
    job = use_lift(lift).apply(trail_job)
    assert job.vehicle.cg_source == "measured"
    assert job.vehicle.cg_height_mm == pytest.approx(found.height_mm)
    assert job.vehicle.cg_sure_mm == pytest.approx(found.sure_mm)


@pytest.mark.parametrize(
    ("changes", "words"),
    [
        ({"lift_mm": 20.0}, "will not do for this wheelbase"),
        ({"lift_mm": 9000.0}, "will not do for this wheelbase"),
        ({"raised_kg": 900.0}, "not more than when level"),
    ],
)
def test_lifts_that_mean_nothing_are_refused(trail_job: Job, changes: dict[str, float], words: str) -> None:
    plain = {"lift_mm": 700.0, "level_kg": 1100.0, "raised_kg": 1190.0}
    with pytest.raises(InputError, match=words):
        height_by_lift(trail_job, Lift(**(plain | changes)))
