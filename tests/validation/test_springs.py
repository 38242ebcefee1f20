"""Springs against handbooks, an independent multibody engine, and plain calculus.

Sources: Shigley, Mechanical Engineering Design (coil rate and Wahl factors, from memory); Gillespie, Fundamentals of
Vehicle Dynamics, ch. 5 and 6 (static deflection and frequency, roll rate, from memory); MuJoCo as multibody engine;
SciPy for integrals and minima.
"""

from dataclasses import dataclass
from itertools import pairwise

import mujoco
import numpy as np
import pytest
from scipy.integrate import quad
from scipy.optimize import minimize

from even_stance.judgement.catalog.layouts import BaseKey
from even_stance.judgement.catalog.springs import SpringKey, starting_springs
from even_stance.judgement.catalog.starter import with_layout
from even_stance.mechanics.coils import (
    AIR_BAR,
    POLYTROPIC,
    STEEL_SHEAR,
    STEEL_YOUNG,
    air_force,
    bar_rate,
    coil_rate,
    coil_stress,
    leaf_pack_rate,
    pair_closes,
    pair_force,
    wahl_factor,
)
from even_stance.mechanics.leaning import G, ride_frequency, roll_per_g
from even_stance.mechanics.statics import member_loads, wrench_of
from even_stance.study.answers import answers_at, study_postures
from even_stance.study.ride import axle_ride, car_ride
from even_stance.study.springloads import spring_rows
from even_stance.study.springs import study_springs
from even_stance.study.standing import push_at, stand
from even_stance.vehicle.car import Axle, Vehicle
from even_stance.vehicle.edits import add_springs, move_by, set_axle, set_vehicle
from even_stance.vehicle.job import Job
from even_stance.vehicle.spots import Spot
from even_stance.vehicle.springs import Cargo, CoilOver
from tests.conftest import starter
from tests.validation.record import against
from tests.validation.test_mujoco import Model, _settle, _text

PSI, INCH, POUND = 0.006894757, 25.4, 4.4482216


def sprung(base: BaseKey = "three_link", *kinds: SpringKey, axles: tuple[str, ...] = ("rear",)) -> Job:
    """A weighed car on a layout, with springs of some kinds."""
    job = starter()
    for key in ("front", "rear"):
        job = with_layout(job, key, base, None, keep=False)
        job = set_axle(key, "Weights", load_kg=900.0, unsprung_kg=190.0, bump_mm=90.0, droop_mm=90.0).apply(job)
    job = set_vehicle("CG", cg_height_mm=640.0).apply(job)
    for key in axles:
        for kind in kinds:
            job = add_springs(key, starting_springs(job, key, kind), "Springs").apply(job)
    return job


def test_coil_formula_of_a_handbook() -> None:
    """Music wire 0.037 in, mean diameter 0.400 in, 10.5 active coils, G 11.85 Mpsi: 4.13 lb/in."""
    rate = coil_rate(0.037 * INCH, 0.4 * INCH, 10.5, 11.85e6 * PSI) / (POUND / INCH)
    against("published, from memory", "Shigley, Mechanical Engineering Design, example 10-1", "coil rate", 4.13, rate,
            "lb/in", 0.005)  # fmt: skip


@pytest.mark.parametrize(("index", "published"), [(4.0, 1.404), (6.0, 1.253), (8.0, 1.184), (10.0, 1.145)])
def test_wahl_factors_of_a_table(index: float, published: float) -> None:
    """The tabulated factors, three decimals; the stress is the factor times that of a straight bar."""
    against("published, from memory", "Wahl, Mechanical Springs, curvature factors", f"Wahl factor at index {index:g}",
            published, wahl_factor(index), "", 0.0006)  # fmt: skip
    straight = 8.0 * 500.0 * index * 10.0 / (np.pi * 10.0**3)
    assert coil_stress(500.0, 10.0 * index, 10.0) == pytest.approx(published * straight, rel=6e-4)


