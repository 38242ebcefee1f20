"""The document on the bench: the job with its history, and the file it is kept in."""

from dataclasses import dataclass
from pathlib import Path
from typing import Literal

from even_stance.errors import StanceError
from even_stance.exchange.jobfile import FileStamp
from even_stance.vehicle.edits import Edit
from even_stance.vehicle.history import History
from even_stance.vehicle.job import Job


@dataclass(frozen=True)
class Outcome:
    """What became of an edit: done, unchanged (the job is like that already), or refused with the sentence why."""

    state: Literal["done", "unchanged", "refused"]
    sentence: str = ""

    @property
    def done(self) -> bool:
        """Whether the job is another one now."""
        return self.state == "done"


class Document:
    """One job with its undo and where it is saved.

    Args:
        job: as it was opened or begun; path, stamp: the file it came from, if any.
    """

    def __init__(self, job: Job, path: Path | None = None, stamp: FileStamp | None = None) -> None:
        self.history = History(job)
        self.path, self.stamp = path, stamp
        self.saved: Job | None = job if path is not None else None
        self._never_saved = False

    @property
    def job(self) -> Job:
        """The job as it is now."""
        return self.history.job

    @property
    def dirty(self) -> bool:
        """Whether there is work that is not in the file. A fresh, untouched demo has none."""
        if self.saved is not None:
            return self.job != self.saved
        return self._never_saved or self.history.undo_label is not None

    def do(self, edit: Edit) -> Outcome:
        """Apply an edit; one that is refused leaves everything as it was."""
        try:
            return Outcome("done" if self.history.do(edit) else "unchanged")
        except StanceError as error:
            return Outcome("refused", str(error))

    def mark_unsaved(self) -> None:
        """This job is in no file, even though nothing was edited since it came to the bench."""
        self.saved, self._never_saved = None, True

    def was_saved(self, path: Path, stamp: FileStamp) -> None:
        """The job as it is now is in a file."""
        self.path, self.stamp, self.saved, self._never_saved = path, stamp, self.job, False
