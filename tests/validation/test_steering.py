"""Steering kinematics against MuJoCo, SciPy and constructions that are exact by hand."""

import mujoco
import numpy as np
import pytest
from scipy.optimize import root
from scipy.spatial.transform import Rotation

from even_stance.mechanics.steering import (
    LEFT,
    RIGHT,
    Box,
    Knuckles,
    ackermann_share,
    box_turns,
    link_turn,
    ram_turns,
    wheel_headings,
)
from tests.validation.record import against

CENTER = np.array([0.0, 0.0, 440.0])
UP = np.array([0.0, 0.0, 1.0])


def knuckles() -> Knuckles:
    """A made-up axle: caster 6 and inclination 8 degrees, tie rod behind, its ends a little inside the kingpins."""
    pivot = np.array([[0.0, 690.0, 440.0], [0.0, -690.0, 440.0]])
    lean = np.tan(np.radians([6.0, 8.0]))
    axis = np.array([[-lean[0], -lean[1], 1.0], [-lean[0], lean[1], 1.0]])
    axis /= np.linalg.norm(axis, axis=1)[:, None]
    tie = np.array([[-165.0, 640.0, 400.0], [-165.0, -640.0, 400.0]])
    return Knuckles(pivot, axis, tie, np.array([[0.0, 1.0, 0.0], [0.0, 1.0, 0.0]]))


BOXES = {
    "crossover": Box(
        np.array([180.0, 420.0, 700.0]), np.array([0.1, 0.0, 1.0]) / np.sqrt(1.01), np.array([20.0, 410.0, 620.0]),
        np.array([150.0, -600.0, 520.0]), RIGHT,
    ),
    "fore-aft": Box(
        np.array([-500.0, 470.0, 620.0]), np.array([0.0, 1.0, 0.0]), np.array([-510.0, 500.0, 450.0]),
        np.array([-20.0, 545.0, 540.0]), LEFT,
    ),
    "drag link to tie rod": Box(
        np.array([60.0, 420.0, 640.0]), UP, np.array([-120.0, 400.0, 560.0]), np.array([-165.0, -380.0, 400.0]), None,
    ),
}  # fmt: skip


def poses() -> tuple[np.ndarray, np.ndarray, np.ndarray]:  # type: ignore[type-arg]
    """Pitman angles and poses of the axle, up, down, rolled, shifted and turned a little as links make it do."""
    up, roll, turn = (v.ravel() for v in np.meshgrid([-60.0, 0.0, 60.0], [-5.0, 0.0, 5.0], [-16.0, -6.0, 0.0, 12.0]))
    moved = CENTER + np.stack((0.04 * up, -0.0004 * up**2, up), axis=1)
    rotation = Rotation.from_euler("xyz", np.stack((roll, 0.03 * up, 0.2 * roll), axis=1), degrees=True).as_matrix()
    return np.radians(turn), moved, rotation


@pytest.mark.parametrize("kind", BOXES)
def test_wheels_in_mujoco(kind: str) -> None:
    """Bodies on hinges, closed by MuJoCo's own kinematics of the joints: both wheels within a millionth of a degree."""
    k, box = knuckles(), BOXES[kind]
    turn, moved, rotation = poses()
    ours = np.degrees(wheel_headings(k, box_turns(k, box, turn, CENTER, moved, rotation), rotation))
    assert np.isfinite(ours).all()
    theirs = _in_mujoco(k, box, turn, moved, rotation)
    off = float(np.abs(ours - theirs).max())
    against(
        "referee",
        "MuJoCo, knuckles on hinges",
        f"{kind}: wheels, most off of {len(turn)} states",
        0.0,
        off,
        "deg",
        1e-6,
    )
    assert np.abs(ours).max() > 15.0


