"""A driveline in a job: angles and slip over travel, the tail raised, what is said, refused and printed."""

import json
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation

from even_stance.cli import run
from even_stance.errors import InputError
from even_stance.exchange.demo import demo_jobs
from even_stance.exchange.jobfile import dump_job, parse_job, save_job
from even_stance.exchange.papers import PAPERS
from even_stance.judgement.driveline import alike_words, driveline_findings, guessed_powertrain
from even_stance.mechanics.statics import wind_up
from even_stance.mechanics.ujoint import chain_speed, speed_extremes
from even_stance.shop.crossmember import pieces_after_cuts
from even_stance.shop.shaftorder import order_lines, phase_words, shaft_order
from even_stance.shop.sheet import sheet
from even_stance.study.answers import answers_at, study_postures
from even_stance.study.bodies import car_solids
from even_stance.study.driveline import ends_of, front_piece_mm
from even_stance.study.evenness import even_tail
from even_stance.study.figures import study_axle
from even_stance.study.model import layout_of, linkage_of
from even_stance.study.powertrain import gap_at, gaps, most_tail, moved_with, seated, tilt_up_deg
from even_stance.study.sensitivity import with_lengths
from even_stance.study.state import car_state
from even_stance.study.threads import turn_links
from even_stance.vehicle.driveline import Mark, Powertrain, Shaft, Yoke
from even_stance.vehicle.edits import (
    raise_mounts,
    raise_tail,
    set_axle,
    set_marks,
    set_powertrain,
    set_shaft,
    set_yoke,
    with_axle,
    with_changes,
)
from even_stance.vehicle.job import Job
from even_stance.vehicle.posture import AxlePosture, CarPosture
from even_stance.vehicle.records import Point
from even_stance.vehicle.spots import Spot, power_spots
from tests.cars import shaft_at


@settings(max_examples=25)
@given(st.floats(-70.0, 70.0), st.floats(-70.0, 70.0), st.integers(0, 2))
def test_the_shaft_is_where_the_bodies_are(left: float, right: float, demo: int) -> None:
    """Length and angles again from the placed bodies of the car's state, with NumPy's own arccos."""
    job = demo_jobs()[demo]
    axle = with_changes(job.vehicle.axle("rear"), shaft=None)
    job = with_axle(job, axle)
    state = car_state(job.vehicle, [CarPosture().put("rear", AxlePosture(left, right))])
    output, pinion = (state.points[Spot("rear", "", end)][0] for end in ("output", "pinion"))
    shaft = (output - pinion) / np.linalg.norm(output - pinion)
    ends = ends_of(job.vehicle, axle)
    base = np.array(axle.pinion.at.xyz)  # type: ignore[union-attr]
    tip = state.place("rear axle", np.stack((base, base + ends.pinion_axis)))[0]
    values = shaft_at(job, left, right)
    assert values["shaft_length_mm"] == pytest.approx(np.linalg.norm(output - pinion), abs=1e-9)
    for end, axis in (("output", ends.output_axis), ("pinion", tip[1] - tip[0])):
        assert values[f"{end}_angle_deg"] == pytest.approx(np.degrees(np.arccos(min(axis @ shaft, 1.0))), abs=2e-5)
    speed = chain_speed(
        np.stack((ends.output_axis, shaft, tip[1] - tip[0])), np.zeros(1), np.linspace(0, 2 * np.pi, 3601)
    )
    assert values["shaft_variation_pct"] == pytest.approx(100 * (speed.max() - speed.min()), abs=1e-4)


def test_a_double_cardan_leaves_the_pinion_joint_alone(coupe_job: Job) -> None:
    job = set_shaft("rear", "dc", output_joint="double_cardan", double_mm=80.0).apply(coupe_job)
    values = shaft_at(job, 40.0, 40.0)
    assert values["shaft_residual_deg"] == pytest.approx(values["pinion_angle_deg"], abs=1e-9)
    plain = shaft_at(coupe_job, 40.0, 40.0)
    assert values["shaft_length_mm"] == pytest.approx(plain["shaft_length_mm"] - 80.0, abs=0.2)
    # Shaft and housing bend alike, so each half of the joint takes half of it.
    assert values["joint_limit_use_pct"] < plain["joint_limit_use_pct"] + 100 * values["output_angle_deg"] / 22.0


