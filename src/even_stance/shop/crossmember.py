"""The gearbox crossmember that has to follow its tail: higher, turned, cut and filled."""

from even_stance.study.powertrain import crossmember
from even_stance.units import System, format_length, length_unit
from even_stance.vehicle.driveline import Powertrain

KERF_MM = 25.4 / 8  # common practice, no source: a saw takes about 1/8 in


def crossmember_words(power: Powertrain, units: System) -> str:
    """How far the crossmember goes up or down and turns, in a sentence; empty while the tail is where it was."""
    if not power.moved:
        return ""
    now, unit = crossmember(power), length_unit(units)
    way = "up" if now.higher_mm > 0 else "down"
    much = format_length(abs(now.higher_mm), units).removeprefix("~")
    said = f"Crossmember {much} {unit} {way}, its mount turned {abs(now.turned_deg):.1f}°."
    if now.higher_mm > 0:
        fill = pieces_after_cuts(0.0, 2, now.higher_mm)[1]
        said += f" Legs cut through twice: fill {format_length(fill, units).removeprefix('~')} {unit} in each."
    return said


def pieces_after_cuts(length_mm: float, cuts: int, higher_mm: float, kerf_mm: float = KERF_MM) -> tuple[float, float]:
    """What is left of a leg cut through so many times, and what has to be filled to make it that much longer, mm.

    Every cut takes a saw's width: four cuts lose half an inch.
    """
    left = length_mm - cuts * kerf_mm
    return left, length_mm + higher_mm - left
