"""Springs to start from: fitted to an axle's track, travel and weight, to be taped and dragged after that."""

from dataclasses import dataclass
from typing import Literal

import numpy as np

from even_stance.mechanics.leaning import G
from even_stance.study.beams import beams_of
from even_stance.study.beamsprings import beam_springs
from even_stance.study.ride import axle_ride, rate_of_tire
from even_stance.study.springs import ride_length
from even_stance.vehicle.car import Axle, Frame, Vehicle
from even_stance.vehicle.edits import made
from even_stance.vehicle.job import Job, Purpose
from even_stance.vehicle.members import Mount
from even_stance.vehicle.records import GUESS_MM, Point
from even_stance.vehicle.springs import (
    AirSpring,
    AnySpring,
    BumpStop,
    Coil,
    CoilOver,
    CoilSpring,
    Rocker,
    Shock,
    Strap,
    SwayBar,
)

SpringKey = Literal[
    "coil_over",
    "dual",
    "coil",
    "air",
    "shock",
    "rocker",
    "rocker_shock",
    "bump_stop",
    "strap",
    "sway_bar",
    "bar_on_axle",
]


@dataclass(frozen=True)
class SpringWords:
    """How a kind of spring is called, and what it is good for, in one sentence."""

    title: str
    words: str


SPRINGS: dict[SpringKey, SpringWords] = {
    "coil_over": SpringWords("Coil-overs", "A coil on each shock, its height set by a collar."),
    "dual": SpringWords("Coil-overs with two coils", "Soft first; past the crossover stop the main coil works alone."),
    "coil": SpringWords("Coils and shocks", "A coil on the axle, the shock beside it."),
    "air": SpringWords("Air springs and shocks", "Height by pressure; it must stand on its stops with no air in it."),
    "shock": SpringWords("Shocks alone", "For axles on leaves."),
    "rocker": SpringWords("Cantilevers", "A pushrod and a rocker: long travel from a short shock."),
    "rocker_shock": SpringWords("Cantilevers without a coil", "The same with a shock alone, for axles on leaves."),
    "bump_stop": SpringWords("Bump stops", "End the bump before a shock, a coil or sheet metal does."),
    "strap": SpringWords("Limit straps", "End the droop before a shock or a joint does."),
    "sway_bar": SpringWords("Sway bar on the frame", "Holds against lean; its links reach down to the axle."),
    "bar_on_axle": SpringWords("Sway bar on the axle", "The same, its bearings on the axle and its links up."),
}
# How often a body goes up and down on its springs in a second, front of these (common practice, no source).
FREQUENCY_HZ: dict[Purpose, float] = {
    "street_cruiser": 1.3, "street_performance": 1.7, "drag": 1.4, "trail": 1.3, "desert": 1.2,
    "rock": 1.15, "tow": 1.4, "rally": 1.6, "race": 2.2,
}  # fmt: skip
_SPARE_MM = 25.4  # left at either end of a shock's stroke, to start from
_LEAST_KG = 300.0  # what an axle carries, to start from, while nothing is weighed
_ARM_OVER_TRAVEL = 1.4
_FRONT_BAR, _REAR_BAR = 0.5, 0.25  # of what the springs hold (common practice, no source)


def starting_springs(job: Job, key: str, kind: SpringKey) -> tuple[AnySpring, ...]:
    """Springs of a kind, both sides, that fit an axle: long enough for its travel, stiff enough for its weight."""
    vehicle, axle = job.vehicle, job.vehicle.axle(key)
    if kind in ("sway_bar", "bar_on_axle"):
        return (_fitted_bar(job, key, _bar(vehicle, axle, kind == "bar_on_axle")),)
    make = {
        "coil_over": _coil_over, "dual": _dual, "coil": _coil, "air": _air, "shock": _shock, "rocker": _rocker,
        "rocker_shock": _rocker_shock,
        "bump_stop": _stop, "strap": _strap,
    }[kind]  # fmt: skip
    wanted = FREQUENCY_HZ[job.purpose] * (1.0 if axle.is_front else 1.1)
    made_up = tuple(unit for side in ("left", "right") for unit in make(_Place(vehicle, axle, side), wanted))
    return made_up if beams_of(axle) is None else tuple(_on_beams(axle, unit, wanted) for unit in made_up)


