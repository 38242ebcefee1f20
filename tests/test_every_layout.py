"""The thinking bench on every layout of the trade, front and rear, and on a tandem: nothing assumes a four-link."""

from contextlib import nullcontext
from pathlib import Path

import numpy as np
import pytest

from even_stance.errors import InputError, StanceError
from even_stance.exchange.jobfile import dump_job, parse_job
from even_stance.exchange.papers import PAPERS, write_paper
from even_stance.exchange.tables import sweep_csv
from even_stance.judgement.bands import wanted
from even_stance.judgement.catalog.layouts import BASES, LATERALS, BaseKey
from even_stance.judgement.catalog.parts import starting_parts
from even_stance.judgement.catalog.starter import with_lateral, with_starter
from even_stance.judgement.compare import compare_variants
from even_stance.judgement.explain import explain
from even_stance.judgement.heights import heights_words
from even_stance.judgement.search.holefinder import brackets_of, find_holes
from even_stance.judgement.search.limits import Freedom
from even_stance.judgement.search.moves import moves, pairs
from even_stance.judgement.search.solvefor import solve_for
from even_stance.judgement.search.suggestions import advise
from even_stance.judgement.standards import STANDARDS
from even_stance.judgement.verdicts import judge, miss
from even_stance.shop.findings import shop_findings
from even_stance.shop.lowest import low_places
from even_stance.shop.pictures import step_picture
from even_stance.shop.points import known_points
from even_stance.shop.readings import new_reading
from even_stance.shop.sheet import sheet, take_reading
from even_stance.shop.squaring import square_report
from even_stance.shop.weighing import height_by_lift
from even_stance.study.answers import answers_at, study_postures
from even_stance.study.figures import figure_slopes, study_axle
from even_stance.study.heights import study_heights
from even_stance.study.model import mount_points
from even_stance.study.pieces import pieces
from even_stance.study.travel import SWEEPS, study_sweep
from even_stance.vehicle.edits import fit_parts, move_by, set_axle, set_split, with_changes
from even_stance.vehicle.job import Job
from even_stance.vehicle.measuring import Lift
from even_stance.vehicle.spots import Spot
from even_stance.vehicle.tandem import add_rear_axle, axles_apart, set_axles_apart, take_out_rear_axle
from even_stance.vehicle.variants import branch_off
from tests.conftest import starter

EVERY: list[tuple[BaseKey, str]] = [(base, "rear") for base in BASES] + [("radius_arms", "front"), ("leaf", "front")]


def laid_out(base: BaseKey, key: str) -> Job:
    """A starting car with a layout at one end."""
    job = starter("trail")
    return with_starter(set_split("drive", 0.4).apply(job), key, base)


NO_SHAFT = {"driveshaft-order"}  # starting cars have no yokes measured
# nor are parts chosen for links, and leaves have none
NO_PARTS = {"cut-list", "shopping-list", "templates", "templates-drawing"}


@pytest.mark.parametrize(("base", "key"), EVERY)
def test_why_and_what_moves_it(base: BaseKey, key: str) -> None:
    """Every number is explained; what is said to move most really moves it, by about what was said."""
    job = laid_out(base, key)
    study = study_axle(job.vehicle, job.vehicle.axle(key), 0.0, 0.0)
    slopes = figure_slopes(job.vehicle, study)
    for figure in study.figures:
        found = explain(job, study, figure.key)
        assert found is not None
        assert found.movers
    for name in ("anti_squat_axle_pct", "anti_dive_pct", "roll_center_mm", "roll_steer_pct"):
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
    job = laid_out(base, key)
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
    job = laid_out(base, key)
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
    name = next(f.key for f in study.figures if STANDARDS[f.key].solvable)
    now = study.figure(name).value  # type: ignore[union-attr]
    free = [
        Freedom(spot, 2, -60.0, 60.0)
        for spot, _ in pairs(job, axle)
        if axle.member(spot.member).body(spot.end) == "chassis"
    ]
    # A starter may stand at the end of its room one way: the other way there is some.
    target = next(t for t in (now + 2.0, now - 2.0) if solve_for(job, key, {name: t}, free).reached)
    solved = solve_for(job, key, {name: target}, free)
    again = study_axle(solved.edit.apply(job).vehicle, solved.edit.apply(job).vehicle.axle(key), 0.0, 0.0)
    assert again.figure(name).value == pytest.approx(target, abs=0.5)  # type: ignore[union-attr]
    assert heights_words(job, study_heights(job.vehicle, axle))
    for kind in SWEEPS:
        answers = study_sweep(job.vehicle, axle, kind)
        assert sweep_csv(answers, "us").count("\n") == 62


