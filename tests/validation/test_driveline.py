"""Driveline arithmetic against SymPy, SciPy, MuJoCo, a beam solver and the worked figures of the trade."""

import mujoco
import numpy as np
import pytest
import sympy as sp
from hypothesis import given
from hypothesis import strategies as st
from scipy.linalg import eigh
from scipy.spatial.transform import Rotation

from even_stance.exchange.demo import demo_jobs
from even_stance.mechanics.tilt import tilt_angle, tilted
from even_stance.mechanics.ujoint import (
    chain_speed,
    critical_rpm,
    joint_angle,
    joint_plane,
    residual_angle,
    second_cross,
    speed_extremes,
)
from even_stance.study.answers import study_postures
from even_stance.vehicle.car import Axle
from even_stance.vehicle.edits import set_shaft
from tests.validation.record import against

DEG = st.floats(-18.0, 18.0)
TURNS = np.linspace(0.0, 2 * np.pi, 7201)


def way(up: float, left: float = 0.0) -> np.ndarray:  # type: ignore[type-arg]
    """Unit vector toward the front that rises and turns left by some degrees."""
    u, v = np.radians([up, left])
    return np.array([np.cos(u) * np.cos(v), np.cos(u) * np.sin(v), np.sin(u)])


@given(DEG, DEG, DEG, DEG, DEG, DEG, st.floats(-90.0, 90.0))
def test_extremes_are_those_of_the_chain_turned_through(
    au: float, al: float, bu: float, bl: float, cu: float, cl: float, phase: float
) -> None:
    a, b, c, f = way(au, al), way(bu, bl), way(cu, cl), np.radians(phase)
    high, low = speed_extremes(a, b, c, f)
    speed = chain_speed(np.stack((a, b, c)), np.array([f]), TURNS)
    assert float(high) == pytest.approx(speed.max(), abs=2e-6)
    assert float(low) == pytest.approx(speed.min(), abs=2e-6)
    assert speed[:-1].mean() == pytest.approx(1.0, abs=1e-9)  # turn for turn


def test_single_joint_is_the_textbook_equation() -> None:
    """SymPy: tan of the driven angle is tan of the driving one over cos t; its derivative is the speed."""
    t, x = sp.symbols("t x")
    driven = sp.atan(sp.tan(x) / sp.cos(t))
    rate = sp.lambdify((t, x), sp.diff(driven, x))
    for deg in (3.0, 12.0, 25.0):
        speed = chain_speed(np.stack((way(0.0), way(deg))), np.zeros(0), TURNS)
        theirs = np.array([rate(np.radians(deg), v) for v in TURNS[1::500]])
        assert np.sort(speed[1::500]) == pytest.approx(np.sort(theirs), abs=1e-6)
        high, low = 1 / np.cos(np.radians(deg)), np.cos(np.radians(deg))
        source = "SAE AE-7, Universal Joint and Driveshaft Design Manual"
        for name, book, ours in (("highest", high, speed.max()), ("lowest", low, speed.min())):
            what = f"single joint at {deg:g} degrees: {name} speed"
            against("published, from memory", source, what, book, float(ours), "", 1e-6)


def test_equal_and_parallel_cancels_and_a_quarter_turn_doubles() -> None:
    """SAE AE-7 (from memory): equal angles, parallel shafts and yokes in line turn evenly; yokes crossed add up."""
    a, b = way(-3.0), way(2.0)
    high, low = speed_extremes(a, b, a)
    assert (float(high), float(low)) == pytest.approx((1.0, 1.0), abs=1e-12)
    high, low = speed_extremes(a, b, a, np.pi / 2)
    assert float(low) == pytest.approx(np.cos(np.radians(5.0)) ** 2, abs=1e-12)


