"""Jobs in which every text is a stranger's: markup, a formula, marks that command a terminal."""

import json
from collections.abc import Iterator
from typing import Any

from even_stance.errors import StanceError
from even_stance.exchange.jobfile import dump_job, parse_job
from even_stance.vehicle.job import Job


def texts(data: Any) -> Iterator[str]:
    """Every text of a job."""
    if isinstance(data, dict | list):
        for value in data.values() if isinstance(data, dict) else data:
            yield from texts(value)
    elif isinstance(data, str) and data:
        yield data


def hostile_text(number: int) -> str:
    """A text that is a formula, markup, and commands a terminal."""
    return f"=H{number}<b>x</b>\x1b[31m\u202e"


def _swapped(data: Any, old: str, new: str) -> Any:
    if isinstance(data, dict):
        return {_key(k, old, new): _swapped(v, old, new) for k, v in data.items()}
    if isinstance(data, list):
        return [_swapped(v, old, new) for v in data]
    return new if data == old else data


def _key(key: str, old: str, new: str) -> str:
    return new if key == old else key


def hostile_job(job: Job) -> tuple[Job, int]:
    """A job with every text swapped that the reader lets anyone choose, wherever it stands, and how many these were."""
    data, count = json.loads(dump_job(job)), 0
    for i, text in enumerate(dict.fromkeys(texts(data))):
        tried = _swapped(data, text, hostile_text(i))
        try:
            parse_job(json.dumps(tried))
        except StanceError:
            continue
        data, count = tried, count + 1
    return parse_job(json.dumps(data)), count
