"""The Steering station: from nothing to a crossover whose arcs agree, saved, reopened, the same from the command line."""

import json
from pathlib import Path
from typing import cast

import numpy as np
import pytest
from PyQt6.QtWidgets import QApplication

from even_stance.cli import run
from even_stance.desktop.stations.steering.piecespage import PiecesPage
from even_stance.desktop.stations.steering.station import FLOOR, PIECES, SWEEP, WALK, SteeringStation
from even_stance.desktop.stations.steering.sweeppage import SweepPage
from even_stance.desktop.window import MainWindow
from even_stance.judgement.steering import bump_most
from even_stance.study.drawing import Joint
from even_stance.study.figures import study_axle
from even_stance.vehicle.edits import move_to, set_axle, set_steering
from even_stance.vehicle.job import Job
from even_stance.vehicle.spots import STEER_POINTS, Spot, own_point, point_of, twin_of
from tests.interface.conftest import Open, drag, type_into


@pytest.fixture
def rig(open_window: Open) -> MainWindow:
    window = open_window(2)
    job = set_axle("rear", "No steering", steering=None, steered=False).apply(window.bench.job)
    window.bench.open_job(set_steering("front", None).apply(job))
    window.bench.select_axle("front")
    window.go("steering")
    QApplication.processEvents()
    return window


def _station(window: MainWindow) -> SteeringStation:
    return cast(SteeringStation, window.station("steering"))


def _start(window: MainWindow, kind: str) -> PiecesPage:
    station = _station(window)
    station.turn_to(PIECES)
    page = cast(PiecesPage, station.pages.page(PIECES))
    page.kind.setCurrentIndex(page.kind.findData(kind))
    page.start.click()
    return page


def _most_at(job: Job, spot: Spot, z: float) -> float:
    x, y, _ = point_of(job, spot).xyz
    moved = move_to(job, spot, x, y, z).apply(job)
    most = bump_most(study_axle(moved.vehicle, moved.vehicle.axle("front"), 0.0, 0.0, {}))
    return np.inf if most is None else most[0]


def test_from_nothing_to_arcs_that_agree(rig: MainWindow, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    bench, station = rig.bench, _station(rig)
    assert "no steering yet" in station.words.toolTip()
    page = _start(rig, "crossover")
    study = bench.study("front")
    assert study is not None
    before = bump_most(study)
    assert before is not None
    assert "Two arcs differ" in page.words.text()
    # The drag link is made level: its axle end comes up to where its pitman end is.
    station.turn_to(FLOOR)
    station.floor.bring_front("side")
    QApplication.processEvents()
    end, ball = (Spot("front", "", e) for e in ("drag", "ball"))
    pane = station.floor.panes["side"]
    assert end in [s.spot for s in pane.shapes if isinstance(s, Joint)]
    up = point_of(bench.job, ball).z - point_of(bench.job, end).z
    drag(pane, end, (0.0, -30.0 * np.sign(up)))
    assert (point_of(bench.job, end).z - point_of(bench.job, ball).z + up) * np.sign(up) > 1.0
    # Then it is put where the least is left, as someone finds who tries one height after another.
    tried = {z: _most_at(bench.job, end, z) for z in point_of(bench.job, end).z + np.linspace(-40.0, 160.0, 11)}
    best = min(tried, key=lambda z: tried[z])
    bench.select_spot(end)
    type_into(station.strip.up, f"{best:.1f}")
    assert point_of(bench.job, end).z == pytest.approx(best, abs=0.06)
    study = bench.study("front")
    assert study is not None
    after = bump_most(study)
    assert after is not None
    assert after[0] == pytest.approx(tried[best], abs=0.05)
    assert after[0] < 0.7 * before[0]
    path = tmp_path / "steered.stance"
    assert rig.files.save_to(path)
    assert rig.files.open_path(path)
    bench.select_axle("front")
    type_into(rig.rail.steer, "0.6")
    station.turn_to(PIECES)
    page.refresh()
    rows = {page.table.item(i, 0).text(): page.table.item(i, 1).text() for i in range(page.table.rowCount())}  # type: ignore[union-attr]
    assert run(["answers", str(path), "--axle", "front", "--steer", "0.6"]) == 0
    said = json.loads(capsys.readouterr().out)["steer"]
    assert rows["Left wheel, + left"] == f"{said['left_deg']:+.1f}°"
    assert rows["Hand wheel to road wheels"] == f"{said['overall_ratio']:.1f} to 1"


def test_pieces_are_typed_refused_undone_and_taken_out(rig: MainWindow) -> None:
    bench = rig.bench
    before = bench.job
    page = _start(rig, "ram")
    assert not page.fields["ratio"].isEnabled()
    type_into(page.fields["stroke_mm"], "150")
    assert bench.axle.steering is not None
    assert bench.axle.steering.ram is not None
    assert bench.axle.steering.ram.stroke_mm == 150.0
    page = _start(rig, "tie_rod")
    type_into(page.fields["ratio"], "0")
    assert bench.axle.steering.box is not None
    assert bench.axle.steering.box.ratio == 16.0
    assert page.fields["ratio"].text() == "0"
    type_into(page.fields["stop_deg"], "30")
    assert bench.axle.steering.stop_deg == 30.0
    for end in STEER_POINTS:
        spot = Spot("front", "", end)
        if end.startswith("left") and own_point(bench.axle, end) is not None:
            assert twin_of(bench.job, spot) == Spot("front", "", end.replace("left", "right"))
    page.out.click()
    assert bench.axle.steering is None
    while bench.document.history.undo_label:
        bench.undo()
    assert bench.job == before
    bench.select_axle("rear")
    page.refresh()
    assert not page.start.isEnabled()


def test_sweep_and_walk_show_the_steering(rig: MainWindow) -> None:
    station, bench = _station(rig), rig.bench
    station.turn_to(SWEEP)
    page = cast(SweepPage, station.pages.page(SWEEP))
    assert "start one" in page.words.text()
    _start(rig, "crossover")
    station.turn_to(SWEEP)
    page.refresh()
    x, y = page.charts["lock"].x, page.charts["lock"].y
    assert (x[0], x[-1]) == (-2.0, 2.0)
    assert np.nanmin(np.diff(y)) > 0.0
    assert np.interp(0.0, page.charts["heave"].x, page.charts["heave"].y) == pytest.approx(0.0, abs=1e-3)
    station.turn_to(WALK)
    walk = station.pages.page(WALK)
    QApplication.processEvents()
    assert {"drag link", "tie rod", "pitman arm"} <= {s.solid.name for s in walk.seen}  # type: ignore[attr-defined]
    bench.undo()
