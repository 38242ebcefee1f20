"""Damaged files are refused in a sentence or answered: a short run of scripts/long_mutants.py."""

from pathlib import Path

from tests.mutants import damaged_jobs, damaged_points


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
