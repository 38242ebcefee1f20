"""The bench that thinks along: explanations, movers, suggestions, hole finder, solve-for, variants, differences."""

from dataclasses import replace
from itertools import product

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from even_stance.errors import InputError
from even_stance.exchange.jobfile import dump_job, parse_job
from even_stance.judgement.bands import wanted
from even_stance.judgement.differences import differences
from even_stance.judgement.explain import FORMULAS, explain
from even_stance.judgement.heights import heights_words
from even_stance.judgement.search.holefinder import brackets_of, find_holes, second_pass
from even_stance.judgement.search.limits import LEAST_HEIGHT_MM, Freedom
from even_stance.judgement.search.movers import movers
from even_stance.judgement.search.score import key_score, score
from even_stance.judgement.search.solvefor import solve_for
from even_stance.judgement.search.suggestions import advise
from even_stance.judgement.standards import STANDARDS
from even_stance.judgement.verdicts import miss
from even_stance.study.answers import answers_at, posture_keys
from even_stance.study.figures import figure_slopes, study_axle
from even_stance.study.heights import study_heights
from even_stance.study.threads import turn_links
from even_stance.vehicle.edits import choose_hole, move_by, set_band, set_holes, set_job, set_tire, set_vehicle
from even_stance.vehicle.history import History
from even_stance.vehicle.job import Band, Job
from even_stance.vehicle.spots import Spot, mount_of
from even_stance.vehicle.variants import branch_names, branch_off, drop_variant, fresh_name, switch_to, vehicle_of
from tests.conftest import starter

UPPER, LOWER = Spot("rear", "Upper left", "chassis"), Spot("rear", "Lower left", "chassis")
AXLE_UPPER = Spot("rear", "Upper left", "axle")


def _study(job: Job, key: str = "rear"):  # type: ignore[no-untyped-def]
    return study_axle(job.vehicle, job.vehicle.axle(key), 0.0, 0.0)


# --- why, and what moves it


def test_every_figure_is_explained_with_what_went_in(trail_job: Job, coupe_job: Job, rock_job: Job) -> None:
    for job in (trail_job, coupe_job, rock_job):
        study = _study(job)
        for figure in study.figures:
            found = explain(job, study, figure.key)
            assert found is not None
            assert found.formula is FORMULAS[figure.key]
            assert found.formula.source
            assert found.went_in
            assert len(found.movers) == 5
            sizes = [abs(m.change) for m in found.movers]
            assert sizes == sorted(sizes, reverse=True)
    assert explain(trail_job, _study(trail_job), "anti_dive_pct") is None


def test_a_drawing_that_is_not_exact_says_so() -> None:
    """An upper far off center with a sloped panhard: crossing lines on paper misses the exact figure."""
    job = starter("trail", "three_link")
    job = move_by(Spot("rear", "Upper", "axle"), 0.0, 250.0, 0.0, both_sides=False).apply(job)
    job = move_by(Spot("rear", "Panhard", "chassis"), 0.0, 0.0, 150.0, both_sides=False).apply(job)
    found = explain(job, _study(job), "anti_squat_axle_pct")
    assert found is not None
    assert "Crossing the link lines on paper would say" in found.drawn_differs
    plain = explain(starter(), _study(starter()), "anti_squat_axle_pct")
    assert plain is not None
    assert plain.drawn_differs == ""


def test_a_mover_per_hole_is_the_next_hole_up(trail_job: Job) -> None:
    """“Per hole” moves both sides: the slope against really choosing the next hole, to the curvature of a hole."""
    study = _study(trail_job)
    found = movers(trail_job, figure_slopes(trail_job.vehicle, study), "anti_squat_axle_pct", 40)
    by_words = {m.words: m for m in found}
    upper = by_words["Upper frame ends up"]
    assert upper.per == "hole"
    assert upper.step_mm == pytest.approx(25.4)
    now = study.now.value("anti_squat_axle_pct")
    hole = mount_of(trail_job, UPPER).hole
    assert hole is not None
    down = choose_hole(UPPER, hole - 1).apply(trail_job)
    assert -(_study(down).now.value("anti_squat_axle_pct") - now) == pytest.approx(upper.change, rel=0.1)
    out = by_words["Upper frame ends out"]
    moved = move_by(UPPER, 0.0, 25.4 / 4, 0.0).apply(trail_job)
    assert _study(moved).now.value("anti_squat_axle_pct") - now == pytest.approx(out.change, abs=0.05)


# --- suggestions