def test_plunge_engaged_and_room_go_with_the_length(coupe_job: Job) -> None:
    shaft = coupe_job.vehicle.axle("rear").shaft
    assert shaft is not None
    ride = shaft_at(coupe_job, 0.0, 0.0)
    for travel in (-60.0, -20.0, 35.0, 70.0):
        now = shaft_at(coupe_job, travel, travel)
        plunge = now["shaft_length_mm"] - ride["shaft_length_mm"]
        assert now["shaft_plunge_mm"] == pytest.approx(plunge, abs=1e-9)
        assert now["spline_engaged_mm"] == pytest.approx(shaft.spline_mm - shaft.pull_out_mm - plunge)
        assert now["spline_room_mm"] == pytest.approx(shaft.pull_out_mm + plunge)
    study = study_axle(coupe_job.vehicle, coupe_job.vehicle.axle("rear"), 0.0, 0.0, {})
    order = shaft_order(study)
    assert order is not None
    runs = (study.travel.sweep, study.travel.cross)
    assert order.shortest_mm == min(r.values["shaft_length_mm"].min() for r in runs)
    assert order.room_mm == pytest.approx(study.figure("spline_room_mm").value)  # type: ignore[union-attr]
    assert order.least_in_mm == pytest.approx(study.figure("spline_left_mm").value)  # type: ignore[union-attr]


@settings(max_examples=20)
@given(st.floats(-50.0, 50.0))
def test_everything_on_the_engine_tilts_as_one(rise: float) -> None:
    """SciPy turns every point about the line of the mounts; output, marks and solids are there."""
    job = raise_tail(rise).apply(demo_jobs()[1])
    power = job.vehicle.powertrain
    assert power is not None
    left, right = np.array(power.mount_left.xyz), np.array(power.mount_right.xyz)
    axis = (left - right) / np.linalg.norm(left - right)
    state = car_state(job.vehicle, [CarPosture()])
    tail = state.points[Spot("", "", "tail")][0]
    assert tail[2] - power.tail.z == pytest.approx(rise, abs=1e-9)
    arm, now = np.array(power.tail.xyz) - right, tail - right
    flat = lambda v: v - (v @ axis) * axis  # noqa: E731 - square to the axis
    angle = np.arctan2(np.cross(flat(arm), flat(now)) @ axis, flat(arm) @ flat(now))
    turn = Rotation.from_rotvec(angle * axis)
    for spot in power_spots(job.vehicle.powertrain):
        at = {m.name: m.at for m in power.marks}.get(spot.member) or getattr(power, spot.end)
        assert state.points[spot][0] == pytest.approx(right + turn.apply(np.array(at.xyz) - right), abs=1e-8)
    axle = job.vehicle.axle("rear")
    assert axle.output is not None
    base = np.array(axle.output.at.xyz)
    moved = seated(job.vehicle, axle).output
    assert moved is not None
    assert moved.at.xyz == pytest.approx(right + turn.apply(base - right), abs=1e-8)
    assert ends_of(job.vehicle, axle).output_axis == pytest.approx(
        turn.apply(ends_of(demo_jobs()[1].vehicle, axle).output_axis), abs=1e-9
    )
    assert {s.name for s in car_solids(job.vehicle)} >= {"engine", "gearbox"}


def test_gaps_close_by_what_a_point_moves_and_say_the_most_the_tail_may_rise(coupe_job: Job) -> None:
    power = coupe_job.vehicle.powertrain
    assert power is not None
    most, name = most_tail(power)
    assert most is not None
    first = next(m for m in power.marks if m.name == name)
    assert gap_at(power, first, most) == pytest.approx(first.wanted_mm, abs=1e-4)
    assert all(gap_at(power, m, most) >= m.wanted_mm - 1e-4 for m in power.marks)
    beyond = raise_tail(most + 3.0).apply(coupe_job)
    assert beyond.vehicle.powertrain is not None
    assert gaps(beyond.vehicle.powertrain)[0].mark.name == name
    assert any(f.code == f"gap {name}" for f in driveline_findings(beyond))
    assert not any(f.code.startswith("gap") for f in driveline_findings(coupe_job))


