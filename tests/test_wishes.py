"""What else can be asked of a layout than judged numbers: each read again another way."""

import numpy as np
import pytest
from scipy.optimize import minimize
from scipy.spatial.transform import Rotation

from even_stance.errors import InputError
from even_stance.exchange.demo import demo_job
from even_stance.exchange.jobfile import dump_job, parse_job
from even_stance.judgement.catalog.layouts import BaseKey
from even_stance.judgement.search.holefinder import find_holes
from even_stance.judgement.search.keeping import can_keep, kept_move
from even_stance.judgement.search.limits import Freedom
from even_stance.judgement.search.solvefor import solve_for
from even_stance.judgement.search.wishes import values_now, wishes_of
from even_stance.judgement.standards import STANDARDS
from even_stance.study.answers import study_postures
from even_stance.study.drawing import Mark
from even_stance.study.figures import study_axle
from even_stance.study.floor import car_shapes
from even_stance.study.places import study_places
from even_stance.vehicle.edits import (
    choose_hole,
    drop_landmark,
    move_by,
    put_landmark,
    replace_members,
    set_axle,
    set_holes,
    set_job,
    set_length,
    set_wish,
)
from even_stance.vehicle.job import Band, Job
from even_stance.vehicle.spots import Spot, hole_name, mount_of, pitch_of
from tests.conftest import starter
from tests.test_every_layout import EVERY, laid_out

FRAME, AXLE = Spot("rear", "Upper left", "chassis"), Spot("rear", "Upper left", "axle")
LOW_FRAME, LOW_AXLE = Spot("rear", "Lower left", "chassis"), Spot("rear", "Lower left", "axle")


def _now(job: Job, *keys: str) -> list[float]:
    vehicle, axle = job.vehicle, job.vehicle.axle("rear")
    every = wishes_of(vehicle, axle)
    return list(values_now(vehicle, axle, [every[k] for k in keys]).values())


def _crossing(job: Job) -> tuple[float, float]:
    """Where upper and lower cross in side view. As an axle goes straight up by both wheels, nothing of it goes sideways
    (the links are mirror images), so each end moves square to its link as seen from the side: exact at ride height.
    """
    ends = [np.array(mount_of(job, s).at.xyz)[[0, 2]] for s in (FRAME, AXLE, LOW_FRAME, LOW_AXLE)]
    along = np.stack((ends[1] - ends[0], ends[2] - ends[3]), axis=1)
    share = np.linalg.solve(along, ends[2] - ends[0])
    x, z = ends[0] + share[0] * (ends[1] - ends[0])
    return float(x), float(z)


def test_an_instant_center_asked_for_is_where_the_links_then_cross() -> None:
    job = starter("trail")
    assert _now(job, "ic_x_mm", "ic_z_mm") == pytest.approx(_crossing(job), abs=0.01)
    wanted = {"ic_x_mm": -900.0, "ic_z_mm": 640.0}
    free = [Freedom(FRAME, 2, -150.0, 150.0), Freedom(LOW_FRAME, 2, -150.0, 150.0)]
    solved = solve_for(job, "rear", wanted, free)
    assert solved.reached, solved.words
    assert _crossing(solved.edit.apply(job)) == pytest.approx((-900.0, 640.0), abs=1.0)


def test_a_link_length_and_the_ratio_of_lengths_are_had_as_taped_from_pin_to_pin() -> None:
    job = starter("trail")

    def tape(job: Job, a: Spot, b: Spot) -> float:
        return float(np.linalg.norm(np.subtract(mount_of(job, a).at.xyz, mount_of(job, b).at.xyz)))

    assert _now(job, "length:Upper left") == pytest.approx([tape(job, FRAME, AXLE)], abs=1e-6)
    lower = tape(job, LOW_FRAME, LOW_AXLE)
    free = [Freedom(FRAME, 0, -250.0, 250.0), Freedom(LOW_FRAME, 0, -250.0, 250.0)]
    solved = solve_for(job, "rear", {"length:Lower left": lower + 60.0, "length_ratio_pct": 72.0}, free)
    assert solved.reached, solved.words
    after = solved.edit.apply(job)
    assert tape(after, LOW_FRAME, LOW_AXLE) == pytest.approx(lower + 60.0, abs=1.0)
    assert tape(after, FRAME, AXLE) / tape(after, LOW_FRAME, LOW_AXLE) == pytest.approx(0.72, abs=0.006)