@settings(max_examples=8, deadline=None, suppress_health_check=[HealthCheck.too_slow])
@given(st.integers(0, 10_000))
def test_suggestions_do_what_they_said(seed: int) -> None:
    """Over random jobs: made through the edit they carry, every figure comes to what was promised."""
    rng = np.random.default_rng(seed)
    layout = ("triangulated", "three_link", "double_triangulated")[seed % 3]
    job = starter(("trail", "drag", "street_performance")[seed % 3], layout)
    for member in job.vehicle.axle("rear").members:
        for end in member.mounts:
            step = rng.uniform(-40, 40, 3)
            job = move_by(Spot("rear", member.name, end), *(float(s) for s in step)).apply(job)
    study = _study(job)
    for figure in study.figures:
        advice = advise(job, study, figure.key)
        inside = miss(figure.value, wanted(job, figure.key)) <= 0
        assert not advice.suggestions or not inside
        for suggestion in advice.suggestions:
            after = _study(suggestion.edit.apply(job))
            for change in (suggestion.change, *suggestion.others):
                found = after.figure(change.key)
                assert found is not None
                assert change.after == pytest.approx(found.value, rel=1e-9)
                assert change.is_in == (miss(found.value, wanted(job, change.key)) <= 0)
            assert miss(suggestion.change.after, wanted(job, figure.key)) < miss(figure.value, wanted(job, figure.key))


def test_the_cheapest_comes_first_and_contradicting_wishes_are_said(trail_job: Job) -> None:
    advice = advise(trail_job, _study(trail_job), "anti_squat_axle_pct")
    assert "one hole" in advice.suggestions[0].words
    assert advice.suggestions[0].brings_in
    assert not advice.conflict
    # Roll steer pinned where it is: whatever raises anti-squat takes it out.
    job = trail_job
    for figure in _study(job).figures:
        if figure.key != "anti_squat_axle_pct":
            band = Band(low=figure.value - 0.02, high=figure.value + 0.02)
            job = set_band(figure.key, band).apply(job)
    advice = advise(job, _study(job), "anti_squat_axle_pct")
    assert "Wishes contradict" in advice.conflict
    assert advise(job, _study(job), "anti_squat_axle_pct", stopped=lambda: True).suggestions == ()


def test_turned_links_keep_the_other_lengths(trail_job: Job) -> None:
    """Two turns longer uppers: they are longer by just that, the lowers as long as before, the pinion turned."""
    job = turn_links("rear", ("Upper left", "Upper right"), 4.0, "x").apply(trail_job)

    def length(job: Job, name: str) -> float:
        m = job.vehicle.axle("rear").member(name)
        return float(np.linalg.norm(np.subtract(m.mounts["chassis"].at.xyz, m.mounts["axle"].at.xyz)))

    for name, longer in (("Upper left", 4.0), ("Upper right", 4.0), ("Lower left", 0.0), ("Lower right", 0.0)):
        assert length(job, name) - length(trail_job, name) == pytest.approx(longer, abs=1e-6)
    before, after = mount_of(trail_job, AXLE_UPPER).at, mount_of(job, AXLE_UPPER).at
    assert after.x < before.x - 3.0  # the top of the axle goes back, the pinion's nose up
    assert job.vehicle.axle("rear").center[2] == trail_job.vehicle.axle("rear").center[2]


# --- hole finder


def _drilled(job: Job) -> Job:
    for spot, count in ((UPPER, 3), (LOWER, 3), (AXLE_UPPER, 2), (Spot("front", "Upper left", "chassis"), 2)):
        job = set_holes(spot, count, 22.0).apply(job)
    return job


def test_the_hole_finder_is_brute_force_in_order(rock_job: Job) -> None:
    """All 36 combinations of both axles one by one through the app's own edits and study: the same best, same ranks."""
    job = _drilled(set_job("w", weights={"roll_steer_pct": 3.0, "anti_dive_pct": 0.5}).apply(rock_job))
    seen: list[float] = []
    search = find_holes(job, progress=seen.append)
    brackets = [b for a in job.vehicle.axles for b in brackets_of(job, a)]
    assert search.count == int(np.prod([b.holes for b in brackets])) == 36
    assert search.complete
    assert seen[-1] == pytest.approx(1.0)
    brute = {}
    for holes in product(*(range(b.holes) for b in brackets)):
        tried = job
        for bracket, hole in zip(brackets, holes, strict=True):
            tried = choose_hole(bracket.spot, hole).apply(tried)
        total = 0.0
        for axle in tried.vehicle.axles:
            answers = answers_at(tried.vehicle, axle, 0.0, 0.0)
            values = {k: answers.values[k] for k in posture_keys(tried.vehicle) if k in answers.values}
            values["triangulation_deg"] = np.array([study_axle(
                tried.vehicle, axle, 0.0, 0.0, {}).figure("triangulation_deg").value])  # type: ignore[union-attr]  # fmt: skip
            total += float(score(job, axle.key, values)[0])
        brute[holes] = total
    found = [
        tuple(h for t, row in zip(search.tries, c.picks, strict=True) for h in t.holes[row].tolist())
        for c in search.best
    ]
    assert found[0] == min(brute, key=lambda h: brute[h])
    assert [c.score for c in search.best] == pytest.approx(sorted(brute.values()), rel=1e-9)
    for pick, holes in zip(search.best[:5], found[:5], strict=True):
        after = search.edit(pick).apply(job)
        assert [mount_of(after, b.spot).hole for b in brackets] == list(holes)


