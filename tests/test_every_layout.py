"""The thinking bench on every layout of the trade, front and rear, and on a tandem: nothing assumes a four-link."""

from pathlib import Path

import numpy as np
import pytest

from even_stance.errors import StanceError
from even_stance.exchange.jobfile import dump_job, parse_job
from even_stance.exchange.papers import PAPERS, write_paper
from even_stance.exchange.tables import sweep_csv
from even_stance.judgement.bands import wanted
from even_stance.judgement.compare import compare_variants
from even_stance.judgement.explain import explain
from even_stance.judgement.heights import heights_words
from even_stance.judgement.holefinder import brackets_of, find_holes
from even_stance.judgement.layouts import BASES, LATERALS, BaseKey
from even_stance.judgement.limits import Freedom
from even_stance.judgement.moves import moves, pairs
from even_stance.judgement.solvefor import SOLVABLE, solve_for
from even_stance.judgement.starter import with_lateral, with_starter
from even_stance.judgement.suggestions import advise
from even_stance.judgement.verdicts import judge, miss
from even_stance.shop.findings import shop_findings
from even_stance.shop.lowest import low_places
from even_stance.shop.pictures import step_picture
from even_stance.shop.points import known_points
from even_stance.shop.sheet import sheet
from even_stance.shop.squaring import square_report
from even_stance.study.answers import answers_at, study_postures
from even_stance.study.figures import figure_slopes, study_axle
from even_stance.study.heights import study_heights
from even_stance.study.travel import SWEEPS, study_sweep
from even_stance.vehicle.car import Axle, Vehicle
from even_stance.vehicle.edits import Spot, move_by, set_split, with_changes
from even_stance.vehicle.job import Job
from even_stance.vehicle.variants import branch_off
from tests.conftest import starter

EVERY: list[tuple[BaseKey, str]] = [(base, "rear") for base in BASES] + [("radius_arms", "front"), ("leaf", "front")]


def _job(base: BaseKey, key: str) -> Job:
    job = starter("trail")
    return with_starter(set_split("drive", 0.4).apply(job), key, base)


@pytest.mark.parametrize(("base", "key"), EVERY)
def test_why_and_what_moves_it(base: BaseKey, key: str) -> None:
    """Every number is explained; what is said to move most really moves it, by about what was said."""
    job = _job(base, key)
    study = study_axle(job.vehicle, job.vehicle.axle(key), 0.0, 0.0)
    slopes = figure_slopes(job.vehicle, study)
    for figure in study.figures:
        found = explain(job, study, figure.key)
        assert found is not None
        assert found.movers
    for name in ("anti_squat_pct", "anti_dive_pct", "roll_center_mm", "roll_steer_pct"):
        if study.figure(name) is None:
            continue
        points = [(i, s) for i, s in slopes.ranked(name, 60) if i.spot is not None]
        what, slope = points[0]
        assert what.spot is not None
        step = [0.0, 0.0, 0.0]
        step[what.axis] = 0.2
        there, back = (
            answers_at(moved.vehicle, moved.vehicle.axle(key), 0.0, 0.0).value(name)
            for moved in (
                move_by(what.spot, *(sign * s for s in step), both_sides=False).apply(job) for sign in (1.0, -1.0)
            )
        )
        assert (there - back) / 0.4 == pytest.approx(slope, rel=2e-3, abs=1e-5), name


@pytest.mark.parametrize(("base", "key"), EVERY)
def test_suggestions_hold_what_they_promise(base: BaseKey, key: str) -> None:
    job = _job(base, key)
    job = move_by(next(iter(pairs(job, job.vehicle.axle(key))))[0], 0.0, 0.0, 35.0).apply(job)
    axle = job.vehicle.axle(key)
    study = study_axle(job.vehicle, axle, 0.0, 0.0)
    assert moves(job, axle)
    for verdict in judge(job, study):
        advice = advise(job, study, verdict.figure.key)
        for suggestion in advice.suggestions[:2]:
            after = suggestion.edit.apply(job)
            found = study_axle(after.vehicle, after.vehicle.axle(key), 0.0, 0.0).figure(verdict.figure.key)
            assert found is not None
            assert found.value == pytest.approx(suggestion.change.after, rel=1e-9)
            band = wanted(job, verdict.figure.key)
            assert miss(found.value, band) < miss(verdict.figure.value, band)


@pytest.mark.parametrize(("base", "key"), EVERY)
def test_holes_solve_heights_and_sweeps(base: BaseKey, key: str) -> None:
    job = _job(base, key)
    axle = job.vehicle.axle(key)
    brackets = brackets_of(job, axle)
    if brackets:
        search = find_holes(job)
        best = search.best[0]
        after = search.edit(best).apply(job)
        values = study_postures(after.vehicle, after.vehicle.axle(key), np.zeros(1), np.zeros(1)).values
        tries = next(t for t in search.tries if t.key == key)
        row = best.picks[search.tries.index(tries)]
        for name in set(tries.values) & set(values):
            assert float(values[name][0]) == pytest.approx(float(tries.values[name][row]), rel=1e-9, abs=1e-9)
    study = study_axle(job.vehicle, axle, 0.0, 0.0)
    name = next(f.key for f in study.figures if f.key in SOLVABLE)
    target = study.figure(name).value + 2.0  # type: ignore[union-attr]
    free = [
        Freedom(spot, 2, -60.0, 60.0)
        for spot, _ in pairs(job, axle)
        if axle.member(spot.member).body(spot.end) == "chassis"
    ]
    solved = solve_for(job, key, {name: target}, free)
    assert solved.reached, solved.words
    again = study_axle(solved.edit.apply(job).vehicle, solved.edit.apply(job).vehicle.axle(key), 0.0, 0.0)
    assert again.figure(name).value == pytest.approx(target, abs=0.5)  # type: ignore[union-attr]
    assert heights_words(job, study_heights(job.vehicle, axle))
    for kind in SWEEPS:
        answers = study_sweep(job.vehicle, axle, kind)
        assert sweep_csv(answers, "us").count("\n") == 62


