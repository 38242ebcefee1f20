"""Damaged files are refused in a sentence or answered: a short run of scripts/long_mutants.py."""

import hashlib
from collections.abc import Callable
from pathlib import Path

import pytest

from tests.extremes import faults
from tests.mutants import (
    Mutants,
    damaged_drawers,
    damaged_jobs,
    damaged_meshes,
    damaged_outlines,
    damaged_photos,
    damaged_points,
)


def test_damaged_job_files(tmp_path: Path) -> None:
    count = damaged_jobs(tmp_path, 80)
    # Memory and time of a whole test run are not those of one file: just the long run holds them.
    assert [f for f in count.faults if not f.startswith("memory") and " took " not in f] == []
    assert count.refused > 45
    assert count.answered > 6


def test_damaged_points_files(tmp_path: Path) -> None:
    count = damaged_points(tmp_path, 120)
    assert [f for f in count.faults if not f.startswith("memory")] == []
    assert count.refused > 20
    assert count.answered > 10


@pytest.mark.parametrize(
    ("damaged", "number"),
    [(damaged_outlines, 60), (damaged_meshes, 150), (damaged_photos, 120), (damaged_drawers, 120)],
)
def test_other_damaged_files(tmp_path: Path, damaged: Callable[[Path, int], Mutants], number: int) -> None:
    count = damaged(tmp_path, number)
    assert [f for f in count.faults if not f.startswith("memory") and " took " not in f] == []
    assert count.refused > 0.2 * number
    assert count.answered > 0.02 * number


def test_extreme_legal_figures_are_judged_or_said_to_be_unknown() -> None:
    assert faults(12, seed=int(hashlib.sha256(b"extremes").hexdigest()[:6], 16)) == []
