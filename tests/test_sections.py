"""Shapes cut by a plane, against Qhull's hull of places on their surface, its facets cut one by one."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial import ConvexHull
from shapely import MultiPoint, Polygon

from even_stance.mechanics.cores import Core, section

# Places on a ball as seeds sit in a sunflower: none is far from the next.
_STEPS = np.arange(1500) + 0.5
_UP = 1.0 - 2.0 * _STEPS / 1500
_TURN = np.pi * (1.0 + 5.0**0.5) * _STEPS
_BALL = np.stack((np.cos(_TURN) * np.sqrt(1 - _UP**2), np.sin(_TURN) * np.sqrt(1 - _UP**2), _UP), axis=-1)


def _surface(core: Core) -> np.ndarray:
    """Places on the surface of a shape."""
    found = core.points
    if core.disc_mm:
        side = np.cross(core.axis, [0.3, 0.5, 0.8])
        side /= np.linalg.norm(side)
        turn = np.linspace(0, 2 * np.pi, 72, endpoint=False)[:, None]
        ring = core.disc_mm * (np.cos(turn) * side + np.sin(turn) * np.cross(core.axis, side))
        found = (found[:, None] + ring[None]).reshape(-1, 3)
    if core.ball_mm:
        ball = _BALL if len(found) < 10 else _BALL[::5]
        found = (found[:, None] + core.ball_mm * ball[None]).reshape(-1, 3)
    return found


def _cut(core: Core, at: np.ndarray, normal: np.ndarray, axes: np.ndarray) -> Polygon:
    cloud = _surface(core)
    edges = ConvexHull(cloud).simplices[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2)
    a, b = cloud[edges[:, 0]], cloud[edges[:, 1]]
    da, db = (a - at) @ normal, (b - at) @ normal
    passed = (da > 0) != (db > 0)
    share = (da / np.where(passed, da - db, 1.0))[passed, None]
    return MultiPoint(((a[passed] + share * (b[passed] - a[passed])) - at) @ axes.T).convex_hull


@settings(max_examples=40)
@given(st.integers(0, 10_000), st.sampled_from(["corners", "tube", "round", "tire"]))
def test_an_outline_is_that_of_the_hull_cut_facet_by_facet(seed: int, kind: str) -> None:
    rng = np.random.default_rng(seed)
    normal = rng.normal(size=3)
    normal /= np.linalg.norm(normal)
    first = np.cross(normal, rng.normal(size=3))
    first /= np.linalg.norm(first)
    axes = np.stack((first, np.cross(normal, first)))
    axis = rng.normal(size=3)
    axis /= np.linalg.norm(axis)
    points = rng.uniform(-100, 100, size=(12, 3)) if kind == "corners" else np.array([-60.0, 80.0])[:, None] * axis
    disc = 70.0 if kind in ("round", "tire") else 0.0
    ball = {"tube": 25.0, "tire": 15.0}.get(kind, 0.0)
    core = Core(points, ball, disc, axis)
    at = points.mean(axis=0) + rng.uniform(-15, 15, size=3)
    ring = section(core, at, normal, axes)
    wanted = _cut(core, at, normal, axes)
    if ring is None or wanted.area < 200.0:
        assert wanted.area < 200.0
        return
    found = Polygon(ring)
    # Places on what is round, the referee's and ours, leave some of it out.
    assert found.buffer(0).symmetric_difference(wanted).area <= 0.012 * wanted.area + 2.0
    assert section(core, at + 1000.0 * normal, normal, axes) is None


def test_a_ball_and_a_box_by_hand() -> None:
    """Pythagoras: a ball of 50 cut 30 off its middle is a circle of 40; a box cut level is its own rectangle."""
    axes = np.eye(3)[:2]
    ring = section(Core(np.zeros((1, 3)), 50.0), np.array([0.0, 0.0, 30.0]), np.array([0.0, 0.0, 1.0]), axes)
    assert ring is not None
    assert np.linalg.norm(ring, axis=1) == pytest.approx(np.full(len(ring), 40.0), abs=1e-6)
    corners = np.array([(x, y, z) for x in (-30.0, 30.0) for y in (-20.0, 20.0) for z in (0.0, 10.0)])
    ring = section(Core(corners), np.array([0.0, 0.0, 4.0]), np.array([0.0, 0.0, 1.0]), axes)
    assert ring is not None
    assert Polygon(ring).area == pytest.approx(60.0 * 40.0, rel=1e-9)
