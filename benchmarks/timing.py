"""How things are timed."""

import statistics
import time
from collections.abc import Callable


def median_ms(work: Callable[[], object], runs: int) -> float:
    """Median of several runs after one to warm up, milliseconds."""
    work()
    times = []
    for _ in range(runs):
        start = time.perf_counter()
        work()
        times.append(1000 * (time.perf_counter() - start))
    return statistics.median(times)
