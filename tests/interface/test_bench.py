"""The bench by itself, without any view: what is selected, studied, tried and kept, and which signals tell of it."""

import numpy as np
import pytest
from pytestqt.qtbot import QtBot

from even_stance.desktop.bench import Bench
from even_stance.desktop.studies import Studies
from even_stance.exchange.demo import demo_jobs
from even_stance.study.answers import answers_at
from even_stance.study.figures import study_axle
from even_stance.study.sensitivity import Picked, Postures, slopes
from even_stance.vehicle.edits import (
    change_steering,
    move_by,
    raise_mounts,
    raise_tail,
    set_axle,
    set_band,
    set_holes,
    set_job,
    set_powertrain,
    set_shaft,
    set_split,
    set_steering,
    set_tire,
    set_vehicle,
    set_wheelbase,
    turn_pinion,
)  # fmt: skip
from even_stance.vehicle.job import Band
from even_stance.vehicle.spots import Spot
from even_stance.vehicle.variants import branch_names, switch_to

UPPER = Spot("rear", "Upper left", "chassis")


@pytest.fixture
def bench(qtbot: QtBot) -> Bench:
    return Bench(demo_jobs()[0])


def test_asking_why_selects_and_opens_once(bench: Bench) -> None:
    told: list[str] = []
    bench.selection_changed.connect(lambda: told.append(str(bench.figure)))
    assert bench.figure == "anti_squat_axle_pct"
    bench.explain_figure("anti_squat_axle_pct")
    assert bench.look_at.why
    assert told == ["anti_squat_axle_pct"]
    bench.explain_figure("roll_center_mm")
    assert told[-1] == "roll_center_mm"
    bench.set_why(False)
    bench.set_why(False)
    assert len(told) == 3
    bench.open_job(demo_jobs()[1])
    assert not bench.look_at.why
    assert bench.look_at.overlay is None


def test_a_study_is_made_once_for_a_state_and_anew_for_another(bench: Bench) -> None:
    first = bench.study("rear")
    assert bench.study("rear") is first
    bench.do(set_job("Notes", notes="nothing about the car"))
    assert bench.study("rear") is first
    bench.do(set_vehicle("CG", cg_height_mm=800.0))
    second = bench.study("rear")
    assert second is not first
    bench.set_posture(20.0, -10.0)
    assert bench.study("rear") is not second
    assert bench.study("rear").now.left[0] == 20.0  # type: ignore[union-attr]
    bench.set_posture(9_999.0, -9_999.0)
    assert (bench.posture.left_mm, bench.posture.right_mm) == (bench.axle.bump_mm, -bench.axle.droop_mm)


def test_nothing_stale_is_shown_after_any_edit(qtbot: QtBot) -> None:
    """Whatever is edited, each axle's numbers, bands and places are those of studies that never saw the job before."""
    bench = Bench(demo_jobs()[1])
    tie, link = Spot("front", "", "left_tie"), Spot("rear", bench.job.vehicle.axle("rear").members[0].name, "axle")
    edits = (
        raise_tail(25.0), raise_mounts(6.0), turn_pinion("rear", 1.5), move_by(tie, 4.0, 0.0, -6.0),
        move_by(link, 5.0, 0.0, 9.0), move_by(Spot("front", "", "drag"), 0.0, 0.0, 14.0), set_split("brake", 0.55),
        set_band("roll_center_mm", Band(low=100.0, high=300.0)), set_job("Purpose", purpose="street"),
        set_vehicle("CG", cg_height_mm=640.0), set_tire("rear", "Tire", free_diameter_mm=700.0),
        set_axle("front", "Travel", bump_mm=60.0),
        set_shaft("rear", "Joint", pinion_joint="double_cardan"), change_steering("front", "Stops", stop_deg=28.0),
        set_steering("front", None), set_powertrain(None),
    )  # fmt: skip
    for posture in ((0.0, 0.0, 0.0), (15.0, -20.0, 0.4)):
        bench.set_posture(*posture)
        for edit in edits:
            bench.do(edit)
            fresh = Studies(bench.job)
            fresh.posture = bench.studies.posture
            for axle in bench.job.vehicle.axles:
                assert bench.verdicts(axle.key) == fresh.verdicts(axle.key), (edit.label, axle.key)
                assert bench.studies.at_ride(axle.key) == fresh.at_ride(axle.key), (edit.label, axle.key)
            kept, made = bench.studies.state(), fresh.state()
            assert all(np.allclose(kept.points[s], made.points[s], atol=1e-6) for s in made.points), edit.label
        for _ in edits:
            bench.undo()


