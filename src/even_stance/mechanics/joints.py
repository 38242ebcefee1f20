"""Rod-end swing: how far a link leaves the plane square to its joint's bolt, and how it is twisted."""

import numpy as np

from even_stance.mechanics.vectors import Array, cross, dot


def joint_misalignment(direction: Array, bolt: Array) -> Array:
    """Angle between a link and the plane square to the joint's bolt.

    asin(|n . b|): nil while the link swings around its bolt, growing as it tilts over toward the bolt.

    Args:
        direction: unit vector along the link, 1, shape (..., 3)
        bolt: unit vector along the bolt, 1, shape (..., 3)

    Returns:
        The swing, rad, shape (...), from 0 to pi / 2.

    Source: derived here, from the geometry of a ball in a race.
    """
    swing: Array = np.arcsin(np.minimum(np.abs(dot(direction, bolt)), 1.0))
    return swing


def bolt_twist(direction: Array, bolt_a: Array, bolt_b: Array) -> Array:
    """Angle about the link between the bolts at its two ends.

    Both bolts are seen along the link; as lines, so that the angle stays within a quarter turn either way.

    Args:
        direction: unit vector along the link, 1, shape (..., 3)
        bolt_a: unit vector along the bolt at one end, 1, shape (..., 3)
        bolt_b: unit vector along the bolt at the other end, 1, shape (..., 3)

    Returns:
        The twist, rad, shape (...), from -pi / 2 to pi / 2.

    Source: derived here, from the geometry of a ball in a race.
    """
    # What lies along the link drops out of the triple product, and is taken out of the scalar one.
    sine = dot(cross(bolt_a, bolt_b), direction)
    cosine = dot(bolt_a, bolt_b) - dot(bolt_a, direction) * dot(bolt_b, direction)
    twist: Array = np.arctan2(np.where(cosine < 0, -sine, sine), np.abs(cosine))
    return twist


def needed_misalignment(swing: Array, twist: Array) -> Array:
    """Swing a joint needs when the link shares its twist evenly between its two ends.

    cos(needed) = cos(swing) cos(twist / 2): the race's axis stands halfway between the two bolts.

    Args:
        swing: angle out of the plane square to the bolt, rad, shape (...)
        twist: angle about the link between its two bolts, rad, shape (...)

    Returns:
        The swing the joint needs, rad, shape (...).

    Source: derived here; spherical law of cosines for a right angle.
    """
    needed: Array = np.arccos(np.minimum(np.cos(swing) * np.cos(0.5 * twist), 1.0))
    return needed
