"""What else changed: one quiet row that lists what the last edit made better and worse anywhere on the car."""

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QMenu, QSizePolicy

from even_stance.desktop.bench import Bench
from even_stance.desktop.look import Look
from even_stance.desktop.widgets.badge import draw_change
from even_stance.desktop.widgets.labels import plain_tip
from even_stance.desktop.widgets.painted import Painted
from even_stance.judgement.changes import Change

_HEAD = "What else changed"


def change_words(change: Change, several_axles: bool = True) -> str:
    """A change in a few words."""
    where = f"{change.axle} " if several_axles and change.axle else ""
    return f"{where}{change.title.lower()} {change.words}".replace("  ", " ").strip()


class ChangeStrip(Painted):
    """The changes of the last edit, worst first; one that is clicked is gone to. What has no room is behind “more”.

    Signals:
        chosen: a change to go to.
    """

    chosen = pyqtSignal(object)

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench, self._look = bench, look
        self.changes: list[Change] = []
        self._places: list[QRectF] = []
        self._shown = 0  # of the changes; those beyond are behind “more”
        self._at = -1
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
        self.setAccessibleName(f"{_HEAD}: nothing")
        self.setAccessibleDescription("Left and Right walk through the changes, Enter goes to one.")
        self.setMouseTracking(True)
        bench.judging.done.connect(self.refresh)
        look.changed.connect(self.updateGeometry)

    def sizeHint(self) -> QSize:
        """One row."""
        return QSize(self._look.px(400), self._look.px(30))

    def refresh(self) -> None:
        """List what the last edit changed."""
        changes = self._bench.changes()
        if changes == self.changes:
            return
        self.changes, self._at = changes, -1
        said = "; ".join(f"{c.way}: {change_words(c)}" for c in changes) or "nothing"
        self.setAccessibleName(f"{_HEAD}: {said}")
        self.setToolTip(plain_tip("\n".join(f"{c.way}: {change_words(c)}" for c in changes[:20])))
        self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Paint the row, as many changes as have room."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        look, px = self._look, self._look.px
        painter.fillRect(self.rect(), look.color("sheet"))
        painter.setPen(QPen(look.color("line"), 1))
        painter.drawLine(0, 0, self.width(), 0)
        middle = self.height() / 2
        painter.setFont(look.font(12, bold=True))
        painter.setPen(look.color("accent"))
        base = middle + painter.fontMetrics().ascent() / 2 - 1
        painter.drawText(QPointF(px(10), base), _HEAD)
        x = px(24) + painter.fontMetrics().horizontalAdvance(_HEAD)
        painter.setFont(look.font(12))
        metrics = painter.fontMetrics()
        more = metrics.horizontalAdvance("+ 88 more") + px(16)
        self._places, self._shown = [], 0
        if not self.changes:
            painter.setPen(look.color("faint"))
            painter.drawText(QPointF(x, base), "nothing with the last edit")
        for i, change in enumerate(self.changes):
            words = change_words(change)
            wide = metrics.horizontalAdvance(words) + px(30)
            rest = len(self.changes) - i
            if x + wide > self.width() - (more if rest > 1 else px(4)) and (i or rest > 1):
                self._entry(painter, QRectF(x, 2, more, self.height() - 4), f"+ {rest} more", None, base)
                break
            self._entry(painter, QRectF(x, 2, wide, self.height() - 4), words, change, base)
            self._shown += 1
            x += wide
        if self.hasFocus():
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(look.color("accent"), 2))
            at = self._places[self._at] if 0 <= self._at < len(self._places) else QRectF(self.rect())
            painter.drawRect(at.adjusted(1, 1, -1, -1))

    def _entry(self, painter: QPainter, at: QRectF, words: str, change: Change | None, base: float) -> None:
        look, px = self._look, self._look.px
        self._places.append(at)
        if change is not None:
            draw_change(painter, look, QPointF(at.left() + px(12), at.center().y()), change.way)
        painter.setPen(look.color("alarm" if change is not None and change.way == "worse" else "ink"))
        painter.drawText(QPointF(at.left() + px(22 if change is not None else 6), base), words)

    def _take(self, index: int) -> None:
        """Go to a change, or list those that had no room."""
        if index < self._shown:
            self.chosen.emit(self.changes[index])
            return
        menu = QMenu(self)
        for change in self.changes[self._shown :]:
            action = menu.addAction(f"{change.way}: {change_words(change)}".replace("&", "&&"))
            assert action is not None
            action.triggered.connect(lambda _=False, c=change: self.chosen.emit(c))
        menu.popup(self.mapToGlobal(self._places[index].topLeft().toPoint()))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Go to the change under the mouse."""
        assert event is not None
        for i, place in enumerate(self._places):
            if place.contains(event.position()):
                self._take(i)
                return

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """A hand over what can be gone to."""
        assert event is not None
        over = any(place.contains(event.position()) for place in self._places)
        self.setCursor(Qt.CursorShape.PointingHandCursor if over else Qt.CursorShape.ArrowCursor)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Walk through the changes with the keyboard."""
        assert event is not None
        key, count = event.key(), len(self._places)
        if key in (Qt.Key.Key_Left, Qt.Key.Key_Right) and count:
            self._at = (self._at + (1 if key == Qt.Key.Key_Right else -1)) % count
            self.update()
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space) and self._at >= 0:
            self._take(self._at)
        else:
            super().keyPressEvent(event)
