"""The build sheet: what is cut and bought, whether it fits together, templates at full size, wrong input in sentences."""

import csv
import json
from io import BytesIO, StringIO
from pathlib import Path

import ezdxf
import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st
from pypdf import PdfReader

from even_stance.cli import run
from even_stance.errors import InputError
from even_stance.exchange.demo import demo_jobs
from even_stance.exchange.jobfile import load_job, save_job
from even_stance.exchange.papers import PAPERS
from even_stance.exchange.tables import shopping_csv
from even_stance.exchange.templates import templates_dxf, templates_pdf
from even_stance.judgement.build import build_findings, judged_links, spare_words
from even_stance.judgement.catalog.layouts import BASES, LATERALS, BaseKey, LateralKey
from even_stance.judgement.catalog.parts import JOINTS, TUBES, fitted_end, generic_parts, starting_parts
from even_stance.judgement.catalog.starter import NewJob, new_job, with_starter
from even_stance.mechanics.struts import section_area
from even_stance.shop.buildsheet import study_build
from even_stance.shop.counting import bolt_length, count_parts
from even_stance.shop.cutting import plan_cuts
from even_stance.shop.drawer import drawer_of, dump_drawer, load_drawer, with_part
from even_stance.shop.orderofwork import work_steps
from even_stance.shop.plates import plates_of
from even_stance.shop.tubeends import lug_spots, lug_template, saddle_template, sawn_template
from even_stance.study.cutlist import cut_list, machine_readable_cuts
from even_stance.study.drawing import project
from even_stance.study.pieces import pieces
from even_stance.study.strength import compared, study_strength
from even_stance.vehicle.build import Joint, Tube
from even_stance.vehicle.edits import (
    change_parts,
    choose_hole,
    fit_parts,
    made,
    move_by,
    set_axle,
    set_build,
    set_price,
    take_parts_off,
    tick,
    with_changes,
)
from even_stance.vehicle.job import Job
from even_stance.vehicle.members import Rod, Watts
from even_stance.vehicle.spots import Spot

IN = 25.4
COUPE, RIG = 1, 2


def fitted(job: Job) -> Job:
    return fit_parts("Parts", [starting_parts(p, job.units == "metric") for p in pieces(job.vehicle)]).apply(job)


def _cut(job: Job, axle: str, part: str):  # type: ignore[no-untyped-def]
    return next(c for c in cut_list(job.vehicle, job.units) if (c.piece.axle, c.piece.part) == (axle, part))


def test_a_cut_length_by_hand() -> None:
    """As the brief defines it: 30 in pin to pin; at each end a 3/4-16 rod end 2 7/8 from ball center to shank end, 1 1/8
    engaged, bung shoulder 1/4: 30 - 2 (2 7/8 - 1 1/8 + 1/4) = 26 in."""
    job = new_job(NewJob("Test", "trail", "us", 118 * IN, 64 * IN, 35 * IN, 12.5 * IN), "triangulated")
    piece = next(p for p in pieces(job.vehicle) if p.part == "Lower left")
    job = move_by(Spot("rear", "Lower left", "chassis"), 0.0, 0.0, 0.0, both_sides=False).apply(job)
    at = np.array(piece.second.xyz) + 30 * IN * np.subtract(piece.first.xyz, piece.second.xyz) / piece.pin_mm
    off = at - np.array(piece.first.xyz)
    job = move_by(Spot("rear", "Lower left", "chassis"), *off.tolist(), both_sides=False).apply(job)
    joint = next(j for j in JOINTS if j.name.startswith("3/4 bore, 3/4-16"))
    tube = next(t for t in TUBES if t.name == "1 3/4 x 0.120")
    job = fitted(job)
    ends = {n: with_changes(fitted_end(joint, tube, job.vehicle.build.links[0].first.bolt, n == "second"),
                            engaged_mm=1.125 * IN) for n in ("first", "second")}  # fmt: skip
    job = change_parts("rear", "Lower left", "By hand", {"tube": tube, **ends}).apply(job)
    cut = _cut(job, "rear", "Lower left")
    assert cut.piece.pin_mm == pytest.approx(30 * IN)
    assert cut.cut_mm == pytest.approx(26 * IN)
    # Thread 1 3/4 long, jam nut 0.4125: 1.3375 may go in, 1.125 does; one diameter has to stay.
    for end in cut.ends:
        assert end.out_mm == pytest.approx(0.375 * IN)
        assert end.in_mm == pytest.approx((1.75 - 0.4125 - 1.125) * IN, abs=0.01)
    assert cut.sure_mm == pytest.approx(np.hypot(cut.piece.first.sure, cut.piece.second.sure))
    assert cut.spare_mm == pytest.approx(min(cut.out_mm, cut.in_mm) - cut.sure_mm)


