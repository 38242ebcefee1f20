"""Every kind of reply by the command that gives it, with its JSON Schema."""

import json
from typing import Any

from pydantic import TypeAdapter

from even_stance.errors import InputError
from even_stance.replies import car, links, stance
from even_stance.replies.reply import Reply, schema_of

KINDS: dict[str, type[Reply]] = {
    "answers": car.AnswersReply, "check": car.CheckReply, "travel": links.TravelReply, "loads": links.LoadsReply,
    "holes": links.HolesReply, "solve": links.SolveReply, "why": links.WhyReply, "variants": links.VariantsReply,
    "square": stance.SquareReply, "weight": stance.WeightReply, "heights": stance.HeightsReply,
    "cribs": stance.CribsReply, "ride": car.RideReply, "as-built": car.BuiltReply,
}  # fmt: skip
# These print a bare list of rows, as they always have: format and version have no place in it.
LISTS: dict[str, TypeAdapter[Any]] = {"clearances": car.GAPS, "cut-list": car.CUTS}


def reply_schema(command: str) -> str:
    """The JSON Schema of what a command prints.

    Raises:
        InputError: no command prints that.
    """
    if command in KINDS:
        return schema_of(KINDS[command])
    if command in LISTS:
        schema = LISTS[command].json_schema(mode="serialization")
        return json.dumps({"$schema": "https://json-schema.org/draft/2020-12/schema", **schema}, indent=1) + "\n"
    raise InputError("Schema", f"there is no “{command}”.", f"There are: job, {', '.join((*KINDS, *LISTS))}.")
