"""Addresses: one way to name any point of the car, list them all, and find what is said of each.

A `Spot` names an axle, a member on it and one of its ends; the axle's own points (the ends of its driveshaft) have no
member, points of the powertrain no axle. Whatever moves, types, mirrors or lists points does it by spot.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from itertools import pairwise
from math import dist
from typing import Literal, get_args

from even_stance.vehicle.car import Axle
from even_stance.vehicle.driveline import Powertrain, Yoke
from even_stance.vehicle.job import Job
from even_stance.vehicle.members import AnyMember, Body, Mount, Rod, Side
from even_stance.vehicle.records import Point
from even_stance.vehicle.springs import AnySpring
from even_stance.vehicle.steering import ArmHoles, Steering
from even_stance.vehicle.things import Thing, corner_points, end_words

# Every end of every kind of member has a word of its own; the two plain ones are those of a rod.
_END_WORDS = {end: word for kind in get_args(AnyMember | AnySpring) for end, word in kind.WORDS.items()} | Rod.WORDS
YokeName = Literal["output", "pinion"]
# The axle's own points, along its driveshaft.
_OWN_WORDS = {"output": "Output yoke", "carrier": "Carrier bearing", "pinion": "Pinion yoke"}
# Points of the steering: where each is in its record, how it is called, and what it is fixed to.
STEER_POINTS: dict[str, tuple[tuple[str, ...], str, Body]] = {
    "left_lower": (("left", "lower"), "Left kingpin, lower", "axle"),
    "left_upper": (("left", "upper"), "Left kingpin, upper", "axle"),
    "left_tie": (("left", "tie"), "Left steering arm", "axle"),
    "left_joint": (("left", "joint"), "Left axle-shaft joint", "axle"),
    "right_lower": (("right", "lower"), "Right kingpin, lower", "axle"),
    "right_upper": (("right", "upper"), "Right kingpin, upper", "axle"),
    "right_tie": (("right", "tie"), "Right steering arm", "axle"),
    "right_joint": (("right", "joint"), "Right axle-shaft joint", "axle"),
    "drag": (("drag",), "Drag link, axle end", "axle"),
    "ball": (("box", "ball"), "Drag link, pitman end", "chassis"),
    "sector": (("box", "shaft"), "Sector shaft, at the arm", "chassis"),
    "sector_top": (("box", "top"), "Sector shaft, far end", "chassis"),
    "assist_base": (("assist", "base"), "Assist ram, on the axle", "axle"),
    "assist_end": (("assist", "end"), "Assist ram, on the tie rod", "axle"),
    "column": (("column", "joint"), "Column joint", "chassis"),
    "column_up": (("column", "up"), "Column, farther up", "chassis"),
    "input": (("column", "input"), "Joint at the box", "chassis"),
    "input_into": (("column", "into"), "Box’s input, inside", "chassis"),
    **{
        f"{side}_{name}": ((f"{side}_beam", name), f"{side.capitalize()} {words}", "chassis")
        for side in ("left", "right")
        for name, words in (
            ("pivot", "beam’s pivot"),
            ("arm", "radius arm’s end"),
            ("inner", "tie rod, inner end"),
        )
    },
    "ram_left": (("ram", "left"), "Ram rod, left end", "axle"),
    "ram_right": (("ram", "right"), "Ram rod, right end", "axle"),
    "ram_cover": (("ram", "cover"), "Housing cover, nearest the ram", "axle"),
}
_STEER_WORDS = {end: words for end, (_, words, _) in STEER_POINTS.items()}
_OWN_BODIES: dict[str, Body] = {"output": "powertrain", "carrier": "chassis", "pinion": "axle"}
POWER_WORDS: dict[str, str] = {
    "mount_left": "Left engine mount", "mount_right": "Right engine mount", "tail": "Gearbox mount"
}  # fmt: skip
_MARK = "mark"
_THING = "thing: "  # the end of a place that a thing is taken hold of by begins with this
_OTHER: dict[Side, Side] = {"left": "right", "right": "left"}


@dataclass(frozen=True)
class Spot:
    """The address of a point: the axle, the member on it ("" for the axle's own), and the end ("chassis", "pinion")."""

    axle: str
    member: str
    end: str

    @property
    def is_thing(self) -> bool:
        """Whether it is a place that a thing is taken hold of by."""
        return not self.axle and self.end.startswith(_THING)

    @property
    def thing_end(self) -> str:
        """Of a place of a thing, which one."""
        return self.end.removeprefix(_THING)

    @property
    def words(self) -> str:
        """The point as it is called on the screen."""
        if self.end == _MARK and not self.axle:
            return self.member
        if self.is_thing:
            return f"{self.member}, {end_words(self.end.removeprefix(_THING))}"
        if not self.member:
            return (_OWN_WORDS | POWER_WORDS | _STEER_WORDS).get(self.end, self.end)
        return f"{self.member}, {_END_WORDS.get(self.end, self.end)}"


_MIRRORED = {
    Spot("", "", a): Spot("", "", b) for a, b in (("mount_left", "mount_right"), ("mount_right", "mount_left"))
}


def spots_on(axle: Axle) -> Iterator[Spot]:
    """Every point of an axle and of what holds and drives it, in the order they are walked through."""
    for member in axle.parts:
        for end in member.mounts:
            yield Spot(axle.key, member.name, end)
    for end in (*_OWN_WORDS, *STEER_POINTS):
        if own_point(axle, end) is not None:
            yield Spot(axle.key, "", end)


def own_point(axle: Axle, end: str) -> Point | None:
    """Where a point of the axle's driveshaft or steering is at ride height; None where there is none."""
    if end in STEER_POINTS:
        return None if axle.steering is None else steer_point(axle.steering, end)
    if end == "carrier":
        return None if axle.shaft is None else axle.shaft.carrier
    yoke: Yoke | None = getattr(axle, end) if end in _OWN_WORDS else None
    return None if yoke is None else yoke.at


def steer_point(steering: Steering, end: str) -> Point | None:
    """A point of a steering, wheels straight ahead; None where it has none such."""
    at: object = steering
    for step in STEER_POINTS[end][0]:
        at = None if at is None else getattr(at, step)
    return at if isinstance(at, Point) else None


def point_on(axle: Axle, spot: Spot) -> Point:
    """Where a point of an axle is at ride height.

    Raises:
        KeyError: there is none.
    """
    if spot.member:
        return axle.part(spot.member).mounts[spot.end].at
    at = own_point(axle, spot.end)
    if at is None:
        raise KeyError(spot.end)
    return at


def power_spots(power: Powertrain | None) -> Iterator[Spot]:
    """Every point of the powertrain: its mounts, and the points that must clear something."""
    if power is not None:
        for end in POWER_WORDS:
            yield Spot("", "", end)
        for mark in power.marks:
            yield Spot("", mark.name, _MARK)


def thing_spots(things: tuple[Thing, ...]) -> Iterator[Spot]:
    """Every place that things are taken hold of by."""
    for thing in things:
        for end in corner_points(thing.form, thing.sure_mm):
            yield Spot("", thing.name, f"{_THING}{end}")


def all_spots(job: Job) -> Iterator[Spot]:
    """Every point of the car, axle by axle."""
    for axle in job.vehicle.axles:
        yield from spots_on(axle)
    yield from power_spots(job.vehicle.powertrain)


def is_there(job: Job, spot: Spot) -> bool:
    """Whether a point is on the car as it is now."""
    if spot.is_thing:
        return spot in thing_spots(job.vehicle.things)
    if not spot.axle:
        return spot in power_spots(job.vehicle.powertrain)
    return any(a.key == spot.axle and spot in spots_on(a) for a in job.vehicle.axles)


def mount_of(job: Job, spot: Spot) -> Mount:
    """The mount at a spot.

    Raises:
        KeyError: there is no such axle or member, or the point is no mount.
    """
    return job.vehicle.axle(spot.axle).part(spot.member).mounts[spot.end]


def point_of(job: Job, spot: Spot) -> Point:
    """Where a point is at ride height.

    Raises:
        KeyError: there is none.
    """
    if spot.is_thing:
        thing = next((t for t in job.vehicle.things if t.name == spot.member), None)
        points = {} if thing is None else corner_points(thing.form, thing.sure_mm)
        return points[spot.thing_end]
    if not spot.axle:
        return _power_point(job, spot)
    return point_on(job.vehicle.axle(spot.axle), spot)


def _power_point(job: Job, spot: Spot) -> Point:
    """A point of the powertrain as it was measured."""
    power = job.vehicle.powertrain
    if power is None:
        raise KeyError(spot.end)
    if spot.end != _MARK:
        at: Point = getattr(power, spot.end)
        return at
    for mark in power.marks:
        if mark.name == spot.member:
            return mark.at
    raise KeyError(spot.member)


def holes_of(job: Job, spot: Spot) -> tuple[tuple[Point, ...], int | None]:
    """The holes of a point's bracket and which is used, counted from 0; none and None where it has just one place."""
    if spot.axle and not spot.member:
        holes = arm_holes(job.vehicle.axle(spot.axle), spot.end)
        return ((), None) if holes is None else (holes.at, holes.hole)
    if not spot.axle:
        return (), None
    mount = mount_of(job, spot)
    return mount.holes, mount.hole


def hole_name(spot: Spot, hole: int, count: int) -> str:
    """What a hole is called, counted from 0 at the bottom of a bracket: “bottom hole”, “hole 2 of 4”, “top hole”.

    Holes of an arm lie along it, the first nearest to what it turns about.
    """
    if count > 1 and hole in (0, count - 1):
        first, last = ("bottom hole", "top hole") if spot.member else ("inner hole", "outer hole")
        return f"{first if hole == 0 else last} of {count}"
    return f"hole {hole + 1} of {count}"


def pitch_of(holes: tuple[Point, ...]) -> float | None:
    """How far the holes of a bracket are apart, mm: the least of it; None where it has just one."""
    return min((dist(a.xyz, b.xyz) for a, b in pairwise(holes)), default=None)


def arm_holes(axle: Axle, end: str) -> ArmHoles | None:
    """The holes of the arm that a point of the steering sits in; None where it has just one place."""
    every = () if axle.steering is None else axle.steering.arm_holes
    return next((holes for holes in every if holes.end == end), None)


def body_of(job: Job, spot: Spot) -> Body:
    """What a point is fixed to, and moves with.

    Raises:
        KeyError: there is no such point.
    """
    if not spot.axle:
        return "powertrain"
    if not spot.member:
        output = job.vehicle.axle(spot.axle).output
        return "axle" if spot.end == "output" and output is not None and output.on else own_body(spot.end)
    return job.vehicle.axle(spot.axle).part(spot.member).body(spot.end)


def own_body(end: str) -> Body:
    """What a point of an axle's driveshaft or steering is fixed to.

    Raises:
        KeyError: there is no such point.
    """
    return STEER_POINTS[end][2] if end in STEER_POINTS else _OWN_BODIES[end]


def side_of(job: Job, spot: Spot) -> Side:
    """The side of the car a point belongs to: that of its member, or of the leg of an arm that stands on both."""
    if not spot.axle:
        return {"mount_left": "left", "mount_right": "right"}.get(spot.end, "center")  # type: ignore[return-value]
    if not spot.member:
        side = spot.end.partition("_")[0]
        return side if spot.end in STEER_POINTS and side in ("left", "right") else "center"  # type: ignore[return-value]
    member = job.vehicle.axle(spot.axle).part(spot.member)
    pair = member.PAIRS.get(spot.end)
    return member.side if pair is None else pair[1]


def twin_of(job: Job, spot: Spot) -> Spot | None:
    """The same point on the other side of the car, if there is one: on a like member there, or on the same member."""
    if spot.axle and spot.end in STEER_POINTS and not spot.member:
        return _steer_twin(job, spot)
    if not spot.axle or not spot.member:
        return _MIRRORED.get(spot)
    axle = job.vehicle.axle(spot.axle)
    member = axle.part(spot.member)
    if member.side == "center":
        pair = member.PAIRS.get(spot.end)
        return None if pair is None else Spot(spot.axle, spot.member, pair[0])
    other = _twin_member(axle, member)
    return None if other is None else Spot(spot.axle, other.name, spot.end)


def _steer_twin(job: Job, spot: Spot) -> Spot | None:
    """The same point of the other knuckle, or the other end of a ram's rod."""
    flip = {"left": "right", "right": "left"}
    end = "_".join(flip.get(part, part) for part in spot.end.split("_"))
    twin = Spot(spot.axle, "", end)
    return twin if end != spot.end and own_point(job.vehicle.axle(spot.axle), end) is not None else None


def _twin_member(axle: Axle, member: AnyMember | AnySpring) -> AnyMember | AnySpring | None:
    """The like member of the other side that is nearest to the mirror image of this one, when each is the other's."""

    def nearest(m: AnyMember | AnySpring) -> AnyMember | AnySpring | None:
        there = [o for o in axle.parts if (o.kind, o.role, o.side) == (m.kind, m.role, _OTHER[m.side])]
        return min(there, key=lambda o: _mirror_gap(m, o), default=None)

    other = nearest(member)
    return other if other is not None and nearest(other) is member else None


def _mirror_gap(a: AnyMember | AnySpring, b: AnyMember | AnySpring) -> float:
    """How far the mounts of a member are from the mirror images of those of another, mm squared."""
    gap = 0.0
    for end, mount in a.mounts.items():
        p, q = mount.at, b.mounts[end].at
        gap += (p.x - q.x) ** 2 + (p.y + q.y) ** 2 + (p.z - q.z) ** 2
    return gap
