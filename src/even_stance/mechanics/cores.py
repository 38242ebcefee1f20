"""Hard shapes for measuring gaps: the hull of a few corners, widened by a disc about an axis, by a ball, or by both.

A tube with round ends is two corners and a ball; a plate is its corners; a flat-ended round is two corners and a disc;
a tire with rounded shoulders is two corners, a disc and a ball. All of them are convex, and of all of them it is known
how far they reach in any direction, which is all that distances take.
"""

from collections.abc import Sequence
from dataclasses import dataclass, field
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from even_stance.mechanics.vectors import Array, cross, dot, norm
from even_stance.pace import give_way


@dataclass(frozen=True, eq=False)
class Core:
    """One convex shape.

    Attributes:
        points: corners of its hull, mm, shape (k, 3)
        ball_mm: radius of the ball that widens it all around.
        disc_mm: radius of the disc that widens it square to the axis; axis: unit vector, 1, shape (3,)
        normals: directions its flat faces look in, 1, shape (n, 3); edges: along its edges, 1, shape (m, 3)
    """

    points: Array
    ball_mm: float = 0.0
    disc_mm: float = 0.0
    axis: Array = field(default_factory=lambda: np.array([1.0, 0.0, 0.0]))
    normals: Array = field(default_factory=lambda: np.zeros((0, 3)))
    edges: Array = field(default_factory=lambda: np.zeros((0, 3)))


def tube(a: Array, b: Array, diameter: float) -> Core:
    """A tube with round ends, its ends in the middle of the balls that close it.

    Args:
        a: one end of its center line, mm, shape (3,)
        b: the other end, mm, shape (3,)
        diameter: mm, shape ()

    Returns:
        The tube: a piece of a line and a ball (units mm).

    Source: derived here.
    """
    way = (b - a) / max(float(norm(b - a)), 1e-12)
    return Core(np.stack((a, b)), 0.5 * diameter, edges=way[None])


def ball(at: Array, diameter: float) -> Core:
    """A ball.

    Args:
        at: its middle, mm, shape (3,)
        diameter: mm, shape ()

    Returns:
        The ball: a place and a radius (units mm).

    Source: derived here.
    """
    return Core(at[None], 0.5 * diameter)


def round_bar(a: Array, b: Array, diameter: float, shoulder: float = 0.0) -> Core:
    """A round with flat ends, its edges rounded off.

    Args:
        a: the middle of one end, mm, shape (3,)
        b: the middle of the other, mm, shape (3,)
        diameter: mm, shape ()
        shoulder: radius its edges are rounded with, no more than half of what is there, mm, shape ()

    Returns:
        The round: a piece of a line, a disc and a ball (units mm).

    Source: derived here.
    """
    run = b - a
    length = float(norm(run))
    way = run / max(length, 1e-12)
    off = min(shoulder, 0.5 * length, 0.5 * diameter)
    points = np.stack((a + off * way, b - off * way))
    return Core(points, off, 0.5 * diameter - off, way, normals=way[None], edges=way[None])


def hull(points: Array, faces: Sequence[Sequence[int]]) -> Core:
    """A body with flat faces.

    Args:
        points: its corners, mm, shape (k, 3)
        faces: the corners of each face in order around it, indices (unit 1), shape (faces, corners)

    Returns:
        The body with the directions of its faces and edges (units mm, 1).

    Source: Newell's formula for the normal of a polygon (from memory).
    """
    normals, ways = [], []
    for face in faces:
        give_way()
        ring = points[list(face)]
        out = cross(ring, np.roll(ring, -1, axis=0)).sum(axis=0)
        if norm(out) > 1e-9:
            normals.append(out / norm(out))
        ways += [b - a for a, b in pairwise(np.vstack((ring, ring[:1]))) if norm(b - a) > 1e-9]
    unit = np.array([w / norm(w) for w in ways]).reshape(-1, 3)
    return Core(points, normals=_different(np.array(normals).reshape(-1, 3)), edges=_different(unit))


def _different(ways: Array) -> Array:
    """Of directions those that lie along different lines."""
    kept: list[Array] = []
    for way in ways:
        if all(abs(abs(float(way @ other)) - 1.0) > 1e-9 for other in kept):
            kept.append(way)
    return np.array(kept).reshape(-1, 3)


