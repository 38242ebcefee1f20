"""Steps of the measuring sheet for the steering: its points, the kingpins' angles, and how far the wheels turn."""

import math
from collections.abc import Iterator
from typing import Any

from even_stance.shop.drivelinesteps import taped
from even_stance.shop.readings import Means, put
from even_stance.shop.steps import Field, Step
from even_stance.vehicle.car import Axle
from even_stance.vehicle.edits import change_steering, place_point, with_changes
from even_stance.vehicle.job import Job
from even_stance.vehicle.records import is_guess
from even_stance.vehicle.spots import STEER_POINTS, Spot, own_point, point_of
from even_stance.vehicle.steering import Knuckle

_HOW = {
    "lower": "The middle of the lower ball joint or kingpin bearing, wheels straight ahead.",
    "upper": "The middle of the upper ball joint or kingpin bearing. With an angle finder it is enough to tape one of "
             "the two and read caster and inclination.",
    "tie": "The center of the ball, not of its stud: half way between the marks of its two sides.",
    "joint": "The cross of the axle shaft’s joint: seen through the open knuckle, halfway between its cups.",
    "drag": "The center of the drag link’s ball at the axle, wheels straight ahead.",
    "ball": "The center of the drag link’s ball on the pitman arm, the box centered: half its turns from either stop.",
    "assist": "The center of the ram’s joint, wheels straight; its length all the way in and out is on the Ram page.",
    "column": "The center of the joint below the column, and a second point up the column, for which way it points.",
    "input": "The center of the joint at the box, and a second point of the box’s own shaft, for which way it points.",
    "sector": "The middle of the sector shaft where the pitman arm sits on it.",
    "sector_top": "The middle of the same shaft at the far side of the box, for which way it points.",
    "pivot": "The center of the beam’s bushing or bolt on its bracket, at the middle of its length.",
    "arm": "The center of the ball or bushing that holds the radius arm’s rear end to the frame.",
    "inner": "The center of the tie rod’s inner ball, on the pitman arm or the center link, wheels straight ahead.",
    "ram": "The center of the joint on the ram’s rod, wheels straight ahead: then both strokes should be alike.",
    "ram_cover": "The place of the housing’s cover that is nearest to the ram’s body, bolt heads counted.",
}  # fmt: skip


def _kind(end: str) -> str:
    """Which of the hints goes with a point: its own, that of either side, or that of a thing's two ends."""
    return next(k for k in (end, end.partition("_")[2], end.partition("_")[0]) if k in _HOW)


def steering_steps(axle: Axle) -> Iterator[Step]:
    """Every point of an axle's steering, the kingpins by angle finder, and the lock; none without a steering."""
    if axle.steering is None:
        return
    for end in STEER_POINTS:
        if own_point(axle, end) is not None:
            yield _point_step(axle, end)
    for side in ("left", "right"):
        yield _kingpin_step(axle, side)
    yield _lock_step(axle)


def _point_step(axle: Axle, end: str) -> Step:
    """Where one point of the steering is."""
    base, words = f"{axle.key}.{end}", STEER_POINTS[end][1]
    at = own_point(axle, end)
    assert at is not None
    kind = _kind(end)

    def apply(job: Job, means: Means) -> Job:
        found, spot = taped(means, base), Spot(axle.key, "", end)
        if not found or own_point(job.vehicle.axle(axle.key), end) is None:
            return job
        ahead = -job.vehicle.axle(axle.key).behind_front_mm
        return place_point(spot, put(point_of(job, spot), found, ahead)).apply(job)

    return Step(
        base, "Steering", f"{words}, {axle.key}", _HOW[kind],
        (Field(f"{base}.ahead", f"Ahead of the {axle.key} axle"), Field(f"{base}.left", "Left of centerline"),
         Field(f"{base}.up", "Above the floor")),
        apply, "rear" if kind in ("lower", "upper") else "plan", ((at.xyz, (at.x, at.y, 0.0)),),
    )  # fmt: skip


def _kingpin_step(axle: Axle, side: str) -> Step:
    """Caster and inclination of one kingpin, read off its knuckle."""
    base = f"{axle.key}.{side}_kingpin"
    lower, upper = (own_point(axle, f"{side}_{name}") for name in ("lower", "upper"))
    assert lower is not None
    assert upper is not None

    def apply(job: Job, means: Means) -> Job:
        steering = job.vehicle.axle(axle.key).steering
        caster, lean = means.get(f"{base}.caster"), means.get(f"{base}.lean")
        if steering is None or (caster is None and lean is None):
            return job
        knuckle: Knuckle = getattr(steering, side)
        low, high = knuckle.lower, knuckle.upper
        rise, out = high.z - low.z, 1.0 if side == "left" else -1.0
        changes: dict[str, Any] = {}
        if caster is not None:
            changes["x"] = low.x - rise * math.tan(math.radians(caster.value))
        if lean is not None:
            changes["y"] = low.y - out * rise * math.tan(math.radians(lean.value))
        sure = max(rise * math.radians(m.sure) for m in (caster, lean) if m is not None)
        new = with_changes(
            knuckle,
            upper=with_changes(
                high, sure=max(sure, low.sure), known="guessed" if is_guess(low) else "derived", **changes
            ),
        )
        fresh: dict[str, Any] = {side: new}
        return change_steering(axle.key, f"{side.capitalize()} kingpin", **fresh).apply(job)

    return Step(
        base, "Steering", f"{side.capitalize()} kingpin, angles, {axle.key}",
        "A straight bar across the two faces of the ball joints, or on the flat of the knuckle. From the side: caster, "
        "+ where the top is rearward. From the front: inclination, + where it is inward. Left and right should agree.",
        (Field(f"{base}.caster", "Caster, top rearward", "angle"),
         Field(f"{base}.lean", "Inclination, top inward", "angle")),
        apply, "side", ((lower.xyz, upper.xyz),),
    )  # fmt: skip


def _lock_step(axle: Axle) -> Step:
    """How far the inner wheel turns until its stop, either way."""
    base = f"{axle.key}.lock"
    half, x = axle.track_mm / 2, axle.center[0]

    def apply(job: Job, means: Means) -> Job:
        left, right = (abs(means[k].value) if k in means else None for k in (f"{base}.left", f"{base}.right"))
        if (left is None and right is None) or job.vehicle.axle(axle.key).steering is None:
            return job
        changes: dict[str, Any] = {} if left is None else {"stop_deg": left}
        if right is not None:
            changes["stop_right_deg"] = right
        return change_steering(axle.key, "Steering stop", **changes).apply(job)

    return Step(
        base, "Steering", f"Lock of the inner wheel, {axle.key}",
        "Turn to either stop, tires just off the floor. A straightedge along the inner tire, chalked on the floor, "
        "against the chalk line; or turn plates.",
        (Field(f"{base}.left", "Left wheel, turned left", "angle"),
         Field(f"{base}.right", "Right wheel, turned right", "angle")),
        apply, "plan",
        tuple(((x, s * half, 0.0), (x + 500.0, s * (half + 300.0), 0.0)) for s in (1.0, -1.0)),
    )  # fmt: skip
