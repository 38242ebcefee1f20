"""Templates to wrap around a tube's end, and circles of lug holes."""

import numpy as np
import shapely

from even_stance.errors import InputError
from even_stance.mechanics.saddle import saddle_depth, sawn_depth
from even_stance.shop.plates import Template
from even_stance.units import System, format_length, length_unit

_AROUND = 361
_BEHIND_MM = 40.0


def _said(mm: float, units: System) -> str:
    return f"{format_length(mm, units).removeprefix('~')} {length_unit(units)}"


def saddle_template(tube_mm: float, other_mm: float, angle_deg: float, offset_mm: float, units: System) -> Template:
    """The wrap for a tube's end that sits on another tube: unrolled on the outside, the edge to cut along on top.

    Args:
        tube_mm, other_mm: outsides of the tube to be cut and of the one it meets; angle_deg: between their axes.
        offset_mm: by how much the axes pass each other; units: of the note.

    Raises:
        InputError: the tube passes the other one by, in whole or in part, or an angle is no angle to cut at.
    """
    _sizes(tube_mm, angle_deg)
    if other_mm <= 0.0:
        raise InputError("Other tube", "has no size.", "Type its outside diameter.")
    around = np.linspace(0.0, 2.0 * np.pi, _AROUND)
    deep = saddle_depth(around, 0.5 * tube_mm, 0.5 * other_mm, np.radians(angle_deg), offset_mm)
    if not np.isfinite(deep).all():
        raise InputError(
            "Tube end", "part of the tube passes the other one by.", "A smaller tube, a larger other one, less offset."
        )
    note = (f"{_said(tube_mm, units)} tube onto {_said(other_mm, units)} at {angle_deg:g}°"
            + (f", {_said(abs(offset_mm), units)} off center" if abs(offset_mm) > 0.05 else "")
            + "; wrap around, edge to edge, and cut along the curve")  # fmt: skip
    return _wrap("Tube end, saddle", note, tube_mm, around, deep)


def sawn_template(tube_mm: float, angle_deg: float, units: System) -> Template:
    """The wrap for a tube's end that meets a flat at an angle.

    Raises:
        InputError: an angle is no angle to cut at.
    """
    _sizes(tube_mm, angle_deg)
    around = np.linspace(0.0, 2.0 * np.pi, _AROUND)
    deep = sawn_depth(around, 0.5 * tube_mm, np.radians(angle_deg))
    note = f"{_said(tube_mm, units)} tube onto a flat at {angle_deg:g}°; wrap around, edge to edge"
    return _wrap("Tube end, on a flat", note, tube_mm, around, deep)


def _sizes(tube_mm: float, angle_deg: float) -> None:
    if tube_mm <= 0.0:
        raise InputError("Tube", "has no size.", "Type its outside diameter.")
    if not 15.0 <= angle_deg <= 165.0:
        raise InputError("Angle", f"{angle_deg:g}° is too flat to cut.", "Type 15 to 165 degrees.")


def _wrap(name: str, note: str, tube_mm: float, around: np.ndarray, deep: np.ndarray) -> Template:
    """Unrolled: along, the way around; up, from the lowest of the cut back along the tube."""
    x = 0.5 * tube_mm * around
    y = -(deep - deep.max())  # the tube is below: what reaches farthest sticks out on top
    low = -_BEHIND_MM
    ring = [(x[0], low), (x[-1], low), *zip(x[::-1], y[::-1], strict=True)]
    quarter = [np.array([[q, low], [q, low + 12.0]]) for q in np.linspace(x[0], x[-1], 5)]
    return Template(name, note, shapely.Polygon(ring), (), tuple(quarter))


def lug_spots(count: int, circle_mm: float, turned_deg: float = 0.0) -> np.ndarray:
    """The middles of so many holes on a circle, the first on top, mm, shape (n, 2)."""
    at = np.radians(90.0 + turned_deg) + 2.0 * np.pi * np.arange(count) / count
    return 0.5 * circle_mm * np.stack((np.cos(at), np.sin(at)), axis=-1)


def lug_chord(count: int, circle_mm: float, skip: int) -> float:
    """From the middle of one hole to that of the `skip`-th next, mm: 2 r sin(pi skip / n)."""
    return float(circle_mm * np.sin(np.pi * skip / count))


def lug_template(
    old: tuple[int, float], new: tuple[int, float], hole_mm: float, hub_mm: float, units: System
) -> Template:  # fmt: skip
    """A redrill template: the old circle of studs to line up on, the new holes turned to where most is left between.

    Args:
        old, new: how many holes and on what circle, mm; hole_mm: of the new ones; hub_mm: the bore in the middle.
        units: of the note.

    Raises:
        InputError: a circle with fewer than three holes, or holes that run into each other or into the hub.
    """
    for words, (count, circle) in (("Old circle", old), ("New circle", new)):
        if not 3 <= count <= 12:
            raise InputError(words, f"{count} holes make no circle.", "Type 3 to 12.")
        if circle - hole_mm <= max(hub_mm, 0.0):
            raise InputError(words, "runs into the bore of the hub.", "Check the circle and the bore.")
    turns = np.linspace(0.0, 360.0 / new[0], 721)
    old_at = lug_spots(*old)
    gaps = [
        float(np.min(np.linalg.norm(old_at[:, None] - lug_spots(*new, turned_deg=t)[None], axis=-1))) for t in turns
    ]
    best = turns[int(np.argmax(gaps))]
    left = max(gaps) - hole_mm
    if lug_chord(new[0], new[1], 1) <= hole_mm:
        raise InputError("New circle", "its holes run into each other.", "Fewer holes, or a larger circle.")
    at = lug_spots(*new, turned_deg=best)
    disk = shapely.Point(0.0, 0.0).buffer(0.5 * max(old[1], new[1]) + 1.2 * hole_mm, quad_segs=64)
    disk = disk.difference(shapely.Point(0.0, 0.0).buffer(0.5 * hub_mm, quad_segs=64)) if hub_mm > 0.0 else disk
    holes = (
        *((float(x), float(y), hole_mm, "new") for x, y in at),
        *((float(x), float(y), hole_mm, "old") for x, y in old_at),
    )
    skip = 2 if new[0] > 4 else new[0] // 2 if new[0] % 2 == 0 else 1
    to = "the next but one" if skip == 2 and new[0] > 4 else "the opposite one" if new[0] % 2 == 0 else "the next one"
    what = f"{_said(left, units)} left between old and new" if left > 0.0 else "old and new holes run into each other"
    note = (f"{old[0]} on {_said(old[1], units)} to {new[0]} on {_said(new[1], units)}; {what}; a new hole to {to}: "
            f"{_said(lug_chord(new[0], new[1], skip), units)}")  # fmt: skip
    return Template("Lug circle", note, disk, holes, (np.array([[-20.0, 0.0], [20.0, 0.0]]),
                                                      np.array([[0.0, -20.0], [0.0, 20.0]])))  # fmt: skip
