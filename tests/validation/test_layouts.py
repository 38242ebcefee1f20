"""Layout by layout: closed forms, textbook roll centers, and independent solvers for what MuJoCo does not hold.

Sources: Milliken and Milliken, Race Car Vehicle Dynamics, SAE, 1995, ch. 17 (roll centers of solid axles: panhard, watts,
leaf springs; from memory); SAE HS-788, Manual on Design and Application of Leaf Springs (three-link equivalent; from
memory).
"""

import numpy as np
import pytest
from scipy.optimize import fsolve, minimize, root
from scipy.spatial.transform import Rotation

from even_stance.errors import LayoutError
from even_stance.judgement.catalog.layouts import BASES, LATERALS, BaseKey, LateralKey
from even_stance.judgement.catalog.starter import with_layout, with_starter
from even_stance.mechanics.linkage import rod_ends
from even_stance.study.answers import answers_at, study_postures
from even_stance.study.bind import study_bind
from even_stance.study.figures import study_axle
from even_stance.study.model import layout_of, linkage_of
from even_stance.vehicle.car import Axle, Vehicle
from even_stance.vehicle.edits import set_joint, with_changes
from even_stance.vehicle.job import Job
from even_stance.vehicle.spots import Spot
from tests.cars import pair, rod, vehicle_of
from tests.conftest import starter
from tests.validation.record import against


def _car(base: BaseKey, lateral: LateralKey | None = None) -> tuple[Vehicle, Axle]:
    job = with_layout(starter(), "rear", base, lateral, keep=False)
    return job.vehicle, job.vehicle.axle("rear")


LEVEL = (
    *pair("Lower", (-1950, 450, 350), (-2800, 450, 350), "lower"),
    rod("Upper", (-2150, 0, 560), (-2800, 0, 560), "upper"),
)


def test_panhard_arc_closed_form() -> None:
    """A level bar of 1000 mm over the axle center: at a rise z the axle has moved along by 1000 - sqrt(1000^2 - z^2 - x^2),
    x being what the links draw it fore and aft."""
    bar = rod("Panhard", (-2800, 500, 400), (-2800, -500, 400), "lateral")
    vehicle, axle = vehicle_of([*LEVEL, bar])
    for z in (-90.0, 40.0, 100.0):
        answers = answers_at(vehicle, axle, z, z)
        x = answers.value("shift_x_mm")
        arc = 1000 - np.sqrt(1000**2 - z**2 - x**2)
        what = f"panhard of 1000 mm at {z:g}: sideways"
        against("worked by hand", "circle of the bar", what, arc, answers.value("shift_y_mm"), "mm", 2e-3)


@pytest.mark.parametrize("lateral", ["watts_axle", "watts_frame"])
def test_symmetric_watts_against_its_planar_equations(lateral: LateralKey) -> None:
    """In the plane of the links: two link lengths, unknown crank turn and sideways shift, solved by SciPy."""
    vehicle, axle = _car("three_link", lateral)
    # Level parallel links keep the axle from turning, so that the plane of the watts stays a plane.
    x, _, z0 = axle.center
    straight = [
        *pair("Lower", (x + 5000, 300, z0), (x, 300, z0), "lower"),
        rod("Upper", (x + 5000, 0, z0 + 200), (x, 0, z0 + 200), "upper"),
    ]
    watts = axle.member("Watts")
    axle = with_changes(axle, members=(*straight, watts))
    p = {end: np.array(m.at.xyz)[1:] for end, m in watts.mounts.items()}
    for travel in (60.0, -90.0):
        moved = answers_at(vehicle, axle, travel, travel)

        def gaps(q: np.ndarray, travel: float = travel) -> list[float]:  # type: ignore[type-arg]
            turn = np.array([[np.cos(q[0]), -np.sin(q[0])], [np.sin(q[0]), np.cos(q[0])]])
            rise = np.array([q[1], travel])
            found = []
            for side in ("left", "right"):
                inner = p["pivot"] + turn @ (p[f"crank_{side}"] - p["pivot"])
                outer = p[f"outer_{side}"]
                inner, outer = (inner + rise, outer) if lateral == "watts_axle" else (inner, outer + rise)
                found.append(np.linalg.norm(outer - inner) - np.linalg.norm(p[f"outer_{side}"] - p[f"crank_{side}"]))
            return found

        turn, shift = fsolve(gaps, [0.0, 0.0], xtol=1e-12)
        assert moved.value("shift_y_mm") == pytest.approx(shift, abs=2e-3)
        assert moved.pose.crank[0, 0] == pytest.approx(turn, abs=1e-4)
        assert abs(shift) < 3.0  # no arc to speak of: a panhard of this length goes several times as far


