"""MuJoCo as an independent multibody engine: every layout built from bodies and joints, left to settle.

Every rod is a body on a ball joint, its far end tied to the axle (or crank) by a connect constraint; cranks are bodies on
hinges; the slot of a torque arm is a carrier that may slide level; the axle floats free; each wheel center is tied to a
carrier that may slide fore-aft and sideways at the height asked for. No gravity and heavy damping: only geometry matters.
Where a layout moves only as its bushings give, a rod's far end slides along the rod against a spring, and a point that is
held in a direction hangs on a carrier with a spring that way: the engine settles where forces balance.
"""

from dataclasses import replace

import mujoco
import numpy as np
import pytest

from even_stance.judgement.catalog.layouts import BaseKey, LateralKey
from even_stance.judgement.catalog.starter import with_layout
from even_stance.mechanics.statics import member_loads
from even_stance.study.answers import study_postures
from even_stance.study.model import Layout, layout_of, linkage_of
from even_stance.vehicle.car import Axle, Vehicle
from even_stance.vehicle.edits import set_members
from tests.cars import symmetric_four_link, three_link, vehicle_of
from tests.conftest import starter
from tests.validation.record import against

POSTURES = [(100.0, 100.0), (-100.0, -100.0), (80.0, -80.0), (-60.0, 100.0)]
SOFT = 50_000.0  # N/m of the stiffest
INERTIA = '<inertial pos="0 0 0" mass="1" diaginertia="0.1 0.1 0.1"/>'


def _text(p: object) -> str:
    return " ".join(f"{v / 1000:.12g}" for v in np.asarray(p, dtype=float))


def _slides(name: str, free: str) -> str:
    axes = {"x": "1 0 0", "y": "0 1 0", "z": "0 0 1"}
    return "".join(f'<joint name="{name}{k}" type="slide" axis="{axes[k]}" damping="5"/>' for k in free)


