"""The same answers without a window."""

import argparse
import json
import re
import sys
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from importlib.metadata import version
from pathlib import Path
from typing import Any, NoReturn

import numpy as np

from even_stance.errors import InputError, StanceError
from even_stance.exchange.jobfile import generated_schema, load_job
from even_stance.judgement.build import build_findings, judged_links
from even_stance.judgement.clearances import gap_verdicts, machine_readable_gaps
from even_stance.judgement.driveline import driveline_findings
from even_stance.judgement.findings import CAUTIONS, stance_findings, travel_findings
from even_stance.judgement.springs import spring_findings
from even_stance.judgement.steering import steering_findings
from even_stance.judgement.verdicts import Verdict, bind_words, judge, judge_beams, study_wanted_bind
from even_stance.shop.findings import shop_findings
from even_stance.study.answers import answers_at, machine_readable
from even_stance.study.beamanswers import machine_readable_beams
from even_stance.study.beams import beams_of
from even_stance.study.beamsprings import beam_springs
from even_stance.study.cargaps import study_gaps
from even_stance.study.cutlist import machine_readable_cuts, without_parts
from even_stance.study.figures import study_axle
from even_stance.study.ride import machine_readable_ride
from even_stance.study.springs import machine_readable_springs, springs_said
from even_stance.study.steeranswers import machine_readable_steer, steer_words
from even_stance.units import parse_length, parse_number
from even_stance.vehicle.car import Axle
from even_stance.vehicle.edits import with_changes
from even_stance.vehicle.job import Job


class _Parser(argparse.ArgumentParser):
    """A parser whose complaints are one sentence, like every other one here."""

    def error(self, message: str) -> NoReturn:
        raise InputError("Command line", f"{message}.", f"See “{self.prog} --help”.")


def build_parser() -> argparse.ArgumentParser:
    """The command line of Even Stance."""
    parser = _Parser(prog="even-stance", description="Design and build solid-axle link suspensions.")
    parser.add_argument("-V", "--version", action="version", version=f"even-stance {version('even-stance')}")
    commands = parser.add_subparsers(dest="command", metavar="COMMAND", parser_class=_Parser)
    answers = commands.add_parser("answers", help="the answers for one axle at one posture, as JSON")
    answers.add_argument("job", type=Path)
    answers.add_argument("--axle", default="rear", help="which axle (default: rear)")
    answers.add_argument("--left", default="0", help="rise of the left wheel, mm (or with a unit: 2in), bump +")
    answers.add_argument("--right", default="0", help="rise of the right wheel, mm, bump +")
    answers.add_argument("--steer", default="0", help="steer input, + to the left: hand-wheel turns, or mm of ram rod")
    check = commands.add_parser("check", help="every verdict and finding of a job, in words")
    check.add_argument("job", type=Path)
    check.add_argument("--strict", action="store_true", help="leave with 1 when anything is out of its band or found")
    check.add_argument("--json", action="store_true", help="the same as JSON")
    paper = commands.add_parser("paper", help="write a report, drawing, points, sheet, order or cycle card")
    paper.add_argument("what", help="report, drawing, points, cut-list, templates ...: any other word lists them all")
    paper.add_argument("job", type=Path)
    paper.add_argument("file", type=Path, help="where to write it")
    ride = commands.add_parser("ride", help="how the car rides and leans on its springs, as JSON")
    ride.add_argument("job", type=Path)
    near = commands.add_parser("clearances", help="the tightest gap of every pair of parts, as JSON")
    near.add_argument("job", type=Path)
    near.add_argument("--coarse", action="store_true", help="a quick first look on few postures")
    cuts = commands.add_parser("cut-list", help="what to cut every link to, as JSON")
    cuts.add_argument("job", type=Path)
    commands.add_parser("schema", help="the JSON Schema of job files")
    commands.add_parser("demo", help="open the window on the demo jobs")
    shots = commands.add_parser("shots", help="render every main view of the demo jobs to PNG files")
    shots.add_argument("folder", type=Path)
    return parser


def complain(error: Exception) -> int:
    """Say on standard error what went wrong; the exit code to leave with."""
    print(f"even-stance: {error}", file=sys.stderr)
    return 2


def _joined(arguments: Sequence[str]) -> list[str]:
    """A value that starts with a minus, such as -2in, put to its option: alone it would look like an option itself."""
    joined: list[str] = []
    for word in arguments:
        if joined and joined[-1] in ("--left", "--right", "--steer") and re.match(r"^-[\d.]", word):
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
    return _DO[options.command](options)


def _axle(job: Job, key: str) -> Axle:
    try:
        return job.vehicle.axle(key)
    except KeyError:
        names = ", ".join(a.key for a in job.vehicle.axles)
        raise InputError("--axle", f"there is no axle “{key}”.", f"This job has: {names}.") from None


def _answers(options: argparse.Namespace) -> int:
    job, _ = load_job(options.job)
    axle = _axle(job, options.axle)
    left = parse_length(options.left, "metric", "--left")
    right = parse_length(options.right, "metric", "--right")
    steer = parse_number(options.steer, "--steer")
    if steer and axle.steering is None:
        print(f"even-stance: {steer_words(axle)}", file=sys.stderr)
    if beams_of(axle) is not None:
        said: dict[str, Any] = {"axle": axle.key, **machine_readable_beams(job.vehicle, axle, left, right, steer)}
        springs = beam_springs(axle, np.array([left]), np.array([right]))
        if springs is not None and springs.runs:
            said |= springs_said(job.vehicle, axle, springs)
        print(json.dumps(said, indent=1, allow_nan=False))
        return 0
    # The keys of the command line have one meaning, whatever ground the window shows: that at ride height.
    found = answers_at(with_changes(job.vehicle, over="ride"), axle, left, right, job.units)
    answers: dict[str, Any] = {
        "axle": axle.key,
        **machine_readable(found),
        **machine_readable_steer(job.vehicle, found, steer),
        **machine_readable_springs(job.vehicle, axle, found),
    }
    print(json.dumps(answers, indent=1, allow_nan=False))
    return 0