@pytest.mark.parametrize("share", [0.5, 0.4, 0.31])
def test_leaf_pack_is_a_beam_of_uniform_strength(share: float) -> None:
    """Leaves graded to a point are a beam as wide at the seat as all of them and pointed at the eyes: integrated.

    The seat need not be in the middle: each eye then takes its part of the force by the other's length.
    """
    leaves, wide, thick, span, force = 5, 63.5, 7.0, 1200.0, 4000.0
    halves = (share * span, (1.0 - share) * span)

    def energy(half: float, push: float) -> float:
        """Of one half under the push at its eye."""

        def bent(x: float) -> float:
            second = leaves * wide * x / half * thick**3 / 12.0
            return (push * x) ** 2 / (2.0 * STEEL_YOUNG * second)

        return float(quad(bent, 0.0, half)[0])

    held = sum(energy(half, force * other / span) for half, other in (halves, halves[::-1]))
    ours = leaf_pack_rate(halves, 0.0, leaves, wide, thick, 1.0)
    against("worked by hand", "beam of uniform strength, energy integrated by SciPy",
            f"leaf pack, seat at {100 * share:.0f} % of its length, rate", force**2 / (2.0 * held), ours,
            "N/mm", 1e-6)  # fmt: skip
    if share == 0.5:
        clamped = leaf_pack_rate(halves, 100.0, leaves, wide, thick, 1.0)
        assert clamped / ours == pytest.approx((1200.0 / 1100.0) ** 3)  # what the U-bolts hold still counts


def test_bar_gives_by_twist_and_by_its_arms() -> None:
    """The energy of a twisted bar and two bent arms under a push at their ends, integrated."""
    across, bar, reach, arm = 900.0, 22.0, 230.0, 20.0
    polar, second = np.pi * bar**4 / 32.0, np.pi * arm**4 / 64.0
    push = 700.0
    twist = quad(lambda _: (push * reach) ** 2 / (2.0 * STEEL_SHEAR * polar), 0.0, across)[0]
    bend = 2.0 * quad(lambda x: (push * x) ** 2 / (2.0 * STEEL_YOUNG * second), 0.0, reach)[0]
    angle = 2.0 * (twist + bend) / (push * reach)
    ours = float(bar_rate(np.array(across), bar, 0.0, np.array(reach), arm))
    against("worked by hand", "strain energy, integrated by SciPy", "sway bar, torque per turn",
            push * reach / angle / 1e6, ours / 1e6, "kN m/rad", 1e-6)  # fmt: skip


def test_two_coils_past_their_stop_are_one() -> None:
    """Each coil followed by itself: SciPy finds the split that stores least, solid coils and stop as walls."""
    lower, upper = 60.0, 35.0
    for low_room, stop in ((110.0, 40.0), (20.0, 90.0), (50.0, 85.7)):  # the upper first, the lower, both about at once
        for squeeze in (10.0, 20.0, 60.0, 90.0, 109.0):
            within = (max(0.0, squeeze - low_room), stop)
            if within[0] > within[1]:
                continue  # both are closed: a length that the pair cannot have
            found = minimize(
                lambda x, s=squeeze: 0.5 * upper * x[0] ** 2 + 0.5 * lower * (s - x[0]) ** 2, [within[0] + 0.01],
                bounds=[within], options={"ftol": 1e-15, "gtol": 1e-12},
            )  # fmt: skip
            at_wall, solid = found.x[0] > stop - 1e-6, squeeze - found.x[0] > low_room - 1e-6
            force, rate = pair_force(np.array(squeeze), lower, upper, low_room, stop)
            wanted = upper * found.x[0] if solid else lower * (squeeze - found.x[0])
            assert float(force) == pytest.approx(wanted, rel=1e-6)
            assert float(rate) == pytest.approx(
                upper if solid else lower if at_wall else lower * upper / (lower + upper)
            )
            closes = pair_closes(lower, upper, low_room, stop)
            assert (squeeze >= closes[0] - 1e-6, squeeze >= closes[1] - 1e-6) == (solid, at_wall)
    assert float(pair_force(np.array(-5.0), lower, upper, 50.0, 40.0)[0]) == 0.0


def test_air_pushes_as_its_energy_says() -> None:
    """The force is what the energy of the air changes by per mm, and the rate what the force does (central differences)."""
    heights, areas = np.array([80.0, 120.0, 160.0, 210.0]), np.array([21000.0, 19000.0, 17000.0, 12000.0])
    pressure, volume, ride = 0.5, 3.1e6, np.array(150.0)

    def grown(h: float) -> float:
        return quad(lambda x: float(np.interp(x, heights, areas)), 150.0, h, limit=200, points=[120.0, 160.0])[0]

    for h in (90.0, 140.0, 180.0):
        now = volume + grown(h)
        absolute = (pressure + 0.1 * AIR_BAR) * (volume / now) ** POLYTROPIC
        force = (absolute - 0.1 * AIR_BAR) * np.interp(h, heights, areas)
        args = (heights, areas, pressure, volume, ride, POLYTROPIC)
        ours, rate = air_force(np.array(h), *args)
        against("worked by hand", "p V^n, the area integrated by SciPy", f"air spring at {h:g} mm", float(force),
                float(ours), "N", 1e-3)  # fmt: skip
        less, more = (float(air_force(np.array(h + d), *args)[0]) for d in (-0.01, 0.01))
        assert float(rate) == pytest.approx((less - more) / 0.02, rel=1e-5)


