"""A job: one vehicle being built, with the purpose it is judged for."""

from typing import Annotated, Literal

from pydantic import Field, model_validator

from even_stance.vehicle.car import Vehicle
from even_stance.vehicle.loading import LoadAssumptions
from even_stance.vehicle.log import Log
from even_stance.vehicle.measuring import Measuring
from even_stance.vehicle.records import Name, Record

FORMAT = "even-stance-job"
VERSION = 3  # what each version brought: exchange/migrations.py

Purpose = Literal[
    "street_cruiser", "street_performance", "drag", "trail", "desert", "rock", "tow", "rally", "race"
]  # fmt: skip


class Band(Record):
    """A wanted band for one answer: from low to high in the answer's unit; a missing end is open."""

    low: Annotated[float, Field(ge=-1e6, le=1e6)] | None = None
    high: Annotated[float, Field(ge=-1e6, le=1e6)] | None = None

    @model_validator(mode="after")
    def _right_way_round(self) -> "Band":
        if self.low is not None and self.high is not None and self.low >= self.high:
            raise ValueError("the lower mark of a wanted band must be below the upper one")
        return self


class Variant(Record):
    """A branch of a job that is not the one on the bench: its vehicle as it was left, and what was thought of it."""

    name: Name
    vehicle: Vehicle
    note: Annotated[str, Field(max_length=5_000)] = ""


class Job(Record):
    """Everything that is kept about one build.

    Attributes:
        branch: the name of the variant on the bench, whose car is `vehicle`; branch_note: what is thought of it.
        variants: the other ones; decision: which was chosen and why.
        wishes: what is asked of hole combinations besides the judged numbers: AXLE/WHAT to its band.
        weights: how much each answer counts when layouts are ranked, 1 when not given.
        log: what was decided, done, fitted and fixed, and what is to be looked at again.
    """

    format: Literal["even-stance-job"] = "even-stance-job"
    version: Literal[3] = 3
    name: Name
    units: Literal["us", "metric"] = "us"
    purpose: Purpose = "trail"
    bands: Annotated[dict[str, Band], Field(max_length=200)] = Field(default_factory=dict)
    wishes: Annotated[dict[str, Band], Field(max_length=200)] = Field(default_factory=dict)
    loads: LoadAssumptions = LoadAssumptions()
    notes: Annotated[str, Field(max_length=100_000)] = ""
    weights: Annotated[dict[str, Annotated[float, Field(ge=0, le=10, allow_inf_nan=False)]], Field(max_length=200)] = (
        Field(default_factory=dict)
    )
    measuring: Measuring = Measuring()
    branch: Name = "As measured"
    branch_note: Annotated[str, Field(max_length=5_000)] = ""
    variants: Annotated[tuple[Variant, ...], Field(max_length=200)] = ()
    decision: Annotated[str, Field(max_length=5_000)] = ""
    vehicle: Vehicle
    log: Log = Log()

    @model_validator(mode="after")
    def _branches_have_names_of_their_own(self) -> "Job":
        names = [self.branch, *(v.name for v in self.variants)]
        if len(set(names)) != len(names):
            twice = next(n for n in names if names.count(n) > 1)
            raise ValueError(f"two variants are called “{twice}”; give each its own name")
        return self
