"""The same answers without a window: every command, what it takes, and what it prints.

Nothing heavy is loaded here: each command loads what it needs when it runs, so that none waits for the others.
"""

import argparse
import re
import sys
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from importlib import import_module
from pathlib import Path
from typing import TYPE_CHECKING, Any, NoReturn

from even_stance.errors import InputError, JobFileError, JobNotReadError, StanceError, UsageError
from even_stance.faults import report_faults_to
from even_stance.terminal import say_json, say_lines, say_trouble

if TYPE_CHECKING:
    from even_stance import units
    from even_stance.exchange import belonging, jobfile, jobschema, paper, papers, recovery, wholefile
    from even_stance.replies import car, checking, kinds, links, posture, stance
    from even_stance.replies.reply import Reply
    from even_stance.vehicle.job import Job
else:

    class _Late:
        """A module that is loaded when something of it is first asked for."""

        def __init__(self, name: str) -> None:
            self._name = name

        def __getattr__(self, what: str) -> Any:
            return getattr(import_module(f"even_stance.{self._name}"), what)

    _FILES = ("belonging", "jobfile", "jobschema", "paper", "papers", "recovery", "wholefile")
    units, belonging, jobfile, jobschema, paper, papers, recovery, wholefile = map(
        _Late,
        ("units", *(f"exchange.{n}" for n in _FILES)),
    )
    car, checking, kinds, links, posture, stance = map(
        _Late, (f"replies.{n}" for n in ("car", "checking", "kinds", "links", "posture", "stance"))
    )

Options = argparse.Namespace
ASIDE = "-"
"""As a file name: standard input, or standard output."""


USAGE, NOT_READ, NOT_ANSWERED = 2, 3, 4
"""What the program leaves with when the command line, a file, or the question is at fault."""
# As study/travel.py and study/loads.py have them, which would take long to load; a test holds them to those.
SWEEPS = ("bump", "roll", "left", "right", "cross")
CASES = ("standing", "launch", "braking", "cornering", "bump", "ledge")


class _Parser(argparse.ArgumentParser):
    """A parser whose complaints are one sentence, like every other one here."""

    def error(self, message: str) -> NoReturn:
        """Refuse what was typed."""
        raise UsageError("Command line", f"{message}.", f"See “{self.prog} --help”.")


class _ShowVersion(argparse.Action):
    """Prints the version; only then is it looked up."""

    def __call__(self, parser: argparse.ArgumentParser, *_rest: object) -> NoReturn:
        from importlib.metadata import version  # noqa: PLC0415 - takes longer than all else here

        say_lines([f"even-stance {version('even-stance')}"])
        parser.exit()


def complain(error: Exception) -> int:
    """Say on standard error what went wrong; return the exit code to leave with."""
    say_trouble(str(error))
    return USAGE if isinstance(error, UsageError) else NOT_READ if isinstance(error, JobNotReadError) else NOT_ANSWERED


def _warn(sentences: Sequence[str]) -> None:
    for sentence in sentences:
        say_trouble(sentence)


def read_job(name: str) -> "Job":
    """Return the job of a file, or of standard input.

    Raises:
        JobNotReadError: it cannot be read; the sentence says why.
    """
    try:
        return jobfile.load_job(Path(name))[0] if name != ASIDE else _read_standard_input()
    except JobFileError as error:
        raise JobNotReadError(str(error)) from None


def _read_standard_input() -> "Job":
    raw = sys.stdin.buffer.read(jobfile.LARGEST_BYTES + 1)
    if len(raw) > jobfile.LARGEST_BYTES:
        most = jobfile.LARGEST_BYTES / 1e6
        raise JobFileError(f"Standard input is larger than {most:.0f} MB. No job is so large.")
    return jobfile.parse_job(raw.decode("utf-8-sig", errors="replace"), "Standard input")


def _typed(read: Callable[[str, str], float], text: str, option: str) -> float:
    """Return a figure of the command line.

    Raises:
        UsageError: it is none.
    """
    try:
        return read(text, option)
    except InputError as error:
        raise UsageError(error.field, error.problem, error.hint) from None


def _mm(text: str, option: str) -> float:
    return _typed(lambda typed, name: units.parse_length(typed, "metric", name), text, option)


def _figure(text: str, option: str) -> float:
    return _typed(units.parse_number, text, option)


# --- what each command takes


