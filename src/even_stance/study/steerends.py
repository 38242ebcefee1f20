"""Both ends steered: how the other axle goes along, and the circle they turn in together."""

import numpy as np

from even_stance.study.model import wheel_centers
from even_stance.study.steerfigures import Turner, lock_of, mechanism_of, turner_of
from even_stance.vehicle.car import Axle, Vehicle


def steered_along(vehicle: Vehicle, key: str, steer: float, opposite: bool) -> dict[str, float]:
    """Steer inputs of the other steered axles, each as far of its own lock as this axle is of its own.

    Args:
        vehicle: the vehicle; key: the axle that is steered; steer: its input, turns or mm of rod, + left.
        opposite: whether they turn the other way, for a tight turn; else the same way, crabwise.
    """
    axle = vehicle.axle(key)
    turner = turner_of(axle)
    if turner is None:
        return {}

    def lock(a: Axle, t: Turner, way: float) -> float:
        """How far an axle's input goes one way."""
        return abs(float(lock_of(a, t).steer[int(way > 0.0)]))

    share = steer / max(lock(axle, turner, steer), 1e-9)
    along = -share if opposite else share
    others = ((a, turner_of(a)) for a in vehicle.axles if a.key != key)
    return {a.key: along * lock(a, t, along) for a, t in others if t is not None}


def circle_both_ends(vehicle: Vehicle) -> float | None:
    """The turning circle with the rear axle steered to its lock the other way, m; None where not both ends steer.

    The center is where the mean normals of both axles meet; from there to the outermost tire, on the wider side.
    """
    ends = [(a, m) for a in vehicle.axles if (m := mechanism_of(a)) is not None]
    if len(ends) != 2:
        return None
    found = []
    for way in (0, 1):
        angles = [np.radians(lock_of(a, m).headings[way if a.is_front else 1 - way].mean()) for a, m in ends]
        slopes = [-1.0 / np.tan(angle) if abs(angle) > 1e-6 else np.nan for angle in angles]
        # Normals y = slope (x - center): where both have the same y.
        xs = [a.center[0] for a, _ in ends]
        x = (slopes[0] * xs[0] - slopes[1] * xs[1]) / (slopes[0] - slopes[1])
        y = slopes[0] * (x - xs[0])
        wheels = np.concatenate([wheel_centers(a)[:, :2] for a, _ in ends])
        found.append(2.0 * float(np.hypot(wheels[:, 0] - x, wheels[:, 1] - y).max()))
    return max(found) / 1000.0
