"""Outputs that ride on another axle: the through shaft of a tandem starts at the housing of the axle before it."""

from functools import lru_cache

import numpy as np

from even_stance.errors import StanceError
from even_stance.mechanics.linkage import placed
from even_stance.mechanics.position import solve_posture
from even_stance.mechanics.vectors import Array, norm, turn
from even_stance.study.model import linkage_of
from even_stance.study.powertrain import axis_of
from even_stance.vehicle.car import Axle, Vehicle
from even_stance.vehicle.driveline import Yoke
from even_stance.vehicle.edits import with_changes
from even_stance.vehicle.records import Point

Carried = tuple[Array, Array]


def carrier_of(vehicle: Vehicle, axle: Axle) -> Axle | None:
    """The axle whose housing an axle's shaft starts from; None where that is the gearbox."""
    if axle.output is None or not axle.output.on:
        return None
    return vehicle.axle(axle.output.on)


def carried(vehicle: Vehicle, axle: Axle, left: Array, right: Array) -> Carried | None:
    """How far an output has gone with the axle that carries it, and how far its axis has turned.

    Args:
        vehicle: the vehicle; axle: the axle that is driven from the output.
        left, right: rise of the wheels of the axle that carries it, mm, shape (N,)

    Returns:
        What is added to its place, mm, and to its unit axis, 1, shape (N, 3) each; None where nothing carries it, or
        what does is not held.
    """
    other = carrier_of(vehicle, axle)
    if other is None or not other.members:
        return None
    try:
        linkage = linkage_of(other)
    except StanceError:
        return None
    output = axle.output
    assert output is not None
    pose = solve_posture(linkage, left, right)
    at, axis = np.array(output.at.xyz), axis_of(output)
    shift, turned = placed(linkage, pose, at[None])[..., 0, :] - at, turn(pose.rotation, axis[None])[..., 0, :] - axis
    return np.where(pose.ok[:, None], shift, np.nan), np.where(pose.ok[:, None], turned, np.nan)


def standing(vehicle: Vehicle, axle: Axle, left: float, right: float) -> Axle:
    """An axle with its output where the axle that carries it holds it; the same one where nothing has moved."""
    if carrier_of(vehicle, axle) is None or not (left or right):
        return axle
    return _standing(vehicle, axle, left, right)


@lru_cache(maxsize=16)
def _standing(vehicle: Vehicle, axle: Axle, left: float, right: float) -> Axle:
    moved = carried(vehicle, axle, np.array([left]), np.array([right]))
    if moved is None or not np.isfinite(moved[0]).all():
        return axle
    output = axle.output
    assert output is not None
    axis = axis_of(output) + moved[1][0]
    axis /= norm(axis)
    x, y, z = (float(v) for v in np.array(output.at.xyz) + moved[0][0])
    now: Yoke = with_changes(
        output,
        at=Point(x=x, y=y, z=z, sure=output.at.sure),
        nose_up_deg=float(np.degrees(np.arcsin(np.clip(axis[2], -1.0, 1.0)))),
        left_deg=float(np.degrees(np.arctan2(axis[1], axis[0]))),
    )
    return axle.model_copy(update={"output": now})
