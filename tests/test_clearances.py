"""Everything that can hit: things put on, gaps found within stops, ways out, notches, tires, the cycle card."""

import json
from dataclasses import replace
from functools import lru_cache
from pathlib import Path

import ezdxf
import numpy as np
import pytest
import shapely
import trimesh
from hypothesis import given
from hypothesis import settings as rules
from hypothesis import strategies as st
from pypdf import PdfReader
from scipy.spatial import ConvexHull

from even_stance.cli import run
from even_stance.errors import InputError
from even_stance.exchange.cardpdf import card_pdf
from even_stance.exchange.demo import demo_jobs
from even_stance.exchange.jobfile import dump_job, load_job
from even_stance.exchange.shapes import MOST_TRIANGLES, plate_from, read_outlines, read_scan, thinned
from even_stance.exchange.templates import notch_dxf, notch_pdf
from even_stance.judgement.catalog.things import KINDS, MEASURES, start_thing
from even_stance.judgement.clearances import (
    close_ones,
    gap_findings,
    gap_key,
    gap_verdicts,
    machine_readable_gaps,
    posture_words,
    short_of,
)
from even_stance.judgement.search.cures import cures
from even_stance.replies.car import check
from even_stance.shop.cyclecard import LEAST, MOST, card, card_rows, suspects, write_found
from even_stance.shop.readings import new_reading
from even_stance.shop.sheet import sheet, take_reading
from even_stance.shop.thingtext import points_text, read_points, size_words
from even_stance.study.axlestates import grid_states, posture_states, steer_ends
from even_stance.study.cargaps import GROUND, merged, study_gaps
from even_stance.study.clearances import Gap, GapStudy, couple_gaps, measured_again, study_axle_gaps
from even_stance.study.hard import Hard
from even_stance.study.hardparts import hard_parts
from even_stance.study.lowering import lowered
from even_stance.study.notch import cut_plate, notch_for
from even_stance.study.springstops import stops_of
from even_stance.study.things import convex_pieces, cores_of
from even_stance.study.tirerack import crossed_at_lock, fit_tires, largest
from even_stance.vehicle.edits import (
    change_spring,
    change_steering,
    change_thing,
    copy_thing,
    made,
    mirrored_form,
    move_by,
    moved_form,
    put_thing,
    set_axle,
    set_clearances,
    shape_thing,
    stretched_form,
    switch_group,
    take_thing_off,
    thing_named,
    want_gap,
    with_changes,
)
from even_stance.vehicle.job import Job
from even_stance.vehicle.records import Point
from even_stance.vehicle.spots import Spot, is_there, point_of
from even_stance.vehicle.things import Ball, Block, Plate, Run, Thing, Tunnel
from tests.conftest import IN, starter

KEYS = {"a", "b", "gap_mm", "wanted_mm", "axle", "left_mm", "right_mm", "steer"}


@lru_cache
def studied(demo: int) -> GapStudy:
    """The gaps of a demo car."""
    return study_gaps(demo_jobs()[demo].vehicle)


def _block(name: str = "box", **changes: object) -> Thing:
    form = {"ahead_mm": -2400.0, "long_mm": 200.0, "wide_mm": 300.0, "under_mm": 900.0, "high_mm": 100.0} | changes
    return made(Thing, name=name, kind="block", form=made(Block, **form))


def _bare(job: Job) -> Job:
    """A car with nothing put on."""
    return with_changes(job, vehicle=with_changes(job.vehicle, things=()))


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


def test_what_touches_as_measured_is_listed_and_no_fault() -> None:
    job = put_thing(_block("slab", ahead_mm=-2500.0, long_mm=900.0, under_mm=500.0)).apply(starter())
    study = study_gaps(job.vehicle)
    touching = {frozenset(g.names) for g in study.touching}
    assert any("slab" in names for names in touching)
    assert not touching & {frozenset(g.names) for g in study.gaps}
    rows = machine_readable_gaps(job, study)
    assert any(r["touching_as_measured"] for r in rows)
    assert [r["gap_mm"] for r in rows] == sorted(r["gap_mm"] for r in rows)  # type: ignore[type-var]


