"""What went into a number: every value as it is read, and as a number with its unit for whoever reads it by machine."""

from dataclasses import dataclass

from even_stance.units import (
    POUND_PER_INCH,
    System,
    force_unit,
    format_force,
    format_length,
    format_mass,
    format_stiffness,
    length_unit,
    mass_unit,
    stiffness_unit,
)


@dataclass(frozen=True)
class WentIn:
    """One value that went into a number.

    Attributes:
        name: what it is; words: as it is read.
        value, unit, uncertainty: as a number, where it is one.
    """

    name: str
    words: str
    value: float | None = None
    unit: str = ""
    uncertainty: float | None = None


def length_in(name: str, mm: float, system: System, sure_mm: float | None = None) -> WentIn:
    """A length, mm, with its +/- where that is known."""
    words = f"{format_length(mm, system).removeprefix('~')} {length_unit(system)}"
    if sure_mm is not None:
        words += f" ± {format_length(sure_mm, system).removeprefix('~')} {length_unit(system)}"
    return WentIn(name, words, mm, "mm", sure_mm)


def percent_in(name: str, percent: float) -> WentIn:
    """A share, %."""
    return WentIn(name, f"{percent:.0f} %", percent, "%")


def mass_in(name: str, kg: float, system: System) -> WentIn:
    """A mass, kg."""
    return WentIn(name, f"{format_mass(kg, system)} {mass_unit(system)}", kg, "kg")


def force_in(name: str, newtons: float, system: System) -> WentIn:
    """A force, N."""
    return WentIn(name, f"{format_force(newtons, system)} {force_unit(system)}", newtons, "N")


def rate_in(name: str, rate: float, system: System, signed: bool = False) -> WentIn:
    """A spring rate, N/mm; signed where it is what is added or taken away."""
    per = POUND_PER_INCH if system == "us" else 1.0
    shown = f"{rate / per:+.1f}" if signed else format_stiffness(rate, system)
    return WentIn(name, f"{shown} {stiffness_unit(system)}", rate, "N/mm")
