"""What the members carry: the transpose of the constraint matrix."""

import numpy as np

from even_stance.mechanics.linkage import Linkage, Pose, constraint_rows
from even_stance.mechanics.vectors import Array, cross


def member_loads(linkage: Linkage, pose: Pose, points: Array, forces: Array, torque: Array) -> Array:
    """Loads in the rods and on the two wheel-travel rows that balance outside forces on the axle.

    Virtual work: J^T f = wrench, J the constraint matrix; a rod row is + in tension, a wheel row is the spring
    reaction that pushes the wheel down.

    Args:
        linkage: determinate linkage, mm, shape (..., 4, 3)
        pose: the pose, mm and 1, shape (N, 3)
        points: where the forces act on the axle, in chassis axes, mm, shape (N, m, 3)
        forces: the forces on the axle, N, shape (N, m, 3)
        torque: free torque on the axle, N mm, shape (N, 3)

    Returns:
        Rod tensions, then the left and right spring reactions at the wheels, N, shape (N, 6).

    Source: derived here; the principle of virtual work.
    """
    wrench = np.concatenate(
        (
            forces.sum(axis=-2),
            cross(points - pose.center[..., None, :], forces).sum(axis=-2) + torque,
        ),
        axis=-1,
    )
    rows = constraint_rows(linkage, pose)
    loads: Array = np.linalg.solve(np.swapaxes(rows, -1, -2), wrench[..., None])[..., 0]
    return loads