def test_second_pass_counts_travel_and_articulation(rock_job: Job) -> None:
    job = _drilled(rock_job)
    search = second_pass(job, find_holes(job), 6)
    whole = [c.whole_score for c in search.best[:6]]
    assert None not in whole
    assert whole == sorted(whole)  # type: ignore[type-var]
    best = search.edit(search.best[0]).apply(job)
    total = 0.0
    for axle in best.vehicle.axles:
        study = study_axle(best.vehicle, axle, 0.0, 0.0, {})
        total += float(score(job, axle.key, {f.key: np.array(f.value) for f in study.figures}))
    assert whole[0] == pytest.approx(total)
    assert search.best[6].whole_score is None


def test_a_stopped_search_keeps_what_it_has(trail_job: Job) -> None:
    job = trail_job
    for spot in (UPPER, LOWER, AXLE_UPPER, Spot("rear", "Lower left", "axle")):
        job = set_holes(spot, 9, 10.0).apply(job)
    done: list[float] = []
    search = find_holes(job, done.append, lambda: len(done) >= 1)
    assert not search.complete
    assert 0 < search.count < 9**4
    assert search.best


def test_a_search_that_cannot_be_is_refused(trail_job: Job) -> None:
    with pytest.raises(InputError, match="no bracket has more than one hole"):
        find_holes(_holeless(trail_job))
    # Links that are no pairs: nine holes at each of eight ends are 43 million combinations.
    axle = trail_job.vehicle.axle("rear")
    members = tuple(
        m.model_copy(update={"name": n, "side": "center"})
        for m, n in zip(axle.members, ("One", "Two", "Three", "Four"), strict=True)
    )
    axles = (trail_job.vehicle.axles[0], axle.model_copy(update={"members": members}))
    job = trail_job.model_copy(update={"vehicle": trail_job.vehicle.model_copy(update={"axles": axles})})
    for member in members:
        for end in member.mounts:
            job = set_holes(Spot("rear", member.name, end), 9, 10.0).apply(job)
    with pytest.raises(InputError, match="43,046,721 combinations on the rear axle are too many") as caught:
        find_holes(job)
    assert "single place" in str(caught.value)


def _holeless(job: Job) -> Job:
    for member in job.vehicle.axle("rear").members:
        for end in member.mounts:
            job = set_holes(Spot("rear", member.name, end), 1, 25.4).apply(job)
    return job


def test_score_is_nil_in_the_middle_and_grows_outside() -> None:
    band = Band(low=60.0, high=100.0)
    values = np.array([80.0, 100.0, 140.0, 20.0, np.nan])
    assert key_score(values, band) == pytest.approx([0.0, 0.01, 1.01, 1.01, np.inf])
    assert key_score(np.array([3.0]), Band(high=2.0)) == pytest.approx([4.0])


# --- solve for


def test_solve_for_finds_a_layout_built_backward_from_known_points() -> None:
    """The numbers of a layout that is known to exist, asked of another one 20 mm away: every number is reached."""
    goal = starter("trail")
    there = _study(goal)
    targets = {k: there.now.value(k) for k in ("anti_squat_axle_pct", "roll_center_mm", "roll_steer_pct")}
    targets["pinion_change_deg"] = there.figure("pinion_change_deg").value
    job = move_by(UPPER, -18.0, 9.0, 22.0).apply(goal)
    job = move_by(LOWER, 0.0, 0.0, -20.0).apply(job)
    free = [Freedom(UPPER, a, -45.0, 45.0) for a in range(3)] + [Freedom(LOWER, 2, -45.0, 45.0)]
    solved = solve_for(job, "rear", targets, free)
    assert solved.reached, solved.words
    after = _study(solved.edit.apply(job))
    for key, value in targets.items():
        figure = after.figure(key)
        assert figure is not None
        scale = {"pct": 5.0, "mm": 10.0, "deg": 0.5}[key.rsplit("_", 1)[-1]]
        assert figure.value == pytest.approx(value, abs=0.1 * scale), key
        assert figure.value == pytest.approx(solved.values[key], abs=1e-6)


