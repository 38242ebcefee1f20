"""Gaps against an independent collision library, closed forms, a hull of differences, and a brute-force grid.

Referees: python-fcl (distances of capsules, cylinders, boxes, balls, convex bodies); SciPy's ConvexHull of the
difference of two bodies (how deep they overlap) and its bounded minimizer; shapely for what is swept.
"""

from collections.abc import Iterator

import fcl
import numpy as np
import pytest
from scipy.optimize import minimize
from scipy.spatial import ConvexHull
from scipy.spatial.transform import Rotation

from even_stance.exchange.demo import demo_jobs
from even_stance.mechanics.cores import Core, Placed, ball, hull, round_bar, rows, tube
from even_stance.mechanics.distance import gaps, separation
from even_stance.mechanics.gaps import segments_gap
from even_stance.mechanics.solids import prism
from even_stance.mechanics.vectors import Array
from even_stance.study.axlestates import AxleStates, grid_states, posture_states, steer_ends
from even_stance.study.clearances import couples_of, study_axle_gaps
from even_stance.study.gapmaps import pair_gaps
from even_stance.study.hardparts import hard_parts
from even_stance.study.notch import notch_for
from tests.validation.record import against

COUNT = 2000


def _box(half: Array) -> Core:
    a, b, c = half
    outline = np.array([(-a, -b, -c), (a, -b, -c), (a, -b, c), (-a, -b, c)])
    return hull(*prism(outline, np.array([0.0, 2 * b, 0.0])))


def _solids(seed: int, count: int) -> Iterator[tuple[Core, object]]:
    """Random solids, and the same ones of the referee."""
    rng = np.random.default_rng(seed)
    for _ in range(count):
        kind = rng.integers(4)
        length, across = rng.uniform(50.0, 800.0), rng.uniform(20.0, 600.0)
        end = np.array([0.0, 0.0, length / 2])
        if kind == 0:
            yield tube(-end, end, across / 5), fcl.Capsule(across / 10, length)
        elif kind == 1:
            half = rng.uniform(5.0, 400.0, 3)
            yield _box(half), fcl.Box(*(2 * half))
        elif kind == 2:
            yield round_bar(-end, end, across), fcl.Cylinder(across / 2, length)
        else:
            yield ball(np.zeros(3), across / 2), fcl.Sphere(across / 4)


def _placed(cores: list[Core], turns: Array, places: Array) -> Placed:
    points = [c.points @ t.T + p for c, t, p in zip(cores, turns, places, strict=True)]
    return rows(cores, points, [t @ c.axis for c, t in zip(cores, turns, strict=True)])


def _theirs(one: object, two: object, turns: tuple[Array, Array], places: tuple[Array, Array]) -> float:
    objects = [fcl.CollisionObject(s, fcl.Transform(t, p)) for s, t, p in zip((one, two), turns, places, strict=True)]
    return float(fcl.distance(*objects, fcl.DistanceRequest(enable_signed_distance=True), fcl.DistanceResult()))


def test_two_thousand_random_states_of_all_kinds_against_the_library() -> None:
    rng = np.random.default_rng(7)
    ours_a, theirs_a = zip(*_solids(1, COUNT), strict=True)
    ours_b, theirs_b = zip(*_solids(2, COUNT), strict=True)
    turns = [Rotation.random(COUNT, random_state=seed).as_matrix() for seed in (3, 4)]
    places = [rng.uniform(-700.0, 700.0, (COUNT, 3)) for _ in range(2)]
    found = gaps(
        _placed(list(ours_a), turns[0], places[0]), _placed(list(ours_b), turns[1], places[1]),
        list(zip(ours_a, ours_b, strict=True)),
    )  # fmt: skip
    theirs = np.array([
        _theirs(theirs_a[i], theirs_b[i], (turns[0][i], turns[1][i]), (places[0][i], places[1][i]))
        for i in range(COUNT)
    ])  # fmt: skip
    clear = theirs > 0.0
    assert 1_000 < clear.sum() < COUNT - 50
    assert ((found.gap > 0.0) == clear)[np.abs(theirs) > 0.01].all(), "a contact was missed, or one was made up"
    against("referee", "python-fcl", f"distance of {COUNT} random pairs of solids: the most we are off", 0.0,
            float(np.abs(found.gap - theirs)[clear].max()), "mm", 0.01)  # fmt: skip
    # The closest places lie as far apart as the gap says.
    apart = np.linalg.norm(found.first - found.second, axis=1)
    assert np.abs(apart - np.abs(found.gap))[clear].max() < 0.01


