"""Make the man page and the shell completions anew from the command line: .venv/bin/python scripts/make_share.py"""

import argparse
import re
from importlib.metadata import version
from pathlib import Path

import shtab

from even_stance.cli import build_parser

SHARE = Path(__file__).resolve().parent.parent / "src" / "even_stance" / "share"
EXITS = (("0", "it was done"), ("1", "check --strict found something, or solve did not get there"),
         ("2", "something typed or stored cannot be used; standard error says what, and what would do"))  # fmt: skip
FILES = (
    ("~/.config/even-stance/", "looks, the window's place, and the parts drawer"),
    ("~/.local/share/even-stance/", "unsaved work kept aside"),
    ("~/.local/state/even-stance/", "what went wrong last, should the program itself fail"),
)


def _plain(text: str) -> str:
    """A text as roff wants it."""
    text = text.replace("\\", "\\e").replace("-", "\\-").replace("“", "\\(lq").replace("”", "\\(rq")
    return re.sub(r"^([.'])", r"\\&\1", text)


def _sentence(text: str) -> str:
    return _plain(f"{text[:1].upper()}{text[1:]}.")


def _options(parser: argparse.ArgumentParser) -> list[str]:
    lines = []
    for action in parser._actions:
        if isinstance(action, argparse._SubParsersAction | argparse._HelpAction):
            continue
        name = ", ".join(action.option_strings) or (action.metavar or action.dest)
        if action.option_strings and action.nargs != 0:
            values = "{" + ",".join(action.choices) + "}" if action.choices else (action.metavar or action.dest.upper())
            name += f" {values}"
        lines += [".RS", ".TP", f".B {_plain(str(name))}", _plain(action.help or ""), ".RE"]
    return lines


def man_page() -> str:
    """The man page."""
    parser = build_parser()
    commands = next(a for a in parser._actions if isinstance(a, argparse._SubParsersAction))
    lines = [
        f'.TH EVEN\\-STANCE 1 "" "Even Stance {version("even-stance")}" "User Commands"',
        ".SH NAME", "even\\-stance \\- design and build solid\\-axle link suspensions",
        ".SH SYNOPSIS", ".B even\\-stance", "[\\fIJOB.stance\\fR]", ".br", ".B even\\-stance", "\\fICOMMAND\\fR ...",
        ".SH DESCRIPTION",
        "Without a command the window opens, on a job file if one is given.", ".PP",
        "A job file named \\fB\\-\\fR is read from standard input.",
        "Replies are JSON with a format and a version; lengths are mm, masses kg, forces N, angles degrees.",
        ".PP", "Results are screening figures from what was typed in. Local codes, inspectors and licensed engineers",
        "decide what may go on the road.",
        ".SH COMMANDS",
    ]  # fmt: skip
    for name, sub in commands.choices.items():
        lines += [
            ".TP",
            f".B {_plain(name)}",
            _sentence(sub.description or ""),
        ]
        lines += _options(sub)
    lines.append(".SH OPTIONS")
    lines += [".TP", ".B \\-h, \\-\\-help", "Help for the program or for one command.",
              ".TP", ".B \\-V, \\-\\-version", "Which version it is."]  # fmt: skip
    lines.append(".SH EXIT STATUS")
    for code, words in EXITS:
        lines += [".TP", f".B {code}", _plain(words)]
    lines.append(".SH FILES")
    for path, words in FILES:
        lines += [".TP", f".I {_plain(path)}", _plain(words)]
    lines += [".SH SEE ALSO", "The guide is inside the program: press F1."]
    return "\n".join(lines) + "\n"


def completion(shell: str) -> str:
    """Completion for a shell."""
    return shtab.complete(build_parser(), shell=shell) + "\n"


def main() -> None:
    """Write them."""
    for name, text in (("even-stance.1", man_page()), ("even-stance.bash", completion("bash")),
                       ("_even-stance", completion("zsh"))):  # fmt: skip
        (SHARE / name).write_text(text)
        print(SHARE / name)


if __name__ == "__main__":
    main()
