"""Small things a person runs into: wrong keys, nothing chosen, other axles, other units, names taken, work recovered."""

from pathlib import Path
from typing import cast

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from even_stance.desktop.app import dispose, show
from even_stance.desktop.idlework import IdleWork
from even_stance.desktop.look import Look
from even_stance.desktop.settings import Settings
from even_stance.desktop.stations.clearance.station import THINGS
from even_stance.desktop.stations.clearance.thingspage import ThingsPage
from even_stance.desktop.stations.links.holepage import HolePage
from even_stance.desktop.stations.links.solvepage import SolvePage
from even_stance.desktop.stations.links.station import HOLES, SOLVE, TABLE, VARIANTS
from even_stance.desktop.stations.links.variantpage import VariantPage
from even_stance.desktop.stations.stance.pointpage import PointPage
from even_stance.desktop.stations.stance.sheetpage import SheetPage
from even_stance.desktop.stations.stance.station import HEIGHTS, POINTS, SHEET, SQUARE, WEIGHT
from even_stance.desktop.stations.stance.weightpage import WeightPage
from even_stance.desktop.window import MainWindow
from even_stance.exchange.demo import demo_jobs
from even_stance.exchange.recovery import find_recovered
from even_stance.judgement.catalog.starter import with_layout
from even_stance.judgement.catalog.things import MEASURES
from even_stance.vehicle.edits import Edit, move_by, set_holes, set_job
from even_stance.vehicle.spots import Spot, mount_of
from even_stance.vehicle.variants import branch_off
from tests.cars import bare_front
from tests.interface.conftest import Open, type_into

UPPER = Spot("rear", "Upper left", "chassis")


def test_an_axle_without_links_is_told_on_every_page(open_window: Open) -> None:
    window = open_window(0)
    window.bench.open_job(bare_front(window.bench.job))
    window.bench.select_axle("front")
    for page in range(7):
        window.station("links").turn_to(page)
        QApplication.processEvents()
    assert "No links on the front axle" in window.station("links").words.text()
    window.go("travel")
    assert "no links" in window.station("travel").words.text()
    window.station("travel").save_table(Path("unused.csv"))
    assert "there is no sweep to save" in window.banner.words.text()
    window.station("travel").hover(10)
    window.station("travel").go_to(10)
    window.go("stance")
    window.station("stance").turn_to(HEIGHTS)
    assert "no links" in window.station("stance").pages.page(HEIGHTS).words.text()  # type: ignore[attr-defined]


