"""Ways out of a contact: cures tried on the car, notches, tires, lowering; and the cycle card."""

from dataclasses import replace
from pathlib import Path

import ezdxf
import numpy as np
import pytest
import shapely
from pypdf import PdfReader

from even_stance.errors import InputError
from even_stance.exchange.cardpdf import card_pdf
from even_stance.exchange.demo import demo_jobs
from even_stance.exchange.templates import notch_dxf, notch_pdf
from even_stance.judgement.clearances import (
    close_ones,
)
from even_stance.judgement.search.cures import cures
from even_stance.shop.cyclecard import LEAST, MOST, card, card_rows, suspects, write_found
from even_stance.study.axlestates import steer_ends
from even_stance.study.cargaps import GROUND
from even_stance.study.clearances import measured_again, study_axle_gaps
from even_stance.study.lowering import lowered
from even_stance.study.notch import cut_plate, notch_for
from even_stance.study.tirerack import crossed_at_lock, fit_tires, largest
from even_stance.vehicle.edits import (
    change_thing,
    made,
    put_thing,
    thing_named,
)
from even_stance.vehicle.things import Thing, Tunnel
from tests.cars import bare, block, studied
from tests.conftest import IN

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
    job = bare(demo_jobs()[1])
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
    job = bare(demo_jobs()[1])
    job = put_thing(block("shelf", ahead_mm=-2600.0, long_mm=300.0, under_mm=455.0, high_mm=20.0)).apply(job)
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
