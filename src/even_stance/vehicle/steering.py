"""What steers an axle: kingpins and knuckle arms, tie rod, and what turns them - a box with a drag link, or a ram."""

from typing import Annotated, Literal

from pydantic import Field, model_validator

from even_stance.vehicle.records import MOST_PITCH, Force, Length, Point, PositiveLength, Record

SteeringKind = Literal["crossover", "fore_aft", "tie_rod", "ram", "swing_beams"]


class Knuckle(Record):
    """One steered knuckle, its wheel straight ahead.

    Attributes:
        lower, upper: two points of the kingpin's axis; tie: the center of the tie rod's (or the ram's link) joint.
        joint: the center of the axle shaft's joint, where the axle is driven; taken on the kingpin until it is taped.
    """

    lower: Point
    upper: Point
    tie: Point
    joint: Point | None = None

    @model_validator(mode="after")
    def _stands(self) -> "Knuckle":
        along = tuple(u - v for u, v in zip(self.upper.xyz, self.lower.xyz, strict=True))
        length = sum(v * v for v in along) ** 0.5
        if along[2] < 20.0:
            raise ValueError("the kingpin's upper point is not above its lower one; tape both again")
        to_tie = tuple(t - v for t, v in zip(self.tie.xyz, self.lower.xyz, strict=True))
        beside = sum((to_tie[i] * along[j] - to_tie[j] * along[i]) ** 2 for i, j in ((0, 1), (1, 2), (2, 0))) ** 0.5
        if beside / length < 10.0:
            raise ValueError("the tie rod's joint lies on the kingpin's axis and turns nothing; tape it again")
        return self


class SteeringBox(Record):
    """A steering box on the frame.

    Attributes:
        shaft, top: two points of the sector shaft's axis, the first at the pitman arm; ball: the joint on the arm.
        ratio: hand-wheel turns for one turn of the arm, on center; ratio_at_lock: at the locks, where that is another;
            turns: hand-wheel turns from stop to stop.
        drop_mm: the drop its pitman arm was sold with, once known; splines: how many its shaft has, 0 if not counted.
        indexed: whether wide splines allow the arm only every quarter turn.
        push_n: a push at the front of one tire that the box is looked at with; rim_mm: across the hand wheel;
        rating_nm: the torque its maker allows at the sector shaft, once known.
    """

    shaft: Point
    top: Point
    ball: Point
    ratio: Annotated[float, Field(gt=0, le=60, allow_inf_nan=False)] = 16.0
    ratio_at_lock: Annotated[float, Field(gt=0, le=60, allow_inf_nan=False)] | None = None
    turns: Annotated[float, Field(gt=0, le=12, allow_inf_nan=False)] = 4.0
    drop_mm: Length | None = None
    splines: Annotated[int, Field(ge=0, le=100)] = 0
    indexed: bool = False
    push_n: Force = 3000.0
    rim_mm: PositiveLength = 381.0
    rating_nm: Annotated[float, Field(gt=0, le=100_000, allow_inf_nan=False)] | None = None

    @model_validator(mode="after")
    def _has_an_axis(self) -> "SteeringBox":
        if sum((u - v) ** 2 for u, v in zip(self.top.xyz, self.shaft.xyz, strict=True)) < 10.0**2:
            raise ValueError("both points of the sector shaft are the same place; take them farther apart")
        return self


class SteeringRam(Record):
    """A double-ended ram on the axle: the ends of its rod with the wheels straight, and its whole stroke.

    Attributes:
        left, right: the ends of its rod; stroke_mm: from end to end.
        bore_mm, rod_mm: across its piston and its rod; pressure_bar: of the pump's relief valve.
        body_mm: across the outside of its body; cover: the housing cover's point nearest to it, once taped.
    """

    left: Point
    right: Point
    stroke_mm: PositiveLength
    bore_mm: PositiveLength = 63.5
    rod_mm: PositiveLength = 38.1
    pressure_bar: Annotated[float, Field(gt=0, le=700, allow_inf_nan=False)] = 100.0
    body_mm: PositiveLength = 76.2
    cover: Point | None = None

    @model_validator(mode="after")
    def _lies_across(self) -> "SteeringRam":
        if self.left.y - self.right.y < 10.0:
            raise ValueError("the left end of the ram's rod is not left of its right end; tape both again")
        if sum((a - b) ** 2 for a, b in zip(self.left.xyz, self.right.xyz, strict=True)) <= self.stroke_mm**2:
            raise ValueError("the ram's stroke is longer than its rod; tape both ends again, or type the stroke anew")
        if self.rod_mm >= self.bore_mm:
            raise ValueError("the ram's rod is as thick as its bore; nothing would push")
        return self


