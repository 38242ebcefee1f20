"""What people type and read, to and from the stored units (mm, kg, N, degrees).

Everything typed passes through here once; inside the program there are no other units.
"""

import math
import re
from dataclasses import dataclass
from fractions import Fraction
from typing import Literal

from even_stance.errors import InputError

System = Literal["us", "metric"]

MM_PER_INCH = 25.4
KG_PER_POUND = 0.45359237  # international avoirdupois pound, exact
POUND_FORCE = KG_PER_POUND * 9.80665  # N
POUND_PER_INCH = POUND_FORCE / MM_PER_INCH  # N/mm
M_PER_FOOT = 0.3048
MPA_PER_KSI = 1000.0 * POUND_FORCE / MM_PER_INCH**2
BAR_PER_PSI = 10.0 * POUND_FORCE / MM_PER_INCH**2
KMH_PER_MPH = 1.609344
POUND_FOOT = POUND_FORCE * 12 * MM_PER_INCH / 1000  # N m
LONGEST_MM = 100_000.0
HEAVIEST_KG = 100_000.0


@dataclass
class Habits:
    """How the person at this window reads and types figures; files and other programs never see it.

    Attributes:
        decimal_inches: lengths in thousandths of an inch and not in sixteenths; comma: decimals after a comma.
    """

    decimal_inches: bool = False
    comma: bool = False


HABITS = Habits()
NONE = "—"  # how a figure is read that there is none of


def shown(text: str) -> str:
    """Words with their decimals as this person reads them."""
    return _DECIMALS.sub(r"\1,\2", text) if HABITS.comma else text


# A figure with decimals: no version number, no address, no ratio of three.
_DECIMALS = re.compile(r"(?<![\w.])([+-]?\d+)\.(\d+)(?![\w.]*\.\d)(?!\d)")
_VULGAR = {
    "½": "1/2", "¼": "1/4", "¾": "3/4", "⅛": "1/8", "⅜": "3/8", "⅝": "5/8", "⅞": "7/8",
}  # fmt: skip
# Longer than anything a person says of a length, an angle or a weight: what is longer is no figure.
_LONGEST_TEXT = 60
_NUMBER = r"(?:\d+(?:\.\d*)?|\.\d+)"
_MIXED = rf"(?:(?P<whole>{_NUMBER})(?:[\s-]+(?P<num>\d+)\s*/\s*(?P<den>\d+))?|(?P<num2>\d+)\s*/\s*(?P<den2>\d+))"
_UNIT = r"(?P<unit>in\.?|inch(?:es)?|\"|''|mm|cm|m|ft\.?|feet|foot|')?"
_PLAIN = re.compile(rf"^{_MIXED}\s*{_UNIT}$")
_FEET = re.compile(rf"^(?P<feet>{_NUMBER})\s*(?:'|ft\.?|feet|foot)\s*[-]?\s*(?P<rest>.+)$")
_MM_PER = {
    "mm": 1.0, "cm": 10.0, "m": 1000.0, "in": MM_PER_INCH, "inch": MM_PER_INCH, "inches": MM_PER_INCH,
    '"': MM_PER_INCH, "''": MM_PER_INCH, "ft": 12 * MM_PER_INCH, "feet": 12 * MM_PER_INCH,
    "foot": 12 * MM_PER_INCH, "'": 12 * MM_PER_INCH,
}  # fmt: skip


def _tidy(text: str) -> str:
    """What was typed with signs, fractions and decimals in their plain form."""
    if HABITS.comma:
        text = re.sub(r"(?<=\d),(?=\d)", ".", text)
    for sign, plain in {
        "″": '"',
        "”": '"',
        "“": '"',
        "′": "'",
        "’": "'",
        "−": "-",
        "–": "-",
        "⁄": "/",
    }.items():
        text = text.replace(sign, plain)
    for sign, plain in _VULGAR.items():
        text = text.replace(sign, " " + plain)
    return text.strip().lower()


def _split_sign(text: str) -> tuple[float, str]:
    if text[:1] in "+-" and text[:1]:
        return (-1.0 if text[0] == "-" else 1.0), text[1:].strip()
    return 1.0, text


def _refuse_long(field: str, given: str, example: str) -> None:
    """Before anything is made of it: patterns and numbers of any length cost time without end."""
    if len(given.strip()) > _LONGEST_TEXT:
        start = given.strip()[:20]
        raise InputError(field, f"“{start}…” is {len(given):,} characters long.", f"Type a figure such as {example}.")


