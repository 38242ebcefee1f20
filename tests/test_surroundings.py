"""What the program meets around itself: its own damaged files, menus, owners, displays, names that are no text."""

import json
import os
import pty
import random
import subprocess
import sys
from pathlib import Path

import pytest

from even_stance.errors import JobFileError
from even_stance.exchange.belonging import command, exec_word, install
from even_stance.exchange.jobfile import load_job, save_job
from even_stance.exchange.kept import path_of, paths_of, read_kept, text_of, time_of
from even_stance.exchange.papers import write_paper
from even_stance.exchange.recovery import Autosave, find_recovered
from even_stance.exchange.wholefile import write_whole
from even_stance.shop.gauges import serial_opener
from even_stance.vehicle.job import Job
from tests.mutants import ODD, bytes_damaged

NOTES = (
    '{"saved_at": NaN, "path": null, "owner": ""}', '{"saved_at": 1e300, "path": "a", "owner": ""}',
    '{"saved_at": 1' + "0" * 400 + ', "path": "a", "owner": ""}', '{"saved_at": 1, "path": "a\\u0000b", "owner": ""}',
    '{"saved_at": -1e18, "path": 7, "owner": []}', '{"saved_at": true}', "[]", "null", "", "\0", "[" * 50_000,
)  # fmt: skip


@pytest.mark.parametrize("note", NOTES)
def test_kept_work_is_found_whatever_its_note_says(tmp_path: Path, trail_job: Job, note: str) -> None:
    """A damaged note ended every start without a word."""
    kept = Autosave(tmp_path, owner="gone")
    kept.keep(trail_job, tmp_path / "car.stance")
    kept.file.with_suffix(".note").write_text(note)
    (found,) = find_recovered(tmp_path)
    assert found.job == trail_job
    assert 0.0 <= found.saved_at < 5e9
    assert found.path is None or not found.path.is_dir()


def test_whatever_is_kept_is_read(tmp_path: Path) -> None:
    """Two thousand damaged files of the program's own: each gives values that can be used, or nothing."""
    hands, file, whole = random.Random(3), tmp_path / "look.json", {
        "look": "night", "percent": 150, "recent": ["a.stance", "b.stance"], "saved_at": 1.7e9, "path": "a", "owner": "1/2/3",
    }  # fmt: skip
    used = 0
    for i in range(2000):
        if i % 2:
            raw = bytes_damaged(json.dumps(whole).encode(), hands)
        else:
            raw = json.dumps({**whole, hands.choice([*whole]): hands.choice(ODD)}).encode()
        file.write_bytes(raw)
        kept = read_kept(file)
        assert 0.0 <= time_of(kept, "saved_at", 5.0) < 5e9
        assert "\0" not in text_of(kept, "owner")
        for path in [*paths_of(kept, "recent", 12), path_of(kept, "path")]:
            assert path is None or os.path.exists(path) in (True, False)  # noqa: PTH110 - for any name
        used += bool(kept)
    assert 1000 < used < 2000


@pytest.mark.parametrize("folder", ["plain", "two words", "per%cent", "dol$lar", "back`tick", 'quo"te', "back\\slash"])
def test_the_menu_starts_the_program_from_any_folder(tmp_path: Path, folder: str) -> None:
    """By the rules of the Desktop Entry Specification: its own escapes, then % codes, then quoting as a shell reads it."""
    path = f"/home/me/{folder}/even-stance"
    line = exec_word(path)
    read = line.replace("\\\\", "\\").replace("%%", "%")
    said = subprocess.run(["/bin/sh", "-c", f"printf %s {read}"], capture_output=True, text=True, check=True).stdout
    assert said == path
    install(tmp_path)
    entry = (tmp_path / "applications" / "even-stance.desktop").read_text()
    assert f"Exec={exec_word(command())} %f" in entry
    assert Path(command()).is_absolute()  # a menu knows no environment that was activated
    done = subprocess.run(["desktop-file-validate", str(tmp_path / "applications" / "even-stance.desktop")],
                          capture_output=True, text=True, check=False)  # fmt: skip
    assert (done.returncode, done.stdout) == (0, "")