def test_wanted_is_the_larger_of_what_both_ask_or_what_was_said() -> None:
    job = put_thing(with_changes(_block(under_mm=760.0), wanted_mm=30.0)).apply(_bare(demo_jobs()[0]))
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
    lid = _block("lid", ahead_mm=-1000.0, long_mm=300.0, wide_mm=300.0, under_mm=560.0, high_mm=20.0)
    fan = made(Thing, name="linkage", kind="ball", on="powertrain",
               form=made(Ball, at=made(Point, x=-1150.0, y=0.0, z=480.0), across_mm=60.0))  # fmt: skip
    job = put_thing(fan).apply(put_thing(lid).apply(_bare(job)))
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
    job = _bare(demo_jobs()[0])
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
    block = _block().form
    assert isinstance(block, Block)
    if dz > -90.0:
        taller = stretched_form(block, "high", 0.0, 0.0, dz)
        assert taller == with_changes(block, high_mm=block.high_mm + dz)


# --- things


def test_every_kind_can_be_put_on_and_named_and_taped() -> None:
    for axle in ("front", "rear"):
        job = starter()
        for kind in KINDS:
            job = put_thing(start_thing(job, axle, kind)).apply(job)
        assert len({t.name for t in job.vehicle.things}) == len(KINDS)
        for thing in job.vehicle.things:
            assert all(hasattr(thing.form, m.name) for m in MEASURES[thing.form.shape])
            assert size_words(job, thing).endswith(" in")
        assert load_job_back(job) == job


def load_job_back(job: Job) -> Job:
    path = Path("kept.stance").absolute()
    try:
        path.write_text(dump_job(job), encoding="utf-8")
        return load_job(path)[0]
    finally:
        path.unlink()


def test_copies_mirrors_groups_and_what_is_switched_off() -> None:
    job = put_thing(with_changes(_block("left box", left_mm=300.0), group="bed")).apply(starter())
    job = copy_thing("left box", mirrored=True).apply(job)
    assert thing_named(job, "right box").form.left_mm == -300.0  # type: ignore[union-attr]
    job = copy_thing("left box").apply(job)
    assert thing_named(job, "left box 2").group == "bed"
    off = switch_group("bed", counts=False).apply(job)
    assert not any(p.thing for p in hard_parts(off.vehicle))
    assert len([p for p in hard_parts(job.vehicle) if p.thing]) == 3
    assert len(take_thing_off("left box").apply(job).vehicle.things) == 2
    with pytest.raises(InputError, match="wo things are called"):
        change_thing("left box", "Name", name="right box").apply(job)
    with pytest.raises(InputError, match="hangs on"):
        change_thing("left box", "On", on="middle axle").apply(job)


def test_things_are_taken_hold_of_like_points() -> None:
    job = put_thing(_block()).apply(starter())
    spot = Spot("", "box", "thing: high")
    assert is_there(job, spot)
    assert spot.words == "box, upper front left corner"
    at = point_of(job, spot)
    moved = move_by(spot, 10.0, 0.0, 25.0).apply(job)
    assert point_of(moved, spot).xyz == pytest.approx((at.x + 10.0, at.y, at.z + 25.0))
    low = Spot("", "box", "thing: low")
    assert point_of(moved, low) == point_of(job, low)
    with pytest.raises(InputError, match="folded over"):
        move_by(spot, -300.0, 0.0, 0.0).apply(job)
    run_ = put_thing(start_thing(job, "rear", "exhaust")).apply(job)
    bend = Spot("", "Exhaust pipe", "thing: bend 2")
    assert point_of(move_by(bend, 0.0, 15.0, 0.0).apply(run_), bend).y == pytest.approx(point_of(run_, bend).y + 15.0)


def test_the_measuring_sheet_has_the_things() -> None:
    job = demo_jobs()[0]
    step = next(s for s in sheet(job) if s.key == "thing.fuel tank")
    assert "thing.fuel tank.under_mm" in [f.what for f in step.fields]
    for value in (570.0, 572.0):
        reading = new_reading(job, "thing.fuel tank.under_mm", "length", value, "tape", "2026-11-26T09:00")
        job = take_reading(reading).apply(job)
    form = thing_named(job, "fuel tank").form
    assert isinstance(form, Block)
    assert form.under_mm == pytest.approx(571.0)
    taken = new_reading(job, "thing.tail pipe.3.left", "length", -600.0, "tape", "2026-11-26T09:05")
    pipe = thing_named(take_reading(taken).apply(job), "tail pipe").form
    assert isinstance(pipe, Run)
    assert pipe.points[2].y == pytest.approx(-600.0)


