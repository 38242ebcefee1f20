"""A layout that is filled anew: what was in it goes from sight at once, and for good when nobody asks it any more."""

from PyQt6.QtWidgets import QLayout


def emptied(layout: QLayout) -> None:
    """Take everything out of a layout."""
    while layout.count():
        item = layout.takeAt(0)
        widget = None if item is None else item.widget()
        if widget is not None:
            widget.hide()
            widget.deleteLater()