@dataclass(frozen=True, eq=False)
class Placed:
    """Shapes where they are, one a row.

    Attributes:
        points: corners, those that a shape has fewer of repeated, mm, shape (n, k, 3)
        axis: unit vector of each one's disc, 1, shape (n, 3); disc, ball: radii, mm, shape (n,)
    """

    points: Array
    axis: Array
    disc: Array
    ball: Array

    def some(self, which: NDArray[np.intp]) -> "Placed":
        """Some of the rows: their indices (unit 1), shape (m,)."""
        return Placed(self.points[which], self.axis[which], self.disc[which], self.ball[which])

    def farthest(self, way: Array) -> Array:
        """The place of each shape, without its ball, that is farthest some way.

        Args:
            way: 1, any length, shape (n, 3)

        Returns:
            mm, shape (n, 3).

        Source: support function of a sum of convex sets: the sum of theirs (Rockafellar, Convex Analysis, 1970).
        """
        best = np.einsum("nkc,nc->nk", self.points, way).argmax(axis=1)
        place: Array = self.points[np.arange(len(way)), best]
        if self.disc.any():
            flat = way - dot(way, self.axis)[:, None] * self.axis
            size = norm(flat)
            # Along its axis a disc reaches as far as its middle; what is left there is rounding, pointing anywhere.
            share = np.where(size > 1e-9 * norm(way), self.disc / np.maximum(size, 1e-300), 0.0)
            place = place + share[:, None] * flat
        return place


def rows(cores: Sequence[Core], points: Sequence[Array], axes: Sequence[Array]) -> Placed:
    """Shapes of several kinds put in rows.

    Args:
        cores: the shapes (units mm), shape (n,)
        points: their corners where they are now, mm, shape (k, 3) each
        axes: their axes now, 1, shape (3,) each

    Returns:
        The rows (units mm, 1).

    Source: derived here.
    """
    most = max(len(p) for p in points)
    filled = np.empty((len(cores), most, 3))
    for i, p in enumerate(points):
        filled[i, : len(p)] = p
        filled[i, len(p) :] = p[-1]
    return Placed(
        filled, np.array(axes), np.array([c.disc_mm for c in cores]), np.array([c.ball_mm for c in cores])
    )  # fmt: skip


_AROUND, _HALVINGS = 180, 32


def section(core: Core, at: Array, normal: Array, axes: Array) -> Array | None:
    """The outline of a shape cut by a plane.

    Args:
        core: what is cut, mm, shape ()
        at: a place in the plane, mm, shape (3,)
        normal: square to the plane, unit vector, 1, shape (3,)
        axes: two unit vectors in the plane, square to each other, 1, shape (2, 3)

    Returns:
        The outline, mm along both axes from the place, shape (k, 2); None where the plane misses the shape.

    Source: derived here. Of all shapes that reach farthest in some way between a direction in the plane and its normal,
    two neighbors lie on either side of the plane; halving finds them, and the line between them ends the cut there.
    """
    corners = (core.points - at) @ normal
    wide = core.ball_mm + core.disc_mm * float(np.sqrt(max(1.0 - float(core.axis @ normal) ** 2, 0.0)))
    if corners.min() > wide or corners.max() <= -wide:
        return None
    turn = np.linspace(0.0, 2.0 * np.pi, _AROUND, endpoint=False) + 1e-3
    flat = np.cos(turn)[:, None] * axes[0] + np.sin(turn)[:, None] * axes[1]

    def reached(tilt: Array) -> tuple[Array, Array]:
        """What reaches farthest, and how far above the plane that is."""
        way = np.cos(tilt)[:, None] * flat + np.sin(tilt)[:, None] * normal
        found = core.points[(way @ core.points.T).argmax(axis=-1)] + core.ball_mm * way
        if core.disc_mm:
            across = way - (way @ core.axis)[:, None] * core.axis
            found = found + core.disc_mm * across / np.maximum(norm(across), 1e-12)[:, None]
        return found, (found - at) @ normal

    low, high = np.full(_AROUND, -0.5 * np.pi), np.full(_AROUND, 0.5 * np.pi)
    for _ in range(_HALVINGS):
        middle = 0.5 * (low + high)
        above = reached(middle)[1] > 0.0
        low, high = np.where(above, low, middle), np.where(above, middle, high)
    (below, off_below), (beyond, off_beyond) = reached(low), reached(high)
    share = off_below / np.where(off_below < off_beyond, off_below - off_beyond, -1.0)
    places = below + share[:, None] * (beyond - below)
    ring = (places - at) @ axes.T
    new = np.abs(ring - np.roll(ring, 1, axis=0)).max(axis=1) > 1e-9 * (1.0 + np.abs(ring).max())
    return ring[new] if new.sum() > 2 else None
