"""The place of a drag link's end that makes the wheels steer least by themselves, within the room there is."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from even_stance.mechanics.pose import Pose
from even_stance.mechanics.vectors import Array
from even_stance.study.beamfigures import travel_states
from even_stance.study.beams import BeamAxle, beams_of
from even_stance.study.figures import AxleStudy
from even_stance.study.steerfigures import held_values
from even_stance.study.steering import SteeredAxle
from even_stance.vehicle.car import Axle
from even_stance.vehicle.spots import own_point

ENDS = {"ball": "Drag link, pitman end", "drag": "Drag link, axle end"}
INNER_ENDS = {"left_inner": "Tie rods, inner ends"}
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
        axle, end: which end of which axle's ("ball", "drag", or "left_inner" for both); at: the place, mm.
        before_deg, after_deg: the most the wheels steer by themselves, both up or down or crossed up, before and after;
            of swing beams the most toe changes.
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

    Args:
        axle: the axle, steered by a box; poses: where it goes, shape (N, ...).
        end: "ball" at the pitman arm or "drag" at the axle; room: how far it may be moved.
    """
    steering, start = axle.steering, own_point(axle, end)
    if steering is None or start is None or steering.kind in ("ram", "swing_beams"):
        return None

    def headings(points: Array) -> Array:
        """Of candidate places, mm (m, 3): the left wheel's headings, degrees (m, N)."""
        many = SteeredAxle(axle, steering, {end: points[:, None, :]})
        return held_values(many, poses)["steer_left_deg"]

    return _least(axle, end, np.array(start.xyz), room, headings)


def least_toe(axle: Axle, room: Room) -> ArcAnswer | None:
    """The place of the tie rods' inner ends on swing beams, both sides alike, that changes toe least over travel."""
    steering, start = axle.steering, own_point(axle, "left_inner")
    if steering is None or start is None or beams_of(axle) is None:
        return None

    def toes(points: Array) -> Array:
        """Of candidate places of the left one, mm (m, 3): toe against that at ride height, degrees (m, N)."""
        both = {"left_inner": points[:, None, :], "right_inner": (points * (1.0, -1.0, 1.0))[:, None, :]}
        travel, heave, _ = travel_states(axle, BeamAxle(axle, steering, both))
        ride = int(np.abs(travel).argmin())
        return heave.toe_deg - heave.toe_deg[:, ride : ride + 1]

    return _least(axle, "left_inner", np.array(start.xyz), room, toes)


def _least(
    axle: Axle, end: str, center: Array, room: Room, angles: Callable[[Array], Array]
) -> ArcAnswer | None:  # fmt: skip
    """Least squares of some angles over the travel, by Gauss-Newton steps that are shortened where they do not help.

    Args:
        axle, end: what is moved; center: where it is, mm, shape (3,); room: how far it may go.
        angles: of candidate places, mm (m, 3), degrees (m, N).
    """
    reach = room.reach
    free = reach > 0.0
    steps = _STEP_MM * np.eye(3)[free]
    at = center.copy()
    now = angles(at[None])[0]
    before, damping = float(np.nanmax(np.abs(now))), 1e-3
    if not np.isfinite(now).all():
        return None
    for _ in range(_ROUNDS if free.any() else 0):
        both = angles(np.concatenate((at + steps, at - steps)))
        slope = ((both[: len(steps)] - both[len(steps) :]) / (2 * _STEP_MM)).T
        square = slope.T @ slope
        step = np.zeros(3)
        step[free] = np.linalg.solve(square + damping * np.diag(np.diag(square) + 1e-12), -slope.T @ now)
        after = np.clip(at + step, center - reach, center + reach)
        then = angles(after[None])[0]
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
