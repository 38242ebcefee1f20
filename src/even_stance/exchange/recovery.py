"""Unsaved work kept aside, so that a crash or a flat battery costs nothing."""

import hashlib
import json
import time
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path

from platformdirs import user_state_path

from even_stance.errors import JobFileError
from even_stance.exchange.jobfile import load_job, save_job
from even_stance.vehicle.job import Job


def recovery_folder() -> Path:
    """Where unsaved work is kept for this user."""
    return user_state_path("even-stance") / "recovery"


@dataclass(frozen=True)
class Recovered:
    """Unsaved work found from an earlier session: the job, the file it belongs to if it had one, and when."""

    job: Job
    path: Path | None
    saved_at: float
    source: Path


class Autosave:
    """Keeps the unsaved state of one window in a file of its own.

    Args:
        folder: where to keep it.
        owner: what tells this window from others, such as its process number.
    """

    def __init__(self, folder: Path, owner: str) -> None:
        self._folder = folder
        self._owner = owner
        self._file: Path | None = None

    def keep(self, job: Job, path: Path | None) -> None:
        """Put the job aside.

        Raises:
            JobFileError: it could not be written.
        """
        try:
            self._folder.mkdir(parents=True, exist_ok=True)
        except OSError as error:
            raise JobFileError(f"Unsaved work cannot be kept aside: {error.strerror}.") from None
        token = hashlib.sha256(f"{path}|{self._owner}".encode()).hexdigest()[:16]
        file = self._folder / f"{token}.stance"
        save_job(job, file, overwrite=True)
        note = {"path": None if path is None else str(path), "saved_at": time.time(), "owner": self._owner}
        file.with_suffix(".note").write_text(json.dumps(note), encoding="utf-8")
        if self._file is not None and self._file != file:
            forget(self._file)
        self._file = file

    def done(self) -> None:
        """The work was saved or thrown away on purpose: nothing left to recover."""
        if self._file is not None:
            forget(self._file)
            self._file = None


def forget(file: Path) -> None:
    """Remove a kept job."""
    for each in (file, file.with_suffix(".note"), file.with_name(file.name + ".bak")):
        with suppress(OSError):
            each.unlink()


def _still_open(owner: str) -> bool:
    return owner.isdigit() and Path(f"/proc/{owner}").exists()


def find_recovered(folder: Path) -> list[Recovered]:
    """Unsaved work that no running window owns, newest first; kept files that cannot be read are left alone."""
    found = []
    for note_file in sorted(folder.glob("*.note")) if folder.is_dir() else []:
        try:
            note = json.loads(note_file.read_text(encoding="utf-8"))
            if _still_open(str(note["owner"])):
                continue
            job, _ = load_job(note_file.with_suffix(".stance"))
            path = None if note["path"] is None else Path(note["path"])
            found.append(Recovered(job, path, float(note["saved_at"]), note_file.with_suffix(".stance")))
        except (JobFileError, OSError, ValueError, KeyError, TypeError):
            continue
    return sorted(found, key=lambda r: -r.saved_at)
