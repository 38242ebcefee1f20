"""Where each axle is drawn: at the posture looked at, with its wheels, mounts and holes as they then are."""

from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np

from even_stance.errors import StanceError
from even_stance.mechanics.linkage import placed
from even_stance.mechanics.vectors import Array
from even_stance.study.answers import Answers
from even_stance.study.beams import beams_of
from even_stance.study.drawing import (
    Xyz,
)
from even_stance.study.figures import AxleStudy, study_axle
from even_stance.study.model import wheel_centers
from even_stance.study.powertrain import seated
from even_stance.study.state import (
    CarState,
    axle_state,
    knuckle_body,
    steer_home,
)
from even_stance.vehicle.car import Axle, Vehicle


@dataclass(frozen=True, eq=False)
class AxlePlace:
    """Where one axle is drawn: its study if its links hold it, its travel on swing beams, else standing at ride height.

    Equal only to itself.
    """

    axle: Axle
    study: AxleStudy | None
    steer: float = 0.0
    travel: tuple[float, float] = (0.0, 0.0)

    @cached_property
    def _now(self) -> Answers | None:
        return self.study.now if self.study is not None and self.study.now.ok[0] else None

    def at(self, points: Array) -> Array:
        """Axle-fixed points (given at ride height, mm, (m, 3)) at the posture drawn."""
        return points if self._now is None else moved(self._now, 0, points)

    @cached_property
    def wheels(self) -> tuple[Xyz, Xyz]:
        """Left and right wheel center."""
        centers = wheel_centers(self.axle)
        if beams_of(self.axle) is not None:
            left, right = (
                self.state.place(knuckle_body(self.axle.key, side), centers[i : i + 1])[0, 0]
                for i, side in enumerate(("left", "right"))
            )
        else:
            left, right = self.at(centers)
        return xyz(left), xyz(right)

    @cached_property
    def center(self) -> Xyz:
        """The axle center."""
        return xyz(self.at(np.array([self.axle.center]))[0])

    @cached_property
    def ghosts(self) -> list[Xyz]:
        """The left wheel center where full droop and full bump take it, as far as the linkage goes."""
        if self.study is None:
            return []
        sweep = self.study.travel.sweep
        reachable = np.flatnonzero(sweep.ok)
        ends = (reachable[0], reachable[-1]) if reachable.size else ()
        return [xyz(moved(sweep, int(i), wheel_centers(self.axle)[:1])[0]) for i in ends]

    @cached_property
    def state(self) -> CarState:
        """Where everything of the axle is, one posture."""
        return axle_state(self.axle, self._now, 1, steer=np.array([self.steer]), travel=np.array([self.travel]))

    @cached_property
    def mounts(self) -> dict[tuple[str, str], Xyz]:
        """Every point of the axle, by member and end."""
        return {(spot.member, spot.end): xyz(at[0]) for spot, at in self.state.points.items()}

    @property
    def is_ride(self) -> bool:
        """Whether it stands at ride height."""
        if self._now is None:
            return not any(self.travel)
        return not (self._now.left[0] or self._now.right[0])

    @cached_property
    def holes(self) -> dict[tuple[str, str, int], Xyz]:
        """The free holes of every bracket, by member, end and number."""
        free = [
            (m.name, end, i, hole.xyz)
            for m in self.axle.parts
            for end, mount in m.mounts.items()
            for i, hole in enumerate(mount.holes)
            if i != mount.hole
        ]
        now = self._carried([(name, end, at) for name, end, _, at in free])
        found = {(name, end, i): at for (name, end, i, _), at in zip(free, now, strict=True)}
        for arm in () if self.axle.steering is None else self.axle.steering.arm_holes:
            body = steer_home(self.axle, arm.end)
            places = self.state.place(body, np.array([h.xyz for h in arm.at]))[0]
            found |= {("", arm.end, i): xyz(at) for i, at in enumerate(places) if i != arm.hole}
        return found

    def _carried(self, points: list[tuple[str, str, Xyz]]) -> list[Xyz]:
        """Points of members' ends; those on the axle have gone along with it."""
        bodies = {(m.name, end): m.body(end) for m in self.axle.parts for end in m.mounts}
        now = self.at(np.array([at for _, _, at in points]).reshape(-1, 3))
        return [
            xyz(moved) if bodies[name, end] == "axle" else at
            for (name, end, at), moved in zip(points, now, strict=True)
        ]


@lru_cache(maxsize=4)
def place_of(study: AxleStudy) -> AxlePlace:
    """Where a studied axle is drawn, its output where the powertrain now holds it: the same one for every view."""
    return AxlePlace(study.seated, study)


def study_places(vehicle: Vehicle) -> list[AxlePlace]:
    """Every axle at ride height, with its study where its links hold it."""
    places = []
    for axle in vehicle.axles:
        try:
            study = study_axle(vehicle, axle, 0.0, 0.0, {}) if axle.members else None
        except StanceError:
            study = None
        places.append(AxlePlace(seated(vehicle, axle), study))
    return places


def xyz(values: Array) -> Xyz:
    """A point as three plain numbers."""
    return (float(values[0]), float(values[1]), float(values[2]))


def moved(answers: Answers, i: int, points: Array) -> Array:
    """Axle-fixed points (given at ride height, mm, (m, 3)) at one of the postures studied."""
    result: Array = placed(answers.linkage, answers.pose.part(slice(i, i + 1)), points)[0]
    return result