class AssistRam(Record):
    """A single-ended ram beside a box: from the axle to the tie rod, wheels straight.

    Attributes:
        base: its joint on the axle; end: its rod's joint, taken on the tie rod's line.
        closed_mm, open_mm: joint to joint, all the way in and all the way out.
        bore_mm, rod_mm: across its piston and its rod; pressure_bar: of the pump's relief valve.
    """

    base: Point
    end: Point
    closed_mm: PositiveLength
    open_mm: PositiveLength
    bore_mm: PositiveLength = 38.1
    rod_mm: PositiveLength = 19.05
    pressure_bar: Annotated[float, Field(gt=0, le=700, allow_inf_nan=False)] = 90.0

    @model_validator(mode="after")
    def _goes_out(self) -> "AssistRam":
        if self.open_mm <= self.closed_mm:
            raise ValueError("the assist ram is no longer out than in; tape it all the way in and all the way out")
        if self.open_mm >= 2.0 * self.closed_mm:
            raise ValueError("the assist ram's stroke is longer than the ram; tape it all the way in and out again")
        if self.rod_mm >= self.bore_mm:
            raise ValueError("the assist ram's rod is as thick as its bore; nothing would pull")
        return self


class JointFit(Record):
    """How a steering joint's stud sits in its arm, and the two threads that are to go together.

    Attributes:
        taper_per_foot: inches of diameter per foot of length; stud_mm: the stud's diameter at the mouth of the hole.
        hole_mm: the hole's diameter at its mouth, as it is; wide_mm: the arm's width there; sleeve_mm: across a sleeve.
        rod_mm, rod_pitch_mm, nut_mm, nut_pitch_mm: diameter and pitch of both threads; engaged_mm: how far they engage.
    """

    taper_per_foot: Annotated[float, Field(gt=0, le=6, allow_inf_nan=False)] = 1.5
    stud_mm: PositiveLength = 17.5
    hole_mm: PositiveLength = 17.5
    wide_mm: PositiveLength = 38.1
    sleeve_mm: PositiveLength = 22.225
    rod_mm: PositiveLength = 22.225
    rod_pitch_mm: PositiveLength = 1.814
    nut_mm: PositiveLength = 22.225
    nut_pitch_mm: PositiveLength = 1.814
    engaged_mm: PositiveLength = 22.225

    @model_validator(mode="after")
    def _has_threads(self) -> "JointFit":
        for across, pitch in ((self.rod_mm, self.rod_pitch_mm), (self.nut_mm, self.nut_pitch_mm)):
            if pitch > MOST_PITCH * across:
                raise ValueError("a pitch does not go with its thread's diameter; count the turns in an inch again")
        return self


class BoltedArm(Record):
    """A steering arm held on its knuckle by studs.

    Attributes:
        studs: how many; stud_mm, pitch_mm: diameter and pitch of their thread; circle_mm: of the circle they stand on.
        deep_mm: how deep they are screwed in; flat_mm: across the flat that was machined for the arm.
        reach_mm: from the middle of the studs to the joint on the arm.
        cast_iron: whether the knuckle is cast iron, not steel.
    """

    studs: Annotated[int, Field(ge=2, le=12)] = 4
    stud_mm: PositiveLength = 14.2875
    pitch_mm: PositiveLength = 1.411
    circle_mm: PositiveLength = 82.55
    deep_mm: PositiveLength = 25.4
    flat_mm: PositiveLength = 114.3
    reach_mm: PositiveLength = 127.0
    cast_iron: bool = True

    @model_validator(mode="after")
    def _has_threads(self) -> "BoltedArm":
        if self.pitch_mm > MOST_PITCH * self.stud_mm:
            raise ValueError("the pitch does not go with the stud's diameter; count the turns in an inch again")
        return self


class ArmHoles(Record):
    """The holes of a pitman arm or a knuckle's arm, of which one is used.

    Attributes:
        end: which point of the steering sits in one of them; at: every hole; hole: the one used, counted from 0.
    """

    end: Literal["ball", "drag", "left_tie", "right_tie"]
    at: Annotated[tuple[Point, ...], Field(min_length=2, max_length=9)]
    hole: Annotated[int, Field(ge=0)]

    @model_validator(mode="after")
    def _uses_one(self) -> "ArmHoles":
        if self.hole >= len(self.at):
            raise ValueError(f"the arm's hole must be a number from 0 to {len(self.at) - 1}")
        return self


class ColumnShaft(Record):
    """The shaft between steering column and box.

    Attributes:
        joint, up: the joint below the column, and a point up the column; input, into: the joint at the box, and a point
            of the box's own shaft inside it.
        phase_deg: how far the yokes at both ends of the shaft are turned against each other.
        slip_mm: how far its two halves can still slide together; body_mm: how far the body moves on its mounts.
        halves: how they slide: on two flats, or on a spline.
    """

    joint: Point
    up: Point
    input: Point
    into: Point
    phase_deg: Annotated[float, Field(ge=-180, le=180, allow_inf_nan=False)] = 0.0
    slip_mm: Length = 76.2
    body_mm: Length = 6.35
    halves: Literal["double_d", "spline"] = "double_d"

    @model_validator(mode="after")
    def _has_length(self) -> "ColumnShaft":
        for a, b, words in (
            (self.joint, self.up, "column"), (self.input, self.into, "box's shaft"), (self.joint, self.input, "shaft")
        ):  # fmt: skip
            if sum((u - v) ** 2 for u, v in zip(a.xyz, b.xyz, strict=True)) < 20.0**2:
                raise ValueError(f"both points of the steering {words} are the same place; take them farther apart")
        return self


