"""A steering started in the window, as the tests of the Steering station do."""

from typing import cast

from even_stance.desktop.stations.steering.piecespage import PiecesPage
from even_stance.desktop.stations.steering.station import PIECES
from even_stance.desktop.window import MainWindow
from tests.interface.conftest import until


def start_steering(window: MainWindow, kind: str) -> PiecesPage:
    """Choose a kind on the Pieces page, start it and wait until it is there."""
    station = window.station("steering")
    station.turn_to(PIECES)
    page = cast(PiecesPage, station.pages.page(PIECES))
    page.kind.setCurrentIndex(page.kind.findData(kind))
    page.start.click()

    def there() -> bool:
        steering = window.bench.axle.steering
        return steering is not None and steering.kind == kind

    until(there)
    return page
