"""The log of a build: what was decided, done, fitted and fixed, when; photos; and what is to be looked at again."""

import re
from typing import Annotated, Literal

from pydantic import AfterValidator, Field

from even_stance.vehicle.measuring import Stage
from even_stance.vehicle.records import Name, Record

EntryKind = Literal["note", "decision", "fix", "fits", "does_not", "notched", "weld", "photo"]
ENTRY_WORDS: dict[EntryKind, str] = {
    "note": "note", "decision": "decided", "fix": "fix", "fits": "fits", "does_not": "does not fit",
    "notched": "notched", "weld": "welded", "photo": "photo",
}  # fmt: skip
MOST_ENTRIES, MOST_PHOTOS, MOST_OF_ENTRY = 10_000, 5_000, 50
When = Annotated[str, Field(max_length=40)]
Amount = Annotated[float, Field(ge=0, le=10_000_000, allow_inf_nan=False)]
# A name with a separator would lead out of the job's photo folder, and a control character could forge a message.
_PLAIN_FILE_NAME = r"^(?!\.{1,2}$)[^/\x00-\x1f\x7f]+$"


def _check_file_name(name: str) -> str:
    """Return the name of a file that stays in its folder.

    Raises:
        ValueError: it holds a separator or a control character, or means a folder.
    """
    if re.fullmatch(_PLAIN_FILE_NAME, name) is None:
        raise ValueError("must be the plain name of a file in the job’s photo folder, without any folder")
    return name


PhotoName = Annotated[
    str,
    Field(min_length=1, max_length=200, json_schema_extra={"pattern": _PLAIN_FILE_NAME}),
    AfterValidator(_check_file_name),
]


class Entry(Record):
    """One entry of the diary.

    Attributes:
        at: date and time, ISO 8601; kind: what sort of thing; title, text: what it says; stage: of the build then.
        hours, money: what it took, where it was said; photos: their file names in the job's photo folder.
        by_itself: whether the app made it from what was done.
    """

    at: When
    kind: EntryKind = "note"
    title: Name
    text: Annotated[str, Field(max_length=5_000)] = ""
    stage: Stage = "found"
    hours: Amount | None = None
    money: Amount | None = None
    photos: Annotated[tuple[PhotoName, ...], Field(max_length=MOST_OF_ENTRY)] = ()
    by_itself: bool = False


Driven = Annotated[float, Field(ge=0, le=10_000_000, allow_inf_nan=False)]
RecheckWhen = Literal["settled", "first_drive", "miles", "trips"]
RECHECK_WORDS: dict[RecheckWhen, str] = {
    "settled": "after settling", "first_drive": "after the first drive", "miles": "after so many miles",
    "trips": "after so many trips",
}  # fmt: skip


class Recheck(Record):
    """Something to look at again.

    Attributes:
        title: what; when: after what; every: of miles (or km) and trips, how many; what: the reading it goes with, if
            it is one of the measuring sheet; expect: what that should be, in the reading's unit; sure: its +/-.
        done: when it was looked at last; found: what was found then, in words; at: miles or trips driven then.
    """

    title: Name
    when: RecheckWhen = "settled"
    every: Annotated[float, Field(ge=0, le=1e6, allow_inf_nan=False)] = 0.0
    what: Annotated[str, Field(max_length=200)] = ""
    expect: Annotated[float, Field(ge=-1e6, le=1e6, allow_inf_nan=False)] | None = None
    sure: Annotated[float, Field(ge=0, le=1e5, allow_inf_nan=False)] = 0.0
    done: When = ""
    found: Annotated[str, Field(max_length=500)] = ""
    at: Driven = 0.0


class Turned(Record):
    """A link of the built car that was made longer (+) or shorter than its cut length says, at its threads or anew."""

    axle: Name
    part: Name
    longer_mm: Annotated[float, Field(ge=-500, le=500, allow_inf_nan=False)]


class Log(Record):
    """The log of a job.

    Attributes:
        entries: in the order made; rechecks: what is to be looked at again; turned: links turned on the built car.
        miles, trips: driven since it was built, as its odometer counts (miles or km) and as its driver does.
    """

    entries: Annotated[tuple[Entry, ...], Field(max_length=MOST_ENTRIES)] = ()
    rechecks: Annotated[tuple[Recheck, ...], Field(max_length=500)] = ()
    turned: Annotated[tuple[Turned, ...], Field(max_length=200)] = ()
    miles: Driven = 0.0
    trips: Driven = 0.0
