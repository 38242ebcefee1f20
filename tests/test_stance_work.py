"""The work around the car: readings and the sheet, angles, squareness and turns, heights, cribs."""

from itertools import permutations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import fsolve
from scipy.spatial.transform import Rotation

from even_stance.errors import InputError
from even_stance.exchange.demo import demo_jobs
from even_stance.judgement.catalog.starter import with_layout
from even_stance.judgement.driveline import guessed_powertrain
from even_stance.judgement.explain import explain
from even_stance.mechanics.squaring import squareness
from even_stance.mechanics.vectors import Array
from even_stance.shop.angles import against, shaft_angle, up_down
from even_stance.shop.cribs import CRIB_CHECKS, cut_from_stock, plan_cribs
from even_stance.shop.findings import shop_findings
from even_stance.shop.lowest import low_places, lowest_words
from even_stance.shop.readings import means_of, new_reading
from even_stance.shop.sheet import GROUPS, set_aside, sheet, step_of, take_reading
from even_stance.shop.squaring import GOOD_MM, square_report
from even_stance.study.answers import answers_at
from even_stance.study.figures import study_axle
from even_stance.study.heights import study_heights
from even_stance.vehicle.car import Axle
from even_stance.vehicle.edits import set_measuring, tape_cover, with_changes
from even_stance.vehicle.history import History
from even_stance.vehicle.job import Job
from even_stance.vehicle.measuring import Crib, Heights, LowPoint, Threads
from even_stance.vehicle.records import Point
from even_stance.vehicle.spots import Spot, mount_of, own_point
from even_stance.vehicle.things import Run
from tests.conftest import starter

IN = 25.4


def _read(job: Job, what: str, value: float, tool: str = "tape") -> Job:
    step = step_of(job, what)
    quantity = next(f.quantity for f in step.fields if f.what == what) if step else "length"
    return take_reading(new_reading(job, what, quantity, value, tool, "2026-01-05T09:00")).apply(job)  # type: ignore[arg-type]


def test_sheet_is_in_the_order_of_the_work_and_has_a_picture_for_each_step(rock_job: Job) -> None:
    steps = sheet(rock_job)
    groups = [s.group for s in steps]
    assert [g for i, g in enumerate(groups) if g not in groups[:i]] == list(GROUPS)
    whats = [f.what for s in steps for f in s.fields]
    assert len(whats) == len(set(whats))
    for step in steps:
        assert step.lines, step.key
        assert step.how.endswith(".")


@pytest.mark.parametrize("which", range(len(demo_jobs())))
def test_every_field_of_the_sheet_reaches_the_job(which: int) -> None:
    """Each reading changes just what it says, to the value read, and one undo takes it back."""
    job = set_measuring("none read yet", readings=()).apply(demo_jobs()[which])
    for axle in job.vehicle.axles:
        if axle.steering is not None and axle.steering.ram is not None:
            job = tape_cover(axle.key).apply(job)
    for step in sheet(job):
        if step.key in ("diagonals", "rake") or step.group == "Weight":
            continue
        if step.key.startswith("housing.") and job.vehicle.axle(step.key.partition(".")[2]).housing is None:
            continue  # one is drawn once all three of its measures are there: tests/test_known.py
        for field in step.fields:
            history = History(job)
            now = {"angle": 1.25}.get(field.quantity)
            if now is None:
                now = _present(job, field.what) + 3.0
            assert history.do(take_reading(new_reading(job, field.what, field.quantity, now, "tape", "")))
            assert _present(history.job, field.what) == pytest.approx(now), field.what
            assert history.undo()
            assert history.job == job


