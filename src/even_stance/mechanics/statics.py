"""What the members carry: the transpose of the constraint matrix, or least energy where there are more than needed."""

import numpy as np

from even_stance.mechanics.linkage import Linkage, constraint_rows
from even_stance.mechanics.newton import solve_rows
from even_stance.mechanics.pose import Pose
from even_stance.mechanics.vectors import Array, cross


def wrench_of(center: Array, points: Array, forces: Array, torque: Array) -> Array:
    """Forces and a torque gathered at the axle center.

    Args:
        center: axle center, mm, shape (N, 3)
        points: where the forces act on the axle, in chassis axes, mm, shape (N, m, 3)
        forces: the forces on the axle, N, shape (N, m, 3)
        torque: free torque on the axle, N mm, shape (N, 3)

    Returns:
        Force and moment about the center, N and N mm, shape (N, 6).

    Source: derived here, from the definition of a moment.
    """
    moment = cross(points - center[..., None, :], forces).sum(axis=-2) + torque
    return np.concatenate((forces.sum(axis=-2), moment), axis=-1)


def wind_up(linkage: Linkage, pose: Pose, stiffness: Array, wrench: Array) -> Array:
    """How far an axle turns as its joints give under an outside wrench, both wheels held at their height.

    K = G^T k G over the member rows, with the wheel-travel rows held exactly: the displacement of least energy.

    Args:
        linkage: the linkage, mm, shape (..., n, 3)
        pose: the pose, mm and 1, shape (N, 3)
        stiffness: of every rod and guide, N/mm, shape (n + g,)
        wrench: force and moment about the axle center, N and N mm, shape (N, 6)

    Returns:
        Translation and rotation of the axle, mm and rad, shape (N, 6).

    Source: derived here; Castigliano's theorem.
    """
    rows, block, m = constraint_rows(linkage, pose), linkage.blocks, linkage.freedoms
    scale = np.full(m, 1.0 / 500.0)
    scale[:3] = 1.0
    give, wheels = rows[..., block.members, :] * scale, rows[..., block.wheels, :] * scale
    system = np.zeros((*rows.shape[:-2], m + 2, m + 2))
    system[..., :m, :m] = np.swapaxes(give, -1, -2) @ (give * stiffness[..., :, None])
    system[..., :m, m:] = np.swapaxes(wheels, -1, -2)
    system[..., m:, :m] = wheels
    right = np.zeros(system.shape[:-1])
    right[..., :6] = wrench * scale[:6]
    moved: Array = solve_rows(system, right)[..., :6] * scale[:6]
    return moved


def member_loads(linkage: Linkage, pose: Pose, wrench: Array, closing: Array | None = None) -> Array:
    """Loads in the rods and guides and on the two rows that close the system, balancing an outside wrench on the axle.

    Determinate: J^T f = wrench by virtual work, J the constraint matrix. With stiffness: the members share the wrench
    by least energy, K = stiffness, f = K G q with G^T K G q + H^T r = wrench and H q = 0 (the wheels are held). Loads
    are those of the wrench alone; what a forced posture stores in its bushings comes on top (misfit times stiffness).

    Args:
        linkage: the linkage, mm, shape (..., n, 3)
        pose: the pose, mm and 1, shape (N, 3)
        wrench: force and moment about the axle center, N and N mm, shape (N, 6)
        closing: rows (`span_rows`) of two springs in place of the wheel-travel rows, 1 and mm, shape (N, 2, 6 + k)

    Returns:
        Rods (+ tension) and guides (+ when the axle is pushed along the guide's direction), then the left and right
        spring reactions at the wheels (+ pushes the wheel down), or the pull of the closing springs (+ tension), N,
        shape (N, n + g + 2).

    Source: derived here; the principle of virtual work, Castigliano's theorem for the rest.
    """
    rows, block = constraint_rows(linkage, pose), linkage.blocks
    if closing is not None:
        rows = np.concatenate((rows[..., block.members, :], closing), axis=-2)
    full = np.zeros((*rows.shape[:-2], linkage.freedoms))
    full[..., :6] = wrench
    if linkage.stiffness is None:
        return solve_rows(np.swapaxes(rows, -1, -2), full)
    m = linkage.freedoms
    give, wheels = rows[..., block.members, :], rows[..., block.wheels, :]
    # Turns as movement at half a meter, so that all columns are of one size.
    scale = np.full(m, 1.0 / 500.0)
    scale[:3] = 1.0
    give, wheels = give * scale, wheels * scale
    system = np.zeros((*rows.shape[:-2], m + 2, m + 2))
    system[..., :m, :m] = np.swapaxes(give, -1, -2) @ (give * linkage.stiffness[..., :, None])
    system[..., :m, m:] = np.swapaxes(wheels, -1, -2)
    system[..., m:, :m] = wheels
    right = np.zeros(system.shape[:-1])
    right[..., :m] = full * scale
    solution = solve_rows(system, right)
    loads = linkage.stiffness * (give @ solution[..., :m, None])[..., 0]
    return np.concatenate((loads, solution[..., m:]), axis=-1)
