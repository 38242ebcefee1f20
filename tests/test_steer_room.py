"""Room around pitman arm and ram, arms with holes, and the +/- of what a steering comes to."""

import json

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st
from scipy.optimize import minimize
from scipy.spatial import ConvexHull, QhullError

from even_stance.errors import InputError, JobFileError
from even_stance.exchange.demo import demo_jobs
from even_stance.exchange.jobfile import dump_job, parse_job
from even_stance.judgement.explain import explain_beams
from even_stance.judgement.search.suggestions import advise_beams
from even_stance.judgement.steerrows import box_rows, ram_rows, room_rows
from even_stance.judgement.threadrows import bolted_rows
from even_stance.judgement.verdicts import judge_beams
from even_stance.mechanics.gaps import outline_gap, segments_gap
from even_stance.mechanics.steerloads import stud_shear
from even_stance.study.beamfigures import beam_figures
from even_stance.study.beams import beams_of
from even_stance.study.steerends import steered_along
from even_stance.study.steerfigures import lock_of, mechanism_of, turner_of
from even_stance.study.steerloads import box_loads, ram_values
from even_stance.study.steerroom import cover_gap, pitman_near, puller_room, rails_gap
from even_stance.study.steerspread import steer_spreads
from even_stance.vehicle.edits import (
    bolt_arm_on,
    change_steering,
    choose_hole,
    move_by,
    set_holes,
    set_sure,
    tape_cover,
)  # fmt: skip
from even_stance.vehicle.spots import STEER_POINTS, Spot, holes_of, own_point, point_of

coordinates = st.floats(-500.0, 500.0)
places = st.tuples(coordinates, coordinates, coordinates).map(np.array)


@given(places, places, places, places)
def test_the_gap_of_two_segments_is_the_least_over_both(
    a: np.ndarray, b: np.ndarray, c: np.ndarray, d: np.ndarray
) -> None:  # type: ignore[type-arg]
    """Referee: SciPy's bounded minimizer over both shares, and no finer place is nearer."""
    gap = float(segments_gap(a, b, c, d))

    def apart(share: np.ndarray) -> float:  # type: ignore[type-arg]
        return float(np.sum((a + share[0] * (b - a) - c - share[1] * (d - c)) ** 2))

    starts = [(s, t) for s in (0.0, 0.5, 1.0) for t in (0.0, 0.5, 1.0)]
    best = min(minimize(apart, x, bounds=[(0, 1), (0, 1)], method="L-BFGS-B").fun for x in starts)
    assert gap == pytest.approx(np.sqrt(best), abs=0.05)
    assert gap == pytest.approx(float(segments_gap(d, c, b, a)), abs=1e-6)


@given(st.lists(st.tuples(coordinates, coordinates), min_size=3, max_size=9), coordinates, coordinates)
def test_the_gap_from_an_outline_is_that_of_its_half_planes(
    corners: list[tuple[float, float]], x: float, y: float
) -> None:  # fmt: skip
    """Referee: SciPy's hull, and shapely's distance to it."""
    try:
        hull = ConvexHull(corners)
    except QhullError:
        return
    if hull.volume < 100.0:
        return
    ring, place = np.array(corners)[hull.vertices], np.array([x, y])
    theirs = shapely.Polygon(ring).distance(shapely.Point(x, y))
    assert float(outline_gap(place, ring)) == pytest.approx(theirs, abs=1e-6)


def test_a_piece_nearest_to_a_rail_is_found_as_by_a_fine_walk() -> None:
    vehicle = demo_jobs()[0].vehicle
    rng = np.random.default_rng(4)
    a, b = rng.uniform((-900, -700, 200), (400, 700, 900), (2, 40, 3))
    found = rails_gap(vehicle, a, b)
    walk = a[:, None] + np.linspace(0.0, 1.0, 801)[None, :, None] * (b - a)[:, None]
    assert np.allclose(found, rails_gap(vehicle, walk, walk).min(axis=1), atol=0.6)


