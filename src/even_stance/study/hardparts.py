"""Everything on the car that can hit something: tires, links, housings, shafts, springs, steering, frame, and things.

What is bolted together is left alone where it is bolted: a link is looked at from a hand's width off its joint against
what that joint is on.
"""

from collections.abc import Iterator
from functools import lru_cache
from itertools import pairwise

import numpy as np

from even_stance.mechanics.cores import Core, ball, hull, round_bar, tube
from even_stance.mechanics.solids import prism
from even_stance.mechanics.vectors import norm
from even_stance.study.beams import beams_of
from even_stance.study.bodies import SHAFT_MM
from even_stance.study.driveline import carrier_joint
from even_stance.study.frame import RAIL_HALF_MM, rail_line, rail_thick
from even_stance.study.hard import Family, Hard, part_name
from even_stance.study.hardsteering import steering_parts
from even_stance.study.model import wheel_centers
from even_stance.study.powertrain import seated
from even_stance.study.springstate import half_body
from even_stance.study.state import CHASSIS, axle_body, knuckle_body, piece_body, pieces, shaft_body, spring_pieces
from even_stance.study.things import cores_of
from even_stance.vehicle.car import Axle, Vehicle
from even_stance.vehicle.members import Leaf, RadiusArm, TorqueArm
from even_stance.vehicle.records import GUESS_MM
from even_stance.vehicle.spots import own_point
from even_stance.vehicle.springs import AirSpring, BumpStop, CoilSpring, Damped, Rocker, Strap, SwayBar
from even_stance.vehicle.things import Thing

WANTED_MM = 12.7  # half an inch is a usual least working clearance (common practice, no source)
_TAPED_ROUGHLY_MM = 6.35
_JOINT_MM = 50.0  # across the body of a rod end, as most are
_PIECES = {
    ("bearing_left", "bearing_right"): "bar", ("bearing_left", "arm_left"): "left arm",
    ("bearing_right", "arm_right"): "right arm", ("arm_left", "drop_left"): "left link",
    ("arm_right", "drop_right"): "right link", ("pivot", "pivot_to"): "axis", ("pivot", "push_top"): "rocker",
    ("pivot", "low"): "rocker’s shock arm", ("push_top", "push_bottom"): "pushrod",
    ("pivot", "crank_left"): "crank, left", ("pivot", "crank_right"): "crank, right",
    ("crank_left", "outer_left"): "left rod", ("crank_right", "outer_right"): "right rod",
    ("fixed_eye", "seat"): "fixed half", ("shackle_eye", "seat"): "shackle half",
    ("shackle_eye", "shackle"): "shackle", ("chassis_left", "axle"): "left leg", ("chassis_right", "axle"): "right leg",
    ("chassis", "axle_left"): "left leg", ("chassis", "axle_right"): "right leg",
}  # fmt: skip
_LINE_KINDS = ("line", "hose", "tank", "exhaust", "muffler", "pipe")


@lru_cache(maxsize=8)
def hard_parts(vehicle: Vehicle) -> tuple[Hard, ...]:
    """Every part of the car that can hit something, things that are switched off left out."""
    found = [*_rails(vehicle)]
    for axle in vehicle.axles:
        here = seated(vehicle, axle)
        found += _of_axle(here, vehicle)
    found += [_thing(t) for t in vehicle.things if t.counts]
    return tuple(found)


@lru_cache(maxsize=16)
def _of_axle(axle: Axle, vehicle: Vehicle) -> tuple[Hard, ...]:
    return (
        *_tires(axle, vehicle),
        *_axle(axle),
        *_shaft(axle),
        *steering_parts(axle),
        *_members(axle),
        *_springs(axle),
    )


