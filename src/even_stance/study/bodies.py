"""The solids of the car, each hung on a body: what the floor, the walk-around and printed drawings are made from.

What was not measured (housing, rim) is drawn at the size such things have on most axles, for the eye alone.
"""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import cached_property, lru_cache, partial
from itertools import pairwise

import numpy as np

from even_stance.mechanics.solids import Faces, lathe, prism
from even_stance.mechanics.vectors import Array, norm
from even_stance.study.beams import beams_of
from even_stance.study.frame import RAIL_HALF_MM, rail_line, rail_thick
from even_stance.study.model import wheel_centers
from even_stance.study.powertrain import seated
from even_stance.study.springstate import half_body
from even_stance.study.state import (
    CHASSIS,
    POWERTRAIN,
    axle_body,
    knuckle_body,
    piece_body,
    pieces,
    power_points,
    shaft_body,
    spring_pieces,
    steer_home,
)
from even_stance.study.steerfigures import mechanism_of
from even_stance.vehicle.car import Axle, Vehicle
from even_stance.vehicle.driveline import Powertrain
from even_stance.vehicle.edits import with_changes
from even_stance.vehicle.members import AnyMember, RadiusArm, TorqueArm, Watts
from even_stance.vehicle.spots import Spot, own_body, own_point, point_on, spots_on
from even_stance.vehicle.springs import Damped, Rocker, SwayBar

_KNUCKLE = ("lower", "upper", "tie")
_STEERING_MM = 32.0  # tie rods and drag links, as most are
SHAFT_MM = 70.0  # a driveshaft tube, until its own is typed
_JOINT_MM = 46.0
_TUBE_SIDES, _WHEEL_SIDES, _ROUND_SIDES = 12, 40, 24
_RIM_SHARE = 0.52


@dataclass(frozen=True, eq=False)
class Solid:
    """One convex solid.

    Attributes:
        name: what it is called; axle: the axle it belongs to, empty for the frame.
        body: what it hangs on; style: how it is drawn.
        make: makes its corners and faces, when they are first asked for.
        line: of a tube, its two ends, mm, shape (2, 3); width_mm: of a tube or ball, its diameter.
        spot: the point it stands for, of a joint.
    """

    name: str
    axle: str
    body: str
    style: str
    make: Callable[[], tuple[Array, Faces]]
    line: Array | None = None
    width_mm: float = 0.0
    spot: Spot | None = None

    @cached_property
    def _made(self) -> tuple[Array, Faces]:
        return self.make()

    @property
    def corners(self) -> Array:
        """Its corners at ride height, mm, shape (n, 3)."""
        return self._made[0]

    @property
    def faces(self) -> Faces:
        """The corners of each face, counterclockwise from outside."""
        return self._made[1]


def car_solids(vehicle: Vehicle) -> list[Solid]:
    """Every solid of the car: frame, then axle by axle tires, axle, shaft, members and joints."""
    axles = (seated(vehicle, axle) for axle in vehicle.axles)
    return [
        *frame_solids(vehicle),
        *solids_of_powertrain(vehicle.powertrain),
        *(s for axle in axles for s in axle_solids(axle)),
    ]


def solids_of_powertrain(power: Powertrain | None) -> list[Solid]:
    """Engine and gearbox as boxes and a tapered tube between what was measured of them, and their points as balls."""
    return [] if power is None else _power_solids(with_changes(power, tail_up_mm=0.0, mounts_up_mm=0.0))