def test_what_the_pitman_arm_comes_near_to_is_where_it_was_put() -> None:
    """A marked point a hand beyond the ball, in line with the arm, is as far as it was put less half the arm; and it is told."""
    job = demo_jobs()[0]
    ball = point_of(job, Spot("front", "", "ball"))
    mark = next(m for m in job.vehicle.powertrain.marks if m.at)  # type: ignore[union-attr]
    spot = Spot("", mark.name, "mark")
    at = mark.at
    hub = np.array(point_of(job, Spot("front", "", "sector")).xyz)
    arm = np.array(ball.xyz) - hub
    by = np.array(ball.xyz) + 60.0 * arm / np.linalg.norm(arm) - at.xyz
    job = move_by(spot, *(float(v) for v in by), both_sides=False).apply(job)
    near = next(n for n in pitman_near(job.vehicle, job.vehicle.axle("front")) if n.what == mark.name.lower())
    assert near.gap_mm == pytest.approx(60.0 - 16.0, abs=1.0)
    assert abs(near.steer) < 0.2
    assert any(mark.name.lower() in title for title, _ in room_rows(job, job.vehicle.axle("front")))


def test_a_puller_has_the_room_down_to_the_first_thing_below_the_arm() -> None:
    """The tie rod brought below the sector shaft ends it where rod and jaws meet; with nothing below all is free."""
    job = demo_jobs()[0]
    assert puller_room(job.vehicle, job.vehicle.axle("front")) == (400.0, "")
    tie, shaft = (point_of(job, Spot("front", "", end)) for end in ("left_tie", "sector"))
    below = 120.0
    moved = move_by(Spot("front", "", "left_tie"), shaft.x - tie.x, 0.0, shaft.z - below - tie.z).apply(job)
    room = puller_room(moved.vehicle, moved.vehicle.axle("front"))
    assert room is not None
    assert room[1] == "tie rod"
    assert room[0] == pytest.approx(below - 16.0 - 30.0, abs=2.5)
    rows = dict(room_rows(moved, moved.vehicle.axle("front")))
    assert "a puller wants some" in rows["Free beyond the arm’s hub, for a puller"]


def test_the_ram_clears_the_cover_by_the_tape() -> None:
    job = tape_cover("front").apply(demo_jobs()[2])
    axle = job.vehicle.axle("front")
    ram = axle.steering.ram  # type: ignore[union-attr]
    assert ram is not None
    level = Spot("front", "", "ram_cover")
    at = point_of(job, level)
    job = move_by(level, ram.left.x + 90.0 - at.x, 30.0, ram.left.z - at.z).apply(job)
    near = cover_gap(job.vehicle.axle("front"))
    assert near is not None
    assert near.gap_mm == pytest.approx(90.0 - 38.1, abs=1e-6)
    assert any("cover" in title for title, _ in ram_rows(job, job.vehicle.axle("front")))
    with pytest.raises(InputError, match="ram"):
        tape_cover("front").apply(demo_jobs()[0])


def test_an_arm_with_three_holes_quickens_and_slows_the_steering() -> None:
    """Holes stand along the arm, an inch apart; the ratio goes by the arm's length; a moved arm takes its holes along."""
    job = set_holes(Spot("front", "", "ball"), 3, 25.4).apply(demo_jobs()[0])
    spot = Spot("front", "", "ball")
    holes, used = holes_of(job, spot)
    assert used == 1
    loads = {}
    for hole in range(3):
        tried = choose_hole(spot, hole).apply(job)
        found = box_loads(tried.vehicle.axle("front"))
        assert found is not None
        loads[hole] = float(found.arm_mm)
    assert loads[2] - loads[1] == pytest.approx(25.4, abs=1e-6)
    assert loads[1] - loads[0] == pytest.approx(25.4, abs=1e-6)
    moved = move_by(spot, 0.0, 5.0, -7.0).apply(job)
    assert holes_of(moved, spot)[0][2].z == pytest.approx(holes[2].z - 7.0)
    assert set_sure(spot, 3.0).apply(moved).vehicle.axle("front").steering.arm_holes[0].at[0].sure == 3.0  # type: ignore[union-attr]
    assert parse_job(dump_job(moved)) == moved
    assert holes_of(set_holes(spot, 1, 25.4).apply(job), spot) == ((), None)
    arms = set_holes(Spot("front", "", "left_tie"), 2, 20.0).apply(job)
    assert all(holes_of(arms, Spot("front", "", f"{side}_tie"))[1] == 0 for side in ("left", "right"))
    with pytest.raises(InputError, match="on no arm"):
        set_holes(Spot("front", "", "sector"), 3, 25.4).apply(job)


