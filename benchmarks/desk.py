"""The window: drag, start and memory. Run: QT_QPA_PLATFORM=offscreen .venv/bin/python benchmarks/desk.py

A drag step is timed from the edit to the end of painting at 1280x800, once the pages not opened yet have been made
ready; the longest step of that, of turning to a page, and the longest wait for a page are given as well. The start is
the time of a whole process until the window has painted, as a ratio to a process that imports PyQt6, NumPy,
scipy.optimize and pyqtgraph and shows an empty window; medians of several runs, taken in turns, byte code kept.
"""

import json
import os
import resource
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from functools import partial
from pathlib import Path

from PyQt6.QtCore import QThreadPool
from PyQt6.QtWidgets import QApplication

from even_stance.desktop.app import application, dispose, show
from even_stance.desktop.look import Look
from even_stance.desktop.settings import Settings
from even_stance.desktop.stations import STATIONS
from even_stance.desktop.window import MainWindow
from even_stance.exchange.demo import demo_jobs
from even_stance.judgement.search.keeping import kept_move
from even_stance.vehicle.edits import move_by, raise_tail
from even_stance.vehicle.spots import Spot

OURS = """
from pathlib import Path
from even_stance.desktop.app import application, show
app = application()
from even_stance.desktop.look import Look
from even_stance.desktop.settings import Settings
from even_stance.desktop.window import MainWindow
from even_stance.exchange.demo import demo_job
look = Look(); look.use("paper", 100)
window = MainWindow(demo_job(0), look, Settings(Path("none")), Path("none"), late=True)
show(window); app.processEvents(); window.repaint()
"""
EMPTY = """
import numpy, scipy.optimize, pyqtgraph
from PyQt6.QtWidgets import QApplication, QMainWindow
app = QApplication([])
window = QMainWindow(); window.resize(1280, 800)
window.show(); app.processEvents(); window.repaint()
"""


def starts() -> tuple[float, float]:
    """Our start and an empty window's, s: medians of runs taken in turns. Byte code is kept between the runs, as it is
    on any machine that a program was started on before; without it our sources would be compiled at each start, the
    libraries' not.
    """
    with tempfile.TemporaryDirectory() as kept:
        settings = os.environ | {"PYTHONDONTWRITEBYTECODE": "", "PYTHONPYCACHEPREFIX": kept}

        def seconds(script: str) -> float:
            start = time.perf_counter()
            subprocess.run([sys.executable, "-c", script], check=True, capture_output=True, env=settings)
            return time.perf_counter() - start

        pairs = [(seconds(OURS), seconds(EMPTY)) for _ in range(8)][1:]
    ours, empty = (statistics.median(t) for t in zip(*pairs, strict=True))
    return ours, empty


def settled(window: MainWindow) -> float:
    """Show a window and wait until all pages are made ready; the longest the window was busy meanwhile, ms."""
    ready, longest = show(window), 0.0
    window.showNormal()  # the offscreen screen is small, and a window is shown as large as that
    window.resize(1280, 800)
    QApplication.processEvents()
    while not ready.over:
        start = time.perf_counter()
        QApplication.processEvents()
        longest = max(longest, time.perf_counter() - start)
        time.sleep(0.001)
    return 1000 * longest


def timed(step: Callable[[], object]) -> float:
    start = time.perf_counter()
    step()
    return 1000 * (time.perf_counter() - start)


def pages_ms() -> tuple[float, float, float]:
    """The longest step of making ready; of turning to any page then, from the click until all of it is painted; and the
    longest that takes altogether."""
    look = Look()
    look.use("paper", 100)
    with tempfile.TemporaryDirectory() as scratch:
        window = MainWindow(demo_jobs()[0], look, Settings(Path(scratch) / "s"), Path(scratch))
        ready, steps, waits = settled(window), [0.0], []
        for each in STATIONS:
            steps.append(timed(partial(window.go, each.key)))
            station = window.station(each.key)
            for page in range(len(station.pages.buttons)):
                taken = [timed(partial(station.pages.turn_to, page))]
                # Drawings that are shown in turns come one in each round of the event loop.
                taken += [timed(QApplication.processEvents) for _ in range(8)]
                steps += taken
                waits.append(sum(taken))
        dispose(window)
    return ready, max(steps), max(waits)


