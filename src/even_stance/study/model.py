"""From the records of an axle to the arrays of its linkage."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from even_stance.errors import LayoutError
from even_stance.mechanics.bushings import clamped_arm, in_series
from even_stance.mechanics.leaf import THREE_LINK_SHARE, half_rate
from even_stance.mechanics.linkage import Cranks, Linkage, constraint_freedoms
from even_stance.mechanics.pose import Mask
from even_stance.mechanics.tube import bend_per_force, twist_per_torque
from even_stance.mechanics.vectors import Array, cross, norm
from even_stance.vehicle.car import Axle
from even_stance.vehicle.members import AArm, AArmReversed, AnyMember, Leaf, Mount, RadiusArm, Rod, TorqueArm, Watts

_CURES = (
    "nothing holds it fore and aft: add a lower link at each side",
    "nothing holds it sideways: add a panhard bar or a watts link, or spread the uppers so that they triangulate",
    "it is free to rise and fall even with both wheels held",
    "it is free to roll even with both wheels held",
    "nothing stops it from turning over under power: add an upper link above or below the lowers",
    "nothing keeps it square in plan: spread the lower links apart",
    "the crank of its watts link turns freely: set its two links apart",
)
_KEPT = 16  # axles asked about again and again: those of the job and of a variant beneath, and a few steps of undo


def axle_title(axle: Axle) -> str:
    """How the axle is called in a sentence."""
    return f"{axle.key.capitalize()} axle"


def wheel_centers(axle: Axle) -> Array:
    """Left and right wheel centers at ride height, mm, shape (2, 3)."""
    x, y, z = axle.center
    half = axle.track_mm / 2
    return np.array([[x, y + half, z], [x, y - half, z]])


@dataclass(frozen=True)
class MountPlace:
    """One mount of an axle: which member and end, and what it is fixed to."""

    member: AnyMember
    end: str
    mount: Mount


@dataclass(frozen=True)
class RodPlace:
    """One rod of the linkage: from a mount on the chassis side to one on the axle side (indices into the mounts).

    Attributes:
        name: what it is called; crank: the crank it hangs on, or -1.
        shift: what is added to the chassis end, mm (the shackle of a torque arm hangs from above its front end).
        give: how much it may give without harm, mm.
        share: how far along from first to second mount the axle end sits (leaf springs: three quarters).
        swings: whether both of its ends are joints whose swing counts.
        other: the second pivot of an arm whose ball slides on the axle, -1 for all other rods.
    """

    name: str
    first: int
    second: int
    stiffness: float
    give: float
    crank: int = -1
    shift: tuple[float, float, float] = (0.0, 0.0, 0.0)
    share: float = 1.0
    swings: bool = True
    other: int = -1


@dataclass(frozen=True)
class GuidePlace:
    """One guide: the axle-fixed point at a mount held in a direction; a spring row deflects by its nature.

    Attributes:
        law: where its stiffness depends on where the mounts are: N/mm from all mounts (..., m, 3).
    """

    name: str
    mount: int
    normal: tuple[float, float, float]
    stiffness: float
    give: float
    spring: bool = False
    law: Callable[[Array], Array] | None = None


@dataclass(frozen=True)
class Layout:
    """How the members of an axle become rods, guides and cranks."""

    mounts: tuple[MountPlace, ...]
    rods: tuple[RodPlace, ...]
    guides: tuple[GuidePlace, ...]
    cranks: tuple[tuple[int, Watts], ...]

    @property
    def row_names(self) -> tuple[str, ...]:
        """The names of all rows, rods then guides."""
        return (*(r.name for r in self.rods), *(g.name for g in self.guides))

    @property
    def gives(self) -> Mask:
        """Which rows give in bushings, rather than deflecting as springs, shape (rows,)."""
        return np.array([True] * len(self.rods) + [not g.spring for g in self.guides])

    @property
    def allowed_give(self) -> Array:
        """How much every row may give without harm, mm, shape (rows,)."""
        return np.array([r.give for r in self.rods] + [g.give for g in self.guides])

    @property
    def stiffness(self) -> Array:
        """Stiffness of every row, N/mm, shape (rows,)."""
        return np.array([r.stiffness for r in self.rods] + [g.stiffness for g in self.guides])


@lru_cache(maxsize=_KEPT)
def layout_of(axle: Axle) -> Layout:
    """The rods, guides and cranks of an axle."""
    mounts: list[MountPlace] = []
    rods: list[RodPlace] = []
    guides: list[GuidePlace] = []
    cranks: list[tuple[int, Watts]] = []
    for member in axle.members:
        base = len(mounts)
        mounts += [MountPlace(member, end, mount) for end, mount in member.mounts.items()]
        if isinstance(member, Rod):
            rods.append(RodPlace(member.name, base, base + 1, *series(member.chassis, member.axle)))
        elif isinstance(member, AArm) and member.ball == "slides":
            joints = series(member.chassis_left, member.axle)
            rods.append(RodPlace(f"{member.name}, ball slides", base, base + 2, *joints, swings=False, other=base + 1))
        elif isinstance(member, AArm):
            legs = ((0, "left leg", member.chassis_left), (1, "right leg", member.chassis_right))
            rods += [
                RodPlace(f"{member.name}, {leg}", base + i, base + 2, *series(m, member.axle), swings=False)
                for i, leg, m in legs
            ]
        elif isinstance(member, AArmReversed):
            feet = ((1, "left leg", member.axle_left), (2, "right leg", member.axle_right))
            rods += [
                RodPlace(f"{member.name}, {leg}", base, base + i, *series(member.chassis, m), swings=False)
                for i, leg, m in feet
            ]
        elif isinstance(member, RadiusArm):
            _radius_arm(member, base, guides)
        elif isinstance(member, TorqueArm):
            _torque_arm(member, base, rods, guides)
        elif isinstance(member, Watts):
            _watts(member, base, rods, len(cranks))
            cranks.append((base, member))
        else:
            _leaf(member, base, rods, guides)
    return Layout(tuple(mounts), tuple(rods), tuple(guides), tuple(cranks))


_DIRECTIONS = (("fore and aft", (1.0, 0.0, 0.0)), ("sideways", (0.0, 1.0, 0.0)), ("up and down", (0.0, 0.0, 1.0)))


def series(a: Mount, b: Mount) -> tuple[float, float]:
    """Two joints one behind the other: stiffness, N/mm, and how much they may give together, mm."""
    return in_series(a.stiffness, b.stiffness), a.give_mm + b.give_mm


def _radius_arm(member: RadiusArm, base: int, guides: list[GuidePlace]) -> None:
    """The pivot holds the arm in all directions; up and down the bushed clamp lets the arm turn a little as well."""
    stiffness, give = series(member.chassis, member.axle)
    spread, clamp = member.clamp_spread_mm, member.axle

    def upright(points: Array) -> Array:
        length = np.abs(points[..., base, 0] - points[..., base + 1, 0]) + 1.0
        return clamped_arm(stiffness, clamp.stiffness, spread, length)

    own = np.zeros((base + 2, 3))
    own[base:] = member.chassis.at.xyz, member.axle.at.xyz
    for words, normal in _DIRECTIONS:
        name = f"{member.name}, {words}"
        if normal[2] and member.clamp == "bushed":
            length = abs(member.chassis.at.x - member.axle.at.x) + 1.0
            may = give + clamp.give_mm * 2.0 * length / spread
            guides.append(GuidePlace(name, base, normal, float(upright(own)), may, law=upright))
        else:
            guides.append(GuidePlace(name, base, normal, stiffness, give))


def _torque_arm(member: TorqueArm, base: int, rods: list[RodPlace], guides: list[GuidePlace]) -> None:
    """A torque arm as a rod or as guides, by how its front end is held."""
    stiffness, give = member.chassis.stiffness, member.chassis.give_mm
    if member.front == "shackle":
        above = (0.0, 0.0, member.shackle_mm)
        rods.append(RodPlace(f"{member.name}, shackle", base, base, stiffness, give, shift=above, swings=False))
    elif member.front == "slot":
        guides.append(GuidePlace(f"{member.name}, slot", base, (0.0, 0.0, 1.0), stiffness, give))
    else:
        guides += [GuidePlace(f"{member.name}, {w}", base, n, stiffness, give) for w, n in _DIRECTIONS]


def _watts(member: Watts, base: int, rods: list[RodPlace], crank: int) -> None:
    """The two links of a watts, hung on its crank."""
    names = list(member.ENDS)
    for side in ("left", "right"):
        inner, outer = base + names.index(f"crank_{side}"), base + names.index(f"outer_{side}")
        first, second = (outer, inner) if member.crank_on == "axle" else (inner, outer)
        joints = series(member.mounts[f"crank_{side}"], member.mounts[f"outer_{side}"])
        rods.append(RodPlace(f"{member.name}, {side} link", first, second, *joints, crank))


def _leaf(member: Leaf, base: int, rods: list[RodPlace], guides: list[GuidePlace]) -> None:
    """The three-link equivalent: the fixed half turns like a link of three quarters of its length."""
    rods.append(
        RodPlace(
            f"{member.name}, fixed half", base, base + 1, *series(member.fixed_eye, member.seat),
            share=THREE_LINK_SHARE, swings=False,
        )
    )  # fmt: skip

    def half(index: int) -> Callable[[Array], Array]:
        """The law of one half of the spring."""

        def law(points: Array) -> Array:
            seat, eye, other = (points[..., base + i, :] for i in (1, index, 2 - index))
            return half_rate(member.rate_n_mm, seat, eye, other)

        return law

    own = np.zeros((base + 3, 3))
    own[base:] = member.fixed_eye.at.xyz, member.seat.at.xyz, member.shackle_eye.at.xyz
    for index, end in ((0, "fixed_eye"), (2, "shackle_eye")):
        law = half(index)
        where = f"{member.name}, {member.WORDS[end]}"
        guides.append(
            GuidePlace(f"{where}, spring", base + index, (0.0, 0.0, 1.0), float(law(own)), 1e3, spring=True, law=law)
        )
        guides.append(GuidePlace(f"{where}, sideways", base + index, (0.0, 1.0, 0.0), member.lateral_n_mm, 6.0))


def mount_points(axle: Axle) -> Array:
    """All mounts of an axle, member by member, mm, shape (m, 3)."""
    points = [mount.at.xyz for member in axle.members for mount in member.mounts.values()]
    return np.array(points, dtype=np.float64).reshape(-1, 3)


def linkage_from(axle: Axle, layout: Layout, points: Array) -> Linkage:
    """The linkage of an axle with its mounts at given places (shape (..., m, 3), mm; leading axes are variants)."""
    first, second = [r.first for r in layout.rods], [r.second for r in layout.rods]
    shift = np.array([r.shift for r in layout.rods]).reshape(-1, 3)
    share = np.array([r.share for r in layout.rods])[:, None]
    chassis = points[..., first, :] + shift
    ends = points[..., first, :] * (1.0 - share) + points[..., second, :] * share
    slides = None
    if any(r.other >= 0 for r in layout.rods):
        other = [r.other if r.other >= 0 else r.first for r in layout.rods]
        pivots = points[..., other, :] - points[..., first, :]
        slides = pivots / np.maximum(norm(pivots), 1e-9)[..., None]
        # The arm turns about its pivots: it stands on them square to the ball.
        chassis = chassis + slides * ((ends - chassis) * slides).sum(axis=-1)[..., None]
    guided = points[..., [g.mount for g in layout.guides], :]
    normals = np.broadcast_to(np.array([g.normal for g in layout.guides]).reshape(-1, 3), guided.shape)
    batch = points.shape[:-2]
    wheels = np.broadcast_to(wheel_centers(axle), (*batch, 2, 3))
    cranks = None
    if layout.cranks:
        axes = {"vertical": (1.0, 0.0, 0.0), "horizontal": (0.0, 0.0, 1.0)}
        axis = np.array([axes[w.crank_turns] for _, w in layout.cranks])
        cranks = Cranks(
            points[..., [base for base, _ in layout.cranks], :],
            np.broadcast_to(axis, (*batch, *axis.shape)),
            tuple(w.crank_on == "axle" for _, w in layout.cranks),
            tuple(r.crank for r in layout.rods),
        )
    linkage = Linkage(
        np.array(axle.center), wheels, chassis, ends, norm(ends - chassis), guided, normals, cranks, None, slides
    )
    # As many rows as freedoms: exact whatever the joints are. More of them can only move as far as bushings give.
    if linkage.held + 2 == linkage.freedoms:
        return linkage
    return replace(linkage, stiffness=1.0 / (1.0 / _stiffness(layout, points) + _steel_gives(axle, layout, linkage)))


def _stiffness(layout: Layout, points: Array) -> Array:
    """Stiffness of every row with the mounts at given places (..., m, 3): shape (..., rows), or (rows,) for all."""
    fixed = layout.stiffness
    laws = [(len(layout.rods) + i, g.law) for i, g in enumerate(layout.guides) if g.law is not None]
    if points.ndim == 2 or not laws:
        return fixed
    every = np.broadcast_to(fixed, (*points.shape[:-2], len(fixed))).copy()
    for row, law in laws:
        every[..., row] = law(points)
    return every


def _steel_gives(axle: Axle, layout: Layout, linkage: Linkage) -> Array:
    """What the axle tube and the arms give behind the joint of every row, mm per N, shape (..., rows).

    The housing is rigid and each half of the tube twists from it out to the mounts. Rows of one side that bind against
    each other twist it together: a row gives by its lever about the tube times the levers of all rows of that side.
    Arms bend from their clamp to their front end.

    Source: derived here; torsion and cantilever of mechanics/tube.py, in series with the joints.
    """
    arms = linkage.arms[..., : linkage.held, :]
    n = len(layout.rods)
    normals = np.concatenate(
        ((linkage.axle - linkage.chassis) / norm(linkage.axle - linkage.chassis)[..., None], linkage.normals), axis=-2
    )
    lever = np.abs(cross(arms, normals)[..., 1])
    members = [layout.mounts[r.first].member for r in layout.rods] + [
        layout.mounts[g.mount].member for g in layout.guides
    ]
    lever = lever * np.array([m.role != "spring" for m in members])
    out = arms[..., 1]
    alike = np.sign(out)[..., :, None] == np.sign(out)[..., None, :]
    together = (alike * lever[..., None, :]).sum(axis=-1)
    gives: Array = lever * together * twist_per_torque(axle.tube_mm, axle.tube_wall_mm, np.abs(out))
    for j, guide in enumerate(layout.guides):
        member = members[n + j]
        if guide.normal[2] and isinstance(member, RadiusArm | TorqueArm):
            wall = member.wall_mm if isinstance(member, RadiusArm) else axle.tube_wall_mm
            gives[..., n + j] += bend_per_force(member.tube_mm, wall, np.abs(arms[..., n + j, 0]))
    return gives


@lru_cache(maxsize=_KEPT)
def linkage_of(axle: Axle) -> Linkage:
    """The linkage of an axle as drawn at ride height.

    Raises:
        LayoutError: the members do not hold the axle; the sentence says which way it is free and what would hold it.
    """
    linkage = linkage_from(axle, layout_of(axle), mount_points(axle))
    check_held(axle, linkage)
    return linkage


def check_held(axle: Axle, linkage: Linkage) -> None:
    """Whether the members hold the axle.

    Raises:
        LayoutError: too few members, or the wrong ones.
    """
    count = len(axle.members)
    if count == 0:
        raise LayoutError(f"{axle_title(axle)} has no links yet. Start from a layout in the Links station.")
    rank, free = constraint_freedoms(linkage)
    if rank == linkage.freedoms:
        return
    worst = min(int(np.abs(free[0]).argmax()), 6)
    raise LayoutError(
        f"{axle_title(axle)} is not held by its {count} link{'s' if count != 1 else ''}: {_CURES[worst]}."
    )


def swing_rods(layout: Layout) -> Iterator[tuple[int, RodPlace]]:
    """The rods whose joint swing counts, with their index among all rods."""
    return ((i, r) for i, r in enumerate(layout.rods) if r.swings)


def bolt_directions(layout: Layout, chassis: Array, ends: Array) -> Array:
    """Unit vectors along the bolts at ride height, chassis end then axle end of each rod, shape (..., n, 2, 3)."""
    along = ends - chassis
    level = cross(np.broadcast_to(np.array([0.0, 0.0, 1.0]), along.shape), along)
    size = norm(level)[..., None]
    level = np.where(size > 1e-6, level / np.maximum(size, 1e-6), np.array([0.0, 1.0, 0.0]))
    fixed = {"across": (0.0, 1.0, 0.0), "along": (1.0, 0.0, 0.0), "upright": (0.0, 0.0, 1.0)}
    bolts = np.repeat(level[..., None, :], 2, axis=-2)
    for i, rod in enumerate(layout.rods):
        for j, index in enumerate((rod.first, rod.second)):
            direction = layout.mounts[index].mount.bolt
            if direction != "square":
                bolts[..., i, j, :] = fixed[direction]
    return bolts


def swing_limits(layout: Layout) -> Array:
    """How far the joints of each rod may swing, chassis end and axle end, degrees, shape (n, 2)."""
    return np.array(
        [[layout.mounts[k].mount.misalignment_limit_deg for k in (r.first, r.second)] for r in layout.rods]
    ).reshape(-1, 2)
