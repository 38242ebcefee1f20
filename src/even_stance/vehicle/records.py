"""The ground all records stand on: frozen, exact about what they take, nothing unknown dropped."""

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

Coordinate = Annotated[float, Field(ge=-20_000, le=20_000, allow_inf_nan=False)]
"""A coordinate in the vehicle's axes, mm. Twenty meters is beyond any vehicle."""
PositiveLength = Annotated[float, Field(gt=0, le=20_000, allow_inf_nan=False)]
Length = Annotated[float, Field(ge=0, le=20_000, allow_inf_nan=False)]
Force = Annotated[float, Field(ge=0, le=1_000_000, allow_inf_nan=False)]
Mass = Annotated[float, Field(ge=0, le=100_000, allow_inf_nan=False)]
Share = Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)]
Name = Annotated[str, Field(min_length=1, max_length=80)]
MOST_PITCH = 1.0 / 3.0
"""A thread's pitch as a share of its diameter, at most: beyond that one of the two was misread."""
HowKnown = Literal["taped", "built", "derived", "typed", "guessed"]
TAPE_MM = 1.5875
"""What a tape and a plumb bob are good to, +/- mm: 1/16 in (common practice, no source)."""
GUESS_MM = 25.0
"""How far off a place may be that nobody measured, +/- mm (common practice, no source)."""


class Record(BaseModel):
    """A frozen record. Unknown keys are refused, numbers must be numbers."""

    __slots__ = ("_hashed",)
    model_config = ConfigDict(frozen=True, extra="forbid", strict=True, allow_inf_nan=False, defer_build=True)

    def __hash__(self) -> int:
        """Worked out once: studies are kept by the records they read. A slot, since copies must not take it along."""
        try:
            known: int = object.__getattribute__(self, "_hashed")
        except AttributeError:
            known = hash(tuple(self.__dict__.values()))
            object.__setattr__(self, "_hashed", known)
        return known


class Point(Record):
    """A place on the car, mm: x ahead of the front axle, y left of the centerline, z above the ground.

    Attributes:
        sure: how far off each coordinate may be, +/- mm (a tape and plumb bob: 1/16 in).
        known: how it is known: measured as found or as built, worked out from what was measured, typed or put there on
            purpose, or guessed; None while nobody said.
    """

    x: Coordinate
    y: Coordinate
    z: Coordinate
    sure: Length = TAPE_MM
    known: HowKnown | None = None

    @property
    def xyz(self) -> tuple[float, float, float]:
        """The three coordinates, mm."""
        return (self.x, self.y, self.z)


def is_guess(at: Point) -> bool:
    """Whether nobody measured a place, nor put it there on purpose, as far as is said of it."""
    return at.known in (None, "guessed")


def guess_at(x: float, y: float, z: float) -> Point:
    """A place that nobody measured, mm, to start from.

    Raises:
        ValidationError: it is on no car.
    """
    return Point(x=x, y=y, z=z, sure=GUESS_MM, known="guessed")
