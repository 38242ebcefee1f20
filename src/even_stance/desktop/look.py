"""Sizes, colors and type: the light "shop paper" and the dark "night shop" look, at any scale from 100 to 200 %."""

from functools import cache
from importlib.resources import as_file, files

from PyQt6.QtCore import QEvent, QObject, pyqtSignal
from PyQt6.QtGui import QColor, QFont, QFontDatabase
from PyQt6.QtWidgets import QApplication

from even_stance.desktop.colors import PALETTES, LookName, Palette, color_of
from even_stance.desktop.style import ShopStyle, font_of

SCALES = (100, 125, 150, 175, 200)


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
        return color_of(self.name, name, alpha)

    def px(self, size: float) -> int:
        """A size in pixels at the scale in use."""
        return round(size * self.percent / 100)

    def font(self, size: float = 13, bold: bool = False) -> QFont:
        """The typeface at a pixel size."""
        return font_of(self.family, self.px(size), bold)

    def _dress(self, app: QApplication) -> None:
        """Have all widgets drawn so: not again when they are drawn so already, for each takes its time."""
        worn, wanted = app.style(), (self.name, self.percent, self.glove, self.family)
        if isinstance(worn, ShopStyle) and worn.worn == wanted:
            return
        style = ShopStyle(*wanted)
        app.setFont(style.font())
        # Boxes to choose from forget how narrow they can be with the style, not with the type: that has to come first.
        app.sendPostedEvents(None, QEvent.Type.ApplicationFontChange.value)
        app.setPalette(style.colors())
        app.setStyle(style)

    def use(self, name: LookName | None = None, percent: int | None = None, glove: bool | None = None) -> None:
        """Change look, scale or the size of what is pressed, at once and everywhere."""
        self.name = name or self.name
        self.percent = percent or self.percent
        self.glove = self.glove if glove is None else glove
        app = QApplication.instance()
        if isinstance(app, QApplication):
            self._dress(app)
        self.changed.emit()


@cache
def _load_typeface() -> str:
    family = ""
    for name in ("B612-Regular.otf", "B612-Bold.otf"):
        with as_file(files("even_stance.desktop") / "fonts" / name) as path:
            index = QFontDatabase.addApplicationFont(str(path))
            families = QFontDatabase.applicationFontFamilies(index)
            family = families[0] if families else family
    return family or "sans-serif"
