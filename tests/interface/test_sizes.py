"""At every scale the window fits a common screen, and every page can be reached in it."""

import pytest
from PyQt6.QtWidgets import QApplication

from even_stance.desktop.look import SCALES
from tests.interface.conftest import Open

ROOM = {100: 1280, 125: 1440, 150: 1680, 175: 1920, 200: 1920}


@pytest.mark.parametrize("percent", SCALES)
def test_no_page_makes_the_window_wider_than_its_screen(open_window: Open, percent: int) -> None:
    window = open_window(1)
    window.set_look("paper", percent)
    for station, pages in (("stance", 7), ("links", 7), ("travel", 2)):
        window.go(station)
        shown = window.station(station)
        for page in range(pages):
            shown.turn_to(page)  # type: ignore[union-attr]
            QApplication.processEvents()
            assert window.minimumSizeHint().width() <= ROOM[percent], (station, page)
    window.ask_new()
    QApplication.processEvents()
    assert window.minimumSizeHint().width() <= ROOM[percent]
