"""The Stance station driven as a person would: measuring, points, heights, weight, square, cribs and gauges."""

from pathlib import Path
from typing import cast

import ezdxf
import numpy as np
import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QLineEdit
from pytestqt.qtbot import QtBot

from even_stance.desktop.pages import Scrolled
from even_stance.desktop.stations.stance.car import CarPage
from even_stance.desktop.stations.stance.cribpage import CribPage
from even_stance.desktop.stations.stance.heightspage import HeightsPage
from even_stance.desktop.stations.stance.pointpage import PointPage
from even_stance.desktop.stations.stance.sheetpage import SheetPage
from even_stance.desktop.stations.stance.squarepage import SquarePage
from even_stance.desktop.stations.stance.station import CAR, CRIBS, HEIGHTS, POINTS, SHEET, SQUARE, WEIGHT
from even_stance.desktop.stations.stance.weightpage import WeightPage
from even_stance.desktop.widgets.fields import NumberField
from even_stance.desktop.window import MainWindow
from even_stance.exchange.jobfile import load_job
from even_stance.judgement.known import how_known
from even_stance.shop.gauges import serial_opener
from even_stance.shop.points import known_points
from even_stance.shop.readings import means_of
from even_stance.shop.simgauge import PtyGauge, SimGauge
from even_stance.study.answers import study_postures
from even_stance.vehicle.edits import set_known, with_changes
from even_stance.vehicle.spots import Spot, mount_of
from even_stance.vehicle.tandem import axles_apart
from tests.interface.conftest import Open, type_into


def turn(window: MainWindow, page: int) -> object:
    window.go("stance")
    window.station("stance").turn_to(page)
    QApplication.processEvents()
    shown = window.station("stance").pages.page(page)
    return shown.page if isinstance(shown, Scrolled) else shown


def aim(page: PointPage, spot: Spot) -> None:
    page.target.setCurrentIndex([page.target.itemData(i) for i in range(page.target.count())].index(spot))


def pick(page: SheetPage, key: str) -> None:
    index = next(i for i, s in enumerate(page.steps) if s.key == key)
    page._select(index)


def test_from_an_empty_job_to_a_judged_linkage(open_window: Open, tmp_path: Path, qtbot: QtBot) -> None:
    """The first-time user's whole path, without leaving the window: new job, measure, points, verdicts, save."""
    window = open_window()
    QTest.keyClick(window, Qt.Key.Key_N, Qt.KeyboardModifier.ControlModifier)
    panel = window.newjob
    QTest.keyClicks(panel.name, "First build")
    for key, text in (
        ("wheelbase_mm", "118"),
        ("track_mm", "64"),
        ("tire_diameter_mm", "35"),
        ("tire_width_mm", "12.5"),
    ):
        QTest.keyClicks(panel.fields[key], text)
    QTest.mouseClick(panel.start, Qt.MouseButton.LeftButton)
    bench = window.bench
    page = cast(SheetPage, turn(window, SHEET))
    assert "to measure" in page.missing.text()
    page.next.click()
    assert page.step is not None
    assert page.step.key == "floor"
    QTest.keyClicks(page.who, "Ada")
    page.who.editingFinished.emit()
    type_into(page.fields["floor.slope"], "0")
    page.next.click()
    assert page.step.key == "rake"
    for shown in ("0.9", "1.1", "1 down"):
        page.ways.way.setCurrentIndex(1)
        type_into(page.fields["floor.frame"], shown)
    assert bench.job.measuring.rake_deg == pytest.approx(-1.0)
    page.next.click()
    type_into(page.fields["wheelbase.left"], "118 1/8")
    type_into(page.fields["wheelbase.right"], "117 7/8")
    assert bench.job.vehicle.wheelbase_mm == pytest.approx(118 * 25.4)
    assert {r.who for r in bench.job.measuring.readings} == {"Ada"}
    pick(page, "rear/Upper left/chassis")
    up = page.fields["rear/Upper left/chassis/up"]
    type_into(up, "24 1/4")
    spot = Spot("rear", "Upper left", "chassis")
    assert mount_of(bench.job, spot).at.z == pytest.approx(24.25 * 25.4)
    assert up.text() == ""  # ready for the next reading; what they come to stands below
    assert page._notes["rear/Upper left/chassis/up"].text().startswith("24 1/4 in, ± 1/16 in: one reading")
    weight = cast(WeightPage, turn(window, WEIGHT))
    for wheel, text in zip(weight.wheels.values(), ("1210", "1190", "960", "940"), strict=True):
        type_into(wheel, text)
    weight.use.click()
    assert [round(a.load_kg / 0.45359237) for a in bench.job.vehicle.axles] == [2400, 1900]
    assert not any(f.code == "no-weights" for f in bench.findings())
    window.go("links")
    verdicts = bench.verdicts("rear")
    assert {"anti_squat_axle_pct", "roll_center_mm", "triangulation_deg"} <= {v.figure.key for v in verdicts}
    assert all(v.sentence for v in verdicts)
    path = tmp_path / "first.stance"
    assert window.files.save_to(path)
    job, _ = load_job(path)
    assert job == bench.job
    assert len(job.measuring.readings) == 11