def _present(job: Job, what: str) -> float:
    vehicle = job.vehicle
    if "/" in what:
        axle, member, end, which = what.split("/")
        at = mount_of(job, Spot(axle, member, end)).at
        return {"ahead": at.x + vehicle.axle(axle).behind_front_mm, "left": at.y, "up": at.z}[which]
    head, *rest = what.split(".")
    if head in ("front", "rear"):
        return (_yoke if rest[0] in ("output", "pinion") else _steering)(job, head, *rest)
    if head in ("powertrain", "mark"):
        power = vehicle.powertrain or guessed_powertrain(job)
        mark = next((m for m in power.marks if m.name == rest[0]), None)
        at = getattr(power, rest[0]) if mark is None else mark.at
        return {"ahead": at.x, "left": at.y, "up": at.z, "gap": 0.0 if mark is None else mark.gap_mm}[rest[1]]
    if head == "thing":
        return _of_thing(job, *rest)
    if head == "tire":
        names = {"diameter": "free_diameter_mm", "radius": "loaded_radius_mm", "width": "width_mm"}
        return float(getattr(vehicle.axle(rest[0]).tire, names[rest[1]]))
    return float(
        {
            "wheelbase": lambda: vehicle.wheelbase_mm,
            "track": lambda: vehicle.axle(rest[0]).track_mm,
            "frame": lambda: getattr(
                vehicle.frame, {"top": "rail_top_mm", "bottom": "rail_bottom_mm", "out": "rail_out_mm"}[rest[0]]
            ),
            "floor": lambda: job.measuring.floor_slope_deg,
            "tube": lambda: getattr(vehicle.axle(rest[0]), {"outside": "tube_mm", "wall": "tube_wall_mm"}[rest[1]]),
            "housing": lambda: getattr(vehicle.axle(rest[0]).housing, f"{rest[1]}_mm"),
        }[head]()
    )


def _of_thing(job: Job, name: str, *which: str) -> float:
    """A measure of a thing that can be hit, or a coordinate of one of its bends or of its middle."""
    form = next(t for t in job.vehicle.things if t.name == name).form
    if len(which) == 1:
        return float(getattr(form, which[0]))
    points = form.points if isinstance(form, Run) else (form.at,)
    at = points[int(which[0]) - 1]
    return {"ahead": at.x, "left": at.y, "up": at.z}[which[1]]


def _yoke(job: Job, key: str, end: str, which: str) -> float:
    """A coordinate of a shaft end, or how far it rises toward the front; 500 while it is not measured."""
    axle = job.vehicle.axle(key)
    yoke = getattr(axle, end)
    if yoke is None:
        return 500.0
    values = {"ahead": yoke.at.x + axle.behind_front_mm, "left": yoke.at.y, "up": yoke.at.z}
    return float((values | {"angle": yoke.nose_up_deg})[which])


def _steering(job: Job, key: str, what: str, which: str) -> float:
    """A point of the steering, its stop, or a kingpin's angle by hand: rise over run of its two points."""
    axle = job.vehicle.axle(key)
    steering = axle.steering
    assert steering is not None
    if what == "lock":
        return steering.stops_deg[int(which == "left")]
    side, _, name = what.partition("_")
    if name == "kingpin":
        knuckle = getattr(steering, side)
        run = {"caster": knuckle.lower.x - knuckle.upper.x, "lean": abs(knuckle.lower.y) - abs(knuckle.upper.y)}[which]
        return float(np.degrees(np.arctan2(run, knuckle.upper.z - knuckle.lower.z)))
    at = own_point(axle, what)
    assert at is not None
    return {"ahead": at.x + axle.behind_front_mm, "left": at.y, "up": at.z}[which]


def test_several_readings_are_averaged_and_the_odd_one_questioned(trail_job: Job) -> None:
    job = trail_job
    for value in (2.0, 2.2, 1.9, 2.1, 2.05, 9.0):
        job = _read(job, "floor.frame", value, "angle_finder")
    mean = means_of(job)["floor.frame"]
    assert mean.count == 6
    assert mean.odd == 5
    assert mean.scatter == pytest.approx(7.1)
    job = set_aside(mean.odd).apply(job)
    mean = means_of(job)["floor.frame"]
    assert (mean.value, mean.count, mean.odd) == (pytest.approx(2.05), 5, -1)
    assert job.measuring.rake_deg == pytest.approx(2.05)
    assert len(job.measuring.readings) == 6  # set aside, not thrown away
    job = set_aside(5, False).apply(job)
    assert means_of(job)["floor.frame"].count == 6


