"""Which fields each kind of spring has."""

from dataclasses import dataclass

from even_stance.desktop.widgets.fields import (
    LengthField,
    NumberField,
    PlainField,
    PressureField,
    StiffnessField,
    ThreadField,
)


@dataclass(frozen=True)
class Spec:
    """A field of a spring: the record in it ("" itself), its name there, title, kind of field and unit."""

    inner: str
    name: str
    title: str
    kind: type[NumberField] = LengthField
    unit: str = "length"


_COIL = (
    Spec("coil", "rate_n_mm", "Coil rate", StiffnessField, "stiffness"),
    Spec("coil", "free_mm", "Coil, free"),
    Spec("coil", "solid_mm", "Coil, closed solid"),
    Spec("coil", "sag_mm", "Coil has settled"),
)
_UPPER = (
    Spec("upper", "rate_n_mm", "Upper coil, rate", StiffnessField, "stiffness"),
    Spec("upper", "free_mm", "Upper coil, free"),
    Spec("upper", "solid_mm", "Upper coil, solid"),
    Spec("", "crossover_mm", "Upper closes to its stop"),
)
_SEATS = (Spec("", "seats_mm", "Eye to eye, not coil"), Spec("", "pitch_mm", "Collar’s thread", ThreadField, "thread"))
_STROKE = (Spec("", "open_mm", "All the way out"), Spec("", "closed_mm", "All the way in"))
_BODY = (Spec("", "body_mm", "Body, across"),)
_ROD = (Spec("", "shaft_mm", "Rod, across"),)
FIELDS: dict[str, tuple[Spec, ...]] = {
    "coil_over": (*_COIL, *_SEATS, *_STROKE, *_BODY, *_ROD, *_UPPER),
    "coil": (*_COIL, _SEATS[0]),
    "shock": (*_STROKE, *_BODY, *_ROD),
    "air": (
        Spec("", "pressure_bar", "Pressure at ride height", PressureField, "pressure"),
        Spec("", "volume_l", "Air in it then, liters", PlainField, ""),
        Spec("", "closed_mm", "On its inner stop"),
        _STROKE[0],
        Spec("", "seats_mm", "Brackets between"),
        *_BODY,
    ),
    "bump_stop": (
        Spec("", "gap_mm", "Gap at ride height"),
        Spec("", "squeeze_mm", "Squeezes until solid"),
        Spec("", "rate_n_mm", "Rate as it squeezes", StiffnessField, "stiffness"),
    ),
    "strap": (
        Spec("", "length_mm", "Joint to joint, tight"),
        Spec("", "stretch_pct", "Stretches by, %", PlainField, ""),
    ),
    "sway_bar": (
        Spec("", "bar_mm", "Bar, across"),
        Spec("", "inside_mm", "Its inside, 0 solid"),
        Spec("", "arm_mm", "Arms, across"),
    ),
    "rocker": (*_COIL, *_SEATS, *_STROKE, *_BODY, *_ROD),
    "leaf": (
        Spec("", "rate_n_mm", "Rate at the seat", StiffnessField, "stiffness"),
        Spec("pack", "leaves", "Leaves", PlainField, ""),
        Spec("pack", "wide_mm", "Leaf, wide"),
        Spec("pack", "thick_mm", "Leaf, thick"),
        Spec("pack", "clamp_mm", "Held by U-bolts"),
        Spec("pack", "stiffening", "Stiffening, 1 to 1.5", PlainField, ""),
        Spec("pack", "arch_mm", "Free arch"),
    ),
}
