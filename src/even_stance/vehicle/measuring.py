"""What was measured on the car, with what, when and how it stood; and what follows from it about its stance."""

from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import Field

from even_stance.vehicle.records import Length, Mass, Name, Point, PositiveLength, Record

Quantity = Literal["length", "angle", "mass"]
Tool = Literal["tape", "plumb", "rule", "angle_finder", "scales", "gauge", "worked_out", "guess"]
Stage = Literal["found", "tacked", "welded", "settled", "driven", "later"]
# In the order of the work; all but the first are of the car as it was built.
STAGES: dict[Stage, str] = {
    "found": "as found", "tacked": "tacked", "welded": "welded", "settled": "settled",
    "driven": "after the first drive", "later": "later",
}  # fmt: skip
# What a car that is measured stands on, to choose from beside what was typed.
STANDS_ON = ("on its tires, empty", "stands under the frame", "stands under the axle", "on cribs, sandbags aboard")
Angle = Annotated[float, Field(ge=-180, le=180, allow_inf_nan=False)]


@dataclass(frozen=True)
class ToolKind:
    """What a way of measuring is called and what it is good for by default (common practice, no source).

    Attributes:
        words: what it is called; length_mm, angle_deg, mass_kg: +/- of one reading, None for what it does not measure.
    """

    words: str
    length_mm: float | None = None
    angle_deg: float | None = None
    mass_kg: float | None = None

    def reads(self, quantity: Quantity) -> bool:
        """Whether it measures this."""
        return self._sure(quantity) is not None

    def sure(self, quantity: Quantity) -> float:
        """The +/- of one reading."""
        own = self._sure(quantity)
        return _USUAL[quantity] if own is None else own

    def _sure(self, quantity: Quantity) -> float | None:
        return {"length": self.length_mm, "angle": self.angle_deg, "mass": self.mass_kg}[quantity]


# Of what a tool was not made for, as it may stand in an old file.
_USUAL: dict[Quantity, float] = {"length": 1.5875, "angle": 0.2, "mass": 2.0}


TOOLS: dict[Tool, ToolKind] = {
    "tape": ToolKind("tape", length_mm=1.5875),
    "plumb": ToolKind("plumb bob and tape", length_mm=3.175),
    "rule": ToolKind("steel rule", length_mm=0.5),
    "angle_finder": ToolKind("angle finder", angle_deg=0.2),
    "scales": ToolKind("scales", mass_kg=2.0),
    "gauge": ToolKind("digital gauge", length_mm=1.0, angle_deg=0.1, mass_kg=1.0),
    "worked_out": ToolKind("worked out", length_mm=3.0, angle_deg=0.3),
    "guess": ToolKind("guess", length_mm=25.0, angle_deg=2.0, mass_kg=50.0),
}


class Reading(Record):
    """One reading, as it was taken.

    Attributes:
        what: the key of the thing measured (“wheelbase.left”, “rear/Upper left/chassis/up”).
        quantity: length in mm, angle in degrees, or mass in kg; value, sure: in that unit.
        taken: date and time, ISO 8601; who, stance, note: as typed, stance being the ride height and load at the time.
        counts: False when it was set aside as an outlier; it is kept all the same.
        stage: at which stage of the build it was taken.
    """

    what: Annotated[str, Field(min_length=1, max_length=200)]
    quantity: Quantity
    value: Annotated[float, Field(ge=-1e6, le=1e6, allow_inf_nan=False)]
    sure: Annotated[float, Field(ge=0, le=1e5, allow_inf_nan=False)]
    tool: Tool = "tape"
    taken: Annotated[str, Field(max_length=40)] = ""
    who: Annotated[str, Field(max_length=80)] = ""
    stance: Annotated[str, Field(max_length=200)] = ""
    note: Annotated[str, Field(max_length=500)] = ""
    counts: bool = True
    stage: Stage = "found"


class Heights(Record):
    """The heights a car stands at, from the driven one it is drawn at.

    Attributes:
        air: whether it stands on air springs.
        lower_mm: how far the frame comes down when springs fail or bags are empty; raise_mm: how far up it can be set.
        settle_mm: how much lower it will sit once new springs have settled.
    """

    air: bool = False
    lower_mm: Length = 0.0
    raise_mm: Length = 0.0
    settle_mm: Length = 25.4


class LowPoint(Record):
    """Something under the car that could touch the ground, at its lowest place at driven height."""

    name: Name
    at: Point
    on: Literal["frame", "axle"] = "frame"


class Ballast(Record):
    """Something that was missing from the car when it was weighed.

    Attributes:
        stood_in: True when sandbags of its weight lay in its place, so that the scales counted it.
    """

    name: Name
    mass_kg: Mass
    at: Point
    stood_in: bool = False


class Lift(Record):
    """One end lifted: which axle went up, by how much at its wheel centers, and what the other one showed.

    Attributes:
        lifted: the axle that was lifted; lift_mm: how far; lift_sure_mm: its +/-.
        level_kg, raised_kg: load of the axle that stayed down, level and lifted; scale_sure_kg: +/- of each.
    """

    lifted: Literal["front", "rear"] = "rear"
    lift_mm: PositiveLength
    lift_sure_mm: Length = 3.0
    level_kg: Mass
    raised_kg: Mass
    scale_sure_kg: Mass = 2.0


class Threads(Record):
    """Thread pitch of the adjusters at the links' ends, mm per turn, and the smallest step their joints allow.

    Attributes:
        pitch_mm: of one end; both_ends: whether turning the tube moves both ends (left-hand and right-hand thread).
        half_turns: whether the joint fits its bolt again after half a turn, else only whole turns do.
    """

    pitch_mm: Annotated[float, Field(gt=0, le=10, allow_inf_nan=False)] = 25.4 / 12
    both_ends: bool = False
    half_turns: bool = True


class Crib(Record):
    """What wheel cribs are made of, mm: timber, saw kerf, the height wanted, and the room inside for the tire.

    Attributes:
        inside_long_mm, inside_wide_mm: chock to chock, and between the side rails; from the tires when not typed.
    """

    height_mm: PositiveLength = 13.5 * 25.4
    thick_mm: PositiveLength = 1.5 * 25.4
    wide_mm: PositiveLength = 3.5 * 25.4
    stock_mm: PositiveLength = 96.0 * 25.4
    kerf_mm: Length = 25.4 / 8
    inside_long_mm: PositiveLength | None = None
    inside_wide_mm: PositiveLength | None = None


class Measuring(Record):
    """All that the Stance station keeps.

    Attributes:
        readings: every reading ever taken, in the order taken.
        who, stance, stage: filled into new readings.
        floor_slope_deg: how far the floor rises toward the front of the car; rake_deg: how far the frame points nose
            up against the ground (a car raked nose down has a negative one).
    """

    readings: Annotated[tuple[Reading, ...], Field(max_length=20_000)] = ()
    who: Annotated[str, Field(max_length=80)] = ""
    stance: Annotated[str, Field(max_length=200)] = ""
    stage: Stage = "found"
    floor_slope_deg: Angle = 0.0
    rake_deg: Angle = 0.0
    heights: Heights = Heights()
    low_points: Annotated[tuple[LowPoint, ...], Field(max_length=200)] = ()
    ballast: Annotated[tuple[Ballast, ...], Field(max_length=200)] = ()
    lift: Lift | None = None
    threads: Threads = Threads()
    crib: Crib = Crib()
