"""Which way the wheels of a steered axle point, at any travel and steer input, and how far the steering goes."""

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np

from even_stance.mechanics.steering import (
    LEFT,
    RIGHT,
    Box,
    Knuckles,
    around,
    box_turns,
    joint_swing,
    ram_turns,
    wheel_headings,
)
from even_stance.mechanics.steeringbox import arm_turn
from even_stance.mechanics.vectors import Array, dot, norm
from even_stance.vehicle.car import Axle, Vehicle
from even_stance.vehicle.spots import STEER_POINTS, steer_point
from even_stance.vehicle.steering import Steering, SteeringBox

SMALL = 1e-4  # of a turn, or mm: for local slopes
_STEPS = 121


def steering_points(steering: Steering) -> dict[str, Array]:
    """Every point of a steering by its name, wheels straight ahead, mm, shape (3,) each."""
    found = {end: steer_point(steering, end) for end in STEER_POINTS}
    return {end: np.array(point.xyz) for end, point in found.items() if point is not None}


def box_turn(box: SteeringBox, steer: Array) -> Array:
    """The turn of a box's arm at hand-wheel turns from center, rad, shape (...)."""
    return arm_turn(steer, box.ratio, box.ratio if box.ratio_at_lock is None else box.ratio_at_lock, 0.5 * box.turns)


@dataclass(frozen=True)
class Steered:
    """A steered axle at postures and steer inputs, N of them.

    Attributes:
        steer: the input, hand-wheel turns or mm of rod, + left, shape (N,)
        turns: of both knuckles about their kingpins, rad, shape (N, 2); nan where a link does not reach.
        headings: of both wheels, + left, degrees, shape (N, 2)
        pitman_deg: of the pitman arm, + as it turns the wheels left, shape (N,); nan with a ram.
    """

    steer: Array
    turns: Array
    headings: Array
    pitman_deg: Array


