"""No figure that a field takes locks the window: undo, typing and keeping work go on whatever cannot be worked out."""

import random
from collections.abc import Callable
from pathlib import Path

import pytest
from PyQt6 import sip
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QLabel

from even_stance.desktop import studies as studies_module
from even_stance.desktop.stations import STATIONS
from even_stance.desktop.widgets.fields import NumberField
from even_stance.exchange.jobfile import load_job
from even_stance.faults import report_faults_to
from even_stance.vehicle.edits import set_axle, set_job, with_changes
from even_stance.vehicle.job import Job
from even_stance.vehicle.log import Log
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


EXTREMES = ("0", "0.001", "1/2", "-88888", "88888", "9000 mm", "350", "abc")


@pytest.mark.parametrize(("number", "seed"), [(0, 1), (1, 2), (2, 3), (3, 4), (4, 5)])
def test_extreme_values_in_fields_of_every_page_are_told_or_taken_and_undone(
    open_window: Open, number: int, seed: int
) -> None:
    """A sixth of the fields of every page a run, each with one of many values; a fault in any slot fails this."""
    window, hands = open_window(number), random.Random(seed)
    bench = window.bench
    whole, typed = bench.job, 0
    for each in STATIONS:
        window.go(each.key)
        pages = window.station(each.key).pages
        for page in range(len(pages.buttons)):
            pages.turn_to(page)
            QApplication.processEvents()
            for field in window.station(each.key).findChildren(NumberField):
                if hands.random() > 0.17 or not _can_be_typed(field):
                    continue
                words, typed = hands.choice(EXTREMES), typed + 1
                _type(field, words)
                if not _can_be_typed(field):
                    continue
                if field.property("wrong"):
                    assert field.text() == words  # nothing typed is lost
                    assert _words_at(field), f"{each.key} {page} {field.name}: refused “{words}” without a word"
                    QTest.keyClick(field, Qt.Key.Key_Escape)
                while bench.document.history.undo_label is not None:
                    bench.undo()
                QApplication.processEvents()
    assert typed > 15
    assert _without_log(bench.job) == _without_log(whole)
    assert bench.verdicts(bench.axle_key)


def _can_be_typed(field: NumberField) -> bool:
    return not sip.isdeleted(field) and field.isVisible() and field.isEnabled() and not field.isReadOnly()


def _type(field: NumberField, words: str) -> None:
    field.setFocus()
    field.selectAll()
    QTest.keyClicks(field, words)
    QTest.keyClick(field, Qt.Key.Key_Return)
    QApplication.processEvents()


def _words_at(field: NumberField) -> bool:
    """Whether words of alarm stand at a field, not just in its tip."""
    at = field.mapTo(field.window(), field.rect().center())
    for label in field.window().findChildren(QLabel):
        if label.property("role") == "alarm" and label.isVisible() and label.text():
            box = label.rect().translated(label.mapTo(field.window(), QPoint(0, 0)))
            if max(at.y() - box.bottom(), box.top() - at.y()) < 3 * field.height():
                return True
    return False


def _without_log(job: Job) -> Job:
    return with_changes(job, log=Log())
