"""Job files of earlier versions brought up to date, one step for each version."""

from collections.abc import Callable
from typing import Any

from even_stance.vehicle.job import VERSION


def brought_up(data: dict[str, Any]) -> bool:
    """Bring the plain data of a job up to the version of today, in place; whether it was an older one.

    Args:
        data: a job of a version from 1 to that of today.
    """
    first: int = data["version"]
    while data["version"] < VERSION:
        _STEPS[data["version"]](data)
        data["version"] += 1
    return first < VERSION


def _to_2(data: dict[str, Any]) -> None:
    """How far a joint may tilt got its proper name: the field swing_limit_deg of a mount is misalignment_limit_deg."""
    found: list[Any] = [data]
    while found:
        part = found.pop()
        if isinstance(part, list):
            found += part
        elif isinstance(part, dict):
            if "swing_limit_deg" in part and "misalignment_limit_deg" not in part:
                part["misalignment_limit_deg"] = part.pop("swing_limit_deg")
            found += part.values()


_STEPS: dict[int, Callable[[dict[str, Any]], None]] = {1: _to_2}
