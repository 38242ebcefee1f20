"""Things on the car that are none of its links, axles or springs but can be hit: tank, floor, pipes, lines, brackets.

Each has one of a few shapes, given by what one tapes of it at ride height, and hangs on a body of the car.
"""

from itertools import pairwise
from typing import Annotated, Literal

from pydantic import Field, model_validator

from even_stance.vehicle.records import Coordinate, Length, Name, Point, PositiveLength, Record

Plane = Literal["side", "plan", "rear"]
Toward = Literal["ahead", "left", "up"]
ThingKind = Literal[
    "floor", "tunnel", "tank", "seat", "wheel_well", "exhaust", "line", "hose", "engine_mount", "pan", "fan",
    "radiator", "crossmember", "cover", "skid_plate", "truss", "bracket", "battery", "muffler", "bumper", "pipe",
    "block", "round", "ball", "plate", "scan",
]  # fmt: skip
Pair = tuple[Coordinate, Coordinate]
MOST_THINGS, MOST_CORNERS, MOST_HOLES = 200, 400, 60
MOST_TRIANGLES = 2_000  # of a scan: more would take too long over all travel


class Block(Record):
    """A box, its underside level or sloped along the car: tank, seat base, floor, skid plate.

    Attributes:
        ahead_mm: its front face, ahead of the front axle; long_mm: from there back.
        left_mm: its middle, left of the centerline; wide_mm: across the car.
        under_mm: its underside above ground, at its front; rise_mm: how much higher that is at its rear.
        high_mm: how high, or thick, it is.
    """

    shape: Literal["block"] = "block"
    ahead_mm: Coordinate
    long_mm: PositiveLength
    left_mm: Coordinate = 0.0
    wide_mm: PositiveLength
    under_mm: Coordinate
    high_mm: PositiveLength
    rise_mm: Coordinate = 0.0


class Tunnel(Record):
    """A floor tunnel, open below: a roof that may slope, and two sides.

    Attributes:
        ahead_mm: its front end, ahead of the front axle; long_mm: from there back; left_mm: its middle.
        wide_mm: between its sides; front_mm, rear_mm: its roof, from inside, above ground at either end.
        deep_mm: how far its sides come down from the roof.
    """

    shape: Literal["tunnel"] = "tunnel"
    ahead_mm: Coordinate
    long_mm: PositiveLength
    left_mm: Coordinate = 0.0
    wide_mm: PositiveLength
    front_mm: Coordinate
    rear_mm: Coordinate
    deep_mm: PositiveLength


class Arch(Record):
    """A wheel well or fender: the upper half of a drum about the wheel, and its inner wall.

    Attributes:
        ahead_mm: its middle, ahead of the front axle; up_mm: above ground; inside_mm: its radius, from inside.
        left_mm: the edge toward the centerline, left of it (right: minus); wide_mm: from there outward.
    """

    shape: Literal["arch"] = "arch"
    ahead_mm: Coordinate
    up_mm: Coordinate
    inside_mm: PositiveLength
    left_mm: Coordinate
    wide_mm: PositiveLength


class Run(Record):
    """A bent tube through points: exhaust pipe, brake line, hose, tubular crossmember.

    Attributes:
        points: where its middle goes through; across_mm: its diameter.
    """

    shape: Literal["run"] = "run"
    points: Annotated[tuple[Point, ...], Field(min_length=2, max_length=60)]
    across_mm: PositiveLength

    @model_validator(mode="after")
    def _goes_somewhere(self) -> "Run":
        for i, (a, b) in enumerate(pairwise(self.points), start=1):
            if sum((p - q) ** 2 for p, q in zip(a.xyz, b.xyz, strict=True)) < 1.0:
                raise ValueError(f"points {i} and {i + 1} of the run are the same place; leave one of them out")
        return self


class Round(Record):
    """A round with flat ends: fan, muffler, cover, canister.

    Attributes:
        at: the middle of the end it is measured from; toward: which way it goes from there; long_mm: how far.
        across_mm: its diameter.
    """

    shape: Literal["round"] = "round"
    at: Point
    toward: Toward = "ahead"
    long_mm: PositiveLength
    across_mm: PositiveLength


class Ball(Record):
    """A ball, or anything that is best guarded by one: where its middle is, and how large."""

    shape: Literal["ball"] = "ball"
    at: Point
    across_mm: PositiveLength


class Plate(Record):
    """A plate cut to an outline, as taped, drawn or read from a DXF file.

    Attributes:
        plane: which way one looks to see its outline: from the left (ahead, up), from above (ahead, left), from behind
            (left, up).
        corners: of the outline, in order around it; holes: outlines of what is cut out of it.
        start_mm: where its face lies along the third axis; thick_mm: how thick it is from there toward plus.
    """

    shape: Literal["plate"] = "plate"
    plane: Plane = "side"
    corners: Annotated[tuple[Pair, ...], Field(min_length=3, max_length=MOST_CORNERS)]
    holes: Annotated[
        tuple[Annotated[tuple[Pair, ...], Field(min_length=3, max_length=MOST_CORNERS)], ...],
        Field(max_length=MOST_HOLES),
    ] = ()
    start_mm: Coordinate
    thick_mm: PositiveLength


class Scan(Record):
    """A scanned or drawn part as triangles.

    Attributes:
        corners: mm; faces: the three corners of each triangle, counted from 0.
        grown_mm: how far it may stand out beyond the triangles kept, once it was thinned.
    """

    shape: Literal["scan"] = "scan"
    corners: Annotated[tuple[tuple[Coordinate, Coordinate, Coordinate], ...], Field(min_length=3, max_length=4_000)]
    faces: Annotated[tuple[tuple[int, int, int], ...], Field(min_length=1, max_length=MOST_TRIANGLES)]
    grown_mm: Length = 0.0

    @model_validator(mode="after")
    def _corners_are_there(self) -> "Scan":
        if any(not 0 <= i < len(self.corners) for face in self.faces for i in face):
            raise ValueError("a triangle of the scan names a corner that is not there")
        return self