def test_while_dragged_the_spread_stands_in_and_is_made_anew(bench: Bench) -> None:
    before = {f.key: f.uncertainty for f in bench.study("rear").figures}  # type: ignore[union-attr]
    for _ in range(5):
        bench.do(move_by(UPPER, 0.0, 0.0, 8.0, merge="drag upper"))
    moved = {f.key: f.uncertainty for f in bench.study("rear").figures}  # type: ignore[union-attr]
    assert moved == before
    told: list[None] = []
    bench.job_changed.connect(lambda: told.append(None))
    bench.let_go()
    assert len(told) == 1
    fresh = bench.study("rear")
    assert fresh is not None
    plain = study_axle(bench.job.vehicle, bench.axle, 0.0, 0.0)
    assert {f.key: f.uncertainty for f in fresh.figures} == {f.key: f.uncertainty for f in plain.figures}
    assert {f.key: f.uncertainty for f in fresh.figures} != before
    bench.let_go()
    assert len(told) == 1  # nothing was on its way
    bench.undo()
    assert bench.job == demo_jobs()[0]  # the whole drag was one step


def test_trying_keeps_the_car_as_it_was_beneath(bench: Bench) -> None:
    first = bench.job.vehicle
    assert bench.try_as_variant(move_by(UPPER, 0.0, 0.0, 12.0), "up").done
    assert bench.overlaid is first
    beneath = bench.overlaid_study("rear")
    assert beneath is bench.overlaid_study("rear")
    assert beneath is not None
    bench.set_posture(30.0, 30.0)
    assert bench.overlaid_study("rear").now.left[0] == 30.0  # type: ignore[union-attr]
    bench.do(switch_to("As measured"))
    assert bench.overlaid is None  # a car is not drawn beneath itself
    bench.set_overlay("up")
    assert bench.overlaid is not None
    assert bench.overlaid_study("nowhere") is None
    bench.set_overlay("never heard of")
    assert bench.overlaid is None


def test_what_is_refused_is_told_and_changes_nothing(bench: Bench) -> None:
    told: list[str] = []
    bench.refused.connect(told.append)
    before = bench.job
    assert not bench.do(set_holes(UPPER, 0, 25.4)).done
    assert not bench.try_as_variant(set_holes(UPPER, 3, 900.0)).done
    assert [t.split(":")[0] for t in told] == ["Holes", "Hole pitch"]
    assert bench.job is before
    assert branch_names(bench.job) == branch_names(before)


def test_the_spread_over_travel_is_that_of_many_measured_cars(bench: Bench) -> None:
    """Pinion change and joint swing are read at the ends of travel: their +/- against 400 cars measured with errors.

    Each car also stands a little off its ride height, from which its travel is then counted.
    """
    bench.do(
        set_axle("rear", "No shaft", output=None, pinion=None, shaft=None)
    )  # the pinion's turn is judged itself then
    vehicle, axle = bench.job.vehicle, bench.axle
    study = study_axle(vehicle, axle, 0.0, 0.0)
    rng = np.random.default_rng(11)
    sources = {"pinion_change_deg": "pitch_deg", "wheelbase_change_mm": "shift_x_mm"}
    drawn: dict[str, list[float]] = {key: [] for key in (*sources, "anti_squat_axle_pct")}
    for _ in range(400):
        job = bench.job
        for member in axle.members:
            for end in member.mounts:
                dx, dy, dz = rng.normal(0.0, 1.5875, 3)
                job = move_by(Spot("rear", member.name, end), dx, dy, dz, both_sides=False).apply(job)
        d, longer, taller = rng.normal(0.0, (3.175, 1.5875, vehicle.cg_sure_mm))
        job = set_wheelbase(vehicle.wheelbase_mm + longer).apply(job)
        job = set_vehicle("CG", cg_height_mm=vehicle.cg_height_mm + taller + d).apply(job)
        found = answers_at(job.vehicle, job.vehicle.axle("rear"), -d, -d)
        drawn["anti_squat_axle_pct"].append(found.value("anti_squat_axle_pct"))
        for key, source in sources.items():
            # The same posture as in the study: a worst place that jumps elsewhere is another matter.
            far = study.figure(key).left_mm - d  # type: ignore[union-attr]
            there = answers_at(job.vehicle, job.vehicle.axle("rear"), far, far)
            drawn[key].append(abs(there.value(source) - found.value(source)))
    for key, values in drawn.items():
        assert study.figure(key).uncertainty == pytest.approx(float(np.std(values)), rel=0.1), key  # type: ignore[union-attr]


def test_slopes_of_one_figure_do_not_depend_on_the_others(bench: Bench) -> None:
    study = bench.study("rear")
    assert study is not None
    now = study.now
    at = Postures(now.left, now.right, now.pose)
    keys = ("anti_squat_axle_pct", "roll_center_mm")
    both = slopes(bench.job.vehicle, bench.axle, at, [Picked(k, now.value(k), k) for k in keys], every=True)
    for key in keys:
        one = slopes(bench.job.vehicle, bench.axle, at, [Picked(key, now.value(key), key)], every=True)
        assert one.of[key] == pytest.approx(both.of[key])
        assert one.inputs == both.inputs
