"""Kinds of things that can be hit: what each is called, what to tape of it, the gap it wants, and where to start."""

from dataclasses import dataclass
from typing import Any

from even_stance.units import MM_PER_INCH
from even_stance.vehicle.car import Axle, Vehicle
from even_stance.vehicle.edits import fresh_thing_name, made
from even_stance.vehicle.job import Job
from even_stance.vehicle.records import Point
from even_stance.vehicle.things import AnyShape, Arch, Ball, Block, Plate, Round, Run, Scan, Thing, ThingKind, Tunnel

_TAPED_MM = 3.175  # an eighth of an inch


@dataclass(frozen=True)
class ThingWords:
    """A kind of thing.

    Attributes:
        title: what it is called; tape: what to tape of it, in a sentence.
        wanted: the least gap to what moves against it, inches (common practice, no source).
        on: what it hangs on, by default; "axle" is the one looked at.
    """

    title: str
    tape: str
    wanted: float = 0.5
    on: str = "chassis"


KINDS: dict[ThingKind, ThingWords] = {
    "floor": ThingWords("Floor", "Its underside at its front, and how much higher it is at its rear."),
    "tunnel": ThingWords("Tunnel", "Its width and its roof from inside, and how far its sides come down.", 0.75),
    "tank": ThingWords("Fuel tank", "Its front face, sizes and underside, straps and lip included.", 0.75),
    "seat": ThingWords("Seat base", "Its front edge, and its underside where the axle comes up below it."),
    "wheel_well": ThingWords("Wheel well", "Its middle above the axle, its radius inside, its inner edge.", 0.75),
    "exhaust": ThingWords("Exhaust pipe", "The middle of the pipe at each bend, and its diameter.", 0.75),
    "muffler": ThingWords("Muffler", "The middle of its front end, its length and its diameter.", 0.75),
    "line": ThingWords("Brake or fuel line", "The middle of the line at each clip and bend.", 0.75),
    "hose": ThingWords("Hose", "Where it leaves the frame, its lowest place, and where it ends.", 0.5),
    "engine_mount": ThingWords("Engine mount", "The bracket on the frame: its front face, sizes and underside."),
    "pan": ThingWords("Oil pan", "Its front face, its sump’s length and width, and its underside.", 0.5, "powertrain"),
    "fan": ThingWords("Fan", "The middle of its front face, its depth and its diameter.", 0.75, "powertrain"),
    "radiator": ThingWords("Radiator", "Its rear face, its core’s sizes and its underside."),
    "crossmember": ThingWords("Crossmember", "Its front face, rail to rail, its height and underside."),
    "cover": ThingWords("Housing cover", "The middle of its face, how far it stands out, its diameter.", 0.5, "axle"),
    "skid_plate": ThingWords("Skid plate", "Its front edge, its sizes and its underside."),
    "truss": ThingWords("Axle truss", "Its front face, its width along the tube, underside and height.", 0.5, "axle"),
    "bracket": ThingWords("Bracket", "Its outline as cut, and where its face lies."),
    "battery": ThingWords("Battery box", "Its front face, its sizes and its underside."),
    "bumper": ThingWords("Bumper", "Its rear face, its sizes and its underside."),
    "pipe": ThingWords("Pipe", "Its middle at each bend, and its diameter."),
    "block": ThingWords("Box", "Its front face, its sizes and its underside."),
    "round": ThingWords("Round", "The middle of one end, its length and its diameter."),
    "ball": ThingWords("Ball", "Its middle and its diameter."),
    "plate": ThingWords("Plate", "Its outline, corner by corner, and where its face lies."),
    "scan": ThingWords("Scanned part", "Read from STL, OBJ, PLY, OFF or 3MF, in the car’s own axes or moved there."),
}  # fmt: skip


@dataclass(frozen=True)
class Measure:
    """One measure of a shape: its name in the record, what it is called, and a short letter for the picture."""

    name: str
    title: str
    letter: str


