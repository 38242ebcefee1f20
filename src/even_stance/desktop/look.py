"""Sizes, colors and type: the light "shop paper" and the dark "night shop" look, at any scale from 100 to 200 %."""

from dataclasses import dataclass
from functools import cache
from importlib.resources import as_file, files
from string import Template
from typing import Literal

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtGui import QColor, QFont, QFontDatabase
from PyQt6.QtWidgets import QApplication

LookName = Literal["paper", "night"]
SCALES = (100, 125, 150, 175, 200)


@dataclass(frozen=True)
class Palette:
    """The colors of one look, by what they are for."""

    page: str
    sheet: str
    floor: str
    line: str
    edge: str
    ink: str
    faint: str
    accent: str
    on_accent: str
    alarm: str
    upper: str
    lower: str
    lateral: str
    steel: str
    rubber: str
    bubble: str
    bubble_edge: str
    glass: str
    bubble_letter: str


PALETTES: dict[LookName, Palette] = {
    "paper": Palette(
        page="#fbfaf6", sheet="#ffffff", floor="#f3f0e8", line="#d5cfbf", edge="#8b8573", ink="#1c2327",
        faint="#5b6266", accent="#0f5d70", on_accent="#ffffff", alarm="#a3122e",
        upper="#bd6f00", lower="#17739a", lateral="#43286e",
        steel="#d3cec2", rubber="#e0dccf", bubble="#b9d433", bubble_edge="#4a5a12", glass="#eaf0d2",
        bubble_letter="#1c2327",
    ),
    "night": Palette(
        page="#24292e", sheet="#2c3238", floor="#1b2023", line="#434b53", edge="#8a949c", ink="#f3f1ea",
        faint="#a9b1b7", accent="#7fcbdd", on_accent="#12262c", alarm="#ff7f6e",
        upper="#ffd166", lower="#3f93cc", lateral="#cdb6f5",
        steel="#3d444b", rubber="#30363b", bubble="#cfe95a", bubble_edge="#eef6c8", glass="#3c462f",
        bubble_letter="#1b2023",
    ),
}  # fmt: skip

_STYLE = Template("""
* { font-family: "$family"; font-size: ${f}px; color: $ink; }
QMainWindow, QWidget#page { background: $page; }
QWidget#strip { background: $sheet; border-bottom: 1px solid $line; }
QScrollArea, QScrollArea > QWidget > QWidget { background: transparent; border: none; }
QLabel { background: transparent; }
QFrame#note { background: $sheet; border: 1px solid $accent; }
QLabel[role="faint"] { color: $faint; font-size: ${s}px; }
QLabel[role="alarm"] { color: $alarm; font-size: ${s}px; }
QLabel[role="head"] { font-size: ${h}px; font-weight: bold; }
QLabel[role="group"] { font-weight: bold; color: $accent; }
QLineEdit, QComboBox, QPlainTextEdit, QAbstractSpinBox {
    background: $sheet; border: 1px solid $edge; border-radius: ${r}px; padding: ${p1}px ${p2}px;
    selection-background-color: $accent; selection-color: $on_accent; min-height: ${field}px;
}
QLineEdit:focus, QComboBox:focus, QPlainTextEdit:focus, QAbstractSpinBox:focus { border: 2px solid $accent; }
QLineEdit[wrong="true"] { border: 2px solid $alarm; }
QComboBox::drop-down { border: none; width: ${arrow}px; }
QAbstractSpinBox::up-button, QAbstractSpinBox::down-button { border: none; width: ${arrow}px; }
QAbstractSpinBox::up-arrow { image: url($up); width: ${tip}px; height: ${p3}px; }
QAbstractSpinBox::down-arrow { image: url($down); width: ${tip}px; height: ${p3}px; }
QComboBox::down-arrow { image: url($down); width: ${tip}px; height: ${tip}px; }
QComboBox QAbstractItemView { background: $sheet; border: 1px solid $line; selection-background-color: $accent;
    selection-color: $on_accent; }
QPushButton, QToolButton {
    background: $sheet; border: 1px solid $edge; border-radius: ${r}px; padding: ${p1}px ${p3}px;
    min-height: ${field}px;
}
QPushButton[page="true"] { padding: ${p1}px ${page_pad}px; }
QPushButton:hover, QToolButton:hover { border-color: $accent; }
QPushButton:focus, QToolButton:focus { border: 2px solid $accent; }
QPushButton:checked, QToolButton:checked { background: $accent; color: $on_accent; border-color: $accent; }
QPushButton[main="true"] { background: $accent; color: $on_accent; border-color: $accent; font-weight: bold; }
QPushButton:disabled, QToolButton:disabled { background: $page; color: $faint; border: 1px dashed $line; }
QToolButton::menu-indicator { image: none; }
QCheckBox { spacing: ${p3}px; min-height: ${target}px; }
QCheckBox::indicator { width: ${box}px; height: ${box}px; border: 1px solid $edge; border-radius: 3px;
    background: $sheet; }
QCheckBox::indicator:checked { background: $accent; border-color: $accent; }
QCheckBox:focus { color: $accent; }
QMenu { background: $sheet; border: 1px solid $line; padding: ${p1}px; }
QMenu::item { padding: ${p1}px ${p4}px; border-radius: ${r}px; }
QMenu::item:selected { background: $accent; color: $on_accent; }
QMenu::item:disabled { color: $faint; }
QToolTip { background: $ink; color: $page; border: none; padding: ${p1}px; }
QScrollBar:vertical { background: transparent; width: ${p3}px; margin: 0; }
QScrollBar::handle:vertical { background: $line; border-radius: 3px; min-height: 30px; }
QScrollBar:horizontal { background: transparent; height: ${p3}px; margin: 0; }
QScrollBar::handle:horizontal { background: $line; border-radius: 3px; min-width: 30px; }
QScrollBar::add-line, QScrollBar::sub-line { width: 0; height: 0; }
QTableWidget { background: $sheet; border: 1px solid $line; gridline-color: $line; }
QTableWidget::item:selected { background: $accent; color: $on_accent; }
QTextBrowser { background: $sheet; border: 1px solid $line; border-radius: ${r}px; padding: ${p2}px; }
QTextBrowser:focus { border: 2px solid $accent; }
QPushButton[quiet="true"] { border: none; color: $accent; text-align: left; padding: ${p1}px; }
QPushButton[quiet="true"]:focus { border: 2px solid $accent; }
QListWidget { background: $sheet; border: 1px solid $line; border-radius: ${r}px; }
QListWidget::item { padding: ${p1}px; }
QListWidget::item:selected { background: $accent; color: $on_accent; }
QListWidget::item:disabled { color: $faint; }
QProgressBar { background: $sheet; border: 1px solid $line; border-radius: ${r}px; text-align: center; }
QProgressBar::chunk { background: $bubble; }
QHeaderView::section { background: $page; color: $faint; border: none; padding: ${p1}px; font-size: ${s}px; }
""")


