"""The long run of tests/test_lock_up.py: .venv/bin/python scripts/long_ways.py [WAYS]  (10,000 for every layout)

Counts the ways from ride height that lock up, and those the solver answers otherwise than a path-following referee.
"""

import sys
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parent.parent))

from tests.ways import CASES, Count, compare, random_ways, shortened

BATCH = 500


def main() -> int:
    asked = int(sys.argv[1]) if len(sys.argv) > 1 else 10_000
    faults = 0
    for case in CASES:
        count = Count()
        for seed in range(-(-asked // BATCH)):
            linkage = shortened(*case, seed)
            compare(linkage, random_ways(linkage, min(BATCH, asked), seed), count)
        print(" + ".join(filter(None, case)), count, sep=": ", flush=True)
        faults += count.wrong + count.missed + count.misplaced
    return 1 if faults else 0


if __name__ == "__main__":
    sys.exit(main())
