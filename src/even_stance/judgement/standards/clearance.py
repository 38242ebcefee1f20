"""Numbers of clearance: the tightest gap of each kind of part over all travel and steer.

The bands are common practice, no source: half an inch is a usual least working clearance, an eighth is called touching.
"""

from even_stance.judgement.standards.standard import Marks, Standard, inches
from even_stance.vehicle.job import Purpose

_FORMULA = "Least distance between the two solids over both wheels’ travel and the steer, within stops and straps."
_SOURCE = "Gilbert, Johnson and Keerthi 1988 for the distance; postures between those of the grid closed in on"


def _same(marks: Marks) -> dict[Purpose, Marks]:
    return dict.fromkeys(("street_cruiser", "street_performance", "drag", "trail", "desert"), marks)


def _gap(kind: str, title: str, reason: str, least: float = 0.5) -> Standard:
    return Standard(
        f"gap_{kind}_mm", title, reason=reason, marks=_same(inches((least, None))), formula=_FORMULA, source=_SOURCE,
        solvable=False,
    )  # fmt: skip


STANDARDS = (
    _gap("tires", "Tires", "A tire cuts itself on what it rubs at lock or crossed up, long before that is heard."),
    _gap("links", "Links", "A link that meets something bends, or levers its bracket off."),
    _gap("shaft", "Driveshaft", "A turning shaft saws through whatever it touches."),
    _gap("steering", "Steering rods", "A rod that meets something steers the wheels, or blocks them."),
    _gap("springs", "Springs and shocks", "A coil or shock that rubs wears through, and its body is under pressure."),
    _gap("lines", "Lines, pipes and tank", "A pinched line is no brakes; a rubbed tank is a fire."),
    _gap("axle", "Axle and housing", "The axle comes up with all its weight behind it."),
    _gap("body", "Other parts", "Whatever else can be hit on the way."),
    _gap("ground", "Under the car", "On its stops, or with a spring let go, the frame must stay off the road.", 2.0),
)