def test_studs_share_a_push_as_a_bolt_group_does() -> None:
    """The worst of n studs on a circle: the sum of the direct and the turning share, for a push across one of them."""
    force, reach, radius = 9000.0, 127.0, 41.0
    for n in (3, 4, 6):
        angle = 2.0 * np.pi * np.arange(n) / n
        place = radius * np.stack((np.cos(angle), np.sin(angle)), axis=-1)
        direct = np.array([0.0, force / n])
        turning = force * reach / (n * radius**2) * np.stack((-place[:, 1], place[:, 0]), axis=-1)
        worst = np.linalg.norm(direct + turning, axis=-1).max()
        assert stud_shear(force, reach, n, radius) == pytest.approx(worst)
    job = bolt_arm_on("front").apply(demo_jobs()[0])
    rows = dict(bolted_rows(job, job.vehicle.axle("front")))
    assert rows["The flat"] == "covers it"
    few = change_steering("front", "Studs", "bolted", studs=2, deep_mm=10.0, flat_mm=90.0).apply(job)
    rows = dict(bolted_rows(few, few.vehicle.axle("front")))
    assert "too few" in rows["Of what a grade 8 stud is tightened to"]
    assert "too little" in rows["Screwed in"]
    assert "short" in rows["The flat"]


@pytest.mark.parametrize(("number", "key"), [(0, "torque"), (2, "center"), (3, "torque")])
def test_the_spread_of_a_row_is_that_of_steerings_measured_anew(number: int, key: str) -> None:
    """Each coordinate of each point put a little forth and back in the record itself, one at a time."""
    job = demo_jobs()[number]
    axle = job.vehicle.axle("front")

    def value(a: object) -> float:
        if key == "center":
            values = ram_values(a)  # type: ignore[arg-type]
            assert values is not None
            return float(values[key])
        loads = box_loads(a)  # type: ignore[arg-type]
        assert loads is not None
        return float(loads.most[key])

    total = 0.0
    for end in STEER_POINTS:
        at = own_point(axle, end)
        for i in range(3) if at is not None else ():
            by = [0.5 if i == j else 0.0 for j in range(3)]
            both = [
                value(
                    move_by(Spot("front", "", end), *(w * b for b in by), both_sides=False)
                    .apply(job)
                    .vehicle.axle("front")
                )
                for w in (1.0, -1.0)
            ]
            total += ((both[0] - both[1]) * at.sure) ** 2  # type: ignore[union-attr]

    def many(turner: object) -> dict[str, np.ndarray]:  # type: ignore[type-arg]
        if key == "center":
            return ram_values(axle, turner) or {}  # type: ignore[arg-type]
        loads = box_loads(axle, turner)  # type: ignore[arg-type]
        return {} if loads is None else loads.most

    assert steer_spreads(axle, many)[key] == pytest.approx(np.sqrt(total), rel=0.02)
    assert any("±" in figure for _, figure in (box_rows if key == "torque" else ram_rows)(job, axle))


def test_swing_beams_are_explained_and_advised() -> None:
    """What moves toe most is what it is known to be, and what is offered does what it promises."""
    job = demo_jobs()[3]
    axle = job.vehicle.axle("front")
    why = explain_beams(job, axle, "toe_change_deg")
    assert why is not None
    assert {m.spot.end for m in why.movers[:2] if m.spot} == {"left_inner", "left_pivot"}
    advice = advise_beams(job, axle, "toe_change_deg")
    assert advice.suggestions
    best = advice.suggestions[0]
    after = best.edit.apply(job)
    figure = next(f for f in beam_figures(after.vehicle, after.vehicle.axle("front"), {}) if f.key == "toe_change_deg")
    assert figure.value == pytest.approx(best.change.after)
    assert best.change.after < best.change.before
    assert explain_beams(job, axle, "anti_dive_pct") is None


