"""No text of a job is a formula in a table, a command of a terminal, or markup on paper."""

import csv
import io
import json
import re
from pathlib import Path

import pytest

from even_stance.__main__ import main
from even_stance.exchange.demo import demo_jobs
from even_stance.exchange.jobfile import save_job
from even_stance.exchange.papers import PAPERS, paper_of
from even_stance.exchange.tables import csv_text
from tests.hostile import hostile_job

COMMANDING = re.compile("[\x00-\x08\x0b-\x1f\x7f-\x9f\u202e]")


@pytest.fixture(scope="module", params=[0, 1])
def hostile_file(request: pytest.FixtureRequest, tmp_path_factory: pytest.TempPathFactory) -> Path:
    job, count = hostile_job(demo_jobs()[request.param])
    assert count > 25
    path = tmp_path_factory.mktemp("hostile") / "job.stance"
    save_job(job, path)
    return path


@pytest.mark.parametrize(
    "words",
    [["check"], ["check", "--json"], ["answers"], ["cut-list"], ["clearances", "--coarse"], ["variants"], ["ride"]],
)
def test_no_text_commands_the_terminal(
    hostile_file: Path, words: list[str], monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    monkeypatch.setattr("sys.argv", ["even-stance", words[0], str(hostile_file), *words[1:]])
    assert main() in (0, 4)
    out, err = capsys.readouterr()
    assert not COMMANDING.search(out + err)
    assert "=H" in out + err
    if words != ["check"] and out:
        assert "\u202e" in json.dumps(json.loads(out), ensure_ascii=False)  # other programs get the text as it is


def test_no_text_is_a_formula_in_a_table(hostile_file: Path) -> None:
    from even_stance.exchange.jobfile import load_job  # noqa: PLC0415 - beside its one use

    job, _ = load_job(hostile_file)
    for what in ("points", "shopping-table"):
        rows = list(csv.reader(io.StringIO(paper_of(job, what).decode("utf-8-sig"))))
        cells = [cell for row in rows for cell in row]
        assert any("=H" in cell for cell in cells)
        assert [c for c in cells if c.lstrip()[:1] in ("=", "+", "@", "\t") or re.match(r"-[^\d.]", c)] == []


def test_no_text_is_markup_on_paper(hostile_file: Path) -> None:
    from pypdf import PdfReader  # noqa: PLC0415 - beside its one use

    from even_stance.exchange.jobfile import load_job  # noqa: PLC0415

    job, _ = load_job(hostile_file)
    for what in ("report", "cut-list", "build-book", "measuring-sheet", "order-of-work", "recheck-card"):
        assert what in PAPERS
        pages = PdfReader(io.BytesIO(paper_of(job, what))).pages
        said = re.sub(r"\s", "", "".join(page.extract_text() for page in pages))
        assert "<b>x</b>" in said, what


def test_a_table_in_another_language_has_commas_and_semicolons() -> None:
    rows = [("part", "feet"), ("=cmd", "4.877"), ("tube, 2 in", "-12.5")]
    assert list(csv.reader(io.StringIO(csv_text(rows, comma=True)), delimiter=";")) == [
        ["part", "feet"], ["'=cmd", "4,8770"], ["tube, 2 in", "-12,5"]
    ]  # fmt: skip
    assert "4.8770" in csv_text(rows)
