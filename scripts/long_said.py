"""The long run of tests/test_said.py: .venv/bin/python scripts/long_said.py [JOBS] [SEED]

300 half-filled jobs unless said otherwise.
"""

import sys
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parent.parent))

from tests.test_said import half_filled, untrue


def main() -> int:
    jobs, seed = (int(v) for v in (*sys.argv[1:3], *("300", "1")[len(sys.argv) - 1 :]))
    found = 0
    for i, job in enumerate(half_filled(jobs, seed)):
        for words in untrue(job):
            found += 1
            print(f"job {i}: {words}", flush=True)
    print(f"{jobs} half-filled jobs, {found} statements better than what is known")
    return 1 if found else 0


if __name__ == "__main__":
    sys.exit(main())
