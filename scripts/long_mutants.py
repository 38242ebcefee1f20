"""The long run of tests/test_mutants.py: .venv/bin/python scripts/long_mutants.py [JOBS] [OTHERS] [SEED]

20,000 damaged job files, and 2,000 each of points, outlines, scans, photos and drawers unless said otherwise; each
within 2 s and 300 MB.
"""

import sys
import tempfile
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parent.parent))

from tests.mutants import (
    damaged_drawers,
    damaged_jobs,
    damaged_meshes,
    damaged_outlines,
    damaged_photos,
    damaged_points,
    tell,
)


def main() -> int:
    jobs, others, seed = (int(v) for v in (*sys.argv[1:4], *("20000", "2000", "1")[len(sys.argv) - 1 :]))
    folder = Path(tempfile.mkdtemp(prefix="even-stance-mutants."))
    found = []
    every = (damaged_points, damaged_outlines, damaged_meshes, damaged_photos, damaged_drawers)
    for damaged, number in (*((kind, others) for kind in every), (damaged_jobs, jobs)):
        count = damaged(folder, number, seed)
        print(damaged.__name__.replace("_", " "), end=": ")
        tell(count)
        found.append(count)
    faults = sum(len(count.faults) for count in found)
    print(f"Files that made faults are in {folder}." if faults else "No faults.")
    return 1 if faults else 0


if __name__ == "__main__":
    sys.exit(main())
