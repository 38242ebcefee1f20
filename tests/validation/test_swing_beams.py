"""Swing beams against MuJoCo's kinematics and constructions that are exact by hand."""

import mujoco
import numpy as np
import pytest
from scipy.optimize import root

from even_stance.exchange.demo import demo_jobs
from even_stance.judgement.catalog.steerings import steering_guess
from even_stance.mechanics.swingbeams import beam_axis, beam_rotation, beam_turn, camber, patch
from even_stance.study.beams import BeamAxle, beams_of
from even_stance.study.model import wheel_centers
from even_stance.vehicle.car import Axle
from even_stance.vehicle.edits import set_axle
from tests.validation.record import against


def beam_truck() -> Axle:
    """The first demo car's front axle on swing beams of our own."""
    job = demo_jobs()[0]
    steering = steering_guess(job.vehicle, job.vehicle.axle("front"), "swing_beams")
    return set_axle("front", "Beams", members=(), steering=steering).apply(job).vehicle.axle("front")


def test_wheels_in_mujoco() -> None:
    """Beams and knuckles on hinges, the center link on three slides: SciPy turns MuJoCo's hinges until both wheel centers
    are as high as asked and both tie rods as long as they were; headings and camber to a millionth of a degree."""
    axle = beam_truck()
    beams = beams_of(axle)
    assert beams is not None
    steer, left, right = (
        v.ravel() for v in np.meshgrid([-1.1, 0.0, 0.7], [-110.0, 0.0, 60.0], [-70.0, 20.0, 95.0], indexing="ij")
    )
    ours = beams.over(steer, left, right)
    assert np.isfinite(ours.headings).all()
    theirs = _in_mujoco(axle, beams, steer, np.stack((left, right), axis=1))
    for what, mine, other in (
        ("wheels, most off of 27 states", ours.headings, theirs[:, :2]), ("camber, most off", ours.camber_deg, theirs[:, 2:]),
    ):  # fmt: skip
        off = float(np.abs(mine - other).max())
        against("referee", "MuJoCo, beams and knuckles on hinges", what, 0.0, off, "deg", 1e-6)
    assert np.abs(ours.headings).max() > 15.0
    assert np.abs(ours.camber_deg).max() > 3.0


def _in_mujoco(axle: Axle, beams: BeamAxle, steer: np.ndarray, rises: np.ndarray) -> np.ndarray:  # type: ignore[type-arg]
    """Headings and camber of both wheels, degrees, shape (N, 4)."""
    place = lambda p: " ".join(map(repr, map(float, p)))  # noqa: E731
    k, centers, bodies = beams.knuckles, wheel_centers(axle), ""
    for i, name in enumerate("lr"):
        bodies += (
            f'<body name="beam{name}" pos="{place(beams.pivot[i])}"><joint axis="{place(beams.axis[i])}"/>'
            f'<geom size="1" mass="1"/><site name="c{name}" pos="{place(centers[i] - beams.pivot[i])}"/>'
            f'<body name="{name}" pos="{place(k.pivot[i] - beams.pivot[i])}"><joint axis="{place(k.axis[i])}"/>'
            f'<geom size="1" mass="1"/><site name="t{name}" pos="{place(k.tie[i] - k.pivot[i])}"/></body></body>'
        )
    model = mujoco.MjModel.from_xml_string(
        f'<mujoco><compiler angle="radian"/><worldbody>{bodies}</worldbody></mujoco>'
    )  # fmt: skip
    data, slid, found = mujoco.MjData(model), beams.center_link(steer), []

    def off(q: np.ndarray, rise: np.ndarray, by: np.ndarray) -> np.ndarray:  # type: ignore[type-arg]
        data.qpos[:] = q
        mujoco.mj_kinematics(model, data)
        high = [data.site(f"c{n}").xpos[2] - centers[i, 2] - rise[i] for i, n in enumerate("lr")]
        rods = [
            np.linalg.norm(data.site(f"t{n}").xpos - beams.inner[i] - by) - np.linalg.norm(k.tie[i] - beams.inner[i])
            for i, n in enumerate("lr")
        ]
        return np.array([*high, *rods])

    for rise, by in zip(rises, slid, strict=True):
        solved = root(off, np.zeros(4), args=(rise, by), tol=1e-13)
        assert np.abs(off(solved.x, rise, by)).max() < 1e-8
        spins = [data.body(n).xmat.reshape(3, 3)[:, 1] for n in "lr"]
        leans = [-np.degrees(np.arcsin(spins[0][2])), np.degrees(np.arcsin(spins[1][2]))]
        found.append([*(np.degrees(np.arctan2(-s[0], s[1])) for s in spins), *leans])
    return np.array(found)


def test_a_level_beam_by_hand() -> None:
    """A beam square to the car with its radius arm's end straight behind its pivot swings in the front plane: camber is
    its turn, the tire's patch goes on a circle, and a pivot on the ground leaves the track alone to first order."""
    pivot, arm = np.array([0.0, -200.0, 420.0]), np.array([-900.0, -200.0, 420.0])
    center, rise = np.array([0.0, 800.0, 420.0]), np.array([-120.0, -30.0, 0.0, 50.0, 110.0])
    axis = beam_axis(pivot, arm)
    turn = beam_turn(pivot, axis, center, rise)
    rotation = beam_rotation(axis, turn)
    moved = pivot + np.einsum("nij,j->ni", rotation, center - pivot)
    assert moved[:, 2] == pytest.approx(420.0 + rise)
    lean = np.degrees(np.arcsin(rise / 1000.0))
    spin = rotation[:, :, 1]
    # The left wheel's top goes in as it rises: camber is lost.
    assert np.degrees(camber(spin, 1.0)) == pytest.approx(-lean)
    touch = patch(moved, spin, 400.0)
    assert np.linalg.norm(touch - moved, axis=1) == pytest.approx(400.0)
    assert touch[:, 1] - moved[:, 1] == pytest.approx(400.0 * np.sin(np.radians(lean)))
    assert np.isnan(beam_turn(pivot, axis, center, np.array([1200.0]))).all()


def test_tie_rods_on_the_beams_line_keep_toe() -> None:
    """By construction: inner ends on the line a beam turns about, so that the rods swing with the beams."""
    axle = beam_truck()
    steering, beams = axle.steering, beams_of(axle)
    assert steering is not None
    assert beams is not None
    travel = np.linspace(-120.0, 100.0, 23)
    inner = {
        f"{side}_inner": beams.pivot[i] + 130.0 * beams.axis[i] for i, side in enumerate(("left", "right"))
    }  # fmt: skip
    kept = BeamAxle(axle, steering, inner).over(np.zeros(1), travel, travel)
    turned = np.degrees(np.abs(kept.turns).max())
    against(
        "worked by hand", "rods on the beams' lines", "knuckles' most turn on their beams", 0.0, turned, "deg", 1e-9
    )
    off = {name: at + np.array([0.0, 0.0, 60.0]) for name, at in inner.items()}
    assert np.ptp(BeamAxle(axle, steering, off).over(np.zeros(1), travel, travel).toe_deg) > 0.5
