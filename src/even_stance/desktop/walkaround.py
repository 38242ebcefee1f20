"""Walk around: the car as solids, turned, zoomed and slid with the mouse or keys, at the posture shown."""

from functools import lru_cache

import numpy as np
from PyQt6.QtCore import QEvent, QPointF, QRectF, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import (
    QBrush,
    QColor,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QPolygonF,
    QShowEvent,
    QWheelEvent,
)
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout

from even_stance.desktop.background import HAND
from even_stance.desktop.bench import Bench
from even_stance.desktop.holding import point_words, walk_points
from even_stance.desktop.look import Look
from even_stance.desktop.widgets.painted import Painted
from even_stance.desktop.widgets.painter import callout_size, draw_callout
from even_stance.mechanics.vectors import Array
from even_stance.study.bodies import car_solids
from even_stance.study.styles import style_of
from even_stance.study.thingsolids import solids_of_things
from even_stance.study.walkaround import Eye, Seen, first_eye, ground_lines, look_at, pick
from even_stance.vehicle.spots import Spot

# Turn and rise of the eye, degrees: where a person would stand.
STANDS = {
    "From left": (90.0, 4.0), "Behind": (180.0, 8.0), "Above": (180.0, 89.0), "Three-quarter": (142.0, 20.0),
    "Underneath": (150.0, -28.0),
}  # fmt: skip
_REACH_PX, _LEVELS = 15, 32
_KEYS = {
    Qt.Key.Key_Left: (-5.0, 0.0), Qt.Key.Key_Right: (5.0, 0.0), Qt.Key.Key_Up: (0.0, 5.0), Qt.Key.Key_Down: (0.0, -5.0)
}  # fmt: skip


