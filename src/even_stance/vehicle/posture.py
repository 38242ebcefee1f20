"""Where the wheels of a car are: the travel of every wheel and the steer input of every axle."""

from dataclasses import dataclass, replace
from functools import cached_property

from even_stance.vehicle.car import Vehicle


@dataclass(frozen=True)
class AxlePosture:
    """One axle's wheels.

    Attributes:
        left_mm, right_mm: rise of the wheel centers relative to the chassis from ride height, bump +.
        steer: the steer input, + turns the road wheels to the left: hand-wheel turns from center for a box, mm of rod
            from center for a ram. Turns nothing where there is no steering.
    """

    left_mm: float = 0.0
    right_mm: float = 0.0
    steer: float = 0.0

    @cached_property
    def is_ride(self) -> bool:
        """Whether it is ride height, wheels ahead."""
        return self == AxlePosture()


RIDE = AxlePosture()


@dataclass(frozen=True)
class CarPosture:
    """The posture of every axle of a car, by its key; one that is not named stands at ride height."""

    axles: tuple[tuple[str, AxlePosture], ...] = ()

    def of(self, axle: str) -> AxlePosture:
        """The posture of an axle."""
        return next((posture for key, posture in self.axles if key == axle), RIDE)

    def put(self, axle: str, posture: AxlePosture) -> "CarPosture":
        """The car with one axle in another posture."""
        rest = tuple((k, p) for k, p in self.axles if k != axle)
        return CarPosture(rest if posture.is_ride else tuple(sorted((*rest, (axle, posture)))))

    @property
    def is_ride(self) -> bool:
        """Whether the whole car stands at ride height, wheels ahead."""
        return not self.axles

    def within(self, vehicle: Vehicle) -> "CarPosture":
        """The nearest posture that the wanted travel of every axle allows; axles the car has not got drop out."""
        kept = CarPosture()
        for axle in vehicle.axles:
            now = self.of(axle.key)
            left, right = (min(max(mm, -axle.droop_mm), axle.bump_mm) for mm in (now.left_mm, now.right_mm))
            kept = kept.put(axle.key, replace(now, left_mm=left, right_mm=right))
        return kept
