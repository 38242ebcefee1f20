"""Ways to get a point: offsets, a length and an angle along a link, the mirror image, and tapes from known points."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from even_stance.errors import InputError
from even_stance.mechanics.locating import flatness, spheres_meet, trilaterate
from even_stance.mechanics.vectors import Array
from even_stance.study.state import power_points
from even_stance.units import System, format_length, length_unit
from even_stance.vehicle.car import Vehicle
from even_stance.vehicle.records import HowKnown, Point
from even_stance.vehicle.spots import point_on, spots_on


@dataclass(frozen=True)
class Known:
    """A point that can be taped from."""

    name: str
    point: Point


@dataclass(frozen=True)
class Found:
    """A point that was worked out.

    Attributes:
        point: the place, with its +/-; words: how it came about and how well the readings agree.
        residual_mm: of each tape, taped minus reckoned; suspect: which tape to take again, or -1.
    """

    point: Point
    words: str
    residual_mm: tuple[float, ...] = ()
    suspect: int = -1


def known_points(vehicle: Vehicle) -> list[Known]:
    """Everything on the car and the floor whose place is known."""
    found = []
    for axle in vehicle.axles:
        x, _, z = axle.center
        half = axle.track_mm / 2
        for side, s in (("left", 1.0), ("right", -1.0)):
            found.append(Known(f"{axle.key} {side} wheel center", Point(x=x, y=s * half, z=z)))
            found.append(Known(f"{axle.key} {side} tire on the floor", Point(x=x, y=s * half, z=0.0)))
        found.append(Known(f"floor below the {axle.key} axle", Point(x=x, y=0.0, z=0.0)))
        for spot in spots_on(axle):
            name = f"{axle.key}: {spot.words}" if spot.member else f"{axle.key} {spot.words.lower()}"
            found.append(Known(name, point_on(axle, spot)))
    found += [Known(spot.words.lower(), at) for spot, at in power_points(vehicle.powertrain).items()]
    return found


def offset_from(known: Known, ahead: float, left: float, up: float, sure_mm: float) -> Found:
    """A point so far ahead, left and up of a known one, mm."""
    p = known.point
    sure = float(np.hypot(p.sure, sure_mm))
    return Found(_point(p.x + ahead, p.y + left, p.z + up, sure, _derived(known)), f"Offset from {known.name}.")


def mirrored(known: Known) -> Found:
    """The same point on the other side of the centerline."""
    p = known.point
    return Found(_point(p.x, -p.y, p.z, p.sure, _derived(known)), f"Mirror image of {known.name}.")


def along_link(
    known: Known, length: float, up_deg: float, out_deg: float, forward: bool, sure_mm: float, sure_deg: float
) -> Found:
    """The other end of a straight link from its known end.

    Args:
        known: the end that is known.
        length: joint center to joint center, mm.
        up_deg: how far the link rises toward the other end, to level.
        out_deg: how far it turns toward left in plan, from straight fore and aft.
        forward: whether the other end is ahead of the known one.
        sure_mm, sure_deg: +/- of the length and of the angles.

    Raises:
        InputError: no length.
    """
    if length <= 0:
        raise InputError("Length", f"{length:g} mm is no link.", "Type the length between the joint centers.")
    a, b = np.radians(up_deg), np.radians(out_deg)
    way = 1.0 if forward else -1.0
    p = known.point
    run = length * np.cos(a)
    sure = float(np.sqrt(p.sure**2 + sure_mm**2 + (length * np.radians(sure_deg)) ** 2))
    return Found(
        _point(p.x + way * run * np.cos(b), p.y + run * np.sin(b), p.z + length * np.sin(a), sure, _derived(known)),
        f"{'Ahead of' if forward else 'Behind'} {known.name} along the link.",
    )  # fmt: skip


def taped(
    known: Sequence[Known], distances: Sequence[float], near: Point, sure_mm: float, system: System = "us"
) -> Found:
    """The point at given distances from three or more known ones.

    Args:
        known: the points taped from.
        distances: from each of them, mm.
        near: roughly where the point is: of two mirror images the nearer one is taken.
        sure_mm: +/- of one tape reading.
        system: what the words are in.

    Raises:
        InputError: fewer than three tapes, known points on one line, or distances that cannot meet.
    """
    if len(known) < 3:
        raise InputError("Tapes", f"only {len(known)} distances.", "Tape from at least three known points.")
    bad = next((i for i, d in enumerate(distances) if d <= 0), None)
    if bad is not None:
        raise InputError(f"Tape from {known[bad].name}", "is no distance.", "Type what the tape shows.")
    places = np.array([k.point.xyz for k in known])
    _check_spread(known, places)
    sure = np.array([np.hypot(k.point.sure, sure_mm) for k in known])
    start = _start(known, places, np.asarray(distances, dtype=np.float64), np.array(near.xyz), sure, system)
    found = trilaterate(places, np.asarray(distances, dtype=np.float64), sure, start)
    worst = float(found.sure.max())
    x, y, z = found.point
    point = _point(
        x, y, z, min(worst, 20_000.0), "guessed" if any(k.point.known == "guessed" for k in known) else "taped"
    )
    words = _agreement(known, found.residual, found.suspect, sure, system)
    return Found(point, words, tuple(float(r) for r in found.residual), found.suspect)


def _check_spread(known: Sequence[Known], places: Array) -> None:
    """Refuse points that are too near to each other to tell a place."""
    extent = flatness(places)
    if extent[1] < 0.02 * max(extent[0], 1.0):
        names = ", ".join(k.name for k in known[:3])
        raise InputError(
            "Tapes", f"the known points ({names}) lie on one line: the point could be anywhere around it.",
            "Tape from one more point well off that line.",
        )  # fmt: skip


def _start(
    known: Sequence[Known], places: Array, distances: Array, near: Array, sure: Array,
    system: System,
) -> Array:  # fmt: skip
    """A place to start from: where the three best spread tapes meet, on the side of the rough place."""
    three = [0, 1, 2]
    if len(known) > 3:
        off = np.array([np.linalg.norm(np.cross(places[1] - places[0], p - places[0])) for p in places])
        three = [0, 1, int(off.argmax())]
    both, gap = spheres_meet(places[three], distances[three])
    if len(known) == 3:
        reach = 3.0 * float(np.sqrt(2.0 * sure.max() * distances.max()))
        if gap > reach:
            raise InputError("Tapes", _cannot_meet(known, places, distances, system), "Re-measure that one first.")
    nearest: Array = both[int(np.argmin(np.linalg.norm(both - near, axis=1)))]
    return nearest


def _cannot_meet(known: Sequence[Known], places: Array, distances: Array, system: System) -> str:
    """Which pair of tapes is apart, or that the third one misses their circle."""
    unit = length_unit(system)
    for i, j in ((0, 1), (0, 2), (1, 2)):
        apart = float(np.linalg.norm(places[i] - places[j]))
        short = apart - distances[i] - distances[j]
        over = abs(distances[i] - distances[j]) - apart
        if short > 0:
            return (
                f"the distances from {known[i].name} and {known[j].name} are together {format_length(short, system)} "
                f"{unit} too short to meet."
            )
        if over > 0:
            longer = known[i if distances[i] > distances[j] else j].name
            return f"the distance from {longer} is {format_length(over, system)} {unit} too long for the other two."
    fit = trilaterate(places, distances, np.ones(3), places.mean(axis=0) + np.array([0.0, 0.0, 1.0]))
    worst = int(np.argmax(np.abs(fit.residual)))
    return (
        f"the three distances cannot meet: they miss each other by {format_length(abs(fit.residual[worst]), system)} "
        f"{unit}, the one from {known[worst].name} most."
    )


def _agreement(
    known: Sequence[Known], residual: Array, suspect: int, sure: Array, system: System
) -> str:  # fmt: skip
    """How well the distances agree, in words."""
    unit, count = length_unit(system), len(known)
    if count == 3:
        return "Three tapes: just enough. A fourth would show how well they agree."
    worst = int(np.argmax(np.abs(residual)))
    most = format_length(abs(float(residual[worst])), system)
    if suspect >= 0:
        return f"The tape from {known[suspect].name} disagrees with all others: take it again."
    if np.abs(residual / sure).max() > 3.0:
        if count == 4:
            return f"The four tapes disagree by {most} {unit}. Tape from a fifth point to find which one is wrong."
        return (
            f"The tapes disagree by {most} {unit}, the one from {known[worst].name} most, but which is wrong cannot be "
            "told: take that one again first, or tape from one more point."
        )
    return f"{count} tapes agree to {most} {unit}."


def _derived(known: Known) -> HowKnown:
    """How a point is known that follows from another."""
    return "guessed" if known.point.known == "guessed" else "derived"


def _point(x: float, y: float, z: float, sure: float, known: HowKnown | None) -> Point:
    if max(abs(x), abs(y), abs(z)) > 20_000:
        raise InputError("Point", "comes out farther away than any car is long.", "Check the figures.")
    return Point(x=float(x), y=float(y), z=float(z), sure=float(sure), known=known)
