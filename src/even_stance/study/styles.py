"""How things are drawn, said once for the screen, for paper and for DXF."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Style:
    """How one kind of line or area looks.

    Attributes:
        color: what its color is for; screens and paper have a color for each such word.
        dash: lengths of dashes and gaps in widths of the line; empty for a full line.
        layer: the DXF layer; empty for what does not go into a drawing file.
        edge: what the color of a filled outline's edge is for; empty where it is not filled.
    """

    color: str
    dash: tuple[float, ...] = ()
    layer: str = ""
    edge: str = ""

    @property
    def filled(self) -> bool:
        """Whether a closed outline of it is filled."""
        return bool(self.edge)


STYLES: dict[str, Style] = {
    "ground": Style("ink", layer="GROUND"),
    "ground-far": Style("faint", (2.0, 3.0)),
    "centerline": Style("faint", (10.0, 4.0, 2.0, 4.0), "GROUND"),
    "frame": Style("steel", layer="FRAME", edge="faint"),
    "tire": Style("rubber", layer="TIRES", edge="line"),
    "rim": Style("steel", layer="TIRES", edge="line"),
    "axle": Style("steel", layer="AXLES", edge="ink"),
    "housing": Style("steel", layer="AXLES", edge="ink"),
    "shaft": Style("steel", layer="DRIVESHAFT", edge="ink"),
    "engine": Style("steel", layer="POWERTRAIN", edge="faint"),
    "mark": Style("accent", layer="POWERTRAIN"),
    "landmark": Style("faint", layer="PLACES"),
    "upper": Style("upper", layer="UPPER_LINKS", edge="upper"),
    "lower": Style("lower", layer="LOWER_LINKS", edge="lower"),
    "lateral": Style("lateral", layer="LATERAL", edge="lateral"),
    "steering": Style("accent", layer="STEERING", edge="accent"),
    "knuckle": Style("faint", layer="STEERING", edge="ink"),
    "arm": Style("lateral", layer="ARMS_AND_SPRINGS", edge="lateral"),
    "spring": Style("upper", layer="ARMS_AND_SPRINGS", edge="upper"),
    "coil": Style("upper", layer="SPRINGS", edge="upper"),
    "coil-far": Style("steel", layer="SPRINGS", edge="upper"),
    "shock": Style("faint", layer="SPRINGS", edge="ink"),
    "bar": Style("lateral", layer="SPRINGS", edge="lateral"),
    "rocker": Style("steel", layer="SPRINGS", edge="ink"),
    "stop": Style("rubber", layer="SPRINGS", edge="ink"),
    "strap": Style("accent", layer="SPRINGS", edge="accent"),
    "thing": Style("steel", layer="THINGS", edge="ink"),
    "thing-line": Style("ink", (6.0, 3.0), "THINGS"),
    "ghost": Style("faint", (1.5, 3.0), "TIRES"),
    "hole": Style("faint", layer="HOLES"),
    "cg": Style("ink", layer="TEXT"),
    "beneath": Style("bubble"),
    "exact": Style("accent"),
    "reference": Style("faint", (9.0, 3.0, 2.0, 3.0)),
    "upper-line": Style("upper", (7.0, 4.0)),
    "lower-line": Style("lower", (3.0, 3.0)),
    "lateral-line": Style("floor", (5.0, 2.0)),
    "arm-line": Style("lateral", (5.0, 2.0)),
    "spring-line": Style("upper", (7.0, 4.0)),
}
_FAINT = "-faint"
_FADED = {"tire": "rubber", "rim": "rubber"}


# What links wear besides their color: a light line so thick, in their own widths, with such dashes and gaps.
_BANDING: dict[str, tuple[float, tuple[float, ...]]] = {"upper": (0.22, ()), "lateral": (0.72, (0.35, 1.6))}


def banding_of(name: str) -> tuple[float, tuple[float, ...]] | None:
    """The light line that tells a member from others without color; None for lower links, which are plain."""
    return _BANDING.get(name)


def style_of(name: str) -> Style:
    """The style of that name; one that ends in “-faint” is the same, faded.

    Raises:
        KeyError: there is none.
    """
    if not name.endswith(_FAINT):
        return STYLES[name]
    plain = STYLES[name.removesuffix(_FAINT)]
    return Style(_FADED.get(name.removesuffix(_FAINT), "steel"), plain.dash, "", "line" if plain.filled else "")
