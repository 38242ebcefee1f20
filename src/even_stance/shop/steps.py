"""What a step of the measuring sheet is."""

from collections.abc import Callable
from dataclasses import dataclass

from even_stance.shop.readings import Means
from even_stance.study.drawing import View, Xyz
from even_stance.vehicle.job import Job
from even_stance.vehicle.measuring import Quantity

Apply = Callable[[Job, Means], Job]
Line = tuple[Xyz, Xyz]


@dataclass(frozen=True)
class Field:
    """One thing to read: its key in the readings, what it is called, and whether it is a length, angle or mass."""

    what: str
    title: str
    quantity: Quantity = "length"


@dataclass(frozen=True)
class Step:
    """One step of the sheet.

    Attributes:
        key, group, title: what it is; how: how to do it.
        fields: what to read; apply: what the means of the readings do to the job.
        view, lines: the picture: the projection and the lines to measure, mm.
    """

    key: str
    group: str
    title: str
    how: str
    fields: tuple[Field, ...]
    apply: Apply
    view: View = "side"
    lines: tuple[Line, ...] = ()