_PLACE = (Measure("ahead_mm", "Front face, ahead", "A"), Measure("long_mm", "Length", "B"))
MEASURES: dict[str, tuple[Measure, ...]] = {
    "block": (
        *_PLACE, Measure("left_mm", "Middle, to the left", "C"), Measure("wide_mm", "Width", "D"),
        Measure("under_mm", "Underside up", "E"), Measure("high_mm", "Height", "F"),
        Measure("rise_mm", "Rear higher by", "G"),
    ),
    "tunnel": (
        *_PLACE, Measure("left_mm", "Middle, to the left", "C"), Measure("wide_mm", "Width inside", "D"),
        Measure("front_mm", "Roof up, front", "E"), Measure("rear_mm", "Roof up, rear", "F"),
        Measure("deep_mm", "Sides, deep", "G"),
    ),
    "arch": (
        Measure("ahead_mm", "Middle, ahead", "A"), Measure("up_mm", "Middle up", "B"),
        Measure("inside_mm", "Radius inside", "C"), Measure("left_mm", "Inner edge, left", "D"),
        Measure("wide_mm", "Width, outward", "E"),
    ),
    "run": (Measure("across_mm", "Diameter", "D"),),
    "round": (Measure("long_mm", "Length", "L"), Measure("across_mm", "Diameter", "D")),
    "ball": (Measure("across_mm", "Diameter", "D"),),
    "plate": (Measure("start_mm", "Face at", "A"), Measure("thick_mm", "Thickness", "T")),
    "scan": (),
}  # fmt: skip


def start_thing(job: Job, key: str, kind: ThingKind) -> Thing:
    """A thing of a kind to start from, near the axle looked at, to be taped and dragged after that."""
    vehicle, words = job.vehicle, KINDS[kind]
    axle = vehicle.axle(key)
    on = f"{key} axle" if words.on == "axle" else words.on
    return made(
        Thing, name=fresh_thing_name(job, words.title), kind=kind, form=_start(vehicle, axle, kind), on=on,
        wanted_mm=words.wanted * MM_PER_INCH, sure_mm=_TAPED_MM,
    )  # fmt: skip


