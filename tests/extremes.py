"""Extreme legal values in every figure of a job: whatever a field takes must be judged, said, or said to be unknown."""

import json
import random
from collections.abc import Iterator
from typing import Any

from even_stance.errors import StanceError
from even_stance.exchange.demo import demo_jobs
from even_stance.exchange.jobfile import dump_job, parse_job
from even_stance.replies.checking import check

VALUES = (0.0, 1e-6, 0.5, 12.7, 89.9, 999.0, 9_000.0, 19_999.0, -12.7, -9_000.0)


def figures(data: Any, path: tuple[Any, ...] = ()) -> Iterator[tuple[Any, ...]]:
    """The places of all figures of a job, but for the version."""
    if isinstance(data, dict | list):
        for key, value in data.items() if isinstance(data, dict) else enumerate(data):
            if key != "version":
                yield from figures(value, (*path, key))
    elif isinstance(data, float):
        yield path


def extreme_jobs(number: int, seed: int) -> Iterator[tuple[str, Any]]:
    """So many jobs with one figure set to an extreme value that the job takes, and what was set."""
    hands, plain = random.Random(seed), [json.loads(dump_job(job)) for job in demo_jobs()]
    places = [list(figures(data)) for data in plain]
    made = 0
    while made < number:
        which = hands.randrange(len(plain))
        path = hands.choice(places[which])
        copy = json.loads(json.dumps(plain[which]))
        place = copy
        for key in path[:-1]:
            place = place[key]
        was = place[path[-1]]
        place[path[-1]] = hands.choice((*VALUES, was * 10.0, was * 0.1, -was))
        try:
            job = parse_job(json.dumps(copy))
        except StanceError:
            continue
        made += 1
        yield f"{which} {'/'.join(map(str, path))} = {place[path[-1]]:g}", job


def faults(number: int, seed: int) -> list[str]:
    """What raised, or was said to be no fault of the person's, over so many extreme jobs."""
    found = []
    for words, job in extreme_jobs(number, seed):
        try:
            said = check(job, fine=False).lines
        except Exception as error:  # whatever comes out is what is looked for
            found.append(f"{words}: {type(error).__name__}: {error}")
            continue
        found += [f"{words}: {line.sentence}" for line in said if "fault in Even Stance" in line.sentence]
    return found
