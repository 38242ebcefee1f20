"""The answers about swing beams at one posture and steer input, for the command line, the rail and the tables."""

from typing import Any

import numpy as np

from even_stance.errors import CannotReachError
from even_stance.mechanics.steering import LEFT, RIGHT, ackermann_share, ground_points, turn_center
from even_stance.study.beams import BeamAxle, BeamState, beams_of
from even_stance.study.model import axle_title
from even_stance.study.steerfigures import lock_of
from even_stance.study.steering import SMALL, axle_line
from even_stance.vehicle.car import Axle, Vehicle


def beam_state(axle: Axle, beams: BeamAxle, left: float, right: float, steer: float) -> BeamState:
    """Swing beams at one posture.

    Raises:
        CannotReachError: a beam or a tie rod does not reach so far.
    """
    state = beams.over(np.array([steer]), np.array([left]), np.array([right]))
    if not np.isfinite(state.headings).all():
        sentence = f"{axle_title(axle)} cannot reach this posture: a beam or its tie rod ends before."
        raise CannotReachError(sentence, 0.0, 0.0)
    return state


def machine_readable_beams(
    vehicle: Vehicle, axle: Axle, left: float, right: float, steer: float
) -> dict[str, Any]:  # fmt: skip
    """Swing beams at one posture and steer input: the fixed keys of a steering, and camber, track and places.

    Raises:
        CannotReachError: a beam or a tie rod does not reach so far.
    """
    beams = beams_of(axle)
    assert beams is not None
    state, ride = beam_state(axle, beams, left, right, steer), beam_state(axle, beams, 0.0, 0.0, 0.0)
    headings = np.radians(state.headings[0])
    near = [beams.over(np.array([steer + d]), np.array([left]), np.array([right])) for d in (SMALL, -SMALL)]
    turned = float(near[0].headings.mean() - near[1].headings.mean())
    line, ground = axle_line(vehicle, axle), ground_points(beams.knuckles)
    spacing, ahead = float(ground[LEFT, 1] - ground[RIGHT, 1]), axle.center[0] - line
    radius = float(turn_center(headings, state.patches[0, :, :2], line))
    ackermann = 100.0 * float(ackermann_share(headings, spacing, ahead))
    lengths = {link.name: link.length_mm for link in beams.links}
    return {
        "posture": {"left_mm": left, "right_mm": right},
        "steer": {
            "input": steer,
            "left_deg": float(state.headings[0, LEFT]),
            "right_deg": float(state.headings[0, RIGHT]),
            "toe_deg": float(state.toe_deg[0]),
            "ackermann_pct": ackermann if np.isfinite(ackermann) else None,
            "pitman_deg": float(state.pitman_deg[0]),
            "overall_ratio": 360.0 * 2.0 * SMALL / turned if turned else None,
            "stop_first": _stop_first(axle, beams, steer >= 0.0),
            "turning_radius_mm": radius if np.isfinite(radius) else None,
            "joints": [
                {"name": name, "end": end, "swing_deg": float(np.degrees(swing[0]))}
                for name, end, swing in beams.swings(state)
            ],
            "tie_rod_mm": lengths["left tie rod"],
            "drag_link_mm": None,
        },
        "beams": {
            "camber_left_deg": float(state.camber_deg[0, LEFT]),
            "camber_right_deg": float(state.camber_deg[0, RIGHT]),
            "track_change_mm": float(state.track_mm[0] - ride.track_mm[0]),
            "left_center_mm": [float(v) for v in state.centers[0, LEFT]],
            "right_center_mm": [float(v) for v in state.centers[0, RIGHT]],
        },
    }


def _stop_first(axle: Axle, beams: BeamAxle, to_left: bool) -> str:
    """What ends the turn one way, at ride height: a wheel's stop, the box, or a tie rod."""
    lock = lock_of(axle, beams)
    if lock.over_deg[int(to_left)] > 0.0:
        return "stop"
    return "box" if abs(lock.steer[int(to_left)]) > 0.98 * beams.half_mm_or_turns else "link"


def beam_words(axle: Axle, left: float, right: float, steer: float) -> str:
    """Which way the wheels of swing beams point and lean, in a few words; empty where there are none."""
    beams = beams_of(axle)
    if beams is None:
        return ""
    try:
        state = beam_state(axle, beams, left, right, steer)
    except CannotReachError:
        return "a beam does not reach"
    a, b = state.headings[0]
    way = "left" if a + b >= 0.0 else "right"
    lean = f"camber {state.camber_deg[0, LEFT]:+.1f}° {state.camber_deg[0, RIGHT]:+.1f}°"
    return f"wheels {abs(a):.1f}° {abs(b):.1f}° {way}" if steer else lean
