"""An axle run through its whole travel: both wheels together, and crossed up."""

from dataclasses import dataclass
from typing import Literal

import numpy as np

from even_stance.mechanics.vectors import Array
from even_stance.study.answers import Answers, study_postures
from even_stance.study.carried import carried, carrier_of
from even_stance.study.model import swing_limits
from even_stance.vehicle.car import Axle, Vehicle

SWEEP_POSTURES = 61
_CROSS = 7


@dataclass(frozen=True, eq=False)
class Travel:
    """The answers from full droop to full bump, and over a coarse grid of left against right travel.

    Attributes:
        sweep, cross: those runs; walk: where another axle carries its output, this axle up and down against that one.
    """

    sweep: Answers
    cross: Answers
    walk: Answers | None = None

    @property
    def even_runs(self) -> tuple[Answers, ...]:
        """The runs with both wheels alike: those in which a joint bends most."""
        return (self.sweep,) if self.walk is None else (self.sweep, self.walk)

    @property
    def runs(self) -> tuple[Answers, ...]:
        """All of them: where a shaft slips most."""
        return (*self.even_runs, self.cross)

    @property
    def free_bump_mm(self) -> float:
        """How far both wheels rise before the linkage locks up, mm (the whole bump travel when it does not)."""
        return self._free(1.0)

    @property
    def free_droop_mm(self) -> float:
        """How far both wheels drop before the linkage locks up, mm, positive."""
        return self._free(-1.0)

    def _free(self, way: float) -> float:
        """How far the axle goes one way before it locks up, mm."""
        asked = self.sweep.left * way
        reached = asked * self.sweep.pose.reached
        stuck = (asked > 0) & ~self.sweep.ok
        return float(reached[stuck].min() if stuck.any() else asked.max())


def travel_grid(axle: Axle) -> tuple[Array, Array]:
    """Travel of both wheels together, then left against right over the corners, mm."""
    sweep = np.linspace(-axle.droop_mm, axle.bump_mm, SWEEP_POSTURES)
    # Ride height is always one of the postures, so that charts pass through what the vials show.
    if axle.droop_mm > 0 and axle.bump_mm > 0:
        sweep[np.abs(sweep).argmin()] = 0.0
    # And of the wheels alone: one that goes up or down while the other stands is a posture as well.
    side = np.union1d(np.linspace(-axle.droop_mm, axle.bump_mm, _CROSS), 0.0)
    left, right = (g.ravel() for g in np.meshgrid(side, side, indexing="ij"))
    return np.concatenate((sweep, left)), np.concatenate((sweep, right))


def study_travel(
    vehicle: Vehicle, axle: Axle, left: float = 0.0, right: float = 0.0, other: tuple[float, float] = (0.0, 0.0)
) -> tuple[Answers, Travel]:
    """One posture, the sweep from full droop to full bump, and crossed up, all in one batch.

    Args:
        vehicle: the vehicle; axle: the axle.
        left, right: the one posture; other: where the wheels of the axle that carries its output are then, mm.

    Raises:
        LayoutError: the members do not hold the axle.
    """
    lefts, rights = travel_grid(axle)
    carrier = carrier_of(vehicle, axle)
    if carrier is None:
        every = study_postures(vehicle, axle, np.append(lefts, left), np.append(rights, right))
        last = len(lefts)
        travel = Travel(take(every, slice(0, SWEEP_POSTURES)), take(every, slice(SWEEP_POSTURES, last)))
        return take(every, slice(last, None)), travel
    mine, theirs = (
        g.ravel() for g in np.meshgrid(*(np.linspace(-a.droop_mm, a.bump_mm, _CROSS) for a in (axle, carrier)))
    )  # fmt: skip
    still, last = np.zeros(len(lefts)), len(lefts) + len(mine)
    gone = carried(vehicle, axle, *(np.concatenate((still, theirs, [mm])) for mm in other))
    every = study_postures(
        vehicle, axle, np.concatenate((lefts, mine, [left])), np.concatenate((rights, mine, [right])), gone=gone
    )
    runs = (slice(0, SWEEP_POSTURES), slice(SWEEP_POSTURES, len(lefts)), slice(len(lefts), last))
    travel = Travel(*(take(every, run) for run in runs))
    return take(every, slice(last, None)), travel


SweepKind = Literal["bump", "roll", "left", "right", "cross"]
SWEEPS: dict[SweepKind, str] = {
    "bump": "both wheels together",
    "roll": "one up, one down alike",
    "left": "left wheel alone",
    "right": "right wheel alone",
    "cross": "full cross-up, left to right",
}


def sweep_postures(axle: Axle, kind: SweepKind) -> tuple[Array, Array]:
    """Left and right travel of every posture of a sweep, mm, ride height among them."""
    if kind == "cross":
        share = np.linspace(0.0, 1.0, SWEEP_POSTURES)
        left = -axle.droop_mm + share * (axle.bump_mm + axle.droop_mm)
        return left, axle.bump_mm - share * (axle.bump_mm + axle.droop_mm)
    reach = min(axle.bump_mm, axle.droop_mm)
    low, high = (reach, reach) if kind == "roll" else (axle.droop_mm, axle.bump_mm)
    travel = np.linspace(-low, high, SWEEP_POSTURES)
    if low > 0 and high > 0:
        travel[np.abs(travel).argmin()] = 0.0
    still = np.zeros(SWEEP_POSTURES)
    return {
        "bump": (travel, travel), "roll": (travel, -travel), "left": (travel, still), "right": (still, travel),
    }[kind]  # fmt: skip


def study_sweep(vehicle: Vehicle, axle: Axle, kind: SweepKind) -> Answers:
    """All answers along a sweep.

    Raises:
        LayoutError: the members do not hold the axle.
    """
    return study_postures(vehicle, axle, *sweep_postures(axle, kind))


def take(answers: Answers, part: slice) -> Answers:
    """The answers at some of the postures."""
    twists = answers.twists
    return Answers(
        answers.axle,
        answers.layout,
        answers.linkage,
        answers.left[part],
        answers.right[part],
        answers.pose.part(part),
        type(twists)(twists.heave[part], twists.roll[part], twists.left[part]),
        {k: v[part] for k, v in answers.values.items()},
        answers.chassis_ends[part],
        answers.rod_ends[part],
        answers.misalignment_deg[part],
        answers.needed_misalignment_deg[part],
        None if answers.gone is None else (answers.gone[0][part], answers.gone[1][part]),
    )


def worst_swing(answers: Answers) -> tuple[float, int, int, int]:
    """The joint nearest its limit: degrees needed, posture, rod and end (0 frame, 1 axle).

    The degrees are nan where nothing is reachable.
    """
    limits = np.maximum(swing_limits(answers.layout), 0.1)
    use = np.nan_to_num(answers.needed_misalignment_deg, nan=-1.0) / limits
    if not use.size:
        return float("nan"), 0, 0, 0
    posture, rod, end = np.unravel_index(int(use.argmax()), use.shape)
    value = float(answers.needed_misalignment_deg[posture, rod, end])
    return value, int(posture), int(rod), int(end)
