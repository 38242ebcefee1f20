"""The members that hold an axle, and the mounts at their ends."""

from dataclasses import dataclass
from typing import Annotated, ClassVar, Literal

from pydantic import Field, model_validator

from even_stance.vehicle.records import Name, Point, PositiveLength, Record

Side = Literal["left", "right", "center"]
Role = Literal["lower", "upper", "lateral", "arm", "spring"]
Body = Literal["chassis", "axle", "crank", "spring", "powertrain"]
BoltDirection = Literal["square", "across", "along", "upright"]
JointKind = Literal["rod_end", "rod_end_spacers", "rod_end_high", "poly", "rubber"]
Stiffness = Annotated[float, Field(gt=0, le=10_000_000, allow_inf_nan=False)]
Swing = Annotated[float, Field(gt=0, le=90, allow_inf_nan=False)]
MIN_LINK_MM = 20.0


@dataclass(frozen=True)
class JointType:
    """What a kind of joint takes, by default (common practice, no source; every mount can have its own figures).

    Attributes:
        words: what it is called.
        misalignment_deg: how far it swings out of the plane square to its bolt.
        stiffness: radial, N/mm: a rod end gives only in its threads and bracket, rubber a millimeter for a good part of
            a ton.
        give_mm: how much movement it takes without harm.
    """

    words: str
    misalignment_deg: float
    stiffness: float
    give_mm: float


JOINT_TYPES: dict[JointKind, JointType] = {
    "rod_end": JointType("rod end", 13.0, 60_000.0, 0.1),
    "rod_end_spacers": JointType("rod end + spacers", 18.0, 60_000.0, 0.1),
    "rod_end_high": JointType("rod end, high swing", 25.0, 60_000.0, 0.1),
    "poly": JointType("poly bushing", 6.0, 12_000.0, 1.0),
    "rubber": JointType("rubber bushing", 10.0, 4_000.0, 3.0),
}


class Mount(Record):
    """One end of a member: the joint center, and the other holes its bracket offers.

    Attributes:
        at: the joint center in the hole now used.
        holes: all holes of the bracket, bottom to top; empty when the mount has just one place.
        hole: which of them is used, counted from 0.
        joint: what kind of joint it is.
        bolt: which way the joint's bolt points: square to the link and level, across, along, or upright.
        misalignment_limit_deg: how far the joint may swing out of the plane square to its bolt.
        stiffness_n_mm: radial stiffness when it is not that of its kind.
    """

    at: Point
    holes: Annotated[tuple[Point, ...], Field(max_length=40)] = ()
    hole: int | None = None
    joint: JointKind = "rod_end_high"
    bolt: BoltDirection = "square"
    misalignment_limit_deg: Swing = 25.0
    stiffness_n_mm: Stiffness | None = None

    @property
    def stiffness(self) -> float:
        """Radial stiffness, N/mm."""
        return self.stiffness_n_mm or JOINT_TYPES[self.joint].stiffness

    @property
    def give_mm(self) -> float:
        """How far the joint moves without harm, mm."""
        return JOINT_TYPES[self.joint].give_mm

    @model_validator(mode="after")
    def _hole_is_where_the_joint_is(self) -> "Mount":
        if not self.holes:
            if self.hole is not None:
                raise ValueError("a hole is chosen but the bracket has none; list the holes or leave it out")
            return self
        if self.hole is None or not 0 <= self.hole < len(self.holes):
            raise ValueError(f"the hole must be a number from 0 to {len(self.holes) - 1}")
        away = max(abs(a - b) for a, b in zip(self.at.xyz, self.holes[self.hole].xyz, strict=True))
        if away > 0.01:
            raise ValueError("the joint center is not at the chosen hole")
        return self


class MemberBase(Record):
    """What all members have: a name of its own on the axle, a role and a side.

    `ENDS` names the mounts and what each is fixed to; `WORDS` what they are called; `SPANS` the pairs of mounts that
    are a rigid distance apart; `PAIRS` the ends that are mirror images of each other on one member: by end, the other
    one and the side this one is on.
    """

    ENDS: ClassVar[dict[str, Body]]
    WORDS: ClassVar[dict[str, str]]
    SPANS: ClassVar[tuple[tuple[str, str], ...]]
    PAIRS: ClassVar[dict[str, tuple[str, Side]]] = {}

    name: Name
    role: Role
    side: Side
    tube_mm: PositiveLength = 44.5

    @property
    def mounts(self) -> dict[str, Mount]:
        """The mounts by the name of their end."""
        return {end: getattr(self, end) for end in self.ENDS}

    def body(self, end: str) -> Body:
        """What an end is fixed to."""
        return self.ENDS[end]

    @model_validator(mode="after")
    def _has_a_length(self) -> "MemberBase":
        for one, other in self.SPANS:
            a, b = self.mounts[one].at.xyz, self.mounts[other].at.xyz
            length = sum((p - q) ** 2 for p, q in zip(a, b, strict=True)) ** 0.5
            if length < MIN_LINK_MM:
                raise ValueError(
                    f"“{self.name}” is only {length:.1f} mm long: its {self.WORDS[one]} and {self.WORDS[other]} are "
                    f"the same point. Move one of them at least {MIN_LINK_MM:.0f} mm away"
                )
        return self