def test_flatness_asked_for_holds_at_every_height_between() -> None:
    job = set_axle("rear", "Travel", bump_mm=90.0, droop_mm=90.0).apply(starter("trail"))
    key = "anti_squat_axle_pct"
    (before,) = _now(job, f"flat:{key}")
    limit = 0.6 * before
    free = [Freedom(s, a, -160.0, 160.0) for s in (FRAME, LOW_FRAME) for a in (0, 2)]
    solved = solve_for(job, "rear", {f"flat:{key}": limit}, free)
    assert solved.reached, solved.words
    after = solved.edit.apply(job)
    heights = np.linspace(-90.0, 90.0, 61)
    values = study_postures(after.vehicle, after.vehicle.axle("rear"), heights, heights).values[key]
    assert np.abs(values - values[30]).max() <= limit + 0.5
    # It is a most: what is flat already is left alone.
    again = solve_for(after, "rear", {f"flat:{key}": 2.0 * limit}, free)
    assert again.reached
    assert again.moves == ()


def test_joint_swing_is_that_of_the_worst_joint_crossed_up_too() -> None:
    """Each joint by SciPy's rotations: a bolt and a link stay square to each other where no joint swings."""
    job = starter("trail")
    axle = job.vehicle.axle("rear")
    (told,) = _now(job, "joint_swing_deg")
    up, down = axle.bump_mm, -axle.droop_mm
    found = study_postures(job.vehicle, axle, np.array([up, down, up, down]), np.array([up, down, down, up]))
    worst = 0.0
    for pose, ends, frames in zip(range(4), found.rod_ends, found.chassis_ends, strict=True):
        turned = Rotation.from_matrix(found.pose.rotation[pose])
        for first, second in zip(frames, ends, strict=True):
            along = (second - first) / np.linalg.norm(second - first)
            rest = int(np.argmin(np.linalg.norm(frames - first, axis=1)))
            start = found.linkage.axle[rest] - found.linkage.chassis[rest]
            level = np.cross([0.0, 0.0, 1.0], start)
            for bolt in (level / np.linalg.norm(level), turned.apply(level / np.linalg.norm(level))):
                worst = max(worst, abs(90.0 - np.degrees(np.arccos(along @ bolt))))
    # Twist of the rod, shared between its ends, comes on top of the plain swing.
    assert worst - 1e-6 <= told <= worst + 6.0
    limit = told - 0.15
    free = [Freedom(FRAME, 0, 0.0, 300.0), Freedom(LOW_FRAME, 0, 0.0, 300.0)]
    solved = solve_for(job, "rear", {"joint_swing_deg": limit}, free, clear_of_frame=False)
    assert solved.reached, solved.words
    assert _now(solved.edit.apply(job), "joint_swing_deg")[0] <= limit + 0.06


def test_what_cannot_be_had_is_said_with_how_near_it_comes() -> None:
    job = starter("trail")
    solved = solve_for(job, "rear", {"length:Upper left": 1500.0}, [Freedom(FRAME, 2, -20.0, 20.0)])
    assert not solved.reached
    assert "length of upper left comes to" in solved.words
    assert "was asked" in solved.words
    with pytest.raises(InputError, match="rear axle has no length:Tail"):
        solve_for(job, "rear", {"length:Tail": 500.0}, [Freedom(FRAME, 2, -20.0, 20.0)])
    assert move_by(FRAME, 0.0, 0.0, 1.0).apply(job) != job


# --- lengths and holes typed, and what holes are asked for besides


def test_a_typed_length_moves_the_end_chosen_along_the_link_and_both_sides_alike() -> None:
    job = starter("trail")
    before = {s: np.array(mount_of(job, s).at.xyz) for s in (FRAME, AXLE)}
    after = set_length(FRAME, 800.0).apply(job)
    a, b = (np.array(mount_of(after, s).at.xyz) for s in (FRAME, AXLE))
    assert np.linalg.norm(a - b) == pytest.approx(800.0, abs=1e-9)
    assert b == pytest.approx(before[AXLE])
    assert np.cross(a - b, before[FRAME] - before[AXLE]) == pytest.approx(np.zeros(3), abs=1e-6)
    right = np.array(mount_of(after, Spot("rear", "Upper right", "chassis")).at.xyz)
    assert right == pytest.approx(a * [1.0, -1.0, 1.0])
    with pytest.raises(InputError, match="no length of a link"):
        set_length(FRAME, 3.0).apply(job)
    with pytest.raises(InputError, match="not on a link with two ends"):
        set_length(Spot("front", "Leaf left", "seat"), 800.0).apply(demo_job(0))


