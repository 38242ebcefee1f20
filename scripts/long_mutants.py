"""The long run of tests/test_mutants.py: .venv/bin/python scripts/long_mutants.py [JOBS] [POINTS] [SEED]

20,000 damaged job files and 2,000 damaged points files unless said otherwise; each within 2 s and 300 MB.
"""

import sys
import tempfile
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parent.parent))

from tests.mutants import damaged_jobs, damaged_points, tell


def main() -> int:
    jobs, points, seed = (int(v) for v in (*sys.argv[1:4], *("20000", "2000", "1")[len(sys.argv) - 1 :]))
    folder = Path(tempfile.mkdtemp(prefix="even-stance-mutants."))
    found = [damaged_jobs(folder, jobs, seed), damaged_points(folder, points, seed)]
    for count in found:
        tell(count)
    faults = sum(len(count.faults) for count in found)
    print(f"Files that made faults are in {folder}." if faults else "No faults.")
    return 1 if faults else 0


if __name__ == "__main__":
    sys.exit(main())