class Rod(MemberBase):
    """A link with a joint at each end: a lower or upper link, or a panhard bar."""

    ENDS: ClassVar[dict[str, Body]] = {"chassis": "chassis", "axle": "axle"}
    WORDS: ClassVar[dict[str, str]] = {"chassis": "frame end", "axle": "axle end"}
    SPANS: ClassVar[tuple[tuple[str, str], ...]] = (("chassis", "axle"),)
    kind: Literal["rod"] = "rod"
    chassis: Mount
    axle: Mount


class AArm(MemberBase):
    """Two pivots on the frame, one ball on the axle: an upper A-arm, or a central pivot arm on top of the diff.

    Attributes:
        ball: fixed to the axle, or free to slide sideways on it: it then takes torque and leaves locating to a bar.
    """

    ENDS: ClassVar[dict[str, Body]] = {"chassis_left": "chassis", "chassis_right": "chassis", "axle": "axle"}
    WORDS: ClassVar[dict[str, str]] = {
        "chassis_left": "left frame pivot", "chassis_right": "right frame pivot", "axle": "axle ball"
    }  # fmt: skip
    SPANS: ClassVar[tuple[tuple[str, str], ...]] = (("chassis_left", "axle"), ("chassis_right", "axle"))
    PAIRS: ClassVar[dict[str, tuple[str, Side]]] = {
        "chassis_left": ("chassis_right", "left"), "chassis_right": ("chassis_left", "right")
    }  # fmt: skip
    kind: Literal["a_arm"] = "a_arm"
    chassis_left: Mount
    chassis_right: Mount
    axle: Mount
    ball: Literal["fixed", "slides"] = "fixed"


class AArmReversed(MemberBase):
    """The mirror of an A-arm: one ball on the frame and two pivots on the axle."""

    ENDS: ClassVar[dict[str, Body]] = {"chassis": "chassis", "axle_left": "axle", "axle_right": "axle"}
    WORDS: ClassVar[dict[str, str]] = {
        "chassis": "frame ball", "axle_left": "left axle pivot", "axle_right": "right axle pivot"
    }  # fmt: skip
    SPANS: ClassVar[tuple[tuple[str, str], ...]] = (("chassis", "axle_left"), ("chassis", "axle_right"))
    PAIRS: ClassVar[dict[str, tuple[str, Side]]] = {
        "axle_left": ("axle_right", "left"), "axle_right": ("axle_left", "right")
    }  # fmt: skip
    kind: Literal["a_arm_reversed"] = "a_arm_reversed"
    chassis: Mount
    axle_left: Mount
    axle_right: Mount


class RadiusArm(MemberBase):
    """A radius arm or ladder bar: clamped to the axle, one pivot on the frame.

    Attributes:
        clamp: bushed (two bushings, one ahead of the other, that let the arm turn a little) or welded solid.
        clamp_spread_mm: how far apart those bushings are.
        wall_mm: wall of the arm's tube.
    """

    ENDS: ClassVar[dict[str, Body]] = {"chassis": "chassis", "axle": "axle"}
    WORDS: ClassVar[dict[str, str]] = {"chassis": "frame pivot", "axle": "axle clamp"}
    SPANS: ClassVar[tuple[tuple[str, str], ...]] = (("chassis", "axle"),)
    kind: Literal["radius_arm"] = "radius_arm"
    chassis: Mount
    axle: Mount
    clamp: Literal["bushed", "solid"] = "bushed"
    clamp_spread_mm: PositiveLength = 130.0
    wall_mm: PositiveLength = 6.35


