"""As built: readings of the built car make a car of their own, and what is off is put right by what is offered."""

from itertools import permutations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import root
from scipy.spatial.transform import Rotation

from even_stance.exchange.demo import demo_jobs
from even_stance.exchange.jobfile import dump_job, parse_job
from even_stance.mechanics.rigidfit import odd_one, rigid_fit
from even_stance.shop.asbuilt import as_built, built_stages, deviations, expected, groups
from even_stance.shop.builtstudy import study_built_axle
from even_stance.shop.fixes import Fix, as_cut, fixes, hung, rods_of, stand_of
from even_stance.shop.readings import means_of, new_reading
from even_stance.shop.rechecks import due
from even_stance.shop.sheet import set_aside, sheet, take_reading
from even_stance.study.model import wheel_centers
from even_stance.vehicle.edits import move_by, set_log, set_measuring, set_rechecks, turn_built, with_changes
from even_stance.vehicle.job import Job
from even_stance.vehicle.log import Recheck
from even_stance.vehicle.measuring import Reading, Stage
from even_stance.vehicle.spots import Spot, point_of

UPPER = Spot("rear", "Upper left", "chassis")
SPOTS = [
    Spot("rear", f"{m} {s}", e) for m in ("Upper", "Lower") for s in ("left", "right") for e in ("chassis", "axle")
]


def reading(job: Job, spot: Spot, axis: str, off: float, stage: Stage = "tacked") -> Reading:
    what = f"{spot.axle}/{spot.member}/{spot.end}/{axis}"
    should = expected(job, what)
    assert should is not None
    taken = new_reading(job, what, "length", should + off, "rule", "2026-04-04T10:00")
    return with_changes(taken, stage=stage)


def measured(job: Job, spot: Spot, off: tuple[float, float, float], stage: Stage = "tacked") -> Job:
    for axis, by in zip(("ahead", "left", "up"), off, strict=True):
        job = take_reading(reading(job, spot, axis, by, stage)).apply(job)
    return job


STAGES = st.sampled_from(["tacked", "welded", "settled", "driven", "later"])
READINGS = st.lists(st.tuples(st.sampled_from(SPOTS), st.sampled_from(["ahead", "left", "up"]),
                              st.floats(-15.0, 15.0), STAGES), min_size=1, max_size=6)  # fmt: skip


@given(READINGS)
@settings(max_examples=25)
def test_a_built_reading_never_moves_the_design(rows: list[tuple[Spot, str, float, Stage]]) -> None:
    job = demo_jobs()[0]
    after = job
    for spot, axis, off, stage in rows:
        after = take_reading(reading(job, spot, axis, off, stage)).apply(after)
    assert after.vehicle == job.vehicle
    assert len(after.measuring.readings) == len(job.measuring.readings) + len(rows)
    # Setting all of them aside takes their effect away.
    for i in range(len(job.measuring.readings), len(after.measuring.readings)):
        after = set_aside(i).apply(after)
    assert as_built(after).vehicle == job.vehicle
    assert deviations(after) == []


@given(READINGS)
@settings(max_examples=25)
def test_the_order_of_entry_does_not_matter(rows: list[tuple[Spot, str, float, Stage]]) -> None:
    job = demo_jobs()[0]
    cars = []
    for order in (rows, rows[::-1]):
        now = job
        for spot, axis, off, stage in order:
            now = take_reading(reading(job, spot, axis, off, stage)).apply(now)
        cars.append(as_built(now).vehicle)
    for spot in SPOTS:
        a, b = (point_of(with_changes(job, vehicle=car), spot).xyz for car in cars)
        assert a == pytest.approx(b, abs=1e-9)


def test_stages_are_never_put_together_and_the_last_one_counts() -> None:
    job = demo_jobs()[0]
    should = point_of(job, UPPER).z
    for order in permutations((("tacked", 12.0), ("welded", 4.0), ("welded", 6.0))):
        now = job
        for stage, off in order:
            now = take_reading(reading(job, UPPER, "up", off, stage)).apply(now)  # type: ignore[arg-type]
        assert built_stages(now) == ["tacked", "welded"]
        assert point_of(as_built(now), UPPER).z == pytest.approx(should + 5.0)
        assert point_of(as_built(now, "tacked"), UPPER).z == pytest.approx(should + 12.0)
        assert point_of(now, UPPER).z == should
    # Found readings make the design, and only those.
    found = take_reading(reading(job, UPPER, "up", 7.0, "found")).apply(now)
    assert point_of(found, UPPER).z == pytest.approx(should + 7.0)
    assert means_of(found)["rear/Upper left/chassis/up"].count == 1


def test_old_jobs_open_with_their_readings_as_found() -> None:
    job = demo_jobs()[1]
    text = dump_job(job)
    assert '"stage"' not in text or '"found"' in text
    old = text.replace('"stage": "found",', "").replace(',\n     "stage": "found"', "")
    again = parse_job(old, "old.stance")
    assert {r.stage for r in again.measuring.readings} == {"found"}
    assert again.vehicle == job.vehicle


