"""A drawing as a list of shapes in mm, rendered alike to screen and paper.

Every shape lies in the plane of its projection: h to the right, v up, mm. Styles are words (upper, tire, ghost ...);
each renderer turns them into its own pens and colors.
"""

from dataclasses import dataclass
from typing import Literal

import numpy as np

from even_stance.mechanics.vectors import Array
from even_stance.vehicle.spots import Spot

View = Literal["side", "plan", "rear"]
VIEWS: tuple[View, ...] = ("side", "plan", "rear")
VIEW_TITLES: dict[View, tuple[str, str]] = {
    "side": ("SIDE", "from the left, front to the left"),
    "plan": ("PLAN", "from above, front to the left"),
    "rear": ("REAR", "from behind, left to the left"),
}
Place = tuple[float, float]
Xyz = tuple[float, float, float]


def project(view: View, point: Xyz) -> Place:
    """Where a point of the car (x ahead, y left, z up) falls in a projection."""
    x, y, z = point
    return {"side": (-x, z), "plan": (-x, -y), "rear": (-y, z)}[view]


_SEEN: dict[View, tuple[list[int], Array]] = {
    "side": ([0, 2], np.array([-1.0, 1.0])), "plan": ([0, 1], np.array([-1.0, -1.0])),
    "rear": ([1, 2], np.array([-1.0, 1.0])),
}  # fmt: skip


def project_all(view: View, points: Array) -> Array:
    """Where many points of the car fall in a projection, mm, shape (n, 3) to (n, 2)."""
    axes, signs = _SEEN[view]
    flat: Array = points[:, axes] * signs
    return flat


PLANES: dict[View, tuple[int, int]] = {"side": (0, 2), "plan": (0, 1), "rear": (1, 2)}
"""Which coordinates can be seen to change in a projection."""


def unproject(view: View, dh: float, dv: float) -> Xyz:
    """The movement on the car that a movement in a projection stands for; nil along the line of sight."""
    moves: dict[View, Xyz] = {"side": (-dh, 0.0, dv), "plan": (-dh, -dv, 0.0), "rear": (0.0, -dh, dv)}
    return moves[view]


@dataclass(frozen=True)
class Path:
    """An open line through places; `width_mm` draws it as thick as the part, else it is a hairline of its style."""

    places: tuple[Place, ...]
    style: str
    width_mm: float = 0.0


@dataclass(frozen=True)
class Area:
    """A filled outline."""

    places: tuple[Place, ...]
    style: str


@dataclass(frozen=True)
class Round:
    """A circle."""

    center: Place
    radius_mm: float
    style: str


@dataclass(frozen=True)
class Joint:
    """A joint that can be taken hold of, drawn at a size that does not zoom; hollow where its place is a guess."""

    center: Place
    spot: Spot
    style: str
    guess: bool = False


@dataclass(frozen=True)
class Hole:
    """A free hole of a bracket."""

    center: Place
    style: str = "hole"


@dataclass(frozen=True)
class Mark:
    """A symbol of fixed size with a label: "cross" for a computed point, "cg" for the center of gravity."""

    center: Place
    symbol: Literal["cross", "cg"]
    style: str
    label: str = ""


Beside = Literal["right", "above", "below"]


@dataclass(frozen=True)
class Label:
    """Words at a place: to its upper right, or in the middle above or below it."""

    at: Place
    text: str
    style: str
    beside: Beside = "right"


Shape = Path | Area | Round | Joint | Hole | Mark | Label