def _on_beams(axle: Axle, unit: AnySpring, hertz: float) -> AnySpring:
    """A coil on a swing beam made to carry the car there: nearer to the pivot it works over less than the wheel."""
    study = beam_springs(axle.model_copy(update={"springs": (unit,)}), np.zeros(1), np.zeros(1))
    if study is None or not isinstance(unit, CoilOver | CoilSpring):
        return unit
    ratio = max(float(study.runs[0].motion_ratio[0]), 0.2)
    room = ride_length(unit) - getattr(unit, "seats_mm", 0.0)
    coil = _carrying(_Place(Vehicle.model_construct(frame=Frame()), axle, "left"), ratio, hertz, room)
    upper = getattr(unit, "upper", None)
    return unit if upper is not None else unit.model_copy(update={"coil": coil})


class _Place:
    """Where things go on one side of an axle, and what they have to carry."""

    def __init__(self, vehicle: Vehicle, axle: Axle, side: str) -> None:
        self.side, self.axle, self.sign = side, axle, 1.0 if side == "left" else -1.0
        frame, x, _, z = vehicle.frame, *axle.center
        self.x, self.z = x, z
        # Toward the middle of the car: ahead of a rear axle, behind a front one, stand its links.
        self.away = -1.0 if not axle.is_front else 1.0
        self.rail = frame.rail_top_mm + (frame.front_kick_up_mm if axle.is_front else frame.kick_up_mm)
        self.out = min(frame.rail_out_mm + 40.0, 0.5 * axle.track_mm - 0.5 * axle.tire.width_mm - 90.0)
        self.tube = 0.5 * axle.tube_mm
        self.kg = max(0.5 * (axle.load_kg - axle.unsprung_kg), 0.5 * _LEAST_KG)

    def point(self, ahead: float, out: float, up: float) -> Point:
        """A place, mm: ahead of the axle, out from the centerline, above ground."""
        return made(Point, x=self.x + ahead, y=self.sign * out, z=up, sure=GUESS_MM, known="guessed")

    def mount(self, ahead: float, out: float, up: float) -> Mount:
        """A mount there."""
        return made(Mount, at=self.point(ahead, out, up), joint="rod_end")

    def name(self, words: str) -> str:
        """A name with its side."""
        return f"{words} {self.side}"


def _line(place: _Place, ahead: float, length: float, lean: float) -> tuple[Mount, Mount, float]:
    """Upper and lower mounts of something that stands on the axle, leaned inward by an angle; its motion ratio."""
    low = place.z - 0.5 * place.tube
    angle = np.radians(lean)
    top = place.mount(ahead, place.out - length * float(np.sin(angle)), low + length * float(np.cos(angle)))
    return top, place.mount(ahead, place.out, low), float(np.cos(angle))


def _fitted(place: _Place, lean: float) -> tuple[float, float, float]:
    """Length at ride height, closed and open, of a shock that covers the travel, with some to spare."""
    axle, ratio = place.axle, float(np.cos(np.radians(lean)))
    stroke = ratio * (axle.bump_mm + axle.droop_mm) + 2.0 * _SPARE_MM
    closed = 150.0 + 1.05 * stroke  # a shock's body and eyes over its stroke (common practice, no source)
    return closed + _SPARE_MM + ratio * axle.bump_mm, closed, closed + stroke


def _carrying(place: _Place, ratio: float, hertz: float, room: float) -> Coil:
    """A coil that carries one side in some room at ride height, at a frequency on its tire."""
    kg, under = place.kg, rate_of_tire(place.axle.tire)
    both = kg * (2.0 * np.pi * hertz) ** 2 / 1000.0
    rate = both * under / max(under - both, 0.3 * under) / ratio**2
    free = room + kg * G / ratio / rate
    return made(Coil, rate_n_mm=round(float(rate), 2), free_mm=float(free), solid_mm=float(0.38 * free))


