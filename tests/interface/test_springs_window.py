"""The Springs station: from weights to springs that carry, stop and ride as wanted; saved, reopened, the same by command."""

import json
from pathlib import Path
from typing import cast

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QTableWidget

from even_stance.cli import run
from even_stance.desktop.stations.springs.chartspage import ChartsPage
from even_stance.desktop.stations.springs.choosepage import ChoosePage
from even_stance.desktop.stations.springs.findpage import FindPage
from even_stance.desktop.stations.springs.partspage import PartsPage
from even_stance.desktop.stations.springs.ridepage import RidePage
from even_stance.desktop.stations.springs.rollpage import RollPage
from even_stance.desktop.stations.springs.station import (
    CHARTS,
    CHOOSE,
    FIND,
    FLOOR,
    PARTS,
    RIDE,
    ROLL,
    STOPS,
    WALK,
    SpringsStation,
)
from even_stance.desktop.stations.springs.stopspage import StopsPage
from even_stance.desktop.window import MainWindow
from even_stance.study.drawing import Joint
from even_stance.study.drawing import Path as Line
from even_stance.study.standing import stand
from even_stance.vehicle.edits import set_cargo, set_holes, set_springs
from even_stance.vehicle.spots import Spot, point_of
from even_stance.vehicle.springs import CoilOver
from even_stance.vehicle.variants import branch_names
from tests.interface.conftest import Open, drag, type_into, until
from tests.interface.test_every_page import colors_changed


@pytest.fixture
def coupe(open_window: Open) -> MainWindow:
    """The coupe with nothing that carries it."""
    window = open_window(1)
    job = window.bench.job
    for key in ("front", "rear"):
        job = set_springs(key, (), "Bare").apply(job)
    window.bench.open_job(set_cargo("Empty", ()).apply(job))
    window.bench.select_axle("rear")
    window.go("springs")
    QApplication.processEvents()
    return window


def _station(window: MainWindow) -> SpringsStation:
    return cast(SpringsStation, window.station("springs"))


def _page(window: MainWindow, number: int) -> object:
    _station(window).turn_to(number)
    QApplication.processEvents()
    return _station(window).pages.page(number)


def _put(window: MainWindow, kind: str) -> PartsPage:
    page = cast(PartsPage, _page(window, PARTS))
    page.kind.setCurrentIndex(page.kind.findData(kind))
    page.put.click()
    return page


def _cells(table: QTableWidget) -> list[list[str]]:
    return [[table.item(i, j).text() for j in range(table.columnCount())] for i in range(table.rowCount())]  # type: ignore[union-attr]


def _level(coupe: MainWindow) -> None:
    """Collars turned until the car sits at ride height."""
    bench = coupe.bench
    ride = cast(RidePage, _page(coupe, RIDE))
    for _ in range(3):
        for key in ("front", "rear"):
            bench.select_axle(key)
            QApplication.processEvents()
            if ride.set_collars.isVisible():
                ride.set_collars.click()
    assert stand(bench.job.vehicle).travel("rear") == pytest.approx((0.0, 0.0), abs=1.5)
    assert any("at ride height" in cells for cells in _cells(ride.sits))