@given(st.integers(0, 4), st.sampled_from(JOINTS), st.floats(20.0, 40.0))
def test_swapping_joints_cuts_anew_and_the_pins_stay(demo: int, joint: Joint, engaged: float) -> None:
    job = demo_jobs()[demo]
    link = next(p for p in job.vehicle.build.links if p.first.joint is not None and p.second.joint is not None)
    end = with_changes(fitted_end(joint, link.tube, link.first.bolt or _bolt(), False), engaged_mm=engaged)
    other = change_parts(link.axle, link.part, "Swap", {"first": end, "second": with_changes(end, hand="left")}).apply(
        job
    )
    cut = _cut(other, link.axle, link.part)
    assert cut.piece.pin_mm == pytest.approx(_cut(job, link.axle, link.part).piece.pin_mm)
    assert cut.cut_mm + sum(e.off_mm for e in cut.ends) == pytest.approx(cut.piece.pin_mm)
    assert cut.ends[0].off_mm == pytest.approx(joint.shank_mm - engaged + end.bung.shoulder_mm)  # type: ignore[union-attr]
    # A turn of the tube screws both ends alike: what goes in at one end is let out of the pin-to-pin length.
    deeper = change_parts(link.axle, link.part, "In", {"engaged_mm": engaged - 5.0}, end="ends").apply(other)
    assert _cut(deeper, link.axle, link.part).cut_mm == pytest.approx(cut.cut_mm - 10.0)


def _bolt():  # type: ignore[no-untyped-def]
    return next(p for p in generic_parts() if p.sort == "bolt")


def test_every_demo_has_its_sheet() -> None:
    for job in demo_jobs():
        study = study_build(job)
        assert not study.missing
        assert len(study.cuts) == len(pieces(job.vehicle))
        assert len(study.uses) == len(study.cuts)
        assert all(c.cut_mm > 100.0 for c in study.cuts)
        hands = [h for line in study.counted.lines if line.sort == "joint" for h in ("left", "right")
                 for _ in range(line.count) if f"{h}-hand" in line.what]  # fmt: skip
        assert hands.count("left") == hands.count("right") == len(study.cuts)
        for _, plan in study.counted.plans:
            assert plan.exact


def test_a_double_four_link_takes_sixteen_joints_eight_of_each_hand() -> None:
    """Common practice, no source: a double four-link truck needs 16 joints, 8 of each hand."""
    job = demo_jobs()[RIG]
    links = tuple(p for p in job.vehicle.build.links if "ram" not in p.part)
    counted = count_parts(set_build("Links", links=links).apply(job).vehicle, "metric")
    joints = {
        hand: sum(n.count for n in counted.lines if n.sort == "joint" and hand in n.what) for hand in ("left", "right")
    }
    assert joints == {"left": 8, "right": 8}
    assert sum(n.count for n in counted.lines if n.sort == "nut") == 16
    assert sum(n.count for n in counted.lines if n.sort == "bung") == 16
    assert sum(n.count for n in counted.lines if n.sort == "spacers") == 16


