"""What is said, against job files that were once answered wrongly: never better than what is known."""

import json
import random
from collections.abc import Iterator
from pathlib import Path

import numpy as np
import pytest
from scipy.spatial.transform import Rotation

from even_stance.errors import StanceError
from even_stance.exchange.demo import demo_jobs
from even_stance.exchange.jobfile import dump_job, load_job, parse_job
from even_stance.judgement.bands import wanted
from even_stance.judgement.build import link_verdicts
from even_stance.judgement.catalog.springs import starting_springs
from even_stance.judgement.shaftbands import pinion_above_line_deg
from even_stance.judgement.springs import spring_findings
from even_stance.judgement.standards import STANDARDS
from even_stance.judgement.steerrows import ram_rows
from even_stance.judgement.verdicts import Verdict, judge
from even_stance.replies.checking import check
from even_stance.study.answers import answers_at, study_postures
from even_stance.study.clearances import study_axle_gaps
from even_stance.study.cutlist import cut_list, tube_kg_per_m
from even_stance.study.figures import study_axle
from even_stance.study.ride import machine_readable_ride
from even_stance.study.springs import bind_mm
from even_stance.study.springstops import stops_of
from even_stance.study.springunits import units_of
from even_stance.study.steeranswers import machine_readable_steer
from even_stance.study.steerfigures import lock_of, mechanism_of
from even_stance.study.steering import axle_line
from even_stance.study.steerloads import rod_loads
from even_stance.study.strength import study_strength, tube_figures
from even_stance.units import format_length
from even_stance.vehicle.build import BuildSheet, Tube
from even_stance.vehicle.edits import add_springs, set_axle, set_shaft, with_changes
from even_stance.vehicle.job import Job
from even_stance.vehicle.things import Block, Thing

SAID = Path(__file__).parent / "fixtures" / "said"


def said(name: str) -> Job:
    """A job file that was once answered wrongly."""
    return load_job(SAID / f"{name}.stance")[0]


def verdict(job: Job, axle: str, key: str) -> Verdict:
    """What is said of one number at ride height."""
    return next(v for v in judge(job, study_axle(job.vehicle, job.vehicle.axle(axle), 0.0, 0.0)) if v.figure.key == key)


def test_a_lower_coil_that_closes_first_is_a_rigid_strut() -> None:
    """Two coils of 35 and 60 N/mm: the lower is solid after 50 mm, at 1,750 N; the upper alone goes on from there."""
    job = said("lower-coil-binds")
    unit = next(u for u in units_of(job.vehicle.axle("rear")) if u.name == "Coil-over left")
    free = 200.0 + 200.0 + 100.0
    solid = free - 50.0 - 1750.0 / 60.0
    assert bind_mm(unit.part) == pytest.approx(solid)
    force, rate = unit.law(np.array([solid + 0.01, solid - 10.0]))
    assert force.tolist() == pytest.approx([1750.0 - 0.01 * 2100.0 / 95.0, 1750.0 + 600.0])
    assert rate.tolist() == pytest.approx([2100.0 / 95.0, 60.0])
    found = verdict(job, "rear", "bind_margin_mm")
    assert found.state == "low"
    assert "A coil closes before the bump ends" in found.sentence
    assert any("close their coils" in f.sentence and f.severity == "stop" for f in spring_findings(job))


def test_a_shock_with_some_stroke_left_is_not_said_to_bottom() -> None:
    found = verdict(said("stroke-left"), "rear", "stroke_bump_mm")
    assert found.state == "low"
    assert found.figure.value == pytest.approx(6.0, abs=0.1)
    assert "bottoms" not in found.sentence
    assert "Less is left" in found.sentence
    short = verdict(said("right-coil-loose"), "rear", "stroke_droop_mm")
    assert short.figure.value < 0.0
    assert "comes to its end before the droop does" in short.sentence


def test_the_side_that_comes_loose_first_is_named_with_travel_and_not_spring_length() -> None:
    job = said("right-coil-loose")
    axle = job.vehicle.axle("rear")
    run = stops_of(job.vehicle, axle)
    assert run is not None
    loose = {s.name: s.travel_mm for s in run.stops if s.what == "slack"}
    assert loose["Coil-over right"] > loose.get("Coil-over left", -1e9) + 3.0
    sentence = next(f.sentence for f in spring_findings(job) if "loose" in f.sentence)
    assert "coil-over right: loose on its seats" in sentence
    inches = (loose["Coil-over right"] + axle.droop_mm) / 25.4
    assert inches == pytest.approx(1 + 9 / 16, abs=1 / 32)
    assert "1 9/16 in of droop travel" in sentence


