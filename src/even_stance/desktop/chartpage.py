"""A page of four charts with a line of words above them; imported late, for charts take long to import."""

from collections.abc import Iterator, Mapping

import numpy as np
from PyQt6.QtWidgets import QGridLayout, QVBoxLayout

from even_stance.desktop.bench import Bench
from even_stance.desktop.exporting import offer_picture
from even_stance.desktop.look import Look
from even_stance.desktop.pages import SteppedPage
from even_stance.desktop.widgets.chart import Chart
from even_stance.desktop.widgets.labels import PlainLabel


class ChartPage(SteppedPage):
    """Four charts, made one after another: all at once would hold the window up.

    Args:
        bench, look: what it shows, and how it looks.
        name: what pictures of its charts are called; titles: of the charts, by their keys.
    """

    def __init__(self, bench: Bench, look: Look, name: str, titles: Mapping[str, str]) -> None:
        super().__init__()
        self._bench, self._look, self._name, self._titles = bench, look, name, titles
        self.words = PlainLabel()
        self.words.setProperty("role", "faint")
        self.words.setWordWrap(True)
        self.charts: dict[str, Chart] = {}
        look.changed.connect(self._restyle)

    def build(self) -> Iterator[None]:
        """The words and the charts."""
        column = QVBoxLayout(self)
        column.setContentsMargins(8, 6, 8, 6)
        column.addWidget(self.words)
        grid = QGridLayout()
        grid.setSpacing(6)
        column.addLayout(grid, 1)
        for i, (key, title) in enumerate(self._titles.items()):
            chart = self.charts[key] = Chart(self._look, title)
            offer_picture(chart, f"{self._name}-{key}", self._bench.refused.emit)
            grid.addWidget(chart, i // 2, i % 2)
            yield

    def _restyle(self) -> None:
        for chart in self.charts.values():
            chart.restyle()

    def show_nothing(self) -> None:
        """Empty all charts."""
        for chart in self.charts.values():
            chart.show_curves(np.array([]), np.array([]), (np.nan, np.nan), (None, None))