def test_four_cuts_lose_half_an_inch() -> None:
    """Common practice, no source: a saw takes 1/8 in; 4 pieces of 17 7/8 in just come out of a 72 in bar, 17 15/16 not."""
    just = plan_cuts([(f"p{i}", 17.875 * IN) for i in range(4)], [72 * IN], IN / 8)
    assert len(just.bars) == 1
    assert just.bars[0].left_mm == pytest.approx(0.0, abs=1e-6)
    assert len(plan_cuts([(f"p{i}", 17.9375 * IN) for i in range(4)], [72 * IN], IN / 8).bars) == 2


WRONG = [
    ("same hands", {"hand": "right"}, "ends", "both threads are right-hand"),
    ("spacers wider than the gap", {"gap_mm": 40.0}, "ends", "wider than the bracket’s gap"),
    ("gap not filled", {"gap_mm": 90.0}, "ends", "open; wider spacers or shims"),
    ("less than a diameter", {"engaged_mm": 8.0}, "ends", "less than one diameter"),
    ("too deep", {"engaged_mm": 200.0}, "ends", "more than its thread"),
    ("no wrench", {"room_mm": 8.0}, "first", "no wrench goes on"),
]  # fmt: skip


@pytest.mark.parametrize(("what", "change", "end", "sentence"), WRONG, ids=[w[0] for w in WRONG])
def test_what_does_not_go_together_is_said(what: str, change: dict[str, object], end: str, sentence: str) -> None:
    job = demo_jobs()[0]
    job = change_parts("rear", "Upper left", what, change, end=end).apply(job)
    cut = _cut(job, "rear", "Upper left")
    assert any(sentence in w for w in cut.wrong), cut.wrong
    assert any(sentence in f.sentence for f in build_findings(job))
    assert study_build(job).cuts  # the rest still works
    assert any("lower" in c.piece.words and not c.wrong for c in cut_list(job.vehicle))


def test_a_link_shorter_than_its_joints_and_odd_tubes() -> None:
    job = demo_jobs()[0]
    piece = _cut(job, "rear", "Upper left").piece
    nearer = (1.0 - 100.0 / piece.pin_mm) * np.subtract(piece.second.xyz, piece.first.xyz)
    close = move_by(Spot("rear", "Upper left", "chassis"), *nearer.tolist()).apply(job)
    cut = _cut(close, "rear", "Upper left")
    assert cut.cut_mm < 0.0
    assert any("longer than pin to pin; no tube is left" in w for w in cut.wrong)
    counted = count_parts(close.vehicle, "us")
    assert any("no length left to cut" in w for w in counted.unplanned)
    assert any(tube.name == "2 x 0.250" for tube, _ in counted.plans)
    with pytest.raises(InputError, match="more than half of the outside"):
        made(Tube, name="thick", outside_mm=30.0, wall_mm=16.0)
    long = set_build("Bars", bars_mm=(500.0,)).apply(job)
    assert any("longer than the longest bar" in w for w in count_parts(long.vehicle, "us").unplanned)
    with pytest.raises(InputError, match="has no parts yet"):
        change_parts("rear", "Upper left", "x", {"hit": True}).apply(take_parts_off("rear", "Upper left").apply(job))


def test_bungs_bolts_and_swing_that_do_not_fit() -> None:
    job = demo_jobs()[0]
    parts = job.vehicle.build.of("rear", "Upper left")
    assert parts is not None
    big = next(t for t in TUBES if t.name == "1 1/4 x 0.120")
    wrong = _cut(change_parts("rear", "Upper left", "Tube", {"tube": big}).apply(job), "rear", "Upper left").wrong
    assert any("turn it down or choose another" in w for w in wrong)
    bung = with_changes(parts.first.bung, pitch_mm=IN / 10)
    wrong = _cut(
        change_parts("rear", "Upper left", "Bung", {"bung": bung}, "ends").apply(job), "rear", "Upper left"
    ).wrong
    assert any("does not screw into" in w for w in wrong)
    bolt = with_changes(parts.first.bolt, diameter_mm=25.4, name="1-8")
    wrong = _cut(
        change_parts("rear", "Upper left", "Bolt", {"bolt": bolt}, "ends").apply(job), "rear", "Upper left"
    ).wrong
    assert any("does not go through" in w for w in wrong)
    still = change_parts("rear", "Upper left", "Bare", {"spacers": None, "gap_mm": 22.225}, "ends").apply(job)
    assert any("is what Links reckons with" in w for w in _cut(still, "rear", "Upper left").wrong)


