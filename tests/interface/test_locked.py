"""No figure that a field takes locks the window: undo, typing and keeping work go on whatever cannot be worked out."""

from collections.abc import Callable
from pathlib import Path

import pytest
from PyQt6.QtWidgets import QApplication

from even_stance.desktop import studies as studies_module
from even_stance.exchange.jobfile import load_job
from even_stance.faults import report_faults_to
from even_stance.vehicle.edits import set_axle, set_job
from tests.interface.conftest import Open, until


@pytest.mark.parametrize("change", [{"track_mm": 12.7}, {"bump_mm": 9_000.0}, {"droop_mm": 9_000.0}])
def test_an_axle_that_cannot_be_judged_is_undone(open_window: Open, change: dict[str, float]) -> None:
    """Front track 1/2 in raised while it was judged; so did undo and typing the old value again."""
    window = open_window(0)
    bench = window.bench
    was = bench.job
    assert bench.do(set_axle("front", "Wild", **change)).done
    QApplication.processEvents()
    assert bench.do(set_axle("rear", "Tamer", track_mm=1_500.0)).done
    bench.undo()
    bench.undo()
    assert bench.job == was
    assert bench.verdicts("front")


@pytest.mark.parametrize("name", ["judge", "study_axle", "travel_findings"])
def test_a_fault_in_a_study_is_said_in_its_place_and_stops_nothing_else(
    open_window: Open, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, name: str
) -> None:
    window = open_window(0)
    bench = window.bench
    written: list[BaseException] = []
    report_faults_to(written.append)

    def broken(*_: object, **__: object) -> object:
        raise ZeroDivisionError("on purpose")

    try:
        with monkeypatch.context() as patch:
            patch.setattr(studies_module, name, broken)
            assert bench.do(set_axle("rear", "Track", track_mm=1_511.0)).done
            QApplication.processEvents()
            said = [f.sentence for f in bench.findings()]
            words = "could not be worked out: a fault in Even Stance itself (ZeroDivisionError)"
            assert any(words in s for s in (*said, bench.studies.layout_error("rear") or ""))
            assert bench.do(set_job("Name", name="still typed")).done  # another edit goes on, and it is still said
            assert any(words in f.sentence for f in bench.findings()) or bench.studies.layout_error("rear")
            window.files.keep_aside()
            assert window.files.save_to(tmp_path / "kept.stance")
            bench.undo()
            bench.undo()
        assert len(written) == 1  # a report of a fault is written once
    finally:
        report_faults_to(None)
    assert load_job(tmp_path / "kept.stance")[0].name == "still typed"
    assert bench.do(set_axle("rear", "Track", track_mm=1_512.0)).done
    assert bench.verdicts("rear")
    assert not bench.studies.troubles()
    until(lambda: not bench.judging.due)


def test_a_finder_that_fails_is_a_finding(open_window: Open) -> None:
    window = open_window(0)
    good: Callable[..., object] = window.bench._finders[0]

    def broken(_studies: object) -> list[object]:
        raise KeyError("on purpose")

    window.bench._finders = (broken, good)  # type: ignore[assignment]
    window.bench.gaps_found()
    assert any("could not be worked out" in f.sentence for f in window.bench.findings())