def _start(vehicle: Vehicle, axle: Axle, kind: ThingKind) -> AnyShape:
    """The shape a kind starts with."""
    x, _, z = axle.center
    away = 1.0 if not axle.is_front else -1.0  # toward the middle of the car
    top = vehicle.frame.rail_top_mm + (vehicle.frame.front_kick_up_mm if axle.is_front else vehicle.frame.kick_up_mm)
    out, tire = vehicle.frame.rail_out_mm, axle.tire
    radius, half = 0.5 * tire.free_diameter_mm, 0.5 * axle.track_mm
    inner = half - 0.5 * tire.width_mm - 40.0
    behind = -1.0 if not axle.is_front else 1.0  # toward the nearer end of the car

    def block(ahead: float, long: float, wide: float, under: float, high: float, left: float = 0.0) -> Block:
        return made(Block, ahead_mm=x + ahead, long_mm=long, left_mm=left, wide_mm=wide, under_mm=under, high_mm=high)

    def point(ahead: float, left: float, up: float) -> Point:
        return made(Point, x=x + ahead, y=left, z=up, sure=_TAPED_MM)

    shapes: dict[ThingKind, Any] = {
        "floor": lambda: block(400.0, 800.0, 1.8 * out, top + 60.0, 3.0),
        "tunnel": lambda: made(Tunnel, ahead_mm=x + (900.0 if away > 0 else -100.0), long_mm=800.0, wide_mm=230.0,
                               front_mm=top + 40.0, rear_mm=top + 40.0, deep_mm=120.0),
        "tank": lambda: block(behind * 330.0 + (0.0 if behind < 0 else 450.0), 450.0, 1.5 * out, top - 120.0, 220.0),
        "seat": lambda: block(550.0, 480.0, 900.0, top + 100.0, 60.0),
        "wheel_well": lambda: made(Arch, ahead_mm=x, up_mm=z + axle.bump_mm, inside_mm=radius + 60.0,
                                   left_mm=inner, wide_mm=tire.width_mm + 90.0),
        "exhaust": lambda: made(Run, across_mm=57.0, points=(
            point(900.0, -0.6 * out, top - 160.0), point(250.0, -0.6 * out, top - 100.0),
            point(0.0, -0.6 * out, top + 40.0), point(-350.0, -0.6 * out, top - 60.0))),
        "muffler": lambda: made(Round, at=point(away * 700.0, -0.5 * out, top - 150.0), toward="ahead", long_mm=450.0,
                                across_mm=150.0),
        "line": lambda: made(Run, across_mm=4.8, points=(
            point(away * 500.0, out - 40.0, top - 60.0), point(60.0, out - 60.0, top - 60.0))),
        "hose": lambda: made(Run, across_mm=10.0, points=(
            point(60.0, 0.5 * out, top - 60.0), point(60.0, 0.4 * out, z + 0.6 * (top - z)),
            point(40.0, 0.3 * out, z + 0.5 * axle.tube_mm))),
        "engine_mount": lambda: block(80.0, 160.0, 90.0, top - 40.0, 120.0, out - 90.0),
        "pan": lambda: block(-100.0, 450.0, 260.0, z + 60.0, 180.0),
        "fan": lambda: made(Round, at=point(350.0, 0.0, z + 330.0), toward="ahead", long_mm=60.0, across_mm=430.0),
        "radiator": lambda: block(560.0, 70.0, 620.0, z + 80.0, 450.0),
        "crossmember": lambda: block(away * 420.0 + 30.0, 60.0, 2.0 * out, top - 90.0, 60.0),
        "cover": lambda: made(Round, at=made(Point, x=x + behind * 130.0 - (60.0 if behind < 0 else 0.0), y=0.0, z=z,
                                             sure=_TAPED_MM), toward="ahead", long_mm=60.0, across_mm=230.0),
        "skid_plate": lambda: block(away * 500.0 + 250.0, 500.0, 1.6 * out, z - 30.0, 6.0),
        "truss": lambda: block(45.0, 90.0, 600.0, z + 0.4 * axle.tube_mm, 120.0),
        "bracket": lambda: _plate(x, top, out),
        "battery": lambda: block(away * 520.0, 260.0, 180.0, top - 40.0, 200.0, 0.5 * out),
        "bumper": lambda: block(behind * (radius + 180.0), 100.0, 2.0 * half, z + 60.0, 150.0),
        "pipe": lambda: made(Run, across_mm=44.5, points=(
            point(300.0, -out, top - 40.0), point(300.0, out, top - 40.0))),
        "block": lambda: block(away * 500.0, 200.0, 200.0, top, 200.0),
        "round": lambda: made(Round, at=point(away * 500.0, 0.0, top), toward="left", long_mm=200.0, across_mm=150.0),
        "ball": lambda: made(Ball, at=point(away * 500.0, 0.0, top), across_mm=150.0),
        "plate": lambda: _plate(x, top, out),
        "scan": lambda: made(Scan, faces=((0, 2, 1), (0, 1, 3), (0, 3, 2), (1, 2, 3)), corners=(
            (x, 0.0, top), (x + 100.0, 0.0, top), (x, 100.0, top), (x, 0.0, top + 100.0))),
    }  # fmt: skip
    shape: AnyShape = shapes[kind]()
    return shape


def _plate(x: float, top: float, out: float) -> Plate:
    corners = ((x + 260.0, top - 140.0), (x + 340.0, top - 140.0), (x + 380.0, top), (x + 240.0, top))
    return made(Plate, plane="side", corners=corners, start_mm=out - 45.0, thick_mm=6.35)