def test_pairs_are_really_equal() -> None:
    job = demo_jobs()[0]
    assert not [f for f in build_findings(job) if "twin" in f.sentence]
    one = change_parts("rear", "Upper left", "One side", {"engaged_mm": 22.0}, "ends", both=False).apply(job)
    assert any("alike pin to pin, but the tubes differ" in f.sentence for f in build_findings(one))
    moved = move_by(Spot("rear", "Upper left", "chassis"), 2.0, 0.0, 0.0, both_sides=False).apply(job)
    assert any("out of square" in f.sentence for f in build_findings(moved))


def test_the_threads_cover_the_tape_or_not() -> None:
    job = demo_jobs()[0]
    cut = _cut(job, "rear", "Upper left")
    assert cut.covered
    assert "no re-cut expected" in spare_words(job, cut)
    axle = job.vehicle.axle("rear")
    loose = {end: with_changes(m, at=with_changes(m.at, sure=30.0)) for end, m in axle.member("Upper left").mounts.items()
             if not m.holes}  # fmt: skip
    members = tuple(with_changes(m, **loose) if m.name == "Upper left" else m for m in axle.members)
    unsure = set_axle("rear", "Loose tape", members=members).apply(job)
    cut = _cut(unsure, "rear", "Upper left")
    assert not cut.covered
    assert "re-cut may be needed" in spare_words(unsure, cut)
    assert any(f.code == "recut" for f in build_findings(unsure))


def test_strength_by_hand_and_its_advice() -> None:
    """A rock of half the weight at mid-span of the rear lower: M = F L / 4 over S I / c, and what stands on it adds."""
    job = demo_jobs()[0]
    use = next(u for u in study_strength(job.vehicle, job.loads) if u.cut.piece.part == "Lower left")
    rock = next(u for u in use.uses if u.case == "Rock at mid-span")
    force = 0.5 * job.vehicle.mass_kg * 9.80665
    inertia = np.pi / 64 * (50.8**4 - 38.1**4)
    bare = force * use.cut.piece.pin_mm / 4.0 / (60 * 6.894757 * inertia / 25.4)
    assert rock.load_n == pytest.approx(force)
    assert bare < rock.share < 1.2 * bare
    heavy = set_build("Rock", rock_n=2.0 * force).apply(job)
    _, verdicts = judged_links(heavy)
    lower = next(v for v in verdicts if v.name == "Rear lower")
    assert lower.state == "high"
    assert lower.try_this.startswith(("2 1/4 x 0.375", "2 1/4 x 0.250", "no tube"))
    rows = compared(heavy.vehicle, heavy.loads, use, TUBES[:3])
    assert [t for t, _, _ in rows] == list(TUBES[:3])
    weight = float(section_area(TUBES[0].outside_mm, TUBES[0].inside_mm)) * 7850e-9 * use.cut.cut_mm
    assert rows[0][2] == pytest.approx(weight)


def test_arms_are_judged_in_bending_and_legs_alone() -> None:
    for layout in ("radius_arms", "torque_arm", "center_arm"):
        try:
            job = fitted(new_job(NewJob("Test", "trail", "us", 118 * IN, 64 * IN, 35 * IN, 12.5 * IN), layout))  # type: ignore[arg-type]
        except KeyError:
            continue
        job = set_axle("rear", "Weights", load_kg=900.0, unsprung_kg=200.0).apply(job)
        job = set_axle("front", "Weights", load_kg=1000.0, unsprung_kg=200.0).apply(job)
        for use in study_strength(job.vehicle, job.loads):
            piece = use.cut.piece
            if piece.bends:
                assert use.uses, (layout, piece.part, use.missing)
                assert use.cut.ends[1].engaged_mm == 0.0
                assert all(np.isfinite(u.share) for u in use.uses)


