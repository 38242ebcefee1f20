"""The cheap changes a person can make to a linkage: the next hole, a few turns of thread, a bracket moved a little."""

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from even_stance.judgement.wording import bracket_words, move_words
from even_stance.mechanics.linkage import Linkage
from even_stance.mechanics.vectors import Array
from even_stance.study.model import layout_of, linkage_from, mount_points
from even_stance.study.sensitivity import with_lengths
from even_stance.study.threads import turn_links
from even_stance.units import MM_PER_INCH
from even_stance.vehicle.car import Axle
from even_stance.vehicle.edits import Edit, choose_hole, move_by
from even_stance.vehicle.job import Job
from even_stance.vehicle.members import Rod
from even_stance.vehicle.spots import Spot, twin_of

HOLE, TURN, MOVE = 1.0, 2.0, 4.0
_TURNS = (-3.0, -2.0, -1.0, -0.5, 0.5, 1.0, 2.0, 3.0)
_MOVES = (-3, -2, -1, 1, 2, 3)


@dataclass(frozen=True)
class Move:
    """One change and how much bother it is.

    Attributes:
        words: in the language of the shop; edit: the change; cost: 1 for a hole, 2 and up for turns, 4 and up for a
            bracket that is moved.
        points: all mounts of the axle after it, mm, shape (m, 3); longer: what each rod gained, mm, shape (n,)
    """

    words: str
    edit: Edit
    cost: float
    points: Array
    longer: Array


def hole_moves(job: Job, axle: Axle, steps: tuple[int, ...] = (-1, 1)) -> list[Move]:
    """Every bracket of an axle (with its twin) so many holes down or up."""
    base, places, none = as_it_is(axle)
    return [m for spot, twin in pairs(job, axle) for m in _holes(job, spot, twin, places, base, none, steps)]


def moves(job: Job, axle: Axle) -> list[Move]:
    """Every cheap change of one axle, both sides alike."""
    base, places, none = as_it_is(axle)
    found = hole_moves(job, axle, (-2, -1, 1, 2))
    for spot, twin in pairs(job, axle):
        found += list(bracket_moves(job, spot, twin, places, base, none))
    found += list(_turned(job, axle, base, [r.name for r in layout_of(axle).rods]))
    return found


def as_it_is(axle: Axle) -> tuple[Array, dict[Spot, int], Array]:
    """Its mounts, mm (m, 3), which of them each bracket is, and what its rods have gained, mm (n,): nothing."""
    layout = layout_of(axle)
    places = {Spot(axle.key, p.member.name, p.end): i for i, p in enumerate(layout.mounts)}
    return mount_points(axle), places, np.zeros(len(layout.rods))


def pairs(job: Job, axle: Axle) -> Iterator[tuple[Spot, Spot | None]]:
    """Every bracket of an axle that stands on the frame or the axle, with its twin on the other side."""
    seen: set[Spot] = set()
    for member in axle.members:
        for end in member.mounts:
            spot = Spot(axle.key, member.name, end)
            if spot in seen or member.body(end) not in ("chassis", "axle"):
                continue
            twin = twin_of(job, spot)
            seen |= {spot} if twin is None else {spot, twin}
            yield spot, twin


def _holes(
    job: Job, spot: Spot, twin: Spot | None, places: dict[Spot, int], base: Array, none: Array, steps: tuple[int, ...]
) -> Iterator[Move]:  # fmt: skip
    """Every other hole of every bracket, both sides at once."""
    mounts = {s: job.vehicle.axle(s.axle).member(s.member).mounts[s.end] for s in (spot, twin) if s is not None}
    hole = mounts[spot].hole
    if hole is None:
        return
    for step in steps:
        if not 0 <= hole + step < len(mounts[spot].holes):
            continue
        points = base.copy()
        for where, mount in mounts.items():
            if hole + step < len(mount.holes):
                points[places[where]] = mount.holes[hole + step].xyz
        count = "one hole" if abs(step) == 1 else "two holes"
        words = f"{bracket_words(spot, twin)} {count} {'up' if step > 0 else 'down'}"
        yield Move(words, choose_hole(spot, hole + step), HOLE + 0.1 * abs(step), points, none)


def bracket_moves(
    job: Job, spot: Spot, twin: Spot | None, places: dict[Spot, int], base: Array, none: Array
) -> Iterator[Move]:  # fmt: skip
    """Every bracket a little up, down, ahead and back."""
    unit = MM_PER_INCH / 2 if job.units == "us" else 12.0
    side = 1.0 if base[places[spot], 1] >= 0 else -1.0
    for axis in range(3):
        for count in _MOVES:
            step = np.zeros(3)
            step[axis] = count * unit * (side if axis == 1 else 1.0)
            points = base.copy()
            points[places[spot]] += step
            if twin is not None:
                points[places[twin]] += step * (1.0, -1.0, 1.0)
            dx, dy, dz = (float(s) for s in step)
            words = f"Move {bracket_words(spot, twin).lower()} {move_words(dx, dy, dz, job.units, side)}"
            cost = MOVE + 0.5 * abs(count)
            yield Move(words, move_by(spot, dx, dy, dz), cost, points, none)


def _turned(job: Job, axle: Axle, base: Array, names: list[str]) -> Iterator[Move]:
    """Both links of a pair, or a single one, turned longer or shorter at their threads."""
    threads = job.measuring.threads
    per_turn = threads.pitch_mm * (2.0 if threads.both_ends else 1.0)
    groups: dict[str, list[str]] = {}
    for member in axle.members:
        # A lateral bar turned longer shifts the axle sideways: that is squaring, not tuning.
        if isinstance(member, Rod) and member.role != "lateral":
            groups.setdefault(member.name.replace(" left", "").replace(" right", ""), []).append(member.name)
    for name, members in groups.items():
        for turns in _TURNS:
            if turns % 1 and not threads.half_turns:
                continue
            longer = np.array([turns * per_turn if n in members else 0.0 for n in names])
            way = "longer" if turns > 0 else "shorter"
            words = f"{name}{' links' if len(members) > 1 else ''} {abs(turns):g} turn{'s' * (abs(turns) != 1)} {way}"
            yield Move(words, turn_links(axle.key, tuple(members), turns * per_turn, words), TURN + 0.2 * abs(turns),
                       base, longer)  # fmt: skip


def linkages_of(axle: Axle, tried: list[Move]) -> Linkage:
    """The linkages after each move, one batch, shape (moves, ...)."""
    linkage = linkage_from(axle, layout_of(axle), np.stack([m.points for m in tried]))
    return with_lengths(linkage, np.stack([m.longer for m in tried]))
