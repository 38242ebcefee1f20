"""Tables that show and do not edit."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHeaderView, QTableWidget, QTableWidgetItem

from even_stance.desktop.exporting import offer_csv
from even_stance.desktop.widgets.labels import plain_tip


def set_text(table: QTableWidget, row: int, column: int, text: str, right: bool = True) -> None:
    """Put a text into a cell."""
    item = table.item(row, column)
    if item is None:
        item = QTableWidgetItem()
        item.setFlags(Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable)
        table.setItem(row, column, item)
    side = Qt.AlignmentFlag.AlignRight if right else Qt.AlignmentFlag.AlignLeft
    item.setTextAlignment(side | Qt.AlignmentFlag.AlignVCenter)
    item.setText(text)
    if not right:
        item.setToolTip(plain_tip(text))  # names are cut where the table is narrow


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
        if wide < 0:
            horizontal.setStretchLastSection(True)
        else:
            horizontal.setSectionResizeMode(wide, QHeaderView.ResizeMode.Stretch)
    table.setSelectionBehavior(QTableWidget.SelectionBehavior.SelectRows)
    offer_csv(table, name)
    return table
