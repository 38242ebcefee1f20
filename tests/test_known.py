"""How a place is known: taped, built, worked out, typed or guessed; a guess is never said as a tape's sixteenth."""

import json
import re
from pathlib import Path

import pytest

from even_stance.exchange.buildpdf import cutlist_pdf
from even_stance.exchange.jobfile import dump_job, parse_job
from even_stance.judgement.build import build_findings, spare_words
from even_stance.judgement.catalog.springs import starting_springs
from even_stance.judgement.catalog.starter import NewJob, new_job, with_starter
from even_stance.judgement.catalog.steerings import starting_steering
from even_stance.judgement.findings import stance_findings
from even_stance.judgement.known import guessed_spots, how_known, point_name
from even_stance.judgement.verdicts import judge
from even_stance.replies.checking import check
from even_stance.shop.plates import plates_of
from even_stance.shop.points import Known, mirrored, offset_from
from even_stance.shop.readings import new_reading
from even_stance.shop.shaftorder import order_lines
from even_stance.shop.sheet import sheet, take_reading
from even_stance.study.cutlist import cut_list, machine_readable_cuts
from even_stance.study.drawing import Joint
from even_stance.study.figures import study_axle
from even_stance.study.floor import live_shapes
from even_stance.study.hardparts import hard_parts
from even_stance.study.places import AxlePlace
from even_stance.vehicle.edits import (
    add_springs,
    move_by,
    place_point,
    set_holes,
    set_known,
    set_steering,
    set_sure,
    with_changes,
)
from even_stance.vehicle.job import Job
from even_stance.vehicle.measuring import Tool
from even_stance.vehicle.records import GUESS_MM, TAPE_MM, Point, guess_at
from even_stance.vehicle.spots import Spot, all_spots, mount_of, point_of
from tests.test_said import said

IN = 25.4
UPPER = Spot("rear", "Upper left", "chassis")


def fresh() -> Job:
    """A new job as it starts, with springs and steering of the catalog."""
    job = with_starter(
        new_job(NewJob("New", "trail", "us", 110 * IN, 62 * IN, 33 * IN, 12 * IN)), "front", "three_link"
    )
    for key in ("front", "rear"):
        job = add_springs(key, starting_springs(job, key, "coil_over"), "Springs").apply(job)
    return set_steering("front", starting_steering(job.vehicle, job.vehicle.axle("front"), "crossover")).apply(job)


def test_every_place_of_a_new_job_is_a_guess_and_as_unsure_as_one() -> None:
    job = fresh()
    spots = list(all_spots(job))
    assert guessed_spots(job) == spots
    assert {point_of(job, s).sure for s in spots} == {GUESS_MM}
    assert all(h.known == "guessed" for h in mount_of(job, UPPER).holes)
    finding = next(f for f in stance_findings(job) if f.code == "guesses")
    assert finding.severity == "missing"
    assert f"{len(spots)} of {len(spots)}" in finding.sentence


def test_what_is_put_somewhere_on_purpose_is_to_be_built_there() -> None:
    job = fresh()
    moved = move_by(UPPER, 0.0, 0.0, 12.0).apply(job)
    twin = Spot("rear", "Upper right", "chassis")
    for spot in (UPPER, twin):
        assert (point_of(moved, spot).known, point_of(moved, spot).sure) == ("typed", TAPE_MM)
        assert all((h.known, h.sure) == ("typed", TAPE_MM) for h in mount_of(moved, spot).holes)
    assert point_of(move_by(UPPER, 0.0, 0.0, 0.0).apply(job), UPPER).known == "guessed"
    drilled = set_holes(UPPER, 4, 20.0).apply(job)
    assert {h.known for h in mount_of(drilled, UPPER).holes} == {"guessed"}
    assert point_of(set_sure(UPPER, 2.0).apply(job), UPPER).known == "typed"
    assert point_of(set_sure(UPPER, 40.0).apply(job), UPPER).known == "guessed"


def test_a_guess_said_to_be_typed_is_as_sure_as_a_tape_and_back_again() -> None:
    job = fresh()
    typed = set_known(guessed_spots(job), "typed").apply(job)
    assert guessed_spots(typed) == []
    assert {point_of(typed, s).sure for s in all_spots(typed)} == {TAPE_MM}
    assert guessed_spots(set_known([UPPER], "guessed", both_sides=True).apply(typed)) == [
        UPPER, Spot("rear", "Upper right", "chassis")
    ]  # fmt: skip