def test_watts_roll_center_is_its_pivot_when_in_the_axle_plane() -> None:
    vehicle, axle = _car("three_link", "watts_axle")
    members = []
    for m in (axle.member("Watts"),):
        shift = -2800.0 - m.mounts["pivot"].at.x
        ends = {e: with_changes(k, at=with_changes(k.at, x=k.at.x + shift)) for e, k in m.mounts.items()}
        members.append(with_changes(m, **ends))
    vehicle, axle = vehicle_of([*LEVEL, *members])
    pivot = members[0].mounts["pivot"].at.z
    ours = answers_at(vehicle, axle, 0.0, 0.0).value("roll_center_mm")
    source = "Milliken and Milliken, Race Car Vehicle Dynamics, ch. 17"
    against("published, from memory", source, "watts pivot in the axle's plane: roll center", pivot, ours, "mm")


def test_leaf_roll_center_is_on_the_line_of_its_eyes() -> None:
    """Textbook: the roll axis of a leaf-sprung axle runs through the eyes, by their height over the axle's plane."""
    vehicle, axle = _car("leaf")
    eye = axle.members[0].mounts["fixed_eye"].at.z
    ours = answers_at(vehicle, axle, 0.0, 0.0).value("roll_center_mm")
    source = "Milliken and Milliken, Race Car Vehicle Dynamics, ch. 17"
    against("published, from memory", source, "leaf springs: roll center at the eyes", eye, ours, "mm", 0.5)


def test_symmetric_leaf_moves_on_the_three_quarter_arc() -> None:
    """Three-link equivalent: with equal halves the axle does not wind up in heave and its seat swings about the fixed eye
    like the end of a link of three quarters of the half length."""
    vehicle, axle = _car("leaf")
    member = axle.members[0]
    eye, seat = (np.array(member.mounts[e].at.xyz)[[0, 2]] for e in ("fixed_eye", "seat"))
    link = 0.75 * (seat - eye)
    for z in (-100.0, 80.0):
        answers = answers_at(vehicle, axle, z, z)
        run = -np.sqrt(link @ link - (link[1] + z) ** 2)
        assert answers.value("pitch_deg") == pytest.approx(0.0, abs=0.05)
        what = f"symmetric leaf at {z:g}: fore and aft"
        source = "SAE HS-788, three-link equivalent"
        against("published, from memory", source, what, run - link[0], answers.value("shift_x_mm"), "mm", 0.3)


def test_arms_turn_about_their_pivots_in_heave() -> None:
    """Radius arms in heave: the axle turns about the line through both pivots, so the instant center is there."""
    vehicle, axle = _car("radius_arms", "none")
    pivot = axle.members[0].mounts["chassis"].at
    answers = answers_at(vehicle, axle, 0.0, 0.0)
    assert answers.value("ic_x_mm") == pytest.approx(pivot.x, abs=0.05)
    assert answers.value("ic_z_mm") == pytest.approx(pivot.z, abs=0.05)


@pytest.mark.parametrize("base", ["parallel", "radius_arms", "leaf"])
@pytest.mark.parametrize(("left", "right"), [(60.0, -60.0), (80.0, 80.0), (-20.0, 70.0)])
def test_least_energy_against_scipy(base: BaseKey, left: float, right: float) -> None:
    """The same bushings and rods, written down again with a rotation vector, minimized by SciPy's SLSQP."""
    vehicle, axle = _car(base)
    ours = study_postures(vehicle, axle, np.array([left]), np.array([right]))
    link = ours.linkage
    assert link.stiffness is not None
    n = len(ours.layout.rods)

    def place(q: np.ndarray, points: np.ndarray) -> np.ndarray:  # type: ignore[type-arg]
        return link.center + q[:3] + Rotation.from_rotvec(q[3:] / 1000).apply(points - link.center)

    def energy(q: np.ndarray) -> float:  # type: ignore[type-arg]
        stretch = np.linalg.norm(place(q, link.axle) - link.chassis, axis=1) - link.lengths if n else np.zeros(0)
        stray = ((place(q, link.guided) - link.guided) * link.normals).sum(axis=1) if len(link.guided) else np.zeros(0)
        return float(0.5 * link.stiffness @ np.concatenate((stretch, stray)) ** 2) / 1e4

    wheels = {"type": "eq", "fun": lambda q: place(q, link.wheels)[:, 2] - link.wheels[:, 2] - [left, right]}
    start = np.array([0, 0, (left + right) / 2, 1000 * np.arcsin((left - right) / axle.track_mm), 0, 0])
    best = minimize(energy, start, method="SLSQP", constraints=wheels, options={"ftol": 1e-16, "maxiter": 500})
    assert ours.pose.center[0] == pytest.approx(link.center + best.x[:3], abs=0.05)
    assert ours.pose.rotation[0] == pytest.approx(Rotation.from_rotvec(best.x[3:] / 1000).as_matrix(), abs=1e-4)


