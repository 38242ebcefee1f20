"""Drill, tap, ream and press sizes for the threads, bolts and sleeves of the build sheet, and cooling to slide them in.

Limits of ISO 286-1/-2 (from memory), micrometers on the diameter; drills for 75 % of thread as handbooks list them.
"""

from dataclasses import dataclass

from even_stance.errors import InputError
from even_stance.mechanics.fits import cooling_for, press_force
from even_stance.mechanics.tube import E_STEEL
from even_stance.units import System, force_unit, format_force
from even_stance.vehicle.build import BuildSheet

# Over, up to, mm: H7 upper (lower is nil), then lower and upper of g6 (slides), p6 (pressed), s6 (pressed hard).
_LIMITS: tuple[tuple[float, float, int, tuple[int, int], tuple[int, int], tuple[int, int]], ...] = (
    (6.0, 10.0, 15, (-14, -5), (15, 24), (23, 32)), (10.0, 18.0, 18, (-17, -6), (18, 29), (28, 39)),
    (18.0, 30.0, 21, (-20, -7), (22, 35), (35, 48)), (30.0, 50.0, 25, (-25, -9), (26, 42), (43, 59)),
    (50.0, 65.0, 30, (-29, -10), (32, 51), (53, 72)), (65.0, 80.0, 30, (-29, -10), (32, 51), (59, 78)),
)  # fmt: skip
FITS = {"slides": "slides in by hand (H7/g6)", "pressed": "pressed in (H7/p6)", "hard": "pressed in hard (H7/s6)"}
# Per degree C (Machinery's Handbook, from memory).
EXPANSION = {"steel": 11.7e-6, "aluminum": 23.0e-6, "bronze": 18.0e-6, "acetal": 110e-6}
_COLD = (("a household freezer, 0 °F / -18 °C", 38.0), ("dry ice, -109 °F / -78 °C", 98.0))
_HASTE_MM = 0.02
_FRICTION = 0.12
_THREAD = 0.75
Rows = list[tuple[str, str]]


@dataclass(frozen=True)
class Fit:
    """A fit at a diameter, mm: limits of hole and part, and the loosest and tightest of the pair (tight is +)."""

    hole: tuple[float, float]
    part: tuple[float, float]
    least_tight: float
    most_tight: float


def fit_at(diameter_mm: float, kind: str) -> Fit:
    """The limits of a fit.

    Raises:
        InputError: a diameter outside the table.
    """
    for over, to, hole, g6, p6, s6 in _LIMITS:
        if over < diameter_mm <= to:
            low, high = {"slides": g6, "pressed": p6, "hard": s6}[kind]
            d = diameter_mm
            return Fit((d, d + hole / 1000), (d + low / 1000, d + high / 1000), (low - hole) / 1000, high / 1000)
    raise InputError("Diameter", f"{diameter_mm:g} mm is not in the table.", "Type 6 to 80 mm, 1/4 to 3 1/8 in.")


def tap_drill(diameter_mm: float, pitch_mm: float) -> float:
    """The hole for a tap with three quarters of the thread, mm: D - 1.299 x 0.75 x pitch (Machinery's Handbook, from
    memory)."""
    return diameter_mm - 1.299 * _THREAD * pitch_mm


def thousandths(mm: float, units: System) -> str:
    """A size to the thousandth of an inch or the hundredth of a millimeter."""
    return f"{mm / 25.4:.4f} in" if units == "us" else f"{mm:.3f} mm"


def fit_rows(diameter_mm: float, kind: str, material: str, units: System) -> Rows:
    """What to ream and turn to for a fit, and how it goes together.

    Raises:
        InputError: a diameter outside the table.
    """
    fit = fit_at(diameter_mm, kind)
    rows = [
        ("Hole, from", thousandths(fit.hole[0], units)), ("Hole, to", thousandths(fit.hole[1], units)),
        ("Part, from", thousandths(fit.part[0], units)), ("Part, to", thousandths(fit.part[1], units)),
    ]  # fmt: skip
    if kind == "slides":
        return [*rows, ("Play", f"{thousandths(-fit.most_tight, units)} to {thousandths(-fit.least_tight, units)}")]
    rows.append(
        ("Tight by", f"{thousandths(max(fit.least_tight, 0.0), units)} to {thousandths(fit.most_tight, units)}")
    )
    colder = cooling_for(fit.most_tight, diameter_mm, EXPANSION[material], _HASTE_MM)
    cold = next((words for words, below in _COLD if below >= colder), None)
    how = f"{colder:.0f} °C ({1.8 * colder:.0f} °F) colder than its hole"
    rows.append(("Slides in when it is", f"{how}: {cold}" if cold else f"{how}: press it, or warm the ring too"))
    if material == "steel":
        force = press_force(fit.most_tight, diameter_mm, 1.6 * diameter_mm, 0.7 * diameter_mm, diameter_mm, E_STEEL,
                            _FRICTION)  # fmt: skip
        said = (
            f"{format_force(force, units)} {force_unit(units)} at the end, as long as it is wide, a fair ring around it"
        )
        rows.append(("Takes to press in, at most", said))
    return rows


def drill_rows(build: BuildSheet, units: System) -> Rows:
    """Drills for every thread and bolt of the build sheet."""
    threads, bolts = {}, {}
    for link in build.links:
        for end in (link.first, link.second):
            if end.bung is not None and end.joint is not None:
                threads[end.bung.thread_mm, end.bung.pitch_mm] = end.joint.name
            if end.bolt is not None:
                bolts[end.bolt.diameter_mm] = end.bolt.name
    rows = [
        (f"Tap for {name}", f"drill {thousandths(tap_drill(d, p), units)}, 75 % of thread; left-hand tap for one end")
        for (d, p), name in sorted(threads.items())
    ]
    rows += [
        (f"Hole for {name}", f"{thousandths(d, units)} reamed, drill {thousandths(d - 0.4, units)} first; no larger "
         f"than {thousandths(d + 0.4, units)}") for d, name in sorted(bolts.items())
    ]  # fmt: skip
    return rows
