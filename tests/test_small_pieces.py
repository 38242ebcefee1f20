"""The smallest pieces of the heart, each alone against another way to the same: SciPy, trimesh, brute force, energy."""

import itertools

import numpy as np
import pytest
import trimesh
from hypothesis import assume, given
from hypothesis import strategies as st
from scipy.optimize import minimize_scalar
from scipy.spatial import ConvexHull
from scipy.spatial.transform import Rotation

from even_stance.mechanics import bushings, ground, leaf, leaning, solids, steering
from even_stance.mechanics.closest import boxes_apart
from even_stance.mechanics.newton import solve_columns
from even_stance.mechanics.vectors import Array, short_turn, skew, small_rotation, turn, turned_about

MM = st.floats(-900.0, 900.0)
PLACES = st.tuples(MM, MM, MM).map(np.array)
ANGLES = st.floats(-3.0, 3.0)
SEEDS = st.integers(0, 2**32 - 1)


def _unit(v: Array) -> Array:
    size = float(np.linalg.norm(v))
    assume(size > 1.0)
    return np.asarray(v / size)


# --- turning


@given(PLACES, PLACES)
def test_skew_is_the_cross_product(a: Array, b: Array) -> None:
    assert np.allclose(skew(a) @ b, np.cross(a, b), atol=1e-6)


@given(PLACES, ANGLES, SEEDS)
def test_turning_about_an_axis(axis: Array, angle: float, seed: int) -> None:
    """SciPy's rotation by the same vector."""
    unit, arms = _unit(axis), np.random.default_rng(seed).uniform(-500.0, 500.0, (5, 3))
    theirs = Rotation.from_rotvec(angle * unit)
    assert np.allclose(turned_about(unit, np.array(angle), arms), theirs.apply(arms), atol=1e-8)
    assert np.allclose(turn(theirs.as_matrix(), arms), theirs.apply(arms), atol=1e-8)


@given(PLACES, PLACES)
def test_the_short_way_from_one_direction_to_another(a: Array, b: Array) -> None:
    """It gets there, it is a rotation, and no other gets there with a smaller turn."""
    old, new = _unit(a), _unit(b)
    assume(float(old @ new) > -0.99)
    found = short_turn(a, b[None])[0]
    assert np.allclose(found @ old, new, atol=1e-6)
    assert np.allclose(found @ found.T, np.eye(3), atol=1e-6)
    least = float(np.arccos(np.clip(old @ new, -1.0, 1.0)))
    assert Rotation.from_matrix(found).magnitude() == pytest.approx(least, abs=1e-5)


@given(st.tuples(*[st.floats(-0.05, 0.05)] * 3).map(np.array))
def test_a_small_step_turns_by_itself_to_second_order(w: Array) -> None:
    ours, theirs = small_rotation(w), Rotation.from_rotvec(w).as_matrix()
    assert np.allclose(ours, theirs, atol=float(np.linalg.norm(w)) ** 3 / 6.0 + 1e-12)
    assert np.allclose(ours @ ours.T, np.eye(3), atol=1e-12)


@given(SEEDS, st.integers(1, 6), st.integers(1, 5))
def test_stacked_systems_are_solved_one_by_one(seed: int, size: int, columns: int) -> None:
    draw = np.random.default_rng(seed)
    rows, right = draw.normal(size=(4, size, size)) + 3.0 * np.eye(size), draw.normal(size=(4, size, columns))
    assume(min(abs(np.linalg.det(m)) for m in rows) > 1e-3)
    found = solve_columns(rows, right)
    for one, b, x in zip(rows, right, found, strict=True):
        assert np.allclose(one @ x, b, atol=1e-8)


def test_one_locked_pose_among_many_spoils_no_other() -> None:
    rows = np.stack([np.eye(3), np.zeros((3, 3)), 2.0 * np.eye(3)])
    found = solve_columns(rows, np.ones((3, 3, 1)))
    assert np.allclose(found[0], 1.0)
    assert np.allclose(found[2], 0.5)
    assert not np.isfinite(found[1]).all() or np.abs(found[1]).max() > 1e6


# --- what gives


@given(st.floats(1.0, 1e5), st.floats(1.0, 1e5))
def test_two_bushings_in_a_row_share_what_they_give(a: float, b: float) -> None:
    """One force through both: what each gives adds up."""
    force = 700.0
    assert force / bushings.in_series(a, b) == pytest.approx(force / a + force / b)
    assert bushings.in_series(a, b) < min(a, b)