@pytest.mark.parametrize(("inches", "hertz"), [(10.0, 1.0), (5.0, 1.4), (1.0, 3.13)])
def test_static_deflection_gives_the_frequency(inches: float, hertz: float) -> None:
    """A spring that a weight squeezes by ten inches rides at one a second, by five at 1.4, by one at 3.13."""
    rate = 400.0 * G / (inches * INCH)
    against("published, from memory", "Gillespie, Fundamentals of Vehicle Dynamics, ch. 5",
            f"frequency at {inches:g} in of static deflection", hertz, float(ride_frequency(np.array(rate), 400.0)),
            "Hz", 0.02)  # fmt: skip


def test_roll_per_g_is_gillespies_and_moments_balance() -> None:
    """W h1 / (K - W h1); and what goes across at all axles is the moment of the whole car about the ground."""
    job = sprung("three_link", "coil_over", "sway_bar", axles=("front", "rear"))
    car, vehicle = car_ride(job.vehicle), job.vehicle
    rides = [axle_ride(vehicle, a) for a in vehicle.axles]
    weight = sum(r.sprung_kg for r in rides if r is not None) * G
    stiff = sum(r.stiffness for r in rides if r is not None)
    theirs = np.degrees(weight * car.arm_mm / (stiff - weight * car.arm_mm))
    against("published, from memory", "Gillespie, Fundamentals of Vehicle Dynamics, ch. 6, roll rate",
            "roll per g of a car", float(theirs), car.roll_deg, "°", 1e-9)  # fmt: skip
    across = sum(car.transfer_n[a.key] * a.track_mm for a in vehicle.axles)
    lean = np.radians(car.roll_deg)
    moment = vehicle.mass_kg * G * vehicle.cg_height_mm + weight * car.arm_mm * lean
    assert across == pytest.approx(moment, rel=1e-9)
    assert 5.0 < car.gravity_pct < 40.0
    assert np.isnan(roll_per_g(900.0, 400.0, 900.0 * G * 399.0))


CASES: tuple[tuple[BaseKey, SpringKey], ...] = (
    ("three_link", "coil_over"), ("three_link", "rocker"), ("double_triangulated", "coil_over"),
    ("torque_arm", "coil"), ("parallel", "coil_over"), ("three_link", "air"),
)  # fmt: skip


@pytest.mark.parametrize(("base", "kind"), CASES)
def test_rates_are_what_energy_curves_by(base: BaseKey, kind: SpringKey) -> None:
    """Pushes and rates of an axle against differences of the springs' energy at poses solved for themselves."""
    job = sprung(base, kind, "sway_bar")
    vehicle, axle = job.vehicle, job.vehicle.axle("rear")
    left, right, h = 22.0, -13.0, 0.5
    now = study_springs(vehicle, axle, study_postures(vehicle, axle, np.array([left]), np.array([right])))

    def push(a: float, b: float) -> np.ndarray:  # type: ignore[type-arg]
        at = study_postures(vehicle, axle, np.array([left + a]), np.array([right + b]))
        return study_springs(vehicle, axle, at, second=False).push[0]

    rates = np.stack(((push(h, 0) - push(-h, 0)) / (2 * h), (push(0, h) - push(0, -h)) / (2 * h)), axis=1)
    assert now.rates[0] == pytest.approx(rates, rel=2e-4, abs=2e-3)

    def work(a: float, b: float, c: float, d: float) -> float:
        """What the springs push back by, along a straight way between two postures, by Simpson's rule."""
        shares = np.linspace(0.0, 1.0, 21)
        along = np.array([push(a + s * (c - a), b + s * (d - b)) @ [c - a, d - b] for s in shares])
        return float(along @ np.array([1.0, *([4.0, 2.0] * 9), 4.0, 1.0])) / 60.0

    # Springs keep what they are given: around a square of travel nothing is left over.
    square = [(0.0, 0.0), (20.0, 0.0), (20.0, 20.0), (0.0, 20.0), (0.0, 0.0)]
    around = sum(work(*a, *b) for a, b in pairwise(square))
    assert around == pytest.approx(0.0, abs=1e-3 * abs(work(0.0, 0.0, 20.0, 0.0)) + 1e-3)


