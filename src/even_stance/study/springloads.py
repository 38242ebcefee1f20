"""What the springs of an axle do in a load case: where they push on it, and what a sway bar holds of the roll."""

import numpy as np

from even_stance.errors import InputError
from even_stance.mechanics.linkage import span_rows
from even_stance.mechanics.pose import Pose
from even_stance.mechanics.steering import around
from even_stance.mechanics.vectors import Array, norm
from even_stance.study.answers import Answers
from even_stance.study.ride import axle_ride, car_ride
from even_stance.study.springunits import rocker_turn
from even_stance.vehicle.car import Axle, Vehicle
from even_stance.vehicle.springs import AirSpring, AnySpring, CoilOver, CoilSpring, Rocker


def carrying(axle: Axle) -> tuple[AnySpring, AnySpring] | None:
    """The one spring on either side that carries the car from the axle itself; None where there is another number.

    Leaves carry at their seats and springs on links bend those: their loads are reckoned at the wheels, as without.
    """
    found = [
        s for s in axle.springs
        if (isinstance(s, CoilOver | CoilSpring | AirSpring) and s.on == "axle")
        or (isinstance(s, Rocker) and s.coil is not None)
    ]  # fmt: skip
    left, right = ([s for s in found if s.side == side] for side in ("left", "right"))
    others = [s for s in axle.springs if isinstance(s, CoilOver | CoilSpring | AirSpring) and s.on != "axle"]
    leaves = any(m.kind == "leaf" for m in axle.members)
    return (left[0], right[0]) if len(left) == len(right) == 1 and not others and not leaves else None


def spring_rows(answers: Answers, pose: Pose) -> Array | None:
    """Rows of the two springs that carry an axle at one pose, 1 and mm, shape (1, 2, 6 + k); None as `carrying`.

    A rocker acts along its pushrod.
    """
    both = carrying(answers.axle)
    if both is None:
        return None
    tops, bottoms = [], []
    for part in both:
        if isinstance(part, Rocker):
            bottom = np.array(part.push_bottom.at.xyz)
            now = pose.center[0] + (bottom - answers.linkage.center) @ pose.rotation[0].T
            pivot, to, push = (np.array(part.mounts[e].at.xyz) for e in ("pivot", "pivot_to", "push_top"))
            turn = rocker_turn(part, now)
            if not np.isfinite(turn):
                return None
            tops.append(around(pivot, (to - pivot) / norm(to - pivot), turn, push))
            bottoms.append(bottom)
        else:
            top, bottom = (getattr(part, end).at.xyz for end in ("top", "bottom"))
            tops.append(np.array(top))
            bottoms.append(np.array(bottom))
    return span_rows(answers.linkage, pose, np.array(tops), np.array(bottoms))


def lean_transfer(vehicle: Vehicle, axle: Axle, g: float) -> tuple[float, float] | None:
    """What a corner moves across an axle, N, and what of the roll moment its sway bars hold, N mm.

    None while the springs of an axle, or its weight, are not known.
    """
    try:
        car = car_ride(vehicle)
    except InputError:
        return None
    ride = axle_ride(vehicle, axle)
    assert ride is not None
    return car.transfer_n[axle.key] * g, ride.bar_stiffness * float(np.radians(car.roll_deg)) * g
