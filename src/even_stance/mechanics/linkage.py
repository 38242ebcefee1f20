"""An axle held by members: every joint a constraint row on the freedoms of the axle.

The freedoms are the axle's twist (v, w): the velocity of its center and its turning rate, in chassis axes
(x ahead, y left, z up), and the turning rate of each crank of a watts link. A rod between chassis point c and axle
point a, with n = (a - c) / |a - c|, gives the row [n, (a - center) x n]. A guide holds an axle-fixed point a in one
chassis direction m and gives [m, (a - center) x m]. A rod that stands for an arm whose ball slides along the tube e,
its pivots along u, gives the row of n - u (n . e) / (u . e). The two wheel-travel rows (left and right wheel center,
upward) close it.
"""

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from even_stance.mechanics.pose import Mask, Pose
from even_stance.mechanics.vectors import Array, cross, norm, turn, turned_about


@dataclass(frozen=True)
class Blocks:
    """The rows of a constraint system by what gives them: where each block is among all rows.

    Attributes:
        rods, guides: those of the members; members: both of them.
        wheels: the two wheel-travel rows, left and right, which close the system. Springs and rams have rows like rods
            (`span_rows`) that stand in place of these, or beside them.
    """

    rods: slice
    guides: slice
    members: slice
    wheels: slice


@dataclass(frozen=True)
class Cranks:
    """Bell cranks of watts links: each turns about a pivot on the axle or on the chassis.

    Attributes:
        pivot: pivots at ride height, mm, shape (..., k, 3)
        axis: unit vectors along the pivots at ride height, 1, shape (..., k, 3)
        on_axle: which of them ride on the axle, shape (k,)
        of_rod: the crank each rod hangs on, -1 for none; the rod's axle end rides on a crank that is on the axle, its
            chassis end on one that is on the chassis, shape (n,)
    """

    pivot: Array
    axis: Array
    on_axle: tuple[bool, ...]
    of_rod: tuple[int, ...]

    def rods_of(self, k: int) -> list[int]:
        """The rods that hang on a crank."""
        return [i for i, crank in enumerate(self.of_rod) if crank == k]


