"""Where every body of one axle is over a whole grid of travel and steer, for looking at what it comes near to.

Bodies that do not steer are placed once for each travel, those that do for each travel and steer input; the rest of the
car stands still.
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from even_stance.errors import StanceError
from even_stance.mechanics.closest import Least, Moving
from even_stance.mechanics.cores import Core
from even_stance.mechanics.vectors import Array, norm
from even_stance.pace import give_way
from even_stance.study.answers import study_postures
from even_stance.study.beams import beams_of
from even_stance.study.carried import standing
from even_stance.study.hard import Hard
from even_stance.study.powertrain import seated
from even_stance.study.springs import marks_of
from even_stance.study.springunits import units_of
from even_stance.study.state import POWERTRAIN, BodyPose, CarState, axle_body, axle_state, power_pose
from even_stance.study.steerfigures import lock_of, turner_of
from even_stance.vehicle.car import Axle, Vehicle
from even_stance.vehicle.spots import Spot

_LEAST = ("closed", "bind", "solid")  # lengths a spring cannot go below; the other marks it cannot go beyond
_MOST = ("open", "tight")


@dataclass(frozen=True, eq=False)
class AxleStates:
    """An axle over a grid of travel and steer.

    Attributes:
        axle: the axle as it sits; travel: left and right, mm, shape (t, 2); steer: inputs, shape (s,)
        poses: bodies that do not steer, at every travel; turned: bodies that do, at every travel and steer, the steer
            running fastest.
        reached: which travels the links reach; allowed: which of them stops and straps let it come to, shape (t,)
    """

    axle: Axle
    travel: Array
    steer: Array
    poses: dict[str, BodyPose]
    turned: dict[str, BodyPose]
    reached: NDArray[np.bool_]
    allowed: NDArray[np.bool_]

    @property
    def grid(self) -> tuple[int, int]:
        """How many travels, and how many steer inputs."""
        return len(self.travel), len(self.steer)

    def moves(self, body: str) -> bool:
        """Whether a body is one of this axle's, or moves with it."""
        return body in self.poses or body in self.turned

    def rides(self, body: str) -> bool:
        """Whether a body is best seen from the axle: one of a solid axle's own."""
        return axle_body(self.axle.key) in self.poses and beams_of(self.axle) is None and self.moves(body)

    def pose(self, body: str) -> tuple[BodyPose, tuple[int, int]] | None:
        """The pose of a body, and over how much of the grid; None of one that stands still."""
        if body in self.turned:
            return self.turned[body], self.grid
        if body in self.poses:
            return self.poses[body], (len(self.travel), 1)
        return None

    def shape(self, core: Core, body: str, on_axle: bool = False) -> Moving:
        """A shape over the grid, as seen from the chassis or from the axle."""
        give_way()
        posed = self.pose(body)
        if posed is None:
            points, axis = core.points[:, None, None], core.axis[None, None]
        else:
            pose, grid = posed
            linear = np.swapaxes(pose.linear, -1, -2)
            points = (np.einsum("kc,ncd->knd", core.points - pose.start, linear) + pose.moved).reshape(-1, *grid, 3)
            axis = core.axis @ linear
            if core.disc_mm:
                axis = axis / norm(axis)[:, None]
            axis = axis.reshape(*grid, 3)
        if on_axle:
            points, axis = self._seen(points), self._seen(axis[None], turn=True)[0]
        return Moving(core, points, axis)

    def _seen(self, places: Array, turn: bool = False) -> Array:
        """Places, or directions, as seen from the axle, shape (k, t, s, 3)."""
        frame = self.poses[axle_body(self.axle.key)]
        off = places if turn else places - frame.moved[:, None]
        seen: Array = np.einsum("ktsc,tcd->ktsd", np.broadcast_to(off, (len(off), len(self.travel), *off.shape[2:])),
                                frame.linear)  # fmt: skip
        return seen

    def unseen(self, place: Array, state: tuple[int, ...], turn: bool = False) -> Array:
        """A place, or direction, seen from the axle at a state, as it is on the chassis, shape (3,)."""
        frame = self.poses[axle_body(self.axle.key)]
        home: Array = frame.linear[state[0]] @ place + (0.0 if turn else frame.moved[state[0]])
        return home

    def back(self, body: str, place: Array, state: tuple[int, ...]) -> Array:
        """Where on a body at ride height a place of a state is, mm, shape (3,)."""
        give_way()
        if body in self.turned:
            pose, i = self.turned[body], state[0] * len(self.steer) + state[1]
        elif body in self.poses:
            pose, i = self.poses[body], state[0]
        else:
            return place
        i = i if len(pose.moved) > 1 else 0
        home: Array = pose.start + np.linalg.solve(pose.linear[i], place - pose.moved[i])
        return home


def steer_ends(axle: Axle) -> tuple[float, float] | None:
    """The steer inputs at which the wheels are at their stops, right and left; None where nothing steers."""
    turner = turner_of(axle)
    if turner is None:
        return None
    low, high = (float(v) for v in np.sort(lock_of(axle, turner).steer))
    return low, high


