"""Make the man page and the shell completions anew from the command line: .venv/bin/python scripts/make_share.py"""

import argparse
import os
import re
from importlib.metadata import version
from pathlib import Path

import shtab
from platformdirs import user_config_path, user_state_path

from even_stance.cli import build_parser
from even_stance.exchange.papers import PAPERS
from even_stance.exchange.recovery import recovery_folder
from even_stance.judgement.standards import STANDARDS
from even_stance.replies.kinds import KINDS

CHANGES = Path(__file__).resolve().parent.parent / "CHANGELOG.md"
SHARE = Path(__file__).resolve().parent.parent / "src" / "even_stance" / "share"


def _shown(folder: Path) -> str:
    """A folder of a person who moved none of them elsewhere."""
    for name, usual in (("XDG_CONFIG_HOME", "~/.config"), ("XDG_STATE_HOME", "~/.local/state")):
        if moved := os.environ.get(name):
            folder = Path(str(folder).replace(moved, usual))
    return f"{str(folder).replace(str(Path.home()), '~')}/"


EXITS = (("0", "it was done"), ("1", "check --strict found something, or solve did not get there"),
         ("2", "the command line is not what the command takes"), ("3", "the job cannot be read"),
         ("4", "it cannot be answered or written; standard error says why, and what would do"))  # fmt: skip
FILES = (
    (
        _shown(user_config_path("even-stance")),
        "looks, the window’s place, and the parts drawer",
    ),
    (_shown(recovery_folder()), "unsaved work kept aside"),
    (_shown(user_state_path("even-stance")), "last-fault.txt: what went wrong last, should the program itself fail"),
)
# What a shell offers for an argument: of which kind it is, or the words themselves.
WORDS = {
    "what": tuple(PAPERS), "axle": ("front", "rear"), "kind": ("job", *KINDS), "key": tuple(STANDARDS),
    "want": tuple(f"{key}=" for key in STANDARDS),
}  # fmt: skip
JOBS, ANY_FILE, FOLDERS = ("job",), ("file", "write"), ("folder", "projects")
_PREAMBLE = {
    "bash": "_even_stance_jobs() { compgen -f -X '!*.stance' -- \"$1\"; compgen -d -S '/' -- \"$1\"; }\n"
    + "".join(f"_even_stance_{name}() {{ compgen -W '{' '.join(words)}' -- \"$1\"; }}\n"
              for name, words in WORDS.items()),
}  # fmt: skip


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


def _released() -> str:
    """The day of the newest version, as the list of changes has it."""
    return re.search(r"^## [\d.]+ \((\d{4}-\d\d-\d\d)\)", CHANGES.read_text(encoding="utf-8"), re.MULTILINE)[1]


def man_page() -> str:
    """The man page."""
    parser = build_parser()
    commands = next(a for a in parser._actions if isinstance(a, argparse._SubParsersAction))
    lines = [
        f'.TH EVEN\\-STANCE 1 "{_released()}" "Even Stance {version("even-stance")}" "User Commands"',
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
    parser = build_parser()
    commands = next(a for a in parser._actions if isinstance(a, argparse._SubParsersAction))
    for sub in commands.choices.values():
        for action in sub._actions:
            _offer(action)
    return shtab.complete(parser, shell=shell, preamble=_PREAMBLE) + "\n"


def _offer(action: argparse.Action) -> None:
    """Say what a shell offers for an argument."""
    name = action.dest
    if name in WORDS:
        action.complete = {"bash": f"_even_stance_{name}", "zsh": f"({' '.join(WORDS[name])})"}
    elif name in JOBS:
        action.complete = {"bash": "_even_stance_jobs", "zsh": "_files -g '*.stance'"}
    elif name in ANY_FILE:
        action.complete = shtab.FILE
    elif name in FOLDERS:
        action.complete = shtab.DIRECTORY


def main() -> None:
    """Write them."""
    for name, text in (("even-stance.1", man_page()), ("even-stance.bash", completion("bash")),
                       ("_even-stance", completion("zsh"))):  # fmt: skip
        (SHARE / name).write_text(text)
        print(SHARE / name)


if __name__ == "__main__":
    main()
