"""Everything on the car that is cut from tube between two joints: how long, pin to pin, and how sure that is."""

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from even_stance.vehicle.car import Axle, Vehicle
from even_stance.vehicle.members import AArm, AArmReversed, AnyMember, Mount, RadiusArm, Rod, TorqueArm, Watts
from even_stance.vehicle.records import Point, is_guess
from even_stance.vehicle.spots import own_point

# Rods of the steering, by kind: their names and the points they run between.
_STEERING_RODS: dict[str, tuple[tuple[str, str, str], ...]] = {
    "ram": (("Left ram link", "ram_left", "left_tie"), ("Right ram link", "ram_right", "right_tie")),
    "swing_beams": (("Left tie rod", "left_inner", "left_tie"), ("Right tie rod", "right_inner", "right_tie")),
}
_BOX_RODS = (("Tie rod", "left_tie", "right_tie"), ("Drag link", "ball", "drag"))


@dataclass(frozen=True)
class Piece:
    """One link, rod or arm.

    Attributes:
        axle, part: which, as build sheets call it; role: lower, upper, lateral, arm or steering; side.
        first, second: its ends at ride height; first_words, second_words: what they are called.
        welded: which of the ends is welded on and not screwed (first, second).
        tube_mm: outside of its tube as drawn; member: what it belongs to; mounts: those of its ends, where they have.
        bends: whether it carries bending from end to end, as an arm clamped to the axle does.
    """

    axle: str
    part: str
    role: str
    side: str
    first: Point
    second: Point
    first_words: str
    second_words: str
    tube_mm: float
    welded: tuple[bool, bool] = (False, False)
    member: AnyMember | None = None
    mounts: tuple[Mount | None, Mount | None] = (None, None)
    bends: bool = False

    @property
    def pin_mm(self) -> float:
        """Pin to pin at ride height, mm."""
        return float(np.linalg.norm(np.subtract(self.second.xyz, self.first.xyz)))

    @property
    def sure_mm(self) -> float:
        """The +/- of that: both ends off along the link."""
        return float(np.hypot(self.first.sure, self.second.sure))

    @property
    def guesses(self) -> tuple[str, ...]:
        """Which of its ends are where nobody measured, nor put them on purpose, as they are called."""
        ends = ((self.first, self.first_words), (self.second, self.second_words))
        return tuple(words for at, words in ends if is_guess(at))

    @property
    def words(self) -> str:
        """It and its axle, as it is called in a list of all."""
        return f"{self.axle} {self.part[0].lower()}{self.part[1:]}"


def pieces(vehicle: Vehicle) -> list[Piece]:
    """Every piece of the car, axle by axle: links and arms first, then the rods of its steering."""
    return [piece for axle in vehicle.axles for piece in axle_pieces(axle)]


def axle_pieces(axle: Axle) -> list[Piece]:
    """The pieces of one axle."""
    found = [piece for member in axle.members for piece in _of_member(axle.key, member)]
    steering = axle.steering
    if steering is None:
        return found
    for name, one, other in _STEERING_RODS.get(steering.kind, _BOX_RODS):
        first, second = own_point(axle, one), own_point(axle, other)
        if first is None or second is None or first.xyz == second.xyz:
            continue
        side = name.split()[0].lower() if name.split()[0] in ("Left", "Right") else "center"
        words = _steer_ends(name)
        found.append(Piece(axle.key, name, "steering", side, first, second, *words, tube_mm=38.1))
    return found


def _steer_ends(name: str) -> tuple[str, str]:
    if name == "Tie rod":
        return "left end", "right end"
    return {"Drag link": "pitman end"}.get(name, "inner end"), {"Drag link": "axle end"}.get(name, "outer end")


def _of_member(key: str, member: AnyMember) -> Iterator[Piece]:
    """The pieces of one member; a leaf has none."""
    mounts = member.mounts

    def piece(name: str, first: str, second: str, **more: object) -> Piece:
        a, b = mounts[first], mounts[second]
        return Piece(
            key, name, member.role, member.side, a.at, b.at, member.WORDS[first], member.WORDS[second], member.tube_mm,
            member=member, mounts=(a, b), **more,  # type: ignore[arg-type]
        )  # fmt: skip

    if isinstance(member, Rod):
        yield piece(member.name, "chassis", "axle")
    elif isinstance(member, RadiusArm | TorqueArm):
        yield piece(member.name, "chassis", "axle", welded=(False, True), bends=True)
    elif isinstance(member, AArm):
        for side in ("left", "right"):
            yield piece(f"{member.name}, {side} leg", f"chassis_{side}", "axle", welded=(False, True))
    elif isinstance(member, AArmReversed):
        for side in ("left", "right"):
            yield piece(f"{member.name}, {side} leg", f"axle_{side}", "chassis", welded=(False, True))
    elif isinstance(member, Watts):
        for side in ("left", "right"):
            yield piece(f"{member.name}, {side} link", f"outer_{side}", f"crank_{side}")
