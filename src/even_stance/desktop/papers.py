"""Reports, drawings and lists are written beside the window, which goes on meanwhile."""

from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, pyqtSignal

from even_stance.desktop.background import LongWork
from even_stance.vehicle.job import Job

if TYPE_CHECKING:
    from even_stance.exchange.paper import Setup


class PaperWriter(QObject):
    """Writes one paper at a time.

    Signals:
        told: why it was not written, in a sentence; written: the file that was; made: a paper's bytes and its title.
    """

    told = pyqtSignal(str)
    written = pyqtSignal(object)
    made = pyqtSignal(object, str)

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self.work = LongWork(self)
        self.work.done.connect(self._came)

    def _came(self, came: object) -> None:
        if isinstance(came, Path):
            self.written.emit(came)
        elif isinstance(came, tuple):
            self.made.emit(*came)
        else:
            self.told.emit(str(came))

    def make(self, job: Job, what: str, setup: "Setup") -> None:
        """Make a paper of the job as it is now, to be printed."""

        def work(_progress: object, _stopped: object) -> tuple[bytes, str]:
            from even_stance.exchange.papers import paper_of  # noqa: PLC0415 - loaded when first asked for

            return paper_of(job, what, setup), f"{job.name}, {what.replace('-', ' ')}"

        self.work.start(work)

    def write(self, job: Job, what: str, path: Path, setup: "Setup") -> None:
        """Write a paper of the job as it is now."""

        def work(_progress: object, _stopped: object) -> Path:
            # Paper and drawings are loaded when first asked for.
            from even_stance.exchange.papers import write_paper  # noqa: PLC0415

            write_paper(job, what, path, setup)
            return path

        self.work.start(work)