class WalkAround(Painted):
    """The car from anywhere. Left button turns, right or middle button slides, the wheel zooms; a click takes a point.

    Signals:
        moved: the car is seen from somewhere else.
    """

    moved = pyqtSignal()

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench, self._look = bench, look
        self.eye: Eye | None = None
        self._seen: list[Seen] = []
        self._ground: list[tuple[Array, bool]] = []
        self._looks: object = None
        self._due = False
        self._from: tuple[QPointF, Eye, Qt.MouseButton] | None = None
        self._gone = False
        self._lit: dict[tuple[str, str], str] = {}
        self._span: tuple[Array, Array, str] | None = None
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.setAccessibleName("Walk around the car")
        self.setAccessibleDescription("Arrow keys turn, plus and minus zoom, N takes the next point, F starts over.")
        column = QVBoxLayout(self)
        column.addStretch(1)
        row = QHBoxLayout()
        self.stands: dict[str, QPushButton] = {}
        for name, (turn, rise) in STANDS.items():
            button = QPushButton(name)
            button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
            button.clicked.connect(lambda _=False, t=turn, r=rise: self.stand(t, r))
            row.addWidget(button)
            self.stands[name] = button
        row.addStretch(1)
        column.addLayout(row)
        bench.job_changed.connect(self.refresh)
        bench.selection_changed.connect(self.refresh)
        look.changed.connect(self.update)

    def stand(self, turn_deg: float, rise_deg: float) -> None:
        """See the car from another side, as near as now."""
        eye = self._eye()
        self._see(Eye(turn_deg, rise_deg, eye.target, eye.away_mm))

    def start_over(self) -> None:
        """The whole car, three-quarter."""
        self._see(first_eye(self._bench.job.vehicle))

    def light(self, lit: dict[tuple[str, str], str], span: tuple[Array, Array, str] | None) -> None:
        """Show some parts in strong colors and all others faded, with a dimension between two places.

        Args:
            lit: colors by axle and part; empty: everything as it is. span: both places, mm, and the words at it.
        """
        self._lit, self._span = lit, span
        self.update()

    def aim(self, place: Array, away_mm: float) -> None:
        """Look at a place from so far away, from the side of the car that it is on."""
        eye = self._eye()
        x, y, z = (float(v) for v in place)
        turn = eye.turn_deg if (np.sin(np.radians(eye.turn_deg)) * y) >= 0.0 else 360.0 - eye.turn_deg
        self._see(Eye(turn, eye.rise_deg, (x, y, z), away_mm))

    def _eye(self) -> Eye:
        if self.eye is None:
            self.eye = first_eye(self._bench.job.vehicle)
        return self.eye

    def _see(self, eye: Eye) -> None:
        self.eye = eye
        self.refresh()
        self.moved.emit()

    def refresh(self) -> None:
        """See what is on the bench now: looked at once, however much changes before that, and drawn after that, for
        each takes half of the time."""
        if not self._due:
            self._due = True
            QTimer.singleShot(0, self._catch_up)

    def _catch_up(self) -> None:
        self._due = False
        if self.isVisible():
            HAND.goes_first()
            self._look_now()
            self.update()

    def showEvent(self, event: QShowEvent | None) -> None:
        """What has changed meanwhile is seen."""
        super().showEvent(event)
        self.refresh()

    @property
    def seen(self) -> list[Seen]:
        """Every solid as it is seen now."""
        self._look_now()
        return self._seen

    def _look_now(self) -> None:
        bench, eye = self._bench, self._eye()
        looks = (bench.studies.state(), bench.job.vehicle, eye)
        if looks != self._looks:
            self._looks = looks
            vehicle = bench.job.vehicle
            self._seen = look_at([*car_solids(vehicle), *solids_of_things(vehicle)], looks[0], eye)
            self._ground = ground_lines(bench.job.vehicle, bench.studies.places(), eye)

    # --- painting

    def _scale(self) -> float:
        """Pixels for a share of depth: the narrower side of the picture is some 40 degrees wide."""
        return 1.35 * min(self.width(), 1.6 * self.height())

    def to_pixels(self, place: Array) -> QPointF:
        """Where a place of the picture is drawn."""
        scale = self._scale()
        return QPointF(self.width() / 2 + scale * float(place[0]), self.height() / 2 - scale * float(place[1]))

    def _polygon(self, corners: Array) -> QPolygonF:
        scale, x, y = self._scale(), self.width() / 2, self.height() / 2
        return QPolygonF([QPointF(x + scale * a, y - scale * b) for a, b in corners.tolist()])

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Paint ground, solids from back to front, and the point held."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        look = self._look
        painter.fillRect(self.rect(), look.color("floor"))
        seen = self._seen
        for line, strong in self._ground:
            painter.setPen(QPen(look.color("faint" if strong else "line"), 1.0))
            painter.drawPolyline(self._polygon(line))
        held = None
        far = [one for one in seen if not self._lit or (one.solid.axle, one.solid.name) not in self._lit]
        lit = [one for one in seen if self._lit and (one.solid.axle, one.solid.name) in self._lit]
        for one in [*far, *lit]:
            if one.solid.spot is None:
                self._solid(painter, one)
            elif not self._lit:
                held = one if one.solid.spot == self._bench.spot else held
                self._joint(painter, one)
        painter.setFont(look.font(12, bold=True))
        painter.setPen(look.color("faint"))
        painter.drawText(look.px(12), look.px(19), "WALK AROUND")
        wide = painter.fontMetrics().horizontalAdvance("WALK AROUND")
        painter.setFont(look.font(12))
        words = "drag to turn, right button slides, wheel zooms; click a joint to hold it"
        painter.drawText(look.px(22) + wide, look.px(19), words)
        self._dimension(painter)
        if held is not None and held.solid.spot is not None:
            center = self.to_pixels(held.middle)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(look.color("accent"), look.px(3)))
            painter.drawEllipse(center, look.px(12), look.px(12))
            lines = point_words(self._bench, held.solid.spot)
            size = callout_size(painter, look, lines)
            x = min(max(center.x() + look.px(18), 4.0), self.width() - size.width() - 4)
            y = min(max(center.y() - size.height() - look.px(20), look.px(26)), self.height() - size.height() - 4)
            draw_callout(painter, look, lines, QRectF(QPointF(x, y), size))
        if self.hasFocus():
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(look.color("accent"), 2))
            painter.drawRect(self.rect().adjusted(1, 1, -1, -1))

    def _solid(self, painter: QPainter, one: Seen) -> None:
        """One solid: its silhouette, its faces in light and shade, its edge."""
        mine = one.solid.axle == self._bench.axle_key
        style = style_of(one.solid.style if mine or not one.solid.axle else f"{one.solid.style}-faint")
        base = self._look.color(self._lit.get((one.solid.axle, one.solid.name), style.color))
        faded = self._lit and (one.solid.axle, one.solid.name) not in self._lit
        if faded:
            base = _between(self._look.color("steel"), self._look.color("floor"), 0.72)
        whole = self._polygon(one.outline)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(base)
        # Faces without smooth edges leave no seams and take a third of the time; the silhouette is smooth.
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
        painter.drawPolygon(whole)
        scale, x, y = self._scale(), self.width() / 2, self.height() / 2
        shades = _shades(base.rgb())
        for facets in one.facets:
            levels = np.rint(facets.bright * (_LEVELS - 1)).astype(int).tolist()
            pixels = np.array((x, y)) + scale * np.array((1.0, -1.0)) * facets.corners
            for corners, bright in zip(pixels.tolist(), levels, strict=True):
                painter.setBrush(shades[bright])
                painter.drawConvexPolygon(QPolygonF([QPointF(a, b) for a, b in corners]))
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(self._look.color("line" if faded else "faint"), 1.0))
        painter.drawPolygon(whole)

    def _dimension(self, painter: QPainter) -> None:
        """The closest places of two parts, and how far apart they are."""
        if self._span is None:
            return
        look, px = self._look, self._look.px
        flat, _ = self._eye().seen(np.stack(self._span[:2]))
        a, b = (self.to_pixels(p) for p in flat)
        painter.setPen(QPen(look.color("alarm"), px(2)))
        painter.drawLine(a, b)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawEllipse((a + b) / 2, px(20), px(20))
        lines = [self._span[2]]
        size = callout_size(painter, look, lines)
        at = (a + b) / 2
        x = min(max(at.x() + px(26), 4.0), self.width() - size.width() - 4)
        y = min(max(at.y() - size.height() - px(22), px(26)), self.height() - size.height() - 4)
        draw_callout(painter, look, lines, QRectF(QPointF(x, y), size))

    def _joint(self, painter: QPainter, one: Seen) -> None:
        radius = max(0.5 * one.solid.width_mm / one.depth_mm * self._scale(), self._look.px(2.5))
        mine = one.solid.axle == self._bench.axle_key
        style = style_of(one.solid.style if mine else f"{one.solid.style}-faint")
        painter.setBrush(self._look.color("sheet"))
        painter.setPen(QPen(self._look.color(style.color if mine else "faint"), max(0.4 * radius, 1.0)))
        painter.drawEllipse(self.to_pixels(one.middle), radius, radius)

    # --- hands

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Begin to turn or slide."""
        assert event is not None
        self._from, self._gone = (event.position(), self._eye(), event.button()), False

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Turn with the left button, slide with another."""
        assert event is not None
        if self._from is None:
            return
        start, eye, button = self._from
        off = event.position() - start
        if not self._gone and off.manhattanLength() < self._look.px(4):
            return
        self._gone = True
        if button == Qt.MouseButton.LeftButton:
            self._see(eye.turned(-0.35 * off.x(), 0.35 * off.y()))
        else:
            per = eye.away_mm / self._scale()
            self._see(eye.slid(-off.x() * per, off.y() * per))

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """A click without a drag takes hold of the joint there."""
        assert event is not None
        if self._from is not None and not self._gone and event.button() == Qt.MouseButton.LeftButton:
            self._bench.take_hold(self.spot_at(event.position()))
        self._from = None

    def spot_at(self, where: QPointF) -> Spot | None:
        """The point under the mouse, if there is one."""
        scale = self._scale()
        place = np.array([where.x() - self.width() / 2, self.height() / 2 - where.y()]) / scale
        return pick(self.seen, place, self._look.px(_REACH_PX) / scale)

    def mouseDoubleClickEvent(self, _event: QMouseEvent | None) -> None:
        """Start over."""
        self.start_over()

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        """Go nearer or farther."""
        assert event is not None
        self._see(self._eye().nearer(0.999 ** event.angleDelta().y()))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrows turn, + and - zoom, N and P walk through the points, F starts over."""
        assert event is not None
        key = Qt.Key(event.key())
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            super().keyPressEvent(event)
        elif key in _KEYS:
            self._see(self._eye().turned(*_KEYS[key]))
        elif key in (Qt.Key.Key_Plus, Qt.Key.Key_Equal, Qt.Key.Key_Minus):
            self._see(self._eye().nearer(1.12 if key == Qt.Key.Key_Minus else 1 / 1.12))
        elif key in (Qt.Key.Key_N, Qt.Key.Key_P):
            walk_points(self._bench, 1 if key == Qt.Key.Key_N else -1)
        elif key == Qt.Key.Key_F:
            self.start_over()
        elif key == Qt.Key.Key_Escape:
            self._bench.select_spot(None)
        else:
            super().keyPressEvent(event)

    def changeEvent(self, event: QEvent | None) -> None:
        """Repaint when enabled or restyled."""
        super().changeEvent(event)
        self.update()


def _between(a: QColor, b: QColor, share: float) -> QColor:
    """A color some way from one to another."""
    parts = zip((a.redF(), a.greenF(), a.blueF()), (b.redF(), b.greenF(), b.blueF()), strict=True)
    return QColor.fromRgbF(*(p + share * (q - p) for p, q in parts))


@lru_cache(maxsize=64)
def _shades(color: int) -> tuple[QBrush, ...]:
    """A color from shade to light: toward black where it faces away from the lamp, toward white where it faces it."""
    red, green, blue, _ = QColor.fromRgb(color).getRgb()
    found = []
    for share in np.linspace(0.62, 1.12, _LEVELS):
        up = max(share - 1.0, 0.0)
        parts = (min(share, 1.0) * (c or 0) for c in (red, green, blue))
        found.append(QBrush(QColor(*(round(c + (255 - c) * up) for c in parts))))
    return tuple(found)
