"""Both wheels over lock, and what they do by themselves over travel with the hand wheel held."""

from collections.abc import Iterator

import numpy as np
from PyQt6.QtWidgets import QGridLayout, QVBoxLayout, QWidget

from even_stance.desktop.bench import Bench
from even_stance.desktop.exporting import offer_picture
from even_stance.desktop.look import Look
from even_stance.desktop.widgets.chart import Chart
from even_stance.desktop.widgets.labels import PlainLabel
from even_stance.judgement.steering import bump_curve, lock_curve

_TITLES = {
    "lock": "Left wheel over steer input, ° left", "apart": "Right less left over steer input, °",
    "heave": "Left wheel over travel, hand wheel held, °", "roll": "Left wheel crossed up, hand wheel held, °",
}  # fmt: skip


class SweepPage(QWidget):
    """Four charts of the axle looked at."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench, self._look = bench, look
        column = QVBoxLayout(self)
        column.setContentsMargins(8, 6, 8, 6)
        self.words = PlainLabel()
        self.words.setProperty("role", "faint")
        column.addWidget(self.words)
        self._grid = QGridLayout()
        self._grid.setSpacing(6)
        self.charts: dict[str, Chart] = {}
        column.addLayout(self._grid, 1)
        look.changed.connect(self._restyle)

    def ready(self) -> Iterator[None]:
        """Make the charts one after another: all at once would hold the window up."""
        for i, (key, title) in enumerate(_TITLES.items()):
            if key not in self.charts:
                chart = self.charts[key] = Chart(self._look, title)
                offer_picture(chart, f"steering-{key}", self._bench.refused.emit)
                self._grid.addWidget(chart, i // 2, i % 2)
                yield

    def _restyle(self) -> None:
        for chart in self.charts.values():
            chart.restyle()

    def refresh(self) -> None:
        """Draw the steering of the axle looked at."""
        for _ in self.ready():
            pass
        bench, none = self._bench, np.array([])
        study = bench.study(bench.axle_key)
        if study is None or study.axle.steering is None or not study.now.ok[0]:
            self.words.setText("No steering to draw: start one on the Pieces page.")
            for chart in self.charts.values():
                chart.show_curves(none, none, (np.nan, np.nan), (None, None))
            return
        per, unit = (25.4, "in") if bench.job.units == "us" else (1.0, "mm")
        ram = study.axle.steering.kind == "ram"
        self.words.setText(
            f"Above: over {'mm of the ram’s rod' if ram else 'turns of the hand wheel'}, at the travel shown, + left. "
            f"Below: over travel of the left wheel, {unit}."
        )
        steer, left, right = lock_curve(study)
        now = bench.posture.steer
        for key, y in (("lock", left), ("apart", right - left)):
            self.charts[key].show_curves(steer, y, (now, float(np.interp(now, steer, y))), (None, None))
        for key, crossed in (("heave", False), ("roll", True)):
            travel, left, _ = bump_curve(study, crossed)
            self.charts[key].show_curves(travel / per, left, (np.nan, np.nan), (None, None))