def grid_states(vehicle: Vehicle, axle: Axle, steps: int, turns: int) -> AxleStates:
    """An axle over its whole travel, both wheels on their own, and from lock to lock.

    Args:
        vehicle: the vehicle; axle: the axle.
        steps: how many travels of either wheel, ride height among them; turns: how many steer inputs.

    Raises:
        StanceError: its links cannot be worked out.
    """
    each = np.linspace(-axle.droop_mm, axle.bump_mm, steps)
    each[np.abs(each).argmin()] = 0.0
    travel = np.stack(np.meshgrid(each, each, indexing="ij"), axis=-1).reshape(-1, 2)
    ends = steer_ends(axle)
    steer = np.zeros(1) if ends is None else np.linspace(*ends, turns)
    if ends is not None:
        steer[np.abs(steer).argmin()] = 0.0
    return _states(vehicle, axle, travel, steer, np.repeat(travel, len(steer), axis=0), np.tile(steer, len(travel)))


def posture_states(vehicle: Vehicle, axle: Axle, postures: Array) -> AxleStates:
    """An axle at single postures.

    Args:
        vehicle: the vehicle; axle: the axle; postures: left and right travel, mm, and steer input, shape (n, 3)

    Raises:
        StanceError: its links cannot be worked out.
    """
    travel, steer = postures[:, :2], postures[:, 2]
    return _states(vehicle, axle, travel, np.zeros(1), travel, steer)


def _states(
    vehicle: Vehicle, axle: Axle, travel: Array, steer: Array, each_travel: Array, each_steer: Array
) -> AxleStates:
    here = standing(vehicle, seated(vehicle, axle), 0.0, 0.0)
    count, every = len(travel), np.ones(len(travel), dtype=bool)
    answers = None
    if axle.members:
        answers = study_postures(vehicle.model_copy(update={"over": "ride"}), axle, travel[:, 0], travel[:, 1])
    elif beams_of(axle) is None:
        raise StanceError(f"The {axle.key} axle has no links yet: what it moves past is known once they hold it.")
    state = axle_state(here, answers, count, travel=travel)
    reached = every if answers is None else answers.ok
    turned: dict[str, BodyPose] = {}
    if turner_of(axle) is not None:
        turned = _turned(here, state, len(each_travel) // count, each_travel, each_steer)
    poses = {k: v for k, v in state.poses.items() if k not in turned and k != "chassis"}
    pose = power_pose(vehicle)
    if vehicle.powertrain is not None and vehicle.powertrain.moved:
        still = np.broadcast_to(pose.moved, (count, 3)), np.broadcast_to(pose.linear, (count, 3, 3))
        poses[POWERTRAIN] = BodyPose(pose.start, *still)
    return AxleStates(axle, travel, steer, poses, turned, reached, reached & _within_stops(axle, state, count))


def _turned(here: Axle, state: CarState, times: int, travel: Array, steer: Array) -> dict[str, BodyPose]:
    """The bodies that steer, at every travel and steer input."""
    bare = here.model_copy(update={"members": (), "springs": (), "output": None, "pinion": None, "shaft": None})
    own = state.poses[axle_body(here.key)]
    pose = BodyPose(own.start, np.repeat(own.moved, times, axis=0), np.repeat(own.linear, times, axis=0))
    found = axle_state(bare, None, len(travel), pose=pose, steer=steer, travel=travel)
    still = {"chassis", axle_body(here.key)}
    if beams_of(here) is not None:  # beams do not steer, what they carry does
        still |= {f"{here.key} {side} beam" for side in ("left", "right")}
    return {k: v for k, v in found.poses.items() if k not in still}


def _within_stops(axle: Axle, state: CarState, count: int) -> NDArray[np.bool_]:
    """Which postures no stop, strap or shock ends the travel before."""
    fine = np.ones(count, dtype=bool)
    for unit in units_of(axle):
        part = unit.part
        low = "low" if part.kind == "rocker" else "bottom"
        ends = [Spot(axle.key, part.name, e) for e in ("top", low)]
        if unit.kind in ("sway_bar", "leaf") or any(e not in state.points for e in ends):
            continue
        length = norm(state.points[ends[0]] - state.points[ends[1]])
        for what, mark in marks_of(unit):
            if what in _LEAST:
                fine &= length >= mark - 1e-6
            elif what in _MOST:
                fine &= length <= mark + 1e-6
    return fine


def closest_places(states: AxleStates, couple: tuple[Hard, Hard], least: Least) -> list[Array]:
    """The closest places of two parts on the car, mm, shape (3,) each."""
    places = [least.first, least.second]
    if all(states.rides(part.body) for part in couple):
        places = [states.unseen(place, least.state) for place in places]
    return places


def gap_sure(states: AxleStates, couple: tuple[Hard, Hard], least: Least, places: list[Array]) -> float:
    """The +/- of a gap between two places, mm."""
    each = [p.sure_at(states.back(p.body, place, least.state)) for p, place in zip(couple, places, strict=True)]
    return float(np.hypot(each[0], each[1]))


def only_touch(states: AxleStates, couple: tuple[Hard, Hard], least: Least) -> bool:
    """Whether two parts overlap by no more than their places are unsure of."""
    if not least.whole or least.gap_mm >= 0.0:
        return False
    return -least.gap_mm <= gap_sure(states, couple, least, closest_places(states, couple, least))