def test_points_are_typed_as_text() -> None:
    job = demo_jobs()[0]
    pipe = thing_named(job, "tail pipe")
    text = points_text(job, pipe)
    read = read_points(job, pipe, text)["points"]
    assert np.allclose([p.xyz for p in read], [p.xyz for p in pipe.form.points], atol=0.9)  # type: ignore[union-attr]
    with pytest.raises(InputError, match="Line 2"):
        read_points(job, pipe, "1, 2, 3\n4, 5")
    with pytest.raises(InputError, match="Up, line 1"):
        read_points(job, pipe, "1, 2, up there\n1, 2, 3")
    with pytest.raises(InputError, match="one point is no run"):
        read_points(job, pipe, "1, 2, 3")
    with pytest.raises(InputError, match="same place"):
        shape_thing("tail pipe", "Points", **read_points(job, pipe, "1, 2, 3\n1, 2, 3")).apply(job)


def test_outlines_that_cross_or_have_no_area_are_refused() -> None:
    bow = made(Plate, corners=((0.0, 0.0), (100.0, 100.0), (100.0, 0.0), (0.0, 100.0)), start_mm=0.0, thick_mm=5.0)
    with pytest.raises(InputError, match="crosses itself"):
        cores_of(bow)
    line = made(Plate, corners=((0.0, 0.0), (100.0, 0.0), (50.0, 0.0)), start_mm=0.0, thick_mm=5.0)
    with pytest.raises(InputError, match="no area"):
        cores_of(line)


def test_a_plate_with_a_hole_is_made_of_convex_pieces_that_leave_it_open() -> None:
    ring = shapely.Point(0, 0).buffer(100.0).difference(shapely.Point(0, 0).buffer(60.0))
    pieces = convex_pieces(ring)
    assert shapely.unary_union(pieces).symmetric_difference(ring).area < 1e-6 * ring.area
    assert all(p.convex_hull.area - p.area < 1e-6 for p in pieces)
    assert not any(p.contains(shapely.Point(0, 0)) for p in pieces)


# --- files


def _drawing(path: Path, units: int, closed: bool = True) -> Path:
    drawing = ezdxf.new("R2010", units=units)
    space = drawing.modelspace()
    for a, b in (((0, 0), (8, 0)), ((8, 0), (8, 4)), ((8, 4), (0, 4))):
        space.add_line(a, b)
    if closed:
        space.add_line((0, 4), (0, 0))
    space.add_circle((2, 2), 0.5)
    drawing.saveas(path)
    return path


def test_outlines_from_a_drawing(tmp_path: Path) -> None:
    found = read_outlines(_drawing(tmp_path / "inches.dxf", 1))
    assert found.per_mm == pytest.approx(25.4)
    plate = plate_from(found, 25.4, "side", 100.0, 6.35)
    area = shapely.Polygon(plate.corners, plate.holes)
    assert area.area == pytest.approx((32.0 - np.pi * 0.25) * 25.4**2, rel=2e-3)
    assert read_outlines(_drawing(tmp_path / "bare.dxf", 0)).per_mm is None  # asked for, then
    with pytest.raises(InputError, match=r"open: it ends at 0\.0, 4\.0"):
        read_outlines(_drawing(tmp_path / "open.dxf", 4, closed=False))
    (tmp_path / "no.dxf").write_text("not a drawing")
    with pytest.raises(InputError, match="cannot be read"):
        read_outlines(tmp_path / "no.dxf")


def test_a_scan_of_many_triangles_is_thinned_and_stays_on_the_near_side(tmp_path: Path) -> None:
    """An icosphere of over 200,000 triangles: few are kept, said to be larger all around, none of the ball beyond it."""
    big = trimesh.creation.icosphere(subdivisions=7, radius=150.0)
    assert len(big.faces) > 200_000
    path = tmp_path / "scan.stl"
    big.export(path)
    scan, said = read_scan(path)
    assert len(scan.faces) <= MOST_TRIANGLES
    assert "were kept" in said
    corners, faces, grown = thinned(np.asarray(big.vertices), np.asarray(big.faces))
    assert grown == pytest.approx(scan.grown_mm, abs=0.01)
    assert 0.0 < grown < 15.0  # of 300 across
    sides = ConvexHull(corners[np.unique(faces)]).equations
    beyond = np.asarray(big.vertices) @ sides[:, :3].T + sides[:, 3]
    assert float(beyond.max(axis=1).max()) <= grown
    (tmp_path / "bad.stl").write_bytes(b"solid nothing\nendsolid\n")
    with pytest.raises(InputError, match="STL file"):
        read_scan(tmp_path / "bad.stl")


