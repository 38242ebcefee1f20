"""The long run of tests/test_words.py: .venv/bin/python scripts/long_words.py [CARS] [FIRST]  (40 and 0 if not said)"""

import sys
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parent.parent))

from tests.test_words import disagreements, random_car


def main() -> int:
    cars, first = (int(v) for v in (*sys.argv[1:3], *("40", "0")[len(sys.argv) - 1 :]))
    found = 0
    for seed in range(first, first + cars):
        for words in disagreements(random_car(seed)):
            found += 1
            print(f"car {seed}: {words}", flush=True)
    print(f"{cars} random cars, {found} statements that the other replies do not bear out")
    return 1 if found else 0


if __name__ == "__main__":
    sys.exit(main())