@pytest.mark.parametrize("bump_and_droop", [(100.0, 100.0), (220.0, 260.0)])
def test_a_cantilever_to_start_from_does_not_go_over_center(
    trail_job: Job, bump_and_droop: tuple[float, float]
) -> None:
    bump, droop = bump_and_droop
    job = set_axle("rear", "Travel", bump_mm=bump, droop_mm=droop, springs=()).apply(trail_job)
    for kind in ("rocker", "rocker_shock"):
        made = add_springs("rear", starting_springs(job, "rear", kind), kind).apply(job)  # type: ignore[arg-type]
        run = stops_of(made.vehicle, made.vehicle.axle("rear"), contacts=False)
        assert run is not None
        over = [s for s in run.stops if s.what == "center" and -droop < s.travel_mm < bump]
        assert not over
        carries = [u.spring for u in units_of(made.vehicle.axle("rear"))]
        assert carries == [kind == "rocker"] * 2


def test_tubes_bow_by_the_modulus_of_their_own_metal() -> None:
    """Euler's load goes with the modulus: steel 205, titanium 110, aluminum 70 kN/mm2 (EN 1999-1-1, from memory)."""
    bare = Tube(name="2 x 0.250", outside_mm=50.8, wall_mm=6.35, yield_mpa=500.0)
    euler = {
        m: tube_figures(bare.model_copy(update={"material": m}), 1800.0)[3] for m in ("steel", "titanium", "aluminum")
    }
    assert euler["steel"] / euler["aluminum"] == pytest.approx(205.0 / 70.0)
    assert euler["steel"] / euler["titanium"] == pytest.approx(205.0 / 110.0)
    for name, metal in (
        ("2 x 0.250 7075-T6 aluminum", "aluminum"),
        ("50 x 6 titanium", "titanium"),
        ("2 x 0.250, aluminum core", "steel"),
    ):
        core = "aluminum" if "core" in name else "none"
        assert bare.model_copy(update={"name": name, "core": core}).metal == metal
    assert tube_kg_per_m(bare.model_copy(update={"material": "aluminum"})) / tube_kg_per_m(bare) == pytest.approx(
        2700 / 7850
    )


def test_a_tie_rod_is_judged_by_its_lever_over_the_lock(coupe_job: Job, trail_job: Job, rock_job: Job) -> None:
    """The lever of its line about the kingpin, at every knuckle and lock, by moving the rod along itself a little."""
    found = 0
    for job in (coupe_job, trail_job, rock_job):
        for axle in job.vehicle.axles:
            mechanism, steering = mechanism_of(axle), axle.steering
            if mechanism is None or mechanism.box is None or steering is None or steering.box is None:
                continue
            found += 1
            carried = rod_loads(axle)["Tie rod"]
            moment = steering.box.push_n * axle.tire.free_diameter_mm / 2.0
            straight = [float(np.linalg.norm(np.cross(mechanism.knuckles.tie[i] - mechanism.knuckles.pivot[i],
                                                      mechanism.knuckles.axis[i]))) for i in (0, 1)]  # fmt: skip
            assert carried > 1.05 * moment / min(straight)
            # Virtual work: a rod that gets longer by ds turns the knuckle at its end by da; its force is M da / ds.
            worst = 0.0
            still = np.array(axle.center), np.eye(3)
            for steer in np.linspace(*lock_of(axle, mechanism).steer, 41):
                a, b = (p[0] for p in mechanism.ends_now(mechanism.at(np.array([steer]), *still))["tie rod"])
                for i, (own, other) in enumerate(((a, b), (b, a))):
                    k = mechanism.knuckles
                    length = [float(np.linalg.norm(
                        k.pivot[i] + Rotation.from_rotvec(s * 1e-6 * k.axis[i]).apply(own - k.pivot[i]) - other
                    )) for s in (1.0, -1.0)]  # fmt: skip
                    worst = max(worst, moment * 2e-6 / abs(length[0] - length[1]))
            assert carried == pytest.approx(worst, rel=1e-4)
    assert found >= 2


