"""What there is to say of a driveline: what to measure first, what cannot be, which angles cannot be told apart."""

import numpy as np

from even_stance.errors import InputError
from even_stance.judgement.findings import Finding
from even_stance.study.driveline import has_shaft
from even_stance.study.figures import AxleStudy
from even_stance.study.loads import wind_up_deg
from even_stance.study.model import axle_title
from even_stance.study.powertrain import gaps, seated, tilt
from even_stance.study.steerfigures import axle_joints
from even_stance.units import format_length, length_unit
from even_stance.vehicle.car import Axle
from even_stance.vehicle.driveline import Powertrain
from even_stance.vehicle.job import Job
from even_stance.vehicle.records import Point, guess_at


def driveline_findings(job: Job) -> list[Finding]:
    """What is missing, cannot be, or came under its wanted gap."""
    found: list[Finding] = []
    driven = [a for a in job.vehicle.axles if a.driven]
    for axle in driven:
        found += _of_axle(axle)
    power = job.vehicle.powertrain
    if power is None:
        if any(has_shaft(a) for a in driven):
            found.append(Finding(
                "no-engine", "missing", "driveline", "no engine mounts",
                "Engine mounts and gearbox mount are not measured: raising the tail moves nothing yet.",
            ))  # fmt: skip
        return found
    if not np.isfinite(tilt(power)):
        found.append(Finding("tail", "stop", "driveline", "tail too high", "The tail cannot be raised so far."))
        return found
    unit = length_unit(job.units)
    for gap in gaps(power):
        if gap.short:
            now, wanted = (format_length(v, job.units).removeprefix("~") for v in (gap.now_mm, gap.mark.wanted_mm))
            found.append(Finding(
                f"gap {gap.mark.name}", "stop" if gap.now_mm <= 0.0 else "look", "driveline", f"{gap.mark.name} near",
                f"{gap.mark.name} to {gap.mark.clears}: {now} {unit}, {wanted} {unit} wanted.",
            ))  # fmt: skip
    return found


def _of_axle(axle: Axle) -> list[Finding]:
    """What the shaft of one axle lacks or cannot be."""
    name = f"{axle.key} shaft"

    def find(code: str, severity: str, short: str, sentence: str) -> Finding:
        return Finding(f"{code} {axle.key}", severity, "driveline", short, sentence, axle.key)  # type: ignore[arg-type]

    lacking = [w for w, yoke in (("output", axle.output), ("pinion", axle.pinion)) if yoke is None]
    if lacking:
        ends = " and ".join(lacking)
        return [find("yokes", "missing", f"{axle.key} yokes", f"{axle_title(axle)}: measure the {ends} yoke first.")]
    assert axle.output is not None
    assert axle.pinion is not None
    if not has_shaft(axle):
        same = f"{axle_title(axle)}: output and pinion yoke are the same place; tape them again."
        return [find("same", "stop", name, same)]
    ahead = (axle.output.at.x - axle.pinion.at.x) * (-1.0 if axle.is_front else 1.0)
    found = []
    if ahead <= 0.0:
        found.append(find(
            "backward", "stop", name,
            f"{axle_title(axle)}: the output is on the far side of the pinion; swap their places.",
        ))  # fmt: skip
    if axle.shaft is None:
        found.append(find(
            "shaft", "missing", name, f"{axle_title(axle)}: slip, spline and tube of the shaft are not entered."
        ))  # fmt: skip
    return found


def alike_words(job: Job, axle: Axle) -> str:
    """Whether the two ends are parallel as far as the readings can tell, in a sentence; empty where not measured."""
    here = seated(job.vehicle, axle)
    if here.output is None or here.pinion is None or not has_shaft(axle):
        return ""
    out, pin = here.output.nose_up_deg, here.pinion.nose_up_deg
    sure = float(np.hypot(here.output.angle_sure_deg, here.pinion.angle_sure_deg))
    said = f"{_up(out)} at the output, {_up(pin)} at the pinion"
    if axle.shaft is not None and (axle.shaft.output_joint, axle.shaft.pinion_joint) != ("single", "single"):
        return f"{said}; the joint that turns evenly takes the angle, the other end should point along the shaft."
    if abs(out - pin) <= sure:
        return f"{said}: cannot be told from parallel with these readings (± {sure:.1f}°)."
    return f"{said}: {abs(out - pin):.1f}° ± {sure:.1f}° from parallel."


