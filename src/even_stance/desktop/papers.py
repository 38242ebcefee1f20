"""Reports, drawings and lists are written beside the window, which goes on meanwhile."""

from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from even_stance.desktop.background import LongWork
from even_stance.vehicle.job import Job


class PaperWriter(QObject):
    """Writes one paper at a time.

    Signals:
        told: what came of it, in a sentence.
    """

    told = pyqtSignal(str)

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self.work = LongWork(self)
        self.work.done.connect(lambda said: self.told.emit(str(said)))

    def write(self, job: Job, what: str, path: Path) -> None:
        """Write a paper of the job as it is now."""

        def work(_progress: object, _stopped: object) -> str:
            # Paper and drawings are loaded when first asked for.
            from even_stance.exchange.papers import write_paper  # noqa: PLC0415

            write_paper(job, what, path)
            return f"{path.name} is written."

        self.work.start(work)
