"""Steering and swing beams as parts that can be hit."""

from collections.abc import Iterator
from dataclasses import replace

import numpy as np

from even_stance.mechanics.cores import round_bar, tube
from even_stance.mechanics.vectors import norm
from even_stance.study.beams import beams_of
from even_stance.study.hard import ROD_MM, Hard, part_name, rod_part
from even_stance.study.state import CHASSIS, axle_body, knuckle_body
from even_stance.study.steerfigures import mechanism_of
from even_stance.vehicle.car import Axle
from even_stance.vehicle.spots import Spot, own_point, point_on

_ARM_ROOT = 0.62  # of the way from a beam's pivot to its knuckle, where its radius arm sits


def steering_parts(axle: Axle) -> Iterator[Hard]:
    """Rods, arms, pitman arm, rams and beams."""
    steering = axle.steering
    if steering is None:
        return
    mechanism = mechanism_of(axle)
    if mechanism is None:
        yield from _beams(axle)
        return
    key = axle.key
    knuckles = {side: knuckle_body(key, side) for side in ("left", "right")}
    homes = {"tie rod": (knuckles["left"], knuckles["right"])}
    box_side = ("left", "right")[(mechanism.box.knuckle or 0) if mechanism.box is not None else 0]
    homes["drag link"] = (f"{key} pitman arm", knuckles[box_side])
    for link in mechanism.links:
        a, b = np.array(link.start), np.array(link.goal)
        ends = homes.get(link.name)
        if ends is None:  # a ram's short link: from its rod to the knuckle of its side
            side = "left" if a[1] + b[1] > 0.0 else "right"
            ends = (f"{key} ram rod", knuckles[side])
        rod = rod_part(axle, link.name, f"{key} {link.name}", a, b, ROD_MM, ends)
        yield replace(rod, part="ram rod" if steering.ram is not None else link.name, holds=link.name == "tie rod")
    for number, name in enumerate(("left", "right")):
        spots = (Spot(key, "", f"{name}_{n}") for n in ("lower", "upper", "tie"))
        lower, upper, tie = (np.array(point_on(axle, spot).xyz) for spot in spots)
        middle = 0.5 * (lower + upper)
        goals = [tie]
        if mechanism.box is not None and number == mechanism.box.knuckle and steering.drag is not None:
            goals.append(np.array(steering.drag.xyz))
        cores = tuple(tube(middle, goal, ROD_MM) for goal in goals)
        yield Hard(part_name(axle, f"{name} steering arm"), key, f"{name} arm", knuckles[name], "steering", cores,
                   ((axle_body(key), middle),), holds=True, sure=((tie, 3.175),))  # fmt: skip
    for name, body, a_end, b_end, at in (
        ("pitman arm", f"{key} pitman arm", "sector", "ball", CHASSIS),
        ("ram rod", f"{key} ram rod", "ram_left", "ram_right", axle_body(key)),
        ("assist ram", f"{key} assist ram", "assist_base", "assist_end", axle_body(key)),
    ):
        start, goal = own_point(axle, a_end), own_point(axle, b_end)
        if start is None or goal is None:
            continue
        a, b = np.array(start.xyz), np.array(goal.xyz)
        far = f"{key} tie rod" if name == "assist ram" else body
        part = rod_part(axle, name, body, a, b, ROD_MM, (at, far))
        yield replace(part, holds=name == "pitman arm")
    if steering.ram is not None:
        a, b = np.array(steering.ram.left.xyz), np.array(steering.ram.right.xyz)
        way = (b - a) / norm(b - a)
        half = 0.5 * float(norm(b - a)) - 0.5 * float(steering.ram.stroke_mm)
        middle = 0.5 * (a + b)
        if half > 10.0:
            core = round_bar(middle - half * way, middle + half * way, steering.ram.body_mm)
            yield Hard(part_name(axle, "ram"), key, "ram rod", axle_body(key), "steering", (core,),
                       ((axle_body(key), middle),), sure=((middle, 3.175),))  # fmt: skip


def _beams(axle: Axle) -> Iterator[Hard]:
    """Swing beams with their arms, and the rods that steer them."""
    beams = beams_of(axle)
    if beams is None:
        return
    at, key = beams.points, axle.key
    for side in ("left", "right"):
        beam, knuckle = f"{key} {side} beam", knuckle_body(key, side)
        middle = 0.5 * (at[f"{side}_lower"] + at[f"{side}_upper"])
        yield Hard(part_name(axle, f"{side} beam"), key, f"{side} beam", beam, "axle",
                   (tube(at[f"{side}_pivot"], middle, axle.tube_mm),),
                   ((CHASSIS, at[f"{side}_pivot"]), (knuckle, middle)), holds=True,
                   sure=((middle, 3.175),))  # fmt: skip
        # A radius arm is welded to its beam inboard of the knuckle.
        root = at[f"{side}_pivot"] + _ARM_ROOT * (middle - at[f"{side}_pivot"])
        yield Hard(part_name(axle, f"{side} radius arm"), key, f"{side} beam", beam, "links",
                   (tube(at[f"{side}_arm"], root, 44.5),), ((CHASSIS, at[f"{side}_arm"]),),
                   sure=((root, 3.175),))  # fmt: skip
        rod = rod_part(axle, f"{side} tie rod", f"{key} {side} tie rod", at[f"{side}_inner"], at[f"{side}_tie"], ROD_MM,
                   (f"{key} center link", knuckle))  # fmt: skip
        yield replace(rod, part=f"{side} rods")
        yield Hard(part_name(axle, f"{side} steering arm"), key, f"{side} arm", knuckle, "steering",
                   (tube(middle, at[f"{side}_tie"], ROD_MM),), ((beam, middle),), holds=True,
                   sure=((middle, 3.175),))  # fmt: skip
    # The center link lies where both tie rods do: it is bent around them, which nobody has taped.
    yield replace(rod_part(axle, "pitman arm", f"{key} pitman arm", at["sector"], at["ball"], ROD_MM,
                       (CHASSIS, f"{key} center link")), holds=True)  # fmt: skip
