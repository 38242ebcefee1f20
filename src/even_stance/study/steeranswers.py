"""The answers about a steered axle at one posture and steer input, for the command line, the rail and the tables."""

from typing import Any

import numpy as np

from even_stance.mechanics.steering import LEFT, RIGHT, ackermann_share, ground_points, turn_center
from even_stance.study.answers import Answers
from even_stance.study.model import axle_title
from even_stance.study.steerfigures import carried_patches
from even_stance.study.steering import SMALL, axle_line, steered_axle
from even_stance.vehicle.car import Axle, Vehicle


def steer_words(axle: Axle) -> str:
    """What a steer input does on an axle."""
    if axle.steering is None:
        return f"{axle_title(axle)} has no steering entered: a steer input turns nothing."
    unit = "mm of the ram's rod" if axle.steering.kind == "ram" else "turns of the hand wheel"
    return f"{unit[0].upper()}{unit[1:]} from straight ahead, + to the left."


def turned_words(answers: Answers, steer: float, i: int = 0) -> str:
    """Which way the wheels of a steered axle point, in a few words; empty where nothing steers it."""
    axle = answers.axle
    if axle.steering is None:
        return ""
    at = answers.pose.center[i : i + 1], answers.pose.rotation[i : i + 1]
    left, right = steered_axle(axle, axle.steering).at(np.array([steer]), *at).headings[0]
    if not np.isfinite(left + right):
        return "a steering link does not reach"
    way = "left" if left + right >= 0.0 else "right"
    return f"wheels {abs(left):.1f}° and {abs(right):.1f}° {way}"


def machine_readable_steer(vehicle: Vehicle, answers: Answers, steer: float, i: int = 0) -> dict[str, Any]:
    """A steered axle at one posture and steer input under the fixed keys of the command line; empty without steering.

    The swing of a joint is how far its link has left the plane square to its stud. Studs are taken to stand as upright
    as can be square to their links at ride height, wheels straight ahead; that of a pitman arm alongside its shaft.
    """
    axle = answers.axle
    if axle.steering is None:
        return {}
    mechanism = steered_axle(axle, axle.steering)
    moved, rotation = answers.pose.center[i : i + 1], answers.pose.rotation[i : i + 1]
    inputs = np.array([steer, steer + SMALL, steer - SMALL])
    poses = np.repeat(moved, 3, axis=0), np.repeat(rotation, 3, axis=0)
    here = mechanism.at(inputs, *poses)
    left, right = here.headings[0]
    mean = here.headings.mean(axis=1)
    ratio = 360.0 * 2.0 * SMALL / (mean[1] - mean[2]) if mechanism.box is not None else np.nan
    touch = carried_patches(axle, mechanism.knuckles, here.turns[0], rotation[0]) + moved[0] - np.array(axle.center)
    line, ground = axle_line(vehicle, axle), ground_points(mechanism.knuckles)
    spacing, ahead = float(ground[LEFT, 1] - ground[RIGHT, 1]), axle.center[0] - line
    radius = float(turn_center(np.radians(here.headings[0]), touch[:, :2], line))
    lengths = {link.name: link.length_mm for link in mechanism.links}
    said: dict[str, Any] = {
        "input": steer,
        "left_deg": _or_none(left),
        "right_deg": _or_none(right),
        "toe_deg": _or_none(right - left),
        "ackermann_pct": _or_none(100.0 * float(ackermann_share(np.radians(here.headings[0]), spacing, ahead))),
        "pitman_deg": _or_none(here.pitman_deg[0]),
        "overall_ratio": _or_none(ratio),
        "stop_first": mechanism.stop_first(steer >= 0.0, moved[0], rotation[0]),
        "turning_radius_mm": _or_none(radius),
        "joints": [
            {"name": name, "end": end, "swing_deg": _or_none(np.degrees(swing[0]))}
            for name, end, swing in mechanism.swings(here, *poses)
        ],
        "tie_rod_mm": lengths.get("tie rod"),
        "drag_link_mm": lengths.get("drag link"),
    }  # fmt: skip
    return {"steer": said}


def _or_none(value: Any) -> float | None:
    return float(value) if np.isfinite(value) else None
