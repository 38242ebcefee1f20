"""The car seen from anywhere: solids in perspective, in the order they hide each other, with their visible faces.

Done by painting from back to front. Of each pair of solids that overlap in the picture, a ray through the overlap says
which is nearer: the solids are convex, so that is exact where they do not cut into each other.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from even_stance.mechanics.solids import Faces, by_size, entry_of, face_normals, first_corners, hidden_order, outline
from even_stance.mechanics.vectors import Array, cross, dot, norm
from even_stance.study.bodies import Solid, car_solids
from even_stance.study.floor import axle_patches
from even_stance.study.frame import frame_ends
from even_stance.study.places import AxlePlace
from even_stance.study.state import CarState
from even_stance.vehicle.car import Vehicle
from even_stance.vehicle.spots import Spot

_LIGHT = np.array([0.35, 0.45, 0.82]) / np.linalg.norm([0.35, 0.45, 0.82])
_MOST_RISE = 89.0
_PLANES, _FEW = 34, 14


@dataclass(frozen=True)
class Eye:
    """Where the car is seen from.

    Attributes:
        turn_deg: around the car, 0 from straight ahead of it, + toward its left side; rise_deg: above level ground.
        target: the point in the middle of the picture, mm; away_mm: how far the eye is from it.
    """

    turn_deg: float
    rise_deg: float
    target: tuple[float, float, float]
    away_mm: float

    @cached_property
    def at(self) -> Array:
        """Where the eye is, mm, shape (3,)."""
        turn, rise = np.radians(self.turn_deg), np.radians(self.rise_deg)
        way = np.array([np.cos(rise) * np.cos(turn), np.cos(rise) * np.sin(turn), np.sin(rise)])
        place: Array = np.array(self.target) + self.away_mm * way
        return place

    @cached_property
    def axes(self) -> Array:
        """Right, up and away from the eye in the picture, 1, shape (3, 3)."""
        turn = np.radians(self.turn_deg)
        ahead = np.array(self.target) - self.at
        ahead = ahead / norm(ahead)
        right = np.array([-np.sin(turn), np.cos(turn), 0.0])
        return np.stack((right, cross(right, ahead), ahead))

    def turned(self, turn_deg: float, rise_deg: float) -> "Eye":
        """The eye gone around the car and up or down."""
        rise = min(max(self.rise_deg + rise_deg, -_MOST_RISE), _MOST_RISE)
        return Eye((self.turn_deg + turn_deg) % 360.0, rise, self.target, self.away_mm)

    def nearer(self, share: float) -> "Eye":
        """The eye at a share of its distance."""
        return Eye(self.turn_deg, self.rise_deg, self.target, min(max(self.away_mm * share, 300.0), 60_000.0))

    def slid(self, right: float, up: float) -> "Eye":
        """The target moved in the plane of the picture, mm."""
        a, b, _ = self.axes
        x, y, z = np.array(self.target) + right * a + up * b
        return Eye(self.turn_deg, self.rise_deg, (float(x), float(y), float(z)), self.away_mm)

    def seen(self, points: Array) -> tuple[Array, Array]:
        """Points in the picture, right and up as shares of its depth, shape (..., 2), and how deep they are, mm."""
        local = (points - self.at) @ self.axes.T
        depth = np.maximum(local[..., 2], 10.0)
        return local[..., :2] / depth[..., None], depth


@dataclass(frozen=True, eq=False)
class Facets:
    """Visible faces of k corners: these in the picture, 1, shape (n, k, 2), and how bright, 0 to 1, shape (n,)."""

    corners: Array
    bright: Array


@dataclass(frozen=True, eq=False)
class Seen:
    """One solid as it is seen, 1 (shares of depth).

    Attributes:
        solid: which; outline: its silhouette, shape (k, 2); facets: its visible faces; none of a joint.
        depth_mm: how far its middle is from the eye; middle: where that is in the picture, shape (2,).
    """

    solid: Solid
    outline: Array
    facets: tuple[Facets, ...]
    depth_mm: float
    middle: Array


def warm_up(vehicle: Vehicle) -> None:
    """Make the corners of all that is seen of a car ahead of the first look at it."""
    for solid in car_solids(vehicle):
        first_corners(solid.faces)


@dataclass(frozen=True, eq=False)
class _Make:
    """Solids of one make, m of them with c corners and f faces, all of which is worked out in one go.

    Attributes:
        which: their places in the list of all; faces: the corners of each face.
        placed: corners where they are, mm, shape (m, c, 3); flat: in the picture, shape (m, c, 2); depth_mm: of each
            corner, shape (m, c).
        normals: outward, 1, shape (m, f, 3); room_mm: how far the eye is within the plane of each face, shape (m, f).
    """

    which: list[int]
    faces: Faces
    placed: Array
    flat: Array
    depth_mm: Array
    normals: Array
    room_mm: Array


def look_at(solids: Sequence[Solid], state: CarState, eye: Eye, i: int = 0) -> list[Seen]:
    """Every solid as it is seen, those that hide others after them.

    Args:
        solids: what to show; state: where it is; eye: where from; i: which posture of the state.
    """
    makes = _makes(solids, state, eye, i)
    seen = {k: one for make in makes for k, one in zip(make.which, _seen(make, solids), strict=True)}
    return [seen[k] for k in _order(makes, len(solids), eye)]


def _makes(solids: Sequence[Solid], state: CarState, eye: Eye, i: int) -> list[_Make]:
    """Solids sorted by make, put where they are."""
    sorted_out: dict[tuple[int, int], list[int]] = {}
    for k, solid in enumerate(solids):
        sorted_out.setdefault((hash(solid.faces), len(solid.corners)), []).append(k)
    makes = []
    for which in sorted_out.values():
        faces, poses = solids[which[0]].faces, [state.poses[solids[k].body] for k in which]
        start, moved = np.stack([p.start for p in poses]), np.stack([p.moved[i] for p in poses])
        linear, corners = np.stack([p.linear[i] for p in poses]), np.stack([solids[k].corners for k in which])
        placed = moved[:, None] + (corners - start[:, None]) @ np.swapaxes(linear, -1, -2)
        normals = face_normals(placed, faces)
        room = dot(normals, placed[:, first_corners(faces)] - eye.at)
        makes.append(_Make(which, faces, placed, *eye.seen(placed), normals, room))
    return makes


def _seen(make: _Make, solids: Sequence[Solid]) -> list[Seen]:
    """Solids of one make in the picture, with the faces that look at the eye."""
    middles, depths = make.flat.mean(axis=1), make.depth_mm.mean(axis=1).tolist()
    toward, bright = make.room_mm < 0.0, 0.5 + 0.5 * (make.normals @ _LIGHT)
    seen = []
    for j, k in enumerate(make.which):
        points, facets = make.flat[j], []
        if solids[k].spot is not None:  # a joint is drawn as a disc
            seen.append(Seen(solids[k], points[:0], (), depths[j], middles[j]))
            continue
        for which, corners in by_size(make.faces):
            shown = toward[j, which]
            if shown.any():
                facets.append(Facets(points[corners[shown]], bright[j, which[shown]]))
        seen.append(Seen(solids[k], outline(points), tuple(facets), depths[j], middles[j]))
    return seen


def _order(makes: Sequence[_Make], count: int, eye: Eye) -> list[int]:
    """Farthest first: by rays through where the outlines overlap, by depth where they tell nothing."""
    low, high, depth = np.zeros((count, 2)), np.zeros((count, 2)), np.zeros(count)
    planes, room = np.zeros((count, _PLANES, 3)), np.full((count, _PLANES), 1e12)
    few = np.zeros(count, dtype=bool)
    for make in makes:
        k = make.which
        low[k], high[k] = make.flat.min(axis=1), make.flat.max(axis=1)
        depth[k] = norm(make.placed.mean(axis=1) - eye.at)
        # Of a solid with many faces some stand for all: it is taken a trifle too large.
        faces = len(make.faces)
        some = np.append(np.arange(0, faces - 2, -(-faces // (_PLANES - 2))), [-2, -1])
        planes[k, : len(some)] = make.normals[:, some]
        room[k, : len(some)] = make.room_mm[:, some]
        few[k] = len(some) <= _FEW

    def entry(k: NDArray[np.intp], way: Array) -> Array:
        """Where rays from the eye enter solids: most have few planes, and are not made to wait for those of many."""
        found = np.empty(len(k))
        for of, width in ((few[k], _FEW), (~few[k], _PLANES)):
            mine = k[of]
            found[of] = entry_of(room[mine, :width], dot(planes[mine, :width], way[of, None]))
        return found

    a, b = np.triu_indices(count, 1)
    near = ((low[a] < high[b]) & (low[b] < high[a])).all(axis=-1)
    a, b = a[near], b[near]
    corner_low, corner_high = np.maximum(low[a], low[b]), np.minimum(high[a], high[b])
    before = np.zeros((count, count), dtype=bool)
    left = np.arange(len(a))
    for share in _SAMPLES:
        spot = corner_low[left] + share * (corner_high[left] - corner_low[left])
        way = np.concatenate((spot, np.ones((len(spot), 1))), axis=-1) @ eye.axes
        way = way / norm(way)[:, None]
        first = entry(a[left], way)
        struck = np.isfinite(first)  # what misses the first of a pair need not be tried on the second
        second = np.full(len(left), np.nan)
        second[struck] = entry(b[left[struck]], way[struck])
        hit = np.isfinite(second)
        at, farther = left[hit], first[hit] > second[hit]
        before[a[at[farther]], b[at[farther]]] = True
        before[b[at[~farther]], a[at[~farther]]] = True
        left = left[~hit]
    return hidden_order(before, depth)


_SAMPLES = (
    np.array([0.5, 0.5]), np.array([0.25, 0.25]), np.array([0.75, 0.75]), np.array([0.25, 0.75]),
    np.array([0.75, 0.25]),
)  # fmt: skip


def first_eye(vehicle: Vehicle) -> Eye:
    """The whole car, seen three-quarter from behind its left side."""
    tire = vehicle.axles[-1].tire.free_diameter_mm
    long = vehicle.axles[-1].behind_front_mm + 2.0 * tire
    return Eye(142.0, 20.0, (-0.5 * vehicle.axles[-1].behind_front_mm, 0.0, 0.45 * tire), 1.35 * long)


def ground_lines(vehicle: Vehicle, places: Sequence[AxlePlace], eye: Eye) -> list[tuple[Array, bool]]:
    """A grid on the ground under the tires as it is seen, shape (2, 2) each, and whether a line is the centerline."""
    touch = np.concatenate([axle_patches(p) for p in places])
    plane = np.linalg.lstsq(np.column_stack((touch[:, :2], np.ones(len(touch)))), touch[:, 2], rcond=None)[0]
    ahead, behind = frame_ends(vehicle)
    half = 0.75 * max(a.track_mm for a in vehicle.axles)
    xs = np.linspace(behind - 300.0, ahead + 300.0, 9)
    ys = np.linspace(-half, half, 5)
    ends = [((x, -half), (x, half)) for x in xs] + [((xs[0], y), (xs[-1], y)) for y in ys]
    flat = np.array(ends)
    spatial = np.concatenate((flat, (flat @ plane[:2] + plane[2])[..., None]), axis=-1)
    seen, _ = eye.seen(spatial)
    return [(line, bool(a[1] == b[1] == 0.0)) for line, (a, b) in zip(seen, ends, strict=True)]


def pick(seen: Sequence[Seen], place: Array, reach: float) -> Spot | None:
    """The point nearest to a place in the picture, within a reach, the nearer one to the eye of two alike."""
    best: tuple[float, float, Spot] | None = None
    for one in seen:
        if one.solid.spot is None:
            continue
        off = float(norm(np.append(one.middle - place, 0.0)))
        if off <= reach and (best is None or (round(off / reach, 1), one.depth_mm) < best[:2]):
            best = (round(off / reach, 1), one.depth_mm, one.solid.spot)
    return None if best is None else best[2]