def test_angles_on_a_face_and_an_odd_reading_set_aside(window: MainWindow) -> None:
    page = cast(SheetPage, turn(window, SHEET))
    pick(page, "rear.pinion")
    page.ways.on.setCurrentIndex(1)
    field = page.fields["rear.pinion.angle"]
    for text in ("88", "88.1", "87.9", "88", "88.05", "87"):
        type_into(field, text)
    yoke = window.bench.job.vehicle.axle("rear").pinion
    assert yoke is not None
    assert yoke.nose_up_deg == pytest.approx(np.mean([2, 1.9, 2.1, 2, 1.95, 3]))
    assert "One does not belong" in page._notes["rear.pinion.angle"].text()
    row = next(i for i in range(page.table.rowCount()) if "odd" in page.table.item(i, 6).text())
    page.table.cellClicked.emit(row, 0)
    assert window.bench.job.vehicle.axle("rear").pinion.nose_up_deg == pytest.approx(1.99)  # type: ignore[union-attr]
    type_into(field, "79")  # nine degrees off: asked about before it counts
    assert window.bench.job.vehicle.axle("rear").pinion.nose_up_deg == pytest.approx(1.99)  # type: ignore[union-attr]
    assert not window.bench.job.measuring.readings[-1].counts
    page.table.cellClicked.emit(0, 0)
    assert window.bench.job.measuring.readings[-1].counts
    window.bench.undo()
    type_into(field, "30")
    assert field.property("wrong")
    assert "Was the tool on the shaft itself" in field.toolTip()
    assert field.text() == "30"
    window.bench.undo()
    assert len(means_of(window.bench.job)) == 1


def test_a_reading_like_the_one_before_is_a_reading(window: MainWindow) -> None:
    """Typed again, or sent again by a gauge, the same figure counts once more."""
    page = cast(SheetPage, turn(window, SHEET))
    pick(page, "rear.pinion")
    field = page.fields["rear.pinion.angle"]
    for text in ("2.4", "2.0", "2.2", "2.2"):  # the third is the mean of the first two
        type_into(field, text)
    field.take(2.2)
    readings = [r.value for r in window.bench.job.measuring.readings if r.what == "rear.pinion.angle"]
    assert readings == [2.4, 2.0, 2.2, 2.2, 2.2]
    field.setFocus()
    window.setFocus()  # leaving a field nobody typed in is no reading
    assert len([r for r in window.bench.job.measuring.readings if r.what == "rear.pinion.angle"]) == 5


def test_sheet_is_printed_and_a_bad_folder_is_told(window: MainWindow, tmp_path: Path, qtbot: QtBot) -> None:
    page = cast(SheetPage, turn(window, SHEET))
    with qtbot.waitSignal(page.papers.written, timeout=20_000):
        page.print_to(str(tmp_path / "sheet.pdf"))
    raw = (tmp_path / "sheet.pdf").read_bytes()
    assert raw.startswith(b"%PDF")
    assert len(raw) > 20_000
    with qtbot.waitSignal(page.papers.told, timeout=20_000):
        page.print_to(str(tmp_path / "nowhere" / "sheet.pdf"))
    assert "could not be written" in window.banner.words.text()