def test_brackets_bolts_and_welds_in_shear_alone_count_as_not_judged(trail_job: Job) -> None:
    verdicts = link_verdicts(trail_job, study_strength(trail_job.vehicle, trail_job.loads))
    assert verdicts
    for one in verdicts:
        assert one.state in ("not_judged", "high")
    assert any("shear only, with no lever" in one.sentence or "more" in one.sentence for one in verdicts)


def test_balance_is_what_goes_across_less_the_weight_and_not_the_springs_alone() -> None:
    """Gillespie, ch. 6: of each axle, unsprung, roll center and springs; the share of springs alone is shown beside."""
    full_job = demo_jobs()[1]
    said = machine_readable_ride(full_job.vehicle)["car"]
    assert isinstance(said, dict)
    across = said["load_transfer_n_per_g"]
    assert said["front_share_of_transfer_pct"] == pytest.approx(100.0 * across["front"] / sum(across.values()))
    loads = {a.key: a.load_kg for a in full_job.vehicle.axles}
    assert said["front_weight_pct"] == pytest.approx(100.0 * loads["front"] / sum(loads.values()))
    assert said["front_share_of_transfer_pct"] != pytest.approx(said["front_share_of_roll_pct"], abs=0.5)
    found = next(v for v in judge(full_job, study_axle(full_job.vehicle, full_job.vehicle.axle("front"), 0.0, 0.0))
                 if v.figure.key == "transfer_over_weight_pct")  # fmt: skip
    assert found.figure.value == pytest.approx(said["front_share_of_transfer_pct"] - said["front_weight_pct"])
    assert "roll_share_pct" not in {
        v.figure.key for v in judge(full_job, study_axle(full_job.vehicle, full_job.vehicle.axle("front"), 0.0, 0.0))
    }


def _halved(job: Job, hands: random.Random) -> Job:
    """A job with some of what is known of it taken away."""
    data = json.loads(dump_job(job))
    vehicle = data["vehicle"]
    for axle in vehicle["axles"]:
        for key in ("springs", "members"):
            if hands.random() < 0.3:
                axle[key] = [part for part in axle[key] if hands.random() < 0.6]
        for key in ("output", "pinion", "shaft", "steering"):
            if hands.random() < 0.3:
                axle[key] = None
        if hands.random() < 0.3:
            axle["load_kg"] = axle["unsprung_kg"] = 0.0
    for key in ("things", "cargo"):
        if hands.random() < 0.4:
            vehicle[key] = []
    if hands.random() < 0.3:
        vehicle["powertrain"] = None
    links = vehicle["build"]["links"]
    vehicle["build"]["links"] = [] if hands.random() < 0.2 else [link for link in links if hands.random() < 0.7]
    for link in vehicle["build"]["links"]:
        for end in ("first", "second"):
            if hands.random() < 0.2:
                link[end]["bolt"] = None
    return parse_job(json.dumps(data), "half")


def half_filled(number: int, seed: int) -> Iterator[Job]:
    """So many jobs with parts of what is known taken away, as far as the reader takes them."""
    hands, every, made = random.Random(seed), demo_jobs(), 0
    while made < number:
        try:
            job = _halved(hands.choice(every), hands)
        except StanceError:
            continue
        made += 1
        yield job


