"""Springs, shocks, stops, straps and sway bars: what hangs between the chassis and an axle besides its links."""

from typing import Annotated, ClassVar, Literal

from pydantic import Field, model_validator

from even_stance.vehicle.members import Body, MemberBase, Mount, Role, Side
from even_stance.vehicle.records import Length, PositiveLength, Record

Rate = Annotated[float, Field(gt=0, le=100_000, allow_inf_nan=False)]
Bar = Annotated[float, Field(gt=0, le=100, allow_inf_nan=False)]
Area = Annotated[float, Field(gt=0, le=1_000_000, allow_inf_nan=False)]
Liters = Annotated[float, Field(gt=0, le=1_000, allow_inf_nan=False)]
_LEAST_STROKE_MM = 5.0


class Coil(Record):
    """A coil spring as bought.

    Attributes:
        rate_n_mm: its rate; free_mm: its length with no load; solid_mm: its length with all coils closed.
        sag_mm: how much shorter it gets as it settles.
    """

    rate_n_mm: Rate
    free_mm: PositiveLength
    solid_mm: PositiveLength
    sag_mm: Length = 0.0

    @model_validator(mode="after")
    def _closes(self) -> "Coil":
        if self.solid_mm >= self.free_mm - self.sag_mm:
            raise ValueError(
                "a coil closed solid is shorter than free: measure its free length again, or its solid one"
            )
        return self


class Hung(MemberBase):
    """Anything with two ends: the upper one on the chassis, the lower one on the axle or on a link.

    Attributes:
        on: what the lower end is fixed to: "axle", or the name of a link that reaches to it.
    """

    ENDS: ClassVar[dict[str, Body]] = {"top": "chassis", "bottom": "axle"}
    WORDS: ClassVar[dict[str, str]] = {"top": "upper mount", "bottom": "lower mount"}
    SPANS: ClassVar[tuple[tuple[str, str], ...]] = (("top", "bottom"),)
    role: Role = "spring"
    side: Side
    top: Mount
    bottom: Mount
    on: str = Field(default="axle", max_length=80)

    def body(self, end: str) -> Body:
        """What an end is fixed to; a place on a link goes along with the link."""
        return "spring" if end == "bottom" and self.on != "axle" else self.ENDS[end]


class Damped(Record):
    """The strokes of a shock, eye to eye.

    Attributes:
        open_mm, closed_mm: all the way out and all the way in; body_mm, shaft_mm: how thick its body and its rod are.
    """

    open_mm: PositiveLength
    closed_mm: PositiveLength
    body_mm: PositiveLength = 57.15
    shaft_mm: PositiveLength = 15.875

    @model_validator(mode="after")
    def _strokes(self) -> "Damped":
        if self.open_mm < self.closed_mm + _LEAST_STROKE_MM:
            raise ValueError("a shock is longer open than closed; measure it eye to eye, all the way out and in")
        return self


class CoilOver(Damped, Hung):
    """A coil on a shock; two coils on one another with a crossover stop make it dual-rate.

    Attributes:
        coil: the main (lower) coil; upper: the one above it, if there are two.
        seats_mm: what of the length eye to eye is not coil: both eyes to their seats, and the slider between two coils.
        crossover_mm: how far the upper coil closes until its slider meets the stop; none while it has no stop.
        pitch_mm: how far one turn of the collar moves it.
    """

    kind: Literal["coil_over"] = "coil_over"
    coil: Coil
    upper: Coil | None = None
    seats_mm: Length = 100.0
    crossover_mm: PositiveLength | None = None
    pitch_mm: PositiveLength = 2.0

    @model_validator(mode="after")
    def _crosses_over(self) -> "CoilOver":
        if self.upper is None and self.crossover_mm is not None:
            raise ValueError("a crossover stop needs an upper coil to stop; enter the upper coil first")
        return self

    @property
    def coils(self) -> tuple[Coil, ...]:
        """Its coils, the lower one first."""
        return (self.coil,) if self.upper is None else (self.coil, self.upper)