@given(st.floats(100.0, 1e4), st.floats(30.0, 200.0), st.floats(300.0, 1200.0))
def test_an_arm_between_two_clamps_by_energy(bushing: float, apart: float, length: float) -> None:
    """Least energy: the arm turns about the middle of its clamps, both squeezed alike, under 1 N at its end."""

    def energy(angle: float) -> float:
        squeezed = 0.5 * apart * angle
        return 2 * 0.5 * bushing * squeezed**2 - 1.0 * length * angle

    best = float(minimize_scalar(energy, bracket=(0.0, 1e-4), options={"xtol": 1e-12}).x)
    stiff = bushings.clamped_arm(1e12, bushing, apart, np.array(length))
    assert 1.0 / float(stiff) == pytest.approx(best * length, rel=1e-4)


@given(st.floats(5.0, 200.0), st.floats(300.0, 900.0), st.floats(300.0, 900.0))
def test_both_halves_of_a_leaf_make_its_rate_and_the_shorter_is_stiffer(rate: float, fore: float, aft: float) -> None:
    seat, eye, other = np.zeros(3), np.array([fore, 0.0, 0.0]), np.array([-aft, 0.0, 0.0])
    one, two = leaf.half_rate(rate, seat, eye, other), leaf.half_rate(rate, seat, other, eye)
    assert float(one + two) == pytest.approx(rate)
    assert float(one / two) == pytest.approx((aft / fore) ** 3)


@given(st.floats(-80.0, 120.0))
def test_a_shackle_keeps_both_its_lengths(rise: float) -> None:
    eye, seat, pivot = np.array([-600.0, 400.0, 500.0]), np.array([0.0, 400.0, 380.0]), np.array([-570.0, 400.0, 590.0])
    now = seat + np.array([0.0, 0.0, rise])
    far_up = seat + np.array([0.0, 0.0, 2000.0])
    found, hung = leaf.shackle_eye(eye, seat, pivot, np.stack((now, far_up)))
    assert hung == pytest.approx(eye)  # out of its reach it stays where it was

    def far(a: Array, b: Array) -> float:
        return float(np.hypot(a[0] - b[0], a[2] - b[2]))

    assert far(found, pivot) == pytest.approx(far(eye, pivot), abs=1e-6)
    assert far(found, now) == pytest.approx(far(eye, seat), abs=1e-6)


# --- weights


@given(SEEDS)
def test_what_goes_to_the_outer_tires_balances_the_car(seed: int) -> None:
    """About the ground: what both axles move over times their tracks is the overturning moment of all masses, where the
    springs hold what the sprung mass has over its roll axis; 1 g of side force."""
    draw = np.random.default_rng(seed)
    track, sprung = draw.uniform(1300.0, 1900.0, 2), draw.uniform(300.0, 1200.0, 2)
    center, unsprung, wheel = draw.uniform(100.0, 700.0, 2), draw.uniform(80.0, 300.0, 2), draw.uniform(300.0, 500.0, 2)
    stiffness, height = draw.uniform(1e8, 9e8, 2), 900.0
    over_axis = height - float(sprung @ center) / float(sprung.sum())
    moment = float(sprung.sum()) * 9.80665 * over_axis
    roll = moment / float(stiffness.sum())  # its own lean adds nothing here: the rest of the car stands upright
    moved = leaning.transfer_per_g(stiffness, roll, sprung, center, unsprung, wheel, track)
    overturning = 9.80665 * (float(sprung.sum()) * height + float(unsprung @ wheel))
    assert float(moved @ track) == pytest.approx(overturning, rel=1e-9)


@given(st.floats(900.0, 3500.0), st.floats(450.0, 900.0), st.floats(60.0, 250.0), st.floats(60.0, 250.0))
def test_the_sprung_mass_and_the_axles_make_the_whole_car(
    mass: float, height: float, front: float, rear: float
) -> None:
    unsprung, hubs = np.array([front, rear]), np.array([380.0, 420.0])
    sprung = mass - front - rear
    own = ground.sprung_height(mass, height, unsprung, hubs)
    assert (sprung * own + float(unsprung @ hubs)) / mass == pytest.approx(height)
    rise = 50.0
    raised = (sprung * (own + rise) + float(unsprung @ hubs)) / mass
    assert raised - height == pytest.approx(rise * ground.cg_rise_per_ride(mass, front + rear))


# --- steered wheels


