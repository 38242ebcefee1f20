"""The help shipped with the program: its chapters, and where words are found in them."""

import re
from dataclasses import dataclass
from functools import lru_cache
from importlib.metadata import PackageNotFoundError, metadata, requires, version
from importlib.resources import files

BOOKS = {
    "guide": "Guide", "projects": "Worked projects", "keys": "Keys", "symbols": "Signs on the screen",
    "methods": "Formulas and sources", "conventions": "Axes and signs", "gauges": "Gauges",
    "about": "About and licenses",
}  # fmt: skip
# Which chapter of the guide a station is told in: the first words of its heading after the number.
STATIONS = {
    "stance": "Set the stance", "links": "Judge and change", "travel": "Run it through", "driveline": "Under the car",
    "steering": "What steers it", "springs": "What carries it", "clearance": "What hits what",
    "build": "What to buy", "log": "How it came out", "new": "Start a job",
}  # fmt: skip


@dataclass(frozen=True)
class Chapter:
    """One chapter: of which book, its title, and its text as Markdown without pictures."""

    book: str
    title: str
    text: str


@lru_cache(maxsize=1)
def chapters() -> tuple[Chapter, ...]:
    """All chapters, book by book."""
    found = []
    for book, title in BOOKS.items():
        text = (files("even_stance") / "help" / f"{book}.md").read_text(encoding="utf-8")
        if book == "about":
            text += _licenses()
        text = re.sub(r"!\[[^\]]*\]\([^)]*\)\n+", "", text)
        # Links lead to files beside this text, which are not here.
        text = re.sub(r"\[([^\]]*)\]\([^)]*\)", r"\1", text)
        parts = re.split(r"^## ", text, flags=re.MULTILINE)
        head, rest = parts[0].split("\n", 1)
        found.append(Chapter(book, title, f"# {head.removeprefix('# ')}\n{rest}"))
        if book == "about":
            found[-1] = Chapter(book, title, text)
            continue
        for part in parts[1:]:
            name, body = part.split("\n", 1)
            found.append(Chapter(book, name, f"## {name}\n{body}"))
    return tuple(found)


def _licenses() -> str:
    """What the program stands on, with the license of each, as it is installed."""
    lines = ["", "## What it stands on", "", "| Part | Version | License |", "| --- | --- | --- |"]
    for need in requires("even-stance") or ():
        if "extra ==" in need:
            continue
        name = re.split(r"[<>=!~;\[ ]", need)[0]
        try:
            told = dict(metadata(name).json)
        except PackageNotFoundError:
            continue
        words = str(told.get("license_expression") or told.get("license") or "")
        if not words or len(words) > 60:
            classified = [c.rsplit(" :: ", 1)[-1] for c in told.get("classifier", ()) if c.startswith("License")]
            words = ", ".join(classified) or words.split("\n", maxsplit=1)[0][:60]
        lines.append(f"| {told['name']} | {version(name)} | {words} |")
    return "\n".join([*lines, "", f"Even Stance {version('even-stance')}.", ""])


def chapter_of(station: str) -> int:
    """Which chapter tells of a station, or begins a book; the first one where none does."""
    start = STATIONS.get(station) or BOOKS.get(station, "")
    every = chapters()
    return next((i for i, c in enumerate(every) if start and re.sub(r"^\d+ ", "", c.title).startswith(start)), 0)


def search(words: str) -> list[tuple[int, str]]:
    """Chapters that have all of the words, those with them in the title first, each with the line they are on."""
    asked = words.lower().split()
    found = []
    for i, chapter in enumerate(chapters()):
        text = chapter.text.lower()
        if not asked or not all(w in text for w in asked):
            continue
        lines = [line for line in chapter.text.split("\n") if asked[0] in line.lower()]
        line = max(lines, key=lambda one: sum(w in one.lower() for w in asked), default="")
        in_title = all(w in chapter.title.lower() for w in asked)
        found.append((not in_title, i, re.sub(r"[*#|`]", "", line).strip()))
    return [(i, line) for _, i, line in sorted(found)]
