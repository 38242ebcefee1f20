"""One judged number: everything that is said of it in one record."""

from dataclasses import dataclass, field
from typing import Literal

from even_stance.units import MM_PER_INCH
from even_stance.vehicle.job import Purpose

Marks = tuple[float | None, float | None]


@dataclass(frozen=True)
class Standard:
    """A number that is judged.

    Attributes:
        key: its name, ending in its unit (_pct, _deg, _mm); title: what people call it.
        reason: why it is judged, in a sentence; basis: who says so.
        marks: from where to where it is wanted for each purpose, in its unit, an open end None.
        inside, low, high: what it means in the band and on either side of it; empty where it is said another way.
        past: what it means at zero and below, of a room that is used up then; low is of what lies between that and the
        band.
        formula, source: how it comes about in words, and where that is from.
        why: why it is wanted so of each purpose, in a sentence.
        share_of: what its marks are a share of, %, where they go with the size of the car; else they are in its unit.
        solvable: whether Solve may be asked for it; station: where in the work order it belongs, that of its file.
    """

    key: str
    title: str
    reason: str
    formula: str
    source: str
    marks: dict[Purpose, Marks] = field(hash=False)
    inside: str = ""
    low: str = ""
    high: str = ""
    past: str = ""
    basis: str = "common practice, no source"
    solvable: bool = True
    station: str = ""
    why: dict[Purpose, str] = field(default_factory=dict, hash=False)
    share_of: Literal["", "cg_height", "wheelbase"] = ""


def inches(marks: Marks) -> Marks:
    """Marks given in inches, in mm."""
    low, high = marks
    return (None if low is None else low * MM_PER_INCH, None if high is None else high * MM_PER_INCH)
