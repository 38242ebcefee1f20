"""Springs as numbers: which points each hangs on, how long it is, and what it gives at that length."""

from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from even_stance.mechanics.coils import POLYTROPIC, air_force, bar_rate, pair_closes, pair_force
from even_stance.mechanics.steering import around, link_turn
from even_stance.mechanics.vectors import Array, cross, dot, norm
from even_stance.vehicle.car import Axle
from even_stance.vehicle.members import Leaf, Rod
from even_stance.vehicle.springs import (
    AirSpring,
    AnySpring,
    BumpStop,
    CoilOver,
    CoilSpring,
    Rocker,
    Strap,
    SwayBar,
)

Law = Callable[[Array], tuple[Array, Array]]
STRAP_N_MM = 300.0  # a strap that is tight, for screening: as stiff as a bump stop (common practice, no source)
SOLID_N_MM = 5000.0  # a stop, coil or shock that is at its end


@dataclass(frozen=True, eq=False)
class Unit:
    """A spring on an axle, as numbers.

    Attributes:
        name, side, kind: which it is; part: its record, or the leaf's.
        points: what of it rides on the axle, at ride height, mm, shape (m, 3)
        measure: from those points, wherever they are, mm, shape (..., m, 3), to its length, mm, or twist, rad, (...)
        law: from lengths (or twists) to its push, N (or torque, N mm, against the twist), and rate, shape (...)
        spring: whether it carries the car, so that a motion ratio and wheel rate are said of it.
        top: where its upper end is, where its length is simply how far its one point is from there, mm, shape (3,)
    """

    name: str
    side: str
    kind: str
    part: AnySpring | Leaf
    points: Array
    measure: Callable[[Array], Array]
    law: Law
    spring: bool
    top: Array | None = None


Ends = dict[str, Array]


def _at(part: AnySpring | Leaf) -> Ends:
    """Where the ends of a part are at ride height, mm, shape (3,) each."""
    return {end: np.array(mount.at.xyz) for end, mount in part.mounts.items()}


def units_of(axle: Axle) -> tuple[Unit, ...]:
    """Every spring, stop, strap and bar of an axle, and its leaves."""
    return _units(axle.springs, axle.members)


@lru_cache(maxsize=32)
def _units(springs: tuple[AnySpring, ...], members: tuple[object, ...]) -> tuple[Unit, ...]:
    rods = {m.name: m for m in members if isinstance(m, Rod)}
    leaves = [m for m in members if isinstance(m, Leaf)]
    return (*(unit_of(part, rods) for part in springs), *(_leaf(leaf) for leaf in leaves))


def unit_of(part: AnySpring, rods: dict[str, Rod], at: Ends | None = None) -> Unit:
    """A spring as numbers.

    Args:
        part: the spring; rods: the links that it may stand on, by name.
        at: its ends, of many like it that differ a little, mm, shape (v, 1, 3) each; as they are if not given.
    """
    at = _at(part) if at is None else at
    if isinstance(part, SwayBar):
        return _bar(part, at)
    if isinstance(part, Rocker):
        return _rocker(part, at)
    top, bottom, rod = at["top"], at["bottom"], rods.get(part.on)
    place = None if rod is None else on_rod(rod, bottom)
    hangs = bottom if rod is None else np.broadcast_to(np.array(rod.axle.at.xyz), bottom.shape)
    points = hangs[..., None, :]

    def measure(now: Array) -> Array:
        return norm((now[..., 0, :] if place is None else place(now[..., 0, :])) - top)

    carries = isinstance(part, CoilOver | CoilSpring | AirSpring)
    law = law_of(part, norm(bottom - top))
    return Unit(part.name, part.side, part.kind, part, points, measure, law, carries, top if rod is None else None)