@pytest.mark.parametrize("base", BASES)
@pytest.mark.parametrize("key", ["front", "rear"])
def test_every_layout_goes_through_its_travel_on_either_axle(base: BaseKey, key: str) -> None:
    job = with_starter(starter(), key, base)
    axle = job.vehicle.axle(key)
    side = np.linspace(-100, 100, 5)
    left, right = (g.ravel() for g in np.meshgrid(side, side))
    answers = study_postures(job.vehicle, axle, left, right)
    assert answers.ok.all()
    assert answers.pose.residual_mm.max() < 1e-9


@pytest.mark.parametrize("lateral", [k for k in LATERALS if k != "none"])
def test_every_lateral_device_holds_a_three_link(lateral: LateralKey) -> None:
    vehicle, axle = _car("three_link", lateral)
    assert answers_at(vehicle, axle, 60.0, -40.0).ok.all()


def test_without_a_lateral_device_it_is_said() -> None:
    with pytest.raises(LayoutError, match="nothing holds it sideways: add a panhard bar or a watts link"):
        linkage_of(_car("three_link", "none")[1])


def test_bind_is_found_where_rod_ends_cannot_follow() -> None:
    """Common practice, no source: a parallel four-link with panhard binds on rod ends, less so on rubber; three-links
    and triangulated four-links move freely."""
    vehicle, axle = _car("three_link")
    assert study_bind(vehicle, axle, answers_at(vehicle, axle, 0.0, 0.0)).free
    shares = []
    for joint in ("rod_end", "poly", "rubber"):
        job = with_layout(starter(), "rear", "parallel", keep=False)
        for m in job.vehicle.axle("rear").members:
            for end in m.mounts:
                job = set_joint(Spot("rear", m.name, end), joint, both_sides=False).apply(job)
        vehicle, axle = job.vehicle, job.vehicle.axle("rear")
        found = study_bind(vehicle, axle, answers_at(vehicle, axle, 0.0, 0.0))
        assert not found.free
        shares.append(found.free_share)
    assert shares == sorted(shares)
    assert shares[0] < min(shares[1], 1.0)


def test_solid_ladder_bars_roll_as_far_as_tube_and_bars_give() -> None:
    """By hand: bars that cannot turn at the axle lift their pivots by half the pivot spacing per radian of roll; what
    gives is the pivot bushing, the half of the axle tube on that side and the bar as a cantilever, in series."""
    vehicle, axle = _car("radius_arms")
    solid = with_changes(
        axle, members=tuple(with_changes(m, clamp="solid") if m.kind == "radius_arm" else m for m in axle.members)
    )
    rise = axle.track_mm / 2 * np.sin(np.radians(1.0))
    found = answers_at(vehicle, solid, rise, -rise)
    row = found.layout.row_names.index("Arm left, up and down")
    spread = axle.members[0].mounts["chassis"].at.y
    assert abs(found.pose.misfit_mm[0, row]) == pytest.approx(spread * np.radians(1.0), rel=0.02)
    pivot = solid.members[0].mounts["chassis"].at
    lever, turned = abs(pivot.x - axle.center[0]), np.pi / 32 * (76.2**4 - (76.2 - 12.7) ** 4)
    bar = np.pi / 64 * (60.0**4 - (60.0 - 12.7) ** 4)
    joint = layout_of(solid).stiffness[row]
    hand = 1 / (1 / joint + lever**2 * pivot.y / (79_300.0 * turned) + lever**3 / (3 * 205_000.0 * bar))
    assert found.linkage.stiffness is not None
    # Levers of the arm's other rows about the tube are small, not nil.
    assert found.linkage.stiffness[row] == pytest.approx(hand, rel=0.1)
    assert found.linkage.stiffness[row] < 0.2 * joint


def test_double_triangulated_pairs_hold_together() -> None:
    """Springs side by side: 36 and 37 degrees hold like one pair of 52; 42 with 10 like 43 (common practice: decent)."""
    for upper, lower, low, high in ((36.0, 37.0, 50.0, 55.0), (42.0, 10.0, 42.0, 45.0), (40.0, 0.0, 40.0, 40.0)):
        run = 700.0
        up, down = (run * np.tan(np.radians(a / 2)) for a in (upper, lower))
        links = (
            *pair("Lower", (-1900.0, 430.0, 420.0), (-1900.0 - run, 430.0 + down, 340.0), "lower"),
            *pair("Upper", (-1900.0, 100.0 + up, 590.0), (-1900.0 - run, 100.0, 580.0), "upper"),
        )
        vehicle, axle = vehicle_of(links, wheelbase=1900.0 + run)
        figure = study_axle(vehicle, axle, 0.0, 0.0).figure("triangulation_deg")
        assert figure is not None
        assert low - 1e-6 <= figure.value <= high + 1e-6
        held = np.hypot(np.sin(np.radians(upper / 2)), np.sin(np.radians(lower / 2)))
        assert figure.value == pytest.approx(2 * np.degrees(np.arcsin(held)), abs=1e-6)


