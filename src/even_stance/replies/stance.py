"""Replies about how the car stands: squareness, weight, ride height, and cribs to stand it on."""

from typing import Literal

import numpy as np
from pydantic import BaseModel, Field

from even_stance.errors import InputError
from even_stance.judgement.heights import heights_words, named_heights
from even_stance.replies.reply import Number, Reply, Words, axle_of, linked_axle, number, numbers
from even_stance.shop.cribs import CRIB_CHECKS, plan_cribs
from even_stance.shop.squaring import square_report
from even_stance.shop.weighing import height_by_lift, weigh
from even_stance.study.heights import RANGE_MM, stand_at, study_heights
from even_stance.vehicle.job import Job


class SquareReply(Reply):
    """How square the first rear axle stands, and what to turn."""

    format: Literal["even-stance-square"] = "even-stance-square"
    behind_mm: float = Field(description="axle center behind the front one")
    aside_mm: float = Field(description="axle center to the left of the centerline")
    yaw_deg: float = Field(description="turned toward left")
    uneven_mm: float = Field(description="left wheelbase less the right one")
    disagree_mm: float = Field(description="how far the distances contradict each other")
    turns: dict[str, float] | None = Field(description="turns of the left and right lower link, longer +")
    words: list[Words]


def square(job: Job) -> SquareReply:
    """Squareness from the taped wheelbases and diagonals.

    Raises:
        InputError: they are not taped, or are no distances between axles.
    """
    found = square_report(job)
    if found is None:
        raise InputError("Squareness", "needs both wheelbases.", "Tape them, hub to hub, and better both diagonals.")
    turns = None if found.turns is None else {"left": found.turns.left, "right": found.turns.right}
    return SquareReply(
        job=job.name, behind_mm=found.stand.behind, aside_mm=found.stand.aside,
        yaw_deg=float(np.degrees(found.stand.yaw)), uneven_mm=found.uneven_mm, disagree_mm=found.disagree_mm,
        turns=turns, words=list(found.words),
    )  # fmt: skip


class WeightReply(Reply):
    """What the scales say."""

    format: Literal["even-stance-weight"] = "even-stance-weight"
    total_kg: float
    behind_front_mm: float = Field(description="CG behind the front axle")
    left_mm: float = Field(description="CG to the left of the centerline")
    axles_kg: dict[str, float]
    added_kg: float = Field(description="what was added for parts not on the car yet")
    cross_pct: float = Field(description="left front and right rear together")
    cg_height_mm: Number = Field(description="from the lift, where one was measured")
    cg_height_sure_mm: Number


def weight(job: Job) -> WeightReply:
    """Weight and CG from the scales, its height from the lift.

    Raises:
        InputError: a wheel was not weighed, or the lift cannot be.
    """
    found = weigh(job)
    if found is None:
        raise InputError("Weight", "needs a reading under every wheel.", "Enter the scales on the measuring sheet.")
    lift = job.measuring.lift
    height = None if lift is None else height_by_lift(job, lift)
    return WeightReply(
        job=job.name, total_kg=found.total_kg, behind_front_mm=found.behind_mm, left_mm=found.left_mm,
        axles_kg={a.key: kg for a, kg in zip(job.vehicle.axles, found.axle_kg, strict=True)},
        added_kg=found.added_kg, cross_pct=found.cross_pct,
        cg_height_mm=None if height is None else height.height_mm,
        cg_height_sure_mm=None if height is None else number(height.sure_mm),
    )  # fmt: skip


class Height(BaseModel):
    """A height the car stands at that was typed in the job."""

    higher_mm: float = Field(description="how much higher the frame stands than driven; lower is negative")
    values: dict[str, Number]


class HeightsReply(Reply):
    """What the answers do when the frame stands higher or lower than measured."""

    format: Literal["even-stance-heights"] = "even-stance-heights"
    axle: str
    higher_mm: list[float]
    values: dict[str, list[Number]]
    typed: dict[str, Height] = Field(description="driven, settled, lowest and raised, as far as they were typed")
    words: Words


def heights(job: Job, axle: str, reach_mm: float = RANGE_MM) -> HeightsReply:
    """The answers of an axle over ride height, from so much lower to so much higher.

    Raises:
        InputError, LayoutError: no such axle or reach, or nothing holds it.
    """
    if not 0 < reach_mm <= 500:
        raise InputError("--reach", f"{reach_mm:g} mm is no reach.", "Type up to 500 mm.")
    found = study_heights(job.vehicle, linked_axle(job, axle, "answer over ride height"), reach_mm)
    return HeightsReply(job=job.name, axle=axle, higher_mm=found.higher_mm.tolist(),
                        values={k: numbers(v) for k, v in sorted(found.values.items())},
                        typed=_typed_heights(job, axle), words=heights_words(job, found))  # fmt: skip


def _typed_heights(job: Job, axle: str) -> dict[str, Height]:
    named = named_heights(job)
    stood = stand_at(job.vehicle, axle_of(job, axle), np.array(list(named.values())))
    return {
        name: Height(higher_mm=mm, values={k: number(float(v[i])) for k, v in sorted(stood.values.items())})
        for i, (name, mm) in enumerate(named.items())
    }


class Pieces(BaseModel):
    """Pieces of one length, for all four cribs."""

    name: str
    length_mm: float
    count: int


class CribsReply(Reply):
    """Four equal cribs of timber, without a bearing figure: the checks must be made."""

    format: Literal["even-stance-cribs"] = "even-stance-cribs"
    layers: int
    height_mm: float
    pieces: list[Pieces]
    bars_mm: list[list[float]] = Field(description="how to cut them from stock")
    heaviest_wheel_kg: float
    checks: list[str]


def cribs(job: Job) -> CribsReply:
    """A set of four wheel cribs for the largest tire.

    Raises:
        InputError: a height no stack of this timber gives, or pieces longer than the stock.
    """
    plan = plan_cribs(job.vehicle, job.measuring.crib)
    return CribsReply(
        job=job.name, layers=plan.layers, height_mm=plan.height_mm,
        pieces=[Pieces(name=c.name, length_mm=c.length_mm, count=c.count) for c in plan.cuts],
        bars_mm=[list(bar) for bar in plan.bars], heaviest_wheel_kg=plan.wheel_kg, checks=list(CRIB_CHECKS),
    )  # fmt: skip
