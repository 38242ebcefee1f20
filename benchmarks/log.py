"""A full log: what an action of the window takes with 2,000 photos and 5,000 readings.

Run: QT_QPA_PLATFORM=offscreen .venv/bin/python benchmarks/log.py

Each action is timed from the click to the end of painting, median of several; beside it the same on the job as it was,
so that what the log costs shows as a ratio.
"""

import json
import statistics
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

from PyQt6.QtWidgets import QApplication

from even_stance.desktop.app import application, dispose
from even_stance.desktop.look import Look
from even_stance.desktop.settings import Settings
from even_stance.desktop.window import MainWindow
from even_stance.exchange.demo import demo_jobs
from even_stance.shop.asbuilt import expected
from even_stance.vehicle.edits import move_by, with_changes
from even_stance.vehicle.job import Job
from even_stance.vehicle.log import Entry
from even_stance.vehicle.measuring import Reading
from even_stance.vehicle.spots import Spot

UPPER = Spot("rear", "Upper left", "chassis")


def full(job: Job) -> Job:
    """A job with much in its log."""
    entries = tuple(
        Entry(at=f"2026-0{1 + i % 9}-{1 + i % 28:02d}T10:00", kind="photo", title=f"Photo {i}", photos=(f"p{i}.jpg",))
        for i in range(2000)
    )
    whats = [f"rear/{m} {s}/{e}/{a}" for m in ("Upper", "Lower") for s in ("left", "right") for e in ("chassis", "axle")
             for a in ("ahead", "left", "up")]  # fmt: skip
    readings = tuple(
        Reading(what=w, quantity="length", value=(expected(job, w) or 0.0) + 0.1 * (i % 7), sure=1.6,
                taken=f"2026-0{1 + i % 9}-{1 + i % 28:02d}T10:00", stage=("tacked", "welded", "settled")[i % 3])
        for i in range(5000) for w in (whats[i % len(whats)],)
    )  # fmt: skip
    measuring = with_changes(job.measuring, readings=readings, stage="settled")
    return with_changes(job, log=with_changes(job.log, entries=entries), measuring=measuring)


def median_ms(step: Callable[[int], object], runs: int = 9) -> float:
    """Median of some runs, each until all is painted."""
    times = []
    for i in range(runs):
        start = time.perf_counter()
        step(i)
        for _ in range(3):
            QApplication.processEvents()
        times.append(1000 * (time.perf_counter() - start))
    return statistics.median(times[1:])


def actions(job: Job) -> dict[str, float]:
    """What each action takes, ms."""
    look = Look()
    look.use("paper", 100)
    with tempfile.TemporaryDirectory() as scratch:
        window = MainWindow(job, look, Settings(Path(scratch) / "s"), Path(scratch))
        window.show()
        window.showNormal()
        window.resize(1280, 800)
        bench = window.bench
        bench.select_axle("rear")
        found = {}
        window.go("links")
        found["nudge a point"] = median_ms(lambda i: bench.do(move_by(UPPER, 0.0, 0.0, 1.0 if i % 2 else -1.0)))
        window.go("log")
        station = window.station("log")
        for page, words in enumerate(("as built", "diary", "re-checks", "photos", "order", "book")):
            station.turn_to(page)
            QApplication.processEvents()
            found[f"turn to {words}"] = median_ms(
                lambda i, page=page: station.turn_to(page if i % 2 else (page + 1) % 6)
            )
        station.turn_to(1)
        note = Entry(at="2026-11-01T10:00", title="note")
        found["write an entry"] = median_ms(lambda _: bench.write((*bench.job.log.entries, note)))
        dispose(window)
    return {k: round(v, 1) for k, v in found.items()}


def main() -> None:
    """Print the figures."""
    app = application()  # held until the end: Qt needs it
    job = demo_jobs()[0]
    bare, much = actions(job), actions(full(job))
    for name, ms in much.items():
        print(json.dumps({"action": name, "full_ms": ms, "empty_ms": bare[name], "ratio": round(ms / bare[name], 2)}))
    app.quit()


if __name__ == "__main__":
    main()
