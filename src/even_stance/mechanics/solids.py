"""Convex solids as corners and faces, and how they look from somewhere: outlines, visible faces, who hides whom.

A solid is a list of corners and of faces, each face a list of corners seen counterclockwise from outside.
"""

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from even_stance.mechanics.vectors import Array, cross, dot, norm

Faces = tuple[tuple[int, ...], ...]


def across(axis: Array) -> tuple[Array, Array]:
    """Two unit vectors square to an axis and to each other, right-handed with it.

    Args:
        axis: unit vector, 1, shape (3,)

    Returns:
        The two vectors, 1, shape (3,) each.

    Source: derived here.
    """
    helper = np.array([0.0, 0.0, 1.0]) if abs(axis[2]) < 0.9 else np.array([1.0, 0.0, 0.0])
    first = cross(helper, axis)
    first = first / norm(first)
    return first, cross(axis, first)


def lathe(start: Array, axis: Array, along: Array, radii: Array, sides: int) -> tuple[Array, Faces]:
    """A solid turned about an axis: rings of corners, the bands between them and a face at either end.

    Args:
        start: where the axis begins, mm, shape (3,)
        axis: unit vector, 1, shape (3,)
        along: where each ring is along the axis, rising, mm, shape (rings,)
        radii: of each ring, mm, shape (rings,)
        sides: corners of a ring, 1, shape ()

    Returns:
        Corners, mm, shape (rings * sides, 3); and faces, indices into them (unit 1).

    Source: derived here; a solid of revolution.
    """
    u, v = across(axis)
    turn = np.linspace(0.0, 2 * np.pi, sides, endpoint=False)
    ring = np.cos(turn)[:, None] * u + np.sin(turn)[:, None] * v
    corners = start + along[:, None, None] * axis + radii[:, None, None] * ring
    faces: list[tuple[int, ...]] = []
    for k in range(len(along) - 1):
        low, high = k * sides, (k + 1) * sides
        faces += [(low + i, low + (i + 1) % sides, high + (i + 1) % sides, high + i) for i in range(sides)]
    last = (len(along) - 1) * sides
    faces += [tuple(range(sides - 1, -1, -1)), tuple(range(last, last + sides))]
    return corners.reshape(-1, 3), tuple(faces)


def prism(outline: Array, run: Array) -> tuple[Array, Faces]:
    """A flat convex outline pushed along a straight line.

    Args:
        outline: its corners, counterclockwise seen against the run, mm, shape (k, 3)
        run: from it to the other end, mm, shape (3,)

    Returns:
        Corners, mm, shape (2k, 3); and faces, indices into them (unit 1).

    Source: derived here.
    """
    k = len(outline)
    sides = [(i, k + i, k + (i + 1) % k, (i + 1) % k) for i in range(k)]
    return np.concatenate((outline, outline + run)), (
        tuple(range(k)), tuple(range(2 * k - 1, k - 1, -1)), *sides
    )  # fmt: skip


@lru_cache(maxsize=64)
def by_size(faces: Faces) -> tuple[tuple[NDArray[np.intp], NDArray[np.intp]], ...]:
    """Faces sorted by how many corners they have.

    Args:
        faces: corners of each face, indices (unit 1).

    Returns:
        For each number of corners: which faces, shape (n,), and their corners, shape (n, k), indices (unit 1).

    Source: derived here.
    """
    sizes = sorted({len(f) for f in faces})
    which = [[i for i, f in enumerate(faces) if len(f) == size] for size in sizes]
    return tuple((np.array(w), np.array([faces[i] for i in w])) for w in which)


@lru_cache(maxsize=64)
def first_corners(faces: Faces) -> NDArray[np.intp]:
    """The first corner of every face.

    Args:
        faces: corners of each face, indices (unit 1).

    Returns:
        Indices of corners (unit 1), shape (faces,).

    Source: derived here.
    """
    return np.array([f[0] for f in faces])


def face_normals(corners: Array, faces: Faces) -> Array:
    """Outward unit normals of faces.

    Args:
        corners: mm, shape (..., n, 3)
        faces: counterclockwise from outside, indices into the corners, 1, shape (faces, corners)

    Returns:
        The normals, 1, shape (..., faces, 3).

    Source: Newell's formula for the normal of a polygon (Sutherland, Sproull and Schumacker 1974, from memory).
    """
    total = np.zeros((*corners.shape[:-2], len(faces), 3))
    for which, rings in by_size(faces):
        ring = corners[..., rings, :]
        total[..., which, :] = cross(ring, np.roll(ring, -1, axis=-2)).sum(axis=-2)
    unit: Array = total / np.maximum(norm(total), 1e-12)[..., None]
    return unit


