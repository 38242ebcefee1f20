from typing import get_args

import numpy as np
import pytest

from even_stance.errors import CannotReachError, InputError, LayoutError
from even_stance.exchange.demo import demo_jobs
from even_stance.judgement.bands import PURPOSE_WORDS, WHOLE_CAR, judged_keys, wanted
from even_stance.judgement.build import link_name
from even_stance.judgement.catalog.layouts import BASES
from even_stance.judgement.catalog.starter import NewJob, new_job, with_starter
from even_stance.judgement.findings import CAUTIONS, layout_findings, number_findings, stance_findings, travel_findings
from even_stance.judgement.standards.purposes import WHY
from even_stance.judgement.verdicts import judge, miss
from even_stance.replies.checking import check
from even_stance.shop.survey import survey
from even_stance.study.answers import answers_at, study_postures
from even_stance.study.figures import layout_figures, study_axle
from even_stance.study.model import layout_of, linkage_from, linkage_of, mount_points
from even_stance.study.sensitivity import Picked, Postures, slopes
from even_stance.study.strength import study_strength
from even_stance.vehicle.edits import (
    choose_hole,
    set_axle,
    set_band,
    set_build,
    set_job,
    set_vehicle,
    set_wheelbase,
    with_changes,
)
from even_stance.vehicle.job import Band, Job, Purpose
from even_stance.vehicle.spots import Spot
from tests.cars import pair, rod, symmetric_four_link, three_link, vehicle_of
from tests.conftest import IN, starter


@pytest.mark.parametrize("purpose", PURPOSE_WORDS)
@pytest.mark.parametrize("layout", BASES)
def test_every_starting_layout_is_held_and_mostly_judged_good(purpose: str, layout: str) -> None:
    job = starter(purpose, layout)
    study = study_axle(job.vehicle, job.vehicle.axle("rear"), 0.0, 0.0)
    verdicts = {v.figure.key: v for v in judge(job, study)}
    assert study.travel.sweep.ok.all()
    assert study.travel.cross.ok.all()
    if any(m.role == "upper" for m in study.axle.members):
        assert miss(verdicts["anti_squat_axle_pct"].figure.value, verdicts["anti_squat_axle_pct"].wanted) == 0.0
    assert sum(v.state in ("low", "high") for v in verdicts.values()) <= 4


@pytest.mark.parametrize("layout", BASES)
def test_starters_fit_a_front_axle_too(layout: str) -> None:
    job = with_starter(starter(), "front", layout)  # type: ignore[arg-type]
    study = study_axle(job.vehicle, job.vehicle.axle("front"), 0.0, 0.0)
    assert study.figure("anti_dive_pct") is not None
    for m in job.vehicle.axle("front").members:
        x = {body: [k.at.x for end, k in m.mounts.items() if m.body(end) == body] for body in ("chassis", "axle")}
        assert m.role in ("lateral", "spring") or max(x["chassis"]) < min(x["axle"])


def test_starting_four_link_follows_common_practice() -> None:
    """Common practice, no source: 40 degrees or more between the uppers; uppers 70 to 77 % of the lowers in one school
    (a little more here once spread); about a quarter of the tire between the links."""
    figures = layout_figures(starter().vehicle.axle("rear"))
    assert figures.upper_included_deg is not None
    assert figures.upper_included_deg >= 40.0
    assert figures.length_ratio == pytest.approx(0.77, abs=0.08)
    assert figures.separation_mm == pytest.approx(figures.quarter_tire_mm, rel=0.15)


def test_equal_parallel_links_keep_the_pinion_angle() -> None:
    """Common practice, no source: equal upper and lower links keep the pinion angle relative to the chassis."""
    members = (
        *pair("Lower", (-2000, 450, 380), (-2800, 450, 340), "lower"),
        *pair("Upper", (-2000, 450, 600), (-2800, 450, 560), "upper"),
    )
    # Straight links hold nothing sideways: a long level bar does, far enough not to matter.
    vehicle, axle = vehicle_of([*members[:2], rod("Upper", (-2000, 0, 600), (-2800, 0, 560), "upper"),
                                rod("Bar", (-2800, 9000, 400), (-2800, -700, 400), "lateral")])  # fmt: skip
    sweep = study_axle(vehicle, axle, 0.0, 0.0).travel.sweep
    assert np.abs(sweep.values["pitch_deg"]).max() < 0.01


def test_shorter_uppers_turn_the_pinion() -> None:
    vehicle, axle = vehicle_of(symmetric_four_link())
    figure = study_axle(vehicle, axle, 0.0, 0.0).figure("pinion_change_deg")
    assert figure is not None
    assert figure.value > 0.5


