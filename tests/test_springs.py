"""Springs in a job: what is refused and said, what ends the travel, where the car sits, what helps, and the command line."""

import json
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.integrate import quad
from scipy.interpolate import CubicHermiteSpline

from even_stance.cli import checked, run
from even_stance.errors import InputError, JobFileError
from even_stance.exchange.jobfile import dump_job, parse_job, save_job
from even_stance.judgement.catalog.springs import SPRINGS, SpringKey
from even_stance.judgement.explain import explain
from even_stance.judgement.search.choosing import Wish, choose
from even_stance.judgement.search.springfinder import solve_mount, spring_holes
from even_stance.judgement.search.suggestions import advise
from even_stance.judgement.springrows import (
    air_rows,
    bar_for_share,
    jack_rate,
    leaf_rows,
    roll_rows,
    sits_rows,
    stroke_rows,
    wanted_edit,
    wanted_rows,
)
from even_stance.judgement.springs import fit_edit, order_rows, spring_findings
from even_stance.judgement.verdicts import judge
from even_stance.mechanics.coils import leaf_pack_rate
from even_stance.mechanics.crossings import crossings
from even_stance.mechanics.leaf import main_leaf_eye
from even_stance.study.answers import answers_at
from even_stance.study.figures import study_axle
from even_stance.study.leaves import leaves_over_travel
from even_stance.study.loads import study_loads
from even_stance.study.mountmap import mount_map
from even_stance.study.ride import axle_ride, car_ride
from even_stance.study.ridefigures import ride_figures
from even_stance.study.springs import leaf_hold, machine_readable_springs, study_springs
from even_stance.study.springstops import stops_of
from even_stance.study.standing import stand
from even_stance.vehicle.edits import (
    change_spring,
    move_by,
    set_axle,
    set_cargo,
    set_holes,
    set_members,
    take_springs_off,
    turn_collar,
    with_changes,
)
from even_stance.vehicle.history import History
from even_stance.vehicle.job import Job
from even_stance.vehicle.members import LeafPack
from even_stance.vehicle.spots import Spot, point_of, spots_on, twin_of
from even_stance.vehicle.springs import Cargo, CoilOver, Rocker, SwayBar
from tests.validation.test_springs import sprung

BOTH = ("front", "rear")


@pytest.fixture
def car() -> Job:
    """A weighed car on coil-overs with stops, straps and a bar at both ends."""
    return sprung("three_link", "coil_over", "bump_stop", "strap", "sway_bar", axles=BOTH)


@pytest.mark.parametrize("kind", SPRINGS)
def test_every_start_fits_its_axle(kind: SpringKey) -> None:
    """Put on from a guess, everything reaches through the travel, carries the weight, mirrors, and survives the file."""
    kinds: tuple[SpringKey, ...] = ("coil_over", kind) if kind in ("sway_bar", "bar_on_axle") else (kind,)
    job = sprung("three_link", *kinds)
    axle = job.vehicle.axle("rear")
    assert parse_job(dump_job(job), "x") == job
    run_ = stops_of(job.vehicle, axle)
    assert run_ is not None
    inside = (run_.travel >= -axle.droop_mm) & (run_.travel <= axle.bump_mm)
    for spring in run_.runs:
        assert np.isfinite(spring.length[inside]).all()
    hard = [s for s in run_.stops if s.what in ("closed", "open", "bind", "center")]
    assert all(not -axle.droop_mm < s.travel_mm < axle.bump_mm for s in hard if s.name.split()[0] != "Coil")
    said = machine_readable_springs(job.vehicle, axle, answers_at(job.vehicle, axle, 0.0, 0.0))["springs"]
    carrying = [s for s in said if s["kind"] in ("coil_over", "coil", "air", "rocker")]
    if carrying:
        ride = axle_ride(job.vehicle, axle)
        assert ride is not None
        assert ride.springs.push[0].sum() == pytest.approx((axle.load_kg - axle.unsprung_kg) * 9.80665, rel=0.04)
        assert carrying[0]["motion_ratio"] == pytest.approx(carrying[1]["motion_ratio"], rel=1e-3)
    for spot in spots_on(axle):
        if any(s.name == spot.member for s in axle.springs):
            twin = twin_of(job, spot)
            assert twin is not None
            a, b = point_of(job, spot), point_of(job, twin)
            assert (a.x, a.y, a.z) == pytest.approx((b.x, -b.y, b.z))


