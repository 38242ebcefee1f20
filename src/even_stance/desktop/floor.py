"""The floor: the car true to scale in three projections, where points are taken hold of and moved."""

from PyQt6.QtCore import QEvent, QLineF, QPointF, QRectF, QSizeF, Qt, pyqtSignal
from PyQt6.QtGui import (
    QContextMenuEvent,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QResizeEvent,
    QTransform,
    QWheelEvent,
)
from PyQt6.QtWidgets import QGridLayout, QWidget

from even_stance.desktop.bench import Bench
from even_stance.desktop.floormenu import floor_menu
from even_stance.desktop.holding import Drag, kept, point_words, step_hole, to_ride, walk_points
from even_stance.desktop.look import Look
from even_stance.desktop.widgets.paintcache import PaintCache
from even_stance.desktop.widgets.painted import Painted
from even_stance.desktop.widgets.painter import ScenePainter, callout_size, draw_callout
from even_stance.study.construction import construction, instant_center_words, load_shapes
from even_stance.study.drawing import PLANES, VIEW_TITLES, VIEWS, Joint, Label, Path, Shape, View, unproject
from even_stance.study.floor import beneath_shapes, live_shapes, still_shapes
from even_stance.study.frame import view_frame
from even_stance.study.thingsolids import thing_joints, thing_shapes
from even_stance.units import length_step
from even_stance.vehicle.edits import move_by
from even_stance.vehicle.spots import Spot, is_there

_REACH_PX = 15
_SHORT_WORDS = 12
_ROOM_FOR_THREE = 300
_ARROWS = {
    Qt.Key.Key_Left: (-1.0, 0.0),
    Qt.Key.Key_Right: (1.0, 0.0),
    Qt.Key.Key_Up: (0.0, 1.0),
    Qt.Key.Key_Down: (0.0, -1.0),
}


