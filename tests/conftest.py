"""Jobs that many tests use, built through the same doors as the app's own."""

import os
from collections.abc import Iterator
from functools import lru_cache
from pathlib import Path

import pytest
from hypothesis import settings

from even_stance.exchange.demo import demo_jobs
from even_stance.judgement.catalog.starter import NewJob, new_job
from even_stance.units import HABITS
from even_stance.vehicle.job import Job

IN = 25.4
# The same examples on every run, so that what passed passes again; EVEN_STANCE_SEARCH=1 looks for new ones.
settings.register_profile("steady", derandomize=True, deadline=None)
settings.register_profile("search", derandomize=False, deadline=None)
settings.load_profile("search" if os.environ.get("EVEN_STANCE_SEARCH") else "steady")
if not os.environ.get("DISPLAY"):
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")


@lru_cache
def starter(purpose: str = "trail", layout: str = "triangulated") -> Job:
    """A new job as the app starts one."""
    asked = NewJob("Test rig", purpose, "us", 118 * IN, 64 * IN, 35 * IN, 12.5 * IN)  # type: ignore[arg-type]
    return new_job(asked, layout)  # type: ignore[arg-type]


@pytest.fixture(autouse=True)
def figures_as_usual() -> Iterator[None]:
    """How a person reads figures belongs to their window: no test hands it on to the next."""
    yield
    HABITS.decimal_inches, HABITS.comma = False, False


@pytest.fixture
def trail_job() -> Job:
    return demo_jobs()[0]


@pytest.fixture
def coupe_job() -> Job:
    return demo_jobs()[1]


@pytest.fixture
def rock_job() -> Job:
    return demo_jobs()[2]


@pytest.fixture(autouse=True)
def _home_apart(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """No test may touch the user's own settings or kept work."""
    for name in ("XDG_STATE_HOME", "XDG_CONFIG_HOME", "XDG_DATA_HOME"):
        monkeypatch.setenv(name, str(tmp_path / name.lower()))
