import json
import os
import re
import subprocess
import sys
from pathlib import Path

import pytest

from even_stance import cli
from even_stance.__main__ import main
from even_stance.cli import COMMANDS, build_parser, run
from even_stance.errors import InputError, StanceError
from even_stance.exchange.demo import demo_jobs
from even_stance.exchange.jobfile import save_job
from even_stance.judgement.findings import stance_findings
from even_stance.shop.findings import shop_findings
from even_stance.study.answers import answers_at
from even_stance.study.beams import beams_of
from even_stance.study.loads import CASES
from even_stance.study.travel import SWEEPS
from even_stance.vehicle.edits import set_axle, with_changes
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
    assert answers["roll_center_mm"] == pytest.approx(here.value("roll_center_mm"), abs=1e-6)
    assert len(out) < 1.5 * len(json.dumps(answers, indent=1))  # figures are rounded to what they can mean


@pytest.mark.parametrize(
    ("words", "code", "said"),
    [
        (["answers", "{job}", "--axle", "middle"], 4, "there is no axle “middle”. This job has: front, rear."),
        (["answers", "{job}", "--left", "far"], 2, "--left: “far” is not a length"),
        (["answers", "{job}", "--left", "nan"], 2, "is not a length"),
        (["answers", "{job}", "--left", "-2000", "--right", "-2000"], 4, "droop stops at"),
        (["answers", "{job}", "--axle", "front"], 4, "Front axle has no links yet"),
        (["answers", "nowhere.stance"], 3, "nowhere.stance is not there"),
        (["answers"], 2, "required: job"),
        (["frobnicate", "x"], 2, "no command or job file “frobnicate”"),
        (["--frobnicate"], 2, "unrecognized arguments"),
        (["{job}", "more"], 2, "one word too many"),
    ],
)
def test_trouble_is_one_sentence_and_its_exit_code(
    job_file: Path, words: list[str], code: int, said: str,
    monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str],
) -> None:  # fmt: skip
    left, out, err = _run(monkeypatch, capsys, *(w.format(job=job_file) for w in words))
    assert left == code
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
    assert done.returncode == 3
    assert "broken.stance" in done.stderr
    assert "Traceback" not in done.stderr


def test_check_says_everything_in_words(
    job_file: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    code, out, _ = _run(monkeypatch, capsys, "check", str(job_file))
    assert code == 0
    assert "Anti-squat" in out
    assert "front axle\n" in out
    assert "missing: no links designed here" in out
    assert "licensed engineer" in out


def test_three_links_only_are_told(
    tmp_path: Path, trail_job: Job, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    members = trail_job.vehicle.axle("rear").members[:3]
    path = tmp_path / "three.stance"
    save_job(set_axle("rear", "Three", members=members).apply(trail_job), path)
    code, _, err = _run(monkeypatch, capsys, "answers", str(path))
    assert code == 4
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
    assert {one["state"] for one in told["judged"]} & {"low", "high"}


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
        assert done.returncode == 4
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
        assert code == 4
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
    assert done.returncode == 4
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


def test_the_command_line_knows_sweeps_and_cases_without_loading_them() -> None:
    assert tuple(SWEEPS) == cli.SWEEPS
    assert tuple(CASES) == cli.CASES


@pytest.mark.parametrize(
    ("words", "never"),
    [
        (["--version"], ("numpy", "pydantic", "even_stance.vehicle", "even_stance.exchange")),
        (["answers", "{job}"], ("even_stance.judgement", "even_stance.shop", "scipy.optimize", "shapely", "reportlab")),
        (["cut-list", "{job}"], ("reportlab", "ezdxf", "PyQt6")),
    ],
)
def test_a_command_loads_what_it_needs(
    tmp_path: Path, coupe_job: Job, words: list[str], never: tuple[str, ...]
) -> None:
    """“--version” took 1.3 s: it loaded everything there is."""
    path = tmp_path / "coupe.stance"
    save_job(coupe_job, path)
    program = (
        "import sys; from even_stance.__main__ import main\n"
        f"sys.argv = ['even-stance', *{[w.format(job=path) for w in words]!r}]\n"
        "try: main()\nexcept SystemExit: pass\n"
        "print('\\n'.join(sys.modules), file=sys.stderr)"
    )
    done = subprocess.run([sys.executable, "-c", program], capture_output=True, text=True, check=True)
    loaded = done.stderr.split("\n")
    assert [m for m in loaded if any(m == n or m.startswith(f"{n}.") for n in never)] == []


def test_no_name_commands_the_terminal(
    trail_job: Job, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    """A job's name that clears the screen, forges a line or turns the direction of the text."""
    hostile = "pickup\x1b[2J\x9b31m\u202e\nrear axle\n  inside\r\x07"
    path = tmp_path / "hostile.stance"
    save_job(with_changes(trail_job, name=hostile), path)
    for words in (["check"], ["check", "--json"], ["answers"], ["cut-list"]):
        _, out, err = _run(monkeypatch, capsys, words[0], str(path), *words[1:])
        assert not re.search("[\x00-\x08\x0b-\x1f\x7f-\x9f\u202e]", out + err)
        if words != ["check"]:
            assert json.loads(out)["job"] == hostile
        else:
            assert sum(line == "rear axle" for line in out.split("\n")) == 1
    _, _, err = _run(monkeypatch, capsys, "answers", str(path), "--axle", "x\x1b[2J\ny")
    assert err.count("\n") == 1
    assert "\x1b" not in err


def test_lists_are_named_and_bare_on_demand(
    coupe_job: Job, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    path = tmp_path / "coupe.stance"
    save_job(coupe_job, path)
    for words, rows in ((["clearances", "--coarse"], "gaps"), (["cut-list"], "pieces")):
        _, out, _ = _run(monkeypatch, capsys, words[0], str(path), *words[1:])
        named = json.loads(out)
        assert (named["format"], named["version"]) == (f"even-stance-{words[0]}", 1)
        _, out, _ = _run(monkeypatch, capsys, words[0], str(path), *words[1:], "--bare")
        assert json.loads(out) == named[rows]


def test_swing_beams_are_named_and_not_called_unlinked(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    path = tmp_path / "beams.stance"
    save_job(next(j for j in demo_jobs() if any(beams_of(a) for a in j.vehicle.axles)), path)
    for command, what in (("travel", "sweep"), ("heights", "answer over ride height"), ("loads", "load case")):
        with pytest.raises(InputError, match=f"swings on two beams, of which there is no {what}"):
            run([command, str(path), "--axle", "front"])
    with pytest.raises(InputError, match=r"has no “x”\. It has: camber_change_deg"):
        run(["why", str(path), "x", "--axle", "front"])
    assert run(["why", str(path), "camber_change_deg", "--axle", "front"]) == 0
    assert json.loads(capsys.readouterr().out)["formula"]
