"""Where an axle is: its place and turn, and how far the linkage could go to get there."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from even_stance.mechanics.vectors import Array

Mask = NDArray[np.bool_]


@dataclass(frozen=True)
class Pose:
    """Where the axle is, for each posture.

    Attributes:
        center: axle center, mm, shape (N, 3)
        rotation: axle axes from ride height to now, 1, shape (N, 3, 3)
        crank: turn of each crank from ride height, rad, shape (N, k)
        reached: share of the way from ride height that could be gone, 1 when all of it, 1, shape (N,)
        residual_mm: largest closure error left (of hard rows), mm, shape (N,)
        misfit_mm: what each rod (longer +) and guide had to give, mm, shape (N, n + g)
        rows: the constraint rows at this pose where a solution left them behind, 1 and mm, shape
            (N, n + g + 2, 6 + k); None on the way there.
    """

    center: Array
    rotation: Array
    crank: Array
    reached: Array
    residual_mm: Array
    misfit_mm: Array
    rows: Array | None = None

    @property
    def ok(self) -> Mask:
        """Which postures were reached."""
        return self.reached >= 1.0

    def part(self, which: slice | NDArray[np.intp] | Mask) -> "Pose":
        """The pose at some of the postures."""
        return Pose(
            self.center[which], self.rotation[which], self.crank[which], self.reached[which], self.residual_mm[which],
            self.misfit_mm[which], None if self.rows is None else self.rows[which],
        )  # fmt: skip

    @classmethod
    def stacked(cls, poses: "list[Pose]") -> "Pose":
        """Several poses as one, one after the other."""
        names = ("center", "rotation", "crank", "reached", "residual_mm", "misfit_mm")
        return cls(*(np.concatenate([getattr(p, name) for p in poses]) for name in names))
