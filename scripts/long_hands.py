"""The long run of tests/interface/test_busy_hands.py, in a real window:

    xvfb-run -a -s "-screen 0 1400x900x24" .venv/bin/python scripts/long_hands.py [SEEDS] [ACTIONS] [FIRST]

20 seeds of 400 random actions unless said otherwise. Counts faults, and waits of over 2 s on the window's thread with
what it was at then.
"""

import sys
import tempfile
import traceback
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parent.parent))

from PyQt6.QtWidgets import QFileDialog
from tests.interface.hands import Watch, busy

from even_stance.desktop.app import application, dispose
from even_stance.desktop.look import Look
from even_stance.desktop.settings import Settings
from even_stance.desktop.window import MainWindow
from even_stance.exchange.demo import demo_jobs

LIMIT_S = 2.0


def main() -> int:
    seeds, actions, first = (int(v) for v in (*sys.argv[1:4], *("20", "400", "1")[len(sys.argv) - 1 :]))
    app = application()
    QFileDialog.open = lambda self: None  # type: ignore[method-assign]
    faults: list[str] = []
    sys.excepthook = lambda *what: faults.append("".join(traceback.format_exception(*what)))
    bad, longest = 0, 0.0
    for seed in range(first, first + seeds):
        with tempfile.TemporaryDirectory() as scratch:
            look, watch = Look(), Watch(LIMIT_S)
            look.use("paper", 100)
            settings = Settings(Path(scratch) / "look.json")
            window = MainWindow(demo_jobs()[seed % 3], look, settings, Path(scratch) / "recovery")
            window.show()
            faults.clear()
            done = 0
            try:
                done = busy(window, seed, actions, watch)
            except Exception:  # a fault in a deed itself is one to be told as well
                faults.append(traceback.format_exc())
            watch.end()
            dispose(window)
        bad += len(faults) + len(watch.waits)
        longest = max(longest, watch.longest)
        print(f"seed {seed}: {done} actions, {len(faults)} faults, {len(watch.waits)} waits over {LIMIT_S:g} s, "
              f"longest {watch.longest:.2f} s", flush=True)  # fmt: skip
        for text in (*faults[:3], *watch.waits[:2]):
            print(text, flush=True)
    print(f"in all: {bad} faults and waits, longest wait {longest:.2f} s")
    app.processEvents()
    return 1 if bad else 0


if __name__ == "__main__":
    sys.exit(main())