class Look(QObject):
    """The look in use: palette, scale and fonts. Widgets that paint themselves ask it and repaint on `changed`."""

    changed = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.name: LookName = "paper"
        self.percent = 100
        self.glove = False
        self.family = _load_typeface()

    @property
    def colors(self) -> Palette:
        """The palette in use."""
        return PALETTES[self.name]

    def color(self, name: str, alpha: int = 255) -> QColor:
        """A color of the palette, by its field name."""
        return _color(self.name, name, alpha)

    def px(self, size: float) -> int:
        """A size in pixels at the scale in use."""
        return round(size * self.percent / 100)

    def font(self, size: float = 13, bold: bool = False) -> QFont:
        """The typeface at a pixel size."""
        return _font(self.family, self.px(size), bold)

    def style_sheet(self) -> str:
        """The style sheet of the whole application."""
        sizes = {
            "f": 13,
            "s": 12,
            "h": 17,
            "r": 5,
            "p1": 3,
            "p2": 6,
            "p3": 8,
            "p4": 18,
            "field": 22 if not self.glove else 36,
            "box": 16 if not self.glove else 30,
            "target": 24 if not self.glove else 44,
            "arrow": 24,
            "tip": 12,
        }
        values = {k: str(self.px(v)) for k, v in sizes.items()}
        # Ten page buttons in a row: at very large type their room is for the words alone.
        values["page_pad"] = str(self.px(8) if self.percent < 150 else 4)
        icons = files("even_stance.desktop") / "icons"
        tips = {way: str(icons / f"{way}-{self.name}.svg").replace("\\", "/") for way in ("up", "down")}
        return _STYLE.substitute(values | vars(self.colors) | tips | {"family": self.family})

    def use(self, name: LookName | None = None, percent: int | None = None, glove: bool | None = None) -> None:
        """Change look, scale or the size of what is pressed, at once and everywhere."""
        self.name = name or self.name
        self.percent = percent or self.percent
        self.glove = self.glove if glove is None else glove
        app, sheet = QApplication.instance(), self.style_sheet()
        # Every widget takes its time to take a sheet on: not for the same one again.
        if isinstance(app, QApplication) and app.styleSheet() != sheet:
            # Taking one sheet off and putting the other on costs a seventh of changing one into the other.
            app.setStyleSheet("")
            app.setStyleSheet(sheet)
        self.changed.emit()


@cache
def _font(family: str, pixels: int, bold: bool) -> QFont:
    font = QFont(family)
    font.setPixelSize(pixels)
    font.setBold(bold)
    return font


@cache
def _color(look: LookName, name: str, alpha: int) -> QColor:
    color = QColor(getattr(PALETTES[look], name))
    color.setAlpha(alpha)
    return color


def _load_typeface() -> str:
    family = ""
    for name in ("B612-Regular.otf", "B612-Bold.otf"):
        with as_file(files("even_stance.desktop") / "fonts" / name) as path:
            index = QFontDatabase.addApplicationFont(str(path))
            families = QFontDatabase.applicationFontFamilies(index)
            family = families[0] if families else family
    return family or "sans-serif"