class Pane(Painted):
    """One projection. Points can be selected, dragged (Shift locks an axis) and nudged; the wheel zooms."""

    wants_front = pyqtSignal(str)

    def __init__(self, bench: Bench, look: Look, view: View) -> None:
        super().__init__()
        self._bench, self._look, self.view = bench, look, view
        self.shapes: list[Shape] = []
        self._still: list[Shape] = []
        self._cache = PaintCache()
        self._still_words: list[QRectF] = []
        self.words: list[QRectF] = []  # where words stand, in pixels
        self._frame: tuple[float, float, float, float] | None = None
        self._side: int | None = None
        self.in_front = False
        self.whole = False
        self._zoom, self._pan = 1.0, QPointF()
        self._drag: Drag | None = None
        self._pan_from: QPointF | None = None
        self.clicked.connect(lambda _=False: self.wants_front.emit(self.view))
        self.setMouseTracking(True)
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)  # it fills itself: nothing beneath need be painted
        self.setAccessibleName(f"{VIEW_TITLES[view][0].capitalize()} projection")
        self.setAccessibleDescription("Arrow keys nudge the selected point, N takes the next point.")

    def refresh(self) -> None:
        """Draw again from the bench."""
        bench, vehicle = self._bench, self._bench.job.vehicle
        held = f": {', '.join(point_words(bench, bench.spot))}" if bench.spot is not None else ""
        self.setAccessibleName(f"{VIEW_TITLES[self.view][0].capitalize()} projection{held}")
        beneath = bench.overlaid_study(bench.axle_key)
        self.shapes = [] if beneath is None else beneath_shapes(beneath, self.view)
        self._still = still_shapes(vehicle, bench.studies.places(), self.view, bench.axle_key, self.in_front)
        self.shapes += live_shapes(vehicle, bench.studies.places(), self.view, bench.axle_key)
        if bench.look_at.station == "clearance":
            self.shapes += thing_shapes(vehicle, bench.studies.state(), self.view, self.in_front)
            self.shapes += thing_joints(vehicle, bench.studies.state(), self.view) if self.in_front else []
        study = bench.study(bench.axle_key)
        loads = bench.studies.loads(bench.axle_key, bench.look_at.load_case)
        if study is not None and loads is not None:
            # One thing at a time: with loads drawn, the construction of the selected number would only be in the way.
            self.shapes += load_shapes(study, loads, self.view, bench.job.units) if self.in_front else []
        elif study is not None and bench.figure is not None:
            drawn = construction(vehicle, study, bench.figure, self.view, bench.job.units)
            # In a small pane long words would hide what they are about.
            self.shapes += [
                s for s in drawn if self.in_front or not isinstance(s, Label) or len(s.text) <= _SHORT_WORDS
            ]
        self.update()

    def fit(self) -> None:
        """Show everything that belongs to the axle (or the whole car)."""
        self._zoom, self._pan = 1.0, QPointF()
        self.update()

    def transform(self) -> QTransform:
        """From the projection plane, mm, to pixels; the picture stays where it is while a point is dragged."""
        if self._frame is None or not self._bench.on_its_way:
            self._frame = view_frame(self._bench.job.vehicle, self._bench.axle, self.view, self.whole)
        h0, h1, v0, v1 = self._frame
        top, side = self._look.px(30), self._look.px(14)
        bottom = self._look.px(30) if self.view != "plan" else self._look.px(12)
        width, height = max(self.width() - 2 * side, 10), max(self.height() - top - bottom, 10)
        scale = min(width / max(h1 - h0, 1.0), height / max(v1 - v0, 1.0)) * self._zoom
        x = side + width / 2 - scale * (h0 + h1) / 2 + self._pan.x()
        y = top + height / 2 + scale * (v0 + v1) / 2 + self._pan.y()
        return QTransform(scale, 0.0, 0.0, -scale, x, y)

    def joint_at(self, where: QPointF) -> Spot | None:
        """The joint under the mouse: the one held if it is there, else the nearest, the near side first."""
        to = self.transform()
        near: list[tuple[float, int, Spot]] = []
        for order, shape in enumerate(self.shapes):
            if isinstance(shape, Joint):
                off = to.map(QPointF(*shape.center)) - where
                distance = (off.x() ** 2 + off.y() ** 2) ** 0.5
                if distance <= self._look.px(_REACH_PX):
                    if shape.spot == self._bench.spot:
                        return shape.spot
                    near.append((round(distance), -order, shape.spot))
        return min(near)[2] if near else None

    def place_of(self, spot: Spot) -> QPointF | None:
        """Where a joint is drawn, in pixels."""
        for shape in self.shapes:
            if isinstance(shape, Joint) and shape.spot == spot:
                return self.transform().map(QPointF(*shape.center))
        return None

    # --- painting

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Paint the projection."""
        painter = QPainter(self)
        to = self.transform()
        shows = (self._still, to, self.in_front, self._bench.job.units, self._bench.axle.behind_front_mm)
        self._cache.put(painter, self, self._look, shows, lambda p: self._stand(p, to))
        scene = ScenePainter(painter, to, self._look, self._still_words)
        scene.paint(self.shapes)
        self.words = scene.taken
        self._center_words(painter)
        held = next((s for s in self.shapes if isinstance(s, Joint) and s.spot == self._bench.spot), None)
        if held is not None:
            scene.joint(held.center, held.style, held=True, guess=held.guess)
            if self.in_front:
                self._callout(painter, scene.at(held.center), held.spot)
        if self.hasFocus():
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(self._look.color("accent"), 2))
            painter.drawRect(self.rect().adjusted(1, 1, -1, -1))

    def _stand(self, painter: QPainter, to: QTransform) -> None:
        """What stands still: frame, ground and its rule, the other axles and the title."""
        painter.fillRect(self.rect(), self._look.color("floor"))
        still = ScenePainter(painter, to, self._look)
        still.paint(self._still)
        self._still_words = still.taken
        if self.view != "plan":
            self._rule_ground(painter, to)
        name, words = VIEW_TITLES[self.view]
        x, y = self._look.px(12), self._look.px(19)
        painter.setFont(self._look.font(12, bold=True))
        painter.setPen(self._look.color("faint"))
        painter.drawText(x, y, name)
        x += painter.fontMetrics().horizontalAdvance(name) + self._look.px(10)
        painter.setFont(self._look.font(12))
        if self.in_front and self.view != "plan" and any(getattr(s, "style", "") == "ground-far" for s in self._still):
            words = "heights from the dotted ground, that at ride height"
        painter.drawText(x, y, words if self.in_front else "click to enlarge")

    def _center_words(self, painter: QPainter) -> None:
        study = self._bench.study(self._bench.axle_key)
        if self.in_front and self.view == "side" and study is not None and study.now.ok[0]:
            text = instant_center_words(study, self._bench.job.units)
            painter.setFont(self._look.font(12))
            wide = painter.fontMetrics().horizontalAdvance(text)
            painter.setPen(self._look.color("accent"))
            painter.drawText(self.width() - wide - self._look.px(12), self._look.px(19), text)

    def _rule_ground(self, painter: QPainter, to: QTransform) -> None:
        us = self._bench.job.units == "us"
        step, labeled = (152.4, 4) if us else (100.0, 5)
        origin = self._bench.axle.behind_front_mm if self.view == "side" else 0.0
        while step * to.m11() * labeled < self._look.px(60):
            labeled *= 2
        painter.setFont(self._look.font(12))
        painter.setPen(QPen(self._look.color("ink"), 1))
        y = to.map(QPointF(0, 0)).y()
        back, _ = to.inverted()
        first = int((back.map(QPointF(0, 0)).x() - origin) / step) - 1
        last = int((back.map(QPointF(self.width(), 0)).x() - origin) / step) + 1
        ticks = []
        for i in range(first, last + 1):
            x = to.map(QPointF(origin + i * step, 0)).x()
            long = i % labeled == 0
            ticks.append(QLineF(x, y, x, y + self._look.px(10 if long else 5)))
            if long:
                text = f"{abs(i) * 6}" if us else f"{abs(i) * 100}"
                wide = painter.fontMetrics().horizontalAdvance(text)
                painter.drawText(QPointF(x - wide / 2, y + self._look.px(22)), text)
        painter.drawLines(*ticks)

    def _callout(self, painter: QPainter, at: QPointF, spot: Spot) -> None:
        lines = point_words(self._bench, spot)
        box = self._clear_place(at, callout_size(painter, self._look, lines))
        draw_callout(painter, self._look, lines, box)

    def _clear_place(self, at: QPointF, size: QSizeF) -> QRectF:
        """Where words about a point hide least of the links: above or below it, to either side.

        While the point is dragged they stay on the side they are on.
        """
        px, to = self._look.px, self.transform()
        away, floor = px(16), px(26)
        inside = QRectF(4, floor, self.width() - 8, max(self.height() - floor - 4, 1))
        sides = [
            QPointF(x, y)
            for y in (-size.height() - px(20), float(px(36)))
            for x in (float(away), -size.width() - away)
        ]  # fmt: skip
        boxes = []
        for offset in sides:
            box = QRectF(at + offset, size)
            box.moveLeft(max(min(box.left(), inside.right() - size.width()), inside.left()))
            box.moveTop(max(min(box.top(), inside.bottom() - size.height()), inside.top()))
            boxes.append(box)
        if not self._bench.on_its_way or self._side is None:
            links = [s.places for s in self.shapes if isinstance(s, Path) and s.width_mm]
            seen = [to.map(QPointF(*a) + k / 8 * (QPointF(*b) - QPointF(*a))) for a, *_, b in links for k in range(9)]
            seen.append(at)
            hidden = [sum(box.contains(p) for p in seen) for box in boxes]
            self._side = hidden.index(min(hidden))
        return boxes[self._side]

    # --- hands

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Take hold of a point, or of the floor."""
        assert event is not None
        if not self.in_front:
            self.wants_front.emit(self.view)
            return
        spot = self.joint_at(event.position())
        if event.button() == Qt.MouseButton.RightButton:
            return  # its menu comes by itself
        if event.button() == Qt.MouseButton.LeftButton and spot is not None:
            self._bench.select_spot(spot)
            self._drag = Drag(self._bench, self.view, spot, event.position())
        else:
            self._pan_from = event.position() - self._pan

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Drag a point, slide the floor, or show what could be taken hold of."""
        assert event is not None
        if self._drag is not None and not is_there(self._bench.job, self._drag.spot):
            self._drag = None  # the layout was changed under the hand
        if self._drag is not None:
            locked = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
            self._drag.to(event.position(), self.transform().m11(), locked, self._look.px(5))
        elif self._pan_from is not None:
            self._pan = event.position() - self._pan_from
            self.update()
        else:
            over = self.in_front and self.joint_at(event.position()) is not None
            hand = Qt.CursorShape.OpenHandCursor if over else Qt.CursorShape.ArrowCursor
            self.setCursor(hand if self.in_front else Qt.CursorShape.PointingHandCursor)

    def mouseReleaseEvent(self, _event: QMouseEvent | None) -> None:
        """Let go: the whole drag is one step to undo."""
        self._drag = self._pan_from = None
        self._bench.let_go()

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        """A right click, or the menu key: what can be done with the point there, or with the floor."""
        assert event is not None
        by_key = event.reason() == QContextMenuEvent.Reason.Keyboard
        spot = self._bench.spot if by_key else self.joint_at(QPointF(event.pos()))
        at = self.place_of(spot) if by_key and spot is not None else None
        where = event.globalPos() if at is None else self.mapToGlobal(at).toPoint()
        if spot is not None:
            self._bench.select_spot(spot)
        back, _ = self.transform().inverted()
        here = back.map(QPointF(self.mapFromGlobal(where)))
        floor_menu(self, self, self._bench, spot, unproject(self.view, here.x(), here.y())).popup(where)

    def mouseDoubleClickEvent(self, _event: QMouseEvent | None) -> None:
        """Fit the picture again."""
        self.fit()

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        """Zoom about the mouse."""
        assert event is not None
        before, _ = self.transform().inverted()
        anchor = before.map(event.position())
        self._zoom = min(max(self._zoom * 1.0015 ** event.angleDelta().y(), 0.2), 30.0)
        self._pan += event.position() - self.transform().map(anchor)
        self.update()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrows nudge, page keys choose a hole, N and P walk through the points, F fits, W shows the whole car."""
        assert event is not None
        key, spot, bench = Qt.Key(event.key()), self._bench.spot, self._bench
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            super().keyPressEvent(event)
        elif key in _ARROWS and spot is not None:
            step = length_step(bench.job.units)
            dh, dv = _ARROWS[key]
            delta = to_ride(bench, spot, unproject(self.view, dh * step, dv * step))
            delta = kept(bench, bench.job, spot, delta, PLANES[self.view])
            bench.do(move_by(spot, *delta, both_sides=bench.look_at.both_sides, merge=f"nudge {spot.words}"))
        elif key in _ARROWS:
            event.ignore()  # nothing is held: the focus stays here
        elif key in (Qt.Key.Key_PageUp, Qt.Key.Key_PageDown) and spot is not None:
            step_hole(bench, spot, 1 if key == Qt.Key.Key_PageUp else -1)
        elif key in (Qt.Key.Key_N, Qt.Key.Key_P):
            walk_points(bench, 1 if key == Qt.Key.Key_N else -1)
        elif key == Qt.Key.Key_V:
            self.wants_front.emit(VIEWS[(VIEWS.index(self.view) + 1) % len(VIEWS)])
        elif key == Qt.Key.Key_F:
            self.fit()
        elif key == Qt.Key.Key_W:
            self.whole = not self.whole
            self.fit()
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and not self.in_front:
            self.wants_front.emit(self.view)
        elif key == Qt.Key.Key_Escape:
            bench.select_spot(None)
        else:
            super().keyPressEvent(event)

    def changeEvent(self, event: QEvent | None) -> None:
        """Repaint when enabled or restyled."""
        super().changeEvent(event)
        self.update()