def test_the_trap_of_two_planes() -> None:
    """0.69 degree by sqrt |t1^2 - t2^2| where a single joint of some 2.3 would turn as unevenly: planes count.

    The complex form sqrt |t1^2 e^(2i p1) - t2^2 e^(2i p2)| agrees to 0.001 degree and explains it.
    """
    a, b, c = way(0.0, 1.6), way(2.0, 0.0), way(0.4, -1.0)
    t = np.degrees([joint_angle(a, b), joint_angle(b, c)])
    p = np.array([joint_plane(b, a), joint_plane(b, c)])
    ours = float(np.degrees(residual_angle(*speed_extremes(a, b, c))))
    complex_form = float(np.sqrt(abs(t[0] ** 2 * np.exp(2j * p[0]) - t[1] ** 2 * np.exp(2j * p[1]))))
    against(
        "worked by hand", "complex form of two joint planes", "residual of two planes", complex_form, ours, "deg", 1e-3
    )
    assert np.sqrt(abs(t[0] ** 2 - t[1] ** 2)) < ours - 0.5


def test_pinion_speed_in_mujoco() -> None:
    """Three shafts on hinges, crosses as bodies between the yokes: MuJoCo's own pinion speed over a turn."""
    axes = [way(0.0), way(7.0, 3.0), way(-4.0, 1.0)]
    speed = chain_speed(np.stack(axes), np.array([np.radians(20.0)]), TURNS)
    high, low = speed_extremes(*axes, np.radians(20.0))
    theirs = _turned_in_mujoco(axes, 20.0)
    for name, book, ours in (("highest", theirs.max(), float(high)), ("lowest", theirs.min(), float(low))):
        against("referee", "MuJoCo, three shafts and two crosses", f"pinion speed, {name}", book, ours, "", 2e-5)
    assert speed.max() == pytest.approx(float(high), abs=1e-6)


def _turned_in_mujoco(axes: list[np.ndarray], phase: float) -> np.ndarray:  # type: ignore[type-arg]
    """Speed of the last shaft as the first is set to one angle after another, from MuJoCo's constraint solver.

    Each shaft turns on its own hinge; a yoke's pin is a site on it. A cross joint keeps two pins square: an equality on
    the angles found by Newton with MuJoCo's own kinematics of the sites.
    """
    bodies = ""
    for k, axis in enumerate(axes):
        turn = Rotation.align_vectors([axis], [[0.0, 0.0, 1.0]])[0].as_quat()
        x, y, z, w = turn
        sites = "".join(
            f'<site name="{n}{k}" pos="{np.cos(np.radians(a))} {np.sin(np.radians(a))} 0"/>'
            for n, a in (("in", 0.0), ("out", phase if k == 1 else 0.0))
        )
        bodies += (
            f'<body name="s{k}" quat="{w} {x} {y} {z}"><joint name="j{k}" type="hinge" axis="0 0 1"/>'
            f'<geom size="0.1" mass="1"/>{sites}</body>'
        )
    model = mujoco.MjModel.from_xml_string(f"<mujoco><worldbody>{bodies}</worldbody></mujoco>")
    data = mujoco.MjData(model)

    def pins(q: np.ndarray) -> np.ndarray:  # type: ignore[type-arg]
        data.qpos[:] = q
        mujoco.mj_kinematics(model, data)
        pin = lambda n: data.site(n).xpos - data.body("s" + n[-1]).xpos  # noqa: E731
        return np.array([pin("out0") @ pin("in1"), pin("out1") @ pin("in2")])

    q, angles = np.array([0.0, np.pi / 2, np.pi]), []
    steps = np.linspace(0.0, 2 * np.pi, 721)
    for first in steps:
        q[0] = first
        for _ in range(8):
            off, slope = pins(q), np.zeros((2, 2))
            for k in (1, 2):
                plus, minus = q.copy(), q.copy()
                plus[k] += 1e-6
                minus[k] -= 1e-6
                slope[:, k - 1] = (pins(plus) - pins(minus)) / 2e-6
            q[1:] -= np.linalg.solve(slope, off)
        angles.append(q[2])
    spline = np.array(angles)
    speed: np.ndarray = (spline[2:] - spline[:-2]) / (steps[2:] - steps[:-2])  # type: ignore[type-arg]
    return speed


def test_double_cardan_halves_are_alike() -> None:
    center, far, apart = np.array([0.0, 0.0, 0.0]), np.array([-1000.0, 60.0, -220.0]), 75.0
    out = -way(3.0)
    at = second_cross(center, out, far, apart)
    housing, shaft = at / np.linalg.norm(at), (far - at) / np.linalg.norm(far - at)
    assert np.linalg.norm(at) == pytest.approx(apart, abs=1e-9)
    assert joint_angle(out, housing) == pytest.approx(joint_angle(housing, shaft), abs=1e-9)