def on_rod(rod: Rod, at: Array) -> Callable[[Array], Array]:
    """Where a place on a link is, from its axle end's place; the link turns about its frame end the short way."""
    pivot, far = (np.array(m.at.xyz) for m in (rod.chassis, rod.axle))
    ride = far - pivot
    old = ride / norm(ride)
    arm = at - pivot

    def place(end: Array) -> Array:
        way = end - pivot
        new = way / norm(way)[..., None]
        axis, cosine = cross(np.broadcast_to(old, new.shape), new), dot(new, np.broadcast_to(old, new.shape))
        bent = cross(axis, arm)
        turned: Array = arm + bent + cross(axis, bent) / (1.0 + cosine)[..., None]
        now: Array = pivot + turned
        return now

    return place


def _along(a: Array, b: Array) -> Array:
    """The direction from one place to another, 1, shape (..., 3)."""
    run = b - a
    way: Array = run / norm(run)[..., None]
    return way


def _rocker(part: Rocker, at: Ends) -> Unit:
    """A rocker: how far the pushrod turns it, and how long its shock then is."""
    axis = _along(at["pivot"], at["pivot_to"])

    def measure(now: Array) -> Array:
        turned = link_turn(at["pivot"], axis, at["push_top"], at["push_bottom"], now[..., 0, :])
        return norm(around(at["pivot"], axis, turned, at["low"]) - at["top"])

    law = law_of(part, norm(at["low"] - at["top"]))
    points = at["push_bottom"][..., None, :]
    return Unit(part.name, part.side, part.kind, part, points, measure, law, part.coil is not None)


def rocker_turn(part: Rocker, bottom: Array) -> Array:
    """How far a rocker has turned with its pushrod's axle end at some places, rad, shape (...); nan over center."""
    at = _at(part)
    return link_turn(at["pivot"], _along(at["pivot"], at["pivot_to"]), at["push_top"], at["push_bottom"], bottom)


_BAR_ENDS = ("bearing_left", "bearing_right", "arm_left", "arm_right", "drop_left", "drop_right")


def bar_points(part: SwayBar, at: Ends | None = None) -> Array:
    """What of a sway bar rides on the axle: the links' far ends, or the bar and the places its links end at."""
    at = _at(part) if at is None else at
    return np.stack([at[end] for end in (_BAR_ENDS[4:] if part.bar_on == "chassis" else _BAR_ENDS)], axis=-2)


def bar_turns(part: SwayBar, now: Array, at: Ends | None = None) -> Array:
    """How far either arm of a sway bar has turned, rad, shape (..., 2); nan where its link does not reach."""
    at = _at(part) if at is None else at
    one, other, *arms = (at[end] for end in _BAR_ENDS[:4])
    far = (at["drop_left"], at["drop_right"])
    if part.bar_on == "chassis":
        axis = _along(other, one)
        found = [link_turn(one, axis, arms[i], far[i], now[..., i, :]) for i in (0, 1)]
    else:
        # The bar goes along with the axle; its links' far ends stay on the frame.
        moved = now[..., 0, :]
        axis = _along(now[..., 1, :], moved)
        found = [link_turn(moved, axis, now[..., 2 + i, :], now[..., 4 + i, :], far[i]) for i in (0, 1)]
    return np.stack(np.broadcast_arrays(*found), axis=-1)


def bar_stiffness(part: SwayBar, at: Ends | None = None) -> Array:
    """A bar's torque per turn of one arm against the other, N mm per rad, shape (...)."""
    at = _at(part) if at is None else at
    one, other = at["bearing_left"], at["bearing_right"]
    axis = _along(other, one)
    left, right = (norm(cross(at[f"arm_{side}"] - one, axis)) for side in ("left", "right"))
    reach = 0.5 * (left + right)
    return bar_rate(norm(one - other), part.bar_mm, part.inside_mm, reach, part.arm_mm, part.shear_n_mm2)


def _bar(part: SwayBar, at: Ends) -> Unit:
    """A sway bar: how far it is twisted."""

    def measure(now: Array) -> Array:
        turns = bar_turns(part, now, at)
        twist: Array = turns[..., 0] - turns[..., 1]
        return twist

    stiffness = bar_stiffness(part, at)

    def law(twist: Array) -> tuple[Array, Array]:
        return -stiffness * twist, np.broadcast_to(stiffness, np.shape(twist))

    return Unit(part.name, "center", part.kind, part, bar_points(part, at), measure, law, False)