def test_joints_of_swing_beams_swing_as_far_as_their_rods_lean() -> None:
    """At ride height none has swung; over travel the inner joint by what the rod rises, seen square to the rod."""
    job = demo_jobs()[3]
    axle = job.vehicle.axle("front")
    beams = beams_of(axle)
    assert beams is not None
    for _, _, swing in beams.swings(beams.over(np.zeros(1), np.zeros(1), np.zeros(1))):
        assert float(swing[0]) == pytest.approx(0.0, abs=1e-9)
    now = beams.over(np.zeros(1), np.array([80.0]), np.array([80.0]))
    found = {(name, end): float(np.degrees(s[0])) for name, end, s in beams.swings(now)}
    tie, inner = beams.knuckles.tie[0], beams.inner[0]
    turned = beams.knuckles.turned(0, now.turns[:, 0], tie)[0]
    outer = beams.pivot[0] + now.rotation[0, 0] @ (turned - beams.pivot[0])
    rise = np.degrees(np.arcsin((outer - inner)[2] / np.linalg.norm(outer - inner)))
    flat = np.degrees(np.arcsin((tie - inner)[2] / np.linalg.norm(tie - inner)))
    assert found["left tie rod", "inner"] == pytest.approx(abs(rise - flat), abs=0.3)
    assert found["left tie rod", "inner"] == pytest.approx(found["right tie rod", "inner"], abs=0.2)
    use = next(v for v in judge_beams(job, axle) if v.figure.key == "steer_swing_use_pct")
    assert "joint" in use.figure.note


def test_another_steered_axle_goes_along_by_its_own_lock() -> None:
    job = change_steering("rear", "Stops", stop_deg=20.0).apply(demo_jobs()[2])
    front, rear = (job.vehicle.axle(key) for key in ("front", "rear"))
    full = float(lock_of(front, mechanism_of(front)).steer[1])  # type: ignore[arg-type]
    limits = lock_of(rear, turner_of(rear)).steer  # type: ignore[arg-type]
    assert steered_along(job.vehicle, "front", full, opposite=False) == pytest.approx({"rear": float(limits[1])})
    assert steered_along(job.vehicle, "front", 0.5 * full, opposite=True) == pytest.approx(
        {"rear": 0.5 * float(limits[0])}
    )
    assert steered_along(demo_jobs()[0].vehicle, "front", 1.0, opposite=True) == {}


@pytest.mark.parametrize(
    ("number", "part", "changes", "said"),
    [
        (2, "ram", {"stroke_mm": 600.0}, "stroke is longer than its rod"),
        (2, "ram", {"rod_mm": 70.0}, "thick as its bore"),
        (0, "box", {"ratio": 0.0}, "must be more than 0"),
        (0, "", {"stop_deg": 0.0}, "must be more than 0"),
    ],
)
def test_wrong_steerings_are_refused_in_a_sentence(
    number: int, part: str, changes: dict[str, float], said: str
) -> None:  # fmt: skip
    with pytest.raises(InputError, match=said):
        change_steering("front", "Field", part, **changes).apply(demo_jobs()[number])


@pytest.mark.parametrize(
    ("path", "said"),
    [
        (("left", "lower"), "left knuckle, kingpin, lower is missing|left knuckle, kingpin, lower: is missing"),
        (("box", "shaft"), "Steering box, Sector shaft"),
        (("box",), "steering box or the drag link"),
    ],
)
def test_a_file_whose_steering_lacks_something_says_what(path: tuple[str, ...], said: str) -> None:
    data = json.loads(dump_job(demo_jobs()[0]))
    place = data["vehicle"]["axles"][0]["steering"]
    for step in path[:-1]:
        place = place[step]
    del place[path[-1]]
    with pytest.raises(JobFileError, match=said):
        parse_job(json.dumps(data))
