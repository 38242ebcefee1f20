"""The Log in the window: tacked, one end off, the fix taken, measured again, welded, settled, re-checked, the book printed."""

from pathlib import Path
from typing import cast

import pytest
from PIL import Image
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from even_stance.desktop.stations.log.bookpage import BookPage
from even_stance.desktop.stations.log.builtpage import BuiltPage
from even_stance.desktop.stations.log.diarypage import DiaryPage
from even_stance.desktop.stations.log.photospage import PhotosPage
from even_stance.desktop.stations.log.recheckpage import RecheckPage
from even_stance.desktop.stations.log.station import BOOK, BUILT, DIARY, PHOTOS, RECHECKS, LogStation
from even_stance.desktop.stations.stance.squarepage import SquarePage
from even_stance.desktop.stations.stance.station import SQUARE
from even_stance.desktop.window import MainWindow
from even_stance.exchange.photos import photo_folder
from even_stance.shop.asbuilt import expected
from even_stance.vehicle.log import Entry
from tests.interface.conftest import Open, type_into, until


def _page(window: MainWindow, number: int) -> object:
    station = cast(LogStation, window.station("log"))
    station.turn_to(number)
    QApplication.processEvents()
    return station.pages.page(number)


def _known(window: MainWindow) -> None:
    until(lambda: window.bench.log.up_to_date)


@pytest.fixture
def rear(open_window: Open) -> MainWindow:
    window = open_window(0)
    window.bench.select_axle("rear")
    window.go("log")
    _known(window)
    return window


def _measure(window: MainWindow, point: str, off: tuple[float, float, float]) -> None:
    page = cast(BuiltPage, _page(window, BUILT))
    i = page.point.findText(point)
    assert i >= 0
    page.point.setCurrentIndex(i)
    page.point.activated.emit(i)
    base = page.point.currentData()
    for axis, by in zip(("ahead", "left", "up"), off, strict=True):
        should = expected(window.bench.job, f"{base}{axis}")
        assert should is not None
        type_into(page.fields[axis], f"{should + by:.2f} mm")
    page.keep.click()
    _known(window)


def _stage(window: MainWindow, stage: str) -> None:
    page = cast(BuiltPage, _page(window, BUILT))
    i = page.stage.findData(stage)
    page.stage.setCurrentIndex(i)
    page.stage.activated.emit(i)


def _write_down(window: MainWindow) -> None:
    """An entry by hand, found by its words; undo goes back in the design, the diary says what happened all the same."""
    bench, diary = window.bench, cast(DiaryPage, _page(window, DIARY))
    diary.title.setText("Test bead")
    diary.text.setText("1/4 plate")
    type_into(diary.hours, "1.5")
    diary.keep.click()
    assert bench.job.log.entries[-1].hours == 1.5
    diary.search.setText("test bead")
    assert [i.title for i in diary.items] == ["Test bead"]
    diary.search.setText("")
    many = len(bench.job.log.entries)
    bench.undo()
    assert len(bench.job.log.entries) == many
    bench.redo()


def _look_again(window: MainWindow, folder: Path) -> None:
    """The usual re-checks, due once it has settled; a reading says what moved."""
    bench, again = window.bench, cast(RecheckPage, _page(window, RECHECKS))
    again.usual.click()
    assert again.words.text().startswith("0 due now")
    _stage(window, "settled")
    again = cast(RecheckPage, _page(window, RECHECKS))
    assert not again.words.text().startswith("0 due now")
    row = next(i for i, r in enumerate(bench.job.log.rechecks) if r.what == "rear.pinion.angle")
    again.table.selectRow(row)
    expect = bench.job.log.rechecks[row].expect
    assert expect is not None
    type_into(again.angle, f"{expect - 1.0:.2f}")
    assert bench.job.log.rechecks[row].found == "moved: 1.0° down than expected"
    again.table.selectRow(row + 1)
    again.good.click()
    assert bench.job.log.rechecks[row + 1].found == "good"
    again.write(folder / "card.pdf")
    until((folder / "card.pdf").exists)


