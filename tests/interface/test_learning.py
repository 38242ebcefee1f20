"""What a new person meets: ways to begin, help where one stands, files again, going back, copying, printing."""

import re
from pathlib import Path
from typing import cast

import pytest
from PyQt6.QtCore import QMimeData, QPointF, Qt, QUrl
from PyQt6.QtGui import QAction, QContextMenuEvent, QDragEnterEvent, QDropEvent, QKeySequence
from PyQt6.QtPdf import QPdfDocument
from PyQt6.QtPrintSupport import QPrinter, QPrintPreviewDialog
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QAbstractButton, QApplication, QLabel, QLineEdit, QMenu

from even_stance.desktop.exporting import copy_rows
from even_stance.desktop.menus import print_paper
from even_stance.desktop.printing import draw_pages, pages_of
from even_stance.desktop.stations import STATIONS as EVERY_STATION
from even_stance.desktop.stations.log.station import RECHECKS
from even_stance.desktop.stations.stance.pointpage import PointPage
from even_stance.desktop.stations.stance.station import POINTS
from even_stance.desktop.window import MainWindow
from even_stance.exchange.demo import demo_jobs
from even_stance.exchange.helptexts import STATIONS, chapter_of, chapters, search
from even_stance.exchange.jobfile import save_job
from even_stance.exchange.papers import paper_of
from even_stance.shop.rechecks import usual_rechecks
from even_stance.units import HABITS
from even_stance.vehicle.edits import move_by, set_job, set_rechecks
from even_stance.vehicle.spots import Spot, point_of
from tests.interface.conftest import Open, type_into, until

UPPER = Spot("rear", "Upper left", "chassis")


def _menu_words(menu: QMenu) -> list[str]:
    return [a.text().split("\t")[0] for a in menu.actions() if not a.isSeparator()]


def _pick(menu: QMenu, words: str) -> None:
    action = next(a for a in menu.actions() if a.text().split("\t")[0] == words)
    action.trigger()


# --- ways to begin


def test_the_start_page_offers_three_ways_and_going_back_leads_to_it(window: MainWindow) -> None:
    window.begin()
    assert window.welcome.isVisible()
    for hidden in (window.order, window.vials, window.rail, window.header.undo, window.header.title):
        assert not hidden.isVisible()  # nothing of a car that nobody asked for
    window.welcome.ways["new"].click()
    assert window.newjob.isVisible()
    assert window.newjob.name.text() == ""
    assert window.newjob.name.hasFocus()
    window.newjob.cancel.click()
    assert window.welcome.isVisible()
    window.welcome.demos[3].click()
    assert window.bench.job.name == demo_jobs()[3].name
    assert window.order.isVisible()
    window.ask_new()
    window.newjob.cancel.click()
    assert window.order.isVisible()  # back to the car at work now


def test_a_car_to_be_measured_first_begins_on_its_sheet(window: MainWindow) -> None:
    window.begin()
    window.welcome.ways["measure"].click()
    type_into(window.newjob.name, "Shed find")  # nothing else is known yet
    assert window.bench.job.name == "Shed find"
    assert window.bench.look_at.station == "stance"
    station = window.station("stance")
    assert station.pages.current == 1
    assert "until you tape it" in window.banner.words.text()
    # The next job starts blank; a measure that was typed wrong is still said.
    window.ask_new()
    assert (window.newjob.name.text(), window.newjob.fields["track_mm"].text()) == ("", "")
    type_into(window.newjob.name, "Second")
    assert "Wheelbase" in window.newjob.problem.text()


# --- help


@pytest.mark.parametrize("station", [s for s in STATIONS if s != "new"])
def test_f1_tells_of_what_is_on_the_screen(window: MainWindow, station: str) -> None:
    window.go(station)
    QTest.keyClick(window, Qt.Key.Key_F1)
    assert window.help is not None
    assert window.help.isVisible()
    assert window.help.list.currentRow() == chapter_of(station) > 0
    shown = window.help.text.toPlainText()
    assert STATIONS[station] in shown
    QTest.keyClick(window.help.text, Qt.Key.Key_Escape)
    assert window.station(station).isVisible()
    window.station(station).pages.ask.click()
    assert window.help.isVisible()
    QTest.keyClick(window, Qt.Key.Key_F1)  # once more goes back
    assert window.station(station).isVisible()