class Model:
    """The XML of a linkage, in meters."""

    def __init__(self, axle: Axle) -> None:
        self.layout: Layout = layout_of(axle)
        self.linkage = replace(linkage_of(axle), stiffness=None)
        given = linkage_of(axle).stiffness
        # Only their ratios say where the axle stands: soft enough here that the ties are rigid beside them.
        self.springs = None if given is None else SOFT * given / given.max()
        self.center = np.array(axle.center)
        self.world: list[str] = []
        self.in_axle: list[str] = []
        self.ties: list[str] = []
        self.axle_bodies: list[str] = []
        for k, (_, watts) in enumerate(self.layout.cranks):
            self._crank(k, watts.crank_on == "axle", watts.crank_turns)
        for i, rod in enumerate(self.layout.rods):
            self._rod(i, rod.crank)
        for j, guide in enumerate(self.layout.guides):
            self._guide(j, guide.normal)
        for side, sign in (("left", 1), ("right", -1)):
            wheel = self.center + np.array([0, sign * axle.track_mm / 2, 0])
            self.world.append(f'<body name="{side}" pos="{_text(wheel)}">{_slides(side, "xyz")}{INERTIA}</body>')
            self.ties.append(f'<connect body1="{side}" body2="axle" anchor="0 0 0"/>')
            self.ties.append(f'<joint name="{side}travel" joint1="{side}z" polycoef="0 0 0 0 0"/>')

    def _crank(self, k: int, on_axle: bool, turns: str) -> None:
        assert self.linkage.cranks is not None
        pivot = self.linkage.cranks.pivot[k] - (self.center if on_axle else 0)
        axis = "1 0 0" if turns == "vertical" else "0 0 1"
        arms = "".join(
            self._rod_body(i, self.linkage.chassis[i] - self.linkage.cranks.pivot[k])
            for i, r in enumerate(self.layout.rods)
            if r.crank == k and not on_axle
        )
        body = f'<body name="crank{k}" pos="{_text(pivot)}"><joint type="hinge" axis="{axis}" damping="0.5"/>{INERTIA}{arms}</body>'
        (self.in_axle if on_axle else self.world).append(body)

    def _rod_body(self, i: int, pos: np.ndarray) -> str:  # type: ignore[type-arg]
        half = (self.linkage.axle[i] - self.linkage.chassis[i]) / 2
        return (
            f'<body name="rod{i}" pos="{_text(pos)}"><joint type="ball" damping="0.5"/>'
            f'<inertial pos="{_text(half)}" mass="1" diaginertia="0.1 0.1 0.1"/></body>'
        )

    def _springy_rod(self, i: int, k: float) -> None:
        span = self.linkage.axle[i] - self.linkage.chassis[i]
        along = " ".join(f"{c:.12g}" for c in span / np.linalg.norm(span))
        tip = (
            f'<body name="tip{i}" pos="{_text(span)}"><joint type="slide" axis="{along}" stiffness="{k:.12g}" damping="5"/>'
            f"{INERTIA}</body>"
        )
        self.world.append(
            f'<body name="rod{i}" pos="{_text(self.linkage.chassis[i])}"><joint type="ball" damping="0.5"/>{INERTIA}{tip}</body>'
        )
        self.ties.append(f'<connect name="tie{i}" body1="tip{i}" body2="axle" anchor="0 0 0"/>')

    def _rod(self, i: int, crank: int) -> None:
        if self.springs is not None:
            self._springy_rod(i, self.springs[i])
            return
        on_axle = crank >= 0 and self.layout.cranks[crank][1].crank_on == "axle"
        if crank < 0 or on_axle:
            self.world.append(self._rod_body(i, self.linkage.chassis[i]))
        far = f"crank{crank}" if on_axle else "axle"
        span = self.linkage.axle[i] - self.linkage.chassis[i]
        self.ties.append(f'<connect name="tie{i}" body1="rod{i}" body2="{far}" anchor="{_text(span)}"/>')

    def _guide(self, j: int, normal: tuple[float, float, float]) -> None:
        at = self.linkage.guided[j]
        if self.springs is not None:
            held = f'<joint type="slide" axis="{_text(1000 * np.array(normal))}" damping="5" '
            held += f'stiffness="{self.springs[len(self.layout.rods) + j]:.12g}"/>'
            free = _slides(f"slot{j}", "".join(c for c, n in zip("xyz", normal, strict=True) if not n))
            self.world.append(f'<body name="slot{j}" pos="{_text(at)}">{held}{free}{INERTIA}</body>')
            self.ties.append(f'<connect body1="slot{j}" body2="axle" anchor="0 0 0"/>')
            return
        assert normal == (0.0, 0.0, 1.0)
        self.world.append(f'<body name="slot{j}" pos="{_text(at)}">{_slides(f"slot{j}", "xy")}{INERTIA}</body>')
        self.ties.append(f'<connect body1="slot{j}" body2="axle" anchor="0 0 0"/>')

    @property
    def xml(self) -> str:
        return f"""<mujoco><option gravity="0 0 0" timestep="0.001" solver="Newton" iterations="200" tolerance="1e-12"
            integrator="implicitfast"/><default><equality solref="0.004 1" solimp="0.999 0.9999 0.0001"/></default>
            <worldbody><body name="axle" pos="{_text(self.center)}"><freejoint/>{INERTIA}{"".join(self.in_axle)}</body>
            {"".join(self.world)}</worldbody><equality>{"".join(self.ties)}</equality></mujoco>"""


def _settle(
    axle: Axle, left: float, right: float, force: np.ndarray | None = None
) -> tuple[mujoco.MjModel, mujoco.MjData]:  # type: ignore[type-arg]
    model = mujoco.MjModel.from_xml_string(Model(axle).xml)
    data = mujoco.MjData(model)
    model.dof_damping[model.jnt_dofadr[model.body("axle").jntadr[0]] :][:6] = 5.0
    ids = {s: model.equality(f"{s}travel").id for s in ("left", "right")}
    if force is not None:
        data.xfrc_applied[model.body("axle").id] = force
    for share in np.concatenate((np.linspace(0, 1, 400), np.ones(3000))):
        model.eq_data[ids["left"], 0] = share * left / 1000
        model.eq_data[ids["right"], 0] = share * right / 1000
        for _ in range(2):
            mujoco.mj_step(model, data)
    return model, data


