"""The demo jobs that come with the app: made-up vehicles."""

import json
from functools import cache, lru_cache
from importlib.resources import files
from importlib.resources.abc import Traversable

from even_stance.exchange.jobfile import parse_job
from even_stance.vehicle.job import Job


def demo_jobs() -> list[Job]:
    """All demo jobs, in order."""
    return [demo_job(i) for i in range(len(_files()))]


@cache
def demo_job(index: int) -> Job:
    """One demo job, read when it is first asked for."""
    file = _files()[index]
    return parse_job(file.read_text(encoding="utf-8"), file.name)


@lru_cache(maxsize=1)
def demo_names() -> tuple[str, ...]:
    """What the demo jobs are called, in order."""
    return tuple(json.loads(file.read_text(encoding="utf-8"))["name"] for file in _files())


@lru_cache(maxsize=1)
def _files() -> tuple[Traversable, ...]:
    folder = files("even_stance") / "demo"
    return tuple(sorted((f for f in folder.iterdir() if f.name.endswith(".stance")), key=lambda f: f.name))