def test_changing_the_layout_keeps_points_that_still_make_sense(trail_job: Job) -> None:
    before = trail_job.vehicle.axle("rear")
    after = with_layout(trail_job, "rear", "three_link").vehicle.axle("rear")
    for name in ("Lower left", "Lower right"):
        assert after.member(name).mounts == before.member(name).mounts
    back = with_layout(with_layout(trail_job, "rear", "double_triangulated"), "rear", "triangulated").vehicle.axle(
        "rear"
    )
    assert back.members == before.members
    assert len(layout_of(back).rods) == 4
    ends = rod_ends(linkage_of(back), answers_at(trail_job.vehicle, before, 0.0, 0.0).pose)
    assert ends[0].shape == (1, 4, 3)


@pytest.mark.parametrize("base", ["parallel", "radius_arms", "leaf"])
def test_rates_of_layouts_that_give_are_the_derivative_of_their_poses(base: BaseKey) -> None:
    """Against central differences of poses settled anew, crossed up, where much has to give."""
    vehicle, axle = _car(base)
    d = 0.05
    left, right = 70.0 + d * np.array([0, 1, -1, 1, -1]), -50.0 + d * np.array([0, 1, -1, -1, 1])
    answers = study_postures(vehicle, axle, left, right)
    for twist, (i, j) in ((answers.twists.heave[0], (1, 2)), (answers.twists.roll[0], (3, 4))):
        shift = (answers.pose.center[i] - answers.pose.center[j]) / (2 * d)
        spin = (answers.pose.rotation[i] - answers.pose.rotation[j]) @ answers.pose.rotation[0].T / (2 * d)
        assert twist[:3] == pytest.approx(shift, abs=2e-6)
        assert twist[3:] == pytest.approx([spin[2, 1], spin[0, 2], spin[1, 0]], abs=5e-9)


def test_a_ball_that_slides_sideways_takes_torque_alone() -> None:
    """Against SciPy on the whole mechanism: axle pose, turn of the arm about its pivots, and slide of the ball, eight
    unknowns; the arm's ball on the axle's line, two lowers and a panhard of their lengths, two wheel heights."""
    vehicle, axle = _car("pivot_arm_slides", "panhard")
    points = {(m.name, end): np.array(mount.at.xyz) for m in axle.members for end, mount in m.mounts.items()}
    left, right = points["Pivot arm", "chassis_left"], points["Pivot arm", "chassis_right"]
    ball, center = points["Pivot arm", "axle"], np.array(axle.center)
    along = (left - right) / np.linalg.norm(left - right)
    half = axle.track_mm / 2
    rods = [(n, points[n, "chassis"], points[n, "axle"]) for n in ("Lower left", "Lower right", "Panhard")]

    def residual(q: np.ndarray, up: tuple[float, float]) -> np.ndarray:  # type: ignore[type-arg]
        turn = Rotation.from_rotvec(q[3:6])

        def at(p: np.ndarray) -> np.ndarray:  # type: ignore[type-arg]
            return center + 100 * q[:3] + turn.apply(p - center)

        held = left + Rotation.from_rotvec(q[6] * along).apply(ball - left)
        met = held - (at(ball) + 100 * q[7] * turn.apply([0.0, 1.0, 0.0]))
        lengths = [np.linalg.norm(at(a) - c) - np.linalg.norm(a - c) for _, c, a in rods]
        heights = [at(center + np.array([0, s * half, 0]))[2] - center[2] - u for s, u in zip((1, -1), up, strict=True)]
        return np.concatenate((met, lengths, heights))

    for up in ((60.0, 60.0), (80.0, -50.0), (-90.0, 40.0), (0.0, 100.0)):
        solved = root(residual, np.zeros(8), args=(up,), tol=1e-13)
        assert solved.success
        found = answers_at(vehicle, axle, *up)
        assert found.pose.center[0] == pytest.approx(center + 100 * solved.x[:3], abs=1e-6)
        assert found.pose.rotation[0] == pytest.approx(Rotation.from_rotvec(solved.x[3:6]).as_matrix(), abs=1e-9)
    # The arm no longer holds the axle sideways: the bar alone sets the roll center, far below the ball.
    assert answers_at(vehicle, axle, 0.0, 0.0).value("roll_center_mm") < ball[2] - 100.0
    bare = with_changes(axle, members=tuple(m for m in axle.members if m.role != "lateral"))
    with pytest.raises(LayoutError, match="nothing holds it sideways"):
        linkage_of(bare)
