"""No text of a job is read as markup anywhere in the window: not in words, tips, lists or tables."""

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QAbstractItemView, QApplication, QLabel, QTableView, QWidget

from even_stance.desktop.stations import STATIONS
from even_stance.exchange.demo import demo_jobs
from tests.hostile import hostile_job
from tests.interface.conftest import Open


def _tips(widget: QWidget) -> list[str]:
    """Every tip of a widget and of what it lists."""
    found = [widget.toolTip(), widget.statusTip(), widget.whatsThis()]
    if isinstance(widget, QAbstractItemView) and (model := widget.model()) is not None:
        for row in range(model.rowCount()):
            for column in range(model.columnCount() if isinstance(widget, QTableView) else 1):
                found.append(str(model.index(row, column).data(Qt.ItemDataRole.ToolTipRole) or ""))
    return found


@pytest.mark.parametrize("number", [0, 1])
def test_what_a_stranger_typed_is_shown_as_it_is(open_window: Open, number: int) -> None:
    window = open_window(number)
    job, count = hostile_job(demo_jobs()[number])
    assert count > 25
    window.bench.open_job(job)
    window.bench.catch_up()
    seen, wrong = 0, set()
    for each in STATIONS:
        window.go(each.key)
        station = window.station(each.key)
        for page in range(len(station.pages.buttons)):
            station.pages.turn_to(page)
            for _ in range(5):
                QApplication.processEvents()
            for widget in window.findChildren(QWidget):
                for tip in _tips(widget):
                    seen += "=H" in tip
                    if "<b>" in tip:
                        wrong.add(("tip", each.key, page, tip))
                if isinstance(widget, QLabel) and "=H" in widget.text():
                    seen += 1
                    if widget.textFormat() != Qt.TextFormat.PlainText:
                        wrong.add(("words", each.key, page, widget.text()))
    assert seen > 20
    assert wrong == set()
