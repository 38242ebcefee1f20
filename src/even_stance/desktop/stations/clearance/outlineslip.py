"""The outlines of a drawing: which layers count, which outline is the plate's edge, and what unit its numbers are."""

from collections.abc import Callable

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QComboBox, QListWidget, QListWidgetItem, QWidget

from even_stance.desktop.look import Look
from even_stance.desktop.widgets.labels import PlainLabel
from even_stance.desktop.widgets.signalblock import blocked
from even_stance.desktop.widgets.slip import Slip
from even_stance.errors import InputError
from even_stance.exchange.outlines import UNITS_MM, Outline, Outlines, plate_from
from even_stance.units import System, format_length, length_unit
from even_stance.vehicle.things import Plate

_MOST_LISTED = 60
_THICK_MM = 6.35


class OutlinePicture(QWidget):
    """All outlines of the layers that count, the plate's edge filled. A click takes another.

    Signals:
        picked: the number of the outline that was clicked.
    """

    picked = pyqtSignal(int)

    def __init__(self, look: Look, outlines: Outlines) -> None:
        super().__init__()
        self._look, self._outlines = look, outlines
        self._shown: list[int] = []
        self._edge = 0
        self.setAccessibleName("Outlines of the drawing")

    def sizeHint(self) -> QSize:
        """Return room for a plate to be known by its shape."""
        return QSize(self._look.px(380), self._look.px(230))

    def show_outlines(self, shown: list[int], edge: int) -> None:
        """Show some of the outlines, one of them as the edge."""
        self._shown, self._edge = shown, edge
        self.update()

    def _polygons(self) -> dict[int, QPolygonF]:
        """Return the outlines as they lie on the widget, all in one scale."""
        corners = [c for i in self._shown for c in self._outlines.outlines[i].corners]
        if not corners:
            return {}
        low = min(c[0] for c in corners), min(c[1] for c in corners)
        high = max(c[0] for c in corners), max(c[1] for c in corners)
        pad = self._look.px(12)
        wide, tall = max(high[0] - low[0], 1e-9), max(high[1] - low[1], 1e-9)
        scale = min((self.width() - 2 * pad) / wide, (self.height() - 2 * pad) / tall)
        left, bottom = (self.width() - scale * wide) / 2, (self.height() + scale * tall) / 2
        return {
            i: QPolygonF([QPointF(left + scale * (h - low[0]), bottom - scale * (v - low[1]))
                          for h, v in self._outlines.outlines[i].corners])
            for i in self._shown
        }  # fmt: skip

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Paint the outlines."""
        painter, look = QPainter(self), self._look
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(look.color("line"), 1))
        painter.setBrush(look.color("floor"))
        painter.drawRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5))
        for i, polygon in self._polygons().items():
            painter.setPen(QPen(look.color("ink"), look.px(2.4 if i == self._edge else 1.2)))
            painter.setBrush(look.color("steel") if i == self._edge else Qt.BrushStyle.NoBrush)
            painter.drawPolygon(polygon)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Take the smallest outline under the mouse as the edge."""
        if event is None:
            return
        hit = [i for i, p in self._polygons().items() if p.containsPoint(event.position(), Qt.FillRule.OddEvenFill)]
        if hit:
            self.picked.emit(min(hit, key=lambda i: _size(self._outlines.outlines[i])))


def _size(outline: Outline) -> tuple[float, float]:
    """Return how wide and tall an outline is, in the numbers of its file."""
    h, v = zip(*outline.corners, strict=True)
    return max(h) - min(h), max(v) - min(v)


