"""Ways to make the ends of a driveshaft equal and opposite: tail, pinion, adjusters, and what each of them breaks."""

from dataclasses import dataclass

import numpy as np

from even_stance.errors import StanceError
from even_stance.judgement.changes import Change, judge_car, what_changed
from even_stance.mechanics.motion import axle_angles
from even_stance.mechanics.position import solve_posture
from even_stance.study.driveline import has_shaft
from even_stance.study.figures import AxleStudy, role_pair
from even_stance.study.model import layout_of, linkage_of
from even_stance.study.powertrain import parallel_tail, seated
from even_stance.study.sensitivity import with_lengths
from even_stance.study.threads import turn_links
from even_stance.units import format_length, length_unit
from even_stance.vehicle.car import Axle
from even_stance.vehicle.edits import Edit, raise_tail, turn_pinion
from even_stance.vehicle.job import Job


@dataclass(frozen=True)
class Way:
    """One way to equal angles.

    Attributes:
        words: what to do; edit: what does it on the car.
        residual_deg: what is left over then; worse: what else got worse by it.
    """

    words: str
    edit: Edit
    residual_deg: float
    worse: tuple[Change, ...]


def ways_to_parallel(job: Job, study: AxleStudy) -> list[Way]:
    """Every single change that makes both ends rise alike in side view, the one that leaves least over first."""
    axle = study.axle
    here = seated(job.vehicle, axle)
    if not has_shaft(axle) or here.output is None or here.pinion is None:
        return []
    off = here.output.nose_up_deg - here.pinion.nose_up_deg
    tried: list[tuple[str, Edit]] = []
    tail = parallel_tail(job.vehicle, axle)
    power = job.vehicle.powertrain
    if tail is not None and power is not None and abs(tail - power.tail_up_mm) > 0.5:
        more = tail - power.tail_up_mm
        much = f"{format_length(abs(more), job.units).removeprefix('~')} {length_unit(job.units)}"
        tried.append((f"Tail {much} {'up' if more > 0 else 'down'}", raise_tail(tail)))
    if abs(off) >= 0.05:
        ahead = -1.0 if axle.is_front else 1.0
        up = ahead * off
        words = f"Pinion {abs(up):.1f}° nose {'up' if up > 0 else 'down'}, on its tubes or by wedges"
        tried.append((words, turn_pinion(axle.key, up)))
        tried += _adjusters(job, axle, off)
    before, found = judge_car(job), []
    for words, edit in tried:
        try:
            after = judge_car(edit.apply(job))
        except StanceError:
            continue
        now = next(
            (v.figure.value for v in after.verdicts.get(axle.key, []) if v.figure.key == "shaft_residual_deg"), None
        )
        if now is None:
            continue
        worse = tuple(c for c in what_changed(before, after) if c.way == "worse")
        found.append(Way(words, edit, now, worse))
    return sorted(found, key=lambda w: (round(w.residual_deg, 1), len(w.worse)))


def _adjusters(job: Job, axle: Axle, off_deg: float) -> list[tuple[str, Edit]]:
    """Whole or half turns on the adjusters of the upper links that turn the pinion by about so much."""
    pair = role_pair(axle, "upper")
    rods = layout_of(axle).rods
    uppers = [rods[i].name for i in pair] if pair is not None else [
        m.name for m in axle.members if m.kind == "rod" and m.role == "upper"
    ]  # fmt: skip
    if not uppers:
        return []
    longer = np.array([1.0 if r.name in uppers else 0.0 for r in rods])
    linkage = with_lengths(linkage_of(axle), np.stack((longer, -longer))[:, None, :])
    pose = solve_posture(linkage, np.zeros(1), np.zeros(1))
    pitch = np.degrees(axle_angles(pose.rotation)[1]).ravel()
    per_mm = -float(pitch[0] - pitch[1]) / 2.0  # nose rise toward the front per mm longer
    threads = job.measuring.threads
    per_turn = threads.pitch_mm * (2.0 if threads.both_ends else 1.0)
    if abs(per_mm * per_turn) < 1e-3:
        return []
    step = 0.5 if threads.half_turns else 1.0
    turns = round(off_deg / (per_mm * per_turn) / step) * step
    if not turns or abs(turns) > 12.0:
        return []
    way = "longer" if turns > 0 else "shorter"
    many = f"{abs(turns):g} turn{'s' if abs(turns) != 1 else ''}"
    edit = turn_links(axle.key, tuple(uppers), turns * per_turn, way)
    return [(f"Upper link{'s' if len(uppers) > 1 else ''} {many} {way}", edit)]