def test_no_weights_is_a_sentence() -> None:
    job = fitted(new_job(NewJob("Test", "trail", "us", 118 * IN, 64 * IN, 35 * IN, 12.5 * IN), "triangulated"))
    for key in ("rear", "front"):
        job = set_axle(key, "Weights", unsprung_kg=0.0).apply(job)
        job = set_axle(key, "Weights", load_kg=0.0).apply(job)
    uses = study_strength(job.vehicle, job.loads)
    assert any("weight" in " ".join(u.missing).lower() for u in uses)
    said = study_build(job).verdicts
    assert said
    assert {v.state for v in said} == {"not_judged"}
    assert any("weight" in v.sentence.lower() for v in said)


def test_counts_prices_and_ticks(tmp_path: Path) -> None:
    job = demo_jobs()[0]
    line = next(n for n in count_parts(job.vehicle, "us").lines if n.sort == "joint")
    job = set_price(line.what, 35.5).apply(job)
    job = tick(line.what, True).apply(job)
    counted = count_parts(job.vehicle, "us")
    again = next(n for n in counted.lines if n.what == line.what)
    assert again.cost == pytest.approx(35.5 * line.count)
    tube = next(n for n in counted.lines if n.what == "2 x 0.250")
    assert tube.cost == pytest.approx(41.0 * tube.meters)
    assert counted.cost == pytest.approx(sum(n.cost or 0.0 for n in counted.lines))
    rows = list(csv.DictReader(StringIO(shopping_csv(job))))
    assert next(r for r in rows if r["part"] == line.what)["there"] == "yes"
    job = set_price(line.what, None).apply(job)
    assert next(n for n in count_parts(job.vehicle, "us").lines if n.what == line.what).cost is None
    end = job.vehicle.build.links[-1].first
    needs = end.gap_mm + 2 * end.plate_mm + 1.25 * end.bolt.diameter_mm  # type: ignore[union-attr]
    assert needs <= bolt_length(end, "us") < needs + 6.36
    path = tmp_path / "job.stance"
    save_job(job, path)
    assert load_job(path)[0].vehicle.build == job.vehicle.build


def test_one_hole_changed_changes_its_line_alone() -> None:
    job = demo_jobs()[0]
    before = {c.piece.words: c.cut_mm for c in cut_list(job.vehicle)}
    mount = job.vehicle.axle("rear").member("Lower left").mounts["chassis"]
    hole = 1 if mount.hole == 0 else 0
    after = {
        c.piece.words: c.cut_mm
        for c in cut_list(choose_hole(Spot("rear", "Lower left", "chassis"), hole).apply(job).vehicle)
    }
    assert {w for w in before if abs(before[w] - after[w]) > 1e-6} == {"rear lower left", "rear lower right"}


# --- templates


@pytest.mark.parametrize("demo", range(5))
def test_every_plate_is_whole_and_its_holes_are_in_it(demo: int) -> None:
    job = demo_jobs()[demo]
    plates = plates_of(job.vehicle, job.units)
    assert plates
    for plate in plates:
        assert plate.outline.is_valid
        assert plate.outline.geom_type == "Polygon", plate.name
        assert plate.area_mm2 > 400.0
        for x, y, d, _ in plate.holes:
            rim = shapely.Point(x, y).buffer(0.5 * d)
            assert plate.outline.contains(rim) or "farther from the axle’s middle" in plate.wrong, (plate.name, x, y)
    assert len({p.name for p in plates}) == len(plates)


