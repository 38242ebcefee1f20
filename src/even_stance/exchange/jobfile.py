"""The job file: UTF-8 JSON, saved so that a crash or a full disk never costs the last good copy."""

import hashlib
import json
import os
import tempfile
from contextlib import suppress
from dataclasses import dataclass
from functools import cache
from importlib.resources import files
from pathlib import Path
from typing import Any

from pydantic import ValidationError

from even_stance.errors import JobFileChangedError, JobFileError
from even_stance.vehicle.complaints import complaint
from even_stance.vehicle.job import FORMAT, VERSION, Job

SUFFIX = ".stance"
LARGEST_BYTES = 20_000_000


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
    try:
        return Job.model_validate_json(text)
    except ValidationError as error:
        field, problem = complaint(error, data)
        raise JobFileError(f"{name}: {field}: {problem}") from None


def _refuse_constant(word: str) -> None:
    raise ValueError(f"{word} stands where a number should be")


def _no_twice(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    data = dict(pairs)
    if len(data) != len(pairs):
        names = [k for k, _ in pairs]
        twice = next(k for k in names if names.count(k) > 1)
        raise ValueError(f"“{twice}” is there twice in one record")
    return data


def load_job(path: Path) -> tuple[Job, FileStamp]:
    """Open a job file.

    Raises:
        JobFileError: it cannot be read; the sentence says why.
    """
    try:
        if path.stat().st_size > LARGEST_BYTES:
            raise JobFileError(f"{path.name} is {path.stat().st_size // 1_000_000} MB: too large for a job file.")
        raw = path.read_bytes()
    except FileNotFoundError:
        raise JobFileError(f"{path} is not there.") from None
    except IsADirectoryError:
        raise JobFileError(f"{path} is a folder, not a job file.") from None
    except OSError as error:
        raise JobFileError(f"{path.name} cannot be read: {_reason(error)}.") from None
    try:
        text = raw.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise JobFileError(f"{path.name} is damaged: byte {error.start} is not UTF-8 text.") from None
    return parse_job(text, path.name), _stamp(raw)


def save_job(job: Job, path: Path, known: FileStamp | None = None, overwrite: bool = False) -> FileStamp:
    """Save a job: temporary file, flush to disk, rename; the copy it replaces stays beside it as .bak.

    Args:
        job: the job.
        path: where to.
        known: the stamp of the file as last read or written here.
        overwrite: save even though somebody else changed the file since.

    Raises:
        JobFileChangedError: the file on disk is not the known one.
        JobFileError: it cannot be written; nothing on disk was changed.
    """
    if known is not None and not overwrite and changed_outside(path, known):
        raise JobFileChangedError(
            f"{path.name} was changed by somebody else since it was opened. Save under another name, or save over it."
        )
    raw = dump_job(job).encode()
    temporary: Path | None = None
    try:
        temporary = _written_beside(path, raw)
        _back_up(path)
        temporary.replace(path)
        _flush_folder(path.parent)
    except OSError as error:
        if temporary is not None:
            with suppress(OSError):
                temporary.unlink()
        raise JobFileError(
            f"{path.name} could not be saved: {_reason(error)}. Your work is still open here; save it elsewhere."
        ) from None
    return _stamp(raw)


def _written_beside(path: Path, raw: bytes) -> Path:
    handle, name = tempfile.mkstemp(prefix=f".{path.name}.", dir=path.parent)
    temporary = Path(name)
    try:
        with os.fdopen(handle, "wb") as file:
            file.write(raw)
            file.flush()
            os.fsync(file.fileno())
        # A private temporary file must not make a shared job private.
        mode = path.stat().st_mode & 0o777 if path.exists() else 0o666 & ~_umask()
        temporary.chmod(mode)
    except OSError:
        with suppress(OSError):
            temporary.unlink()
        raise
    return temporary


def _umask() -> int:
    mask = os.umask(0)
    os.umask(mask)
    return mask


def _back_up(path: Path) -> None:
    if path.exists():
        backup = path.with_name(path.name + ".bak")
        _written_beside(backup, path.read_bytes()).replace(backup)


def _flush_folder(folder: Path) -> None:
    with suppress(OSError):  # some file systems cannot flush a folder; the file itself is on disk already
        handle = os.open(folder, os.O_RDONLY)
        try:
            os.fsync(handle)
        finally:
            os.close(handle)


def changed_outside(path: Path, known: FileStamp) -> bool:
    """Whether the file on disk differs from what was last read or written here (a missing one does not count)."""
    try:
        return _stamp(path.read_bytes()) != known
    except OSError:
        return False


def _stamp(raw: bytes) -> FileStamp:
    return FileStamp(hashlib.sha256(raw).hexdigest())


def _reason(error: OSError) -> str:
    return {
        13: "you may not write or read there",
        28: "the disk is full",
        30: "the disk is read-only",
        2: "the folder is not there",
    }.get(error.errno or 0, error.strerror or "the system refused")


@cache
def shipped_schema() -> str:
    """The JSON Schema of job files as shipped beside this module."""
    return files("even_stance.exchange").joinpath("job.schema.json").read_text(encoding="utf-8")


def generated_schema() -> str:
    """The JSON Schema of job files, generated from the records."""
    schema = Job.model_json_schema()
    schema["$schema"] = "https://json-schema.org/draft/2020-12/schema"
    return json.dumps(schema, indent=1) + "\n"