def test_holes_are_drilled_at_the_pitch_typed_around_the_one_in_use() -> None:
    job = starter("trail")
    at = mount_of(job, FRAME).at
    after = mount_of(set_holes(FRAME, 4, 30.0, used=0).apply(job), FRAME)
    assert after.at == at
    assert [h.z - at.z for h in after.holes] == pytest.approx([0.0, 30.0, 60.0, 90.0])
    assert pitch_of(after.holes) == pytest.approx(30.0)
    assert [hole_name(FRAME, i, 4) for i in range(4)] == [
        "bottom hole of 4", "hole 2 of 4", "hole 3 of 4", "top hole of 4",
    ]  # fmt: skip
    with pytest.raises(InputError, match="no hole 5 of 4"):
        set_holes(FRAME, 4, 30.0, used=4).apply(job)


def test_holes_say_how_many_are_in_every_band_or_what_the_nearest_misses() -> None:
    job = set_holes(FRAME, 5, 25.4).apply(starter("trail"))
    job = set_holes(LOW_FRAME, 3, 25.4).apply(job)
    vehicle, axle = job.vehicle, job.vehicle.axle("rear")
    asked = wishes_of(vehicle, axle)["length:Upper left"]
    # Each combination by itself, through the edits that a person would make.
    lengths = np.array([
        values_now(tried.vehicle, tried.vehicle.axle("rear"), [asked])[asked.key]
        for upper in range(5)
        for tried in (choose_hole(FRAME, upper).apply(job),)
    ])  # fmt: skip
    middle = float(np.median(lengths))
    job = set_job("Bands", bands=dict.fromkeys(STANDARDS, Band(low=-1e6, high=1e6))).apply(job)
    within = set_wish("rear", asked.key, Band(low=middle - 1.0, high=middle + 1.0)).apply(job)
    search = find_holes(within)
    meet = int((np.abs(lengths - middle) <= 1.0).sum()) * 3
    assert search.count == 15
    assert f"{meet} of 15 combinations" in search.met_words(within)
    beyond = set_wish("rear", asked.key, Band(low=float(lengths.max()) + 20.0)).apply(job)
    search = find_holes(beyond)
    assert "None of 15 combinations is in all of your bands" in search.met_words(beyond)
    assert "length of upper left by 13/16 in" in search.met_words(beyond)
    assert set_wish("rear", asked.key, None).apply(beyond).wishes == {}


# --- a point is moved, a number stays


def test_a_point_that_keeps_the_instant_center_slides_along_its_link_as_seen_from_the_side() -> None:
    """The upper's line through the center is where it can go: the nearest place on it is the foot of the perpendicular."""
    job = starter("trail")
    center = np.array(_crossing(job))
    at = np.array(mount_of(job, FRAME).at.xyz)[[0, 2]]
    along = (center - at) / np.linalg.norm(center - at)
    for wanted in ((-60.0, 25.0), (40.0, 40.0), (0.0, -30.0)):
        dx, dy, dz = kept_move(job, FRAME, (wanted[0], 0.0, wanted[1]), "instant_center", (0, 2))
        assert dy == 0.0
        assert (dx, dz) == pytest.approx((np.array(wanted) @ along) * along, abs=0.2)
        after = move_by(FRAME, dx, dy, dz).apply(job)
        assert _crossing(after) == pytest.approx(center, abs=1.0)


