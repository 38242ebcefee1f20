"""How far a steering box turns its pitman arm, of one ratio or of one that changes toward the locks."""

import numpy as np

from even_stance.mechanics.vectors import Array


def arm_turn(steer: Array, center: float, lock: float, half: float) -> Array:
    """The turn of the pitman arm: the integral of one over the ratio, which goes evenly from center to lock.

    Args:
        steer: hand-wheel turns from center, 1, shape (...)
        center: hand-wheel turns for one turn of the arm on center, 1, shape ()
        lock: the same at either lock, 1, shape ()
        half: hand-wheel turns from center to lock, 1, shape ()

    Returns:
        The turn, rad, shape (...), of the sign of the steer.

    Source: derived here; of one ratio it is steer over ratio.
    """
    turned = np.abs(np.asarray(steer, dtype=np.float64))
    slope = (lock - center) / (half * center)  # how the ratio grows per turn, as a share of that on center
    turns = turned / center if abs(slope) < 1e-9 else np.log1p(slope * turned) / (slope * center)
    arm: Array = 2.0 * np.pi * np.sign(steer) * turns
    return arm
