"""The diary by date: what was written, and by itself what was measured and decided; searched by words."""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from functools import lru_cache
from heapq import nlargest

from even_stance.units import HABITS, System, format_length, format_mass, length_unit, mass_unit
from even_stance.vehicle.job import Job
from even_stance.vehicle.log import ENTRY_WORDS, Entry
from even_stance.vehicle.measuring import STAGES, Measuring, Reading, Stage


@dataclass(frozen=True)
class Item:
    """One line of the diary.

    Attributes:
        at: date and time, ISO 8601, may be empty; kind: in a word; title, text: what it says; stage: of the build then.
        photos: file names; entry: which entry of the log it is, or -1 for what comes from readings and variants.
    """

    at: str
    kind: str
    title: str
    text: str
    stage: Stage
    photos: tuple[str, ...] = ()
    entry: int = -1


def diary(job: Job, words: str = "") -> list[Item]:
    """All of the diary, the latest first; only what has all of the words, if any are given."""
    asked = words.lower().split()
    return [
        i for i in latest(job, len(job.log.entries))[0]
        if all(w in f"{i.kind} {i.title} {i.text} {i.at} {STAGES[i.stage]}".lower() for w in asked)
    ]  # fmt: skip


def latest(job: Job, most: int) -> tuple[list[Item], int]:
    """The latest of the diary, that many of its entries at most among them, and how long it is."""
    rest, entries = [*_readings(job.measuring, job.units, HABITS.decimal_inches), *_decisions(job)], job.log.entries
    # Of a long diary only what is looked at is put in words.
    newest = nlargest(most, range(len(entries)), key=lambda i: (entries[i].at, i))
    items = sorted([*_entries(job, newest), *rest], key=lambda item: item.at, reverse=True)
    return items, len(entries) + len(rest)


def _entries(job: Job, which: Iterable[int]) -> Iterator[Item]:
    for i in which:
        entry = job.log.entries[i]
        took = [
            f"{entry.hours:g} h" if entry.hours is not None else "",
            f"{entry.money:.2f}" if entry.money is not None else "",
        ]
        text = "; ".join(t for t in (entry.text, *took) if t)
        yield Item(entry.at, ENTRY_WORDS[entry.kind], entry.title, text, entry.stage, entry.photos, i)


@lru_cache(maxsize=4)
def _readings(measuring: Measuring, units: System, _thousandths: bool) -> tuple[Item, ...]:
    """Readings of one day and stage together, as they are read just now."""
    found = []
    days: dict[tuple[str, Stage], list[Reading]] = {}
    for reading in measuring.readings:
        days.setdefault((reading.taken[:10], reading.stage), []).append(reading)
    for (_, stage), own in days.items():
        first = own[0]
        stance = f"; {first.stance}" if first.stance else ""
        few = ", ".join(_reading_words(r, units) for r in own[:4]) + (" ..." if len(own) > 4 else "")
        many = f"{len(own)} reading{'' if len(own) == 1 else 's'}"
        found.append(Item(max(r.taken for r in own), "measured", many, f"{few}{stance}", stage))
    return tuple(found)


def _reading_words(reading: Reading, units: System) -> str:
    what = reading.what.replace("/", " ").replace(".", " ")
    if reading.quantity == "angle":
        return f"{what} {reading.value:.1f}°"
    if reading.quantity == "mass":
        return f"{what} {format_mass(reading.value, units)} {mass_unit(units)}"
    return f"{what} {format_length(reading.value, units).removeprefix('~')} {length_unit(units)}"


def _decisions(job: Job) -> Iterator[Item]:
    if job.decision:
        yield Item("", "decided", "Why this variant", job.decision, "found")
    for name, note in ((job.branch, job.branch_note), *((v.name, v.note) for v in job.variants)):
        if note:
            yield Item("", "thought", f"Variant {name}", note, "found")


def sums(job: Job) -> tuple[float, float]:
    """Hours and money of all entries."""
    return (
        sum(e.hours or 0.0 for e in job.log.entries),
        sum(e.money or 0.0 for e in job.log.entries),
    )


def with_entry(job: Job, entry: Entry) -> tuple[Entry, ...]:
    """The entries with one more."""
    return (*job.log.entries, entry)
