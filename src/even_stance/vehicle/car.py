"""The vehicle: its axles with tires and members, weights and frame."""

from itertools import pairwise
from typing import Annotated, Literal

from pydantic import Field, model_validator

from even_stance.vehicle.build import BuildSheet
from even_stance.vehicle.driveline import Powertrain, Shaft, Yoke
from even_stance.vehicle.members import AnyMember, Member
from even_stance.vehicle.records import HowKnown, Length, Mass, Name, Point, PositiveLength, Record, Share
from even_stance.vehicle.springs import AnySpring, Cargo, SpringUnit
from even_stance.vehicle.steering import Steering
from even_stance.vehicle.things import MOST_THINGS, Clearances, Thing

# Common practice, no source: a tire stands at 0.44 to 0.49 of its diameter.
LOADED_SHARE = 0.465
MOST_MEMBERS = 24  # more than any axle has
MOST_SPRINGS = 24
MOST_LANDMARKS = 40


class Tire(Record):
    """A mounted tire as measured: the loaded radius is axle center to ground at ride height.

    Attributes:
        rate_n_mm: how stiff it is as it stands, None while not measured; pressure_bar: it is guessed by that then.
    """

    free_diameter_mm: PositiveLength
    loaded_radius_mm: PositiveLength
    width_mm: PositiveLength
    rate_n_mm: Annotated[float, Field(gt=0, le=10_000, allow_inf_nan=False)] | None = None
    pressure_bar: Annotated[float, Field(gt=0, le=20, allow_inf_nan=False)] | None = None

    @model_validator(mode="after")
    def _radius_fits_diameter(self) -> "Tire":
        if not 0.3 <= self.loaded_radius_mm / self.free_diameter_mm <= 0.55:
            raise ValueError(
                "the loaded radius does not fit the tire diameter; a tire stands at 0.44 to 0.49 of its diameter"
            )
        return self


class Housing(Record):
    """The housing of a driven axle as three tape measures: its ball and the nose of its pinion.

    Attributes:
        ball_mm: how high, or fore and aft, its round part is; wide_mm: how wide that is across the car.
        nose_mm: across the nose of the pinion, at its largest.
    """

    ball_mm: PositiveLength
    wide_mm: PositiveLength
    nose_mm: PositiveLength