def _rails(vehicle: Vehicle) -> Iterator[Hard]:
    top, thick, out = vehicle.frame.rail_top_mm, rail_thick(vehicle), vehicle.frame.rail_out_mm
    for sign, side in ((1.0, "left"), (-1.0, "right")):
        y = sign * out - RAIL_HALF_MM
        cores = []
        for (x0, z0), (x1, z1) in pairwise(rail_line(vehicle)):
            low, high = top - thick, top
            outline = np.array([(x0, y, high + z0), (x0, y, low + z0), (x1, y, low + z1), (x1, y, high + z1)])
            cores.append(hull(*prism(outline[::-1], np.array([0.0, 2 * RAIL_HALF_MM, 0.0]))))
        name = f"{side} frame rail"
        sure = GUESS_MM if vehicle.frame.known in (None, "guessed") else _TAPED_ROUGHLY_MM
        yield Hard(
            name, "", f"frame rail, {side}", CHASSIS, "frame", tuple(cores), holds=True, sure=((np.zeros(3), sure),)
        )


def _tires(axle: Axle, vehicle: Vehicle) -> Iterator[Hard]:
    """Tires at their free diameter with rounded shoulders, larger and wider as was said of them."""
    more, bulge = vehicle.clearances.tire_more_mm, vehicle.clearances.bulge_mm
    radius, half = 0.5 * axle.tire.free_diameter_mm + more, 0.5 * axle.tire.width_mm + 0.5 * bulge + more
    left = np.array([0.0, 1.0, 0.0])
    for center, side in zip(wheel_centers(axle), ("left", "right"), strict=True):
        core = round_bar(center - half * left, center + half * left, 2 * radius, 0.25 * half)
        # Joints on the knuckle sit within the wheel: near them rods are left alone.
        yield Hard(part_name(axle, f"{side} tire"), axle.key, f"{side} tire", knuckle_body(axle.key, side), "tires",
                   (core,), holds=True, sure=((center, 6.35),))  # fmt: skip


def _axle(axle: Axle) -> Iterator[Hard]:
    """Tube, and on a driven axle the ball of its housing with the nose of its pinion."""
    if beams_of(axle) is not None:
        return
    body = axle_body(axle.key)
    left, right = wheel_centers(axle)
    inside = np.array([0.0, 0.5 * axle.tire.width_mm, 0.0])
    if axle.steering is not None:  # the tube of a steered axle ends at its knuckles
        places = [np.array(getattr(k, end).xyz) for k in (axle.steering.left,) for end in ("lower", "upper")]
        inside[1] = max(left[1] - 0.5 * (places[0][1] + places[1][1]) + axle.tube_mm, inside[1])
    center = np.array(axle.center)
    # A tube that nobody taped is some other size, but its center is where the wheels' are.
    thick = _TAPED_ROUGHLY_MM if axle.tube_known in (None, "guessed") else 3.175
    yield Hard(part_name(axle, "axle tube"), axle.key, "axle tube", body, "axle",
               (tube(left - inside, right + inside, axle.tube_mm),), holds=True, sure=((center, thick),))  # fmt: skip
    if not axle.driven:
        return
    size = 1.75 * axle.tube_mm
    sizes = axle.housing
    high, wide, nose = (2.0 * size, 1.6 * size, 1.1 * size) if sizes is None else (
        sizes.ball_mm, sizes.wide_mm, sizes.nose_mm
    )  # fmt: skip
    middle = center.copy()
    forward = -1.0 if axle.is_front else 1.0
    tip = center + np.array([forward * 2.1 * size, 0.0, 0.0])
    if axle.pinion is not None:
        tip = np.array(axle.pinion.at.xyz)
        middle[1] = tip[1]
    across = np.array([0.0, 0.5 * wide, 0.0])
    round_part = round_bar(middle - across, middle + across, high, 0.3 * wide)
    way = (tip - middle) / max(float(norm(tip - middle)), 1e-9)
    cores = (round_part, tube(middle, tip - min(0.5 * nose, 0.5 * float(norm(tip - middle))) * way, nose))
    sure = GUESS_MM if sizes is None else 3.175
    yield Hard(part_name(axle, "housing"), axle.key, "housing", body, "axle", cores, holds=True,
               sure=((center, sure),))  # fmt: skip


