"""A job: one vehicle being built, with the purpose it is judged for."""

from typing import Annotated, Literal

from pydantic import Field, model_validator

from even_stance.vehicle.car import Vehicle
from even_stance.vehicle.loading import LoadAssumptions
from even_stance.vehicle.measuring import Measuring
from even_stance.vehicle.records import Name, Record

FORMAT = "even-stance-job"
VERSION = 1

Purpose = Literal["street_cruiser", "street_performance", "drag", "trail", "desert"]


class Band(Record):
    """A wanted band for one answer: from low to high in the answer's unit; a missing end is open."""

    low: Annotated[float, Field(ge=-1e6, le=1e6)] | None = None
    high: Annotated[float, Field(ge=-1e6, le=1e6)] | None = None

    @model_validator(mode="after")
    def _right_way_round(self) -> "Band":
        if self.low is not None and self.high is not None and self.low >= self.high:
            raise ValueError("the lower mark of a wanted band must be below the upper one")
        return self


class Job(Record):
    """Everything that is kept about one build."""

    format: Literal["even-stance-job"] = "even-stance-job"
    version: Literal[1] = 1
    name: Name
    units: Literal["us", "metric"] = "us"
    purpose: Purpose = "trail"
    bands: dict[str, Band] = Field(default_factory=dict)
    loads: LoadAssumptions = LoadAssumptions()
    notes: Annotated[str, Field(max_length=100_000)] = ""
    measuring: Measuring = Measuring()
    vehicle: Vehicle
