"""The shapes of things that can be hit, from what was taped of them."""

from functools import lru_cache
from itertools import pairwise
from typing import TYPE_CHECKING

import numpy as np

from even_stance.errors import InputError
from even_stance.mechanics.cores import Core, ball, hull, round_bar, tube
from even_stance.mechanics.solids import prism
from even_stance.mechanics.vectors import Array
from even_stance.vehicle.things import AnyShape, Arch, Ball, Block, Pair, Plate, Round, Run, Tunnel, plane_axes

if TYPE_CHECKING:
    import shapely

SHEET_MM = 2.0  # sheet metal, as most is
_ARCH_PIECES = 10
_TOWARD = {"ahead": np.array([1.0, 0.0, 0.0]), "left": np.array([0.0, 1.0, 0.0]), "up": np.array([0.0, 0.0, 1.0])}


@lru_cache(maxsize=256)
def cores_of(form: AnyShape) -> tuple[Core, ...]:  # noqa: PLR0911 - one for each shape
    """The convex pieces a shape is made of, at ride height.

    Raises:
        InputError: an outline crosses itself or has no area.
    """
    if isinstance(form, Block):
        return (_slab(form.ahead_mm, form.long_mm, form.left_mm, form.wide_mm,
                      (form.under_mm, form.under_mm + form.high_mm), form.rise_mm),)  # fmt: skip
    if isinstance(form, Tunnel):
        rise, half = form.rear_mm - form.front_mm, 0.5 * (form.wide_mm + SHEET_MM)
        roof = (form.front_mm, form.front_mm + SHEET_MM)
        side = (form.front_mm - form.deep_mm, form.front_mm)
        return (
            _slab(form.ahead_mm, form.long_mm, form.left_mm, form.wide_mm + 2 * SHEET_MM, roof, rise),
            *(_slab(form.ahead_mm, form.long_mm, form.left_mm + way * half, SHEET_MM, side, rise) for way in (1, -1)),
        )
    if isinstance(form, Arch):
        return _arch(form)
    if isinstance(form, Run):
        places = [np.array(p.xyz) for p in form.points]
        return tuple(tube(a, b, form.across_mm) for a, b in pairwise(places))
    if isinstance(form, Round):
        at = np.array(form.at.xyz)
        return (round_bar(at, at + form.long_mm * _TOWARD[form.toward], form.across_mm),)
    if isinstance(form, Ball):
        return (ball(np.array(form.at.xyz), form.across_mm),)
    if isinstance(form, Plate):
        return _plate(form)
    corners = np.array(form.corners)
    return tuple(_triangle(corners[list(face)], form.grown_mm) for face in form.faces)


def _slab(ahead: float, long: float, left: float, wide: float, z: tuple[float, float], rise: float) -> Core:
    """A box whose underside and top may slope along the car."""
    low, high = z
    outline = np.array([
        (ahead - long, left - 0.5 * wide, low + rise), (ahead, left - 0.5 * wide, low),
        (ahead, left - 0.5 * wide, high), (ahead - long, left - 0.5 * wide, high + rise),
    ])  # fmt: skip
    return hull(*prism(outline, np.array([0.0, wide, 0.0])))


def _arch(form: Arch) -> tuple[Core, ...]:
    """The upper half of a drum, in flat pieces that lie on its inside, and the wall toward the centerline."""
    out = 1.0 if form.left_mm >= 0.0 else -1.0
    turn = np.linspace(0.0, np.pi, _ARCH_PIECES + 1)
    # Flat pieces whose middles touch the round: nothing of the room inside is taken away.
    inside = form.inside_mm / np.cos(0.5 * np.pi / _ARCH_PIECES)
    ring = np.stack((form.ahead_mm + inside * np.cos(turn), form.up_mm + inside * np.sin(turn)), axis=-1)
    outer = np.stack(
        (form.ahead_mm + (inside + SHEET_MM) * np.cos(turn), form.up_mm + (inside + SHEET_MM) * np.sin(turn)), axis=-1
    )
    low, high = sorted((form.left_mm, form.left_mm + out * form.wide_mm))
    pieces = [
        _pushed(np.array([ring[i], ring[i + 1], outer[i + 1], outer[i]]), "side", low, high - low)
        for i in range(_ARCH_PIECES)
    ]
    wall = form.left_mm - SHEET_MM if out > 0.0 else form.left_mm
    return (*pieces, _pushed(ring, "side", wall, SHEET_MM))


def _pushed(outline: Array, plane: str, start: float, thick: float) -> Core:
    """A convex outline in one of the views, as thick as given along the third axis."""
    across, up, into = plane_axes(plane)  # type: ignore[arg-type]
    corners = np.zeros((len(outline), 3))
    corners[:, across], corners[:, up], corners[:, into] = outline[:, 0], outline[:, 1], start
    run = np.zeros(3)
    run[into] = thick
    return hull(*prism(corners, run))


def polygon_of(corners: tuple[Pair, ...], holes: tuple[tuple[Pair, ...], ...] = ()) -> "shapely.Polygon":
    """An outline as an area.

    Raises:
        InputError: it crosses itself or has no area.
    """
    import shapely  # noqa: PLC0415 - only outlines need it, and a car may have none

    area = shapely.Polygon(corners, holes)
    if area.convex_hull.area < 1.0:
        raise InputError("Outline", "has no area.", "Give at least three corners that do not lie on one line.")
    if not area.is_valid:
        why = shapely.is_valid_reason(area).split("[")[0].lower()
        raise InputError("Outline", f"crosses itself ({why}).", "List its corners in order around it.")
    return area


def _plate(form: Plate) -> tuple[Core, ...]:
    """A plate in convex pieces: whole if it is convex, else in triangles joined while they stay convex."""
    area = polygon_of(form.corners, form.holes)
    rings = [np.array(piece.exterior.coords[:-1]) for piece in convex_pieces(area)]
    return tuple(_pushed(ring, form.plane, form.start_mm, form.thick_mm) for ring in rings)


def convex_pieces(area: "shapely.Polygon") -> "list[shapely.Polygon]":
    """An area in convex pieces that together are the area."""
    import shapely  # noqa: PLC0415 - as above

    if area.convex_hull.area - area.area < 1e-6 * area.area:
        return [area]
    pieces = [p for p in shapely.constrained_delaunay_triangles(area).geoms if p.area > 1e-6]
    joined: list[shapely.Polygon] = []
    while pieces:
        piece = pieces.pop()
        for i, other in enumerate(pieces):
            both = piece.union(other)
            if both.geom_type == "Polygon" and both.convex_hull.area - both.area < 1e-7 * max(both.area, 1.0):
                pieces[i] = shapely.Polygon(both.exterior)
                break
        else:
            joined.append(piece)
    return joined


def _triangle(corners: Array, grown: float) -> Core:
    """One triangle of a scan, as thick as what was left out of it."""
    flat = hull(corners, ((0, 1, 2),))
    return Core(flat.points, grown, normals=flat.normals, edges=flat.edges)