def _shaft(axle: Axle) -> Iterator[Hard]:
    """The driveshaft, in one piece or two."""
    if axle.output is None or axle.pinion is None:
        return
    pinion, output = np.array(axle.pinion.at.xyz), np.array(axle.output.at.xyz)
    thick = SHAFT_MM if axle.shaft is None else axle.shaft.tube_mm
    carrier = own_point(axle, "carrier")
    far, far_body, far_sure = output, axle_body(axle.output.on) if axle.output.on else "powertrain", axle.output.at.sure
    if carrier is not None:
        middle = np.array(carrier.xyz)
        bolted = ((CHASSIS, middle), ("powertrain", output))
        yield Hard(part_name(axle, "front shaft"), axle.key, "driveshaft", CHASSIS, "shaft",
                   (tube(middle, output, thick),), bolted,
                   sure=((middle, carrier.sure), (output, far_sure)))  # fmt: skip
        assert axle.shaft is not None
        far, far_body, far_sure = carrier_joint(axle.shaft, output), CHASSIS, carrier.sure
    yield Hard(part_name(axle, "driveshaft"), axle.key, "driveshaft", shaft_body(axle.key), "shaft",
               (tube(pinion, far, thick),), ((axle_body(axle.key), pinion), (far_body, far)),
               sure=((pinion, axle.pinion.at.sure), (far, far_sure)))  # fmt: skip


def _bodies(axle: Axle) -> dict[str, str]:
    return {"chassis": CHASSIS, "axle": axle_body(axle.key)}


def _members(axle: Axle) -> Iterator[Hard]:
    """Links, arms, bars and leaves, piece by piece, each with its joints."""
    homes = _bodies(axle)
    for member, a, b in pieces(axle):
        ends = [np.array(member.mounts[e].at.xyz) for e in (a, b)]
        on = [homes.get(member.body(e), f"{axle.key} {member.name}") for e in (a, b)]
        sure = tuple((p, member.mounts[e].at.sure) for p, e in zip(ends, (a, b), strict=True))
        cores = [tube(ends[0], ends[1], member.tube_mm)]
        joint = max(_JOINT_MM, 1.15 * member.tube_mm)
        if not isinstance(member, Leaf):
            cores += [ball(p, joint) for p in ends]
        rigid = isinstance(member, RadiusArm | TorqueArm)
        if rigid:
            down = np.array([axle.center[0], ends[1][1], axle.center[2]])
            if norm(down - ends[1]) > 1.0:
                cores.append(tube(ends[1], down, member.tube_mm))
        several = len(member.SPANS) > 1
        words = f"{member.name}, {_PIECES.get((a, b), f'{a} to {b}')}" if several else member.name
        yield Hard(part_name(axle, words), axle.key, member.name, piece_body(axle.key, member.name, (a, b)), "links",
                   tuple(cores), tuple(zip(on, ends, strict=True)), sure=sure)  # fmt: skip