def _up(deg: float) -> str:
    """Which way a shaft end points toward the front."""
    return f"{abs(deg):.1f}° {'up' if deg >= 0 else 'down'}"


def guessed_powertrain(job: Job) -> Powertrain:
    """A powertrain to start from, where most cars have it; every point is a guess until it is measured."""
    vehicle = job.vehicle
    output = next((a.output for a in vehicle.axles if a.output is not None and not a.is_front), None)
    top, out = vehicle.frame.rail_top_mm, vehicle.frame.rail_out_mm
    x, y, z = (-0.45 * vehicle.wheelbase_mm, 0.0, 0.8 * top) if output is None else output.at.xyz
    mount_x = -0.06 * vehicle.wheelbase_mm
    # The crankshaft goes on in the line of the output, and the mounts are about as high.
    high = z + (mount_x - x) * np.tan(np.radians(output.nose_up_deg if output is not None else 3.0))

    def guess(px: float, py: float, pz: float) -> Point:
        return guess_at(px, py, float(pz))

    return Powertrain(
        mount_left=guess(mount_x, 0.62 * out, high), mount_right=guess(mount_x, -0.62 * out, high),
        tail=guess(x + 200.0, y, z - 90.0),
    )  # fmt: skip


def joint_rows(study: AxleStudy) -> list[tuple[str, ...]]:
    """Every joint of a shaft: its angle in space, in side view and in plan, and the most over travel."""
    now = study.now
    found: list[tuple[str, ...]] = []
    if "shaft_length_mm" not in now.values or not now.ok[0]:
        return []
    for end in ("output", "carrier", "pinion"):
        if f"{end}_angle_deg" not in now.values:
            continue
        angle, plane = now.value(f"{end}_angle_deg"), np.radians(now.value(f"{end}_plane_deg"))
        worst = max(float(np.nanmax(run.values[f"{end}_angle_deg"])) for run in study.travel.even_runs)
        side, plan = abs(angle * np.cos(plane)), abs(angle * np.sin(plane))
        found.append((f"at the {end}", f"{angle:.1f}°", f"{side:.1f}°", f"{plan:.1f}°", f"{worst:.1f}°"))
    return found


def axle_joint_words(job: Job, study: AxleStudy) -> str:
    """What the axle shafts' joints at the knuckles do at full lock, in a sentence; empty where there are none."""
    joints, steering = axle_joints(study.axle), study.axle.steering
    if joints is None or steering is None or not np.isfinite(joints.bend_deg):
        return ""
    said = f"At full lock the axle shafts’ joints bend {joints.bend_deg:.0f}° of {steering.axle_joint_limit_deg:.0f}°"
    if steering.axle_joints == "single":
        said += f"; the wheel’s speed then goes up and down by {joints.variation_pct:.0f} % twice a turn"
    if joints.off_mm is not None and joints.slide_mm is not None:
        off, slide = (format_length(mm, job.units).removeprefix("~") for mm in (max(joints.off_mm), joints.slide_mm))
        unit = length_unit(job.units)
        said += f". Their centers are up to {off} {unit} off the kingpins: the shafts slide {slide} {unit} in and out"
    return f"{said}."


def wind_up_words(job: Job, study: AxleStudy) -> str:
    """What full throttle does to the pinion, in a sentence; empty where it cannot be told."""
    if not study.now.ok[0] or not study.axle.driven or not has_shaft(study.axle):
        return ""
    try:
        up = wind_up_deg(job.vehicle, study.now, job.loads)
    except InputError:
        return ""
    way = "up" if up > 0 else "down"
    return f"Full throttle in first gear turns the pinion {abs(up):.1f}° {way}, from what joints and springs give."


def study_words(study: AxleStudy) -> str:
    """Both joints and what is left of them, in a sentence."""
    now = study.now
    if "shaft_residual_deg" not in now.values or not now.ok[0]:
        return ""
    joints = f"Joints {now.value('output_angle_deg'):.1f}° and {now.value('pinion_angle_deg'):.1f}°"
    left = f"{now.value('shaft_residual_deg'):.1f}° left over"
    return f"{joints}, {left}; pinion speed varies {now.value('shaft_variation_pct'):.2f} %."
