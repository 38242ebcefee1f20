"""Solids, the bodies they hang on, the ground they stand on, and what hides what when the car is walked around."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial import ConvexHull

from even_stance.exchange.demo import demo_jobs
from even_stance.judgement.catalog.layouts import BASES
from even_stance.judgement.catalog.starter import with_layout
from even_stance.judgement.driveline import guessed_powertrain
from even_stance.mechanics.solids import face_normals, outline, ray_entry
from even_stance.study.answers import study_postures
from even_stance.study.bodies import car_solids
from even_stance.study.drawing import Area, Path
from even_stance.study.figures import study_axle
from even_stance.study.floor import axle_patches, car_shapes, ground_shapes, patches
from even_stance.study.places import AxlePlace
from even_stance.study.state import CHASSIS, axle_body, car_state
from even_stance.study.walkaround import Eye, first_eye, look_at, pick
from even_stance.vehicle.car import Vehicle
from even_stance.vehicle.edits import set_powertrain
from even_stance.vehicle.job import Job
from even_stance.vehicle.posture import AxlePosture, CarPosture
from even_stance.vehicle.spots import Spot, all_spots
from tests.conftest import starter

MM = st.floats(-70.0, 70.0)


def _crossed(left: float, right: float, axle: str = "rear") -> CarPosture:
    return CarPosture().put(axle, AxlePosture(left, right))


@pytest.mark.parametrize("base", BASES)
def test_every_solid_is_convex_and_its_faces_look_outward(base: str) -> None:
    job = with_layout(starter(), "rear", base, keep=False)  # type: ignore[arg-type]
    job = set_powertrain(guessed_powertrain(job)).apply(job)
    for solid in car_solids(job.vehicle):
        normals = face_normals(solid.corners, solid.faces)
        for normal, face in zip(normals, solid.faces, strict=True):
            beyond = (solid.corners - solid.corners[face[0]]) @ normal
            assert beyond.max() < 1e-6, (solid.name, face)
        assert ConvexHull(solid.corners).volume > 0


@settings(max_examples=30)
@given(MM, MM)
def test_bodies_are_rigid_and_points_are_where_the_answers_put_them(left: float, right: float) -> None:
    job = demo_jobs()[0]
    state = car_state(job.vehicle, [_crossed(left, right), CarPosture()])
    # A driveshaft slips, coils are squeezed and straps go slack.
    soft = ("driveshaft", "coil", "strap")
    for solid in (s for s in car_solids(job.vehicle) if s.name not in soft and s.style not in soft):
        before, after = solid.corners, state.place(solid.body, solid.corners)[0]
        gaps = [np.linalg.norm(p - p[0], axis=1) for p in (before, after)]
        assert gaps[1] == pytest.approx(gaps[0], abs=1e-4), solid.name
    axle = job.vehicle.axle("rear")
    found = study_postures(job.vehicle, axle, np.array([left]), np.array([right]))
    for i, rod in enumerate(found.layout.rods):
        for index, ends in ((rod.first, found.chassis_ends), (rod.second, found.rod_ends)):
            place = found.layout.mounts[index]
            spot = Spot("rear", place.member.name, place.end)
            assert state.points[spot][0] == pytest.approx(ends[0, i], abs=1e-9)
    assert all(state.points[s][1] == pytest.approx(_ride(job, s)) for s in all_spots(job))


def _ride(job: Job, spot: Spot) -> tuple[float, float, float]:
    from even_stance.vehicle.spots import point_of  # noqa: PLC0415

    return point_of(job, spot).xyz


def test_every_axle_has_a_posture_of_its_own() -> None:
    """Three postures at once: one axle crossed up moves nothing of the other, both together move both."""
    vehicle = demo_jobs()[2].vehicle
    both = _crossed(40.0, -30.0).put("front", AxlePosture(-20.0, 50.0))
    state = car_state(vehicle, [CarPosture(), _crossed(40.0, -30.0), both])
    for key, still in (("front", 1), ("rear", 0)):
        wheel = np.array([vehicle.axle(key).center]) + np.array([0.0, vehicle.axle(key).track_mm / 2, 0.0])
        rise = state.place(axle_body(key), wheel)[:, 0, 2] - wheel[0, 2]
        assert rise[still] == pytest.approx(0.0, abs=1e-9)
        assert rise[2] == pytest.approx(both.of(key).left_mm, abs=1e-9)
    assert state.place(CHASSIS, np.ones((1, 3))) == pytest.approx(np.ones((3, 1, 3)))


def _places(vehicle: Vehicle, left: float, right: float) -> list[AxlePlace]:
    axles = vehicle.axles
    return [AxlePlace(a, study_axle(vehicle, a, left, right, {}) if a.key == "rear" else None) for a in axles]


@given(MM, MM)
def test_the_ground_touches_every_tire_at_its_loaded_radius(left: float, right: float) -> None:
    vehicle = demo_jobs()[0].vehicle
    places = _places(vehicle, left, right)
    for side in (0, 1):
        touch = patches(places, side)
        ground = touch[1] - touch[0]
        for place, patch in zip(places, touch, strict=True):
            to_center = np.array(place.wheels[side]) - patch
            assert np.linalg.norm(to_center) == pytest.approx(place.axle.tire.loaded_radius_mm, abs=1e-6)
            assert abs(to_center @ ground) / np.linalg.norm(ground) < 0.05
    patch = axle_patches(places[1])
    centers = np.array(places[1].wheels)
    # The line under an axle is as far from both wheels and runs as its tube does.
    assert (patch[0] - patch[1])[1:] == pytest.approx((centers[0] - centers[1])[1:], abs=1e-9)


def test_the_ground_line_is_the_rides_at_ride_and_tilts_when_crossed_up() -> None:
    vehicle = demo_jobs()[0].vehicle
    ride = ground_shapes(vehicle, _places(vehicle, 0.0, 0.0), "rear", "rear")
    assert [(s.style, s.places[0][1]) for s in ride if isinstance(s, Path)] == [("ground", 0.0)]
    crossed = ground_shapes(vehicle, _places(vehicle, 60.0, -60.0), "rear", "rear")
    line = next(s for s in crossed if isinstance(s, Path) and s.style == "ground")
    (h0, v0), (h1, v1) = line.places[0], line.places[-1]
    slope = (v1 - v0) / (h1 - h0)
    # By hand: 120 mm over the track, the left wheel (to the left in the picture) higher.
    track = vehicle.axle("rear").track_mm
    assert np.sin(np.arctan(slope)) == pytest.approx(-120.0 / track, abs=1e-3)
    # Seen from the side a bump lifts the ground under the rear axle by as much.
    bump = ground_shapes(vehicle, _places(vehicle, 50.0, 50.0), "side", "rear")
    line = next(s for s in bump if isinstance(s, Path) and s.style == "ground")
    heights = sorted(v for _, v in line.places[1:-1])
    assert heights == pytest.approx([0.0, 50.0], abs=0.5)
    assert [s.style for s in bump if isinstance(s, Path)] == ["ground-far", "ground"]


def test_tires_stand_on_the_ground_instead_of_in_it() -> None:
    vehicle = demo_jobs()[0].vehicle
    shapes = car_shapes(vehicle, _places(vehicle, 0.0, 0.0), "rear", "rear")
    tires = [s for s in shapes if isinstance(s, Area) and s.style == "tire"]
    assert len(tires) == 2
    assert min(v for s in tires for _, v in s.places) == pytest.approx(0.0, abs=1e-6)
    # An axle without links stands there as well, where it is on the car.
    side = car_shapes(vehicle, _places(vehicle, 0.0, 0.0), "side", "rear")
    front = next(s for s in side if isinstance(s, Area) and s.style == "tire-faint")
    assert min(v for _, v in front.places) == pytest.approx(0.0, abs=1e-6)
    assert np.mean([h for h, _ in front.places]) == pytest.approx(0.0, abs=15.0)


@settings(max_examples=20)
@given(st.floats(0.0, 360.0), st.floats(-60.0, 60.0), st.integers(0, 2))
def test_what_is_nearer_is_painted_later(turn: float, rise: float, demo: int) -> None:
    """Referee: SciPy's convex hulls of the placed corners, cut by rays through random places of the picture."""
    vehicle = demo_jobs()[demo].vehicle
    state = car_state(vehicle, [_crossed(30.0, -40.0)])
    first = first_eye(vehicle)
    eye = Eye(turn, rise, first.target, first.away_mm)
    seen = look_at(car_solids(vehicle), state, eye)
    hulls = [ConvexHull(state.place(s.solid.body, s.solid.corners)[0]) for s in seen]
    random, wrong, count = np.random.default_rng(round(turn)), 0, 0
    middle, spread = seen[-1].middle, 0.12
    for _ in range(25):
        x, y = middle + random.uniform(-spread, spread, 2)
        way = np.array([x, y, 1.0]) @ eye.axes
        way /= np.linalg.norm(way)
        depths = []
        for hull in hulls:
            planes, offsets = hull.equations[:, :3], -hull.equations[:, 3]
            depths.append(float(ray_entry(eye.at, way, planes, offsets)))
        hit = [k for k, d in enumerate(depths) if np.isfinite(d)]
        if len(hit) < 2:
            continue
        count += 1
        nearest = min(depths[k] for k in hit)
        # A tube that ends inside a tire, a joint on its link: what cuts into each other may lie either way.
        wrong += depths[hit[-1]] > nearest + 140.0
    assert wrong <= 0.1 * count + 1


