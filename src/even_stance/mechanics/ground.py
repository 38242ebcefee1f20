"""What moves when a car stands higher or lower on its springs: ground and center of gravity against the frame."""

from even_stance.mechanics.vectors import Array


def cg_rise_per_ride(mass: float, unsprung: float) -> float:
    """How far the whole vehicle's center of gravity rises per rise of the frame: the sprung share of its mass.

    Axles and wheels stay on the ground. A vehicle whose mass is not known is taken to be all sprung.

    Args:
        mass: of the whole vehicle, kg, shape ()
        unsprung: of all axles with their wheels, kg, shape ()

    Returns:
        The share, 1, shape ().

    Source: derived here; the center of gravity of two parts.
    """
    return 1.0 - unsprung / mass if mass > 0.0 else 1.0


def sprung_height(mass: float, height: float, unsprung: Array, hubs: Array) -> float:
    """Height of the center of gravity of the sprung mass, from that of the whole car.

    Args:
        mass: of the whole car, kg, shape ()
        height: of its center of gravity above ground, mm, shape ()
        unsprung: of each axle with its wheels, kg, shape (axles,)
        hubs: height of each axle's wheel centers, where its mass is taken to be, mm, shape (axles,)

    Returns:
        The height above ground, mm, shape (); nan where nothing is sprung.

    Source: derived here; balance of moments.
    """
    sprung = mass - float(unsprung.sum())
    return (mass * height - float((unsprung * hubs).sum())) / sprung if sprung > 0.0 else float("nan")


def anti_over_height(percent: Array, height: float, rise: Array) -> Array:
    """An anti percentage, which goes with 1 / h, for a center of gravity that has risen.

    Args:
        percent: for the height h, 1 times 100, shape (...)
        height: h, mm, shape ()
        rise: how far the center of gravity has risen above the ground, mm, shape (...)

    Returns:
        The percentage for h + rise, 1 times 100, shape (...).

    Source: Gillespie, Fundamentals of Vehicle Dynamics, ch. 7 (anti-squat goes with L / h).
    """
    changed: Array = percent * height / (height + rise)
    return changed
