"""A link as it is made: tube, bungs, nuts and joints to scale, its lengths, hands, and what its threads take up."""

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QLinearGradient, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QSizePolicy, QWidget

from even_stance.desktop.bounds import bound
from even_stance.desktop.look import Look
from even_stance.judgement.build import spare_words
from even_stance.study.cutlist import CutEnd, CutPiece
from even_stance.units import format_length, length_unit
from even_stance.vehicle.job import Job

_CENTER = Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignVCenter


class PartPicture(QWidget):
    """The part drawing. The middle of a long tube is broken out, so that its ends can be seen."""

    def __init__(self, look: Look) -> None:
        super().__init__()
        self._look = look
        self._job: Job | None = None
        self._cut: CutPiece | None = None
        self._words = ""
        self.setAccessibleName("Part drawing")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        bound(self, look.percent, high=(232, None))
        look.changed.connect(self.update)

    def sizeHint(self) -> QSize:
        """As wide as the page."""
        return QSize(self._look.px(640), self._look.px(244))

    def show_cut(self, job: Job, cut: CutPiece | None, words: str = "") -> None:
        """Show another link, or say why there is none."""
        self._job, self._cut, self._words = job, cut, words
        said = words
        if cut is not None:
            said = f"{cut.piece.words}: cut {self._said(cut.cut_mm)}, pin to pin {self._said(cut.piece.pin_mm)}. "
            said += spare_words(job, cut)
        self.setAccessibleDescription(said)
        self.update()

    def _said(self, mm: float, unit: bool = False) -> str:
        assert self._job is not None
        units = self._job.units
        text = format_length(max(mm, 0.0), units).removeprefix("~")
        return f"{text} {length_unit(units)}" if unit else text

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Paint the link with its dimensions, and the reserve of its threads below."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        look, px = self._look, self._look.px
        painter.fillRect(self.rect(), look.color("floor"))
        painter.setPen(look.color("faint"))
        painter.setFont(look.font(12, bold=True))
        cut = self._cut
        head = "PART DRAWING" if cut is None else f"PART DRAWING   {cut.piece.words}, {cut.tube.name}"
        painter.drawText(px(12), px(20), head)
        if cut is None or self._job is None:
            painter.setFont(look.font(14))
            box = QRectF(self.rect()).adjusted(px(30), px(30), -px(30), -px(10))
            painter.drawText(box, int(_CENTER | Qt.TextFlag.TextWordWrap), self._words)
            return
        self._link(painter, cut)
        self._reserve(painter, cut)

    # --- the link

    def _link(self, painter: QPainter, cut: CutPiece) -> None:
        look, px = self._look, self._look.px
        a, b = cut.ends
        heads = [0.5 * e.parts.joint.head_mm if e.parts.joint else 20.0 for e in (a, b)]
        left, right = px(46), self.width() - px(46)
        y = px(96)
        high = max(cut.tube.outside_mm, *(2.0 * h for h in heads))
        end_room = max(a.off_mm + heads[0], b.off_mm + heads[1], 40.0) + 90.0
        scale = min((right - left) / 2.2 / end_room, px(62) / high)
        # Both ends to one scale; the tube between them is broken where it is longer than there is room for.
        x_pin = (left + scale * heads[0], right - scale * heads[1])
        face = (x_pin[0] + scale * a.off_mm, x_pin[1] - scale * b.off_mm)
        whole = (x_pin[1] - x_pin[0]) / scale
        broken = cut.piece.pin_mm > whole + 1.0
        painter.setPen(QPen(look.color("faint"), 1.0, Qt.PenStyle.DashDotLine))
        painter.drawLine(QPointF(left - px(14), y), QPointF(right + px(14), y))
        self._tube(painter, cut, face, y, scale, broken)
        for end, x, way in ((a, x_pin[0], 1.0), (b, x_pin[1], -1.0)):
            self._end(painter, cut, end, QPointF(x, y), way, scale)
        self._dimension(painter, x_pin, y - px(48), f"{self._said(cut.piece.pin_mm)}  pin to pin, ± "
                        f"{self._said(cut.sure_mm)}", "ink", 14, y - px(6))  # fmt: skip
        good = cut.cut_mm > 0.0
        words = f"{self._said(cut.cut_mm)}  cut, square ends" if good else "no tube is left between its ends"
        self._dimension(painter, face, y + px(46), words, "upper" if good else "alarm", 18, y + px(14))
        for end, x, way in ((a, left - px(30), 1), (b, right + px(30), -1)):
            self._hand(painter, end, x, y + px(36), way)

    def _tube(
        self, painter: QPainter, cut: CutPiece, face: tuple[float, float], y: float, scale: float, broken: bool
    ) -> None:
        look, px = self._look, self._look.px
        half = 0.5 * scale * cut.tube.outside_mm
        shine = QLinearGradient(0, y - half, 0, y + half)
        shine.setColorAt(0.0, look.color("sheet"))
        shine.setColorAt(0.35, look.color("upper"))
        shine.setColorAt(1.0, look.color("upper"))
        painter.setBrush(shine)
        painter.setPen(QPen(look.color("ink"), px(1.4)))
        if not broken:
            painter.drawRect(QRectF(face[0], y - half, face[1] - face[0], 2 * half))
            return
        mid, gap, lean = 0.5 * (face[0] + face[1]), px(9), px(6)
        for x0, edge in ((face[0], mid - gap), (face[1], mid + gap)):
            painter.drawPolygon(QPolygonF([
                QPointF(x0, y - half), QPointF(edge + lean, y - half), QPointF(edge - lean, y + half),
                QPointF(x0, y + half),
            ]))  # fmt: skip

    def _end(self, painter: QPainter, cut: CutPiece, end: CutEnd, pin: QPointF, way: float, scale: float) -> None:
        look, px = self._look, self._look.px
        joint, bung = end.parts.joint, end.parts.bung
        ink = QPen(look.color("ink"), px(1.4))
        if joint is None or bung is None:
            painter.setFont(look.font(12))
            painter.setPen(look.color("faint"))
            painter.drawText(QRectF(pin.x() - px(40), pin.y() + px(18), px(80), px(18)), int(_CENTER), "welded on")
            return
        steel = QLinearGradient(0, pin.y() - scale * joint.head_mm / 2, 0, pin.y() + scale * joint.head_mm / 2)
        steel.setColorAt(0.0, look.color("sheet"))
        steel.setColorAt(1.0, look.color("steel"))
        face = pin.x() + way * scale * end.off_mm

        def box(x0: float, x1: float, half: float) -> QRectF:
            return QRectF(min(x0, x1), pin.y() - half, abs(x1 - x0), 2 * half)

        thread = 0.5 * scale * joint.thread_mm
        inside = 0.5 * scale * cut.tube.inside_mm
        # The bung in a window of the tube, its shoulder outside.
        deep = face + way * scale * bung.deep_mm
        painter.setPen(ink)
        painter.setBrush(look.color("floor"))
        painter.drawRect(box(face, deep + way * px(8), inside))
        painter.setBrush(look.color("steel"))
        painter.drawRect(box(face, deep, inside))
        shoulder = face - way * scale * bung.shoulder_mm
        painter.drawRect(box(face, shoulder, 0.5 * scale * cut.tube.outside_mm))
        # The shank with its thread, and the nut.
        tip = pin.x() + way * scale * joint.shank_mm
        painter.setBrush(steel)
        painter.drawRect(box(pin.x(), tip, thread))
        start = tip - way * scale * joint.threaded_mm
        painter.setPen(QPen(look.color("faint"), 1.0))
        step, x = max(scale * joint.pitch_mm, px(2.5)), min(start, tip)
        while x < max(start, tip):
            painter.drawLine(QPointF(x, pin.y() - thread), QPointF(x + 0.4 * step, pin.y() + thread))
            x += step
        painter.setPen(ink)
        nut = shoulder - way * scale * end.parts.nut_mm
        painter.setBrush(look.color("steel"))
        painter.drawRect(box(shoulder, nut, 1.6 * thread))
        painter.setBrush(steel)
        painter.drawEllipse(pin, 0.5 * scale * joint.head_mm, 0.5 * scale * joint.head_mm)
        painter.setBrush(look.color("sheet"))
        painter.drawEllipse(pin, 0.36 * scale * joint.head_mm, 0.36 * scale * joint.head_mm)
        painter.setBrush(look.color("floor"))
        hole = joint.bore_mm if end.parts.spacers is None else end.parts.spacers.hole_mm
        painter.drawEllipse(pin, 0.5 * scale * hole, 0.5 * scale * hole)
        painter.setFont(look.font(12))
        painter.setPen(look.color("ink"))
        words = f"{self._said(end.engaged_mm)} engaged, {self._said(end.least_mm)} least"
        wide = painter.fontMetrics().horizontalAdvance(words)
        above = pin.y() - 0.5 * scale * cut.tube.outside_mm - px(5)
        painter.drawText(QPointF(face if way > 0 else face - wide, above), words)

    def _hand(self, painter: QPainter, end: CutEnd, x: float, y: float, way: int) -> None:
        if end.parts.joint is None:
            return
        look, px = self._look, self._look.px
        left = end.parts.hand == "left"
        painter.setFont(look.font(12, bold=True))
        words = "LEFT-HAND" if left else "RIGHT-HAND"
        wide = painter.fontMetrics().horizontalAdvance(words) + px(12)
        box = QRectF(x if way > 0 else x - wide, y, wide, px(22))
        painter.setPen(QPen(look.color("accent"), px(1.5)))
        painter.setBrush(look.color("accent") if left else look.color("sheet"))
        painter.drawRoundedRect(box, px(4), px(4))
        painter.setPen(look.color("sheet") if left else look.color("accent"))
        painter.drawText(box, int(_CENTER), words)

    def _dimension(
        self, painter: QPainter, span: tuple[float, float], y: float, words: str, color: str, size: int, foot: float
    ) -> None:
        look, px = self._look, self._look.px
        painter.setPen(QPen(look.color(color), px(1.2)))
        for x, way in ((span[0], 1), (span[1], -1)):
            painter.drawLine(QPointF(x, y - px(5)), QPointF(x, foot))
            tip = QPointF(x, y)
            painter.drawLine(tip, tip + QPointF(way * px(8), px(4)))
            painter.drawLine(tip, tip + QPointF(way * px(8), -px(4)))
        painter.setFont(look.font(size, bold=True))
        wide = painter.fontMetrics().horizontalAdvance(words) + px(16)
        mid = 0.5 * (span[0] + span[1])
        painter.drawLine(QPointF(span[0], y), QPointF(max(mid - wide / 2, span[0]), y))
        painter.drawLine(QPointF(min(mid + wide / 2, span[1]), y), QPointF(span[1], y))
        painter.drawText(QRectF(mid - wide / 2, y - px(14), wide, px(28)), int(_CENTER), words)

    # --- the reserve

    def _reserve(self, painter: QPainter, cut: CutPiece) -> None:
        """A tube with what the threads take in and let out, and the tape's doubt on it."""
        look, px = self._look, self._look.px
        assert self._job is not None
        top = self.height() - px(52)
        room = QRectF(px(56), top, 0.42 * self.width(), px(15))
        words = QRectF(room.right() + px(34), top - px(20), self.width() - room.right() - px(44), px(66))
        painter.setFont(look.font(12, bold=True))
        painter.setPen(look.color("ink" if cut.covered else "alarm"))
        painter.drawText(words, int(Qt.AlignmentFlag.AlignLeft | Qt.TextFlag.TextWordWrap), spare_words(self._job, cut))
        low, high = -max(cut.in_mm, 0.0), max(cut.out_mm, 0.0)
        span = max(high, -low, cut.sure_mm, 1.0)
        middle = room.center().x()

        def place(mm: float) -> float:
            return middle + 0.5 * room.width() * mm / span

        painter.setPen(QPen(look.color("faint"), 1.2))
        painter.setBrush(look.color("sheet"))
        painter.drawRoundedRect(room, room.height() / 2, room.height() / 2)
        if high > low:
            painter.setBrush(look.color("glass"))
            painter.drawRect(QRectF(place(low), room.top(), place(high) - place(low), room.height()))
        painter.setBrush(look.color("accent", 90))
        painter.setPen(QPen(look.color("accent"), px(2)))
        painter.drawRect(
            QRectF(place(-cut.sure_mm), room.top(), place(cut.sure_mm) - place(-cut.sure_mm), room.height())
        )
        painter.setBrush(look.color("bubble"))
        painter.setPen(QPen(look.color("bubble_edge"), px(1.4)))
        painter.drawEllipse(QPointF(middle, room.center().y()), px(6), px(6))
        painter.setPen(look.color("ink"))
        painter.setFont(look.font(12))
        for mm, said, way in ((low, f"in {self._said(-low)}", -1.0), (high, f"out {self._said(high)}", 1.0)):
            x = place(mm)
            painter.drawLine(QPointF(x, room.top() - px(4)), QPointF(x, room.bottom() + px(4)))
            # Where both ends are near each other their words go apart.
            apart = way * max(px(34) - abs(x - middle), 0.0)
            painter.drawText(QRectF(x + apart - px(50), room.bottom() + px(4), px(100), px(18)), int(_CENTER), said)
        painter.setPen(look.color("accent"))
        painter.drawText(QRectF(middle - px(80), room.top() - px(21), px(160), px(18)), int(_CENTER),
                         f"tape ± {self._said(cut.sure_mm)}")  # fmt: skip