class TorqueArm(MemberBase):
    """An arm rigid with the axle whose front end rides in a slot, on a bushing, or hangs on a shackle.

    Attributes:
        front: how its front end is held; shackle_mm: how long the shackle above it is.
    """

    ENDS: ClassVar[dict[str, Body]] = {"chassis": "chassis", "axle": "axle"}
    WORDS: ClassVar[dict[str, str]] = {"chassis": "front end", "axle": "axle clamp"}
    SPANS: ClassVar[tuple[tuple[str, str], ...]] = (("chassis", "axle"),)
    kind: Literal["torque_arm"] = "torque_arm"
    chassis: Mount
    axle: Mount
    front: Literal["slot", "bushing", "shackle"] = "slot"
    shackle_mm: PositiveLength = 100.0


class Watts(MemberBase):
    """A watts link: a crank with a link at each end, its pivot on the axle or on the frame.

    Attributes:
        crank_on: which body carries the pivot; the links' outer ends are on the other one.
        crank_turns: a vertical crank turns about a fore-aft pivot, a horizontal one about an upright pivot.
    """

    ENDS: ClassVar[dict[str, Body]] = {
        "pivot": "axle", "crank_left": "crank", "crank_right": "crank", "outer_left": "chassis",
        "outer_right": "chassis",
    }  # fmt: skip
    WORDS: ClassVar[dict[str, str]] = {
        "pivot": "crank pivot", "crank_left": "left link, crank end", "crank_right": "right link, crank end",
        "outer_left": "left link, outer end", "outer_right": "right link, outer end",
    }  # fmt: skip
    SPANS: ClassVar[tuple[tuple[str, str], ...]] = (
        ("pivot", "crank_left"), ("pivot", "crank_right"), ("crank_left", "outer_left"), ("crank_right", "outer_right"),
    )  # fmt: skip
    kind: Literal["watts"] = "watts"
    pivot: Mount
    crank_left: Mount
    crank_right: Mount
    outer_left: Mount
    outer_right: Mount
    crank_on: Literal["axle", "frame"] = "axle"
    crank_turns: Literal["vertical", "horizontal"] = "vertical"

    def body(self, end: str) -> Body:
        """What an end is fixed to: pivot and outer ends swap with the crank's place."""
        body = self.ENDS[end]
        if body == "crank" or self.crank_on == "axle":
            return body
        return "chassis" if body == "axle" else "axle"


class LeafPack(Record):
    """The leaves of a spring as measured.

    Attributes:
        leaves: how many; wide_mm, thick_mm: of one leaf; clamp_mm: how much of the length the U-bolts hold still.
        stiffening: 1 for leaves graded to a point, up to 1.5 where several run the full length (SAE HS-788).
        arch_mm: how far the main leaf stands up in the middle, free, over the line through its eyes.
    """

    leaves: Annotated[int, Field(ge=1, le=20)] = 4
    wide_mm: PositiveLength = 63.5
    thick_mm: PositiveLength = 7.0
    clamp_mm: Annotated[float, Field(ge=0, le=1_000, allow_inf_nan=False)] = 100.0
    stiffening: Annotated[float, Field(ge=1, le=1.6, allow_inf_nan=False)] = 1.1
    arch_mm: Annotated[float, Field(ge=-1_000, le=1_000, allow_inf_nan=False)] = 120.0


class Leaf(MemberBase):
    """A leaf spring: fixed eye, seat on the axle, and an eye that hangs on a shackle.

    Attributes:
        rate_n_mm: vertical rate at the seat; lateral_n_mm: sideways stiffness at each eye.
        pack: its leaves as measured, from which a rate can be worked out; none where it was measured with a jack.
    """

    ENDS: ClassVar[dict[str, Body]] = {
        "fixed_eye": "chassis", "seat": "axle", "shackle_eye": "spring", "shackle": "chassis"
    }  # fmt: skip
    WORDS: ClassVar[dict[str, str]] = {
        "fixed_eye": "fixed eye", "seat": "axle seat", "shackle_eye": "shackle eye", "shackle": "shackle frame pivot"
    }  # fmt: skip
    SPANS: ClassVar[tuple[tuple[str, str], ...]] = (
        ("fixed_eye", "seat"), ("shackle_eye", "seat"), ("shackle_eye", "shackle")
    )  # fmt: skip
    kind: Literal["leaf"] = "leaf"
    fixed_eye: Mount
    seat: Mount
    shackle_eye: Mount
    shackle: Mount
    rate_n_mm: Stiffness = 35.0
    lateral_n_mm: Stiffness = 400.0
    pack: LeafPack | None = None


Member = Annotated[Rod | AArm | AArmReversed | RadiusArm | TorqueArm | Watts | Leaf, Field(discriminator="kind")]
AnyMember = Rod | AArm | AArmReversed | RadiusArm | TorqueArm | Watts | Leaf
