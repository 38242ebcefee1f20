"""Opening, saving, and keeping unsaved work aside."""

import time
from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QObject, QTimer, pyqtSignal
from PyQt6.QtWidgets import QFileDialog, QWidget

from even_stance.desktop.bench import Bench
from even_stance.desktop.exporting import ask_path, opening
from even_stance.desktop.papers import PaperWriter
from even_stance.desktop.widgets.banner import Banner
from even_stance.errors import JobFileChangedError, JobFileError
from even_stance.exchange.demo import demo_job
from even_stance.exchange.jobfile import SUFFIX, changed_outside, load_job, save_job
from even_stance.exchange.recovery import Autosave, Recovered, find_recovered, forget, recovery_folder
from even_stance.exchange.wholefile import clear_leftovers
from even_stance.vehicle.job import Job

_KEEP_AFTER_MS = 1500


def _when(kept: Recovered) -> str:
    return time.strftime("%b %d, %H:%M", time.localtime(kept.saved_at))


class Files(QObject):
    """What the job menu does. Nothing typed is lost: leaving an unsaved job keeps it aside first."""

    opened = pyqtSignal()
    on_file = pyqtSignal(object)

    def __init__(self, bench: Bench, banner: Banner, parent: QWidget, folder: Path | None = None) -> None:
        super().__init__(parent)
        self._bench, self._banner, self._parent = bench, banner, parent
        self.folder = folder or recovery_folder()
        self._autosave = Autosave(self.folder)
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.setInterval(_KEEP_AFTER_MS)
        self._timer.timeout.connect(self.keep_aside)
        self._told_trouble = False
        self._after_save: list[Job | Path] = []
        self.papers = PaperWriter(self)
        self.papers.told.connect(banner.tell)
        self.papers.written.connect(bench.wrote)
        bench.wrote.connect(lambda path: self._banner.tell(f"{path.name} is written.", *opening(path)))
        bench.job_changed.connect(self._keep_soon)

    def _keep_soon(self) -> None:
        """Within a moment of the first change not kept yet, however many follow it."""
        if not self._timer.isActive():
            self._timer.start()

    def keep_aside(self) -> None:
        """Keep unsaved work where a crash cannot reach it."""
        if not self._bench.document.dirty:
            return
        try:
            self._autosave.keep(self._bench.job, self._bench.document.path)
            self._told_trouble = False
        except (JobFileError, OSError) as error:
            if not self._told_trouble:
                self._told_trouble = True
                self._banner.tell(f"Unsaved work cannot be kept aside: {error} Save the job to a file soon.")

    def offer_recovered(self) -> None:
        """Offer unsaved work of an earlier session, if any was left."""
        found = find_recovered(self.folder)
        if not found:
            return
        newest, more = found[0], len(found) - 1
        others = f" {more} more under Job, Kept aside." if more else ""
        self._banner.tell(
            f"Unsaved work on “{newest.job.name}” from {_when(newest)} was kept.{others}",
            ("Open it", lambda: self.open_kept(newest)),
            ("Throw it away", lambda: forget(newest.source)),
        )

    def kept(self) -> list[tuple[str, Recovered]]:
        """All work kept aside but that on the bench, newest first, with its name and when it was kept."""
        return [(f"{r.job.name}, {_when(r)}", r) for r in find_recovered(self.folder, self._autosave.file)]

    def open_kept(self, kept: Recovered) -> None:
        """Lay kept work on the bench; it goes on being kept until it is saved."""

        def open_it() -> None:
            path, stamp = kept.path, None
            if path is not None:
                try:
                    _, stamp = load_job(path)
                except JobFileError:
                    path = None
            self._bench.open_job(kept.job, path, stamp)
            # It is not in the file: closing again must keep it again.
            self._bench.mark_unsaved()
            self.keep_aside()
            forget(kept.source)
            self.opened.emit()

        self._leaving(open_it)

    def drop_kept(self, kept: Recovered) -> None:
        """Throw kept work away."""
        forget(kept.source)
        self._banner.tell(f"“{kept.job.name}” of {_when(kept)} was thrown away.")

    def _leaving(self, go: Callable[[], None]) -> None:
        """Leave the job on the bench for another; unsaved work is kept aside, to be offered again."""
        if not self._bench.document.dirty:
            self._autosave.done()
            self._autosave = Autosave(self.folder)
            go()
            return
        self.keep_aside()
        document = self._bench.document
        name, job, path, stamp = document.job.name, document.job, document.path, document.stamp
        left = self._autosave
        # A file of its own for each job: the work left behind stays kept while this window goes on with another.
        self._autosave = Autosave(self.folder)

        def back() -> None:
            def lay() -> None:
                self._bench.open_job(job, path, stamp)
                self._bench.mark_unsaved()
                self._autosave = left
                self.opened.emit()

            self._leaving(lay)

        go()
        self._banner.tell(f"“{name}” was not saved; it is kept aside.", ("Go back to it", back))

    def open_path(self, path: Path) -> bool:
        """Open a job file; trouble is told and changes nothing."""
        try:
            job, stamp = load_job(path)
        except JobFileError as error:
            self._banner.tell(str(error))
            return False
        clear_leftovers(path.parent, path.name)

        def go() -> None:
            self._bench.open_job(job, path, stamp)
            self.opened.emit()
            self.on_file.emit(path)

        self._leaving(go)
        return True

    def open_job(self, job: Job) -> None:
        """Lay a job without a file on the bench."""

        def go() -> None:
            self._bench.open_job(job)
            self.opened.emit()

        self._leaving(go)

    def start_job(self, job: Job) -> None:
        """Lay a new job on the bench; it counts as unsaved from the start."""
        self.open_job(job)
        self._bench.mark_unsaved()

    def open_demo(self, index: int) -> None:
        """Lay one of the demo jobs on the bench."""
        self.open_job(demo_job(index))

    def ask_open(self) -> QFileDialog:
        """Ask which file to open."""
        dialog = QFileDialog(self._parent, "Open a job", str(self._start_folder()), f"Jobs (*{SUFFIX});;All files (*)")
        dialog.setFileMode(QFileDialog.FileMode.ExistingFile)
        dialog.fileSelected.connect(lambda name: self.open_path(Path(name)))
        dialog.open()
        return dialog

    def save(self) -> bool:
        """Save to the job's file, or ask where to when it has none."""
        if self._bench.document.path is None:
            self.ask_save_as()
            return False
        return self.save_to(self._bench.document.path)

    def ask_save_as(self) -> QFileDialog:
        """Ask where to save."""
        name = "".join(c if c.isalnum() or c in " -_" else "-" for c in self._bench.job.name) + SUFFIX
        start = self._bench.document.path or self._start_folder() / name
        dialog = QFileDialog(self._parent, "Save the job as", str(start), f"Jobs (*{SUFFIX})")
        dialog.setAcceptMode(QFileDialog.AcceptMode.AcceptSave)
        dialog.setDefaultSuffix(SUFFIX.removeprefix("."))
        dialog.fileSelected.connect(lambda chosen: self.save_to(Path(chosen)))
        dialog.open()
        return dialog

    def save_to(self, path: Path, overwrite: bool = False) -> bool:
        """Save; trouble is told, the work stays open and kept aside."""
        known = self._bench.document.stamp if path == self._bench.document.path else None
        try:
            stamp = save_job(self._bench.job, path, known, overwrite)
        except JobFileChangedError as error:
            self._banner.tell(
                str(error),
                ("Save over it", lambda: self.save_to(path, overwrite=True)),
                ("Save as…", self.ask_save_as),
            )
            return False
        except JobFileError as error:
            self.keep_aside()
            self._banner.tell(str(error), ("Save as…", self.ask_save_as))
            return False
        self._bench.was_saved(path, stamp)
        self.on_file.emit(path)
        self._timer.stop()
        self._autosave.done()
        return True

    def ask_export(self, what: str, suffix: str) -> QFileDialog:
        """Ask where a report, drawing, list of points or measuring sheet goes."""
        return ask_path(
            self._parent, f"Save the {what}", f"{what}{suffix}", f"(*{suffix})", lambda path: self.export(what, path)
        )

    def place_for(self, name: str) -> Path:
        """Where a paper is offered to be put: beside the job, named after it and, of several, its variant."""
        job = self._bench.job
        parts = [job.name, *([job.branch] if job.variants else [])]
        said = " ".join("".join(c if c.isalnum() or c in " -_" else "-" for c in part) for part in parts)
        return self._start_folder() / f"{said} {name}"

    def export(self, what: str, path: Path) -> None:
        """Write one of the papers beside the window; what came of it is told."""
        self._banner.tell(f"Writing {path.name}…")
        self.papers.write(self._bench.job, what, path, self._bench.setup)

    def check_outside(self) -> None:
        """Say so when the open file was changed by somebody else."""
        path, stamp = self._bench.document.path, self._bench.document.stamp
        if path is None or stamp is None or not changed_outside(path, stamp):
            return
        self._banner.tell(
            f"{path.name} was changed by somebody else since it was opened here.",
            ("Take theirs", lambda: self.open_path(path)),
            ("Keep mine", lambda: self.save_to(path, overwrite=True)),
        )

    def closing(self) -> None:
        """The window closes: unsaved work is kept aside and offered at the next start."""
        if self._bench.document.dirty:
            self.keep_aside()
        else:
            self._autosave.done()

    def _start_folder(self) -> Path:
        return self._bench.document.path.parent if self._bench.document.path is not None else Path.home()