def test_axle_brackets_fit_the_tube_and_show_every_hole() -> None:
    job = demo_jobs()[0]
    plates = {p.name: p for p in plates_of(job.vehicle, "us")}
    axle = job.vehicle.axle("rear")
    lower = plates["Rear lower, axle end bracket"]
    mount = axle.member("Lower left").mounts["axle"]
    to_tube = np.array([-axle.center[0] + mount.at.x, axle.center[2] - mount.at.z])
    tube = shapely.Point(*to_tube).buffer(0.5 * axle.tube_mm, quad_segs=256)
    assert lower.outline.intersection(tube).area < 0.5
    assert lower.outline.distance(tube) < 0.02
    frame = plates["Rear lower, frame end bracket"]
    holes = axle.member("Lower left").mounts["chassis"].holes
    assert len(frame.holes) == len(holes)
    apart = abs(frame.holes[1][1] - frame.holes[0][1])
    assert apart == pytest.approx(abs(holes[1].z - holes[0].z))


def test_templates_come_back_at_full_size_from_dxf_and_paper(tmp_path: Path) -> None:
    job = demo_jobs()[RIG]
    made_here = [*plates_of(job.vehicle, job.units), saddle_template(45.0, 70.0, 55.0, 6.0, "metric"),
                 sawn_template(45.0, 40.0, "metric"), lug_template((5, 114.3), (6, 139.7), 14.3, 70.0, "metric")]  # fmt: skip
    for template in made_here:
        path = tmp_path / "t.dxf"
        path.write_bytes(templates_dxf(job, [template]))
        space = ezdxf.readfile(path).modelspace()
        rings = [shapely.Polygon([p[:2] for p in e.get_points()]) for e in space.query('LWPOLYLINE[layer=="CUT"]')]
        whole = rings[0]
        for hole in rings[1:]:
            whole = whole.difference(hole)
        assert whole.symmetric_difference(template.outline).area < 0.01 * template.outline.length
        circles = sorted((round(e.dxf.center.x, 3), round(2 * e.dxf.radius, 3)) for e in space.query("CIRCLE"))
        assert circles == sorted((round(x, 3), round(d, 3)) for x, _, d, _ in template.holes)
        _on_paper(templates_pdf(job, [template]), template.rings[0])


def _on_paper(paper: bytes, ring: np.ndarray) -> None:  # type: ignore[type-arg]
    """The outline's own path commands on the pages: as wide and high as it is, to 0.01 mm (points of 1/72 in)."""
    pages = PdfReader(BytesIO(paper)).pages
    assert "must measure 100 mm" in pages[0].extract_text()
    words = pages[0].get_contents().get_data().decode("latin-1").split()  # type: ignore[union-attr]
    paths: list[list[tuple[float, float]]] = []
    for i, word in enumerate(words):
        if word in ("m", "l"):
            place = (float(words[i - 2]) / 72 * 25.4, float(words[i - 1]) / 72 * 25.4)
            if word == "m":
                paths.append([place])
            else:
                paths[-1].append(place)
    spans = [np.ptp(np.array(p), axis=0) for p in paths if len(p) == len(ring)]
    assert any(np.abs(span - np.ptp(ring, axis=0)).max() < 0.011 for span in spans)


def test_a_saddle_wraps_around_and_a_square_one_is_even() -> None:
    square = saddle_template(40.0, 80.0, 90.0, 0.0, "metric")
    left, _, right, top = shapely.bounds(square.outline)
    assert right - left == pytest.approx(np.pi * 40.0)
    # By hand: 40 - sqrt(40^2 - 20^2) = 5.359 mm deep, twice around.
    assert top == pytest.approx(40.0 - np.sqrt(40.0**2 - 20.0**2), abs=1e-6)
    for wrong, words in (((100.0, 80.0, 90.0, 0.0), "passes the other one by"), ((40.0, 80.0, 5.0, 0.0), "too flat to cut"),
                         ((0.0, 80.0, 90.0, 0.0), "has no size"), ((40.0, 0.0, 90.0, 0.0), "has no size")):  # fmt: skip
        with pytest.raises(InputError, match=words):
            saddle_template(*wrong, "metric")


