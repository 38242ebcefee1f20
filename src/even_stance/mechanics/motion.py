"""How the axle moves at a posture: heave and roll twists, and what is read off them."""

from dataclasses import dataclass

import numpy as np

from even_stance.mechanics.give import settled_rates
from even_stance.mechanics.linkage import Linkage, constraint_rows
from even_stance.mechanics.newton import solve_columns
from even_stance.mechanics.pose import Pose
from even_stance.mechanics.vectors import Array, cross, norm


@dataclass(frozen=True)
class Twists:
    """Velocity of the axle per unit of wheel motion, at its center.

    Attributes:
        heave: (v, w) for both wheel centers rising at 1 mm/s, 1 and rad/mm, shape (N, 6)
        roll: (v, w) for the left rising and the right falling at 1 mm/s, 1 and rad/mm, shape (N, 6)
        left: (v, w) for the left wheel alone rising at 1 mm/s, 1 and rad/mm, shape (N, 6)
    """

    heave: Array
    roll: Array
    left: Array


def twists(linkage: Linkage, pose: Pose) -> Twists:
    """Heave, roll and one-wheel twists of the axle at each pose.

    Of a determinate linkage from the constraint matrix J, J q = rates. Of one that gives, from the derivative of its
    stationary conditions: the twist is then that of the settled axle, give included.

    Args:
        linkage: the linkage, mm, shape (..., n, 3)
        pose: the pose, mm and 1, shape (N, 3)

    Returns:
        The twists, 1 and rad/mm, shape (N, 6) each.

    Source: derived here.
    """
    if linkage.stiffness is not None:
        heave, roll = settled_rates(linkage, pose, np.array([[1.0, 1.0], [1.0, -1.0]]))[..., :6]
    else:
        rows = constraint_rows(linkage, pose)
        rates = np.zeros((rows.shape[-1], 2))
        rates[-2:] = ((1.0, 1.0), (1.0, -1.0))
        both = solve_columns(rows, rates)
        heave, roll = both[..., :6, 0], both[..., :6, 1]
    return Twists(heave, roll, 0.5 * (heave + roll))


def instant_center(center: Array, heave: Array) -> tuple[Array, Array]:
    """Side-view instant center: the point of the mid-plane y = 0 that has no x and z velocity in heave.

    x = xc + (vz + wx ry) / wy and z = zc - (vx - wz ry) / wy with ry = -yc; none when the pitch rate wy is nil.

    Args:
        center: axle center, mm, shape (..., 3)
        heave: twist (v, w) of the axle in heave, 1 and rad/mm, shape (..., 6)

    Returns:
        x and z of the instant center, mm, shape (...); inf or nan where there is none (below 1e-9 rad/mm of pitch).

    Source: Gillespie, Fundamentals of Vehicle Dynamics, ch. 7 (definition); velocity form derived here.
    """
    vx, vz = heave[..., 0], heave[..., 2]
    wx, wy, wz = heave[..., 3], heave[..., 4], heave[..., 5]
    ry = -center[..., 1]
    pitch = np.where(np.abs(wy) < 1e-9, np.nan, wy)
    return center[..., 0] + (vz + wx * ry) / pitch, center[..., 2] - (vx - wz * ry) / pitch


def contact_slope(heave: Array, radius: Array | float) -> Array:
    """Slope s = dx/dz of the axle-fixed point at the contact patch in heave (mean of both sides).

    The point is the tire's loaded radius straight below the axle center, in chassis axes.

    Args:
        heave: twist (v, w) of the axle in heave, 1 and rad/mm, shape (..., 6)
        radius: loaded radius, mm, shape (...)

    Returns:
        s, 1, shape (...): + when the contact point goes ahead as the wheel goes up.

    Source: Gillespie, Fundamentals of Vehicle Dynamics, ch. 7 (the trailing-arm equivalent); derived here.
    """
    slope: Array = (heave[..., 0] - heave[..., 4] * radius) / heave[..., 2]
    return slope