def test_the_tail_that_makes_both_ends_parallel(coupe_job: Job) -> None:
    power = coupe_job.vehicle.powertrain
    assert power is not None
    left = power.mount_left
    square = with_changes(power, mount_right=with_changes(left, y=-left.y))
    job = set_yoke("rear", "pinion", "Pinion", nose_up_deg=0.6).apply(set_powertrain(square).apply(coupe_job))
    rise = even_tail(job.vehicle, job.vehicle.axle("rear"))
    assert rise is not None
    raised = raise_tail(rise).apply(job)
    output = seated(raised.vehicle, raised.vehicle.axle("rear")).output
    assert output is not None
    assert output.nose_up_deg == pytest.approx(0.6, abs=1e-4)
    assert "cannot be told from parallel" in alike_words(raised, raised.vehicle.axle("rear"))
    assert shaft_at(raised, 0, 0)["shaft_residual_deg"] < 0.02 < shaft_at(job, 0, 0)["shaft_residual_deg"]


def test_uncertainty_of_the_angles_is_that_of_many_draws(coupe_job: Job) -> None:
    """GUM by Monte Carlo: both yokes and all mounts drawn anew, within a tenth of the +/- shown."""
    axle = coupe_job.vehicle.axle("rear")
    shown = study_axle(coupe_job.vehicle, axle, 0.0, 0.0).figure("output_angle_deg")
    assert shown is not None
    rng, found = np.random.default_rng(7), []
    for _ in range(600):
        changes = {}
        for end in ("output", "pinion"):
            yoke: Yoke = getattr(axle, end)
            x, y, z = (v + rng.normal(0, yoke.at.sure) for v in yoke.at.xyz)
            changes[end] = with_changes(
                yoke, at=with_changes(yoke.at, x=x, y=y, z=z),
                nose_up_deg=yoke.nose_up_deg + rng.normal(0, yoke.angle_sure_deg),
                left_deg=yoke.left_deg + rng.normal(0, yoke.angle_sure_deg),
            )  # fmt: skip
        job = with_axle(coupe_job, with_changes(axle, **changes))
        # Signed in side view: the angle itself cannot be negative and would lean.
        ends = ends_of(job.vehicle, job.vehicle.axle("rear"))
        line = ends.output - ends.pinion
        found.append(np.degrees(np.arcsin(ends.output_axis[2]) - np.arctan2(line[2], line[0])))
    # The car may have stood higher or lower than its ride height as well: its wheels lower or higher against the frame.
    ride = (shaft_at(coupe_job, 1.0, 1.0)["output_angle_deg"] - shaft_at(coupe_job, -1.0, -1.0)["output_angle_deg"]) / 2
    both = np.hypot(np.std(found), ride * coupe_job.vehicle.ride_sure_mm)
    assert float(both) == pytest.approx(shown.uncertainty, rel=0.1)


def test_wind_up_is_the_torque_over_the_stiffness_of_two_links(coupe_job: Job) -> None:
    """By hand: a torque alone on two level links a height apart turns the axle by M over the sum of k r^2."""
    axle = coupe_job.vehicle.axle("rear")
    found = study_postures(coupe_job.vehicle, axle, np.zeros(1), np.zeros(1))
    stiffness = np.full(found.linkage.held, 9_000.0)
    torque = np.array([[0.0, 0.0, 0.0, 0.0, -1.5e6, 0.0]])
    moved = wind_up(found.linkage, found.pose, stiffness, torque)[0]
    # What it turns by times the torque is twice the energy in the joints.
    rows = found.linkage.ride_rows[: found.linkage.held, :6]
    assert float(torque[0] @ moved) == pytest.approx(float((stiffness * (rows @ moved) ** 2).sum()), rel=1e-9)
    assert moved[4] < 0.0


