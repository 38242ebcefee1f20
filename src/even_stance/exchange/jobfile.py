"""The job file: UTF-8 JSON, saved so that a crash or a full disk never costs the last good copy."""

import hashlib
import json
from dataclasses import dataclass
from functools import cache
from importlib.resources import files
from pathlib import Path
from typing import Any

from pydantic import ValidationError

from even_stance.errors import JobFileChangedError, JobFileError
from even_stance.exchange.migrations import brought_up
from even_stance.exchange.wholefile import (
    PRIVATE,
    clear_leftovers,
    one_writer,
    read_whole,
    real_path,
    reason,
    write_whole,
    written_aside,
)
from even_stance.vehicle.complaints import complaint
from even_stance.vehicle.job import FORMAT, VERSION, Job

SUFFIX = ".stance"
LARGEST_BYTES = 20_000_000
_MOST_VALUES = 500_000


@dataclass(frozen=True)
class FileStamp:
    """What a file on disk held when it was last read or written."""

    digest: str


def dump_job(job: Job) -> str:
    """The job as the text of its file."""
    return job.model_dump_json(indent=1) + "\n"


def parse_job(text: str, name: str = "The job file") -> Job:
    """Read a job from the text of its file.

    Raises:
        JobFileError: empty, not JSON, not a job, of a newer version, or with a field that cannot be; the sentence
            names the line or the field.
    """
    if sum(text.count(c) for c in "{[,") > _MOST_VALUES:
        raise JobFileError(f"{name} holds more than {_MOST_VALUES:,} values: no job is so large.")
    if not text.strip():
        raise JobFileError(f"{name} is empty. Its last good copy may be beside it, ending in .bak.")
    try:
        data = json.loads(text, parse_constant=_refuse_constant, object_pairs_hook=_no_twice)
    except json.JSONDecodeError as error:
        raise JobFileError(f"{name} is damaged at line {error.lineno}, column {error.colno}: {error.msg}.") from None
    except (ValueError, RecursionError) as error:
        raise JobFileError(f"{name} is damaged: {error}.") from None
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise JobFileError(f"{name} is not an Even Stance job: it lacks “format”: “{FORMAT}”.")
    version = data.get("version")
    if not isinstance(version, int) or isinstance(version, bool) or version < 1:
        raise JobFileError(f"{name}: “version” must be a whole number from 1 up.")
    if version > VERSION:
        raise JobFileError(
            f"{name} was saved by a newer Even Stance (job version {version}; this one reads up to {VERSION}). "
            "Update Even Stance to open it; the file was not touched."
        )
    older, reordered = brought_up(data), _put_holes_in_order(data)
    if older or reordered:
        text = json.dumps(data)
    try:
        return Job.model_validate_json(text)
    except ValidationError as error:
        field, problem = complaint(error, data)
        raise JobFileError(f"{name}: {field}: {problem}") from None


def _put_holes_in_order(data: Any) -> bool:
    """Holes listed in another order than by height are put in it, so that one hole up is up; whether any were."""
    found, changed = [data], False
    while found:
        part = found.pop()
        if isinstance(part, list):
            found += part
        elif isinstance(part, dict):
            found += part.values()
            changed |= _order_holes(part)
    return changed


def _order_holes(mount: dict[str, Any]) -> bool:
    """Put the holes of one bracket in order of height; whether they were not."""
    holes, hole = mount.get("holes"), mount.get("hole")
    if not isinstance(holes, list) or len(holes) < 2:
        return False
    heights = [float(h["z"]) for h in holes if isinstance(h, dict) and isinstance(h.get("z"), int | float)]
    order = sorted(range(len(heights)), key=heights.__getitem__)
    if len(heights) != len(holes) or order == list(range(len(holes))):
        return False
    mount["holes"] = [holes[i] for i in order]
    if isinstance(hole, int) and 0 <= hole < len(holes):
        mount["hole"] = order.index(hole)
    return True


def _refuse_constant(word: str) -> None:
    raise ValueError(f"{word} stands where a number should be")


def _no_twice(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    """An object of the file as a dict; one that says a thing twice is refused."""
    data: dict[str, Any] = {}
    for name, value in pairs:
        if name in data:
            raise ValueError(f"“{name[:60]}” is there twice in one record")
        data[name] = value
    return data


def load_job(path: Path) -> tuple[Job, FileStamp]:
    """Open a job file.

    Raises:
        JobFileError: it cannot be read; the sentence says why.
    """
    raw = read_whole(path, LARGEST_BYTES, "a job file")
    try:
        text = raw.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise JobFileError(f"{path.name} is damaged: byte {error.start} is not UTF-8 text.") from None
    return parse_job(text, path.name), _stamp(raw)


def save_job(
    job: Job, path: Path, known: FileStamp | None = None, overwrite: bool = False, private: bool = False
) -> FileStamp:
    """Save a job: temporary file, flush to disk, rename; the copy it replaces stays beside it as .bak.

    Args:
        job: the job.
        path: where to.
        known: the stamp of the file as last read or written here.
        overwrite: save even though somebody else changed the file since.
        private: for the person alone, and without a copy beside it.

    Raises:
        JobFileChangedError: the file on disk is not the known one.
        JobFileError: it cannot be written; nothing on disk was changed.
    """
    raw, target = dump_job(job).encode(), real_path(path)
    try:
        with one_writer(target.parent):
            if known is not None and not overwrite and changed_outside(target, known):
                raise JobFileChangedError(
                    f"{path.name} was changed by somebody else since it was opened. Save under another name, or save "
                    "over it."
                )
            if private:
                write_whole(target, raw, PRIVATE)
            else:
                clear_leftovers(target.parent, target.name)
                _back_up(target)
                write_whole(target, raw)
    except JobFileChangedError:
        raise
    except OSError as error:
        why = str(error) if isinstance(error, JobFileError) else f"{path.name} could not be written: {reason(error)}."
        raise JobFileError(f"{why} Your work is still open here; save it elsewhere.") from None
    return _stamp(raw)


def _back_up(path: Path) -> None:
    """The file as it is, kept beside itself with its permissions."""
    if path.is_file():
        backup = path.with_name(path.name + ".bak")
        written_aside(backup, path.read_bytes(), path.stat().st_mode & 0o777).replace(backup)


def changed_outside(path: Path, known: FileStamp) -> bool:
    """Whether the file on disk differs from what was last read or written here (a missing one does not count)."""
    try:
        return _stamp(path.read_bytes()) != known
    except OSError:
        return False


def _stamp(raw: bytes) -> FileStamp:
    return FileStamp(hashlib.sha256(raw).hexdigest())


@cache
def shipped_schema() -> str:
    """The JSON Schema of job files as shipped beside this module."""
    return files("even_stance.exchange").joinpath("job.schema.json").read_text(encoding="utf-8")
