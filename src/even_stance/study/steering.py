"""Which way the wheels of a steered axle point, at any travel and steer input, and how far the steering goes."""

from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np

from even_stance.mechanics.steering import (
    LEFT,
    RIGHT,
    Box,
    Knuckles,
    ackermann_share,
    around,
    box_turns,
    joint_swing,
    ram_turns,
    turn_center,
    wheel_headings,
)
from even_stance.mechanics.vectors import Array, dot, norm
from even_stance.study.answers import Answers
from even_stance.study.model import axle_title, wheel_centers
from even_stance.vehicle.car import Axle, Vehicle
from even_stance.vehicle.steering import Steering

_SMALL = 1e-4  # of a turn, or mm: for local slopes
_STEPS = 121


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
    """The steering of an axle as arrays; + input turns the wheels to the left."""

    def __init__(self, axle: Axle, steering: Steering) -> None:
        self._steering, self._axle = steering, axle
        sides = (steering.left, steering.right)
        lower, upper, tie = (np.array([getattr(k, name).xyz for k in sides]) for name in ("lower", "upper", "tie"))
        axis = (upper - lower) / norm(upper - lower)[:, None]
        self.knuckles = Knuckles(lower, axis, tie, np.array([[0.0, 1.0, 0.0], [0.0, 1.0, 0.0]]))
        self.box = self._box() if steering.kind != "ram" else None
        self._center = np.array(axle.center)
        still = self._center, np.eye(3)
        ahead, back = (self._turns(np.array([s * _SMALL]), *still) for s in (1.0, -1.0))
        self._sense = 1.0 if np.mean(ahead - back) >= 0.0 else -1.0

    def _box(self) -> Box:
        box, drag = self._steering.box, self._steering.drag
        assert box is not None
        assert drag is not None
        shaft, ball = np.array(box.shaft.xyz), np.array(box.ball.xyz)
        axis = np.array(box.top.xyz) - shaft
        near = LEFT if shaft[1] >= 0.0 else RIGHT
        on = {"fore_aft": near, "crossover": 1 - near}.get(self._steering.kind)
        return Box(shaft, axis / norm(axis), ball, np.array(drag.xyz), on)

    @property
    def half_mm_or_turns(self) -> float:
        """How far the input goes either way until the box or the ram stops: hand-wheel turns, or mm of rod."""
        box, ram = self._steering.box, self._steering.ram
        if self.box is None:
            assert ram is not None
            return 0.5 * ram.stroke_mm
        assert box is not None
        return 0.5 * box.turns

    def _pitman(self, steer: Array) -> Array:
        """Turn of the pitman arm for hand-wheel turns, rad."""
        assert self._steering.box is not None
        return 2.0 * np.pi * steer / self._steering.box.ratio

    def _turns(self, steer: Array, moved: Array, rotation: Array) -> Array:
        if self.box is not None:
            return box_turns(self.knuckles, self.box, self._pitman(steer), self._center, moved, rotation)
        return ram_turns(self.knuckles, *self._ram(), steer)

    def _ram(self) -> tuple[Array, Array]:
        """The rod's ends with the wheels straight, mm, shape (2, 3), and along the rod to the left, 1, shape (3,)."""
        ram = self._steering.ram
        assert ram is not None
        ends = np.array([ram.left.xyz, ram.right.xyz])
        return ends, (ends[0] - ends[1]) / norm(ends[0] - ends[1])

    def at(self, steer: Array, moved: Array, rotation: Array) -> Steered:
        """The wheels at steer inputs, turns or mm, shape (N,), and poses of the axle, mm (N, 3) and 1 (N, 3, 3)."""
        turns = self._turns(self._sense * steer, moved, rotation)
        headings = np.degrees(wheel_headings(self.knuckles, turns, rotation))
        pitman = np.degrees(self._pitman(steer)) if self.box is not None else np.full(len(headings), np.nan)
        return Steered(steer, turns, headings, pitman)

    def stop_first(self, to_left: bool, moved: Array, rotation: Array) -> str:
        """What ends the steering first at a pose, turned one way: "box" or "ram", a wheel's "stop", or a "link"."""
        way = 1.0 if to_left else -1.0
        steer = way * np.linspace(0.0, self.half_mm_or_turns, _STEPS)
        here = self.at(steer, np.broadcast_to(moved, (_STEPS, 3)), np.broadcast_to(rotation, (_STEPS, 3, 3)))
        for turned in here.headings:
            if not np.all(np.isfinite(turned)):
                return "link"
            if np.max(way * turned) > self._steering.stop_deg:
                return "stop"
        return "ram" if self.box is None else "box"

    def links(self, steered: Steered, moved: Array, rotation: Array) -> list["SteeringLink"]:
        """Every link of the steering, at poses of the axle, mm (N, 3) and 1 (N, 3, 3)."""
        k, turns = self.knuckles, steered.turns
        ties = [around(k.pivot[i], k.axis[i], turns[:, i], k.tie[i]) for i in (LEFT, RIGHT)]
        still = np.zeros(len(turns))
        up = np.array([0.0, 0.0, 1.0])
        if self.box is None:
            ends, axis = self._ram()
            rods = ends[:, None, :] + (self._sense * steered.steer)[:, None] * axis
            return [
                SteeringLink(f"{name} link", ends[i], k.tie[i], (
                    ("ram", joint_swing(ties[i] - rods[i], up, still, k.tie[i] - ends[i])),
                    ("knuckle", joint_swing(ties[i] - rods[i], k.axis[i], turns[:, i], k.tie[i] - ends[i])),
                )) for i, name in ((LEFT, "left"), (RIGHT, "right"))
            ]  # fmt: skip
        run, across = ties[RIGHT] - ties[LEFT], k.tie[RIGHT] - k.tie[LEFT]
        tie = SteeringLink("tie rod", k.tie[LEFT], k.tie[RIGHT], tuple(
            (name, joint_swing(run, k.axis[i], turns[:, i], across)) for i, name in ((LEFT, "left"), (RIGHT, "right"))
        ))  # fmt: skip
        box, first = self.box, self.box.knuckle
        pitman = self._sense * np.radians(steered.pitman_deg)
        ball = np.einsum("nji,nj->ni", rotation, around(box.shaft, box.axis, pitman, box.ball) - moved) + self._center
        if first is None:
            share = float(dot(box.end - k.tie[LEFT], across) / dot(across, across))
            end, axis, turn = ties[LEFT] + share * run, up, still
        else:
            axis, turn = k.axis[first], turns[:, first]
            end = around(k.pivot[first], axis, turn, box.end)
        ride, way = box.end - box.ball, end - ball
        on_frame = np.einsum("nij,nj->ni", rotation, way)
        drag = SteeringLink("drag link", box.ball, box.end, (
            ("pitman", joint_swing(on_frame, box.axis, pitman, ride)),
            ("tie rod" if first is None else "knuckle", joint_swing(way, axis, turn, ride)),
        ))  # fmt: skip
        return [tie, drag]


