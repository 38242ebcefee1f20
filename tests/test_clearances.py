"""Everything that can hit: gaps found within stops, on demo cars and mirrored, moved and known ones, and as a command."""

import json
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import settings as rules
from hypothesis import strategies as st

from even_stance.cli import run
from even_stance.errors import StanceError
from even_stance.exchange.demo import demo_jobs
from even_stance.exchange.jobfile import dump_job
from even_stance.judgement.catalog.things import KINDS, start_thing
from even_stance.judgement.clearances import (
    gap_findings,
    gap_key,
    gap_verdicts,
    machine_readable_gaps,
    posture_words,
    short_of,
)
from even_stance.replies.checking import check
from even_stance.study.axlestates import grid_states, posture_states, steer_ends
from even_stance.study.cargaps import GROUND, merged, study_gaps
from even_stance.study.clearances import Gap, couple_gaps, measured_again, study_axle_gaps
from even_stance.study.hard import Hard
from even_stance.study.hardparts import hard_parts
from even_stance.study.springstops import stops_of
from even_stance.study.things import cores_of
from even_stance.vehicle.edits import (
    change_spring,
    change_steering,
    change_thing,
    made,
    mirrored_form,
    moved_form,
    put_thing,
    put_together,
    set_axle,
    set_clearances,
    stretched_form,
    thing_named,
    want_gap,
    with_changes,
)
from even_stance.vehicle.job import Job
from even_stance.vehicle.records import Point
from even_stance.vehicle.things import Ball, Block, Thing
from tests.cars import bare, block, studied
from tests.conftest import starter

KEYS = {"a", "b", "gap_mm", "wanted_mm", "axle", "left_mm", "right_mm", "steer"}


# --- demo cars


@pytest.mark.parametrize("demo", range(5))
def test_each_demo_carries_things_and_contacts_that_corners_miss(demo: int) -> None:
    """Eight to fifteen things; one contact only with steer, one only crossed up."""
    job, study = demo_jobs()[demo], studied(demo)
    assert 8 <= len(job.vehicle.things) <= 15
    hits = [g for g in study.gaps if g.gap_mm < 0.0]
    steered = [g for g in hits if abs(g.steer) > 1e-6]
    crossed = [g for g in hits if g.left_mm * g.right_mm < 0.0 or abs(g.left_mm - g.right_mm) > 30.0]
    assert len(hits) >= 2
    assert steered
    assert crossed
    straight = {frozenset(g.names): g.gap_mm for key in job.vehicle.axles
                for g in study_axle_gaps(_locked(job, key.key).vehicle, _locked(job, key.key).vehicle.axle(key.key)).gaps}  # fmt: skip
    assert any(straight.get(frozenset(g.names), 99.0) > 0.0 for g in steered), "no contact comes from steer alone"
    assert any(_together(job, g) > 0.0 for g in crossed), "no contact comes from crossing up alone"


def _together(job: Job, gap: Gap) -> float:
    """The least gap of two parts with both wheels at one height, anywhere from lock to lock."""
    axle = job.vehicle.axle(gap.axle)
    states = grid_states(job.vehicle, axle, 31, 9)
    level = np.unique(states.travel[np.ptp(states.travel, axis=1) < 1e-9, 0])
    at = np.array([(z, z, s) for z in level for s in states.steer])
    return float(couple_gaps(posture_states(job.vehicle, axle, at), [(gap.a, gap.b)]).min())


def _locked(job: Job, key: str) -> Job:
    """The same car with the wheels of an axle held straight."""
    if job.vehicle.axle(key).steering is None:
        return job
    return change_steering(key, "Held", stop_deg=1.0).apply(job)


def test_verdicts_and_findings_stand_at_their_stations() -> None:
    job, study = demo_jobs()[0], studied(0)
    verdicts = gap_verdicts(job, study, "front")
    tires = next(v for v in verdicts if v.figure.key == "gap_tires_mm")
    assert tires.station == "clearance"
    assert tires.state == "low"
    assert tires.sentence.startswith("Hits: front left tire, left step bracket (")
    stations = {f.station for f in gap_findings(job, study)}
    assert {"clearance", "travel", "steering"} <= stations
    assert any(line.sentence.startswith("Tires: -") for line in check(job, fine=False).lines)


