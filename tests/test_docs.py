"""What the documents say is there: pictures, links, commands, keys and the protocol's example."""

import re
from pathlib import Path

import pytest

from even_stance.cli import build_parser
from even_stance.desktop.shots import _SHOTS
from even_stance.exchange.papers import PAPERS
from even_stance.shop.gauges import read_line

ROOT = Path(__file__).parent.parent
HELP = ROOT / "src" / "even_stance" / "help"
PAGES = [*sorted(ROOT.glob("*.md")), *sorted((ROOT / "docs").glob("*.md")), *sorted(HELP.glob("*.md"))]


@pytest.mark.parametrize("page", PAGES, ids=lambda p: p.name)
def test_every_link_leads_somewhere(page: Path) -> None:
    for target in re.findall(r"\]\(([^)#]+)\)", page.read_text(encoding="utf-8")):
        assert (page.parent / target).exists(), target


def test_screenshots_are_those_that_are_made_and_all_are_linked() -> None:
    made = {f"{name}.png" for name, *_ in _SHOTS}
    kept = {p.name for p in (ROOT / "docs" / "screenshots").glob("*.png")}
    assert kept == made
    assert len(kept) < 20
    text = (ROOT / "README.md").read_text(encoding="utf-8")
    for name in kept:
        assert f"docs/screenshots/{name}" in text, name


def test_the_commands_of_the_readme_exist() -> None:
    text = (ROOT / "README.md").read_text(encoding="utf-8")
    parser = build_parser()
    known = set(next(a for a in parser._actions if a.dest == "command").choices)  # type: ignore[arg-type]
    assert set(re.findall(r"`even-stance ([a-z-]+)", text)) <= known
    table = text[text.index("| command |") : text.index("## What it does")]
    assert known == {word for word in re.findall(r"[a-z]+(?:-[a-z]+)*", table) if word in known}
    for what in PAPERS:
        assert what in text


def test_the_example_of_the_protocol_is_right() -> None:
    text = (HELP / "gauges.md").read_text(encoding="utf-8")
    line = re.search(r"^    (ANG .*\*[0-9A-F]{2})$", text, re.MULTILINE)
    assert line is not None
    assert read_line(line[1].encode()).value == 2.35


def test_nothing_published_names_a_host_or_a_path_of_some_machine() -> None:
    for page in [*PAGES, ROOT / "constraints.txt", ROOT / "pyproject.toml"]:
        text = page.read_text(encoding="utf-8")
        assert not re.search(r"https?://|/(home|root|tmp)/", text), page.name
