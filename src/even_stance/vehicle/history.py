"""Undo and redo: a stack of earlier jobs behind one door."""

from even_stance.vehicle.edits import Edit, with_changes
from even_stance.vehicle.job import Job
from even_stance.vehicle.log import Entry

_DEEPEST = 500


class History:
    """The present job and the ones before and after it.

    Args:
        job: the job to start from.
    """

    def __init__(self, job: Job) -> None:
        self.job = job
        self._undo: list[tuple[str, Job]] = []
        self._redo: list[tuple[str, Job]] = []
        self._merge: str | None = None

    def do(self, edit: Edit) -> bool:
        """Apply an edit; False when it changes nothing. A refused edit leaves everything as it was.

        Raises:
            InputError: the edit is refused.
        """
        after = edit.apply(self.job)
        if after == self.job:
            return False
        if edit.merge is None or edit.merge != self._merge:
            self._undo = [*self._undo[-_DEEPEST:], (edit.label, self.job)]
        self._merge = edit.merge
        self._redo.clear()
        self.job = after
        return True

    def seal(self) -> None:
        """End a run of merging edits (the mouse was let go)."""
        self._merge = None

    @property
    def undo_label(self) -> str | None:
        """What undo would take back."""
        return self._undo[-1][0] if self._undo else None

    @property
    def undo_labels(self) -> list[str]:
        """What undo would take back, one after the other, the latest first."""
        return [label for label, _ in reversed(self._undo)]

    @property
    def redo_labels(self) -> list[str]:
        """What redo would bring again, one after the other."""
        return [label for label, _ in reversed(self._redo)]

    @property
    def redo_label(self) -> str | None:
        """What redo would bring again."""
        return self._redo[-1][0] if self._redo else None

    def undo(self) -> bool:
        """Take back the last edit; False when there is none."""
        return self._step(self._undo, self._redo)

    def redo(self) -> bool:
        """Bring back the last edit taken back; False when there is none."""
        return self._step(self._redo, self._undo)

    def _step(self, source: list[tuple[str, Job]], target: list[tuple[str, Job]]) -> bool:
        self._merge = None
        if not source:
            return False
        label, job = source.pop()
        target.append((label, self.job))
        # A diary says what happened: going back in the design does not unwrite it.
        kept = with_changes(job.log, entries=self.job.log.entries)
        self.job = job if kept == job.log else with_changes(job, log=kept)
        return True

    def write(self, entries: tuple[Entry, ...]) -> None:
        """Write the diary; no step to undo."""
        self.job = with_changes(self.job, log=with_changes(self.job.log, entries=entries))