def test_a_point_from_six_tapes(window: MainWindow) -> None:
    page = cast(PointPage, turn(window, POINTS))
    spot = Spot("rear", "Upper left", "chassis")
    aim(page, spot)
    target = np.array(mount_of(window.bench.job, spot).at.xyz) + np.array([12.0, -8.0, 20.0])
    known = known_points(window.bench.job.vehicle)
    names = [k.name for k in known]
    marks = ("rear left tire on the floor", "rear right tire on the floor", "front left tire on the floor",
             "rear left wheel center", "front right wheel center", "rear right wheel center")  # fmt: skip
    for i, name in enumerate(marks):
        page.marks[i].setCurrentIndex(names.index(name))
        distance = float(np.linalg.norm(target - known[names.index(name)].point.xyz)) + (25.0 if i == 2 else 0.0)
        type_into(page.tapes[i], f"{distance:.2f} mm")
        assert page.tapes[i].text()
    assert "front left tire on the floor disagrees" in page.words.text()
    assert "again" in page.offs[2].text()
    right = float(np.linalg.norm(target - known[names.index(marks[2])].point.xyz))
    type_into(page.tapes[2], f"{right:.2f} mm")
    assert "agree to" in page.words.text()
    page.put.click()
    assert mount_of(window.bench.job, spot).at.xyz == pytest.approx(tuple(target), abs=0.1)
    type_into(page.tapes[0], "1")
    assert page.tapes[0].text() == "1"
    window.bench.undo()
    page.way.setCurrentIndex(3)
    aim(page, Spot("rear", "Upper right", "chassis"))
    page.mirror.setCurrentIndex(names.index("rear: Upper left, frame end"))
    assert "Mirror image" in page.words.text()