def test_another_axle_gets_its_own_numbers_everywhere(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(2)
    window.station("links").turn_to(SOLVE)
    page = cast(SolvePage, window.station("links").pages.page(SOLVE))
    assert "anti_squat_axle_pct" in page.asks
    window.bench.select_axle("front")
    assert "anti_dive_pct" in page.asks
    assert "anti_squat_axle_pct" not in page.asks
    assert {s.axle for s, _ in page.boxes} == {"front"}
    window.station("links").turn_to(HOLES)
    holes = cast(HolePage, window.station("links").pages.page(HOLES))
    with qtbot.waitSignal(holes.work.done, timeout=20_000):
        holes.search()
    assert holes.table.horizontalHeaderItem(2).text() == "Anti-dive"  # type: ignore[union-attr]
    with qtbot.waitSignal(window.station("links").why.shown, timeout=60_000):
        window.station("links").turn_to(0)
        window.bench.explain_figure("anti_dive_pct")
        window.station("links").why.late.start_now()
    assert "front contact patch" in window.station("links").why.formula.text()


def test_the_layout_changed_under_an_open_page(window: MainWindow) -> None:
    """Solve, variants and the point page follow when the links become others."""
    bench = window.bench
    window.station("links").turn_to(SOLVE)
    page = cast(SolvePage, window.station("links").pages.page(SOLVE))
    before = set(page.boxes)
    bench.do(Edit("Layout", lambda job: with_layout(job, "rear", "three_link")))
    assert set(page.boxes) != before
    assert any(spot.member == "Panhard" for spot, _ in page.boxes)
    window.go("stance")
    window.station("stance").turn_to(POINTS)
    points = cast(PointPage, window.station("stance").pages.page(POINTS))
    names = [points.target.itemText(i) for i in range(points.target.count())]
    assert any("Panhard" in n for n in names)
    bench.undo()
    names = [points.target.itemText(i) for i in range(points.target.count())]
    assert not any("Panhard" in n for n in names)


def test_a_step_that_is_gone_gives_way_to_the_next(window: MainWindow) -> None:
    window.go("stance")
    window.station("stance").turn_to(SHEET)
    page = cast(SheetPage, window.station("stance").pages.page(SHEET))
    index = next(i for i, s in enumerate(page.steps) if s.key == "rear/Upper left/chassis")
    page._select(index)
    window.bench.do(Edit("Layout", lambda job: with_layout(job, "rear", "radius_arms")))
    assert page.step is not None
    assert page.step.key in [s.key for s in page.steps]
    window.bench.undo()


def test_readings_stay_where_they_were_when_units_change(window: MainWindow) -> None:
    window.go("stance")
    window.station("stance").turn_to(SQUARE)
    page = window.station("stance").pages.page(SQUARE)
    type_into(page.fields["wheelbase.left"], "118 1/4")  # type: ignore[attr-defined]
    window.header.units.click()
    window.header.units.click()
    assert page.fields["wheelbase.left"].text() == "3003.5"  # type: ignore[attr-defined]
    assert page.pitch.text() == "2.117 mm"  # type: ignore[attr-defined]
    type_into(page.fields["wheelbase.left"], "3003.6")  # type: ignore[attr-defined]
    readings = window.bench.job.measuring.readings
    assert [round(r.value, 2) for r in readings] == [3003.55, 3003.6]
    window.header.units.click()
    assert page.pitch.text() == "12 tpi"  # type: ignore[attr-defined]


def test_what_was_typed_for_the_lift_survives_a_visit_elsewhere(window: MainWindow) -> None:
    window.go("stance")
    window.station("stance").turn_to(WEIGHT)
    page = cast(WeightPage, window.station("stance").pages.page(WEIGHT))
    type_into(page.lift, "28")
    window.station("stance").turn_to(SQUARE)
    window.go("links")
    window.go("stance")
    window.station("stance").turn_to(WEIGHT)
    assert page.lift.text() == "28"
    page.end.setCurrentIndex(1)
    assert "Needs the lift" in page.lift_words.text()


def test_missing_parts_are_added_and_taken_out(window: MainWindow) -> None:
    window.go("stance")
    window.station("stance").turn_to(WEIGHT)
    page = cast(WeightPage, window.station("stance").pages.page(WEIGHT))
    editor = page.ballast
    QTest.keyClicks(editor.name, "spare wheel")
    for key, text in (("mass", "60"), ("ahead", "-130"), ("left", "0"), ("up", "30")):
        QTest.keyClicks(editor.fields[key], text)
    editor.tick.click()
    editor.add.click()
    (part,) = window.bench.job.measuring.ballast
    assert part.stood_in
    assert part.mass_kg == pytest.approx(60 * 0.45359237)
    assert editor.name.text() == ""
    editor.out.click()
    assert "No row is picked" in window.banner.words.text()
    editor.table.setCurrentCell(0, 0)
    editor.out.click()
    assert window.bench.job.measuring.ballast == ()
    window.bench.undo()
    assert len(window.bench.job.measuring.ballast) == 1
    QTest.keyClicks(editor.name, "moon rock")
    for key, text in (("mass", "60"), ("ahead", "-99999"), ("left", "0"), ("up", "30")):
        QTest.keyClicks(editor.fields[key], text)
    editor.add.click()
    assert editor.name.text() == "moon rock"
    assert len(window.bench.job.measuring.ballast) == 1


def test_a_crash_keeps_readings_and_variants(open_window: Open) -> None:
    again = open_window(0)  # first: while a window opens, the other would keep its work aside anew
    window = open_window(1)
    window.bench.do(branch_off("higher", move_by(Spot("rear", "Upper", "chassis"), 0.0, 0.0, 12.0)))
    window.bench.do(set_job("d", decision="higher, if it clears the floor"))
    window.files.keep_aside()
    job = window.bench.job
    note = next(window.files.folder.glob("*.note"))
    # The window of a process that is no more.
    note.write_text(note.read_text().replace('"owner": "', '"owner": "999999'), encoding="utf-8")
    (found,) = find_recovered(window.files.folder)
    assert found.job == job
    assert found.job.variants[0].name == "As measured"
    again.files.folder = window.files.folder
    again.files.offer_recovered()
    assert "was kept" in again.banner.words.text()
    again.banner.buttons[0].click()
    assert again.bench.job == job
    assert again.bench.document.dirty


def test_the_variant_drawn_beneath_goes_when_it_is_dropped(window: MainWindow) -> None:
    bench = window.bench
    bench.try_as_variant(move_by(UPPER, 0.0, 0.0, 10.0), "up a bit")
    assert bench.overlaid is not None
    window.station("links").turn_to(VARIANTS)
    page = cast(VariantPage, window.station("links").pages.page(VARIANTS))
    page.drop.click()
    assert bench.overlaid is None
    window.station("links").turn_to(0)
    assert not [s for s in window.station("links").floor.panes["side"].shapes if getattr(s, "style", "") == "beneath"]
    bench.undo()
    assert bench.overlaid is not None
    assert bench.try_as_variant(move_by(UPPER, 0.0, 0.0, 10.0), "up a bit").done
    assert bench.job.branch == "up a bit 2"
    # A change that is refused makes no variant.
    names = len(bench.job.variants)
    assert not bench.try_as_variant(set_holes(UPPER, 99, 10.0), "too many holes").done
    assert len(bench.job.variants) == names


def test_undo_says_what_it_takes_back(window: MainWindow) -> None:
    window.bench.do(set_holes(UPPER, 4, 20.0))
    assert "Upper left, frame end: 4 holes" in window.header.undo.toolTip()
    window.bench.try_as_variant(move_by(UPPER, 0.0, 0.0, 10.0))
    assert "Try: Move Upper left, frame end" in window.header.undo.toolTip()
    QTest.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert "Try: Move" in window.header.redo.toolTip()


def test_every_joint_is_a_row_of_the_table_with_its_hole_kept(open_window: Open) -> None:
    window = open_window(2)
    window.station("links").turn_to(TABLE)
    table = window.station("links").table.table
    assert table.rowCount() == len(window.bench.axle.members)
    hole = mount_of(window.bench.job, UPPER).hole
    window.bench.select_spot(UPPER)
    box = window.station("links").table.sheet.ends[UPPER.end].joint
    box.setCurrentIndex(0)
    box.activated.emit(0)
    assert mount_of(window.bench.job, UPPER).hole == hole


def test_findings_of_measuring_stand_in_the_work_order(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(1)
    codes = {f.code for f in window.bench.findings()}
    assert {"odd-reading", "square", "cg-guess"} <= codes
    button = window.order.buttons["stance"]
    qtbot.waitUntil(lambda: "3 to look at" in button.accessibleName())  # looked for once the window stands
    assert "does not belong" in button.toolTip()
    window.go("stance")
    window.station("stance").turn_to(HEIGHTS)
    page = window.station("stance").pages.page(HEIGHTS)
    type_into(page.down, "9")  # type: ignore[attr-defined]
    assert {"lowest", "heights"} <= {f.code for f in window.bench.findings()}
    qtbot.waitUntil(lambda: window.order.buttons["stance"]._findings[0].severity == "stop")
    window.bench.undo()
    assert "lowest" not in {f.code for f in window.bench.findings()}


def test_ports_are_listed_when_stance_is_opened(open_window: Open, monkeypatch: pytest.MonkeyPatch) -> None:
    ports = [("/dev/one", "angle finder adapter")]
    monkeypatch.setattr("even_stance.desktop.gaugebar.serial_ports", lambda: ports)
    window = open_window()
    window.go("stance")
    bar = window.station("stance").gauge
    assert bar.port.findText("angle finder adapter") > 0
    window.go("links")
    ports.append(("/dev/two", "wheel scales"))
    window.go("stance")
    assert bar.port.findText("wheel scales") > 0
    assert sum(bar.port.itemText(i) == "angle finder adapter" for i in range(bar.port.count())) == 1


def test_a_right_click_offers_to_save_charts_and_tables(open_window: Open) -> None:
    window = open_window(1)
    window.station("links").turn_to(TABLE)
    window.station("links").table.table.customContextMenuRequested.emit(
        window.station("links").table.table.rect().center()
    )
    menus = [w for w in QApplication.topLevelWidgets() if w.inherits("QMenu") and w.isVisible()]
    assert [a.text() for m in menus for a in m.actions()] == ["Copy (Ctrl+C)", "Save this table as CSV…"]
    for menu in menus:
        menu.close()
    window.go("travel")
    chart = window.station("travel").charts["roll"]
    chart.customContextMenuRequested.emit(chart.rect().center())
    menus = [w for w in QApplication.topLevelWidgets() if w.inherits("QMenu") and w.isVisible()]
    texts = [a.text() for m in menus for a in m.actions()]  # type: ignore[attr-defined]
    assert texts == ["Save this picture as PNG…", "Save this picture as SVG…"]
    for menu in menus:
        menu.close()


def test_pages_are_made_ready_while_nobody_waits(window: MainWindow, qtbot: QtBot) -> None:
    """Every page exists before it is turned to, and what is made ready is what would be made later."""
    ready = IdleWork(window, window.get_ready())
    QTest.keyClick(window.station("links").floor.panes["side"], Qt.Key.Key_N)
    assert window.bench.spot is not None, "the window answers meanwhile"
    qtbot.waitUntil(lambda: ready.over, timeout=20_000)
    for pages in (window.station("links").pages, window.station("stance").pages, window.station("travel").pages):
        assert len(pages.made) == len(pages.buttons)
    assert window.stack.currentWidget() is window.station("links")
    charts = list(window.station("travel").charts.values())
    window.go("travel")
    assert list(window.station("travel").charts.values()) == charts
    assert len(window.station("travel").charts["anti"].x) == 61


def test_what_is_asked_for_before_it_is_ready_is_made_at_once(window: MainWindow) -> None:
    steps = window.get_ready()
    for _ in range(3):
        next(steps)
    window.go("travel")
    assert len(window.station("travel").charts) == 6
    for _ in steps:
        pass
    assert len(window.station("links").pages.made) == 8


def test_a_window_stands_before_its_job_is_judged_and_says_nothing_till_then(qtbot: QtBot, tmp_path: Path) -> None:
    look = Look()
    look.use("paper", 100)
    window = MainWindow(demo_jobs()[0], look, Settings(tmp_path / "look.json"), tmp_path, late=True)
    show(window)
    window.showNormal()  # the offscreen screen is small
    window.resize(1280, 800)
    assert not [v for v in window.vials.vials if v.isVisible()]
    assert not window.vials.instead.isVisible()  # neither a number nor a reason why there is none
    assert window.order.buttons["links"].accessibleName() == "Links"
    qtbot.waitUntil(lambda: not window.bench.waits)
    assert window.bench.figure == "anti_squat_axle_pct"
    assert window.vials.vials[0].isVisible()
    qtbot.waitUntil(lambda: window.order.buttons["links"].accessibleName() == "Links: anti-squat")
    dispose(window)
    # What is done before that is judged like anything else.
    window = MainWindow(demo_jobs()[0], look, Settings(tmp_path / "look.json"), tmp_path, late=True)
    window.show()
    assert window.bench.do(move_by(Spot("rear", "Lower left", "chassis"), 0.0, 0.0, 25.4)).done
    assert not window.bench.waits
    assert window.changes.isVisible()
    assert window.bench.changes()
    dispose(window)


def test_tab_goes_on_in_things_while_numbers_are_typed(window: MainWindow) -> None:
    """Every field typed into and left by Tab is kept, and the next one is on the same page."""
    window.go("clearance")
    station = window.station("clearance")
    station.turn_to(THINGS)
    page = cast(ThingsPage, station.pages.page(THINGS))
    page._put()
    fields = [page.fields[m.name] for m in MEASURES["block"]]
    fields[0].setFocus()
    for i, field in enumerate(fields[:-1]):
        assert QApplication.focusWidget() is field
        field.selectAll()
        QTest.keyClicks(field, f"{11 + i}")
        QTest.keyClick(field, Qt.Key.Key_Tab)
        QApplication.processEvents()
        station.refresh()  # as when gaps were found meanwhile
    form = page.thing().form
    assert form.long_mm == pytest.approx(12 * 25.4)
    assert form.wide_mm == pytest.approx(14 * 25.4)
    assert QApplication.focusWidget() is fields[-1]


def test_after_a_try_the_keys_go_on_beside_it_and_the_header_says_which_car(window: MainWindow, qtbot: QtBot) -> None:
    bench = window.bench
    window.go("links")
    bench.select_axle("rear")
    bench.explain_figure("anti_squat_axle_pct")
    why = window.station("links").why
    why.late.start_now()
    qtbot.waitUntil(lambda: bool(why.tries), timeout=20_000)
    before = bench.job
    why.tries[0].setFocus()
    QTest.keyClick(why.tries[0], Qt.Key.Key_Space)
    assert bench.job is not before
    with qtbot.waitSignal(why.shown, timeout=20_000):
        why.late.start_now()
    QApplication.processEvents()
    held = QApplication.focusWidget()
    assert held is not None
    assert why.isAncestorOf(held)
    assert window.header.title.accessibleName() == f"{bench.job.name}: {bench.job.branch}"
    QTest.keyClick(held, Qt.Key.Key_Tab)
    after = QApplication.focusWidget()
    assert after is not None
    assert why.isAncestorOf(after)