def test_lugs_are_turned_to_where_most_is_left() -> None:
    template = lug_template((5, 4.5 * IN), (5, 5.5 * IN), 14.2875, 70.0, "us")
    new = np.array([h[:2] for h in template.holes if h[3] == "new"])
    old = np.array([h[:2] for h in template.holes if h[3] == "old"])
    nearest = np.linalg.norm(new[:, None] - old[None], axis=-1).min()
    # Half way between: by the law of cosines with 36 degrees.
    r, q = 2.25 * IN, 2.75 * IN
    assert nearest == pytest.approx(np.sqrt(r * r + q * q - 2 * r * q * np.cos(np.radians(36.0))), abs=0.05)
    assert np.linalg.norm(lug_spots(5, 114.3), axis=1) == pytest.approx(np.full(5, 57.15))
    for wrong in (((2, 100.0), (5, 120.0)), ((5, 60.0), (5, 120.0))):
        with pytest.raises(InputError):
            lug_template(*wrong, 14.0, 70.0, "us")


# --- order of work, drawer, command line


@pytest.mark.parametrize("demo", range(5))
def test_the_order_of_work_holds_before_it_welds(demo: int) -> None:
    job = demo_jobs()[demo]
    steps = work_steps(job)
    keys = [s.key for s in steps]
    assert len(set(keys)) == len(keys)
    assert keys.index("cycle") < keys.index("cycle-hold") < keys.index("weld") < keys.index("again")
    assert keys[0] == "stand"
    assert sum(s.hold for s in steps) >= 4
    for axle in job.vehicle.axles:
        assert (f"{axle.key}.square" in keys) == bool(axle.members)
        if axle.steering is not None:
            assert keys.index(f"{axle.key}.locks") < keys.index("weld")
    done = tick(steps[1].key, True, steps=True).apply(job)
    assert steps[1].key in done.vehicle.build.done
    assert tick(steps[1].key, False, steps=True).apply(done).vehicle.build.done == tuple(
        k for k in job.vehicle.build.done if k != steps[1].key
    )


def test_a_drawer_goes_out_and_comes_back_and_says_what_is_wrong() -> None:
    own = [made(Tube, name="mine", outside_mm=42.0, wall_mm=3.0, yield_mpa=300.0), JOINTS[0]]
    assert load_drawer(dump_drawer(own)) == own
    assert load_drawer(dump_drawer(generic_parts())) == list(generic_parts())
    thicker = with_changes(own[0], wall_mm=4.0)
    assert with_part(own, thicker) == [JOINTS[0], thicker]
    assert drawer_of([thicker])[0] == thicker
    rows = json.loads(dump_drawer(own))
    rows["parts"][0]["wall_mm"] = 30.0
    for text, words in (("{", "no JSON"), ("[]", "no parts drawer"), (json.dumps(rows), "Part 1"),
                        (json.dumps(rows | {"version": 9}), "version 9"),
                        (json.dumps(rows | {"parts": [{"sort": "anvil"}]}), "Part 1")):  # fmt: skip
        with pytest.raises(InputError, match=words):
            load_drawer(text)


