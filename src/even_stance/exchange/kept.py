"""What the program keeps about itself (settings, notes of kept work): read so that whatever is found, it starts."""

import json
import math
from pathlib import Path
from typing import Any

from even_stance.exchange.wholefile import read_whole

_LARGEST = 100_000
_LATEST_S = 4_102_444_800.0  # the year 2100


def read_kept(file: Path) -> dict[str, Any]:
    """Return the plain values of a small file of our own; nothing where it is missing, damaged or no such file."""
    try:
        kept = json.loads(read_whole(file, _LARGEST, "a file of Even Stance"))
    except (OSError, ValueError, RecursionError):
        return {}
    return kept if isinstance(kept, dict) else {}


def text_of(kept: dict[str, Any], name: str, longest: int = 4_096) -> str:
    """Return a text that was kept; empty where there is none that could have been."""
    value = kept.get(name)
    return value if isinstance(value, str) and len(value) <= longest and "\0" not in value else ""


def path_of(kept: dict[str, Any], name: str) -> Path | None:
    """Return a path that was kept, or None."""
    text = text_of(kept, name)
    return Path(text) if text else None


def paths_of(kept: dict[str, Any], name: str, most: int) -> list[Path]:
    """Return paths that were kept as a list, those that could have been."""
    values = kept.get(name)
    found = [path_of({"": value}, "") for value in values[:most]] if isinstance(values, list) else []
    return [path for path in found if path is not None]


def time_of(kept: dict[str, Any], name: str, instead: float) -> float:
    """Return a moment that was kept, seconds since 1970; another where there is none that could have been."""
    value = kept.get(name)
    if isinstance(value, bool) or not isinstance(value, int | float):
        return instead
    # A whole number may be too long for a float.
    return float(value) if 0 <= value <= _LATEST_S and math.isfinite(value) else instead
