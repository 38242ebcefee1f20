"""Random ways from ride height on every layout, and a referee that follows each of them in a thousand small steps.

The referee knows nothing of the solver's steps or rules: plain Newton on the closure equations (or on least energy,
where bushings give) from the pose a thousandth of the way before, so that it cannot come onto another assembly branch
without a leap that shows.
"""

from dataclasses import dataclass

import numpy as np

from even_stance.judgement.catalog.layouts import BASES, BaseKey, LateralKey, layout_members
from even_stance.mechanics.linkage import Linkage, at_ride, closure
from even_stance.mechanics.pose import Pose
from even_stance.mechanics.position import solve_posture
from even_stance.mechanics.vectors import Array, small_rotation
from even_stance.study.model import layout_of, linkage_from, mount_points
from even_stance.vehicle.edits import with_changes
from tests.conftest import starter

STEPS, STEPS_GIVING = 1000, 300
CASES: tuple[tuple[BaseKey, LateralKey | None], ...] = (
    *((base, None) for base in BASES),
    ("three_link", "watts_axle"), ("three_link", "watts_frame"), ("torque_arm", "watts_flat"),
    ("torque_arm", "panhard_flipped"),
)  # fmt: skip


@dataclass(frozen=True)
class Followed:
    """Where the referee got on each way: the share of it, and the axle center there, mm, shape (N,) and (N, 3)."""

    reached: Array
    center: Array


def shortened(base: BaseKey, lateral: LateralKey | None, seed: int) -> Linkage:
    """A rear axle on a layout whose links are 60 to 100 % of their drawn length, each side of its own."""
    random = np.random.default_rng(seed)
    job = starter("trail")
    axle = job.vehicle.axle("rear")
    axle = with_changes(axle, members=layout_members(axle, job.vehicle.frame, base, lateral))
    layout, points = layout_of(axle), mount_points(axle).copy()
    for rod in layout.rods:
        if rod.first != rod.second and layout.mounts[rod.first].member.role != "spring":
            share = random.uniform(0.6, 1.0)
            points[rod.first] = points[rod.second] + share * (points[rod.first] - points[rod.second])
    points += random.uniform(-40.0, 40.0, points.shape) * np.array([1.0, 0.3, 1.0])
    return linkage_from(axle, layout, points)


def random_ways(linkage: Linkage, count: int, seed: int) -> Array:
    """Travel of the left and right wheel, mm, shape (count, 2): heave, roll, one wheel, and anything between."""
    random = np.random.default_rng(seed)
    far = float(np.median(linkage.lengths)) if linkage.lengths.size else 400.0
    angle = random.uniform(0.0, 2 * np.pi, count)
    angle[::4] = np.pi / 4 * random.integers(0, 8, len(angle[::4]))
    size = far * random.uniform(0.1, 1.2, count)
    return np.stack((size * np.cos(angle), size * np.sin(angle)), axis=-1)


def follow(linkage: Linkage, travel: Array, finer: int = 1) -> Followed:
    """Follow every way; one that leaps, turns its determinant round or does not close has locked up there."""
    count = len(travel)
    pose, locked = at_ride(linkage, (count,)), np.zeros(count, dtype=bool)
    reached, before = np.zeros(count), np.full(count, np.inf)
    side = np.sign(np.linalg.det(_system(linkage, pose)[0]))
    steps = finer * (STEPS if linkage.stiffness is None else STEPS_GIVING)
    for k in range(1, steps + 1):
        trial, closed = pose, np.zeros(count, dtype=bool)
        for _ in range(8):
            system, right = _system(linkage, trial, travel * (k / steps))
            step = np.linalg.solve(system + 1e-300, right[..., None])[..., 0][..., : linkage.freedoms]
            size = np.abs(step).max(axis=-1)
            trial = _moved(trial, np.where((size < 500.0)[:, None], step, 0.0))
            closed = size < 1e-7
            if closed[~locked].all():
                break
        moved = np.abs(trial.center - pose.center).max(axis=-1) + 500.0 * np.abs(trial.rotation - pose.rotation).max(
            axis=(-1, -2)
        )
        stays = np.sign(np.linalg.det(_system(linkage, trial)[0])) == side
        good = ~locked & closed & stays & (moved < 4.0 * before + 1e-3)
        locked |= ~good
        if locked.all():
            break
        keep = good[:, None]
        pose = Pose(
            np.where(keep, trial.center, pose.center), np.where(keep[..., None], trial.rotation, pose.rotation),
            np.where(keep, trial.crank, pose.crank), pose.reached, pose.residual_mm, pose.misfit_mm,
        )  # fmt: skip
        reached[good] = k / steps
        before = np.where(good, moved, before)
    return Followed(reached, pose.center)