def test_the_whole_job(rear: MainWindow, tmp_path: Path) -> None:
    window, bench = rear, rear.bench
    page = cast(BuiltPage, _page(window, BUILT))
    assert "Nothing of the built car is measured yet" in page.words.text()
    design = bench.job.vehicle
    page.keep.click()  # nothing is entered: told, and nothing kept
    assert not [r for r in bench.job.measuring.readings if r.stage != "found"]
    # Tacked; one end 12 mm off.
    _stage(window, "tacked")
    _measure(window, "Upper left, frame end", (6.0, 0.0, -10.4))
    _measure(window, "Upper right, frame end", (0.3, 0.2, -0.4))
    assert bench.job.vehicle == design
    assert "1 really off" in page.words.text()
    assert page.table.item(0, 0).text().startswith("▲ Upper left")  # type: ignore[union-attr]
    assert any("point off" in f.short for f in bench.findings())
    shown = [v.verdict for v in window.vials.vials if v.isVisible() and v.verdict]
    assert all(v.sentence.startswith("Design ") for v in shown)
    # The fix offered first is done and written down; the design still stands.
    assert page.fixes[0].kind == "turn"
    page.ways.selectRow(0)
    page.take.click()
    _known(window)
    assert bench.job.vehicle == design
    assert bench.job.log.turned
    assert bench.job.log.entries[-1].kind == "fix"
    assert bench.log.study is not None
    assert bench.log.study.stand is not None
    assert bench.log.study.stand.good
    # Measured again, welded, settled: each stage for itself.
    _measure(window, "Upper left, frame end", (6.2, 0.1, -10.2))
    _stage(window, "welded")
    _measure(window, "Upper left, frame end", (6.8, 0.0, -9.9))
    assert bench.log.study.stage == "welded"
    _write_down(window)
    _look_again(window, tmp_path)
    # Saved, the book and the folder written, reopened the same.
    path = tmp_path / "built.stance"
    assert window.files.save_to(path)
    book = cast(BookPage, _page(window, BOOK))
    book.write(tmp_path / "book.pdf")
    book.write_all(tmp_path / "all")
    until(lambda: (tmp_path / "book.pdf").exists() and (tmp_path / "all" / "diary.json").exists())
    for name in (
        "card.pdf",
        "book.pdf",
        "all/build-book.pdf",
        "all/points-as-built.csv",
        "all/diary.json",
        "all/job.stance",
    ):
        assert (tmp_path / name).stat().st_size > 200, name
    assert [book.right.itemText(i) for i in range(book.right.count())][-3:] == [
        "as built, tacked", "as built, welded", "as built, settled"
    ]  # fmt: skip
    until(lambda: book.table.rowCount() > 5)
    kept = bench.job
    other = window.files.open_path(path)
    assert other
    assert bench.job.log == kept.log
    assert bench.job.measuring == kept.measuring


def test_keeping_a_reading_is_one_step_and_leaves_other_pages_alone(rear: MainWindow) -> None:
    """One Keep made every later reading “tacked”: what was typed in Square vanished from its field."""
    bench = rear.bench
    before = bench.job
    page = cast(BuiltPage, _page(rear, BUILT))
    _measure(rear, page.point.itemText(0), (3.0, 0.0, -2.0))
    assert [r.stage for r in bench.job.measuring.readings[-3:]] == ["tacked"] * 3
    assert bench.job.measuring.stage == "found"
    bench.undo()
    assert bench.job.measuring.readings == before.measuring.readings
    bench.redo()
    rear.go("stance")
    station = rear.station("stance")
    station.turn_to(SQUARE)
    square = cast(SquarePage, station.pages.page(SQUARE))
    what, field = next(iter(square.fields.items()))
    type_into(field, "118 1/2")
    assert bench.job.measuring.readings[-1].what == what
    assert bench.job.measuring.readings[-1].stage == "found"
    assert field.text() == "118 1/2"


def test_what_is_off_is_said_no_longer_when_its_readings_are_taken_back(rear: MainWindow) -> None:
    """At another station too, where the built car is not worked out at once."""
    window, bench = rear, rear.bench
    _stage(window, "tacked")
    _measure(window, "Upper left, frame end", (6.0, 0.0, -10.4))
    assert any(f.code == "built-off" for f in bench.findings())
    window.go("links")
    while bench.document.history.undo_label:
        bench.undo()
    assert not any(f.code == "built-off" for f in bench.findings())


