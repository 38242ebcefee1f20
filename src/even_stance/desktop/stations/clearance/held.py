"""The pair of parts looked at, shared by the pages of the Clearance station."""

from PyQt6.QtCore import QObject, pyqtSignal

from even_stance.desktop.bench import Bench
from even_stance.judgement.clearances import close_ones, gap_key, short_of
from even_stance.study.clearances import Gap
from even_stance.vehicle.posture import AxlePosture, CarPosture


class HeldPair(QObject):
    """Which pair is looked at, by the names of its parts.

    Signals:
        changed: another pair is looked at, or what is known of it.
    """

    changed = pyqtSignal()

    def __init__(self, bench: Bench) -> None:
        super().__init__(bench)
        self._bench = bench
        self.names: frozenset[str] = frozenset()
        self.all_axles = False
        bench.gaps.changed.connect(self._known)

    @property
    def gap(self) -> Gap | None:
        """The pair as it is known now."""
        study = self._bench.gaps.study
        if study is None:
            return None
        return next((g for g in (*study.gaps, *study.touching) if frozenset(g.names) == self.names), None)

    def listed(self) -> list[Gap]:
        """The pairs in the order they are listed: what is most short of what is wanted first."""
        bench = self._bench
        study = bench.gaps.study
        if study is None:
            return []
        key = bench.axle_key
        mine = [g for g in study.gaps if self.all_axles or key in (g.axle, g.other[0] if g.other else "")]
        short = [g for g in close_ones(bench.job, study) if g in mine]
        return [*short, *sorted((g for g in mine if short_of(bench.job, g) <= 0.0), key=lambda g: g.gap_mm)]

    def hold(self, gap: Gap | None, go: bool = True) -> None:
        """Look at a pair, and take the car where it is tightest."""
        self.names = frozenset() if gap is None else frozenset(gap.names)
        if gap is not None and go:
            posture = CarPosture().put(gap.axle, AxlePosture(gap.left_mm, gap.right_mm, gap.steer))
            if gap.other is not None:
                posture = posture.put(gap.other[0], AxlePosture(*gap.other[1:]))
            self._bench.select_axle(gap.axle)
            self._bench.set_car_posture(posture)
        self.changed.emit()

    def hold_kind(self, key: str) -> None:
        """Look at the tightest pair of a kind, as its vial was chosen."""
        worst = next((g for g in self.listed() if gap_key(g) == key), None)
        if worst is not None and frozenset(worst.names) != self.names:
            self.hold(worst)

    def _known(self) -> None:
        if self.gap is None:
            first = next(iter(self.listed()), None)
            self.names = frozenset() if first is None else frozenset(first.names)
        self.changed.emit()