@lru_cache(maxsize=8)
def _power_solids(power: Powertrain) -> list[Solid]:
    """Engine, pan, bellhousing, gearbox and points of a powertrain as it was measured."""
    left, right, tail = (np.array(p.xyz) for p in (power.mount_left, power.mount_right, power.tail))
    middle, wide = (left + right) / 2, 0.62 * float(norm(left - right))
    run = tail - middle
    length = float(np.hypot(run[0], run[1]))
    back = np.array([run[0], run[1], 0.0]) / max(length, 1e-9)
    long, up = 0.42 * length, np.array([0.0, 0.0, 1.0])
    side = np.array([-back[1], back[0], 0.0])
    found = []

    def block(name: str, center: Array, half_long: float, half_wide: float, low: float, high: float) -> None:
        base = center - half_wide * side
        corners = ((-1.0, low), (1.0, low), (1.0, high), (-1.0, high))
        outline = np.array([base + way * half_long * back + z * up for way, z in corners])
        found.append(Solid(name, "", POWERTRAIN, "engine", partial(prism, outline, 2 * half_wide * side)))

    block("engine", middle, long, wide / 2, -0.22 * wide, 0.85 * wide)
    block("oil pan", middle, 0.8 * long, 0.34 * wide, -0.55 * wide, -0.22 * wide)
    start = middle + long * back + 0.16 * wide * up
    goal = tail + 0.12 * wide * up
    way = goal - start
    reach = float(norm(way))
    if reach > 50.0:
        for name, ends, radii in (("bellhousing", (0.0, 0.3), (0.46, 0.3)), ("gearbox", (0.3, 1.0), (0.3, 0.17))):
            make = partial(lathe, start, way / reach, reach * np.array(ends), wide * np.array(radii), _ROUND_SIDES)
            found.append(Solid(name, "", POWERTRAIN, "engine", make))
    for spot, at in power_points(power).items():
        found.append(_ball(spot, POWERTRAIN, "mark" if spot.member else "engine", np.array(at.xyz)))
    return found


def frame_solids(vehicle: Vehicle) -> list[Solid]:
    """The two frame rails, piece by piece along their line."""
    top, thick, out = vehicle.frame.rail_top_mm, rail_thick(vehicle), vehicle.frame.rail_out_mm
    line = rail_line(vehicle)
    found = []
    for sign, side in ((1.0, "left"), (-1.0, "right")):
        y = sign * out - RAIL_HALF_MM
        for (x0, z0), (x1, z1) in pairwise(line):
            low, high = top - thick, top
            outline = np.array([(x0, y, high + z0), (x1, y, high + z1), (x1, y, low + z1), (x0, y, low + z0)])
            make = partial(prism, outline, np.array([0.0, 2 * RAIL_HALF_MM, 0.0]))
            found.append(Solid(f"frame rail, {side}", "", CHASSIS, "frame", make))
    return found


@lru_cache(maxsize=32)
def axle_solids(axle: Axle) -> tuple[Solid, ...]:
    """The solids of an axle and of all that holds and drives it."""
    bare = with_changes(axle, members=(), springs=())
    return (
        *own_solids(bare), *steering_solids(axle), *member_solids(axle), *spring_solids(axle), *_joints(axle)
    )  # fmt: skip


@lru_cache(maxsize=32)
def own_solids(bare: Axle) -> tuple[Solid, ...]:
    """Wheels, tube, housing and driveshaft: the same ones while members are moved about."""
    return (*_wheels(bare), *_axle(bare), *shaft_solids(bare))


def _tube(name: str, axle: Axle, body: str, style: str, a: Array, b: Array, diameter: float) -> Solid:
    """A straight tube from one place to another."""
    length = float(norm(b - a))
    way = (b - a) / max(length, 1e-9)
    make = partial(lathe, a, way, np.array([0.0, length]), np.full(2, diameter / 2), _TUBE_SIDES)
    return Solid(name, axle.key, body, style, make, np.stack((a, b)), diameter)


def _wheels(axle: Axle) -> Iterator[Solid]:
    """Tires with rounded shoulders at their free diameter, and their rims."""
    radius, half = axle.tire.free_diameter_mm / 2, axle.tire.width_mm / 2
    cut = 0.25 * half
    left = np.array([0.0, 1.0, 0.0])
    for center, side in zip(wheel_centers(axle), ("left", "right"), strict=True):
        body = knuckle_body(axle.key, side)
        along = np.array([0.0, cut, 2 * half - cut, 2 * half])
        radii = radius - np.array([cut, 0.0, 0.0, cut])
        make = partial(lathe, center - half * left, left, along, radii, _WHEEL_SIDES)
        yield Solid(f"{side} tire", axle.key, body, "tire", make)
        out = 1.0 if side == "left" else -1.0
        face = center + out * half * left
        make = partial(
            lathe, face - 2.0 * left, left, np.array([0.0, 4.0]), np.full(2, _RIM_SHARE * radius), _WHEEL_SIDES
        )
        yield Solid(f"{side} rim", axle.key, body, "rim", make)


