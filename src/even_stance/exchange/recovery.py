"""Unsaved work kept aside, so that a crash or a flat battery costs nothing."""

import json
import os
import time
import traceback
import uuid
from contextlib import suppress
from dataclasses import dataclass
from functools import cache
from pathlib import Path

from platformdirs import user_state_path

from even_stance.errors import JobFileError
from even_stance.exchange.jobfile import load_job, save_job
from even_stance.exchange.kept import path_of, read_kept, text_of, time_of
from even_stance.exchange.wholefile import PRIVATE, PRIVATE_FOLDER, clear_leftovers, reason, write_whole
from even_stance.vehicle.job import Job


def recovery_folder() -> Path:
    """Where unsaved work is kept for this user."""
    return user_state_path("even-stance") / "recovery"


def private_folder(folder: Path) -> None:
    """Make a folder that no other user looks into.

    Raises:
        JobFileError: it cannot be made.
    """
    try:
        folder.mkdir(parents=True, exist_ok=True)
        folder.chmod(PRIVATE_FOLDER)
    except OSError as error:
        raise JobFileError(f"{folder} cannot be used: {reason(error)}.") from None


def write_fault(error: BaseException) -> Path:
    """Write down a fault of the program itself, for this user alone; return where.

    Raises:
        OSError: it cannot be written.
    """
    report = user_state_path("even-stance") / "last-fault.txt"
    private_folder(report.parent)
    write_whole(report, "".join(traceback.format_exception(error)).encode(errors="replace"), PRIVATE)
    return report


@dataclass(frozen=True)
class Recovered:
    """Unsaved work that was kept: the job, the file it belongs to if it had one, when, and where it is kept."""

    job: Job
    path: Path | None
    saved_at: float
    source: Path


class Autosave:
    """Keeps the unsaved state of one job in a file of its own.

    Args:
        folder: where to keep it.
        owner: what tells the process it belongs to from all others.
    """

    def __init__(self, folder: Path, owner: str | None = None) -> None:
        self._folder = folder
        self._owner = process_mark(os.getpid()) if owner is None else owner
        self.file = folder / f"{uuid.uuid4().hex}.stance"

    def keep(self, job: Job, path: Path | None) -> None:
        """Put the job aside.

        Raises:
            JobFileError: it could not be written.
        """
        private_folder(self._folder)
        note = {"path": None if path is None else str(path), "saved_at": time.time(), "owner": self._owner}
        # The note first: a note without its job is nothing, a job without its note would look like nobody's.
        write_whole(_note_of(self.file), json.dumps(note).encode(), PRIVATE)
        save_job(job, self.file, overwrite=True, private=True)

    def done(self) -> None:
        """The work was saved or thrown away on purpose: nothing left to recover."""
        forget(self.file)


def _note_of(file: Path) -> Path:
    return file.with_suffix(".note")


def forget(file: Path) -> None:
    """Remove a kept job."""
    for each in (file, _note_of(file), file.with_name(file.name + ".bak")):
        with suppress(OSError):
            each.unlink()


@cache
def _boot() -> str:
    with suppress(OSError):
        return Path("/proc/sys/kernel/random/boot_id").read_text(encoding="ascii").strip()
    return "?"


def process_mark(pid: int) -> str:
    """A process as no other one will be called: its number, when it started, and since which start of the machine."""
    try:
        # Behind the name in brackets, which may hold anything; the start time is the 22nd field of all.
        fields = Path(f"/proc/{pid}/stat").read_text(encoding="utf-8", errors="replace").rpartition(")")[2].split()
        return f"{pid}/{fields[19]}/{_boot()}"
    except (OSError, IndexError):
        return f"{pid}/?/{_boot()}"


def _still_open(owner: str) -> bool:
    pid = owner.partition("/")[0]
    return pid.isdigit() and Path(f"/proc/{pid}").exists() and process_mark(int(pid)) == owner


def find_recovered(folder: Path, but: Path | None = None) -> list[Recovered]:
    """Unsaved work that no running window owns, newest first; kept files that cannot be read are left alone.

    Args:
        folder: where it is kept.
        but: a file of this window to leave out; the others of this process are listed with the rest.
    """
    if not folder.is_dir():
        return []
    clear_leftovers(folder)
    found = []
    for file in sorted(folder.glob("*.stance")):
        path, saved_at, owner = _read_note(file)
        mine = but is not None and owner == process_mark(os.getpid())
        if file == but or (_still_open(owner) and not mine):
            continue
        with suppress(JobFileError):
            found.append(Recovered(load_job(file)[0], path, saved_at, file))
    return sorted(found, key=lambda r: -r.saved_at)


def _read_note(file: Path) -> tuple[Path | None, float, str]:
    """Return path, time and owner of a kept job; a note that is missing or damaged costs only what it says."""
    written = 0.0
    with suppress(OSError):
        written = file.stat().st_mtime
    note = read_kept(_note_of(file))
    return path_of(note, "path"), time_of(note, "saved_at", written), text_of(note, "owner")