def untrue(job: Job) -> list[str]:
    """What a check says better of a job than is known of it."""
    reply = json.loads(check(job, fine=False).text())
    words = {"inside", "low", "high", "unsure", "not_judged", "not_looked", "missing"}
    wrong = [f"{j['key']}: {j['state']}" for j in reply["judged"] if j["state"] not in words]
    wrong += [f"{s['key']}: {s['state']}" for s in reply["stations"] if s["state"] not in words]
    wrong += [f"{j['key']} is {j['state']} without a value" for j in reply["judged"]
              if j["value"] is None and j["state"] not in ("not_judged", "missing", "not_looked")]  # fmt: skip
    wrong += [f["sentence"] for f in reply["findings"] if "fault in Even Stance" in f["sentence"]]
    lacks = {f["station"] for f in reply["findings"]} | {j["station"] for j in reply["judged"]}
    stations = {s["key"]: s["state"] for s in reply["stations"]}
    vehicle = job.vehicle
    if not any(a.springs or any(m.kind == "leaf" for m in a.members) for a in vehicle.axles):
        wrong += [] if stations["springs"] != "inside" else ["springs are inside without any"]
    if not vehicle.build.links:
        wrong += [] if stations["build"] in ("missing", "not_looked", "low") else ["no build sheet is called fine"]
    if not any(a.members or a.steering for a in vehicle.axles):
        wrong += [] if stations["links"] in ("missing", "low", "not_judged") else ["no links are called fine"]
    for j in reply["judged"]:
        if j["key"] == "link_used_pct" and j["state"] == "inside":
            wrong.append(f"{j['name']} is inside though its bolts are in shear alone")
        if j["state"] in ("not_judged", "unsure") and not j["why"]:
            wrong.append(f"{j['key']} is {j['state']} without a reason")
    return wrong + [
        f"{s} says nothing" for s in ("springs", "driveline", "build") if s not in lacks and stations[s] == "inside"
    ]


def test_nothing_unknown_is_inside_on_half_filled_jobs() -> None:
    """The long run of this: scripts/long_said.py, 300 of them."""
    for job in half_filled(25, 3):
        assert not untrue(job)


@pytest.mark.parametrize(
    ("name", "wheels"), [("one-wheel-steers", "right down"), ("one-wheel-steers-left", "left down")]
)
def test_one_wheel_alone_is_looked_at_where_the_axle_crosses_up(name: str, wheels: str) -> None:
    """Against a grid of 81 x 81 postures: the most was missed, and once told of the wrong side."""
    job = said(name)
    axle = job.vehicle.axle("front")
    found = verdict(job, "front", "cross_steer_deg")
    side = np.union1d(np.linspace(-axle.droop_mm, axle.bump_mm, 80), 0.0)
    left, right = (g.ravel() for g in np.meshgrid(side, side))
    opposed = left * right <= 0.0
    fine = study_postures(job.vehicle, axle, left[opposed], right[opposed]).values["steer_left_deg"]
    worst = int(np.nanargmax(np.abs(fine)))
    assert abs(found.figure.value) == pytest.approx(float(np.abs(fine[worst])), rel=0.02)
    assert wheels in found.sentence
    assert (left[opposed][worst] == 0.0, right[opposed][worst] == 0.0) == ("left" not in wheels, "right" not in wheels)


def test_the_turning_circle_is_of_the_patch_that_the_knuckle_carries(coupe_job: Job) -> None:
    """By hand: the left wheel's lowest place turned about its kingpin with SciPy; the outer one is what counts."""
    axle = coupe_job.vehicle.axle("front")
    steer = 0.8 * lock_of(axle, mechanism_of(axle)).steer[1]  # type: ignore[arg-type]
    mechanism = mechanism_of(axle)
    assert mechanism is not None
    said_ = machine_readable_steer(coupe_job.vehicle, answers_at(coupe_job.vehicle, axle, 0.0, 0.0), float(steer))[
        "steer"
    ]
    now = mechanism.at(np.array([steer]), np.array(axle.center), np.eye(3))
    k, radius, half = mechanism.knuckles, axle.tire.loaded_radius_mm, axle.track_mm / 2.0
    x, z = axle.center[0], axle.center[2]
    places, across = [], []
    for i, out in ((0, half), (1, -half)):
        turned = Rotation.from_rotvec(now.turns[0, i] * k.axis[i])
        center = k.pivot[i] + turned.apply(np.array([x, axle.center[1] + out, z]) - k.pivot[i])
        spin = turned.apply(k.spin[i])
        down = -np.array([0.0, 0.0, 1.0]) + spin[2] * spin
        places.append(center + radius * down / np.linalg.norm(down))
        across.append(places[-1][1] - (places[-1][0] - axle_line(coupe_job.vehicle, axle)) * spin[1] / spin[0])
    middle = np.array([axle_line(coupe_job.vehicle, axle), np.mean(across)])
    assert said_["turning_radius_mm"] == pytest.approx(max(np.linalg.norm(p[:2] - middle) for p in places), rel=1e-6)


