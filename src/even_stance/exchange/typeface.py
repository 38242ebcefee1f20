"""The typefaces of papers: embedded; for letters that ours lacks one of the system's, or the printer's of Asia."""

import shutil
import subprocess
import unicodedata
from functools import lru_cache
from importlib.resources import as_file, files
from itertools import groupby
from typing import Any

import arabic_reshaper
from bidi import get_display
from reportlab.lib.fonts import addMapping
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.cidfonts import UnicodeCIDFont
from reportlab.pdfbase.ttfonts import TTFError, TTFont

TEXT, BOLD = "EvenStance", "EvenStance-Bold"
# Typefaces of East Asia that printers and viewers bring themselves (Adobe's character collections), by what they hold.
_ASIA = (("HeiseiKakuGo-W5", ((0x3040, 0x30FF), (0x4E00, 0x9FFF), (0x3000, 0x303F), (0xFF00, 0xFFEF))),
         ("HYGothic-Medium", ((0xAC00, 0xD7AF), (0x1100, 0x11FF), (0x3130, 0x318F))))  # fmt: skip
_MISSING = "?"
_RIGHT_TO_LEFT = ("R", "AL")


@lru_cache(maxsize=1)
def _ours() -> dict[str, TTFont]:
    """Our typefaces, registered."""
    found = {}
    for name, file in ((TEXT, "DejaVuSans.ttf"), (BOLD, "DejaVuSans-Bold.ttf")):
        with as_file(files("even_stance.exchange") / "fonts" / file) as path:
            font = TTFont(name, str(path))
            pdfmetrics.registerFont(font)
            found[name] = font
    for bold in (0, 1):
        addMapping(TEXT, bold, 0, BOLD if bold else TEXT)
    return found


@lru_cache(maxsize=256)
def _other(code: int) -> str:
    """A typeface that has a letter ours lacks: of the system, or that printers bring; empty: none has."""
    asked = shutil.which("fc-list")
    if asked:
        done = subprocess.run(
            [asked, f":charset={code:x}:fontformat=TrueType", "-f", "%{file}\n"], capture_output=True, text=True,
            check=False, timeout=20,
        )  # fmt: skip
        for path in sorted(set(done.stdout.split("\n"))):
            if path.lower().endswith(".ttf"):
                name = f"System-{path.rsplit('/', 1)[-1]}"
                try:
                    font = TTFont(name, path)
                except (TTFError, OSError):
                    continue
                if code in font.face.charToGlyph:
                    pdfmetrics.registerFont(font)
                    return name
    for name, ranges in _ASIA:
        if any(low <= code <= high for low, high in ranges):
            pdfmetrics.registerFont(UnicodeCIDFont(name))
            return name
    return ""


def typeface() -> None:
    """Make sure that our typefaces are known to the papers."""
    _ours()


def _as_written(text: str) -> str:
    """A text in the order its letters stand on paper, those of Arabic joined: a page knows only left to right.

    Source: Unicode Standard Annex 9 (direction), Arabic Presentation Forms (joining), by their libraries.
    """
    if not any(unicodedata.bidirectional(letter) in _RIGHT_TO_LEFT for letter in text):
        return text
    return str(get_display(arabic_reshaper.reshape(text)))


def runs(text: str, bold: bool = False) -> list[tuple[str, str]]:
    """A text in pieces, each with the typeface that has its letters; a letter nobody has is a question mark."""
    main = BOLD if bold else TEXT
    known = _ours()[main].face.charToGlyph
    text = _as_written(text)

    def face(letter: str) -> str:
        return main if ord(letter) in known or letter.isspace() else _other(ord(letter)) or _MISSING

    pieces = []
    for name, letters in groupby(text, key=face):
        said = "".join(letters)
        pieces.append((main, _MISSING * len(said)) if name == _MISSING else (name, said))
    return pieces


def markup(text: str, bold: bool = False) -> str:
    """A text for a paragraph: marks of the markup escaped, letters that ours lacks in their own typeface."""
    main, said = BOLD if bold else TEXT, ""
    for name, piece in runs(text, bold):
        plain = piece.replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;")
        said += plain if name == main else f'<font name="{name}">{plain}</font>'
    return said


def width(text: str, size: float, bold: bool = False) -> float:
    """How wide a text is, points."""
    return sum(float(pdfmetrics.stringWidth(piece, name, size)) for name, piece in runs(text, bold))


def write(canvas: Any, x: float, y: float, text: str, size: float, anchor: str = "left", bold: bool = False) -> None:
    """Write a line of text on a page; x is its left end, its middle or its right end."""
    x -= {"left": 0.0, "middle": 0.5, "right": 1.0}[anchor] * width(text, size, bold)
    for name, piece in runs(text, bold):
        canvas.setFont(name, size)
        canvas.drawString(x, y, piece)
        x += float(pdfmetrics.stringWidth(piece, name, size))