def test_floor_slope_is_taken_out_of_the_rake(trail_job: Job) -> None:
    job = _read(_read(trail_job, "floor.slope", 0.4), "floor.frame", -0.6)
    assert job.measuring.rake_deg == pytest.approx(-1.0)
    assert against(3.0, "level", 0.4, -1.0) == 3.0
    assert against(3.0, "floor", 0.4, -1.0) == pytest.approx(2.6)
    assert against(3.0, "frame", 0.4, -1.0) == pytest.approx(3.6)


def test_angle_finder_on_a_face() -> None:
    """Common practice, no source: 88 on the yoke's face means the shaft is 2 degrees off level."""
    assert shaft_angle(88.0, "face", "level", "down") == pytest.approx(-2.0)
    assert shaft_angle(2.0, "face", "plumb", "up") == pytest.approx(2.0)
    assert shaft_angle(2.0, "shaft", "level", "up") == pytest.approx(2.0)
    assert shaft_angle(88.0, "shaft", "plumb", "down") == pytest.approx(-2.0)
    assert up_down(-2.04) == "2.0° down"
    for shown, on, words in ((95.0, "shaft", "between 0 and 90"), (88.0, "shaft", "Was the tool on the face")):
        with pytest.raises(InputError, match=words):
            shaft_angle(shown, on, "level", "up")  # type: ignore[arg-type]


@settings(max_examples=50, deadline=None)
@given(st.floats(-2.0, 2.0), st.floats(-60.0, 60.0), st.floats(2200.0, 3600.0))
def test_squareness_is_found_from_exact_distances(yaw_deg: float, aside: float, behind: float) -> None:
    yaw, half = np.radians(yaw_deg), 800.0
    tube = np.array([-np.sin(yaw), np.cos(yaw)])
    rear = {s: np.array([-behind, aside]) + s * half * tube for s in (1, -1)}
    front = {s: np.array([0.0, s * 780.0]) for s in (1, -1)}
    pairs = ((1, 1), (-1, -1), (1, -1), (-1, 1))
    measured = np.array([np.linalg.norm(rear[r] - front[f]) for f, r in pairs])
    found = squareness(measured, 1560.0, 1600.0)
    assert (found.behind, found.aside, found.yaw) == pytest.approx((behind, aside, yaw), abs=1e-6)
    assert np.abs(found.residual).max() < 1e-6


def _squared(job: Job, left: float, right: float, one: float, other: float) -> Job:
    for what, value in (("wheelbase.left", left), ("wheelbase.right", right), ("diagonal.left", one),
                        ("diagonal.right", other)):  # fmt: skip
        job = _read(job, what, value)
    return job


def _stands(axle: Axle, longer: dict[str, float]) -> tuple[Array, float]:
    """Shift and yaw of an axle on four rods, some longer, wheels at their height: SciPy on the rods' own lengths."""
    rods = [(np.array(m.chassis.at.xyz), np.array(m.axle.at.xyz), longer.get(m.name, 0.0)) for m in axle.members]  # type: ignore[union-attr]
    center, half = np.array(axle.center), np.array([0.0, axle.track_mm / 2, 0.0])

    def off(state: Array) -> list[float]:
        turn = Rotation.from_rotvec(state[3:])
        lengths = [
            float(np.linalg.norm(center + state[:3] + turn.apply(a - center) - c) - np.linalg.norm(a - c) - d)
            for c, a, d in rods
        ]
        return [*lengths, *(float(state[2] + turn.apply(s * half)[2]) for s in (1, -1))]

    state = fsolve(off, np.zeros(6), xtol=1e-13)
    tube = Rotation.from_rotvec(state[3:]).apply([0.0, 1.0, 0.0])
    return state[:3], float(np.arctan2(-tube[0], tube[1]))