def _in_mujoco(
    k: Knuckles,
    box: Box,
    turn: np.ndarray,
    moved: np.ndarray,
    rotation: np.ndarray,  # type: ignore[type-arg]
) -> np.ndarray:  # type: ignore[type-arg]
    """Which way both wheels point, degrees: the knuckles' hinges are turned until both links have their length."""
    place = lambda p: " ".join(map(repr, map(float, p)))  # noqa: E731
    share = 0.0
    if box.knuckle is None:
        share = float((box.end - k.tie[0])[1] / (k.tie[1] - k.tie[0])[1])
    sides = ""
    for i, name in enumerate("lr"):
        drag = f'<site name="drag" pos="{place(box.end - k.pivot[i])}"/>' if box.knuckle == i else ""
        sides += (
            f'<body name="{name}" pos="{place(k.pivot[i] - CENTER)}"><joint name="{name}" axis="{place(k.axis[i])}"/>'
            f'<geom size="1" mass="1"/><site name="t{name}" pos="{place(k.tie[i] - k.pivot[i])}"/>{drag}</body>'
        )
    model = mujoco.MjModel.from_xml_string(
        f'<mujoco><compiler angle="radian"/><worldbody><body name="axle"><freejoint/><geom size="1" mass="1"/>{sides}</body>'
        f'<body name="pitman" pos="{place(box.shaft)}"><joint axis="{place(box.axis)}"/><geom size="1" mass="1"/>'
        f'<site name="ball" pos="{place(box.ball - box.shaft)}"/></body></worldbody></mujoco>'
    )
    data = mujoco.MjData(model)

    def lengths(q: np.ndarray) -> np.ndarray:  # type: ignore[type-arg]
        data.qpos[7:9] = q
        mujoco.mj_kinematics(model, data)
        tl, tr, ball = (data.site(n).xpos for n in ("tl", "tr", "ball"))
        end = (1 - share) * tl + share * tr if box.knuckle is None else data.site("drag").xpos
        return np.array([np.linalg.norm(tl - tr), np.linalg.norm(end - ball)])

    def set_at(m: np.ndarray, r: np.ndarray, t: float) -> None:  # type: ignore[type-arg]
        data.qpos[:3], data.qpos[3:7], data.qpos[9] = m, np.roll(Rotation.from_matrix(r).as_quat(), 1), t

    set_at(CENTER, np.eye(3), 0.0)
    ride, found = lengths(np.zeros(2)), []
    for t, m, r in zip(turn, moved, rotation, strict=True):
        set_at(m, r, float(t))
        solved = root(lambda q: lengths(q) - ride, np.zeros(2), tol=1e-13)
        assert np.abs(lengths(solved.x) - ride).max() < 1e-8
        spins = [data.body(n).xmat.reshape(3, 3)[:, 1] for n in "lr"]
        found.append([np.degrees(np.arctan2(-s[0], s[1])) for s in spins])
    return np.array(found)


def test_drag_link_parallel_to_the_panhard_steers_nothing() -> None:
    """By construction: an axle carried on a panhard's arc takes a drag link of the same length and direction along."""
    k = knuckles()
    bar = np.array([0.0, -900.0, -60.0])
    box = Box(
        np.array([100.0, 350.0, 640.0]),
        UP,
        np.array([130.0, 350.0, 560.0]),
        np.array([130.0, 350.0, 560.0]) + bar,
        RIGHT,
    )
    dips = np.radians([-8.0, -3.0, 0.0, 4.0, 9.0])
    moved = CENTER + np.stack([Rotation.from_rotvec([d, 0.0, 0.0]).apply(bar) - bar for d in dips])
    still = np.broadcast_to(np.eye(3), (5, 3, 3))
    turns = box_turns(k, box, np.zeros(5), CENTER, moved, still)
    against(
        "worked by hand",
        "equal arcs",
        "wheels' most turn on equal arcs",
        0.0,
        float(np.degrees(np.abs(turns).max())),
        "deg",
        1e-9,
    )
    short = Box(box.shaft, box.axis, box.ball, box.ball + 0.85 * bar, RIGHT)
    assert np.degrees(np.abs(box_turns(k, short, np.zeros(5), CENTER, moved, still)).max()) > 0.1


def test_upright_parallelogram_ram_is_a_sine() -> None:
    """By hand: arms square to the ram and links so long that they stay level turn by asin(stroke / arm), to the right with arms behind."""
    arm, far = 150.0, 1e7
    pivot, axis = np.array([[0.0, 700.0, 400.0], [0.0, -700.0, 400.0]]), np.array([UP, UP])
    tie = pivot + np.array([-arm, 0.0, 0.0])
    k = Knuckles(pivot, axis, tie, np.array([[0.0, 1.0, 0.0]] * 2))
    stroke = np.array([-90.0, -20.0, 0.0, 60.0])
    turns = ram_turns(k, tie - np.array([[0.0, far, 0.0], [0.0, -far, 0.0]]), np.array([0.0, 1.0, 0.0]), stroke)
    assert turns == pytest.approx(-np.stack([np.arcsin(stroke / arm)] * 2, axis=1), abs=1e-4)
    assert np.isnan(link_turn(pivot[0], UP, tie[0], tie[0] + [0.0, 50.0, 0.0], tie[0] + [0.0, 900.0, 0.0]))