@pytest.mark.parametrize(("base", "kind"), [("three_link", "coil_over"), ("three_link", "rocker")])
def test_motion_ratio_is_that_of_a_multibody_engine(base: BaseKey, kind: SpringKey) -> None:
    """Where MuJoCo puts the axle 3 mm higher and lower, both wheels and one alone, the spring is that much shorter."""
    job = sprung(base, kind)
    vehicle, axle = job.vehicle, job.vehicle.axle("rear")
    at = answers_at(vehicle, axle, 30.0, 0.0)
    springs = study_springs(vehicle, axle, at)
    for ways, name in (((1.0, 1.0), "heave"), ((1.0, -1.0), "roll")):
        lengths = []
        for sign in (1.0, -1.0):
            model, data = _settle(axle, 30.0 + 3.0 * sign * ways[0], 3.0 * sign * ways[1])
            body = model.body("axle").id
            turned, place = data.xmat[body].reshape(3, 3), data.xpos[body] * 1000
            for run in springs.springs:
                moved = place + (run.unit.points - np.array(axle.center)) @ turned.T
                lengths.append(float(run.unit.measure(moved)))
        count = len(springs.springs)
        for i, run in enumerate(springs.springs):
            theirs = -(lengths[i] - lengths[count + i]) / 6.0
            ours = -float(run.slope[0] @ ways)
            against("referee", "MuJoCo, settled", f"{run.unit.name} on {base}, motion ratio in {name}", theirs, ours, "",
                    3e-4)  # fmt: skip


@dataclass
class Balanced(Model):
    """A linkage whose wheels are pushed up by forces, on springs: the travel rows are left out."""

    def __init__(self, axle: Axle, force: tuple[float, float]) -> None:
        super().__init__(axle)
        self.ties = [t for t in self.ties if "travel" not in t]
        self.force = force
        self.sites, self.tendons = [], []
        for part in axle.springs:
            assert isinstance(part, CoilOver)
            top, bottom = (np.array(getattr(part, end).at.xyz) for end in ("top", "bottom"))
            self.world.append(f'<site name="{part.name}top" pos="{_text(top)}"/>')
            self.in_axle.append(f'<site name="{part.name}low" pos="{_text(bottom - np.array(axle.center))}"/>')
            free = (part.coil.free_mm + part.seats_mm) / 1000
            self.tendons.append(
                f'<spatial stiffness="{1000 * part.coil.rate_n_mm:.12g}" springlength="{free:.12g}" damping="800">'
                f'<site site="{part.name}top"/><site site="{part.name}low"/></spatial>'
            )

    @property
    def xml(self) -> str:
        """With the springs as tendons."""
        return super().xml.replace("</mujoco>", f"<tendon>{''.join(self.tendons)}</tendon></mujoco>")


def test_balance_on_springs_is_that_of_a_multibody_engine() -> None:
    """An axle pushed up by unequal tire forces settles on its leaned coil-overs: within 0.1 mm, loads within 0.1 %."""
    job = sprung("three_link", "coil_over")
    vehicle, axle = job.vehicle, job.vehicle.axle("rear")
    force = (3900.0, 3300.0)
    model = mujoco.MjModel.from_xml_string(Balanced(axle, force).xml)
    data = mujoco.MjData(model)
    model.dof_damping[model.jnt_dofadr[model.body("axle").jntadr[0]] :][:6] = 5.0
    for side, push in zip(("left", "right"), force, strict=True):
        data.xfrc_applied[model.body(side).id, 2] = push
    for _ in range(30000):
        mujoco.mj_step(model, data)
    theirs = [1000 * data.xpos[model.body(s).id][2] - axle.center[2] for s in ("left", "right")]
    place = np.zeros(2)
    for _ in range(20):
        down, stiff = push_at(vehicle, axle, *(float(z) for z in place))
        assert stiff is not None
        place = place + np.linalg.solve(stiff, np.array(force) - down)
    for side, mine, other in zip(("left", "right"), place, theirs, strict=True):
        against("referee", "MuJoCo, settled", f"coil-overs under tire forces, {side} wheel", other, float(mine), "mm",
                0.1)  # fmt: skip
    runs = study_springs(vehicle, axle, answers_at(vehicle, axle, *(float(z) for z in place))).runs
    for i, run in enumerate(runs):
        pushed = float(model.tendon_stiffness[i] * (model.tendon_lengthspring[i, 0] - data.ten_length[i]))
        against("referee", "MuJoCo, settled", f"{run.unit.name} under tire forces, push", pushed, float(run.force[0]),
                "N", 1e-3 * pushed)  # fmt: skip