def test_places_are_told_as_a_shop_tells_them() -> None:
    job, study = demo_jobs()[0], studied(0)
    worst = study.of("front left tire", "left step bracket")
    assert worst is not None
    words = posture_words(job, worst)
    assert words.startswith("left ")
    assert words.endswith(", lock left")
    ground = next(g for g in study.gaps if g.b is GROUND)
    assert posture_words(job, ground) in ("on its stops", "at ride height")


# --- the search


def test_stops_bound_the_travel_and_it_is_said_what_it_would_be_without() -> None:
    """A bump stop that is solid an inch sooner keeps the tail pipe clear of the axle; the free gap stays as it was."""
    job = demo_jobs()[4]
    pair = ("rear axle tube", "left pipe")
    before = study_axle_gaps(job.vehicle, job.vehicle.axle("rear")).of(*pair)
    for name in ("Shock left", "Shock right"):
        part = job.vehicle.axle("rear").part(name)
        job = change_spring("rear", name, "Longer", both=False, closed_mm=part.closed_mm + 60.0).apply(job)  # type: ignore[union-attr]
    after = study_axle_gaps(job.vehicle, job.vehicle.axle("rear")).of(*pair)
    assert before is not None
    assert after is not None
    assert after.gap_mm > before.gap_mm + 10.0
    assert after.free_mm == pytest.approx(before.gap_mm, abs=1.0)
    assert after.left_mm + after.right_mm < before.left_mm + before.right_mm - 20.0


def test_what_touches_as_measured_is_asked_about_and_what_overlaps_more_is_judged() -> None:
    """A slab inside the links: within what it may be off by it is asked about; taped well it hits; or both belong together."""
    slab = block("slab", ahead_mm=-2500.0, long_mm=900.0, under_mm=500.0)
    taped = put_thing(slab).apply(starter())
    hits = [g for g in study_gaps(taped.vehicle, fine=False).gaps if "slab" in g.names and g.ride_mm < 0.0]
    assert hits
    assert all(g.gap_mm < -g.sure_mm for g in hits)
    assert any("slab" in f.sentence for f in gap_findings(taped, study_gaps(taped.vehicle, fine=False)))
    for gap in hits:
        taped = put_together(*gap.names).apply(taped)
    left = study_gaps(taped.vehicle, fine=False)
    assert not {frozenset(g.names) for g in hits} & {frozenset(g.names) for g in (*left.gaps, *left.touching)}
    again = put_together(*hits[0].names, together=False).apply(taped)
    assert study_gaps(again.vehicle, fine=False).of(*hits[0].names) is not None
    job = put_thing(with_changes(slab, sure_mm=400.0)).apply(starter())
    study = study_gaps(job.vehicle)
    touching = {frozenset(g.names) for g in study.touching}
    assert any("slab" in names for names in touching)
    asked = [f for f in gap_findings(job, study) if f.code == "touching"]
    assert [f.severity for f in asked] == ["not_judged"]
    assert not touching & {frozenset(g.names) for g in study.gaps}
    rows = machine_readable_gaps(job, study)
    assert any(r["touching_as_measured"] for r in rows)
    assert [r["gap_mm"] for r in rows] == sorted(r["gap_mm"] for r in rows)  # type: ignore[type-var]


def test_wanted_is_the_larger_of_what_both_ask_or_what_was_said() -> None:
    job = put_thing(with_changes(block(under_mm=760.0), wanted_mm=30.0)).apply(bare(demo_jobs()[0]))
    study = study_axle_gaps(job.vehicle, job.vehicle.axle("rear"))
    gap = next(g for g in study.gaps if "box" in g.names)
    assert gap.wanted_mm == 30.0
    assert next(g for g in study.gaps if "box" not in g.names).wanted_mm == 12.7  # half an inch: common practice
    said = want_gap(gap.a.name, gap.b.name, 4.0).apply(job)
    again = study_axle_gaps(said.vehicle, said.vehicle.axle("rear")).of(*gap.names)
    assert again is not None
    assert again.wanted_mm == 4.0
    assert short_of(said, again) < 0.0
    assert want_gap(gap.a.name, gap.b.name, None).apply(said) == job