def _refuse_common(field: str, given: str, text: str, example: str) -> None:
    """Refuse what no field takes: nothing, or a comma."""
    if not text:
        raise InputError(field, "nothing was entered.", f"Type a figure such as {example}.")
    if re.search(r"\d,\d", text):
        raise InputError(field, f"“{given}” has a comma in it.", "Use a point for decimals, as in 13.5.")


def _mixed_value(field: str, given: str, found: re.Match[str]) -> float:
    """The value of a whole figure with a fraction."""
    value = float(found["whole"] or 0)
    top, bottom = found["num"] or found["num2"], found["den"] or found["den2"]
    if top is not None:
        if int(bottom) == 0:
            raise InputError(field, f"“{given}” divides by zero.", "Check the lower figure of the fraction.")
        if found["num"] and "." in found["whole"]:
            raise InputError(field, f"“{given}” mixes decimals and a fraction.", "Use one of them: 13.5 or 13 1/2.")
        value += int(top) / int(bottom)
    return value


def parse_length(text: str, system: System = "us", field: str = "Length") -> float:
    """Read a length as people say it, in mm.

    Takes 13 1/2, 13-1/2", 13.5in, 5' 3 1/4", 342.9 mm, 34.3cm, 1/8, with a leading minus or plus. A figure
    without a unit is inches in the US system and mm in the metric one.

    Raises:
        InputError: the text is not a length; the message names the field and shows what would do.
    """
    example = "13 1/2, 13.5in, 5' 3 1/4\" or 342.9 mm" if system == "us" else "342.9, 34.3 cm or 13 1/2 in"
    _refuse_long(field, text, example)
    sign, body = _split_sign(_tidy(text).removeprefix("~").strip())
    _refuse_common(field, text, body, example)
    mm = 0.0
    if (feet := _FEET.match(body)) is not None:
        mm = float(feet["feet"]) * 12 * MM_PER_INCH
        body = feet["rest"].strip()
        if not re.search(r"(\"|''|in\.?|inch|inches)$", body):
            body += '"'
    found = _PLAIN.match(body)
    if found is None:
        raise InputError(field, f"“{text.strip()}” is not a length.", f"Type it like {example}.")
    unit = (found["unit"] or ("in" if system == "us" else "mm")).rstrip(".")
    mm = sign * (mm + _mixed_value(field, text, found) * _MM_PER[unit])
    if not math.isfinite(mm) or abs(mm) > LONGEST_MM:
        raise InputError(field, f"“{text.strip()}” is longer than any car.", "Check the figure and its unit.")
    return mm


def format_length(mm: float, system: System = "us") -> str:
    """Write a length the way it is read off a tape: nearest 1/16 in (marked ~ when rounded), or mm.

    In thousandths of an inch for who reads them so. What is no number is a dash.
    """
    if not math.isfinite(mm):
        return NONE
    if system == "metric":
        return format_decimal(mm, 1)
    inches = mm / MM_PER_INCH
    if HABITS.decimal_inches:
        return format_decimal(inches, 3)
    sixteenths = round(inches * 16)
    mark = "" if abs(inches * 16 - sixteenths) < 1e-3 else "~"
    whole, part = divmod(abs(sixteenths), 16)
    sign = "-" if sixteenths < 0 else ""
    if not part:
        return f"{mark}{sign}{whole}"
    fraction = Fraction(part, 16)
    small = f"{fraction.numerator}/{fraction.denominator}"
    return f"{mark}{sign}{whole} {small}" if whole else f"{mark}{sign}{small}"


def format_wall(mm: float, system: System = "us") -> str:
    """Write a tube's wall as it is sold: thousandths of an inch, or hundredths of a millimeter."""
    return f"{mm / MM_PER_INCH:.3f}" if system == "us" else f"{mm:.2f}"


_DESIGNATIONS = (
    re.compile(rf"^m\s*(?P<across>{_NUMBER})(?:\s*[x×*-]\s*(?P<pitch>{_NUMBER}))?(?:\s*mm)?$"),
    re.compile(rf"^(?P<size>[\d\s./-]*?\d)\s*(?:in|\"|”)?\s*[-x]\s*(?P<turns>{_NUMBER})\s*(?:tpi|un[cf]|un)?$"),
)
_SAID = r"tpi|(?:threads?|turns?)?\s*(?:per inch|/\s*in|an inch)|threads?|turns?"
_TURNS = re.compile(rf"^(?P<turns>{_NUMBER})\s*(?:{_SAID})$")
_COARSE_TURNS = 3.0  # under three threads an inch no rod, stud or bolt of a car is cut