@dataclass(frozen=True, eq=False)
class Linkage:
    """What holds one axle, at ride height; arrays may carry leading batch axes (variants). Equal only to itself.

    Attributes:
        center: axle center, mm, shape (..., 3)
        wheels: left and right wheel centers, mm, shape (..., 2, 3)
        chassis: chassis ends of the rods, mm, shape (..., n, 3)
        axle: axle ends of the rods, mm, shape (..., n, 3)
        lengths: joint to joint, mm, shape (..., n)
        guided: axle-fixed points held in a direction, mm, shape (..., g, 3)
        normals: the directions they are held in, in chassis axes, 1, shape (..., g, 3)
        cranks: the bell cranks, if any.
        stiffness: of each rod and guide, N/mm, shape (..., n + g); None when nothing needs to give.
        slides: for a rod whose axle end may slide along the axle's tube: unit vector along the pivots of the arm it
            stands for, which keeps its ball at one place along them; nil for all others, 1, shape (..., n, 3).
    """

    center: Array
    wheels: Array
    chassis: Array
    axle: Array
    lengths: Array
    guided: Array
    normals: Array
    cranks: Cranks | None = None
    stiffness: Array | None = None
    slides: Array | None = None

    @classmethod
    def as_drawn(cls, center: Array, wheels: Array, chassis: Array, axle: Array) -> "Linkage":
        """A linkage of rods that are just as long as their ends are apart at ride height."""
        chassis, axle = np.broadcast_arrays(chassis, axle)
        wheels = np.broadcast_to(wheels, (*axle.shape[:-2], 2, 3))
        none = np.zeros((*axle.shape[:-2], 0, 3))
        return cls(center, wheels, chassis, axle, norm(axle - chassis), none, none)

    @cached_property
    def arms(self) -> Array:
        """Axle ends, guided points and wheels about the axle center, mm, shape (..., n + g + 2, 3)."""
        about = self.center[..., None, :]
        parts = (self.axle - about, self.guided - about, self.wheels - about)
        batch = np.broadcast_shapes(*(p.shape[:-2] for p in parts))
        return np.concatenate([np.broadcast_to(p, (*batch, *p.shape[-2:])) for p in parts], axis=-2)

    @cached_property
    def ride_rows(self) -> Array:
        """The constraint rows at ride height, 1 and mm, shape (..., n + g + 2, 6 + k)."""
        return constraint_rows(self, at_ride(self, self.batch))

    @cached_property
    def turned_mm(self) -> Array:
        """How far its rods at most are from the length they are drawn at (threads turned), mm, shape (...)."""
        return np.asarray(np.abs(norm(self.axle - self.chassis) - self.lengths).max(axis=-1, initial=0.0))

    @property
    def held(self) -> int:
        """How many rows the members give."""
        return int(self.chassis.shape[-2] + self.guided.shape[-2])

    @property
    def blocks(self) -> Blocks:
        """Which rows are whose."""
        n, held = self.chassis.shape[-2], self.held
        return Blocks(slice(0, n), slice(n, held), slice(0, held), slice(held, held + 2))

    @property
    def freedoms(self) -> int:
        """Six of the axle and one for each crank."""
        return 6 if self.cranks is None else 6 + self.cranks.pivot.shape[-2]

    @property
    def batch(self) -> tuple[int, ...]:
        """The batch axes of the variants."""
        return self.chassis.shape[:-2]

    def picked(self, mask: Mask) -> "Linkage":
        """The variants that a mask over all postures picks; a linkage without variants serves all."""
        if not self.batch:
            return self

        def part(a: Array, own: int) -> Array:
            return np.broadcast_to(a, (*mask.shape, *a.shape[a.ndim - own :]))[mask]

        cranks = self.cranks
        if cranks is not None:
            cranks = replace(cranks, pivot=part(cranks.pivot, 2), axis=part(cranks.axis, 2))
        stiffness = self.stiffness
        if stiffness is not None and stiffness.ndim > 1:
            stiffness = part(stiffness, 1)
        slides = None if self.slides is None else part(self.slides, 2)
        return Linkage(
            part(self.center, 1), part(self.wheels, 2), part(self.chassis, 2), part(self.axle, 2),
            part(self.lengths, 1), part(self.guided, 2), part(self.normals, 2), cranks, stiffness, slides,
        )  # fmt: skip


def at_ride(linkage: Linkage, batch: tuple[int, ...] = ()) -> Pose:
    """The pose at ride height.

    Args:
        linkage: the linkage, mm, shape (..., n, 3)
        batch: how many postures, 1, shape ()

    Returns:
        The pose, mm and 1, shape (N, 3).

    Source: derived here; nothing has moved.
    """
    return Pose(
        np.broadcast_to(linkage.center, (*batch, 3)),
        np.broadcast_to(np.eye(3), (*batch, 3, 3)),
        np.zeros((*batch, linkage.freedoms - 6)),
        np.ones(batch),
        np.zeros(batch),
        np.zeros((*batch, linkage.held)),
    )


def placed(linkage: Linkage, pose: Pose, points: Array) -> Array:
    """Where axle-fixed points are at a pose.

    Args:
        linkage: the linkage, mm, shape (..., n, 3)
        pose: the pose, mm and 1, shape (N, 3)
        points: axle-fixed points given at ride height, mm, shape (..., m, 3)

    Returns:
        The points in chassis axes, mm, shape (N, m, 3).

    Source: derived here; a rigid displacement.
    """
    moved: Array = pose.center[..., None, :] + turn(pose.rotation, points - linkage.center[..., None, :])
    return moved