def _coil_over(place: _Place, hertz: float) -> tuple[AnySpring, ...]:
    lean = 15.0
    length, closed, opened = _fitted(place, lean)
    top, bottom, ratio = _line(place, 90.0 * place.away, length, lean)
    coil = _carrying(place, ratio, hertz, length - 100.0)
    return (made(CoilOver, name=place.name("Coil-over"), side=place.side, top=top, bottom=bottom, coil=coil,
                 seats_mm=100.0, open_mm=opened, closed_mm=closed),)  # fmt: skip


def _dual(place: _Place, hertz: float) -> tuple[AnySpring, ...]:
    (plain,) = _coil_over(place, hertz)
    assert isinstance(plain, CoilOver)
    # Together as soft as the one coil was: two alike in series, each twice as stiff, carrying what it carried.
    whole = plain.coil
    free = 0.5 * whole.free_mm
    each = made(Coil, rate_n_mm=2.0 * whole.rate_n_mm, free_mm=free, solid_mm=0.38 * free)
    stop = each.free_mm - each.solid_mm - 7.0  # over a quarter inch before the upper coil binds
    return (made(CoilOver, **{n: getattr(plain, n) for n in CoilOver.model_fields}
                 | {"coil": each, "upper": each, "crossover_mm": stop}),)  # fmt: skip


def _coil(place: _Place, hertz: float) -> tuple[AnySpring, ...]:
    seat, low = place.rail - 40.0, place.z + place.tube
    room = max(seat - low, place.axle.bump_mm + 120.0)
    out = place.out - 30.0
    coil = _carrying(place, 1.0, hertz, room)
    spring = made(
        CoilSpring, name=place.name("Coil"), side=place.side, top=place.mount(0.0, out, low + room),
        bottom=place.mount(0.0, out, low), coil=coil,
    )  # fmt: skip
    return (spring, *_shock(place, hertz))


def _air(place: _Place, hertz: float) -> tuple[AnySpring, ...]:
    low, closed = place.z + place.tube, 75.0
    room = max(150.0, closed + place.axle.bump_mm + 15.0)
    opened = room + place.axle.droop_mm + 15.0
    area = place.kg * G / 0.5  # at five bar
    heights = (closed + 5.0, 0.5 * (closed + room), room, 0.5 * (room + opened), opened)
    areas = tuple(float(area * share) for share in (1.15, 1.08, 1.0, 0.9, 0.75))
    volume = area * room * 1.1 / 1e6
    spring = made(
        AirSpring, name=place.name("Air spring"), side=place.side, top=place.mount(0.0, place.out - 60.0, low + room),
        bottom=place.mount(0.0, place.out - 60.0, low), pressure_bar=5.0, heights_mm=heights, areas_mm2=areas,
        volume_l=float(volume), closed_mm=closed, open_mm=opened,
    )  # fmt: skip
    return (spring, *_shock(place, hertz))


def _shock(place: _Place, _hertz: float) -> tuple[AnySpring, ...]:
    lean = 12.0
    length, closed, opened = _fitted(place, lean)
    top, bottom, _ = _line(place, 110.0 * place.away, length, lean)
    return (made(Shock, name=place.name("Shock"), side=place.side, top=top, bottom=bottom, open_mm=opened,
                 closed_mm=closed),)  # fmt: skip