def parse_thread(text: str, system: System = "us", field: str = "Thread") -> tuple[float | None, float]:
    """Read a thread as it is stamped or said: its diameter where that is said, and its pitch, mm.

    Takes 18, 18 tpi, 9/16-18, 3/4-16 UNF, M14x1.5, 1.5 mm. A bare figure is threads per inch in inches, and in
    millimeters a pitch unless it is larger than any pitch is.

    Raises:
        InputError: it is no thread, or its pitch is over a third of its diameter.
    """
    given = " ".join(text.strip().lower().split())
    example = "18, 9/16-18, M14x1.5 or 1.5 mm"
    _refuse_long(field, text, example)
    _refuse_common(field, given, given, example)
    metric, inch = (pattern.match(given) for pattern in _DESIGNATIONS)
    across: float | None = None
    if metric is not None and metric["pitch"] is not None:
        across, pitch = float(metric["across"]), float(metric["pitch"])
    elif inch is not None and (system == "us" or "/" in given or "-" in given):
        across = parse_length(inch["size"].replace("-", " "), "us", field)
        pitch = MM_PER_INCH / float(inch["turns"]) if float(inch["turns"]) > 0.0 else 0.0
    else:
        turns = _TURNS.match(given)
        plain = re.match(rf"^(?P<value>{_NUMBER})$", given)
        if turns is not None:
            per_inch = float(turns["turns"])
            pitch = MM_PER_INCH / per_inch if per_inch > 0.0 else 0.0
        elif plain is not None:
            value = float(plain["value"])
            as_turns = value >= _COARSE_TURNS if system == "us" else value > MM_PER_INCH / _COARSE_TURNS
            if system == "us" and not as_turns:
                raise InputError(
                    field, f"“{given}” is fewer threads an inch than any thread has.",
                    f"Type threads per inch, or a pitch with its unit: {example}.",
                )  # fmt: skip
            pitch = MM_PER_INCH / value if as_turns else value
        else:
            try:
                pitch = parse_length(given, system, field)
            except InputError:
                raise InputError(field, f"“{given}” is no thread.", f"Type it like {example}.") from None
    if not 0.0 < pitch <= MM_PER_INCH / _COARSE_TURNS:
        raise InputError(field, f"“{given}” is no pitch of a thread.", f"Type it like {example}.")
    if across is not None:
        check_thread(across, pitch, field)
    return across, pitch


def check_thread(across_mm: float, pitch_mm: float, field: str = "Thread") -> None:
    """Refuse a pitch over a third of its diameter: then one of the two was misread.

    Raises:
        InputError: it is.
    """
    if pitch_mm > across_mm / 3.0:
        said = f"{pitch_mm:.3g} mm a turn on a thread {across_mm:.3g} mm across"
        raise InputError(field, f"{said} is no thread.", "Count the turns in an inch again, and type that: 18.")


def parse_pitch(text: str, system: System = "us", field: str = "Thread") -> float:
    """Read the pitch of a thread as it is stamped or said, mm.

    Raises:
        InputError: it is no thread.
    """
    return parse_thread(text, system, field)[1]


def format_pitch(mm: float, system: System = "us") -> str:
    """Write a thread's pitch as it is said: threads per inch where they come out whole, else millimeters."""
    turns = MM_PER_INCH / mm
    whole = abs(turns - round(2.0 * turns) / 2.0) < 0.02
    return f"{round(2.0 * turns) / 2.0:g} tpi" if whole and system == "us" else f"{mm:.4g} mm"


def format_decimal(value: float, digits: int) -> str:
    """A figure with so many decimals; what rounds to nothing has no sign, what is no number is a dash."""
    if not math.isfinite(value):
        return NONE
    return f"{round(value, digits) + 0.0:.{digits}f}"


def format_length_exact(mm: float) -> str:
    """Both systems with all digits that matter, for a tip."""
    return f"{mm / MM_PER_INCH:.4f} in = {mm:.2f} mm"


def length_unit(system: System) -> str:
    """The unit a bare length is in."""
    return "in" if system == "us" else "mm"


def length_step(system: System) -> float:
    """One nudge, mm: 1/16 in or 1 mm."""
    return MM_PER_INCH / 16 if system == "us" else 1.0


_SCALED = re.compile(rf"^(?P<value>{_NUMBER})\s*(?P<unit>(?:[a-z%°]+(?:[-/ ·][a-z]+)?)?)$")


def _from_nil(text: str, field: str, factors: dict[str, float], example: str, below: str) -> float:
    """Read a figure that cannot be negative; `below` is what one that is would do."""
    value = _parse_scaled(text, field, factors, example)
    if value < 0.0:
        raise InputError(field, f"“{text.strip()}” {below}.", "Type a figure from 0 up.")
    return value


