"""What is bought and cut: joints, bungs, spacers, bolts, tubes, and the links made of them."""

from typing import Annotated, Literal, TypeVar

from pydantic import Field, model_validator

from even_stance.vehicle.records import MOST_PITCH, Force, Length, Name, PositiveLength, Record, Share

Hand = Literal["left", "right"]
Stress = Annotated[float, Field(gt=0, le=3_000, allow_inf_nan=False)]
Degrees = Annotated[float, Field(gt=0, le=90, allow_inf_nan=False)]
Money = Annotated[float, Field(ge=0, le=10_000_000, allow_inf_nan=False)]
MOST_LINKS, MOST_PARTS = 60, 200
Metal = Literal["steel", "aluminum", "titanium"]
_METAL_MARKS: tuple[tuple[str, Metal], ...] = (
    ("alumin", "aluminum"), ("6061", "aluminum"), ("6063", "aluminum"), ("6082", "aluminum"), ("7075", "aluminum"),
    ("2024", "aluminum"), ("titan", "titanium"), ("ti-6", "titanium"), ("ti-3", "titanium"), ("ti6al", "titanium"),
)  # fmt: skip
PartSort = Literal["joint", "bung", "spacers", "bolt", "tube"]


_R = TypeVar("_R", bound=Record)


def _threaded(record: _R, across_mm: float, pitch_mm: float) -> _R:
    """The record, where its pitch goes with its thread's diameter."""
    if pitch_mm > MOST_PITCH * across_mm:
        raise ValueError("the pitch does not go with the thread's diameter; count the turns in an inch again")
    return record


class Joint(Record):
    """A rod end, or a bushed eye on a threaded shank.

    Attributes:
        thread_mm, pitch_mm: of its shank; bore_mm: of its ball or sleeve; wide_mm: over its ball or sleeve.
        head_mm: across its head; shank_mm: from the ball's center to the end of the shank; threaded_mm: of that thread.
        swing_deg: how far it swings bare; rated_n: what its maker allows, once it is known.
        source: where its sizes are from.
    """

    sort: Literal["joint"] = "joint"
    name: Name
    thread_mm: PositiveLength
    pitch_mm: PositiveLength
    bore_mm: PositiveLength
    wide_mm: PositiveLength
    head_mm: PositiveLength
    shank_mm: PositiveLength
    threaded_mm: PositiveLength
    swing_deg: Degrees = 13.0
    rated_n: Force | None = None
    source: Annotated[str, Field(max_length=200)] = "measure yours"

    @model_validator(mode="after")
    def _is_one(self) -> "Joint":
        if self.threaded_mm >= self.shank_mm:
            raise ValueError("the thread is as long as the whole shank from the ball's center; tape both again")
        if self.bore_mm >= self.head_mm:
            raise ValueError("the bore is as wide as the head around it; tape both again")
        return _threaded(self, self.thread_mm, self.pitch_mm)


class Bung(Record):
    """A threaded plug welded into the end of a tube.

    Attributes:
        thread_mm, pitch_mm: of its thread; deep_mm: how deep that goes from its face.
        shoulder_mm: what of it stands out of the tube; turned_mm: across what goes into the tube.
        yield_mpa: of its steel.
    """

    sort: Literal["bung"] = "bung"
    name: Name
    thread_mm: PositiveLength
    pitch_mm: PositiveLength
    deep_mm: PositiveLength
    shoulder_mm: Length = 6.35
    turned_mm: PositiveLength
    yield_mpa: Stress = 370.0
    source: Annotated[str, Field(max_length=200)] = "measure yours"

    @model_validator(mode="after")
    def _has_a_wall(self) -> "Bung":
        if self.turned_mm <= self.thread_mm:
            raise ValueError("the bung has no wall around its thread; tape both again")
        return _threaded(self, self.thread_mm, self.pitch_mm)


class Spacers(Record):
    """A pair of misalignment spacers.

    Attributes:
        add_mm: what both together add to the width of the ball; hole_mm: for the bolt; bore_mm: of the joint they fit.
        swing_deg: how far the joint swings with them.
    """

    sort: Literal["spacers"] = "spacers"
    name: Name
    add_mm: PositiveLength
    hole_mm: PositiveLength
    bore_mm: PositiveLength
    swing_deg: Degrees = 25.0
    source: Annotated[str, Field(max_length=200)] = "measure yours"


class Bolt(Record):
    """A bolt through a bracket: diameter, pitch and yield by its grade."""

    sort: Literal["bolt"] = "bolt"
    name: Name
    diameter_mm: PositiveLength
    pitch_mm: PositiveLength
    yield_mpa: Stress
    source: Annotated[str, Field(max_length=200)] = "measure yours"

    @model_validator(mode="after")
    def _has_a_thread(self) -> "Bolt":
        return _threaded(self, self.diameter_mm, self.pitch_mm)


