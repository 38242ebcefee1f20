"""Replies about the links of an axle: over travel, their loads, holes, solving, why a number is so, and variants."""

from collections.abc import Sequence
from typing import Literal

import numpy as np
from pydantic import BaseModel, Field

from even_stance.errors import InputError
from even_stance.judgement.compare import compare_variants
from even_stance.judgement.explain import explain, explain_beams
from even_stance.judgement.search.holefinder import find_holes, second_pass
from even_stance.judgement.search.limits import Freedom
from even_stance.judgement.search.solvefor import Solved, solve_for
from even_stance.judgement.verdicts import judge, judge_beams
from even_stance.judgement.wentin import WentIn
from even_stance.replies.reply import Number, Reply, Version, Words, axle_of, linked_axle, number, numbers
from even_stance.study.answers import answers_at
from even_stance.study.beams import beams_of
from even_stance.study.figures import study_axle
from even_stance.study.loads import CASES, CaseKey, study_loads
from even_stance.study.travel import SweepKind, study_sweep
from even_stance.units import parse_length, parse_number
from even_stance.vehicle.edits import with_changes
from even_stance.vehicle.job import Job
from even_stance.vehicle.spots import Spot, is_there


class TravelReply(Reply):
    """Every answer along a sweep, ride height among its postures."""

    format: Literal["even-stance-travel"] = "even-stance-travel"
    axle: str
    sweep: SweepKind
    left_mm: list[float] = Field(description="rise of the left wheel center against the chassis, bump +")
    right_mm: list[float]
    reached: list[bool] = Field(description="False where the linkage locks up before that posture")
    values: dict[str, list[Number]] = Field(description="each answer at those postures, by the keys of the answers")


def travel(job: Job, axle: str, sweep: SweepKind = "bump") -> TravelReply:
    """Every answer of an axle along a sweep.

    Raises:
        InputError, LayoutError: there is no such axle, or nothing holds it.
    """
    found = study_sweep(with_changes(job.vehicle, over="ride"), linked_axle(job, axle, "sweep"), sweep)
    return TravelReply(
        job=job.name, axle=axle, sweep=sweep, left_mm=found.left.tolist(), right_mm=found.right.tolist(),
        reached=[bool(ok) for ok in found.ok], values={k: numbers(v) for k, v in sorted(found.values.items())},
    )  # fmt: skip


class JointLoad(BaseModel):
    """What one joint carries across its bolt."""

    member: str
    end: str
    load_n: Number


class LoadsReply(Reply):
    """The loads of one case: screening figures from the assumptions it names."""

    format: Literal["even-stance-loads"] = "even-stance-loads"
    axle: str
    case: CaseKey
    assumptions: Words
    links_n: dict[str, Number] = Field(description="load along each link, tension +")
    joints: list[JointLoad]
    springs_n: dict[Literal["left", "right"], Number]
    left_tire_gains_n: float = Field(description="what the left tire gains, and the right one loses, under drive")


def loads(job: Job, axle: str, case: CaseKey = "standing", left_mm: float = 0.0, right_mm: float = 0.0) -> LoadsReply:
    """The loads of links, joints and springs in one case at one posture.

    Raises:
        InputError: no such axle, no weight, or a posture out of its travel.
        LayoutError, CannotReachError: nothing holds the axle, or it locks up on the way.
    """
    answers = answers_at(
        with_changes(job.vehicle, over="ride"), linked_axle(job, axle, "load case"), left_mm, right_mm, job.units
    )
    found = study_loads(job.vehicle, answers, job.loads, case)
    places = zip(answers.layout.mounts, found.joints.tolist(), strict=True)
    return LoadsReply(
        job=job.name, axle=axle, case=case, assumptions=found.words,
        links_n={n: number(v) for n, v in zip(answers.layout.row_names, found.rows.tolist(), strict=True)},
        joints=[JointLoad(member=p.member.name, end=p.end, load_n=number(v)) for p, v in places],
        springs_n={"left": number(found.springs[0]), "right": number(found.springs[1])},
        left_tire_gains_n=found.wheel_change,
    )  # fmt: skip


