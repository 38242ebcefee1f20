"""Where the ends of springs, rockers and bars are at postures: what the floor and the walk-around draw them from."""

from collections.abc import Callable

import numpy as np

from even_stance.mechanics.steering import around
from even_stance.mechanics.vectors import Array, norm, short_turn
from even_stance.study.springunits import bar_points, bar_turns, on_rod, rocker_turn
from even_stance.vehicle.car import Axle
from even_stance.vehicle.members import Rod
from even_stance.vehicle.spots import Spot
from even_stance.vehicle.springs import AnySpring, Rocker, SwayBar

Carry = Callable[[Array], Array]


def spring_points(axle: Axle, count: int, carry: Carry) -> dict[Spot, Array]:
    """Every mount of every spring of an axle at some postures, mm, shape (N, 3) each.

    Args:
        axle: the axle; count: N, how many postures.
        carry: where points that ride on the axle have gone, mm, shape (m, 3) to (N, m, 3).
    """
    found: dict[Spot, Array] = {}
    for part in axle.springs:
        ride = {end: np.array(mount.at.xyz) for end, mount in part.mounts.items()}
        now = {
            end: carry(at[None])[:, 0] if part.body(end) == "axle" else np.broadcast_to(at, (count, 3))
            for end, at in ride.items()
        }
        now |= _turned(axle, part, carry, now)
        found |= {Spot(axle.key, part.name, end): at for end, at in now.items()}
    return found


def _turned(axle: Axle, part: AnySpring, carry: Carry, now: dict[str, Array]) -> dict[str, Array]:
    """The mounts that go along with a rocker, with a bar's arms or with a link; what cannot follow stays."""
    if isinstance(part, Rocker):
        pivot, to, push, low = (np.array(part.mounts[e].at.xyz) for e in ("pivot", "pivot_to", "push_top", "low"))
        axis, turn = (to - pivot) / norm(to - pivot), np.nan_to_num(rocker_turn(part, now["push_bottom"]))
        return {end: around(pivot, axis, turn, at) for end, at in (("push_top", push), ("low", low))}
    if isinstance(part, SwayBar):
        turns = np.nan_to_num(bar_turns(part, carry(bar_points(part))))
        on_axle = part.bar_on == "axle"
        arms = {e: carry(np.array([part.mounts[e].at.xyz]))[:, 0] if on_axle else np.array(part.mounts[e].at.xyz)
                for e in ("arm_left", "arm_right")}  # fmt: skip
        one, other = now["bearing_left"], now["bearing_right"]
        axis = (one - other) / norm(one - other)[..., None]
        return {end: around(one, axis, turns[..., i], at) for i, (end, at) in enumerate(arms.items())}
    rod = next((m for m in axle.members if m.name == part.on and isinstance(m, Rod)), None)
    if rod is not None:
        return {"bottom": on_rod(rod, np.array(part.bottom.at.xyz))(carry(np.array([rod.axle.at.xyz]))[:, 0])}
    return {} if part.on == "axle" else {"bottom": carry(np.array([part.bottom.at.xyz]))[:, 0]}


def half_body(axle: str, name: str, end: str) -> str:
    """The body of the half of a shock, bump stop or the like that is fixed to one of its ends."""
    return f"{axle} {name}: half at {end}"


def half_poses(axle: Axle, points: dict[Spot, Array]) -> dict[str, tuple[Array, Array, Array]]:
    """Both halves of everything that slides or is squeezed: each goes with its own end and points to the other.

    Returns:
        By body: where its end is at ride height, mm (3,), and now, mm (N, 3), and the rotation, shape (N, 3, 3).
    """
    found = {}
    for part in axle.springs:
        if isinstance(part, SwayBar):
            continue
        ends = ("low", "top") if isinstance(part, Rocker) else ("bottom", "top")
        ride = [np.array(part.mounts[end].at.xyz) for end in ends]
        now = [points[Spot(axle.key, part.name, end)] for end in ends]
        turned = short_turn(ride[1] - ride[0], now[1] - now[0])
        for end, start, moved in zip(ends, ride, now, strict=True):
            found[half_body(axle.key, part.name, end)] = (start, moved, turned)
    return found
