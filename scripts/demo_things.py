"""What the demo cars carry that can be hit: tanks, floors, pipes, lines and brackets, all made up."""

from typing import Any

from even_stance.judgement.catalog.things import KINDS
from even_stance.vehicle.edits import Edit, made, mirrored_form, with_changes
from even_stance.vehicle.records import Point
from even_stance.vehicle.things import AnyShape, Arch, Block, Plate, Round, Run, Thing, ThingKind, Tunnel

IN = 25.4


def put(*things: Thing) -> Edit:
    """Everything put on at once."""
    return Edit("Things", lambda job: with_changes(job, vehicle=with_changes(job.vehicle, things=things)))


def thing(name: str, kind: ThingKind, form: AnyShape, on: str = "chassis", group: str = "", **more: Any) -> Thing:
    """A thing, its gap wanted as its kind asks for."""
    return made(Thing, name=name, kind=kind, form=form, on=on, group=group,
                **({"wanted_mm": KINDS[kind].wanted * IN} | more))  # fmt: skip


def both(name: str, kind: ThingKind, form: AnyShape, on: str = "chassis", group: str = "") -> tuple[Thing, Thing]:
    """A thing on the left side and its mirror image."""
    other = on.replace("left", "right")
    return (
        thing(f"left {name}", kind, form, on, group),
        thing(f"right {name}", kind, mirrored_form(form), other, group),
    )


def block(ahead: float, long: float, left: float, wide: float, under: float, high: float, rise: float = 0.0) -> Block:
    """A box in inches."""
    return Block(ahead_mm=ahead * IN, long_mm=long * IN, left_mm=left * IN, wide_mm=wide * IN, under_mm=under * IN,
                 high_mm=high * IN, rise_mm=rise * IN)  # fmt: skip


def run_through(across: float, *places: tuple[float, float, float]) -> Run:
    """A bent tube in inches."""
    points = tuple(Point(x=a * IN, y=b * IN, z=c * IN, sure=3.175) for a, b, c in places)
    return Run(points=points, across_mm=across * IN)


def drum(ahead: float, left: float, up: float, long: float, across: float, toward: Any = "ahead") -> Round:
    """A round in inches."""
    at = Point(x=ahead * IN, y=left * IN, z=up * IN, sure=3.175)
    return Round(at=at, toward=toward, long_mm=long * IN, across_mm=across * IN)


def arch(ahead: float, up: float, inside: float, left: float, wide: float) -> Arch:
    """A wheel well in inches."""
    return Arch(ahead_mm=ahead * IN, up_mm=up * IN, inside_mm=inside * IN, left_mm=left * IN, wide_mm=wide * IN)


def trail_things() -> Edit:
    """The pickup: its tail pipe is met crossed up, its step brackets by the front tires at lock."""
    return put(
        thing("bed floor", "floor", block(-82.0, 72.0, 0.0, 48.0, 40.5, 0.12), group="bed"),
        *both("bed wheel well", "wheel_well", arch(-118.0, 24.0, 18.5, 23.0, 17.0), group="bed"),
        thing("fuel tank", "tank", block(-131.0, 20.0, 3.0, 22.0, 22.5, 9.0)),
        thing("muffler", "muffler", drum(-92.0, -10.5, 20.0, 18.0, 6.0)),
        thing("tail pipe", "exhaust", run_through(
            2.25, (-92.0, -10.5, 20.5), (-98.0, -20.5, 21.5), (-106.0, -24.4, 27.0), (-126.0, -24.4, 27.0),
            (-140.0, -24.0, 24.0),
        )),
        thing("bed crossmember", "crossmember", block(-86.0, 2.5, 0.0, 30.0, 29.0, 3.0)),
        thing("brake line", "line", run_through(0.19, (-76.0, 13.5, 24.0), (-90.0, 13.5, 29.0), (-112.0, 12.0, 29.5))),
        thing("brake hose", "hose", run_through(0.4, (-112.0, 12.0, 29.5), (-115.0, 9.5, 27.0), (-117.0, 8.0, 23.8))),
        thing("case skid plate", "skid_plate", block(-48.0, 20.0, 0.0, 26.0, 16.5, 0.25)),
        *both("step bracket", "bracket", Plate(plane="plan", start_mm=16.0 * IN, thick_mm=0.25 * IN, corners=(
            (-25.0 * IN, 17.5 * IN), (-17.6 * IN, 17.5 * IN), (-18.6 * IN, 25.5 * IN), (-25.0 * IN, 25.5 * IN)))),
        *both("front inner fender", "wheel_well", arch(0.0, 24.0, 20.0, 15.0, 24.0)),
        thing("housing cover", "cover", drum(-126.0, 0.5, 16.25, 2.5, 9.5), on="rear axle"),
    )  # fmt: skip