def test_a_ram_in_mujoco() -> None:
    """Knuckles on hinges, the rod on a slide, links of unequal length: SciPy turns MuJoCo's hinges until both links are as
    long as they were; the axle rolled and turned as links make it do."""
    k = knuckles()
    rod = np.array([[-170.0, 260.0, 392.0], [-170.0, -210.0, 392.0]])
    axis = np.array([0.0, 1.0, 0.0])
    turn, _, rotation = poses()
    stroke = 250.0 * turn
    ours = np.degrees(wheel_headings(k, ram_turns(k, rod, axis, stroke), rotation))
    place = lambda p: " ".join(map(repr, map(float, p)))  # noqa: E731
    sides = "".join(
        f'<body pos="{place(k.pivot[i] - CENTER)}" name="{n}"><joint axis="{place(k.axis[i])}"/><geom size="1" mass="1"/>'
        f'<site name="t{n}" pos="{place(k.tie[i] - k.pivot[i])}"/></body>' for i, n in enumerate("lr")
    )  # fmt: skip
    ends = "".join(f'<site name="r{n}" pos="{place(rod[i] - CENTER)}"/>' for i, n in enumerate("lr"))
    model = mujoco.MjModel.from_xml_string(
        f'<mujoco><compiler angle="radian"/><worldbody><body><freejoint/><geom size="1" mass="1"/>{sides}'
        f'<body><joint type="slide" axis="0 1 0"/><geom size="1" mass="1"/>{ends}</body></body></worldbody></mujoco>'
    )
    data, found = mujoco.MjData(model), []

    def off(q: np.ndarray) -> np.ndarray:  # type: ignore[type-arg]
        data.qpos[7:9] = q
        mujoco.mj_kinematics(model, data)
        return np.array([
            np.linalg.norm(data.site(f"t{n}").xpos - data.site(f"r{n}").xpos) - np.linalg.norm(k.tie[i] - rod[i])
            for i, n in enumerate("lr")
        ])  # fmt: skip

    for by, r in zip(stroke, rotation, strict=True):
        data.qpos[:3], data.qpos[3:7], data.qpos[9] = CENTER, np.roll(Rotation.from_matrix(r).as_quat(), 1), by
        solved = root(off, np.zeros(2), tol=1e-13)
        assert np.abs(off(solved.x)).max() < 1e-8
        spins = [data.body(n).xmat.reshape(3, 3)[:, 1] for n in "lr"]
        found.append([np.degrees(np.arctan2(-s[0], s[1])) for s in spins])
    worst = float(np.abs(ours - np.array(found)).max())
    against(
        "referee", "MuJoCo, knuckles on hinges", f"ram: wheels, most off of {len(turn)} states", 0.0, worst, "deg", 1e-6
    )
    assert np.abs(ours).max() > 15.0


def test_full_ackermann_is_one() -> None:
    """Both wheels square to lines from one point on the rear axle's line (Gillespie, ch. 8, from memory)."""
    spacing, wheelbase = 1400.0, 2600.0
    radius = np.array([4000.0, 9000.0, -5000.0])  # of the turn, to the left +
    headings = np.stack([np.arctan(wheelbase / (radius - s * spacing / 2)) for s in (1.0, -1.0)], axis=-1)
    for r, share in zip(radius, ackermann_share(headings, spacing, wheelbase), strict=True):
        against(
            "Gillespie, Fundamentals of Vehicle Dynamics, ch. 8",
            "from memory",
            f"Ackermann, turn of {r:g} mm",
            1.0,
            float(share),
            "",
            1e-9,
        )
    assert np.isnan(ackermann_share(np.radians([[2.0, 2.1]]), spacing, wheelbase)).all()
    assert ackermann_share(np.radians([[20.0, 20.0]]), spacing, wheelbase) == pytest.approx([0.0])
