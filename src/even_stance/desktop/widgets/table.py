"""Tables that show and do not edit."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHeaderView, QTableWidget, QTableWidgetItem

from even_stance.desktop.exporting import offer_csv
from even_stance.desktop.widgets.labels import ABOUT, plain_tip
from even_stance.units import shown


def set_text(table: QTableWidget, row: int, column: int, text: str, right: bool = True) -> None:
    """Put a text into a cell, decimals as the person reads them."""
    text = shown(text)
    item = table.item(row, column)
    if item is None:
        item = QTableWidgetItem()
        item.setFlags(Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable)
        table.setItem(row, column, item)
    side = Qt.AlignmentFlag.AlignRight if right else Qt.AlignmentFlag.AlignLeft
    item.setTextAlignment(side | Qt.AlignmentFlag.AlignVCenter)
    if item.text() == text:
        return
    item.setText(text)
    item.setToolTip(ABOUT if text.startswith("~") else "")
    if not right:
        item.setToolTip(plain_tip(text))  # names are cut where the table is narrow


class RowFitter:
    """Keeps the rows of a table as high as their wrapped words need: once after it is filled, and as its width changes.

    Args:
        table: whose rows.
    """

    def __init__(self, table: QTableWidget) -> None:
        self._table = table
        self._filling = False
        self._modes: list[QHeaderView.ResizeMode] = []
        table.setWordWrap(True)
        header = table.horizontalHeader()
        if header is not None:
            header.sectionResized.connect(self._resized)

    def __enter__(self) -> None:
        """While it is filled, columns keep their width and rows wait: they would be fitted anew at every word."""
        self._filling = True
        header = self._table.horizontalHeader()
        if header is not None:
            self._modes = [header.sectionResizeMode(i) for i in range(header.count())]
            header.setSectionResizeMode(QHeaderView.ResizeMode.Fixed)

    def __exit__(self, *_: object) -> None:
        """Fit them all at once."""
        header = self._table.horizontalHeader()
        if header is not None:
            for i, mode in enumerate(self._modes):
                header.setSectionResizeMode(i, mode)
        self._filling = False
        self._table.resizeRowsToContents()

    def _resized(self, *_: int) -> None:
        if not self._filling:
            self._table.resizeRowsToContents()


def plain_table(columns: tuple[str, ...], name: str, wide: int = -1) -> QTableWidget:
    """An empty table that shows and does not edit; one column (the last, or `wide`) takes the room left over."""
    table = QTableWidget(0, len(columns))
    table.setHorizontalHeaderLabels(columns)
    table.setAccessibleName(name)
    vertical, horizontal = table.verticalHeader(), table.horizontalHeader()
    if vertical is not None:
        vertical.hide()
    if horizontal is not None:
        horizontal.setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
        horizontal.setResizeContentsPrecision(40)  # rows that are looked at for it: of many, not all at every change
        if wide < 0:
            horizontal.setStretchLastSection(True)
        else:
            horizontal.setSectionResizeMode(wide, QHeaderView.ResizeMode.Stretch)
    table.setSelectionBehavior(QTableWidget.SelectionBehavior.SelectRows)
    table.setCornerButtonEnabled(False)
    table.setTabKeyNavigation(False)  # arrows go through it, Tab goes on
    offer_csv(table, name)
    return table