def arms_at(linkage: Linkage, pose: Pose) -> tuple[Array, Array, Array | None]:
    """Where the chassis ends are, how far all axle-fixed points reach from the axle center, and what the cranks do.

    Args:
        linkage: the linkage, mm, shape (..., n, 3)
        pose: the pose, mm, 1 and rad, shape (N, 3)

    Returns:
        Chassis ends of the rods, mm, shape (..., n, 3); arms of axle ends, guided points and wheels about the axle
        center, in chassis axes, mm, shape (N, n + g + 2, 3); and, where there are cranks, how each rod's axle end moves
        relative to its chassis end per turn of its crank, in chassis axes, mm, shape (N, n, 3).

    Source: derived here; rigid displacements.
    """
    cranks = linkage.cranks
    if cranks is None:
        return linkage.chassis, _slid(linkage, pose, linkage.chassis, turn(pose.rotation, linkage.arms)), None
    batch = np.broadcast_shapes(pose.crank.shape[:-1], linkage.batch)
    chassis = np.broadcast_to(linkage.chassis, (*batch, *linkage.chassis.shape[-2:])).copy()
    local = np.broadcast_to(linkage.arms, (*batch, *linkage.arms.shape[-2:])).copy()
    moves = np.zeros(chassis.shape)
    for k, on_axle in enumerate(cranks.on_axle):
        mine = cranks.rods_of(k)
        pivot, axis = cranks.pivot[..., k, :], cranks.axis[..., k, :]
        origin = pivot - linkage.center if on_axle else pivot
        ends = local if on_axle else chassis
        arm = turned_about(axis, pose.crank[..., k], ends[..., mine, :] - origin[..., None, :])
        ends[..., mine, :] = origin[..., None, :] + arm
        rate = cross(np.broadcast_to(axis[..., None, :], arm.shape), arm)
        moves[..., mine, :] = turn(pose.rotation, rate) if on_axle else -rate
    return chassis, _slid(linkage, pose, chassis, turn(pose.rotation, local)), moves


def _slid(linkage: Linkage, pose: Pose, chassis: Array, arm: Array) -> Array:
    """Arms of axle ends that slide along the tube, moved to where the ball of their arm stays along its pivots.

    With u along the pivots, e along the tube and a the axle-fixed point, the ball is at a + s e with u . (a + s e - c)
    nil: s = -u . (a - c) / (u . e).
    """
    if linkage.slides is None:
        return arm
    n, u, tube = linkage.chassis.shape[-2], linkage.slides, pose.rotation[..., None, :, 1]
    span = pose.center[..., None, :] + arm[..., :n, :] - chassis
    along = (u * tube).sum(axis=-1)
    slide = np.where(along == 0.0, 0.0, -(u * span).sum(axis=-1) / np.where(along == 0.0, 1.0, along))
    moved = np.array(np.broadcast_to(arm, (*slide.shape[:-1], *arm.shape[-2:])))
    moved[..., :n, :] += slide[..., None] * tube
    return moved


def rod_ends(linkage: Linkage, pose: Pose) -> tuple[Array, Array]:
    """Both ends of every rod at a pose, cranks turned.

    Args:
        linkage: the linkage, mm, shape (..., n, 3)
        pose: the pose, mm, 1 and rad, shape (N, 3)

    Returns:
        Chassis ends and axle ends in chassis axes, mm, shape (N, n, 3) each.

    Source: derived here; rigid displacements.
    """
    chassis, arm, _ = arms_at(linkage, pose)
    ends: Array = pose.center[..., None, :] + arm[..., : linkage.chassis.shape[-2], :]
    return np.broadcast_to(chassis, ends.shape), ends