def test_entries_are_changed_by_hand_and_readings_are_not(rear: MainWindow) -> None:
    window, bench = rear, rear.bench
    page = cast(DiaryPage, _page(window, DIARY))
    page.keep.click()
    assert not bench.job.log.entries  # it does not say what
    page.title.setText("3/4 joints")
    page.kind.setCurrentIndex(page.kind.findData("fits"))
    page.keep.click()
    page.table.selectRow(next(i for i, item in enumerate(page.items) if item.entry == 0))
    page.text.setText("2 5/8 gap, two spacers")
    page.change.click()
    assert bench.job.log.entries[0].text == "2 5/8 gap, two spacers"
    assert bench.job.log.entries[0].kind == "fits"
    type_into(page.money, "-3")
    assert page.money.value == -3.0
    page.change.click()
    assert bench.job.log.entries[0].money is None  # refused in a sentence, nothing lost
    assert page.title.text() == "3/4 joints"


def test_photos_are_kept_beside_the_job_and_a_missing_one_is_said(rear: MainWindow, tmp_path: Path) -> None:
    window, bench = rear, rear.bench
    page = cast(PhotosPage, _page(window, PHOTOS))
    good, png = tmp_path / "bracket.jpg", tmp_path / "bead.png"
    Image.new("RGB", (900, 600), (120, 90, 60)).save(good)
    Image.new("RGB", (200, 300), (20, 90, 60)).save(png)
    (tmp_path / "phone.heic").write_bytes(b"ftypheic" * 9)
    (tmp_path / "torn.jpg").write_bytes(good.read_bytes()[:40])
    page.take([str(good)])
    assert not bench.job.log.entries  # not saved yet: there is no folder beside the job
    path = tmp_path / "job.stance"
    assert window.files.save_to(path)
    page.take([str(tmp_path / n) for n in ("bracket.jpg", "phone.heic", "torn.jpg", "bead.png")])
    until(lambda: bool(bench.job.log.entries))
    names = bench.job.log.entries[-1].photos
    assert len(names) == 2
    assert (photo_folder(path) / names[0]).read_bytes() == good.read_bytes()
    page.take([str(good)])
    until(lambda: len(bench.job.log.entries) == 2)
    assert bench.job.log.entries[-1].photos == (names[0],)  # the same photo is one file
    until(lambda: page.list.count() == 3 and not page.list.item(2).icon().isNull())  # type: ignore[union-attr]
    (photo_folder(path) / names[1]).unlink()
    for small in (photo_folder(path) / ".previews").iterdir():
        small.unlink()
    page._shown = ()
    page.refresh()
    until(lambda: "1 not where they were kept" in page.words.text())
    page.list.setFocus()
    QTest.keyClick(page.list, Qt.Key.Key_Down)
    assert window.isVisible()


def test_many_photos_and_readings_do_not_hold_the_window_up(rear: MainWindow) -> None:
    """Two thousand photos in the log: pages turn, and only what is seen is drawn."""
    window, bench = rear, rear.bench
    entries = tuple(Entry(at=f"2026-04-{1 + i % 28:02d}T10:00", kind="photo", title=f"Photo {i}", photos=(f"p{i}.jpg",))
                    for i in range(2000))  # fmt: skip
    bench.write(entries)
    page = cast(DiaryPage, _page(window, DIARY))
    assert page.table.rowCount() == 100
    assert "2001" in page.words.text() or "2000" in page.words.text()
    photos = cast(PhotosPage, _page(window, PHOTOS))
    assert photos.list.count() == 2000


@pytest.mark.parametrize("demo", [2, 3])
def test_every_page_of_other_jobs(open_window: Open, demo: int) -> None:
    window = open_window(demo)
    window.go("log")
    for axle in ("front", "rear"):
        window.bench.select_axle(axle)
        _known(window)
        for page in range(6):
            _page(window, page)
            window.grab()
