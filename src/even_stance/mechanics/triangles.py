"""Triangles of scanned parts: how far some stand out beyond others, and fewer of them for the eye."""

from typing import Any

import numpy as np

from even_stance.mechanics.vectors import Array, dot

_FEW, _MANY, _DEEPEST, _SMALL_MM, _STREWN_MM, _AT_ONCE, _FIRST = 4, 30, 24, 4.0, 6.0, 100_000, 400


def nearest_of_triangle(points: Array, triangles: Array) -> Array:
    """Return how far points are from triangles, pair by pair.

    Args:
        points: mm, shape (n, 3)
        triangles: corners, mm, shape (n, 3, 3)

    Returns:
        Distances, mm, shape (n,).

    Source: C. Ericson, Real-time collision detection, section 5.1.5 (closest point on triangle to point), from memory.
    """
    a, b, c = triangles[:, 0], triangles[:, 1], triangles[:, 2]
    best = np.full(len(points), np.inf)
    for start, end in ((a, b), (b, c), (c, a)):
        way = end - start
        share = dot(points - start, way) / np.maximum(dot(way, way), 1e-300)
        off = points - start - np.clip(share, 0.0, 1.0)[:, None] * way
        best = np.minimum(best, dot(off, off))
    normal = np.cross(b - a, c - a)
    size = dot(normal, normal)
    flat = size > 1e-20
    inside = flat.copy()
    for start, end in ((a, b), (b, c), (c, a)):
        inside &= dot(np.cross(end - start, points - start), normal) >= 0.0
    away = dot(points - a, normal) ** 2 / np.where(flat, size, 1.0)
    return np.asarray(np.sqrt(np.where(inside, np.minimum(best, away), best)))


def farthest_from(triangles: Array, kept: Array, wanted: float) -> float:
    """Return how far some triangles stand out beyond others that stand for them, at most.

    They are cut until none is longer than a few millimeters. No place of one is farther from its middle than its
    longest reach r, and while the nearest of the others lies at an angle a to it, the distance grows from there by no
    more than r sin a.

    Args:
        triangles: the corners of those that are measured, mm, shape (n, 3, 3)
        kept: the corners of those that they are measured from, mm, shape (m, 3, 3)
        wanted: once they are seen to stand out farther, it is not looked on, mm, shape ()

    Returns:
        The distance, mm, shape (): that of the worst place, or of one that is farther than wanted.

    Source: derived here.
    """
    from scipy.spatial import cKDTree  # noqa: PLC0415 - heavy, and only for scans

    strewn, of = _cut_small(kept, _STREWN_MM)
    tree = cKDTree(strewn.mean(axis=1))
    ways = np.cross(kept[:, 1] - kept[:, 0], kept[:, 2] - kept[:, 0])
    ways /= np.maximum(np.linalg.norm(ways, axis=1), 1e-12)[:, None]
    worst, left = 0.0, triangles
    few = max(len(left) // _FIRST, 1)  # a few from everywhere first: what is too far off is seen on these
    rest = np.arange(len(left))[np.arange(len(left)) % few > 0]
    for some in (np.arange(0, len(left), few), *np.array_split(rest, len(rest) // _AT_ONCE + 1)):
        if not len(some):
            continue
        small, _ = _cut_small(left[some], _SMALL_MM)
        bound = _bound(small, kept, ways, (tree, of), _FEW)
        doubtful = bound > wanted
        if doubtful.any():  # the nearest of points strewn over triangles may lie on another than the best triangle
            bound[doubtful] = _bound(small[doubtful], kept, ways, (tree, of), _MANY)
        worst = max(worst, float(bound.max(initial=0.0)))
        if worst > wanted:
            break
    return worst


def _cut_small(triangles: Array, longest: float) -> tuple[Array, Any]:
    """Return triangles cut across their longest sides until none is longer than wanted, or there are too many.

    Args:
        triangles: corners, mm, shape (n, 3, 3); longest: mm.

    Returns:
        Corners of the pieces, mm, shape (k, 3, 3), and of which triangle each is, shape (k,).
    """
    of, done, done_of = np.arange(len(triangles)), [], []
    for _ in range(_DEEPEST):
        sides = np.linalg.norm(np.roll(triangles, -1, axis=1) - triangles, axis=2)
        long = sides.max(axis=1) > longest
        done.append(triangles[~long])
        done_of.append(of[~long])
        triangles, of = triangles[long], of[long]
        if not len(triangles) or len(triangles) > _AT_ONCE:
            break
        at = np.arange(len(triangles))
        first = sides[long].argmax(axis=1)
        a, b, c = (triangles[at, (first + k) % 3] for k in range(3))
        middle = 0.5 * (a + b)
        triangles = np.concatenate([np.stack((a, middle, c), axis=1), np.stack((middle, b, c), axis=1)])
        of = np.concatenate((of, of))
    return np.concatenate([*done, triangles]), np.concatenate([*done_of, of])


def _bound(small: Array, kept: Array, ways: Array, near_of: tuple[Any, Any], count: int) -> Array:
    """Return how far small triangles are at most from the best of those near their middles.

    Args:
        small: corners, mm, shape (n, 3, 3); kept: the others, mm, shape (m, 3, 3); ways: their normals, 1, shape (m, 3)
        near_of: a tree of points strewn over them, and which of them each lies on; count: how many are looked for.
    """
    tree, of = near_of
    middles = small.mean(axis=1)
    reach = np.linalg.norm(small - middles[:, None], axis=2).max(axis=1)
    normals = np.cross(small[:, 1] - small[:, 0], small[:, 2] - small[:, 0])
    size = np.linalg.norm(normals, axis=1)
    near = of[tree.query(middles, k=min(count, tree.n))[1].reshape(len(middles), -1)]
    best = np.full(len(middles), np.inf)
    for column in near.T:
        across = np.linalg.norm(np.cross(normals, ways[column]), axis=1)
        slope = np.where(size > 0.0, across / np.maximum(size, 1e-12), 1.0)
        best = np.minimum(best, nearest_of_triangle(middles, kept[column]) + reach * slope)
    return best


def fewer_for_the_eye(corners: Array, faces: Any, most: int) -> tuple[Array, Any]:
    """Return triangles merged on a grid until few enough are left: their look, not their exact place.

    Args:
        corners: mm, shape (n, 3)
        faces: the three corners of each triangle, indices (unit 1), shape (m, 3)
        most: how many are to be left, 1, shape ()

    Returns:
        Corners, mm, shape (k, 3); and triangles, indices (unit 1), shape (<= most, 3).

    Source: derived here; vertex clustering.
    """
    low, size = corners.min(axis=0), float((corners.max(axis=0) - corners.min(axis=0)).max())
    kept, merged, cells = corners, faces, 24
    while len(merged) > most and cells > 1:
        index = np.floor((corners - low) / max(size, 1e-9) * cells + 1e-9).astype(np.int64)
        number = (index[:, 0] * (cells + 1) + index[:, 1]) * (cells + 1) + index[:, 2]
        _, group = np.unique(number, return_inverse=True)
        group = group.reshape(-1)
        kept = np.zeros((int(group.max()) + 1, 3))
        np.add.at(kept, group, corners)
        kept /= np.bincount(group)[:, None]
        merged = np.sort(group[faces], axis=1)
        apart = (merged[:, 0] != merged[:, 1]) & (merged[:, 1] != merged[:, 2])
        merged = np.unique(merged[apart], axis=0)
        cells -= 2
    return kept, merged