def test_how_deep_boxes_overlap_is_how_far_their_difference_reaches() -> None:
    rng = np.random.default_rng(11)
    worst, count = 0.0, 0
    for _ in range(120):
        boxes = [_box(rng.uniform(40.0, 300.0, 3)) for _ in range(2)]
        turns = Rotation.random(2, random_state=rng).as_matrix()
        places = rng.uniform(-150.0, 150.0, (2, 3))
        corners = [b.points @ t.T + p for b, t, p in zip(boxes, turns, places, strict=True)]
        difference = (corners[0][:, None] - corners[1][None]).reshape(-1, 3)
        inside = ConvexHull(difference).equations[:, 3]
        if inside.max() >= 0.0:
            continue
        one, two = (_placed([b], t[None], p[None]) for b, t, p in zip(boxes, turns, places, strict=True))
        worst = max(worst, abs(float(gaps(one, two, [(boxes[0], boxes[1])]).gap[0]) - float(inside.max())))
        count += 1
    assert count > 60
    against("referee", "SciPy ConvexHull", f"overlap of {count} random pairs of boxes: the most we are off", 0.0, worst,
            "mm", 1e-6)  # fmt: skip


def _one(core: Core) -> Placed:
    return rows([core], [core.points], [core.axis])


def test_closed_forms() -> None:
    rng = np.random.default_rng(5)
    off = {"capsule, capsule": 0.0, "capsule, box": 0.0, "capsule, plane": 0.0, "tire, plane": 0.0}
    box = _box(np.array([120.0, 80.0, 50.0]))
    floor = _box(np.array([5_000.0, 5_000.0, 100.0]))
    for _ in range(60):
        a, b, c, d = rng.uniform(-400.0, 400.0, (4, 3))
        one, two = tube(a, b, 40.0), tube(c, d, 60.0)
        gap = float(gaps(_one(one), _one(two), [(one, two)]).gap[0])
        exact = float(segments_gap(a, b, c, d)) - 50.0
        if exact > -49.0:  # center lines that cross have a depth of their own
            off["capsule, capsule"] = max(off["capsule, capsule"], abs(gap - exact))
        # A place of the center line and the nearest place of the box, clamped: the least over the line.
        gap = float(gaps(_one(one), _one(box), [(one, box)]).gap[0])

        def away(s: Array, a: Array = a, b: Array = b) -> float:
            place = a + s[0] * (b - a)
            return float(np.linalg.norm(place - np.clip(place, (-120.0, -80.0, -50.0), (120.0, 80.0, 50.0))))

        exact = min(minimize(away, [s], bounds=[(0.0, 1.0)], tol=1e-12).fun for s in (0.1, 0.5, 0.9)) - 20.0
        if exact > -19.0:
            off["capsule, box"] = max(off["capsule, box"], abs(gap - exact))
        # A plane is met below the lower end.
        up = np.array([0.0, 0.0, 600.0])
        lifted = tube(a + up, b + up, 40.0)
        gap = float(gaps(_one(lifted), _one(floor), [(lifted, floor)]).gap[0])
        off["capsule, plane"] = max(off["capsule, plane"], abs(gap - (min(a[2], b[2]) + 600.0 - 20.0 - 100.0)))
        # A leaned tire reaches down by its radius times the cosine, half its width times the sine, and its shoulder.
        lean, radius, half, shoulder = rng.uniform(0.0, 0.6), 400.0, 120.0, 30.0
        axis = np.array([0.0, np.cos(lean), np.sin(lean)])
        hub = np.array([0.0, 0.0, 900.0])
        tire = round_bar(hub - half * axis, hub + half * axis, 2 * radius, shoulder)
        gap = float(gaps(_one(tire), _one(floor), [(tire, floor)]).gap[0])
        dip = (radius - shoulder) * np.cos(lean) + (half - shoulder) * np.sin(lean) + shoulder
        off["tire, plane"] = max(off["tire, plane"], abs(gap - (900.0 - dip - 100.0)))
    for what, worst in off.items():
        against("worked by hand", "closed form", f"gap {what}: the most we are off in 60 random states", 0.0, worst,
                "mm", 0.01)  # fmt: skip


