import json
import os
import subprocess
import sys
from pathlib import Path

import pytest

from even_stance.__main__ import main
from even_stance.cli import COMMANDS, build_parser, run
from even_stance.errors import InputError, StanceError
from even_stance.exchange.jobfile import save_job
from even_stance.judgement.findings import stance_findings
from even_stance.shop.findings import shop_findings
from even_stance.study.answers import answers_at
from even_stance.vehicle.edits import set_axle
from even_stance.vehicle.job import Job
from tests.cars import bare_front


@pytest.fixture
def job_file(tmp_path: Path, trail_job: Job) -> Path:
    path = tmp_path / "pickup.stance"
    save_job(bare_front(trail_job), path)
    return path


def _run(monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str], *words: str) -> tuple[int, str, str]:
    monkeypatch.setattr(sys, "argv", ["even-stance", *words])
    code = main()
    out, err = capsys.readouterr()
    return code, out, err


FIXED = {
    "posture", "instant_center", "contact_slope", "anti_squat_pct", "anti_squat_axle_pct", "anti_lift_brake_pct", "roll_center_mm",
    "roll_axis_slope_deg", "roll_steer_pct", "axle_shift_mm", "pitch_deg", "yaw_deg", "links",
}  # fmt: skip


def test_answers_under_the_fixed_keys(
    job_file: Path, trail_job: Job, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    code, out, _ = _run(
        monkeypatch, capsys, "answers", str(job_file), "--axle", "rear", "--left", "50", "--right", "-20"
    )
    answers = json.loads(out)
    assert code == 0
    assert set(answers) >= FIXED
    assert answers["posture"] == {"left_mm": 50.0, "right_mm": -20.0}
    assert set(answers["axle_shift_mm"]) == {"x", "y", "z"}
    assert answers["axle_shift_mm"]["z"] == pytest.approx(15.0)  # the mean of both wheels, by definition
    assert [set(link) for link in answers["links"]] == [{"name", "length_mm"}] * 4
    here = answers_at(trail_job.vehicle, trail_job.vehicle.axle("rear"), 50.0, -20.0)
    assert answers["roll_center_mm"] == here.value("roll_center_mm")


@pytest.mark.parametrize(
    ("words", "said"),
    [
        (["answers", "{job}", "--axle", "middle"], "there is no axle “middle”. This job has: front, rear."),
        (["answers", "{job}", "--left", "far"], "--left: “far” is not a length"),
        (["answers", "{job}", "--left", "nan"], "is not a length"),
        (["answers", "{job}", "--left", "-2000", "--right", "-2000"], "droop stops at"),
        (["answers", "{job}", "--axle", "front"], "Front axle has no links yet"),
        (["answers", "nowhere.stance"], "nowhere.stance is not there"),
        (["answers"], "required: job"),
        (["frobnicate", "x"], "no command or job file “frobnicate”"),
        (["--frobnicate"], "unrecognized arguments"),
        (["{job}", "more"], "one word too many"),
    ],
)
def test_trouble_is_one_sentence_and_exit_code_2(
    job_file: Path, words: list[str], said: str, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    code, out, err = _run(monkeypatch, capsys, *(w.format(job=job_file) for w in words))
    assert code == 2
    assert out == ""
    assert said in err
    assert len(err.strip().splitlines()) == 1
    assert "Traceback" not in err


@pytest.mark.parametrize("raw", ["", "{", '{"format": "even-stance-job", "version": 9}', "[]", '{"x": Infinity}'])
def test_broken_files_on_the_command_line(tmp_path: Path, raw: str) -> None:
    path = tmp_path / "broken.stance"
    path.write_text(raw)
    done = subprocess.run(
        [sys.executable, "-m", "even_stance", "answers", str(path)], capture_output=True, text=True, check=False
    )
    assert done.returncode == 2
    assert "broken.stance" in done.stderr
    assert "Traceback" not in done.stderr


def test_check_says_everything_in_words(
    job_file: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    code, out, _ = _run(monkeypatch, capsys, "check", str(job_file))
    assert code == 0
    assert "Anti-squat" in out
    assert "front axle\n  no links designed here" in out
    assert "licensed engineer" in out


def test_three_links_only_are_told(
    tmp_path: Path, trail_job: Job, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    members = trail_job.vehicle.axle("rear").members[:3]
    path = tmp_path / "three.stance"
    save_job(set_axle("rear", "Three", members=members).apply(trail_job), path)
    code, _, err = _run(monkeypatch, capsys, "answers", str(path))
    assert code == 2
    assert "is not held by its 3 links" in err


def test_schema_command(monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]) -> None:
    code, out, _ = _run(monkeypatch, capsys, "schema")
    assert code == 0
    assert json.loads(out)["title"] == "Job"


def test_check_tells_what_measuring_found(tmp_path: Path, capsys: pytest.CaptureFixture[str], coupe_job: Job) -> None:
    """The command line shows the same findings as the window: one list, two places."""
    path = tmp_path / "coupe.stance"
    save_job(coupe_job, path)
    assert run(["check", str(path)]) == 0
    told = capsys.readouterr().out
    for finding in (*stance_findings(coupe_job), *shop_findings(coupe_job)):
        assert finding.sentence in told
    assert "does not belong" in told
    assert "Turn the left lower link" in told


@pytest.mark.parametrize("what", ["report", "drawing", "points", "measuring-sheet"])
def test_papers_need_a_job_that_can_be_read(tmp_path: Path, what: str) -> None:
    (tmp_path / "bad.stance").write_text("{", encoding="utf-8")
    with pytest.raises(StanceError, match="damaged at line 1"):
        run(["paper", what, str(tmp_path / "bad.stance"), str(tmp_path / "out")])
    assert not (tmp_path / "out").exists()
    with pytest.raises(StanceError, match="Command line"):
        run(["paper", what])


def test_minus_values_version_and_strict_check(
    job_file: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    code, out, _ = _run(monkeypatch, capsys, "answers", str(job_file), "--left", "-2in", "--right", "-50.8")
    assert code == 0
    assert json.loads(out)["posture"] == {"left_mm": -50.8, "right_mm": -50.8}
    for flag in ("--version", "-V"):
        with pytest.raises(SystemExit) as left:
            _run(monkeypatch, capsys, flag)
        assert left.value.code == 0
        assert capsys.readouterr().out.startswith("even-stance ")
    code, out, _ = _run(monkeypatch, capsys, "check", str(job_file), "--strict", "--json")
    told = json.loads(out)
    assert code == 1  # the demo pickup has something worth a look
    assert {line["state"] for line in told["lines"]} & {"look", "low", "high"}


def test_whoever_stops_listening_and_full_disks_cost_one_sentence(job_file: Path) -> None:
    command = f"{sys.executable} -m even_stance check {job_file}"
    done = subprocess.run(
        f"set -o pipefail; {command} | true",
        shell=True,
        executable="/bin/bash",
        capture_output=True,
        text=True,
        check=False,
    )
    assert "Traceback" not in done.stderr
    if Path("/dev/full").exists():
        done = subprocess.run(f"{command} > /dev/full", shell=True, capture_output=True, text=True, check=False)
        assert done.returncode == 2
        assert done.stderr.count("\n") == 1
        assert "could not be written" in done.stderr


def test_a_paper_never_overwrites_a_job(
    job_file: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    before = job_file.read_bytes()
    link = tmp_path / "points.csv"
    link.symlink_to(job_file)
    for target in (job_file, link):
        code, _, err = _run(monkeypatch, capsys, "paper", "points", str(job_file), str(target))
        assert code == 2
        assert "would overwrite a job" in err
    assert job_file.read_bytes() == before


@pytest.mark.parametrize("display", ["", ":987"])
def test_no_display_is_one_sentence(display: str) -> None:
    names = {k: v for k, v in os.environ.items() if k not in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")}
    if display:
        names["DISPLAY"] = display
    done = subprocess.run(
        [sys.executable, "-m", "even_stance", "demo"], env=names, capture_output=True, text=True, check=False
    )
    assert done.returncode == 2
    assert done.stderr.count("\n") == 1
    assert "display" in done.stderr


def test_a_steer_input_is_taken_and_says_that_it_turns_nothing(
    job_file: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    assert run(["answers", str(job_file), "--axle", "rear", "--steer", "-1.5"]) == 0
    said = capsys.readouterr()
    assert "Rear axle has no steering entered" in said.err
    assert json.loads(said.out)["posture"] == {"left_mm": 0.0, "right_mm": 0.0}
    with pytest.raises(InputError, match="--steer"):
        run(["answers", str(job_file), "--steer", "a bit"])


@pytest.mark.parametrize(
    "command", ["answers", "travel", "ride", "clearances", "check", "cribs", "variants", "cut-list"]
)
def test_every_command_on_a_job_is_one_of_the_program(
    monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str], tmp_path: Path, coupe_job: Job, command: str
) -> None:
    """“even-stance ride JOB” said that there is no such command: the program kept a list of its own."""
    path = tmp_path / "coupe.stance"
    save_job(coupe_job, path)
    more = ["--coarse"] if command == "clearances" else []
    code, out, _ = _run(monkeypatch, capsys, command, str(path), *more)
    assert code == 0
    assert command == "check" or json.loads(out)


def test_the_parser_knows_every_command(capsys: pytest.CaptureFixture[str]) -> None:
    with pytest.raises(SystemExit):
        build_parser().parse_args(["--help"])
    shown = capsys.readouterr().out
    assert all(f"\n    {command}" in shown for command in COMMANDS), shown