def _leaf(part: Leaf) -> Unit:
    """A leaf spring: how high its seat is; what it carries at ride height is left to the balance there."""

    def measure(at: Array) -> Array:
        return -at[..., 0, 2]

    ride = float(part.seat.at.z)

    def law(low: Array) -> tuple[Array, Array]:
        return part.rate_n_mm * (-low - ride), np.full(np.shape(low), part.rate_n_mm)

    return Unit(part.name, part.side, part.kind, part, _at(part)["seat"][None], measure, law, True)


def law_of(part: AnySpring, ride: Array) -> Law:
    """What a part with two ends pushes and gives at lengths; ride is its length at ride height, mm, shape (...)."""
    if isinstance(part, AirSpring):
        return _air_law(part, ride)
    if isinstance(part, BumpStop):
        meets, solid = ride - part.gap_mm, ride - part.gap_mm - part.squeeze_mm

        def stop(length: Array) -> tuple[Array, Array]:
            squeeze = np.maximum(meets - length, 0.0)
            past = np.maximum(solid - length, 0.0)
            force = part.rate_n_mm * squeeze + SOLID_N_MM * past
            return force, np.where(length < meets, part.rate_n_mm, 0.0) + np.where(length < solid, SOLID_N_MM, 0.0)

        return stop
    if isinstance(part, Strap):
        tight = part.length_mm

        def strap(length: Array) -> tuple[Array, Array]:
            return -STRAP_N_MM * np.maximum(length - tight, 0.0), np.where(length > tight, STRAP_N_MM, 0.0)

        return strap
    coils = getattr(part, "coils", ())
    if not coils:
        return lambda length: (np.zeros(np.shape(length)), np.zeros(np.shape(length)))
    free = sum(c.free_mm - c.sag_mm for c in coils) + part.seats_mm  # type: ignore[union-attr]
    lower = coils[0]
    if len(coils) == 1:

        def coil(length: Array) -> tuple[Array, Array]:
            squeeze = np.maximum(free - length, 0.0)
            return lower.rate_n_mm * squeeze, np.where(length < free, lower.rate_n_mm, 0.0)

        return coil
    upper = coils[1]
    rooms = pair_rooms(part)  # type: ignore[arg-type]
    return lambda length: pair_force(free - np.asarray(length), lower.rate_n_mm, upper.rate_n_mm, *rooms)


def pair_rooms(part: CoilOver) -> tuple[float, float]:
    """How far the lower and the upper coil of a pair close, mm."""
    return part.coil.free_mm - part.coil.sag_mm - part.coil.solid_mm, upper_closes(part)


def pair_lengths(part: CoilOver) -> tuple[float, float]:
    """The lengths of a pair, free with its seats less what both are squeezed, at which its lower coil is solid and its
    upper one has closed, mm.
    """
    assert part.upper is not None
    free = sum(c.free_mm - c.sag_mm for c in part.coils) + part.seats_mm
    low, high = pair_closes(part.coil.rate_n_mm, part.upper.rate_n_mm, *pair_rooms(part))
    return free - low, free - high


def upper_closes(part: CoilOver) -> float:
    """How far the upper coil of a pair closes: until its slider meets the stop, or until it is solid."""
    assert part.upper is not None
    solid = part.upper.free_mm - part.upper.sag_mm - part.upper.solid_mm
    return solid if part.crossover_mm is None else min(part.crossover_mm, solid)


def _air_law(part: AirSpring, ride: Array) -> Law:
    heights, areas = np.array(part.heights_mm), np.array(part.areas_mm2)

    def air(length: Array) -> tuple[Array, Array]:
        height = np.asarray(length) - part.seats_mm
        return air_force(
            height, heights, areas, 0.1 * part.pressure_bar, 1e6 * part.volume_l, ride - part.seats_mm, POLYTROPIC
        )

    return air
