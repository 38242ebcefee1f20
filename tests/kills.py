"""A saving and autosaving window's files, killed at a random moment: what was confirmed must be found again."""

import os
import random
import signal
import sys
import tempfile
import time
from dataclasses import dataclass, field
from pathlib import Path

from PyQt6.QtWidgets import QApplication, QWidget

from even_stance.desktop.bench import Bench
from even_stance.desktop.files import Files
from even_stance.desktop.widgets.banner import Banner
from even_stance.exchange.demo import demo_jobs
from even_stance.exchange.jobfile import load_job
from even_stance.exchange.recovery import find_recovered
from even_stance.vehicle.edits import set_job

LONGEST_S = 0.12


@dataclass
class Kills:
    """What was counted."""

    kills: int = 0
    kept: int = 0
    saved: int = 0
    lost: list[str] = field(default_factory=list)

    def __str__(self) -> str:
        return f"{self.kills} kills; last confirmed an autosave {self.kept}, a save {self.saved}; lost {len(self.lost)}"


def _work(folder: Path, tell: int) -> None:
    """In the child: edit, keep aside, at times save, and confirm each; until killed."""
    os.environ["QT_QPA_PLATFORM"] = "offscreen"
    app = QApplication.instance() or QApplication(["kills"])
    assert app is not None
    bench, parent = Bench(demo_jobs()[1]), QWidget()
    files = Files(bench, Banner(), parent, folder / "recovery")
    count = 0
    os.write(tell, b"ready 0\n")
    while True:
        count += 1
        bench.document.history.do(set_job("Notes", notes=str(count)))
        files.keep_aside()
        os.write(tell, f"kept {count}\n".encode())
        if count % 4 == 0 and files.save_to(folder / "job.stance"):
            os.write(tell, f"saved {count}\n".encode())


def kill_once(seed: int, count: Kills) -> None:
    """One child, one kill, one look at what is left."""
    wait = random.Random(seed).uniform(0.0, LONGEST_S)
    with tempfile.TemporaryDirectory() as scratch:
        folder = Path(scratch)
        ours, theirs = os.pipe()
        child = os.fork()
        if child == 0:
            os.close(ours)
            try:
                _work(folder, theirs)
            finally:
                os._exit(1)
        os.close(theirs)
        with os.fdopen(ours, "rb") as told:
            first = told.readline()
            assert first.startswith(b"ready"), "the child did not get to work"
            time.sleep(wait)
            os.kill(child, signal.SIGKILL)
            os.waitpid(child, 0)
            lines = told.read().decode().split("\n")
        words = [line for line in lines if line.count(" ") == 1]
        count.kills += 1
        if not words:
            return
        what, number = words[-1].split()
        found = [int(r.job.notes or 0) for r in find_recovered(folder / "recovery")]
        if (folder / "job.stance").exists():
            found.append(int(load_job(folder / "job.stance")[0].notes or 0))
        if what == "kept":
            count.kept += 1
        else:
            count.saved += 1
        if max(found, default=-1) < int(number):
            count.lost.append(f"seed {seed}: {words[-1]} was confirmed, found {found}")


def preload() -> None:
    """What a child would otherwise read anew after each fork."""
    demo_jobs()
    sys.stdout.flush()