@pytest.mark.parametrize(
    ("outside", "wall", "length"), [(76.2, 2.11, 1200.0), (88.9, 3.05, 1524.0), (50.8, 3.0, 700.0)]
)
def test_critical_speed_against_a_beam_of_elements(outside: float, wall: float, length: float) -> None:
    """Forty beam elements on pins: stiffness and consistent mass, the lowest eigenvalue by SciPy."""
    n, inside = 40, outside - 2 * wall
    area, inertia = np.pi / 4 * (outside**2 - inside**2), np.pi / 64 * (outside**4 - inside**4)
    h = length / n
    k = 205_000.0 * inertia / h**3 * np.array(
        [[12, 6 * h, -12, 6 * h], [6 * h, 4 * h * h, -6 * h, 2 * h * h], [-12, -6 * h, 12, -6 * h],
         [6 * h, 2 * h * h, -6 * h, 4 * h * h]])  # fmt: skip
    m = 7.85e-9 * area * h / 420 * np.array(
        [[156, 22 * h, 54, -13 * h], [22 * h, 4 * h * h, 13 * h, -3 * h * h], [54, 13 * h, 156, -22 * h],
         [-13 * h, -3 * h * h, -22 * h, 4 * h * h]])  # fmt: skip
    stiff, mass = np.zeros((2 * n + 2, 2 * n + 2)), np.zeros((2 * n + 2, 2 * n + 2))
    for i in range(n):
        stiff[2 * i : 2 * i + 4, 2 * i : 2 * i + 4] += k
        mass[2 * i : 2 * i + 4, 2 * i : 2 * i + 4] += m
    free = [i for i in range(2 * n + 2) if i not in (0, 2 * n)]
    lowest = float(eigh(stiff[np.ix_(free, free)], mass[np.ix_(free, free)], eigvals_only=True)[0])
    theirs = np.sqrt(lowest) * 60 / (2 * np.pi)
    what = f"critical speed of {outside:g} x {wall:g}, {length:g} long"
    ours = float(critical_rpm(outside, wall, length))
    against("referee", "forty beam elements, SciPy eigenvalue", what, theirs, ours, "rpm", 0.01 * theirs)


@given(st.floats(-60.0, 60.0), st.floats(-30.0, 30.0))
def test_tilt_against_rotation_matrices(rise: float, stagger: float) -> None:
    """SciPy's rotation about the line of the mounts: the tail is raised by just that, everything else goes along."""
    left, right, tail = (
        np.array([200.0 + stagger, 300.0, 560.0]),
        np.array([200.0, -290.0, 570.0]),
        np.array([-700.0, 10, 480]),
    )
    angle = tilt_angle(left, right, tail, rise)
    axis = (left - right) / np.linalg.norm(left - right)
    points = np.array([tail, [420.0, -60.0, 900.0], left])
    theirs = right + Rotation.from_rotvec(float(angle) * axis).apply(points - right)
    ours = tilted(left, right, angle, points)
    assert ours == pytest.approx(theirs, abs=1e-9)
    assert ours[0, 2] - tail[2] == pytest.approx(rise, abs=1e-9)
    assert ours[2] == pytest.approx(left, abs=1e-9)


def test_a_tail_an_inch_up_lifts_the_yoke_more_and_the_front_goes_down() -> None:
    """The trap of the brief, by its own ratios: the yoke is farther from the mounts than the tail mount is."""
    left, right, tail = np.array([0.0, 280.0, 500.0]), np.array([0.0, -280.0, 500.0]), np.array([-800.0, 0.0, 500.0])
    yoke, front = np.array([-1088.0, 0.0, 500.0]), np.array([-50.0, 0.0, 852.0])
    moved = tilted(left, right, tilt_angle(left, right, tail, 25.0), np.stack((yoke, front)))
    assert moved[0, 2] - 500.0 == pytest.approx(34.0, abs=0.05)
    assert moved[1, 0] - front[0] == pytest.approx(11.0, abs=0.1)