def _job_car(base: BaseKey, lateral: LateralKey | None = None, **arm: object) -> tuple[Vehicle, Axle]:
    job = with_layout(starter(), "rear", base, lateral, keep=False)
    if arm:
        job = set_members("rear", ["Torque arm"], "Front end", **arm).apply(job)
    return job.vehicle, job.vehicle.axle("rear")


CARS = {
    "hand-made four-link": vehicle_of(symmetric_four_link()),
    "hand-made three-link": vehicle_of(three_link()),
    "double triangulated": _job_car("double_triangulated"),
    "lower triangulated": _job_car("lower_triangulated"),
    "upper A-arm": _job_car("a_arm"),
    "reversed A-arm": _job_car("a_arm_reversed"),
    "pivot arm": _job_car("pivot_arm"),
    "torque arm in a slot": _job_car("torque_arm"),
    "torque arm on a shackle": _job_car("torque_arm", front="shackle"),
    "watts, crank on axle": _job_car("three_link", "watts_axle"),
    "watts, crank on frame": _job_car("three_link", "watts_frame"),
    "watts, flat crank": _job_car("torque_arm", "watts_flat"),
    "panhard flipped": _job_car("three_link", "panhard_flipped"),
}


GIVING = {
    "parallel four-link": _job_car("parallel"),
    "radius arms": _job_car("radius_arms"),
    "torque arm on a bushing": _job_car("torque_arm", front="bushing"),
    "leaf springs": _job_car("leaf"),
}


def _off(name: str, far: float, within: float, share: float = 1.0) -> None:
    """The most that the axle's center, and a point so far from it, are off MuJoCo's at all postures."""
    vehicle, axle = (GIVING | CARS)[name]
    left, right = share * np.array(POSTURES).T
    ours, off = study_postures(vehicle, axle, left, right), 0.0
    assert ours.ok.all()
    assert (ours.linkage.stiffness is not None) == (name in GIVING)
    for i, (a, b) in enumerate(zip(left, right, strict=True)):
        model, data = _settle(axle, a, b)
        body = model.body("axle").id
        off = max(off, np.abs(ours.pose.center[i] - data.xpos[body] * 1000).max())
        off = max(off, np.abs(ours.pose.rotation[i] - data.xmat[body].reshape(3, 3)).max() * far)
    what = f"{name}: where the axle is, most off of {len(POSTURES)} postures"
    against("referee", "MuJoCo, settled", what, 0.0, off, "mm", within)


@pytest.mark.parametrize("name", GIVING)
def test_axle_position_agrees_where_bushings_give(name: str) -> None:
    """Within a hundredth of a millimeter, at the axle's center and half a meter away from it."""
    _off(name, 500.0, 0.01, 0.5)


@pytest.mark.parametrize("name", CARS)
def test_axle_position_agrees(name: str) -> None:
    """Within a thousandth of a millimeter, at the axle's center and at the rim of a wheel."""
    _off(name, 400.0, 1e-3)


@pytest.mark.parametrize("name", ["hand-made three-link", "upper A-arm", "watts, crank on frame"])
def test_rod_loads_agree(name: str) -> None:
    """A push of 2000, 1500, 800 N and a torque on the axle, at a posture: tie forces within 0.1 %."""
    vehicle, axle = CARS[name]
    force, torque = np.array([2000.0, 1500.0, 800.0]), np.array([-300.0, 900.0, 150.0])
    model, data = _settle(axle, 40.0, -30.0, np.concatenate((force, torque)))
    ours = study_postures(vehicle, axle, np.array([40.0]), np.array([-30.0]))
    wrench = np.concatenate((force, torque * 1000))[None]
    loads = member_loads(ours.linkage, ours.pose, wrench)[0]
    for i in range(len(ours.layout.rods)):
        rows = data.efc_id[: data.nefc] == model.equality(f"tie{i}").id
        equality = data.efc_type[: data.nefc] == mujoco.mjtConstraint.mjCNSTR_EQUALITY
        pull = float(np.linalg.norm(data.efc_force[: data.nefc][rows & equality]))
        what = f"{name}: load of {ours.layout.rods[i].name}"
        against("referee", "MuJoCo, settled", what, pull, abs(float(loads[i])), "N", max(1e-3 * pull, 1.0))