def test_sureness_equals_monte_carlo() -> None:
    """Linear propagation against 4000 measured cars with Gaussian errors, to the 5 % that 4000 draws can show."""
    vehicle, axle = vehicle_of(three_link())
    vehicle = with_changes(vehicle, ride_sure_mm=0.0, wheelbase_sure_mm=0.0)
    now = study_postures(vehicle, axle, np.zeros(1), np.zeros(1))
    keys = ("roll_center_mm", "roll_steer_pct", "contact_slope", "anti_squat_axle_pct")
    sureness = slopes(
        vehicle, axle, Postures(np.zeros(1), np.zeros(1), now.pose), [Picked(k, now.value(k), k) for k in keys]
    )
    rng = np.random.default_rng(7)
    points, draws = mount_points(axle), 4000
    measured = points + rng.normal(0, 1.5875, (draws, 1, *points.shape))
    linkage = linkage_from(axle, layout_of(axle), measured)
    drawn = study_postures(vehicle, axle, np.zeros(1), np.zeros(1), linkage)
    for key in ("roll_center_mm", "roll_steer_pct", "contact_slope"):
        assert sureness.uncertainty(key) == pytest.approx(float(drawn.values[key].std()), rel=0.05), key
    share = rng.normal(700.0, 50.0, draws)
    squat = drawn.values["anti_squat_axle_pct"][:, 0] * 700.0 / share
    assert sureness.uncertainty("anti_squat_axle_pct") == pytest.approx(float(squat.std()), rel=0.06)


def test_a_hole_tip_does_what_it_says(trail_job: Job) -> None:
    axle = trail_job.vehicle.axle("rear")
    verdict = next(v for v in judge(trail_job, study_axle(trail_job.vehicle, axle, 0.0, 0.0)) if v.try_this)
    words, _, value = verdict.try_this.rpartition(": ")
    assert words == "Lower frame ends one hole up"
    spot = Spot("rear", "Lower left", "chassis")
    hole = axle.member("Lower left").chassis.hole
    assert hole is not None
    after = choose_hole(spot, hole + 1).apply(trail_job)
    answers = answers_at(after.vehicle, after.vehicle.axle("rear"), 0.0, 0.0)
    assert f"{answers.value(verdict.figure.key):.0f} %" == value


def test_own_band_rules_until_given_back(trail_job: Job) -> None:
    job = set_band("anti_squat_pct", Band(low=10.0, high=70.0)).apply(trail_job)
    assert wanted(job, "anti_squat_axle_pct").own
    study = study_axle(job.vehicle, job.vehicle.axle("rear"), 0.0, 0.0)
    assert next(v for v in judge(job, study) if v.figure.key == "anti_squat_axle_pct").state == "inside"
    assert wanted(set_band("anti_squat_pct", None).apply(job), "anti_squat_pct") == wanted(trail_job, "anti_squat_pct")
    with pytest.raises(ValueError, match="below the upper one"):
        Band(low=2.0, high=1.0)


def test_every_band_has_a_reason_and_a_basis_for_every_purpose(trail_job: Job) -> None:
    assert set(PURPOSE_WORDS) == set(get_args(Purpose))
    for key in judged_keys():
        said: dict[tuple[float | None, float | None], set[str]] = {}
        for purpose in PURPOSE_WORDS:
            marks = wanted(set_job("Purpose", purpose=purpose).apply(trail_job), key, "rear")
            assert marks.reason.endswith(".")
            assert "common practice" in marks.basis or "from memory" in marks.basis
            assert (marks.band.low, marks.band.high) != (None, None)
            said.setdefault((marks.band.low, marks.band.high), set()).add(marks.reason)
        if key in WHY:  # where purposes want different things, they say why
            assert len({reason for reasons in said.values() for reason in reasons}) > 1


def test_marks_that_go_with_the_size_of_the_car_do(trail_job: Job) -> None:
    """A car twice as high wants its roll centers twice as high, one twice as long a turning circle twice as wide."""
    tall = set_vehicle("CG", cg_height_mm=2.0 * trail_job.vehicle.cg_height_mm).apply(trail_job)
    one, two = (wanted(job, "roll_center_mm", "rear").band for job in (trail_job, tall))
    assert two.low == pytest.approx(2.0 * (one.low or 0.0), abs=1.5)
    assert two.high == pytest.approx(2.0 * (one.high or 0.0), abs=1.5)
    long = set_wheelbase(2.0 * trail_job.vehicle.wheelbase_mm, 1.0).apply(trail_job)
    circles = [wanted(job, "turn_circle_m", "front").band.high for job in (trail_job, long)]
    assert circles[1] == pytest.approx(2.0 * (circles[0] or 0.0), abs=0.1)


