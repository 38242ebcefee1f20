"""An axle of two swing beams at any travel of either wheel and steer input: headings, camber, track and toe."""

from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from even_stance.mechanics.steering import LEFT, RIGHT, Box, Knuckles, around, joint_swing, link_turn
from even_stance.mechanics.swingbeams import beam_axis, beam_rotation, beam_turn, camber, patch
from even_stance.mechanics.vectors import Array, norm
from even_stance.study.model import wheel_centers
from even_stance.study.steering import Steered, SteeringLink, box_turn, steering_points
from even_stance.vehicle.car import Axle
from even_stance.vehicle.steering import Steering

_SMALL = 1e-4
_SIDES = ("left", "right")


@dataclass(frozen=True)
class BeamState(Steered):
    """Swing beams at postures and steer inputs, N of them.

    Attributes:
        rotation: of both beams, 1, shape (..., N, 2, 3, 3); centers, patches: of both wheels, mm, shape (..., N, 2, 3)
        camber_deg: of both, + top outward, shape (..., N, 2)
    """

    rotation: Array
    centers: Array
    patches: Array
    camber_deg: Array

    @property
    def toe_deg(self) -> Array:
        """Right less left, toe-in +, degrees, shape (..., N)."""
        return self.headings[..., RIGHT] - self.headings[..., LEFT]

    @property
    def track_mm(self) -> Array:
        """Between the tires' patches, mm, shape (..., N)."""
        return self.patches[..., LEFT, 1] - self.patches[..., RIGHT, 1]


