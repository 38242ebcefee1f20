"""What can be seen of a page without eyes: cut words, things that lie over one another, small type and small targets, and
words that hardly stand out from what is behind them.
"""

from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QPoint, QRect, Qt
from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import (
    QAbstractButton,
    QAbstractScrollArea,
    QApplication,
    QCheckBox,
    QComboBox,
    QLabel,
    QLineEdit,
    QPushButton,
    QToolButton,
    QWidget,
)

from even_stance.desktop.stations import STATIONS
from even_stance.desktop.taborder import in_order
from even_stance.desktop.window import MainWindow

LEAST_TYPE_PX, LEAST_TARGET_PX = 12, 24
LEAST_CONTRAST = 4.5  # WCAG 2.1, 1.4.3, of text


def _where(widget: QWidget) -> str:
    words = widget.accessibleName() or (widget.text() if hasattr(widget, "text") else "")
    return f"{type(widget).__name__} “{str(words)[:50]}”"


def cut_words(window: QWidget) -> Iterator[str]:
    """Words that do not fit what they stand in: labels that are not wrapped, and buttons."""
    for widget in in_order(window):
        if isinstance(widget, QLabel) and widget.text() and not widget.wordWrap() and widget.pixmap().isNull():
            need = widget.fontMetrics().horizontalAdvance(widget.text())
            ignored = widget.sizePolicy().horizontalPolicy() == widget.sizePolicy().Policy.Ignored
            if need > widget.contentsRect().width() + 1 and not ignored:
                yield f"{_where(widget)} needs {need} px and has {widget.contentsRect().width()}"
        elif isinstance(widget, QPushButton | QToolButton | QCheckBox) and widget.text():
            lines = widget.text().replace("&&", "&").split("\n")
            need = max(widget.fontMetrics().horizontalAdvance(line) for line in lines)
            if need > widget.width():
                yield f"{_where(widget)} needs {need} px and is {widget.width()}"
        elif isinstance(widget, QLabel) and widget.wordWrap() and widget.text():
            need = widget.heightForWidth(widget.width())
            if need > widget.height() + widget.fontMetrics().descent() + 2:
                yield f"{_where(widget)} is {need} px high and has {widget.height()}"


def overlaps(window: QWidget) -> Iterator[str]:
    """Things beside one another in the same place that lie over one another."""
    for parent in in_order(window):
        if parent.layout() is None:
            continue
        own = [w for w in parent.children() if isinstance(w, QWidget) and w.isVisible() and not w.isWindow()]
        own = [w for w in own if parent.layout().indexOf(w) >= 0 or _laid(parent, w)]  # type: ignore[union-attr]
        for i, one in enumerate(own):
            for other in own[i + 1 :]:
                both: QRect = one.geometry().intersected(other.geometry())
                if both.width() > 2 and both.height() > 2:
                    yield f"{_where(one)} and {_where(other)} share {both.width()} x {both.height()} px"


def _laid(parent: QWidget, child: QWidget) -> bool:
    """Whether a layout within the layout of a widget has the child."""
    waiting = [parent.layout()]
    while waiting:
        layout = waiting.pop()
        for i in range(layout.count() if layout is not None else 0):
            item = layout.itemAt(i)  # type: ignore[union-attr]
            if item is not None and item.widget() is child:
                return True
            if item is not None and item.layout() is not None:
                waiting.append(item.layout())
    return False


def too_small(window: QWidget) -> Iterator[str]:
    """Type under 12 px, and things to press under 24 px."""
    for widget in in_order(window):
        worded = isinstance(widget, QLabel | QAbstractButton | QLineEdit)
        if worded and widget.font().pixelSize() > 0 and widget.fontInfo().pixelSize() < LEAST_TYPE_PX:
            yield f"{_where(widget)} has type of {widget.fontInfo().pixelSize()} px"
        pressed = isinstance(widget, QAbstractButton | QComboBox | QLineEdit)
        pressed = pressed and widget.focusPolicy() != Qt.FocusPolicy.NoFocus and widget.focusProxy() is None
        if pressed and min(widget.width(), widget.height()) < LEAST_TARGET_PX:
            yield f"{_where(widget)} is {widget.width()} x {widget.height()} px"


def luminance(colors: NDArray[np.float64]) -> NDArray[np.float64]:
    """Relative luminance of colors, red, green and blue from 0 to 1 last (WCAG 2.1, its definition)."""
    linear = np.where(colors <= 0.04045, colors / 12.92, ((colors + 0.055) / 1.055) ** 2.4)
    found: NDArray[np.float64] = linear @ np.array([0.2126, 0.7152, 0.0722])
    return found


