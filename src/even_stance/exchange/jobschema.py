"""The JSON Schema of job files: meaning, unit and sign of every property, from the records and their docstrings."""

import json
import re
from collections.abc import Iterator
from typing import Any

from even_stance.vehicle.job import Job
from even_stance.vehicle.records import Record

_UNITS = {
    "mm": "mm", "kg": "kg", "n": "N", "deg": "degrees", "n_mm": "N/mm", "pct": "percent", "mpa": "MPa", "kpa": "kPa",
    "kmh": "km/h", "rpm": "rpm", "nm": "N m",
}  # fmt: skip
# What means the same wherever it stands, said once.
_COMMON = {
    "name": "what it is called; links, springs and things are addressed by it",
    "kind": "which sort of part this is", "sort": "which sort of part this is", "shape": "which form it has",
    "role": "upper, lower or lateral: what it does on the axle", "side": "left, right or center of the car",
    "tube_mm": "outside diameter of its tube as it is drawn", "source": "who says so",
    "at": "where it is, in the axes of the car: x forward, y left, z up, from the ground below the front axle center",
    "chassis": "its mount on the frame", "axle": "its mount on the axle, or the axle it is on, by name",
    "chassis_left": "its left mount on the frame", "chassis_right": "its right mount on the frame",
    "axle_left": "its left mount on the axle", "axle_right": "its right mount on the axle",
    "top": "its mount on the frame", "bottom": "its mount on the axle or on what carries it",
    "x": "forward of the front axle center at ride height, mm; behind it is negative",
    "y": "to the left of the centerline, mm; to the right is negative", "z": "above the ground at ride height, mm",
    "low": "lower end of the wanted band, none where it is open", "high": "upper end of the wanted band, or none",
    "diameter_mm": "diameter", "pitch_mm": "thread pitch", "yield_mpa": "yield strength",
    "outside_mm": "outside diameter", "wall_mm": "wall thickness", "across_mm": "diameter",
    "body_mm": "diameter of its body", "mass_kg": "how much it weighs", "vehicle": "the car", "note": "as typed",
}  # fmt: skip
_OWN = {
    ("Job", "format"): "always this word", ("Job", "version"): "of the file format",
    ("Job", "units"): "how lengths are read and shown; stored are mm", ("Job", "purpose"): "what the car is judged as",
    ("Job", "bands"): "wanted bands that differ from the usual ones, by the key of the number",
    ("Job", "loads"): "what the load cases assume", ("Job", "notes"): "as typed",
    ("Job", "measuring"): "what was measured, and what follows from it",
    ("Axle", "tire"): "its tires", ("Axle", "driven"): "whether it drives", ("Axle", "steered"): "whether it steers",
    ("Axle", "members"): "the links and arms that hold it",
    ("CoilSpring", "coil"): "its coil", ("CoilSpring", "seats_mm"): "how far its seats stand apart at ride height",
    ("Crib", "height_mm"): "wanted height", ("Crib", "thick_mm"): "timber, thick", ("Crib", "wide_mm"): "timber, wide",
    ("Crib", "stock_mm"): "length of a bar of timber", ("Crib", "kerf_mm"): "width of the saw cut",
    ("Leaf", "fixed_eye"): "the eye that is bolted to the frame", ("Leaf", "seat"): "where it sits on the axle",
    ("Leaf", "shackle_eye"): "the eye that hangs in the shackle", ("Leaf", "shackle"): "its mount on the frame",
    ("LowPoint", "on"): "what hangs so low", ("Measuring", "heights"): "ride heights as they were measured",
    ("Measuring", "low_points"): "what hangs low", ("Measuring", "ballast"): "parts not on the car when it was weighed",
    ("Measuring", "lift"): "one end lifted, for the CG height", ("Measuring", "threads"): "the threads of adjusters",
    ("Measuring", "crib"): "what wheel cribs are made of", ("Price", "what"): "which part, by name",
    ("Price", "each"): "cost of one", ("Reading", "tool"): "what it was measured with",
    ("SwayBar", "bearing_left"): "its left bearing", ("SwayBar", "bearing_right"): "its right bearing",
    ("SwayBar", "arm_left"): "end of its left arm", ("SwayBar", "arm_right"): "end of its right arm",
    ("SwayBar", "drop_left"): "where its left drop link ends", ("SwayBar", "drop_right"): "where its right one ends",
    ("Tire", "free_diameter_mm"): "diameter, not loaded", ("Tire", "loaded_radius_mm"): "axle center above the ground",
    ("Tire", "width_mm"): "width over all", ("Turned", "part"): "which link",
    ("Turned", "longer_mm"): "how much longer (+) or shorter it was made", ("Vehicle", "axles"): "front to rear",
    ("Vehicle", "cg_height_mm"): "center of gravity above the ground", ("Vehicle", "cg_source"): "how it is known",
    ("Vehicle", "cg_sure_mm"): "its +/-", ("Vehicle", "frame"): "the frame rails", ("WantedGap", "a"): "one part",
    ("WantedGap", "b"): "the other", ("WantedGap", "gap_mm"): "the gap wanted between them",
    ("WantedGap", "together"): "whether they belong together",
    ("Watts", "pivot"): "pivot of its crank", ("Watts", "crank_left"): "left joint on the crank",
    ("Watts", "crank_right"): "right joint on the crank", ("Watts", "outer_left"): "far end of its left link",
    ("Watts", "outer_right"): "far end of its right link",
}  # fmt: skip


def generated_schema() -> str:
    """The JSON Schema of job files."""
    schema = Job.model_json_schema()
    records = {kind.__name__: kind for kind in _kinds(Record)}
    for name, record in (("Job", schema), *schema.get("$defs", {}).items()):
        if name not in records:
            continue
        record["description"] = (records[name].__doc__ or "").split("\n\n")[0].strip()
        told = _attributes(records[name])
        for key, prop in record.get("properties", {}).items():
            words = told.get(key) or _OWN.get((name, key)) or _COMMON.get(key, "")
            prop["description"] = _with_unit(words, key)
    schema["$schema"] = "https://json-schema.org/draft/2020-12/schema"
    return json.dumps(schema, indent=1) + "\n"


def _kinds(base: type[Any]) -> Iterator[type[Any]]:
    for kind in base.__subclasses__():
        yield kind
        yield from _kinds(kind)


def _attributes(record: type[Any]) -> dict[str, str]:
    """What the docstrings of a record and of those it comes from say of its fields: “a, b: words; c: words.”"""
    found: dict[str, str] = {}
    for kind in reversed(record.__mro__):
        _, _, said = (kind.__dict__.get("__doc__") or "").partition("Attributes:")
        names = "|".join(sorted(map(re.escape, getattr(kind, "model_fields", {})), key=len, reverse=True))
        if not said or not names:
            continue
        several = rf"(?:(?:{names})(?:, | and )?)+"
        pattern = rf"(?:^|[;.:,] )({several}): (.*?)(?=(?:[;.] {several}: )|$)"
        for match in re.finditer(pattern, " ".join(said.split())):
            for field in re.split(r", | and ", match.group(1)):
                found[field] = match.group(2).rstrip(".")
    return found


def _with_unit(words: str, key: str) -> str:
    """The words with the unit that the end of a name stands for, where they do not say it."""
    ending = next((e for e in sorted(_UNITS, key=len, reverse=True) if key.endswith(f"_{e}")), "")
    unit = _UNITS.get(ending, "")
    return f"{words}, {unit}" if words and unit and not re.search(rf"\b{re.escape(unit)}\b", words) else words