@pytest.mark.parametrize("base", BASES)
def test_on_paper_and_measured(base: BaseKey, tmp_path: Path) -> None:
    job = laid_out(base, "rear")
    links = pieces(job.vehicle)
    job = fit_parts("Parts", [starting_parts(p) for p in links]).apply(job)
    refused = NO_SHAFT | (set() if links else NO_PARTS)
    for what in PAPERS:
        with pytest.raises(InputError, match=r"no driveshaft|no parts|none yet") if what in refused else nullcontext():
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


def _single() -> Job:
    job = starter("trail")
    for key, load in (("front", 1500.0), ("rear", 2300.0)):
        job = set_axle(key, "scales", load_kg=load, unsprung_kg=300.0).apply(job)
    return job


def _tandem() -> Job:
    """A truck with two driven rear axles 1.4 m apart, four-links on both."""
    job = _single()
    return set_axles_apart(1400.0).apply(add_rear_axle().apply(job))


def test_a_second_rear_axle_shares_what_one_took_and_is_taken_out_again() -> None:
    single, pair = _single(), _tandem()
    assert pair.vehicle.wheelbase_mm == pytest.approx(single.vehicle.wheelbase_mm)
    assert pair.vehicle.mass_kg == pytest.approx(single.vehicle.mass_kg)
    one = answers_at(single.vehicle, single.vehicle.axle("rear"), 0.0, 0.0)
    both = [answers_at(pair.vehicle, pair.vehicle.axle(key), 0.0, 0.0) for key in ("rear", "third")]
    alone = [both[0].value("anti_squat_axle_pct"), one.value("anti_squat_axle_pct")]
    assert wanted(pair, "anti_squat_axle_pct", "third") == wanted(single, "anti_squat_axle_pct", "rear")
    assert 0.5 * alone[0] == pytest.approx(both[0].value("anti_squat_pct"))
    for key in ("anti_squat_pct", "anti_lift_brake_pct"):
        # The same links, half the force at each: together they do what one did, and each is judged by half of it.
        assert sum(v.value(key) for v in both) == pytest.approx(one.value(key), abs=1e-6)
        whole, half = wanted(single, key, "rear").band, wanted(pair, key, "third").band
        assert (half.low, half.high) == pytest.approx((whole.low / 2, whole.high / 2))  # type: ignore[operator]
    both_alone = sum(v.value("anti_squat_axle_pct") for v in both) / 2
    assert both_alone == pytest.approx(alone[1])
    states = [[v.state for v in judge(j, study_axle(j.vehicle, j.vehicle.axle("rear"), 0, 0))] for j in (single, pair)]
    assert states[0] == states[1]
    explained = explain(pair, study_axle(pair.vehicle, pair.vehicle.axle("third"), 0.0, 0.0), "anti_squat_axle_pct")
    assert explained is not None
    both = next(v for v in explained.went_in if v.name == "both rear axles")
    assert both.value == pytest.approx(one.value("anti_squat_axle_pct"))
    assert both.words == f"{one.value('anti_squat_axle_pct'):.0f} %"
    # Side by side, each variant is judged by the axles it has.
    both_ways = add_rear_axle().apply(branch_off("Two rear axles").apply(single))
    beside = {key: dict(compare_variants(both_ways, key).rows) for key in ("rear", "third")}
    squat = f"{one.value('anti_squat_axle_pct'):.0f} %"
    assert compare_variants(both_ways, "rear").names == ("Two rear axles", "As measured")
    assert beside["rear"]["Anti-squat"][1] == dict(compare_variants(single, "rear").rows)["Anti-squat"][0]
    assert beside["rear"]["Anti-squat"][1].startswith(squat)
    assert beside["third"]["Anti-squat"][1] == "no such axle"
    back = take_out_rear_axle().apply(pair).vehicle.axle("rear")
    was = single.vehicle.axle("rear")
    assert mount_points(back) == pytest.approx(mount_points(was))
    for name in ("behind_front_mm", "load_kg", "unsprung_kg", "drive_share", "brake_share"):
        assert getattr(back, name) == pytest.approx(getattr(was, name))
    for edit, words in ((add_rear_axle(), "two rear axles already"), (set_axles_apart(500.0), "tires would touch")):
        with pytest.raises(InputError, match=words):
            edit.apply(pair)
    for edit in (take_out_rear_axle(), set_axles_apart(1400.0)):
        with pytest.raises(InputError, match="there is one rear axle"):
            edit.apply(single)
    with pytest.raises(InputError, match="two axles"):
        height_by_lift(pair, Lift(lift_mm=500.0, level_kg=1500.0, raised_kg=1600.0))