def test_the_fixed_keys_of_answers_and_ride(car: Job, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    """From the command line, at a posture and as a whole; wheel rate is k MR^2 and F dMR/dz together."""
    path = tmp_path / "car.stance"
    save_job(car, path)
    assert run(["answers", str(path), "--axle", "rear", "--left", "30", "--right", "-10"]) == 0
    springs = json.loads(capsys.readouterr().out)["springs"]
    one = next(s for s in springs if s["name"] == "Coil-over left")
    assert {"name", "side", "length_mm", "force_n", "motion_ratio", "wheel_rate_n_mm", "rate_n_mm", "to_closed_mm",
            "to_open_mm"} <= set(one)  # fmt: skip
    assert one["wheel_rate_n_mm"] == pytest.approx(one["wheel_rate_spring_n_mm"] + one["wheel_rate_geometry_n_mm"])
    assert one["wheel_rate_spring_n_mm"] == pytest.approx(one["rate_n_mm"] * one["motion_ratio"] ** 2)
    part = car.vehicle.axle("rear").part("Coil-over left")
    assert isinstance(part, CoilOver)
    assert one["to_closed_mm"] + one["to_open_mm"] == pytest.approx(part.open_mm - part.closed_mm)
    assert one["force_n"] == pytest.approx(part.coil.rate_n_mm * (part.coil.free_mm + part.seats_mm - one["length_mm"]))
    assert run(["ride", str(path)]) == 0
    said = json.loads(capsys.readouterr().out)
    assert set(said["axles"]) == {"front", "rear"}
    assert {"frequency_hz", "roll_stiffness_nm_deg", "motion_ratio_heave", "motion_ratio_roll"} == set(
        said["axles"]["rear"]
    )
    assert set(said["car"]) == {
        "roll_deg_per_g", "front_share_of_roll_pct", "inside_lift_g", "load_transfer_n_per_g"
    }  # fmt: skip
    assert said["car"]["roll_deg_per_g"] == pytest.approx(car_ride(car.vehicle).roll_deg)


def test_ride_says_what_is_lacking(car: Job, tmp_path: Path) -> None:
    """One sentence each, and nothing on standard output: no springs in front; no weights; too soft to stand."""
    bare = set_axle("front", "Bare", springs=()).apply(car)
    light = set_axle("rear", "Unweighed", load_kg=0.0, unsprung_kg=0.0).apply(car)
    soft = car
    for key in BOTH:
        soft = take_springs_off(key, ("Sway bar",)).apply(soft)
        soft = change_spring(key, "Coil-over left", "Coil", inner="coil", rate_n_mm=0.5).apply(soft)
    for job, words in ((bare, "Front axle springs: are not entered"), (light, "Rear axle weight: is not entered"),
                       (soft, "stand upright")):  # fmt: skip
        path = tmp_path / "lacking.stance"
        save_job(job, path)
        with pytest.raises(InputError, match=words):
            run(["ride", str(path)])


@pytest.mark.parametrize(
    ("changes", "words"),
    [
        ({"rate_n_mm": -5.0}, "Rate: must be more than 0"), ({"free_mm": 100.0, "solid_mm": 150.0}, "closed solid is shorter"),
        ({"open_mm": 300.0, "closed_mm": 299.0}, "longer open than closed"), ({"seats_mm": -1.0}, "Eye to eye, not coil: must be 0 or more"),
        ({"crossover_mm": 30.0}, "upper coil"), ({"on": "Nothing"}, "no link of this axle"),
    ],
)  # fmt: skip
def test_wrong_input_is_one_sentence(car: Job, changes: dict[str, Any], words: str) -> None:
    """Negative rates, a shock shorter open than closed, a stop without a coil: said, and the job is as it was."""
    inner = "coil" if {"rate_n_mm", "free_mm"} & set(changes) else ""
    history = History(car)
    with pytest.raises(InputError) as refused:
        history.do(change_spring("rear", "Coil-over left", "Change", inner=inner, **changes))
    assert str(refused.value).count("\n") == 0
    assert any(word in str(refused.value) for word in words.split("|")), str(refused.value)
    assert history.job == car


def test_a_file_with_a_spring_on_no_link_is_refused(car: Job) -> None:
    text = dump_job(car).replace('"on": "axle"', '"on": "Ghost"', 1)
    with pytest.raises(JobFileError, match="Ghost"):
        parse_job(text, "car")


def test_what_ends_the_travel_in_order_and_lengths_that_help(car: Job) -> None:
    """Without stop and strap the shock ends the travel: said. Lengths offered make them come first, with half an inch."""
    bare = take_springs_off("rear", ("Bump stop left", "Bump stop right", "Strap left", "Strap right")).apply(car)
    short = change_spring("rear", "Coil-over left", "Shock", open_mm=520.0, closed_mm=440.0).apply(bare)
    found = [f for f in spring_findings(short) if f.axle == "rear" and f.severity == "stop"]
    assert {f.code for f in found} >= {"springs stops-bump", "springs stops-droop"}
    assert all("before full" in f.sentence for f in found if f.code.startswith("springs stops"))
    job = change_spring("rear", "Coil-over left", "Shock", open_mm=520.0, closed_mm=440.0).apply(car)
    axle = job.vehicle.axle("rear")
    run_ = stops_of(job.vehicle, axle)
    assert run_ is not None
    edit = fit_edit(run_, axle)
    assert edit is not None
    after = edit.apply(job)
    fitted = stops_of(after.vehicle, after.vehicle.axle("rear"))
    assert fitted is not None
    for way in ("bump", "droop"):
        first, before = fitted.first(way), run_.first(way)  # type: ignore[arg-type]
        assert first is not None
        assert before is not None
        assert first.what in ("solid", "tight")
        hard = next(s for s in fitted.order(way) if s.what in ("closed", "open"))  # type: ignore[arg-type]
        assert 9.0 < abs(hard.travel_mm) - abs(first.travel_mm) < 24.0
        assert any("ends it" in words for _, words in order_rows(after, fitted, after.vehicle.axle("rear"), way))  # type: ignore[arg-type]
    never = change_spring("rear", "Strap left", "Strap", length_mm=2000.0).apply(job)
    never = change_spring("rear", "Coil-over left", "Shock", open_mm=2000.0).apply(never)
    assert any("never come tight" in f.sentence for f in spring_findings(never))


def test_stops_are_where_the_lengths_are_met(car: Job) -> None:
    """At the travel that is said, solved for itself, the spring is as long as it is said to be then."""
    axle = car.vehicle.axle("rear")
    run_ = stops_of(car.vehicle, axle)
    assert run_ is not None
    checked_ = 0
    for stop in run_.stops:
        if stop.length_mm is None:
            continue
        at = answers_at(car.vehicle, axle, stop.travel_mm, stop.travel_mm)
        spring = study_springs(car.vehicle, axle, at, second=False).run(stop.name)
        assert spring is not None
        assert float(spring.length[0]) == pytest.approx(stop.length_mm, abs=0.01)
        checked_ += 1
    assert checked_ > 6


def test_a_rocker_over_center_is_told(car: Job) -> None:
    """A pushrod that comes into line with its rocker's arm within the travel: said with the place where."""
    job = sprung("three_link", "rocker")
    part = job.vehicle.axle("rear").part("Cantilever left")
    assert isinstance(part, Rocker)
    x, z = part.pivot.at.x, part.pivot.at.z
    for side in ("left", "right"):
        spot = Spot("rear", f"Cantilever {side}", "push_top")
        at = point_of(job, spot)
        job = move_by(spot, x + 15.0 - at.x, 0.0, z + 60.0 - at.z, both_sides=False).apply(job)
    said = [f for f in spring_findings(job) if f.short == "over center"]
    assert said
    assert "goes over center at" in said[0].sentence


def test_collars_and_pressure_bring_it_to_ride_height(car: Job) -> None:
    """With tools aboard it sits low at the rear; the turns that are offered bring it back to the drawing."""
    job = set_cargo("Tools", (Cargo(name="tools", mass_kg=110.0, behind_front_mm=3100.0),)).apply(car)
    low = stand(job.vehicle)
    assert min(low.travel("rear")) > 5.0
    for _ in range(3):
        for key in BOTH:
            edit = wanted_edit(job, job.vehicle.axle(key))
            assert edit is not None
            job = edit.apply(job)
    assert stand(job.vehicle).travel("rear") == pytest.approx((0.0, 0.0), abs=0.2)
    assert stand(job.vehicle).travel("front") == pytest.approx((0.0, 0.0), abs=0.2)
    assert "as it is" in dict(wanted_rows(job, job.vehicle.axle("rear")))["Coil-over left"]
    assert len(sits_rows(job)) == 4


def test_a_turned_collar_moves_cross_weight(car: Job) -> None:
    """One collar down: its corner and the one across carry more; the whole weight is what it was."""
    before = stand(car.vehicle)
    after = stand(turn_collar("front", "Coil-over left", 6.0, both=False).apply(car).vehicle)
    assert after.cross_pct > before.cross_pct + 0.3
    assert after.load("front")[0] > before.load("front")[0]
    assert after.load("rear")[1] > before.load("rear")[1]
    assert sum(c.load_n for c in after.corners) == pytest.approx(sum(c.load_n for c in before.corners))


def test_springs_that_cannot_carry_are_told(car: Job) -> None:
    """Coils far too short come loose before they hold anything: one finding, and everything else still works."""
    bare = take_springs_off("rear", ("Bump stop left", "Bump stop right")).apply(car)
    job = change_spring("rear", "Coil-over left", "Coil", inner="coil", free_mm=150.0, solid_mm=60.0).apply(bare)
    assert any(f.short == "do not carry it" for f in spring_findings(job))
    assert any("cannot carry" in " ".join(row) or "locks up" in " ".join(row) for row in sits_rows(job))
    assert any(line.state == "stop" for line in checked(job))


def test_bar_twists_more_than_the_body_rolls(car: Job) -> None:
    """Two to three times the body's roll is common (no source); alone it holds no heave, and with both wheels up no twist."""
    axle = car.vehicle.axle("rear")
    z = 20.0
    rolled = study_springs(car.vehicle, axle, answers_at(car.vehicle, axle, z, -z)).run("Sway bar")
    assert rolled is not None
    body = np.degrees(np.arctan(2.0 * z / axle.track_mm))
    assert 1.5 < abs(np.degrees(float(rolled.length[0]))) / body < 5.0
    level = study_springs(car.vehicle, axle, answers_at(car.vehicle, axle, z, z)).run("Sway bar")
    assert level is not None
    assert abs(np.degrees(float(level.length[0]))) < 0.2
    part = axle.part("Sway bar")
    assert isinstance(part, SwayBar)
    ride = axle_ride(car.vehicle, axle)
    thick = change_spring("rear", "Sway bar", "Bar", bar_mm=part.bar_mm * 1.2, arm_mm=part.arm_mm * 1.2).apply(car)
    more = axle_ride(thick.vehicle, thick.vehicle.axle("rear"))
    assert ride is not None
    assert more is not None
    assert more.bar_stiffness / ride.bar_stiffness == pytest.approx(1.2**4, rel=1e-6)


@settings(max_examples=25, deadline=None)
@given(st.floats(-60.0, 60.0), st.floats(-60.0, 60.0))
def test_a_mirrored_posture_is_a_mirrored_axle(left: float, right: float) -> None:
    """What the left springs do at a posture the right ones do at its mirror image, on a layout that is one."""
    job = _MIRRORED
    axle = job.vehicle.axle("rear")
    one = study_springs(job.vehicle, axle, answers_at(job.vehicle, axle, left, right))
    other = study_springs(job.vehicle, axle, answers_at(job.vehicle, axle, right, left))
    assert one.push[0] == pytest.approx(other.push[0][::-1], rel=1e-7, abs=1e-4)
    assert one.rates[0] == pytest.approx(other.rates[0][::-1, ::-1], rel=1e-4, abs=1e-3)
    assert one.rates[0] == pytest.approx(one.rates[0].T, rel=1e-5, abs=1e-4)


_MIRRORED = sprung("double_triangulated", "coil_over", "sway_bar")


def test_leaves_count_by_their_pack_and_hold_what_is_left(car: Job) -> None:
    """A leaf's rate by its leaves is SAE's sum; what leaves carry at ride height is the weight less what others do."""
    job = sprung("leaf")
    axle = job.vehicle.axle("rear")
    assert leaf_hold(job.vehicle, axle).sum() == pytest.approx((axle.load_kg - axle.unsprung_kg) * 9.80665)
    pack = LeafPack(leaves=6, thick_mm=6.5)
    job = set_members("rear", ["Leaf left", "Leaf right"], "Leaves", pack=pack, rate_n_mm=40.0).apply(job)
    rows = leaf_rows(job, job.vehicle.axle("rear"))
    assert any("by its leaves" in title for title, _ in rows)
    more, less = (leaf_pack_rate(1300.0, clamp, 6, 63.5, 6.5, 1.1) for clamp in (200.0, 100.0))
    assert more / less == pytest.approx((1200.0 / 1100.0) ** 3)
    ride = axle_ride(job.vehicle, job.vehicle.axle("rear"))
    assert ride is not None
    assert ride.frequency_hz is not None
    assert 0.5 < ride.frequency_hz < 4.0


def test_three_heights_of_air() -> None:
    """Driven and raised take pressure, the lowest stands on its inner stops."""
    job = sprung("three_link", "air")
    heights = with_changes(job.measuring.heights, air=True, raise_mm=40.0, lower_mm=106.0)
    job = with_changes(job, measuring=with_changes(job.measuring, heights=heights))
    rows = dict(air_rows(job, job.vehicle.axle("rear")))
    assert set(rows) == {"Driven height", "Raised height", "Lowest height"}
    assert "internal stop" in rows["Lowest height"]
    assert "psi" in rows["Driven height"]


def test_suggestions_bring_a_number_in_and_explanations_name_mounts(car: Job) -> None:
    """A rear axle that sits low: collars come first; what moves the motion ratio is a mount of the spring."""
    job = set_cargo("Tools", (Cargo(name="tools", mass_kg=160.0, behind_front_mm=3000.0),)).apply(car)
    study = study_axle(job.vehicle, job.vehicle.axle("rear"), 0.0, 0.0)
    verdict = next(v for v in judge(job, study) if v.figure.key == "sits_off_mm")
    assert verdict.state == "low"
    advice = advise(job, study, "sits_off_mm")
    assert advice.suggestions
    assert advice.suggestions[0].brings_in
    assert "collar" in advice.suggestions[0].words
    after = advice.suggestions[0].edit.apply(job)
    again = study_axle(after.vehicle, after.vehicle.axle("rear"), 0.0, 0.0, {})
    told = advice.suggestions[0].change.after
    now = next(f for f in ride_figures(after.vehicle, again, {}) if f.key == "sits_off_mm")
    assert now.value == pytest.approx(told)
    why = explain(job, study, "motion_ratio_x")
    assert why is not None
    assert any("Coil-over" in m.words for m in why.movers)
    assert why.formula.source


def test_uncertainty_is_what_a_moved_mount_does(car: Job) -> None:
    """The +/- of a stroke is that of its two mounts along the spring, and of the tape on the shock."""
    study = study_axle(car.vehicle, car.vehicle.axle("rear"), 0.0, 0.0, {})
    figure = next(f for f in ride_figures(car.vehicle, study) if f.key == "stroke_bump_mm")
    name = figure.note.split(",")[0]
    part = car.vehicle.axle("rear").part(name)
    expected = np.sqrt(part.mounts["top"].at.sure ** 2 + part.mounts["bottom"].at.sure ** 2 + 1.5875**2)
    assert figure.uncertainty == pytest.approx(expected, rel=0.02)


def test_coils_to_buy_are_near_the_wish(car: Job) -> None:
    """In steps of 5 N/mm and 25 mm: the best is near the wish, and put on gives the frequency that was promised."""
    axle = car.vehicle.axle("rear")
    choices = choose(car, axle, "Coil-over left", Wish(1.8, 5.0, 25.0))
    best = choices[0]
    assert abs(best.frequency_hz - 1.8) < 0.15
    for choice in choices:
        assert choice.rate_n_mm % 5.0 == pytest.approx(0.0, abs=1e-9)
        assert choice.free_mm % 25.0 == pytest.approx(0.0, abs=1e-9)
    after = best.edit.apply(car)
    ride = axle_ride(after.vehicle, after.vehicle.axle("rear"))
    assert ride is not None
    assert ride.frequency_hz == pytest.approx(best.frequency_hz, rel=0.03)
    assert -sum(stand(after.vehicle).travel("rear")) / 2 == pytest.approx(best.off_mm, abs=3.0)
    with pytest.raises(InputError, match="more than nothing"):
        choose(car, axle, "Coil-over left", Wish(1.8, 0.0, 25.0))
    with pytest.raises(InputError, match="no coil"):
        choose(car, axle, "Strap left", Wish(1.8, 5.0, 25.0))


def test_the_map_says_what_a_moved_mount_does(car: Job) -> None:
    """At a place of the map, mounts really moved there give what it says."""
    axle = car.vehicle.axle("rear")
    found = mount_map(car.vehicle, axle, ("Coil-over left", "Coil-over right"))
    assert found is not None
    i, j = 9, 3
    lower, upper = float(found.lower_mm[j]), float(found.upper_mm[i])
    job = car
    for end, out in (("bottom", lower), ("top", upper)):
        spot = Spot("rear", "Coil-over left", end)
        job = move_by(spot, 0.0, out - point_of(job, spot).y, 0.0).apply(job)
    ride = axle_ride(job.vehicle, job.vehicle.axle("rear"))
    assert ride is not None
    assert found.ratio[i, j] == pytest.approx(ride.motion_ratios[0], rel=1e-9)
    assert found.stiffness[i, j] == pytest.approx(ride.stiffness, rel=1e-6)
    assert found.at(lower, upper)[0] == pytest.approx(float(found.ratio[i, j]))


def test_loads_use_the_springs_where_they_are(car: Job) -> None:
    """Leaned coil-overs push along themselves and the links hold the rest; a corner moves what roll stiffness says."""
    axle = car.vehicle.axle("rear")
    answers = answers_at(car.vehicle, axle, 0.0, 0.0)
    standing = study_loads(car.vehicle, answers, car.loads, "standing")
    assert standing.at_mounts
    part = axle.part("Coil-over left")
    a, b = (np.array(part.mounts[e].at.xyz) for e in ("top", "bottom"))
    upright = abs((a - b)[2]) / np.linalg.norm(a - b)
    carried = (axle.load_kg - axle.unsprung_kg) * 9.80665 / 2
    assert standing.springs[0] * upright == pytest.approx(carried, rel=0.05)
    corner = study_loads(car.vehicle, answers, car.loads, "cornering")
    assert "roll stiffness" in corner.words
    assert corner.springs[1] > standing.springs[1] > corner.springs[0]
    bare = set_axle("rear", "Bare", springs=()).apply(car)
    assert not study_loads(bare.vehicle, answers_at(bare.vehicle, bare.vehicle.axle("rear"), 0.0, 0.0), bare.loads,
                           "standing").at_mounts  # fmt: skip


def test_mounts_of_springs_are_points_like_all_others(car: Job) -> None:
    """Moved with their twin, drilled, measured on the sheet, and put back by undo."""
    spot = Spot("rear", "Coil-over left", "bottom")
    history = History(car)
    before = point_of(car, Spot("rear", "Coil-over right", "bottom"))
    assert history.do(move_by(spot, 0.0, -25.0, 0.0))
    assert point_of(history.job, Spot("rear", "Coil-over right", "bottom")).y == pytest.approx(before.y + 25.0)
    assert history.do(set_holes(spot, 3, 25.4))
    assert history.undo()
    assert history.undo()
    assert history.job == car
    rows = roll_rows(car)
    assert any(title.startswith("Rear axle, if its springs stood at the tires") for title, _ in rows)


def test_a_spring_on_a_link_goes_along_with_it() -> None:
    """Its lower end is as far from the link's both ends as ever, and its motion ratio about that share of the wheel's."""
    job = sprung("three_link", "coil_over")
    axle = job.vehicle.axle("rear")
    rod = next(m for m in axle.members if m.name == "Lower left")
    a, b = (np.array(m.at.xyz) for m in rod.mounts.values())
    where = a + 0.7 * (b - a)
    spot = Spot("rear", "Coil-over left", "bottom")
    at = point_of(job, spot)
    job = move_by(spot, where[0] - at.x, where[1] - at.y, where[2] - at.z).apply(job)
    for side in ("left", "right"):
        edit = change_spring("rear", f"Coil-over {side}", "On the link", both=False, on=f"Lower {side}")
        job = edit.apply(job)
    axle = job.vehicle.axle("rear")
    found = study_springs(job.vehicle, axle, answers_at(job.vehicle, axle, 0.0, 0.0)).run("Coil-over left")
    assert found is not None
    part = axle.part("Coil-over left")
    top = np.array(part.mounts["top"].at.xyz)
    upright = abs(((top - where) / np.linalg.norm(top - where))[2])
    assert float(found.motion_ratio[0]) == pytest.approx(0.7 * upright, abs=0.08)
    figures = {f.key: f for f in ride_figures(job.vehicle, study_axle(job.vehicle, axle, 0.0, 0.0, {}))}
    assert 0.0 < figures["motion_ratio_x"].uncertainty < 0.1


def test_holes_and_places_are_found(car: Job) -> None:
    """Of all holes of a bracket the best by all numbers comes first; a mount is found that gives a wanted ratio."""
    spot = Spot("rear", "Coil-over left", "bottom")
    with pytest.raises(InputError, match="no bracket"):
        spring_holes(car, "rear")
    job = set_holes(spot, 3, 25.4).apply(car)
    found = spring_holes(job, "rear")
    assert len(found) == 3
    assert [f.off for f in found] == sorted(f.off for f in found)
    after = found[-1].edit.apply(job)
    study = study_axle(after.vehicle, after.vehicle.axle("rear"), 0.0, 0.0, {})
    assert {f.key: f.value for f in ride_figures(after.vehicle, study, {})} == pytest.approx(found[-1].values)
    assert len(spring_holes(job, "rear", stopped=lambda: True)) == 0
    top = Spot("rear", "Coil-over left", "top")
    solved = solve_mount(car, top, "motion_ratio_x", 0.88, 200.0)
    assert solved.reached
    assert solved.value == pytest.approx(0.88, abs=0.01)
    moved = solved.edit.apply(car)
    ride = axle_ride(moved.vehicle, moved.vehicle.axle("rear"))
    assert ride is not None
    assert ride.motion_ratios[0] == pytest.approx(solved.value)
    assert not solve_mount(car, top, "motion_ratio_x", 0.2, 20.0).reached
    with pytest.raises(InputError, match="less than none"):
        solve_mount(car, top, "motion_ratio_x", 0.9, 0.0)


def test_crossings_are_those_of_scipys_cubics() -> None:
    """Roots of the same Hermite cubics by SciPy."""
    x = np.linspace(-90.0, 90.0, 31)
    y = 300.0 + 40.0 * np.sin(x / 17.0) - 1.1 * x
    slope = 40.0 / 17.0 * np.cos(x / 17.0) - 1.1
    for level in (260.0, 300.0, 330.0, 390.0, 900.0):
        theirs = CubicHermiteSpline(x, y - level, slope).roots(extrapolate=False)
        assert crossings(x, y - level, slope) == pytest.approx(np.sort(theirs), abs=1e-9)


def test_a_main_leaf_keeps_its_length_and_its_shackle_follows() -> None:
    """At every seat the eye is a shackle away from its pivot, and the leaf as long along its bend as at ride height."""
    fixed, seat, eye, pivot = (np.array(p) for p in ((-660.0, 520.0), (0.0, 430.0), (660.0, 520.0), (640.0, 650.0)))
    seats = seat + np.stack((np.zeros(9), np.linspace(-60.0, 80.0, 9)), axis=-1)
    at = main_leaf_eye(fixed, seat, eye, pivot, seats)
    assert np.linalg.norm(at - pivot, axis=1) == pytest.approx(np.linalg.norm(eye - pivot))

    def along(s: np.ndarray, e: np.ndarray) -> float:  # type: ignore[type-arg]
        """Length of half the leaf: a parabola from the seat to the eye, its slope nil at the seat, integrated."""
        chord = (e - fixed) / np.linalg.norm(e - fixed)
        off = abs(chord[0] * (s - fixed)[1] - chord[1] * (s - fixed)[0])
        flat = np.sqrt(np.linalg.norm(e - s) ** 2 - off**2)
        return float(quad(lambda x: np.sqrt(1.0 + (2.0 * off * x / flat**2) ** 2), 0.0, flat)[0])

    for s, e in zip(seats, at, strict=True):
        assert along(s, e) == pytest.approx(along(seat, eye), abs=0.35)
    assert np.isnan(main_leaf_eye(fixed, seat, eye, pivot, seat[None] + np.array([[0.0, -400.0]]))).all()
    job = sprung("leaf")
    axle = set_axle("rear", "Far", droop_mm=260.0).apply(job).vehicle.axle("rear")
    told = leaves_over_travel(job.vehicle, axle)
    assert all(t.reaches_to is not None and t.reaches_to < -60.0 for t in told)


def test_rates_by_jack_and_bars_by_share(car: Job) -> None:
    """Scales over movement is the rate; the bar that is offered for a share gives it."""
    job = sprung("leaf")
    leaf = next(m for m in job.vehicle.axle("rear").members if m.kind == "leaf")
    after = jack_rate(job, "rear", leaf.name, 100.0, 25.0).apply(job)
    assert after.vehicle.axle("rear").member(leaf.name).rate_n_mm == pytest.approx(100.0 * 9.80665 / 25.0)  # type: ignore[union-attr]
    with pytest.raises(InputError, match="no difference"):
        jack_rate(job, "rear", leaf.name, 0.0, 25.0)
    words, thick = bar_for_share(car, car.vehicle.axle("front"), 66.0)
    assert "66 %" in words
    part = car.vehicle.axle("front").part("Sway bar")
    assert isinstance(part, SwayBar)
    ratio = thick / part.bar_mm
    fitted = change_spring("front", "Sway bar", "Bar", bar_mm=thick, arm_mm=part.arm_mm * ratio).apply(car)
    assert car_ride(fitted.vehicle).front_share_pct == pytest.approx(66.0, abs=0.05)
    with pytest.raises(InputError, match="between 0 and 100"):
        bar_for_share(car, car.vehicle.axle("front"), 130.0)
    run_ = stops_of(car.vehicle, car.vehicle.axle("rear"))
    assert run_ is not None
    rows = dict(stroke_rows(car, run_))
    assert "at the wheel" in rows["Coil-overs"]
