"""Things put on a car: their kinds, how they are taped and taken hold of, drawings and scans of them."""

from pathlib import Path

import ezdxf
import numpy as np
import pytest
import shapely
import trimesh
from scipy.spatial import ConvexHull

from even_stance.errors import InputError
from even_stance.exchange.demo import demo_jobs
from even_stance.exchange.jobfile import dump_job, load_job
from even_stance.exchange.shapes import MOST_TRIANGLES, plate_from, read_outlines, read_scan, thinned
from even_stance.judgement.catalog.things import KINDS, MEASURES, start_thing
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
from even_stance.vehicle.things import Block, Plate, Run, Thing
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
