"""The whole car is judged once an edit is seen, one axle an event: none of the steps the hand waits for is long."""

from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

if TYPE_CHECKING:
    from even_stance.desktop.bench import Bench


class Judging(QObject):
    """Judges the job of a bench anew after each of its changes.

    Signals:
        done: what is found on the whole car may differ.
    """

    done = pyqtSignal()

    def __init__(self, bench: "Bench") -> None:
        super().__init__(bench)
        self._bench = bench
        self._left: list[str] = []  # axles still to be judged
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self._go_on)
        bench.job_changed.connect(self.begin)

    @property
    def due(self) -> bool:
        """Whether there is more to judge."""
        return self._timer.isActive()

    def begin(self) -> None:
        """Begin anew; a job that waits for its window to stand begins then."""
        self._timer.stop()  # what is left may be of another job
        if not self._bench.waits:
            self._left = [a.key for a in self._bench.job.vehicle.axles]
            self._timer.start(0)

    def _go_on(self) -> None:
        if self._left:
            self._bench.studies.at_ride(self._left.pop())
            self._timer.start(0)
        else:
            self.done.emit()
