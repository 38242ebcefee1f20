"""What ends the travel at either wheel: shocks, coils, stops, straps, links, joints and the driveshaft, in order."""

from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

import numpy as np

from even_stance.errors import StanceError
from even_stance.mechanics.crossings import crossings
from even_stance.mechanics.pose import Mask
from even_stance.mechanics.vectors import Array
from even_stance.study.answers import Answers, study_postures
from even_stance.study.axlestates import posture_states
from even_stance.study.beams import beams_of
from even_stance.study.beamsprings import beam_springs
from even_stance.study.clearances import couple_gaps, couples_of
from even_stance.study.hardparts import hard_parts
from even_stance.study.model import swing_limits
from even_stance.study.springs import SpringRun, marks_of, study_springs
from even_stance.vehicle.car import Axle, Vehicle
from even_stance.vehicle.springs import BumpStop, Strap

Way = Literal["bump", "droop"]
_BEYOND, _MORE_MM, _STEPS, _SKIP = 1.35, 30.0, 61, 5
# What ends the travel; the others only say where something begins.
ENDS = ("closed", "open", "bind", "solid", "tight", "lock", "swing", "out", "bottom", "center", "contact")


@dataclass(frozen=True)
class Stop:
    """Something that happens on the way up or down, both wheels together.

    Attributes:
        what: closed, open, bind, solid, touches, tight, slack, crossover, lock, swing, out, bottom, center or contact.
        name: of the spring, joint or link it happens at; travel_mm: at which travel, bump +.
        length_mm: how long the spring is then, if it is one.
    """

    what: str
    name: str
    travel_mm: float
    length_mm: float | None = None

    @property
    def ends(self) -> bool:
        """Whether the travel ends here."""
        return self.what in ENDS

    @property
    def way(self) -> Way:
        """Up or down."""
        return "bump" if self.travel_mm > 0.0 else "droop"


@dataclass(frozen=True, eq=False)
class StopRun:
    """An axle taken beyond its travel, both wheels together.

    Attributes:
        travel: mm, shape (n,); runs: its springs along it; stops: all that happens, from full droop up.
    """

    travel: Array
    runs: tuple[SpringRun, ...]
    stops: tuple[Stop, ...]

    def order(self, way: Way) -> list[Stop]:
        """What happens on the way from ride height, nearest first."""
        return sorted((s for s in self.stops if s.way == way), key=lambda s: abs(s.travel_mm))

    def first(self, way: Way) -> Stop | None:
        """What ends the travel first that way."""
        return next((s for s in self.order(way) if s.ends), None)


def stops_of(vehicle: Vehicle, axle: Axle, contacts: bool = True) -> StopRun | None:
    """What ends the travel of an axle; None where nothing holds it.

    Postures go some way beyond the travel asked for, so that what comes just after it is known as well. Whether
    anything solid hits on the way takes most of the time: who asks at every edit leaves that to the search for gaps.
    """
    if not axle.members and beams_of(axle) is None:
        return None
    over = vehicle.model_copy(update={"over": "ride"})
    return _stops(over, axle, contacts)


@lru_cache(maxsize=8)
def _stops(vehicle: Vehicle, axle: Axle, contacts: bool) -> StopRun | None:
    low, high = (_BEYOND * mm + _MORE_MM for mm in (axle.droop_mm, axle.bump_mm))
    travel = np.linspace(-low, high, _STEPS)
    travel[np.abs(travel).argmin()] = 0.0
    on_beams = beam_springs(axle, travel, travel)
    if on_beams is not None:
        every = np.ones(len(travel), dtype=bool)
        found = [stop for run in on_beams.runs for stop in _of_spring(run, travel, every)]
        found += _of_contacts(vehicle, axle, travel) if contacts else []
        return StopRun(travel, on_beams.runs, tuple(sorted(found, key=lambda s: s.travel_mm)))
    try:
        answers = study_postures(vehicle, axle, travel, travel)
    except StanceError:
        return None
    springs = study_springs(vehicle, axle, answers, second=False)
    found = [stop for run in springs.runs for stop in _of_spring(run, travel, answers.ok)]
    found += [*_of_links(answers, travel), *_of_shaft(answers, travel)]
    found += _of_contacts(vehicle, axle, travel) if contacts else []
    return StopRun(travel, springs.runs, tuple(sorted(found, key=lambda s: s.travel_mm)))


def _of_spring(run: SpringRun, travel: Array, ok: Mask) -> list[Stop]:
    """What happens to one spring."""
    if run.unit.kind in ("sway_bar", "leaf"):
        return []
    length = np.where(ok, run.length, np.nan)
    slope = -run.motion_ratio
    found = [
        Stop(what, run.unit.name, z, mark)
        for what, mark in marks_of(run.unit) for z in _nearest(crossings(travel, length - mark, slope))
    ]  # fmt: skip
    lost = ok & ~np.isfinite(run.length)
    for way in (1.0, -1.0):
        gone = travel[lost & (travel * way > 0.0)]
        if gone.size:  # a rocker or link that the axle's way does not let follow
            found.append(Stop("center", run.unit.name, float(gone[np.abs(gone).argmin()])))
    return found


def _nearest(travels: Array) -> list[float]:
    """Of the places where a length comes about, the one nearest to ride height either way."""
    ups, downs = [float(z) for z in travels if z > 0.0], [float(z) for z in travels if z <= 0.0]
    return [*([min(ups)] if ups else []), *([max(downs)] if downs else [])]