def test_a_scan_hits_like_the_box_it_is(tmp_path: Path) -> None:
    mesh = trimesh.creation.box((200.0, 300.0, 100.0))
    mesh.apply_translation((-2500.0, 0.0, 950.0))
    path = tmp_path / "box.stl"
    mesh.export(path)
    scan, said = read_scan(path)
    assert not said
    job = _bare(demo_jobs()[0])
    box = put_thing(_block("box", ahead_mm=-2400.0, long_mm=200.0, wide_mm=300.0, under_mm=900.0, high_mm=100.0)).apply(
        job
    )
    scanned = put_thing(made(Thing, name="box", kind="scan", form=scan)).apply(job)
    ours, theirs = (study_axle_gaps(j.vehicle, j.vehicle.axle("rear")) for j in (scanned, box))
    for gap in (g for g in theirs.gaps if "box" in g.names):
        again = ours.of(*gap.names)
        assert again is not None
        assert again.gap_mm == pytest.approx(gap.gap_mm, abs=0.1)


# --- ways out


def test_cures_that_say_they_do_really_do() -> None:
    """Each way out of the step bracket's contact, done, leaves the gap it promises when it is searched anew."""
    job, study = demo_jobs()[0], studied(0)
    gap = study.of("front left tire", "left step bracket")
    assert gap is not None
    found = cures(job, gap)
    assert {c.kind for c in found} >= {"notch", "move", "steer"}
    for cure in found:
        if cure.edit is None:
            continue
        after = study_axle_gaps(cure.edit.apply(job).vehicle, cure.edit.apply(job).vehicle.axle("front")).of(*gap.names)
        gap_now = np.inf if after is None else after.gap_mm
        assert gap_now == pytest.approx(min(cure.gap_mm, gap_now), abs=0.6)
        assert (gap_now >= 12.6) == cure.enough


def test_a_floor_is_raised_at_each_end_by_as_little_as_does() -> None:
    job = _bare(demo_jobs()[1])
    tunnel = made(Tunnel, ahead_mm=-46 * IN, long_mm=44 * IN, wide_mm=9.5 * IN, front_mm=15.9 * IN, rear_mm=15.0 * IN,
                  deep_mm=5 * IN)  # fmt: skip
    job = put_thing(made(Thing, name="tunnel", kind="tunnel", form=tunnel, wanted_mm=19.0)).apply(job)
    gap = study_axle_gaps(job.vehicle, job.vehicle.axle("rear")).of("rear driveshaft", "tunnel")
    assert gap is not None
    assert gap.gap_mm < 0.0
    cure = next(c for c in cures(job, gap) if c.kind == "raise")
    assert cure.enough
    assert cure.edit is not None
    raised = thing_named(cure.edit.apply(job), "tunnel").form
    assert isinstance(raised, Tunnel)
    assert raised.rear_mm - tunnel.rear_mm > raised.front_mm - tunnel.front_mm  # the axle comes up behind


def test_a_notch_is_cut_checked_again_and_read_back_at_full_size(tmp_path: Path) -> None:
    job, study = demo_jobs()[0], studied(0)
    gap = study.of("front left tire", "left step bracket")
    assert gap is not None
    notch = notch_for(job.vehicle, gap, "left step bracket", 12.7)
    assert notch.words == ""
    assert 5.0 < notch.deep_mm < 80.0
    cut = change_thing("left step bracket", "Notched", form=cut_plate(notch)).apply(job)
    again = study_axle_gaps(cut.vehicle, cut.vehicle.axle("front")).of(*gap.names)
    assert again is not None
    assert again.gap_mm >= 12.6
    path = tmp_path / "notch.dxf"
    path.write_bytes(notch_dxf(job, notch))
    drawing = ezdxf.readfile(path)
    left = [
        shapely.Polygon([p[:2] for p in e.get_points()])
        for e in drawing.modelspace().query('LWPOLYLINE[layer=="LEFT"]')
    ]
    assert shapely.unary_union(left).symmetric_difference(notch.after).area < 0.01 * notch.after.length
    paper = tmp_path / "notch.pdf"
    paper.write_bytes(notch_pdf(job, notch))
    pages = PdfReader(paper).pages
    text = pages[0].extract_text()
    assert "must measure 4 in" in text
    assert "qualified people" in text
    _read_back(paper, notch.cut)


