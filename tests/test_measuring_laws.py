"""Laws that measuring has to obey, whatever the figures: invariants by Hypothesis, and SciPy as referee."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import least_squares

from even_stance.exchange.demo import demo_jobs
from even_stance.judgement.search.holefinder import find_holes
from even_stance.judgement.search.limits import Freedom
from even_stance.judgement.search.score import key_score, score
from even_stance.judgement.search.solvefor import solve_for
from even_stance.mechanics.locating import flatness, trilaterate
from even_stance.mechanics.repeats import mean_and_sure
from even_stance.mechanics.squaring import squareness
from even_stance.mechanics.weighing import cg_height_by_lift, cg_over_ground
from even_stance.shop.angles import against, shaft_angle
from even_stance.shop.cribs import plan_cribs
from even_stance.shop.gauges import GaugeReader, line_of
from even_stance.shop.readings import means_of, new_reading
from even_stance.shop.sheet import set_aside, take_reading
from even_stance.study.answers import study_postures
from even_stance.study.heights import study_heights
from even_stance.study.model import layout_of, linkage_from, mount_points
from even_stance.vehicle.driveline import Yoke
from even_stance.vehicle.edits import set_holes, set_job, set_wheelbase
from even_stance.vehicle.job import Band, Job
from even_stance.vehicle.measuring import Crib
from even_stance.vehicle.records import Point
from even_stance.vehicle.spots import Spot

JOB = demo_jobs()[0]
angle = st.floats(0.0, 44.0)


# --- angles


@given(angle, st.sampled_from(["up", "down"]))
def test_four_ways_to_hold_the_finder_are_one_angle(true: float, way: str) -> None:
    sign = 1.0 if way == "up" else -1.0
    for shown, on, zero in ((true, "shaft", "level"), (90 - true, "shaft", "plumb"), (90 - true, "face", "level"),
                            (true, "face", "plumb")):  # fmt: skip
        assert shaft_angle(shown, on, zero, way) == pytest.approx(sign * true, abs=1e-9)  # type: ignore[arg-type]


@given(st.floats(-30, 30), st.floats(-5, 5), st.floats(-5, 5))
def test_floor_and_frame_angles_differ_by_the_rake(level: float, slope: float, rake: float) -> None:
    assert against(level, "floor", slope, rake) - against(level, "frame", slope, rake) == pytest.approx(rake)
    assert against(level, "level", slope, rake) == level


# --- readings


@given(st.lists(st.floats(-3.0, 3.0), min_size=1, max_size=9), st.randoms())
def test_the_order_of_readings_does_not_matter(values: list[float], rng: object) -> None:
    mean, sure = mean_and_sure(np.array(values), 0.2)
    rng.shuffle(values)  # type: ignore[attr-defined]
    assert mean_and_sure(np.array(values), 0.2) == pytest.approx((mean, sure))
    assert min(values) - 1e-12 <= mean <= max(values) + 1e-12
    assert sure >= 0.1 - 1e-12


@settings(max_examples=25, deadline=None)
@given(st.lists(st.floats(900.0, 1100.0), min_size=2, max_size=6), st.integers(0, 5))
def test_setting_aside_is_as_if_it_had_not_been_read(values: list[float], which: int) -> None:
    which %= len(values)
    job = JOB
    for v in values:
        job = take_reading(new_reading(job, "track.rear", "length", v, "tape", "")).apply(job)
    without = JOB
    for i, v in enumerate(values):
        if i != which:
            without = take_reading(new_reading(without, "track.rear", "length", v, "tape", "")).apply(without)
    aside = set_aside(which).apply(job)
    assert aside.vehicle == without.vehicle
    assert means_of(aside)["track.rear"].value == pytest.approx(means_of(without)["track.rear"].value)
    assert set_aside(which, False).apply(aside) == job


# --- tapes and diagonals


@settings(max_examples=150, deadline=None)
@given(st.integers(0, 100_000), st.integers(5, 9), st.floats(15.0, 80.0))
def test_a_tape_misread_by_half_an_inch_or_more_is_never_blamed_on_another(seed: int, count: int, off: float) -> None:
    rng = np.random.default_rng(seed)
    places = rng.uniform((-3000, -900, 0), (0, 900, 1200), (count, 3))
    point = rng.uniform((-2500, -600, 200), (-500, 600, 900))
    bad = int(rng.integers(count))
    distances = np.linalg.norm(places - point, axis=1) + rng.normal(0, 0.8, count)
    distances[bad] += off
    if flatness(places)[2] < 150.0:
        return  # all but in one plane: a tape across it can hardly be told from its mirror image
    found = trilaterate(places, distances, np.full(count, 1.6), point)
    assert found.suspect in (-1, bad)


@settings(max_examples=40, deadline=None)
@given(st.integers(0, 100_000))
def test_contradicting_distances_are_fitted_as_scipy_fits_them(seed: int) -> None:
    rng = np.random.default_rng(seed)
    front, rear = rng.uniform(1300, 1700, 2)
    measured = np.array([2800.0, 2800.0, 0.0, 0.0]) + rng.normal(0, 8.0, 4)
    measured[2:] += np.hypot(2800.0, (front + rear) / 2)

    def reckoned(state: np.ndarray) -> np.ndarray:  # type: ignore[type-arg]
        behind, aside, yaw = state
        ends = {
            s: np.array([-behind - s * rear / 2 * np.sin(yaw), aside + s * rear / 2 * np.cos(yaw)]) for s in (1, -1)
        }
        pairs = ((1, 1), (-1, -1), (1, -1), (-1, 1))
        return measured - [np.hypot(*(ends[r] - (0.0, f * front / 2))) for f, r in pairs]

    theirs = least_squares(reckoned, [2800.0, 0.0, 0.0], x_scale=(1.0, 1.0, 1e-3), xtol=1e-15, ftol=1e-15)
    ours = squareness(measured, front, rear)
    assert float((ours.residual**2).sum()) <= float((theirs.fun**2).sum()) * (1 + 1e-6) + 1e-9
    assert (ours.behind, ours.aside) == pytest.approx(tuple(theirs.x[:2]), abs=1e-2)


# --- weight


@given(st.lists(st.floats(50.0, 900.0), min_size=4, max_size=4), st.floats(0.1, 5.0), st.floats(-500.0, 500.0))
def test_cg_scales_moves_and_mirrors_with_the_car(loads: list[float], factor: float, shift: float) -> None:
    kg, wheels = np.array(loads), np.array([[0.0, 750.0], [0.0, -750.0], [-2800.0, 750.0], [-2800.0, -750.0]])
    total, place = cg_over_ground(kg, wheels)
    heavier, same = cg_over_ground(factor * kg, wheels)
    assert float(heavier) == pytest.approx(factor * float(total))
    assert same == pytest.approx(place)
    assert cg_over_ground(kg, wheels + shift)[1] == pytest.approx(place + shift)
    mirrored = cg_over_ground(kg, wheels * (1.0, -1.0))[1]
    assert mirrored == pytest.approx(place * (1.0, -1.0))
    assert -2800.0 <= place[0] <= 0.0


@given(st.floats(300.0, 1200.0), st.floats(0.2, 0.8), st.floats(300.0, 1500.0))
def test_lift_is_undone_by_the_formula(height: float, share: float, lift: float) -> None:
    """Round robin: the load a known height gives, put into the formula, gives the height back."""
    base, total, radius = 2800.0, 1800.0, 380.0
    level = total * share
    tangent = lift / np.sqrt(base**2 - lift**2)
    raised = level + total * (height - radius) * tangent / base
    found = cg_height_by_lift(*(np.array(v) for v in (total, level, raised, base, lift, radius)))
    assert float(found) == pytest.approx(height, rel=1e-9)


# --- gauges


@settings(max_examples=20, deadline=None)
@given(st.lists(st.floats(-999, 999), min_size=1, max_size=30), st.lists(st.integers(1, 40), min_size=1, max_size=30))
def test_lines_arrive_whole_however_the_line_chops_them(values: list[float], chops: list[int]) -> None:
    sent = b"".join(line_of("LEN", v, "mm", True).encode() + b"\r\n" for v in values)

    class Chopped:
        def __init__(self) -> None:
            self.rest, self.n = sent, 0

        def read(self, _size: int) -> bytes:
            count = chops[self.n % len(chops)]
            self.n += 1
            came, self.rest = self.rest[:count], self.rest[count:]
            return came

        def close(self) -> None:
            pass

    port = Chopped()
    reader = GaugeReader(lambda: port)
    while port.rest:
        pass
    reader.close()
    taken = reader.take()
    # The very last chunk may still have been on its way when the reader was closed.
    assert [r.value for r in taken] == pytest.approx([round(v, 2) for v in values][: len(taken)], abs=0.0051)
    assert len(taken) >= len(values) - 1
    assert reader.bad_lines == 0


# --- heights, cribs, wheelbase


@settings(max_examples=15, deadline=None)
@given(st.floats(5.0, 60.0))
def test_ride_height_range_is_the_middle_of_a_wider_one(reach: float) -> None:
    axle = JOB.vehicle.axle("rear")
    near, far = study_heights(JOB.vehicle, axle, reach), study_heights(JOB.vehicle, axle, 2 * reach)
    for key in ("anti_squat_axle_pct", "roll_center_mm"):
        assert near.values[key][::2] == pytest.approx(far.values[key][5:16], rel=1e-9)
        assert near.values[key][10] == pytest.approx(far.values[key][10])


@settings(max_examples=30, deadline=None)
@given(st.floats(200.0, 900.0), st.floats(25.0, 60.0), st.floats(70.0, 150.0))
def test_a_crib_is_as_high_as_its_layers_and_nothing_is_cut_twice(height: float, thick: float, wide: float) -> None:
    crib = Crib(height_mm=height, thick_mm=thick, wide_mm=wide)
    if not 3 <= round(height / thick) <= 30:
        return
    plan = plan_cribs(JOB.vehicle, crib)
    assert plan.height_mm == pytest.approx(plan.layers * thick)
    assert abs(plan.height_mm - height) <= thick / 2 + 1e-9
    assert sum(len(b) for b in plan.bars) == sum(c.count for c in plan.cuts)
    assert all(c.count % 4 == 0 for c in plan.cuts)  # four cribs alike
    assert len(plan.screws) == plan.layers


def test_a_new_wheelbase_takes_the_pinion_along_and_leaves_the_output() -> None:
    yokes = {n: Yoke(at=Point(x=x, y=0.0, z=450.0)) for n, x in (("output", -1300.0), ("pinion", -2600.0))}
    rear = JOB.vehicle.axle("rear").model_copy(update=yokes)
    job = JOB.model_copy(update={"vehicle": JOB.vehicle.model_copy(update={"axles": (JOB.vehicle.axles[0], rear)})})
    longer = set_wheelbase(JOB.vehicle.wheelbase_mm + 100.0).apply(job).vehicle.axle("rear")
    assert longer.pinion.at.x == pytest.approx(-2700.0)  # type: ignore[union-attr]
    assert longer.output.at.x == -1300.0  # type: ignore[union-attr]


# --- ranking and solving


@given(st.floats(-200, 300), st.floats(-200, 300), st.floats(-50, 100), st.floats(1, 200))
def test_nearer_to_the_band_never_scores_worse(a: float, b: float, low: float, width: float) -> None:
    band = Band(low=low, high=low + width)
    middle = low + width / 2
    near, far = sorted((a, b), key=lambda v: abs(v - middle))
    scores = key_score(np.array([near, far]), band)
    assert scores[0] <= scores[1] + 1e-12


@settings(max_examples=10, deadline=None)
@given(st.floats(0.0, 10.0), st.floats(0.1, 9.0))
def test_weights_scale_and_nil_ones_do_not_count(weight: float, factor: float) -> None:
    values = {"anti_squat_axle_pct": np.array([20.0, 80.0, 140.0]), "roll_steer_pct": np.array([0.0, 14.0, 20.0])}
    one = score(set_job("w", weights={"anti_squat_pct": weight, "roll_steer_pct": 0.0}).apply(JOB), "rear", values)
    scaled = min(weight * factor, 10.0)
    other = score(set_job("w", weights={"anti_squat_pct": scaled, "roll_steer_pct": 0.0}).apply(JOB), "rear", values)
    assert one * scaled == pytest.approx(other * weight, abs=1e-9)


def test_a_heavier_weight_never_gives_a_worse_value_of_that_number() -> None:
    job: Job = JOB
    for name, end in (("Upper left", "chassis"), ("Lower left", "chassis"), ("Upper left", "axle")):
        job = set_holes(Spot("rear", name, end), 5, 22.0).apply(job)
    band = Band(low=-1.0, high=1.0)
    off = []
    for weight in (0.0, 0.5, 2.0, 10.0):
        wished = set_job("w", weights={"roll_steer_pct": weight}, bands={"roll_steer_pct": band}).apply(job)
        search = find_holes(wished)
        value = search.tries[0].values["roll_steer_pct"][search.best[0].picks[0]]
        off.append(float(key_score(np.array([value]), band)[0]))
    assert off == sorted(off, reverse=True)


def test_solve_finds_what_a_fine_grid_finds() -> None:
    """Two free heights, every quarter millimeter tried: no grid point that meets both numbers is nearer."""
    axle = JOB.vehicle.axle("rear")
    upper, lower = Spot("rear", "Upper left", "chassis"), Spot("rear", "Lower left", "chassis")
    goal = {"anti_squat_axle_pct": 75.0, "roll_steer_pct": 0.5}
    free = [Freedom(upper, 2, -40.0, 40.0), Freedom(lower, 2, -40.0, 40.0)]
    solved = solve_for(JOB, "rear", goal, free)
    assert solved.reached
    steps = np.arange(-40.0, 40.1, 0.5)
    a, b = (g.ravel() for g in np.meshgrid(steps, steps))
    layout, base = layout_of(axle), mount_points(axle)
    places = {Spot("rear", p.member.name, p.end): i for i, p in enumerate(layout.mounts)}
    points = np.broadcast_to(base, (len(a), *base.shape)).copy()
    for side in ("left", "right"):
        points[:, places[Spot("rear", f"Upper {side}", "chassis")], 2] += a
        points[:, places[Spot("rear", f"Lower {side}", "chassis")], 2] += b
    zero = np.zeros(len(a))
    values = study_postures(JOB.vehicle, axle, zero, zero, linkage_from(axle, layout, points)).values
    off = np.abs(values["anti_squat_axle_pct"] - 75.0) / 5.0 + np.abs(values["roll_steer_pct"] - 0.5) / 5.0
    at = int(off.argmin())
    after = solved.edit.apply(JOB).vehicle.axle("rear")
    for name, moved in (("Upper left", a[at]), ("Lower left", b[at])):
        before = axle.member(name).mounts["chassis"].at.z
        assert after.member(name).mounts["chassis"].at.z - before == pytest.approx(moved, abs=0.75)