def _parse_scaled(text: str, field: str, factors: dict[str, float], example: str) -> float:
    """A figure with one of several units, in the first of them."""
    _refuse_long(field, text, example)
    sign, body = _split_sign(_tidy(text).removeprefix("~").strip())
    _refuse_common(field, text, body, example)
    found = _SCALED.match(body)
    if found is None or found["unit"] not in factors:
        raise InputError(field, f"“{text.strip()}” cannot be read.", f"Type it like {example}.")
    return sign * float(found["value"]) * factors[found["unit"]]


def parse_mass(text: str, system: System = "us", field: str = "Weight") -> float:
    """Read a weight on scales, in kg. A bare figure is pounds in the US system and kg in the metric one.

    Raises:
        InputError: not a weight, negative, or heavier than any truck.
    """
    pound = KG_PER_POUND
    factors = {"kg": 1.0, "lb": pound, "lbs": pound, "": pound if system == "us" else 1.0}
    kg = _parse_scaled(text, field, factors, "2450 lb or 1110 kg")
    if not 0.0 <= kg <= HEAVIEST_KG:
        raise InputError(field, f"“{text.strip()}” is no weight of a car.", "Type a figure from 0 up.")
    return kg


def format_mass(kg: float, system: System = "us") -> str:
    """Whole pounds or kilograms."""
    return f"{kg / KG_PER_POUND:.0f}" if system == "us" else f"{kg:.0f}"


def mass_unit(system: System) -> str:
    """The unit a bare weight is in."""
    return "lb" if system == "us" else "kg"


def parse_stiffness(text: str, system: System = "us", field: str = "Stiffness") -> float:
    """Read a spring rate or the stiffness of a joint, in N/mm. A bare figure is lb/in in the US system, else N/mm.

    Raises:
        InputError: not a stiffness, or none at all.
    """
    factors = {"n/mm": 1.0, "lb/in": POUND_PER_INCH, "lbs/in": POUND_PER_INCH}
    rate = _parse_scaled(text, field, factors | {"": factors[stiffness_unit(system).lower()]}, "200 lb/in or 35 N/mm")
    if rate <= 0.0:
        raise InputError(field, f"“{text.strip()}” is no stiffness.", "Type a figure above 0.")
    return rate


def format_stiffness(rate: float, system: System = "us") -> str:
    """Three digits of a stiffness, or all of a round one."""
    value = rate / POUND_PER_INCH if system == "us" else rate
    return f"{value:.3g}" if value < 100.0 else f"{float(f'{value:.4g}'):.0f}"


def stiffness_unit(system: System) -> str:
    """The unit a bare stiffness is in."""
    return "lb/in" if system == "us" else "N/mm"


def parse_torque(text: str, system: System = "us", field: str = "Torque") -> float:
    """Read a torque, in N m. A bare figure is lb ft in the US system and N m in the metric one.

    Raises:
        InputError: not a torque, or a negative one.
    """
    words = ("lb ft", "lb-ft", "lbft", "ft lb", "ft-lb", "ftlb")
    factors = {"n m": 1.0, "nm": 1.0, "n·m": 1.0} | dict.fromkeys(words, POUND_FOOT)
    bare = {"": factors[torque_unit(system).lower()]}
    return _from_nil(text, field, factors | bare, "300 lb ft or 400 N m", "turns the wrong way")


def format_torque(newton_meters: float, system: System = "us") -> str:
    """Whole pound-feet or newton meters."""
    return f"{newton_meters / POUND_FOOT if system == 'us' else newton_meters:.0f}"


def torque_unit(system: System) -> str:
    """The unit a bare torque is in."""
    return "lb ft" if system == "us" else "N m"


def parse_speed(text: str, system: System = "us", field: str = "Speed") -> float:
    """Read a road speed, in km/h. A bare figure is mph in the US system and km/h in the metric one.

    Raises:
        InputError: not a speed, or a negative one.
    """
    factors = {"mph": KMH_PER_MPH, "km/h": 1.0, "kmh": 1.0, "kph": 1.0}
    return _from_nil(text, field, factors | {"": factors[speed_unit(system)]}, "75 mph or 120 km/h", "goes backward")


def format_speed(kmh: float, system: System = "us") -> str:
    """Whole miles or kilometers per hour."""
    return f"{kmh / KMH_PER_MPH if system == 'us' else kmh:.0f}"


def speed_unit(system: System) -> str:
    """The unit a bare road speed is in."""
    return "mph" if system == "us" else "km/h"


