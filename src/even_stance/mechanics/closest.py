"""The state at which two shapes come closest, out of a whole grid of states, without measuring at all of them.

A separation along one direction is a bound from below at every state, and nearly exact at the states around the one it
was taken at. So the gap is measured where the bounds are least, its direction bounds all states anew, and so on until
no state is left that could be closer: the answer is that of measuring everywhere.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from even_stance.mechanics.cores import Core, rows
from even_stance.mechanics.distance import gaps, separation
from even_stance.mechanics.vectors import Array
from even_stance.pace import give_way

EXACT_MM = 0.02
_MOST_ROUNDS = 120
Taken = tuple[float, Array, Array, Array]  # gap, direction, and the closest place of either


@dataclass(frozen=True, eq=False)
class Moving:
    """A shape over a grid of states; an axis of the grid that does not move it has one entry.

    Attributes:
        core: the shape; points: its corners, mm, shape (k, *grid, 3); axis: of its disc, 1, shape (*grid, 3)
    """

    core: Core
    points: Array
    axis: Array

    @property
    def grid(self) -> tuple[int, ...]:
        """How many states along each axis of the grid."""
        return self.points.shape[1:-1]

    def at(self, state: tuple[int, ...]) -> tuple[Array, Array]:
        """Corners and axis at one state of the whole grid."""
        give_way()
        own = tuple(i if n > 1 else 0 for i, n in zip(state, self.grid, strict=True))
        every: tuple[slice | int, ...] = (slice(None), *own)
        return self.points[every], self.axis[own]

    def swept(self) -> tuple[Array, Array]:
        """The box it stays in at all states: low and high corner, mm, shape (3,) each."""
        give_way()
        wide = self.core.ball_mm + self.core.disc_mm
        every = self.points.reshape(-1, 3)
        return every.min(axis=0) - wide, every.max(axis=0) + wide

    def width(self, way: Array) -> Array:
        """What its disc and ball reach along a direction, mm, shape (*grid)."""
        if not self.core.disc_mm:
            return np.asarray(self.core.ball_mm)
        across = np.sqrt(np.maximum(1.0 - (self.axis @ way) ** 2, 0.0))
        reach: Array = self.core.ball_mm + self.core.disc_mm * across
        return reach


def boxes_apart(low: Array, high: Array) -> Array:
    """How far apart boxes along the axes are, each from each.

    Args:
        low: their lowest corners, mm, shape (n, 3)
        high: their highest corners, mm, shape (n, 3)

    Returns:
        mm, shape (n, n); nil where they overlap.

    Source: derived here.
    """
    off = np.maximum(low[:, None] - high[None], low[None] - high[:, None])
    apart: Array = np.sqrt((np.maximum(off, 0.0) ** 2).sum(axis=-1))
    return apart


@dataclass(frozen=True, eq=False)
class Least:
    """Where a group of pairs comes closest.

    Attributes:
        gap_mm: the least gap; state: where in the grid; pair: which of the pairs it is; way: the direction of the gap,
            from the second to the first, 1, shape (3,); first, second: the closest places, mm, shape (3,)
        whole: False where it was given up beyond the cutoff: the gap is then larger than that, not less.
    """

    gap_mm: float
    state: tuple[int, ...]
    pair: int
    way: Array
    first: Array
    second: Array
    whole: bool = True


class Closest:
    """The search over one grid of states, for groups of pairs of shapes, the tightest of each group.

    Args:
        shapes: all shapes; pairs: which are looked at, indices; group: which group each pair belongs to.
        grid: how many states along each axis.
        cutoff: groups that stay farther apart than this are given up, mm; exact: how near the least has to be, mm.
    """

    def __init__(
        self,
        shapes: Sequence[Moving],
        pairs: Sequence[tuple[int, int]],
        group: Sequence[int],
        grid: tuple[int, ...],
        cutoff: float,
        exact: float = EXACT_MM,
    ) -> None:
        self._exact = exact
        self._shapes, self._pairs, self._grid, self._cutoff = shapes, pairs, grid, cutoff
        self._group = np.asarray(group)
        self._bounds: list[Array] = [np.full(_grid_of(shapes[a], shapes[b]), -np.inf) for a, b in pairs]
        self._taken: list[dict[tuple[int, ...], Taken]] = [{} for _ in pairs]
        self._left: set[int] = set()
        self.measured = 0

    def measure(self, jobs: Sequence[tuple[int, tuple[int, ...]]]) -> None:
        """Measure pairs at states, and let the directions found bound all other states."""
        if not jobs:
            return
        firsts = [self._shapes[self._pairs[p][0]] for p, _ in jobs]
        seconds = [self._shapes[self._pairs[p][1]] for p, _ in jobs]
        at_first = [shape.at(state) for shape, (_, state) in zip(firsts, jobs, strict=True)]
        at_second = [shape.at(state) for shape, (_, state) in zip(seconds, jobs, strict=True)]
        one = rows([s.core for s in firsts], [p for p, _ in at_first], [x for _, x in at_first])
        two = rows([s.core for s in seconds], [p for p, _ in at_second], [x for _, x in at_second])
        found = gaps(one, two, [(a.core, b.core) for a, b in zip(firsts, seconds, strict=True)])
        self.measured += len(jobs)
        for i, (p, state) in enumerate(jobs):
            give_way()
            a, b, way = firsts[i], seconds[i], found.way[i]
            bound = self._bounds[p]
            own = _own(state, bound.shape)
            low = separation(a.points, b.points, a.width(way) + b.width(way), way)
            np.maximum(bound, low, out=bound)
            self._taken[p][own] = (float(found.gap[i]), way, found.first[i], found.second[i])
            bound[own] = found.gap[i]

    def leave(self, groups: set[int]) -> None:
        """Look at some groups no more."""
        self._left |= groups

    def run(
        self,
        allowed: NDArray[np.bool_],
        progress: Callable[[float], object] = lambda _: None,
        stopped: Callable[[], bool] = lambda: False,
    ) -> dict[int, Least]:
        """The tightest of every group over the states allowed.

        Args:
            allowed: which states count, 1, shape (*grid), or with one entry along axes it says nothing of.
            progress: told how far it is, 0 to 1; stopped: asked whether to end with what there is.

        Source: derived here; outer linearization with the lowest bound first (branch and bound).
        """
        groups = np.unique(self._group)
        best: dict[int, Least] = {}
        active = [p for p in range(len(self._pairs)) if int(self._group[p]) not in self._left]
        masks = {p: _mask(allowed, self._bounds[p].shape) for p in active}
        for p in active:
            for own, taken in self._taken[p].items():
                if masks[p][own]:
                    self._better(best, p, own, taken)
        for _ in range(_MOST_ROUNDS):
            jobs, left = [], []
            for p in active:
                give_way()
                bound = np.where(masks[p], self._bounds[p], np.inf)
                k = int(bound.argmin())
                low = float(bound.flat[k])
                known = best.get(int(self._group[p]))
                if low >= min(self._cutoff, np.inf if known is None else known.gap_mm - self._exact):
                    if known is None and np.isfinite(low):
                        at = np.unravel_index(k, bound.shape)
                        none = np.zeros(3)
                        best[int(self._group[p])] = Least(low, _plain(at), p, none, none, none, whole=False)
                    continue
                left.append(p)
                jobs.append((p, _plain(np.unravel_index(k, bound.shape))))
            active = left
            if not jobs or stopped():
                break
            self.measure(jobs)
            for p, state in jobs:
                self._better(best, p, state, self._taken[p][state])
            progress(1.0 - len({int(self._group[p]) for p in active}) / max(len(groups), 1))
        return best

    def _better(self, best: dict[int, Least], p: int, state: tuple[int, ...], taken: Taken) -> None:
        gap, way, first, second = taken
        known = best.get(int(self._group[p]))
        if known is None or not known.whole or gap < known.gap_mm:
            best[int(self._group[p])] = Least(gap, state, p, way, first, second)


def _grid_of(a: Moving, b: Moving) -> tuple[int, ...]:
    give_way()
    return np.broadcast_shapes(a.grid, b.grid)


def _own(state: tuple[int, ...], shape: tuple[int, ...]) -> tuple[int, ...]:
    return tuple(i if n > 1 else 0 for i, n in zip(state, shape, strict=True))


def _plain(at: tuple[np.intp, ...]) -> tuple[int, ...]:
    return tuple(int(i) for i in at)


def _mask(allowed: NDArray[np.bool_], shape: tuple[int, ...]) -> NDArray[np.bool_]:
    """What is allowed, over the axes a pair moves with: a state counts if any one of those it stands for does."""
    over = tuple(i for i, n in enumerate(shape) if n == 1)
    some = allowed.any(axis=over, keepdims=True)
    return np.broadcast_to(some, shape)