class SteeredAxle:
    """The steering of an axle as arrays; + input turns the wheels to the left.

    Args:
        axle: the axle; steering: its steering.
        points: other places of its points by their names, with batch axes that broadcast against postures, mm,
            shape (..., 3): steerings that differ a little from its own.
    """

    def __init__(self, axle: Axle, steering: Steering, points: Mapping[str, Array] | None = None) -> None:
        self.steering = steering
        own = steering_points(steering)
        self.points = own | dict(points or {})
        sides = ("left", "right")
        lower, upper, tie = (
            np.stack(np.broadcast_arrays(*(self.points[f"{side}_{name}"] for side in sides)), axis=-2)
            for name in ("lower", "upper", "tie")
        )
        axis = upper - lower
        axis = axis / norm(axis)[..., None]
        self.knuckles = Knuckles(lower, axis, tie, np.array([[0.0, 1.0, 0.0], [0.0, 1.0, 0.0]]))
        self.box = self._box() if steering.kind != "ram" else None
        self._center = np.array(axle.center)
        still = self._center, np.eye(3)
        ahead, back = (self._turns(np.array([s * SMALL]), *still) for s in (1.0, -1.0))
        self._sense = 1.0 if np.nanmean(ahead - back) >= 0.0 else -1.0

    def _box(self) -> Box:
        box = self.steering.box
        assert box is not None
        axis = self.points["sector_top"] - self.points["sector"]
        near = LEFT if box.shaft.y >= 0.0 else RIGHT
        on = {"fore_aft": near, "crossover": 1 - near}.get(self.steering.kind)
        return Box(
            self.points["sector"], axis / norm(axis)[..., None], self.points["ball"], self.points["drag"], on
        )  # fmt: skip

    @property
    def half_mm_or_turns(self) -> float:
        """How far the input goes either way until the box or the ram stops: hand-wheel turns, or mm of rod."""
        box, ram = self.steering.box, self.steering.ram
        if self.box is None:
            assert ram is not None
            return 0.5 * ram.stroke_mm
        assert box is not None
        return 0.5 * box.turns

    def _pitman(self, steer: Array) -> Array:
        """Turn of the pitman arm for hand-wheel turns, rad."""
        assert self.steering.box is not None
        return box_turn(self.steering.box, steer)

    def _turns(self, steer: Array, moved: Array, rotation: Array) -> Array:
        if self.box is not None:
            return box_turns(self.knuckles, self.box, self._pitman(steer), self._center, moved, rotation)
        return ram_turns(self.knuckles, *self._ram(), steer)

    def _ram(self) -> tuple[Array, Array]:
        """The rod's ends with the wheels straight, mm, (..., 2, 3), and along the rod to the left, 1, (..., 3)."""
        left, right = np.broadcast_arrays(self.points["ram_left"], self.points["ram_right"])
        return np.stack((left, right), axis=-2), (left - right) / norm(left - right)[..., None]

    def at(self, steer: Array, moved: Array, rotation: Array) -> Steered:
        """The wheels at steer inputs, turns or mm, shape (N,), and poses of the axle, mm (N, 3) and 1 (N, 3, 3)."""
        turns = self._turns(self._sense * steer, moved, rotation)
        headings = np.degrees(wheel_headings(self.knuckles, turns, rotation))
        pitman = np.degrees(self._pitman(steer)) if self.box is not None else np.full(headings.shape[:-1], np.nan)
        return Steered(steer, turns, headings, pitman)

    def assist_length(self, turns: Array) -> Array | None:
        """How long an assist ram is, joint to joint, with the knuckles turned, mm, shape (..., N); None without one."""
        if self.steering.assist is None:
            return None
        base, end = self.points["assist_base"], self.assist_end(turns)
        return norm(end - base)

    def assist_end(self, turns: Array) -> Array:
        """Where an assist ram's rod holds the tie rod, as seen from the axle at ride height, mm, shape (..., N, 3)."""
        k, end = self.knuckles, self.points["assist_end"]
        left, right = (k.tie[..., i, :] for i in (LEFT, RIGHT))
        across = right - left
        share = dot(end - left, across) / dot(across, across)
        ties = [k.turned(i, turns[..., i], k.tie[..., i, :]) for i in (LEFT, RIGHT)]
        placed: Array = ties[LEFT] + share[..., None] * (ties[RIGHT] - ties[LEFT])
        return placed

    def assist_share(self, turns: Array) -> Array | None:
        """How far out an assist ram is, 0 all the way in and 1 all the way out, shape (..., N); None without one."""
        assist, length = self.steering.assist, self.assist_length(turns)
        if assist is None or length is None:
            return None
        share: Array = (length - assist.closed_mm) / (assist.open_mm - assist.closed_mm)
        return share

    def stop_first(self, to_left: bool, moved: Array, rotation: Array) -> str:
        """What ends the steering first at a pose, turned one way: "box" or "ram", a wheel's "stop", or a "link"."""
        way = 1.0 if to_left else -1.0
        steer = way * np.linspace(0.0, self.half_mm_or_turns, _STEPS)
        here = self.at(steer, np.broadcast_to(moved, (_STEPS, 3)), np.broadcast_to(rotation, (_STEPS, 3, 3)))
        holds = self.assist_share(here.turns)
        for i, turned in enumerate(here.headings):
            if not np.all(np.isfinite(turned)):
                return "link"
            if holds is not None and not 0.0 <= holds[i] <= 1.0:
                return "ram"
            if np.max(way * turned) > self.steering.stops_deg[int(to_left)]:
                return "stop"
        return "ram" if self.box is None else "box"

    @cached_property
    def links(self) -> tuple["SteeringLink", ...]:
        """Every link of the steering as it is, wheels straight ahead."""
        return tuple(SteeringLink(name, _kept(a), _kept(b)) for name, (a, b) in self._ride_ends().items())

    def pitman_rad(self, steer: Array) -> Array:
        """Turn of the pitman arm, right-handed about the sector shaft, rad, shape (N,)."""
        return self._sense * self._pitman(steer)

    def rod_slid(self, steer: Array) -> Array:
        """How far the ram's rod has gone on the axle, mm, shape (..., N, 3)."""
        return (self._sense * np.asarray(steer))[..., None] * self._ram()[1]

    def _ride_ends(self) -> dict[str, tuple[Array, Array]]:
        """Both ends of every link, wheels straight ahead, mm, shape (..., 3)."""
        tie = [self.knuckles.tie[..., i, :] for i in (LEFT, RIGHT)]
        if self.box is not None:
            return {"tie rod": (tie[LEFT], tie[RIGHT]), "drag link": (self.box.ball, self.box.end)}
        rod = self._ram()[0]
        return {f"{name} link": (rod[..., i, :], tie[i]) for i, name in ((LEFT, "left"), (RIGHT, "right"))}

    def ends_now(self, steered: Steered) -> dict[str, tuple[Array, Array]]:
        """Both ends of every link by its name, mm, shape (..., N, 3) each.

        As seen from the axle at ride height; a pitman arm's end as it is on the frame.
        """
        k, turns = self.knuckles, steered.turns
        tie = [k.tie[..., i, :] for i in (LEFT, RIGHT)]
        ties = [k.turned(i, turns[..., i], tie[i]) for i in (LEFT, RIGHT)]
        if self.box is None:
            rod, slid = self._ram()[0], self.rod_slid(steered.steer)
            return {f"{name} link": (rod[..., i, :] + slid, ties[i]) for i, name in ((LEFT, "left"), (RIGHT, "right"))}
        box, first = self.box, self.box.knuckle
        ball = around(box.shaft, box.axis, self.pitman_rad(steered.steer), box.ball)
        if first is None:
            across = tie[RIGHT] - tie[LEFT]
            share = dot(box.end - tie[LEFT], across) / dot(across, across)
            end = ties[LEFT] + share[..., None] * (ties[RIGHT] - ties[LEFT])
        else:
            end = k.turned(first, turns[..., first], box.end)
        return {"tie rod": (ties[LEFT], ties[RIGHT]), "drag link": (ball, end)}

    def swings(self, steered: Steered, moved: Array, rotation: Array) -> list[tuple[str, str, Array]]:
        """How far every joint has swung at poses of the axle, mm (N, 3) and 1 (N, 3, 3): link, end, rad (..., N)."""
        k, turns, up = self.knuckles, steered.turns, np.array([0.0, 0.0, 1.0])
        still = np.zeros(turns.shape[:-1])
        on_knuckle = [(k.axis[..., i, :], turns[..., i]) for i in (LEFT, RIGHT)]
        ride_ends, found = self._ride_ends(), []
        for name, (start, goal) in self.ends_now(steered).items():
            ride, ways, stands = ride_ends[name][1] - ride_ends[name][0], [goal - start] * 2, [up, up]
            if name == "tie rod":
                ends, bodies = ("left", "right"), on_knuckle
            elif name == "drag link":
                assert self.box is not None
                first = self.box.knuckle
                seen = np.einsum("...ji,...j->...i", rotation, start - moved) + self._center
                way = goal - seen
                ways = [np.einsum("...ij,...j->...i", rotation, way), way]
                ends = ("pitman", "tie rod" if first is None else "knuckle")
                stands[0] = self.box.axis  # a pitman arm's taper is reamed alongside its sector shaft
                bodies = [
                    (self.box.axis, self.pitman_rad(steered.steer)), (up, still) if first is None else on_knuckle[first]
                ]  # fmt: skip
            else:
                ends, bodies = ("ram", "knuckle"), [(up, still), on_knuckle[LEFT if name == "left link" else RIGHT]]
            found += [
                (name, end, joint_swing(w, axis, turn, ride, stud))
                for end, w, (axis, turn), stud in zip(ends, ways, bodies, stands, strict=True)
            ]
        return found


def _kept(point: Array) -> tuple[float, float, float]:
    x, y, z = (float(v) for v in point)
    return x, y, z


@dataclass(frozen=True)
class SteeringLink:
    """A link of the steering: its joints' centers at ride height, straight ahead, mm."""

    name: str
    start: tuple[float, float, float]
    goal: tuple[float, float, float]

    @property
    def length_mm(self) -> float:
        """Joint center to joint center, mm."""
        return float(np.linalg.norm(np.subtract(self.goal, self.start)))


@lru_cache(maxsize=8)
def steered_axle(axle: Axle, steering: Steering) -> SteeredAxle:
    """The steering of an axle as arrays; the same one as long as the axle does not change."""
    return SteeredAxle(axle, steering)


def axle_line(vehicle: Vehicle, axle: Axle) -> float:
    """Where the line is that a steered axle turns about, mm ahead of the front axle: the middle of the others'."""
    others = [a.center[0] for a in vehicle.axles if a.key != axle.key]
    return float(np.mean([x for x in others if (x < axle.center[0]) == axle.is_front] or others))
