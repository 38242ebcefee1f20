"""From the records of an axle to the arrays of its linkage."""

import numpy as np

from even_stance.errors import LayoutError
from even_stance.mechanics.linkage import Linkage, constraint_freedoms
from even_stance.mechanics.vectors import Array, cross, norm
from even_stance.vehicle.car import Axle

_ROD_COUNT = 4
_CURES = (
    "nothing holds it fore and aft: add a lower link at each side",
    "nothing holds it sideways: add a panhard bar, or spread the uppers so that they triangulate",
    "it is free to rise and fall even with both wheels held",
    "it is free to roll even with both wheels held",
    "nothing stops it from turning over under power: add an upper link above or below the lowers",
    "nothing keeps it square in plan: spread the lower links apart",
)


def axle_title(axle: Axle) -> str:
    """How the axle is called in a sentence."""
    return f"{axle.key.capitalize()} axle"


def wheel_centers(axle: Axle) -> Array:
    """Left and right wheel centers at ride height, mm, shape (2, 3)."""
    x, y, z = axle.center
    half = axle.track_mm / 2
    return np.array([[x, y + half, z], [x, y - half, z]])


def member_ends(axle: Axle) -> tuple[Array, Array]:
    """Chassis and axle ends of all members, mm, shape (n, 3) each."""
    chassis = np.array([m.chassis.at.xyz for m in axle.members], dtype=np.float64).reshape(-1, 3)
    ends = np.array([m.axle.at.xyz for m in axle.members], dtype=np.float64).reshape(-1, 3)
    return chassis, ends


def linkage_of(axle: Axle) -> Linkage:
    """The linkage of an axle as drawn at ride height.

    Raises:
        LayoutError: the members do not hold the axle; the sentence says which way it is free and what would hold it.
    """
    chassis, ends = member_ends(axle)
    linkage = Linkage.as_drawn(np.array(axle.center), wheel_centers(axle), chassis, ends)
    check_held(axle, linkage)
    return linkage


def check_held(axle: Axle, linkage: Linkage) -> None:
    """Whether the members hold the axle in just one way.

    Raises:
        LayoutError: too few, too many, or the wrong ones.
    """
    count = linkage.chassis.shape[-2]
    if count == 0:
        raise LayoutError(f"{axle_title(axle)} has no links yet. Start from a layout in the Links station.")
    rank, free = constraint_freedoms(linkage)
    if rank == 6 and count == _ROD_COUNT:
        return
    if rank == 6:
        raise LayoutError(
            f"{axle_title(axle)} has {count} links where {_ROD_COUNT} hold it; with more it can only move as far as "
            "bushings give. Remove one."
        )
    worst = int(np.abs(free[0]).argmax())
    raise LayoutError(
        f"{axle_title(axle)} is not held by its {count} link{'s' if count != 1 else ''}: {_CURES[worst]}."
    )


def bolt_directions(axle: Axle, chassis: Array, ends: Array) -> Array:
    """Unit vectors along the bolts at ride height, chassis end then axle end of each member, shape (..., n, 2, 3)."""
    along = ends - chassis
    level = cross(np.array([0.0, 0.0, 1.0]), along)
    size = norm(level)[..., None]
    level = np.where(size > 1e-6, level / np.maximum(size, 1e-6), np.array([0.0, 1.0, 0.0]))
    fixed = {"across": (0.0, 1.0, 0.0), "along": (1.0, 0.0, 0.0), "upright": (0.0, 0.0, 1.0)}
    bolts = np.repeat(level[..., None, :], 2, axis=-2)
    for i, member in enumerate(axle.members):
        for j, mount in enumerate((member.chassis, member.axle)):
            if mount.bolt != "square":
                bolts[..., i, j, :] = fixed[mount.bolt]
    return bolts
