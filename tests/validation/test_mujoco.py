"""MuJoCo as an independent multibody engine: the same linkage built from bodies and joints, left to settle.

Every rod is a body on a ball joint at the chassis, its far end tied to the axle by a connect constraint; the axle floats
free; each wheel center is tied to a carrier that may slide fore-aft and sideways at the height asked for.
"""

import mujoco
import numpy as np
import pytest

from even_stance.study.answers import study_postures
from even_stance.vehicle.car import Axle, Vehicle
from tests.cars import symmetric_four_link, three_link, vehicle_of

POSTURES = [(100.0, 100.0), (-100.0, -100.0), (80.0, -80.0), (-60.0, 100.0), (0.0, 70.0)]


def _xml(axle: Axle) -> str:
    """The model in meters, masses of a kilogram, no gravity, heavy damping: only the geometry matters."""

    def text(p: tuple[float, ...] | np.ndarray) -> str:  # type: ignore[type-arg]
        return " ".join(f"{v / 1000:.12g}" for v in p)

    bodies, ties = [], []
    center = np.array(axle.center)
    inertia = '<inertial pos="0 0 0" mass="1" diaginertia="0.1 0.1 0.1"/>'
    bodies.append(f'<body name="axle" pos="{text(center)}"><freejoint/>{inertia}</body>')
    for i, m in enumerate(axle.members):
        c, a = np.array(m.mounts["chassis"].at.xyz), np.array(m.mounts["axle"].at.xyz)
        bodies.append(
            f'<body name="rod{i}" pos="{text(c)}"><joint type="ball" damping="0.5"/>'
            f'<inertial pos="{text((a - c) / 2)}" mass="1" diaginertia="0.1 0.1 0.1"/></body>'
        )
        ties.append(f'<connect body1="rod{i}" body2="axle" anchor="{text(a - c)}"/>')
    for side, sign in (("left", 1), ("right", -1)):
        wheel = center + np.array([0, sign * axle.track_mm / 2, 0])
        slides = "".join(
            f'<joint name="{side}{k}" type="slide" axis="{v}" damping="5"/>'
            for k, v in zip("xyz", ("1 0 0", "0 1 0", "0 0 1"), strict=True)
        )
        bodies.append(f'<body name="{side}" pos="{text(wheel)}">{slides}{inertia}</body>')
        ties.append(f'<connect body1="{side}" body2="axle" anchor="0 0 0"/>')
        ties.append(f'<joint name="{side}travel" joint1="{side}z" polycoef="0 0 0 0 0"/>')
    return f"""<mujoco><option gravity="0 0 0" timestep="0.001" solver="Newton" iterations="200" tolerance="1e-12"
        integrator="implicitfast"/><default><equality solref="0.004 1" solimp="0.999 0.9999 0.0001"/></default>
        <worldbody>{"".join(bodies)}</worldbody><equality>{"".join(ties)}</equality></mujoco>"""


def _settle(axle: Axle, left: float, right: float) -> tuple[np.ndarray, np.ndarray]:  # type: ignore[type-arg]
    model = mujoco.MjModel.from_xml_string(_xml(axle))
    data = mujoco.MjData(model)
    model.dof_damping[:6] = 5.0
    ids = {s: model.equality(f"{s}travel").id for s in ("left", "right")}
    for share in np.concatenate((np.linspace(0, 1, 400), np.ones(4000))):
        model.eq_data[ids["left"], 0] = share * left / 1000
        model.eq_data[ids["right"], 0] = share * right / 1000
        for _ in range(2):
            mujoco.mj_step(model, data)
    body = model.body("axle").id
    return data.xpos[body] * 1000, data.xmat[body].reshape(3, 3)


@pytest.mark.parametrize(
    "car", [vehicle_of(symmetric_four_link()), vehicle_of(three_link())], ids=["four-link", "three-link"]
)
def test_axle_position_agrees(car: tuple[Vehicle, Axle]) -> None:
    vehicle, axle = car
    left, right = np.array(POSTURES).T
    ours = study_postures(vehicle, axle, left, right)
    assert ours.ok.all()
    for i, (a, b) in enumerate(POSTURES):
        center, rotation = _settle(axle, a, b)
        assert np.abs(ours.pose.center[i] - center).max() < 1e-3, (a, b)
        # The same at the rim of a wheel.
        assert np.abs(ours.pose.rotation[i] - rotation).max() * 400 < 1e-3, (a, b)
