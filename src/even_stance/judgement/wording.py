"""How brackets and movements are called in the shop."""

from even_stance.units import System, format_length, length_unit
from even_stance.vehicle.spots import Spot

# Less than a thirty-second of an inch is not seen on a tape.
SEEN_MM = 25.4 / 32


def bracket_words(spot: Spot, twin: Spot | None) -> str:
    """A bracket, or both brackets of a pair: “Lower frame ends”."""
    name = spot.words
    if twin is not None and not spot.member:  # of the axle's own: “Kingpins, lower”
        head, comma, tail = name.removeprefix("Left ").removeprefix("Right ").partition(",")
        return f"{head.capitalize()}s{comma}{tail}"
    if twin is not None:
        name = name.replace(" left", "").replace("Left ", "").replace(" right", "").replace("Right ", "") + "s"
    return name.replace(",", "")


def move_words(dx: float, dy: float, dz: float, system: System, y: float = 1.0) -> str:
    """A movement in words: “1 1/4 in up, 3/8 in outward”; nil parts are left out.

    Args:
        dx, dy, dz: the movement, mm.
        system: the units of the words.
        y: where the point is sideways, so that in and out can be told, mm.
    """
    unit = length_unit(system)
    outward = dy if y >= 0 else -dy
    parts = []
    for mm, plus, minus in ((dz, "up", "down"), (dx, "ahead", "back"), (outward, "outward", "inward")):
        if abs(mm) >= SEEN_MM:
            parts.append(f"{format_length(abs(mm), system).removeprefix('~')} {unit} {plus if mm > 0 else minus}")
    return ", ".join(parts) or "not moved"