def test_cut_list_by_command(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    job = demo_jobs()[COUPE]
    path = tmp_path / "coupe.stance"
    save_job(job, path)
    assert run(["cut-list", str(path)]) == 0
    rows = json.loads(capsys.readouterr().out)["pieces"]
    full = json.loads(json.dumps(machine_readable_cuts(job.vehicle)))
    assert [r["part"] for r in rows] == [r["part"] for r in full]
    assert [r["cut_mm"] for r in rows] == pytest.approx([r["cut_mm"] for r in full], abs=1e-6)
    assert {"part", "stock", "cut_mm", "ends", "sure_mm", "spare_mm"} <= rows[0].keys()
    assert {"joint", "hand", "engaged_mm", "engaged_min_mm", "out_mm", "in_mm"} <= rows[0]["ends"][0].keys()
    panhard = next(r for r in rows if r["part"] == "rear panhard")
    assert "less than one diameter" in panhard["wrong"][0]
    save_job(set_build("None", links=()).apply(job), path)
    with pytest.raises(InputError, match="no parts are chosen"):
        run(["cut-list", str(path)])
    some = take_parts_off("rear", "Panhard").apply(job)
    save_job(some, path)
    assert run(["cut-list", str(path)]) == 0
    assert "no parts are chosen for rear panhard" in capsys.readouterr().err


@pytest.mark.parametrize("what", ["cut-list", "shopping-list", "shopping-table", "templates", "order-of-work"])
def test_papers_of_the_build_sheet(what: str) -> None:
    job = demo_jobs()[0]
    content = PAPERS[what](job)
    if what == "shopping-table":
        assert b"rod end" in content
        return
    text = " ".join(page.extract_text() for page in PdfReader(BytesIO(content)).pages)
    assert "qualified person" in text or "qualified people" in text
    assert {"cut-list": "26 7/16", "shopping-list": "left-hand", "templates": "bracket", "order-of-work": "Hold"}[
        what
    ] in text
    if what != "order-of-work":
        with pytest.raises(InputError):
            PAPERS[what](
                set_build("None", links=()).apply(
                    new_job(NewJob("T", "trail", "us", 3000, 1600, 900, 300), "triangulated")
                )
            )


@pytest.mark.parametrize("lateral", list(LATERALS))
@pytest.mark.parametrize("base", list(BASES))
def test_every_hole_of_every_template_is_where_a_joint_of_the_job_is(base: BaseKey, lateral: LateralKey) -> None:
    """Each hole, put back on the car, is a hole of a bracket, a crank's joint or a spring's mount there, and no other."""
    job = with_starter(demo_jobs()[1], "rear", base, lateral)
    job = fit_parts("Parts", [starting_parts(p) for p in pieces(job.vehicle)]).apply(job)
    places = {h.xyz for a in job.vehicle.axles for part in a.parts for m in part.mounts.values()
              for h in (*m.holes, m.at)}  # fmt: skip
    used: set[tuple[float, float, float]] = set()
    for plate in plates_of(job.vehicle, "us"):
        if plate.view is None or plate.origin is None or plate.name.startswith("Crossmember"):
            continue
        nil = project(plate.view, plate.origin)
        for x, y, _, _ in plate.holes:
            near = [
                p for p in places if np.hypot(*np.subtract(project(plate.view, p), (nil[0] + x, nil[1] + y))) < 1e-6
            ]
            assert near, f"{plate.name}: a hole at {x:.1f}, {y:.1f} belongs to no joint"
            used |= set(near)
    for member in job.vehicle.axle("rear").members:
        if isinstance(member, Watts):
            assert {m.at.xyz for m in (member.pivot, member.crank_left, member.crank_right)} <= used
        if isinstance(member, Rod) and member.side != "right":
            assert {h.xyz for m in member.mounts.values() for h in (*m.holes, m.at)} <= used


def test_a_bracket_is_cut_to_the_tube_it_sits_on(coupe_job: Job) -> None:
    """Its round is the axle tube's, about the axle's middle: points of its edge there are half a tube away from it."""
    axle = coupe_job.vehicle.axle("rear")
    plates = [p for p in plates_of(coupe_job.vehicle, "us") if p.name.startswith("Rear lower, axle")]
    assert plates
    for plate in plates:
        assert plate.view is not None
        assert plate.origin is not None
        middle = np.subtract(project(plate.view, axle.center), project(plate.view, plate.origin))
        far = np.hypot(*(np.concatenate(plate.rings) - middle).T)
        assert far.min() == pytest.approx(0.5 * axle.tube_mm, abs=0.01)
        assert np.count_nonzero(far < 0.5 * axle.tube_mm + 0.02) > 20