def test_a_ram_link_is_cut_to_one_length() -> None:
    """What the steering pages say is what the build sheet says."""
    job = said("ram-two-lengths")
    axle = job.vehicle.axle("front")
    rows = dict(ram_rows(job, axle))
    for cut in cut_list(job.vehicle, job.units):
        if cut.piece.role == "steering" and cut.piece.axle == "front":
            words = rows[f"{cut.piece.side.capitalize()} link, cut to"]
            assert words.startswith(format_length(cut.cut_mm, job.units).removeprefix("~"))
            assert words.endswith("by its parts on the Build sheet")
    without = with_changes(job, vehicle=with_changes(job.vehicle, build=BuildSheet()))
    assert "Build sheet" not in dict(ram_rows(without, axle))["Left link, cut to"]


@pytest.mark.parametrize("on", ["axle", "left knuckle"])
def test_a_thing_on_an_axle_whose_name_has_a_blank_is_looked_at(trail_job: Job, on: str) -> None:
    """The same car with its front axle under another name has the same gaps."""
    found = []
    for key in ("front", "far front"):
        axles = (with_changes(trail_job.vehicle.axles[0], key=key), trail_job.vehicle.axles[1])
        vehicle = with_changes(trail_job.vehicle, axles=axles, things=())
        block = Block(ahead_mm=60.0, long_mm=120.0, left_mm=560.0, wide_mm=60.0, under_mm=500.0, high_mm=80.0)
        thing = Thing(name="box", form=block, on=f"{key} {on}")
        vehicle = with_changes(vehicle, things=(thing,))
        gaps = study_axle_gaps(vehicle, vehicle.axles[0], fine=False)
        named = [(g.names, g.gap_mm) for g in (*gaps.gaps, *gaps.touching) if "box" in g.names]
        found.append([(tuple(n.replace("far front", "front") for n in names), mm) for names, mm in named])
    assert found[0]
    assert found[1] == found[0]


def test_joints_have_one_band_from_bend_ride_and_speed(coupe_job: Job, rock_job: Job) -> None:
    """Acceleration of a bent joint is w^2 t^2: 1,000 rad/s^2 of the shaft, 400 of what is left over (AE-7, from memory).

    At 3,000 rpm (314 rad/s) that is 5.8 degrees, and 3.6.
    """
    job = set_shaft("rear", "Slow", top_rpm=3000.0, limit_deg=30.0).apply(coupe_job)
    for key, omega in (("output_angle_deg", 1000.0), ("shaft_residual_deg", 400.0)):
        physical = np.degrees(np.sqrt(omega) / (3000.0 * np.pi / 30.0))
        usual = STANDARDS[key].marks[job.purpose][1]
        assert wanted(job, key, "rear").band.high == pytest.approx(min(physical, usual), abs=0.06)
    fast = set_shaft("rear", "Fast", top_rpm=6000.0).apply(job)
    assert wanted(fast, "output_angle_deg", "rear").band.high == pytest.approx(2.9, abs=0.05)
    assert "AE-7" in wanted(fast, "output_angle_deg", "rear").reason
    # A double-cardan joint: what it may bend at ride height is never more than over travel.
    axle = rock_job.vehicle.axle("rear")
    assert axle.shaft is not None
    ride, travel = (wanted(rock_job, k, "rear").band.high for k in ("output_angle_deg", "output_joint_deg"))
    assert ride == pytest.approx(axle.shaft.limit_deg)
    assert travel == pytest.approx(1.8 * axle.shaft.limit_deg)


@pytest.mark.parametrize("key", ["front", "rear"])
def test_a_pinion_above_its_shaft_is_judged_otherwise_than_one_below(rock_job: Job, key: str) -> None:
    """Common practice: behind a double-cardan joint the pinion points at the case or a degree or two low of it."""
    axle = rock_job.vehicle.axle(key)
    assert axle.pinion is not None
    line = pinion_above_line_deg(axle)
    assert line is not None
    states = {}
    for above in (-1.5, 1.5):
        toward = -1.0 if key == "front" else 1.0
        pinion = with_changes(axle.pinion, nose_up_deg=axle.pinion.nose_up_deg + toward * (above - line))
        job = set_axle(key, "Pinion", pinion=pinion).apply(rock_job)
        moved = job.vehicle.axle(key)
        assert pinion_above_line_deg(moved) == pytest.approx(above)
        states[above] = wanted(job, "pinion_angle_deg", key).band.high
    assert states == {-1.5: 2.0, 1.5: 0.5}