def test_two_rear_axles_are_brought_square_one_by_one() -> None:
    """The first stands square, the second's left wheel is 8 mm farther back than its right one."""
    job = _tandem()
    half = job.vehicle.axles[0].track_mm / 2
    diagonal = float(np.hypot(2500.0, 2 * half))
    readings = {"wheelbase.left": 2500.0, "wheelbase.right": 2500.0, "diagonal.left": diagonal,
                "diagonal.right": diagonal, "apart.left": 1404.0, "apart.right": 1396.0}  # fmt: skip
    for what, value in readings.items():
        job = take_reading(new_reading(job, what, "length", value, "tape", "2026-01-05T10:00")).apply(job)
    assert axles_apart(job) == pytest.approx(1400.0)
    assert job.vehicle.wheelbase_mm == pytest.approx(2500.0 + 700.0)
    report = square_report(job)
    assert report is not None
    assert "rear axle is square" in report.words[0]
    assert "The third axle is out of square: its left wheel is 5/16 in farther back." in report.words
    assert "Turn the left lower link" in report.words[-1]
    assert "shorter" in report.words[-1]


def test_a_tandem_goes_through_everything(tmp_path: Path) -> None:
    job = _tandem()
    assert parse_job(dump_job(job), "t") == job
    # SAE J670: wheelbase of a tandem to the middle of the rear pair.
    rear, third = job.vehicle.axles[1:]
    assert job.vehicle.wheelbase_mm == pytest.approx((rear.behind_front_mm + third.behind_front_mm) / 2)
    values = {}
    for key in ("rear", "third"):
        axle = job.vehicle.axle(key)
        study = study_axle(job.vehicle, axle, 0.0, 0.0)
        values[key] = study.now.value("roll_center_mm")
        assert explain(job, study, "anti_squat_axle_pct") is not None
        for verdict in judge(job, study):
            advise(job, study, verdict.figure.key)
    # The same links on the same axle, only farther back: nothing about its roll center changes.
    assert values["rear"] == pytest.approx(values["third"])
    search = find_holes(job)
    assert len(search.tries) == 2
    assert search.count == len(search.tries[0].scores) * len(search.tries[1].scores)
    for what in set(PAPERS) - NO_SHAFT - NO_PARTS:
        write_paper(job, what, tmp_path / what)
    assert {s.key for s in sheet(job)} >= {"scale.third", "tire.third", "third.pinion", "track.third"}
    assert square_report(job) is None
    shop_findings(job)
    spot = Spot("third", "Upper left", "chassis")
    moved = move_by(spot, 0.0, 0.0, 25.0).apply(job)
    assert study_axle(moved.vehicle, moved.vehicle.axle("rear"), 0.0, 0.0).now.value(
        "anti_squat_axle_pct"
    ) == pytest.approx(study_axle(job.vehicle, rear, 0.0, 0.0).now.value("anti_squat_axle_pct"))


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
            job, "rear", {"anti_squat_axle_pct": 80.0}, [Freedom(Spot("rear", "Lower left", "chassis"), 2, -9, 9)]
        ),
    ):
        with pytest.raises(StanceError, match="Rear axle is not held by its 2 links"):
            work()