def test_help_is_searched_and_says_so_when_there_is_nothing(window: MainWindow) -> None:
    window.ask_help()
    assert window.help is not None
    every = window.help.list.count()
    window.help.search.setText("re-checks card")
    assert 0 < window.help.list.count() < every
    assert "card" in window.help.text.toPlainText()
    window.help.search.setText("xylophone")
    assert window.help.list.count() == 0
    assert "Nothing is said" in window.help.text.toPlainText()
    window.help.search.clear()
    assert window.help.list.count() == every == len(chapters())
    window.ask_help("about")
    assert "GNU General Public License" in window.help.text.toPlainText()
    assert "numpy" in window.help.text.toPlainText()


def test_every_key_of_the_window_is_in_the_map_of_keys(window: MainWindow) -> None:
    told = " ".join(c.text for c in chapters() if c.book == "keys")
    keys = {a.shortcut().toString() for a in window.findChildren(QAction) if not a.shortcut().isEmpty()}
    stations = {f"Ctrl+{n}" for n in range(2, 9)}  # told as Ctrl+1 ... Ctrl+9
    missing = {k for k in keys - stations if k not in told}
    assert missing == set()
    assert {QKeySequence("F1").toString(), "Ctrl+P"} <= keys


def test_words_are_found_where_they_are_said() -> None:
    found = search("shim")
    assert found
    assert all("shim" in chapters()[i].text.lower() for i, _ in found)
    assert search("") == search("   ") == []
    assert search("hand wheel held")[0][0] == chapter_of("steering")


# --- files


def test_files_worked_on_are_offered_again_those_that_are_gone_are_not(window: MainWindow, tmp_path: Path) -> None:
    one, two, gone = (tmp_path / f"{n}.stance" for n in ("one", "two", "gone"))
    for file in (one, two, gone):
        save_job(demo_jobs()[0], file)
        assert window.files.open_path(file)
    gone.unlink()
    window.begin()
    assert [b.toolTip() for b in window.welcome.files] == [str(two), str(one)]
    window.welcome.files[1].click()
    assert window.bench.document.path == one
    assert window.settings.recent() == [one, two]
    window.files.save_to(tmp_path / "three.stance")
    assert window.settings.recent()[0].name == "three.stance"


def _drop(window: MainWindow, *files: Path) -> bool:
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(f)) for f in files])
    left, none = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
    enter = QDragEnterEvent(window.rect().center(), Qt.DropAction.CopyAction, data, left, none)
    window.dragEnterEvent(enter)
    taken = enter.isAccepted()
    drop = QDropEvent(QPointF(window.rect().center()), Qt.DropAction.CopyAction, data, left, none)
    window.dropEvent(drop)
    return taken


def test_a_job_or_a_table_of_points_may_be_let_go_over_the_window(window: MainWindow, tmp_path: Path) -> None:
    job = tmp_path / "other.stance"
    save_job(demo_jobs()[1], job)
    assert _drop(window, job)
    assert window.bench.job == demo_jobs()[1]
    table = tmp_path / "points.csv"
    table.write_text("name,ahead mm,left mm,up mm\nbracket,-300,400,500\n")
    assert _drop(window, table)
    page = cast(PointPage, window.station("stance").pages.page(POINTS))
    until(lambda: page.filed.count() == 1)
    assert page.filed.itemText(0) == "bracket"
    assert page.isVisible()
    for file in (tmp_path / "picture.png", tmp_path):
        before = window.bench.job
        assert not _drop(window, file)
        assert window.bench.job == before
    assert not _drop(window, job, table)


def test_points_are_pasted_from_a_table_that_was_copied(window: MainWindow) -> None:
    window.go("stance")
    window.station("stance").turn_to(POINTS)
    page = cast(PointPage, window.station("stance").pages.page(POINTS))
    page.way.setCurrentIndex(4)
    board = QApplication.clipboard()
    assert board is not None
    board.setText("name\tahead in\tleft in\tup in\nseat\t-10\t15\t20\n")
    page.open.setFocus()
    QTest.keyClick(page.open, Qt.Key.Key_V, Qt.KeyboardModifier.ControlModifier)
    assert page.filed.itemText(0) == "seat"
    assert page.found is not None
    assert page.found.point.y == pytest.approx(381.0)
    board.setText("no table at all")
    page.paste.click()
    assert "What was copied" in window.banner.words.text()
    assert page.filed.itemText(0) == "seat"  # what was there stays


def test_tables_are_copied_as_text(window: MainWindow) -> None:
    window.bench.do(set_rechecks("Usual", usual_rechecks(window.bench.job)))
    window.go("log")
    window.station("log").turn_to(RECHECKS)
    table = window.station("log").pages.page(RECHECKS).table
    copy_rows(table)
    board = QApplication.clipboard()
    assert board is not None
    rows = [line.split("\t") for line in board.text().split("\n")]
    assert len(rows) == table.rowCount() + 1
    assert {len(r) for r in rows} == {table.columnCount()}
    table.selectRow(0)
    table.setFocus()
    QTest.keyClick(table, Qt.Key.Key_C, Qt.KeyboardModifier.ControlModifier)
    assert board.text().split("\n") == ["\t".join(r) for r in rows[:2]]


