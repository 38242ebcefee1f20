"""What a part is as something that can be hit: its pieces, what it hangs on, where it is bolted, how sure it is."""

from dataclasses import dataclass
from typing import Literal

import numpy as np

from even_stance.mechanics.cores import Core, tube
from even_stance.mechanics.vectors import Array, norm
from even_stance.vehicle.car import Axle

Family = Literal["tires", "links", "axle", "shaft", "springs", "steering", "frame", "lines", "body"]
ROD_MM = 32.0  # tie rods and drag links, as most are
_OFF_MM = 90.0  # from a joint to where its bracket is no longer in the way


@dataclass(frozen=True, eq=False)
class Hard:
    """One part that can hit others.

    Attributes:
        name: what it is called, once on the car; axle: the axle it belongs to, empty for the rest of the car.
        part: the member, spring or thing it is a piece of; body: what it hangs on; family: which vial it counts for.
        cores: its convex pieces at ride height.
        bolted: places where it is bolted to something else: the body there, and the place, mm, shape (3,)
        holds: whether links and springs are bolted to it, so that they are left alone near their joints.
        sure: how far off its surface may be: places, mm, shape (3,), and +/- mm at each; between them it goes evenly.
        wanted_mm: the least gap it asks for; None: what is usual.
        thing: whether a person put it on.
    """

    name: str
    axle: str
    part: str
    body: str
    family: Family
    cores: tuple[Core, ...]
    bolted: tuple[tuple[str, Array], ...] = ()
    holds: bool = False
    sure: tuple[tuple[Array, float], ...] = ()
    wanted_mm: float | None = None
    thing: bool = False

    def sure_at(self, place: Array) -> float:
        """How far off its surface may be near a place at ride height, +/- mm."""
        if not self.sure:
            return 3.175
        if len(self.sure) == 1:
            return self.sure[0][1]
        (a, one), (b, two) = self.sure[:2]
        run = b - a
        share = float(np.clip((place - a) @ run / max(float(run @ run), 1e-9), 0.0, 1.0))
        return float(np.hypot((1.0 - share) * one, share * two))

    def clear_of(self, other: "Hard") -> tuple[Core, ...]:
        """Its pieces as they count against another part: off the joints that are bolted to that one's body."""
        if not other.holds:
            return self.cores
        places = [place for body, place in self.bolted if body == other.body]
        if not places:
            return self.cores
        kept = (_off(core, places) for core in self.cores)
        return tuple(core for core in kept if core is not None)


def _off(core: Core, places: list[Array]) -> Core | None:
    """A straight piece without what of it is near some places; None when nothing is left."""
    if len(core.points) == 1:
        near = any(norm(core.points[0] - p) < _OFF_MM for p in places)
        return None if near else core
    if len(core.points) != 2:
        return core
    a, b = core.points
    long = float(norm(b - a))
    low, high = 0.0, 1.0
    for place in places:
        share = float((place - a) @ (b - a)) / max(long * long, 1e-9)
        off = _OFF_MM / max(long, 1e-9)
        if norm(a + share * (b - a) - place) > _OFF_MM:
            continue
        if share < 0.5:
            low = max(low, share + off)
        else:
            high = min(high, share - off)
    if high <= low:
        return None
    return Core(np.stack((a + low * (b - a), a + high * (b - a))), core.ball_mm, core.disc_mm, core.axis,
                core.normals, core.edges)  # fmt: skip


def part_name(axle: Axle, name: str) -> str:
    """A part's name with its axle's: there may be a left tire at either end."""
    plain = name if name[1:2].isupper() else name[:1].lower() + name[1:]
    return f"{axle.key} {plain}"


def rod_part(axle: Axle, name: str, body: str, a: Array, b: Array, across: float, ends: tuple[str, str]) -> Hard:
    """A rod between two joints of the steering."""
    return Hard(part_name(axle, name), axle.key, name, body, "steering", (tube(a, b, across),),
                ((ends[0], a), (ends[1], b)), sure=((a, 3.175), (b, 3.175)))  # fmt: skip