def test_numbers_of_the_whole_car_are_said_once(coupe_job: Job) -> None:
    found = survey(coupe_job, fine=False)
    for key in WHOLE_CAR:
        assert [axle for axle, v in found.judged if v.figure.key == key] == [""]
        assert sum(f.code == key for f in found.findings) <= 1


def test_what_does_not_hold_the_axle_is_said_with_its_cure() -> None:
    lowers = pair("Lower", (-2000, 450, 400), (-2800, 550, 360), "lower")
    upper = rod("Upper", (-2200, 0, 550), (-2800, 0, 580), "upper")
    with pytest.raises(LayoutError, match="3 links: nothing holds it sideways: add a panhard bar"):
        linkage_of(vehicle_of([*lowers, upper])[1])
    with pytest.raises(LayoutError, match="no links yet"):
        linkage_of(vehicle_of([])[1])


def test_lock_up_is_a_finding_and_a_sentence(trail_job: Job) -> None:
    job = set_axle("rear", "Travel", droop_mm=1500.0, bump_mm=100.0).apply(trail_job)
    axle = job.vehicle.axle("rear")
    found = travel_findings(job, study_axle(job.vehicle, axle, 0.0, 0.0))
    assert [f.code for f in found] == [
        "locks-droop", "swing", "leaves-anti_squat_axle_pct", "leaves-roll_center_mm",
    ]  # fmt: skip
    assert "Rear axle cannot reach full droop: it locks up at" in found[0].sentence
    with pytest.raises(CannotReachError, match=r"droop stops at -\d+\.\d mm, -1500\.0 mm was asked"):
        answers_at(job.vehicle, axle, -1500.0, -1500.0)


def test_findings_speak_of_what_is_missing_and_out_of_band(trail_job: Job) -> None:
    assert [f.code for f in stance_findings(trail_job)] == ["cg-guess", "guesses"]
    verdicts = judge(trail_job, study_axle(trail_job.vehicle, trail_job.vehicle.axle("rear"), 0.0, 0.0))
    assert [f.code for f in number_findings({"rear": verdicts}, "links")] == ["anti_squat_axle_pct"]
    assert number_findings({"rear": verdicts}, "travel") == []
    assert [(f.code, f.axle) for f in layout_findings({"front": "not held"})] == [("layout", "front")]
    assert any("licensed engineer" in c for c in CAUTIONS)
    assert not any(" safe" in t for v in verdicts for t in (v.sentence, v.try_this))


@pytest.mark.parametrize(
    ("field", "value", "said"),
    [("wheelbase_mm", 300.0, "Wheelbase"), ("track_mm", 9000.0, "Track"), ("tire_diameter_mm", 10.0, "Tire diameter"),
     ("tire_width_mm", 690.0, ""), ("name", " ", "Name")],
)  # fmt: skip
def test_a_new_job_refuses_what_is_no_car(field: str, value: object, said: str) -> None:
    asked = {"name": "Car", "purpose": "trail", "units": "us", "wheelbase_mm": 118 * IN, "track_mm": 44 * IN,
             "tire_diameter_mm": 35 * IN, "tire_width_mm": 12 * IN, field: value}  # fmt: skip
    with pytest.raises(InputError) as refused:
        new_job(NewJob(**asked))  # type: ignore[arg-type]
    assert refused.value.field == (said or "Track")


def test_a_link_with_parts_that_are_not_judged_is_not_inside() -> None:
    """“22 %, inside” was said while the weakest part, a joint without its rating, was not judged at all."""
    job = demo_jobs()[0]
    uses = {link_name(use): use for use in study_strength(job.vehicle, job.loads)}
    assert any(use.missing for use in uses.values())
    lines = [line for line in check(job, fine=False).lines if line.axle == "links"]
    for name, use in uses.items():
        said = [line for line in lines if line.sentence.startswith(f"{name}:")]
        assert said
        assert not use.missing or all(line.state in ("not_judged", "high") for line in said)
    unknown = next(line for line in lines if line.state == "not_judged")
    assert "rating is not typed" in unknown.sentence


def test_what_is_taken_away_is_said_to_be_missing() -> None:
    """Without a build sheet eight lines about links vanished without a word; without weights too."""
    job = demo_jobs()[0]
    bare_sheet = set_build("None", links=()).apply(job)
    assert any(
        line.state == "missing" and "No parts are chosen" in line.sentence for line in check(bare_sheet, False).lines
    )
    weightless = job
    for axle in job.vehicle.axles:
        weightless = set_axle(axle.key, "No weight", load_kg=0.0, unsprung_kg=0.0).apply(weightless)
    lines = [line for line in check(weightless, fine=False).lines if line.axle == "links"]
    assert lines
    assert all(line.state != "inside" for line in lines)