def test_papers_are_named_after_job_and_variant_and_may_be_opened(window: MainWindow, tmp_path: Path) -> None:
    save_job(demo_jobs()[0], tmp_path / "a.stance")
    window.files.open_path(tmp_path / "a.stance")
    dialog = window.files.ask_export("report", ".pdf")
    name = Path(dialog.selectedFiles()[0])
    dialog.close()
    assert name == tmp_path / "Saltbush trail pickup As measured report.pdf"
    window.files.export("points", tmp_path / "p.csv")
    until(lambda: "is written" in window.banner.words.text())
    assert [b.text() for b in window.banner.buttons] == ["Open", "Show in folder", "Close"]


# --- going back


def test_a_click_in_the_list_of_what_was_done_goes_back_to_before_it(window: MainWindow) -> None:
    bench = window.bench
    start = bench.job
    heights = []
    for i in range(4):
        bench.do(move_by(UPPER, 0.0, 0.0, 10.0 * (i + 1)))
        heights.append(point_of(bench.job, UPPER).z)
    menu = window.header.undo.menu()
    assert menu is not None
    menu.aboutToShow.emit()
    assert len(_menu_words(menu)) == 4
    menu.actions()[2].trigger()
    assert point_of(bench.job, UPPER).z == heights[0]
    again = window.header.redo.menu()
    assert again is not None
    again.aboutToShow.emit()
    assert len(_menu_words(again)) == 3
    again.actions()[1].trigger()
    assert point_of(bench.job, UPPER).z == heights[2]
    menu.aboutToShow.emit()
    menu.actions()[2].trigger()
    assert bench.job == start


def test_a_right_click_on_the_floor_offers_what_can_be_done_there(open_window: Open) -> None:
    window = open_window(0)
    window.bench.select_axle("rear")
    pane = window.station("links").floor.panes["side"]
    spot = Spot("rear", "Lower left", "chassis")
    place = pane.place_of(spot)
    assert place is not None

    def ask(at: QPointF, reason: QContextMenuEvent.Reason = QContextMenuEvent.Reason.Mouse) -> QMenu:
        pane.contextMenuEvent(QContextMenuEvent(reason, at.toPoint(), pane.mapToGlobal(at.toPoint())))
        menu = QApplication.activePopupWidget()
        assert isinstance(menu, QMenu)
        return menu

    menu = ask(place)
    held = window.bench.spot
    assert held is not None
    assert _menu_words(menu)[0] == held.words
    was = point_of(window.bench.job, held)
    _pick(menu, "Next hole up")
    menu.close()
    assert point_of(window.bench.job, held) != was
    menu = ask(place, QContextMenuEvent.Reason.Keyboard)
    _pick(menu, "Copy where it is")
    menu.close()
    board = QApplication.clipboard()
    assert board is not None
    assert held.words in board.text()
    menu = ask(QPointF(3.0, 60.0))
    assert "Next hole up" not in _menu_words(menu)
    _pick(menu, "The whole car")
    menu.close()
    assert pane.whole


# --- printing


def test_what_is_printed_is_the_paper_page_for_page_at_full_size(window: MainWindow, tmp_path: Path) -> None:
    pdf = paper_of(window.bench.job, "measuring-sheet")
    document = pages_of(pdf)
    printer = QPrinter(QPrinter.PrinterMode.HighResolution)
    printer.setOutputFormat(QPrinter.OutputFormat.PdfFormat)
    printer.setOutputFileName(str(tmp_path / "out.pdf"))
    draw_pages(document, printer)
    printed = QPdfDocument(None)
    printed.load(str(tmp_path / "out.pdf"))
    assert printed.pageCount() == document.pageCount() > 0
    print_paper(window, "report")  # made beside the window, which goes on meanwhile
    assert "Making the report for print" in window.banner.words.text()
    until(lambda: window.findChild(QPrintPreviewDialog) is not None)
    shown = window.findChild(QPrintPreviewDialog)
    assert shown is not None
    assert shown.isVisible()
    assert not window.banner.isVisible()
    shown.close()


# --- how figures are read


