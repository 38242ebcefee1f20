"""How fields, buttons, lists and bars are drawn, and how large they are: alike on every desktop.

A style sheet would say it in fewer lines, but keeps ten to twenty kilobytes for each of some thousand widgets, and
takes as long to lay on as the widgets take to make.
"""

from collections.abc import Callable
from functools import cache

from PyQt6.QtCore import QRect, QSize, Qt
from PyQt6.QtGui import QFont, QPainter, QPalette
from PyQt6.QtWidgets import (
    QApplication,
    QFrame,
    QHeaderView,
    QLabel,
    QListView,
    QProxyStyle,
    QPushButton,
    QScrollArea,
    QStyle,
    QStyleOption,
    QStyleOptionButton,
    QStyleOptionComboBox,
    QStyleOptionComplex,
    QStyleOptionHeader,
    QStyleOptionProgressBar,
    QStyleOptionSlider,
    QStyleOptionToolButton,
    QWidget,
)

from even_stance.desktop.bounds import hold
from even_stance.desktop.colors import LookName
from even_stance.desktop.strokes import EDGE, Strokes

_PE, _CE, _CC, _CT = QStyle.PrimitiveElement, QStyle.ControlElement, QStyle.ComplexControl, QStyle.ContentsType
_SC, _SE, _State = QStyle.SubControl, QStyle.SubElement, QStyle.StateFlag
_SMALL, _USUAL, _HEAD = 12, 13, 17
_Draw = Callable[[QStyleOption, QPainter, QWidget | None], None]
# Roles of the palette that nothing else here uses carry the colors of small print, warnings and heads.
_INK = {
    "faint": QPalette.ColorRole.LinkVisited,
    "alarm": QPalette.ColorRole.BrightText,
    "group": QPalette.ColorRole.Link,
}


@cache
def font_of(family: str, pixels: int, bold: bool = False) -> QFont:
    """The typeface at a size in pixels."""
    font = QFont(family)
    font.setPixelSize(pixels)
    font.setBold(bold)
    return font


