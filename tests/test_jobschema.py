"""The schema of job files tells every property, and takes what the reader takes."""

import copy
import json
from collections.abc import Iterator
from typing import Any

import numpy as np
import pytest
from jsonschema import Draft202012Validator

from even_stance.errors import JobFileError
from even_stance.exchange.demo import demo_jobs
from even_stance.exchange.jobfile import dump_job, parse_job
from even_stance.exchange.jobschema import generated_schema

SCHEMA = json.loads(generated_schema())
VALID = Draft202012Validator(SCHEMA)


def test_every_property_says_what_it_means_and_in_which_unit() -> None:
    bare, unitless = [], []
    for name, record in (("Job", SCHEMA), *SCHEMA["$defs"].items()):
        for key, prop in record.get("properties", {}).items():
            words = prop.get("description", "")
            bare += [f"{name}.{key}"] if not words else []
            unitless += [f"{name}.{key}"] if key.endswith("_mm") and "mm" not in words else []
    assert bare == []
    assert unitless == []


def _places(value: Any, path: tuple[Any, ...] = ()) -> Iterator[tuple[Any, ...]]:
    yield path
    inner = value.items() if isinstance(value, dict) else enumerate(value) if isinstance(value, list) else ()
    for key, part in inner:
        yield from _places(part, (*path, key))


def _spoiled(data: Any, path: tuple[Any, ...], by: Any) -> Any:
    data = copy.deepcopy(data)
    at = data
    for key in path[:-1]:
        at = at[key]
    if by == "one more" and isinstance(at[path[-1]], dict):
        at[path[-1]]["one more"] = 1
    else:
        at[path[-1]] = by
    return data


@pytest.mark.parametrize("number", range(5))
def test_what_the_schema_refuses_the_reader_refuses(number: int) -> None:
    """150 jobs, each with one value spoiled: whatever the schema will not have is refused, and what it has is read but
    for rules between several fields, which no schema can say."""
    data = json.loads(dump_job(demo_jobs()[number]))
    assert VALID.is_valid(data)
    places = [p for p in _places(data) if p]
    rng = np.random.default_rng(number)
    wrong: list[tuple[Any, ...]] = []
    between = 0
    for i in rng.choice(len(places), 30, replace=False).tolist():
        for by in ("a word that fits nowhere", -1e12, None, "one more", [7]):
            spoiled = _spoiled(data, places[i], by)
            try:
                parse_job(json.dumps(spoiled))
                read = True
            except JobFileError:
                read = False
            allowed = VALID.is_valid(spoiled)
            if read and not allowed:
                wrong.append((*places[i], by))
            between += allowed and not read
    assert wrong == []
    assert between <= 15  # of 150: spots that must be there, holes that must hold the mount, and the like