def test_every_reading_of_the_sheet_knows_what_to_expect() -> None:
    """Typed as it is expected, no reading makes the built car differ from the design."""
    job = demo_jobs()[0]
    known = 0
    for step in sheet(job):
        for field in step.fields:
            should = expected(job, field.what)
            if should is None or field.what.startswith("scale"):
                continue
            known += 1
            row = Reading(what=field.what, quantity=field.quantity, value=should, sure=0.5, stage="tacked")
            built = as_built(take_reading(row).apply(job))
            moved = [d for d in deviations(take_reading(row).apply(job)) if d.far_mm > 1e-6]
            assert not moved, (field.what, moved[0].spot)
            assert built.vehicle.wheelbase_mm == pytest.approx(job.vehicle.wheelbase_mm)
    assert known > 60


# --- rigid fit


@given(st.integers(0, 10_000), st.integers(3, 9))
@settings(max_examples=60)
def test_rigid_fit_against_scipy(seed: int, count: int) -> None:
    """SciPy's align_vectors is Kabsch's method as well, written by others."""
    rng = np.random.default_rng(seed)
    should = rng.normal(size=(count, 3)) * 400.0
    turn, shift = Rotation.from_rotvec(rng.normal(size=3) * 0.1), rng.normal(size=3) * 20.0
    are = turn.apply(should) + shift + rng.normal(size=(count, 3))
    fit = rigid_fit(should, are)
    theirs, _ = Rotation.align_vectors(are - are.mean(axis=0), should - should.mean(axis=0))
    assert fit.rotation == pytest.approx(theirs.as_matrix(), abs=1e-9)
    assert fit.middle + fit.shift == pytest.approx(are.mean(axis=0))
    assert np.linalg.det(fit.rotation) == pytest.approx(1.0)


def test_a_mirror_image_is_never_called_a_turn() -> None:
    """The trap of the brief: without a guard on the determinant a flat group fits its mirror image perfectly."""
    should = np.array([[0, 0, 0], [300, 0, 0], [0, 200, 0], [300, 200, 10.0]])
    are = should * (1.0, 1.0, -1.0)
    fit = rigid_fit(should, are)
    assert np.linalg.det(fit.rotation) == pytest.approx(1.0)
    assert fit.rms > 0.0


def test_the_largest_residual_is_not_the_bad_point() -> None:
    """The trap of the brief: a bad point far out pulls the fit toward itself; leaving one out finds it."""
    should = np.array([[0, 0, 0], [100, 0, 0], [0, 100, 0], [100, 100, 0], [900, 50, 0.0]])
    are = should.copy()
    are[4] += (0.0, 0.0, 20.0)
    left = np.linalg.norm(rigid_fit(should, are).left, axis=1)
    assert int(left.argmax()) != 4
    k, fit = odd_one(should, are)
    assert k == 4
    assert fit.rms == pytest.approx(0.0, abs=1e-9)
    assert np.linalg.norm(fit.left[4]) == pytest.approx(20.0)


def test_a_whole_axle_that_moved_is_one_movement_and_its_odd_bracket_is_named() -> None:
    job = demo_jobs()[0]
    ends = [s for s in SPOTS if s.end == "chassis"]
    for spot in ends:
        job = measured(job, spot, (5.0, 0.0, 3.0))
    group = next(g for g in groups(job) if "frame" in g.body)
    assert group.fit.shift == pytest.approx((5.0, 0.0, 3.0), abs=1e-6)
    assert group.odd is None


# --- fixes


def _by_scipy(job: Job, built: Job, more: np.ndarray) -> tuple[float, float, float, float]:  # type: ignore[type-arg]
    """Where the rear axle stands on its four links: their lengths and both wheels' heights, solved by SciPy.

    Nose up, aside, ahead and square, against the design.
    """
    axle, design = built.vehicle.axle("rear"), job.vehicle.axle("rear")
    names = rods_of(design)
    ends = [axle.member(n).mounts for n in names]
    frame, own = (np.array([m[e].at.xyz for m in ends]) for e in ("chassis", "axle"))
    lengths = np.linalg.norm(own - frame, axis=1) + as_cut(job, axle, "rear") + more
    center, wheels = np.array(axle.center), wheel_centers(axle)

    def gap(q: np.ndarray) -> np.ndarray:  # type: ignore[type-arg]
        turn = Rotation.from_rotvec(q[3:] / 1000.0)
        there = center + q[:3] + turn.apply(own - center)
        tube = turn.apply(wheels - center)
        return np.array([*(np.linalg.norm(there - frame, axis=1) - lengths), q[2] + tube[0, 2], q[2] + tube[1, 2]])

    found = root(gap, np.zeros(6), tol=1e-12)
    assert np.abs(gap(found.x)).max() < 1e-6
    turn = Rotation.from_rotvec(found.x[3:] / 1000.0)
    ahead = turn.apply([1.0, 0.0, 0.0])
    across = turn.apply([0.0, 1.0, 0.0])
    nose = float(np.degrees(np.arcsin(ahead[2])))
    return nose, float(found.x[1]), float(found.x[0]), float(across[0] * design.track_mm)