def _rocker(place: _Place, hertz: float) -> tuple[AnySpring, ...]:
    axle, ratio = place.axle, 0.6
    stroke = ratio * (axle.bump_mm + axle.droop_mm) + 2.0 * _SPARE_MM
    closed = 150.0 + 1.05 * stroke
    length = closed + _SPARE_MM + ratio * axle.bump_mm
    # An arm shorter than the travel would be turned until it lies in line with its pushrod, and go over.
    reach = max(180.0, _ARM_OVER_TRAVEL * max(axle.bump_mm, axle.droop_mm))
    up, out = place.rail + 60.0, place.out - 120.0
    way = -place.away  # the shock lies along the frame, toward the middle of the car
    push = place.mount(0.0, out, up)
    pivot_x = way * reach
    coil = _carrying(place, ratio, hertz, length - 100.0)
    return (made(
        Rocker, name=place.name("Cantilever"), side=place.side, pivot=place.mount(pivot_x, out, up),
        pivot_to=place.mount(pivot_x, out - 60.0, up), push_top=push,
        push_bottom=place.mount(0.0, out, place.z + place.tube),
        low=place.mount(pivot_x, out, up + ratio * reach), top=place.mount(pivot_x + way * length, out,
                                                                          up + ratio * reach),
        coil=coil, open_mm=closed + stroke, closed_mm=closed,
    ),)  # fmt: skip


def _rocker_shock(place: _Place, hertz: float) -> tuple[AnySpring, ...]:
    (whole,) = _rocker(place, hertz)
    return (whole.model_copy(update={"coil": None}),)


def _stop(place: _Place, _hertz: float) -> tuple[AnySpring, ...]:
    low, squeeze = place.z + place.tube, 0.3 * place.axle.bump_mm
    up = low + place.axle.bump_mm + 70.0
    return (made(
        BumpStop, name=place.name("Bump stop"), side=place.side, top=place.mount(30.0, place.out - 150.0, up),
        bottom=place.mount(30.0, place.out - 150.0, low), gap_mm=max(place.axle.bump_mm - squeeze, 1.0),
        squeeze_mm=max(squeeze, 5.0), rate_n_mm=max(place.kg * G / max(squeeze, 5.0), 20.0),
    ),)  # fmt: skip


def _strap(place: _Place, _hertz: float) -> tuple[AnySpring, ...]:
    low = place.z + place.tube
    up = max(place.rail - 60.0, low + 150.0)
    return (made(
        Strap, name=place.name("Strap"), side=place.side, top=place.mount(-30.0, place.out - 180.0, up),
        bottom=place.mount(-30.0, place.out - 180.0, low), length_mm=up - low + 0.97 * place.axle.droop_mm,
    ),)  # fmt: skip


def _fitted_bar(job: Job, key: str, bar: SwayBar) -> SwayBar:
    """A bar as thick as holds a share of the roll beside the springs there are: more in front than at the rear."""
    axle = job.vehicle.axle(key)
    others = tuple(s for s in axle.springs if not isinstance(s, SwayBar))
    ride = axle_ride(job.vehicle, axle.model_copy(update={"springs": (*others, bar)}))
    if ride is None or ride.bar_stiffness <= 0.0:
        return bar
    wanted = (_FRONT_BAR if axle.is_front else _REAR_BAR) * (ride.stiffness - ride.bar_stiffness)
    thick = bar.bar_mm * (max(wanted, 1.0) / ride.bar_stiffness) ** 0.25
    thick = max(1.5875 * round(thick / 1.5875), 9.525)
    return made(SwayBar, **{n: getattr(bar, n) for n in SwayBar.model_fields} | {"bar_mm": thick, "arm_mm": thick})


def _bar(vehicle: Vehicle, axle: Axle, on_axle: bool) -> SwayBar:
    """A bar across the car on one body, its arms along it, its links up or down to the other."""
    left, right = (_Place(vehicle, axle, side) for side in ("left", "right"))
    out, reach = left.out - 90.0, 230.0
    high = max(left.rail - 90.0, left.z + left.tube + 120.0)
    level, far = (left.z + 30.0, high) if on_axle else (high, left.z)
    back = left.away * (120.0 if on_axle else reach)
    tip = left.away * (120.0 - reach) if on_axle else 0.0
    ends: dict[str, Mount] = {}
    for place in (left, right):
        ends |= {
            f"bearing_{place.side}": place.mount(back, out, level),
            f"arm_{place.side}": place.mount(tip, out, level),
            f"drop_{place.side}": place.mount(tip, out, far),
        }
    return made(SwayBar, name="Sway bar", bar_on="axle" if on_axle else "chassis", bar_mm=22.225, arm_mm=22.225, **ends)
