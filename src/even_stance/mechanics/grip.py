"""How much drive the tires of an axle hold, with the weight that the launch itself moves."""

import math


def launch_grip(axle: float, car: float, friction: float, lever: float, share: float) -> float:
    """Drive force that the tires of an axle hold: F = mu (W + r (F / f) h / L), solved for F.

    Args:
        axle: weight W on the axle standing still, N, shape ()
        car: weight of the whole car, N, shape ()
        friction: mu, 1, shape ()
        lever: r h / L, r the part of the moved weight this axle gains (negative: loses), 1, shape ()
        share: this axle's share f of the drive force, 1, shape ()

    Returns:
        The force, N, shape (); never more than friction times the whole car: past that the other axle has lifted.

    Source: Gillespie, Fundamentals of Vehicle Dynamics, ch. 2, traction-limited acceleration.
    """
    if share <= 0.0:
        return 0.0
    moved, most = lever * friction / share, friction * car
    grip = friction * axle / (1.0 - moved) if moved < 1.0 else math.inf
    return min(grip, most)


def moved_by_lean(force: float, height: float, track: float) -> float:
    """Load that moves from the inside wheel to the outside one: F h / t.

    Args:
        force: sideways at the center of gravity, N, shape ()
        height: of the center of gravity above ground, mm, shape ()
        track: between the tires, mm, shape ()

    Returns:
        The load, N, shape ().

    Source: Gillespie, Fundamentals of Vehicle Dynamics, ch. 6; here without the springs' share.
    """
    return force * height / track
