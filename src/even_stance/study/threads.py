"""Links turned longer or shorter at their threads: the axle takes a new stand at ride height."""

import numpy as np

from even_stance.errors import LayoutError
from even_stance.mechanics.linkage import placed
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
        return with_axle(job, _stood_anew(job.vehicle.axle(key), names, longer_mm))

    return Edit(label, apply)


def _stood_anew(axle: Axle, names: tuple[str, ...], longer_mm: float) -> Axle:
    layout = layout_of(axle)
    linkage = linkage_of(axle)
    by = np.array([longer_mm if r.name in names else 0.0 for r in layout.rods])
    pose = solve_posture(with_lengths(linkage, by[None]), np.zeros(1), np.zeros(1))
    if not pose.ok[0]:
        raise LayoutError(f"{axle_title(axle)}: {' and '.join(names)} cannot change by {longer_mm:.1f} mm.")

    def there(point: Point) -> Point:
        x, y, z = placed(linkage, pose, np.array([point.xyz]))[0, 0]
        return with_changes(point, x=float(x), y=float(y), z=float(z))

    def moved(mount: Mount) -> Mount:
        holes = tuple(there(h) for h in mount.holes)
        return with_changes(mount, at=holes[mount.hole] if mount.hole is not None else there(mount.at), holes=holes)

    members = tuple(
        with_changes(m, **{end: moved(mount) for end, mount in m.mounts.items() if m.body(end) == "axle"})
        for m in axle.members
    )
    changes: dict[str, object] = {"members": members, "behind_front_mm": _behind(axle, pose.center[0])}
    if axle.pinion is not None:
        changes["pinion"] = with_changes(axle.pinion, at=there(axle.pinion.at))
    return with_changes(axle, **changes)


def _behind(axle: Axle, center: Array) -> float:
    """How far behind the front axle it now is; the front axle is the origin and stays so."""
    return 0.0 if axle.is_front else -float(center[0])
