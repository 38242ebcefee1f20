"""Counting everything: joints by hand, nuts, bungs, spacers, bolts by length, tube by bars, weight and cost."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

from even_stance.errors import InputError
from even_stance.shop.cutting import Plan, plan_cuts
from even_stance.study.cutlist import CutPiece, cut_list, tube_kg_per_m
from even_stance.units import M_PER_FOOT, System, format_length, length_unit
from even_stance.vehicle.build import LinkEnd, Tube
from even_stance.vehicle.car import Vehicle

_NUT_SHARE, _WASHERS_SHARE = 0.9, 0.35  # of the bolt's diameter: a lock nut, and two washers (common practice)


@dataclass(frozen=True)
class Line:
    """One line of the shopping list.

    Attributes:
        what: its name, also that of its price; count: how many, of tube the bars; each: price of one, if typed.
        sort: joint, nut, bung, spacers, bolt or tube; meters: of tube bought, priced by the meter.
    """

    what: str
    sort: str
    count: int
    each: float | None
    meters: float = 0.0

    @property
    def cost(self) -> float | None:
        """What the line costs; None without a price."""
        return None if self.each is None else self.each * (self.meters if self.sort == "tube" else self.count)


@dataclass(frozen=True)
class Counted:
    """All that is bought.

    Attributes:
        lines: what; plans: how the bars of each tube are sawn; unplanned: sentences on what cannot be.
        tube_kg: weight of all tube as cut; cost: of all lines with a price; unpriced: how many have none.
    """

    lines: tuple[Line, ...]
    plans: tuple[tuple[Tube, Plan], ...]
    unplanned: tuple[str, ...]
    tube_kg: float
    cost: float
    unpriced: int


def bolt_length(end: LinkEnd, units: System) -> float:
    """How long a bolt has to be, mm: gap, two plates, washers and nut, rounded up to a quarter inch or 5 mm."""
    assert end.bolt is not None
    d = end.bolt.diameter_mm
    least = end.gap_mm + 2.0 * end.plate_mm + (_NUT_SHARE + _WASHERS_SHARE) * d
    step = 6.35 if units == "us" else 5.0
    return float(-(-least // step) * step)


def count_parts(vehicle: Vehicle, units: System) -> Counted:
    """Everything that the links of a car are made of."""
    cuts = cut_list(vehicle, units)
    prices = {p.what: p.each for p in vehicle.build.prices}
    counts: Counter[tuple[str, str]] = Counter()
    for cut in cuts:
        for end in (cut.parts.first, cut.parts.second):
            _count_end(counts, end, units)
    lines = [Line(what, sort, count, prices.get(what)) for (sort, what), count in counts.items()]
    plans, unplanned = _plans(vehicle, cuts)
    for tube, plan in plans:
        lines.append(Line(tube.name, "tube", len(plan.bars), prices.get(tube.name), plan.bought_mm / 1000.0))
    order = ("joint", "nut", "bung", "spacers", "bolt", "tube")
    lines.sort(key=lambda line: (order.index(line.sort), line.what))
    return Counted(
        tuple(lines), tuple(plans), tuple(unplanned),
        sum(tube_kg_per_m(c.tube) * max(c.cut_mm, 0.0) / 1000.0 for c in cuts),
        sum(line.cost or 0.0 for line in lines), sum(line.cost is None for line in lines),
    )  # fmt: skip


def _count_end(counts: Counter[tuple[str, str]], end: LinkEnd, units: System) -> None:
    if end.joint is not None and end.bung is not None:
        counts["joint", f"{end.joint.name}, {end.hand}-hand"] += 1
        counts["nut", f"jam nut for {end.joint.name}, {end.hand}-hand"] += 1
        counts["bung", f"{end.bung.name}, {end.hand}-hand"] += 1
        if end.spacers is not None:
            counts["spacers", end.spacers.name] += 1
    if end.bolt is not None:
        long = f"{format_length(bolt_length(end, units), units).removeprefix('~')} {length_unit(units)}"
        counts["bolt", f"{end.bolt.name} x {long}, lock nut, 2 washers"] += 1


def _plans(vehicle: Vehicle, cuts: Sequence[CutPiece]) -> tuple[list[tuple[Tube, Plan]], list[str]]:
    tubes: dict[str, list[CutPiece]] = {}
    for cut in cuts:
        tubes.setdefault(cut.tube.name, []).append(cut)
    plans, wrong = [], []
    for own in tubes.values():
        try:
            pieces = [(c.piece.words, c.cut_mm) for c in own]
            plans.append((own[0].tube, plan_cuts(pieces, vehicle.build.bars_mm, vehicle.build.kerf_mm)))
        except InputError as error:
            wrong.append(str(error))
    return plans, wrong


def bars_long(meters: float, units: System) -> str:
    """How long bars are together, in feet or meters."""
    return f"{meters / M_PER_FOOT:.1f} ft" if units == "us" else f"{meters:.2f} m"


def price_words(line: Line, units: System) -> str:
    """The price of one, of tube by the foot or the meter."""
    each = line.each or 0.0
    if line.sort != "tube":
        return f"{each:.2f}"
    return f"{each * M_PER_FOOT:.2f} /ft" if units == "us" else f"{each:.2f} /m"
