"""The long run of tests/test_kills.py: .venv/bin/python scripts/long_kills.py [KILLS]  (3,000 unless said otherwise)"""

import sys
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parent.parent))

from tests.kills import Kills, kill_once, preload


def main() -> int:
    preload()
    count = Kills()
    for seed in range(int(sys.argv[1]) if len(sys.argv) > 1 else 3000):
        kill_once(seed, count)
        if seed % 500 == 499:
            print(count, flush=True)
    print(count, *count.lost[:10], sep="\n")
    return 1 if count.lost else 0


if __name__ == "__main__":
    sys.exit(main())