def test_parts_of_the_car_at_random_postures_against_the_library() -> None:
    """What is really looked at: parts of the rock rig, steered and crossed up, their balls taken off their distance."""
    vehicle = demo_jobs()[2].vehicle
    axle = vehicle.axle("rear")
    rng = np.random.default_rng(3)
    ends = steer_ends(axle)
    assert ends is not None
    low, high = np.array([-axle.droop_mm] * 2 + [ends[0]]), np.array([axle.bump_mm] * 2 + [ends[1]])
    states = posture_states(vehicle, axle, low + rng.uniform(size=(40, 3)) * (high - low))
    parts = [p for p in hard_parts(vehicle) if p.axle in ("", "rear")]
    couples = couples_of(parts, states.moves)
    worst, missed, looked = 0.0, 0, 0
    for i in rng.integers(len(couples), size=160):
        a, b = couples[i]
        ours, _ = pair_gaps(vehicle, axle, a, b, np.column_stack((states.travel, rng.uniform(*ends, size=40))))
        del ours
        for one in a.cores[:2]:
            for two in b.cores[:2]:
                k = int(rng.integers(40))
                placed = [_now(states, core, body, k) for core, body in ((one, a.body), (two, b.body))]
                gap = float(gaps(placed[0], placed[1], [(one, two)]).gap[0])
                theirs = float(_of_hulls(placed[0], placed[1])) - one.ball_mm - two.ball_mm
                looked += 1
                missed += int(theirs < -0.01 and gap > 0.0)
                if theirs > 0.0:
                    worst = max(worst, abs(gap - theirs))
    assert looked > 150
    assert missed == 0
    against("referee", "python-fcl", f"gaps of {looked} pieces of a car at random postures: the most we are off", 0.0,
            worst, "mm", 0.01)  # fmt: skip


def _now(states: AxleStates, core: Core, body: str, k: int) -> Placed:
    points, axis = states.shape(core, body).at((k, 0))
    return rows([core], [points], [axis])


def _of_hulls(one: Placed, two: Placed) -> float:
    """The referee's distance of two shapes without their balls, discs as its own cylinders."""
    objects = []
    for placed in (one, two):
        points, axis = placed.points[0], placed.axis[0]
        if placed.disc[0] > 0.0:
            turn, _ = Rotation.align_vectors([axis], [[0.0, 0.0, 1.0]])
            length = float(np.linalg.norm(points[1] - points[0]))
            shape = fcl.Cylinder(float(placed.disc[0]), max(length, 1e-6))
            objects.append(fcl.CollisionObject(shape, fcl.Transform(turn.as_matrix(), points.mean(axis=0))))
        elif len(points) == 1 or np.ptp(points, axis=0).max() < 1e-9:
            objects.append(fcl.CollisionObject(fcl.Sphere(1e-9), fcl.Transform(np.eye(3), points[0])))
        elif np.linalg.matrix_rank(points - points[0], tol=1e-6) == 1:
            run = points[1] - points[0]
            length = float(np.linalg.norm(run))
            turn, _ = Rotation.align_vectors([run / length], [[0.0, 0.0, 1.0]])
            middle = points[:2].mean(axis=0)
            objects.append(fcl.CollisionObject(fcl.Capsule(1e-9, length), fcl.Transform(turn.as_matrix(), middle)))
        else:
            faces = ConvexHull(points).simplices
            flat = np.concatenate([np.array([3, *f]) for f in faces])
            objects.append(fcl.CollisionObject(fcl.Convex(points, len(faces), flat), fcl.Transform()))
    return float(fcl.distance(*objects, fcl.DistanceRequest(enable_signed_distance=True), fcl.DistanceResult()))