def test_solve_for_says_why_it_cannot(trail_job: Job) -> None:
    free = [Freedom(UPPER, 2, -20.0, 20.0)]
    solved = solve_for(trail_job, "rear", {"anti_squat_axle_pct": 300.0}, free)
    assert not solved.reached
    assert "300 % was asked" in solved.words
    assert "At their limits: upper frame ends down" in solved.words
    low = move_by(LOWER, 0.0, 0.0, -300.0).apply(trail_job)
    solved = solve_for(low, "rear", {"anti_squat_axle_pct": -300.0}, [Freedom(LOWER, 2, -500.0, 10.0)])
    assert mount_of(solved.edit.apply(low), LOWER).at.z >= LEAST_HEIGHT_MM - 0.01
    for targets, freedoms, words in (
        ({}, free, "no number is asked for"),
        ({"anti_squat_axle_pct": 80.0}, [], "no point may move"),
        ({"anti_dive_pct": 10.0}, free, "has no anti-dive"),
        ({"anti_squat_axle_pct": 80.0}, [Freedom(UPPER, 2, 5.0, 5.0)], "leave it no room"),
    ):
        with pytest.raises(InputError, match=words):
            solve_for(trail_job, "rear", targets, freedoms)


def test_solve_for_knows_every_figure_it_offers(coupe_job: Job) -> None:
    study = _study(coupe_job)
    keys = [f.key for f in study.figures if STANDARDS[f.key].solvable]
    assert {"anti_squat_axle_pct", "roll_steer_pct", "side_shift_mm", "pinion_joint_deg"} <= set(keys)
    targets = {k: study.figure(k).value for k in keys}
    solved = solve_for(coupe_job, "rear", targets, [Freedom(Spot("rear", "Upper", "chassis"), 2, -30.0, 30.0)])
    assert solved.reached
    assert solved.moves == ()


# --- variants


def test_variants_branch_switch_and_come_back(trail_job: Job) -> None:
    trail_job = drop_variant("cantilevered front").apply(trail_job)
    history = History(trail_job)
    history.do(branch_off("long uppers", move_by(UPPER, 60.0, 0.0, 0.0)))
    assert branch_names(history.job) == ["long uppers", "As measured"]
    assert vehicle_of(history.job, "As measured") == trail_job.vehicle
    assert history.job.vehicle != trail_job.vehicle
    history.do(set_job("note", branch_note="rides softer"))
    history.do(switch_to("As measured"))
    assert history.job.vehicle == trail_job.vehicle
    assert branch_names(history.job) == ["As measured", "long uppers"]
    history.do(switch_to("long uppers"))
    assert history.job.branch_note == "rides softer"
    assert fresh_name(history.job, "long uppers") == "long uppers 2"
    assert parse_job(dump_job(history.job), "x") == history.job
    with pytest.raises(InputError, match="is on the bench"):
        history.do(drop_variant("long uppers"))
    with pytest.raises(InputError, match="Two variants are called"):
        history.do(branch_off("As measured"))
    with pytest.raises(InputError, match="it has no name"):
        history.do(branch_off("  "))
    history.do(drop_variant("As measured"))
    while history.undo():
        pass
    assert history.job == trail_job


def test_differences_in_shop_language(trail_job: Job) -> None:
    job = move_by(UPPER, -9.525, 0.0, 31.75).apply(trail_job)
    job = choose_hole(LOWER, 1).apply(job)
    job = set_vehicle("CG", cg_height_mm=trail_job.vehicle.cg_height_mm + 25.4).apply(job)
    job = set_tire("rear", "tires", width_mm=292.1).apply(job)
    said = differences(trail_job.vehicle, job.vehicle, "us")
    assert "Rear: Upper frame ends 1 1/4 in up, 3/8 in back" in said
    assert any(s.startswith("Rear: Lower frame ends from hole 1 to hole 2") for s in said)
    assert "CG height: 29 to 30 in" in said
    assert "Rear tire width: 12 1/2 to 11 1/2 in" in said
    assert len(said) == 4
    one = move_by(UPPER, 0.0, 0.0, 25.4, both_sides=False).apply(trail_job)
    assert differences(trail_job.vehicle, one.vehicle, "us") == ["Rear: Upper left frame end 1 in up"]
    assert differences(trail_job.vehicle, starter("trail", "three_link").vehicle, "us")
    assert differences(trail_job.vehicle, trail_job.vehicle, "us") == []


def test_near_enough_is_answered_for_this_car(trail_job: Job) -> None:
    words = heights_words(trail_job, study_heights(trail_job.vehicle, trail_job.vehicle.axle("rear")))
    assert words.startswith("From 2 in lower to 2 in higher: anti-squat goes from")
    assert "out of its band as it stands" in words
    inside = set_band("anti_squat_pct", Band(low=36.0, high=90.0)).apply(trail_job)
    words = heights_words(inside, study_heights(inside.vehicle, inside.vehicle.axle("rear")))
    assert "leaves its band" in words
    wide = replace(study_heights(inside.vehicle, inside.vehicle.axle("rear"), 1.0))
    assert "nothing leaves its band" in heights_words(inside, wide)
