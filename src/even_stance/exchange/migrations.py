"""Job files of earlier versions brought up to date, one step for each version."""

import re
from collections.abc import Callable, Iterator
from typing import Any

from even_stance.vehicle.job import VERSION
from even_stance.vehicle.records import GUESS_MM, TAPE_MM, HowKnown
from even_stance.vehicle.spots import POWER_WORDS, STEER_POINTS


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


# The +/- that places had while nobody said: a tape's, and those that starting springs and steerings came with.
_UNSAID_MM = (TAPE_MM, 6.35, 12.0, GUESS_MM)


def _to_3(data: dict[str, Any]) -> None:
    """Every point says how it is known: by its last reading; without one, a +/- of its own shows that it was typed.

    What has neither is a guess, and as unsure as one.
    """
    measured = _by_readings(data)
    branches = [v for v in _list(data, "variants") if isinstance(v, dict)]
    for vehicle in (_dict(data, "vehicle"), *(_dict(b, "vehicle") for b in branches)):
        for axle in _list(vehicle, "axles"):
            if isinstance(axle, dict):
                for what, point in _points_of_axle(axle):
                    _say_known(point, measured.get(what))
        frame = _dict(vehicle, "frame")
        if frame and "known" not in frame:
            frame["known"] = measured.get("frame", "guessed")
        power = _dict(vehicle, "powertrain")
        for end in POWER_WORDS:
            _say_known(power.get(end), measured.get(f"powertrain.{end}"))
        for mark in _list(power, "marks"):
            if isinstance(mark, dict):
                _say_known(mark.get("at"), measured.get(f"mark.{mark.get('name')}"))


def _dict(part: dict[str, Any], name: str) -> dict[str, Any]:
    found = part.get(name)
    return found if isinstance(found, dict) else {}


def _list(part: dict[str, Any], name: str) -> list[Any]:
    found = part.get(name)
    return found if isinstance(found, list) else []


def _by_readings(data: dict[str, Any]) -> dict[str, HowKnown]:
    """How places are known that were measured ahead, left and up, and rails, by the last reading that counts."""
    found: dict[str, HowKnown] = {}
    seen: dict[str, set[str]] = {}
    for reading in _list(_dict(data, "measuring"), "readings"):
        if not isinstance(reading, dict) or reading.get("counts", True) is not True:
            continue
        tool, stage = reading.get("tool", "tape"), reading.get("stage", "found")
        known: HowKnown = "taped" if stage == "found" else "built"
        known = "guessed" if tool == "guess" else "derived" if tool == "worked_out" else known
        what = str(reading.get("what"))
        base, coordinate = re.fullmatch(r"(.*?)(?:[/.](ahead|left|up|top|bottom|out))?", what, re.DOTALL).groups()  # type: ignore[union-attr]
        found[base] = known
        seen.setdefault(base, set()).add(str(coordinate))
    return {base: known for base, known in found.items() if len(seen[base]) == 3}


def _points_of_axle(axle: dict[str, Any]) -> Iterator[tuple[str, Any]]:
    """Every point of an axle, with what its readings are called."""
    key = axle.get("key")
    for part in (*_list(axle, "members"), *_list(axle, "springs")):
        if isinstance(part, dict):
            for end, mount in part.items():
                if isinstance(mount, dict) and "at" in mount:
                    what = f"{key}/{part.get('name')}/{end}"
                    yield from ((what, point) for point in (mount["at"], *_list(mount, "holes")))
    for end in ("output", "pinion"):
        yield f"{key}.{end}", _dict(axle, end).get("at")
    yield f"{key}.carrier", _dict(axle, "shaft").get("carrier")
    steering = _dict(axle, "steering")
    for end, (path, _, _) in STEER_POINTS.items():
        part = steering
        for step in path[:-1]:
            part = _dict(part, step)
        yield f"{key}.{end}", part.get(path[-1])
    for arm in _list(steering, "arm_holes"):
        if isinstance(arm, dict):
            yield from ((f"{key}.{arm.get('end')}", point) for point in _list(arm, "at"))


def _say_known(point: Any, known: HowKnown | None) -> None:
    """Say how a point is known, where it does not say so itself."""
    if not isinstance(point, dict) or "known" in point:
        return
    sure = point.get("sure", TAPE_MM)
    if known is None and isinstance(sure, int | float):
        known = "guessed" if any(abs(sure - mm) < 1e-6 for mm in _UNSAID_MM) else "typed"
        if known == "guessed":
            point["sure"] = max(sure, GUESS_MM)
    point["known"] = known


_STEPS: dict[int, Callable[[dict[str, Any]], None]] = {1: _to_2, 2: _to_3}