def test_a_link_is_looked_at_off_its_joint_against_what_it_is_bolted_to() -> None:
    job = demo_jobs()[0]
    parts = {p.name: p for p in hard_parts(job.vehicle)}
    link, tube_, tank = parts["rear upper left"], parts["rear axle tube"], parts["fuel tank"]
    whole = np.ptp(link.cores[0].points, axis=0)
    off = np.ptp(link.clear_of(tube_)[0].points, axis=0)
    assert np.linalg.norm(whole) - np.linalg.norm(off) == pytest.approx(90.0, abs=2.0)
    assert link.clear_of(tank) == link.cores


def test_sureness_comes_from_points_and_tapes() -> None:
    job = demo_jobs()[0]
    loose = change_thing("tail pipe", "Taped badly", sure_mm=25.0).apply(job)
    one, other = (
        study_axle_gaps(j.vehicle, j.vehicle.axle("rear")).of("rear right tire", "tail pipe") for j in (job, loose)
    )
    assert one is not None
    assert other is not None
    assert one.sure_mm < 8.0
    assert other.sure_mm == pytest.approx(np.hypot(25.0, 6.35), abs=0.1)
    assert one.gap_mm == other.gap_mm


def test_chains_and_bulge_bring_tires_nearer() -> None:
    job = demo_jobs()[1]
    chained = set_clearances("Chains", tire_more_mm=10.0).apply(job)
    one, two = (study_axle_gaps(j.vehicle, j.vehicle.axle("rear")).of("rear left tire", "left rear wheel well")
                for j in (job, chained))  # fmt: skip
    assert one is not None
    assert two is not None
    assert two.gap_mm == pytest.approx(one.gap_mm - 10.0, abs=0.6)


def test_the_tail_raised_as_well_is_looked_at_besides() -> None:
    job = demo_jobs()[1]
    lid = block("lid", ahead_mm=-1000.0, long_mm=300.0, wide_mm=300.0, under_mm=560.0, high_mm=20.0)
    fan = made(Thing, name="linkage", kind="ball", on="powertrain",
               form=made(Ball, at=made(Point, x=-1150.0, y=0.0, z=480.0), across_mm=60.0))  # fmt: skip
    job = put_thing(fan).apply(put_thing(lid).apply(bare(job)))
    up = set_clearances("Tail", tail_up_mm=60.0).apply(job)
    still = study_gaps(job.vehicle).of("lid", "linkage")
    raised = study_gaps(up.vehicle).of("lid", "linkage")
    assert still is None  # both stand still on the car as it is
    assert raised is not None
    assert raised.tail_up
    assert raised.gap_mm < 0.0
    assert posture_words(up, raised).endswith("tail up")


def test_axles_of_a_tandem_are_held_against_each_other() -> None:
    """Two rear axles near together: their tires come near through the travel of both."""
    job = bare(demo_jobs()[0])
    rear = job.vehicle.axle("rear")
    near = rear.tire.free_diameter_mm + 30.0
    moved = {"key": "rear two", "behind_front_mm": rear.behind_front_mm + near}
    members = tuple(_behind(m, near) for m in rear.members)
    second = rear.model_copy(update=moved | {"members": members, "springs": (), "output": None, "pinion": None,
                                             "shaft": None, "driven": False, "drive_share": 0.0})  # fmt: skip
    vehicle = job.vehicle.model_copy(update={"axles": (*job.vehicle.axles, second)})
    gap = study_gaps(vehicle).of("rear left tire", "rear two left tire")
    assert gap is not None
    assert gap.other is not None
    assert gap.other[0] == "rear two"
    assert gap.gap_mm < 30.0


