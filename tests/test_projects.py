"""What the worked projects say of the demo jobs is what the program says of them."""

import re
from importlib.resources import files
from pathlib import Path

import pytest

from even_stance.exchange.demo import demo_job, demo_names
from even_stance.exchange.helptexts import chapters
from even_stance.judgement.search.suggestions import advise
from even_stance.judgement.search.wishes import values_now, wishes_of
from even_stance.judgement.verdicts import judge
from even_stance.shop.squaring import square_report
from even_stance.study.cutlist import cut_list
from even_stance.study.figures import study_axle
from even_stance.units import format_length
from even_stance.vehicle.job import Job

TEXT = (files("even_stance") / "help" / "projects.md").read_text(encoding="utf-8")


def _told(name: str) -> str:
    """A project's chapter, on one line."""
    return re.sub(r"\s+", " ", TEXT.split(f"## {name}\n")[1].split("\n## ")[0])


def _reading(job: Job, axle: str, key: str) -> str:
    study = study_axle(job.vehicle, job.vehicle.axle(axle), 0.0, 0.0)
    return next(v.reading(job.units) for v in judge(job, study) if v.figure.key == key)


def test_each_demo_job_has_a_project_with_its_strip_of_stills() -> None:
    assert re.findall(r"^## (.*)$", TEXT, flags=re.MULTILINE) == list(demo_names())
    for picture in re.findall(r"\]\((\.\./.*?)\)", TEXT):
        assert (Path(__file__).parents[1] / "src" / "even_stance" / "help" / picture).resolve().exists(), picture
    assert {"Saltbush trail pickup", "Harbor air cruiser"} <= {c.title for c in chapters() if c.book == "projects"}


@pytest.mark.parametrize(
    ("number", "axle", "key", "words"),
    [
        (0, "rear", "anti_squat_axle_pct", "anti-squat is {}"),
        (1, "rear", "pinion_angle_deg", "the pinion bends {}"),
        (3, "rear", "side_shift_mm", "goes {} sideways"),
    ],
)
def test_numbers_told_are_the_numbers_judged(number: int, axle: str, key: str, words: str) -> None:
    job = demo_job(number)
    assert words.format(_reading(job, axle, key)) in _told(job.name)


def test_moves_lengths_and_stances_told_are_those_found() -> None:
    pickup, coupe, rig = (demo_job(i) for i in (0, 1, 2))
    study = study_axle(pickup.vehicle, pickup.vehicle.axle("rear"), 0.0, 0.0)
    first = advise(pickup, study, "anti_squat_axle_pct").suggestions[0]
    assert first.words.lower() == "lower frame ends one hole up"
    assert f"{first.change.after:.0f} %" in _told(pickup.name)
    cut = next(c for c in cut_list(pickup.vehicle, "us") if c.piece.words == "rear lower left")
    assert f"cut to {format_length(cut.cut_mm, 'us')} in" in _told(pickup.name)
    report = square_report(coupe)
    assert report is not None
    assert f"stands {format_length(report.uneven_mm, 'us').removeprefix('~')} in out of square" in _told(coupe.name)
    assert f"comes down {format_length(coupe.measuring.heights.lower_mm, 'us')} in" in _told(coupe.name)
    axle = rig.vehicle.axle("rear")
    flat = wishes_of(rig.vehicle, axle)["flat:anti_squat_axle_pct"]
    assert f"changes by {values_now(rig.vehicle, axle, [flat])[flat.key]:.0f} % over travel" in _told(rig.name)