def test_points_from_files_and_damaged_files(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    page = cast(PointPage, turn(window, POINTS))
    page.way.setCurrentIndex(4)
    good = tmp_path / "points.csv"
    good.write_text("name,ahead_in,left_in,up_in\nframe tab,-82,16 1/2,25\n", encoding="utf-8")

    def read(name: Path) -> None:
        with qtbot.waitSignal(page.reading.done):
            page.open_file(str(name))

    read(good)
    assert page.found is not None
    assert page.found.point.xyz == pytest.approx((-82 * 25.4, 16.5 * 25.4, 635.0))
    drawing = ezdxf.new(units=1)
    drawing.modelspace().add_point((-82, 16.5, 25))
    drawing.saveas(tmp_path / "points.dxf")
    read(tmp_path / "points.dxf")
    assert page.found.point.xyz == pytest.approx((-82 * 25.4, 16.5 * 25.4, 635.0))
    for name, text, words in (
        ("a.csv", "", "is empty"), ("b.csv", "name,x\n1,2", "columns ahead, left and up"),
        ("c.csv", "ahead_mm,left_mm,up_mm\n1,2,lots", "line 2"), ("d.csv", "ahead_mm,left_mm,up_mm\n1,2", "line 2"),
        ("e.csv", "ahead_mm,left_mm,up_mm\n1,2,99000", "farther away than any car"), ("f.dxf", "0\nrubbish", "no DXF"),
        ("g.csv", "ahead_mm,left_mm,up_mm\n", "holds no points"),
    ):  # fmt: skip
        (tmp_path / name).write_text(text, encoding="utf-8")
        read(tmp_path / name)
        assert words in window.banner.words.text(), name
    assert page.found is not None  # what was read before stays


def test_heights_lowest_places_and_bad_figures(window: MainWindow) -> None:
    page = cast(HeightsPage, turn(window, HEIGHTS))
    type_into(page.down, "9")
    assert "is lowest" in page.lowest.text()
    page.points.add.click()
    assert "Name: nothing was entered" in window.banner.words.text()
    QTest.keyClicks(page.points.name, "oil pan")
    QTest.keyClicks(page.points.fields["ahead"], "-12")
    page.points.add.click()
    assert "Up: is missing" in window.banner.words.text()
    assert page.points.name.text() == "oil pan"  # nothing typed is lost
    QTest.keyClicks(page.points.fields["up"], "8 1/2")
    page.points.add.click()
    assert [p.name for p in window.bench.job.measuring.low_points] == ["oil pan"]
    assert "1/2 in in the ground" in page.lowest.text()
    page.points.table.setCurrentCell(0, 0)
    page.points.out.click()
    assert window.bench.job.measuring.low_points == ()
    type_into(page.down, "far")
    assert page.down.property("wrong")
    type_into(page.down, "-3")
    assert "0 or more" in page.down.toolTip()
    assert window.bench.job.measuring.heights.lower_mm == pytest.approx(9 * 25.4)
    window.bench.undo()


def test_weight_and_lift_with_their_cautions(window: MainWindow) -> None:
    page = cast(WeightPage, turn(window, WEIGHT))
    assert not page.use.isEnabled()
    page.use_height.click()
    assert "enter the lift" in window.banner.words.text()
    front = window.bench.job.vehicle.axles[0].load_kg / 0.45359237
    type_into(page.lift, "28")
    type_into(page.level, f"{front:.0f}")
    type_into(page.raised, f"{front + 200:.0f}")
    assert "CG height" in page.lift_words.text()
    page.use_height.click()
    assert window.bench.job.vehicle.cg_source == "measured"
    type_into(page.raised, "100")
    assert "not more than when level" in page.lift_words.text()
    type_into(page.lift, "1")
    assert "will not do" in page.lift_words.text()


def test_square_says_which_link_to_turn(window: MainWindow) -> None:
    page = cast(SquarePage, turn(window, SQUARE))
    assert "Still to tape" in page.words.text()
    for what, text in (("wheelbase.left", "118 1/8"), ("wheelbase.right", "117 7/8"), ("diagonal.left", "134 1/8"),
                       ("diagonal.right", "134 3/8")):  # fmt: skip
        type_into(page.fields[what], text)
    assert "Turn the" in page.words.text()
    type_into(page.pitch, "1.5 mm")
    assert window.bench.job.measuring.threads.pitch_mm == pytest.approx(1.5)
    type_into(page.pitch, "0")
    assert page.pitch.property("wrong")
    page.half.click()
    assert not window.bench.job.measuring.threads.half_turns


def test_cribs_are_planned_and_impossible_ones_refused(window: MainWindow) -> None:
    page = cast(CribPage, turn(window, CRIBS))
    assert page.cuts.rowCount() == 4
    assert "9 layers make 13 1/2 in" in page.words.text()
    type_into(page.fields["height_mm"], "3")
    assert "3 to 30 layers" in page.words.text()
    assert page.cuts.rowCount() == 0
    window.bench.undo()
    assert page.cuts.rowCount() == 4


def test_tire_size_from_the_sidewall(window: MainWindow) -> None:
    window.go("stance")
    form = window.station("stance").car.axle_forms["rear"]
    QTest.keyClicks(form.marking, "33x10.50R15LT")
    QTest.keyClick(form.marking, Qt.Key.Key_Return)
    tire = window.bench.job.vehicle.axle("rear").tire
    assert (tire.free_diameter_mm, tire.width_mm) == pytest.approx((33 * 25.4, 10.5 * 25.4))
    QTest.keyClicks(form.marking, "huge")
    QTest.keyClick(form.marking, Qt.Key.Key_Return)
    assert "cannot be read" in form.marking_field.problem.text()
    assert form.marking.text() == "huge"


def test_a_gauge_fills_the_field_in_focus_through_every_fault(window: MainWindow, qtbot: QtBot) -> None:
    """A simulated distance meter behind a real serial port: garbage, a flood, a wrong field, and the plug pulled."""
    page = cast(SheetPage, turn(window, SHEET))
    pick(page, "wheelbase")
    bar, readings = window.station("stance").gauge, lambda: window.bench.job.measuring.readings
    meter = SimGauge("length", 2999.5, noise=0.2, garbage=0.2, rate=400.0)
    pty = PtyGauge(meter)
    bar.connect_to(serial_opener(pty.device))
    page.fields["wheelbase.left"].setFocus()
    qtbot.waitUntil(lambda: bar.live is not None)
    for count in range(1, 4):
        meter.press()
        qtbot.waitUntil(lambda count=count: len(readings()) == count)
    assert {r.what for r in readings()} == {"wheelbase.left"}
    assert window.bench.job.vehicle.wheelbase_mm == pytest.approx(2999.5, abs=1.0)
    bar.take_button.click()
    assert len(readings()) == 4
    pick(page, "floor")
    page.fields["floor.slope"].setFocus()
    meter.press()
    qtbot.waitUntil(lambda: len(bar.kept) == 5)
    assert "wants an angle" in window.banner.words.text()
    assert len(readings()) == 4
    window.header.undo.setFocus()
    window.station("stance").pages.buttons[0].setFocus()
    meter.press()
    qtbot.waitUntil(lambda: len(bar.kept) == 6)
    assert "was kept, but no field has the focus" in window.banner.words.text()
    qtbot.waitUntil(lambda: bar.reader is not None and bar.reader.bad_lines > 5)
    pty.close()
    qtbot.waitUntil(lambda: "Lost the gauge" in bar.words.text())
    type_into(page.fields["floor.slope"], "0.3")  # the window is alive
    assert window.bench.job.measuring.floor_slope_deg == pytest.approx(0.3)
    bar.toggle()
    assert bar.reader is None
    assert "6 readings kept" in bar.words.text()
    assert len(readings()) == 5


def test_practice_gauge_and_no_port(window: MainWindow, qtbot: QtBot, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("even_stance.desktop.gaugebar.serial_ports", lambda: [("/dev/made-up", "made-up port")])
    window.go("stance")
    bar = window.station("stance").gauge
    bar.toggle()
    assert "no port is chosen" in window.banner.words.text()
    assert bar.port.findText("made-up port") > 0
    bar.port.setCurrentIndex(1)
    bar.toggle()
    qtbot.waitUntil(lambda: bar.live is not None)
    assert "now" in bar.words.text()
    bar.toggle()


@pytest.mark.parametrize("page", range(7))
def test_every_page_stands_empty_huge_and_metric(open_window: Open, page: int) -> None:
    """Nothing entered, nonsense in every field, other units, twice the size: no page falls over or loses its text."""
    window = open_window(2)
    shown = turn(window, page)
    window.header.units.click()
    for field in cast(MainWindow, shown).findChildren(QLineEdit):
        if field.isVisible() and field.isEnabled():
            type_into(field, "9e99 miles")
    window.set_look("night", 200)
    QApplication.processEvents()
    window.set_look("paper", 100)
    while window.bench.document.history.undo_label:
        window.bench.undo()


def test_a_second_rear_axle_is_put_under_and_taken_out(window: MainWindow) -> None:
    """Added by a button, set apart by typing, given another layout than the first, all of it undone."""
    bench = window.bench
    before = bench.job
    window.go("stance")
    page = cast(CarPage, window.station("stance").pages.page(CAR))
    assert not page.apart.isVisible()
    QTest.mouseClick(page.second, Qt.MouseButton.LeftButton)
    assert list(page.axle_forms) == ["front", "rear", "third"]
    type_into(page.apart, "12")
    assert "tires would touch" in page.apart_label.problem.text()
    assert page.apart.text() == "12"
    type_into(page.apart, "4' 6\"")
    assert axles_apart(bench.job) == pytest.approx(1371.6)
    QTest.mouseClick(window.header.axle_buttons["third"], Qt.MouseButton.LeftButton)
    assert bench.axle_key == "third"
    window.go("links")
    window.station("links").turn_to(3)
    window.station("links").chooser.bases["leaf"].chosen.emit()
    assert {m.kind for m in bench.job.vehicle.axle("third").members} == {"leaf"}
    assert bench.study("third") is not None
    assert bench.job.vehicle.axle("rear").members
    assert {m.kind for m in bench.job.vehicle.axle("rear").members} == {"rod"}
    window.go("travel")
    assert window.station("travel").charts["roll"].y is not None
    for _ in range(3):
        bench.undo()
    assert bench.job == before
    assert bench.axle_key == "rear"
    assert list(window.header.axle_buttons) == ["front", "rear"]


def test_each_quantity_has_its_own_tool_and_what_was_read_stands_beside_what_it_means(window: MainWindow) -> None:
    page = cast(SheetPage, turn(window, SHEET))
    pick(page, "rear.pinion")
    assert [q for q, label in page._tool_labels.items() if label.isVisible()] == ["length", "angle"]
    assert page.tools["length"].findData("angle_finder") == page.tools["angle"].findData("tape") == -1
    page.tools["length"].setCurrentIndex(page.tools["length"].findData("rule"))
    ahead, angle = page.fields["rear.pinion.ahead"], page.fields["rear.pinion.angle"]
    type_into(ahead, "290 mm")
    page.ways.zero.setCurrentIndex(1)
    type_into(angle, "88")
    assert (ahead.text(), angle.text()) == ("", "")
    by_angle, by_length = window.bench.job.measuring.readings[-1], window.bench.job.measuring.readings[-2]
    assert (by_length.tool, by_length.sure, by_angle.tool) == ("rule", 0.5, "angle_finder")
    rows = [[page.table.item(i, j).text() for j in (1, 2, 3)] for i in range(2)]  # type: ignore[union-attr]
    assert rows == [["finder 88", "2.00° up", "angle finder"], ["290 mm", "~11 7/16 in", "steel rule"]]
    assert "how far off the mean may be" in page._notes["rear.pinion.ahead"].toolTip()


def test_heights_typed_have_columns_of_their_own_and_the_chart_reaches_them(open_window: Open) -> None:
    window = open_window(1)
    page = cast(HeightsPage, turn(window, HEIGHTS))
    type_into(page.down, "3 1/2")
    type_into(page.up, "2 1/2")
    heads = [page.answers.horizontalHeaderItem(j).text() for j in range(page.answers.columnCount())]  # type: ignore[union-attr]
    assert heads == ["Answer", "Driven", "Lowest", "Raised"]
    x = page.chart.getPlotItem().listDataItems()[0].getData()[0]
    assert (x[0], x[-1]) == pytest.approx((-3.5, 3.5))
    job, axle = window.bench.job, window.bench.axle
    lowest = study_postures(with_changes(job.vehicle, over="stands"), axle, np.array([88.9]), np.array([88.9]))
    row = next(i for i in range(page.answers.rowCount()) if page.answers.item(i, 0).text() == "Anti-squat")  # type: ignore[union-attr]
    assert page.answers.item(row, 2).text() == f"{lowest.value('anti_squat_axle_pct'):.0f} %"  # type: ignore[union-attr]
    page.shown.setCurrentIndex(page.shown.findData("anti_squat_axle_pct"))
    page.shown.activated.emit(page.shown.currentIndex())
    axis = page.chart.getAxis("left")
    assert axis.labelText == "Anti-squat, %"
    low, high = page.chart.viewRange()[1]
    assert low < lowest.value("anti_squat_axle_pct") < high


def test_enter_goes_on_and_what_is_far_off_is_asked_about(window: MainWindow) -> None:
    """Ahead, left and up typed one after the other land in their own fields; a figure in the wrong one is set aside."""
    page = cast(SheetPage, turn(window, SHEET))
    window.bench.do(set_known([Spot("rear", "Upper left", "chassis")], "guessed"))
    pick(page, "rear/Upper left/chassis")
    names = list(page.fields)
    page.fields[names[0]].setFocus()
    for text in ("36 1/2", "14 1/2", "17"):
        line = QApplication.focusWidget()
        assert isinstance(line, NumberField)
        QTest.keyClicks(line, text)
        QTest.keyClick(line, Qt.Key.Key_Return)
        QApplication.processEvents()
    means = means_of(window.bench.job)
    assert [means[n].value for n in names] == pytest.approx([36.5 * 25.4, 14.5 * 25.4, 17 * 25.4])
    assert QApplication.focusWidget() is page.next
    assert how_known(window.bench.job, Spot("rear", "Upper left", "chassis")) == "taped"
    told: list[str] = []
    window.bench.refused.connect(told.append)
    type_into(page.fields[names[0]], "17")
    assert "off what was read before. It is set aside" in told[-1]
    assert means_of(window.bench.job)[names[0]].count == 1
    assert not window.bench.job.measuring.readings[-1].counts


def test_readings_on_stands_and_on_the_tires_are_not_put_together(window: MainWindow) -> None:
    """2.6 on the tires and 3.9 on stands: each is kept with how the car stood, and none is their mean."""
    page = cast(SheetPage, turn(window, SHEET))
    pick(page, "rear.pinion")
    field = page.fields["rear.pinion.angle"]
    for stance, text in (("on its tires, empty", "2.6"), ("stands under the frame", "3.9")):
        page.stands.setText(stance)
        page.stands.editingFinished.emit()
        type_into(field, text)
    pinion = window.bench.job.vehicle.axle("rear").pinion
    assert pinion is not None
    assert pinion.nose_up_deg == pytest.approx(3.9)
    note = page._notes["rear.pinion.angle"].text()
    assert "Not counted, on its tires, empty: 2.6" in note
    page.stands.setText("On its tires,  empty")
    page.stands.editingFinished.emit()
    assert means_of(window.bench.job)["rear.pinion.angle"].value == pytest.approx(2.6)
    assert "one reading" in page._notes["rear.pinion.angle"].text()
    type_into(field, "2.8")
    pinion = window.bench.job.vehicle.axle("rear").pinion
    assert pinion is not None
    assert pinion.nose_up_deg == pytest.approx(2.7)
