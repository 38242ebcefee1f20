"""Replies for other programs: each is what its schema says, agrees with the others, and is the same from a pipe."""

import doctest
import io
import json
import os
import subprocess
import sys
from pathlib import Path

import numpy as np
import pytest
from jsonschema import Draft202012Validator

from even_stance import api
from even_stance.cli import COMMANDS, WINDOWS, run
from even_stance.errors import InputError
from even_stance.exchange.jobfile import dump_job, parse_job, save_job
from even_stance.replies import links, stance
from even_stance.replies.kinds import KINDS, reply_schema
from even_stance.shop.readings import new_reading
from even_stance.shop.sheet import take_reading
from even_stance.vehicle.edits import set_measuring
from even_stance.vehicle.job import Job
from even_stance.vehicle.measuring import Lift
from tests.test_asbuilt import UPPER, measured

AT = "2026-04-04T10:00"


@pytest.fixture(scope="module")
def full_job() -> Job:
    """The demo pickup with everything measured that a reply may rest on."""
    job = measured(api.demo_jobs()[0], UPPER, (6.0, 0.0, -11.0))
    base, track = job.vehicle.wheelbase_mm, (job.vehicle.axle("front").track_mm + job.vehicle.axle("rear").track_mm) / 2
    diagonal = float(np.hypot(base, track))
    taped = {
        "wheelbase.left": base + 5.0,
        "wheelbase.right": base - 5.0,
        "diagonal.left": diagonal,
        "diagonal.right": diagonal,
    }
    scales = {f"scale.{a}.{s}": kg for a, kg in (("front", 420.0), ("rear", 380.0)) for s in ("left", "right")}
    job = set_measuring("", stage="found").apply(job)
    for what, value in taped.items():
        job = take_reading(new_reading(job, what, "length", value, "tape", AT)).apply(job)
    for what, value in scales.items():
        job = take_reading(new_reading(job, what, "mass", value, "scales", AT)).apply(job)
    return set_measuring("", lift=Lift(lift_mm=400.0, level_kg=840.0, raised_kg=900.0)).apply(job)


def _said(capsys: pytest.CaptureFixture[str], *words: str) -> dict[str, object]:
    run(words)
    found = json.loads(capsys.readouterr().out)
    return {"rows": found} if isinstance(found, list) else found


MORE = {
    "why": ["anti_squat_axle_pct"], "holes": ["--most", "2"], "check": ["--json"], "clearances": ["--coarse"],
    "solve": ["--want", "anti_squat_axle_pct=70", "--free", "Upper left/chassis/up"], "loads": ["--case", "launch"],
}  # fmt: skip