@pytest.mark.parametrize("kind", ["coil_over", "rocker"])
def test_springs_at_their_mounts_keep_virtual_work(kind: SpringKey) -> None:
    """What springs push at their own mounts to hold tire forces is, through their motion, those tire forces: to 1e-6."""
    job = sprung("three_link", kind)
    vehicle, axle = job.vehicle, job.vehicle.axle("rear")
    for left, right in ((0.0, 0.0), (50.0, -35.0), (-60.0, 20.0)):
        at = answers_at(vehicle, axle, left, right)
        closing = spring_rows(at, at.pose)
        assert closing is not None
        half = np.array([0.0, axle.track_mm / 2, 0.0])
        points = at.pose.center[0] + np.array([half, -half]) @ at.pose.rotation[0].T
        force = np.array([[0.0, 0.0, 3100.0], [0.0, 0.0, 2500.0]])
        pull = member_loads(at.linkage, at.pose, wrench_of(at.pose.center, points[None], force[None], np.zeros((1, 3))),
                            closing)[0, -2:]  # fmt: skip
        springs = study_springs(vehicle, axle, at)
        rows = np.array([r.slope[0] for r in springs.springs])
        if kind == "rocker":  # the row is that of the pushrod: how it moves with the wheels
            rows = np.linalg.solve(np.eye(2), _pushrods(axle, at))
        assert pull @ rows == pytest.approx([3100.0, 2500.0], rel=1e-6)


def _pushrods(axle: Axle, at: object) -> np.ndarray:  # type: ignore[type-arg]
    """How fast the axle's end of either pushrod goes along the rod, per mm of either wheel."""
    rows = spring_rows(at, at.pose)[0]  # type: ignore[attr-defined, index]
    heave, left = at.twists.heave[0], at.twists.left[0]  # type: ignore[attr-defined]
    assert axle.springs
    return rows[:, :6] @ np.stack((left, heave - left), axis=-1)


def test_inboard_springs_hold_little_roll() -> None:
    """Wheel rate x t^2/2 is 2.5 to 10 times what inboard springs hold (common practice, no source)."""
    job = sprung("three_link", "coil_over")
    # A panhard that slopes makes the two sides differ in heave, though everything else is a mirror image.
    bar = next(m for m in job.vehicle.axle("rear").members if m.role == "lateral")
    job = move_by(Spot("rear", bar.name, "chassis"), 0.0, 0.0, 90.0).apply(job)
    ride = axle_ride(job.vehicle, job.vehicle.axle("rear"))
    assert ride is not None
    assert 2.5 < ride.at_wheels / ride.stiffness < 10.0
    left, right = (float(r.motion_ratio[0]) for r in ride.springs.springs)
    assert 1e-3 < abs(left - right) < 0.1


def test_the_car_sits_where_forces_and_moments_balance() -> None:
    """Corner loads add up to the weight with its load, about any axle, and the springs push what they say there."""
    job = sprung("three_link", "coil_over", "sway_bar", axles=("front", "rear"))
    cargo = (Cargo(name="tools", mass_kg=120.0, behind_front_mm=2900.0, left_mm=350.0),)
    vehicle: Vehicle = job.vehicle
    at = stand(vehicle, cargo)
    total = sum(c.load_n for c in at.corners)
    against("worked by hand", "balance of forces", "weight on all tires, 120 kg of tools aboard",
            (vehicle.mass_kg + 120.0) * G, total, "N", 0.01)  # fmt: skip
    rear = sum(at.load("rear"))
    behind = 900.0 * G * vehicle.wheelbase_mm + 120.0 * G * 2900.0
    against("worked by hand", "balance of moments", "rear axle, tools aboard", behind / vehicle.wheelbase_mm, rear, "N",
            0.01)  # fmt: skip
    assert at.residual_n < 0.02
    assert at.lean_deg > 0.05
    assert at.travel("rear")[0] > at.travel("rear")[1] > 0.0
    for axle in vehicle.axles:
        down, _ = push_at(vehicle, axle, *at.travel(axle.key))
        assert down + 0.5 * axle.unsprung_kg * G == pytest.approx(at.load(axle.key), rel=1e-9)
