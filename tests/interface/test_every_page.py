"""Every page of every station of every demo job, at either axle: each can be opened and shows itself without a fault."""

import pytest
from PyQt6.QtWidgets import QApplication

from even_stance.desktop.stations import STATIONS
from even_stance.exchange.demo import demo_jobs
from tests.interface.conftest import Open


@pytest.mark.parametrize("number", range(len(demo_jobs())))
def test_every_page_of_a_demo_job_opens(open_window: Open, number: int) -> None:
    """The measuring sheet of the truck with swing beams could not be opened; any fault in a slot fails this."""
    window = open_window(number)
    for axle in window.bench.job.vehicle.axles:
        window.bench.select_axle(axle.key)
        for each in STATIONS:
            window.go(each.key)
            station = window.station(each.key)
            for page in range(len(station.pages.buttons)):
                station.pages.turn_to(page)
                QApplication.processEvents()
                assert station.pages.stack.currentWidget() is not None