@pytest.mark.parametrize("command", list(KINDS))
def test_every_reply_is_what_its_schema_says(
    command: str, full_job: Job, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    path = tmp_path / "car.stance"
    save_job(full_job, path)
    assert run([command, str(path), *MORE.get(command, [])]) in (0, 1)
    reply, schema = json.loads(capsys.readouterr().out), json.loads(reply_schema(command))
    Draft202012Validator.check_schema(schema)
    Draft202012Validator(schema).validate(reply)
    assert run(["schema", command]) == 0
    assert json.loads(capsys.readouterr().out) == schema
    if command in KINDS:
        assert (reply["format"], reply["version"]) == (
            f"even-stance-{command}",
            2 if command in ("variants", "why", "check") else 1,
        )
        # A reply of another format, and one without a name that has to be there, are not taken for it.
        for spoiled in ({**reply, "format": "even-stance-other"}, {k: v for k, v in reply.items() if k != "job"}):
            assert not Draft202012Validator(schema).is_valid(spoiled)


def test_every_command_that_replies_has_a_schema() -> None:
    told = {"paper", "schema", "install-desktop", "remove-desktop"}
    assert set(COMMANDS) - set(WINDOWS) - told == set(KINDS)
    with pytest.raises(InputError, match="There are: job, answers"):
        reply_schema("nothing")


def test_travel_passes_through_what_answers_say(full_job: Job) -> None:
    swept, there = api.travel(full_job, "rear"), api.answer(full_job, "rear")
    ride = int(np.argmin(np.abs(swept.left_mm)))
    for key in ("anti_squat_axle_pct", "roll_center_mm", "roll_steer_pct", "contact_slope"):
        assert swept.values[key][ride] == pytest.approx(getattr(there, key))
    run = api.sweep(full_job, "rear", swept.left_mm, swept.right_mm)
    assert run["roll_center_mm"] == pytest.approx(np.array(swept.values["roll_center_mm"], dtype=float), nan_ok=True)


def test_loads_hold_the_axle_still(full_job: Job) -> None:
    """Launch: the pull of all links fore and aft is the thrust of the tires, by resolving each along its own ends."""
    from even_stance.study.loads import axle_loads  # noqa: PLC0415 - the outside forces, which the links must balance

    axle, reply = full_job.vehicle.axle("rear"), api.loads(full_job, "rear", "launch")
    pull = np.zeros(3)
    for name, load in reply.links_n.items():
        mounts = axle.member(name).mounts
        along = np.subtract(mounts["chassis"].at.xyz, mounts["axle"].at.xyz)
        assert load is not None
        pull += load * along / np.linalg.norm(along)
    outside = axle_loads(full_job.vehicle, axle, full_job.loads, "launch").forces.sum(axis=0)
    assert pull[0] == pytest.approx(-outside[0], abs=1e-6)  # its coil-overs lean sideways only: they take none of it
    assert pull[0] < -5000.0


def test_solving_writes_a_job_that_answers_as_wanted(
    full_job: Job, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    path, other = tmp_path / "car.stance", tmp_path / "solved.stance"
    save_job(full_job, path)
    words = ["solve", str(path), "--want", "anti_squat_axle_pct=70", "--free", "Upper left/chassis/up=-90:90"]
    assert run([*words, "--write", str(other)]) == 0
    assert json.loads(capsys.readouterr().out)["reached"]
    assert api.answer(api.open_job(other), "rear").anti_squat_axle_pct == pytest.approx(70.0, abs=0.5)
    assert run([*words, "--write", "-"]) == 0
    assert parse_job(capsys.readouterr().out) == api.open_job(other)
    assert run(["solve", str(path), "--want", "anti_squat_axle_pct=400", "--free", "Upper left/chassis/up=-5:5"]) == 1


@pytest.mark.parametrize(
    ("words", "said"),
    [
        (["solve", "{}", "--want", "beauty=1"], "the rear axle has no beauty. Ask for one of anti_squat_axle_pct"),
        (["solve", "{}", "--want", "anti_squat_axle_pct=x", "--free", "Upper left/chassis/up"], "--want anti_squat_axle_pct"),
        (["solve", "{}", "--want", "anti_squat_axle_pct=70", "--free", "Upper left/up"], "Type MEMBER/END/ahead, out or up"),
        (["solve", "{}", "--want", "anti_squat_axle_pct=70", "--free", "Upper left/chassis/up=3"], "Type two limits"),
        (["solve", "{}", "--free", "Upper left/chassis/up"], "no number is asked for"),
        (["why", "{}", "beauty"], "the rear axle has no “beauty”. It has: anti_squat_axle_pct"),
        (["travel", "{}", "--axle", "middle"], "there is no axle “middle”. This job has: front, rear."),
        (["heights", "{}", "--reach", "-3"], "is no reach"),
        (["holes", "{}", "--most", "0"], "Type 1 to 400"),
        (["loads", "{}", "--case", "flying"], "invalid choice"),
        (["square", "{}"], "Tape them, hub to hub"), (["weight", "{}"], "Enter the scales"),
        (["as-built", "{}"], "Tape it on the Log station"), (["schema", "beauty"], "There are: job, answers"),
        (["paper", "beauty", "{}", "-"], "there is no “beauty”"),
    ],
)  # fmt: skip
def test_what_cannot_be_replied_is_said_in_a_sentence(words: list[str], said: str, tmp_path: Path) -> None:
    path = tmp_path / "car.stance"
    save_job(api.demo_jobs()[0], path)
    with pytest.raises(InputError) as caught:
        run([w.format(path) for w in words])
    assert said in str(caught.value)


def test_a_job_may_come_through_a_pipe_and_a_paper_leave_by_one(full_job: Job) -> None:
    environment = {**os.environ, "PYTHONIOENCODING": "utf-8"}
    command = [sys.executable, "-m", "even_stance"]
    text = dump_job(full_job).encode()
    done = subprocess.run([*command, "answers", "-"], input=text, capture_output=True, env=environment, check=True)
    assert json.loads(done.stdout)["roll_center_mm"] == pytest.approx(api.answer(full_job, "rear").roll_center_mm)
    done = subprocess.run(
        [*command, "paper", "points", "-", "-"], input=text, capture_output=True, env=environment, check=True
    )
    assert done.stdout == api.paper(full_job, "points")
    for spoiled in (b"", b"\xff\xfe", b"{}", text[:200]):
        done = subprocess.run(
            [*command, "answers", "-"], input=spoiled, capture_output=True, env=environment, check=False
        )
        assert done.returncode == 3
        assert done.stderr.startswith(b"even-stance: Standard input")
        assert done.stderr.count(b"\n") == 1


def test_the_examples_of_the_library_are_true() -> None:
    out = io.StringIO()
    found = doctest.testmod(api)
    assert (found.failed, found.attempted > 5) == (0, True), out.getvalue()
    assert all(getattr(api, name).__doc__ for name in api.__all__)


def test_the_library_takes_arrays_and_refuses_what_is_none(tmp_path: Path) -> None:
    job = api.demo_jobs()[0]
    path = tmp_path / "a.stance"
    moved = api.edit(job, api.move_by(UPPER, 0.0, 0.0, 10.0), api.set_wheelbase(2900.0))
    api.save(moved, path)
    assert api.open_job(path) == moved
    assert api.point_of(job, UPPER).z + 10.0 == pytest.approx(api.point_of(moved, UPPER).z)
    one = api.sweep(job, "rear", 10.0, [0.0, 20.0, 1e5])
    assert one.reached.tolist() == [True, True, False]
    assert np.isnan(one["roll_center_mm"][2])
    for left, right in (([1.0, 2.0], [1.0, 2.0, 3.0]), (np.nan, 0.0), (np.zeros((2, 2)), 0.0)):
        with pytest.raises(InputError, match="Postures"):
            api.sweep(job, "rear", left, right)


def test_heights_typed_and_what_holes_miss_are_in_the_replies() -> None:
    coupe = api.demo_jobs()[1]
    reply = stance.heights(coupe, "rear")
    assert {k: h.higher_mm for k, h in reply.typed.items()} == pytest.approx(
        {"driven": 0.0, "lowest": -coupe.measuring.heights.lower_mm, "raised": coupe.measuring.heights.raise_mm}
    )
    at = reply.higher_mm.index(0.0)
    for key, values in reply.values.items():
        assert reply.typed["driven"].values[key] == pytest.approx(values[at], nan_ok=True), key
    found = links.holes(api.demo_jobs()[0], 2)
    assert found.words.startswith("None of 6 combinations") or "in every band" in found.words