def _as_the_command_line_says(coupe: MainWindow, path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    """The window's numbers are those of `even-stance ride`."""
    bench = coupe.bench
    bench.select_axle("rear")
    coupe.go("springs")
    roll = cast(RollPage, _page(coupe, ROLL))
    assert roll.picture.car is not None
    assert run(["ride", str(path)]) == 0
    said = json.loads(capsys.readouterr().out)
    now = {v.figure.key: v.figure.value for v in bench.studies.verdicts("rear")}
    assert said["axles"]["rear"]["frequency_hz"] == pytest.approx(now["ride_frequency_hz"], abs=1e-6)
    assert said["axles"]["rear"]["motion_ratio_heave"] == pytest.approx(now["motion_ratio_x"], abs=1e-6)
    assert said["car"]["roll_deg_per_g"] == pytest.approx(now["roll_per_g_deg"], abs=1e-6)
    over = said["car"]["front_share_of_transfer_pct"] - said["car"]["front_weight_pct"]
    assert over == pytest.approx(now["transfer_over_weight_pct"], abs=1e-5)
    assert f"{said['car']['roll_deg_per_g']:.1f}°" in dict(_cells(roll.table))["Roll per g"]


def test_from_weights_to_springs_that_ride(
    coupe: MainWindow, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    bench, station = coupe.bench, _station(coupe)
    assert "no springs yet" in station.words.toolTip()
    assert coupe.order.buttons["springs"].toolTip() != ""
    for key, kinds in (("front", ("coil_over",)), ("rear", ("coil_over", "bump_stop", "strap"))):
        bench.select_axle(key)
        for kind in kinds:
            _put(coupe, kind)
    assert [s.kind for s in bench.axle.springs] == ["coil_over"] * 2 + ["bump_stop"] * 2 + ["strap"] * 2
    # A coil from what is sold, nearest to a wanted frequency.
    choose = cast(ChoosePage, _page(coupe, CHOOSE))
    choose.which.setCurrentIndex(choose.which.findText("Coil-over left"))
    type_into(choose.frequency, "1.6")
    type_into(choose.rate_step, "25")
    assert len(_cells(choose.table)) == len(choose.choices) > 3
    choose.table.setCurrentCell(0, 0)
    choose.use.click()
    part = bench.axle.part("Coil-over left")
    assert isinstance(part, CoilOver)
    assert part.coil.rate_n_mm == pytest.approx(choose.choices[0].rate_n_mm, rel=1e-9)
    verdicts = {v.figure.key: v for v in bench.studies.verdicts("rear")}
    assert verdicts["ride_frequency_hz"].figure.value == pytest.approx(1.6, abs=0.15)
    # The upper mount dragged inward leans the spring over: it works over less than before.
    station.turn_to(FLOOR)
    station.floor.bring_front("rear")
    QApplication.processEvents()
    pane, spot = station.floor.panes["rear"], Spot("rear", "Coil-over left", "top")
    assert spot in [s.spot for s in pane.shapes if isinstance(s, Joint)]
    assert any(isinstance(s, Line) and s.style == "coil" for s in pane.shapes)
    before, ratio = point_of(bench.job, spot), verdicts["motion_ratio_x"].figure.value
    drag(pane, spot, (60.0, 0.0))
    moved = point_of(bench.job, spot)
    assert moved.y < before.y - 20.0
    assert point_of(bench.job, Spot("rear", "Coil-over right", "top")).y == pytest.approx(-moved.y)
    verdicts = {v.figure.key: v for v in bench.studies.verdicts("rear")}
    assert verdicts["motion_ratio_x"].figure.value < ratio - 0.01
    # Stops and straps set so that they come first, with half an inch left.
    stops = cast(StopsPage, _page(coupe, STOPS))
    until(lambda: "Bump stops should have" in stops.fits.text())
    stops.use.click()
    until(lambda: any("ends it: Bump stop" in words for _, words in _cells(stops.tables[0])))
    assert any("ends it: Strap" in words for _, words in _cells(stops.tables[1]))
    _level(coupe)
    path = tmp_path / "sprung.stance"
    assert coupe.files.save_to(path)
    assert coupe.files.open_path(path)
    _as_the_command_line_says(coupe, path, capsys)


def test_parts_are_typed_refused_undone_and_taken_off(coupe: MainWindow) -> None:
    """Wrong figures stay in their field with the reason; both sides change; a second coil, a link, off again."""
    bench = coupe.bench
    before = bench.job
    page = _put(coupe, "coil_over")
    field = page.fields["Coil rate", "rate_n_mm"]
    type_into(field, "250")
    for side in ("left", "right"):
        part = bench.axle.part(f"Coil-over {side}")
        assert isinstance(part, CoilOver)
        assert part.coil.rate_n_mm == pytest.approx(250 * 0.1751268, rel=1e-5)
    kept = bench.job
    for text, words in (("-3", "above 0"), ("soft", "soft")):
        type_into(field, text)
        assert field.text() == text
        assert words in coupe.banner.words.text() or words in field.toolTip()
        assert bench.job is kept
    QTest.keyClick(field, Qt.Key.Key_Escape)
    type_into(page.fields["All the way in", "closed_mm"], "40")
    assert "longer open than closed" in coupe.banner.words.text() + page.fields["All the way in", "closed_mm"].toolTip()
    assert bench.job is kept
    QTest.keyClick(page.fields["All the way in", "closed_mm"], Qt.Key.Key_Escape)
    seats = bench.axle.part("Coil-over left").seats_mm  # type: ignore[union-attr]
    page.turns[1].click()
    assert bench.axle.part("Coil-over left").seats_mm == pytest.approx(seats + 2.0)  # type: ignore[union-attr]
    page.second.click()
    assert page.fields["Upper coil, rate", "rate_n_mm"].isVisible()
    assert any(v.figure.key == "crossover_mm" for v in bench.studies.verdicts("rear"))
    page.second.click()
    assert not page.fields["Upper coil, rate", "rate_n_mm"].isVisible()
    link = next(i for i in range(page.on.count()) if "Lower left" in page.on.itemText(i))
    page.on.setCurrentIndex(link)
    page.on.activated.emit(link)
    assert {s.on for s in bench.axle.springs} == {"Lower left", "Lower right"}  # type: ignore[union-attr]
    page.off.click()
    assert bench.axle.springs == ()
    while bench.job != before:
        assert bench.undo() is not False


def test_a_coil_is_rated_by_calipers(coupe: MainWindow) -> None:
    """Half-inch wire, 4 in across, 8 coils: refused while half measured, then G d^4 / (8 D^3 n) on both sides, undone."""
    bench = coupe.bench
    page = _put(coupe, "coil_over")
    kept = bench.job
    type_into(page.wire["wire"], "1/2")
    page.by_wire.click()
    assert "lacks a figure" in coupe.banner.words.text()
    assert bench.job is kept
    type_into(page.wire["mean"], "4")
    type_into(page.wire["active"], "8")
    page.by_wire.click()
    for side in ("left", "right"):
        part = bench.axle.part(f"Coil-over {side}")
        assert isinstance(part, CoilOver)
        assert part.coil.rate_n_mm == pytest.approx(79_300.0 * 12.7**4 / (8.0 * 101.6**3 * 8.0), rel=1e-4)
    assert page.wire["wire"].text() == "0.500", "wire is read in thousandths, and stays in its field"
    bench.undo()
    assert bench.job == kept


def test_what_is_carried_and_a_mount_moved_on_the_map(coupe: MainWindow) -> None:
    """Tools in the tail make it sit low there; a click on the map says what mounts there would do, and moves them."""
    bench = coupe.bench
    for key in ("front", "rear"):
        bench.select_axle(key)
        _put(coupe, "coil_over")
    ride = cast(RidePage, _page(coupe, RIDE))
    ride.cargo.name.setText("tool chest")
    for key, text in (("mass", "200"), ("behind", "120"), ("left", "0")):
        type_into(ride.cargo.fields[key], text)
    ride.cargo.add.click()
    assert [c.name for c in bench.job.vehicle.cargo] == ["tool chest"]
    rows = {cells[0]: cells for cells in _cells(ride.sits)}
    assert "low" not in rows["With what is aboard"][2]
    ride.cargo.table.setCurrentCell(0, 0)
    ride.toggle.click()
    assert bench.job.vehicle.cargo[0].aboard
    rows = {cells[0]: cells for cells in _cells(ride.sits)}
    assert "low" in rows["With what is aboard"][2]
    choose = cast(ChoosePage, _page(coupe, CHOOSE))
    assert choose.picture.map is not None
    choose.picture.grab()
    assert colors_changed() == []  # the fields of the map are as pale as they like, and nothing else is
    here = point_of(bench.job, Spot("rear", choose.chosen, "bottom"))
    box = choose.picture._box()
    QTest.mouseClick(choose.picture, Qt.MouseButton.LeftButton, pos=QPoint(int(box.left() + 20), int(box.center().y())))
    assert "There:" in choose.here.text()
    choose.there.click()
    now = point_of(bench.job, Spot("rear", choose.chosen, "bottom"))
    assert abs(now.y) < abs(here.y) - 50.0
    assert choose.picture.picked is None


def test_charts_and_walk_show_the_springs(open_window: Open) -> None:
    """Every kind of the demo jobs drawn at a posture; the charts follow the spring whose point is held."""
    for demo, axle in ((0, "front"), (2, "rear"), (4, "front")):
        window = open_window(demo)
        window.bench.select_axle(axle)
        window.go("springs")
        window.bench.set_posture(30.0, -20.0)
        charts = cast(ChartsPage, _page(window, CHARTS))
        names = [s.name for s in window.bench.axle.springs if s.kind != "sway_bar"]
        window.bench.select_spot(Spot(axle, names[-1], "top"))
        QApplication.processEvents()
        assert names[-1] in charts.words.text()
        assert len(charts.charts["length"].x) > 10
        _page(window, WALK)
        window.close()


def test_a_place_and_holes_are_found_in_the_window(coupe: MainWindow) -> None:
    """A wanted motion ratio by moving the upper mount, taken as a variant; every hole of a bracket tried."""
    bench = coupe.bench
    for key in ("front", "rear"):
        bench.select_axle(key)
        _put(coupe, "coil_over")
    page = cast(FindPage, _page(coupe, FIND))
    page.seek.click()
    assert "nothing was entered" in coupe.banner.words.text()
    type_into(page.goal, "0.9")
    page.mount.setCurrentIndex([s.end for s in page._spots()].index("top"))
    page.seek.click()
    until(lambda: page.solved is not None)
    assert page.solved is not None
    assert "motion ratio 0.90" in page.answer.text()
    page.take.click()
    assert "Mount moved" in " ".join(branch_names(bench.job))
    value = next(v.figure.value for v in bench.studies.verdicts("rear") if v.figure.key == "motion_ratio_x")
    assert value == pytest.approx(0.9, abs=0.01)
    assert not page.take.isEnabled()
    assert not page.start.isEnabled()
    bench.do(set_holes(Spot("rear", "Coil-over left", "bottom"), 3, 25.4))
    page.refresh()
    page.start.click()
    until(lambda: len(page.found) == 3)
    assert page.table.rowCount() == 3
    page.table.setCurrentCell(2, 0)
    page.use.click()
    assert bench.axle.part("Coil-over left").mounts["bottom"].hole is not None