class CoilSpring(Hung):
    """A coil between two seats, its shock elsewhere."""

    kind: Literal["coil"] = "coil"
    coil: Coil
    seats_mm: Length = 0.0

    @property
    def coils(self) -> tuple[Coil, ...]:
        """Its one coil."""
        return (self.coil,)


class Shock(Damped, Hung):
    """A shock without a spring; it is taken to have no friction and no gas force."""

    kind: Literal["shock"] = "shock"


class AirSpring(Hung):
    """An air spring, by its maker's curve of area against height.

    Attributes:
        pressure_bar: over that of the air around it, at ride height.
        heights_mm, areas_mm2: its effective area at some heights, least height first.
        volume_l: the air in it (and in what is always open to it) at ride height.
        closed_mm, open_mm: on its internal stop, and all the way out.
        seats_mm: what of the length between its mounts is bracket and not spring.
    """

    kind: Literal["air"] = "air"
    pressure_bar: Bar = 5.0
    heights_mm: Annotated[tuple[PositiveLength, ...], Field(min_length=2, max_length=20)] = (75.0, 150.0, 225.0)
    areas_mm2: Annotated[tuple[Area, ...], Field(min_length=2, max_length=20)] = (20000.0, 17000.0, 13000.0)
    volume_l: Liters = 3.0
    closed_mm: PositiveLength = 70.0
    open_mm: PositiveLength = 240.0
    seats_mm: Length = 0.0
    body_mm: PositiveLength = 150.0

    @model_validator(mode="after")
    def _curve(self) -> "AirSpring":
        if len(self.heights_mm) != len(self.areas_mm2):
            raise ValueError("every height of an air spring needs its area; enter as many of one as of the other")
        if any(b <= a for a, b in zip(self.heights_mm, self.heights_mm[1:], strict=False)):
            raise ValueError("the heights of an air spring go from the least up; enter them in order")
        if self.open_mm <= self.closed_mm:
            raise ValueError("an air spring is longer all the way out than on its internal stop; measure both again")
        return self


class BumpStop(Hung):
    """A bump stop: it meets its pad some way before full bump.

    Attributes:
        gap_mm: open at ride height, along the line of its ends; squeeze_mm: how far it goes until it is solid.
        rate_n_mm: its rate while it squeezes.
    """

    kind: Literal["bump_stop"] = "bump_stop"
    gap_mm: Length = 50.0
    squeeze_mm: PositiveLength = 25.0
    rate_n_mm: Rate = 150.0


class Strap(Hung):
    """A limit strap.

    Attributes:
        length_mm: joint to joint when it is tight; stretch_pct: how much more it gives under the axle's weight.
    """

    kind: Literal["strap"] = "strap"
    length_mm: PositiveLength
    stretch_pct: Annotated[float, Field(ge=0, le=30, allow_inf_nan=False)] = 3.0


