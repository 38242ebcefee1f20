"""Wheel cribs: timber to stand the car on its tires at working height. What to cut, from how much, and the screws."""

from dataclasses import dataclass
from math import ceil

from even_stance.errors import InputError
from even_stance.units import MM_PER_INCH
from even_stance.vehicle.car import Axle, Vehicle
from even_stance.vehicle.measuring import Crib

CRIBS = 4
# Common practice, no source: about 20 in chock to chock for a 27 to 28 in tire.
INSIDE_SHARE = 20.0 / 27.5
CRIB_CAUTIONS = (
    "Never go under a vehicle on cribs you have not checked: rock it hard with the chocks in before you trust it.",
    "Sound dry timber only, on firm level ground, all four cribs alike; screws hold the stack together, not the car.",
    "A jack lifts, cribs hold: lower the car onto all four before anyone works on it.",
)
# What a stack of timber bears depends on wood, knots, wet and nails that no program sees: a person has to look.
CRIB_CHECKS = (
    "Every piece dry, straight and sound: no cracks, rot, large knots or old nail lines.",
    "Every layer lies flat on the one below, no gap to be felt, no piece that rocks.",
    "Level concrete under all four; no crib on soil, gravel or a slope.",
    "All four of one height, chocks tight against the tires fore and aft.",
    "No crib taller than it is wide: lower cribs or more timber if it is.",
    "Car rocked hard from every side before anyone reaches under it; looked at again every day.",
    "Not sure what your timber carries? Ask somebody who reckons timber, or use rated stands and a lift.",
)


@dataclass(frozen=True)
class Cut:
    """Pieces of one length: how many for all four cribs, and what they are."""

    name: str
    length_mm: float
    count: int


@dataclass(frozen=True)
class CribPlan:
    """One set of four cribs.

    Attributes:
        layers: layers under the tire, the deck included; height_mm: what they come to.
        inside_long_mm, inside_wide_mm: between the chocks and between the side rails.
        cuts: the pieces; bars: how to cut them from stock, each bar a list of lengths.
        screws: for every layer, how many screws per crib and how far from the end of the piece, mm.
        wheel_kg: what stands on the heaviest, 0 when not weighed; tall: whether it is taller than it is wide.
    """

    layers: int
    height_mm: float
    inside_long_mm: float
    inside_wide_mm: float
    cuts: tuple[Cut, ...]
    bars: tuple[tuple[float, ...], ...]
    screws: tuple[tuple[int, float], ...]
    wheel_kg: float
    tall: bool


def plan_cribs(vehicle: Vehicle, crib: Crib) -> CribPlan:
    """Four equal cribs for the largest tire of the car.

    Raises:
        InputError: a height no stack of this timber gives, or pieces longer than the stock.
    """
    largest = max(vehicle.axles, key=lambda a: a.tire.free_diameter_mm)
    layers = round(crib.height_mm / crib.thick_mm)
    if not 3 <= layers <= 30:
        raise InputError(
            "Crib height", f"would take {layers} layers of {crib.thick_mm / MM_PER_INCH:g} in timber.",
            "Type a height of 3 to 30 layers.",
        )  # fmt: skip
    inside_long = crib.inside_long_mm or INSIDE_SHARE * largest.tire.free_diameter_mm
    inside_wide = crib.inside_wide_mm or max(a.tire.width_mm for a in vehicle.axles)
    long, wide = inside_long + 2 * crib.wide_mm, inside_wide + 2 * crib.wide_mm
    # Log-cabin layers in turns, a full deck on top of them, and a rim of rails and chocks around the tire.
    rails = sum(1 for k in range(layers - 1) if k % 2 == 0)
    crosses = layers - 1 - rails
    deck = ceil(long / crib.wide_mm)
    cuts = (
        Cut("rail, fore and aft", long, CRIBS * (2 * rails + 2)),
        Cut("cross piece", wide, CRIBS * 2 * crosses),
        Cut("deck board, across", wide, CRIBS * deck),
        Cut("chock, across inside the rails", inside_wide, CRIBS * 2),
    )
    pieces = [c.length_mm for c in cuts for _ in range(c.count)]
    bars = cut_from_stock(pieces, crib.stock_mm, crib.kerf_mm)
    inset = crib.wide_mm / 3
    screws = tuple((8 if k < layers - 1 else 2 * deck, inset if k % 2 == 0 else 2 * inset) for k in range(layers))
    heaviest = max((_wheel(a) for a in vehicle.axles), default=0.0)
    height = layers * crib.thick_mm
    return CribPlan(layers, height, inside_long, inside_wide, cuts, bars, screws, heaviest, height > min(long, wide))


def _wheel(axle: Axle) -> float:
    return axle.load_kg / 2


def cut_from_stock(pieces: list[float], stock_mm: float, kerf_mm: float) -> tuple[tuple[float, ...], ...]:
    """Lay pieces out on stock lengths, a saw kerf after each: the longest first, each into the fullest bar it fits.

    Raises:
        InputError: a piece is longer than the stock.

    Source: best-fit decreasing, a bin-packing rule that never takes more than 11/9 of the least plus one bar.
    """
    if pieces and max(pieces) > stock_mm:
        raise InputError(
            "Stock length", f"{stock_mm / MM_PER_INCH:.1f} in is shorter than the longest piece, "
            f"{max(pieces) / MM_PER_INCH:.1f} in.", "Take longer timber.",
        )  # fmt: skip
    bars: list[list[float]] = []
    room: list[float] = []
    for piece in sorted(pieces, reverse=True):
        fitting = [i for i, free in enumerate(room) if free >= piece]
        if fitting:
            i = min(fitting, key=lambda k: room[k])
            bars[i].append(piece)
            room[i] -= piece + kerf_mm
        else:
            bars.append([piece])
            room.append(stock_mm - piece - kerf_mm)
    return tuple(tuple(bar) for bar in bars)
