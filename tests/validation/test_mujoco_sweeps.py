"""MuJoCo along the sweeps of the Travel station, and with links turned longer at their threads.

The same models as in test_mujoco.py: bodies on joints left to settle, nothing of our solver in them.
"""

import numpy as np
import pytest

from even_stance.study.answers import answers_at
from even_stance.study.threads import turn_links
from even_stance.study.travel import SWEEPS, SweepKind, study_sweep
from even_stance.vehicle.edits import with_changes
from even_stance.vehicle.job import Job
from even_stance.vehicle.measuring import TOOLS
from tests.conftest import starter
from tests.validation.record import against
from tests.validation.test_mujoco import CARS, _settle


@pytest.mark.parametrize("kind", SWEEPS)
def test_three_places_of_every_sweep(kind: SweepKind) -> None:
    """An asymmetric three-link with panhard: near the ends and in between, position and tube direction."""
    vehicle, axle = CARS["hand-made three-link"]
    sweep = study_sweep(vehicle, axle, kind)
    assert sweep.ok.all()
    for i in (4, 22, 56):
        left, right = float(sweep.left[i]), float(sweep.right[i])
        model, data = _settle(axle, left, right)
        body = model.body("axle").id
        assert np.abs(sweep.pose.center[i] - data.xpos[body] * 1000).max() < 2e-3, (kind, left, right)
        tube = data.xmat[body].reshape(3, 3)[:, 1]
        yaw = np.degrees(np.arctan2(-tube[0], tube[1]))
        roll = np.degrees(np.arcsin(tube[2]))
        assert sweep.value("yaw_deg", i) == pytest.approx(yaw, abs=1e-3)
        assert sweep.value("roll_deg", i) == pytest.approx(roll, abs=1e-3)


def test_roll_steer_is_the_yaw_that_comes_with_roll() -> None:
    """Slope of MuJoCo's own yaw over its own roll, from two postures a little crossed up either way."""
    vehicle, axle = CARS["hand-made three-link"]
    angles = []
    for d in (4.0, -4.0):
        model, data = _settle(axle, 30.0 + d, 30.0 - d)
        tube = data.xmat[model.body("axle").id].reshape(3, 3)[:, 1]
        angles.append((np.arctan2(-tube[0], tube[1]), np.arcsin(tube[2])))
    slope = 100.0 * (angles[0][0] - angles[1][0]) / (angles[0][1] - angles[1][1])
    ours = answers_at(vehicle, axle, 30.0, 30.0).value("roll_steer_pct")
    against("referee", "MuJoCo, yaw over roll", "hand-made three-link at 30: roll steer", slope, ours, "%", 0.05)


@pytest.mark.parametrize("names", [("Upper left", "Upper right"), ("Lower left", "Lower right")])
def test_links_turned_longer_put_the_axle_where_mujoco_puts_it(names: tuple[str, ...]) -> None:
    """Four millimeters on a pair of links: the pinion turns and the axle shifts as in the settled model."""
    job: Job = starter("trail")
    axle = job.vehicle.axle("rear")
    longer = turn_links("rear", names, 4.0, "longer").apply(job).vehicle.axle("rear")
    # MuJoCo gets the lengthened rods by starting from frame ends moved back along each rod, and is settled.
    members = []
    for m in axle.members:
        if m.name not in names:
            members.append(m)
            continue
        a, b = np.array(m.mounts["chassis"].at.xyz), np.array(m.mounts["axle"].at.xyz)
        away = a + (a - b) / np.linalg.norm(a - b) * 4.0
        at = with_changes(m.mounts["chassis"].at, x=float(away[0]), y=float(away[1]), z=float(away[2]))
        members.append(with_changes(m, chassis=with_changes(m.mounts["chassis"], at=at, holes=(), hole=None)))
    moved_frame = with_changes(axle, members=tuple(members))
    for one in names:
        length = np.linalg.norm(np.subtract(*(mt.at.xyz for mt in longer.member(one).mounts.values())))
        other = np.linalg.norm(np.subtract(*(mt.at.xyz for mt in moved_frame.member(one).mounts.values())))
        assert length == pytest.approx(other, abs=1e-6)
    model, data = _settle(longer, 0.0, 0.0)
    body = model.body("axle").id
    # The lengthened car as drawn is already at rest: nothing in the model has to move.
    assert np.abs(np.array(longer.center) - data.xpos[body] * 1000).max() < 1e-3
    assert np.abs(np.eye(3) - data.xmat[body].reshape(3, 3)).max() < 1e-6


def test_tools_are_as_good_as_the_trade_says() -> None:
    """Common practice, no source: tape to 1/16 in, angle finder to 0.2 degree."""
    basis = "common practice, no source"
    against(basis, "what a tape is good for", "+/- of a tape", 25.4 / 16, TOOLS["tape"].sure("length"), "mm")
    against(basis, "what an angle finder is good for", "+/- of one", 0.2, TOOLS["angle_finder"].sure("angle"), "deg")