class Tube(Record):
    """A tube as it is bought.

    Attributes:
        outside_mm, wall_mm; material: where it was said, see `metal`; yield_mpa: of it.
        core: a bar or tube sleeved inside over its length, if any; core_yield_mpa: of that.
    """

    sort: Literal["tube"] = "tube"
    name: Name
    outside_mm: PositiveLength
    wall_mm: PositiveLength
    yield_mpa: Stress = 414.0
    material: Metal | None = None
    core: Literal["none", "aluminum", "steel"] = "none"
    core_yield_mpa: Stress = 276.0
    source: Annotated[str, Field(max_length=200)] = "measure yours"

    @model_validator(mode="after")
    def _is_hollow(self) -> "Tube":
        if 2.0 * self.wall_mm > self.outside_mm:
            raise ValueError("the wall is more than half of the outside; type the wall of one side")
        return self

    @property
    def inside_mm(self) -> float:
        """Its inside diameter, mm."""
        return self.outside_mm - 2.0 * self.wall_mm

    @property
    def metal(self) -> Metal:
        """What it is made of: as said, else as its name says, else steel."""
        if self.material is not None:
            return self.material
        # A core's metal stands in the name as well, behind a comma.
        name = self.name.lower() if self.core == "none" else self.name.lower().partition(",")[0]
        return next((metal for mark, metal in _METAL_MARKS if mark in name), "steel")


Part = Annotated[Joint | Bung | Spacers | Bolt | Tube, Field(discriminator="sort")]
AnyPart = Joint | Bung | Spacers | Bolt | Tube


class LinkEnd(Record):
    """One end of a link: what is screwed into it and the bracket it goes into.

    Attributes:
        joint, bung: none where the tube is welded on; spacers: none where the ball fills the gap.
        hand: of the thread; engaged_mm: how far it is screwed in; nut_mm: how thick its jam nut is.
        bolt: through the bracket; threads_in_plane: whether its thread reaches into the gap.
        gap_mm: between the bracket's plates; plate_mm, plate_yield_mpa: of one plate; edge_mm: hole to edge.
        weld_mm, welded_mm: leg and length of the bracket's weld; room_mm: from the bolt's middle to what is nearest,
            for a wrench, once it was taped.
    """

    joint: Joint | None = None
    bung: Bung | None = None
    spacers: Spacers | None = None
    hand: Hand = "right"
    engaged_mm: Length = 0.0
    nut_mm: Length = 9.525
    bolt: Bolt | None = None
    threads_in_plane: bool = False
    gap_mm: PositiveLength = 66.675
    plate_mm: PositiveLength = 6.35
    plate_yield_mpa: Stress = 250.0
    edge_mm: PositiveLength = 25.4
    weld_mm: PositiveLength = 4.76
    welded_mm: PositiveLength = 150.0
    room_mm: PositiveLength | None = None

    @model_validator(mode="after")
    def _is_whole(self) -> "LinkEnd":
        if (self.joint is None) != (self.bung is None):
            raise ValueError("a joint and its bung go together; choose both, or neither where the end is welded on")
        return self


class LinkParts(Record):
    """What one link is made of.

    Attributes:
        axle, part: which link; tube: what it is cut from; first, second: its two ends, as the link's ends are named.
        hit: whether it may come down on a rock.
    """

    axle: Name
    part: Name
    tube: Tube
    first: LinkEnd
    second: LinkEnd
    hit: bool = False


class Price(Record):
    """What one piece of something costs, or a meter of tube, as typed."""

    what: Name
    each: Money


class BuildSheet(Record):
    """What is bought and cut for this car.

    Attributes:
        links: the links whose parts are chosen; kerf_mm: what a saw cut takes; bars_mm: lengths that tube is sold in.
        rock_n: force of a rock at mid-span, if it was typed; rock_share: else as a share of the car's weight.
        prices: as typed; tube by the meter; ticked: what of the shopping list is there; done: steps done.
    """

    links: Annotated[tuple[LinkParts, ...], Field(max_length=MOST_LINKS)] = ()
    kerf_mm: Annotated[float, Field(ge=0, le=20, allow_inf_nan=False)] = 3.175
    bars_mm: Annotated[tuple[PositiveLength, ...], Field(min_length=1, max_length=8)] = (1828.8, 3048.0)
    rock_n: Force | None = None
    rock_share: Share = 0.5
    prices: Annotated[tuple[Price, ...], Field(max_length=MOST_PARTS)] = ()
    ticked: Annotated[tuple[Name, ...], Field(max_length=MOST_PARTS)] = ()
    done: Annotated[tuple[Name, ...], Field(max_length=MOST_PARTS)] = ()

    @model_validator(mode="after")
    def _each_once(self) -> "BuildSheet":
        named = [(p.axle, p.part) for p in self.links]
        if len(set(named)) != len(named):
            twice = next(n for n in named if named.count(n) > 1)
            raise ValueError(f"the parts of “{twice[1]}” are listed twice; keep one of them")
        return self

    def of(self, axle: str, part: str) -> LinkParts | None:
        """The parts of a link, if they are chosen."""
        return next((p for p in self.links if (p.axle, p.part) == (axle, part)), None)
