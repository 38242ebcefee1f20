"""How the places of a car are known, and what a judged number rests on: taped, built, worked out, or just guessed."""

from collections.abc import Iterator
from functools import lru_cache
from typing import Literal, get_args

from even_stance.vehicle.car import Axle
from even_stance.vehicle.job import Job
from even_stance.vehicle.measuring import Measuring, Reading
from even_stance.vehicle.records import HowKnown
from even_stance.vehicle.spots import STEER_POINTS, Spot, all_spots, point_of, spots_on

How = HowKnown | Literal["missing"]
HOW: tuple[How, ...] = (*get_args(HowKnown), "missing")
KNOWN_WORDS: dict[How, str] = {
    "taped": "taped", "built": "as built", "derived": "worked out", "typed": "typed", "guessed": "guess",
    "missing": "missing",
}  # fmt: skip
_OWN = {"driveline": ("output", "pinion", "carrier"), "steering": tuple(STEER_POINTS)}


@lru_cache(maxsize=4)
def _latest(measuring: Measuring) -> dict[str, Reading]:
    """The last reading that counts of every place that was measured ahead, left and up, by what it is of."""
    found: dict[str, dict[str, Reading]] = {}
    for reading in measuring.readings:
        if reading.counts:
            for mark in ("/", "."):
                base, _, coordinate = reading.what.rpartition(mark)
                if base and coordinate in ("ahead", "left", "up"):
                    found.setdefault(base, {}).pop(coordinate, None)
                    found[base][coordinate] = reading
    return {base: list(each.values())[-1] for base, each in found.items() if len(each) == 3}


def how_known(job: Job, spot: Spot) -> How:
    """How a point is known: as is said of it, else by its last reading; what has neither is a guess."""
    said = point_of(job, spot).known
    if said is not None:
        return said
    readings = _latest(job.measuring)
    names = (f"{spot.axle}/{spot.member}/{spot.end}", f"{spot.axle}.{spot.end}", f"powertrain.{spot.end}")
    reading = next((readings[n] for n in (names if not spot.member else names[:1]) if n in readings), None)
    if reading is None or reading.tool == "guess":
        return "guessed"
    if reading.tool == "worked_out":
        return "derived"
    return "taped" if reading.stage == "found" else "built"


def _points(axle: Axle, station: str) -> Iterator[Spot]:
    """The points that the numbers of a station rest on."""
    springs = {s.name for s in axle.springs}
    for spot in spots_on(axle):
        if not spot.member:
            if spot.end in _OWN.get(station, ()) or station == "clearance":
                yield spot
        elif spot.member not in springs or station in ("springs", "clearance"):
            yield spot


def rests_on(job: Job, axle: Axle, station: str) -> dict[How, int]:
    """How many points the numbers of a station of one axle rest on, by how they are known."""
    counts: dict[How, int] = dict.fromkeys(HOW, 0)
    for spot in _points(axle, station):
        counts[how_known(job, spot)] += 1
    if station == "driveline":
        counts["missing"] += sum(at is None for at in (axle.output, axle.pinion))
    if station == "springs":
        counts["missing"] += not axle.springs and not any(m.kind == "leaf" for m in axle.members)
    return counts


def guessed_spots(job: Job) -> list[Spot]:
    """The points of the car that nobody measured, nor put where they are on purpose."""
    return [spot for spot in all_spots(job) if how_known(job, spot) == "guessed"]


def point_name(spot: Spot) -> str:
    """A point as replies call it: its axle, member and end (“rear/Upper left/chassis”), those that it has."""
    return "/".join(part for part in (spot.axle, spot.member, spot.end) if part)