@dataclass(frozen=True)
class SteeringLink:
    """A link of the steering.

    Attributes:
        start, goal: its joints' centers at ride height, straight ahead, mm, shape (3,)
        swings: by the end's name, how far its joint has swung, rad, shape (N,)
    """

    name: str
    start: Array
    goal: Array
    swings: tuple[tuple[str, Array], ...]

    @property
    def length_mm(self) -> float:
        """Joint center to joint center, mm."""
        return float(norm(self.goal - self.start))


@lru_cache(maxsize=8)
def steered_axle(axle: Axle, steering: Steering) -> SteeredAxle:
    """The steering of an axle as arrays; the same one as long as the axle does not change."""
    return SteeredAxle(axle, steering)


def steer_words(axle: Axle) -> str:
    """What a steer input does on an axle."""
    if axle.steering is None:
        return f"{axle_title(axle)} has no steering entered: a steer input turns nothing."
    unit = "mm of the ram's rod" if axle.steering.kind == "ram" else "turns of the hand wheel"
    return f"{unit[0].upper()}{unit[1:]} from straight ahead, + to the left."


def turned_words(answers: Answers, steer: float, i: int = 0) -> str:
    """Which way the wheels of a steered axle point, in a few words; empty where nothing steers it."""
    axle = answers.axle
    if axle.steering is None:
        return ""
    at = answers.pose.center[i : i + 1], answers.pose.rotation[i : i + 1]
    left, right = steered_axle(axle, axle.steering).at(np.array([steer]), *at).headings[0]
    if not np.isfinite(left + right):
        return "a steering link does not reach"
    way = "left" if left + right >= 0.0 else "right"
    return f"wheels {abs(left):.1f}° and {abs(right):.1f}° {way}"