def coupe_things() -> Edit:
    """The coupe: its right pipe is met crossed up, the brake ducts by the front tires at lock."""
    return put(
        *both("floor pan", "floor", block(-40.0, 46.0, 15.0, 20.0, 14.5, 0.06, 1.0)),
        thing("tunnel", "tunnel", Tunnel(ahead_mm=-46.0 * IN, long_mm=38.0 * IN, wide_mm=9.5 * IN, front_mm=16.5 * IN,
                                         rear_mm=17.2 * IN, deep_mm=5.0 * IN)),
        thing("rear seat pan", "seat", block(-86.0, 14.5, 0.0, 40.0, 22.5, 0.06)),
        thing("fuel tank", "tank", block(-124.0, 17.0, -2.0, 30.0, 13.5, 8.0)),
        thing("right exhaust", "exhaust", run_through(
            2.0, (-72.0, -9.0, 7.0), (-79.0, -22.6, 8.5), (-96.0, -22.6, 12.0), (-102.0, -22.9, 19.2),
            (-116.0, -22.9, 19.2), (-126.0, -21.5, 13.0),
        )),
        thing("fuel line", "line", run_through(0.31, (-60.0, 14.5, 17.5), (-98.0, 14.5, 22.0), (-124.0, 12.0, 20.0))),
        thing("rear brake hose", "hose", run_through(
            0.4, (-98.0, -4.0, 21.0), (-103.0, -5.0, 20.0), (-105.0, -5.5, 18.4)
        )),
        *both("rear wheel well", "wheel_well", arch(-108.0, 17.7, 13.9, 21.5, 12.5)),
        *both("front inner fender", "wheel_well", arch(0.0, 20.5, 14.2, 13.5, 22.0)),
        *both("brake duct", "pipe", run_through(2.5, (17.0, 20.4, 12.0), (12.5, 19.9, 11.5), (10.0, 18.0, 11.5))),
        thing("rear crossmember", "crossmember", block(-90.0, 2.0, 0.0, 30.0, 20.0, 2.0)),
    )  # fmt: skip


def rig_things() -> Edit:
    """The rock rig, in millimeters: its tube fenders are met crossed up, the rear steps by the tires at lock."""

    def bent(across: float, *places: tuple[float, float, float]) -> Run:
        return Run(across_mm=across, points=tuple(Point(x=x, y=y, z=z, sure=5.0) for x, y, z in places))

    def box(ahead: float, long: float, left: float, wide: float, under: float, high: float) -> Block:
        return Block(ahead_mm=ahead, long_mm=long, left_mm=left, wide_mm=wide, under_mm=under, high_mm=high)

    return put(
        thing("belly plate", "skid_plate", box(-950.0, 800.0, 0.0, 400.0, 460.0, 8.0)),
        thing("fuel cell", "tank", box(-2960.0, 420.0, 0.0, 620.0, 1000.0, 260.0)),
        thing("muffler", "muffler", Round(at=Point(x=-2300.0, y=-250.0, z=900.0, sure=3.0), toward="ahead",
                                          long_mm=420.0, across_mm=150.0)),
        thing("exhaust", "exhaust", bent(63.5, (-900.0, -240.0, 640.0), (-1500.0, -250.0, 720.0),
                                         (-1880.0, -250.0, 900.0))),
        *both("rear shock tower", "bracket", Plate(plane="rear", start_mm=-2690.0, thick_mm=6.0, corners=(
            (60.0, 1260.0), (200.0, 1260.0), (240.0, 1170.0), (60.0, 1170.0)))),
        *both("front tube fender", "pipe", bent(38.0, (700.0, 700.0, 1000.0), (330.0, 975.0, 1153.0),
                                                (-330.0, 975.0, 1153.0), (-700.0, 700.0, 940.0))),
        thing("front brake hose", "hose", bent(10.0, (-60.0, 420.0, 860.0), (-120.0, 470.0, 780.0),
                                               (-160.0, 500.0, 720.0))),
        thing("front truss", "truss", box(30.0, 60.0, -120.0, 520.0, 505.0, 60.0), on="front axle"),
        thing("rear truss", "truss", box(-2720.0, 60.0, 0.0, 640.0, 505.0, 60.0), on="rear axle"),
        *both("rear step", "bracket", box(-2110.0, 150.0, 610.0, 170.0, 520.0, 30.0)),
    )  # fmt: skip