@pytest.mark.parametrize(
    ("tool", "known"), [("tape", "taped"), ("gauge", "taped"), ("worked_out", "derived"), ("guess", "guessed")]
)
def test_readings_say_how_a_place_is_known_once_all_three_are_there(tool: Tool, known: str) -> None:
    job = fresh()
    at = point_of(job, UPPER)
    rear = job.vehicle.axle("rear")
    for count, (word, mm) in enumerate(
        (("ahead", at.x + rear.behind_front_mm + 3.0), ("left", at.y), ("up", at.z - 2.0)), start=1
    ):
        reading = new_reading(job, f"rear/Upper left/chassis/{word}", "length", mm, tool, "now")
        job = take_reading(reading).apply(job)
        assert how_known(job, UPPER) == (known if count == 3 else "guessed")
    assert point_of(job, UPPER).xyz == pytest.approx((at.x + 3.0, at.y, at.z - 2.0))
    assert point_of(job, UPPER).sure == pytest.approx(max(reading.sure, GUESS_MM if known == "guessed" else 0.0))


def test_what_follows_from_a_guess_is_one() -> None:
    taped = Known("a", Point(x=0.0, y=300.0, z=500.0, known="taped"))
    guess = Known("b", guess_at(0.0, 300.0, 500.0))
    for base, known in ((taped, "derived"), (guess, "guessed")):
        assert mirrored(base).point.known == known
        assert offset_from(base, 10.0, 0.0, 0.0, 1.0).point.known == known
    job = place_point(UPPER, mirrored(taped).point).apply(fresh())
    assert point_of(job, UPPER).xyz == pytest.approx((0.0, -300.0, 500.0))
    assert point_of(job, UPPER).known == "derived"


def test_files_that_did_not_say_it_say_it_on_opening(trail_job: Job) -> None:
    """What has a reading is taped, what has a +/- of its own was typed, and the rest is a guess."""
    data = json.loads(dump_job(with_changes(trail_job, variants=())))
    data["version"] = 2
    rear = data["vehicle"]["axles"][1]
    for member in rear["members"]:
        for end in ("chassis", "axle"):
            for point in (member[end]["at"], *member[end]["holes"]):
                del point["known"]
    lower = next(m for m in rear["members"] if m["name"] == "Lower left")
    lower["axle"]["at"]["sure"] = 3.0
    data["measuring"]["readings"] += [
        {"what": f"rear/Upper left/axle/{way}", "quantity": "length", "value": 500.0, "sure": 1.6, "stage": stage}
        for stage in ("found", "tacked")
        for way in ("ahead", "left", "up")
    ] + [{"what": "rear/Lower right/axle/up", "quantity": "length", "value": 500.0, "sure": 1.6}]
    job = parse_job(json.dumps(data))
    assert point_of(job, Spot("rear", "Lower left", "axle")).known == "typed"
    assert point_of(job, Spot("rear", "Upper left", "axle")).known == "built"
    assert (point_of(job, UPPER).known, point_of(job, UPPER).sure) == ("guessed", GUESS_MM)
    assert point_of(job, Spot("rear", "Lower right", "axle")).known == "guessed"  # just its height was taped
    assert parse_job(dump_job(job)) == job


def test_a_guess_makes_what_rests_on_it_unsure(trail_job: Job) -> None:
    """Sixteen times as unsure a place makes the number that much less sure that rests on places alone."""
    job = trail_job
    mounts = [Spot("rear", m.name, e) for m in job.vehicle.axle("rear").members for e in m.mounts]
    guessed = set_known(mounts, "guessed").apply(job)
    sure = [
        next(v for v in judge(j, study_axle(j.vehicle, j.vehicle.axle("rear"), 0.0, 0.0))
             if v.figure.key == "triangulation_deg").figure.uncertainty
        for j in (job, guessed)
    ]  # fmt: skip
    assert sure[1] / sure[0] == pytest.approx(GUESS_MM / TAPE_MM, rel=1e-6)
    reply = check(guessed, fine=False)
    links = next(j for j in reply.judged if j.key == "triangulation_deg" and j.axle == "rear")
    assert links.rests_on["guessed"] == len(mounts)
    assert {reply.known[point_name(s)] for s in mounts} == {"guessed"}
    assert set(reply.known) == {point_name(s) for s in all_spots(guessed)}