def test_owner_and_attributes_of_a_file_stay(tmp_path: Path, trail_job: Job, coupe_job: Job) -> None:
    """Saved as root, a file went to root; tags and access lists of files were lost."""
    path = tmp_path / "car.stance"
    save_job(trail_job, path)
    try:
        os.setxattr(path, "user.tag", b"front")
    except OSError:
        pytest.skip("this file system keeps no attributes")
    if os.geteuid() == 0:
        os.chown(path, 1234, 1235)
        path.chmod(0o640)
    was = path.stat()
    save_job(coupe_job, path)
    now = path.stat()
    assert (now.st_uid, now.st_gid, now.st_mode) == (was.st_uid, was.st_gid, was.st_mode)
    assert os.getxattr(path, "user.tag") == b"front"
    assert load_job(path)[0] == coupe_job


def test_a_name_that_is_no_text_is_a_name(tmp_path: Path, trail_job: Job) -> None:
    path = tmp_path / os.fsdecode(b"car-\xff\xfe.stance")
    save_job(trail_job, path)
    assert load_job(path)[0] == trail_job
    paper = tmp_path / os.fsdecode(b"points-\xff.csv")
    write_paper(trail_job, "points", paper)
    assert paper.exists()
    for words, code in (([], 0), (["--axle", os.fsdecode(b"x\xff")], 4)):
        done = subprocess.run(
            [sys.executable, "-m", "even_stance", "answers", path, *words], capture_output=True, check=False
        )
        assert done.returncode == code
        assert b"Traceback" not in done.stderr
    done = subprocess.run([sys.executable, "-m", "even_stance", "paper", "cut-list", path, tmp_path / "c.pdf"],
                          capture_output=True, check=False)  # fmt: skip
    assert b"Traceback" not in done.stderr
    with pytest.raises(JobFileError, match="could not be written"):
        write_whole(tmp_path / "no" / os.fsdecode(b"\xff.csv"), b"")


def test_one_gauge_port_belongs_to_one_window() -> None:
    """Two windows on one port took each other's bytes."""
    ours, theirs = pty.openpty()
    try:
        first = serial_opener(os.ttyname(theirs))()
        with pytest.raises(OSError, match=r"exclusively lock|in use|temporarily unavailable"):
            serial_opener(os.ttyname(theirs))()
        first.close()
        serial_opener(os.ttyname(theirs))().close()
    finally:
        os.close(ours)
        os.close(theirs)


@pytest.mark.parametrize(
    ("names", "said"),
    [
        ({"WAYLAND_DISPLAY": "wayland-77"}, "The Wayland display wayland-77 cannot be reached"),
        ({"WAYLAND_DISPLAY": "wayland-77", "DISPLAY": ":987"}, "The display :987 cannot be reached"),
        ({"QT_QPA_PLATFORM": "wayland"}, "The Wayland display wayland-0 cannot be reached"),
        ({"QT_QPA_PLATFORM": "moonlight"}, "asks for “moonlight”, on which no window opens here"),
        ({"QT_QPA_PLATFORM": "eglfs"}, "asks for “eglfs”, on which no window opens here"),
    ],
)
def test_a_display_that_does_not_answer_is_one_sentence(tmp_path: Path, names: dict[str, str], said: str) -> None:
    """Qt ended the program with the advice to install it again."""
    hidden = ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")
    environment = {k: v for k, v in os.environ.items() if k not in hidden} | {"XDG_RUNTIME_DIR": str(tmp_path), **names}
    done = subprocess.run([sys.executable, "-m", "even_stance", "demo"], env=environment, capture_output=True,
                          text=True, check=False, timeout=60)  # fmt: skip
    assert done.returncode == 4
    assert said in done.stderr
    assert done.stderr.count("\n") == 1
