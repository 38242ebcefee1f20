"""Steerings to start from, fitted to an axle's track, tires and links: made up, to be replaced by what is measured."""

from typing import get_args

from even_stance.errors import StanceError
from even_stance.judgement.catalog.layouts import snap
from even_stance.judgement.search.arcs import Room, least_steer, poses_looked_at
from even_stance.study.figures import study_axle
from even_stance.vehicle.car import Axle, Vehicle
from even_stance.vehicle.edits import moved_point, with_changes
from even_stance.vehicle.records import Point, guess_at
from even_stance.vehicle.spots import own_point
from even_stance.vehicle.steering import Knuckle, Steering, SteeringBox, SteeringKind, SteeringRam, SwingBeam

STEERING_WORDS: dict[SteeringKind, str] = {
    "crossover": "drag link across, to the far knuckle",
    "fore_aft": "drag link fore and aft, to the near knuckle",
    "tie_rod": "drag link to the tie rod",
    "ram": "double-ended ram on the axle",
    "swing_beams": "two swing beams, no axle",
}
KINDS: tuple[SteeringKind, ...] = tuple(k for k in get_args(SteeringKind) if k != "swing_beams")  # of a solid axle
_BELOW_MM = 40.0  # from the bottom of a rail to the middle of the arm below it
_INSIDE_MM, _OUTSIDE_MM = 130.0, 70.0  # from the middle of a rail to the arm on either side: so that it can swing
# How far the ends of a drag link may be put elsewhere so that the wheels steer least over bumps: a pitman arm of the
# same length has another drop, or, fore and aft, hangs on a box that is moved along.
_ROOM: dict[SteeringKind, tuple[tuple[str, Room], ...]] = {
    "crossover": (("ball", Room(0.0, 0.0, 110.0)), ("drag", Room(0.0, 30.0, 40.0))),
    "tie_rod": (("ball", Room(0.0, 0.0, 140.0)),),
    "fore_aft": (("ball", Room(80.0, 0.0, 110.0)), ("drag", Room(30.0, 0.0, 40.0))),
}


def starting_steering(vehicle: Vehicle, axle: Axle, kind: SteeringKind) -> Steering:
    """A steering of a kind that fits an axle, its drag link laid so that the wheels steer little over bumps."""
    steering = steering_guess(vehicle, axle, kind)
    if kind in ("ram", "swing_beams") or not axle.members:
        return steering
    for end, room in 2 * _ROOM[kind]:
        steered = with_changes(axle, steering=steering)
        try:
            study = study_axle(vehicle, steered, 0.0, 0.0, {})
        except StanceError:
            return steering
        found = least_steer(steered, poses_looked_at(study), end, room)
        if found is None or found.after_deg >= found.before_deg:
            continue
        start, box = own_point(steered, end), steering.box
        assert start is not None
        assert box is not None
        by = [snap(to - at) for to, at in zip(found.at, start.xyz, strict=True)]
        if end == "drag":
            steering = with_changes(steering, drag=moved_point(start, *by))
            continue
        along = {} if kind != "fore_aft" else {n: moved_point(getattr(box, n), *by) for n in ("shaft", "top")}
        steering = with_changes(steering, box=with_changes(box, ball=moved_point(start, *by), **along))
    return steering


def steering_guess(vehicle: Vehicle, axle: Axle, kind: SteeringKind) -> Steering:
    """A steering of a kind that fits an axle: arms toward the car's middle, a box on the left rail, all guessed."""
    cx, _, cz = axle.center
    half = axle.track_mm / 2 - 0.3 * axle.tire.width_mm
    way = 1.0 if axle.is_front else -1.0
    out = min(vehicle.frame.rail_out_mm, half - 180.0)
    # A box is bolted to its rail's inner face and its arm swings below that, or its shaft reaches through the rail.
    inside, outside = out - _INSIDE_MM, out + _OUTSIDE_MM
    hub = min(vehicle.frame.rail_bottom_mm - _BELOW_MM - cz, 190.0)
    low = min(hub - 15.0, 160.0)

    def at(x: float, y: float, z: float) -> Point:
        return guess_at(cx + way * x, y, cz + z)

    left, right = (
        Knuckle(
            lower=at(0.0, s * half, -90.0), upper=at(-14.0, s * (half - 22.0), 90.0),
            tie=at(-150.0, s * (half - 45.0), -10.0),
        ) for s in (1.0, -1.0)
    )  # fmt: skip
    if kind == "ram":
        ram = SteeringRam(left=at(-150.0, 250.0, -10.0), right=at(-150.0, -250.0, -10.0), stroke_mm=180.0)
        return Steering(kind=kind, left=left, right=right, ram=ram)
    if kind == "swing_beams":
        box = SteeringBox(shaft=at(0.0, inside, hub), top=at(0.0, inside, hub + 140.0), ball=at(-150.0, inside, 40.0))
        beams = [
            SwingBeam(
                pivot=at(s * 35.0, -s * 190.0, 15.0), arm=at(-950.0, s * out, 40.0), inner=at(-150.0, -s * 175.0, 15.0)
            ) for s in (1.0, -1.0)
        ]  # fmt: skip
        return Steering(kind=kind, left=left, right=right, box=box, left_beam=beams[0], right_beam=beams[1])
    arm, sector, drag = {
        "crossover": ((110.0, inside, low), (260.0, inside, hub), (130.0, 60.0 - half, 120.0)),
        "tie_rod": ((-110.0, inside, low), (40.0, inside, hub), (-150.0, -0.45 * half, -10.0)),
        "fore_aft": ((-520.0, outside + 12.0, 40.0), (-520.0, outside, 190.0), (-10.0, half - 140.0, 110.0)),
    }[kind]  # fmt: skip
    far = (sector[0], sector[1] - 140.0, sector[2]) if kind == "fore_aft" else (sector[0], sector[1], sector[2] + 140.0)
    box = SteeringBox(shaft=at(*sector), top=at(*far), ball=at(*arm))
    return Steering(kind=kind, left=left, right=right, box=box, drag=at(*drag))
