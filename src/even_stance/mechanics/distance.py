"""The gap between convex shapes, many pairs at once, exact to a few thousandths of a millimeter; negative: overlap.

The gap is the largest of all separations: of how far apart two shapes are along some direction. That holds whether they
are clear of each other or overlap, so any direction gives a bound from below (used in closest.py).
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from even_stance.mechanics.cores import Core, Placed
from even_stance.mechanics.vectors import Array, cross, dot, norm
from even_stance.pace import give_way

CLOSE_MM = 2e-3
_ROUNDS = 200
_TINY = 1e-9


@dataclass(frozen=True, eq=False)
class Gaps:
    """Gaps of n pairs.

    Attributes:
        gap: mm, shape (n,), negative where they overlap, by how much.
        way: unit vector from the second to the first along the gap, 1, shape (n, 3)
        first, second: the closest places on either surface, mm, shape (n, 3)
    """

    gap: Array
    way: Array
    first: Array
    second: Array


def gaps(first: Placed, second: Placed, cores: Sequence[tuple[Core, Core]] | None = None) -> Gaps:
    """The gap of each pair.

    Args:
        first: shapes where they are, mm, shape (n,)
        second: those they are held against, mm, shape (n,)
        cores: what they are (units mm), shape (n,), so that of those whose hulls overlap it is known how deep; the
            overlap counts as nil beyond their balls where this is not given.

    Returns:
        The gaps, mm.

    Source: Gilbert, Johnson and Keerthi, IEEE Journal of Robotics and Automation 4, 1988, for shapes apart. Depth: the
    least over directions of how far the difference of the two shapes reaches (Cameron and Culley 1986); directions of
    faces and of pairs of edges for flat ones (separating axes; Gottschalk, Lin and Manocha 1996), closed in on for
    round ones.
    """
    apart, way, near_first, near_second = _apart(first, second)
    if cores is not None:
        for i in np.flatnonzero(apart < 1e-4).tolist():
            apart[i], way[i] = _depth(first, second, i, *cores[i])
            near_first[i] = _deepest(first, i, -way[i])
            near_second[i] = near_first[i] - apart[i] * way[i]
    widened = first.ball + second.ball
    return Gaps(
        apart - widened, way, near_first - first.ball[:, None] * way, near_second + second.ball[:, None] * way
    )  # fmt: skip


def separation(points_a: Array, points_b: Array, widths: Array | float, way: Array) -> Array:
    """How far apart two shapes are along a direction: a bound from below of the gap between them.

    Args:
        points_a: corners of the one, mm, shape (ka, ..., 3)
        points_b: of the other, mm, shape (kb, ..., 3)
        widths: what discs and balls of both reach along it, mm, shape (...)
        way: unit vector from the second to the first, 1, shape (3,)

    Returns:
        mm, shape (...).

    Source: separating hyperplane theorem.
    """
    low: Array = (points_a @ way).min(axis=0) - (points_b @ way).max(axis=0) - widths
    return low


def _apart(first: Placed, second: Placed) -> tuple[Array, Array, Array, Array]:
    """Distance of the shapes without their balls, its direction, and the closest places of both."""
    n = len(first.points)
    v = first.points[:, 0] - second.points[:, 0]
    corners, on_first = np.zeros((n, 4, 3)), np.zeros((n, 4, 3))
    used = np.zeros((n, 4), dtype=bool)
    share = np.zeros((n, 4))
    lower = np.zeros(n)
    open_ = np.arange(n)
    begun = False
    for _ in range(_ROUNDS):
        give_way()
        a, b = first.some(open_), second.some(open_)
        at, size = v[open_], norm(v[open_])
        far_a = a.farthest(-at)
        w = far_a - b.farthest(at)
        lower[open_] = np.maximum(lower[open_], dot(at, w) / np.maximum(size, 1e-300))
        going: NDArray[np.bool_] = (size > 1e-5) & (size - lower[open_] > CLOSE_MM)
        if begun:
            # No corner farther than those there are: as near as it gets.
            known = used[open_] & np.asarray(norm(corners[open_] - w[:, None]) < _TINY)
            going = going & ~known.any(axis=1)
        else:
            # The way begun from was between corners of the hulls: the first round only finds a corner of the sum.
            going = np.ones(len(open_), dtype=bool)
        begun = True
        open_, w, far_a = open_[going], w[going], far_a[going]
        if not open_.size:
            break
        order = np.argsort(-np.where(used[open_], share[open_], -1.0), axis=1)[:, :3]
        keep = np.take_along_axis(used[open_], order, axis=1)
        old = np.take_along_axis(corners[open_], order[..., None], axis=1)
        old_first = np.take_along_axis(on_first[open_], order[..., None], axis=1)
        corners[open_] = np.concatenate((w[:, None], old), axis=1)
        on_first[open_] = np.concatenate((far_a[:, None], old_first), axis=1)
        used[open_] = np.concatenate((np.ones((len(open_), 1), dtype=bool), keep), axis=1)
        share[open_] = _nearest(corners[open_], used[open_])
        used[open_] &= share[open_] > 0.0
        nearer = np.einsum("nk,nkc->nc", share[open_], corners[open_])
        v[open_] = np.where(used[open_].all(axis=1, keepdims=True), 0.0, nearer)
    size = norm(v)
    # With no simplex begun there is nothing to weigh: both were single places.
    near = np.einsum("nk,nkc->nc", share, on_first)
    return size, v / np.maximum(size, 1e-300)[:, None], near, near - v


def _nearest(corners: Array, used: NDArray[np.bool_]) -> Array:
    """Shares of the corners of simplices in the place of each nearest to the origin; its newest corner is part of it.

    Args:
        corners: of each simplex, the newest first, mm, shape (n, 4, 3); used: which it has, 1, shape (n, 4)

    Returns:
        Shares, 1, shape (n, 4); all four above nil: the origin lies inside.

    Source: closest place of a simplex by its Gram matrix, over all sub-simplices with the newest corner (Johnson's
    sub-algorithm in Gilbert, Johnson and Keerthi 1988).
    """
    n = len(corners)
    edge = corners[:, 1:] - corners[:, :1]
    gram = np.einsum("nic,njc->nij", edge, edge)
    pull = -np.einsum("nic,nc->ni", edge, corners[:, 0])
    best = np.zeros((n, 4))
    best[:, 0] = 1.0
    least = np.einsum("nc,nc->n", corners[:, 0], corners[:, 0])
    own = least.copy()

    def offer(valid: NDArray[np.bool_], which: tuple[int, ...], parts: tuple[Array, ...], size: Array) -> None:
        rest = 1.0 - np.sum(parts, axis=0)
        better = valid & (rest > 0.0) & (size < least)
        for p in parts:
            better &= p > 0.0
        if not better.any():
            return
        least[better] = size[better]
        best[better] = 0.0
        best[better, 0] = rest[better]
        for k, p in zip(which, parts, strict=True):
            best[better, k + 1] = p[better]

    with np.errstate(divide="ignore", invalid="ignore", over="ignore"):
        for i in range(3):
            g = gram[:, i, i]
            s = pull[:, i] / g
            offer(used[:, i + 1] & (g > 1e-14), (i,), (s,), own - s * pull[:, i])
        for i, j in ((0, 1), (0, 2), (1, 2)):
            gii, gjj, gij = gram[:, i, i], gram[:, j, j], gram[:, i, j]
            det = gii * gjj - gij * gij
            s = (pull[:, i] * gjj - pull[:, j] * gij) / det
            t = (pull[:, j] * gii - pull[:, i] * gij) / det
            valid = used[:, i + 1] & used[:, j + 1] & (det > 1e-12 * gii * gjj)
            offer(valid, (i, j), (s, t), np.maximum(own - s * pull[:, i] - t * pull[:, j], 0.0))
        full = used.all(axis=1)
        if full.any():
            volume = dot(edge[:, 0], cross(edge[:, 1], edge[:, 2]))
            long = norm(edge).prod(axis=1)
            o = -corners[:, 0]
            s = dot(o, cross(edge[:, 1], edge[:, 2])) / volume
            t = dot(edge[:, 0], cross(o, edge[:, 2])) / volume
            u = dot(edge[:, 0], cross(edge[:, 1], o)) / volume
            offer(full & (np.abs(volume) > 1e-9 * long), (0, 1, 2), (s, t, u), np.full(n, -1.0))
    return best


def _reach(points: Array, axis: Array, disc: float, ways: Array) -> Array:
    """How far a shape reaches in each of some directions, mm, shape (m,)."""
    far: Array = (points @ ways.T).max(axis=0)
    if disc:
        far = far + disc * np.sqrt(np.maximum(1.0 - (ways @ axis) ** 2, 0.0))
    return far


def _deepest(placed: Placed, i: int, way: Array) -> Array:
    """The place of one shape that is farthest some way."""
    found: Array = placed.some(np.array([i])).farthest(way[None])[0]
    return found


def _depth(first: Placed, second: Placed, i: int, one: Core, two: Core) -> tuple[float, Array]:
    """Of two shapes that overlap: the gap, nil or negative, and the way to part them, 1, shape (3,)."""
    pa, pb = first.points[i], second.points[i]
    qa, qb = first.axis[i], second.axis[i]
    da, db = float(first.disc[i]), float(second.disc[i])
    faces_a, edges_a = _turned(one, pa, qa)
    faces_b, edges_b = _turned(two, pb, qb)
    crossed = cross(edges_a[:, None], edges_b[None]).reshape(-1, 3)
    apart = pa.mean(axis=0) - pb.mean(axis=0)
    round_ways = [apart - (apart @ q) * q for q, d in ((qa, da), (qb, db)) if d]
    loose = np.vstack([faces_a, faces_b, crossed, apart[None], *(r[None] for r in round_ways), np.eye(3)])
    size = norm(loose)
    ways = loose[size > 1e-9] / size[size > 1e-9][:, None]
    ways = np.vstack((ways, -ways))

    def overlap(ways: Array) -> Array:
        found: Array = _reach(pa, qa, da, -ways) + _reach(pb, qb, db, ways)
        return found

    deep = overlap(ways)
    if not (da or db):
        k = int(deep.argmin())
        return -float(deep[k]), ways[k]
    # Rounds touch along any direction: closed in on from the best few, each by a cone that narrows.
    starts = ways[np.argsort(deep)[:_STARTS]]
    least = np.sort(deep)[:_STARTS]
    for turn in _TURNS:
        tried = starts[:, None] + turn * _CONE
        tried /= norm(tried)[..., None]
        deep = overlap(tried.reshape(-1, 3)).reshape(tried.shape[:2])
        k = deep.argmin(axis=1)
        row = np.arange(len(starts))
        better = deep[row, k] < least
        starts = np.where(better[:, None], tried[row, k], starts)
        least = np.where(better, deep[row, k], least)
    k = int(least.argmin())
    return -float(least[k]), starts[k]


_CONE = np.array(
    [(a, b, c) for a in (-1, 0, 1) for b in (-1, 0, 1) for c in (-1, 0, 1) if (a, b, c) != (0, 0, 0)], float
)
_CONE /= norm(_CONE)[:, None]
_TURNS = np.geomspace(0.5, 2e-5, 30)
_STARTS = 8


def _turned(core: Core, points: Array, axis: Array) -> tuple[Array, Array]:
    """Normals of faces and directions of edges of a shape where it is now."""
    if len(core.points) < 3:
        run = points[-1] - points[0]
        return axis[None] if core.disc_mm else np.zeros((0, 3)), run[None] if norm(run) > 1e-9 else np.zeros((0, 3))
    # From corners at rest to corners now: the rotation is what best carries one set onto the other.
    rest = core.points - core.points.mean(axis=0)
    now = points[: len(core.points)] - points[: len(core.points)].mean(axis=0)
    turn = np.linalg.lstsq(rest, now, rcond=None)[0]
    if np.linalg.matrix_rank(rest, tol=1e-6) < 3:
        u, _, vt = np.linalg.svd(rest.T @ now)
        turn = u @ np.diag([1.0, 1.0, np.sign(np.linalg.det(u @ vt))]) @ vt
    return core.normals @ turn, core.edges @ turn
