"""Every page of every station of every demo job, at either axle: each can be opened and shows itself without a fault."""

import pytest
from PyQt6.QtWidgets import QApplication

from even_stance.desktop.stations import STATIONS
from even_stance.exchange.demo import demo_jobs
from tests.interface.conftest import Open


@pytest.mark.parametrize(
    ("number", "axle"), [(0, "front"), (1, "rear"), (2, "rear"), (3, "front"), (3, "rear"), (4, "front")]
)
def test_every_page_of_a_demo_job_opens(open_window: Open, number: int, axle: str) -> None:
    """The measuring sheet of the truck with swing beams could not be opened; any fault in a slot fails this."""
    window = open_window(number)
    window.bench.select_axle(axle)
    for each in STATIONS:
        window.go(each.key)
        station = window.station(each.key)
        for page in range(len(station.pages.buttons)):
            station.pages.turn_to(page)
            QApplication.processEvents()
            assert station.pages.stack.currentWidget() is not None


def test_no_demo_job_is_left_out() -> None:
    assert len(demo_jobs()) == 5
