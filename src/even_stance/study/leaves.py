"""Leaf springs over travel: how the shackle swings, how the main leaf arches, and whether the shackle may go over."""

from dataclasses import dataclass

import numpy as np

from even_stance.errors import StanceError
from even_stance.mechanics.leaf import main_leaf_eye
from even_stance.mechanics.vectors import Array
from even_stance.study.answers import study_postures
from even_stance.study.state import mount_places
from even_stance.vehicle.car import Axle, Vehicle
from even_stance.vehicle.members import Leaf

_STEPS = 25
OVER_DEG = 15.0  # a shackle that comes this near to the line of its spring may go over (common practice, no source)
_SIDE = [0, 2]


@dataclass(frozen=True, eq=False)
class LeafTravel:
    """One leaf over travel, both wheels together, cycled as its main leaf alone would be.

    Attributes:
        leaf: which; travel: mm, shape (n,)
        shackle_deg: the shackle against an upright line, + its lower end rearward, shape (n,)
        arch_mm: how far the seat is below the line through both eyes, mm, shape (n,)
        open_deg: between shackle and the line from its eye to the seat: at nil or 180 it goes over, shape (n,)
    """

    leaf: Leaf
    travel: Array
    shackle_deg: Array
    arch_mm: Array
    open_deg: Array

    @property
    def reaches_to(self) -> float | None:
        """The travel nearest to ride height at which its shackle is at its end, mm; None where it never is."""
        near = np.minimum(self.open_deg, 180.0 - self.open_deg)
        ended = self.travel[np.isnan(near) | (near < OVER_DEG)]
        return float(ended[np.abs(ended).argmin()]) if ended.size else None

    @property
    def goes_over(self) -> bool:
        """Whether the shackle comes so near to the line of its spring that it may flip through, or cannot follow."""
        return self.reaches_to is not None


def leaves_over_travel(vehicle: Vehicle, axle: Axle) -> list[LeafTravel]:
    """Every leaf of an axle from full droop to full bump; none where nothing holds it."""
    leaves = [m for m in axle.members if isinstance(m, Leaf)]
    if not leaves:
        return []
    travel = np.linspace(-axle.droop_mm, axle.bump_mm, _STEPS)
    travel[np.abs(travel).argmin()] = 0.0
    try:
        answers = study_postures(vehicle, axle, travel, travel)
    except StanceError:
        return []
    places, names = mount_places(answers), [(p.member.name, p.end) for p in answers.layout.mounts]
    found = []
    for leaf in leaves:
        fixed, pivot = (np.array(m.at.xyz) for m in (leaf.fixed_eye, leaf.shackle))
        seat_now = places[:, names.index((leaf.name, "seat"))]
        seats, (free, seat) = seat_now[:, _SIDE], (np.array(m.at.xyz)[_SIDE] for m in (leaf.shackle_eye, leaf.seat))
        fixed, pivot = fixed[_SIDE], pivot[_SIDE]
        eye = main_leaf_eye(fixed, seat, free, pivot, seats)
        hang, chord, run = eye - pivot, eye - fixed, seats - eye
        along = chord / np.linalg.norm(chord, axis=1)[:, None]
        off = seats - fixed
        arch = np.abs(off[:, 0] * along[:, 1] - off[:, 1] * along[:, 0])
        sizes = np.linalg.norm(hang, axis=1) * np.linalg.norm(run, axis=1)
        between = np.degrees(np.arccos(np.clip((hang * run).sum(axis=1) / sizes, -1.0, 1.0)))
        lean = np.degrees(np.arctan2(-hang[:, 0], -hang[:, 1]))
        found.append(LeafTravel(leaf, travel, lean, arch, between))
    return found
