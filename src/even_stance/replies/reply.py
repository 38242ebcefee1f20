"""What every reply has: which kind it is, in which version, and of which job."""

import json
from typing import Annotated, Any

import numpy as np
from pydantic import BaseModel, ConfigDict, Field

from even_stance.errors import InputError
from even_stance.study.beams import beams_of
from even_stance.vehicle.car import Axle
from even_stance.vehicle.job import Job

Number = float | None
"""A number, or nothing where the linkage does not get there."""
_DECIMALS, _DIGITS, _SMALL = 6, 6, 0.1
Version = Annotated[
    int, Field(description="goes up when a name is taken away or changes its meaning, not when one comes")
]
Words = Annotated[str, Field(description="a sentence for people; its wording may change")]


class Reply(BaseModel):
    """A reply. Lengths are mm, masses kg, forces N, angles degrees, shares percent, as the ends of the names say."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    format: str
    version: Version = 1
    job: str = Field(description="name of the job")

    def text(self) -> str:
        """Return it as JSON."""
        return json_text(self.model_dump(mode="json"))


def json_text(data: object) -> str:
    """Return plain data as JSON, figures rounded to what they can mean.

    A micron and a millionth of a degree are far below what anyone measures; what is smaller keeps six digits.
    """
    return json.dumps(_rounded(data), indent=1, ensure_ascii=False, allow_nan=False) + "\n"


def _rounded(data: Any) -> Any:
    if isinstance(data, float):
        return round(data, _DECIMALS) if abs(data) >= _SMALL or not data else float(f"{data:.{_DIGITS}g}")
    if isinstance(data, dict):
        return {key: _rounded(value) for key, value in data.items()}
    return [_rounded(value) for value in data] if isinstance(data, list) else data


def schema_of(kind: type[Reply]) -> str:
    """The JSON Schema of a kind of reply."""
    schema = kind.model_json_schema(mode="serialization")
    schema["$schema"] = "https://json-schema.org/draft/2020-12/schema"
    return json.dumps(schema, indent=1) + "\n"


def number(value: float) -> Number:
    """A plain number; None where it is none."""
    return float(value) if np.isfinite(value) else None


def numbers(values: Any) -> list[Number]:
    """Plain numbers of an array, shape (n,); None where they are none."""
    return [number(v) for v in np.asarray(values, dtype=float).tolist()]


def axle_of(job: Job, key: str) -> Axle:
    """An axle of a job.

    Raises:
        InputError: there is none of that name.
    """
    try:
        return job.vehicle.axle(key)
    except KeyError:
        names = ", ".join(a.key for a in job.vehicle.axles)
        raise InputError("--axle", f"there is no axle “{key}”.", f"This job has: {names}.") from None


def linked_axle(job: Job, key: str, what: str) -> Axle:
    """Return an axle that is held by links.

    Args:
        job: the job; key: of the axle; what: what is asked of it, in words such as “a sweep”.

    Raises:
        InputError: there is none of that name, or it swings on beams.
    """
    axle = axle_of(job, key)
    if beams_of(axle) is not None:
        raise InputError(
            "--axle", f"the {key} axle swings on two beams, of which there is no {what}.",
            "Ask “answers” at one posture, or “why” for a number of it.",
        )  # fmt: skip
    return axle