class Axle(Record):
    """One solid axle and what holds it.

    Attributes:
        key: short name used on the command line ("front", "rear").
        behind_front_mm: how far behind the front axle it sits at ride height; 0 for the front axle.
        track_mm: tire center to tire center.
        tube_mm, tube_wall_mm: outside diameter and wall of the axle tube; tube_known: how they are known.
        bump_mm, droop_mm: wheel travel up and down from ride height, both positive.
        drive_share, brake_share: share of the whole drive or brake force at this axle.
        load_kg: what this axle shows on the scales; unsprung_kg: how much of it is axle and wheels.
        housing: its housing, once that was taped.
        output, pinion: the shaft end that drives it (on the gearbox) and its pinion's (on the axle), once measured.
        shaft: the driveshaft between them, once it is known.
        steering: what turns its wheels, once it is known.
        springs: its springs, shocks, stops, straps and sway bars; leaves are among the members, for they hold the axle.
    """

    key: Name
    behind_front_mm: Length
    track_mm: PositiveLength
    tire: Tire
    tube_mm: PositiveLength = 76.2
    tube_wall_mm: PositiveLength = 6.35
    tube_known: HowKnown | None = None
    bump_mm: Length = 100.0
    droop_mm: Length = 100.0
    driven: bool = False
    steered: bool = False
    drive_share: Share = 0.0
    brake_share: Share = 0.5
    load_kg: Mass = 0.0
    unsprung_kg: Mass = 0.0
    members: Annotated[tuple[Member, ...], Field(max_length=MOST_MEMBERS)] = ()
    housing: Housing | None = None
    output: Yoke | None = None
    pinion: Yoke | None = None
    shaft: Shaft | None = None
    steering: Steering | None = None
    springs: Annotated[tuple[SpringUnit, ...], Field(max_length=MOST_SPRINGS)] = ()

    @model_validator(mode="after")
    def _makes_sense(self) -> "Axle":
        names = [p.name for p in self.parts]
        if len(set(names)) != len(names):
            twice = next(n for n in names if names.count(n) > 1)
            raise ValueError(f"two parts are called “{twice}”; give each its own name")
        if self.members and self.steering is not None and self.steering.kind == "swing_beams":
            raise ValueError("swing beams hold these wheels; take them out in Steering, or the links out in Links")
        if self.output is not None and self.output.on and self.shaft is not None and self.shaft.carrier is not None:
            raise ValueError("a through shaft between axles is one piece; take its carrier bearing out")
        self._hangs()
        if self.unsprung_kg > self.load_kg:
            raise ValueError("the unsprung weight is more than the axle shows on the scales")
        if not self.driven and self.drive_share > 0:
            raise ValueError("an axle that is not driven cannot have a share of the drive force")
        return self

    def _hangs(self) -> None:
        """Springs hang on the axle or on a link that there is."""
        links = {m.name for m in self.members if m.kind in ("rod", "radius_arm", "torque_arm")}
        for unit in self.springs:
            on = getattr(unit, "on", "axle")
            if on != "axle" and on not in links:
                raise ValueError(f"“{unit.name}” stands on “{on}”, which is no link of this axle; choose the axle")

    @property
    def parts(self) -> tuple[AnyMember | AnySpring, ...]:
        """Everything with mounts: members, then springs."""
        return (*self.members, *self.springs)

    @property
    def is_front(self) -> bool:
        """True for the axle at the origin."""
        return self.behind_front_mm == 0.0

    @property
    def center(self) -> tuple[float, float, float]:
        """The axle center at ride height, mm."""
        return (-self.behind_front_mm, 0.0, self.tire.loaded_radius_mm)

    def member(self, name: str) -> AnyMember:
        """The member of that name.

        Raises:
            KeyError: there is none.
        """
        for member in self.members:
            if member.name == name:
                return member
        raise KeyError(name)

    def part(self, name: str) -> AnyMember | AnySpring:
        """The member or spring of that name.

        Raises:
            KeyError: there is none.
        """
        for part in self.parts:
            if part.name == name:
                return part
        raise KeyError(name)


class Frame(Record):
    """The frame rails as drawn on the floor, at ride height.

    Attributes:
        rail_top_mm, rail_bottom_mm: above ground, between the axles; rail_out_mm: their middle, from the centerline.
        kick_up_mm, front_kick_up_mm: how much higher they run over the rear and over the front axle.
        known: how heights and place are known; None while nobody said.
    """

    rail_top_mm: Length = 620.0
    rail_bottom_mm: Length = 510.0
    rail_out_mm: Length = 430.0
    kick_up_mm: Length = 130.0
    front_kick_up_mm: Length = 0.0
    known: HowKnown | None = None


CgSource = Literal["bellhousing", "camshaft", "measured", "typed"]


class Landmark(Record):
    """A place on the car that others are seen against, such as the bumper or a rocker; nothing is reckoned with it."""

    name: Name
    at: Point