class OutlineSlip(Slip):
    """Choose what of a drawing becomes a plate.

    Args:
        parent: over what it lies; look: its colors; units: what sizes are said in; outlines: what the drawing holds.
        use: takes the plate; what was wrong with it, or nothing said.
    """

    def __init__(
        self, parent: QWidget, look: Look, units: System, outlines: Outlines, use: Callable[[Plate], str]
    ) -> None:
        super().__init__(parent, "Plate from a drawing", "Put it on", self._put)
        self._units, self._outlines, self._use = units, outlines, use
        self.picture = OutlinePicture(look, outlines)
        self.picture.picked.connect(self._pick)
        self.row("Outlines", self.picture)
        self.layers = QListWidget()
        self.layers.setFixedHeight(look.px(84))
        for name, shown in outlines.layers.items():
            item = QListWidgetItem(name if shown else f"{name} (off in the drawing)")
            item.setData(Qt.ItemDataRole.UserRole, name)
            item.setFlags(item.flags() | Qt.ItemFlag.ItemIsUserCheckable)
            item.setCheckState(Qt.CheckState.Checked if shown else Qt.CheckState.Unchecked)
            self.layers.addItem(item)
        self.layers.itemChanged.connect(lambda _item: self._fill())
        self.row("Layers that count", self.layers)
        self.unit = QComboBox()
        if outlines.per_mm is None:
            self.unit.addItem("the file does not say: choose", "")
        for name, per in UNITS_MM.items():
            self.unit.addItem(name, name)
            if per == outlines.per_mm:
                self.unit.setCurrentIndex(self.unit.count() - 1)
        self.unit.activated.connect(lambda _i: self._fill())
        self.row("Its numbers are", self.unit)
        self.edge = QComboBox()
        self.edge.activated.connect(lambda _i: self._show())
        self.row("Edge of the plate", self.edge)
        if outlines.left_out:
            said = PlainLabel(" ".join(outlines.left_out))
            said.setWordWrap(True)
            self.row("Left out", said)
        self._fill()

    def _counted(self) -> frozenset[str]:
        items = (self.layers.item(i) for i in range(self.layers.count()))
        return frozenset(
            str(i.data(Qt.ItemDataRole.UserRole)) for i in items if i and i.checkState() == Qt.CheckState.Checked
        )

    def _per_mm(self) -> float | None:
        return UNITS_MM.get(str(self.unit.currentData()))

    def _fill(self) -> None:
        """Offer the outlines of the layers that count, the largest first."""
        layers, was = self._counted(), self.edge.currentData()
        taken = [i for i, o in enumerate(self._outlines.outlines) if o.layer in layers]
        taken.sort(key=lambda i: -_size(self._outlines.outlines[i])[0] * _size(self._outlines.outlines[i])[1])
        with blocked(self.edge):
            self.edge.clear()
            for i in taken[:_MOST_LISTED]:
                self.edge.addItem(self._words(self._outlines.outlines[i]), i)
            self.edge.setCurrentIndex(max(self.edge.findData(was), 0))
        self._show()

    def _words(self, outline: Outline) -> str:
        wide, tall = _size(outline)
        per = self._per_mm()
        if per is None:
            return f"{wide:.4g} x {tall:.4g}, layer {outline.layer}"
        said = " x ".join(format_length(v * per, self._units) for v in (wide, tall))
        return f"{said} {length_unit(self._units)}, layer {outline.layer}"

    def _show(self) -> None:
        edge = self.edge.currentData()
        self.picture.show_outlines(
            [int(self.edge.itemData(i)) for i in range(self.edge.count())], -1 if edge is None else int(edge)
        )

    def _pick(self, which: int) -> None:
        self.edge.setCurrentIndex(max(self.edge.findData(which), 0))
        self._show()

    def _put(self) -> str:
        per, edge = self._per_mm(), self.edge.currentData()
        if per is None:
            return "Its numbers: the file does not say their unit. Choose it."
        if edge is None:
            return "Layers: none with an outline counts. Tick the one the plate is drawn on."
        try:
            plate = plate_from(self._outlines, per, "side", 0.0, _THICK_MM, int(edge), self._counted())
        except InputError as error:
            return str(error)
        return self._use(plate)