def closure(linkage: Linkage, pose: Pose, travel: Array) -> tuple[Array, Array]:
    """How far a pose is from closing the linkage, and the constraint rows there.

    Args:
        linkage: the linkage, mm, shape (..., n, 3)
        pose: the pose, mm, 1 and rad, shape (N, 3)
        travel: rise asked of the left and right wheel centers, mm, shape (..., 2)

    Returns:
        Residuals: rods too long (+), guided points too far along their direction (+), wheels too high (+), mm, shape
        (..., n + g + 2); and rows on the twist (v, w) and the crank rates, 1 and mm, shape (..., n + g + 2, 6 + k).

    Source: derived here; the row of a rod is the velocity of its axle end along the rod.
    """
    block = linkage.blocks
    chassis, arm, moves = arms_at(linkage, pose)
    center = pose.center[..., None, :]
    span = center + arm[..., block.rods, :] - chassis
    length = norm(span)
    rows = np.zeros((*arm.shape[:-1], linkage.freedoms))
    direction = rows[..., :3]
    np.divide(span, length[..., None], out=direction[..., block.rods, :])
    direction[..., block.guides, :] = linkage.normals
    direction[..., block.wheels, 2] = 1.0
    if linkage.slides is not None:
        # What the ball slides by is free: its direction along the tube falls out of the row, u keeping it in its plane.
        u, tube = linkage.slides, pose.rotation[..., None, :, 1]
        along = (u * tube).sum(axis=-1)
        off = (direction[..., block.rods, :] * tube).sum(axis=-1) / np.where(along == 0.0, 1.0, along)
        direction[..., block.rods, :] -= off[..., None] * u
    residual = np.empty(arm.shape[:-1])
    np.subtract(length, linkage.lengths, out=residual[..., block.rods])
    if linkage.guided.shape[-2]:
        strayed = center + arm[..., block.guides, :] - linkage.guided
        residual[..., block.guides] = (strayed * linkage.normals).sum(axis=-1)
    wheels = center[..., 2] + arm[..., block.wheels, 2]
    residual[..., block.wheels] = wheels - (linkage.wheels[..., 2] + travel)
    cross(arm, direction, rows[..., 3:6])
    if linkage.cranks is not None and moves is not None:
        for k in range(len(linkage.cranks.on_axle)):
            mine = linkage.cranks.rods_of(k)
            rows[..., mine, 6 + k] = (direction[..., mine, :] * moves[..., mine, :]).sum(axis=-1)
    return residual, rows


def span_rows(linkage: Linkage, pose: Pose, chassis: Array, axle: Array) -> Array:
    """Rows of whatever spans from the chassis to the axle: how fast it grows with the twist of the axle.

    Args:
        linkage: the linkage, mm, shape (..., n, 3)
        pose: the pose, mm, 1 and rad, shape (N, 3)
        chassis: its ends on the chassis, mm, shape (k, 3)
        axle: its ends on the axle, given at ride height, mm, shape (k, 3)

    Returns:
        Rows on the twist (v, w) of the axle and the crank rates, 1 and mm, shape (N, k, 6 + cranks).

    Source: derived here; as the row of a rod.
    """
    arm = turn(pose.rotation, axle - linkage.center)
    span = pose.center[..., None, :] + arm - chassis
    direction = span / norm(span)[..., None]
    rows = np.zeros((*direction.shape[:-1], linkage.freedoms))
    rows[..., :3] = direction
    rows[..., 3:6] = cross(arm, direction)
    return rows


def constraint_rows(linkage: Linkage, pose: Pose) -> Array:
    """The constraint matrix at a pose: a row for each rod and guide, then the left and right wheel-travel rows.

    Args:
        linkage: the linkage, mm, shape (..., n, 3)
        pose: the pose, mm, 1 and rad, shape (N, 3)

    Returns:
        Rows on the twist (v, w) of the axle and the crank rates, 1 and mm, shape (N, n + g + 2, 6 + k).

    Source: derived here; see closure.
    """
    return closure(linkage, pose, np.zeros(2))[1] if pose.rows is None else pose.rows


def constraint_freedoms(linkage: Linkage) -> tuple[int, Array]:
    """How many independent ways the members and the wheels hold the axle, and the motions left free, at ride height.

    Args:
        linkage: any number of rods and guides, mm, shape (n, 3)

    Returns:
        The rank of all rows (6 + k when the axle and its cranks are held), and the free motions as rows, translations 1
        and turns scaled by half the track, 1, shape (6 + k - rank, 6 + k).

    Source: derived here; singular values of the constraint rows.
    """
    rows = linkage.ride_rows
    half = 0.5 * abs(linkage.wheels[0, 1] - linkage.wheels[1, 1])
    scale = np.full(linkage.freedoms, 1.0 / half)
    scale[:3] = 1.0
    _, values, directions = np.linalg.svd(rows * scale)
    rank = int((values > 1e-6 * values[0]).sum())
    return rank, directions[rank:]
