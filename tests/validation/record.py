"""Checks against the outside world that write themselves into docs/validation.md.

    EVEN_STANCE_VALIDATION=docs/validation.md .venv/bin/python -m pytest tests/validation

makes the page anew from the checks that ran.
"""

from dataclasses import dataclass
from typing import Literal

Basis = Literal["published", "published, from memory", "common practice, no source", "worked by hand", "referee"]


@dataclass(frozen=True)
class Row:
    """One comparison: what was compared with which source, and how far we are off."""

    basis: Basis
    source: str
    what: str
    theirs: float
    ours: float
    unit: str
    within: float


ROWS: list[Row] = []
_HEAD = """# Validation

Numbers of Even Stance held against something outside it. Made by the tests in `tests/validation` (see
`tests/validation/record.py`); every row is a check that fails when the difference grows beyond what is allowed.
“From memory” means that the source was not at hand and the figure is as we remember it; “common practice” has no source;
“worked by hand” is the source's construction with figures of our own; a referee is an independent library.

"""


def against(
    basis: Basis, source: str, what: str, theirs: float, ours: float, unit: str = "", within: float = 1e-6
) -> None:
    """Hold a number of ours against theirs, and note it for the page.

    Raises:
        AssertionError: it is off by more than is allowed.
    """
    row = Row(basis, source, what, float(theirs), float(ours), unit, within)
    ROWS.append(row)
    assert abs(row.ours - row.theirs) <= within, f"{what}: {row.ours} against {row.theirs} of {source}"


def page() -> str:
    """The page of all checks that ran, by basis and source."""
    lines = [_HEAD]
    order = ("published", "published, from memory", "common practice, no source", "worked by hand", "referee")
    for basis in order:
        rows = sorted({r for r in ROWS if r.basis == basis}, key=lambda r: (r.source, r.what))
        if not rows:
            continue
        lines += [f"## {basis.capitalize()}\n", "| source | what | theirs | ours | off by | allowed |",
                  "| --- | --- | ---: | ---: | ---: | ---: |"]  # fmt: skip
        for r in rows:
            unit = f" {r.unit}" if r.unit else ""
            off = abs(r.ours - r.theirs)
            lines.append(
                f"| {r.source} | {r.what} | {r.theirs:.7g}{unit} | {r.ours:.7g}{unit} | "
                f"{'0' if off < 1e-12 else f'{off:.1g}'} | {r.within:.1g} |"
            )
        lines.append("")
    return "\n".join(lines)
