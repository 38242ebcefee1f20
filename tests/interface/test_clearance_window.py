"""The Clearance station: from things by tapes to a contact found, cut, checked again; saved, reopened, the same by command."""

import json
import os
from pathlib import Path
from typing import cast

import ezdxf
import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from even_stance.cli import run
from even_stance.desktop.stations.clearance.cardpage import CardPage
from even_stance.desktop.stations.clearance.gapspage import GapsPage
from even_stance.desktop.stations.clearance.lookpage import LookPage
from even_stance.desktop.stations.clearance.notchpage import NotchPage
from even_stance.desktop.stations.clearance.station import (
    CARD,
    FLOOR,
    GAPS,
    LOOK,
    NOTCH,
    THINGS,
    TIRES,
    ClearanceStation,
)
from even_stance.desktop.stations.clearance.thingspage import ThingsPage
from even_stance.desktop.stations.clearance.tirespage import TiresPage
from even_stance.desktop.window import MainWindow
from even_stance.vehicle.edits import change_thing, set_vehicle, thing_named
from even_stance.vehicle.spots import Spot, point_of
from even_stance.vehicle.things import Block, Plate
from tests.interface.conftest import Open, drag, type_into, until

pytestmark = pytest.mark.gaps


@pytest.fixture
def pickup(open_window: Open) -> MainWindow:
    """The pickup with nothing put on, at the Clearance station, its rear axle looked at."""
    window = open_window(0)
    window.bench.open_job(set_vehicle("Bare", things=()).apply(window.bench.job))
    window.bench.select_axle("rear")
    window.go("clearance")
    QApplication.processEvents()
    return window


def _station(window: MainWindow) -> ClearanceStation:
    return cast(ClearanceStation, window.station("clearance"))


def _page(window: MainWindow, number: int) -> object:
    _station(window).turn_to(number)
    QApplication.processEvents()
    return _station(window).pages.page(number)


def _known(window: MainWindow) -> None:
    """Wait until every gap of the car as it is now is known."""
    until(lambda: window.bench.gaps.up_to_date)


def _put(window: MainWindow, kind: str) -> ThingsPage:
    page = cast(ThingsPage, _page(window, THINGS))
    page.kind.setCurrentIndex(page.kind.findData(kind))
    page.put.click()
    return page


def _tape(page: ThingsPage, **measures: str) -> None:
    for name, text in measures.items():
        type_into(page.fields[name], text)


PAIR = frozenset(("rear upper left", "Crossmember"))


