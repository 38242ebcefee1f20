"""The car set lower: everything that comes nearer than wanted as it then stands."""

from dataclasses import dataclass

import numpy as np

from even_stance.errors import StanceError
from even_stance.study.axlestates import AxleStates, posture_states
from even_stance.study.cargaps import GROUND, lowest
from even_stance.study.clearances import couple_gaps, couples_of
from even_stance.study.hard import Hard
from even_stance.study.hardparts import hard_parts, wanted_between
from even_stance.vehicle.car import Vehicle


@dataclass(frozen=True, eq=False)
class Nearer:
    """A pair as the car stands lower.

    Attributes:
        a, b: the parts; now_mm: their gap at ride height; then_mm: lowered; wanted_mm: what is wanted.
    """

    a: Hard
    b: Hard
    now_mm: float
    then_mm: float
    wanted_mm: float


def lowered(vehicle: Vehicle, axle_key: str, mm: float) -> list[Nearer]:
    """What comes nearer than wanted when one end stands lower, as it stands; the tightest first.

    Args:
        vehicle: the vehicle; axle_key: the axle over which it comes down; mm: by how much.

    Raises:
        StanceError: the axle's links cannot be worked out.
    """
    axle = vehicle.axle(axle_key)
    states = posture_states(vehicle, axle, np.array([(0.0, 0.0, 0.0), (mm, mm, 0.0)]))
    if not states.reached.all():
        raise StanceError(f"The {axle_key} axle cannot come up that far: its links lock before.")
    parts = [p for p in hard_parts(vehicle) if p.axle in ("", axle_key)]
    found = []
    couples = couples_of(parts, states.moves)
    for (a, b), (now, then) in zip(couples, couple_gaps(states, couples).tolist(), strict=True):
        wanted = wanted_between(vehicle, a, b)
        if then < now - 0.5 and then < wanted and now > 0.0:
            found.append(Nearer(a, b, now, then, wanted))
    found += _ground(vehicle, states, parts, mm)
    return sorted(found, key=lambda n: n.then_mm)


_GROUND_MM = 76.2  # three inches over level ground at ride height (common practice, no source)


def _ground(vehicle: Vehicle, states: AxleStates, parts: list[Hard], mm: float) -> list[Nearer]:
    """What on the chassis comes nearer to the ground than wanted: down by all of it over this axle, by nothing over the
    one at the other end, by its share in between.
    """
    found = []
    far = vehicle.axles[-1] if states.axle.is_front else vehicle.axles[0]
    x, other = -states.axle.behind_front_mm, -far.behind_front_mm
    for part in parts:
        if part.body not in ("chassis", "powertrain") or not part.cores:
            continue
        low = min(lowest(c, c.points, c.axis)[0] for c in part.cores)
        middle = float(np.mean([c.points[:, 0].mean() for c in part.cores]))
        share = max((middle - other) / (x - other), 0.0)
        then = low - share * mm
        if then < _GROUND_MM and share > 0.0:
            found.append(Nearer(part, GROUND, low, then, _GROUND_MM))
    return found
