"""Links turned longer or shorter at their threads: the axle takes a new stand at ride height."""

from dataclasses import dataclass

import numpy as np

from even_stance.errors import LayoutError
from even_stance.mechanics.linkage import Linkage, placed
from even_stance.mechanics.motion import axle_angles
from even_stance.mechanics.pose import Mask, Pose
from even_stance.mechanics.position import solve_posture
from even_stance.mechanics.vectors import Array
from even_stance.study.model import axle_title, layout_of, linkage_of
from even_stance.study.sensitivity import with_lengths
from even_stance.vehicle.car import Axle
from even_stance.vehicle.edits import Edit, with_axle, with_changes
from even_stance.vehicle.job import Job
from even_stance.vehicle.members import Mount
from even_stance.vehicle.records import Point


def turn_links(key: str, names: tuple[str, ...], longer_mm: float, label: str) -> Edit:
    """Make links of an axle longer (+) or shorter by the same amount, ends staying where they are bolted.

    The axle moves to where the new lengths hold it with both wheels at ride height: it shifts and turns its pinion.
    What it would shift sideways or turn in plan is not kept: wheels are drawn square to the car.

    Raises (on apply):
        LayoutError: the axle cannot take that.
    """

    def apply(job: Job) -> Job:
        return with_axle(job, stood_anew(job.vehicle.axle(key), names, np.full(len(names), longer_mm)))

    return Edit(label, apply)


@dataclass(frozen=True)
class Stands:
    """How an axle stands at ride height with links turned: ways of turning them on the first axis of every array.

    Attributes:
        shift: how far its center goes, mm (C, 3).
        yaw: how far it turns toward left, rad (C,); nose_up: how far its pinion does up, rad (C,).
        ok: whether the axle can stand so (C,).
    """

    shift: Array
    yaw: Array
    nose_up: Array
    ok: Mask


def stands(axle: Axle, names: tuple[str, ...], longer: Array) -> Stands:
    """How the axle stands once some of its links are longer (+) by some mm.

    Args:
        axle: the axle.
        names: which links.
        longer: by how much each, mm, shape (C, len(names))
    """
    linkage, pose = _turned(axle, names, longer)
    _, pitch, yaw = axle_angles(pose.rotation[:, 0])
    nose_up = pitch if axle.is_front else -pitch  # the flange of a front pinion looks rearward
    return Stands(pose.center[:, 0] - linkage.center, yaw, nose_up, pose.ok[:, 0])


def _turned(axle: Axle, names: tuple[str, ...], longer: Array) -> tuple[Linkage, Pose]:
    """Where an axle goes as its links of some names get longer, shape (n, names): its linkage and poses there."""
    linkage = linkage_of(axle)
    by = np.zeros((len(longer), 1, len(layout_of(axle).rods)))
    for i, rod in enumerate(layout_of(axle).rods):
        if rod.name in names:
            by[:, 0, i] = longer[:, names.index(rod.name)]
    return linkage, solve_posture(with_lengths(linkage, by), np.zeros(1), np.zeros(1))


def stood_anew(axle: Axle, names: tuple[str, ...], longer: Array) -> Axle:
    """An axle where it stands once its links have other lengths.

    Args:
        axle: the axle; names: which links; longer: by how much each, mm, shape (len(names),)

    Raises:
        LayoutError: the axle cannot take that.
    """
    linkage, pose = _turned(axle, names, longer[None])
    if not pose.ok.all():
        many = " and ".join(f"{v:.1f} mm" for v in sorted(set(longer.tolist())))
        raise LayoutError(f"{axle_title(axle)}: {' and '.join(names)} cannot change by {many}.")

    def there(point: Point) -> Point:
        x, y, z = placed(linkage, pose, np.array([point.xyz]))[0, 0, 0]
        return with_changes(point, x=float(x), y=float(y), z=float(z))

    def moved(mount: Mount) -> Mount:
        holes = tuple(there(h) for h in mount.holes)
        return with_changes(mount, at=holes[mount.hole] if mount.hole is not None else there(mount.at), holes=holes)

    members = tuple(
        with_changes(m, **{end: moved(mount) for end, mount in m.mounts.items() if m.body(end) == "axle"})
        for m in axle.members
    )
    changes: dict[str, object] = {"members": members, "behind_front_mm": _behind(axle, pose.center[0, 0])}
    if axle.pinion is not None:
        pitch = float(np.degrees(axle_angles(pose.rotation[:, 0])[1][0]))
        up = axle.pinion.nose_up_deg - pitch  # + turns the top ahead: whatever points to the front goes down
        changes["pinion"] = with_changes(axle.pinion, at=there(axle.pinion.at), nose_up_deg=up)
    return with_changes(axle, **changes)


def _behind(axle: Axle, center: Array) -> float:
    """How far behind the front axle it now is; the front axle is the origin and stays so."""
    return 0.0 if axle.is_front else -float(center[0])