def _behind(member: object, mm: float) -> object:
    mounts = {end: m.model_copy(update={
        "at": m.at.model_copy(update={"x": m.at.x - mm}), "holes": (), "hole": None,
    }) for end, m in member.mounts.items()}  # type: ignore[attr-defined]  # fmt: skip
    return member.model_copy(update=mounts)  # type: ignore[attr-defined]


def test_known_gaps_measured_again_are_those_of_a_search() -> None:
    job = demo_jobs()[1]
    known = [g for g in studied(1).gaps if g.axle == "rear" and g.other is None and g.b is not GROUND][:10]
    moved = change_thing("right exhaust", "Moved",
                         form=moved_form(thing_named(job, "right exhaust").form, 0.0, 6.0, 0.0)).apply(job)  # fmt: skip
    for gap in measured_again(job.vehicle, known):
        was = next(g for g in known if g.names == gap.names)
        assert gap.gap_mm == pytest.approx(was.gap_mm, abs=0.02)
    again = {g.names: g.gap_mm for g in measured_again(moved.vehicle, known)}
    tight = next(g for g in known if "right exhaust" in g.names and "rear right tire" in g.names)
    assert again[tight.names] == pytest.approx(tight.gap_mm + 6.0, abs=0.6)


def test_a_car_mirrored_has_the_same_gaps() -> None:
    """The rock rig has two sides alike but for its shafts: each gap of the left is that of the right."""
    by = {frozenset(g.names): g.gap_mm for g in studied(2).gaps if g.other is None}
    pairs = 0
    for names, gap in by.items():
        twin = frozenset(" ".join({"left": "right", "right": "left"}.get(w, w) for w in n.split(" ")) for n in names)
        if twin != names and twin in by and not any(w in n for n in names for w in ("shaft", "housing", "truss")):
            pairs += 1
            assert by[twin] == pytest.approx(gap, abs=0.15), names
    assert pairs > 30


@rules(max_examples=25)
@given(st.floats(-300.0, 300.0), st.floats(-200.0, 200.0), st.floats(-150.0, 400.0))
def test_a_thing_moved_along_with_everything_keeps_its_shape(dx: float, dy: float, dz: float) -> None:
    """Every shape: its pieces go along, mirroring twice gives it back, and stretching one corner moves only that."""
    job = starter()
    for kind in KINDS:
        form = start_thing(job, "rear", kind).form
        before, after = cores_of(form), cores_of(moved_form(form, dx, dy, dz))
        for a, b in zip(before, after, strict=True):
            assert np.allclose(b.points - a.points, (dx, dy, dz), atol=1e-6)
        twice = mirrored_form(mirrored_form(form))
        low = [np.min([c.points.min(axis=0) for c in cores_of(f)], axis=0) for f in (form, twice)]
        assert np.allclose(low[0], low[1], atol=1e-6)
    shape = block().form
    assert isinstance(shape, Block)
    if dz > -90.0:
        taller = stretched_form(shape, "high", 0.0, 0.0, dz)
        assert taller == with_changes(shape, high_mm=shape.high_mm + dz)


# --- contact among what ends the travel


def test_contact_is_one_of_the_things_that_end_the_travel() -> None:
    job = bare(demo_jobs()[1])
    axle = job.vehicle.axle("rear")
    under = axle.tire.loaded_radius_mm + axle.tube_mm / 2 + 30.0
    shelf = block("shelf", ahead_mm=axle.center[0] + 60.0, long_mm=120.0, left_mm=420.0, wide_mm=60.0, under_mm=under,
                   high_mm=20.0)  # fmt: skip
    job = put_thing(shelf).apply(job)
    run_ = stops_of(job.vehicle, job.vehicle.axle("rear"))
    assert run_ is not None
    first = run_.first("bump")
    assert first is not None
    assert first.what == "contact"
    assert "shelf" in first.name
    assert first.travel_mm == pytest.approx(30.0, abs=1.5)


# --- command