def anti_percent(slope: Array, share: float, wheelbase: float, cg_height: Array | float) -> Array:
    """Anti-squat (rear drive), anti-lift (rear brake): -s f L / h; anti-dive and front anti-lift are its negative.

    Args:
        slope: contact slope s of the axle, 1, shape (...)
        share: share f of the drive or brake force at this axle, 1, shape ()
        wheelbase: L, mm, shape ()
        cg_height: h, height of the center of gravity, mm, shape (...)

    Returns:
        The percentage for a rear axle, 1 times 100, shape (...): 100 when the contact point backs away by h / (f L).

    Source: Gillespie, Fundamentals of Vehicle Dynamics, ch. 7: 100 % when the instant center lies on the line of
    slope h / L through the contact patch.
    """
    percent: Array = -slope * (share * wheelbase / cg_height * 100.0)
    return percent


def roll_center_height(center: Array, roll: Array) -> Array:
    """Height at which an axle-fixed point on the vertical line through the axle center does not move sideways in roll.

    z = zc + vy / wx.

    Args:
        center: axle center, mm, shape (..., 3)
        roll: twist (v, w) of the axle in roll (or with one wheel rising), 1 and rad/mm, shape (..., 6)

    Returns:
        Roll center height in chassis axes, mm, shape (...).

    Source: SAE J670 (roll center of an axle as a kinematic point); velocity form derived here.
    """
    height: Array = center[..., 2] + roll[..., 1] / roll[..., 3]
    return height


def roll_axis_slope(roll: Array) -> Array:
    """Slope dz/dx of the line of points in the mid-plane that do not move sideways in roll: wz / wx.

    Args:
        roll: twist (v, w) of the axle in roll, 1 and rad/mm, shape (..., 6)

    Returns:
        Slope, 1, shape (...): + when the axis rises toward the front.

    Source: SAE J670 (roll axis); velocity form derived here.
    """
    slope: Array = roll[..., 5] / roll[..., 3]
    return slope


def roll_steer(rotation: Array, roll: Array) -> Array:
    """Yaw rate of the axle tube, seen in plan, per roll rate of the tube.

    With t the tube direction (right to left): yaw = atan2(-tx, ty), roll = asin(tz), both differentiated along
    t' = w x t. At ride height this is wz / wx.

    Args:
        rotation: axle axes, 1, shape (..., 3, 3)
        roll: twist (v, w) of the axle in roll, 1 and rad/mm, shape (..., 6)

    Returns:
        Roll steer, 1, shape (...): + when the axle turns toward left as its left wheel rises (rear: oversteer).

    Source: derived here, from the definitions of SAE J670 (roll steer).
    """
    tx, ty, tz = rotation[..., 0, 1], rotation[..., 1, 1], rotation[..., 2, 1]
    wx, wy, wz = roll[..., 3], roll[..., 4], roll[..., 5]
    dx, dy, dz = wy * tz - wz * ty, wz * tx - wx * tz, wx * ty - wy * tx
    plan = tx * tx + ty * ty
    steer: Array = ((tx * dy - ty * dx) / plan) / (dz / np.sqrt(plan))
    return steer


def axle_angles(rotation: Array) -> tuple[Array, Array, Array]:
    """Roll, pitch and yaw of the axle: R = Rz(yaw) Rx(roll) Ry(pitch), so yaw and roll are those of the tube.

    Args:
        rotation: axle axes, 1, shape (..., 3, 3)

    Returns:
        roll (+ left end up), pitch (+ nose down, about the tube) and yaw (+ toward left), rad, shape (...) each.

    Source: derived here; signs of ISO 8855, right-handed about x ahead, y left, z up.
    """
    roll = np.arcsin(np.clip(rotation[..., 2, 1], -1.0, 1.0))
    pitch = np.arctan2(-rotation[..., 2, 0], rotation[..., 2, 2])
    yaw = np.arctan2(-rotation[..., 0, 1], rotation[..., 1, 1])
    return roll, pitch, yaw


def tube_axes(rotation: Array) -> Array:
    """The axes that go with the axle's tube but not with its pitch: how hubs and tires stand, which roll on freely.

    Args:
        rotation: axle axes, 1, shape (..., 3, 3)

    Returns:
        Rz(yaw) Rx(roll), 1, shape (..., 3, 3).

    Source: derived here; R = Rz(yaw) Rx(roll) Ry(pitch) without its last factor.
    """
    side = rotation[..., :, 1]
    up = np.zeros_like(side)
    up[..., 2] = 1.0
    ahead = cross(side, up)
    ahead /= norm(ahead)[..., None]
    return np.stack((ahead, side, cross(ahead, side)), axis=-1)
