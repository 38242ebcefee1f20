"""Files for menus, file types, man pages and completion: valid, current, put in and taken out without a trace."""

import os
import shutil
import subprocess
import sys
import tomllib
import xml.etree.ElementTree as ET
from importlib.metadata import metadata, version
from pathlib import Path

import pytest

from even_stance.cli import COMMANDS, run
from even_stance.exchange.belonging import PLACES, install, remove, shipped
from even_stance.exchange.demo import demo_jobs
from even_stance.exchange.jobfile import save_job

ROOT = Path(__file__).resolve().parent.parent
SHARE = ROOT / "src" / "even_stance" / "share"


def _clean(*words: str) -> None:
    """A validator of the system has nothing to say."""
    done = subprocess.run(words, capture_output=True, text=True, check=False, env={**os.environ, "LC_ALL": "C.UTF-8"})
    assert (done.returncode, done.stderr) == (0, ""), done.stdout + done.stderr


def test_validators_find_nothing(tmp_path: Path) -> None:
    _clean("desktop-file-validate", str(SHARE / "even-stance.desktop"))
    _clean("appstreamcli", "validate", "--no-net", str(SHARE / "even-stance.metainfo.xml"))
    _clean("man", "--warnings", "-E", "UTF-8", "-l", "-Tutf8", "-Z", str(SHARE / "even-stance.1"))
    _clean("bash", "-n", str(SHARE / "even-stance.bash"))
    _clean("zsh", "-n", str(SHARE / "_even-stance"))
    # A validator that takes anything would prove nothing.
    spoiled = tmp_path / "even-stance.desktop"
    spoiled.write_text((SHARE / "even-stance.desktop").read_text().replace("Type=Application", "Type=Tractor"))
    assert subprocess.run(["desktop-file-validate", str(spoiled)], capture_output=True, check=False).returncode


def test_man_page_and_completions_are_those_of_this_command_line() -> None:
    sys.path.insert(0, str(ROOT / "scripts"))
    try:
        import make_share  # noqa: PLC0415
    finally:
        sys.path.pop(0)
    assert shipped("even-stance.1").decode() == make_share.man_page()
    assert shipped("even-stance.bash").decode() == make_share.completion("bash")
    assert shipped("_even-stance").decode() == make_share.completion("zsh")
    for name in COMMANDS:
        assert name.replace("-", "\\-") in shipped("even-stance.1").decode()


def test_what_is_put_in_is_taken_out_again(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    home = tmp_path / "data"
    others = home / "applications" / "other.desktop"
    others.parent.mkdir(parents=True)
    others.write_text("[Desktop Entry]\nType=Application\nName=Other\nExec=true\n")
    monkeypatch.setenv("XDG_DATA_HOME", str(home))
    assert run(["install-desktop"]) == 0
    assert {home / place for place in PLACES.values()} == {
        Path(line) for line in capsys.readouterr().out.split("\n")[:-1]
    }
    assert all((home / place).is_file() for place in PLACES.values())
    # The file type is known by name and by content.
    job = tmp_path / "car.stance"
    save_job(demo_jobs()[0], job)
    found = (home / "mime" / "globs2").read_text()
    assert "application/x-even-stance-job:*.stance" in found
    assert "even-stance-job" in (home / "applications" / "mimeinfo.cache").read_text()
    assert install() == [home / place for place in PLACES.values()]  # once more is no harm
    assert run(["remove-desktop"]) == 0
    assert [p for p in home.rglob("*") if p.is_file()] == [others, home / "applications" / "mimeinfo.cache"]
    assert "even-stance" not in (home / "applications" / "mimeinfo.cache").read_text()
    assert remove() == []


def test_a_place_that_cannot_be_written_is_named(tmp_path: Path) -> None:
    (tmp_path / "applications").write_text("in the way")
    with pytest.raises(Exception, match="applications"):
        install(tmp_path)


def test_the_desktop_file_starts_the_program_wherever_it_is(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(shutil, "which", lambda _: None)
    install(tmp_path)
    text = (tmp_path / PLACES["even-stance.desktop"]).read_text()
    assert f'Exec="{Path(sys.executable).with_name("even-stance")}" %f' in text


def test_version_license_and_bounds_are_said_once_and_alike() -> None:
    project = tomllib.loads((ROOT / "pyproject.toml").read_text())["project"]
    assert version("even-stance") == project["version"]
    release = ET.fromstring(shipped("even-stance.metainfo.xml")).find("releases/release")
    assert release is not None
    assert release.get("version") == project["version"]
    assert f"## {project['version']} ({release.get('date')})" in (ROOT / "CHANGELOG.md").read_text()
    assert metadata("even-stance")["License-Expression"] == "GPL-3.0-or-later"
    assert "GNU GENERAL PUBLIC LICENSE" in (ROOT / "LICENSE").read_text()
    assert all(">=" in d and "<" in d for d in project["dependencies"])


def test_every_file_beside_the_sources_goes_into_a_wheel() -> None:
    """Typefaces, drawings, texts and jobs: what no pattern names would be missing wherever the program is installed."""
    told = tomllib.loads((ROOT / "pyproject.toml").read_text(encoding="utf-8"))
    patterns = told["tool"]["setuptools"]["package-data"]["even_stance"]
    package = ROOT / "src" / "even_stance"
    packed = {f for pattern in patterns for f in package.glob(pattern)}
    beside = {f for f in package.rglob("*") if f.is_file() and f.suffix not in (".py", ".pyc")}
    assert {f.relative_to(package).as_posix() for f in beside - packed} == set()
