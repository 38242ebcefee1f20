"""Parts of the report beside the links: driveline, springs, gaps and what to cut, each where the job has it."""

from typing import Any

import numpy as np

from even_stance.errors import StanceError
from even_stance.exchange.buildpdf import cut_grid
from even_stance.exchange.paper import grid, words
from even_stance.judgement.clearances import gap_words, posture_words, wanted_of
from even_stance.study.answers import answers_at
from even_stance.study.cargaps import study_gaps
from even_stance.study.cutlist import cut_list
from even_stance.study.driveline import machine_readable_driveline
from even_stance.study.ride import axle_ride, car_ride
from even_stance.study.springs import machine_readable_springs
from even_stance.units import force_unit, format_force, format_length, format_stiffness, length_unit, stiffness_unit
from even_stance.vehicle.edits import with_changes
from even_stance.vehicle.job import Job

_MOST_GAPS = 12


def _said(job: Job, mm: float) -> str:
    return f"{format_length(mm, job.units).removeprefix('~')} {length_unit(job.units)}"


def _answers(job: Job) -> list[tuple[str, Any]]:
    """What every axle on links answers at ride height."""
    vehicle, found = with_changes(job.vehicle, over="ride"), []
    for axle in vehicle.axles:
        try:
            found.append((axle.key, answers_at(vehicle, axle, 0.0, 0.0, job.units)))
        except StanceError:
            continue
    return found


def driveline_part(job: Job) -> list[Any]:
    """Every driveshaft: its joints, what is left over, its length and its slip."""
    rows = [("Shaft", "Joints", "Left over", "Joint to joint", "Engaged", "Whips at")]
    for _, answers in _answers(job):
        for shaft in machine_readable_driveline(answers.axle, answers.values):
            joints = ", ".join(f"{j['name'].removesuffix(' joint')} {j['angle_deg']:.1f}°" for j in shaft["joints"])
            engaged = _said(job, shaft["engaged_mm"]) if "engaged_mm" in shaft else ""
            long, left = _said(job, shaft["length_mm"]), f"{shaft['residual_deg']:.1f}°"
            rows.append((shaft["name"], joints, left, long, engaged, f"{shaft['critical_rpm']:,.0f} rpm"))
    if len(rows) == 1:
        return []
    return [words("Driveline at ride height", "head"), grid(rows, (30, 52, 20, 28, 24, 26))]


def springs_part(job: Job) -> list[Any]:
    """Every spring at ride height, how the axles ride and how the car leans."""
    rows = [("Spring", "Length", "Carries", "Motion ratio", "At the wheel", "To closed, to open")]
    for key, answers in _answers(job):
        said = machine_readable_springs(job.vehicle, answers.axle, answers)
        for spring in said.get("springs", ()):
            if spring.get("length_mm") is None or "wheel_rate_n_mm" not in spring:
                continue
            carries = f"{format_force(spring['force_n'], job.units)} {force_unit(job.units)}"
            rate = f"{format_stiffness(spring['wheel_rate_n_mm'], job.units)} {stiffness_unit(job.units)}"
            room = [spring.get(k) for k in ("to_closed_mm", "to_open_mm")]
            rows.append((
                f"{key}: {spring['name']}", _said(job, spring["length_mm"]), carries,
                f"{spring['motion_ratio']:.2f}", rate,
                ", ".join("" if r is None else _said(job, r) for r in room),
            ))  # fmt: skip
    if len(rows) == 1:
        return []
    story: list[Any] = [words("Springs at ride height", "head"), grid(rows, (44, 24, 26, 24, 28, 34))]
    ride = []
    for axle in job.vehicle.axles:
        try:
            found = axle_ride(job.vehicle, axle)
        except StanceError:
            continue
        if found is not None and found.frequency_hz is not None and np.isfinite(found.frequency_hz):
            ride.append(f"{axle.key} {found.frequency_hz:.2f} Hz")
    try:
        car = car_ride(job.vehicle)
        ride.append(f"leans {car.roll_deg:.1f}° for one g, {car.front_share_pct:.0f} % of it held in front")
    except StanceError:
        pass
    return [*story, words("; ".join(ride), "faint")] if ride else story


def gaps_part(job: Job) -> list[Any]:
    """The tightest gaps over travel and steer, where things were put on the car that can be hit."""
    if not job.vehicle.things:
        return []
    study = study_gaps(job.vehicle, fine=False)
    tightest = sorted(study.gaps, key=lambda g: g.gap_mm - wanted_of(job, g))[:_MOST_GAPS]
    if not tightest:
        return []
    rows = [("Between", "Gap", "Wanted", "Tightest at")]
    for gap in tightest:
        names, wanted = f"{gap.a.name} and {gap.b.name}", _said(job, wanted_of(job, gap))
        rows.append((names, gap_words(gap.gap_mm, job.units), wanted, posture_words(job, gap)))
    said = "The Clearance station looks closer; the cycle card has what to check on the jack."
    return [words("Tightest gaps, from a first look", "head"), grid(rows, (74, 26, 24, 56)), words(said, "faint")]


def cuts_part(job: Job) -> list[Any]:
    """What to cut every link to, where parts are chosen."""
    cuts = cut_list(job.vehicle, job.units)
    if not cuts:
        return []
    return [words("Cut list", "head"), cut_grid(cuts, lambda mm: _said(job, mm))]
