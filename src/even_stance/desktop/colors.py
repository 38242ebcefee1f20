"""The colors of the light "shop paper" and the dark "night shop" look."""

from dataclasses import dataclass
from functools import cache
from typing import Literal

from PyQt6.QtGui import QColor

LookName = Literal["paper", "night"]


@dataclass(frozen=True)
class Palette:
    """The colors of one look, by what they are for."""

    page: str
    sheet: str
    floor: str
    line: str
    edge: str
    ink: str
    faint: str
    accent: str
    on_accent: str
    alarm: str
    upper: str
    lower: str
    lateral: str
    steel: str
    rubber: str
    bubble: str
    bubble_edge: str
    glass: str
    bubble_letter: str


PALETTES: dict[LookName, Palette] = {
    "paper": Palette(
        page="#fbfaf6", sheet="#ffffff", floor="#f3f0e8", line="#d5cfbf", edge="#8b8573", ink="#1c2327",
        faint="#5b6266", accent="#0f5d70", on_accent="#ffffff", alarm="#a3122e",
        upper="#bd6f00", lower="#17739a", lateral="#43286e",
        steel="#d3cec2", rubber="#e0dccf", bubble="#b9d433", bubble_edge="#4a5a12", glass="#eaf0d2",
        bubble_letter="#1c2327",
    ),
    "night": Palette(
        page="#24292e", sheet="#2c3238", floor="#1b2023", line="#434b53", edge="#8a949c", ink="#f3f1ea",
        faint="#a9b1b7", accent="#7fcbdd", on_accent="#12262c", alarm="#ff7f6e",
        upper="#ffd166", lower="#3f93cc", lateral="#cdb6f5",
        steel="#3d444b", rubber="#30363b", bubble="#cfe95a", bubble_edge="#eef6c8", glass="#3c462f",
        bubble_letter="#1b2023",
    ),
}  # fmt: skip


@cache
def color_of(look: LookName, name: str, alpha: int) -> QColor:
    """A color of a look, by its field name: one for all who ask, so nobody changes it."""
    color = QColor(getattr(PALETTES[look], name))
    color.setAlpha(alpha)
    return color
