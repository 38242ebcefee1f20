"""Which lengths to saw from which bars, so that least is bought: patterns of cuts, chosen by integer programming.

With few different lengths every pattern that fills a bar is listed and the choice is exact; with many, patterns are
added as long as they help (Gilmore and Gomory 1961), and the bound says how far from the best the plan may be.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from even_stance.errors import InputError
from even_stance.mechanics.vectors import Array

_MOST_PATTERNS, _MOST_ROUNDS, _SECONDS = 4000, 200, 3.0
_STEP_MM = 0.5  # lengths are counted in steps of this where patterns are looked for one by one
_TINY = 1e-6


@dataclass(frozen=True)
class Bar:
    """One bar as it is sawn: its length, the pieces from its end on, their names, and what is left, mm."""

    length_mm: float
    cuts_mm: tuple[float, ...]
    names: tuple[str, ...]
    left_mm: float


@dataclass(frozen=True)
class Plan:
    """How the bars of one tube are sawn.

    Attributes:
        bars: as sawn, the fullest first; bought_mm, used_mm: of all bars, and of that the pieces.
        least_mm: no plan buys less than this; exact: whether this one is known to buy the least.
    """

    bars: tuple[Bar, ...]
    bought_mm: float
    used_mm: float
    least_mm: float
    exact: bool


def plan_cuts(pieces: Sequence[tuple[str, float]], bars_mm: Sequence[float], kerf_mm: float) -> Plan:
    """The plan for pieces of one tube.

    Args:
        pieces: name and length of each, mm; bars_mm: lengths it is sold in; kerf_mm: what each saw cut takes.

    Raises:
        InputError: a piece is longer than the longest bar, or has no length.
    """
    for name, length in pieces:
        if length <= 0.0:
            raise InputError(name, "has no length left to cut.", "Shorter ends, or a longer link.")
        if length > max(bars_mm) + _TINY:
            raise InputError(
                name, f"{length:.0f} mm is longer than the longest bar, {max(bars_mm):.0f} mm.", "Add a longer bar."
            )
    if not pieces:
        return Plan((), 0.0, 0.0, 0.0, True)
    from scipy.optimize import Bounds, LinearConstraint, linprog, milp  # noqa: PLC0415 - large: when first asked

    lengths = sorted({round(length, 3) for _, length in pieces}, reverse=True)
    need = np.array([sum(abs(length - one) < 0.002 for _, length in pieces) for one in lengths], dtype=float)
    sizes = sorted(set(bars_mm))
    listed = _all_patterns(lengths, need, sizes, kerf_mm)
    exact = listed is not None
    patterns = listed if listed is not None else _grown_patterns(lengths, need, sizes, kerf_mm)
    matrix = np.array([p for p, _ in patterns], dtype=float).T
    costs = np.array([length for _, length in patterns])
    relaxed = linprog(costs, A_ub=-matrix, b_ub=-need, method="highs")
    solved = milp(
        costs, constraints=LinearConstraint(matrix, lb=need), integrality=np.ones(len(costs)),
        bounds=Bounds(0, np.full(len(costs), need.sum())), options={"time_limit": _SECONDS},
    )  # fmt: skip
    counts = np.rint(solved.x).astype(int) if solved.x is not None else np.ceil(relaxed.x - _TINY).astype(int)
    bars = _sawn(pieces, lengths, patterns, counts, kerf_mm)
    bought = sum(b.length_mm for b in bars)
    least = float(solved.mip_dual_bound) if exact and solved.x is not None else float(relaxed.fun)
    proved = (exact and solved.status == 0) or bought <= least + 1.0
    return Plan(tuple(bars), bought, sum(length for _, length in pieces), min(least, bought), proved)


Pattern = tuple[tuple[int, ...], float]


def _room(bar: float, kerf: float) -> float:
    """A bar with one kerf more: every piece then takes its kerf, and the last cut none that is missed."""
    return bar + kerf + _TINY


def _all_patterns(lengths: Sequence[float], need: Array, bars: Sequence[float], kerf: float) -> list[Pattern] | None:
    """Every pattern that leaves no room for another piece, on every bar; None where there are too many."""
    found: list[Pattern] = []
    for bar in bars:
        for pattern in _filled(lengths, need, _room(bar, kerf), kerf):
            if any(pattern):
                found.append((pattern, bar))
            if len(found) > _MOST_PATTERNS:
                return None
    return found


def _filled(lengths: Sequence[float], need: Array, room: float, kerf: float, at: int = 0) -> Iterator[tuple[int, ...]]:
    if at == len(lengths):
        yield ()
        return
    takes = lengths[at] + kerf
    most = min(int(room // takes), int(need[at]))
    for count in range(most, -1, -1):
        for rest in _filled(lengths, need, room - count * takes, kerf, at + 1):
            # A piece that was left out though there is room for it would be no full pattern.
            left = room - count * takes - sum(n * (v + kerf) for n, v in zip(rest, lengths[at + 1 :], strict=True))
            if count == most or left < takes:
                yield (count, *rest)


def _grown_patterns(lengths: Sequence[float], need: Array, bars: Sequence[float], kerf: float) -> list[Pattern]:
    """Patterns added one by one as the prices of the pieces ask for them."""
    from scipy.optimize import linprog  # noqa: PLC0415 - large: when first asked

    found: list[Pattern] = []
    for bar in bars:
        for k, length in enumerate(lengths):
            count = min(int(_room(bar, kerf) // (length + kerf)), int(need[k]))
            if count:
                found.append((tuple(count if i == k else 0 for i in range(len(lengths))), bar))
    for _ in range(_MOST_ROUNDS):
        matrix = np.array([p for p, _ in found], dtype=float).T
        solved = linprog(np.array([b for _, b in found]), A_ub=-matrix, b_ub=-need, method="highs")
        prices = -solved.ineqlin.marginals
        added = False
        for bar in bars:
            worth, pattern = _best_fill(lengths, need, prices, _room(bar, kerf), kerf)
            if worth > bar + 1e-4 and (pattern, bar) not in found:
                found.append((pattern, bar))
                added = True
        if not added:
            break
    return found


def _best_fill(
    lengths: Sequence[float], need: Array, prices: Array, room: float, kerf: float
) -> tuple[float, tuple[int, ...]]:
    """The pattern that is worth most at some prices: a bounded knapsack in steps of half a millimeter, lengths rounded
    up, so that what it finds fits."""
    lots: list[tuple[int, int, int, float]] = []  # which length, how many, steps they take, worth
    for k, length in enumerate(lengths):
        takes, left, size = int(np.ceil((length + kerf) / _STEP_MM - _TINY)), int(need[k]), 1
        while left > 0 and prices[k] > _TINY:  # lots of 1, 2, 4 ... make any number
            many = min(size, left)
            lots.append((k, many, many * takes, many * float(prices[k])))
            left, size = left - many, 2 * size
    steps = int(room / _STEP_MM)
    worth = np.zeros(steps + 1)
    taken = np.zeros((len(lots), steps + 1), dtype=bool)
    for i, (_, _, takes, value) in enumerate(lots):
        if takes <= steps:
            better = worth[: steps + 1 - takes] + value
            taken[i, takes:] = better > worth[takes:] + 1e-12
            worth[takes:] = np.maximum(worth[takes:], better)
    pattern, at = [0] * len(lengths), steps
    for i in range(len(lots) - 1, -1, -1):
        if taken[i, at]:
            pattern[lots[i][0]] += lots[i][1]
            at -= lots[i][2]
    return float(worth[steps]), tuple(pattern)


def _sawn(
    pieces: Sequence[tuple[str, float]], lengths: Sequence[float], patterns: Sequence[Pattern],
    counts: Array, kerf: float,
) -> list[Bar]:  # fmt: skip
    """The bars with the names of the pieces cut from them; patterns that give too many leave the rest on the bar."""
    waiting = {one: [name for name, length in pieces if abs(length - one) < 0.002] for one in lengths}
    bars = []
    for (pattern, bar), count in sorted(zip(patterns, counts, strict=True), key=lambda pair: -sum(pair[0][0])):
        for _ in range(count):
            cuts, names = [], []
            for k, one in enumerate(lengths):
                for _ in range(min(pattern[k], len(waiting[one]))):
                    cuts.append(one)
                    names.append(waiting[one].pop(0))
            if cuts:
                used = sum(cuts) + kerf * len(cuts)
                bars.append(Bar(bar, tuple(cuts), tuple(names), max(bar - used, 0.0)))
    return sorted(bars, key=lambda b: b.left_mm)
