"""Springs to buy: rates and free lengths in the steps they are sold in, near a wanted ride frequency."""

from dataclasses import dataclass

import numpy as np

from even_stance.errors import InputError
from even_stance.judgement.search.springmoves import room_mm
from even_stance.mechanics.leaning import G, heave_rate
from even_stance.study.ride import axle_ride
from even_stance.study.springstops import stops_of
from even_stance.vehicle.car import Axle
from even_stance.vehicle.edits import Edit, change_spring
from even_stance.vehicle.job import Job
from even_stance.vehicle.springs import CoilOver, CoilSpring, Rocker

_OFFERED = 8
_SOLID_SHARE = 0.38


@dataclass(frozen=True)
class Wish:
    """What is wanted and what is sold.

    Attributes:
        frequency_hz: how often the axle is to go up and down in a second.
        rate_step, length_step_mm: in which steps coils are sold, N/mm and mm.
    """

    frequency_hz: float
    rate_step: float
    length_step_mm: float


@dataclass(frozen=True)
class Choice:
    """A coil that is sold.

    Attributes:
        rate_n_mm, free_mm: the coil; frequency_hz: what it gives; off_mm: how high the axle then sits with the seats
            where they are; turns: of the collar to ride height, + down, None without one.
        bind_mm: what is left of it at full bump, with coils of that length as long solid as those on now.
        edit: puts it on, both sides.
    """

    rate_n_mm: float
    free_mm: float
    frequency_hz: float
    off_mm: float
    turns: float | None
    bind_mm: float
    edit: Edit


def choose(job: Job, axle: Axle, name: str, wish: Wish) -> list[Choice]:
    """The coils that come nearest to a wish, best first.

    Raises:
        InputError: the spring has no coil, the axle is not weighed, or a step is nil.
    """
    part = axle.part(name)
    ride, run = axle_ride(job.vehicle, axle), stops_of(job.vehicle, axle, contacts=False)
    if not isinstance(part, CoilOver | CoilSpring | Rocker) or part.coil is None:
        raise InputError(name, "has no coil to choose.", "Look at a coil or coil-over on the Parts page.")
    if isinstance(part, CoilOver) and part.upper is not None:
        raise InputError(name, "has two coils.", "Make one coil of them on Parts, choose, then split it again.")
    if ride is None or run is None or ride.sprung_kg <= 0.0:
        raise InputError("Axle weight", "is not entered.", "Rates are chosen by weight: weigh the car in Stance.")
    if min(wish.frequency_hz, wish.rate_step, wish.length_step_mm) <= 0.0:
        raise InputError("Steps and frequency", "are more than nothing.", "Type figures above 0.")
    own = ride.springs.run(name)
    assert own is not None
    ratio, springs = float(own.motion_ratio[0]), [r for r in ride.springs.springs if r.unit.kind == own.unit.kind]
    # The springs stand on tires: what both together are to give needs stiffer springs than it would on rigid ones.
    both, tires = ride.sprung_kg * (2.0 * np.pi * wish.frequency_hz) ** 2 / 1000.0, 2.0 * ride.tire_n_mm
    if both >= tires:
        most = float(np.sqrt(1000.0 * tires / ride.sprung_kg) / (2.0 * np.pi))
        raise InputError("Wanted, a second", f"is more than its tires allow by themselves, {most:.1f}.", "Type less.")
    wanted = both * tires / (tires - both)
    others = float(heave_rate(ride.rates)) - sum(float(r.spring_part[0]) for r in springs)
    rate = max((wanted - others) / (len(springs) * ratio**2), wish.rate_step)
    force = 0.5 * ride.sprung_kg * G / ratio
    room, shared = room_mm(part), sum(float(r.force[0]) for r in springs) / len(springs)
    need = shared + force - 0.5 * float(ride.springs.push[0].sum()) / ratio
    shortest = float(np.interp(axle.bump_mm, run.travel, next(r for r in run.runs if r.unit.name == name).length))
    found = []
    low = max(np.floor(rate / wish.rate_step) - 1, 1)
    for k in range(int(low), int(low) + 4):
        n_mm = k * wish.rate_step
        exact = room + need / n_mm
        for length in {np.floor(exact / wish.length_step_mm), np.ceil(exact / wish.length_step_mm)}:
            free = float(length) * wish.length_step_mm
            solid = _SOLID_SHARE * free
            if free <= solid + 10.0:
                continue
            total = others + len(springs) * ratio**2 * n_mm
            over = free - exact
            edit = change_spring(
                axle.key, name, "Coil", inner="coil", rate_n_mm=n_mm, free_mm=free, solid_mm=min(solid, free - 5.0)
            )
            pitch = getattr(part, "pitch_mm", None)
            found.append(Choice(
                n_mm, free, float(ride.frequency_at(np.array(total))), over * n_mm * ratio * 2.0 / total,
                None if pitch is None else -over / pitch, shortest - part.seats_mm - solid, edit,
            ))  # fmt: skip
    found.sort(key=lambda c: abs(c.frequency_hz - wish.frequency_hz) / 0.05 + abs(c.off_mm) / 12.7)
    return found[:_OFFERED]
