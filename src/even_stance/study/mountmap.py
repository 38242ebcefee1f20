"""What moving a spring's mounts in and out does: motion ratio and roll stiffness over both places, as a map."""

from dataclasses import dataclass

import numpy as np

from even_stance.mechanics.leaning import roll_stiffness
from even_stance.mechanics.secondorder import wheel_rates
from even_stance.mechanics.vectors import Array
from even_stance.study.ride import axle_ride
from even_stance.study.springs import ride_answers, run_of
from even_stance.study.springunits import unit_of
from even_stance.vehicle.car import Axle, Vehicle
from even_stance.vehicle.members import Rod
from even_stance.vehicle.springs import Hung


@dataclass(frozen=True, eq=False)
class MountMap:
    """A map over how far out the lower and the upper mount stand, both sides alike.

    Attributes:
        lower_mm, upper_mm: out from the centerline, mm, shape (n,) each.
        ratio: motion ratio in heave, 1, shape (n, n), by upper, then lower; stiffness: the axle's roll stiffness, N mm
            per rad, likewise.
    """

    lower_mm: Array
    upper_mm: Array
    ratio: Array
    stiffness: Array

    def at(self, lower: float, upper: float) -> tuple[float, float]:
        """Motion ratio and roll stiffness, N mm per rad, at a pair of places, mm out; straight between those known."""
        i = float(np.interp(upper, self.upper_mm, np.arange(len(self.upper_mm))))
        j = float(np.interp(lower, self.lower_mm, np.arange(len(self.lower_mm))))
        row, column = int(min(i, len(self.upper_mm) - 2)), int(min(j, len(self.lower_mm) - 2))
        up, across = i - row, j - column

        def between(values: Array) -> float:
            (a, b), (c, d) = values[row : row + 2, column : column + 2]
            return float((1 - up) * ((1 - across) * a + across * b) + up * ((1 - across) * c + across * d))

        return between(self.ratio), between(self.stiffness)


def mount_map(vehicle: Vehicle, axle: Axle, names: tuple[str, ...], reach_mm: float = 150.0, n: int = 13) -> (
    MountMap | None
):  # fmt: skip
    """The map of a spring and its twin; None where the axle is not held or the spring has not two ends.

    Args:
        vehicle: the vehicle; axle: the axle; names: the spring, and the one on the other side.
        reach_mm: how far to either side of where they are; n: how many places each way.
    """
    at, ride = ride_answers(axle), axle_ride(vehicle, axle)
    parts = [p for p in axle.springs if p.name in names and isinstance(p, Hung)]
    if at is None or ride is None or not parts:
        return None
    first = parts[0]
    assert isinstance(first, Hung)
    off = np.linspace(-reach_mm, reach_mm, n)
    upper, lower = (g.ravel()[:, None] for g in np.meshgrid(off, off, indexing="ij"))
    rates = wheel_rates(at.linkage, at.pose, at.twists, at.left, at.right)
    rods = {m.name: m for m in axle.members if isinstance(m, Rod)}
    whole, ratio = ride.rates, np.zeros(n * n)
    for part in parts:
        assert isinstance(part, Hung)
        side = 1.0 if part.bottom.at.y >= 0.0 else -1.0
        ends = {}
        for end, moved in (("top", upper), ("bottom", lower)):
            place = np.tile(np.array(part.mounts[end].at.xyz), (n * n, 1, 1))
            place[..., 1] += side * moved
            ends[end] = place
        run = run_of(unit_of(part, rods, ends), at, rates)
        own = ride.springs.run(part.name)
        assert own is not None
        whole = whole + run.rates[:, 0] - own.rates[0]
        ratio = ratio + run.motion_ratio[:, 0] / len(parts)
    stiff = roll_stiffness(whole, axle.track_mm)
    return MountMap(abs(first.bottom.at.y) + off, abs(first.top.at.y) + off, ratio.reshape(n, n), stiff.reshape(n, n))