def test_no_cut_is_promised_between_guesses(trail_job: Job) -> None:
    job = set_known([UPPER], "guessed").apply(trail_job)
    cut = next(c for c in cut_list(job.vehicle) if c.piece.part == "Upper left")
    assert cut.piece.guesses == ("frame end",)
    words = spare_words(job, cut)
    assert words.startswith("A guess: nobody taped its frame end")
    assert "no re-cut expected" not in words
    finding = next(f for f in build_findings(job) if f.code == "guessed")
    assert (finding.severity, "rear upper left" in finding.sentence) == ("missing", True)
    rows = {r["part"]: r["guesses"] for r in machine_readable_cuts(job.vehicle)}
    assert rows["rear upper left"] == ["frame end"]
    assert rows["rear upper right"] == []
    assert any("drawn from a guess" in t.note for t in plates_of(job.vehicle, "us") if "upper" in t.name)
    assert not any("drawn from a guess" in t.note for t in plates_of(trail_job.vehicle, "us") if "upper" in t.name)
    assert cutlist_pdf(job) != cutlist_pdf(trail_job)


def test_a_shaft_is_not_ordered_from_guesses_without_a_word(coupe_job: Job) -> None:
    job = set_known([Spot("rear", "", "pinion")], "guessed").apply(coupe_job)
    lines = [dict(order_lines(j, study_axle(j.vehicle, j.vehicle.axle("rear"), 0.0, 0.0))) for j in (coupe_job, job)]
    key = "A guess, to be taped before it is ordered"
    assert key not in lines[0]
    assert lines[1][key] == "pinion yoke"
    # A car in inches is ordered in pounds and feet (1 lb ft = 1.3558179 N m, NIST SP 811).
    said_of = lines[0]["Full throttle, low gear"]
    assert re.search(r"lb.ft", said_of)
    assert "N m" not in said_of


def test_rails_and_housing_that_nobody_taped_are_no_surer_than_a_guess(trail_job: Job) -> None:
    def sure(job: Job, name: str) -> float:
        return next(p for p in hard_parts(job.vehicle) if name in p.name).sure[0][1]

    frame = with_changes(trail_job.vehicle.frame, known="guessed")
    job = with_changes(trail_job, vehicle=with_changes(trail_job.vehicle, frame=frame))
    assert sure(job, "left frame rail") == GUESS_MM > sure(trail_job, "left frame rail")
    for step, fields in (("frame", ("top", "bottom", "out")), ("housing.rear", ("ball", "wide", "nose"))):
        for value, field in zip(
            (600.0, 480.0, 400.0) if step == "frame" else (250.0, 200.0, 130.0), fields, strict=True
        ):
            job = take_reading(new_reading(job, f"{step}.{field}", "length", value, "tape", "now")).apply(job)
    assert sure(job, "left frame rail") < GUESS_MM
    assert job.vehicle.axle("rear").housing is not None
    assert sure(job, "rear housing") < GUESS_MM


def test_tube_and_housing_can_be_taped_in_the_sheet(trail_job: Job) -> None:
    keys = [s.key for s in sheet(trail_job)]
    assert [k for k in keys if k.startswith(("tube.", "housing."))] == ["tube.front", "tube.rear", "housing.rear"]
    job = trail_job
    for field, mm in (("outside", 88.9), ("wall", 9.5)):
        job = take_reading(new_reading(job, f"tube.rear.{field}", "length", mm, "tape", "now")).apply(job)
    axle = job.vehicle.axle("rear")
    assert (axle.tube_mm, axle.tube_wall_mm, axle.tube_known) == (88.9, 9.5, "taped")


def test_a_guess_is_hollow_on_the_floor(trail_job: Job) -> None:
    job = set_known([UPPER], "guessed").apply(trail_job)
    place = AxlePlace(job.vehicle.axle("rear"), None)
    joints = [s for s in live_shapes(job.vehicle, [place], "side", "rear") if isinstance(s, Joint)]
    assert {j.spot: j.guess for j in joints}[UPPER]
    assert sum(j.guess for j in joints) == 1


def test_parts_that_overlap_by_more_than_they_are_unsure_of_are_judged() -> None:
    """Two upper joints 38 mm inside each other, put there by hand."""
    reply = check(said("touching-hidden"), fine=False)
    gap = next(j for j in reply.judged if j.key == "gap_links_mm" and j.axle == "rear")
    assert (gap.state, gap.value) == ("low", pytest.approx(-38.1, abs=0.1))
    assert "Hits: rear upper" in gap.sentence


def test_demo_of_the_guide_has_a_guess_to_look_at() -> None:
    path = Path(__file__).parent.parent / "src" / "even_stance" / "demo" / "1-trail-pickup.stance"
    job = parse_job(path.read_text(encoding="utf-8"))
    assert {s.member for s in guessed_spots(job)} == {"Shock left", "Shock right"}