def _clearances(options: argparse.Namespace) -> int:
    job, _ = load_job(options.job)
    study = study_gaps(job.vehicle, fine=not options.coarse)
    for sentence in study.silent:
        print(f"even-stance: {sentence}", file=sys.stderr)
    if study.silent and not study.gaps and not study.touching:
        return 2
    print(json.dumps(machine_readable_gaps(job, study), indent=1, allow_nan=False))
    return 0


def _cut_list(options: argparse.Namespace) -> int:
    job, _ = load_job(options.job)
    rows = machine_readable_cuts(job.vehicle)
    missing = without_parts(job.vehicle)
    for piece in missing if rows else ():
        print(f"even-stance: no parts are chosen for {piece.words}.", file=sys.stderr)
    if not rows:
        raise InputError("Cut list", "no parts are chosen in this job.", "Fit parts to links in the Build sheet first.")
    print(json.dumps(rows, indent=1, allow_nan=False))
    return 0


def _check(options: argparse.Namespace) -> int:
    job, _ = load_job(options.job)
    found = checked(job)
    wrong = any(line.state in ("look", "stop", "missing", "low", "high") for line in found)
    if options.json:
        rows = [{"axle": line.axle, "state": line.state, "sentence": line.sentence} for line in found]
        print(json.dumps({"job": job.name, "purpose": job.purpose, "lines": rows, "cautions": CAUTIONS}, indent=1))
    else:
        lines = [f"{job.name}: judged as {job.purpose.replace('_', ' ')}"]
        axle = ""
        for line in found:
            if line.axle != axle:
                axle = line.axle
                lines.append(f"{axle} axle")
            lines.append(f"  {line.sentence}")
        print("\n".join([*lines, "", *CAUTIONS]))
    return 1 if options.strict and wrong else 0


@dataclass(frozen=True)
class Line:
    """One line of a check: of which axle, if of one; its state (inside, low, high, unsure, or a finding's severity)."""

    axle: str
    state: str
    sentence: str


def _judged(job: Job, key: str, v: Verdict) -> Line:
    """A verdict as a line."""
    tip = f" Try: {v.try_this}." if v.try_this else ""
    reading = f"{v.reading(job.units)} ({v.state}; wanted {v.band_words(job.units)})"
    return Line(key, v.state, f"{v.title}: {reading}. {v.sentence}{tip}")


def checked(job: Job, fine: bool = True) -> list[Line]:
    """Every verdict and finding of a job; with its gaps from the fine grid, or from a quick first look."""
    general = (
        *stance_findings(job),
        *shop_findings(job),
        *driveline_findings(job),
        *steering_findings(job),
        *spring_findings(job),
        *(build_findings(job) if job.vehicle.build.links else ()),
    )
    lines = [Line("", f.severity, f"{f.severity}: {f.sentence}") for f in general]
    # Gaps are looked at where something was put on the car that can be hit.
    gaps = study_gaps(job.vehicle, fine) if job.vehicle.things else None
    for axle in job.vehicle.axles:
        near = [] if gaps is None else [_judged(job, axle.key, v) for v in gap_verdicts(job, gaps, axle.key)]
        if not axle.members:
            swung = judge_beams(job, axle)
            lines += [_judged(job, axle.key, v) for v in swung] or [Line(axle.key, "none", "no links designed here")]
            lines += near
            continue
        try:
            study = study_axle(job.vehicle, axle, 0.0, 0.0)
        except StanceError as error:
            lines.append(Line(axle.key, "stop", f"stop: {error}"))
            continue
        lines += [_judged(job, axle.key, v) for v in judge(job, study)] + near
        bind = study_wanted_bind(job, study)
        lines.append(Line(axle.key, "inside", bind_words(bind, job.units)))
        found = travel_findings(job, study, bind)
        lines += [Line(axle.key, f.severity, f"{f.severity}: {f.sentence}") for f in found]
    if job.vehicle.build.links:
        lines += [_judged(job, "links", v) for v in judged_links(job)[1]]
    return lines


def _ride(options: argparse.Namespace) -> int:
    print(json.dumps(machine_readable_ride(load_job(options.job)[0].vehicle), indent=1, allow_nan=False))
    return 0


def _paper(options: argparse.Namespace) -> int:
    from even_stance.exchange.papers import write_paper  # noqa: PLC0415 - heavy, and only for this

    write_paper(load_job(options.job)[0], options.what, options.file)
    return 0


def _schema(_options: argparse.Namespace) -> int:
    print(generated_schema(), end="")
    return 0


_DO: dict[str, Callable[[argparse.Namespace], int]] = {
    "answers": _answers, "check": _check, "paper": _paper, "ride": _ride, "clearances": _clearances,
    "cut-list": _cut_list, "schema": _schema,
}  # fmt: skip
COMMANDS = (*_DO, "demo", "shots")
"""Every command there is; the last two open a window."""