def _of_links(answers: Answers, travel: Array) -> list[Stop]:
    """Where the links lock up, and where a joint has swung as far as it goes."""
    found = []
    for way in (1.0, -1.0):
        stuck = ~answers.ok & (travel * way > 0.0)
        if stuck.any():
            reached = (travel * answers.pose.reached)[stuck]
            found.append(Stop("lock", "the links", float(reached[np.abs(reached).argmin()])))
    limits = np.maximum(swing_limits(answers.layout), 0.1)
    use = answers.needed_misalignment_deg / limits
    for way in (1.0, -1.0):
        side = np.flatnonzero(travel * way >= 0.0)
        side = side[np.argsort(np.abs(travel[side]))]
        for rod, end in np.ndindex(use.shape[1:]):
            along = np.nan_to_num(use[side, rod, end], nan=0.0)
            past = np.flatnonzero(along > 1.0)
            if past.size and past[0] > 0:
                i = int(past[0])
                part = (1.0 - along[i - 1]) / (along[i] - along[i - 1])
                z = travel[side[i - 1]] + part * (travel[side[i]] - travel[side[i - 1]])
                place = answers.layout.mounts[(answers.layout.rods[rod].first, answers.layout.rods[rod].second)[end]]
                found.append(Stop("swing", f"{place.member.name}, {place.member.WORDS[place.end]}", float(z)))
    # Of several joints that come to their end one after the other only the first says anything.
    return [s for s in found if s.what == "lock"] + [
        min(these, key=lambda s: abs(s.travel_mm))
        for way in ("bump", "droop") if (these := [s for s in found if s.what == "swing" and s.way == way])
    ]  # fmt: skip


def _of_contacts(vehicle: Vehicle, axle: Axle, travel: Array) -> list[Stop]:
    """Where something solid hits first on the way up or down; what touches at ride height already does not count."""
    if not vehicle.things:
        return []
    ride = int(np.abs(travel).argmin())
    travel = travel[ride % _SKIP :: _SKIP]  # gaps hardly bend between so near travels
    states = posture_states(vehicle, axle, np.column_stack((travel, travel, np.zeros(len(travel)))))
    couples = couples_of([p for p in hard_parts(vehicle) if p.axle in ("", axle.key)], states.moves)
    gaps = couple_gaps(states, couples, reach_mm=1.0)  # just what can touch at all
    ride, found = int(np.abs(travel).argmin()), []
    for way in (1.0, -1.0):
        first: Stop | None = None
        for (a, b), along in zip(couples, gaps, strict=True):
            hit = np.flatnonzero((along < 0.0) & (travel * way > 0.0)) if along[ride] > 0.0 else np.zeros(0, int)
            if not hit.size:
                continue
            i = int(hit[np.abs(travel[hit]).argmin()])
            before = i - int(way)
            share = along[before] / (along[before] - along[i]) if np.isfinite(along[before]) else 1.0
            at = float(travel[before] + share * (travel[i] - travel[before]))
            if first is None or abs(at) < abs(first.travel_mm):
                first = Stop("contact", f"{a.name}, {b.name}", at)
        found += [] if first is None else [first]
    return found


def _of_shaft(answers: Answers, travel: Array) -> list[Stop]:
    """Where the driveshaft's slip comes out of its spline or bottoms, and where a joint of it is at its limit."""
    found = []
    keys = (
        ("spline_engaged_mm", "out", 0.0),
        ("spline_room_mm", "bottom", 0.0),
        ("joint_limit_use_pct", "bent", 100.0),
    )
    for key, what, level in keys:
        values = answers.values.get(key)
        if values is None or not np.isfinite(values).all():
            continue
        for z in _nearest(crossings(travel, values - level, np.gradient(values, travel))):
            found.append(Stop(what if what != "bent" else "swing", "the driveshaft", z))
    return found


@dataclass(frozen=True)
class Fit:
    """What length makes a stop or strap come first, with something left of what it saves.

    Attributes:
        name: the stop or strap; saves: what would come first without it, None where nothing does within reach.
        gap_mm, length_mm: how far open a bump stop has to be at ride height, how long a strap.
        travel_mm: where it then ends the travel.
    """

    name: str
    saves: Stop | None
    travel_mm: float
    gap_mm: float | None = None
    length_mm: float | None = None


def fits(run: StopRun, axle: Axle, margin_mm: float = 12.7) -> list[Fit]:
    """Lengths of bump stops and straps that end the travel before shock, coil or joint does, by a margin of travel.

    Args:
        run: what ends the travel now; axle: the axle.
        margin_mm: how much travel is to be left of what is saved, mm (half an inch: common practice, no source).
    """
    found = []
    for spring in run.runs:
        part = spring.unit.part
        if not isinstance(part, BumpStop | Strap):
            continue
        way: Way = "bump" if isinstance(part, BumpStop) else "droop"
        hard = [s for s in run.order(way) if s.ends and s.what not in ("solid", "tight")]
        saves = hard[0] if hard else None
        sign = 1.0 if way == "bump" else -1.0
        asked = axle.bump_mm if way == "bump" else axle.droop_mm
        reach = asked if saves is None else min(abs(saves.travel_mm) - margin_mm, asked)
        stops_at = sign * max(reach, 0.0)
        length = float(np.interp(stops_at, run.travel, spring.length))
        if isinstance(part, BumpStop):
            ride = float(np.interp(0.0, run.travel, spring.length))
            found.append(Fit(part.name, saves, stops_at, gap_mm=max(ride - length - part.squeeze_mm, 0.0)))
        else:
            found.append(Fit(part.name, saves, stops_at, length_mm=length / (1.0 + part.stretch_pct / 100.0)))
    return found