def test_turns_make_the_axle_square_again(trail_job: Job) -> None:
    """Left wheel 6 mm back. The links sit inboard of the wheels, so the left one has to shorten by less than that."""
    axle = trail_job.vehicle.axle("rear")
    base, track, yaw = 2997.2, axle.track_mm, np.arcsin(6.0 / axle.track_mm)
    tube = np.array([-np.sin(yaw), np.cos(yaw)]) * track / 2
    rear = {s: np.array([-base, 0.0]) + s * tube for s in (1, -1)}
    front = {s: np.array([0.0, s * trail_job.vehicle.axles[0].track_mm / 2]) for s in (1, -1)}
    far = [float(np.linalg.norm(rear[r] - front[f])) for f, r in ((1, 1), (-1, -1), (1, -1), (-1, 1))]
    job = set_measuring("threads", threads=Threads(pitch_mm=2.0, both_ends=False, half_turns=True)).apply(trail_job)
    assert square_report(job) is None
    report = square_report(_squared(job, *far))
    assert report is not None
    assert report.uneven_mm == pytest.approx(6.0, abs=0.01)
    assert report.disagree_mm < 0.01
    turns = report.turns
    assert turns is not None
    assert turns.left % 0.5 == turns.right % 0.5 == 0.0
    apart = abs(axle.member("Lower left").axle.at.y - axle.member("Lower right").axle.at.y)  # type: ignore[union-attr]
    # Half a turn is a millimeter of link: nothing does better than half of that, out at the wheel.
    assert abs(turns.left_over_mm) <= 0.5 * track / apart + GOOD_MM
    shift, turned = _stands(axle, {"Lower left": 2.0 * turns.left, "Lower right": 2.0 * turns.right})
    assert 6.0 + track * turned == pytest.approx(turns.left_over_mm, abs=0.01)
    assert shift[:2] == pytest.approx([turns.ahead_mm, turns.aside_mm], abs=1e-3)
    assert abs(turns.ahead_mm) <= 1.0
    assert abs(turns.aside_mm) > 0.3  # the uppers swing it
    assert "left wheel is 1/4 in farther back" in report.words[0]
    assert "Turn the left lower link" in report.words[1]


def test_contradicting_diagonals_are_said(trail_job: Job) -> None:
    report = square_report(_squared(trail_job, 2997.0, 2997.0, 3500.0, 3400.0))
    assert report is not None
    assert "contradict each other" in report.words[0]
    assert "Take them again" in report.words[0]


def test_heights_are_postures_seen_from_the_ground(trail_job: Job) -> None:
    vehicle = trail_job.vehicle
    axle = vehicle.axle("rear")
    found = study_heights(vehicle, axle)
    assert found.higher_mm[[0, 10, 20]] == pytest.approx([-50.8, 0.0, 50.8])
    lower = answers_at(vehicle, axle, 50.8, 50.8)
    assert found.values["roll_center_mm"][0] == pytest.approx(lower.value("roll_center_mm") - 50.8)
    # Axles and wheels stay on the ground: just the sprung share of the CG comes down.
    sprung = 1.0 - sum(a.unsprung_kg for a in vehicle.axles) / sum(a.load_kg for a in vehicle.axles)
    shorter = vehicle.cg_height_mm / (vehicle.cg_height_mm - 50.8 * sprung)
    assert found.values["anti_squat_pct"][0] == pytest.approx(lower.value("anti_squat_pct") * shorter)


def test_wheels_up_and_car_down_are_one_number_over_the_same_ground(trail_job: Job) -> None:
    """Rail and Heights differ just by the ground asked for: over the same one they say the same."""
    vehicle, axle = trail_job.vehicle, trail_job.vehicle.axle("rear")
    for over in ("ride", "stands"):
        heights = study_heights(vehicle, axle, over=over)
        rail = answers_at(with_changes(vehicle, over=over), axle, 50.8, 50.8)
        for key in ("anti_squat_axle_pct", "anti_lift_brake_pct", "roll_center_mm"):
            assert heights.values[key][0] == pytest.approx(rail.value(key), rel=1e-12), (over, key)
    assert "ground and CG as at ride height" in str(
        explain(trail_job, study_axle(vehicle, axle, 0, 0), "roll_center_mm")
    )


