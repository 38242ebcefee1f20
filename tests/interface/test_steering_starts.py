"""What a steering starts from: with a layout, with a new job, and swing beams from nothing."""

import json
from pathlib import Path
from typing import cast

import pytest
from PyQt6.QtWidgets import QApplication

from even_stance.cli import run
from even_stance.desktop.stations.steering.arcspage import ArcsPage
from even_stance.desktop.stations.steering.piecespage import PiecesPage
from even_stance.desktop.stations.steering.rowspage import RowsPage
from even_stance.desktop.stations.steering.station import (
    ARCS,
    BOX,
    FLOOR,
    JOINTS,
    PIECES,
    RAM,
    SHAFT,
    SWEEP,
    WALK,
    SteeringStation,
)
from even_stance.desktop.window import MainWindow
from even_stance.vehicle.spots import Spot, point_of
from tests.interface.conftest import Open, type_into, until
from tests.interface.steer import start_steering


def _station(window: MainWindow) -> SteeringStation:
    return cast(SteeringStation, window.station("steering"))


def _rows(page: RowsPage, table: int = 0) -> dict[str, str]:
    shown = page.tables[table]
    return {shown.item(i, 0).text(): shown.item(i, 1).text() for i in range(shown.rowCount())}  # type: ignore[union-attr]


def test_a_layout_brings_a_steering_that_fits(open_window: Open) -> None:
    window = open_window(0)
    bench = window.bench
    bench.select_axle("front")
    window.station("links").turn_to(3)
    chooser = window.station("links").chooser
    assert chooser.steers.isVisible()
    old = bench.axle.steering
    chooser.steers.setChecked(True)
    chooser.bases["three_link"].choose()
    until(lambda: bench.axle.steering != old)
    study = bench.study("front")
    assert study is not None
    slope = study.figure("drag_slope_deg")
    assert slope is not None
    assert slope.value < 2.0  # laid beside the new panhard
    bench.select_axle("rear")
    window.station("links").refresh()
    assert not chooser.steers.isVisible()


def test_a_new_job_starts_with_a_steering(open_window: Open) -> None:
    window = open_window(0)
    window.ask_new()
    panel = window.newjob
    panel.name.setText("Six by six")
    for field, typed in zip(panel.fields.values(), ("118", "64", "35", "12 1/2"), strict=True):
        field.setText(typed)
    panel.steering.setCurrentIndex(panel.steering.findData("crossover"))
    panel.start.click()
    steering = window.bench.job.vehicle.axle("front").steering
    assert steering is not None
    assert steering.kind == "crossover"


def test_from_nothing_to_swing_beams(
    open_window: Open, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:  # fmt: skip
    """Started on an axle with links, which are taken out; judged, moved, drawn leaning, saved, reopened, from the command
    line alike."""
    window = open_window(0)
    bench, station = window.bench, _station(window)
    bench.select_axle("front")
    window.go("steering")
    assert bench.axle.members
    page = start_steering(window, "swing_beams")
    assert not bench.axle.members
    assert "swings on its own beam" in page.words.text()
    assert page.kind.currentData() == "swing_beams"
    keys = {v.figure.key for v in bench.verdicts("front")}
    assert {"camber_change_deg", "toe_change_deg", "track_change_mm", "turn_circle_m"} <= keys
    before = next(v.figure.value for v in bench.verdicts("front") if v.figure.key == "toe_change_deg")
    inner = Spot("front", "", "left_inner")
    bench.select_spot(inner)
    station.turn_to(FLOOR)
    type_into(station.strip.up, f"{point_of(bench.job, inner).z / 25.4 + 2.0:.3f}")
    after = next(v.figure.value for v in bench.verdicts("front") if v.figure.key == "toe_change_deg")
    assert after > before + 0.3
    station.turn_to(ARCS)
    arcs = cast(ArcsPage, station.pages.page(ARCS))
    assert [arcs.end.itemText(i) for i in range(arcs.end.count())] == ["Tie rods, inner ends"]
    arcs.seek.click()
    until(lambda: arcs.found is not None)
    assert arcs.found is not None
    arcs.take.click()
    least = next(v.figure.value for v in bench.verdicts("front") if v.figure.key == "toe_change_deg")
    assert least < before + 0.1
    station.turn_to(FLOOR)
    pane = station.floor.panes["rear"]
    low = pane.place_of(Spot("front", "", "left_lower"))
    bench.set_posture(60.0, -60.0, 0.5)
    QApplication.processEvents()
    high = pane.place_of(Spot("front", "", "left_lower"))
    assert low is not None
    assert high is not None
    assert high.y() < low.y() - 5.0
    assert "wheels" in window.rail.words.text()
    for page_number in (ARCS, SWEEP, BOX, RAM, JOINTS, SHAFT, WALK):
        station.turn_to(page_number)
        QApplication.processEvents()
    assert _rows(cast(RowsPage, station.pages.page(BOX)))["Pitman arm, sweeps from lock to lock"]
    path = tmp_path / "beams.stance"
    assert window.files.save_to(path)
    assert window.files.open_path(path)
    _as_the_command_line_says(window, path, capsys)


def _as_the_command_line_says(window: MainWindow, path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    """The reopened swing beams show what the command line answers."""
    bench, station = window.bench, _station(window)
    bench.select_axle("front")
    bench.set_posture(20.0, -10.0, 0.5)
    window.go("steering")
    station.turn_to(PIECES)
    page = cast(PiecesPage, station.pages.page(PIECES))
    shown = {page.table.item(i, 0).text(): page.table.item(i, 1).text() for i in range(page.table.rowCount())}  # type: ignore[union-attr]
    assert run(["answers", str(path), "--axle", "front", "--left", "20", "--right", "-10", "--steer", "0.5"]) == 0
    said = json.loads(capsys.readouterr().out)
    assert shown["Left wheel, + left"] == f"{said['steer']['left_deg']:+.1f}°"
    assert shown["Camber, left wheel"] == f"{said['beams']['camber_left_deg']:+.1f}°"
    window.go("links")
    assert "Swing beams hold the front wheels" in window.station("links").words.text()
