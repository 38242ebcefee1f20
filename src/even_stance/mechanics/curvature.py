"""How the constraint rows turn as the axle moves: what loads do to a linkage that gives."""

import numpy as np

from even_stance.mechanics.linkage import Cranks, Linkage, arms_at
from even_stance.mechanics.pose import Pose
from even_stance.mechanics.vectors import Array, cross, norm, skew, turn


def curvature(linkage: Linkage, pose: Pose, rows: Array, pull: Array) -> Array:
    """How the wrench of given member loads changes as the axle moves: d(J^T f)/dq at fixed f, J the constraint rows.

    A rod of length L with row n^T B, B the velocity of its axle end relative to its chassis end per unit of q, swings
    by (I - n n^T) B / L: that gives f / L (B^T B - row^T row). The arm a of any row is turned by the axle's own turn w:
    f (w x a) x n = f (a n^T - (a . n) I) w. What rides on a crank has the two terms of its circle on top.

    Args:
        linkage: the linkage, mm, shape (..., n, 3)
        pose: the pose, mm, 1 and rad, shape (N, 3)
        rows: the constraint rows there, 1 and mm, shape (N, n + g + 2, 6 + k)
        pull: loads of rods and guides and at the wheels, N, shape (N, n + g + 2)

    Returns:
        The derivative, N/mm, N and N mm, shape (N, 6 + k, 6 + k).

    Source: derived here; the geometric stiffness of a loaded bar (Przemieniecki, Theory of Matrix Structural Analysis,
    from memory) put on the freedoms of the axle.
    """
    n = linkage.chassis.shape[-2]
    chassis, arm, moves = arms_at(linkage, pose)
    ends, along = arm[..., :n, :], rows[..., :n, :]
    length = norm(pose.center[..., None, :] + ends - chassis)
    per_length = (pull[..., :n] / length)[..., None]
    bent = -(np.swapaxes(along, -1, -2) @ (per_length * along))
    # B^T B in blocks: of the velocity, of the turn together with what the turn of the arms gives, and between the two.
    loads = pull[..., None] * rows[..., :3]
    lever = per_length * ends
    inner = loads.copy()
    inner[..., :n, :] -= lever
    turned = np.swapaxes(arm, -1, -2) @ inner
    bent[..., 3:6, 3:6] += turned
    stretch, trace = per_length.sum(axis=(-1, -2)), turned[..., 0, 0] + turned[..., 1, 1] + turned[..., 2, 2]
    for i in range(3):
        bent[..., i, i] += stretch
        bent[..., 3 + i, 3 + i] -= trace
    between = skew(lever.sum(axis=-2))
    bent[..., :3, 3:6] -= between
    bent[..., 3:6, :3] += between
    if linkage.cranks is not None and moves is not None:
        _add_cranks(bent, linkage.cranks, pose, (ends, moves), (per_length, loads))
    return np.asarray(bent, dtype=np.float64)


def _add_cranks(
    bent: Array, cranks: Cranks, pose: Pose, places: tuple[Array, Array], pulls: tuple[Array, Array]
) -> None:
    """What the turn of a crank adds: B^T B, the circle its rod ends go on, and that one on the axle turns with it."""
    for k, on_axle in enumerate(cranks.on_axle):
        mine = cranks.rods_of(k)
        (arm, rate), (per_length, load) = ([a[..., mine, :] for a in pair] for pair in (places, pulls))
        axis = cranks.axis[..., k : k + 1, :]
        swing = per_length * rate
        column = np.concatenate((swing.sum(axis=-2), cross(arm, swing).sum(axis=-2)), axis=-1)
        if on_axle:
            axis = turn(pose.rotation, axis)
            column[..., 3:] += cross(rate, load).sum(axis=-2)
        bent[..., :6, 6 + k] += column
        bent[..., 6 + k, :6] += column
        inward = cross(np.broadcast_to(axis, rate.shape), rate)
        bent[..., 6 + k, 6 + k] += (swing * rate + inward * load).sum(axis=(-1, -2))
