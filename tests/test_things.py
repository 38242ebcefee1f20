"""Things put on a car: their kinds, how they are taped and taken hold of, drawings and scans of them."""

from pathlib import Path

import ezdxf
import numpy as np
import pytest
import shapely
import trimesh

from even_stance.errors import InputError
from even_stance.exchange.demo import demo_jobs
from even_stance.exchange.jobfile import dump_job, load_job
from even_stance.exchange.meshes import read_scan, thinned
from even_stance.exchange.outlines import plate_from, read_outlines
from even_stance.judgement.catalog.things import KINDS, MEASURES, start_thing
from even_stance.mechanics.triangles import farthest_from, fewer_for_the_eye, nearest_of_triangle
from even_stance.shop.readings import new_reading
from even_stance.shop.sheet import sheet, take_reading
from even_stance.shop.thingtext import points_text, read_points, size_words
from even_stance.study.clearances import study_axle_gaps
from even_stance.study.hardparts import hard_parts
from even_stance.study.things import convex_pieces, cores_of
from even_stance.vehicle.edits import (
    change_thing,
    copy_thing,
    made,
    move_by,
    put_thing,
    shape_thing,
    switch_group,
    take_thing_off,
    thing_named,
    with_changes,
)
from even_stance.vehicle.job import Job
from even_stance.vehicle.spots import Spot, is_there, point_of
from even_stance.vehicle.things import MOST_TRIANGLES, Block, Plate, Run, Thing
from tests.cars import bare, block
from tests.conftest import starter

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
    job = put_thing(with_changes(block("left box", left_mm=300.0), group="bed")).apply(starter())
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
    job = put_thing(block()).apply(starter())
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
    holed = read_outlines(_drawing(tmp_path / "open.dxf", 4, closed=False))
    assert len(holed.outlines) == 1  # the hole alone: its edge is open
    assert "3 open lines were left out" in holed.left_out[0]
    alone = ezdxf.new("R2010", units=4)
    alone.modelspace().add_line((8, 4), (0, 4))
    alone.saveas(tmp_path / "alone.dxf")
    with pytest.raises(InputError, match=r"open: it ends at 0\.0, 4\.0"):
        read_outlines(tmp_path / "alone.dxf")
    (tmp_path / "no.dxf").write_text("not a drawing")
    with pytest.raises(InputError, match="cannot be read"):
        read_outlines(tmp_path / "no.dxf")


def test_blocks_are_opened_and_stray_lines_left_out(tmp_path: Path) -> None:
    """Plates put in as blocks were “no outline”; one stray line refused the whole drawing."""
    drawing = ezdxf.new("R2010", units=4)
    block_ = drawing.blocks.new("PLATE")
    block_.add_lwpolyline([(0, 0), (100, 0), (100, 50), (0, 50)], close=True)
    outer = drawing.blocks.new("TWICE")
    outer.add_blockref("PLATE", (0, 0), dxfattribs={"xscale": 2.0})
    drawing.modelspace().add_blockref("TWICE", (300, 0), dxfattribs={"layer": "CUT"})
    drawing.modelspace().add_line((0, 200), (30, 207))
    drawing.saveas(tmp_path / "blocks.dxf")
    found = read_outlines(tmp_path / "blocks.dxf")
    assert [o.layer for o in found.outlines] == ["CUT"]
    assert plate_from(found, 1.0, "side", 0.0, 5.0).corners == ((300, 0), (500, 0), (500, 50), (300, 50))
    assert found.left_out == ("1 open line was left out: the longest ends at 30.0, 207.0.",)


@pytest.mark.parametrize("height", [float("nan"), float("inf"), 1e300])
def test_a_block_at_no_height_is_left_out(tmp_path: Path, height: float) -> None:
    """Flattening a curve whose height is no number never ended."""
    drawing = ezdxf.new("R2010", units=4)
    space = drawing.modelspace()
    space.add_lwpolyline([(0, 0), (200, 0), (200, 80), (0, 80)], close=True)
    drawing.blocks.new("TAB").add_ellipse((0, 0), (30, 0), 0.5)
    space.add_blockref("TAB", (100, 300, 0)).dxf.insert = (100, 300, height)
    drawing.saveas(tmp_path / "height.dxf")
    found = read_outlines(tmp_path / "height.dxf")
    assert len(found.outlines) == 1
    assert found.left_out


def test_what_is_far_off_or_endless_in_a_drawing_is_left_out(tmp_path: Path) -> None:
    """One coordinate of 1e308 held the program for good; a block that holds itself would too."""
    drawing = ezdxf.new("R2010", units=4)
    space = drawing.modelspace()
    space.add_lwpolyline([(0, 0), (100, 0), (100, 50), (0, 50)], close=True)
    space.add_lwpolyline([(0, 0), (1e308, 0), (100, 50), (0, 50)], close=True)
    space.add_circle((0, 0), 1e300)
    own = drawing.blocks.new("OWN")
    own.add_blockref("OWN", (1, 1))
    own.add_blockref("OWN", (2, 2))
    space.add_blockref("OWN", (0, 0))
    drawing.saveas(tmp_path / "far.dxf")
    found = read_outlines(tmp_path / "far.dxf")
    assert len(found.outlines) == 1
    assert found.left_out == ("2 shapes reach farther than twenty meters.",)
    row = drawing.blocks.new("ROW")
    row.add_circle((0, 0), 5.0)
    space.add_blockref(
        "ROW",
        (0, 0),
        dxfattribs={"row_count": 3000, "column_count": 3000, "row_spacing": 0.001, "column_spacing": 0.001},
    )
    drawing.saveas(tmp_path / "many.dxf")
    with pytest.raises(InputError, match="more than 20,000 shapes"):
        read_outlines(tmp_path / "many.dxf")


