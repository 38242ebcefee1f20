"""What to do about a bracket that came out wrong, cheapest first; each tried on the built car before it is done.

The built car stands on its links as they were cut: where a bracket is off, the axle goes along. A fix is judged by
where the axle then stands against the design: its pinion's angle, how far it is aside and ahead, and how square.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import partial
from itertools import combinations
from typing import Literal

import numpy as np

from even_stance.errors import StanceError
from even_stance.judgement.wording import bracket_words, move_words
from even_stance.mechanics.vectors import Array
from even_stance.shop.asbuilt import Deviation, as_built, deviations, moved_back, one_only
from even_stance.study.cutlist import cut_list
from even_stance.study.threads import stands, stood_anew
from even_stance.units import format_length, length_unit
from even_stance.vehicle.car import Axle
from even_stance.vehicle.edits import choose_hole, move_by, with_axle
from even_stance.vehicle.job import Job
from even_stance.vehicle.measuring import Stage
from even_stance.vehicle.members import Rod
from even_stance.vehicle.spots import Spot, holes_of, mount_of

FixKind = Literal["turn", "hole", "shim", "redrill", "recut", "move", "live"]
# What counts as one: half a degree, an eighth of an inch (common practice, no source).
_DEG, _MM = 0.5, 3.175
_MOST_HALF_TURNS, _MOST_RECUT_MM = 8, 40.0
_HOLE_MM = 19.05
_MOST_SHIM_MM = 6.35  # a quarter of an inch, as spacers allow (common practice, no source)


@dataclass(frozen=True)
class Stand:
    """Where the built axle stands on its links against the design, at ride height.

    Attributes:
        nose_up_deg: of its pinion, more than designed; aside_mm: to the left; ahead_mm: ahead; square_mm: how much
            farther ahead its left wheel is than its right one.
    """

    nose_up_deg: float
    aside_mm: float
    ahead_mm: float
    square_mm: float

    @property
    def badness(self) -> float:
        """How far all of it is off, in halves of a degree and eighths of an inch, squared."""
        return float(
            (self.nose_up_deg / _DEG) ** 2 + (self.aside_mm / _MM) ** 2 + (self.ahead_mm / _MM) ** 2
            + (self.square_mm / _MM) ** 2
        )  # fmt: skip

    @property
    def good(self) -> bool:
        """Whether all of it is within half a degree and an eighth of an inch."""
        return abs(self.nose_up_deg) <= _DEG and max(abs(self.aside_mm), abs(self.ahead_mm), abs(self.square_mm)) <= _MM


@dataclass(frozen=True, eq=False)
class Fix:
    """One way to put it right.

    Attributes:
        kind, title: what to do; cost: rank, cheaper ones less; stand: where the axle then stands; comes: what comes of
            it.
        longer: links to be made longer, mm, by name; spot, moved: a point that is moved, and how far, mm.
    """

    kind: FixKind
    title: str
    cost: float
    stand: Stand
    comes: str
    longer: tuple[tuple[str, float], ...] = ()
    spot: Spot | None = None
    moved: tuple[float, float, float] = (0.0, 0.0, 0.0)


def rods_of(axle: Axle) -> tuple[str, ...]:
    """The links of an axle that can be turned."""
    return tuple(m.name for m in axle.members if isinstance(m, Rod))


def as_cut(job: Job, built: Axle, key: str) -> Array:
    """By how much every link as it was cut is longer than its measured ends are apart, mm, shape (rods,).

    Cut to the design, and turned since; where both of its ends were measured with the axle hanging on it, that is what
    the tape says of its length, and nothing is left to move the axle.
    """
    design = job.vehicle.axle(key)
    turned = {t.part: t.longer_mm for t in job.log.turned if t.axle == key}
    found = []
    for name in rods_of(design):
        lengths = [
            float(np.linalg.norm(np.subtract(m.axle.at.xyz, m.chassis.at.xyz)))
            for m in (design.member(name), built.member(name)) if isinstance(m, Rod)
        ]  # fmt: skip
        found.append(lengths[0] - lengths[1] + turned.get(name, 0.0))
    return np.array(found)


def stand_of(job: Job, key: str, built: Job, more: Array | None = None) -> Stand | None:
    """Where an axle stands on its links as cut, with some of them longer still; None where it cannot."""
    found = _stands(job, key, built, np.zeros((1, len(rods_of(job.vehicle.axle(key))))) if more is None else more[None])
    return found[0]


def _stands(job: Job, key: str, built: Job, more: Array) -> list[Stand | None]:
    """The same for many ways of making links longer, mm, shape (n, rods)."""
    axle, names = built.vehicle.axle(key), rods_of(job.vehicle.axle(key))
    if not names:
        return [None] * len(more)
    design = job.vehicle.axle(key)
    cut = as_cut(job, axle, key)
    at = stands(axle, names, cut + more)
    nose = 0.0 if design.pinion is None or axle.pinion is None else axle.pinion.nose_up_deg - design.pinion.nose_up_deg
    base = np.subtract(axle.center, design.center)
    found: list[Stand | None] = []
    for i in range(len(more)):
        if not at.ok[i]:
            found.append(None)
            continue
        ahead, aside, _ = at.shift[i] + base
        # Turned toward left, the left wheel is behind.
        square = -float(np.sin(at.yaw[i])) * design.track_mm
        found.append(Stand(nose + float(np.degrees(at.nose_up[i])), float(aside), float(ahead), square))
    return found


def hung(job: Job, key: str, built: Job, more: Array | None = None) -> Job:
    """The built car with its axle where it stands on its links.

    Raises:
        LayoutError: it cannot stand so.
    """
    names = rods_of(job.vehicle.axle(key))
    cut = as_cut(job, built.vehicle.axle(key), key)
    axle = stood_anew(built.vehicle.axle(key), names, cut + (0.0 if more is None else more))
    return with_axle(built, axle)


def fixes(job: Job, key: str, until: Stage | None = None) -> list[Fix]:
    """Ways to put right what is really off on an axle, cheapest first; those that do not cure say so."""
    off = [d for d in deviations(job, until) if d.spot.axle == key and d.spot.member and d.really]
    built = as_built(job, until)
    now = stand_of(job, key, built)
    if not off or now is None:
        return list(_wedge(job, key, built))
    found = [*_turns(job, key, built, now)]
    for offer in (_shims, _holes, _moves):
        found += offer(job, key, built, off)
    recut = _recut(job, key, built)
    found += [recut] if recut is not None else []
    names = rods_of(job.vehicle.axle(key))
    found.append(_fix(names, "live", "Live with it", 9.0, now, np.zeros(len(names))))
    return sorted(found, key=lambda f: (not f.stand.good, f.cost))


def effects(job: Job, key: str, off: Sequence[Deviation]) -> dict[Spot, Stand]:
    """What each point that is off does by itself to where the axle stands, for points of its links."""
    found = {}
    for deviation in off:
        if deviation.spot.axle == key and deviation.spot.member in rods_of(job.vehicle.axle(key)):
            stand = stand_of(job, key, one_only(job, deviation))
            if stand is not None:
                found[deviation.spot] = stand
    return found


def _wedge(job: Job, key: str, built: Job) -> Iterator[Fix]:
    """A wedge under the seats of a leaf axle whose pinion was measured to point elsewhere than designed."""
    design, axle = job.vehicle.axle(key), built.vehicle.axle(key)
    if design.pinion is None or axle.pinion is None or not any(m.kind == "leaf" for m in axle.members):
        return
    off = axle.pinion.nose_up_deg - design.pinion.nose_up_deg
    if abs(off) > axle.pinion.angle_sure_deg:
        title = f"Wedge of {abs(off):.1f}° under the spring seats, pinion {'down' if off > 0 else 'up'}"
        yield _fix(
            (), "shim", title, 2.0, Stand(0.0, 0.0, 0.0, 0.0), np.zeros(0), comes="longer center pins, U-bolts anew"
        )


def _fix(
    names: tuple[str, ...], kind: FixKind, title: str, cost: float, stand: Stand, more: Array,
    spot: Spot | None = None, moved: tuple[float, float, float] = (0.0, 0.0, 0.0), comes: str = "",
) -> Fix:  # fmt: skip
    said = "all in" if stand.good else "does not cure"
    longer = tuple((n, float(v)) for n, v in zip(names, more, strict=True) if abs(v) > 1e-9)
    return Fix(kind, title, cost, stand, f"{said}{'; ' if comes else ''}{comes}", longer, spot, moved)


def reserve(job: Job, key: str, name: str) -> tuple[float, float]:
    """How much shorter and longer a link can still be set at its threads, mm, + both: of its parts, else an inch."""
    cut = next((c for c in cut_list(job.vehicle) if (c.piece.axle, c.piece.part) == (key, name)), None)
    if cut is None:
        return 12.7, 12.7
    done = sum(t.longer_mm for t in job.log.turned if (t.axle, t.part) == (key, name))
    return max(cut.in_mm + done, 0.0), max(cut.out_mm - done, 0.0)


def _turns(job: Job, key: str, built: Job, now: Stand) -> Iterator[Fix]:
    """One link, or two, turned at their threads: all combinations within what the threads have left."""
    names = rods_of(job.vehicle.axle(key))
    threads = job.measuring.threads
    step = threads.pitch_mm * (2.0 if threads.both_ends else 1.0) * (0.5 if threads.half_turns else 1.0)
    options = []
    for name in names:
        shorter, longer = reserve(job, key, name)
        low, high = -int(shorter / step + 1e-9), int(longer / step + 1e-9)
        options.append(np.arange(max(low, -_MOST_HALF_TURNS), min(high, _MOST_HALF_TURNS) + 1) * step)
    tried: list[Array] = []
    for i in range(len(names)):
        tried += [_row(len(names), {i: v}) for v in options[i] if abs(v) > 1e-9]
    for i, j in combinations(range(len(names)), 2):
        tried += [_row(len(names), {i: a, j: b}) for a in options[i] for b in options[j] if abs(a) > 1e-9 < abs(b)]
    if not tried:
        return
    every = _stands(job, key, built, np.array(tried))
    best: dict[int, tuple[float, int]] = {}
    for k, stand in enumerate(every):
        if stand is None:
            continue
        count = int((np.abs(tried[k]) > 1e-9).sum())
        worth = stand.badness + 0.02 * np.abs(tried[k]).sum() / step
        if count not in best or worth < best[count][0]:
            best[count] = (float(worth), k)
    for count, (worth, k) in sorted(best.items()):
        stand = every[k]
        assert stand is not None
        if worth >= now.badness or (count == 2 and 1 in best and worth > 0.5 * best[1][0]):
            continue
        half = step / (0.5 if threads.half_turns else 1.0)
        said = [_turn_words(names[i].lower(), float(v) / half) for i, v in enumerate(tried[k]) if abs(v) > 1e-9]
        left = min(min(reserve(job, key, n)) - abs(v) for n, v in zip(names, tried[k], strict=True) if abs(v) > 1e-9)
        comes = f"{_said(job, max(left, 0.0))} of thread left"
        yield _fix(names, "turn", f"Turn {' and '.join(said)}", 1.0 + 0.3 * count, stand, tried[k], comes=comes)


def _turn_words(name: str, turns: float) -> str:
    many = f"{abs(turns):g} turn{'' if abs(turns) == 1.0 else 's'}"
    return f"{name} {many} {'longer' if turns > 0 else 'shorter'}"


def _row(n: int, values: dict[int, float]) -> Array:
    row = np.zeros(n)
    for i, v in values.items():
        row[i] = v
    return row


def _said(job: Job, mm: float) -> str:
    return f"{format_length(abs(mm), job.units).removeprefix('~')} {length_unit(job.units)}"


def _holes(job: Job, key: str, built: Job, off: list[Deviation]) -> Iterator[Fix]:
    """The next hole up or down at a bracket that is off."""
    names = rods_of(job.vehicle.axle(key))
    none = np.zeros(len(names))
    for deviation in off[:3]:
        _, hole = holes_of(built, deviation.spot)
        if hole is None:
            continue
        for step in (-1, 1):
            try:
                moved = choose_hole(deviation.spot, hole + step).apply(built)
            except (StanceError, IndexError):
                continue
            stand = stand_of(job, key, moved)
            if stand is not None:
                title = f"{bracket_words(deviation.spot, None)}: next hole {'up' if step > 0 else 'down'}"
                yield _fix(names, "hole", title, 1.2, stand, none, deviation.spot)


def _shims(job: Job, key: str, built: Job, off: list[Deviation]) -> Iterator[Fix]:
    """A joint brought back sideways in its bracket: a spacer thinner on one side and as much thicker on the other."""
    names = rods_of(job.vehicle.axle(key))
    for deviation in off[:3]:
        back = moved_back((0.0, float(deviation.off[1]), 0.0))
        mount = mount_of(built, deviation.spot)
        across = mount.bolt in ("square", "across") and mount.joint.startswith("rod_end")
        if not across or not deviation.sure_mm < abs(back[1]) <= _MOST_SHIM_MM:
            continue
        stand = stand_of(job, key, move_by(deviation.spot, *back, both_sides=False).apply(built))
        if stand is not None:
            title = f"Shim {bracket_words(deviation.spot, None).lower()}: joint {_said(job, back[1])} to the "
            side = "left" if back[1] > 0 else "right"
            yield _fix(names, "shim", title + side, 1.1, stand, np.zeros(len(names)), deviation.spot, back,
                       "spacers swapped, as much off one side as on the other")  # fmt: skip


def _moves(job: Job, key: str, built: Job, off: list[Deviation]) -> Iterator[Fix]:
    """The hole drilled anew where it should be, or the tack cut and the bracket moved there."""
    names = rods_of(job.vehicle.axle(key))
    none = np.zeros(len(names))
    for deviation in off[:3]:
        back = moved_back(deviation.off.tolist())
        moved = move_by(deviation.spot, *back, both_sides=False).apply(built)
        stand = stand_of(job, key, moved)
        if stand is None:
            continue
        where = move_words(*back, job.units, float(deviation.spot.member.find("right") < 0) * 2.0 - 1.0)
        bracket = bracket_words(deviation.spot, None)
        make = partial(_fix, names, stand=stand, more=none, spot=deviation.spot, moved=back)
        flat = float(np.hypot(back[0], back[2]))
        if abs(back[1]) < 1.0 and flat >= 1.3 * _HOLE_MM:
            yield make("redrill", f"Re-drill {bracket.lower()}, {where}", 3.0, comes="new hole clear of the old one")
        yield make("move", f"Cut the tack, move {bracket.lower()} {where}", 5.0, comes="grind and tack again")


def _recut(job: Job, key: str, built: Job) -> Fix | None:
    """One link cut anew to the length that serves best."""
    names = rods_of(job.vehicle.axle(key))
    best: tuple[float, int, float] | None = None
    for step, around in ((2.0, None), (0.1, 2.0), (0.01, 0.1)):  # coarse, then closer around the best so far
        reach = np.arange(-_MOST_RECUT_MM, _MOST_RECUT_MM + 1e-9, step)
        if best is not None and around is not None:
            reach = best[2] + np.arange(-around, around + 1e-9, step)
        which = range(len(names)) if best is None else (best[1],)
        tried = [(i, float(v)) for i in which for v in reach]
        every = _stands(job, key, built, np.array([_row(len(names), {i: v}) for i, v in tried]).reshape(-1, len(names)))
        for (i, v), one in zip(tried, every, strict=True):
            if one is not None and (best is None or one.badness < best[0]):
                best = (one.badness, i, v)
    if best is None:
        return None
    _, i, v = best
    more = _row(len(names), {i: v})
    stand = stand_of(job, key, built, more)
    if stand is None or abs(v) < 0.5:
        return None
    cut = next((c for c in cut_list(job.vehicle) if (c.piece.axle, c.piece.part) == (key, names[i])), None)
    to = (
        f" to {_said(job, cut.cut_mm + v)}"
        if cut is not None
        else f", {_said(job, v)} {'longer' if v > 0 else 'shorter'}"
    )
    return _fix(names, "recut", f"Re-cut {names[i].lower()}{to}", 4.0, stand, more, comes="new tube")
