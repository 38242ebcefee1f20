"""How fields, buttons and bars are drawn: what can be told from the picture, in both looks and at two sizes."""

from collections.abc import Iterator
from typing import TypeVar, cast

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from PyQt6 import sip
from PyQt6.QtCore import QPoint, Qt, QTimer
from PyQt6.QtGui import QColor, QImage
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import (
    QApplication,
    QCheckBox,
    QComboBox,
    QDoubleSpinBox,
    QLabel,
    QLineEdit,
    QMenu,
    QProgressBar,
    QPushButton,
    QScrollBar,
    QStyle,
    QStyleOptionSlider,
    QTableWidget,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from even_stance.desktop.colors import PALETTES, LookName, Palette
from even_stance.desktop.look import Look
from even_stance.desktop.style import ShopStyle

W = TypeVar("W", bound=QWidget)


@pytest.fixture(params=[("paper", 100, False), ("night", 200, True)], ids=["paper", "night, twice the size, gloves"])
def look(request: pytest.FixtureRequest, qapp: QApplication) -> Iterator[Look]:
    look = Look()
    name, percent, glove = request.param
    look.use(name, percent, glove)
    yield look
    look.use("paper", 100, False)


@pytest.fixture
def bench(look: Look) -> Iterator[QWidget]:
    place = QWidget()
    QVBoxLayout(place)
    place.resize(look.px(400), look.px(300))
    yield place
    sip.delete(place)


def put(bench: QWidget, widget: W) -> W:
    layout = bench.layout()
    assert layout is not None
    layout.addWidget(widget)
    if isinstance(widget, QLabel):
        widget.setMaximumSize(widget.sizeHint())  # or most of its picture is ground
    bench.show()
    bench.activateWindow()
    QApplication.processEvents()
    return widget


def picture(widget: QWidget) -> np.ndarray:  # type: ignore[type-arg]
    """What is seen of a widget: rows, columns, and red, green and blue."""
    QApplication.processEvents()
    image = widget.grab().toImage().convertToFormat(QImage.Format.Format_RGB888)
    bits = image.constBits()
    assert bits is not None
    lines = np.frombuffer(bits.asarray(image.sizeInBytes()), dtype=np.uint8)
    lines = lines.reshape(image.height(), image.bytesPerLine())[:, : 3 * image.width()]
    return lines.reshape(image.height(), image.width(), 3).astype(int)


def share(seen: np.ndarray, color: str) -> float:  # type: ignore[type-arg]
    """How much of a picture is of a color, to a few steps of each of its parts."""
    wanted = QColor(color)
    apart = np.abs(seen - [wanted.red(), wanted.green(), wanted.blue()]).max(axis=2)
    return float((apart <= 6).mean())


def colors(look: Look) -> Palette:
    return PALETTES[cast(LookName, look.name)]


def test_a_field_says_whether_it_is_entered_and_whether_it_is_wrong(bench: QWidget, look: Look) -> None:
    other, field = put(bench, QLineEdit("other")), put(bench, QLineEdit("23 1/8"))
    other.setFocus()
    quiet = picture(field)
    assert share(quiet, colors(look).sheet) > 0.5
    assert share(quiet, colors(look).edge) > 0.005
    field.setFocus()
    field.deselect()
    assert share(picture(field), colors(look).accent) > 0.005 > share(quiet, colors(look).accent)
    field.setProperty("wrong", True)
    assert share(picture(field), colors(look).alarm) > 0.005
    field.setProperty("wrong", False)
    assert share(picture(field), colors(look).alarm) < 0.001


def test_words_in_a_field_are_clear_of_its_edge(bench: QWidget, look: Look) -> None:
    field = put(bench, QLineEdit("HHHHHH"))
    seen = picture(field)
    ink = QColor(colors(look).ink)
    columns = np.flatnonzero((np.abs(seen - [ink.red(), ink.green(), ink.blue()]).max(axis=2) < 60).any(axis=0))
    assert columns[0] >= look.px(6)


def test_buttons_are_plain_main_checked_quiet_or_out_of_use(bench: QWidget, look: Look) -> None:
    palette = colors(look)
    first, plain, main, checked, quiet, out = (put(bench, QPushButton(f"{i} Do it")) for i in range(6))
    main.setProperty("main", "true")
    checked.setCheckable(True)
    checked.setChecked(True)
    quiet.setProperty("quiet", "true")
    out.setEnabled(False)
    first.setFocus()
    assert share(picture(plain), palette.sheet) > 0.5
    for filled in (main, checked):
        assert share(picture(filled), palette.accent) > 0.5
        assert share(picture(filled), palette.on_accent) > 0.002
    assert share(picture(quiet), palette.edge) < 0.001
    assert share(picture(quiet), palette.accent) > 0.002
    assert share(picture(out), palette.ink) < share(picture(plain), palette.ink)
    for button in (plain, main, checked, quiet):
        before = picture(button)
        button.setFocus()
        assert (picture(button) != before).any(), f"nobody sees that “{button.text()}” is next"


def test_words_of_a_button_can_begin_at_its_left(bench: QWidget, look: Look) -> None:
    button = put(bench, QPushButton("HH"))
    button.setProperty("left", True)
    ink = QColor(colors(look).ink)
    seen = np.abs(picture(button) - [ink.red(), ink.green(), ink.blue()]).max(axis=2) < 60
    assert np.flatnonzero(seen[4:-4, 4:-4].any(axis=0)).max() < button.width() / 3


def test_a_tick_is_seen_and_its_box_is_large_enough(bench: QWidget, look: Look) -> None:
    """WCAG 2.2, 2.5.8: a target of 24 by 24 px at least; 44 on request for gloves (2.5.5)."""
    box = put(bench, QCheckBox("both sides"))
    assert box.height() >= look.px(44 if look.glove else 24)
    before = picture(box)
    QTest.mouseClick(box, Qt.MouseButton.LeftButton, pos=QPoint(look.px(8), box.height() // 2))
    assert box.isChecked()
    wide = look.px(30 if look.glove else 16)
    assert share(picture(box)[:, :wide], colors(look).accent) > 0.3 > share(before[:, :wide], colors(look).accent)
    assert share(picture(box)[:, :wide], colors(look).on_accent) > 0.01


def test_fields_choices_and_buttons_stand_in_one_line(bench: QWidget, look: Look) -> None:
    choice, spin, tool = QComboBox(), QDoubleSpinBox(), QToolButton()
    choice.addItems(["angle finder", "level"])
    tool.setText("Undo")
    heights = [put(bench, w).sizeHint().height() for w in (QLineEdit(), choice, spin, QPushButton("Keep"), tool)]
    assert heights == heights[:1] * 5
    assert heights[0] >= look.px(44 if look.glove else 24)


def test_a_choice_has_room_for_its_longest_words(bench: QWidget, look: Look) -> None:
    choice = QComboBox()
    choice.addItems(["a", "the axle alone, as people quote it"])
    put(bench, choice)
    style, ruler = choice.style(), choice.fontMetrics()
    assert style is not None
    words = ruler.horizontalAdvance(choice.itemText(1))
    assert choice.sizeHint().width() >= words + look.px(6) + look.px(24)


def test_a_menu_beside_a_button_has_a_part_of_its_own(bench: QWidget, look: Look) -> None:
    button = put(bench, QToolButton())
    button.setText("Undo")
    button.setPopupMode(QToolButton.ToolButtonPopupMode.MenuButtonPopup)
    menu = QMenu(button)
    menu.addAction("the last step")
    button.setMenu(menu)
    pressed: list[bool] = []
    button.clicked.connect(pressed.append)
    button.adjustSize()
    QTest.mouseClick(button, Qt.MouseButton.LeftButton, pos=QPoint(look.px(10), button.height() // 2))
    assert len(pressed) == 1
    need = button.fontMetrics().horizontalAdvance("Undo") + look.px(18)
    assert button.sizeHint().width() >= need
    seen: list[bool] = []

    def look_and_close() -> None:  # the menu takes everything until it is closed
        seen.append(menu.isVisible())
        menu.close()

    QTimer.singleShot(50, look_and_close)
    QTest.mousePress(button, Qt.MouseButton.LeftButton, pos=QPoint(button.width() - look.px(8), button.height() // 2))
    assert seen == [True]
    assert len(pressed) == 1


@given(st.integers(0, 400), st.integers(0, 4000), st.integers(1, 900), st.integers(40, 600), st.booleans())
@settings(deadline=None, max_examples=60, suppress_health_check=[HealthCheck.function_scoped_fixture])
def test_the_parts_of_a_scroll_bar_fill_it_in_order(
    qapp: QApplication, at: int, span: int, step: int, length: int, upright: bool
) -> None:
    bar = QScrollBar(Qt.Orientation.Vertical if upright else Qt.Orientation.Horizontal)
    bar.setRange(0, span)
    bar.setPageStep(step)
    bar.setValue(min(at, span))
    bar.resize(8, length) if upright else bar.resize(length, 8)
    option = QStyleOptionSlider()
    bar.initStyleOption(option)
    style = qapp.style()
    assert isinstance(style, ShopStyle)
    part = QStyle.SubControl
    before, slider, after = (
        style.subControlRect(QStyle.ComplexControl.CC_ScrollBar, option, p, bar)
        for p in (part.SC_ScrollBarSubPage, part.SC_ScrollBarSlider, part.SC_ScrollBarAddPage)
    )
    sizes = [(r.height() if upright else r.width()) for r in (before, slider, after)]
    assert sum(sizes) == length
    assert sizes[1] >= min(30, length)
    begins = [(r.top() if upright else r.left()) for r in (before, slider, after)]
    assert begins == [0, sizes[0], sizes[0] + sizes[1]]
    if bar.value() == 0:
        assert sizes[0] == 0
    if bar.value() == span:
        assert sizes[2] == 0


def test_a_scroll_bar_is_dragged_to_its_end(bench: QWidget, look: Look) -> None:
    bar = QScrollBar(Qt.Orientation.Vertical)
    bar.setRange(0, 1000)
    bar.setPageStep(300)
    put(bench, bar)
    bar.setFixedSize(bar.sizeHint().width(), 200)
    QApplication.processEvents()
    x = bar.width() // 2
    QTest.mousePress(bar, Qt.MouseButton.LeftButton, pos=QPoint(x, 10))
    for y in (60, 120, 199):
        QTest.mouseMove(bar, QPoint(x, y))
    QTest.mouseRelease(bar, Qt.MouseButton.LeftButton, pos=QPoint(x, 199))
    assert bar.value() == 1000


@pytest.mark.parametrize("percent", [0, 20, 70, 100])
def test_progress_is_as_long_as_its_share(bench: QWidget, look: Look, percent: int) -> None:
    bar = put(bench, QProgressBar())
    bar.setTextVisible(False)
    bar.setValue(percent)
    assert share(picture(bar), colors(look).bubble) == pytest.approx(percent / 100, abs=0.1)


def test_heads_of_a_table_are_words_and_not_bold_when_a_row_is_picked(bench: QWidget, look: Look) -> None:
    table = QTableWidget(2, 2)
    table.setHorizontalHeaderLabels(["Link", "Cut"])
    put(bench, table)
    header = table.horizontalHeader()
    assert header is not None
    before = picture(header)
    assert share(before, colors(look).faint) > 0.002
    table.selectRow(0)
    assert (picture(header) == before).all()


def test_labels_take_the_ink_and_size_of_what_they_are(bench: QWidget, look: Look) -> None:
    palette, seen = colors(look), {}
    for role, ink in (("faint", "faint"), ("alarm", "alarm"), ("group", "accent"), ("head", "ink"), ("", "ink")):
        label = QLabel("HHHH")
        label.setProperty("role", role)
        put(bench, label)
        assert share(picture(label), getattr(palette, ink)) > 0.003, role
        seen[role] = label
    sizes = {role: label.font().pixelSize() for role, label in seen.items()}
    assert sizes == {role: look.px({"faint": 12, "alarm": 12, "head": 17}.get(role, 13)) for role in sizes}
    assert [role for role, label in seen.items() if label.font().bold()] == ["group", "head"]


def test_a_label_may_become_something_else(bench: QWidget, look: Look) -> None:
    label = QLabel("HHHH")
    label.setProperty("role", "")
    put(bench, label)
    style = label.style()
    assert style is not None
    label.setProperty("role", "alarm")
    style.polish(label)
    assert share(picture(label), colors(look).alarm) > 0.003
    label.setProperty("role", "")
    style.polish(label)
    assert share(picture(label), colors(look).alarm) < 0.001


def test_a_strip_is_a_sheet_with_a_line_below(bench: QWidget, look: Look) -> None:
    strip = QWidget()
    strip.setObjectName("strip")
    strip.setFixedHeight(40)
    put(bench, strip)
    seen = picture(strip)
    assert share(seen[:-2], colors(look).sheet) > 0.99
    assert share(seen[-1:], colors(look).line) > 0.99


def test_the_same_look_is_not_put_on_twice(qapp: QApplication, look: Look) -> None:
    """Every one of some thousand widgets takes its time."""
    worn = qapp.style()
    other = Look()
    other.use(look.name, look.percent, look.glove)
    assert qapp.style() is worn
    other.use(percent=125 if look.percent != 125 else 150)
    assert qapp.style() is not worn
