"""Steps of the measuring sheet for the driveline: yokes, engine and gearbox mounts, points that must clear."""

from typing import Any

from even_stance.judgement.driveline import guessed_powertrain
from even_stance.shop.readings import Mean, Means, put
from even_stance.shop.steps import Field, Step
from even_stance.vehicle.car import Axle
from even_stance.vehicle.driveline import Mark, Yoke
from even_stance.vehicle.edits import made, set_axle, set_marks, set_powertrain, with_changes
from even_stance.vehicle.job import Job
from even_stance.vehicle.records import GUESS_MM, Point
from even_stance.vehicle.spots import POWER_WORDS


def yoke_step(job: Job, axle: Axle, which: str) -> Step:
    """Place and angle of one end of the driveshaft."""
    yoke: Yoke | None = getattr(axle, which)
    toward = -1.0 if axle.is_front else 1.0
    x, _, z = axle.center
    guess = (x + toward * (350.0 if which == "pinion" else 0.45 * job.vehicle.wheelbase_mm), 0.0, z + 60.0)
    at = guess if yoke is None else yoke.at.xyz
    base, words = f"{axle.key}.{which}", {"pinion": "Pinion yoke", "output": "Output yoke"}[which]

    def apply(job: Job, means: Means) -> Job:
        found = {c: means[f"{base}.{c}"] for c in ("ahead", "left", "up", "angle") if f"{base}.{c}" in means}
        if not found:
            return job
        own = job.vehicle.axle(axle.key)
        now = getattr(own, which)
        guessed = made(Point, **dict(zip("xyz", guess, strict=True)), sure=GUESS_MM, known="guessed")
        point = put(guessed if now is None else now.at, taped(means, base), -own.behind_front_mm)
        up = found["angle"].value if "angle" in found else (0.0 if now is None else now.nose_up_deg)
        sure = found["angle"].sure if "angle" in found else (2.0 if now is None else now.angle_sure_deg)
        changes: dict[str, Any] = {which: made(Yoke, at=point, nose_up_deg=up, angle_sure_deg=min(sure, 90.0))}
        return set_axle(axle.key, words, **changes).apply(job)

    return Step(
        base, "Driveline", f"{words}, {axle.key}",
        "The center of the joint cross: ahead, left and up like any point. The angle finder on the machined face of "
        "the yoke, or along the shaft; say whether it goes up or down toward the front.",
        (Field(f"{base}.ahead", f"Ahead of the {axle.key} axle"), Field(f"{base}.left", "Left of centerline"),
         Field(f"{base}.up", "Above the floor"), Field(f"{base}.angle", "Angle toward the front", "angle")),
        apply, "side", ((at, (at[0], at[1], 0.0)),),
    )  # fmt: skip


def engine_mount_step(job: Job, end: str) -> Step:
    """The three coordinates of one of the mounts the powertrain sits on."""
    base, words = f"powertrain.{end}", POWER_WORDS[end]
    power = job.vehicle.powertrain or guessed_powertrain(job)
    at: Point = getattr(power, end)

    def apply(job: Job, means: Means) -> Job:
        found = taped(means, base)
        if not found:
            return job
        own = job.vehicle.powertrain or guessed_powertrain(job)
        point = put(getattr(own, end), found)
        return set_powertrain(with_changes(own, **{end: point})).apply(job)

    return Step(
        base, "Driveline", words,
        "The middle of the rubber: ahead of the front axle is plus, behind it minus; left of the chalk line is plus. "
        "The engine tilts about the line through its two mounts.",
        (Field(f"{base}.ahead", "Ahead of the front axle"), Field(f"{base}.left", "Left of centerline"),
         Field(f"{base}.up", "Above the floor")),
        apply, "side", ((at.xyz, (at.x, at.y, 0.0)),),
    )  # fmt: skip


def mark_step(job: Job, mark: Mark) -> Step:
    """Place and gap of a marked point of the engine."""
    base = f"mark.{mark.name}"

    def apply(job: Job, means: Means) -> Job:
        power = job.vehicle.powertrain
        found, gap = taped(means, base), means.get(f"{base}.gap")
        if power is None or (not found and gap is None):
            return job

        def measured(m: Mark) -> Mark:
            if m.name != mark.name:
                return m
            return with_changes(m, at=put(m.at, found), **({} if gap is None else {"gap_mm": max(gap.value, 0.0)}))

        return set_marks(f"Measured {mark.name}", tuple(measured(m) for m in power.marks)).apply(job)

    return Step(
        base, "Driveline", mark.name,
        f"Where it is on the engine, and the gap to {mark.clears} ({mark.toward}), with the tail where it sits now.",
        (Field(f"{base}.ahead", "Ahead of the front axle"), Field(f"{base}.left", "Left of centerline"),
         Field(f"{base}.up", "Above the floor"), Field(f"{base}.gap", f"Gap to {mark.clears}")),
        apply, "side", ((mark.at.xyz, (mark.at.x, mark.at.y, 0.0)),),
    )  # fmt: skip


def taped(means: Means, base: str) -> dict[str, Mean]:
    """What was taped of a point: ahead, left and up, those that were."""
    return {c: means[f"{base}.{c}"] for c in ("ahead", "left", "up") if f"{base}.{c}" in means}
