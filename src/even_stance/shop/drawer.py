"""The parts drawer: generic parts to begin with, and the person's own, kept as an open file beside the settings."""

import json
from collections.abc import Sequence
from functools import lru_cache
from typing import Any

from pydantic import TypeAdapter, ValidationError

from even_stance.errors import InputError
from even_stance.judgement.catalog.parts import generic_parts
from even_stance.vehicle.build import MOST_PARTS, AnyPart, Part
from even_stance.vehicle.complaints import complaint

FORMAT = "even-stance-drawer"


@lru_cache(maxsize=1)
def _part() -> TypeAdapter[AnyPart]:
    return TypeAdapter(Part)


def dump_drawer(parts: Sequence[AnyPart]) -> str:
    """A drawer as JSON."""
    rows = [part.model_dump(mode="json") for part in parts]
    return json.dumps({"format": FORMAT, "version": 1, "parts": rows}, indent=1, ensure_ascii=False) + "\n"


def load_drawer(text: str) -> list[AnyPart]:
    """The parts of a drawer's file.

    Raises:
        InputError: it is no drawer, or a part of it is none; the message names it.
    """
    try:
        kept: Any = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise InputError("Drawer", f"the file is no JSON ({error}).", "Choose a drawer that was exported.") from None
    if not isinstance(kept, dict) or kept.get("format") != FORMAT or not isinstance(kept.get("parts"), list):
        raise InputError("Drawer", "the file holds no parts drawer.", "Choose a drawer that was exported.")
    if kept.get("version") != 1:
        raise InputError("Drawer", f"version {kept.get('version')!s:.12} is not known here.", "Update Even Stance.")
    if len(kept["parts"]) > MOST_PARTS:
        raise InputError("Drawer", f"{len(kept['parts'])} parts are too many.", f"Keep {MOST_PARTS} at most.")
    found: list[AnyPart] = []
    for i, row in enumerate(kept["parts"]):
        try:
            found.append(_part().validate_json(json.dumps(row)))
        except ValidationError as error:
            field, wrong = complaint(error)
            raise InputError(f"Part {i + 1}, {field}", wrong) from None
    return found


def with_part(own: Sequence[AnyPart], part: AnyPart) -> list[AnyPart]:
    """A drawer with one part more, in place of one of that name and sort."""
    return [*(p for p in own if (p.sort, p.name) != (part.sort, part.name)), part]


def drawer_of(own: Sequence[AnyPart]) -> list[AnyPart]:
    """All parts to choose from: the person's own first, a generic one of the same name hidden by it."""
    named = {(p.sort, p.name) for p in own}
    return [*own, *(p for p in generic_parts() if (p.sort, p.name) not in named)]
