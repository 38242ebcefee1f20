"""At the least and the largest scale the window fits a common screen, and every page can be reached in it; that no word
is cut at those between is looked at in test_reach.py."""

import pytest
from PyQt6.QtWidgets import QApplication

from even_stance.desktop.look import SCALES
from even_stance.desktop.stations import STATIONS
from tests.interface.conftest import Open

ROOM = {100: 1280, 125: 1440, 150: 1680, 175: 1920, 200: 1920}


@pytest.mark.parametrize("percent", [min(SCALES), max(SCALES)])
def test_no_page_makes_the_window_wider_than_its_screen(open_window: Open, percent: int) -> None:
    for job, axle, stations in ((1, "rear", STATIONS), (2, "front", STATIONS[4:6])):
        window = open_window(job)
        window.set_look("paper", percent)
        window.bench.select_axle(axle)
        for station in (s.key for s in stations):
            window.go(station)
            pages = window.station(station).pages  # type: ignore[union-attr]
            for page in range(len(pages.buttons)):
                pages.turn_to(page)
                QApplication.processEvents()
                assert window.minimumSizeHint().width() <= ROOM[percent], (job, station, page)
    window.ask_new()
    QApplication.processEvents()
    assert window.minimumSizeHint().width() <= ROOM[percent]