@pytest.mark.parametrize(("demo", "key"), [(1, "rear"), (2, "front")])
def test_two_joint_shaft_poses_in_mujoco(demo: int, key: str) -> None:
    """The shaft as a body on a cross, a slip and a second cross, closed onto the axle with MuJoCo's own kinematics."""
    job = demo_jobs()[demo]
    job = set_shaft(key, "singles", output_joint="single", pinion_joint="single").apply(job)
    axle = job.vehicle.axle(key)
    x, y = (v.ravel() for v in np.meshgrid([-60.0, 0.0, 60.0], [-60.0, 0.0, 60.0]))
    answers = study_postures(job.vehicle, axle, x, y)
    assert answers.ok.all()
    theirs = _shaft_in_mujoco(axle, answers.pose.center, answers.pose.rotation)
    for name, column in (("output_angle_deg", 0), ("pinion_angle_deg", 1), ("shaft_length_mm", 2)):
        off = float(np.abs(theirs[:, column] - answers.values[name]).max())
        what, unit = f"{key} {name}, most off of 9 postures", "mm" if name.endswith("mm") else "deg"
        against("referee", "MuJoCo, shaft between two crosses", what, 0.0, off, unit, 1e-6)


def _shaft_in_mujoco(axle: Axle, centers: np.ndarray, rotations: np.ndarray) -> np.ndarray:  # type: ignore[type-arg]
    """Joint angles, degrees, and length, mm, at poses of the axle: Newton on the sites' places until they meet."""
    assert axle.output is not None
    assert axle.pinion is not None
    out, pin = np.array(axle.output.at.xyz), np.array(axle.pinion.at.xyz)
    sense, arm = (1.0 if axle.is_front else -1.0), pin - np.array(axle.center)
    cross = '<joint type="hinge" axis="0 1 0"/><joint type="hinge" axis="0 0 1"/><geom size="1" mass="1"/>'
    nose = 1000.0 * way(axle.pinion.nose_up_deg, axle.pinion.left_deg)
    place = lambda p: " ".join(map(repr, map(float, p)))  # noqa: E731
    model = mujoco.MjModel.from_xml_string(f"""<mujoco><worldbody>
      <body name="axle"><freejoint/><geom size="1" mass="1"/>
        <site name="pinion" pos="{place(arm)}"/><site name="nose" pos="{place(arm + nose)}"/></body>
      <body name="shaft" pos="{place(out)}">{cross}
        <body name="slip"><joint type="slide" axis="{sense} 0 0"/><geom size="1" mass="1"/>
          <body name="yoke">{cross}</body></body></body></worldbody></mujoco>""")
    data = mujoco.MjData(model)
    found = []
    for center, rotation in zip(centers, rotations, strict=True):
        data.qpos[:3] = center
        data.qpos[3:7] = np.roll(Rotation.from_matrix(rotation).as_quat(), 1)
        data.qpos[7:] = (0.0, 0.0, float(np.linalg.norm(pin - out)), 0.0, 0.0)

        def gap(q: np.ndarray) -> np.ndarray:  # type: ignore[type-arg]
            data.qpos[7:] = q
            mujoco.mj_kinematics(model, data)
            axis = (data.site("nose").xpos - data.site("pinion").xpos) / 1000.0
            yoke = data.body("yoke")
            return np.concatenate((yoke.xpos - data.site("pinion").xpos, 1000.0 * (yoke.xmat[::3] - axis)))

        q = data.qpos[7:].copy()
        # Plain Newton: a packaged solver may stop on its own count of small steps, micrometers short.
        for _ in range(8):
            turned = np.stack([(gap(q + step) - gap(q - step)) / 2e-5 for step in 1e-5 * np.eye(5)], axis=1)
            q = q - np.linalg.lstsq(turned, gap(q), rcond=None)[0]
        assert np.abs(gap(q)).max() < 1e-10
        shaft = data.body("shaft").xmat[::3]
        ends = way(axle.output.nose_up_deg, axle.output.left_deg), data.body("yoke").xmat[::3]
        bends = [float(np.degrees(np.arctan2(np.linalg.norm(np.cross(end, shaft)), end @ shaft))) for end in ends]
        found.append((*bends, float(np.linalg.norm(data.body("slip").xpos - data.body("shaft").xpos))))
    return np.array(found)