def _springs(axle: Axle) -> Iterator[Hard]:
    """Shocks, coils, bags, rockers and bars; stops and straps are there to be met."""
    homes, key = _bodies(axle), axle.key
    for part, a, b in spring_pieces(axle):
        if isinstance(part, BumpStop | Strap):
            continue
        at = {e: np.array(part.mounts[e].at.xyz) for e in (a, b)}
        on = [homes.get(part.body(e), f"{key} {part.name}") for e in (a, b)]
        if beams_of(axle) is not None:
            on = [f"{key} {'left' if at[e][1] >= 0.0 else 'right'} beam" if part.body(e) == "axle" else body
                  for e, body in zip((a, b), on, strict=True)]  # fmt: skip
        if getattr(part, "on", "axle") != "axle" and not isinstance(part, SwayBar | Rocker):
            links = {m.name: piece_body(key, m.name, m.SPANS[0]) for m in axle.members}
            on = [links.get(part.on, on[i]) if e == "bottom" else on[i] for i, e in enumerate((a, b))]
        body = piece_body(key, part.name, (a, b))
        bolted = tuple(zip(on, at.values(), strict=True))
        sure = tuple((at[e], part.mounts[e].at.sure) for e in (a, b))

        def hard(words: str, home: str, cores: tuple[Core, ...]) -> Hard:
            return Hard(part_name(axle, words), key, part.name, home, "springs", cores, bolted, sure=sure)  # noqa: B023

        if isinstance(part, SwayBar | Rocker) and not (isinstance(part, Rocker) and b == "top"):
            thick = 30.0 if isinstance(part, Rocker) else (
                part.bar_mm if "bearing" in b else part.arm_mm if "bearing" in a else 20.0
            )  # fmt: skip
            yield hard(f"{part.name}, {_PIECES.get((a, b), f'{a} to {b}')}", body, (tube(at[a], at[b], thick),))
            continue
        run = at[b] - at[a]
        low, foot = ("low", a) if isinstance(part, Rocker) else ("bottom", "bottom")
        near, far = at[foot], at[b if foot == a else a]
        if isinstance(part, Damped):
            lower, upper = half_body(key, part.name, low), half_body(key, part.name, "top")
            middle = near + 0.55 * (far - near)
            yield hard(f"{part.name}, body", lower, (round_bar(near, middle, part.body_mm),))
            yield hard(f"{part.name}, shaft", upper, (round_bar(middle, far, part.shaft_mm),))
        if getattr(part, "coils", ()) or not isinstance(part, Damped):
            wide = 150.0 if isinstance(part, AirSpring) else 110.0 if isinstance(part, CoilSpring) else 92.0
            off = min(0.5 * getattr(part, "seats_mm", 0.0) / max(float(norm(run)), 1e-9), 0.4)
            words = part.name if not isinstance(part, Damped) else f"{part.name}, coil"
            yield hard(words, body, (round_bar(at[a] + off * run, at[b] - off * run, wide),))


def _thing(thing: Thing) -> Hard:
    family: Family = "lines" if thing.kind in _LINE_KINDS else "body"
    holds = thing.kind in ("crossmember", "truss", "bracket")
    return Hard(thing.name, thing.axle, thing.name, thing.on, family, cores_of(thing.form), holds=holds,
                sure=((np.zeros(3), thing.sure_mm),), wanted_mm=thing.wanted_mm, thing=True)  # fmt: skip


def never_meet(a: Hard, b: Hard) -> bool:
    """Whether two parts are one and the same, or made to run in each other."""
    if a.body == b.body or (a.axle == b.axle and a.part == b.part):
        return True
    if a.axle != b.axle:
        return False
    # A wheel is mounted on the end of its tube, and its arms on the knuckle, inside it.
    inside = {"tires", "axle"}
    if {a.family, b.family} == inside:
        tube_or_beam = a if a.family == "axle" else b
        return not tube_or_beam.thing and ("tube" in tube_or_beam.name or "beam" in tube_or_beam.name)
    return False


def put_together(vehicle: Vehicle, a: Hard, b: Hard) -> bool:
    """Whether it was said of two parts that they belong together."""
    return any(w.together and {w.a, w.b} == {a.name, b.name} for w in vehicle.clearances.wanted)


def wanted_between(vehicle: Vehicle, a: Hard, b: Hard) -> float:
    """The least gap wanted between two parts, mm: as said for the pair, else the larger of what they ask for."""
    for want in vehicle.clearances.wanted:
        if {want.a, want.b} == {a.name, b.name}:
            return want.gap_mm
    asked = [p.wanted_mm for p in (a, b) if p.wanted_mm is not None]
    return max(asked) if asked else WANTED_MM