def _read_back(paper: Path, cut: shapely.Geometry) -> None:
    """The notch in the page's own path commands is as large as on the car, to 0.01 mm (points of 1/72 in)."""
    raw = PdfReader(paper).pages[0].get_contents().get_data().decode("latin-1")  # type: ignore[union-attr]
    ring: list[tuple[float, float]] = []
    rings = []
    words = raw.split()
    for i, word in enumerate(words):
        if word in ("m", "l"):
            place = (float(words[i - 2]) / 72 * 25.4, float(words[i - 1]) / 72 * 25.4)
            ring = [place] if word == "m" else [*ring, place]
        elif word in ("S", "n") and len(ring) > 3:
            rings.append(shapely.Polygon(ring))
            ring = []
    sizes = [abs(r.area - cut.area) for r in rings if r.is_valid]
    assert min(sizes) < 0.01 * cut.length
    same = rings[int(np.argmin([abs(r.area - cut.area) for r in rings]))]
    for i in (0, 1):
        assert same.bounds[i + 2] - same.bounds[i] == pytest.approx(cut.bounds[i + 2] - cut.bounds[i], abs=0.011)


def test_what_cannot_be_notched_says_why() -> None:
    job, study = demo_jobs()[1], studied(1)
    pipe = study.of("rear right tire", "right exhaust")
    assert pipe is not None
    with pytest.raises(InputError, match="is no box or plate"):
        notch_for(job.vehicle, pipe, "right exhaust", 12.7)
    with pytest.raises(InputError, match="is none of the things"):
        notch_for(job.vehicle, pipe, "rear right tire", 12.7)
    clear = next(
        g for g in study.gaps if (g.b.thing and g.b.name == "rear crossmember") or g.a.name == "rear crossmember"
    )
    assert "nothing to notch" in notch_for(job.vehicle, clear, "rear crossmember", 0.5).words


def test_tires_of_other_sizes() -> None:
    job = demo_jobs()[0]
    axle = job.vehicle.axle("rear")
    now = fit_tires(job.vehicle, axle, axle.tire.free_diameter_mm, axle.tire.width_mm)
    wide = fit_tires(job.vehicle, axle, axle.tire.free_diameter_mm, axle.tire.width_mm + 60.0)
    large = fit_tires(job.vehicle, axle, axle.tire.free_diameter_mm + 150.0, axle.tire.width_mm)
    out = fit_tires(job.vehicle, axle, axle.tire.free_diameter_mm, axle.tire.width_mm, out=40.0)
    known = study_axle_gaps(job.vehicle, axle).of("rear right tire", "tail pipe")
    assert known is not None
    assert now.gaps[0].gap_mm == pytest.approx(known.gap_mm, abs=0.05)
    assert not now.clears
    assert wide.gaps[0].gap_mm < now.gaps[0].gap_mm - 15.0
    assert not large.clears
    pipe = next(g for g in out.gaps if "tail pipe" in g.names)
    assert pipe.gap_mm > known.gap_mm + 20.0
    most = largest(job.vehicle, axle, axle.tire.width_mm, 40.0)
    assert most is not None
    assert most.clears
    assert not fit_tires(job.vehicle, axle, most.diameter_mm + 6.35, axle.tire.width_mm, 40.0).clears