def _system(linkage: Linkage, pose: Pose, travel: Array | None = None) -> tuple[Array, Array]:
    """Newton's matrix and right-hand side: the closure rows, or the conditions of least energy by differences."""
    if linkage.stiffness is None:
        residual, rows = closure(linkage, pose, np.zeros(2) if travel is None else travel)
        return rows, -residual
    return _energy_conditions(linkage, pose, travel)


def _energy_conditions(linkage: Linkage, pose: Pose, travel: Array | None) -> tuple[Array, Array]:
    """Gradient of the stored energy with the wheels' reactions, and its derivative by central differences."""
    held, m = linkage.held, linkage.freedoms
    weight = np.broadcast_to(linkage.stiffness / linkage.stiffness.max(), (len(pose.center), held))
    residual, rows = closure(linkage, pose, np.zeros(2) if travel is None else travel)
    wheels, pull = rows[:, held:], weight * residual[:, :held]
    gradient = np.einsum("nij,ni->nj", rows[:, :held], pull)
    left, right = wheels[:, 0, 3], wheels[:, 1, 3]
    one = (gradient[:, 2] * right - gradient[:, 3]) / (left - right)
    reaction = np.stack((one, -gradient[:, 2] - one), axis=-1)
    h = np.full(m, 1e-3)
    h[3:] = 2e-6
    matrix = np.zeros((len(pose.center), m + 2, m + 2))
    for j in range(m):
        ends = []
        for sign in (1.0, -1.0):
            step = np.zeros((len(pose.center), m))
            step[:, j] = sign * h[j]
            res, row = closure(linkage, _moved(pose, step), np.zeros(2) if travel is None else travel)
            both = np.concatenate((weight * res[:, :held], reaction), axis=-1)
            ends.append(np.einsum("nij,ni->nj", row, both))
        matrix[:, :m, j] = (ends[0] - ends[1]) / (2 * h[j])
    matrix[:, :m, m:] = np.swapaxes(wheels, -1, -2)
    matrix[:, m:, :m] = wheels
    return matrix, np.concatenate((-gradient, -residual[:, held:]), axis=-1)


def _moved(pose: Pose, step: Array) -> Pose:
    return Pose(
        pose.center + step[:, :3], small_rotation(step[:, 3:6]) @ pose.rotation, pose.crank + step[:, 6:],
        pose.reached, pose.residual_mm, pose.misfit_mm,
    )  # fmt: skip


@dataclass
class Count:
    """What a comparison counted: ways, those the referee found locked, and those answered another way than it."""

    ways: int = 0
    locked: int = 0
    wrong: int = 0
    missed: int = 0
    misplaced: int = 0

    def __str__(self) -> str:
        return (
            f"{self.ways} ways, {self.locked} lock up; answered on another branch or past a lock-up {self.wrong}, "
            f"said to lock up where they do not {self.missed}, lock-up misplaced {self.misplaced}"
        )


def compare(linkage: Linkage, travel: Array, count: Count) -> None:
    """Hold the solver against the referee: the same place to 0.01 mm, lock-up within three of the referee's steps."""
    referee, ours = follow(linkage, travel), solve_posture(linkage, travel[:, 0], travel[:, 1])
    off = np.abs(ours.center - referee.center).max(axis=1) > 0.01
    if (doubt := ((referee.reached >= 1.0) != ours.ok) | (ours.ok & off)).any():
        # Where steps were too long for the referee itself, as where a bound layout snaps: looked at closely.
        close = follow(linkage, travel[doubt], finer=20 if linkage.stiffness is None else 40)
        referee.reached[doubt], referee.center[doubt] = close.reached, close.center
    free = referee.reached >= 1.0
    apart = np.abs(ours.center - referee.center).max(axis=1) > 0.01
    steps = STEPS if linkage.stiffness is None else STEPS_GIVING
    # What the referee's last steps cannot tell from a lock-up at the very end of the way is neither's fault.
    at_end = (ours.reached > 1 - 3 / steps) & (referee.reached > 1 - 3 / steps)
    count.ways += len(travel)
    count.locked += int((~free).sum())
    count.wrong += int((ours.ok & ((free & apart) | ~free) & ~at_end).sum())
    count.missed += int((free & ~ours.ok & ~at_end).sum())
    count.misplaced += int((~free & ~ours.ok & (np.abs(ours.reached - referee.reached) > 3 / steps)).sum())
