"""Every page of every station of every demo job, at either axle: each can be opened and shows itself without a fault."""

from dataclasses import fields

import pytest
from PyQt6.QtGui import QColor
from PyQt6.QtWidgets import QApplication

from even_stance.desktop.colors import PALETTES, Palette, color_of
from even_stance.desktop.stations import STATIONS
from even_stance.exchange.demo import demo_jobs
from tests.interface.conftest import Open


def colors_changed() -> list[str]:
    """Colors are shared by all that is drawn: names of those that are no longer what the palette says."""
    every = ((look, field.name) for look in PALETTES for field in fields(Palette))
    return [name for look, name in every if color_of(look, name, 255).name(QColor.NameFormat.HexArgb)
            != QColor(getattr(PALETTES[look], name)).name(QColor.NameFormat.HexArgb)]  # fmt: skip


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
    assert colors_changed() == []


def test_no_demo_job_is_left_out() -> None:
    assert len(demo_jobs()) == 5
