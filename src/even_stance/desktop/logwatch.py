"""Works the built car out beside the window while the log is looked at."""

from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from even_stance.desktop.background import LateStudy
from even_stance.judgement.verdicts import Verdict
from even_stance.shop.asbuilt import built_stages
from even_stance.shop.builtstudy import BuiltStudy, study_built_axle
from even_stance.vehicle.job import Job

if TYPE_CHECKING:
    from even_stance.desktop.bench import Bench

_IDLE_MS = 2500


def _basis(job: Job, key: str) -> tuple[object, ...]:
    """What the answer rests on: words written into the diary change nothing of it."""
    return job.vehicle, job.measuring, job.log.turned, job.units, key


class LogWatch(QObject):
    """The axle looked at as it was built.

    Signals:
        changed: more is known.
    """

    changed = pyqtSignal()

    def __init__(self, bench: "Bench") -> None:
        super().__init__(bench)
        self._bench = bench
        self.study: BuiltStudy | None = None
        self._of: tuple[object, ...] | None = None
        self.eager = False
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self._idle)
        self._late = LateStudy(self)
        self._late.done.connect(self._arrived)
        bench.job_changed.connect(self.follow)

    @property
    def up_to_date(self) -> bool:
        """Whether what is known is of the job and axle as they are now."""
        return self._of == _basis(self._bench.job, self._bench.axle_key)

    @property
    def verdicts(self) -> list[Verdict]:
        """The judged numbers as built, while they are known."""
        return list(self.study.verdicts) if self.study is not None and self.up_to_date else []

    def look(self, eager: bool) -> None:
        """Say whether the built car is being looked at just now."""
        self.eager = eager
        self.follow()

    def follow(self) -> None:
        """Catch up when there is a pause."""
        job, key = self._bench.job, self._bench.axle_key
        if self.up_to_date or self._bench.on_its_way:
            return
        if not built_stages(job) and self._bench.studies.as_built is not None:
            # Nothing of the built car is measured any more: what was said of it is so no longer.
            self.study = self._bench.studies.as_built = None
            self._bench.measured_again()
        if not self.eager:
            # What is off is said at every station, where something was measured, when there is a long pause.
            if built_stages(job):
                self._timer.start(_IDLE_MS)
            return
        self._timer.stop()
        self._late.ask(lambda: (job, key, study_built_axle(job, key)))

    def _idle(self) -> None:
        job, key = self._bench.job, self._bench.axle_key
        if not self.up_to_date and not self._bench.on_its_way:
            self._late.ask(lambda: (job, key, study_built_axle(job, key)))

    def _arrived(self, result: object) -> None:
        if not isinstance(result, tuple):
            self._bench.refused.emit(str(result))
            return
        job, key, study = result
        self._of, self.study = _basis(job, key), study
        self._bench.studies.as_built = study
        self._bench.measured_again()
        self.changed.emit()