@pytest.mark.parametrize(
    ("changes", "words"),
    [
        ({"pull_out_mm": 500.0}, "pulled out farther than it is long"),
        ({"tube_mm": 20.0, "wall_mm": 15.0}, "thicker than half the tube"),
        ({"output_joint": "double_cardan", "pinion_joint": "double_cardan"}, "One double-cardan joint is enough"),
        ({"limit_deg": 0.0}, "must be more than 0"),
        ({"top_rpm": -5.0}, "0 or more"),
    ],
)
def test_shafts_that_cannot_be_are_refused(coupe_job: Job, changes: dict[str, object], words: str) -> None:
    with pytest.raises(InputError, match=words):
        set_shaft("rear", "Shaft", **changes).apply(coupe_job)


def test_powertrains_that_cannot_be_are_refused(coupe_job: Job) -> None:
    power = coupe_job.vehicle.powertrain
    assert power is not None
    with pytest.raises(InputError, match="the same place"):
        set_powertrain(with_changes(power, mount_right=power.mount_left)).apply(coupe_job)
    between = with_changes(power.tail, x=-247.0, y=0.0, z=416.0)
    with pytest.raises(InputError, match="lies on the line"):
        with_changes(power, tail=between)
    with pytest.raises(InputError, match="same name"):
        set_marks("twice", (power.marks[0], power.marks[0])).apply(coupe_job)
    with pytest.raises(InputError, match="not measured yet"):
        raise_tail(5.0).apply(demo_jobs()[2])


def test_what_to_measure_first_and_what_cannot_be(coupe_job: Job) -> None:
    bare = with_axle(coupe_job, with_changes(coupe_job.vehicle.axle("rear"), output=None, pinion=None, shaft=None))
    assert [f.severity for f in driveline_findings(bare)] == ["missing"]
    assert "measure the output and pinion yoke first" in driveline_findings(bare)[0].sentence
    axle = coupe_job.vehicle.axle("rear")
    assert axle.output is not None
    same = with_axle(coupe_job, with_changes(axle, pinion=axle.output))
    assert any("are the same place" in f.sentence for f in driveline_findings(same))
    assert study_axle(same.vehicle, same.vehicle.axle("rear"), 0.0, 0.0).figure("shaft_residual_deg") is None
    behind = with_changes(axle.output, at=with_changes(axle.output.at, x=-4000.0))
    assert any(
        "far side" in f.sentence for f in driveline_findings(set_axle("rear", "o", output=behind).apply(coupe_job))
    )
    high = raise_tail(150.0).apply(set_powertrain(Powertrain(
        mount_left=Point(x=0, y=200, z=500), mount_right=Point(x=0, y=-200, z=500), tail=Point(x=-90, y=0, z=500),
    )).apply(coupe_job))  # fmt: skip
    assert any("cannot be raised so far" in f.sentence for f in driveline_findings(high))


