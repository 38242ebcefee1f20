"""Springs in a job: what is refused and said, what ends the travel, where the car sits, what helps, and the command line."""

import json
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from even_stance.cli import run
from even_stance.errors import InputError, JobFileError
from even_stance.exchange.jobfile import dump_job, parse_job, save_job
from even_stance.judgement.catalog.springs import SPRINGS, SpringKey
from even_stance.judgement.springrows import (
    sits_rows,
    wanted_edit,
    wanted_rows,
)
from even_stance.judgement.springs import fit_edit, order_rows, spring_findings
from even_stance.replies.checking import check
from even_stance.study.answers import answers_at
from even_stance.study.ride import all_rides, axle_ride, car_ride, leaning
from even_stance.study.ridefigures import car_values
from even_stance.study.springs import machine_readable_springs, study_springs
from even_stance.study.springstops import stops_of
from even_stance.study.standing import stand
from even_stance.vehicle.edits import (
    change_spring,
    move_by,
    set_axle,
    set_cargo,
    take_springs_off,
    turn_collar,
)
from even_stance.vehicle.history import History
from even_stance.vehicle.job import Job
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
    carrying = [s for s in said if s["kind"] in ("coil_over", "coil", "air", "rocker") and s["rate_n_mm"]]
    assert bool(carrying) == (kind not in ("shock", "rocker_shock", "bump_stop", "strap"))
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
    assert {"frequency_hz", "roll_stiffness_nm_deg", "motion_ratio_heave", "motion_ratio_roll"} < set(
        said["axles"]["rear"]
    )
    assert set(said["car"]) >= {
        "roll_deg_per_g", "front_share_of_roll_pct", "front_share_of_transfer_pct", "front_weight_pct", "inside_lift_g", "load_transfer_n_per_g"
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
    assert any(line.state == "stop" for line in check(job).lines)


def test_an_axle_that_never_lifts_a_wheel_hides_none_of_the_other(car: Job) -> None:
    """With its roll center far below the ground the front throws weight inward; the rear lifts when it does."""
    rides = front, rear = all_rides(car.vehicle)
    by = 5000.0 * front.sprung_kg / rear.sprung_kg  # as far up as the body's own roll axis stays where it is
    low = [
        replace(front, roll_center_mm=front.roll_center_mm - 5000.0),
        replace(rear, roll_center_mm=rear.roll_center_mm + by),
    ]
    lifts = leaning(car.vehicle, low).lift_g
    assert lifts["front"] == np.inf
    assert np.isfinite(lifts["rear"])
    assert float(car_values(car.vehicle, low)["inside_lift_g"]) == lifts["rear"]
    # Many stiffnesses at once are those one by one.
    stiff = np.array([[1.0, 1.0], [1.4, 0.7]]) * [r.stiffness for r in rides]
    each = [car_values(car.vehicle, rides, row) for row in stiff]
    for key, values in car_values(car.vehicle, rides, stiff).items():
        assert values == pytest.approx([float(e[key]) for e in each])


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


def test_a_posture_that_a_rocker_cannot_follow_says_what_it_can(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    """From the command line: no length and nothing that follows from it, no fault; the other spring is there whole."""
    job = sprung("three_link", "rocker")
    for side in ("left", "right"):
        spot, pivot = (Spot("rear", f"Cantilever {side}", end) for end in ("push_top", "pivot"))
        at, near = point_of(job, spot), point_of(job, pivot)
        job = move_by(spot, near.x + 15.0 - at.x, 0.0, near.z + 60.0 - at.z, both_sides=False).apply(job)
    path = tmp_path / "rocker.stance"
    save_job(job, path)
    assert run(["answers", str(path), "--axle", "rear", "--left", "85", "--right", "85"]) == 0
    said = json.loads(capsys.readouterr().out)["springs"]
    assert len(said) == 2
    assert all({"name", "side"} <= set(s) and "length_mm" not in s and "motion_ratio" not in s for s in said)
    assert run(["answers", str(path), "--axle", "rear"]) == 0
    assert all("length_mm" in s for s in json.loads(capsys.readouterr().out)["springs"])
