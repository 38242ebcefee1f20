"""Keeps looking, beside the window, at what comes near to what; what is on its way is measured at once."""

from collections.abc import Callable
from dataclasses import replace
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from even_stance.desktop.background import LateStudy, LongWork
from even_stance.study.cargaps import study_gaps
from even_stance.study.clearances import Gap, GapStudy, measured_again
from even_stance.vehicle.car import Vehicle

if TYPE_CHECKING:
    from even_stance.desktop.bench import Bench

LIVE = 10  # so many of the tightest gaps are measured while something is dragged
_SOON_MS, _IDLE_MS = 60, 2500


class GapWatch(QObject):
    """What comes near to what on the job of a bench.

    Signals:
        changed: more is known, or less; progressed: how far the search is, 0 to 1.
    """

    changed = pyqtSignal()
    progressed = pyqtSignal(float)

    def __init__(self, bench: "Bench") -> None:
        super().__init__(bench)
        self._bench = bench
        self._known: Vehicle | None = None  # the car that the study in hand is of
        self._asked: Vehicle | None = None
        self.eager = False  # whether it is being looked at: then the search does not wait for a pause
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self._search)
        self._work = LongWork(self)
        self._work.done.connect(self._arrived)
        self._work.progressed.connect(self.progressed)
        self._tightest = LateStudy(self)
        self._tightest.done.connect(self._measured)
        # The first to hear of a change: all others show it, and what it did to the gaps, at one go.
        bench.job_changed.connect(lambda: self.follow(said=True))

    @property
    def study(self) -> GapStudy | None:
        """What is known."""
        return self._bench.studies.gaps

    @property
    def up_to_date(self) -> bool:
        """Whether what is known is of the car as it is now, found to the end."""
        return self._known is not None and self._known == self._bench.job.vehicle

    @property
    def running(self) -> bool:
        """Whether a search is on."""
        return self._work.running or self._timer.isActive()

    def forget(self) -> None:
        """Another job is on the bench."""
        self.stop()
        self._known = self._asked = None

    def stop(self) -> None:
        """End the search with what it has."""
        self._timer.stop()
        self._work.stop()

    def look(self, eager: bool) -> None:
        """Say whether gaps are being looked at just now."""
        self.eager = eager
        self.follow()

    def follow(self, said: bool = False) -> None:
        """Catch up with the job: at once with the tightest, and with all of them when there is a pause.

        Args:
            said: whether all who show it are told that the job changed.
        """
        vehicle = self._bench.job.vehicle
        if vehicle in (self._known, self._asked):
            if self.eager and self._timer.isActive():
                self._timer.start(_SOON_MS)
            return
        self._work.stop()
        self._asked = None
        study = self.study
        if study is not None and self.eager:
            # What is dragged is measured as it moves; after an edit that is done beside the window.
            tightest = study.gaps[:LIVE]
            if self._bench.on_its_way:
                self._put_anew(study, measured_again(vehicle, tightest), said)
            else:
                self._tightest.ask(lambda: (vehicle, measured_again(vehicle, tightest)))
                self._tightest.start_now()
        if self._bench.on_its_way:
            self._timer.stop()
        elif self.eager:
            self._timer.start(_SOON_MS)
        else:  # the car's own parts hit each other too, whether or not anything was put on it
            self._timer.start(_IDLE_MS)

    def _measured(self, result: object) -> None:
        if isinstance(result, tuple) and self.study is not None and not self.up_to_date:
            vehicle, anew = result
            if vehicle == self._bench.job.vehicle:
                self._put_anew(self.study, anew)

    def _put_anew(self, study: GapStudy, anew: list[Gap], said: bool = False) -> None:
        self._put(replace(study, gaps=_with(study.gaps, anew), whole=False), said)

    def _put(self, study: GapStudy, said: bool = False) -> None:
        self._bench.studies.gaps = study
        self._bench.gaps_found()
        if not said:
            self.changed.emit()

    def _search(self) -> None:
        vehicle, first = self._bench.job.vehicle, self.study is None
        self._asked = vehicle

        def work(progress: Callable[[float], object], stopped: Callable[[], bool]) -> tuple[Vehicle, GapStudy, bool]:
            return vehicle, study_gaps(vehicle, not first, progress, stopped), stopped()

        self._work.start(work)
        self.changed.emit()

    def _arrived(self, result: object) -> None:
        if not isinstance(result, tuple):
            self._bench.refused.emit(str(result))
            return
        vehicle, study, stopped = result
        if vehicle != self._bench.job.vehicle:
            return  # a late answer: another car is on the bench
        if stopped and self.study is not None:
            self.changed.emit()
            return
        if study.whole:
            self._bench.studies.gaps_of = vehicle
        self._put(study)
        if study.whole or stopped:
            self._known = vehicle
        else:  # that was a first look
            self._search()


def _with(gaps: tuple[Gap, ...], anew: list[Gap]) -> tuple[Gap, ...]:
    """Known gaps with those measured anew in their place."""
    by = {frozenset(g.names): g for g in anew}
    found = [by.get(frozenset(g.names), g) for g in gaps]
    return tuple(sorted(found, key=lambda g: g.gap_mm))
