"""Every autosave and save that was confirmed is found again, whenever the program is killed."""

import subprocess
import sys
from pathlib import Path


def test_killed_at_any_moment_what_was_confirmed_is_there() -> None:
    """A short run of scripts/long_kills.py, in a process of its own: it forks."""
    root = Path(__file__).parent.parent
    done = subprocess.run(
        [sys.executable, "scripts/long_kills.py", "25"], cwd=root, capture_output=True, text=True, check=False
    )
    assert done.returncode == 0, done.stdout + done.stderr
    assert "25 kills" in done.stdout
    assert "lost 0" in done.stdout