def _axle(axle: Axle) -> Iterator[Solid]:
    """The tube between the wheels; on a driven axle a housing and the nose of its pinion."""
    if beams_of(axle) is not None:
        return
    body = axle_body(axle.key)
    left, right = wheel_centers(axle)
    inside = np.array([0.0, axle.tire.width_mm * 0.3, 0.0])
    yield _tube("axle tube", axle, body, "axle", left - inside, right + inside, axle.tube_mm)
    if not axle.driven:
        return
    x, y, z = axle.center
    forward = -1.0 if axle.is_front else 1.0
    if axle.pinion is not None:
        y = axle.pinion.at.y
    size = 1.75 * axle.tube_mm
    middle, across_car = np.array([x, y, z]), np.array([0.0, 1.0, 0.0])
    nose = middle + np.array([forward * 2.1 * size, 0.0, 0.0])
    if axle.pinion is not None:
        nose = np.array(axle.pinion.at.xyz)
    length = float(norm(nose - middle))
    way = (nose - middle) / max(length, 1e-9)
    along = np.array([min(0.5 * size, 0.5 * length), length])
    make = partial(lathe, middle, way, along, size * np.array([0.6, 0.3]), _ROUND_SIDES)
    yield Solid("pinion nose", axle.key, body, "housing", make)
    along = size * np.array([-0.8, -0.45, 0.0, 0.45, 0.8])
    radii = size * np.array([0.45, 0.88, 1.0, 0.88, 0.45])
    make = partial(lathe, middle, across_car, along, radii, _ROUND_SIDES)
    yield Solid("housing", axle.key, body, "housing", make, width_mm=2 * size)


def shaft_solids(axle: Axle) -> Iterator[Solid]:
    """The driveshaft of an axle, in one piece or two; nothing where its ends are not measured."""
    if axle.output is not None and axle.pinion is not None:
        pinion, output = np.array(axle.pinion.at.xyz), np.array(axle.output.at.xyz)
        thick = SHAFT_MM if axle.shaft is None else axle.shaft.tube_mm
        carrier = own_point(axle, "carrier")
        if carrier is not None:
            middle = np.array(carrier.xyz)
            yield _tube("front piece of the driveshaft", axle, CHASSIS, "shaft", middle, output, thick)
            output = middle
        yield _tube("driveshaft", axle, shaft_body(axle.key), "shaft", pinion, output, thick)


def steering_solids(axle: Axle) -> Iterator[Solid]:
    """Tie rod, drag link and pitman arm, or the ram's rod and its links; nothing where there is no steering."""
    steering = axle.steering
    if steering is None:
        return
    mechanism = mechanism_of(axle)
    if mechanism is None:
        yield from _beam_solids(axle)
        return
    for link in mechanism.links:
        ends = (np.array(link.start), np.array(link.goal))
        yield _tube(link.name, axle, f"{axle.key} {link.name}", "steering", *ends, _STEERING_MM)
    first = mechanism.box.knuckle if mechanism.box is not None else None
    for side, name in enumerate(("left", "right")):
        knuckle = knuckle_body(axle.key, name)
        lower, upper, tie = (np.array(point_on(axle, Spot(axle.key, "", f"{name}_{n}")).xyz) for n in _KNUCKLE)
        yield _tube(f"{name} kingpin", axle, knuckle, "knuckle", lower, upper, _STEERING_MM)
        middle = 0.5 * (lower + upper)
        ends_of_arms = [tie] if side != first or steering.drag is None else [tie, np.array(steering.drag.xyz)]
        for end in ends_of_arms:
            yield _tube(f"{name} arm", axle, knuckle, "knuckle", middle, end, _STEERING_MM)
    for name, body, a, b in (
        ("pitman arm", "pitman arm", "sector", "ball"), ("ram rod", "ram rod", "ram_left", "ram_right"),
        ("assist ram", "assist ram", "assist_base", "assist_end"),
        ("steering column", "", "column_up", "column"), ("steering shaft", "", "column", "input"),
    ):  # fmt: skip
        ends_ = [own_point(axle, end) for end in (a, b)]
        if ends_[0] is not None and ends_[1] is not None:
            start, goal = (np.array(p.xyz) for p in ends_ if p is not None)
            home = f"{axle.key} {body}" if body else CHASSIS
            yield _tube(name, axle, home, "knuckle", start, goal, _STEERING_MM)