class Floor(QWidget):
    """The three projections: one large, two small; a click on a small one brings it to the front."""

    def __init__(self, bench: Bench, look: Look, whole: bool = False) -> None:
        super().__init__()
        self._bench, self._look = bench, look
        self.panes = {view: Pane(bench, look, view) for view in VIEWS}
        for pane in self.panes.values():
            pane.whole = whole
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(0, 0, 0, 0)
        self._grid.setSpacing(1)
        self.front: View = "side"
        for pane in self.panes.values():
            pane.wants_front.connect(self.bring_front)
        self.bring_front("side")
        bench.job_changed.connect(self.refresh)
        bench.selection_changed.connect(self.refresh)
        look.changed.connect(self.refresh)

    def bring_front(self, view: View) -> None:
        """Make one projection the large one."""
        self.front = view
        for pane in self.panes.values():
            self._grid.removeWidget(pane)
            pane.in_front = pane.view == view
        small = [v for v in VIEWS if v != view]
        self._grid.addWidget(self.panes[view], 0, 0, 1, 2)
        for column, other in enumerate(small):
            self._grid.addWidget(self.panes[other], 1, column)
            self.panes[other].setVisible(self.height() >= self._look.px(_ROOM_FOR_THREE))
        self.panes[view].show()
        self._grid.setRowStretch(0, 9)
        self._grid.setRowStretch(1, 5)
        self.panes[view].setFocus()
        self.refresh()

    def refresh(self) -> None:
        """Draw again from the bench; what cannot be seen is drawn when it is shown."""
        if self.isVisible():
            for pane in self.panes.values():
                pane.refresh()

    def showEvent(self, event: object) -> None:
        """Catch up with what changed while hidden."""
        self.refresh()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Keep the picture fitted; where there is little room one projection has all of it, V turns to the next."""
        super().resizeEvent(event)
        for pane in self.panes.values():
            pane.setVisible(pane.in_front or self.height() >= self._look.px(_ROOM_FOR_THREE))
