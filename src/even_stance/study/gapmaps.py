"""One pair of parts over all travel: its gap for both wheels, along a sweep, and cut at its closest point."""

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from even_stance.mechanics.cores import Core, rows, section
from even_stance.mechanics.distance import gaps
from even_stance.mechanics.vectors import Array, cross, norm
from even_stance.study.axlestates import AxleStates, posture_states
from even_stance.study.clearances import Gap
from even_stance.study.hard import Hard
from even_stance.vehicle.car import Axle, Vehicle

MAP_STEPS, SWEEP_STEPS = 13, 41
_SPHERE = 12


def pair_gaps(vehicle: Vehicle, axle: Axle, a: Hard, b: Hard, postures: Array) -> tuple[Array, NDArray[np.bool_]]:
    """The gap of two parts at postures.

    Args:
        vehicle: the vehicle; axle: the axle that is moved; a, b: the parts.
        postures: left and right travel, mm, and steer input, shape (n, 3)

    Returns:
        Gaps, mm, shape (n,), nan where the links do not reach; and which postures stops and straps allow, shape (n,)
    """
    states = posture_states(vehicle, axle, postures)
    least = np.full(len(postures), np.inf)
    for one in a.clear_of(b):
        for two in b.clear_of(a):
            least = np.minimum(least, _along(states, (one, a.body), (two, b.body)))
    return np.where(states.reached, least, np.nan), states.allowed


def _along(states: AxleStates, one: tuple[Core, str], two: tuple[Core, str]) -> Array:
    """The gap of two pieces at every travel of some states."""
    count = len(states.travel)
    placed = []
    for core, body in (one, two):
        shape = states.shape(core, body)
        own = [shape.at((k, 0)) for k in range(count)]
        placed.append(rows([core] * count, [p for p, _ in own], [x for _, x in own]))
    found: Array = gaps(placed[0], placed[1], [(one[0], two[0])] * count).gap
    return found


@dataclass(frozen=True, eq=False)
class GapMap:
    """A pair's gap over the travel of both wheels at one steer input.

    Attributes:
        travel: of either wheel, mm, shape (n,); gap: left along the first axis, mm, shape (n, n), nan where the links
            do not reach; allowed: whether stops and straps let it come there, shape (n, n)
    """

    travel: Array
    gap: Array
    allowed: NDArray[np.bool_]


def gap_map(vehicle: Vehicle, gap: Gap, steps: int = MAP_STEPS) -> GapMap:
    """A pair's gap over left and right travel, steered as where it is tightest.

    Args:
        vehicle: the vehicle; gap: the pair; steps: how many travels of either wheel.
    """
    axle = vehicle.axle(gap.axle)
    each = np.linspace(-axle.droop_mm, axle.bump_mm, steps)
    grid = np.stack(np.meshgrid(each, each, indexing="ij"), axis=-1).reshape(-1, 2)
    postures = np.column_stack((grid, np.full(len(grid), gap.steer)))
    found, allowed = pair_gaps(vehicle, axle, gap.a, gap.b, postures)
    return GapMap(each, found.reshape(steps, steps), allowed.reshape(steps, steps))


def gap_sweeps(vehicle: Vehicle, gap: Gap) -> tuple[Array, dict[str, Array]]:
    """A pair's gap along travel, steered as where it is tightest: both wheels, crossed up, left and right wheel alone.

    Returns:
        Travel, mm, shape (n,), and the gap along each way, mm, shape (n,)
    """
    axle = vehicle.axle(gap.axle)
    most = max(axle.bump_mm, axle.droop_mm)
    travel = np.linspace(-most, most, SWEEP_STEPS)
    ways = {"both wheels": (1.0, 1.0), "crossed up": (1.0, -1.0), "left wheel": (1.0, 0.0), "right wheel": (0.0, 1.0)}
    every = np.concatenate([travel[:, None] * np.array(w) for w in ways.values()])
    inside = ((every >= -axle.droop_mm - 1e-6) & (every <= axle.bump_mm + 1e-6)).all(axis=1)
    postures = np.column_stack((np.clip(every, -axle.droop_mm, axle.bump_mm), np.full(len(every), gap.steer)))
    found, _ = pair_gaps(vehicle, axle, gap.a, gap.b, postures)
    found = np.where(inside, found, np.nan).reshape(len(ways), -1)
    return travel, dict(zip(ways, found, strict=True))


@dataclass(frozen=True, eq=False)
class Cut:
    """Two parts cut through by a plane at their closest places.

    Attributes:
        first, second: outlines of what is cut of either, mm in the plane, shape (k, 2) each; the second's closest place
            is at the origin and the first's above it (below, where they overlap).
        gap_mm: how far apart they are; wanted_mm: what is wanted.
    """

    first: tuple[Array, ...]
    second: tuple[Array, ...]
    gap_mm: float
    wanted_mm: float


def cut_at(vehicle: Vehicle, gap: Gap, wanted_mm: float) -> Cut:
    """Cut two parts at the posture where they are closest, along the gap and square to the longer of them.

    Args:
        vehicle: the vehicle; gap: the pair; wanted_mm: what is wanted of it.
    """
    axle = vehicle.axle(gap.axle)
    states = posture_states(vehicle, axle, np.array([(gap.left_mm, gap.right_mm, gap.steer)]))
    up = gap.first - gap.second
    size = float(norm(up))
    up = np.array([0.0, 0.0, 1.0]) if size < 1e-6 else up / size * np.sign(gap.gap_mm or 1.0)
    along = _longest(states, gap)
    along = along - (along @ up) * up
    if norm(along) < 1e-3:
        along = cross(up, np.array([1.0, 0.0, 0.0]) if abs(up[0]) < 0.9 else np.array([0.0, 1.0, 0.0]))
    along = along / norm(along)
    across = cross(up, along)
    sides = [
        tuple(
            ring for core in part.cores
            if (ring := _section(states, core, part.body, gap.second, along, np.stack((across, up)))) is not None
        )
        for part in (gap.a, gap.b)
    ]  # fmt: skip
    return Cut(sides[0], sides[1], gap.gap_mm, wanted_mm)


def _longest(states: AxleStates, gap: Gap) -> Array:
    """The direction of the longest straight piece of either part, where it is."""
    best, way = 0.0, np.array([1.0, 0.0, 0.0])
    for part in (gap.a, gap.b):
        for core in part.cores:
            points, _ = states.shape(core, part.body).at((0, 0))
            run = points[-1] - points[0]
            if len(points) == 2 and norm(run) > best:
                best, way = float(norm(run)), run / norm(run)
    return way


def _section(states: AxleStates, core: Core, body: str, at: Array, normal: Array, axes: Array) -> Array | None:
    """The outline of a convex piece cut by a plane, in the plane; None where it misses."""
    points, axis = states.shape(core, body).at((0, 0))
    return section(replace(core, points=points, axis=axis), at, normal, axes)


def along_gap(gap: Gap) -> Array:
    """The way the first part lies from the second at the closest place, 1, shape (3,)."""
    off = gap.first - gap.second
    size = float(norm(off))
    if size < 1e-6:
        return np.array([0.0, 0.0, 1.0])
    way: Array = off / size * (1.0 if gap.gap_mm >= 0.0 else -1.0)
    return way


def toward(gap: Gap, name: str) -> Array:
    """The way a part would have to be moved for the gap to grow fastest, 1, shape (3,)."""
    way = along_gap(gap)
    return way if gap.a.name == name else -way
