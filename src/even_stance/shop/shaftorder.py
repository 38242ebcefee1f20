"""What to order from the shaft maker: lengths, slip, tube, joints and phasing, and what the shaft must live through."""

from dataclasses import dataclass

import numpy as np

from even_stance.mechanics.tube import polar_moment
from even_stance.study.driveline import front_piece_mm, has_shaft
from even_stance.study.figures import AxleStudy
from even_stance.study.model import axle_title
from even_stance.units import (
    System,
    format_length,
    format_stress,
    format_torque,
    format_wall,
    length_unit,
    stress_unit,
    torque_unit,
)
from even_stance.vehicle.driveline import Shaft, ShaftJoint
from even_stance.vehicle.job import Job
from even_stance.vehicle.records import is_guess
from even_stance.vehicle.spots import point_on, spots_on

JOINT_WORDS: dict[ShaftJoint, str] = {"single": "single cross", "double_cardan": "double-cardan", "cv": "CV joint"}


@dataclass(frozen=True)
class ShaftOrder:
    """One shaft to order.

    Attributes:
        ride_mm: joint to joint at ride height; shortest_mm, longest_mm: over travel and crossed up.
        in_mm, out_mm: how far the slip goes in and comes out from ride height.
        least_in_mm: spline engaged at the longest; room_mm: before it bottoms at the shortest.
        critical_rpm: where its tube begins to whip.
        front_mm: joint to joint of the front piece of a shaft in two pieces.
    """

    axle: str
    shaft: Shaft
    ride_mm: float
    shortest_mm: float
    longest_mm: float
    least_in_mm: float
    room_mm: float
    critical_rpm: float
    front_mm: float | None

    @property
    def in_mm(self) -> float:
        """How far the slip goes in from ride height."""
        return self.ride_mm - self.shortest_mm

    @property
    def out_mm(self) -> float:
        """How far the slip comes out from ride height."""
        return self.longest_mm - self.ride_mm


def shaft_order(study: AxleStudy) -> ShaftOrder | None:
    """The shaft of an axle over all of its travel; None where its ends are not measured."""
    axle = study.axle
    if not has_shaft(axle) or not study.travel.sweep.ok.any():
        return None
    shaft = axle.shaft or Shaft()
    lengths = np.concatenate([r.values["shaft_length_mm"][r.ok] for r in study.travel.runs])
    sweep = study.travel.sweep
    at_ride = int(np.abs(sweep.left).argmin())
    ride = float(sweep.values["shaft_length_mm"][at_ride])
    shortest, longest = float(min(lengths.min(), ride)), float(max(lengths.max(), ride))
    return ShaftOrder(
        axle.key, shaft, ride, shortest, longest,
        shaft.spline_mm - shaft.pull_out_mm - (longest - ride), shaft.pull_out_mm - (ride - shortest),
        sweep.value("critical_rpm", at_ride), front_piece_mm(study.vehicle, axle),
    )  # fmt: skip


def order_lines(job: Job, study: AxleStudy) -> list[tuple[str, str]]:
    """The order as lines of a title and what to write behind it."""
    order = shaft_order(study)
    if order is None:
        return []
    units, shaft = job.units, order.shaft
    now = study.travel.sweep
    ride = int(np.abs(now.left).argmin())

    def mm(value: float) -> str:
        return length_words(value, units)

    def angle(key: str) -> str:
        return f"{now.value(key, ride):.1f}°"

    ends = [s for s in spots_on(study.axle) if not s.member and s.end in ("output", "carrier", "pinion")]
    guesses = [spot.words.lower() for spot in ends if is_guess(point_on(study.axle, spot))]
    unknown = [("A guess, to be taped before it is ordered", ", ".join(guesses))] if guesses else []
    if study.axle.shaft is None:
        unknown.append(("As most are, until the real ones are entered", "tube, spline, slip and joints"))
    front = order.front_mm
    at_carrier = ("Yokes of the front piece", phase_words(shaft.front_phase_deg, "at the carrier"))
    pieces = [] if front is None else [("Front piece, joint at the output to joint behind the carrier", mm(front))]
    return [
        *unknown, *pieces,
        (f"{'Joint' if front is None else 'Rear piece, joint'} to joint at ride height", mm(order.ride_mm)),
        ("Shortest, over travel and crossed up", f"{mm(order.shortest_mm)} (slips in by {mm(order.in_mm)})"),
        ("Longest, over travel and crossed up", f"{mm(order.longest_mm)} (slips out by {mm(order.out_mm)})"),
        ("Slip", f"{'yoke on the output' if shaft.slip == 'output' else 'spline in the shaft'}, "
                 f"{mm(shaft.spline_mm)} spline, {mm(shaft.pull_out_mm)} out at ride height"),
        ("Spline engaged at the longest", mm(order.least_in_mm)),
        ("Room before it bottoms", mm(order.room_mm)),
        ("Tube", f"{mm(shaft.tube_mm)} outside, {format_wall(shaft.wall_mm, units)} {length_unit(units)} wall"),
        ("Joints", f"{JOINT_WORDS[shaft.output_joint]} at the output ({angle('output_angle_deg')}), "
                   f"{JOINT_WORDS[shaft.pinion_joint]} at the pinion ({angle('pinion_angle_deg')})"),
        ("Yokes" if front is None else "Yokes of the rear piece", phase_words(shaft.phase_deg)),
        *([] if front is None else [at_carrier]),
        *_strength(job, study, shaft),
        ("Begins to whip at", f"{round(order.critical_rpm, -2):,.0f} rpm"
                              + (f"; turns {shaft.top_rpm:,.0f} at top speed" if shaft.top_rpm else "")),
    ]  # fmt: skip


def phase_words(deg: float, end: str = "at the pinion") -> str:
    """How the yokes of a shaft stand to each other, and which way that is."""
    if not deg:
        return "in line"
    way = "clockwise" if deg > 0.0 else "counterclockwise"
    return f"{abs(deg):.1f}° out of line: that {end} {way}, seen from behind the car"


def _strength(job: Job, study: AxleStudy, shaft: Shaft) -> list[tuple[str, str]]:
    """What full throttle in low gear does to the tube, and where a limit strap must stop the droop."""
    loads = job.loads
    torque = loads.engine_torque_nm * loads.first_gear * loads.transfer_low * study.axle.drive_share
    stress = torque * 1000.0 * shaft.tube_mm / 2.0 / float(polar_moment(shaft.tube_mm, shaft.wall_mm))
    units = job.units
    said = (
        f"{format_torque(torque, units)} {torque_unit(units)} in the shaft, "
        f"{format_stress(stress, units)} {stress_unit(units)} shear in the tube"
    )
    found = [("Full throttle, low gear", said)]
    sweep = study.travel.sweep
    use = sweep.values["joint_limit_use_pct"] if "joint_limit_use_pct" in sweep.values else np.zeros(1)
    over = np.flatnonzero(np.nan_to_num(use) > 100.0)
    if over.size:
        droop = sweep.left[over]
        stops = float(np.max(droop[droop < 0.0])) if (droop < 0.0).any() else float(np.min(droop))
        way = "droop" if stops < 0.0 else "bump"
        found.append(
            ("A joint meets its yoke at", f"{length_words(abs(stops), job.units)} {way}: a limit strap or stop before")
        )
    return found


def length_words(mm: float, units: System) -> str:
    """A length with its unit."""
    return f"{format_length(mm, units).removeprefix('~')} {length_unit(units)}"


def order_title(study: AxleStudy) -> str:
    """What the order is called."""
    return f"{axle_title(study.axle)}: driveshaft"