def test_lengths_are_read_three_ways_in_turn(window: MainWindow) -> None:
    bench, units = window.bench, window.header.units
    bench.select_spot(UPPER)
    at = point_of(bench.job, UPPER)
    try:
        assert (units.text(), bench.job.units) == ("in 1/16", "us")
        units.click()
        assert (units.text(), bench.job.units) == ("in .001", "us")
        window.bench.set_posture(25.4, 25.4)
        assert window.rail.left.text() == "1.000"
        assert window.settings.recall_decimal_inches()
        units.click()
        assert (units.text(), bench.job.units) == ("mm", "metric")
        units.click()
        assert (units.text(), bench.job.units) == ("in 1/16", "us")
        assert not window.settings.recall_decimal_inches()
        assert point_of(bench.job, UPPER) == at
    finally:
        HABITS.decimal_inches = False


def test_findings_are_read_in_thousandths_once_that_was_asked_for(window: MainWindow) -> None:
    """They kept their sixteenths, for how figures are read is in no key of what is kept."""
    window.bench.select_axle("rear")
    until(lambda: not window.bench.judging.due)
    try:
        sixteenths = [f.sentence for f in window.bench.findings() if " in" in f.sentence and "/" in f.sentence]
        assert sixteenths
        window.header.units.click()
        until(lambda: not window.bench.judging.due)
        assert HABITS.decimal_inches
        anew = [f.sentence for f in window.bench.findings()]
        assert not set(sixteenths) & set(anew)
    finally:
        HABITS.decimal_inches = False


def test_a_decimal_comma_is_typed_and_shown(window: MainWindow) -> None:
    HABITS.comma = True
    try:
        window.bench.do(set_job("Units", units="metric"))
        type_into(window.rail.left, "12,5")
        assert window.bench.posture.left_mm == pytest.approx(12.5)
        assert window.rail.left.text() == "12,5"
    finally:
        HABITS.comma = False


# --- practice


def test_a_practice_car_is_measured_judged_and_told_the_truth_of(window: MainWindow) -> None:
    window.begin()
    window.welcome.practice.click()
    panel = window.practice
    assert panel is not None
    assert panel.isVisible()
    assert not window.order.isVisible()
    for row in range(panel.table.rowCount()):
        panel.table.setCurrentCell(row, 0)
        panel.take.click()
        QTest.keyClick(panel.table, Qt.Key.Key_Return)
    assert all(len(v) == 2 for v in panel.readings.values())
    # What differs by more than the tool's scatter is claimed; that finds all of it.
    for m in panel.car.measures:
        if abs(sum(panel.readings[m.key]) / 2 - m.designed) > (0.5 if m.hand else 1.3 * m.sure):
            panel.claims[m.tells].setChecked(True)
    panel.show_truth.click()
    assert panel.truth is not None
    assert panel.truth.missed == {}
    assert f"Found: {len(panel.car.faults)} of {len(panel.car.faults)}" in panel.said.text()
    assert not panel.take.isEnabled()
    seed = panel.car.seed
    panel.other.click()
    assert panel.car.seed == seed + 1
    panel.show_truth.click()
    assert "Missed" in panel.said.text()
    panel.back.click()
    assert window.welcome.isVisible()


def test_ctrl_z_in_a_field_that_was_entered_takes_back_what_it_did(window: MainWindow) -> None:
    bench = window.bench
    bench.select_spot(UPPER)
    field, before = window.station("links").strip.up, bench.job
    type_into(field, "25 3/8")
    assert bench.job != before
    assert field.hasFocus()
    QTest.keyClick(field, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert bench.job == before
    # While something is typed and not entered, it is the typing that goes back.
    field.selectAll()
    QTest.keyClicks(field, "26")
    QTest.keyClick(field, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert bench.job == before
    assert field.text() != "26"


def test_every_sign_that_is_not_a_word_has_a_tip(window: MainWindow) -> None:
    """Buttons and labels without a letter or figure, lengths that say about, badges and vials, on every page."""
    window.bench.select_spot(Spot("rear", "Upper left", "chassis"))
    untold, about = set(), 0
    for each in EVERY_STATION:
        window.go(each.key)
        pages = window.station(each.key).pages
        for page in range(len(pages.buttons)):
            pages.turn_to(page)
            QApplication.processEvents()
            for widget in (*window.findChildren(QAbstractButton), *window.findChildren(QLabel)):
                sign = widget.text().replace("&", "").strip()
                if widget.isVisible() and sign and not re.search(r"\w", sign) and not widget.toolTip():
                    untold.add(sign)
            for field in window.findChildren(QLineEdit):
                if field.isVisible() and field.text().startswith("~"):
                    about += 1
                    assert "nearest mark of a tape" in field.toolTip(), field.accessibleName()
    assert untold == set()
    assert about > 10
    assert window.order.buttons["links"].toolTip().startswith("Worth a look (Ctrl+2)")
    assert "as wide as its ±" in next(iter(window.vials.vials)).toolTip()
