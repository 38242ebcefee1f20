"""How studs sit, whether threads belong together and what a bolted-on arm needs, in rows of a title and a figure."""

import numpy as np

from even_stance.judgement.steerrows import Rows, lengthwise
from even_stance.mechanics.screws import end_play, stress_area, turns_until_bound
from even_stance.mechanics.steerloads import stud_shear
from even_stance.mechanics.tapers import included_angle, seat_left, sinks, size_at, wall_left
from even_stance.study.steerloads import arm_push
from even_stance.units import System, force_unit, format_force
from even_stance.vehicle.car import Axle
from even_stance.vehicle.job import Job
from even_stance.vehicle.steering import JointFit

# Threads that steering rods, rod ends and hose fittings have: name, diameter and pitch, mm (ASME B1.1 and ISO 261).
THREADS: tuple[tuple[str, float, float], ...] = tuple(
    [(f"{name}-{n}", 25.4 * d, 25.4 / n) for name, d, n in (
        ("7/16", 7 / 16, 20), ("1/2", 1 / 2, 20), ("9/16", 9 / 16, 18), ("5/8", 5 / 8, 18), ("11/16", 11 / 16, 18),
        ("3/4", 3 / 4, 16), ("7/8", 7 / 8, 14), ("7/8", 7 / 8, 18), ("1", 1.0, 12), ("1", 1.0, 14), ("1 1/4", 1.25, 12),
    )] + [(f"M{d}x{p:g}", float(d), p) for d, p in (
        (10, 1.0), (10, 1.5), (12, 1.25), (12, 1.5), (12, 1.75), (14, 1.5), (16, 1.5), (18, 1.5), (20, 1.5), (22, 1.5),
        (24, 1.5), (24, 2.0), (27, 2.0),
    )]
)  # fmt: skip
_NEAR_MM, _NEAR_PITCH_MM = 0.5, 0.02
_CALIPER_MM = 0.05  # common practice, no source: what a caliper in a shop can be trusted with
_GRIP = 0.15  # dry machined faces, common practice, no source
_PROOF_MPA, _PULLED = 827.0, 0.75  # SAE J429 grade 8, 120 ksi (from memory), tightened to three quarters of it
_DEEP_IRON, _DEEP_STEEL = 1.5, 1.0  # diameters of thread to engage: common practice, no source


def _size(mm: float, units: System) -> str:
    """A diameter, which a caliper reads: thousandths, or hundredths of a millimeter."""
    return f"{mm / 25.4:.3f} in" if units == "us" else f"{mm:.2f} mm"


def taper_rows(fit: JointFit, thick_mm: float, units: System) -> Rows:
    """How a stud sits in its arm, and what flipping it to the other side leaves."""
    taper = fit.taper_per_foot / 12.0
    deep = sinks(fit.hole_mm, fit.stud_mm, taper)
    wall = wall_left(fit.wide_mm, fit.sleeve_mm)
    drill = f"{_size(fit.sleeve_mm, units)}, wall {lengthwise(wall, units)}"
    # What takes the arm's thickness is not known without it.
    small = seat = "type how thick the arm is"
    if thick_mm > 0.0:
        small = _size(size_at(fit.hole_mm, taper, thick_mm), units)
        seat = f"{100.0 * seat_left(fit.hole_mm, fit.stud_mm, taper, thick_mm):.0f} % of its length"
    sure = sinks(2.0**0.5 * _CALIPER_MM, 0.0, taper)
    way = "deeper" if deep > 0 else "proud"
    give = f"± {_size(sure, units)}"
    sits = f"{lengthwise(abs(deep), units)} {way} {give}" if abs(deep) > 0.05 else f"as it should {give}"
    return [
        ("Included angle", f"{np.degrees(included_angle(taper)):.2f}°"),
        ("Small end of the hole", small),
        ("The stud seats", sits),
        ("0.1 mm more hole sinks it", lengthwise(sinks(0.1, 0.0, taper), units)),
        ("Flipped and reamed: seat left", seat),
        ("Flipped, with a sleeve: drill", drill if wall > 0.0 else "the sleeve is wider than the arm"),
    ]