def test_driveline_jobs_go_through_files_sheets_and_the_command_line(
    coupe_job: Job, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    job = raise_tail(12.0).apply(coupe_job)
    assert parse_job(dump_job(job)) == job
    path = tmp_path / "coupe_job.stance"
    save_job(job, path)
    assert run(["answers", str(path), "--axle", "rear", "--left", "40", "--right", "-10"]) == 0
    said = json.loads(capsys.readouterr().out)["driveline"][0]
    values = shaft_at(job, 40.0, -10.0)
    assert set(said) == {
        "name", "joints", "residual_deg", "speed_variation_pct", "length_mm", "plunge_mm", "engaged_mm", "critical_rpm",
    }  # fmt: skip
    angles = [values["output_angle_deg"], values["pinion_angle_deg"]]
    assert [j["angle_deg"] for j in said["joints"]] == pytest.approx(angles, abs=1e-6)
    assert said["residual_deg"] == pytest.approx(values["shaft_residual_deg"], abs=1e-6)
    assert said["plunge_mm"] == pytest.approx(values["shaft_plunge_mm"], abs=1e-6)
    assert PAPERS["driveshaft-order"](job).startswith(b"%PDF")
    with pytest.raises(InputError, match="no driveshaft is measured"):
        PAPERS["driveshaft-order"](with_axle(job, with_changes(job.vehicle.axle("rear"), output=None)))
    titles = [s.title for s in sheet(job) if s.group == "Driveline"]
    assert titles[-3:] == ["idler pulley", "shifter", "starter cable"]
    assert {"Left engine mount", "Gearbox mount"} <= set(titles)


def test_an_order_says_every_length(coupe_job: Job) -> None:
    study = study_axle(coupe_job.vehicle, coupe_job.vehicle.axle("rear"), 0.0, 0.0, {})
    lines = dict(order_lines(coupe_job, study))
    assert lines["Joint to joint at ride height"] == "41 in"
    assert "4 3/4 in spline, 1 in out at ride height" in lines["Slip"]
    assert order_lines(coupe_job, study_axle(demo_jobs()[2].vehicle, with_changes(
        demo_jobs()[2].vehicle.axle("rear"), output=None), 0.0, 0.0, {})) == []  # fmt: skip


def test_four_cuts_lose_half_an_inch() -> None:
    """Common practice, no source: a saw takes about 1/8 in."""
    left, fill = pieces_after_cuts(400.0, 4, 25.4)
    assert left == pytest.approx(400.0 - 12.7)
    assert fill == pytest.approx(25.4 + 12.7)


def test_a_guess_to_start_from_stands_on_three_points_of_its_own() -> None:
    for job in demo_jobs():
        power = guessed_powertrain(job)
        assert set_powertrain(power).apply(job).vehicle.powertrain == power
        assert power.tail.sure == 25.0
    assert Shaft() == Shaft.model_validate({})
    assert Mark(name="x", at=Point(x=0, y=0, z=0)).toward == "ahead"


def test_turning_the_upper_links_turns_the_pinion_with_the_axle(coupe_job: Job) -> None:
    """Links made longer in the records give the same shaft angles as the linkage solved with longer rods."""
    axle = coupe_job.vehicle.axle("rear")
    uppers = [r.name for r in layout_of(axle).rods if r.name.startswith("Upper")]
    longer = np.array([[[6.0 if r.name in uppers else 0.0 for r in layout_of(axle).rods]]])
    solved = study_postures(
        coupe_job.vehicle, axle, np.zeros(1), np.zeros(1), with_lengths(linkage_of(axle), longer)
    )  # fmt: skip
    turned = turn_links("rear", tuple(uppers), 6.0, "longer").apply(coupe_job)
    after = shaft_at(turned, 0.0, 0.0)
    assert abs(turned.vehicle.axle("rear").pinion.nose_up_deg - axle.pinion.nose_up_deg) > 0.3  # type: ignore[union-attr]
    for key in ("output_angle_deg", "pinion_angle_deg", "shaft_length_mm"):
        assert after[key] == pytest.approx(float(solved.values[key].ravel()[0]), abs=2e-3), key


def test_raised_mounts_and_tail_together_keep_the_engine_stiff(coupe_job: Job) -> None:
    """Both up by the same: the engine goes straight up by about that, and no distance on it changes."""
    power = coupe_job.vehicle.powertrain
    assert power is not None
    both = with_changes(power, tail_up_mm=20.0, mounts_up_mm=20.0)
    points = np.array([p.xyz for p in (power.mount_left, power.mount_right, power.tail, *(m.at for m in power.marks))])
    moved = moved_with(both, points)
    gaps_before, gaps_after = (np.linalg.norm(p[:, None] - p[None], axis=-1) for p in (points, moved))
    assert gaps_after == pytest.approx(gaps_before, abs=1e-8)
    assert moved[2, 2] - points[2, 2] == pytest.approx(20.0, abs=1e-6)
    assert (moved[0, 2] + moved[1, 2]) / 2 - (points[0, 2] + points[1, 2]) / 2 == pytest.approx(20.0, abs=0.1)
    assert abs(tilt_up_deg(both)) < 0.1
    job = raise_mounts(20.0).apply(coupe_job)
    assert job.vehicle.powertrain is not None
    assert tilt_up_deg(job.vehicle.powertrain) < -0.5  # the front went up: shafts point up toward the front


def test_a_carrier_multiplies_the_variation_when_it_is_off_to_the_side(coupe_job: Job) -> None:
    """The trap of the brief: a straight two-piece shaft turns evenly, the same one bent sideways at its bearing does not."""
    axle = coupe_job.vehicle.axle("rear")
    assert axle.output is not None
    assert axle.pinion is not None
    middle = [(a + b) / 2 for a, b in zip(axle.output.at.xyz, axle.pinion.at.xyz, strict=True)]

    def with_carrier(left: float) -> dict[str, float]:
        x, y, z = middle
        job = set_shaft("rear", "Carrier", carrier=Point(x=x, y=y + left, z=z)).apply(coupe_job)
        axle = job.vehicle.axle("rear")
        found = study_postures(job.vehicle, axle, np.zeros(1), np.zeros(1))
        return {k: found.value(k) for k in found.values}

    straight, aside = with_carrier(0.0), with_carrier(60.0)
    assert straight["carrier_angle_deg"] == pytest.approx(0.0, abs=1e-5)
    # A straight cross passes the turn on with its pins a quarter turn further: the two ends are then out of line by that.
    ends = ends_of(coupe_job.vehicle, axle)
    line = (ends.output - ends.pinion) / np.linalg.norm(ends.output - ends.pinion)
    high, low = speed_extremes(ends.output_axis, line, ends.pinion_axis, np.pi / 2)
    assert straight["shaft_variation_pct"] == pytest.approx(float(100 * (high - low)), abs=1e-4)
    assert straight["shaft_length_mm"] == pytest.approx(shaft_at(coupe_job, 0.0, 0.0)["shaft_length_mm"] / 2)
    assert aside["carrier_angle_deg"] == pytest.approx(np.degrees(2 * np.arctan(60.0 / 521.0)), abs=0.05)
    assert aside["shaft_variation_pct"] > 3.0 * straight["shaft_variation_pct"]
    with pytest.raises(InputError, match="single joints at all three"):
        set_shaft("rear", "x", carrier=Point(x=0, y=0, z=0), output_joint="cv").apply(coupe_job)


@pytest.mark.parametrize("phase", [25.0, -25.0, 90.0])
def test_a_yoke_is_out_of_line_the_way_that_is_said(coupe_job: Job, phase: float) -> None:
    """Seen from behind the car, right-handed about an arrow to the front is clockwise: there the pinion's yoke is turned.

    Pins are carried through both joints as vectors, and the pinion's speed is the slope of its own angle.
    """
    output, pinion = coupe_job.vehicle.axle("rear").output, coupe_job.vehicle.axle("rear").pinion
    assert output is not None
    assert pinion is not None
    job = set_axle("rear", "Askew", output=with_changes(output, left_deg=4.0, nose_up_deg=-3.0),
                   pinion=with_changes(pinion, left_deg=-3.0, nose_up_deg=6.0)).apply(coupe_job)  # fmt: skip
    job = set_shaft("rear", "Phase", phase_deg=phase).apply(job)
    axle = job.vehicle.axle("rear")
    ends = ends_of(job.vehicle, axle)
    line = (ends.output - ends.pinion) / np.linalg.norm(ends.output - ends.pinion)
    assert line[0] > 0.9  # to the front

    def square(to: np.ndarray, pin: np.ndarray) -> np.ndarray:
        other = np.cross(to, pin)
        return np.asarray(other / np.linalg.norm(other))

    turns = np.linspace(0.0, 2.0 * np.pi, 7201)
    start = square(ends.output_axis, np.array([0.0, 0.0, 1.0]))
    zero = square(ends.pinion_axis, np.array([0.0, 0.0, 1.0]))
    angles = []
    for u in turns:
        pin = Rotation.from_rotvec(u * ends.output_axis).apply(start)
        second = Rotation.from_rotvec(np.radians(phase) * line).apply(square(line, pin))
        last = square(ends.pinion_axis, second)
        angles.append(np.arctan2(np.dot(np.cross(zero, last), ends.pinion_axis), np.dot(zero, last)))
    speed = np.gradient(np.unwrap(angles), turns)[2:-2]
    said = answers_at(job.vehicle, axle, 0.0, 0.0).value("shaft_variation_pct")
    assert said == pytest.approx(100.0 * (speed.max() - speed.min()), rel=2e-3)
    other = set_shaft("rear", "Phase", phase_deg=-phase).apply(job)
    if abs(phase) < 90.0:
        there = answers_at(other.vehicle, other.vehicle.axle("rear"), 0.0, 0.0).value("shaft_variation_pct")
        assert abs(there - said) > 0.05
    way = "clockwise" if phase > 0 else "counterclockwise"
    assert phase_words(phase).endswith(f"{way}, seen from behind the car")


def test_a_shaft_in_two_pieces_has_a_phase_for_each_and_its_joint_behind_the_bearing(coupe_job: Job) -> None:
    """Both pieces' pins carried through three joints as vectors, the middle one two inches behind the bearing."""
    job = set_axle(
        "rear", "Askew", pinion=with_changes(coupe_job.vehicle.axle("rear").pinion, left_deg=-3.0, nose_up_deg=6.0)
    ).apply(coupe_job)  # type: ignore[type-var]
    ends = ends_of(job.vehicle, job.vehicle.axle("rear"))
    bearing = 0.5 * (ends.output + ends.pinion) + np.array([0.0, 40.0, 30.0])
    x, y, z = bearing.tolist()
    job = set_shaft("rear", "Two", carrier=Point(x=x, y=y, z=z), joint_behind_mm=50.8, front_phase_deg=20.0,
                    phase_deg=-35.0).apply(job)  # fmt: skip
    axle = job.vehicle.axle("rear")
    front = (ends.output - bearing) / np.linalg.norm(ends.output - bearing)
    joint = bearing - 50.8 * front
    rear = (joint - ends.pinion) / np.linalg.norm(joint - ends.pinion)
    now = answers_at(job.vehicle, axle, 0.0, 0.0)
    assert now.value("shaft_length_mm") == pytest.approx(np.linalg.norm(joint - ends.pinion))
    assert now.value("carrier_angle_deg") == pytest.approx(np.degrees(np.arccos(front @ rear)))
    assert front_piece_mm(job.vehicle, axle) == pytest.approx(np.linalg.norm(ends.output - bearing) + 50.8)

    def square(to: np.ndarray, pin: np.ndarray) -> np.ndarray:
        other = np.cross(to, pin)
        return np.asarray(other / np.linalg.norm(other))

    start, zero = (square(a, np.array([0.0, 0.0, 1.0])) for a in (ends.output_axis, ends.pinion_axis))
    turns, angles = np.linspace(0.0, 2.0 * np.pi, 7201), []
    for u in turns:
        pin = Rotation.from_rotvec(u * ends.output_axis).apply(start)
        for line, phase in ((front, 20.0), (rear, -35.0)):
            pin = Rotation.from_rotvec(np.radians(phase) * line).apply(square(line, pin))
        last = square(ends.pinion_axis, pin)
        angles.append(np.arctan2(np.dot(np.cross(zero, last), ends.pinion_axis), np.dot(zero, last)))
    speed = np.gradient(np.unwrap(angles), turns)[2:-2]
    assert now.value("shaft_variation_pct") == pytest.approx(100.0 * (speed.max() - speed.min()), rel=2e-3)
    lines = dict(order_lines(job, study_axle(job.vehicle, axle, 0.0, 0.0)))
    assert (
        lines["Yokes of the front piece"]
        == "20.0° out of line: that at the carrier clockwise, seen from behind the car"
    )
