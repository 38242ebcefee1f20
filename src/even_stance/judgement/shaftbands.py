"""What is wanted of the joints of one driveshaft: by what each can bend, how it rides, and how fast it turns."""

import math

from even_stance.judgement.standards.standard import Marks
from even_stance.vehicle.car import Axle

_ENDS = {
    "output_angle_deg": "output_joint", "output_joint_deg": "output_joint",
    "pinion_angle_deg": "pinion_joint", "pinion_joint_deg": "pinion_joint",
}  # fmt: skip
# Torsional acceleration that two joints may leave, and that a bent joint may give the shaft itself, rad/s^2.
_LEFT_OVER, _OF_THE_SHAFT = 400.0, 1000.0
AE7 = "SAE AE-7, Universal Joint and Driveshaft Design Manual (from memory)"
_RIDE_SHARE, _TRAVEL_SHARE = 0.5, 0.9  # of what a joint can bend: at ride height, and over travel
_NEARLY_STRAIGHT_DEG, _ABOVE_DEG = 2.0, 0.5


def shaft_marks(axle: Axle, key: str, marks: Marks) -> tuple[Marks, str]:
    """The marks of a number of a shaft, and a sentence where they are not those of the purpose.

    Args:
        axle: the axle, its shaft known; key: the number; marks: those of the purpose.
    """
    shaft = axle.shaft
    if shaft is None:
        return marks, ""
    low, high = marks
    radians = shaft.top_rpm * math.pi / 30.0
    if key not in ("shaft_residual_deg", *_ENDS) or high is None:
        return marks, ""
    if key == "shaft_residual_deg":
        most = math.degrees(math.sqrt(_LEFT_OVER) / radians) if radians else high
        words = f"At {shaft.top_rpm:,.0f} rpm more than that shakes: 400 rad/s² ({AE7})." if most < high else ""
        return (low, round(min(most, high), 1)), words
    end = _ENDS[key]
    kind, other = getattr(shaft, end), shaft.pinion_joint if end == "output_joint" else shaft.output_joint
    at_ride = key.endswith("_angle_deg")
    if kind != "single":
        bends = shaft.limit_deg * (2.0 if kind == "double_cardan" else 1.0)
        most = round((_RIDE_SHARE if at_ride else _TRAVEL_SHARE) * bends, 1)
        part = "half of that" if at_ride else "nine tenths of it"
        return (None, most), f"It turns evenly however far it bends, {bends:g}° at most: {part} is kept to."
    if other != "single":
        return _beyond_an_even_joint(axle, key, marks)
    limits = [(high, ""), (_TRAVEL_SHARE * shaft.limit_deg, f"It can bend {shaft.limit_deg:g}°, by what was typed.")]
    if radians and at_ride:
        words = f"At {shaft.top_rpm:,.0f} rpm farther bent the shaft's own swing shakes: 1,000 rad/s² ({AE7})."
        limits.append((math.degrees(math.sqrt(_OF_THE_SHAFT) / radians), words))
    most, words = min(limits, key=lambda limit: limit[0])
    return (low, round(most, 1)), words


def _beyond_an_even_joint(axle: Axle, key: str, marks: Marks) -> tuple[Marks, str]:
    """A single joint beyond one that turns evenly: what it bends is left over whole, so it should be nearly straight.

    Common practice, no source: the pinion points at the case, or a degree or two low of it, as power winds it up.
    """
    if not key.endswith("_angle_deg"):
        return marks, ""
    above = pinion_above_line_deg(axle) if key == "pinion_angle_deg" else None
    if above is not None and above > _ABOVE_DEG:
        return (None, _ABOVE_DEG), "The pinion points above the shaft, and power winds it up farther: set it lower."
    return (None, _NEARLY_STRAIGHT_DEG), "The other end turns evenly: what this one bends is left over whole."


def pinion_above_line_deg(axle: Axle) -> float | None:
    """How far a pinion points above the other end of its shaft, side view, degrees; None where an end is not known."""
    if axle.output is None or axle.pinion is None:
        return None
    run = axle.output.at.x - axle.pinion.at.x
    toward = math.copysign(1.0, run)
    line = math.degrees(math.atan2(axle.output.at.z - axle.pinion.at.z, abs(run)))
    return toward * axle.pinion.nose_up_deg - line
