"""The cycle card: the postures worth trying on the jack before anything is welded, and what a different gap says."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from even_stance.errors import InputError
from even_stance.judgement.clearances import gap_words, kind_of, posture_words, short_of
from even_stance.study.clearances import Gap, GapStudy
from even_stance.units import format_length, length_unit
from even_stance.vehicle.edits import Edit, made, note_tried
from even_stance.vehicle.job import Job
from even_stance.vehicle.things import Tried

LEAST, MOST = 5, 10
_SAME_MM, _SAME_STEER = 30.0, 0.2
_LOOK_MM = 25.4  # gaps within an inch more than wanted are worth a look


@dataclass(frozen=True, eq=False)
class CardRow:
    """One posture to try.

    Attributes:
        words: in the words of the shop; gaps: what to look at there, the tightest first.
    """

    words: str
    gaps: tuple[Gap, ...]


def card(job: Job, study: GapStudy) -> list[CardRow]:
    """The five to ten postures worth trying, each with the gaps to look at there, what matters most first."""
    every = [g for g in study.gaps if kind_of(g) != "ground" and g.other is None]
    wanting = sorted(every, key=lambda g: -short_of(job, g))
    rows: list[list[Gap]] = []
    for gap in wanting:
        near = next((row for row in rows if _same(row[0], gap)), None)
        if near is not None:
            if len(near) < 4:
                near.append(gap)
        elif len(rows) < MOST and (len(rows) < LEAST or short_of(job, gap) > -_LOOK_MM):
            rows.append([gap])
    return [CardRow(f"{row[0].axle}: {posture_words(job, row[0])}", tuple(row)) for row in rows]


def _same(a: Gap, b: Gap) -> bool:
    """Whether two gaps are looked at in one go on the jack."""
    near = abs(a.left_mm - b.left_mm) < _SAME_MM and abs(a.right_mm - b.right_mm) < _SAME_MM
    return a.axle == b.axle and near and abs(a.steer - b.steer) <= _SAME_STEER * max(abs(a.steer), abs(b.steer), 1e-9)


def write_found(job: Job, gap: Gap, found_mm: float, note: str = "") -> Edit:
    """Write down the gap that was found at a posture of the card.

    Raises:
        InputError: it cannot be a gap.
    """
    if not -500.0 <= found_mm <= 2000.0:
        raise InputError("Gap found", f"{found_mm:.0f} mm is no gap.", "Type what the tape or the feeler said.")
    return note_tried(made(
        Tried, axle=gap.axle, left_mm=gap.left_mm, right_mm=gap.right_mm, steer=gap.steer, a=gap.a.name, b=gap.b.name,
        expected_mm=gap.gap_mm, found_mm=found_mm, note=note,
    ))  # fmt: skip


def tried_of(job: Job, gap: Gap) -> Tried | None:
    """What was found of a gap, if it was tried."""
    for tried in job.vehicle.clearances.cycle:
        if {tried.a, tried.b} == set(gap.names) and tried.axle == gap.axle:
            return tried
    return None


@dataclass(frozen=True)
class Suspect:
    """A measured thing that is likely off.

    Attributes:
        name: which; off_mm: by about how much, toward what it was held against when plus; readings: how many say so.
        sentence: what it means, in words.
    """

    name: str
    off_mm: float
    readings: int
    sentence: str


def suspects(job: Job, study: GapStudy) -> list[Suspect]:
    """Which measured things are likely off, from gaps that were found different from what was to be expected.

    Each gap that was found smaller than expected by more than its +/- puts both parts under suspicion, each by its
    share of the doubt; a part whose gaps were found right is cleared. Where several agree, it is off by their mean.
    """
    off: dict[str, list[tuple[float, float]]] = {}
    fine: set[str] = set()
    for gap in (*study.gaps, *study.touching):
        tried = tried_of(job, gap)
        if tried is None or tried.found_mm is None:
            continue
        less = tried.expected_mm - tried.found_mm
        if abs(less) <= max(gap.sure_mm, 1.0):
            fine |= set(gap.names)
            continue
        doubts = [max(part.sure_at(place), 0.1) for part, place in ((gap.a, gap.first), (gap.b, gap.second))]
        for part, doubt in zip((gap.a, gap.b), doubts, strict=True):
            off.setdefault(part.name, []).append((less, doubt**2 / sum(d**2 for d in doubts)))
    found = []
    for name, readings in off.items():
        if name in fine and len(readings) < 2:
            continue
        each = np.array([r[0] for r in readings])
        if (np.sign(each) != np.sign(each[0])).any():
            continue
        share = float(np.mean([r[1] for r in readings]))
        found.append((len(readings), share, name, float(each.mean())))
    found.sort(key=lambda s: (-s[0], -s[1]))
    return [Suspect(name, less, count, _says(job, name, less, count)) for count, _, name, less in found[:3]]


def _says(job: Job, name: str, less: float, count: int) -> str:
    size = f"{format_length(abs(less), job.units).removeprefix('~')} {length_unit(job.units)}"
    way = "nearer than measured" if less > 0.0 else "farther off than measured"
    times = "one gap says so" if count == 1 else f"{count} gaps agree"
    return f"{name} is likely {size} {way} ({times}): tape it again."


def card_rows(job: Job, rows: Sequence[CardRow]) -> list[list[str]]:
    """The card as a table: posture, what to look at, the gap to expect, what was found."""
    table = []
    for row in rows:
        for i, gap in enumerate(row.gaps):
            tried = tried_of(job, gap)
            found = "" if tried is None or tried.found_mm is None else gap_words(tried.found_mm, job.units)
            expected = f"{gap_words(gap.gap_mm, job.units)} ± {format_length(gap.sure_mm, job.units).removeprefix('~')}"
            table.append([row.words if i == 0 else "", f"{gap.a.name}, {gap.b.name}", expected, found])
    return table