class BeamAxle:
    """Two swing beams and their steering as arrays; + input turns the wheels to the left.

    Both tie rods end on a center link that pitman and idler arm carry along without turning it.

    Args:
        axle: the axle; steering: of the kind "swing_beams".
        points: other places of its points by their names, with batch axes that broadcast against postures, mm.
    """

    def __init__(self, axle: Axle, steering: Steering, points: Mapping[str, Array] | None = None) -> None:
        self.steering, self._axle = steering, axle
        self.points = p = steering_points(steering) | dict(points or {})

        def both(name: str) -> Array:
            return np.stack(np.broadcast_arrays(*(p[f"{side}_{name}"] for side in _SIDES)), axis=-2)

        lower, upper = both("lower"), both("upper")
        kingpin = upper - lower
        self.knuckles = Knuckles(
            lower, kingpin / norm(kingpin)[..., None], both("tie"), np.array([[0.0, 1.0, 0.0], [0.0, 1.0, 0.0]])
        )  # fmt: skip
        self.pivot, self.inner = both("pivot"), both("inner")
        self.axis = beam_axis(self.pivot, both("arm"))
        shaft = p["sector_top"] - p["sector"]
        self.pitman = Box(p["sector"], shaft / norm(shaft)[..., None], p["ball"], p["ball"], None)
        self.box: Box | None = self.pitman
        self._sense = 1.0
        ahead, back = (self.over(np.array([s * _SMALL]), np.zeros(1), np.zeros(1)) for s in (1.0, -1.0))
        self._sense = 1.0 if np.nanmean(ahead.headings - back.headings) >= 0.0 else -1.0

    @property
    def half_mm_or_turns(self) -> float:
        """How far the hand wheel goes either way until the box stops, turns."""
        assert self.steering.box is not None
        return 0.5 * self.steering.box.turns

    @property
    def links(self) -> tuple[SteeringLink, ...]:
        """Both tie rods, wheels straight ahead."""
        found = []
        for i, side in ((LEFT, "left"), (RIGHT, "right")):
            ends = (tuple(float(v) for v in a[i]) for a in (self.inner, self.knuckles.tie))
            found.append(SteeringLink(f"{side} tie rod", *ends))  # type: ignore[arg-type]
        return tuple(found)

    def pitman_rad(self, steer: Array) -> Array:
        """Turn of the pitman arm, right-handed about the sector shaft, rad, shape (N,)."""
        assert self.steering.box is not None
        turn: Array = self._sense * box_turn(self.steering.box, np.asarray(steer))
        return turn

    def center_link(self, steer: Array) -> Array:
        """How far the center link has gone, mm, shape (..., N, 3)."""
        arm = self.pitman
        moved: Array = around(arm.shaft, arm.axis, self.pitman_rad(steer), arm.ball) - arm.ball
        return moved

    def at(self, steer: Array, _moved: Array, _rotation: Array) -> "BeamState":
        """At ride height, asked for as of an axle that stands there: what lock and ratio are looked at with."""
        return self.over(steer, np.zeros(1), np.zeros(1))

    def assist_share(self, _turns: Array) -> Array | None:
        """There is no assist ram on swing beams here."""
        return None

    def over(self, steer: Array, left: Array, right: Array) -> BeamState:
        """The wheels at steer inputs, turns, and rises of their centers as the beams carry them, mm, shape (N,)."""
        k, rises, slid = self.knuckles, (left, right), self.center_link(steer)
        centers = wheel_centers(self._axle)
        turns, headings, rotations, places, spins = [], [], [], [], []
        for i in (LEFT, RIGHT):
            pivot, axis = self.pivot[..., i, :], self.axis[..., i, :]
            rotation = beam_rotation(axis, beam_turn(pivot, axis, centers[i], np.asarray(rises[i])))
            target = self.inner[..., i, :] + slid
            seen = np.einsum("...ji,...j->...i", rotation, target - pivot) + pivot
            at, tie = k.pivot[..., i, :], k.tie[..., i, :]
            turn = link_turn(at, k.axis[..., i, :], tie, self.inner[..., i, :], seen)
            on_beam = around(np.zeros(3), k.axis[..., i, :], turn, k.spin[..., i, :])
            spin = np.einsum("...ij,...j->...i", rotation, on_beam)
            turns.append(turn)
            spins.append(spin)
            headings.append(np.degrees(np.arctan2(-spin[..., 0], spin[..., 1])))
            rotations.append(np.broadcast_to(rotation, (*turn.shape, 3, 3)))
            own = k.turned(i, turn, centers[i])
            places.append(pivot + np.einsum("...ij,...j->...i", rotation, own - pivot))
        radius = self._axle.tire.loaded_radius_mm
        patches = [patch(c, s, radius) for c, s in zip(places, spins, strict=True)]
        leans = [np.degrees(camber(s, side)) for s, side in zip(spins, (1.0, -1.0), strict=True)]
        pitman = np.degrees(self.pitman_rad(steer)) * self._sense
        return BeamState(
            np.asarray(steer), np.stack(turns, axis=-1), np.stack(headings, axis=-1), pitman,
            np.stack(rotations, axis=-3), np.stack(places, axis=-2), np.stack(patches, axis=-2),
            np.stack(leans, axis=-1),
        )  # fmt: skip

    def swings(self, now: BeamState) -> list[tuple[str, str, Array]]:
        """How far both joints of either tie rod have swung: rod, end, rad (..., N).

        The inner one's stud goes along with the center link, which does not turn; the outer one's with its knuckle.
        """
        k, slid, up, found = self.knuckles, self.center_link(now.steer), np.array([0.0, 0.0, 1.0]), []
        for i, side in ((LEFT, "left"), (RIGHT, "right")):
            pivot, rotation, turn = self.pivot[..., i, :], now.rotation[..., i, :, :], now.turns[..., i]
            tie, inner, axis = k.tie[..., i, :], self.inner[..., i, :], k.axis[..., i, :]
            outer = pivot + np.einsum("...ij,...j->...i", rotation, k.turned(i, turn, tie) - pivot)
            way, ride = outer - inner - slid, tie - inner
            on_beam = np.einsum("...ji,...j->...i", rotation, way)
            still = np.zeros(turn.shape)
            found.append((f"{side} tie rod", "inner", joint_swing(way, up, still, ride, up)))
            found.append((f"{side} tie rod", "outer", joint_swing(on_beam, axis, turn, ride, up)))
        return found


@lru_cache(maxsize=8)
def beam_axle(axle: Axle, steering: Steering) -> BeamAxle:
    """The swing beams of an axle as arrays; the same ones as long as the axle does not change."""
    return BeamAxle(axle, steering)


def beams_of(axle: Axle) -> BeamAxle | None:
    """The swing beams of an axle; None where it has none."""
    steering = axle.steering
    return None if steering is None or steering.kind != "swing_beams" else beam_axle(axle, steering)