class SwingBeam(Record):
    """The beam that carries one wheel: it turns about the line through two points of the frame.

    Attributes:
        pivot: the beam's pivot, on the other side of the car; arm: the rear end of its radius arm.
        inner: the tie rod's inner joint, on the center link that pitman and idler arm carry.
    """

    pivot: Point
    arm: Point
    inner: Point

    @model_validator(mode="after")
    def _has_an_axis(self) -> "SwingBeam":
        if sum((u - v) ** 2 for u, v in zip(self.pivot.xyz, self.arm.xyz, strict=True)) < 100.0**2:
            raise ValueError("the beam's pivot and its radius arm's end are the same place; tape both again")
        return self


class Steering(Record):
    """The steering of an axle.

    Attributes:
        kind: a drag link to the far knuckle, to the near one, to the tie rod, a ram on the axle, or two swing beams.
        left, right: the knuckles; stop_deg: how far the inner wheel turns until its stop; stop_right_deg: the same,
            turned right, where that is not alike.
        box, drag: the box, and the drag link's joint on the knuckle's arm or the tie rod; ram: the ram.
        swing_limit_deg: how far any of the steering's joints may swing, as its maker says.
        rod_end_mm, thread_mm: of the rods' ends, from the ball's center to the end of the shank, and its thread.
        left_beam, right_beam: what carries the wheels, where those are swing beams.
        assist: a ram that helps the box, if there is one.
        column: the shaft between column and box, once it is known.
        fit: a joint's stud in its arm, and the threads of a rod and its end.
        arm_mm, ball_mm: how thick the knuckles' arms are, and how far a joint's center stands off their face.
        axle_joints, axle_joint_limit_deg: what joints the axle shafts have at the knuckles, and how far they bend.
        bolted: how a bolted-on arm sits on its knuckle, if there is one; arm_holes: arms that have more than one hole.
    """

    kind: SteeringKind
    left: Knuckle
    right: Knuckle
    stop_deg: Annotated[float, Field(gt=0, le=60, allow_inf_nan=False)] = 35.0
    stop_right_deg: Annotated[float, Field(gt=0, le=60, allow_inf_nan=False)] | None = None
    box: SteeringBox | None = None
    drag: Point | None = None
    ram: SteeringRam | None = None
    swing_limit_deg: Annotated[float, Field(gt=0, le=90, allow_inf_nan=False)] = 20.0
    left_beam: SwingBeam | None = None
    right_beam: SwingBeam | None = None
    assist: AssistRam | None = None
    column: ColumnShaft | None = None
    fit: JointFit = JointFit()
    rod_end_mm: PositiveLength = 69.85
    thread_mm: PositiveLength = 44.45
    arm_mm: Length = 25.4
    ball_mm: Length = 28.575
    axle_joints: Literal["single", "cv"] = "single"
    axle_joint_limit_deg: Annotated[float, Field(gt=0, le=90, allow_inf_nan=False)] = 42.0
    bolted: BoltedArm | None = None
    arm_holes: tuple[ArmHoles, ...] = ()

    @property
    def stops_deg(self) -> tuple[float, float]:
        """How far the inner wheel turns until its stop, turned right and turned left."""
        return self.stop_deg if self.stop_right_deg is None else self.stop_right_deg, self.stop_deg

    @model_validator(mode="after")
    def _is_whole(self) -> "Steering":
        if len({holes.end for holes in self.arm_holes}) < len(self.arm_holes):
            raise ValueError("an arm has its holes twice; keep one of them")
        if self.kind == "ram" and self.ram is None:
            raise ValueError("the ram's rod ends are missing; enter both and its stroke")
        if self.kind in ("ram", "swing_beams") and self.assist is not None:
            raise ValueError("an assist ram helps a box through one tie rod; this kind has none such")
        if self.kind == "swing_beams":
            if self.left_beam is None or self.right_beam is None or self.box is None:
                raise ValueError("a beam or the steering box is missing; enter both beams and the box")
            return self
        if self.kind != "ram" and (self.box is None or self.drag is None):
            raise ValueError("the steering box or the drag link's end is missing; enter both")
        if self.box is not None and self.drag is not None and min(abs(self.box.shaft.y), abs(self.drag.y)) > 50.0:
            across = self.box.shaft.y * self.drag.y < 0.0
            if self.kind == "crossover" and not across:
                raise ValueError("a drag link across ends at the far knuckle, this one on the box's side")
            if self.kind == "fore_aft" and across:
                raise ValueError("a drag link fore and aft ends at the near knuckle, this one on the far side")
        return self