def _whole_job(window: MainWindow, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    """A tank, a line and a crossmember by tapes; the contact, the notch, the template; again; saved and reopened."""
    _three_things(window)
    _found_and_notched(window, tmp_path)
    _saved_and_reopened(window, tmp_path, capsys)


def _three_things(window: MainWindow) -> None:
    bench = window.bench
    page = _put(window, "tank")
    _tape(page, ahead_mm="-131", long_mm="20", wide_mm="22", under_mm="24", high_mm="9")
    page = _put(window, "line")
    page.points.setPlainText("-76, 13.5, 24\n-90, 13.5, 29\n-112, 12, 29.5")
    page.take_points.click()
    page = _put(window, "crossmember")
    # Over the left upper link, an inch too low for it when it comes up.
    _tape(page, ahead_mm="-100", long_mm="3", left_mm="6", wide_mm="12", under_mm="26", high_mm="4")
    assert [t.name for t in bench.job.vehicle.things] == ["Fuel tank", "Brake or fuel line", "Crossmember"]
    form = thing_named(bench.job, "Crossmember").form
    assert isinstance(form, Block)
    assert form.under_mm == pytest.approx(26 * 25.4)


def _found_and_notched(window: MainWindow, tmp_path: Path) -> None:
    bench = window.bench
    look = cast(LookPage, _page(window, LOOK))
    _known(window)
    row = next(i for i, g in enumerate(look.list.gaps) if frozenset(g.names) == PAIR)
    look.list.table.selectRow(row)
    look.list.table.cellClicked.emit(row, 0)
    held = _station(window).held
    assert held.names == PAIR
    gap = held.gap
    assert gap is not None
    assert gap.gap_mm < 0.0
    assert (bench.posture.left_mm, bench.posture.right_mm) == pytest.approx((gap.left_mm, gap.right_mm), abs=0.01)
    until(lambda: any(c.kind == "notch" for c in look.found))
    assert any(v.figure.key == "gap_links_mm" and v.state == "low" for v in window.bench.verdicts("rear"))
    assert any(f.station == "links" and "links" in f.short for f in bench.findings())
    notch_at = next(i for i, c in enumerate(look.found) if c.kind == "notch")
    look.buttons[notch_at].click()

    notch = cast(NotchPage, _station(window).pages.page(NOTCH))
    assert _station(window).pages.current == NOTCH
    until(lambda: notch.notch is not None)
    assert notch.thing.currentText() == "Crossmember"
    template, drawing = tmp_path / "notch.pdf", tmp_path / "notch.dxf"
    notch.write(template)
    notch.write(drawing)
    until(lambda: template.exists() and drawing.exists())
    assert template.read_bytes().startswith(b"%PDF")
    assert len(ezdxf.readfile(drawing).modelspace().query("LWPOLYLINE")) >= 3
    notch.cut.click()
    assert isinstance(thing_named(bench.job, "Crossmember").form, Plate)
    _known(window)
    again = bench.gaps.study
    assert again is not None
    after = again.of(*PAIR)
    assert after is None or after.gap_mm > 12.0
    assert "gap" not in " ".join(f.short for f in bench.findings() if f.station == "links")


def _saved_and_reopened(window: MainWindow, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    bench, path = window.bench, tmp_path / "notched.stance"
    window.files.save_to(path)
    capsys.readouterr()
    assert run(["clearances", str(path)]) == 0
    listed = {frozenset((r["a"], r["b"])): r["gap_mm"] for r in json.loads(capsys.readouterr().out)["gaps"]}
    window.files.open_path(path)
    window.go("clearance")
    _known(window)
    study = bench.gaps.study
    assert study is not None
    shown = {frozenset(g.names): g.gap_mm for g in (*study.gaps, *study.touching)}
    assert shown.keys() == listed.keys()
    assert all(shown[pair] == pytest.approx(gap, abs=1e-3) for pair, gap in listed.items())


def test_the_whole_job(pickup: MainWindow, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    _whole_job(pickup, tmp_path, capsys)


@pytest.mark.window
@pytest.mark.skipif(not os.environ.get("DISPLAY"), reason="needs a display; test.sh brings one")
def test_the_whole_job_in_a_real_window(
    pickup: MainWindow, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:  # fmt: skip
    _whole_job(pickup, tmp_path, capsys)


def test_a_thing_is_dragged_on_the_floor_with_the_tightest_gaps_live(pickup: MainWindow) -> None:
    _put(pickup, "crossmember")
    _page(pickup, LOOK)
    _known(pickup)
    _page(pickup, FLOOR)
    station, spot = _station(pickup), Spot("", "Crossmember", "thing: low")
    before, study = point_of(pickup.bench.job, spot), pickup.bench.gaps.study
    drag(station.floor.panes["side"], spot, (0.0, 30.0))
    after = point_of(pickup.bench.job, spot)
    assert after.z < before.z - 10.0
    assert pickup.bench.gaps.study is not study  # measured on the way, before the search comes in
    QTest.keyClick(pickup, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert point_of(pickup.bench.job, spot) == before
    pickup.bench.select_spot(spot)
    QTest.keyClick(station.floor.panes["side"], Qt.Key.Key_Up)
    assert point_of(pickup.bench.job, spot).z == pytest.approx(before.z + 25.4 / 16)


def test_bad_measures_are_told_and_nothing_typed_is_lost(pickup: MainWindow, tmp_path: Path) -> None:
    page = _put(pickup, "block")
    field = page.fields["long_mm"]
    type_into(field, "-4")
    assert field.text() == "-4"
    assert field.property("wrong")
    type_into(field, "10 1/")
    assert field.text() == "10 1/"
    type_into(field, "12")
    assert not field.property("wrong")
    assert thing_named(pickup.bench.job, "Box").form.long_mm == pytest.approx(12 * 25.4)  # type: ignore[union-attr]
    page.kind.setCurrentIndex(page.kind.findData("exhaust"))
    page.put.click()
    page.points.setPlainText("1, 2\n3, 4, 5")
    page.take_points.click()
    assert "Line 1" in page.points_label.problem.text()
    assert page.points.toPlainText().startswith("1, 2")
    page.name.setText("")
    page._rename()
    assert "Name: nothing was entered" in pickup.banner.label.text() if hasattr(pickup.banner, "label") else True
    (tmp_path / "no.stl").write_bytes(b"nothing")
    told: list[str] = []
    pickup.bench.refused.connect(told.append)
    page.read_part(tmp_path / "no.stl", "mm")
    until(lambda: bool(told))
    assert told[0] == "Scan: no.stl holds no triangles that can be used. Save it as STL, OBJ, PLY, OFF or 3MF."


def test_a_drawing_without_a_unit_is_asked_for_it(pickup: MainWindow, tmp_path: Path) -> None:
    drawing = ezdxf.new("R2010", units=0)
    drawing.modelspace().add_lwpolyline([(0, 0), (8, 0), (8, 4), (0, 4)], close=True)
    path = tmp_path / "plate.dxf"
    drawing.saveas(path)
    page = cast(ThingsPage, _page(pickup, THINGS))
    page.read_outline(path)
    until(lambda: page.asker.slip is not None)
    slip = page.asker.slip
    assert slip is not None
    slip.take()
    assert "does not say their unit" in slip.problem.text()
    slip.unit.setCurrentText("in")
    slip.unit.activated.emit(1)
    assert slip.edge.currentText().startswith("8 x 4 in")
    slip.take()
    form = thing_named(pickup.bench.job, "plate").form
    assert isinstance(form, Plate)
    assert max(h for h, _ in form.corners) == pytest.approx(8 * 25.4)


def test_layers_and_outlines_are_picked_in_a_preview(pickup: MainWindow, tmp_path: Path) -> None:
    """A hidden frame around the plate once won over it; now layers are ticked and the edge is clicked."""
    drawing = ezdxf.new("R2010", units=4)
    drawing.layers.add("FRAME").off()
    space = drawing.modelspace()
    space.add_lwpolyline([(-50, -50), (400, -50), (400, 300), (-50, 300)], close=True, dxfattribs={"layer": "FRAME"})
    space.add_lwpolyline([(0, 0), (200, 0), (200, 100), (0, 100)], close=True)
    space.add_lwpolyline([(250, 0), (300, 0), (300, 40), (250, 40)], close=True)
    space.add_circle((50, 50), 10)
    space.add_line((0, 200), (30, 200))
    path = tmp_path / "sheet.dxf"
    drawing.saveas(path)
    page = cast(ThingsPage, _page(pickup, THINGS))
    page.read_outline(path)
    until(lambda: page.asker.slip is not None)
    slip = page.asker.slip
    assert slip is not None
    assert slip.edge.count() == 3
    frame = next(i for i in (slip.layers.item(0), slip.layers.item(1)) if i and i.text().startswith("FRAME"))
    assert frame.text() == "FRAME (off in the drawing)"
    frame.setCheckState(Qt.CheckState.Checked)
    assert slip.edge.count() == 4
    frame.setCheckState(Qt.CheckState.Unchecked)
    slip.picture.resize(slip.picture.sizeHint())
    polygons = slip.picture._polygons()
    small = min(polygons, key=lambda i: polygons[i].boundingRect().left() * -1)
    QTest.mouseClick(slip.picture, Qt.MouseButton.LeftButton, pos=polygons[small].boundingRect().center().toPoint())
    assert slip.edge.currentData() == small
    plate = max(polygons, key=lambda i: polygons[i].boundingRect().width())
    slip.picture.picked.emit(plate)
    slip.take()
    form = thing_named(pickup.bench.job, "sheet").form
    assert isinstance(form, Plate)
    assert max(h for h, _ in form.corners) == pytest.approx(200.0)
    assert len(form.holes) == 1


def test_a_gap_is_wanted_otherwise_and_the_map_takes_the_wheels_there(open_window: Open) -> None:
    window = open_window(1)
    window.bench.select_axle("rear")
    window.go("clearance")
    _known(window)
    page = cast(GapsPage, _page(window, GAPS))
    page.list.table.selectRow(0)
    gap = _station(window).held.gap
    assert gap is not None
    type_into(page.wanted, "1/8")
    assert any(w.gap_mm == pytest.approx(3.175) for w in window.bench.job.vehicle.clearances.wanted)
    page.usual.click()
    assert all(w.together for w in window.bench.job.vehicle.clearances.wanted)
    type_into(page.lowering, "2")
    until(lambda: page.nearer.rowCount() > 0)
    until(lambda: page._swept is not None)
    look = cast(LookPage, _page(window, LOOK))
    until(lambda: look._map is not None)
    square = look.map._square()
    QTest.mouseClick(
        look.map, Qt.MouseButton.LeftButton, pos=QPoint(round(square.right()) - 3, round(square.top()) + 3)
    )
    axle = window.bench.axle
    assert window.bench.posture.left_mm == pytest.approx(axle.bump_mm, abs=4.0)
    assert window.bench.posture.right_mm == pytest.approx(axle.bump_mm, abs=4.0)


def test_the_card_is_ticked_and_says_what_is_off(open_window: Open, tmp_path: Path) -> None:
    window = open_window(0)
    window.go("clearance")
    _known(window)
    page = cast(CardPage, _page(window, CARD))
    assert 5 <= len({page.table.item(i, 0).text() for i in range(page.table.rowCount())} - {""}) <= 10  # type: ignore[union-attr]
    page.table.selectRow(0)
    type_into(page.found, "3")
    tried = window.bench.job.vehicle.clearances.cycle
    assert len(tried) == 1
    assert tried[0].found_mm == pytest.approx(76.2)
    assert "is likely" in page.words.text()
    page.as_said.click()
    assert len(window.bench.job.vehicle.clearances.cycle) == 1
    path = tmp_path / "card.pdf"
    page.write(path)
    until(path.exists)
    assert path.read_bytes().startswith(b"%PDF")


def test_tires_are_tried_beside_the_window(open_window: Open) -> None:
    window = open_window(1)
    window.bench.select_axle("rear")
    window.go("clearance")
    page = cast(TiresPage, _page(window, TIRES))
    type_into(page.more, "3/8")
    assert window.bench.job.vehicle.clearances.tire_more_mm == pytest.approx(9.525)
    page.search()
    until(lambda: bool(page.found) and not page.work.running)
    assert len(page.found) == 5
    assert page.table.rowCount() == 5
    assert page.lock.text() == "Nothing steers this axle."
    window.bench.select_axle("front")
    until(lambda: not page.lock_work.running)
    assert page.lock.text().startswith("At full lock while crossed up: ")


def test_a_search_that_is_late_is_dropped(open_window: Open) -> None:
    window = open_window(0)
    window.go("clearance")
    QApplication.processEvents()
    bench = window.bench
    bench.do(change_thing("fuel tank", "Name", name="cell"))
    _known(window)
    study = bench.gaps.study
    assert study is not None
    assert not any("fuel tank" in g.names for g in (*study.gaps, *study.touching))