def _row(job: Job, fix: Fix) -> np.ndarray:  # type: ignore[type-arg]
    by = dict(fix.longer)
    return np.array([by.get(n, 0.0) for n in rods_of(job.vehicle.axle("rear"))])


@given(st.integers(0, 100_000))
@settings(max_examples=110)
def test_the_fix_offered_brings_the_axle_back_as_it_promises(seed: int) -> None:
    """A hundred and ten built cars, each with one bracket up to 14 mm off: what the first fix promises SciPy finds as well."""
    rng = np.random.default_rng(seed)
    design = demo_jobs()[0]
    spot = SPOTS[int(rng.integers(len(SPOTS)))]
    off = rng.normal(size=3)
    off *= rng.uniform(4.0, 14.0) / np.linalg.norm(off)
    job = measured(design, spot, tuple(off.tolist()))
    found = fixes(job, "rear")
    assert found
    first = found[0]
    assert first.stand.good
    built = as_built(job)
    if first.kind != "hole":
        moved = built if first.spot is None else move_by(first.spot, *first.moved, both_sides=False).apply(built)
        theirs = _by_scipy(job, moved, _row(job, first))
        ours = (first.stand.nose_up_deg, first.stand.aside_mm, first.stand.ahead_mm, first.stand.square_mm)
        assert ours == pytest.approx(theirs, abs=2e-3)
        assert abs(theirs[0]) <= 0.5
        assert max(abs(v) for v in theirs[1:]) <= 3.175 + 1e-6
    assert any(f.kind == "move" and f.stand.badness < 1e-12 for f in found)
    assert found[-1].kind == "live" or not found[-1].stand.good


def test_a_fix_that_is_taken_is_in_the_car_after_measuring_again() -> None:
    job = measured(demo_jobs()[0], UPPER, (6.0, 0.0, -11.0))
    now = stand_of(job, "rear", as_built(job))
    assert now is not None
    assert not now.good
    turn = next(f for f in fixes(job, "rear") if f.kind == "turn")
    for name, longer in turn.longer:
        job = turn_built("rear", name, longer).apply(job)
    again = stand_of(job, "rear", as_built(job))
    assert again is not None
    assert again.badness == pytest.approx(turn.stand.badness)
    # The threads have less left by what was turned, and no fix of threads is offered that they cannot take.
    for fix in fixes(job, "rear"):
        assert fix.kind != "turn" or all(abs(v) < 30.0 for _, v in fix.longer)
    moved = next(f for f in fixes(measured(demo_jobs()[0], UPPER, (6.0, 0.0, -11.0)), "rear") if f.kind == "move")
    assert moved.moved == pytest.approx((-6.0, 0.0, 11.0), abs=1e-6)
    assert "7/16 in up" in moved.title


def test_a_joint_a_little_aside_is_shimmed_and_one_far_aside_is_not() -> None:
    """Spacers swapped bring a joint back along its bolt, as far as spacers allow; the axle then stands as designed."""
    shim = next(f for f in fixes(measured(demo_jobs()[0], UPPER, (0.0, 5.0, 0.0)), "rear") if f.kind == "shim")
    assert shim.moved == pytest.approx((0.0, -5.0, 0.0), abs=1e-9)
    assert shim.stand.badness < 1e-12
    assert "to the right" in shim.title
    assert not [f for f in fixes(measured(demo_jobs()[0], UPPER, (0.0, 9.0, 0.0)), "rear") if f.kind == "shim"]


def test_what_is_counted_in_miles_or_trips_is_due_again_every_so_many() -> None:
    job = demo_jobs()[0]
    nuts, straps = Recheck(title="Nuts", when="miles", every=500.0), Recheck(title="Straps", when="trips", every=3.0)
    job = set_rechecks("", (nuts, straps)).apply(job)
    assert due(job) == []
    job = set_log("Miles so far", miles=499.0, trips=3.0).apply(job)
    assert due(job) == [straps]
    job = set_log("Miles so far", miles=640.0).apply(job)
    assert due(job) == [nuts, straps]
    job = set_rechecks("", (with_changes(nuts, done="2026-01-01", at=640.0), straps)).apply(job)
    assert due(set_log("", miles=1139.0).apply(job)) == [straps]
    assert [r.title for r in due(set_log("", miles=1140.0).apply(job))] == ["Nuts", "Straps"]


def test_nothing_off_needs_no_fix_and_the_tapes_doubt_is_none() -> None:
    job = measured(demo_jobs()[0], UPPER, (0.2, 0.1, -0.2))
    assert not [d for d in deviations(job) if d.really]
    assert fixes(job, "rear") == []
    study = study_built_axle(measured(job, UPPER, (6.0, 0.0, -11.0), "welded"), "rear")
    assert study is not None
    assert study.stage == "welded"
    assert study.does[UPPER].badness > 1.0
    assert all(v.sentence.startswith("Design ") for v in study.verdicts)
    car = hung(job, "rear", as_built(job))
    assert car.vehicle.axle("rear").members
    assert set_measuring("Stage", stage="welded").apply(job).measuring.stage == "welded"
