"""Where Tab goes: from one thing to the next as they stand on the page, however late a page was made."""

from collections.abc import Iterator

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QAbstractButton,
    QAbstractScrollArea,
    QApplication,
    QLayout,
    QScrollArea,
    QStackedWidget,
    QWidget,
)


def in_order(widget: QWidget) -> Iterator[QWidget]:
    """A widget and all in it that is seen, as its layouts have them: what is in no layout comes after."""
    if not widget.isVisible() or not widget.isEnabled():
        return
    yield widget
    if isinstance(widget, QStackedWidget):
        shown = widget.currentWidget()
        if shown is not None:
            yield from in_order(shown)
        return
    if isinstance(widget, QScrollArea):
        inner = widget.widget()
        if inner is not None:
            yield from in_order(inner)
        return
    seen: set[int] = set()
    layout = widget.layout()
    for child in _of_layout(layout) if layout is not None else ():
        seen.add(id(child))
        yield from in_order(child)
    if isinstance(widget, QAbstractScrollArea):  # what is put into cells of a table
        port = widget.viewport()
        children = [] if port is None else port.children()
    else:
        children = widget.children()
    for other in children:
        if isinstance(other, QWidget) and not other.isWindow() and id(other) not in seen:
            yield from in_order(other)


def _of_layout(layout: QLayout) -> Iterator[QWidget]:
    for i in range(layout.count()):
        item = layout.itemAt(i)
        if item is None:
            continue
        widget, inner = item.widget(), item.layout()
        if widget is not None:
            yield widget
        elif inner is not None:
            yield from _of_layout(inner)


def takes_tab(widget: QWidget) -> bool:
    """Whether Tab stops there; of buttons that take turns just at the one that is on, arrows go to the others."""
    if isinstance(widget, QAbstractButton):
        group = widget.group()
        if group is not None and group.exclusive() and group.checkedButton() not in (None, widget):
            return False
    return bool(widget.focusPolicy() & Qt.FocusPolicy.TabFocus) and widget.focusProxy() is None


def step_focus(window: QWidget, forward: bool) -> bool:
    """Give the focus to the next thing, or the one before; False where there is none."""
    stops = [w for w in in_order(window) if takes_tab(w)]
    if not stops:
        return False
    reason = Qt.FocusReason.TabFocusReason if forward else Qt.FocusReason.BacktabFocusReason
    there = _after(QApplication.focusWidget(), stops, forward)
    there.setFocus(reason)
    parent = there.parentWidget()
    while parent is not None:
        if isinstance(parent, QScrollArea):
            parent.ensureWidgetVisible(there)
        parent = parent.parentWidget()
    return True


def _after(now: QWidget | None, stops: list[QWidget], forward: bool) -> QWidget:
    """The stop after that which has the focus; of what goes from sight, one that stands near it, on the same page."""
    if now in stops:
        return stops[(stops.index(now) + (1 if forward else -1)) % len(stops)]
    around = None if now is None else now.parentWidget()
    while around is not None:
        if around in stops:
            return _after(around, stops, forward)
        near = [stop for stop in stops if around.isAncestorOf(stop)]
        if near:
            return near[0 if forward else -1]
        around = around.parentWidget()
    return stops[0 if forward else -1]


def first_stop(page: QWidget) -> QWidget | None:
    """The first thing on a page that takes what is typed, or else can be pressed."""
    stops = [w for w in in_order(page) if takes_tab(w)]
    return stops[0] if stops else None