def _pixels(window: QWidget) -> NDArray[np.uint32]:
    """The window as it is drawn, a color a pixel: red, green and blue of a byte each."""
    image = window.grab().toImage().convertToFormat(QImage.Format.Format_RGB32)
    bits = image.constBits()
    assert bits is not None
    rows = np.frombuffer(bytes(bits.asarray(image.sizeInBytes())), dtype=np.uint32) & 0xFFFFFF
    return rows.reshape(image.height(), -1)[:, : image.width()]


def faint_words(window: QWidget) -> Iterator[str]:
    """Words less than 4.5 to 1 from what is behind them, as they are drawn; of those that can be used just now."""
    drawn = _pixels(window)
    for widget in in_order(window):
        words = widget.text() if isinstance(widget, QLabel | QAbstractButton | QLineEdit) else ""
        seen = widget.visibleRegion().boundingRect()
        cut = seen.height() < widget.height() - 2 or seen.width() < widget.width() - 2  # half scrolled out of sight
        if not words.strip() or not widget.isEnabled() or cut:
            continue
        at = QRect(widget.mapTo(window, QPoint(0, 0)) + seen.topLeft(), seen.size())
        if not isinstance(widget, QLabel):  # edges are no words, nor are boxes to tick
            at = at.adjusted(26 if isinstance(widget, QCheckBox) else 4, 4, -4, -4)
        part = drawn[max(at.top(), 0) : at.bottom() + 1, max(at.left(), 0) : at.right() + 1]
        if not part.size:
            continue
        each, count = np.unique(part, return_counts=True)
        light = luminance(np.stack((each >> 16, each >> 8 & 0xFF, each & 0xFF), axis=-1) / 255.0)
        behind = light[count.argmax()]
        best = float(((np.maximum(light, behind) + 0.05) / (np.minimum(light, behind) + 0.05)).max())
        if best < LEAST_CONTRAST:
            yield f"{_where(widget)} stands out by {best:.1f} to 1"


def out_of_reach(window: MainWindow) -> Iterator[str]:
    """What sticks out of the window and cannot be scrolled to."""
    frame = window.rect()
    for widget in in_order(window):
        parent, scrolled = widget.parentWidget(), False
        while parent is not None and not scrolled:
            scrolled, parent = isinstance(parent, QAbstractScrollArea), parent.parentWidget()
        if scrolled or widget is window:
            continue
        place = QRect(widget.mapTo(window, widget.rect().topLeft()), widget.size())
        if not frame.adjusted(-1, -1, 1, 1).contains(place):
            yield f"{_where(widget)} sticks out to {place.right()}, {place.bottom()} of {frame.width()}, {frame.height()}"


def sideways(window: MainWindow) -> Iterator[str]:
    """What has to be scrolled sideways to be read."""
    for widget in in_order(window):
        bar = widget.horizontalScrollBar() if isinstance(widget, QAbstractScrollArea) else None
        if bar is not None and bar.isVisible() and bar.maximum() > 0:
            yield f"{_where(widget)} is {bar.maximum()} px too wide"


def faults(window: MainWindow) -> list[str]:
    """All of it for what is shown just now."""
    return [*cut_words(window), *overlaps(window), *too_small(window), *out_of_reach(window), *faint_words(window)]


def every_page(window: MainWindow) -> Iterator[str]:
    """Turn to every page of every station; where one is."""
    for station in STATIONS:
        window.go(station.key)
        pages = window.station(station.key).pages
        for i, button in enumerate(pages.buttons):
            pages.turn_to(i)
            for _ in range(8):
                QApplication.processEvents()
            yield f"{station.key}/{button.text()}"


def looked_over(window: MainWindow, look: str, percent: int, size: tuple[int, int]) -> list[str]:
    """The faults of every page in one look, scale and size of window; that it is larger than asked is one."""
    window.set_look(look, percent)  # type: ignore[arg-type]
    window.resize(*size)
    QApplication.processEvents()
    found = []
    for where in every_page(window):
        if (window.width(), window.height()) != size:
            found.append(f"{where}: the window is {window.width()} x {window.height()}")
        found += [f"{where}: {fault}" for fault in faults(window)]
        if percent == 100:  # larger type may need it
            found += [f"{where}: {fault}" for fault in sideways(window)]
    return found