def beam_things() -> Edit:
    """The desert truck: its rear hose is met crossed up, the front fenders by the tires at lock."""
    return put(
        thing("front skid plate", "skid_plate", block(26.0, 18.0, 0.0, 22.0, 13.0, 0.2, -1.0)),
        thing("fuel cell", "tank", block(-140.0, 18.0, 0.0, 30.0, 40.0, 16.0)),
        *both("front fender", "wheel_well", arch(0.0, 26.5, 20.6, 11.5, 30.0)),
        *both("bedside", "wheel_well", arch(-126.0, 29.0, 20.0, 23.5, 19.0)),
        thing("gearbox cooler", "radiator", block(-98.0, 3.0, -6.0, 14.0, 38.0, 12.0)),
        thing("exhaust", "exhaust", run_through(3.0, (-60.0, -9.0, 20.0), (-82.0, -9.5, 25.0), (-90.0, -19.0, 31.0),
                                                (-96.0, -27.5, 31.0))),
        thing("rear brake hose", "hose", run_through(0.4, (-116.0, -2.0, 36.0), (-119.0, -2.5, 31.0),
                                                     (-123.5, -3.0, 28.6))),
        thing("cab crossmember", "crossmember", block(-58.0, 3.0, 0.0, 28.0, 19.0, 3.0)),
        thing("spare wheel", "round", drum(-146.0, 0.0, 48.0, 10.0, 34.0, "up")),
    )  # fmt: skip


def cruiser_things() -> Edit:
    """The cruiser: its left pipe is met crossed up, the bumper arms by the front tires at lock."""
    return put(
        thing("trunk floor", "floor", block(-100.0, 50.0, 0.0, 46.0, 34.0, 0.06)),
        thing("fuel tank", "tank", block(-136.0, 22.0, 0.0, 32.0, 14.0, 8.0)),
        thing("compressor", "battery", block(-137.0, 10.0, 18.0, 9.0, 25.5, 8.0)),
        thing("tunnel", "tunnel", Tunnel(ahead_mm=-50.0 * IN, long_mm=48.0 * IN, wide_mm=10.0 * IN, front_mm=17.5 * IN,
                                         rear_mm=19.8 * IN, deep_mm=4.5 * IN)),
        thing("left pipe", "exhaust", run_through(
            2.0, (-78.0, 9.0, 8.0), (-88.0, 22.0, 8.5), (-106.0, 24.2, 11.0), (-113.0, 24.6, 20.1),
            (-130.0, 24.6, 20.1), (-140.0, 22.5, 12.0),
        )),
        *both("rear quarter", "wheel_well", arch(-121.0, 19.7, 15.2, 22.0, 12.5)),
        *both("front fender", "wheel_well", arch(0.0, 23.0, 15.5, 13.0, 22.0)),
        thing("brake line", "line", run_through(
            0.19, (-80.0, -15.0, 18.5), (-96.0, -15.0, 21.8), (-118.0, -15.0, 21.8)
        )),
        thing("front crossmember", "crossmember", block(-14.0, 4.0, 0.0, 26.0, 11.0, 3.0)),
        *both("bumper arm", "bracket", block(29.0, 16.0, 23.3, 1.5, 13.0, 4.0)),
    )  # fmt: skip
