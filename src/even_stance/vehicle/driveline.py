"""What drives an axle: the powertrain on its mounts, the ends of shafts, and the shafts."""

from typing import Annotated, Literal

from pydantic import Field, model_validator

from even_stance.vehicle.records import Length, Name, Point, PositiveLength, Record

Angle = Annotated[float, Field(ge=-180, le=180, allow_inf_nan=False)]
ShaftJoint = Literal["single", "double_cardan", "cv"]
Toward = Literal["ahead", "behind", "above", "below", "left", "right"]
TOWARD_WORDS: dict[Toward, tuple[float, float, float]] = {
    "ahead": (1.0, 0.0, 0.0), "behind": (-1.0, 0.0, 0.0), "above": (0.0, 0.0, 1.0), "below": (0.0, 0.0, -1.0),
    "left": (0.0, 1.0, 0.0), "right": (0.0, -1.0, 0.0),
}  # fmt: skip


class Yoke(Record):
    """The end of a shaft: its joint center and which way it points.

    Attributes:
        nose_up_deg: how far the shaft rises toward the front, to level ground; angle_sure_deg: its +/-.
        left_deg: how far it points to the left going toward the front, seen from above.
        on: of an output, the axle whose housing it is on (a through shaft); empty on the gearbox.
    """

    at: Point
    nose_up_deg: Annotated[float, Field(ge=-80, le=80, allow_inf_nan=False)] = 0.0
    angle_sure_deg: Annotated[float, Field(ge=0, le=90, allow_inf_nan=False)] = 0.2
    left_deg: Annotated[float, Field(ge=-80, le=80, allow_inf_nan=False)] = 0.0
    on: Annotated[str, Field(max_length=80)] = ""


class Shaft(Record):
    """A driveshaft from an output to a pinion.

    Attributes:
        output_joint, pinion_joint: what kind of joint is at either end.
        double_mm: cross to cross of a double-cardan joint.
        phase_deg: how far the yoke at the pinion end is turned against that at the output end, + clockwise as seen from
            behind the car; 0: in line.
        tube_mm, wall_mm: the tube.
        slip: where it slips: the yoke on the output's spline, or a spline in the shaft.
        spline_mm: how long the spline is; pull_out_mm: how far it is out from where it bottoms, at ride height.
        carrier: center of the bearing on the frame that carries a shaft in two pieces; the slip is behind it.
        joint_behind_mm: how far behind that bearing, along the front piece, the joint of the rear piece is.
        front_phase_deg: how far the yoke at the carrier is turned against that at the output, + clockwise as well; the
            other phase is then of the rear piece.
        limit_deg: how far a joint may bend.
        top_rpm: how fast the shaft turns at top speed; 0 while not entered.
    """

    output_joint: ShaftJoint = "single"
    pinion_joint: ShaftJoint = "single"
    double_mm: PositiveLength = 76.2
    phase_deg: Angle = 0.0
    tube_mm: PositiveLength = 76.2
    wall_mm: PositiveLength = 2.108
    slip: Literal["output", "shaft"] = "output"
    spline_mm: PositiveLength = 127.0
    pull_out_mm: Length = 25.4
    carrier: Point | None = None
    joint_behind_mm: Length = 0.0
    front_phase_deg: Angle = 0.0
    limit_deg: Annotated[float, Field(gt=0, le=90, allow_inf_nan=False)] = 25.0
    top_rpm: Annotated[float, Field(ge=0, le=30_000, allow_inf_nan=False)] = 0.0

    @model_validator(mode="after")
    def _goes_together(self) -> "Shaft":
        if self.pull_out_mm >= self.spline_mm:
            raise ValueError("the spline is pulled out farther than it is long; type less pull-out or a longer spline")
        if 2 * self.wall_mm > self.tube_mm:
            raise ValueError("the wall of the shaft's tube is thicker than half the tube")
        if self.carrier is not None and (self.output_joint, self.pinion_joint) != ("single", "single"):
            raise ValueError("a shaft in two pieces is taken with single joints at all three places")
        if self.output_joint == self.pinion_joint == "double_cardan":
            raise ValueError("one double-cardan joint is enough: the other end is a single joint that stays straight")
        return self


class Mark(Record):
    """A point of the engine or gearbox that must clear something.

    Attributes:
        clears: what it must clear; toward: where that is, seen from the point.
        gap_mm: the gap as taped, with the powertrain where it sits; wanted_mm: the least there should be.
    """

    name: Name
    at: Point
    clears: Name = "what is there"
    toward: Toward = "ahead"
    gap_mm: Length = 25.4
    wanted_mm: Length = 12.7


class Powertrain(Record):
    """Engine and gearbox on three mounts: they tilt about the line through the two at the engine.

    Attributes:
        mount_left, mount_right: the engine mounts; tail: the gearbox mount.
        tail_up_mm: how far the tail is raised from where everything was measured, as a change that is tried.
        mounts_up_mm: how far both engine mounts are raised.
        marks: points that must clear something.
    """

    mount_left: Point
    mount_right: Point
    tail: Point
    tail_up_mm: Annotated[float, Field(ge=-150, le=150, allow_inf_nan=False)] = 0.0
    mounts_up_mm: Annotated[float, Field(ge=-150, le=150, allow_inf_nan=False)] = 0.0
    marks: Annotated[tuple[Mark, ...], Field(max_length=60)] = ()

    @property
    def moved(self) -> bool:
        """Whether it sits elsewhere than it was measured."""
        return bool(self.tail_up_mm or self.mounts_up_mm)

    @model_validator(mode="after")
    def _stands_on_three(self) -> "Powertrain":
        a, b, c = (p.xyz for p in (self.mount_left, self.mount_right, self.tail))
        across = tuple(p - q for p, q in zip(a, b, strict=True))
        back = tuple(p - q for p, q in zip(c, b, strict=True))
        if sum(v * v for v in across) ** 0.5 < 50.0:
            raise ValueError("the two engine mounts are the same place; tape them again")
        square = sum(
            (across[i] * back[j] - across[j] * back[i]) ** 2 for i, j in ((0, 1), (1, 2), (2, 0))
        ) ** 0.5 / sum(v * v for v in across) ** 0.5  # fmt: skip
        if square < 50.0:
            raise ValueError("the gearbox mount lies on the line of the engine mounts; tape them again")
        names = [m.name for m in self.marks]
        if len(set(names)) != len(names):
            raise ValueError("two marked points have the same name; give each its own")
        return self