class HoleChoice(BaseModel):
    """One choice of holes on all axles."""

    words: Words
    score: float = Field(description="how far out of the wanted bands at ride height; less is better")
    whole_score: Number = Field(description="the same with travel and articulation counted, where it was looked at")
    holes: dict[str, int] = Field(description="AXLE/MEMBER/END to the hole, counted from 1 at the bottom")
    values: dict[str, dict[str, Number]] = Field(description="the numbers at ride height, by axle")


class HolesReply(Reply):
    """The best of all combinations of bracket holes."""

    format: Literal["even-stance-holes"] = "even-stance-holes"
    tried: int
    words: Words = Field(description="how many are in every band, or what the nearest one misses")
    best: list[HoleChoice]


def holes(job: Job, most: int = 20) -> HolesReply:
    """Every combination of bracket holes, the best of them first.

    Raises:
        InputError: no bracket has holes to choose from, or too many combinations.
    """
    search = second_pass(job, find_holes(job), most)
    best = []
    for pick in search.best[:most]:
        chosen: dict[str, int] = {}
        values: dict[str, dict[str, Number]] = {}
        for tries, row in zip(search.tries, pick.picks, strict=True):
            for bracket, hole in zip(tries.brackets, tries.holes[row].tolist(), strict=True):
                chosen[f"{bracket.spot.axle}/{bracket.spot.member}/{bracket.spot.end}"] = hole + 1
            values[tries.key] = {k: number(float(v[row])) for k, v in tries.values.items()}
        best.append(HoleChoice(words=search.words(pick), score=pick.score, whole_score=pick.whole_score,
                               holes=chosen, values=values))  # fmt: skip
    return HolesReply(job=job.name, tried=search.count, words=search.met_words(job), best=best)


class SolveReply(Reply):
    """The nearest layout that has the wanted numbers, or how near one comes."""

    format: Literal["even-stance-solve"] = "even-stance-solve"
    axle: str
    reached: bool
    values: dict[str, Number]
    moves: list[str]
    words: Words


_AXES = {"ahead": 0, "out": 1, "up": 2}
_ROOM_MM = 75.0


def freedom(job: Job, axle: str, text: str) -> Freedom:
    """A coordinate that may move, from “Upper left/chassis/up” with “=-40:60” after it or without, mm.

    Raises:
        InputError: no such point or direction, or limits that are none.
    """
    where, _, room = text.partition("=")
    parts = [p.strip() for p in where.split("/")]
    spot = Spot(axle, *parts[:2]) if len(parts) == 3 else None
    if spot is None or parts[2] not in _AXES or not spot.member or not is_there(job, spot):
        raise InputError("--free", f"there is no “{where}” on the {axle} axle.",
                         "Type MEMBER/END/ahead, out or up, such as “Upper left/chassis/up”.")  # fmt: skip
    low, high = -_ROOM_MM, _ROOM_MM
    if room:
        ends = room.split(":")
        if len(ends) != 2:
            raise InputError("--free", f"“{room}” is no room.", "Type two limits, such as -40:60.")
        low, high = (parse_length(end, "metric", "--free") for end in ends)
    return Freedom(spot, _AXES[parts[2]], low, high)


def target(text: str) -> tuple[str, float]:
    """A wanted number, from “anti_squat_axle_pct=80”, “length:Upper left=620” or “flat:anti_squat_axle_pct=10”.

    Raises:
        InputError: what follows the sign is no number.
    """
    key, _, value = text.partition("=")
    return key, parse_number(value, f"--want {key}")


def solve(job: Job, axle: str, wanted: dict[str, float], free: Sequence[Freedom]) -> tuple[SolveReply, Solved]:
    """The nearest layout that has the wanted numbers, and the edit that makes it so.

    Raises:
        InputError: nothing asked, nothing free, or a number this axle does not have.
    """
    axle_of(job, axle)
    found = solve_for(job, axle, wanted, list(free))
    values = {k: number(v) for k, v in found.values.items()}
    reply = SolveReply(job=job.name, axle=axle, reached=found.reached, values=values, moves=list(found.moves),
                       words=found.words)  # fmt: skip
    return reply, found


