"""The order of work: what is tacked first, what is measured before what, where to stop and look, made from the job."""

from collections.abc import Iterator
from dataclasses import dataclass

from even_stance.study.cutlist import cut_list
from even_stance.units import format_length, length_unit
from even_stance.vehicle.car import Axle
from even_stance.vehicle.job import Job

HEAT = (
    "Heat and welds are for a qualified person: cast and forged parts need their own procedure (preheat, slow "
    "cooling), and  some are never welded.",
    "Keep the spacers in the brackets while welding, so that gaps do not close; a wet rag or an insert keeps heat off "
    "bushings and threads; weld in steps, side to side, and let it cool.",
    "Disconnect the battery, clear fuel, lines and interior before welding; draining and purging a tank is a "
    "professional’s job.",
)


@dataclass(frozen=True)
class WorkStep:
    """One step.

    Attributes:
        key: its name in the job; title: what to do; why: which number or part it protects.
        hold: whether nothing goes on until it is found good.
    """

    key: str
    title: str
    why: str
    hold: bool = False


def work_steps(job: Job) -> list[WorkStep]:
    """The steps of a job, in order."""
    vehicle = job.vehicle
    linked = [a for a in vehicle.axles if a.members]
    steps = [
        WorkStep("stand", "Stand the car at ride height on its tires or cribs, level side to side",
                 "every length of the cut list is pin to pin at this height"),
        WorkStep("stand-hold", "Hold: ride heights as on the measuring sheet, level within 0.2°",
                 "anti-squat, roll center and pinion angle move with it", hold=True),
    ]  # fmt: skip
    for axle in linked:
        steps += list(_axle_steps(job, axle))
    for axle in vehicle.axles:
        if axle.steering is not None:
            steps += _steering_steps(axle)
    steps += list(_cycle(job))
    steps += list(_finish(job, linked))
    return steps


def _axle_steps(job: Job, axle: Axle) -> Iterator[WorkStep]:
    """Brackets and links of one axle."""
    key, units = axle.key, job.units
    yield WorkStep(f"{key}.mark", f"{key.capitalize()}: mark the axle’s place, measure both sides and both diagonals",
                   "wheelbase and squareness")  # fmt: skip
    if axle.pinion is not None and axle.driven:
        yield WorkStep(f"{key}.pinion", f"{key.capitalize()}: set the pinion to {axle.pinion.nose_up_deg:.1f}°",
                       "what is left over of the driveshaft’s joint angles")  # fmt: skip
    if axle.housing is not None:
        yield WorkStep(f"{key}.truss", f"{key.capitalize()}: fit the truss to housing and tubes, bolts or tacks only",
                       "a cast housing is not welded without a procedure")  # fmt: skip
    for role, words in (("lower", "lower"), ("arm", "arms’"), ("upper", "upper"), ("lateral", "panhard or watts")):
        members = [m for m in axle.members if m.role == role]
        if not members:
            continue
        yield WorkStep(f"{key}.{role}.tack",
                       f"{key.capitalize()}: tack the {words} brackets, axle side first, spacers in",
                       {"lower": "the axle’s place and squareness", "arm": "the axle’s place and caster",
                        "upper": "pinion angle and anti-squat", "lateral": "roll center height"}[role])  # fmt: skip
        mine = [c for c in cut_list(job.vehicle) if c.piece.axle == key and c.piece.role == role]
        if mine:
            cuts = ", ".join(
                sorted({f"{format_length(c.cut_mm, units).removeprefix('~')} {length_unit(units)}" for c in mine})
            )
            yield WorkStep(f"{key}.{role}.cut", f"{key.capitalize()}: cut the {words} tubes to {cuts}, mock up before "
                           "bungs are welded", "cut once: check pin to pin against the cut list first")  # fmt: skip
    yield WorkStep(f"{key}.square", f"Hold: {key} axle square within 1/16 in (1.5 mm) a side, diagonals alike",
                   "the car tracks straight; threads take up the rest", hold=True)  # fmt: skip
    if axle.springs:
        yield WorkStep(f"{key}.springs", f"{key.capitalize()}: tack spring mounts, stops and straps; springs stay out",
                       "motion ratio and what ends the travel first")  # fmt: skip


def _steering_steps(axle: Axle) -> list[WorkStep]:
    key, steering = axle.key, axle.steering
    assert steering is not None
    what = "ram" if steering.kind == "ram" else "box"
    return [
        WorkStep(f"{key}.steer", f"{key.capitalize()} steering: center the {what}, wheels straight, then fit the rods",
                 "equal locks to either side"),
        WorkStep(f"{key}.locks", f"Hold: {key} knuckles reach their stops before the {what} does, both ways",
                 "turning circle, and the box’s own stops", hold=True),
    ]  # fmt: skip


def _cycle(job: Job) -> Iterator[WorkStep]:
    yield WorkStep("cycle", "Cycle every axle without springs: bump, droop, crossed up, lock to lock (cycle card)",
                   "all gaps of Clearance")  # fmt: skip
    steer = any(a.steering is not None for a in job.vehicle.axles)
    too = ", steered too" if steer else ""
    yield WorkStep("cycle-hold", f"Hold: cycled without contact{too}, nothing closer than wanted",
                   "nothing is welded out that would be cut off again", hold=True)  # fmt: skip
    if any(a.shaft is not None for a in job.vehicle.axles):
        yield WorkStep("shaft", "Measure the driveshaft joint to joint at ride height, then order it (order sheet)",
                       "plunge and engaged spline")  # fmt: skip


def _finish(job: Job, linked: list[Axle]) -> Iterator[WorkStep]:
    yield WorkStep("weld", "Weld out, a qualified person: axle brackets side to side in steps, then frame, then bungs",
                   "housings bow and gaps close with heat")  # fmt: skip
    if any(m.kind in ("radius_arm", "torque_arm") for a in linked for m in a.members):
        yield WorkStep("arms", "Weld arms in a jig, both alike", "caster left and right")
    yield WorkStep("again", "Hold: measure again after welding: square, level within 0.2°, pinion, gaps of joints",
                   "welding moved it: threads put it right now, not after paint", hold=True)  # fmt: skip
    yield WorkStep("torque", "Torque bolts, at ride height for bushings; jam nuts; paint marks across them",
                   "a nut that turned shows")  # fmt: skip
    yield WorkStep("road", "After the first drive and after settling: angles, torque marks, jam nuts, gaps, welds",
                   "springs settle, commonly about 1 in (25 mm)")  # fmt: skip
