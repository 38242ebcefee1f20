"""At every scale a figure in the point bar is seen whole."""

import pytest
from PyQt6.QtWidgets import QApplication, QStyle, QStyleOptionFrame

from even_stance.desktop.window import MainWindow
from even_stance.vehicle.edits import move_to
from even_stance.vehicle.spots import Spot


@pytest.mark.parametrize("percent", [100, 150, 175, 200])
@pytest.mark.parametrize("units", ["us", "metric"])
def test_no_figure_is_cut(window: MainWindow, percent: int, units: str) -> None:
    window.look.use("paper", percent)
    window.resize(*((1280, 800) if percent <= 125 else (1920, 1200)))
    bench, spot = window.bench, Spot("rear", "Upper right", "chassis")
    bench.select_spot(spot)
    bench.do(move_to(bench.job, spot, -2020.0, -714.4, 603.3, both_sides=False))
    if units == "metric":
        window.header.units.click()
    QApplication.processEvents()
    strip = window.station("links").strip
    for field in (strip.ahead, strip.out, strip.up):
        option = QStyleOptionFrame()
        field.initStyleOption(option)
        inside = field.style().subElementRect(QStyle.SubElement.SE_LineEditContents, option, field)
        needed = field.fontMetrics().horizontalAdvance(field.text())
        assert needed <= inside.width(), (field.name, field.text())
