"""The car seen from anywhere: solids in perspective, in the order they hide each other, with their visible faces.

Done by painting from back to front. Of each pair of solids that overlap in the picture, a ray through the overlap says
which is nearer: the solids are convex, so that is exact where they do not cut into each other.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from even_stance.mechanics.solids import by_size, face_normals, first_corners, hidden_order, outline, ray_entry
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
_PLANES = 34


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


def look_at(solids: Sequence[Solid], state: CarState, eye: Eye, i: int = 0) -> list[Seen]:
    """Every solid as it is seen, those that hide others after them.

    Args:
        solids: what to show; state: where it is; eye: where from; i: which posture of the state.
    """
    placed = [state.place(s.body, s.corners)[i] for s in solids]
    flat = [eye.seen(p) for p in placed]
    normals = _normals(solids, placed)
    order = _order(placed, [f[0] for f in flat], normals, eye, solids)
    return [_seen(solids[k], placed[k], flat[k], normals[k], eye) for k in order]


def _normals(solids: Sequence[Solid], placed: list[Array]) -> list[Array]:
    """Outward normals of all faces, solids of one make in one go."""
    found: list[Array] = [np.zeros((0, 3))] * len(solids)
    makes: dict[int, list[int]] = {}
    for k, solid in enumerate(solids):
        makes.setdefault(hash((solid.faces, len(solid.corners))), []).append(k)
    for members in makes.values():
        each = face_normals(np.stack([placed[k] for k in members]), solids[members[0]].faces)
        for k, normal in zip(members, each, strict=True):
            found[k] = normal
    return found


def _seen(solid: Solid, placed: Array, flat: tuple[Array, Array], normals: Array, eye: Eye) -> Seen:
    """One solid in the picture, with the faces that look at the eye."""
    points, depth = flat
    if solid.spot is not None:  # a joint is drawn as a disc
        return Seen(solid, points[:0], (), float(depth.mean()), points.mean(axis=0))
    first = placed[first_corners(solid.faces)]
    toward = dot(normals, eye.at - first) > 0.0
    bright = 0.5 + 0.5 * (normals @ _LIGHT)
    facets = []
    for which, corners in by_size(solid.faces):
        seen = toward[which]
        if seen.any():
            facets.append(Facets(points[corners[seen]], bright[which[seen]]))
    return Seen(solid, outline(points), tuple(facets), float(depth.mean()), points.mean(axis=0))


def _order(
    placed: list[Array], flat: list[Array], normals: list[Array], eye: Eye, solids: Sequence[Solid]
) -> list[int]:
    """Farthest first: by rays through where the outlines overlap, by depth where they tell nothing."""
    n = len(placed)
    low, high = (np.array([getattr(f, way)(axis=0) for f in flat]) for way in ("min", "max"))
    depth = np.array([float(norm(p.mean(axis=0) - eye.at)) for p in placed])
    planes, offsets = np.zeros((n, _PLANES, 3)), np.full((n, _PLANES), 1e12)
    for k, (normal, solid) in enumerate(zip(normals, solids, strict=True)):
        # Of a solid with many faces some stand for all: it is taken a trifle too large.
        some = np.append(np.arange(0, len(normal) - 2, -(-len(normal) // (_PLANES - 2))), [-2, -1])
        planes[k, : len(some)] = normal[some]
        offsets[k, : len(some)] = dot(normal[some], placed[k][first_corners(solid.faces)[some]])
    a, b = np.triu_indices(n, 1)
    corner_low, corner_high = np.maximum(low[a], low[b]), np.minimum(high[a], high[b])
    near = (corner_low < corner_high).all(axis=-1)
    a, b, corner_low, corner_high = a[near], b[near], corner_low[near], corner_high[near]
    before = np.zeros((n, n), dtype=bool)
    told = np.zeros(len(a), dtype=bool)
    for share in _SAMPLES:
        left = ~told
        spot = corner_low[left] + share * (corner_high[left] - corner_low[left])
        way = np.concatenate((spot, np.ones((len(spot), 1))), axis=-1) @ eye.axes
        way = way / norm(way)[:, None]
        first, second = (
            ray_entry(np.broadcast_to(eye.at, way.shape), way, planes[k[left]], offsets[k[left]]) for k in (a, b)
        )
        hit = np.isfinite(first) & np.isfinite(second)
        at = np.flatnonzero(left)[hit]
        farther = first[hit] > second[hit]
        before[a[at[farther]], b[at[farther]]] = True
        before[b[at[~farther]], a[at[~farther]]] = True
        told[at] = True
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