@pytest.mark.parametrize("key", ["anti_squat_axle_pct", "roll_center_mm", "roll_steer_pct", "length:Upper left"])
def test_any_number_is_kept_and_no_nearer_place_keeps_it(key: str) -> None:
    """SciPy looks for the nearest place under the same hold."""
    job = starter("trail")
    wish = wishes_of(job.vehicle, job.vehicle.axle("rear"))[key]

    def value(move: np.ndarray) -> float:
        after = move_by(FRAME, *move.tolist()).apply(job)
        return values_now(after.vehicle, after.vehicle.axle("rear"), [wish])[key] / wish.step

    wanted, start = np.array([-30.0, 10.0, 20.0]), value(np.zeros(3))
    found = np.array(kept_move(job, FRAME, (-30.0, 10.0, 20.0), key))
    assert value(found) == pytest.approx(start, abs=2e-3)
    best = minimize(
        lambda m: float(((m - wanted) ** 2).sum()), found + 1.0, method="SLSQP",
        constraints={"type": "eq", "fun": lambda m: value(m) - start}, options={"ftol": 1e-9},
    )  # fmt: skip
    assert np.linalg.norm(found - wanted) <= np.linalg.norm(best.x - wanted) + 0.1
    # A car that stands on three links of four has no numbers: nothing is kept, and nothing falls over.
    loose = replace_members("rear", job.vehicle.axle("rear").members[:3], "Three").apply(job)
    assert can_keep(loose, "rear") == {}
    assert kept_move(loose, FRAME, (1.0, 2.0, 3.0), key) == (1.0, 2.0, 3.0)
    # Nothing to keep, or a mount that no link hangs on: it goes where it was sent.
    assert kept_move(job, FRAME, (1.0, 2.0, 3.0), "no such number") == (1.0, 2.0, 3.0)
    assert set(can_keep(job, "rear")) >= {"instant_center", key}


def test_places_with_names_are_kept_once_each_and_drawn() -> None:
    job = put_landmark("Skid plate", (-300.0, 0.0, 420.0)).apply(starter("trail"))
    again = parse_job(dump_job(job), "x")
    assert again.vehicle.landmarks == job.vehicle.landmarks
    drawn = [s for s in car_shapes(job.vehicle, study_places(job.vehicle), "side", "rear") if isinstance(s, Mark)]
    assert ("Skid plate", (300.0, 420.0)) in [(m.label, m.center) for m in drawn]
    moved = put_landmark("Skid", (-310.0, 0.0, 400.0), was="Skid plate").apply(job)
    assert [p.name for p in moved.vehicle.landmarks] == ["Skid"]
    with pytest.raises(InputError, match="Two places are called"):
        put_landmark("Skid", (0.0, 0.0, 0.0)).apply(moved)
    assert drop_landmark("Skid").apply(moved).vehicle.landmarks == ()


# --- on every layout of the trade


@pytest.mark.parametrize(("base", "key"), EVERY)
def test_what_is_asked_is_what_is_judged_on_every_layout(base: BaseKey, key: str) -> None:
    """Judged numbers read as the study reads them; lengths as between the mounts; all else is a figure or none."""
    job = laid_out(base, key)
    vehicle, axle = job.vehicle, job.vehicle.axle(key)
    wishes = wishes_of(vehicle, axle)
    values = values_now(vehicle, axle, list(wishes.values()))
    study = study_axle(vehicle, axle, 0.0, 0.0)
    judged = {f.key: f.value for f in study.figures if f.key in wishes}
    assert judged
    for name, value in judged.items():
        assert values[name] == pytest.approx(value, rel=1e-6, abs=1e-6), name
    for name, wish in wishes.items():
        if name.startswith("length:"):
            rod = axle.member(name.removeprefix("length:"))
            ends = [np.array(m.at.xyz) for m in rod.mounts.values()]
            assert values[name] == pytest.approx(np.linalg.norm(ends[0] - ends[1]), abs=1e-6)
        assert wish.reading(values[name], "us") == "—" or wish.at_most <= (values[name] >= 0.0)


@pytest.mark.parametrize(("base", "key"), EVERY)
def test_a_number_is_kept_on_every_layout_or_the_point_stays(base: BaseKey, key: str) -> None:
    job = laid_out(base, key)
    axle = job.vehicle.axle(key)
    wishes = wishes_of(job.vehicle, axle)
    name = "roll_steer_pct" if base != "leaf" else "roll_center_mm"
    for member in axle.members[:2]:
        for end in member.ENDS:
            spot = Spot(key, member.name, end)
            move = kept_move(job, spot, (12.0, 0.0, -9.0), name, (0, 2))
            after = move_by(spot, *move).apply(job)
            before, now = (
                values_now(j.vehicle, j.vehicle.axle(key), [wishes[name]])[name] for j in (job, after)
            )  # fmt: skip
            assert now == pytest.approx(before, abs=0.05 * wishes[name].step), (member.name, end, move)
            assert np.linalg.norm(move) <= np.hypot(12.0, 9.0) + 1e-6
