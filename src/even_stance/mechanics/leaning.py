"""How a car rides and leans on its springs: frequency, roll stiffness, roll per g, and what moves across."""

import numpy as np

from even_stance.mechanics.vectors import Array

G = 9.80665  # standard gravity, m/s^2 (ISO 80000-3)


def roll_stiffness(rates: Array, track: float) -> Array:
    """Roll stiffness of an axle from its rates: t^2 / 4 (k_LL - 2 k_LR + k_RR).

    Args:
        rates: how the force at one wheel grows with the travel of one wheel and of the other, N/mm, shape (..., 2, 2)
        track: tire center to tire center t, mm, shape ()

    Returns:
        N times mm per rad, shape (...).

    Source: derived here; energy of springs in equal and opposite travel.
    """
    stiffness: Array = 0.25 * track**2 * (rates[..., 0, 0] - rates[..., 0, 1] - rates[..., 1, 0] + rates[..., 1, 1])
    return stiffness


def heave_rate(rates: Array) -> Array:
    """What both wheels of an axle together give per mm that both rise: k_LL + 2 k_LR + k_RR.

    Args:
        rates: as of roll stiffness, N/mm, shape (..., 2, 2)

    Returns:
        The rate, N/mm, shape (...).

    Source: derived here.
    """
    rate: Array = rates.sum(axis=(-2, -1))
    return rate


def ride_frequency(rate: Array, mass: float) -> Array:
    """How often a sprung mass goes up and down on its springs in a second, with no damping: sqrt(k / m) / (2 pi).

    Args:
        rate: of both wheels together, N/mm, shape (...)
        mass: sprung mass on the axle, kg, shape ()

    Returns:
        Per second, 1, shape (...); nan where the rate is not above nil.

    Source: Gillespie, Fundamentals of Vehicle Dynamics, ch. 5.
    """
    frequency: Array = np.sqrt(np.where(rate > 0.0, 1000.0 * rate / mass, np.nan)) / (2.0 * np.pi)
    return frequency


def roll_per_g(mass: float, arm: float, stiffness: Array | float) -> Array:
    """How far a body rolls per g of side acceleration: m g h / (K - m g h).

    The second term is the weight that leans out with the body.

    Args:
        mass: sprung mass m, kg, shape ()
        arm: height of its center over the roll axis h, mm, shape ()
        stiffness: of all axles together K, N times mm per rad, shape (...)

    Returns:
        The roll, rad, shape (...); nan where the springs cannot hold it up.

    Source: Gillespie, Fundamentals of Vehicle Dynamics, ch. 6, roll rate (W h1 / (K - W h1)).
    """
    moment = mass * G * arm
    left = np.asarray(stiffness) - moment
    roll: Array = moment / np.where(left > 0.0, left, np.nan)
    return roll


def transfer_per_g(
    stiffness: Array, roll: Array, sprung: Array, center: Array, unsprung: Array, wheel: Array, track: Array
) -> Array:
    """What goes from the inner to the outer tire of each axle per g of side acceleration.

    (K_i roll + W_i h_i + w_i r_i) / t_i: by the springs, through the roll center, and of the axle itself.

    Args:
        stiffness: roll stiffness of each axle, N times mm per rad, shape (..., k)
        roll: of the body per g, rad, shape (...)
        sprung: sprung mass on each axle, kg, shape (k,)
        center: roll center height of each axle, mm, shape (k,)
        unsprung: mass of each axle with its wheels, kg, shape (k,)
        wheel: height of its center, mm, shape (k,)
        track: of each axle, mm, shape (k,)

    Returns:
        N, shape (..., k).

    Source: Gillespie, Fundamentals of Vehicle Dynamics, ch. 6; Milliken, Race Car Vehicle Dynamics, ch. 18 (from
    memory).
    """
    moved: Array = (stiffness * np.asarray(roll)[..., None] + sprung * G * center + unsprung * G * wheel) / track
    return moved
