"""The cheap changes a person can make to a steering: stops, a joint over its arm, another drop, other arms."""

from collections.abc import Iterator

import numpy as np

from even_stance.judgement.search.moves import HOLE, MOVE, Move, as_it_is, bracket_moves, pairs
from even_stance.judgement.wording import move_words
from even_stance.units import MM_PER_INCH
from even_stance.vehicle.car import Axle
from even_stance.vehicle.edits import Edit, change_steering, choose_hole, move_by
from even_stance.vehicle.job import Job
from even_stance.vehicle.spots import Spot, holes_of, point_of, twin_of
from even_stance.vehicle.steering import Steering

STOP, OVER, ARM = 1.0, 2.0, 3.0
_STOPS_DEG = (-4.0, -2.0, -1.0, 1.0, 2.0, 4.0)
_COUNTS = (-3, -2, -1, 1, 2, 3)


def steer_moves(job: Job, axle: Axle) -> list[Move]:
    """Every cheap change of an axle's steering, and of the bar that holds it sideways; none without a steering."""
    steering = axle.steering
    if steering is None:
        return []
    base, places, none = as_it_is(axle)

    def move(words: str, edit: Edit, cost: float) -> Move:
        return Move(words, edit, cost, base, none)

    found = [move(*each) for each in _all(job, axle.key, steering)]
    for spot, twin in pairs(job, axle):
        if axle.member(spot.member).role == "lateral":
            found += bracket_moves(job, spot, twin, places, base, none)
    return found


def _all(job: Job, key: str, steering: Steering) -> Iterator[tuple[str, Edit, float]]:
    """Words, edit and cost of every change of the steering itself."""
    for deg in _STOPS_DEG:
        stop, right = steering.stop_deg + deg, steering.stop_right_deg
        other = None if right is None else right + deg
        if all(5.0 <= each <= 60.0 for each in (stop, stop if other is None else other)):
            way = "farther out" if deg > 0.0 else "closer in"
            edit = change_steering(key, "Stops", stop_deg=stop, stop_right_deg=other)
            yield f"Stops {abs(deg):g}° {way}", edit, STOP + 0.1 * abs(deg)
    yield from _holes(job, key, steering)
    yield from _arms(job, key, steering)
    if steering.kind == "ram":
        return
    if steering.kind == "swing_beams":
        yield from _beams(job, key)
        return
    over = steering.arm_mm + 2.0 * steering.ball_mm
    drag, unit = Spot(key, "", "drag"), _unit(job)
    if steering.kind != "tie_rod":
        for side, words in ((1.0, "over the arm instead of under"), (-1.0, "under the arm instead of over")):
            yield f"Drag link {words}", move_by(drag, 0.0, 0.0, side * over), OVER
    for count in _COUNTS:
        up = count * unit
        words = move_words(0.0, 0.0, abs(up), job.units).removesuffix(" up")
        ball = move_by(Spot(key, "", "ball"), 0.0, 0.0, up)
        yield f"Pitman arm with {words} {'less' if up > 0 else 'more'} drop", ball, ARM + 0.2 * abs(count)
        cost = MOVE + 0.5 * abs(count)
        yield f"Drag link’s axle end moved {move_words(0.0, 0.0, up, job.units)}", move_by(drag, 0.0, 0.0, up), cost


_HOLED = {"ball": "Pitman arm", "drag": "Drag link on its arm", "left_tie": "Knuckle arms", "right_tie": "Right arm"}


def _holes(job: Job, key: str, steering: Steering) -> Iterator[tuple[str, Edit, float]]:
    """Joints moved in the holes their arms have; both knuckles' arms together."""
    for arm in steering.arm_holes:
        twin = twin_of(job, Spot(key, "", arm.end))
        if arm.end == "right_tie" and twin is not None and holes_of(job, twin)[0]:
            continue
        for hole in range(len(arm.at)):
            if hole != arm.hole:
                words = f"{_HOLED[arm.end]}, hole {hole + 1} of {len(arm.at)}"
                yield words, choose_hole(Spot(key, "", arm.end), hole), HOLE + 0.1 * abs(hole - arm.hole)


_OF_BEAMS = (("inner", "Tie rods’ inner ends"), ("pivot", "Beams’ pivots"), ("arm", "Radius arms’ rear ends"))


def _beams(job: Job, key: str) -> Iterator[tuple[str, Edit, float]]:
    """The points of both swing beams moved up, down, out or in, both sides alike."""
    unit = _unit(job)
    for end, name in _OF_BEAMS:
        spot = Spot(key, "", f"left_{end}")
        side = 1.0 if point_of(job, spot).y >= 0.0 else -1.0
        for count in _COUNTS:
            by = 0.5 * count * unit
            for words, delta in (("", (0.0, 0.0, by)), (" out" if by > 0 else " in", (0.0, side * by, 0.0))):
                much = move_words(0.0, 0.0, abs(by), job.units).removesuffix(" up")
                way = words or (" up" if by > 0 else " down")
                yield f"{name} moved {much}{way}", move_by(spot, *delta), MOVE + 0.5 * abs(count)


def _arms(job: Job, key: str, steering: Steering) -> Iterator[tuple[str, Edit, float]]:
    """Longer and shorter knuckle arms and pitman arms."""
    lower, tie = (np.array(p.xyz) for p in (steering.left.lower, steering.left.tie))
    groups = [("Knuckle arms", Spot(key, "", "left_tie"), tie - lower)]
    if steering.box is not None:
        sector, ball = (np.array(p.xyz) for p in (steering.box.shaft, steering.box.ball))
        axis = np.array(steering.box.top.xyz) - sector
        axis /= np.linalg.norm(axis)
        arm = ball - sector
        groups.append(("Pitman arm", Spot(key, "", "ball"), arm - float(arm @ axis) * axis))
    for words, spot, arm in groups:
        level = arm if words == "Pitman arm" else arm * (1.0, 1.0, 0.0)
        length = float(np.linalg.norm(level))
        for count in _COUNTS:
            by = 0.5 * count * _unit(job)
            if length + by < 40.0:
                continue
            dx, dy, dz = (float(v) for v in by * level / length)
            much = move_words(0.0, 0.0, abs(by), job.units).removesuffix(" up")
            way = "longer" if by > 0.0 else "shorter"
            yield f"{words} {much} {way}", move_by(spot, dx, dy, dz), ARM + 0.3 * abs(count)


def _unit(job: Job) -> float:
    return MM_PER_INCH / 2 if job.units == "us" else 12.0