def _beam_solids(axle: Axle) -> Iterator[Solid]:
    """Beams with their radius arms, knuckles, tie rods, center link and pitman arm of an axle of swing beams."""
    beams, steering = beams_of(axle), axle.steering
    if beams is None or steering is None:
        return
    at = beams.points
    centers = dict(zip(("left", "right"), wheel_centers(axle), strict=True))
    for side in ("left", "right"):
        beam, knuckle = f"{axle.key} {side} beam", knuckle_body(axle.key, side)
        lower, upper, tie = (at[f"{side}_{name}"] for name in _KNUCKLE)
        middle = 0.5 * (lower + upper)
        yield _tube(f"{side} beam", axle, beam, "axle", at[f"{side}_pivot"], middle, axle.tube_mm)
        yield _tube(f"{side} radius arm", axle, beam, "lower", at[f"{side}_arm"], middle, _STEERING_MM)
        yield _tube(f"{side} kingpin", axle, knuckle, "knuckle", lower, upper, _STEERING_MM)
        yield _tube(f"{side} arm", axle, knuckle, "knuckle", middle, tie, _STEERING_MM)
        yield _tube(f"{side} spindle", axle, knuckle, "knuckle", middle, centers[side], _STEERING_MM)
        ends = (at[f"{side}_inner"], tie)
        yield _tube(f"{side} tie rod", axle, f"{axle.key} {side} tie rod", "steering", *ends, _STEERING_MM)
    inner = (at["left_inner"], at["right_inner"])
    yield _tube("center link", axle, f"{axle.key} center link", "steering", *inner, _STEERING_MM)
    yield _tube("pitman arm", axle, f"{axle.key} pitman arm", "knuckle", at["sector"], at["ball"], _STEERING_MM)


def _thickness(member: AnyMember, ends: tuple[str, str]) -> float:
    """How thick the piece of a member between two mounts is drawn, mm."""
    if isinstance(member, Watts) and "pivot" in ends:
        return 1.6 * member.tube_mm
    return (0.6 if ends == ("shackle_eye", "shackle") else 1.0) * member.tube_mm


def _near_last(axle: Axle) -> dict[str, tuple[bool, bool]]:
    """How members are sorted for drawing: the side seen from comes last, so that in a projection it lies on top."""
    return {m.name: (m.side != "right", m.role != "lower") for m in axle.members}


def member_solids(axle: Axle) -> Iterator[Solid]:
    """Every member piece by piece; arms rigid with the axle reach down to its tube."""
    order = _near_last(axle)
    for member, a, b in sorted(pieces(axle), key=lambda p: order[p[0].name]):
        ends = (np.array(member.mounts[a].at.xyz), np.array(member.mounts[b].at.xyz))
        body = piece_body(axle.key, member.name, (a, b))
        yield _tube(member.name, axle, body, member.role, *ends, _thickness(member, (a, b)))
        if isinstance(member, RadiusArm | TorqueArm):
            down = np.array([axle.center[0], ends[1][1], axle.center[2]])
            if norm(down - ends[1]) > 1.0:
                yield _tube(member.name, axle, axle_body(axle.key), member.role, ends[1], down, member.tube_mm)