ThingShape = Annotated[Block | Tunnel | Arch | Run | Round | Ball | Plate | Scan, Field(discriminator="shape")]
AnyShape = Block | Tunnel | Arch | Run | Round | Ball | Plate | Scan


class Thing(Record):
    """One thing that can be hit.

    Attributes:
        kind: what it is, for the words and the picture of what to tape; form: its shape.
        on: the body it hangs on: "chassis", "powertrain", "rear axle", "front left knuckle".
        wanted_mm: the least gap to anything that moves against it; half an inch unless said.
        sure_mm: how far off its surface may be, +/-.
        group: things of one group are switched off and on together; counts: whether it is looked at.
    """

    name: Name
    kind: ThingKind = "block"
    form: ThingShape
    on: Name = "chassis"
    wanted_mm: Length | None = None
    sure_mm: Length = 3.175
    group: Annotated[str, Field(max_length=80)] = ""
    counts: bool = True

    @property
    def axle(self) -> str:
        """The key of the axle that it hangs on, with blanks and all; empty on the chassis or the powertrain."""
        for end in (" left knuckle", " right knuckle", " axle"):
            if self.on.endswith(end):
                return self.on.removesuffix(end)
        return ""


class WantedGap(Record):
    """The least gap wanted between two parts, by their names, when it is not what they ask for themselves.

    Attributes:
        together: whether they are bolted together, or one passes through a hole in the other: never looked at.
    """

    a: Name
    b: Name
    gap_mm: Length
    together: bool = False


class Tried(Record):
    """What was found on the jack at one posture of the cycle card.

    Attributes:
        axle, left_mm, right_mm, steer: the posture; a, b: what was looked at there.
        expected_mm: the gap that was to be expected; found_mm: what it was, None while it was not tried.
        note: whatever was written beside it.
    """

    axle: Name
    left_mm: Coordinate
    right_mm: Coordinate
    steer: Coordinate = 0.0
    a: Name
    b: Name
    expected_mm: Coordinate
    found_mm: Coordinate | None = None
    note: Annotated[str, Field(max_length=500)] = ""


class Clearances(Record):
    """What the search for gaps reads besides the car.

    Attributes:
        wanted: gaps wanted of certain pairs; tire_more_mm: how much tires are taken larger all around, for chains or
            mud; bulge_mm: how much wider they stand under load.
        tail_up_mm: how far the gearbox tail may come up as well: looked at besides where it is.
        cycle: what was tried on the jack.
    """

    wanted: Annotated[tuple[WantedGap, ...], Field(max_length=400)] = ()
    tire_more_mm: Length = 0.0
    bulge_mm: Length = 0.0
    tail_up_mm: Annotated[float, Field(ge=-150, le=150, allow_inf_nan=False)] = 0.0
    cycle: Annotated[tuple[Tried, ...], Field(max_length=200)] = ()


def corner_points(form: AnyShape, sure_mm: float) -> dict[str, Point]:  # noqa: PLR0911 - one for each shape
    """The places a shape is taken hold of by, each by its end: the two far corners of a block, points of a run."""
    if isinstance(form, Block):
        low = (form.ahead_mm - form.long_mm, form.left_mm - 0.5 * form.wide_mm, form.under_mm)
        high = (form.ahead_mm, form.left_mm + 0.5 * form.wide_mm, form.under_mm + form.high_mm)
        return {"low": _point(*low, sure_mm), "high": _point(*high, sure_mm)}
    if isinstance(form, Tunnel):
        rear = (form.ahead_mm - form.long_mm, form.left_mm, form.rear_mm)
        return {"front": _point(form.ahead_mm, form.left_mm, form.front_mm, sure_mm), "rear": _point(*rear, sure_mm)}
    if isinstance(form, Arch):
        return {"middle": _point(form.ahead_mm, form.left_mm, form.up_mm, sure_mm)}
    if isinstance(form, Run):
        return {f"bend {i}": p for i, p in enumerate(form.points, start=1)}
    if isinstance(form, Round | Ball):
        return {"middle": form.at}
    if isinstance(form, Plate):
        return {f"corner {i}": _point(*_third(form, c), sure_mm) for i, c in enumerate(form.corners, start=1)}
    x, y, z = (min(c[i] for c in form.corners) for i in range(3))
    return {"low": _point(x, y, z, sure_mm)}


def _point(x: float, y: float, z: float, sure_mm: float) -> Point:
    return Point(x=x, y=y, z=z, sure=sure_mm)


_AXES: dict[Plane, tuple[int, int, int]] = {"side": (0, 2, 1), "plan": (0, 1, 2), "rear": (1, 2, 0)}


def plane_axes(plane: Plane) -> tuple[int, int, int]:
    """Which axes of the car run across, up and into the picture of a plate's outline."""
    return _AXES[plane]


def _third(form: Plate, corner: Pair) -> tuple[float, float, float]:
    """A corner of a plate's near face in space."""
    across, up, into = _AXES[form.plane]
    place = [0.0, 0.0, 0.0]
    place[across], place[up], place[into] = corner[0], corner[1], form.start_mm
    return (place[0], place[1], place[2])


END_WORDS = {
    "low": "lower rear right corner", "high": "upper front left corner", "front": "front end of the roof",
    "rear": "rear end of the roof", "middle": "middle",
}  # fmt: skip


def end_words(end: str) -> str:
    """How a place that a thing is taken hold of by is called."""
    return END_WORDS.get(end, end)
