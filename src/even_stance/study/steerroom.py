"""What is near the pitman arm and the ram as they move, and what room a puller has under the arm's hub."""

from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise

import numpy as np

from even_stance.mechanics.gaps import least_along, outline_gap, segments_gap
from even_stance.mechanics.steering import LEFT, RIGHT, around
from even_stance.mechanics.vectors import Array, norm
from even_stance.study.frame import RAIL_HALF_MM, rail_line, rail_thick
from even_stance.study.model import wheel_centers
from even_stance.study.powertrain import moved_with
from even_stance.study.state import power_points
from even_stance.study.steerfigures import lock_of, mechanism_of, turner_of
from even_stance.study.steering import SteeredAxle
from even_stance.vehicle.car import Axle, Vehicle
from even_stance.vehicle.spots import own_point

ARM_MM, ROD_MM = 32.0, 32.0  # across a pitman arm and a rod, as most are
_STEPS, _JAWS_MM, _DEEP_MM = 41, 30.0, 400.0


@dataclass(frozen=True)
class Near:
    """One thing near a moving part: what it is, the least gap, mm, its +/-, and the steer input where it is least."""

    what: str
    gap_mm: float
    sure_mm: float
    steer: float


def rails_gap(vehicle: Vehicle, a: Array, b: Array) -> Array:
    """How far straight pieces are from the nearer frame rail, mm, ends of shape (..., 3) to (...).

    Rails kick up and there are two of them: the least of all their straight pieces, each of which is convex.
    """
    top, thick, out = vehicle.frame.rail_top_mm, rail_thick(vehicle), vehicle.frame.rail_out_mm
    found = np.full(a.shape[:-1], np.inf)
    for (x0, z0), (x1, z1) in pairwise(rail_line(vehicle)):
        corners = np.array([(x0, top + z0), (x1, top + z1), (x1, top - thick + z1), (x0, top - thick + z0)])
        for side in (out, -out):

            def gap(places: Array, corners: Array = corners, side: float = side) -> Array:
                aside = np.maximum(np.abs(places[..., 1] - side) - RAIL_HALF_MM, 0.0)
                away: Array = np.hypot(aside, outline_gap(places[..., (0, 2)], corners))
                return away

            found = np.minimum(found, least_along(gap, a, b))
    return found


def ends_sure(axle: Axle, *ends: str) -> float:
    """The +/- of points of the steering together, mm."""
    points = [own_point(axle, end) for end in ends]
    return float(np.sqrt(sum(p.sure**2 for p in points if p is not None)))


@lru_cache(maxsize=4)
def pitman_near(vehicle: Vehicle, axle: Axle) -> tuple[Near, ...]:
    """What the pitman arm comes near to from lock to lock, tightest first; the axle at ride height. Empty without one.

    The +/- is that of the arm's points and of the other thing's, taken as if all of it lay along the gap.
    """
    turner = turner_of(axle)
    if turner is None or turner.box is None:
        return ()
    low, high = lock_of(axle, turner).steer
    steer = np.linspace(low, high, _STEPS)
    box = turner.box
    hub = np.broadcast_to(box.shaft, (_STEPS, 3))
    ball = around(box.shaft, box.axis, turner.pitman_rad(steer), box.ball)
    sure, found = ends_sure(axle, "sector", "ball"), []

    def add(what: str, gaps: Array, other: float) -> None:
        i = int(np.argmin(gaps))
        found.append(Near(what, float(gaps[i]) - ARM_MM / 2, float(np.hypot(sure, other)), float(steer[i])))

    # The arm's hub sits on the box, which is bolted to the rail: what counts is the arm from its middle outward.
    add("frame rail", rails_gap(vehicle, 0.5 * (hub + ball), ball), 6.0)
    power = vehicle.powertrain
    if power is not None:
        for spot, at in power_points(power).items():
            place = moved_with(power, np.array([at.xyz]))
            add(spot.words.lower(), segments_gap(hub, ball, place, place), at.sure)
    if isinstance(turner, SteeredAxle):
        start, goal = turner.ends_now(turner.at(steer, np.array(axle.center), np.eye(3)))["tie rod"]
        add("tie rod", segments_gap(hub, ball, start, goal) - ROD_MM / 2, ends_sure(axle, "left_tie", "right_tie"))
    if axle.tube_mm and axle.steering is not None and axle.steering.kind != "swing_beams":
        left, right = wheel_centers(axle)
        add("axle tube", segments_gap(hub, ball, left, right) - axle.tube_mm / 2, 3.0)
    return tuple(sorted(found, key=lambda near: near.gap_mm))


def puller_room(vehicle: Vehicle, axle: Axle) -> tuple[float, str] | None:
    """How far the line of the sector shaft is free beyond the arm's hub, mm, and what ends it; None without a box.

    Wheels straight, at ride height; as wide as a puller's jaws. Looked at for 16 inches.
    """
    turner = turner_of(axle)
    if turner is None or turner.box is None:
        return None
    box, things = turner.box, []
    if isinstance(turner, SteeredAxle):
        ends = turner.ends_now(turner.at(np.zeros(1), np.array(axle.center), np.eye(3)))
        things += [(name, start[0], goal[0], ROD_MM / 2) for name, (start, goal) in ends.items()]
        left, right = wheel_centers(axle)
        things.append(("axle tube", left, right, axle.tube_mm / 2))
    deep = np.arange(0.0, _DEEP_MM, 2.0)
    # Away from the box: its far point lies the other way.
    line = box.shaft - deep[:, None] * box.axis
    ends_at = [(float(deep[i]), "ground") for i in np.flatnonzero(line[:, 2] < 0.0)[:1]]
    for name, a, b, radius in things:
        meets = np.flatnonzero((segments_gap(line, line, a, b) < radius + _JAWS_MM) & (deep > ARM_MM))
        ends_at += [(float(deep[i]), name) for i in meets[:1]]
    return min(ends_at, default=(_DEEP_MM, ""))


def cover_gap(axle: Axle) -> Near | None:
    """The gap between the ram's body and the housing's cover, once that was taped; the body slides nowhere."""
    steering, mechanism = axle.steering, mechanism_of(axle)
    if steering is None or mechanism is None or steering.ram is None or steering.ram.cover is None:
        return None
    ram = steering.ram
    left, right, cover = (np.array(p.xyz) for p in (ram.left, ram.right, steering.ram.cover))
    along = (left - right) / norm(left - right)
    off = cover - right
    gap = float(norm(off - (off @ along) * along)) - ram.body_mm / 2
    return Near("housing cover", gap, ends_sure(axle, "ram_left", "ram_right", "ram_cover"), 0.0)


def joint_arcs(axle: Axle) -> list[Array]:
    """The paths of both tie-rod or ram joints on their knuckles, lock to lock at ride height, mm, shape (n, 3) each."""
    mechanism = mechanism_of(axle)
    if mechanism is None:
        return []
    low, high = lock_of(axle, mechanism).steer
    turns = mechanism.at(np.linspace(low, high, _STEPS), np.array(axle.center), np.eye(3)).turns
    k = mechanism.knuckles
    return [k.turned(i, turns[:, i], k.tie[i]) for i in (LEFT, RIGHT)]
