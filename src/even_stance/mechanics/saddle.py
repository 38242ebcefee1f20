"""The end of a tube cut to sit on another tube, or on a flat: the wrap around it, unrolled."""

import numpy as np

from even_stance.mechanics.vectors import Array


def saddle_depth(around: Array, radius: float, other: float, angle: float, offset: float = 0.0) -> Array:
    """How far along its axis every line of a tube runs until it meets the outside of another tube.

    The tube comes in at an angle to the other's axis, its axis passing it by an offset. With u the place around the
    tube, r its radius, R the other's, e the offset, a the angle between the axes:
    z = (sqrt(R^2 - (r sin u + e)^2) - r cos u cos a) / sin a, measured from where the axes pass, back along the tube.

    Args:
        around: place around the tube, 0 on the side of the acute angle, rad, shape (n,)
        radius: of the tube that is cut, at its outside, mm, shape ()
        other: of the tube that it meets, mm, shape ()
        angle: between the axes, rad, shape ()
        offset: by how much the axes pass each other, mm, shape ()

    Returns:
        From where the axes pass back to the cut, mm, shape (n,); nan for lines that pass the other tube by.

    Source: derived here: a line parallel to the tube's axis put into the equation of the other cylinder.
    """
    side = radius * np.sin(around) + offset
    with np.errstate(invalid="ignore"):
        deep = np.sqrt(other**2 - side**2)
    found: Array = (deep - radius * np.cos(around) * np.cos(angle)) / np.sin(angle)
    return found


def sawn_depth(around: Array, radius: float, angle: float) -> Array:
    """The same for a tube that ends on a flat: a slanted saw cut, r cos u / tan a behind where its axis meets it.

    Args:
        around: place around the tube, 0 on the side of the acute angle, rad, shape (n,)
        radius: of the tube at its outside, mm, shape ()
        angle: between the axis and the flat, rad, shape ()

    Returns:
        From where the axis meets the flat, + back along the tube, mm, shape (n,).

    Source: derived here.
    """
    found: Array = -radius * np.cos(around) / np.tan(angle)
    return found
