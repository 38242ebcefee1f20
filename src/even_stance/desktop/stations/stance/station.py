"""The Stance station: the car, the measuring sheet, and the work around them, page by page."""

from pathlib import Path

from PyQt6.QtWidgets import QVBoxLayout, QWidget

from even_stance.desktop.bench import Bench
from even_stance.desktop.gaugebar import GaugeBar
from even_stance.desktop.look import Look
from even_stance.desktop.pages import Pages
from even_stance.desktop.stations.stance.car import CarPage
from even_stance.desktop.stations.stance.cribpage import CribPage
from even_stance.desktop.stations.stance.pointpage import PointPage
from even_stance.desktop.stations.stance.sheetpage import SheetPage
from even_stance.desktop.stations.stance.squarepage import SquarePage
from even_stance.desktop.stations.stance.weightpage import WeightPage

CAR, SHEET, POINTS, HEIGHTS, WEIGHT, SQUARE, CRIBS = range(7)


class StanceStation(QWidget):
    """What the car is, how it was measured and how it stands."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench = bench
        self.car = CarPage(bench, look)

        def heights() -> QWidget:
            # Charts are the heaviest import: they come when first asked for.
            from even_stance.desktop.stations.stance.heightspage import HeightsPage  # noqa: PLC0415

            return HeightsPage(bench, look)

        self.pages = Pages(
            (("Car", lambda: self.car), ("Measure", lambda: SheetPage(bench, look)),
             ("Points", lambda: PointPage(bench, look)), ("Heights", heights),
             ("Weight", lambda: WeightPage(bench, look)), ("Square", lambda: SquarePage(bench, look)),
             ("Cribs", lambda: CribPage(bench, look)))
        )  # fmt: skip
        self.gauge = GaugeBar(bench)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.pages, 1)
        column.addWidget(self.gauge)
        self.pages.foot.addStretch(1)
        self.pages.turn_to(CAR)
        bench.job_changed.connect(self.refresh)

    def turn_to(self, page: int) -> None:
        """Show one of the pages."""
        self.pages.turn_to(page)

    def take_points(self, file: Path) -> None:
        """Offer the points of a file that was let go over the window."""
        self.turn_to(POINTS)
        page = self.pages.page(POINTS)
        assert isinstance(page, PointPage)
        page.show_file(file)

    def showEvent(self, _event: object) -> None:
        """Catch up with what changed while hidden, gauges plugged in included."""
        self.gauge.look_for_ports()
        self.refresh()

    def leave(self) -> None:
        """The window closes: what a gauge's key has sent still lands in the field that has the focus."""
        self.gauge.disconnect_gauge()

    def refresh(self) -> None:
        """Let the page that is seen catch up."""
        self.pages.refresh()
