"""Other tires on the car as it is cut now: what each size touches, and the largest that touches nothing."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from even_stance.study.axlestates import posture_states, steer_ends
from even_stance.study.clearances import Gap, GapStudy, couple_gaps, couples_of, study_axle_gaps
from even_stance.study.hard import Hard
from even_stance.study.hardparts import hard_parts
from even_stance.vehicle.car import Axle, Vehicle
from even_stance.vehicle.edits import with_changes


@dataclass(frozen=True, eq=False)
class Fitted:
    """A size of tire on one axle.

    Attributes:
        diameter_mm, width_mm, out_mm: the size, and how much farther out its middle stands than now.
        gaps: what comes near to it, tightest first.
    """

    diameter_mm: float
    width_mm: float
    out_mm: float
    gaps: tuple[Gap, ...]

    @property
    def clears(self) -> bool:
        """Whether it touches nothing."""
        return all(g.gap_mm >= 0.0 for g in self.gaps)

    @property
    def roomy(self) -> bool:
        """Whether everything keeps the gap that is wanted of it."""
        return all(g.short_mm <= 0.0 for g in self.gaps)


def with_tires(vehicle: Vehicle, axle: Axle, diameter: float, width: float, out: float) -> Vehicle:
    """The car on other tires at one axle, wheel centers where they are: it stands as high over its axles as before.

    Raises:
        InputError: there are no such tires.
    """
    tire = axle.tire
    share = tire.loaded_radius_mm / tire.free_diameter_mm
    other = with_changes(tire, free_diameter_mm=diameter, loaded_radius_mm=share * diameter, width_mm=width)
    # The axle's place comes from the loaded radius: what is looked at is the tire around the same wheel center.
    other = other.model_copy(update={"loaded_radius_mm": tire.loaded_radius_mm})
    changed = axle.model_copy(update={"tire": other, "track_mm": axle.track_mm + 2.0 * out})
    axles = tuple(changed if a.key == axle.key else a for a in vehicle.axles)
    return vehicle.model_copy(update={"axles": axles})


def fit_tires(vehicle: Vehicle, axle: Axle, diameter: float, width: float, out: float = 0.0) -> Fitted:
    """What tires of a size come near to over all travel and steer.

    Args:
        vehicle: the vehicle; axle: the axle they go on.
        diameter, width: of the tire, mm; out: how much farther out its middle stands than now, mm.

    Raises:
        InputError: there are no such tires.
    """
    other = with_tires(vehicle, axle, diameter, width, out)

    def wants(a: Hard, b: Hard) -> bool:
        return "tires" in (a.family, b.family)

    study: GapStudy = study_axle_gaps(other, other.axle(axle.key), wants=wants)
    # What these touch at ride height already is no matter of how the car was measured.
    return Fitted(diameter, width, out, tuple(sorted((*study.gaps, *study.touching), key=lambda g: g.gap_mm)))


def rack(
    vehicle: Vehicle, axle: Axle, sizes: list[tuple[float, float]], out: float,
    progress: Callable[[float], object] = lambda _: None, stopped: Callable[[], bool] = lambda: False,
) -> list[Fitted]:  # fmt: skip
    """Several sizes in turn: diameter and width, mm each."""
    found = []
    for i, (diameter, width) in enumerate(sizes):
        if stopped():
            break
        found.append(fit_tires(vehicle, axle, diameter, width, out))
        progress((i + 1) / len(sizes))
    return found


def largest(
    vehicle: Vehicle, axle: Axle, width: float, out: float, step: float = 6.35, most: float = 254.0
) -> Fitted | None:
    """The largest diameter of a width that touches nothing, in steps; None where not even a far smaller one does.

    Args:
        vehicle: the vehicle; axle: the axle; width: of the tire, mm; out: as of fit_tires.
        step: in what steps diameters are tried, mm; most: how much larger or smaller than now is looked for, mm.
    """
    now = axle.tire.free_diameter_mm
    low, high = -round(most / step), round(most / step)
    best: Fitted | None = None
    while low <= high:  # larger tires come nearer to everything: halves close in on the last one that clears
        middle = (low + high) // 2
        tried = fit_tires(vehicle, axle, now + middle * step, width, out)
        if tried.clears:
            best, low = tried, middle + 1
        else:
            high = middle - 1
    return best


@dataclass(frozen=True)
class AtLock:
    """The smallest gap of a tire at full lock while crossed up.

    Attributes:
        tire, other: names of both; gap_mm: between them; left_mm, right_mm, steer: where.
    """

    tire: str
    other: str
    gap_mm: float
    left_mm: float
    right_mm: float
    steer: float


_SHARES = np.linspace(0.125, 1.0, 8)  # of the way from ride height to crossed up as far as it goes


def crossed_at_lock(vehicle: Vehicle, key: str) -> AtLock | None:
    """What a tire of an axle comes nearest to at full lock, either way, while it is crossed up, either way.

    None where nothing steers there, and where nothing is near.

    Raises:
        StanceError: its links cannot be worked out.
    """
    axle = vehicle.axle(key)
    ends = steer_ends(axle)
    if ends is None:
        return None
    up, down = axle.bump_mm, -axle.droop_mm
    postures = np.array([(0.0, 0.0, 0.0)] + [
        (share * left, share * right, steer)
        for share in _SHARES for left, right in ((up, down), (down, up)) for steer in ends
    ])  # fmt: skip
    states = posture_states(vehicle, axle, postures)
    parts = [p for p in hard_parts(vehicle) if p.axle in ("", key)]
    couples = [(a, b) for a, b in couples_of(parts, states.moves) if "tires" in (a.family, b.family)]
    gaps = couple_gaps(states, couples)
    # What touches at ride height already is no matter of how far the wheels go.
    found = np.where(states.allowed & (gaps[:, :1] >= 0.0), gaps, np.inf)[:, 1:]
    if not np.isfinite(found).any():
        return None
    c, k = np.unravel_index(int(found.argmin()), found.shape)
    tire, other = couples[c] if couples[c][0].family == "tires" else couples[c][::-1]
    left, right, steer = (float(v) for v in postures[1 + k])
    return AtLock(tire.name, other.name, float(found[c, k]), left, right, steer)
