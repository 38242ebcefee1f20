"""The demo jobs that come with the app: made-up vehicles."""

from functools import lru_cache
from importlib.resources import files

from even_stance.exchange.jobfile import parse_job
from even_stance.vehicle.job import Job


def demo_jobs() -> list[Job]:
    """All demo jobs, in order."""
    return list(_read())


@lru_cache(maxsize=1)
def _read() -> tuple[Job, ...]:
    folder = files("even_stance") / "demo"
    names = sorted(entry.name for entry in folder.iterdir() if entry.name.endswith(".stance"))
    return tuple(parse_job((folder / name).read_text(encoding="utf-8"), name) for name in names)