class SwayBar(MemberBase):
    """A sway bar: a bar across the car, an arm at either end, and a link from each arm.

    Attributes:
        bar_on: which body its bearings are on; its links end on the other one.
        bar_mm: how thick the bar is; inside_mm: of a tube, its inside; arm_mm: how thick an arm is where it bends.
        shear_n_mm2: shear modulus of its material.
    """

    ENDS: ClassVar[dict[str, Body]] = {
        "bearing_left": "chassis", "bearing_right": "chassis", "arm_left": "crank", "arm_right": "crank",
        "drop_left": "axle", "drop_right": "axle",
    }  # fmt: skip
    WORDS: ClassVar[dict[str, str]] = {
        "bearing_left": "left bearing, at the arm", "bearing_right": "right bearing, at the arm",
        "arm_left": "left arm’s end", "arm_right": "right arm’s end", "drop_left": "left link’s far end",
        "drop_right": "right link’s far end",
    }  # fmt: skip
    SPANS: ClassVar[tuple[tuple[str, str], ...]] = (
        ("bearing_left", "bearing_right"), ("bearing_left", "arm_left"), ("bearing_right", "arm_right"),
        ("arm_left", "drop_left"), ("arm_right", "drop_right"),
    )  # fmt: skip
    PAIRS: ClassVar[dict[str, tuple[str, Side]]] = {
        "bearing_left": ("bearing_right", "left"), "bearing_right": ("bearing_left", "right"),
        "arm_left": ("arm_right", "left"), "arm_right": ("arm_left", "right"),
        "drop_left": ("drop_right", "left"), "drop_right": ("drop_left", "right"),
    }  # fmt: skip
    role: Role = "spring"
    side: Side = "center"
    kind: Literal["sway_bar"] = "sway_bar"
    bearing_left: Mount
    bearing_right: Mount
    arm_left: Mount
    arm_right: Mount
    drop_left: Mount
    drop_right: Mount
    bar_on: Literal["chassis", "axle"] = "chassis"
    bar_mm: PositiveLength = 25.4
    inside_mm: Length = 0.0
    arm_mm: PositiveLength = 25.4
    shear_n_mm2: Rate = 79_300.0

    def body(self, end: str) -> Body:
        """What an end is fixed to: bearings and far ends swap with the bar's place."""
        body = self.ENDS[end]
        if body == "crank" or self.bar_on == "chassis":
            return body
        return "chassis" if body == "axle" else "axle"

    @model_validator(mode="after")
    def _has_wall(self) -> "SwayBar":
        if self.inside_mm >= self.bar_mm:
            raise ValueError("the inside of a sway bar is less than its outside; enter 0 for a solid one")
        return self


class Rocker(Damped, MemberBase):
    """A cantilever: a pushrod from the axle turns a rocker on the chassis, which works a shock, with or without a coil.

    Attributes:
        pivot, pivot_to: two points of the rocker's axis.
        push_top, push_bottom: the pushrod, on the rocker and on the axle; low, top: the shock, on the rocker and on the
            chassis.
        coil: the coil on the shock, if there is one; seats_mm, pitch_mm: as of a coil-over.
    """

    ENDS: ClassVar[dict[str, Body]] = {
        "pivot": "chassis", "pivot_to": "chassis", "push_top": "crank", "push_bottom": "axle", "low": "crank",
        "top": "chassis",
    }  # fmt: skip
    WORDS: ClassVar[dict[str, str]] = {
        "pivot": "rocker’s pivot", "pivot_to": "far end of its axis", "push_top": "pushrod, rocker end",
        "push_bottom": "pushrod, axle end", "low": "shock, rocker end", "top": "upper mount",
    }  # fmt: skip
    SPANS: ClassVar[tuple[tuple[str, str], ...]] = (
        ("pivot", "pivot_to"), ("pivot", "push_top"), ("pivot", "low"), ("push_top", "push_bottom"), ("low", "top"),
    )  # fmt: skip
    role: Role = "spring"
    kind: Literal["rocker"] = "rocker"
    pivot: Mount
    pivot_to: Mount
    push_top: Mount
    push_bottom: Mount
    low: Mount
    top: Mount
    coil: Coil | None = None
    seats_mm: Length = 100.0
    pitch_mm: PositiveLength = 2.0

    @property
    def coils(self) -> tuple[Coil, ...]:
        """Its coil, if it has one."""
        return () if self.coil is None else (self.coil,)


SpringUnit = Annotated[
    CoilOver | CoilSpring | Shock | AirSpring | BumpStop | Strap | SwayBar | Rocker, Field(discriminator="kind")
]
AnySpring = CoilOver | CoilSpring | Shock | AirSpring | BumpStop | Strap | SwayBar | Rocker


class Cargo(Record):
    """Something that the car carries or not: tools, spare wheel, people, fuel.

    Attributes:
        mass_kg: how heavy it is; behind_front_mm, left_mm: where its middle is; aboard: whether it is in now.
    """

    name: Annotated[str, Field(min_length=1, max_length=80)]
    mass_kg: Annotated[float, Field(gt=0, le=100_000, allow_inf_nan=False)]
    behind_front_mm: Annotated[float, Field(ge=-20_000, le=20_000, allow_inf_nan=False)]
    left_mm: Annotated[float, Field(ge=-5_000, le=5_000, allow_inf_nan=False)] = 0.0
    aboard: bool = True
