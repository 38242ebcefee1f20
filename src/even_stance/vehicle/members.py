"""The members that hold an axle, and the mounts at their ends."""

from typing import Literal

from pydantic import model_validator

from even_stance.vehicle.records import Length, Name, Point, PositiveLength, Record

Side = Literal["left", "right", "center"]
Role = Literal["lower", "upper", "lateral"]
BoltDirection = Literal["square", "across", "along", "upright"]
MIN_LINK_MM = 20.0


class Mount(Record):
    """One end of a member: the joint center, and the other holes its bracket offers.

    Attributes:
        at: the joint center in the hole now used.
        holes: all holes of the bracket, bottom to top; empty when the mount has just one place.
        hole: which of them is used, counted from 0.
        bolt: which way the joint's bolt points: square to the link and level, across, along, or upright.
        swing_limit_deg: how far the joint may swing out of the plane square to its bolt.
    """

    at: Point
    holes: tuple[Point, ...] = ()
    hole: int | None = None
    bolt: BoltDirection = "square"
    swing_limit_deg: Length = 25.0

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


class Rod(Record):
    """A link with a joint at each end: a lower or upper link, or a panhard bar.

    Attributes:
        chassis, axle: the mounts on the frame and on the axle.
        tube_mm: outside diameter of the tube, for drawing and clearance.
    """

    kind: Literal["rod"] = "rod"
    name: Name
    role: Role
    side: Side
    chassis: Mount
    axle: Mount
    tube_mm: PositiveLength = 44.5

    @model_validator(mode="after")
    def _has_a_length(self) -> "Rod":
        length = sum((a - b) ** 2 for a, b in zip(self.chassis.at.xyz, self.axle.at.xyz, strict=True)) ** 0.5
        if length < MIN_LINK_MM:
            raise ValueError(
                f"“{self.name}” is only {length:.1f} mm long: its frame end and axle end are the same point. "
                f"Move one of them at least {MIN_LINK_MM:.0f} mm away"
            )
        return self

    @property
    def mounts(self) -> dict[str, Mount]:
        """The mounts by the name of their end."""
        return {"chassis": self.chassis, "axle": self.axle}


END_WORDS = {"chassis": "frame end", "axle": "axle end"}