class ShopStyle(QProxyStyle):
    """Draws what Qt's own widgets show of themselves; words, and what is not named here, are drawn by Fusion.

    Widgets say what they are by properties: `role` (a label: faint, alarm, head, group), `main`, `quiet`, `page` and
    `left` (a button), `wrong` (a field); by their names `strip` and `note`, what they lie on.

    Args:
        name: which look.
        percent: of the usual size.
        glove: whether what is pressed is large enough for gloves.
        family: the typeface.
    """

    def __init__(self, name: LookName, percent: int, glove: bool, family: str) -> None:
        super().__init__("Fusion")
        self.worn = (name, percent, glove, family)
        self._strokes, self._family = Strokes(name, percent), family
        self._pad, self._gap, self._arrow = self._strokes.px(6), self._strokes.px(8), self._strokes.px(24)
        self._row = max(self._strokes.px(22) + 2 * self._strokes.px(3) + 2 * EDGE, self._strokes.px(44) if glove else 0)
        self._box, self._target = self._strokes.px(30 if glove else 16), self._strokes.px(44 if glove else 24)
        # Ten page buttons in a row: at very large type their room is for the words alone.
        self._page_gap = self._strokes.px(8) if percent < 150 else 4
        self._primitives: dict[QStyle.PrimitiveElement, _Draw] = {
            _PE.PE_PanelLineEdit: self._field,
            _PE.PE_FrameLineEdit: self._field,
            _PE.PE_Frame: self._frame,
            _PE.PE_IndicatorCheckBox: self._check,
            _PE.PE_PanelTipLabel: self._tip,
            _PE.PE_Widget: self._ground,
        }
        self._controls: dict[QStyle.ControlElement, _Draw] = {
            _CE.CE_PushButton: self._push_button,
            _CE.CE_CheckBox: self._check_box,
            _CE.CE_HeaderSection: self._header,
            _CE.CE_HeaderEmptyArea: self._header,
            _CE.CE_HeaderLabel: self._header_words,
            _CE.CE_ProgressBarGroove: self._groove,
            _CE.CE_ProgressBarContents: self._progress,
            _CE.CE_ProgressBarLabel: self._progress_words,
        }
        self._complex: dict[QStyle.ComplexControl, _Draw] = {
            _CC.CC_ComboBox: self._combo,
            _CC.CC_SpinBox: self._spin,
            _CC.CC_ToolButton: self._tool_button,
            _CC.CC_ScrollBar: self._scroll_bar,
        }

    def font(self, size: int = _USUAL, bold: bool = False) -> QFont:
        """The typeface at a size before scaling."""
        return font_of(self._family, self._strokes.px(size), bold)

    def colors(self) -> QPalette:
        """What Qt draws with."""
        role, group, palette = QPalette.ColorRole, QPalette.ColorGroup, QPalette()
        named = {
            role.Window: "page", role.WindowText: "ink", role.Base: "sheet", role.AlternateBase: "page",
            role.Text: "ink", role.Button: "sheet", role.ButtonText: "ink", role.Highlight: "accent",
            role.HighlightedText: "on_accent", role.ToolTipBase: "ink", role.ToolTipText: "page",
            role.Link: "accent", role.LinkVisited: "faint", role.BrightText: "alarm",
        }  # fmt: skip
        for each, name in named.items():
            palette.setColor(each, self._strokes.color(name))
        for each in (role.WindowText, role.Text, role.ButtonText):
            palette.setColor(group.Disabled, each, self._strokes.color("faint"))
        palette.setColor(role.PlaceholderText, self._strokes.color("ink", 140))
        return palette

    def polish(self, what: QWidget | QApplication | QPalette) -> QPalette | None:  # type: ignore[override]
        """Fonts, inks and grounds, by what a widget says it is."""
        if isinstance(what, QPalette):
            return super().polish(what)
        super().polish(what)
        if isinstance(what, QLabel):
            self._word(what)
        elif isinstance(what, QPushButton):
            what.setFont(self.font(bold=what.property("main") == "true"))
        elif isinstance(what, QHeaderView):
            what.setFont(self.font(_SMALL))
        elif isinstance(what, QScrollArea):
            what.setFrameShape(QFrame.Shape.NoFrame)
        if isinstance(what, QWidget):
            hold(what, self.worn[1])
            if what.objectName() in ("strip", "note"):
                what.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        return None

    def _word(self, label: QLabel) -> None:
        role = label.property("role")
        if role is None:
            return
        size = {"faint": _SMALL, "alarm": _SMALL, "head": _HEAD}.get(role, _USUAL)
        label.setFont(self.font(size, bold=role in ("head", "group")))
        label.setForegroundRole(_INK.get(role, QPalette.ColorRole.WindowText))

    # How large it is

    def sizeFromContents(
        self, kind: QStyle.ContentsType, option: QStyleOption | None, size: QSize, widget: QWidget | None = None
    ) -> QSize:
        """Room for the words, and enough to be hit."""
        beside = self._beside(kind, option, widget)
        if beside is not None:
            # What a spin box is given is as high as the field in it.
            high = self._high(size) if kind != _CT.CT_SpinBox else max(size.height(), self._row)
            return QSize(size.width() + beside + 2 * EDGE, high)
        if kind == _CT.CT_CheckBox:
            words = size.width() + self._gap if size.width() else 0
            return QSize(max(self._box + words, self._target), max(size.height(), self._target))
        if kind == _CT.CT_ScrollBar and isinstance(option, QStyleOptionSlider):
            upright = option.orientation == Qt.Orientation.Vertical
            return QSize(self._gap, size.height()) if upright else QSize(size.width(), self._gap)
        room = super().sizeFromContents(kind, option, size, widget)
        if kind == _CT.CT_MenuItem or (kind == _CT.CT_ItemViewItem and isinstance(widget, QListView)):
            room += QSize(0, 2 * self._strokes.px(3))
        if kind == _CT.CT_HeaderSection:
            room += QSize(self._pad, 0)
        return room

    def _beside(self, kind: QStyle.ContentsType, option: QStyleOption | None, widget: QWidget | None) -> int | None:
        """What stands beside the words of a field or button, its edges left out; None for anything else."""
        if kind in (_CT.CT_PushButton, _CT.CT_ToolButton) and widget is not None:
            # What a menu's own part takes beyond Fusion's.
            return 2 * self._side(widget) + (self._strokes.px(6) if _opens_beside(option) else 0)
        return {
            _CT.CT_LineEdit: 2 * self._pad,
            _CT.CT_ComboBox: self._pad + self._arrow,
            _CT.CT_SpinBox: 2 * (self._pad + EDGE) + self._arrow,
        }.get(kind)

    def _high(self, size: QSize) -> int:
        return max(self._row, size.height() + 2 * (self._strokes.px(3) + EDGE))

    def _side(self, button: QWidget) -> int:
        """The room on either side of a button's words."""
        if button.property("quiet"):
            return self._strokes.px(3)
        return self._page_gap if button.property("page") else self._gap

    # Where its parts are

    def subElementRect(
        self, element: QStyle.SubElement, option: QStyleOption | None, widget: QWidget | None = None
    ) -> QRect:
        """Where the words of a field and the box of a check box are."""
        if element == _SE.SE_LineEditContents and option is not None:
            return self._rect(option).adjusted(self._pad + EDGE, 0, -self._pad - EDGE, 0)
        if element == _SE.SE_CheckBoxIndicator and option is not None:
            r = self._rect(option)
            return QRect(r.left(), r.top() + (r.height() - self._box) // 2, self._box, self._box)
        if element == _SE.SE_CheckBoxClickRect and option is not None:
            return self._rect(option)
        if element == _SE.SE_CheckBoxContents and option is not None:
            return self._rect(option).adjusted(self._box + self._gap, 0, 0, 0)
        return super().subElementRect(element, option, widget)

    def subControlRect(
        self, control: QStyle.ComplexControl, option: QStyleOptionComplex | None, part: QStyle.SubControl,
        widget: QWidget | None = None,
    ) -> QRect:  # fmt: skip
        """Where the words and the arrows of a choice are, and the slider of a scroll bar."""
        parts = {} if option is None else self._parts_of(control, option)
        return parts[part] if part in parts else super().subControlRect(control, option, part, widget)

    def _parts_of(self, control: QStyle.ComplexControl, option: QStyleOptionComplex) -> dict[QStyle.SubControl, QRect]:
        """Where the parts are that are not where Fusion has them."""
        if isinstance(option, QStyleOptionSlider) and control == _CC.CC_ScrollBar:
            return self._scroll_parts(option)
        if control not in (_CC.CC_ComboBox, _CC.CC_SpinBox) and not _opens_beside(option):
            return {}
        rect = self._rect(option)
        wide = self._strokes.px(18) if control == _CC.CC_ToolButton else self._arrow
        arrow, left = QRect(rect.right() - wide, rect.top(), wide, rect.height()), rect.adjusted(0, 0, -wide, 0)
        words = left.adjusted(EDGE, EDGE, -EDGE, -EDGE)
        if control == _CC.CC_ComboBox:
            return {_SC.SC_ComboBoxEditField: words.adjusted(self._pad, 0, 0, 0), _SC.SC_ComboBoxArrow: arrow}
        if control == _CC.CC_SpinBox:
            up, down = QRect(arrow), QRect(arrow)
            up.setHeight(rect.height() // 2)
            down.setTop(up.bottom() + 1)
            return {_SC.SC_SpinBoxEditField: words, _SC.SC_SpinBoxUp: up, _SC.SC_SpinBoxDown: down}
        return {_SC.SC_ToolButton: left, _SC.SC_ToolButtonMenu: arrow}

    def _rect(self, option: QStyleOption) -> QRect:
        """The place of an option, asked of Fusion, which gives it back for this element.

        Reading `option.rect` would tie the option's Python object to that of the rectangle: it would outlive the
        option, and be taken for the next one that lies at its address, of whatever kind that is.
        """
        return super().subElementRect(_SE.SE_ProgressBarGroove, option, None)

    def _scroll_parts(self, option: QStyleOptionSlider) -> dict[QStyle.SubControl, QRect]:
        upright, r = option.orientation == Qt.Orientation.Vertical, self._rect(option)
        length, span = (r.height() if upright else r.width()), option.maximum - option.minimum
        slider = length
        if span > 0:
            slider = min(max(length * option.pageStep // (span + option.pageStep), self._strokes.px(30)), length)
        start = QStyle.sliderPositionFromValue(
            option.minimum, option.maximum, option.sliderPosition, length - slider, option.upsideDown
        )
        ends = {
            _SC.SC_ScrollBarGroove: (0, length),
            _SC.SC_ScrollBarSlider: (start, slider),
            _SC.SC_ScrollBarSubPage: (0, start),
            _SC.SC_ScrollBarAddPage: (start + slider, length - start - slider),
            _SC.SC_ScrollBarAddLine: (0, 0),
            _SC.SC_ScrollBarSubLine: (0, 0),
        }
        if upright:
            return {part: QRect(r.left(), r.top() + at, r.width(), size) for part, (at, size) in ends.items()}
        return {part: QRect(r.left() + at, r.top(), size, r.height()) for part, (at, size) in ends.items()}

    # How it is drawn

    def drawPrimitive(self, element: QStyle.PrimitiveElement, option: QStyleOption | None, painter: QPainter | None,
                      widget: QWidget | None = None) -> None:  # fmt: skip
        """Frames and boxes."""
        if not _draw(self._primitives.get(element), option, painter, widget):
            super().drawPrimitive(element, option, painter, widget)

    def drawControl(self, element: QStyle.ControlElement, option: QStyleOption | None, painter: QPainter | None,
                    widget: QWidget | None = None) -> None:  # fmt: skip
        """Buttons, heads of tables and bars of progress."""
        if not _draw(self._controls.get(element), option, painter, widget):
            super().drawControl(element, option, painter, widget)

    def drawComplexControl(self, control: QStyle.ComplexControl, option: QStyleOptionComplex | None,
                           painter: QPainter | None, widget: QWidget | None = None) -> None:  # fmt: skip
        """Choices, spin boxes, tool buttons and scroll bars."""
        if not _draw(self._complex.get(control), option, painter, widget):
            super().drawComplexControl(control, option, painter, widget)

    def _field(self, option: QStyleOption, painter: QPainter, widget: QWidget | None) -> None:
        if getattr(option, "lineWidth", 1) <= 0:  # the words of a spin box: the box is drawn already
            return
        wrong, focused = widget is not None and bool(widget.property("wrong")), _has(option, _State.State_HasFocus)
        edge = "alarm" if wrong else "accent" if focused else "edge"
        self._strokes.box(painter, self._rect(option), "sheet", edge, strong=wrong or focused)

    def _frame(self, option: QStyleOption, painter: QPainter, _widget: QWidget | None) -> None:
        edge = "accent" if _has(option, _State.State_HasFocus) else "line"
        self._strokes.frame(painter, self._rect(option), edge)

    def _check(self, option: QStyleOption, painter: QPainter, _widget: QWidget | None) -> None:
        self._strokes.tick(painter, self._rect(option), _has(option, _State.State_On))

    def _tip(self, option: QStyleOption, painter: QPainter, _widget: QWidget | None) -> None:
        painter.fillRect(self._rect(option), self._strokes.color("ink"))

    def _ground(self, option: QStyleOption, painter: QPainter, widget: QWidget | None) -> None:
        if widget is not None and widget.objectName() == "note":
            self._strokes.frame(painter, self._rect(option), "accent", "sheet")
        else:
            self._strokes.strip(painter, self._rect(option))

    def _check_box(self, option: QStyleOption, painter: QPainter, widget: QWidget | None) -> None:
        assert isinstance(option, QStyleOptionButton)
        box = self.subElementRect(_SE.SE_CheckBoxIndicator, option, widget)
        words = self.subElementRect(_SE.SE_CheckBoxContents, option, widget)
        ink = "ink" if _has(option, _State.State_Enabled) else "faint"
        self._strokes.tick(painter, box, _has(option, _State.State_On))
        seen = box.united(self._strokes.words(painter, words, option.text or "", ink, left=True))
        if _has(option, _State.State_HasFocus):
            self._strokes.box(painter, seen.adjusted(0, -2, 3, 2), "", "accent")

    def _push_button(self, option: QStyleOption, painter: QPainter, widget: QWidget | None) -> None:
        assert isinstance(option, QStyleOptionButton)
        assert widget is not None
        quiet, rect = bool(widget.property("quiet")), self._rect(option)
        left, side = quiet or bool(widget.property("left")), self._side(widget) + EDGE
        ink = self._strokes.button(painter, rect, option.state, widget.property("main") == "true", quiet)
        self._strokes.words(painter, rect.adjusted(side, 0, -side, 0) if left else rect, option.text or "", ink, left)

    def _tool_button(self, option: QStyleOption, painter: QPainter, widget: QWidget | None) -> None:
        assert isinstance(option, QStyleOptionToolButton)
        rect = self._rect(option)
        ink = self._strokes.button(painter, rect, option.state, main=False)
        if _opens_beside(option):
            menu = self.subControlRect(_CC.CC_ToolButton, option, _SC.SC_ToolButtonMenu, widget)
            rect.setRight(menu.left())
            self._strokes.arrow(painter, menu, small=True)
        self._strokes.words(painter, rect, option.text or "", ink)

    def _combo(self, option: QStyleOption, painter: QPainter, _widget: QWidget | None) -> None:
        assert isinstance(option, QStyleOptionComboBox)
        enabled, focused = _has(option, _State.State_Enabled), _has(option, _State.State_HasFocus)
        edge = "accent" if focused else "edge" if enabled else "line"
        self._strokes.box(painter, self._rect(option), "sheet" if enabled else "page", edge, strong=focused)
        self._strokes.arrow(painter, self._parts_of(_CC.CC_ComboBox, option)[_SC.SC_ComboBoxArrow])

    def _spin(self, option: QStyleOption, painter: QPainter, _widget: QWidget | None) -> None:
        assert isinstance(option, QStyleOptionComplex)
        focused, parts = _has(option, _State.State_HasFocus), self._parts_of(_CC.CC_SpinBox, option)
        self._strokes.box(painter, self._rect(option), "sheet", "accent" if focused else "edge", strong=focused)
        self._strokes.arrow(painter, parts[_SC.SC_SpinBoxUp], up=True)
        self._strokes.arrow(painter, parts[_SC.SC_SpinBoxDown])

    def _scroll_bar(self, option: QStyleOption, painter: QPainter, _widget: QWidget | None) -> None:
        assert isinstance(option, QStyleOptionSlider)
        slider = self._scroll_parts(option)[_SC.SC_ScrollBarSlider]
        self._strokes.handle(painter, slider, _has(option, _State.State_MouseOver))

    def _header(self, option: QStyleOption, painter: QPainter, _widget: QWidget | None) -> None:
        painter.fillRect(self._rect(option), self._strokes.color("page"))

    def _header_words(self, option: QStyleOption, painter: QPainter, _widget: QWidget | None) -> None:
        assert isinstance(option, QStyleOptionHeader)
        painter.setPen(self._strokes.color("faint"))
        flags = option.textAlignment | Qt.AlignmentFlag.AlignVCenter
        painter.drawText(self._rect(option), flags.value, option.text)

    def _groove(self, option: QStyleOption, painter: QPainter, _widget: QWidget | None) -> None:
        self._strokes.box(painter, self._rect(option), "sheet", "line")

    def _progress(self, option: QStyleOption, painter: QPainter, _widget: QWidget | None) -> None:
        assert isinstance(option, QStyleOptionProgressBar)
        span, room = option.maximum - option.minimum, self._rect(option).adjusted(EDGE, EDGE, -EDGE, -EDGE)
        share = 0.0 if span <= 0 else max(option.progress - option.minimum, 0) / span
        room.setWidth(round(share * room.width()))
        painter.fillRect(room, self._strokes.color("bubble"))

    def _progress_words(self, option: QStyleOption, painter: QPainter, _widget: QWidget | None) -> None:
        assert isinstance(option, QStyleOptionProgressBar)
        over = option.progress > (option.minimum + option.maximum) / 2
        self._strokes.words(painter, self._rect(option), option.text or "", "bubble_letter" if over else "ink")


def _draw(draw: _Draw | None, option: QStyleOption | None, painter: QPainter | None, widget: QWidget | None) -> bool:
    """Draw what is drawn here; whether it is."""
    if draw is None or option is None or painter is None:
        return False
    draw(option, painter, widget)
    return True


def _has(option: QStyleOption, state: QStyle.StateFlag) -> bool:
    return bool(option.state & state)


def _opens_beside(option: QStyleOption | None) -> bool:
    """Whether it is a tool button with a menu of its own part."""
    beside = QStyleOptionToolButton.ToolButtonFeature.MenuButtonPopup
    return isinstance(option, QStyleOptionToolButton) and bool(option.features & beside)