_DIRECTIONS = 64
_TURNS = np.arange(_DIRECTIONS) * (2 * np.pi / _DIRECTIONS) + 1e-3
_WAYS = np.stack((np.cos(_TURNS), np.sin(_TURNS)))


def outline(points: Array) -> Array:
    """The convex outline of points in a plane, counterclockwise, from how far they reach in 64 directions.

    Args:
        points: mm or pixels, shape (n, 2)

    Returns:
        Corners of the outline, mm or pixels, shape (k, 2), k at most 64.

    Source: derived here; support points of a convex set.
    """
    order = (points @ _WAYS).argmax(axis=0)
    kept = order[np.append(True, order[1:] != order[:-1])]
    found: Array = points[kept[:-1] if len(kept) > 1 and kept[0] == kept[-1] else kept]
    return found


def ray_entry(origin: Array, way: Array, normals: Array, offsets: Array) -> Array:
    """How far along rays convex solids begin, each solid given by the planes of its faces.

    Args:
        origin: where the rays start, mm, shape (..., 3)
        way: unit vectors along them, 1, shape (..., 3)
        normals: outward normals of the faces, padded with zeros, 1, shape (..., faces, 3)
        offsets: normal times a corner of each face, padded with a large figure, mm, shape (..., faces)

    Returns:
        Distance to where the ray enters, mm, shape (...); nan where it misses.

    Source: Cyrus and Beck, Computer Graphics and Image Processing 7, 1978: clipping against a convex polyhedron.
    """
    return entry_of(offsets - dot(normals, origin[..., None, :]), dot(normals, way[..., None, :]))


def entry_of(room: Array, speed: Array) -> Array:
    """How far along rays convex solids begin, told by each plane of their faces.

    Args:
        room: how far the start of the ray is within the plane, mm, shape (..., faces)
        speed: how fast the ray runs out through it, 1, shape (..., faces)

    Returns:
        Distance to where the ray enters, mm, shape (...); nan where it misses.

    Source: as ray_entry.
    """
    with np.errstate(divide="ignore", invalid="ignore", over="ignore"):
        hit = room / speed
    enter = np.where(speed < -1e-9, hit, -np.inf).max(axis=-1)
    leave = np.where(speed > 1e-9, hit, np.inf).min(axis=-1)
    outside = ((np.abs(speed) <= 1e-9) & (room < 0.0)).any(axis=-1)
    found: Array = np.where((enter < leave) & ~outside, enter, np.nan)
    return found


def hidden_order(before: NDArray[np.bool_], depth: Array) -> list[int]:
    """An order to paint things in so that what hides another comes after it; knots are cut at the farthest.

    Args:
        before: before[i, j]: i must be painted before j, 1, shape (n, n)
        depth: how far away each is, for those that no rule tells apart, mm, shape (n,)

    Returns:
        The order, farthest first (indices, unit 1).

    Source: painter's algorithm (Newell, Newell and Sancha 1972, from memory); Kahn's topological sort.
    """
    waiting = before.sum(axis=0)
    left = np.ones(len(depth), dtype=bool)
    order: list[int] = []
    for _ in range(len(depth)):
        free = left & (waiting == 0)
        pool = free if free.any() else left
        pick = int(np.where(pool, depth, -np.inf).argmax())
        order.append(pick)
        left[pick] = False
        waiting = waiting - before[pick]
    return order


def flattened(corners: Array, wheels: Array, radius: float) -> Array:
    """The corners of a tire that stands on the ground, which is square to the wheels of its axle.

    Args:
        corners: of the round tire, mm, shape (n, 3)
        wheels: both wheel centers, mm, shape (2, 3)
        radius: center to ground, mm, shape ()

    Returns:
        The corners, none below the ground, mm, shape (n, 3).

    Source: derived here.
    """
    lean = np.arctan2(wheels[0, 2] - wheels[1, 2], wheels[0, 1] - wheels[1, 1])
    up = np.array([0.0, -np.sin(lean), np.cos(lean)])
    low = (corners - wheels[0]) @ up + radius
    stands: Array = corners - np.minimum(low, 0.0)[:, None] * up
    return stands
