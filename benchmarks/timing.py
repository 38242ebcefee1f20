"""How things are timed."""

import statistics
import time
from collections.abc import Callable

from even_stance.study import answers


def runs_ms(work: Callable[[], object], runs: int) -> list[float]:
    """Every one of several runs after one to warm up, milliseconds; nothing solved is kept from one to the next."""
    work()
    times = []
    for _ in range(runs):
        answers.forget_solved()
        start = time.perf_counter()
        work()
        times.append(1000 * (time.perf_counter() - start))
    return times


def median_ms(work: Callable[[], object], runs: int) -> float:
    """Median of several runs, milliseconds."""
    return statistics.median(runs_ms(work, runs))


def best_ms(work: Callable[[], object], runs: int) -> float:
    """Best of several runs, milliseconds: what the work takes when nothing else gets in its way."""
    return min(runs_ms(work, runs))