def test_lowest_height_is_checked_against_the_ground(trail_job: Job) -> None:
    assert "Enter how far" in lowest_words(trail_job)[0]
    pan = LowPoint(name="oil pan", at=Point(x=-300.0, y=0.0, z=260.0))
    cover = LowPoint(name="diff cover", at=Point(x=-3000.0, y=0.0, z=200.0), on="axle")

    def at(lower: float) -> tuple[str, bool]:
        heights = Heights(air=True, lower_mm=lower, settle_mm=25.4)
        return lowest_words(set_measuring("h", heights=heights, low_points=(pan, cover)).apply(trail_job))

    words, bad = at(50.0)
    assert not bad
    assert "diff cover is lowest, ~7 7/8 in above" in words  # the axle does not come down with the frame
    words, bad = at(245.0)
    assert bad
    assert "Only ~9/16 in under the oil pan" in words
    words, bad = at(270.0)
    assert bad
    assert "in the ground with the bags empty" in words
    job = set_measuring("h", heights=Heights(lower_mm=100.0, settle_mm=20.0), low_points=(pan,)).apply(trail_job)
    place = next(p for p in low_places(job) if p.name == "oil pan")
    assert (place.driven_mm, place.settled_mm, place.lowest_mm) == (260.0, 240.0, 160.0)


def test_cribs_of_common_practice(coupe_job: Job) -> None:
    """Common practice, no source: about 20 in chock to chock for a 27 to 28 in tire, 13.5 in high: nine layers of 2x4."""
    plan = plan_cribs(coupe_job.vehicle, Crib())
    assert plan.layers == 9
    assert plan.height_mm == pytest.approx(13.5 * IN)
    free = max(a.tire.free_diameter_mm for a in coupe_job.vehicle.axles)
    assert plan.inside_long_mm == pytest.approx(20 * IN * free / (27.5 * IN))
    assert plan.inside_wide_mm == max(a.tire.width_mm for a in coupe_job.vehicle.axles)
    pieces = sorted(c.length_mm for c in plan.cuts for _ in range(c.count))
    assert sorted(p for bar in plan.bars for p in bar) == pytest.approx(pieces)
    kerf = Crib().kerf_mm
    for bar in plan.bars:
        assert sum(bar) + kerf * (len(bar) - 1) <= Crib().stock_mm + 1e-9
    # Staggered: no layer's screws stand above those of the layer below.
    assert all(a[1] != b[1] for a, b in zip(plan.screws, plan.screws[1:], strict=False))
    with pytest.raises(InputError, match="3 to 30 layers"):
        plan_cribs(coupe_job.vehicle, Crib(height_mm=30.0))
    with pytest.raises(InputError, match="shorter than the longest piece"):
        plan_cribs(coupe_job.vehicle, Crib(stock_mm=300.0))


@settings(max_examples=30, deadline=None)
@given(st.lists(st.floats(200.0, 1500.0), min_size=1, max_size=6))
def test_cutting_is_within_its_bound_of_the_best(pieces: list[float]) -> None:
    """Best-fit decreasing against every order of cutting tried one by one."""
    bars = cut_from_stock(pieces, 2000.0, 3.0)
    assert sorted(p for bar in bars for p in bar) == sorted(pieces)

    def needed(order: tuple[float, ...]) -> int:
        count, room = 0, -1.0
        for piece in order:
            if piece > room:
                count, room = count + 1, 2000.0
            room -= piece + 3.0
        return count

    best = min(needed(p) for p in set(permutations(pieces)))
    assert best <= len(bars) <= 11 / 9 * best + 1


def test_a_saw_kerf_counts() -> None:
    """Common practice, no source: a kerf is about 1/8 in; four cuts lose half an inch."""
    assert len(cut_from_stock([24 * IN] * 4, 96 * IN, 0.0)) == 1
    assert len(cut_from_stock([24 * IN] * 4, 96 * IN, IN / 8)) == 2
    assert len(cut_from_stock([24 * IN - IN / 8] * 4, 96 * IN, IN / 8)) == 1


