"""The place of a drag link's end that makes the wheels steer least by themselves, within the room there is."""

from dataclasses import dataclass

import numpy as np

from even_stance.mechanics.pose import Pose
from even_stance.mechanics.vectors import Array
from even_stance.study.figures import AxleStudy
from even_stance.study.steerfigures import held_values
from even_stance.study.steering import SteeredAxle
from even_stance.vehicle.car import Axle
from even_stance.vehicle.spots import own_point

ENDS = {"ball": "Drag link, pitman end", "drag": "Drag link, axle end"}
_STEP_MM = 0.5
_ROUNDS = 25
_ENOUGH_MM = 0.01


@dataclass(frozen=True)
class Room:
    """How far a point may be moved ahead and back, to either side, and up and down, mm."""

    ahead_mm: float
    side_mm: float
    up_mm: float

    @property
    def reach(self) -> Array:
        """The same as an array, shape (3,)."""
        return np.array([self.ahead_mm, self.side_mm, self.up_mm])


@dataclass(frozen=True)
class ArcAnswer:
    """Where a drag link's end steers the wheels least.

    Attributes:
        axle, end: which end of which axle's ("ball", "drag"); at: the place, mm.
        before_deg, after_deg: the most the wheels steer by themselves, both up or down or crossed up, before and after.
        at_edge: whether the room ends what could be gained.
    """

    axle: str
    end: str
    at: tuple[float, float, float]
    before_deg: float
    after_deg: float
    at_edge: bool


def poses_looked_at(study: AxleStudy) -> Pose:
    """Full droop to full bump, and crossed up, as far as the linkage goes."""
    travel = study.travel
    every = Pose.stacked([travel.sweep.pose, travel.cross.pose])
    return every.part(every.ok)


def least_steer(axle: Axle, poses: Pose, end: str, room: Room) -> ArcAnswer | None:
    """The place of one end of a drag link, within its room, that makes the wheels steer least by themselves.

    Least squares of the left wheel's heading over the poses, by Gauss-Newton steps that are shortened where they do not
    help and kept within the room.

    Args:
        axle: the axle, steered by a box; poses: where it goes, shape (N, ...).
        end: "ball" at the pitman arm or "drag" at the axle; room: how far it may be moved.
    """
    steering, start = axle.steering, own_point(axle, end)
    if steering is None or start is None or steering.kind == "ram":
        return None
    center, reach = np.array(start.xyz), room.reach

    def headings(points: Array) -> Array:
        """Of candidate places, mm (m, 3): the left wheel's headings, degrees (m, N)."""
        many = SteeredAxle(axle, steering, {end: points[:, None, :]})
        return held_values(many, poses)["steer_left_deg"]

    free = reach > 0.0
    steps = _STEP_MM * np.eye(3)[free]
    at = center.copy()
    now = headings(at[None])[0]
    before, damping = float(np.nanmax(np.abs(now))), 1e-3
    if not np.isfinite(now).all():
        return None
    for _ in range(_ROUNDS if free.any() else 0):
        both = headings(np.concatenate((at + steps, at - steps)))
        slope = ((both[: len(steps)] - both[len(steps) :]) / (2 * _STEP_MM)).T
        square = slope.T @ slope
        step = np.zeros(3)
        step[free] = np.linalg.solve(square + damping * np.diag(np.diag(square) + 1e-12), -slope.T @ now)
        after = np.clip(at + step, center - reach, center + reach)
        then = headings(after[None])[0]
        if np.isfinite(then).all() and np.sum(then**2) < np.sum(now**2):
            moved = float(np.abs(after - at).max())
            at, now, damping = after, then, damping / 4.0
            if moved < _ENOUGH_MM:
                break
        else:
            damping *= 8.0
            if damping > 1e6:
                break
    edge = bool((np.abs(at - center)[free] > reach[free] - _ENOUGH_MM).any())
    x, y, z = (float(v) for v in at)
    return ArcAnswer(axle.key, end, (x, y, z), before, float(np.nanmax(np.abs(now))), edge)