def _job(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("job", help="a job file, or - for standard input")


def _axle(parser: argparse.ArgumentParser) -> None:
    _job(parser)
    parser.add_argument("--axle", default="rear", help="which axle (default: rear)")


def _posture(parser: argparse.ArgumentParser) -> None:
    _axle(parser)
    parser.add_argument("--left", default="0", help="rise of the left wheel, mm (or with a unit: 2in), bump +")
    parser.add_argument("--right", default="0", help="rise of the right wheel, mm, bump +")


def _steered(parser: argparse.ArgumentParser) -> None:
    _posture(parser)
    parser.add_argument("--steer", default="0", help="steer input, + to the left: hand-wheel turns, or mm of ram rod")


def _loaded(parser: argparse.ArgumentParser) -> None:
    _posture(parser)
    parser.add_argument("--case", default="standing", choices=CASES, help="which case (default: standing)")


def _swept(parser: argparse.ArgumentParser) -> None:
    _axle(parser)
    parser.add_argument("--sweep", default="bump", choices=SWEEPS, help="which way it goes (default: bump)")


def _checked(parser: argparse.ArgumentParser) -> None:
    _job(parser)
    parser.add_argument("--strict", action="store_true", help="leave with 1 when anything is out of its band or found")
    parser.add_argument("--json", action="store_true", help="the same as JSON")


def _paper_of(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("what", help="report, drawing, points, cut-list, templates ...: any other word lists them all")
    _job(parser)
    parser.add_argument("file", help="where to write it, or - for standard output")
    parser.add_argument("--size", choices=("letter", "a4"), default="", help="the paper (default: by the job's units)")
    parser.add_argument("--comma", action="store_true", help="tables with decimal commas, semicolons between cells")


def _listed(parser: argparse.ArgumentParser) -> None:
    _job(parser)
    parser.add_argument("--bare", action="store_true", help="the rows alone, without what they are of")


def _gaps(parser: argparse.ArgumentParser) -> None:
    _listed(parser)
    parser.add_argument("--coarse", action="store_true", help="a quick first look on few postures")


def _counted(parser: argparse.ArgumentParser) -> None:
    _job(parser)
    parser.add_argument("--most", default="20", help="how many of the best (default: 20)")


def _solved(parser: argparse.ArgumentParser) -> None:
    _axle(parser)
    parser.add_argument("--want", action="append", default=[], metavar="KEY=VALUE",
                        help="a number and its value; also ic_x_mm, ic_z_mm, length:LINK, length_ratio_pct, and as the "
                             "most it may be joint_swing_deg and flat:KEY, its change over travel")  # fmt: skip
    parser.add_argument("--free", action="append", default=[], metavar="MEMBER/END/WAY[=LOW:HIGH]",
                        help="what may move: ahead, out or up, and how far, mm; its twin goes along")  # fmt: skip
    parser.add_argument("--write", metavar="FILE", help="write the job so changed there; no reply then for -")


def _asked_why(parser: argparse.ArgumentParser) -> None:
    _axle(parser)
    parser.add_argument("key", help="which number, such as anti_squat_axle_pct: any other word lists them all")


def _reached(parser: argparse.ArgumentParser) -> None:
    _axle(parser)
    parser.add_argument("--reach", default="2in", help="how much lower and higher (default: 2in)")


def _of_kind(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("kind", nargs="?", default="job", help="job (default), or the command whose reply is meant")


def _into_folder(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("folder", type=Path)
    parser.add_argument("--projects", type=Path, metavar="FOLDER", help="where strips of the worked projects go")


def _nothing(_parser: argparse.ArgumentParser) -> None:
    """It takes no more."""


# --- what each command does: a reply is printed, a number is the code to leave with


def _answers(options: Options, job: "Job") -> "Reply":
    steer = _figure(options.steer, "--steer")
    if steer and (words := posture.no_steering_words(job, options.axle)):
        _warn([words])
    return posture.answers(job, options.axle, *_wheels(options), steer)


def _wheels(options: Options) -> tuple[float, float]:
    return _mm(options.left, "--left"), _mm(options.right, "--right")


def _check(options: Options, job: "Job") -> int:
    found = checking.check(job)
    if options.json:
        say_json(found.text())
    else:
        lines = [f"{job.name}: judged as {job.purpose.replace('_', ' ')}"]
        axle = ""
        for line in found.lines:
            if line.axle != axle:
                axle = line.axle
                lines.append(f"{axle} axle")
            lines.append(f"  {line.sentence}")
        say_lines([*lines, "", *found.cautions])
    return 1 if options.strict and any(line.is_wrong for line in found.lines) else 0


def _clearances(options: Options, job: "Job") -> int:
    found = car.clearances(job, not options.coarse)
    _warn(found.not_looked)
    say_json(found.bare_text() if options.bare else found.text())
    return 0


def _cut_list(options: Options, job: "Job") -> int:
    found = car.cuts(job)
    _warn(found.missing)
    say_json(found.bare_text() if options.bare else found.text())
    return 0


def _holes(options: Options, job: "Job") -> "Reply":
    most = _figure(options.most, "--most")
    if not 1 <= most <= 400:
        raise UsageError("--most", f"{most:g} is too many or none.", "Type 1 to 400.")
    return links.holes(job, int(most))


def _solve(options: Options, job: "Job") -> "Reply | int":
    try:
        wanted = dict(links.target(text) for text in options.want)
    except InputError as error:
        raise UsageError(error.field, error.problem, error.hint) from None
    reply, found = links.solve(job, options.axle, wanted, [links.freedom(job, options.axle, t) for t in options.free])
    if options.write:
        text = jobfile.dump_job(found.edit.apply(job))
        if options.write == ASIDE:
            say_json(text)
            return 0 if found.reached else 1
        wholefile.write_whole(Path(options.write), text.encode())
    say_json(reply.text())
    return 0 if found.reached else 1


def _paper(options: Options, job: "Job") -> int:
    setup = paper.Setup(options.size, "" if options.job == ASIDE else Path(options.job).name, comma=options.comma)
    if options.file == ASIDE:
        sys.stdout.buffer.write(papers.paper_of(job, options.what, setup))
        return 0
    papers.write_paper(job, options.what, Path(options.file), setup)
    return 0


def _schema(options: Options, _job: None) -> int:
    say_json(jobschema.generated_schema() if options.kind == "job" else kinds.reply_schema(options.kind))
    return 0


def _desktop(options: Options, _job: None) -> int:
    say_lines([str(p) for p in (belonging.install() if options.command == "install-desktop" else belonging.remove())])
    return 0


@dataclass(frozen=True)
class Command:
    """One command: what it is for, what it takes and does; windows are opened elsewhere."""

    words: str
    takes: Callable[[argparse.ArgumentParser], None]
    does: "Callable[[Options, Any], Reply | int] | None"


_ALL = {
    "answers": Command("the answers for one axle at one posture, as JSON", _steered, _answers),
    "travel": Command("every answer of an axle along a sweep, as JSON", _swept,
                      lambda o, job: links.travel(job, o.axle, o.sweep)),
    "loads": Command("what links, joints and springs carry in a case, as JSON", _loaded,
                     lambda o, job: links.loads(job, o.axle, o.case, *_wheels(o))),
    "holes": Command("the best of all combinations of bracket holes, as JSON", _counted, _holes),
    "solve": Command("the nearest layout with the wanted numbers, as JSON", _solved, _solve),
    "why": Command("what is behind a number, as JSON", _asked_why, lambda o, job: links.why(job, o.axle, o.key)),
    "variants": Command("the variants of a job side by side, as JSON", _axle,
                        lambda o, job: links.variants(job, o.axle)),
    "square": Command("how square the rear axle is, what to turn, as JSON", _job, lambda o, job: stance.square(job)),
    "weight": Command("weight and center of gravity from the scales, as JSON", _job, lambda o, job: stance.weight(job)),
    "heights": Command("the answers over ride height, as JSON", _reached,
                       lambda o, job: stance.heights(job, o.axle, _mm(o.reach, "--reach"))),
    "cribs": Command("four wheel cribs and how to cut them, as JSON", _job, lambda o, job: stance.cribs(job)),
    "ride": Command("how the car rides and leans on its springs, as JSON", _job, lambda o, job: car.ride(job)),
    "clearances": Command("the tightest gap of every pair of parts, as JSON", _gaps, _clearances),
    "cut-list": Command("what to cut every link to, as JSON", _listed, _cut_list),
    "as-built": Command("an axle as it came out against its design, as JSON", _axle,
                        lambda o, job: car.as_built(job, o.axle)),
    "check": Command("every verdict and finding of a job, in words", _checked, _check),
    "paper": Command("write a report, drawing, points, sheet, order or cycle card", _paper_of, _paper),
    "schema": Command("the JSON Schema of job files, or of a reply", _of_kind, _schema),
    "install-desktop": Command("add the program to menus and file types, for you alone", _nothing, _desktop),
    "remove-desktop": Command("take that out again", _nothing, _desktop),
    "demo": Command("open the window on the demo jobs", _nothing, None),
    "shots": Command("render every main view of the demo jobs to PNG files", _into_folder, None),
}  # fmt: skip
COMMANDS = tuple(_ALL)
WINDOWS = tuple(name for name, command in _ALL.items() if command.does is None)
"""Every command there is, and those that open a window."""


_SIGNED = ("--left", "--right", "--steer", "--reach", "--most")


def build_parser() -> argparse.ArgumentParser:
    """The command line of Even Stance."""
    parser = _Parser(prog="even-stance", description="Design and build solid-axle link suspensions.")
    parser.add_argument("-V", "--version", action=_ShowVersion, nargs=0, help="show the version and leave")
    commands = parser.add_subparsers(dest="command", metavar="COMMAND", parser_class=_Parser)
    for name, command in _ALL.items():
        command.takes(commands.add_parser(name, help=command.words, description=command.words))
    return parser


def _joined(arguments: Sequence[str]) -> list[str]:
    """A value that starts with a minus, such as -2in, put to its option: alone it would look like an option itself."""
    joined: list[str] = []
    for word in arguments:
        if joined and joined[-1] in _SIGNED and re.match(r"^-[\d.]", word):
            joined[-1] += f"={word}"
        else:
            joined.append(word)
    return joined


def run(arguments: Sequence[str]) -> int:
    """Run one of the commands that need no window; the exit code.

    Raises:
        StanceError: the command cannot be done; the message is for the user.
    """
    options = build_parser().parse_args(_joined(arguments))
    report_faults_to(lambda error: recovery.write_fault(error))  # noqa: PLW0108 - loaded when there is a fault
    does = _ALL[options.command].does
    if does is None:
        raise StanceError(f"{options.command} opens a window.")
    reply = does(options, read_job(options.job) if hasattr(options, "job") else None)
    if isinstance(reply, int):
        return reply
    say_json(reply.text())
    return 0