@pytest.mark.parametrize(("demo", "key"), [(1, "rear"), (3, "rear"), (0, "rear")])
def test_the_worst_posture_is_that_of_a_fine_grid(demo: int, key: str) -> None:
    """Both wheels' travel in 91 x 91 steps, for the two tightest pairs: nothing closer than was found."""
    vehicle = demo_jobs()[demo].vehicle
    axle = vehicle.axle(key)
    each = np.linspace(-axle.droop_mm, axle.bump_mm, 91)
    grid = np.stack(np.meshgrid(each, each, indexing="ij"), axis=-1).reshape(-1, 2)
    postures = np.column_stack((grid, np.zeros(len(grid))))
    for gap in study_axle_gaps(vehicle, axle).gaps[:2]:
        every, allowed = pair_gaps(vehicle, axle, gap.a, gap.b, postures)
        least = float(np.nanmin(np.where(allowed, every, np.nan)))
        against("referee", "brute force, 8,281 postures", f"{gap.a.name}, {gap.b.name}: tightest gap", least,
                min(gap.gap_mm, least), "mm", 0.1)  # fmt: skip
        assert gap.gap_mm <= least + 0.1


def test_the_worst_posture_with_steer_is_that_of_a_fine_grid() -> None:
    vehicle = demo_jobs()[2].vehicle
    axle = vehicle.axle("rear")
    ends = steer_ends(axle)
    assert ends is not None
    each = np.linspace(-axle.droop_mm, axle.bump_mm, 31)
    grid = np.stack(np.meshgrid(each, each, np.linspace(*ends, 17), indexing="ij"), axis=-1).reshape(-1, 3)
    gap = study_axle_gaps(vehicle, axle).of("rear left tire", "left rear step")
    assert gap is not None
    every, allowed = pair_gaps(vehicle, axle, gap.a, gap.b, grid)
    least = float(np.nanmin(np.where(allowed, every, np.nan)))
    assert gap.gap_mm <= least + 0.1
    near = np.array([(gap.left_mm, gap.right_mm, gap.steer)])
    assert gap.gap_mm == pytest.approx(float(pair_gaps(vehicle, axle, gap.a, gap.b, near)[0][0]), abs=0.01)


def test_a_separation_is_never_more_than_the_gap() -> None:
    """Any direction bounds the gap from below, clear or overlapping: what the search rests on."""
    rng = np.random.default_rng(9)
    one, two = tube(np.zeros(3), np.array([300.0, 40.0, 0.0]), 50.0), _box(np.array([90.0, 60.0, 30.0]))
    for _ in range(200):
        shift = rng.uniform(-250.0, 250.0, 3)
        moved = one.points + shift
        gap = float(gaps(rows([one], [moved], [one.axis]), _one(two), [(one, two)]).gap[0])
        ways = rng.normal(size=(40, 3))
        for way in ways / np.linalg.norm(ways, axis=1)[:, None]:
            assert separation(moved, two.points, one.ball_mm, way) <= gap + 1e-6


def test_what_is_swept_is_what_fine_steps_sweep() -> None:
    """The notch of the pickup's step bracket: steps half as long sweep no more than a few tenths beside it."""
    vehicle = demo_jobs()[0].vehicle
    gap = study_axle_gaps(vehicle, vehicle.axle("front")).of("front left tire", "left step bracket")
    assert gap is not None
    usual, fine = (notch_for(vehicle, gap, "left step bracket", 12.7, fine=k) for k in (1, 2))
    beyond = fine.cut.difference(usual.cut.buffer(1.0))
    assert beyond.is_empty
    against("referee", "shapely, union of steps half as long", "area notched out of a step bracket", fine.cut.area,
            usual.cut.area, "mm2", 0.03 * fine.cut.area)  # fmt: skip
    states = grid_states(vehicle, vehicle.axle("front"), 3, 3)
    assert states.allowed.any()