def test_the_command_lists_gaps_tightest_first(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    path = tmp_path / "job.stance"
    path.write_text(dump_job(demo_jobs()[0]), encoding="utf-8")
    assert run(["clearances", str(path)]) == 0
    rows = json.loads(capsys.readouterr().out)["gaps"]
    assert all(set(row) >= KEYS for row in rows)
    gaps = [row["gap_mm"] for row in rows]
    assert gaps == sorted(gaps)
    ours = studied(0).of("front left tire", "left step bracket")
    assert ours is not None
    theirs = next(r for r in rows if {r["a"], r["b"]} == set(ours.names))
    assert theirs["gap_mm"] == pytest.approx(ours.gap_mm, abs=1e-3)
    assert run(["clearances", str(path), "--coarse"]) == 0
    bare = tmp_path / "bare.stance"
    job = starter()
    for key in ("front", "rear"):
        job = set_axle(key, "Bare", members=(), steering=None, springs=()).apply(job)
    bare.write_text(dump_job(job), encoding="utf-8")
    capsys.readouterr()
    with pytest.raises(StanceError, match="has no links yet"):
        run(["clearances", str(bare)])


def test_pairs_of_several_studies_are_told_once() -> None:
    study = studied(1)
    both = merged([study, study])
    assert [g.names for g in both.gaps] == [g.names for g in study.gaps]
    names = [frozenset(g.names) for g in study.gaps]
    assert len(set(names)) == len(names)
    assert isinstance(study.gaps[0].a, Hard)
    assert {gap_key(g) for g in study.gaps} <= {f"gap_{k}_mm" for k in (
        "tires", "links", "shaft", "steering", "springs", "lines", "axle", "body", "ground")}  # fmt: skip


def test_the_cars_own_parts_are_looked_at_in_every_check() -> None:
    """A job without things was never looked at: its tires went into links at lock, and check had no word of it."""
    job = demo_jobs()[0]
    bare_job = with_changes(job, vehicle=with_changes(job.vehicle, things=()))
    tightest = min(study_gaps(bare_job.vehicle, fine=False).gaps, key=lambda g: g.gap_mm - g.wanted_mm)
    lines = check(bare_job, fine=False).lines
    assert tightest.gap_mm < tightest.wanted_mm
    assert any(all(name in line.sentence for name in tightest.names) for line in lines)
    nothing = set_axle("rear", "Bare", members=(), springs=()).apply(bare_job)
    assert any(
        line.state == "not_looked" and "has no links yet" in line.sentence for line in check(nothing, False).lines
    )


def test_wide_gaps_are_as_exact_as_tight_ones(rock_job: Job) -> None:
    """No posture of 400 taken at random within the stops is nearer by more than a tenth than what the search found."""
    axle = rock_job.vehicle.axle("front")
    study = study_axle_gaps(rock_job.vehicle, axle)
    wide = [g for g in study.gaps if 60.0 < g.gap_mm < 140.0 and g.other is None][:40]
    assert len(wide) > 20
    random, ends = np.random.default_rng(5), steer_ends(axle)
    assert ends is not None
    postures = np.stack((
        *(random.uniform(-axle.droop_mm, axle.bump_mm, 400) for _ in "lr"), random.uniform(*ends, 400)
    ), axis=-1)  # fmt: skip
    # Half of them about the worst that was found: there a coarse search would be beaten.
    for i, gap in enumerate(wide * 5):
        near = np.array([gap.left_mm, gap.right_mm, gap.steer]) + random.normal(0.0, (8.0, 8.0, 0.05 * ends[1]))
        postures[i] = np.clip(near, (-axle.droop_mm, -axle.droop_mm, ends[0]), (axle.bump_mm, axle.bump_mm, ends[1]))
    states = posture_states(rock_job.vehicle, axle, postures)
    found = couple_gaps(states, [(g.a, g.b) for g in wide])
    least = np.where(states.allowed, found, np.inf).min(axis=1)
    for gap, brute in zip(wide, least, strict=True):
        assert brute > gap.gap_mm - 0.1, (gap.names, gap.gap_mm, brute)