@given(st.floats(0.06, 0.6), st.floats(1300.0, 1700.0), st.floats(2300.0, 3200.0))
def test_wheels_that_roll_about_one_center_make_a_full_share(left: float, track: float, base: float) -> None:
    """The left wheel turns toward its side: the center is there, on the other axle's line; the right one is aimed at it."""
    center = track / 2 + base / np.tan(left)
    right = float(np.arctan2(base, center + track / 2))
    headings = np.array([left, right])
    assert float(steering.ackermann_share(headings, track, base)) == pytest.approx(1.0)
    wheels = np.array([[0.0, track / 2], [0.0, -track / 2]])
    assert float(steering.turn_center(headings, wheels, -base)) == pytest.approx(np.hypot(base, center + track / 2))
    assert float(steering.ackermann_share(np.array([left, left]), track, base)) == pytest.approx(0.0, abs=1e-9)


@given(st.floats(-12.0, 12.0), st.floats(0.0, 15.0))
def test_caster_and_inclination_are_read_from_the_side_and_from_the_front(caster: float, lean: float) -> None:
    tilt = np.tan(np.radians([caster, lean]))
    axis = np.array([[-tilt[0], -tilt[1], 1.0], [-tilt[0], tilt[1], 1.0]])
    seen = steering.kingpin_angles(axis / np.linalg.norm(axis, axis=-1, keepdims=True))
    assert np.degrees(seen[0]) == pytest.approx([caster, caster])
    assert np.degrees(seen[1]) == pytest.approx([lean, lean])


@given(PLACES, PLACES, PLACES)
def test_how_far_a_point_is_off_an_axis(point: Array, pivot: Array, way: Array) -> None:
    unit = _unit(way)
    nearest = minimize_scalar(lambda s: float(np.linalg.norm(pivot + s * unit - point)), bracket=(-1.0, 1.0)).fun
    assert float(steering.beside_axis(point, pivot, unit)) == pytest.approx(nearest, abs=1e-3)


# --- solids


@given(SEEDS, st.integers(3, 24))
def test_a_turned_solid_is_closed_and_has_its_volume(seed: int, sides: int) -> None:
    """trimesh: watertight, wound outward, and as large as its frustums are."""
    draw = np.random.default_rng(seed)
    along, radii = np.cumsum(draw.uniform(10.0, 80.0, 4)), draw.uniform(20.0, 90.0, 4)
    corners, faces = solids.lathe(draw.uniform(-99.0, 99.0, 3), np.array([0.6, 0.0, 0.8]), along, radii, sides)
    mesh = trimesh.Trimesh(corners, [t for f in faces for t in ((f[0], f[i], f[i + 1]) for i in range(1, len(f) - 1))])
    assert mesh.is_watertight
    ring = 0.5 * sides * np.sin(2 * np.pi / sides)  # area of the polygon in a circle of radius 1
    frustums = sum(h / 3 * (a * a + a * b + b * b) for h, a, b in zip(np.diff(along), radii, radii[1:], strict=False))
    assert mesh.volume == pytest.approx(ring * frustums, rel=1e-6)
    inside = mesh.center_mass
    normals, first = solids.face_normals(corners, faces), corners[solids.first_corners(faces)]
    assert np.allclose(np.linalg.norm(normals, axis=1), 1.0)
    assert (((first - inside) * normals).sum(axis=1)[-2:] > 0.0).all()  # both ends look outward


@given(SEEDS)
def test_a_prism_is_as_large_as_its_outline_times_its_run(seed: int) -> None:
    draw = np.random.default_rng(seed)
    flat = draw.uniform(-100.0, 100.0, (9, 2))
    hull = ConvexHull(flat)
    ring, run = flat[hull.vertices][::-1], np.array([0.0, 0.0, 75.0])  # clockwise from above, seen against the run
    corners, faces = solids.prism(np.column_stack((ring, np.zeros(len(ring)))), run)
    mesh = trimesh.Trimesh(corners, [t for f in faces for t in ((f[0], f[i], f[i + 1]) for i in range(1, len(f) - 1))])
    assert mesh.is_watertight
    assert abs(mesh.volume) == pytest.approx(hull.volume * 75.0, rel=1e-9)