LOWER, DRAG_LINK = Spot("rear", "Lower left", "axle"), Spot("front", "", "drag")


def drag_ms(station: str, why: bool = False, spot: Spot = LOWER, job: int = 0, keep: str = "") -> float:
    look = Look()
    look.use("paper", 100)
    with tempfile.TemporaryDirectory() as scratch:
        window = MainWindow(demo_jobs()[job], look, Settings(Path(scratch) / "s"), Path(scratch))
        settled(window)
        window.bench.select_axle(spot.axle)
        window.go(station)
        QApplication.processEvents()
        window.bench.select_spot(spot)
        if why:
            window.bench.explain_figure("anti_squat_axle_pct")
            window.station("links").why.late.start_now()
            pool = QThreadPool.globalInstance()
            assert pool is not None
            pool.waitForDone()
            QApplication.processEvents()
        times = []
        for i in range(60):
            start = time.perf_counter()
            wanted = (0.3 if i % 2 else -0.2, 0.0, 0.25)
            step = kept_move(window.bench.job, spot, wanted, keep, (0, 2)) if keep else wanted
            window.bench.do(move_by(spot, *step, merge="drag"))
            QApplication.processEvents()
            times.append(1000 * (time.perf_counter() - start))
        dispose(window)
    return statistics.median(times[10:])


def tail_ms(page: int) -> float:
    """The gearbox tail raised step by step on a page of the Driveline station, the street coupe."""
    look = Look()
    look.use("paper", 100)
    with tempfile.TemporaryDirectory() as scratch:
        window = MainWindow(demo_jobs()[1], look, Settings(Path(scratch) / "s"), Path(scratch))
        settled(window)
        window.go("driveline")
        window.station("driveline").pages.turn_to(page)
        QApplication.processEvents()
        times = []
        for i in range(60):
            start = time.perf_counter()
            window.bench.do(raise_tail(1.0 + i % 7, merge="drag tail"))
            QApplication.processEvents()
            times.append(1000 * (time.perf_counter() - start))
        dispose(window)
    return statistics.median(times[10:])


def main() -> None:
    app = application()
    ready, step, page = pages_ms()
    links, why, travel = drag_ms("links"), drag_ms("links", why=True), drag_ms("travel")
    keeping = drag_ms("links", keep="instant_center")
    steering = drag_ms("steering", spot=DRAG_LINK)
    beams = drag_ms("steering", spot=Spot("front", "", "left_inner"), job=3)
    tail_engine, tail_floor = tail_ms(3), tail_ms(0)
    memory = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    ours, empty = starts()
    figures = {
        "drag_links_ms": round(links, 1),
        "drag_links_with_explanation_open_ms": round(why, 1),
        "drag_links_keeping_the_instant_center_ms": round(keeping, 1),
        "edit_seen_in_travel_charts_ms": round(travel, 1),
        "drag_link_end_ms": round(steering, 1),
        "drag_swing_beam_tie_rod_ms": round(beams, 1),
        "tail_slider_engine_page_ms": round(tail_engine, 1),
        "tail_slider_floor_page_ms": round(tail_floor, 1),
        "longest_step_made_ready_ms": round(ready, 1),
        "longest_step_turning_to_a_page_ms": round(step, 1),
        "longest_wait_for_a_page_ms": round(page, 1),
        "largest_memory_mb": round(memory),
        "start_s": round(ours, 2),
        "empty_window_start_s": round(empty, 2),
        "start_ratio": round(ours / empty, 2),
    }
    json.dump(figures, sys.stdout, indent=1)
    sys.stdout.write("\n")
    app.processEvents()


if __name__ == "__main__":
    main()