@pytest.mark.parametrize("base", BASES)
def test_on_paper_and_measured(base: BaseKey, tmp_path: Path) -> None:
    job = _job(base, "rear")
    for what in PAPERS:
        write_paper(job, what, tmp_path / what)
    for step in sheet(job):
        shapes, (h0, h1, v0, v1) = step_picture(job, step)
        assert shapes
        assert h1 - h0 > 100.0
        assert v1 - v0 > 100.0
    assert low_places(job)[0].lowest_mm <= low_places(job)[-1].lowest_mm
    names = [k.name for k in known_points(job.vehicle)]
    assert len(set(names)) == len(names)


@pytest.mark.parametrize("lateral", LATERALS)
def test_lateral_devices_side_by_side_as_variants(lateral: str) -> None:
    """Each device as a variant of the same three-link: the comparison has one column each and calls none held wrong."""
    job = starter("street_performance", "three_link")
    job = branch_off(lateral).apply(job)
    job = with_lateral(job, "rear", lateral)  # type: ignore[arg-type]
    found = compare_variants(job, "rear")
    assert found.names == (lateral, "As measured")
    squat = next(cells for title, cells in found.rows if title == "Anti-squat")
    if lateral == "none":
        assert squat[0] == "not held"
    else:
        # What holds the axle sideways has hardly a say in anti-squat (Gillespie: a side-view matter).
        assert abs(float(squat[0].split()[0]) - float(squat[1].split()[0])) <= 2.0


# --- three axles


def _tandem() -> Job:
    """A truck with two driven rear axles a meter and a half apart, four-links on both."""
    job = starter("trail")
    front, rear = job.vehicle.axles
    first = with_changes(rear, key="rear", drive_share=0.5, brake_share=0.3)
    data = rear.model_dump() | {"key": "tag", "behind_front_mm": rear.behind_front_mm + 1400.0}
    data |= {"drive_share": 0.5, "brake_share": 0.2, "members": ()}
    second = Axle.model_validate(data)
    front = with_changes(front, brake_share=0.5, load_kg=1500.0, unsprung_kg=300.0)
    axles = (front, with_changes(first, load_kg=1200.0, unsprung_kg=350.0), with_changes(second, load_kg=1100.0))
    job = with_changes(job, vehicle=Vehicle(**(dict(job.vehicle) | {"axles": axles})))
    return with_starter(with_starter(job, "tag", "triangulated"), "rear", "triangulated")


def test_a_tandem_goes_through_everything(tmp_path: Path) -> None:
    job = _tandem()
    assert parse_job(dump_job(job), "t") == job
    # SAE J670: wheelbase of a tandem to the middle of the rear pair.
    rear, tag = job.vehicle.axles[1:]
    assert job.vehicle.wheelbase_mm == pytest.approx((rear.behind_front_mm + tag.behind_front_mm) / 2)
    values = {}
    for key in ("rear", "tag"):
        axle = job.vehicle.axle(key)
        study = study_axle(job.vehicle, axle, 0.0, 0.0)
        values[key] = study.now.value("roll_center_mm")
        assert explain(job, study, "anti_squat_pct") is not None
        for verdict in judge(job, study):
            advise(job, study, verdict.figure.key)
    # The same links on the same axle, only farther back: nothing about its roll center changes.
    assert values["rear"] == pytest.approx(values["tag"], abs=0.05)  # to the sixteenth that points are snapped to
    search = find_holes(job)
    assert len(search.tries) == 2
    assert search.count == len(search.tries[0].scores) * len(search.tries[1].scores)
    for what in PAPERS:
        write_paper(job, what, tmp_path / what)
    assert {s.key for s in sheet(job)} >= {"scale.tag", "tire.tag", "tag.pinion", "track.tag"}
    assert square_report(job) is None
    shop_findings(job)
    spot = Spot("tag", "Upper left", "chassis")
    moved = move_by(spot, 0.0, 0.0, 25.0).apply(job)
    assert study_axle(moved.vehicle, moved.vehicle.axle("rear"), 0.0, 0.0).now.value("anti_squat_pct") == pytest.approx(
        study_axle(job.vehicle, rear, 0.0, 0.0).now.value("anti_squat_pct")
    )


def test_a_layout_that_is_not_held_is_said_everywhere() -> None:
    job = starter("trail")
    axle = job.vehicle.axle("rear")
    loose = with_changes(axle, members=axle.members[:2])
    vehicle = with_changes(job.vehicle, axles=(job.vehicle.axles[0], loose))
    job = with_changes(job, vehicle=vehicle)
    for work in (
        lambda: study_heights(job.vehicle, loose),
        lambda: study_sweep(job.vehicle, loose, "roll"),
        lambda: solve_for(
            job, "rear", {"anti_squat_pct": 80.0}, [Freedom(Spot("rear", "Lower left", "chassis"), 2, -9, 9)]
        ),
    ):
        with pytest.raises(StanceError, match="Rear axle is not held by its 2 links"):
            work()
