"""What is written to a terminal: words of a job may be a stranger's, and none of them may command the terminal."""

import re
import sys

# Control characters, and the marks that turn the direction of what follows (Unicode UAX 9).
_BIDI = "\u061c\u200e\u200f\u202a-\u202e\u2066-\u2069"
_COMMANDING = re.compile(f"[\x00-\x08\x0b-\x1f\x7f-\x9f{_BIDI}]")
_REPLACED = "\N{REPLACEMENT CHARACTER}"


def one_line(text: str) -> str:
    """Return words as one line of a terminal."""
    return _COMMANDING.sub(_REPLACED, text.replace("\n", " ").replace("\t", " "))


def say_lines(lines: list[str]) -> None:
    """Write lines to standard output."""
    sys.stdout.write("".join(f"{one_line(line)}\n" for line in lines))


def say_json(text: str) -> None:
    """Write JSON to standard output: what could command the terminal stands there as its number."""
    sys.stdout.write(_COMMANDING.sub(lambda found: f"\\u{ord(found[0]):04x}", text))


def say_trouble(text: str) -> None:
    """Write a sentence to standard error."""
    sys.stderr.write(f"even-stance: {one_line(text)}\n")
