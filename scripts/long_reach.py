"""Cut words, overlaps, small type and targets on every page of every demo job, in 18 looks, scales and sizes of window.

Run: QT_QPA_PLATFORM=offscreen .venv/bin/python scripts/long_reach.py [JOB ...]    (0 to 4; all unless named)
"""

import sys
import tempfile
from itertools import product
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parent.parent))

from tests.reach import looked_over

from even_stance.desktop.app import application, dispose
from even_stance.desktop.look import Look
from even_stance.desktop.settings import Settings
from even_stance.desktop.window import MainWindow
from even_stance.exchange.demo import demo_jobs

SIZES = ((1280, 800), (1366, 768), (1920, 1080))


def main() -> int:
    """Print what is found; 1 when anything is."""
    app = application()
    jobs, found = demo_jobs(), 0
    for number in [int(word) for word in sys.argv[1:]] or range(len(jobs)):
        look = Look()
        look.use("paper", 100)
        with tempfile.TemporaryDirectory() as scratch:
            window = MainWindow(jobs[number], look, Settings(Path(scratch) / "s"), Path(scratch))
            window.show()
            window.showNormal()
            axle = "rear" if number % 2 == 0 else "front"
            window.bench.select_axle(axle)
            for name, percent, size in product(("paper", "night"), (100, 150, 200), SIZES):
                faults = looked_over(window, name, percent, size)
                found += len(faults)
                print(f"job {number}, {axle}, {name}, {percent} %, {size[0]} x {size[1]}: {len(faults)} faults")
                for fault in faults:
                    print(f"    {fault}")
            dispose(window)
    app.quit()
    return 1 if found else 0


if __name__ == "__main__":
    sys.exit(main())