def test_many_loose_lines_are_joined_whichever_way_they_run(tmp_path: Path) -> None:
    """400 loose lines took seconds; Shapely's area is the referee."""
    turn = np.linspace(0.0, 2 * np.pi, 2001)[:-1]
    places = np.column_stack((150.0 * np.cos(turn), 90.0 * np.sin(turn)))
    hands = np.random.default_rng(2)
    drawing = ezdxf.new("R2010", units=4)
    for i in hands.permutation(len(places)):
        ends = [places[i], places[(i + 1) % len(places)] + hands.uniform(-0.01, 0.01, 2)]
        drawing.modelspace().add_line(*(ends if hands.random() < 0.5 else ends[::-1]))
    drawing.saveas(tmp_path / "loose.dxf")
    (ring,) = read_outlines(tmp_path / "loose.dxf").outlines
    assert shapely.Polygon(ring.corners).area == pytest.approx(np.pi * 150.0 * 90.0, rel=1e-3)


@pytest.mark.parametrize(("subdivisions", "radius"), [(5, 150.0), (6, 200.0)])
def test_a_thinned_scan_never_grows_by_more_than_a_millimeter(tmp_path: Path, subdivisions: int, radius: float) -> None:
    """A ball of 20,480 triangles was thinned to 258 and grown by 7.8 mm. Referee: places strewn over the whole ball."""
    big = trimesh.creation.icosphere(subdivisions=subdivisions, radius=radius)
    path = tmp_path / "scan.stl"
    big.export(path)
    scan, said = read_scan(path)
    assert len(scan.faces) <= MOST_TRIANGLES
    assert f"{len(scan.faces):,} were kept, and it is taken {scan.grown_mm:.1f} mm larger" in said
    assert 0.0 < scan.grown_mm <= 1.0
    kept = np.array(scan.corners)[np.array(scan.faces)]
    strewn, _ = trimesh.sample.sample_surface(big, 3000, seed=1)
    away = np.min([nearest_of_triangle(strewn, np.broadcast_to(k, (len(strewn), 3, 3))) for k in kept], axis=0)
    assert 0.3 * scan.grown_mm < away.max() <= scan.grown_mm


def test_a_part_that_would_grow_too_much_is_refused_and_a_small_one_kept() -> None:
    ball = trimesh.creation.icosphere(subdivisions=6, radius=900.0)
    with pytest.raises(InputError, match=r"2,000 triangles do not stand for it within 1 mm\. Cut it down"):
        thinned(np.asarray(ball.vertices), np.asarray(ball.faces))
    pipe = trimesh.creation.cylinder(80.0, 600.0, sections=40)
    _, faces, grown = thinned(np.asarray(pipe.vertices), np.asarray(pipe.faces))
    assert grown == 0.0
    assert len(faces) == len(pipe.faces)
    whole = np.asarray(pipe.triangles)
    assert farthest_from(whole, whole, 1.0) == pytest.approx(0.0, abs=1e-9)
    assert farthest_from(whole + np.array((0.0, 0.0, 0.4)), whole, 1.0) == pytest.approx(0.4, abs=0.25)
    seen, drawn = fewer_for_the_eye(np.asarray(ball.vertices), np.asarray(ball.faces), 300)
    assert 50 < len(drawn) <= 300
    assert np.allclose(np.linalg.norm(seen[np.unique(drawn)], axis=1), 900.0, atol=60.0)


@pytest.mark.parametrize("kind", ["stl", "obj", "ply", "off", "3mf"])
def test_scans_of_all_kinds_come_in(tmp_path: Path, kind: str) -> None:
    box = trimesh.creation.box((200.0, 300.0, 100.0))
    path = tmp_path / f"box.{kind}"
    box.export(path)
    scan, said = read_scan(path)
    assert not said
    assert np.ptp(np.array(scan.corners), axis=0) == pytest.approx((200.0, 300.0, 100.0))
    assert len(scan.faces) == 12
    path.write_bytes(path.read_bytes()[:70])
    with pytest.raises(InputError, match=f"box.{kind} (is damaged, or no {kind.upper()} file|holds no triangles)"):
        read_scan(path)


def test_a_scan_that_is_not_there_is_said_in_words(tmp_path: Path) -> None:
    with pytest.raises(InputError, match=r"Scan: .*none\.stl is not there"):
        read_scan(tmp_path / "none.stl")
    with pytest.raises(InputError, match=r"part\.step is of a kind that cannot be read\. Save it as STL, OBJ"):
        read_scan(tmp_path / "part.step")


def test_a_scan_hits_like_the_box_it_is(tmp_path: Path) -> None:
    mesh = trimesh.creation.box((200.0, 300.0, 100.0))
    mesh.apply_translation((-2500.0, 0.0, 950.0))
    path = tmp_path / "box.stl"
    mesh.export(path)
    scan, said = read_scan(path)
    assert not said
    job = bare(demo_jobs()[0])
    box = put_thing(block("box", ahead_mm=-2400.0, long_mm=200.0, wide_mm=300.0, under_mm=900.0, high_mm=100.0)).apply(
        job
    )
    scanned = put_thing(made(Thing, name="box", kind="scan", form=scan)).apply(job)
    ours, theirs = (study_axle_gaps(j.vehicle, j.vehicle.axle("rear")) for j in (scanned, box))
    for gap in (g for g in theirs.gaps if "box" in g.names):
        again = ours.of(*gap.names)
        assert again is not None
        assert again.gap_mm == pytest.approx(gap.gap_mm, abs=0.1)