def parse_distance(text: str, system: System = "us", field: str = "Distance") -> float:
    """Read a distance on the ground, in meters. A bare figure is feet in the US system and meters in the metric one.

    Raises:
        InputError: not a distance.
    """
    factors = {"ft": M_PER_FOOT, "m": 1.0}
    return _parse_scaled(text, field, factors | {"": factors[distance_unit(system)]}, "40 ft or 12 m")


def format_distance(m: float, system: System = "us") -> str:
    """Feet or meters to a tenth."""
    return f"{m / M_PER_FOOT if system == 'us' else m:.1f}"


def distance_unit(system: System) -> str:
    """The unit a bare distance on the ground is in."""
    return "ft" if system == "us" else "m"


def parse_percent(text: str, field: str = "Share") -> float:
    """Read a percentage, as the figure before the % sign.

    Raises:
        InputError: not a percentage.
    """
    return _parse_scaled(text, field, {"%": 1.0, "": 1.0}, "60 or 60 %")


def parse_number(text: str, field: str = "Figure") -> float:
    """Read a plain number, such as a gear ratio.

    Raises:
        InputError: not a number.
    """
    return _parse_scaled(text, field, {"": 1.0}, "3.73")


_WORDED_ANGLE = re.compile(r"^(?P<value>.*?)\s*(?P<word>up|down)$")


def parse_angle(text: str, field: str = "Angle") -> float:
    """Read an angle in degrees: 2.5, -3°, 2 up, 2.5 down (up is +).

    Raises:
        InputError: not an angle, or more than half a turn.
    """
    _refuse_long(field, text, "2.5, 2 up or 3 down")
    body, factor = _tidy(text), 1.0
    if (worded := _WORDED_ANGLE.match(body)) is not None:
        body, factor = worded["value"], (1.0 if worded["word"] == "up" else -1.0)
    degrees = factor * _parse_scaled(body, field, {"": 1.0, "°": 1.0, "deg": 1.0}, "2.5, 2 up or 3 down")
    if abs(degrees) > 180.0:
        raise InputError(field, f"“{text.strip()}” is more than half a turn.", "Type degrees from -180 to 180.")
    return degrees


def format_force(newtons: float, system: System = "us") -> str:
    """A force as it is read: pounds to the nearest ten, or newtons to the nearest fifty."""
    if system == "us":
        return f"{round(newtons / POUND_FORCE / 10) * 10:,.0f}"
    return f"{round(newtons / 50) * 50:,.0f}"


def parse_force(text: str, system: System = "us", field: str = "Force") -> float:
    """Read a force, in N. A bare figure is pounds in the US system and newtons in the metric one.

    Raises:
        InputError: not a force, or a negative one.
    """
    factors = {"lb": POUND_FORCE, "lbf": POUND_FORCE, "n": 1.0, "kn": 1000.0}
    bare = {"": factors[force_unit(system).lower()]}
    return _from_nil(text, field, factors | bare, "700 lb or 3000 N", "pushes the wrong way")


def parse_pressure(text: str, system: System = "us", field: str = "Pressure") -> float:
    """Read a pressure, in bar. A bare figure is psi in the US system and bar in the metric one.

    Raises:
        InputError: not a pressure.
    """
    factors = {"psi": BAR_PER_PSI, "bar": 1.0, "kpa": 0.01, "mpa": 10.0}
    return _parse_scaled(text, field, factors | {"": factors[pressure_unit(system)]}, "1500 psi or 100 bar")


def format_pressure(bar: float, system: System = "us") -> str:
    """Pounds per square inch to the nearest ten, or whole bars."""
    return f"{round(bar / BAR_PER_PSI / 10) * 10}" if system == "us" else f"{bar:.0f}"


def pressure_unit(system: System) -> str:
    """The unit a bare pressure is in."""
    return "psi" if system == "us" else "bar"


def force_unit(system: System) -> str:
    """The unit forces are read in."""
    return "lb" if system == "us" else "N"


def parse_stress(text: str, system: System = "us", field: str = "Stress") -> float:
    """Read a strength, in MPa. A bare figure is ksi in the US system and MPa in the metric one.

    Raises:
        InputError: not a strength.
    """
    factors = {"ksi": MPA_PER_KSI, "psi": MPA_PER_KSI / 1000.0, "mpa": 1.0}
    return _parse_scaled(text, field, factors | {"": factors[stress_unit(system).lower()]}, "60 ksi or 414 MPa")


def format_stress(mpa: float, system: System = "us") -> str:
    """A strength in ksi, or whole MPa."""
    return f"{mpa / MPA_PER_KSI:.0f}" if system == "us" else f"{mpa:.0f}"


def stress_unit(system: System) -> str:
    """The unit a bare strength is in."""
    return "ksi" if system == "us" else "MPa"