def spring_solids(axle: Axle) -> Iterator[Solid]:
    """Coils, shocks, bags, stops, bars and rockers, each piece between its mounts; a strap is a line."""
    for part, a, b in spring_pieces(axle):
        ends = (np.array(part.mounts[a].at.xyz), np.array(part.mounts[b].at.xyz))
        body = piece_body(axle.key, part.name, (a, b))
        if isinstance(part, SwayBar):
            thick = part.bar_mm if "bearing" in b else part.arm_mm if "bearing" in a else 20.0
            yield _tube(part.name, axle, body, "shock" if "drop" in b else "bar", *ends, thick)
            continue
        if isinstance(part, Rocker) and b != "top":
            yield _tube(part.name, axle, body, "shock" if a == "push_top" else "rocker", *ends, 30.0)
            continue
        run = ends[1] - ends[0]
        low, foot = ("low", 0) if isinstance(part, Rocker) else ("bottom", 1)
        near, far = ends[foot], ends[1 - foot]
        if isinstance(part, Damped):
            upper, lower = (half_body(axle.key, part.name, end) for end in ("top", low))
            yield _tube(part.name, axle, lower, "shock", near, near + 0.5 * (far - near), part.body_mm)
            yield _tube(part.name, axle, upper, "shock", far, far + 0.6 * (near - far), part.shaft_mm)
        if getattr(part, "coils", ()) or not isinstance(part, Damped):
            wide = {"air": 150.0, "bump_stop": 44.0, "strap": 16.0, "coil": 110.0}.get(part.kind, 92.0)
            off = min(0.5 * getattr(part, "seats_mm", 0.0) / max(float(norm(run)), 1e-9), 0.4)
            style = {"bump_stop": "stop", "air": "stop", "strap": "strap"}.get(part.kind, "coil")
            share = 0.45 if part.kind == "bump_stop" else 1.0 - off
            home = half_body(axle.key, part.name, "top") if part.kind == "bump_stop" else body
            yield _tube(part.name, axle, home, style, ends[0] + off * run, ends[0] + share * run, wide)


def near_last_spots(axle: Axle) -> list[tuple[Spot, str]]:
    """Every point of an axle with the style it is drawn in, the side seen from last."""
    order, roles = _near_last(axle), {m.name: str(m.role) for m in axle.parts}
    spots = sorted(spots_on(axle), key=lambda s: order.get(s.member, (True, True)))
    return [(spot, roles.get(spot.member, "shaft")) for spot in spots]


def _joints(axle: Axle) -> Iterator[Solid]:
    """A ball at every point that can be taken hold of, hung on the piece or body it belongs to."""
    every = (*pieces(axle), *spring_pieces(axle))
    homes = {(m.name, end): piece_body(axle.key, m.name, (a, b)) for m, a, b in every for end in (a, b)}
    for part in axle.springs:
        if not isinstance(part, SwayBar):
            ends = {"top", "bottom", "low"} & part.mounts.keys()
            homes |= {(part.name, end): half_body(axle.key, part.name, end) for end in ends}
    for spot in spots_on(axle):
        if not spot.member:
            body = axle_body(axle.key) if own_body(spot.end) == "axle" else CHASSIS
            if spot.end == "output" and axle.output is not None and axle.output.on:
                body = axle_body(axle.output.on)
            homes["", spot.end] = steer_home(axle, spot.end) or body
    for spot, style in near_last_spots(axle):
        yield _ball(spot, homes[spot.member, spot.end], style, np.array(point_on(axle, spot).xyz))


def _ball(spot: Spot, body: str, style: str, at: Array) -> Solid:
    """A point that can be taken hold of."""
    up, half = np.array([0.0, 0.0, 1.0]), _JOINT_MM / 2
    along, radii = half * np.array([0.0, 1.0, 2.0]), half * np.array([0.3, 1.0, 0.3])
    make = partial(lathe, at - half * up, up, along, radii, 6)
    return Solid(spot.words, spot.axle, body, style, make, None, _JOINT_MM, spot)
