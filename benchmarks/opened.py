"""What one window keeps once all of it was opened. Run: QT_QPA_PLATFORM=offscreen .venv/bin/python benchmarks/opened.py

Each demo job in a process of its own: every page of every station, all pages made ready, all studies beside the window
waited for; resident memory then, MB.
"""

import json
import subprocess
import sys
import tempfile
import time
from pathlib import Path

from desk import settled
from PyQt6.QtCore import QThreadPool
from PyQt6.QtWidgets import QApplication

from even_stance.desktop.app import application, dispose
from even_stance.desktop.look import Look
from even_stance.desktop.settings import Settings
from even_stance.desktop.stations import STATIONS
from even_stance.desktop.window import MainWindow
from even_stance.exchange.demo import demo_jobs

_ROUNDS, _PAUSE_S = 20, 0.01


def resident_mb() -> float:
    """What this process holds of the machine's memory."""
    lines = Path("/proc/self/status").read_text().splitlines()
    return next(int(line.split()[1]) for line in lines if line.startswith("VmRSS")) / 1024


def let_study() -> None:
    """Wait until no study runs, and none was started by the answer of another."""
    pool = QThreadPool.globalInstance()
    assert pool is not None
    for _ in range(4):
        for _ in range(_ROUNDS):
            QApplication.processEvents()
            time.sleep(_PAUSE_S)
        pool.waitForDone()


def opened_mb(number: int) -> float:
    """One window on a demo job, all of it opened."""
    app = application()  # held: Qt ends with it
    look = Look()
    look.use("paper", 100)
    with tempfile.TemporaryDirectory() as scratch:
        window = MainWindow(demo_jobs()[number], look, Settings(Path(scratch) / "s"), Path(scratch))
        settled(window)
        for station in STATIONS:
            window.go(station.key)
            pages = window.station(station.key).pages
            for page in range(len(pages.buttons)):
                pages.turn_to(page)
                let_study()
        held = resident_mb()
        dispose(window)
        app.processEvents()
    return held


def main() -> None:
    if len(sys.argv) > 1:
        sys.stdout.write(f"{opened_mb(int(sys.argv[1])):.0f}\n")
        return
    held = {}
    for number, job in enumerate(demo_jobs()):
        done = subprocess.run([sys.executable, __file__, str(number)], check=True, capture_output=True, text=True)
        held[job.name] = int(done.stdout)
    json.dump(held, sys.stdout, indent=1)
    sys.stdout.write("\n")


if __name__ == "__main__":
    main()