def thread_rows(fit: JointFit, units: System) -> Rows:
    """Whether two threads belong together, what they are likely to be, and how far they have to engage."""
    play = end_play(fit.rod_mm, fit.rod_pitch_mm)
    turns, needs = turns_until_bound(fit.rod_pitch_mm, fit.nut_pitch_mm, play), fit.engaged_mm / fit.rod_pitch_mm
    apart = abs(fit.rod_mm - fit.nut_mm)
    if apart > _NEAR_MM:
        verdict = f"no: their diameters are {_size(apart, units)} apart"
    elif turns < needs:
        verdict = f"no: starts by hand, binds after {turns:.1f} of {needs:.0f} turns"
    else:
        verdict = "the same pitch" if np.isinf(turns) else f"for {turns:.0f} turns, more than the {needs:.0f} engaged"
    engaged = fit.engaged_mm / fit.rod_mm
    return [
        ("Rod’s thread, nearest", nearest_thread(fit.rod_mm, fit.rod_pitch_mm)),
        ("End’s thread, nearest", nearest_thread(fit.nut_mm, fit.nut_pitch_mm)),
        ("They go together", verdict),
        ("Engaged", f"{engaged:.1f} diameters" + (": less than one, too little" if engaged < 0.995 else "")),
        ("Least to engage, one diameter", lengthwise(fit.rod_mm, units)),
        ("Hands", "one left, one right: it sets on the car"),
    ]


def nearest_thread(diameter: float, pitch: float) -> str:
    """The name of the thread nearest to a measured diameter and pitch, and whether it is that."""
    name, d, p = min(THREADS, key=lambda t: (abs(t[1] - diameter) / 0.4) ** 2 + (abs(t[2] - pitch) / 0.05) ** 2)
    close = abs(d - diameter) <= _NEAR_MM and abs(p - pitch) <= _NEAR_PITCH_MM
    return name if close else f"none of the usual ones; {name} is nearest"


def bolted_rows(job: Job, axle: Axle) -> Rows:
    """What a bolted-on arm needs of its studs and its flat; empty where none is bolted on."""
    steering, units = axle.steering, job.units
    push = arm_push(axle)
    if steering is None or steering.bolted is None or push is None:
        return []
    arm = steering.bolted
    shear = stud_shear(push.force_n, push.reach_mm, arm.studs, arm.circle_mm / 2.0)
    clamp, area = shear / _GRIP, stress_area(arm.stud_mm, arm.pitch_mm)
    holds = _PULLED * _PROOF_MPA * area
    diameters = _DEEP_IRON if arm.cast_iron else _DEEP_STEEL
    needs, flat = diameters * arm.stud_mm, arm.circle_mm + 2.0 * arm.stud_mm
    deep = f"{arm.deep_mm / arm.stud_mm:.1f} diameters"
    kind = "cast iron" if arm.cast_iron else "steel"
    least = f"{diameters:g} diameters into {kind}, {lengthwise(needs, units)}"
    short = flat - arm.flat_mm
    used = 100.0 * clamp / holds
    enough = int(np.ceil(arm.studs * used / 100.0 - 1e-9))
    return [
        ("Push on the arm, from one tire", f"{format_force(push.force_n, units)} {force_unit(units)}"),
        ("Each stud must clamp, so that nothing slides", f"{format_force(clamp, units)} {force_unit(units)}"),
        ("Of what a grade 8 stud is tightened to", f"{used:.0f} %" + (": too few or too thin" if used > 100.0 else "")),
        ("Studs this would take", f"{max(enough, 2)} of this size"),
        ("Flat needed: circle and a stud’s width around", lengthwise(flat, units)),
        ("The flat", "covers it" if short <= 0.0 else f"is {lengthwise(short, units)} short"),
        ("Screwed in", deep + ("" if arm.deep_mm >= needs - 0.05 else ": too little")),
        ("Least to screw in", least),
    ]