class MovedBy(BaseModel):
    """One thing that moves a number: what, the step, and by how much the number goes."""

    what: str
    step: str
    step_mm: float
    change: float


class WentIntoIt(BaseModel):
    """One value that went into a number."""

    name: Words
    value: Number = Field(description="none where it is no number")
    unit: str
    uncertainty: Number
    words: Words


class WhyReply(Reply):
    """What is behind one number."""

    format: Literal["even-stance-why"] = "even-stance-why"
    version: Version = 2
    axle: str
    key: str
    title: str
    value: Number
    plus_minus: Number
    band: str
    sentence: Words
    formula: Words
    source: str
    went_in: list[WentIntoIt]
    moved_by: list[MovedBy]
    drawn_differs: Words


def _went_in(value: WentIn) -> WentIntoIt:
    plain, sure = (None if v is None else number(v) for v in (value.value, value.uncertainty))
    return WentIntoIt(name=value.name, value=plain, unit=value.unit, uncertainty=sure, words=value.words)


def why(job: Job, axle: str, key: str) -> WhyReply:
    """What is behind one judged number of an axle at ride height.

    Raises:
        InputError: the axle has no such number; the error lists those it has.
        LayoutError: nothing holds it.
    """
    one = axle_of(job, axle)
    if beams_of(one) is not None:
        verdicts = {v.figure.key: v for v in judge_beams(job, one)}
        found = explain_beams(job, one, key)
    else:
        study = study_axle(job.vehicle, one, 0.0, 0.0)
        verdicts = {v.figure.key: v for v in judge(job, study)}
        found = explain(job, study, key) if key in verdicts else None
    verdict = verdicts.get(key)
    if verdict is None or found is None:
        raise InputError("KEY", f"the {axle} axle has no “{key}”.", f"It has: {', '.join(verdicts)}.")
    figure = verdict.figure
    return WhyReply(
        job=job.name, axle=axle, key=key, title=found.title, value=number(figure.value),
        plus_minus=number(figure.uncertainty), band=verdict.band_words(job.units), sentence=verdict.sentence,
        formula=found.formula.words, source=found.formula.source, went_in=[_went_in(v) for v in found.went_in],
        moved_by=[MovedBy(what=m.words, step=m.per, step_mm=m.step_mm, change=m.change) for m in found.movers],
        drawn_differs=found.drawn_differs,
    )  # fmt: skip


class Compared(BaseModel):
    """One judged number in every variant."""

    title: str
    values: list[Number] = Field(description="in the order of the variants; none where one does not have it")
    states: list[str] = Field(description="inside, low or high, by the nominal value; empty where there is none")


class VariantsReply(Reply):
    """Every judged number of an axle in every variant."""

    format: Literal["even-stance-variants"] = "even-stance-variants"
    version: Version = 2
    axle: str
    variants: list[str]
    numbers: dict[str, Compared] = Field(description="by key, whose end is the unit")


def variants(job: Job, axle: str) -> VariantsReply:
    """Return the variants of a job side by side.

    Raises:
        InputError: no such axle.
    """
    axle_of(job, axle)
    found = compare_variants(job, axle)
    rows = {
        row.key: Compared(title=row.title, values=[number(v) for v in row.values], states=list(row.states))
        for row in found.numbers
    }
    return VariantsReply(job=job.name, axle=axle, variants=list(found.names), numbers=rows)


CASE_KEYS = tuple(CASES)
"""The load cases there are."""


def sweep_arrays(reply: TravelReply, key: str) -> np.ndarray[tuple[int, ...], np.dtype[np.float64]]:
    """One answer along a sweep as an array, nan where it is none, shape (postures,).

    Raises:
        KeyError: there is no such answer.
    """
    return np.array([np.nan if v is None else v for v in reply.values[key]])