def test_angle_readings_that_cannot_belong_together_are_kept_all_the_same(trail_job: Job) -> None:
    """Two readings of one yoke 144 degrees apart: the mean is useless and its +/- says so, half of that; nothing is refused."""
    job = _read(_read(trail_job, "rear.pinion.angle", 79.0), "rear.pinion.angle", -65.0)
    pinion = job.vehicle.axle("rear").pinion
    assert pinion is not None
    assert pinion.nose_up_deg == pytest.approx(7.0)
    assert pinion.angle_sure_deg == pytest.approx(72.0, abs=0.01)
    with pytest.raises(InputError, match="80 or less"):
        _read(trail_job, "rear.pinion.angle", 200.0)
    with pytest.raises(InputError, match="x"):
        _read(trail_job, "rear.pinion.ahead", 90_000.0)


def _two(job: Job, left: float, right: float) -> Job:
    for what, mm in (("wheelbase.left", left), ("wheelbase.right", right)):
        job = take_reading(new_reading(job, what, "length", mm, "tape", "2026-01-01T10:00")).apply(job)
    return job


def test_two_wheelbases_give_a_provisional_answer(trail_job: Job) -> None:
    """By hand: the tube turns by the difference over the track, as seen from a front axle of the same track."""
    report = square_report(_two(trail_job, 3000.0, 2990.0))
    assert report is not None
    assert report.uneven_mm == pytest.approx(10.0, abs=0.1)
    assert report.words[-1].startswith("Provisional, from the two wheelbases alone")
    assert report.turns is not None
    assert square_report(trail_job) is None


def test_no_wheelbase_is_nothing(trail_job: Job) -> None:
    job = _two(trail_job, 3000.0, 2990.0)
    nil = tuple(with_changes(r, value=0.0) if r.what == "wheelbase.left" else r for r in job.measuring.readings)
    job = set_measuring("nil", readings=nil).apply(job)
    with pytest.raises(InputError, match="left wheelbase: is no distance between axles"):
        square_report(job)
    assert [f for f in shop_findings(job) if f.code == "square"] == []


def test_radius_arms_are_turned_by_their_spread(trail_job: Job) -> None:
    """Rigid arms: the axle turns by the difference of their lengths over the spread of their pivots."""
    job = with_layout(trail_job, "rear", "radius_arms", keep=False)
    report = square_report(_two(job, 3000.0, 2990.0))
    assert report is not None
    assert report.turns is not None
    axle, per = job.vehicle.axle("rear"), job.measuring.threads.pitch_mm
    spread = 2 * axle.member("Arm left").mounts["chassis"].at.y
    turned = (report.turns.left - report.turns.right) * per / spread
    assert turned == pytest.approx(-10.0 / axle.track_mm, abs=0.5 * per / spread)
    assert "Turn the " in " ".join(report.words)


def test_uppers_turned_alike_take_fewer_turns(trail_job: Job) -> None:
    """A parallel four-link: uppers left as they are work against the lowers; the geometry alone says 10 mm over the
    track, taken at the links' spread."""
    job = with_layout(trail_job, "rear", "parallel", keep=False)
    report = square_report(_two(job, 3000.0, 2990.0))
    assert report is not None
    assert report.turns is not None
    said = " ".join(report.words)
    assert "With the upper links turned alike less will do" in said


def test_cribs_give_rows_to_check_and_no_figure_to_trust() -> None:
    assert len(CRIB_CHECKS) >= 6
    assert not hasattr(plan_cribs(starter().vehicle, Crib()), "bearing_kg")
    own = plan_cribs(starter().vehicle, Crib(inside_long_mm=600.0, inside_wide_mm=400.0))
    assert (own.inside_long_mm, own.inside_wide_mm) == (600.0, 400.0)
    assert plan_cribs(starter().vehicle, Crib(height_mm=1000.0, wide_mm=50.0)).tall
