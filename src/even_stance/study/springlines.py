"""Springs as they are drawn: coils at their length, shocks with their rod, stops, straps, bars and rockers."""

from collections.abc import Iterator, Mapping
from itertools import pairwise

import numpy as np

from even_stance.mechanics.vectors import Array, cross, norm
from even_stance.study.drawing import Area, Path, Shape, View, Xyz, project
from even_stance.vehicle.car import Axle
from even_stance.vehicle.springs import (
    AirSpring,
    AnySpring,
    BumpStop,
    CoilOver,
    CoilSpring,
    Damped,
    Rocker,
    Strap,
    SwayBar,
)

_TURNS, _WIRE_MM, _COIL_MM = 8, 12.0, 110.0
_OVER_MM = 92.0  # a coil that goes over a shock
_LINK_MM = 20.0
_BODY_SHARE = 0.52
_SAG_STEPS = 9


def spring_shapes(axle: Axle, points: Mapping[tuple[str, str], Xyz], view: View, active: bool) -> tuple[Shape, ...]:
    """Every spring of an axle in one projection, from where its mounts are now."""
    found: list[Shape] = []
    for part in axle.springs:
        at = {end: np.array(points[part.name, end]) for end in part.mounts}
        found += _shapes(part, at, view)
    if active:
        return tuple(found)
    return tuple(type(s)(s.places, f"{s.style}-faint", *([s.width_mm] if isinstance(s, Path) else []))
                 for s in found if isinstance(s, Path | Area))  # fmt: skip


def _shapes(part: AnySpring, at: dict[str, Array], view: View) -> Iterator[Shape]:
    """One spring, its far parts first."""
    if isinstance(part, SwayBar):
        yield _line(at["bearing_left"], at["bearing_right"], view, "bar", part.bar_mm)
        for side in ("left", "right"):
            yield _line(at[f"bearing_{side}"], at[f"arm_{side}"], view, "bar", part.arm_mm)
            yield _line(at[f"arm_{side}"], at[f"drop_{side}"], view, "shock", _LINK_MM)
        return
    if isinstance(part, Rocker):
        yield _line(at["push_top"], at["push_bottom"], view, "shock", 1.5 * _LINK_MM)
        corners = tuple(_flat(at[end], view) for end in ("pivot", "push_top", "low"))
        yield Area(corners, "rocker")
        yield from _damper(part, at["top"], at["low"], view)
        if part.coil is not None:
            yield from _coil(at["top"], at["low"], 0.5 * part.seats_mm, _OVER_MM, view)
        return
    top, bottom = at["top"], at["bottom"]
    if isinstance(part, Damped):
        yield from _damper(part, top, bottom, view)
    if isinstance(part, CoilOver):
        yield from _coil(top, bottom, 0.5 * part.seats_mm, _OVER_MM, view)
    elif isinstance(part, CoilSpring):
        yield from _coil(top, bottom, 0.5 * part.seats_mm, _COIL_MM, view)
    elif isinstance(part, AirSpring):
        inner = _between(top, bottom, 0.5 * part.seats_mm)
        yield _line(top, bottom, view, "shock", _LINK_MM)
        yield _line(*inner, view, "stop", part.body_mm)
    elif isinstance(part, BumpStop):
        # The rubber hangs from its upper mount as far as its gap leaves, the pad stands at the lower one.
        length = float(norm(np.array(part.bottom.at.xyz) - np.array(part.top.at.xyz))) - part.gap_mm
        run = bottom - top
        tip = top + run * min(1.0, length / max(float(norm(run)), 1e-9))
        yield _line(top, tip, view, "stop", 44.0)
        yield _line(bottom + np.array([0.0, -32.0, 0.0]), bottom + np.array([0.0, 32.0, 0.0]), view, "shock", 8.0)
    elif isinstance(part, Strap):
        yield Path(tuple(_flat(p, view) for p in _sagging(top, bottom, part.length_mm)), "strap", 14.0)


def _damper(part: Damped, top: Array, bottom: Array, view: View) -> Iterator[Shape]:
    """A shock, its body below and its rod above."""
    run = bottom - top
    middle = bottom - run * min(_BODY_SHARE * part.closed_mm * 1.6 / max(float(norm(run)), 1e-9), 0.9)
    yield _line(top, middle, view, "shock", part.shaft_mm)
    yield _line(middle, bottom, view, "shock", part.body_mm)


def _coil(top: Array, bottom: Array, seat: float, wide: float, view: View) -> Iterator[Path]:
    """A coil between its seats, as it is seen from the side: the far half of every turn, then the near one over it."""
    a, b = _between(top, bottom, seat)
    (h0, v0), (h1, v1) = _flat(a, view), _flat(b, view)
    dh, dv = h1 - h0, v1 - v0
    long = max(float(np.hypot(dh, dv)), 1e-6)
    # Seen along itself a coil is a ring, and hardly a line: its width goes with how much of it is seen.
    across = 0.5 * wide * min(1.0, long / max(0.35 * float(norm(b - a)), 1e-6))
    nh, nv = -dv / long * across, dh / long * across
    shares = (np.arange(2 * _TURNS + 1)) / (2 * _TURNS)
    sides = np.where(np.arange(2 * _TURNS + 1) % 2, 1.0, -1.0)
    places = [(float(h0 + s * dh + w * nh), float(v0 + s * dv + w * nv)) for s, w in zip(shares, sides, strict=True)]
    pairs = list(pairwise(places))
    yield from (Path(pair, "coil-far", 0.6 * _WIRE_MM) for pair in pairs[1::2])
    yield from (Path(pair, "coil", 1.3 * _WIRE_MM) for pair in pairs[::2])


def _between(top: Array, bottom: Array, off: float) -> tuple[Array, Array]:
    """A line shortened at both ends."""
    run = bottom - top
    share = min(off / max(float(norm(run)), 1e-9), 0.4)
    return top + share * run, bottom - share * run


def _sagging(a: Array, b: Array, length: float) -> list[Array]:
    """A strap between two places: straight when it is tight, else bowed aside by what it has to spare."""
    run = b - a
    far = float(norm(run))
    spare = max(length - far, 0.0)
    bow = np.sqrt(3.0 / 8.0 * spare * max(far, 1.0))  # a flat parabola is longer than its chord by 8 s^2 / 3 c
    aside = cross(run, np.array([1.0, 0.0, 0.0]))
    size = float(norm(aside))
    aside = aside / size if size > 1e-6 else np.array([0.0, 1.0, 0.0])
    return [a + s * run + 4.0 * s * (1.0 - s) * bow * aside for s in np.linspace(0.0, 1.0, _SAG_STEPS)]


def _line(a: Array, b: Array, view: View, style: str, width: float) -> Path:
    return Path((_flat(a, view), _flat(b, view)), style, width)


def _flat(at: Array, view: View) -> tuple[float, float]:
    return project(view, (float(at[0]), float(at[1]), float(at[2])))