@given(SEEDS, st.integers(3, 40))
def test_an_outline_reaches_as_far_as_the_hull(seed: int, count: int) -> None:
    """Its corners are corners of SciPy's hull, and what it leaves off is a sliver of the 64 directions it looks in."""
    points = np.random.default_rng(seed).uniform(-100.0, 100.0, (count, 2))
    hull = ConvexHull(points)
    found = solids.outline(points)
    corners = {tuple(p) for p in points[hull.vertices]}
    assert all(tuple(p) in corners for p in found)
    if len(found) > 2:
        assert hull.volume * 0.99 - 1.0 <= ConvexHull(found).volume <= hull.volume + 1e-6


@given(SEEDS)
def test_rays_enter_a_box_where_they_do(seed: int) -> None:
    """Axis by axis between its slabs (Kay and Kajiya, Ray Tracing Complex Scenes, 1986, from memory)."""
    draw = np.random.default_rng(seed)
    half = draw.uniform(25.0, 100.0, 3)
    normals = np.array([[1, 0, 0], [-1, 0, 0], [0, 1, 0], [0, -1, 0], [0, 0, 1], [0, 0, -1]], dtype=float)
    start = draw.normal(size=(20, 3))
    start *= 400.0 / np.linalg.norm(start, axis=1, keepdims=True)
    way = draw.uniform(-120.0, 120.0, (20, 3)) - start
    way /= np.linalg.norm(way, axis=1, keepdims=True)
    rows = np.broadcast_to(normals, (20, 6, 3)), np.broadcast_to(np.repeat(half, 2), (20, 6))
    ours = solids.ray_entry(start, way, *rows)
    for o, d, found in zip(start, way, ours, strict=True):
        slabs = np.sort(np.stack((-half - o, half - o)) / d, axis=0)
        enter, leave = slabs[0].max(), slabs[1].min()
        assert np.isnan(found) if enter >= leave else float(found) == pytest.approx(enter)
        if enter < leave:
            on = o + enter * d
            assert np.abs(np.abs(on) - half).min() == pytest.approx(0.0, abs=1e-6)


@given(SEEDS, st.integers(1, 7))
def test_what_hides_another_is_painted_after_it(seed: int, count: int) -> None:
    """Any set of rules without a knot is kept; with one, everything is painted all the same, once."""
    draw = np.random.default_rng(seed)
    rank = draw.permutation(count)
    before = np.array([[rank[i] < rank[j] and draw.random() < 0.5 for j in range(count)] for i in range(count)])
    depth = draw.uniform(0.0, 9.0, count)
    order = solids.hidden_order(before, depth)
    assert sorted(order) == list(range(count))
    place = {thing: at for at, thing in enumerate(order)}
    assert all(place[i] < place[j] for i, j in itertools.product(range(count), repeat=2) if before[i, j])
    if not before.any():
        assert order == np.argsort(-depth).tolist()
    knot = ~np.eye(count, dtype=bool)
    assert sorted(solids.hidden_order(knot, depth)) == list(range(count))


@given(SEEDS)
def test_boxes_are_as_far_apart_as_their_nearest_places(seed: int) -> None:
    draw = np.random.default_rng(seed)
    low = draw.uniform(-200.0, 200.0, (6, 3))
    high = low + draw.uniform(1.0, 150.0, (6, 3))
    far = boxes_apart(low, high)
    for i, j in itertools.product(range(6), repeat=2):
        near = np.clip(np.clip(low[j], low[i], high[i]), low[j], high[j])
        gap = np.linalg.norm(near - np.clip(near, low[i], high[i]))
        assert float(far[i, j]) <= gap + 1e-9, "a bound from below"
        if i != j:
            assert float(far[i, j]) == pytest.approx(gap, abs=1e-9)


@given(st.floats(-15.0, 15.0), st.floats(380.0, 460.0))
def test_a_tire_that_stands_is_flat_where_it_stands(lean_deg: float, radius: float) -> None:
    lean = np.radians(lean_deg)
    half = 750.0 * np.array([0.0, np.cos(lean), np.sin(lean)])
    wheels = np.stack((half, -half))
    turns = np.linspace(0.0, 2 * np.pi, 41)
    up, ahead = np.array([0.0, -np.sin(lean), np.cos(lean)]), np.array([1.0, 0.0, 0.0])
    tire = wheels[0] + 460.0 * (np.cos(turns)[:, None] * ahead + np.sin(turns)[:, None] * up)
    stands = solids.flattened(tire, wheels, radius)
    above = (stands - wheels[0]) @ up + radius
    assert above.min() == pytest.approx(0.0, abs=1e-9)
    untouched = (tire - wheels[0]) @ up + radius >= 0.0
    assert np.allclose(stands[untouched], tire[untouched])