def test_the_smallest_gap_at_full_lock_while_crossed_up() -> None:
    """It is there when looked at by itself, no smaller than the tightest of all, and never with both wheels level."""
    job, study = demo_jobs()[0], studied(0)
    found = crossed_at_lock(job.vehicle, "front")
    assert found is not None
    assert found.left_mm * found.right_mm < 0.0
    assert found.steer in (steer_ends(job.vehicle.axle("front")) or ())
    gap = study.of(found.tire, found.other)
    assert gap is not None
    assert found.gap_mm >= gap.gap_mm - 0.1
    there = replace(gap, left_mm=found.left_mm, right_mm=found.right_mm, steer=found.steer)
    assert measured_again(job.vehicle, [there])[0].gap_mm == pytest.approx(found.gap_mm, abs=0.01)
    assert crossed_at_lock(job.vehicle, "rear") is None  # nothing steers there


def test_a_lower_car_lists_what_comes_nearer() -> None:
    job = _bare(demo_jobs()[1])
    job = put_thing(_block("shelf", ahead_mm=-2600.0, long_mm=300.0, under_mm=455.0, high_mm=20.0)).apply(job)
    none, some = lowered(job.vehicle, "rear", 1.0), lowered(job.vehicle, "rear", 40.0)
    assert not [n for n in none if "shelf" in (n.a.name, n.b.name)]
    near = next(n for n in some if {"shelf", "rear housing"} == {n.a.name, n.b.name} or "shelf" in (n.a.name, n.b.name))
    assert near.then_mm < near.now_mm - 20.0
    assert near.then_mm < near.wanted_mm


# --- the card


def test_the_cycle_card_and_what_a_different_gap_says(tmp_path: Path) -> None:
    job, study = demo_jobs()[0], studied(0)
    rows = card(job, study)
    assert LEAST <= len(rows) <= MOST
    worst = close_ones(job, study)[0]
    assert any(frozenset(worst.names) == frozenset(g.names) for g in rows[0].gaps)
    pipe = [g for row in rows for g in row.gaps if "tail pipe" in g.names] or [
        g for g in study.gaps if "tail pipe" in g.names
    ]  # fmt: skip
    job = write_found(job, pipe[0], pipe[0].gap_mm - 20.0).apply(job)
    said = suspects(job, study)
    assert {s.name for s in said} == set(pipe[0].names)
    others = [
        g for g in study.gaps if "tail pipe" in g.names and g is not pipe[0] and g.other is None and g.b is not GROUND
    ]
    job = write_found(job, others[0], others[0].gap_mm - 22.0).apply(job)
    first = suspects(job, study)[0]
    assert first.name == "tail pipe"
    assert first.readings == 2
    assert first.off_mm == pytest.approx(21.0)
    assert "nearer than measured" in first.sentence
    fine = write_found(job, others[0], others[0].gap_mm).apply(job)
    assert "tail pipe" not in [s.name for s in suspects(fine, study) if s.readings > 1]
    with pytest.raises(InputError, match="Gap found"):
        write_found(job, pipe[0], 9e4)
    path = tmp_path / "card.pdf"
    path.write_bytes(card_pdf(job, study))
    text = "\n".join(p.extract_text() for p in PdfReader(path).pages)
    assert "Cycle card" in text
    assert "step bracket" in text
    assert "Never go under a vehicle" in text
    assert len(card_rows(job, rows)) == sum(len(r.gaps) for r in rows)


# --- contact among what ends the travel


def test_contact_is_one_of_the_things_that_end_the_travel() -> None:
    job = _bare(demo_jobs()[1])
    axle = job.vehicle.axle("rear")
    under = axle.tire.loaded_radius_mm + axle.tube_mm / 2 + 30.0
    shelf = _block("shelf", ahead_mm=axle.center[0] + 60.0, long_mm=120.0, left_mm=420.0, wide_mm=60.0, under_mm=under,
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
    rows = json.loads(capsys.readouterr().out)
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
    assert run(["clearances", str(bare)]) == 2
    assert "has no links yet" in capsys.readouterr().err


def test_pairs_of_several_studies_are_told_once() -> None:
    study = studied(1)
    both = merged([study, study])
    assert [g.names for g in both.gaps] == [g.names for g in study.gaps]
    names = [frozenset(g.names) for g in study.gaps]
    assert len(set(names)) == len(names)
    assert isinstance(study.gaps[0].a, Hard)
    assert {gap_key(g) for g in study.gaps} <= {f"gap_{k}_mm" for k in (
        "tires", "links", "shaft", "steering", "springs", "lines", "axle", "body", "ground")}  # fmt: skip