def test_the_eye_goes_around_and_keeps_its_distance() -> None:
    eye = first_eye(demo_jobs()[0].vehicle)
    target = np.array(eye.target)
    for one in (eye.turned(77.0, -12.0), eye.turned(0.0, 500.0), eye.slid(100.0, 50.0)):
        assert np.linalg.norm(one.at - np.array(one.target)) == pytest.approx(eye.away_mm)
        assert one.axes @ one.axes.T == pytest.approx(np.eye(3), abs=1e-12)
        assert one.seen(np.array(one.target))[0] == pytest.approx(np.zeros(2), abs=1e-12)
    assert eye.nearer(0.5).away_mm == pytest.approx(0.5 * eye.away_mm)
    # From straight behind, left is to the left and up is up.
    behind = Eye(180.0, 0.0, eye.target, eye.away_mm)
    assert behind.seen(target + np.array([0.0, 100.0, 0.0]))[0][0] < 0
    assert behind.seen(target + np.array([0.0, 0.0, 100.0]))[0][1] > 0


def test_the_joint_under_the_mouse_is_found() -> None:
    vehicle = demo_jobs()[0].vehicle
    seen = look_at(car_solids(vehicle), car_state(vehicle, [CarPosture()]), first_eye(vehicle))
    spot = Spot("rear", "Upper left", "axle")
    at = next(s for s in seen if s.solid.spot == spot)
    assert pick(seen, at.middle + 0.001, 0.01) == spot
    assert pick(seen, at.middle + 1.0, 0.01) is None


def test_the_outline_of_a_square_is_its_corners() -> None:
    grid = np.array([(x, y) for x in (0.0, 1.0, 2.0) for y in (0.0, 1.0, 2.0)])
    corners = {(float(x), float(y)) for x, y in outline(grid)}
    assert corners == {(0.0, 0.0), (2.0, 0.0), (2.0, 2.0), (0.0, 2.0)}