def machine_readable_steer(vehicle: Vehicle, answers: Answers, steer: float, i: int = 0) -> dict[str, Any]:
    """A steered axle at one posture and steer input under the fixed keys of the command line; empty without steering.

    The swing of a joint is how far its link has left the plane square to its stud; studs are taken to stand as upright
    as can be square to their links at ride height, wheels straight ahead.
    """
    axle = answers.axle
    if axle.steering is None:
        return {}
    mechanism = steered_axle(axle, axle.steering)
    moved, rotation = answers.pose.center[i : i + 1], answers.pose.rotation[i : i + 1]
    inputs = np.array([steer, steer + _SMALL, steer - _SMALL])
    poses = np.repeat(moved, 3, axis=0), np.repeat(rotation, 3, axis=0)
    here = mechanism.at(inputs, *poses)
    left, right = here.headings[0]
    mean = here.headings.mean(axis=1)
    ratio = 360.0 * 2.0 * _SMALL / (mean[1] - mean[2]) if mechanism.box is not None else np.nan
    wheels = answers.pose.part(slice(i, i + 1)).center + np.einsum(
        "ij,kj->ki", rotation[0], wheel_centers(axle) - np.array(axle.center)
    )
    others = [a.center[0] for a in vehicle.axles if a.key != axle.key]
    line = float(np.mean([x for x in others if (x < axle.center[0]) == axle.is_front] or others))
    k = mechanism.knuckles
    ground = k.pivot - k.axis * (k.pivot[:, 2:] / k.axis[:, 2:])
    spacing, wheelbase = float(ground[LEFT, 1] - ground[RIGHT, 1]), abs(axle.center[0] - line)
    radius = turn_center(np.radians(here.headings[0]), wheels[:, :2], line)
    links = mechanism.links(here, *poses)
    lengths = {link.name: link.length_mm for link in links}
    said: dict[str, Any] = {
        "input": steer,
        "left_deg": _or_none(left),
        "right_deg": _or_none(right),
        "toe_deg": _or_none(right - left),
        "ackermann_pct": _or_none(100.0 * float(ackermann_share(np.radians(here.headings[0]), spacing, wheelbase))),
        "pitman_deg": _or_none(here.pitman_deg[0]),
        "overall_ratio": _or_none(ratio),
        "stop_first": mechanism.stop_first(steer >= 0.0, moved[0], rotation[0]),
        "turning_radius_mm": _or_none(radius),
        "joints": [
            {"name": link.name, "end": end, "swing_deg": _or_none(np.degrees(swing[0]))}
            for link in links for end, swing in link.swings
        ],
        "tie_rod_mm": lengths.get("tie rod"),
        "drag_link_mm": lengths.get("drag link"),
    }  # fmt: skip
    return {"steer": said}


def _or_none(value: Any) -> float | None:
    return float(value) if np.isfinite(value) else None