class Vehicle(Record):
    """One vehicle standing at ride height.

    Attributes:
        anti_uses: whose CG height anti-squat is reckoned with: the whole vehicle's or that of its sprung mass.
        anti_bands: what the bands of anti-squat and anti-lift under drive mean: the axle alone, as people quote it, or
            at its share of the drive.
        over: with the wheels off ride height, over which ground answers are given: the ground at ride height, the frame
            staying where it is as an axle rises over a bump; or the ground as the car then stands, come down on it.
        powertrain: engine and gearbox on their mounts, once measured.
        cargo: what it carries besides what was on the scales.
        landmarks: places that were given a name, to see others against.
        things, clearances: what can be hit besides, and what gaps are wanted; build: what is bought and cut.
        wheelbase_sure_mm: +/- of the wheelbase (a tape: 1/16 in).
        ride_sure_mm: how far off its ride height the car may have stood when it was measured, +/- (1/8 in: common
            practice, no source).
    """

    axles: tuple[Axle, ...] = Field(min_length=2, max_length=3)
    cg_height_mm: PositiveLength
    cg_source: CgSource = "typed"
    cg_sure_mm: Length = 50.0
    wheelbase_sure_mm: Length = 1.5875
    ride_sure_mm: Length = 3.175
    anti_uses: Literal["whole", "sprung"] = "whole"
    anti_bands: Literal["axle", "share"] = "axle"
    over: Literal["ride", "stands"] = "ride"
    frame: Frame = Frame()
    powertrain: Powertrain | None = None
    cargo: Annotated[tuple[Cargo, ...], Field(max_length=40)] = ()
    landmarks: Annotated[tuple[Landmark, ...], Field(max_length=MOST_LANDMARKS)] = ()
    things: Annotated[tuple[Thing, ...], Field(max_length=MOST_THINGS)] = ()
    clearances: Clearances = Clearances()
    build: BuildSheet = BuildSheet()

    @model_validator(mode="after")
    def _axles_in_order(self) -> "Vehicle":
        places = [a.behind_front_mm for a in self.axles]
        if places[0] != 0.0 or any(b <= a for a, b in pairwise(places)):
            raise ValueError("the axles must be listed front to rear, the first at 0 and each behind the one before")
        keys = [a.key for a in self.axles]
        if len(set(keys)) != len(keys):
            raise ValueError("two axles have the same name; call them front and rear")
        outputs = {a.key: a.output.on for a in self.axles if a.output is not None}
        for key, on in outputs.items():
            if on and (on not in keys or on == key or outputs.get(on) == key):
                raise ValueError(
                    f"the output of the {key} axle cannot be on the {on} axle; choose another or the gearbox"
                )
        self._things_hang(keys)
        called = [p.name for p in self.landmarks]
        if len(set(called)) != len(called):
            twice = next(n for n in called if called.count(n) > 1)
            raise ValueError(f"two places are called “{twice}”; give each its own name")
        if sum(a.drive_share for a in self.axles) > 1.0 + 1e-6:
            raise ValueError("the drive shares of the axles add up to more than 100 %")
        if sum(a.brake_share for a in self.axles) > 1.0 + 1e-6:
            raise ValueError("the brake shares of the axles add up to more than 100 %")
        return self

    def _things_hang(self, keys: list[str]) -> None:
        """Things have names of their own and hang on bodies that there are."""
        names = [t.name for t in self.things]
        if len(set(names)) != len(names):
            twice = next(n for n in names if names.count(n) > 1)
            raise ValueError(f"two things are called “{twice}”; give each its own name")
        bodies = {"chassis", "powertrain", *(f"{k} axle" for k in keys)}
        bodies |= {f"{k} {side} knuckle" for k in keys for side in ("left", "right")}
        for thing in self.things:
            if thing.on not in bodies:
                raise ValueError(f"“{thing.name}” hangs on “{thing.on}”, which this car has not; choose the chassis")

    @property
    def wheelbase_mm(self) -> float:
        """Front axle to rear axle; for a tandem, to the middle of the rear pair (SAE J670)."""
        rear = [a.behind_front_mm for a in self.axles[1:]]
        return sum(rear) / len(rear)

    @property
    def mass_kg(self) -> float:
        """All axle loads together."""
        return sum(a.load_kg for a in self.axles)

    def axle(self, key: str) -> Axle:
        """The axle of that name.

        Raises:
            KeyError: there is none.
        """
        for axle in self.axles:
            if axle.key == key:
                return axle
        raise KeyError(key)
